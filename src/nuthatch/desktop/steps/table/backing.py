"""A backing sheet below the plan: a picture (PNG, JPEG, the first page of a PDF) or a DXF drawing, and the two points that set its
scale."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from math import hypot, isfinite
from pathlib import Path

import shapely
from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QSize
from PyQt6.QtGui import QImage
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtWidgets import QFileDialog, QInputDialog

from nuthatch.core.changes.changes import Batch
from nuthatch.core.edits import plan_files
from nuthatch.core.exchange.dxf_lines import UNITS, DxfLines, is_dxf, keep, kept, lines_told
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.model.home import EvidenceFile, Home
from nuthatch.core.model.plans import BackingSheet
from nuthatch.core.plans.reading_plans import number
from nuthatch.core.plans.roofs import Point2
from nuthatch.core.units import show, with_unit
from nuthatch.core.workers import LONGEST_READING, Task
from nuthatch.desktop.jobs import words_of
from nuthatch.desktop.steps.board import Board
from nuthatch.desktop.widgets.reading import Reading

WIDE = 2400
"""Pixels across a page of a PDF."""
TALL, LONGEST_SIDES = 4800, 50.0
"""Most pixels from top to bottom of a page, and how many times as long as wide one may be."""
MOST = 60_000_000
"""Pixels of the largest picture."""


@lru_cache(maxsize=4)
def picture(data: bytes) -> QImage | None:
    """The picture in a file; None where there is none that can be shown."""
    if data[:5] == b"%PDF-":
        return _page(data)
    made = QImage.fromData(data)
    if made.isNull() or made.width() * made.height() > MOST:
        return None
    return made.scaledToWidth(WIDE) if made.width() > WIDE else made


def page_pixels(width: float, height: float) -> tuple[int, int] | None:
    """Pixels to draw a page of a PDF with, within WIDE and TALL; None for one that is no page anybody drew on."""
    if not (isfinite(width) and isfinite(height)) or min(width, height) <= 0 or max(width, height) > LONGEST_SIDES * min(width, height):
        return None
    scale = min(WIDE / width, TALL / height)
    return max(round(width * scale), 1), max(round(height * scale), 1)


def _page(data: bytes) -> QImage | None:
    kept = QByteArray(data)
    device = QBuffer(kept)
    device.open(QIODevice.OpenModeFlag.ReadOnly)
    document = QPdfDocument(None)
    document.load(device)
    if document.pageCount() < 1:
        return None
    size = document.pagePointSize(0)
    pixels = page_pixels(size.width(), size.height())
    if pixels is None:
        return None
    made = document.render(0, QSize(*pixels))
    return None if made.isNull() else made.convertToFormat(QImage.Format.Format_ARGB32)


def _sized(ring: tuple[Point2, ...]) -> str:
    """“92.4 m², 10.20 × 9.40 m, 6 corners”."""
    xs, ys = [x for x, _ in ring], [y for _, y in ring]
    area = with_unit(shapely.Polygon(ring).area, "area")
    return f"{area}, {show(max(xs) - min(xs), 'length')} × {with_unit(max(ys) - min(ys), 'length')}, {len(ring)} corners"


@dataclass(frozen=True)
class Laid:
    """A picture below the plan: where its lower left corner lies and how wide it is [m], turned about that [°], seen from behind."""

    image: QImage
    x: float
    y: float
    width: float
    turned: float = 0.0
    mirrored: bool = False


class Backing:
    """The backing sheets of a home's storeys. redraw: called when a drawing that was read in the background can be shown."""

    def __init__(self, board: Board, reading: Reading, redraw: Callable[[], None]) -> None:
        self.board, self.desk, self._reading, self._redraw = board, board.desk, reading, redraw
        self._say = board.message.emit
        self._two: tuple[Point2, ...] = ()
        self._before: BackingSheet | None = None
        self._drawn: tuple[object, DxfLines | None] = (None, None)
        self._refused: set[str] = set()

    def laid(self, home: Home, sheet: BackingSheet | None) -> Laid | DxfLines | None:
        """A sheet as it lies below the plan; None while it is being read."""
        if sheet is None or not (sheet.x and sheet.y and sheet.width):
            return None
        file = next((e for e in home.evidence if e.id == sheet.file), None)
        data = self.desk.evidence_bytes(file.sha256) if file is not None else None
        if file is None or data is None:
            return None
        place = sheet.x.value, sheet.y.value, sheet.width.value, number(sheet.turned), sheet.mirrored
        if not is_dxf(file.name):
            image = picture(data)
            return Laid(image, *place) if image is not None else None
        now = (file.sha256, *place)
        if self._drawn[0] != now:
            lines = kept(data)
            if lines is None:
                self._read_again(file, data)
                return None
            self._drawn = now, lines.laid(*place)
        return self._drawn[1]

    def _read_again(self, file: EvidenceFile, data: bytes) -> None:
        """A drawing of a home that was opened, read in the background."""
        if file.sha256 in self._refused or self._reading.running:
            return

        def failed(error: Exception) -> None:
            self._refused.add(file.sha256)
            self._say(f"{file.name}: {words_of(error, (HomeFileError,))}")

        def read(lines: DxfLines) -> None:
            keep(data, lines)
            self._redraw()

        self._reading.apart(f"Reading {file.name}", Task(lines_told, {"data": data}, LONGEST_READING), read, failed)

    def choose(self, lay: Callable[[EvidenceFile, float | None], None]) -> None:
        """A file is asked for and given to `lay` with its width [m], None where it does not know it; a drawing is read in the background
        first, and its unit asked where it does not say it."""
        name, _ = QFileDialog.getOpenFileName(self.board, "Backing sheet", "", "Pictures, PDF and DXF (*.png *.jpg *.jpeg *.pdf *.dxf)")
        if not name:
            return
        file = self.desk.taken(Path(name))
        if isinstance(file, str):
            self._say(file)
            return
        data = self.desk.evidence_bytes(file.sha256) or b""
        if not is_dxf(file.name):
            if picture(data) is None:
                self._say(f"{file.name} is no picture, PDF or DXF drawing that can be shown")
            else:
                lay(file, None)
            return
        found = file

        def read(lines: DxfLines) -> None:
            keep(data, lines)
            width = self._width(found.name, lines)
            if width is not None:
                lay(found, width)

        def failed(error: Exception) -> None:
            self._say(f"{found.name}: {words_of(error, (HomeFileError,))}")

        self._reading.apart(f"Reading {file.name}", Task(lines_told, {"data": data}, LONGEST_READING), read, failed)

    def _width(self, name: str, lines: DxfLines) -> float | None:
        """How wide a drawing is [m], by the unit it says or the person; None where it is given up."""
        if lines.said:
            return lines.width
        rows = {f"{unit}: {with_unit(lines.width_in(unit), 'length')} wide": unit for unit in UNITS}
        first = list(rows.values()).index(lines.unit)
        question = f"{name} does not say its unit. It was drawn in:"
        chosen, ok = QInputDialog.getItem(self.board, "Unit of the drawing", question, list(rows), first, False)
        return lines.width_in(rows[chosen]) if ok else None

    def outlines(self, home: Home, storey: str, sheet: BackingSheet | None) -> Batch | None:
        """The closed lines of a storey's drawing as outlines, which of them asked where one lies in another; None where there is no
        drawing, and that is said."""
        laid = self.laid(home, sheet)
        if not isinstance(laid, DxfLines):
            self._say("only a DXF drawing has lines that can become outlines: lay one below this storey first")
            return None
        rings = plan_files.outlines_to_choose(home, storey, laid.closed)
        if not plan_files.nested(rings):
            return plan_files.outlined(home, storey, rings)
        rows = [f"{n}: {_sized(ring)}" for n, ring in enumerate(rings, 1)]
        question = "Closed lines lie in each other here. The outer faces of the home are:"
        chosen, ok = QInputDialog.getItem(self.board, "Outline from the drawing", question, rows, plan_files.likely_outline(rings), False)
        return plan_files.outlined(home, storey, [rings[rows.index(chosen)]]) if ok else None

    def scale_from(self, sheet: BackingSheet | None, points: tuple[Point2, ...]) -> None:
        """Two points of a sheet are chosen; how far they are apart is typed next."""
        self._before, self._two = sheet, points

    def scaled(self, apart: float) -> Batch | None:
        """The sheet so large that its two points lie so far apart [m]. Raises ChangeRefused."""
        if self._before is None or len(self._two) != 2:
            return None
        first, second = self._two
        return plan_files.sheet_scaled(self._before, first, second, apart)

    def done(self) -> None:
        """The distance is typed to its end."""
        self._before, self._two = None, ()

    def apart(self, sheet: BackingSheet) -> float | None:
        """How far the two points are from each other now [m]."""
        before = self._before
        if before is None or not self._two or before.width is None or sheet.width is None:
            return None
        (ax, ay), (bx, by) = self._two
        return hypot(bx - ax, by - ay) * sheet.width.value / before.width.value
