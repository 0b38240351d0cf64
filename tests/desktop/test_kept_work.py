"""Work, evidence and files of others through the window: whatever one does, nothing is lost and nothing is written over unasked."""

from __future__ import annotations

import hashlib
import os
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QMenu, QMessageBox
from pytestqt.qtbot import QtBot

from nuthatch.core.changes.changes import SetValue, declared
from nuthatch.core.files import autosave
from nuthatch.core.files.autosave import LEFT, earlier, left_behind, new_session, read_autosave, write_autosave
from nuthatch.core.files.held import held
from nuthatch.core.files.homefile import HomeFile, HomeFileError, read, write
from nuthatch.core.files.places import beside
from nuthatch.core.files.save_doubt import hash_of
from nuthatch.core.files.versions import versions
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import EvidenceFile, Home
from nuthatch.core.model.part import replace
from nuthatch.desktop.attached_files import harmless_name, may_execute, open_evidence
from nuthatch.desktop.document import Document
from nuthatch.desktop.window import MainWindow

Open = Callable[..., MainWindow]


@pytest.fixture(autouse=True)
def own_folders(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    for kind in ("CONFIG", "DATA", "STATE"):
        monkeypatch.setenv(f"XDG_{kind}_HOME", str(tmp_path / "own" / kind.lower()))
    monkeypatch.setattr(QMessageBox, "question", lambda *a: QMessageBox.StandardButton.Discard)
    yield


def home_of(n50: float, key: str = "sail-loft") -> Home:
    home = demo_home(key)
    return replace(home, air=replace(home.air, n50=declared(n50)))


def n50(home: Home) -> float:
    return home.air.n50.value if home.air.n50 else 0.0


@pytest.fixture
def path(tmp_path: Path) -> Path:
    """A home with n50 3.0, and work on it (4.0) from a session that was killed."""
    (tmp_path / "homes").mkdir()
    file = tmp_path / "homes" / "a.nuthatch"
    write(file, HomeFile(home_of(3.0), None))
    write_autosave(beside(file, "autosave"), home_of(4.0), file, ("n50 3.0 → 4.0",), new_session(), hash_of(file))
    return file


def opened(open_home: Open, path: Path) -> MainWindow:
    return open_home(demo_home("sail-loft"), Document.of(read(path), path))


def to_be_had(path: Path) -> set[float]:
    """Every value of n50 that can still be got at: the file, its versions, work kept, left or being done."""
    found = {n50(read(f).home) for f in (path, *(v for v, _ in versions(path))) if f.exists()}
    for file in (beside(path, "autosave"), *earlier(path, autosave.KEPT), *earlier(path, LEFT)):
        work = read_autosave(file)
        if work is not None:
            found.add(n50(work.home))
    return found


def edit(w: MainWindow, value: float) -> None:
    assert w.document.desk.apply(SetValue(part="air", field="n50", value=declared(value))) == ""


# kept work survives until it is answered


@pytest.mark.parametrize(
    "way", ["close", "open another", "save another edit", "autosave", "leave", "restore", "restore and undo", "trouble"]
)
def test_whatever_is_done_the_work_is_still_to_be_had(open_home: Open, path: Path, tmp_path: Path, qtbot: QtBot, way: str) -> None:
    w = opened(open_home, path)
    assert w.banner.isVisible() and "n50 3.0 → 4.0" in w.banner.text.text()
    if way == "open another":
        other = tmp_path / "homes" / "b.nuthatch"
        write(other, HomeFile(home_of(9.0), None))
        assert w.files.open_path(other) and not w.banner.isVisible()
    elif way == "save another edit":
        edit(w, 5.0)
        assert w.files.save_to(path) and w.banner.isVisible()
    elif way in ("autosave", "trouble"):
        edit(w, 5.0)
        w.document.keeper.keep() if way == "autosave" else w.trouble("an error")
        qtbot.waitUntil(beside(path, "autosave").exists)
        assert 5.0 in to_be_had(path)
    elif way == "leave":
        edit(w, 5.0)
        w.document.keeper.keep()
        qtbot.waitUntil(beside(path, "autosave").exists)
        qtbot.mouseClick(w.banner.no, Qt.MouseButton.LeftButton)
        assert not w.banner.isVisible() and len(earlier(path, LEFT)) == 1
        menu = QMenu()
        w.files.list_versions(menu)
        assert any("left: Sail Loft" in a.text() for a in menu.actions())
        w.files.open_left(read_autosave(earlier(path, LEFT)[0]))  # type: ignore[arg-type]
        assert n50(w.document.home) == 4.0 and w.document.path is None
    elif way.startswith("restore"):
        qtbot.mouseClick(w.banner.yes, Qt.MouseButton.LeftButton)
        assert n50(w.document.home) == 4.0 and 4.0 in to_be_had(path), "not saved yet: still kept"
        if way == "restore and undo":
            w.undo()
        assert w.files.save_to(path)
        assert (n50(read(path).home) == 4.0) == (way == "restore")
        assert bool(earlier(path, autosave.KEPT)) == (way == "restore and undo"), "gone only once it is safe"
    w.document.session.saved()
    w.close()
    assert {3.0, 4.0} <= to_be_had(path)


def test_several_pieces_of_work_are_answered_one_by_one(open_home: Open, path: Path, qtbot: QtBot) -> None:
    assert autosave.claimed(path)
    write_autosave(beside(path, "autosave"), home_of(5.0), path, ("later",), new_session(), hash_of(path))
    w = opened(open_home, path)
    assert "later" in w.banner.text.text() and "1 more to answer" in w.banner.text.text(), "the newest first"
    qtbot.mouseClick(w.banner.no, Qt.MouseButton.LeftButton)
    assert "n50 3.0 → 4.0" in w.banner.text.text()
    qtbot.mouseClick(w.banner.yes, Qt.MouseButton.LeftButton)
    assert n50(w.document.home) == 4.0 and not w.banner.isVisible()


def test_work_older_than_the_file_says_so(open_home: Open, path: Path) -> None:
    write(path, HomeFile(home_of(6.0), None))  # saved, and killed before the autosave was cleared away
    os.utime(beside(path, "autosave"), (1_700_000_000, 1_700_000_000))
    w = opened(open_home, path)
    assert "The file is newer" in w.banner.text.text()
    w.document.close()
    write_autosave(beside(path, "autosave"), home_of(7.0), path, ("newer",), new_session(), hash_of(path))
    w = opened(open_home, path)
    assert "newer" in w.banner.text.text() and "The file is newer" not in w.banner.text.text().split("·")[0]


def test_work_equal_to_the_file_is_not_offered(open_home: Open, path: Path) -> None:
    write(path, HomeFile(home_of(4.0), None))
    w = opened(open_home, path)
    assert not w.banner.isVisible() and not earlier(path, autosave.KEPT)


def test_work_never_saved_has_a_name_of_its_own_whatever_the_process_number(open_home: Open, qtbot: QtBot) -> None:
    first, second = Document(home_of(1.0)), Document(home_of(2.0))
    assert first.keeper.file != second.keeper.file and not first.keeper.file.name.startswith(f"{os.getpid()}-")
    for document in (first, second):
        document.desk.apply(SetValue(part="brief", field="plot", value="typed"))
        document.keeper.write(document.home, ("typed",))
    assert left_behind() == (), "both are at work in this very process"
    os.close(first.keeper.signs[0].handle)  # its process dies  # type: ignore[arg-type]
    first.keeper.signs[0].handle = None
    offered = left_behind()
    assert [n50(k.home) for k in offered] == [1.0]
    w = open_home(demo_home("sail-loft"))
    w.go("homes")
    qtbot.waitUntil(w.homes.isVisible)
    w.homes.left.restore(offered[0])
    qtbot.waitUntil(w.settled)
    assert n50(w.document.home) == 1.0 and w.document.path is None
    assert left_behind() == () and offered[0].file.exists(), "it is worked on, and still kept"
    w.document.close()
    assert [n50(k.home) for k in left_behind()] == [1.0], "closed without saving: offered again"
    second.close()


# evidence


def test_evidence_through_undo_save_redo_save(open_home: Open, path: Path, tmp_path: Path) -> None:
    record = tmp_path / "record.pdf"
    record.write_bytes(b"%PDF measured on site")
    w = opened(open_home, path)
    assert w.document.desk.attach(record, "air", "n50") == ""
    assert w.files.save_to(path)
    w.undo()
    assert w.files.save_to(path) and not read(path).evidence
    w.redo()
    assert w.document.home.evidence and w.files.save_to(path)
    assert list(read(path).evidence.values()) == [record.read_bytes()]


def test_one_file_in_two_homes_is_dropped_by_neither(open_home: Open, path: Path, tmp_path: Path) -> None:
    record = tmp_path / "record.pdf"
    record.write_bytes(b"%PDF measured on site")
    other = tmp_path / "homes" / "b.nuthatch"
    write(other, HomeFile(home_of(2.0), None))
    first, second = Document.of(read(path), path), Document.of(read(other), other)
    for document in (first, second):
        assert document.desk.attach(record, "air", "n50") == ""
    first.save(path)
    first.close()
    second.evidence.clear()  # as after a crash: only what is held is left
    second.save(other)
    assert list(read(other).evidence.values()) == [record.read_bytes()]
    second.close()


def test_evidence_of_restored_work_comes_with_it(open_home: Open, path: Path, tmp_path: Path, qtbot: QtBot) -> None:
    record = tmp_path / "record.pdf"
    record.write_bytes(b"%PDF measured on site")
    killed = Document.of(read(path), path)
    assert killed.desk.attach(record, "air", "n50") == ""
    killed.keeper.write(killed.home, ("attached",))
    killed.keeper.lock.stream.close()  # its process dies  # type: ignore[union-attr]
    record.unlink()
    w = opened(open_home, path)
    qtbot.mouseClick(w.banner.yes, Qt.MouseButton.LeftButton)
    assert w.document.home.evidence and w.files.save_to(path)
    assert [len(d) for d in read(path).evidence.values()] == [21]
    assert held(w.document.home.evidence[0].sha256, killed.keeper.id) is None, "and is held no longer once it is safe"


def test_an_empty_file_is_evidence_too(path: Path, tmp_path: Path) -> None:
    (tmp_path / "empty.txt").write_bytes(b"")
    document = Document.of(read(path), path)
    assert document.desk.attach(tmp_path / "empty.txt", "air", "n50") == ""
    document.save(path)
    document.close()
    again = Document.of(read(path), path)
    again.desk.choose("brief", "plot", "typed")
    again.save(path)
    assert list(read(path).evidence.values()) == [b""]
    again.close()


def test_saving_without_listed_bytes_is_refused_by_name(path: Path) -> None:
    document = Document.of(read(path), path)
    lost = EvidenceFile(id="e-1", name="lost report.pdf", sha256="1" * 64, size=3)
    assert document.desk.apply(SetValue(part="home", field="evidence", value=(lost,))) == ""
    before = path.read_bytes()
    with pytest.raises(HomeFileError, match="lost report.pdf"):
        document.save(path)
    assert path.read_bytes() == before and not versions(path)
    document.close()


# somebody else's change


def answer(monkeypatch: pytest.MonkeyPatch, label: str) -> list[str]:
    """Press the button of this label in the next question; gives what was asked."""
    asked: list[str] = []

    def run(box: QMessageBox) -> int:
        asked.append(box.text())
        button = next((b for b in box.buttons() if label in b.text()), None)
        assert button is not None, [b.text() for b in box.buttons()]
        box.clickedButton = lambda: button  # type: ignore[method-assign]
        return 0

    monkeypatch.setattr(QMessageBox, "exec", run)
    return asked


@pytest.mark.parametrize("choice", ["Save mine", "Take theirs", "Keep both", "Cancel"])
def test_a_file_changed_by_another_program(
    open_home: Open, path: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, choice: str
) -> None:
    w = opened(open_home, path)
    edit(w, 5.0)
    write(path, HomeFile(home_of(8.0), None))
    asked = answer(monkeypatch, choice)
    copy = tmp_path / "homes" / "mine.nuthatch"
    monkeypatch.setattr(w.files, "save_as", lambda: w.files.save_to(copy))
    safe = w.files.save()
    assert "changed by somebody else" in asked[0] and safe == (choice != "Cancel")
    if choice == "Save mine":
        assert n50(read(path).home) == 5.0 and 8.0 in to_be_had(path), "theirs is an earlier version"
    elif choice == "Take theirs":
        assert n50(w.document.home) == 8.0 and not w.document.session.dirty
        w.undo()
        assert n50(w.document.home) == 5.0, "mine is one undo away"
        assert w.files.save() and n50(read(path).home) == 5.0, "and may be saved without being asked again"
    elif choice == "Keep both":
        assert n50(read(path).home) == 8.0 and n50(read(copy).home) == 5.0
    else:
        assert n50(read(path).home) == 8.0 and w.document.session.dirty


@pytest.mark.parametrize("how", ["gone", "no home", "linked"])
def test_a_file_gone_replaced_or_linked(open_home: Open, path: Path, monkeypatch: pytest.MonkeyPatch, how: str) -> None:
    w = opened(open_home, path)
    edit(w, 5.0)
    second = path.with_name("second.nuthatch")
    if how == "gone":
        path.unlink()
    elif how == "no home":
        path.write_bytes(b"something else")
    else:
        os.link(path, second)
    asked = answer(monkeypatch, "Cancel")
    assert not w.files.save() and len(asked) == 1 and w.document.session.dirty
    answer(monkeypatch, "Save")
    assert w.files.save() and n50(read(path).home) == 5.0
    if how == "linked":
        assert n50(read(second).home) == 3.0


def test_a_symbolic_link_is_followed_and_kept(open_home: Open, path: Path, tmp_path: Path) -> None:
    (tmp_path / "links").mkdir()
    link = tmp_path / "links" / "b.nuthatch"
    link.symlink_to(path)
    w = opened(open_home, link)
    other = opened(open_home, path)
    assert "open elsewhere" in other.document.read_only, "the lock belongs to the file itself"
    assert w.banner.isVisible(), "and so does the work"
    edit(w, 5.0)
    assert w.files.save() and link.is_symlink() and n50(read(path).home) == 5.0
    assert not [p for p in link.parent.iterdir() if p != link]


# looking at evidence


def test_copies_for_viewing_are_private_harmless_and_asked_about(path: Path, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    document = Document.of(read(path), path)
    seen: list[Path] = []
    monkeypatch.setattr(
        "nuthatch.desktop.attached_files.QDesktopServices.openUrl", lambda url: seen.append(Path(url.toLocalFile())) or True
    )
    asked: list[str] = []
    monkeypatch.setattr(QMessageBox, "question", lambda *a: asked.append(a[2]) or QMessageBox.StandardButton.Cancel)

    def look(name: str, data: bytes) -> str:
        sha = hashlib.sha256(data).hexdigest()
        document.evidence[sha] = data
        return open_evidence(document, EvidenceFile(id="e", name=name, sha256=sha, size=len(data)))

    for name in ("..", "", ".", "/", "\0", "a\0b.pdf", "../../x.pdf", "x" * 300 + ".pdf", "con\x1b[2J.pdf", "-rf.pdf", "~"):
        before = len(seen)
        look(name, b"%PDF")
        for copy in seen[before:]:
            assert copy.parent.parent.stat().st_mode & 0o077 == 0 and copy.stat().st_mode & 0o377 == 0 and copy.read_bytes() == b"%PDF"
            assert copy.name.isprintable() and len(copy.name.encode()) <= 140 and copy.name not in (".", "..")
    assert look("photo.JPG", b"\xff\xd8") == "" and seen[-1].name == "photo.JPG"
    shown, asked[:] = len(seen), []
    for name, data in (
        ("run.sh", b"x"),
        ("a.desktop", b"x"),
        ("a.html", b"<script>"),
        ("report.pdf", b"#!/bin/sh"),
        ("a.pdf", b"\x7fELF"),
        ("x.pdf.exe", b"MZ"),
        ("none", b"x"),
    ):
        assert "not opened" in look(name, data) and may_execute(name, data), name
    assert len(seen) == shown and len(asked) == 7
    assert harmless_name("..") == "attached file" and harmless_name("plan 1.pdf") == "plan 1.pdf"
    document.close()


def test_older_work_that_comes_late_does_not_take_the_place_of_newer(path: Path) -> None:
    """A piece of work is being written when a reading is kept at once: what was newer stays."""
    write(path, HomeFile(home_of(1.0), None))
    document = Document.of(read(path), path)
    document.desk.apply(SetValue(part="brief", field="plot", value="first"))
    older, turn = document.home, document.keeper.turn
    document.desk.apply(SetValue(part="brief", field="plot", value="second"))
    document.keep_work()
    document.keeper.write(older, ("first",), turn)
    kept = read_autosave(document.keeper.file)
    assert kept is not None and kept.home.brief.plot == "second"
    document.close()
