"""Files that others changed, keep private, name oddly or made to do harm: refused with a sentence, or as they were."""

from __future__ import annotations

import dataclasses
import errno
import hashlib
import io
import json
import os
import stat
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest

from nuthatch.core import register
from nuthatch.core.climate.epw import WeatherFileError
from nuthatch.core.climate.library import climate_for
from nuthatch.core.exchange.own_sets import own_sets, read_set
from nuthatch.core.files import autosave
from nuthatch.core.files.disk import FileFault, beside, printable, put_file, read_file
from nuthatch.core.files.homefile import HomeFile, HomeFileError, from_bytes, home_from_json, read, to_bytes, write
from nuthatch.core.files.located import Fault
from nuthatch.core.files.lock import Lock
from nuthatch.core.files.save_doubt import doubt, hash_of
from nuthatch.core.files.versions import keep_version, versions
from nuthatch.core.library import demo_home, library_climate
from nuthatch.core.model.home import ClimateRef, EvidenceFile, Home
from nuthatch.core.model.part import replace
from tests.fuzz.readers import deadline, zipped


@pytest.fixture
def path(tmp_path: Path) -> Path:
    file = tmp_path / "a.nuthatch"
    write(file, HomeFile(demo_home("sail-loft"), None))
    return file


# somebody else's change


def test_a_file_as_it_was_read_is_no_reason_to_ask(path: Path) -> None:
    assert doubt(path, hash_of(path)) is None and doubt(path, "") is None
    keep_version(path)  # its own kept version is a hard link too
    assert doubt(path, hash_of(path)) is None


def test_changed_gone_replaced_and_linked_files_are_asked_about(path: Path) -> None:
    known = hash_of(path)
    write(path, HomeFile(replace(demo_home("sail-loft"), name="Theirs"), None))
    assert doubt(path, known).what == "changed"  # type: ignore[union-attr]
    path.write_bytes(b"no zip")
    assert doubt(path, known).what == "no home"  # type: ignore[union-attr]
    path.unlink()
    assert doubt(path, known).what == "gone"  # type: ignore[union-attr]
    write(path, HomeFile(demo_home("sail-loft"), None))
    os.link(path, path.with_name("second name.nuthatch"))
    found = doubt(path, hash_of(path))
    assert found is not None and found.what == "linked" and "another name" in str(found)
    assert doubt(path, "").what == "linked", "also under a name chosen anew"  # type: ignore[union-attr]
    assert doubt(path, "other", ("changed",)).what == "linked", "one thing after the other"  # type: ignore[union-attr]
    assert doubt(path, "other", ("changed", "linked")) is None


# the lock


def test_no_two_hold_a_lock_at_once(tmp_path: Path) -> None:
    """Four processes take and release one lock until each has had it often; a counter in a file shows whether two were in at once."""
    code = """
import sys, os, time
from pathlib import Path
from nuthatch.core.files.lock import Lock
path, inside = Path(sys.argv[1]), Path(sys.argv[2])
taken = overlaps = 0
end = time.monotonic() + 90  # against hanging only: how fast the machine is plays no part
while taken < 60 and time.monotonic() < end:
    lock = Lock(path)
    if lock.held:
        taken += 1
        try:
            os.close(os.open(inside, os.O_CREAT | os.O_EXCL))
        except FileExistsError:
            overlaps += 1
        else:
            os.unlink(inside)
        lock.release()
print(taken, overlaps)
"""
    file = tmp_path / "a.nuthatch"
    file.write_bytes(b"")
    running = [
        subprocess.Popen([sys.executable, "-c", code, str(file), str(tmp_path / "inside")], stdout=subprocess.PIPE, text=True)
        for _ in range(4)
    ]
    counts = [tuple(int(n) for n in p.communicate(timeout=400)[0].split()) for p in running]
    assert counts == [(60, 0)] * 4


def test_a_lock_released_and_taken_by_another_meanwhile_is_not_held(path: Path) -> None:
    first = Lock(path)
    stale = os.open(beside(path, "lock"), os.O_RDWR)
    first.release()
    second = Lock(path)
    assert second.held and not Lock(path).held
    os.close(stale)
    second.release()
    assert not beside(path, "lock").exists() and Lock(path).held


# private files, odd names


def test_what_only_the_owner_reads_stays_so(path: Path) -> None:
    path.chmod(0o600)
    keep_version(path)
    write(path, HomeFile(replace(demo_home("sail-loft"), name="Again"), None))
    file = beside(path, "autosave")
    autosave.write_autosave(file, demo_home("sail-loft"), path, ("x",))
    lock = Lock(path)
    found = [path, file, beside(path, "lock"), *(v for v, _ in versions(path))]
    assert len(found) == 4 and all(stat.S_IMODE(f.stat().st_mode) == 0o600 for f in found)
    lock.release()
    path.chmod(0o640)
    write(path, HomeFile(demo_home("sail-loft"), None))
    assert stat.S_IMODE(path.stat().st_mode) == 0o640, "and what others may read stays so too"


def test_a_temporary_file_is_never_more_open_than_the_file(path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path.chmod(0o600)
    seen: list[int] = []
    real = os.fsync

    def look(handle: int) -> None:
        seen.append(stat.S_IMODE(os.fstat(handle).st_mode))
        real(handle)

    monkeypatch.setattr(os, "fsync", look)
    put_file(path, b"x")
    assert seen[0] == 0o600


@pytest.mark.parametrize("length", [200, 230, 244, 246, 249, 255])
def test_long_names_are_saved_kept_and_locked(tmp_path: Path, length: int) -> None:
    path = tmp_path / ("ä" * ((length - 9) // 2) + "x" * ((length - 9) % 2) + ".nuthatch")
    assert len(os.fsencode(path.name)) == length
    write(path, HomeFile(demo_home("sail-loft"), None))
    keep_version(path)
    write(path, HomeFile(demo_home("weir-cottage"), None))
    autosave.write_autosave(autosave.autosave_file(path, "s"), demo_home("sail-loft"), path, ("x",))
    works, faults = autosave.found_beside(path, hash_of(path))
    assert [w.home.name for w in works] == ["Sail Loft"] and not faults
    autosave.leave(works[0], path)
    assert len(autosave.earlier(path, autosave.LEFT)) == 1 and len(versions(path)) == 1
    lock = Lock(path)
    assert lock.held and not Lock(path).held
    lock.release()
    other = tmp_path / (path.name[:-10] + "y.nuthatch")
    assert beside(other, "lock") != beside(path, "lock"), "names alike for most of their length have their own"


def test_a_folder_that_refuses_to_be_flushed_is_no_reason_to_fail(path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    real = os.fsync

    def refuse(handle: int) -> None:
        if stat.S_ISDIR(os.fstat(handle).st_mode):
            raise OSError(errno.EINVAL, "Invalid argument")
        real(handle)

    monkeypatch.setattr(os, "fsync", refuse)
    write(path, HomeFile(demo_home("weir-cottage"), None))
    assert read(path).home.name == "Weir Cottage"


@pytest.mark.parametrize("kind", ["fifo", "folder", "/dev/zero", "/dev/full", "/dev/tty", "missing", "nul"])
def test_what_is_no_file_is_told_at_once(tmp_path: Path, kind: str) -> None:
    place = tmp_path / "it.nuthatch"
    if kind == "fifo":
        os.mkfifo(place)
    elif kind == "folder":
        place.mkdir()
    elif kind == "nul":
        place = tmp_path / "a\0b"
    elif kind != "missing":
        place = Path(kind)
    with deadline(kind), pytest.raises(HomeFileError):
        read(place)
    with deadline(kind), pytest.raises(FileFault):
        read_file(place, 1000, "thing")
    if kind not in ("missing", "nul"):
        rows, unknown = register.listed([place])
        assert rows[0].standing == "fault" and rows[0].fault and not unknown


def test_own_sets_that_are_pipes_or_folders_are_faults_of_their_own(tmp_path: Path) -> None:
    os.mkfifo(tmp_path / "pipe.json")
    (tmp_path / "folder.json").mkdir()
    with deadline("own sets"):
        sets, faults = own_sets(tmp_path)
    assert not sets and {f.path.name for f in faults} == {"pipe.json", "folder.json"} and all(f.text for f in faults)


# evidence and weather inside a home


def test_a_home_is_never_saved_without_the_files_it_lists(tmp_path: Path) -> None:
    home = replace(demo_home("sail-loft"), evidence=(EvidenceFile(id="e", name="air test.pdf", sha256="0" * 64, size=3),))
    with pytest.raises(HomeFileError, match="air test.pdf"):
        write(tmp_path / "a.nuthatch", HomeFile(home, None))
    assert not (tmp_path / "a.nuthatch").exists()


def test_a_weather_file_must_be_the_one_the_home_names(tmp_path: Path) -> None:
    data = library_climate("hallin-fell")
    home = demo_home("osier-lane-7")
    with pytest.raises(WeatherFileError, match="not what the home was computed with"):
        climate_for(home, data)
    ref = ClimateRef(name="Hallin Fell", sha256=hashlib.sha256(data).hexdigest())
    assert climate_for(replace(home, site=replace(home.site, climate=ref)), data) is not None
    file = tmp_path / "wrong.nuthatch"
    write(file, HomeFile(home, data))
    row = register.check(file, file.read_bytes())
    assert row.standing == "fault" and "not what the home was computed with" in row.fault
    done = subprocess.run([sys.executable, "-m", "nuthatch.cli", "check", str(file)], capture_output=True, text=True, timeout=60)
    assert done.returncode == 2 and "not what the home was computed with" in done.stderr and not done.stdout


# home.json


def document(home: Home, version: int = 2) -> dict:
    return {"nuthatch": "home", "schema": version, "home": home.model_dump(mode="json", exclude_none=True)}


def test_keys_that_stand_twice_are_a_fault_with_its_line() -> None:
    text = json.dumps(document(demo_home("sail-loft")), indent=1)
    twice = text.replace('"name": "Sail Loft",', '"name": "Sail Loft",\n  "name": "Another",', 1)
    with pytest.raises(HomeFileError, match=r"line \d+, home.name: this key stands twice"):
        home_from_json(twice.encode())


@pytest.mark.parametrize("value", [True, "0.5", "5", [1], None, {}])
def test_a_number_must_be_a_number(value: object) -> None:
    raw = document(demo_home("osier-lane-7"))
    raw["home"]["air"]["n50"]["value"] = value
    with pytest.raises(HomeFileError, match="n50"):
        home_from_json(json.dumps(raw).encode())


def test_a_truth_must_be_a_truth() -> None:
    for value in (1, "true", 0.0):
        raw = document(demo_home("osier-lane-7"))
        raw["home"]["junctions_none"] = value
        with pytest.raises(HomeFileError, match="junctions_none"):
            home_from_json(json.dumps(raw).encode())


@pytest.mark.parametrize("number", ["9" * 5000, "-" + "9" * 5000, "1" + "0" * 400, "1e999", "-1e999", "NaN", "Infinity", "1e400000"])
def test_numbers_beyond_all_bounds(number: str) -> None:
    text = json.dumps(document(demo_home("osier-lane-7"))).replace('"value": 0.64', f'"value": {number}', 1)
    assert number in text
    with deadline(number[:9]), pytest.raises(HomeFileError, match=r"home\.json"):
        home_from_json(text.encode())
    with pytest.raises(HomeFileError):
        from_bytes(zipped({"home.json": text.encode()}))


@pytest.mark.parametrize("sets", [5, "x", True, {}, [5], [None], [{"targets": 5}], [{"targets": [5]}], [{"targets": [{"ways": 5}]}]])
def test_a_home_of_schema_1_with_anything_for_its_sets(sets: object) -> None:
    raw = document(demo_home("sail-loft"), 1)
    raw["home"]["target_sets"] = sets
    with pytest.raises(HomeFileError, match="target_sets"):
        home_from_json(json.dumps(raw).encode())


def test_two_homes_in_one_file_are_refused() -> None:
    good = zipfile.ZipFile(io.BytesIO(to_bytes(HomeFile(demo_home("sail-loft"), None)))).read("home.json")
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive, pytest.warns(UserWarning, match="Duplicate"):
        archive.writestr("home.json", good)
        archive.writestr("home.json", good)
    with pytest.raises(HomeFileError, match="twice"):
        from_bytes(buffer.getvalue())


# target sets


def own(**changed: object) -> bytes:
    line = {"id": "t", "name": "T", "ways": [{"figure": "heating_demand", "limit": 15}]}
    return json.dumps({"id": "own", "name": "Own", "source": "test", "targets": [line], **changed}, indent=1).encode()


@pytest.mark.parametrize(
    "changed",
    [
        {"studio_people": -3}, {"studio_people": 0}, {"studio_people": 2.5}, {"studio_people": True}, {"points_needed": -1}, {"points_needed": 1e300},
        {"ua_table": {"4": {"ceiling": 0.02}}}, {"ua_table": {"4": {"fenestration": -1, "ceiling": 1, "wood-frame wall": 1, "floor": 1}}},
        {"ua_table": {"4": {"fenestration": "1", "ceiling": 1, "wood-frame wall": 1, "floor": 1}}}, {"ua_table": {"4": 5}}, {"ua_table": 5},
        {"targets": [{"id": "t", "name": "T", "ways": [{"figure": "n50", "limit": -1}]}]},
        {"targets": [{"id": "t", "name": "T", "ways": [{"figure": "n50", "limit": True}]}]},
        {"targets": [{"id": "t", "name": "T", "ways": [{"figure": "n50", "cases": [{"limit": 1, "over_area": -5}]}]}]},
        {"targets": [{"id": "t", "name": "T", "points": -2, "ways": [{"figure": "n50", "limit": 1}]}]},
        {"needs_glass_and_frame": "yes"},
    ],
)  # fmt: skip
def test_every_number_of_a_set_has_bounds(changed: dict) -> None:
    with pytest.raises(Fault, match="line"):
        read_set(own(**changed))
    assert read_set(own())


# one bad file among good ones


def test_one_bad_file_is_one_row(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))  # nothing is known yet
    good = tmp_path / "good.nuthatch"
    write(good, HomeFile(demo_home("sail-loft"), None))
    os.mkfifo(tmp_path / "pipe.nuthatch")
    (tmp_path / "folder.nuthatch").mkdir()
    digits = json.dumps(document(demo_home("osier-lane-7"))).replace('"value": 0.64', '"value": ' + "9" * 6000, 1)
    (tmp_path / "digits.nuthatch").write_bytes(zipped({"home.json": digits.encode()}))
    odd = tmp_path / os.fsdecode(b"not \xff utf8 \x1b[31m.nuthatch")
    odd.write_bytes(to_bytes(HomeFile(demo_home("weir-cottage"), None)))
    monkeypatch.setattr(register, "summed_up", _broken_for_the_odd(register.summed_up))
    rows, unknown = register.of_folders([tmp_path])
    made = {r.path: r for r in rows} | {r.path: r for r in register.checked(unknown)}
    standing = {Path(p).name: r.standing for p, r in made.items()}
    assert standing["good.nuthatch"] in ("over", "unknown") and standing[odd.name] == "fault" and standing["digits.nuthatch"] == "fault"
    assert standing["pipe.nuthatch"] == "fault" and all(r.fault for r in made.values() if r.standing == "fault")
    for text in (register.as_csv(list(made.values())), json.dumps(register.as_data(list(made.values())))):
        assert "\x1b" not in text
    assert register.as_spreadsheet(list(made.values()))


def _broken_for_the_odd(real):  # type: ignore[no-untyped-def]
    def summed_up(assessment, path, sha):  # type: ignore[no-untyped-def]
        if "utf8" in path:
            raise KeyError("an error of ours")
        return real(assessment, path, sha)

    return summed_up


def test_cells_that_a_spreadsheet_would_run() -> None:
    row = register.Row("p", name="x")
    for start in "=+-@\t\r\n＝＋－＠":
        line = register.as_csv([dataclasses.replace(row, name=f"{start}cmd")]).splitlines()[1]
        assert line.lstrip('"').startswith("'"), repr(start)
        line = register.as_csv([dataclasses.replace(row, client=f"  {start}cmd")]).splitlines()[1]
        assert ",'" in line or "\"'" in line, repr(start)


def test_names_on_a_terminal() -> None:
    assert printable("plain — ö²\u00a0m") == "plain — ö²\u00a0m"
    assert printable("a\x1b[2Jb\x9b\r\n\u202e\x00") == "a\\x1b[2Jb\\x9b\\x0d\\x0a\\u202e\\x00" and printable("\udcff") == "\\xff"


def test_a_damaged_autosave_never_keeps_its_home_from_opening(path: Path) -> None:
    beside(path, "autosave").write_bytes(b'{"schema": ' + b"9" * 6000 + b"}")
    works, faults = autosave.found_beside(path, hash_of(path))
    assert not works and len(faults) == 1
    assert len(autosave.earlier(path, autosave.KEPT)) == 1, "it stays where the next autosave does not write"
