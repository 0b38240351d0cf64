"""gbXML read: spaces, surfaces with their polygons, openings, constructions; into a list of faces, areas and directions from the polygons."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TypeVar

from pydantic import ValidationError

from nuthatch.core.exchange.gbxml import space_id
from nuthatch.core.exchange.gbxml_fabric import Constructions, WindowTypes, read_as
from nuthatch.core.exchange.surfaces import Hole, Surface
from nuthatch.core.exchange.taken import SeveralBuildings
from nuthatch.core.exchange.xml_tree import XmlElement, XmlFault, parse
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.library import new_home
from nuthatch.core.model.home import Face, Home, Opening
from nuthatch.core.model.part import replace
from nuthatch.core.plans.polygons import Polygon, area_of, area_vector, flat_outline, tilt_and_azimuth

NEIGHBOUR = "neighbour"
METRES = {"meters": 1.0, "centimeters": 0.01, "millimeters": 0.001, "kilometers": 1000.0, "feet": 0.3048, "inches": 0.0254, "yards": 0.9144}
SQUARE = {"squaremeters": 1.0, "squarecentimeters": 1e-4, "squaremillimeters": 1e-6, "squarefeet": 0.3048**2, "squareinches": 0.0254**2}
GROUNDS = frozenset({"SlabOnGrade", "UndergroundWall", "UndergroundSlab", "UndergroundCeiling"})
UPWARD = frozenset({"Roof"})
DOWNWARD = frozenset({"SlabOnGrade", "UndergroundSlab", "ExposedFloor", "RaisedFloor"})
OUTSIDE_TYPES = GROUNDS | UPWARD | DOWNWARD | {"ExteriorWall"}
"""Kinds of surfaces that stand around the home even where the file names no space beside them."""
P = TypeVar("P", Face, Opening)
MOST = 20_000
"""More surfaces than this are no dwelling."""


def read(data: bytes, building: str = "") -> Home:
    """A home with a list of faces from a gbXML file. Raises HomeFileError with line and reason."""
    return Reader(root_of(data), building).home()


def root_of(data: bytes) -> XmlElement:
    """The document. Raises HomeFileError."""
    try:
        root = parse(data)
    except XmlFault as fault:
        raise HomeFileError(str(fault)) from None
    if root.name != "gbXML":
        raise HomeFileError(f"line {root.line}: the file begins with “{root.name}”; a gbXML file begins with “gbXML”")
    return root


class Reader:
    """One file being read: its units, spaces, surfaces."""

    def __init__(self, root: XmlElement, chosen: str = "") -> None:
        self.root = root
        self.length = self._unit(root, "lengthUnit", METRES, "Meters")
        self.square = self._unit(root, "areaUnit", SQUARE, "SquareMeters")
        self.campus = root.first("Campus") or root
        building, others = self._building(chosen)
        self.building = building
        self.spaces = {s.attributes.get("id", ""): s for s in (building.all("Space") if building is not None else ())}
        self.elsewhere = {s.attributes.get("id", "") for b in others for s in b.all("Space")}
        self.name = building.said("Name") if building is not None else ""
        self.storeys = tuple(building.all("BuildingStorey")) if building is not None else ()
        north = self.campus.first("Location", "CADModelAzimuth")
        self.north = _float(north) if north is not None else 0.0
        self._loops: dict[int, Polygon] = {}
        self.constructions = Constructions(root, _float)
        self.windows = WindowTypes(root, _float)

    def _building(self, chosen: str) -> tuple[XmlElement | None, list[XmlElement]]:
        """The building that is read, and the others. Raises SeveralBuildings where it is not said which."""
        buildings = list(self.campus.all("Building"))
        if len(buildings) < 2:
            return (buildings[0] if buildings else None), []
        names = tuple(b.said("Name") or b.attributes.get("id", f"Building {n}") for n, b in enumerate(buildings, 1))
        if chosen not in names:
            said = ", ".join(f"“{n}”" for n in names)
            raise SeveralBuildings(
                names, f"line {buildings[1].line}: there are {len(names)} buildings in this file: {said}; say which one is read"
            )
        n = names.index(chosen)
        return buildings[n], [b for m, b in enumerate(buildings) if m != n]

    def _unit(self, root: XmlElement, name: str, known: dict[str, float], usual: str) -> float:
        said = root.attributes.get(name, usual)
        if said.lower() not in known:
            raise HomeFileError(f"line {root.line}: {name} “{said}” is not known here; one of {', '.join(sorted(known))}")
        return known[said.lower()]

    def home(self) -> Home:
        """The home: faces around its heated spaces, openings in them."""
        surfaces = list(self.campus.all("Surface"))
        if not surfaces:
            raise HomeFileError(f"line {self.campus.line}: there are no surfaces in this file")
        if len(surfaces) > MOST:
            raise HomeFileError(f"line {surfaces[MOST].line}: more than {MOST} surfaces; this is no dwelling")
        faces: list[Face] = []
        openings: list[Opening] = []
        self.inward = self._loops_reversed(surfaces)
        for surface in surfaces:
            face = self._face(surface, len(faces) + 1)
            if face is not None:
                faces.append(face)
                openings += self._openings(surface, face.id, len(openings))
        if not faces:
            raise HomeFileError(f"line {surfaces[0].line}: no surface stands between a heated space and something else")
        home = new_home()
        shape = replace(home.shape, form=None, faces=tuple(faces), dimensions="external")
        return replace(
            home,
            name=self.name or "Home from gbXML",
            shape=shape,
            buildups=(*home.buildups, *self.constructions.buildups),
            opening_types=(*home.opening_types, *self.windows.types),
            openings=tuple(openings),
        )

    def levels(self) -> dict[float, str]:
        """What the storeys of the file are called, by their level [m]."""
        rows = ((s.first("Level"), s.said("Name")) for s in self.storeys)
        return {_float(level) * self.length: name for level, name in rows if level is not None and name}

    def pieces(self) -> list[Surface]:
        """All surfaces that stand between spaces, or a space and what is around, each with its loop; others have no place in a solid."""
        surfaces = list(self.campus.all("Surface"))
        self.inward = self._loops_reversed(surfaces)
        found = []
        for surface in surfaces:
            said, polygon = surface.attributes.get("surfaceType", ""), self._polygon(surface)
            beside = self._beside(surface) or ([""] if said in OUTSIDE_TYPES else [])
            own = [b for b in beside if b not in self.elsewhere]
            if polygon is None or not own or said == "Shade":
                continue
            turned = beside[0] in self.elsewhere
            outward = polygon[::-1] if turned != self.inward else polygon
            other = next((b for b in beside if b != own[0]), "")
            holes = tuple(self._hole(h) for h in surface.all("Opening"))
            heated_first = not own[0] or self.kind(own[0]) == "heated"
            buildup = self.constructions.of(surface, not heated_first and len(beside) > 1)
            name = surface.said("Name") or surface.attributes.get("id", "a surface")
            found.append(Surface(name, outward, own[0], other, said, buildup, holes))
        return found

    def _hole(self, hole: XmlElement) -> Hole:
        wide, high = self._sides(hole)
        name = hole.said("Name") or hole.attributes.get("id", "")
        return Hole(name, self._polygon(hole), wide, high, self.windows.of(hole))

    def _loops_reversed(self, surfaces: list[XmlElement]) -> bool:
        """Whether all loops are walked the wrong way round: more roofs look down and floors up than do as they are called."""
        votes = 0.0
        for surface in surfaces:
            said, polygon = surface.attributes.get("surfaceType", ""), self._polygon(surface)
            if polygon is not None and said in UPWARD | DOWNWARD and len(list(surface.all("AdjacentSpaceId"))) < 2:
                votes += area_vector(polygon)[2] * (1 if said in UPWARD else -1)
        return votes < 0

    def _beside(self, surface: XmlElement) -> list[str]:
        found = []
        for beside in surface.all("AdjacentSpaceId"):
            ident = beside.attributes.get("spaceIdRef", "")
            if ident in self.elsewhere:
                found.append(ident)
                continue
            if ident not in self.spaces:
                raise HomeFileError(f"line {beside.line}: the space “{ident}” is not in this file")
            found.append(ident)
        return found

    def kind(self, ident: str) -> str:
        """heated, unheated or neighbour."""
        if ident in self.elsewhere:
            return NEIGHBOUR
        space = self.spaces[ident]
        if ident.startswith(space_id(NEIGHBOUR)):  # as this program writes it; no name of a space is taken for it
            return NEIGHBOUR
        return "unheated" if space.attributes.get("conditionType", "") in ("Unconditioned", "Vented", "NaturallyVentedOnly") else "heated"

    def _face(self, surface: XmlElement, number: int) -> Face | None:
        """The face of a surface; None for one that is inside, or not of the heated space, or gives shade only."""
        beside = self._beside(surface)
        said = surface.attributes.get("surfaceType", "")
        kinds = [self.kind(b) for b in beside] or (["heated"] if said in OUTSIDE_TYPES else [])
        if "heated" not in kinds or said in ("Shade", "Air") or kinds.count("heated") > 1:
            return None
        polygon = self._polygon(surface)
        turned = bool(len(kinds) > 1 and kinds[0] != "heated")
        area, tilt, azimuth = self._size(surface, polygon, turned)
        other = next((k for k in kinds if k != "heated"), "")
        borders = {"unheated": "unheated space", NEIGHBOUR: "neighbour"}.get(other) or ("ground" if said in GROUNDS else "outside air")
        upright = 30 < tilt < 150
        role = (
            "wall"
            if upright and said not in ("Roof",)
            else "roof"
            if tilt <= 90 and borders == "outside air"
            else "ceiling"
            if tilt < 90
            else "floor"
        )
        role = "party wall" if role == "wall" and borders == "neighbour" else role
        return self._made(
            surface,
            Face,
            id=f"face-{number}",
            name=surface.said("Name") or surface.attributes.get("id", f"Face {number}"),
            role=role,
            area=read_as(area),
            tilt=read_as(tilt),
            azimuth=read_as(azimuth),
            borders=borders,
            buildup=self.constructions.of(surface, turned),
        )

    def _made(self, element: XmlElement, kind: type[P], **values: object) -> P:
        """A part of what an element says. Raises HomeFileError with its line for what no home can hold."""
        try:
            return kind.model_validate(values)
        except ValidationError as error:
            why = error.errors()[0]["msg"].removeprefix("Value error, ")
            raise HomeFileError(f"line {element.line}: {values.get('name', element.name)}: {why}") from None

    def _size(self, element: XmlElement, polygon: Polygon | None, turned: bool) -> tuple[float, float, float]:
        """(area [m²], tilt, azimuth [°]) from the polygon, else from the rectangle."""
        if polygon is not None:
            vector = area_vector(polygon[::-1] if turned != self.inward else polygon)
            return area_of(polygon), *tilt_and_azimuth(vector, self.north)
        box = element.first("RectangularGeometry")
        if box is None:
            raise HomeFileError(f"line {element.line}: “{element.attributes.get('id', element.name)}” has no geometry")
        width, height, tilt, azimuth = (self._number(box, name) for name in ("Width", "Height", "Tilt", "Azimuth"))
        return width * height * self.length**2, tilt, (azimuth + self.north) % 360

    def _number(self, element: XmlElement, name: str) -> float:
        found = element.first(name)
        if found is None:
            raise HomeFileError(f"line {element.line}: {element.name} needs “{name}”")
        return _float(found)

    def _polygon(self, element: XmlElement) -> Polygon | None:
        loop = element.first("PlanarGeometry", "PolyLoop")
        if loop is None:
            return None
        if id(loop) in self._loops:
            return self._loops[id(loop)]
        points = tuple(self._point(p) for p in loop.all("CartesianPoint"))
        if len(points) > 3 and points[0] == points[-1]:
            points = points[:-1]
        if len(points) < 3:
            raise HomeFileError(f"line {loop.line}: a PolyLoop needs at least three points, this one has {len(points)}")
        if area_of(points) < 1e-6:
            raise HomeFileError(f"line {loop.line}: the corners of this PolyLoop lie in one line")
        self._loops[id(loop)] = points
        return points

    def _point(self, element: XmlElement) -> tuple[float, float, float]:
        numbers = [_float(c) for c in element.children if c.name == "Coordinate"]
        if len(numbers) != 3:
            raise HomeFileError(f"line {element.line}: a point needs three coordinates, this one has {len(numbers)}")
        x, y, z = numbers
        return x * self.length, y * self.length, z * self.length

    def _openings(self, surface: XmlElement, face: str, before: int) -> Iterator[Opening]:
        for n, hole in enumerate(surface.all("Opening"), before + 1):
            wide, high = self._sides(hole)
            yield self._made(
                hole,
                Opening,
                id=f"opening-{n}",
                name=hole.said("Name") or hole.attributes.get("id", ""),
                face=face,
                type=self.windows.of(hole),
                width=read_as(wide),
                height=read_as(high),
                count=read_as(1.0),
            )

    def _sides(self, hole: XmlElement) -> tuple[float, float]:
        """Width and height of an opening: of its rectangle, else its area over how far its loop reaches up the face [m]."""
        box = hole.first("RectangularGeometry")
        if box is not None and box.first("Width") is not None and box.first("Height") is not None:
            return self._number(box, "Width") * self.length, self._number(box, "Height") * self.length
        polygon = self._polygon(hole)
        area, _, _ = self._size(hole, polygon, False)
        high = max(*(y for _, y in flat_outline(polygon)), 1e-6) if polygon is not None else float(max(area, 1e-9) ** 0.5)
        return area / high, high


def _float(element: XmlElement) -> float:
    """A number of an element. Raises HomeFileError with its line."""
    try:
        value = float(element.text)
    except ValueError:
        raise HomeFileError(f"line {element.line}: “{element.text.strip()[:40]}” is not a number") from None
    if not abs(value) < 1e7:
        raise HomeFileError(f"line {element.line}: {element.text.strip()[:40]} is out of all bounds")
    return value
