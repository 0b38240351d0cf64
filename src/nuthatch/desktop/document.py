"""The open home as the window sees it: session, climate, assessment, and what the last change did."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.climate.climate import Climate, climate_from_bytes
from nuthatch.core.exchange.homefile import HomeFile, write
from nuthatch.core.library import cache_folder, climate_hashes, library_climate
from nuthatch.core.model.changes import ChangeRefused
from nuthatch.core.model.home import Home
from nuthatch.core.session import Session


class _Work(QRunnable):
    """One piece of background work; its result comes back by a signal of the document."""

    def __init__(self, function: Any, done: Any) -> None:
        super().__init__()
        self._function, self._done = function, done

    def run(self) -> None:
        try:
            result, error = self._function(), None
        except Exception as problem:
            result, error = None, problem
        try:
            self._done.emit(result, error)
        except RuntimeError:  # the window is gone
            return


class Document(QObject):
    """`changed(label)` after every change of the home; `ready()` when the climate has arrived; `failed(text)`."""

    changed = pyqtSignal(str)
    ready = pyqtSignal()
    failed = pyqtSignal(str)
    saved = pyqtSignal()
    _climate_done = pyqtSignal(object, object)

    def __init__(self, home: Home, weather: bytes | None = None, path: Path | None = None) -> None:
        super().__init__()
        self.session = Session(home)
        self.path = path
        self.weather: dict[str, bytes] = {}
        self.climates: dict[str, Climate] = {}
        self.assessment: Assessment | None = None
        self.before: Assessment | None = None
        self.pinned: Assessment | None = None
        self.last_label = ""
        self.busy = False
        if weather is not None and home.site.climate is not None:
            self.weather[home.site.climate.sha256] = weather
        self._climate_done.connect(self._climate_arrived)

    @property
    def home(self) -> Home:
        return self.session.home

    def start(self) -> None:
        """Load what the home needs and assess it, off the interface's thread."""
        self._fetch()

    def _fetch(self) -> None:
        ref = self.home.site.climate
        if ref is None or ref.sha256 in self.climates:
            self._assess("")
            self.ready.emit()
            return
        self.busy = True
        sha, data = ref.sha256, self.weather.get(ref.sha256)

        def load() -> tuple[str, Climate | None]:
            key = climate_hashes().get(sha)
            raw = data if data is not None else library_climate(key) if key else None
            if raw is None:
                return sha, None
            made = climate_from_bytes(raw, cache_folder())
            assess(self.home, made)
            made.keep()
            return sha, made

        pool = QThreadPool.globalInstance()
        assert pool is not None
        pool.start(_Work(load, self._climate_done))

    def _climate_arrived(self, result: object, error: object) -> None:
        self.busy = False
        if error is not None:
            self.failed.emit(f"The home's weather file cannot be used: {error}")
        elif isinstance(result, tuple):
            sha, climate = result
            if climate is None:
                self.failed.emit("The home's weather file is not known here; choose a climate in Site.")
            else:
                self.climates[sha] = climate
        first = self.assessment is None
        self._assess("")
        self.ready.emit()
        if not first:
            self.changed.emit("")

    @property
    def climate(self) -> Climate | None:
        ref = self.home.site.climate
        return self.climates.get(ref.sha256) if ref else None

    def warm(self) -> None:
        """Load what later edits need (the sun position), in the background."""
        climate = self.climate
        if climate is None:
            return

        def work() -> None:
            _ = climate._sun

        pool = QThreadPool.globalInstance()
        assert pool is not None
        pool.start(_Work(work, _Quiet()))

    def add_weather(self, sha256: str, data: bytes) -> None:
        """Keep a weather file's bytes so that the home can refer to it."""
        self.weather[sha256] = data

    def _assess(self, label: str, joined: bool = False) -> None:
        previous = self.assessment
        self.assessment = assess(self.home, self.climate, previous)
        if not joined:
            self.before = previous
        self.last_label = label

    def _after(self, label: str, joined: bool = False) -> None:
        ref = self.home.site.climate
        if ref is not None and ref.sha256 not in self.climates:
            self.last_label = label
            self._fetch()
            self.changed.emit(label)
            return
        self._assess(label, joined)
        self.changed.emit(label)

    def apply(self, change: Any, merge: str = "") -> str:
        """Apply a change; returns why it was refused, or ''. merge: see Session.apply."""
        joined = self.session.merges(merge)
        try:
            label = self.session.apply(change, merge)
        except ChangeRefused as reason:
            return str(reason)
        if label is not None:
            self._after(label, joined)
        return ""

    def undo(self) -> None:
        label = self.session.undo()
        if label is not None:
            self._after(f"Undone: {label}")

    def redo(self) -> None:
        label = self.session.redo()
        if label is not None:
            self._after(f"Done again: {label}")

    def save(self, path: Path) -> None:
        """Write the home file with its weather. Raises HomeFileError."""
        ref = self.home.site.climate
        data = None
        if ref is not None:
            key = climate_hashes().get(ref.sha256)
            data = self.weather.get(ref.sha256) or (library_climate(key) if key else None)
        write(path, HomeFile(self.home, data))
        self.path = path
        self.session.saved()
        self.saved.emit()


class _Quiet:
    """A receiver for background work whose result nobody waits for."""

    def emit(self, *_: object) -> None:
        return
