"""Jobs shared out between this process and a copy of it: where two processors are free, long lists of work take half the time.

A copy (fork, POSIX) holds all that the jobs read, so nothing is handed over but results. It is made only where no other thread runs, does
nothing but its jobs, and ends with its parent. Where none can be made, or it ends early, the jobs are done here.
"""

from __future__ import annotations

import contextlib
import ctypes
import os
import pickle
import signal
import threading
from collections.abc import Callable, Sequence
from typing import Any, TypeVar

Result = TypeVar("Result")
_DIES_WITH_ITS_PARENT = 1
"""PR_SET_PDEATHSIG of prctl(2)."""


def shared_out(jobs: Sequence[Callable[[], Result]]) -> list[Result]:
    """The results of jobs, in their order: each is taken by whichever process is free. Results must pickle; a job's error is raised here."""
    found: dict[int, Result] = {}
    if len(jobs) > 1 and may_copy():
        found = _by_two(jobs)
    return [found[n] if n in found else job() for n, job in enumerate(jobs)]


def may_copy() -> bool:
    """Whether a copy would help, and is safe: a second processor, no other thread that could hold a lock."""
    return hasattr(os, "fork") and len(os.sched_getaffinity(0)) > 1 and threading.active_count() == 1


def _by_two(jobs: Sequence[Callable[[], Result]]) -> dict[int, Result]:
    """What both processes made; a job is taken by reading its number from a pipe that both hold."""
    numbers, given = os.pipe()
    os.write(given, bytes(range(min(len(jobs), 256))))
    os.close(given)
    back, sent = os.pipe()
    try:
        child = os.fork()
    except OSError:
        for end in (numbers, back, sent):
            os.close(end)
        return {}
    if child == 0:
        _work_and_end(jobs, numbers, sent)
    os.close(sent)
    try:
        found = dict(_taken(jobs, numbers))
        with os.fdopen(back, "rb") as stream:
            data = stream.read()
    except BaseException:
        with contextlib.suppress(OSError):
            os.kill(child, signal.SIGKILL)
        raise
    finally:
        os.close(numbers)
        os.waitpid(child, 0)
    with contextlib.suppress(pickle.UnpicklingError, EOFError):
        found |= pickle.loads(data)
    return found


def _taken(jobs: Sequence[Callable[[], Result]], numbers: int) -> Any:
    while taken := os.read(numbers, 1):
        yield taken[0], jobs[taken[0]]()


def _work_and_end(jobs: Sequence[Callable[[], object]], numbers: int, sent: int) -> None:
    """The copy: its jobs, their results, and no more. What fails here is done again, and said, by the first."""
    parent = os.getppid()
    with contextlib.suppress(Exception):
        ctypes.CDLL(None).prctl(_DIES_WITH_ITS_PARENT, signal.SIGKILL)
    try:
        if os.getppid() == parent:
            found = dict(_taken(jobs, numbers))
            with os.fdopen(sent, "wb") as stream:
                stream.write(pickle.dumps(found, pickle.HIGHEST_PROTOCOL))
    finally:
        os._exit(0)
