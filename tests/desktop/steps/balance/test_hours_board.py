"""The hours on the balance board: zoomed by the wheel, read at the pointer, kept and pinned; the year tried differently; margins follow."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from nuthatch.core.changes.changes import SetValue, declared
from nuthatch.core.model.home import Home
from nuthatch.core.model.options import Option, Upgrade
from nuthatch.core.model.part import replace
from nuthatch.core.options.applied import written
from nuthatch.core.sketch import Text
from nuthatch.core.units import INCH_POUND, show, using
from nuthatch.core.views.hours.charts import STANDARD, grid_of
from nuthatch.core.views.hours.lines import Span, plot_of
from nuthatch.core.views.hours.quantities import date_of
from nuthatch.core.views.hours.rooms import TINTS, loads_of
from nuthatch.core.year.stages import HOURS
from nuthatch.desktop.steps.balance.board import BalanceBoard
from nuthatch.desktop.steps.balance.hours_view import HoursView
from nuthatch.desktop.steps.shape.tint_row import TintRow
from nuthatch.desktop.window import MainWindow
from tests.plan_home import plan_home
from tests.simple_home import simple_home

Open = Callable[[Home], MainWindow]


def warm_home() -> Home:
    """A warm place that nothing cools."""
    home = simple_home("verrin-plain")
    return replace(home, sources=tuple(replace(s, cooling_share=None) for s in home.sources))


def opened(open_home: Open, qtbot: QtBot, home: Home | None = None) -> tuple[MainWindow, BalanceBoard]:
    w = open_home(home or warm_home())
    w.show_step("balance")
    qtbot.waitUntil(w.settled, timeout=60000)
    board = w.board("balance")
    assert isinstance(board, BalanceBoard)
    board.work.drawings.show_widget(board.hours.view)
    QApplication.processEvents()
    return w, board


def turn(view: HoursView, at: QPointF, notches: int) -> None:
    """The wheel, so many notches."""
    one = QPoint(0, 120 if notches > 0 else -120)
    for _ in range(abs(notches)):
        event = QWheelEvent(
            at, view.mapToGlobal(at), QPoint(), one, Qt.MouseButton.NoButton, Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False
        )  # fmt: skip
        QApplication.sendEvent(view, event)


def words(view: HoursView) -> str:
    assert view.sketch is not None
    return " ".join(i.text for i in view.sketch.items if isinstance(i, Text))


def test_from_the_year_to_a_day_and_back(open_home: Open, qtbot: QtBot) -> None:
    w, board = opened(open_home, qtbot)
    view = board.hours.view
    size = (float(view.width()), float(view.height()))
    assert view.span == Span() and "Jan" in words(view)
    at = QPointF(plot_of(size, view.span).x(4710.0), size[1] / 2)
    turn(view, at, 22)
    assert view.span.wide < 40 and view.span.first < 4710 < view.span.last
    plot = plot_of(size, view.span)
    QTest.mouseMove(view, QPointF(plot.x(4710.5), size[1] / 2).toPoint())
    QApplication.processEvents()
    felt = w.document.assessment[HOURS].comfort.operative[4710]  # type: ignore[index]
    assert date_of(4710) in words(view) and f"operative {felt:.1f} °C" in words(view)
    before = view.span
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=QPointF(300, 150).toPoint())
    QTest.mouseMove(view, QPointF(200, 150).toPoint())
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=QPointF(200, 150).toPoint())
    assert view.span.first > before.first and view.span.wide == pytest.approx(before.wide)
    for key in (Qt.Key.Key_Minus, Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Plus):
        QTest.keyClick(view, key)
    QTest.keyClick(view, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert "operative" in words(view)
    QTest.keyClick(view, Qt.Key.Key_0)
    assert view.span == Span()


def test_a_day_is_chosen_among_all_days(open_home: Open, qtbot: QtBot) -> None:
    _, board = opened(open_home, qtbot)
    view = board.hours.view
    board.hours.boxes["kind"].setCurrentIndex(board.hours.boxes["kind"].findData("hour by day"))
    board.hours.boxes["kind"].activated.emit(0)
    assert view.chart.kind == "hour by day" and board.hours.boxes["second"].isHidden()
    grid = grid_of((float(view.width()), float(view.height())), view.chart)
    at = QPointF(grid.left + grid.wide * 200.5 / 365, grid.top + grid.high * 0.3).toPoint()
    QTest.mouseMove(view, at)
    QApplication.processEvents()
    assert date_of(200 * 24, False) in words(view)
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=at)
    assert view.chart.kind == "lines" and view.span == Span(4800, 4824)


def test_a_chart_is_kept_chosen_pinned_and_undone(open_home: Open, qtbot: QtBot) -> None:
    w, board = opened(open_home, qtbot)
    before = w.document.home
    board.hours.show_chart(replace(STANDARD["hours-lines"], run="windows by hand", third="windows by hand"), Span(4700, 4868))
    board.hours.keep_button.click()
    (chart,) = w.document.home.charts
    assert (chart.start.value, chart.end.value) == (196, 203) and chart.run == "windows by hand"
    assert board.hours.subject("hours-own") == chart.id
    board.hours.show_chart(STANDARD["hours-sums"])
    assert board.hours.subject("hours-own") is None
    board.hours.charts.table.select(chart.id)
    assert board.hours.chart.id == chart.id and board.hours.view.span == Span(195 * 24, 203 * 24)
    board.pin("hours-own", chart.id, "A week of July")
    assert w.document.home.pins[-1].of == chart.id
    w.undo()
    w.undo()
    assert w.document.home == before and board.hours.view.sketch is not None


def test_windows_that_count_move_the_share_and_the_year_is_tried_differently(open_home: Open, qtbot: QtBot) -> None:
    w, board = opened(open_home, qtbot)
    shut = w.document.assessment.figures["overheating_share"].value  # type: ignore[union-attr]
    tried = board.hours.tried
    board.work.lists.show_widget(tried.panel)
    tried.look()
    qtbot.waitUntil(lambda: bool(tried.rows), timeout=60000)
    assert tried.table.rowCount() == len(tried.rows) and "As it is" in tried.table.item(0, 0).text()  # type: ignore[union-attr]
    by_hand = next(t for t in tried.rows if t.id == "by_hand")
    assert board.desk.apply(SetValue(part="household", field="by_hand", value="counted")) == ""
    qtbot.waitUntil(w.settled, timeout=60000)
    assert w.document.assessment.figures["overheating_share"].value == pytest.approx(by_hand.share, abs=2e-4) != shut  # type: ignore[union-attr]
    qtbot.waitUntil(lambda: bool(tried.rows), timeout=60000)
    assert next(t for t in tried.rows if t.id == "").share == pytest.approx(by_hand.share, abs=1e-6)
    assert board.desk.apply(SetValue(part="household", field="by_hand", value="left out")) == ""
    qtbot.waitUntil(lambda: not tried.settled or bool(tried.rows), timeout=60000)
    tried.waiting.give_up()
    assert tried.settled and tried.waiting.isHidden(), "stopped"


def test_hours_that_cannot_be_say_why(open_home: Open, qtbot: QtBot) -> None:
    home = warm_home()
    _, board = opened(open_home, qtbot, replace(home, site=replace(home.site, climate=None)))
    assert "needs" in words(board.hours.view) and board.hours.tried.rows == ()


def test_rooms_are_listed_tinted_and_lead_home(open_home: Open, qtbot: QtBot) -> None:
    """Loads at once; by the hour when somebody looks; the temperature at an hour; a row leads to its room."""
    w, board = opened(open_home, qtbot, plan_home())
    rooms = board.rooms
    assert rooms.table.rowCount() == len(loads_of(w.document.assessment)) and rooms.found is None  # type: ignore[index]
    board.work.drawings.show_widget(rooms.view)
    board.work.lists.show_widget(rooms.panel)
    rooms.look()
    qtbot.waitUntil(lambda: rooms.found is not None, timeout=60000)
    assert "cooling at most" in rooms.words.text() and "inner gains" in rooms.words.toolTip()
    for by in TINTS:
        rooms.tint.by.setCurrentText(by)
        assert rooms.view.sketch is not None and by in rooms.view.sketch.title
        assert rooms.day.isHidden() == (by != "temperature")
    rooms.tint.by.setCurrentText("temperature")
    rooms.tint.decimals.setValue(2)
    told = {i.text for i in rooms.view.sketch.items if isinstance(i, Text)}  # type: ignore[union-attr]
    rooms.day.setValue(20)
    assert {i.text for i in rooms.view.sketch.items if isinstance(i, Text)} != told  # type: ignore[union-attr]
    gone: list[tuple[str, str, str]] = []
    board.go.connect(lambda *where: gone.append(where))
    rooms.table.select("ground.study")
    rooms.table.opened.emit("ground.study")
    assert gone[-1] == ("shape", "ground.study", "temperature")
    before = rooms.found
    assert board.desk.apply(SetValue(part="ground.study", field="temperature", value=declared(16.0))) == ""
    w.show_step("balance")
    qtbot.waitUntil(w.settled, timeout=60000)
    qtbot.waitUntil(lambda: rooms.found is not None and rooms.found is not before, timeout=60000)
    qtbot.waitUntil(lambda: rooms.found is not None, timeout=60000)
    load = next(r for r in loads_of(w.document.assessment) if r.room.id == "ground.study")  # type: ignore[index]
    rooms.table.select("ground.study")
    row = rooms.table.currentRow()
    assert rooms.table.item(row, 4).text() == show(float(load.load.value), "power")  # type: ignore[union-attr, arg-type]


def test_an_option_lies_over_the_home(open_home: Open, qtbot: QtBot) -> None:
    """Dashed lines of the home with an option on it, in lines and in the duration; gone where no option is chosen."""
    home = warm_home()
    south = home.openings[0]
    shaded = Upgrade(id="blind", name="Blind", changes=(written(SetValue(part=south.id, field="blind", value="outside")),))
    bare = replace(
        home,
        openings=(replace(south, shade_summer=None), home.openings[1]),
        upgrades=(shaded,),
        options=(Option(id="cooler", name="Cooler", upgrades=("blind",)),),
    )
    _, board = opened(open_home, qtbot, bare)
    hours = board.hours
    hours.draw()
    hours.beside.setCurrentIndex(hours.beside.findData("cooler"))
    hours.beside.activated.emit(1)
    qtbot.waitUntil(lambda: hours.other.found is not None, timeout=60000)
    assert "dashed: Cooler" in words(hours.view)
    own, other = board.assessment[HOURS].comfort.operative, hours.other.found.comfort.operative  # type: ignore[index]
    assert other.max() < own.max() - 0.1
    hours.show_chart(STANDARD["hours-duration"])
    assert "dashed: Cooler" in words(hours.view)
    hours.beside.setCurrentIndex(0)
    hours.beside.activated.emit(0)
    hours.draw()
    assert "dashed" not in words(hours.view)


def test_kinds_of_rooms_from_the_library_and_the_office(open_home: Open, qtbot: QtBot) -> None:
    w, board = opened(open_home, qtbot, plan_home())
    rooms = board.rooms
    rooms.fill()
    actions = rooms.menu.actions()
    assert [a.isEnabled() for a in actions] == [True, False], "the office keeps none yet"
    actions[0].trigger()
    assert len(w.document.home.room_kinds) >= 6
    qtbot.waitUntil(w.settled, timeout=60000)
    rooms.put_in((), "of the office")
    board.in_front(rooms.kinds)
    first = w.document.home.room_kinds[0]
    rooms.kinds.table.select(first.id)
    assert board.focus_field(first.id, "temperature")
    rooms.tint.by.setCurrentText("used as")
    assert "used as" in rooms.view.sketch.title  # type: ignore[union-attr]
    w.undo()
    assert not w.document.home.room_kinds


def test_the_range_of_a_legend_is_in_the_units_shown(qapp) -> None:
    """1 Btu/(h·ft²·°F) is 5.678263 W/(m²·K) (ASHRAE Fundamentals, units and conversions, from memory); 0.2 of the year is 20 %."""
    row = TintRow(qapp, ("U-value", "too warm"), {"U-value": ("u", 0.0, 0.6), "too warm": ("percent", 0.0, 0.2)})
    assert (row.low.value(), row.high.value(), row.chosen().high) == (0.0, 0.6, 0.6)
    with using(INCH_POUND):
        assert row.chosen().high == 0.6 and row.high.value() == pytest.approx(0.6 / 5.678263, abs=0.0006)
        row.low.setValue(0.01)
        assert row.chosen().high == 0.6, "one end typed leaves the other"
        row.high.setValue(0.2)
        assert row.chosen().high == pytest.approx(0.2 * 5.678263, rel=1e-6)
    assert row.chosen().high == pytest.approx(1.1356526, rel=1e-6) and row.high.value() == 1.136
    row.by.setCurrentText("too warm")
    assert row.high.value() == 20.0 and row.chosen().high == 0.2
    row.end_above(0.034)
    assert row.high.value() == 5.0 and row.chosen().high == pytest.approx(0.05)
