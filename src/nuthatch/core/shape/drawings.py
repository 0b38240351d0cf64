"""Plan and axonometric of a home as sketches, tinted by a property of its faces; the faces' losses, the take-off."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.fabric.elements import Element
from nuthatch.core.results.bars import bar
from nuthatch.core.results.figure import shown
from nuthatch.core.shape.from_form import wanting
from nuthatch.core.shape.hidden import painted, view_axes
from nuthatch.core.shape.placing import in_space, stands
from nuthatch.core.shape.polygons import Point, Polygon, Vector, area_vector, scalar
from nuthatch.core.shape.section import Segment, WallInPlan, walls_in_plan
from nuthatch.core.shape.solid import Solid
from nuthatch.core.shape.stages import BUILT, SOLID
from nuthatch.core.sketch import WIDTH, Bar, PointXY, Sketch, bars
from nuthatch.core.units import marked, unit_of, with_unit

BORDERS = {
    "outside air": ("white", ""),
    "ground": ("chestnut_pale", "hatch"),
    "unheated space": ("lichen_pale", "dots"),
    "neighbour": ("slate_pale", ""),
}
LOST = {"outside air": "chestnut_pale", "ground": "wood", "unheated space": "lichen_pale", "neighbour": "slate_pale"}
TINTS = ("borders on", "U-value", "heat loss", "build-up")
RAMP = ("white", "glass", "tide_pale", "slate_pale", "slate")
GROUPS = ("wood", "glass", "lichen_pale", "chestnut_pale", "slate_pale", "stone", "tide_pale")
Fill = tuple[str, str]


@dataclass(frozen=True)
class Tint:
    """What to tint by; range and decimals of the legend, None for the range found."""

    by: str = "borders on"
    low: float | None = None
    high: float | None = None
    decimals: int = 2


@dataclass(frozen=True)
class View:
    """How an axonometric is looked at: turned and from how high [°], near faces see-through; the face or wall that is selected;
    `cut`: the level above which all is taken away [m], so that one looks into the storey below."""

    turn: float = 30.0
    height: float = 28.0
    see_through: bool = False
    selected: str = ""
    cut: float | None = None

    def dragged(self, dx: float, dy: float) -> View:
        """Turned and lifted by dragging so many pixels."""
        return replace(self, turn=(self.turn - dx * 0.5 + 180) % 360 - 180, height=min(max(self.height + dy * 0.4, -60.0), 75.0))


def _faces(a: Assessment) -> list[Element]:
    return [e for e in a[ELEMENTS] if e.is_face]


def _values(a: Assessment, by: str) -> dict[str, float]:
    found = {}
    for e in _faces(a):
        if e.u is None or e.u.value is None:
            continue
        if by == "U-value":
            found[e.id] = float(e.u.value)
        elif e.loss.value is not None:
            found[e.id] = float(e.loss.value)
    return found


def tints(a: Assessment, tint: Tint) -> tuple[dict[str, Fill], list[tuple[str, str, str]]]:
    """(face id → (fill, pattern), legend rows (fill, pattern, text))."""
    faces = a[SOLID].boundaries
    if tint.by == "borders on":
        used = [b for b in BORDERS if any(f.borders == b for f in faces)]
        return {f.id: BORDERS[f.borders] for f in faces}, [(*BORDERS[b], b) for b in used]
    if tint.by == "build-up":
        names = {b.id: b.name for b in a.home.buildups}
        order = list(dict.fromkeys(f.buildup for f in faces))
        token = {b: GROUPS[i % len(GROUPS)] for i, b in enumerate(order)}
        return {f.id: (token[f.buildup], "") for f in faces}, [(token[b], "", names.get(b, "no build-up")) for b in order]
    values = _values(a, tint.by)
    low = tint.low if tint.low is not None else min(values.values(), default=0.0)
    high = tint.high if tint.high is not None else max(values.values(), default=1.0)
    span = max(high - low, 1e-9)
    fills = {k: (RAMP[min(int((v - low) / span * len(RAMP)), len(RAMP) - 1) if v > low else 0], "") for k, v in values.items()}
    kind = "u" if tint.by == "U-value" else "w_per_k"
    steps = [(RAMP[i], "", f"from {with_unit(low + span * i / len(RAMP), kind, tint.decimals)}") for i in range(len(RAMP))]
    return fills, steps


def _say_why(made: Sketch, a: Assessment, size: tuple[float, float]) -> None:
    """Why there is no drawing, and the entry that would make it; a click leads there."""
    if a[SOLID].boundaries:
        made.say("the faces are a list: they have areas, no outlines")
        return
    form = a.home.shape.form
    if a.home.shape.plans is not None:
        made.say("no outline drawn yet")
        return
    if form is None:
        made.say("no faces yet: add or paste the first one")
        return
    part, field, words = next(iter(wanting(form)), ("form", "length", "its sizes"))
    made.say("this drawing still needs", -10)
    made.text(size[0] / 2, size[1] / 2 + 12, words, size=14, bold=True, color="slate", anchor="middle", id=f"field:{part}:{field}")


def tint_legend(made: Sketch, rows: list[tuple[str, str, str]], x: float, y: float) -> None:
    """The legend in as many rows as it needs, the last of them at this height."""
    wide = [26 + 6.4 * len(text) + 10 for _, _, text in rows]
    lines: list[list[int]] = [[]]
    for n, w in enumerate(wide):
        if lines[-1] and sum(wide[m] for m in lines[-1]) + w > made.width - 2 * x:
            lines.append([])
        lines[-1].append(n)
    for k, line in enumerate(reversed(lines)):
        at = x
        for n in line:
            fill, pattern, text = rows[n]
            made.rect(at, y - 18 * k, 15, 11, fill=fill, pattern=pattern, stroke="ink", width=0.8)
            made.text(at + 21, y + 10 - 18 * k, text, size=11)
            at += wide[n]


def axonometric(
    a: Assessment, view: View | None = None, tint: Tint | None = None, size: tuple[float, float] = (420, 330), legend: bool = True
) -> Sketch:
    """The home as a solid, turned, from above or below; see-through leaves the near faces as outlines."""
    view = view or View()
    made = Sketch(*size, "Axonometric")
    solid = a[SOLID]
    if not solid.drawn:
        _say_why(made, a, size)
        return made
    right, up, toward = view_axes(view.turn, view.height)
    fills, rows = tints(a, tint or Tint())
    place = _placed(solid, right, up, size, 60.0 if legend else 16.0)
    faces = {b.id: b for b in solid.boundaries}
    cold = {b.id: b for b in solid.around if b.outline is not None}
    outlines = {**solid.outer, **{k: b.outline for k, b in cold.items() if b.outline is not None}}
    faces |= cold
    floors: dict[str, Polygon] = {}
    if view.cut is not None:
        outlines = {k: p for k, polygon in outlines.items() if len(p := below_level(polygon, view.cut)) > 2}
        floors = _floors_below(a, view.cut)
    way = float(toward[0]), float(toward[1]), float(toward[2])
    near = {k for k, p in outlines.items() if scalar(area_vector(p), way) > 0}
    tips = {o.id: o.name for o in a.home.openings}
    panes = [(k, p) for k, p in _panes(a, solid) if view.cut is None or max(z for _, _, z in p) <= view.cut]
    for piece in painted((*outlines.items(), *floors.items(), *panes), toward):
        if piece.id in floors:
            made.path(place(piece.polygon), fill="stone", stroke="ink", width=0.7, id=piece.id, tip="room")
            continue
        if piece.id not in faces:
            if not view.see_through:
                made.path(place(piece.polygon), fill="glass", stroke="ink", width=0.8, id=piece.id, tip=tips.get(piece.id, ""))
            continue
        f, outline = faces[piece.id], outlines[piece.id]
        fill, pattern = fills.get(f.id, BORDERS["unheated space"] if f.id in cold else ("white", ""))
        if view.see_through and f.id in near:
            continue
        tip = f"{f.name}, {f.borders}" if f.id not in cold else f"{f.name}, of the unheated {f.inside.name}"
        made.path(place(piece.polygon), fill=fill, pattern=pattern, stroke="", id=f.id, tip=tip)
        if len(piece.polygon) == len(outline):
            made.path(place(piece.polygon), stroke="ink", width=2.2 if f.borders == "neighbour" else 1.2)
        else:
            made.path(place(outline), stroke="ink", width=0.9)
    for k in near if view.see_through else ():
        made.path(place(outlines[k]), stroke="slate", width=1.0, dash=True)
    for k in (k for k in outlines if view.selected and (k == view.selected or k.startswith(f"{view.selected}."))):
        made.path(place(outlines[k]), stroke="tide", width=2.4)
    if legend:
        tint_legend(made, rows, 4, size[1] - 18)
    return made


def below_level(polygon: Polygon, z: float) -> Polygon:
    """What of a polygon lies below a level [m]."""
    kept: list[Point] = []
    for a, b in zip(polygon, polygon[1:] + polygon[:1], strict=True):
        if a[2] <= z:
            kept.append(a)
        if (a[2] <= z) != (b[2] <= z):
            t = (z - a[2]) / (b[2] - a[2])
            kept.append((a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]), z))
    return tuple(kept)


def _floors_below(a: Assessment, z: float) -> dict[str, Polygon]:
    """The rooms of the storey a level cuts, on its floor."""
    built = a[BUILT]
    if built is None or built.drawing is None:
        return {}
    cut = {f.plan.id: f.level for f in built.drawing.floors if f.level < z <= f.level + (f.height or 3.0)}
    return {r.id: tuple((x, y, cut[r.storey] + 0.01) for x, y in r.measure.outline) for r in built.rooms if r.storey in cut}


def _panes(a: Assessment, solid: Solid) -> list[tuple[str, Polygon]]:
    """The openings in space, a little outside their faces."""
    found = []
    for face, polygon in solid.outer.items():
        found += [(s.opening.id, in_space(polygon, s)) for s in stands(a.home.openings, face, polygon)]
    return found


def _placed(solid: Solid, right: Vector, up: Vector, size: tuple[float, float], below: float = 60.0):  # type: ignore[no-untyped-def]  # a closure over the scale
    """A function from points in space to the sheet, the whole solid in view."""
    shown = [*solid.outer.values(), *(b.outline for b in solid.around if b.outline is not None)]
    points = np.array([p for polygon in shown for p in polygon])
    flat = np.stack([points @ right, -(points @ up)], axis=1)
    low, high = flat.min(axis=0), flat.max(axis=0)
    scale = float(min((size[0] - 24) / max(high[0] - low[0], 0.1), (size[1] - below) / max(high[1] - low[1], 0.1)))
    origin = np.array([size[0] / 2, (size[1] - below + 26) / 2 if below > 26 else size[1] / 2]) - scale * (low + high) / 2

    (rx, ry, rz), (ux, uy, uz) = right.tolist(), up.tolist()
    ox, oy = float(origin[0]), float(origin[1])

    def place(polygon: Polygon) -> list[PointXY]:
        return [(ox + scale * (x * rx + y * ry + z * rz), oy - scale * (x * ux + y * uy + z * uz)) for x, y, z in polygon]

    return place


def plan(a: Assessment, tint: Tint | None = None, size: tuple[float, float] = (340, 330)) -> Sketch:
    """The plan of the lowest storey: walls to scale, tinted, with openings, dimensions and north."""
    made = Sketch(*size, "Plan")
    solid = a[SOLID]
    walls = walls_in_plan(solid)
    if not walls:
        _say_why(made, a, size)
        return made
    xs, ys = ([p[i] for w in walls for p in w.outer] for i in (0, 1))
    long, deep = max(xs) - min(xs), max(ys) - min(ys)
    scale = min((size[0] - (124 if marked("length") else 84)) / long, (size[1] - 70) / deep)
    x0, y0 = (size[0] - (70 if marked("length") else 30) - long * scale) / 2, 16.0

    def at(p: tuple[float, float]) -> PointXY:
        return x0 + (p[0] - min(xs)) * scale, y0 + (max(ys) - p[1]) * scale

    fills, _ = tints(a, tint or Tint())
    made.path([at(w.inner[0]) for w in walls], fill="white", stroke="", id="floor")
    faces = {b.id: b for b in solid.boundaries}
    for w in walls:
        fill, pattern = fills.get(w.id, ("white", ""))
        ring = [at(p) for p in (*w.outer, w.inner[1], w.inner[0])]
        f = faces[w.id]
        wide = 2.4 if f.borders == "neighbour" else 1.2
        made.path(ring, fill=fill, pattern=pattern, stroke="ink", width=wide, id=w.id, tip=f"{f.name}, {f.borders}")
    _plan_openings(made, a, walls, at)
    bottom, middle = y0 + deep * scale, x0 + long * scale / 2
    made.text(middle, bottom + 20, with_unit(long, "length"), size=11.5, anchor="middle", color="muted")
    made.text(x0 + long * scale + 8, y0 + deep * scale / 2, with_unit(deep, "length"), size=11.5, color="muted")
    storey = solid.storeys[0]
    made.text(middle, y0 + deep * scale / 2 - 4, storey.name.lower(), size=11.5, anchor="middle")
    made.text(middle, y0 + deep * scale / 2 + 12, with_unit(storey.area, "area"), size=12, bold=True, anchor="middle")
    nearest = min(walls, key=lambda w: w.outer[0][1] + w.outer[1][1])
    made.text(middle, bottom + 36, faces[nearest.id].name, size=11, anchor="middle", color="muted")
    north(made, size[0] - 24, 26, float(np.radians(solid.north)))
    return made


def north(made: Sketch, x: float, y: float, turn: float) -> None:
    dx, dy = np.sin(-turn), -np.cos(-turn)
    made.path(
        [
            (x + 14 * dx, y + 14 * dy),
            (x - 8 * dx - 6 * dy, y - 8 * dy + 6 * dx),
            (x - 4 * dx, y - 4 * dy),
            (x - 8 * dx + 6 * dy, y - 8 * dy - 6 * dx),
        ],
        fill="ink",
        stroke="",
    )
    made.text(x + 22 * dx, y + 22 * dy + 4, "N", size=11, anchor="middle")


def _plan_openings(made: Sketch, a: Assessment, walls: tuple[WallInPlan, ...], at) -> None:  # type: ignore[no-untyped-def]  # the plan's own closure
    """Openings of the lowest storey in their walls."""
    storeys, by_id = a[SOLID].storeys, {w.id: w for w in walls}
    ceiling = storeys[1].level if len(storeys) > 1 else float("inf")
    for opening in a.home.openings:
        wall = by_id.get(opening.face)
        if wall is None or opening.width is None or (opening.sill and opening.sill.value > ceiling):
            continue
        start = opening.position.value if opening.position else 0.5
        points = in_wall(wall.outer, wall.inner, start, opening.width.value)
        made.path([at(p) for p in points], fill="glass", stroke="ink", width=0.8, id=opening.id, tip=opening.name)


def in_wall(outer: Segment, inner: Segment, start: float, width: float) -> list[tuple[float, float]]:
    """The corners of an opening in a wall, from its left end seen from outside."""
    a, b, d = (np.array(p) for p in (outer[0], outer[1], inner[0]))
    along = (b - a) / max(float(np.linalg.norm(b - a)), 1e-9)
    depth = np.array([-along[1], along[0]]) * min(float(np.linalg.norm(d - a)), 0.6)
    first = a + along * start
    last = first + along * width
    return [(float(p[0]), float(p[1])) for p in (first, last, last + depth, first + depth)]


def face_losses(a: Assessment, width: float = WIDTH, height: float = 0.0) -> Sketch:
    """The faces by what they lose, each in the tint of what it borders."""
    rows: list[Bar] = [bar(f"{e.name} · {e.borders}", e.loss, LOST[e.borders], id=e.id) for e in _faces(a)]
    return bars(f"Loss by face, {unit_of('w_per_k')}", rows, width=width, height=height)


def take_off(a: Assessment, width: float = 640.0) -> Sketch:
    """Areas and volumes in one line of large figures."""
    made = Sketch(width, 54, "Take-off")
    rows = (
        ("reference_floor_area", "Reference floor area"),
        ("envelope_area", "Envelope"),
        ("heated_volume", "Volume, outside"),
        ("air_volume", "Air volume, inside"),
    )
    for i, (key, name) in enumerate(rows):
        f = a.figures[key]
        x = i * width / 4
        made.text(x, 18, name, size=11, color="muted", id=key)
        made.text(x, 40, shown(f, 1), size=14 if f.value is not None else 12, bold=f.value is not None, id=key)
    return made


def take_off_line(a: Assessment, width: float = 640.0) -> Sketch:
    """The same in one line of small figures, each leading to its working."""
    made = Sketch(width, 20, "Take-off")
    rows = (("reference_floor_area", ""), ("heated_volume", "outside"), ("air_volume", "inside"), ("envelope_area", "envelope"))
    x = 0.0
    for key, name in rows:
        text = f"{shown(a.figures[key], 1)} {name}".strip()
        made.text(x, 14, text, size=12, bold=True, id=key)
        x += 7.1 * len(text) + 16
    shell, volume = a.figures["envelope_area"].value, a.figures["heated_volume"].value
    if shell is not None and volume:
        made.text(x, 14, f"A/V {float(shell) / float(volume):.2f}", size=12, color="muted")
    return made
