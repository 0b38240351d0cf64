"""Electricity from modules on a roof: the PVWatts chain of pvlib by the hour, what of it is used at home by the month."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nuthatch.core.climate.sun import MONTH_HOURS, by_month
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import Array
from nuthatch.core.sun.fields import FieldSun

WARM, LOSSES, INVERTER = -0.004, 0.14, 0.96
"""Change of power [1/K], losses and inverter where a sheet says nothing: common practice, no source."""
USED, USED_WITH_BATTERY = 0.3, 0.6
"""Of the smaller of a month's yield and use, what is used at home: common practice, cautious, no source."""
MOUNTED = {"on the roof": "close_mount_glass_glass", "free standing": "open_rack_glass_glass"}


def hourly(
    sun: tuple[Array, Array, Array], air: Array, wind: Array, peak: float, sheet: tuple[float, float, float], mounted: str = "on the roof"
) -> Array:
    """What modules give in every hour, (8760,) [W]. sun: beam and diffuse on them [W/m²], cosine of the beam; air [°C], wind [m/s]; peak power
    [W]; sheet: change with warmth [1/K], losses, inverter."""
    from pvlib import iam, inverter, pvsystem, temperature  # imported late: it takes a third of a second

    beam, diffuse, cosine = sun
    warm, losses, efficiency = sheet
    slant = np.degrees(np.arccos(np.clip(cosine, -1.0, 1.0)))
    taken = np.nan_to_num(iam.physical(slant)) * beam + diffuse
    cell = temperature.sapm_cell(beam + diffuse, air, wind, **temperature.TEMPERATURE_MODEL_PARAMETERS["sapm"][MOUNTED[mounted]])
    direct = np.maximum(pvsystem.pvwatts_dc(taken, cell, peak, warm), 0.0) * (1 - losses)
    return np.asarray(inverter.pvwatts(direct, peak, efficiency)) if peak > 0 else np.zeros(8760)


@dataclass(frozen=True)
class Sheet:
    """What the hours of modules rest on besides sun and air: change with warmth [1/K], losses, inverter, how they are mounted, how much of
    the sun reaches them past what stands near."""

    id: str
    warm: float = WARM
    losses: float = LOSSES
    inverter: float = INVERTER
    mounted: str = "on the roof"
    sunlit: float = 1.0


@dataclass(frozen=True, eq=False)
class PeakHours:
    """Hours at peak power that give what a month gives, (12,) [kWh/kW]."""

    months: Array


def full_hours(sheet: Sheet, sun: FieldSun, air: Array, wind: Array) -> PeakHours:
    """Of modules in a year's sun; air [°C], wind [m/s]."""
    lit = sun.beam * sheet.sunlit, sun.diffuse * sheet.sunlit, sun.cosine
    made = hourly(lit, air, wind, 1000.0, (sheet.warm, sheet.losses, sheet.inverter), sheet.mounted)
    return PeakHours(np.asarray(by_month(made) / 1000))


@calculation(
    "Hours at peak power",
    "hours",
    "by the hour: G/(1000 W/m²)·(1 + γ·(θ_z − 25 °C))·(1 − l) through the inverter; the warmth of the cells by sun, air and wind, beam aslant "
    "less by the glass; added up by month",
    "PVWatts 5 as pvlib has it: Dobos 2014; cells by King, Boyson and Kratochvil 2004",
    closed=False,
    found="t: hours",
    warm="γ: per_kelvin",
    losses="l: percent",
    inverter="η: percent",
    sunlit="s: fraction",
    mounted="as: text",
)
def at_peak(found: Array, warm: float, losses: float, inverter: float, sunlit: float, mounted: str) -> Array:
    """(12,) [h], as the hours of the year have been worked out with these values in a process of their own."""
    return found


@calculation(
    "Electricity of modules", "energy_month", "Q = P·t", "peak power by the hours at it", peak="P: electric_power", hours="t: hours"
)
def made(peak: float, hours: Array) -> Array:
    """(12,) [kWh]; peak [W]."""
    return np.asarray(peak * hours / 1000)


@calculation(
    "Electricity used, by month",
    "energy_month",
    "each use of the year parted among the months as what it is used for",
    "delivered energy of the carrier of fans and household",
    closed=False,
    energies="E: energy",
    spreads="w: energy_month",
)
def used_months(energies: tuple[float, ...], spreads: tuple[Array, ...]) -> Array:
    """(12,) [kWh]; a use whose months are all zero is spread evenly by hours."""
    found = np.zeros(12)
    for energy, spread in zip(energies, spreads, strict=True):
        weight = np.asarray(spread, float) if float(np.sum(spread)) > 0 else MONTH_HOURS.astype(float)
        found = found + energy * weight / weight.sum()
    return found


@calculation(
    "Own electricity used at home",
    "energy_month",
    "Q = min(Q_y, Q_u)·s",
    "by the month: common practice, no source",
    made="Q_y: energy_month",
    used="Q_u: energy_month",
    share="s: percent",
)
def at_home(made: Array, used: Array, share: float) -> Array:
    """(12,) [kWh]."""
    return np.minimum(made, used) * share


@calculation(
    "Own electricity fed in",
    "energy_month",
    "Q = Q_y − Q_h",
    "what is not used at home",
    made="Q_y: energy_month",
    used="Q_h: energy_month",
)
def fed_in(made: Array, used: Array) -> Array:
    """(12,) [kWh]."""
    return made - used


@calculation("Own electricity, off what is bought", "energy", "E = −Σ(Q_h)", "as counted", months="Q_h: energy_month")
def taken_off(months: Array) -> float:
    """[kWh/a], below zero."""
    return -float(np.sum(months))


@calculation("Own electricity of a year", "energy", "E = Σ(Q_y)", "what modules give", made="Q_y: energy_month")
def of_the_year(made: Array) -> float:
    """[kWh/a]"""
    return float(np.sum(made))
