"""Files that belong to a home not saved yet (evidence, weather), kept by their hash for each session of work.

A session's files live until the person is done with the home, whatever is undone, saved or done again meanwhile; after a crash
until its kept work is answered.
"""

from __future__ import annotations

import contextlib
import hashlib
import re
import shutil
from pathlib import Path

from nuthatch.core.files.disk import PRIVATE, private_folder, why
from nuthatch.core.files.homefile import HomeFileError, put
from nuthatch.core.files.places import state_folder

_SESSION = re.compile(r"^[0-9a-f]{8,64}$")


def _folder(session: str) -> Path:
    return state_folder() / "held" / session


def hold(data: bytes, session: str) -> str:
    """Keep a file for a session, by its hash; returns the hash. Raises HomeFileError."""
    sha = hashlib.sha256(data).hexdigest()
    file = _folder(session) / sha
    if not file.exists():
        try:
            private_folder(file.parent)
        except OSError as error:
            raise HomeFileError(f"{file.parent}: {why(error)}") from None
        put(file, data, PRIVATE)
    return sha


def held(sha: str, *sessions: str) -> bytes | None:
    """A kept file by its hash, from the first of these sessions that has it; None where it is not here or not whole."""
    if not re.fullmatch("[0-9a-f]{64}", sha):
        return None
    places = [*(_folder(s) for s in sessions if _SESSION.match(s)), state_folder() / "held"]  # last: as older versions kept them
    for folder in places:
        with contextlib.suppress(OSError):
            data = (folder / sha).read_bytes()
            if hashlib.sha256(data).hexdigest() == sha:
                return data
    return None


def drop_session(session: str) -> None:
    """The files of a session whose work is safe in a home, or given up by the person."""
    if _SESSION.match(session):
        shutil.rmtree(_folder(session), ignore_errors=True)
