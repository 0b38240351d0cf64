"""What boards share: a title, and a workspace of drawings, lists and an inspector, which each board declares."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QLabel, QLayout, QMenu, QPushButton, QVBoxLayout, QWidget

from nuthatch.core.assess import Assessment, Snapshot
from nuthatch.core.changes.changes import Move
from nuthatch.core.edits.whole_parts import pinned
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.model.home import find
from nuthatch.core.results.question import Question
from nuthatch.core.sketch import Handle, Sketch
from nuthatch.core.steps import BY_KEY
from nuthatch.core.units import show
from nuthatch.core.views.pictures import PICTURES
from nuthatch.desktop.desk import Desk, Edit
from nuthatch.desktop.theme.style import icon
from nuthatch.desktop.trying import tried
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.help_card import HelpCard
from nuthatch.desktop.widgets.list_table import ListTable
from nuthatch.desktop.widgets.mending import Mending
from nuthatch.desktop.widgets.parts_model import ListSpec, PartsModel
from nuthatch.desktop.widgets.quantity_field import QuantityField
from nuthatch.desktop.widgets.sketch_view import SketchView
from nuthatch.desktop.widgets.workspace import Workspace


class Board(QWidget):
    """One step's board. It takes a snapshot and the edit desk and nothing else; `refresh` shows the snapshot."""

    go = pyqtSignal(str, str, str)
    explain = pyqtSignal(object)
    message = pyqtSignal(str)
    pinned = pyqtSignal(str)
    key = ""
    title = ""
    list_height = 210
    fields_first = False
    tools_height = 0

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.setObjectName("board")
        self.desk = desk
        self.snapshot: Snapshot = desk.snapshot
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.heading, self.sub, self.value = QLabel(self.title), QLabel(), QLabel()
        self.heading.setObjectName("boardTitle")
        self.sub.setObjectName("muted")
        self.sub.setWordWrap(True)
        for label in (self.heading, self.sub, self.value):
            label.setTextFormat(Qt.TextFormat.PlainText)
        self.value.setObjectName("boardTitle")
        self.help_card = HelpCard(self.key, self)
        self.help_card.setVisible(False)
        self.work = Workspace(self.key)
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(18, 12, 10, 8)
        self.column.setSpacing(5)
        self.column.addLayout(self._head())
        self.column.addWidget(self.help_card)
        self.column.addWidget(self.sub)
        self.column.addWidget(self.work, 1)
        self.build()
        self.work.start(self.list_height, self.fields_first, self.tools_height)
        self.pin_button.setVisible(bool(BY_KEY[self.key].pictures))

    def _head(self) -> QHBoxLayout:
        """Title, value, and the buttons to pin and for help."""
        top = QHBoxLayout()
        top.addWidget(self.heading)
        top.addStretch(1)
        top.addWidget(self.value)
        self.pin_button = button("", self._ask_pin, "pin", "Pin a drawing to the dossier")
        self.help_button = button("", self.toggle_help, "help", "Help for this step (F1)")
        top.addWidget(self.pin_button)
        top.addWidget(self.help_button)
        return top

    @property
    def home(self) -> Any:
        return self.snapshot.home

    @property
    def assessment(self) -> Assessment | None:
        return self.snapshot.assessment

    def present(self, snapshot: Snapshot) -> None:
        """Show a snapshot."""
        self.snapshot = snapshot
        self.refresh()

    def subject(self, picture: str) -> str | None:
        """Which part a picture of this board shows now: '' for the home, None where there is none to show."""
        return ""

    def pictures(self) -> list[tuple[str, str]]:
        """What can be pinned from this board: (picture, of which part)."""
        return [(key, of) for key in BY_KEY[self.key].pictures if (of := self.subject(key)) is not None]

    def sketch(self, key: str, of: str = "") -> Sketch | None:
        """A picture of this board as it stands; None where nothing is assessed yet."""
        made = PICTURES[key].sketch
        return made(self.assessment, of) if made is not None and self.assessment is not None else None

    @property
    def settled(self) -> bool:
        """Whether nothing of the board's own is still being worked out."""
        return True

    def own_steps(self) -> tuple[str, str]:
        """What undo and redo would take back and bring back of what is being made here and is no part of the home yet; '' for nothing."""
        return "", ""

    def take_back(self) -> bool:
        """The last of the board's own steps taken back; False where there is none."""
        return False

    def bring_back(self) -> bool:
        """The board's own step that was taken back, done again."""
        return False

    def toggle_help(self) -> None:
        """Show or hide the help card."""
        if self.help_card.isAncestorOf(QApplication.focusWidget() or self):
            self.help_button.setFocus()
        self.help_card.setVisible(not self.help_card.isVisible())

    def _ask_pin(self) -> None:
        menu = QMenu(self)
        for key, of in self.pictures():
            part = find(self.home, of) if of else None
            title = PICTURES[key].title + (f": {getattr(part, 'name', '')}" if part is not None else "")
            menu.addAction(title, lambda key=key, of=of, title=title: self.pin(key, of, title))
        if menu.actions():
            menu.popup(self.pin_button.mapToGlobal(self.pin_button.rect().bottomLeft()))

    def pin(self, key: str, of: str, caption: str) -> None:
        """Pin a picture into the dossier; it follows the home."""
        reason = self.desk.apply(pinned(self.desk.home, key, of, caption))  # what is shown may be a step behind
        if reason:
            self.message.emit(reason)
        else:
            self.pinned.emit(caption)

    def build(self) -> None:
        """Declare drawings, lists and inspector; the workspace lays them out."""

    def add_drawing(self, title: str, view: QWidget, tools: QLayout | None = None) -> None:
        """One more drawing; what of it can be dragged changes the home."""
        self.work.drawings.add(title, view, tools)
        if isinstance(view, SketchView):
            self.let_drag(view)

    def show_drawing(self, view: SketchView, make: Callable[[Assessment, float, float], Sketch]) -> None:
        """Show a drawing of the home in the room there is; while something is tried on it, the home as it is shows through faintly."""
        a, what = self.assessment, tried(self.desk)
        if a is None:
            return
        base = what.assessment if what is not None and what.assessment is not a else None
        view.show_made(partial(make, a), partial(make, base) if base is not None else None)

    def let_drag(self, view: SketchView) -> None:
        """Dragging in this drawing changes the home, with live margins; one drag is one step."""
        view.dragged.connect(self._dragged)
        view.dropped.connect(lambda _: self.desk.settle())
        view.let_be.connect(lambda handle: self.desk.let_be(handle.pulls))

    def _dragged(self, handle: Handle, values: tuple[float, ...]) -> None:
        reason = self.desk.drag(handle.pulls, values)
        if reason:
            self.message.emit(reason)
        else:
            self.present(self.desk.snapshot)

    def add_list(self, panel: ListPanel, title: str = "") -> None:
        """One more list: it shares the place of the lists, and its card comes into the inspector while it is in front."""
        self.work.lists.add(title or panel.model.spec.name, panel, panel.bar)
        self.work.inspector.add(panel.card)
        panel.focused.connect(lambda: self.in_front(panel))
        self.work.lists.switched.connect(lambda _: self._cards())

    def in_front(self, panel: QWidget) -> None:
        """Put a list and its card in front."""
        self.work.lists.show_widget(panel)
        self._cards()

    def _cards(self) -> None:
        """The card of the list in front, and those that belong to none."""
        front = self.work.lists.current
        for n in range(self.work.lists.stack.count()):
            panel = self.work.lists.stack.widget(n)
            if isinstance(panel, ListPanel):
                panel.card.setVisible(panel is front and bool(panel.card.part_id))

    def refresh(self) -> None:
        """Show the snapshot."""

    def focus_field(self, part: str, field: str) -> bool:
        """Lead to a field; False where the board has none such."""
        return False

    def questions(self) -> list[Question]:
        """Open questions of this step."""
        a = self.assessment
        return [q for q in a.questions if q.step == self.key] if a else []

    def apply(self, change: Edit) -> None:
        """Apply a change and say it if it was refused."""
        reason = self.desk.apply(change)
        if reason:
            self.message.emit(reason)


def loss_text(assessment: Assessment, row: Any) -> str:
    """Loss coefficient of a listed face, opening or junction as its cell shows it."""
    element = next((e for e in assessment[ELEMENTS] if e.id == row.id), None)
    return show(element.loss.value, "w_per_k") if element is not None and element.loss.value is not None else "?"


WORDS_APART = 10
"""Room between an icon and its words, in fortieths of the icon."""


def button(text: str, do: Callable[[], object], symbol: str = "", tip: str = "") -> QPushButton:
    """A plain button with an icon."""
    made = QPushButton(text)
    if symbol:
        made.setIcon(icon(symbol, gap=WORDS_APART if text else 0))
        if text:
            made.setIconSize(QSize(16 * (40 + WORDS_APART) // 40, 16))
    if not text:
        made.setFixedWidth(32)
        made.setStyleSheet("padding: 4px 2px;")
    made.setToolTip(tip or text)
    made.setAccessibleName(tip or text)
    made.clicked.connect(lambda _=False: do())
    return made


class ListPanel(QWidget):
    """A list with its buttons; `card` edits the current row. `focused` when a row of it is worked on."""

    focused = pyqtSignal()

    def __init__(
        self, board: Board, spec: ListSpec, hide: tuple[str, ...] = (), add: str = "Add", ordered: bool = False, carded: bool = True
    ) -> None:
        super().__init__()
        self._carded = carded  # else the board has a card of its own for what is selected
        self.board, self.desk = board, board.desk
        self.model = PartsModel(board.desk, spec)
        self.table = ListTable(self.model)
        self.card = EditCard(board.desk, hide)
        self.card.refused.connect(board.message)
        self.model.refused.connect(board.message)
        self.model.doubtful.connect(self._doubtful)
        self.table.selected.connect(lambda _: self.show_card())
        self.empty = QLabel()
        self.empty.setObjectName("muted")
        self.empty.setWordWrap(True)
        self.bar = QHBoxLayout()
        self.bar.setSpacing(4)
        self.add_button = button(add, self.add, "plus", f"{add}: {spec.name.lower()}")
        self.bar.addWidget(self.add_button)
        self.copy_button = button("", self.table.duplicate_row, "copy", "Duplicate the row")
        self.bar.addWidget(self.copy_button)
        if ordered:
            self.bar.addWidget(button("", lambda: self.shift(-1), "arrow-up", "Move the row up"))
            self.bar.addWidget(button("", lambda: self.shift(1), "arrow-down", "Move the row down"))
        self.bar.addWidget(button("", self.table.remove_selected, "trash-2", "Remove the row"))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(self.empty)
        column.addWidget(self.table, 1)
        self.mending = Mending()
        self.table.aside.connect(self.mending.keep)
        self.mending.again.connect(self._mended)
        column.addWidget(self.mending)

    def _mended(self, text: str) -> None:
        """Rows mended by hand are pasted once more; what is still wrong comes back; nothing is lost where nothing was taken."""
        before = len(self.model.rows)
        self.table.paste_new(text)
        if len(self.model.rows) == before and not self.mending.text.toPlainText():
            self.mending.text.setPlainText(text)
            self.mending.show()

    def add(self) -> None:
        ident = self.table.add_row()
        if ident:
            self.board.present(self.desk.snapshot)
            self.focused.emit()
            self.table.select(ident)
            self.show_card()

    def shift(self, step: int) -> None:
        """Move the current row."""
        ident = self.table.current_id()
        rows = [r.id for r in self.model.spec.rows(self.desk.home)]
        if ident in rows and 0 <= rows.index(ident) + step < len(rows):
            self.board.apply(Move(part=ident, index=rows.index(ident) + step))

    def refresh(self, teach: str = "") -> None:
        """Show the list; `teach` is said where it is empty."""
        self.table.refresh()
        rows = len(self.model.rows)
        self.empty.setText(teach)
        self.empty.setVisible(rows == 0 and bool(teach))
        self.show_card()

    def show_card(self) -> None:
        """The card of the current row, while this list is in front."""
        if not self._carded:
            return
        self.card.show_part(self.table.current_id())
        work = getattr(self.board, "work", None)
        if work is not None and work.lists.stack.indexOf(self) >= 0 and work.lists.current is not self:
            self.card.setVisible(False)

    def headed(self) -> QWidget:
        """The list with its name and buttons above it, where it shares no place."""
        holder = QWidget()
        title = QLabel(self.model.spec.name)
        title.setObjectName("sectionTitle")
        self.bar.insertWidget(0, title)
        self.bar.insertStretch(1, 1)
        column = QVBoxLayout(holder)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(self.bar)
        column.addWidget(self)
        self.table.setFixedHeight(150)
        return holder

    def focus_field(self, part: str, field: str) -> bool:
        """Select a row and lead to its field."""
        if part not in [r.id for r in self.model.rows]:
            return False
        self.focused.emit()
        self.table.select(part)
        self.show_card()
        return self.card.focus_field(field) or True

    def _doubtful(self, part: str, field: str, text: str) -> None:
        """A cell's text that is wrong or has two readings is settled in the card."""
        self.focus_field(part, field)
        widget = self.card.fields.get(field)
        if isinstance(widget, QuantityField):
            widget.show_text(text)
        else:
            self.board.message.emit(f"“{text}” does not fit here")
