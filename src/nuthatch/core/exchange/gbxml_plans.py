"""gbXML taken in: as storey plans where it can be, else as a list of faces; and what of the file has no place in a home, by name."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import replace as changed

import numpy as np
import shapely
from shapely.errors import ShapelyError

from nuthatch.core.assess import whole_plan
from nuthatch.core.edits.openings_kept import outlines_of
from nuthatch.core.exchange.counted import counted
from nuthatch.core.exchange.gbxml import space_id
from nuthatch.core.exchange.gbxml_fabric import read_as
from nuthatch.core.exchange.gbxml_in import Reader, root_of
from nuthatch.core.exchange.storeys_from import NoPlans, Storeys
from nuthatch.core.exchange.surfaces import Hole, Space, straightened, turned
from nuthatch.core.exchange.taken import Taken
from nuthatch.core.exchange.xml_tree import XmlElement
from nuthatch.core.graph.plan import narrowed
from nuthatch.core.graph.runner import run
from nuthatch.core.library import new_home
from nuthatch.core.model.home import Home, Opening
from nuthatch.core.model.part import replace
from nuthatch.core.plans.polygons import Polygon, flat_outline, normal, plane_axes
from nuthatch.core.solid.stages import SOLID

LOFT = "loft"
MOST_DRAWN = 1500
"""More surfaces than this are taken as a list of faces."""
SAME_AREA = 0.01
"""How far the area toward each surrounding may differ between the file and the plans made of it, as a share."""
HELD = frozenset({"Campus", "Construction", "Layer", "Material", "WindowType", "DocumentHistory"})
"""What below the root of a file has a place in a home, or is about the file."""
IN_CAMPUS = frozenset({"Building", "Surface", "Location", "Name"})
IN_BUILDING = frozenset({"Space", "Name", "Area", "BuildingStorey"})
IN_SPACE = frozenset({"Name", "Area", "Volume", "PlanarGeometry", "ShellGeometry", "SpaceBoundary", "CADObjectId"})
NEAR = 0.03
"""How far an opening may lie beside its wall [m]."""


def taken(data: bytes, building: str = "") -> Taken:
    """The home in a gbXML file. Raises HomeFileError with line and reason, SeveralBuildings where it is not said which is read."""
    root = root_of(data)
    reader = Reader(root, building)
    listed = reader.home()
    notes = left_out(root, reader)
    try:
        drawn, more = _drawn(reader)
        _checked(drawn, listed)
    except NoPlans as why:
        return Taken(listed, (f"storeys and outlines: {why}; the surfaces are taken as a list of faces", *notes))
    except (ValueError, ArithmeticError, IndexError, ShapelyError):  # surfaces nobody could build
        return Taken(listed, ("storeys and outlines: the surfaces lie askew of each other; they are taken as a list of faces", *notes))
    return Taken(drawn, (*more, *notes))


# as plans


def _drawn(reader: Reader) -> tuple[Home, list[str]]:
    """The home as storey plans, and what they cannot hold. Raises NoPlans."""
    number = sum(1 for _ in reader.campus.all("Surface"))
    if number > MOST_DRAWN:
        raise NoPlans(f"{number} surfaces are more than {MOST_DRAWN}")
    pieces = reader.pieces()
    if not pieces:
        raise NoPlans("no surface has corners")
    turn = straightened([p.polygon for p in pieces])
    kinds = {i: reader.kind(i) for i in (*reader.spaces, *reader.elsewhere)}
    names = {i: s.said("Name") or i for i, s in reader.spaces.items()}
    spaces = {i: Space(i, names.get(i, i), kind, kind == "unheated" and i == space_id(LOFT)) for i, kind in kinds.items()}
    alone = next((i for i, k in kinds.items() if k == "heated"), "")  # what names no space stands around the heated one
    surfaces = [changed(p, polygon=turned(p.polygon, turn), space=p.space or alone) for p in pieces]
    making = Storeys(spaces, surfaces, reader.levels())
    plans = replace(making.plans(), north=read_as((reader.north + turn) % 360))
    home = new_home()
    shape = replace(home.shape, form=None, faces=(), plans=plans, dimensions="external")
    home = replace(
        home,
        name=reader.name or "Home from gbXML",
        shape=shape,
        buildups=(*home.buildups, *reader.constructions.buildups),
        opening_types=(*home.opening_types, *reader.windows.types),
    )
    holes = [(h, turned(h.polygon, turn) if h.polygon is not None else None) for p in pieces for h in p.holes]
    openings, more = _openings(home, holes, [turned(p.polygon, turn) for p in pieces for _ in p.holes])
    return replace(home, openings=tuple(openings)), [*making.notes, *more]


def _openings(home: Home, holes: list[tuple[Hole, Polygon | None]], hosts: list[Polygon]) -> tuple[list[Opening], list[str]]:
    """The openings where they stood. hosts: the surface each stands in."""
    outlines = outlines_of(home)
    found: list[Opening] = []
    notes = []
    for n, ((hole, polygon), host) in enumerate(zip(holes, hosts, strict=True), 1):
        face, place = _face_of(polygon if polygon is not None else host, host, outlines)
        if not face:
            notes.append(f"the opening {hole.name or n}: no wall or slope of the plans lies where it stands")
            continue
        placed = polygon is not None
        left = max(place - hole.width / 2, 0.0)
        found.append(
            Opening(
                id=f"opening-{n}",
                name=hole.name,
                face=face,
                type=hole.type,
                width=read_as(hole.width),
                height=read_as(hole.height),
                count=read_as(1.0),
                position=read_as(left) if placed else None,
                sill=read_as(min(p[2] for p in polygon)) if polygon is not None else None,
            )
        )
    return found, notes


def _face_of(polygon: Polygon, host: Polygon, outlines: Mapping[str, Polygon]) -> tuple[str, float]:
    """The face an opening lies in, and how far its middle is from the left edge of it [m]; '' for none."""
    middle = np.mean(np.array(polygon), axis=0)
    way = normal(host)
    best: tuple[float, str, float] = (NEAR, "", 0.0)
    for name, face in outlines.items():
        out = normal(face)
        if out @ way < 0.999 * np.linalg.norm(out) * np.linalg.norm(way):
            continue
        corner, right, up = plane_axes(face)
        rest = middle - corner
        off = abs(float(rest @ np.cross(right, up)))
        spot = shapely.Point(float(rest @ right), float(rest @ up))
        far = off + float(shapely.distance(shapely.Polygon(flat_outline(face)), spot))
        if far < best[0]:
            best = far, name, spot.x
    return best[1], best[2]


def _checked(drawn: Home, listed: Home) -> None:
    """Raises NoPlans where the plans do not have the areas of the file."""
    solid = run(narrowed(whole_plan(), frozenset({SOLID.name}), frozenset()), drawn, None).values[SOLID.name]
    if not solid.boundaries:
        raise NoPlans("what is cut from them does not close")
    now: dict[str, float] = defaultdict(float)
    for b in solid.boundaries:
        now[b.borders] += solid.areas[b.id]
    said: dict[str, float] = defaultdict(float)
    for f in listed.shape.faces:
        said[f.borders] += f.area.value if f.area is not None else 0.0
    for borders in sorted({*now, *said}):
        if abs(now[borders] - said[borders]) > max(SAME_AREA * said[borders], 0.2):
            raise NoPlans(f"toward {borders} they have {said[borders]:.1f} m², as storeys {now[borders]:.1f} m²")


# what is left out


def left_out(root: XmlElement, reader: Reader) -> tuple[str, ...]:
    """What of a file has no place in a home, by name."""
    rows = [(c, HELD) for c in root.children]
    rows += [(c, IN_CAMPUS) for c in reader.campus.children] if reader.campus is not root else []
    rows += [(c, IN_BUILDING) for c in reader.building.children] if reader.building is not None else []
    rows += [(c, IN_SPACE) for s in reader.spaces.values() for c in s.children]
    found: dict[str, list[str]] = defaultdict(list)
    for element, held in rows:
        if element.name not in held:
            found[element.name].append(element.said("Name") or element.attributes.get("id", "") or element.text.strip()[:40])
    for surface in reader.campus.all("Surface"):
        if surface.attributes.get("surfaceType", "") == "Shade":
            found["surface that only shades"].append(surface.said("Name") or surface.attributes.get("id", ""))
        elif surface.attributes.get("surfaceType", "") == "Air":
            found["opening between spaces without a wall"].append(surface.said("Name") or surface.attributes.get("id", ""))
    return tuple(counted(what, names) for what, names in found.items())
