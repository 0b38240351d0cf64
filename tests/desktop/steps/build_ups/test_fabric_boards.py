"""Build-ups, openings and the ledger in the window: by keyboard, by dragging, by paste; starter envelopes that leave what was measured."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QWidget
from pytestqt.qtbot import QtBot

from nuthatch.core.edits.fabric_edits import users_of
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import find
from nuthatch.core.model.part import Basis
from nuthatch.core.sketch import Text
from nuthatch.core.units import INCH_POUND, METRIC, use
from nuthatch.desktop.document import Document
from nuthatch.desktop.widgets.quantity_field import QuantityField
from nuthatch.desktop.window import MainWindow

K = Qt.Key
Open = Callable[..., MainWindow]


@pytest.fixture
def weir(open_home: Open, qtbot: QtBot) -> MainWindow:
    w = open_home(demo_home("weir-cottage"))
    w.resize(1280, 800)
    w.show_step("build-ups")
    qtbot.waitUntil(w.settled)
    return w


def type_into(field: QWidget, text: str) -> None:
    inner = field.edit if isinstance(field, QuantityField) else field
    inner.setFocus(Qt.FocusReason.TabFocusReason)
    QTest.keyClicks(inner, text)
    QTest.keyClick(inner, K.Key_Return)


def test_a_wall_is_made_from_nothing_by_keyboard_alone(open_home: Open, qtbot: QtBot) -> None:
    """Add a build-up, two layers, their values typed in either system; no mouse. R 0.13 + 0.2/0.035 + 0.015/0.13 + 0.04."""
    from nuthatch.core.library import new_home

    w = open_home(new_home())
    w.show_step("build-ups")
    qtbot.waitUntil(w.settled)
    b = w.board("build-ups")
    before = len(w.document.home.buildups)
    QTest.keyClick(b.builds.add_button, K.Key_Space)
    qtbot.waitUntil(w.settled)
    build = w.document.home.buildups[before]
    assert b.current() == build.id
    b.in_front(b.layers)
    for name, d, lam in (("Wool", "200 mm", "0.035"), ("Board", "0.59 in", "0.13")):
        QTest.keyClick(b.layers.add_button, K.Key_Space)
        qtbot.waitUntil(w.settled)
        card = b.layers.card
        type_into(card.fields["name"].inner, name)
        type_into(card.fields["thickness"], d)
        type_into(card.fields["conductivity"], lam)
        qtbot.waitUntil(w.settled)
    made = find(w.document.home, build.id)
    assert [layer.name for layer in made.layers] == ["Wool", "Board"]  # type: ignore[union-attr]
    r = 0.13 + 0.2 / 0.035 + 0.59 * 0.0254 / 0.13 + 0.04
    assert b.value.text() == f"U {1 / r:.3f}\u00a0W/(m²·K)"
    assert f"R-{r * 5.678263:.1f}" in b.sub.text(), "in the other system beside it"


def test_the_edge_of_a_layer_is_dragged_and_a_layer_carried(weir: MainWindow, qtbot: QtBot) -> None:
    b = weir.board("build-ups")
    b.builds.table.select("brick-inside")
    qtbot.waitUntil(weir.settled)
    view = b.drawing
    handle = next(h for h in view.sketch.handles if h.id == "brick-inside.2")
    start = view.point_of_handle("brick-inside.2")
    per = handle.pulls[0].per[0]
    drag(view, start, QPointF(0.02 / per, 0))
    qtbot.waitUntil(weir.settled)
    assert find(weir.document.home, "brick-inside.2").thickness.value == pytest.approx(0.08)  # type: ignore[union-attr]
    weir.undo()
    assert find(weir.document.home, "brick-inside.2").thickness.value == pytest.approx(0.06), "one drag, one step"  # type: ignore[union-attr]
    qtbot.waitUntil(weir.settled)
    row = {ident: (left + right) / 2 for ident, left, right in view.sketch.carries}
    y = view.height() * 0.6
    drag(view, QPointF(row["brick-inside.2"], y), QPointF(row["brick-inside.1"] - row["brick-inside.2"] - 20, 0))
    qtbot.waitUntil(weir.settled)
    build = find(weir.document.home, "brick-inside")
    assert [layer.id for layer in build.layers] == ["brick-inside.2", "brick-inside.1", "brick-inside.3"]  # type: ignore[union-attr]
    assert not [q for q in weir.document.assessment.questions if "gathers in Brick wall, lined" in q.text], (
        "outside of the brick it does not"
    )


def drag(view, start: QPointF, by: QPointF) -> None:  # type: ignore[no-untyped-def]
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=start.toPoint())
    for n in range(1, 6):
        QTest.mouseMove(view, (start + by * n / 5).toPoint())
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=(start + by).toPoint())


def test_moisture_is_shown_over_the_section_and_through_the_year(weir: MainWindow, qtbot: QtBot) -> None:
    b = weir.board("build-ups")
    b.builds.table.select("brick-inside")
    assert not b.tools.month.isVisible() and b.tools.outside.isVisible()
    b.tools.over.setCurrentText("moisture")
    texts = [i.text for i in b.drawing.sketch.items if isinstance(i, Text)]
    assert any("gathers from year to year" in t for t in texts) and b.tools.month.isVisible()
    b.tools.month.setCurrentText("August")
    assert any(t.startswith("August · ") for t in (i.text for i in b.drawing.sketch.items if isinstance(i, Text)))
    b.tools.over.setCurrentText("temperature")
    b.tools.outside.setValue(-15.0)
    assert "−15\u00a0°C" in [i.text for i in b.drawing.sketch.items if isinstance(i, Text)]
    b.work.drawings.show_index(1)
    assert "gathers from year to year" in b.moisture.sketch.title + " ".join(i.text for i in b.moisture.sketch.items if isinstance(i, Text))


def test_a_starter_envelope_leaves_what_was_measured(weir: MainWindow, qtbot: QtBot) -> None:
    b = weir.board("build-ups")
    before = weir.document.home
    b.work.lists.show_widget(b.envelopes)
    b.envelopes.structure.setCurrentText("masonry")
    b.envelopes.period.setCurrentText("low energy")
    assert b.envelopes.climate.currentText() == "mixed" and "stay because somebody" in b.envelopes.note.text()
    rows = {
        b.envelopes.table.item(r, 0).text(): [b.envelopes.table.item(r, c).text() for c in range(5)]
        for r in range(b.envelopes.table.rowCount())
    }
    assert any(cells[4] == "stays" and cells[2] == cells[3] for cells in rows.values())
    QTest.keyClick(b.envelopes.apply_button, K.Key_Space)
    qtbot.waitUntil(weir.settled)
    after = weir.document.home
    assert users_of(after, "brick-wall") == users_of(before, "brick-wall") and after != before
    measured = [x for x in before.buildups if x.id == "brick-wall"]
    assert [x for x in after.buildups if x.id == "brick-wall"] == measured
    weir.undo()
    assert weir.document.home == before


def test_a_build_up_is_swapped_put_between_and_made_by_r(weir: MainWindow, qtbot: QtBot) -> None:
    b = weir.board("build-ups")
    b.builds.table.select("brick-wall")
    places = len(users_of(weir.document.home, "brick-wall"))
    b.swap("brick-inside")
    qtbot.waitUntil(weir.settled)
    assert len(users_of(weir.document.home, "brick-inside")) == places + 1
    b.builds.table.select("brick-inside")
    b.in_front(b.layers)
    b.layers.table.select("brick-inside.1")
    b.put_between()
    build = find(weir.document.home, "brick-inside")
    assert [layer.name for layer in build.layers][1] == "New layer"  # type: ignore[union-attr]
    b.work.lists.show_widget(b.builds)
    b.by_r.show()
    assert not b.by_r.button.isEnabled() and b.by_r.note.text() == "needs Cavity R"
    for name, text in (("cavity", "R-21"), ("continuous", "R-5"), ("share", "25"), ("depth", "140")):
        type_into(b.by_r.fields[name], text)
    QTest.keyClick(b.by_r.button, K.Key_Space)
    qtbot.waitUntil(weir.settled)
    made = weir.document.home.buildups[-1]
    assert made.name == "Framed wall by R" and b.value.text() == "U 0.287\u00a0W/(m²·K)" and not b.by_r.isVisible()


def test_a_material_is_found_as_one_types(weir: MainWindow, qtbot: QtBot) -> None:
    b = weir.board("build-ups")
    b.builds.table.select("brick-inside")
    b.in_front(b.layers)
    b.layers.table.select("brick-inside.2")
    finder = b.library.completer()
    finder.setCompletionPrefix("hemp m")
    assert finder.completionCount() == 1 and finder.currentCompletion().startswith("Hemp mat")
    b.library.setCurrentIndex(b.library.findText(finder.currentCompletion()))
    b.take_material(0)
    layer = find(weir.document.home, "brick-inside.2")
    assert layer.name == "Hemp mat" and layer.conductivity.value == 0.042 and layer.conductivity.basis is Basis.ASSUMED  # type: ignore[union-attr]


def test_of_thirty_rows_with_two_bad_cells_twenty_eight_are_taken(weir: MainWindow, qtbot: QtBot) -> None:
    """The two stay as text below the list, are mended there and pasted again; nothing is lost."""
    weir.show_step("openings")
    b = weir.board("openings")
    panel = b.rows
    before = len(weir.document.home.openings)
    face = b.desk.faces()[0][1]
    kind = weir.document.home.opening_types[0].name
    rows = [f"P{n}\t{face}\t{kind}\t{'1,2x' if n == 7 else '1.2'}\t{'tall' if n == 21 else '1.0'}\t1" for n in range(1, 31)]
    panel.table.setCurrentIndex(panel.model.index(len(panel.model.rows) - 1, 0))
    panel.table.from_row = 0
    panel.table.paste_new("\n".join(rows))
    qtbot.waitUntil(weir.settled)
    names = [o.name for o in weir.document.home.openings]
    assert len(names) == before + 28 and "P7" not in names and "P21" not in names
    assert not panel.mending.isHidden() and panel.mending.text.toPlainText().split("\n") == [rows[6], rows[20]]
    assert (
        "Row 7, Width" in panel.mending.why.text()
        and "“x” does not fit" in panel.mending.why.text()
        and "Row 21" in panel.mending.why.toolTip()
    )
    panel.mending.text.setPlainText(panel.mending.text.toPlainText().replace("1,2x", "1.3").replace("tall", "much"))
    panel.mending.paste_again()
    assert len(weir.document.home.openings) == before + 29 and panel.mending.text.toPlainText().startswith("P21")
    panel.mending.text.setPlainText(panel.mending.text.toPlainText().replace("much", "1.4"))
    panel.mending.paste_again()
    assert {"P7", "P21"} <= {o.name for o in weir.document.home.openings} and panel.mending.isHidden()
    weir.undo()
    weir.undo()
    weir.undo()
    assert len(weir.document.home.openings) == before, "three pastes, three steps"


def test_net_gains_and_glass_to_floor_are_listed(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(demo_home("osier-lane-7"))
    w.show_step("openings")
    qtbot.waitUntil(w.settled)
    b = w.board("openings")
    b.work.lists.show_widget(b.net)
    first = [b.net.item(0, c).text() for c in range(8)]
    assert first[0].startswith("W-01") and first[1] == "south" and int(first[6].replace("\u202f", "")) > 300
    b.net.select("w-05")
    assert b.rows.table.current_id() == "w-05" and b.rows.card.isVisible(), "the list and the card follow"
    b.work.lists.show_widget(b.glass)
    shown = [b.glass.item(r, 0).text() for r in range(b.glass.rowCount())]
    assert "Living room, Ground floor" in shown and "south" in shown
    b.work.drawings.show_index(1)
    b.rows.table.select("w-01")
    texts = " ".join(i.text for i in b.single.sketch.items if isinstance(i, Text))
    assert "glass" in texts and "frame" in texts and "installation" in texts


def test_the_ledger_opened_while_the_home_is_read_fills_when_it_is_there(open_home: Open, qtbot: QtBot) -> None:
    document = Document(demo_home("sail-loft"))
    w = open_home(document.home, document, settle=False)
    w.go("ledger")
    qtbot.waitUntil(w.settled)
    assert w.center.ledger.table.rowCount() > 50 and "values not measured or declared" in w.center.ledger.sub.text()


def test_the_ledger_weighs_and_sets_in_bulk(open_home: Open, qtbot: QtBot, tmp_path: Path) -> None:
    w = open_home(demo_home("sail-loft"))
    qtbot.waitUntil(w.settled)
    w.go("ledger", "", "")
    ledger = w.center.ledger
    assert ledger.isVisible()
    qtbot.waitUntil(w.settled, timeout=60000)
    weights = [ledger.table.item(r, 5).text() for r in range(ledger.table.rowCount())]
    numbers = [float(t.removesuffix(" %")) for t in weights if t.startswith("+")]
    assert len(numbers) > 20 and numbers == sorted(numbers, reverse=True) and "Envelope trade-off" in ledger.sub.text()
    ledger.search.setText("glass u_g")
    assert ledger.table.rowCount() == 1
    ledger.table.selectAll()
    (tmp_path / "sheet.txt").write_text("U_g 1.3")
    ledger.attach(tmp_path / "sheet.txt")
    kind = w.document.home.opening_types[0]
    assert kind.glass_u.files == (w.document.home.evidence[0].id,)
    qtbot.waitUntil(w.settled, timeout=60000)
    ledger.table.selectAll()
    ledger.set_basis(Basis.DECLARED)
    assert w.document.home.opening_types[0].glass_u.basis is Basis.DECLARED
    qtbot.waitUntil(w.settled, timeout=60000)
    assert ledger.table.rowCount() == 0, "it is known now"
    said: list[str] = []
    ledger.said.connect(said.append)
    ledger.attach(tmp_path / "sheet.txt")
    assert "Choose the values" in said[-1]
    ledger.search.setText("")
    ident = ledger.table.item(0, 0).data(256)
    ledger.lead(ident)
    assert not ledger.isVisible() and w.step in ("build-ups", "openings", "shape")


def test_the_sections_tools_keep_to_the_units_shown(weir: MainWindow, qtbot: QtBot) -> None:
    b = weir.board("build-ups")
    use(INCH_POUND)
    try:
        b.draw()
        assert b.tools.inside.value() == pytest.approx(68.0) and b.tools.inside.suffix() == " °F"
    finally:
        use(METRIC)
    QApplication.processEvents()
