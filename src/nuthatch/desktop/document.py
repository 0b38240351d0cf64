"""The open home as the window sees it: session, climate, assessment, and what the last change did."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.climate.climate import Climate, climate_from_bytes
from nuthatch.core.exchange.homefile import HomeFile, HomeFileError, write
from nuthatch.core.keeping.held import drop_held, held, hold
from nuthatch.core.keeping.versions import keep_version
from nuthatch.core.library import cache_folder, climate_hashes, library_climate
from nuthatch.core.edits.changes import Batch, ChangeRefused, Insert, Remove, SetValue
from nuthatch.core.model.home import EvidenceFile, Home, find, fresh_id
from nuthatch.core.model.part import Given
from nuthatch.core.questions import values
from nuthatch.core.session import Session
from nuthatch.desktop.keeper import Keeper


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

    def __init__(
        self, home: Home, weather: bytes | None = None, path: Path | None = None, evidence: dict[str, bytes] | None = None
    ) -> None:
        super().__init__()
        self.session = Session(home)
        self.path = path
        self.evidence = dict(evidence or {})
        self.keeper = Keeper(self.session, path)
        self.keeper.failed.connect(self.failed)
        self.saves_to: Callable[[Home], None] | None = None
        self.weather: dict[str, bytes] = {}
        self.climates: dict[str, Climate] = {}
        self.assessment: Assessment | None = None
        self.before: Assessment | None = None
        self.pinned: Assessment | None = None
        self.last_label = ""
        self.note: tuple[str, str] | None = None
        self.busy = False
        if weather is not None and home.site.climate is not None:
            self.weather[home.site.climate.sha256] = weather
        self._climate_done.connect(self._climate_arrived)

    @property
    def home(self) -> Home:
        return self.session.home

    @property
    def read_only(self) -> str:
        """Why the home can only be read, or ''."""
        return self.keeper.reason

    def start(self) -> None:
        """Load what the home needs and assess it, off the interface's thread."""
        self.keeper.watch()
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
            raw = data if data is not None else library_climate(key) if key else held(sha)
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
        """Keep a weather file's bytes so that the home can refer to it, also after a crash."""
        self.weather[sha256] = data
        try:
            hold(data)
        except HomeFileError as problem:
            self.failed.emit(str(problem))

    def attach(self, path: Path, part_id: str, field: str) -> str:
        """Attach a file as evidence of a value; returns why that cannot be, or ''."""
        part = find(self.home, part_id)
        given = getattr(part, field, None)
        if not isinstance(given, Given):
            return "there is no value here to prove yet"
        try:
            data = read_evidence(path)
            sha = hold(data)
        except HomeFileError as problem:
            return str(problem)
        self.evidence[sha] = data
        known = next((e for e in self.home.evidence if e.sha256 == sha), None)
        changes: list[Any] = []
        if known is None:
            known = EvidenceFile(id=fresh_id(self.home, "evidence"), name=path.name, sha256=sha, size=len(data))
            changes.append(Insert(owner="home", field="evidence", value=known))
        if known.id in (given.files or ()):
            return ""
        new = Given.model_validate({**given.model_dump(), "files": (*(given.files or ()), known.id)})
        changes.append(SetValue(part=part_id, field=field, value=new))
        return self.apply(Batch(label=f"{path.name} attached", changes=tuple(changes)))

    def detach(self, ident: str) -> str:
        """Take an attached file out of the home and off every value it proves."""
        changes: list[Any] = []
        name = next((e.name for e in self.home.evidence if e.id == ident), ident)
        for _, part, field, given in values(self.home):
            if ident in (given.files or ()):
                left = tuple(f for f in given.files or () if f != ident) or None
                new = Given.model_validate({**given.model_dump(), "files": left})
                changes.append(SetValue(part=part.id, field=field, value=new))  # type: ignore[attr-defined]
        changes.append(Remove(part=ident))
        return self.apply(Batch(label=f"{name} taken out", changes=tuple(changes)))

    def evidence_bytes(self, sha: str) -> bytes | None:
        """An attached file's bytes; None where they are lost."""
        return self.evidence.get(sha) or held(sha)

    def restore(self, home: Home) -> None:
        """Work of an earlier session as one step of the history."""
        self.session.put(home, "work of the earlier session restored")
        self._after("Restored: work of the earlier session")

    def again(self) -> None:
        """Assess anew without a change: texts follow the units in use."""
        if self.assessment is not None:
            self.assessment = assess(self.home, self.climate, self.assessment)

    def _assess(self, label: str, joined: bool = False) -> None:
        previous = self.assessment
        self.assessment = assess(self.home, self.climate, previous)
        if not joined:
            self.before = previous
        self.last_label = label

    def _after(self, label: str, joined: bool = False) -> None:
        self.keeper.changed(joined)
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
        if self.read_only:
            return f"{self.read_only}. Save a copy to work on it"
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
        """Write the home file with its weather and evidence; the version before is kept. Raises HomeFileError."""
        home = self.home
        ref = home.site.climate
        data = None
        if ref is not None:
            key = climate_hashes().get(ref.sha256)
            data = self.weather.get(ref.sha256) or (library_climate(key) if key else held(ref.sha256))
        taken = self.keeper.take(path)
        if taken:
            raise HomeFileError(taken)
        proofs = {e.sha256: found for e in home.evidence if (found := self.evidence_bytes(e.sha256)) is not None}
        keep_version(path)
        write(path, HomeFile(home, data, proofs))
        self.path = path
        self.session.saved(home)
        self.keeper.saved(path)
        drop_held([*proofs, *([ref.sha256] if ref else [])])
        self.evidence = proofs
        self.saved.emit()

    def close(self) -> None:
        """The user is done with the home: its lock and autosave go."""
        self.keeper.end()


LARGEST_PROOF = 60_000_000


def read_evidence(path: Path) -> bytes:
    """A file to attach. Raises HomeFileError."""
    try:
        if path.is_file() and path.stat().st_size > LARGEST_PROOF:
            raise HomeFileError(f"{path.name} is larger than {LARGEST_PROOF // 1_000_000} MB; attach a smaller copy")
        return path.read_bytes()
    except OSError as error:
        raise HomeFileError(f"{path}: {error.strerror or error}") from None


class _Quiet:
    """A receiver for background work whose result nobody waits for."""

    def emit(self, *_: object) -> None:
        return
