"""What is asked for as evidence: one sheet for each supplier, with the value, as it is, and what would prove it."""

from __future__ import annotations

import datetime

from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.makeup import pages_of
from nuthatch.core.dossier.printing import as_printed, fonts_of, without_controls
from nuthatch.core.dossier.proof import missing_by_supplier
from nuthatch.core.dossier.report import Made, environment
from nuthatch.core.dossier.revisions import content_hash
from nuthatch.core.units import using, with_both


def requests_html(a: Assessment, made: Made, who: str = "") -> str:
    """One page or more for each supplier; who: only this one."""
    pages = pages_of(a.home.dossier)
    with using(pages.units), with_both(pages.both):
        asked = [(name, rows) for name, rows in missing_by_supplier(a) if not who or name == who]
        date = made.date or datetime.date.today().isoformat()
        shared = {
            "home": a.home,
            "asked": asked,
            "date": date,
            "state": "evidence asked for",
            "hash": content_hash(a.home),
            "pages": pages,
            "letterhead": made.letterhead,
            "fonts": fonts_of(made.alone),
            "alone": made.alone,
            "live": False,
        }
        return without_controls(environment().get_template("requests.html.j2").render(shared))


def requests_pdf(a: Assessment, made: Made, who: str = "") -> bytes:
    """The same as PDF."""
    return as_printed(requests_html(a, made, who))
