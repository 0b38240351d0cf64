"""A PDF on a printer, page by page."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QRect, QSize
from PyQt6.QtGui import QPainter
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtPrintSupport import QPrinter

PRINT_DPI = 300


def print_pdf(path: Path, printer: QPrinter) -> str:
    """Print a PDF page by page; returns what went wrong, or ''."""
    sheet = QPdfDocument(None)
    if sheet.load(str(path)) != QPdfDocument.Error.None_:
        return "the dossier could not be read for printing"
    painter = QPainter()
    if not painter.begin(printer):
        return "the printer does not answer"
    for number in range(sheet.pageCount()):
        if number:
            printer.newPage()
        area = painter.viewport()
        size = sheet.pagePointSize(number)
        scale = min(area.width() / size.width(), area.height() / size.height())
        dots = min(scale, PRINT_DPI / 72)  # finer than a printed sheet shows only costs memory
        image = sheet.render(number, QSize(int(size.width() * dots), int(size.height() * dots)))
        painter.drawImage(QRect(0, 0, int(size.width() * scale), int(size.height() * scale)), image)
    painter.end()
    return ""
