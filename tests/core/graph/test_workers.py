"""Workers: a process that does one task after another starts warm, whoever asks for it first."""

import contextlib
import multiprocessing
import os
import subprocess
import sys
import threading
import time

import pytest

from nuthatch.core.options.beside import in_two
from nuthatch.core.workers import CONTEXT, Stopped, Task, Worker

FIRST = """
from functools import partial
from nuthatch.core.workers import Task, Worker
if __name__ == "__main__":
    print(Worker().run(Task(partial(eval, "'nuthatch.core.assess' in __import__('sys').modules"), {})))
"""


def test_the_first_worker_of_a_program_is_warm(tmp_path) -> None:
    """In a program of its own, where nothing has asked for the warm server yet: each edit of a home with a slow stage ends its worker and
    starts another, which would otherwise read every module again."""
    (tmp_path / "first.py").write_text(FIRST)
    done = subprocess.run([sys.executable, str(tmp_path / "first.py")], capture_output=True, text=True, timeout=400)
    assert done.stdout.strip() == "True", done.stderr


def slowly(seconds: float, part: tuple[int, int] = (0, 1)) -> float:
    time.sleep(seconds)
    return seconds + part[0]


def test_a_question_stopped_does_not_stop_the_next_one() -> None:
    """Stopped, and asked something else at once: what the first leaves behind ends nothing of the second."""
    for _ in range(2):
        workers = (Worker(), Worker())
        errors: list[BaseException] = []

        def first(workers: tuple[Worker, ...] = workers, errors: list[BaseException] = errors) -> None:
            try:
                in_two(workers, slowly, {"seconds": 30.0}, lambda far: None)
            except BaseException as error:
                errors.append(error)

        asking = threading.Thread(target=first)
        asking.start()
        while not all(w.pid for w in workers):
            time.sleep(0.01)
        for w in workers:
            w.stop()
        assert in_two(workers, slowly, {"seconds": 0.05}, lambda far: None) == (0.05, 1.05)
        asking.join(60)
        assert not asking.is_alive() and [type(e) for e in errors] == [Stopped]
        for w in workers:
            w.stop()


def test_a_worker_stopped_is_gone_soon_and_the_next_one_stays(monkeypatch: pytest.MonkeyPatch) -> None:
    worker, waiting, join = Worker(), [], CONTEXT.Process.join
    monkeypatch.setattr(
        CONTEXT.Process, "join", lambda self, timeout=None: (waiting.append(threading.current_thread()), join(self, timeout))
    )
    worker.start()
    first = worker.pid
    worker.stop()
    assert threading.current_thread() not in waiting, "whoever stops it does not wait"
    worker.start()
    second = worker.pid
    assert first is not None and second not in (None, first)
    end = time.monotonic() + 10
    while os.path.exists(f"/proc/{first}/exe") and time.monotonic() < end:
        time.sleep(0.02)
    with contextlib.suppress(OSError):
        assert not os.readlink(f"/proc/{first}/exe"), "it still runs"
    assert worker.run(Task(slowly, {"seconds": 0.0})) == 0.0 and worker.pid == second
    worker.stop()


def test_one_started_right_after_a_stop_is_not_ended_with_the_one_before() -> None:
    worker = Worker()
    errors: list[BaseException] = []

    def first() -> None:
        try:
            worker.run(Task(slowly, {"seconds": 30.0}))
        except BaseException as error:
            errors.append(error)

    asking = threading.Thread(target=first)
    asking.start()
    while worker.pid is None:
        time.sleep(0.01)
    time.sleep(0.3)
    worker.stop()
    worker.start()
    second = worker.pid
    asking.join(60)
    assert [type(e) for e in errors] == [Stopped] and worker.pid == second is not None
    assert worker.run(Task(slowly, {"seconds": 0.0})) == 0.0 and worker.pid == second
    worker.stop()


def test_a_worker_can_be_stopped_while_its_process_is_only_coming(monkeypatch: pytest.MonkeyPatch) -> None:
    """A cold server takes seconds for the first one; who edits meanwhile stops what is no longer wanted, and must not stand still for it."""
    coming, come, begin, made = threading.Event(), threading.Event(), CONTEXT.Process.start, []

    def slow_start(process: multiprocessing.Process) -> None:
        made.append(process)
        coming.set()
        assert come.wait(60)
        begin(process)

    monkeypatch.setattr(CONTEXT.Process, "start", slow_start)
    worker, ended = Worker(), []

    def ask() -> None:
        with pytest.raises(Stopped):
            worker.run(Task(slowly, {"seconds": 0.0}))
        ended.append(True)

    asking = threading.Thread(target=ask)
    asking.start()
    assert coming.wait(60)
    stopping = threading.Thread(target=worker.stop)
    stopping.start()
    stopping.join(30)
    waited = stopping.is_alive()
    come.set()
    asking.join(60)
    assert not waited and ended == [True] and worker.pid is None
    made[0].join(30)
    assert made[0].exitcode is not None, "the process nobody waits for is ended as soon as it is there"
    assert worker.run(Task(slowly, {"seconds": 0.0})) == 0.0
    worker.stop()


def test_what_is_stopped_just_before_its_process_comes_is_not_done(monkeypatch: pytest.MonkeyPatch) -> None:
    worker, start = Worker(), Worker.start
    monkeypatch.setattr(Worker, "start", lambda self: (self.stop(), start(self)))
    with pytest.raises(Stopped):
        worker.run(Task(slowly, {"seconds": 0.0}))
    monkeypatch.setattr(Worker, "start", start)
    assert worker.run(Task(slowly, {"seconds": 0.0})) == 0.0, "the process that came is there for the next"
    worker.stop()
