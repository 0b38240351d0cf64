"""Fresh air room by room: what each room asks for, and how the home's flow is shared among the rooms."""

from __future__ import annotations

from math import sqrt

from nuthatch.core.air.ventilation import BATH, KITCHEN, PER_PERSON, WC
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import CannotKnow

BY_AREA = 1.0
"""Supply of a room without people of its own, by floor area [m³/(h·m²)]; common practice, no source."""
BY_USE = {"kitchen": KITCHEN, "bath": BATH, "WC": WC}
"""Extract by use [m³/h]."""
OTHER_EXTRACT = 20.0
"""Extract of a room of another use [m³/h]; common practice, no source."""
PASSING = 1.0
"""Pressure that air passing from room to room may cost [Pa]; common practice, no source."""
SHARP = 0.6
"""Discharge coefficient of a gap with sharp edges; common to handbooks, from memory."""
LOW = 0.7
"""Low operation over normal; common practice, no source."""


@calculation(
    "Flow a room asks for",
    "flow",
    "q = max(30 [m³/h]·p, a·A, n·A·h, x)",
    "the largest of people, floor area, air changes and use",
    people="p: count",
    per_area="a: permeability",
    changes="n: ach",
    by_use="x: flow",
    area="A: area",
    height="h: length",
)
def asked_largest(people: float, per_area: float, changes: float, by_use: float, area: float, height: float) -> float:
    """[m³/h]; what is not stated is 0."""
    return max(PER_PERSON * people, per_area * area, changes * area * height, by_use)


@calculation(
    "Flow a room asks for",
    "flow",
    "q = 30 [m³/h]·p + a·A + n·A·h + x",
    "people, floor area, air changes and use, added up",
    people="p: count",
    per_area="a: permeability",
    changes="n: ach",
    by_use="x: flow",
    area="A: area",
    height="h: length",
)
def asked_sum(people: float, per_area: float, changes: float, by_use: float, area: float, height: float) -> float:
    """[m³/h]; what is not stated is 0."""
    return PER_PERSON * people + per_area * area + changes * area * height + by_use


@calculation(
    "Flow of the room",
    "flow",
    "q = q_r·L/S if Σ(f) ≤ 0 else q_r·min(L/S, 1); L = max(V − Σ(x), 0); S = Σ(q_o)",
    "what fixed flows leave of the home's flow, shared by what these rooms ask for; rooms that only fill up come after them",
    total="V: flow",
    fixed="x: flow",
    asked="q_r: flow",
    others="q_o: flow",
    filling="f: flow",
)
def shared_flow(total: float, fixed: tuple[float, ...], asked: float, others: tuple[float, ...], filling: tuple[float, ...]) -> float:
    """[m³/h] of one room; others: what all rooms that ask for air ask for, this one too; filling: what those ask for that take the rest."""
    whole = sum(others)
    if whole <= 0:
        raise CannotKnow("a room that asks for air")
    share = max(total - sum(fixed), 0.0) / whole
    return asked * (share if sum(filling) <= 0 else min(share, 1.0))


@calculation(
    "Flow of the room",
    "flow",
    "q = max(V − Σ(x) − Σ(q_o), 0)·q_r/Σ(f)",
    "what the rooms with people or a flow of their own leave, by floor area",
    total="V: flow",
    fixed="x: flow",
    asked="q_r: flow",
    others="q_o: flow",
    filling="f: flow",
)
def filling_flow(total: float, fixed: tuple[float, ...], asked: float, others: tuple[float, ...], filling: tuple[float, ...]) -> float:
    """[m³/h] of a room that takes its part of the rest."""
    whole = sum(filling)
    if whole <= 0:
        raise CannotKnow("a room that asks for air")
    return max(total - sum(fixed) - sum(others), 0.0) * asked / whole


@calculation("Flow at another operation", "flow", "q = s·q_n", "share of the normal flow", normal="q_n: flow", share="s: percent")
def operated(normal: float, share: float) -> float:
    """[m³/h]."""
    return share * normal


@calculation(
    "Opening for air to pass",
    "free_area",
    "A = q/(0.6·√(2·1 [Pa]/(1.2 [kg/m³])))",
    "flow through a gap at 1 Pa; from memory, 1 Pa common practice",
    flow="q: flow",
)
def passing_area(flow: float) -> float:
    """Free area that lets a flow [m³/h] pass at 1 Pa [m²]."""
    return flow / 3600 / (SHARP * sqrt(2 * PASSING / 1.2))
