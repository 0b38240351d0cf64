"""Results: re-evaluation from stated inputs, direction of every input, unknowns, identity, targets, command line."""

from __future__ import annotations

import json
import subprocess
import sys
from functools import lru_cache
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nuthatch import cli
from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import Batch, Insert, Remove, SetValue, apply, declared
from nuthatch.core.climate.library import climate_for
from nuthatch.core.edits.desk import share
from nuthatch.core.energy.sources import share_total
from nuthatch.core.energy.stages import BALANCE
from nuthatch.core.energy.use_stages import USES
from nuthatch.core.exchange.summary import as_data, as_text
from nuthatch.core.files.homefile import HomeFile, write
from nuthatch.core.library import DEMO, demo_home, library_climate, new_home, target_sets
from nuthatch.core.model.home import HeatSource, Home, Layer, find
from nuthatch.core.model.part import Given, replace, specs
from nuthatch.core.model.target_set import Case, Target, TargetSet, Way
from nuthatch.core.questions import standings
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import CannotKnow, Entered, Known, Unknown, leaves, missing, walk
from nuthatch.core.targets.verdict import Circumstances, judge, overall, tightest
from nuthatch.core.trials import figures_trial, trial
from tests.simple_home import g, simple_home
from tests.undetailed import undetailed


def nodes(a: Assessment) -> list[Known]:
    roots = tuple(f for f in (*a.figures.values(), *a.months.values()) if isinstance(f, Known))
    return [n for n in walk(roots) if isinstance(n, Known)]


@pytest.mark.parametrize("key", DEMO)
def test_every_result_of_the_demo_homes_comes_again_from_its_inputs(key: str, demo_assessments: dict[str, Assessment]) -> None:
    found = nodes(demo_assessments[key])
    assert len(found) > (200 if key == "osier-lane-7" else 40)
    for f in found:
        assert np.array_equal(np.asarray(f.again()), np.asarray(f.value)), f.label
        assert f.calc.formula and f.calc.clause and f.calc.function.__doc__ is not None, f.label


def test_a_tampered_result_would_be_noticed(osier_assessed: Assessment) -> None:
    f = osier_assessed.figures["heating_demand"]
    wrong = Known(f.label, f.value * 1.01, f.calc, f.inputs)
    assert wrong.again() != wrong.value


def test_heating_demand_opens_down_to_what_somebody_entered(osier_assessed: Assessment) -> None:
    found = list(leaves(osier_assessed.figures["heating_demand"]))
    assert len(found) > 150
    for leaf in found:
        assert isinstance(leaf, Entered) and leaf.basis in ("assumed", "declared", "calculated", "measured", "rule")
        if leaf.basis in ("assumed", "declared", "measured"):
            assert leaf.part and leaf.field and find(osier_assessed.home, leaf.part) is not None, leaf.label


# what more of an input does to heating demand per m² of this home: +1 raises, −1 lowers; from physics
DIRECTION = {
    1: "conductivity framing_conductivity framing_share frame_u glass_u edge_psi install_psi whole_u frame_side frame_top frame_bottom n50 diameter supply extract "
    "slab_edge_thickness heating_setpoint psi soil_conductivity pitch storey_height partition_share",  # a wider frame lets in less sun; a steeper roof and a higher storey add face, hardly floor
    -1: "thickness recovery glass_g shade_winter simple_gains insulation inner_mass soil_capacity density specific_heat content draws temperature bedrooms loss "
    "energy inside_share person_heat slab_edge_r slab_edge_depth depth storeys",  # losses of hot water stay inside; a deeper or higher home is more compact
}
IN_STEPS = {"floor_thickness"}  # moves the counted area only where a clear height crosses 2 m
EITHER = {"length", "width", "height", "count"}  # more opening loses more and lets in more sun; the length of a junction with negative ψ
SIGN = {name: sign for sign, names in DIRECTION.items() for name in names.split()}


def test_every_input_of_heating_demand_moves_it_the_right_way(form_assessed: Assessment) -> None:
    """Every entered value listed in the working of heating demand, raised a little one by one; gains as a lump, and itemised."""
    edged = SetValue(part="site", field="slab_edge_thickness", value=declared(0.1))
    itemised = SetValue(part="household", field="gains", value="itemised")
    home = apply(Batch(label="x", changes=(edged, itemised)), form_assessed.home)
    tried = moved_rightly(form_assessed) | moved_rightly(
        assess(home, form_assessed.climate), ("storeys", "depth")
    )  # a larger home spreads the same gains
    assert tried >= set(SIGN) | EITHER


def moved_rightly(a: Assessment, either: tuple[str, ...] = ()) -> set[str]:
    """The fields that moved heating demand, each the way it should."""
    base = a.figures["heating_demand"].value
    tried: set[str] = set()
    for leaf in leaves(a.figures["heating_demand"]):
        part = find(a.home, leaf.part) if leaf.part else None
        given_value = getattr(part, leaf.field, None) if part is not None else None
        if not isinstance(given_value, Given):
            continue
        assert leaf.field in SIGN or leaf.field in EITHER or leaf.field in ("opaque_share", "whole_solar", *IN_STEPS), (
            f"{leaf.field} is an input nobody thought of"
        )
        spec = specs(type(part))[leaf.field]
        more = given_value.value + (1 if spec.kind == "count" else abs(given_value.value) * 0.02)
        if more == given_value.value or spec.most is not None and more > spec.most:
            continue  # zero, or at its upper bound
        changed = apply(SetValue(part=leaf.part, field=leaf.field, value=declared(more)), a.home)
        after = figures_trial(a, changed, frozenset({"heating_demand"}))["heating_demand"].value
        if leaf.field in IN_STEPS:
            continue
        assert after != base, f"{leaf.label} is listed but does nothing"
        party = leaf.part.startswith("party-wall")  # lends its mass, and shrinks the rooms
        # of a layer that hardly insulates λ and d are felt by what it stores as well: ISO 13786 takes the wave into it
        stores = isinstance(part, Layer) and part.conductivity is not None and part.conductivity.value > 0.065
        if leaf.field in ("density", "specific_heat") and not party:
            assert after - base < 5e-5 * base, f"{leaf.label}: what stores does not cost, but for the phase of what lies behind insulation"
        elif leaf.field in SIGN and leaf.field not in either and not party and not (stores and leaf.field in ("conductivity", "thickness")):
            assert np.sign(after - base) == SIGN[leaf.field], f"{leaf.label}: {base} → {after}"
        tried.add(leaf.field)
    return tried


@settings(max_examples=25, deadline=None)
@given(st.sampled_from(["outer-wall.3", "pitched-roof.3", "slab.1", "outer-wall.2"]), st.floats(0.02, 0.6), st.floats(0.01, 0.3))
def test_thicker_insulation_never_raises_the_loss(part: str, thickness: float, more: float) -> None:
    a, key = undetailed_osier(), "transmission_loss_coefficient"
    values = [
        trial(a, [SetValue(part=part, field="thickness", value=declared(d))], frozenset({key})).figures[key].value
        for d in (thickness, thickness + more)
    ]
    assert values[1] < values[0]


@lru_cache(maxsize=1)
def undetailed_osier() -> Assessment:
    home = undetailed(demo_home("osier-lane-7"))
    return assess(home, climate_for(home, None))


def test_only_touched_stages_run_again(osier_assessed: Assessment) -> None:
    a = osier_assessed
    changed = apply(SetValue(part="w-01", field="width", value=declared(2.2)), a.home)
    after = assess(changed, a.climate, a)
    assert {"element of an opening/w-01", "sun through an opening/w-01", "net area/low.a", "element of a face/low.a"} <= set(after.ran)
    others = ("U-value", "slab/low.floor", "gross area", "solid", "hot water", "people", "sun on", "element of an opening/w-02")
    assert not [n for n in after.ran if n.startswith(others) or n.endswith("/low.c")]
    named = apply(SetValue(part="brief", field="client", value="Somebody"), a.home)
    assert assess(named, a.climate, a).ran == (), "a client's name runs nothing"
    assert assess(a.home, a.climate, a).ran == (), "nothing changed, nothing runs"


@pytest.mark.parametrize("key", DEMO)
def test_recomputing_step_by_step_equals_computing_anew(key: str) -> None:
    home = demo_home(key)
    climate = climate_for(home, None)
    a = assess(home, climate)
    assert home.shape.plans is not None
    corner = home.shape.plans.storeys[-1].outlines[0].sides[1].id
    steps = [
        SetValue(part="air", field="n50", value=declared(1.7)),
        SetValue(part=home.buildups[0].layers[0].id, field="thickness", value=declared(0.11)),
        SetValue(part=home.openings[0].id, field="height", value=declared(1.1)),
        SetValue(part="site", field="heating_setpoint", value=declared(21)),
        SetValue(part=corner, field="x", value=declared(7.7)),
        SetValue(part="site", field="climate", value=None),
    ]
    for step in steps:
        home = apply(step, home)
        now = climate if home.site.climate else None
        a = assess(home, now, a)
        fresh = assess(home, now)
        for name, f in fresh.figures.items():
            assert a.figures[name].value == f.value or a.figures[name].value == pytest.approx(f.value), name


MISSING = {
    "no climate": (SetValue(part="site", field="climate", value=None), "heating_demand", "a climate"),
    "no bedrooms": (SetValue(part="brief", field="bedrooms", value=None), "primary_energy", "bedrooms"),
    "no length": (SetValue(part="form", field="length", value=None), "heated_volume", "length"),
    "no n50": (SetValue(part="air", field="n50", value=None), "n50", "air change at 50 Pa"),
    "no storeys": (SetValue(part="form", field="storeys", value=None), "reference_floor_area", "storeys"),
    "no λ": (SetValue(part="outer-wall.2", field="conductivity", value=None), "ua_proposed", "conductivity of Wood-fibre board"),
    "no type": (SetValue(part="w-01", field="type", value=""), "heating_demand", "an opening type"),
    "no face": (SetValue(part="w-01", field="face", value="gone"), "heating_demand", "a face"),
    "no build-up": (Remove(part="outer-wall"), "transmission_loss_coefficient", "a build-up for"),
    "no layers": (SetValue(part="outer-wall", field="layers", value=()), "heating_demand", "layers of Outer wall"),
    "no source": (Remove(part="heat-pump"), "primary_energy", "a heat source"),
    "no carrier": (Remove(part="electricity"), "primary_energy", "an energy carrier"),
    "no efficiency": (SetValue(part="heat-pump", field="points", value=()), "co2", "efficiency"),
    "area 0": (SetValue(part="shape", field="measured_area", value={"value": 0.0}), "heating_demand", "a reference floor area above 0"),
    "walls too thick": (SetValue(part="form", field="length", value={"value": 0.5}), "reference_floor_area", "no room is left"),
    "no set-point": (SetValue(part="site", field="heating_setpoint", value=None), "heating_load", "heating set-point"),
    "no appliances": (SetValue(part="household", field="appliances", value=()), "primary_energy", "household electricity"),
    "window too large": (SetValue(part="w-01", field="width", value={"value": 29.0}), "heating_demand", "openings that fit"),
    "no way of the sheet": (SetValue(part="plans", field="north", value=None), "heated_volume", "where the top of the sheet looks to"),
    "no corner": (SetValue(part="low.b", field="x", value=None), "reference_floor_area", "the place of a corner"),
    "no pitch of the roof": (SetValue(part="main-roof", field="pitch", value=None), "envelope_area", "the pitch of Roof"),
    "no pitch": (SetValue(part="form", field="pitch", value=None), "envelope_area", "pitch"),
}


@pytest.mark.parametrize("case", list(MISSING))
def test_what_is_missing_is_unknown_and_says_what_it_needs(
    case: str, osier_assessed: Assessment, form_assessed: Assessment, tmp_path: Path
) -> None:
    change, key, need = MISSING[case]
    before = form_assessed if getattr(change, "part", "") == "form" else osier_assessed
    a = assess(apply(change, before.home), before.climate if case != "no climate" else None, before)
    found = a.figures[key]
    assert isinstance(found, Unknown) and any(need in n.text for n in found.needs), [n.text for n in getattr(found, "needs", ())]
    text = json.dumps(as_data(a), allow_nan=False)
    assert "Infinity" not in text and as_data(a)["figures"][key]["value"] is None and "not known" in as_text(a) or a.questions
    for n in nodes(a):
        assert np.isfinite(np.asarray(n.value, float)).all()


def test_nothing_but_a_name_is_a_home() -> None:
    a = assess(Home(name="Bare"), None)
    assert a.standing == "unknown" and all(isinstance(f, Unknown) or np.isfinite(f.value).all() for f in a.figures.values())
    empty = assess(new_home(), None)
    assert {q.step for q in empty.questions} >= {"brief", "site", "shape", "air", "household", "heat-power", "junctions"}
    assert standings(new_home(), empty.questions)["air"].questions == 1


def test_figures_refuse_what_is_not_finite() -> None:
    @calculation("Trial", "factor", "a / b", "test")
    def ratio(a: float, b: float) -> float:
        if b == 0:
            raise CannotKnow("b above 0")
        return a / b

    one = Entered("one", 1.0)
    assert ratio.figure(a=one, b=Entered("zero", 0.0)).needs[0].text == "b above 0"
    assert isinstance(ratio.figure(a=Entered("huge", float("inf")), b=one), Unknown)
    assert ratio.figure(a=one, b=missing("b", "factor", "b")).needs[0].text == "b"
    with pytest.raises(TypeError, match="no parameter"):
        calculation("Trial", "factor", "", "", c="C")(lambda a: a)


@calculation("Trial", "ach", "n", "test")
def _trial(value: float) -> float:
    """A value as it is."""
    return value


def judged(limit: Way, value: float | None) -> str:
    """Standing of one target with one way, n50 as given, q50 at 3.0, in zone 4 marine."""
    n50 = missing("n50", "ach", "a test") if value is None else _trial.figure(value=Entered("n50", value, "ach"))
    figures = {"n50": n50, "q50": _trial.figure(value=Entered("q50", 3.0, "ach"))}
    sets = (TargetSet(id="s", name="S", source="test", targets=(Target(id="t", name="T", ways=(limit,)),)),)
    found, _ = judge(sets, Circumstances("4C"), figures)
    return found[0].standing if found else "none"


def test_targets_hold_their_limits_exactly() -> None:
    assert judged(Way(figure="n50", limit=0.6), 0.6) == "inside" and judged(Way(figure="n50", limit=0.6), 0.6000001) == "over"
    assert (
        judged(Way(figure="n50", sense="min", limit=0.6), 0.5999) == "over"
        and judged(Way(figure="n50", sense="min", limit=0.6), 0.6) == "inside"
    )
    assert judged(Way(figure="n50", limit=0.6), None) == "unknown" and judged(Way(figure="nothing", limit=1), 1.0) == "unknown"
    assert judged(Way(figure="n50", cases=(Case(limit=0.5, zones=("5",)), Case(limit=9, zones=("4",)))), 0.6) == "over", (
        "marine 4 reads the row of 5"
    )
    assert (
        judged(Way(figure="n50", cases=(Case(limit=0.5, zones=("1",)),)), 0.6) == "none"
        and judged(Way(figure="n50", limit_figure="q50"), 2.9) == "inside"
    )


def test_one_way_is_enough_and_the_tightest_is_found(osier_assessed: Assessment) -> None:
    heating = osier_assessed.verdicts[0]
    assert len(heating.ways) == 2 and heating.standing == "inside"
    found = tightest(osier_assessed.verdicts)
    assert found is not None and found[1].key == "n50" and found[1].standing == "over", "ones that are over come first"
    summer = next(v for v in osier_assessed.verdicts if v.name == "Summer comfort")
    assert summer.standing == "inside" and summer.ways[0].value is not None, "a heat pump cools: the passive-house set can be judged whole"
    assert overall(osier_assessed.verdicts) == "over"
    assert "4.3 inside" in heating.ways[0].words() or "inside" in heating.ways[0].words()


def test_studio_counts_by_the_target_set(marrowby) -> None:
    home = apply(SetValue(part="brief", field="bedrooms", value=g(0)), simple_home())
    assert assess(home, marrowby).figures["people"].value == 1
    two = replace(target_sets()[0], studio_people=2)
    assert assess(replace(home, target_sets=(two,)), marrowby).figures["people"].value == 2


@settings(max_examples=50, deadline=None)
@given(st.lists(st.floats(0, 1), min_size=1, max_size=5), st.floats(0, 1), st.integers(0, 4))
def test_shares_always_total_one(shares: list[float], value: float, which: int) -> None:
    home = Home(sources=tuple(HeatSource(id=f"s{i}", heating_share=g(v)) for i, v in enumerate(shares)))
    after = apply(share(home, f"s{which % len(shares)}", "heating_share", value), home)
    assert share_total(after.sources, "heating_share") == pytest.approx(1.0)


def test_shares_that_do_not_total_are_a_question_and_leave_energy_unknown(osier_assessed: Assessment) -> None:
    home = apply(SetValue(part="heat-pump", field="heating_share", value=declared(0.8)), osier_assessed.home)
    a = assess(home, osier_assessed.climate)
    assert isinstance(a.figures["primary_energy"], Unknown) and any("80.0 %" in q.text for q in a.questions)


def test_questions_lead_to_a_field_that_exists(demo_assessments: dict[str, Assessment]) -> None:
    everything = [*demo_assessments.values(), assess(new_home(), None)]
    for a in everything:
        for q in a.questions:
            part = find(a.home, q.part)
            assert part is not None and q.field in type(part).model_fields, q
    osier = demo_assessments["osier-lane-7"]
    assert len(osier.questions) == 3, "one bedroom among them"
    assert sum(1 for v in osier.verdicts if v.standing == "over") == 1, "one target slightly missed"


def test_implausible_air_is_asked_about(osier_assessed: Assessment) -> None:
    home = apply(
        Batch(
            label="x",
            changes=(
                SetValue(part="unit", field="supply", value=declared(60)),
                SetValue(part="unit", field="recovery", value=declared(0.99)),
            ),
        ),
        osier_assessed.home,
    )
    texts = " ".join(q.text for q in assess(home, osier_assessed.climate).questions)
    assert "below the demand" in texts and "differ by more than 10" in texts and "implausible" in texts


def run(*arguments: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run([sys.executable, "-m", "nuthatch.cli", *arguments], capture_output=True, text=True, timeout=400)


@pytest.mark.parametrize(("key", "code"), [("osier-lane-7", 1), ("weir-cottage", 1), ("sail-loft", 1)])
def test_check_of_the_demo_homes(key: str, code: int, capsys: pytest.CaptureFixture[str]) -> None:
    assert cli.main(["check", key, "--json"]) == code
    out = json.loads(capsys.readouterr().out)
    assert set(out) == {
        "home",
        "schema",
        "figures",
        "months",
        "targets",
        "questions",
        "sets",
        "elements",
        "rooms",
        "edges",
        "junctions",
        "air_tests",
        "air_paths",
        "uses",
        "own_electricity",
    }
    for f in out["figures"].values():
        assert set(f) == {"value", "unit", "label", "needs"} and (f["value"] is not None or f["needs"])
    for months in out["months"].values():
        assert months is None or len(months) == 12
    for target in out["targets"]:
        assert set(target) - {"points"} == {"set", "name", "standing", "ways"} and all(
            set(w) == {"figure", "sense", "limit", "value", "unit", "standing"} for w in target["ways"]
        )
    keys = "reference_floor_area heated_volume transmission_loss_coefficient ventilation_loss_coefficient time_constant heating_demand cooling_demand heating_load n50 q50 primary_energy co2"
    assert set(keys.split()) | {"ua_proposed", "ua_limit", "overheating_share", "hot_water_demand"} <= set(out["figures"])


def test_exit_codes(tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch) -> None:
    easy = TargetSet(id="easy", name="Easy", source="test", targets=(Target(id="t", name="T", ways=(Way(figure="n50", limit=9),)),))
    weather = library_climate("marrowby-quay")
    write(tmp_path / "good.nuthatch", HomeFile(replace(simple_home(), target_sets=(easy,)), weather))
    write(
        tmp_path / "early.nuthatch",
        HomeFile(apply(SetValue(part="air", field="n50", value=None), replace(simple_home(), target_sets=(easy,))), weather),
    )
    (tmp_path / "bad.nuthatch").write_text("nothing")
    (tmp_path / "bad.epw").write_text("nothing")
    assert cli.main(["check", str(tmp_path / "good.nuthatch")]) == 0
    assert cli.main(["check", str(tmp_path / "early.nuthatch")]) == 3
    capsys.readouterr()
    for arguments in (
        ["check", str(tmp_path / "bad.nuthatch")],
        ["check"],
        ["check", "osier-lane-7", "--nonsense"],
        ["check", "osier-lane-7", "--climate", str(tmp_path / "bad.epw")],
        ["check", "osier-lane-7", "--climate", "nowhere.epw"],
        ["--step", "attic"],
        ["check", "osier-lane-7", "--dossier", str(tmp_path / "no" / "x.pdf")],
    ):
        assert cli.main(arguments) == 2, arguments
        error = capsys.readouterr().err
        assert error.count("\n") == 1 and error.startswith("nuthatch: "), error
    monkeypatch.setattr("nuthatch.core.assess.assess", lambda *_: 1 / 0)
    assert cli.main(["check", "osier-lane-7"]) == 70


def test_another_climate_changes_the_answer(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    (tmp_path / "fell.epw").write_bytes(library_climate("hallin-fell"))
    cli.main(["check", "osier-lane-7", "--json"])
    mild = json.loads(capsys.readouterr().out)["figures"]["heating_demand"]["value"]
    cli.main(["check", "osier-lane-7", "--json", "--climate", str(tmp_path / "fell.epw")])
    assert json.loads(capsys.readouterr().out)["figures"]["heating_demand"]["value"] > 1.4 * mild


def test_check_runs_where_the_interface_toolkit_cannot_be_imported() -> None:
    blocked = "import sys; sys.modules['PyQt6'] = None; from nuthatch.cli import main; sys.exit(main(['check', 'sail-loft', '--dossier', sys.argv[1]]))"
    import tempfile

    with tempfile.TemporaryDirectory() as folder:
        done = subprocess.run([sys.executable, "-c", blocked, f"{folder}/d.pdf"], capture_output=True, text=True, timeout=400)
        assert done.returncode == 1, done.stderr
        assert Path(folder, "d.pdf").read_bytes().startswith(b"%PDF")


def test_core_never_imports_the_interface() -> None:
    core = Path(cli.__file__).parent / "core"
    for file in core.rglob("*.py"):
        text = file.read_text()
        assert "PyQt6" not in text and "nuthatch.desktop" not in text, file


@pytest.mark.parametrize("key", ["weir-cottage", "sail-loft"])
def test_early_homes_have_a_dossier_that_says_what_is_missing(key: str, demo_assessments: dict[str, Assessment]) -> None:
    from nuthatch.core.dossier.report import to_html

    a = demo_assessments[key]
    html = to_html(a)
    assert "nan" not in html.lower().replace("finance", "").split() and "inf " not in html
    if key == "sail-loft":
        assert "not known yet" in html
        assert "The year’s account waits" in html and "what is lost in the months with heating" not in html, "no empty drawing"
    assert all(q.item in html for q in a.questions)


def test_names_with_markup_stay_text() -> None:
    from nuthatch.core.dossier.report import to_html

    home = replace(demo_home("sail-loft"), name="<script>alert(1)</script>")
    html = to_html(assess(home, None))
    assert "<script>" not in html and "&lt;script&gt;" in html


def test_insert_of_a_second_source_keeps_the_energy_known(osier_assessed: Assessment) -> None:
    home = apply(
        Insert(
            owner="home",
            field="sources",
            value=HeatSource(id="stove", name="Stove", carrier="wood", efficiency=g(0.7), heating_share=g(0), water_share=g(0)),
        ),
        osier_assessed.home,
    )
    home = apply(share(home, "stove", "heating_share", 0.25), home)
    a = assess(home, osier_assessed.climate)
    energies = {u.name: u.energy.value for u in a[USES]}
    heat = osier_assessed[BALANCE].heating.value.sum()
    before = {u.name: u.energy.value for u in osier_assessed[USES]}["Air-to-water heat pump, heating"]
    assert energies["Stove, heating"] == pytest.approx(0.25 * heat / 0.7)
    assert energies["Air-to-water heat pump, heating"] == pytest.approx(0.75 * before)


def test_a_slab_of_ventilated_layers_alone_is_asked_about(osier_assessed: Assessment) -> None:
    """Found by the random walk: no layer of the slab counts, and there are no films either."""
    home = osier_assessed.home
    slab = find(home, "slab")
    for layer in slab.layers:  # type: ignore[union-attr]
        home = apply(SetValue(part=layer.id, field="kind", value="well ventilated"), home)
    a = assess(home, osier_assessed.climate, osier_assessed)
    assert a.figures["heating_demand"].value is None
    assert any("well ventilated" in q.text and q.step == "build-ups" for q in a.questions)
