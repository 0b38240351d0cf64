"""What the lists of air tests show: tests side by side, readings, points over the line, validity, preparation, leaks, zones."""

from __future__ import annotations

from nuthatch.core.airtest.separation import separations
from nuthatch.core.airtest.stages import TESTED, Tested
from nuthatch.core.assess import Assessment
from nuthatch.core.edits.desk import Listing
from nuthatch.core.model.air_test import AirTest, ZonePressure
from nuthatch.core.units import show
from nuthatch.core.views.air.test_summary import off_in_words
from nuthatch.desktop.widgets.parts_model import Column, ListSpec

SIGNS = {True: "holds", False: "fails", None: "?"}
SHOWN_OF_A_LOG = 500


def points(shown: Tested | None) -> list[tuple[str, tuple[str, ...]]]:
    rows: list[tuple[str, tuple[str, ...]]] = []
    for half in shown.result.halves if shown is not None and shown.result is not None else ():
        for n, p in enumerate(half.points[:SHOWN_OF_A_LOG]):
            cells = (half.series.way, show(p.pressure, "pascal"), show(p.flow, "flow"), off_in_words(half, p))
            rows.append((f"{half.series.way}-{n}", (*cells, p.reading.left_out)))
        if len(half.points) > SHOWN_OF_A_LOG:
            more = f"and {len(half.points) - SHOWN_OF_A_LOG} more, in the file and in the report"
            rows.append((f"{half.series.way}-more", (half.series.way, "…", "…", "", more)))
    return rows


def validity(shown: Tested | None) -> list[tuple[str, tuple[str, ...]]]:
    asked = shown.lines if shown is not None else ()
    order = sorted(range(len(asked)), key=lambda n: (asked[n].holds is not False, asked[n].holds is not None, n))
    return [(asked[n].name, (SIGNS[asked[n].holds], asked[n].name, asked[n].says)) for n in order]


def _n50(a: Assessment, row: AirTest) -> str:
    found = a.all_of(TESTED).get(row.id)
    return show(found.result.n50, "ach") if found is not None and found.result is not None and found.result.n50 is not None else "?"


def _q50(a: Assessment, row: AirTest) -> str:
    found = a.all_of(TESTED).get(row.id)
    return show(found.result.q50, "flow") if found is not None and found.result is not None else "?"


def _holds(a: Assessment, row: AirTest) -> str:
    found = a.all_of(TESTED).get(row.id)
    if found is None or found.result is None:
        return "not measured"
    if found.test.simulated:
        return "simulated"
    failing, open_ = found.failing, sum(line.holds is None for line in found.lines)
    return f"{failing} fail" if failing else f"{open_} open" if open_ else "holds"


def _counts(a: Assessment, row: AirTest) -> str:
    return "counts" if a.home.air.test == row.id else ""


def tests_spec() -> ListSpec:
    columns = (
        Column("Test", "name"),
        Column("Date", "tested", width=90),
        Column("Works", "works", width=88),
        Column("q50", text=_q50, right=True, kind="flow", width=74),
        Column("n50", text=_n50, right=True, kind="ach", width=62),
        Column("", text=_holds, width=74),
        Column("", text=_counts, width=50),
    )
    return ListSpec("Tests", Listing("home", "air_tests", AirTest, "air-test"), columns, sortable=False)


READINGS = (
    Column("Series", "way", width=98),
    Column("Run", "run", width=44),
    Column("Reading", "moment", width=78),
    Column("Pressure", "pressure", width=86),
    Column("Flow", "flow", width=74),
    Column("Fan", "fan_pressure", width=62),
    Column("Ring", "ring", width=54),
    Column("Left out because", "left_out"),
)


def _separated(a: Assessment, row: ZonePressure) -> str:
    return next((s.says for t in a.home.air_tests for s in separations(t) if s.zone.id == row.id), "")


PREPARED = (
    Column("Opening", "name"),
    Column("To be", "asked", width=100),
    Column("Done", "done", width=100),
    Column("Photo", "photo", width=90),
)
LEAKS = (
    Column("Place", "name"),
    Column("Kind", "kind", width=112),
    Column("Felt", "strength", width=60),
    Column("Mended", "mended", width=66),
    Column("Photo", "photo", width=90),
)
ZONES = (
    Column("Zone", "name", width=110),
    Column("Home to zone", "across", width=112),
    Column("Zone to outside", "out", width=124),
    Column("Separated", text=_separated),
)
