"""What pages, files and bars may ask of the window they stand in: go somewhere, say something, open another home, the open one."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Protocol

from nuthatch.core.library import Starter
from nuthatch.core.model.home import Home
from nuthatch.core.office import OfficeFile
from nuthatch.desktop.document import Document


class Shell(Protocol):
    """The window, as far as its parts know it."""

    @property
    def document(self) -> Document:
        """The open home."""

    def go(self, step: str, part: str = "", field: str = "") -> None:
        """To a step, a part and its field; or to a page: home, homes, office, new, ledger."""

    def say(self, label: str, detail: str = "") -> None:
        """A sentence in the change line."""

    def open(self, make: Callable[[], Document], step: str = "", note: tuple[str, str] | None = None) -> bool:
        """Another home in this window, unless the person wants to keep this one. note: what the change line says of it."""


class Files(Protocol):
    """What pages may ask of the window's files (`HomeFiles`)."""

    def open_path(self, path: Path) -> bool:
        """Open a home file; a fault is said and the present home stays."""

    def new(self) -> None:
        """A new home from the office profile."""

    def new_from(self, starter: Starter) -> None:
        """A new home from a starter home."""

    def new_like(self, other: Home, weather: bytes | None = None) -> None:
        """A new home like another: ask what is carried over."""

    def edit_start(self, office: OfficeFile, keep: object) -> None:
        """Work on the starting values of the office profile as on a home."""
