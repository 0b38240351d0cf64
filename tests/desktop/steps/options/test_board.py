"""The options board: upgrades taken from what is at hand, tried on a board, ordered, made of what closes a gap; each one step of undo."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from nuthatch.core.changes.changes import SetValue
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.graph.alive import while_alive
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import Home
from nuthatch.core.model.options import Option, Upgrade
from nuthatch.core.model.part import replace
from nuthatch.core.model.target_set import Target, TargetSet, Way
from nuthatch.core.options.applied import home_with, written
from nuthatch.core.views.options.odds_drawn import POINT
from nuthatch.desktop.steps.options.board import OptionsBoard
from nuthatch.desktop.trying import give_up, tried
from nuthatch.desktop.window import MainWindow
from tests.simple_home import g, simple_home
from tests.undetailed import at_rest

Open = Callable[[Home], MainWindow]


@pytest.fixture
def osier_window(open_home: Open) -> MainWindow:
    """The demo home without its own option: from nothing."""
    return open_home(from_nothing(demo_home("osier-lane-7")))


@while_alive
def from_nothing(home: Home) -> Home:
    return replace(at_rest(home), upgrades=(), options=())


def shown(w: MainWindow, qtbot: QtBot) -> OptionsBoard:
    w.resize(1500, 900)
    w.show_step("options")
    qtbot.waitUntil(w.settled, timeout=120_000)
    board = w.board("options")
    assert isinstance(board, OptionsBoard)
    return board


def optioned() -> Home:
    """A home that is worked out fast, with three upgrades and two options."""
    changes = {"seal": ("air", "n50", 0.3), "wall-up": ("wall.1", "thickness", 0.3), "glass": ("window", "glass_u", 0.5)}
    costs = {"seal": 2500.0, "wall-up": 4000.0, "glass": 3000.0}
    rows = tuple(
        Upgrade(id=i, name=i.capitalize(), cost=g(costs[i]), changes=(written(SetValue(part=p, field=f, value=g(v))),))
        for i, (p, f, v) in changes.items()
    )
    options = (Option(id="o", name="Both", upgrades=("seal", "wall-up")), Option(id="p", name="All", upgrades=("glass",), after="o"))
    return replace(simple_home(), upgrades=rows, options=options)


def test_from_nothing_to_a_ladder(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    board = shown(w, qtbot)
    assert board.option.count() == 0 and "0 options" in board.sub.text()
    board.work.lists.show_widget(board.hand)
    first = next(n for n, r in enumerate(board._ready) if r.name.startswith("Over the roof"))
    board._take(str(first))
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert [len(o.upgrades) for o in w.document.home.options] == [1] and board.steps.rowCount() == 1
    assert board.steps.item(0, 7).text().startswith("−")  # type: ignore[union-attr]
    w.undo()
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert w.document.home.options == () and w.document.home.upgrades == ()


def test_something_is_tried_on_another_board_and_kept(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    board = shown(w, qtbot)
    home, before = w.document.home, float(w.document.assessment.figures["heating_demand"].value)  # type: ignore[union-attr,arg-type]
    qtbot.mouseClick(board.try_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert tried(w.document.desk) is not None and w.trying.isVisible()
    w.show_step("build-ups")
    w.document.desk.typed("outer-wall.3", "thickness", 0.3)
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert "→" in w.trying.text.text() and float(w.document.assessment.figures["heating_demand"].value) < before  # type: ignore[union-attr,arg-type]
    w.trying.name.setText("Thicker wall")
    qtbot.mouseClick(w.trying.keep_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled, timeout=120_000)
    now = w.document.home
    assert w.step == "options" and not w.trying.isVisible() and now.upgrades[0].name == "Thicker wall"
    assert replace(now, upgrades=(), options=()) == replace(home, upgrades=(), options=())
    assert board.steps.item(0, 0).text() == "Thicker wall"  # type: ignore[union-attr]
    # worked on again, and given up
    board.select(now.upgrades[0].id)
    qtbot.mouseClick(board.work_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert w.trying.name.text() == "Thicker wall" and w.document.home.buildups != home.buildups
    qtbot.mouseClick(w.trying.up_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert w.document.home == now and tried(w.document.desk) is None


def test_the_home_as_it_is_shows_through_while_something_is_tried(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    shown(w, qtbot).try_button.click()
    build = w.document.home.buildups[0]
    layer = max(build.layers, key=lambda x: x.thickness.value if x.thickness is not None else 0.0)
    w.document.desk.apply(SetValue(part=layer.id, field="thickness", value=g(layer.thickness.value + 0.1)))  # type: ignore[union-attr]
    w.go("shape")
    qtbot.waitUntil(w.settled, timeout=60_000)
    plan = w.center.board("shape").plans.table.plan  # type: ignore[attr-defined]
    assert (
        plan.faint
        and plan.sketch is not None
        and not {p.points for p in plan.faint} & {getattr(i, "points", ()) for i in plan.sketch.items}
    )
    give_up(w.document.desk)
    w.go("shape")
    qtbot.waitUntil(w.settled, timeout=60_000)
    assert plan.faint == ()


def test_the_cottage_s_ladders_are_compared(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(demo_home("weir-cottage"))
    board = shown(w, qtbot)
    assert [board.option.itemText(n) for n in range(3)] == ["To the fund", "Retrofit in stages", "Heat pump first"]
    assert board.steps.rowCount() == 7 and board.beside.columnCount() == 5


def test_steps_are_moved_ordered_and_what_closes_a_gap_is_taken(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(optioned())
    board = shown(w, qtbot)
    board.work.lists.show_widget(board.steps)
    second = w.document.home.options[0].upgrades[1]
    board.select(second)
    assert board.upgrades.card.part_id == second
    board._shift(-1)
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert w.document.home.options[0].upgrades[0] == second
    board._cheapest()
    qtbot.waitUntil(w.settled, timeout=120_000)
    costs = [r.money.per_kwh for r in board.comparing.ladders[board.front].rungs]
    assert costs == sorted(costs, key=lambda c: float("inf") if c is None else c)
    w.undo()
    # what closes the gap of the air change becomes an upgrade
    part = board.closing
    part.on.setCurrentIndex(part.on.findText("as it is"))
    board.work.lists.show_widget(part.gap)
    part.target.setCurrentIndex(next(n for n in range(part.target.count()) if "Airtightness" in part.target.itemText(n)))
    part.look()
    qtbot.waitUntil(lambda: w.settled() and part.answers is not None, timeout=240_000)
    assert (
        part.answers is not None and part.answers[0].name == "air change at 50 Pa" and part.answers[0].at == pytest.approx(0.6, abs=0.002)
    )
    number = len(w.document.home.upgrades)
    part.take_answer("0")
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert len(w.document.home.upgrades) == number + 1 and w.document.home.upgrades[-1].name.startswith("air change at 50 Pa")


def test_an_upgrade_goes_on_and_off(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(optioned())
    board = shown(w, qtbot)
    board.in_front(board.upgrades)
    board.upgrades.table.select("glass")
    qtbot.mouseClick(board.on_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert w.document.home.options[0].upgrades[-1] == "glass"
    qtbot.mouseClick(board.on_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert "glass" not in w.document.home.options[0].upgrades
    with pytest.raises(StopIteration):
        next(r for r in board.comparing.ladders[board.front].rungs if r.upgrade.id == "glass")


def test_nothing_tried_is_saved_as_the_home_or_lost(osier_window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    """A save waits until it is kept or given up; what is kept aside meanwhile is the home with an upgrade."""
    w = osier_window
    board = shown(w, qtbot)
    home = w.document.home
    board._try()
    w.document.desk.typed("outer-wall.3", "thickness", 0.3)
    qtbot.waitUntil(w.settled, timeout=120_000)
    with pytest.raises(HomeFileError, match="keep it as an upgrade or give it up"):
        w.document.save(tmp_path / "osier.nuthatch")
    assert not (tmp_path / "osier.nuthatch").exists()
    aside = w.document.keeper.kept_as(w.document.home)
    assert aside.buildups == home.buildups and [u.name for u in aside.upgrades] == ["What was being tried"]
    assert home_with(aside, aside.options[0]).buildups == w.document.home.buildups
    give_up(w.document.desk)
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert w.document.home == home and w.document.keeper.kept_as(w.document.home) is w.document.home


def test_two_levers_a_cheapest_set_and_a_chance_on_the_board(open_home: Open, qtbot: QtBot) -> None:
    """On a home that is worked out fast: each is asked where somebody looks, and becomes an upgrade, an option, a way to a field."""
    target = TargetSet(id="own", name="Own", source="these tests", targets=(Target(id="own.h", name="Heating", ways=(Way(figure="heating_demand", limit=42.0),)),))  # fmt: skip
    start = optioned()
    w = open_home(replace(start, target_sets=(target,), upgrades=start.upgrades[:2], options=start.options[:1]))
    board = shown(w, qtbot)
    part, chances = board.closing, board.chances
    assert not board.asking.answers, "nobody has looked"
    # the chance, of the option and of the home as it is
    board.work.drawings.show_widget(chances.drawing)
    qtbot.waitUntil(w.settled, timeout=240_000)
    with_it, as_it_is = chances.of("o"), chances.of("")
    assert with_it is not None and as_it_is is not None and with_it.chance > as_it_is.chance and with_it.homes == 512
    words = " ".join(getattr(i, "text", "") for i in chances.drawing.sketch.items)  # type: ignore[union-attr]
    assert with_it.words in words and as_it_is.words in words and "Both" in words
    went: list[tuple[str, str, str]] = []
    board.go.connect(lambda *where: went.append(where))
    board.work.lists.show_widget(chances.firsts)
    chances.firsts.setCurrentCell(0, 0)
    chances.firsts.opened.emit(chances.firsts.current_id())
    assert went and went[0][1] == with_it.firsts[0].part and went[0][0] != "options"
    w.show_step("options")
    board.work.drawings.show_widget(board.ladder)  # nobody looks at chances any more: they are not worked out for the next home
    # the cheapest set becomes an option
    board.work.lists.show_widget(part.sets)
    part.budget.setText("many")
    part._find()
    assert not board.asking.asked(part._set_name)
    part.budget.setText("")
    qtbot.mouseClick(part.find_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert part.package is not None and part.package.met and part.package.exhaustive
    qtbot.mouseClick(part.option_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled, timeout=120_000)
    made = w.document.home.options[-1]
    assert made.name.startswith("Cheapest for") and len(made.upgrades) >= 1
    assert board.asking.base is w.document.assessment, "of another home: forgotten, and worked out anew where somebody looks"
    # two levers become an upgrade
    board.work.drawings.show_widget(part.pair)
    part.on.setCurrentIndex(part.on.findText("as it is"))
    part.look()
    qtbot.waitUntil(w.settled, timeout=120_000)
    part.first.setCurrentIndex(part.first.findData("wall.1"))
    part.second.setCurrentIndex(part.second.findData("air.n50"))
    part.look()
    qtbot.waitUntil(lambda: w.settled() and part.curve is not None, timeout=120_000)
    on = [n for n, p in enumerate(part.curve.points) if p.second is not None]  # type: ignore[union-attr]
    part.take_pair.click()
    assert len(w.document.home.upgrades) == 2, "no point is chosen"
    part._pointed(f"{POINT}{on[0]}")
    part.take_pair.click()
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert len(w.document.home.upgrades) == 3 and len(w.document.home.upgrades[-1].changes) >= 2
    w.undo()


def test_every_board_shows_the_home_with_an_option_until_one_goes_back(open_home: Open, qtbot: QtBot, tmp_path: Path) -> None:
    w = open_home(optioned())
    board = shown(w, qtbot)
    home = w.document.home
    before = float(w.document.assessment.figures["heating_demand"].value)  # type: ignore[union-attr,arg-type]
    qtbot.mouseClick(board.see_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert w.document.home.buildups == home_with(home, home.options[0]).buildups and "Both" in w.trying.text.text()
    key = next(k for k, r in w.margins.bars.ghosts.items() if k.endswith("heating_demand"))
    assert w.margins.bars.ghosts[key] > 1 and w.margins._with.isVisible() and "as it is" in w.margins._with.text()
    with pytest.raises(HomeFileError):
        w.document.save(tmp_path / "home.nuthatch")
    # what is changed now goes into a new upgrade, last on the option
    w.document.desk.typed("window", "glass_g", 0.4)
    qtbot.waitUntil(w.settled, timeout=120_000)
    w.trying.name.setText("Darker glass")
    qtbot.mouseClick(w.trying.keep_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled, timeout=120_000)
    now = w.document.home
    added = now.upgrades[-1]
    assert added.name == "Darker glass" and now.options[0].upgrades == (*home.options[0].upgrades, added.id) and len(added.changes) == 1
    assert replace(now, upgrades=home.upgrades, options=home.options) == home
    # seen and left
    board.option.setCurrentIndex(0)
    board._see()
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert "already" in (board._see() or "") or tried(w.document.desk) is not None
    qtbot.mouseClick(w.trying.up_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled, timeout=120_000)
    assert w.document.home == now and not w.margins._with.isVisible()
    assert float(w.document.assessment.figures["heating_demand"].value) == pytest.approx(before)  # type: ignore[union-attr,arg-type]
