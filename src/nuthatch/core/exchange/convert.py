"""One document into another by the endings of their names: `nuthatch convert IN OUT`."""

from __future__ import annotations

from importlib import import_module
from pathlib import Path
from typing import Any

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.climate.library import climate_for
from nuthatch.core.files import formats
from nuthatch.core.files.disk import printable, read_file, why
from nuthatch.core.files.homefile import HomeFile, HomeFileError, read, to_bytes

LARGEST = 60_000_000


def brought_in(path: Path) -> HomeFile:
    """A home from a file of any form it can be read from. Raises HomeFileError whose message starts with the path."""
    if path.suffix.lower() == ".nuthatch":
        return read(path)
    form = next((f for f in formats.of("shape") if path.suffix.lower() in f.suffixes and f.reads), None)
    if form is None:
        known = [".nuthatch", *(s for f in formats.of("shape") if f.reads for s in f.suffixes)]
        raise HomeFileError(f"{printable(str(path))}: “{path.suffix}” is not read here; {', '.join(known[:-1])} or {known[-1]}")
    module, _, name = form.reads.partition(":")
    try:
        data = read_file(path, LARGEST, form.name)
        return HomeFile(getattr(import_module(module), name)(data), None)
    except OSError as error:
        raise HomeFileError(f"{printable(str(path))}: {why(error)}") from None
    except HomeFileError as error:
        raise HomeFileError(f"{printable(str(path))}: {error}") from None


def taken_out(content: HomeFile, path: Path, assessment: Assessment | None = None) -> bytes:
    """A home in the form a name asks for. Raises HomeFileError."""
    if path.suffix.lower() == ".nuthatch":
        return to_bytes(content)
    make: Any = formats.writer("shape", path)
    a = assessment if assessment is not None else assess(content.home, climate_for(content.home, content.weather))
    made: bytes = make(a)
    return made
