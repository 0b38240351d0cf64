"""The monthly balance: ISO 13790:2008 (kept as the monthly method of ISO 52016-1), and the heating load."""

from __future__ import annotations

import numpy as np

from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import Array, CannotKnow

LOAD_GAINS = 1.6
"""Heat of people and machines that the heating load takes off [W/m²]."""
TAU_0, A_0 = 15.0, 1.0


@calculation(
    "Loss by month",
    "energy_month",
    "Q = H·(θ_i − θ_e)·t",
    "ISO 13790:2008, 8.2 and 9.2",
    coefficient="H: w_per_k",
    inside="θ_i: temperature",
    outside="θ_e: temperature",
    hours="t: hours",
)
def loss_months(coefficient: float, inside: float, outside: Array, hours: Array) -> Array:
    """[kWh] by month; negative where outside is warmer."""
    return coefficient * (inside - outside) * hours / 1000


@calculation(
    "Time constant",
    "hours",
    "τ = C/(H_T + H_V)",
    "ISO 13790:2008, 12.2.1.3",
    capacity="C: capacity",
    transmission="H_T: w_per_k",
    ventilation="H_V: w_per_k",
)
def time_constant(capacity: float, transmission: float, ventilation: float) -> float:
    """[h]; capacity in kJ/K, coefficients W/K."""
    if transmission + ventilation <= 0:
        raise CannotKnow("a loss coefficient above 0")
    return capacity / 3.6 / (transmission + ventilation)


@calculation(
    "Time constant by month, cooling",
    "hours",
    "τ = C/(H_T + H_V)",
    "ISO 13790:2008, 12.2.1.3, with the ventilation of the month",
    capacity="C: capacity",
    transmission="H_T: w_per_k",
    ventilation="H_V: w_per_k",
)
def time_constant_months(capacity: float, transmission: float, ventilation: Array) -> Array:
    """[h] by month."""
    if (transmission + ventilation <= 0).any():
        raise CannotKnow("a loss coefficient above 0")
    return capacity / 3.6 / (transmission + ventilation)


def ratio(gains: Array, losses: Array) -> Array:
    """γ = gains / losses; a loss of exactly 0 gives +inf, handled by the callers."""
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.asarray(np.where(losses == 0, np.inf, gains / np.where(losses == 0, 1.0, losses)))


@calculation(
    "Utilisation of gains, heating",
    "fraction",
    "η = 0 if Q_l ≤ 0 else 1 if Q_g ≤ 0 else a/(a + 1) if Q_g = Q_l else (1 − γ^a)/(1 − γ^(a + 1)); γ = Q_g/Q_l; a = 1 + τ/(15 [h])",
    "ISO 13790:2008, 12.2.1.1",
    gains="Q_g: energy_month",
    losses="Q_l: energy_month",
    tau="τ: hours",
)
def heating_utilisation(gains: Array, losses: Array, tau: float) -> Array:
    """η by month, 0 where there are no losses to cover."""
    a = A_0 + tau / TAU_0
    gamma = ratio(gains, losses)
    eta = np.zeros_like(gamma)
    usable = (losses > 0) & (gamma > 0)
    # near γ = 1 both terms vanish; expm1 and log keep the quotient exact
    log_gamma = np.log(np.where(usable, gamma, 2.0))
    one = usable & (np.abs(log_gamma) < 1e-9)
    with np.errstate(over="ignore", invalid="ignore"):
        quotient = np.expm1(a * log_gamma) / np.expm1((a + 1) * np.where(log_gamma == 0, 1.0, log_gamma))
    quotient = np.where(np.isfinite(quotient), quotient, 1 / np.where(usable, gamma, 1.0))
    eta = np.where(usable, quotient, eta)
    eta = np.where(one, a / (a + 1), eta)
    return np.asarray(np.where((losses > 0) & (gamma <= 0), 1.0, eta))


@calculation(
    "Heating by month",
    "energy_month",
    "Q_H = 0 if Q_l ≤ 0 else 0 if Q_g > 2·Q_l else max(Q_l − η·Q_g, 0)",
    "ISO 13790:2008, 7.2.1.1",
    losses="Q_l: energy_month",
    gains="Q_g: energy_month",
    eta="η: fraction",
)
def heating_months(losses: Array, gains: Array, eta: Array) -> Array:
    """[kWh] by month."""
    need = np.maximum(losses - eta * gains, 0.0)
    return np.asarray(np.where((losses <= 0) | (ratio(gains, losses) > 2), 0.0, need))


@calculation(
    "Utilisation of losses, cooling",
    "fraction",
    "η = 1 if Q_g·Q_l ≤ 0 else a/(a + 1) if Q_g = Q_l else (1 − γ^(−a))/(1 − γ^(−a − 1)); γ = Q_g/Q_l; a = 1 + τ/(15 [h])",
    "ISO 13790:2008, 12.2.1.2",
    gains="Q_g: energy_month",
    losses="Q_l: energy_month",
    tau="τ: hours",
)
def cooling_utilisation(gains: Array, losses: Array, tau: Array) -> Array:
    """η_C by month; the time constant is that of the month."""
    a = A_0 + tau / TAU_0
    gamma = ratio(gains, losses)
    usable = (gamma > 0) & np.isfinite(gamma)
    log_gamma = np.log(np.where(usable, gamma, 2.0))
    one = np.abs(log_gamma) < 1e-9
    with np.errstate(over="ignore", invalid="ignore"):
        quotient = np.expm1(-a * log_gamma) / np.expm1(-(a + 1) * np.where(log_gamma == 0, 1.0, log_gamma))
    quotient = np.where(np.isfinite(quotient), quotient, gamma)
    return np.asarray(np.where(usable, np.where(one, a / (a + 1), quotient), 1.0))


@calculation(
    "Cooling by month",
    "energy_month",
    "Q_C = 0 if Q_l > 2·Q_g else max(Q_g − η·Q_l, 0)",
    "ISO 13790:2008, 7.2.1.2; none where the losses are more than twice the gains, ISO 52016-1",
    losses="Q_l: energy_month",
    gains="Q_g: energy_month",
    eta="η: fraction",
)
def cooling_months(losses: Array, gains: Array, eta: Array) -> Array:
    """[kWh] by month."""
    return np.asarray(np.where(losses > 2 * gains, 0.0, np.maximum(gains - eta * losses, 0.0)))


@calculation(
    "Ventilation coefficient by month, cooling",
    "w_per_k",
    "H = H_r if s < 0.5 else H_r if θ_e < θ_f else H_b if θ_e < θ_c else H_r",
    "stated: the unit's bypass (s is 1) is open in months cooler outside than the cooling set-point, from a mean θ_f on",
    outside="θ_e: temperature",
    inside="θ_c: temperature",
    opens="θ_f: temperature",
    recovered="H_r: w_per_k",
    bypassed="H_b: w_per_k",
    bypass="s: fraction",
)
def bypassed_coefficient(outside: Array, inside: float, opens: float, recovered: float, bypassed: float, bypass: float) -> Array:
    """[W/K] by month; bypass is 1 where the unit has one, opens the outdoor mean from which it does."""
    return np.asarray(np.where((outside >= inside) | (outside < opens) | (bypass < 0.5), recovered, bypassed))


@calculation(
    "Demand per floor area", "specific_energy", "q = Σ(Q)/A", "per reference floor area", least=0, months="Q: energy_month", area="A: area"
)
def per_area(months: Array, area: float) -> float:
    """[kWh/(m²·a)]."""
    if area <= 0:
        raise CannotKnow("a reference floor area above 0")
    return float(np.sum(months)) / area


@calculation(
    "Heating load on two days",
    "power",
    "Φ = max((H_T − H_g + H_V)·(θ_i − θ_d) + Φ_g − Φ_s − 1.6 [W/m²]·A, 0)",
    "common practice: two calendar days; the ground as in its coldest month",
    transmission="H_T: w_per_k",
    steady="H_g: w_per_k",
    ventilation="H_V: w_per_k",
    inside="θ_i: temperature",
    day="θ_d: temperature",
    ground="Φ_g: power",
    sun="Φ_s: power",
    area="A: area",
)
def load_on_days(
    transmission: float, steady: float, ventilation: float, inside: float, day: float, ground: float, sun: float, area: float
) -> float:
    """[W], never below 0; steady: the part of H_T that goes to the ground, ground: the largest monthly flow to it."""
    return max((transmission - steady + ventilation) * (inside - day) + ground - sun - LOAD_GAINS * area, 0.0)


@calculation(
    "Heat flow to the ground, coldest month",
    "power",
    "the largest of the twelve monthly flows, as a mean power; never below 0",
    "ISO 13370:2017, annex H",
    closed=False,
    months="Q: energy_month",
    hours="t: hours",
)
def ground_peak(months: tuple[Array, ...], hours: Array) -> float:
    """[W] of all faces on the ground together."""
    return float(max((sum(months) / hours * 1000).max(), 0.0)) if months else 0.0


def governing(coefficient: float, inside: float, days: Array, sun: Array) -> int:
    """First day of the two calendar days with the largest load, of all 365 windows of the year. coefficient [W/K] of all that follows
    the outdoor air, days [°C] and sun [W] of every window; what is the same in all of them chooses nothing."""
    return int(np.argmax(coefficient * (inside - days) - sun))


@calculation(
    "Sun on the two days",
    "power",
    "the value of the two days out of all of the year",
    "by the weather",
    closed=False,
    windows="Φ_s: power",
    first="d: count",
)
def of_two_days(windows: Array, first: float) -> float:
    """[W] of the window that begins with a day of the year, 0 is 1 January; one value stands for every window alike."""
    return float(np.broadcast_to(windows, (365,))[int(first)])


@calculation(
    "Heating load",
    "heat_flux",
    "p = Φ/A",
    "the two calendar days with the largest load, out of all of the year",
    load="Φ: power",
    area="A: area",
)
def heating_load(load: float, area: float) -> float:
    """[W/m²]."""
    if area <= 0:
        raise CannotKnow("a reference floor area above 0")
    return load / area


@calculation("Sum of the year", "energy", "Q = Σ(Q_m)", "sum", months="Q_m: energy_month")
def year(months: Array) -> float:
    """[kWh/a]."""
    return float(np.sum(months))


@calculation(
    "Heating set-point in the mean",
    "temperature",
    "θ = θ_b + s·(θ_i − θ_b)",
    "set back by a day pattern: the mean of the hours of winter",
    inside="θ_i: temperature",
    setback="θ_b: temperature",
    share="s: percent",
)
def set_back(inside: float, setback: float, share: float) -> float:
    """[°C]; share: of the hours in which the set-point holds."""
    return setback + share * (inside - setback)
