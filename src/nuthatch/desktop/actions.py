"""The window's commands as data: name, text, keys, picture; and the menu they stand in."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenu, QToolButton, QWidget

from nuthatch.core.library import DEMO, demo_home
from nuthatch.desktop.settings import SCALES
from nuthatch.desktop.theme.style import icon

COMMANDS = (
    ("undo", "Undo", "Ctrl+Z", "undo-2"),
    ("redo", "Redo", "Ctrl+Shift+Z", "redo-2"),
    ("save", "Save", "Ctrl+S", "save"),
    ("save as", "Save as …", "Ctrl+Shift+S", ""),
    ("open", "Open …", "Ctrl+O", ""),
    ("new", "New home …", "Ctrl+N", ""),
    ("like", "New home like this one …", "Ctrl+Shift+N", ""),
    ("homes", "Homes", "Ctrl+H", "homes"),
    ("office", "Office profile", "Ctrl+Shift+O", "office"),
    ("ledger", "Ledger of assumptions", "Ctrl+Shift+L", ""),
    ("visit", "List for the visit …", "Ctrl+L", ""),
    ("print", "Print the dossier …", "Ctrl+P", ""),
    ("help", "Help for this step", "F1", ""),
    ("quit", "Quit", "Ctrl+Q", ""),
    ("dark", "Dark", "Ctrl+Shift+D", ""),
    ("units", "Other units", "Ctrl+U", ""),
    ("inspector", "Inspector", "F7", ""),
    ("alone", "Drawing alone", "F8", ""),
    ("strip", "Margins as a strip", "F9", ""),
    ("jump", "Jump", "Ctrl+K", ""),
    ("next", "Next step", "Ctrl+PgDown", ""),
    ("previous", "Previous step", "Ctrl+PgUp", ""),
)


FIRST_LOOK = "first look"
"""In the place of a demo home's key: the first of them with the hints."""


class Commands(dict[str, QAction]):
    """The commands of a window by name; each does what the window says."""

    def __init__(self, window: QWidget, does: Mapping[str, Callable[[], object]]) -> None:
        super().__init__()
        for name, text, keys, _ in COMMANDS:
            action = self[name] = QAction(text, window)
            action.setShortcut(QKeySequence(keys))
            action.triggered.connect(lambda _=False, do=does[name]: do())
            action.setToolTip(f"{text} ({keys.replace('+', ' ')})")
            window.addAction(action)
        self.restyle()

    def restyle(self) -> None:
        """Pictures in the colours of now."""
        for name, _, _, symbol in COMMANDS:
            if symbol:
                self[name].setIcon(icon(symbol))


def home_menu(
    commands: Commands, list_versions: Callable[[QMenu], None], demo: Callable[[str], None], scale: Callable[[int], None]
) -> QToolButton:
    """The button with the menu of the window's commands. demo: opens a demo home by its key, all of them for '', the first with hints for FIRST_LOOK."""
    button = QToolButton()
    button.setText("Home ▾")
    button.setAccessibleName("Home menu")
    button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
    button.setStyleSheet("QToolButton::menu-indicator { image: none; }")
    menu = QMenu(button)
    for name in ("new", "like", "open", "save", "save as"):
        menu.addAction(commands[name])
    earlier = _below(menu, "Earlier versions")
    earlier.aboutToShow.connect(lambda: list_versions(earlier))
    homes = _below(menu, "Demo homes")
    for key in DEMO:
        homes.addAction(demo_home(key).name, lambda key=key: demo(key))
    homes.addAction("A first look, with five hints", lambda: demo(FIRST_LOOK))
    homes.addAction("All, with the scheme of 24 plots", lambda: demo(""))
    for group in (("homes", "office", "ledger", "visit", "print"), ("inspector", "alone", "strip", "dark")):
        menu.addSeparator()
        for name in group:
            menu.addAction(commands[name])
    scaling = _below(menu, "Scaling")
    for percent in SCALES:
        scaling.addAction(f"{percent} %", lambda percent=percent: scale(percent))
    for name in ("help", "quit"):
        menu.addAction(commands[name])
    button.setMenu(menu)
    return button


def _below(menu: QMenu, title: str) -> QMenu:
    made = menu.addMenu(title)
    assert made is not None
    return made
