"""The home bar: name and state, jump box, units, undo, redo, save, homes, menu."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QToolButton, QWidget

from nuthatch.core.units import INCH_POUND, system
from nuthatch.desktop.actions import Commands
from nuthatch.desktop.document import Document
from nuthatch.desktop.theme.style import icon
from nuthatch.desktop.widgets.quantity_field import ElidedLabel


class HomeBar(QWidget):
    """What stands above the board."""

    def __init__(self, commands: Commands, jump: QWidget, menu: QWidget) -> None:
        super().__init__()
        self._commands = commands
        self.setObjectName("homeBar")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(48)
        self.name, self.state, self.units = QLabel(), ElidedLabel(""), QToolButton()
        for label in (self.name, self.state):
            label.setTextFormat(Qt.TextFormat.PlainText)
        self.name.setObjectName("homeName")
        self.state.setObjectName("muted")
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 0, 14, 0)
        row.setSpacing(10)
        bird = QLabel()
        bird.setPixmap(icon("nuthatch", "slate").pixmap(30, 30))
        row.addWidget(bird)
        row.addWidget(self.name)
        row.addWidget(self.state, 1)
        row.addWidget(jump)
        self.units.setDefaultAction(commands["units"])
        self.units.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextOnly)
        row.addWidget(self.units)
        for name in ("undo", "redo", "save", "homes"):
            button = QToolButton()
            button.setDefaultAction(commands[name])
            button.setAccessibleName(commands[name].text())
            row.addWidget(button)
        row.addWidget(menu)
        self.show_units()

    def show_units(self) -> None:
        """Which units are shown."""
        name = "Inch-pound" if system() == INCH_POUND else "Metric"
        self._commands["units"].setText(name)
        self._commands["units"].setToolTip(f"Units: {name.lower()}. Switch (Ctrl U)")
        self.units.setAccessibleName(f"Units: {name}")

    def show_state(self, d: Document, own: tuple[str, str] = ("", "")) -> None:
        """Name and state of the open home, and what can be undone: of the home, or first of what is being drawn, `own`."""
        self.name.setText(d.home.name)
        unsaved, new = d.session.dirty, d.path is None
        saved = "read only" if d.read_only else "changed, not saved" if unsaved else "not saved yet" if new else "saved"
        self.state.put(" · ".join(t for t in (d.home.brief.client, d.home.brief.project, saved) if t))
        for name, label, verb in (("undo", own[0] or d.session.undo_label, "Undo"), ("redo", own[1] or d.session.redo_label, "Redo")):
            self._commands[name].setEnabled(label is not None)
            self._commands[name].setToolTip(f"{verb}: {label}" if label else f"Nothing to {verb.lower()}")
