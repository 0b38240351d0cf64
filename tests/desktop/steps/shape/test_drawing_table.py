"""The drawing table in the window: traced by keys and mouse, dragged, typed, put in front, taken out and in."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog, QInputDialog
from pytestqt.qtbot import QtBot

from nuthatch.core.exchange import dxf_lines
from nuthatch.core.model.home import Home, find
from nuthatch.core.model.part import replace
from nuthatch.core.model.plans import StoreyPlan
from nuthatch.core.plans.plan_parts import length_of
from nuthatch.core.sketch import Text
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.stages import SOLID
from nuthatch.desktop.window import MainWindow
from tests.core.solid.test_plans_further import drawing
from tests.plan_home import plan_home, storey
from tests.simple_home import g

K = Qt.Key
Open = Callable[[Home], MainWindow]


@pytest.fixture
def drawn(open_home: Open, qtbot: QtBot) -> MainWindow:
    w = open_home(plan_home())
    w.resize(1280, 800)
    w.show_step("shape")
    qtbot.waitUntil(w.settled)
    qtbot.wait(80)  # once all is laid out
    return w


def drag(view, start: QPointF, by: QPointF) -> None:  # type: ignore[no-untyped-def]
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=start.toPoint())
    for n in range(1, 6):
        QTest.mouseMove(view, (start + by * n / 5).toPoint())
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=(start + by).toPoint())


def test_a_wall_is_dragged_and_areas_follow_as_one_step(drawn: MainWindow, qtbot: QtBot) -> None:
    view = drawn.board("shape").plans.table.plan
    home = drawn.document.home
    start = view.on_screen((3.0, 0.0))
    drag(view, start, view.on_screen((3.0, -1.0)) - start)
    qtbot.waitUntil(drawn.settled)
    a = drawn.document.assessment
    assert length_of(a.home, "low.b") == pytest.approx(7.0, abs=0.05) and a[SOLID].areas["low.floor"] == pytest.approx(84 + 10, abs=0.6)
    drawn.undo()
    assert drawn.document.home == home, "one drag, one step"


def test_a_corner_is_dragged_and_what_lies_on_it_goes_along(drawn: MainWindow, qtbot: QtBot) -> None:
    part = drawn.board("shape").plans
    part.select("low.b")
    view = part.table.plan
    start = view.point_of_handle("corner:low.b")
    assert start is not None
    drag(view, start, view.on_screen((10.5, 0.0)) - view.on_screen((10.0, 0.0)))
    qtbot.waitUntil(drawn.settled)
    low, garage = find(drawn.document.home, "low.b"), find(drawn.document.home, "garage.a")
    assert low.x.value == garage.x.value == pytest.approx(10.5, abs=0.03)  # type: ignore[union-attr]


def test_a_length_is_typed_beside_its_wall(drawn: MainWindow, qtbot: QtBot) -> None:
    part = drawn.board("shape").plans
    part.select("length:low.a")
    edit = part.inspector.wall.length.edit
    assert edit.hasFocus() and edit.text() == "10"
    QTest.keyClicks(edit, "12")
    QTest.keyClick(edit, K.Key_Return)
    qtbot.waitUntil(drawn.settled)
    assert length_of(drawn.document.home, "low.a") == 12.0
    texts = [i.text for i in part.table.plan.sketch.items if isinstance(i, Text)]
    assert "12.00\u00a0m" in texts
    drawn.undo()
    assert length_of(drawn.document.home, "low.a") == 10.0, "the keystrokes are one step"


def test_an_outline_is_traced_by_lengths_angles_and_the_mouse(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(plan_home(storeys=(storey("s", "Ground", ()),), roofs=(), ground=None))
    w.resize(1280, 800)
    w.show_step("shape")
    qtbot.waitUntil(w.settled)
    qtbot.wait(80)
    part = w.board("shape").plans
    view = part.table.plan
    QTest.keyClick(view, K.Key_O)
    assert view.tool == "outline" and part.table.draw_buttons["outline"].isChecked()
    for key in (K.Key_Return, "6", K.Key_Right, "5", K.Key_Tab, "90", K.Key_Return, "2x"):
        QTest.keyClicks(view, key) if isinstance(key, str) else QTest.keyClick(view, key)
    assert view.trace.points == [(0, 0), (6, 0), (6, 5)] and view.trace.length == "2", "a letter that is no unit is not taken"
    QTest.keyClick(view, K.Key_Escape)
    QTest.keyClick(view, K.Key_Backspace)
    assert view.trace.points == [(0, 0), (6, 0)] and view.tool == "outline"
    QTest.keyClicks(view, "5")
    QTest.keyClick(view, K.Key_Up)
    qtbot.wait(30)
    at = view.on_screen((0.1, 5.1))
    QTest.mouseMove(view, QPoint(round(at.x()), round(at.y())))
    assert "in line with the first corner" in view.trace.snap.says and "30.0" in view.trace.measure()
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=QPoint(round(at.x()), round(at.y())))
    QTest.keyClick(view, K.Key_Return)
    qtbot.waitUntil(w.settled)
    assert w.document.assessment.figures["heated_volume"].value == pytest.approx(6 * 5 * 3)
    QTest.keyClick(view, K.Key_O)
    QTest.keyClick(view, K.Key_Escape)
    assert view.tool == "" and len(w.document.home.shape.plans.storeys[0].outlines) == 1


def test_a_length_or_angle_that_is_none_is_said_and_stays(drawn: MainWindow) -> None:
    view = drawn.board("shape").plans.table.plan
    said: list[str] = []
    view.said.connect(said.append)
    QTest.keyClick(view, K.Key_O)
    view.add((30.0, 0.0))
    for keys, key, says in (("5..1", K.Key_Return, "5..1"), ("5", K.Key_Tab, ""), ("inf", K.Key_Return, "“inf” is no angle")):
        QTest.keyClicks(view, keys)
        QTest.keyClick(view, key)
        view.grab()
        assert says in said[-1], "what is wrong is the last that is said, painting says nothing"
        if keys == "5..1":
            QTest.keyClick(view, K.Key_Escape)
    assert view.trace.points == [(30.0, 0.0)] and view.trace.angle == "inf", "nothing is taken, what is typed stays"
    QTest.keyClick(view, K.Key_Backspace)
    assert "is no angle" not in said[-1]


def test_an_outline_that_crosses_itself_is_said_and_not_taken(drawn: MainWindow) -> None:
    said: list[str] = []
    drawn.board("shape").message.connect(said.append)
    before = drawn.document.home
    drawn.board("shape").plans.take_drawn("outline", ((20, 0), (24, 4), (24, 0), (20, 4)))
    assert drawn.document.home is before and "sides 1 and 3 cross" in said[-1]


def test_an_outline_after_an_unheated_one_given_up_is_heated(drawn: MainWindow, qtbot: QtBot) -> None:
    part = drawn.board("shape").plans
    view = part.table.plan

    def traced_at(x: float) -> str:
        for point in ((x, 0.0), (x + 2, 0.0), (x + 2, 2.0)):
            view.add(point)
        QTest.keyClick(view, K.Key_Return)
        qtbot.waitUntil(drawn.settled)
        storey = next(s for s in drawn.document.home.shape.plans.storeys if s.id == part.table.storey)
        return str(storey.outlines[-1].kind)

    part.do("unheated space")
    QTest.keyClick(view, K.Key_Escape)
    QTest.keyClick(view, K.Key_O)
    assert traced_at(30.0) == "heated"
    part.do("unheated space")
    assert traced_at(40.0) == "unheated space"


def test_one_drawing_is_large_the_others_small(drawn: MainWindow, qtbot: QtBot) -> None:
    table = drawn.board("shape").plans.table
    table.small[3].pressed.emit()
    assert table.in_front == 3 and table.small[3].isHidden() and not table.small[0].isHidden()
    turn = table.look.turn
    table.solid.turned.emit(40.0, 0.0)
    assert table.look.turn != turn
    table.solid.clicked.emit("low.a")
    assert drawn.board("shape").plans.selected == "low.a" and drawn.board("shape").drawn_faces.current_id() == "low.a"
    table.show_large(2)
    first = table.section.sketch.items
    QTest.keyClick(table.section, K.Key_Right)
    assert table.share == pytest.approx(0.52)
    QTest.keyClick(table.section, K.Key_Up)
    assert table.axis == 1 and table.section.sketch.items != first
    table.show_large(1)
    table.show_large(1)
    assert table.facing == 1 and table.elevation.sketch.title == "East elevation"


def test_rooms_are_named_where_one_clicks(drawn: MainWindow, qtbot: QtBot) -> None:
    part = drawn.board("shape").plans
    part.name_room((30, 30))
    part.select("ground.kitchen")
    part.remove()
    rooms = {r.name for r in drawn.document.assessment[BUILT].rooms if r.storey == "ground"}
    assert "Kitchen" not in rooms and "Room 3" in rooms or "Room 4" in rooms
    part.name_room((8, 2))
    qtbot.waitUntil(drawn.settled)
    assert any(r.part is not None and r.part.id == part.selected for r in drawn.document.assessment[BUILT].rooms)


def test_storeys_are_chosen_and_copied(drawn: MainWindow, qtbot: QtBot) -> None:
    table = drawn.board("shape").plans.table
    table.storeys[1].click()
    assert table.storey == "upper"
    drawn.board("shape").plans.do("copy up")
    qtbot.waitUntil(drawn.settled)
    assert len(drawn.document.home.shape.plans.storeys) == 3 and table.storey == drawn.document.home.shape.plans.storeys[2].id
    drawn.board("shape").plans.do("mirror")
    drawn.board("shape").plans.do("turn")
    qtbot.waitUntil(drawn.settled)
    assert not [q for q in drawn.document.assessment.questions if "closed" in q.text]


def test_sloping_ground_is_typed_in_the_list_and_dragged_in_the_plan(drawn: MainWindow, qtbot: QtBot) -> None:
    """A height at each corner; one typed, one dragged along; walls are parted along the ground, and each step is undone."""
    part = drawn.board("shape").plans
    part.do("ground")
    qtbot.waitUntil(drawn.settled)
    spots = drawn.document.home.shape.plans.heights
    assert len(spots) == len({(s.x.value, s.y.value) for s in spots}) == 5 and {s.z.value for s in spots} == {-0.2}
    assert part.lists.ground.isVisible() and len(part.lists.ground.model.rows) == 5
    before = drawn.document.assessment[SOLID].areas
    high = next(s for s in spots if (s.x.value, s.y.value) == (0.0, 0.0))
    assert not drawn.document.desk.entered(high.id, "z", "1.3 m")
    qtbot.waitUntil(drawn.settled)
    after = drawn.document.assessment[SOLID].areas
    assert "low.a.ground" not in before and after["low.a.ground"] > 1
    part.table.storey = "ground"
    part.select(high.id)
    qtbot.waitUntil(drawn.settled)
    view = part.table.plan
    start = view.point_of_handle(high.id)
    assert start is not None
    drag(view, start, view.on_screen((-2.0, 0.0)) - view.on_screen((0.0, 0.0)))
    qtbot.waitUntil(drawn.settled)
    moved = find(drawn.document.home, high.id)
    assert moved.x.value == pytest.approx(-2.0, abs=0.06)  # type: ignore[union-attr]
    assert drawn.document.assessment[SOLID].areas["low.a.ground"] < after["low.a.ground"], "the high corner lies farther away"
    part.remove()
    qtbot.waitUntil(drawn.settled)
    assert len(drawn.document.home.shape.plans.heights) == 4
    for _ in range(4):
        drawn.undo()
        qtbot.waitUntil(drawn.settled)
    qtbot.waitUntil(drawn.settled)
    assert drawn.document.home.shape.plans.heights == () and drawn.document.assessment[SOLID].areas == before


def test_the_shape_goes_out_and_comes_in(drawn: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    board, said = drawn.board("shape"), []
    board.message.connect(said.append)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(tmp_path / "out"), "gbXML (*.xml)"))
    board.save_shape()
    assert (tmp_path / "out.xml").exists() and said[-1] == "Saved: out.xml"
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(tmp_path / "out.xml"), ""))
    areas = drawn.document.assessment[SOLID].areas
    board.take_in()
    qtbot.waitUntil(lambda: not board.reading.running)
    qtbot.waitUntil(drawn.settled)
    after = drawn.document.assessment[SOLID].areas
    assert drawn.document.home.shape.plans.storeys[0].id == "read-storey-1" and sorted(after.values()) == pytest.approx(
        sorted(areas.values())
    )
    (tmp_path / "out.xml").write_text("<gbXML/>")
    before = drawn.document.home
    board.take_in()
    qtbot.waitUntil(lambda: "line 1: there are no surfaces" in said[-1])
    assert drawn.document.home is before
    drawn.undo()
    assert drawn.document.home.shape.plans.storeys[0].id == "ground"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(tmp_path / "t.csv"), ""))
    board.plans.lists.export()
    assert (tmp_path / "t.csv").read_text(encoding="utf-8").startswith("Of,What")


def test_a_backing_sheet_is_laid_and_scaled_by_two_points(
    drawn: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A scan 400 pixels wide, laid as wide as the home; two points 7 m apart on it are said to be 3.5 m apart: half as wide."""
    QImage(400, 200, QImage.Format.Format_RGB32).save(str(tmp_path / "scan.png"))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(tmp_path / "scan.png"), ""))
    part = drawn.board("shape").plans
    part.do("sheet")
    qtbot.waitUntil(drawn.settled)
    sheet = drawn.document.home.shape.plans.storeys[0].sheet
    assert sheet.width.value == 14 and part.table.plan.sheet.width == 14 and drawn.document.home.evidence[0].name == "scan.png"
    part.do("scale")
    part.table.plan.add((0.0, 2.0))
    part.table.plan.add((7.0, 2.0))
    edit = part.inspector.wall.length.edit
    assert edit.hasFocus() and edit.text() == "7"
    QTest.keyClicks(edit, "3.5")
    QTest.keyClick(edit, K.Key_Return)
    qtbot.waitUntil(drawn.settled)
    sheet = drawn.document.home.shape.plans.storeys[0].sheet
    assert sheet.width.value == pytest.approx(7) and sheet.y.value == pytest.approx(1.0), "the first point stays"
    (tmp_path / "text.png").write_text("no picture")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(tmp_path / "text.png"), ""))
    said: list[str] = []
    drawn.board("shape").message.connect(said.append)
    part.do("sheet")
    assert "no picture, PDF" in said[-1]
    part.do("no sheet")
    assert drawn.document.home.shape.plans.storeys[0].sheet is None


def test_a_page_of_a_pdf_is_a_backing_sheet() -> None:
    from weasyprint import HTML

    from nuthatch.desktop.steps.table.backing import picture

    page = picture(HTML(string="<p>Plan</p>").write_pdf())
    assert page is not None and page.width() == 2400 and picture(b"%PDF-1.4 broken") is None and picture(b"") is None


def test_a_drawing_is_traced_and_its_closed_lines_become_outlines(
    open_home: Open, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A DXF plan of 8 × 6 m below an empty storey: it lies in its own scale, what is drawn snaps to it, its outline is taken over."""
    (tmp_path / "plan.dxf").write_bytes(drawing())
    (tmp_path / "none.dxf").write_bytes(b"0\nEOF\n")
    home = plan_home(storeys=(StoreyPlan(id="ground", name="Ground floor", level=g(0), height=g(3)),), roofs=())
    w = open_home(replace(home, openings=()))
    w.show_step("shape")
    qtbot.waitUntil(w.settled)
    part, said = w.board("shape").plans, []
    part.board.message.connect(said.append)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(tmp_path / "none.dxf"), ""))
    part.do("sheet")
    qtbot.waitUntil(w.settled)
    assert "none.dxf: there are no lines" in said[-1] and w.document.home.shape.plans.storeys[0].sheet is None
    part.do("sheet outlines")
    assert said[-1] == "this storey has no backing sheet"
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(tmp_path / "plan.dxf"), ""))
    part.do("sheet")
    qtbot.waitUntil(w.settled)
    assert w.document.home.shape.plans.storeys[0].sheet.width.value == pytest.approx(8) and "own scale" in said[-1]
    sheet = part.table.plan.sheet
    part.table.pick("outline")
    qtbot.wait(50)
    near = part.table.plan.on_screen((sheet.corner[0] + 8.03, sheet.corner[1] + 5.98))
    QTest.mouseMove(part.table.plan, near.toPoint())
    assert "line of the sheet" in part.table.plan.trace.says()
    part.table.plan.stop()
    asked: list[list[str]] = []

    def choose(_p: object, _t: str, _l: str, rows: list[str], first: int, *_: object) -> tuple[str, bool]:
        asked.append(rows)
        return rows[first], len(asked) > 1

    monkeypatch.setattr(QInputDialog, "getItem", choose)
    part.do("sheet outlines")
    assert not w.document.home.shape.plans.storeys[0].outlines, "given up"
    part.do("sheet outlines")
    qtbot.waitUntil(w.settled)
    assert asked[1][0].startswith("1: 48.0\u00a0m², 8.00 × 6.00\u00a0m, 4 corners") and len(asked[1]) == 2, "the room in it is offered too"
    assert w.document.assessment[SOLID].areas["outline-1.floor"] == pytest.approx(48)
    w.undo()
    assert not w.document.home.shape.plans.storeys[0].outlines, "one step"


def test_a_drawing_without_a_unit_is_asked_about_and_read_again_when_opened(
    open_home: Open, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Each unit with the width it gives; the home opened again has its drawing below the plan once it is read."""
    (tmp_path / "plan.dxf").write_bytes(drawing(0, 800.0))
    w = open_home(
        replace(plan_home(storeys=(StoreyPlan(id="ground", name="Ground floor", level=g(0), height=g(3)),), roofs=()), openings=())
    )
    w.show_step("shape")
    qtbot.waitUntil(w.settled)
    asked: list[list[str]] = []
    monkeypatch.setattr(QInputDialog, "getItem", lambda _p, _t, _l, rows, *a: (asked.append(rows), (rows[2], True))[1])
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(tmp_path / "plan.dxf"), ""))
    w.board("shape").plans.do("sheet")
    qtbot.waitUntil(lambda: bool(asked))
    qtbot.waitUntil(w.settled)
    assert asked == [
        [
            "metres: 800.00\u00a0m wide",
            "millimetres: 0.80\u00a0m wide",
            "centimetres: 8.00\u00a0m wide",
            "feet: 243.84\u00a0m wide",
            "inches: 20.32\u00a0m wide",
        ]
    ]
    assert w.document.home.shape.plans.storeys[0].sheet.width.value == pytest.approx(8)
    dxf_lines._KEPT.clear()
    w.commands["units"].trigger()
    qtbot.waitUntil(w.settled)
    qtbot.waitUntil(lambda: isinstance(w.board("shape").plans.table.plan.sheet, dxf_lines.DxfLines))
    w.commands["units"].trigger()
    qtbot.waitUntil(w.settled)


def test_a_court_is_drawn_selected_and_removed(drawn: MainWindow, qtbot: QtBot) -> None:
    part = drawn.board("shape").plans
    before = drawn.document.home
    part.do("court")
    for point in ((2.0, 2.0), (4.0, 2.0), (4.0, 4.0), (2.0, 4.0), (2.0, 2.0)):
        part.table.plan.add(point)
    qtbot.waitUntil(drawn.settled)
    assert part.selected == "court-1" and part.inspector.head.text() == "Court: Court"
    assert drawn.document.assessment[SOLID].areas["low.floor"] == pytest.approx(80)
    assert part.focus_field("court-1", "sides")
    part.select("court-1.a")
    assert part.inspector.wall.length.edit.text() == "2"
    part.select("court-1")
    part.remove()
    qtbot.waitUntil(drawn.settled)
    assert drawn.document.home.shape.plans == before.shape.plans
    part.do("court")
    for point in ((20.0, 2.0), (24.0, 2.0), (24.0, 4.0), (20.0, 2.0)):
        part.table.plan.add(point)
    assert drawn.document.home.shape.plans == before.shape.plans, "outside of every outline it is refused"


def test_the_solid_is_cut_open_where_the_slider_says(drawn: MainWindow, qtbot: QtBot) -> None:
    board = drawn.board("shape")
    table = board.plans.table
    board.looks.cuts[2].trigger()
    assert table.in_front == 3 and table.slider.isVisible() and table.cut.share == pytest.approx(1.3 / 9, abs=0.02), "above the sills"
    low = table.solid.sketch.ids()
    assert "ground.living" in low and "upper.living" not in low
    table.choose(1)
    assert table.in_front == 3 and "upper.living" in table.solid.sketch.ids(), "the cut goes to the storey that is chosen"
    QTest.keyClick(table.slider, K.Key_Home)
    assert table.cut.share == 0 and "up.a" not in table.solid.sketch.ids()
    board.looks.cuts[0].trigger()
    assert {"ground.living", "upper.living"} <= table.solid.sketch.ids()
    table.show_large(0)
    assert not table.slider.isVisible()
    board.looks.cuts[None].trigger()
    assert table.cut is None and not table.slider.isVisible()


def test_a_typed_place_past_the_edge_stays_in_its_field_and_says_what_fits(drawn: MainWindow, qtbot: QtBot) -> None:
    drawn.show_step("openings")
    board = drawn.board("openings")
    assert board.focus_field("w-1", "position")
    qtbot.waitUntil(drawn.settled)
    reason = drawn.document.desk.typed("w-1", "position", 9.5)
    assert "at most 8.80\u00a0m from the left fits" in reason
    assert find(drawn.document.home, "w-1").position.value == 1.0  # type: ignore[union-attr]
    assert not drawn.document.desk.entered("w-1", "sill", "1.2") and "above level 0 fits" in drawn.document.desk.entered(
        "w-1", "sill", "2.5"
    )


def test_openings_are_tinted_by_what_they_win(drawn: MainWindow, qtbot: QtBot) -> None:
    board = drawn.board("shape")
    board.tint.by.setCurrentText("net gain")
    board.plans.table.show_large(3)
    texts = [i.text for i in board.plans.table.solid.sketch.items if isinstance(i, Text)]
    assert "from \u2212100\u00a0kWh/(m²·a)" in texts and board.tint.chosen().low == -100
