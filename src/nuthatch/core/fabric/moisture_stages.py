"""How moisture hangs in the graph: air on both sides, the year of each build-up toward outside, what is asked about it."""

from __future__ import annotations

from typing import Any

from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.stages import AT_SITE
from nuthatch.core.fabric import buildup as fabric
from nuthatch.core.fabric import openings
from nuthatch.core.fabric import vapour as calc
from nuthatch.core.fabric.stages import BuildUpUse, use_of
from nuthatch.core.fabric.vapour import Airs, Vapour
from nuthatch.core.graph.stage import ITEM, Family, Slot, Stages, field, named, part
from nuthatch.core.model.home import BuildUp, Opening, OpeningType
from nuthatch.core.model.household import Household
from nuthatch.core.results.entries import need
from nuthatch.core.results.figure import Entered, Figure, Known, Node, because, missing
from nuthatch.core.results.question import Question
from nuthatch.core.solid.solid import Boundary
from nuthatch.core.solid.stages import BOUNDARY

STAGES = Stages()
AIRS: Slot[Airs] = Slot("air on both sides of the envelope")
WARM: Family[BuildUpUse] = Family("uses of build-ups around heated rooms")
VAPOUR: Family[Vapour] = Family("moisture in a use of a build-up")
PEAK: Slot[Figure] = Slot("most condensate of a build-up", {"condensate_peak": ""})
LEFT: Slot[Figure] = Slot("condensate left in a build-up", {"condensate_left": ""})
SURFACE: Slot[Figure] = Slot("least temperature factor of a build-up", {"surface_factor": ""})
NEEDED: Slot[Figure] = Slot("temperature factor wanted", {"surface_factor_needed": ""})
INSTALLED: Slot[Figure] = Slot("largest U of a window with its installation", {"installed_window_u": ""})
ASKS: Slot[tuple[Question, ...]] = Slot("questions of moisture", asks=True)
OUTWARD = ("outside air",)


@STAGES.stage(AIRS, climate=AT_SITE, humid=part("household"), inside=field("site.heating_setpoint"))
def airs(climate: Any, humid: Household, inside: Node) -> Airs:
    """Air on both sides by month; the indoor temperature is the heating set-point all year."""
    if not isinstance(climate, Climate):
        lost = because("outdoor air by month", "pascal", climate)
        return Airs(inside, lost, because("outdoor temperature", "temperature", climate), lost)
    outside = Entered("outdoor temperature by month", climate.temperature, "temperature", "calculated", climate.name)
    pressure = climate.vapour_pressure
    if pressure is None:
        lost = missing("vapour pressure outside", "pascal", "a weather file with dew points", "site", "climate")
        return Airs(inside, lost, outside, lost)
    outdoor = Entered("vapour pressure outside by month", pressure, "pascal", "calculated", f"{climate.name}, from its dew points")
    if humid.indoor_humidity is not None:
        return Airs(inside, calc.inner_by_humidity.figure(humidity=need(humid, "indoor_humidity"), inside=inside), outside, outdoor)
    kind = Entered(f"humidity class {humid.humidity}", float(humid.humidity), "count", "declared", "ISO 13788", "household", "humidity")
    return Airs(inside, calc.inner_by_class.figure(outside=outside, outdoor=outdoor, humid=kind, inside=inside), outside, outdoor)


@STAGES.stage(WARM, faces=BOUNDARY)
def uses_around_rooms(faces: dict[str, Boundary]) -> dict[str, BuildUpUse]:
    """The uses of build-ups around heated rooms, each once; what encloses an unheated space only is not judged."""
    return {u.id: u for u in map(use_of, faces.values())}


@STAGES.stage(VAPOUR, each=WARM, use=ITEM, build=named("buildups", by="buildup"), airs=AIRS)
def vapour(use: BuildUpUse, build: BuildUp | None, airs: Airs) -> Vapour | None:
    """The year of a build-up in a use toward outside air; None for others."""
    if build is None or use.borders not in OUTWARD:
        return None
    return calc.vapour(use.id, build, use.direction, fabric.total_r(build, use.direction, use.borders), airs)


def _all(uses: dict[str, Vapour | None]) -> tuple[Vapour, ...]:
    return tuple(v for v in uses.values() if v is not None)


@STAGES.stage(PEAK, uses=VAPOUR)
def most(uses: dict[str, Vapour | None]) -> Figure:
    """The most condensate at once in any build-up."""
    return calc.worst("Most condensate at once", "condensate", tuple(v.peak for v in _all(uses)))


@STAGES.stage(LEFT, uses=VAPOUR)
def rest(uses: dict[str, Vapour | None]) -> Figure:
    """The most condensate that stays in any build-up after a year."""
    return calc.worst("Condensate left after a year", "condensate", tuple(v.left for v in _all(uses)))


@STAGES.stage(SURFACE, uses=VAPOUR)
def least_surface(uses: dict[str, Vapour | None]) -> Figure:
    """The least temperature factor of any build-up toward outside."""
    return calc.worst("Temperature factor of the surface", "fraction", tuple(v.surface for v in _all(uses)), least=True)


@STAGES.stage(INSTALLED, rows=part("openings"), kinds=part("opening_types"), faces=BOUNDARY)
def installed(rows: tuple[Opening, ...], kinds: tuple[OpeningType, ...], faces: dict[str, Boundary]) -> Figure:
    """The largest U of a window with its installation: what comfort beside it depends on."""
    known = {k.id: k for k in kinds}
    found = []
    for o in rows:
        kind, face = known.get(o.type), faces.get(o.face)
        if kind is not None and face is not None and kind.use != "door":
            u = openings.transmittance(o, kind, face.tilt)
            found.append(
                openings.installed_u.figure(
                    f"U of {o.name}, installed", u=u, size=openings.sizes(o), install=openings.installation(o, kind)
                )
            )
    if not found:
        return missing("U of a window, installed", "u", "a window", "home", "openings")
    return calc.worst("U of a window, installed", "u", tuple(found))


@STAGES.stage(NEEDED, airs=AIRS)
def wanted(airs: Airs) -> Figure:
    """The temperature factor that keeps surfaces free of mould in the air of this home."""
    return calc.needed.figure(inside=airs.inside, p_inside=airs.p_inside, outside=airs.outside)


@STAGES.stage(ASKS, uses=VAPOUR, needed=NEEDED, buildups=part("buildups"))
def asks(uses: dict[str, Vapour | None], needed: Figure, buildups: tuple[BuildUp, ...]) -> tuple[Question, ...]:
    """Build-ups that gather moisture year by year, and surfaces that mould would grow on."""
    names = {b.id: b.name for b in buildups}
    found: dict[tuple[str, str], Question] = {}
    for v in _all(uses):
        if isinstance(v.left, Known) and v.year is not None and v.year.accumulates:
            layer = calc.tight_outside(v)
            what = f": vapour is held up by {layer.name}, outside of where it gathers" if layer is not None else ""
            says = f"Moisture gathers in {names[v.buildup]} from year to year, {{0}} after the first{what}"
            found.setdefault((v.buildup, "left"), Question(v.buildup, "layers", says, ((float(v.left.value), "condensate"),)))
        if isinstance(v.surface, Known) and isinstance(needed, Known) and float(v.surface.value) < float(needed.value):
            says = f"The inner surface of {names[v.buildup]} is so cold that mould may grow: f_Rsi {{0}}, {{1}} is needed in this air"
            amounts = ((float(v.surface.value), "fraction"), (float(needed.value), "fraction"))
            found.setdefault((v.buildup, "surface"), Question(v.buildup, "layers", says, amounts))
    return tuple(found.values())
