"""Faces of drawn plans as boundaries: their ids and names, what they border on, their build-ups."""

from __future__ import annotations

from collections import Counter, defaultdict
from dataclasses import dataclass, replace
from math import hypot

from nuthatch.core.model.part import Basis, Given
from nuthatch.core.model.plans import Outline as DrawnOutline
from nuthatch.core.model.plans import Plans, Side
from nuthatch.core.plans.arrangement import GROUND, LOFT, OUTSIDE
from nuthatch.core.plans.arrangement import HEATED as HOME
from nuthatch.core.plans.polygons import Polygon, area_of, area_vector, tilt_and_azimuth
from nuthatch.core.plans.reading_plans import Drawing, number, space_of
from nuthatch.core.results.entries import Entry
from nuthatch.core.solid import massing as mass
from nuthatch.core.solid.massing import Massing
from nuthatch.core.solid.plan_buildups import ChosenBuildUp, is_step, side_id
from nuthatch.core.solid.solid import HEATED, Boundary, Space

COMPASS = ("North", "North-east", "East", "South-east", "South", "South-west", "West", "North-west")
PLAN_LINE = "from the plans"


@dataclass(frozen=True)
class Faces:
    """Boundaries of a solid: their names, what they border on, their build-ups."""

    plans: Plans
    chosen: ChosenBuildUp
    drawing: Drawing

    def ids(self, made: Massing) -> dict[str, str]:
        """The id of each face as the rest of the program knows it: its side, or its roof's plane; pieces behind something else than
        outside air say so."""
        found: dict[str, str] = {}
        taken: dict[str, int] = defaultdict(int)
        ranked = sorted(made.faces, key=lambda f: (f.made_by, f.beyond != OUTSIDE, -area_of(f.polygon)))
        for f in ranked:
            side = side_id(self.chosen, f.made_by) if f.role == "wall" else ""
            role, outline, _, beyond, _ = self._seen(f)
            plain = side or (f.made_by.replace(":", ".") if "." in f.made_by or ":" in f.made_by else f"{outline}.{role}")
            if f.role == "roof" and "." in f.made_by and f.space == LOFT:
                plain = f"{plain}.loft"
            usual = GROUND if role == "floor" else OUTSIDE
            behind = "" if beyond == usual else f".{slug(beyond)}"
            name = plain + behind
            taken[name] += 1
            found[f.id] = name if taken[name] == 1 else f"{name}.{taken[name]}"
        return found

    def polygons(self, made: Massing) -> dict[str, Polygon]:
        """The faces of the heated space by id, outward from it."""
        ids = self.ids(made)
        return {ids[f.id]: f.polygon if f.space == HOME else f.polygon[::-1] for f in made.faces if HOME in (f.space, f.beyond)}

    def of(self, made: Massing) -> tuple[tuple[Boundary, ...], tuple[Boundary, ...]]:
        """(boundaries of the heated space, those of unheated spaces toward what is around the home or another of them)."""
        ids = self.ids(made)
        rows = [(f, *self._seen(f)) for f in made.faces]
        walls = {f.outline: f for f in sorted(made.faces, key=lambda f: area_of(f.polygon)) if f.role == "wall" and f.space == HOME}
        heated: list[Boundary] = []
        around: list[Boundary] = []
        for f, role, outline, space, beyond, polygon in rows:
            made_one = self._boundary(ids[f.id], f, (role, outline, space, beyond), polygon)
            if role in ("roof", "floor") and beyond == OUTSIDE and is_step(f) and outline in walls:
                made_one = self._ledge(made_one, role, outline, walls[outline])
            (heated if space == HOME else around).append(made_one)
        return _named(heated), _named(around)

    def _seen(self, f: mass.SolidFace) -> tuple[str, str, str, str, Polygon]:
        """A face as the heated space sees it, or the space it belongs to."""
        if f.beyond == HOME:
            role = {"ceiling": "floor"}.get(f.role, f.role)
            return role, f.above or f.outline, HOME, f.space, f.polygon[::-1]
        return f.role, f.outline, f.space, f.beyond, f.polygon

    def _boundary(self, ident: str, f: mass.SolidFace, seen: tuple[str, str, str, str], polygon: Polygon) -> Boundary:
        role, outline, space, beyond = seen
        side = self.chosen.sides.get(side_id(self.chosen, f.made_by)) if f.role == "wall" else None
        tilt, azimuth = tilt_and_azimuth(area_vector(polygon), number(self.plans.north))
        if role == "wall":
            tilt = 90.0
        buildup, at = self.chosen.of(role, space, beyond, outline, side)
        behind, drawn = self._behind(beyond, side), self.chosen.outlines.get(outline)
        return Boundary(
            ident,
            self._title(role, beyond, outline, azimuth, f.made_by),
            "party wall" if role == "wall" and beyond == "neighbour" else role,
            HEATED if space == HOME else Space(space, space.capitalize() if space == LOFT else space, "unheated"),
            behind,
            tilt,
            azimuth,
            buildup,
            at,
            self._b(role, beyond, side, drawn, f.made_by),
            Entry("plans", "storeys"),
            depth=Entry("", "", self._depth(role, beyond, polygon)),
            outline=polygon,
            crawl=outline if role == "floor" and beyond == GROUND and drawn is not None and drawn.below == "suspended floor" else "",
        )

    def _ledge(self, made: Boundary, role: str, outline: str, wall: mass.SolidFace) -> Boundary:
        """The ledge of a wall that is thicker than the one above or below it: no roof, no floor, but a part of that wall."""
        drawn = self.chosen.outlines.get(outline)
        if drawn is not None and (drawn.top_buildup if role == "roof" else drawn.floor_buildup):
            return made
        side = self.chosen.sides.get(side_id(self.chosen, wall.made_by))
        buildup, at = self.chosen.of("wall", HOME, wall.beyond, outline, side)
        storey = next((s.name for s in self.plans.storeys if any(o.id == outline for o in s.outlines)), "")
        return replace(made, name=f"Ledge of the wall, {storey}", buildup=buildup, buildup_at=at)

    def _behind(self, beyond: str, side: Side | None) -> Space:
        if beyond == OUTSIDE:
            return Space("outside", beyond, "outside")
        if beyond == GROUND:
            return Space("ground", beyond, "ground")
        if beyond == "neighbour":
            return Space("neighbour", beyond, "neighbour")
        if beyond == "unheated space" and side is not None:
            return Space(f"behind-{side.id}", beyond, "unheated")
        if beyond == "unheated space":
            return Space("unheated", beyond, "unheated")
        return Space(beyond, beyond.capitalize() if beyond == LOFT else beyond, "unheated") if beyond != HOME else HEATED

    def _b(self, role: str, beyond: str, side: Side | None, outline: DrawnOutline | None, made_by: str) -> Entry:
        """Where a b factor is typed: at the side, floor, top or roof, at the outline of the space, at the loft."""
        roof = next((r for r in self.plans.roofs if r.id == made_by.partition(".")[0]), None) if role == "roof" else None
        if roof is not None and beyond == "unheated space":
            return Entry(roof.id, "b", roof.b)
        if role in ("floor", "ceiling") and beyond == "unheated space" and outline is not None:
            name = "b_below" if role == "floor" else "b_above"
            return Entry(outline.id, name, outline[name])
        if side is not None and (side.b is not None or beyond == "unheated space"):
            return Entry(side.id, "b", side.b)
        if beyond == LOFT:
            return Entry("plans", "loft_b", self.plans.loft_b)
        owner = next((o for o in self.chosen.outlines.values() if space_of(o) == beyond), None)
        return Entry(owner.id, "b", owner.b) if owner is not None else Entry("plans", "loft_b")

    def _depth(self, role: str, beyond: str, polygon: Polygon) -> Given | None:
        """How far a face on the ground lies below it, as drawn [m]."""
        if beyond != GROUND:
            return None
        value = 0.0
        if role == "wall":
            xs = [(p[0], p[1]) for p in polygon]
            length = max(hypot(a[0] - b[0], a[1] - b[1]) for a in xs for b in xs)
            value = area_of(polygon) / max(length, 1e-9)
        elif self.drawing.ground is not None:
            lows = [self.drawing.ground(x, y) - z for x, y, z in polygon]
            value = max(sum(lows) / len(lows), 0.0)
        return Given(value=round(value, 6), basis=Basis.CALCULATED, source=PLAN_LINE)

    def _title(self, role: str, beyond: str, outline: str, azimuth: float, made_by: str) -> str:
        storey = next((s for s in self.plans.storeys if any(o.id == outline for o in s.outlines)), None)
        where = storey.name if storey is not None else ""
        words = COMPASS[round(azimuth / 45) % 8]
        drawn = self.chosen.outlines.get(outline)
        part = f", {drawn.name}" if storey is not None and drawn is not None and drawn.name and len(storey.outlines) > 1 else ""
        toward = "" if beyond in (OUTSIDE, GROUND) else f" to {'the ' if beyond not in ('neighbour',) else 'a '}{beyond.lower()}"
        if role == "wall":
            below = " below ground" if beyond == GROUND else ""
            return f"{words} wall{toward}{below}, {where}{part}" if where else f"{words} gable{toward}"
        if role == "roof":
            roof = next((r for r in self.plans.roofs if r.id == made_by.partition(".")[0]), None)
            if roof is None:
                return f"Flat roof, {where}{part}"
            return f"{roof.name}, flat" if roof.kind == "flat" else f"{roof.name}, {words.lower()} slope"
        if role == "ceiling":
            return f"Ceiling{toward}, {where}{part}"
        return {GROUND: f"Floor on the ground, {where}{part}", OUTSIDE: f"Floor above outside air, {where}{part}"}.get(
            beyond, f"Floor{toward}, {where}{part}"
        )


def _named(found: list[Boundary]) -> tuple[Boundary, ...]:
    """Names that stand more than once numbered."""
    count: dict[str, int] = defaultdict(int)
    many = {name for name, number_of in Counter(b.name for b in found).items() if number_of > 1}
    made = []
    for b in found:
        count[b.name] += 1
        head, comma, rest = b.name.partition(",")
        made.append(replace(b, name=f"{head} {count[b.name]}{comma}{rest}") if b.name in many else b)
    return tuple(made)


def slug(words: str) -> str:
    """Words as part of an id."""
    return "".join(c if c.isascii() and c.isalnum() else "-" for c in words.lower()).strip("-")
