"""Day patterns on the household board: bars dragged, nudged and pasted, shared by uses; the day they make."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from nuthatch.core.changes.changes import Batch, ChangeRefused, SetValue, declared
from nuthatch.core.climate.patterns import day_of, mean, monthly, year_of
from nuthatch.core.edits.pattern_edits import hours_of
from nuthatch.core.household.stages import USE
from nuthatch.core.model.home import Appliance, Home
from nuthatch.core.model.part import replace
from nuthatch.core.model.patterns import EVEN, DayPattern, PatternDay
from nuthatch.core.sketch import Path
from nuthatch.core.views.day import KindOfDay, pattern_frame, people, running, the_day
from nuthatch.desktop.steps.household.board import HouseholdBoard
from nuthatch.desktop.window import MainWindow
from tests.simple_home import g, simple_home

Open = Callable[[Home], MainWindow]
NIGHT = (1.0,) * 6 + (0.0,) * 18


def test_the_day_that_says_most_counts() -> None:
    """Every day in all the year, but weekends in winter else; 5 to 2 in a week; south of the equator winter is April to October."""
    pattern = DayPattern(id="p", name="P", days=(PatternDay(id="p.1", hours=NIGHT), PatternDay(id="p.2", days="weekends", season="winter", hours=(0.5,) * 24)))  # fmt: skip
    assert day_of(pattern, False, True) == NIGHT and day_of(pattern, True, True) == (0.5,) * 24 and day_of(pattern, True, False) == NIGHT
    assert monthly(pattern)[0] == pytest.approx((5 * 0.25 + 2 * 0.5) / 7) and monthly(pattern)[6] == pytest.approx(0.25)
    assert monthly(pattern, southern=True)[0] == pytest.approx(0.25) and monthly(pattern, southern=True)[6] == pytest.approx((1.25 + 1) / 7)
    hours = year_of(pattern)
    assert hours.shape == (8760,) and hours[:24].tolist() == list(NIGHT) and (hours[5 * 24 : 7 * 24] == 0.5).all(), "1 January is a Monday"
    assert float(hours.mean()) == pytest.approx(mean(pattern), abs=0.002)
    assert day_of(DayPattern(id="e", name="E"), True, True) == EVEN, "what says nothing is there at every hour"
    summer = DayPattern(id="s", name="S", days=(PatternDay(id="s.1", season="summer", hours=NIGHT),))
    assert day_of(summer, False, True) == EVEN, "where no row fits a day it is there at every hour"


def test_presence_is_the_mean_of_its_pattern(marrowby) -> None:  # type: ignore[no-untyped-def]
    """80 W while at home, a quarter of the time: 20 W a person, less 30."""
    from nuthatch.core.assess import assess

    home = simple_home()
    home = replace(home, patterns=(DayPattern(id="p", name="P", days=(PatternDay(id="p.1", hours=NIGHT),)),))
    household = replace(home.household, gains="itemised", person_heat=g(160), presence="p", electricity=None, appliances=(Appliance(id="a", name="A", energy=g(876)),))  # fmt: skip
    gains = assess(replace(home, household=household), marrowby)[USE].gains
    assert gains.value == pytest.approx(3 * (160 * 0.25 - 30) + 100)


def test_what_runs_by_the_hour_is_what_runs_in_a_year(osier_assessed) -> None:  # type: ignore[no-untyped-def]
    """Over the days of a year the strips add up to the appliances' electricity, whatever their pattern."""
    a = osier_assessed
    total = 0.0
    for weekend, days in ((False, 5), (True, 2)):
        for winter, months in ((True, 212), (False, 153)):
            total += sum(sum(s.hours) for s in running(a, KindOfDay(weekend, winter))) * days / 7 * months / 1000
    assert total == pytest.approx(float(a.figures["household_electricity"].value), rel=2e-3)
    assert sum(people(a, KindOfDay())[0].hours) <= 24 * float(a.figures["people"].value) + 1e-9
    made = the_day(a, KindOfDay(True, False))
    assert sum(1 for i in made.items if isinstance(i, Path) and i.tip) > 48


@pytest.mark.parametrize(
    ("text", "first"),
    [("\t".join(["0.5"] * 24), 0.5), ("\n".join(["50 %"] * 24), 0.5), ("50;" * 23 + "50", 0.5), ("0,25\t" * 23 + "0,25", 0.25), (" ".join(["1"] * 24), 1.0)],
)  # fmt: skip
def test_hours_as_they_come_from_a_spreadsheet(text: str, first: float) -> None:
    assert hours_of(text) == pytest.approx([first] * 24)


@pytest.mark.parametrize(("text", "says"), [("0.5\t0.5", "2 numbers"), ("\t".join(["x"] * 24), "number 1"), ("\t".join(["120 %"] * 24), "between 0 and 1"), ("", "0 numbers")])  # fmt: skip
def test_hours_that_cannot_be_say_why(text: str, says: str) -> None:
    with pytest.raises(ChangeRefused, match=says):
        hours_of(text)


def test_bars_dragged_nudged_and_pasted(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(simple_home())
    w.resize(1280, 800)
    w.go("household")
    board = w.center.board("household")
    assert isinstance(board, HouseholdBoard)
    start, part = w.document.home, board.patterns
    board.in_front(part.patterns)
    part.patterns.add()
    qtbot.waitUntil(w.settled)
    pattern = board.home.patterns[0]
    assert pattern.kind == "people" and len(pattern.days) == 2
    board.work.drawings.show_widget(part.bars)
    qtbot.waitUntil(lambda: part.bars.frame is not None)
    view = part.bars
    frame = pattern_frame((view.sketch.width, view.sketch.height))  # type: ignore[union-attr]

    def at(hour: int, share: float) -> QPoint:
        scale, dx, dy = view._place()
        x, y = frame.left + (hour + 0.5) / 24 * frame.wide, frame.top + (1 - share) * frame.high
        return QPoint(round(dx + x * scale), round(dy + y * scale))

    QTest.mousePress(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(9, 0.2))
    for hour in (10, 11, 12):
        QTest.mouseMove(view, at(hour, 0.2))
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(12, 0.2))
    dragged = w.document.home.patterns[0].days[0].hours
    assert dragged[9:13] == pytest.approx((0.2,) * 4, abs=0.051) and dragged[8] == pattern.days[0].hours[8]
    w.undo()
    assert w.document.home.patterns[0] == pattern, "one drag is one step"
    w.redo()
    view.setFocus()
    view.hour = 0
    QTest.keyClick(view, Qt.Key.Key_Up)
    assert w.document.home.patterns[0].days[0].hours[0] == pytest.approx(pattern.days[0].hours[0] + 0.05)
    QTest.keyClick(view, Qt.Key.Key_Right)
    assert view.hour == 1
    QGuiApplication.clipboard().setText("\t".join(["0.4"] * 24))  # type: ignore[union-attr]
    QTest.keyClick(view, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert np.allclose(w.document.home.patterns[0].days[0].hours, 0.4)
    QTest.keyClick(view, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    assert QGuiApplication.clipboard().text().split("\t") == ["0.4"] * 24  # type: ignore[union-attr]
    sets = (("gains", "itemised"), ("person_heat", declared(80.0)))
    w.document.desk.apply(Batch(label="itemised", changes=tuple(SetValue(part="household", field=f, value=v) for f, v in sets)))
    qtbot.waitUntil(w.settled)
    before = float(np.sum(w.document.assessment.figures["internal_gains"].value))  # type: ignore[union-attr, arg-type]
    w.document.desk.apply(SetValue(part="household", field="presence", value=pattern.id))
    qtbot.waitUntil(w.settled)
    assert float(np.sum(w.document.assessment.figures["internal_gains"].value)) < before  # type: ignore[union-attr, arg-type]
    assert part.patterns.model.index(0, 3).data() == "people"
    part.day.clicked.emit("household")
    assert board.work.drawings.current is part.bars
    assert board.focus_field(pattern.days[1].id, "days") and board.focus_field("home", "patterns")
    while w.document.home != start:
        w.undo()
    qtbot.waitUntil(w.settled)
    assert w.document.home == start
