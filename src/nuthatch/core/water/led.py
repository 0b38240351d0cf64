"""Stores and pipes of hot water: what each loses by month, and whether it warms the rooms."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import hypot

import numpy as np

from nuthatch.core.climate.calendar import MONTH_HOURS_LEAF
from nuthatch.core.climate.patterns import daily_hours, days_named
from nuthatch.core.model.hot_water import HotWater, PipeRun, Store
from nuthatch.core.model.part import specs
from nuthatch.core.model.patterns import DayPattern
from nuthatch.core.results.entries import need, optional
from nuthatch.core.results.figure import Entered, Figure, Node, missing
from nuthatch.core.water import hot_water as calc
from nuthatch.core.water.pipes import pipe_psi

PARTS = ("store", "circulation", "draw_off")


@dataclass(frozen=True, eq=False)
class Kept:
    """A store or a pipe: its id, which of PARTS it is, what it loses by month [kWh], whether that warms the rooms; hours a day a ring runs, in
    the mean."""

    id: str
    part: str
    loss: Figure
    inside: bool
    hours: float | None = None


@dataclass(frozen=True, eq=False)
class Surroundings:
    """What stores and pipes stand in: outdoors by month, b of the space of each part that stands in an unheated one."""

    outside: Node
    spaces: Mapping[str, Node]
    southern: bool
    patterns: tuple[DayPattern, ...]

    def around(self, part: Store | PipeRun) -> Node:
        """The air around it."""
        if part.place == "inside the envelope":
            return Entered(f"the rooms around {part.name}", calc.ROOM, "temperature", "rule")
        if part.place == "outside air":
            return self.outside
        b = self.spaces.get(part.id) or missing("b factor", "fraction", f"an unheated space that {part.name} stands in", part.id, "space")
        return calc.around.figure(f"Around {part.name}, by month", b=b, outside=self.outside)


def kept_at(water: HotWater) -> Node:
    """How warm the hottest store is kept; without one, the hot water."""
    told = [s for s in water.stores if s.temperature is not None]
    hottest = max(told, key=lambda s: s.temperature.value if s.temperature else 0.0, default=None)
    return need(hottest, "temperature") if hottest is not None else need(water, "temperature")


def of_store(s: Store, hot: Node, place: Surroundings) -> Kept:
    """What a store loses."""
    loss: Node
    if s.loss is None and s.volume is not None:
        loss = calc.store_by_volume.figure(f"Store loss of {s.name}, by its volume", volume=need(s, "volume"))
    else:
        loss = need(s, "loss")
    warm = need(s, "temperature") if s.temperature is not None else hot
    found = calc.store_loss.figure(f"Loss of {s.name}", loss=loss, store=warm, air=place.around(s), hours=MONTH_HOURS_LEAF)
    return Kept(s.id, "store", found, s.place == "inside the envelope")


def length_of(run: PipeRun) -> Node:
    """Its length as typed, else as drawn."""
    if run.length is not None or len(run.corners) < 2:
        return need(run, "length")
    at = [(c.x.value if c.x else 0.0, c.y.value if c.y else 0.0) for c in run.corners]
    pieces = tuple(
        Entered(f"piece {n} of {run.name}", hypot(b[0] - a[0], b[1] - a[1]), "length", "declared", "drawn", run.id, "length")
        for n, (a, b) in enumerate(zip(at[:-1], at[1:], strict=True), 1)
    )
    return calc.drawn_length.figure(f"Length of {run.name}, drawn", pieces=pieces, rise=optional(run, "rise", 0.0, "none"))


def content_of(run: PipeRun, length: Node) -> Node:
    """Litres in it: as typed, else by its diameter, else as usual."""
    if run.content is not None:
        return need(run, "content")
    if run.diameter is not None:
        return calc.pipe_content.figure(f"Content of {run.name}", diameter=need(run, "diameter"), length=length)
    return calc.usual_content.figure(f"Content of {run.name}, as usual", length=length)


def psi_of(run: PipeRun) -> Node:
    """As typed, else by the pipe and its insulation."""
    if run.psi is not None or run.diameter is None:
        return need(run, "psi")
    fields = (("diameter", "diameter"), ("insulation", "insulation"), ("conductivity", "conductivity"))
    return pipe_psi.figure(f"Pipe loss ψ of {run.name}", **{name: need(run, field) for name, field in fields})


def hours_of(run: PipeRun, place: Surroundings) -> Node:
    """Hours a day it runs, by its pattern or as typed."""
    pattern = next((p for p in place.patterns if p.id == run.pattern), None)
    return daily_hours(pattern, place.southern) if pattern is not None and days_named(pattern) else need(run, "hours")


def of_run(run: PipeRun, people: Figure, hot: Node, place: Surroundings) -> Kept:
    """What a pipe loses."""
    length, inside = length_of(run), run.place == "inside the envelope"
    content = content_of(run, length)
    if run.kind == "to a tap":
        found = calc.draw_off_loss.figure(
            f"Loss of {run.name}",
            people=people,
            draws=need(run, "draws"),
            content=content,
            hot=hot,
            air=place.around(run),
            hours=MONTH_HOURS_LEAF,
        )
        return Kept(run.id, "draw_off", found, inside)
    daily = hours_of(run, place)
    if run.stops is not None:
        stops = need(run, "stops")
    else:
        number = 1.0 if daily.value is not None and 0 < float(np.mean(daily.value)) < 24 else 0.0
        stops = Entered(f"{specs(PipeRun)['stops'].label}: {'one' if number else 'none'}", number, "count", "assumed")
    found = calc.circulation_loss.figure(
        f"Loss of {run.name}", psi=psi_of(run), length=length, hot=hot, air=place.around(run), daily=daily, stops=stops, content=content,
        hours=MONTH_HOURS_LEAF,
    )  # fmt: skip
    return Kept(run.id, "circulation", found, inside, float(np.mean(daily.value)) if daily.value is not None else None)
