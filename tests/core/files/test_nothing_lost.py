"""Nothing lost: versions, lock, autosave, a full disk, evidence in the home file; and a long random walk over a home."""

from __future__ import annotations

import errno
import hashlib
import io
import math
import os
import random
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import Batch, ChangeRefused, Insert, Move, Remove, SetValue
from nuthatch.core.changes.history import Session
from nuthatch.core.climate.climate import Climate
from nuthatch.core.files import autosave, held, places, versions
from nuthatch.core.files.disk import beside
from nuthatch.core.files.homefile import HomeFile, HomeFileError, canonical, from_bytes, read, to_bytes, write
from nuthatch.core.files.lock import Lock, locked_by
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import EvidenceFile, Home, walk_parts
from nuthatch.core.model.part import Given, replace, specs
from nuthatch.core.results.figure import Figure, Unknown
from tests.thorough import often
from tests.undetailed import undetailed


def named(home: Home, name: str) -> Home:
    return replace(home, name=name)


def test_the_last_three_versions_are_kept(osier: Home, tmp_path: Path) -> None:
    path = tmp_path / "a.nuthatch"
    for number in range(6):
        versions.keep_version(path)
        write(path, HomeFile(named(osier, f"state {number}"), None))
    assert read(path).home.name == "state 5"
    assert [read(file).home.name for file, _ in versions.versions(path)] == ["state 4", "state 3", "state 2"]
    versions.keep_version(path)  # a save that failed after this: kept once, not twice
    versions.keep_version(path)
    assert [read(file).home.name for file, _ in versions.versions(path)] == ["state 5", "state 4", "state 3"]


def test_the_lock_is_held_by_one_and_dropped_with_its_process(tmp_path: Path) -> None:
    path = tmp_path / "a.nuthatch"
    path.write_bytes(b"")
    first = Lock(path)
    second = Lock(path)
    assert first.held and not second.held and "since" in second.holder
    first.release()
    assert Lock(path).held
    code = f"import os,time; from nuthatch.core.files.lock import Lock; from pathlib import Path; l=Lock(Path({str(path)!r})); print(l.held, flush=True); time.sleep(60)"
    other = tmp_path / "b.nuthatch"
    process = subprocess.Popen([sys.executable, "-c", code.replace(str(path), str(other))], stdout=subprocess.PIPE)
    assert process.stdout is not None and process.stdout.readline() == b"True\n"
    assert not Lock(other).held
    process.kill()
    process.wait()
    process.stdout.close()
    assert Lock(other).held, "a killed process holds nothing"


def test_an_autosave_says_what_it_would_restore(osier: Home, tmp_path: Path) -> None:
    path = tmp_path / "a.nuthatch"
    file = autosave.autosave_file(path, "1-1")
    assert file.parent == path.parent and autosave.read_autosave(file) is None
    autosave.write_autosave(file, named(osier, "Edited"), path, ("Wall: thickness 220 → 280 mm", "Roof renamed"))
    kept = autosave.read_autosave(file)
    assert kept is not None and kept.home == named(osier, "Edited") and kept.path == str(path)
    assert "2 changes" in kept.words and "220 → 280 mm" in kept.words
    file.write_bytes(file.read_bytes()[:-300])
    with pytest.raises(HomeFileError, match="home.json"):
        autosave.read_autosave(file)
    assert autosave.autosave_file(None, "77-1").parent == places.state_folder() / "unsaved"


def test_work_of_homes_never_saved_is_found_when_their_process_is_gone(
    osier: Home, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path))
    autosave.write_autosave(autosave.autosave_file(None, "999999999-1"), osier, None, ("typed",))
    autosave.write_autosave(autosave.autosave_file(None, f"{os.getpid()}-1"), osier, None, ("still open",))
    assert [k.labels for k in autosave.left_behind()] == [("typed",)]


def test_a_full_disk_leaves_the_old_file_and_says_so(osier: Home, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "a.nuthatch"
    write(path, HomeFile(osier, None))
    before = path.read_bytes()

    def full(_: int) -> None:
        raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))

    monkeypatch.setattr(os, "fsync", full)
    versions.keep_version(path)
    with pytest.raises(HomeFileError, match="old file is unchanged.*No space left"):
        write(path, HomeFile(named(osier, "Other"), None))
    assert path.read_bytes() == before and not list(tmp_path.glob(".*.part"))


def test_a_disk_that_takes_no_more_bytes(tmp_path: Path) -> None:
    """The kernel itself refuses: a limit on the size of files in a process of its own."""
    code = f"""
import resource, signal
from pathlib import Path
from nuthatch.core.files.homefile import HomeFile, HomeFileError, write
from nuthatch.core.library import demo_home
path = Path({str(tmp_path / "a.nuthatch")!r})
home = demo_home("osier-lane-7")
write(path, HomeFile(home, None))
before = path.read_bytes()
signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
resource.setrlimit(resource.RLIMIT_FSIZE, (2000, 2000))
try:
    write(path, HomeFile(home, b"x" * 500000))
except HomeFileError as problem:
    print(problem)
assert path.read_bytes() == before
"""
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=60)
    assert done.returncode == 0 and "the old file is unchanged" in done.stdout, done.stderr


def test_evidence_lies_in_the_home_file(osier: Home) -> None:
    data = b"%PDF test record"
    sha = hashlib.sha256(data).hexdigest()
    n50 = Given.model_validate({**osier.air.n50.model_dump(), "files": ("evidence-1",)})  # type: ignore[union-attr]
    home = replace(
        osier, evidence=(EvidenceFile(id="evidence-1", name="test.pdf", sha256=sha, size=len(data)),), air=replace(osier.air, n50=n50)
    )
    packed = to_bytes(HomeFile(home, None, {sha: data, "0" * 64: b"not of this home"}))
    found = from_bytes(packed)
    assert found.home == home and found.evidence == {sha: data} and n50.proven
    assert set(zipfile.ZipFile(io.BytesIO(packed)).namelist()) == {"home.json", f"evidence/{sha}"}
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        archive.writestr("home.json", zipfile.ZipFile(io.BytesIO(packed)).read("home.json"))
        archive.writestr(f"evidence/{sha}", b"changed")
    with pytest.raises(HomeFileError, match="does not match its hash"):
        from_bytes(buffer.getvalue())


def test_held_files_are_whole_or_not_there(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path))
    mine, other = "a" * 32, "b" * 32
    sha = held.hold(b"photo", mine)
    assert held.hold(b"photo", other) == sha, "each session has its own"
    assert held.held(sha, mine) == b"photo" and held.held("0" * 64, mine) is None and held.held(sha) is None
    folder = tmp_path / "nuthatch" / "held"
    assert (folder / mine).stat().st_mode & 0o077 == 0 and (folder / mine / sha).stat().st_mode & 0o077 == 0, "nobody else reads it"
    (folder / mine / sha).write_bytes(b"damaged")
    assert held.held(sha, mine) is None and held.held(sha, mine, other) == b"photo"
    held.drop_session(mine)
    held.drop_session("../../etc")
    assert not (folder / mine).exists() and held.held(sha, other) == b"photo", "one session takes nothing from another"
    (folder / sha).write_bytes(b"photo")
    assert held.held(sha) == b"photo", "as versions before kept them"


def _random_change(rng: random.Random, home: Home) -> object:
    """A change of any kind, often out of bounds, sometimes to a part that is not there."""
    parts = list(walk_parts(home))
    part = rng.choice(parts)
    way = rng.random()
    lists = [
        (p.id, f)
        for p in parts
        for f in type(p).model_fields
        if isinstance(getattr(p, f), tuple) and getattr(p, f) and hasattr(getattr(p, f)[0], "id")
    ]
    if way < 0.10 and lists:
        owner, field = rng.choice(lists)
        return Remove(part=rng.choice(getattr(next(p for p in parts if p.id == owner), field)).id)
    if way < 0.16 and lists:
        owner, field = rng.choice(lists)
        items = getattr(next(p for p in parts if p.id == owner), field)
        return Move(part=rng.choice(items).id, index=rng.randrange(len(items)))
    if way < 0.26:
        kind = rng.choice(("openings", "junctions", "sources", "carriers"))
        rows = getattr(home, kind)
        fresh = f"walk-{rng.randrange(10**9)}"
        model = type(rows[0]) if rows else type(getattr(demo_home("osier-lane-7"), kind)[0])
        return Insert(owner="home", field=kind, value=model(id=fresh, name="Walked"))
    fields = [(n, s) for n, s in specs(type(part)).items()]
    if not fields or way > 0.97:
        return SetValue(part="nobody", field="name", value="?")
    name, spec = rng.choice(fields)
    if spec.is_quantity:
        low = spec.least if spec.least is not None else spec.above if spec.above is not None else -100.0
        high = spec.most if spec.most is not None else 1000.0
        value = rng.choice((low, high, low + (high - low) * rng.random() ** 4, 0.0, 1.0, -1.0))
        given = None if rng.random() < 0.12 else {"value": value, "basis": rng.choice(("assumed", "declared", "measured"))}
        return SetValue(part=part.id, field=name, value=given)
    if spec.kind == "choice":
        return SetValue(part=part.id, field=name, value=rng.choice((*spec.choices, "nonsense")))
    if spec.kind == "flag":
        return SetValue(part=part.id, field=name, value=rng.random() < 0.5)
    if spec.kind == "ref":
        names = [p.id for p in getattr(home, spec.refers, ())] if spec.refers != "faces" else ["low.a", "low.d"]
        return SetValue(part=part.id, field=name, value=rng.choice((*names, "", "gone")))
    return SetValue(part=part.id, field=name, value=rng.choice(("", "Ω · name", "x" * 200)))


def _sound(a: Assessment) -> None:
    for node in (*a.figures.values(), *a.months.values()):
        if isinstance(node, Unknown):
            assert node.needs
        else:
            assert isinstance(node, Figure)
            values = node.value if hasattr(node.value, "__len__") else [node.value]
            assert all(math.isfinite(float(v)) for v in values), node.label


@pytest.mark.parametrize("key", ["osier-lane-7", "weir-cottage"])
def test_a_random_walk(key: str, marrowby: Climate) -> None:
    """Changes, undos and redos, two thousand of them in a sweep: never a NaN, never a crash, undo to the start equals the start, and stages never go stale."""
    rng = random.Random(20261123)
    start = undetailed(demo_home(key))
    session = Session(start)
    made = assess(start, marrowby)
    refused = done = 0
    for step in range(often(2000, 500) if key == "osier-lane-7" else often(400, 100)):
        way = rng.random()
        if way < 0.2:
            session.undo()
        elif way < 0.3:
            session.redo()
        elif way < 0.34:
            try:
                session.apply(Batch(label="two", changes=(_random_change(rng, session.home), _random_change(rng, session.home))))  # type: ignore[arg-type]
                done += 1
            except ChangeRefused as reason:
                assert str(reason)
                refused += 1
        else:
            try:
                session.apply(_random_change(rng, session.home), merge=rng.choice(("", "", "field")))
                done += 1
            except ChangeRefused as reason:
                assert str(reason)
                refused += 1
        made = assess(session.home, marrowby, made)
        _sound(made)
        if step % 250 == 0:
            fresh = assess(session.home, marrowby)
            for name, node in fresh.figures.items():
                assert made.figures[name].value == node.value, name
            assert from_bytes(to_bytes(HomeFile(session.home, None))).home == session.home
    assert done > refused > 12 or key != "osier-lane-7"
    while session.undo_label:
        session.undo()
    assert session.home is start and canonical(session.home) == canonical(undetailed(demo_home(key)))
    while session.redo_label:
        session.redo()
    _sound(assess(session.home, marrowby))


def test_kept_work_of_many_crashes_is_bounded_and_its_size_told(osier: Home, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """The newest pieces stay, the oldest of too many go, and it is said; of a single one nothing ever goes."""
    path = tmp_path / "a.nuthatch"
    write(path, HomeFile(osier, None))
    for n in range(autosave.MOST_KEPT + 3):
        file = autosave.autosave_file(path, f"{n}")
        autosave.write_autosave(file, named(osier, f"Crash {n}"), path, (f"edit {n}",))
        os.utime(file, (1_000_000 + n, 1_000_000 + n))
        autosave.claimed(path)
    works, faults = autosave.found_beside(path, "")
    assert [w.home.name for w in works] == [f"Crash {n}" for n in range(autosave.MOST_KEPT + 2, 2, -1)]
    assert len(faults) == 1 and faults[0].startswith("3 older pieces of kept work removed") and "MB" in works[0].words
    assert autosave.found_beside(path, "")[1] == (), "said once"
    monkeypatch.setattr(autosave, "MOST_KEPT_BYTES", 10)
    works, faults = autosave.found_beside(path, "")
    assert [w.home.name for w in works] == [f"Crash {autosave.MOST_KEPT + 2}"] and faults


def test_kept_work_is_older_only_than_another_state_of_the_file(osier: Home, tmp_path: Path) -> None:
    """`base` says which file the work began from: saved later with the same content, the file is not newer."""
    path = tmp_path / "a.nuthatch"
    file = autosave.autosave_file(path, "1")
    autosave.write_autosave(file, osier, path, ("x",), base="aa")
    os.utime(file, (1_000_000, 1_000_000))
    write(path, HomeFile(osier, None))
    for base, older in (("aa", False), ("bb", True), ("", True)):
        works, _ = autosave.found_beside(path, base)
        assert bool(works[0].older) is older, base


def test_a_lock_that_is_a_link_is_not_followed(osier: Home, tmp_path: Path) -> None:
    """Neither taking a lock nor asking who holds one writes to, or reads from, what a link of its name leads to."""
    path, other = tmp_path / "a.nuthatch", tmp_path / "precious"
    other.write_text("precious")
    beside(path, "lock").symlink_to(other)
    lock = Lock(path)
    assert not lock.held and lock.unwritable and other.read_text() == "precious" and locked_by(path) == ""
    assert beside(path, "lock").is_symlink()
