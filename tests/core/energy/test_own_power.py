"""Electricity of modules on the roof against pvlib called directly; what is used at home by the month; what counts where a set says so."""

from __future__ import annotations

import numpy as np
import pandas as pd
import pvlib
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nuthatch.core.assess import assess
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.sun import MONTH_HOURS, MONTH_OF_HOUR
from nuthatch.core.energy import own_power
from nuthatch.core.energy.use_stages import BOUGHT, OWN, USES
from nuthatch.core.model.heat import Modules, OwnPower
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.core.model.site import HorizonPoint, SiteObject
from nuthatch.core.model.target_set import Condition
from nuthatch.core.results.figure import Unknown
from nuthatch.core.solid.stages import BOUNDARY, SOLID
from nuthatch.core.sun.stages import FIELD_SUN, FIELDS
from tests.simple_home import g, simple_home


def with_modules(home: Home, *more: Modules, **fields: object) -> Home:
    """5 kW to the south, 35° steep."""
    values = {"id": "m", "name": "Modules", "peak": g(5000), "tilt": g(35), "azimuth": g(180)}
    return replace(home, power=OwnPower(modules=(Modules.model_validate({**values, **fields}), *more)))


def chained(climate: Climate, tilt: float, azimuth: float, peak: float, mount: str = "close_mount_glass_glass") -> np.ndarray:
    """kWh by month of pvlib's own chain over the file's hours at mid-hour, ground 0.2."""
    w = climate.weather
    zone = pd.DatetimeIndex(pd.date_range("2001-01-01 00:30", periods=8760, freq="h")) - pd.to_timedelta(w.time_zone, unit="h")
    times = zone.tz_localize("UTC")
    place = pvlib.location.Location(w.latitude, w.longitude, "UTC", w.elevation)
    system = pvlib.pvsystem.PVSystem(
        arrays=[
            pvlib.pvsystem.Array(
                pvlib.pvsystem.FixedMount(tilt, azimuth),
                albedo=0.2,
                module_parameters={"pdc0": peak, "gamma_pdc": -0.004},
                temperature_model_parameters=pvlib.temperature.TEMPERATURE_MODEL_PARAMETERS["sapm"][mount],
            )
        ],
        inverter_parameters={"pdc0": peak, "eta_inv_nom": 0.96},
        losses_parameters={"soiling": 14, "shading": 0, "snow": 0, "mismatch": 0, "wiring": 0, "connections": 0, "lid": 0, "nameplate_rating": 0, "age": 0, "availability": 0},
    )  # fmt: skip
    chain = pvlib.modelchain.ModelChain.with_pvwatts(system, place, transposition_model="perez")
    weather = pd.DataFrame(
        {"ghi": w.global_horizontal, "dni": w.direct_normal, "dhi": w.diffuse_horizontal, "temp_air": w.temperature, "wind_speed": w.wind},
        index=times,
    )
    chain.run_model(weather)
    ac = np.nan_to_num(np.asarray(chain.results.ac, float))
    return np.bincount(MONTH_OF_HOUR, ac, minlength=12) / 1000


@pytest.mark.parametrize(("key", "tilt", "azimuth", "mounted", "mount"), [("marrowby", 35.0, 180.0, "on the roof", "close_mount_glass_glass"), ("verrin", 10.0, 90.0, "free standing", "open_rack_glass_glass")])  # fmt: skip
def test_months_against_pvlib_called_directly(
    key: str, tilt: float, azimuth: float, mounted: str, mount: str, request: pytest.FixtureRequest
) -> None:
    """pvlib's ModelChain.with_pvwatts, its own sun and sky: each month within 2 %, the year within 1 %. Ours takes the
    sky around the sun as beam, which the glass takes aslant and things shade."""
    c: Climate = request.getfixturevalue(key)
    a = assess(with_modules(simple_home(), tilt=g(tilt), azimuth=g(azimuth), mounted=mounted), c)
    own = a[OWN]
    assert own is not None
    ours, theirs = np.asarray(own.made.value), chained(c, tilt, azimuth, 5000.0, mount)
    assert ours == pytest.approx(theirs, rel=0.02) and ours.sum() == pytest.approx(theirs.sum(), rel=0.01)


def test_an_hour_by_hand() -> None:
    """1000 W/m² straight on at 25 °C of the cells: 4 kW less 14 %, through the inverter."""
    one, none = np.ones(8760), np.zeros(8760)
    sapm = pvlib.temperature.TEMPERATURE_MODEL_PARAMETERS["sapm"]["close_mount_glass_glass"]
    rise = float(pvlib.temperature.sapm_cell(1000.0, 0.0, 2.0, **sapm))
    made = own_power.hourly((1000 * one, none, one), (25 - rise) * one, 2 * one, 4000.0, (-0.004, 0.14, 0.96))
    assert made[0] == pytest.approx(float(pvlib.inverter.pvwatts(4000 * 0.86, 4000.0, 0.96)))
    warm = own_power.hourly((1000 * one, none, one), (35 - rise) * one, 2 * one, 4000.0, (-0.004, 0.14, 0.96))
    assert warm[0] == pytest.approx(float(pvlib.inverter.pvwatts(4000 * 0.96 * 0.86, 4000.0, 0.96))), "10 K warmer: 4 % less"
    assert (own_power.hourly((none, none, one), one, one, 4000.0, (-0.004, 0.14, 0.96)) == 0).all()
    assert (own_power.hourly((one, one, one), one, one, 0.0, (-0.004, 0.14, 0.96)) == 0).all(), "no modules give nothing"


def test_used_at_home_by_the_month() -> None:
    """min(yield, use)·0.3: 100 of 400 → 30, 400 of 300 → 90; the rest is fed in."""
    made, used = np.array([100.0, 400.0] + [0.0] * 10), np.array([400.0, 300.0] + [50.0] * 10)
    home = own_power.at_home.function(made, used, 0.3)
    assert home[:3] == pytest.approx([30, 90, 0]) and own_power.fed_in.function(made, home)[:2] == pytest.approx([70, 310])
    parted = own_power.used_months.function((120.0, 87.6), (np.array([3.0, 1.0] + [0.0] * 10), np.zeros(12)))
    assert parted == pytest.approx(np.array([90.0, 30.0] + [0.0] * 10) + 87.6 * MONTH_HOURS / 8760)


def test_every_kilowatt_hour_goes_somewhere(marrowby: Climate) -> None:
    a = assess(with_modules(simple_home()), marrowby)
    own = a[OWN]
    assert own is not None
    made, home, fed, needed = (np.asarray(n.value) for n in (own.made, own.at_home, own.fed_in, own.needed))
    assert home + fed == pytest.approx(made) and (home <= needed + 1e-9).all() and (home >= 0).all()
    bought = sum(float(u.energy.value) for u in a[BOUGHT] if u.carrier is not None and u.carrier.id == "power")  # type: ignore[arg-type]
    assert needed.sum() == pytest.approx(bought), "all that is bought of the carrier of fans and household"
    assert home == pytest.approx(np.minimum(made, needed) * 0.3)
    kept = replace(a.home, power=replace(a.home.power, battery=True))
    assert np.asarray(assess(kept, marrowby)[OWN].at_home.value) == pytest.approx(np.minimum(made, needed) * 0.6)  # type: ignore[union-attr]
    told = replace(a.home, power=replace(a.home.power, own_use=g(0.45)))
    assert np.asarray(assess(told, marrowby)[OWN].at_home.value) == pytest.approx(np.minimum(made, needed) * 0.45)  # type: ignore[union-attr]


def test_it_counts_only_where_it_is_said(marrowby: Climate) -> None:
    """Primary energy, CO₂ and money less by what is used at home where it counts; a set says it for its own targets alone."""
    home = with_modules(simple_home())
    home = replace(home, carriers=(home.carriers[0], replace(home.carriers[1], price=g(0.3))))
    home = replace(home, carriers=tuple(replace(c, price=c.price or g(0.1)) for c in home.carriers))
    plain, bare = assess(home, marrowby), assess(replace(home, power=OwnPower()), marrowby)
    assert plain.figures["primary_energy"].value == bare.figures["primary_energy"].value, "not counted where nobody says so"
    counted = assess(replace(home, power=replace(home.power, counted="counted")), marrowby)
    area, used = float(plain.figures["reference_floor_area"].value), float(np.sum(plain[OWN].at_home.value))  # type: ignore[arg-type, union-attr]
    less = {k: float(plain.figures[k].value) - float(counted.figures[k].value) for k in ("primary_energy", "co2", "energy_cost")}  # type: ignore[arg-type]
    assert less == pytest.approx({"primary_energy": used * 2.0 / area, "co2": used * 0.3 / area, "energy_cost": used * 0.3})
    assert [u.energy.value for u in counted[USES] if u.use == "own electricity"] == [pytest.approx(-used)]
    first = home.target_sets[0]
    silent = counted.under(first.id)
    assert not [u for u in silent[USES] if u.use == "own electricity"], "the home counts it, but the set that judges says nothing of it"
    bare_set = replace(first, conditions=())
    nothing = assess(replace(home, target_sets=(bare_set,), power=replace(home.power, counted="counted")), marrowby)
    assert (
        not [u for u in nothing.under(first.id)[USES] if u.use == "own electricity"]
        and nothing.figures["primary_energy"].value == counted.figures["primary_energy"].value
    )
    says = replace(first, conditions=(*first.conditions, Condition(field="power.counted", value="counted", source="made up")))
    judged = assess(replace(home, target_sets=(says,)), marrowby)
    under = judged.under(says.id)
    assert judged.figures["primary_energy"].value == plain.figures["primary_energy"].value
    assert [u.use for u in under[USES]].count("own electricity") == 1


def test_what_stands_near_takes_sun_from_the_roof(marrowby: Climate) -> None:
    """On a face of the home: what stands before its middle counts hour by hour; typed, the share counts instead; the horizon always."""
    home = simple_home()
    on_face = with_modules(home, tilt=None, azimuth=None, face="wall-front")
    free = float(np.sum(assess(on_face, marrowby)[OWN].made.value))  # type: ignore[union-attr]
    block = SiteObject(id="no-5", name="No. 5", east=g(0), north=g(-12), length=g(30), depth=g(6), height=g(12))
    shaded = replace(on_face, site=replace(home.site, objects=(block,)))
    hidden = float(np.sum(assess(shaded, marrowby)[OWN].made.value))  # type: ignore[union-attr]
    assert hidden < 0.8 * free
    typed = with_modules(shaded, tilt=None, azimuth=None, face="wall-front", sunlit=g(0.5))
    half = float(np.sum(assess(typed, marrowby)[OWN].made.value))  # type: ignore[union-attr]
    assert half == pytest.approx(0.5 * free, rel=0.06), "low light gives a little less than its share"
    high = replace(on_face, site=replace(home.site, horizon=(HorizonPoint(id="h", azimuth=g(180), height=g(25)),)))
    assert float(np.sum(assess(high, marrowby)[OWN].made.value)) < free  # type: ignore[union-attr]
    nowhere = assess(with_modules(home, tilt=None, azimuth=None), marrowby)[OWN]
    assert nowhere is not None and isinstance(nowhere.made, Unknown) and nowhere.made.needs[0].field == "tilt"


def test_a_field_lies_in_the_middle_of_its_face_and_trees_have_their_leaves(marrowby: Climate) -> None:
    """A square about the middle, as large as its modules at 200 W/m², no larger than 3 m; under a tree less of the sky in summer."""
    home = simple_home()
    a = assess(with_modules(home, tilt=None, azimuth=None, face="wall-front", peak=g(800)), marrowby)
    stood, outline = a[FIELDS]["m"].stood, np.array(a.all_of(BOUNDARY)["wall-front"].outline or a[SOLID].outer["wall-front"])
    assert stood is not None and stood.size == pytest.approx((2.0, 2.0))
    (corner,) = stood.corners
    assert corner[2] + 1.0 == pytest.approx(outline[:, 2].mean(), abs=1e-3)
    assert assess(with_modules(home, tilt=None, azimuth=None, face="wall-front"), marrowby)[FIELDS]["m"].stood.size == pytest.approx(
        (3.0, 3.0), abs=1e-6
    )  # type: ignore[union-attr]
    tree = SiteObject(id="t", name="T", kind="tree", east=g(0), north=g(-9), length=g(9), height=g(9), crown=g(0.5), light_winter=g(0.9), light_summer=g(0.1))  # fmt: skip
    under = assess(replace(a.home, site=replace(home.site, objects=(tree,))), marrowby)
    free, dim = (x.all_of(FIELD_SUN)["m"].diffuse for x in (a, under))
    left = [dim[m == MONTH_OF_HOUR].sum() / free[m == MONTH_OF_HOUR].sum() for m in (0, 6)]
    assert left[1] < left[0] - 0.02 < 1, "leaves take more of the sky in July than branches in January"


def test_what_is_not_known_stays_so_and_zero_is_zero(marrowby: Climate) -> None:
    a = assess(with_modules(simple_home(), peak=None), marrowby)
    assert isinstance(a[OWN].made, Unknown) and a.figures["primary_energy"].value is not None, "what does not count holds nothing up"  # type: ignore[union-attr]
    zero = assess(with_modules(simple_home(), peak=g(0)), marrowby)[OWN]
    assert zero is not None and (np.asarray(zero.at_home.value) == 0).all()
    lost = assess(
        replace(with_modules(simple_home(), peak=None), power=replace(with_modules(simple_home(), peak=None).power, counted="counted")),
        marrowby,
    )
    assert isinstance(lost.figures["primary_energy"], Unknown)
    nobody = assess(with_modules(simple_home()), None)
    assert nobody[OWN] is not None and nobody[OWN].made.value is None


@settings(deadline=None, max_examples=30)
@given(st.floats(0, 1000), st.floats(0, 1000), st.floats(0, 1))
def test_never_more_at_home_than_made_or_used(made: float, used: float, share: float) -> None:
    found = own_power.at_home.function(np.full(12, made), np.full(12, used), share)
    assert (found <= made + 1e-9).all() and (found <= used + 1e-9).all()
