"""A face seen square on from outside with its openings in place, each to be dragged; and where openings stand in space."""

from __future__ import annotations

from collections.abc import Callable

from nuthatch.core.assess import Assessment
from nuthatch.core.model.part import Given
from nuthatch.core.plans.polygons import flat_outline
from nuthatch.core.sketch import Handle, PointXY, Pull, Sketch, snapping
from nuthatch.core.solid.opening_places import Stand, rise_of, stands
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.units import with_unit


def facade(a: Assessment, face: str, selected: str = "", size: tuple[float, float] = (640.0, 320.0)) -> Sketch:
    """One face from outside with its openings; each can be dragged in its place."""
    solid = a[SOLID]
    made = Sketch(*size, "Face with its openings")
    polygon = solid.outer.get(face)
    if polygon is None:
        text = "the faces are a list: a face without an outline has no place for its openings" if solid.boundaries else "no shape yet"
        made.say(text)
        return made
    outline = flat_outline(polygon)
    long, high = max(p[0] for p in outline), max(p[1] for p in outline)
    scale = min((size[0] - 60) / long, (size[1] - 74) / high)
    x0, y0 = (size[0] - long * scale) / 2, 26.0 + high * scale

    def at(x: float, y: float) -> PointXY:
        return x0 + x * scale, y0 - y * scale

    name = next(b.name for b in solid.boundaries if b.id == face)
    made.text(size[0] / 2, 15, f"{name}, from outside", size=12, color="muted", anchor="middle")
    made.path([at(*p) for p in outline], fill="white", stroke="ink", width=1.4)
    made.line((x0 - 20, y0), (x0 + long * scale + 20, y0), width=2.0)
    low, lift = rise_of(polygon)
    standing = stands(a.home.openings, face, polygon)
    for stand in standing:
        shape = _opening(made, stand, at, stand.opening.id == selected)
        if any(h.id == stand.opening.id for h in made.handles):  # a row is moved by its first opening
            continue
        row = max(s.left + s.width for s in standing if s.opening.id == stand.opening.id) - stand.left
        most = max(long - row, stand.left), max(low + lift * (high - stand.height), stand.sill)  # dragged, a row stays in its face
        pulls = (
            Pull(stand.opening.id, "position", stand.left, (1 / scale, 0.0), *snapping(False)[:2], 0.0, most[0]),
            Pull(stand.opening.id, "sill", stand.sill, (0.0, -lift / scale), *snapping(False)[:2], min(low, stand.sill), most[1]),
        )
        made.handles.append(Handle(stand.opening.id, shape, pulls, _place(stand)))
    made.text(size[0] / 2, y0 + 17, with_unit(long, "length"), size=11.5, color="muted", anchor="middle")
    made.hint = f"drag an opening: {snapping(False)[2]} · Ctrl + arrows: next opening"
    return made


def _number(given: Given | None) -> int:
    """How many panes one way; a drawing shows at most twenty."""
    return min(max(round(given.value), 1), 20) if given is not None else 1


def _place(stand: Stand) -> str:
    return f"{with_unit(stand.left, 'length')} from the left, sill {with_unit(stand.sill, 'length')}"


def _opening(made: Sketch, stand: Stand, at: Callable[[float, float], PointXY], chosen: bool) -> tuple[PointXY, ...]:
    """Draws one opening; returns its corners on the sheet."""
    o = stand.opening
    corners = tuple(
        at(stand.left + dx, stand.up + dy) for dx, dy in ((0, 0), (stand.width, 0), (stand.width, stand.height), (0, stand.height))
    )
    style = {"stroke": "slate", "width": 2.6} if chosen else {"stroke": "ink", "width": 1.1}
    tip = f"{o.name}: {_place(stand) if stand.placed else 'no place given yet'}"
    made.path(corners, fill="glass", **style, dash=not stand.placed, id=o.id, tip=tip)
    (left, low), (right, high) = corners[0], corners[2]
    for c in range(1, _number(o.columns)):
        x = left + (right - left) * c / _number(o.columns)
        made.line((x, low), (x, high), stroke=style["stroke"], width=1.1)
    for r in range(1, _number(o.rows)):
        y = low + (high - low) * r / _number(o.rows)
        made.line((left, y), (right, y), stroke=style["stroke"], width=1.1)
    x, y = (left + right) / 2, low + (high - low) * (0.5 if _number(o.rows) % 2 else 0.5 + 0.5 / _number(o.rows))
    if _number(o.columns) % 2 == 0:  # a mullion stands in the middle: the name is written beside it
        x, right = left + (right - left) * (0.5 - 0.5 / _number(o.columns)), left + (right - left) / _number(o.columns)
    made.name(x, y + 4, o.name, (right - left - 4, abs(high - low) - 8), 11, centred=True, anchor="middle", bold=chosen)
    return corners
