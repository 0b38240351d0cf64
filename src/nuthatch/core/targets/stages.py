"""How targets hang in the graph: the code's envelope, the slab's edge, the verdicts over all results."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from nuthatch.core.climate.stages import ZONE
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.fabric import openings as opening_calc
from nuthatch.core.fabric.elements import Element
from nuthatch.core.fabric.stages import ON_GROUND
from nuthatch.core.graph.stage import FIGURES, ITEM, Family, Slot, Stages, field, named, part
from nuthatch.core.model.home import Opening, OpeningType
from nuthatch.core.model.target_set import TargetSet
from nuthatch.core.results.calculation import take
from nuthatch.core.results.figure import Computing, Entered, Figure, Node, Unknown, because, missing
from nuthatch.core.targets import code
from nuthatch.core.targets.verdict import Circumstances, Verdict, judge


@dataclass(frozen=True, eq=False)
class CodeEnvelope:
    """The code's trade-off: UA proposed and limit, mean SHGC of the windows."""

    proposed: Figure
    limit: Figure
    shgc: Figure


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
CODE: Slot[CodeEnvelope] = Slot("code envelope", {"ua_proposed": "proposed", "ua_limit": "limit", "window_shgc": "shgc"})
EDGE: Slot[SlabEdge] = Slot("slab edge", {"slab_edge_resistance": "resistance", "slab_edge_depth": "depth"})
JUDGED: Slot[Judged] = Slot("verdicts")
KINDS = {"window": "fenestration", "door": "fenestration", "rooflight": "skylight"}


def _shgc(opening: Opening, kind: OpeningType) -> Node:
    area, solar = opening_calc.glass(opening, kind)
    if kind.entry == "whole window" and kind.solar_kind == "SHGC of the window":
        return solar
    return code.shgc_from_parts.figure(f"SHGC of {opening.name}", g=solar, glass=area, size=opening_calc.sizes(opening))


def column_of(element: Element, use: str) -> str:
    """The code table's column an element stands in, '' where it does not count. use: of its opening type, '' for a face."""
    if element.category == "openings":
        return KINDS.get(use, "fenestration") if element.boundary is None or element.borders not in ("neighbour", "ground") else ""
    if element.boundary is None or element.borders in ("neighbour", "ground"):
        return ""
    return code.COLUMNS.get(element.boundary.role, "")


@STAGES.stage(SHGC, each=part("openings"), opening=ITEM, kind=named("opening_types", by="type"))
def shgc(opening: Opening, kind: OpeningType | None) -> Node | None:
    """Solar heat gain coefficient of one row of openings; None for a door."""
    return _shgc(opening, kind) if kind is not None and kind.use != "door" else None


@STAGES.stage(CODE, sets=part("target_sets"), types=part("opening_types"), elements=ELEMENTS, zone=ZONE, home=part("openings"), solar=SHGC)
def code_envelope(sets: tuple[TargetSet, ...], types: tuple[OpeningType, ...], elements: tuple[Element, ...], **reads: Any) -> CodeEnvelope:
    """UA proposed and limit, and the mean SHGC, by the first target set that has a table."""
    table = next((s.ua_table for s in sets if s.ua_table), None)
    zone: str | Computing = reads["zone"]
    uses = {t.id: t.use for t in types}
    use = {o.id: uses.get(o.type, "") for o in reads["home"]}
    u: list[Node] = []
    areas: list[Node] = []
    limits: list[Node] = []
    row = code.zone_row(table, zone) if table and isinstance(zone, str) and zone else None
    for e in elements:
        column = column_of(e, use.get(e.id, ""))
        if not column:
            continue
        u.append(e.u or Unknown(f"U of {e.name}", "u", e.loss.needs if isinstance(e.loss, Unknown) else ()))
        areas.append(e.area or e.loss)
        if row is not None and column not in row:
            limits.append(missing(f"code U, {column}", "u", f"the code’s U-value for “{column}” in zone {zone}", "home", "target_sets"))
        elif row is not None:
            limits.append(Entered(f"code U, {column}, zone {zone}", row[column], "u", "rule", "IECC 2021, table R402.1.2, from memory"))
    if table is None:
        limit: Figure = missing("UA limit", "w_per_k", "a target set with a table of U-values", "home", "target_sets")
    elif isinstance(zone, Computing):
        limit = because("UA limit", "w_per_k", zone)
    elif row is None:
        limit = missing("UA limit", "w_per_k", "a climate zone the table knows", "site", "climate")
    else:
        limit = code.ua_limit.figure(u=tuple(limits), areas=tuple(areas))
    return CodeEnvelope(code.ua_proposed.figure(u=tuple(u), areas=tuple(areas)), limit, _mean_shgc(elements, reads["solar"]))


def _mean_shgc(elements: tuple[Element, ...], solar: dict[str, Node | None]) -> Figure:
    rows = [(value, e.area) for e in elements if e.area is not None and (value := solar.get(e.id)) is not None]
    return code.mean_shgc.figure(values=tuple(v for v, _ in rows), areas=tuple(a for _, a in rows))


@STAGES.stage(EDGE, resistance=field("site.slab_edge_r"), depth=field("site.slab_edge_depth"))
def slab_edge(resistance: Node, depth: Node) -> SlabEdge:
    """Insulation of the slab's edge."""
    return SlabEdge(take("Slab edge insulation", "resistance", resistance), take("Slab edge depth", "length", depth))


@STAGES.stage(JUDGED, sets=part("target_sets"), zone=ZONE, dwelling=field("brief.dwelling"), slab=ON_GROUND, figures=FIGURES)
def judged(sets: tuple[TargetSet, ...], zone: str | Computing, dwelling: str, slab: bool, figures: dict[str, Any]) -> Judged:
    """Every target of every set."""
    verdicts, points = judge(sets, Circumstances(zone, dwelling, slab), figures)
    return Judged(verdicts, points)
