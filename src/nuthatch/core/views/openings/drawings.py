"""Openings as sketches, to scale: what they are made of, what they lose and win; the pictures of the fabric."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.fabric.divided import divided
from nuthatch.core.fabric.glass import glass_u
from nuthatch.core.fabric.openings import installation
from nuthatch.core.model.home import BuildUp, Opening, OpeningType, find
from nuthatch.core.model.part import Given
from nuthatch.core.results.figure import CannotKnow
from nuthatch.core.sketch import Bar, Handle, Picture, Pull, Sketch, bars, fitted, snapping
from nuthatch.core.solid.stages import BOUNDARY
from nuthatch.core.units import with_unit
from nuthatch.core.views.build_ups.section import moisture_year, section_in
from nuthatch.core.views.openings.season import heating_season
from nuthatch.core.views.openings.sun_drawn import seen, sun_hours
from nuthatch.core.views.shape.facade import facade

Size = tuple[float, float]
PARTS = (("glass", "glass"), ("panels", "slate_pale"), ("frame", "wood"), ("glass edge", "tide_pale"), ("installation", "stone"))
"""Parts an opening loses through, and their tints."""


def loss_parts(opening: Opening, kind: OpeningType, tilt: float = 90.0) -> dict[str, float]:
    """What each part of one opening loses [W/K]; empty where that is not known part by part."""
    size = (opening.width, opening.height)
    widths = (kind.frame_side, kind.frame_top, kind.frame_bottom)
    us = (glass_u(kind, tilt).value, _or(kind.frame_u), _or(kind.panel_u, 0.0), _or(kind.edge_psi), _or(kind.panel_psi, 0.0))
    if kind.entry == "whole window" or any(v is None for v in (*size, *widths, *us)):
        return {}
    bars = (_or(kind.mullion, 0.0), _or(kind.transom, 0.0), _or(kind.sash, 0.0))
    fields = (_or(opening.columns, 1.0), _or(opening.rows, 1.0), _or(opening.opens, 0.0), _or(opening.panels, 0.0))
    try:
        p = divided(*((tuple(v.value if isinstance(v, Given) else v for v in group)) for group in (size, widths, bars, fields)))  # type: ignore[arg-type]
    except CannotKnow:
        return {}
    glass, frame, panel, edge, panel_edge = (float(v) for v in us)  # type: ignore[arg-type]
    left, right, head, sill = (float(n.value or 0.0) for n in installation(opening, kind))
    w, h = opening.width.value, opening.height.value  # type: ignore[union-attr]
    found = {
        "glass": p.glass * glass,
        "panels": p.panel * panel,
        "frame": p.frame * frame,
        "glass edge": p.edge * edge + p.panel_edge * panel_edge,
        "installation": (left + right) * h + (head + sill) * w,
    }
    return {k: v for k, v in found.items() if abs(v) > 1e-9}


def _or(given: Given | None, default: float | None = None) -> float | None:
    return given.value if given is not None else default


def elevation(opening: Opening, kind: OpeningType | None, size: Size = (300.0, 270.0), tilt: float = 90.0) -> Sketch:
    """One opening from outside with frame, mullions, panes and panels, to scale, and each part's share of its loss; its right and lower
    edge can be dragged."""
    made = Sketch(*size, opening.name)
    middle = size[0] / 2
    if kind is None or opening.width is None or opening.height is None:
        made.text(middle, size[1] / 2, "width, height and type draw the opening", size=12, color="muted", anchor="middle")
        return made
    w, h = opening.width.value, opening.height.value
    parts = loss_parts(opening, kind, tilt)
    foot = 84 + (48 if parts else 0)
    scale = max(min((size[0] - 130) / w, (size[1] - foot) / h), 1.0)
    x, y = middle - w * scale / 2, 16.0
    made.rect(x, y, w * scale, h * scale, fill="wood", width=1.4, id=kind.id, tip=kind.name)
    door = kind.use == "door" and (kind.opaque_share is None or kind.opaque_share.value > 0.5)
    if not door:
        _panes(made, opening, kind, (x, y, scale))
    below = y + h * scale
    made.text(middle, below + 18, with_unit(w, "length"), size=12, anchor="middle")
    made.text(x - 8, y + h * scale / 2, with_unit(h, "length"), size=12, anchor="end")
    said = "frame share not known, drawn dashed" if kind.entry == "whole window" and not door else kind.name
    made.text(middle, below + 36, fitted(said, size[0], 11), size=11, color="muted", anchor="middle")
    _shares(made, parts, below + 52)
    right = x + w * scale
    made.handles = [
        Handle(
            opening.id, ((right, y), (right, below)), (_size(opening, "width", w, (2 / scale, 0.0)),), f"width {with_unit(w, 'length')}"
        ),
        Handle(
            opening.id, ((x, below), (right, below)), (_size(opening, "height", h, (0.0, 1 / scale)),), f"height {with_unit(h, 'length')}"
        ),
    ]
    return made


def _panes(made: Sketch, opening: Opening, kind: OpeningType, place: tuple[float, float, float]) -> None:
    """Panes row by row from the top left: panels first at the foot, then those that open with their sign."""
    x0, y0, scale = place
    whole = kind.entry == "whole window"
    side, top, low = (0.09 if whole or g is None else g.value for g in (kind.frame_side, kind.frame_top, kind.frame_bottom))
    mullion, transom, sash = (float(_or(g, 0.0) or 0.0) for g in (kind.mullion, kind.transom, kind.sash))
    columns, rows, opens, panels = (
        round(_or(g, d) or 0) for g, d in ((opening.columns, 1), (opening.rows, 1), (opening.opens, 0), (opening.panels, 0))
    )
    assert opening.width is not None and opening.height is not None
    wide = (opening.width.value - 2 * side - (columns - 1) * mullion) / columns
    high = (opening.height.value - top - low - (rows - 1) * transom) / rows
    if wide <= 0 or high <= 0 or columns * rows > 400:
        return
    for n in range(columns * rows):
        r, c = divmod(n, columns)
        px, py = side + c * (wide + mullion), top + r * (high + transom)
        panel, opening_pane = n >= columns * rows - panels, n < opens
        edge = sash if opening_pane and wide > 2 * sash and high > 2 * sash else 0.0
        box = (x0 + (px + edge) * scale, y0 + (py + edge) * scale, (wide - 2 * edge) * scale, (high - 2 * edge) * scale)
        if panel:
            made.rect(*box, fill="slate_pale", pattern="hatch", width=1.0, tip="opaque panel")
            continue
        made.rect(*box, fill="glass", width=1.0, dash=whole, tip="pane that opens" if opening_pane else "fixed pane")
        bx, by, bw, bh = box
        if opening_pane:
            made.line((bx, by), (bx + bw, by + bh / 2), (bx, by + bh), stroke="tide", width=0.8, dash=True)
        else:
            made.line((bx + bw * 0.3, by + bh * 0.7), (bx + bw * 0.7, by + bh * 0.3), stroke="tide", width=0.9)


def _shares(made: Sketch, parts: dict[str, float], y: float) -> None:
    """A strip of the loss by parts, with their names below."""
    whole = sum(v for v in parts.values() if v > 0)
    if whole <= 0:
        return
    x, wide = 12.0, made.width - 24.0
    texts = []
    for name, fill in PARTS:
        value = parts.get(name, 0.0)
        if value > 0:
            made.rect(x, y, wide * value / whole, 9, fill=fill, stroke="ink", width=0.7, tip=f"{name}: {with_unit(value, 'w_per_k')}")
            x += wide * value / whole
        if name in parts:
            texts.append(f"{name} {100 * value / whole:.0f} %")
    half = (len(texts) + 1) // 2 if len(texts) * 84 > made.width else len(texts)
    for n, row in enumerate((texts[:half], texts[half:])):
        made.text(made.width / 2, y + 23 + 14 * n, fitted(" · ".join(row), made.width - 8, 10.5), size=10.5, anchor="middle", color="muted")


def _size(opening: Opening, field: str, value: float, per: tuple[float, float]) -> Pull:
    return Pull(opening.id, field, value, per, *snapping(False)[:2], 0.1, 30.0 if field == "width" else 15.0)


def season_bars(a: Assessment, opening: str, name: str, size: Size = (520.0, 0.0)) -> Sketch:
    """Loss, sun and what is left of them as bars."""
    found = heating_season(a, opening)
    if found is None:
        rows = [Bar(label, None, a.blank, "stone") for label in ("Loss", "Sun let in")]
    else:
        lost, won = found
        left = Bar("Net gain", won - lost, with_unit(won - lost, "energy"), "lichen_pale")
        if won < lost:
            left = Bar("Net loss", lost - won, with_unit(won - lost, "energy"), "line")
        rows = [Bar("Loss", lost, with_unit(lost, "energy"), "stone"), Bar("Sun let in", won, with_unit(won, "energy"), "tide_pale"), left]
    return bars(f"{name}: months with heating", rows, size[0], height=min(size[1], 220.0))


def build_in(a: Assessment, ident: str) -> BuildUp:
    """A build-up of the home by id. Raises KeyError."""
    build = find(a.home, ident)
    if not isinstance(build, BuildUp):
        raise KeyError(ident)
    return build


def opening_in(a: Assessment, ident: str) -> Opening:
    """An opening of the home by id. Raises KeyError."""
    opening = find(a.home, ident)
    if not isinstance(opening, Opening):
        raise KeyError(ident)
    return opening


def elevation_in(a: Assessment, opening: Opening, size: Size = (300.0, 270.0)) -> Sketch:
    """An opening with its type, at the tilt of its face."""
    kind = find(a.home, opening.type) if opening.type else None
    face = a.all_of(BOUNDARY).get(opening.face)
    return elevation(opening, kind if isinstance(kind, OpeningType) else None, size, face.tilt if face is not None else 90.0)


PICTURES = (
    Picture("section", "Section of a build-up", lambda a, of: section_in(a, build_in(a, of))),
    Picture("moisture", "Moisture of a build-up through the year", lambda a, of: moisture_year(a, build_in(a, of))),
    Picture("opening", "Opening", lambda a, of: elevation_in(a, opening_in(a, of))),
    Picture("facade", "Face with its openings", lambda a, of: facade(a, opening_in(a, of).face, of)),
    Picture("sun-hours", "Sun on an opening, hour by hour", lambda a, of: sun_hours(a, opening_in(a, of))),
    Picture("seen", "Seen from an opening", lambda a, of: seen(a, opening_in(a, of))),
    Picture("season", "Opening in the months with heating", lambda a, of: season_bars(a, opening_in(a, of).id, opening_in(a, of).name)),
)
