"""The report of one air test as a document of its own: results, chart, validity with every failed line, circumstances, every reading."""

from __future__ import annotations

import datetime
from pathlib import Path

from nuthatch import __version__
from nuthatch.core.airtest.readings import Measurement
from nuthatch.core.airtest.worked import Result
from nuthatch.core.dossier.air_test_body import body
from nuthatch.core.dossier.printing import as_printed, fonts_of, without_controls
from nuthatch.core.dossier.report import environment
from nuthatch.core.dossier.setting import Letterhead
from nuthatch.core.files.formats import writer
from nuthatch.core.files.homefile import put
from nuthatch.core.units import unit_of


def to_html(
    test: Measurement,
    result: Result,
    name: str = "",
    office: Letterhead | None = None,
    date: str = "",
    alone: bool = False,
    kept: dict[str, object] | None = None,
) -> str:
    """The report as one HTML page. name: of the home; date as ISO text, today's where empty; alone: with the fonts inside; kept: what
    `record` says of a test of a home."""
    head = {"name": name, "letterhead": office or Letterhead(), "version": __version__, "fonts": fonts_of(alone), "alone": alone}
    when = date or datetime.date.today().isoformat()
    return without_controls(
        environment().get_template("air_test.html.j2").render(**body(test, result, kept), **head, date=when, unit=unit_of)
    )


def as_page(test: Measurement, result: Result, name: str, office: Letterhead | None, kept: dict[str, object] | None = None) -> bytes:
    """The report as a page that stands alone."""
    return to_html(test, result, name, office, alone=True, kept=kept).encode()


def as_pdf(test: Measurement, result: Result, name: str, office: Letterhead | None, kept: dict[str, object] | None = None) -> bytes:
    """The report as PDF."""
    return as_printed(to_html(test, result, name, office, kept=kept))


def write(
    test: Measurement, result: Result, path: Path, name: str = "", office: Letterhead | None = None, kept: dict[str, object] | None = None
) -> None:
    """Write the report in the form the name asks for. kept: what `record` says. Raises HomeFileError."""
    put(path, writer("air test report", path)(test, result, name, office, kept))
