"""Checks homes in helper processes, one a core, so that the window stays alive; progress and cancel."""

from __future__ import annotations

import os
import sys
from pathlib import Path

from PyQt6.QtCore import QObject, QProcess, pyqtSignal

from nuthatch.core.register import row_from_line

MOST = 4


class Checking(QObject):
    """`found(row)` for each home, `moved(done)`, `ended(paths not checked)`."""

    found = pyqtSignal(object)
    moved = pyqtSignal(int)
    ended = pyqtSignal(object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._processes: list[QProcess] = []
        self._left: dict[str, Path] = {}
        self._done = 0

    @property
    def running(self) -> bool:
        return bool(self._processes)

    def start(self, paths: list[Path]) -> None:
        """Check these files."""
        self.cancel()
        self._left = {str(p): p for p in paths}
        self._done = 0
        cores = max(1, min(os.cpu_count() or 1, MOST, len(paths)))
        for n in range(cores):
            process = QProcess(self)
            process.setProcessChannelMode(QProcess.ProcessChannelMode.SeparateChannels)
            process.readyReadStandardOutput.connect(lambda p=process: self._read(p))
            process.finished.connect(lambda *_, p=process: self._finished(p))
            process.errorOccurred.connect(
                lambda error, p=process: self._finished(p) if error == QProcess.ProcessError.FailedToStart else None
            )
            self._processes.append(process)
            process.start(sys.executable, ["-m", "nuthatch.core.register"])
            process.write("".join(f"{p}\n" for p in paths[n::cores]).encode(errors="surrogateescape"))
            process.closeWriteChannel()

    def _read(self, process: QProcess) -> None:
        while process.canReadLine():
            try:
                row = row_from_line(bytes(process.readLine()))
            except (ValueError, TypeError):
                continue
            self._left.pop(row.path, None)
            self._done += 1
            self.found.emit(row)
        self.moved.emit(self._done)

    def _finished(self, process: QProcess) -> None:
        if process not in self._processes:
            return
        self._read(process)
        self._processes.remove(process)
        process.deleteLater()
        if not self._processes:
            self.ended.emit(list(self._left.values()))

    def cancel(self) -> None:
        """Stop; what was computed so far is remembered by the helpers."""
        stopped, self._processes = self._processes, []
        for process in stopped:
            process.finished.disconnect()
            process.readyReadStandardOutput.disconnect()
            process.terminate()
            if not process.waitForFinished(2000):
                process.kill()
                process.waitForFinished(1000)
            process.deleteLater()
        if stopped:
            self.ended.emit(list(self._left.values()))
