"""Surface resistances by place, and closed air cavities as materials."""

from __future__ import annotations

from math import sqrt

import numpy as np

from nuthatch.core.fabric.buildup import RSE, RSI, air_layer_r
from nuthatch.core.heatflow.mesh import Surface
from nuthatch.core.heatflow.section import HELD, Section, Space

MOULD = 0.25
"""Inside, where mould is judged [m²·K/W], ISO 13788, 4.4; frames and glass keep theirs."""
STEEP = 0.5
"""Cosine of 60°: a surface whose normal lies nearer to the horizontal than 30° is a wall, ISO 6946, 6.8."""
LONG = 10.0
"""A cavity longer than so many times its width is an air layer of ISO 6946."""
STEFAN, MEAN, EMISSIVITY = 5.67e-8, 283.15, 0.9


def films(section: Section, surface: Surface, mould: bool = False) -> np.ndarray:
    """R_s of each piece of surface [m²·K/W]; mould: inside 0.25, but 0.13 on frame and glass. Cut planes: inf."""
    found = np.full(len(surface.length), np.inf)
    glazing = np.array([b.glazing for b in section.blocks])[surface.block]
    for n, space in enumerate(section.spaces):
        here = surface.space == n
        film = film_of(space, surface.normal[:, 1] if section.plane == "vertical" else np.zeros(len(here)))
        if mould and space.kind == "inside" and space.film is None:
            film = np.where(glazing, RSI["across"], MOULD)
        found[here] = film[here]
    return found


def film_of(space: Space, up: np.ndarray) -> np.ndarray:
    """R_s toward a space [m²·K/W], ISO 6946 table 7 by where the heat flows: inside 0.13 at walls, 0.10 at ceilings, 0.17 at floors, the same
    toward unheated spaces, outside 0.04, or what the space says. up: the upward part of the surface's outward normal."""
    if space.film is not None:
        return np.full(len(up), max(space.film, HELD))
    if space.kind == "outside":
        return np.full(len(up), RSE)
    flows_up = -up if space.kind == "inside" else up
    return np.where(flows_up > STEEP, RSI["up"], np.where(flows_up < -STEEP, RSI["down"], RSI["across"]))


def cavity_conductivity(area: float, width: float, height: float, along: str, vertical: bool) -> float:
    """λ of a closed air cavity [W/(m·K)] that lets through as much as it does, ISO 10077-2:2017, 6.4.2 (from memory): 10 K across it, both sides
    of emissivity 0.9; one that is long and narrow is an air layer of ISO 6946.

    area: of the cavity [m²]; width, height: of the rectangle around it [m]: it counts as a rectangle of its own area and of those
    proportions. along: the way heat flows, “across” (x), “up” or “down” (y); vertical: whether y is upward.
    """
    w, h = sqrt(area * width / height), sqrt(area * height / width)
    d, b = (w, h) if along == "across" else (h, w)
    if b > LONG * d:
        return d / air_layer_r(min(d, 0.3), along if vertical else "across")
    convection = 0.025 / d if b < 0.005 else max(0.025 / d, 1.57)
    view = 0.5 * (1 + sqrt(1 + (d / b) ** 2) - d / b)
    radiation = 4 * STEFAN * MEAN**3 / (2 / EMISSIVITY - 2 + 1 / view)
    return d * (convection + radiation)
