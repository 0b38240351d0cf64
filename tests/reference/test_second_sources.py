"""Limits of power, bivalence, shares of carriers and own electricity against loops that share no code with the core."""

from __future__ import annotations

import ast
from pathlib import Path

import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.climate.library import climate_for
from nuthatch.core.energy.use_stages import OWN, USES
from nuthatch.core.library import DATA
from nuthatch.core.model.heat import Carrier, FurtherCarrier, HeatSource, Modules, OwnPower, PerformancePoint
from nuthatch.core.model.home import Home
from tests.reference import second_calculation as independent
from tests.reference import second_sources as again
from tests.simple_home import g, simple_home

POINTS = [(7.0, 35.0, 4.6), (2.0, 35.0, 3.6), (-7.0, 35.0, 2.9), (7.0, 55.0, 2.8), (-7.0, 55.0, 2.0)]


def pumped(climate: str, limit: float, below: float, alone: bool, most: float) -> Home:
    points = tuple(PerformancePoint(id=f"pump.{n}", source=g(s), flow=g(f), cop=g(c)) for n, (s, f, c) in enumerate(POINTS))
    pump = HeatSource(
        id="pump", name="Pump", kind="heat pump", carrier="power", heating_share=g(1), water_share=g(1), cooling_share=g(1), points=points,
        cooling_performance=g(3), flow_design=g(45), flow_most=g(most), power=g(limit), stops_below=g(below), distribution=g(0.06),
        below="the other alone" if alone else "both together", takes_over="boiler", standby=g(5), auxiliary=g(40),
    )  # fmt: skip
    boiler = HeatSource(
        id="boiler", name="Boiler", kind="boiler", carrier="wood", heating_share=g(0), water_share=g(0), efficiency=g(0.75),
        further=(FurtherCarrier(id="boiler.gas", carrier="gas", share=g(0.6), efficiency=g(0.9)),),
    )  # fmt: skip
    home = simple_home(climate)
    wood = Carrier(id="wood", name="Wood", kind="wood", primary=g(0.2), co2=g(0.02))
    own = OwnPower(
        counted="counted", battery=True, modules=(Modules(id="solar-roof", name="Modules", peak=g(4000), tilt=g(35), azimuth=g(180)),)
    )
    return home.model_copy(update={"sources": (pump, boiler), "carriers": (*home.carriers, wood), "power": own})


def bought(a: Assessment) -> dict:
    found: dict = {}
    for use in a[USES]:
        found[use.carrier.id] = found.get(use.carrier.id, 0.0) + use.energy.value
    return found


@pytest.mark.parametrize(("limit", "below", "alone", "most"), [(900, -3, True, 55), (1100, 2, True, 70), (700, -30, False, 50)])
@pytest.mark.parametrize("climate", ["marrowby-quay", "hallin-fell"])
def test_a_pump_with_limits_and_what_takes_over(climate: str, limit: float, below: float, alone: bool, most: float) -> None:
    home = pumped(climate, limit, below, alone, most)
    a = assess(home, climate_for(home, None))
    r = independent.second(DATA / "climates" / f"{climate}.epw")
    t = r["temperatures"]
    design = min(independent.two_days(t, d) for d in range(365))
    pump = {
        "points": POINTS,
        "design": design,
        "curve": 45.0,
        "power": limit / 1000,
        "below": below,
        "alone": alone,
        "lost": 0.06,
        "most": most,
    }
    heat, water = again.rooms(r, pump), again.water(r, pump, 60.0)
    rest = sum(heat["left"]) + sum(water["left"])
    assert rest > 20, "the case has something to take over"
    cooled = [c / 3 for c in r["cool_months"]]
    power = [
        h + w + c + e
        for h, w, c, e in zip(heat["power"], water["power"], cooled, again.even(40 + 5 * 8.76 + 0.4 * 110 * 8.76 + 2000), strict=True)
    ]
    own = again.at_home(list(a[OWN].made.value), power, 0.6)
    assert sum(own) > 300
    assert list(a[OWN].at_home.value) == pytest.approx(own, rel=2e-3)
    area = r["reference_floor_area"]
    gas, wood, net = rest * 0.6 / 0.9, rest * 0.4 / 0.75, sum(power) - sum(own)
    assert bought(a)["gas"] == pytest.approx(gas, rel=2e-3)
    assert bought(a)["wood"] == pytest.approx(wood, rel=2e-3)
    assert a.figures["primary_energy"].value == pytest.approx((gas * 1.1 + wood * 0.2 + net * 2.0) / area, rel=2e-3)
    assert a.figures["co2"].value == pytest.approx((gas * 0.2 + wood * 0.02 + net * 0.3) / area, rel=2e-3)
    assert a.figures["seasonal_performance_heating"].value == pytest.approx(sum(heat["made"]) / sum(heat["power"]), rel=2e-3)
    assert a.figures["seasonal_performance_water"].value == pytest.approx(sum(water["made"]) / sum(water["power"]), rel=2e-3)


def test_the_second_sources_import_nothing_of_ours() -> None:
    tree = ast.parse(Path(again.__file__).read_text())
    assert not [i for i in ast.walk(tree) if isinstance(i, ast.ImportFrom) and (i.module or "").startswith("nuthatch")]
