"""The sun on the openings board: strips and skyline of the opening that is selected, the sun dragged, its shadows on the solid, and what
takes the sun, worked out in another process."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.library import cache_folder
from nuthatch.core.model.home import Opening, find
from nuthatch.core.sketch import Bar, Handle, Sketch, bars
from nuthatch.core.solid.stages import BOUNDARY
from nuthatch.core.sun.stages import TURN
from nuthatch.core.units import with_unit
from nuthatch.core.views.openings.shaded_by import Taken, shaded_all
from nuthatch.core.views.openings.sun_drawn import SUN, day_in, reading_of, seen, sun_hours
from nuthatch.core.views.shadows import Hour
from nuthatch.core.views.shape.axonometric import View, axonometric
from nuthatch.core.workers import Stopped, Task, Worker
from nuthatch.desktop.error_net import write_log
from nuthatch.desktop.jobs import Job, Jobs
from nuthatch.desktop.steps.board import Board
from nuthatch.desktop.widgets.sketch_view import SketchView

MIDDLE = (15, 45, 74, 105, 135, 166, 196, 227, 258, 288, 319, 349)
"""The day in the middle of each month."""


class Sunny:
    """Declares the drawing “Sun” on the openings board and keeps it up to date."""

    def __init__(self, board: Board) -> None:
        self.board = board
        self.strips, self.seen = SketchView("The sun on the opening, hour by hour"), SketchView("What is seen from the opening")
        self.solid = SketchView("Shadows on the home")
        self.heat = QCheckBox("beam heat")
        self.heat.setToolTip("Tint the hours by the beam that comes in, not by what of the glass is in the sun")
        self.heat.toggled.connect(lambda _: self.draw(self._opening))
        self.reading = QLabel()
        self.reading.setObjectName("muted")
        self.reading.setWordWrap(True)
        whole = QWidget()
        pair = QHBoxLayout(whole)
        pair.setContentsMargins(0, 0, 0, 0)
        left, right = QVBoxLayout(), QVBoxLayout()
        left.addWidget(self.strips, 1)
        left.addWidget(self.heat)
        right.addWidget(self.seen, 3)
        right.addWidget(self.reading)
        right.addWidget(self.solid, 2)
        pair.addLayout(left, 1)
        pair.addLayout(right, 1)
        board.add_drawing("Sun", whole)
        self.strips.clicked.connect(self._hour_clicked)
        self.seen.dragged.connect(self._sun_dragged)
        self.taken_view = SketchView("What takes the winter sun", 150)
        self.taken_view.setMinimumHeight(150)
        self.taking = Taking(board)
        self.taking.moved.connect(self._taken_came)
        self._opening: Opening | None = None

    @property
    def views(self) -> tuple[QWidget, ...]:
        """What is shown of one opening."""
        return self.strips, self.seen, self.solid, self.heat, self.reading

    @property
    def hour(self) -> Hour:
        """The hour looked at, here and on the other boards."""
        found = self.board.desk.under_way.get("hour")
        return found if isinstance(found, Hour) else Hour()

    def _set_hour(self, hour: Hour) -> None:
        if hour != self.hour:
            self.board.desk.under_way["hour"] = hour
            self.draw(self._opening)

    def _hour_clicked(self, ident: str) -> None:
        if ident.startswith("hour:"):
            _, month, hour = ident.split(":")
            self._set_hour(Hour(MIDDLE[int(month)], int(hour)))

    def _sun_dragged(self, handle: Handle, values: tuple[float, ...]) -> None:
        if handle.id == SUN:
            hour, season = values
            day = day_in(season, self.hour.day) if season != handle.pulls[1].value else self.hour.day
            self._set_hour(Hour(day, round(hour)))

    def draw(self, opening: Opening | None) -> None:
        """Show an opening, or nothing."""
        self._opening = opening
        for view in self.views:
            view.setVisible(opening is not None)
        a = self.board.assessment
        if opening is None or a is None:
            return
        hour, heat = self.hour, self.heat.isChecked()
        self.board.show_drawing(self.strips, lambda a, w, h: sun_hours(a, _of(a, opening), (w, h), hour, heat))
        self.board.show_drawing(self.seen, lambda a, w, h: seen(a, _of(a, opening), (w, h), hour))
        self.board.show_drawing(self.solid, lambda a, w, h: _solid(a, _of(a, opening), hour, (w, h)))
        self.reading.setText(reading_of(a, opening, hour))
        self._show_taken()

    def follow(self) -> None:
        """The sun is looked at: what takes it is worked out."""
        if self.board.assessment is not None:
            self.taking.follow(self.board.assessment)
        self._show_taken()

    def _taken_came(self) -> None:
        self._show_taken()
        self.board.refresh()

    def _show_taken(self) -> None:
        opening = self._opening
        self.taken_view.setVisible(opening is not None and (self.strips.isVisible() or self.taken_view.isVisible()))
        if opening is not None:
            rows, settled = self.taking.rows.get(opening.id), self.taking.settled
            self.taken_view.show_made(lambda w, h: taken_drawn(opening, rows, settled, (w, h)))


def taken_drawn(opening: Opening, rows: tuple[Taken, ...] | None, settled: bool, size: tuple[float, float]) -> Sketch:
    """What takes the winter sun of an opening, as bars."""
    title = "What takes the winter sun"
    if not rows:
        made = Sketch(size[0], size[1], title)
        typed = opening.shade_winter is not None
        made.text(0, 14, title, size=13, bold=True)
        made.say("the winter share is typed" if typed else "nothing takes any" if rows is not None and settled else "being worked out …")
        return made
    found = [Bar(t.name, t.winter, f"{with_unit(t.winter, 'energy_month')} · {100 * t.share:.0f} %", "slate", t.id) for t in rows[:5]]
    return bars(title, found, size[0], height=size[1])


def _solid(a: Assessment, opening: Opening, hour: Hour, size: tuple[float, float]) -> Sketch:
    """The home with the shadows of an hour, seen from before the opening."""
    face = a.all_of(BOUNDARY).get(opening.face)
    turn = 180.0 - (face.azimuth - a[TURN]) + 22.0 if face is not None else 30.0
    return axonometric(a, View(turn, 18.0, hour=hour), None, size, legend=False)


def _of(a: Assessment, opening: Opening) -> Opening:
    """The opening as it is in a home; as it is here where that has none such."""
    found = find(a.home, opening.id)
    return found if isinstance(found, Opening) else opening


class Taking(QObject):
    """What takes the sun of every opening, worked out in another process while somebody looks. `moved()` when more is known."""

    moved = pyqtSignal()

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._jobs, self._worker = Jobs(self), Worker()
        parent.destroyed.connect(self._worker.stop)
        self._base: Assessment | None = None
        self._job: Job | None = None
        self.rows: dict[str, tuple[Taken, ...]] = {}

    @property
    def settled(self) -> bool:
        return self._job is None

    def follow(self, a: Assessment) -> None:
        """The home may have changed; what was known stays in view meanwhile."""
        if a is self._base or a.computing:
            return
        self._base = a
        if self._job is not None:
            self._job.cancel()
        task = Task(shaded_all, {"home": a.home, "climate": a.state.climate, "cache": cache_folder()})
        self._job = self._jobs.start(
            "what takes the sun", lambda job: self._worker.run(task, job.tell), self._all, self._gave_up, self._take, self._worker.stop
        )

    def _take(self, told: object) -> None:
        if isinstance(told, tuple):
            self.rows[told[0]] = told[1]

    def _all(self, found: dict[str, tuple[Taken, ...]]) -> None:
        self.rows, self._job = found, None
        self.moved.emit()

    def _gave_up(self, error: Exception) -> None:
        self._job = None
        if not isinstance(error, Stopped):
            write_log(error)
        self.moved.emit()

    def close(self) -> None:
        """The home is closed: no process is left behind."""
        if self._job is not None:
            self._job.cancel()
            self._job = None
        self._worker.stop()
