"""Where work is kept: hidden beside a home file, or in the user's state folder.

A home `a.nuthatch` has beside it, hidden: `.a.nuthatch.lock` (while open), `.a.nuthatch.autosave` (while there is work not
saved), `.a.nuthatch.1` to `.3` (the last versions, newest first, hard links made when saving). A home never saved keeps its
autosave in the user's state folder.
"""

from __future__ import annotations

from pathlib import Path


def state_folder() -> Path:
    """Where work that belongs to no saved file yet is kept."""
    from platformdirs import user_state_dir

    return Path(user_state_dir("nuthatch"))


def beside(path: Path, ending: str) -> Path:
    """The hidden file beside a home file."""
    return path.with_name(f".{path.name}.{ending}")
