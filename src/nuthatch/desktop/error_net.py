"""One net under everything: an exception nobody caught becomes a sentence, a log, and work kept aside, never an abort."""

from __future__ import annotations

import contextlib
import datetime
import sys
import threading
import traceback
from pathlib import Path
from types import TracebackType
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from nuthatch.core.files.places import state_folder

LARGEST_LOG = 1_000_000


def log_file() -> Path:
    """Where traces are kept."""
    return state_folder() / "trouble.log"


def write_log(error: BaseException) -> Path:
    """Add an exception's trace to the log; an older log makes room. A log that cannot be written stops nothing."""
    path = log_file()
    with contextlib.suppress(OSError):
        path.parent.mkdir(parents=True, exist_ok=True)
        if path.exists() and path.stat().st_size > LARGEST_LOG:
            path.replace(path.with_suffix(".log.old"))
        when = datetime.datetime.now().isoformat(timespec="seconds")
        with open(path, "a", encoding="utf-8") as stream:
            stream.write(f"\n{when}\n{''.join(traceback.format_exception(error))}")
    return path


def sentence(error: BaseException) -> str:
    """What a person is told."""
    return f"Something went wrong that should not have ({type(error).__name__}: {error}). Your work is kept; a report lies in {log_file()}"


class Net(QObject):
    """`caught(sentence)` on the interface's thread, whichever thread the exception came from."""

    caught = pyqtSignal(str)

    def spread(self) -> None:
        """Catch what would end the program from now on."""
        sys.excepthook = self._hook
        threading.excepthook = lambda args: self._hook(args.exc_type, args.exc_value or args.exc_type(), args.exc_traceback)

    def _hook(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> Any:
        if issubclass(kind, KeyboardInterrupt):
            sys.__excepthook__(kind, error, trace)
            return
        write_log(error)
        with contextlib.suppress(RuntimeError):  # the application is gone
            self.caught.emit(sentence(error))
