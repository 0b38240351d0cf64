"""Writes dossiers in a process of its own, so that the window never waits for it: started early, its libraries warm when it is asked.

The window sends the home and its climate, the helper works out the assessment anew and writes the file. Both ends are this program,
joined by pipes no one else can reach.
"""

from __future__ import annotations

import os
import pickle
import subprocess
import sys
import threading
from contextlib import suppress
from pathlib import Path
from typing import IO, Any

from nuthatch.core.climate.climate import Climate
from nuthatch.core.dossier.report import Letterhead, write
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.model.home import Home
from nuthatch.core.units import use

NICE = 5


def _send(stream: IO[bytes], thing: Any) -> None:
    data = pickle.dumps(thing)
    stream.write(len(data).to_bytes(8, "big") + data)
    stream.flush()


def _receive(stream: IO[bytes]) -> Any:
    """The next thing sent, None where the other end is gone."""
    head = stream.read(8)
    return pickle.loads(stream.read(int.from_bytes(head, "big"))) if len(head) == 8 else None


def warm() -> None:
    """Import what a dossier needs and set one small chart, so that the first one is not slower than the next."""
    import weasyprint  # noqa: F401

    from nuthatch.core.views import charts
    from nuthatch.look import palette

    with charts.DRAWING:
        charts.to_svg(charts.empty(1, 1, palette(), "warm"))


def serve(source: IO[bytes], sink: IO[bytes]) -> None:
    """Write what is asked for until the other end is gone; answers '' or why it could not be written."""
    from nuthatch.core.assess import assess

    with suppress(OSError):
        os.nice(NICE)
    warm()
    while (asked := _receive(source)) is not None:
        home, climate, path, office, units = asked
        use(units)
        try:
            write(assess(home, climate), path, office)
            answer = ("", "")
        except HomeFileError as problem:
            answer = ("refused", str(problem))
        except Exception as error:  # told to the window, which says it; the helper lives on
            answer = ("failed", f"{type(error).__name__}: {error}")
        _send(sink, answer)


class Helper:
    """The window's end of it."""

    def __init__(self) -> None:
        self._process: subprocess.Popen[bytes] | None = None
        self._turn = threading.Lock()

    def start(self) -> None:
        """Start the process, where none is running."""
        if self._process is None or self._process.poll() is not None:
            command = [sys.executable, "-m", "nuthatch.core.dossier.helper"]
            self._process = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL)

    def write(self, home: Home, climate: Climate | None, path: Path, office: Letterhead, units: str) -> None:
        """Write a dossier. Raises HomeFileError where it cannot be written, RuntimeError for an error of ours."""
        with self._turn:
            self.start()
            process = self._process
            assert process is not None and process.stdin is not None and process.stdout is not None
            try:
                _send(process.stdin, (home, climate, path, office, units))
                answer = _receive(process.stdout)
            except OSError:
                answer = None
        if answer is None:
            self.stop()
            raise RuntimeError("the process that writes dossiers has ended")
        kind, text = answer
        if kind == "refused":
            raise HomeFileError(text)
        if kind == "failed":
            raise RuntimeError(text)

    def stop(self) -> None:
        """End the process."""
        process, self._process = self._process, None
        if process is not None:
            with suppress(OSError):
                if process.stdin is not None:
                    process.stdin.close()
                process.terminate()
                process.wait(5)


if __name__ == "__main__":
    serve(sys.stdin.buffer, sys.stdout.buffer)
