"""Tests put into a home: from a file of readings, as a follow-up of another, with a fan of the office."""

from __future__ import annotations

from typing import Any

from nuthatch.core.airtest.of_home import PURPOSES, run_of
from nuthatch.core.airtest.readings import Measurement as Measured
from nuthatch.core.airtest.readings import Reading, Ring, Series
from nuthatch.core.airtest.stages import work
from nuthatch.core.changes.changes import Batch, Change, ChangeRefused, Insert, SetValue, refusing
from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.model.air_test import AirTest, Fan, FanRing, LoggedReading, Preparation, PressureGauge, TestReading
from nuthatch.core.model.home import EvidenceFile, Home
from nuthatch.core.model.part import Basis, Given, replace

SIMULATED = "practice gauge, simulated"
"""The source of whatever a practice gauge gave."""
LONG = 300
"""A file with more readings is a log: they are kept as plain numbers, not as rows to be worked on."""

CHECKLIST: tuple[tuple[str, dict[str, str]], ...] = (
    ("Windows and outer doors", {"building in use": "closed", "envelope": "closed"}),
    ("Doors between rooms", {"building in use": "left as it is", "envelope": "left as it is"}),
    ("Openings of the ventilation unit to outside", {"building in use": "sealed", "envelope": "sealed"}),
    ("Air inlets that can be closed", {"building in use": "closed", "envelope": "sealed"}),
    ("Air inlets that cannot be closed", {"building in use": "left as it is", "envelope": "sealed"}),
    ("Cooker hood to outside", {"building in use": "closed", "envelope": "sealed"}),
    ("Chimney, stove, open fire: out and swept of ash", {"building in use": "closed", "envelope": "sealed"}),
    ("Letter box, cat flap", {"building in use": "closed", "envelope": "closed"}),
    ("Drain traps filled with water", {"building in use": "closed", "envelope": "closed"}),
    ("Hatch to loft or cellar outside the envelope", {"building in use": "closed", "envelope": "closed"}),
)
"""What is asked of openings by the methods 1 and 2 of ISO 9972:2015, 5.2.3 (wording ours; from memory)."""


def preparations(purpose: str, ident: str) -> tuple[Preparation, ...]:
    """The list to prepare the home by, for a purpose; a rule of its own asks as the envelope does until it is changed."""
    key = purpose if purpose in CHECKLIST[0][1] else "envelope"
    return tuple(Preparation(id=f"{ident}.prepared-{n}", name=name, asked=asked[key]) for n, (name, asked) in enumerate(CHECKLIST, 1))  # type: ignore[arg-type]


def asked_anew(test: AirTest) -> Batch:
    """What is asked of each opening by the purpose of the test now; openings of the list that are not there are added, what is done stays."""
    wanted = {p.name: p for p in preparations(test.purpose, test.id)}
    held = {p.name: p for p in test.preparations}
    changes: list[Change] = [
        SetValue(part=p.id, field="asked", value=wanted[name].asked) for name, p in held.items() if name in wanted and p.asked != wanted[name].asked
    ]  # fmt: skip
    used = {p.id for p in test.preparations}
    lacking = [p for name, p in wanted.items() if name not in held]
    for n, p in enumerate(lacking, 1):
        ident = p.id if p.id not in used else f"{test.id}.prepared-more-{n}"
        changes.append(Insert(owner=test.id, field="preparations", value=replace(p, id=ident)))
    return Batch(label=f"Openings as “{test.purpose}” asks", changes=tuple(changes))


def prepared(
    home: Home, fan: Fan | None = None, gauge: PressureGauge | None = None, today: str = "", by: str = "", purpose: str = "envelope"
) -> Insert:
    """A new test, prepared before the visit, with fan and gauge of the office."""
    ident = fresh_ids(home, "air-test", 1)[0]
    test = AirTest(
        id=ident,
        name="Air test" if not home.air_tests else f"Air test {len(home.air_tests) + 1}",
        tested=today,
        by=by,
        purpose=purpose,  # type: ignore[arg-type]
        fan=own_fan(fan, ident),
        gauge=replace(gauge, id=f"{ident}.gauge") if gauge is not None else None,
        preparations=preparations(purpose, ident),
    )
    return Insert(owner="home", field="air_tests", value=test)


def own_fan(fan: Fan | None, ident: str) -> Fan | None:
    """A fan as a test keeps it, with ids of its own."""
    if fan is None:
        return None
    rings = tuple(replace(r, id=f"{ident}.ring-{n}") for n, r in enumerate(fan.rings, 1))
    return replace(fan, id=f"{ident}.fan", rings=rings)


def followed(home: Home, ident: str, today: str = "") -> Insert:
    """A second test from the first: sizes, purpose, fan, preparation as there, to be done anew; nothing measured is carried over. Raises
    ChangeRefused where there is no such test."""
    first = next((t for t in home.air_tests if t.id == ident), None)
    if first is None:
        raise ChangeRefused("there is no test to follow")
    new = fresh_ids(home, "air-test", 1)[0]
    empty = dict.fromkeys(("inside", "outside", "humidity_inside", "humidity_outside", "barometer", "wind"))
    again = tuple(replace(p, id=f"{new}.prepared-{n}", done="not yet", photo="") for n, p in enumerate(first.preparations, 1))
    still = tuple(replace(leak, id=f"{new}.leak-{n}") for n, leak in enumerate((x for x in first.leaks if not x.mended), 1))
    test = replace(
        first,
        id=new,
        name=f"{first.name}, again",
        tested=today,
        works="after works",
        follows=first.id,
        readings=(),
        log=(),
        file="",
        preparations=again,
        leaks=still,
        zones=(),
        fan=own_fan(first.fan, new),
        gauge=replace(first.gauge, id=f"{new}.gauge") if first.gauge is not None else None,
        **empty,
    )
    return Insert(owner="home", field="air_tests", value=test)


def given(value: float | None, source: str = "") -> Given | None:
    """A measured value of a test."""
    return Given(value=value, basis=Basis.MEASURED, source=source) if value is not None else None


@refusing
def taken_in(home: Home, measured: Measured, proof: EvidenceFile) -> Batch:
    """A test made of a file of readings, with the file as its evidence; it counts from now on. One step. Raises ChangeRefused where
    nothing can be worked out, or a reading was taken with the wrong ring."""
    lacks = work(measured).lacks
    if lacks:
        raise ChangeRefused(f"{proof.name}: {lacks} is wanted")
    changes: list[Change] = []
    known = next((e for e in home.evidence if e.sha256 == proof.sha256), None)
    if known is None:
        known = proof.model_copy(update={"id": fresh_ids(home, "evidence", 1)[0]})
        changes.append(Insert(owner="home", field="evidence", value=known))
    ident = fresh_ids(home, "air-test", 1)[0]
    test = _of_file(measured, ident, proof.name, known.id)
    changes += [Insert(owner="home", field="air_tests", value=test), SetValue(part="air", field="test", value=ident)]
    return Batch(label=f"Air test from {proof.name}", changes=tuple(changes))


def _of_file(measured: Measured, ident: str, source: str, file: str) -> AirTest:
    rows = [r for s in measured.series for r in _rows(s)]
    conditions = ("volume", "envelope", "floor", "height", "inside", "outside", "barometer", "wind")
    humid = {n: getattr(measured, n) or None for n in ("humidity_inside", "humidity_outside")}
    values: dict[str, Any] = {n: given(v, source) for n, v in ({c: getattr(measured, c) for c in conditions} | humid).items()}
    rings = tuple(_ring(r, f"{ident}.ring-{n}") for n, r in enumerate(measured.rings.values(), 1))
    said = {
        name: d.isoformat()
        for i in measured.instruments[:1]
        for name, d in (("calibrated", i.calibrated), ("until", i.until))
        if d is not None
    }
    long = len(rows) > LONG
    return AirTest(
        id=ident,
        name="Air test",
        tested=measured.tested.isoformat() if measured.tested else "",
        purpose=PURPOSES[measured.method],  # type: ignore[arg-type]
        corrected=measured.corrected,
        file=file,
        fan=Fan(id=f"{ident}.fan", name="Fan of the file", rings=rings, calibrated_at=given(measured.calibrated_at), **said)
        if rings or said
        else None,
        readings=() if long else tuple(_reading(f"{ident}.r-{n}", *row, source) for n, row in enumerate(rows, 1)),
        log=tuple(_logged(*row) for row in rows) if long else (),
        **values,
    )


Row = tuple[str, int, str, Reading]
"""Direction, which series of it, moment, and the reading."""


def _rows(series: Series) -> list[Row]:
    parts = (("zero before", series.before), ("point", series.readings), ("zero after", series.after))
    return [(series.way, series.run, moment, r) for moment, readings in parts for r in readings]


def _reading(ident: str, way: str, run: int, moment: str, r: Reading, source: str = "") -> TestReading:
    """A reading as a test keeps it. What a practice gauge gave is an assumption, whatever is said of where it comes from."""
    basis, said = (Basis.ASSUMED, SIMULATED) if r.simulated else (Basis.MEASURED, source)

    def held(value: float | None) -> Given | None:
        return Given(value=value, basis=basis, source=said) if value is not None else None

    values = {n: held(getattr(r, n)) for n in ("pressure", "flow", "fan_pressure", "seconds")}
    number = Given(value=float(run), basis=basis, source=said) if run > 1 else None
    return TestReading(id=ident, way=way, moment=moment, ring=r.ring, left_out=r.left_out, run=number, simulated=r.simulated, **values)  # type: ignore[arg-type]


def _logged(way: str, run: int, moment: str, r: Reading) -> LoggedReading:
    """A row of a log; its numbers were checked when the file was read."""
    values = {n: getattr(r, n) for n in ("pressure", "flow", "fan_pressure", "seconds", "ring", "left_out", "simulated")}
    return LoggedReading.model_construct(None, way=way, run=run, moment=moment, **values)


def _ring(ring: Ring, ident: str) -> FanRing:
    values = {n: given(getattr(ring, n)) for n in ("coefficient", "exponent", "least", "most")}
    return FanRing(id=ident, name=ring.name, **values)


def next_run(test: AirTest, way: str) -> int:
    """Which series of a direction comes next in a test: what is measured a second time is a series of its own."""
    runs = [*map(run_of, (r for r in test.readings if r.way == way)), *map(run_of, (r for r in test.log if r.way == way))]
    return max(runs, default=0) + 1


def kept(home: Home, ident: str, way: str, moment: str, reading: Reading, run: int = 1) -> Insert:
    """A reading of the gauge added to a test. run: which series of its direction it is of."""
    value = _reading(fresh_ids(home, "reading", 1)[0], way, run, moment, reading, "gauge")
    return Insert(owner=ident, field="readings", value=value)
