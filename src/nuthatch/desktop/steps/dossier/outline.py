"""A short preview of the dossier for the board: verdict, targets, what is missing, what it holds."""

from __future__ import annotations

from pathlib import Path

from jinja2 import Environment, FileSystemLoader

from nuthatch import __version__
from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.report import WORDS, missing_evidence
from nuthatch.core.files.homefile import home_hash
from nuthatch.core.results.figure import shown


def outline(assessment: Assessment) -> str:
    """The preview in the HTML a rich-text view understands."""
    made = Environment(loader=FileSystemLoader(Path(__file__).parent), autoescape=True, trim_blocks=True, lstrip_blocks=True)
    made.filters["fig"] = shown
    lacking = missing_evidence(assessment.home)
    found = {"a": assessment, "verdict": WORDS[assessment.standing], "lacking": lacking}
    return made.get_template("outline.html.j2").render(**found, hash=home_hash(assessment.home), version=__version__)
