"""In a real window: ground that slopes typed and dragged, a dormer drawn, moved and mirrored, an outline that crosses mended, a gbXML file
taken in as plans and what was left out of it read. What came of it is printed. Run: with a folder; with a second name, pictures are kept."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from nuthatch.core.assess import assess
from nuthatch.core.exchange import gbxml
from nuthatch.core.library import demo_home
from nuthatch.core.model.plans import RoofPlan
from nuthatch.core.plans.reading_plans import points_of
from nuthatch.core.plans.roofs import Point2
from nuthatch.desktop.app import application, finish
from nuthatch.desktop.document import Document
from nuthatch.desktop.widgets.sketch_view import SketchView
from nuthatch.desktop.window import MainWindow
from tests.journeys.by_hand import activate, answer_with, fill, wait
from tests.journeys.draw_a_home import Drawer
from tests.plan_home import plan_home

K = Qt.Key


class Person(Drawer):
    """Somebody at the drawing table of a home that is there."""

    def drag(self, view: SketchView, start: QPointF, by: QPointF) -> None:
        QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=start.toPoint())
        for n in range(1, 6):
            QTest.mouseMove(view, (start + by * n / 5).toPoint())
            QApplication.processEvents()
        QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=(start + by).toPoint())
        self.settle()

    def metres(self, x: float, y: float) -> QPointF:
        """So far in the plan, on the screen."""
        return self.view.on_screen((x, y)) - self.view.on_screen((0.0, 0.0))

    def point(self, p: Point2) -> QPoint:
        return self.view.on_screen(p).toPoint()

    def kept(self, name: str) -> None:
        self.settle()
        if len(sys.argv) > 2:
            QTest.qWait(400)  # once all is laid out
            self.window.grab().save(f"{sys.argv[2]}-{name}.png")


def ground(d: Person) -> dict[str, float]:
    """A height at each corner; one typed in the inspector, one dragged in the elevation."""
    d.menu("Ground that slopes: a height at each corner")
    d.settle()
    first, *_, last = d.part.plans.heights
    d.part.select(first.id)
    fill(d.part.inspector.card, z="0.8")
    d.settle()
    d.table.show_large(1)
    d.settle()
    view = d.table.elevation
    handle = next(h for h in view.sketch.handles if h.id == last.id)  # type: ignore[union-attr]
    start = view.point_of_handle(last.id)
    assert start is not None
    d.drag(view, start, QPointF(0, -0.6 / abs(handle.pulls[0].per[1])))
    d.kept("elevation")
    d.table.show_large(3)
    d.kept("solid")
    d.table.show_large(0)
    d.settle()
    return {s.id: s.z.value for s in d.part.plans.heights if s.z is not None and s.id in (first.id, last.id)}


def dormer(d: Person) -> list[list[Point2]]:
    """Drawn by its front and depth, dragged by its middle, mirrored with the home."""
    d.storey("Upper floor")
    d.menu("Part of the roof at any angle: its front, then its depth")
    for p in ((7.0, 1.0), (8.5, 1.0), (8.5, 3.0)):
        QTest.mouseMove(d.view, d.point(p))
        QTest.mouseClick(d.view, Qt.MouseButton.LeftButton, pos=d.point(p))
        QApplication.processEvents()
    d.settle()
    ident = d.part.plans.roofs[-1].id
    found = [corners(d, ident)]
    start = d.view.point_of_handle(ident)
    assert start is not None
    d.drag(d.view, start, d.metres(-1.0, 0.0))
    found.append(corners(d, ident))
    d.kept("dormer")
    d.menu("Mirror the plans")
    d.settle()
    found.append(corners(d, ident))
    return found


def corners(d: Person, ident: str) -> list[Point2]:
    roof = next(r for r in d.part.plans.roofs if r.id == ident)
    assert isinstance(roof, RoofPlan)
    return [(round(x, 2), round(y, 2)) for x, y in points_of(roof.corners)]


def crossing(d: Person) -> int:
    """An outline that crosses itself stays; a corner is dragged, and Enter takes it."""
    d.storey("Ground floor")
    d.press("Outline")
    places = ((1.0, 7.0), (3.0, 9.0), (3.0, 7.0), (1.0, 9.0))
    for p in places:
        QTest.mouseMove(d.view, d.point(p))
        d.view.add(p)
    d.keys(K.Key_Return)
    assert d.view.tool == "outline" and "cross" in d.view.trace.wrong, d.view.trace.wrong
    d.kept("crossing")
    for n, p in ((1, (3.0, 6.5)), (2, (3.0, 9.0))):
        start = d.view.on_screen(d.view.trace.points[n])
        d.drag(d.view, start, d.view.on_screen(p) - start)
    d.keys(K.Key_Return)
    d.settle()
    return len(d.part.plans.storeys[0].outlines[-1].sides)


def model(d: Person, folder: Path) -> dict[str, object]:
    """Our own cottage as gbXML, with a schedule no home can hold, taken in through the menu and the file dialog."""
    data = gbxml.write(assess(demo_home("weir-cottage"), None)).replace(
        b"</gbXML>", b'<Schedule id="s"><Name>Away</Name></Schedule></gbXML>'
    )
    path = folder / "cottage.xml"
    path.write_bytes(data)
    answer_with(path)
    d.menu("Take in gbXML, IFC or faces …")
    taking = d.board.taking
    wait(lambda: taking.left_out.rowCount() and not d.board.reading.running)  # the dialog, then the file, then the home
    wait(lambda: d.window.settled() and d.board.home is d.window.document.home)
    wait(lambda: d.board.work.lists.current is taking.left_out and taking.left_out.isVisible())  # a busy machine shows it a little later
    d.kept("left-out")
    built = {b.id: b for b in d.window.document.home.buildups}
    wall = built[d.part.plans.wall_buildup]
    return {
        "storeys": [s.name for s in d.part.plans.storeys],
        "layers": [layer.name for layer in wall.layers],
        "left out": [taking.left_out.item(r, 0).text() for r in range(taking.left_out.rowCount())],
        "read": d.board.work.lists.current is taking.left_out and taking.left_out.isVisible(),
        "openings": len(d.window.document.home.openings),
    }


def main() -> None:
    app = application()
    window = MainWindow(Document(plan_home()))
    window.resize(1280, 800)
    window.show()
    activate(window)
    wait(window.settled)
    window.show_step("shape")
    wait(window.settled)
    d = Person(window)
    found = {
        "platform": app.platformName(),
        "ground": ground(d),
        "dormer": dormer(d),
        "mended": crossing(d),
        "model": model(d, Path(sys.argv[1])),
    }
    window.document.session.saved()
    finish(window)
    print(json.dumps(found))


if __name__ == "__main__":
    main()
