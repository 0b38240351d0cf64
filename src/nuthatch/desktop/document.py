"""The open home: its history, its climates, its assessment with what is still computing, its files."""

from __future__ import annotations

import hashlib
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from nuthatch.core.assess import Assessment, Snapshot, assess
from nuthatch.core.changes.changes import Change, ChangeRefused
from nuthatch.core.changes.history import Session
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.epw import WeatherFileError
from nuthatch.core.climate.library import climate_named, shipped_climate
from nuthatch.core.climate.months import gives_sun
from nuthatch.core.edits import whole_parts
from nuthatch.core.files.autosave import Autosave
from nuthatch.core.files.disk import printable, read_file, why
from nuthatch.core.files.held import held, hold
from nuthatch.core.files.homefile import HomeFile, HomeFileError, put, read, to_bytes
from nuthatch.core.files.places import real
from nuthatch.core.files.save_doubt import SaveDoubt, doubt, hash_of
from nuthatch.core.files.versions import keep_version
from nuthatch.core.graph.runner import Stores
from nuthatch.core.graph.stage import Stage
from nuthatch.core.library import library_climate, results_on_disk, shipped_key
from nuthatch.core.model.home import EvidenceFile, Home, find
from nuthatch.core.model.part import Given
from nuthatch.core.results.figure import Computing
from nuthatch.core.workers import get_ready
from nuthatch.desktop.autosaving import Keeper
from nuthatch.desktop.desk import TRYING, Desk
from nuthatch.desktop.jobs import Jobs, words_of
from nuthatch.desktop.slow_results import SlowResults
from nuthatch.desktop.sun_asked import SunAsked
from nuthatch.desktop.weights import Weighing

LARGEST_PROOF = 60_000_000


class Document(QObject):
    """`changed(label)` after every change; `arrived()` when slow results have come; `ready()` once all is there first."""

    arrived = pyqtSignal()
    ready = pyqtSignal()
    saved = pyqtSignal()
    more: tuple[Stage, ...] = ()

    def __init__(
        self,
        home: Home,
        weather: bytes | None = None,
        path: Path | None = None,
        evidence: dict[str, bytes] | None = None,
        file_hash: str = "",
    ) -> None:
        super().__init__()
        self.desk = Desk(home, self)
        self.changed, self.failed, self.ending = self.desk.changed, self.desk.failed, self.desk.ending
        self.path = real(path) if path is not None else None
        self.evidence = dict(evidence or {})
        self.keeper = Keeper(self.session, self.path, file_hash or (hash_of(self.path) if self.path is not None else ""))
        self.keeper.failed.connect(self.failed)
        self.keeper.belongings = self._belongings
        self.saves_to: Callable[[Home], None] | None = None
        self.weather: dict[str, bytes] = {}
        self.climates: dict[str, Climate | None] = {}
        self.before: Assessment | None = None
        self.pinned: Assessment | None = None
        self.last_label = ""
        self.note: tuple[str, str] | None = None
        self.jobs = Jobs(self)
        self.stores = Stores(slow=results_on_disk())
        self.slow = SlowResults(self, self.stores.slow)
        self.slow.failed.connect(self.failed)
        self.weighing = Weighing(self, lambda: self.snapshot)
        self._loading: dict[str, Computing] = {}
        self.sun = SunAsked(self)
        self.sun.came.connect(self._again)
        self._started = self._was_ready = False
        self._assessment: Assessment | None = None
        self._again_soon = QTimer(self)
        self._again_soon.setSingleShot(True)
        self._again_soon.setInterval(0)
        self._again_soon.timeout.connect(self._again)
        self.slow.arrived.connect(self._again_soon.start)
        if weather is not None and home.site.climate is not None:
            self.weather[home.site.climate.sha256] = weather

    @classmethod
    def of(cls, content: HomeFile, path: Path | None) -> Document:
        """The document of a home file that was read."""
        return cls(content.home, content.weather, path, content.evidence, content.sha256)

    # what is shown

    @property
    def home(self) -> Any:
        return self.desk.home

    @property
    def session(self) -> Session:
        return self.desk.session

    @property
    def snapshot(self) -> Snapshot:
        if not self._started or self._assessment is None:
            return Snapshot(self.home, None)
        return Snapshot(self._assessment.home, self._assessment)

    @property
    def assessment(self) -> Assessment | None:
        return self.snapshot.assessment

    @property
    def busy(self) -> bool:
        """Whether something is still computing."""
        return self._assessment is None or self._assessment.computing or self._again_soon.isActive()

    @property
    def climate(self) -> Climate | None:
        return self._assessment.climate if self._assessment is not None else None

    @property
    def read_only(self) -> str:
        """Why the home can only be read, or ''."""
        return self.keeper.reason

    def refusal(self) -> str:
        return f"{self.read_only}. Save a copy to work on it" if self.read_only else ""

    # assessing

    def start(self) -> None:
        """Assess the home; what is slow arrives later."""
        self.keeper.watch()
        self._assess("")
        self._perhaps_ready()

    def _climate_now(self) -> Climate | Computing | None:
        """The home's climate; computing while it is read, None where there is none or it cannot be used."""
        ref = self.home.site.climate
        if ref is None:
            return None
        sha = ref.sha256
        if sha in self.climates:
            found = self.climates[sha]
            return found if found is None or self._sun_there(sha, found) else self._loading[sha]
        if sha not in self._loading:
            self._loading[sha] = Computing("Climate", "text", time.monotonic(), "the climate")
            data = self.weather.get(sha)
            self.jobs.start(
                "climate",
                lambda job: load_climate(sha, data, self.keeper.sessions),
                lambda made: self._climate_came(sha, made),
                lambda error: self._climate_failed(sha, error),
            )
        return self._loading[sha]

    def _sun_there(self, sha: str, climate: Climate) -> bool:
        """Whether what months of sun by hand are compared with is known, where there are any; else it is worked out in another process."""
        if gives_sun(self.home.site.months):
            self.sun.ask((climate,))
        if self.sun.waits(climate):
            self._loading.setdefault(sha, Computing("Climate", "text", time.monotonic(), "the sun of the climate"))
            return False
        self._loading.pop(sha, None)
        return True

    def _climate_came(self, sha: str, made: Climate | None) -> None:
        self._loading.pop(sha, None)
        self.climates[sha] = made
        if made is None:
            self.failed.emit("The home's weather file is not known here; choose a climate in Site.")
        self._again()

    def _climate_failed(self, sha: str, error: Exception) -> None:
        self._loading.pop(sha, None)
        self.climates[sha] = None
        self.failed.emit(f"The home's weather file cannot be used: {words_of(error, (WeatherFileError,))}")
        self._again()

    def _assess(self, label: str, joined: bool = False) -> None:
        previous = self._assessment if self._started else None
        self._assessment = assess(self.home, self._climate_now(), previous, wait=False, stores=self.stores, more=self.more)
        self._started = True
        if not joined:
            self.before = previous
        self.last_label = label
        self.slow.want(self._assessment.pending)

    def _again(self) -> None:
        """The same home with what has arrived."""
        if not self._started:
            return
        self._assessment = assess(self.home, self._climate_now(), self._assessment, wait=False, stores=self.stores, more=self.more)
        self.slow.want(self._assessment.pending)
        if not self._perhaps_ready():
            self.arrived.emit()

    def _perhaps_ready(self) -> bool:
        """Say once that everything is there."""
        if self._was_ready or self.busy:
            return False
        self._was_ready = True
        self.ready.emit()
        return True

    def warm(self, *more: Callable[[], object]) -> None:
        """Have ready what later edits need: the server of worker processes, and what else is given, beside the work."""
        self.jobs.start("warm", lambda job: [do() for do in (*more, get_ready)])

    @property
    def progress(self) -> float | None:
        """How far what is computing is, as a share of 1; None where it does not tell."""
        told = self.slow.progress.values()
        return min(told) if told and len(told) == len(self.slow.running) else None

    def follow(self, label: str, joined: bool) -> None:
        """The home has changed."""
        self.keeper.changed(joined)
        self._assess(label, joined)

    def keep_work(self) -> None:
        self.keeper.keep_at_once()

    def restore(self, work: Autosave) -> None:
        """Work of an earlier session as one step of the history, with the files it had attached."""
        self.keeper.claim(work)
        found = {e.sha256: self.evidence_bytes(e.sha256) for e in work.home.evidence}
        self.evidence |= {sha: data for sha, data in found.items() if data is not None}
        self.session.put(work.home, "work of the earlier session restored")
        if self._started:
            self.desk.after("Restored: work of the earlier session")

    # weather and evidence

    def add_weather(self, sha256: str, data: bytes) -> None:
        """Keep a weather file's bytes so that the home can refer to it, also after a crash."""
        self.weather[sha256] = data
        self.climates.pop(sha256, None)
        try:
            hold(data, self.keeper.id)
        except HomeFileError as problem:
            self.failed.emit(str(problem))

    @property
    def keeps_evidence(self) -> bool:
        return True

    def taken(self, path: Path) -> EvidenceFile | str:
        try:
            data = read_evidence(path)
            sha = hold(data, self.keeper.id)
        except HomeFileError as problem:
            return str(problem)
        self.evidence[sha] = data
        return EvidenceFile(id="new", name=printable(path.name), sha256=sha, size=len(data))

    def attached(self, path: Path, part_id: str, field: str) -> Change | None:
        """What attaches a file to a value. Raises ChangeRefused."""
        given = getattr(find(self.home, part_id), field, None)
        if not isinstance(given, Given):
            raise ChangeRefused("there is no value here to prove yet")
        proof = self.taken(path)
        if isinstance(proof, str):
            raise ChangeRefused(proof)
        return whole_parts.attached(self.home, part_id, field, given, proof)

    def evidence_bytes(self, sha: str) -> bytes | None:
        return self.evidence[sha] if sha in self.evidence else held(sha, *self.keeper.sessions)

    def _belongings(self, home: Home) -> list[bytes]:
        """The files a home holds, evidence and own weather, as far as they are here."""
        ref = home.site.climate
        weather = self.weather.get(ref.sha256) if ref is not None else None
        found = [self.evidence_bytes(e.sha256) for e in home.evidence]
        return [data for data in (*found, weather) if data is not None]

    # files

    def weather_bytes(self) -> bytes | None:
        """The weather file of the home's climate, None where there is none or it is not here."""
        ref = self.home.site.climate
        if ref is None:
            return None
        key = shipped_key(ref.sha256)
        data = self.weather.get(ref.sha256) or (library_climate(key) if key else held(ref.sha256, *self.keeper.sessions))
        return data if data is not None and hashlib.sha256(data).hexdigest() == ref.sha256 else None

    def save(self, path: Path, agreed: frozenset[str] = frozenset()) -> None:
        """Write the home file with its weather and evidence; the version before is kept. Raises HomeFileError; SaveDoubt where the
        person should decide first, and has not `agreed`."""
        if self.desk.under_way.get(TRYING) is not None:
            raise HomeFileError("Something is tried on the home: keep it as an upgrade or give it up in the strip above, then save")
        path = real(path)
        home, own = self.home, path == self.path
        lock, taken = self.keeper.may_take(path)
        if taken:
            raise HomeFileError(taken)
        try:
            against = doubt(path, self.keeper.file_hash if own else "", agreed)
            if against is not None:
                raise against
            proofs = {e.sha256: found for e in home.evidence if (found := self.evidence_bytes(e.sha256)) is not None}
            data = to_bytes(HomeFile(home, self.weather_bytes(), proofs))  # first: what cannot be written must not cost a version
            keep_version(path)
            put(path, data)
        except (HomeFileError, SaveDoubt):
            self.keeper.give_back(lock)
            raise
        self.path = path
        self.session.saved(home)
        self.keeper.saved(path, lock, hashlib.sha256(data).hexdigest())
        self.evidence |= proofs
        self.saved.emit()

    def take_theirs(self) -> None:
        """The file as somebody else saved it, as one step of the history: what was here is one undo away. Raises HomeFileError."""
        assert self.path is not None
        content = read(self.path)
        self.evidence |= content.evidence
        ref = content.home.site.climate
        if content.weather is not None and ref is not None:
            self.weather[ref.sha256] = content.weather
        self.session.put(content.home, "the file as somebody else saved it")
        self.session.saved(content.home)
        self.keeper.file_hash = content.sha256
        self.desk.after("Taken: the file as somebody else saved it")

    def close(self) -> None:
        """The user is done with the home: its jobs are dropped, its lock and autosave go."""
        self.ending.emit()
        self.jobs.cancel()
        self.sun.close()
        self.slow.close()
        self.weighing.close()
        self.keeper.end()


def load_climate(sha: str, data: bytes | None, sessions: tuple[str, ...] = ()) -> Climate | None:
    """A climate by the hash of its weather file: from given bytes, the library, or what is held for homes not saved yet."""
    key = shipped_key(sha)
    if data is None and key is not None:
        return shipped_climate(key)
    raw = data if data is not None else held(sha, *sessions)
    return climate_named(sha, raw) if raw is not None else None


def read_evidence(path: Path) -> bytes:
    """A file to attach. Raises HomeFileError."""
    try:
        return read_file(path, LARGEST_PROOF, f"file to attach (at most {LARGEST_PROOF // 1_000_000} MB)")
    except OSError as error:
        raise HomeFileError(f"{printable(path.name)}: {why(error)}") from None
