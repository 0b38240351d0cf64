"""What a check of a dossier comes to: line by line, as text, as data, and the exit code."""

from __future__ import annotations

from dataclasses import dataclass, field

from nuthatch import __version__
from nuthatch.core.model.home import Home

AGREES, DIFFERS, UNKNOWN = "agrees", "differs", "cannot be told"


@dataclass(frozen=True)
class Line:
    """One thing compared: what, whether it agrees, and where it does not, why."""

    what: str
    standing: str
    says: str = ""


@dataclass(frozen=True)
class Verified:
    """A dossier, or a home against what was issued of it, line by line."""

    name: str
    lines: tuple[Line, ...]
    version: str = ""
    home: Home | None = field(default=None, repr=False)

    @property
    def standing(self) -> str:
        """Whether all of it agrees."""
        found = {line.standing for line in self.lines}
        return DIFFERS if DIFFERS in found else UNKNOWN if UNKNOWN in found else AGREES

    @property
    def code(self) -> int:
        """The exit code: 0 all agrees, 1 something differs, 3 something cannot be told."""
        return {AGREES: 0, DIFFERS: 1, UNKNOWN: 3}[self.standing]

    def as_data(self) -> dict[str, object]:
        """As plain data."""
        return {
            "name": self.name,
            "standing": self.standing,
            "version": self.version,
            "this_version": __version__,
            "lines": [{"what": line.what, "standing": line.standing, "says": line.says} for line in self.lines],
        }

    def as_text(self) -> list[str]:
        """As lines: what differs first."""
        order = {DIFFERS: 0, UNKNOWN: 1, AGREES: 2}
        rows = sorted(self.lines, key=lambda line: order[line.standing])
        told = [f"{line.standing:15} {line.what}{': ' + line.says if line.says else ''}" for line in rows]
        number = sum(line.standing == DIFFERS for line in self.lines)
        head = {AGREES: "all of it agrees", DIFFERS: f"{number} of {len(self.lines)} differ", UNKNOWN: "not all of it can be told"}
        return [f"{self.name}: {head[self.standing]}", *told]
