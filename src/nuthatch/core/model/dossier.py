"""How a home's dossier is to be: its chapters in order, paper, units, who stands for it; and the revisions that were issued."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from nuthatch.core.model.part import Id, IdentifiedPart, Number, Part, choice, flag, text

Paper = Literal["A4", "Letter"]
PageUnits = Literal["as shown", "metric", "inch-pound", "both"]


class Chapter(IdentifiedPart):
    """A chapter of a dossier: which one, under which heading, whether it is in."""

    chapter: str = text("Chapter")
    name: str = text("Heading", help="empty: its own")
    shown: bool = flag("In the dossier", True)


class DossierPlan(IdentifiedPart):
    """The make-up of a dossier. No chapters: those for the certifier."""

    id: Id = "dossier"
    profile: str = text("Made for", "certifier", group="Pages")
    paper: Paper = choice("Paper", "A4")
    units: PageUnits = choice("Units", "as shown", help="both: each number in the other system behind it")
    prepared: str = text("Prepared by", group="Declaration")
    checked: str = text("Checked by")
    statement: str = text("Statement", note=True, help="stands over the signatures; empty: the usual words")
    chapters: tuple[Chapter, ...] = ()


class DossierProfile(IdentifiedPart):
    """A make-up kept for other homes: in the library, or the office's own."""

    name: str = text("Profile")
    about: str = text("For whom")
    paper: Paper = choice("Paper", "A4")
    units: PageUnits = choice("Units", "as shown")
    chapters: tuple[Chapter, ...] = ()


class IssuedResult(Part):
    """What a result was when a revision was issued."""

    key: str
    value: Number | None = None


class Issued(IdentifiedPart):
    """A revision of the dossier that went out: when, as what, of which state of the home; `file` is the attached file that keeps it."""

    name: str = text("File")
    date: str = text("Issued")
    profile: str = text("Made for")
    note: str = text("Note", help="what it went out for")
    version: str = ""
    sha256: str = Field(pattern="^[0-9a-f]{64}$")
    file: str = ""
    results: tuple[IssuedResult, ...] = ()
