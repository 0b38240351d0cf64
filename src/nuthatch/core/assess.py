"""assess(home, climate, previous): the only place that strings the calculations of a home together."""

from __future__ import annotations

from dataclasses import dataclass

from nuthatch.core import questions as ask
from nuthatch.core.climate.climate import Climate
from nuthatch.core.energy import balance as balance_calc
from nuthatch.core.energy import demands
from nuthatch.core.energy import home_energy as energy
from nuthatch.core.fabric import openings as opening_calc
from nuthatch.core.fabric.openings import need
from nuthatch.core.figure import Entered, Node, Result, Unknown, missing
from nuthatch.core.model.home import Home, Opening, OpeningType, Site
from nuthatch.core.model.target_set import TargetSet
from nuthatch.core.shape.envelope import Envelope, envelope, envelope_area, take
from nuthatch.core.shape.faces import gaps
from nuthatch.core.stages import Done, Stages
from nuthatch.core.targets import code, verdict
from nuthatch.core.transmission import Element, elements
from nuthatch.core.units import with_unit


@dataclass(frozen=True, eq=False)
class Assessment:
    """Everything computed of one home. `figures` by key; `months` keys are figures with 12 values."""

    home: Home
    climate: Climate | None
    zone: str
    envelope: Envelope
    elements: tuple[Element, ...]
    air: energy.AirFigures
    balance: energy.Balance
    uses: tuple[energy.Use, ...]
    figures: dict[str, Result]
    months: dict[str, Result]
    verdicts: tuple[verdict.Verdict, ...]
    questions: tuple[ask.Question, ...]
    stages: dict[str, Done]
    ran: tuple[str, ...]

    @property
    def standing(self) -> str:
        return verdict.overall(self.verdicts)


def assess(home: Home, climate: Climate | None, previous: Assessment | None = None) -> Assessment:
    """Compute everything of a home; stages whose inputs did not change are taken from `previous`."""
    stages = Stages(previous.stages if previous else None)
    run = stages.run
    studio = verdict.studio_people(home)
    env = run("envelope", envelope, home.shape, home.buildups)
    shell = run("envelope area", envelope_area, env.areas, env.surfaces)
    people = run("people", demands.people_figure, home.brief, home.household, studio)
    faces = {s.id: run(f"surface/{s.id}", lambda s: s, s) for s in env.surfaces}
    parts = elements(home, env, faces, stages)
    parts = run("elements", lambda *e: tuple(e), *parts)
    air = run("air", energy.air_figures, home.air, people, env, shell, climate)
    water = run("water", demands.water_figures, home.water, people, climate)
    types = {t.id: t for t in home.opening_types}
    suns = tuple(run(f"sun/{o.id}", energy.sun_figures, o, types.get(o.type), faces.get(o.face), climate, home.site) for o in home.openings)
    suns = run("suns", lambda *s: tuple(s), *suns)
    power, electricity = run("household", demands.household_figures, home.household, people, env.reference_area)
    cap = run("capacity", energy.capacity_figure, parts, home.buildups, home.shape, env.reference_area)
    bal = run("balance", energy.balance_figures, parts, air, suns, power, water, cap, home.site, climate)
    load = run("load", energy.load_figure, bal, suns, env.reference_area, home.site, climate)
    yearly = run("yearly", _yearly, bal, water, env.reference_area)
    uses = run("uses", energy.uses, home.sources, home.carriers, home.electricity, *yearly[:3], air.fans, electricity)
    zone = run("zone", _zone, climate, home.site)
    figures = _figures(home, env, shell, people, air, bal, load, yearly, uses, electricity)
    figures |= run("code", _code, home.target_sets, home.openings, home.opening_types, parts, zone)
    figures |= run("slab edge", _slab_edge, home.site)
    months = {
        "heating_demand": bal.heating,
        "cooling_demand": bal.cooling,
        "losses": bal.loss,
        "solar_gains": bal.sun,
        "internal_gains": bal.internal,
        "hot_water_demand": water.months,
        **{f"loss_{k.replace(' ', '_')}": v for k, v in bal.losses.items()},
    }
    slab = any(s.role == "floor" and s.borders == "ground" for s in env.surfaces)
    at = verdict.Circumstances(zone, home.brief.dwelling, slab)
    verdicts, points = verdict.judge(home.target_sets, at, figures)
    figures |= points
    found = ask.questions(home, env, parts, air, figures, climate, tuple(gaps(env.drawn)))
    return Assessment(home, climate, zone, env, parts, air, bal, uses, figures, months, verdicts, found, stages.done, tuple(stages.ran))


def _zone(climate: Climate | None, site: Site) -> str:
    """Climate zone with its moisture letter, '' without a climate."""
    return climate.zone("" if site.moisture.startswith("from") else site.moisture[0]) if climate else ""


def _yearly(bal: energy.Balance, water: demands.WaterFigures, reference: Result) -> tuple[Result, ...]:
    """Yearly sums [kWh/a] and values per floor area."""
    per = balance_calc.per_area.figure
    return (
        energy.year.figure("Heating of the year", months=bal.heating),
        energy.year.figure("Heat for hot water of the year", months=water.months),
        energy.year.figure("Cooling of the year", months=bal.cooling),
        per("Heating demand", months=bal.heating, area=reference),
        per("Cooling demand", months=bal.cooling, area=reference),
        per("Heat for hot water", months=water.months, area=reference),
        energy.year.figure("Sun of the year", months=bal.sun),
        energy.year.figure("Internal gains of the year", months=bal.internal),
    )


def _figures(
    home: Home,
    env: Envelope,
    shell: Result,
    people: Result,
    air: energy.AirFigures,
    bal: energy.Balance,
    load: Result,
    yearly: tuple[Result, ...],
    uses: tuple[energy.Use, ...],
    electricity: Result,
) -> dict[str, Result]:
    """The results by their stable keys."""
    overheating = missing(f"Hours above {with_unit(25, 'temperature', 0)}", "percent", "the hourly year to come")
    return {
        "reference_floor_area": env.reference_area,
        "heated_volume": env.volume,
        "air_volume": env.air_volume,
        "envelope_area": shell,
        "people": people,
        "transmission_loss_coefficient": bal.transmission,
        "ventilation_loss_coefficient": bal.ventilation,
        "time_constant": bal.tau,
        "heating_demand": yearly[3],
        "cooling_demand": yearly[4],
        "heating_load": load,
        "n50": air.n50,
        "q50": air.q50,
        "infiltration_rate": air.infiltration,
        "effective_heat_recovery": air.recovery,
        "ventilation_flow": take("Ventilation flow", "flow", air.supply),
        "hot_water_demand": yearly[5],
        "solar_gains": yearly[6],
        "internal_gains": yearly[7],
        "household_electricity": electricity,
        "primary_energy": energy.weighted(uses, env.reference_area, "primary", "Primary energy"),
        "co2": energy.weighted(uses, env.reference_area, "co2", "CO₂"),
        "energy_cost": energy.weighted(uses, env.reference_area, "price", "Energy cost"),
        "overheating_share": overheating,
    }


def _slab_edge(site: object) -> dict[str, Result]:
    return {
        "slab_edge_resistance": take("Slab edge insulation", "resistance", need(site, "slab_edge_r", "site")),  # type: ignore[arg-type]
        "slab_edge_depth": take("Slab edge depth", "length", need(site, "slab_edge_depth", "site")),  # type: ignore[arg-type]
    }


def _gross(opening: Opening) -> Node:
    return opening_calc.glass_by_share.figure(
        f"Area of {opening.name}", **opening_calc.sizes(opening), share=opening_calc.optional(opening, "count", "openings", 1, "one")
    )


def _shgc(opening: Opening, kind: OpeningType) -> Node:
    area, solar = opening_calc.glass(opening, kind)
    if kind.entry == "whole window" and kind.solar_kind == "SHGC of the window":
        return solar
    return code.shgc_from_parts.figure(f"SHGC of {opening.name}", g=solar, glass=area, **opening_calc.sizes(opening))


def _code(
    sets: tuple[TargetSet, ...], rows: tuple[Opening, ...], types: tuple[OpeningType, ...], parts: tuple[Element, ...], zone: str
) -> dict[str, Result]:
    """UA proposed and limit, and the mean SHGC, by the first target set that has a table."""
    table = next((s.ua_table for s in sets if s.ua_table), None)
    by_id = {o.id: o for o in rows}
    kinds = {t.id: t for t in types}
    u: list[Node] = []
    areas: list[Node] = []
    limits: list[Node] = []
    limit_row = code.zone_row(table, zone) if table and zone else None
    for e in parts:
        column = "opening" if e.id in by_id else e.surface.role if e.surface else ""
        known = column in code.COLUMNS and e.borders not in ("neighbour", "ground")
        if not known and not (column == "opening" and e.surface is None):
            continue
        u.append(e.u or Unknown(f"U of {e.name}", "u", e.loss.needs if isinstance(e.loss, Unknown) else ()))
        areas.append(_gross(by_id[e.id]) if e.id in by_id else e.area or e.loss)
        name = "skylight" if _is_rooflight(e.id, by_id, kinds) else code.COLUMNS[column]
        if limit_row is not None:
            limits.append(Entered(f"code U, {name}, zone {zone}", limit_row[name], "u", "rule", "IECC 2021, table R402.1.2, from memory"))
    proposed = code.ua_proposed.figure(u=tuple(u), areas=tuple(areas))
    if table is None:
        limit: Result = missing("UA limit", "w_per_k", "a target set with a table of U-values", "brief", "home", "target_sets")
    elif limit_row is None:
        limit = missing("UA limit", "w_per_k", "a climate zone the table knows", "site", "site", "climate")
    else:
        limit = code.ua_limit.figure(u=tuple(limits), areas=tuple(areas))
    windows = [o for o in rows if o.type in kinds and kinds[o.type].use != "door"]
    shgc = code.mean_shgc.figure(values=tuple(_shgc(o, kinds[o.type]) for o in windows), areas=tuple(_gross(o) for o in windows))
    return {"ua_proposed": proposed, "ua_limit": limit, "window_shgc": shgc}


def _is_rooflight(element: str, rows: dict[str, Opening], kinds: dict[str, OpeningType]) -> bool:
    return element in rows and rows[element].type in kinds and kinds[rows[element].type].use == "rooflight"
