"""A consultant's morning in a real window, by keyboard and mouse; prints what came of it. Run: a_morning.py FOLDER"""

from __future__ import annotations

import json
import sys
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from nuthatch.core.library import demo_folder, new_home
from nuthatch.core.office import load_office
from nuthatch.desktop import settings
from nuthatch.desktop.app import application, finish
from nuthatch.desktop.document import Document
from nuthatch.desktop.pages.new_like import NewLike
from nuthatch.desktop.pages.visit import VisitList
from nuthatch.desktop.window import MainWindow
from tests.journeys.by_hand import activate, answer_with, click, fill, pick, step, wait


def morning(folder: Path) -> dict[str, object]:
    """Profile, a home like another, the visit list, three homes checked, the table out, a dossier with a pin and evidence."""
    seen: dict[str, object] = {"platform": QApplication.platformName()}
    homes = folder / "homes"
    homes.mkdir()
    shelf = demo_folder() / "osier-lane"
    for number in (9, 10, 11):
        (homes / f"plot-{number}.nuthatch").write_bytes((shelf / f"osier-lane-{number}.nuthatch").read_bytes())
    settings.change(folders=(str(homes),))
    w = MainWindow(Document(new_home()))
    w.show()
    wait(w.settled)
    activate(w)
    # the office profile
    QTest.keyClick(w, Qt.Key.Key_O, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    wait(lambda: w.page == "office")
    assert w.office is not None
    fill(w.office.card, company="Tidewrack Energy Advice", contact="office@tidewrack.invalid")
    wait(lambda: load_office()[0].office.company == "Tidewrack Energy Advice")
    # the register: three homes are checked in the background, the table goes out
    QTest.keyClick(w, Qt.Key.Key_H, Qt.KeyboardModifier.ControlModifier)
    page = w.homes
    assert page is not None
    wait(lambda: page.settled and len(page.model.rows) == 3 and all(r.standing for r in page.model.rows), 60)
    seen["checked"] = {r.name: r.standing for r in page.model.rows}
    answer_with(folder / "table.csv")
    click(page.out_button)
    wait((folder / "table.csv").exists)
    activate(w)
    # a new home like plot 9
    QTest.keyClick(page.table, Qt.Key.Key_Home)
    page.table.selectRow(0)
    click(page.like_button)
    wait(lambda: any(d.isVisible() for d in w.findChildren(NewLike)))
    dialog = next(d for d in w.findChildren(NewLike) if d.isVisible())
    dialog.name.selectAll()
    QTest.keyClicks(dialog.name, "Osier Lane 40")
    click(dialog.ok)
    wait(lambda: w.page == "home" and w.document.home.name == "Osier Lane 40" and w.settled())
    seen["measured"] = w.document.home.air.n50 is not None
    brief = step(w, "brief")
    fill(brief.card, plot="Plot 40, Osier Lane, Marrowby", visit="2026-12-01", visit_notes="Ask for the commissioning sheet")  # type: ignore[attr-defined]
    # the list for the visit
    click(brief.visit_button)  # type: ignore[attr-defined]
    wait(lambda: any(d.isVisible() for d in w.findChildren(VisitList)))
    visit = next(d for d in w.findChildren(VisitList) if d.isVisible())
    seen["visit"] = visit.text.toPlainText()
    visit.accept()
    activate(w)
    # the air test comes in, with its record
    air = step(w, "air")
    fill(air.card, n50="0.55")  # type: ignore[attr-defined]
    wait(w.settled)
    line = air.card.evidence_line  # type: ignore[attr-defined]
    line.basis_box.setFocus()
    while line.basis_box.currentText() != "measured":
        QTest.keyClick(line.basis_box, Qt.Key.Key_Down)
    QApplication.processEvents()
    (folder / "record 40.pdf").write_bytes(b"%PDF-1.4 invented record of an air test")
    answer_with(folder / "record 40.pdf")
    activate(w)
    click(line.files)
    pick("Attach a file")
    wait(lambda: w.document.home.evidence)
    activate(w)
    # a chart pinned, with a caption
    balance = step(w, "balance")
    click(balance.pin_button)  # type: ignore[attr-defined]
    pick("Balance by month")
    wait(lambda: w.document.home.pins)
    dossier = step(w, "dossier")
    fill(dossier.pins.card, name="The year of plot 40")  # type: ignore[attr-defined]
    # saved, and the dossier written as a page
    activate(w)
    answer_with(folder / "plot-40.nuthatch")
    QTest.keyClick(w, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    wait((folder / "plot-40.nuthatch").exists)
    wait(lambda: not w.document.session.dirty)
    activate(w)
    answer_with(folder / "plot 40.html")
    click(dossier.write_button)  # type: ignore[attr-defined]
    wait(lambda: (folder / "plot 40.html").exists() and dossier.write_button.isEnabled(), 60)  # type: ignore[attr-defined]
    w.grab().save(str(folder / "morning.png"))
    given = w.document.home.air.n50
    seen["n50"] = [given.value, given.basis.value, list(given.files or ())] if given else None
    finish(w)
    return seen


if __name__ == "__main__":
    app = application()
    print(json.dumps(morning(Path(sys.argv[1]))))
