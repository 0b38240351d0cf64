"""How what drawn plans make hangs in the graph: as traced, grown by their walls, inside."""

from __future__ import annotations

from typing import TypedDict, Unpack

from nuthatch.core.graph.stage import Slot, Stages, field, part
from nuthatch.core.model.home import BuildUp, Shape
from nuthatch.core.model.part import replace
from nuthatch.core.model.plans import Outline, Plans
from nuthatch.core.plans import reading_plans
from nuthatch.core.plans.arrangement import HEATED as HOME
from nuthatch.core.plans.arrangement import PlanOutline
from nuthatch.core.plans.reading_plans import Drawing
from nuthatch.core.solid import from_plans
from nuthatch.core.solid.from_plans import Built, Laid, Lines
from nuthatch.core.solid.massing import Massing, massing
from nuthatch.core.solid.thickness import effective_layers, thickness

STAGES = Stages()
THICKNESS: Slot[dict[str, float]] = Slot("thickness of build-ups")
WALL_THICKNESS: Slot[dict[str, float]] = Slot("thickness of build-ups without cladding")
STILL: Slot[Shape] = Slot("shape without what its rooms ask of the air")
PLANS: Slot[Plans | None] = Slot("plans without what rooms ask of the air")
DRAWING: Slot[Drawing | None] = Slot("drawn plans as geometry")
LINES: Slot[Lines | None] = Slot("outlines, roofs and ground as drawn")
TRACED: Slot[Massing | None] = Slot("what the plans make as traced")
LAID: Slot[Laid | None] = Slot("thicknesses of what is traced")
GROWN: Slot[Lines | None] = Slot("outlines grown by their walls")
GROWN_MASSING: Slot[Massing | None] = Slot("what the plans make, grown")
WITHIN: Slot[tuple[PlanOutline, ...]] = Slot("outlines along the inner faces of their walls")
REACH: Slot[dict[str, dict[str, float]]] = Slot("how far faces reach into their spaces")
HOME_REACH: Slot[dict[str, float]] = Slot("how far faces reach into the heated space")
AIR_OF_COLD: Slot[dict[str, float]] = Slot("air volume of unheated spaces")
INNER: Slot[Massing | None] = Slot("what the plans make inside")
BUILT: Slot[Built | None] = Slot("what the plans make")


@STAGES.stage(THICKNESS, buildups=part("buildups"))
def thickness_of_buildups(buildups: tuple[BuildUp, ...]) -> dict[str, float]:
    """Thickness of each build-up [m], by id."""
    return {b.id: thickness(b) for b in buildups}


@STAGES.stage(WALL_THICKNESS, buildups=part("buildups"))
def thickness_without_cladding(buildups: tuple[BuildUp, ...]) -> dict[str, float]:
    """Thickness of each build-up without ventilated cladding and what is outside it [m], by id."""
    return {b.id: sum(layer.thickness.value for layer in effective_layers(b) if layer.thickness) for b in buildups}


@STAGES.stage(STILL, shape=part("shape"))
def still(shape: Shape) -> Shape:
    """The shape as it is drawn: what a room asks of the air, how a cold space is aired, how heavy inner parts are, make no face anew."""
    made = replace(shape, inner_mass=None) if shape.inner_mass is not None else shape
    plans = shape.plans
    rooms, outlines = ((r for s in plans.storeys for r in s.rooms), (o for s in plans.storeys for o in s.outlines)) if plans else ((), ())
    if plans is None or not (plans.loft_air or any(r.asks for r in rooms) or any(o.air_change for o in outlines)):
        return made
    storeys = tuple(
        replace(s, rooms=tuple(r.drawn_only() for r in s.rooms), outlines=tuple(_unaired(o) for o in s.outlines)) for s in plans.storeys
    )
    return replace(made, plans=replace(plans, storeys=storeys, loft_air=None))


def _unaired(outline: Outline) -> Outline:
    return replace(outline, air_change=None) if outline.air_change is not None else outline


@STAGES.stage(PLANS, shape=STILL)
def plans_of(shape: Shape) -> Plans | None:
    """The storey plans of the shape as it is drawn."""
    return shape.plans


@STAGES.stage(DRAWING, plans=PLANS)
def drawing_of_plans(plans: Plans | None) -> Drawing | None:
    """The storey plans as plain geometry; None where there are none."""
    return reading_plans.read(plans) if plans is not None else None


@STAGES.stage(LINES, drawing=DRAWING)
def lines_of_plans(drawing: Drawing | None) -> Lines | None:
    """Outlines, roofs and ground of plans that fit: what no name and no inner wall moves."""
    return (drawing.outlines, drawing.parts, drawing.ground) if drawing is not None and drawing.fits else None


@STAGES.kept(TRACED, lines=LINES)
def traced(lines: Lines | None) -> Massing | None:
    """What the plans make as they are traced: no thickness moves it."""
    return massing(*lines) if lines is not None else None


@STAGES.stage(LAID, plans=PLANS, drawing=DRAWING, traced=TRACED, known=THICKNESS)
def laid(plans: Plans | None, drawing: Drawing | None, traced: Massing | None, known: dict[str, float]) -> Laid | None:
    """How thick all is, and the outer outlines."""
    return from_plans.laid_out(plans, drawing, traced, known) if plans is not None and drawing is not None and traced is not None else None


@STAGES.stage(GROWN, laid=LAID)
def grown(laid: Laid | None) -> Lines | None:
    """The outer outlines where they are not those that were traced."""
    return laid.outer if laid is not None and laid.grown else None


@STAGES.kept(GROWN_MASSING, lines=GROWN)
def grown_massing(lines: Lines | None) -> Massing | None:
    """What grown outlines make."""
    return massing(*lines) if lines is not None else None


@STAGES.stage(WITHIN, laid=LAID)
def within(laid: Laid | None) -> tuple[PlanOutline, ...]:
    """Outlines along the inner faces of their walls."""
    return from_plans.inner_outlines(laid) if laid is not None else ()


@STAGES.stage(REACH, plans=PLANS, drawing=DRAWING, traced=TRACED, grown=GROWN_MASSING, known=THICKNESS)
def reach_of_faces(
    plans: Plans | None, drawing: Drawing | None, traced: Massing | None, grown: Massing | None, known: dict[str, float]
) -> dict[str, dict[str, float]]:
    """How far each face reaches into each space it bounds."""
    outer = grown or traced
    if plans is None or drawing is None or outer is None:
        return {}
    return from_plans.face_thicknesses(plans, drawing, outer, known)


@STAGES.stage(HOME_REACH, reach=REACH)
def reach_into_home(reach: dict[str, dict[str, float]]) -> dict[str, float]:
    """How far each face reaches into the heated space."""
    return reach.get(HOME, {})


@STAGES.kept(INNER, lines=LINES, traced=TRACED, grown_lines=GROWN, grown=GROWN_MASSING, thick=HOME_REACH)
def inner(
    lines: Lines | None, traced: Massing | None, grown_lines: Lines | None, grown: Massing | None, thick: dict[str, float]
) -> Massing | None:
    """What the plans make along their inner faces."""
    outer, where = (grown, grown_lines) if grown is not None else (traced, lines)
    return from_plans.inside(outer, where, thick) if outer is not None and where is not None else None


@STAGES.kept(AIR_OF_COLD, lines=LINES, traced=TRACED, grown_lines=GROWN, grown=GROWN_MASSING, reach=REACH)
def air_of_cold(
    lines: Lines | None, traced: Massing | None, grown_lines: Lines | None, grown: Massing | None, reach: dict[str, dict[str, float]]
) -> dict[str, float]:
    """Air volume of every unheated space."""
    outer, where = (grown, grown_lines) if grown is not None else (traced, lines)
    return from_plans.air_volumes(outer, where, reach) if outer is not None and where is not None else {}


class BuiltReads(TypedDict):
    """What the plans make, outside and inside."""

    drawing: Drawing | None
    traced: Massing | None
    grown: Massing | None
    within: tuple[PlanOutline, ...]
    inner: Massing | None


@STAGES.stage(
    BUILT,
    plans=PLANS,
    dimensions=field("shape.dimensions"),
    laid=LAID,
    drawing=DRAWING,
    traced=TRACED,
    grown=GROWN_MASSING,
    within=WITHIN,
    inner=INNER,
)
def built_from_plans(plans: Plans | None, dimensions: str, laid: Laid | None, **reads: Unpack[BuiltReads]) -> Built | None:
    """What the storey plans make; None where there are none."""
    drawing, outer, inside = reads["drawing"], reads["grown"] or reads["traced"], reads["inner"]
    if plans is None or drawing is None:
        return None
    if laid is None or outer is None or inside is None:
        return from_plans.unfit(drawing)
    return from_plans.build(plans, dimensions, laid, outer, reads["within"], inside)
