"""How it is worked out: formula, clause, inputs with their basis, each openable down to what somebody entered."""

from __future__ import annotations

from html import escape
from typing import Any

from PyQt6.QtCore import QUrl, pyqtSignal
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QTextBrowser, QVBoxLayout, QWidget

from nuthatch.core.results.figure import Entered, Figure, Unknown, shown
from nuthatch.desktop.theme.style import theme


class WorkingCard(QDialog):
    """A window beside the board; `lead(step, part, field)` where an entered value is to be changed."""

    lead = pyqtSignal(str, str)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("How it is worked out")
        self.resize(620, 480)
        self.trail: list[Any] = []
        self._links: list[Any] = []
        self.text = QTextBrowser()
        self.text.setOpenLinks(False)
        self.text.setAccessibleName("How it is worked out")
        self.text.anchorClicked.connect(self._open)
        self._back = QPushButton("Back")
        self._back.clicked.connect(self.back)
        close = QPushButton("Close")
        close.clicked.connect(self.close)
        row = QHBoxLayout()
        row.addWidget(self._back)
        row.addStretch(1)
        row.addWidget(close)
        column = QVBoxLayout(self)
        column.addWidget(self.text)
        column.addLayout(row)

    def show_node(self, node: Any) -> None:
        """Start at a result."""
        self.trail = [node]
        self._render()
        self.show()
        self.raise_()

    def back(self) -> None:
        if len(self.trail) > 1:
            self.trail.pop()
            self._render()

    def _open(self, url: QUrl) -> None:
        kind, number = url.toString().split(":")
        node = self._links[int(number)]
        if kind == "node":
            self.trail.append(node)
            self._render()
        else:
            self.lead.emit(*node)

    def _link(self, kind: str, target: Any, text: str) -> str:
        self._links.append(target)
        return f'<a style="color:{theme.tokens["slate"]}" href="{kind}:{len(self._links) - 1}">{text}</a>'

    def _render(self) -> None:
        self._links = []
        node = self.trail[-1]
        self._back.setEnabled(len(self.trail) > 1)
        muted = theme.tokens["muted"]
        parts = [
            f"<p style='color:{muted}'>{' › '.join(escape(n.label) for n in self.trail)}</p>",
            f"<h3>{escape(node.label)}</h3>",
            f"<p style='font-size:15px'><b>{escape(shown(node))}</b></p>",
        ]
        if isinstance(node, Unknown):
            parts.append("<p>It needs:</p><ul>")
            for need in node.needs:
                text = escape(need.text)
                parts.append(f"<li>{self._link('lead', (need.part, need.field), text) if need.part else text}</li>")
            parts.append("</ul>")
        elif isinstance(node, Figure):
            parts.append(
                f"<p style='font-size:14px'>{escape(node.calc.formula)}</p><p style='color:{muted}'>{escape(node.calc.clause)}</p>"
            )
            parts.append("<table cellpadding='4' width='100%'>")
            for symbol, item in node.rows():
                parts.append(self._row(symbol, item, muted))
            parts.append("</table>")
        self.text.setHtml("".join(parts))

    def _row(self, symbol: str, item: Any, muted: str) -> str:
        label, value = escape(item.label), escape(shown(item))
        if isinstance(item, Figure | Unknown):
            label, basis = self._link("node", item, label), "worked out"
        else:
            assert isinstance(item, Entered)
            basis = item.basis + (f", {item.source}" if item.source else "")
            if item.part:
                label = self._link("lead", (item.part, item.field), label)
        return f"<tr><td><i>{escape(symbol)}</i></td><td>{label}</td><td align='right'>{value}</td><td style='color:{muted}'>{escape(basis)}</td></tr>"
