"""Air: infiltration from the test, ventilation by demand, heat recovery with its ducts."""

from __future__ import annotations

from math import exp, log, pi

from nuthatch.core.figure import CannotKnow, calculation

AIR_HEAT = 0.34  # Wh/(m³·K) at sea level
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
WIND_F = {"several sides": 15.0, "one side": 20.0}


@calculation(
    "Reference volume", "volume", "V_ref = A_ref · 2.5 m", "common practice: the volume behind every air-change rate", area="A_ref"
)
def reference_volume(area: float) -> float:
    """[m³] from the reference floor area [m²]."""
    return area * REFERENCE_HEIGHT


@calculation(
    "Ventilation flow by demand",
    "flow",
    "max(30 · people, 60 · kitchens + 40 · baths + 20 · WCs, 0.3 · V_ref)",
    "common practice: supply per person, extract per room, least air change",
    people="people",
    volume="V_ref",
)
def demand_flow(people: float, kitchens: float, baths: float, wcs: float, volume: float) -> float:
    """[m³/h]; the largest of the three demands governs."""
    return max(PER_PERSON * people, KITCHEN * kitchens + BATH * baths + WC * wcs, LEAST * volume)


@calculation(
    "Duct loss per metre",
    "psi",
    "ψ = 2π / (ln(D/d)/λ + 2/(h D)), D = d + 2 s, h = 8",
    "ISO 12241, cylinder with one layer",
    diameter="d",
    insulation="s",
    conductivity="λ",
)
def duct_psi(diameter: float, insulation: float, conductivity: float) -> float:
    """[W/(m·K)] of an insulated round duct."""
    outer = diameter + 2 * insulation
    return 2 * pi / (log(outer / diameter) / conductivity + 2 / (8.0 * outer))


@calculation(
    "Effective heat recovery",
    "percent",
    "η_eff = η · exp(−ψ L / (0.34 V̇))",
    "exponential duct loss on both ducts between unit and envelope",
    recovery="η",
    psi="ψ",
    length="L",
    flow="V̇",
)
def effective_recovery(recovery: float, psi: float, length: float, flow: float) -> float:
    """Recovery after duct losses, 0–1; length of both ducts together [m], flow [m³/h]."""
    if flow <= 0:
        raise CannotKnow("a ventilation flow above 0")
    return recovery * exp(-psi * length / (AIR_HEAT * flow))


@calculation(
    "Infiltration",
    "ach",
    "n_inf = n50 · e · V_test/V_ref / (1 + (f/e)(Δn/n50)²), Δn = |supply − extract| / V_ref",
    "ISO 13789:2007, annex C",
    n50="n50",
    e="e",
    f="f",
    test_volume="V_test",
    volume="V_ref",
)
def infiltration(n50: float, e: float, f: float, test_volume: float, volume: float, supply: float, extract: float) -> float:
    """Air change by infiltration on the reference volume [1/h]."""
    if volume <= 0:
        raise CannotKnow("a reference floor area above 0")
    surplus = abs(supply - extract) / volume
    if n50 <= 0:
        return 0.0
    return n50 * e * test_volume / volume / (1 + f / e * (surplus / n50) ** 2)


@calculation(
    "Ventilation loss, unit",
    "w_per_k",
    "H = 0.34 · ρ/ρ₀ · (V̇ (1 − η_eff) + ΔV̇)",
    "ISO 13789:2017, 8; flow not balanced is not recovered",
    supply="V̇_sup",
    extract="V̇_ext",
    recovery="η_eff",
    density="ρ/ρ₀",
)
def unit_loss(supply: float, extract: float, recovery: float, density: float) -> float:
    """Loss coefficient of the ventilation unit [W/K]; recovery works on the smaller flow."""
    return AIR_HEAT * density * (min(supply, extract) * (1 - recovery) + abs(supply - extract))


@calculation(
    "Infiltration loss", "w_per_k", "H = 0.34 · ρ/ρ₀ · n_inf · V_ref", "ISO 13789:2017, 8", rate="n_inf", volume="V_ref", density="ρ/ρ₀"
)
def infiltration_loss(rate: float, volume: float, density: float) -> float:
    """Loss coefficient of infiltration [W/K]."""
    return AIR_HEAT * density * rate * volume


@calculation(
    "Permeability at 50 Pa",
    "permeability",
    "q50 = n50 · V_test / A_envelope",
    "ISO 9972:2015, 6.3",
    n50="n50",
    volume="V_test",
    envelope="A_E",
)
def permeability(n50: float, volume: float, envelope: float) -> float:
    """[m³/(h·m²)] of the envelope."""
    if envelope <= 0:
        raise CannotKnow("an envelope area above 0")
    return n50 * volume / envelope


@calculation("Fan electricity", "energy", "E = p · V̇ · 8760 / 1000", "fan power per m³ of supply", power="p", flow="V̇")
def fan_electricity(power: float, flow: float) -> float:
    """[kWh/a] from Wh/m³ and m³/h."""
    return power * flow * 8.76
