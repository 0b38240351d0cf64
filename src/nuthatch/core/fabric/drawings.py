"""Build-up section and opening elevation as sketches, to scale."""

from __future__ import annotations

from dataclasses import dataclass
from math import pi, sin

from nuthatch.core.assess import Assessment
from nuthatch.core.energy.season import heating_season
from nuthatch.core.fabric.buildup import effective_layers, temperatures
from nuthatch.core.fabric.stages import Use, use_of
from nuthatch.core.model.home import BuildUp, Layer, Opening, OpeningType, find
from nuthatch.core.shape.facade import facade
from nuthatch.core.shape.stages import BOUNDARY
from nuthatch.core.sketch import Bar, Handle, Picture, Pull, Sketch, bars, fitted, snapping
from nuthatch.core.units import show, unit_of, with_unit

ASSUMED_OUTSIDE = -5.0
"""Outdoor temperature a section is drawn for where no climate is chosen [°C]."""
INSIDE = 20.0


def _material(layer: Layer) -> str:
    if layer.kind != "solid":
        return "air"
    lam = layer.conductivity.value if layer.conductivity else 1.0
    if lam < 0.065:
        return "insulation"
    return "wood" if lam < 0.22 else "stone"


def _waves(made: Sketch, x: float, y: float, w: float, h: float) -> None:
    rows = int(h // 16)
    for r in range(rows):
        middle = y + 9 + r * 16
        points = [(x + i * 3.2, middle + 3 * sin(i * 3.2 * 2 * pi / 16)) for i in range(int(w / 3.2) + 1)]
        if len(points) > 1:
            made.line(*points, stroke="slate_pale", width=0.8)


Size = tuple[float, float]
SHEET: Size = (800.0, 300.0)


@dataclass(frozen=True)
class Sheet:
    """Where a section stands on its sheet."""

    left: float
    right: float
    top: float
    bottom: float


def section(buildup: BuildUp, use: Use, outside: float = ASSUMED_OUTSIDE, selected: str = "", size: Size = SHEET) -> Sketch:
    """The build-up to scale from outside to inside, with framing, thicknesses and the temperature through the plain part; the inner edge
    of each layer can be dragged."""
    made = Sketch(*size, buildup.name)
    total = sum(layer.thickness.value for layer in buildup.layers if layer.thickness)
    if not total:
        made.say("no layers yet: add the first one from the outside")
        return made
    at = Sheet(84.0, size[0] - 84.0, 34.0, max(size[1] - 74.0, 90.0))
    made.text(at.left - 8, 20, "outside", size=12, color="muted", anchor="end")
    made.text(at.right + 8, 20, "inside", size=12, color="muted")
    edges = _layers(made, buildup, total, selected, at)
    made.line((at.left, at.bottom + 12), (at.right, at.bottom + 12), width=0.8)
    made.line((at.right, at.bottom + 8), (at.right, at.bottom + 16), width=0.8)
    made.text(at.right + 10, at.bottom + 28, f"{unit_of('thickness')} · {show(total, 'thickness')}", size=11.5, color="muted")
    _temperature(made, buildup, use, edges, outside, at)
    made.hint = f"drag an edge: {snapping(True)[2]} · Ctrl + arrows: next layer"
    return made


def _layers(made: Sketch, buildup: BuildUp, total: float, selected: str, at: Sheet) -> dict[str, tuple[float, float]]:
    """Draws the layers; returns each one's left and right edge on the sheet."""
    counted = {layer.id for layer in effective_layers(buildup)}
    edges: dict[str, tuple[float, float]] = {}
    x, narrow, high = at.left, False, at.bottom - at.top
    for layer in buildup.layers:
        if layer.thickness is None:
            continue
        width, kind = layer.thickness.value / total * (at.right - at.left), _material(layer)
        fill = {"insulation": "white", "wood": "wood", "stone": "stone", "air": "paper"}[kind]
        deep = show(layer.thickness.value, "thickness")
        made.rect(x, at.top, width, high, fill=fill, stroke="", id=layer.id, tip=f"{layer.name}, {deep} {unit_of('thickness')}")
        if kind == "insulation":
            _waves(made, x, at.top, width, high)
        if layer.framing_share and layer.framing_share.value > 0:
            for y in (at.top + 0.22 * high, at.top + 0.72 * high):
                made.rect(x, y, width, max(100 * layer.framing_share.value, 4), fill="wood", width=0.9, id=layer.id)
        chosen = layer.id == selected
        style = {"stroke": "slate", "width": 2.6} if chosen else {"stroke": "ink", "width": 1.1}
        made.rect(x, at.top, width, high, **style, dash=layer.id not in counted)
        edges[layer.id] = (x, x + width)
        narrow = not narrow if width < 26 else False
        made.line((x, at.bottom + 8), (x, at.bottom + 16), width=0.8)
        made.text(x + width / 2, at.bottom + (42 if narrow else 28), deep, size=11.5, anchor="middle", bold=chosen)
        x += width
        pull = Pull(layer.id, "thickness", layer.thickness.value, (total / (at.right - at.left), 0.0), *snapping(True)[:2], 0.001, 3.0)
        made.handles.append(Handle(layer.id, ((x, at.top), (x, at.bottom)), (pull,), f"{deep} {unit_of('thickness')}"))
    return edges


def _temperature(made: Sketch, buildup: BuildUp, use: Use, edges: dict[str, tuple[float, float]], outside: float, at: Sheet) -> None:
    """The line of temperature from outside to inside, where it can be known."""
    known = temperatures(buildup, use.direction, use.borders, INSIDE, outside)
    if known is None or any(layer.id not in edges for layer in known[0]):
        return
    layers, values = known

    def level(t: float) -> float:
        return at.bottom - 12 - (t - outside) / (INSIDE - outside) * (at.bottom - at.top - 24)

    xs = [edges[layers[0].id][0], *(edges[layer.id][1] for layer in layers)]
    points = [(at.left - 46, level(outside)), *((x, level(t)) for x, t in zip(xs, values, strict=True)), (at.right + 46, level(INSIDE))]
    made.line(*points, stroke="tide", width=2.2)
    for x, t in ((at.left - 44, outside), (at.right + 44, INSIDE)):
        text = with_unit(t, "temperature", 0)
        made.text(x, level(t) - 8, text, size=12, bold=True, color="tide", anchor="middle", halo=True)


def elevation(opening: Opening, kind: OpeningType | None, size: Size = (300.0, 270.0)) -> Sketch:
    """One opening from outside with its frame and sizes, to scale; its right and lower edge can be dragged."""
    made = Sketch(*size, opening.name)
    middle = size[0] / 2
    if kind is None or opening.width is None or opening.height is None:
        made.text(middle, size[1] / 2, "width, height and type draw the opening", size=12, color="muted", anchor="middle")
        return made
    w, h = opening.width.value, opening.height.value
    scale = min((size[0] - 130) / w, (size[1] - 84) / h)
    x, y = middle - w * scale / 2, 16.0
    door = kind.use == "door" and (kind.opaque_share is None or kind.opaque_share.value > 0.5)
    made.rect(x, y, w * scale, h * scale, fill="wood", width=1.4, id=kind.id, tip=kind.name)
    if kind.entry == "glass and frame" and kind.frame_side and kind.frame_top and kind.frame_bottom:
        side, top, low = (v.value * scale for v in (kind.frame_side, kind.frame_top, kind.frame_bottom))
    else:
        side = top = low = 0.09 * scale
    gw, gh = w * scale - 2 * side, h * scale - top - low
    if gw > 0 and gh > 0 and not door:
        made.rect(x + side, y + top, gw, gh, fill="glass", width=1.0, dash=kind.entry == "whole window")
        made.line((x + side + gw * 0.25, y + top + gh * 0.75), (x + side + gw * 0.75, y + top + gh * 0.25), stroke="tide", width=0.9)
    below = y + h * scale
    made.text(middle, below + 18, with_unit(w, "length"), size=12, anchor="middle")
    made.text(x - 8, y + h * scale / 2, with_unit(h, "length"), size=12, anchor="end")
    said = "frame share not known, drawn dashed" if kind.entry == "whole window" and not door else kind.name
    made.text(middle, below + 36, fitted(said, size[0], 11), size=11, color="muted", anchor="middle")
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


def _size(opening: Opening, field: str, value: float, per: tuple[float, float]) -> Pull:
    return Pull(opening.id, field, value, per, *snapping(False)[:2], 0.1, 30.0 if field == "width" else 15.0)


def use_in(a: Assessment, build: BuildUp) -> tuple[Use, int]:
    """(how the first face uses a build-up, how many faces do); as an outer wall where none does."""
    faces = [f for f in a.all_of(BOUNDARY).values() if f.buildup == build.id]
    return (use_of(faces[0]) if faces else Use("", build.id, "across", "outside air")), len(faces)


def section_in(a: Assessment, build: BuildUp, selected: str = "", size: Size = SHEET) -> Sketch:
    """A build-up drawn as on the first face that uses it, on the home's winter design day."""
    use, _ = use_in(a, build)
    return section(build, use, a.site_climate.winter_design if a.site_climate else ASSUMED_OUTSIDE, selected, size)


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


def _build_up(a: Assessment, ident: str) -> Sketch:
    build = find(a.home, ident)
    if not isinstance(build, BuildUp):
        raise KeyError(ident)
    return section_in(a, build)


def opening_in(a: Assessment, ident: str) -> Opening:
    """An opening of the home by id. Raises KeyError."""
    opening = find(a.home, ident)
    if not isinstance(opening, Opening):
        raise KeyError(ident)
    return opening


def elevation_in(a: Assessment, opening: Opening, size: Size = (300.0, 270.0)) -> Sketch:
    """An opening with its type."""
    kind = find(a.home, opening.type) if opening.type else None
    return elevation(opening, kind if isinstance(kind, OpeningType) else None, size)


PICTURES = (
    Picture("section", "Section of a build-up", _build_up),
    Picture("opening", "Opening", lambda a, of: elevation_in(a, opening_in(a, of))),
    Picture("facade", "Face with its openings", lambda a, of: facade(a, opening_in(a, of).face, of)),
    Picture("season", "Opening in the months with heating", lambda a, of: season_bars(a, opening_in(a, of).id, opening_in(a, of).name)),
)
