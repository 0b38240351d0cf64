"""Every entered value that moves a result stands in the sheet of its part, the one that counts in its column, in every format alike."""

from __future__ import annotations

import csv
import io
import json
import re

import openpyxl
import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import SetValue, apply, declared
from nuthatch.core.climate.library import climate_for
from nuthatch.core.dossier.makeup import chapters_of
from nuthatch.core.dossier.report import Made, to_html
from nuthatch.core.exchange.sheet_files import as_csv, as_html, as_json, as_xlsx
from nuthatch.core.fabric.glass import glass_u
from nuthatch.core.library import DEMO, demo_home
from nuthatch.core.model.home import Home, walk_parts
from nuthatch.core.model.part import Given, quantities, replace
from nuthatch.core.units import INCH_POUND, kind_of, show, using, with_both
from nuthatch.core.views.sheets.of_home import faces, of_kind, part_sheets, sheets
from nuthatch.core.views.sheets.parts import LEFT_OUT, counting
from nuthatch.core.views.sheets.sheet import Amount, Column, sheet
from tests.core.model.test_every_field import homes

WORKED_OUT = ("heat", "sun", "balance", "hours", "rooms")
"""Chapters of what is worked out: no entered value stands there alone."""


@pytest.mark.parametrize("home", [*(demo_home(k) for k in DEMO), *homes()], ids=lambda h: h.name)
def test_every_entered_value_stands_in_the_sheet_of_its_part(home: Home) -> None:
    rest = tuple(c for c in chapters_of(home) if c.chapter not in WORKED_OUT)
    home = replace(home, dossier=replace(home.dossier, chapters=rest))
    a = assess(home, climate_for(home, None))
    cells = {
        (s.key, ident): dict(zip((h.label for h in s.heads), row, strict=True))
        for s in part_sheets(a)
        for ident, row in zip(s.ids, s.rows, strict=True)
    }
    page, count = to_html(a, Made(date="2026-11-29")), 0
    for part in walk_parts(home):
        if type(part) in LEFT_OUT:
            assert LEFT_OUT[type(part)], "a stated reason"
            continue
        row = cells[type(part).__name__, part.id]  # type: ignore[attr-defined]
        for name, spec in quantities(type(part)):
            given = getattr(part, name)
            if not isinstance(given, Given) or not spec.applies(part):
                continue
            counts = counting(a, part, name)
            assert row[spec.label] == pytest.approx(float(counts.value) if counts is not None else given.value), (part, name)
            if counts is not None:
                assert row[f"{spec.label}, as typed"] == given.value
            if not spec.whole:
                assert show(given.value, spec.kind) in page, (part, name)
            count += 1
    assert count > 15


def test_the_glass_that_counts_is_printed_and_what_was_typed_beside_it() -> None:
    """A U_g of 0.58 was typed, panes and gaps count: the dossier's list once said 0.58 all the same."""
    home = demo_home("osier-lane-7")
    kind = home.opening_types[0].id
    changes = {"glass_from": "panes and gaps", "glass_u": declared(0.58), "pane": declared(0.004), "gap": declared(0.010), "gap_2": declared(0.010),
               "coat": declared(0.03), "coat_2": declared(0.03), "gas": "argon"}  # fmt: skip
    for field, value in changes.items():
        home = apply(SetValue(part=kind, field=field, value=value), home)
    a = assess(home, climate_for(home, None))
    by_panes = float(glass_u(home.opening_types[0]).value)
    assert abs(by_panes - 0.58) > 0.05
    found = of_kind(a, type(home.opening_types[0]))
    row = dict(zip((h.label for h in found.heads), found.rows[found.ids.index(kind)], strict=True))
    assert row["Glass U_g"] == pytest.approx(by_panes) and row["Glass U_g, as typed"] == 0.58
    page = to_html(a, Made(date="2026-11-29"))
    assert f"Glass U_g <b>{show(by_panes, 'u')} W/(m²·K)</b>" in page and f"Glass U_g, as typed <b>{show(0.58, 'u')} W/(m²·K)</b>" in page


def test_one_sheet_says_the_same_in_every_format(osier_assessed: Assessment) -> None:
    a, found = osier_assessed, faces(osier_assessed)
    texts = found.texts()
    book = openpyxl.load_workbook(io.BytesIO(as_xlsx([found])))["Faces"]
    data = json.loads(as_json([found]))[0]
    lines = list(csv.reader(io.StringIO(as_csv(found))))
    page = as_html(found)
    assert [c.value for c in book[1]] == lines[0] == [h.text for h in found.heads] and "Net area [m²]" in lines[0]
    for n, row in enumerate(found.rows):
        assert data["rows"][n]["id"] == found.ids[n] and data["rows"][n]["cells"] == list(row)
        for c, cell in enumerate(row):
            written = book.cell(n + 2, c + 1).value
            assert written == pytest.approx(cell) if isinstance(cell, float) else written == cell
            assert float(lines[n + 1][c]) == pytest.approx(cell, rel=1e-5) if isinstance(cell, float) else lines[n + 1][c] == cell
            assert f">{texts[n][c]}</td>" in page
    with using(INCH_POUND):
        other = openpyxl.load_workbook(io.BytesIO(as_xlsx([faces(a)])))["Faces"]
        assert other.cell(2, 5).value == pytest.approx(found.rows[0][4] * kind_of("area").factor) and "[ft²]" in other.cell(1, 5).value


def test_a_list_of_none_one_and_alike_parts() -> None:
    columns = (Column("Name", lambda p: p[0]), Column("Amount", lambda p: p[1]), Column("Nothing", lambda p: None))
    none = sheet("k", "Things", columns, ())
    assert "Things: none yet." in as_html(none) and as_csv(none).strip() == "Name,Amount,Nothing"
    three = sheet("k", "Things", columns, (("a", Amount(1.0, "area")), ("b", Amount(1.0, "area")), ("=c", Amount(2.0, "length"))))
    assert as_csv(three).splitlines() == ["Name,Amount,Unit,Nothing", "a,1,m²,", "b,1,m²,", "'=c,2,m,"]
    page = as_html(three, alike=True)
    assert "<td>a, b (2, each)</td>" in page and "Nothing" not in page and page.count("<tr>") == 3
    assert "&lt;i&gt;" in as_html(sheet("k", "T", columns, (("<i>", None),)))


def test_a_home_s_sheets_have_names_of_their_own(osier_assessed: Assessment) -> None:
    found = sheets(osier_assessed)
    assert len({s.key for s in found}) == len({s.title[:31] for s in found}) == len(found) > 30


def test_months_in_both_units_are_parted_in_halves_of_a_year(osier_assessed: Assessment) -> None:
    """Twelve cells of two amounts each once ran over the margin of the page."""
    for both, parts in ((False, 1), (True, 2)):
        with with_both(both):
            of_months = next(s for s in sheets(osier_assessed) if s.key == "months")
            names, tables = [h.text for h in of_months.heads[1:]], as_html(of_months).split("<table")[1:]
        heads = [re.findall(r"<th[^>]*>([^<]*)</th>", t)[1:] for t in tables]
        assert len(tables) == parts and sum(heads, []) == names and max(map(len, heads)) - min(map(len, heads)) <= 1
        assert len({t.count("<tr>") for t in tables}) == 1, "each of them with all rows"
