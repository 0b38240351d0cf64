"""What the dossier shows of the air: the ventilation schedule room by room, units with their ducts, air paths, the air tests."""

from __future__ import annotations

from typing import Any

from nuthatch.core.air.flows import RoomFlow
from nuthatch.core.air.stages import FLOWS, LOSSES
from nuthatch.core.airtest.stages import TESTED
from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.air_test_body import body, record
from nuthatch.core.dossier.pictures import drawing
from nuthatch.core.model.part import Given
from nuthatch.core.results.figure import Node, shown
from nuthatch.core.units import show, with_unit
from nuthatch.core.views.air.drawings import flow_plan
from nuthatch.core.views.air.paths import paths

PLAN = (330.0, 330.0)
"""Size of the plan of a storey with its flows, two of them beside each other."""


def _number(node: Node | None, kind: str = "flow") -> str:
    if node is None:
        return ""
    return show(float(node.value), kind) if node.value is not None else "?"


def schedule(a: Assessment) -> dict[str, Any]:
    """Every room with its flows, and their sums by side."""
    rooms = a[FLOWS].rooms
    moved = [r for r in rooms if r.normal is not None]
    return {
        "rows": [_row(r) for r in rooms if r.role != "none"],
        "sums": [(role, _sum(moved, role)) for role in ("supply", "extract") if any(r.role == role for r in moved)],
        "plans": [{"name": s.name, "drawing": drawing(flow_plan(a, s.id, PLAN))} for s in _storeys(a)],
    }


def _storeys(a: Assessment) -> list[Any]:
    """Storeys with rooms that get or give air."""
    plans = a.home.shape.plans
    used = {r.room.storey for r in a[FLOWS].rooms if r.role != "none"}
    return [s for s in plans.storeys if s.id in used] if plans is not None else []


def _row(r: RoomFlow) -> tuple[str, ...]:
    flows = (_number(f) for f in (r.asked, r.low, r.normal, r.boost))
    return (r.room.name, r.room.storey_name, r.role, *flows, _number(r.passes, "free_area"))


def _sum(rooms: list[RoomFlow], role: str) -> str:
    known = [float(r.normal.value) for r in rooms if r.role == role and r.normal is not None and r.normal.value is not None]
    return with_unit(sum(known), "flow")


def _given(value: Given | None, kind: str) -> str:
    return with_unit(value.value, kind) if value is not None else "not given"


def units(a: Assessment) -> list[dict[str, Any]]:
    """Every unit: flows, recovery, fans, frost protection, ducts."""
    found = []
    for flow, loss in zip(a[FLOWS].units, a[LOSSES].units, strict=True):
        u = flow.unit
        rows = [
            ("Moves", u.moves),
            ("Stands", u.stands),
            ("Supply, extract", f"{shown(flow.supply)}, {shown(flow.extract)}"),
            ("Recovery, after the ducts", f"{_given(u.recovery, 'percent')}, {shown(loss.recovery)}"),
            ("Loses", shown(loss.loss)),
            ("Fans", f"{_given(u.power, 'specific_power')}, {shown(loss.fans)}"),
            ("Frost protection", shown(loss.frost) if loss.frost is not None else "none"),
            ("Summer bypass", "yes" if u.bypass else "no"),
        ]
        ducts = [
            (d.way, _given(d.length, "length"), _given(d.diameter, "width"), _given(d.insulation, "width"), _given(d.conductivity, "conductivity"))
            for d in u.ducts
        ]  # fmt: skip
        found.append({"name": u.name, "rows": rows, "ducts": ducts})
    return found


def tests(a: Assessment) -> list[dict[str, Any]]:
    """Every air test of the home with what its report shows, the one that counts first."""
    found = []
    for t in sorted(a.home.air_tests, key=lambda t: t.id != a.home.air.test):
        worked = a.all_of(TESTED)[t.id]
        counts = t.id == a.home.air.test
        made: dict[str, Any] = {"name": t.name, "tested": t.tested, "counts": counts, "lacks": worked.lacks}
        if worked.result is not None:
            made |= body(worked.test, worked.result, record(t, a.home))
        found.append(made)
    return found


def air(a: Assessment) -> dict[str, Any]:
    """Everything of the air, for the template."""
    return {"schedule": schedule(a), "units": units(a), "paths": paths(a), "tests": tests(a)}
