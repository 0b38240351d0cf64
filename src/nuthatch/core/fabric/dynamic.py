"""How a build-up follows a day's swing of temperature: ISO 13786:2017, by the matrix of its layers; the heat it stores."""

from __future__ import annotations

from dataclasses import dataclass
from math import pi

import numpy as np
from numpy.typing import NDArray

from nuthatch.core.fabric.buildup import films, layer_nodes
from nuthatch.core.model.home import BuildUp, Layer
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.entries import optional
from nuthatch.core.results.figure import CannotKnow, Entered, Figure, Node
from nuthatch.core.solid.thickness import effective_layers

DAY = 86400.0
"""Period of the swing [s]."""
DEEPEST = 30.0
LOST = 200.0
"""Radians of depth, e⁻²⁰⁰ of a swing, past which there is none whose delay could be told."""
SHALLOW = 1e-3
"""Radians of depth below which the matrix is that of its series: there the closed form divides by what vanishes."""
STEP = 0.3
"""Layers are followed in pieces of this share of the depth the swing reaches."""
Matrix = NDArray[np.complex128]
Numbers = tuple[float, ...]
_LAYERS = {"resistances": "R: resistance", "depths": "d: thickness", "densities": "ρ: density", "heats": "c: specific_heat"}
_WITH_FILMS = {"inner": "R_si: resistance", "outer": "R_se: resistance", **_LAYERS}


def layer_matrix(resistance: float, capacity: float) -> Matrix:
    """Transfer matrix of a layer [2 × 2], ISO 13786:2017, 7.2.3 and 7.2.4: R [m²·K/W], heat capacity by area [J/(m²·K)]; only R counts
    where it has no mass. [θ; q] on one face from those on the other, for a swing of one day."""
    if capacity <= 0 or resistance <= 0:
        return np.array([[1.0, -resistance], [0.0, 1.0]], dtype=complex)
    x = (pi * resistance * capacity / DAY) ** 0.5  # d/δ, δ = √(λT/(πρc))
    if x > DEEPEST:  # farther in than that nothing of the swing is felt
        resistance, x = resistance * DEEPEST / x, DEEPEST
    if x < SHALLOW:
        swing = 1j * x * x
        return np.array([[1 + swing, -resistance * (1 + swing / 3)], [-2j * pi / DAY * capacity, 1 + swing]])
    sh, ch, s, c = np.sinh(x), np.cosh(x), np.sin(x), np.cos(x)
    own = ch * c + 1j * sh * s
    across = -resistance / (2 * x) * (sh * c + ch * s + 1j * (ch * s - sh * c))
    back = -x / resistance * (sh * c - ch * s + 1j * (sh * c + ch * s))
    return np.array([[own, across], [back, own]])


def transfer(resistances: Numbers, depths: Numbers, densities: Numbers, heats: Numbers) -> Matrix:
    """Transfer matrix of layers from the inside to the outside: d [m], ρ [kg/m³], c [J/(kg·K)]."""
    made = np.eye(2, dtype=complex)
    for r, d, density, heat in zip(resistances, depths, densities, heats, strict=True):
        made = layer_matrix(r, d * density * heat) @ made
    return made


@calculation(
    "Heat capacity of a face",
    "heat_capacity",
    "T/(2π)·|(Z₁₁ − 1)/Z₁₂| from the matrix of its layers from inside to outside, T 24 h, without films",
    "ISO 13786:2017, 7.3.4",
    closed=False,
    least=0,
    **_LAYERS,
)
def inner_capacity(resistances: Numbers, depths: Numbers, densities: Numbers, heats: Numbers) -> float:
    """Areal heat capacity seen from inside [kJ/(m²·K)]; 0 where nothing has mass, or there is no resistance to store behind."""
    z = transfer(resistances, depths, densities, heats)
    if abs(z[0, 1]) < 1e-12:
        return 0.0
    return float(DAY / (2 * pi) * abs((z[0, 0] - 1) / z[0, 1])) / 1000


@calculation(
    "Periodic transmittance",
    "u",
    "|1/Z₁₂| from the matrix of its layers and films, T 24 h",
    "ISO 13786:2017, 7.3.2",
    closed=False,
    least=0,
    **_WITH_FILMS,
)
def periodic(inner: float, outer: float, resistances: Numbers, depths: Numbers, densities: Numbers, heats: Numbers) -> float:
    """Heat that comes through for a swing of 1 K outside [W/(m²·K)]."""
    z = _with_films(inner, outer, transfer(resistances, depths, densities, heats))
    return float(1 / abs(z[0, 1]))


@calculation("Decrement factor", "fraction", "f = Y/U", "ISO 13786:2017, 7.3.3; U through the plain layers", swing="Y: u", steady="U: u")
def decrement(swing: float, steady: float) -> float:
    """How much of the steady transmittance is left for a swing of a day."""
    return swing / steady


@calculation(
    "Time shift",
    "hours",
    "T/(2π)·arg(−Z₁₂) from the matrix of its layers and films, followed layer by layer past whole turns",
    "ISO 13786:2017, 7.3.3",
    closed=False,
    least=0,
    **_WITH_FILMS,
)
def shift(inner: float, outer: float, resistances: Numbers, depths: Numbers, densities: Numbers, heats: Numbers) -> float:
    """By how many hours heat comes later on the inside than warmth on the outside [h]."""
    depth = sum(
        (pi * r * d * density * heat / DAY) ** 0.5 for r, d, density, heat in zip(resistances, depths, densities, heats, strict=True)
    )
    if depth > LOST:
        raise CannotKnow("a section that the swing of a day comes through")
    z, turned = layer_matrix(inner, 0.0), [0.0]
    for r, d, density, heat in zip(resistances, depths, densities, heats, strict=True):
        parts = max(int((pi * r * d * density * heat / DAY) ** 0.5 / STEP) + 1, 1)  # fine enough to follow the phase round
        for _ in range(parts):
            z = layer_matrix(r / parts, d * density * heat / parts) @ z
            turned.append(float(np.angle(-z[0, 1])) if abs(z[0, 1]) > 0 else turned[-1])
    turned.append(float(np.angle(-(layer_matrix(outer, 0.0) @ z)[0, 1])))
    return float(np.unwrap(turned)[-1]) * DAY / (2 * pi) / 3600


@calculation(
    "U through the plain layers",
    "u",
    "U = 1/(R_si + Σ(R) + R_se)",
    "ISO 6946:2017, 6.7.1",
    inner="R_si: resistance",
    outer="R_se: resistance",
    layers="R: resistance",
)
def plain_u(inner: float, outer: float, layers: tuple[float, ...]) -> float:
    """U without framing [W/(m²·K)]."""
    if inner + outer + sum(layers) <= 0:
        raise CannotKnow("a layer with a thermal resistance")
    return 1 / (inner + outer + sum(layers))


def _with_films(inner: float, outer: float, z: Matrix) -> Matrix:
    return layer_matrix(outer, 0.0) @ z @ layer_matrix(inner, 0.0)


@dataclass(frozen=True, eq=False)
class Dynamic:
    """What a build-up does with a day's swing."""

    periodic: Figure
    decrement: Figure
    shift: Figure
    inner: Figure


def _nodes(layers: tuple[Layer, ...], direction: str) -> dict[str, tuple[Node, ...]]:
    """R and mass of layers, from inside to outside."""
    rows = tuple(reversed(layers))
    solid = tuple(layer.kind == "solid" for layer in rows)
    air = Entered("an air layer has no mass", 0.0, "density")
    return {
        "resistances": layer_nodes(rows, direction),
        "depths": tuple(optional(layer, "thickness", 0.0, "by its R, no thickness") for layer in rows),
        "densities": tuple(
            optional(layer, "density", 0.0, "none given, no mass") if s else air for layer, s in zip(rows, solid, strict=True)
        ),
        "heats": tuple(
            optional(layer, "specific_heat", 0.0, "none given, no mass") if s else Entered("an air layer has no mass", 0.0, "specific_heat")
            for layer, s in zip(rows, solid, strict=True)
        ),
    }


def areal_capacity(buildup: BuildUp) -> Figure:
    """Heat capacity of a build-up seen from inside, through its plain layers. With a U-value from outside a layer of unknown resistance
    ends what is known of it."""
    layers = effective_layers(buildup)
    if buildup.u_detailed is not None:
        known = next((n for n, r in enumerate(reversed(layer_nodes(layers, "across"))) if r.value is None), len(layers))
        layers = layers[len(layers) - known :]
    return inner_capacity.figure(f"Heat capacity of {buildup.name}", **_nodes(layers, "across"))


def dynamic(buildup: BuildUp, direction: str, borders: str) -> Dynamic:
    """Periodic transmittance, decrement and time shift of a build-up toward what it borders, and its capacity."""
    inner, outer = films(buildup, direction, borders)
    nodes = _nodes(effective_layers(buildup), direction)
    both = {"inner": inner, "outer": outer}
    swing = periodic.figure(f"Periodic transmittance of {buildup.name}", **both, **nodes)
    steady = plain_u.figure(f"U of {buildup.name} without framing", **both, layers=nodes["resistances"])
    late = shift.figure(f"Time shift of {buildup.name}", **both, **nodes)
    return Dynamic(swing, decrement.figure(f"Decrement of {buildup.name}", swing=swing, steady=steady), late, areal_capacity(buildup))
