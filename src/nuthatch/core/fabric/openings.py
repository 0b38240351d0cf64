"""Windows and doors: ISO 10077-1:2017, and the sun they let in by month."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from nuthatch.core.fabric.buildup import entered
from nuthatch.core.figure import CannotKnow, Entered, Node, Result, calculation, missing
from nuthatch.core.model.home import Opening, OpeningType
from nuthatch.core.model.part import Part, specs

INCIDENCE, DIRT = 0.9, 0.95
WHOLE_WINDOW_GLASS_SHARE = 0.7


@dataclass(frozen=True)
class Pane:
    """Areas and glass edge of one opening [m², m², m]."""

    glass: float
    frame: float
    edge: float


def pane(width: float, height: float, side: float, top: float, bottom: float) -> Pane:
    """One pane in a frame. Raises CannotKnow where the frame leaves no glass."""
    w, h = width - 2 * side, height - top - bottom
    if w <= 0 or h <= 0:
        raise CannotKnow("a frame narrower than the opening: no glass is left")
    return Pane(w * h, width * height - w * h, 2 * (w + h))


@calculation(
    "U of the opening",
    "u",
    "U_w = (A_g U_g + A_f U_f + l_g ψ_g) / (A_g + A_f)",
    "ISO 10077-1:2017, 6.3",
    width="b",
    height="h",
    glass="U_g",
    frame="U_f",
    edge="ψ_g",
)
def u_window(width: float, height: float, side: float, top: float, bottom: float, glass: float, frame: float, edge: float) -> float:
    """U_w without installation [W/(m²·K)]; sizes and frame widths in m, ψ_g in W/(m·K)."""
    p = pane(width, height, side, top, bottom)
    return (p.glass * glass + p.frame * frame + p.edge * edge) / (p.glass + p.frame)


@calculation("U of the opening", "u", "U_w as entered for the whole opening", "ISO 10077-1:2017, whole-window value", whole="U_w")
def u_whole(whole: float) -> float:
    """A whole-window value."""
    return whole


@calculation(
    "Loss of the opening",
    "w_per_k",
    "n · b · (U_w w h + ψ_inst (2w + (2 − joined) h))",
    "ISO 10077-1:2017 and ISO 14683",
    number="n",
    u="U_w",
    width="w",
    height="h",
    install="ψ_inst",
)
def opening_loss(number: float, u: float, width: float, height: float, install: float, joined: float, b: float) -> float:
    """Loss coefficient of all openings of a row with their installation [W/K]; a joined upright side has no ψ."""
    return number * b * (u * width * height + install * (2 * width + (2 - joined) * height))


@calculation("Glass area", "area", "A_g = (b − 2 b_f)(h − b_top − b_bottom)", "ISO 10077-1:2017, 4", width="b", height="h")
def glass_area(width: float, height: float, side: float, top: float, bottom: float) -> float:
    """Glass of one opening [m²]."""
    return pane(width, height, side, top, bottom).glass


@calculation("Effective glass area", "area", "A_g = b h · glass share", "share of the whole opening", width="b", height="h", share="share")
def glass_by_share(width: float, height: float, share: float) -> float:
    """Glass of one opening from its share [m²]."""
    return width * height * share


@calculation(
    "Sun by month",
    "energy_month",
    "Q = n I_month A_g g F_shade · 0.9 · 0.95",
    "ISO 13790:2008, 11.3; incidence and dirt by common practice",
    number="n",
    sun="I",
    area="A_g",
    g="g",
    shade="F_shade",
)
def sun_months(number: float, sun: np.ndarray, area: float, g: float, opaque: float, shade: np.ndarray) -> np.ndarray:
    """Solar gain by month [kWh]; sun [kWh/m²] on the plane, shade: part let through by month."""
    return number * sun * area * g * (1 - opaque) * shade * INCIDENCE * DIRT


@calculation("Sun on a design day", "power", "Φ = n I_day A_g g F_shade · 0.9 · 0.95", "as the monthly gain, for the mean of the day")
def sun_on_day(number: float, sun: float, area: float, g: float, opaque: float, shade: float) -> float:
    """Mean solar gain of a design day [W]; sun [W/m²]."""
    return number * sun * area * g * (1 - opaque) * shade * INCIDENCE * DIRT


def need(part: Part, field: str, step: str, label: str = "") -> Node:
    """A field as a leaf: entered, or an Unknown that leads to it."""
    spec = specs(type(part))[field]
    given: Any = getattr(part, field)
    ident: str = part.id  # type: ignore[attr-defined]
    name = getattr(part, "name", "")
    title = label or (f"{spec.label} of {name}" if name else spec.label)
    if given is None:
        return missing(title, spec.kind, title[0].lower() + title[1:] if title[1:2].islower() else title, step, ident, field)
    return entered(given, title, spec.kind, ident, field)


def optional(part: Part, field: str, step: str, default: float, why: str) -> Node:
    """A field as a leaf, or the stated value where it is empty."""
    if getattr(part, field) is None:
        return Entered(f"{specs(type(part))[field].label}: {why}", default, specs(type(part))[field].kind)
    return need(part, field, step)


def sizes(opening: Opening) -> dict[str, Node]:
    """Width and height of an opening as leaves."""
    return {"width": need(opening, "width", "openings"), "height": need(opening, "height", "openings")}


def frame(kind: OpeningType) -> dict[str, Node]:
    """Frame widths as leaves."""
    return {k: need(kind, f, "openings") for k, f in (("side", "frame_side"), ("top", "frame_top"), ("bottom", "frame_bottom"))}


def transmittance(opening: Opening, kind: OpeningType) -> Result:
    """U_w of an opening without its installation."""
    label = f"U of {opening.name}"
    if kind.entry == "whole window":
        return u_whole.figure(label, whole=need(kind, "whole_u", "openings"))
    return u_window.figure(
        label,
        **sizes(opening),
        **frame(kind),
        glass=need(kind, "glass_u", "openings"),
        frame=need(kind, "frame_u", "openings"),
        edge=need(kind, "edge_psi", "openings"),
    )


def loss(opening: Opening, kind: OpeningType, u: Result, b: Node) -> Result:
    """Loss coefficient of the row with its installation."""
    return opening_loss.figure(
        f"Loss of {opening.name}",
        number=optional(opening, "count", "openings", 1, "one"),
        u=u,
        **sizes(opening),
        install=optional(kind, "install_psi", "openings", 0, "not given, taken as 0"),
        joined=optional(opening, "joined_sides", "openings", 0, "none"),
        b=b,
    )


def glass(opening: Opening, kind: OpeningType) -> tuple[Node, Node]:
    """(area the solar value applies to, solar value). A SHGC applies to the whole opening, a g to the glass only."""
    label = f"Glass of {opening.name}"
    if kind.entry == "glass and frame":
        return glass_area.figure(label, **sizes(opening), **frame(kind)), need(kind, "glass_g", "openings")
    solar = need(kind, "whole_solar", "openings")
    if kind.solar_kind == "SHGC of the window":
        share: Node = Entered("a SHGC counts for the whole opening", 1.0, "percent")
    else:
        share = optional(kind, "glass_share", "openings", WHOLE_WINDOW_GLASS_SHARE, "assumed for a whole-window value")
    return glass_by_share.figure(label, **sizes(opening), share=share), solar


def opaque(kind: OpeningType) -> Node:
    """Opaque share; 1 for a door without one."""
    default, why = (1.0, "an opaque door") if kind.use == "door" else (0.0, "none")
    return optional(kind, "opaque_share", "openings", default, why)


def shade_by_month(winter: float, summer: float, northern: bool = True) -> np.ndarray:
    """Part of the sun let through by month: the summer value from May to September (north), else the winter value."""
    months = np.full(12, winter)
    months[[4, 5, 6, 7, 8] if northern else [10, 11, 0, 1, 2]] = summer
    return months
