"""A gauge at the other end of a network or of a serial port: a whole test, contact lost and found, nonsense refused, the fan told to stop."""

from __future__ import annotations

import os
import socketserver
import threading
import tty
from collections.abc import Callable, Iterator
from contextlib import contextmanager

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from nuthatch.core.airtest.instrument import Sample
from nuthatch.core.airtest.of_home import rings_of
from nuthatch.core.airtest.stages import N50
from nuthatch.core.changes.changes import SetValue
from nuthatch.core.dossier.air_test_body import record
from nuthatch.core.library import fans
from nuthatch.core.results.figure import walk
from nuthatch.core.views.air.test_summary import as_data, as_text
from nuthatch.desktop.steps.air import gauge_link
from nuthatch.desktop.steps.air.board import AirBoard
from nuthatch.desktop.steps.air.gauge_link import LinesLink, address, over_network, over_serial
from nuthatch.standins.gauge import Server, Serving
from nuthatch.standins.practice_gauge import PracticeGauge, PracticeHouse
from tests.desktop.steps.air.test_air_test import Open, bare, board_of
from tests.simple_home import g

RINGS = rings_of(fans()[0])
CALM = PracticeHouse(wind=0.02, scatter=0.0, drift=0.0)


@contextmanager
def served(serving: Serving, port: int = 0) -> Iterator[Server]:
    """A practice gauge at a port of this machine."""
    server = Server(("127.0.0.1", port), serving)
    thread = threading.Thread(target=lambda: server.serve_forever(poll_interval=0.01), daemon=True)
    thread.start()
    try:
        yield server
    finally:
        server.shutdown()
        server.server_close()
        thread.join(5)


@pytest.fixture
def quick(monkeypatch: pytest.MonkeyPatch) -> None:
    for name, ms in (("TICK_MS", 4), ("PATIENCE_MS", 400), ("AGAIN_MS", 60)):
        monkeypatch.setattr(gauge_link, name, ms)


class Heard:
    """What a link says."""

    def __init__(self, link: LinesLink) -> None:
        self.samples: list[Sample] = []
        self.lost: list[str] = []
        self.found: list[object] = []
        self.refused: list[str] = []
        link.sampled.connect(self.samples.append)
        link.lost.connect(self.lost.append)
        link.found.connect(self.found.append)
        link.refused.connect(self.refused.append)


def on_site(open_home: Open, port: int, series: str = "both series") -> AirBoard:
    board = board_of(open_home(bare()))
    board.drawings_to(board.site)
    board.site.series.setCurrentText(series)
    board.site.gauge.setCurrentIndex(board.site.gauge.findData("network"))
    board.site.address.setText(f"127.0.0.1:{port}")
    QTest.keyClick(board.site, Qt.Key.Key_Space)
    return board


def through(board: AirBoard, qtbot: QtBot, until: Callable[[], bool], timeout: int = 60_000) -> list[str]:
    """Go on wherever the run waits for hands, until something is so; what it waited for."""
    asked: list[str] = []
    running = board.site.running
    assert running is not None

    def done() -> bool:
        if running.run.paused and running.link.who is not None and not running.link.away:  # contact a busy machine lost is found again
            asked.append(running.run.paused)
            QTest.keyClick(board.site, Qt.Key.Key_Space)
        return until()

    qtbot.waitUntil(done, timeout=timeout)
    return asked


def test_a_whole_test_over_the_network_is_practice_and_never_a_measurement(open_home: Open, qtbot: QtBot, quick: None) -> None:
    """The program of the practice gauge at the other end: hands are waited for, the truth is met, and everywhere it is told as simulated."""
    serving = Serving(PracticeGauge(CALM, RINGS), speed=40.0)
    with served(serving) as server:
        board = on_site(open_home, server.server_address[1], "depressurising")
        running = board.site.running
        assert running is not None and running.practice is None
        for name, value in (("inside", CALM.inside), ("outside", CALM.outside), ("barometer", CALM.barometer)):
            board.desk.apply(SetValue(part=running.test, field=name, value=g(value)))
        asked = through(board, qtbot, lambda: running.run.done)
        assert any("cover it" in a for a in asked) and any("put ring open" in a for a in asked)
        assert serving.gauge.aim == 0.0
    home, a = board.desk.home, board.assessment
    test = next(t for t in home.air_tests if t.id == running.test)
    assert all(r.simulated and r.pressure is not None and r.pressure.basis.value == "assumed" for r in test.readings)
    board.tests.count()
    qtbot.waitUntil(lambda: board.assessment is not None and board.assessment.home.air.test == test.id)
    a = board.assessment
    assert a is not None
    shown = board.site.shown
    assert shown is not None and shown.result is not None and shown.test.simulated
    assert shown.result.q50 == pytest.approx(CALM.coefficient * 50**CALM.exponent, rel=0.01)
    leaves = [n for n in walk(a[N50]) if getattr(n, "part", "") == test.id]  # type: ignore[arg-type]
    assert leaves and all(n.basis == "assumed" and "nothing was measured" in n.source for n in leaves)  # type: ignore[union-attr]
    assert any("simulated" in q.text for q in a.questions)
    assert (
        as_text(shown.test, shown.result, shown.lines).startswith("SIMULATED")
        and as_data(shown.test, shown.result, shown.lines)["simulated"] is True
    )
    kept = record(test, home)
    assert (
        kept is not None
        and test.fan is not None
        and test.fan.serial
        and test.fan.serial not in str(kept)
        and "nothing was measured" in str(kept)
    )
    assert any(line.name == "readings" and line.holds is False for line in shown.lines)


def test_contact_is_lost_and_found_and_the_fan_is_told_to_stop(open_home: Open, qtbot: QtBot, quick: None) -> None:
    """The gauge goes away in the middle of a rung and comes back as another program: the run waits, the fan is stopped first, the test goes on."""
    said: list[str] = []
    serving = Serving(PracticeGauge(CALM, RINGS), speed=90.0)
    with served(serving) as server:
        port = server.server_address[1]
        board = on_site(open_home, port, "depressurising")
        running = board.site.running
        assert running is not None
        board.message.connect(said.append)
        through(board, qtbot, lambda: sum(r.state == "kept" for r in running.run.rungs) == 2 and running.run.held > 3)
        number = len(board.desk.home.air_tests[0].readings)
        server.shutdown()
    serving2 = Serving(PracticeGauge(CALM, RINGS), speed=90.0)
    serving2.gauge.ask("RING open")
    serving2.gauge.ask("AIM -50")
    running.link._lose("the cable is out")  # type: ignore[attr-defined]
    assert "cable" in running.run.paused and any("cannot be told to stop" in s for s in said)
    with served(serving2, port):
        qtbot.waitUntil(lambda: serving2.gauge.aim == 0.0, timeout=10_000)
        assert running.run.paused and len(board.desk.home.air_tests[0].readings) == number, "nothing is lost, nothing false is kept"
        QTest.keyClick(board.site, Qt.Key.Key_Space)
        through(board, qtbot, lambda: running.run.done)
        assert sum(r.state == "kept" for r in running.run.rungs) >= 5


def test_who_goes_on_while_the_gauge_is_away_is_told_to_look_at_its_cable(open_home: Open, qtbot: QtBot, quick: None) -> None:
    """The run waited for hands already when the gauge went: going on waits for the gauge, and does not seem to measure."""
    serving = Serving(PracticeGauge(CALM, RINGS), speed=90.0)
    with served(serving) as server:
        board = on_site(open_home, server.server_address[1])
        running = board.site.running
        assert running is not None
        qtbot.waitUntil(lambda: bool(running.run.paused) and running.link.who is not None, timeout=20_000)
        server.shutdown()
    running.link._lose("gone")  # type: ignore[attr-defined]
    assert "cable" not in running.run.paused, "hands are waited for first"
    QTest.keyClick(board.site, Qt.Key.Key_Space)
    assert "cable" in running.run.paused
    QTest.keyClick(board.site, Qt.Key.Key_Space)
    assert "cable" in running.run.paused, "as often as somebody goes on too early"


def test_a_fan_that_cannot_be_told_to_stop_is_said(open_home: Open, qtbot: QtBot, quick: None) -> None:
    serving = Serving(PracticeGauge(CALM, RINGS), speed=90.0)
    said: list[str] = []
    with served(serving) as server:
        board = on_site(open_home, server.server_address[1])
        running = board.site.running
        assert running is not None
        board.message.connect(said.append)
        through(board, qtbot, lambda: running.run.phase == "readings" and serving.gauge.aim != 0)
        server.shutdown()
    running.link._lose("gone")  # type: ignore[attr-defined]
    QTest.keyClick(board.site, Qt.Key.Key_Escape)
    assert running.run.done and any("switch it off by hand" in s for s in said), said
    assert not running.running


def test_an_address_that_is_none_is_refused(open_home: Open, qtbot: QtBot) -> None:
    board = board_of(open_home(bare()))
    board.drawings_to(board.site)
    said: list[str] = []
    board.message.connect(said.append)
    board.site.gauge.setCurrentIndex(board.site.gauge.findData("network"))
    board.site.address.setText("somewhere : x")
    QTest.keyClick(board.site, Qt.Key.Key_Space)
    assert board.site.running is None and "no address" in said[-1]
    assert address("192.168.4.1:7000") == ("192.168.4.1", 7000) and address("gauge.local") == ("gauge.local", gauge_link.PORT)
    for text in ("", "a:b", "a:70000", ":80", "a b:80"):
        with pytest.raises(ValueError, match="no address"):
            address(text)


class Odd(socketserver.StreamRequestHandler):
    """Answers as it is told to."""

    answers: list[bytes] = []

    def handle(self) -> None:
        while self.rfile.readline(500):
            if not self.answers:
                return
            self.wfile.write(self.answers.pop(0))


@pytest.mark.parametrize(
    ("answers", "why"),
    [
        ([b"HELLO\n"], "does not say who it is"),
        ([b"WHO 9 simulated=no fan=held\n"], "version 9"),
        ([b"WHO 1 simulated=no fan=held\n", b"OK\n", b"T 1 P nan F 2\n"], "the gauge answered"),
        ([b"WHO 1 simulated=no fan=held\n", b"OK\n", b"T 1 P 1e999 F 2\n"], "the gauge answered"),
        ([b"x" * 5000], "lines without an end"),
        ([b"\x00\xff\x1b[2J\n"], "the gauge answered"),
        ([b"WHO 1 simulated=no fan=held\n", b""], "does not answer"),
    ],
)
def test_what_is_no_gauge_is_said_and_never_read(answers: list[bytes], why: str, qtbot: QtBot, quick: None) -> None:
    Odd.answers = list(answers)
    with socketserver.ThreadingTCPServer(("127.0.0.1", 0), Odd) as server:
        server.daemon_threads = True
        threading.Thread(target=lambda: server.serve_forever(poll_interval=0.01), daemon=True).start()
        link = over_network("127.0.0.1", server.server_address[1])
        heard = Heard(link)
        link.start()
        qtbot.waitUntil(lambda: bool(heard.lost), timeout=5000)
        assert why in heard.lost[0] and not heard.samples and "\x1b" not in heard.lost[0]
        link.close()
        server.shutdown()


def test_nobody_there_is_said_once_and_sought_on(qtbot: QtBot, quick: None) -> None:
    link = over_network("127.0.0.1", 1)
    heard = Heard(link)
    link.start()
    qtbot.wait(500)
    assert len(heard.lost) == 1 and not heard.found
    link.close()


def test_a_gauge_at_a_serial_port(qtbot: QtBot, quick: None) -> None:
    """Lines over a pair of terminals, as a USB gauge speaks them; a ring it does not have is refused, the contact stays."""
    ours, theirs = os.openpty()
    tty.setraw(ours)
    tty.setraw(theirs)
    serving = Serving(PracticeGauge(CALM, RINGS), speed=20.0)
    stop = threading.Event()

    def answer() -> None:
        held = b""
        while not stop.is_set():
            try:
                held += os.read(ours, 200)
            except OSError:
                return
            while b"\n" in held:
                line, _, held = held.partition(b"\n")
                os.write(ours, f"{serving.answer(line.decode())}\r\n".encode())

    threading.Thread(target=answer, daemon=True).start()
    link = over_serial(os.ttyname(theirs))
    heard = Heard(link)
    link.start()
    qtbot.waitUntil(lambda: len(heard.samples) > 3, timeout=8000)
    link.ring("open")
    link.aim(-50.0)
    qtbot.waitUntil(lambda: bool(heard.samples) and heard.samples[-1].pressure < -30, timeout=8000)
    link.ring("no such")
    qtbot.waitUntil(lambda: bool(heard.refused), timeout=5000)
    assert "no ring no such" in heard.refused[0] and not heard.lost
    assert link.close() == ""
    qtbot.waitUntil(lambda: serving.gauge.aim == 0.0, timeout=3000)
    stop.set()
    for handle in (theirs, ours):
        os.close(handle)


def test_a_reading_that_is_undone_takes_its_rung_back(open_home: Open, qtbot: QtBot) -> None:
    """Ctrl+Z during a run: the reading leaves the test and its rung is measured again; redo gives both back."""
    board = board_of(open_home(bare()))
    board.drawings_to(board.site)
    QTest.keyClick(board.site, Qt.Key.Key_Space)
    running = board.site.running
    assert running is not None
    running.timer.stop()
    running.speed = 8
    for _ in range(4000):
        if sum(r.state == "kept" for r in running.run.rungs) == 2:
            break
        running.tick()
    points = [r for r in board.desk.home.air_tests[0].readings if r.moment == "point"]
    board.desk.undo()
    assert running.run.rungs[1].state != "kept" and running.run.now is not None and running.run.now.target == 50
    assert len([r for r in board.desk.home.air_tests[0].readings if r.moment == "point"]) == len(points) - 1
    board.desk.redo()
    assert running.run.rungs[1].state == "kept" and running.run.now.target == 40
    board.desk.undo()
    for _ in range(4000):
        if running.run.rungs[1].state == "kept":
            break
        running.tick()
    assert [r.state for r in running.run.rungs[:2]] == ["kept", "kept"]
    running.end()


def test_a_second_run_into_a_full_test_is_a_series_of_its_own(open_home: Open, qtbot: QtBot) -> None:
    board = board_of(open_home(bare()))
    board.drawings_to(board.site)
    board.site.series.setCurrentText("depressurising")
    board.site.quiet = True
    for number in (1, 2):
        QTest.keyClick(board.site, Qt.Key.Key_Space)
        if number == 2:  # it is asked once
            QTest.keyClick(board.site, Qt.Key.Key_Space)
        running = board.site.running
        assert running is not None
        running.timer.stop()
        running.speed = 20
        while not running.run.done:
            running.tick()
    qtbot.waitUntil(lambda: board.site.shown is not None and board.site.shown.result is not None)
    shown = board.site.shown
    assert shown is not None and shown.result is not None
    assert [h.series.name for h in shown.result.halves] == ["depressurising", "depressurising 2"]
    assert [len(h.points) for h in shown.result.halves] == [7, 7]
