"""The home file: a zip with home.json, the weather file the home was computed with, and the attached evidence.

Reading never changes the file; saving writes beside it, flushes file and folder to disk, and renames.
"""

from __future__ import annotations

import hashlib
import io
import json
import os
import re
import zipfile
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from nuthatch.core.climate.epw import LARGEST
from nuthatch.core.edits.changes import reason
from nuthatch.core.model.home import SCHEMA, Home
from nuthatch.core.model.migrations import NewerSchema, migrate

HOME, WEATHER, EVIDENCE = "home.json", "climate.epw", "evidence/"
LARGEST_HOME = 20_000_000
_PROOF = re.compile(f"^{EVIDENCE}[0-9a-f]{{64}}$")
LARGEST_FILE = 400_000_000
STAMP = (2026, 1, 1, 0, 0, 0)


class HomeFileError(ValueError):
    """The file is no readable home file; the message names file, place and what would be right."""


@dataclass(frozen=True)
class HomeFile:
    """What a home file holds: the home, the weather file's bytes if it carries one, evidence by its hash."""

    home: Home
    weather: bytes | None
    evidence: dict[str, bytes] = field(default_factory=dict)


def canonical(home: Home) -> str:
    """The home as JSON in stable order, empty fields left out: what is saved and hashed."""
    return json.dumps(home.model_dump(mode="json", exclude_none=True), ensure_ascii=False, indent=1)


def home_hash(home: Home) -> str:
    """SHA-256 of the canonical home."""
    return hashlib.sha256(canonical(home).encode()).hexdigest()


def to_bytes(content: HomeFile) -> bytes:
    """The zip; the same home gives the same bytes."""
    document = {"nuthatch": "home", "schema": SCHEMA, "home": json.loads(canonical(content.home))}
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as archive:
        archive.writestr(zipfile.ZipInfo(HOME, STAMP), json.dumps(document, ensure_ascii=False, indent=1), zipfile.ZIP_DEFLATED)
        if content.weather is not None:
            archive.writestr(zipfile.ZipInfo(WEATHER, STAMP), content.weather, zipfile.ZIP_DEFLATED)
        for sha in sorted({e.sha256 for e in content.home.evidence} & set(content.evidence)):
            archive.writestr(zipfile.ZipInfo(f"{EVIDENCE}{sha}", STAMP), content.evidence[sha], zipfile.ZIP_DEFLATED)
    return buffer.getvalue()


def _member(archive: zipfile.ZipFile, name: str, limit: int) -> bytes:
    """One member, never more than limit bytes unpacked, whatever its header says."""
    with archive.open(name) as stream:
        data = stream.read(limit + 1)
    if len(data) > limit:
        raise HomeFileError(f"{name} unpacks to more than {limit // 1_000_000} MB; a home is far smaller")
    return data


def home_from_json(data: bytes) -> Home:
    """home.json as a Home. Raises HomeFileError with the line or the path of the fault."""
    try:
        document = json.loads(data.decode("utf-8"))
    except UnicodeDecodeError as error:
        raise HomeFileError(f"{HOME}: byte {error.start} is not UTF-8 text") from None
    except json.JSONDecodeError as error:
        raise HomeFileError(f"{HOME}, line {error.lineno}, column {error.colno}: {error.msg}") from None
    except RecursionError:
        raise HomeFileError(f"{HOME} is nested too deeply to be a home") from None
    if not isinstance(document, dict) or not isinstance(document.get("home"), dict) or type(document.get("schema")) is not int:
        raise HomeFileError(f"{HOME} must be an object with “schema” (a whole number) and “home” (an object)")
    try:
        raw: dict[str, Any] = migrate(document["home"], document["schema"])
        return Home.model_validate(raw)
    except NewerSchema as error:
        raise HomeFileError(str(error)) from None
    except ValidationError as error:
        raise HomeFileError(f"{HOME}, {reason(error)}") from None
    except RecursionError:
        raise HomeFileError(f"{HOME} is nested too deeply to be a home") from None


def from_bytes(data: bytes) -> HomeFile:
    """A home file's bytes. Raises HomeFileError."""
    found = members(data, "home file", HOME, _belongs)
    home = home_from_json(found[HOME])
    evidence = {}
    for name, content in found.items():
        if name.startswith(EVIDENCE):
            sha = hashlib.sha256(content).hexdigest()
            if sha != name.removeprefix(EVIDENCE):
                raise HomeFileError(f"the attached file {name[:24]}… is damaged: its content does not match its hash")
            evidence[sha] = content
    return HomeFile(home, found.get(WEATHER), evidence)


def _belongs(name: str) -> int:
    """How large a member of a home file may be, 0 for one that does not belong into it."""
    if _PROOF.match(name):
        return LARGEST_FILE
    return {HOME: LARGEST_HOME, WEATHER: LARGEST}.get(name, 0)


def members(data: bytes, what: str, main: str, belongs: Callable[[str], int]) -> dict[str, bytes]:
    """The members of a zip of ours; `belongs` gives the largest size of one. Raises HomeFileError."""
    if not data:
        raise HomeFileError(f"the file is empty; a {what} is a zip with {main}")
    found: dict[str, bytes] = {}
    room = LARGEST_FILE
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            names = archive.namelist()
            if main not in names:
                raise HomeFileError(f"there is no {main} in it; this zip is no {what}")
            for name in names:
                if not belongs(name):
                    raise HomeFileError(f"it holds “{name[:80]}”, which does not belong into a {what}")
                found[name] = _member(archive, name, min(belongs(name), room))
                room -= len(found[name])
    except HomeFileError:
        raise
    except (
        zipfile.BadZipFile,
        EOFError,
        OSError,
        RuntimeError,
        NotImplementedError,
        ValueError,
        OverflowError,
        zipfile.LargeZipFile,
    ) as error:
        raise HomeFileError(f"it is damaged or no {what} ({error})") from None
    except Exception as error:  # zlib.error and struct.error have no common base
        raise HomeFileError(f"it is damaged ({type(error).__name__})") from None
    return found


def read_bytes(path: Path) -> bytes:
    """A home file's bytes. Raises HomeFileError."""
    try:
        if path.is_dir():
            raise HomeFileError("this is a folder; choose a .nuthatch file")
        if path.stat().st_size > LARGEST_FILE:
            raise HomeFileError("the file is far too large for a home file")
        return path.read_bytes()
    except OSError as error:
        raise HomeFileError(error.strerror or str(error)) from None


def read(path: Path) -> HomeFile:
    """A home file. Raises HomeFileError whose message starts with the path."""
    try:
        return from_bytes(read_bytes(path))
    except HomeFileError as error:
        raise HomeFileError(f"{path}: {error}") from None


def write(path: Path, content: HomeFile) -> None:
    """Save: a temporary file beside it, flushed to disk, renamed over; at any moment the old or the new file is whole."""
    put(path, to_bytes(content))


def put(path: Path, data: bytes) -> None:
    """Bytes into a file so that a kill or a full disk at any moment leaves the old or the new file. Raises HomeFileError."""
    part = path.with_name(f".{path.name}.{os.getpid()}.part")
    for left in path.parent.glob(f".{path.name}.*.part"):  # of a save that was killed
        if not Path(f"/proc/{left.name.split('.')[-2]}").exists():
            left.unlink(missing_ok=True)
    try:
        with open(part, "wb") as stream:
            stream.write(data)
            stream.flush()
            os.fsync(stream.fileno())
        os.replace(part, path)
    except OSError as error:
        part.unlink(missing_ok=True)
        raise HomeFileError(f"{path}: could not be saved, the old file is unchanged ({error.strerror or error})") from None
    folder = os.open(path.parent, os.O_RDONLY)
    try:
        os.fsync(folder)
    finally:
        os.close(folder)
