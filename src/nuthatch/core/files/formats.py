"""The file formats Nuthatch reads and writes: one declaration each. Dialogs, command line and documents derive from it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from importlib import import_module
from pathlib import Path
from typing import Any

from nuthatch.core.files.homefile import HomeFileError


@dataclass(frozen=True)
class Format:
    """A format of one kind of document. reads, writes: “module:function”, loaded when first used."""

    of: str
    suffixes: tuple[str, ...]
    name: str
    reads: str = ""
    writes: str = ""
    several: bool = False
    """Whether a file may hold several homes, of which one is chosen by name."""


FORMATS = (
    Format(
        "home", (".nuthatch",), "Nuthatch homes", reads="nuthatch.core.files.homefile:read", writes="nuthatch.core.files.homefile:write"
    ),
    Format(
        "weather",
        (".epw",),
        "Weather files",
        reads="nuthatch.core.climate.weather_files:parse_weather",
        writes="nuthatch.core.climate.epw:write_epw",
    ),
    Format("weather table", (".csv",), "Weather files, TMY3 and PVGIS", reads="nuthatch.core.climate.weather_files:parse_weather"),
    Format(
        "office profile",
        (".nuthatch-office",),
        "Office profile",
        reads="nuthatch.core.office:from_bytes",
        writes="nuthatch.core.office:to_bytes",
    ),
    Format(
        "target set",
        (".json",),
        "Target set",
        reads="nuthatch.core.exchange.own_sets:read_set",
        writes="nuthatch.core.exchange.own_sets:set_bytes",
    ),
    Format("dossier", (".pdf",), "PDF", writes="nuthatch.core.dossier.record:enclosed"),
    Format("dossier", (".html", ".htm"), "Page", writes="nuthatch.core.dossier.report:as_page"),
    Format("dossier", (".xlsx",), "Spreadsheet of the lists", writes="nuthatch.core.dossier.report:as_spreadsheet"),
    Format("dossier", (".json",), "The lists as JSON", writes="nuthatch.core.dossier.report:as_lists"),
    Format(
        "shape",
        (".xml",),
        "gbXML",
        reads="nuthatch.core.exchange.gbxml_plans:taken",
        writes="nuthatch.core.exchange.gbxml:write",
        several=True,
    ),
    Format("shape", (".ifc",), "IFC", reads="nuthatch.core.exchange.ifc:taken", several=True),
    Format(
        "shape",
        (".csv",),
        "Faces as CSV",
        reads="nuthatch.core.exchange.face_tables:from_csv",
        writes="nuthatch.core.exchange.face_tables:as_csv",
    ),
    Format(
        "shape",
        (".xlsx",),
        "Faces as spreadsheet",
        reads="nuthatch.core.exchange.face_tables:from_xlsx",
        writes="nuthatch.core.exchange.face_tables:as_xlsx",
    ),
    Format("shape", (".dxf",), "Plans and elevations as DXF", writes="nuthatch.core.exchange.drawn:as_dxf"),
    Format("shape", (".svg",), "Plan as SVG", writes="nuthatch.core.exchange.drawn:as_svg"),
    Format(
        "library",
        (".json",),
        "Library",
        reads="nuthatch.core.exchange.library_files:read",
        writes="nuthatch.core.exchange.library_files:write",
    ),
    Format(
        "library",
        (".xlsx",),
        "Library as spreadsheet",
        reads="nuthatch.core.exchange.library_files:read",
        writes="nuthatch.core.exchange.library_files:write",
    ),
    Format("readings", (".csv", ".json"), "Readings of an air test", reads="nuthatch.core.exchange.readings:read"),
    Format(
        "detail",
        (".json",),
        "Detail",
        reads="nuthatch.core.exchange.detail_files:read",
        writes="nuthatch.core.exchange.detail_files:to_bytes",
    ),
    Format("air test report", (".pdf",), "PDF", writes="nuthatch.core.dossier.air_test_report:as_pdf"),
    Format("air test report", (".html", ".htm"), "Page", writes="nuthatch.core.dossier.air_test_report:as_page"),
    Format("table of homes", (".xlsx",), "Spreadsheet", writes="nuthatch.core.register:as_spreadsheet"),
    Format("table of homes", (".csv",), "CSV", writes="nuthatch.core.register:as_csv_file"),
)


def of(what: str) -> tuple[Format, ...]:
    """The formats of one kind of document, the usual one first."""
    return tuple(f for f in FORMATS if f.of == what)


def dialog_filter(what: str) -> str:
    """The formats as a file dialog lists them."""
    return ";;".join(f"{f.name} ({' '.join('*' + s for s in f.suffixes)})" for f in of(what))


def named(what: str, name: str, chosen: str) -> Path:
    """The name a dialog gave, with the ending of the format its filter text names where it has none that can be written."""
    path = Path(name)
    if writes(what, path):
        return path
    ending = next((f.suffixes[0] for f in of(what) if chosen.startswith(f"{f.name} (")), of(what)[0].suffixes[0])
    return path.with_name(path.name + ending)


def writes(what: str, path: Path) -> bool:
    """Whether a document can be written under this name."""
    return any(path.suffix.lower() in f.suffixes for f in of(what) if f.writes)


def writer(what: str, path: Path) -> Callable[..., Any]:
    """What makes the bytes of a document in the form its name asks for. Raises HomeFileError."""
    for f in of(what):
        if f.writes and path.suffix.lower() in f.suffixes:
            module, _, name = f.writes.partition(":")
            found: Callable[..., object] = getattr(import_module(module), name)
            return found
    known = [f.suffixes[0] for f in of(what) if f.writes]
    raise HomeFileError(f"{path}: a {what} is written as {', '.join(known[:-1])} or {known[-1]}")
