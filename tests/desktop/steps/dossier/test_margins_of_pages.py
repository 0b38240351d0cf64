"""What a page says stands within its margins, also where each amount is said in both units."""

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


@pytest.mark.parametrize("paper", ["A4", "Letter"])
def test_nothing_reaches_over_the_margin_in_both_units(qapp: QApplication, osier_assessed: Assessment, tmp_path: Path, paper: str) -> None:
    """The objects of a site, twelve months and the ways of heat and water once did."""
    home = osier_assessed.home
    chapters = tuple(Chapter(id=f"chapter-{key}", chapter=key) for key in CHAPTERS)
    home = replace(home, dossier=replace(home.dossier, units="both", paper=paper, chapters=chapters))
    (tmp_path / "d.pdf").write_bytes(to_pdf(assess(home, osier_assessed.climate, osier_assessed), Made(date="2026-12-01")))
    pages = QPdfDocument(None)
    pages.load(str(tmp_path / "d.pdf"))
    assert pages.pageCount() >= 5
    for page in range(pages.pageCount()):
        edge = pages.pagePointSize(page).width() - SIDE
        lines = [line.boundingRect() for line in pages.getAllText(page).bounds()]
        assert lines and max(line.right() for line in lines) < edge + 2, page + 1
