"""The chapters a dossier can have: each with its heading, what it is for, what its template is given, and whether there is anything to say."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from nuthatch.core.air.stages import FLOWS
from nuthatch.core.airtest.stages import TESTED
from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.air_sheets import air, tightness_is, valves
from nuthatch.core.dossier.alike import questions_together
from nuthatch.core.dossier.details import details
from nuthatch.core.dossier.drawn_shape import drawn_shape
from nuthatch.core.dossier.fabric_sheets import buildups, opening_types
from nuthatch.core.dossier.hours import hours, rooms
from nuthatch.core.dossier.options import options
from nuthatch.core.dossier.pictures import picture
from nuthatch.core.dossier.place import place, shielding_in_words
from nuthatch.core.dossier.proof import evidence, lacking, missing_by_supplier
from nuthatch.core.dossier.revisions import revisions
from nuthatch.core.dossier.setting import Setting
from nuthatch.core.dossier.systems import systems
from nuthatch.core.dossier.values import by_basis, every_result
from nuthatch.core.energy.stages import BALANCE
from nuthatch.core.questions import assumptions
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.sun.let_in import LetIn
from nuthatch.core.sun.stages import LET_IN
from nuthatch.core.views.balance.account import account
from nuthatch.core.views.junctions.comes_to import months_row

Content = dict[str, Any]


@dataclass(frozen=True)
class ChapterKind:
    """One kind of chapter: `content` gives its template what it shows beside what all have; `there`: whether it has anything to say; `opens`:
    it begins a gathering (binding), on a page of its own."""

    key: str
    title: str
    about: str
    content: Callable[[Setting], Content] = lambda s: {}
    there: Callable[[Assessment], bool] = lambda a: True
    opens: bool = False


def _verdict(s: Setting) -> Content:
    return {"assumed": sum(1 for _ in assumptions(s.a.home))}


def _takeoff(s: Setting) -> Content:
    drawn = drawn_shape(s.a, s.pages)
    plain = {} if drawn["storey_plans"] else {"plan": picture(s.a, "plan")}
    return {"shape": s.a[SOLID], "solid": picture(s.a, "solid"), "below": picture(s.a, "below"), **drawn, **plain}


def _air(s: Setting) -> Content:
    return {
        "flows": s.a[FLOWS],
        "tightness_is": tightness_is(s.a),
        "shielding": shielding_in_words(s.a),
        "recovers": any(u.moves == "supply and extract" for u in s.a.home.air.units),
        "fresh": {**air(s.a, s.content), "valves": valves(s.a)},
    }


def _junctions(s: Setting) -> Content:
    found = details(s.a)
    return {"details": found, "months_needed": months_row(s.a) if any(d["boundaries"] for d in found) else []}


def _assumed(s: Setting) -> Content:
    return {"assumptions": by_basis(s.a.home, s.links)["assumed"], "assumed_count": sum(1 for _ in assumptions(s.a.home))}


def _values(s: Setting) -> Content:
    found = by_basis(s.a.home, s.links)
    return {"bases": {k: rows for k, rows in found.items() if k != "assumed" or "assumed" not in s.chapters}}


def _evidence(s: Setting) -> Content:
    return {"evidence": evidence(s.a.home, s.content), "lacking": lacking(s.a.home), "missing": missing_by_supplier(s.a)}


def _heat(s: Setting) -> Content:
    return {"balanced": account(s.a[BALANCE]) is not None, "cutaway": picture(s.a, "cutaway"), "account": picture(s.a, "account")}


def _balance(s: Setting) -> Content:
    return {"balanced": account(s.a[BALANCE]) is not None, "amounts": picture(s.a, "amounts"), "shares": picture(s.a, "shares")}


def _has_rooms(a: Assessment) -> bool:
    built = a[BUILT]
    return built is not None and bool(built.rooms)


def _tested(a: Assessment) -> bool:
    return any(t.result is not None for t in a.all_of(TESTED).values())


CHAPTERS = {
    kind.key: kind
    for kind in (
        ChapterKind("summary", "How it stands", "verdict and the main numbers in plain words, every target with its margin"),
        ChapterKind("verdict", "Targets with margins", "every target with its value, limit, margin, and what its set fixes", _verdict),
        ChapterKind("heat", "Where the heat goes", "the cutaway and the year’s account", _heat),
        ChapterKind(
            "place",
            "Site and climate",
            "the weather, the site from above, the horizon",
            lambda s: {"climate": picture(s.a, "climate") if s.a.site_climate else "", "place": place(s.a, site=True)},
        ),
        ChapterKind(
            "takeoff", "Take-off", "plans, elevations and section to scale, every face with its number and area", _takeoff, opens=True
        ),
        ChapterKind("build-ups", "Build-ups", "each construction with its layers, U, and moisture", lambda s: {"buildups": buildups(s.a)}),
        ChapterKind(
            "openings",
            "Openings",
            "the schedule, each type drawn",
            lambda s: {"types": opening_types(s.a)},
            lambda a: bool(a.home.openings),
        ),
        ChapterKind(
            "sun",
            "Sun on the openings",
            "what of the sun each opening lets in, and what stands before it",
            lambda s: {"place": place(s.a)},
            lambda a: any(isinstance(x, LetIn) for x in a.all_of(LET_IN).values()),
        ),
        ChapterKind("junctions", "Junctions", "each with length and ψ; details in two dimensions", _junctions, opens=True),
        ChapterKind("air", "Air", "tightness, air paths, ventilation schedule, commissioning sheet", _air),
        ChapterKind(
            "air-tests", "Air tests", "each test with its readings, fit and validity", lambda s: {"fresh": air(s.a, s.content)}, _tested
        ),
        ChapterKind(
            "water",
            "Hot water and household",
            "demand, stores, pipes, people and appliances",
            lambda s: {"systems": systems(s.a)},
            opens=True,
        ),
        ChapterKind(
            "power", "Heat and power", "sources with seasonal performance, carriers, own electricity", lambda s: {"systems": systems(s.a)}
        ),
        ChapterKind("balance", "Balance", "gains and losses by month", _balance),
        ChapterKind("hours", "The year by the hour", "summer comfort and needs by the hour", lambda s: {"hours": hours(s.a)}),
        ChapterKind("rooms", "Loads of rooms", "heating and cooling load of each room", lambda s: {"hours": rooms(s.a)}, _has_rooms),
        ChapterKind(
            "options",
            "Options",
            "the upgrades that are to stand in the dossier",
            lambda s: {"options": options(s.a)},
            lambda a: any(o.report for o in a.home.options),
        ),
        ChapterKind("pinned", "Pinned drawings and charts", "those that stand in no other chapter", there=lambda a: bool(a.home.pins)),
        ChapterKind(
            "open",
            "Open questions",
            "what a person must still settle",
            lambda s: {"questions": questions_together(s.a.questions)},
            opens=True,
        ),
        ChapterKind(
            "revisions",
            "Revisions",
            "what was issued before, what has changed since, what it did to each target",
            lambda s: {"revisions": revisions(s)},
            lambda a: bool(a.home.issued),
        ),
        ChapterKind("assumed", "Assumptions", "every value that rests on one", _assumed),
        ChapterKind("evidence", "Evidence", "what is attached, each with its hash; what is still asked of whom", _evidence),
        ChapterKind("values", "Values by their basis", "every value somebody entered", _values),
        ChapterKind(
            "results",
            "Every result",
            "each with its key and how it is worked out",
            lambda s: {"every": every_result(s.a), "balance_in": "balance" in s.chapters},
            opens=True,
        ),
        ChapterKind("declaration", "Declaration", "who stands for it, with places for names and signatures", opens=True),
        ChapterKind("index", "Index of results", "on which pages each is told"),
    )
}
