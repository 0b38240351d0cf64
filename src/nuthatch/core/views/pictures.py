"""Every picture that boards show and a dossier can hold, by key: each domain declares its own."""

from __future__ import annotations

from nuthatch.core.sketch import Picture
from nuthatch.core.views import day, energy_way, heat_power, household, pipes, room_loads, site_plan, skyline
from nuthatch.core.views import hot_water as water
from nuthatch.core.views import site as climate
from nuthatch.core.views.air import drawings as air
from nuthatch.core.views.air import test_chart as airtest
from nuthatch.core.views.balance import drawings as energy
from nuthatch.core.views.hours import charts as hours
from nuthatch.core.views.hours import rooms as hour_rooms
from nuthatch.core.views.junctions import drawings as junctions
from nuthatch.core.views.openings import drawings as fabric
from nuthatch.core.views.options import ladder_drawn as options
from nuthatch.core.views.shape import pictures as shape
from nuthatch.core.views.working import pinned_working

WORKING = Picture("working", "How it is worked out", pinned_working)
"""`of` is the path of a working, not a part."""
PICTURES = {
    p.key: p
    for domain in (
        energy,
        hours,
        hour_rooms,
        energy_way,
        heat_power,
        climate,
        site_plan,
        skyline,
        shape,
        fabric,
        junctions,
        air,
        airtest,
        water,
        pipes,
        household,
        day,
        room_loads,
        options,
    )
    for p in domain.PICTURES
} | {"working": WORKING}
