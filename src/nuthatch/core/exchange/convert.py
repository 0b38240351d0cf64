"""One document into another by the endings of their names: `nuthatch convert IN OUT`."""

from __future__ import annotations

from dataclasses import dataclass
from importlib import import_module
from pathlib import Path
from typing import Any

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.climate.library import climate_for
from nuthatch.core.exchange.taken import SeveralBuildings, Taken
from nuthatch.core.files import formats
from nuthatch.core.files.disk import printable, read_file, why
from nuthatch.core.files.homefile import HomeFile, HomeFileError, read, to_bytes

LARGEST = 60_000_000


@dataclass(frozen=True)
class Brought:
    """A home from a file, and what of the file has no place in a home, in words."""

    file: HomeFile
    left_out: tuple[str, ...] = ()


def brought_in(path: Path, building: str = "") -> Brought:
    """A home from a file of any form it can be read from. building: which is read where the file has several. Raises HomeFileError whose
    message starts with the path, SeveralBuildings where it is not said which."""
    if path.suffix.lower() == ".nuthatch":
        return Brought(read(path))
    form = next((f for f in formats.of("shape") if path.suffix.lower() in f.suffixes and f.reads), None)
    if form is None:
        known = [".nuthatch", *(s for f in formats.of("shape") if f.reads for s in f.suffixes)]
        raise HomeFileError(f"{printable(str(path))}: “{path.suffix}” is not read here; {', '.join(known[:-1])} or {known[-1]}")
    module, _, name = form.reads.partition(":")
    reads: Any = getattr(import_module(module), name)
    try:
        data = read_file(path, LARGEST, form.name)
        made = reads(data, building) if form.several else reads(data)
    except OSError as error:
        raise HomeFileError(f"{printable(str(path))}: {why(error)}") from None
    except SeveralBuildings as error:
        raise SeveralBuildings(error.names, f"{printable(str(path))}: {error}") from None
    except HomeFileError as error:
        raise HomeFileError(f"{printable(str(path))}: {error}") from None
    return Brought(HomeFile(made.home, None), made.left_out) if isinstance(made, Taken) else Brought(HomeFile(made, None))


def taken_out(content: HomeFile, path: Path, assessment: Assessment | None = None) -> bytes:
    """A home in the form a name asks for. Raises HomeFileError."""
    if path.suffix.lower() == ".nuthatch":
        return to_bytes(content)
    make: Any = formats.writer("shape", path)
    a = assessment if assessment is not None else assess(content.home, climate_for(content.home, content.weather))
    made: bytes = make(a)
    return made
