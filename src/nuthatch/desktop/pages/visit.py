"""The list for the visit: shown, printed, saved as PDF."""

from __future__ import annotations

from html import escape
from pathlib import Path

from PyQt6.QtGui import QFont, QTextDocument
from PyQt6.QtPrintSupport import QPrintDialog, QPrinter
from PyQt6.QtWidgets import QDialog, QFileDialog, QHBoxLayout, QTextBrowser, QVBoxLayout, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.steps import NAMES
from nuthatch.core.visit import by_part, to_collect
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


def visit_page(a: Assessment, office: str = "") -> str:
    """The list as a page to print: HTML that a rich-text view understands."""
    home, brief = a.home, a.home.brief
    rows = by_part(to_collect(a))
    lines = [
        "<style>table{border-collapse:collapse} td,th{padding:3px 6px; text-align:left; font-size:9pt} h2{margin:12px 0 3px}</style>",
        f"<h1>{escape(home.name)}: to collect on site</h1>",
        f"<p>{escape(' · '.join(t for t in (brief.client, brief.plot, 'visit ' + brief.visit if brief.visit else '', office) if t))}</p>",
    ]
    if brief.visit_notes:
        lines.append(f"<p><b>For the visit:</b> {escape(brief.visit_notes)}</p>")
    asked = a.questions
    if asked:
        lines.append("<h2>Open questions</h2><table>")
        lines += [f"<tr><td>☐</td><td>{escape(q.item)}</td><td>{escape(q.text)}</td></tr>" for q in asked]
        lines.append("</table>")
    titles, step = dict(NAMES), ""
    for where, name, values, proof, targets in rows:
        if where != step:
            lines.append(("</table>" if step else "") + f"<h2>{escape(titles[where])}</h2>")
            heads = (("", 3), ("Part", 21), ("Values now", 38), ("What proves them", 24), ("For", 14))
            lines.append("<table width='100%'><tr>" + "".join(f"<th width='{w}%'>{h}</th>" for h, w in heads) + "</tr>")
            step = where
        wanted = ", ".join(targets) if len(targets) < 4 else f"{len(targets)} targets"
        cells = (name, "; ".join(values), proof, wanted)
        lines.append("<tr><td>☐</td>" + "".join(f"<td>{escape(c)}</td>" for c in cells) + "</tr>")
    lines.append("</table>" if rows else "<p>Every value the targets rest on is proven.</p>")
    return "\n".join(lines)
