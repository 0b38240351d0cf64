"""Residential code: the envelope trade-off (UA) by zone. The table is data and kept with the target set."""

from __future__ import annotations

from collections.abc import Mapping

from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import CannotKnow

IP_U = 5.678263337  # W/(m²·K) per Btu/(h·ft²·°F), exact from the international foot, pound and Btu (IT)


@calculation("UA proposed", "w_per_k", "H = Σ(U·A)", "IECC 2021, R402.1.5, over the thermal envelope", least=0, u="U: u", areas="A: area")
def ua_proposed(u: tuple[float, ...], areas: tuple[float, ...]) -> float:
    """[W/K]; a slab on ground and faces to heated neighbours stay out."""
    if not areas:
        raise CannotKnow("faces of the thermal envelope")
    return sum(a * b for a, b in zip(u, areas, strict=True))


@calculation("UA limit", "w_per_k", "H = Σ(U_c·A)", "IECC 2021, table R402.1.2 and R402.1.5, the same areas", u="U_c: u", areas="A: area")
def ua_limit(u: tuple[float, ...], areas: tuple[float, ...]) -> float:
    """[W/K]."""
    if not areas:
        raise CannotKnow("faces of the thermal envelope")
    return sum(a * b for a, b in zip(u, areas, strict=True))


@calculation("Mean U, windows", "u", "U = Σ(U_i·A)/Σ(A)", "IECC 2021, R402.5", u="U_i: u", areas="A: area")
def mean_u(u: tuple[float, ...], areas: tuple[float, ...]) -> float:
    """Area-weighted U-value [W/(m²·K)]."""
    if sum(areas) <= 0:
        raise CannotKnow("openings with an area")
    return sum(v * a for v, a in zip(u, areas, strict=True)) / sum(areas)


@calculation("SHGC of windows", "fraction", "S = Σ(S_i·A)/Σ(A)", "IECC 2021, R402.3.2", values="S_i: fraction", areas="A: area")
def mean_shgc(values: tuple[float, ...], areas: tuple[float, ...]) -> float:
    """Area-weighted solar heat gain coefficient."""
    if sum(areas) <= 0:
        raise CannotKnow("windows with an area")
    return sum(v * a for v, a in zip(values, areas, strict=True)) / sum(areas)


@calculation("SHGC of an opening", "fraction", "S = g·A_g/(w·h)", "from parts", g="g: fraction", glass="A_g: area", size="w, h: length")
def shgc_from_parts(g: float, glass: float, size: tuple[float, float]) -> float:
    """Whole-product value from the glass."""
    return g * glass / (size[0] * size[1])


@calculation("Walls around a space below a floor", "area", "A = P·h", "IECC 2021, R402.2.10", perimeter="P: length", height="h: length")
def crawl_area(perimeter: float, height: float) -> float:
    """Area of the walls around the space below a floor [m²]: its perimeter × how high the floor lies above the ground there."""
    return perimeter * height


COLUMNS = {"wall": "wood-frame wall", "roof": "ceiling", "ceiling": "ceiling", "floor": "floor", "opening": "fenestration"}


def zone_row(table: dict[str, dict[str, float]], zone: str) -> dict[str, float] | None:
    """The row of the table for a zone such as '4A' or '4C' (marine 4 as 5, 0 as 1), in W/(m²·K)."""
    key = row_key(table, zone)
    return {k: v * IP_U for k, v in table[key].items()} if key in table else None


def row_key(table: Mapping[str, object], zone: str) -> str:
    """Which row a zone uses: its own with letter, else by number; zone 0 as 1, marine 4 as 5."""
    if zone in table:
        return zone
    digit = zone[:1]
    if zone.upper() == "4C":
        digit = "5"
    return "1" if digit == "0" and "0" not in table else digit
