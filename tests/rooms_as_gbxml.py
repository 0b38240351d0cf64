"""A second writer of gbXML for tests: rooms as boxes on a grid, each a space, every surface between two of them written once.

It shares nothing with the program's own writer: faces come from counting cubes, corners from joining squares.
"""

from __future__ import annotations

from collections import defaultdict
from math import cos, radians, sin

import shapely

Box = tuple[int, int, int, int, int, int]
"""x0, y0, z0, x1, y1, z1 in cubes."""
AXES = ((1, 0, 0), (0, 1, 0), (0, 0, 1))


def cubes(rooms: dict[str, list[Box]]) -> dict[tuple[int, int, int], str]:
    """Which room each cube belongs to."""
    return {
        (x, y, z): name
        for name, boxes in rooms.items()
        for x0, y0, z0, x1, y1, z1 in boxes
        for x in range(x0, x1)
        for y in range(y0, y1)
        for z in range(z0, z1)
    }


def surfaces(rooms: dict[str, list[Box]], unit: tuple[float, float, float]) -> list[tuple[str, str, list[tuple[float, float, float]]]]:
    """(room, what lies beyond or '', corners outward from the room) of every plane piece."""
    owner = cubes(rooms)
    flat: dict[tuple[str, str, int, int, int], list[shapely.Polygon]] = defaultdict(list)
    for (x, y, z), name in owner.items():
        for axis, way in enumerate(AXES):
            for sign in (1, -1):
                other = owner.get((x + sign * way[0], y + sign * way[1], z + sign * way[2]), "")
                if other == name or (other and name > other):
                    continue
                at = (x, y, z)[axis] + (sign > 0)
                u, v = [c for k, c in enumerate((x, y, z)) if k != axis]
                flat[name, other, axis, sign, at].append(shapely.box(u, v, u + 1, v + 1))
    found = []
    for (name, other, axis, sign, at), squares in flat.items():
        whole = shapely.get_parts(shapely.union_all(squares))
        for shape in (p for w in whole for p in (_strips(w) if w.interiors else [w])):
            ring = list(shapely.geometry.polygon.orient(shape).exterior.simplify(0).coords[:-1])
            corners = []
            for u, v in ring:
                p = [u, v]
                p.insert(axis, at)
                corners.append((p[0] * unit[0], p[1] * unit[1], p[2] * unit[2]))
            outward = (axis != 1) == (sign > 0)  # x·y·z is right-handed: y is seen from behind
            found.append((name, other, corners if outward else corners[::-1]))
    return found


def _strips(shape: shapely.Polygon) -> list[shapely.Polygon]:
    """A shape with holes as pieces without."""
    x0, y0, x1, y1 = (round(v) for v in shape.bounds)
    return [p for x in range(x0, x1) for p in shapely.get_parts(shapely.intersection(shape, shapely.box(x, y0, x + 1, y1))) if p.area > 0.1]


def document(
    rooms: dict[str, list[Box]],
    unit: tuple[float, float, float] = (1.0, 1.0, 2.5),
    cold: frozenset[str] = frozenset(),
    turn: float = 0.0,
    azimuth: float = 0.0,
    more: str = "",
    holes: dict[str, str] | None = None,
) -> bytes:
    """The rooms as a gbXML file: turned about the origin [°], the model's y to an azimuth. holes: extra text by the number of a surface."""
    c, s = cos(radians(turn)), sin(radians(turn))
    rows = []
    for n, (room, other, corners) in enumerate(surfaces(rooms, unit)):
        z = {p[2] for p in corners}
        area = sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(corners, corners[1:] + corners[:1], strict=True))
        level = len(z) == 1
        if level:
            kind = "Roof" if area > 0 else "SlabOnGrade" if max(z) <= 0 else "ExposedFloor"
            kind = ("Ceiling" if area > 0 else "InteriorFloor") if other else kind
        else:
            kind = "InteriorWall" if other else "UndergroundWall" if max(z) <= 0 else "ExteriorWall"
        beside = "".join(f'<AdjacentSpaceId spaceIdRef="{i}"/>' for i in (room, other) if i)
        points = "".join(
            "<CartesianPoint>" + "".join(f"<Coordinate>{v!r}</Coordinate>" for v in (c * x - s * y, s * x + c * y, z)) + "</CartesianPoint>"
            for x, y, z in corners
        )
        extra = (holes or {}).get(str(n), "")
        rows.append(
            f'<Surface id="s{n}" surfaceType="{kind}" constructionIdRef="{kind}">{beside}<Name>{room} {kind} {n}</Name>'
            f"<PlanarGeometry><PolyLoop>{points}</PolyLoop></PlanarGeometry>{extra}</Surface>"
        )
    spaces = "".join(
        f'<Space id="{r}" conditionType="{"Unconditioned" if r in cold else "HeatedAndCooled"}"><Name>{r.title()}</Name></Space>'
        for r in rooms
    )
    kinds = ("UndergroundWall", "ExteriorWall", "InteriorWall", "Roof", "Ceiling", "SlabOnGrade", "ExposedFloor", "InteriorFloor")
    builds = "".join(
        f'<Construction id="{k}"><Name>As {k}</Name><U-value unit="WPerSquareMeterK">0.2</U-value></Construction>' for k in kinds
    )
    text = (
        '<?xml version="1.0" encoding="UTF-8"?><gbXML xmlns="http://www.gbxml.org/schema" version="6.01" lengthUnit="Meters" '
        'areaUnit="SquareMeters" volumeUnit="CubicMeters" temperatureUnit="C" useSIUnitsForResults="true"><Campus id="c">'
        f"<Location><CADModelAzimuth>{azimuth!r}</CADModelAzimuth></Location>"
        f'<Building id="b"><Name>Rooms</Name>{spaces}</Building>{"".join(rows)}</Campus>{builds}{more}</gbXML>'
    )
    return text.encode()
