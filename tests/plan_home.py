"""A home drawn as plans for tests: an L of two storeys with a cross gable, a garage, four rooms a storey, eight windows."""

from __future__ import annotations

from typing import Any

from nuthatch.core.model.home import Home, Opening
from nuthatch.core.model.part import replace
from nuthatch.core.model.plans import GroundSpot, InnerWall, Outline, Plans, RoofPlan, Room, Side, Spot, StoreyPlan
from tests.simple_home import g, simple_home

L = ((0.0, 0.0), (10.0, 0.0), (10.0, 6.0), (6.0, 6.0), (6.0, 10.0), (0.0, 10.0))
"""Outer faces: 10 × 6 m and a wing of 6 × 4 m behind its left part."""
GARAGE = ((10.0, 0.0), (14.0, 0.0), (14.0, 5.0), (10.0, 5.0))


def sides(stem: str, points: tuple[tuple[float, float], ...], **more: Any) -> tuple[Side, ...]:
    """Corners of an outline, their ids lettered."""
    return tuple(Side(id=f"{stem}.{'abcdefghijkl'[n]}", x=g(x), y=g(y), **more) for n, (x, y) in enumerate(points))


def spots(stem: str, points: tuple[tuple[float, float], ...]) -> tuple[Spot, ...]:
    """Corners of a part of the roof."""
    return tuple(Spot(id=f"{stem}.{'abcd'[n]}", x=g(x), y=g(y)) for n, (x, y) in enumerate(points))


def inner(ident: str, a: tuple[float, float], b: tuple[float, float]) -> InnerWall:
    return InnerWall(id=ident, x=g(a[0]), y=g(a[1]), to_x=g(b[0]), to_y=g(b[1]), thickness=g(0.1))


def storey(stem: str, name: str, outlines: tuple[Outline, ...], **more: Any) -> StoreyPlan:
    """Four rooms: a wall along x = 5 in the front part, one along y = 5.65, one along y = 8 in the wing."""
    walls = (inner(f"{stem}.w1", (5, 0.3), (5, 5.6)), inner(f"{stem}.w2", (0.3, 5.65), (10, 5.65)), inner(f"{stem}.w3", (0.3, 8), (5.7, 8)))
    places = {"Living": (2, 2), "Kitchen": (8, 2), "Study": (2, 7), "Stairs": (2, 9)}
    rooms = tuple(
        Room(id=f"{stem}.{n.lower()}", name=n, x=g(x), y=g(y), use="stairs" if n == "Stairs" else "living") for n, (x, y) in places.items()
    )
    return StoreyPlan(id=stem, name=name, height=g(3), floor_thickness=g(0.3), outlines=outlines, inner_walls=walls, rooms=rooms, **more)


def plan_home(**changed: Any) -> Home:
    """Walls 0.3 m, floor 0.25 m, roof and ceiling 0.32 m thick (as the simple home's build-ups); 45° over the main part, ridge along x;
    the wing's ridge along y; the top storey ends level below a loft."""
    home = simple_home()
    low = (
        Outline(id="low", name="House", sides=sides("low", L)),
        Outline(id="garage", name="Garage", kind="unheated space", height=g(2.5), air_change=g(1.5), wall_buildup="wall", top_buildup="roof",
                floor_buildup="slab", sides=sides("garage", GARAGE)),
    )  # fmt: skip
    plans = Plans(
        north=g(0), wall_buildup="wall", party_buildup="wall", inner_buildup="wall", earth_buildup="wall", roof_buildup="roof",
        ceiling_buildup="roof", ground_buildup="slab", cellar_buildup="slab", air_buildup="slab", loft_roof="roof", loft_gable="wall",
        loft_air=g(3), ground=g(-0.2),
        storeys=(storey("ground", "Ground floor", low, level=g(0)), storey("upper", "Upper floor", (Outline(id="up", name="House", sides=sides("up", L)),))),
        roofs=(
            RoofPlan(id="main", name="Main roof", kind="gable", pitch=g(45), ridge=g(0), eaves=g(6),
                     corners=spots("main", ((0, 0), (10, 0), (10, 6), (0, 6)))),
            RoofPlan(id="wing", name="Wing roof", kind="gable", pitch=g(45), ridge=g(90), eaves=g(6),
                     corners=spots("wing", ((0, 3), (6, 3), (6, 10), (0, 10)))),
        ),
    )  # fmt: skip
    faces = ("low.a", "low.a", "low.b", "low.f", "low.e", "up.a", "up.b", "up.e")
    sills = (0.9, 0.9, 0.9, 0.9, 0.9, 3.9, 3.9, 3.9)
    places = (1.0, 6.0, 5.1, 2.0, 1.0, 1.0, 2.0, 3.0)
    windows = tuple(
        Opening(id=f"w-{n}", name=f"W{n}", face=face, type="window", width=g(0.8 if n == 3 else 1.2), height=g(1.2), count=g(1),
                position=g(at), sill=g(sill), shade_winter=g(0.8), shade_summer=g(0.8))
        for n, (face, sill, at) in enumerate(zip(faces, sills, places, strict=True), 1)
    )  # fmt: skip
    return replace(home, shape=replace(home.shape, form=None, plans=replace(plans, **changed)), openings=windows)


def other_plan_homes() -> list[Home]:
    """Homes that between them use every field of plans."""
    first = plan_home()
    assert first.shape.plans is not None
    low, garage = first.shape.plans.storeys[0].outlines
    corner = {"low.a": {"borders": "neighbour"}, "low.f": {"borders": "unheated space", "b": g(0.6)}, "low.e": {"buildup": "roof"}}
    told = replace(
        low,
        floor_buildup="roof",
        below="unheated space",
        b_below=g(0.5),
        sides=tuple(replace(s, **corner.get(s.id, {})) for s in low.sides),
    )
    cold = replace(garage, b=g(0.7))
    top = replace(first.shape.plans.storeys[1].outlines[0], above="unheated space", b_above=g(0.8), top_buildup="slab", height=g(2.8))
    ground, upper = first.shape.plans.storeys
    rooms = tuple(replace(r, factor=g(0.6), height=g(2.3)) for r in ground.rooms)
    plain = plan_home(
        partition_share=g(0.06), traced="inner faces", ground=g(1.0), loft_b=g(0.9),
        storeys=(replace(ground, outlines=(told, cold), rooms=rooms), replace(upper, level=g(3.1), outlines=(top,), inner_walls=())),
    )  # fmt: skip
    levels = (("z1", 0, 0, -0.5), ("z2", 14, 0, 1.2), ("z3", 0, 10, 0.4))
    roofs = tuple(replace(r, other_pitch=g(30)) for r in first.shape.plans.roofs[:1])
    over = RoofPlan(id="over", name="Over", kind="hip", over="up", pitch=g(40), ridge=g(0))
    attic = replace(upper.outlines[0], reaches="the roof")
    air = (
        replace(
            ground,
            outlines=(
                replace(
                    low,
                    floor_buildup="",
                    below="suspended floor",
                    crawl_height=g(0.5),
                    crawl_u=g(1.5),
                    crawl_vents=g(1500),
                    crawl_wind=g(4),
                ),
                replace(garage, height=None),
            ),
        ),
        replace(upper, outlines=(replace(attic, sides=tuple(replace(s, id=f"{s.id}2") for s in attic.sides)),)),
    )
    slope = plan_home(
        storeys=air, roofs=(*roofs, over), ground=None,
        heights=tuple(GroundSpot(id=i, x=g(x), y=g(y), z=g(z)) for i, x, y, z in levels),
    )  # fmt: skip
    lower = Outline(id="cellar-part", name="Cellar", kind="unheated space", air_change=g(0.5), wall_buildup="wall", floor_buildup="slab",
                    top_buildup="roof", sides=sides("cellar-part", ((0, 0), (5, 0), (5, 6), (0, 6))))  # fmt: skip
    out = replace(upper.outlines[0], sides=sides("up", ((0, -1), *L[1:])))
    deep = StoreyPlan(id="cellar", name="Cellar", level=g(-2.4), height=g(2.4), outlines=(lower,))
    stepped = plan_home(storeys=(deep, ground, replace(upper, outlines=(out,))), party_buildup="roof")
    main, wing = first.shape.plans.roofs
    bent = plan_home(roofs=(
        replace(main, kind="half-hip", end_pitch=g(60), hip_share=g(0.3)), replace(wing, kind="mansard", pitch=g(70), upper_pitch=g(30), bend=g(2.0)),
    ))  # fmt: skip
    return [first, plain, slope, stepped, bent]
