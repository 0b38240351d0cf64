"""A random walk of 5000 steps over one open home: edits, pastes, attaches, saves, closes, kills, reopens, others change the file.

The test keeps the truth beside it: what the file must hold, which work must still be to be had, which bytes of evidence.
"""

from __future__ import annotations

import hashlib
import os
import random
from pathlib import Path

import pytest

from nuthatch.core.edits.desk import Block, Listing
from nuthatch.core.files.autosave import KEPT, LEFT, Autosave, earlier, leave, read_autosave
from nuthatch.core.files.held import held
from nuthatch.core.files.homefile import HomeFile, read, write
from nuthatch.core.files.save_doubt import SaveDoubt
from nuthatch.core.files.versions import versions
from nuthatch.core.library import new_home
from nuthatch.core.model.home import Appliance, Home
from nuthatch.core.model.part import replace
from nuthatch.desktop.autosaving import Keeper
from nuthatch.desktop.document import Document

ROWS = Listing("household", "appliances", Appliance, "a")
STEPS = 5000


class Walk:
    """One file, one document at a time, and the truth about both."""

    def __init__(self, folder: Path, rng: random.Random) -> None:
        self.folder, self.rng, self.path = folder, rng, folder / "walk.nuthatch"
        write(self.path, HomeFile(new_home("Walk"), None))
        self.saved: Home = read(self.path).home
        self.unanswered: list[Home] = []  # work of killed sessions
        self.left: list[Home] = []
        self.kept: Home | None = None  # of the session at work
        self.restored: list[Home] = []
        self.offered: list = []
        self.number = 0
        self.read_before: dict[tuple, Autosave | None] = {}
        self.tally: dict[str, int] = {}
        self.open()

    def open(self) -> None:
        content = read(self.path)
        assert content.home == self.saved, "the file holds what was saved last"
        self.document = Document.of(content, self.path)
        assert self.document.read_only == ""
        works, faults = self.document.keeper.found()
        assert not faults
        if self.kept is not None:
            self.unanswered.append(self.kept)
        self.kept, self.restored, self.offered = None, [], list(works)
        self.all_there()

    def all_there(self) -> None:
        """All work that nobody answered, and all that was left, is to be had, with its evidence."""
        here = [w for f in earlier(self.path, KEPT) if (w := self.work(f)) is not None]
        assert len(here) == len(self.unanswered) and all(any(w.home == h for h in self.unanswered) for w in here)
        aside = [w for f in earlier(self.path, LEFT) if (w := self.work(f)) is not None]
        assert len(aside) == len(self.left) and {w.home.brief.plot for w in aside} == {h.brief.plot for h in self.left}
        for work in here:
            for e in work.home.evidence:
                data = self.document.evidence_bytes(e.sha256) or held(e.sha256, work.session) or self.in_files(e.sha256)
                assert data is not None and hashlib.sha256(data).hexdigest() == e.sha256
        for e in self.document.home.evidence:
            assert self.document.evidence_bytes(e.sha256) is not None
        for step in (*self.document.session.past, *self.document.session.future):
            for e in step.home.evidence:
                assert self.document.evidence_bytes(e.sha256) is not None, "any step of the history"

    def work(self, file: Path) -> Autosave | None:
        """What lies in a file; under these names nothing is ever written a second time, so it is read once."""
        known = file.stat()
        key = (file.name, known.st_mtime_ns, known.st_ino)
        if key not in self.read_before:
            self.read_before[key] = read_autosave(file)
        return self.read_before[key]

    def in_files(self, sha: str) -> bytes | None:
        for file in (self.path, *(v for v, _ in versions(self.path))):
            found = read(file).evidence.get(sha)
            if found is not None:
                return found
        return None

    # steps

    def edit(self) -> None:
        self.number += 1
        assert self.document.desk.choose("brief", "plot", f"plot {self.number}") == ""

    def paste(self) -> None:
        grid = tuple((f"row {self.number}.{n}", str(self.rng.randrange(1, 900))) for n in range(self.rng.randrange(1, 4)))
        assert self.document.desk.paste(ROWS, Block((), ("name", "energy"), grid)) == ""
        if len(self.document.home.household.appliances) > 12:
            assert self.document.desk.remove([a.id for a in self.document.home.household.appliances]) == ""

    def attach(self) -> None:
        file = self.folder / "proof.pdf"
        file.write_bytes(b"%%PDF %d" % self.rng.randrange(12))
        rows = self.document.home.household.appliances
        if rows and len(self.document.home.evidence) < 8:
            assert self.document.desk.attach(file, rows[0].id, "energy") == ""
        file.unlink()

    def detach(self) -> None:
        if self.document.home.evidence:
            assert self.document.desk.detach(self.rng.choice(self.document.home.evidence).id) == ""

    def undo(self) -> None:
        for _ in range(self.rng.randrange(1, 4)):
            self.document.desk.undo()

    def redo(self) -> None:
        self.document.desk.redo()

    def save(self) -> None:
        self.document.save(self.path)
        self.written()

    def written(self) -> None:
        self.saved, self.kept = self.document.home, None
        assert read(self.path).home == self.saved
        for home in [h for h in self.restored if self.document.session.rests_on(h)]:
            self.restored.remove(home)
            self.unanswered.remove(home)

    def autosave(self) -> None:
        session = self.document.session
        if session.unsaved:
            home, labels = session.home, session.unsaved
            self.document.keeper.write(home, labels)
            if self.document.keeper.clean_home is not home:
                self.kept = home

    def close(self) -> None:
        if self.document.session.dirty and self.rng.random() < 0.6:
            self.save()
        self.kept = None  # saved, or given up by the person
        self.document.close()
        self.open()

    def kill(self) -> None:
        if self.rng.random() < 0.7:
            self.autosave()
        keeper = self.document.keeper
        assert keeper.lock is not None
        keeper.lock.stream.close()  # the kernel drops it with the process
        self.open()

    def restore(self) -> None:
        if self.offered:
            work = self.offered.pop(self.rng.randrange(len(self.offered)))
            self.document.restore(work)
            self.restored.append(next(h for h in self.unanswered if h == work.home))
            same = next(h for h in self.unanswered if h == work.home)
            self.unanswered[self.unanswered.index(same)] = self.restored[-1] = work.home

    def leave(self) -> None:
        if self.offered:
            work = self.offered.pop()
            leave(work, self.path)
            self.unanswered.remove(next(h for h in self.unanswered if h == work.home))
            self.left.append(work.home)

    def others(self) -> None:
        """Another program writes the file; then it is theirs, mine, or both under two names."""
        self.number += 1
        content = read(self.path)
        theirs = replace(content.home, name=f"Theirs {self.number}")
        write(self.path, HomeFile(theirs, content.weather, content.evidence))
        with pytest.raises(SaveDoubt) as asked:
            self.document.save(self.path)
        assert asked.value.what == "changed" and read(self.path).home == theirs
        if self.rng.random() < 0.5:
            mine = self.document.home
            self.document.take_theirs()
            self.saved = theirs
            self.kept = self.kept if self.kept is None else self.kept
            self.document.desk.undo()
            assert self.document.home == mine, "mine is one undo away"
            self.document.desk.redo()
        else:
            self.document.save(self.path, frozenset({"changed"}))
            self.written()
            assert any(read(v).home == theirs for v, _ in versions(self.path)), "theirs is an earlier version"


WEIGHTS = {"edit": 30, "paste": 8, "attach": 10, "detach": 4, "undo": 12, "redo": 8, "save": 8, "autosave": 10, "close": 3, "kill": 5, "restore": 4, "leave": 2, "others": 2}  # fmt: skip


def test_nothing_is_lost_on_a_long_walk(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, qapp: object) -> None:
    for kind in ("CONFIG", "DATA", "STATE"):
        monkeypatch.setenv(f"XDG_{kind}_HOME", str(tmp_path / kind.lower()))
    monkeypatch.setattr(Document, "_assess", lambda self, label, joined=False: None)  # what is computed is tested elsewhere
    monkeypatch.setattr(Keeper, "keep", lambda self: None)  # kept when the walk says so
    monkeypatch.setattr(os, "fsync", lambda handle: None)  # tested with real kills; here it only takes time
    (tmp_path / "homes").mkdir()
    walk = Walk(tmp_path / "homes", random.Random(8))
    for number in range(STEPS):
        what = walk.rng.choices(list(WEIGHTS), list(WEIGHTS.values()))[0]
        getattr(walk, what)()
        walk.tally[what] = walk.tally.get(what, 0) + 1
        if number % 10 == 0 or what in ("restore", "leave", "others"):
            walk.all_there()
        if len(walk.unanswered) > 6:  # the person answers them all
            while walk.offered:
                walk.leave()
    assert set(walk.tally) == set(WEIGHTS) and walk.left and walk.tally["kill"] > 100
    walk.document.close()
