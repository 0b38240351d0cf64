"""What the dossier shows of a drawn shape: plans storey by storey, elevations and section, to scale as large as the page lets them be."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.makeup import Pages
from nuthatch.core.dossier.pictures import drawing
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.views.shape.to_scale import Scaled, elevations_to_scale, plan_to_scale, section_to_scale

BESIDE = ("south", "north", "east", "west")
"""Elevations in the order in which those of one width stand beside each other."""


def drawn_shape(a: Assessment, pages: Pages) -> dict[str, object]:
    """For the template; all of it empty where nothing is drawn."""
    plans, built = a.home.shape.plans, a[BUILT]
    if plans is None or built is None or not built.solid.drawn:
        return {"storey_plans": [], "elevations": [], "upright": {}}
    whole, half = pages.room, (pages.room[0], pages.room[1] / 2)
    storeys = [s for s in plans.storeys if any(o.sides for o in s.outlines)]
    sides = elevations_to_scale(a, half)
    return {
        "storey_plans": [_printed(plan_to_scale(a, s.id, whole), s.name) for s in storeys],
        "elevations": [_printed(made, made.sketch.title) for made in (sides[side] for side in BESIDE)],
        "upright": _printed(section_to_scale(a, next(iter(sides.values())).scale), "Section"),
    }


def _printed(made: Scaled, name: str) -> dict[str, object]:
    return {"name": name, "scale": made.says, "width": made.width, "drawing": drawing(made.sketch)}
