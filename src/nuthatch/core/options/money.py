"""Cost, net present value, payback, cost of a saved kilowatt hour (docs/methods: options). Money at today's prices; rates above inflation."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

from nuthatch.core.energy.sources import price_of
from nuthatch.core.model.heat import Carrier
from nuthatch.core.model.home import Home
from nuthatch.core.model.options import Economy, Upgrade

YEARS, INTEREST, RISE = 25.0, 0.03, 0.02
"""Where nothing is said: common practice, no source."""


@dataclass(frozen=True)
class Rates:
    """Years looked at, real interest, real yearly rise of energy prices."""

    years: float = YEARS
    interest: float = INTEREST
    rise: float = RISE


def rates_of(economy: Economy) -> Rates:
    """As they are entered."""
    values = ((economy.years, YEARS), (economy.interest, INTEREST), (economy.rise, RISE))
    return Rates(*(given.value if given is not None else usual for given, usual in values))


def factor(years: float, interest: float, rise: float = 0.0) -> float:
    """Present value of 1 saved each year, at its end, at prices that rise: Σ (1+g)^(k−1)/(1+i)^k over whole years, the last one in part."""
    whole = int(years)
    found = sum((1 + rise) ** (k - 1) / (1 + interest) ** k for k in range(1, whole + 1))
    left = years - whole
    return found + left * (1 + rise) ** whole / (1 + interest) ** (whole + 1)


def annuity(years: float, interest: float) -> float:
    """What a cost of 1 comes to each year of its life: i/(1 − (1+i)^−n), 1/n without interest."""
    return 1 / years if abs(interest) < 1e-12 else interest / (1 - (1 + interest) ** -years)


@dataclass(frozen=True)
class Money:
    """What an upgrade, or an option, comes to: cost as bought; extra cost, less what is due anyway and grants; saved in the first year [money,
    kWh]; net present value over the years; simple payback [a], None for never; cost of a saved kWh, None where none is saved. Unknown cost:
    None throughout."""

    cost: float | None
    extra: float | None
    saved_money: float | None
    saved_energy: float | None
    present: float | None
    payback: float | None
    per_kwh: float | None


def money(rates: Rates, parts: tuple[tuple[Upgrade, float | None], ...], saved_money: float, saved_energy: float) -> Money:
    """parts: upgrades with what they cost as bought, None where that is unknown. saved: of the first year."""
    known = [c for _, c in parts if c is not None]
    if len(known) < len(parts):
        return Money(None, None, saved_money, saved_energy, None, None, None)
    extra = present = yearly = upkeep = 0.0
    for upgrade, cost in parts:
        more = (cost or 0.0) - _of(upgrade, "grant") - _of(upgrade, "due")
        life = upgrade.life.value if upgrade.life is not None else rates.years
        share = annuity(life, rates.interest)
        extra += more
        yearly += share * more
        # bought again where it lives shorter, credited its unused annuities where longer: its annuities within the years
        present += more * share / annuity(rates.years, rates.interest)
        upkeep += _of(upgrade, "upkeep")
    worth = factor(rates.years, rates.interest, rates.rise) * saved_money
    value = worth - present - factor(rates.years, rates.interest) * upkeep
    payback = None if saved_money <= 0 else max(extra, 0.0) / saved_money
    per_kwh = None if saved_energy <= 0 else (yearly + upkeep) / saved_energy
    return Money(sum(known), extra, saved_money, saved_energy, value, payback, per_kwh)


def _of(upgrade: Upgrade, field: str) -> float:
    given = upgrade[field]
    return float(given.value) if given is not None else 0.0


def cost_of(upgrade: Upgrade, area: float, pieces: float) -> float | None:
    """What an upgrade costs as bought; None where it is not said. area, pieces: what it touches."""
    if upgrade.cost is None:
        return None
    if upgrade.per == "lump":
        return float(upgrade.cost.value)
    if upgrade.per == "m" and upgrade.amount is None:
        return None
    amount = upgrade.amount.value if upgrade.amount is not None else area if upgrade.per == "m²" else pieces
    return float(upgrade.cost.value) * amount


class Tariff(NamedTuple):
    """What a carrier costs: a kilowatt hour, None where that is not said, and a year of having it."""

    price: float | None
    standing: float


def tariffs_of(home: Home) -> dict[str, Tariff]:
    """By carrier."""
    return {c.id: Tariff(_price(c), c.standing.value if c.standing is not None else 0.0) for c in home.carriers}


def _price(carrier: Carrier) -> float | None:
    """Of a kilowatt hour, by the unit it is billed in."""
    value = price_of(carrier).value
    return float(value) if value is not None else None
