"""The monthly balance: ISO 13790:2008 (kept as the monthly method of ISO 52016-1), and the heating load."""

from __future__ import annotations

import numpy as np

from nuthatch.core.figure import CannotKnow, calculation

LOAD_GAINS = 1.6  # W/m²
TAU_0, A_0 = 15.0, 1.0


@calculation(
    "Loss by month",
    "energy_month",
    "Q = H (θ_i − θ_e) t",
    "ISO 13790:2008, 8.2 and 9.2",
    coefficient="H",
    inside="θ_i",
    outside="θ_e",
    hours="t",
)
def loss_months(coefficient: float, inside: float, outside: np.ndarray, hours: np.ndarray) -> np.ndarray:
    """[kWh] by month; negative where outside is warmer."""
    return coefficient * (inside - outside) * hours / 1000


@calculation(
    "Time constant", "hours", "τ = C / 3.6 / (H_T + H_V)", "ISO 13790:2008, 12.2.1.3", capacity="C", transmission="H_T", ventilation="H_V"
)
def time_constant(capacity: float, transmission: float, ventilation: float) -> float:
    """[h]; capacity in kJ/K, coefficients W/K."""
    if transmission + ventilation <= 0:
        raise CannotKnow("a loss coefficient above 0")
    return capacity / 3.6 / (transmission + ventilation)


def ratio(gains: np.ndarray, losses: np.ndarray) -> np.ndarray:
    """γ = gains / losses; a loss of exactly 0 gives +inf, handled by the callers."""
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.asarray(np.where(losses == 0, np.inf, gains / np.where(losses == 0, 1.0, losses)))


@calculation(
    "Utilisation of gains, heating",
    "fraction",
    "η = (1 − γ^a)/(1 − γ^(a+1)), a/(a+1) at γ = 1; a = 1 + τ/15; 1/γ for γ < 0",
    "ISO 13790:2008, 12.2.1.1",
    gains="Q_gn",
    losses="Q_ls",
    tau="τ",
)
def heating_utilisation(gains: np.ndarray, losses: np.ndarray, tau: float) -> np.ndarray:
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
    "Q_H = Q_ls − η Q_gn; 0 where Q_ls ≤ 0 or γ > 2",
    "ISO 13790:2008, 7.2.1.1",
    losses="Q_ls",
    gains="Q_gn",
    eta="η",
)
def heating_months(losses: np.ndarray, gains: np.ndarray, eta: np.ndarray) -> np.ndarray:
    """[kWh] by month."""
    need = np.maximum(losses - eta * gains, 0.0)
    return np.where((losses <= 0) | (ratio(gains, losses) > 2), 0.0, need)


@calculation(
    "Utilisation of losses, cooling",
    "fraction",
    "η_C = (1 − γ^−a)/(1 − γ^−(a+1)), a/(a+1) at γ = 1; 1 for γ ≤ 0",
    "ISO 13790:2008, 12.2.1.2",
    gains="Q_gn",
    losses="Q_ls",
    tau="τ",
)
def cooling_utilisation(gains: np.ndarray, losses: np.ndarray, tau: float) -> np.ndarray:
    """η_C by month."""
    a = A_0 + tau / TAU_0
    gamma = ratio(gains, losses)
    usable = (gamma > 0) & np.isfinite(gamma)
    log_gamma = np.log(np.where(usable, gamma, 2.0))
    one = np.abs(log_gamma) < 1e-9
    with np.errstate(over="ignore", invalid="ignore"):
        quotient = np.expm1(-a * log_gamma) / np.expm1(-(a + 1) * np.where(log_gamma == 0, 1.0, log_gamma))
    quotient = np.where(np.isfinite(quotient), quotient, gamma)
    return np.asarray(np.where(usable, np.where(one, a / (a + 1), quotient), 1.0))


@calculation("Cooling by month", "energy_month", "Q_C = Q_gn − η_C Q_ls", "ISO 13790:2008, 7.2.1.2", losses="Q_ls", gains="Q_gn", eta="η_C")
def cooling_months(losses: np.ndarray, gains: np.ndarray, eta: np.ndarray) -> np.ndarray:
    """[kWh] by month."""
    return np.maximum(gains - eta * losses, 0.0)


@calculation(
    "Ventilation coefficient by month, cooling",
    "w_per_k",
    "recovery kept in months with heating, bypassed in the others",
    "stated: the unit's bypass opens in months without heating",
    heating="Q_H",
    recovered="H_V",
    bypassed="H_V,bypass",
)
def bypassed_coefficient(heating: np.ndarray, recovered: float, bypassed: float, bypass: float) -> np.ndarray:
    """[W/K] by month; bypass is 1 where the unit has one."""
    return np.where((heating > 0) | (bypass < 0.5), recovered, bypassed)


@calculation("Demand per floor area", "specific_energy", "q = Σ Q_month / A_ref", "per reference floor area", months="Q", area="A_ref")
def per_area(months: np.ndarray, area: float) -> float:
    """[kWh/(m²·a)]."""
    if area <= 0:
        raise CannotKnow("a reference floor area above 0")
    return float(np.sum(months)) / area


@calculation(
    "Heating load on a design day",
    "power",
    "Φ = max((H_T + H_V)(θ_i − θ_day) − Φ_sun − 1.6 A_ref, 0)",
    "common practice: two design days",
    transmission="H_T",
    ventilation="H_V",
    inside="θ_i",
    day="θ_day",
    sun="Φ_sun",
    area="A_ref",
)
def load_on_day(transmission: float, ventilation: float, inside: float, day: float, sun: float, area: float) -> float:
    """[W]."""
    return max((transmission + ventilation) * (inside - day) - sun - LOAD_GAINS * area, 0.0)


@calculation(
    "Heating load", "heat_flux", "p = max(Φ_1, Φ_2) / A_ref", "the worse of the two design days", first="Φ_1", second="Φ_2", area="A_ref"
)
def heating_load(first: float, second: float, area: float) -> float:
    """[W/m²]."""
    if area <= 0:
        raise CannotKnow("a reference floor area above 0")
    return max(first, second) / area
