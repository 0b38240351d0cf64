"""Air: infiltration from the test, ventilation by demand, heat recovery with its ducts."""

from __future__ import annotations

from math import exp

import numpy as np

from nuthatch.core.climate.humid_air import AIR_HEAT
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import Array, CannotKnow
from nuthatch.core.water.pipes import round_psi

PER_PERSON, KITCHEN, BATH, WC, LEAST = 30.0, 60.0, 40.0, 20.0, 0.3
REFERENCE_HEIGHT = 2.5
SHIELD = {
    ("several sides", "open"): 0.10,
    ("several sides", "moderate"): 0.07,
    ("several sides", "high"): 0.04,
    ("one side", "open"): 0.03,
    ("one side", "moderate"): 0.02,
    ("one side", "high"): 0.01,
}
BEYOND = 1e100
"""Where the surplus is so many times what leaks at 50 Pa, nothing leaks in by wind, and the square of it is no number any more."""
WIND_F = {"several sides": 15.0, "one side": 20.0}


@calculation("Reference volume", "volume", "V = A·2.5 [m]", "common practice: the volume behind every air-change rate", area="A: area")
def reference_volume(area: float) -> float:
    """[m³] from the reference floor area [m²]."""
    return area * REFERENCE_HEIGHT


@calculation(
    "Fresh air by demand, normal operation",
    "flow",
    "q = max(s·p, r·V)",
    "common practice: supply per person, least air change; a target set may fix both",
    people="p: count",
    volume="V: volume",
    each="s: flow",
    change="r: ach",
)
def normal_flow(people: float, volume: float, each: float, change: float) -> float:
    """[m³/h] round the clock; what kitchens and baths ask for is boost. each: a person's [m³/h]; change: at least, air change [1/h]."""
    return max(each * people, change * volume)


@calculation(
    "Fresh air by demand, boost",
    "flow",
    "q = max(q_n, 60 [m³/h]·k + 40 [m³/h]·b + 20 [m³/h]·w, Σ(x))",
    "common practice: what boost must reach is the normal flow or all extract rooms together",
    normal="q_n: flow",
    kitchens="k: count",
    baths="b: count",
    wcs="w: count",
    rooms="x: flow",
)
def boost_flow(normal: float, kitchens: float, baths: float, wcs: float, rooms: tuple[float, ...]) -> float:
    """[m³/h] that boost must reach; rooms: what the drawn extract rooms ask for."""
    return max(normal, KITCHEN * kitchens + BATH * baths + WC * wcs, sum(rooms))


@calculation(
    "Boost over normal", "percent", "s = max(q_b/q, 1) if q > 0 else 1", "as much as boost must reach", boost="q_b: flow", flow="q: flow"
)
def boost_over_normal(boost: float, flow: float) -> float:
    """Share of the normal flow [m³/h] that boost runs at, 1 and more."""
    return max(boost / flow, 1.0) if flow > 0 else 1.0


@calculation(
    "Duct loss per metre",
    "psi",
    "ψ = 2·π/(ln(D/d)/λ + 2/(8 [W/(m²·K)]·D)); D = d + 2·s",
    "ISO 12241, cylinder with one layer",
    diameter="d: width",
    insulation="s: width",
    conductivity="λ: conductivity",
)
def duct_psi(diameter: float, insulation: float, conductivity: float) -> float:
    """[W/(m·K)] of an insulated round duct."""
    return round_psi(diameter, insulation, conductivity)


@calculation(
    "Ducts, loss coefficient",
    "w_per_k",
    "H = Σ(ψ·L)",
    "the two cold ducts of a unit inside the envelope, the two warm ones of a unit outside it; each piece its own length",
    psis="ψ: psi",
    lengths="L: length",
)
def ducts_loss(psis: tuple[float, ...], lengths: tuple[float, ...]) -> float:
    """[W/K] of the ducts that count."""
    return sum(psi * length for psi, length in zip(psis, lengths, strict=True))


@calculation(
    "Effective heat recovery",
    "percent",
    "η_e = 0 if q ≤ 0 else η·exp(−H/(0.34 [Wh/(m³·K)]·r·q))",
    "exponential duct loss; H is that of the ducts between unit and envelope, or through the cold; no flow recovers nothing",
    recovery="η: percent",
    ducts="H: w_per_k",
    flow="q: flow",
    density="r: fraction",
)
def effective_recovery(recovery: float, ducts: float, flow: float, density: float) -> float:
    """Recovery after duct losses, 0–1; loss coefficient of the ducts [W/K], flow [m³/h], air density over that at sea level."""
    if flow <= 0:
        return 0.0
    return recovery * exp(-ducts / (AIR_HEAT * density * flow))


@calculation("Effective heat recovery", "percent", "η_e = 0·q", "air moved one way only leaves nothing to recover from", flow="q: flow")
def no_recovery(flow: float) -> float:
    """0 for a flow [m³/h] without a counterpart."""
    return 0.0 * flow


@calculation(
    "Loss, fresh air through windows",
    "w_per_k",
    "H = 0.34 [Wh/(m³·K)]·r·max(q − n·V, 0)",
    "without a unit the larger of required flow and infiltration counts, not their sum; from memory",
    demand="q: flow",
    rate="n: ach",
    volume="V: volume",
    density="r: fraction",
)
def window_loss(demand: float, rate: float, volume: float, density: float) -> float:
    """What people add by opening windows to the air that leaks in anyway [W/K]."""
    return AIR_HEAT * density * max(demand - rate * volume, 0.0)


@calculation(
    "Infiltration",
    "ach",
    "n = 0 if n50 ≤ 0 else n50·e·V_t/V/(1 + f/e·(s/n50)^2); s = abs(q_s − q_e)/V_t",
    "ISO 13789:2007, annex C; n50 and what moves one way more both refer to the volume of the test",
    n50="n50: ach",
    e="e: fraction",
    f="f: fraction",
    test_volume="V_t: volume",
    volume="V: volume",
    flows="q_s, q_e: flow",
)
def infiltration(n50: float, e: float, f: float, test_volume: float, volume: float, flows: tuple[float, float]) -> float:
    """Air change by infiltration on the reference volume [1/h]."""
    if volume <= 0:
        raise CannotKnow("a reference floor area above 0")
    if test_volume <= 0:
        raise CannotKnow("an air volume above 0")
    supply, extract = flows
    surplus = abs(supply - extract) / test_volume
    if n50 <= 0 or surplus / n50 > BEYOND:
        return 0.0
    return n50 * e * test_volume / volume / (1 + f / e * (surplus / n50) ** 2)


@calculation(
    "Ventilation loss, unit",
    "w_per_k",
    "H = 0.34 [Wh/(m³·K)]·r·(q_s − η_e·min(q_s, q_e)) if S ≥ X else 0.34 [Wh/(m³·K)]·r·(q_e − η_e·min(q_s, q_e))",
    "ISO 13789:2017, 8; the air of the home counts once, on the side where all units together move more; recovery works on the smaller flow",
    supply="q_s: flow",
    extract="q_e: flow",
    recovery="η_e: percent",
    density="r: fraction",
    all_supply="S: flow",
    all_extract="X: flow",
)
def unit_loss(supply: float, extract: float, recovery: float, density: float, all_supply: float, all_extract: float) -> float:
    """Part of one unit in the loss coefficient of the home [W/K]: all of them add up to the larger total less what is recovered, so that
    what one supplies and another extracts is lost once."""
    moved = supply if all_supply >= all_extract else extract
    return AIR_HEAT * density * (moved - recovery * min(supply, extract))


@calculation(
    "Infiltration loss",
    "w_per_k",
    "H = 0.34 [Wh/(m³·K)]·r·n·V",
    "ISO 13789:2017, 8",
    rate="n: ach",
    volume="V: volume",
    density="r: fraction",
)
def infiltration_loss(rate: float, volume: float, density: float) -> float:
    """Loss coefficient of infiltration [W/K]."""
    return AIR_HEAT * density * rate * volume


@calculation(
    "Permeability at 50 Pa",
    "permeability",
    "q50 = n50·V_t/A_E",
    "ISO 9972:2015, 6.3; the envelope in overall internal dimensions",
    n50="n50: ach",
    volume="V_t: volume",
    envelope="A_E: area",
)
def permeability(n50: float, volume: float, envelope: float) -> float:
    """[m³/(h·m²)] of the envelope."""
    if envelope <= 0:
        raise CannotKnow("an envelope area above 0")
    return n50 * volume / envelope


@calculation(
    "Fan electricity",
    "energy",
    "E = p·q·s·8760 [h]",
    "fan power per m³ of supply; s is the share of the time it runs so",
    power="p: specific_power",
    flow="q: flow",
    share="s: percent",
)
def fan_electricity(power: float, flow: float, share: float) -> float:
    """[kWh/a] from Wh/m³, m³/h and a share of the time."""
    return power * flow * share * 8.76


@calculation(
    "Fan power at a flow",
    "specific_power",
    "p = p_1 if q ≤ q_1 else p_2 if q ≥ q_2 else p_1 + (p_2 − p_1)·(q − q_1)/(q_2 − q_1)",
    "stated: straight between the least and the most flow of the unit",
    flow="q: flow",
    low="q_1: flow",
    high="q_2: flow",
    at_low="p_1: specific_power",
    at_high="p_2: specific_power",
)
def fan_power(flow: float, low: float, high: float, at_low: float, at_high: float) -> float:
    """[Wh/m³] between two known ones."""
    if flow <= low:
        return at_low
    if flow >= high:
        return at_high
    return at_low + (at_high - at_low) * (flow - low) / (high - low)


@calculation(
    "Mean flow of the day",
    "flow",
    "q = Σ(q_o·s)",
    "the flow of each operation by the share of the time it runs, days of the week weighted",
    flows="q_o: flow",
    shares="s: percent",
)
def mean_flow(flows: tuple[float, ...], shares: tuple[float, ...]) -> float:
    """[m³/h] over all hours, off counts as 0."""
    return sum(q * s for q, s in zip(flows, shares, strict=True))


@calculation("Air change by ventilation", "ach", "n = q/V", "on the reference volume", flow="q: flow", volume="V: volume")
def air_change(flow: float, volume: float) -> float:
    """[1/h] of a flow [m³/h]."""
    if volume <= 0:
        raise CannotKnow("a reference floor area above 0")
    return flow / volume


@calculation(
    "Frost protection",
    "energy",
    "E = 0.34 [Wh/(m³·K)]·r·q·D",
    "0.34·V·Σ max(0, θ_frost − θ_e) over the hours of the year",
    flow="q: flow",
    degrees="D: degree_days",
    density="r: fraction",
)
def frost_energy(flow: float, degrees: float, density: float) -> float:
    """Electricity that warms the outdoor air [kWh/a]; D in K·d below the limit."""
    return AIR_HEAT * density * flow * degrees * 0.024


@calculation(
    "Cold below the frost limit",
    "degree_days",
    "the degrees below the limit, added up over the hours of the year",
    "from the weather file",
    closed=False,
    limit="θ_f: temperature",
    outside="θ_e: temperature",
)
def frost_degrees(limit: float, outside: Array) -> float:
    """[K·d] of hourly temperatures [°C] below a limit."""
    return float(np.maximum(limit - outside, 0.0).sum()) / 24
