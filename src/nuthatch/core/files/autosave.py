"""Work not saved yet, kept beside its file or in the state folder, and found again after a crash.

Work somebody is doing lies in one autosave, written over and over. Work of an earlier session gets a name of its own as soon as
it is found, so that nothing that is done meanwhile can overwrite it; it goes when its restored state has been saved, and is put
aside when the person leaves it.
"""

from __future__ import annotations

import contextlib
import datetime
import fcntl
import json
import os
import time
import uuid
from dataclasses import dataclass, replace
from pathlib import Path

from nuthatch.core.files.disk import PRIVATE, beside, mode_of, private_folder, read_file, why
from nuthatch.core.files.homefile import HomeFileError, compact, home_from_json, put
from nuthatch.core.files.places import state_folder
from nuthatch.core.model.home import SCHEMA, Home

LARGEST_AUTOSAVE = 20_000_000
KEPT, LEFT = "kept", "left"
MOST_KEPT, MOST_KEPT_BYTES = 20, 200_000_000
"""Pieces of kept work beside one home, and the bytes of all of them: after many crashes in a row the oldest ones go, and it is said."""


@dataclass(frozen=True)
class Autosave:
    """Work not saved: the home, where it belongs, what was done since the last save, when, and the session that did it.

    `base` is the hash of the file the work started from; `older` says that the file was saved after this work was kept.
    """

    home: Home
    path: str
    labels: tuple[str, ...]
    when: str
    file: Path
    session: str = ""
    base: str = ""
    older: str = ""

    @property
    def words(self) -> str:
        """What would be restored, in a sentence."""
        count = len(self.labels)
        last = "; ".join(self.labels[-3:])
        size = _size(self.file)
        large = f", {size / 1e6:.1f} MB" if size >= 50_000 else ""
        said = f"{self.home.name}: {count} change{'' if count == 1 else 's'} not saved{large}, last {self.when}" + (
            f" ({last})" if last else ""
        )
        return f"{said}. The file is newer: it was saved {self.older}" if self.older else said


def new_session() -> str:
    """A name for the work on one open home, unique wherever and whenever it runs."""
    return uuid.uuid4().hex


def unsaved_folder() -> Path:
    """Where the work on homes never saved is kept."""
    return state_folder() / "unsaved"


def autosave_file(path: Path | None, session: str) -> Path:
    """Where the autosave of a home is kept."""
    return beside(path, "autosave") if path is not None else unsaved_folder() / f"{session}.autosave"


def write_autosave(file: Path, home: Home, path: Path | None, labels: tuple[str, ...], session: str = "", base: str = "") -> None:
    """Keep the home, as private as its file. Raises HomeFileError where it cannot be written."""
    when = datetime.datetime.now().strftime("%Y-%m-%d %H:%M:%S")
    document = {"nuthatch": "autosave", "schema": SCHEMA, "path": _shown(path), "labels": list(labels), "when": when}
    document |= {"time": time.time(), "session": session, "base": base}
    text = json.dumps(document, ensure_ascii=False)[:-1] + ', "home": ' + compact(home) + "}"
    mode = mode_of(path) if path is not None else None
    try:
        if path is None:
            private_folder(file.parent)
        else:
            file.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise HomeFileError(f"{file}: {why(error)}") from None
    put(file, text.encode("utf-8", "surrogatepass"), PRIVATE if mode is None else mode)


def _shown(path: Path | None) -> str:
    return "" if path is None else os.fsencode(path).decode("utf-8", "replace")


def read_autosave(file: Path) -> Autosave | None:
    """The work kept in a file, None where there is none. Raises HomeFileError where it is damaged."""
    try:
        data = read_file(file, LARGEST_AUTOSAVE, "piece of kept work")
    except FileNotFoundError:
        return None
    except OSError as error:
        if not file.exists():
            return None
        raise HomeFileError(f"{file}: {why(error)}") from None
    home = home_from_json(data)
    document: dict[str, object] = json.loads(data)
    labels = document.get("labels")
    texts = tuple(str(x)[:300] for x in labels[-1000:]) if isinstance(labels, list) else ()
    said = {k: str(document.get(k, ""))[:n] for k, n in (("path", 4096), ("when", 40), ("session", 64), ("base", 64))}
    return Autosave(home, said["path"], texts, said["when"], file, said["session"], said["base"])


# work of earlier sessions


def claimed(path: Path) -> tuple[Path, ...]:
    """The files of earlier work beside a home, newest first; an autosave found there gets a name of its own.

    Only for who holds the home's lock: else the autosave may be somebody's at work.
    """
    file = beside(path, "autosave")
    if file.exists():
        with contextlib.suppress(OSError):
            file.rename(_own_name(path, KEPT))
    return earlier(path, KEPT)


def earlier(path: Path, kind: str) -> tuple[Path, ...]:
    """Kept or left work beside a home, newest first."""
    stem = beside(path, f"{kind}-").name
    with contextlib.suppress(OSError):
        names = [e.name for e in os.scandir(path.parent) if e.name.startswith(stem) and not e.name.endswith(".part")]
        return tuple(sorted((path.with_name(n) for n in names), key=_age, reverse=True))
    return ()


def _age(file: Path) -> float:
    try:
        return file.stat().st_mtime
    except OSError:
        return 0.0


def _own_name(path: Path, kind: str) -> Path:
    return beside(path, f"{kind}-{datetime.datetime.now():%Y%m%d-%H%M%S}-{uuid.uuid4().hex[:8]}")


def found_beside(path: Path, file_hash: str) -> tuple[tuple[Autosave, ...], tuple[str, ...]]:
    """(work of earlier sessions on a home, newest first; what is wrong with those that cannot be read). file_hash: of the file."""
    works, faults = [], []
    files, gone = bounded(claimed(path))
    if gone:
        faults.append(f"{gone}: of the work kept beside {path.name} at most {MOST_KEPT} pieces and {MOST_KEPT_BYTES // 1_000_000} MB stay")
    for file in files:
        try:
            work = read_autosave(file)
        except HomeFileError as problem:
            faults.append(str(problem))
            continue
        if work is not None:
            works.append(_dated(work, path, file_hash))
    return tuple(works), tuple(faults)


def bounded(files: tuple[Path, ...]) -> tuple[tuple[Path, ...], str]:
    """(kept work that stays, newest first; in words what was removed, '' for nothing): the newest always stays."""
    stay: list[Path] = []
    total = gone = 0
    for file in files:
        size = _size(file)
        if stay and (len(stay) >= MOST_KEPT or total + size > MOST_KEPT_BYTES):
            with contextlib.suppress(OSError):
                file.unlink()
            gone += 1
            continue
        stay.append(file)
        total += size
    return tuple(stay), f"{gone} older piece{'' if gone == 1 else 's'} of kept work removed" if gone else ""


def _size(file: Path) -> int:
    try:
        return file.stat().st_size
    except OSError:
        return 0


def _dated(work: Autosave, path: Path, file_hash: str) -> Autosave:
    """With a word where the file was saved after the work was kept."""
    saved = _age(path)
    if saved and work.base != file_hash and saved > _age(work.file):
        return replace(work, older=datetime.datetime.fromtimestamp(saved).strftime("%Y-%m-%d %H:%M:%S"))
    return work


def leave(work: Autosave, path: Path | None) -> Path:
    """Put kept work aside under a name of its own: it is still to be had. Raises HomeFileError."""
    target = _own_name(path, LEFT) if path is not None else work.file.with_suffix(f".{LEFT}")
    try:
        work.file.rename(target)
    except OSError as error:
        raise HomeFileError(f"{work.file}: {why(error)}") from None
    return target


def left_unsaved() -> tuple[Path, ...]:
    """Work on homes never saved that was left, newest first."""
    return tuple(sorted(unsaved_folder().glob(f"*.{LEFT}"), key=_age, reverse=True))


def readable(file: Path) -> Autosave | None:
    """The work kept in a file, None where it is gone or damaged."""
    try:
        return read_autosave(file)
    except HomeFileError:
        return None


def waiting(path: Path) -> Autosave | None:
    """The newest work of an earlier session beside a home that nobody has open; nothing is touched."""
    for file in (beside(path, "autosave"), *earlier(path, KEPT)):
        work = readable(file)
        if work is not None:
            return work
    return None


class Alive:
    """Says that a session of a home never saved is at work, as long as its process lives; nobody else offers its work."""

    def __init__(self, session: str) -> None:
        self._file = unsaved_folder() / f"{session}.alive"
        self.handle: int | None = None
        with contextlib.suppress(OSError):
            private_folder(self._file.parent)
            self.handle = os.open(self._file, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, PRIVATE)
            fcntl.flock(self.handle, fcntl.LOCK_EX | fcntl.LOCK_NB)

    def end(self) -> None:
        """The session is over."""
        if self.handle is not None:
            self._file.unlink(missing_ok=True)
            os.close(self.handle)
            self.handle = None


def _at_work(session: str) -> bool:
    """Whether a process holds the sign of life of a session."""
    try:
        handle = os.open(unsaved_folder() / f"{session}.alive", os.O_RDWR | os.O_CLOEXEC)
    except OSError:
        number = session.split("-")[0]  # as older versions named theirs: process and count
        return "-" in session and number.isdigit() and Path(f"/proc/{number}").exists()
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return True
    finally:
        os.close(handle)
    return False


def left_behind() -> tuple[Autosave, ...]:
    """Work on homes never saved whose window is gone, newest first; an autosave gets the name of kept work."""
    found = []
    for file in sorted(unsaved_folder().glob(f"*.{KEPT}")) + sorted(unsaved_folder().glob("*.autosave")):
        if _at_work(file.stem):
            continue
        if file.suffix == ".autosave":
            with contextlib.suppress(OSError):
                file = file.rename(file.with_name(f"{file.stem}-{uuid.uuid4().hex[:8]}.{KEPT}"))
                (unsaved_folder() / f"{file.stem}.alive").unlink(missing_ok=True)
        with contextlib.suppress(HomeFileError):
            work = read_autosave(file)
            if work is not None:
                found.append(work)
    return tuple(sorted(found, key=lambda w: _age(w.file), reverse=True))
