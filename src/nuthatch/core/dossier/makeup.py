"""The make-up of a dossier: the profiles that ship, and what a home's own plan comes to."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache

from nuthatch.core.changes.changes import SetValue
from nuthatch.core.library import DATA
from nuthatch.core.model.dossier import Chapter, DossierPlan, DossierProfile
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.core.units import INCH_POUND, METRIC, system


@lru_cache(maxsize=1)
def profiles() -> tuple[DossierProfile, ...]:
    """The profiles of the library, the certifier's first."""
    raw = json.loads((DATA / "dossiers.json").read_text(encoding="utf-8"))
    return tuple(
        DossierProfile(
            id=p["id"], name=p["name"], about=p["about"], chapters=tuple(Chapter(id=f"chapter-{c}", chapter=c) for c in p["chapters"])
        )
        for p in raw
    )


def chapters_of(home: Home) -> tuple[Chapter, ...]:
    """The chapters of a home's dossier in order; where none is chosen, those for the certifier."""
    return home.dossier.chapters or profiles()[0].chapters


def made_for(home: Home, profile: DossierProfile) -> SetValue:
    """The change that gives a home's dossier the make-up of a profile; who stands for it stays."""
    plan = replace(home.dossier, profile=profile.name, paper=profile.paper, units=profile.units, chapters=profile.chapters)
    return SetValue(part="home", field="dossier", value=plan)


def as_profile(plan: DossierPlan, ident: str, name: str, chapters: tuple[Chapter, ...]) -> DossierProfile:
    """A home's make-up as a profile for others."""
    return DossierProfile(id=ident, name=name, about="own", paper=plan.paper, units=plan.units, chapters=chapters)


def rearranged(home: Home, chapters: Iterable[Chapter]) -> SetValue:
    """The change that puts chapters into another order, or others in."""
    return SetValue(part="home", field="dossier", value=replace(home.dossier, chapters=tuple(chapters)))


@dataclass(frozen=True)
class Pages:
    """How pages are set: paper, the system of units, whether the other stands behind it."""

    paper: str = "A4"
    units: str = METRIC
    both: bool = False

    @property
    def width(self) -> float:
        """Of the paper [mm]."""
        return 210.0 if self.paper == "A4" else 215.9

    @property
    def height(self) -> float:
        """Of the paper [mm]."""
        return 297.0 if self.paper == "A4" else 279.4

    @property
    def room(self) -> tuple[float, float]:
        """What a drawing may take of a page [mm], its caption left free."""
        return self.width - LEFT - RIGHT, self.height - TOP - BOTTOM - 14.0


TOP, RIGHT, BOTTOM, LEFT = 24.0, 16.0, 20.0, 24.0
"""The margins of a page [mm]."""


def pages_of(plan: DossierPlan) -> Pages:
    """How a home's dossier is set; units as shown where nothing is said."""
    chosen = {"metric": METRIC, "inch-pound": INCH_POUND}.get(plan.units, system())
    return Pages(plan.paper, chosen, plan.units == "both")
