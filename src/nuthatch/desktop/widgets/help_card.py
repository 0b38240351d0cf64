"""The help card of a step: what it is for, and what its terms mean."""

from __future__ import annotations

from html import escape

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QLabel, QVBoxLayout, QWidget

from nuthatch.core.steps import BY_KEY


class HelpCard(QFrame):
    """One step's help."""

    def __init__(self, step: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("card")
        self.setAccessibleName("Help for this step")
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 10, 14, 10)
        found = BY_KEY[step]
        rows = "".join(
            f"<tr><td style='padding:2px 12px 2px 0'><b>{escape(term)}</b></td><td style='padding:2px 0'>{escape(meaning)}</td></tr>"
            for term, meaning in found.terms.items()
        )
        label = QLabel(f"<p>{escape(found.about)}</p><table>{rows}</table>")
        label.setWordWrap(True)
        label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        column.addWidget(label)
