"""Nothing lost: the lock of an open home, the autosave beside it, its last versions, and files not saved yet.

A home `a.nuthatch` has beside it, hidden: `.a.nuthatch.lock` (while open), `.a.nuthatch.autosave` (while there is work not
saved), `.a.nuthatch.1` to `.3` (the last versions, newest first, hard links made when saving). A home never saved keeps its
autosave in the user's state folder.
"""

from __future__ import annotations

import contextlib
import datetime
import fcntl
import hashlib
import json
import os
import platform
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from nuthatch.core.exchange.homefile import HomeFileError, canonical, home_from_json, put
from nuthatch.core.model.home import Home
from nuthatch.core.model.home import SCHEMA

VERSIONS = 3
LARGEST_AUTOSAVE = 20_000_000


def state_folder() -> Path:
    """Where work that belongs to no saved file yet is kept."""
    from platformdirs import user_state_dir

    return Path(user_state_dir("nuthatch"))


def beside(path: Path, ending: str) -> Path:
    """The hidden file beside a home file."""
    return path.with_name(f".{path.name}.{ending}")


class Lock:
    """Holds a home file open for one window. The kernel drops it when the process ends, however it ends."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self.holder = ""
        self._stream: Any = None
        self.held = self._take()

    def _take(self) -> bool:
        file = beside(self.path, "lock")
        try:
            stream = open(file, "a+", encoding="utf-8")  # noqa: SIM115 - kept open while the lock is held
        except OSError as error:
            self.holder = f"its folder cannot be written to ({error.strerror or error})"
            return False
        try:
            fcntl.flock(stream, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            stream.seek(0)
            self.holder = stream.read(400).strip() or "another window"
            stream.close()
            return False
        stream.truncate(0)
        when = datetime.datetime.now().strftime("%Y-%m-%d %H:%M")
        who = os.environ.get("USER") or os.environ.get("LOGNAME") or "somebody"
        stream.write(f"{who} on {platform.node()}, since {when}")
        stream.flush()
        self._stream = stream
        return True

    def release(self) -> None:
        """Let the file go."""
        if self._stream is not None:
            with contextlib.suppress(OSError):
                beside(self.path, "lock").unlink(missing_ok=True)
            self._stream.close()
            self._stream = None
        self.held = False


@dataclass(frozen=True)
class Autosave:
    """Work not saved: the home, where it belongs, what was done since the last save, and when."""

    home: Home
    path: str
    labels: tuple[str, ...]
    when: str
    file: Path

    @property
    def words(self) -> str:
        """What would be restored, in a sentence."""
        count = len(self.labels)
        last = "; ".join(self.labels[-3:])
        return f"{self.home.name}: {count} change{'' if count == 1 else 's'} not saved, last {self.when}" + (f" ({last})" if last else "")


def autosave_file(path: Path | None, session_id: str) -> Path:
    """Where the autosave of a home is kept."""
    return beside(path, "autosave") if path is not None else state_folder() / "unsaved" / f"{session_id}.autosave"


def write_autosave(file: Path, home: Home, path: Path | None, labels: tuple[str, ...]) -> None:
    """Keep the home. Raises HomeFileError where it cannot be written."""
    when = datetime.datetime.now().strftime("%Y-%m-%d %H:%M:%S")
    document = {"nuthatch": "autosave", "schema": SCHEMA, "path": str(path or ""), "labels": list(labels), "when": when}
    text = json.dumps(document, ensure_ascii=False)[:-1] + ', "home": ' + canonical(home) + "}"
    try:
        file.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise HomeFileError(f"{file}: {error.strerror or error}") from None
    put(file, text.encode())


def read_autosave(file: Path) -> Autosave | None:
    """The autosave, None where there is none. Raises HomeFileError where it is damaged."""
    try:
        if file.stat().st_size > LARGEST_AUTOSAVE:
            raise HomeFileError(f"{file}: far too large for an autosave")
        data = file.read_bytes()
    except FileNotFoundError:
        return None
    except OSError as error:
        raise HomeFileError(f"{file}: {error.strerror or error}") from None
    home = home_from_json(data)
    document = json.loads(data)
    labels = document.get("labels")
    texts = tuple(str(x)[:300] for x in labels[-1000:]) if isinstance(labels, list) else ()
    return Autosave(home, str(document.get("path", "")), texts, str(document.get("when", ""))[:40], file)


def left_behind() -> tuple[Autosave, ...]:
    """Autosaves of homes never saved whose window is gone."""
    found = []
    for file in sorted((state_folder() / "unsaved").glob("*.autosave")):
        if not Path(f"/proc/{file.stem.split('-')[0]}").exists():
            with contextlib.suppress(HomeFileError):
                kept = read_autosave(file)
                if kept is not None:
                    found.append(kept)
    return tuple(found)


def keep_version(path: Path) -> None:
    """Before a save: the file as it is becomes version 1, older ones move on, the oldest goes."""
    if not path.exists():
        return
    with contextlib.suppress(OSError):  # a file system without hard links or a full disk must not stop the save
        first = beside(path, "1")
        if first.exists() and first.samefile(path):
            return
        for number in range(VERSIONS, 1, -1):
            older = beside(path, str(number - 1))
            if older.exists():
                os.replace(older, beside(path, str(number)))
        os.link(path, first)


def versions(path: Path) -> tuple[tuple[Path, str], ...]:
    """(file, when it was saved) of the last versions, newest first."""
    found = []
    for number in range(1, VERSIONS + 1):
        file = beside(path, str(number))
        with contextlib.suppress(OSError):
            when = datetime.datetime.fromtimestamp(file.stat().st_mtime)
            found.append((file, when.strftime("%Y-%m-%d %H:%M")))
    return tuple(found)


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
