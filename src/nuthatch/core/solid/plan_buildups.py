"""Which build-up each face of drawn plans has, and how thick what stands along each side is."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from functools import cached_property
from math import hypot

import shapely

from nuthatch.core.model.plans import Outline as DrawnOutline
from nuthatch.core.model.plans import Plans, Side
from nuthatch.core.plans.arrangement import GROUND, LOFT, OUTSIDE, PlanOutline
from nuthatch.core.plans.arrangement import HEATED as HOME
from nuthatch.core.plans.polygons import area_of
from nuthatch.core.plans.reading_plans import numbered, rings_of
from nuthatch.core.results.entries import Entry
from nuthatch.core.solid import massing as mass
from nuthatch.core.solid.massing import Massing


@dataclass(frozen=True)
class ChosenBuildUp:
    """Which build-up a face has, and where that is, or would be, said."""

    plans: Plans

    @cached_property
    def outlines(self) -> dict[str, DrawnOutline]:
        return {o.id: o for storey in self.plans.storeys for o in storey.outlines}

    @cached_property
    def sides(self) -> dict[str, Side]:
        return {s.id: s for o in self.outlines.values() for ring in rings_of(o) for s in ring}

    @cached_property
    def numbered(self) -> dict[str, tuple[Side, ...]]:
        """The sides of each outline in the order the solid walks them."""
        return {k: numbered(o) for k, o in self.outlines.items()}

    def of(self, role: str, inside: str, beyond: str, outline: str, side: Side | None) -> tuple[str, Entry]:
        """(id of the build-up, where it is said) of a face of a space."""
        plans = self.plans
        if side is not None and side.buildup:
            return side.buildup, Entry(side.id, "buildup")
        drawn = self.outlines.get(outline)
        if inside == LOFT:
            name = "loft_gable" if role == "wall" else "loft_roof"
            return plans[name], Entry("plans", name)
        if drawn is not None and role in ("floor",) and drawn.floor_buildup:
            return drawn.floor_buildup, Entry(drawn.id, "floor_buildup")
        if drawn is not None and role in ("roof", "ceiling") and drawn.top_buildup:
            return drawn.top_buildup, Entry(drawn.id, "top_buildup")
        if drawn is not None and inside != HOME:
            field = {"floor": "floor_buildup", "wall": "wall_buildup"}.get(role, "top_buildup")
            return drawn[field], Entry(drawn.id, field)
        around = beyond in (OUTSIDE, GROUND, "neighbour")
        field = {
            "wall": {OUTSIDE: "wall_buildup", GROUND: "earth_buildup", "neighbour": "party_buildup"}.get(beyond, "inner_buildup"),
            "roof": "roof_buildup",
            "ceiling": "ceiling_buildup",
            "floor": {GROUND: "ground_buildup", OUTSIDE: "air_buildup"}.get(beyond, "cellar_buildup" if not around else "ground_buildup"),
        }[role]
        return plans[field], Entry("plans", field)


STEP = 0.6
"""Between storeys traced inside a strip narrower than this is a wall that is thicker in one of them, no terrace or overhang [m]."""


def is_step(f: mass.SolidFace) -> bool:
    """Whether a level face is no wider than a wall."""
    if f.role == "wall" or "." in f.made_by:
        return False
    return bool(shapely.Polygon([(x, y) for x, y, _ in f.polygon]).buffer(-STEP / 2).is_empty)


def thicknesses(outlines: tuple[PlanOutline, ...], made: Massing, chosen: ChosenBuildUp, known: dict[str, float]) -> dict[str, float]:
    """Thickness of what stands along each side (“outline:number”), below an outline (“outline.floor”), above it (“outline.top”) and of
    each roof part (“part.roof”), each as most of it is [m]; 0 toward the heated space."""
    sides = chosen.sides
    shares: dict[str, dict[float, float]] = defaultdict(lambda: defaultdict(float))
    inside = chosen.plans.traced == "inner faces"
    for f in (f for f in made.faces if not (inside and is_step(f))):
        for role, outline, space, beyond in _seen_from(f):
            if space != HOME:
                continue
            side = sides.get(side_id(chosen, f.made_by)) if f.role == "wall" else None
            thick = known.get(chosen.of(role, space, beyond, outline, side)[0], 0.0)
            key = {"wall": f.made_by, "floor": f"{outline}.floor"}.get(role, f"{outline}.top")
            if role == "roof" and "." in f.made_by:
                key = f"{f.made_by.partition('.')[0]}.roof"
            shares[key][thick] += area_of(f.polygon)
    found = {key: max(parts, key=lambda t: parts[t]) for key, parts in shares.items()}
    for o in outlines:
        for n, side in enumerate(chosen.numbered[o.id] if o.under_roof and o.space == HOME else ()):
            if _beside(o, n, outlines):
                continue
            said = dict(o.beyond).get(n, OUTSIDE)  # a wall of no height below the eaves is as thick as the one below it
            found.setdefault(f"{o.id}:{n}", known.get(chosen.of("wall", HOME, said, o.id, side)[0], 0.0))
    return found


def thickness_of_faces(made: Massing, chosen: ChosenBuildUp, known: dict[str, float], sloping: bool) -> dict[str, dict[str, float]]:
    """How far the build-up of each face reaches into a space it bounds [m], by space and the id of the face. What parts two spaces lies
    in the heated one, else in the one it is a face of; the ledge of a thicker wall is no build-up of its own. sloping: on such ground a
    side is as thick as most of it, above the ground and in it."""
    found: dict[str, dict[str, float]] = defaultdict(dict)
    most: dict[tuple[str, str], float] = {}
    for f in sorted(made.faces, key=lambda f: (-area_of(f.polygon), f.id)):
        if is_step(f):
            continue
        side = chosen.sides.get(side_id(chosen, f.made_by)) if f.role == "wall" else None
        rows = _seen_from(f)
        owner = HOME if any(space == HOME for _, _, space, _ in rows) else f.space
        for role, outline, space, beyond in rows:
            if space == owner:
                thick = known.get(chosen.of(role, space, beyond, outline, side)[0], 0.0)
                one = sloping and role == "wall" and beyond in (OUTSIDE, GROUND)
                found[space][f.id] = most.setdefault((space, f.made_by), thick) if one else thick
    return dict(found)


def _beside(o: PlanOutline, n: int, outlines: tuple[PlanOutline, ...]) -> bool:
    """Whether another heated outline under the roof lies just outside a side."""
    (ax, ay), (bx, by) = o.sides[n]
    long = max(hypot(bx - ax, by - ay), 1e-9)
    x, y = (ax + bx) / 2 + 0.05 * (by - ay) / long, (ay + by) / 2 - 0.05 * (bx - ax) / long
    return any(p is not o and p.under_roof and p.space == o.space and shapely.contains_xy(p.polygon, x, y) for p in outlines)


def _seen_from(f: mass.SolidFace) -> list[tuple[str, str, str, str]]:
    """(role, outline, space, beyond) of a face from each side that is a space of the home."""
    if f.role == "ceiling":  # between a space below and one above
        return [("ceiling", f.outline, f.space, f.beyond), ("floor", f.above, f.beyond, f.space)]
    found = [(f.role, f.outline, f.space, f.beyond)]
    if f.role == "wall" and f.beyond not in (OUTSIDE, GROUND, "neighbour", "unheated space"):
        found.append((f.role, f.outline, f.beyond, f.space))
    return found


def side_id(chosen: ChosenBuildUp, made_by: str) -> str:
    """The id of the side a wall was made by, '' where a roof made it."""
    outline, _, n = made_by.partition(":")
    sides = chosen.numbered.get(outline, ())
    return sides[int(n)].id if n.isdigit() and int(n) < len(sides) else ""
