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
    on = balance.loss.value > 0
    used = np.where(on, balance.loss.value - balance.heating.value, 0.0)
    gains = balance.sun.value + balance.internal.value
    share = np.divide(used, gains, out=np.zeros(12), where=gains > 0)
    sun, inside = float((share * balance.sun.value).sum()), float((share * balance.internal.value).sum())
    return Account(
        {c: float(balance.losses[c].value[on].sum()) for c in CATEGORIES},
        float(balance.heating.value.sum()),
        sun,
        inside,
        float(gains.sum()) - sun - inside,
        float(balance.sun.value.sum()),
        float(balance.internal.value.sum()),
    )
