"""Build-ups and openings as a step: starter envelopes, edits, moisture of a home, what is usual, net gains, the ledger, the dossier's sheets."""

from __future__ import annotations

import json

import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import ChangeRefused, SetValue, apply
from nuthatch.core.climate.library import climate_for
from nuthatch.core.dossier.report import Made, as_page
from nuthatch.core.edits.fabric_edits import enveloped, is_assumed, layer_beside, preview, roofs_of, swapped, users_of
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.exchange.own_sets import read_set
from nuthatch.core.fabric import envelopes
from nuthatch.core.fabric.moisture_stages import VAPOUR
from nuthatch.core.fabric.plausible import usual_u
from nuthatch.core.fabric.vapour import sd_node, verdict
from nuthatch.core.files.homefile import home_from_json
from nuthatch.core.library import demo_home, materials, new_home
from nuthatch.core.model.home import BuildUp, EvidenceFile, Home, Layer, find
from nuthatch.core.model.part import Basis, Given, replace
from nuthatch.core.results.figure import Unknown
from nuthatch.core.sketch import Path, Text
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.views.balance.gains import gains, glazing, room_of
from nuthatch.core.views.build_ups.section import MONTHS, Seen, moisture_year, section, use_in, vapour_of
from nuthatch.core.views.ledger import entries, heaviest_first, margins, tries, weigh, with_basis, with_sheet
from nuthatch.core.views.shape.facade import facade
from tests.plan_home import plan_home
from tests.simple_home import g, layer, simple_home
from tests.undetailed import at_rest

CLIMATE = climate_for(simple_home(), None)


def made(home: Home) -> Assessment:
    return assess(home, CLIMATE)


# the library


def test_the_library_has_many_materials_with_all_their_values() -> None:
    rows = materials()
    assert len(rows) >= 80 and len({r["name"] for r in rows}) == len(rows)
    for r in rows:
        assert r["conductivity"] > 0 and r["density"] > 0 and r["specific_heat"] > 0 and r["mu"] >= 1 and r["source"], r["name"]


def test_every_starter_envelope_is_whole_assumed_and_better_with_its_period() -> None:
    """Each wall, roof, floor has a U; a later period is never worse; colder climates are insulated more."""
    for structure in envelopes.structures():
        last: dict[str, float] = {}
        for period in envelopes.periods(structure):
            e = envelopes.envelope(structure, period, "mixed")
            assert set(e.buildups) == set(envelopes.ROLES) and all(map(is_assumed, (*e.buildups.values(), *e.types.values())))
            for role in ("wall", "roof", "floor"):
                u = float(usual_of(e.buildups[role], role))
                assert u <= last.get(role, 9.0) * 1.001, (structure, period, role)
                last[role] = u
        cold, warm = (envelopes.envelope(structure, "current code", c) for c in ("cold", "warm"))
        assert usual_of(cold.buildups["wall"], "wall") < usual_of(warm.buildups["wall"], "wall")
    with pytest.raises(KeyError):
        envelopes.envelope("concrete", "before 1920", "mixed")
    assert [envelopes.climate_of(z) for z in ("1A", "5C", "7", "")] == ["warm", "mixed", "cold", "mixed"]


def usual_of(build: BuildUp, role: str) -> float:
    from nuthatch.core.fabric.buildup import transmittance

    value = transmittance(build, {"wall": "across", "roof": "up", "floor": "down"}[role], "outside air").value
    assert value is not None, build.name
    return float(value)


def test_an_envelope_leaves_what_was_entered_or_measured() -> None:
    """Weir Cottage: brick, floor and lining are measured and stay; what is assumed throughout goes."""
    home = demo_home("weir-cottage")
    e = envelopes.envelope("masonry", "low energy", "mixed")
    after = apply(enveloped(home, e), home)
    kept = {b.id for b in home.buildups if not is_assumed(b) and users_of(home, b.id)}
    assert kept and all(users_of(after, ident) == users_of(home, ident) for ident in kept)
    assert [b for b in after.buildups if b.id in kept] == [b for b in home.buildups if b.id in kept]
    offers = preview(assess(home, climate_for(home, None)), e)
    faces = {x.id: x for x in offers}
    assert any(o.kept and o.now == o.then for o in offers) and any(not o.kept and o.then is not None and o.then != o.now for o in offers)
    now = {x.id: x.u.value for x in assess(after, climate_for(home, None))[ELEMENTS] if x.u is not None and x.id in faces}
    assert all(now[k] == pytest.approx(o.then) for k, o in faces.items() if o.then is not None)


def test_an_opening_without_a_type_in_a_roof_gets_a_roof_window() -> None:
    home = demo_home("sail-loft")
    home = replace(home, openings=tuple(replace(o, type="") for o in home.openings))
    a = assess(home, climate_for(home, None))
    e = envelopes.envelope("masonry", "2000s", "mixed")
    kinds = {o.name: o.type.rpartition("-")[2] for o in apply(enveloped(home, e, roofs_of(a)), home).openings}
    tilts = {o.name: next(f.tilt for f in a[SOLID].boundaries if f.id == o.face) for o in home.openings}
    assert set(kinds.values()) == {"window", "rooflight"} and {n for n, k in kinds.items() if k == "rooflight"} == {
        n for n, t in tilts.items() if t < 60
    }


def test_an_envelope_on_an_empty_home_and_on_one_that_is_all_entered() -> None:
    empty = new_home()
    begun = apply(enveloped(empty, envelopes.envelope("masonry", "2000s", "mixed")), empty)
    assert begun.shape.form is not None and begun.shape.form.wall_buildup == "starter-m-3m-wall" and len(begun.buildups) >= 3
    drawn = plan_home()
    assert drawn.shape.plans is not None
    bare = replace(drawn, buildups=(), shape=replace(drawn.shape, plans=replace(drawn.shape.plans, **{
        n: "" for n in type(drawn.shape.plans).model_fields if n.endswith("_buildup") or n in ("loft_roof", "loft_gable")
    })))  # fmt: skip
    after = apply(enveloped(bare, envelopes.envelope("masonry", "2000s", "mixed")), bare)
    us = {e.id: e.u.value for e in made(after)[ELEMENTS] if e.u is not None and e.category != "openings"}
    assert us["low.a"] == us["up.a"] and us["low.a"] is not None and 0.2 < us["low.a"] < 0.3
    assert after.openings[0].type == drawn.openings[0].type, "a declared window stays"
    with pytest.raises(ChangeRefused):
        enveloped(after, envelopes.envelope("masonry", "2000s", "mixed"))


def test_a_roof_window_with_the_u_of_upright_glass_is_asked_about() -> None:
    """Osier's roof window says that its U holds at 45°, as it stands; without that it is that of upright glass."""
    home = demo_home("osier-lane-7")

    def asked(home: Home) -> list[str]:
        return [q.says for q in assess(home, climate_for(home, None)).questions if q.field == "u_tilt"]

    def with_type(**changes: object) -> Home:
        return replace(home, opening_types=tuple(replace(t, **changes) if t.id == "roof-window" else t for t in home.opening_types))

    assert not asked(home)
    assert len(asked(with_type(u_tilt=None))) == 1 and asked(with_type(u_tilt=g(20))) and not asked(with_type(u_tilt=g(35)))
    assert asked(with_type(u_tilt=None, entry="whole window", whole_u=g(1.1), whole_solar=g(0.4)))
    assert not asked(with_type(u_tilt=None, glass_from="panes and gaps", pane=g(0.004), gap=g(0.016))), "EN 673 follows the slope"
    assert len(asked(with_type(u_tilt=None, use="window"))) == 1, "by the slope it stands in, not by the word of its type"


# edits


def test_a_build_up_is_swapped_everywhere_it_is_used() -> None:
    home = demo_home("weir-cottage")
    users = users_of(home, "brick-wall")
    assert len(users) >= 2
    after = apply(swapped(home, "brick-wall", "brick-inside"), home)
    assert not users_of(after, "brick-wall") and set(users) <= set(users_of(after, "brick-inside"))
    for old, new in (("brick-wall", "brick-wall"), ("brick-wall", "gone"), ("nobody", "brick-wall")):
        with pytest.raises(ChangeRefused):
            swapped(home, old, new)


def test_a_layer_is_put_between() -> None:
    home = simple_home()
    after = apply(layer_beside(home, "wall", "wall.1"), home)
    assert [row.name for row in after.buildups[0].layers] == ["wall.1", "New layer", "wall.2"]
    assert apply(layer_beside(home, "wall", ""), home).buildups[0].layers[-1].name == "New layer"


def test_joined_sides_of_former_homes_become_sides() -> None:
    raw = json.loads(json.dumps(simple_home().model_dump(mode="json", exclude_defaults=True)))
    for n, joined in enumerate((1, 2)):
        raw["openings"][n]["joined_sides"] = {"value": joined, "basis": "declared"}
    home = home_from_json(json.dumps({"nuthatch": "home", "schema": 4, "home": raw}).encode())
    assert [(o.left, o.right) for o in home.openings[:2]] == [("a wall", "another opening"), ("another opening", "another opening")]


# moisture


def lined(mu_inside: float = 1.0) -> Home:
    """The simple home with brick outside and wool inside of it."""
    brick = replace(layer("b", 240, 0.77, 1700, 1000), mu=g(16))
    wool = replace(layer("w", 120, 0.035, 30, 1030), mu=g(1))
    board = replace(layer("p", 12.5, 0.25, 700, 1000), mu=g(mu_inside))
    home = simple_home()
    wall = BuildUp(id="wall", name="Lined wall", layers=(brick, wool, board))
    others = tuple(replace(b, layers=tuple(replace(row, mu=g(50)) for row in b.layers)) if b.id == "roof" else b for b in home.buildups[1:])
    return replace(home, buildups=(wall, *others))


def test_a_wall_that_gathers_moisture_is_asked_about_by_name() -> None:
    a = made(lined())
    v = next(v for v in a.all_of(VAPOUR).values() if v is not None and v.buildup == "wall")
    assert v.year is not None and v.year.accumulates and v.year.wettest() == v.year.boundaries[1]
    asked = [q.text for q in a.questions if q.part == "wall"]
    assert len(asked) == 1 and "Moisture gathers in Lined wall" in asked[0] and "held up by b" in asked[0]
    assert a.figures["condensate_left"].value == pytest.approx(v.year.left) and "from year to year" in verdict(v)
    tight = made(lined(mu_inside=8000))
    assert tight.figures["condensate_peak"].value == 0 and not [q for q in tight.questions if q.part == "wall"]
    assert verdict(vapour_of(tight, tight.home.buildups[0])) == "dry all year"  # type: ignore[arg-type]


def test_damp_air_gathers_more_and_a_membrane_counts_by_its_sd() -> None:
    left = [
        float(made(apply(SetValue(part="household", field="humidity", value=c), lined())).figures["condensate_left"].value or 0)
        for c in "123"
    ]
    assert left[0] < left[1] < left[2]
    dry = made(apply(SetValue(part="household", field="indoor_humidity", value=g(0.3)), lined()))
    assert float(dry.figures["condensate_left"].value or 0) < left[2]
    film = apply(SetValue(part="p", field="sd", value=g(100)), lined())
    assert made(film).figures["condensate_peak"].value == 0
    unknown = made(apply(SetValue(part="b", field="mu", value=None), lined()))
    figure = unknown.figures["condensate_left"]
    assert figure.value is None and figure.needs[0].part == "b"  # type: ignore[union-attr]


def test_a_cold_surface_is_asked_about_with_both_numbers() -> None:
    """f_Rsi by hand: R 0.3 outside of the film 0.04: (0.04 + 0.3)/(0.04 + 0.3 + 0.25)."""
    home = simple_home()
    bare = replace(
        home, buildups=(BuildUp(id="wall", name="Bare", layers=(replace(layer("w", 300, 1.0, 2000, 1000), mu=g(10)),)), *home.buildups[1:])
    )
    a = made(bare)
    assert a.figures["surface_factor"].value == pytest.approx(0.34 / 0.59)
    asked = [q.text for q in a.questions if "mould" in q.text]
    assert len(asked) == 1 and "f_Rsi 0.58" in asked[0]
    assert not [q for q in made(home).questions if "mould" in q.text]


def test_a_target_set_may_hold_lines_on_comfort_and_moisture() -> None:
    text = json.dumps({
        "id": "dry", "name": "Dry", "source": "test", "targets": [
            {"id": "d1", "name": "Surfaces", "ways": [{"figure": "surface_factor", "sense": "min", "limit": 0.7}]},
            {"id": "d2", "name": "No condensate", "ways": [{"figure": "condensate_left", "limit": 0}]},
            {"id": "d3", "name": "Windows", "ways": [{"figure": "installed_window_u", "limit": "0.85 W/(m²·K)"}]},
        ],
    })  # fmt: skip
    home = replace(lined(), target_sets=(read_set(text.encode()),))
    a = made(home)
    standing = {v.name: v.standing for v in a.verdicts}
    assert standing == {"Surfaces": "inside", "No condensate": "over", "Windows": "over"}
    worst = max(o.width.value * 0 + _installed(o) for o in home.openings if o.width)
    assert a.figures["installed_window_u"].value == pytest.approx(worst)


def _installed(o) -> float:  # type: ignore[no-untyped-def]
    w, h = o.width.value, o.height.value
    gw, gh = w - 0.2, h - 0.22
    u = (gw * gh * 0.7 + (w * h - gw * gh) * 1.0 + 2 * (gw + gh) * 0.03) / (w * h)
    return float(u + 0.02 * 2 * (w + h) / (w * h))


def test_the_section_shows_the_vapour_of_a_month_and_parts_of_r() -> None:
    a = made(lined())
    wall = a.home.buildups[0]
    use, _ = use_in(a, wall)
    plain = section(wall, use, Seen(-10.0, 20.0))
    shares = [i.text for i in plain.items if isinstance(i, Text) and i.text.endswith("%")]
    r = (0.24 / 0.77, 0.12 / 0.035, 0.0125 / 0.25)
    assert shares[:2] == [f"{100 * x / sum(r):.0f} %" for x in r[:2]]
    wet = section(wall, use, Seen(vapour=vapour_of(a, wall)))
    hatched = [i for i in wet.items if isinstance(i, Path) and i.pattern == "hatch"]
    edge = next(c for c in wet.carries if c[0] == "w")[1]
    assert len(hatched) == 1 and sum(p[0] for p in hatched[0].points) / 4 == pytest.approx(edge), "where brick and wool meet"
    july = section(wall, use, Seen(vapour=vapour_of(a, wall), month=6))
    assert any(isinstance(i, Text) and i.text.startswith("July · ") for i in july.items)
    year = moisture_year(a, wall)
    assert {i.text for i in year.items if isinstance(i, Text)} >= set(MONTHS)


def test_an_air_layer_and_a_membrane_have_their_own_sd() -> None:
    """ISO 13788:2012, 5.1: 0.01 m for an air layer whatever its thickness; a membrane by its s_d; else μ·d."""
    air = Layer(id="a", kind="air layer", thickness=g(0.04))
    assert [sd_node(x).value for x in (air, Layer(id="m", sd=g(20), mu=g(3), thickness=g(0.1)))] == [0.01, 20]
    assert sd_node(Layer(id="s", mu=g(50), thickness=g(0.02))).value == pytest.approx(1.0)
    assert isinstance(sd_node(Layer(id="n", thickness=g(0.02))), Unknown)


# what is usual


def test_a_value_far_from_usual_is_asked_about_with_both_numbers() -> None:
    home = replace(simple_home(), brief=replace(simple_home().brief, project="new build"))
    assert not [q for q in made(home).questions if "usual" in q.text or "does not go" in q.text]
    low, high = usual_u("wall", "mixed", "new build")
    assert 0.08 < low < 0.2 < high < 0.4
    thin = apply(SetValue(part="wall.1", field="thickness", value=g(0.02)), home)
    asked = [q for q in made(thin).questions if "usual" in q.text]
    assert [q.part for q in asked] == ["wall"] and "far above" in asked[0].text and f"{high:.3f}" in asked[0].text
    old = replace(thin, brief=replace(thin.brief, project="retrofit"))
    assert not [q for q in made(old).questions if "usual" in q.text], "in an old house it is"
    glass = apply(SetValue(part="window", field="glass_g", value=g(0.85)), home)
    assert ["g 0.85 of Window does not go with its U_g" in q.text for q in made(glass).questions if q.part == "window"] == [True]
    spare = replace(glass, opening_types=(*home.opening_types, replace(glass.opening_types[0], id="spare")))
    assert "spare" not in {q.part for q in made(spare).questions}, "what nothing uses is not asked about"


# openings over the home


def test_net_gains_are_sorted_and_add_up_to_sun_less_loss() -> None:
    a = assess(demo_home("osier-lane-7"), climate_for(demo_home("osier-lane-7"), None))
    rows = gains(a)
    nets = [r.net for r in rows if r.net is not None]
    assert nets == sorted(nets, reverse=True) and len(rows) == len(a.home.openings)
    first = next(r for r in rows if r.id == "w-01")
    assert first.net == pytest.approx(first.sun - first.loss) and first.room.startswith("Living room")  # type: ignore[operator]
    element = next(e for e in a[ELEMENTS] if e.id == "w-01")
    assert first.installed == pytest.approx(float(element.loss.value) / float(element.area.value))  # type: ignore[arg-type, union-attr]
    assert first.effective_g == pytest.approx(0.5 * (2 * 1.04 * 2.0) / (2.4 * 2.25), rel=0.2)


def test_a_face_shows_how_its_openings_are_divided() -> None:
    home = demo_home("osier-lane-7")

    def lines(**counts: Given | None) -> int:
        changed = replace(home, openings=tuple(replace(o, **counts) if o.id == "w-01" else o for o in home.openings))
        return sum(isinstance(m, Path) for m in facade(assess(changed, climate_for(home, None)), home.openings[0].face).items)

    assert home.openings[0].id == "w-01"
    plain = lines(columns=None, rows=None, opens=None, panels=None)
    assert (lines(columns=g(2), rows=None), lines(columns=g(3), rows=g(2))) == (plain + 1, plain + 3)


def test_glass_to_floor_by_room_and_direction() -> None:
    """The house of the tests: W1 and W2 light the living room and the kitchen, by hand (1.2 − 0.2)·(1.2 − 0.22) of glass each."""
    a = made(plan_home())
    rooms = {x.what: x for x in glazing(a) if x.of == "room"}
    pane = 1.0 * 0.98
    assert rooms["Living, Ground floor"].glass == pytest.approx(pane), "W1"
    assert rooms["Study, Ground floor"].glass == pytest.approx(pane), "W4, in the west wall behind the living room"
    assert rooms["Living, Ground floor"].floor == pytest.approx(a_room(a, "ground.living"))
    assert room_of(a, find(a.home, "w-3")) == "Kitchen, Ground floor"  # type: ignore[arg-type]
    ways = {x.what: x.glass for x in glazing(a) if x.of == "direction"}
    assert sum(ways.values()) == pytest.approx(sum(x.glass for x in rooms.values())) and set(ways) <= {"south", "east", "west", "north"}


def a_room(a: Assessment, ident: str) -> float:
    from nuthatch.core.solid.built_stages import BUILT

    return next(r.area for r in a[BUILT].rooms if r.id == ident)  # type: ignore[union-attr]


# the ledger


def unsure(home: Home, *places: tuple[str, str]) -> Home:
    for part, name in places:
        given = getattr(find(home, part), name)
        home = apply(SetValue(part=part, field=name, value=given.model_copy(update={"basis": Basis.ASSUMED})), home)
    return home


def test_the_ledger_lists_what_is_not_known_and_weighs_it_by_the_tightest_margin() -> None:
    """A tenth more λ of the wall, by hand: the same home assessed with it."""
    home = unsure(simple_home(), ("wall.1", "conductivity"), ("window", "glass_g"), ("site", "heating_setpoint"))
    a = made(home)
    rows = {e.id: e for e in entries(home)}
    assert set(rows) == {"wall.1:conductivity", "window:glass_g", "site:heating_setpoint"}
    assert rows["wall.1:conductivity"].name == "wall.1, Wall" and rows["wall.1:conductivity"].used == "1 place"
    weights = {k: weigh(a, e) for k, e in rows.items()}
    base = margins(a)
    tight = heaviest_first(base, weights)
    worse = made(apply(SetValue(part="wall.1", field="conductivity", value=g(0.035 * 1.1)), home))
    heating = "Passive house, new · Heating"
    assert heating in base and weights["wall.1:conductivity"][heating].change == pytest.approx(margins(worse)[heating] - base[heating])
    assert weights["wall.1:conductivity"][heating].way == "10 % more" and weights["window:glass_g"][heating].way == "10 % less"
    assert [w for _, w in tries(rows["site:heating_setpoint"])] == ["1 K more", "1 K less"]
    assert tight in base and weights["wall.1:conductivity"][tight].change > 0
    nobody = replace(
        home, buildups=(*home.buildups, BuildUp(id="spare", name="Spare", layers=(Layer(id="s", conductivity=Given(value=1.0)),)))
    )
    spare = next(e for e in entries(nobody) if e.part == "s")
    assert spare.used == "nowhere" and weigh(made(nobody), spare) == {}


@pytest.mark.parametrize("name", ["osier-lane-7", "weir-cottage"])
def test_what_a_value_weighs_is_the_difference_of_two_whole_assessments(name: str) -> None:
    """The ledger works out only what the margins rest on; every thirteenth value of the demo homes is compared with all of it."""
    home = at_rest(demo_home(name))
    a = assess(home, climate_for(home, None))
    base = margins(a)
    for e in entries(home)[::13]:
        found = weigh(a, e)
        for target, weight in found.items():
            value = next(v for v, words in tries(e) if words == weight.way)
            other = apply(SetValue(part=e.part, field=e.field, value=e.given.model_copy(update={"value": value})), home)
            whole = margins(assess(other, a.climate, a))
            assert whole[target] - base[target] == pytest.approx(weight.change, abs=1e-12), (e.id, target)


def test_basis_and_a_sheet_for_many_at_once() -> None:
    home = unsure(simple_home(), ("wall.1", "conductivity"), ("wall.2", "conductivity"))
    rows = entries(home)
    after = apply(with_basis(home, rows, Basis.MEASURED), home)
    assert not entries(after)
    with pytest.raises(ChangeRefused):
        with_basis(after, rows, Basis.MEASURED)
    sheet = EvidenceFile(id="new", name="sheet.pdf", sha256="a" * 64, size=3)
    proven = apply(with_sheet(home, rows, sheet), home)
    assert len(proven.evidence) == 1 and all(e.given.files == (proven.evidence[0].id,) for e in entries(proven))
    with pytest.raises(ChangeRefused):
        with_sheet(proven, rows, sheet)


def test_the_dossier_has_sheets_of_u_and_moisture() -> None:
    home = demo_home("weir-cottage")
    page = as_page(assess(home, climate_for(home, None)), Made()).decode()
    osier = demo_home("osier-lane-7")
    assert "upper limit" in as_page(assess(osier, climate_for(osier, None)), Made()).decode()
    assert "Moisture (ISO 13788): gathers from year to year" in page and "over a day (ISO 13786)" in page and "Held at its end" in page
