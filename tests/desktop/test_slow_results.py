"""Slow results in the real window: computing is shown, nothing stale, the window lives, an edit cancels, undo finds."""

from __future__ import annotations

import sys
import threading
from pathlib import Path

import pytest
from pytestqt.qtbot import QtBot

from nuthatch.core.changes.changes import Insert, SetValue, declared
from nuthatch.core.library import climate_ref, demo_home
from nuthatch.core.model.home import Opening
from nuthatch.core.results.figure import Unknown
from nuthatch.desktop import error_net as trouble
from nuthatch.desktop.document import Document
from nuthatch.desktop.jobs import Cancelled, Job, Jobs
from tests.slow_stage import noted, slow_home, stages


def slow_document(folder: Path, does: str | float, seconds: float = 600.0) -> Document:
    document = Document(slow_home(folder, does))
    document.more = stages(seconds)
    return document


def n50(value: float) -> SetValue:
    return SetValue(part="air", field="n50", value=declared(value))


def test_a_slow_stage_in_the_window(open_home, qtbot: QtBot, tmp_path: Path) -> None:
    """It ends when the gate is opened, however fast the machine is: each line of it as a person sees it."""
    document, gate = slow_document(tmp_path, "gate"), tmp_path / "gate"
    w = open_home(document.home, document, settle=False)
    qtbot.waitUntil(lambda: bool(w.margins.bars.rows))
    bars = w.margins.bars
    assert [way.standing for _, way in bars.rows] == ["computing"] and bars.rows[0][1].value is None
    assert "computing …" in w.margins.questions_title
    qtbot.waitUntil(lambda: "computing, 25 %" in w.margins.questions_title)
    gate.touch()
    qtbot.waitUntil(w.settled)
    gate.unlink()
    assert [way.value for _, way in bars.rows] == [pytest.approx(1.28)]
    document.desk.apply(n50(0.4))
    assert [way.standing for _, way in bars.rows] == ["computing"], "nothing stale, at once"
    for step in ("junctions", "household") * 2:  # the window stays alive meanwhile
        w.show_step(step)
        qtbot.wait(5)
    assert document.busy and [way.standing for _, way in bars.rows] == ["computing"]
    document.desk.apply(n50(0.3))
    assert document.slow.running.count("slow trial") == 1, "one live run a stage, the newest"
    gate.touch()
    qtbot.waitUntil(w.settled)
    gate.unlink()
    assert [way.value for _, way in bars.rows] == [pytest.approx(0.6)]
    document.desk.undo()
    document.desk.undo()
    assert [way.value for _, way in bars.rows] == [pytest.approx(1.28)], "undo shows the kept result at once"
    assert not document.busy and noted(tmp_path) == [0.64, 0.3], "a newer edit stops what is no longer wanted"


def test_twelve_keystrokes_cost_one_run(open_home, qtbot: QtBot, tmp_path: Path) -> None:
    document, gate = slow_document(tmp_path, "gate"), tmp_path / "gate"
    w = open_home(document.home, document, settle=False)
    for n in range(12):  # none of them waits for a run: none can end
        document.desk.apply(n50(0.2 + n / 100))
        qtbot.wait(60)
    assert document.slow.running.count("slow trial") == 1 and noted(tmp_path) == []
    gate.touch()
    qtbot.waitUntil(w.settled)
    assert noted(tmp_path) == [pytest.approx(0.31)] and w.margins.bars.rows[0][1].value == pytest.approx(0.62)


@pytest.mark.parametrize(
    ("does", "reason"),
    [("raise", "ZeroDivisionError: on purpose"), ("die", "signal 9"), ("hang", "longer than 1 s"), ("eat", "more memory than the 4 GB")],
)
def test_what_goes_wrong_in_a_slow_stage_is_said_once_and_takes_nothing_along(
    does: str, reason: str, open_home, qtbot: QtBot, tmp_path: Path
) -> None:
    document, said = slow_document(tmp_path, does, 1.0 if does == "hang" else 600.0), []
    document.failed.connect(said.append)
    w = open_home(document.home, document)
    figure = document.assessment.figures["slow_trial"]
    assert isinstance(figure, Unknown) and reason in figure.needs[0].text and [t for t in said if reason in t] == said and len(said) == 1
    assert document.assessment.figures["heating_demand"].value > 5, "the rest is computed"
    document.desk.apply(SetValue(part="site", field="soil_conductivity", value=declared(1.7)))
    qtbot.waitUntil(w.settled)
    assert len(said) == 1 and len(noted(tmp_path, "begun")) == 1, "not tried again at an unrelated edit"
    document.desk.apply(SetValue(part="brief", field="client", value="0"))
    qtbot.waitUntil(w.settled)
    assert document.assessment.figures["slow_trial"].value == pytest.approx(1.28) and len(said) == 1


def test_slow_results_are_there_at_the_next_start(open_home, qtbot: QtBot, tmp_path: Path) -> None:
    first = open_home(slow_home(tmp_path), slow_document(tmp_path, 0.3))
    first.document.close()
    again = open_home(slow_home(tmp_path), slow_document(tmp_path, 0.3))
    assert again.margins.bars.rows[0][1].value == pytest.approx(1.28) and noted(tmp_path) == [0.64]
    again.document.desk.apply(n50(0.5))
    qtbot.waitUntil(again.settled)
    assert again.margins.bars.rows[0][1].value == pytest.approx(1.0) and noted(tmp_path) == [0.64, 0.5]


def test_the_dossier_waits_for_what_is_computing(open_home, qtbot: QtBot, tmp_path: Path) -> None:
    document = slow_document(tmp_path, "gate")
    w = open_home(document.home, document, settle=False)
    w.show_step("dossier")
    board = w.board("dossier")
    qtbot.waitUntil(lambda: board.assessment is not None)
    board.write(tmp_path / "d.html")
    said = board.reader.state.text()
    assert said.startswith("waits for") and "the slow trial, then it is written" in said and not board.write_button.isEnabled()
    qtbot.wait(100)
    assert not (tmp_path / "d.html").exists()
    (tmp_path / "gate").touch()
    qtbot.waitUntil((tmp_path / "d.html").exists)
    qtbot.waitUntil(lambda: board.write_button.isEnabled())
    assert "1.28" in (tmp_path / "d.html").read_text(encoding="utf-8")


def test_another_climate_and_an_opening_while_it_loads(open_home, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    """The home is never shown beside the assessment of another: this once ended the program."""
    from nuthatch.desktop import document as module

    w = open_home(demo_home("osier-lane-7"))
    old = w.document.assessment.figures["heating_demand"].value
    other = climate_ref("hallin-fell")
    w.document.climates.pop(other.sha256, None)  # another window of these tests may have read it
    gate, load = threading.Event(), module.load_climate
    monkeypatch.setattr(module, "load_climate", lambda *args: gate.wait(200) and load(*args))
    for step in ("openings", "balance", "cutaway", "junctions", "site"):
        w.show_step(step)
    w.document.desk.apply(SetValue(part="site", field="climate", value=other))
    standing = {way.key: way for _, way in w.margins.bars.rows}
    assert standing["heating_demand"].standing == "computing" and standing["heating_demand"].value is None, "no old figure unmarked"
    assert standing["n50"].value == 0.64, "what does not rest on the climate stays known"
    assert standing["ua_proposed"].standing == "computing"
    w.document.desk.apply(Insert(owner="home", field="openings", value=Opening(id="new", name="New", face="low.a", type="triple-window")))
    for step in ("openings", "balance", "cutaway", "junctions", "site", "dossier", "brief"):
        w.show_step(step)
        qtbot.wait(10)
        assert w.board(step).snapshot.assessment.home is w.board(step).snapshot.home is w.document.home
    w.board("openings").rows.table.select("new")
    assert [r.id for r in w.board("openings").rows.model.rows][-1] == "new"
    w.document.desk.undo()
    gate.set()
    qtbot.waitUntil(w.settled)
    assert w.document.assessment.figures["heating_demand"].value > 1.4 * old
    assert "heating demand +" in w.change_line.text or w.change_line.text


def test_a_weather_file_that_is_not_the_home_s_is_refused(open_home, qtbot: QtBot) -> None:
    from nuthatch.core.library import library_climate

    home = demo_home("osier-lane-7")
    w = open_home(home, Document(home, weather=library_climate("hallin-fell")))
    assert "cannot be used" in w.change_line.text or w.document.assessment.climate is None
    assert w.document.assessment.figures["heating_demand"].value is None


def test_jobs_bring_progress_results_and_errors_and_drop_what_is_cancelled(qtbot: QtBot) -> None:
    from PyQt6.QtCore import QObject

    from nuthatch.core.units import INCH_POUND, system, using

    owner = QObject()
    jobs, seen = Jobs(owner), []
    with using(INCH_POUND):
        jobs.start("units", lambda job: system(), seen.append)
    jobs.start("steps", lambda job: [job.tell(n) for n in range(3)], lambda _: seen.append("done"), moved=seen.append)
    jobs.start("fails", lambda job: 1 / 0, failed=lambda error: seen.append(type(error).__name__))
    qtbot.waitUntil(lambda: len(seen) == 6)
    assert INCH_POUND in seen and [s for s in seen if isinstance(s, int)] == [0, 1, 2] and "ZeroDivisionError" in seen
    begun, gate, ended = threading.Event(), threading.Event(), threading.Event()

    def long(job: Job) -> str:
        begun.set()
        gate.wait(200)
        try:
            job.tell("still there")
        except Cancelled:
            ended.set()
            raise
        return "never"

    job = jobs.start("long", long, seen.append, moved=seen.append)
    assert jobs.running == 1 and begun.wait(200)
    job.cancel()
    gate.set()
    assert ended.wait(200)
    qtbot.wait(50)
    assert len(seen) == 6 and jobs.running == 0, "a cancelled job says nothing any more"


def test_an_exception_nobody_caught_is_said_and_logged(osier_window, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path))
    w, net, kept = osier_window, trouble.Net(), []
    net.caught.connect(w.trouble)
    hooks = sys.excepthook, threading.excepthook
    monkeypatch.setattr(w.document.keeper, "keep", lambda: kept.append(True))
    try:
        net.spread()
        try:
            raise KeyError("lost in a slot")
        except KeyError as error:
            sys.excepthook(type(error), error, error.__traceback__)
        thread = threading.Thread(target=lambda: [][1])
        thread.start()
        thread.join()
        qtbot.waitUntil(lambda: len(kept) == 2)
    finally:
        sys.excepthook, threading.excepthook = hooks
    assert "Something went wrong" in w.change_line.text and w.isVisible()
    log = trouble.log_file().read_text()
    assert "lost in a slot" in log and "IndexError" in log and Path(__file__).name in log
