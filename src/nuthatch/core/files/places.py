"""Where work is kept: hidden beside a home file, or in the user's state folder.

A home `a.nuthatch` has beside it, hidden: `.a.nuthatch.lock` (while open), `.a.nuthatch.autosave` (while there is work not
saved), `.a.nuthatch.kept-…` (work of an earlier session that nobody has answered yet), `.a.nuthatch.left-…` (work somebody
left), `.a.nuthatch.1` to `.3` (the last versions, newest first, hard links made when saving). A home never saved keeps its work
in the user's state folder. All of them are as private as the home.
"""

from __future__ import annotations

from pathlib import Path

from nuthatch.core.files.disk import beside

__all__ = ["beside", "real", "state_folder"]


def state_folder() -> Path:
    """Where work that belongs to no saved file yet is kept."""
    from platformdirs import user_state_dir

    return Path(user_state_dir("nuthatch"))


def real(path: Path) -> Path:
    """The file itself behind symbolic links: lock, work and versions belong to it, and saving keeps the link."""
    try:
        return path.resolve()
    except (OSError, RuntimeError, ValueError):
        return path.absolute()


def config_folder() -> Path:
    """The user's folder of Nuthatch: office profile, own target sets."""
    from platformdirs import user_config_dir

    return Path(user_config_dir("nuthatch"))
