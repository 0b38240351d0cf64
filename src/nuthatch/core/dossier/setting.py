"""What every chapter of a dossier is made with: the home assessed, how its pages are set, where its numbers lead."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.links import Links
from nuthatch.core.dossier.makeup import Pages
from nuthatch.core.model.home import Home

AttachedBytes = Callable[[str], bytes | None]
"""The content of an attached file by its hash; None where it is not at hand."""


def nothing(_: str) -> bytes | None:
    """No attached file is at hand."""
    return None


@dataclass(frozen=True)
class Letterhead:
    """Whose dossier it is: the office, with its logo as a data address."""

    company: str = ""
    address: str = ""
    contact: str = ""
    author: str = ""
    logo: str = ""


@dataclass(frozen=True)
class Setting:
    """The home assessed, its pages, whose it is, the day, whether it is a draft or which revision, and the content of attached files."""

    a: Assessment
    pages: Pages
    links: Links
    letterhead: Letterhead
    date: str
    state: str
    chapters: frozenset[str]
    content: AttachedBytes = nothing
    before: Home | None = field(default=None)
    """The home as it was when the last revision went out."""
