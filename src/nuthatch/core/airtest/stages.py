"""How air tests hang in the graph: each worked out with the home's sizes, and the n50 that counts."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from nuthatch.core.airtest.of_home import Sizes, day, measured
from nuthatch.core.airtest.readings import Measurement as Measured
from nuthatch.core.airtest.validity import Requirement, lines
from nuthatch.core.airtest.worked import Result, worked
from nuthatch.core.graph.stage import ITEM, Family, Slot, Stages, field, part
from nuthatch.core.model.air_test import AirTest, FanRing, TestReading
from nuthatch.core.model.part import specs
from nuthatch.core.plans.polygons import Polygon
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.entries import lowered, need
from nuthatch.core.results.figure import CannotKnow, Entered, Figure, Known, Node, missing
from nuthatch.core.results.question import Question
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.from_plans import Built
from nuthatch.core.solid.stages import AIR_VOLUME, INNER_SHELL, OUTLINES


@dataclass(frozen=True, eq=False)
class Tested:
    """A test worked out, and whether each line of its validity holds; without a result `lacks` says what is wanted."""

    test: Measured
    result: Result | None
    lines: tuple[Requirement, ...] = ()
    lacks: str = ""

    @property
    def failing(self) -> int:
        return sum(line.holds is False for line in self.lines)


STAGES = Stages()
FLOOR: Slot[float | None] = Slot("floor of the drawn rooms")
HEIGHT: Slot[float | None] = Slot("height of the heated home")
TESTED: Family[Tested] = Family("air test")
N50: Slot[Node] = Slot("air change at 50 Pa that counts")
ASKS: Slot[tuple[Question, ...]] = Slot("questions of air tests", asks=True)


@STAGES.stage(FLOOR, built=BUILT)
def floor_of_rooms(built: Built | None) -> float | None:
    """Net floor area of the drawn rooms [m²]; None where none are drawn."""
    return sum(r.area for r in built.rooms) if built is not None and built.rooms else None


@STAGES.stage(HEIGHT, outlines=OUTLINES)
def height_of_home(outlines: Mapping[str, Polygon]) -> float | None:
    """From the lowest to the highest point of the drawn envelope [m]; None where none is drawn."""
    levels = [p[2] for points in outlines.values() for p in points]
    return max(levels) - min(levels) if levels else None


@STAGES.stage(TESTED, each=part("air_tests"), test=ITEM, volume=AIR_VOLUME, envelope=INNER_SHELL, floor=FLOOR, height=HEIGHT)
def tested(test: AirTest, volume: Figure, envelope: Figure, floor: float | None, height: float | None) -> Tested:
    """One test with the home's sizes."""
    return work(measured(test, Sizes(_value(volume), _value(envelope), floor, height)))


def work(test: Measured) -> Tested:
    """A test worked out as far as it can be."""
    try:
        result = worked(test)
    except CannotKnow as why:
        return Tested(test, None, lacks=str(why))
    return Tested(test, result, lines(test, result))


def _value(figure: Figure) -> float | None:
    return float(figure.value) if isinstance(figure, Known) else None


@calculation("Air change at 50 Pa", "ach", "n50 = q50/V", "ISO 9972:2015, 6.3.1", flow="q50: flow", volume="V: volume")
def n50_of(flow: float, volume: float) -> float:
    """[1/h] from the flow at 50 Pa [m³/h] and the air volume [m³]."""
    if volume <= 0:
        raise CannotKnow("an air volume above 0")
    return flow / volume


@STAGES.stage(N50, tests=part("air_tests"), known=TESTED, counts=field("air.test"), typed=field("air.n50"), volume=AIR_VOLUME)
def counting(tests: tuple[AirTest, ...], known: dict[str, Tested], counts: str, typed: Node, volume: Figure) -> Node:
    """n50 of the test that counts, or as typed where none does."""
    test = next((t for t in tests if t.id == counts), None)
    if test is None:
        return typed
    found = known[test.id]
    if found.result is None:
        return missing("Air change at 50 Pa", "ach", *_wanting(test, found.lacks))
    failing = [line.name for line in found.lines if line.holds is False]
    source = f"{said(test)}, ISO 9972 method {found.test.method}" + (f"; does not hold: {', '.join(failing)}" if failing else "")
    basis = "measured"
    if found.test.simulated:
        basis, source = "assumed", f"{said(test)}, simulated by the practice gauge: nothing was measured"
    flow = Entered("flow at 50 Pa", found.result.q50, "flow", basis, source, test.id, "readings")
    size: Node = need(test, "volume") if test.volume is not None else volume
    return n50_of.figure(flow=flow, volume=size)


def _wanting(test: AirTest, lacks: str) -> tuple[str, str, str]:
    """(what a test without a result wants, of which part, in which field)."""
    for name in ("inside", "outside"):
        if test[name] is None:
            return f"{lacks} of {test.name}", test.id, name
    used = {r.ring for r in test.readings if r.flow is None}
    for ring in test.fan.rings if test.fan is not None else ():
        for name, spec in specs(FanRing).items():
            if ring.name in used and spec.is_quantity and ring[name] is None:
                return f"{lowered(spec.label)} of ring {ring.name}", ring.id, name
    empty = next((r for r in test.readings if r.pressure is not None and r.moment == "point" and not r.left_out and _no_flow(r)), None)
    if empty is not None:
        return f"{lacks} of {test.name}", empty.id, "flow" if not empty.ring else "fan_pressure"
    return f"{lacks} of {test.name}", test.id, "readings"


def _no_flow(r: TestReading) -> bool:
    return r.flow is None and (r.fan_pressure is None or not r.ring)


def said(test: AirTest) -> str:
    """A test within a sentence."""
    return f"{test.name} of {test.tested}" if test.tested else test.name


@STAGES.stage(ASKS, tests=part("air_tests"), known=TESTED, counts=field("air.test"))
def asks(tests: tuple[AirTest, ...], known: dict[str, Tested], counts: str) -> tuple[Question, ...]:
    """The test that counts but does not hold; a reference to a test that is gone."""
    return tuple(_asks(tests, known, counts))


def _dates(test: AirTest) -> Iterator[Question]:
    """Dates that cannot be read as such."""
    written = [(test.id, "tested", test.tested)]
    written += [(d.id, name, d[name]) for d in (test.fan, test.gauge) if d is not None for name in ("calibrated", "until")]
    for part_id, name, text in written:
        if text.strip() and day(text) is None:
            yield Question(part_id, name, f"“{text[:40]}” is no date that can be read: write it as 2026-11-23")


def _asks(tests: tuple[AirTest, ...], known: dict[str, Tested], counts: str) -> Iterator[Question]:
    if counts and not any(t.id == counts for t in tests):
        yield Question("air", "test", "The air test that counts is gone: choose another, or none")
    for test in tests:
        yield from _dates(test)
        if test.id == counts and known[test.id].test.simulated:
            yield Question(
                test.id,
                "readings",
                "The air test that counts was simulated by the practice gauge: it stands for an assumption, nothing was measured",
            )
        elif test.id == counts and known[test.id].failing:
            failing = [line.name for line in known[test.id].lines if line.holds is False]
            yield Question(test.id, "name", f"The air test that counts does not hold: {', '.join(failing)}")
        if test.id == counts and (open_ones := [p.name for p in test.preparations if p.done == "not yet"]):
            yield Question(test.id, "preparations", f"Not prepared for the test: {', '.join(open_ones)}")
