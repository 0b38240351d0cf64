"""The window's commands as data: name, keys, what they do."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenu, QToolButton

from nuthatch.core.library import DEMO, demo_home
from nuthatch.core.units import SYSTEMS, system
from nuthatch.desktop.settings import SCALES
from nuthatch.desktop.theme.style import icon, theme

if TYPE_CHECKING:
    from nuthatch.desktop.window import MainWindow


def make_actions(window: MainWindow) -> None:
    """Give the window its actions."""

    def made(text: str, keys: str, do: Any, symbol: str = "") -> QAction:
        action = QAction(text, window)
        if keys:
            action.setShortcut(QKeySequence(keys))
        action.triggered.connect(lambda _=False: do())
        if symbol:
            action.setIcon(icon(symbol))
        action.setToolTip(f"{text} ({keys.replace('+', ' ')})" if keys else text)
        window.addAction(action)
        return action

    w = window
    w.undo_action = made("Undo", "Ctrl+Z", w.undo, "undo-2")
    w.redo_action = made("Redo", "Ctrl+Shift+Z", w.redo, "redo-2")
    w.save_action = made("Save", "Ctrl+S", w.save, "save")
    w.save_as_action = made("Save as …", "Ctrl+Shift+S", w.save_as)
    w.open_action = made("Open …", "Ctrl+O", w.open_dialog)
    w.new_action = made("New home …", "Ctrl+N", w.show_new)
    w.like_action = made("New home like this one …", "Ctrl+Shift+N", lambda: w.new_like(w.document.home, w.document.weather_bytes()))
    w.homes_action = made("Homes", "Ctrl+H", w.show_homes, "homes")
    w.office_action = made("Office profile", "Ctrl+Shift+O", w.show_office, "office")
    w.ledger_action = made("Ledger of assumptions", "Ctrl+Shift+L", w.show_ledger)
    w.visit_action = made("List for the visit …", "Ctrl+L", w.visit)
    w.print_action = made("Print the dossier …", "Ctrl+P", w.print_dossier)
    w.help_action = made("Help for this step", "F1", w.toggle_help)
    w.quit_action = made("Quit", "Ctrl+Q", w.close)
    w.dark_action = made("Dark", "Ctrl+Shift+D", lambda: w.appearance.dark(not theme.dark))
    w.units_action = made("Other units", "Ctrl+U", lambda: w.appearance.units(SYSTEMS[1 - SYSTEMS.index(system())]))
    w.alone_action = made("Drawing alone", "F8", w.drawing_alone)
    w.strip_action = made("Margins as a strip", "F9", lambda: w.margins.toggle_strip())
    made("Jump", "Ctrl+K", lambda: w.jump.setFocus())
    made("Next step", "Ctrl+PgDown", lambda: w._step(1))
    made("Previous step", "Ctrl+PgUp", lambda: w._step(-1))


def home_menu(window: MainWindow) -> QToolButton:
    """The button with the menu of the window's commands."""
    button = QToolButton()
    button.setText("Home ▾")
    button.setAccessibleName("Home menu")
    button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
    button.setStyleSheet("QToolButton::menu-indicator { image: none; }")
    menu = QMenu(button)
    w = window
    for action in (w.new_action, w.like_action, w.open_action, w.save_action, w.save_as_action):
        menu.addAction(action)
    earlier = menu.addMenu("Earlier versions")
    assert earlier is not None
    earlier.aboutToShow.connect(lambda: w.list_versions(earlier))
    demo = menu.addMenu("Demo homes")
    assert demo is not None
    for key in DEMO:
        demo.addAction(demo_home(key).name, lambda key=key: w.open_demo(key))
    demo.addAction("All, with the scheme of 24 plots", w.show_demo_folder)
    menu.addSeparator()
    for action in (w.homes_action, w.office_action, w.ledger_action, w.visit_action, w.print_action):
        menu.addAction(action)
    menu.addSeparator()
    for action in (w.alone_action, w.strip_action, w.dark_action):
        menu.addAction(action)
    scaling = menu.addMenu("Scaling")
    assert scaling is not None
    for scale in SCALES:
        scaling.addAction(f"{scale} %", lambda scale=scale: w.appearance.scale(scale))
    menu.addAction(w.help_action)
    menu.addAction(w.quit_action)
    button.setMenu(menu)
    return button
