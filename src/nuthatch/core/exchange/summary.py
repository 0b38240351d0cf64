"""The assessment as plain data: what `nuthatch check --json` prints."""

from __future__ import annotations

from typing import Any

from nuthatch.core.air.stages import FLOWS
from nuthatch.core.airtest.separation import separations
from nuthatch.core.airtest.stages import TESTED
from nuthatch.core.assess import Assessment
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.energy.use_stages import OWN, USES
from nuthatch.core.model.home import SCHEMA
from nuthatch.core.model.target_set import TargetSet
from nuthatch.core.results.figure import Figure, Known, Node, Unknown
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.stages import EDGES
from nuthatch.core.sun.let_in import LetIn
from nuthatch.core.sun.stages import LET_IN
from nuthatch.core.targets.conditions import words
from nuthatch.core.units import KINDS, show, with_unit
from nuthatch.core.views.air.paths import paths
from nuthatch.core.views.hours.rooms import loads_of, worked_out
from nuthatch.core.views.junctions import rows as junction_rows

EXIT = {"inside": 0, "over": 1, "unknown": 3, "computing": 3}


def _figure(result: Figure) -> dict[str, Any]:
    needs = [n.text for n in result.needs] if isinstance(result, Unknown) else []
    value = KINDS[result.kind].to_shown(float(result.value)) if isinstance(result, Known) else None
    return {"value": value, "unit": KINDS[result.kind].unit, "label": result.label, "needs": needs}


def _months(result: Figure) -> list[float] | None:
    return [float(v) for v in result.value] if isinstance(result, Known) else None


def _value(node: Node | None) -> float | None:
    """A number in the unit shown; None where it is not known, and a question says why."""
    return KINDS[node.kind].to_shown(float(node.value)) if node is not None and node.value is not None else None


def _elements(a: Assessment) -> list[dict[str, Any]]:
    """Faces and openings, losses in W/K."""
    found = []
    for e in a[ELEMENTS]:
        if e.category == "junctions":
            continue
        kind = "opening" if e.category == "openings" else e.boundary.role if e.boundary is not None else e.category
        b = e.loss.inputs.get("b") if isinstance(e.loss, Known) else None
        row = {"id": e.id, "name": e.name, "kind": kind, "borders": e.borders, "area": _value(e.area), "u": _value(e.u)}
        found.append({**row, "b": _value(b), "loss": _value(e.loss), **(_sun(a, e.id) if kind == "opening" else {})})
    return found


def _sun(a: Assessment, opening: str) -> dict[str, list[float] | None]:
    """The share of the sun on its plane that reaches the glass of an opening, by month, for heating and for cooling."""
    found = a.all_of(LET_IN).get(opening)
    known = isinstance(found, LetIn)
    return {
        "sun_winter": [round(float(v), 4) for v in found.heating.share] if known else None,  # type: ignore[union-attr]
        "sun_summer": [round(float(v), 4) for v in found.cooling.share] if known else None,  # type: ignore[union-attr]
    }


def _rooms(a: Assessment, by_hour: bool) -> list[dict[str, object]]:
    """Rooms of drawn plans: floor area, what counts of it, mean clear height, what its air does, what it is warmed to, its flows at normal operation [m³/h]."""
    built = a[BUILT]
    flows = {f.room.id: f for f in a[FLOWS].rooms}
    heat = {x.room.id: _value(x.load) for x in loads_of(a)}
    hours = worked_out(a) if by_hour else None
    cool = {c.id: c.peak for c in hours.cooling} if hours is not None else {}
    found = []
    for r in built.rooms if built is not None else ():
        row = {"id": r.id, "name": r.name, "storey": r.storey_name, "area": r.area, "counted": r.counted}
        own = r.part.temperature if r.part is not None else None
        given = own if own is not None else a.home.site.heating_setpoint
        warm = given.value if given is not None else None
        f = flows[r.id]
        moved = {way: (_value(f.normal) if f.role == way else 0.0) for way in ("supply", "extract")}
        other = {"low": _value(f.low), "boost": _value(f.boost), "heating_load": heat.get(r.id), "cooling_load": cool.get(r.id)}
        found.append({**row, "height": r.measure.height, "air": r.air, "temperature": warm, **moved, **other})
    return found


def _air_tests(a: Assessment) -> list[dict[str, object]]:
    """The air tests of the home, as worked out with its sizes; null where something is wanted."""
    found = []
    for t in a.home.air_tests:
        worked = a.all_of(TESTED)[t.id]
        r = worked.result
        row: dict[str, object] = {"id": t.id, "name": t.name, "tested": t.tested, "counts": t.id == a.home.air.test, "lacks": worked.lacks}
        row |= {"q50": r.q50, "n50": r.n50, "q_E50": r.q_e50, "q_F50": r.q_f50, "area_4": r.area_4} if r is not None else {}
        row["validity"] = [{"line": line.name, "holds": line.holds, "says": line.says} for line in worked.lines]
        row["zones"] = [{"id": s.zone.id, "ratio": s.ratio} for s in separations(t)]
        found.append(row)
    return found


def _paths(a: Assessment) -> list[dict[str, object]]:
    """Every air path: loss [W/K], what it loses in the months with heating [kWh/a]."""
    return [{"id": p.key, "name": p.name, "loss": _value(p.loss), "energy": p.energy, "says": p.says} for p in paths(a)]


def _uses(a: Assessment) -> list[dict[str, object]]:
    """Delivered energy [kWh/a] by what for, with which carrier; null where it is not known."""
    return [
        {
            "name": u.name,
            "use": u.use,
            "source": u.source,
            "carrier": u.carrier.id if u.carrier is not None else None,
            "energy": _value(u.energy),
        }
        for u in a[USES]
    ]


def _own(a: Assessment) -> dict[str, object] | None:
    """Electricity of modules by month [kWh]: made, used at home, fed in, and whether it counts; null without modules."""
    own = a[OWN]
    if own is None:
        return None
    rows = {"made": own.made, "at_home": own.at_home, "fed_in": own.fed_in}
    return {"counted": a.home.power.counted == "counted", **{k: _months(f) for k, f in rows.items()}}


def _edges(a: Assessment) -> list[dict[str, object]]:
    """Where faces meet, and which family of junction an edge is of; null where it is none, or a person is to say."""
    families = {edge: r.family for r in junction_rows.rows(a) if not r.asked for edge in r.edges}
    return [{"id": e.id, "family": families.get(e.id), "faces": list(e.boundaries), "length": e.length, "angle": e.angle} for e in a[EDGES]]


def _targets(assessment: Assessment) -> list[dict[str, object]]:
    """Every target with its ways, in the units shown."""
    return [
        {
            "set": v.set_name,
            "name": v.name,
            "standing": v.standing,
            **({"points": v.points} if v.points is not None else {}),
            "ways": [
                {
                    "figure": w.key,
                    "sense": w.sense,
                    "unit": KINDS[w.kind].unit,
                    "standing": w.standing,
                    **({"by_rounding": True} if w.by_rounding else {}),
                    "limit": None if w.limit is None else w.limit * KINDS[w.kind].factor,
                    "value": None if w.value is None else w.value * KINDS[w.kind].factor,
                }
                for w in v.ways
            ],
        }
        for v in assessment.verdicts
    ]


def as_data(assessment: Assessment, by_hour: bool = False) -> dict[str, object]:
    """Figures in the units shown, months in kWh, targets with their ways, elements, rooms and edges, open questions. by_hour: what is told of
    rooms by the hour is worked out too."""
    return {
        "home": assessment.home.name,
        "schema": SCHEMA,
        "figures": {key: _figure(f) for key, f in assessment.figures.items()},
        "months": {key: _months(f) for key, f in assessment.months.items()},
        "targets": _targets(assessment),
        "sets": [
            {
                "id": s.id,
                "name": s.name,
                "scope": s.scope,
                "conditions": [{"field": c.field, "value": c.value, "text": t} for c, t in zip(s.conditions, words(s), strict=True)],
            }
            for s in assessment.home.target_sets
        ],
        "elements": _elements(assessment),
        "rooms": _rooms(assessment, by_hour),
        "edges": _edges(assessment),
        "junctions": junction_rows.as_data(assessment),
        "air_tests": _air_tests(assessment),
        "air_paths": _paths(assessment),
        "uses": _uses(assessment),
        "own_electricity": _own(assessment),
        "questions": [{"step": q.step, "item": q.item, "text": q.text} for q in assessment.questions],
    }


def _about(chosen: TargetSet) -> list[str]:
    """What has to be said of a set before its verdicts: what it does not cover, and under which conditions it judges."""
    found = [f"  {chosen.name}: {chosen.scope}"] if chosen.scope else []
    fixed = ", ".join(words(chosen)).replace("\u00a0", " ")
    return [*found, f"  {chosen.name} judges with {fixed}"] if fixed else found


def as_text(assessment: Assessment) -> str:
    """The verdict in a few lines for a terminal."""
    lines = [assessment.home.name]
    said = ""
    for v in assessment.verdicts:
        if v.set_id != said:
            said = v.set_id
            lines += _about(next(s for s in assessment.home.target_sets if s.id == said))
        worth = f" ({show(v.points, 'points')} points, voluntary)" if v.points is not None else ""
        lines.append(f"  {v.standing:8}{v.set_name} · {v.name}{worth}")
        for w in v.ways:
            shown = with_unit(w.value, w.kind).replace("\u00a0", " ") if w.value is not None else "not known yet"
            lines.append(f"            {w.label}: {shown}, {w.words()}")
    lines.append(f"  open questions: {len(assessment.questions)}")
    lines += [f"            {q.step} · {q.item}: {q.text}" for q in assessment.questions]
    return "\n".join(lines)
