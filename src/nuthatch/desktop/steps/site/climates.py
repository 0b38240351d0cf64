"""The climate on the site board: chosen from a library of files on a map, looked at, set beside another, given or corrected by months."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QComboBox, QFileDialog, QFrame, QHBoxLayout, QLabel, QLineEdit, QMenu, QPushButton, QVBoxLayout

from nuthatch.core.assess import Assessment
from nuthatch.core.climate import shelf
from nuthatch.core.climate.climate import LAPSE, Climate, climate_from_bytes
from nuthatch.core.climate.epw import WeatherFileError
from nuthatch.core.climate.library import shipped_climate
from nuthatch.core.climate.shelf import Offer
from nuthatch.core.edits.climate_edits import filled_from, twelve
from nuthatch.core.edits.desk import Listing
from nuthatch.core.files.disk import printable, read_file
from nuthatch.core.files.homefile import LARGEST_WEATHER
from nuthatch.core.graph.progress import heard_by
from nuthatch.core.library import shipped_key
from nuthatch.core.model.site import ClimateMonth
from nuthatch.core.sketch import Sketch
from nuthatch.core.units import show, unit_of, with_unit
from nuthatch.core.views.climate_drawn import LOOKS
from nuthatch.core.views.climate_map import Window, around, climate_map
from nuthatch.core.views.site import in_words, looked_at, shown_of
from nuthatch.desktop import settings
from nuthatch.desktop.jobs import Job, words_of
from nuthatch.desktop.steps.board import Board, ListPanel, button
from nuthatch.desktop.steps.site.map_view import MapView
from nuthatch.desktop.sun_asked import SunAsked
from nuthatch.desktop.widgets.parts_model import Column, ListSpec
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.reading import Reading
from nuthatch.desktop.widgets.sketch_view import SketchView
from nuthatch.desktop.widgets.workspace import row_of

AT_HOME = 1500.0
"""Kilometres round the site the map shows first."""
SHOWN = 500
"""Rows of the library that are shown at most; the map shows all."""


class Climates:
    """Declares the map, the climate's drawings, the library and the months on the site board and keeps them up to date."""

    def __init__(self, board: Board, reading: Reading) -> None:
        self.board, self.reading = board, reading
        self.offers: tuple[Offer, ...] = shelf.shipped()
        self._from_folders: tuple[Offer, ...] = ()
        self.chosen, self._looked = "", False
        self.beside: Climate | None = None
        self.map = MapView("Map of climates")
        self.map.clicked.connect(self.choose)
        self.drawing = SketchView("The climate")
        self.look = QComboBox()
        self.look.setAccessibleName("What of the climate is shown")
        self.look.addItems(list(LOOKS))
        self.look.currentIndexChanged.connect(lambda _: self._draw())
        self.alone = button("", self._look_alone, "", "Look at the home's climate alone")
        self.alone.setText("Alone")
        self.alone.setMaximumWidth(90)
        self.alone.setVisible(False)
        board.add_drawing("Climate", self.drawing, row_of(self.alone, self.look))
        board.add_drawing("Map", self.map)
        self.card = OfferCard(self.use, self.look_beside)
        self.sun = SunAsked(board)
        self.sun.came.connect(board.refresh)

    def declare_lists(self) -> None:
        """The library and the months, among the lists of the board."""
        self.words = QLineEdit()
        self.words.setAccessibleName("Search climates")
        self.words.setPlaceholderText("name, country, < 100 km")
        self.words.setClearButtonEnabled(True)
        self.words.setMinimumWidth(210)
        self._later = QTimer(self.words)
        self._later.setSingleShot(True)
        self._later.setInterval(120)
        self._later.timeout.connect(self._fill)
        self.words.textChanged.connect(lambda _: self._later.start())
        self.folders = button("Folders …", self._menu, "folder-open", "Folders with weather files, and single files")
        heads = ("Climate", "Country", f"Away {unit_of('distance')}", f"Elevation {unit_of('elevation')}", "Kind")
        self.table = ReadTable("Climates on offer", heads, (0, 120, 74, 96, 110))
        self.table.chosen.connect(self.choose)
        self.table.opened.connect(self.use)
        self.board.work.lists.add("Library", self.table, row_of(self.words, self.folders))
        self.months = ListPanel(self.board, _months(), add="Add a month")
        self.all_button = button("All twelve", self._all_menu, "", "All twelve months, empty or as in the weather file")
        self.months.bar.insertWidget(0, self.all_button)
        self.board.add_list(self.months, "Months")
        self.board.work.lists.switched.connect(lambda _: self._switched())
        self.board.work.drawings.switched.connect(lambda _: self._switched())
        self.board.work.inspector.add(self.card)
        self.card.hide()

    # what is on offer

    def _switched(self) -> None:
        in_front = self.board.work.lists.current is self.table
        self.card.setVisible(in_front and bool(self.chosen))
        if in_front or self.map.isVisible():
            self.look_into_folders()
            self._fill()

    def look_into_folders(self, again: bool = False) -> None:
        """List the files of the folders, once, or again."""
        if self._looked and not again:
            return
        self._looked = True
        folders = tuple(Path(f) for f in settings.load().weather_folders)
        if not folders:
            self._came(())
            return

        def listed(job: Job) -> tuple[Offer, ...]:
            with heard_by(job.tell):
                return shelf.of_folders(folders)

        self.reading.start("Looking into folders of weather files", listed, self._came, lambda e: self.board.message.emit(words_of(e, ())))

    def _came(self, found: tuple[Offer, ...]) -> None:
        self._from_folders = found
        self.refresh()

    def _menu(self) -> None:
        menu = QMenu(self.folders)
        menu.addAction("Open a weather file …", self.ask_file)
        menu.addAction("Add a folder …", self.ask_folder)
        menu.addAction("Look again", partial(self.look_into_folders, True))
        kept = settings.load().weather_folders
        if kept:
            menu.addSeparator()
        for folder in kept:
            menu.addAction(f"Take away {printable(folder)}", partial(self.drop_folder, folder))
        menu.popup(self.folders.mapToGlobal(self.folders.rect().bottomLeft()))

    def ask_file(self) -> None:
        """Choose a weather file to use."""
        name, _ = QFileDialog.getOpenFileName(self.board, "Open a weather file", "", "Weather files (*.epw *.csv);;All files (*)")
        if name:
            self.board.take_file(Path(name))  # type: ignore[attr-defined]  # the site board's own

    def ask_folder(self) -> None:
        """Choose a folder to list."""
        name = QFileDialog.getExistingDirectory(self.board, "A folder with weather files")
        if name:
            self.add_folder(Path(name))

    def add_folder(self, folder: Path) -> None:
        """List a folder from now on."""
        kept = settings.load().weather_folders
        if str(folder) not in kept:
            settings.change(weather_folders=(*kept, str(folder)))
        self.board.work.lists.show_widget(self.table)
        self.look_into_folders(True)

    def drop_folder(self, folder: str) -> None:
        """List a folder no longer; its files stay where they are."""
        settings.change(weather_folders=tuple(f for f in settings.load().weather_folders if f != folder))
        self.look_into_folders(True)

    # where the home is

    def _used(self) -> Climate | None:
        a = self.board.assessment
        return a.climate if a is not None else None

    def site(self) -> tuple[float, float] | None:
        """Latitude and longitude of the home; those of its climate where they are not given."""
        given, climate = self.board.home.site, self._used()
        if given.latitude is not None and given.longitude is not None:
            return given.latitude.value, given.longitude.value
        return (climate.weather.latitude, climate.weather.longitude) if climate is not None else None

    def used_id(self) -> str:
        """The offer the home stands on."""
        climate = self._used()
        if climate is None:
            return ""
        key, w = shipped_key(climate.sha256), climate.weather
        if key is not None:
            return f"{shelf.SHIPPED}{key}"
        alike = (
            o.id
            for o in self._from_folders
            if (o.latitude, o.longitude, o.elevation) == (w.latitude, w.longitude, w.elevation) and o.name == w.place
        )
        return next(alike, "own")

    def refresh(self) -> None:
        """Show the snapshot."""
        climate, used = self._used(), self.used_id()
        own: tuple[Offer, ...] = ()
        if used == "own" and climate is not None:
            w = climate.weather
            own = (Offer("own", w.place, "in this home", w.latitude, w.longitude, w.elevation, w.time_zone, "weather file"),)
        self.offers = (*own, *shelf.shipped(), *self._from_folders)
        self.months.refresh(
            "No month by hand: the weather file counts as it is. Add a month to correct it, or all twelve, typed or pasted, where there is no file."
        )
        self._fill()
        a = self.board.assessment
        if a is not None:
            self.sun.ask(shown_of(a, self.beside))
        self._draw()

    def _fill(self) -> None:
        if not self.table.isVisible():
            self._draw_map()
            return
        site = self.site()
        found = shelf.search(self.offers, self.words.text(), site)
        rows = [(o.id, self._row(o, site)) for o in found[:SHOWN]]
        self.table.show_rows(rows, (2, 3))
        if len(found) > SHOWN:
            self.board.message.emit(f"{len(found)} climates: the first {SHOWN} are listed, search for others")
        self.card.present(self._offer(self.chosen), self._facts(self._offer(self.chosen)), self.used_id())
        self._draw_map()

    def _row(self, o: Offer, site: tuple[float, float] | None) -> tuple[str, ...]:
        if o.fault:
            return o.name, o.fault, "", "", "cannot be read"
        away = show(1000 * shelf.distance(site, (o.latitude, o.longitude)), "distance") if site is not None else ""
        return o.name, o.country, away, show(o.elevation, "elevation"), o.kind

    def _offer(self, ident: str) -> Offer | None:
        return next((o for o in self.offers if o.id == ident), None)

    def choose(self, ident: str) -> None:
        """Look at one that is on offer."""
        if self._offer(ident) is None:
            return
        self.chosen = ident
        self.board.work.lists.show_widget(self.table)
        self.table.select(ident, quiet=True)
        self.card.present(self._offer(ident), self._facts(self._offer(ident)), self.used_id())
        self.card.show()
        self._draw_map()

    def to_choose(self) -> None:
        """The focus to the library, on the climate in use or the first: Enter takes it."""
        self._fill()
        if not self.table.select(self.used_id(), quiet=True) and self.table.rowCount():
            self.table.setCurrentCell(0, 0)
        self.table.setFocus()

    def _facts(self, o: Offer | None) -> list[str]:
        """What there is to say of one on offer."""
        if o is None:
            return []
        if o.fault:
            return [o.fault]
        site = self.site()
        hand = f"{abs(o.latitude):.2f}° {'N' if o.latitude >= 0 else 'S'}, {abs(o.longitude):.2f}° {'E' if o.longitude >= 0 else 'W'}"
        said = [f"{o.country or 'at sea'} · {hand}", f"{o.kind} · time zone {o.time_zone:+g} h"]
        if site is not None:
            said.append(f"{with_unit(1000 * shelf.distance(site, (o.latitude, o.longitude)), 'distance')} from the site")
        level = self.board.home.site.elevation
        if level is not None:
            up = level.value - o.elevation
            colder = with_unit(abs(LAPSE * up), "difference")
            way = f"the site lies {with_unit(abs(up), 'elevation')} {'higher' if up > 0 else 'lower'}: air taken {colder} {'colder' if up > 0 else 'warmer'}"
            said.append(way if abs(up) >= 1 else "as high as the site")
        else:
            said.append(f"{with_unit(o.elevation, 'elevation')} above the sea")
        if o.zone:
            said.append(f"climate zone {o.zone} by its header")
        return said

    # using and comparing

    def use(self, ident: str) -> None:
        """The home's climate from now on."""
        offer = self._offer(ident)
        if offer is None or offer.id == "own":
            return
        if offer.fault:
            self.board.message.emit(f"{offer.name}: {offer.fault}")
        elif offer.key:
            self.board.choose_shipped(offer.key)  # type: ignore[attr-defined]
        else:
            self.board.take_file(Path(offer.id))  # type: ignore[attr-defined]

    def look_beside(self, ident: str) -> None:
        """Show one beside the home's own."""
        offer = self._offer(ident)
        if offer is None or offer.fault:
            return
        if offer.key:
            self._stand_beside(shipped_climate(offer.key))
            return

        def read(_: Job) -> Climate:
            return climate_from_bytes(read_file(Path(offer.id), LARGEST_WEATHER, "weather file"))

        def failed(error: Exception) -> None:
            self.board.message.emit(f"{offer.name}: {words_of(error, (WeatherFileError,))}")

        self.reading.start(f"Reading {printable(offer.name)}", read, self._stand_beside, failed)

    def _stand_beside(self, climate: Climate) -> None:
        self.beside = climate
        self.board.work.drawings.show_widget(self.drawing)
        self.board.refresh()

    def _look_alone(self) -> None:
        self.beside = None
        self.board.refresh()

    def _draw(self) -> None:
        """The climate, and the map."""
        self.alone.setVisible(self.beside is not None)
        look, beside = self.look.currentText(), self.beside

        def drawn(a: Assessment, w: float, h: float) -> Sketch:
            lacks = self.sun.lacks(shown_of(a, beside)) if look == "Months" else ""
            return in_words(lacks, look, (w, h)) if lacks else looked_at(a, look, (w, h), beside)

        self.board.show_drawing(self.drawing, drawn)

    def _draw_map(self) -> None:
        site, used, chosen, offers = self.site(), self.used_id(), self.chosen, self.offers
        everywhere = [(o.latitude, o.longitude) for o in offers if not o.fault]
        near = [p for p in everywhere if site is not None and shelf.distance(site, p) < AT_HOME]
        places = [*near, *([site] if site is not None else [])] if near else everywhere

        def drawn(window: Window, w: float, h: float) -> Sketch:
            return climate_map(offers, site, used, chosen, window, (w, h))

        self.map.show_map(drawn, around(places))

    # months by hand

    def _all_menu(self) -> None:
        menu = QMenu(self.all_button)
        menu.addAction("All twelve, empty", lambda: self.board.apply(twelve(self.board.home)))
        a = self.board.assessment
        station = a.station if a is not None else None
        as_file = menu.addAction("All twelve, as in the weather file")
        assert as_file is not None
        as_file.setEnabled(station is not None and station.sun_known)
        if station is not None:
            as_file.triggered.connect(lambda: self.board.apply(filled_from(self.board.home, station)))
        menu.popup(self.all_button.mapToGlobal(self.all_button.rect().bottomLeft()))


class OfferCard(QFrame):
    """What is known of a climate on offer, and what can be done with it."""

    def __init__(self, use, beside) -> None:  # type: ignore[no-untyped-def]  # two functions of an id
        super().__init__()
        self.setObjectName("group")
        self._id = ""
        self.title, self.facts = QLabel(), QLabel()
        self.title.setObjectName("sectionTitle")
        self.facts.setWordWrap(True)
        self.use_button, self.beside_button = QPushButton("Use this climate"), QPushButton("Look at beside")
        self.use_button.setObjectName("primary")
        self.use_button.clicked.connect(lambda: use(self._id))
        self.beside_button.clicked.connect(lambda: beside(self._id))
        buttons = QHBoxLayout()
        buttons.addWidget(self.use_button)
        buttons.addWidget(self.beside_button)
        buttons.addStretch(1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 6)
        column.setSpacing(4)
        for widget in (self.title, self.facts):
            column.addWidget(widget)
        column.addLayout(buttons)

    def present(self, offer: Offer | None, facts: list[str], used: str) -> None:
        """Show an offer; used: the id of the home's own."""
        if offer is None:
            return
        self._id = offer.id
        self.title.setText(offer.name)
        self.facts.setText("\n".join(facts))
        mine = offer.id == used
        self.use_button.setText("In use" if mine else "Use this climate")
        self.use_button.setEnabled(not mine and not offer.fault)
        self.beside_button.setEnabled(not mine and not offer.fault)


def _months() -> ListSpec:
    columns = (
        Column("Month", "month"),
        Column("Air", "temperature", width=58),
        Column("Flat", "sun_flat", width=62),
        Column("North", "sun_north", width=62),
        Column("East", "sun_east", width=62),
        Column("South", "sun_south", width=62),
        Column("West", "sun_west", width=62),
        Column("Ground", "reflectance", width=58),
    )
    return ListSpec("Months by hand", Listing("site", "months", ClimateMonth, "month"), columns)
