"""A backing sheet below the plan: a picture (PNG, JPEG, the first page of a PDF) or a DXF drawing, and the two points that set its
scale."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from math import hypot
from pathlib import Path

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QSize
from PyQt6.QtGui import QImage
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtWidgets import QFileDialog, QWidget

from nuthatch.core.changes.changes import Batch
from nuthatch.core.edits import plan_files
from nuthatch.core.exchange.dxf_lines import DxfLines, is_dxf, lines_of
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.model.home import Home
from nuthatch.core.model.plans import BackingSheet
from nuthatch.core.plans.reading_plans import number
from nuthatch.core.plans.roofs import Point2
from nuthatch.desktop.desk import Desk

WIDE = 2400
"""Pixels a page of a PDF is drawn with."""
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


def _page(data: bytes) -> QImage | None:
    kept = QByteArray(data)
    device = QBuffer(kept)
    device.open(QIODevice.OpenModeFlag.ReadOnly)
    document = QPdfDocument(None)
    document.load(device)
    if document.pageCount() < 1:
        return None
    size = document.pagePointSize(0)
    if size.width() <= 0:
        return None
    made = document.render(0, QSize(WIDE, max(round(WIDE * size.height() / size.width()), 1)))
    return None if made.isNull() else made.convertToFormat(QImage.Format.Format_ARGB32)


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
    """The backing sheets of a home's storeys."""

    def __init__(self, desk: Desk, say: Callable[[str], None]) -> None:
        self.desk, self._say = desk, say
        self._two: tuple[Point2, ...] = ()
        self._before: BackingSheet | None = None
        self._drawn: tuple[object, DxfLines | None] = (None, None)

    def laid(self, home: Home, sheet: BackingSheet | None) -> Laid | DxfLines | None:
        """A sheet as it lies below the plan."""
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
            try:
                self._drawn = now, lines_of(data).laid(*place)
            except HomeFileError:
                self._drawn = now, None
        return self._drawn[1]

    def chosen(self, home: Home, storey: str, above: QWidget) -> Batch | None:
        """A file is asked for and laid below a storey; None where there is none, and why is said."""
        name, _ = QFileDialog.getOpenFileName(above, "Backing sheet", "", "Pictures, PDF and DXF (*.png *.jpg *.jpeg *.pdf *.dxf)")
        if not name:
            return None
        file = self.desk.taken(Path(name))
        if isinstance(file, str):
            self._say(file)
            return None
        data = self.desk.evidence_bytes(file.sha256) or b""
        if not is_dxf(file.name):
            if picture(data) is None:
                self._say(f"{file.name} is no picture, PDF or DXF drawing that can be shown")
                return None
            return plan_files.sheet_laid(home, storey, file)
        try:
            return plan_files.sheet_laid(home, storey, file, lines_of(data).width)
        except HomeFileError as why:
            self._say(f"{file.name}: {why}")
            return None

    def outlines(self, home: Home, storey: str, sheet: BackingSheet | None) -> Batch | None:
        """The closed polylines of a storey's drawing as outlines; None where there is no drawing, and that is said."""
        laid = self.laid(home, sheet)
        if not isinstance(laid, DxfLines):
            self._say("only a DXF drawing has lines that can become outlines: lay one below this storey first")
            return None
        return plan_files.outlined(home, storey, laid.closed)

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
