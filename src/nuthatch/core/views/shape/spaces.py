"""The spaces of drawn plans with their volume and b factor, as lists, plans and the dossier show them."""

from __future__ import annotations

from dataclasses import dataclass

from nuthatch.core.assess import Assessment
from nuthatch.core.fabric.elements import reduction
from nuthatch.core.fabric.stages import B
from nuthatch.core.plans.arrangement import HEATED
from nuthatch.core.results.figure import Node
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.stages import SOLID


@dataclass(frozen=True)
class SpaceRow:
    """A space: volume [m³]; b of an unheated one as typed, else as worked out."""

    id: str
    volume: float
    b: Node | None
    typed: bool = False

    @property
    def heated(self) -> bool:
        return self.id == HEATED

    @property
    def name(self) -> str:
        return "Heated space" if self.heated else self.id[0].upper() + self.id[1:]

    @property
    def says(self) -> str:
        """Where its b is from."""
        if self.heated:
            return ""
        return "typed" if self.typed else "worked out" if self.known is not None else "not known yet"

    @property
    def known(self) -> float | None:
        """The b factor, as far as it is known."""
        return float(self.b.value) if self.b is not None and self.b.value is not None else None


def spaces(a: Assessment) -> tuple[SpaceRow, ...]:
    """All spaces of drawn plans."""
    built = a[BUILT]
    typed = {f.beyond.id: reduction(f) for f in a[SOLID].boundaries if f.b.given is not None}
    found = a.all_of(B)
    volumes = built.volumes.items() if built is not None else ()
    return tuple(SpaceRow(s, v, typed.get(s, found.get(s)), s in typed) for s, v in volumes)
