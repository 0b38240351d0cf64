"""Another producer of the shape: a typed or pasted list of faces; volumes and floor area are typed too."""

from __future__ import annotations

from nuthatch.core.model.home import Face
from nuthatch.core.results.entries import Entry
from nuthatch.core.solid.solid import HEATED, Boundary, Solid, space_beyond, spaces_of


def solid(faces: tuple[Face, ...]) -> Solid:
    """The shape of a list of faces: no outlines."""
    made = tuple(_boundary(f) for f in faces)
    areas = {f.id: f.area.value if f.area else 0.0 for f in faces}
    return Solid(spaces_of(made), made, areas=areas)


def _boundary(f: Face) -> Boundary:
    plain = {"wall": 90.0, "party wall": 90.0, "floor": 180.0}.get(f.role, 0.0)
    return Boundary(
        f.id,
        f.name,
        f.role,
        HEATED,
        space_beyond(f.borders, f"beside {f.name}" if f.borders in ("unheated space", "neighbour") else ""),
        f.tilt.value if f.tilt else plain,
        f.azimuth.value if f.azimuth else 0.0,
        f.buildup,
        Entry(f.id, "buildup"),
        Entry(f.id, "b", f.b),
        Entry(f.id, "perimeter", f.perimeter),
        Entry(f.id, "area", f.area),
        Entry(f.id, "depth", f.depth),
    )
