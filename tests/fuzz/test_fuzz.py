"""A small fixed set of the damaged inputs of `make fuzz`, and inputs that once were or easily are a trap."""

from __future__ import annotations

import io
import random
import zlib
from importlib import import_module
from pathlib import Path

import pytest
from openpyxl import Workbook
from pytestqt.qtbot import QtBot

from nuthatch.core.exchange import face_tables
from nuthatch.core.files.formats import FORMATS
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.desktop.steps.table.backing import page_pixels
from tests.fuzz import __main__ as runs
from tests.fuzz.readers import DECLARED, ODD, READERS, mutated, seeds, trial


def test_every_declared_format_that_is_read_is_tried() -> None:
    """A new format, or a new ending of one, without a line in DECLARED fails here."""
    declared = {(f.reads, suffix) for f in FORMATS if f.reads for suffix in f.suffixes}
    assert declared == set(DECLARED) and set(DECLARED.values()) <= set(READERS)


@pytest.mark.parametrize(
    ("where", "name", "data"),
    [
        ("nuthatch.core.exchange.readings:number", "readings JSON", None),
        ("nuthatch.core.airtest.instrument:isfinite", "gauge lines", b"T 1 P 2 F 3"),
    ],
)
def test_a_planted_fault_is_caught(where: str, name: str, data: bytes | None, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    """A reader that loses its way in some input is found by the runs of `make fuzz`, and the input is kept."""
    module, _, function = where.partition(":")

    def lost(*_: object, **__: object) -> float:
        raise IndexError("planted")

    monkeypatch.setattr(import_module(module), function, lost)
    with pytest.raises(IndexError):
        trial(name, data or seeds(name)[0])
    monkeypatch.setattr(runs, "READERS", {name: READERS[name]})
    monkeypatch.chdir(tmp_path)
    assert runs.main(40, 1) == 1 and list((tmp_path / "build" / "fuzz").iterdir())


@pytest.mark.parametrize(("width", "height", "shown"), [(0.001, 1e6, None), (1e6, 0.001, None), (0, 10, None), (float("nan"), 5, None), (595, 842, (2400, 3396)), (100, 1000, (480, 4800)), (1000, 100, (2400, 240))])  # fmt: skip
def test_a_page_is_drawn_within_bounds_both_ways(width: float, height: float, shown: tuple[int, int] | None) -> None:
    assert page_pixels(width, height) == shown


def test_a_workbook_without_sheets_is_a_sentence() -> None:
    book = Workbook()
    book.create_chartsheet("Chart")
    book.remove(book.active)
    store = io.BytesIO()
    book.save(store)
    with pytest.raises(HomeFileError, match="sheet"):
        face_tables.from_xlsx(store.getvalue())


@pytest.mark.parametrize("name", READERS)
def test_damaged_input_gives_a_message(name: str, qtbot: QtBot) -> None:
    rng = random.Random(zlib.crc32(name.encode()))
    good = seeds(name)
    assert name == "device" or all(trial(name, data) == "read" for data in good), "undamaged input is read"
    count = {"weather file": 12, "IFC": 20}.get(name, 60)
    outcomes = [trial(name, mutated(rng, name, rng.choice(good))) for _ in range(count)]
    outcomes += [trial(name, data) for data in ODD]
    if name not in ("spreadsheet paste", "typed text", "file name"):
        assert outcomes.count("message") > len(ODD) // 2


@pytest.mark.parametrize("name", ["Wall area [m²]", "Häuschen", "墙", "½", "--", "²"])
def test_a_build_up_of_any_name_comes_in_with_faces(name: str) -> None:
    """Found by fuzzing: a power in a name was taken for a letter of an id."""
    rows = f"Face;Gross area;Azimuth;Tilt;Borders on;Build-up\nWall;12;180;90;outside air;{name}\n"
    home = face_tables.from_csv(rows.encode())
    assert name in {b.name for b in home.buildups}
