"""The lines of a DXF drawing, in metres, to trace from: straight pieces, and polylines that close."""

from __future__ import annotations

import io
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from math import cos, hypot, isfinite, radians, sin
from typing import Any

from nuthatch.core.files.disk import printable
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.plans.roofs import Point2

LARGEST = 40_000_000
MOST = 60_000
"""Straight pieces and entities of one drawing."""
FAR = 1e7
"""What lies farther away is no plan [m]."""
WIDEST = 300.0
"""A drawing that names no unit and is wider than this in metres was drawn in millimetres [m]."""
SAGITTA = 0.005
"""How far a curve may lie from the straight pieces drawn for it, as a share of its drawing's unit in metres [m]."""
DEEPEST = 8
"""Blocks within blocks."""
DRAWN = ("LINE", "LWPOLYLINE", "POLYLINE", "ARC", "CIRCLE", "ELLIPSE", "SPLINE")


@dataclass(frozen=True)
class DxfLines:
    """Straight pieces and closed polylines of a drawing [m]; lower left corner and width of what is drawn."""

    pieces: tuple[tuple[Point2, Point2], ...]
    closed: tuple[tuple[Point2, ...], ...]
    corner: Point2
    width: float

    def laid(self, x: float, y: float, width: float, turned: float = 0.0, mirrored: bool = False) -> DxfLines:
        """The same with its lower left corner elsewhere, so wide [m], turned about it [°] and seen from behind."""
        k = width / self.width
        along = cos(radians(turned)), sin(radians(turned))

        def at(p: Point2) -> Point2:
            u, v = (p[0] - self.corner[0]) * (-k if mirrored else k), (p[1] - self.corner[1]) * k
            return x + u * along[0] - v * along[1], y + u * along[1] + v * along[0]

        return DxfLines(tuple((at(a), at(b)) for a, b in self.pieces), tuple(tuple(map(at, r)) for r in self.closed), (x, y), width)


def is_dxf(name: str) -> bool:
    """Whether a file is called a DXF drawing."""
    return name.lower().endswith(".dxf")


@lru_cache(maxsize=4)
def lines_of(data: bytes) -> DxfLines:
    """The lines of a drawing's model space. Raises HomeFileError with what would be right."""
    import ezdxf
    from ezdxf import recover, units
    from ezdxf.enums import InsertUnits

    if len(data) > LARGEST:
        raise HomeFileError(f"the drawing is larger than {LARGEST // 1_000_000} MB; save only the storey that is traced")
    try:
        document, _ = recover.read(io.BytesIO(data))
        scale = units.conversion_factor(InsertUnits(document.units), InsertUnits.Meters) if document.units else 1.0
        runs = _Runs(SAGITTA / scale)
        rings = [([(x * scale, y * scale) for x, y in run], closes) for run, closes in runs.of(document.modelspace(), 0)]
    except HomeFileError:
        raise
    except (ezdxf.DXFError, OSError, ValueError, TypeError, KeyError, IndexError, AttributeError, ArithmeticError, RecursionError) as why:  # type: ignore[attr-defined]
        said = printable(str(why).strip() or type(why).__name__)[:160]
        raise HomeFileError(f"the file is no DXF drawing that can be read: {said}") from why
    rings = [(r, closes) for r, closes in rings if len(r) > 1 and all(isfinite(c) and abs(c) < FAR for p in r for c in p)]
    if not rings:
        raise HomeFileError("there are no lines in the drawing's model space; save the plan as lines or polylines")
    xs, ys = ([p[i] for r, _ in rings for p in r] for i in (0, 1))
    if not document.units and max(xs) - min(xs) > WIDEST:  # it does not say its unit, and no plan is so wide in metres
        rings = [([(x / 1000, y / 1000) for x, y in r], closes) for r, closes in rings]
        xs, ys = [x / 1000 for x in xs], [y / 1000 for y in ys]
    pieces = tuple((a, b) for r, _ in rings for a, b in zip(r, r[1:], strict=False) if hypot(b[0] - a[0], b[1] - a[1]) > 1e-9)
    closed = tuple(tuple(r[:-1]) for r, closes in rings if closes and len(r) > 3 and hypot(r[0][0] - r[-1][0], r[0][1] - r[-1][1]) < 1e-6)
    return DxfLines(pieces, closed, (min(xs), min(ys)), max(max(xs) - min(xs), 1e-6))


@dataclass
class _Runs:
    """Lines as points, one after the other; what there is no end of is refused."""

    sagitta: float
    left: int = MOST

    def of(self, entities: Any, deep: int) -> Iterator[tuple[list[Point2], bool]]:
        """(points, whether it is a polyline) of every line; blocks are opened. Raises HomeFileError where there are too many."""
        from ezdxf import path

        for entity in entities:
            self._take(1)
            kind = entity.dxftype()
            if kind == "INSERT" and deep < DEEPEST:
                yield from self.of(entity.virtual_entities(), deep + 1)
            elif kind in DRAWN:
                points = [(float(p.x), float(p.y)) for p in path.make_path(entity).flattening(self.sagitta)]
                self._take(len(points))
                yield points, kind in ("LWPOLYLINE", "POLYLINE")

    def _take(self, number: int) -> None:
        self.left -= number
        if self.left < 0:
            raise HomeFileError(f"the drawing has more than {MOST} lines; save only the storey that is traced")
