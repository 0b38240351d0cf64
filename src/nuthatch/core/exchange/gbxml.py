"""gbXML, the open schema for the exchange of buildings: spaces, surfaces with their polygons, openings, what they border on.

Written by schema 6.01, in metres, and valid by its XSD.
"""

from __future__ import annotations

from math import cos, hypot, radians, sin
from xml.etree import ElementTree

from nuthatch.core.assess import Assessment
from nuthatch.core.exchange.gbxml_fabric import NOT_SAID, Ids, amount, constructions, product_values, sub, text, window_types
from nuthatch.core.fabric.openings import in_a_slope
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.plans.polygons import Polygon, area_of, area_vector, sides
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.opening_places import in_space, stands
from nuthatch.core.solid.plan_faces import slug
from nuthatch.core.solid.solid import Boundary
from nuthatch.core.solid.stages import SOLID

NAMESPACE = "http://www.gbxml.org/schema"
VERSION = "6.01"


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
    _storeys(building, a, ids := Ids())
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
        made = sub(building, "Space", id=space_id(ident), conditionType="Unconditioned" if space.kind == "unheated" else "HeatedAndCooled")
        text(made, "Name", space.name)
        if ident in volumes:
            text(made, "Volume", f"{volumes[ident]:.6f}")


def _storeys(building: ElementTree.Element, a: Assessment, ids: Ids) -> None:
    """The storeys of plans by name and level [m]."""
    built = a[BUILT]
    for floor in built.drawing.floors if built is not None and built.drawing is not None else ():
        made = sub(building, "BuildingStorey", id=ids.of("storey", floor.plan.id))
        text(made, "Name", floor.plan.name)
        text(made, "Level", f"{floor.level:.6f}")


def space_id(ident: str) -> str:
    return f"space-{slug(ident)}"


def _surface(campus: ElementTree.Element, face: Boundary, a: Assessment, turn: float, ids: Ids) -> None:
    known = any(b.id == face.buildup for b in a.home.buildups)
    build = ids.of("construction", face.buildup) if known else NOT_SAID
    made = sub(campus, "Surface", id=ids.of("surface", face.id), surfaceType=_kind(face), constructionIdRef=build)
    text(made, "Name", face.name)
    sub(made, "AdjacentSpaceId", spaceIdRef=space_id(face.inside.id))
    if face.beyond.kind in ("unheated", "neighbour", "heated"):
        sub(made, "AdjacentSpaceId", spaceIdRef=space_id(face.beyond.id))
    outline = face.outline
    assert outline is not None
    _geometry(made, outline, face.tilt, face.azimuth, turn)
    for stand in stands(a.home.openings, face.id, outline):
        kind = next((t for t in a.home.opening_types if t.id == stand.opening.type), None)
        use = "FixedSkylight" if in_a_slope(face.tilt) else "FixedWindow"
        if kind is not None and kind.use == "door":
            use = "NonSlidingDoor"
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
    """How far a face reaches level, in its own plane; of a level face, its longer side."""
    vx, vy, _ = area_vector(polygon)
    flat = hypot(vx, vy)
    if flat < 1e-9 * area_of(polygon):
        return max(max(hypot(a[0] - b[0], a[1] - b[1]) for a, b in sides(polygon)), 1e-9)
    along = [(-vy * x + vx * y) / flat for x, y, _ in polygon]
    return max(along) - min(along)


def _point(parent: ElementTree.Element, p: tuple[float, float, float], turn: float) -> None:
    made = sub(parent, "CartesianPoint")
    x, y, z = p
    for value in (x * cos(turn) + y * sin(turn), -x * sin(turn) + y * cos(turn), z):
        text(made, "Coordinate", f"{value:.9f}")
