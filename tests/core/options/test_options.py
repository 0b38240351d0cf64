"""Options against editing the home by hand, money against docs/methods (options), roots by a fresh assessment."""

from __future__ import annotations

import json
import random
from dataclasses import replace as changed

import pytest

from nuthatch import cli
from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import ChangeRefused, Insert, Remove, SetValue, apply
from nuthatch.core.changes.difference import difference
from nuthatch.core.climate.library import climate_for
from nuthatch.core.dossier.report import to_html
from nuthatch.core.edits.option_edits import by_office, kept_trial, ordered, priced, put_on, shifted, with_upgrade
from nuthatch.core.files.homefile import HomeFile, from_bytes, to_bytes
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import Home, Layer
from nuthatch.core.model.options import Economy, Option, OwnCost, Upgrade
from nuthatch.core.model.part import Basis, Given, replace
from nuthatch.core.options.applied import SAME, captured, home_with, in_order, put_all, written
from nuthatch.core.options.gap import _tried, closed, levers
from nuthatch.core.options.ladder import cheapest_first, greatest_first, ladder, state_of, uses
from nuthatch.core.options.money import Rates, annuity, cost_of, factor, money
from nuthatch.core.options.ready import at_hand
from nuthatch.core.units import show, using
from nuthatch.core.views.options.ladder_drawn import ladder_drawing
from nuthatch.core.views.options.rows import saved_rows, side_by_side, step_cells
from nuthatch.core.views.options.scales import ends
from nuthatch.core.views.options.sheets import steps_sheet
from tests.core.files.test_nothing_lost import _random_change
from tests.simple_home import g, simple_home
from tests.undetailed import undetailed


def made(home: Home) -> Assessment:
    return assess(home, climate_for(home, None))


def up(ident: str, *changes: object, **more: object) -> Upgrade:
    return Upgrade(id=ident, name=ident, changes=tuple(written(c) for c in changes), **more)  # type: ignore[arg-type]


def thicker(t: float) -> SetValue:
    return SetValue(part="outer-wall.3", field="thickness", value=g(t))


def tight(n50: float) -> tuple[SetValue, SetValue]:
    return SetValue(part="air", field="test", value=""), SetValue(part="air", field="n50", value=g(n50))


@pytest.fixture(scope="module")
def osier_with() -> Assessment:
    home = demo_home("osier-lane-7")
    upgrades = (
        up("wall", thicker(0.32), cost=g(60), per="m²", life=g(40)),
        up("seal", *tight(0.4), cost=g(900)),
        up("glass", SetValue(part=home.opening_types[0].id, field="glass_u", value=g(0.5)), cost=g(300), per="piece"),
    )
    option = Option(id="o", name="All three", upgrades=("wall", "seal", "glass"), report=True)
    return made(replace(home, upgrades=upgrades, options=(option,)))


# money


def test_factors_and_annuities_of_the_methods() -> None:
    """3 % interest, 2 % rise, 25 years: 21.644; without rise 17.413; annuity 0.05743; equal rates n/(1+i)."""
    assert factor(25, 0.03, 0.02) == pytest.approx(21.644, abs=5e-4) and factor(25, 0.03) == pytest.approx(17.413, abs=5e-4)
    assert annuity(25, 0.03) == pytest.approx(0.05743, abs=5e-6) and annuity(20, 0.0) == 1 / 20
    assert factor(12, 0.04, 0.04) == pytest.approx(12 / 1.04) and factor(10, 0.0) == 10


def test_present_value_payback_and_cost_of_a_saved_kwh_by_hand() -> None:
    u = Upgrade(id="u", cost=g(1000), grant=g(100), due=g(200), upkeep=g(10), life=g(25))
    m = money(Rates(), ((u, 1000.0),), 100.0, 800.0)
    assert m.extra == 700 and m.payback == 7 and m.present == pytest.approx(21.644 * 100 - 700 - 17.413 * 10, abs=0.1)
    assert m.per_kwh == pytest.approx((700 * 0.05743 + 10) / 800, abs=1e-5)
    short = money(Rates(20, 0.0, 0.0), ((replace(u, life=g(10), grant=None, due=None, upkeep=None), 1000.0),), 100.0, 800.0)
    assert short.present == pytest.approx(20 * 100 - 2 * 1000), "bought twice"
    long = money(Rates(20, 0.0, 0.0), ((replace(u, life=g(40), grant=None, due=None, upkeep=None), 1000.0),), 100.0, 800.0)
    assert long.present == pytest.approx(20 * 100 - 500), "half of it is left"
    worse = money(Rates(), ((u, 1000.0),), -5.0, -10.0)
    assert worse.payback is None and worse.per_kwh is None and worse.present is not None and worse.present < 0
    gift = money(Rates(), ((Upgrade(id="x", cost=g(-50)), -50.0),), 100.0, 1.0)
    assert gift.payback == 0 and gift.present == pytest.approx(21.644 * 100 + 50, abs=0.1)
    assert money(Rates(), ((u, 1000.0), (Upgrade(id="v"), None)), 1.0, 1.0).present is None, "unknown cost is unknown"


@pytest.mark.parametrize(("part", "field", "value"), [(Upgrade, "life", 0.0), (Economy, "interest", -1.0), (Economy, "years", 0.0)])
def test_what_cannot_be_is_refused_in_a_sentence(part: type, field: str, value: float) -> None:
    home = replace(demo_home("weir-cottage"))
    ident = home.upgrades[0].id if part is Upgrade else "economy"
    with pytest.raises(ChangeRefused, match="must be (more than|at least)"):
        apply(SetValue(part=ident, field=field, value=g(value)), home)


# changes


@pytest.mark.parametrize("seed", range(6))
def test_what_was_done_between_two_homes_turns_one_into_the_other(seed: int) -> None:
    """Random edits of every kind, written as an upgrade keeps them and read again."""
    rng = random.Random(seed)
    start = home = replace(demo_home(("osier-lane-7", "weir-cottage", "sail-loft")[seed % 3]), upgrades=(), options=())
    done = 0
    while done < 12:
        change = _random_change(rng, home)
        try:
            home = apply(change, home)  # type: ignore[arg-type]
            done += 1
        except ChangeRefused:
            continue
    home = replace(
        home, evidence=start.evidence, pins=start.pins, upgrades=(), options=(), economy=start.economy, certainty=start.certainty
    )
    again = start
    for change in difference(start, home):
        again = apply(change, again)
    assert again == home
    kept = Upgrade(id="u", changes=captured(start, home))
    put = put_all(replace(start, upgrades=(kept,)), (kept,))[0]
    assert put.why == "" and replace(put.home, upgrades=()) == home


def test_an_option_is_the_home_edited_by_hand(osier_with: Assessment) -> None:
    """Figure by figure, also after saving and reading; in any order the whole is the same."""
    home = osier_with.home
    by_hand = demo_home("osier-lane-7")
    for change in (thicker(0.32), *tight(0.4), SetValue(part=home.opening_types[0].id, field="glass_u", value=g(0.5))):
        by_hand = apply(change, by_hand)
    wanted = {k: f.value for k, f in made(by_hand).figures.items()}
    read = from_bytes(to_bytes(HomeFile(home, None))).home
    assert read == home
    with_it = made(home_with(read, read.options[0]))
    assert {k: f.value for k, f in with_it.figures.items()} == wanted
    base, option = ladder(osier_with, home.options[0]), home.options[0]
    for ids in (("glass", "wall", "seal"), ("seal", "glass", "wall")):
        other = ladder(osier_with, replace(option, upgrades=ids), effects=False)
        assert other.end.figures == pytest.approx(base.end.figures) and other.money.cost == pytest.approx(base.money.cost)
    steps = [r.ordered["heating_demand"] for r in base.rungs]
    assert base.base.figures["heating_demand"] + sum(steps) == pytest.approx(float(wanted["heating_demand"]))  # type: ignore[operator,arg-type]


def test_alone_in_order_and_last_by_a_fresh_assessment(osier_with: Assessment) -> None:
    home = demo_home("osier-lane-7")
    changes = {"wall": (thicker(0.32),), "seal": tight(0.4)}

    def demand(*names: str) -> float:
        at = home
        for n in names:
            for c in changes[n]:
                at = apply(c, at)
        return float(made(at).figures["heating_demand"].value)  # type: ignore[arg-type]

    one = ladder(osier_with, Option(id="x", upgrades=("wall", "seal")))
    none, wall, seal, both = demand(), demand("wall"), demand("seal"), demand("wall", "seal")
    first, second = one.rungs
    assert first.alone["heating_demand"] == pytest.approx(wall - none) == pytest.approx(first.ordered["heating_demand"])
    assert first.last["heating_demand"] == pytest.approx(both - seal)
    assert second.ordered["heating_demand"] == pytest.approx(both - wall) == pytest.approx(second.last["heating_demand"])
    assert second.alone["heating_demand"] == pytest.approx(seal - none)


def test_quantities_come_from_the_shape(osier_with: Assessment) -> None:
    one = ladder(osier_with, osier_with.home.options[0], effects=False)
    wall, seal, glass = one.rungs
    faces = osier_with.all_of(__import__("nuthatch.core.fabric.stages", fromlist=["FACE"]).FACE)
    grown = sum(a for i, (_, a) in wall.after.faces.items() if i in faces and faces[i].boundary.buildup == "outer-wall")
    assert wall.area == pytest.approx(grown) and wall.money.cost == pytest.approx(60 * grown)
    pieces = sum(o.count.value if o.count else 1 for o in osier_with.home.openings if o.type == osier_with.home.opening_types[0].id)
    assert glass.pieces == pieces and glass.money.cost == 300 * pieces and seal.money.cost == 900
    assert cost_of(Upgrade(id="u", cost=g(10), per="m²", amount=g(7)), 99, 99) == 70 and cost_of(Upgrade(id="u"), 1, 1) is None


def test_upgrades_that_lean_on_each_other_repeat_or_are_gone() -> None:
    home = demo_home("osier-lane-7")
    layer = Layer(id="new-layer", name="Board", thickness=g(0.05), conductivity=g(0.04))
    adds = up("adds", Insert(owner="outer-wall", field="layers", index=1, value=layer))
    grows = up("grows", SetValue(part="new-layer", field="thickness", value=g(0.1)))
    again = up("again", SetValue(part="new-layer", field="thickness", value=g(0.1)))
    gone = up("gone", Remove(part="nobody"))
    option = Option(id="o", upgrades=("adds", "grows", "again", "gone"))
    a = made(replace(home, upgrades=(adds, grows, again, gone), options=(option,)))
    one = ladder(a, option)
    assert [bool(r.why) for r in one.rungs] == [False, False, True, True] and one.rungs[2].why == SAME and "nobody" in one.rungs[3].why
    assert one.rungs[1].alone["heating_demand"] is None and one.rungs[1].ordered["heating_demand"] < 0  # type: ignore[operator]
    assert one.rungs[0].last["heating_demand"] is None, "the second stands on it"
    asked = [q for q in a.questions if q.step == "options"]
    assert [q.part for q in asked] == ["gone"] and "no longer" in asked[0].text
    later = made(apply(thicker(0.3), replace(home, upgrades=(up("w", thicker(0.3)),), options=(Option(id="o", upgrades=("w",)),))))
    assert any(q.part == "w" and "so already" in q.text for q in later.questions)


def test_an_option_builds_on_another_and_never_on_itself() -> None:
    home = demo_home("osier-lane-7")
    a, b = Option(id="a", upgrades=("x", "y"), after="b"), Option(id="b", upgrades=("y",), after="a")
    home = replace(home, upgrades=(up("x", thicker(0.3)), up("y", *tight(0.5))), options=(a, b))
    assert [u.id for u in in_order(home, a)] == ["y", "x"] and [u.id for u in in_order(home, replace(b, after=""))] == ["y"]


def test_orders() -> None:
    a = made(demo_home("weir-cottage"))
    option = Option(id="o", upgrades=("upgrade-1", "upgrade-4", "upgrade-2"))
    assert greatest_first(a, option, "heating_demand") == ("upgrade-4", "upgrade-2", "upgrade-1")
    one = ladder(a, option, effects=False)
    costs = {r.upgrade.id: r.money.per_kwh for r in one.rungs}
    assert cheapest_first(one) == tuple(sorted(costs, key=lambda i: costs[i] or 0.0))


# edits


def test_what_was_tried_becomes_an_upgrade_and_the_home_is_as_before() -> None:
    home = replace(demo_home("osier-lane-7"), upgrades=(), options=(Option(id="option-1", name="A"),))
    now = apply(thicker(0.35), home)
    kept, ident = kept_trial(home, now, "Thick wall", option="option-1")
    assert replace(kept, upgrades=(), options=home.options) == home and kept.options[0].upgrades == (ident,)
    assert home_with(kept, kept.options[0]).buildups == now.buildups
    again, same = kept_trial(kept, apply(thicker(0.4), kept), "Thick wall", ident)
    assert same == ident and len(again.upgrades) == 1 and again.upgrades[0].changes[0]["value"]["value"] == 0.4  # type: ignore[index,call-overload]
    with pytest.raises(ChangeRefused, match="nothing was changed"):
        kept_trial(home, home, "x")
    proof = replace(now, pins=())
    assert kept_trial(home, proof, "x")[0].pins == (), "what is pinned meanwhile stays as it is now"


def test_the_list_of_an_option_is_edited() -> None:
    home = demo_home("weir-cottage")
    option = home.options[0]
    first, second = option.upgrades[:2]
    assert apply(shifted(home, option.id, first, 1), home).options[0].upgrades[:2] == (second, first)  # type: ignore[arg-type]
    assert shifted(home, option.id, first, -1) is None and ordered(home, option.id, option.upgrades) is None
    off = apply(put_on(home, option.id, first, False), home)
    assert first not in off.options[0].upgrades and apply(put_on(off, option.id, first, True), off).options[0].upgrades[-1] == first
    change, ident = with_upgrade(replace(home, options=(), upgrades=()), Upgrade(id="new", name="x"))
    assert apply(change, replace(home, options=(), upgrades=())).options[0].upgrades == (ident,), "a first option of its own"
    with pytest.raises(ChangeRefused, match="this option is gone"):
        put_on(home, "nobody", first, True)


# ready, gap


@pytest.mark.parametrize("key", ["weir-cottage", "osier-lane-7", "sail-loft"])
def test_all_that_is_at_hand_fits_the_home(key: str) -> None:
    home = demo_home(key)
    a = made(home)
    ready = at_hand(a)
    assert len(ready) >= 4
    for r in ready:
        one = put_all(home, (r.upgrade("u"),))[0]
        assert one.why == "" and one.home != home, r.name
    names = " ".join(r.name for r in ready)
    n50 = a.figures["n50"].value
    assert ("Seal it" in names) == (n50 is not None and float(n50) > 2)


def test_a_gap_is_closed_where_a_fresh_assessment_says_so() -> None:
    home = undetailed(demo_home("osier-lane-7"))
    a = made(home)
    target = next(v for v in a.verdicts if v.name == "Airtightness")
    known = {x.id: x for x in levers(a)}
    key = (target.set_id, target.name)
    assert _tried(a, known["air.n50"], key).at == pytest.approx(0.6, abs=2e-3), "its limit, by hand"
    other = _tried(a, known["slab.1"], key)
    assert other.at is None and other.leaves == pytest.approx(0.04, abs=1e-6), "insulation does not move the air change"
    heating = next(v for v in a.verdicts if v.name == "Heating")
    met = {x.name: x for x in closed(a, (heating.set_id, heating.name))}
    wall = next(x for n, x in met.items() if n.startswith("Mineral wool between studs"))
    assert wall.at is not None and wall.at < wall.today, "so much room is left"
    thin = apply(SetValue(part="outer-wall.3", field="thickness", value=g(wall.at)), home)
    way = next(v for v in made(thin).verdicts if v.name == "Heating").ways
    assert min(w.ratio for w in way if w.ratio is not None) == pytest.approx(1.0, abs=2e-3)
    assert wall.changes[0]["field"] == "thickness"


def test_costs_come_from_the_office_s_own_list() -> None:
    a = made(demo_home("weir-cottage"))
    own = (
        OwnCost(id="c", kind="sealing", cost=Given(value=3100, basis=Basis.DECLARED, source="offers of 2026"), life=g(25)),
        OwnCost(id="d", kind="windows", cost=g(620), per="m²"),
    )
    ready = {r.kind: r.upgrade("u") for r in at_hand(a)}
    assert {
        "insulation outside",
        "insulation inside",
        "windows",
        "sealing",
        "ventilation unit",
        "heat source",
        "appliances",
    } <= ready.keys()
    sealed = priced(ready["sealing"], own)
    assert sealed.cost is not None and sealed.cost.value == 3100 and "the office's list of costs, offers of 2026" in sealed.cost.source
    assert sealed.life is not None and sealed.life.value == 25 and priced(ready["windows"], own).per == "m²"
    assert priced(ready["heat source"], own).cost is None and priced(sealed, (replace(own[0], cost=g(1)),)).cost.value == 3100  # type: ignore[union-attr]
    home = replace(a.home, upgrades=(replace(ready["sealing"], id="s"), replace(ready["heat source"], id="h")), options=())
    then = apply(by_office(home, own), home)
    assert then.upgrades[0].cost == sealed.cost and then.upgrades[1].cost is None
    with pytest.raises(ChangeRefused, match="has no cost of the kinds"):
        by_office(then, own)


def test_what_else_would_differ_is_said(osier_with: Assessment) -> None:
    """A thicker wall within the same outer lines takes floor area: told; people and water drawn stay, unless they are changed."""
    home = simple_home()
    thick = up("thick", SetValue(part="wall.1", field="thickness", value=g(0.35)))
    crowd = up("crowd", SetValue(part="household", field="people", value=g(6)))
    option = Option(id="o", upgrades=("thick", "crowd"))
    a = made(replace(home, upgrades=(thick, crowd), options=(option, Option(id="p", upgrades=("thick",)))))
    both, one = (ladder(a, o, False) for o in a.home.options)
    rows = {r[0]: r for r in side_by_side(a, state_of(a), [("o", both)])}
    assert rows["Not alike besides: people"][2] == "6.00" and "Not alike besides: hot water drawn" in rows
    alone = {r[0] for r in side_by_side(a, state_of(a), [("p", one)])}
    assert "Not alike besides: reference floor area" in alone and "Not alike besides: people" not in alone


def test_a_standing_charge_is_saved_where_a_carrier_is_given_up() -> None:
    """By hand: what is saved with charges, less what is saved without, is the charge of the carrier that is no longer used."""
    home = demo_home("weir-cottage")
    pump = next(r for r in at_hand(made(home)) if r.kind == "heat source").upgrade("pump")
    logs = up("logs-first", *(SetValue(part=s.id, field="heating_share", value=g(float(s.id == home.sources[0].id))) for s in home.sources))
    gas = next(c for c in home.carriers if c.kind == "gas")
    option = Option(id="o", upgrades=("logs-first", "pump"))
    found = []
    for charge in (None, g(120.0)):
        carriers = tuple(replace(c, standing=charge) if c.id == gas.id else c for c in home.carriers)
        a = made(replace(home, carriers=carriers, upgrades=(logs, pump), options=(option,)))
        one = ladder(a, option, False)
        assert not any(r.why for r in one.rungs)
        found.append((one.money.saved_money, float(a.figures["energy_cost"].value), one.end.figures["energy_cost"]))  # type: ignore[arg-type]
    used = any(k[1] == gas.id and (v or 0) > 0 for k, v in one.end.energy.items())
    assert not used and found[1][0] - found[0][0] == pytest.approx(120.0)  # type: ignore[operator]
    assert found[1][1] - found[0][1] == pytest.approx(120.0) and found[1][2] == pytest.approx(found[0][2])
    assert (
        cost_of(Upgrade(id="u", cost=g(12), per="m", amount=g(30)), 1, 1) == 360
        and cost_of(Upgrade(id="u", cost=g(12), per="m"), 1, 1) is None
    )


def test_savings_in_energy_money_and_co2_add_up_by_hand() -> None:
    """All in money is what the ladder saves in the first year; CO₂ and money of each carrier are its energy times its factor and price."""
    home = demo_home("weir-cottage")
    home = replace(
        home,
        carriers=tuple(replace(c, billed="kWh", price=g(0.25 if c.kind == "electricity" else 0.08), standing=g(90)) for c in home.carriers),
    )
    pump = next(r for r in at_hand(made(home)) if r.kind == "heat source").upgrade("pump")
    option = Option(id="o", upgrades=("pump",))
    a = made(replace(home, upgrades=(pump,), options=(option,)))
    one = ladder(a, option, False)
    assert one.home is not None
    rows = {r[0]: r[1:] for r in saved_rows(a, "o", one)}

    def number(words: str) -> float:
        kept = "".join(c for c in words.replace("−", "-") if c in "-.0123456789")
        return float(kept)

    moves = {k: (one.end.energy.get(k) or 0.0) - (one.base.energy.get(k) or 0.0) for k in one.base.energy | one.end.energy}
    carriers = {c.id: c for c in one.home.carriers}
    assert number(rows["All"][1]) == pytest.approx(-one.money.saved_money, abs=1)  # type: ignore[operator]
    assert number(rows["All"][0]) == pytest.approx(-one.money.saved_energy, abs=1)  # type: ignore[operator]
    assert number(rows["All"][2]) == pytest.approx(sum(m * carriers[k[1]].co2.value for k, m in moves.items() if abs(m) > 1e-9), abs=1)  # type: ignore[union-attr]
    given_up = [c for c in carriers.values() if uses(one.base, c.id) and not uses(one.end, c.id)]
    for c in carriers.values():
        of = sum(m for k, m in moves.items() if k[1] == c.id)
        if abs(of) > 1 and c.name in rows:
            standing = 90 * (uses(one.end, c.id) - uses(one.base, c.id))
            assert number(rows[c.name][1]) == pytest.approx(of * c.price.value + standing, abs=1)  # type: ignore[union-attr]
            assert number(rows[c.name][2]) == pytest.approx(of * c.co2.value, abs=1)  # type: ignore[union-attr]
    assert rows["Heating"][1].startswith("−") and given_up is not None
    without = replace(a.home, carriers=tuple(replace(c, price=None) for c in a.home.carriers))
    b = made(without)
    unknown = {r[0]: r[1:] for r in saved_rows(b, "o", ladder(b, option, False))}
    assert unknown["All"][1] == "?" and unknown["All"][0] == rows["All"][0] and unknown["Hot water"][1] in ("0", "?")


def test_an_axis_is_round_in_the_unit_shown() -> None:
    with using("inch-pound"):
        low, high = ends(0.0, 335.0, "specific_energy")
        shown = [float(show(low + (high - low) * n / 4, "specific_energy")) for n in range(5)]
    assert low == 0 and high >= 335 and shown == [0, 30, 60, 90, 120]
    assert ends(0.0, 335.0, "specific_energy") == ends(0.0, 335.0) == (0.0, 400.0)


def test_a_hundred_upgrades_are_a_ladder() -> None:
    home = simple_home()
    rows = tuple(up(f"u{n}", SetValue(part="wall.1", field="thickness", value=g(0.2 + n / 1000)), cost=g(10)) for n in range(1, 101))
    option = Option(id="o", upgrades=tuple(u.id for u in rows))
    a = made(replace(home, upgrades=rows, options=(option,)))
    one = ladder(a, option, False)
    assert len(one.rungs) == 100 and one.money.cost == 1000 and not any(r.why for r in one.rungs)
    assert ladder_drawing(a, {"o": one}, "o", "heating_demand", (800, 400)).items


# shown


def test_steps_and_options_side_by_side(osier_with: Assessment) -> None:
    one = ladder(osier_with, osier_with.home.options[0])
    cells = step_cells(one.rungs[0], "heating_demand", osier_with.home)
    assert cells[0] == "wall" and cells[7].startswith("−")
    rows = {r[0]: r for r in side_by_side(osier_with, one.base, [("All three", one)])}
    assert rows["Hot water, kWh/a"][1] == rows["Hot water, kWh/a"][2] != ""
    assert "(−" in rows["Heating, kWh/a"][2]
    standing = next(r for n, r in rows.items() if n.endswith("Airtightness"))
    in_money = {r[0]: r for r in side_by_side(osier_with, one.base, [("All three", one)], "money")}
    assert "(−£" in in_money["Heating, kWh/a"][2] and "(" not in in_money["Heating, kWh/a"][1] + in_money["Hot water, kWh/a"][2]
    assert standing[1:] == ("over", "inside")
    drawn = ladder_drawing(osier_with, {"o": one}, "o", "heating_demand", (800, 400), "seal")
    words = " ".join(getattr(i, "text", "") for i in drawn.items)
    assert "wall −" in words and "as it is" in words and "15" in words
    bare = ladder_drawing(osier_with, {}, "", "heating_demand", (800, 400))
    assert any("No ladder yet" in getattr(i, "text", "") for i in bare.items)
    sheet = steps_sheet(osier_with, [one], "heating_demand")
    assert len(sheet.rows) == 3 and sheet.rows[0][1] == "wall"


def test_the_dossier_has_the_options_that_are_put_in(osier_with: Assessment) -> None:
    page = to_html(osier_with)
    assert ">Options</h2>" in page and "All three" in page and "Side by side" in page
    assert ">Options</h2>" not in to_html(made(demo_home("osier-lane-7")))


def test_the_command_line(capsys: pytest.CaptureFixture[str]) -> None:
    assert cli.main(["options", "weir-cottage", "--option", "To the fund", "--json"]) == 1
    data = json.loads(capsys.readouterr().out)["options"][0]
    assert data["option"] == "To the fund" and len(data["upgrades"]) == 7
    steps = sum(u["in_order"]["heating_demand"] for u in data["upgrades"])
    assert data["end"]["heating_demand"] == pytest.approx(data["base"]["heating_demand"] + steps)
    fund = {t["target"]: t["standing"] for t in data["targets"] if t["set"] == "Marrowby Harbour Fund"}
    assert "over" not in fund.values(), "the fund is met"
    assert cli.main(["check", "weir-cottage", "--option", "To the fund", "--json"]) == 1
    checked = json.loads(capsys.readouterr().out)
    assert checked["figures"]["heating_demand"]["value"] == pytest.approx(data["end"]["heating_demand"], rel=1e-9)
    assert cli.main(["options", "weir-cottage", "--option", "To the fund", "--cheapest", "Marrowby Harbour Fund", "--most", "2"]) == 1
    assert "no set meets it" in capsys.readouterr().out
    assert cli.main(["options", "sail-loft", "--gap", "Residential code · Envelope trade-off", "--json"]) in (0, 1, 3)
    assert json.loads(capsys.readouterr().out)["gap"], "a home without options may be asked what would close its gap"
    for arguments, says in (
        (["weir-cottage", "--chance", "x"], "no target"),
        (["weir-cottage", "--option", "x"], "no option “x”"),
        (["sail-loft"], "has no options"),
        (["weir-cottage", "--gap", "x"], "no target"),
    ):
        assert cli.main(["options", *arguments]) == 2
        assert says in capsys.readouterr().err


def test_a_base_that_changes_takes_its_options_along(osier_with: Assessment) -> None:
    """The same option on a home with other windows: its end is that home edited by hand."""
    other = apply(SetValue(part="household", field="simple_gains", value=g(3.0)), osier_with.home)
    b = assess(other, osier_with.climate, osier_with)
    one = ladder(b, other.options[0], effects=False)
    by_hand = made(home_with(other, other.options[0]))
    assert one.end.figures["heating_demand"] == pytest.approx(float(by_hand.figures["heating_demand"].value))  # type: ignore[arg-type]
    assert changed(one.base).figures["heating_demand"] == pytest.approx(float(b.figures["heating_demand"].value))  # type: ignore[arg-type]


def test_without_prices_the_rest_is_still_compared() -> None:
    home = simple_home()
    priced = replace(home, carriers=tuple(replace(c, price=None) for c in home.carriers))
    u = up("u", SetValue(part="air", field="n50", value=Given(value=0.3, basis=Basis.ASSUMED)), cost=g(100))
    a = made(replace(priced, upgrades=(u,), options=(Option(id="o", upgrades=("u",)),)))
    one = ladder(a, a.home.options[0])
    assert one.money.cost == 100 and one.money.present is None and one.rungs[0].ordered["heating_demand"] is not None
    kept = made(replace(home, upgrades=(u,), options=(Option(id="o", upgrades=("u",)),)))
    assert one.money.saved_money is None, "not zero"
    assert one.money.saved_energy == pytest.approx(ladder(kept, kept.home.options[0]).money.saved_energy) != 0
    assert step_cells(one.rungs[0], "heating_demand", a.home)[3:5] == ("?", "?")


def test_a_use_that_is_not_known_leaves_the_saving_unknown() -> None:
    """A source without its efficiency: no saving is shown, least of all 0."""
    home = simple_home()
    lacking = replace(home, sources=tuple(replace(s, efficiency=None) for s in home.sources))
    u = up("u", SetValue(part="air", field="n50", value=g(0.3)), cost=g(100))
    a = made(replace(lacking, upgrades=(u,), options=(Option(id="o", upgrades=("u",)),)))
    one = ladder(a, a.home.options[0])
    assert one.money.saved_energy is None and one.money.per_kwh is None
    assert step_cells(one.rungs[0], "heating_demand", a.home)[2:6] == ("?", "?", "?", "?")
