"""What moisture does in a build-up over a year, as results with their workings: ISO 13788:2012."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from nuthatch.core.climate.humid_air import saturation_pressure
from nuthatch.core.fabric.buildup import RSE, RSI, layer_nodes
from nuthatch.core.fabric.moisture import SURFACE_RSI, MoistureYear, VapourLayers, indoor_pressure, least_factor, year
from nuthatch.core.model.home import BuildUp, Layer
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.entries import entered
from nuthatch.core.results.figure import Array, CannotKnow, Entered, Figure, Known, Node, Unknown, missing
from nuthatch.core.solid.thickness import effective_layers
from nuthatch.core.units import with_unit

MONTH_NAMES = ("January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December")
AIR_SD = 0.01
"""s_d of an air layer [m]: ISO 13788, 5.1."""
Numbers = tuple[float, ...]


@calculation(
    "Vapour pressure inside",
    "pascal",
    "that outside and the excess of the humidity class × 1.1: the class's value up to 0 °C outside, in a straight line to 0 at 20 °C; at most saturated",
    "ISO 13788:2012, annex A (from memory)",
    closed=False,
    outside="θ_e: temperature",
    outdoor="p_e: pascal",
    humid="humidity class: count",
    inside="θ_i: temperature",
)
def inner_by_class(outside: Array, outdoor: Array, humid: float, inside: float) -> Array:
    """By month [Pa]."""
    return indoor_pressure(outside, outdoor, round(humid), inside)


@calculation(
    "Vapour pressure inside",
    "pascal",
    "relative humidity × saturation at the indoor temperature",
    "ISO 13788:2012, 4.2",
    closed=False,
    humidity="φ: fraction",
    inside="θ_i: temperature",
)
def inner_by_humidity(humidity: float, inside: float) -> Array:
    """By month [Pa], the same all year."""
    return np.full(12, humidity * float(saturation_pressure(inside)))


@dataclass(frozen=True, eq=False)
class Airs:
    """Air on both sides by month: temperature inside, vapour pressure inside, temperature and vapour pressure outside."""

    inside: Node
    p_inside: Node
    outside: Node
    p_outside: Node

    @property
    def inputs(self) -> dict[str, Node]:
        return {"inside": self.inside, "p_inside": self.p_inside, "outside": self.outside, "p_outside": self.p_outside}


@lru_cache(maxsize=256)
def _year(section: VapourLayers, inside: float, airs: tuple[Numbers, Numbers, Numbers]) -> MoistureYear:
    p_inside, outside, p_outside = (np.array(a) for a in airs)
    return year(section, np.full(12, inside), p_inside, outside, p_outside)


def _of(resistances: Numbers, depths: Numbers, films: tuple[float, float], inside: float, *airs: Array) -> MoistureYear:
    p_inside, outside, p_outside = (tuple(float(v) for v in a) for a in airs)
    return _year(VapourLayers(resistances, depths, *films), inside, (p_inside, outside, p_outside))


_ROUND = "month by month from the first that condenses, saturated where it is wet, by the tangent between"


_YEARS_INPUTS = {
    "resistances": "R: resistance",
    "depths": "s_d: length",
    "films": "R_se, R_si: resistance",
    "inside": "θ_i: temperature",
    "p_inside": "p_i: pascal",
    "outside": "θ_e: temperature",
    "p_outside": "p_e: pascal",
}


@calculation(
    "Most condensate at once",
    "condensate",
    f"the largest sum over all faces at the end of a month; {_ROUND}",
    "ISO 13788:2012, 6.4",
    closed=False,
    least=0,
    **_YEARS_INPUTS,
)
def peak(
    resistances: Numbers, depths: Numbers, films: tuple[float, float], inside: float, p_inside: Array, outside: Array, p_outside: Array
) -> float:
    """[kg/m²]."""
    return _of(resistances, depths, films, inside, p_inside, outside, p_outside).peak


@calculation(
    "Condensate left after a year",
    "condensate",
    f"the sum over all faces after twelve months; {_ROUND}",
    "ISO 13788:2012, 6.5",
    closed=False,
    least=0,
    **_YEARS_INPUTS,
)
def left(
    resistances: Numbers, depths: Numbers, films: tuple[float, float], inside: float, p_inside: Array, outside: Array, p_outside: Array
) -> float:
    """[kg/m²]."""
    return _of(resistances, depths, films, inside, p_inside, outside, p_outside).left


@calculation(
    "Temperature factor of the surface",
    "fraction",
    "f = R/(R + 0.25 [m²·K/W]); R = R_T − R_si",
    "ISO 13788:2012, 4.4; the section beside junctions",
    total="R_T: resistance",
    film="R_si: resistance",
)
def surface(total: float, film: float) -> float:
    """f_Rsi with R_si 0.25; total with the inner film [m²·K/W]."""
    return (total - film) / (total - film + SURFACE_RSI)


@calculation(
    "Least temperature factor",
    "fraction",
    "the largest over the months of (θ − θ_e)/(θ_i − θ_e), θ the temperature at which the air inside is at 80 %; not below 0",
    "ISO 13788:2012, 5.3",
    closed=False,
    inside="θ_i: temperature",
    p_inside="p_i: pascal",
    outside="θ_e: temperature",
)
def needed(inside: float, p_inside: Array, outside: Array) -> float:
    """f_Rsi,min over the year. Raises CannotKnow where it is never colder outside."""
    months = least_factor(np.full(12, inside), p_inside, outside)
    if np.isnan(months).all():
        raise CannotKnow("a month that is colder outside than inside")
    return max(float(np.nanmax(months)), 0.0)


@dataclass(frozen=True, eq=False)
class Vapour:
    """Moisture of a build-up in one use: figures, the year behind them where it is known, the layers it goes through."""

    use: str
    buildup: str
    peak: Figure
    left: Figure
    surface: Figure
    year: MoistureYear | None
    layers: tuple[Layer, ...]


def sd_node(layer: Layer) -> Node:
    """s_d of a layer [m]: as given, else μ·d; an air layer 0.01 m."""
    label = f"s_d of {layer.name}"
    if layer.sd is not None:
        return entered(layer.sd, label, "length", layer.id, "sd")
    if layer.kind != "solid":
        return Entered(label, AIR_SD, "length", "rule", "ISO 13788:2012, 5.1")
    if layer.mu is None:
        return missing(label, "length", f"vapour resistance μ or s_d of {layer.name}", layer.id, "mu")
    if layer.thickness is None:
        return missing(label, "length", f"thickness of {layer.name}", layer.id, "thickness")
    return _sd.figure(
        label,
        mu=entered(layer.mu, f"μ of {layer.name}", "factor", layer.id, "mu"),
        thickness=entered(layer.thickness, f"thickness of {layer.name}", "thickness", layer.id, "thickness"),
    )


@calculation("Vapour: s_d of a layer", "length", "s_d = μ·d", "ISO 13788:2012, 5.1", mu="μ: factor", thickness="d: thickness")
def _sd(mu: float, thickness: float) -> float:
    """[m]."""
    return mu * thickness


def vapour(use: str, build: BuildUp, direction: str, total: Figure, airs: Airs) -> Vapour:
    """The year of a build-up toward outside air. total: its resistance with films."""
    layers = effective_layers(build)
    inner, outer = RSI[direction], RSE if len(layers) == len(build.layers) else RSI[direction]
    films = (
        Entered("outer film", outer, "resistance", "rule", "ISO 6946:2017, 6.8"),
        Entered("inner film", inner, "resistance", "rule", "ISO 13788:2012, 4.3"),
    )
    inputs: dict[str, Any] = {"resistances": layer_nodes(layers, direction), "depths": tuple(map(sd_node, layers)), "films": films}
    inputs |= airs.inputs
    most, rest = (
        calc.figure(f"{calc.label} in {build.name}", **inputs)
        if layers
        else missing(calc.label, "condensate", f"layers of {build.name}", build.id, "layers")
        for calc in (peak, left)
    )
    found = None
    if isinstance(most, Known):
        numbers = [tuple(float(n.value) for n in inputs[k]) for k in ("resistances", "depths")]
        air = (airs.p_inside.value, airs.outside.value, airs.p_outside.value)
        found = _of(numbers[0], numbers[1], (outer, inner), float(airs.inside.value), *air)  # type: ignore[arg-type]
    film = Entered(f"inner film, heat flow {direction}", inner, "resistance", "rule", "ISO 6946:2017, table 7")
    return Vapour(use, build.id, most, rest, surface.figure(f"f_Rsi of {build.name}", total=total, film=film), found, layers)


def tight_outside(v: Vapour) -> Layer | None:
    """The layer outside of the wettest face that lets least through, where more gathers than dries within a month or two."""
    if v.year is None or v.year.dry:
        return None
    face = v.year.wettest()
    number = next((n for n, edge in enumerate(v.year.boundaries) if edge >= face), 0)
    outside = v.layers[:number]
    return max(outside, key=lambda layer: float(sd_node(layer).value or 0.0), default=None)


def place_in_words(v: Vapour, interface: int) -> str:
    """Where in a build-up an interface lies: between two layers, or in one."""
    assert v.year is not None
    edges = v.year.boundaries
    if interface in edges:
        n = edges.index(interface)
        if 0 < n < len(v.layers):
            return f"between {v.layers[n - 1].name} and {v.layers[n].name}"
        return "at the outer face" if n == 0 else "at the inner face"
    n = next(n for n, edge in enumerate(edges) if edge > interface)
    return f"in {v.layers[n - 1].name}"


def nearest_in_words(v: Vapour) -> str:
    """How near a dry build-up comes to gathering: the month, the place, the share of saturation; '' for one that is not dry, or not known."""
    if v.year is None or not v.year.dry:
        return ""
    m, at, share = v.year.nearest()
    return f"nearest to gathering in {MONTH_NAMES[m]} {place_in_words(v, at)}: {100 * share:.0f} % of saturation" if at else ""


def verdict(v: Vapour) -> str:
    """What comes of a year, in words."""
    if v.year is None:
        needs = v.peak.needs if isinstance(v.peak, Unknown) else ()
        return f"needs {needs[0].text}" if needs else "computing …"
    if v.year.dry:
        return "dry all year"
    if v.year.accumulates:
        return f"gathers from year to year: {with_unit(v.year.left, 'condensate')} left after the first"
    wet = [MONTH_NAMES[m] for m, month in zip(v.year.order, v.year.months, strict=True) if float(month.held.sum()) > 0]
    span = wet[0] if len(wet) == 1 else f"{wet[0]} to {wet[-1]}"
    return (
        f"wet from {span}, up to {with_unit(v.year.peak, 'condensate')}, then dries"
        if len(wet) > 1
        else f"wet in {span}, up to {with_unit(v.year.peak, 'condensate')}, then dries"
    )


def worst(label: str, kind: str, rows: tuple[Figure, ...], least: bool = False) -> Figure:
    """The worst of several results, which opens as it is; unknown where one of them is."""
    lost = next((r for r in rows if not isinstance(r, Known)), None)
    if lost is not None or not rows:
        needs = lost.needs if isinstance(lost, Unknown) else ()
        return missing(label, kind, "a build-up toward outside air", "shape", "faces") if not rows else Unknown(label, kind, needs)
    pick = min if least else max
    return pick(rows, key=lambda r: float(r.value))  # type: ignore[arg-type]  # all known
