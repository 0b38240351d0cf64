"""What the dossier shows of the air: the ventilation schedule room by room, units with their ducts, air paths, the air tests."""

from __future__ import annotations

from typing import Any

from nuthatch.core.air.flows import RoomFlow
from nuthatch.core.air.stages import FLOWS
from nuthatch.core.airtest.stages import TESTED
from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.air_test_body import body, record
from nuthatch.core.dossier.pictures import drawing
from nuthatch.core.dossier.setting import AttachedBytes, nothing
from nuthatch.core.results.figure import shown
from nuthatch.core.units import with_unit
from nuthatch.core.views.air.drawings import flow_plan

PLAN = (330.0, 330.0)
"""Size of the plan of a storey with its flows, two of them beside each other."""


def schedule(a: Assessment) -> dict[str, object]:
    """The sums of the flows by how the air gets in and out, and the plans they are drawn on; without a unit what the rooms ask for."""
    rooms = a[FLOWS].rooms
    moved = [r for r in rooms if r.normal is not None]
    ways = list(dict.fromkeys(r.way for r in sorted(moved, key=lambda r: r.role == "extract")))
    return {
        "asked": not a[FLOWS].units and any(r.asked is not None for r in rooms),
        "by": a.home.air.without,
        "sums": [(way, _sum(moved, way)) for way in ways],
        "plans": [{"name": s.name, "drawing": drawing(flow_plan(a, s.id, PLAN))} for s in _storeys(a)],
    }


def _storeys(a: Assessment) -> list[Any]:
    """Storeys with rooms that get or give air."""
    plans = a.home.shape.plans
    used = {r.room.storey for r in a[FLOWS].rooms if r.role != "none"}
    return [s for s in plans.storeys if s.id in used] if plans is not None else []


def _sum(rooms: list[RoomFlow], way: str) -> str:
    known = [float(r.normal.value) for r in rooms if r.way == way and r.normal is not None and r.normal.value is not None]
    return with_unit(sum(known), "flow")


def valves(a: Assessment) -> list[tuple[str, str, str]]:
    """The rooms that get or give air, for the commissioning sheet: room, way, flow as designed."""
    rows = [r for r in a[FLOWS].rooms if r.role != "none" and r.normal is not None]
    return [
        (f"{r.room.name}, {r.room.storey_name.lower()}", r.way, shown(r.normal).split("\u00a0")[0]) for r in rows if r.normal is not None
    ]


def tests(a: Assessment, content: AttachedBytes) -> list[dict[str, object]]:
    """Every air test of the home with what its report shows, the one that counts first."""
    found = []
    for t in sorted(a.home.air_tests, key=lambda t: t.id != a.home.air.test):
        worked = a.all_of(TESTED)[t.id]
        counts = t.id == a.home.air.test
        made: dict[str, object] = {"name": t.name, "tested": t.tested, "counts": counts, "lacks": worked.lacks}
        if worked.result is not None:
            made |= body(worked.test, worked.result, record(t, a.home, content))
        found.append(made)
    return found


def tightness_is(a: Assessment) -> str:
    """What n50 rests on: measured, simulated, or the basis of the typed value."""
    test = a.all_of(TESTED).get(a.home.air.test)
    if test is not None:
        return "simulated by the practice gauge: an assumption" if test.test.simulated else "measured"
    return a.home.air.n50.basis.value if a.home.air.n50 is not None else "not given"


def air(a: Assessment, content: AttachedBytes = nothing) -> dict[str, object]:
    """Everything of the air, for the template."""
    return {"schedule": schedule(a), "tests": tests(a, content)}
