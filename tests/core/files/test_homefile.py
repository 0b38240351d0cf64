"""Home files: round trips, faults of every kind, saves killed at any moment."""

from __future__ import annotations

import io
import json
import os
import random
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nuthatch.core import load
from nuthatch.core.changes.changes import SetValue, apply, declared
from nuthatch.core.files.homefile import HOME, HomeFile, HomeFileError, canonical, from_bytes, home_hash, read, to_bytes, write
from nuthatch.core.library import DEMO, demo_home, library_climate, new_home
from nuthatch.core.model.home import SCHEMA
from nuthatch.core.model.migrations import NewerSchema, migrate
from tests.thorough import often

OSIER = demo_home("osier-lane-7")
WEATHER = library_climate("marrowby-quay")


@pytest.mark.parametrize("key", DEMO)
def test_round_trip_loses_nothing(key: str, tmp_path: Path) -> None:
    home = demo_home(key)
    write(tmp_path / "a.nuthatch", HomeFile(home, WEATHER))
    back = read(tmp_path / "a.nuthatch")
    assert back.home == home and back.weather == WEATHER and home_hash(back.home) == home_hash(home)
    assert to_bytes(HomeFile(home, WEATHER)) == to_bytes(back), "same home, same bytes"
    loaded, climate = load(tmp_path / "a.nuthatch")
    assert loaded == home and climate is not None and climate.name == "Marrowby Quay"


@settings(max_examples=40, deadline=None)
@given(st.text(max_size=60), st.floats(0.001, 3), st.floats(-0.9, 2.9))
def test_any_text_and_number_come_back(name: str, thickness: float, psi: float) -> None:
    home = OSIER
    for change in (
        SetValue(part="home", field="name", value=name),
        SetValue(part="outer-wall.3", field="thickness", value=declared(thickness)),
        SetValue(part="j-01", field="psi", value=declared(psi)),
    ):
        home = apply(change, home)
    assert from_bytes(to_bytes(HomeFile(home, None))).home == home


def test_the_hash_follows_the_content() -> None:
    changed = apply(SetValue(part="air", field="n50", value=declared(0.5)), OSIER)
    assert home_hash(changed) != home_hash(OSIER) == home_hash(demo_home("osier-lane-7"))
    assert canonical(OSIER).startswith("{\n")


def zipped(**members: bytes | str) -> bytes:
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in members.items():
            archive.writestr(name.replace("__", "."), data)
    return stream.getvalue()


def document(**changed: object) -> bytes:
    made = {"nuthatch": "home", "schema": SCHEMA, "home": json.loads(canonical(OSIER)), **changed}
    return json.dumps(made).encode()


def broken_home(path: str, value: object) -> bytes:
    made = json.loads(document())
    at = made["home"]
    *way, last = path.split(".")
    for key in way:
        at = at[int(key)] if key.isdigit() else at[key]
    at[last] = value
    return zipped(home__json=json.dumps(made))


def bomb() -> bytes:
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED, compresslevel=9) as archive:
        archive.writestr(HOME, b" " * 60_000_000)
    return stream.getvalue()


def traversal() -> bytes:
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w") as archive:
        archive.writestr(HOME, document())
        archive.writestr("../../evil.txt", "x")
    return stream.getvalue()


GOOD = to_bytes(HomeFile(OSIER, WEATHER))
FAULTS: dict[str, tuple[bytes, str]] = {
    "empty": (b"", "empty"),
    "text": (b"this is no home", "no home file"),
    "binary": (bytes(range(256)) * 40, "no home file"),
    "truncated": (GOOD[: len(GOOD) // 2], "damaged|no home file"),
    "other zip": (zipped(readme__txt="hello"), "no home.json"),
    "no json": (zipped(home__json="{"), "line 1"),
    "not utf-8": (zipped(home__json=b"\xff\xfe{}"), "UTF-8"),
    "list": (zipped(home__json="[]"), "object"),
    "no schema": (zipped(home__json='{"home": {}}'), "schema"),
    "boolean schema": (zipped(home__json='{"schema": true, "home": {}}'), "schema"),
    "newer": (zipped(home__json=document(schema=SCHEMA + 7)), "newer Nuthatch"),
    "version 0": (zipped(home__json=document(schema=0)), "not known"),
    "unknown field": (broken_home("colour", "red"), "home.json, colour"),
    "wrong type": (broken_home("brief.client", 7), "brief.client"),
    "negative thickness": (broken_home("buildups.0.layers.2.thickness", {"value": -0.1}), r"buildups.0.layers.2.*more than 0"),
    "NaN": (zipped(home__json=document().replace(b'"value": 0.64', b'"value": NaN')), "air.n50"),
    "huge number": (zipped(home__json=document().replace(b'"value": 0.64', b'"value": 1e999')), "air.n50"),
    "twice the same id": (broken_home("junctions.1.id", "j-01"), "twice"),
    "bomb": (bomb(), "more than 20 MB"),
    "traversal": (traversal(), "does not belong"),
    "deep": (zipped(home__json='{"schema": 1, "home": ' + '{"a":' * 100000 + "1" + "}" * 100000 + "}"), "nested|unknown|a"),
}


@pytest.mark.parametrize("case", list(FAULTS))
def test_faulty_files_say_what_and_where_and_stay_untouched(case: str, tmp_path: Path) -> None:
    data, says = FAULTS[case]
    path = tmp_path / "case.nuthatch"
    path.write_bytes(data)
    with pytest.raises(HomeFileError, match=says) as problem:
        read(path)
    assert str(problem.value).startswith(str(path)), "the message names the file"
    assert path.read_bytes() == data and os.listdir(tmp_path) == ["case.nuthatch"]


def test_missing_file_and_folder(tmp_path: Path) -> None:
    with pytest.raises(HomeFileError, match="No such file"):
        read(tmp_path / "none.nuthatch")
    with pytest.raises(HomeFileError, match="folder"):
        read(tmp_path)


def test_every_flipped_byte_is_a_message_or_the_same_home() -> None:
    rng = random.Random(5)
    for _ in range(250):
        data = bytearray(GOOD[:6000] + GOOD[-400:] if rng.random() < 0.3 else GOOD)
        for _ in range(rng.randint(1, 4)):
            data[rng.randrange(len(data))] = rng.randrange(256)
        try:
            from_bytes(bytes(data))
        except HomeFileError as problem:
            assert str(problem)


def test_migrations_run_in_order_and_newer_files_are_refused() -> None:
    steps = {1: lambda raw: {**raw, "a": 1}, 2: lambda raw: {**raw, "b": raw["a"] + 1}}
    assert migrate({"name": "x"}, 1, steps, 3) == {"name": "x", "a": 1, "b": 2}
    assert migrate({"name": "x"}, 3, steps, 3) == {"name": "x"}
    with pytest.raises(NewerSchema, match="update Nuthatch"):
        migrate({}, 4, steps, 3)


def test_a_save_that_fails_leaves_the_old_file(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "home.nuthatch"
    write(path, HomeFile(OSIER, None))
    before = path.read_bytes()

    def full(fd: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(HomeFileError, match="No space left"):
        write(path, HomeFile(new_home(), None))
    assert path.read_bytes() == before and os.listdir(tmp_path) == ["home.nuthatch"]


SAVED_AND_KILLED = """
import os, random, signal, sys, time
from pathlib import Path
from nuthatch.core.files.disk import put_file
path, *made = (Path(p) for p in sys.argv[2:])
ready = [p.read_bytes() for p in made]
rng = random.Random(11)
for _ in range(int(sys.argv[1])):
    child = os.fork()
    if child == 0:
        while True:
            for data in ready:
                put_file(path, data)
    time.sleep(rng.uniform(0.0, 0.025))
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    data = path.read_bytes()
    print(ready.index(data) if data in ready else "neither")
"""


def test_a_save_killed_at_any_point_leaves_the_old_or_the_new_file(tmp_path: Path) -> None:
    """Kills by signal 9 in the middle of saving one of two homes over the other; by a small program, for a large one takes long to fork."""
    kills = often(300, 100)
    path, kept = tmp_path / "home" / "home.nuthatch", [tmp_path / "one", tmp_path / "other"]
    path.parent.mkdir()
    versions = [HomeFile(OSIER, WEATHER), HomeFile(apply(SetValue(part="air", field="n50", value=declared(0.5)), OSIER), WEATHER)]
    for file, version in zip(kept, versions, strict=True):
        file.write_bytes(to_bytes(version))
    write(path, versions[0])
    done = subprocess.run([sys.executable, "-c", SAVED_AND_KILLED, str(kills), path, *kept], capture_output=True, text=True, timeout=400)
    assert done.returncode == 0, done.stderr
    found = done.stdout.split()
    assert len(found) == kills and set(found) == {"0", "1"}, "whole at every time, and both versions were met"
    assert from_bytes(path.read_bytes()).home in (versions[0].home, versions[1].home)
    write(path, versions[0])
    assert os.listdir(path.parent) == ["home.nuthatch"], "what killed saves left behind is swept by the next save"


def test_every_format_declared_can_be_loaded() -> None:
    from importlib import import_module

    from nuthatch.core.files.formats import FORMATS

    for form in FORMATS:
        for place in filter(None, (form.reads, form.writes)):
            module, _, name = place.partition(":")
            assert callable(getattr(import_module(module), name, None)), place
