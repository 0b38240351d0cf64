"""Control characters in somebody's texts do not reach the dossier or the report of a test."""

from __future__ import annotations

import unicodedata

import pytest

from nuthatch.core.airtest.stages import TESTED
from nuthatch.core.assess import assess
from nuthatch.core.climate.library import climate_for
from nuthatch.core.dossier import air_test_report
from nuthatch.core.dossier.air_test_body import record
from nuthatch.core.dossier.printing import without_controls
from nuthatch.core.dossier.report import Made, to_html
from nuthatch.core.model.part import replace
from tests.air_home import air_home

NASTY = "Home \x07\x1b[31mred\x00\x9b \u202egnol\u202c \u2066x\u2069\ufffe end"


def controls(page: str) -> list[str]:
    return [
        c for c in page if (unicodedata.category(c) == "Cc" and c not in "\n\t") or 0x202A <= ord(c) <= 0x202E or 0x2066 <= ord(c) <= 0x2069
    ]


def test_no_control_character_reaches_a_page() -> None:
    home = air_home()
    notes = replace(home.brief, client=NASTY, plot=NASTY, notes=NASTY, built=NASTY)
    rooms = tuple(replace(b, name=NASTY) for b in home.buildups[:1]) + home.buildups[1:]
    test = replace(home.air_tests[0], by=NASTY, deviations=NASTY, leaks=tuple(replace(x, note=NASTY) for x in home.air_tests[0].leaks))
    odd = replace(home, name=NASTY, brief=notes, buildups=rooms, air_tests=(test,))
    a = assess(odd, climate_for(odd, None))
    page = to_html(a, Made(date="2026-11-30"))
    assert "gnol" in page and not controls(page) and "\ufffe" not in page
    shown = a.all_of(TESTED)[test.id]
    assert shown.result is not None
    report = air_test_report.to_html(shown.test, shown.result, NASTY, kept=record(test, odd))
    assert report.count("gnol") >= 4 and not controls(report)


@pytest.mark.parametrize(
    ("text", "left"), [("a\nb\tc", "a\nb\tc"), ("\ud800x", "\ufffdx"), ("Ünïcode — “ok” עברית", "Ünïcode — “ok” עברית")]
)
def test_what_is_text_stays(text: str, left: str) -> None:
    assert without_controls(text) == left
