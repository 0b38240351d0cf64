"""The lists of parts on the dossier's board: pins and revisions."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.chapters import CHAPTERS
from nuthatch.core.dossier.revisions import content_hash
from nuthatch.core.edits.desk import Listing
from nuthatch.core.model.dossier import Issued
from nuthatch.core.model.home import Pin, find
from nuthatch.core.views.pictures import PICTURES
from nuthatch.desktop.widgets.parts_model import Column, ListSpec


def pins_spec() -> ListSpec:
    """Pinned drawings and charts, and the chapter each stands in."""

    def what(a: Assessment, row: Pin) -> str:
        if row.picture == "working":
            return f"How it is worked out: {row.of.replace('/', ' › ').replace('_', ' ')}"
        part = find(a.home, row.of) if row.of else None
        title = PICTURES[row.picture].title if row.picture in PICTURES else row.picture
        gone = bool(row.of) and part is None
        return f"{title}: {'gone' if gone else getattr(part, 'name', '')}" if row.of else title

    def where(a: Assessment, row: Pin) -> str:
        return CHAPTERS[row.chapter].title if row.chapter in CHAPTERS else CHAPTERS["pinned"].title

    columns = (Column("Caption", "name"), Column("Drawing or chart", text=what, width=230), Column("Stands in", text=where, width=150))
    return ListSpec("Pinned drawings and charts", Listing("home", "pins", Pin, "pin"), columns, False)


def issued_spec() -> ListSpec:
    """Revisions that went out, and whether the home has changed since."""

    def number(a: Assessment, row: Issued) -> str:
        return f"revision {a.home.issued.index(row) + 1}" if row in a.home.issued else ""

    def stands(a: Assessment, row: Issued) -> str:
        return "as the home is now" if content_hash(a.home) == row.sha256 else "the home has changed since"

    columns = (
        Column("Revision", text=number, width=90),
        Column("Issued", text=lambda a, r: r.date, width=90),
        Column("For", text=lambda a, r: r.profile, width=120),
        Column("File", "name"),
        Column("Stands", text=stands, width=180),
    )
    return ListSpec("Revisions", Listing("home", "issued", Issued, "issue"), columns, False)
