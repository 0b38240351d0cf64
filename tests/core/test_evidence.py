"""What is missing as proof: from whom, what would prove it, what weighs most; files find their values by name."""

from __future__ import annotations

import io

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pypdf import PdfReader

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import apply
from nuthatch.core.climate.library import climate_for
from nuthatch.core.dossier.report import Made
from nuthatch.core.dossier.requests import requests_html, requests_pdf
from nuthatch.core.evidence import by_supplier, fitting, missing, proving, suppliers, weighed, who_has, words_in
from nuthatch.core.graph.progress import heard_by
from nuthatch.core.model.home import EvidenceFile, Home, find
from nuthatch.core.model.part import Basis, Given, kinds_below, quantities
from nuthatch.core.questions import values
from nuthatch.core.views.ledger import Weight, margins
from nuthatch.core.visit import to_collect
from tests.simple_home import simple_home


def file(ident: str, name: str) -> EvidenceFile:
    return EvidenceFile(id=ident, name=name, sha256=ident[-1] * 64, size=10)


def test_what_is_missing_is_what_counts_and_is_not_proven(osier_assessed: Assessment) -> None:
    a = osier_assessed
    found = {(w.part, w.field) for w in missing(a)}
    rests = {(i.part, i.field) for i in to_collect(a)}
    by_hand = set()
    for _, part, name, given_ in values(a.home):
        place = (str(getattr(part, "id", "")), name)
        if not given_.proven and (given_.basis is not Basis.ASSUMED or place in rests):
            by_hand.add(place)
    assert found == by_hand and len(found) > 100
    assert all(w.proof and w.who and w.now for w in missing(a))


def test_somebody_is_named_for_every_kind_of_value() -> None:
    kinds = {c for c in kinds_below(Home) if quantities(c)}
    asked = {c.__name__ for c in kinds if not any(k.partition(".")[0] == c.__name__ for k in suppliers())}
    assert asked <= {
        "DetailBlock", "DetailSpace", "DetailFlank", "PlotCorner", "RingSector", "SiteSheet", "PatternDay", "RoomKind", "HourChart", "Certainty",
        "TestReading", "LoggedReading", "Preparation", "Leak", "ZonePressure", "Fan", "FanRing", "PressureGauge", "Spot", "GroundSpot", "Side",
        "PipeCorner", "BackingSheet", "Hole", "UpgradeCost", "Option", "TargetSet", "Way", "Condition", "HorizonPoint", "Circumstance",
    }, asked  # fmt: skip  # the consultant's own
    assert who_has(find_in("opening_types"), "glass_u") == "window maker"


def find_in(field: str) -> object:
    from nuthatch.core.library import demo_home

    return getattr(demo_home("osier-lane-7"), field)[0]


def test_the_heaviest_stands_first_and_suppliers_in_its_order(osier_assessed: Assessment) -> None:
    rows = missing(osier_assessed)
    heavy = rows[-1]
    weighed_rows = missing(osier_assessed, {heavy.id: {"x": Weight(-0.3, "10 % more"), "y": Weight(0.1, "10 % less")}})
    assert weighed_rows[0].id == heavy.id and weighed_rows[0].weight == pytest.approx(0.3)
    assert by_supplier(weighed_rows)[0][0] == heavy.who and sum(len(items) for _, items in by_supplier(rows)) == len(rows)


def test_weights_are_what_the_margins_move() -> None:
    """One of them beside a whole assessment with a tenth more."""
    home = simple_home()
    base = assess(home, climate_for(home, None))
    told: dict[str, dict[str, Weight]] = {}
    with heard_by(told.update):
        count = weighed(base.home, base.climate)
    assert count == len(told) == len(missing(base))
    ident = max(told, key=lambda i: max((abs(w.change) for w in told[i].values()), default=0.0))
    part, _, name = ident.partition(":")
    value = find(base.home, part)[name]  # type: ignore[index]
    target, weight = max(told[ident].items(), key=lambda row: abs(row[1].change))
    factor = 1.1 if "more" in weight.way else 0.9
    from nuthatch.core.changes.changes import SetValue

    other = apply(SetValue(part=part, field=name, value=value.model_copy(update={"value": value.value * factor})), base.home)
    before, after = margins(base), margins(assess(other, base.climate, base))
    assert after[target] - before[target] == pytest.approx(weight.change, abs=1e-9) and weight.change != 0


@pytest.mark.parametrize(
    ("name", "part"),
    [
        ("Triple_glazing_argon_low-e.pdf", "Triple glazing, argon, low-e"),
        ("roof window triple, data sheet.PDF", "Roof window, triple"),
        ("scan of air-to-water heat pump rating plate.jpg", "Air-to-water heat pump"),
    ],
)
def test_files_find_their_values_by_their_names(name: str, part: str, osier_assessed: Assessment) -> None:
    found = fitting(name, missing(osier_assessed))
    assert found and {w.name.partition(": ")[0] for w in found} == {part}, {w.name for w in found}


def test_a_name_that_says_nothing_finds_nothing(osier_assessed: Assessment) -> None:
    for name in ("IMG_0231.jpg", "scan.pdf", "", "Zebra crossing.png"):
        assert fitting(name, missing(osier_assessed)) == (), name
    assert words_in("Outer_Walls-scan.final.pdf") == {"outer", "wall"}


@settings(max_examples=60, deadline=None)
@given(st.text(max_size=60))
def test_no_name_of_a_file_breaks_it(name: str) -> None:
    from nuthatch.core.evidence import Wanted

    row = Wanted("air", "air", "n50", "Air: Air change at 50 Pa, n50", "0.6", "declared", "report of the air test", "air tester", ())
    assert fitting(name, (row,)) in ((), (row,))


def test_files_prove_many_values_in_one_step_and_keep_what_was_there(osier_assessed: Assessment) -> None:
    home = osier_assessed.home
    rows = missing(osier_assessed)[:5]
    first, second = file("proof-1", "a.pdf"), file("proof-2", "b.pdf")
    change = proving(home, {first.id: rows, second.id: rows[:1]}, {first.id: first, second.id: second})
    after = apply(change, home)
    assert change.label == "evidence for 5 values" and len(after.evidence) == len(home.evidence) + 2
    for row in rows:
        was, now = find(home, row.part)[row.field], find(after, row.part)[row.field]  # type: ignore[index]
        assert (
            isinstance(now, Given) and now.files is not None and first.id in now.files and now.basis is was.basis and now.value == was.value
        )
    both = find(after, rows[0].part)[rows[0].field]  # type: ignore[index]
    assert both.files[-2:] == (first.id, second.id)
    left = missing(assess(after, osier_assessed.climate, osier_assessed))
    assert not {w.id for w in rows} & {w.id for w in left}
    further = apply(proving(after, {second.id: rows[1:2]}, {second.id: second}), after)
    kept = find(further, rows[1].part)[rows[1].field]  # type: ignore[index]
    assert kept.files[-2:] == (first.id, second.id), "what proved it before still does"
    again = apply(proving(after, {first.id: rows[:1]}, {first.id: first}), after)
    assert len(again.evidence) == len(after.evidence), "the same file once"


def test_a_sheet_for_each_supplier(osier_assessed: Assessment) -> None:
    how = Made(date="2026-12-01")
    page = requests_html(osier_assessed, how)
    names = [who for who, _ in by_supplier(w for w in missing(osier_assessed) if w.targets)]
    assert [page.index(f"Asked of: {who}") for who in names] == sorted(page.index(f"Asked of: {who}") for who in names) and len(names) > 4
    only = requests_html(osier_assessed, how, "builder")
    assert "Asked of: builder" in only and "Asked of: window maker" not in only
    reader = PdfReader(io.BytesIO(requests_pdf(osier_assessed, how, "builder")))
    text = " ".join(" ".join(p.extract_text().split()) for p in reader.pages)
    wanted = next(w for w in missing(osier_assessed) if w.who == "builder" and w.targets)
    assert wanted.proof in text and wanted.now.replace("\u00a0", " ") in text
