"""Rooms on the balance board: their loads and how warm they grow, as a list and on the plan."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QLabel, QMenu, QSpinBox, QVBoxLayout, QWidget

from nuthatch.core.edits.desk import Listing
from nuthatch.core.edits.room_edits import kinds_put_in, usual_kinds
from nuthatch.core.model.rooms import RoomKind
from nuthatch.core.office import load_office
from nuthatch.core.views.hours.quantities import hours_of
from nuthatch.core.views.hours.rooms import BY_HOUR, KINDS, TINTS, apart_told, asked_by_hour, rooms_drawn, rooms_sheet, told, values_of
from nuthatch.core.workers import Task
from nuthatch.core.year.room_hours import RoomsByHour, rooms_by_hour
from nuthatch.core.year.room_stages import ROOM_PARTS
from nuthatch.core.year.stages import PROBLEM
from nuthatch.desktop.steps.balance.late import Late
from nuthatch.desktop.steps.board import Board, ListPanel, button
from nuthatch.desktop.steps.shape.tint_row import TintRow
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.sketch_view import SketchView
from nuthatch.desktop.widgets.workspace import row_of

ENDS = {
    by: (KINDS[by], 0.0, end)
    for by, end in (("heating load by area", 50.0), ("heating load", 1000.0), ("cooling load", 500.0), ("too warm", 0.2))
}
HEADS = ("Room", "Storey", "Held at", "Area", "Heating", "By area", "Cooling", "At hour", "Too warm", "Nights", "Warmest")


class RoomsPart:
    """Declares its drawing and its list on the board and keeps them up to date."""

    def __init__(self, board: Board) -> None:
        self.board = board
        self.view = SketchView("Rooms tinted by their loads")
        self.view.clicked.connect(lambda ident: self.table.select(ident))
        self.tint = TintRow(board, TINTS, ENDS)
        self.tint.decimals.setValue(0)
        self.storey = QComboBox()
        self.storey.setAccessibleName("Storey of the rooms")
        self.day, self.hour = QSpinBox(), QSpinBox()
        for box, last, name in ((self.day, 365, "Day of the year"), (self.hour, 23, "Hour of the day")):
            box.setRange(1 if last == 365 else 0, last)
            box.setAccessibleName(name)
            box.setToolTip(name)
            box.valueChanged.connect(lambda _: self.draw())
        self.day.setPrefix("day ")
        self.hour.setSuffix(" h")
        board.add_drawing("Rooms", self.view, row_of(self.tint.range, self.day, self.hour, self.tint.by, self.storey))
        self.tint.placed()
        for box in (self.day, self.hour):
            box.setVisible(False)
        self.tint.changed.connect(self.draw)
        self.tint.fits_anew.connect(board.work.drawings.refit)
        self.storey.activated.connect(lambda _: self.draw())
        self.late = Late(board, "rooms by the hour", "Rooms by the hour")
        self.late.came.connect(self._came)
        self.table = ReadTable("Rooms", HEADS, (0, 90, 60, 64, 66, 62, 66, 62, 74, 60, 70))
        self.table.opened.connect(lambda ident: board.go.emit("shape", ident, "temperature"))
        self.words = QLabel()
        self.words.setObjectName("muted")
        self.words.setWordWrap(True)
        self.panel = QWidget()
        column = QVBoxLayout(self.panel)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.late.waiting)
        column.addWidget(self.words)
        column.addWidget(self.table, 1)
        self._at_the_warmest = False
        self._rests: tuple[object, ...] | None = None
        self._fitted: set[tuple[str, str]] = set()

    def lists(self) -> None:
        self.board.work.lists.add("Rooms", self.panel)
        self.kinds = ListPanel(self.board, _kinds(), add="Add a kind")
        self.usual = button("As usual", lambda: None, "", "Kinds of rooms as they are usual, or as the office keeps them")
        self.menu = QMenu(self.usual)
        self.menu.aboutToShow.connect(self.fill)
        self.usual.setMenu(self.menu)
        self.kinds.bar.insertWidget(0, self.usual)
        self.board.add_list(self.kinds, "Kinds of rooms")
        self.board.work.lists.switched.connect(lambda _: self.look())
        self.board.work.drawings.switched.connect(lambda _: self.look())

    def fill(self) -> None:
        """What is on offer now."""
        self.menu.clear()
        self.menu.addAction("Usual kinds", lambda: self.put_in(usual_kinds(), "usual"))
        office = load_office()[0].office.room_kinds
        made = self.menu.addAction("Those of the office", lambda: self.put_in(office, "of the office"))
        if made is not None:
            made.setEnabled(bool(office))

    def put_in(self, kinds: tuple[RoomKind, ...], name: str) -> None:
        """Kinds of rooms, those the home says nothing of."""
        self.board.apply(lambda: kinds_put_in(self.board.desk.home, kinds, name))

    @property
    def found(self) -> RoomsByHour | None:
        return self.late.found if isinstance(self.late.found, RoomsByHour) else None

    def refresh(self) -> None:
        """Show the snapshot."""
        plans = self.board.home.shape.plans
        rows = [(s.id, s.name) for s in plans.storeys if s.rooms] if plans is not None else []
        if [self.storey.itemData(n) for n in range(self.storey.count())] != [i for i, _ in rows]:
            self.storey.clear()
            for ident, name in rows:
                self.storey.addItem(name, ident)
        self.kinds.refresh("Nothing is said of kinds of rooms: all are held at the heating set-point and have gains by their floor area.")
        a = self.board.assessment
        rests = (a[PROBLEM], a[ROOM_PARTS], a.state.climate) if a is not None else None
        if rests is None or self._rests is None or any(x is not y for x, y in zip(rests, self._rests, strict=True)):
            self._rests = rests
        self.late.follow(self._rests)
        if a is not None and not self._at_the_warmest:
            h = hours_of(a)
            if not isinstance(h, str):
                warmest = int(h.comfort.operative.argmax())
                self._at_the_warmest = True
                self.day.setValue(warmest // 24 + 1)
                self.hour.setValue(warmest % 24)
        self.look()
        self._came()

    def look(self) -> None:
        """Work out rooms by the hour while they are looked at."""
        a = self.board.assessment
        work = self.board.work
        seen = work.lists.current is self.panel or (work.drawings.current is self.view and self.tint.by.currentText() in BY_HOUR)
        asked = asked_by_hour(a) if a is not None and seen and self.board.isVisible() else None
        if asked is not None:
            self.late.look(Task(rooms_by_hour, asked))

    def _came(self) -> None:
        a = self.board.assessment
        if a is None:
            return
        self.table.show_sheet(rooms_sheet(a, self.found))
        self.words.setText(told(a, self.found) or "Rooms are drawn in Shape; then each has its loads.")
        between = apart_told(a)
        self.words.setToolTip(f"What lies between the rooms together and the home: {between}" if between else "")
        self.draw()

    def _fit_range(self) -> None:
        """The legend of a tint begins at 0 and ends above the largest value of this home, once it is known."""
        a, by = self.board.assessment, self.tint.by.currentText()
        values = values_of(a, self.found, by, 0)[0] if a is not None and by in ENDS else {}
        if not values or (by, self.board.home.name) in self._fitted:
            return
        self._fitted.add((by, self.board.home.name))
        self.tint.end_above(max(values.values()))

    def draw(self) -> None:
        self._fit_range()
        by = self.tint.by.currentText()
        for box in (self.day, self.hour):
            if box.parentWidget() is not None:
                box.setVisible(by == "temperature")
        self.look()
        storey, tint = str(self.storey.currentData() or ""), self.tint.chosen()
        hour = (self.day.value() - 1) * 24 + self.hour.value()
        found = self.found
        self.board.show_drawing(self.view, lambda a, w, h: rooms_drawn(a, found, storey, tint, (w, h), hour))

    def focus_field(self, part: str, field: str) -> bool:
        return self.kinds.focus_field(part, field)


def _kinds() -> ListSpec:
    columns = (
        Column("Rooms", "use", width=120),
        Column("Held at", "temperature", width=110),
        Column("Gains", "weight", width=90),
        Column("Pattern", "pattern"),
    )
    return ListSpec("Kinds of rooms", Listing("home", "room_kinds", RoomKind, "room-kind"), columns)
