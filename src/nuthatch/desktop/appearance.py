"""How the window looks: light or dark, units, scaling. Boards and rails are made again in the tokens and units of now."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QApplication

from nuthatch.core.units import use
from nuthatch.desktop import settings
from nuthatch.desktop.theme.style import apply_theme, icon

if TYPE_CHECKING:
    from nuthatch.desktop.window import MainWindow


class Appearance:
    """Changes the look of one window and remembers it."""

    def __init__(self, window: MainWindow) -> None:
        self.window = window

    def dark(self, dark: bool) -> None:
        """Light or dark."""
        w = self.window
        self._take_down()  # first: styling widgets that go anyway takes long
        apply_theme(dark)
        settings.change(dark=dark)
        for action, symbol in ((w.undo_action, "undo-2"), (w.redo_action, "redo-2"), (w.save_action, "save"), (w.homes_action, "homes")):
            action.setIcon(icon(symbol))
        self._made_anew()

    def units(self, name: str) -> None:
        """Metric or inch-pound, everywhere; no value of the home changes."""
        w = self.window
        w.route.setFocus()
        use(name)
        settings.change(units=name)
        w._units_state()
        self._made_anew()
        w.change_line.say("Units", f"{name}; no value of the home has changed")

    def scale(self, scale: int) -> None:
        """Scaling of the whole window; the window system takes it when a program starts."""
        settings.change(scale=scale)
        self.window.change_line.say(f"Scaling {scale} %", "holds when Nuthatch is opened the next time")

    def _take_down(self) -> None:
        """Remove the boards; each is made again when it is shown."""
        w = self.window
        if w.stack.isAncestorOf(QApplication.focusWidget() or w):
            w.route.setFocus()
        w.stack.take_down()

    def _made_anew(self) -> None:
        w = self.window
        step, page = w.step, w.page
        self._take_down()
        for other in (w.homes, w.office):
            if other is not None:
                other.restyle()
        w.show_step(step)
        if page != "home":
            w.show_homes() if page == "homes" else w.show_office()
        w.margins.refresh_bars()
        w.margins.refresh_rest()
        w.update()
