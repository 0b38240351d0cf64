"""Files that belong to a home not saved yet (evidence, weather), kept by their hash."""

from __future__ import annotations

import contextlib
import hashlib

from nuthatch.core.exchange.homefile import HomeFileError, put
from nuthatch.core.keeping.places import state_folder


def hold(data: bytes) -> str:
    """Keep a file that belongs to a home not saved yet (evidence, weather), by its hash; returns the hash."""
    sha = hashlib.sha256(data).hexdigest()
    folder = state_folder() / "held"
    file = folder / sha
    if not file.exists():
        try:
            folder.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise HomeFileError(f"{folder}: {error.strerror or error}") from None
        put(file, data)
    return sha


def held(sha: str) -> bytes | None:
    """A kept file by its hash; None where it is not here or not whole."""
    with contextlib.suppress(OSError):
        data = (state_folder() / "held" / sha).read_bytes()
        return data if hashlib.sha256(data).hexdigest() == sha else None
    return None


def drop_held(shas: list[str]) -> None:
    """Files that are safe in a saved home now."""
    for sha in shas:
        with contextlib.suppress(OSError):
            (state_folder() / "held" / sha).unlink(missing_ok=True)
