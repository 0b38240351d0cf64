"""Openings of several fields: panes between mullions and transoms, some that open, some opaque. ISO 10077-1:2017."""

from __future__ import annotations

from dataclasses import dataclass

from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import CannotKnow

Size = tuple[float, float]
Widths = tuple[float, float, float]
Fields = tuple[float, float, float, float]
_FIELDS = "x = (w − 2·s − (c − 1)·m)/c; y = (h − t − b − (r − 1)·q)/r"


@dataclass(frozen=True)
class Parts:
    """Areas of glass, panels and frame of a divided opening [m²], edges of glass and of panels [m]."""

    glass: float
    panel: float
    frame: float
    edge: float
    panel_edge: float


def divided(size: Size, widths: Widths, bars: Widths, fields: Fields) -> Parts:
    """An opening of equal fields between mullions and transoms. bars: width of a mullion, a transom, and what a pane that opens has
    around it besides [m]; fields: side by side, above each other, how many open, how many are panels. Raises CannotKnow where no glass
    is left."""
    (w, h), (side, top, bottom), (mullion, transom, sash), (columns, rows, opens, panels) = size, widths, bars, fields
    x, y = (w - 2 * side - (columns - 1) * mullion) / columns, (h - top - bottom - (rows - 1) * transom) / rows
    if x <= (2 * sash if opens else 0) or y <= (2 * sash if opens else 0):
        raise CannotKnow("a frame narrower than the opening: no glass is left")
    fixed = columns * rows - opens - panels
    if fixed < 0:
        raise CannotKnow("as many fields as there are panes that open and panels together")
    glass = fixed * x * y + opens * (x - 2 * sash) * (y - 2 * sash)
    edge = 2 * fixed * (x + y) + 2 * opens * (x + y - 4 * sash)
    return Parts(glass, panels * x * y, w * h - glass - panels * x * y, edge, 2 * panels * (x + y))


@calculation(
    "U of the opening",
    "u",
    "U_w = (A_g·U_g + A_p·U_p + A_f·U_f + l_g·ψ_g + l_p·ψ_p)/(w·h); A_f = w·h − A_g − A_p; "
    "A_g = (c·r − o − p)·x·y + o·(x − 2·e)·(y − 2·e); A_p = p·x·y; "
    "l_g = 2·(c·r − o − p)·(x + y) + 2·o·(x + y − 4·e); l_p = 2·p·(x + y); " + _FIELDS,
    "ISO 10077-1:2017, 6.3, mullions and transoms as frame",
    size="w, h: length",
    widths="s, t, b: width",
    bars="m, q, e: width",
    fields="c, r, o, p: count",
    us="U_g, U_f, U_p: u",
    edges="ψ_g, ψ_p: psi",
)
def u_divided(size: Size, widths: Widths, bars: Widths, fields: Fields, us: Widths, edges: Size) -> float:
    """U_w of an opening with several panes, without installation [W/(m²·K)]."""
    p = divided(size, widths, bars, fields)
    (glass, frame, panel), (edge, panel_edge) = us, edges
    whole = p.glass * glass + p.panel * panel + p.frame * frame + p.edge * edge + p.panel_edge * panel_edge
    return whole / (size[0] * size[1])


@calculation(
    "Glass area",
    "area",
    "A_g = (c·r − o − p)·x·y + o·(x − 2·e)·(y − 2·e); " + _FIELDS,
    "ISO 10077-1:2017, 4",
    size="w, h: length",
    widths="s, t, b: width",
    bars="m, q, e: width",
    fields="c, r, o, p: count",
)
def glass_of_fields(size: Size, widths: Widths, bars: Widths, fields: Fields) -> float:
    """Glass of one opening with several panes [m²]."""
    return divided(size, widths, bars, fields).glass
