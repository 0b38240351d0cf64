"""The home bar: name and state, jump box, units, undo, redo, save, homes, menu; and the strip below it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QToolButton, QWidget

from nuthatch.core.units import INCH_POUND, system
from nuthatch.desktop.actions import home_menu
from nuthatch.desktop.theme.style import icon
from nuthatch.desktop.widgets.quantity_field import ElidedLabel

if TYPE_CHECKING:
    from nuthatch.desktop.window import MainWindow

    Base = MainWindow
else:
    Base = object


class HomeBar(Base):
    """The part of the window above the board."""

    def _home_bar(self) -> QWidget:
        bar = QWidget()
        bar.setObjectName("homeBar")
        bar.setFixedHeight(48)
        self.name, self.state = QLabel(), ElidedLabel("")
        for label in (self.name, self.state):
            label.setTextFormat(Qt.TextFormat.PlainText)
        self.name.setObjectName("homeName")
        self.state.setObjectName("muted")
        row = QHBoxLayout(bar)
        row.setContentsMargins(16, 0, 14, 0)
        row.setSpacing(10)
        bird = QLabel()
        bird.setPixmap(icon("nuthatch", "slate").pixmap(30, 30))
        row.addWidget(bird)
        row.addWidget(self.name)
        row.addWidget(self.state, 1)
        row.addWidget(self.jump)
        self.units = QToolButton()
        self.units.setDefaultAction(self.units_action)
        self.units.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextOnly)
        row.addWidget(self.units)
        self._units_state()
        self._buttons = []
        for action in (self.undo_action, self.redo_action, self.save_action, self.homes_action):
            button = QToolButton()
            button.setDefaultAction(action)
            button.setAccessibleName(action.text())
            row.addWidget(button)
            self._buttons.append(button)
        row.addWidget(home_menu(self))
        return bar

    def _banner_strip(self) -> QWidget:
        self.banner = QWidget()
        self.banner.setObjectName("banner")
        self.banner.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.banner_text = QLabel()
        self.banner_text.setTextFormat(Qt.TextFormat.PlainText)
        self.banner_text.setWordWrap(True)
        self.banner_yes, self.banner_no = QPushButton("Restore"), QPushButton("Leave")
        self.banner_yes.clicked.connect(lambda _=False: self.banner_accept())
        self.banner_no.clicked.connect(lambda _=False: self.banner_refuse())
        row = QHBoxLayout(self.banner)
        row.setContentsMargins(16, 5, 14, 5)
        row.addWidget(self.banner_text, 1)
        row.addWidget(self.banner_yes)
        row.addWidget(self.banner_no)
        return self.banner

    def _units_state(self) -> None:
        name = "Inch-pound" if system() == INCH_POUND else "Metric"
        self.units_action.setText(name)
        self.units_action.setToolTip(f"Units: {name.lower()}. Switch (Ctrl U)")
        self.units.setAccessibleName(f"Units: {name}")

    def _bar_state(self) -> None:
        d = self.document
        self.name.setText(d.home.name)
        saved = (
            "read only"
            if d.read_only
            else "not saved yet"
            if d.path is None and not d.session.dirty
            else "changed, not saved"
            if d.session.dirty
            else "saved"
        )
        self.state.put(" · ".join(t for t in (d.home.brief.client, d.home.brief.project, saved) if t))
        self.setWindowTitle(f"{d.home.name}{' •' if d.session.dirty else ''} · Nuthatch")
        for action, label, verb in ((self.undo_action, d.session.undo_label, "Undo"), (self.redo_action, d.session.redo_label, "Redo")):
            action.setEnabled(label is not None)
            action.setToolTip(f"{verb}: {label}" if label else f"Nothing to {verb.lower()}")
