"""gbXML, the open schema for the exchange of buildings: spaces, surfaces with their polygons, openings, what they border on.

Written by schema 6.01, in metres, and valid by its XSD. Read into a list of faces: areas and directions come from the polygons.
"""

from __future__ import annotations

from collections.abc import Iterator
from math import cos, hypot, radians, sin
from typing import TypeVar
from xml.etree import ElementTree

from pydantic import ValidationError

from nuthatch.core.assess import Assessment
from nuthatch.core.exchange.gbxml_fabric import (
    NOT_SAID,
    Constructions,
    Ids,
    WindowTypes,
    amount,
    constructions,
    product_values,
    read_as,
    sub,
    text,
    window_types,
)
from nuthatch.core.exchange.xml_tree import XmlElement, XmlFault, parse
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.library import new_home
from nuthatch.core.model.home import Face, Home, Opening
from nuthatch.core.model.part import replace
from nuthatch.core.plans.polygons import Polygon, area_of, area_vector, flat_outline, tilt_and_azimuth
from nuthatch.core.solid.opening_places import in_space, stands
from nuthatch.core.solid.plan_faces import slug
from nuthatch.core.solid.solid import Boundary
from nuthatch.core.solid.stages import BUILT, SOLID

NAMESPACE = "http://www.gbxml.org/schema"
VERSION = "6.01"
HOME, NEIGHBOUR = "home", "neighbour"
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


# out


def write(a: Assessment) -> bytes:
    """A drawn home as gbXML. Raises HomeFileError for a home whose faces are only listed."""
    solid = a[SOLID]
    if not solid.drawn:
        raise HomeFileError("gbXML needs polygons; the faces of this home are a list, or nothing is drawn yet")
    turn = radians(solid.north)
    root = ElementTree.Element(
        "gbXML",
        {
            "xmlns": NAMESPACE,
            "version": VERSION,
            "temperatureUnit": "C",
            "lengthUnit": "Meters",
            "areaUnit": "SquareMeters",
            "volumeUnit": "CubicMeters",
            "useSIUnitsForResults": "true",
        },
    )
    campus = sub(root, "Campus", id="campus")
    building = sub(campus, "Building", id="building", buildingType="SingleFamily")
    text(building, "Name", a.home.name)
    area = a.figures["reference_floor_area"].value
    text(building, "Area", f"{float(area or 0.0):.6f}")
    _spaces(building, a)
    ids = Ids()
    rows = [f for f in (*solid.boundaries, *solid.around) if f.outline is not None]
    for face in rows:
        _surface(campus, face, a, turn, ids)
    constructions(root, a, frozenset(f.buildup for f in rows), ids)
    window_types(root, a, ids)
    ElementTree.indent(root)
    made: bytes = ElementTree.tostring(root, encoding="utf-8", xml_declaration=True)
    return made + b"\n"


def _spaces(building: ElementTree.Element, a: Assessment) -> None:
    built, solid = a[BUILT], a[SOLID]
    volumes = dict(built.volumes) if built is not None else {}
    known = {s.id: s for s in solid.spaces if s.kind in ("heated", "unheated", "neighbour")}
    for ident, space in known.items():
        made = sub(building, "Space", id=_space(ident), conditionType="Unconditioned" if space.kind == "unheated" else "HeatedAndCooled")
        text(made, "Name", space.name)
        if ident in volumes:
            text(made, "Volume", f"{volumes[ident]:.6f}")


def _space(ident: str) -> str:
    return f"space-{slug(ident)}"


def _surface(campus: ElementTree.Element, face: Boundary, a: Assessment, turn: float, ids: Ids) -> None:
    known = any(b.id == face.buildup for b in a.home.buildups)
    build = ids.of("construction", face.buildup) if known else NOT_SAID
    made = sub(campus, "Surface", id=ids.of("surface", face.id), surfaceType=_kind(face), constructionIdRef=build)
    text(made, "Name", face.name)
    sub(made, "AdjacentSpaceId", spaceIdRef=_space(face.inside.id))
    if face.beyond.kind in ("unheated", "neighbour", "heated"):
        sub(made, "AdjacentSpaceId", spaceIdRef=_space(face.beyond.id))
    outline = face.outline
    assert outline is not None
    _geometry(made, outline, face.tilt, face.azimuth, turn)
    for stand in stands(a.home.openings, face.id, outline):
        kind = next((t for t in a.home.opening_types if t.id == stand.opening.type), None)
        use = {"door": "NonSlidingDoor", "rooflight": "FixedSkylight"}.get(kind.use if kind is not None else "", "FixedWindow")
        number = sum(1 for _ in made.iter("Opening")) + 1
        named = {"windowTypeIdRef": ids.of("window", kind.id)} if kind is not None else {}
        hole = sub(made, "Opening", id=ids.of("opening", f"{stand.opening.id}-{number}"), openingType=use, **named)
        text(hole, "Name", stand.opening.name)
        for name, value in (product_values(stand.opening, kind, a) if kind is not None else {}).items():
            amount(hole, name, value)
        _geometry(hole, in_space(outline, stand, 0.0), face.tilt, face.azimuth, turn)


def _kind(face: Boundary) -> str:
    """The schema's kind of a surface."""
    if face.borders == "ground":
        return "SlabOnGrade" if face.role == "floor" else "UndergroundWall"
    if face.beyond.kind in ("unheated", "neighbour", "heated"):
        return {"floor": "InteriorFloor", "ceiling": "Ceiling", "roof": "Ceiling"}.get(face.role, "InteriorWall")
    return {"floor": "ExposedFloor", "roof": "Roof", "ceiling": "Roof"}.get(face.role, "ExteriorWall")


def _geometry(parent: ElementTree.Element, polygon: Polygon, tilt: float, azimuth: float, turn: float) -> None:
    """Both ways the schema asks for: the size with its direction, and the loop of corners; y looks north."""
    box = sub(parent, "RectangularGeometry")
    text(box, "Azimuth", f"{azimuth:.4f}")
    width = _width(polygon)
    _point(box, polygon[0], turn)
    text(box, "Tilt", f"{tilt:.4f}")
    text(box, "Height", f"{area_of(polygon) / max(width, 1e-9):.6f}")
    text(box, "Width", f"{width:.6f}")
    loop = sub(sub(parent, "PlanarGeometry"), "PolyLoop")
    for corner in polygon:
        _point(loop, corner, turn)


def _width(polygon: Polygon) -> float:
    flat = max(hypot(a[0] - b[0], a[1] - b[1]) for a in polygon for b in polygon)
    return flat if flat > 1e-9 else 1.0


def _point(parent: ElementTree.Element, p: tuple[float, float, float], turn: float) -> None:
    made = sub(parent, "CartesianPoint")
    x, y, z = p
    for value in (x * cos(turn) + y * sin(turn), -x * sin(turn) + y * cos(turn), z):
        text(made, "Coordinate", f"{value:.9f}")


# in


def read(data: bytes) -> Home:
    """A home with a list of faces from a gbXML file. Raises HomeFileError with line and reason."""
    try:
        root = parse(data)
    except XmlFault as fault:
        raise HomeFileError(str(fault)) from None
    if root.name != "gbXML":
        raise HomeFileError(f"line {root.line}: the file begins with “{root.name}”; a gbXML file begins with “gbXML”")
    return _Reader(root).home()


class _Reader:
    """One file being read: its units, spaces, surfaces."""

    def __init__(self, root: XmlElement) -> None:
        self.root = root
        self.length = self._unit(root, "lengthUnit", METRES, "Meters")
        self.square = self._unit(root, "areaUnit", SQUARE, "SquareMeters")
        self.campus = root.first("Campus") or root
        building = self.campus.first("Building")
        self.spaces = {s.attributes.get("id", ""): s for s in (building.all("Space") if building is not None else ())}
        self.name = building.said("Name") if building is not None else ""
        north = self.campus.first("Location", "CADModelAzimuth")
        self.north = _float(north) if north is not None else 0.0
        self.constructions = Constructions(root, _float)
        self.windows = WindowTypes(root, _float)

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
            if ident not in self.spaces:
                raise HomeFileError(f"line {beside.line}: the space “{ident}” is not in this file")
            found.append(ident)
        return found

    def _kind(self, ident: str) -> str:
        """heated, unheated or neighbour."""
        space = self.spaces[ident]
        if ident.startswith(_space(NEIGHBOUR)):  # as this program writes it; no name of a space is taken for it
            return NEIGHBOUR
        return "unheated" if space.attributes.get("conditionType", "") in ("Unconditioned", "Vented", "NaturallyVentedOnly") else "heated"

    def _face(self, surface: XmlElement, number: int) -> Face | None:
        """The face of a surface; None for one that is inside, or not of the heated space, or gives shade only."""
        beside = self._beside(surface)
        said = surface.attributes.get("surfaceType", "")
        kinds = [self._kind(b) for b in beside] or (["heated"] if said in OUTSIDE_TYPES else [])
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
        points = tuple(self._point(p) for p in loop.all("CartesianPoint"))
        if len(points) > 3 and points[0] == points[-1]:
            points = points[:-1]
        if len(points) < 3:
            raise HomeFileError(f"line {loop.line}: a PolyLoop needs at least three points, this one has {len(points)}")
        if area_of(points) < 1e-6:
            raise HomeFileError(f"line {loop.line}: the corners of this PolyLoop lie in one line")
        return points

    def _point(self, element: XmlElement) -> tuple[float, float, float]:
        numbers = [_float(c) * self.length for c in element.all("Coordinate")]
        if len(numbers) != 3:
            raise HomeFileError(f"line {element.line}: a point needs three coordinates, this one has {len(numbers)}")
        return numbers[0], numbers[1], numbers[2]

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
        value = float(element.text.strip())
    except ValueError:
        raise HomeFileError(f"line {element.line}: “{element.text.strip()[:40]}” is not a number") from None
    if not abs(value) < 1e7:
        raise HomeFileError(f"line {element.line}: {element.text.strip()[:40]} is out of all bounds")
    return value
