"""A new home: like another one, from a starter home, or empty."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from nuthatch.core.assess import assess
from nuthatch.core.library import Starter, starters
from nuthatch.core.views.shape.axonometric import View, axonometric
from nuthatch.desktop.shell import Files, Shell
from nuthatch.desktop.steps.board import button
from nuthatch.desktop.widgets.sketch_view import SketchView

COLUMNS = 3


class StarterCard(QFrame):
    """One starter home: its drawing, what it is, and the button that begins from it."""

    def __init__(self, starter: Starter, take: object) -> None:
        super().__init__()
        self.setObjectName("card")
        self.starter = starter
        self.view = SketchView(starter.home.name)
        self.view.setMinimumHeight(130)
        self.view.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.view.clicked.connect(lambda _: take(starter))  # type: ignore[operator]
        about = QLabel(starter.about)
        about.setObjectName("muted")
        about.setWordWrap(True)
        self.start = button(starter.home.name, lambda: take(starter), tip=f"Begin from: {starter.home.name}, {starter.about}")  # type: ignore[operator]
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 10)
        column.setSpacing(5)
        column.addWidget(self.view, 1)
        column.addWidget(about)
        column.addWidget(self.start)

    def draw(self) -> None:
        """Draw the home, once there is time."""
        a = assess(self.starter.home, None)
        self.view.show_made(lambda w, h: axonometric(a, View(28, 22), None, (w, h)))


class NewHomePage(QWidget):
    """The page that asks how a new home begins."""

    def __init__(self, shell: Shell, files: Files) -> None:
        super().__init__()
        self._shell, self._files = shell, files
        self.setObjectName("board")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        title = QLabel("New home")
        title.setObjectName("homeName")
        said = QLabel(
            "It starts within your office profile: your climate, carriers, prices and target sets. Everything can be changed later."
        )
        said.setObjectName("muted")
        said.setWordWrap(True)
        self.empty_button = button("Empty", self._empty, "plus", "From the office profile alone")
        self.like_button = button("Like another home …", self._like, "copy", "Choose the home in the register, then “New like this …”")
        back = button("Back", self._back, tip="Back (Esc)")
        row = QHBoxLayout()
        row.addWidget(self.empty_button)
        row.addWidget(self.like_button)
        row.addStretch(1)
        row.addWidget(back)
        plain = QLabel("Or begin from a plain one. All its values are assumptions, marked as such; put your own in their place.")
        plain.setWordWrap(True)
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 16, 16, 12)
        column.setSpacing(10)
        column.addWidget(title)
        column.addWidget(said)
        column.addLayout(row)
        column.addWidget(plain)
        column.addWidget(self._starters(), 1)
        self._drawn = 0
        self._later = QTimer(self)
        self._later.setInterval(10)
        self._later.timeout.connect(self._draw_next)

    def _starters(self) -> QScrollArea:
        """The plain homes to begin from."""
        grid = QGridLayout()
        grid.setSpacing(12)
        self.cards = [StarterCard(s, self._starter) for s in starters()]
        for n, card in enumerate(self.cards):
            grid.addWidget(card, n % 2, n // 2)
        for row in range(2):
            grid.setRowStretch(row, 1)
        holder = QWidget()
        holder.setObjectName("boardBody")
        inner = QVBoxLayout(holder)
        inner.setContentsMargins(0, 0, 8, 0)
        inner.addLayout(grid, 1)
        area = QScrollArea()
        area.setObjectName("boardScroll")
        area.setWidgetResizable(True)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setWidget(holder)
        return area

    def open(self) -> None:
        """Show the page."""
        self._later.start()
        self.empty_button.setFocus()

    def _draw_next(self) -> None:
        if self._drawn < len(self.cards):
            self.cards[self._drawn].draw()
            self._drawn += 1
        else:
            self._later.stop()

    @property
    def settled(self) -> bool:
        """Whether every starter home is drawn."""
        return self._drawn >= len(self.cards)

    def _empty(self) -> None:
        self._files.new()

    def _like(self) -> None:
        self._shell.go("homes")

    def _starter(self, starter: Starter) -> None:
        self._files.new_from(starter)

    def _back(self) -> None:
        self._shell.go("home") if self._shell.document.assessment is not None else self._shell.go("homes")

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() == Qt.Key.Key_Escape:
            self._back()
        else:
            super().keyPressEvent(event)
