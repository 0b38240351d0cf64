"""What a person meets in the window: one meaning of an edit, work kept, patterns painted, weather carried along."""

from __future__ import annotations

import hashlib
from importlib import import_module
from pathlib import Path

import pytest
from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QColor, QFocusEvent, QImage, QPainter
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from nuthatch.core.changes.changes import Batch, Insert, SetValue, apply, declared
from nuthatch.core.edits.desk import share
from nuthatch.core.files.autosave import read_autosave, write_autosave
from nuthatch.core.files.held import held
from nuthatch.core.files.homefile import HomeFile, write
from nuthatch.core.library import demo_home, library_climate
from nuthatch.core.model.home import ClimateRef, HeatSource, Home, find
from nuthatch.core.model.part import replace
from nuthatch.core.sketch import Sketch
from nuthatch.desktop import settings
from nuthatch.desktop.bars import Bars
from nuthatch.desktop.document import Document
from nuthatch.desktop.pages.new_like import NewLike
from nuthatch.desktop.steps.boards import board_of
from nuthatch.desktop.widgets.sketch_view import paint_sketch
from nuthatch.desktop.window import MainWindow
from tests.desktop.test_window import field, type_into
from tests.simple_home import g


def own_weather() -> bytes:
    """A weather file that is none of the library's."""
    return library_climate("marrowby-quay").replace(b"Marrowby Quay", b"Somewhere Own", 1)


def with_own_weather() -> tuple[Home, bytes]:
    data = own_weather()
    home = demo_home("osier-lane-7")
    ref = ClimateRef(name="Own", sha256=hashlib.sha256(data).hexdigest())
    return replace(home, site=replace(home.site, climate=ref)), data


def test_a_share_typed_in_the_table_balances(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    stove = HeatSource(id="stove", name="Stove", carrier="wood", efficiency=g(0.7), heating_share=g(0), water_share=g(0))
    home = apply(Insert(owner="home", field="sources", value=stove), w.document.home)
    w.document.desk.apply(
        Batch(
            label="two", changes=(Insert(owner="home", field="sources", value=stove), *share(home, "stove", "heating_share", 0.3).changes)
        )
    )
    w.show_step("heat-power")
    model = w.board("heat-power").sources.model
    row, column = [r.id for r in model.rows].index("stove"), [c.field for c in model.spec.columns].index("heating_share")
    assert model.setData(model.index(row, column), "15 %")
    shares = {s.id: s.heating_share.value for s in w.document.home.sources}
    assert shares["stove"] == pytest.approx(0.15) and sum(shares.values()) == pytest.approx(1)
    w.undo()
    assert find(w.document.home, "stove").heating_share.value == pytest.approx(0.3), "one step"


def test_a_table_edit_keeps_the_evidence(osier_window: MainWindow) -> None:
    w = osier_window
    w.document.desk.apply(SetValue(part="w-01", field="width", value=declared(2.0, "sheet").model_copy(update={"evidence": "photo 3"})))
    w.show_step("openings")
    model = w.board("openings").rows.model
    row, column = [r.id for r in model.rows].index("w-01"), [c.field for c in model.spec.columns].index("width")
    assert model.setData(model.index(row, column), "2.1")
    given = find(w.document.home, "w-01").width
    assert given.value == 2.1 and given.evidence == "photo 3"


def test_new_like_this_from_the_register_keeps_the_weather(open_home, qtbot: QtBot, tmp_path: Path) -> None:
    home, data = with_own_weather()
    write(tmp_path / "own.nuthatch", HomeFile(home, data))
    w = open_home(demo_home("sail-loft"))
    settings.change(folders=(str(tmp_path),))
    w.go("homes")
    assert w.homes is not None
    qtbot.waitUntil(lambda: w.homes.settled and len(w.homes.model.rows) == 1)
    w.homes.table.setCurrentIndex(w.homes.filter.index(0, 0))
    w.homes.like_this()
    dialog = w.findChild(NewLike)
    assert dialog is not None
    dialog.take()
    qtbot.waitUntil(lambda: w.document.home.name == "New home" and w.settled())
    assert w.document.climate is not None and w.document.weather_bytes() == data
    assert w.document.assessment.figures["solar_gains"].value > 1000
    w.document.session.saved()
    settings.change(folders=())


def test_own_weather_is_held_until_it_is_saved(open_home, qtbot: QtBot, tmp_path: Path) -> None:
    data = own_weather()
    (tmp_path / "own.epw").write_bytes(data)
    w = open_home(demo_home("osier-lane-7"))
    w.show_step("site")
    w.board("site").take_file(tmp_path / "own.epw")
    qtbot.waitUntil(lambda: not w.board("site").reading.running, timeout=30000)  # type: ignore[attr-defined]
    sha = hashlib.sha256(data).hexdigest()
    assert w.document.home.site.climate.sha256 == sha and held(sha, w.document.keeper.id) == data, "after a crash it is still to be had"
    qtbot.waitUntil(w.settled)
    again = Document(demo_home("osier-lane-7"))
    kept = tmp_path / "kept"
    write_autosave(kept, w.document.home, None, ("weather",), w.document.keeper.id)
    again.restore(read_autosave(kept))  # type: ignore[arg-type]
    again.start()
    qtbot.waitUntil(lambda: not again.busy)
    assert again.climate is not None and again.climate.name == w.document.climate.name
    again.keeper.end()
    assert held(sha, w.document.keeper.id) == data, "another home takes nothing from this one"
    assert w.files.save_to(tmp_path / "a.nuthatch") and held(sha, w.document.keeper.id) == data, "undo may need it"
    w.document.close()
    assert held(sha, w.document.keeper.id) is None, "it is safe in the home now"


def test_leaving_a_field_ends_its_step(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    home = w.document.home
    target = field(w, "air", "air", "n50")
    type_into(qtbot, target, "0.5", enter=False)
    QApplication.sendEvent(target.edit, QFocusEvent(QEvent.Type.FocusOut))
    type_into(qtbot, target, "0.4", enter=False)
    w.document.desk.undo()
    assert w.document.home.air.n50.value == 0.5, "what was typed before leaving is a step of its own"
    w.document.desk.undo()
    assert w.document.home is home


def test_typing_withdrawn_takes_back_all_it_moved(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    stove = HeatSource(id="stove", name="Stove", carrier="wood", efficiency=g(0.7), heating_share=g(0), water_share=g(0))
    w.document.desk.apply(Insert(owner="home", field="sources", value=stove))
    home = w.document.home
    target = field(w, "heat-power", "stove", "heating_share")
    target.edit.selectAll()
    qtbot.keyClicks(target.edit, "40 %")
    assert sum(s.heating_share.value for s in w.document.home.sources) == pytest.approx(1) and w.document.home != home
    qtbot.keyClick(target.edit, Qt.Key.Key_Escape)
    assert w.document.home == home, "the other sources too"


def test_work_is_kept_every_minute(open_home, qtbot: QtBot, tmp_path: Path) -> None:
    path = tmp_path / "a.nuthatch"
    write(path, HomeFile(demo_home("osier-lane-7"), None))
    w = open_home(demo_home("osier-lane-7"), Document(demo_home("osier-lane-7"), None, path))
    keeper = w.document.keeper
    assert keeper.timer.isActive() and keeper.timer.interval() <= 60_000
    w.document.desk.apply(SetValue(part="brief", field="plot", value="Plot 9"))
    keeper.timer.timeout.emit()  # the minute is over
    qtbot.waitUntil(keeper.file.exists)
    kept = read_autosave(keeper.file)
    assert kept is not None and kept.home.brief.plot == "Plot 9"
    w.document.session.saved()


@pytest.mark.parametrize("pattern", ["hatch", "dots"])
def test_patterns_are_painted(open_home, pattern: str) -> None:
    """Readable without colour: a hatched or dotted face has more than one colour inside, a plain one has not."""

    def colours(kind: str) -> set[int]:
        image = QImage(80, 80, QImage.Format.Format_RGB32)
        image.fill(QColor("white"))
        sketch = Sketch(80, 80)
        sketch.rect(0, 0, 80, 80, fill="stone", stroke="", pattern=kind)
        painter = QPainter(image)
        paint_sketch(painter, sketch, 1.0)
        painter.end()
        return {image.pixel(x, y) for x in range(20, 60) for y in range(20, 60)}

    assert len(colours("")) == 1 and len(colours(pattern)) > 1


def test_a_bar_over_its_limit_is_hatched(open_home) -> None:
    """Over and inside are told apart without colour."""
    window = open_home(demo_home("osier-lane-7"))
    bars = next(b for b in window.margins.findChildren(Bars) if {"over", "inside"} <= {w.standing for _, w in b.rows})

    def colours(standing: str) -> set[int]:
        image = QImage(300, 40, QImage.Format.Format_RGB32)
        image.fill(QColor("white"))
        way = next(w for _, w in bars.rows if w.standing == standing)
        painter = QPainter(image)
        bars.paint_bar(painter, 10, way, "none", 200, 6.0)
        painter.end()
        return {image.pixel(x, y) for x in range(10, int(way.bar * 200) - 10) for y in range(12, 15)}

    assert len(colours("inside")) == 1 and len(colours("over")) > 1


def test_every_step_has_its_board() -> None:
    from nuthatch.core.steps import ROUTE
    from nuthatch.core.views.pictures import OF_NO_STEP, PICTURES

    for step in ROUTE:
        assert board_of(step.key).key == step.key and step.about
        assert all(key in PICTURES for key in step.pictures)
    assert {k for s in ROUTE for k in s.pictures} == set(PICTURES) - {"working"}, (
        "every picture can be pinned from some board; a working from its view"
    )
    named: dict[str, set[str]] = {}
    for drawn in (*(s.drawn for s in ROUTE), OF_NO_STEP):
        for name, keys in drawn.items():
            named.setdefault(name, set()).update(keys)
    for name, known in named.items():
        assert {p.key for p in import_module(f"nuthatch.core.views.{name}").PICTURES} == known, name
    with pytest.raises(ModuleNotFoundError):
        board_of("attic")
