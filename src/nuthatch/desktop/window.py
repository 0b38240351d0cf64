"""The window: home bar, route, board, margins, change line. Signals upward, calls downward."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QTimer
from PyQt6.QtGui import QAction, QCloseEvent, QKeyEvent, QKeySequence, QShowEvent
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from nuthatch.core.library import demo_folder
from nuthatch.core.questions import standings
from nuthatch.desktop import settings
from nuthatch.desktop.actions import make_actions
from nuthatch.desktop.appearance import Appearance
from nuthatch.desktop.change_line import ChangeLine, effect
from nuthatch.desktop.document import Document
from nuthatch.desktop.files import HomeFiles, plain_name
from nuthatch.desktop.home_bar import HomeBar
from nuthatch.desktop.jump_box import JumpBox
from nuthatch.desktop.ledger_view import LedgerView
from nuthatch.desktop.margins import Margins
from nuthatch.desktop.navigation import Guiding
from nuthatch.desktop.pages.homes import HomesPage
from nuthatch.desktop.pages.new_home import NewHomePage
from nuthatch.desktop.pages.office import OfficePage
from nuthatch.desktop.route import Route
from nuthatch.desktop.steps.board import Board
from nuthatch.desktop.steps.boards import BoardStack
from nuthatch.desktop.widgets import formula_view
from nuthatch.desktop.widgets.focus_order import order_focus
from nuthatch.desktop.widgets.quantity_field import QuantityField
from nuthatch.desktop.working_view import WorkingView

__all__ = ["MainWindow", "plain_name"]


class MainWindow(HomeFiles, HomeBar, Guiding, QMainWindow):
    """One open home, the register of homes and the office profile as pages."""

    undo_action: QAction
    redo_action: QAction
    save_action: QAction
    save_as_action: QAction
    open_action: QAction
    new_action: QAction
    like_action: QAction
    homes_action: QAction
    office_action: QAction
    visit_action: QAction
    ledger_action: QAction
    print_action: QAction
    help_action: QAction
    quit_action: QAction
    dark_action: QAction
    units_action: QAction
    alone_action: QAction
    strip_action: QAction

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.resize(1280, 800)
        self.setMinimumSize(1100, 700)
        self.appearance = Appearance(self)
        make_actions(self)
        self.pages = QStackedWidget()
        self.homes: HomesPage | None = None
        self.office: OfficePage | None = None
        self.beginning: NewHomePage | None = None
        self.body: QWidget | None = None
        self._listens = False
        self.setCentralWidget(self.pages)
        self.set_document(document)

    def set_document(self, document: Document) -> None:
        """Show another home in this window."""
        self.document = document
        self.route, self.margins, self.change_line = Route(), Margins(document, document.weighing), ChangeLine()
        self.jump = JumpBox(document, self)
        self.working, self.ledger = WorkingView(), LedgerView(document, document.weighing)
        self.stack = BoardStack(document)
        self.center = QStackedWidget()
        self.center.addWidget(self.stack)
        for widget in (self.working, self.ledger):
            self.center.addWidget(widget)
        self._connect()
        body = self._laid_out()
        old, self.body = self.body, body
        self.pages.addWidget(body)
        self.pages.setCurrentWidget(body)
        if old is not None:
            self.pages.removeWidget(old)
            old.deleteLater()
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(0)
        self._later.timeout.connect(self._refresh_board)
        self.step = ""
        self.show_step("cutaway")
        self.route.setFocus()
        self._bar_state()
        self.change_line.say("Opened", "computing …")
        self.change_line.let_ask()
        self.look_for_work()
        QTimer.singleShot(0, document.start)

    def _connect(self) -> None:
        """Signals upward: what the parts of the window say."""
        self.working.lead.connect(self.lead)
        self.working.left.connect(self.close_working)
        self.working.said.connect(lambda text: self.change_line.say(text))
        self.working.pin.connect(lambda path, caption: self.board(self.step).pin("working", path, caption))
        self.stack.go.connect(self.go)
        self.stack.explain.connect(self.show_working)
        self.stack.said.connect(self.change_line.say)
        self.route.chosen.connect(self.show_step)
        self.change_line.go.connect(self.go)
        self.margins.go.connect(self.go)
        self.margins.ledger.connect(self.show_ledger)
        self.ledger.go.connect(self.go)
        self.ledger.left.connect(lambda: self.show_step(self.step))
        self.ledger.said.connect(self.change_line.say)
        self.margins.explain.connect(self.explain)
        self.jump.go.connect(lambda step, part: self.go(step, part, ""))
        self.jump.explain.connect(self.explain)
        document = self.document
        document.changed.connect(self._changed)
        document.ready.connect(self._ready)
        document.arrived.connect(self._arrived)
        document.slow.moved.connect(self.margins.show_progress)
        document.failed.connect(lambda text: self.change_line.say(text))
        document.saved.connect(self._bar_state)

    def _laid_out(self) -> QWidget:
        """Home bar, banner, route, board and margins, change line."""
        middle = QHBoxLayout()
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(0)
        middle.addWidget(self.route)
        middle.addWidget(self.center, 1)
        middle.addWidget(self.margins)
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        for widget in (self._home_bar(), self._banner_strip()):
            column.addWidget(widget)
        column.addLayout(middle, 1)
        column.addWidget(self.change_line)
        return body

    # pages

    def show_home(self) -> None:
        """Back to the open home."""
        if self.body is not None:
            self.pages.setCurrentWidget(self.body)
            self._bar_state()

    def show_homes(self) -> None:
        """The register of homes."""
        if self.homes is None:
            self.homes = HomesPage(self)
            self.pages.addWidget(self.homes)
        self.pages.setCurrentWidget(self.homes)
        self.homes.look()
        self.homes.table.setFocus()

    def show_demo_folder(self) -> None:
        """The register with the demo homes."""
        folder = str(demo_folder())
        kept = settings.load().folders
        if folder not in kept:
            settings.change(folders=(*kept, folder))
        self.show_homes()

    def show_office(self) -> None:
        """The office profile."""
        if self.office is None:
            self.office = OfficePage(self)
            self.pages.addWidget(self.office)
        self.pages.setCurrentWidget(self.office)
        self.office.open()

    def show_new(self) -> None:
        """How a new home begins."""
        if self.beginning is None:
            self.beginning = NewHomePage(self)
            self.pages.addWidget(self.beginning)
        self.pages.setCurrentWidget(self.beginning)
        self.beginning.open()

    @property
    def page(self) -> str:
        """Which page is shown: home, homes, office, new."""
        known = {id(self.homes): "homes", id(self.office): "office", id(self.beginning): "new"}
        return known.get(id(self.pages.currentWidget()), "home")

    # what is shown

    def board(self, key: str) -> Board:
        """The board of a step, made when first needed."""
        return self.stack.board(key)

    @property
    def boards(self) -> dict[str, Board]:
        """The boards made so far."""
        return self.stack.boards

    def show_step(self, key: str) -> None:
        """Go to a step."""
        self.show_home()
        self.center.setCurrentWidget(self.stack)
        focused = QApplication.focusWidget()
        if focused is not None and key != self.step and self.stack.isAncestorOf(focused):
            self.route.setFocus()  # else the focus would vanish with the old board
        self.step = key
        board = self.board(key)
        self.stack.setCurrentWidget(board)
        board.present(self.document.snapshot)
        order_focus(board)
        self._route_state()

    def _route_state(self) -> None:
        a = self.document.assessment
        self.route.show_state(self.step, standings(a.home, a.questions) if a else {})

    def _ready(self) -> None:
        self.margins.refresh_bars()
        self._refresh_board()
        self.change_line.say(*(self.document.note or ("Computed", f"{self.document.home.name}: {self._standing()}")))
        QTimer.singleShot(200, lambda: self.document.warm(formula_view.warm))

    def _arrived(self) -> None:
        """Slow results have come: everything shown follows."""
        self.margins.refresh_bars()
        d = self.document
        if d.last_label and not d.busy:
            self.change_line.say(d.last_label, effect(d.before, d.assessment))
        self._later.start()

    def trouble(self, text: str) -> None:
        """An error nobody caught: it is said, and the work is kept aside at once."""
        self.change_line.say(text)
        self.document.keeper.keep()

    def _standing(self) -> str:
        a = self.document.assessment
        words = {"inside": "all targets met", "over": "some target missed", "unknown": "some target cannot be known yet"}
        return words.get(a.standing, "computing …") if a else ""

    def _changed(self, label: str) -> None:
        self.margins.refresh_bars()
        d = self.document
        if label:
            self.change_line.say(label, "computing …" if d.busy else effect(d.before, d.assessment))
        self._bar_state()
        self._later.start()

    def _refresh_board(self) -> None:
        if self.center.currentWidget() is self.working and not self.working.follow(self.document.assessment):
            self.close_working()
        if self.ledger.isVisible():
            self.ledger.follow(self.document.assessment)
        self.board(self.step).present(self.document.snapshot)
        order_focus(self.board(self.step))
        self.margins.refresh_rest()
        self._route_state()
        self._lead_on()
        self._bar_state()

    def settled(self) -> bool:
        """Whether nothing is computing or waiting to be drawn."""
        if self.page in ("homes", "new") and not self.pages.currentWidget().settled:  # type: ignore[union-attr]
            return False
        if self.ledger.isVisible() and not self.ledger.settled:
            return False
        charts = [w for w in self.board(self.step).findChildren(QWidget) if getattr(w, "pending", False) is True]
        return (
            self.document.assessment is not None
            and not self.document.busy
            and not self._later.isActive()
            and self.board(self.step).settled
            and not [c for c in charts if type(c).__name__ == "ChartCanvas"]
        )

    # history

    def undo(self) -> None:
        """Take back the last step; what stands half typed in a field goes first."""
        self._drop_typing()
        self._active().undo()

    def redo(self) -> None:
        self._drop_typing()
        self._active().redo()

    def _active(self) -> Document:
        """What undo means: the home, or the office profile while it is shown."""
        return self.office.document if self.page == "office" and self.office is not None else self.document  # type: ignore[return-value]

    def _drop_typing(self) -> None:
        widget = QApplication.focusWidget()
        owner = widget.parent() if widget is not None else None
        if isinstance(owner, QuantityField):
            self._active().session.settle()
            owner.drop()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        # Ctrl+Z means the home everywhere, also inside a text field
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride:
            history = event.matches(QKeySequence.StandardKey.Undo) or event.matches(QKeySequence.StandardKey.Redo)
            if history:
                event.ignore()
                return True
        return super().eventFilter(watched, event)

    def _focus_moved(self, old: QWidget | None, new: QWidget | None) -> None:
        # only fields that had the focus are listened to: a filter on the whole program is called for each of its events
        if new is not None:
            new.installEventFilter(self)

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        if not self._listens:
            app.focusChanged.connect(self._focus_moved)
            self._listens = True

    def closeEvent(self, event: QCloseEvent | None) -> None:
        assert event is not None
        if self.confirm():
            app = QApplication.instance()
            if self._listens and isinstance(app, QApplication):
                app.focusChanged.disconnect(self._focus_moved)
                self._listens = False
            self.document.close()
            for page in (self.homes, self.office):
                if page is not None:
                    page.end()
            event.accept()
        else:
            event.ignore()
