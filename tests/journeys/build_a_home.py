"""Builds a stated simple house in a real window by keyboard and mouse, saves it, and prints what the window shows.

Run in a process of its own on a virtual display: build_a_home.py OUT.nuthatch OUT.png
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from nuthatch.core.library import new_home
from nuthatch.core.units import show
from nuthatch.desktop.app import application, finish
from nuthatch.desktop.document import Document
from nuthatch.desktop.window import MainWindow
from tests.journeys.by_hand import click, fill, step, type_into, wait

LAYERS = {
    "Wall": (("Wood wool", "60", "0.045"), ("Straw", "360", "0.052"), ("Clay", "30", "0.8")),
    "Roof": (("Cellulose", "400", "0.039"), ("Board", "25", "0.13")),
    "Slab": (("Foam glass", "300", "0.08"), ("Concrete", "150", "2")),
}


def build(window: MainWindow) -> None:
    board = step(window, "brief")
    fill(board.name_card, name="Built by hand")
    fill(board.card, client="A client", bedrooms="2")
    board = step(window, "site")
    board.work.lists.show_widget(board.climates.table)
    type_into(board.climates.words, "marrowby")
    wait(lambda: board.climates.table.rowCount() == 1)
    board.climates.table.setFocus()
    board.climates.table.setCurrentCell(0, 0)
    click(board.climates.card.use_button)
    wait(lambda: window.settled() and window.document.climate is not None)
    board = step(window, "build-ups")
    for name, layers in LAYERS.items():
        click(board.builds.add_button)
        fill(board.builds.card, name=name)
        for title, thickness, conductivity in layers:
            click(board.layers.add_button)
            fill(board.layers.card, name=title, thickness=thickness, conductivity=conductivity)
    board = step(window, "shape")
    fill(
        board.form_card,
        length="9 m",
        depth="24 ft",
        storeys="2",
        storey_height="2,8",
        roof="gable",
        pitch="35",
        under_roof="insulated",
        front_azimuth="180",
        b_top="0.9",
    )
    fill(board.form_card, wall_buildup="Wall", top_buildup="Roof", base_buildup="Slab")
    board = step(window, "openings")
    click(board.types.add_button)
    fill(
        board.types.card,
        name="Triple",
        glass_u="0.6",
        glass_g="0.5",
        frame_u="0.9",
        frame_side="110",
        frame_top="110",
        frame_bottom="110",
        edge_psi="0.035",
        install_psi="0.02",
    )
    for name, face, width, height, count in (("South", "Wall, front", "1.8", "1.4", "4"), ("North", "Wall, back", "90 cm", "1.2", "3")):
        click(board.rows.add_button)
        fill(board.rows.card, name=name, face=face, type="Triple", width=width, height=height, count=count)
    none = step(window, "junctions").none
    QTest.mouseClick(none, Qt.MouseButton.LeftButton, pos=QPoint(9, none.height() // 2))
    board = step(window, "air")
    fill(board.card, n50="0.6")
    click(board.fresh.units.add_button)
    QApplication.processEvents()
    fill(board.fresh.units.card, recovery="85 %", power="0.4")
    for way in ("outdoor air", "exhaust air"):
        click(board.fresh.ducts.add_button)
        fill(board.fresh.ducts.card, way=way, length="1.5", diameter="160", insulation="50", conductivity="0.035")
    board = step(window, "household")
    fill(board.card, electricity="1900")
    board = step(window, "heat-power")
    click(board.sources.add_button)
    fill(board.sources.card, name="Heat pump", carrier="Electricity", efficiency="280 %", auxiliary="80", cooling_share="100 %")


def main() -> None:
    target, picture = Path(sys.argv[1]), Path(sys.argv[2])
    app = application()
    window = MainWindow(Document(new_home()))
    window.show()
    window.activateWindow()
    wait(window.settled)
    build(window)
    wait(window.settled)
    window.files.save_to(target)
    window.grab().save(str(picture))
    reopened = MainWindow(Document(new_home()))
    reopened.show()
    assert reopened.files.open_path(target)
    wait(reopened.settled)
    rows = {w.key: show(w.value, w.kind) if w.value is not None else None for _, w in reopened.margins.bars.rows}
    steps = 0
    while window.document.session.undo() is not None:
        steps += 1
    found = {"shown": rows, "platform": app.platformName(), "same": reopened.document.home is not window.document.home, "steps": steps,
             "back": window.document.home == new_home(), "questions": [q.text for q in reopened.document.assessment.questions]}  # fmt: skip
    print(json.dumps(found))
    window.document.session.saved()
    finish(window, reopened)


if __name__ == "__main__":
    main()
