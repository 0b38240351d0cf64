"""The assessment as plain data: what `nuthatch check --json` prints."""

from __future__ import annotations

from typing import Any

from nuthatch.core.assess import Assessment
from nuthatch.core.model.home import SCHEMA
from nuthatch.core.model.target_set import TargetSet
from nuthatch.core.results.figure import Figure, Known, Unknown
from nuthatch.core.targets.conditions import words
from nuthatch.core.units import KINDS, show, with_unit

EXIT = {"inside": 0, "over": 1, "unknown": 3, "computing": 3}


def _figure(result: Figure) -> dict[str, Any]:
    needs = [n.text for n in result.needs] if isinstance(result, Unknown) else []
    value = KINDS[result.kind].to_shown(float(result.value)) if isinstance(result, Known) else None
    return {"value": value, "unit": KINDS[result.kind].unit, "label": result.label, "needs": needs}


def _months(result: Figure) -> list[float] | None:
    return [float(v) for v in result.value] if isinstance(result, Known) else None


def as_data(assessment: Assessment) -> dict[str, Any]:
    """Figures in the units shown, months in kWh, targets with their ways, open questions."""
    targets = [
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
                    "limit": None if w.limit is None else w.limit * KINDS[w.kind].factor,
                    "value": None if w.value is None else w.value * KINDS[w.kind].factor,
                }
                for w in v.ways
            ],
        }
        for v in assessment.verdicts
    ]
    return {
        "home": assessment.home.name,
        "schema": SCHEMA,
        "figures": {key: _figure(f) for key, f in assessment.figures.items()},
        "months": {key: _months(f) for key, f in assessment.months.items()},
        "targets": targets,
        "sets": [
            {
                "id": s.id,
                "name": s.name,
                "scope": s.scope,
                "conditions": [{"field": c.field, "value": c.value, "text": t} for c, t in zip(s.conditions, words(s), strict=True)],
            }
            for s in assessment.home.target_sets
        ],
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
