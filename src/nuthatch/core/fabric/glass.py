"""U of glass from its panes and gaps: EN 673:2011, upright and on a slope."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nuthatch.core.model.home import OpeningType
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.entries import need, optional
from nuthatch.core.results.figure import Entered, Figure, Node

SIGMA = 5.67e-8
MEAN, ACROSS = 283.0, 15.0
"""Mean temperature of the gaps [K], and the difference over all of them [K]: EN 673, 7.2."""
OUTER, INNER = 25.0, 1 / 0.13
"""Films of the standard pane [W/(m²·K)]."""
PANE_LAMBDA = 1.0
UNCOATED = 0.837
SHARE = 0.9


@dataclass(frozen=True)
class Gas:
    """ρ [kg/m³], μ [Pa·s], λ [W/(m·K)], c [J/(kg·K)] at 10 °C: EN 673, table 1 (from memory)."""

    density: float
    viscosity: float
    conductivity: float
    heat: float


GASES = {
    "air": Gas(1.232, 1.761e-5, 0.02496, 1008.0),
    "argon": Gas(1.699, 2.164e-5, 0.01684, 519.0),
    "krypton": Gas(3.560, 2.400e-5, 0.00900, 245.0),
}


def mixed(gas: str, share: float) -> Gas:
    """A gas with the rest air, its properties by volume shares: EN 673, 7.3."""
    g, air = GASES[gas], GASES["air"]

    def mean(a: float, b: float) -> float:
        return share * a + (1 - share) * b

    return Gas(
        mean(g.density, air.density), mean(g.viscosity, air.viscosity), mean(g.conductivity, air.conductivity), mean(g.heat, air.heat)
    )


def gap_conductance(gap: float, coat: float, gas: Gas, difference: float, tilt: float) -> float:
    """h_s of one gap [W/(m²·K)]: gap [m], emissivity of its coated face (the other uncoated), temperature difference [K], tilt [°]."""
    radiative = 4 * SIGMA * MEAN**3 / (1 / coat + 1 / UNCOATED - 1)
    grashof = 9.81 * gap**3 * difference * gas.density**2 / (MEAN * gas.viscosity**2)
    prandtl = gas.viscosity * gas.heat / gas.conductivity
    factor = float(np.interp(tilt, (0.0, 45.0, 90.0), (0.16, 0.10, 0.035)))
    power = float(np.interp(tilt, (0.0, 45.0, 90.0), (0.28, 0.31, 0.38)))
    nusselt = max(1.0, factor * (grashof * prandtl) ** power)
    return float(radiative + nusselt * gas.conductivity / gap)


@calculation(
    "U of the glass",
    "u",
    "1/(1/25 + 0.13 + Σ d/1.0 + Σ 1/(h_r + h_g)), radiation and convection of each gap at 283 K, 15 K shared over the gaps by their resistances",
    "EN 673:2011",
    closed=False,
    pane="d of each pane: width",
    gaps="s: width",
    coats="ε: fraction",
    gas="gas: text",
    share="share of the gas: percent",
    tilt="tilt: angle",
)
def u_glass(pane: float, gaps: tuple[float, ...], coats: tuple[float, ...], gas: str, share: float, tilt: float) -> float:
    """[W/(m²·K)]; pane: thickness of each [m], gaps [m] and corrected emissivities from outside, tilt from level [°] with heat flowing up."""
    filling = mixed(gas, share)
    parts = [ACROSS / len(gaps)] * len(gaps)
    resistances = [0.0] * len(gaps)
    for _ in range(30):
        resistances = [1 / gap_conductance(s, e, filling, d, tilt) for s, e, d in zip(gaps, coats, parts, strict=True)]
        parts = [ACROSS * r / sum(resistances) for r in resistances]
    return 1 / (1 / OUTER + 1 / INNER + (len(gaps) + 1) * pane / PANE_LAMBDA + sum(resistances))


def glass_u(kind: OpeningType, tilt: float = 90.0) -> Node:
    """U_g of a type: as given, or from panes and gaps at the tilt it stands at; glass that looks down counts as upright."""
    if kind.glass_from == "U_g as given":
        return need(kind, "glass_u")
    return from_panes(kind, tilt)


def from_panes(kind: OpeningType, tilt: float) -> Figure:
    """U_g by EN 673."""
    gaps: tuple[Node, ...] = (need(kind, "gap"),)
    coats: tuple[Node, ...] = (optional(kind, "coat", UNCOATED, "uncoated"),)
    if kind.gap_2 is not None:
        gaps, coats = (*gaps, need(kind, "gap_2")), (*coats, optional(kind, "coat_2", UNCOATED, "uncoated"))
    share = Entered("only air", 1.0, "percent") if kind.gas == "air" else optional(kind, "gas_share", SHARE, "common practice")
    return u_glass.figure(
        f"U_g of {kind.name}",
        pane=need(kind, "pane"),
        gaps=gaps,
        coats=coats,
        gas=Entered("gas in the gaps", kind.gas, "text", "declared", "", kind.id, "gas"),
        share=share,
        tilt=Entered("tilt of the glass", min(tilt, 90.0), "angle", "calculated", "of its face"),
    )
