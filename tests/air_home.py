"""A home whose air holds everything: rooms that state flows, two units with ducts, hours, frost protection; tests with leaks and zones."""

from __future__ import annotations

from nuthatch.core.model.air_test import AirTest, Fan, FanRing, Leak, Preparation, PressureGauge, TestReading, ZonePressure
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.core.model.ventilation import Duct, OperatingHours, VentilationUnit
from tests.plan_home import plan_home
from tests.simple_home import g

C, N = 30.0, 0.65
"""What the readings of the test say: flow = C·Δpⁿ at a density of its own on both sides."""


def duct(ident: str, way: str, length: float) -> Duct:
    return Duct(id=ident, way=way, length=g(length), diameter=g(0.16), insulation=g(0.05), conductivity=g(0.035))  # type: ignore[arg-type]


def unit(ident: str = "unit", **more: object) -> VentilationUnit:
    """A balanced unit with ducts on all four sides: outdoor 2, exhaust 3, supply 4, extract 5 m."""
    ways = (("outdoor air", 2.0), ("exhaust air", 3.0), ("supply air", 4.0), ("extract air", 5.0))
    plain = {
        "name": ident,
        "recovery": g(0.8),
        "power": g(0.4),
        "ducts": tuple(duct(f"{ident}.{n}", w, x) for n, (w, x) in enumerate(ways, 1)),
    }
    return VentilationUnit(id=ident, **{**plain, **more})  # type: ignore[arg-type]


def fan(ident: str = "fan") -> Fan:
    """A fan with two rings: 40·√p from 20 to 400 Pa, 12·√p from 20 to 400 Pa."""
    rings = tuple(
        FanRing(id=f"{ident}.{name.lower()}", name=name, coefficient=g(c), exponent=g(0.5), least=g(20), most=g(400))
        for name, c in (("A", 40.0), ("B", 12.0))
    )
    return Fan(id=ident, name="Fan", calibrated_at=g(21), serial="1", calibrated="2026-03-01", until="2028-03-01", rings=rings)


def readings(stem: str, way: str = "depressurising") -> tuple[TestReading, ...]:
    """Zero −1 Pa before and after; flows of C·Δpⁿ at 12, 20, 30, 40, 50 and 60 Pa of induced pressure."""
    sign = -1.0 if way == "depressurising" else 1.0
    rows = [("zero before", -1.0, None)]
    rows += [("point", sign * p - 1.0, C * p**N) for p in (60.0, 50.0, 40.0, 30.0, 20.0, 12.0)]
    rows += [("zero after", -1.0, None)]
    return tuple(
        TestReading(id=f"{stem}.{way[0]}{n}", way=way, moment=m, pressure=g(p), flow=g(q) if q else None)  # type: ignore[arg-type]
        for n, (m, p, q) in enumerate(rows, 1)
    )


def air_test(ident: str = "test", **more: object) -> AirTest:
    """Both series at 20 °C on both sides, so that no density changes anything."""
    plain = {
        "name": "Test", "tested": "2026-11-02", "inside": g(20), "outside": g(20), "inside_end": g(20), "outside_end": g(20), "height": g(7), "wind": g(2), "barometer": g(101325),
        "fan": fan(f"{ident}.fan"), "corrected": True,
        "gauge": PressureGauge(id=f"{ident}.gauge", name="Gauge", serial="2", until="2027-01-01"),
        "readings": (*readings(ident), *readings(ident, "pressurising")),
    }  # fmt: skip
    return AirTest(id=ident, **{**plain, **more})  # type: ignore[arg-type]


def air_home() -> Home:
    """The drawn home with all of it."""
    home = plan_home()
    assert home.shape.plans is not None
    uses = {"ground.kitchen": {"use": "kitchen"}, "ground.study": {"use": "bath"}, "upper.living": {"use": "bedroom", "people": g(2)},
            "upper.kitchen": {"use": "bedroom", "unit": "second"}, "upper.study": {"use": "WC"},
            "ground.living": {"per_area": g(1.2), "changes": g(0.4), "passes": g(0.001)}}  # fmt: skip
    storeys = tuple(replace(s, rooms=tuple(replace(r, **uses.get(r.id, {})) for r in s.rooms)) for s in home.shape.plans.storeys)
    first = unit(
        "unit", frost="electric preheating", frost_limit=g(-2), bypass_from=g(12), least_flow=g(40), most_flow=g(300),
        power_least=g(0.2), power_most=g(0.6),
    )  # fmt: skip
    hours = (
        OperatingHours(id="night", runs="low", start=g(22), end=g(6)),
        OperatingHours(id="cook", runs="boost", start=g(18), end=g(19), days="working days"),
    )
    air = replace(home.air, units=(first, unit("second", supply=None)), hours=hours, low_share=g(0.6), boost_share=g(1.5), test="test",
                  kitchens=None, baths=None, wcs=None)  # fmt: skip
    test = air_test(
        preparations=(Preparation(id="p-1", name="Windows", done="closed"),),
        leaks=(Leak(id="leak-1", name="Bathroom window"),),
        zones=(ZonePressure(id="zone-1", name="Loft", across=g(40), out=g(10)),),
    )
    return replace(home, shape=replace(home.shape, plans=replace(home.shape.plans, storeys=storeys)), air=air, air_tests=(test,))


def other_air_homes() -> list[Home]:
    """Homes that between them use what excludes each other: fixed flows, a test by fan pressures in damp air, readings left out."""
    home = air_home()
    plans = home.shape.plans
    assert plans is not None
    fixed = {"ground.living": {"flow": g(30), "flow_low": g(12), "flow_boost": g(50), "people": None}}
    storeys = tuple(replace(s, rooms=tuple(replace(r, **fixed.get(r.id, {})) for r in s.rooms)) for s in plans.storeys)
    by_fan = tuple(
        replace(r, flow=None, fan_pressure=g((C * abs(r.pressure.value) ** N / 35.0) ** 2), ring="A", run=g(1))
        if r.moment == "point" and r.pressure is not None
        else r
        for r in readings("test")[1:]
    )
    damp = air_test(
        inside=g(22), outside=g(2), inside_end=None, outside_end=None, humidity_inside=g(0.6), humidity_outside=g(0.8), corrected=False, readings=by_fan, volume=g(300),
        envelope=g(400), floor=g(120), gauge=None,
    )  # fmt: skip
    one = replace(home, shape=replace(home.shape, plans=replace(plans, storeys=storeys)), air_tests=(damp,))
    natural = replace(home, air=replace(home.air, units=(), hours=(), without="leaks alone"))
    fans = replace(
        home, air=replace(home.air, units=(unit("unit", stands="outside the envelope", extract=g(90), supply=g(100)),), hours=())
    )
    return [one, natural, fans]
