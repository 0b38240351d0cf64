"""A window on a demo home, ready and settled."""

from __future__ import annotations

import contextlib
import gc
import time
from collections.abc import Callable, Iterator
from dataclasses import replace

import pytest
from PyQt6.QtCore import QEvent
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from nuthatch.core.changes.changes import apply
from nuthatch.core.climate.climate import Climate
from nuthatch.core.dossier.makeup import made_for, profiles
from nuthatch.core.graph.memo import Memo
from nuthatch.core.library import demo_home, shipped_key
from nuthatch.core.model.dossier import Chapter
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace as put
from nuthatch.desktop.app import application
from nuthatch.desktop.document import Document
from nuthatch.desktop.weights import IDLE, Weighing
from nuthatch.desktop.window import MainWindow
from tests.form_homes import form_home
from tests.ready import for_tests
from tests.undetailed import at_rest

_wait_until = QtBot.waitUntil


def _patient(self: QtBot, callback: Callable[[], bool | None], *, timeout: int = 0) -> None:
    _wait_until(self, callback, timeout=max(timeout, 240_000))


QtBot.waitUntil = _patient  # a busy machine is no failure
Weighing.idle = 600_000  # a window left alone weighs each of its values in another process: only where a test is about that
for_tests()
_closed = 0
_states = Memo()
_climates: dict[str, Climate | None] = {}


def briefly(home: Home, *more: str) -> Home:
    """A home whose dossier is the client's short one, with some chapters more: its pages are quickly made."""
    made = apply(made_for(home, next(p for p in profiles() if p.id == "client")), home)
    chapters = (*made.dossier.chapters, *(Chapter(id=f"chapter-{key}", chapter=key) for key in more))
    return put(made, dossier=put(made.dossier, chapters=chapters))


def _opened(home: Home) -> Document:
    """A home as opened before: its weather is read, and a home that is the same one is assessed already."""
    document = Document(home)
    document.stores = replace(document.stores, memo=_states)
    document.climates.update(_climates)
    return document


def _let_go(window: MainWindow) -> None:
    """A window goes with all it holds, before the next one is made."""
    global _closed
    _climates.update({sha: found for sha, found in window.document.climates.items() if found is not None and shipped_key(sha)})
    window.document.session.saved()
    window.close()
    window.deleteLater()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    _closed += 1
    if _closed % 16 == 0:
        gc.collect()


@pytest.fixture
def weighed_at_rest(monkeypatch: pytest.MonkeyPatch) -> None:
    """Values are weighed when a home is left alone, as for a person."""
    monkeypatch.setattr(Weighing, "idle", IDLE)


@pytest.fixture(scope="session")
def qapp_cls() -> type[QApplication]:
    return QApplication


@pytest.fixture
def open_home(qtbot: QtBot) -> Iterator[Callable[[Home], MainWindow]]:
    """Opens a home in a window and waits until it is computed."""
    application()
    opened: list[MainWindow] = []

    def made(home: Home, document: Document | None = None, settle: bool = True) -> MainWindow:
        window = MainWindow(document or _opened(home))
        opened.append(window)
        window.show()
        window.activateWindow()
        if settle:
            qtbot.waitUntil(window.settled)
        return window

    yield made
    for window in opened:
        _let_go(window)


@contextlib.contextmanager
def shared_window(home: Home | None = None) -> Iterator[MainWindow]:
    """One window on Osier Lane 7, or another home, for a module's tests."""
    application()
    window = MainWindow(_opened(home or demo_home("osier-lane-7")))
    window.show()
    window.activateWindow()
    end = time.monotonic() + 60
    while not window.settled() and time.monotonic() < end:
        QApplication.processEvents()
    yield window
    _let_go(window)


@pytest.fixture
def form_window(open_home) -> MainWindow:
    """Osier Lane 7 as it was entered by the quick form."""
    return open_home(form_home("osier-lane-7"))


@pytest.fixture
def osier_window(open_home) -> MainWindow:
    """Osier Lane 7; its details stay as they are, whatever is edited: to solve them anew is tested where it matters."""
    return open_home(at_rest(demo_home("osier-lane-7")))
