"""Areas and volumes of drawn plans with their workings: which polygon, which lengths."""

from __future__ import annotations

from collections.abc import Iterable
from math import hypot

from nuthatch.core.model.plans import Plans
from nuthatch.core.plans.polygons import Polygon, area_vector, flat_outline, scalar
from nuthatch.core.results.calculation import calculation, total
from nuthatch.core.results.entries import need, optional
from nuthatch.core.results.figure import Entered, Figure, Node
from nuthatch.core.solid.from_plans import Built, Stands
from nuthatch.core.solid.plan_rooms import PlanRoom
from nuthatch.core.solid.solid import Boundary

SOURCE = "from the plans"


def _drawn(label: str, value: float, kind: str = "length", part: str = "plans", field: str = "storeys") -> Entered:
    """A length or area of the drawing; it leads to the plans."""
    return Entered(label, value, kind, "calculated", SOURCE, part, field)


@calculation(
    "Area of a face",
    "area",
    "area of the polygon of its corners, each so far along the face and so far up it",
    "plane geometry",
    closed=False,
    least=0,
    across="x: length",
    up="y: length",
)
def polygon_area(across: tuple[float, ...], up: tuple[float, ...]) -> float:
    """Shoelace in the face's own plane [m²]; corners counter-clockwise seen from outside."""
    pairs = zip(across, up, across[1:] + across[:1], up[1:] + up[:1], strict=True)
    return sum(a * d - c * b for a, b, c, d in pairs) / 2


def face_area(label: str, polygon: Polygon) -> Figure:
    """Area of a polygon in space with its working."""
    corners = flat_outline(polygon)
    across = tuple(_drawn(f"corner {n}, along", x) for n, (x, _) in enumerate(corners, 1))
    return polygon_area.figure(label, across=across, up=tuple(_drawn(f"corner {n}, up", y) for n, (_, y) in enumerate(corners, 1)))


@calculation(
    "Volume",
    "volume",
    "V = Σ(A·d)/3",
    "divergence theorem: pyramids over the faces from one point",
    least=0,
    areas="A: area",
    distances="d: length",
)
def enclosed(areas: tuple[float, ...], distances: tuple[float, ...]) -> float:
    """Volume [m³] inside closed faces; distances of their planes from a point, positive where it lies behind the face [m]."""
    return sum(a * d for a, d in zip(areas, distances, strict=True)) / 3


def volume(faces: Iterable[Boundary], polygons: dict[str, Polygon]) -> Figure:
    """External volume of the heated space."""
    rows = [(f.name, polygons[f.id]) for f in faces if f.id in polygons]
    middle = min((p for _, polygon in rows for p in polygon), default=(0.0, 0.0, 0.0))
    areas, distances = [], []
    for name, polygon in rows:
        vector = area_vector(polygon)
        corner = polygon[0][0] - middle[0], polygon[0][1] - middle[1], polygon[0][2] - middle[2]
        away = scalar(corner, vector) / max(hypot(*vector), 1e-12)
        areas.append(face_area(f"outer area of {name}", polygon))
        distances.append(_drawn(f"distance of {name} from the leftmost corner", away))
    return enclosed.figure("Heated volume", areas=tuple(areas), distances=tuple(distances))


@calculation(
    "Area of a room that counts",
    "area",
    "A = (A_2 + 0.5·A_1)·f·(1 − p)",
    "method: full above 2 m, half from 1 to 2 m, none below; by the room's use",
    least=0,
    high="A_2: area",
    half="A_1: area",
    factor="f: fraction",
    share="p: percent",
)
def room_area(high: float, half: float, factor: float, share: float) -> float:
    """Reference floor area of a room [m²]."""
    return (high + 0.5 * half) * factor * (1 - share)


@calculation(
    "Air volume of a room",
    "volume",
    "V = A·h·(1 − p)",
    "ISO 9972:2015, 6.1.1",
    least=0,
    area="A: area",
    height="h: length",
    share="p: percent",
)
def room_volume(area: float, height: float, share: float) -> float:
    """Net floor area × mean clear height, partitions left out [m³]."""
    return area * height * (1 - share)


def _share(room: PlanRoom, plans: Plans) -> Node:
    if room.share == 1.0:
        return Entered("inner walls are drawn", 0.0, "percent")
    return optional(plans, "partition_share", 0.0, "none")


def counted(room: PlanRoom, plans: Plans) -> Figure:
    """What a room adds to the reference floor area."""
    high = _drawn(f"{room.name}: area higher than 2 m", room.measure.high, "area", room.outline, "sides")
    half = _drawn(f"{room.name}: area 1 to 2 m high", room.measure.half, "area", room.outline, "sides")
    factor: Node = Entered(f"use: {room.use}", room.factor, "fraction", "rule")
    if room.part is not None and room.part.factor is not None:
        factor = need(room.part, "factor")
    return room_area.figure(f"Area of {room.name}", high=high, half=half, factor=factor, share=_share(room, plans))


def air(room: PlanRoom, plans: Plans) -> Figure:
    """The air volume of a room."""
    area = _drawn(f"{room.name}: floor area inside", room.measure.area, "area", room.outline, "sides")
    height = _drawn(f"{room.name}: mean clear height", room.measure.height, "length", room.outline, "sides")
    return room_volume.figure(f"Air volume of {room.name}", area=area, height=height, share=_share(room, plans))


def perimeter(label: str, stands: tuple[Stands, ...]) -> Figure:
    """Exposed perimeter of a floor on the ground, side by side."""
    sides = tuple(_drawn(f"below {s.wall}", s.length) for s in stands)
    return total(label, "length", sides, "ISO 13370:2017, 5.2")


def inner_shell(label: str, built: Built) -> Figure:
    """The envelope along the inside, in overall internal dimensions."""
    names = {b.id: b.name for b in built.solid.boundaries}
    parts = tuple(face_area(f"inner area of {names.get(k, k)}", p) for k, p in built.inner.items())
    return total(label, "area", parts, "ISO 9972:2015, 6.1.2")
