"""Files read and written with care: only real files, never more than expected, old or new but never half, as private as before."""

from __future__ import annotations

import contextlib
import errno
import hashlib
import os
import stat
import uuid
from collections.abc import Callable
from pathlib import Path

LONGEST_WHOLE = 190  # bytes of a name that stays whole: file systems take 255, and an ending needs its room
PRIVATE = 0o600


class FileFault(OSError):
    """A file that cannot be read or written: why, in words. `strerror` is the reason without the path."""


def why(error: OSError) -> str:
    """An error of the system in words."""
    return error.strerror or str(error)


def read_file(path: Path, largest: int, what: str) -> bytes:
    """The bytes of a real file. Raises FileFault at once for a folder, a pipe, a device, or one that is far too large."""
    try:
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
    except ValueError:  # a NUL in the name
        raise FileFault(errno.EINVAL, "there is no file of this name") from None
    except OSError as error:
        raise FileFault(error.errno, why(error)) from None
    try:
        known = os.fstat(handle)
        if stat.S_ISDIR(known.st_mode):
            raise FileFault(errno.EISDIR, f"this is a folder; choose a {what}")
        if not stat.S_ISREG(known.st_mode):
            raise FileFault(errno.EINVAL, f"this is a pipe or a device, no {what}")
        if known.st_size > largest:
            raise FileFault(errno.EFBIG, f"the file is far too large for a {what}")
        with open(handle, "rb", closefd=False) as stream:
            data = stream.read(largest + 1)
    except FileFault:
        raise
    except OSError as error:
        raise FileFault(error.errno, why(error)) from None
    finally:
        os.close(handle)
    if len(data) > largest:
        raise FileFault(errno.EFBIG, f"the file is far too large for a {what}")
    return data


def short_name(name: str, ending: str) -> str:
    """`.name.ending`; a long name is cut and marked with a hash, for a file system would refuse it with its ending."""
    raw = os.fsencode(name)
    if len(raw) <= LONGEST_WHOLE:
        return f".{name}.{ending}"
    mark = hashlib.sha256(raw).hexdigest()[:16]
    kept = raw[: LONGEST_WHOLE - len(mark)].decode("utf-8", "ignore")
    return f".{kept}~{mark}.{ending}"


def beside(path: Path, ending: str) -> Path:
    """The hidden file beside a file."""
    return path.with_name(short_name(path.name, ending))


def mode_of(path: Path) -> int | None:
    """Who may read and write a file; None where there is none."""
    try:
        return stat.S_IMODE(path.stat().st_mode)
    except (OSError, ValueError):
        return None


def private_folder(folder: Path) -> None:
    """A folder of the person alone. Raises OSError."""
    folder.mkdir(parents=True, exist_ok=True)
    with contextlib.suppress(OSError):
        folder.chmod(0o700)


def put_file(path: Path, data: bytes, mode: int | None = None) -> None:
    """Bytes into a file so that a kill or a full disk at any moment leaves the old or the new file whole. Raises FileFault.

    mode: who may read it; by default as the file before it, else as usual for new files.
    """
    part = beside(path, f"{os.getpid()}-{uuid.uuid4().hex[:8]}.part")
    _sweep(path)
    wanted = mode if mode is not None else mode_of(path)
    try:
        handle = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, PRIVATE)
        with os.fdopen(handle, "wb") as stream:
            stream.write(data)
            stream.flush()
            os.fchmod(handle, wanted if wanted is not None else 0o666 & ~_umask())
            os.fsync(handle)
        os.replace(part, path)
    except (OSError, ValueError) as error:
        with contextlib.suppress(OSError, ValueError):
            part.unlink(missing_ok=True)
        reason = why(error) if isinstance(error, OSError) else "no file can have this name"
        raise FileFault(getattr(error, "errno", errno.EINVAL), reason) from None
    settle_folder(path.parent)


def settle_folder(folder: Path) -> None:
    """Have a folder's entries written to disk; a file system that cannot do so is no reason to fail: the file itself is whole."""
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY | os.O_CLOEXEC)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def _umask() -> int:
    """The mask for new files; Linux tells it without changing it for a moment."""
    with contextlib.suppress(OSError, ValueError, StopIteration):
        lines = Path("/proc/self/status").read_text(encoding="ascii", errors="replace").splitlines()
        return int(next(line for line in lines if line.startswith("Umask:")).split()[1], 8)
    return 0o022


def _sweep(path: Path) -> None:
    """Temporary files of saves that were killed."""
    start = beside(path, "x")
    stem = start.name[:-1]
    with contextlib.suppress(OSError, ValueError):
        for entry in os.scandir(path.parent):
            if entry.name.startswith(stem) and entry.name.endswith(".part"):
                process = entry.name[len(stem) :].split("-")[0].split(".")[0]
                if process.isdigit() and not Path(f"/proc/{process}").exists():
                    Path(entry.path).unlink(missing_ok=True)


def worded(error: Exception, wrap: Callable[[str], Exception], path: Path) -> Exception:
    """A fault of a file as an error of another kind that names the path."""
    return wrap(f"{printable(str(path))}: {why(error) if isinstance(error, OSError) else error}")


def printable(text: str) -> str:
    """Text that may go to a terminal or into a message: control characters and bytes that are no text are written out."""
    return "".join(c if c.isprintable() or c in "\u00a0\u202f" else _written(c) for c in text)


def _written(character: str) -> str:
    code = ord(character)
    if 0xDC80 <= code <= 0xDCFF:  # a byte of a file name that is no UTF-8
        return f"\\x{code - 0xDC00:02x}"
    return f"\\x{code:02x}" if code < 0x100 else f"\\u{code:04x}" if code < 0x10000 else f"\\U{code:08x}"
