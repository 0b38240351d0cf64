"""What reading a foreign file gives: a home, and what was left out; or the question which building of several is meant."""

from __future__ import annotations

from dataclasses import dataclass

from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.model.home import Home


@dataclass(frozen=True)
class Taken:
    """A home from a file, and what of the file was left out, in words."""

    home: Home
    left_out: tuple[str, ...] = ()


class SeveralBuildings(HomeFileError):
    """The file holds more than one building, and none is chosen; `names` are theirs."""

    def __init__(self, names: tuple[str, ...], says: str) -> None:
        self.names = names
        super().__init__(says)

    def __reduce__(self) -> tuple[type[SeveralBuildings], tuple[tuple[str, ...], str]]:
        return SeveralBuildings, (self.names, str(self))  # it comes out of other processes too
