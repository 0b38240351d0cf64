"""The home file: a zip with home.json, the weather file the home was computed with, and the attached evidence.

Reading never changes the file; saving writes beside it, flushes file and folder to disk, and renames.
"""

from __future__ import annotations

import hashlib
import io
import json
import re
import zipfile
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

from pydantic import ValidationError

from nuthatch.core.changes.changes import reason
from nuthatch.core.files.disk import printable, put_file, read_file, why
from nuthatch.core.files.located import Fault, parse
from nuthatch.core.model.home import SCHEMA, Home
from nuthatch.core.model.migrations import NewerSchema, migrate

HOME, WEATHER, EVIDENCE = "home.json", "climate.epw", "evidence/"
LARGEST_HOME, LARGEST_WEATHER = 20_000_000, 40_000_000
_PROOF = re.compile(f"^{EVIDENCE}[0-9a-f]{{64}}$")
LARGEST_FILE = 400_000_000
STAMP = (2026, 1, 1, 0, 0, 0)


class HomeFileError(ValueError):
    """The file is no readable home file; the message names file, place and what would be right."""


@dataclass(frozen=True)
class HomeFile:
    """What a home file holds: the home, the weather file's bytes if it carries one, evidence by its hash. sha256: of the file."""

    home: Home
    weather: bytes | None
    evidence: dict[str, bytes] = field(default_factory=dict)
    sha256: str = ""


def canonical(home: Home) -> str:
    """The home as JSON in stable order, empty fields left out: what is saved and hashed."""
    return json.dumps(home.model_dump(mode="json", exclude_none=True), ensure_ascii=False, indent=1)


def compact(home: Home) -> str:
    """The same on one line: for what is written often and read seldom (a third of the time)."""
    return json.dumps(home.model_dump(mode="json", exclude_none=True), ensure_ascii=False)


def home_hash(home: Home) -> str:
    """SHA-256 of the canonical home."""
    return hashlib.sha256(canonical(home).encode()).hexdigest()


def to_bytes(content: HomeFile, whole: bool = True) -> bytes:
    """The zip; the same home gives the same bytes. whole: Raises HomeFileError where a file the home lists is not
    there; otherwise such a file is only listed, with its hash."""
    lost = [e.name for e in content.home.evidence if e.sha256 not in content.evidence]
    if lost and whole:
        raise HomeFileError(
            f"the content of the attached file “{printable(lost[0])}” is not here, so the home would be saved without it; "
            "attach it again, or take it out of the evidence in Dossier"
        )
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
    document = document_of(data, HOME)
    if not isinstance(document, dict) or not isinstance(document.get("home"), dict) or type(document.get("schema")) is not int:
        raise HomeFileError(f"{HOME} must be an object with “schema” (a whole number) and “home” (an object)")
    try:
        raw: dict[str, object] = migrate(document["home"], document["schema"])
        return Home.model_validate(raw)
    except NewerSchema as error:
        raise HomeFileError(str(error)) from None
    except ValidationError as error:
        raise HomeFileError(f"{HOME}, {printable(reason(error))}") from None
    except RecursionError:
        raise HomeFileError(f"{HOME} is nested too deeply to be a home") from None


class _Odd(ValueError):
    """JSON that says something twice, or a number that is none."""


def _once(pairs: list[tuple[str, object]]) -> dict[str, object]:
    found = dict(pairs)
    if len(found) != len(pairs):
        raise _Odd
    return found


def _whole(text: str) -> int:
    if len(text) > LONGEST_NUMBER:
        raise _Odd
    return int(text)


def _no_number(_: str) -> float:
    raise _Odd


LONGEST_NUMBER = 300


def document_of(data: bytes, name: str) -> object:
    """JSON as data: every key once, numbers that are numbers. Raises HomeFileError with the line and place of a fault."""
    try:
        return json.loads(data.decode("utf-8"), object_pairs_hook=_once, parse_int=_whole, parse_constant=_no_number)
    except RecursionError:
        raise HomeFileError(f"{name} is nested too deeply to be a home") from None
    except ValueError as error:  # read again, slowly, to say where
        try:
            parse(data)
        except Fault as fault:
            raise HomeFileError(f"{name}, {printable(str(fault))}") from None
        raise HomeFileError(f"{name}: {printable(str(error))}") from None


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
    return HomeFile(home, found.get(WEATHER), evidence, hashlib.sha256(data).hexdigest())


def _belongs(name: str) -> int:
    """How large a member of a home file may be, 0 for one that does not belong into it."""
    if _PROOF.match(name):
        return LARGEST_FILE
    return {HOME: LARGEST_HOME, WEATHER: LARGEST_WEATHER}.get(name, 0)


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
                    raise HomeFileError(f"it holds “{printable(name[:80])}”, which does not belong into a {what}")
                if name in found:
                    raise HomeFileError(f"it holds {name[:80]} twice; which of the two counts cannot be told")
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
        raise HomeFileError(f"it is damaged or no {what} ({printable(str(error))})") from None
    except Exception as error:  # zlib.error and struct.error have no common base
        raise HomeFileError(f"it is damaged ({type(error).__name__})") from None
    return found


def read_bytes(path: Path) -> bytes:
    """A home file's bytes. Raises HomeFileError."""
    try:
        return read_file(path, LARGEST_FILE, "home file")
    except OSError as error:
        raise HomeFileError(why(error)) from None


def read(path: Path) -> HomeFile:
    """A home file. Raises HomeFileError whose message starts with the path."""
    try:
        return from_bytes(read_bytes(path))
    except HomeFileError as error:
        raise HomeFileError(f"{printable(str(path))}: {error}") from None


def write(path: Path, content: HomeFile) -> str:
    """Save: a temporary file beside it, flushed to disk, renamed over; at any moment the old or the new file is whole. Gives its hash."""
    try:
        data = to_bytes(content)
    except HomeFileError as error:
        raise HomeFileError(f"{printable(str(path))}: not saved, {error}") from None
    put(path, data)
    return hashlib.sha256(data).hexdigest()


def put(path: Path, data: bytes, mode: int | None = None) -> None:
    """Bytes into a file, whole or not at all (`disk.put_file`). Raises HomeFileError."""
    try:
        put_file(path, data, mode)
    except OSError as error:
        raise HomeFileError(f"{printable(str(path))}: could not be saved, the old file is unchanged ({why(error)})") from None
