"""The horizon round the whole site as seen from the home: land, what stands there, the sun's arcs; its points can be dragged."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely

from nuthatch.core.assess import Assessment
from nuthatch.core.sketch import Handle, Picture, PointXY, Pull, Sketch
from nuthatch.core.sun import site
from nuthatch.core.sun.shares import Skyline, SunPath
from nuthatch.core.sun.stages import OWN, PATH, RISE, SKYLINE, TURN, lie_of
from nuthatch.core.units import show

Size = tuple[float, float]
HIGHEST = 66.0
"""How far up it is drawn [°]."""
DAYS_SHOWN = ((171, "21 June"), (79, "21 March"), (354, "21 December"))
EYE = 1.5
"""How high above the home's level 0 one looks from [m]."""


@dataclass(frozen=True)
class Panorama:
    """Directions and heights on a sheet; the middle is where the sun stands at noon."""

    size: Size
    middle: float = 180.0

    @property
    def left(self) -> float:
        return 28.0

    @property
    def wide(self) -> float:
        return self.size[0] - self.left - 8

    @property
    def high(self) -> float:
        return self.size[1] - 16 - 40

    def x(self, azimuth: float) -> float:
        return self.left + ((azimuth - self.middle + 180) % 360) / 360 * self.wide

    def y(self, height: float) -> float:
        return 16 + (1 - min(height, HIGHEST) / HIGHEST) * self.high

    def at(self, azimuth: float, height: float) -> PointXY:
        return self.x(azimuth), self.y(height)

    def back(self, x: float, y: float) -> tuple[float, float]:
        """Direction and height [°] of a point of the sheet."""
        azimuth = (self.middle - 180 + (x - self.left) / self.wide * 360) % 360
        return azimuth, min(max((1 - (y - 16) / self.high) * HIGHEST, 0.0), HIGHEST)


def panorama_of(a: Assessment, size: Size) -> Panorama:
    """South in the middle, north of the equator; north south of it."""
    south = a.station is not None and a.station.weather.latitude < 0
    return Panorama(size, 0.0 if south else 180.0)


def skyline(a: Assessment, size: Size = (560.0, 260.0), selected: str = "") -> Sketch:
    """Land, objects and the sun's arcs over the whole circle."""
    made, view = Sketch(size[0], size[1], "Horizon"), panorama_of(a, size)
    made.rect(view.left, 16, view.wide, view.high, fill="card", stroke="line")
    for h in (20, 40, 60):
        made.line((view.left, view.y(h)), (view.left + view.wide, view.y(h)), stroke="grid")
        made.text(view.left - 5, view.y(h) + 4, str(h), size=10, color="muted", anchor="end")
    for n, name in enumerate(("N", "NE", "E", "SE", "S", "SW", "W", "NW")):
        made.text(view.x(n * 45.0), size[1] - 24, name, size=10.5, color="ink" if n % 2 == 0 else "muted", anchor="middle")
    _objects(made, a, view)
    sky = a[SKYLINE]
    if isinstance(sky, Skyline):
        _land(made, sky, view)
    path = a[PATH]
    if isinstance(path, SunPath):
        for day, name in DAYS_SHOWN:
            _arc(made, path, day, name, view)
    _points(made, a, view, selected)
    made.hint = "double-click to put a point of the horizon · drag it: 1° steps · arrow keys 0.1° · Del takes it away"
    return made


def _land(made: Sketch, sky: Skyline, view: Panorama) -> None:
    ways = view.middle - 180 + np.arange(0.5, 360.0, 1.0)
    height, passes = sky.at(ways)
    line = [(view.left + (n + 0.5) / 360 * view.wide, view.y(float(h))) for n, h in enumerate(height)]
    foot = view.y(0)
    assumed = bool((passes > 0).any())
    tip = "assumed on the ring: part of the light passes" if assumed else "the horizon"
    closed = ((view.left, foot), (view.left, line[0][1]), *line, (view.left + view.wide, line[-1][1]), (view.left + view.wide, foot))
    made.path(closed, fill="stone", stroke="muted", width=0.8, dash=assumed, tip=tip)


def _objects(made: Sketch, a: Assessment, view: Panorama) -> None:
    lie = lie_of(a[OWN], a[TURN], a[RISE])
    eye = np.array([*lie.middle, EYE])
    shown = []
    for o in a.home.site.objects:
        thing = site.thing_of(o, lie)
        if thing is None:
            continue
        ends = np.concatenate([np.stack([f, np.roll(f, -1, axis=0)], axis=1) for f in thing.faces]) - eye
        along = np.linspace(0, 1, 10, endpoint=False)[None, :, None]
        points = (ends[:, :1] + (ends[:, 1:] - ends[:, :1]) * along).reshape(-1, 3)
        off = np.hypot(points[:, 0], points[:, 1])
        height = np.maximum(np.degrees(np.arctan2(points[:, 2], off)), 0.0)
        way = np.degrees(np.arctan2(points[:, 0], points[:, 1]))
        middle = float(np.degrees(np.arctan2(points[:, 0].mean(), points[:, 1].mean())))
        spread = (way - middle + 180) % 360 - 180
        x0 = view.x(middle)
        flat = [(x0 + float(s) / 360 * view.wide, view.y(float(h))) for s, h in zip(spread, height, strict=True)]
        shown.append((float(off.min()), o, shapely.MultiPoint(flat).convex_hull))
    frame = shapely.box(view.left, 16, view.left + view.wide, 16 + view.high)
    for _, o, hull in sorted(shown, key=lambda s: -s[0]):
        for part in shapely.get_parts(shapely.intersection(hull, frame)):
            if isinstance(part, shapely.Polygon) and part.area > 2:
                block = o.kind == "block"
                ring = [(float(x), float(y)) for x, y in part.exterior.coords[:-1]]
                made.path(
                    ring,
                    fill="slate_pale" if block else "lichen_pale",
                    stroke="ink",
                    width=0.8,
                    pattern="" if block else "dots",
                    id=o.id,
                    tip=o.name,
                )
                if part.bounds[2] - part.bounds[0] > 36:
                    made.text(
                        (part.bounds[0] + part.bounds[2]) / 2,
                        (part.bounds[1] + part.bounds[3]) / 2 + 4,
                        o.name,
                        size=10,
                        anchor="middle",
                        halo=True,
                    )


def _arc(made: Sketch, path: SunPath, day: int, name: str, view: Panorama) -> None:
    hours = [h for h in range(day * 24, day * 24 + 24) if path.height[h] > 0]
    line = sorted((view.at(float(path.azimuth[h]), float(path.height[h])) for h in hours), key=lambda p: p[0])
    if len(line) < 2:
        return
    made.line(*line, stroke="tide", width=1.6)
    x, y = min(line, key=lambda p: p[1])
    made.text(x, max(y - 5, 26), name, size=10.5, color="tide", anchor="middle", halo=True)


def _points(made: Sketch, a: Assessment, view: Panorama, selected: str) -> None:
    for p in a.home.site.horizon:
        if p.azimuth is None or p.height is None:
            continue
        x, y = view.at(p.azimuth.value, p.height.value)
        spot = ((x - 5, y - 5), (x + 5, y - 5), (x + 5, y + 5), (x - 5, y + 5))
        made.path(spot, fill="white", stroke="tide" if p.id == selected else "ink", width=2.0 if p.id == selected else 1.2, id=p.id)
        pulls = (
            Pull(p.id, "azimuth", p.azimuth.value, (360 / view.wide, 0.0), 1.0, 0.1, 0.0, 360.0),
            Pull(p.id, "height", p.height.value, (0.0, -HIGHEST / view.high), 1.0, 0.1, 0.0, 89.0),
        )
        says = f"{show(p.azimuth.value, 'angle')}°, {p.height.value:.1f}° high"
        made.handles.append(Handle(p.id, spot, pulls, says, spot=True))


PICTURES = (Picture("horizon", "Horizon", lambda a, _: skyline(a)),)
