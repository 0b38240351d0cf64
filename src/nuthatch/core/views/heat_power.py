"""Heat pumps drawn: at which outdoor temperatures their heat is needed, and how well they make it; by month beside."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.energy import heat_pump as calc
from nuthatch.core.energy.sources import Performs
from nuthatch.core.energy.use_stages import PERFORMS
from nuthatch.core.model.heat import HeatSource
from nuthatch.core.results.figure import MONTHS, Array, Known, Node, Unknown, state_words
from nuthatch.core.sketch import Picture, Sketch
from nuthatch.core.units import kind_of, show, unit_of, with_unit
from nuthatch.core.views.climate_drawn import ticks

USES = {"heating_share": "Heating", "water_share": "Hot water"}


def pump_of(a: Assessment, ident: str = "") -> HeatSource | None:
    """The heat pump that is looked at: by its id, else the first that goes by its sheet."""
    known = {key for (key, _), p in a[PERFORMS].items() if p.factor is not None}
    found = [s for s in a.home.sources if s.id in known]
    return next((s for s in found if s.id == ident), found[0] if found else None)


def season(known: Performs) -> float | None:
    """Heat over electricity in the year; None where it is not known or nothing is needed."""
    demand, factor = known.heat.value, known.factor.value if known.factor is not None else None
    if demand is None or factor is None or not np.sum(demand) > 0:
        return None
    return float(np.sum(demand) / np.sum(demand / factor))


def _value(node: Node) -> Array:
    return np.asarray(node.value, float)


def heat_by_hour(a: Assessment, known: Known) -> Array:
    """Heat a heat pump makes for the rooms by hour of the year, (8760,) [kWh], as its performance parts it."""
    inputs = known.inputs
    numbers = {k: float(_value(inputs[k])) for k in ("share", "lost", "alone")}
    power, point = (v if isinstance(v := inputs[k].value, str) else float(v) for k in ("power", "point"))
    outside, heating, losses = (_value(inputs[k]) for k in ("outside", "heating", "losses"))
    return calc.hours_made(outside, heating, losses, float(_value(inputs["inside"])), **numbers, power=power, point=point)


def heat_pump(a: Assessment, ident: str = "", size: tuple[float, float] = (560.0, 300.0)) -> Sketch:
    """Heat by outdoor temperature as bars, COP as a line."""
    pump = pump_of(a, ident)
    made = Sketch(size[0], size[1], "Heat pump")
    if pump is None:
        made.say(
            "no heat pump goes by its data sheet: set the kind of a source to heat pump, leave its COP empty, and add points of its sheet"
        )
        return made
    factor = a[PERFORMS][(pump.id, "heating_share")].factor
    if not isinstance(factor, Known):
        assert factor is not None
        made.say(f"needs {factor.needs[0].text}" if isinstance(factor, Unknown) else state_words(factor))
        return made
    inputs = factor.inputs
    outside, heat = _value(inputs["outside"]), heat_by_hour(a, factor)
    needed = heat > 0
    if not needed.any():
        made.say("no heating is needed")
        return made
    _drawn(made, inputs, outside, heat, pump)
    return made


def _drawn(made: Sketch, numbers: Mapping[str, Any], outside: Array, heat: Array, pump: HeatSource) -> None:
    points = list(zip(*(tuple(float(n.value) for n in numbers[k]) for k in ("sources", "flows", "cops")), strict=True))
    design, top_flow = float(numbers["design"].value), float(numbers["at_design"].value)
    low, high = int(np.floor(outside[heat > 0].min())), int(np.ceil(outside[heat > 0].max()))
    bins = np.arange(low, high + 1)
    amounts = np.array([heat[(outside >= b) & (outside < b + 1)].sum() for b in bins])
    source = calc.by_hour(_value(numbers["source"]))
    at = np.array(
        [source[(outside >= b) & (outside < b + 1)].mean() if ((outside >= b) & (outside < b + 1)).any() else np.nan for b in bins]
    )
    flows = calc.curve(np.asarray(bins + 0.5, float), design, top_flow)
    cops = calc.performance(points, at, flows)
    left, top, wide, high_px = 40.0, 34.0, made.width - 80.0, made.height - 84.0
    energy = kind_of("energy_month")
    scale = max(float(energy.to_shown(amounts.max())), 1e-9)
    most = max(float(np.nanmax(cops)) * 1.1, 1.0)
    step = wide / len(bins)

    def y(value: float, of: float) -> float:
        return top + (1 - value / of) * high_px

    for t in ticks(0.0, scale):
        made.line((left, y(t, scale)), (left + wide, y(t, scale)), stroke="grid")
        made.text(left - 5, y(t, scale) + 4, f"{t:g}", size=9.5, color="muted", anchor="end")
    for n, (b, amount) in enumerate(zip(bins, amounts, strict=True)):
        value = float(energy.to_shown(amount))
        tip = f"{with_unit(float(b), 'temperature', 0)} to {with_unit(float(b + 1), 'temperature', 0)}: {value:.0f} {energy.unit}"
        tip += f", flow {with_unit(float(flows[n]), 'temperature', 0)}, COP {cops[n]:.2f}" if np.isfinite(cops[n]) else ""
        made.rect(
            left + n * step + 0.5,
            y(value, scale),
            max(step - 1, 0.6),
            high_px - (y(value, scale) - top),
            fill="slate_pale",
            stroke="",
            tip=tip,
            id=f"bin:{b}",
        )
    line = [(left + (n + 0.5) * step, y(float(c), most)) for n, c in enumerate(cops) if np.isfinite(c)]
    made.line(*line, stroke="tide", width=2.0)
    for t in ticks(0.0, most):
        made.text(left + wide + 5, y(t, most) + 4, f"{t:g}", size=9.5, color="tide")
    for t in ticks(float(kind_of("temperature").to_shown(float(low))), float(kind_of("temperature").to_shown(float(high + 1)))):
        x = left + (kind_of("temperature").to_stored(t) - low) * step
        made.text(x, top + high_px + 14, f"{t:g}".replace("-", "−"), size=10, color="muted", anchor="middle")
    made.text(0, 14, pump.name, size=13, bold=True)
    made.text(left - 34, 29, f"heat, {energy.unit}", size=10, color="muted")
    made.text(left + wide + 34, 29, "COP", size=10, color="tide", anchor="end")
    made.text(left, top + high_px + 30, f"outdoors, {unit_of('temperature')}", size=10, color="muted")


def performance_rows(a: Assessment, ident: str = "") -> list[tuple[str, tuple[str, ...]]]:
    """Rows of (id, cells): performance of each use by month and in the year, and the electricity it takes."""
    pump = pump_of(a, ident)
    if pump is None:
        return []
    rows = []
    for field, name in USES.items():
        known = a[PERFORMS].get((pump.id, field))
        if known is None or known.factor is None or known.factor.value is None or known.heat.value is None:
            continue
        demand, factor = _value(known.heat), _value(known.factor)
        whole = season(known)
        cells = [show(float(f), "factor") if d > 0 else "" for d, f in zip(demand, factor, strict=True)]
        rows.append((field, (f"COP, {name.lower()}", *cells, show(whole, "factor") if whole is not None else "")))
        used = demand / factor
        rows.append(
            (
                f"{field}:used",
                (f"kWh, {name.lower()}", *(show(float(u), "energy_month") for u in used), show(float(used.sum()), "energy_month")),
            )
        )
    return rows


HEADS = ("", *MONTHS, "year")
PICTURES = (Picture("heat-pump", "Heat pump by outdoor temperature", lambda a, of: heat_pump(a, of)),)
