"""The office library out and in: JSON keeps everything, a spreadsheet what its columns hold; faults are told with their place."""

from __future__ import annotations

import io
import json
from pathlib import Path

import openpyxl
import pytest

from nuthatch.core.changes.changes import ChangeRefused, apply
from nuthatch.core.exchange.library_files import Library, library_of, read, taken_in, write
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import BuildUp, Layer
from nuthatch.core.model.part import Basis, Given, Part, replace, specs
from nuthatch.core.office import Material, Office
from nuthatch.core.units import INCH_POUND, using

CORK = Material(
    id="m-1",
    name="Cork",
    conductivity=Given(value=0.045, basis=Basis.DECLARED, source="sheet 12"),
    density=Given(value=120, basis=Basis.MEASURED, source="weighed"),
)


def demo_library() -> Library:
    homes = [demo_home(n) for n in ("osier-lane-7", "weir-cottage", "sail-loft")]
    made = [b for h in homes for b in h.buildups]
    builds = tuple(replace(b, id=f"b-{n}", name=f"{b.name} {n}") for n, b in enumerate(made))
    types = [t for h in homes for t in h.opening_types]
    return Library((CORK,), builds, tuple(replace(t, id=f"t-{n}", name=f"{t.name} {n}") for n, t in enumerate(types)))


def office_with(library: Library) -> Office:
    return apply(taken_in(Office(), library), Office())


def plain(part: Part) -> dict[str, object]:
    """The values of a part without id, basis and evidence, lists of parts likewise."""
    found: dict[str, object] = {}
    for spec in specs(type(part)).values():
        value = getattr(part, spec.name)
        if spec.kind not in ("ref", "note"):
            found[spec.name] = pytest.approx(value.value, rel=1e-8) if isinstance(value, Given) else value
    return found


def sheet(name: str, heads: list[str], *rows: list[object]) -> bytes:
    book = openpyxl.Workbook()
    page = book.active
    page.title = name
    for row in (heads, *rows):
        page.append(row)
    stream = io.BytesIO()
    book.save(stream)
    return stream.getvalue()


def test_json_keeps_everything() -> None:
    library = demo_library()
    again = read(write(library, Path("a.json")), "a.json")
    assert again == library and len(again.buildups) > 10 and len(again.opening_types) > 5


def test_a_spreadsheet_keeps_every_number_in_either_unit_system() -> None:
    library = demo_library()
    with using(INCH_POUND):
        data = write(library, Path("a.xlsx"))
        again = read(data, "a.xlsx")
    assert [plain(m) for m in again.materials] == [plain(m) for m in library.materials]
    assert [plain(t) for t in again.opening_types] == [plain(t) for t in library.opening_types]
    assert [b.name for b in again.buildups] == [b.name for b in library.buildups]
    for new, old in zip(again.buildups, library.buildups, strict=True):
        assert [plain(x) for x in new.layers] == [plain(x) for x in old.layers], old.name
    book = openpyxl.load_workbook(io.BytesIO(data))
    assert book.sheetnames == ["Materials", "Build-ups", "Opening types"]
    heads = [c.value for c in book["Materials"][1]]
    assert heads[1] == "Conductivity λ (W/(m·K))" and book["Materials"]["B2"].value == 0.045


def test_a_library_taken_in_is_one_step_and_renews_what_has_its_name() -> None:
    office = office_with(demo_library())
    assert len(office.materials) == 1 and len({p.id for p in office.buildups}) == len(demo_library().buildups)
    assert office_with(library_of(office)) == office, "taken in a second time it is the same"
    batch = taken_in(office, Library(materials=(replace(CORK, conductivity=Given(value=0.05)),)))
    renewed = apply(batch, office)
    assert [m.conductivity.value for m in renewed.materials if m.conductivity] == [0.05]
    assert renewed.materials[0].id == office.materials[0].id and "1 material" in batch.label
    with pytest.raises(ChangeRefused, match="nothing"):
        taken_in(office, Library())


def test_a_spreadsheet_leaves_what_it_does_not_name() -> None:
    office = office_with(Library((CORK,), (BuildUp(id="b", name="Wall", layers=(Layer(id="l", name="Cork", sd=Given(value=2)),)),)))
    office = apply(
        taken_in(office, read(sheet("Materials", ["Material", "Conductivity λ (W/(m·K))", "Density"], ["Cork", 0.05, 120]), "a.xlsx")),
        office,
    )
    cork = office.materials[0]
    assert cork.density == CORK.density, "the same number keeps its basis and source"
    assert cork.conductivity is not None and (cork.conductivity.value, cork.conductivity.basis) == (0.05, Basis.ASSUMED)
    changed = read(sheet("Build-ups", ["Build-up", "Layer", "Thickness", "Source"], ["Wall", "Cork", "60 mm", "drawing 3"]), "a.xlsx")
    wall = apply(taken_in(office, changed), office).buildups[0]
    layer = wall.layers[0]
    assert layer.thickness == Given(value=0.06, basis=Basis.DECLARED, source="drawing 3")
    assert layer.sd is not None and layer.sd.value == 2, "a column that is not there takes nothing away"


@pytest.mark.parametrize(
    ("name", "heads", "row", "said"),
    [
        ("Materials", ["Material", "Conductivity λ"], ["Cork", -1], "sheet Materials, row 2, Conductivity λ: "),
        ("Materials", ["Material", "Conductivity λ"], ["Cork", "soft"], "sheet Materials, row 2, Conductivity λ: "),
        ("Materials", ["Material", "Conductivity λ"], [None, 0.04], "sheet Materials, row 2: a name"),
        ("Build-ups", ["Build-up", "Layer"], [None, "Cork"], "row 2: every layer names its build-up"),
        ("Opening types", ["Opening type", "Use"], ["A", "hatch"], "sheet Opening types, row 2, Use: .*window, door, rooflight"),
        ("Stuff", ["Material"], ["Cork"], "no sheet called Materials, Build-ups, Opening types"),
        ("Materials", ["Conductance"], [3], "sheet Materials: .*“Material”"),
    ],
)
def test_a_bad_cell_is_told_by_sheet_row_and_column(name: str, heads: list[str], row: list[object], said: str) -> None:
    with pytest.raises(HomeFileError, match=said):
        read(sheet(name, heads, row), "a.xlsx")


def test_a_bad_library_is_told_by_line() -> None:
    lines = write(demo_library(), Path("a.json")).decode().split("\n")
    at = next(n for n, line in enumerate(lines) if '"name": "Cork"' in line)
    lines[at] = '   "name": 12,'
    with pytest.raises(HomeFileError, match=r"a.json, line \d+: materials.0"):
        read("\n".join(lines).encode(), "a.json")
    for bad, said in (
        (b"{", "line 1"),
        (b"{}", "no library of Nuthatch"),
        (json.dumps({"nuthatch": "library", "schema": 99}).encode(), "newer"),
        (json.dumps({"nuthatch": "library", "materials": {}}).encode(), "lists"),
        (b"PK\x03\x04", "line 1"),
    ):
        with pytest.raises(HomeFileError, match=said):
            read(bad, "a.json")
    with pytest.raises(HomeFileError, match=r"\.json or \.xlsx"):
        read(b"", "a.csv")
    with pytest.raises(HomeFileError, match="no spreadsheet"):
        read(b"PK\x03\x04", "a.xlsx")
