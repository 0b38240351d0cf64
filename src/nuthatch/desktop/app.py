"""Starts the application; the picture mode waits until nothing is computing."""

from __future__ import annotations

import argparse
import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, QThreadPool, QTimer
from PyQt6.QtWidgets import QApplication, QWidget

from nuthatch.core.library import demo_folder, demo_home
from nuthatch.core.office import load_office, start_home
from nuthatch.core.steps import PAGES, STEPS
from nuthatch.core.units import use
from nuthatch.desktop import settings
from nuthatch.desktop.document import Document
from nuthatch.desktop.error_net import Net
from nuthatch.desktop.theme.style import apply_theme, icon, load_fonts, theme
from nuthatch.named_home import Refused, read_home

if TYPE_CHECKING:
    from nuthatch.desktop.window import MainWindow


def application(dark: bool = False) -> QApplication:
    """The one QApplication, with fonts and style."""
    existing = QApplication.instance()
    app = existing if isinstance(existing, QApplication) else QApplication(sys.argv[:1])
    if not app.styleSheet():
        app.setApplicationName("Nuthatch")
        app.setDesktopFileName("nuthatch")
        app.setStyle("Fusion")
        load_fonts()
    elif theme.dark == dark:
        return app  # dressed already: to style every widget there is again takes a second
    apply_theme(dark)
    app.setWindowIcon(icon("nuthatch", "slate"))
    return app


def _document(options: argparse.Namespace) -> Document:
    if options.file:
        content, path = read_home(options.file)
        if path is not None:
            settings.save(settings.load().opened(path))
        return Document.of(content, path)
    if options.demo:
        return Document(demo_home("osier-lane-7"))
    office = load_office()[0]
    return Document(start_home(office.office), office.weather)


def _need_display(picture: bool) -> None:
    """Without a display a picture is made offscreen; a window is refused with a sentence instead of an abort of Qt."""
    if any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")):
        return
    if not picture:
        raise Refused("there is no display to open a window on; use “nuthatch check FILE” or --picture OUT.png")
    os.environ["QT_QPA_PLATFORM"] = "offscreen"


def run(options: argparse.Namespace) -> int:
    """Open the window; with a picture asked for, write it and end."""
    chosen = settings.load()
    use(options.units or chosen.units or load_office()[0].office.units)
    document = _document(options)
    _need_display(bool(options.picture))
    if chosen.scale != 100 and not options.picture:
        os.environ.setdefault("QT_SCALE_FACTOR", str(chosen.scale / 100))
    app = application(options.dark or (chosen.dark and not options.picture))
    from nuthatch.desktop.window import MainWindow

    window = MainWindow(document)
    net = Net()
    net.caught.connect(window.trouble)
    net.spread()
    if options.picture and options.size:
        width, _, height = options.size.partition("x")
        window.resize(int(width), int(height))
    window.show()
    if not options.picture:
        fit_screen(window)
    if options.demo and (not options.picture or options.step == "homes"):
        known = settings.load().folders
        folder = str(demo_folder())
        if folder not in known:
            settings.change(folders=(*known, folder))
    if options.picture:
        return picture(app, window, options.step, Path(options.picture))
    if not options.file and not options.demo and options.step == "cutaway":
        window.go("homes")
    else:
        show(window, options.step)
    if options.demo and not options.file:
        window.hints.begin()
    code = app.exec()
    finish(window)
    return code


def fit_screen(window: QWidget) -> None:
    """On a screen smaller than the least size (a small laptop at 200 %) the window takes what there is."""
    screen = window.screen()
    if screen is not None:
        room = screen.availableGeometry().size()
        if room.width() < window.minimumWidth() or room.height() < window.minimumHeight():
            window.setMinimumSize(min(room.width(), window.minimumWidth()), min(room.height(), window.minimumHeight()))
            window.resize(room)


def show(window: MainWindow, step: str) -> None:
    """Go to a step or a page."""
    if step in (*PAGES, *STEPS):
        window.go(step)


def finish(*windows: QWidget) -> None:
    """Close windows and let background work end before the interpreter takes Qt apart."""
    for window in windows:
        window.close()
    pool = QThreadPool.globalInstance()
    if pool is not None:
        pool.waitForDone(20000)
    QApplication.processEvents()
    for window in windows:
        window.deleteLater()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


def picture(app: QApplication, window: MainWindow, step: str, path: Path) -> int:
    """Write a picture of the window once it is settled."""
    if step not in (*STEPS, *PAGES):
        raise Refused(f"step “{step}” has no board in this version")
    show(window, step)
    state = {"calm": 0, "ok": False, "tries": 0}

    def look() -> None:
        state["tries"] += 1
        state["calm"] = state["calm"] + 1 if window.settled() else 0
        if state["calm"] >= 3:
            state["ok"] = window.grab().save(str(path), "PNG")
            app.quit()
        elif state["tries"] > 1200:
            app.quit()

    timer = QTimer()
    timer.setInterval(50)
    timer.timeout.connect(look)
    timer.start()
    app.exec()
    timer.stop()
    finish(window)
    if not state["ok"]:
        raise Refused(f"{path}: the picture could not be written")
    return 0
