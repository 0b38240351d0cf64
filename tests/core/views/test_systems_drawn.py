"""Systems drawn: the way of the energy keeps what it carries, pipes lie where they are drawn, rooms are tinted by their loads, own sets go along."""

from __future__ import annotations

import numpy as np
import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import Batch, ChangeRefused, SetValue, apply
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.library import climate_for
from nuthatch.core.edits.household_edits import own_set, set_of
from nuthatch.core.edits.pipe_edits import pipe_drawn, pipe_redrawn
from nuthatch.core.edits.plan_storeys import mirrored, turned
from nuthatch.core.energy.stages import BALANCE
from nuthatch.core.energy.use_stages import OWN, USES
from nuthatch.core.library import demo_home
from nuthatch.core.model.heat import FurtherCarrier, Modules, OwnPower
from nuthatch.core.model.home import Home
from nuthatch.core.model.hot_water import SolarField
from nuthatch.core.model.part import replace
from nuthatch.core.sketch import Path, Text
from nuthatch.core.units import INCH_POUND, using
from nuthatch.core.views.energy_way import AROUND, OWN_POWER, USE_ROWS, energy_way, own_rows, own_words, way_of
from nuthatch.core.views.pipes import pipe_plan
from nuthatch.core.views.room_loads import LOADS, loads, room_loads, unplaced
from nuthatch.core.views.shape.tinting import Tint
from nuthatch.core.water.stages import WATER
from tests.plan_home import plan_home
from tests.simple_home import g, simple_home


def words(made: object) -> str:
    return " ".join(i.text for i in made.items if isinstance(i, Text))  # type: ignore[attr-defined]


def everything() -> Home:
    """A boiler of two carriers, a heat pump, collectors, modules that count."""
    home = simple_home()
    mixed = replace(home.sources[0], further=(FurtherCarrier(id="f", carrier="power", share=g(0.3), efficiency=g(0.98)),))
    sun = SolarField(
        id="sun", name="Sun", area=g(4), values="at the inlet", optical=g(0.75), loss=g(4), tilt=g(45), azimuth=g(180), volume=g(300)
    )
    power = OwnPower(counted="counted", modules=(Modules(id="m", name="M", peak=g(4000), tilt=g(30), azimuth=g(180)),))
    return replace(home, sources=(mixed, *home.sources[1:]), water=replace(home.water, solar=(sun,)), power=power)


def test_the_way_of_the_energy_keeps_what_it_carries(marrowby: Climate) -> None:
    """What goes into each source comes out of it or is lost; what each use gets is the balance's own."""
    a = assess(everything(), marrowby)
    way = way_of(a)
    for ident in {f.end for f in way.into}:
        into, out = sum(f.amount for f in way.into if f.end == ident), sum(f.amount for f in way.out if f.start == ident)
        cold = 0.0
        if ident.startswith("source:"):
            cold = sum(float(u.energy.value) for u in a[USES] if u.use == "cooling" and f"source:{u.source}" == ident)  # type: ignore[arg-type]
        assert into == pytest.approx(out + way.lost.get(ident, 0.0)), (ident, cold)
    got = {row: sum(f.amount for f in way.out if f.end == row) for row in USE_ROWS}
    assert got["heating"] == pytest.approx(float(np.sum(a[BALANCE].heating.value))) and got["hot water"] == pytest.approx(
        float(np.sum(a[WATER].months.value))
    )
    assert got["household"] == pytest.approx(2000.0)
    bought = sum(float(u.energy.value) for u in a[USES] if u.carrier is not None and u.carrier.id == "power")  # type: ignore[arg-type]
    drawn = {name: sum(f.amount for f in way.into if f.start == name) for name in ("carrier:power", OWN_POWER, AROUND)}
    assert drawn["carrier:power"] == pytest.approx(bought), "less what the modules give at home"
    assert drawn[OWN_POWER] == pytest.approx(float(np.sum(a[OWN].at_home.value))) and drawn[AROUND] > 0  # type: ignore[union-attr]


def test_bands_are_as_wide_as_what_they_carry_and_zero_stays_at_zero(marrowby: Climate) -> None:
    a = assess(everything(), marrowby)
    made, way = energy_way(a, 700, 420), way_of(a)
    high = {}
    for item in made.items:
        if isinstance(item, Path) and item.id.startswith("flow:"):
            ys = [y for x, y in item.points if x == item.points[0][0]]
            high[item.id] = max(ys) - min(ys)
    flows = {f"flow:{f.start}>{f.end}": f.amount for f in (*way.into, *way.out)}
    large = [i for i in high if high[i] > 3]
    ratios = [high[i] / flows[i] for i in large]
    assert len(large) > 5 and max(ratios) == pytest.approx(min(ratios), rel=1e-6)
    said = words(made)
    assert all(row in said for row in USE_ROWS) and "primary" in said and "lost" in said
    with using(INCH_POUND):
        assert "kBtu" in words(energy_way(a, 700, 420))
    lonely = assess(replace(simple_home(), sources=()), marrowby)
    assert "heating needs a heat source for heating" in words(energy_way(lonely)) and "household" in words(energy_way(lonely))
    nothing = energy_way(assess(Home(), None))
    assert "needs" in words(nothing)


def test_own_electricity_in_words_and_rows(marrowby: Climate) -> None:
    home = everything()
    a = assess(replace(home, power=replace(home.power, counted="not counted", feed_in=g(0.08)), currency="£"), marrowby)
    said, rows = own_words(a), dict(own_rows(a))
    own = a[OWN]
    assert own is not None and "not counted in the results" in said and f"£ {float(np.sum(own.fed_in.value)) * 0.08:.0f} a year" in said
    assert set(rows) == {"made", "needed", "home", "fed"} and all(len(r) == 14 for r in rows.values())
    assert OWN_POWER not in {f.start for f in way_of(a).into}, "what does not count is not drawn as bought less"
    assert own_words(assess(simple_home(), marrowby)) == "" and own_rows(assess(simple_home(), marrowby)) == []
    lacking = assess(replace(home, power=replace(home.power, modules=(replace(home.power.modules[0], peak=None),))), marrowby)
    assert "needs" in own_words(lacking)


def test_a_pipe_lies_where_it_was_drawn(marrowby: Climate) -> None:
    """Widths by losses, one handle for each corner; the way of a listed pipe drawn anew takes its typed length away."""
    home = plan_home()
    assert home.shape.plans is not None
    storey = home.shape.plans.storeys[0].id
    made = apply(pipe_drawn(home, storey, ((1.0, 1.0), (4.0, 1.0), (4.0, 3.0))), home)
    assert isinstance(made, Home)
    run = made.water.runs[-1]
    a = assess(made, marrowby)
    sketch = pipe_plan(a, storey, (600.0, 420.0), run.id)
    line = next(i for i in sketch.items if isinstance(i, Path) and i.id == run.id and not i.closed)
    (x0, _), (x1, _), _ = line.points
    assert len(line.points) == 3 and len(sketch.handles) == 3 and x1 > x0 and line.stroke == "tide"
    made = apply(SetValue(part=run.id, field="length", value=g(12)), made)  # type: ignore[assignment]
    longer = apply(pipe_redrawn(made, run.id, storey, ((1.0, 1.0), (9.0, 1.0))), made)
    assert isinstance(longer, Home) and len(longer.water.runs[-1].corners) == 2 and longer.water.runs[-1].length is None
    for turn in (mirrored, turned):
        twice = made
        for _ in range(2 if turn is mirrored else 4):
            twice = apply(turn(twice), twice)  # type: ignore[assignment, arg-type]
        assert isinstance(twice, Home) and twice.water.runs == made.water.runs, "plans mirrored and turned take their pipes along, and back"
    once = apply(mirrored(made), made)
    assert isinstance(once, Home) and once.water.runs[-1].corners[1].x != made.water.runs[-1].corners[1].x
    second = apply(pipe_drawn(longer, storey, ((1.0, 2.0), (2.0, 2.0))), longer)
    assert isinstance(second, Home) and second.water.runs[-1].kind == "to a tap", "after the ring come the taps"
    with pytest.raises(ChangeRefused, match="two points"):
        pipe_drawn(home, storey, ((1.0, 1.0),))
    assert "storey plans" in words(pipe_plan(assess(simple_home(), marrowby)))


def test_rooms_tinted_by_their_loads() -> None:
    """What runs in a room a year over 8.76 and its floor area; what stands nowhere is said; people of bedrooms are those of the home."""
    home = demo_home("osier-lane-7")
    a = assess(home, climate_for(home, None))
    values, kind = loads(a, "electricity")
    kitchen = next(r.room for r in a[_flows()].rooms if r.room.id == "g.kitchen")
    assert kind == "heat_flux" and values["g.kitchen"] == pytest.approx((170 + 420 + 200) / 8.76 / kitchen.area)
    inside, _ = loads(a, "heat inside")
    assert inside["g.kitchen"] == pytest.approx((170 + 420 * 0.6 + 200 * 0.4) / 8.76 / kitchen.area)
    people, _ = loads(a, "people")
    assert sum(people.values()) == pytest.approx(float(a.figures["people"].value)) and unplaced(a) == 1  # type: ignore[arg-type]
    for by in LOADS:
        made = room_loads(a, "ground", Tint(by, 0.0, 5.0, 2))
        assert "Kitchen" in words(made) and sum(1 for i in made.items if isinstance(i, Path) and i.id.startswith("g.")) == 5
    assert "rooms are drawn in Shape" in words(room_loads(assess(simple_home(), None)))


def _flows():  # type: ignore[no-untyped-def]
    from nuthatch.core.air.stages import FLOWS

    return FLOWS


def test_an_own_set_of_the_office(osier_assessed: Assessment) -> None:
    """Kept without rooms and patterns, put into another home where it is not there by name, each with an id of its own."""
    home = osier_assessed.home
    own = set_of(home, "office-appliances-1", "Terraces")
    assert len(own.appliances) == len(home.household.appliances) and {a.room for a in own.appliances} == {""}
    change = own_set(simple_home(), own)
    assert isinstance(change, Batch)
    made = apply(change, simple_home())
    assert isinstance(made, Home)
    assert [(a.name, a.energy) for a in made.household.appliances] == [(a.name, a.energy) for a in home.household.appliances]
    with pytest.raises(ChangeRefused, match="there already"):
        own_set(made, own)
