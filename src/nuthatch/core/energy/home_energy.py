"""Strings air, people, water, sun, balance, load, carriers together for one home: each function one stage."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from nuthatch.core.air import ventilation as air_calc
from nuthatch.core.climate.climate import Climate
from nuthatch.core.energy import balance, carriers
from nuthatch.core.energy.demands import HOURS, WaterFigures
from nuthatch.core.fabric import ground, openings
from nuthatch.core.fabric.buildup import heat_capacity
from nuthatch.core.fabric.openings import need, optional
from nuthatch.core.figure import Entered, Node, Result, Unknown, calculation, missing, total
from nuthatch.core.household import people as people_calc
from nuthatch.core.model.home import Air, BuildUp, Carrier, HeatSource, Opening, OpeningType, Shape, Site
from nuthatch.core.shape.envelope import Envelope, take
from nuthatch.core.shape.faces import Surface
from nuthatch.core.transmission import CATEGORIES, Element


@dataclass(frozen=True, eq=False)
class AirFigures:
    """Flows and losses of air."""

    n50: Result
    reference_volume: Result
    demand: Result
    supply: Node
    recovery: Result
    infiltration: Result
    unit_loss: Result
    bypassed_loss: Result
    leak_loss: Result
    q50: Result
    fans: Result
    bypass: bool


def _flows(air: Air, people: Result, volume: Result) -> tuple[Result, Node, Node]:
    """(demand, supply, extract) flows."""
    rooms = {k: optional(air, k, "air", 0, "none") for k in ("kitchens", "baths", "wcs")}
    demand = air_calc.demand_flow.figure(people=people, **rooms, volume=volume)
    unit = air.unit
    supply: Node = need(unit, "supply", "air") if unit and unit.supply else demand
    extract: Node = need(unit, "extract", "air") if unit and unit.extract else supply
    return demand, supply, extract


def _recovery(air: Air, supply: Node) -> Result:
    unit = air.unit
    none = Entered("no duct", 0.0, "psi")
    if unit is None:
        label = "Effective heat recovery"
        if supply.value is None:
            return Unknown(label, "percent", getattr(supply, "needs", ()))
        return air_calc.effective_recovery.figure(
            recovery=Entered("no ventilation unit", 0.0, "percent"), psi=none, length=none, flow=supply
        )
    psi: Node = none
    length = optional(unit, "duct_length", "air", 0.0, "no ducts")
    if unit.duct_length and unit.duct_length.value > 0:
        psi = air_calc.duct_psi.figure(
            diameter=need(unit, "duct_diameter", "air"),
            insulation=need(unit, "duct_insulation", "air"),
            conductivity=need(unit, "duct_conductivity", "air"),
        )
    return air_calc.effective_recovery.figure(recovery=need(unit, "recovery", "air"), psi=psi, length=length, flow=supply)


def air_figures(air: Air, people: Result, env: Envelope, envelope_area: Result, climate: Climate | None) -> AirFigures:
    """All air paths of the home: the unit and the leaks."""
    volume = air_calc.reference_volume.figure(area=env.reference_area)
    demand, supply, extract = _flows(air, people, volume)
    density: Node = missing("air density", "fraction", "a climate", "site", "site", "climate")
    if climate is not None:
        density = Entered("air density ratio at the site", climate.air_density_ratio, "fraction", "calculated", "ISO 2533")
    n50 = need(air, "n50", "air")
    rate = air_calc.infiltration.figure(
        n50=n50,
        e=Entered(
            f"e: {air.exposed}, {air.shielding} shielding",
            air_calc.SHIELD[(air.exposed, air.shielding)],
            "fraction",
            "rule",
            "ISO 13789:2007, annex C",
        ),
        f=Entered("f", air_calc.WIND_F[air.exposed], "fraction", "rule", "ISO 13789:2007, annex C"),
        test_volume=env.air_volume,
        volume=volume,
        supply=supply,
        extract=extract,
    )
    recovery = _recovery(air, supply)
    zero = Entered("bypassed", 0.0, "percent")
    flows = {"supply": supply, "extract": extract, "density": density}
    fan: Result = total("Fan electricity", "energy", (), "no ventilation unit")
    if air.unit is not None:
        fan = air_calc.fan_electricity.figure(power=need(air.unit, "power", "air"), flow=supply)
    return AirFigures(
        take("Air change at 50 Pa", "ach", n50),
        volume,
        demand,
        supply,
        recovery,
        rate,
        air_calc.unit_loss.figure(**flows, recovery=recovery),
        air_calc.unit_loss.figure("Ventilation loss, bypassed", **flows, recovery=zero),
        air_calc.infiltration_loss.figure(rate=rate, volume=volume, density=density),
        air_calc.permeability.figure(n50=n50, volume=env.air_volume, envelope=envelope_area),
        fan,
        bool(air.unit and air.unit.bypass),
    )


@dataclass(frozen=True, eq=False)
class SunFigures:
    """Sun through one row of openings: months [kWh], two design days [W]."""

    months: Result
    days: tuple[Result, Result]


def sun_figures(opening: Opening, kind: OpeningType | None, surface: Surface | None, climate: Climate | None, site: Site) -> SunFigures:
    """Solar gains of one row of openings; none where it does not face outside air."""
    label = f"Sun through {opening.name}"
    if kind is None or surface is None or climate is None:
        what = (
            ("an opening type", "openings", opening.id, "type")
            if kind is None
            else ("a face", "openings", opening.id, "face")
            if surface is None
            else ("a climate", "site", "site", "climate")
        )
        gap = missing(label, "energy_month", *what)
        return SunFigures(gap, (gap, gap))
    if surface.borders != "outside air":
        zero = total(label, "energy_month", (Entered("no sun from this side", np.zeros(12), "energy_month"),))
        day = total(label, "power", (Entered("no sun from this side", 0.0, "power"),))
        return SunFigures(zero, (day, day))
    reflectance = optional(site, "ground_reflectance", "site", 0.2, "default")
    sun = climate.plane(surface.tilt, surface.azimuth, float(reflectance.value or 0.0))
    winter = need(opening, "shade_winter", "openings")
    summer = need(opening, "shade_summer", "openings")
    shade: Node = winter if winter.value is None else summer
    if winter.value is not None and summer.value is not None:
        shade = _shade.figure(
            winter=winter, summer=summer, north=Entered("north of the equator", 1.0 if climate.weather.latitude >= 0 else 0.0, "fraction")
        )
    area, g = openings.glass(opening, kind)
    common: dict[str, Any] = {
        "number": optional(opening, "count", "openings", 1, "one"),
        "area": area,
        "g": g,
        "opaque": openings.opaque(kind),
    }
    plane = Entered(
        f"sun on the plane, tilt {surface.tilt:.0f}°, looks to {surface.azimuth:.0f}°",
        sun.months,
        "irradiation",
        "calculated",
        f"{climate.name}, Perez sky",
    )
    days = [
        openings.sun_on_day.figure(
            label,
            **common,
            shade=winter,
            sun=Entered(f"mean sun on the plane, {d.name} day", value, "heat_flux", "calculated", climate.name),
        )
        for d, value in zip(climate.load_days, sun.design, strict=True)
    ]
    return SunFigures(openings.sun_months.figure(label, **common, sun=plane, shade=shade), (days[0], days[1]))


@calculation(
    "Sun let through by month",
    "fraction",
    "summer value from May to September, else winter",
    "common practice, no source",
    winter="F_winter",
    summer="F_summer",
)
def _shade(winter: float, summer: float, north: float) -> np.ndarray:
    """Part of the sun let through by month; north is 1 north of the equator."""
    return openings.shade_by_month(winter, summer, north > 0.5)


@calculation(
    "Capacity",
    "heat_capacity",
    "C = Σ A κ + inner parts · A_ref (J/K)",
    "ISO 13790:2008, 12.3.1; ISO 13786, inner 10 cm",
    areas="A",
    capacities="κ",
    inner="inner parts",
)
def capacity(areas: tuple[float, ...], capacities: tuple[float, ...], inner: float, floor: float) -> float:
    """Heat capacity of the home [kJ/K]; capacities J/(m²·K) per face, inner [kJ/(m²·K)] per floor area."""
    return sum(a * c for a, c in zip(areas, capacities, strict=True)) / 1000 + inner * floor


def capacity_figure(elements: tuple[Element, ...], buildups: tuple[BuildUp, ...], shape: Shape, reference: Result) -> Result:
    """Heat capacity of all faces that border anything, and of the inner parts."""
    by_id = {b.id: b for b in buildups}
    faces = [e for e in elements if e.surface is not None and e.area is not None]
    values = tuple(
        Entered(
            f"capacity of {e.name}",
            heat_capacity(by_id[e.surface.buildup]) if e.surface and e.surface.buildup in by_id else 0.0,
            "fraction",
            "calculated",
            "J/(m²·K), ISO 13786",
        )
        for e in faces
    )
    return capacity.figure(
        areas=tuple(e.area for e in faces), capacities=values, inner=need(shape, "inner_mass", "build-ups"), floor=reference
    )


@dataclass(frozen=True, eq=False)
class Balance:
    """Monthly balance: losses by category, gains by kind, demands."""

    losses: dict[str, Result]
    sun: Result
    internal: Result
    loss: Result
    gains: Result
    eta: Result
    heating: Result
    cooling: Result
    tau: Result
    transmission: Result
    ventilation: Result


def _category_losses(elements: tuple[Element, ...], air: AirFigures, inside: Node, outside: Node) -> dict[str, Result]:
    found: dict[str, Result] = {}
    months = balance.loss_months
    for category in CATEGORIES[:5]:
        mine = [e for e in elements if e.category == category]
        h = total(f"Loss coefficient, {category}", "w_per_k", tuple(e.loss for e in mine if e.periodic is None))
        parts: list[Result] = [months.figure(f"Loss, {category}", coefficient=h, inside=inside, outside=outside, hours=HOURS)]
        for e in mine:
            if e.periodic is not None:
                parts.append(
                    ground.ground_months.figure(
                        f"Heat flow to the ground, {e.name}",
                        steady=e.loss,
                        periodic=e.periodic,
                        inside=inside,
                        outside=outside,
                        hours=HOURS,
                    )
                )
        found[category] = parts[0] if len(parts) == 1 else total(f"Loss, {category}", "energy_month", tuple(parts))
    found["fresh air"] = months.figure("Loss, fresh air", coefficient=air.unit_loss, inside=inside, outside=outside, hours=HOURS)
    found["leaks"] = months.figure("Loss, leaks", coefficient=air.leak_loss, inside=inside, outside=outside, hours=HOURS)
    return found


def balance_figures(
    elements: tuple[Element, ...],
    air: AirFigures,
    suns: tuple[SunFigures, ...],
    power: Result,
    water: WaterFigures,
    cap: Result,
    site: Site,
    climate: Climate | None,
) -> Balance:
    """The monthly balance of the home."""
    outside: Node = missing("outdoor temperature", "temperature", "a climate", "site", "site", "climate")
    if climate is not None:
        outside = Entered("outdoor temperature by month", climate.temperature, "temperature", "calculated", climate.name)
    inside, cool = need(site, "heating_setpoint", "site"), need(site, "cooling_setpoint", "site")
    losses = _category_losses(elements, air, inside, outside)
    sun = total("Sun", "energy_month", tuple(s.months for s in suns))
    if not suns:
        sun = total("Sun", "energy_month", (Entered("no openings", np.zeros(12), "energy_month"),))
    internal = people_calc.gains_months.figure(power=power, water=water.inside, hours=HOURS)
    transmission = total("Transmission loss coefficient", "w_per_k", tuple(e.loss for e in elements), "ISO 13789:2017, 5")
    if not [e for e in elements if e.category != "junctions"]:
        transmission = missing("Transmission loss coefficient", "w_per_k", "faces of the home", "shape", "form", "length")
        losses = {c: transmission if c in CATEGORIES[:5] else r for c, r in losses.items()}
    ventilation = total("Ventilation loss coefficient", "w_per_k", (air.unit_loss, air.leak_loss), "ISO 13789:2017, 8")
    loss = total("Losses", "energy_month", tuple(losses.values()))
    gains = total("Gains", "energy_month", (sun, internal))
    tau = balance.time_constant.figure(capacity=cap, transmission=transmission, ventilation=ventilation)
    eta = balance.heating_utilisation.figure(gains=gains, losses=loss, tau=tau)
    heating = balance.heating_months.figure(losses=loss, gains=gains, eta=eta)
    cooling = _cooling(elements, air, gains, heating, tau, cool, outside)
    return Balance(losses, sun, internal, loss, gains, eta, heating, cooling, tau, transmission, ventilation)


def _cooling(
    elements: tuple[Element, ...], air: AirFigures, gains: Result, heating: Result, tau: Result, cool: Node, outside: Node
) -> Result:
    bypass = Entered("summer bypass" if air.bypass else "no bypass", 1.0 if air.bypass else 0.0, "fraction")
    by_month = balance.bypassed_coefficient.figure(heating=heating, recovered=air.unit_loss, bypassed=air.bypassed_loss, bypass=bypass)
    fresh = balance.loss_months.figure(
        "Loss at the cooling set-point, fresh air", coefficient=by_month, inside=cool, outside=outside, hours=HOURS
    )
    others = _category_losses(elements, air, cool, outside)
    losses = total("Losses at the cooling set-point", "energy_month", (*(others[c] for c in others if c != "fresh air"), fresh))
    eta = balance.cooling_utilisation.figure(gains=gains, losses=losses, tau=tau)
    return balance.cooling_months.figure(losses=losses, gains=gains, eta=eta)


def load_figure(bal: Balance, suns: tuple[SunFigures, ...], reference: Result, site: Site, climate: Climate | None) -> Result:
    """Heating load of the worse design day."""
    if climate is None:
        return missing("Heating load", "heat_flux", "a climate", "site", "site", "climate")
    days = []
    for i, day in enumerate(climate.load_days):
        sun = total(f"Sun on the {day.name} day", "power", tuple(s.days[i] for s in suns))
        days.append(
            balance.load_on_day.figure(
                f"Load on the {day.name} day",
                transmission=bal.transmission,
                ventilation=bal.ventilation,
                inside=need(site, "heating_setpoint", "site"),
                day=Entered(f"mean of the {day.name} days", day.temperature, "temperature", "calculated", climate.name),
                sun=sun,
                area=reference,
            )
        )
    return balance.heating_load.figure(first=days[0], second=days[1], area=reference)


@calculation("Sum of the year", "energy", "Σ months", "sum", months="Q")
def year(months: np.ndarray) -> float:
    """[kWh/a]."""
    return float(np.sum(months))


@dataclass(frozen=True, eq=False)
class Use:
    """One use of delivered energy."""

    name: str
    carrier: Carrier | None
    energy: Result


def uses(
    sources: tuple[HeatSource, ...],
    known: tuple[Carrier, ...],
    electricity: str,
    heating: Result,
    water: Result,
    cooling: Result,
    fans: Result,
    household: Result,
) -> tuple[Use, ...]:
    """Delivered energy by source and use, with fans, auxiliaries and household electricity."""
    by_id = {c.id: c for c in known}
    found = []
    for field, demand in (("heating_share", heating), ("water_share", water), ("cooling_share", cooling)):
        use = carriers.USES[field]
        served = [s for s in sources if getattr(s, field) is not None and getattr(s, field).value > 0]
        sum_of = sum(getattr(s, field).value for s in served)
        if field == "cooling_share" and not served:
            continue
        if abs(sum_of - 1) > 1e-6:
            text = f"a heat source for {use}" if not served else f"shares of {use} that total 100 % (now {sum_of * 100:.1f} %)"
            part = sources[0].id if sources else "home"
            found.append(Use(use, None, missing(f"Energy for {use}", "energy", text, "heat-power", part, field if sources else "sources")))
            continue
        for s in served:
            energy = carriers.delivered.figure(
                f"{s.name}, {use}", share=need(s, field, "heat-power"), demand=demand, efficiency=need(s, "efficiency", "heat-power")
            )
            found.append(Use(f"{s.name}, {use}", by_id.get(s.carrier), energy))
    current = by_id.get(electricity)
    for s in sources:
        if s.auxiliary is not None:
            found.append(
                Use(f"{s.name}, auxiliary", current, take(f"{s.name}, auxiliary electricity", "energy", need(s, "auxiliary", "heat-power")))
            )
    found.append(Use("fans", current, fans))
    found.append(Use("household", current, household))
    return tuple(found)


def weighted(all_uses: tuple[Use, ...], reference: Result, field: str, label: str) -> Result:
    """Primary energy or CO₂ per floor area, or the cost of the year."""
    factors: list[Node] = []
    for use in all_uses:
        if isinstance(use.energy, Unknown):
            continue
        if use.carrier is None:
            factors.append(missing("carrier", "factor", f"an energy carrier for {use.name}", "heat-power", "home", "electricity"))
        else:
            factors.append(need(use.carrier, field, "heat-power"))
    if field == "price":
        return carriers.cost.figure(label, energies=tuple(u.energy for u in all_uses), prices=tuple(factors))
    calc = carriers.primary_energy if field == "primary" else carriers.co2
    return calc.figure(label, energies=tuple(u.energy for u in all_uses), factors=tuple(factors), area=reference)
