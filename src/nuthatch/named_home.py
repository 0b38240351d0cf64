"""What the user named cannot be used: one line says why. Shared by the command line and the window's start."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from nuthatch.core.files.homefile import HomeFile


class Refused(Exception):
    """The message is one line; the exit code is 2."""


def read_home(name: str) -> tuple[HomeFile, Path | None]:
    """(what a home file holds, its path) of a file; without a path for a demo name. Raises Refused."""
    from nuthatch.core.files.homefile import HomeFile, HomeFileError, read
    from nuthatch.core.library import DEMO, demo_home

    if name in DEMO and not Path(name).exists():
        return HomeFile(demo_home(name), None), None
    try:
        return read(Path(name)), Path(name)
    except HomeFileError as error:
        raise Refused(str(error)) from None
