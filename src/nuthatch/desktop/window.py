"""The window: home bar, route, board, margins, change line. Signals upward, calls downward."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer
from PyQt6.QtGui import QAction, QCloseEvent, QKeyEvent, QKeySequence, QShowEvent
from PyQt6.QtWidgets import (
    QApplication,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QMainWindow,
    QMenu,
    QMessageBox,
    QStackedWidget,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from nuthatch.core.exchange.homefile import HomeFileError, read
from nuthatch.core.library import DEMO, demo_home, new_home
from nuthatch.core.questions import standings
from nuthatch.desktop.change_line import ChangeLine, effect
from nuthatch.desktop.document import Document
from nuthatch.desktop.jump_box import JumpBox
from nuthatch.desktop.margins import Margins
from nuthatch.desktop.route import STEPS, Route
from nuthatch.desktop.steps.balance.board import BalanceBoard
from nuthatch.desktop.steps.board import Board, order_focus
from nuthatch.desktop.steps.brief.board import BriefBoard
from nuthatch.desktop.steps.build_ups.board import BuildUpsBoard
from nuthatch.desktop.steps.cards import AirBoard, HeatPowerBoard, HotWaterBoard, HouseholdBoard
from nuthatch.desktop.steps.cutaway.board import CutawayBoard
from nuthatch.desktop.steps.dossier.board import DossierBoard
from nuthatch.desktop.steps.junctions.board import JunctionsBoard
from nuthatch.desktop.steps.openings.board import OpeningsBoard
from nuthatch.desktop.steps.shape.board import ShapeBoard
from nuthatch.desktop.steps.site.board import SiteBoard
from nuthatch.desktop.theme.style import apply_theme, icon, theme
from nuthatch.desktop.widgets.quantity_field import QuantityField
from nuthatch.desktop.widgets.working_card import WorkingCard

BOARDS: tuple[type[Board], ...] = (
    CutawayBoard,
    BriefBoard,
    SiteBoard,
    ShapeBoard,
    BuildUpsBoard,
    OpeningsBoard,
    JunctionsBoard,
    AirBoard,
    HotWaterBoard,
    HouseholdBoard,
    HeatPowerBoard,
    BalanceBoard,
    DossierBoard,
)
FILTER = "Nuthatch homes (*.nuthatch)"


def plain_name(name: str) -> str:
    """A home's name as a file name."""
    return "".join("-" if c in '/\\:*?"<>|' or ord(c) < 32 else c for c in name).strip(". ") or "home"


class MainWindow(QMainWindow):
    """One open home."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.resize(1280, 800)
        self.setMinimumSize(1100, 700)
        self._actions()
        self.set_document(document)

    def set_document(self, document: Document) -> None:
        """Show another home in this window."""
        self.document = document
        self.route, self.margins, self.change_line = Route(), Margins(document), ChangeLine()
        self.jump = JumpBox(document, self)
        self.stack = QStackedWidget()
        self.boards: dict[str, Board] = {}
        self.working = WorkingCard(self)
        self.working.lead.connect(lambda part, field: self.lead(part, field))
        self.route.chosen.connect(self.show_step)
        self.margins.go.connect(self.go)
        self.margins.explain.connect(self.explain)
        self.jump.go.connect(lambda step, part: self.go(step, part, ""))
        self.jump.explain.connect(self.explain)
        document.changed.connect(self._changed)
        document.ready.connect(self._ready)
        document.failed.connect(lambda text: self.change_line.say(text))
        document.saved.connect(self._bar_state)
        middle = QHBoxLayout()
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(0)
        middle.addWidget(self.route)
        middle.addWidget(self.stack, 1)
        middle.addWidget(self.margins)
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self._home_bar())
        column.addLayout(middle, 1)
        column.addWidget(self.change_line)
        self.setCentralWidget(body)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(0)
        self._later.timeout.connect(self._refresh_board)
        self.step = ""
        self.show_step("cutaway")
        self.route.setFocus()
        self._bar_state()
        self.change_line.say("Opened", "computing …")
        QTimer.singleShot(0, document.start)

    def _home_bar(self) -> QWidget:
        bar = QWidget()
        bar.setObjectName("homeBar")
        bar.setFixedHeight(48)
        self.name, self.state = QLabel(), QLabel()
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
        row.addWidget(self.state)
        row.addStretch(1)
        row.addWidget(self.jump)
        self._buttons = []
        for action in (self.undo_action, self.redo_action, self.save_action):
            button = QToolButton()
            button.setDefaultAction(action)
            button.setAccessibleName(action.text())
            row.addWidget(button)
            self._buttons.append(button)
        menu_button = QToolButton()
        menu_button.setText("Home ▾")
        menu_button.setAccessibleName("Home menu")
        menu_button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu_button.setStyleSheet("QToolButton::menu-indicator { image: none; }")
        menu = QMenu(menu_button)
        for action in (self.new_action, self.open_action, self.save_action, self.save_as_action):
            menu.addAction(action)
        demo = menu.addMenu("Demo homes")
        assert demo is not None
        for key in DEMO:
            demo.addAction(demo_home(key).name, lambda key=key: self.open_demo(key))
        menu.addSeparator()
        menu.addAction(self.dark_action)
        menu.addAction(self.quit_action)
        menu_button.setMenu(menu)
        row.addWidget(menu_button)
        return bar

    def _actions(self) -> None:
        def made(text: str, keys: str, do: Any, symbol: str = "") -> QAction:
            action = QAction(text, self)
            action.setShortcut(QKeySequence(keys))
            action.triggered.connect(lambda _=False: do())
            if symbol:
                action.setIcon(icon(symbol))
            action.setToolTip(f"{text} ({keys.replace('+', ' ')})")
            self.addAction(action)
            return action

        self.undo_action = made("Undo", "Ctrl+Z", self.undo, "undo-2")
        self.redo_action = made("Redo", "Ctrl+Shift+Z", self.redo, "redo-2")
        self.save_action = made("Save", "Ctrl+S", self.save, "save")
        self.save_as_action = made("Save as …", "Ctrl+Shift+S", self.save_as)
        self.open_action = made("Open …", "Ctrl+O", self.open_dialog)
        self.new_action = made("New home", "Ctrl+N", self.new)
        self.quit_action = made("Quit", "Ctrl+Q", self.close)
        self.dark_action = made("Dark", "Ctrl+D", lambda: self.set_dark(not theme.dark))
        made("Jump", "Ctrl+K", lambda: self.jump.setFocus())
        made("Next step", "Ctrl+PgDown", lambda: self._step(1))
        made("Previous step", "Ctrl+PgUp", lambda: self._step(-1))

    def _step(self, by: int) -> None:
        keys = [k for k, _ in STEPS]
        self.show_step(keys[(keys.index(self.step) + by) % len(keys)])

    # what is shown

    def board(self, key: str) -> Board:
        """The board of a step, made when first needed."""
        if key not in self.boards:
            kind = next(b for b in BOARDS if b.key == key)
            board = kind(self.document)
            board.go.connect(self.go)
            board.explain.connect(self.working.show_node)
            board.message.connect(lambda text: self.change_line.say(text))
            self.boards[key] = board
            self.stack.addWidget(board)
        return self.boards[key]

    def show_step(self, key: str) -> None:
        """Go to a step."""
        focused = QApplication.focusWidget()
        if focused is not None and key != self.step and self.stack.isAncestorOf(focused):
            self.route.setFocus()  # else the focus would vanish with the old board
        self.step = key
        board = self.board(key)
        self.stack.setCurrentWidget(board)
        board.refresh()
        order_focus(board)
        self._route_state()

    def go(self, step: str, part: str, field: str) -> None:
        """Go to a step, a part and its field."""
        self.show_step(step)
        if part:
            self.board(step).focus_field(part, field)

    def lead(self, part: str, field: str) -> None:
        """Go to the field an input of a working came from."""
        from nuthatch.core.model.home import find
        from nuthatch.core.questions import step_of

        found = find(self.document.home, part)
        if found is not None:
            step = (
                {"sources": "heat-power", "electricity": "heat-power", "junctions": "junctions"}.get(field, step_of(found))
                if part == "home"
                else step_of(found)
            )
            self.go("site" if field == "climate" else step, part, field)

    def explain(self, key: str) -> None:
        """Show how a result is worked out."""
        a = self.document.assessment
        if a is not None and key in a.figures:
            self.working.show_node(a.figures[key])

    def _route_state(self) -> None:
        a = self.document.assessment
        self.route.show_state(self.step, standings(a.home, a.questions) if a else {})

    def _ready(self) -> None:
        self.margins.refresh_bars()
        self.margins.refresh_rest()
        self._route_state()
        self.board(self.step).refresh()
        order_focus(self.board(self.step))
        self._bar_state()
        self.change_line.say("Computed", f"{self.document.home.name}: {self._standing()}")
        QTimer.singleShot(200, self.document.warm)

    def _standing(self) -> str:
        a = self.document.assessment
        words = {"inside": "all targets met", "over": "some target missed", "unknown": "some target cannot be known yet"}
        return words[a.standing] if a else ""

    def _changed(self, label: str) -> None:
        self.margins.refresh_bars()
        d = self.document
        if label:
            self.change_line.say(label, "computing …" if d.busy else effect(d.before, d.assessment))
        self._bar_state()
        self._later.start()

    def _refresh_board(self) -> None:
        self.board(self.step).refresh()
        order_focus(self.board(self.step))
        self.margins.refresh_rest()
        self._route_state()
        self._bar_state()

    def _bar_state(self) -> None:
        d = self.document
        self.name.setText(d.home.name)
        saved = "not saved yet" if d.path is None and not d.session.dirty else "changed, not saved" if d.session.dirty else "saved"
        self.state.setText(" · ".join(t for t in (d.home.brief.client, d.home.brief.project, saved) if t))
        self.setWindowTitle(f"{d.home.name}{' •' if d.session.dirty else ''} · Nuthatch")
        for action, label, verb in ((self.undo_action, d.session.undo_label, "Undo"), (self.redo_action, d.session.redo_label, "Redo")):
            action.setEnabled(label is not None)
            action.setToolTip(f"{verb}: {label}" if label else f"Nothing to {verb.lower()}")

    def settled(self) -> bool:
        """Whether nothing is computing or waiting to be drawn."""
        charts = [w for w in self.board(self.step).findChildren(QWidget) if getattr(w, "pending", False) is True]
        return (
            self.document.assessment is not None
            and not self.document.busy
            and not self._later.isActive()
            and not [c for c in charts if type(c).__name__ == "ChartCanvas"]
        )

    def set_dark(self, dark: bool) -> None:
        """Light or dark."""
        apply_theme(dark)
        step = self.step
        for action, symbol in ((self.undo_action, "undo-2"), (self.redo_action, "redo-2"), (self.save_action, "save")):
            action.setIcon(icon(symbol))
        for board in self.boards.values():
            self.stack.removeWidget(board)
            board.deleteLater()
        self.boards = {}
        self.show_step(step)
        self.margins.refresh_rest()
        self.update()

    # history

    def undo(self) -> None:
        """Take back the last step; what stands half typed in a field goes first."""
        self._drop_typing()
        self.document.undo()

    def redo(self) -> None:
        self._drop_typing()
        self.document.redo()

    def _drop_typing(self) -> None:
        widget = QApplication.focusWidget()
        owner = widget.parent() if widget is not None else None
        if isinstance(owner, QuantityField):
            self.document.session.settle()
            owner.drop()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        # Ctrl+Z means the home everywhere, also inside a text field
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride:
            history = event.matches(QKeySequence.StandardKey.Undo) or event.matches(QKeySequence.StandardKey.Redo)
            if history:
                event.ignore()
                return True
        return super().eventFilter(watched, event)

    # files

    def confirm(self) -> bool:
        """Ask about unsaved changes; True where it is safe to go on."""
        if not self.document.session.dirty:
            return True
        answer = QMessageBox.question(
            self,
            "Unsaved changes",
            f"“{self.document.home.name}” has changes that are not saved.",
            QMessageBox.StandardButton.Save | QMessageBox.StandardButton.Discard | QMessageBox.StandardButton.Cancel,
            QMessageBox.StandardButton.Save,
        )
        if answer == QMessageBox.StandardButton.Save:
            return self.save()
        return answer == QMessageBox.StandardButton.Discard

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        app = QApplication.instance()
        assert app is not None
        app.installEventFilter(self)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        assert event is not None
        if self.confirm():
            app = QApplication.instance()
            if app is not None:
                app.removeEventFilter(self)
            event.accept()
        else:
            event.ignore()

    def save(self) -> bool:
        """Save where the home came from, or ask."""
        return self.save_to(self.document.path) if self.document.path else self.save_as()

    def save_as(self) -> bool:
        name, _ = QFileDialog.getSaveFileName(self, "Save the home", f"{plain_name(self.document.home.name)}.nuthatch", FILTER)
        if not name:
            return False
        return self.save_to(Path(name if name.endswith(".nuthatch") else f"{name}.nuthatch"))

    def save_to(self, path: Path) -> bool:
        """Save; a fault is said and the old file stays."""
        try:
            self.document.save(path)
        except HomeFileError as problem:
            QMessageBox.warning(self, "Not saved", str(problem))
            return False
        self.change_line.say("Saved", str(path))
        self._bar_state()
        return True

    def open_dialog(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Open a home", "", FILTER)
        if name:
            self.open_path(Path(name))

    def open_path(self, path: Path) -> bool:
        """Open a home file; a fault is said and the present home stays."""
        try:
            content = read(path)
        except HomeFileError as problem:
            QMessageBox.warning(self, "Not opened", str(problem))
            return False
        if self.confirm():
            self.set_document(Document(content.home, content.weather, path))
            return True
        return False

    def open_demo(self, key: str) -> None:
        if self.confirm():
            self.set_document(Document(demo_home(key)))

    def new(self) -> None:
        if self.confirm():
            self.set_document(Document(new_home()))
            self.show_step("brief")
