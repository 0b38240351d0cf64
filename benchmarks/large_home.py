"""A home of hundreds of faces and thousands of openings, made from the demo home's own build-ups and opening types."""

from __future__ import annotations

from nuthatch.core.changes.changes import declared
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import Face, Home, Junction, Opening, walk_parts
from nuthatch.core.model.part import replace


def large(faces: int = 400, openings: int = 2000, junctions: int = 400) -> Home:
    """Osier Lane 7 as a list of so many parts, all of them known."""
    home = demo_home("osier-lane-7")
    build, kind = home.buildups[0].id, home.opening_types[0].id
    made = tuple(
        Face(
            id=f"f-{n}",
            name=f"Face {n}",
            role="wall" if n % 3 else "roof",
            area=declared(20.0 + n % 7),
            tilt=declared(90.0 if n % 3 else 35.0),
            azimuth=declared((n * 37) % 360),
            buildup=build,
        )
        for n in range(faces)
    )
    light = {"shade_winter": declared(0.9), "shade_summer": declared(0.7)}
    rows = tuple(
        Opening(
            id=f"o-{n}",
            name=f"Opening {n}",
            face=f"f-{n % faces}",
            type=kind,
            width=declared(1.0),
            height=declared(1.2 + n % 5 / 20),
            **light,
        )
        for n in range(openings)
    )
    edges = tuple(Junction(id=f"j-{n}", name=f"Junction {n}", length=declared(3.0), psi=declared(0.05)) for n in range(junctions))
    shape = replace(
        home.shape,
        form=None,
        plans=None,
        faces=made,
        measured_area=declared(4000.0),
        volume=declared(14000.0),
        air_volume=declared(10000.0),
    )
    return replace(home, name="Large", shape=shape, openings=rows, junctions=edges)


def parts_of(home: Home) -> int:
    """How many parts a home has."""
    return sum(1 for _ in walk_parts(home))
