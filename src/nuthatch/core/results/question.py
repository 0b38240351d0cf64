"""One open question: something missing, ambiguous or implausible that a person must settle."""

from __future__ import annotations

from dataclasses import dataclass

from nuthatch.core.units import with_unit


@dataclass(frozen=True)
class Question:
    """One open question; `part` and `field` lead to the field. `says` may name its amounts, (value, kind), as {0}, {1}: they are
    put into words where it is shown, in the units of the reader. `step` and `item`, for people, are filled in when gathered."""

    part: str
    field: str
    says: str
    amounts: tuple[tuple[float, str], ...] = ()
    step: str = ""
    item: str = ""

    @property
    def text(self) -> str:
        return self.says.format(*(with_unit(v, kind) for v, kind in self.amounts)) if self.amounts else self.says
