"""An air test as a part of the home: who measured with what, what was prepared, every reading, leaks and zones."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal, Self

from pydantic import Field, model_validator

from nuthatch.core.model.part import Given, IdentifiedPart, Number, Part, choice, flag, quantity, ref, text
from nuthatch.core.units import with_unit

Way = Literal["depressurising", "pressurising"]
Moment = Literal["zero before", "point", "zero after"]


class FanRing(IdentifiedPart):
    """A flow ring of a fan with its calibration: flow = coefficient · (fan pressure)^exponent [m³/h, Pa]."""

    name: str = text("Ring")
    coefficient: Given | None = quantity(
        "calibration", "Coefficient", above=0, most=10000, help="flow in m³/h, fan pressure in Pa", whole="yes"
    )
    exponent: Given | None = quantity("calibration", "Exponent", above=0, most=2, whole="yes")
    least: Given | None = quantity("pascal", "Least fan pressure", least=0, most=2000, short="From", whole="yes")
    most: Given | None = quantity("pascal", "Most fan pressure", above=0, most=5000, short="To", whole="yes")


class Fan(IdentifiedPart):
    name: str = text("Fan")
    serial: str = text("Serial number", short="Serial")
    calibrated: str = text("Calibrated on", help="as 2026-03-14", short="Calibrated")
    until: str = text("Calibration holds until", help="as 2028-03-14", short="Holds until")
    calibrated_at: Given | None = quantity(
        "temperature", "Calibrated with air at", least=-20, most=50, help="empty: 20 °C", short="Air at", whole="yes"
    )
    rings: tuple[FanRing, ...] = ()


class PressureGauge(IdentifiedPart):
    name: str = text("Gauge")
    serial: str = text("Serial number", short="Serial")
    calibrated: str = text("Calibrated on", help="as 2026-03-14", short="Calibrated")
    until: str = text("Calibration holds until", help="as 2028-03-14", short="Holds until")


class Preparation(IdentifiedPart):
    """An opening of the envelope and what was done with it for the test."""

    name: str = text("Opening")
    asked: Literal["left as it is", "closed", "sealed"] = choice("To be", "closed")
    done: Literal["not yet", "left as it is", "closed", "sealed"] = choice("Done", "not yet")
    note: str = text("Note")
    photo: str = ref("Photo", "evidence")


class TestReading(IdentifiedPart):
    """One averaged reading: pressure inside over outside, and the flow, or the fan's pressure and ring."""

    __test__ = False  # no test of ours

    way: Way = choice("Series", "depressurising")
    moment: Moment = choice("Reading", "point")
    pressure: Given | None = quantity("pascal", "Pressure inside over outside", least=-500, most=500, short="Pressure", whole="yes")
    flow: Given | None = quantity("flow", "Flow through the fan", least=0, most=100000, short="Flow", whole="yes")
    fan_pressure: Given | None = quantity("pascal", "Fan pressure", least=-5000, most=5000, whole="yes")
    ring: str = text("Ring")
    seconds: Given | None = quantity("seconds", "Averaged over", above=0, most=86400, short="Over", whole="yes")
    left_out: str = text("Left out because", help="the reason; empty: it counts", short="Left out")
    run: Given | None = quantity("count", "Series of its direction", least=1, most=99, help="empty: the first", short="Run", whole="yes")
    simulated: bool = False
    """A practice gauge gave it; nobody sets or takes away what it is."""


class LoggedReading(Part):
    """A reading of a long log as it came from its file: plain numbers, not worked on one by one."""

    way: Way
    moment: Moment = "point"
    pressure: Number
    flow: Number | None = None
    fan_pressure: Number | None = None
    ring: str = Field(default="", max_length=200)
    seconds: Number | None = None
    left_out: str = Field(default="", max_length=2000)
    run: int = Field(default=1, ge=1, le=99)
    simulated: bool = False


class Leak(IdentifiedPart):
    name: str = text("Place")
    kind: Literal["joint", "window or door", "pipe or cable", "socket or switch", "membrane", "chimney or flue", "other"] = choice(
        "Kind of leak", "joint", short="Kind"
    )
    strength: Literal["slight", "clear", "strong"] = choice("Felt", "clear")
    mended: bool = flag("Mended")
    note: str = text("Note")
    photo: str = ref("Photo", "evidence")


class ZonePressure(IdentifiedPart):
    """A zone beside the home while the home was held at a pressure: how well it is separated."""

    name: str = text("Zone")
    across: Given | None = quantity(
        "pascal", "Between home and zone", least=0, most=500, short="Home to zone", help="the size of the pressure difference", whole="yes"
    )
    out: Given | None = quantity("pascal", "Between zone and outside", least=0, most=500, short="Zone to outside", whole="yes")


class AirTest(IdentifiedPart):
    """One test of a home, before the works, after them or at any time; sizes are the home's where they are empty."""

    name: str = text("Air test", short="Test")
    tested: str = text("Date", help="as 2026-11-23")
    works: Literal["before works", "during works", "after works", "no works"] = choice("Works", "no works")
    follows: str = ref("Follows the test", "air_tests", short="Follows")
    purpose: Literal["building in use", "envelope", "as a rule says"] = choice(
        "Purpose", "envelope", help="ISO 9972: methods 1, 2 and 3 in this order"
    )
    by: str = text("Measured by", short="By")
    parts: str = text("Parts of the building tested", short="Parts tested", help="empty: the whole dwelling")
    deviations: str = text("Deviations from ISO 9972", short="Deviations", help="what was done otherwise, and why")
    sizes_by: str = text("How volume and areas were worked out", short="Sizes by", help="empty: said by where they come from")
    volume: Given | None = quantity("volume", "Air volume", above=0, most=1e6, help="empty: the home's", group="Sizes", short="Volume")
    envelope: Given | None = quantity("area", "Envelope inside", above=0, most=1e6, help="empty: the home's", short="Envelope")
    floor: Given | None = quantity("area", "Net floor area", above=0, most=1e6, short="Floor", help="empty: the home's")
    height: Given | None = quantity("length", "Height of the building", above=0, most=300, short="Height", help="empty: the home's")
    inside: Given | None = quantity("temperature", "Air inside", least=-30, most=50, group="Conditions", short="Inside", whole="yes")
    outside: Given | None = quantity("temperature", "Air outside", least=-50, most=50, short="Outside", whole="yes")
    inside_end: Given | None = quantity(
        "temperature", "Air inside at the end", least=-30, most=50, short="At the end", help="empty: as at the start", whole="yes"
    )
    outside_end: Given | None = quantity(
        "temperature", "Air outside at the end", least=-50, most=50, short="At the end", help="empty: as at the start", whole="yes"
    )
    humidity_inside: Given | None = quantity("percent", "Humidity inside", least=0, most=1, help="empty: dry", whole="yes")
    humidity_outside: Given | None = quantity("percent", "Humidity outside", least=0, most=1, help="empty: dry", whole="yes")
    barometer: Given | None = quantity(
        "pressure", "Air pressure", least=60000, most=110000, short="Pressure", help="empty: 101.325 kPa", whole="yes"
    )
    wind: Given | None = quantity("speed", "Wind", least=0, most=40, whole="yes")
    fan: Fan | None = None
    gauge: PressureGauge | None = None
    corrected: bool = flag(
        "Fan shows flow at its own air", group="Readings", short="Flow corrected", help="no: as calibrated, corrected here for density"
    )
    file: str = ref("File of readings", "evidence", short="File")
    preparations: tuple[Preparation, ...] = ()
    readings: tuple[TestReading, ...] = ()
    log: tuple[LoggedReading, ...] = Field(default=(), max_length=100_000)
    leaks: tuple[Leak, ...] = ()
    zones: tuple[ZonePressure, ...] = ()

    @model_validator(mode="after")
    def _rings_hold(self) -> Self:
        for fault in wrong_rings(self.fan, self.readings):
            raise ValueError(fault)
        return self


def wrong_rings(fan: Fan | None, readings: tuple[TestReading, ...]) -> Iterator[str]:
    """Readings whose fan pressure lies outside what their ring is calibrated for, in words."""
    rings = {r.name: r for r in fan.rings} if fan is not None else {}
    for n, reading in enumerate(readings, 1):
        ring = rings.get(reading.ring)
        if ring is None or reading.fan_pressure is None or ring.least is None or ring.most is None or reading.left_out:
            continue
        size = abs(reading.fan_pressure.value)
        if not ring.least.value <= size <= ring.most.value:
            fits = [r.name for r in rings.values() if r.least and r.most and r.least.value <= size <= r.most.value]
            other = f"; ring {' or '.join(fits)} would hold" if fits else ""
            span = f"{with_unit(ring.least.value, 'pascal')} to {with_unit(ring.most.value, 'pascal')}"
            yield f"reading {n}: fan pressure {with_unit(size, 'pascal')} is not for ring {ring.name}, which holds from {span}{other}"
