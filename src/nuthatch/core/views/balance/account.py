"""The year's account: what is lost in months with losses, and what covers it. Amounts, not shares."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nuthatch.core.energy.stages import Balance
from nuthatch.core.fabric.elements import CATEGORIES
from nuthatch.core.results.figure import Known


@dataclass(frozen=True)
class Account:
    """kWh/a. Σ losses = heating + sun used + inside used; the rest of the gains is unused."""

    losses: dict[str, float]
    heating: float
    sun_used: float
    inside_used: float
    unused: float
    sun: float
    inside: float


def account(balance: Balance) -> Account | None:
    """The account of a balance, None where the balance is not known yet."""
    needed = [balance.heating, balance.sun, balance.internal, balance.loss, *balance.losses.values()]
    if not all(isinstance(n, Known) for n in needed):
        return None
    loss, heating, from_sun, from_inside = (np.asarray(n.value) for n in (balance.loss, balance.heating, balance.sun, balance.internal))
    on = loss > 0
    used = np.where(on, loss - heating, 0.0)
    gains = from_sun + from_inside
    share = np.divide(used, gains, out=np.zeros(12), where=gains > 0)
    sun, inside = float((share * from_sun).sum()), float((share * from_inside).sum())
    return Account(
        {c: float(np.asarray(balance.losses[c].value)[on].sum()) for c in CATEGORIES},
        float(heating.sum()),
        sun,
        inside,
        float(gains.sum()) - sun - inside,
        float(from_sun.sum()),
        float(from_inside.sum()),
    )
