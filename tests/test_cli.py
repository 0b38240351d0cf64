"""The command line as scripts meet it: one line, and the code README and --help state. Called in this process where nothing about a
process is asked; each kind of call is made once for real."""

from __future__ import annotations

import contextlib
import contextvars
import io
import json
import os
import re
import resource
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from nuthatch import cli
from nuthatch.cli import CODES
from nuthatch.core.changes.changes import SetValue, apply, declared
from nuthatch.core.files.homefile import HomeFile, write
from nuthatch.core.library import demo_home
from nuthatch.core.model.part import replace

ROOT = Path(__file__).parents[1]
CALL = [sys.executable, "-m", "nuthatch.cli"]


def really(*arguments: str) -> subprocess.CompletedProcess[str]:
    """In a process of its own."""
    return subprocess.run([*CALL, *arguments], capture_output=True, text=True, timeout=400)


def run(*arguments: str, encoding: str = "utf-8") -> subprocess.CompletedProcess[str]:
    """In this process, as a script would see it: code, what is printed and what is said."""
    out, said = io.TextIOWrapper(io.BytesIO(), encoding), io.StringIO()

    def called() -> int:
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(said):
            try:
                return cli.main(list(arguments))
            except SystemExit as end:
                return int(end.code or 0)

    code = contextvars.copy_context().run(called)  # the units chosen hold for this call
    out.flush()
    data = out.buffer.getvalue()  # type: ignore[attr-defined]  # it is the one made here
    return subprocess.CompletedProcess(list(arguments), code, data.decode(encoding), said.getvalue())


def one_line(done: subprocess.CompletedProcess[str], code: int, *words: str) -> None:
    assert done.returncode == code, (done.returncode, done.stderr)
    assert done.stderr.startswith("nuthatch: ") and done.stderr.count("\n") == 1 and "Traceback" not in done.stderr, done.stderr
    assert all(w in done.stderr for w in words), done.stderr


def test_readme_and_help_state_the_same_codes() -> None:
    stated = set(re.findall(r"^\s+(\d+)\s", CODES, re.M))
    assert stated == {"0", "1", "2", "3", "70", "74", "130"}
    readme = " ".join((ROOT / "README.md").read_text(encoding="utf-8").split("### Exit codes")[1].split("\n##")[0].split())
    assert set(re.findall(r"`(\d+)`", readme)) == stated
    for command in ([], ["check"], ["homes"]):
        done = run(*command, "--help")
        assert done.returncode == 0 and all(line.strip() in done.stdout for line in CODES.splitlines()), command


def test_files_that_cannot_be_read(tmp_path: Path) -> None:
    os.mkfifo(tmp_path / "pipe.nuthatch")
    os.mkfifo(tmp_path / "pipe.epw")
    for file in (tmp_path / "none.nuthatch", tmp_path, tmp_path / "pipe.nuthatch", Path("/dev/zero")):
        one_line(run("check", str(file)), 2)
    for climate in (tmp_path / "none.epw", tmp_path / "pipe.epw", Path("/dev/zero")):
        one_line(run("check", "osier-lane-7", "--climate", str(climate)), 2)
    one_line(run("check"), 2, "file")
    one_line(really("check", str(tmp_path / "none.nuthatch")), 2)
    one_line(run("check", os.fsdecode(b"not \xff utf8 \x1b[31m")), 2, "\\xff", "\\x1b")


def test_a_dossier_that_cannot_be_written(tmp_path: Path) -> None:
    one_line(run("check", "sail-loft", "--dossier", str(tmp_path / "no" / "such" / "d.html")), 2, "d.html")
    one_line(run("check", "sail-loft", "--dossier", str(tmp_path)), 2)
    one_line(run("check", "sail-loft", "--dossier", "/proc/d.html"), 2)
    one_line(run("check", "sail-loft", "--dossier", str(tmp_path / "d.docx")), 2, ".pdf")
    assert not list(tmp_path.iterdir())


def test_errors_are_json_where_json_was_asked_for(tmp_path: Path) -> None:
    for arguments in (["check", str(tmp_path / "none"), "--json"], ["homes", str(tmp_path / "none"), "--json"], ["check", "--json"]):
        done = run(*arguments)
        one_line(done, 2)
        assert set(json.loads(done.stdout)) == {"error"} and json.loads(done.stdout)["error"] in done.stderr


@pytest.mark.parametrize("arguments", [["check", "osier-lane-7"], ["check", "osier-lane-7", "--json"]])
def test_a_full_disk_and_a_closed_pipe_tell_no_verdict(arguments: list[str]) -> None:
    """Osier Lane 7 misses a target: whatever happens to the output, the code is never 0."""
    with open("/dev/full", "w") as full:
        done = subprocess.run([*CALL, *arguments], stdout=full, stderr=subprocess.PIPE, text=True, timeout=400)
    one_line(done, 74, "No space left")
    reading, writing = os.pipe()
    os.close(reading)
    done = subprocess.run([*CALL, *arguments], stdout=writing, stderr=subprocess.PIPE, text=True, timeout=400)
    os.close(writing)
    one_line(done, 74, "pipe")
    closed = subprocess.run(
        ["/bin/sh", "-c", f"{sys.executable} -m nuthatch.cli {' '.join(arguments)} >&-"], capture_output=True, timeout=120
    )
    assert closed.returncode == 74 and b"Traceback" not in closed.stderr


def test_a_disk_that_takes_only_some_bytes(tmp_path: Path) -> None:
    def limited() -> None:
        signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
        resource.setrlimit(resource.RLIMIT_FSIZE, (1500, 1500))

    with open(tmp_path / "out.json", "w") as out:
        done = subprocess.run(
            [*CALL, "check", "osier-lane-7", "--json"], stdout=out, stderr=subprocess.PIPE, text=True, timeout=400, preexec_fn=limited
        )
    one_line(done, 74)


def test_a_detail_without_a_home(tmp_path: Path) -> None:
    example = str(ROOT / "src/nuthatch/data/examples/slab-edge.json")
    made = run("detail", example, "--json", "--picture", str(tmp_path / "a.svg"))
    found = json.loads(made.stdout)
    assert made.returncode == 0 and found["mould_safe"] and found["grid"]["fine_enough"]
    assert found["psi_internal"] - found["psi_external"] == pytest.approx(sum(f["u"] * (f["outer"] - f["inner"]) for f in found["flanks"]))
    assert (tmp_path / "a.svg").read_text().startswith("<svg")
    said = run("detail", example, "--units", "inch-pound")
    assert "Btu" in said.stdout and "mould-safe" in said.stdout
    bare = json.loads(Path(example).read_text())
    bare["blocks"] = [b | {"conductivity": 2.3} for b in bare["blocks"]]
    (tmp_path / "bare.json").write_text(json.dumps(bare))
    assert run("detail", str(tmp_path / "bare.json")).returncode == 1
    bare["blocks"][0]["conductivity"] = 0
    (tmp_path / "bare.json").write_text(json.dumps(bare))
    for given in (
        ["detail", str(tmp_path / "bare.json")],
        ["detail", str(tmp_path / "none.json")],
        ["detail", example, "--picture", "a.bmp"],
    ):
        told = run(*given)
        assert told.returncode == 2 and len(told.stderr.splitlines()) == 1


def test_an_interrupt(tmp_path: Path) -> None:
    def heard() -> None:
        signal.signal(signal.SIGINT, signal.SIG_DFL)  # a shell starts what runs in its background deaf to it

    code = "import time; from nuthatch import cli; cli.check = lambda a: time.sleep(60); import sys; print('x', flush=True); sys.exit(cli.main(['check', 'x']))"
    process = subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, preexec_fn=heard)
    assert process.stdout is not None and process.stdout.readline() == "x\n"
    time.sleep(0.5)
    process.send_signal(signal.SIGINT)
    _, said = process.communicate(timeout=200)
    assert process.returncode == 130 and said == "nuthatch: interrupted\n"


def test_other_encodings_and_control_characters(tmp_path: Path) -> None:
    home = replace(demo_home("sail-loft"), name="Loft \x1b[2J\x9b \u202e “ß” 家")
    name = str(tmp_path / "odd.nuthatch")
    write(Path(name), HomeFile(home, None))
    for encoding, commands in (("latin-1", 5), ("utf-8", 2)):
        calls = [["check", name, "--json"], ["check", name], ["homes", name], ["homes", name, "--csv"], ["homes", name, "--json"]]
        for arguments in calls[:commands]:
            done = run(*arguments, encoding=encoding)
            assert done.returncode in (0, 1, 3) and not done.stderr, done.stderr
            text = done.stdout
            assert not any(c in text for c in "\x1b\x9b\u202e"), (encoding, arguments)
            if "--json" in arguments:
                data = json.loads(text)
                assert (data["home"] if arguments[0] == "check" else data[0]["name"]) == home.name
    env = {**os.environ, "PYTHONIOENCODING": "latin-1", "LC_ALL": "C"}
    real = subprocess.run([*CALL, "check", name, "--json"], capture_output=True, timeout=400, env=env)
    assert json.loads(real.stdout.decode("latin-1"))["home"] == home.name and not real.stderr


def test_folders_that_cannot_be_listed(tmp_path: Path) -> None:
    one_line(run("homes", str(tmp_path / "none")), 2, "no such folder")
    inner = tmp_path / "inner"
    inner.mkdir()
    write(tmp_path / "good.nuthatch", HomeFile(demo_home("sail-loft"), None))
    code = (
        "import os, sys; real = os.scandir\n"
        f"def scandir(p='.'):\n    if str(p) in {(str(inner),)!r}: raise PermissionError(13, 'Permission denied', str(p))\n    return real(p)\n"
        "os.scandir = scandir\nfrom nuthatch import cli; sys.exit(cli.main(sys.argv[1:]))"
    )  # the tests may run as root, whom no folder refuses
    done = subprocess.run([sys.executable, "-c", code, "homes", str(tmp_path)], capture_output=True, text=True, timeout=400)
    assert done.returncode == 0 and "cannot be listed (Permission denied)" in done.stdout and "Sail Loft" in done.stdout
    done = subprocess.run([sys.executable, "-c", code, "homes", str(inner)], capture_output=True, text=True, timeout=400)
    one_line(done, 2, "cannot be listed (Permission denied)")


def test_a_folder_with_a_bad_file_still_lists_the_others(tmp_path: Path) -> None:
    write(tmp_path / "good.nuthatch", HomeFile(demo_home("sail-loft"), None))
    (tmp_path / "bad.nuthatch").write_bytes(b"PK\x03\x04 damaged")
    os.mkfifo(tmp_path / "pipe.nuthatch")
    (tmp_path / os.fsdecode(b"odd \xff.nuthatch")).write_bytes((tmp_path / "good.nuthatch").read_bytes())
    done = run("homes", str(tmp_path), "--json")
    assert done.returncode == 0, done.stderr
    rows = {Path(r["path"]).name: r for r in json.loads(done.stdout)}
    assert len(rows) == 4 and rows["bad.nuthatch"]["standing"] == "fault" == rows["pipe.nuthatch"]["standing"]
    assert sum(r["name"] == "Sail Loft" for r in rows.values()) == 2


def test_an_error_of_ours_is_70() -> None:
    code = "import sys; from nuthatch import cli; import nuthatch.core.assess as a\ndef broken(*_): raise KeyError('x\\ny')\na.assess = broken\nsys.exit(cli.main(['check', 'sail-loft', '--json']))"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=400)
    one_line(done, 70, "an error of ours")
    assert "an error of ours" in json.loads(done.stdout)["error"]


def test_the_verdicts_codes(tmp_path: Path) -> None:
    assert really("check", "osier-lane-7").returncode == 1 == run("check", "osier-lane-7").returncode
    home = demo_home("osier-lane-7")
    line = home.target_sets[0]
    met = replace(line, targets=tuple(t for t in line.targets if t.name == "Airtightness"))
    good = apply(SetValue(part="air", field="n50", value=declared(0.5)), replace(home, target_sets=(met,)))
    write(tmp_path / "met.nuthatch", HomeFile(good, None))
    assert run("check", str(tmp_path / "met.nuthatch")).returncode == 0
    unknown = apply(SetValue(part="air", field="n50", value=None), good)
    write(tmp_path / "unknown.nuthatch", HomeFile(unknown, None))
    assert run("check", str(tmp_path / "unknown.nuthatch")).returncode == 3
