"""The map climates are chosen on: land, the places of weather files, and the site."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import lru_cache
from math import cos, radians

import numpy as np
import shapely

from nuthatch.core.climate.land import countries
from nuthatch.core.climate.shelf import Offer, distance
from nuthatch.core.sketch import PointXY, Sketch
from nuthatch.core.units import show, unit_of, with_unit

Size = tuple[float, float]
WIDEST, NARROWEST = 360.0, 1.5
"""How many degrees of longitude the map shows at most and at least."""
APART = 9.0
"""Marks nearer to each other than this [px] are one."""
GRID = (1.0, 2.0, 5.0, 10.0, 30.0)


@dataclass(frozen=True)
class Window:
    """What the map shows: its middle, and how many degrees of longitude from left to right."""

    latitude: float = 48.0
    longitude: float = 5.0
    span: float = 40.0

    def zoomed(self, by: float, around: tuple[float, float] | None = None) -> Window:
        """Nearer or farther, a place (latitude, longitude) staying where it is."""
        span = min(max(self.span / by, NARROWEST), WIDEST)
        if around is None:
            return replace(self, span=span)
        part = span / self.span
        return Window(around[0] + (self.latitude - around[0]) * part, around[1] + (self.longitude - around[1]) * part, span).held()

    def held(self) -> Window:
        """On the earth."""
        return replace(self, latitude=min(max(self.latitude, -75.0), 80.0), longitude=(self.longitude + 180) % 360 - 180)


def around(places: Iterable[tuple[float, float]]) -> Window:
    """A window with all places in it, latitude and longitude [°]."""
    rows = np.array(list(places))
    if not len(rows):
        return Window()
    low, high = rows.min(axis=0), rows.max(axis=0)
    span = max(float(high[1] - low[1]) * 1.4, float(high[0] - low[0]) * 2.6, 14.0)
    return Window(float(low[0] + high[0]) / 2, float(low[1] + high[1]) / 2, min(span, WIDEST)).held()


@dataclass(frozen=True)
class Sheet:
    """The window on a sheet of a size."""

    window: Window
    size: Size

    @property
    def scale(self) -> float:
        """Pixels a degree of longitude."""
        return self.size[0] / self.window.span

    @property
    def steep(self) -> float:
        """Pixels a degree of latitude: distances are true in the middle of the sheet."""
        return self.scale / max(cos(radians(self.window.latitude)), 0.25)

    def at(self, latitude: float, longitude: float) -> PointXY:
        off = (longitude - self.window.longitude + 180) % 360 - 180
        return self.size[0] / 2 + off * self.scale, self.size[1] / 2 - (latitude - self.window.latitude) * self.steep

    def place(self, x: float, y: float) -> tuple[float, float]:
        """Latitude and longitude [°] of a point of the sheet."""
        latitude = self.window.latitude - (y - self.size[1] / 2) / self.steep
        return latitude, (self.window.longitude + (x - self.size[0] / 2) / self.scale + 180) % 360 - 180


@lru_cache(maxsize=1)
def _pieces() -> tuple[tuple[str, shapely.Polygon], ...]:
    return tuple((c.name, p) for c in countries() for p in shapely.get_parts(c.land) if isinstance(p, shapely.Polygon))


@lru_cache(maxsize=1)
def _boxes() -> np.ndarray:
    return np.array([p.bounds for _, p in _pieces()])


def climate_map(
    offers: tuple[Offer, ...], site: tuple[float, float] | None, used: str, chosen: str, window: Window, size: Size = (560.0, 330.0)
) -> Sketch:
    """Land, marks, the site as a plumb-bob. used, chosen: ids of the home's climate and of the one looked at."""
    made, sheet = Sketch(size[0], size[1], "Climates on offer"), Sheet(window, size)
    made.rect(0, 0, *size, fill="glass", stroke="", id="")
    _land(made, sheet)
    _graticule(made, sheet)
    _marks(made, sheet, [o for o in offers if not o.fault], used, chosen, site)
    if site is not None:
        _plumb(made, sheet.at(*site), site)
    _bar(made, sheet)
    made.hint = "drag to move · wheel, + and − to zoom · click a place"
    return made


def _land(made: Sketch, sheet: Sheet) -> None:
    half_x, half_y = sheet.window.span / 2, sheet.size[1] / 2 / sheet.steep
    for turn in (-360.0, 0.0, 360.0):
        west, east = sheet.window.longitude - half_x + turn, sheet.window.longitude + half_x + turn
        south, north = sheet.window.latitude - half_y, sheet.window.latitude + half_y
        b = _boxes()
        for n in np.flatnonzero((b[:, 0] < east) & (b[:, 2] > west) & (b[:, 1] < north) & (b[:, 3] > south)):
            name, whole = _pieces()[n]
            seen = shapely.clip_by_rect(whole, west, south, east, north)
            for part in shapely.get_parts(seen):
                if isinstance(part, shapely.Polygon) and not part.is_empty:
                    ring = np.array(part.exterior.coords)[:-1]
                    x = sheet.size[0] / 2 + (ring[:, 0] - turn - sheet.window.longitude) * sheet.scale
                    y = sheet.size[1] / 2 - (ring[:, 1] - sheet.window.latitude) * sheet.steep
                    made.path(list(zip(x.tolist(), y.tolist(), strict=True)), fill="card", stroke="line", width=0.8, tip=name)


def _graticule(made: Sketch, sheet: Sheet) -> None:
    step = next((g for g in GRID if g * sheet.scale > 70), GRID[-1])
    north, south = sheet.place(0, 0)[0], sheet.place(*sheet.size)[0]
    for latitude in np.arange(np.ceil(max(south, -85) / step) * step, min(north, 85), step):
        y = sheet.at(float(latitude), sheet.window.longitude)[1]
        made.line((0, y), (sheet.size[0], y), stroke="grid", width=0.7)
        made.text(4, y - 3, f"{abs(latitude):g}° {'N' if latitude >= 0 else 'S'}", size=9.5, color="muted")
    first = np.ceil((sheet.window.longitude - sheet.window.span / 2) / step) * step
    for longitude in np.arange(first, sheet.window.longitude + sheet.window.span / 2, step):
        x = sheet.size[0] / 2 + (longitude - sheet.window.longitude) * sheet.scale
        made.line((x, 0), (x, sheet.size[1]), stroke="grid", width=0.7)
        on = (longitude + 180) % 360 - 180
        made.text(x + 3, 11, f"{abs(on):g}° {'E' if on >= 0 else 'W'}", size=9.5, color="muted")


def _marks(made: Sketch, sheet: Sheet, offers: list[Offer], used: str, chosen: str, site: tuple[float, float] | None) -> None:
    """One mark for all that lie too near to each other to be told apart; the one in use and the one looked at stand on top."""
    cells: dict[tuple[int, int], list[Offer]] = {}
    for o in offers:
        x, y = sheet.at(o.latitude, o.longitude)
        if -8 <= x <= sheet.size[0] + 8 and -8 <= y <= sheet.size[1] + 8:
            cells.setdefault((int(x // APART), int(y // APART)), []).append(o)
    for here in sorted(cells.values(), key=lambda row: any(o.id in (used, chosen) for o in row)):
        first = next((o for o in here if o.id == chosen), None) or next((o for o in here if o.id == used), here[0])
        x, y = sheet.at(first.latitude, first.longitude)
        r = 4.0 if len(here) == 1 else 5.5
        names = ", ".join(o.name for o in here[:3]) + (f" and {len(here) - 3} more" if len(here) > 3 else "")
        away = f", {with_unit(distance(site, (first.latitude, first.longitude)) * 1000, 'distance')} away" if site is not None else ""
        corners = [(x - r, y), (x, y - r), (x + r, y), (x, y + r)]
        fill = "ink" if first.id == used else "tide"
        made.path(
            corners,
            fill=fill,
            stroke="ink" if first.id == chosen else "white",
            width=2.0 if first.id == chosen else 1.0,
            id=first.id,
            tip=names + away,
        )
        if len(here) > 1:
            made.text(x + r + 1, y + 4, str(len(here)), size=9.5, color="muted", halo=True)
        if first.id in (used, chosen) or (len(offers) < 12 and len(here) == 1):
            made.text(x + r + 4, y + 4, first.name, size=11, bold=first.id == chosen, halo=True)


def _plumb(made: Sketch, at: PointXY, site: tuple[float, float]) -> None:
    x, y = at
    made.line((x, y - 26), (x, y - 9), stroke="ink", width=1.4)
    made.path(
        ((x - 4, y - 9), (x + 4, y - 9), (x, y)),
        fill="ink",
        stroke="ink",
        id="site",
        tip=f"the site: {show(site[0], 'coordinate')}°, {show(site[1], 'coordinate')}°",
    )
    made.path(((x - 3, y - 26), (x, y - 29), (x + 3, y - 26), (x, y - 23)), fill="white", stroke="ink", width=1.2)


def _bar(made: Sketch, sheet: Sheet) -> None:
    """A length to measure by, true in the middle of the map."""
    unit = unit_of("distance")
    each = sheet.steep / 111_195 * (1000 if unit == "km" else 1609.344)
    long = next((d for d in (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000) if d * each >= 50), 5000)
    x, y = sheet.size[0] - 12, sheet.size[1] - 10
    made.line((x - long * each, y), (x, y), stroke="ink", width=1.4)
    made.text(x, y - 5, f"{long} {unit}", size=10, color="ink", anchor="end", halo=True)
