"""Edits in the drawing of a detail: a side of a block dragged, a block drawn, taken away, its sides typed. The section stays whole: what a block
takes gives way, what it leaves goes to what lies beyond."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import shapely

from nuthatch.core.changes.changes import Batch, Change, ChangeRefused, Remove, SetValue, refusing
from nuthatch.core.changes.words import describe
from nuthatch.core.heatflow.reshaped import THINNEST, Areas, extent, leave_room, moved_side, outlines, side_of, take_room
from nuthatch.core.heatflow.section import MOST_BLOCKS, Point, SectionFault
from nuthatch.core.model.details import Detail, DetailBlock, DetailSpace
from nuthatch.core.model.home import Home, find
from nuthatch.core.model.part import Given, replace

SIDES = ("left", "right", "bottom", "top")
WHOLE = ("blocks", "spaces", "flanks", "beside", "ground_width")


@refusing
def side_moved(home: Home, now: Detail, block: str, n: int, by: float) -> Batch | None:
    """A side of a block moved outward by so much [m], inward below 0. now: the detail as its build-ups are now. Raises ChangeRefused."""
    if abs(by) < 1e-9:
        return None
    of = _block(now, block)
    return _batch(home, now, with_side_moved(now, block, n, by), f"{of.name}: side moved")


def with_side_moved(now: Detail, block: str, n: int, by: float) -> Detail:
    """The detail after a side of a block was moved. Raises ChangeRefused."""
    of = _block(now, block)
    try:
        moved = moved_side(of.outline, n, by)
    except SectionFault as fault:
        raise ChangeRefused(f"{of.name}: {fault}") from None
    areas = _areas(now)
    old = areas.shapes[block]
    if by > 0:
        take_room(areas, block, moved.shape)
    else:
        areas.put(block, moved.shape)
        leave_room(areas, block, shapely.difference(old, moved.shape, grid_size=1e-7), moved.strip)
    if moved.ring is not None:
        areas.rings[block] = moved.ring
    return _drawn(now, areas)


@refusing
def side_typed(home: Home, now: Detail, block: str, side: str, to: float) -> Batch | None:
    """The outermost side of a block at its left, right, bottom or top, moved to where it was typed [m]."""
    of = _block(now, block)
    at = extent(of.outline)[SIDES.index(side)]
    outward = {"left": (-1.0, 0.0), "right": (1.0, 0.0), "bottom": (0.0, -1.0), "top": (0.0, 1.0)}[side]
    axis = 0 if side in ("left", "right") else 1
    found = []
    for n in range(len(of.outline)):
        p, q, out = side_of(of.outline, n)
        if out[0] * outward[0] + out[1] * outward[1] > 0.999 and abs((p[axis] + q[axis]) / 2 - at) < 1e-6:
            found.append(n)
    if not found:
        raise ChangeRefused(f"{of.name} has no straight side at its {side}: drag one of its sides in the drawing")
    by = (to - at) * outward[axis]
    made = now
    for n in found:
        made = with_side_moved(made, block, n, by)
    return _batch(home, now, made, f"{of.name}: {side} side moved") if abs(by) > 1e-9 else None


@refusing
def block_added(home: Home, now: Detail, corners: tuple[Point, Point], name: str, conductivity: Given) -> tuple[Batch, str]:
    """A rectangle of a material drawn into the section; all else gives way. The change, and the id of the block."""
    (x0, y0), (x1, y1) = corners
    if min(abs(x1 - x0), abs(y1 - y0)) < THINNEST:
        raise ChangeRefused(f"{name}: at least {THINNEST * 1000:g} mm each way, draw it larger")
    if len(now.blocks) >= MOST_BLOCKS:
        raise ChangeRefused(f"{now.name} has {len(now.blocks)} blocks; no more are worked out")
    ident = _next({p.id for p in now.blocks}, f"{now.id}.b")
    shape = shapely.box(min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1))
    areas = _areas(now)
    everything = shapely.union_all(list(areas.shapes.values()), grid_size=1e-7)
    shape = shapely.intersection(shape, everything, grid_size=1e-7)
    if not isinstance(shape, shapely.Polygon) or shape.area < 1e-6:
        raise ChangeRefused(f"{name} lies outside of the section: draw it where the section is")
    made = replace(now, blocks=(*now.blocks, DetailBlock(id=ident, name=name, outline=outlines(shape)[0], conductivity=conductivity)))
    areas = Areas(areas.shapes | {ident: shape}, areas.spaces)
    take_room(areas, ident, shape)
    return _batch(home, now, _drawn(made, areas), f"{now.name}: {name}"), ident


@refusing
def block_removed(home: Home, now: Detail, block: str) -> Batch:
    """A block taken away; its room goes to what has the longest line with it. Raises ChangeRefused for the last one."""
    of = _block(now, block)
    if len(now.blocks) < 2:
        raise ChangeRefused(f"{of.name} is the only block of {now.name}: take the detail away instead")
    areas = _areas(now)
    old = areas.shapes.pop(block)
    leave_room(areas, block, old)
    made = replace(now, blocks=tuple(b for b in now.blocks if b.id != block))
    return _batch(home, now, _drawn(made, areas), f"{now.name}: {of.name} taken away")


def with_detail(home: Home, change: Change) -> Change:
    """The change, and what it means to the section of a detail: a block whose λ is typed is its own and follows no layer; one that is
    taken away leaves its room to what lies beside it."""
    parts = change.changes if isinstance(change, Batch) else (change,)
    more: list[Change] = []
    for c in parts:
        if isinstance(c, SetValue) and c.field in ("conductivity", "cavity"):
            of = find(home, c.part)
            if isinstance(of, DetailBlock) and of.follows:
                more.append(SetValue(part=of.id, field="follows", value=""))
    gone = [c.part for c in parts if isinstance(c, Remove)]
    details = [d for d in home.details if any(b.id in gone for b in d.blocks)] if gone else []
    if len(gone) == len(parts) == 1 and details and len(details[0].blocks) > 1:
        return block_removed(home, details[0], gone[0])
    return Batch(label=describe(change, home), changes=(*parts, *more)) if more else change


def _block(now: Detail, ident: str) -> DetailBlock:
    found = next((b for b in now.blocks if b.id == ident), None)
    if found is None:
        raise ChangeRefused("this block is gone")
    return found


def _areas(now: Detail) -> Areas:
    drawn = [*((b.id, b.outline) for b in now.blocks), *((s.id, s.outline) for s in now.spaces)]
    shapes = {ident: shapely.Polygon(outline) for ident, outline in drawn if len(outline) > 2}
    return Areas(shapes, frozenset(s.id for s in now.spaces))


def _drawn(now: Detail, areas: Areas) -> Detail:
    """The detail with the areas as they are now; what was cut in two becomes two, what nothing is left of goes."""
    blocks: list[DetailBlock] = []
    spaces: list[DetailSpace] = []
    taken = {p.id for p in (*now.blocks, *now.spaces)}
    for b in now.blocks:
        for n, ring in enumerate(_rings(b, areas)):
            blocks.append(replace(b, outline=ring) if n == 0 else replace(b, outline=ring, id=_next(taken, f"{now.id}.b")))
    for s in now.spaces:
        for n, ring in enumerate(_rings(s, areas)):
            name = s.name if n == 0 else f"{s.name} {n + 1}"
            spaces.append(replace(s, outline=ring) if n == 0 else replace(s, outline=ring, name=name, id=_next(taken, f"{now.id}.s")))
    return replace(now, blocks=tuple(blocks), spaces=tuple(spaces))


def _rings(part: Any, areas: Areas) -> Sequence[tuple[Point, ...]]:
    if part.id in areas.rings:
        return [areas.rings[part.id]]
    return outlines(areas.shapes[part.id]) if part.id in areas.changed else [part.outline]


def _next(taken: set[str], prefix: str) -> str:
    ident = next(f"{prefix}{n}" for n in range(1, 100_000) if f"{prefix}{n}" not in taken)
    taken.add(ident)
    return ident


def _batch(home: Home, now: Detail, made: Detail, label: str) -> Batch:
    """What differs from the detail as it is kept: with what its build-ups moved meanwhile."""
    kept = next(d for d in home.details if d.id == now.id)
    changes = tuple(SetValue(part=now.id, field=f, value=made[f]) for f in WHOLE if made[f] != kept[f])
    return Batch(label=label, changes=changes)
