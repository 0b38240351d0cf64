"""The plan of a home as a sketch, tinted by a property of its faces; the faces' losses, the take-off."""

from __future__ import annotations

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.results.figure import shown
from nuthatch.core.sketch import WIDTH, Bar, PointXY, Sketch, bars
from nuthatch.core.solid.cut import Segment, WallInPlan, walls_in_plan
from nuthatch.core.solid.from_form import wanting
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.units import marked, unit_of, with_unit
from nuthatch.core.views.bars import bar
from nuthatch.core.views.shape.tinting import Tint, tints

LOST = {"outside air": "chestnut_pale", "ground": "wood", "unheated space": "lichen_pale", "neighbour": "slate_pale"}


def say_why(made: Sketch, a: Assessment, size: tuple[float, float]) -> None:
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


def plan(a: Assessment, tint: Tint | None = None, size: tuple[float, float] = (340, 330)) -> Sketch:
    """The plan of the lowest storey: walls to scale, tinted, with openings, dimensions and north."""
    made = Sketch(*size, "Plan")
    solid = a[SOLID]
    walls = walls_in_plan(solid)
    if not walls:
        say_why(made, a, size)
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
    inward = np.array([-along[1], along[0]])
    depth = inward * min(max(float((d - a) @ inward), 0.0), 0.6)  # the inner corner lies askew of the outer one
    first = a + along * start
    last = first + along * width
    return [(float(p[0]), float(p[1])) for p in (first, last, last + depth, first + depth)]


def face_losses(a: Assessment, width: float = WIDTH, height: float = 0.0) -> Sketch:
    """The faces by what they lose, each in the tint of what it borders."""
    rows: list[Bar] = [bar(f"{e.name} · {e.borders}", e.loss, LOST[e.borders], id=e.id) for e in a[ELEMENTS] if e.is_face]
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
