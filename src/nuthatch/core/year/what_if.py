"""The hours tried differently: each way the air may move shut or opened, each row of openings dark, gains, blinds or cooling left out: what
it does to the time too warm, to heating and cooling, and what takes its place."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from nuthatch.core.graph.progress import tell
from nuthatch.core.year.comfort import LIMIT
from nuthatch.core.year.problem import Problem, drive_of
from nuthatch.core.year.run import HOURS, Held, Year, too_warm, year


@dataclass(frozen=True)
class Tried:
    """One way the year might be: share of it too warm, its warmest hour [°C], heating and cooling [kWh/(m²·a)]; what moves the air instead."""

    id: str
    name: str
    share: float
    warmest: float
    heating: float
    cooling: float
    instead: str = ""


def what_if(problem: Problem, counted: bool) -> tuple[Tried, ...]:
    """The year as it is first, then one thing differently each; counted: windows are opened by hand. Tells how far it is. Raises
    CannotKnow."""
    cases = list(_cases(problem, counted))
    found: list[Tried] = []
    base: Year | None = None
    for n, (ident, name, p, hand) in enumerate(cases):
        tried, made = _tried(ident, name, p, hand, base)
        base = made if base is None else base
        found.append(tried)
        tell((n + 1) / len(cases))
    return tuple(found)


def _tried(ident: str, name: str, p: Problem, hand: bool, base: Year | None) -> tuple[Tried, Year]:
    drive = drive_of(p)
    shut = replace(drive, windows=np.zeros(HOURS))
    needs = year(p.network, shut, Held(p.warm, p.cold)).held
    made = year(p.network, drive if hand else shut, Held(p.warm, p.cold if p.served else None, p.most_heat))
    heat, cold = (float(np.maximum(sign * needs, 0).sum() / 1000 / p.area) for sign in (1, -1))
    return Tried(ident, name, too_warm(made.operative, LIMIT), float(made.operative.max()), heat, cold, instead(p, made, base)), made


def instead(p: Problem, made: Year, base: Year | None) -> str:
    """What moves the air where one way is shut: the hours of bypass and windows beside those of the year as it is."""
    if base is None:
        return ""

    def hours(y: Year) -> tuple[int, int]:
        by_hand = y.opened > 1e-6
        return int((y.moved - y.opened > p.air + 1e-6).sum()), int(by_hand.sum())

    bypass, hand = hours(made)
    was_bypass = int((base.moved - base.opened > base.moved.min() + 1e-6).sum())
    was_hand = int((base.opened > 1e-6).sum())
    told = []
    if bypass > was_bypass:
        told.append(f"the bypass opens in {bypass} hours, {bypass - was_bypass} more")
    if hand > was_hand:
        told.append(f"windows open in {hand} hours, {hand - was_hand} more")
    return "; ".join(told)


def _cases(p: Problem, counted: bool) -> Iterator[tuple[str, str, Problem, bool]]:
    """(id, name, problem, whether windows are opened by hand)."""
    yield "", "As it is", p, counted
    yield "by_hand", "Windows left shut" if counted else "Windows opened by hand", p, not counted
    if p.open_air > p.air:
        yield "bypass", "Bypass shut", replace(p, open_air=p.air), counted
    if p.air > p.leaks:
        yield "fresh air", "No fresh air", replace(p, air=p.leaks, open_air=p.open_air if p.open_air > p.air else p.leaks), counted
    if p.leaks > 0:
        yield "leaks", "No leaks", replace(p, air=p.air - p.leaks, open_air=p.open_air - p.leaks, leaks=0.0), counted
    yield "air", "No air at all", replace(p, air=0.0, open_air=0.0, leaks=0.0, by_hand=0.0), False
    if any(s.bare is not None for s in p.sun):
        up = tuple(replace(s, light=s.bare) if s.bare is not None else s for s in p.sun)
        yield "blinds", "Blinds left up", replace(p, sun=up), counted
    if p.served:
        yield "cooling", "No cooling", replace(p, served=False), counted
    if p.gains.any():
        yield "household", "No people, appliances and lights", replace(p, gains=np.zeros(HOURS)), counted
    for one in p.sun:
        yield one.id, f"{one.name.removeprefix('Sun through ')}: dark", replace(p, sun=tuple(s for s in p.sun if s is not one)), counted
