"""A window on a demo home, ready and settled."""

from __future__ import annotations

import contextlib
import time
from collections.abc import Callable, Iterator

import pytest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from nuthatch.core.library import demo_home
from nuthatch.core.model.home import Home
from nuthatch.desktop.app import application
from nuthatch.desktop.document import Document
from nuthatch.desktop.window import MainWindow
from tests.form_homes import form_home

_wait_until = QtBot.waitUntil


def _patient(self: QtBot, callback: Callable[[], bool | None], *, timeout: int = 120_000) -> None:
    _wait_until(self, callback, timeout=timeout)


QtBot.waitUntil = _patient  # a busy machine is no failure


@pytest.fixture(scope="session")
def qapp_cls() -> type[QApplication]:
    return QApplication


@pytest.fixture
def open_home(qtbot: QtBot) -> Iterator[Callable[[Home], MainWindow]]:
    """Opens a home in a window and waits until it is computed."""
    application()
    opened: list[MainWindow] = []

    def made(home: Home, document: Document | None = None, settle: bool = True) -> MainWindow:
        window = MainWindow(document or Document(home))
        qtbot.addWidget(window, before_close_func=lambda w: w.document.session.saved())
        opened.append(window)
        window.show()
        window.activateWindow()
        if settle:
            qtbot.waitUntil(window.settled)
        return window

    yield made
    for window in opened:
        window.document.session.saved()


@contextlib.contextmanager
def shared_window(home: Home | None = None) -> Iterator[MainWindow]:
    """One window on Osier Lane 7, or another home, for a module's tests."""
    application()
    window = MainWindow(Document(home or demo_home("osier-lane-7")))
    window.show()
    window.activateWindow()
    end = time.monotonic() + 60
    while not window.settled() and time.monotonic() < end:
        QApplication.processEvents()
    yield window
    window.document.session.saved()
    window.close()


@pytest.fixture
def form_window(open_home) -> MainWindow:
    """Osier Lane 7 as it was entered by the quick form."""
    return open_home(form_home("osier-lane-7"))


@pytest.fixture
def osier_window(open_home) -> MainWindow:
    return open_home(demo_home("osier-lane-7"))
