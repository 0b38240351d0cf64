"""The real window: edits, margins, change line, undo, questions, jump box, workings, files, every board."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QApplication, QComboBox, QLineEdit, QMessageBox, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from nuthatch.core.assess import assess
from nuthatch.core.changes.changes import ChangeRefused, SetValue, apply, declared
from nuthatch.core.energy.stages import BALANCE
from nuthatch.core.library import DEMO, demo_home, library_climate, new_home
from nuthatch.core.model.home import find
from nuthatch.core.results.figure import Entered, Known
from nuthatch.core.sketch import Path as Drawn
from nuthatch.core.steps import NAMES as STEPS
from nuthatch.core.steps import step_of
from nuthatch.core.units import show
from nuthatch.core.views.ledger import entries, margins, tries
from nuthatch.desktop.steps.boards import board_of
from nuthatch.desktop.widgets.quantity_field import QuantityField
from nuthatch.desktop.window import MainWindow
from tests.desktop.conftest import briefly
from tests.form_homes import form_home
from tests.undetailed import at_rest


def field(window: MainWindow, step: str, part: str, name: str) -> QuantityField:
    """Go to a field as an open question would and return it."""
    window.go(step, part, name)
    focused = QApplication.focusWidget()
    owner = focused.parent() if focused else None
    assert isinstance(owner, QuantityField), f"{step} has no field {part}.{name}"
    return owner


def type_into(qtbot: QtBot, target: QuantityField, text: str, enter: bool = True) -> None:
    target.edit.selectAll()
    qtbot.keyClicks(target.edit, text)
    if enter:
        qtbot.keyClick(target.edit, Qt.Key.Key_Return)


def shown_value(window: MainWindow, key: str) -> str:
    return next(show(w.value, w.kind) for _, w in window.margins.bars.rows if w.key == key)


def press(window: MainWindow, qtbot: QtBot, key: Qt.Key, shift: bool = False) -> None:
    """A shortcut of the window."""
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    modifiers = Qt.KeyboardModifier.ControlModifier | (Qt.KeyboardModifier.ShiftModifier if shift else Qt.KeyboardModifier.NoModifier)
    qtbot.keyClick(window, key, modifiers)


def test_wall_insulation_moves_margins_change_line_cutaway_and_balance(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    home, before = w.document.home, w.document.assessment
    target = field(w, "build-ups", "outer-wall.3", "thickness")
    painted = w.margins.bars.painted
    type_into(qtbot, target, "300")
    after = w.document.assessment
    assert after.figures["heating_demand"].value < before.figures["heating_demand"].value
    judged, was = (a.under("passive-house").figures["heating_demand"].value for a in (after, before))
    assert shown_value(w, "heating_demand") == show(judged, "specific_energy")
    assert w.margins.bars.ghosts["passive-house/heating_demand"] == pytest.approx(was / 15)
    qtbot.waitUntil(w.settled)
    qtbot.waitUntil(lambda: w.margins.bars.painted > painted)
    assert "Mineral wool between studs: thickness 220 → 300" in w.change_line.text and "heating demand −" in w.change_line.text
    old = cutaway_items(w, "part:walls")
    w.show_step("cutaway")
    assert old and cutaway_items(w, "part:walls") != old
    w.show_step("balance")
    qtbot.waitUntil(w.settled)
    texts = [i.text for i in w.board("balance").table.sketch.items if hasattr(i, "text")]
    assert show(after[BALANCE].losses["walls"].value.sum(), "energy_month") in texts
    press(w, qtbot, Qt.Key.Key_Z)
    assert w.document.home is home, "one undo takes back the whole typing"
    assert w.document.assessment.figures["heating_demand"].value == pytest.approx(before.figures["heating_demand"].value, rel=1e-12)
    assert w.change_line.text.startswith("Undone:")
    press(w, qtbot, Qt.Key.Key_Z, shift=True)
    assert find(w.document.home, "outer-wall.3").thickness.value == pytest.approx(0.3)


def cutaway_items(window: MainWindow, ident: str) -> list:
    sketch = window.board("cutaway").drawing.sketch
    return [i.points for i in sketch.items if isinstance(i, Drawn) and i.id == ident] if sketch else []


def test_a_number_typed_becomes_declared_and_takes_evidence(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    assert find(w.document.home, "outer-wall.4").conductivity.basis.value == "assumed"
    target = field(w, "build-ups", "outer-wall.4", "conductivity")
    type_into(qtbot, target, "0.12")
    given = find(w.document.home, "outer-wall.4").conductivity
    qtbot.waitUntil(w.settled)
    assert given.basis.value == "declared" and target.mark.text() == "◐"
    card = w.board("build-ups").layers.card
    proof = next(e for e in card.findChildren(QLineEdit) if e.accessibleName() == "Evidence")
    proof.setFocus()
    qtbot.keyClicks(proof, "sheet 12.pdf")
    qtbot.keyClick(proof, Qt.Key.Key_Return)
    assert find(w.document.home, "outer-wall.4").conductivity.evidence == "sheet 12.pdf"
    basis = next(b for b in card.findChildren(QComboBox) if b.accessibleName() == "Basis")
    basis.setCurrentIndex(3)
    basis.activated.emit(3)
    assert find(w.document.home, "outer-wall.4").conductivity.basis.value == "measured"


def test_a_fraction_in_a_percent_field_is_asked_about(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    target = field(w, "air", "unit", "recovery")
    type_into(qtbot, target, "0.8", enter=False)
    assert target.hint.text() == "0.8 % or 80 %?" and target.edit.text() == "0.8"
    assert w.document.home.air.units[0].recovery.value == 0.84, "the old value holds"
    buttons = [b for b in target.findChildren(QPushButton) if b.text() == "80 %"]
    qtbot.mouseClick(buttons[0], Qt.MouseButton.LeftButton)
    assert w.document.home.air.units[0].recovery.value == pytest.approx(0.8)
    type_into(qtbot, target, "0.9")
    assert w.document.home.air.units[0].recovery.value == pytest.approx(0.009), "Enter takes it as typed"


@pytest.mark.parametrize(
    ("step", "part", "name", "text", "says", "value"),
    [
        ("build-ups", "outer-wall.3", "thickness", "thick", "not a number", 0.22),
        ("build-ups", "outer-wall.3", "thickness", "-50", "more than 0", 0.22),
        ("build-ups", "outer-wall.3", "conductivity", "0", "more than 0", 0.035),
        ("build-ups", "outer-wall.3", "thickness", "3 kg", "does not fit", 0.22),
        ("hot-water", "hot-water", "temperature", "140 F", "", 60.0),
        ("build-ups", "outer-wall.3", "thickness", "9,5 in", "", 0.2413),
        ("shape", "ground", "height", "3,15", "", 3.15),
        ("air", "air", "n50", "-1", "at least 0", 0.64),
        ("build-ups", "outer-wall.3", "framing_share", "95 %", "at most 90", 0.09),
    ],
)
def test_bad_and_unusual_input(
    osier_window: MainWindow, qtbot: QtBot, step: str, part: str, name: str, text: str, says: str, value: float
) -> None:
    w = osier_window
    target = field(w, step, part, name)
    type_into(qtbot, target, text)
    assert getattr(find(w.document.home, part), name).value == pytest.approx(value)
    if says:
        assert says in target.hint.text() and target.edit.text() == text, "the text stays as typed"
        qtbot.waitUntil(w.settled)
        assert target.edit.text() == text
        qtbot.keyClick(target.edit, Qt.Key.Key_Escape)
        assert target.edit.text() != text and says not in target.hint.text()


def test_open_questions_lead_to_their_field_and_go_when_settled(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    links = [w.margins.question_links.itemAt(i).widget() for i in range(w.margins.question_links.count())]
    assert len(links) == 3 and "Roof window" in links[0].accessibleName()
    links[0].setFocus()
    qtbot.keyClick(links[0], Qt.Key.Key_Return)
    assert w.step == "openings"
    owner = QApplication.focusWidget().parent()
    assert isinstance(owner, QuantityField) and owner.spec.name == "install_psi"
    type_into(qtbot, owner, "0.03")
    qtbot.waitUntil(w.settled)
    assert len(w.document.assessment.questions) == 2 and w.margins.question_links.count() == 2


def test_jump_box_goes_to_steps_parts_and_results(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    for text, check in (
        ("site", lambda: w.step == "site"),
        ("oak", lambda: w.step == "build-ups" and w.board("build-ups").layers.table.current_id() == "slab.5"),
        ("primary en", lambda: w.center.working.trail[0].label == "Primary energy"),
    ):
        press(w, qtbot, Qt.Key.Key_K)
        w.jump.setFocus()
        qtbot.keyClicks(w.jump, text)
        assert w.jump.list.isVisible()
        qtbot.keyClick(w.jump, Qt.Key.Key_Return)
        assert check(), text
    w.center.close_working()


def test_a_result_opens_down_to_an_entered_value_and_leads_there(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    bars, view = w.margins.bars, w.center.working
    row = next(i for i, (_, way) in enumerate(bars.rows) if way.key == "heating_demand")
    qtbot.mouseClick(bars, Qt.MouseButton.LeftButton, pos=QPoint(30, bars.top_of(row) + 10))
    assert view.isVisible() and view.formula.accessibleDescription() == "q = Σ(Q)/A"
    for _ in range(30):
        items = [item for _, item in view.trail[-1].rows()]
        leaf = next((n for n, item in enumerate(items) if isinstance(item, Entered) and item.part), None)
        if leaf is not None:
            break
        index = next(n for n, item in enumerate(items) if isinstance(item, Known))
        point = view.inputs.point_of(f"input:{index}")
        assert point is not None
        qtbot.mouseClick(view.inputs, Qt.MouseButton.LeftButton, pos=point.toPoint())
    assert leaf is not None and len(view.trail) > 2
    depth = len(view.trail)
    qtbot.keyClick(view, Qt.Key.Key_Backspace)
    assert len(view.trail) == depth - 1
    view.open_input(next(n for n, (_, item) in enumerate(view.trail[-1].rows()) if isinstance(item, Known)))
    wanted = items[leaf]
    view.open_input(leaf)
    assert not view.isVisible() and w.step == step_of(find(w.document.home, wanted.part), wanted.field)


def test_cutaway_parts_lead_to_their_steps(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    view = w.board("cutaway").drawing
    for ident, step in (("part:roof", "build-ups"), ("part:fresh air", "air"), ("part:sun", "openings")):
        w.show_step("cutaway")
        point = view.point_of(ident)
        assert point is not None, ident
        qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=point.toPoint())
        assert w.step == step


def test_route_by_mouse_and_keyboard(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    assert [board_of(k).key for k, _ in STEPS] == [k for k, _ in STEPS], "the route shows only boards that exist"
    qtbot.mouseClick(w.route, Qt.MouseButton.LeftButton, pos=w.route.point_of("air").toPoint())
    assert w.step == "air"
    w.route.setFocus()
    qtbot.keyClick(w.route, Qt.Key.Key_Down)
    assert w.step == "hot-water"
    assert "Openings: 1 open questions" in w.route.accessibleDescription()


@pytest.mark.parametrize("home", ["osier-lane-7", "weir-cottage", "sail-loft", "new"])
def test_every_board_of_every_home_shows_without_a_fault(open_home, qtbot: QtBot, home: str) -> None:
    w = open_home(briefly(new_home() if home == "new" else demo_home(home)))
    for key, _ in STEPS:
        w.show_step(key)
        qtbot.waitUntil(w.settled, timeout=120_000)  # the ladders of a home with options take a while
        assert not w.grab().isNull()
        assert w.board(key).sub.text() or key in ("brief", "air", "dossier")
        assert w.minimumSizeHint().width() <= 1280, f"{key} is wider than the window"


def test_small_and_dark_windows(open_home, qtbot: QtBot) -> None:
    w = open_home(briefly(demo_home("osier-lane-7")))
    w.resize(1100, 700)
    w.appearance.dark(True)
    for key, _ in STEPS:
        w.show_step(key)
        qtbot.waitUntil(w.settled, timeout=120_000)  # the ladders of a home with options take a while
        assert w.size().width() == 1100 and w.board(key).minimumSizeHint().width() <= w.board(key).width(), key
    w.appearance.dark(False)


def test_controls_have_names_for_a_screen_reader(osier_window: MainWindow) -> None:
    w = osier_window
    for key, _ in STEPS:
        w.show_step(key)
        for widget in w.board(key).findChildren(QWidget):
            if isinstance(widget, QLineEdit | QComboBox) and widget.isVisible() and widget.focusPolicy() != Qt.FocusPolicy.NoFocus:
                assert (
                    widget.accessibleName()
                    or isinstance(widget.parent(), QComboBox)
                    or "spinbox" in (widget.objectName() or "qt_spinbox_lineedit")
                ), (key, widget)


def test_faces_pasted_from_a_spreadsheet(open_home, qtbot: QtBot) -> None:
    w = open_home(form_home("sail-loft"))
    w.show_step("shape")
    panel = w.board("shape").faces
    number = len(w.document.home.shape.faces)
    panel.table.setCurrentIndex(panel.model.index(number - 1, 0))
    block = "Floor over the workshop\tfloor\t41,4\t180\t0\tunheated space\tFloor over the workshop\t0.7\nDormer cheek\twall\t3.2 m²\t90\t90\toutside air\tWall, starter envelope\t\nDormer roof\troof\t25 sqft\t5\t180\toutside air\tRoof, starter envelope\t\n"
    QGuiApplication.clipboard().setText(block)
    qtbot.keyClick(panel.table, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    faces = w.document.home.shape.faces
    assert len(faces) == number + 2 and faces[-1].area.value == pytest.approx(25 * 0.09290304) and faces[-2].buildup == "loft-wall"
    assert faces[number - 1].b.value == 0.7
    press(w, qtbot, Qt.Key.Key_Z)
    assert len(w.document.home.shape.faces) == number, "the paste is one step"
    said = []
    w.board("shape").message.connect(said.append)
    panel.table.paste("New\twall\t12\t90\t0\tthe sea\t\t\n")
    assert "Row 1, Borders on" in said[0] and "outside air" in said[0] and len(w.document.home.shape.faces) == number


def test_tables_behave_like_a_spreadsheet(open_home, qtbot: QtBot) -> None:
    w = open_home(form_home("osier-lane-7"))
    w.show_step("junctions")
    panel = w.board("junctions").list
    table = panel.table
    assert [r.id for r in panel.model.rows][:2] == ["j-01", "j-02"]
    table.setFocus()
    table.setCurrentIndex(panel.model.index(0, 2))
    qtbot.keyClick(table, "1")
    editor = table.findChild(QLineEdit)
    assert editor is not None
    qtbot.keyClicks(editor, "5")
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: find(w.document.home, "j-01").length.value == 15)
    table.setCurrentIndex(panel.model.index(2, 2))
    qtbot.keyClick(table, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    assert QGuiApplication.clipboard().text() == "9.40"
    table.sortByColumn(2, Qt.SortOrder.DescendingOrder)
    lengths = [r.length.value for r in panel.model.rows]
    assert lengths == sorted(lengths, reverse=True)
    number = len(w.document.home.junctions)
    qtbot.keyClick(table, Qt.Key.Key_Delete)
    assert len(w.document.home.junctions) == number - 1
    table.duplicate_row()
    assert len(w.document.home.junctions) == number and any("copy" in j.name for j in w.document.home.junctions)
    panel.model.setData(panel.model.index(0, 2), "long")
    assert isinstance(panel.card.fields["length"], QuantityField) and "not a number" in panel.card.fields["length"].hint.text()


def test_layers_are_added_moved_and_taken_from_the_library(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    w.show_step("build-ups")
    board = w.board("build-ups")
    assert board.builds.table.current_id() == "outer-wall"
    number = len(find(w.document.home, "outer-wall").layers)
    board.layers.add()
    assert len(find(w.document.home, "outer-wall").layers) == number + 1
    index = next(
        i
        for i in range(board.library.count())
        if board.library.itemText(i).startswith("Cork") or board.library.itemText(i).startswith("Cellular")
    )
    board.library.setCurrentIndex(index)
    board.library.activated.emit(index)
    new = find(w.document.home, "outer-wall").layers[-1]
    assert new.conductivity.value == 0.041 and new.conductivity.basis.value == "assumed" and new.conductivity.source
    board.layers.shift(-1)
    assert find(w.document.home, "outer-wall").layers[-2].id == new.id
    assert "thickness of" in board.sub.text() and w.document.assessment.figures["heating_demand"].value is None


def test_tint_turn_and_see_through(form_window: MainWindow, qtbot: QtBot) -> None:
    w = form_window
    w.show_step("shape")
    board = w.board("shape")
    first = board.solid_view.sketch
    board.solid_view.turned.emit(-176.0, 0.0)
    assert board.plans.table.look.turn == 120
    assert board.solid_view.sketch.items != first.items
    board.tint.by.setCurrentText("U-value")
    assert not board.tint.range.isHidden()
    board.tint.high.setValue(0.2)
    board.tint.decimals.setValue(3)
    texts = [i.text for i in board.solid_view.sketch.items if hasattr(i, "text")]
    assert "from 0.160\u00a0W/(m²·K)" in texts
    board.looks.glass.trigger()
    assert any(getattr(i, "dash", False) for i in board.solid_view.sketch.items)
    board.to_list.click()
    qtbot.waitUntil(w.settled)
    assert w.document.home.shape.form is None and len(w.document.home.shape.faces) == 7


def test_target_sets_are_chosen_in_the_brief(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    w.show_step("brief")
    w.board("brief").boxes["retrofit"].click()
    assert "retrofit" in [s.id for s in w.document.home.target_sets]
    assert any(s == "retrofit" for s, _ in w.margins.bars.rows)
    w.board("brief").boxes["residential-code"].click()
    assert not any(s == "residential-code" for s, _ in w.margins.bars.rows)


def test_climate_is_switched_and_undone(osier_window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    w = osier_window
    mild = w.document.assessment.figures["heating_demand"].value
    w.show_step("site")
    board = w.board("site")
    board.climates.choose("shipped:hallin-fell")
    board.climates.card.use_button.click()
    qtbot.waitUntil(lambda: w.settled() and w.document.climate is not None, timeout=20000)
    assert w.document.assessment.figures["heating_demand"].value > 1.4 * mild
    w.document.desk.undo()
    assert w.document.assessment.figures["heating_demand"].value == pytest.approx(mild)
    (tmp_path / "bad.epw").write_text("LOCATION,x\n")
    said = []
    board.message.connect(said.append)
    board.take_file(tmp_path / "bad.epw")
    assert board.reading.waiting.isVisibleTo(board), "it is said that it is being read"
    qtbot.waitUntil(lambda: not board.reading.running, timeout=30000)
    assert "bad.epw" in said[0] and w.document.home.site.climate.name == "Marrowby Quay"
    (tmp_path / "own.epw").write_bytes(library_climate("verrin-plain").replace(b"Verrin Plain", b"Own Place"))
    board.take_file(tmp_path / "own.epw")
    qtbot.waitUntil(lambda: not board.reading.running, timeout=30000)
    qtbot.waitUntil(lambda: w.settled() and w.document.climate is not None, timeout=20000)
    assert w.document.climate.name == "Own Place" and w.document.home.site.climate.name == "Own Place"
    w.document.save(tmp_path / "own.nuthatch")
    from nuthatch.core import load

    assert load(tmp_path / "own.nuthatch")[1].name == "Own Place", "the file carries its weather"


def test_unsaved_changes_are_never_lost_without_asking(osier_window: MainWindow, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    w = osier_window
    w.document.desk.apply(SetValue(part="air", field="n50", value=declared(0.5)))
    asked = []

    def answer(*arguments: object) -> QMessageBox.StandardButton:
        asked.append(arguments)
        return QMessageBox.StandardButton.Cancel

    monkeypatch.setattr(QMessageBox, "question", answer)
    assert not w.close() and asked and w.isVisible()
    w.files.new()
    assert w.document.home.name == "Osier Lane 7"
    assert w.files.save_to(tmp_path / "a.nuthatch") and "saved" in w.bar.state.text() and w.close() and len(asked) == 2


def test_a_file_that_cannot_be_opened_or_saved_is_said(osier_window: MainWindow, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    w = osier_window
    said = []
    monkeypatch.setattr(QMessageBox, "warning", lambda *a: said.append(a[2]))
    (tmp_path / "bad.nuthatch").write_bytes(b"PK nothing")
    assert not w.files.open_path(tmp_path / "bad.nuthatch") and "bad.nuthatch" in said[0] and w.document.home.name == "Osier Lane 7"
    assert not w.files.save_to(tmp_path / "no folder" / "x.nuthatch") and "could not be saved" in said[1]


def test_shares_follow_each_other_in_the_card(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    w.show_step("heat-power")
    w.board("heat-power").sources.add()
    new = w.document.home.sources[-1]
    target = field(w, "heat-power", new.id, "heating_share")
    type_into(qtbot, target, "30 %")
    assert [s.heating_share.value for s in w.document.home.sources] == pytest.approx([0.7, 0.3])


def test_dossier_is_written_in_the_background(open_home, qtbot: QtBot, tmp_path: Path) -> None:
    w = open_home(briefly(at_rest(demo_home("osier-lane-7"))))
    w.show_step("dossier")
    board = w.board("dossier")
    board.write(tmp_path / "d.pdf")
    assert not board.write_button.isEnabled()
    qtbot.waitUntil(board.write_button.isEnabled, timeout=60000)
    assert (tmp_path / "d.pdf").read_bytes().startswith(b"%PDF") and "written" in w.change_line.text


def test_pinned_reference_keeps_its_marks(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    w.margins.pin.click()
    start = w.document.assessment.under("passive-house").figures["heating_demand"].value
    for mm in (0.25, 0.3, 0.35):
        w.document.desk.apply(SetValue(part="outer-wall.3", field="thickness", value=declared(mm)))
    assert w.margins.bars.ghosts["passive-house/heating_demand"] == pytest.approx(start / 15)


@pytest.mark.usefixtures("weighed_at_rest")
@pytest.mark.parametrize("name", DEMO)
def test_what_to_find_out_first_is_the_same_in_rail_ledger_and_by_whole_assessments(name: str, open_home, qtbot: QtBot) -> None:
    w = open_home(at_rest(demo_home(name)))
    qtbot.waitUntil(lambda: "first to find out" in w.margins.assumed)
    w.go("ledger")
    qtbot.waitUntil(w.settled)
    row, margin, weight = w.document.weighing.first
    assert w.center.ledger.table.item(0, 0).data(256) == row.id and f"{100 * weight.change:.2f} %" in w.margins.assumed
    a = w.document.assessment
    base, largest = margins(a), 0.0
    for e in (row, *entries(a.home)[::20]):  # each by a whole assessment, from nothing
        for value, _ in tries(e):
            try:
                home = apply(SetValue(part=e.part, field=e.field, value=e.given.model_copy(update={"value": value})), a.home)
            except ChangeRefused:
                continue
            if (found := margins(assess(home, a.climate))).get(margin) is not None and e.used != "nowhere":
                largest = max(largest, found[margin] - base[margin])
    assert weight.change == pytest.approx(largest, abs=1e-12)


def test_names_are_shown_as_they_are_and_make_good_file_names(osier_window: MainWindow, qtbot: QtBot) -> None:
    from nuthatch.desktop.home_files import plain_name

    w = osier_window
    w.document.desk.apply(SetValue(part="home", field="name", value="<b>Plot 7/8</b>"))
    w.document.desk.apply(SetValue(part="roof-window", field="name", value="<img src=x> & co"))
    qtbot.waitUntil(w.settled)
    assert w.bar.name.text() == "<b>Plot 7/8</b>" and w.bar.name.textFormat() == Qt.TextFormat.PlainText
    link = w.margins.question_links.itemAt(0).widget()
    assert "<img" not in link.text() and "&lt;img src=x&gt; &amp; co" in link.text()
    assert plain_name("Plot 7/8: a?") == "Plot 7-8- a-" and plain_name("...") == "home"


def test_what_the_file_dialogs_give_is_used(
    osier_window: MainWindow, monkeypatch: pytest.MonkeyPatch, tmp_path: Path, qtbot: QtBot
) -> None:
    from PyQt6.QtWidgets import QFileDialog

    w = osier_window
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(tmp_path / "mine"), ""))
    assert w.files.save_as() and (tmp_path / "mine.nuthatch").exists() and w.document.path == tmp_path / "mine.nuthatch"
    w.document.desk.apply(SetValue(part="air", field="n50", value=declared(0.55)))
    assert "changed, not saved" in w.bar.state.text() and w.files.save() and "saved" in w.bar.state.text()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: ("", ""))
    assert not w.files.save_as()
    w.files.new()
    assert w.document.home.name == "New home" and w.step == "brief"
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(tmp_path / "mine.nuthatch"), ""))
    w.files.open_dialog()
    qtbot.waitUntil(w.settled, timeout=20000)
    assert w.document.home.air.n50.value == 0.55 and shown_value(w, "n50") == "0.55"
    w.files.open_demo("weir-cottage")
    qtbot.waitUntil(w.settled, timeout=20000)
    assert w.document.home.name == "Weir Cottage"


def test_a_ventilation_unit_is_added_and_removed(open_home, qtbot: QtBot) -> None:
    w = open_home(demo_home("weir-cottage"))
    w.show_step("air")
    board = w.board("air")
    w.document.desk.choose("air", "test", "")
    type_into(qtbot, field(w, "air", "air", "n50"), "1")  # in a tight home; a leaky one gets all its air through the gaps
    before = w.document.assessment.figures["ventilation_loss_coefficient"].value
    board.fresh.units.add_button.click()
    qtbot.waitUntil(w.settled)
    assert w.document.home.air.units and w.document.assessment.figures["heating_demand"].value is None, "recovery is not given yet"
    assert any(q.field == "recovery" for q in w.document.assessment.questions)
    type_into(qtbot, field(w, "air", "unit-1", "recovery"), "80 %")
    type_into(qtbot, field(w, "air", "unit-1", "power"), "0.4")
    assert w.document.assessment.figures["ventilation_loss_coefficient"].value < before
    board.fresh.units.table.select("unit-1")
    board.fresh.units.table.remove_selected()
    qtbot.waitUntil(w.settled)
    assert not w.document.home.air.units and w.document.assessment.figures["ventilation_loss_coefficient"].value == pytest.approx(before)


def test_typical_psi_is_taken_from_the_catalogue(osier_window: MainWindow) -> None:
    w = osier_window
    w.show_step("junctions")
    panel = w.board("junctions").list
    w.board("junctions").in_front(panel)
    panel.table.select("j-10")
    w.board("junctions").take("fallback")
    j = find(w.document.home, "j-10")
    assert (j.psi.value, j.tier, j.dimensions, j.psi.basis.value) == (0.30, "fallback", "external", "assumed")
    assert len(w.document.assessment.questions) == 2, "the mixed dimensions are settled with it"
