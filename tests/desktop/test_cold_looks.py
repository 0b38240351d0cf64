"""What a cold look at every board found, kept mended: counts in the right number, what counts instead of what was typed, what is missing."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFontMetrics
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import SetValue
from nuthatch.core.climate.library import climate_for
from nuthatch.core.library import demo_home, new_home
from nuthatch.core.model.part import Basis, Given, replace
from nuthatch.core.results.figure import Known, Unknown
from nuthatch.core.sketch import Path as Line
from nuthatch.core.sketch import Text
from nuthatch.core.units import INCH_POUND, METRIC, so_many
from nuthatch.core.views.balance.drawings import what_it_needs
from nuthatch.core.views.cutaway import GROUND_Y, cutaway
from nuthatch.core.views.working import come_from
from nuthatch.desktop.bars import PLUMB
from nuthatch.desktop.widgets.read_table import ReadTable


def words(sketch: object) -> list[str]:
    return [i.text for i in sketch.items if isinstance(i, Text)]  # type: ignore[attr-defined]


def test_one_is_one() -> None:
    assert (so_many(1, "opening"), so_many(0, "opening"), so_many(2, "opening")) == ("1 opening", "0 openings", "2 openings")
    assert so_many(2, "home", "homes in hand") == "2 homes in hand"


def test_what_lies_cold_below_a_home_stands_in_its_cutaway(demo_assessments: dict[str, Assessment]) -> None:
    def boxes(key: str) -> list[tuple[float, float]]:
        made = cutaway(demo_assessments[key])
        found = [i for i in made.items if isinstance(i, Line) and i.dash and i.closed and i.tip]
        return [(min(y for _, y in i.points), max(y for _, y in i.points)) for i in found]

    cellar = boxes("weir-cottage")
    assert "Cellar" in words(cutaway(demo_assessments["weir-cottage"])) and cellar[0][0] == GROUND_Y and cellar[0][1] > GROUND_Y + 40
    workshop = boxes("sail-loft")
    assert "Workshop" in words(cutaway(demo_assessments["sail-loft"])) and workshop[0][1] == GROUND_Y > workshop[0][0]
    assert not boxes("osier-lane-7")


def test_an_unknown_balance_says_what_it_needs_and_leads_there(demo_assessments: dict[str, Assessment]) -> None:
    loft = demo_assessments["sail-loft"]
    made = what_it_needs(loft, 600, 400)
    figure = loft.figures["heating_demand"]
    assert isinstance(figure, Unknown)
    assert {f"{n.part}:{n.field}" for n in figure.needs if n.part} <= made.ids() and "It needs:" in " ".join(words(made))
    assert what_it_needs(assess(new_home(), None), 600, 400).items


def test_it_stands_in_the_place_of_the_charts_and_a_click_leads(open_home, qtbot: QtBot) -> None:  # type: ignore[no-untyped-def]
    w = open_home(demo_home("sail-loft"))
    w.show_step("balance")
    board = w.board("balance")
    qtbot.waitUntil(w.settled)
    assert board.charts.currentWidget() is board.lacking
    ident = next(i for i in board.lacking.sketch.ids() if ":" in i)
    board.lacking.clicked.emit(ident)
    focus = QApplication.focusWidget()
    assert w.step != "balance" and focus is not None and w.board(w.step).isAncestorOf(focus)


def test_beside_a_typed_n50_stands_that_of_the_test_that_counts(open_home, qtbot: QtBot) -> None:  # type: ignore[no-untyped-def]
    home = demo_home("weir-cottage")
    typed = replace(home, air=replace(home.air, n50=Given(value=3.0, basis=Basis.DECLARED), test=home.air_tests[-1].id))
    w = open_home(typed)
    w.show_step("air")
    field = w.board("air").card.fields["n50"]
    counted = w.document.assessment.figures["n50"].value
    assert "counts" in field.hint.text() and f"{counted:.2f}" in field.hint.text() and field.edit.text().startswith("3")
    w.document.desk.apply(SetValue(part="air", field="test", value=""))
    qtbot.waitUntil(w.settled)
    assert field.hint.text() == ""


def test_what_a_rule_puts_in_is_not_told_as_entered_by_people(osier_assessed: Assessment) -> None:
    for key in ("heating_demand", "primary_energy", "heating_load"):
        node = osier_assessed.figures[key]
        assert isinstance(node, Known)
        entered, rest, _ = come_from(node)
        assert entered and all(
            isinstance(leaf.value, str) or leaf.basis in ("assumed", "declared", "calculated", "measured") for leaf in entered
        )
        assert not any(leaf.part and leaf.basis in ("assumed", "declared") for leaf in rest)


def test_limits_are_read_set_by_set(open_home, qtbot: QtBot) -> None:  # type: ignore[no-untyped-def]
    w = open_home(demo_home("weir-cottage"))
    w.show_step("brief")
    made = w.board("brief").limits.sketch
    said = words(made)
    for chosen in w.document.home.target_sets:
        assert said.count(chosen.name) == 1
    sources = [v.source for v in w.document.assessment.verdicts if v.set_name == "Passive-house retrofit"]
    assert len(set(sources)) == 1 < len(sources) and " ".join(said).count(sources[0]) == 1, (
        "where a whole set comes from is said once, and not cut"
    )
    limits = [w.limit_words().partition(" (")[0].split(" ", 2)[2] for v in w.document.assessment.verdicts for w in v.ways]
    assert all(any(limit in text for text in said) for limit in limits), "the number and unit of a limit are never cut"
    rows = [i for i in made.items if isinstance(i, Line) and i.id]
    assert len(rows) == sum(len(v.ways) for v in w.document.assessment.verdicts)


def test_the_office_is_read_section_by_section(osier_window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:  # type: ignore[no-untyped-def]
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    w = osier_window
    w.go("office")
    page = w.office
    titles = [page.sections.item(n).text() for n in range(page.sections.count())]
    assert titles[0] == "Company" and {"Materials", "Fans for air tests", "Profiles of dossiers", "Target sets"} <= set(titles)
    assert page.card.isVisible() and not page.fans.table.isVisible()
    page.sections.setFocus()
    for _ in range(titles.index("Fans for air tests")):
        QTest.keyClick(page.sections, Qt.Key.Key_Down)
    assert page.fans.table.isVisible() and page.rings.table.isVisible() and not page.card.isVisible()
    w.go("home")


def test_a_dry_build_up_says_how_near_it_comes(osier_assessed: Assessment) -> None:
    from nuthatch.core.fabric.vapour import nearest_in_words
    from nuthatch.core.views.build_ups.section import moisture_year, vapour_of

    build = osier_assessed.home.buildups[0]
    v = vapour_of(osier_assessed, build)
    assert v is not None and v.year is not None and v.year.dry
    made = moisture_year(osier_assessed, build)
    m, at, share = v.year.nearest()
    said = " ".join(words(made))
    assert f"{100 * share:.0f} %" in said and nearest_in_words(v).split(":")[0] in said and sum("%" in t for t in words(made)) >= 12
    cottage = demo_home("weir-cottage")
    a = assess(cottage, climate_for(cottage, None))
    wet = [x for b in cottage.buildups if (x := vapour_of(a, b)) is not None and x.year is not None and not x.year.dry]
    assert wet and nearest_in_words(wet[0]) == ""


@pytest.mark.parametrize("units", [METRIC, INCH_POUND])
def test_limits_and_months_are_read_whole(osier_window, qtbot: QtBot, units: str) -> None:  # type: ignore[no-untyped-def]
    """In the smallest window each limit with its unit and margin; months of hot water with their year beside the fields of the demand."""
    w = osier_window
    w.appearance.units(units)
    try:
        w.resize(1100, 700)
        qtbot.waitUntil(w.settled)
        bars = w.margins.bars
        room = int(bars.width() * PLUMB) - 8
        said = [bars.limit_words(way, f"{ident}/{way.key}", room)[0] for ident, way in bars.rows]
        assert len(said) > 10 and not [x for x in said if "…" in x]
        w.resize(1280, 800)
        w.show_step("hot-water")
        qtbot.waitUntil(w.settled)
        months = w.board("hot-water").months
        assert months.isVisible() and months.horizontalScrollBar().maximum() == 0
    finally:
        w.appearance.units(METRIC)


def test_a_column_grows_with_its_numbers(qtbot: QtBot) -> None:
    table = ReadTable("Months", ("", "J", "F"), (60, 31, 31))
    qtbot.addWidget(table)
    table.show_rows([("a", ("a name of many words", "0", "123\u202f456.7"))], (1, 2))
    assert table.columnWidth(0) == 60 and table.columnWidth(1) == 31
    assert table.columnWidth(2) >= QFontMetrics(table.font()).horizontalAdvance("123\u202f456.7")
