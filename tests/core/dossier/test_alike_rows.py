"""Alike parts stand in one row of the dossier, none is left out; the search for circular garbage is only put off."""

from __future__ import annotations

import gc
import io
import re

import pytest
from pypdf import PdfReader

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import Batch, Insert, apply
from nuthatch.core.dossier.alike import NAMED, names, questions_together, together
from nuthatch.core.dossier.printing import as_printed
from nuthatch.core.dossier.report import Made, to_html
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.graph.collector import put_off, seldom
from nuthatch.core.model.part import replace
from nuthatch.core.results.question import Question


def test_rows_of_one_key_in_the_order_of_the_first() -> None:
    assert together([3, 1, 4, 1, 5, 3], lambda n: n) == [[3, 3], [1, 1], [4], [5]]
    assert names(["a", "b"]) == "a, b" and names([str(n) for n in range(NAMED)]).endswith(str(NAMED - 1))
    said = names([f"n{n}" for n in range(100)])
    assert said.startswith("n0, n1, ") and said.endswith(f"and {100 - NAMED + 1} more (100 in all)")
    assert len(said.split(" and ")[0].split(", ")) == NAMED - 1
    assert names(["Plaster", "Wool", "Plaster", "Plaster"]) == "Plaster (3×), Wool"
    assert names(["Plaster, wall", "Wool", "Plaster, wall"]) == "Plaster, wall (2×); Wool", "a comma of a name parts no names"
    assert names(["same"] * 100) == "same (100×)"
    twice = names([f"n{n // 2}" for n in range(100)])
    assert twice.startswith("n0 (2×), n1 (2×)") and twice.endswith(f"and {100 - 2 * (NAMED - 1)} more (100 in all)"), "parts, not names"


def test_the_same_question_about_several_parts_is_asked_once() -> None:
    asked = [Question(f"o-{n}", "width", f"Width of W {n} is not given", step="openings", item=f"W {n}") for n in (1, 2, 3)]
    asked.append(Question("o-9", "height", "Height of W 9 is not given", step="openings", item="W 9"))
    rows = questions_together(asked)
    assert [(r["item"], r["text"]) for r in rows] == [("W 1, W 2, W 3", "Width is not given"), ("W 9", "Height of W 9 is not given")]


def test_alike_openings_in_the_page(osier_assessed: Assessment) -> None:
    home = osier_assessed.home
    first = home.openings[0]
    more = [replace(first, id=f"more-{n}", name=f"More {n}") for n in (1, 2)]
    home = apply(Batch(label="more", changes=tuple(Insert(owner="home", field="openings", value=o) for o in more)), home)
    a = assess(home, osier_assessed.climate)
    page = to_html(a, Made(date="2026-01-01"))
    loss = next(e.loss.value for e in a[ELEMENTS] if e.id == first.id)
    rows = page.split(f"<td>{first.name}, More 1, More 2 (3, each)</td>")[1:]
    assert len(rows) == 2 and f'<td class="n">{loss:.2f}</td>' in rows[1].split("</tr>")[0], "in both tables; the loss of each"


def test_the_collector_works_as_before_afterwards() -> None:
    before = gc.get_threshold()
    assert gc.isenabled()
    with pytest.raises(ZeroDivisionError), put_off():
        assert not gc.isenabled()
        _ = 1 / 0
    with put_off(), put_off():
        pass
    assert gc.isenabled()
    with seldom():
        assert gc.get_threshold() != before
    assert gc.get_threshold() == before and gc.get_freeze_count() == 0


def test_no_row_stands_alone_on_a_page(osier_assessed: Assessment) -> None:
    """One row more than a page holds takes two along."""
    style = re.search(r"<style>.*?</style>", to_html(osier_assessed, Made(date="2026-01-01")), re.S)
    assert style is not None

    def pages(rows: int) -> list[list[str]]:
        cells = "".join(f"<tr><td>row{n}.</td><td>value</td></tr>" for n in range(rows))
        page = f"<html><head>{style[0]}</head><body><table><thead><tr><th>Name</th><th>Value</th></tr></thead><tbody>{cells}</tbody></table></body></html>"
        return [re.findall(r"row\d+\.", p.extract_text()) for p in PdfReader(io.BytesIO(as_printed(page))).pages]

    room = len(pages(120)[0])
    assert 20 < room < 120 and [len(p) for p in pages(room)] == [room]
    assert [len(p) for p in pages(room + 1)] == [room - 2, 3]
