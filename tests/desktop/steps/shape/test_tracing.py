"""Drawing as a state of its own: its own undo, what is refused stays and is mended, storeys changed meanwhile; roofs drawn and moved."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from nuthatch.core.edits.tracing import Tracing
from nuthatch.core.model.home import Home, find
from nuthatch.core.model.plans import RoofPlan
from nuthatch.core.plans.reading_plans import points_of
from nuthatch.core.sketch import hit
from nuthatch.desktop.steps.shape.plans_part import PlansPart
from nuthatch.desktop.window import MainWindow
from tests.desktop.steps.shape.test_drawing_table import drag
from tests.plan_home import plan_home

K = Qt.Key
Open = Callable[[Home], MainWindow]
CROSSED = ((20.0, 0.0), (24.0, 4.0), (24.0, 0.0), (20.0, 4.0))


@pytest.fixture
def drawn(open_home: Open, qtbot: QtBot) -> MainWindow:
    w = open_home(plan_home())
    w.resize(1280, 800)
    w.show_step("shape")
    qtbot.waitUntil(w.settled)
    qtbot.wait(80)
    return w


def part_of(w: MainWindow) -> PlansPart:
    part = w.board("shape").plans  # type: ignore[attr-defined]
    assert isinstance(part, PlansPart)
    return part


def test_undo_takes_back_points_not_steps_of_the_home(drawn: MainWindow, qtbot: QtBot) -> None:
    part = part_of(drawn)
    part.do("cellar")
    qtbot.waitUntil(drawn.settled)
    home = drawn.document.home
    view = part.table.plan
    QTest.keyClick(view, K.Key_O)
    for point in ((20.0, 0.0), (24.0, 0.0), (24.0, 4.0)):
        view.add(point)
    assert "corner" in drawn.commands["undo"].toolTip() and not drawn.commands["redo"].isEnabled()
    drawn.undo()
    drawn.undo()
    assert view.trace.points == [(20, 0)] and drawn.document.home is home and drawn.commands["redo"].isEnabled()
    drawn.redo()
    assert view.trace.points == [(20, 0), (24, 0)] and drawn.document.home is home
    for _ in range(2):
        drawn.undo()
    assert view.trace.points == [] and drawn.document.home is home, "nothing drawn any more, the home untouched"
    drawn.undo()
    assert drawn.document.home is not home, "with nothing left of the drawing, the home's own step"


def test_a_crossing_outline_stays_and_is_mended_by_a_drag(drawn: MainWindow, qtbot: QtBot) -> None:
    part = part_of(drawn)
    view, before = part.table.plan, drawn.document.home
    said: list[str] = []
    view.said.connect(said.append)
    QTest.keyClick(view, K.Key_O)
    for point in ((11.0, 7.0), (13.0, 9.0), (13.0, 7.0), (11.0, 9.0)):
        view.add(point)
    QTest.keyClick(view, K.Key_Return)
    assert "sides 1 and 3 cross" in said[-1] and len(view.trace.points) == 4 and drawn.document.home is before
    view.grab()
    start = view.on_screen((13.0, 9.0))
    drag(view, start, view.on_screen((10.5, 8.0)) - start)  # from the right of the third corner to the left of the first: still crossing
    assert len(view.trace.points) == 4 and view.trace.points[1][0] == pytest.approx(10.5, abs=0.1)
    assert "cross" in view.trace.wrong
    drawn.undo()
    assert view.trace.points[1] == (13.0, 9.0), "a drag is one step of the drawing"
    for n, end in ((1, (13.0, 6.5)), (2, (13.2, 9.0))):
        start = view.on_screen(view.trace.points[n])
        drag(view, start, view.on_screen(end) - start)
    assert not view.trace.wrong
    QTest.keyClick(view, K.Key_Return)
    qtbot.waitUntil(drawn.settled)
    storey = next(s for s in drawn.document.home.shape.plans.storeys if s.id == part.table.storey)
    assert view.tool == "" and len(storey.outlines[-1].sides) == 4 and len(storey.outlines) == 3


def test_what_the_home_refuses_stays_on_the_table(drawn: MainWindow) -> None:
    part = part_of(drawn)
    view = part.table.plan
    part.do("court")
    for point in ((20.0, 0.0), (22.0, 0.0), (22.0, 2.0)):
        view.add(point)
    QTest.keyClick(view, K.Key_Return)
    assert view.tool == "court" and len(view.trace.points) == 3 and "inside an outline" in view.trace.wrong
    part.do("inner wall")
    view.add((1.0, 1.0))
    view.add((1.0, 1.01))
    assert view.trace.points == [(1.0, 1.0)] and "longer" in view.trace.wrong, "the point that ended it is taken again"


def test_a_half_drawn_outline_waits_on_its_storey(drawn: MainWindow, qtbot: QtBot) -> None:
    part = part_of(drawn)
    view = part.table.plan
    QTest.keyClick(view, K.Key_O)
    view.add((20.0, 0.0))
    view.add((24.0, 0.0))
    part.table.choose(1)
    assert view.tool == "" and not view.trace.points, "the other storey has none of it"
    part.table.choose(0)
    assert view.tool == "outline" and view.trace.points == [(20, 0), (24, 0)]
    drawn.commands["units"].trigger()
    qtbot.waitUntil(drawn.settled)
    qtbot.wait(50)
    again = part_of(drawn).table.plan
    assert again is not view and again.trace.points == [(20, 0), (24, 0)], "boards made anew go on with it"
    drawn.commands["units"].trigger()
    qtbot.waitUntil(drawn.settled)


def test_a_tool_without_a_point_goes_along_to_another_storey(drawn: MainWindow) -> None:
    part = part_of(drawn)
    QTest.keyClick(part.table.plan, K.Key_I)
    part.table.choose(1)
    assert part.table.plan.tool == "inner wall"


def test_a_dormer_is_drawn_picked_dragged_and_moved_by_keys(drawn: MainWindow, qtbot: QtBot) -> None:
    part = part_of(drawn)
    part.table.choose(1)
    view = part.table.plan
    part.do("roof front")
    view.add((7.0, 1.0))
    QTest.keyClicks(view, "2")
    QTest.keyClick(view, K.Key_Right)
    QTest.keyClicks(view, "1.5")
    QTest.keyClick(view, K.Key_Return)  # square to the front, behind it
    qtbot.waitUntil(drawn.settled)
    roof = drawn.document.home.shape.plans.roofs[-1]
    assert points_of(roof.corners) == ((7, 1), (9, 1), (9, 2.5), (7, 2.5)) and part.selected == roof.id
    part.select("")
    qtbot.wait(30)
    sketch, frame = view.sketch, view.frame
    assert sketch is not None and frame is not None and hit(sketch, *frame.at((7.6, 1.0))) == roof.id, "a click on its edge finds it"
    part.select(roof.id)
    qtbot.wait(30)
    start = view.point_of_handle(roof.id)
    assert start is not None
    drag(view, start, view.on_screen((8.0, 1.0)) - view.on_screen((7.0, 1.0)))
    qtbot.waitUntil(drawn.settled)
    moved = find(drawn.document.home, roof.id)
    assert isinstance(moved, RoofPlan)
    (ax, ay), (bx, _), (_, cy), _ = points_of(moved.corners)
    assert (bx - ax, cy - ay) == pytest.approx((2, 1.5), abs=1e-6) and ax == pytest.approx(8, abs=0.05)
    QTest.keyClick(view, K.Key_Up)
    qtbot.waitUntil(drawn.settled)
    assert points_of(find(drawn.document.home, roof.id).corners)[0][1] == pytest.approx(ay + 0.01)  # type: ignore[union-attr]
    edge = view.point_of_handle(f"edge:{roof.id}.a")
    assert edge is not None
    drag(view, edge + QPointF(12, 0), view.on_screen((8.0, 0.5)) - view.on_screen((8.0, 1.0)))
    qtbot.waitUntil(drawn.settled)
    low = points_of(find(drawn.document.home, roof.id).corners)  # type: ignore[union-attr]
    assert low[0][1] == low[1][1] < ay - 0.3 and low[2][1] == pytest.approx(cy + 0.01)
    assert isinstance(part._part(), RoofPlan), "an edge that was dragged leaves its roof selected"
    QTest.keyClick(view, K.Key_Delete)
    qtbot.waitUntil(drawn.settled)
    assert find(drawn.document.home, roof.id) is None


def test_a_wall_dragged_takes_the_roof_along(drawn: MainWindow, qtbot: QtBot) -> None:
    part = part_of(drawn)
    part.table.choose(1)
    qtbot.wait(30)
    view, home = part.table.plan, drawn.document.home
    start = view.on_screen((3.0, 0.0))
    drag(view, start, view.on_screen((3.0, -1.0)) - start)
    qtbot.waitUntil(drawn.settled)
    main = find(drawn.document.home, "main")
    assert isinstance(main, RoofPlan) and points_of(main.corners)[0][1] == find(drawn.document.home, "up.a").y.value < -0.5  # type: ignore[union-attr]
    drawn.undo()
    assert drawn.document.home == home, "walls and roof are one step"


def test_a_roof_just_added_is_selected(drawn: MainWindow, qtbot: QtBot) -> None:
    part = part_of(drawn)
    part.do("roof")
    qtbot.waitUntil(drawn.settled)
    assert part.selected == drawn.document.home.shape.plans.roofs[-1].id


@pytest.mark.parametrize("points", [CROSSED, ((0, 0), (4, 0), (2, 0), (2, 3)), ((0, 0), (4, 0), (4, 4), (2, 0), (0, 4))])
def test_which_sides_cross_is_found(points: tuple[tuple[float, float], ...]) -> None:
    trace = Tracing("outline", list(points))
    found = trace.crossing()
    assert found is not None and "cross" in trace.fault()
    assert Tracing("inner wall", list(points)).crossing() is None
    assert Tracing("outline", [(0, 0), (4, 0), (4, 4), (0, 4)]).crossing() is None


def test_a_drag_along_the_wall_keeps_the_roof_on_it(drawn: MainWindow, qtbot: QtBot) -> None:
    """The last move of the drag changes nothing across the wall: the step it joins still holds the roof."""
    part = part_of(drawn)
    part.table.choose(1)
    qtbot.wait(30)
    view = part.table.plan
    handle = next(h for h in view.sketch.handles if h.id == "up.a")  # type: ignore[union-attr]
    for across in (0.4, 0.8, 0.8):
        values = tuple(p.value - across if p.field == "y" else p.value for p in handle.pulls)
        assert drawn.document.desk.drag(handle.pulls, values) == ""
    qtbot.waitUntil(drawn.settled)
    main = find(drawn.document.home, "main")
    assert isinstance(main, RoofPlan) and points_of(main.corners)[0] == (0, -0.8)


def test_all_plans_are_reached_by_esc_and_by_empty_paper(drawn: MainWindow, qtbot: QtBot) -> None:
    part = part_of(drawn)
    view = part.table.plan
    for away in ("key", "paper"):
        part.select("low.a")
        assert part.inspector.card.part_id == "low.a"
        if away == "key":
            QTest.keyClick(view, K.Key_Escape)
        else:
            QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=view.on_screen((20.0, 30.0)).toPoint() + QPointF(0, 60).toPoint())
        assert part.selected == "" and part.inspector.card.part_id == "plans", away


def test_arrow_keys_move_what_is_selected_wherever_it_was(drawn: MainWindow, qtbot: QtBot) -> None:
    """A wall clicked in the plan, another then chosen in the inspector's way: the keys move the other."""
    part = part_of(drawn)
    view = part.table.plan
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=view.on_screen((5.0, 0.1)).toPoint())
    assert part.selected == "low.a"
    part.select("low.f")
    before = find(drawn.document.home, "low.a").y.value  # type: ignore[union-attr]
    QTest.keyClick(view, K.Key_Left)
    qtbot.waitUntil(drawn.settled)
    assert find(drawn.document.home, "low.f").x.value == pytest.approx(-0.01)  # type: ignore[union-attr]
    assert find(drawn.document.home, "low.a").y.value == before  # type: ignore[union-attr]


def test_a_wall_of_which_nothing_is_known_is_found_by_a_click(open_home: Open, qtbot: QtBot) -> None:
    home = plan_home(wall_buildup="", party_buildup="", inner_buildup="", earth_buildup="")
    w = open_home(home)
    w.resize(1280, 800)
    w.show_step("shape")
    qtbot.waitUntil(w.settled)
    qtbot.wait(80)
    part = part_of(w)
    QTest.mouseClick(part.table.plan, Qt.MouseButton.LeftButton, pos=part.table.plan.on_screen((5.0, 0.05)).toPoint())
    assert part.selected == "low.a"


def test_a_choice_gone_through_with_keys_is_one_step(drawn: MainWindow, qtbot: QtBot) -> None:
    part = part_of(drawn)
    part.select("main")
    before = drawn.document.home
    box = part.inspector.card.fields["kind"].inner  # type: ignore[attr-defined]
    box.setFocus()
    for _ in range(2):
        QTest.keyClick(box, K.Key_Down)
    qtbot.waitUntil(drawn.settled)
    assert find(drawn.document.home, "main").kind == "half-hip"  # type: ignore[union-attr]
    drawn.undo()
    assert drawn.document.home == before


def test_only_the_plan_offers_its_tools(drawn: MainWindow) -> None:
    table = part_of(drawn).table
    for n in range(4):
        table.show_large(n)
        assert all(b.isHidden() == (n > 0) for b in table.draw_buttons.values())


@pytest.mark.parametrize("index", [1, 2], ids=["elevation", "section"])
def test_a_height_of_the_ground_is_dragged_from_the_side(drawn: MainWindow, qtbot: QtBot, index: int) -> None:
    """Up in elevation and in section: the level follows to scale, the place stays."""
    part = part_of(drawn)
    part.do("ground")
    qtbot.waitUntil(drawn.settled)
    table = part.table
    table.share = 0.2
    table.show_large(index)
    qtbot.wait(50)
    view = table.views[index]
    assert view.sketch is not None
    spots = {s.id: s for s in drawn.document.home.shape.plans.heights}
    handle = next(h for h in view.sketch.handles if h.id in spots)
    spot = spots[handle.id]
    start = view.point_of_handle(handle.id)
    assert start is not None
    px = 1 / abs(handle.pulls[0].per[1])  # pixels for a metre
    drag(view, start, QPointF(0, -px))
    qtbot.waitUntil(drawn.settled)
    after = find(drawn.document.home, spot.id)
    assert after.z.value == pytest.approx(spot.z.value + 1, abs=0.06) and after.x == spot.x and after.y == spot.y  # type: ignore[union-attr]
    assert part.selected == spot.id
    QTest.keyClick(view, K.Key_Down)
    qtbot.waitUntil(drawn.settled)
    assert find(drawn.document.home, spot.id).z.value == pytest.approx(after.z.value - 0.01)  # type: ignore[union-attr]


def test_windows_are_put_into_walls_by_clicks_and_keys(drawn: MainWindow, qtbot: QtBot) -> None:
    part = part_of(drawn)
    view, before = part.table.plan, len(drawn.document.home.openings)
    QTest.keyClick(view, K.Key_W)
    for x in (3.5, 8.6):
        QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=view.on_screen((x, 0.15)).toPoint())
        qtbot.waitUntil(drawn.settled)
    openings = drawn.document.home.openings
    assert view.tool == "window" and len(openings) == before + 2 and part.selected == openings[-1].id
    assert {o.face for o in openings[-2:]} == {"low.a"} and openings[-1].position.value == pytest.approx(8.0, abs=0.06)
    QTest.keyClick(view, K.Key_Escape)
    assert view.tool == ""


def test_a_distance_is_typed_and_either_end_moves(drawn: MainWindow, qtbot: QtBot) -> None:
    part = part_of(drawn)
    view = part.table.plan
    for other, expected in ((False, ("low.b", 11.5)), (True, ("low.a", -1.5))):
        QTest.keyClick(view, K.Key_D)
        view.add((0.0, 2.0))
        view.add((10.0, 2.0))
        assert "10.00" in view.trace.tag()
        if other:
            QTest.keyClick(view, K.Key_Tab)
            assert view.hasFocus() and view.trace.points[0] == (10.0, 2.0)
        QTest.keyClicks(view, "11.5")
        QTest.keyClick(view, K.Key_Return)
        qtbot.waitUntil(drawn.settled)
        assert find(drawn.document.home, expected[0]).x.value == pytest.approx(expected[1])  # type: ignore[union-attr]
        drawn.undo()
        qtbot.waitUntil(drawn.settled)


def test_lists_follow_what_is_selected_in_the_drawing(drawn: MainWindow, qtbot: QtBot) -> None:
    part = part_of(drawn)
    part.table.choose(1)
    for chosen, row in (("wing", "wing"), ("edge:main.a", "main")):
        part.select(chosen)
        qtbot.wait(20)
        assert part.lists.roofs.table.current_id() == row
    part.select("upper")
    assert part.lists.storeys.table.current_id() == "upper" and part.selected == "upper"
    part.select("ground.study")
    assert part.lists.rooms.current_id() == "ground.study"
