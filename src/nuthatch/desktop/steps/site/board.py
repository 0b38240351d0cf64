"""Site: the climate, what was derived from it, and the ground."""

from __future__ import annotations

import hashlib
from pathlib import Path

from PyQt6.QtCore import QMimeData
from PyQt6.QtGui import QDragEnterEvent, QDropEvent

from nuthatch.core.changes.changes import SetValue
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.epw import Weather, WeatherFileError
from nuthatch.core.climate.shelf import SUFFIXES
from nuthatch.core.climate.weather_files import parse_weather
from nuthatch.core.files.disk import printable, read_file, why
from nuthatch.core.files.homefile import LARGEST_WEATHER
from nuthatch.core.library import climate_ref
from nuthatch.core.model.home import ClimateRef
from nuthatch.core.units import with_unit
from nuthatch.core.views.site import facts_of
from nuthatch.core.workers import LONGEST_READING, Task
from nuthatch.desktop.jobs import words_of
from nuthatch.desktop.steps.board import Board
from nuthatch.desktop.steps.site.climates import Climates
from nuthatch.desktop.steps.site.surroundings import Surroundings
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.reading import Reading


class SiteBoard(Board):
    key, title = "site", "Site and climate"
    fields_first = True
    list_height = 230

    def build(self) -> None:
        self.reading = Reading(self)
        self.surroundings = Surroundings(self, self.reading)
        self.climates = Climates(self, self.reading)
        self.climates.declare_lists()
        self.desk.ending.connect(self.climates.sun.close)
        self.facts = ReadTable("What follows from the climate", ("What follows from the climate", "Value", "Beside"), (0, 120, 120))
        self.work.lists.add("What follows", self.facts)
        self.column.insertWidget(self.column.indexOf(self.work), self.reading.waiting)
        self.card = EditCard(self.desk)
        self.work.inspector.add(self.card)
        self.setAcceptDrops(True)

    def refresh(self) -> None:
        ref, climate = self.home.site.climate, self.assessment.site_climate if self.assessment else None
        self.sub.setText(
            "The climate drives everything else. Choose one from the library or open an hourly weather file."
            if ref is None
            else f"{ref.name}"
            if climate is None
            else self._where(climate)
        )
        self.card.show_part("site", "Site")
        self.surroundings.refresh()
        self.climates.refresh()
        self._facts(climate)

    def _where(self, climate: Climate) -> str:
        w = climate.weather
        notes = f" · {'; '.join(w.notes)}" if w.notes else ""
        return f"{climate.name} · {abs(w.latitude):.1f}° {'N' if w.latitude >= 0 else 'S'} · {with_unit(w.elevation, 'elevation')} · mean {with_unit(climate.annual_mean, 'temperature')}{notes}"

    def _facts(self, climate: Climate | None) -> None:
        beside = self.climates.beside
        self.facts.setColumnHidden(2, beside is None)
        if beside is not None:
            head = self.facts.horizontalHeaderItem(2)
            assert head is not None
            head.setText(beside.name)
        a = self.assessment
        if climate is None or a is None:
            self.facts.show_rows([])
            return
        rows = facts_of(a, climate, beside)
        self.facts.show_rows([(name, (name, value, other)) for name, value, other in rows], (1, 2))

    def choose_shipped(self, key: str) -> None:
        """A climate that ships."""
        self.apply(SetValue(part="site", field="climate", value=climate_ref(key)))

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """Weather files are taken."""
        if event is not None and _dropped(event.mimeData()) is not None:
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """A file becomes the home's climate, a folder one of those that are listed."""
        path = _dropped(event.mimeData()) if event is not None else None
        if path is not None and event is not None:
            event.acceptProposedAction()
            self.climates.add_folder(path) if path.is_dir() else self.take_file(path)

    def take_file(self, path: Path) -> None:
        """Use a weather file; a fault in it is said and nothing changes."""
        try:
            data = read_file(path, LARGEST_WEATHER, "weather file")
        except OSError as error:
            self.message.emit(f"{printable(path.name)}: {why(error)}")
            return

        def use(weather: Weather) -> None:
            sha = hashlib.sha256(data).hexdigest()
            self.desk.add_weather(sha, data)
            self.apply(SetValue(part="site", field="climate", value=ClimateRef(name=weather.place, sha256=sha)))

        def failed(error: Exception) -> None:
            self.message.emit(f"{printable(path.name)}: {words_of(error, (WeatherFileError,))}")

        task = Task(parse_weather, {"data": data}, LONGEST_READING)
        self.reading.apart(f"Reading {printable(path.name)}", task, use, failed)

    @property
    def settled(self) -> bool:
        """Nothing is being read, nothing of what is shown is computing."""
        return not self.reading.running and self.climates.sun.settled

    def focus_field(self, part: str, field: str) -> bool:
        if field in ("climate", "months"):
            self.in_front(self.climates.table if field == "climate" else self.climates.months)
            if field == "months":
                self.climates.months.add_button.setFocus()
            else:
                self.climates.to_choose()
            return True
        if self.climates.months.focus_field(part, field):
            return True
        return self.surroundings.focus_field(part, field) or self.card.focus_field(field)


def _dropped(data: QMimeData | None) -> Path | None:
    """The file or folder that is dropped, where it may be weather."""
    urls = data.urls() if data is not None else []
    path = Path(urls[0].toLocalFile()) if len(urls) == 1 and urls[0].isLocalFile() else None
    return path if path is not None and (path.is_dir() or path.suffix.lower() in SUFFIXES) else None
