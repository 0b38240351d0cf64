"""The readers, a good input of each, and ways to damage it. Every outcome must be a result or the reader's own error."""

from __future__ import annotations

import atexit
import io
import json
import os
import random
import shutil
import signal
import tempfile
import zipfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import ezdxf
from PyQt6.QtCore import QBuffer
from PyQt6.QtGui import QImage

from nuthatch.core.airtest import instrument
from nuthatch.core.assess import assess
from nuthatch.core.climate.epw import WeatherFileError
from nuthatch.core.climate.weather_files import parse_weather
from nuthatch.core.dossier.logo import LogoFault, looked_through
from nuthatch.core.exchange import detail_files, dxf_lines, face_tables, gbxml_plans, ifc, library_files, readings
from nuthatch.core.exchange.own_sets import read_set
from nuthatch.core.files import homefile
from nuthatch.core.files.autosave import found_beside, write_autosave
from nuthatch.core.files.disk import FileFault, beside, printable, put_file, read_file
from nuthatch.core.files.homefile import HomeFile, HomeFileError, home_from_json
from nuthatch.core.files.located import Fault
from nuthatch.core.files.tables import to_xlsx
from nuthatch.core.library import DATA, demo_home, library_climate
from nuthatch.core.model.home import HeatSource, Opening
from nuthatch.core.model.part import specs
from nuthatch.core.office import Material, Office, OfficeFile
from nuthatch.core.office import from_bytes as read_office
from nuthatch.core.office import to_bytes as office_bytes
from nuthatch.core.reading import BadText, Doubt, read
from nuthatch.core.units import KINDS, SYSTEMS, using
from nuthatch.core.workers import Worker
from nuthatch.desktop.attached_files import harmless_name
from nuthatch.desktop.steps.table import backing
from tests.ifc_models import house
from tests.rooms_as_gbxml import Box, document

SECONDS, SLOW = 20, 2.0
"""After how many seconds a reader counts as hung, and as too slow."""


class Hung(AssertionError):
    """A reader did not come back."""


@contextmanager
def deadline(what: str) -> Iterator[None]:
    """Fails where the block takes longer than it ever should."""

    def late(*_: object) -> None:
        raise Hung(f"{what} took more than {SECONDS} s")

    before = signal.signal(signal.SIGALRM, late)
    signal.alarm(SECONDS)
    try:
        yield
    finally:
        signal.alarm(0)
        signal.signal(signal.SIGALRM, before)


def zipped(members: dict[str, bytes]) -> bytes:
    """A zip of these members."""
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in members.items():
            archive.writestr(name, data)
    return buffer.getvalue()


def _home(data: bytes) -> None:
    """A home that is read must also be computed without a crash."""
    content = homefile.from_bytes(data)
    made = assess(content.home, None)
    assert all(f.value is None or abs(float(f.value)) < float("inf") for f in made.figures.values())


def _home_json(data: bytes) -> None:
    _home(zipped({"home.json": data}))


def _office_json(data: bytes) -> None:
    read_office(zipped({"profile.json": data}))


_QUANTITIES = [s for kind in (Opening, HeatSource) for s in specs(kind).values() if s.is_quantity]


def _paste(data: bytes) -> None:
    """A block as from a spreadsheet: every cell is a value, a question or a message, in both systems."""
    text = data.decode("utf-8", "replace")
    for system in SYSTEMS:
        with using(system):
            for n, cell in enumerate(c for line in text.split("\n") for c in line.split("\t")):
                spec = _QUANTITIES[n % len(_QUANTITIES)]
                try:
                    found = read(cell, spec.kind)
                except BadText as problem:
                    assert str(problem)
                    continue
                values = [v for _, v in found.readings] if isinstance(found, Doubt) else [found]
                assert all(v == v and abs(v) != float("inf") for v in values), (cell, values)
                assert all(isinstance(spec.refuse(v), str) for v in values)


def _typed(data: bytes) -> None:
    """One text in every kind of field."""
    text = data.decode("utf-8", "replace")[:300]
    for kind in sorted(set(KINDS) - {"text"}):
        try:
            found = read(text, kind)
        except BadText as problem:
            assert str(problem)
            continue
        values = [v for _, v in found.readings] if isinstance(found, Doubt) else [found]
        assert all(v == v and abs(v) != float("inf") for v in values), (text, kind, values)


_WORKER = Worker()
_FOLDER = Path(tempfile.mkdtemp(prefix="nuthatch-fuzz-"))
atexit.register(shutil.rmtree, _FOLDER, ignore_errors=True)


def _autosave(data: bytes) -> None:
    """Work kept beside a home: read, or refused while it stays where it is."""
    path = _FOLDER / "a.nuthatch"
    beside(path, "autosave").write_bytes(data)
    works, faults = found_beside(path, "")
    kept = beside(path, "x").parent.glob(".a.nuthatch.kept-*")
    assert len(works) + len(faults) == 1 and [f.unlink() for f in kept] == [None]
    if faults:
        raise HomeFileError(faults[0])


def _name(data: bytes) -> None:
    """A file of this name written, kept beside, shown and copied for viewing."""
    name = os.fsdecode(data.replace(b"/", b"").replace(b"\0", b"")[:255])
    assert printable(name).isprintable() or "\u00a0" in name or "\u202f" in name
    assert (
        len(os.fsencode(beside(_FOLDER / "x" if name in ("", ".", "..") else _FOLDER / name, "kept-20260101-000000-12345678").name)) <= 255
    )
    plain = harmless_name(name)
    assert plain and "/" not in plain and plain not in (".", "..") and plain.isprintable() and len(plain.encode("utf-8", "replace")) <= 140
    if name not in ("", ".", ".."):
        put_file(_FOLDER / name, b"x")
        (_FOLDER / name).unlink()


def _device(data: bytes) -> None:
    """Places that are no files, and names that lead nowhere: told at once."""
    places = ["/dev/zero", "/dev/full", "/dev/null", "/dev/stdin", "/proc/self/mem", "/proc", "/", "/dev/fd/9999"]
    name = places[data[0] % len(places)] if data else "/"
    read_file(Path(name if len(data) % 2 else os.fsdecode(b"/" + data[:4096])), 1_000_000, "home file")


def _sheets_of_faces(data: bytes) -> None:
    face_tables.from_xlsx(data)


def _shown(data: bytes) -> None:
    """A picture, or the first page of a PDF, to lie beneath a plan."""
    made = backing.picture(data)
    backing.picture.cache_clear()
    if made is None:
        raise HomeFileError("no picture that can be shown")
    assert made.width() * made.height() <= backing.MOST


def _answered(data: bytes) -> None:
    """An answer of a gauge to every kind of line."""
    text = data.decode("utf-8", "replace")
    refused = 0
    for take in (instrument.reading_of, instrument.who_of, lambda answer: instrument.taken(answer, "AIM 5")):
        try:
            found = take(text)
        except instrument.NoAnswer as why:
            refused += 1
            assert str(why).isprintable()
            continue
        if isinstance(found, instrument.Sample):
            assert all(abs(v) < float("inf") for v in (found.seconds, found.pressure, found.fan_pressure))
    if refused == 3:
        raise instrument.NoAnswer("nothing a gauge says")


def _old_home(data: bytes) -> None:
    """A home of the first schema."""
    home_from_json(data)


SMALL_EPW = b"\n".join(library_climate("marrowby-quay").split(b"\n")[:60])  # cut short on purpose: a fault by itself
PASTED = "W-01\t1.2 m\t4 ft\t1,200\t140 F\t0.8\nR-21\t2,5 m\t85 %\t−3\t1e3\t12½\n".encode()
READERS: dict[str, tuple[Callable[[bytes], Any], Callable[[], list[bytes]], type[Exception] | tuple[type[Exception], ...]]] = {
    "home file": (_home, lambda: [homefile.to_bytes(HomeFile(demo_home("sail-loft"), SMALL_EPW))], HomeFileError),
    "home.json": (_home_json, lambda: [homefile.to_bytes(HomeFile(demo_home("sail-loft"), None))], HomeFileError),
    "weather file": (parse_weather, lambda: [library_climate("marrowby-quay")], WeatherFileError),
    "spreadsheet paste": (_paste, lambda: [PASTED], ()),
    "target set": (read_set, lambda: [(DATA / "examples" / "harbour-fund.json").read_bytes()], Fault),
    "office profile": (read_office, lambda: [office_bytes(OfficeFile(Office(company="Trial")))], HomeFileError),
    "library": (lambda data: library_files.read(data, "a.json"), lambda: [library_files.write(_library(), Path("a.json"))], HomeFileError),
    "library sheets": (
        lambda data: library_files.read(data, "a.xlsx"),
        lambda: [library_files.write(_library(), Path("a.xlsx"))],
        HomeFileError,
    ),
    "readings": (
        lambda data: readings.read(data, "a.csv"),
        lambda: [(DATA / "examples" / "weir-cottage-air-test.csv").read_bytes()],
        HomeFileError,
    ),
    "readings JSON": (lambda data: readings.read(data, "a.json"), lambda: [_readings_json()], HomeFileError),
    "faces CSV": (face_tables.from_csv, lambda: [FACE_ROWS.encode()], HomeFileError),
    "faces sheets": (_sheets_of_faces, lambda: [_faces_book()], HomeFileError),
    "picture": (_shown, lambda: [_png()], HomeFileError),
    "PDF": (_shown, lambda: [PAGE], HomeFileError),
    "gauge lines": (_answered, lambda: [b"T 12.5 P -49.8 F 102.4", b"WHO 1 simulated=no fan=held name=x", b"OK"], instrument.NoAnswer),
    "typed text": (_typed, lambda: [t.encode() for t in TYPED], ()),
    "autosave": (_autosave, lambda: [_kept()], HomeFileError),
    "old home": (_old_home, lambda: [_old()], HomeFileError),
    "file name": (_name, lambda: [b"home 7.nuthatch", "Häuschen ä.pdf".encode(), b"x" * 240 + b".pdf"], FileFault),
    "device": (_device, lambda: [b"/dev/zero", b"abc", b"\x00"], FileFault),
    "logo": (looked_through, lambda: [LOGO], LogoFault),
    "gbXML": (gbxml_plans.taken, lambda: [document(ROOMS)], HomeFileError),
    "IFC": (lambda data: ifc.taken(data, "", _WORKER), lambda: [house().data()], HomeFileError),
    "DXF": (lambda data: dxf_lines.lines_of(data), lambda: [_drawing()], HomeFileError),
    "detail": (lambda data: detail_files.read(data), lambda: [(DATA / "examples" / "slab-edge.json").read_bytes()], HomeFileError),
    "profile.json": (_office_json, lambda: [office_bytes(OfficeFile(Office(company="Trial")))], HomeFileError),
}
DECLARED = {
    ("nuthatch.core.files.homefile:read", ".nuthatch"): "home file",
    ("nuthatch.core.climate.weather_files:parse_weather", ".epw"): "weather file",
    ("nuthatch.core.climate.weather_files:parse_weather", ".csv"): "weather file",
    ("nuthatch.core.office:from_bytes", ".nuthatch-office"): "office profile",
    ("nuthatch.core.exchange.own_sets:read_set", ".json"): "target set",
    ("nuthatch.core.exchange.gbxml_plans:taken", ".xml"): "gbXML",
    ("nuthatch.core.exchange.ifc:taken", ".ifc"): "IFC",
    ("nuthatch.core.exchange.face_tables:from_csv", ".csv"): "faces CSV",
    ("nuthatch.core.exchange.face_tables:from_xlsx", ".xlsx"): "faces sheets",
    ("nuthatch.core.exchange.library_files:read", ".json"): "library",
    ("nuthatch.core.exchange.library_files:read", ".xlsx"): "library sheets",
    ("nuthatch.core.exchange.detail_files:read", ".json"): "detail",
    ("nuthatch.core.exchange.readings:read", ".csv"): "readings",
    ("nuthatch.core.exchange.readings:read", ".json"): "readings JSON",
}
"""Which of the readers above reads a declared format: a test finds formats that none does."""
FACE_ROWS = (
    "Face;Gross area [m²];Azimuth;Tilt;Borders on;Build-up\nWall south;24,5;180;90;outside air;Wall\nRoof;80;180;35;outside air;Roof\n"
)
PAGE = (
    b"%PDF-1.4\n1 0 obj<</Type/Catalog/Pages 2 0 R>>endobj\n2 0 obj<</Type/Pages/Kids[3 0 R]/Count 1>>endobj\n"
    b"3 0 obj<</Type/Page/Parent 2 0 R/MediaBox[0 0 200 100]/Contents 4 0 R>>endobj\n"
    b"4 0 obj<</Length 25>>stream\n10 10 m 100 80 l S       \nendstream endobj\ntrailer<</Root 1 0 R>>\n%%EOF"
)
TYPED = [
    "5' 6 1/2\"",
    "1.200,5 kWh/(m²·a)",
    "0.13 W/m²K",
    "R-21",
    "0.6 1/h",
    "28 ct/kWh",
    "1 200 000",
    "85 %",
    "140 °F",
    "1,5e-3 m",
    "½ in",
    "12 sq. ft.",
]
LOGO = (
    b'<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><defs><g id="a"><rect id="r" width="9" height="9" fill="url(#p)"/></g>'
    b'<pattern id="p"><circle r="2"/></pattern></defs><use href="#a"/><style>rect { fill: red }</style></svg>'
)


def _readings_json() -> bytes:
    rows = [{"series": "depressurising", "pressure": -p, "flow": 30 * p**0.65} for p in (15, 25, 35, 45, 55)]
    return json.dumps({"nuthatch": "air test", "setup": {"volume": 300, "inside": 21, "outside": "5 °C"}, "readings": rows}).encode()


def _faces_book() -> bytes:
    rows = [tuple(line.split(";")) for line in FACE_ROWS.splitlines()]
    return to_xlsx([("Faces", rows[0], rows[1:])])


def _png() -> bytes:
    made, store = QImage(40, 30, QImage.Format.Format_RGB32), QBuffer()
    made.fill(0xFF8040)
    made.save(store, "PNG")
    return bytes(store.data().data())


def _library() -> library_files.Library:
    home = demo_home("sail-loft")
    return library_files.Library((Material(id="m", name="Cork"),), home.buildups, home.opening_types)


ROOMS: dict[str, list[Box]] = {"one": [(0, 0, 0, 4, 6, 1)], "two": [(4, 0, 0, 8, 6, 2)]}


def _drawing() -> bytes:
    drawing = ezdxf.new("R2010")  # type: ignore[attr-defined]
    space = drawing.modelspace()
    space.add_lwpolyline([(0, 0, 0, 0, 0.3), (8, 0), (8, 6), (0, 6)], close=True)
    space.add_circle((3, 3), 1)
    drawing.blocks.new("b").add_line((0, 0), (1, 2))
    space.add_blockref("b", (2, 2))
    stream = io.StringIO()
    drawing.write(stream)
    return stream.getvalue().encode()


def _kept() -> bytes:
    home = demo_home("sail-loft")
    file = _FOLDER / "seed"
    write_autosave(file, home, None, ("a change",), "0" * 32)
    return file.read_bytes()


def _old() -> bytes:
    sets = [
        {
            "id": "s",
            "name": "S",
            "source": "x",
            "targets": [{"id": "t", "name": "T", "ways": [{"figure": "n50", "limit_by_zone": {"4": 3.0}}]}],
        }
    ]
    return json.dumps({"schema": 1, "home": {"name": "Old", "target_sets": sets}}).encode()


ODD = [b"", b"\x00", b"null", b"[]", b"{}", b"[" * 3000, b'{"a":' * 3000, b"1e999", b"\xff\xfe", b"NaN", b"-", b"9" * 400, b"\n", b"\t"]
ODD_VALUES: list[Any] = [
    None,
    True,
    -1,
    0,
    1e308,
    -1e308,
    1e-320,
    "",
    "x" * 3000,
    [],
    {},
    [[]],
    {"value": None},
    {"value": "1"},
    "\u202e",
    2**70,
]


def seeds(name: str) -> list[bytes]:
    """Good inputs of a reader; for the JSON readers the document inside the zip."""
    made = READERS[name][1]()
    if name.endswith(".json"):
        return [zipfile.ZipFile(io.BytesIO(m)).read(name) for m in made]
    return made


def _bytes(rng: random.Random, data: bytes) -> bytes:
    """Bytes changed, cut, doubled, put in or taken out."""
    out = bytearray(data)
    for _ in range(rng.choice((1, 1, 2, 5, 30))):
        at = rng.randrange(len(out) + 1) if out else 0
        way = rng.randrange(6)
        if way == 0 and out:
            out[at % len(out)] = rng.randrange(256)
        elif way == 1:
            del out[at : at + rng.choice((1, 4, 200))]
        elif way == 2:
            out[at:at] = rng.choice(ODD)[:4000]
        elif way == 3:
            out[at:at] = out[at : at + rng.choice((2, 50, 500))]
        elif way == 4 and len(out) > 2:
            other = rng.randrange(len(out))
            out[at % len(out)], out[other] = out[other], out[at % len(out)]
        elif rng.random() < 0.2:
            out = out[:at]
    return bytes(out)


def _tree(rng: random.Random, data: bytes) -> bytes:
    """Values of a JSON document replaced, keys renamed, items doubled."""
    document = json.loads(data)
    spots: list[tuple[Any, Any]] = []

    def walk(node: Any) -> None:
        for key in list(node) if isinstance(node, dict) else range(len(node)):
            spots.append((node, key))
            if isinstance(node[key], dict | list):
                walk(node[key])

    walk(document)
    for _ in range(rng.choice((1, 1, 1, 2, 6))):
        node, key = rng.choice(spots)
        try:
            way = rng.randrange(4)
            if way == 0:
                node[key] = rng.choice(ODD_VALUES)
            elif way == 1 and isinstance(node, dict):
                node[str(key) + "x"] = node.pop(key)
            elif way == 2 and isinstance(node, list):
                node.append(node[key])
            elif isinstance(node[key], float | int) and not isinstance(node[key], bool):
                node[key] = node[key] * rng.choice((-1, 0, 1e6, 1e-6, 1e200))
        except (KeyError, IndexError):
            continue
    return json.dumps(document).encode()


def mutated(rng: random.Random, name: str, data: bytes) -> bytes:
    """One damaged input."""
    if name == "weather file" and rng.random() < 0.9:
        data = SMALL_EPW  # most faults lie in the head and the first rows; a whole year takes long to read
    is_json = name.endswith(".json") or name in ("target set", "autosave", "old home", "library", "readings JSON")
    if is_json and rng.random() < 0.6:
        return _tree(rng, data)
    return rng.choice(ODD) if rng.random() < 0.02 else _bytes(rng, data)


def trial(name: str, data: bytes) -> str:
    """'read' or 'message'; anything else raises."""
    reader, _, error = READERS[name]
    with deadline(name):
        try:
            reader(data)
        except error as problem:
            assert str(problem).strip(), "an error without a message"
            return "message"
    return "read"


assert set(KINDS) >= {s.kind for s in _QUANTITIES}
