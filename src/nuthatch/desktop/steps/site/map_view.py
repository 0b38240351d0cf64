"""The map as a view: dragged to another place, zoomed about the pointer, drawn anew at every window so that marks keep their size."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF

from nuthatch.core.sketch import Sketch
from nuthatch.core.views.climate_map import Sheet, Window
from nuthatch.desktop.widgets.sketch_view import SketchView


class MapView(SketchView):
    """Shows `make(window, width, height)`."""

    def __init__(self, name: str) -> None:
        super().__init__(name, turns=True)
        self.window_shown, self._whole = Window(), Window()
        self._draw: Callable[[Window, float, float], Sketch] | None = None
        self.turned.connect(self._dragged)

    def show_map(self, draw: Callable[[Window, float, float], Sketch], whole: Window) -> None:
        """Show a map. whole: where it starts and what 0 brings back."""
        if whole != self._whole:
            self._whole = self.window_shown = whole
        self._draw = draw
        self._anew()

    def _anew(self) -> None:
        draw = self._draw
        if draw is not None:
            self.show_made(lambda w, h: draw(self.window_shown, w, h))

    def _sheet(self) -> Sheet:
        return Sheet(self.window_shown, (float(max(self.width(), 1)), float(max(self.height(), 1))))

    def _dragged(self, dx: float, dy: float) -> None:
        sheet = self._sheet()
        self.window_shown = Window(*sheet.place(sheet.size[0] / 2 - dx, sheet.size[1] / 2 - dy), self.window_shown.span).held()
        self._anew()

    def zoom(self, by: float, around: QPointF | None = None) -> None:
        """Nearer or farther about a point of the view."""
        place = self._sheet().place(around.x(), around.y()) if around is not None else None
        self.window_shown = self.window_shown.zoomed(by, place)
        self._anew()

    def fit(self) -> None:
        """Where it started."""
        self.window_shown = self._whole
        self._anew()
