"""The site from above: the home, what stands near it, what is assumed on the ring, the wind, and the shadows of an hour."""

from __future__ import annotations

from dataclasses import dataclass
from math import cos, radians, sin

import numpy as np
import shapely
from numpy.typing import NDArray

from nuthatch.core.assess import Assessment
from nuthatch.core.model.site import SiteObject
from nuthatch.core.results.figure import Array
from nuthatch.core.sketch import Handle, Picture, PointXY, Pull, Sketch, snapping
from nuthatch.core.sun import site
from nuthatch.core.sun.shares import SunPath
from nuthatch.core.sun.shelter import WAYS, rose
from nuthatch.core.sun.stages import OWN, PATH, RISE, SHELTER, TURN, lie_of, middle_of
from nuthatch.core.units import show, unit_of, with_unit
from nuthatch.core.views.shadows import Hour, sun_of
from nuthatch.core.views.shape.plan_frame import Frame

Size = tuple[float, float]
NEAREST, MARGIN, RIM, HINT = 22.0, 20.0, 13.0, 14.0
"""The least radius that is shown [m]; around the ring, how broad it is, and what the hint below takes [px]."""
FILLS = {"open": "card", "partly": "slate_pale", "mostly": "slate"}


@dataclass(frozen=True)
class Ground:
    """How the site lies on the sheet: the home's middle [m], where it is on the sheet, pixels a metre, the ring's inner radius [px]."""

    middle: tuple[float, float]
    at: PointXY
    scale: float
    radius: float

    @property
    def frame(self) -> Frame:
        """East and north on the sheet, for what is drawn on it."""
        return Frame(self.scale, self.at[0] - self.middle[0] * self.scale, self.at[1] + self.middle[1] * self.scale)

    def place(self, east: float, north: float) -> PointXY:
        return self.frame.at((east, north))

    def ring(self, points: Array) -> tuple[PointXY, ...]:
        return tuple(self.place(float(p[0]), float(p[1])) for p in points)

    def way(self, azimuth: float, radius: float) -> PointXY:
        return self.at[0] + radius * sin(radians(azimuth)), self.at[1] - radius * cos(radians(azimuth))


def ground_of(a: Assessment, size: Size) -> Ground:
    """All that is drawn in view, the home in the middle."""
    middle = middle_of(a[OWN], a[TURN])
    corners = [site.to_compass(np.array(p), a[TURN])[:, :2] for _, p in a[OWN]]
    corners += [r for r in map(site.ring_of, a.home.site.objects) if r is not None]
    corners += [np.array([[c.east.value, c.north.value]]) for c in a.home.site.plot if c.east is not None and c.north is not None]
    far = max((float(np.hypot(*(c - np.array(middle)).T).max()) for c in corners), default=NEAREST)
    radius = max(min(size[0], size[1] - HINT) / 2 - MARGIN - RIM, 20.0)
    return Ground(middle, (size[0] / 2, (size[1] - HINT) / 2), radius / max(far * 1.04, NEAREST), radius)


def site_plan(a: Assessment, size: Size = (420.0, 420.0), selected: str = "", hour: Hour | None = None, clear: bool = False) -> Sketch:
    """The site from above, north up; what stands on it can be dragged. clear: a backing sheet lies below it, which shows through."""
    made = Sketch(size[0], size[1], "Site plan")
    if not a[OWN] and not a.home.site.objects:
        made.say("draw the home's shape first: then its surroundings are drawn around it")
        return made
    ground = ground_of(a, size)
    _ring(made, a, ground, clear)
    _plot(made, a, ground)
    _wind(made, a, ground)
    home = _home(a)
    _shadows(made, a, ground, hour or Hour())
    _slope(made, a, ground)
    for part in shapely.get_parts(home):
        if isinstance(part, shapely.Polygon):
            made.path(
                ground.ring(np.array(part.exterior.coords)[:-1]), fill="white", stroke="ink", width=2.0, tip="the home", id="the-home"
            )
    for o in a.home.site.objects:
        _object(made, ground, o, o.id == selected)
    for o in a.home.site.objects:
        _label(made, ground, o)
    _compass(made, ground)
    _scale(made, ground, size)
    if hour is not None:
        _when(made, a, hour)
    made.hint = f"drag what stands here: {snapping(False)[2]}"
    return made


def _when(made: Sketch, a: Assessment, hour: Hour) -> None:
    """The hour whose shadows are shown."""
    sun = sun_of(a, hour)
    stands = "" if sun is None else f"sun {sun[0]:.0f}° high" if sun[0] > 0 else "the sun is down"
    made.text(4, 14, f"shadows of {hour.says}", size=11)
    made.text(4, 28, stands, size=10, color="muted")


def _home(a: Assessment) -> shapely.Geometry:
    flat = [shapely.Polygon(site.to_compass(np.array(p), a[TURN])[:, :2]) for _, p in a[OWN]]
    return shapely.union_all([f.buffer(0) for f in flat if f.area > 1e-4]) if flat else shapely.Polygon()


def _ring(made: Sketch, a: Assessment, ground: Ground, clear: bool) -> None:
    """What is assumed, where it still stands, and what is sheltered from wind."""
    inner, outer = ground.radius + 2, ground.radius + RIM
    circle = [ground.way(d, inner) for d in range(0, 360, 4)]
    made.path(circle, fill="" if clear else "card", stroke="line", width=0.8)
    rests = site.drawn_ways(a.home.site.objects, ground.middle) | bool(a.home.site.horizon)
    for sector in a.home.site.ring:
        if sector.start is None or sector.end is None:
            continue
        for start, end, drawn in _stretches(site.within(np.arange(360.0), sector.start.value, sector.end.value), rests):
            ways = np.linspace(start, end, max(int((end - start) / 3), 2))
            band = (*(ground.way(w, inner + 3) for w in ways), *(ground.way(w, outer) for w in ways[::-1]))
            words = "drawn, so this rests" if drawn else f"{sector.shade} shaded, assumed" if sector.shade != "open" else "open"
            fill = "" if drawn else FILLS[sector.shade]
            made.path(band, fill=fill, stroke="slate", width=0.8, dash=drawn, id=f"{sector.id}:{start}", tip=words)
            if sector.sheltered:
                green = (*(ground.way(w, inner) for w in ways), *(ground.way(w, inner + 3) for w in ways[::-1]))
                made.path(green, fill="lichen", stroke="", id=f"{sector.id}:wind:{start}", tip="sheltered from wind")


def _plot(made: Sketch, a: Assessment, ground: Ground) -> None:
    """The boundary of the plot."""
    corners = [ground.place(c.east.value, c.north.value) for c in a.home.site.plot if c.east is not None and c.north is not None]
    if len(corners) > 2:
        made.path(corners, stroke="muted", width=1.2, dash=True, tip="the plot")


def _slope(made: Sketch, a: Assessment, ground: Ground) -> None:
    """An arrow up the slope of the ground."""
    rise, to = a[RISE]
    if rise > 0:
        tail, tip = ground.way(to + 180, ground.radius * 0.8), ground.way(to, ground.radius * 0.8)
        wings = [ground.way(to + off, ground.radius * 0.74) for off in (-2.5, 2.5)]
        made.line(tail, tip, stroke="chestnut", width=1.0, dash=True)
        made.line(wings[0], tip, wings[1], stroke="chestnut", width=1.4)
        made.text(*ground.way(to + 7, ground.radius * 0.74), f"rises {100 * rise:.0f} %", size=10, color="chestnut_text", halo=True)


def _stretches(inside: NDArray[np.bool_], rests: NDArray[np.bool_]) -> list[tuple[int, int, bool]]:
    """(from, to, whether it rests) of the stretches of a sector, degrees past 360 where it goes over north."""
    found: list[tuple[int, int, bool]] = []
    begin = next((n for n in range(360) if inside[n] and not inside[n - 1]), 0)
    for n in range(begin, begin + 360):
        if not inside[n % 360]:
            break
        drawn = bool(rests[n % 360])
        if found and found[-1][2] == drawn:
            found[-1] = found[-1][0], n + 1, drawn
        else:
            found.append((n, n + 1, drawn))
    return found


def _wind(made: Sketch, a: Assessment, ground: Ground) -> None:
    climate = a.station
    if climate is None or climate.weather.wind_from is None:
        return
    parts = rose(climate.weather.wind, climate.weather.wind_from)
    for n, part in enumerate(parts):
        way, long = n * 360 / WAYS, ground.radius * 0.9 * float(part / parts.max())
        wedge = (ground.at, ground.way(way - 12, long), ground.way(way + 12, long))
        made.path(wedge, fill="glass", stroke="", id=f"wind:{n}", tip=f"{100 * part:.0f} % of the wind, from the weather file")


def _shadows(made: Sketch, a: Assessment, ground: Ground, hour: Hour) -> None:
    """Of everything that stands here, on level ground at the home's level 0."""
    path = a[PATH]
    if not isinstance(path, SunPath):
        return
    n = hour.day * 24 + hour.hour
    if path.height[n] < 2:
        return
    z, w = radians(float(path.height[n])), radians(float(path.azimuth[n]))
    away = np.array([-sin(w) / np.tan(z), -cos(w) / np.tan(z)])
    lie = lie_of(a[OWN], a[TURN], a[RISE])
    bodies = [np.concatenate(t.faces) for t in (site.thing_of(o, lie) for o in a.home.site.objects) if t is not None]
    bodies += [site.to_compass(np.array(p), a[TURN]) for _, p in a[OWN]]
    shapes = []
    for points in bodies:
        flat = np.concatenate([points[:, :2] + np.maximum(points[:, 2:], 0.0) * away])
        shapes.append(shapely.MultiPoint(flat).convex_hull.buffer(0))
    limit = shapely.Point(*ground.middle).buffer(ground.radius / ground.scale)
    for part in shapely.get_parts(shapely.intersection(shapely.union_all(shapes), limit)):
        if isinstance(part, shapely.Polygon):
            made.path(ground.ring(np.array(part.exterior.coords)[:-1]), fill="stone", stroke="", id="shadow")


def _object(made: Sketch, ground: Ground, o: SiteObject, chosen: bool) -> None:
    ring, place = site.ring_of(o), site.place_of(o)
    if ring is None or place is None:
        return
    shape = ground.ring(ring)
    fill = "slate_pale" if o.kind == "block" else "lichen_pale"
    tip = f"{o.name}, {with_unit(place[5], 'length')} high"
    made.path(
        shape,
        fill=fill,
        stroke="tide" if chosen else "ink",
        width=2.0 if chosen else 1.0,
        pattern="" if o.kind == "block" else "dots",
        id=o.id,
        tip=tip,
    )
    step, fine, _ = snapping(False)
    pulls = (
        Pull(o.id, "east", place[0], (1 / ground.scale, 0.0), step * 2, fine, -2000.0, 2000.0),
        Pull(o.id, "north", place[1], (0.0, -1 / ground.scale), step * 2, fine, -2000.0, 2000.0),
    )
    made.handles.append(Handle(o.id, shape, pulls, f"{show(place[0], 'length')} east, {show(place[1], 'length')} north"))


def _label(made: Sketch, ground: Ground, o: SiteObject) -> None:
    place = site.place_of(o)
    if place is None:
        return
    x, y = ground.place(place[0], place[1])
    small = min(place[3], place[4]) * ground.scale < 40
    below = y + place[4] * ground.scale / 2 + 12 if small else y
    if o.name:
        made.text(x, below, o.name, size=10.5, anchor="middle", halo=small or o.kind != "block")
    if not small:
        made.text(x, y + 12, f"{show(place[5], 'length', 1)} {unit_of('length')}", size=9.5, color="muted", anchor="middle")


def _compass(made: Sketch, ground: Ground) -> None:
    for way, name in ((0, "N"), (90, "E"), (180, "S"), (270, "W")):
        x, y = ground.way(way, ground.radius + RIM + 9)
        made.text(x, y + 4, name, size=11, bold=way == 0, anchor="middle")


def _scale(made: Sketch, ground: Ground, size: Size) -> None:
    long = next((m for m in (5, 10, 20, 50, 100, 200, 500) if m * ground.scale >= 40), 1000)
    x, y = size[0] - 14, size[1] - 10
    made.line((x - long * ground.scale, y), (x, y), stroke="ink", width=1.2)
    made.text(x, y - 5, with_unit(float(long), "length", 0), size=10, color="muted", anchor="end")


def shelter_words(a: Assessment) -> str:
    """“moderate: 39 % of the wind from sheltered directions”; '' where nothing is said of the surroundings."""
    found = a[SHELTER]
    if found is None or found.share.value is None:
        return ""
    told = "" if found.told else "; where the wind comes from is not in this file"
    return f"{found.shielding} shielding: {100 * float(found.share.value):.0f} % of the wind from sheltered directions{told}"


PICTURES = (Picture("site-plan", "Site plan", lambda a, of: site_plan(a)),)
