"""Work in other processes: slow stages, dossiers, the checks of the register. One protocol for all.

A worker is a process forked from a warm server that holds no window and no threads; it does one task after another and is told the
next by a pipe no one else can reach. It tells its progress while it works. What it is doing is stopped by ending it: nothing is left
running that nobody wants. One that dies, hangs or takes more memory than it may ends as an error with its reason, never as one of ours.
"""

from __future__ import annotations

import contextlib
import multiprocessing
import os
import pickle
import resource
import signal
import sys
import threading
import time
import traceback
import types
from collections.abc import Callable, Iterator, Mapping
from multiprocessing.connection import Connection
from typing import Any, NamedTuple

from nuthatch.core.graph.progress import heard_by, listening, tell
from nuthatch.core.units import system, use

MOST_MEMORY = 4_000_000_000
"""Bytes of memory a worker may ask for, its libraries included."""
LONGEST_READING = 300.0
"""Seconds that reading a file may take."""
LONGEST_START = 120.0
"""Seconds a process may need until it has its task: a busy machine is no failure."""
NICE = 5
CONTEXT = multiprocessing.get_context("forkserver")
_STARTING = threading.Lock()
WARM = ["nuthatch.core.assess", "pvlib.irradiance", "pvlib.solarposition", "scipy.sparse.linalg", "scipy.spatial"]
# Said here, not where the warm server is asked for: whichever worker is started first starts the server, and a cold one stays cold.
CONTEXT.set_forkserver_preload(WARM)


class Task(NamedTuple):
    """What a worker is to do: a function of a module, what it is handed, the longest it may take [s]."""

    function: Callable[..., object]
    arguments: Mapping[str, Any]
    seconds: float = 600.0


class WorkerEnded(RuntimeError):
    """A worker that ended before its task did: why, in words."""


class Stopped(Exception):
    """The task is no longer wanted: its worker was stopped."""


def in_a_worker() -> bool:
    """Whether this process is a worker's: it has none of its own."""
    return bool(multiprocessing.current_process().daemon)


class Worker:
    """One process for one task after another. `stop` may be called from any thread, and ends what runs; the next task gets a new process."""

    def __init__(self, warm: Callable[[], None] | None = None, memory: int = MOST_MEMORY) -> None:
        self._warm, self._memory = warm, memory
        self._process: Any = None
        self._pipe: Connection | None = None
        self._turn, self._coming, self._gate = threading.Lock(), threading.Lock(), threading.Lock()
        self._wanted = 0

    @property
    def pid(self) -> int | None:
        """The process, where one is there."""
        return self._process.pid if self._process is not None else None

    def start(self) -> None:
        """Have a process ready; where it is stopped while it is only coming, there is none."""
        with self._coming:
            with self._gate:
                if self._process is not None and self._process.is_alive():
                    return
                wanted = self._wanted
            ours, theirs = CONTEXT.Pipe()
            process = CONTEXT.Process(target=_serve, args=(theirs, self._warm, self._memory), daemon=True)
            with _main_left_out():
                if wanted != self._wanted:  # stopped while others were coming
                    return
                process.start()  # takes seconds where the server is cold: whoever stops it meanwhile does not wait at the gate
            theirs.close()
            with self._gate:
                if wanted == self._wanted:
                    self._process, self._pipe = process, ours
                    return
        ours.close()
        _put_down(process, wait=True)

    def run(self, task: Task, tell: Callable[[Any], None] | None = None) -> object:
        """The result of a task; what it tells meanwhile goes to `tell`, on this thread. Raises what the task raises, WorkerEnded where its
        process dies or takes too long, Stopped where somebody stopped it."""
        wanted = self._wanted
        with self._turn:
            if wanted != self._wanted:
                raise Stopped
            self.start()
            with self._gate:
                pipe, process = self._pipe, self._process
                if pipe is None or wanted != self._wanted:  # stopped while it was coming, or in the very moment it was there
                    raise Stopped
            try:
                pipe.send_bytes(pickle.dumps((task.function, dict(task.arguments), system()), pickle.HIGHEST_PROTOCOL))
                return self._answer(pipe, task.seconds, tell)
            except (EOFError, OSError):
                self._end(of=process)  # another may have been started since it was stopped
                if wanted != self._wanted:
                    raise Stopped from None
                raise WorkerEnded(f"its process ended ({_ending(process)})") from None

    def _answer(self, pipe: Connection, seconds: float, tell: Callable[[object], None] | None) -> object:
        """What comes until the task is done; its time runs from when the process has it."""
        until = time.monotonic() + LONGEST_START
        while True:
            if not pipe.poll(max(until - time.monotonic(), 0.0)):
                self._end()
                raise WorkerEnded(f"it took longer than {seconds:g} s")
            kind, content = pickle.loads(pipe.recv_bytes())
            if kind == "begun":
                until = time.monotonic() + seconds
                continue
            if kind == "done":
                return content
            if kind == "failed":
                raise content
            if tell is not None:
                try:
                    tell(content)
                except BaseException:
                    self._end()  # nobody listens to the rest
                    raise

    def stop(self) -> None:
        """End what runs; the task's caller gets Stopped. Whoever stops waits neither until it is gone nor until it has come."""
        with self._gate:
            self._wanted += 1
        self._end(wait=False)

    def _end(self, wait: bool = True, of: object = None) -> None:
        with self._gate:
            if of is not None and self._process is not of:
                return
            process, self._process = self._process, None
            self._pipe = None  # who waits at it sees the other end go
        if process is not None:
            _put_down(process, wait)


def _put_down(process: Any, wait: bool) -> None:
    """End a process, and wait until it is gone; else another thread does."""
    with contextlib.suppress(OSError, ValueError):
        process.kill()
        if wait:
            process.join(5)
        else:
            threading.Thread(target=process.join, args=(5,), daemon=True).start()


@contextlib.contextmanager
def _main_left_out() -> Iterator[None]:
    """A new process would run the main module of the program again, to find what was declared there; nothing of ours is."""
    with _STARTING:
        main = sys.modules["__main__"]
        sys.modules["__main__"] = types.ModuleType("__main__")
        try:
            yield
        finally:
            sys.modules["__main__"] = main


def _ending(process: Any) -> str:
    """How a process ended, in words."""
    with contextlib.suppress(Exception):
        process.join(2)
    code = getattr(process, "exitcode", None)
    if code is not None and code < 0:
        with contextlib.suppress(ValueError):
            return f"signal {-code}, {signal.Signals(-code).name}"
    return f"exit code {code}" if code is not None else "nobody knows how"


def get_ready() -> None:
    """Start the server that workers are forked from; the first worker does it otherwise."""
    from multiprocessing.forkserver import ensure_running

    ensure_running()


# in the worker


def _serve(pipe: Connection, warm: Callable[[], None] | None, memory: int) -> None:
    """Do what comes through the pipe until its other end is gone."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl+C in a terminal is for the program that started it
    with contextlib.suppress(OSError):
        os.nice(NICE)
    with contextlib.suppress(OSError, ValueError):
        resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
    if warm is not None:
        warm()
    while True:
        try:
            asked = pipe.recv_bytes()
        except (EOFError, OSError):
            return
        _send(pipe, ("begun", None))
        _send(pipe, _done(pipe, asked, memory))


def _done(pipe: Connection, asked: bytes, memory: int) -> tuple[str, object]:
    """(kind, content) of the answer to a task."""
    try:
        function, arguments, units = pickle.loads(asked)
        use(units)
        with heard_by(lambda news: _send(pipe, ("told", news))):
            return "done", function(**arguments)
    except MemoryError:
        return "failed", WorkerEnded(f"it needs more memory than the {memory / 1e9:g} GB it may have")
    except BaseException as error:  # told to the program, which says it
        return "failed", _portable(error)


def _portable(error: BaseException) -> BaseException:
    """An error that can be sent, with its trace as a note."""
    trace = "".join(traceback.format_exception(error))
    try:
        found: BaseException = pickle.loads(pickle.dumps(error))
        if str(found) != str(error):
            raise ValueError
    except Exception:  # one that cannot be sent is told by its words
        found = RuntimeError(f"{type(error).__name__}: {error}")
    if not isinstance(found, Exception):
        found = RuntimeError(f"{type(error).__name__}: {error}")
    found.add_note(trace)
    return found


def _send(pipe: Connection, thing: object) -> None:
    try:
        data = pickle.dumps(thing, pickle.HIGHEST_PROTOCOL)
    except Exception as problem:  # a result that cannot be sent is an error of ours, told as one
        data = pickle.dumps(("failed", RuntimeError(f"its result cannot be handed over ({type(problem).__name__}: {problem})")))
    with contextlib.suppress(OSError):
        pipe.send_bytes(data)


def worked_off(function: Callable[..., object], rows: tuple[tuple[str, Mapping[str, object]], ...]) -> int:
    """In a worker: one result after another of a slow stage, each told with its key as soon as it is there; and how far the whole is."""
    for n, (key, arguments) in enumerate(rows):
        with _inner(n, len(rows)):
            value = function(**arguments)
        tell(Part(key, value))
        tell((n + 1) / len(rows))
    return len(rows)


class Part(NamedTuple):
    """A result that is there before the rest."""

    key: str
    value: object


@contextlib.contextmanager
def _inner(n: int, of: int) -> Iterator[None]:
    """What a calculation tells of itself, as its share of the whole."""
    with heard_by(_shifted(listening(), n, of)):
        yield


def _shifted(outer: Callable[[object], None], n: int, of: int) -> Callable[[object], None]:
    return lambda news: outer((n + news) / of if isinstance(news, int | float) else news)
