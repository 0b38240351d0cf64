"""Corrections of a U-value for fasteners and rain: ISO 6946:2017, annex F."""

from __future__ import annotations

from nuthatch.core.model.home import BuildUp, Layer
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.entries import entered, need
from nuthatch.core.results.figure import Entered, Figure, Node

ALPHA = 0.8
RAIN = 0.04
"""Share of rain that reaches the membrane × what it carries off, of a single layer of insulation above it [W·d/(m²·K·mm)]."""


@calculation(
    "Fasteners through the insulation",
    "u",
    "ΔU_f = 0.8·p·λ_f·A_f·n_f/d·(R_1/R_0)^2",
    "ISO 6946:2017, annex F.3; R_0 without framing; p is 1 right through, else the depth they go into the insulation over its thickness",
    least=0,
    through="p: fraction",
    conductivity="λ_f: conductivity",
    section="A_f: section",
    number="n_f: per_area",
    depth="d: thickness",
    insulation_r="R_1: resistance",
    resistance="R_0: resistance",
)
def fastener_u(
    through: float, conductivity: float, section: float, number: float, depth: float, insulation_r: float, resistance: float
) -> float:
    """[W/(m²·K)]; section [m²], number per m², depth of the insulation layer [m]."""
    return ALPHA * through * conductivity * section * number / depth * (insulation_r / resistance) ** 2


@calculation(
    "Rain on an inverted roof",
    "u",
    "ΔU_r = p·0.04 [W·d/(m²·K·mm)]·(R_1/R_0)^2",
    "ISO 6946:2017, annex F.4; R_0 without framing; one layer of insulation above the membrane",
    least=0,
    rain="p: rain",
    insulation_r="R_1: resistance",
    resistance="R_0: resistance",
)
def rain_u(rain: float, insulation_r: float, resistance: float) -> float:
    """[W/(m²·K)]; rain: daily mean of the heating season [mm]."""
    return rain * RAIN * (insulation_r / resistance) ** 2


def fasteners(buildup: BuildUp, insulation: Layer, best: Node, total: Figure) -> Node:
    """ΔU of fasteners: typed, or by what they are; 0 where there are none."""
    if buildup.fasteners is not None:
        return entered(buildup.fasteners, "fasteners ΔU", "u", buildup.id, "fasteners")
    if buildup.fastener_count is None or buildup.fastener_count.value == 0:
        return Entered("no fasteners", 0.0, "u")
    through: Node = Entered("right through the insulation", 1.0, "fraction", "rule", "ISO 6946:2017, annex F.3")
    deep, thick = buildup.fastener_depth, insulation.thickness
    if deep is not None and thick is not None and deep.value < thick.value:
        share = deep.value / thick.value
        through = Entered("how far they go into the insulation", share, "fraction", deep.basis.value, "", buildup.id, "fastener_depth")
    return fastener_u.figure(
        through=through,
        conductivity=need(buildup, "fastener_conductivity"),
        section=need(buildup, "fastener_section"),
        number=need(buildup, "fastener_count"),
        depth=need(insulation, "thickness"),
        insulation_r=best,
        resistance=total,
    )
