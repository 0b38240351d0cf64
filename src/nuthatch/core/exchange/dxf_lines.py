"""The lines of a DXF drawing, in metres, to trace from: straight pieces, and outlines that close."""

from __future__ import annotations

import io
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field, replace
from math import acos, atan, ceil, cos, hypot, isfinite, pi, radians, sin, sqrt
from typing import Any

import shapely

from nuthatch.core.files.disk import printable
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.graph import progress
from nuthatch.core.plans.roofs import Point2

LARGEST = 40_000_000
MOST = 60_000
"""Straight pieces and entities of one drawing."""
FAR = 1e7
"""What lies farther away is no plan, in units of its drawing."""
USUAL = (3.0, 80.0)
"""How wide the plan of a dwelling usually is [m]."""
UNITS = {"metres": 1.0, "millimetres": 0.001, "centimetres": 0.01, "feet": 0.3048, "inches": 0.0254}
"""Units a drawing may be in that does not say its own, the likeliest first [m]."""
SAGITTA = 0.005
"""How far a curve may lie from the straight pieces drawn for it [m]."""
DEEPEST = 8
"""Blocks within blocks."""
DRAWN = ("LINE", "LWPOLYLINE", "POLYLINE", "ARC", "CIRCLE", "ELLIPSE", "SPLINE")
MEET = 0.002
"""Ends of lines nearer than this meet [m]."""
ROOM = 1.0
"""What closes around less than this is no outline [m²]."""
Tell = Callable[[float], object]


@dataclass(frozen=True)
class DxfLines:
    """Straight pieces and closed polylines of a drawing [m]; lower left corner and width of what is drawn; the unit it is taken in, and
    whether the drawing says so itself."""

    pieces: tuple[tuple[Point2, Point2], ...]
    closed: tuple[tuple[Point2, ...], ...]
    corner: Point2
    width: float
    unit: str = "metres"
    said: bool = True

    def laid(self, x: float, y: float, width: float, turned: float = 0.0, mirrored: bool = False) -> DxfLines:
        """The same with its lower left corner elsewhere, so wide [m], turned about it [°] and seen from behind."""
        k = width / self.width
        along = cos(radians(turned)), sin(radians(turned))

        def at(p: Point2) -> Point2:
            u, v = (p[0] - self.corner[0]) * (-k if mirrored else k), (p[1] - self.corner[1]) * k
            return x + u * along[0] - v * along[1], y + u * along[1] + v * along[0]

        pieces, closed = tuple((at(a), at(b)) for a, b in self.pieces), tuple(tuple(map(at, r)) for r in self.closed)
        return replace(self, pieces=pieces, closed=closed, corner=(x, y), width=width)

    def width_in(self, unit: str) -> float:
        """How wide it is where it is in another unit [m]."""
        return self.width * UNITS[unit] / UNITS[self.unit]


def is_dxf(name: str) -> bool:
    """Whether a file is called a DXF drawing."""
    return name.lower().endswith(".dxf")


_KEPT: dict[bytes, DxfLines] = {}


def kept(data: bytes) -> DxfLines | None:
    """The lines of a drawing that was read before."""
    return _KEPT.get(data)


_BROKEN = (OSError, ValueError, TypeError, KeyError, IndexError, AttributeError, ArithmeticError, AssertionError, RecursionError)
"""Whatever a broken drawing makes its reader raise, besides its own error."""


def lines_of(data: bytes, tell: Tell = lambda _: None) -> DxfLines:
    """The lines of a drawing's model space that are shown. tell: called with how far it is, 0 to 1, and may end it. Raises HomeFileError
    with what would be right."""
    if data not in _KEPT:
        keep(data, _read(data, tell))
    return _KEPT[data]


def keep(data: bytes, lines: DxfLines) -> None:
    """Have the lines of a drawing at hand that was read, here or in another process; the last four are."""
    while len(_KEPT) > 3:
        _KEPT.pop(next(iter(_KEPT)))
    _KEPT[data] = lines


def lines_told(data: bytes) -> DxfLines:
    """The same in a process of its own, which tells how far it is."""
    return lines_of(data, progress.tell)


def _read(data: bytes, tell: Tell) -> DxfLines:
    import ezdxf
    from ezdxf import recover, units
    from ezdxf.enums import InsertUnits

    if len(data) > LARGEST:
        raise HomeFileError(f"the drawing is larger than {LARGEST // 1_000_000} MB; save only the storey that is traced")
    try:
        document, _ = recover.read(io.BytesIO(data))
        tell(0.2)
        said = document.units != 0
        runs = _Runs(document)
        wide = runs.extent(document.modelspace(), 0)
        scale = units.conversion_factor(InsertUnits(document.units), InsertUnits.Meters) if said else UNITS[_likely(wide)]
        runs.sagitta = SAGITTA / scale
        tell(0.4)
        rings = []
        for run, closes in runs.of(document.modelspace(), 0):
            rings.append(([(x * scale, y * scale) for x, y in run], closes))
            if len(rings) % 500 == 0:
                tell(min(0.4 + 0.4 * len(rings) / 20_000, 0.8))
    except HomeFileError:
        raise
    except (ezdxf.DXFError, *_BROKEN) as why:  # type: ignore[attr-defined]
        words = printable(str(why).strip() or type(why).__name__)[:160]
        raise HomeFileError(f"the file is no DXF drawing that can be read: {words}") from why
    rings = [(r, closes) for r, closes in rings if len(r) > 1 and all(isfinite(c) and abs(c) < FAR * scale for p in r for c in p)]
    if not rings:
        raise HomeFileError("there are no lines in the drawing's model space that are shown; save the plan as lines or polylines")
    xs, ys = ([p[i] for r, _ in rings for p in r] for i in (0, 1))
    pieces = tuple((a, b) for r, _ in rings for a, b in zip(r, r[1:], strict=False) if hypot(b[0] - a[0], b[1] - a[1]) > 1e-9)
    closed = [tuple(r[:-1]) for r, closes in rings if closes and len(r) > 3 and hypot(r[0][0] - r[-1][0], r[0][1] - r[-1][1]) < 1e-6]
    tell(0.85)
    closed += _around(pieces)
    found = DxfLines(pieces, tuple(_apart(closed)), (min(xs), min(ys)), max(max(xs) - min(xs), 1e-6), "metres", said)
    return found if said else replace(found, unit=_likely(wide))


def _likely(wide: float) -> str:
    """The unit in which something so wide is the plan of a dwelling."""
    return next((name for name, metres in UNITS.items() if USUAL[0] <= wide * metres <= USUAL[1]), "metres")


def _around(pieces: tuple[tuple[Point2, Point2], ...]) -> Iterator[tuple[Point2, ...]]:
    """What single lines that meet each other close around, each group of them by its outermost line."""
    if not pieces:
        return
    near = [shapely.LineString([(round(x / MEET) * MEET, round(y / MEET) * MEET) for x, y in piece]) for piece in pieces]
    noded = shapely.union_all([line for line in near if line.length > 0])
    cells = shapely.get_parts(shapely.polygonize(shapely.get_parts(noded)))
    if not len(cells):
        return
    for group in shapely.get_parts(shapely.union_all([shapely.Polygon(c.exterior) for c in cells])):
        if group.geom_type == "Polygon":
            yield tuple((x, y) for x, y in group.exterior.simplify(MEET / 2).coords[:-1])
    for cell in cells:  # within a frame, what stands clear of it
        for ring in cell.interiors:
            yield tuple((x, y) for x, y in ring.simplify(MEET / 2).coords[:-1])


def _apart(rings: Iterable[tuple[Point2, ...]]) -> Iterator[tuple[Point2, ...]]:
    """Rings that are not one already said, and large enough."""
    said: list[shapely.Polygon] = []
    for ring in rings:
        shape = shapely.Polygon(ring) if len(ring) > 2 else None
        if shape is None or not shape.is_valid or shape.area < ROOM / 100:
            continue
        if not any(abs(s.area - shape.area) < 0.01 * shape.area and shapely.hausdorff_distance(s, shape) < 5 * MEET for s in said):
            said.append(shape)
            yield ring


@dataclass
class _Runs:
    """The lines that are shown, as points, one after the other; what there is no end of is refused before it is drawn out."""

    document: Any
    sagitta: float = SAGITTA
    left: int = MOST
    hidden: frozenset[str] = field(default_factory=frozenset)

    def __post_init__(self) -> None:
        self.hidden = frozenset(layer.dxf.name.lower() for layer in self.document.layers if layer.is_off() or layer.is_frozen())

    def of(self, entities: Any, deep: int, within: str = "0") -> Iterator[tuple[list[Point2], bool]]:
        """(points, whether it is a polyline) of every line; blocks are opened. Raises HomeFileError where there are too many."""
        from ezdxf import path

        for entity, layer in self._shown(entities, within):
            self._take(1)
            kind = entity.dxftype()
            if kind == "INSERT" and deep < DEEPEST:
                scale, at = self._block(entity)
                for points, closes in self.of(entity.virtual_entities(), deep + 1, layer):
                    yield [(at[0] + (x - at[0]) * scale, at[1] + (y - at[1]) * scale) for x, y in points], closes
            elif kind in DRAWN and _near(entity):
                self._take(self._count(entity, kind))
                points = [(float(p.x), float(p.y)) for p in path.make_path(entity).flattening(self.sagitta)]
                yield points, kind in ("LWPOLYLINE", "POLYLINE")

    def extent(self, entities: Any, deep: int, within: str = "0", scale: float = 1.0) -> float:
        """How wide what is shown is, told from ends and corners, in units of the drawing."""
        xs: list[float] = []
        left = MOST
        for points, _ in self._ends(entities, deep, within):
            left -= len(points) or 1
            if left < 0:
                break
            xs += [x for x, _ in points if isfinite(x) and abs(x) < FAR]
        return (max(xs) - min(xs)) * scale if xs else 0.0

    def _ends(self, entities: Any, deep: int, within: str) -> Iterator[tuple[list[Point2], float]]:
        for entity, layer in self._shown(entities, within):
            kind = entity.dxftype()
            if kind == "INSERT" and deep < DEEPEST:
                scale, at = self._block(entity)
                for points, _ in self._ends(entity.virtual_entities(), deep + 1, layer):
                    yield [(at[0] + (x - at[0]) * scale, at[1] + (y - at[1]) * scale) for x, y in points], scale
            elif kind == "LINE":
                yield [(p.x, p.y) for p in (entity.dxf.start, entity.dxf.end)], 1.0
            elif kind == "LWPOLYLINE":
                yield [(float(p[0]), float(p[1])) for p in entity.get_points("xy")], 1.0
            elif kind in ("ARC", "CIRCLE"):
                c, r = entity.dxf.center, entity.dxf.radius
                yield [(c.x - r, c.y), (c.x + r, c.y)], 1.0

    def _shown(self, entities: Any, within: str) -> Iterator[tuple[Any, str]]:
        """What is on no layer that is off or frozen, with its layer; layer 0 within a block is that of the block."""
        for entity in entities:
            layer = str(entity.dxf.get("layer", "0"))
            layer = within if layer == "0" else layer
            if layer.lower() not in self.hidden and not entity.dxf.get("invisible", 0):
                yield entity, layer

    def _block(self, insert: Any) -> tuple[float, Point2]:
        """How much larger a block's own unit is than the drawing's, and where it is put in."""
        from ezdxf import units
        from ezdxf.enums import InsertUnits

        block = self.document.blocks.get(insert.dxf.name)
        own = int(block.units) if block is not None else 0
        at = insert.dxf.insert
        both = own and self.document.units and own != self.document.units
        scale = units.conversion_factor(InsertUnits(own), InsertUnits(self.document.units)) if both else 1.0
        return scale, (float(at.x), float(at.y))

    def _count(self, entity: Any, kind: str) -> int:
        """How many straight pieces an entity will be at most."""
        if kind in ("ARC", "CIRCLE"):
            way = pi * 2 if kind == "CIRCLE" else radians((entity.dxf.end_angle - entity.dxf.start_angle) % 360 or 360)
            return self._of_arc(entity.dxf.radius, way)
        if kind == "ELLIPSE":
            return self._of_arc(entity.dxf.major_axis.magnitude, 2 * pi)
        if kind == "SPLINE":
            points = [(float(p[0]), float(p[1])) for p in entity.control_points] or [(float(p[0]), float(p[1])) for p in entity.fit_points]
            long = sum(hypot(b[0] - a[0], b[1] - a[1]) for a, b in zip(points, points[1:], strict=False))
            return len(points) + self._of_arc(long / pi, 2 * pi)
        if kind == "LWPOLYLINE":
            return sum(self._of_bulge(a, b) for a, b in _pairs(list(entity.get_points("xyb"))))
        return len(entity.vertices) + 1 if kind == "POLYLINE" else 2

    def _of_bulge(self, a: Any, b: Any) -> int:
        """Straight pieces of a side of a polyline that may be an arc."""
        bulge, long = abs(float(a[2])), hypot(b[0] - a[0], b[1] - a[1])
        return self._of_arc(long * (1 + bulge * bulge) / (4 * bulge), 4 * atan(bulge)) if bulge > 1e-12 else 1

    def _of_arc(self, radius: float, way: float) -> int:
        if not radius > self.sagitta:
            return 8
        share = self.sagitta / radius
        step = 2 * acos(1 - share) if share > 1e-9 else 2 * sqrt(2 * share)
        return min(ceil(way / step), MOST)

    def _take(self, number: int) -> None:
        self.left -= number
        if self.left < 0:
            raise HomeFileError(f"the drawing has more than {MOST} lines; save only the storey that is traced")


def _pairs(points: list[Any]) -> Iterator[tuple[Any, Any]]:
    return zip(points, points[1:] + points[:1], strict=True)


def _near(entity: Any) -> bool:
    """Whether a curve lies near enough to be part of a plan."""
    kind = entity.dxftype()
    if kind in ("ARC", "CIRCLE"):
        return bool(0 < entity.dxf.radius < FAR)
    return bool(entity.dxf.major_axis.magnitude < FAR) if kind == "ELLIPSE" else True
