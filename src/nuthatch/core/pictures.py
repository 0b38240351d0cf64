"""Every picture that boards show and a dossier can hold, by key: each domain declares its own."""

from __future__ import annotations

from nuthatch.core.air import drawings as air
from nuthatch.core.airtest import chart as airtest
from nuthatch.core.climate import drawings as climate
from nuthatch.core.energy import drawings as energy
from nuthatch.core.fabric import drawings as fabric
from nuthatch.core.household import drawings as household
from nuthatch.core.junctions import drawings as junctions
from nuthatch.core.results.working import pinned_working
from nuthatch.core.shape import pictures as shape
from nuthatch.core.sketch import Picture
from nuthatch.core.water import drawings as water

WORKING = Picture("working", "How it is worked out", pinned_working)
"""`of` is the path of a working, not a part."""
PICTURES = {p.key: p for domain in (energy, climate, shape, fabric, junctions, air, airtest, water, household) for p in domain.PICTURES} | {
    "working": WORKING
}
