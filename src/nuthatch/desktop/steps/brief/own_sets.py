"""What the parts of the brief's board know of it: the own target sets, and how one is kept."""

from __future__ import annotations

from typing import Any, Protocol

from nuthatch.core.model.target_set import TargetSet
from nuthatch.desktop.desk import Desk


class SetsBoard(Protocol):
    """The brief's board, as far as its parts know it."""

    desk: Desk
    own: set[str]

    @property
    def home(self) -> Any:
        """The home that is shown."""

    def first_own(self) -> TargetSet | None:
        """The first own set that judges the home."""

    def keep_set(self, made: TargetSet) -> str:
        """Keep an own set and judge by it; why that cannot be, or ''."""

    def leave_editor(self) -> None:
        """Back from the editor."""
