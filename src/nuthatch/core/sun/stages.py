"""How the sun on planes hangs in the graph (slow)."""

from __future__ import annotations

from nuthatch.core.climate.climate import Climate, PlaneSun
from nuthatch.core.climate.stages import Weathered
from nuthatch.core.graph.stage import CLIMATE, ITEM, Family, Slot, Stages, part
from nuthatch.core.model.home import Opening
from nuthatch.core.model.part import Given
from nuthatch.core.results.figure import Computing, Unknown
from nuthatch.core.solid.solid import Boundary
from nuthatch.core.solid.stages import BOUNDARY
from nuthatch.core.sun.planes import FLAT, SOUTH, SunPlane, plane_of

STAGES = Stages()
PLANES: Slot[dict[str, SunPlane]] = Slot("planes")
PLANE_SUN: Family[PlaneSun | Computing] = Family("sun on a plane")


@STAGES.stage(PLANES, faces=BOUNDARY, openings=part("openings"), reflectance=part("site.ground_reflectance"))
def planes(faces: dict[str, Boundary], openings: tuple[Opening, ...], reflectance: Given | None) -> dict[str, SunPlane]:
    """Every plane toward outside air that has openings, and those shown of every climate."""
    wanted = (faces[o.face] for o in openings if o.face in faces)
    made = (plane_of(f, reflectance) for f in wanted if f.beyond.kind == "outside")
    return {p.id: p for p in (*made, FLAT, SOUTH)}


def _waiting(since: float) -> Computing:
    return Computing("Sun on a plane", "irradiation", since, "the sun on the openings")


def _at_hand(plane: SunPlane, climate: Weathered) -> bool:
    return not isinstance(climate, Climate)


@STAGES.slow(PLANE_SUN, _waiting, each=PLANES, at_hand=_at_hand, plane=ITEM, climate=CLIMATE)
def plane_sun(plane: SunPlane, climate: Weathered) -> PlaneSun | Unknown | Computing:
    """Sun on one plane by month and by every window of two days."""
    return climate.plane(plane.tilt, plane.azimuth, plane.reflectance) if isinstance(climate, Climate) else climate
