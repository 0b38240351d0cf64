"""Site: the climate, what was derived from it, and the ground."""

from __future__ import annotations

import hashlib
from pathlib import Path

from PyQt6.QtWidgets import QComboBox, QFileDialog, QLabel

from nuthatch.core.changes.changes import SetValue
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.epw import Weather, WeatherFileError
from nuthatch.core.climate.weather_files import parse_weather
from nuthatch.core.energy.stages import LOAD
from nuthatch.core.files.disk import printable, read_file, why
from nuthatch.core.files.homefile import LARGEST_WEATHER
from nuthatch.core.library import CLIMATES, climate_ref
from nuthatch.core.model.home import ClimateRef
from nuthatch.core.units import show, with_unit
from nuthatch.core.views.site import months
from nuthatch.core.views.site_plan import shelter_words
from nuthatch.core.workers import LONGEST_READING, Task
from nuthatch.desktop.jobs import words_of
from nuthatch.desktop.steps.board import Board, button
from nuthatch.desktop.steps.site.surroundings import Surroundings
from nuthatch.desktop.theme.style import theme
from nuthatch.desktop.widgets.chart_canvas import ChartCanvas
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.reading import Reading
from nuthatch.desktop.widgets.workspace import row_of


class SiteBoard(Board):
    key, title = "site", "Site and climate"
    fields_first = True
    list_height = 230

    def build(self) -> None:
        self.choice = QComboBox()
        self.choice.setAccessibleName("Climate")
        self.choice.addItem("no climate chosen", "")
        for key in CLIMATES:
            self.choice.addItem(climate_ref(key).name, key)
        self.choice.activated.connect(lambda _: self._choose(str(self.choice.currentData())))
        label = QLabel("Climate library")
        label.setBuddy(self.choice)
        self.chart = ChartCanvas("Temperature and sun by month")
        self.surroundings = Surroundings(self)
        self.add_drawing("Climate", self.chart, row_of(label, self.choice, button("Weather file …", self._open, "folder-open")))
        self.facts = ReadTable("What follows from the climate", ("What follows from the climate", "Value"), (0, 150))
        self.work.lists.add("What follows", self.facts)
        self.reading = Reading(self)
        self.column.insertWidget(self.column.indexOf(self.work), self.reading.waiting)
        self.card = EditCard(self.desk)
        self.work.inspector.add(self.card)

    def refresh(self) -> None:
        ref, climate = self.home.site.climate, self.assessment.site_climate if self.assessment else None
        self.sub.setText(
            "The climate drives everything else. Choose one from the library or open an hourly weather file."
            if ref is None
            else f"{ref.name}"
            if climate is None
            else self._where(climate)
        )
        keys = {climate_ref(k).sha256: k for k in CLIMATES}
        at = self.choice.findData(keys.get(ref.sha256, "") if ref else "")
        self.choice.setCurrentIndex(max(at, 0))
        if ref is not None and ref.sha256 not in keys:
            self.choice.setItemText(0, f"own file: {ref.name}")
        self.card.show_part("site", "Site")
        self.surroundings.refresh()
        if self.assessment is not None:
            tokens, a = theme.tokens, self.assessment
            self.chart.show_chart(lambda w, h: months(a, w, h, tokens))
        self._facts(climate)

    def _where(self, climate: Climate) -> str:
        w = climate.weather
        notes = f" · {'; '.join(w.notes)}" if w.notes else ""
        return f"{climate.name} · {abs(w.latitude):.1f}° {'N' if w.latitude >= 0 else 'S'} · {with_unit(w.elevation, 'elevation')} · mean {with_unit(climate.annual_mean, 'temperature')}{notes}"

    def _facts(self, climate: Climate | None) -> None:
        if climate is None:
            self.facts.show_rows([])
            return
        a = self.assessment
        load = a[LOAD] if a else None
        rows = [
            ("Climate zone", a.zone if a else ""),
            (f"Heating degree days, {with_unit(18.3, 'temperature')}", with_unit(climate.degree_days(18.3), "degree_days")),
            (
                f"Heating degree days, {show(12, 'temperature', 0)}/{with_unit(20, 'temperature', 0)}",
                with_unit(climate.degree_days_12_20, "degree_days"),
            ),
            (f"Cooling degree days, {with_unit(10, 'temperature', 0)}", with_unit(climate.degree_days(10, True), "degree_days")),
            ("Winter design, two days", with_unit(climate.winter_design, "temperature")),
            ("Summer design, three days", with_unit(climate.summer_design, "temperature")),
        ]
        if load is not None and load.temperature is not None and load.load.value is not None:
            sun = with_unit(load.sun.value, "power") if load.sun is not None and load.sun.value is not None else "not known yet"
            rows.append((f"Heating load is of {load.days}", f"{with_unit(load.temperature.value, 'temperature')}, sun {sun}"))
        kept = shelter_words(a) if a is not None else ""
        if kept:
            rows.append((kept.partition(": ")[2], kept.partition(" ")[0]))
        self.facts.show_rows([(name, (name, value)) for name, value in rows], (1,))

    def _choose(self, key: str) -> None:
        self.apply(SetValue(part="site", field="climate", value=climate_ref(key) if key else None))

    def _open(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Open a weather file", "", "Weather files (*.epw *.csv);;All files (*)")
        if name:
            self.take_file(Path(name))

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
        """Nothing is being read."""
        return not self.reading.running

    def focus_field(self, part: str, field: str) -> bool:
        if field == "climate":
            self.choice.setFocus()
            return True
        return self.surroundings.focus_field(part, field) or self.card.focus_field(field)
