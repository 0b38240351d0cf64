"""The dossier's board in a window: pages as they are by now, numbers that lead on, chapters, search, evidence found by name, revisions."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from nuthatch.core.changes.changes import SetValue
from nuthatch.core.dossier.links import read
from nuthatch.core.dossier.verify import read_pdf, verify
from nuthatch.core.files.homefile import HomeFile
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import Basis, Given, replace
from nuthatch.core.office import load_office
from nuthatch.core.questions import values
from nuthatch.desktop.steps.dossier.board import DossierBoard
from nuthatch.desktop.window import MainWindow
from tests.desktop.conftest import briefly, shared_window
from tests.undetailed import at_rest

LONG = 120_000


def short_home() -> Home:
    """Osier Lane 7 with few chapters and no summer to judge: its pages are quickly made, and its values quickly weighed."""
    client = briefly(at_rest(demo_home("osier-lane-7")), "openings", "results")
    sets = tuple(s for s in client.target_sets if not any(w.figure == "overheating_share" for t in s.targets for w in t.ways))
    return replace(client, target_sets=sets)


@pytest.fixture
def own_folders(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """An office of the test's own."""
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))
    return tmp_path


@pytest.fixture(scope="module")
def window() -> Iterator[MainWindow]:
    with shared_window(short_home()) as made:
        yield made


def board_of(w: MainWindow, qtbot: QtBot) -> DossierBoard:
    """The board with its pages made."""
    w.show_step("dossier")
    found = w.board("dossier")
    assert isinstance(found, DossierBoard)
    qtbot.waitUntil(w.settled, timeout=LONG)
    return found


def text_of(board: DossierBoard) -> str:
    document = board.reader.view.document
    return " ".join(" ".join(document.getAllText(n).text().split()) for n in range(document.pageCount()))


def test_the_pages_themselves_stand_there_with_their_contents(window: MainWindow, qtbot: QtBot) -> None:
    board = board_of(window, qtbot)
    assert board.reader.pages >= 6 and "pages" in board.reader.state.text()
    lines = [board.reader.contents.item(n).text().strip() for n in range(board.reader.contents.count())]  # type: ignore[union-attr]
    assert lines[0].endswith("How it stands") and any(line.endswith("Every result") for line in lines)
    demand = window.document.assessment.figures["heating_demand"]  # type: ignore[union-attr]
    assert f"{float(demand.value):.1f} kWh/(m²·a)" in text_of(board)  # type: ignore[arg-type]


def click(board: DossierBoard, wanted: Callable[[str], bool]) -> str:
    """Click the first link whose address is wanted, brought into view."""
    view = board.reader.view
    for page in range(view.pages):
        for link in view.links(page):
            if wanted(link.url):
                view.go_to_page(page, QPointF(0, max(link.rect.top() - 60, 0)))
                QApplication.processEvents()
                at = view.spot_of(page, link)
                QTest.mouseMove(view.viewport(), at.toPoint())
                QTest.mouseClick(view.viewport(), Qt.MouseButton.LeftButton, pos=at.toPoint())
                return link.url
    raise AssertionError("no such link")


def test_a_number_of_a_page_leads_to_its_working(window: MainWindow, qtbot: QtBot) -> None:
    board = board_of(window, qtbot)
    click(board, lambda url: read(url) == ("result", "heating_demand", ""))
    assert window.center.currentWidget() is window.center.working
    assert window.center.working.trail[0].label == "Heating demand"
    window.center.close_working()


def test_a_value_of_a_page_leads_to_its_field(window: MainWindow, qtbot: QtBot) -> None:
    board = board_of(window, qtbot)
    click(board, lambda url: (found := read(url)) is not None and found[0] == "field" and found[1:] == ("w-01", "width"))
    assert window.step == "openings"


def test_the_contents_and_the_chapters_lead_to_their_pages(window: MainWindow, qtbot: QtBot) -> None:
    board = board_of(window, qtbot)
    view = board.reader.view
    row = next(n for n in range(board.reader.contents.count()) if "Every result" in board.reader.contents.item(n).text())  # type: ignore[union-attr]
    board.reader.contents.itemClicked.emit(board.reader.contents.item(row))
    at = view.place()[0]
    assert at >= 4 and board.reader.contents.currentRow() >= 0
    board.chapters.table.setCurrentCell(0, 0)
    board.chapters.select("heat")
    assert view.place()[0] < at


def test_a_search_goes_from_place_to_place(window: MainWindow, qtbot: QtBot) -> None:
    board = board_of(window, qtbot)
    search, view = board.reader.search, board.reader.view
    search.setFocus()
    QTest.keyClicks(search, "kWh/(m²·a)")
    qtbot.waitUntil(lambda: view.hits > 4)
    assert f"{view.hits} places" in board.reader.state.text()
    places = []
    for _ in range(view.hits):
        QTest.keyClick(search, Qt.Key.Key_Return)
        places.append(view.place())
    assert len(set(places)) > 1
    QTest.keyClick(search, Qt.Key.Key_Return, Qt.KeyboardModifier.ShiftModifier)
    search.clear()
    assert "pages" in board.reader.state.text()


def test_zoom_keeps_the_place(window: MainWindow, qtbot: QtBot) -> None:
    board = board_of(window, qtbot)
    view = board.reader.view
    view.go_to((2, 0.25))
    before, wide = view.place(), view.scale()
    view.setFocus()
    QTest.keyClick(view, Qt.Key.Key_Plus)
    assert (
        view.scale() == pytest.approx(1.2 * wide) and view.place()[0] == before[0] and view.place()[1] == pytest.approx(before[1], abs=0.02)
    )
    QTest.keyClick(view, Qt.Key.Key_0)
    assert view.scale() == pytest.approx(wide)
    QTest.keyClick(view, Qt.Key.Key_End)
    assert view.place()[0] >= view.pages - 2
    QTest.keyClick(view, Qt.Key.Key_Home)
    assert view.place()[0] == 0


def test_pages_are_made_anew_when_the_home_changes_and_say_so_meanwhile(window: MainWindow, qtbot: QtBot) -> None:
    board = board_of(window, qtbot)
    board.reader.view.go_to((3, 0.0))
    window.document.desk.apply(SetValue(part="home", field="name", value="Osier Lane 7 bis"))
    qtbot.waitUntil(lambda: "being made anew" in board.reader.state.text())
    qtbot.waitUntil(window.settled, timeout=LONG)
    assert "Osier Lane 7 bis" in text_of(board) and board.reader.view.place()[0] == 3, "the place that was looked at stays"
    window.undo()
    qtbot.waitUntil(window.settled, timeout=LONG)
    assert "Osier Lane 7 bis" not in text_of(board)


def row_of(board: DossierBoard, key: str) -> int:
    return next(n for n, c in enumerate(board.chapters.rows()) if c.chapter == key)


def test_chapters_are_chosen_ordered_and_named(window: MainWindow, qtbot: QtBot) -> None:
    board, table = board_of(window, qtbot), window.board("dossier").chapters.table  # type: ignore[attr-defined]
    before = window.document.home
    table.item(row_of(board, "open"), 0).setCheckState(Qt.CheckState.Unchecked)
    assert not next(c for c in window.document.home.dossier.chapters if c.chapter == "open").shown
    table.item(row_of(board, "summary"), 1).setText("In short")
    board.chapters.select("heat")
    board.chapters.shift(-1)
    assert [c.chapter for c in board.chapters.rows()][:2] == ["heat", "summary"] and board.chapters.current() == "heat"
    qtbot.waitUntil(window.settled, timeout=LONG)
    found = text_of(board)
    assert "In short" in found and "Open questions" not in found
    for _ in range(3):
        window.undo()
    assert window.document.home == before


def test_a_profile_is_taken_and_kept(window: MainWindow, qtbot: QtBot, own_folders: Path) -> None:
    board = board_of(window, qtbot)
    combo = board.chapters.profile
    at = combo.findText("site")
    combo.setCurrentIndex(at)
    combo.activated.emit(at)
    assert window.document.home.dossier.profile == "site" and window.document.home.dossier.chapters[0].chapter == "takeoff"
    board.chapters.keep("our builders")
    assert [p.name for p in load_office()[0].office.dossiers] == ["our builders"] and window.document.home.dossier.profile == "our builders"
    qtbot.waitUntil(lambda: combo.currentText() == "our builders")
    board.chapters.keep("our builders")
    assert len(load_office()[0].office.dossiers) == 1
    while window.document.home.dossier.profile != "client, short":
        window.undo()


def test_evidence_is_weighed_and_files_find_their_values(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    board = board_of(window, qtbot)
    board.work.lists.show_widget(board.missing)
    missing = board.missing
    qtbot.waitUntil(lambda: any(w.weight for w in missing.rows()), timeout=LONG)
    weights = [w.weight or 0.0 for w in missing.rows()]
    assert weights == sorted(weights, reverse=True) and missing.table.rowCount() == len(missing.rows()) > 100
    sheet = tmp_path / "Triple_glazing_argon_low-e.pdf"
    sheet.write_bytes(b"%PDF-1.4 glass")
    said: list[str] = []
    missing.said.connect(said.append)
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(sheet))])
    drop = QDropEvent(QPointF(20, 20), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
    before, number = window.document.home, len(missing.rows())
    missing.dropEvent(drop)
    after = window.document.home
    proven = [name for _, part, name, given in values(after) if part.id == "triple" and given.files]  # type: ignore[attr-defined]
    assert len(proven) > 5 and "found by its name" in said[-1] and len(after.evidence) == len(before.evidence) + 1
    qtbot.waitUntil(lambda: len(missing.rows()) == number - len(proven))
    other = tmp_path / "IMG_2031.jpg"
    other.write_bytes(b"\xff\xd8\xff no picture")
    chosen = missing.rows()[:2]
    missing.attach([other], chosen)
    assert "proves 2 values" in said[-1] and "chosen" in said[-1]
    missing.attach([tmp_path / "none.pdf"])
    assert "none.pdf" in said[-1] or "no such" in said[-1].lower()
    window.undo()
    window.undo()
    assert window.document.home == before


def test_evidence_of_one_supplier(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    board = board_of(window, qtbot)
    board.work.lists.show_widget(board.missing)
    combo = board.missing.who
    combo.setCurrentIndex(combo.findData("window maker"))
    combo.activated.emit(combo.currentIndex())
    assert {w.who for w in board.missing.rows()} == {"window maker"} and f"({len(board.missing.rows())})" in combo.currentText()
    item = board.missing.rows()[0]
    board.missing.table.select(item.id)
    board.missing.table.setFocus()
    QTest.keyClick(board.missing.table, Qt.Key.Key_Return)
    assert window.step == "openings"
    board = board_of(window, qtbot)
    board.write_requests(tmp_path / "asked.pdf")
    qtbot.waitUntil(lambda: (tmp_path / "asked.pdf").exists(), timeout=LONG)
    assert (tmp_path / "asked.pdf").read_bytes().startswith(b"%PDF")


def test_a_revision_goes_out_and_is_remembered(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    board = board_of(window, qtbot)
    before = window.document.home
    board.issue(tmp_path / "first.pdf")
    qtbot.waitUntil(lambda: bool(window.document.home.issued), timeout=LONG)
    home = window.document.home
    assert (
        board.value.text().startswith("revision 1")
        and home.issued[0].name == "first.pdf"
        and "Issued as revision 1" in window.change_line.text
    )
    found = verify(read_pdf(tmp_path / "first.pdf"), "first.pdf", HomeFile(home, None))
    assert found.standing == "agrees", found.as_text()
    wider = SetValue(part="w-01", field="width", value=Given(value=2.2, basis=Basis.DECLARED))
    window.document.desk.apply(wider)
    qtbot.waitUntil(window.settled, timeout=LONG)
    assert board.value.text().endswith("out of date")
    board.issue(tmp_path / "second.pdf")
    qtbot.waitUntil(lambda: len(window.document.home.issued) == 2, timeout=LONG)
    assert verify(read_pdf(tmp_path / "second.pdf"), "second.pdf").standing == "agrees"
    window.undo()
    window.undo()
    window.undo()
    assert window.document.home == before


def test_what_cannot_be_written_is_said_and_nothing_is_remembered(window: MainWindow, qtbot: QtBot, tmp_path: Path) -> None:
    board = board_of(window, qtbot)
    board.issue(tmp_path / "nowhere" / "first.pdf")
    qtbot.waitUntil(board.issue_button.isEnabled, timeout=LONG)
    assert "no such folder" in board.reader.state.text() and not window.document.home.issued


def test_a_print_that_failed_takes_no_later_file_along(
    window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The next file written was once sent to the printer instead, and taken away."""
    from PyQt6.QtPrintSupport import QPrintDialog
    from PyQt6.QtWidgets import QDialog

    from nuthatch.desktop.steps.dossier import board as module

    board = board_of(window, qtbot)
    monkeypatch.setattr(QPrintDialog, "exec", lambda _: QDialog.DialogCode.Accepted)
    with monkeypatch.context() as patch:
        patch.setattr(module.tempfile, "mkdtemp", lambda **_: str(tmp_path / "gone"))
        board.print_dialog()
        qtbot.waitUntil(board.write_button.isEnabled, timeout=LONG)
    assert "no such folder" in board.reader.state.text()
    board.write(tmp_path / "kept.json")
    qtbot.waitUntil(board.write_button.isEnabled, timeout=LONG)
    assert (tmp_path / "kept.json").exists()


def test_tips_say_where_a_number_leads(window: MainWindow, qtbot: QtBot) -> None:
    view = board_of(window, qtbot).reader.view
    view.go_to((0, 0.0))
    assert view.link_at(QPointF(QPoint(3, 3))) is None
