"""Attached files looked at: a private copy with a harmless name, removed when Nuthatch ends; what can execute is asked about."""

from __future__ import annotations

import atexit
import shutil
import tempfile
from functools import lru_cache
from pathlib import Path

from PyQt6.QtCore import QUrl
from PyQt6.QtGui import QDesktopServices
from PyQt6.QtWidgets import QMessageBox, QWidget

from nuthatch.core.files.disk import printable, why
from nuthatch.core.model.home import EvidenceFile
from nuthatch.desktop.desk import Desk

QUIET = frozenset(
    [
        ".pdf",
        ".png",
        ".jpg",
        ".jpeg",
        ".gif",
        ".bmp",
        ".tif",
        ".tiff",
        ".webp",
        ".heic",
        ".txt",
        ".csv",
        ".tsv",
        ".md",
        ".log",
        ".json",
        ".epw",
        ".xlsx",
        ".ods",
        ".docx",
        ".odt",
        ".pptx",
        ".odp",
        ".mp4",
        ".mov",
        ".wav",
        ".mp3",
        ".m4a",
        ".dxf",
    ]
)
"""Kinds that are looked at; anything else, and text that begins like a program, may be run by the system instead of shown."""
LONGEST_NAME = 120


@lru_cache(maxsize=1)
def _folder() -> Path:
    """The private folder of this run's copies; it goes when the program ends."""
    made = Path(tempfile.mkdtemp(prefix="nuthatch-"))
    atexit.register(shutil.rmtree, made, ignore_errors=True)
    return made


def harmless_name(name: str) -> str:
    """A file name for a copy: no path, no control characters, not hidden, not too long, with its ending."""
    plain = "".join("-" if c in '/\\:*?"<>|' or not c.isprintable() else c for c in name).strip(". ")
    stem, ending = Path(plain).stem, Path(plain).suffix
    while len((stem + ending).encode()) > LONGEST_NAME and stem:
        stem = stem[:-1]
    return (stem + ending if len(ending) < 20 else stem) or "attached file"


def may_execute(name: str, data: bytes) -> bool:
    """Whether a system might run the file instead of showing it."""
    return Path(harmless_name(name)).suffix.lower() not in QUIET or data[:2] in (b"#!", b"MZ") or data[:4] == b"\x7fELF"


def open_evidence(desk: Desk, file: EvidenceFile, parent: QWidget | None = None) -> str:
    """Open a copy of an attached file with the system's viewer; returns why that cannot be, or ''."""
    name = printable(file.name)
    data = desk.evidence_bytes(file.sha256)
    if data is None:
        return f"{name} is not in this home file any more"
    if may_execute(file.name, data) and not _agreed(name, parent):
        return f"{name} was not opened"
    try:
        folder = Path(tempfile.mkdtemp(dir=_folder()))
        copy = folder / harmless_name(file.name)
        copy.touch(mode=0o600)
        copy.write_bytes(data)
        copy.chmod(0o400)
    except OSError as error:
        return f"{name} could not be copied to be opened ({why(error)})"
    if QDesktopServices.openUrl(QUrl.fromLocalFile(str(copy))):
        return ""
    return f"no program of this system opens {name}; a copy lies at {copy} until Nuthatch ends"


def _agreed(name: str, parent: QWidget | None) -> bool:
    answer = QMessageBox.question(
        parent,
        "Open this file?",
        f"“{name}” is of a kind that the system may run as a program. Open it only if you know where it comes from.",
        QMessageBox.StandardButton.Open | QMessageBox.StandardButton.Cancel,
        QMessageBox.StandardButton.Cancel,
    )
    return answer == QMessageBox.StandardButton.Open
