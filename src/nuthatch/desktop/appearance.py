"""How the window looks: light or dark, units, scaling."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from nuthatch.core.units import SYSTEMS, system, use
from nuthatch.desktop import settings
from nuthatch.desktop.theme.style import apply_theme, theme


class Appearance(QObject):
    """Changes the look and remembers it. `leaving` before: what is shown in the old look goes first, for styling it takes long;
    `changed` after: it is made anew; `said(label, detail)`."""

    leaving = pyqtSignal()
    changed = pyqtSignal()
    said = pyqtSignal(str, str)

    def dark(self, dark: bool) -> None:
        """Light or dark."""
        self.leaving.emit()
        apply_theme(dark)
        settings.change(dark=dark)
        self.changed.emit()

    def other_light(self) -> None:
        """Dark where it is light, light where it is dark."""
        self.dark(not theme.dark)

    def units(self, name: str) -> None:
        """Metric or inch-pound, everywhere; no value of the home changes."""
        self.leaving.emit()
        use(name)
        settings.change(units=name)
        self.changed.emit()
        self.said.emit("Units", f"{name}; no value of the home has changed")

    def other_units(self) -> None:
        """The other system of units."""
        self.units(SYSTEMS[1 - SYSTEMS.index(system())])

    def scale(self, scale: int) -> None:
        """Scaling of the whole window; the window system takes it when a program starts."""
        settings.change(scale=scale)
        self.said.emit(f"Scaling {scale} %", "holds when Nuthatch is opened the next time")
