"""What a round pipe or duct with insulation loses for each metre: ISO 12241, a cylinder with one layer."""

from __future__ import annotations

from math import log, pi

from nuthatch.core.results.calculation import calculation

INSIDE = 8.0
"""Heat transfer around a pipe indoors [W/(m²·K)]: common practice."""


def round_psi(diameter: float, insulation: float, conductivity: float, around: float = INSIDE) -> float:
    """[W/(m·K)]; outer diameter of the pipe and thickness of its insulation [m], conductivity [W/(m·K)]."""
    outer = diameter + 2 * insulation
    return 2 * pi / (log(outer / diameter) / conductivity + 2 / (around * outer))


@calculation(
    "Pipe loss per metre",
    "psi",
    "ψ = 2·π/(ln(D/d)/λ + 2/(8 [W/(m²·K)]·D)); D = d + 2·s",
    "ISO 12241, cylinder with one layer",
    diameter="d: width",
    insulation="s: width",
    conductivity="λ: conductivity",
)
def pipe_psi(diameter: float, insulation: float, conductivity: float) -> float:
    """[W/(m·K)] of an insulated pipe inside."""
    return round_psi(diameter, insulation, conductivity)
