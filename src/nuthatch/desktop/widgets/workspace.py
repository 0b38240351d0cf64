"""A step's workspace: the drawing takes what is left, the list below it, the inspector beside both; borders are dragged and remembered."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QSize, Qt, QTimer
from PyQt6.QtGui import QKeyEvent, QPainter
from PyQt6.QtWidgets import (
    QApplication,
    QFrame,
    QHBoxLayout,
    QLayout,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from nuthatch.core.units import INCH_POUND, system
from nuthatch.desktop import settings
from nuthatch.desktop.theme.style import theme
from nuthatch.desktop.widgets.place import Place, laid_out_anew

LIST, LEAST_LIST, OPEN_LIST, TAB = 210, 104, 170, 24
DRAWING, SMALL = (640, 440), (480, 380)
"""What a drawing that is worked on has to itself at least, in a window of the usual and of the least size [px]."""


def inspector_widths() -> tuple[int, int]:
    """(usual, least) width of the inspector: the units of the inch-pound system are longer."""
    return (306, 288) if system() == INCH_POUND else (284, 262)


class Inspector(QScrollArea):
    """The column of fields beside drawing and list: cards one below the other, or one of several by what is selected."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("inspector")
        self.setAccessibleName("Inspector")
        self.setWidgetResizable(True)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setMinimumWidth(inspector_widths()[1])
        body = QWidget()
        body.setObjectName("inspectorBody")
        self.column = QVBoxLayout(body)
        self.column.setContentsMargins(12, 8, 10, 8)
        self.column.setSpacing(6)
        self.column.addStretch(1)
        self.setWidget(body)

    def add(self, widget: QWidget | QLayout) -> None:
        """One more part of the column."""
        at = self.column.count() - 1
        self.column.insertWidget(at, widget) if isinstance(widget, QWidget) else self.column.insertLayout(at, widget)

    def sizeHint(self) -> QSize:
        return QSize(inspector_widths()[0], 300)


class SideTab(QPushButton):
    """The tab of what is folded away at the right edge: its name, written downward."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self._text = text
        self.setObjectName("sideTab")
        self.setCheckable(True)
        self.setAccessibleName(text)
        self.setFixedWidth(TAB)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Expanding)

    def paintEvent(self, event: object) -> None:
        painter = QPainter(self)
        on = self.isChecked() or self.hasFocus() or self.underMouse()
        painter.fillRect(self.rect(), theme.color("panel"))
        painter.setPen(theme.color("slate" if on else "line"))
        painter.drawLine(0, 0, 0, self.height())
        if self.hasFocus():
            painter.drawRect(self.rect().adjusted(1, 1, -2, -2))
        painter.setPen(theme.color("ink" if on else "muted"))
        painter.translate(self.width(), 0)
        painter.rotate(90)
        words = f"{'›' if self.isChecked() else '‹'}  {self._text}"
        painter.drawText(0, 0, self.height(), self.width(), int(Qt.AlignmentFlag.AlignCenter), words)


class Workspace(QWidget):
    """Drawing, list and inspector of one step, together and without scrolling. The drawing wins: where there is no room for it and the
    inspector beside each other, the inspector folds to its tab and opens over the drawing when it is asked for, or gets the focus."""

    def __init__(self, key: str) -> None:
        super().__init__()
        self._key = key
        self.drawings, self.lists = Place("Drawing"), Place("List")
        self.inspector = Inspector()
        self.left = QSplitter(Qt.Orientation.Vertical)
        self.whole = QSplitter(Qt.Orientation.Horizontal)
        for place, stretch in ((self.drawings, 1), (self.lists, 0)):
            self.left.addWidget(place)
            self.left.setStretchFactor(self.left.count() - 1, stretch)
        self.whole.addWidget(self.left)
        self.whole.addWidget(self.inspector)
        self.whole.setStretchFactor(0, 1)
        self.whole.setStretchFactor(1, 0)
        for splitter in (self.left, self.whole):
            splitter.setChildrenCollapsible(False)
            splitter.setHandleWidth(9)
            splitter.splitterMoved.connect(self._keep)
        self.lists.setMinimumHeight(LEAST_LIST)
        self.drawings.setMinimumHeight(90)
        self.tab = SideTab("Inspector")
        self.tab.setToolTip("Open the inspector over the drawing, or fold it away (F7)")
        self.tab.setVisible(False)
        self.tab.toggled.connect(self._open)
        column = QHBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addWidget(self.whole, 1)
        column.addWidget(self.tab)
        self.alone = self.folded = False
        self._has_inspector = self._moving = self._fields_first = False
        self.list_folded = self._list_asked = False
        self.lists.asked.connect(self._list_pressed)
        self._list_height, self._tools_height = LIST, 0
        app = QApplication.instance()
        if isinstance(app, QApplication):
            app.focusChanged.connect(self._focus_moved)

    def start(self, list_height: int = LIST, fields_first: bool = False, tools_height: int = 0) -> None:
        """Hide what the step has none of. tools_height: what the drawing's own tools take. fields_first: it is the fields that are worked on, so that they stay as long as they can."""
        self._fields_first, self._tools_height = fields_first, tools_height
        self.lists.setVisible(self.lists.stack.count() > 0)
        self._has_inspector = self.inspector.column.count() > 1
        self.inspector.setVisible(self._has_inspector)
        self._list_height = list_height

    def _borders(self) -> None:
        """Fold or unfold, and divide what there is: as it was left, else so that the drawing has what it needs."""
        width, height = self.width(), self.height()
        if width < 200 or self.alone:
            return
        kept = settings.load().borders.get(self._key)
        self._moving = True
        drawing = SMALL if width < DRAWING[0] + 40 or self._fields_first else DRAWING
        wide, least = kept[0] if kept is not None else inspector_widths()[0], inspector_widths()[1]
        self._fold(self._has_inspector and width < drawing[0] + least + self.whole.handleWidth())
        laid_out_anew(self)
        if not self.folded:
            self.whole.setSizes([max(width - wide, min(drawing[0], width - least)), wide])
        self.drawings.refit()
        head = self.drawings.head_height + self._tools_height
        room = height - drawing[1] - head - self.left.handleWidth()
        short = room < LEAST_LIST and kept is None and not self.lists.isHidden()
        self.list_folded = short and not self._list_asked
        self.lists.stack.setVisible(not self.list_folded)
        self.lists.setMinimumHeight(self.lists.head_height if self.list_folded else LEAST_LIST)
        below = kept[1] if kept is not None else min(self._list_height, max(room, LEAST_LIST if not short else OPEN_LIST))
        below = self.lists.head_height if self.list_folded else below
        self.left.setSizes([max(height - below, 90), below])
        self._place()
        self._moving = False

    def _fold(self, folded: bool) -> None:
        """The inspector beside the drawing, or over it."""
        if folded == self.folded:
            return
        self.folded = folded
        self.tab.setVisible(folded)
        self.tab.setChecked(False)
        if folded:
            self.inspector.setParent(self)
        else:
            self.whole.addWidget(self.inspector)
            self.whole.setStretchFactor(1, 0)
        self.inspector.setVisible(self._has_inspector)

    def _place(self) -> None:
        """Where the folded inspector lies: over the drawing where it is open, else out of sight, but in reach of the Tab key."""
        if not self.folded:
            return
        wide = inspector_widths()[0]
        left = self.width() - TAB - wide if self.tab.isChecked() else self.width() + 8
        self.inspector.setGeometry(left, 0, wide, self.height())
        self.inspector.raise_()

    def _open(self, _: bool = True) -> None:
        self._place()

    def _list_pressed(self, again: bool) -> None:
        """A tab of the list: it opens a folded list; the one in front folds it again where room is short."""
        self._list_asked = not (again and self._list_asked)
        self._borders()

    def toggle_inspector(self) -> None:
        """Open the folded inspector, or fold it away."""
        if self.folded:
            self.tab.toggle()

    def _focus_moved(self, _: QWidget | None, new: QWidget | None) -> None:
        """What gets the focus is seen."""
        if self.folded and new is not None and self.inspector.isAncestorOf(new) and not self.tab.isChecked():
            self.tab.setChecked(True)
        if self.list_folded and new is not None and self.lists.stack.isAncestorOf(new):
            self._list_pressed(False)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape and self.folded and self.tab.isChecked():
            self.tab.setChecked(False)
            self.tab.setFocus()
            return
        super().keyPressEvent(event)

    def showEvent(self, event: object) -> None:
        self._borders()
        QTimer.singleShot(0, self._borders)  # once the style sheet has said how wide words are

    def resizeEvent(self, event: object) -> None:
        if self.isVisible():
            self._borders()

    def _keep(self, *_: object) -> None:
        """Remember where the borders were put."""
        if self._moving:
            return
        wide = self.whole.sizes()[1] if not self.folded else inspector_widths()[0]
        kept = {**settings.load().borders, self._key: (wide, self.left.sizes()[1])}
        settings.change(borders=kept)

    def drawing_alone(self, on: bool) -> None:
        """The drawing takes the whole place, or all come back."""
        self.alone = on
        self.lists.setVisible(not on and self.lists.stack.count() > 0)
        self.inspector.setVisible(not on and self._has_inspector)
        self.tab.setVisible(not on and self.folded)
        self._borders()


def row_of(*widgets: QWidget | Callable[[], QWidget]) -> QHBoxLayout:
    """Widgets side by side, for the tools beside a switch."""
    row = QHBoxLayout()
    row.setContentsMargins(0, 0, 0, 0)
    row.setSpacing(4)
    for widget in widgets:
        row.addWidget(widget if isinstance(widget, QWidget) else widget())
    return row
