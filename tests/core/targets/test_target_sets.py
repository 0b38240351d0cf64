"""Own target sets: points and limits by zone, size and dwelling against a count by hand; faults told by line and key."""

from __future__ import annotations

import dataclasses
import json
import re
from pathlib import Path

import pytest

from nuthatch import cli
from nuthatch.core.assess import Assessment, assess
from nuthatch.core.climate.climate import Climate
from nuthatch.core.dossier.report import Made, to_html
from nuthatch.core.edits.target_lines import LineFault, TargetLine, from_lines, to_lines
from nuthatch.core.exchange.own_sets import copy_of, own_sets, read_set, save_set
from nuthatch.core.files.homefile import HomeFile, HomeFileError, canonical, home_from_json, read, write
from nuthatch.core.files.located import Fault, parse
from nuthatch.core.library import DATA, demo_home, target_sets
from nuthatch.core.model.home import Home
from nuthatch.core.model.migrations import migrate
from nuthatch.core.model.part import replace
from nuthatch.core.model.target_set import Case, Target, TargetSet, Way
from nuthatch.core.results.calculation import take
from nuthatch.core.results.figure import Entered, Figure, missing
from nuthatch.core.targets.verdict import Circumstances, judge, judge_target, overall, tightest, way_result
from nuthatch.core.units import INCH_POUND, using
from tests.simple_home import g, simple_home

FUND = (DATA / "examples" / "harbour-fund.json").read_bytes()
TRIAL = """{
 "id": "trial", "name": "Trial set", "source": "made up for this test",
 "points_needed": 5,
 "targets": [
  {"id": "t-heat", "name": "Heating", "ways": [
    {"figure": "heating_demand", "limit": "10 kWh/(m²·a)", "cases": [
      {"zones": ["5", "6"], "upto_area": 120, "limit": "14 kWh/(m²·a)"},
      {"zones": ["5", "6"], "limit": "13 kWh/(m²·a)"},
      {"dwellings": ["flat"], "limit": 8}]}]},
  {"id": "t-air", "name": "Air", "points": 2, "ways": [{"figure": "n50", "limit": 1.0}]},
  {"id": "t-co2", "name": "Carbon", "points": 2.5, "ways": [{"figure": "co2", "limit": "1 lb/(ft²·yr)"}]},
  {"id": "t-fresh", "name": "Recovery", "points": 1, "ways": [{"figure": "effective_heat_recovery", "sense": "min", "limit": "80 %"}]},
  {"id": "t-warm", "name": "Sun", "points": 4, "ways": [{"figure": "solar_share", "limit": "5 %"}]}
 ]
}"""


def with_set(a: Assessment, chosen: TargetSet) -> Assessment:
    return assess(replace(a.home, target_sets=(chosen,)), a.climate, a)


def test_margins_cli_and_dossier_agree_with_a_count_by_hand(
    osier_assessed: Assessment, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    """Osier Lane 7: zone 5A, 138.9 m², n50 0.64, CO₂ 6.4, recovery 81.4 %. By hand: heating limit 13 (zone 5, over 120 m²);
    air 2 points, carbon over its limit of 1 lb/(ft²·yr) = 4.8824 kg/(m²·a): none, recovery 1; a solar share that needs collectors unknown, 4.
    3 points are sure, 7 possible, 5 needed: not known yet."""
    chosen = read_set(TRIAL.encode())
    a = with_set(osier_assessed, chosen)
    assert a.zone == "5A" and 120 < a.figures["reference_floor_area"].value < 150
    by_name = {v.name: v for v in a.verdicts}
    heat = by_name["Heating"].ways[0]
    assert heat.limit == 13 and heat.standing == "inside" and heat.words() == f"limit 13, {13 - heat.value:.1f} inside"
    assert by_name["Carbon"].ways[0].limit == pytest.approx(4.88243, rel=1e-5)
    standings = {n: by_name[n].standing for n in ("Air", "Carbon", "Recovery", "Sun")}
    assert standings == {"Air": "inside", "Carbon": "over", "Recovery": "inside", "Sun": "unknown"}
    assert by_name["Points"].standing == "unknown" and "Sun" in by_name["Points"].ways[0].reason
    # with 3 needed the sure ones are enough; with 8 even the unknown one cannot help
    for needed, standing, value in ((3, "inside", 3.0), (8, "over", 3.0)):
        b = with_set(osier_assessed, replace(chosen, points_needed=needed))
        points = next(v for v in b.verdicts if v.name == "Points")
        assert points.standing == standing and points.ways[0].value == value and b.standing == standing
        figure = b.figures["points_trial"]
        assert isinstance(figure, Figure) and figure.again() == 3.0 and len(figure.inputs["lines"]) == 4
    # the same from the file by the command line, and in the dossier
    b = with_set(osier_assessed, replace(chosen, points_needed=3))
    write(tmp_path / "t.nuthatch", HomeFile(b.home, None))
    assert cli.main(["check", str(tmp_path / "t.nuthatch"), "--json"]) == 0
    out = json.loads(capsys.readouterr().out)
    told = {t["name"]: t for t in out["targets"]}
    assert told["Heating"]["ways"][0]["limit"] == 13 and told["Points"]["ways"][0]["value"] == 3.0 and told["Air"]["points"] == 2
    assert out["figures"]["points_trial"]["value"] == 3.0 and read(tmp_path / "t.nuthatch").home.target_sets == b.home.target_sets
    page = " ".join(to_html(b, Made(date="2026-11-23")).split())
    assert "All targets are met." in page and "(2.5 points, voluntary)" in page and "limit 13, " in page and "limit 3, just met" in page


def test_a_missed_voluntary_line_misses_no_target(osier_assessed: Assessment) -> None:
    a = with_set(osier_assessed, replace(read_set(TRIAL.encode()), points_needed=3))
    assert any(v.voluntary and v.standing == "over" for v in a.verdicts) and overall(a.verdicts) == "inside"
    found = tightest(a.verdicts)
    assert found is not None and not found[0].voluntary


@pytest.mark.parametrize(
    ("zone", "dwelling", "limit"),
    [
        ("5C", "terraced", 13),
        ("4C", "terraced", 13),
        ("4A", "flat", 8),
        ("4A", "detached", 10),
        ("4A", "not given", None),
        ("", "flat", None),
    ],
)
def test_the_first_case_that_fits_holds(osier_assessed: Assessment, zone: str, dwelling: str, limit: float | None) -> None:
    """Marine 4 reads the cases of 5, as in IECC 2021 table R402.1.2. What must be known to choose is asked for."""
    verdicts, _ = judge((read_set(TRIAL.encode()),), Circumstances(zone, dwelling), osier_assessed.figures)
    way = verdicts[0].ways[0]
    assert way.limit == limit and (limit is not None or way.reason in ("needs a climate zone", "needs the kind of dwelling (Brief)"))


BROKEN = {
    "a comma too many": (TRIAL.replace('"points": 4, "ways"', '"points": 4,, "ways"'), "line 13", "a key in double quotes was expected"),
    "no such result": (TRIAL.replace('"figure": "n50"', '"figure": "n5O"'), "line 10, targets.1.ways.0.figure", "did you mean “n50”"),
    "a unit that does not fit": (TRIAL.replace("13 kWh/(m²·a)", "12 °C"), "line 8, targets.0.ways.0.cases.1.limit", "does not fit here"),
    "a misspelt key": (TRIAL.replace('"sense"', '"sence"'), "line 12, targets.3.ways.0.sence", "did you mean “sense”"),
    "too few points": (TRIAL.replace('"points_needed": 5', '"points_needed": 50'), "line 1", "its lines give 9.5 together"),
    "a key twice": (TRIAL.replace('"name": "Air"', '"name": "Air", "name": "Wind"'), "line 10, targets.1.name", "stands twice"),
    "no limit": (TRIAL.replace(', "limit": 1.0', ""), "line 10, targets.1.ways.0", "no “limit”"),
    "an id with spaces": (TRIAL.replace('"id": "t-air"', '"id": "T air"'), "line 10, targets.1.id", "lower-case letters"),
    "a missing name": (TRIAL.replace('"name": "Trial set", ', ""), "line 1", "the key “name” is missing"),
    "an impossible size": (TRIAL.replace('"upto_area": 120', '"upto_area": 120, "over_area": 130'), "line 7", "no home is over"),
    "not JSON at all": ("targets: none", "line 1", "a value was expected"),
    "cut short": (TRIAL[:200], "line 6", "unterminated"),
}


@pytest.mark.parametrize("name", BROKEN)
def test_a_broken_set_gives_a_useful_message(name: str) -> None:
    text, where, why = BROKEN[name]
    with pytest.raises(Fault) as caught:
        read_set(text.encode())
    assert str(caught.value).startswith(where) and why in str(caught.value)


def test_the_folder_of_own_sets(tmp_path: Path) -> None:
    (tmp_path / "a.json").write_bytes(FUND)
    (tmp_path / "b.json").write_text(BROKEN["no such result"][0])
    (tmp_path / "c.json").write_bytes(FUND)
    (tmp_path / "d.json").write_text(TRIAL.replace('"id": "trial"', '"id": "retrofit"'))
    sets, faults = own_sets(tmp_path)
    assert [s.id for s in sets] == ["harbour-fund"]
    assert [f.path.name for f in faults] == ["b.json", "c.json", "d.json"]
    assert "taken by a.json" in faults[1].text and "ships with Nuthatch" in faults[2].text
    mine = copy_of(target_sets()[0], {s.id for s in target_sets()})
    path = save_set(mine, tmp_path)
    assert read_set(path.read_bytes()) == mine and mine.id not in {s.id for s in target_sets()}
    save_set(replace(mine, name="Second"), tmp_path)
    assert read_set((tmp_path / f"{path.name}~").read_bytes()) == mine, "the file before is kept"


@pytest.mark.parametrize("text", [FUND.decode(), TRIAL])
def test_the_lines_of_the_editor_give_the_set_back(text: str) -> None:
    chosen = read_set(text.encode())
    assert from_lines(chosen, list(to_lines(chosen))) == chosen
    with using(INCH_POUND):
        again = from_lines(chosen, list(to_lines(chosen)))
    for a, b in zip(chosen.targets, again.targets, strict=True):
        for x, y in zip(a.ways, b.ways, strict=True):
            assert (x.figure, x.sense, len(x.cases)) == (y.figure, y.sense, len(y.cases))
            assert x.limit == pytest.approx(y.limit, rel=1e-4)


@pytest.mark.parametrize(
    ("changes", "where", "why"),
    [
        ({"result": "Warmth"}, "line 1, Result", "no result of Nuthatch"),
        ({"limit": ""}, "line 1, Limit", "missing"),
        ({"limit": "15 °C"}, "line 1, Limit", "does not fit"),
        ({"zones": "5 Q"}, "line 1, Zones", "“Q” is no climate zone"),
        ({"dwellings": "castle"}, "line 1, Dwellings", "“castle” is not known"),
        ({"over_area": "100", "upto_area": "90"}, "line 1, Area up to", "at once"),
        ({"sense": "about"}, "line 1, Sense", "“at most” or “at least”"),
        ({"points": "-1"}, "line 1, Points", "more than 0"),
        ({"target": ""}, "line 1, Target", "no name"),
    ],
)
def test_a_wrong_cell_is_told_by_its_place(changes: dict[str, str], where: str, why: str) -> None:
    good = {"target": "Heating", "result": "Heating demand", "limit": "15"}
    chosen = replace(target_sets()[0], targets=())
    made = from_lines(chosen, [TargetLine(**good)])
    assert made.targets[0].ways == (Way(figure="heating_demand", limit=15.0),)
    with pytest.raises(LineFault) as caught:
        from_lines(chosen, [TargetLine(**{**good, **changes})])
    assert str(caught.value).startswith(where) and why in str(caught.value)


def test_limits_by_zone_of_the_first_schema_become_cases() -> None:
    raw = {"target_sets": [{"targets": [{"ways": [{"figure": "n50", "limit_by_zone": {"1": 5.0, "2": 5.0, "3": 3.0}}]}]}]}
    way = migrate(raw, 1)["target_sets"][0]["targets"][0]["ways"][0]
    assert way == {"figure": "n50", "cases": [{"limit": 5.0, "zones": ["1", "2"]}, {"limit": 3.0, "zones": ["3"]}]}


def test_every_line_is_known_in_a_located_document() -> None:
    lines = parse('{"a": [1,\n {"b": 2.5e1}],\n "c": "\\u00e9"}')
    assert lines.data == {"a": [1, {"b": 25.0}], "c": "é"}
    assert lines.line(("a",)) == 1 and lines.line(("a", 1, "b")) == 2 and lines.line(("c",)) == 3 and lines.line(("a", 1, "nothing")) == 2


def test_a_home_keeps_the_sets_it_was_judged_by() -> None:
    weir = demo_home("weir-cottage")
    fund = next(s for s in weir.target_sets if s.id == "harbour-fund")
    assert fund == read_set(FUND) and fund.targets[0].ways[0].cases[2] == Case(upto_area=70, limit=70)
    assert isinstance(fund.targets[1], Target) and fund.targets[1].points == 3


def test_a_home_of_the_first_version_still_opens(osier: Home) -> None:
    """As 0.1.0 wrote it: schema 1, limits by zone, none of the newer fields."""
    raw = json.loads(canonical(osier))
    for name in ("evidence", "pins", "currency"):
        raw.pop(name, None)
    for name in ("dwelling", "visit", "visit_notes"):
        raw["brief"].pop(name, None)
    for chosen in raw["target_sets"]:
        for target in chosen["targets"]:
            for way in target["ways"]:
                way["limit_by_zone"] = {z: c["limit"] for c in way.pop("cases", []) for z in c["zones"]} or None
    home = home_from_json(json.dumps({"nuthatch": "home", "schema": 1, "home": raw}).encode())
    assert home.target_sets == osier.target_sets and home.openings == osier.openings and home.brief.dwelling == "not given"
    with pytest.raises(HomeFileError, match="newer Nuthatch"):
        home_from_json(json.dumps({"nuthatch": "home", "schema": 99, "home": raw}).encode())


def test_a_renamed_target_keeps_its_id_and_what_it_is_for() -> None:
    """Renaming “Slab edge” once made it hold for every home."""
    code = next(s for s in target_sets() if any(t.when != "always" for t in s.targets))
    slab = next(t for t in code.targets if t.when == "slab on ground")
    lines = [dataclasses.replace(line, target="Another name") if line.target == slab.name else line for line in to_lines(code)]
    made = from_lines(code, lines)
    again = next(t for t in made.targets if t.name == "Another name")
    assert (again.id, again.when, again.ways) == (slab.id, "slab on ground", slab.ways)
    freed = from_lines(code, [dataclasses.replace(line, when="") for line in to_lines(code)])
    assert all(t.when == "always" for t in freed.targets)
    with pytest.raises(LineFault, match="Only for: “cellars” is not known; slab on ground"):
        from_lines(code, [dataclasses.replace(lines[0], when="cellars")])


@pytest.mark.parametrize(
    ("field", "value", "says"),
    [
        ("site.heating_setpoint", 400, "must be at most"),
        ("household.people", -1, "must be"),
        ("household.gains", "lots", "is one of simple, itemised"),
        ("site.heating_setpoint", "warm", "°C"),
        ("air.n50", 0.3, "nothing a target set can fix"),
    ],
)
def test_a_condition_the_home_could_not_hold_is_refused_with_its_reason(field: str, value: object, says: str) -> None:
    content = {
        "id": "odd",
        "name": "Odd",
        "source": "made up for this test",
        "conditions": [{"field": field, "value": value}],
        "targets": [{"id": "t", "name": "Heat", "ways": [{"figure": "heating_demand", "limit": 12}]}],
    }
    with pytest.raises(Fault, match=re.escape(says)):
        read_set(json.dumps(content).encode())


def _heating(value: float) -> dict[str, Figure]:
    """A heating demand as entered, and a primary energy of 125."""
    made = {"heating_demand": ("Heating demand", value), "primary_energy": ("Primary energy", 125.0)}
    return {k: take(label, "specific_energy", Entered(label, v, "specific_energy")) for k, (label, v) in made.items()}


@pytest.mark.parametrize(("heating", "limit"), [(0, 120), (10, 120), (15, 120), (20, 126), (24.5, 131.4), (25, 132), (40, 132), (335, 132)])
def test_primary_energy_of_a_retrofit_by_its_formula(heating: float, limit: float) -> None:
    """120 + 1.2·(min(max(Q_H, 15), 25) − 15): published retrofit criteria, the cap stated (method 13, from memory)."""
    retrofit = next(s for s in target_sets() if s.id == "retrofit")
    target = next(t for t in retrofit.targets if t.id == "rf-primary")
    verdict = judge_target(retrofit, target, Circumstances(), _heating(heating))
    assert verdict is not None and verdict.ways[0].limit == pytest.approx(limit, rel=1e-12)
    assert verdict.standing == ("inside" if limit >= 125 else "over")
    assert "heating demand" in verdict.ways[0].limit_words() and "120" in verdict.ways[0].limit_words()
    free = replace(target, ways=(replace(target.ways[0], rise=replace(target.ways[0].rise, stop=None)),))
    lifted = judge_target(retrofit, free, Circumstances(), _heating(heating))
    assert lifted is not None and lifted.ways[0].limit == pytest.approx(120 + 1.2 * (max(heating, 15) - 15), rel=1e-12)
    nothing = judge_target(retrofit, target, Circumstances(), {"primary_energy": _heating(1)["primary_energy"]})
    assert nothing is not None and nothing.standing == "unknown" and nothing.ways[0].limit is None


@pytest.mark.parametrize(
    ("sense", "limit", "value", "decimals", "standing", "rounded"),
    [
        ("max", 15, 15.0, 0, "inside", False),
        ("max", 15, 15.4999, 0, "inside", True),
        ("max", 15, 15.5, 0, "over", False),  # half is rounded up
        ("max", 14, 14.5, 0, "over", False),  # and not to the even one
        ("max", 15, 15.0001, None, "over", False),
        ("max", 0.6, 0.649, 1, "inside", True),
        ("max", 0.6, 0.65, 1, "over", False),
        ("min", 75, 74.6, 0, "inside", True),
        ("min", 75, 74.4, 0, "over", False),
        ("min", 75, 75.0, 0, "inside", False),
    ],
)
def test_a_result_inside_only_by_rounding_says_so(
    sense: str, limit: float, value: float, decimals: int | None, standing: str, rounded: bool
) -> None:
    """A limit is compared unrounded; a set may say to how many decimals its criteria round (method 13)."""
    way = Way(figure="x", sense=sense, limit=float(limit), decimals=decimals)  # type: ignore[arg-type]
    made = way_result(way, Circumstances(), {"x": take("x", "specific_energy", Entered("x", float(value), "specific_energy"))})
    assert made is not None and made.standing == standing and made.by_rounding is rounded
    assert ("only by rounding" in made.words()) is rounded


def test_rounding_is_in_the_unit_the_result_is_written_in() -> None:
    """10 % by whole percent: 0.1049 is inside, 0.105 is over, also where the window speaks other units."""
    way = Way(figure="x", limit=0.10, decimals=0)
    for value, standing in ((0.1049, "inside"), (0.1051, "over")):
        made = way_result(way, Circumstances(), {"x": take("x", "percent", Entered("x", value, "percent"))})
        assert made is not None and made.standing == standing
    with using(INCH_POUND):  # 15.4 kWh/(m²·a) is 4.9 kBtu/(ft²·yr)
        made = way_result(
            Way(figure="x", limit=15.0, decimals=0),
            Circumstances(),
            {"x": take("x", "specific_energy", Entered("x", 15.4, "specific_energy"))},
        )
    assert made is not None and made.standing == "inside" and made.by_rounding


def test_a_limit_that_rises_and_rounds_stands_in_its_cell_and_comes_back() -> None:
    retrofit = next(s for s in target_sets() if s.id == "retrofit")
    rounded = tuple(replace(t, ways=tuple(replace(w, decimals=1) for w in t.ways)) if t.id == "rf-air" else t for t in retrofit.targets)
    chosen = replace(retrofit, targets=rounded)
    lines = list(to_lines(chosen))
    cells = {line.target: line.limit for line in lines}
    assert cells["Primary energy"] == "120 kWh/(m²·a) + 1.2 × (Heating demand from 15 to 25 kWh/(m²·a))"
    assert cells["Airtightness"] == "1 1/h, to 1 decimal"
    assert from_lines(chosen, lines) == chosen
    with using(INCH_POUND):
        again = from_lines(chosen, list(to_lines(chosen)))
    was, now = (next(t.ways[0].rise for t in s.targets if t.id == "rf-primary") for s in (chosen, again))
    assert was is not None and now is not None and now.stop == pytest.approx(was.stop, rel=1e-4) and now.factor == pytest.approx(was.factor)
    free = [dataclasses.replace(x, limit=x.limit.replace(" from 15 to 25", " from 15")) for x in lines]
    lifted = next(t.ways[0].rise for t in from_lines(chosen, free).targets if t.id == "rf-primary")
    assert lifted is not None and lifted.stop is None and lifted.start == 15
    for bad, why in (
        ("120 + 1.2 × (Warmth from 15 to 25)", "no result of Nuthatch"),
        ("120 + 1.2 × (Heating demand from 25 to 15)", "from the smaller"),
        ("120 + x × (Heating demand from 15 to 25)", "120 kWh/(m²·a) + 1.2 × (Heating demand from 15 to 25 kWh/(m²·a))"),
        ("120, to 9 decimals", "0 to 6 decimals"),
    ):
        with pytest.raises(LineFault, match=re.escape(why)):
            from_lines(chosen, [dataclasses.replace(x, limit=bad) if x.target == "Primary energy" else x for x in lines])


def test_the_passive_house_sets_fix_hot_water_and_the_incidence_of_sun(marrowby: Climate) -> None:
    """25 l a person and day at 60 °C, 0.85 instead of 0.9 for the incidence of sun (method 13, from memory)."""
    for key in ("passive-house", "retrofit"):
        home = simple_home(target=key)
        lavish = replace(home, water=replace(home.water, litres=g(60), temperature=g(45)))
        first, other = assess(home, marrowby), assess(lavish, marrowby)
        assert first.figures["hot_water_demand"].value != pytest.approx(other.figures["hot_water_demand"].value)
        mine, theirs = (a.under(key).figures for a in (first, other))
        for name in ("primary_energy", "hot_water_demand", "heating_demand"):
            assert mine[name].value == pytest.approx(theirs[name].value, rel=1e-12), name
        assert first.under(key).figures["solar_gains"].value == pytest.approx(first.figures["solar_gains"].value * 0.85 / 0.9)
        typed = replace(home, site=replace(home.site, incidence=g(0.8)))
        assert assess(typed, marrowby).figures["solar_gains"].value == pytest.approx(first.figures["solar_gains"].value * 0.8 / 0.9)
    assert not {c.field for s in target_sets() if s.id == "residential-code" for c in s.conditions}


@pytest.mark.parametrize(("area", "limit"), [(69.99, 1.0), (70.0, 1.0), (70.01, 2.0), (100.0, 2.0), (100.01, 3.0)])
def test_cases_by_area_at_their_bounds(area: float, limit: float) -> None:
    """“Up to 70” holds 70, “over 100” does not hold 100."""
    way = Way(figure="x", limit=2.0, cases=(Case(limit=1.0, upto_area=70.0), Case(limit=3.0, over_area=100.0)))
    figures = {
        "x": take("x", "specific_energy", Entered("x", 1.5, "specific_energy")),
        "reference_floor_area": take("A", "area", Entered("A", area, "area")),
    }
    made = way_result(way, Circumstances(), figures)
    assert made is not None and made.limit == limit


@pytest.mark.parametrize(("needed", "standing"), [(2.0, "inside"), (2.001, "unknown"), (5.0, "unknown"), (5.001, "over")])
def test_points_that_could_still_be_reached(needed: float, standing: str) -> None:
    """2 points are sure, 3 more may come: as many as are needed are enough, and what cannot be reached is missed."""
    lines = (
        Target(id="a", name="A", points=2.0, ways=(Way(figure="x", limit=2.0),)),
        Target(id="b", name="B", points=3.0, ways=(Way(figure="y", limit=2.0),)),
        Target(id="c", name="C", points=9.0, ways=(Way(figure="x", limit=1.0),)),
    )
    chosen = TargetSet(id="s", name="S", source="x", targets=lines, points_needed=needed)
    figures: dict[str, Figure] = {
        "x": take("x", "specific_energy", Entered("x", 1.5, "specific_energy")),
        "y": missing("y", "specific_energy", "something"),
    }
    verdicts, _ = judge((chosen,), Circumstances(), figures)
    assert next(v for v in verdicts if v.name == "Points").standing == standing
