"""What the dossier shows of a drawn shape: plans storey by storey, elevations, rooms, unheated spaces."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.pictures import picture
from nuthatch.core.solid.stages import BUILT
from nuthatch.core.views.shape.pictures import ELEVATIONS
from nuthatch.core.views.shape.spaces import spaces


def drawn_shape(a: Assessment) -> dict[str, object]:
    """For the template; all of it empty where nothing is drawn."""
    plans, built = a.home.shape.plans, a[BUILT]
    if plans is None or built is None or not built.solid.drawn:
        return {"storey_plans": [], "elevations": [], "rooms": [], "spaces": []}
    return {
        "storey_plans": [{"name": s.name, "drawing": picture(a, "plan", s.id)} for s in plans.storeys],
        "elevations": [picture(a, "elevation", side) for side in ELEVATIONS],
        "upright": picture(a, "upright"),
        "rooms": built.rooms,
        "spaces": [s for s in spaces(a) if not s.heated],
    }
