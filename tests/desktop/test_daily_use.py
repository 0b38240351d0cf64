"""Daily use through the real window: register, office, two windows on one file, autosave, evidence, pins, units, own sets."""

from __future__ import annotations

import csv
from collections.abc import Callable, Iterator
from pathlib import Path

import openpyxl
import pytest
from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLabel, QMessageBox, QPushButton, QTableWidgetItem
from pytestqt.qtbot import QtBot

from nuthatch.core.changes.changes import SetValue, declared
from nuthatch.core.exchange.own_sets import own_sets, sets_folder
from nuthatch.core.files import autosave, places, versions
from nuthatch.core.files.homefile import HomeFile, read, write
from nuthatch.core.library import DATA, DEMO, demo_folder, demo_home
from nuthatch.core.model.home import Home, find
from nuthatch.core.model.part import Basis, replace
from nuthatch.core.office import import_office, load_office
from nuthatch.core.questions import values
from nuthatch.core.steps import STEPS as BOARDS
from nuthatch.core.units import INCH_POUND, METRIC, system, use
from nuthatch.desktop import settings
from nuthatch.desktop.autosaving import AFTER_CHANGES
from nuthatch.desktop.document import Document
from nuthatch.desktop.pages.new_like import NewLike
from nuthatch.desktop.pages.visit import VisitList
from nuthatch.desktop.window import MainWindow
from tests.desktop.conftest import briefly
from tests.undetailed import at_rest, undetailed

Open = Callable[..., MainWindow]


@pytest.fixture(autouse=True)
def own_folders(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Path]:
    for kind in ("CONFIG", "DATA", "STATE"):
        monkeypatch.setenv(f"XDG_{kind}_HOME", str(tmp_path / kind.lower()))
    yield tmp_path
    use(METRIC)


def saved(tmp_path: Path, key: str = "osier-lane-7") -> Path:
    path = tmp_path / f"{key}.nuthatch"
    write(path, HomeFile(demo_home(key), None))
    return path


def opened(open_home: Open, path: Path) -> MainWindow:
    content = read(path)
    return open_home(content.home, Document(content.home, content.weather, path, content.evidence))


def thicker(w: MainWindow, mm: float) -> None:
    assert w.document.desk.apply(SetValue(part="outer-wall.3", field="thickness", value=declared(mm / 1000))) == ""


def test_a_second_window_on_a_file_reads_only(open_home: Open, tmp_path: Path, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    path = saved(tmp_path)
    first, second = opened(open_home, path), opened(open_home, path)
    assert not first.banner.isVisible() and second.banner.isVisible() and "open elsewhere" in second.banner.text.text()
    second.show_step("brief")
    refused = second.document.desk.apply(SetValue(part="brief", field="client", value="Other"))
    assert refused.startswith("Read only") and "Save a copy" in refused and second.document.home.brief.client != "Other"
    assert "read only" in second.bar.state.text()
    said = []
    monkeypatch.setattr(QMessageBox, "warning", lambda *a: said.append(a[2]))
    assert not second.files.save_to(path) and "open elsewhere" in said[0], "a copy never goes over the file another window holds"
    copy = tmp_path / "copy.nuthatch"
    assert second.files.save_to(copy) and not second.document.read_only
    assert second.document.desk.apply(SetValue(part="brief", field="client", value="Other")) == "" and not second.banner.isVisible()
    first.close()
    third = opened(open_home, path)
    assert not third.document.read_only


def test_work_is_kept_after_twenty_changes_and_offered_back(open_home: Open, tmp_path: Path, qtbot: QtBot) -> None:
    path = saved(tmp_path)
    w = opened(open_home, path)
    file = w.document.keeper.file
    for number in range(AFTER_CHANGES):
        assert not file.exists()
        thicker(w, 221 + number)
    qtbot.waitUntil(file.exists)
    kept = autosave.read_autosave(file)
    assert kept is not None and len(kept.labels) == AFTER_CHANGES and "→ 240" in kept.labels[-1]
    # the process dies here: the lock goes with it, nothing else happens
    assert w.document.keeper.lock is not None
    w.document.keeper.lock.release()
    again = opened(open_home, path)
    assert again.banner.isVisible() and "20 changes not saved" in again.banner.text.text() and "240" in again.banner.text.text()
    qtbot.mouseClick(again.banner.yes, Qt.MouseButton.LeftButton)
    assert find(again.document.home, "outer-wall.3").thickness.value == 0.24 and not again.banner.isVisible()  # type: ignore[union-attr]
    assert again.document.session.dirty and again.document.session.undo_label == "work of the earlier session restored"
    again.undo()
    assert again.document.home == demo_home("osier-lane-7")
    again.redo()
    assert again.files.save_to(path) and not file.exists()
    assert [read(f).home for f, _ in versions.versions(path)] == [demo_home("osier-lane-7")]
    w.document.keeper.ended = True


def test_work_that_is_left_is_put_aside(open_home: Open, tmp_path: Path, qtbot: QtBot) -> None:
    path = saved(tmp_path)
    edited = demo_home("weir-cottage")
    autosave.write_autosave(places.beside(path, "autosave"), edited, path, ("a", "b"))
    w = opened(open_home, path)
    qtbot.mouseClick(w.banner.no, Qt.MouseButton.LeftButton)
    left = list(tmp_path.glob(".*.left-*"))
    assert len(left) == 1 and not w.banner.isVisible()
    kept = autosave.read_autosave(left[0])
    assert kept is not None and kept.home == edited


def test_a_home_never_saved_comes_back_from_the_register(open_home: Open, qtbot: QtBot) -> None:
    autosave.write_autosave(autosave.autosave_file(None, "999999999-1"), demo_home("sail-loft"), None, ("Client typed",))
    w = open_home(demo_home("osier-lane-7"))
    w.go("homes")
    assert w.homes is not None
    kept = autosave.left_behind()
    assert len(kept) == 1 and w.homes.left.count() == 1
    w.homes.left.restore(kept[0])
    qtbot.waitUntil(w.settled)
    assert w.page == "home" and w.document.home == demo_home("sail-loft") and w.document.session.dirty and not autosave.left_behind()


def test_work_on_a_file_opened_last_is_offered_from_the_register(open_home: Open, tmp_path: Path, qtbot: QtBot) -> None:
    path = saved(tmp_path)
    settings.save(settings.load().opened(path))
    autosave.write_autosave(places.beside(path, "autosave"), demo_home("weir-cottage"), path, ("Plot typed",))
    w = open_home(demo_home("sail-loft"))
    w.go("homes")
    assert w.homes is not None and w.homes.left.count() == 1
    strip = w.homes.left.layout().itemAt(0).widget()
    assert "Plot typed" in strip.findChild(QLabel).text()
    qtbot.mouseClick(strip.findChild(QPushButton), Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled)
    assert w.document.path == path and w.banner.isVisible() and "Plot typed" in w.banner.text.text()


def test_closing_after_a_decision_leaves_nothing_behind(open_home: Open, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = saved(tmp_path)
    w = opened(open_home, path)
    thicker(w, 300)
    w.document.keeper.keep()
    monkeypatch.setattr(QMessageBox, "question", lambda *a: QMessageBox.StandardButton.Discard)
    assert w.close()
    assert {p.name for p in tmp_path.iterdir() if p.is_file()} == {path.name} and read(path).home == demo_home("osier-lane-7")


def test_evidence_is_attached_kept_opened_and_listed(
    open_home: Open, tmp_path: Path, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = saved(tmp_path)
    record = tmp_path / "air test.pdf"
    record.write_bytes(b"%PDF a record of the test" * 100)
    w = opened(open_home, path)
    w.go("openings", "triple", "glass_u")
    board = w.board("openings")
    line = board.types.card.evidence_line
    qtbot.waitUntil(line.isVisible)
    line.attach(record)
    qtbot.waitUntil(w.settled)
    kind = find(w.document.home, "triple")
    assert kind.glass_u.files == ("evidence-1",) and line.files.text() == "1"  # type: ignore[union-attr]
    line.attach(record)
    assert len(w.document.home.evidence) == 1, "the same file once"
    line.attach(tmp_path / "nothing.pdf")
    assert "nothing.pdf" in w.change_line.text
    assert w.files.save_to(path)
    content = read(path)
    assert list(content.evidence.values()) == [record.read_bytes()]
    shown = []
    monkeypatch.setattr(
        "nuthatch.desktop.attached_files.QDesktopServices.openUrl", lambda url: shown.append(Path(url.toLocalFile()).read_bytes()) or True
    )
    w.show_step("dossier")
    dossier = w.board("dossier")
    dossier.look_into(w.document.home.evidence[0])
    assert shown == [record.read_bytes()]
    dossier.drop_evidence(w.document.home.evidence[0])
    assert w.document.home.evidence == () and find(w.document.home, "triple").glass_u.files is None  # type: ignore[union-attr]
    w.undo()
    assert w.document.home.evidence and w.files.save_to(path) and read(path).evidence, "undone also after saving: the bytes are still there"


def test_pins_from_every_board_stand_in_the_dossier_in_order(open_home: Open, tmp_path: Path, qtbot: QtBot) -> None:
    w = open_home(briefly(replace(demo_home("osier-lane-7"), upgrades=(), options=()), "pinned"))
    for kind in BOARDS:
        board = w.board(kind)
        w.show_step(kind)
        for key, of in board.pictures()[:1]:
            board.pin(key, of, f"From {kind}")
    assert [p.name for p in w.document.home.pins] == [f"From {k}" for k in BOARDS if k not in ("brief", "options", "dossier")], (
        "a home without options has no ladder"
    )
    w.show_step("dossier")
    board = w.board("dossier")
    qtbot.waitUntil(w.settled)
    board.pins.table.select("pin-2")
    board.pins.shift(-1)
    qtbot.waitUntil(w.settled)
    assert [p.id for p in w.document.home.pins][:2] == ["pin-2", "pin-1"]
    board.write(tmp_path / "d.html")
    qtbot.waitUntil(lambda: (tmp_path / "d.html").exists() and board.write_button.isEnabled())
    page = (tmp_path / "d.html").read_text()
    assert page.index("From site") < page.index("From cutaway") < page.index("From balance")


def test_a_pdf_is_printed_page_by_page(osier_window: MainWindow, tmp_path: Path) -> None:
    """On a printer that writes a file: as many pages as the dossier has, none of them empty."""
    from PyQt6.QtPdf import QPdfDocument
    from PyQt6.QtPrintSupport import QPrinter

    from nuthatch.desktop.steps.dossier.print_pdf import print_pdf

    osier_window.commands["visit"].trigger()
    dialog = next(d for d in osier_window.findChildren(VisitList))
    dialog.write_pdf(tmp_path / "list.pdf")
    dialog.close()
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(tmp_path / "printed.pdf"))
    assert print_pdf(tmp_path / "list.pdf", printer) == ""
    before, after = QPdfDocument(None), QPdfDocument(None)
    before.load(str(tmp_path / "list.pdf"))
    after.load(str(tmp_path / "printed.pdf"))
    assert after.pageCount() == before.pageCount() > 1
    page = after.render(0, QSize(200, 280))
    assert len({page.pixel(x, y) for x in range(0, 200, 3) for y in range(0, 280, 3)}) > 2
    assert "could not be read" in print_pdf(tmp_path / "none.pdf", printer)


def test_units_and_colours_switch_everywhere(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    home = w.document.home
    w.show_step("build-ups")
    qtbot.mouseClick(w.bar.units, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled)
    assert system() == INCH_POUND and w.bar.units.text() == "Inch-pound" and settings.load().units == INCH_POUND
    board = w.board("build-ups")
    assert "Btu/(h·ft²·°F)" in board.value.text() and "h·ft²·°F/Btu" in board.sub.text(), "U and R side by side"
    field = board.layers.card.fields["thickness"]
    assert "kBtu/(ft²·yr)" in " ".join(way.words(True) for _, way in w.margins.bars.rows)
    board.layers.table.select("outer-wall.3")
    qtbot.waitUntil(w.settled)
    field = board.layers.card.fields["thickness"]
    field.edit.setFocus()
    field.edit.selectAll()
    QTest.keyClicks(field.edit, "9.5")
    QTest.keyClick(field.edit, Qt.Key.Key_Return)
    assert find(w.document.home, "outer-wall.3").thickness.value == pytest.approx(0.2413)  # type: ignore[union-attr]
    field.edit.selectAll()
    QTest.keyClicks(field.edit, "220 mm")
    QTest.keyClick(field.edit, Qt.Key.Key_Return)
    assert find(w.document.home, "outer-wall.3").thickness.value == pytest.approx(0.22)  # type: ignore[union-attr]
    w.appearance.dark(True)
    w.appearance.dark(False)
    w.appearance.units(METRIC)
    qtbot.waitUntil(w.settled)
    assert "W/(m²·K)" in w.board("build-ups").value.text() and w.step == "build-ups"
    while w.document.session.undo_label:
        w.undo()
    assert w.document.home is home, "showing other units is no change"


def test_the_register_is_searched_sorted_filtered_checked_and_written(open_home: Open, tmp_path: Path, qtbot: QtBot) -> None:
    folder = demo_folder()
    (folder / "broken.nuthatch").write_bytes(b"no")
    settings.change(folders=(str(folder),))
    w = open_home(demo_home("osier-lane-7"))
    w.commands["homes"].trigger()
    page = w.homes
    assert page is not None and w.page == "homes"
    qtbot.waitUntil(lambda: page.settled and page.filter.rowCount() == 28 and all(r.standing for r in page.model.rows))
    assert "28 homes" in page.summary.text() and "cannot be read" in page.summary.text()
    QTest.keyClicks(page.search, "lane 2")
    assert page.filter.rowCount() == 12, "plots 12, 20 to 29, 32"
    page.search.clear()
    page.boxes["chosen_set"].setCurrentText("Passive-house retrofit")
    assert [r.name for r in page.shown_rows()] == ["Weir Cottage"]
    page.boxes["chosen_set"].setCurrentIndex(0)
    page.boxes["standing"].setCurrentText("cannot be read")
    assert page.filter.rowCount() == 1 and "zip" in page.shown_rows()[0].note
    page.boxes["standing"].setCurrentIndex(0)
    page.table.sortByColumn(5, Qt.SortOrder.AscendingOrder)
    ratios = [r.tight_ratio for r in page.shown_rows() if r.tight_ratio is not None]
    assert ratios == sorted(ratios, reverse=True)
    page.table.sortByColumn(0, Qt.SortOrder.AscendingOrder)
    names = [r.name for r in page.shown_rows()]
    assert names.index("Osier Lane 9") < names.index("Osier Lane 10")
    page.write_table(tmp_path / "t.csv")
    page.write_table(tmp_path / "t.xlsx")
    rows = list(csv.reader((tmp_path / "t.csv").read_text(encoding="utf-8-sig").splitlines()))
    assert [r[0] for r in rows[1:]] == names
    assert openpyxl.load_workbook(tmp_path / "t.xlsx").active.max_row == 29
    page.table.selectRow(names.index("Sail Loft"))
    page.duplicate()
    qtbot.waitUntil(lambda: page.settled and len(page.model.rows) == 29)
    assert read(folder / "sail-loft-copy.nuthatch").home.name == "Sail Loft, copy"
    page.table.selectRow([r.name for r in page.shown_rows()].index("Sail Loft"))
    QTest.keyClick(page.table, Qt.Key.Key_Return)
    qtbot.waitUntil(w.settled)
    assert w.page == "home" and w.document.home.name == "Sail Loft"


def test_an_empty_register_teaches(open_home: Open, qtbot: QtBot) -> None:
    w = open_home(demo_home("osier-lane-7"))
    w.go("homes")
    page = w.homes
    assert page is not None
    qtbot.waitUntil(lambda: page.settled and page.empty.isVisible())
    assert not page.table.isVisible() and not page.search.isVisible() and not page.open_button.isVisible(), "no hollow table"
    shown = [b for b in page.empty.findChildren(QPushButton) if "demo" in b.text()]
    qtbot.mouseClick(shown[0], Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: page.settled and len(page.model.rows) == 27)
    assert page.table.isVisible() and page.search.isVisible() and not page.empty.isVisible()
    assert page.table.hasFocus() and settings.load().folders == (str(demo_folder()),)


def test_checking_is_cancelled_and_taken_up_again(open_home: Open, tmp_path: Path, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    folder = tmp_path / "homes"
    folder.mkdir()
    for key in DEMO:
        write(folder / f"{key}.nuthatch", HomeFile(undetailed(demo_home(key)), None))
    settings.change(folders=(str(folder),))
    w = open_home(at_rest(demo_home("osier-lane-7")))
    w.go("homes")
    page = w.homes
    assert page is not None
    qtbot.waitUntil(lambda: page.checking.running)
    qtbot.mouseClick(page.stop, Qt.MouseButton.LeftButton)
    assert not page.checking.running and page.stop.text() == "Check the rest"
    left = len([r for r in page.model.rows if not r.standing])
    assert left > 0
    qtbot.mouseClick(page.stop, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: not page.checking.running)
    assert all(r.standing for r in page.model.rows) and not page.stop.isVisible()
    page.look()
    qtbot.waitUntil(lambda: page.settled)
    assert not page.still_open and all(r.standing for r in page.model.rows), "both helpers remembered what they found"


def test_the_office_profile_is_kept_as_it_is_typed(open_home: Open, tmp_path: Path, qtbot: QtBot) -> None:
    w = open_home(demo_home("osier-lane-7"))
    w.commands["office"].trigger()
    page = w.office
    assert page is not None and w.page == "office"
    page.card.focus_field("company")
    QTest.keyClicks(QApplication.focusWidget(), "Tidewrack")
    QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: load_office()[0].office.company == "Tidewrack")
    page.lists[0].add()
    assert [m.name for m in page.document.home.materials] == ["New material"]
    w.undo()
    assert page.document.home.materials == () and page.document.home.company == "Tidewrack", "undo is the office's while it is shown"
    page.lists[0].add()
    page.files.write(tmp_path / "library.xlsx")
    w.undo()
    page.files.take(tmp_path / "library.xlsx")
    qtbot.waitUntil(lambda: not page.files.reading.running, timeout=30000)
    assert [m.name for m in page.document.home.materials] == ["New material"] and "1 material" in page.said.text()
    w.undo()
    assert page.document.home.materials == (), "a library taken in is one step"
    (tmp_path / "library.json").write_bytes(b"{")
    for bad, said in (("library.json", "line 1"), ("nowhere.json", "nowhere.json")):
        page.files.take(tmp_path / bad)
        qtbot.waitUntil(lambda: not page.files.reading.running, timeout=30000)
        assert said in page.said.text() and page.document.home.materials == ()
    page.set_logo(b"no picture", "png")
    assert "no picture" in page.said.text() and load_office()[0].logo is None
    logo = (DATA.parent / "desktop" / "theme" / "icons" / "nuthatch.svg").read_bytes()
    page.set_logo(logo, "svg")
    assert load_office()[0].logo == logo
    page.export_to(tmp_path / "o.nuthatch-office")
    page.import_from(DATA / "examples" / "tidewrack.nuthatch-office")
    assert load_office()[0].office.company == "Tidewrack Energy Advice"
    page.import_from(tmp_path / "o.nuthatch-office")
    assert load_office()[0].office.company == "Tidewrack" and load_office()[0].logo == logo
    # the starting values are worked on as a home
    page.edit_start()
    qtbot.waitUntil(w.settled)
    assert w.page == "home" and w.step == "heat-power"
    w.document.desk.apply(SetValue(part="electricity", field="price", value=declared(0.31)))
    assert w.files.save()
    assert load_office()[0].office.start.carriers[0].price.value == 0.31  # type: ignore[union-attr]
    w.files.new()
    qtbot.waitUntil(w.settled)
    assert w.document.home.carriers[0].price.value == 0.31 and w.document.saves_to is None  # type: ignore[union-attr]


def test_a_new_home_like_another_in_the_dialog(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    w.commands["like"].trigger()
    dialog = next(d for d in w.findChildren(NewLike))
    qtbot.waitUntil(dialog.isVisible)
    dialog.boxes["build-ups"].setChecked(False)
    assert dialog.boxes["build-ups"].isChecked() and not dialog.boxes["build-ups"].isEnabled(), "the shape rests on them"
    dialog.boxes["household"].setChecked(False)
    dialog.name.selectAll()
    QTest.keyClicks(dialog.name, "Osier Lane 8")
    qtbot.mouseClick(dialog.ok, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled)
    home: Home = w.document.home
    assert home.name == "Osier Lane 8" and home.air.n50 is None and len(home.openings) == 9 and w.step == "brief"
    assert not [g for _, _, _, g in values(home) if g.basis is Basis.MEASURED]


def test_an_own_target_set_is_made_edited_and_broken_in_the_brief(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    w.show_step("brief")
    board = w.board("brief")
    qtbot.mouseClick(board.own_button, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(w.settled)
    assert [s.id for s in own_sets()[0]] == ["passive-house-own"] and board.editor.isVisible()
    table = board.editor.table
    row = next(r for r in range(table.rowCount()) if table.item(r, 1).text() == "Heating demand")
    table.setItem(row, 3, QTableWidgetItem("10 kWh/(m²·a)"))
    qtbot.waitUntil(w.settled)
    ways = {way.limit for set_id, way in w.margins.bars.rows if set_id == "passive-house-own" and way.key == "heating_demand"}
    assert ways == {10.0} and "10" in (sets_folder() / "passive-house-own.json").read_text()
    table.setItem(row, 3, QTableWidgetItem("ten"))
    assert "Not taken yet: line 1, Limit" in board.editor.said.text() and own_sets()[0][0].targets[0].ways[0].limit == 10.0
    table.setItem(row, 3, QTableWidgetItem("12"))
    clipboard = QGuiApplication.clipboard()
    assert clipboard is not None
    clipboard.setText("Fresh air\tEffective heat recovery\tat least\t75 %\t5 6\t\t\t\t2\tclause 9")
    board.editor.needed.setText("2")
    table.setCurrentCell(table.rowCount() - 1, 0)
    table.setFocus()
    QTest.keyClick(table, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    qtbot.waitUntil(w.settled)
    mine = own_sets()[0][0]
    assert mine.points_needed == 2 and mine.targets[-1].points == 2 and mine.targets[-1].ways[0].cases[0].limit == 0.75
    assert any(way.key == "points_passive_house_own" for _, way in w.margins.bars.rows)
    w.undo()
    qtbot.waitUntil(w.settled)
    assert not any(way.key == "points_passive_house_own" for _, way in w.margins.bars.rows)
    (sets_folder() / "broken.json").write_text('{"id": "broken",\n "name": }')
    board.reload()
    assert "broken.json: line 2" in board.faults.text()


def test_the_visit_list_is_shown_and_saved(osier_window: MainWindow, tmp_path: Path, qtbot: QtBot) -> None:
    from pypdf import PdfReader

    w = osier_window
    import_office(DATA / "examples" / "tidewrack.nuthatch-office")
    w.document.desk.apply(SetValue(part="brief", field="visit_notes", value="Ladder for the roof window"))
    w.commands["visit"].trigger()
    dialog = next(d for d in w.findChildren(VisitList))
    assert "Ladder for the roof window" in dialog.text.toPlainText() and "Tidewrack Energy Advice" in dialog.text.toPlainText()
    dialog.write_pdf(tmp_path / "v.pdf")
    text = " ".join(p.extract_text() for p in PdfReader(tmp_path / "v.pdf").pages)
    assert (
        "to collect on site" in " ".join(text.split())
        and "Plot 7" in " ".join(text.split())
        and "photo of the spacer" in " ".join(text.split())
    )
    dialog.close()


def test_fill_down_and_cut_are_one_step_each(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    w.show_step("openings")
    table = w.board("openings").rows.table
    model = table.parts
    column = next(i for i, c in enumerate(model.spec.columns) if c.field == "height")
    before = w.document.home
    table.setCurrentIndex(model.index(0, column))
    table.setFocus()
    for _ in range(3):
        QTest.keyClick(table, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    QTest.keyClick(table, Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier)
    heights = [o.height.value for o in w.document.home.openings]
    assert heights[:4] == [2.25] * 4 and heights[4] != 2.25
    w.undo()
    assert w.document.home is before


def test_own_library_goes_both_ways(osier_window: MainWindow, qtbot: QtBot) -> None:
    w = osier_window
    w.show_step("build-ups")
    board = w.board("build-ups")
    board.builds.table.select("outer-wall")
    qtbot.mouseClick(board.shelf.keep_button, Qt.MouseButton.LeftButton)
    board.shelf.keep()
    kept = load_office()[0].office.buildups
    assert [b.name for b in kept] == ["Outer wall, timber frame"], "kept again under the same name: replaced"
    number = len(w.document.home.buildups)
    board.shelf.box.setCurrentIndex(1)
    board.shelf.box.activated.emit(1)
    qtbot.waitUntil(w.settled)
    new = w.document.home.buildups[-1]
    assert len(w.document.home.buildups) == number + 1 and new.id != "outer-wall"
    assert [x.thickness for x in new.layers] == [x.thickness for x in kept[0].layers]


def test_help_and_versions(open_home: Open, tmp_path: Path, qtbot: QtBot) -> None:
    path = saved(tmp_path)
    w = opened(open_home, path)
    for kind in BOARDS:
        w.show_step(kind)
        w.commands["help"].trigger()
        assert w.board(kind).help_card.isVisible(), kind
        w.commands["help"].trigger()
        assert not w.board(kind).help_card.isVisible()
    thicker(w, 260)
    assert w.files.save()
    (file, when), *_ = versions.versions(path)
    w.files.open_version(file, when)
    qtbot.waitUntil(w.settled)
    assert w.document.path is None and w.document.home == demo_home("osier-lane-7") and "Earlier version" in w.change_line.text
