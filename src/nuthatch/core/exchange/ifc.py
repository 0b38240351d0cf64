"""IFC models (IFC2x3, IFC4) taken in as storey plans: storeys, the outer line of their walls, rooms, roofs, windows and doors, layers.

Reading needs the optional package ifcopenshell (`nuthatch[ifc]`); without it, that is said.
"""

from __future__ import annotations

import importlib.util
from collections import defaultdict
from typing import Any

import numpy as np
import shapely
from pydantic import ValidationError
from shapely.errors import ShapelyError

from nuthatch.core.edits.openings_kept import outlines_of
from nuthatch.core.exchange.counted import counted
from nuthatch.core.exchange.ifc_bodies import Body, clipped, place_of
from nuthatch.core.exchange.ifc_fabric import BuildUps, Products
from nuthatch.core.exchange.slopes import roofs_of_slopes
from nuthatch.core.exchange.taken import SeveralBuildings, Taken
from nuthatch.core.files.disk import printable
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.library import new_home
from nuthatch.core.model.home import Home, Opening
from nuthatch.core.model.part import Basis, Given, replace
from nuthatch.core.model.plans import Hole, Outline, Plans, Room, Side, StoreyPlan
from nuthatch.core.plans.polygons import Polygon
from nuthatch.core.plans.roofs import Point2
from nuthatch.core.workers import LONGEST_READING, Task, Worker, WorkerEnded, in_a_worker

HOW = "IFC models are read by a part that is installed on its own: pip install 'nuthatch[ifc]'"
USED = frozenset({
    "IfcWall", "IfcWallStandardCase", "IfcWallElementedCase", "IfcSlab", "IfcSlabStandardCase", "IfcRoof", "IfcWindow",
    "IfcWindowStandardCase", "IfcDoor", "IfcDoorStandardCase", "IfcSpace", "IfcOpeningElement", "IfcOpeningStandardCase", "IfcSite",
    "IfcBuilding", "IfcBuildingStorey",
})  # fmt: skip
"""Kinds of things that become part of a home, or say where things are."""
GAP = 0.02
"""Walls nearer to each other than this meet [m]."""
BETWEEN = 0.35
"""Half the thickness of walls that stand between rooms where no walls are drawn [m]."""
COURT = 1.0
"""What walls leave open around more than this, and no room lies in, is a court [m²]."""


def read_from_ifc(value: float) -> Given:
    """A value as the model says it."""
    return Given(value=round(float(value), 6), basis=Basis.DECLARED, source="IFC")


def taken(data: bytes, building: str = "", worker: Worker | None = None) -> Taken:
    """The home in an IFC model, read in a process of its own: a damaged model may end it. worker: one that is there already. Raises
    HomeFileError, SeveralBuildings where it is not said which is read."""
    if importlib.util.find_spec("ifcopenshell") is None:
        raise HomeFileError(HOW)
    if not data.lstrip().startswith(b"ISO-10303-21"):
        raise HomeFileError("this is no IFC model that can be read: it does not begin with “ISO-10303-21”")
    if b"END-ISO-10303-21" not in data[-4000:]:
        raise HomeFileError("the model is cut off: its end is missing; save or send it again")
    if in_a_worker():  # it is in a process of its own already, which may not have one of its own
        return _read(data, building)
    used = worker if worker is not None else Worker()
    try:
        found = used.run(Task(_read, {"data": data, "building": building}, LONGEST_READING))
    except WorkerEnded as why:
        raise HomeFileError(f"the model is damaged: reading it broke off, {why}") from None
    finally:
        if worker is None:
            used.stop()
    assert isinstance(found, Taken)
    return found


def _read(data: bytes, building: str) -> Taken:
    """The home in a model, in this very process."""
    import ifcopenshell
    import ifcopenshell.geom

    try:
        model = ifcopenshell.file.from_string(data.decode("utf-8", errors="replace"))
        schema = str(model.schema)
    except Exception as why:  # the library has no errors of its own
        raise HomeFileError(f"this is no IFC model that can be read ({printable(str(why))[:120]})") from None
    if not schema.upper().startswith(("IFC2X3", "IFC4")):
        raise HomeFileError(f"the model is in {printable(schema)}; IFC2x3 and IFC4 are read")
    try:
        return _Model(model, building).taken()
    except HomeFileError:
        raise
    except ValidationError as why:
        words = why.errors()[0]["msg"].removeprefix("Value error, ")
        raise HomeFileError(f"the model says what no home can hold: {printable(words)}") from None
    except (
        AttributeError,
        TypeError,
        ValueError,
        KeyError,
        IndexError,
        ArithmeticError,
        RuntimeError,
        RecursionError,
        ShapelyError,
    ) as why:
        raise HomeFileError(f"the model is damaged: {printable(str(why))[:160]}") from None


class _Model:
    """One model being read."""

    def __init__(self, model: Any, chosen: str) -> None:
        import ifcopenshell.geom
        import ifcopenshell.util.unit as units

        self.model = model
        self.scale = float(units.calculate_unit_scale(model))
        self.settings = ifcopenshell.geom.settings()
        self.settings.set("use-world-coords", True)
        self.building = self._building(chosen)
        self.notes: list[str] = []
        self.builds, self.products = BuildUps(self.scale), Products()

    def _building(self, chosen: str) -> Any:
        buildings = self.model.by_type("IfcBuilding")
        if not buildings:
            raise HomeFileError("there is no building in this model")
        names = tuple(str(b.Name or b.GlobalId) for b in buildings)
        if len(buildings) > 1 and chosen not in names:
            said = ", ".join(f"“{n}”" for n in names)
            raise SeveralBuildings(names, f"there are {len(names)} buildings in this model: {said}; say which one is read")
        return buildings[names.index(chosen) if chosen in names else 0]

    def taken(self) -> Taken:
        """The home, and what was left out."""
        storeys = sorted(self._below(self.building, "IfcBuildingStorey"), key=self._level)
        if not storeys:
            raise HomeFileError("there are no storeys in this model")
        self.bodies: dict[Any, dict[str, list[Body]]] = {s: self._bodies(s) for s in storeys}
        slopes = [p for s in storeys for b in self._roofs(s) for p in b.slopes()]
        levels = [self._floor(s, n == 0) for n, s in enumerate(storeys)]
        made = [p for n, s in enumerate(storeys) if (p := self._storey(n, s, levels, slopes)) is not None]
        if not made:
            raise HomeFileError("no storey of this model has walls or spaces with a shape")
        home = self._home(tuple(made), slopes)
        openings, more = self._openings(home)
        home = replace(
            home,
            openings=tuple(openings),
            buildups=(*home.buildups, *self.builds.made),
            opening_types=(*home.opening_types, *self.products.made),
        )
        return Taken(home, (*self.notes, *more, "which spaces are unheated: all are taken as heated", *self._left_out()))

    # storeys

    def _below(self, whole: Any, kind: str) -> list[Any]:
        """What is part of something, and of its parts, of one kind."""
        found = []
        for relation in whole.IsDecomposedBy or ():
            for part in sorted(relation.RelatedObjects, key=lambda e: e.id()):  # a model lists them in no order
                found += [part] if part.is_a(kind) else []
                found += self._below(part, kind)
        return found

    def _level(self, storey: Any) -> float:
        import ifcopenshell.util.placement as placement

        if storey.ObjectPlacement is not None:
            return float(placement.get_local_placement(storey.ObjectPlacement)[2][3]) * self.scale
        return float(storey.Elevation or 0.0) * self.scale

    def _bodies(self, storey: Any) -> dict[str, list[Body]]:
        """The walls, slabs, roofs, windows, doors and spaces of a storey with their shapes."""
        inside = sorted((e for r in storey.ContainsElements or () for e in r.RelatedElements), key=lambda e: e.id())
        parts = [p for e in inside for p in self._below(e, "IfcElement")]
        found: dict[str, list[Body]] = defaultdict(list)
        for element in (*inside, *parts, *self._below(storey, "IfcSpace")):
            kind = next((k for k in ("IfcWall", "IfcSlab", "IfcRoof", "IfcWindow", "IfcDoor", "IfcSpace") if element.is_a(k)), "")
            body = self._body(element) if kind else None
            if body is not None:
                found[kind].append(body)
        return found

    def _body(self, element: Any) -> Body | None:
        import ifcopenshell.geom

        if element.Representation is None:
            return None
        try:
            shape = ifcopenshell.geom.create_shape(self.settings, element).geometry
        except Exception:  # the library has no errors of its own
            self.notes.append(f"the shape of {printable(str(element.Name or element.is_a()))} ({element.is_a()})")
            return None
        points = np.array(shape.verts).reshape(-1, 3)
        faces = np.array(shape.faces, dtype=int).reshape(-1, 3)
        return Body(element, points[faces]) if len(faces) else None

    def _roofs(self, storey: Any) -> list[Body]:
        own = self.bodies[storey]
        return [*own["IfcRoof"], *(b for b in own["IfcSlab"] if str(b.element.PredefinedType or "") == "ROOF")]

    def _floor(self, storey: Any, lowest: bool) -> float:
        """Where a storey begins: at the lower side of the slab it stands on where it is the lowest, else at its level [m]."""
        level = self._level(storey)
        slabs = [
            b.low
            for b in self.bodies[storey]["IfcSlab"]
            if b not in self._roofs(storey) and abs(b.high - level) < 0.5 and b.low < level + 0.01
        ]
        return min([level, *slabs]) if lowest else level

    def _storey(self, n: int, storey: Any, levels: list[float], slopes: list[Polygon]) -> StoreyPlan | None:
        own = self.bodies[storey]
        rooms = [(b, b.plan()) for b in own["IfcSpace"]]
        regions = self._regions([b.plan() for b in own["IfcWall"]], [p for _, p in rooms])
        if not regions:
            return None
        above = next((z for z in levels[n + 1 :] if z > levels[n] + 0.5), None)
        flat = [b.high for b in self._roofs(storey) if not b.slopes()]
        tops = [b.high for kind in ("IfcWall", "IfcSpace") for b in own[kind]]
        top = above if above is not None else max([*flat, *tops])
        over = shapely.union_all([shapely.Polygon([(x, y) for x, y, _ in p]) for p in slopes]) if slopes else shapely.Polygon()
        outlines = []
        for k, region in enumerate(regions, 1):
            ident = f"read-outline-{n + 1}-{k}"
            sloped = above is None and shapely.intersection(region, over).area > 0.5 * region.area
            sides = self._sides(ident, [(x, y) for x, y in region.exterior.coords[:-1]], own["IfcWall"])
            holes = tuple(
                Hole(id=f"{ident}-court-{c}", sides=self._sides(f"{ident}-court-{c}", [(x, y) for x, y in r.coords[:-1]], own["IfcWall"]))
                for c, r in enumerate(region.interiors, 1)
            )
            outlines.append(Outline(id=ident, name="House", reaches="the roof" if sloped else "its ceiling", sides=sides, holes=holes))
        named = [self._room(n, k, body, plan) for k, (body, plan) in enumerate(rooms, 1)]
        name = printable(str(storey.Name or f"Storey {n + 1}"))
        height = read_from_ifc(top - levels[n])
        level = read_from_ifc(levels[n])
        return StoreyPlan(id=f"read-storey-{n + 1}", name=name, level=level, height=height, outlines=tuple(outlines), rooms=tuple(named))

    def _regions(self, walls: list[shapely.Geometry], rooms: list[shapely.Geometry]) -> list[shapely.Polygon]:
        """What walls and rooms of a storey take up, each piece by its outer line, courts left out."""
        if not walls and rooms:
            rooms = [r.buffer(BETWEEN, join_style="mitre") for r in rooms]
        joined = shapely.union_all([*walls, *rooms]).buffer(GAP, join_style="mitre").buffer(-GAP, join_style="mitre")
        if not walls and rooms:
            joined = joined.buffer(-BETWEEN, join_style="mitre")
            self.notes.append("outer walls of a storey that has none: its outline runs along its rooms")
        parts = [p for p in shapely.get_parts(joined) if p.geom_type == "Polygon"]
        whole = shapely.union_all([shapely.Polygon(p.exterior) for p in parts])
        if rooms:
            inside = shapely.union_all(rooms)
            open_ones = [shapely.Polygon(r) for p in parts for r in p.interiors]
            courts = [c for c in open_ones if c.area > COURT and not c.intersects(inside)]
            whole = shapely.difference(whole, shapely.union_all(courts)) if courts else whole
        kept = [p for p in shapely.get_parts(whole) if p.geom_type == "Polygon" and p.area > COURT]
        return [shapely.geometry.polygon.orient(p.simplify(0.001)) for p in kept]

    def _sides(self, stem: str, ring: list[Point2], walls: list[Body]) -> tuple[Side, ...]:
        """The corners of an outline, each side with the build-up of the wall it runs along."""
        plans = [(b, b.plan()) for b in walls]
        sides = []
        for n, (a, b) in enumerate(zip(ring, ring[1:] + ring[:1], strict=True), 1):
            line = shapely.LineString([a, b]).buffer(0.01, cap_style="flat")
            near = max(plans, key=lambda w: shapely.intersection(w[1], line).area, default=None)
            build = self.builds.of(near[0].element, line.length * 3) if near is not None else ""
            sides.append(Side(id=f"{stem}.{n}", x=read_from_ifc(a[0]), y=read_from_ifc(a[1]), buildup=build))
        return tuple(sides)

    def _room(self, n: int, k: int, body: Body, plan: shapely.Geometry) -> Room:
        at = plan.representative_point()
        name = printable(str(getattr(body.element, "LongName", None) or body.element.Name or f"Room {k}"))
        return Room(id=f"read-room-{n + 1}-{k}", name=name, x=read_from_ifc(at.x), y=read_from_ifc(at.y))

    def _home(self, storeys: tuple[StoreyPlan, ...], slopes: list[Polygon]) -> Home:
        """The plans with their roofs and the build-ups of floors and roofs."""
        outer = shapely.union_all(
            [shapely.Polygon([(s.x.value, s.y.value) for s in o.sides if s.x and s.y]) for st in storeys for o in st.outlines]
        )
        slabs = [b for kinds in self.bodies.values() for b in kinds["IfcSlab"]]
        lowest = min((b for b in slabs if str(b.element.PredefinedType or "") != "ROOF"), key=lambda b: b.low, default=None)
        roofs = [b for s in self.bodies for b in self._roofs(s)]
        roof = max(roofs, key=lambda b: b.plan().area, default=None)
        plans = Plans(
            north=read_from_ifc(self._north()),
            wall_buildup=self.builds.most(),
            ground_buildup=self.builds.of(lowest.element, 0.0) if lowest is not None else "",
            roof_buildup=self.builds.of(roof.element, 0.0) if roof is not None else "",
            storeys=storeys,
            roofs=tuple(roofs_of_slopes([p for s in slopes for p in clipped(s, outer)], read_from_ifc)),
        )
        home = new_home()
        name = printable(str(self.building.Name or "Home from IFC"))
        return replace(home, name=name, shape=replace(home.shape, form=None, plans=plans, dimensions="external"))

    def _north(self) -> float:
        """Where the model's y looks to [°]."""
        for context in self.model.by_type("IfcGeometricRepresentationContext", include_subtypes=False):
            if context.TrueNorth is not None:
                x, y = context.TrueNorth.DirectionRatios[:2]
                return float(np.degrees(np.arctan2(-x, y))) % 360
        return 0.0

    # openings

    def _openings(self, home: Home) -> tuple[list[Opening], list[str]]:
        """Windows and doors in the outer walls and slopes; those inside, and what stands nowhere, by name."""
        outlines = outlines_of(home)
        found: list[Opening] = []
        lost: dict[str, list[str]] = defaultdict(list)
        for kinds in self.bodies.values():
            for body in (*kinds["IfcWindow"], *kinds["IfcDoor"]):
                place = place_of(body, outlines)
                if place is None:
                    lost["door or window inside the home" if body.element.is_a("IfcDoor") else "window in no outer wall"].append(body.name)
                    continue
                face, left, sill, width, height = place
                ident = f"opening-{len(found) + 1}"
                kind = self.products.of(body.element, "door" if body.element.is_a("IfcDoor") else "window")
                found.append(
                    Opening(id=ident, name=printable(body.name), face=face, type=kind, width=read_from_ifc(width), height=read_from_ifc(height),
                            count=read_from_ifc(1), position=read_from_ifc(max(left, 0.0)), sill=read_from_ifc(sill))
                )  # fmt: skip
        return found, [counted(what, names) for what, names in lost.items()]

    def _left_out(self) -> list[str]:
        """Kinds of things that have no place in a home, by name."""
        found: dict[str, list[str]] = defaultdict(list)
        for product in self.model.by_type("IfcProduct"):
            if product.is_a() not in USED:
                found[product.is_a()].append(printable(str(product.Name or "")))
        return [counted(what, names) for what, names in sorted(found.items())]
