"""What a page says stands within its margins, also in feet and inches, and where each amount is said in both units."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtWidgets import QApplication

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.dossier.report import Made, to_pdf
from nuthatch.core.model.dossier import Chapter
from nuthatch.core.model.part import replace

SIDE = 16 / 25.4 * 72
"""Points of the margin at the right, as the style sheet of pages has it."""
CHAPTERS = ("heat", "place", "water", "power", "balance")


@pytest.mark.parametrize(
    ("key", "paper", "units"),
    [
        ("osier-lane-7", "A4", "both"),
        ("osier-lane-7", "Letter", "both"),
        ("osier-lane-7", "Letter", "inch-pound"),
        ("sail-loft", "A4", "both"),
        ("weir-cottage", "Letter", "both"),
    ],
)
def test_nothing_reaches_over_the_margin(
    qapp: QApplication, demo_assessments: dict[str, Assessment], tmp_path: Path, key: str, paper: str, units: str
) -> None:
    """The objects of a site, twelve months and the ways of heat and water once did; months of small homes stood over each other."""
    before = demo_assessments[key]
    home = before.home
    chapters = tuple(Chapter(id=f"chapter-{chapter}", chapter=chapter) for chapter in CHAPTERS)
    home = replace(home, dossier=replace(home.dossier, units=units, paper=paper, chapters=chapters))
    (tmp_path / "d.pdf").write_bytes(to_pdf(assess(home, before.climate, before), Made(date="2026-12-01")))
    pages = QPdfDocument(None)
    pages.load(str(tmp_path / "d.pdf"))
    assert pages.pageCount() >= 4
    for page in range(pages.pageCount()):
        edge = pages.pagePointSize(page).width() - SIDE
        lines = [line.boundingRect() for line in pages.getAllText(page).bounds()]
        assert lines and max(line.right() for line in lines) < edge + 2, page + 1
