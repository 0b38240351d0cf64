"""The window: home bar, banner, route, middle, margins, change line, put together. Signals upward, calls downward."""

from __future__ import annotations

import gc
from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, QTimer
from PyQt6.QtGui import QCloseEvent, QKeyEvent, QKeySequence, QShowEvent
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from nuthatch.core.library import DEMO, demo_folder
from nuthatch.core.questions import standings
from nuthatch.desktop import settings
from nuthatch.desktop.actions import FIRST_LOOK, Commands, home_menu
from nuthatch.desktop.appearance import Appearance
from nuthatch.desktop.banner import Banner
from nuthatch.desktop.center import Center
from nuthatch.desktop.change_line import ChangeLine, effect
from nuthatch.desktop.desk import Desk
from nuthatch.desktop.document import Document
from nuthatch.desktop.hints import Hints
from nuthatch.desktop.home_bar import HomeBar
from nuthatch.desktop.home_files import HomeFiles
from nuthatch.desktop.jump_box import JumpBox
from nuthatch.desktop.margins import Margins
from nuthatch.desktop.pages.homes import HomesPage
from nuthatch.desktop.pages.new_home import NewHomePage
from nuthatch.desktop.pages.office import OfficePage
from nuthatch.desktop.route import Route
from nuthatch.desktop.steps.board import Board
from nuthatch.desktop.trying import TryingStrip, safe
from nuthatch.desktop.widgets import formula_view
from nuthatch.desktop.widgets.quantity_field import QuantityField

LEFT_ALONE = 20_000
"""Milliseconds without an edit after which Python looks for circular garbage."""


class MainWindow(QMainWindow):
    """One open home, the register of homes and the office profile as pages. It is the `Shell` its parts know."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.resize(1280, 800)
        self.setMinimumSize(1100, 700)
        self._document = document
        self.appearance = Appearance(self)
        self.files = HomeFiles(self, self)
        self.commands = Commands(self, self._does())
        self.pages = QStackedWidget()
        self.homes: HomesPage | None = None
        self.office: OfficePage | None = None
        self.beginning: NewHomePage | None = None
        self.body: QWidget | None = None
        self._listens = False
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(0)
        self._later.timeout.connect(self._refresh)
        self._tidy = QTimer(self)
        self._tidy.setSingleShot(True)
        self._tidy.setInterval(LEFT_ALONE)
        self._tidy.timeout.connect(gc.collect)
        self.setCentralWidget(self.pages)
        self.appearance.leaving.connect(lambda: self.center.take_down(self))
        self.appearance.changed.connect(self._made_anew)
        self.appearance.said.connect(self.say)
        self.files.changed.connect(self._file_changed)
        self.set_document(document)

    def _does(self) -> dict[str, Callable[[], object]]:
        """What each command does."""
        files, look = self.files, self.appearance
        return {
            "undo": self.undo,
            "redo": self.redo,
            "save": files.save,
            "save as": files.save_as,
            "open": files.open_dialog,
            "new": lambda: self.go("new"),
            "like": lambda: files.new_like(self.document.home, self.document.weather_bytes()),
            "homes": lambda: self.go("homes"),
            "office": lambda: self.go("office"),
            "ledger": lambda: self.go("ledger"),
            "visit": files.visit,
            "print": self.print_dossier,
            "help": self.toggle_help,
            "quit": self.close,
            "dark": look.other_light,
            "units": look.other_units,
            "inspector": lambda: self.board(self.step).work.toggle_inspector(),
            "alone": lambda: self.center.drawing_alone(),
            "strip": lambda: self.margins.toggle_strip(),
            "jump": lambda: self.jump.setFocus(),
            "next": lambda: self._step_on(1),
            "previous": lambda: self._step_on(-1),
        }

    # the shell: what the parts of the window know of it

    @property
    def document(self) -> Document:
        """The open home."""
        return self._document

    def go(self, step: str, part: str = "", field: str = "") -> None:
        """To a step, a part and its field; or to a page: home, homes, office, new, ledger."""
        pages: dict[str, Callable[[], None]] = {
            "home": self._show_home,
            "homes": self._show_homes,
            "office": self._show_office,
            "new": self._show_new,
            "visit": self.files.visit,
        }
        if step in pages:
            pages[step]()
            return
        self._show_home()
        self.center.go(step, part, field)

    def say(self, label: str, detail: str = "") -> None:
        """A sentence in the change line."""
        self.change_line.say(label, detail)

    def open(self, make: Callable[[], Document], step: str = "", note: tuple[str, str] | None = None) -> bool:
        """Another home in this window, unless the person wants to keep this one. note: what the change line says of it."""
        if not self.files.confirm():
            return False
        self.document.close()
        document = make()
        document.note = note
        self.set_document(document)
        if step:
            self.show_step(step)
        return True

    # a home is shown

    def set_document(self, document: Document) -> None:
        """Show another home in this window."""
        self._document = document
        self.route, self.margins, self.change_line = Route(), Margins(document, document.weighing), ChangeLine()
        self.jump, self.center, self.banner = JumpBox(document, self), Center(document), Banner(self)
        self.trying, self.hints = TryingStrip(document), Hints()
        self.hints.go.connect(self.show_step)
        document.keeper.kept_as = lambda home: safe(document.desk, home)
        menu = home_menu(self.commands, self.files.list_versions, self._open_demo, self.appearance.scale)
        self.bar = HomeBar(self.commands, self.jump, menu)
        self._connect()
        body = self._laid_out()
        old, self.body = self.body, body
        self.pages.addWidget(body)
        self.pages.setCurrentWidget(body)
        if old is not None:
            self.pages.removeWidget(old)
            old.deleteLater()
        self.show_step("cutaway")
        self.route.setFocus()
        self._bar_state()
        self.change_line.say("Opened", "computing …")
        self.change_line.let_ask()
        self.banner.look()
        QTimer.singleShot(0, document.start)

    def _connect(self) -> None:
        """Signals upward: what the parts of the window say."""
        center, document = self.center, self.document
        center.said.connect(self.say)
        center.said.connect(lambda *_: self._bar_state())
        center.stepped.connect(self._route_state)
        center.leaving.connect(self.route.setFocus)
        center.elsewhere.connect(self.go)
        self.trying.said.connect(self.say)
        self.trying.ended.connect(lambda: self.show_step("options"))
        self.banner.copy.connect(self.files.save_as)
        self.banner.answered.connect(self.route.setFocus)
        self.route.chosen.connect(self.show_step)
        self.change_line.go.connect(self.go)
        self.margins.go.connect(self.go)
        self.margins.ledger.connect(lambda: self.go("ledger"))
        self.margins.explain.connect(center.explain)
        self.jump.go.connect(lambda step, part: self.go(step, part))
        self.jump.explain.connect(center.explain)
        document.changed.connect(self._changed)
        document.ready.connect(self._ready)
        document.arrived.connect(self._arrived)
        document.slow.moved.connect(self.margins.show_progress)
        document.failed.connect(self.say)
        document.saved.connect(self._bar_state)

    def _laid_out(self) -> QWidget:
        """Home bar, banner, route, middle and margins, change line."""
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
        for widget in (self.bar, self.banner, self.hints, self.trying):
            column.addWidget(widget)
        column.addLayout(middle, 1)
        column.addWidget(self.change_line)
        return body

    def _open_demo(self, key: str) -> None:
        """A demo home, or the register with all of them."""
        if key:
            self.files.open_demo(DEMO[0] if key == FIRST_LOOK else key)
            self.hints.begin(again=key == FIRST_LOOK)
            return
        folder = str(demo_folder())
        kept = settings.load().folders
        if folder not in kept:
            settings.change(folders=(*kept, folder))
        self.go("homes")

    # pages

    def _show_home(self) -> None:
        if self.body is not None:
            self.pages.setCurrentWidget(self.body)
            self._bar_state()

    def _show_homes(self) -> None:
        if self.homes is None:
            self.homes = HomesPage(self, self.files)
            self.pages.addWidget(self.homes)
        self.pages.setCurrentWidget(self.homes)
        self.homes.look()
        self.homes.table.setFocus()

    def _show_office(self) -> None:
        if self.office is None:
            self.office = OfficePage(self, self.files)
            self.pages.addWidget(self.office)
        self.pages.setCurrentWidget(self.office)
        self.office.open()

    def _show_new(self) -> None:
        if self.beginning is None:
            self.beginning = NewHomePage(self, self.files)
            self.pages.addWidget(self.beginning)
        self.pages.setCurrentWidget(self.beginning)
        self.beginning.open()

    @property
    def page(self) -> str:
        """Which page is shown: home, homes, office, new."""
        known = {id(self.homes): "homes", id(self.office): "office", id(self.beginning): "new"}
        return known.get(id(self.pages.currentWidget()), "home")

    # what is shown

    @property
    def step(self) -> str:
        """The step that is shown."""
        return self.center.step

    def board(self, key: str) -> Board:
        """The board of a step, made when first needed."""
        return self.center.board(key)

    def show_step(self, key: str) -> None:
        """Go to a step."""
        self._show_home()
        self.center.show_step(key)

    def _step_on(self, by: int) -> None:
        self._show_home()
        self.center.step_on(by)

    def toggle_help(self) -> None:
        """The help card of the step."""
        if self.page == "home":
            self.board(self.step).toggle_help()

    def print_dossier(self) -> None:
        """Print the dossier on a printer of the system."""
        self.show_step("dossier")
        board = self.board("dossier")
        from nuthatch.desktop.steps.dossier.board import DossierBoard  # no part of a start: it brings the reader of PDF

        assert isinstance(board, DossierBoard)
        board.print_dialog()

    def _file_changed(self) -> None:
        self.banner.refresh()
        self._bar_state()

    def _bar_state(self) -> None:
        d = self.document
        board = self._in_work() if d.assessment is not None else None
        self.bar.show_state(d, board.own_steps() if board is not None else ("", ""))
        self.setWindowTitle(f"{d.home.name}{' •' if d.session.dirty else ''} · Nuthatch")

    def _made_anew(self) -> None:
        """Boards, rails and pages in the colours and units of now."""
        page = self.page
        self.commands.restyle()
        self.bar.show_units()
        for other in (self.homes, self.office):
            if other is not None:
                other.restyle()
        self.show_step(self.step)
        if page != "home":
            self.go(page)
        self.margins.refresh_bars()
        self.margins.refresh_rest()
        self.update()

    def _route_state(self) -> None:
        a = self.document.assessment
        self.route.show_state(self.step, standings(a.home, a.questions) if a else {})

    def _ready(self) -> None:
        self.margins.refresh_bars()
        self._refresh()
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
        self._tidy.start()
        d = self.document
        if label:
            self.change_line.say(label, "computing …" if d.busy else effect(d.before, d.assessment))
        self._bar_state()
        self._later.start()

    def _refresh(self) -> None:
        """Everything but the bars, which a keystroke has reached already."""
        self.center.refresh()
        self.margins.refresh_rest()
        self.trying.refresh()
        self._route_state()
        a = self.document.assessment
        self.change_line.ask(a.questions[0] if a is not None and a.questions else None)
        self._bar_state()

    def settled(self) -> bool:
        """Whether nothing is computing or waiting to be drawn."""
        pages = {"homes": self.homes, "new": self.beginning}
        page = pages.get(self.page)
        if page is not None and not page.settled:
            return False
        d = self.document
        return d.assessment is not None and not d.busy and not self._later.isActive() and self.center.settled

    # history

    def undo(self) -> None:
        """Take back the last step; what stands half typed in a field goes first, then what is being drawn."""
        self._drop_typing()
        board = self._in_work()
        if board is None or not board.take_back():
            self._active().undo()
        self._bar_state()

    def redo(self) -> None:
        self._drop_typing()
        board = self._in_work()
        if board is None or not board.bring_back():
            self._active().redo()
        self._bar_state()

    def _in_work(self) -> Board | None:
        """The board that is shown."""
        return self.center.in_work() if self.page == "home" else None

    def _active(self) -> Desk:
        """What undo means: the home, or the office profile while it is shown."""
        return self.office.desk if self.page == "office" and self.office is not None else self.document.desk

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
        if self.files.confirm():
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
