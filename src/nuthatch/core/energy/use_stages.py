"""How delivered energy hangs in the graph: heat each source makes, what modules on the roof give, energy by use and carrier, its weights."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypedDict, Unpack

from nuthatch.core.air.stages import LOSSES, Losses
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.stages import AT_SITE, Weathered
from nuthatch.core.energy import carriers, heat_pump, own_power
from nuthatch.core.energy.own_power import PeakHours, Sheet
from nuthatch.core.energy.sheets import by_points, needs_hours, sheet_questions, source_of
from nuthatch.core.energy.sources import Demands, EnergyUse, Performs, Uses, share_questions, uses, weighted
from nuthatch.core.energy.stages import BALANCE, COOLING, HELD, YEAR, Balance, Year
from nuthatch.core.graph.stage import ITEM, Family, Slot, Stages, field, part
from nuthatch.core.household.stages import USE, HouseholdUse
from nuthatch.core.model.heat import Carrier, HeatSource, Modules, OwnPower
from nuthatch.core.model.hot_water import HotWater, SolarField
from nuthatch.core.model.part import specs
from nuthatch.core.model.ventilation import VentilationUnit
from nuthatch.core.results.calculation import take, total
from nuthatch.core.results.entries import need, optional
from nuthatch.core.results.figure import Computing, Entered, Figure, Node, Unknown, because, missing
from nuthatch.core.results.question import Question
from nuthatch.core.solid.stages import REFERENCE
from nuthatch.core.sun.fields import FieldSun
from nuthatch.core.sun.stages import FIELD_SUN
from nuthatch.core.water.led import kept_at
from nuthatch.core.water.stages import WATER, Water, cold_of


@dataclass(frozen=True, eq=False)
class Weights:
    """Primary energy and CO₂ per floor area, the cost of the year."""

    primary: Figure
    co2: Figure
    cost: Figure


@dataclass(frozen=True, eq=False)
class Own:
    """Electricity the home makes: by the id of each field of modules, in all, what of it is used at home and fed in, by month [kWh]; what is
    used of that carrier in each month."""

    fields: tuple[tuple[str, Figure], ...]
    made: Figure
    needed: Figure
    at_home: Figure
    fed_in: Figure


@dataclass(frozen=True, eq=False)
class Seasons:
    """What is told of the year beside energy by carrier: how well heat pumps do, what the home's roof makes."""

    heating: Figure
    water: Figure
    own: Figure


STAGES = Stages()
PERFORMS: Slot[dict[tuple[str, str], Performs]] = Slot("heat that sources make by month")
"""By the id of the source and the field of its share."""
SHEETS: Slot[dict[str, Sheet]] = Slot("sheets of modules")
PEAK_HOURS: Family[PeakHours | Unknown | Computing | None] = Family("hours of modules at peak power")
YIELD: Slot[tuple[tuple[str, Figure], ...]] = Slot("electricity of modules")
BOUGHT: Slot[tuple[EnergyUse, ...]] = Slot("uses of energy, without own electricity")
OWN: Slot[Own | None] = Slot("own electricity")
USES: Slot[tuple[EnergyUse, ...]] = Slot("uses of energy")
WEIGHTS: Slot[Weights] = Slot("weighted energy", {"primary_energy": "primary", "co2": "co2", "energy_cost": "cost"})
SEASONS: Slot[Seasons] = Slot(
    "seasonal performance", {"seasonal_performance_heating": "heating", "seasonal_performance_water": "water", "own_electricity": "own"}
)
ASKS: Slot[tuple[Question, ...]] = Slot("questions of heat sources", asks=True)


class SourceReads(TypedDict):
    """What the heat of sources by month rests on besides themselves."""

    climate: Weathered
    balance: Balance
    water: Water
    kept: HotWater
    inside: Node
    air: Losses


@STAGES.stage(PERFORMS, sources=part("sources"), climate=AT_SITE, balance=BALANCE, water=WATER, kept=part("water"), inside=HELD, air=LOSSES)
def made_by_month(sources: tuple[HeatSource, ...], **reads: Unpack[SourceReads]) -> dict[tuple[str, str], Performs]:
    """Sources whose months tell it: heat pumps that go by their sheet, whatever has a limit of power or a bivalence point."""
    found: dict[tuple[str, str], Performs] = {}
    for s in sources:
        if by_points(s) or needs_hours(s):
            found[(s.id, "heating_share")] = _on_heating(s, **reads)
        if by_points(s) or s.flow_most is not None:
            found[(s.id, "water_share")] = _on_water(s, **reads)
    return found


def _of_climate(climate: Weathered) -> tuple[Node, Node]:
    """(outdoors by hour, winter design) as leaves."""
    if not isinstance(climate, Climate):
        return because("outdoor temperature by hour", "temperature", climate), because("winter design", "temperature", climate)
    hours = Entered("outdoor temperature by hour", climate.weather.temperature, "temperature", "calculated", climate.name)
    return hours, Entered("winter design, two days", climate.winter_design, "temperature", "calculated", climate.name)


def _sheet(s: HeatSource) -> dict[str, tuple[Node, ...]]:
    told = [p for p in s.points if p.source is not None and p.flow is not None and p.cop is not None]
    return {k: tuple(need(p, f) for p in told) for k, f in (("sources", "source"), ("flows", "flow"), ("cops", "cop"))}


def _on_heating(s: HeatSource, **reads: Unpack[SourceReads]) -> Performs:
    balance, inside = reads["balance"], reads["inside"]
    outside, design = _of_climate(reads["climate"])
    share, lost = optional(s, "heating_share", 0.0, "none"), optional(s, "distribution", 0.0, "none")
    pumps = s.kind == "heat pump" and s.stops_below is not None
    limits: dict[str, Node] = {
        "share": share,
        "lost": lost,
        "power": _limit(s, "power", s.power is not None),
        "point": _limit(s, "stops_below", pumps),
        "alone": Entered(f"below it: {s.below}", float(pumps and s.below == "the other alone"), "fraction", "declared", "", s.id, "below"),
    }
    hours = {"outside": outside, "heating": balance.heating, "losses": balance.loss, "inside": inside}
    asked = heat_pump.asked_of.figure(f"Heat {s.name} is asked for", share=share, heat=balance.heating, lost=lost)
    heat, rest = asked, None
    if needs_hours(s):
        heat = heat_pump.made_months.figure(f"Heat {s.name} makes for the rooms", **hours, **limits)
        rest = heat_pump.left_over.figure(f"What {s.name} leaves", asked=asked, made=heat)
    factor = None
    if by_points(s):
        source = source_of(s, reads["climate"], outside, inside, reads["air"].recovery)
        factor = heat_pump.on_heating.figure(
            f"{s.name}, performance on heating",
            **_sheet(s),
            **hours,
            **limits,
            source=source,
            design=design,
            at_design=need(s, "flow_design"),
        )
    return Performs(heat, factor, rest)


def _limit(s: HeatSource, field: str, there: bool) -> Node:
    """A limit as entered, or that there is none."""
    return need(s, field) if there else Entered(specs(HeatSource)[field].label, heat_pump.NONE, "text", "rule", "", s.id, field)


def _on_water(s: HeatSource, **reads: Unpack[SourceReads]) -> Performs:
    hot = kept_at(reads["kept"])
    share = optional(s, "water_share", 0.0, "none")
    asked = heat_pump.asked_of.figure(f"Hot water {s.name} is asked for", share=share, heat=reads["water"].rest, lost=NO_LOSS)
    heat, rest = asked, None
    limited = s.flow_most is not None and s.kind == "heat pump"
    hottest = _limit(s, "flow_most", limited)
    if limited:
        cold = cold_of(reads["kept"], reads["climate"])
        heat = heat_pump.water_made.figure(f"Hot water {s.name} makes", asked=asked, store=hot, cold=cold, most=hottest)
        rest = heat_pump.left_over.figure(f"What {s.name} leaves of the hot water", asked=asked, made=heat)
    factor = None
    if by_points(s):
        outside, _ = _of_climate(reads["climate"])
        source = source_of(s, reads["climate"], outside, reads["inside"], reads["air"].recovery)
        factor = heat_pump.on_water.figure(f"{s.name}, performance on hot water", **_sheet(s), source=source, store=hot, most=hottest)
    return Performs(heat, factor, rest)


NO_LOSS = Entered("no distribution: it is told by the pipes", 0.0, "percent", "rule")


@STAGES.stage(SHEETS, modules=part("power.modules"))
def sheets_of_modules(modules: tuple[Modules, ...]) -> dict[str, Sheet]:
    """What their hours rest on besides sun and air: another peak power works out no hour anew."""
    found = {}
    for m in modules:
        given = {f: m[f].value for f in ("warm", "losses", "inverter", "sunlit") if m[f] is not None}
        found[m.id] = Sheet(m.id, mounted=m.mounted, **given)
    return found


def _waiting(since: float) -> Computing:
    return Computing("Hours at peak power", "hours", since, "the hours of the modules")


def _dark(sheet: Sheet, sun: FieldSun | Unknown | Computing | None, climate: Weathered) -> bool:
    """Whether there is nothing to work out."""
    return not isinstance(sun, FieldSun) or not isinstance(climate, Climate)


@STAGES.slow(PEAK_HOURS, _waiting, each=SHEETS, at_hand=_dark, sheet=ITEM, sun=FIELD_SUN.at(), climate=AT_SITE)
def peak_hours(sheet: Sheet, sun: FieldSun | Unknown | Computing | None, climate: Weathered) -> PeakHours | Unknown | Computing | None:
    """Hours at peak power by month; why there are none. pvlib, and what it loads, stays in another process."""
    if not isinstance(sun, FieldSun):
        return sun
    if not isinstance(climate, Climate):
        return climate
    return own_power.full_hours(sheet, sun, climate.weather.temperature, climate.weather.wind)


@STAGES.stage(YIELD, modules=part("power.modules"), hours=PEAK_HOURS, climate=AT_SITE)
def modules_yield(
    modules: tuple[Modules, ...], hours: dict[str, PeakHours | Unknown | Computing | None], climate: Weathered
) -> tuple[tuple[str, Figure], ...]:
    """What each field of modules gives by month."""
    source = f"{climate.name}, past the horizon and what stands near" if isinstance(climate, Climate) else ""
    return tuple((m.id, _yield(m, hours.get(m.id), source)) for m in modules)


def _yield(m: Modules, hours: PeakHours | Unknown | Computing | None, source: str) -> Figure:
    label = f"Electricity of {m.name}"
    if hours is None:
        return missing(label, "energy_month", "tilt and direction of the modules", m.id, "tilt")
    if isinstance(hours, Unknown | Computing):
        return own_power.made.figure(label, peak=need(m, "peak"), hours=because("hours at peak power", "hours", hours))
    at_peak = own_power.at_peak.figure(
        f"Hours at peak power of {m.name}",
        found=Entered("by the hours of the year", hours.months, "hours", "calculated", source),
        warm=optional(m, "warm", own_power.WARM, "usual"),
        losses=optional(m, "losses", own_power.LOSSES, "usual"),
        inverter=optional(m, "inverter", own_power.INVERTER, "usual"),
        sunlit=optional(m, "sunlit", 1.0, "as what stands near leaves it"),
        mounted=Entered("mounted", m.mounted, "text", "declared", "", m.id, "mounted"),
    )
    return own_power.made.figure(label, peak=need(m, "peak"), hours=at_peak)


class UseReads(TypedDict):
    """What delivered energy rests on besides sources and carriers."""

    year: Year
    balance: Balance
    cooling: Figure
    water: Water
    air: Losses
    use: HouseholdUse
    performs: dict[tuple[str, str], Performs]
    fields: tuple[SolarField, ...]


@STAGES.stage(
    BOUGHT,
    sources=part("sources"),
    known=part("carriers"),
    current=field("electricity"),
    fields=part("water.solar"),
    year=YEAR,
    balance=BALANCE,
    cooling=COOLING,
    water=WATER,
    air=LOSSES,
    use=USE,
    performs=PERFORMS,
)
def energy_uses(
    sources: tuple[HeatSource, ...], known: tuple[Carrier, ...], current: str, **reads: Unpack[UseReads]
) -> tuple[EnergyUse, ...]:
    """Delivered energy by source and use."""
    year, air = reads["year"], reads["air"]
    demands: Demands = {
        "heating_share": (year.heating, reads["balance"].heating),
        "water_share": (year.water_rest, reads["water"].rest),
        "cooling_share": (year.cooling, reads["cooling"]),
    }
    plain = {"fans": ("fans", air.fans)}
    if any(u.frost for u in air.units):
        plain["frost protection"] = ("frost protection", air.frost)
    plain["household"] = ("household", reads["use"].electricity)
    for f in reads["fields"]:
        if f.pump is not None:
            plain[f"{f.name}, pump"] = ("pump", take(f"{f.name}, pump", "energy", need(f, "pump")))
    return uses(Uses(sources, {c.id: c for c in known}, current, reads["performs"]), demands, plain)


@STAGES.stage(OWN, power=part("power"), yields=YIELD, bought=BOUGHT, current=field("electricity"))
def own(power: OwnPower, yields: tuple[tuple[str, Figure], ...], bought: tuple[EnergyUse, ...], current: str) -> Own | None:
    """What modules give, and what of it is used at home."""
    if not yields:
        return None
    made = yields[0][1] if len(yields) == 1 else total("Own electricity", "energy_month", tuple(f for _, f in yields))
    mine = [u for u in bought if u.carrier is not None and u.carrier.id == current]
    needed = own_power.used_months.figure(energies=tuple(u.energy for u in mine), spreads=tuple(u.spread for u in mine))
    usual = own_power.USED_WITH_BATTERY if power.battery else own_power.USED
    words = f"usual {'with' if power.battery else 'without'} a battery"
    at_home = own_power.at_home.figure(made=made, used=needed, share=optional(power, "own_use", usual, words))
    return Own(yields, made, needed, at_home, own_power.fed_in.figure(made=made, used=at_home))


@STAGES.stage(USES, bought=BOUGHT, own=OWN, counted=part("power.counted"), current=field("electricity"), known=part("carriers"))
def all_uses(
    bought: tuple[EnergyUse, ...], own: Own | None, counted: str, current: str, known: tuple[Carrier, ...]
) -> tuple[EnergyUse, ...]:
    """Delivered energy, own electricity taken off where it counts."""
    if own is None or counted != "counted":
        return bought
    carrier = next((c for c in known if c.id == current), None)
    off = own_power.taken_off.figure(months=own.at_home)
    return (*bought, EnergyUse("own electricity, used at home", carrier, off, "own electricity", spread=own.at_home))


@STAGES.stage(WEIGHTS, uses=USES, reference=REFERENCE)
def weights(uses: tuple[EnergyUse, ...], reference: Figure) -> Weights:
    """Primary energy, CO₂ and cost."""
    return Weights(
        weighted(carriers.primary_energy, uses, "primary", reference),
        weighted(carriers.co2, uses, "co2", reference),
        weighted(carriers.cost, uses, "price", None),
    )


@STAGES.stage(SEASONS, performs=PERFORMS, own=OWN)
def seasons(performs: dict[tuple[str, str], Performs], own: Own | None) -> Seasons:
    """Of all heat pumps together that go by the points of their sheets, and of all modules."""
    made = missing("Own electricity of a year", "energy", "modules on the roof", "own-power", "modules")
    return Seasons(
        _seasonal("Seasonal performance, heating", performs, "heating_share"),
        _seasonal("Seasonal performance, hot water", performs, "water_share"),
        made if own is None else own_power.of_the_year.figure(made=own.made),
    )


def _seasonal(label: str, performs: dict[tuple[str, str], Performs], field: str) -> Figure:
    rows = [(p.heat, p.factor) for (_, served), p in performs.items() if served == field and p.factor is not None]
    if not rows:
        return missing(label, "factor", "a heat pump that goes by the points of its sheet", "home", "sources")
    taken = tuple(heat_pump.delivered_months.figure(months=heat, factor=factor) for heat, factor in rows)
    return heat_pump.seasonal.figure(label, heat=tuple(heat for heat, _ in rows), energy=taken)


@STAGES.stage(ASKS, sources=part("sources"), units=part("air.units"))
def asks(sources: tuple[HeatSource, ...], units: tuple[VentilationUnit, ...]) -> tuple[Question, ...]:
    """Shares that do not make 100 %; sheets of heat pumps that cannot be; fires that burn the air of rooms a unit draws from."""
    found = [*share_questions(sources), *sheet_questions(sources)]
    draws = next((u for u in units if u.moves != "supply only"), None)
    for s in sources:
        if s.kind == "stove" and s.stove_air == "room air" and draws is not None:
            says = f"{s.name} burns the air of the rooms while {draws.name} draws air from them: what keeps its smoke in the chimney?"
            found.append(Question(s.id, "stove_air", says))
        if s.takes_from == "air leaving the unit" and s.kind == "heat pump" and not any(u.moves == "supply and extract" for u in units):
            found.append(
                Question(s.id, "takes_from", f"{s.name} takes heat from the air that leaves a ventilation unit, but there is no such unit")
            )
    return tuple(found)
