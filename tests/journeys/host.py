"""One display and one warm process for all journeys in which nothing is killed: each is a copy of it, forked before there is a window.

Run: host.py  (reads lines of JSON: a journey to begin with its argv, environment, and where its words go, answered by its pid; or the pid of
one to wait for, answered by its exit code)
"""

from __future__ import annotations

import contextlib
import json
import os
import runpy
import sys
import traceback
from multiprocessing import forkserver

from nuthatch.core.workers import get_ready


def ready() -> None:
    """Read all that a window reads, and start the server its workers are forked from; no application, no thread."""
    import pvlib.irradiance  # noqa: F401
    import pvlib.solarposition  # noqa: F401
    from PyQt6 import QtPdf, QtPdfWidgets, QtTest, QtWidgets  # noqa: F401

    import nuthatch.cli  # noqa: F401
    import nuthatch.desktop.window  # noqa: F401
    from nuthatch.desktop.weights import Weighing
    from tests.ready import for_tests

    Weighing.idle = 600_000  # values of a home left alone are weighed in one journey, the first ten minutes
    for_tests()
    get_ready()


def run(asked: dict[str, object]) -> None:
    """In the copy: the journey, as if it were the program that was started. It leads a group of its own, which may be killed."""
    os.setsid()
    kept = {k: os.environ[k] for k in ("DISPLAY", "XAUTHORITY") if k in os.environ}
    os.environ.clear()
    os.environ.update({**asked["environment"], **kept})  # type: ignore[dict-item]
    for number, key in ((1, "out"), (2, "err")):
        os.dup2(os.open(str(asked[key]), os.O_WRONLY | os.O_CREAT | os.O_TRUNC), number)
    # the server of its workers is a brother, no child that could be looked after
    forkserver._forkserver.ensure_running = forkserver.ensure_running = lambda: None  # type: ignore[method-assign,attr-defined]
    command = [str(x) for x in asked["argv"]]  # type: ignore[attr-defined]
    code = 0
    try:
        if command[0] == "-m":
            sys.argv = command[1:]
            runpy.run_module(command[1], run_name="__main__", alter_sys=True)
        else:
            sys.argv = command
            runpy.run_path(command[0], run_name="__main__")
    except SystemExit as end:
        code = end.code if isinstance(end.code, int) else 0 if end.code is None else 1
        if isinstance(end.code, str):
            print(end.code, file=sys.stderr)
    except BaseException:
        traceback.print_exc()
        code = 1
    with contextlib.suppress(Exception):
        sys.stdout.flush()
        sys.stderr.flush()
    os._exit(code)


if __name__ == "__main__":
    ready()
    print("ready", flush=True)
    for line in sys.stdin:
        asked = json.loads(line)
        if "wait" in asked:
            _, status = os.waitpid(asked["wait"], 0)
            print(os.waitstatus_to_exitcode(status), flush=True)
            continue
        get_ready()  # anew, where a journey was killed in the very moment it asked for a worker: that ends the server of all
        child = os.fork()
        if child == 0:
            run(asked)
        print(child, flush=True)
