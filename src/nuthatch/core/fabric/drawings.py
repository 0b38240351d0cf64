"""Build-up section and opening elevation as sketches, to scale."""

from __future__ import annotations

from math import pi, sin

from nuthatch.core.fabric.buildup import effective_layers, temperatures
from nuthatch.core.model.home import BuildUp, Layer, Opening, OpeningType
from nuthatch.core.sketch import Sketch
from nuthatch.core.units import show, unit_of, with_unit


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


def section(
    buildup: BuildUp,
    direction: str = "across",
    borders: str = "outside air",
    outside: float = -5.0,
    inside: float = 20.0,
    selected: str = "",
) -> Sketch:
    """The build-up to scale from outside to inside, with framing, thicknesses and the temperature through the plain part."""
    made = Sketch(800, 300, buildup.name)
    drawn = [layer for layer in buildup.layers if layer.thickness is not None]
    total = sum(layer.thickness.value for layer in drawn if layer.thickness)
    if not total:
        made.text(400, 150, "no layers yet: add the first one from the outside", size=13, color="muted", anchor="middle")
        return made
    left, right, top, bottom = 100.0, 700.0, 38.0, 240.0
    made.text(left - 8, 24, "outside", size=12, color="muted", anchor="end")
    made.text(right + 8, 24, "inside", size=12, color="muted")
    counted = {layer.id for layer in effective_layers(buildup)}
    edges, x, narrow = {}, left, False
    for layer in drawn:
        width = (layer.thickness.value if layer.thickness else 0) / total * (right - left)
        kind = _material(layer)
        fill = {"insulation": "white", "wood": "wood", "stone": "stone", "air": "paper"}[kind]
        made.rect(x, top, width, bottom - top, fill=fill, stroke="", id=layer.id, tip=layer.name)
        if kind == "insulation":
            _waves(made, x, top, width, bottom - top)
        if layer.framing_share and layer.framing_share.value > 0:
            for y in (top + 44, top + 144):
                made.rect(x, y, width, max(100 * layer.framing_share.value, 4), fill="wood", width=0.9, id=layer.id)
        chosen = layer.id == selected
        made.rect(
            x, top, width, bottom - top, stroke="slate" if chosen else "ink", width=2.6 if chosen else 1.1, dash=layer.id not in counted
        )
        edges[layer.id] = (x, x + width)
        deep = show(layer.thickness.value if layer.thickness else 0, "thickness")
        narrow = not narrow if width < 22 else False
        made.line((x, bottom + 8), (x, bottom + 16), width=0.8)
        made.text(x + width / 2, bottom + (42 if narrow else 28), deep, size=11.5, anchor="middle", bold=chosen)
        x += width
    made.line((left, bottom + 12), (right, bottom + 12), width=0.8)
    made.line((right, bottom + 8), (right, bottom + 16), width=0.8)
    made.text(right + 12, bottom + 28, f"{unit_of('thickness')} · {show(total, 'thickness')}", size=11.5, color="muted")
    _temperature(made, buildup, edges, direction, borders, outside, inside, (left, right, top, bottom))
    return made


def _temperature(
    made: Sketch,
    buildup: BuildUp,
    edges: dict[str, tuple[float, float]],
    direction: str,
    borders: str,
    outside: float,
    inside: float,
    frame: tuple[float, float, float, float],
) -> None:
    left, right, top, bottom = frame
    known = temperatures(buildup, direction, borders, inside, outside)
    if known is None or any(layer.id not in edges for layer in known[0]):
        return
    layers, values = known

    def level(t: float) -> float:
        return bottom - 12 - (t - outside) / (inside - outside) * (bottom - top - 24)

    xs = [edges[layers[0].id][0], *(edges[layer.id][1] for layer in layers)]
    points = [(left - 50, level(outside)), *((x, level(t)) for x, t in zip(xs, values, strict=True)), (right + 50, level(inside))]
    made.line(*points, stroke="chestnut", width=2.2)
    made.text(
        left - 54,
        level(outside) - 8,
        with_unit(outside, "temperature", 0),
        size=12,
        bold=True,
        color="chestnut_text",
        anchor="middle",
        halo=True,
    )
    made.text(
        right + 54,
        level(inside) - 8,
        with_unit(inside, "temperature", 0),
        size=12,
        bold=True,
        color="chestnut_text",
        anchor="middle",
        halo=True,
    )


def elevation(opening: Opening, kind: OpeningType | None) -> Sketch:
    """One opening from outside with its frame and sizes, to scale."""
    made = Sketch(300, 270, opening.name)
    if kind is None or opening.width is None or opening.height is None:
        made.text(150, 130, "width, height and type draw the opening", size=12, color="muted", anchor="middle")
        return made
    w, h = opening.width.value, opening.height.value
    scale = min(190 / w, 190 / h)
    x, y = 150 - w * scale / 2, 20.0
    door = kind.use == "door" and (kind.opaque_share is None or kind.opaque_share.value > 0.5)
    made.rect(x, y, w * scale, h * scale, fill="wood", width=1.4, id=kind.id)
    if kind.entry == "glass and frame" and kind.frame_side and kind.frame_top and kind.frame_bottom:
        side, top, low = (v.value * scale for v in (kind.frame_side, kind.frame_top, kind.frame_bottom))
    else:
        side = top = low = 0.09 * scale
    gw, gh = w * scale - 2 * side, h * scale - top - low
    if gw > 0 and gh > 0 and not door:
        made.rect(x + side, y + top, gw, gh, fill="glass", width=1.0, dash=kind.entry == "whole window")
        made.line((x + side + gw * 0.25, y + top + gh * 0.75), (x + side + gw * 0.75, y + top + gh * 0.25), stroke="tide", width=0.9)
    made.text(150, y + h * scale + 20, with_unit(w, "length"), size=12, anchor="middle")
    made.text(x - 8, y + h * scale / 2, with_unit(h, "length"), size=12, anchor="end")
    made.text(
        150,
        y + h * scale + 40,
        "frame share not known, drawn dashed" if kind.entry == "whole window" and not door else kind.name,
        size=11,
        color="muted",
        anchor="middle",
    )
    return made
