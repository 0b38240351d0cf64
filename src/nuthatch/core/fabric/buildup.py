"""Thermal transmittance of build-ups: ISO 6946:2017, with framing by the combined method."""

from __future__ import annotations

from itertools import product

import numpy as np

from nuthatch.core.fabric.corrections import fasteners, rain_u
from nuthatch.core.model.home import BuildUp, Layer
from nuthatch.core.model.part import replace
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.entries import entered, need
from nuthatch.core.results.figure import CannotKnow, Entered, Figure, Node, missing
from nuthatch.core.solid.thickness import effective_layers

RSE = 0.04
RSI = {"up": 0.10, "across": 0.13, "down": 0.17}
# ISO 6946:2017 table 8: thickness [m] → R of unventilated air layers [m²·K/W]
AIR_LAYERS = {
    "across": ((0.0, 0.005, 0.007, 0.010, 0.015, 0.025, 0.050, 0.300), (0.0, 0.11, 0.13, 0.15, 0.17, 0.18, 0.18, 0.18)),
    "up": ((0.0, 0.005, 0.007, 0.010, 0.015, 0.300), (0.0, 0.11, 0.13, 0.15, 0.16, 0.16)),
    "down": ((0.0, 0.005, 0.007, 0.010, 0.015, 0.025, 0.050, 0.100, 0.300), (0.0, 0.11, 0.13, 0.15, 0.17, 0.19, 0.21, 0.22, 0.23)),
}
METAL = 10.0


def flow_direction(tilt: float) -> str:
    """Direction of heat flow for a face: upright within 30° of vertical counts as horizontal flow (ISO 6946, 6.8)."""
    if tilt < 60:
        return "up"
    return "across" if tilt <= 120 else "down"


def air_layer_r(thickness: float, direction: str) -> float:
    """R of an unventilated air layer [m²·K/W], table 8, interpolated; up to 0.3 m."""
    xs, ys = AIR_LAYERS[direction]
    if thickness > 0.3:
        raise CannotKnow("an air layer of at most 300 mm; a wider space is an unheated space")
    return float(np.interp(thickness, xs, ys))


@calculation(
    "Resistance of a layer", "resistance", "R = d/λ", "ISO 6946:2017, 6.7.1.1", thickness="d: thickness", conductivity="λ: conductivity"
)
def layer_r(thickness: float, conductivity: float) -> float:
    """thickness [m], conductivity [W/(m·K)] > 0 → m²·K/W."""
    return thickness / conductivity


@calculation(
    "Resistance of an air layer",
    "resistance",
    "R of table 8 by thickness and direction, between its rows in a straight line",
    "ISO 6946:2017, 6.9.2",
    closed=False,
    thickness="d: thickness",
    direction="heat flow: text",
)
def unventilated_r(thickness: float, direction: str) -> float:
    """thickness [m], direction up, across or down."""
    return air_layer_r(thickness, direction)


@calculation(
    "Resistance of the build-up",
    "resistance",
    "mean of the upper limit (all paths through framing and filling side by side) and the lower limit (layer by layer)",
    "ISO 6946:2017, 6.7.2",
    closed=False,
    inner_film="R_si: resistance",
    outer_film="R_se: resistance",
    plain="R_j: resistance",
    shares="f_j: percent",
    framed="R_frame: resistance",
)
def combined_r(
    inner_film: float, outer_film: float, plain: tuple[float, ...], shares: tuple[float, ...], framed: tuple[float, ...]
) -> float:
    """Mean of upper and lower limit [m²·K/W]; shares and framed are per layer, share 0 where there is no framing."""
    if inner_film + outer_film + sum(plain) <= 0:
        raise CannotKnow("a layer with a thermal resistance")
    upper, lower = limits_r(inner_film, outer_film, plain, shares, framed)
    if upper / lower > 1.5:
        raise CannotKnow(
            "a detailed U-value: the framing bridges the insulation so strongly that the combined method is not valid (upper/lower limit above 1.5)"
        )
    return (upper + lower) / 2


def limits_r(
    inner: float, outer: float, plain: tuple[float, ...], shares: tuple[float, ...], framed: tuple[float, ...]
) -> tuple[float, float]:
    """Upper and lower limit of the total resistance [m²·K/W], ISO 6946:2017, 6.7.2.3 and 6.7.2.4."""
    flow = 0.0
    choices = [((1 - f, r), (f, rf)) if f > 0 else ((1.0, r),) for r, f, rf in zip(plain, shares, framed, strict=True)]
    for path in product(*choices):
        weight, resistance = 1.0, inner + outer
        for share, r in path:
            weight *= share
            resistance += r
        flow += weight / resistance
    lower = (
        inner
        + outer
        + sum(1 / ((1 - f) / r + (f / rf if f > 0 else 0)) if r > 0 else 0.0 for r, f, rf in zip(plain, shares, framed, strict=True))
    )
    return 1 / flow, lower


@calculation(
    "U-value",
    "u",
    "U = 1/R_T + ΔU_g·(R_1/R_0)^2 + ΔU_f + ΔU_r",
    "ISO 6946:2017, 6.5 and annex F; R_0 is R_T without any bridging",
    resistance="R_T: resistance",
    unbridged="R_0: resistance",
    gap="ΔU_g: u",
    insulation_r="R_1: resistance",
    fasteners="ΔU_f: u",
    rain="ΔU_r: u",
)
def u_value(resistance: float, unbridged: float, gap: float, insulation_r: float, fasteners: float, rain: float) -> float:
    """Resistances [m²·K/W]; gap correction ΔU″ [W/(m²·K)] scaled by (R_insulation/R_0)². Corrections always count: leaving small ones
    out would let a thicker layer raise U."""
    return 1 / resistance + gap * (insulation_r / unbridged) ** 2 + fasteners + rain


@calculation("U-value", "u", "U = U_d", "a calculation outside, stated by its source", detailed="U_d: u")
def u_typed(detailed: float) -> float:
    """A U-value typed in."""
    return detailed


def _layer_node(layer: Layer, direction: str) -> Node:
    name = f"R of {layer.name}"
    if layer.resistance is not None:
        return entered(layer.resistance, name, "resistance", layer.id, "resistance")
    if layer.thickness is None:
        return missing(name, "resistance", f"thickness of {layer.name}", layer.id, "thickness")
    thickness = entered(layer.thickness, f"thickness of {layer.name}", "thickness", layer.id, "thickness")
    if layer.kind == "air layer":
        node = unventilated_r.figure(name, thickness=thickness, direction=Entered("heat flow", direction))
        area = layer.opening_area.value if layer.opening_area else 0.0
        if area >= 1500:
            return missing(
                name, "resistance", f"{layer.name}: with 1500 mm² per m and more it is well ventilated; set its kind so", layer.id, "kind"
            )
        return node
    if layer.conductivity is None:
        return missing(name, "resistance", f"conductivity of {layer.name}", layer.id, "conductivity")
    conductivity = entered(layer.conductivity, f"λ of {layer.name}", "conductivity", layer.id, "conductivity")
    return layer_r.figure(name, thickness=thickness, conductivity=conductivity)


def layer_nodes(layers: tuple[Layer, ...], direction: str) -> tuple[Node, ...]:
    """R of each layer."""
    return tuple(_layer_node(layer, direction) for layer in layers)


def _framed_nodes(layer: Layer) -> tuple[Node, Node]:
    """(share, R of the framing) of a layer; zero share where there is none."""
    share = layer.framing_share
    if share is None or share.value == 0:
        none = Entered("no framing", 0.0, "percent")
        return none, Entered("no framing", 1.0, "resistance")
    node = entered(share, f"framing share of {layer.name}", "percent", layer.id, "framing_share")
    label = f"R of the framing in {layer.name}"
    if layer.framing_conductivity is None:
        return node, missing(label, "resistance", f"λ of the framing in {layer.name}", layer.id, "framing_conductivity")
    if layer.framing_conductivity.value >= METAL:
        text = f"a detailed U-value: metal framing bridges {layer.name}, the combined method is not valid"
        return node, missing(label, "resistance", text, layer.id, "framing_conductivity")
    if layer.thickness is None:
        return node, missing(label, "resistance", f"thickness of {layer.name}", layer.id, "thickness")
    thickness = entered(layer.thickness, f"thickness of {layer.name}", "thickness", layer.id, "thickness")
    conductivity = entered(
        layer.framing_conductivity, f"λ of the framing in {layer.name}", "conductivity", layer.id, "framing_conductivity"
    )
    return node, layer_r.figure(label, thickness=thickness, conductivity=conductivity)


def films(buildup: BuildUp, direction: str, borders: str) -> tuple[Entered, Entered]:
    """(R_si, R_se): inside by direction of flow; outside 0.04, or as inside behind ventilation or to unheated space."""
    inner = RSI[direction]
    ventilated = any(layer.kind == "well ventilated" for layer in buildup.layers)
    outer = inner if ventilated or borders in ("unheated space", "neighbour") else RSE
    why = "behind a well-ventilated layer" if ventilated else f"to {borders}"
    return Entered(f"inner film, heat flow {direction}", inner, "resistance", "rule", "ISO 6946:2017, table 7"), Entered(
        f"outer film, {why}", outer, "resistance", "rule", "ISO 6946:2017, 6.8"
    )


def resistances(buildup: BuildUp, direction: str) -> tuple[tuple[Node, ...], tuple[Node, ...], tuple[Node, ...]]:
    """(plain R, framing share, framing R) of the layers that count."""
    layers = effective_layers(buildup)
    plain = layer_nodes(layers, direction)
    pairs = [_framed_nodes(layer) for layer in layers]
    return plain, tuple(p[0] for p in pairs), tuple(p[1] for p in pairs)


@calculation(
    "Resistance with a slightly ventilated layer",
    "resistance",
    "R_T = (1500 [mm²/m] − A_v)/(1000 [mm²/m])·R_u + (A_v − 500 [mm²/m])/(1000 [mm²/m])·R_v",
    "ISO 6946:2017, 6.9.3",
    openings="A_v: vent_area",
    still="R_u: resistance",
    ventilated="R_v: resistance",
)
def slightly_ventilated_r(openings: float, still: float, ventilated: float) -> float:
    """openings 500 to 1500 mm² per m; totals with the layer unventilated and well ventilated [m²·K/W]."""
    return (1500 - openings) / 1000 * still + (openings - 500) / 1000 * ventilated


def total_r(buildup: BuildUp, direction: str, borders: str) -> Figure:
    """Total resistance of the layers that count; a slightly ventilated air layer lies between unventilated and well ventilated."""
    label = f"R of {buildup.name}"
    inner, outer = films(buildup, direction, borders)
    plain, shares, framed = resistances(buildup, direction)
    still = combined_r.figure(label, inner_film=inner, outer_film=outer, plain=plain, shares=shares, framed=framed)
    for i, layer in reversed(list(enumerate(buildup.layers))):
        area = layer.opening_area
        if layer.kind == "air layer" and area is not None and 500 < area.value < 1500 and layer in effective_layers(buildup):
            if i == len(buildup.layers) - 1:
                return missing(label, "resistance", f"a layer inside of {layer.name}, which is ventilated", layer.id, "opening_area")
            open_layer = replace(layer, kind="well ventilated")
            ventilated = total_r(replace(buildup, layers=(open_layer, *buildup.layers[i + 1 :])), direction, borders)
            return slightly_ventilated_r.figure(
                label,
                openings=entered(area, f"ventilation openings of {layer.name}", "vent_area", layer.id, "opening_area"),
                still=still,
                ventilated=ventilated,
            )
    return still


def transmittance(buildup: BuildUp, direction: str, borders: str) -> Figure:
    """U-value of a build-up toward what it borders, as a Figure."""
    label = f"U of {buildup.name}"
    if buildup.u_detailed is not None:
        return u_typed.figure(label, detailed=entered(buildup.u_detailed, label, "u", buildup.id, "u_detailed"))
    if not buildup.layers:
        return missing(label, "u", f"layers of {buildup.name}", buildup.id, "layers")
    if not effective_layers(buildup):
        last = buildup.layers[-1]
        text = f"a layer inside of {last.name}, which is well ventilated"
        return missing(label, "u", text, last.id, "kind")
    plain = resistances(buildup, direction)[0]
    total = total_r(buildup, direction, borders)
    gap = Entered(
        f"gap correction, level {buildup.gap_level}", (0.0, 0.01, 0.04)[int(buildup.gap_level)], "u", "rule", "ISO 6946:2017, annex F"
    )
    at = max((n for n, r in enumerate(plain) if r.value is not None), key=lambda n: float(plain[n].value or 0), default=0)
    best = plain[at]
    unbridged = _unbridged_r(buildup, direction, borders, total)
    fixed = fasteners(buildup, effective_layers(buildup)[at], best, unbridged)
    wet: Node = Entered("no rain below the insulation", 0.0, "u")
    if buildup.inverted_rain is not None:
        wet = rain_u.figure(rain=need(buildup, "inverted_rain"), insulation_r=best, resistance=unbridged)
    return u_value.figure(label, resistance=total, unbridged=unbridged, gap=gap, insulation_r=best, fasteners=fixed, rain=wet)


def _unbridged_r(buildup: BuildUp, direction: str, borders: str, total: Figure) -> Figure:
    """Total resistance as if nothing bridged any layer."""
    if not any(layer.framing_share is not None and layer.framing_share.value > 0 for layer in buildup.layers):
        return total
    bare = tuple(replace(layer, framing_share=None) for layer in buildup.layers)
    return total_r(replace(buildup, name=f"{buildup.name} without framing", layers=bare), direction, borders)


def framing_error(buildup: BuildUp, direction: str, borders: str) -> float | None:
    """Largest relative error of the combined method, (upper − lower) / (2 R_T) (6.7.2.5); None where not known."""
    found = limits(buildup, direction, borders)
    return (found[0] - found[1]) / (found[0] + found[1]) if found is not None else None


def limits(buildup: BuildUp, direction: str, borders: str) -> tuple[float, float] | None:
    """Upper and lower limit of the total resistance [m²·K/W]; None where not known."""
    if not effective_layers(buildup):
        return None
    inner, outer = films(buildup, direction, borders)
    groups = resistances(buildup, direction)
    if any(n.value is None for group in groups for n in group):
        return None
    plain, shares, framed = (tuple(float(n.value or 0.0) for n in group) for group in groups)
    return limits_r(inner.value, outer.value, plain, shares, framed)


def temperatures(
    buildup: BuildUp, direction: str, borders: str, inside: float, outside: float
) -> tuple[tuple[Layer, ...], list[float]] | None:
    """Layers that count and the temperatures at their faces from outside to inside, through the plain layers [°C]."""
    inner, outer = films(buildup, direction, borders)
    layers = effective_layers(buildup)
    plain = resistances(buildup, direction)[0]
    if not layers or any(n.value is None for n in plain):
        return None
    steps = [outer.value, *(n.value for n in plain), inner.value]
    total, at, found = sum(steps), outside, []
    for r in steps[:-1]:
        at += (inside - outside) * r / total
        found.append(at)
    return layers, found
