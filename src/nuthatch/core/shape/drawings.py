"""Plan and axonometric of a home as sketches, tinted by a property of its faces."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.model.home import QuickForm
from nuthatch.core.shape.faces import Surface, normal
from nuthatch.core.shape.hidden import Piece, back_to_front, convex_parts, view_axes
from nuthatch.core.sketch import Sketch
from nuthatch.core.units import with_unit

BORDERS = {
    "outside air": ("white", ""),
    "ground": ("chestnut_pale", "hatch"),
    "unheated space": ("lichen_pale", "dots"),
    "neighbour": ("slate_pale", ""),
}
TINTS = ("borders on", "U-value", "heat loss", "build-up")
RAMP = ("white", "glass", "tide_pale", "slate_pale", "slate")
GROUPS = ("wood", "glass", "lichen_pale", "chestnut_pale", "slate_pale", "stone", "tide_pale")


@dataclass(frozen=True)
class Tint:
    """What to tint by; range and decimals of the legend, None for the range found."""

    by: str = "borders on"
    low: float | None = None
    high: float | None = None
    decimals: int = 2


def _values(assessment: Assessment, by: str) -> dict[str, float]:
    found = {}
    for e in assessment.elements:
        if e.surface is None or e.area is None or e.u is None or e.u.value is None:
            continue
        if by == "U-value":
            found[e.surface.id] = float(e.u.value)
        elif e.loss.value is not None:
            found[e.surface.id] = float(e.loss.value)
    return found


def tints(assessment: Assessment, tint: Tint) -> tuple[dict[str, tuple[str, str]], list[tuple[str, str, str]]]:
    """(face id → (fill, pattern), legend rows (fill, pattern, text))."""
    surfaces = assessment.envelope.drawn
    if tint.by == "borders on":
        used = [b for b in BORDERS if any(s.borders == b for s in surfaces)]
        return {s.id: BORDERS[s.borders] for s in surfaces}, [(*BORDERS[b], b) for b in used]
    if tint.by == "build-up":
        names = {b.id: b.name for b in assessment.home.buildups}
        order = list(dict.fromkeys(s.buildup for s in surfaces))
        token = {b: GROUPS[i % len(GROUPS)] for i, b in enumerate(order)}
        return {s.id: (token[s.buildup], "") for s in surfaces}, [(token[b], "", names.get(b, "no build-up")) for b in order]
    values = _values(assessment, tint.by)
    low = tint.low if tint.low is not None else min(values.values(), default=0.0)
    high = tint.high if tint.high is not None else max(values.values(), default=1.0)
    span = max(high - low, 1e-9)
    fills = {k: (RAMP[min(int((v - low) / span * len(RAMP)), len(RAMP) - 1) if v > low else 0], "") for k, v in values.items()}
    kind = "u" if tint.by == "U-value" else "w_per_k"
    steps = [(RAMP[i], "", f"from {with_unit(low + span * i / len(RAMP), kind, tint.decimals)}") for i in range(len(RAMP))]
    return fills, steps


def _legend(made: Sketch, rows: list[tuple[str, str, str]], x: float, y: float) -> None:
    for i, (fill, pattern, text) in enumerate(rows):
        made.rect(x, y + i * 20, 16, 12, fill=fill, pattern=pattern, stroke="ink", width=0.8)
        made.text(x + 24, y + 10 + i * 20, text, size=11.5)


def axonometric(
    assessment: Assessment,
    turn: float = 30.0,
    height: float = 28.0,
    see_through: bool = False,
    tint: Tint | None = None,
    size: tuple[float, float] = (420, 330),
) -> Sketch:
    """The home as a solid, turned, from above or below; see-through leaves the near faces as outlines."""
    made = Sketch(*size, "Axonometric")
    surfaces = {s.id: s for s in assessment.envelope.drawn if s.polygon}
    if not surfaces:
        made.text(size[0] / 2, size[1] / 2, "a list of faces has no drawn shape", size=12, color="muted", anchor="middle")
        return made
    right, up, toward = view_axes(turn, height)
    fills, legend = tints(assessment, tint or Tint())
    points = np.array([p for s in surfaces.values() for p in s.polygon or ()])
    flat = np.stack([points @ right, -(points @ up)], axis=1)
    low, high = flat.min(axis=0), flat.max(axis=0)
    scale = float(min((size[0] - 150) / max(high[0] - low[0], 0.1), (size[1] - 40) / max(high[1] - low[1], 0.1)))
    origin = np.array([130 + (size[0] - 140) / 2, size[1] / 2]) - scale * (low + high) / 2

    def place(polygon: tuple[tuple[float, float, float], ...]) -> list[tuple[float, float]]:
        return [tuple(origin + scale * np.array([np.asarray(p) @ right, -(np.asarray(p) @ up)])) for p in polygon]

    parts = [q for s in surfaces.values() for q in convex_parts(Piece(s.id, s.polygon or ()))]
    for piece in back_to_front(parts, toward):
        s = surfaces[piece.id]
        near = float(normal(s.polygon or ()) @ toward) > 0
        fill, pattern = fills.get(s.id, ("white", ""))
        if see_through and near:
            continue
        made.path(place(piece.polygon), fill=fill, pattern=pattern, stroke="", id=s.id, tip=f"{s.name}, {s.borders}")
        if len(piece.polygon) == len(s.polygon or ()):
            made.path(place(piece.polygon), stroke="ink", width=2.2 if s.borders == "neighbour" else 1.2)
        else:
            made.path(place(s.polygon or ()), stroke="ink", width=0.9)
    if see_through:
        for s in surfaces.values():
            if float(normal(s.polygon or ()) @ toward) > 0:
                made.path(place(s.polygon or ()), stroke="slate", width=1.0, dash=True)
    _legend(made, legend, 2, 8)
    return made


def _side_rows(form: QuickForm, surfaces: dict[str, Surface]) -> list[tuple[str, Surface]]:
    return [(side, surfaces[f"wall-{side}"]) for side in ("front", "right", "back", "left") if f"wall-{side}" in surfaces]


def plan(assessment: Assessment, tint: Tint | None = None, size: tuple[float, float] = (340, 330)) -> Sketch:
    """The plan of the ground floor: walls to scale, tinted, with openings, dimensions and north."""
    made = Sketch(*size, "Plan")
    env = assessment.envelope
    if env.outer is None or env.inner is None:
        made.text(size[0] / 2, size[1] / 2, "no plan: the faces are a list", size=12, color="muted", anchor="middle")
        return made
    form = assessment.home.shape.form
    assert form is not None
    o, i = env.outer, env.inner
    scale = min((size[0] - 110) / o.length, (size[1] - 90) / o.depth)
    x0, y0 = (size[0] - o.length * scale) / 2, 34.0
    fills, _ = tints(assessment, tint or Tint())

    def at(x: float, y: float) -> tuple[float, float]:
        return x0 + x * scale, y0 + (o.depth - y) * scale

    l, d = o.length, o.depth
    ix, iy, il, idp = i.x0, i.y0, i.x0 + i.length, i.y0 + i.depth
    rings = {
        "front": [(0, 0), (l, 0), (il, iy), (ix, iy)],
        "right": [(l, 0), (l, d), (il, idp), (il, iy)],
        "back": [(l, d), (0, d), (ix, idp), (il, idp)],
        "left": [(0, d), (0, 0), (ix, iy), (ix, idp)],
    }
    made.path([at(ix, iy), at(il, iy), at(il, idp), at(ix, idp)], fill="white", stroke="", id="floor")
    for side, s in _side_rows(form, {s.id: s for s in env.drawn}):
        fill, pattern = fills.get(s.id, ("white", ""))
        made.path(
            [at(*p) for p in rings[side]],
            fill=fill,
            pattern=pattern,
            stroke="ink",
            width=2.4 if s.borders == "neighbour" else 1.2,
            id=s.id,
            tip=f"{s.name}, {s.borders}",
        )
    _plan_openings(made, assessment, rings, at)
    made.text(x0 + l * scale / 2, y0 + d * scale + 20, with_unit(l, "length"), size=11.5, anchor="middle", color="muted")
    made.text(x0 + l * scale + 8, y0 + d * scale / 2, with_unit(d, "length"), size=11.5, color="muted")
    made.text(
        x0 + l * scale / 2,
        y0 + d * scale / 2,
        f"ground floor {with_unit(env.storeys[0].area, 'area')}" if env.storeys else "",
        size=12,
        anchor="middle",
    )
    made.text(x0 + l * scale / 2, y0 + d * scale + 36, "front", size=11, anchor="middle", color="muted")
    turn = np.radians((form.front_azimuth.value if form.front_azimuth else 180.0) + 180)
    _north(made, size[0] - 24, 26, float(turn))
    return made


def _north(made: Sketch, x: float, y: float, turn: float) -> None:
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


def _plan_openings(made: Sketch, assessment: Assessment, rings: dict[str, list[tuple[float, float]]], at) -> None:  # type: ignore[no-untyped-def]
    form = assessment.home.shape.form
    height = form.storey_height.value if form and form.storey_height else 3.0
    for opening in assessment.home.openings:
        side = opening.face.removeprefix("wall-")
        if side not in rings or opening.width is None or (opening.sill and opening.sill.value > height):
            continue
        a, b, c, d = (np.array(p) for p in rings[side])
        along = (b - a) / max(float(np.linalg.norm(b - a)), 1e-9)
        depth = np.array([-along[1], along[0]]) * min(float(np.linalg.norm(d - a)), 0.6)
        start = a + along * (opening.position.value if opening.position else 0.5)
        end = start + along * opening.width.value
        points = [start, end, end + depth, start + depth]
        made.path([at(*p) for p in points], fill="glass", stroke="ink", width=0.8, id=opening.id, tip=opening.name)
