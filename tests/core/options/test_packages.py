"""The cheapest set against brute force written here; two levers together against whole assessments."""

from __future__ import annotations

from itertools import chain, combinations

import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import Change, Insert, SetValue, apply
from nuthatch.core.climate.library import climate_for
from nuthatch.core.model.home import Home, Layer
from nuthatch.core.model.options import Upgrade
from nuthatch.core.model.part import Given, replace
from nuthatch.core.model.target_set import Target, TargetSet, Way
from nuthatch.core.options import beside
from nuthatch.core.options.applied import written
from nuthatch.core.options.gap import narrowed_to, ratio_of
from nuthatch.core.options.packages import Package, Within, best_of, cheapest, costs
from nuthatch.core.options.pairs import curve, joined, names_of
from nuthatch.core.workers import Worker
from tests.simple_home import g, simple_home

KEY = ("own", "Heating")


def made(home: Home) -> Assessment:
    return assess(home, climate_for(home, None))


def thick(part: str, metres: float) -> SetValue:
    return SetValue(part=part, field="thickness", value=g(metres))


CHANGES: dict[str, tuple[Change, ...]] = {
    "wall": (thick("wall.1", 0.3),),
    "roof": (thick("roof.1", 0.45),),
    "slab": (thick("slab.1", 0.25),),
    "seal": (SetValue(part="air", field="n50", value=g(0.3)),),
    "glass": (SetValue(part="window", field="glass_u", value=g(0.5)),),
    "board": (
        Insert(owner="wall", field="layers", index=0, value=Layer(id="board", name="Board", thickness=g(0.04), conductivity=g(0.04))),
    ),
    "better board": (SetValue(part="board", field="conductivity", value=g(0.022)),),
    "worse": (SetValue(part="window", field="glass_u", value=g(1.1)),),
}
COSTS = {
    "wall": 9000.0,
    "roof": 5000.0,
    "slab": 7000.0,
    "seal": 2500.0,
    "glass": 4000.0,
    "board": 3000.0,
    "better board": 700.0,
    "worse": -800.0,
}


def upgrades() -> tuple[Upgrade, ...]:
    return tuple(
        Upgrade(id="u-" + n.replace(" ", "-"), name=n, cost=g(COSTS[n]), changes=tuple(written(c) for c in CHANGES[n])) for n in CHANGES
    )


@pytest.fixture(scope="module")
def home() -> Home:
    plain = simple_home()
    demand = float(made(plain).figures["heating_demand"].value)  # type: ignore[arg-type]
    own = TargetSet(id="own", name="Own", source="these tests", targets=(Target(id="own.h", name="Heating", ways=(Way(figure="heating_demand", limit=round(demand - 9.0, 3)),)),))  # fmt: skip
    return replace(plain, target_sets=(own,), upgrades=upgrades())


@pytest.fixture(scope="module")
def a(home: Home) -> Assessment:
    return made(home)


@pytest.fixture(scope="module")
def every(home: Home) -> list[tuple[float, tuple[str, ...], float]]:
    """(cost, names, heating demand) of every set that can be put, edited by hand and assessed from nothing."""
    found = []
    names = list(CHANGES)
    for some in chain.from_iterable(combinations(names, k) for k in range(len(names) + 1)):
        if "better board" in some and "board" not in some:
            continue
        at = replace(home, upgrades=())
        for name in some:
            for change in CHANGES[name]:
                at = apply(change, at)
        found.append((sum(COSTS[n] for n in some), some, float(made(at).figures["heating_demand"].value)))  # type: ignore[arg-type]
    return found


@pytest.mark.parametrize("within", [Within(), Within(most=2), Within(budget=6500.0), Within(budget=3000.0), Within(most=1, budget=8000.0)])
def test_the_cheapest_set_is_that_of_brute_force(a: Assessment, every: list, within: Within) -> None:
    limit = a.home.target_sets[0].targets[0].ways[0].limit
    able = [e for e in every if len(e[1]) <= (within.most or 99) and e[0] <= (within.budget or 1e9)]
    meets = [e for e in able if e[2] <= limit]
    found = cheapest(a, a.home.upgrades, KEY, within)
    assert found.exhaustive and not found.without
    if meets:
        best = min(meets, key=lambda e: e[0])
        assert found.met and found.cost == pytest.approx(best[0]) and found.margin <= 0
        assert found.margin == pytest.approx(best[2] / limit - 1, abs=1e-9)
    else:
        nearest = min((e for e in able if e[1]), key=lambda e: e[2])
        assert not found.met and found.margin == pytest.approx(nearest[2] / limit - 1, abs=1e-9)
    parts = [cheapest(a, a.home.upgrades, KEY, within, (n, 3)) for n in range(3)]
    assert best_of(parts).cost == pytest.approx(found.cost) and best_of(parts).met is found.met


def test_brute_force_knows_sets_that_meet_it_and_that_do_not(a: Assessment, every: list) -> None:
    limit = a.home.target_sets[0].targets[0].ways[0].limit
    assert 3 < sum(e[2] <= limit for e in every) < len(every) - 3 and len(every) == 192


def test_what_has_no_cost_is_left_out_and_what_is_met_costs_nothing(a: Assessment) -> None:
    rows = tuple(replace(u, cost=None) if u.id == "u-wall" else u for u in a.home.upgrades)
    assert costs(a, rows)["u-wall"] is None
    found = cheapest(a, rows, KEY)
    assert found.without == ("u-wall",)
    easy = replace(a.home, target_sets=(replace(a.home.target_sets[0], targets=(replace(a.home.target_sets[0].targets[0], ways=(Way(figure="heating_demand", limit=900.0),)),)),))  # fmt: skip
    none = cheapest(made(easy), rows, KEY)
    assert none.met and none.upgrades == () and none.cost == 0
    assert cheapest(a, (), KEY).met is False


def test_above_sixteen_it_is_a_search_and_says_so(a: Assessment, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("nuthatch.core.options.packages.MOST_WHOLE", 4)
    found = cheapest(a, a.home.upgrades, KEY)
    assert not found.exhaustive and found.met and found.tried < 60 and found.upgrades
    monkeypatch.undo()
    assert found.cost >= cheapest(a, a.home.upgrades, KEY).cost - 1e-9


def test_two_levers_meet_the_target_at_every_point_of_their_curve(a: Assessment) -> None:
    known = dict(names_of(a))
    assert {"wall.1", "air.n50"} <= known.keys()
    one = curve(a, KEY, "wall.1", "air.n50")
    assert one.names == (known["wall.1"], known["air.n50"]) and len(one.points) == 10
    on = [p for p in one.points if p.second is not None]
    assert len(on) >= 4 and on[0].second < on[1].second, "a thicker wall leaves more air, until it takes floor area"  # type: ignore[operator]
    for p in on:
        at = a.home
        for change in (thick("wall.1", p.first), SetValue(part="air", field="n50", value=Given(value=p.second or 0.0))):
            at = apply(change, at)
        assert ratio_of(made(at).verdicts, KEY) == pytest.approx(0.0, abs=1e-3)
        kept = apply_all(a.home, p.changes)
        assert ratio_of(made(kept).verdicts, KEY) == pytest.approx(0.0, abs=1e-3)
    parts = tuple(curve(a, KEY, "wall.1", "air.n50", (n, 2)) for n in range(2))
    assert [(p.first, p.second) for p in joined(parts).points] == [(p.first, p.second) for p in one.points]
    assert {p.met for p in one.points if p.second is None} <= {True, False}


def apply_all(home: Home, changes: tuple) -> Home:
    from nuthatch.core.options.applied import put

    return put(home, Upgrade(id="x", changes=changes)).home


def test_only_the_target_that_is_asked_for_is_judged(a: Assessment) -> None:
    both = replace(a.home, target_sets=(*a.home.target_sets, simple_home().target_sets[0]))
    narrow = narrowed_to(made(both), KEY)
    assert [v.name for v in narrow.verdicts] == ["Heating"] and ratio_of(narrow.verdicts, KEY) == pytest.approx(ratio_of(a.verdicts, KEY))


def test_a_question_is_parted_between_two_processes(a: Assessment) -> None:
    workers, far = (Worker(), Worker()), []
    try:
        arguments = {"home": a.home, "climate": a.state.climate, "key": KEY, "within": Within()}
        found: tuple[Package, ...] = beside.in_two(workers, beside.package, arguments, far.append)
        assert best_of(found).cost == pytest.approx(cheapest(a, a.home.upgrades, KEY).cost) and far and max(far) <= 1
        with pytest.raises(KeyError):
            beside.in_two(workers, beside.pair, {"home": a.home, "climate": a.state.climate, "key": KEY, "levers": ("x", "y")}, far.append)
    finally:
        for w in workers:
            w.stop()
