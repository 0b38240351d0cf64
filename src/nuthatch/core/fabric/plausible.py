"""Values far from what is usual for climate, project and kind of glass: asked about, with both numbers."""

from __future__ import annotations

from functools import lru_cache
from typing import TypedDict, Unpack

from nuthatch.core.climate.stages import ZONE
from nuthatch.core.fabric import envelopes
from nuthatch.core.fabric.buildup import transmittance
from nuthatch.core.fabric.moisture_stages import WARM
from nuthatch.core.fabric.stages import BuildUpUse, U
from nuthatch.core.graph.stage import Slot, Stages, field, part
from nuthatch.core.model.home import BuildUp, Opening, OpeningType
from nuthatch.core.results.figure import Computing, Figure, Known
from nuthatch.core.results.question import Question

STAGES = Stages()
ASKS: Slot[tuple[Question, ...]] = Slot("questions of what is usual", asks=True)
FAR = 2.0
"""A U that is so many times above or below what is usual is far from it."""
ROLES = {"up": "roof", "across": "wall", "down": "floor"}
G_BY_U = ((0.9, 0.30, 0.65), (1.8, 0.20, 0.78), (9.0, 0.45, 0.90))
"""(U_g up to, least and most usual g): triple, coated double, other glass; common practice, no source."""
WINDOW = {"new build": (0.5, 2.0), "retrofit": (0.5, 6.0)}
"""Usual U_w of a whole window [W/(m²·K)]; common practice, no source."""


@lru_cache(maxsize=64)
def usual_u(role: str, climate: str, project: str) -> tuple[float, float]:
    """(least, most) usual U of a part: of the starter envelopes of this climate, for a new build of the two latest periods."""
    wanted = ("current code", "low energy") if project == "new build" else None
    direction = next(d for d, r in ROLES.items() if r == role)
    found = []
    for structure in envelopes.structures():
        for period in envelopes.periods(structure):
            if wanted is None or period in wanted:
                u = transmittance(envelopes.envelope(structure, period, climate).buildups[role], direction, "outside air").value
                if u is not None:
                    found.append(float(u))
    return min(found), max(found)


class WindowReads(TypedDict):
    """What is asked of windows, and where."""

    kinds: tuple[OpeningType, ...]
    rows: tuple[Opening, ...]
    project: str
    zone: str | Computing


@STAGES.stage(
    ASKS,
    uses=WARM,
    us=U,
    buildups=part("buildups"),
    kinds=part("opening_types"),
    rows=part("openings"),
    project=field("brief.project"),
    zone=ZONE,
)
def asks(
    uses: dict[str, BuildUpUse], us: dict[str, Figure], buildups: tuple[BuildUp, ...], **reads: Unpack[WindowReads]
) -> tuple[Question, ...]:
    """U of build-ups toward outside air, U and g of windows."""
    zone, project = reads["zone"], str(reads["project"])
    climate = envelopes.climate_of(zone) if isinstance(zone, str) and zone else "mixed"
    names = {b.id: b.name for b in buildups}
    found: dict[str, Question] = {}
    for use in uses.values():
        u = us.get(use.id)
        if use.borders != "outside air" or use.buildup not in names or not isinstance(u, Known):
            continue
        low, high = usual_u(ROLES[use.direction], climate, project)
        value = float(u.value)
        if value > FAR * high or value < low / FAR:
            words = "above" if value > high else "below"
            says = f"U {{0}} of {names[use.buildup]} is far {words} what is usual for a {project} here, {{1}} to {{2}}"
            found.setdefault(use.buildup, Question(use.buildup, "layers", says, ((value, "u"), (low, "u"), (high, "u"))))
    return (*found.values(), *_windows(reads["kinds"], reads["rows"], project))


def _windows(kinds: tuple[OpeningType, ...], rows: tuple[Opening, ...], project: str) -> list[Question]:
    """Whole windows and glass that are far from usual; a type that nothing uses is not asked about."""
    used, found = {o.type for o in rows}, []
    low, high = WINDOW[project]
    for kind in kinds:
        if kind.id not in used or kind.use == "door":
            continue
        if kind.entry == "whole window":
            if kind.whole_u is not None and not low <= kind.whole_u.value <= high:
                says = f"U_w {{0}} of {kind.name} is far from what is usual for a {project}, {{1}} to {{2}}"
                found.append(Question(kind.id, "whole_u", says, ((kind.whole_u.value, "u"), (low, "u"), (high, "u"))))
            continue
        if kind.glass_u is None or kind.glass_g is None or kind.glass_from != "U_g as given":
            continue
        least, most = next((a, b) for top, a, b in G_BY_U if kind.glass_u.value <= top)
        if not least <= kind.glass_g.value <= most:
            says = f"g {{0}} of {kind.name} does not go with its U_g {{1}}: such glass has {{2}} to {{3}}"
            amounts = ((kind.glass_g.value, "fraction"), (kind.glass_u.value, "u"), (least, "fraction"), (most, "fraction"))
            found.append(Question(kind.id, "glass_g", says, amounts))
    return found
