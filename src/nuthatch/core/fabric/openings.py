"""Windows and doors: ISO 10077-1:2017, and the sun they let in by month."""

from __future__ import annotations

from dataclasses import dataclass

from nuthatch.core.fabric.divided import Size, Widths, glass_of_fields, u_divided
from nuthatch.core.fabric.glass import glass_u
from nuthatch.core.model.home import Opening, OpeningType
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.entries import need, optional
from nuthatch.core.results.figure import Array, CannotKnow, Entered, Figure, Node, Unknown, missing

DIRT = 0.95
WHOLE_WINDOW_GLASS_SHARE = 0.7
Sides = tuple[float, float, float, float]


@dataclass(frozen=True)
class Pane:
    """Areas and glass edge of one opening [m², m², m]."""

    glass: float
    frame: float
    edge: float


def pane(size: Size, widths: Widths) -> Pane:
    """One pane in a frame of given widths at the sides, top and bottom. Raises CannotKnow where the frame leaves no glass."""
    (width, height), (side, top, bottom) = size, widths
    w, h = width - 2 * side, height - top - bottom
    if w <= 0 or h <= 0:
        raise CannotKnow("a frame narrower than the opening: no glass is left")
    return Pane(w * h, width * height - w * h, 2 * (w + h))


@calculation(
    "U of the opening",
    "u",
    "U_w = (A_g·U_g + A_f·U_f + l·ψ_g)/(A_g + A_f); A_g = x·y; A_f = w·h − x·y; l = 2·(x + y); x = w − 2·s; y = h − t − b",
    "ISO 10077-1:2017, 6.3",
    size="w, h: length",
    widths="s, t, b: width",
    glass="U_g: u",
    frame="U_f: u",
    edge="ψ_g: psi",
)
def u_window(size: Size, widths: Widths, glass: float, frame: float, edge: float) -> float:
    """U_w without installation [W/(m²·K)]; sizes and frame widths in m, ψ_g in W/(m·K)."""
    p = pane(size, widths)
    return (p.glass * glass + p.frame * frame + p.edge * edge) / (p.glass + p.frame)


@calculation("U of the opening", "u", "U_w = U", "ISO 10077-1:2017, whole-window value", whole="U: u")
def u_whole(whole: float) -> float:
    """A whole-window value as entered."""
    return whole


@calculation(
    "Loss of the opening",
    "w_per_k",
    "H = n·b·(U_w·w·h + ψ_l·h + ψ_r·h + ψ_h·w + ψ_s·w)",
    "ISO 10077-1:2017 and ISO 14683",
    number="n: count",
    u="U_w: u",
    size="w, h: length",
    install="ψ_l, ψ_r, ψ_h, ψ_s: psi",
    b="b: fraction",
)
def opening_loss(number: float, u: float, size: Size, install: Sides, b: float) -> float:
    """Loss coefficient of all openings of a row with their installation at the left, right, head and sill [W/K]."""
    (width, height), (left, right, head, sill) = size, install
    return number * b * (u * width * height + left * height + right * height + head * width + sill * width)


@calculation(
    "U of the opening, installed",
    "u",
    "U = U_w + (ψ_l·h + ψ_r·h + ψ_h·w + ψ_s·w)/(w·h)",
    "ISO 10077-1:2017 and ISO 14683",
    u="U_w: u",
    size="w, h: length",
    install="ψ_l, ψ_r, ψ_h, ψ_s: psi",
)
def installed_u(u: float, size: Size, install: Sides) -> float:
    """U with the installation on its sides [W/(m²·K)]."""
    (width, height), (left, right, head, sill) = size, install
    return u + (left * height + right * height + head * width + sill * width) / (width * height)


@calculation("Glass area", "area", "A_g = (w − 2·s)·(h − t − b)", "ISO 10077-1:2017, 4", size="w, h: length", widths="s, t, b: width")
def glass_area(size: Size, widths: Widths) -> float:
    """Glass of one opening [m²]."""
    return pane(size, widths).glass


@calculation("Effective glass area", "area", "A_g = w·h·f", "share of the whole opening", size="w, h: length", share="f: percent")
def glass_by_share(size: Size, share: float) -> float:
    """Glass of one opening from its share [m²]."""
    return size[0] * size[1] * share


@calculation("Area of the openings", "area", "A = w·h·n", "take-off", size="w, h: length", number="n: count")
def openings_area(size: Size, number: float) -> float:
    """Area of all openings of a row [m²]."""
    return size[0] * size[1] * number


@calculation(
    "Sun at the glass by month",
    "irradiation",
    "S = I_b·F_b + g_d·(I_s·F_s + I_r·F_r)",
    "stated: beam, sky and ground apart, each with its share that reaches the glass",
    falls="I_b, I_s, I_r: irradiation",
    shares="F_b, F_s, F_r: fraction",
    even="g_d: fraction",
)
def at_glass(falls: tuple[Array, Array, Array], shares: tuple[Array, Array, Array], even: float) -> Array:
    """[kWh/m²] by month; falls: beam, sky and ground on the plane; shares: of each that reach the glass, the beam's with its angle counted
    (g at it over g straight on); even: g of even light over g straight on."""
    return falls[0] * shares[0] + even * (falls[1] * shares[1] + falls[2] * shares[2])


@calculation(
    "Sun at the glass by month, as entered",
    "irradiation",
    "S = I_b·(N_b + F·W_b) + g_d·(I_s·(N_s + F·W_s) + I_r·(N_r + F·W_r))",
    "stated: an entered share takes the place of those worked out, in all hours or in those of strong sun on warm days",
    falls="I_b, I_s, I_r: irradiation",
    rest="N_b, N_s, N_r: fraction",
    where="W_b, W_s, W_r: fraction",
    entered="F: fraction",
    even="g_d: fraction",
)
def at_glass_entered(
    falls: tuple[Array, Array, Array], rest: tuple[Array, Array, Array], where: tuple[Array, Array, Array], entered: float, even: float
) -> Array:
    """[kWh/m²] by month; where: the part of beam (its angle counted), sky and ground for which the entered share stands, rest: what reaches
    the glass in all other hours."""
    beam, sky, ground = (i * (n + entered * w) for i, n, w in zip(falls, rest, where, strict=True))
    return beam + even * (sky + ground)


@calculation(
    "Sun by month",
    "energy_month",
    "Q = n·S·A_g·g·(1 − o)·0.95",
    "ISO 13790:2008, 11.3; dirt by common practice",
    number="n: count",
    sun="S: irradiation",
    area="A_g: area",
    g="g: fraction",
    opaque="o: percent",
)
def sun_months(number: float, sun: Array, area: float, g: float, opaque: float) -> Array:
    """Solar gain by month [kWh]; sun at the glass [kWh/m²]."""
    return number * sun * area * g * (1 - opaque) * DIRT


@calculation(
    "Sun on two days",
    "power",
    "Φ = n·S·A_g·g·(1 − o)·0.95",
    "as the monthly gain, for the mean of every two days of the year",
    number="n: count",
    sun="S: heat_flux",
    area="A_g: area",
    g="g: fraction",
    opaque="o: percent",
)
def sun_of_two_days(number: float, sun: Array, area: float, g: float, opaque: float) -> Array:
    """Mean solar gain of every window of two days [W], (365,); sun at the glass [W/m²]."""
    return number * sun * area * g * (1 - opaque) * DIRT


ROOFLIGHT_BELOW = 60.0
"""Glass lies in a slope where it is tilted less than this from the horizontal [°]: a rooflight to the code, IECC 2021, from memory."""


def in_a_slope(tilt: float) -> bool:
    """Whether glass of this tilt (0 up, 90 upright) counts as a rooflight, whatever its type is called."""
    return tilt < ROOFLIGHT_BELOW


UNREDUCED = Entered("toward outside air", 1.0, "fraction", "rule")


def sizes(opening: Opening) -> tuple[Node, Node]:
    """Width and height of an opening as leaves."""
    return need(opening, "width"), need(opening, "height")


def frame(kind: OpeningType) -> tuple[Node, ...]:
    """Frame widths as leaves: sides, top, bottom."""
    return need(kind, "frame_side"), need(kind, "frame_top"), need(kind, "frame_bottom")


def number(opening: Opening) -> Node:
    """How many openings a row stands for."""
    return optional(opening, "count", 1, "one")


def area(opening: Opening) -> Figure:
    """Area of all openings of a row."""
    return openings_area.figure(f"Area of {opening.name}", size=sizes(opening), number=number(opening))


def is_divided(opening: Opening) -> bool:
    """Whether an opening has several panes, or one that is a panel or opens within its frame."""
    counts = (opening.columns, opening.rows, opening.opens, opening.panels)
    return any(c is not None and c.value > least for c, least in zip(counts, (1, 1, 0, 0), strict=True))


def too_many(opening: Opening) -> Unknown | None:
    """More panes that open and panels than there are fields: asked for where they are said."""
    fields = (opening.columns.value if opening.columns else 1.0) * (opening.rows.value if opening.rows else 1.0)
    wanted = (opening.opens.value if opening.opens else 0.0) + (opening.panels.value if opening.panels else 0.0)
    if wanted <= fields:
        return None
    at = "columns" if opening.columns is None else "opens"
    return missing(f"U of {opening.name}", "u", f"as many fields of {opening.name} as panes open and are panels", opening.id, at)


def division(opening: Opening, kind: OpeningType) -> dict[str, tuple[Node, ...]]:
    """Widths of mullion, transom and sash; fields side by side, above each other, those that open, panels."""
    columns, rows = opening.columns, opening.rows
    none = Entered("none between panes", 0.0, "width")
    bars = (
        need(kind, "mullion") if columns is not None and columns.value > 1 else none,
        need(kind, "transom") if rows is not None and rows.value > 1 else none,
        optional(kind, "sash", 0.0, "none besides the frame"),
    )
    fields = (
        optional(opening, "columns", 1, "one"),
        optional(opening, "rows", 1, "one"),
        optional(opening, "opens", 0, "none"),
        optional(opening, "panels", 0, "none"),
    )
    return {"bars": bars, "fields": fields}


def transmittance(opening: Opening, kind: OpeningType, tilt: float = 90.0) -> Figure:
    """U_w of an opening without its installation; tilt of its face [°]."""
    label = f"U of {opening.name}"
    if kind.entry == "whole window":
        return u_whole.figure(label, whole=need(kind, "whole_u"))
    glass, frame_u, edge = glass_u(kind, tilt), need(kind, "frame_u"), need(kind, "edge_psi")
    common: dict[str, object] = {"size": sizes(opening), "widths": frame(kind)}
    if not is_divided(opening):
        return u_window.figure(label, **common, glass=glass, frame=frame_u, edge=edge)
    if (lost := too_many(opening)) is not None:
        return lost
    panels = opening.panels is not None and opening.panels.value > 0
    panel: Node = need(kind, "panel_u") if panels else Entered("no panels", 0.0, "u")
    edges = (edge, optional(kind, "panel_psi", 0.0, "none"))
    return u_divided.figure(label, **common, **division(opening, kind), us=(glass, frame_u, panel), edges=edges)


def installation(opening: Opening, kind: OpeningType) -> tuple[Node, ...]:
    """ψ at the left, right, head and sill: of that side of the type, else all round; none against another opening or on a junction
    that is listed by itself."""
    found: list[Node] = []
    for side, own in (("left", "install_jamb"), ("right", "install_jamb"), ("head", "install_head"), ("foot", "install_sill")):
        beside = opening[side]
        if beside != "a wall":
            why = f"{'sill' if side == 'foot' else side}: against {beside}, no ψ of its own"
            found.append(Entered(why, 0.0, "psi", "rule", "ISO 14683", opening.id, side))
        elif kind[own] is not None:
            found.append(need(kind, own))
        else:
            found.append(optional(kind, "install_psi", 0, "not given, taken as 0"))
    return tuple(found)


def loss(opening: Opening, kind: OpeningType, u: Figure, b: Node) -> Figure:
    """Loss coefficient of the row with its installation."""
    return opening_loss.figure(
        f"Loss of {opening.name}", number=number(opening), u=u, size=sizes(opening), install=installation(opening, kind), b=b
    )


def glass(opening: Opening, kind: OpeningType) -> tuple[Node, Node]:
    """(area the solar value applies to, solar value). A SHGC applies to the whole opening, a g to the glass only."""
    label = f"Glass of {opening.name}"
    if kind.entry == "glass and frame":
        common: dict[str, object] = {"size": sizes(opening), "widths": frame(kind)}
        if (lost := too_many(opening)) is not None:
            return lost, need(kind, "glass_g")
        if is_divided(opening):
            return glass_of_fields.figure(label, **common, **division(opening, kind)), need(kind, "glass_g")
        return glass_area.figure(label, **common), need(kind, "glass_g")
    solar = need(kind, "whole_solar")
    if kind.solar_kind == "SHGC of the window":
        share: Node = Entered("a SHGC counts for the whole opening", 1.0, "percent")
    else:
        share = optional(kind, "glass_share", WHOLE_WINDOW_GLASS_SHARE, "assumed for a whole-window value")
    return glass_by_share.figure(label, size=sizes(opening), share=share), solar


def opaque(kind: OpeningType) -> Node:
    """Opaque share; 1 for a door without one."""
    default, why = (1.0, "an opaque door") if kind.use == "door" else (0.0, "none")
    return optional(kind, "opaque_share", default, why)
