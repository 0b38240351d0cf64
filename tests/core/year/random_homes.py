"""Homes by chance: size, insulation, glass, air, mass and gains anywhere within what is built. What hours and months differ by is told of them."""

from __future__ import annotations

import random

from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from tests.simple_home import g, layer, simple_home

CLIMATES = ("marrowby-quay", "hallin-fell", "verrin-plain")


def by_chance(seed: int, climate: str) -> Home:
    """The same home for the same number, in any climate."""
    dice = random.Random(seed)
    home = simple_home(climate)
    form = home.shape.form
    assert form is not None
    wall, roof, slab = home.buildups
    heavy = dice.random() < 0.5
    inside = layer("wall.2", dice.uniform(90, 240), 0.8, 1700, 1000) if heavy else layer("wall.2", dice.uniform(12, 60), 0.25, 800, 1000)
    walls = replace(wall, layers=(layer("wall.1", dice.uniform(40, 320), 0.035, 30, 1030), inside))
    roofs = replace(roof, layers=(layer("roof.1", dice.uniform(80, 400), 0.04, 30, 1030), roof.layers[1]))
    slabs = replace(slab, layers=(layer("slab.1", dice.uniform(20, 250), 0.036), slab.layers[1]))
    kind = replace(home.opening_types[0], glass_u=g(dice.uniform(0.5, 2.6)), glass_g=g(dice.uniform(0.35, 0.7)))
    south, north = home.openings
    many = replace(south, count=g(dice.randint(1, 4)), shade_winter=None, shade_summer=None, blind=dice.choice(("none", "none", "outside")))
    unit = replace(home.air.units[0], recovery=g(dice.uniform(0.6, 0.9)), bypass=dice.random() < 0.6)
    return replace(
        home,
        buildups=(walls, roofs, slabs),
        opening_types=(kind,),
        openings=(many, replace(north, count=g(dice.randint(1, 3)), shade_winter=None, shade_summer=None)),
        shape=replace(home.shape, inner_mass=g(dice.uniform(10, 80)), form=replace(form, length=g(dice.uniform(8, 14)), depth=g(dice.uniform(6, 10)), storeys=g(dice.randint(1, 2)))),
        air=replace(home.air, n50=g(dice.uniform(0.4, 6)), units=(unit,) if dice.random() < 0.6 else ()),
        household=replace(home.household, simple_gains=g(dice.uniform(2.1, 4.5))),
        site=replace(home.site, incidence=None),
    )  # fmt: skip
