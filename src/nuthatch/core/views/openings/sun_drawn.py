"""The sun on an opening: a strip for each month with what of the glass is in the sun hour by hour; what is seen from the glass."""

from __future__ import annotations

from math import atan, cos, degrees, pi, radians, sin, tan

import numpy as np
import shapely

from nuthatch.core.assess import Assessment
from nuthatch.core.climate.calendar import NAMES
from nuthatch.core.climate.sun import MONTH_HOURS
from nuthatch.core.model.home import Opening, OpeningType, find
from nuthatch.core.sketch import Handle, PointXY, Pull, Sketch
from nuthatch.core.solid.stages import BOUNDARY
from nuthatch.core.sun.edges import Edges
from nuthatch.core.sun.let_in import LetIn
from nuthatch.core.sun.openings import Stood, edges_of
from nuthatch.core.sun.shares import Skyline, SunPath
from nuthatch.core.sun.stages import LET_IN, OWN, PATH, REVEAL, RISE, SKYLINE, STOOD, TURN, things_of
from nuthatch.core.sun.standing import before
from nuthatch.core.units import kind_of, unit_of, with_unit
from nuthatch.core.views.climate_drawn import steps_of
from nuthatch.core.views.openings.hour_by_hour import hours_of
from nuthatch.core.views.shadows import Hour, sun_of

Size = tuple[float, float]
TINTS = ("stone", "white", "glass", "tide_pale", "tide")
"""Sunlit share: none, up to a quarter, a half, three quarters, all."""
DAYS_SHOWN = ((171, "21 June"), (79, "21 March"), (354, "21 December"))
HIGHEST = 75.0
"""How far up the drawing of what is seen goes [°]."""


def tint_of(share: float) -> str:
    """The tint of a sunlit share."""
    return TINTS[0] if share < 0.01 else TINTS[min(int(share * 4 - 1e-9) + 1, 4)]


def day_of(path: SunPath, day: int) -> tuple[float, float]:
    """Clock hours at which the sun rises and sets on a day; noon twice where it stays down."""
    height = path.height[day * 24 : day * 24 + 24]
    up = np.flatnonzero(height > 0)
    if not up.size:
        return 12.0, 12.0

    def crossing(low: int, high: int) -> float:
        if not (0 <= low < 24 and 0 <= high < 24):
            return 0.0 if low < 0 else 24.0
        a, b = height[low], height[high]
        return float(min(low, high) + 0.5 + abs(a if low < high else b) / (abs(a) + abs(b)))

    return crossing(up[0] - 1, up[0]), crossing(up[-1], up[-1] + 1)


def why_none(a: Assessment, opening: Opening) -> str:
    """Why an opening has no sun to show; '' where it has."""
    found, face = a.all_of(LET_IN).get(opening.id), a.all_of(BOUNDARY).get(opening.face)
    if isinstance(found, LetIn):
        return ""
    if face is not None and face.beyond.kind != "outside":
        return f"no sun: it faces {'an unheated space' if face.beyond.kind == 'unheated' else 'a neighbour' if face.beyond.kind == 'neighbour' else 'the ground'}"
    return "the sun on it is being worked out …" if a.computing else "the sun needs a climate, a face, a type and a size"


def sun_hours(a: Assessment, opening: Opening, size: Size = (420.0, 300.0), hour: Hour | None = None, heat: bool = False) -> Sketch:
    """A strip for each month, as long as its days, tinted by what of the glass is in the sun under a clear sky; `heat`: by the beam that comes
    in, the mean of the file's days. The hour looked at is marked."""
    made = Sketch(size[0], size[1], f"Sun on {opening.name}")
    why, let_in, path = why_none(a, opening), a.all_of(LET_IN).get(opening.id), a[PATH]
    if why or not isinstance(let_in, LetIn) or not isinstance(path, SunPath):
        made.say(why or "no sun")
        return made
    days = np.cumsum(MONTH_HOURS) // 24
    spans = [day_of(path, d) for d in range(0, 365, 5)]
    first, last = int(min(s[0] for s in spans)), int(np.ceil(max(s[1] for s in spans)))
    left, top, foot = 30.0, 22.0, 34.0
    step, row = (size[0] - left - 10) / max(last - first, 1), (size[1] - top - foot) / 12

    def x(hour: float) -> float:
        return left + (hour - first) * step

    for h in range(first - first % 2 + 2, last, 2):
        made.line((x(h), top), (x(h), top + 12 * row), stroke="grid")
        made.text(x(h), top - 6, str(h), size=10.5, color="muted", anchor="middle")
    made.text(4, top - 6, "hour", size=10.5, color="muted")
    known = hours_of(a, opening) if heat else None
    shares = let_in.by_hour
    beam = kind_of("power").to_shown(known.beam_by_month()) if known is not None else None
    bounds = steps_of(0.0, max(float(beam.max()), 1.0), len(TINTS)) if beam is not None else ()
    for m in range(12):
        y0, y1 = top + m * row + 1.5, top + (m + 1) * row - 1.5
        ends = [day_of(path, int(d)) for d in (days[m] - MONTH_HOURS[m] // 24, days[m] - 1)]
        made.text(16, (y0 + y1) / 2 + 4, NAMES[m][0], size=10.5, color="ink", anchor="middle")
        for h in range(first, last):
            if np.isnan(shares[m, h]):
                continue
            (l0, r0), (l1, r1) = ((min(max(h, s), e), min(max(h + 1, s), e)) for s, e in ends)
            if max(r0 - l0, r1 - l1) < 1e-6:
                continue
            tip = f"{NAMES[m]}, {h} to {h + 1} h: {100 * shares[m, h]:.0f} % of the glass in the sun"
            tint = tint_of(float(shares[m, h]))
            if beam is not None:
                tip += f", {beam[m, h]:.0f} {unit_of('power')} of beam in the mean"
                tint = TINTS[sum(float(beam[m, h]) >= b for b in bounds)]
            corners = ((x(l0), y0), (x(r0), y0), (x(r1), y1), (x(l1), y1))
            made.path(corners, fill=tint, stroke="", id=f"hour:{m}:{h}", tip=tip)
        (s0, e0), (s1, e1) = ends
        made.path(((x(s0), y0), (x(e0), y0), (x(e1), y1), (x(s1), y1)), stroke="muted", width=0.8)
    if hour is not None:
        month = int(np.searchsorted(days, hour.day, side="right"))
        at, y = x(hour.hour + 0.5), top + (month + 0.5) * row
        made.line((at, top), (at, top + 12 * row), stroke="ink", dash=True)
        made.path(_dot(at, y, 4.5), fill="white", stroke="ink", width=1.6)
    words = tuple(f"{b:g}" for b in bounds)
    if beam is not None:
        _legend(made, left, size[1] - 20, f"beam let in, {unit_of('power')}", (*words, ""))
    else:
        _legend(made, left, size[1] - 20, "of the glass in the sun", ("none", "25", "50", "75", "100 %"))
    return made


def _dot(x: float, y: float, r: float) -> list[PointXY]:
    return [(x + r * cos(w), y + r * sin(w)) for w in np.linspace(0, 2 * pi, 14, endpoint=False)]


def _legend(made: Sketch, x: float, y: float, title: str, words: tuple[str, ...]) -> None:
    made.text(x, y + 9, title, size=10.5, color="muted")
    for n, (tint, said) in enumerate(zip(TINTS, words, strict=True)):
        at = x + 128 + n * 36
        made.rect(at, y, 34, 9, fill=tint, stroke="line", width=0.8)
        made.text(at + 34, y + 19, said, size=9.5, color="muted", anchor="end")


# what is seen from the glass


def seen(a: Assessment, opening: Opening, size: Size = (420.0, 300.0), hour: Hour | None = None) -> Sketch:
    """What stands before an opening as seen from the middle of its glass: by direction and height, with the sun's arcs over it; the sun of an
    hour can be dragged along its arc, and to another season."""
    made = Sketch(size[0], size[1], f"Seen from {opening.name}")
    path, face, kind = a[PATH], a.all_of(BOUNDARY).get(opening.face), find(a.home, opening.type)
    why = why_none(a, opening)
    if why or face is None or not isinstance(path, SunPath) or not isinstance(kind, OpeningType):
        made.say(why or "nothing to see")
        return made
    edges = edges_of(opening, kind, a.all_of(REVEAL).get(opening.id, 0.0))
    left, top, foot = 26.0, 18.0, 24.0
    wide, high = size[0] - left - 8, size[1] - top - foot

    def at(azimuth: float, height: float) -> PointXY:
        off = (azimuth - face.azimuth + 180) % 360 - 180
        return left + (off + 90) / 180 * wide, top + (1 - height / HIGHEST) * high

    made.rect(left, top, wide, high, fill="card", stroke="line")
    for n in (20, 40, 60):
        made.line(at(face.azimuth - 90, n), at(face.azimuth + 90, n), stroke="grid")
        made.text(left - 5, at(face.azimuth, n)[1] + 4, str(n), size=10, color="muted", anchor="end")
    for off in range(-90, 91, 45):
        way = (face.azimuth + off) % 360
        made.text(at(face.azimuth + min(max(off, -89.9), 89.9), 0)[0], size[1] - 8, compass(way), size=10.5, color="muted", anchor="middle")
    frame = shapely.box(left, top, left + wide, top + high)
    sky = a[SKYLINE]
    if isinstance(sky, Skyline):
        _land(made, sky, face.azimuth, at)
    stood = a.all_of(STOOD).get(opening.id)
    if stood is not None and edges is not None:
        _things(made, a, stood, edges, frame, at)
    if edges is not None and edges.overhang > 0:
        _overhang(made, edges, face.azimuth, at)
    for day, name in DAYS_SHOWN:
        _arc(made, path, day, name, face.azimuth, at)
    if hour is not None:
        _sun(made, path, hour, face.azimuth, at, (wide, high))
    return made


SUN = "the-sun"
"""The handle of the sun; its pulls are `hour` and `season`: days from the longest night, within the half year it is in."""
LONGEST_NIGHT, HALF = 354, 182


def season_of(day: int) -> float:
    """Days of the year from the longest night, either way."""
    off = (day - LONGEST_NIGHT) % 365
    return float(min(off, 365 - off))


def day_in(season: float, before: int) -> int:
    """The day so far from the longest night, in the half of the year another day is in."""
    rising = (before - LONGEST_NIGHT) % 365 <= HALF
    return int(round(LONGEST_NIGHT + season if rising else LONGEST_NIGHT - season)) % 365


def _sun(made: Sketch, path: SunPath, hour: Hour, azimuth: float, at, size: Size) -> None:  # type: ignore[no-untyped-def]
    height, way = float(path.height[hour.of_year]), float(path.azimuth[hour.of_year])
    _arc(made, path, hour.day, "", azimuth, at)
    off = min(max((way - azimuth + 180) % 360 - 180, -89.0), 89.0)
    x, y = at(azimuth + off, min(max(height, 0.0), HIGHEST))
    seen_now = height > 0 and abs((way - azimuth + 180) % 360 - 180) < 90
    spot = tuple(_dot(x, y, 7.0))
    made.path(spot, fill="white" if seen_now else "stone", stroke="ink", width=1.8, id=SUN, tip=f"{hour.says}: {height:.0f}° high")
    across, up = size
    far = 1.0 if path.latitude >= 0 else -1.0
    pulls = (
        Pull(SUN, "hour", float(hour.hour), (far * 12 / across, 0.0), 1.0, 1.0, 0.0, 23.0),
        Pull(SUN, "season", season_of(hour.day), (0.0, -far * HALF / (47 / HIGHEST * up)), 2.0, 1.0, 0.0, float(HALF)),
    )
    made.handles.append(Handle(SUN, spot, pulls, hour.says, spot=True))


def reading_of(a: Assessment, opening: Opening, hour: Hour) -> str:
    """“21 March, 14:30 · sun 29° high · 62 % of the glass sunlit · 410 W of beam”: in that hour of the weather file."""
    sun, known = sun_of(a, hour), hours_of(a, opening)
    if sun is None or known is None:
        return hour.says
    if sun[0] <= 0:
        return f"{hour.says} · the sun is down"
    n = hour.of_year
    heat = with_unit(float(known.beam[n]), "power")
    return f"{hour.says} · sun {sun[0]:.0f}° high, {compass(sun[1])} · {100 * known.sunlit[n]:.0f} % of the glass sunlit · {heat} of beam"


def compass(azimuth: float) -> str:
    """“SE”."""
    return ("N", "NE", "E", "SE", "S", "SW", "W", "NW")[round(azimuth / 45) % 8]


def _land(made: Sketch, sky: Skyline, azimuth: float, at) -> None:  # type: ignore[no-untyped-def]  # the drawing's own closure
    ways = np.arange(azimuth - 89.9, azimuth + 90, 1.0)
    height, passes = sky.at(ways)
    line = [at(float(w), min(float(h), HIGHEST)) for w, h in zip(ways, height, strict=True)]
    closed = (*line, at(azimuth + 89.9, 0), at(azimuth - 89.9, 0))
    assumed = bool((passes > 0).any())
    tip = "assumed on the ring: part of the light passes" if assumed else "the horizon"
    made.path(closed, fill="stone", stroke="muted", width=0.8, dash=assumed, tip=tip, id="horizon")


def _things(made: Sketch, a: Assessment, stood: Stood, edges: Edges, frame: shapely.Geometry, at) -> None:  # type: ignore[no-untyped-def]
    opened = stood.opened()[0]
    middle = np.array([edges.width / 2, edges.height / 2, -edges.reveal])
    names = {o.id: o.name for o in a.home.site.objects}
    found = before(opened, things_of(a[OWN], a.home.site.objects, a[TURN], a[RISE]))
    shown = []
    for piece in found:
        ends = piece.edges - middle
        along = np.linspace(0, 1, 12, endpoint=False)[None, :, None]
        points = (ends[:, :1] + (ends[:, 1:] - ends[:, :1]) * along).reshape(-1, 3) @ opened.axes
        off = np.hypot(points[:, 0], points[:, 1])
        height = np.maximum(np.degrees(np.arctan2(points[:, 2], off)), 0.0)
        way = np.degrees(np.arctan2(points[:, 0], points[:, 1]))
        flat = [at(float(w), float(h)) for w, h in zip(way, height, strict=True)]
        whole = shapely.MultiPoint(flat).convex_hull if piece.thing.body else shapely.Polygon(flat).buffer(0)
        for shape in shapely.get_parts(shapely.intersection(whole, frame)):
            if isinstance(shape, shapely.Polygon) and shape.area > 2:
                shown.append((float(off.min()), piece.thing, shape))
    for _, thing, shape in sorted(shown, key=lambda s: -s[0]):  # what is near hides what is far
        own = thing.id not in names
        fill = "stone" if own else "slate_pale" if thing.opaque else "lichen_pale"
        ring = tuple((float(x), float(y)) for x, y in shape.exterior.coords[:-1])
        made.path(
            ring,
            fill=fill,
            stroke="ink",
            width=0.8,
            pattern="" if thing.opaque else "dots",
            id=thing.id,
            tip=names.get(thing.id, "the home itself"),
        )
        if not own and shape.bounds[2] - shape.bounds[0] > 34:
            x0, y0, x1, y1 = shape.bounds
            made.text((x0 + x1) / 2, (y0 + y1) / 2 + 4, names[thing.id], size=10, anchor="middle", halo=True)


def _overhang(made: Sketch, edges: Edges, azimuth: float, at) -> None:  # type: ignore[no-untyped-def]
    half = atan((edges.height / 2 + edges.above) / edges.overhang)
    line = [at(azimuth + off, min(degrees(atan(tan(half) * cos(radians(off)))), HIGHEST)) for off in np.arange(-88.0, 89.0, 2.0)]
    made.line(*line, stroke="slate", dash=True, width=1.2)
    x, y = at(azimuth, min(degrees(half), HIGHEST - 4))
    made.text(x, y - 5, "above this the overhang shades half of the glass", size=10, color="muted", anchor="middle", halo=True)


def _arc(made: Sketch, path: SunPath, day: int, name: str, azimuth: float, at) -> None:  # type: ignore[no-untyped-def]
    hours = [h for h in range(day * 24, day * 24 + 24) if path.height[h] > 0]
    line = [
        at(float(path.azimuth[h]), min(float(path.height[h]), HIGHEST))
        for h in hours
        if abs((path.azimuth[h] - azimuth + 180) % 360 - 180) < 90
    ]
    if len(line) < 2:
        return
    made.line(*line, stroke="tide" if name else "ink", width=1.8 if name else 1.2, dash=not name)
    if not name:
        return
    for x, y in line:
        made.path(((x - 1.8, y - 1.8), (x + 1.8, y - 1.8), (x + 1.8, y + 1.8), (x - 1.8, y + 1.8)), fill="tide", stroke="")
    x, y = min(line, key=lambda p: p[1])
    made.text(x, y - 6, name, size=10.5, color="tide", anchor="middle", halo=True)
