"""What is drawn on the site, as changes: blocks, trees, the plot; a horizon drawn, or read from a table."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Sequence
from math import atan2, degrees, hypot

import shapely

from nuthatch.core.changes.changes import Batch, Change, ChangeRefused, Insert, SetValue, refusing
from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.edits.plan_edits import drawn
from nuthatch.core.edits.roof_edits import squared
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import Basis, Given
from nuthatch.core.model.site import HorizonPoint, PlotCorner, SiteObject
from nuthatch.core.plans.roofs import Point2
from nuthatch.core.reading import BadText, Doubt, read
from nuthatch.core.sun.site import ring_of

HEIGHTS = {"block": 7.0, "row of trees": 8.0, "tree": 8.0}
"""Of what is drawn until its height is given [m]."""
CROWN = 5.0
"""How wide a tree is drawn [m]."""
SMALLEST, MOST_POINTS = 0.2, 720
AROUND = 20.0
"""Metres round the home a sheet covers where nothing stands there yet."""


def _assumed(value: float) -> Given:
    return Given(value=value, source="until it is measured")


def site_bounds(home: Home) -> tuple[float, float, float, float]:
    """What stands on the site, its plot and something around the home's zero [m]."""
    points = [(-AROUND, -AROUND), (AROUND, AROUND)]
    for ring in (ring_of(o) for o in home.site.objects):
        points += [(float(x), float(y)) for x, y in ring] if ring is not None else []
    points += [(c.east.value, c.north.value) for c in home.site.plot if c.east is not None and c.north is not None]
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return min(xs), min(ys), max(xs), max(ys)


@refusing
def object_drawn(home: Home, kind: str, points: Sequence[Point2]) -> Insert:
    """A block or a row of trees by the two ends of its front and how deep it is, a tree by where it stands. Raises ChangeRefused."""
    number = sum(1 for o in home.site.objects if (o.kind == "block") == (kind == "block")) + 1
    made: dict[str, object] = {
        "id": fresh_ids(home, "object", 1)[0],
        "name": f"{'Block' if kind == 'block' else 'Tree' if kind == 'tree' else 'Trees'} {number}",
        "kind": kind,
        "height": _assumed(HEIGHTS[kind]),
    }
    if kind == "tree":
        made |= {"east": drawn(points[0][0]), "north": drawn(points[0][1]), "length": _assumed(CROWN)}
        return Insert(owner="site", field="objects", value=SiteObject.model_validate(made))
    corners = squared((points[0], points[1], points[2]))
    (ax, ay), (bx, by), (cx, cy) = corners[:3]
    length, depth = hypot(bx - ax, by - ay), hypot(cx - bx, cy - by)
    if min(length, depth) < SMALLEST:
        raise ChangeRefused("it has no depth: click the two ends of one side, then a third point away from it")
    middle = sum(x for x, _ in corners) / 4, sum(y for _, y in corners) / 4
    sizes = {"east": middle[0], "north": middle[1], "length": length, "depth": depth}
    made |= {name: drawn(round(value, 2)) for name, value in sizes.items()}
    made["turned"] = drawn(round(degrees(atan2(bx - ax, by - ay)) % 180, 1))
    return Insert(owner="site", field="objects", value=SiteObject.model_validate(made))


@refusing
def plot_drawn(home: Home, points: Sequence[Point2]) -> SetValue:
    """The plot's boundary by its corners, in the place of the one before. Raises ChangeRefused."""
    if len(points) < 3 or not shapely.Polygon(points).is_valid:
        raise ChangeRefused("the boundary of a plot has three corners or more and does not cross itself")
    ids = fresh_ids(home, "plot", len(points))
    corners = tuple(PlotCorner(id=i, east=drawn(x), north=drawn(y)) for i, (x, y) in zip(ids, points, strict=True))
    return SetValue(part="site", field="plot", value=corners)


@refusing
def horizon_point(home: Home, azimuth: float, height: float) -> Insert:
    """One more point of the horizon, in its place by direction."""
    ident = fresh_ids(home, "horizon", 1)[0]
    row = HorizonPoint(id=ident, azimuth=drawn(round(azimuth % 360, 1)), height=drawn(round(min(max(height, 0.0), 89.0), 1)))
    before = sum(1 for p in home.site.horizon if p.azimuth is not None and p.azimuth.value <= azimuth)
    return Insert(owner="site", field="horizon", value=row, index=before)


@refusing
def horizon_of(home: Home, text: str, name: str) -> Batch:
    """The horizon of a table of directions and heights [°], in the place of the one before; a row of words at its head is passed over. Raises
    ChangeRefused with the row that cannot be read."""
    rows = _rows(text)
    if not rows:
        raise ChangeRefused(f"{name}: there is no row of two numbers, direction and height in degrees")
    if len(rows) > MOST_POINTS:
        raise ChangeRefused(f"{name}: {len(rows)} points; at most {MOST_POINTS}, two a degree, are taken")
    ids = fresh_ids(home, "horizon", len(rows))

    def given(value: float) -> Given:
        return Given(value=value, basis=Basis.DECLARED, source=name)

    points = tuple(HorizonPoint(id=i, azimuth=given(a), height=given(h)) for i, (a, h) in zip(ids, sorted(rows), strict=True))
    changes: tuple[Change, ...] = (SetValue(part="site", field="horizon", value=points),)
    return Batch(label=f"Horizon from {name}", changes=changes)


def _rows(text: str) -> list[tuple[float, float]]:
    """Direction and height of each row. Raises ChangeRefused."""
    lines = [line for line in text.splitlines() if line.strip() and not line.lstrip().startswith("#")]
    mark = _mark(next((line for line in lines if line.strip()[0] in "-.0123456789"), ""))
    found: list[tuple[float, float]] = []
    for n, row in enumerate(csv.reader(io.StringIO(text), delimiter=mark, skipinitialspace=True), 1):
        cells = [c.strip() for c in row if c.strip()]
        if not cells or cells[0].startswith("#"):
            continue
        try:
            azimuth, height = (_number(c) for c in cells[:2])
        except (BadText, ValueError):
            if not found and n <= 30 and not any(ch.isdigit() for ch in cells[0][:1]):
                continue  # words above the numbers
            raise ChangeRefused(f"row {n}: “{mark.join(row)[:60]}” is not a direction and a height in degrees") from None
        if not (-180 <= azimuth <= 360 and -5 <= height < 90):
            raise ChangeRefused(f"row {n}: direction {azimuth:g} and height {height:g}; 0 to 360° and 0 to 89° are possible")
        found.append((round(azimuth % 360, 3), round(max(height, 0.0), 3)))
    return found


def _mark(line: str) -> str:
    """What parts the cells of a line of numbers; a comma beside a gap is that of a decimal."""
    if ";" in line or "\t" in line:
        return ";" if ";" in line else "\t"
    return "," if "," in line and not re.search(r"\d\s+[-\d]", line) else " "


def _number(text: str) -> float:
    value = read(text, "angle")
    if isinstance(value, Doubt):
        raise BadText(value.question)
    return float(value)
