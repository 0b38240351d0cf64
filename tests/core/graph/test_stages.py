"""Stages: declared, put in order, run only where their reads differ; slow ones wait, are found again, and never show what is old."""

from __future__ import annotations

import dataclasses
import json
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest

from nuthatch import cli
from nuthatch.core import assess as whole
from nuthatch.core.assess import Assessment, Snapshot, assess, whole_plan
from nuthatch.core.changes.changes import SetValue, apply, declared
from nuthatch.core.dossier.report import write
from nuthatch.core.files.homefile import HomeFile, HomeFileError
from nuthatch.core.files.homefile import write as write_home
from nuthatch.core.files.kept_results import ResultStore
from nuthatch.core.graph.digest import digest
from nuthatch.core.graph.memo import Kept, Memo, bytes_of
from nuthatch.core.graph.plan import Miswired, plan
from nuthatch.core.graph.runner import Pending, Stores
from nuthatch.core.graph.stage import Family, HomeRead, Named, Slot, Stages, Those, field, named, part, those
from nuthatch.core.household.stages import STUDIO
from nuthatch.core.library import demo_home
from nuthatch.core.plans.arrangement import PlanOutline
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import Axis, Computing, Entered, Known, Unknown, axes_of, because, leaves, missing
from nuthatch.core.solid.massing import Massing, massing
from nuthatch.core.water.stages import WATER
from tests.slow_stage import SLOW, noted, slow_home, stages


def test_every_read_of_every_stage_exists() -> None:
    made = whole_plan()
    assert len(made.order) > 50
    home = demo_home("osier-lane-7")
    for stage in made.order:
        for read in (*stage.reads.values(), stage.each):
            if isinstance(read, HomeRead | Named | Those):
                owner = home
                for name in read.path.split("."):
                    assert owner is None or name in type(owner).model_fields, (stage.name, read.path)
                    owner = getattr(owner, name)
    names = [s.name for s in made.order]
    for stage in made.order:
        for other in stage.reads.values():
            if isinstance(other, Slot | Family):
                assert names.index(other.name) < names.index(stage.name)


def test_stages_that_do_not_fit_together_are_told() -> None:
    one: Slot[int] = Slot("one")
    two: Slot[int] = Slot("two")
    circle = Stages()
    circle.stage(one, other=two)(lambda other: other)
    circle.stage(two, other=one)(lambda other: other)
    with pytest.raises(Miswired, match="circle: one → two → one"):
        plan(circle)
    twice = Stages()
    twice.stage(one)(lambda: 1)
    twice.stage(one)(lambda: 2)
    with pytest.raises(Miswired, match="two stages give “one”"):
        plan(twice)
    lonely = Stages()
    lonely.stage(one, other=two)(lambda other: other)
    with pytest.raises(Miswired, match="reads “two”, which no stage gives"):
        plan(lonely)


def test_what_did_not_change_is_the_same_object(osier_assessed: Assessment) -> None:
    a = assess(osier_assessed.home, osier_assessed.climate)
    thicker = assess(apply(SetValue(part="outer-wall.3", field="thickness", value=declared(0.3)), a.home), a.climate, a)
    same = [k for k, f in thicker.figures.items() if f is a.figures[k]]
    assert {"people", "heated_volume", "envelope_area"} <= set(same)
    assert all(thicker[slot] is a[slot] for slot in (WATER, STUDIO))
    assert "heating_demand" not in same and "reference_floor_area" not in same
    soil = assess(apply(SetValue(part="site", field="soil_conductivity", value=declared(1.5)), a.home), a.climate, a)
    assert {n.split("/")[0] for n in soil.ran} <= {
        "ground below the floors, for details", "a detail as its build-ups are now", "section of a detail", "slab", "element of a face", "elements", "loss coefficients", "losses by category", "balance", "cooling by month", "heating load",
        "sums of the year", "heat that sources make by month", "uses of energy", "uses of energy, without own electricity", "own electricity",
        "seasonal performance", "what acts on the home by hour", "the hours of the year", "hours too warm", "sums of the hours", "questions of the hours",
        "heating set-point in the mean", "what people and sources do by hour", "the fabric by hour", "rooms as parts of the home", "bedrooms too warm by night", "nights of bedrooms", 
        "weighted energy", "code envelope", "verdicts", "heat capacity of the home", "questions of the site",
        "what stores heat", "flow to the ground", "the site's ground", "b factor of a space", "element of a junction", "elements of junctions that are in no list", "details drawn for other build-ups", "installation ψ that is not that of its detail",
    }  # fmt: skip
    back = assess(a.home, a.climate, soil)
    assert back.ran == () and back.figures["heating_demand"] is a.figures["heating_demand"], "undo finds everything again"


def test_the_memo_is_bounded_in_bytes() -> None:
    memo = Memo(10_000)
    for n in range(50):
        memo.put(n, np.zeros(100), bytes_of(np.zeros(100)))
    assert memo.used <= 10_000 and 8 <= len(memo) < 50 and memo.get(49) is not None and memo.get(0) is None
    memo.get(45)
    for n in range(100, 109):
        memo.put(n, np.zeros(100), 900)
    assert memo.get(45) is not None or len(memo) <= 11, "what was asked for last goes last"
    memo.put("large", np.zeros(10_000), 80_000)
    assert memo.get("large") is None and memo.used <= 10_000
    home, climate = demo_home("osier-lane-7"), None
    small = Memo(60_000)
    a = assess(home, climate, stores=Stores(small))
    for n in range(30):
        home = apply(SetValue(part="air", field="n50", value=declared(1 + n / 10)), home)
        a = assess(home, climate, a, stores=Stores(small))
    assert small.used <= 60_000 and len(small) < 20


def kept_here() -> Stores:
    """Stores of a test's own: nothing is found that another test worked out."""
    return Stores(slow=Kept())


def slow_pending(a: Assessment) -> list[Pending]:
    """Runs of the slow stage of these tests, whatever else is slow."""
    return [p for p in a.pending if p.name == SLOW.name]


def give(a: Assessment) -> None:
    """What is pending as jobs would bring it."""
    for p in a.pending:
        a.state.stores.slow.put(p.key, p.work())


def test_a_slow_result_computes_is_waited_for_and_found_again(tmp_path: Path) -> None:
    home, more = slow_home(tmp_path), stages()
    a = assess(home, None, wait=False, more=more, stores=kept_here())
    assert isinstance(a.figures["slow_trial"], Computing) and a.standing == "computing" and a.computing and len(slow_pending(a)) == 1
    assert isinstance(a[SLOW], Computing) and a[SLOW].of == "the slow trial"
    way = a.verdicts[0].ways[0]
    assert way.value is None and way.ratio is None and way.words() == "computing the slow trial …", "nothing old, no zero"
    give(a)
    known = assess(home, None, a, wait=False, more=more)
    assert known.figures["slow_trial"].value == pytest.approx(1.28) and not known.computing
    newer = assess(apply(SetValue(part="air", field="n50", value=declared(0.4)), home), None, known, wait=False, more=more)
    assert isinstance(newer.figures["slow_trial"], Computing), "an edit leaves nothing stale"
    undone = assess(home, None, newer, wait=False, more=more)
    assert undone.figures["slow_trial"].value == pytest.approx(1.28) and not slow_pending(undone)
    other = assess(apply(SetValue(part="site", field="soil_conductivity", value=declared(1.7)), home), None, undone, wait=False, more=more)
    assert not slow_pending(other), "what it does not read does not make it stale"
    waited = assess(home, None, more=more, stores=kept_here())
    assert waited.figures["slow_trial"].value == pytest.approx(1.28) and noted(tmp_path) == [0.64, 0.64], (
        "without a window it is waited for"
    )


def test_a_slow_result_that_fails_is_unknown_for_its_reason_until_its_reads_differ(tmp_path: Path) -> None:
    home, more = slow_home(tmp_path, "raise"), stages()
    a = assess(home, None, more=more, stores=kept_here())
    found = a.figures["slow_trial"]
    assert isinstance(found, Unknown) and "ZeroDivisionError: on purpose" in found.needs[0].text and found.label == "Slow trial"
    assert a.figures["heated_volume"].value > 100, "the rest is computed"
    other = assess(apply(SetValue(part="site", field="soil_conductivity", value=declared(1.7)), home), None, a, more=more)
    assert noted(tmp_path, "begun") == [0.64] and other.figures["slow_trial"] is found, "an unrelated edit does not try it again"
    assess(apply(SetValue(part="air", field="n50", value=declared(0.4)), home), None, other, more=more)
    assert noted(tmp_path, "begun") == [0.64, 0.4]
    mended = assess(apply(SetValue(part="brief", field="client", value="0"), home), None, other, more=more)
    assert mended.figures["slow_trial"].value == pytest.approx(1.28)


def test_slow_results_are_found_again_on_disk_by_their_content(tmp_path: Path) -> None:
    home, more, cache = slow_home(tmp_path), stages(), tmp_path / "cache"
    assess(home, None, stores=Stores(slow=Kept(ResultStore(cache))))
    others = set(cache.glob("*.npz"))
    first = assess(home, None, more=more, stores=Stores(slow=Kept(ResultStore(cache))))
    again = assess(home.model_copy(deep=True), None, more=more, stores=Stores(slow=Kept(ResultStore(cache))))
    found, known = again.figures["slow_trial"], first.figures["slow_trial"]
    assert noted(tmp_path) == [0.64] and found.value == known.value and found.again() == known.value and found.calc is known.calc
    assert [leaf.part for leaf in leaves(found)] == ["air"], "its working leads to the field as before"
    (entry,) = set(cache.glob("*.npz")) - others
    for damage in (b"", b"PK broken", entry.read_bytes()[:-40], b"\x00" * 200):
        entry.write_bytes(damage)
        assert assess(home, None, more=more, stores=Stores(slow=Kept(ResultStore(cache)))).figures["slow_trial"].value == known.value
    assert len(noted(tmp_path)) == 5, "a damaged entry is worked out anew"
    assess(
        apply(SetValue(part="air", field="n50", value=declared(0.4)), home), None, more=more, stores=Stores(slow=Kept(ResultStore(cache)))
    )
    assert noted(tmp_path)[-1] == 0.4 and len(set(cache.glob("*.npz")) - others) == 2


def test_what_is_missing_is_said_before_what_is_waited_for() -> None:
    @calculation("Trial", "factor", "a·b", "test", closed=False)
    def product(a: float, b: float) -> float:
        """a times b."""
        return a * b

    early, late = (Computing("x", "factor", since, f"job {since}") for since in (1.0, 2.0))
    one = Entered("one", 1.0, "factor")
    found = product.figure(a=late, b=early)
    assert isinstance(found, Computing) and found.of == "job 1.0", "the one waited for longest"
    assert isinstance(product.figure(a=early, b=missing("b", "factor", "b")), Unknown)
    assert isinstance(because("y", "u", early), Computing) and because("y", "u", missing("b", "factor", "b")).needs[0].text == "b"
    assert isinstance(product.figure(a=one, b=one), Known)


def test_results_have_axes() -> None:
    @calculation("Trial", "temperature", "a", "test", closed=False)
    def spread(a: float) -> np.ndarray:
        """A table of 2 × 3."""
        return np.full((2, 3), a)

    face, time = Axis("face", 2, ("outside", "inside")), Axis("time", 3)
    one = Entered("one", 1.0, "temperature")
    made = spread.table((face, time), "Table", a=one)
    assert isinstance(made, Known) and [x.name for x in made.axes] == ["face", "time"]
    with pytest.raises(TypeError, match="must name the axes"):
        spread.figure(a=one)
    with pytest.raises(TypeError, match="its axes say"):
        spread.table((time, face), a=one)
    assert (
        [x.name for x in axes_of(np.zeros(12))] == ["month"]
        and [x.name for x in axes_of(np.zeros(8760))] == ["hour"]
        and axes_of(1.0) == ()
    )


def test_a_stage_wired_to_what_is_not_there_is_told_with_its_place() -> None:
    def wired(make: Callable[[Stages], object]) -> str:
        made = Stages()
        make(made)
        with pytest.raises(Miswired) as told:
            plan(made)
        assert "test_stages" in str(told.value) and "line" in str(told.value), "with the place"
        return str(told.value)

    one: Slot[int] = Slot("one", {"key": "nothing_there"})
    plain: Slot[int] = Slot("plain")
    rows: Family[int] = Family("rows")

    def typed(x: float) -> Axis: ...
    def loose(**x: object) -> int: ...

    assert "“site.soil_conductivty” leads nowhere: Site has no “soil_conductivty”" in wired(
        lambda s: s.stage(plain, x=field("site.soil_conductivty"))(lambda x: x)
    )
    assert "“sight” leads nowhere: Home has no “sight”" in wired(lambda s: s.stage(plain, x=part("sight"))(lambda x: x))
    assert "reads “x”, which its function does not take" in wired(lambda s: s.stage(plain, x=part("site"))(lambda y=1: y))
    assert "takes “y”, which is not read" in wired(lambda s: s.stage(plain, x=part("site"))(lambda x, y: x))
    assert "publishes “nothing_there”" in wired(lambda s: s.stage(one, x=field("site.elevation"))(typed))
    assert "give them a TypedDict" in wired(lambda s: s.stage(plain, x=field("site.elevation"))(loose))
    assert "“sort” is no attribute" in wired(
        lambda s: s.stage(rows, each=part("openings"), k=named("opening_types", by="sort"))(lambda k: k)
    )
    assert "has a field “walls”" in wired(lambda s: s.stage(rows, each=part("buildups"), k=those("openings", by="walls"))(lambda k: k))
    assert "does not run for each" in wired(lambda s: s.stage(plain, x=whole.fabric.ITEM)(lambda x: x))
    assert "one of a module" in wired(lambda s: s.slow(plain, lambda since: None, x=part("site"))(lambda x: x))


def test_a_snapshot_shows_a_home_beside_its_own_assessment_only(osier_assessed: Assessment) -> None:
    assert Snapshot(osier_assessed.home, osier_assessed).assessment is osier_assessed
    with pytest.raises(ValueError, match="its own assessment"):
        Snapshot(dataclasses.replace(osier_assessed).home.model_copy(), osier_assessed)


def test_the_command_line_waits_and_the_dossier_refuses(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str], tmp_path: Path
) -> None:
    more = stages()
    home = slow_home(tmp_path)
    unfinished = assess(home, None, wait=False, more=more, stores=kept_here())
    with pytest.raises(HomeFileError, match=r"waits for (.* and )?the slow trial and is not written"):
        write(unfinished, tmp_path / "d.html")
    assert not (tmp_path / "d.html").exists()
    ship = whole.whole_plan
    monkeypatch.setattr(whole, "whole_plan", lambda _=(): ship(more))
    write_home(tmp_path / "h.nuthatch", HomeFile(slow_home(tmp_path), None))
    assert cli.main(["check", str(tmp_path / "h.nuthatch"), "--json"]) == 1
    out = json.loads(capsys.readouterr().out)
    assert out["figures"]["slow_trial"]["value"] == pytest.approx(1.28) and out["figures"]["heating_demand"]["value"] > 5


def test_a_stage_reads_fields_by_value() -> None:
    runs: list[str] = []
    name: Slot[str] = Slot("name")
    rows: Family[str] = Family("rows")
    made = Stages()
    made.stage(name, name=field("name"))(lambda name: runs.append("name") or name)
    made.stage(rows, each=part("junctions"), row=whole.fabric.ITEM)(lambda row: runs.append(row.id) or row.name)
    more = tuple(made)
    home = demo_home("osier-lane-7")
    a = assess(home, None, more=more)
    number = len(runs)
    assert number == 1 + len(home.junctions)
    assess(home.model_copy(deep=True), None, a, more=more)
    assert len(runs) == number, "an equal home of other objects runs nothing"
    assess(apply(SetValue(part="j-03", field="name", value="Other"), home), None, a, more=more)
    assert runs[number:] == ["j-03"]


def test_what_is_told_once_is_told_by_its_content() -> None:
    """Two solids made alike have one digest, another has another."""

    def solid(wide: float) -> Massing:
        return massing((PlanOutline("o", "home", ((0, 0), (wide, 0), (wide, 4), (0, 4)), 0, 3),), ())

    first, again, other = solid(5), solid(5), solid(6)
    assert digest(first) == digest(first) == digest(again) != digest(other)


def test_under_conditions_only_what_an_edit_touches_runs_again(osier_assessed: Assessment) -> None:
    """The incidence a set fixes makes every opening's sun another one than as designed: it is taken from the home as judged before the edit."""
    from nuthatch.core.sun.stages import LET_IN

    a = assess(osier_assessed.home, osier_assessed.climate)
    b = assess(apply(SetValue(part="air", field="n50", value=declared(0.5)), a.home), a.climate, a)
    mine, before = b.under("passive-house"), a.under("passive-house")
    assert mine is not b and mine.home.site.incidence != b.home.site.incidence
    assert all(mine.all_of(LET_IN)[k] is v for k, v in before.all_of(LET_IN).items())
    assert not [name for name in mine.ran if name.startswith(LET_IN.name)]
    fresh = assess(b.home, a.climate).under("passive-house")
    for key, figure in fresh.figures.items():
        assert mine.figures[key].value == (pytest.approx(figure.value) if isinstance(figure.value, float) else figure.value), key


def test_what_was_waited_for_before_an_edit_is_still_waited_for_under_conditions(osier_assessed: Assessment) -> None:
    """What stands in the place of a slow result is no result: it is not taken over from the home as judged before."""
    a = assess(osier_assessed.home, osier_assessed.climate, wait=False, stores=Stores(slow=Kept()))
    b = assess(apply(SetValue(part="air", field="n50", value=declared(0.5)), a.home), a.climate, a, wait=False)
    waited = {p.key for p in a.under("passive-house").state.pending}
    assert waited and {p.key for p in b.under("passive-house").state.pending} == waited
    done = assess(b.home, a.climate, b)
    assert not done.pending and done.under("passive-house").figures["heating_demand"].value is not None
