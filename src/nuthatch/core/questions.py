"""Open questions: what is missing, ambiguous or implausible, each with the very field that settles it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from nuthatch.core.climate.climate import Climate
from nuthatch.core.energy.carriers import USES, share_total
from nuthatch.core.figure import Need, Result, Unknown, walk
from nuthatch.core.model.home import Home, find, walk_parts
from nuthatch.core.model.part import Basis, Given, Part, specs
from nuthatch.core.step_names import STEPS
from nuthatch.core.units import with_unit

JUDGED = ("heating_demand", "cooling_demand", "heating_load", "n50", "primary_energy", "co2", "ua_proposed", "ua_limit")


@dataclass(frozen=True)
class Question:
    """One open question; `part` and `field` lead to the field, `item` names the part for people."""

    step: str
    item: str
    text: str
    part: str
    field: str


_STEP_OF = {
    "Brief": "brief",
    "Site": "site",
    "ClimateRef": "site",
    "Shape": "shape",
    "QuickForm": "shape",
    "Face": "shape",
    "BuildUp": "build-ups",
    "Layer": "build-ups",
    "OpeningType": "openings",
    "Opening": "openings",
    "Junction": "junctions",
    "Air": "air",
    "VentilationUnit": "air",
    "Household": "household",
    "Appliance": "household",
    "HotWater": "hot-water",
    "HeatSource": "heat-power",
    "Carrier": "heat-power",
    "EvidenceFile": "dossier",
    "Pin": "dossier",
    "Home": "brief",
}


def step_of(part: Part) -> str:
    """The step a part is worked on in."""
    return _STEP_OF[type(part).__name__]


_SINGLE = {
    "site": "Site",
    "brief": "Brief",
    "form": "Quick form",
    "shape": "Shape",
    "air": "Air",
    "household": "Household",
    "hot-water": "Hot water",
    "home": "Home",
}


def name_of(part: Part) -> str:
    """What people call a part."""
    ident = str(getattr(part, "id", ""))
    return _SINGLE.get(ident) or str(getattr(part, "name", "") or ident)


def part_name(home: Home, part_id: str) -> str:
    """What people call the part with this id."""
    part = find(home, part_id)
    return name_of(part) if part is not None else part_id


def questions(
    home: Home, env: Any, elements: Any, air: Any, figures: dict[str, Result], climate: Climate | None, gaps: tuple[str, ...]
) -> tuple[Question, ...]:
    """All open questions of a home, in the order of the steps."""
    found: dict[tuple[str, str], Question] = {}
    table = any(s.ua_table for s in home.target_sets)
    for key in JUDGED if table else JUDGED[:-2]:
        node = figures[key]
        if isinstance(node, Unknown):
            for n in node.needs:
                _add(found, home, n)
    for question in (
        *_shape(home, gaps),
        *_openings(home),
        *_junctions(home),
        *_air(home, air, figures),
        *_energy(home),
        *_site(climate, home),
    ):
        found.setdefault((question.part, question.field), question)
    return tuple(sorted(found.values(), key=lambda q: STEPS.index(q.step)))


def _add(found: dict[tuple[str, str], Question], home: Home, n: Need) -> None:
    if n.step and n.part:
        found.setdefault((n.part, n.field), Question(n.step, part_name(home, n.part), _asks(n.text), n.part, n.field))


def _asks(text: str) -> str:
    """A need as a sentence."""
    first = f"{text[0].upper()}{text[1:]}"
    return f"{first}: needed" if text.startswith(("a ", "an ", "shares", "openings", "layers")) else f"{first} is not given"


def _shape(home: Home, gaps: tuple[str, ...]) -> Iterator[Question]:
    weaker = "" if home.shape.form is not None else " (checked by directions only, weaker than a drawn shape)"
    for text in gaps:
        yield Question("shape", "Shape", f"The shape is not closed: {text}{weaker}", "shape", "faces")


def _openings(home: Home) -> Iterator[Question]:
    strict = [s.name for s in home.target_sets if s.needs_glass_and_frame]
    for kind in home.opening_types:
        used = any(o.type == kind.id for o in home.openings)
        if used and strict and kind.entry == "whole window" and kind.use != "door":
            yield Question(
                "openings", kind.name, f"{strict[0]} wants glass and frame apart; a whole-window value is used", kind.id, "entry"
            )
        if used and kind.install_psi is None and kind.entry == "glass and frame":
            yield Question("openings", kind.name, "Installation ψ is not given and taken as 0", kind.id, "install_psi")


def _junctions(home: Home) -> Iterator[Question]:
    if not home.junctions and not home.junctions_none:
        yield Question("junctions", "Junctions", "No junctions are listed; heat lost there is left out", "home", "junctions")
    for j in home.junctions:
        if j.dimensions != home.shape.dimensions:
            yield Question(
                "junctions",
                j.name,
                f"ψ refers to {j.dimensions} dimensions, the home uses {home.shape.dimensions} ones",
                j.id,
                "dimensions",
            )


def _air(home: Home, air: Any, figures: dict[str, Result]) -> Iterator[Question]:
    unit = home.air.unit
    if unit is None:
        return
    supply = unit.supply.value if unit.supply else None
    demand = air.demand.value
    if supply is not None and demand is not None and supply < demand - 0.5:
        yield Question(
            "air",
            unit.name,
            f"Supply flow {with_unit(supply, 'flow')} is below the demand of {with_unit(demand, 'flow')}",
            unit.id,
            "supply",
        )
    extract = unit.extract.value if unit.extract else supply
    if supply is not None and extract is not None and abs(extract - supply) > 0.1 * max(supply, extract):
        yield Question("air", unit.name, "Supply and extract flow differ by more than 10 %", unit.id, "extract")
    if unit.recovery is not None and unit.recovery.value > 0.95:
        yield Question("air", unit.name, "Heat recovery above 95 % is implausible", unit.id, "recovery")


def _energy(home: Home) -> Iterator[Question]:
    for field, use in USES.items():
        total = share_total(home, field)
        if home.sources and abs(total - 1) > 1e-6 and not (field == "cooling_share" and total == 0):
            yield Question(
                "heat-power", home.sources[0].name, f"Shares of {use} total {total * 100:.1f} %, not 100 %", home.sources[0].id, field
            )


def _site(climate: Climate | None, home: Home) -> Iterator[Question]:
    needs_zone = any(s.ua_table for s in home.target_sets)
    if climate is not None and needs_zone and climate.moisture is None and home.site.moisture.startswith("from"):
        yield Question("site", "Climate", "The weather file carries no rain: which moisture regime?", "site", "moisture")


@dataclass(frozen=True)
class Standing:
    """How a step stands: open questions and values resting on assumptions."""

    questions: int
    assumed: int


def standings(home: Home, asked: tuple[Question, ...]) -> dict[str, Standing]:
    """The state of every step for the route."""
    assumed = dict.fromkeys(STEPS, 0)
    for step, _, _, _ in assumptions(home):
        assumed[step] += 1
    return {s: Standing(sum(1 for q in asked if q.step == s), assumed[s]) for s in STEPS}


def values(home: Home) -> Iterator[tuple[str, Part, str, Given]]:
    """Every given value: (step, part, field, value)."""
    for part in walk_parts(home):
        for name, spec in specs(type(part)).items():
            given = getattr(part, name)
            if spec.is_quantity and isinstance(given, Given):
                yield step_of(part), part, name, given


def assumptions(home: Home) -> Iterator[tuple[str, Part, str, Given]]:
    """Every value that rests on an assumption."""
    return (v for v in values(home) if v[3].basis is Basis.ASSUMED)


def leaves(node: Any) -> Iterator[Any]:
    """Entered leaves of a working."""
    return (n for n in walk(node) if not hasattr(n, "calc") and not isinstance(n, Unknown))
