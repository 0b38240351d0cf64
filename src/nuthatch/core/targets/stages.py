"""How targets hang in the graph: the code's envelope, the slab's edge, the verdicts over all results."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, TypedDict, Unpack

from nuthatch.core.climate.stages import ZONE
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.fabric import openings as opening_calc
from nuthatch.core.fabric.elements import Element
from nuthatch.core.fabric.stages import ON_GROUND
from nuthatch.core.graph.stage import FIGURES, ITEM, Family, Slot, Stages, field, named, part
from nuthatch.core.model.home import Opening, OpeningType
from nuthatch.core.model.plans import Outline
from nuthatch.core.model.target_set import TargetSet
from nuthatch.core.results.calculation import take
from nuthatch.core.results.entries import need
from nuthatch.core.results.figure import Computing, Entered, Figure, Node, Unknown, because, missing
from nuthatch.core.solid.solid import Boundary
from nuthatch.core.solid.stages import BOUNDARY, CRAWLS, PERIMETER
from nuthatch.core.targets import code
from nuthatch.core.targets.verdict import Circumstances, Verdict, judge


@dataclass(frozen=True, eq=False)
class CodeEnvelope:
    """The code's trade-off: UA proposed and limit, means of the windows and rooflights its caps hold for."""

    proposed: Figure
    limit: Figure
    shgc: Figure
    fenestration: Figure
    skylight: Figure


@dataclass(frozen=True, eq=False)
class SlabEdge:
    """Insulation of the slab's edge: a line of its own in the code."""

    resistance: Figure
    depth: Figure


@dataclass(frozen=True, eq=False)
class Judged:
    """All verdicts, and the sums of points by their figure key."""

    verdicts: tuple[Verdict, ...]
    points: dict[str, Figure]


STAGES = Stages()
SHGC: Family[Node | None] = Family("SHGC of an opening")
CODE: Slot[CodeEnvelope] = Slot(
    "code envelope",
    {"ua_proposed": "proposed", "ua_limit": "limit", "window_shgc": "shgc", "fenestration_u": "fenestration", "rooflight_u": "skylight"},
)
EDGE: Slot[SlabEdge] = Slot("slab edge", {"slab_edge_resistance": "resistance", "slab_edge_depth": "depth"})
JUDGED: Slot[Judged] = Slot("verdicts")
ROOFLIGHTS: Slot[bool] = Slot("rooflights")
UaTable = dict[str, dict[str, float]]


def _shgc(opening: Opening, kind: OpeningType) -> Node:
    area, solar = opening_calc.glass(opening, kind)
    if kind.entry == "whole window" and kind.solar_kind == "SHGC of the window":
        return solar
    return code.shgc_from_parts.figure(f"SHGC of {opening.name}", g=solar, glass=area, size=opening_calc.sizes(opening))


def _rooflight(use: str, face: Boundary | None) -> bool:
    """Whether an opening is a rooflight: glass in a slope, whatever its type is called; by its type where it has no face yet."""
    return use != "door" and (opening_calc.in_a_slope(face.tilt) if face is not None else use == "rooflight")


def column_of(element: Element, use: str) -> str:
    """The code table's column an element stands in, '' where it does not count. use: of its opening type, '' for a face."""
    if element.borders == "neighbour":
        return ""
    if element.category == "openings":
        return "skylight" if _rooflight(use, element.boundary) else "fenestration"
    if element.boundary is None:
        return ""
    if element.borders == "ground" and element.boundary.role == "floor":
        return "floor" if element.boundary.crawl else ""  # a slab has a line of its own
    if element.borders == "ground":
        return "basement wall"
    return code.COLUMNS.get(element.boundary.role, "")


def own_u(element: Element) -> Node:
    """An element's own U-value with films, without soil."""
    found = element.own_u if element.borders == "ground" and element.is_face else element.u
    return found or Unknown(f"U of {element.name}", "u", element.loss.needs if isinstance(element.loss, Unknown) else ())


@STAGES.stage(SHGC, each=part("openings"), opening=ITEM, kind=named("opening_types", by="type"))
def shgc(opening: Opening, kind: OpeningType | None) -> Node | None:
    """Solar heat gain coefficient of one row of openings; None for a door."""
    return _shgc(opening, kind) if kind is not None and kind.use != "door" else None


Row = tuple[str, Node, Node]
"""The code's column, U and area of what counts."""


def counted(element: Element, use: str, crawls: dict[str, Outline], perimeters: dict[str, Node]) -> Row | None:
    """An element as it counts; the floor above a space that is not vented gives way to the walls around it: IECC 2021, R402.2.10."""
    column = column_of(element, use)
    below = crawls.get(element.boundary.crawl) if element.boundary is not None and element.is_face else None
    if below is not None and below.crawl_vents is not None and below.crawl_vents.value == 0:
        around = code.crawl_area.figure(perimeter=perimeters[element.id], height=need(below, "crawl_height"))
        return "crawl wall", need(below, "crawl_u"), around
    return (column, own_u(element), element.area or element.loss) if column else None


class CodeReads(TypedDict):
    """What the code looks at besides the elements."""

    zone: str | Computing
    home: tuple[Opening, ...]
    solar: dict[str, Node | None]
    crawls: dict[str, Outline]
    perimeters: dict[str, Node]


@STAGES.stage(
    CODE,
    sets=part("target_sets"),
    types=part("opening_types"),
    elements=ELEMENTS,
    zone=ZONE,
    home=part("openings"),
    solar=SHGC,
    crawls=CRAWLS,
    perimeters=PERIMETER,
)
def code_envelope(
    sets: tuple[TargetSet, ...], types: tuple[OpeningType, ...], elements: tuple[Element, ...], **reads: Unpack[CodeReads]
) -> CodeEnvelope:
    """UA proposed and limit, and the mean SHGC, by the first target set that has a table."""
    table = next((s.ua_table for s in sets if s.ua_table), None)
    zone: str | Computing = reads["zone"]
    uses = {t.id: t.use for t in types}
    use = {o.id: uses.get(o.type, "") for o in reads["home"]}
    crawls, perimeters = reads["crawls"], reads["perimeters"]
    rows = [row for e in elements if (row := counted(e, use.get(e.id, ""), crawls, perimeters)) is not None]
    areas = tuple(area for _, _, area in rows)
    proposed = code.ua_proposed.figure(u=tuple(u for _, u, _ in rows), areas=areas)
    fenestration, skylight = (_mean_u(label, rows, column) for label, column in CAPPED)
    shgc = _mean_shgc(elements, reads["solar"])
    return CodeEnvelope(proposed, _limit(table, zone, [column for column, _, _ in rows], areas), shgc, fenestration, skylight)


CAPPED = (("Mean U, windows", "fenestration"), ("Mean U, rooflights", "skylight"))


def _mean_u(label: str, rows: list[Row], column: str) -> Figure:
    mine = [(u, area) for stands, u, area in rows if stands == column]
    return code.mean_u.figure(label, u=tuple(u for u, _ in mine), areas=tuple(area for _, area in mine))


def _limit(table: UaTable | None, zone: str | Computing, columns: list[str], areas: tuple[Node, ...]) -> Figure:
    """The same areas with the code's U-values for the zone."""
    label, kind = "UA limit", "w_per_k"
    if table is None:
        return missing(label, kind, "a target set with a table of U-values", "home", "target_sets")
    if isinstance(zone, Computing):
        return because(label, kind, zone)
    row = code.zone_row(table, zone) if zone else None
    if row is None:
        return missing(label, kind, "a climate zone the table knows", "site", "climate")
    lost = next((c for c in columns if c not in row), "")
    if lost:
        return missing(label, kind, f"the code’s U-value for “{lost}” in zone {zone}", "home", "target_sets")
    source = "IECC 2021, table R402.1.2, from memory"
    u = tuple(Entered(f"code U, {c}, zone {zone}", row[c], "u", "rule", source) for c in columns)
    return code.ua_limit.figure(u=u, areas=areas)


def _mean_shgc(elements: tuple[Element, ...], solar: dict[str, Node | None]) -> Figure:
    rows = [(value, e.area) for e in elements if e.area is not None and (value := solar.get(e.id)) is not None]
    return code.mean_shgc.figure(values=tuple(v for v, _ in rows), areas=tuple(a for _, a in rows))


@STAGES.stage(EDGE, resistance=field("site.slab_edge_r"), depth=field("site.slab_edge_depth"))
def slab_edge(resistance: Node, depth: Node) -> SlabEdge:
    """Insulation of the slab's edge."""
    return SlabEdge(take("Slab edge insulation", "resistance", resistance), take("Slab edge depth", "length", depth))


@STAGES.stage(ROOFLIGHTS, types=part("opening_types"), rows=part("openings"), faces=BOUNDARY)
def rooflights(types: tuple[OpeningType, ...], rows: tuple[Opening, ...], faces: dict[str, Boundary]) -> bool:
    """Whether the home has rooflights."""
    uses = {t.id: t.use for t in types}
    return any(o.type in uses and _rooflight(uses[o.type], faces.get(o.face)) for o in rows)


@STAGES.stage(
    JUDGED, sets=part("target_sets"), zone=ZONE, dwelling=field("brief.dwelling"), slab=ON_GROUND, rooflights=ROOFLIGHTS, figures=FIGURES
)
def judged(
    sets: tuple[TargetSet, ...], figures: dict[str, Any], zone: str | Computing, dwelling: str, slab: bool, rooflights: bool
) -> Judged:
    """Every target of every set."""
    verdicts, points = judge(sets, Circumstances(zone, dwelling, slab, rooflights), figures)
    return Judged(verdicts, points)
