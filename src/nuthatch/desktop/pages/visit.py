"""The list for the visit: shown, printed, saved as PDF."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtGui import QFont, QTextDocument
from PyQt6.QtPrintSupport import QPrintDialog, QPrinter
from PyQt6.QtWidgets import QDialog, QFileDialog, QHBoxLayout, QTextBrowser, QVBoxLayout, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.visit import visit_page
from nuthatch.desktop.steps.board import button


class VisitList(QDialog):
    """What to collect on site."""

    def __init__(self, assessment: Assessment, office: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("List for the visit")
        self.resize(860, 640)
        self._name = assessment.home.name
        self.page = visit_page(assessment, office)
        self.text = QTextBrowser()
        self.text.setAccessibleName("List for the visit")
        self.text.setHtml(self.page)
        column = QVBoxLayout(self)
        column.addWidget(self.text)
        row = QHBoxLayout()
        row.addWidget(button("Print …", self._print, tip="Print the list"))
        row.addWidget(button("Save as PDF …", self._ask_pdf, tip="Save the list as PDF"))
        row.addStretch(1)
        row.addWidget(button("Close", self.accept))
        column.addLayout(row)

    def _print(self) -> None:
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        if QPrintDialog(printer, self).exec() == QDialog.DialogCode.Accepted:
            self._paint(printer)

    def _ask_pdf(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Save the list", f"{self._name.replace('/', '-')} visit.pdf", "PDF (*.pdf)")
        if name:
            self.write_pdf(Path(name))

    def write_pdf(self, path: Path) -> None:
        """The list as PDF."""
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
        printer.setOutputFileName(str(path))
        self._paint(printer)

    def _paint(self, printer: QPrinter) -> None:
        sheet = QTextDocument()
        plain = QFont("Inter", 9)  # without the tabular figures of the screen: text of the PDF stays searchable
        sheet.setDefaultFont(plain)
        sheet.setHtml(f"<body style='color:#000000'>{self.page}</body>")
        sheet.print(printer)
