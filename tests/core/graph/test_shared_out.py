"""Jobs shared out between two processes: all done once, in order, whoever takes them; a copy that dies leaves none undone."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import threading
import time

import pytest

from nuthatch.core.graph import shared_out as shared
from nuthatch.core.graph.shared_out import may_copy, shared_out


@pytest.fixture
def two(monkeypatch: pytest.MonkeyPatch) -> None:
    """As in a worker, where no other thread runs: the runner of the tests has one that only reads a pipe."""
    monkeypatch.setattr(shared, "may_copy", lambda: True)


def slow(n: int) -> tuple[int, int]:
    time.sleep(0.05)
    return n, os.getpid()


def test_both_work_and_results_come_in_order(two: None) -> None:
    found = shared_out([lambda n=n: slow(n) for n in range(8)])  # type: ignore[misc]
    assert [n for n, _ in found] == list(range(8))
    assert len({pid for _, pid in found}) == 2 and os.getpid() in {pid for _, pid in found}
    assert shared_out([]) == [] and shared_out([lambda: 3]) == [3]


def test_more_jobs_than_a_byte_counts(two: None) -> None:
    assert shared_out([lambda n=n: n for n in range(300)]) == list(range(300))  # type: ignore[misc]


def test_an_error_is_raised_here_wherever_it_happened(two: None) -> None:
    def wrong() -> int:
        raise ValueError("no such page")

    with pytest.raises(ValueError, match="no such page"):
        shared_out([lambda: slow(1)[0], wrong, wrong, lambda: slow(2)[0]])


def test_a_copy_that_dies_leaves_nothing_undone(two: None) -> None:
    here = os.getpid()

    def deadly(n: int) -> int:
        time.sleep(0.05)
        if os.getpid() != here:
            os.kill(os.getpid(), signal.SIGKILL)
        return n

    assert shared_out([lambda n=n: deadly(n) for n in range(5)]) == list(range(5))  # type: ignore[misc]


def test_no_copy_beside_other_threads() -> None:
    gate = threading.Event()
    waiting = threading.Thread(target=gate.wait)
    waiting.start()
    try:
        assert not may_copy()
        assert {pid for _, pid in shared_out([lambda n=n: slow(n) for n in range(3)])} == {os.getpid()}  # type: ignore[misc]
    finally:
        gate.set()
        waiting.join()


def test_a_copy_ends_with_its_parent() -> None:
    """A dossier that is no longer wanted is stopped by ending its worker: its copy must not go on."""
    script = (
        "import os, sys, time\n"
        "from nuthatch.core.graph.shared_out import shared_out\n"
        "def job():\n    os.write(1, b'%d\\n' % os.getpid())\n    time.sleep(60)\n"
        "shared_out([job, job])\n"
    )
    process = subprocess.Popen([sys.executable, "-c", script], stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    pids = {int(process.stdout.readline()) for _ in range(2)} if may_copy_there() else {process.pid}
    process.kill()
    process.wait()
    process.stdout.close()
    for pid in pids - {process.pid}:
        for _ in range(100):
            if not alive(pid):
                break
            time.sleep(0.05)
        assert not alive(pid)


def may_copy_there() -> bool:
    return len(os.sched_getaffinity(0)) > 1


def alive(pid: int) -> bool:
    try:
        with open(f"/proc/{pid}/stat", encoding="utf-8") as told:
            return told.read().rpartition(")")[2].split()[0] != "Z"
    except OSError:
        return False
