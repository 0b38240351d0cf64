"""The drawings of the thin steps as data: bars of air paths, hot water, household, energy, junctions, faces; the months."""

from __future__ import annotations

from typing import Any

from nuthatch.core.assess import Assessment
from nuthatch.core.results.figure import Unknown
from nuthatch.core.junctions.compare import ways
from nuthatch.core.sketch import Sketch, bars
from nuthatch.core.transmission import CATEGORIES
from nuthatch.core.units import show, unit_of, with_unit

Row = tuple[str, float | None, str, str, str]
MONTHS = ("J", "F", "M", "A", "M", "J", "J", "A", "S", "O", "N", "D")


def row(name: str, node: Any, token: str, kind: str = "") -> Row:
    """A bar from a figure; months are summed."""
    if isinstance(node, Unknown) or node.value is None:
        return name, None, "not known yet", token, ""
    value = float(node.value.sum()) if hasattr(node.value, "sum") else float(node.value)
    return name, value, with_unit(value, kind or node.kind), token, ""


def air_paths(a: Assessment) -> Sketch:
    """Every air path and what it loses [W/K]."""
    rows = [
        row("Ventilation unit" if a.home.air.unit else "Windows opened by hand", a.air.unit_loss, "slate_pale"),
        row("Leaks", a.air.leak_loss, "chestnut_pale"),
        row("Unit, if bypassed", a.air.bypassed_loss, "stone"),
    ]
    return bars("Every air path and what it loses", rows)


def air_flows(a: Assessment) -> Sketch:
    """Demand and supply [m³/h]."""
    people = a.figures["people"]
    needed = f"Demand for {show(people.value, 'count')} people" if people.value is not None else "Demand"
    return bars("Flows", [row(needed, a.air.demand, "lichen_pale"), row("Supply", a.air.supply, "slate_pale")])


def hot_water(a: Assessment) -> Sketch:
    """Heat for hot water of the year by where it goes [kWh/a]."""
    months = a.months["hot_water_demand"]
    title = "Heat for hot water in a year"
    if isinstance(months, Unknown):
        return bars(title, [("Heat for hot water", None, "not known yet", "slate_pale", "")])
    i = months.inputs
    rows = [
        row("Water drawn", i["useful"], "tide_pale", "energy"),
        row("Store loss", i["store"], "chestnut_pale", "energy"),
        row("Circulation loss", i["circulation"], "chestnut_pale", "energy"),
        row("Pipes after draw-off", i["draw_off"], "chestnut_pale", "energy"),
        row("Together", months, "slate_pale", "energy"),
    ]
    return bars(title, rows)


def household(a: Assessment) -> Sketch:
    """Internal gains and electricity of the year [kWh/a]."""
    rows = [
        row("Internal gains of the year", a.figures["internal_gains"], "lichen_pale"),
        row("Household electricity", a.figures["household_electricity"], "slate_pale", "energy"),
    ]
    return bars("In a year", rows)


def delivered(a: Assessment) -> Sketch:
    """Delivered energy by source and use [kWh/a]."""
    rows = [row(u.name[0].upper() + u.name[1:], u.energy, "slate_pale", "energy") for u in a.uses]
    return bars("Delivered energy in a year", rows)


def junction_ways(a: Assessment) -> Sketch:
    """The home with its junctions treated four ways, with the limit where there is one."""
    rows: list[Row] = [
        (n, v, show(v, "specific_energy") if v is not None else "not known yet", "slate" if n == "as listed" else "slate_pale", "")
        for n, v in ways(a)
    ]
    limit = next((w.limit for v in a.verdicts for w in v.ways if w.key == "heating_demand" and w.limit), None)
    title = f"The same home, four ways to treat its junctions · heating demand, {unit_of('specific_energy')}"
    return bars(title, rows, limit=limit, limit_label=f"limit {show(limit, 'specific_energy')}" if limit else "")


def face_losses(a: Assessment) -> Sketch:
    """The faces by what they lose, each in the tint of what it borders."""
    tokens = {"outside air": "chestnut_pale", "ground": "wood", "unheated space": "lichen_pale", "neighbour": "slate_pale"}
    rows: list[Row] = []
    for e in a.elements:
        if e.surface is not None and e.area is not None:
            value = None if e.loss.value is None else float(e.loss.value)
            text = "not known yet" if value is None else with_unit(value, "w_per_k", 1)
            rows.append((f"{e.name} · {e.borders}", value, text, tokens[e.borders], e.id))
    return bars(f"Loss by face, {unit_of('w_per_k')}", rows)


def take_off(a: Assessment) -> Sketch:
    """Areas and volumes in one line of large figures."""
    made = Sketch(800, 74, "Take-off")
    rows = (
        ("reference_floor_area", "Reference floor area"),
        ("envelope_area", "Envelope"),
        ("heated_volume", "Heated volume, outside"),
        ("air_volume", "Air volume, inside"),
    )
    made.line((0, 4), (800, 4), stroke="line")
    for i, (key, name) in enumerate(rows):
        f = a.figures[key]
        made.text(i * 200, 24, name, size=11.5, color="muted", id=key)
        text = with_unit(f.value, f.kind, 1) if f.value is not None else "not known yet"
        made.text(i * 200, 48, text, size=16 if f.value is not None else 12, bold=f.value is not None, id=key)
    made.line((0, 66), (800, 66), stroke="line")
    return made


def months_table(a: Assessment) -> Sketch:
    """Every category by month and in the year; a zero stays, at zero."""
    rows = [(f"Loss, {c}", f"loss_{c.replace(' ', '_')}") for c in CATEGORIES]
    rows += [
        ("Losses", "losses"),
        ("Sun", "solar_gains"),
        ("People, appliances, water", "internal_gains"),
        ("Heating", "heating_demand"),
        ("Cooling", "cooling_demand"),
    ]
    unit = unit_of("energy_month")
    made = Sketch(800, 30 + 21 * len(rows), f"Balance by month, {unit}")
    made.text(0, 12, f"{unit} · click a line to open it", size=11, color="muted")
    xs = [212 + i * 44 for i in range(12)] + [792]
    for x, month in zip(xs, (*MONTHS, "year"), strict=True):
        made.text(x, 12, month, size=11, color="muted", anchor="end")
    for n, (name, key) in enumerate(rows):
        y = 32 + n * 21
        made.rect(0, y - 14, 800, 20, stroke="", id=key)
        bold = key in ("losses", "heating_demand")
        made.line((0, y + 6), (800, y + 6), stroke="line", width=0.7)
        made.text(0, y, name, size=11.5, bold=bold, id=key)
        result = a.months[key]
        if isinstance(result, Unknown):
            made.text(212, y, f"needs {result.needs[0].text}", size=11, color="muted", id=key)
            continue
        for x, value in zip(xs, (*result.value, result.value.sum()), strict=True):
            made.text(x, y, show(float(value), "energy_month"), size=11, anchor="end", bold=bold, id=key)
    return made
