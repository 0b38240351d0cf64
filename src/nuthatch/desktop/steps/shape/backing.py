"""A backing sheet as a picture: PNG, JPEG, or the first page of a PDF."""

from __future__ import annotations

from functools import lru_cache

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QSize
from PyQt6.QtGui import QImage
from PyQt6.QtPdf import QPdfDocument

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
