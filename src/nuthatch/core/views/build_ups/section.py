"""The section of a build-up, to scale from outside to inside: layers with their framing, the temperature through them, each layer's part
of the resistance, and over it the vapour of a month."""

from __future__ import annotations

from dataclasses import dataclass
from math import pi, sin

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.fabric.buildup import resistances, temperatures
from nuthatch.core.fabric.moisture_stages import VAPOUR
from nuthatch.core.fabric.stages import BuildUpUse, use_of
from nuthatch.core.fabric.vapour import Vapour, nearest_in_words, verdict
from nuthatch.core.model.home import BuildUp, Layer
from nuthatch.core.sketch import Bar, Handle, Pull, Sketch, bars, fitted, snapping
from nuthatch.core.solid.stages import BOUNDARY
from nuthatch.core.solid.thickness import effective_layers
from nuthatch.core.units import show, unit_of, with_unit

MONTHS = ("January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December")
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
class Seen:
    """What is shown over a section: temperatures on both sides [°C], the layer that is selected, each layer's part of the resistance,
    the moisture of its use in a month (0 January; None for the one that holds most)."""

    outside: float = ASSUMED_OUTSIDE
    inside: float = INSIDE
    selected: str = ""
    shares: bool = True
    vapour: Vapour | None = None
    month: int | None = None


@dataclass(frozen=True)
class SectionFrame:
    """Where a section stands on its sheet."""

    left: float
    right: float
    top: float
    bottom: float


def section(buildup: BuildUp, use: BuildUpUse, seen: Seen = Seen(), size: Size = SHEET) -> Sketch:
    """The build-up with the temperature through its plain part, or the vapour of a month; the inner edge of each layer can be dragged,
    a layer carried elsewhere."""
    made = Sketch(*size, buildup.name)
    total = sum(layer.thickness.value for layer in buildup.layers if layer.thickness)
    if not total:
        made.say("no layers yet: add the first one from the outside")
        return made
    at = SectionFrame(84.0, size[0] - 84.0, 34.0, max(size[1] - 84.0, 90.0))
    made.text(at.left - 8, 20, "outside", size=12, color="muted", anchor="end")
    made.text(at.right + 8, 20, "inside", size=12, color="muted")
    edges = _layers(made, buildup, total, seen.selected, at)
    made.line((at.left, at.bottom + 12), (at.right, at.bottom + 12), width=0.8)
    made.line((at.right, at.bottom + 8), (at.right, at.bottom + 16), width=0.8)
    made.text(at.right + 10, at.bottom + 28, f"{unit_of('thickness')} · {show(total, 'thickness')}", size=11.5, color="muted")
    if seen.shares:
        _shares(made, buildup, use, edges, at)
    if seen.vapour is not None:
        _vapour(made, seen.vapour, seen.month, edges, at)
    else:
        _temperature(made, buildup, use, edges, seen, at)
    made.carries = tuple((layer, left, right) for layer, (left, right) in edges.items())
    made.hint = f"drag an edge: {snapping(True)[2]} · drag a layer elsewhere · Ctrl + arrows: next layer"
    return made


def _shares(made: Sketch, buildup: BuildUp, use: BuildUpUse, edges: dict[str, tuple[float, float]], at: SectionFrame) -> None:
    """How much of the resistance of the plain part each layer is."""
    layers = effective_layers(buildup)
    plain = resistances(buildup, use.direction)[0]
    if any(n.value is None for n in plain):
        return
    values = [float(n.value or 0.0) for n in plain]
    whole = sum(values)
    for layer, r in zip(layers, values, strict=True):
        if whole > 0 and layer.id in edges and edges[layer.id][1] - edges[layer.id][0] > 24:
            middle = sum(edges[layer.id]) / 2
            made.text(middle, at.top - 6, f"{100 * r / whole:.0f} %", size=11, color="muted", anchor="middle")
    made.text(at.left - 8, at.top - 6, "of R", size=11, color="muted", anchor="end") if at.top > 40 else None


def _vapour(made: Sketch, v: Vapour, chosen: int | None, edges: dict[str, tuple[float, float]], at: SectionFrame) -> None:
    """Saturation pressure and vapour pressure through the layers in a month, where it is wet hatched, and the verdict."""
    words = verdict(v)
    if v.year is None or any(layer.id not in edges for layer in v.layers):
        made.text(
            (at.left + at.right) / 2,
            at.top + 20,
            fitted(words, at.right - at.left, 12),
            size=12,
            color="chestnut",
            anchor="middle",
            halo=True,
        )
        return
    order = v.year.order
    months = v.year.months
    most = max(range(12), key=lambda n: float(months[n].held.sum())) if not v.year.dry else order.index(0)
    number = order.index(chosen) if chosen is not None else most
    month = months[number]
    xs = _places(v, edges)
    top = max(float(month.saturation.max()), float(month.pressure.max()), 1.0)

    def level(p: float) -> float:
        return at.bottom - 10 - p / top * (at.bottom - at.top - 24)

    for n in np.flatnonzero(month.held > 0).tolist():
        x = xs[n]
        made.rect(x - 5, at.top, 10, at.bottom - at.top, fill="chestnut_pale", pattern="hatch", stroke="chestnut", width=0.9)
        made.text(
            x, at.top + 14, with_unit(float(month.held[n]), "condensate"), size=11, bold=True, color="chestnut", anchor="middle", halo=True
        )
    made.line(*((x, level(float(p))) for x, p in zip(xs, month.saturation, strict=True)), stroke="tide", width=1.6, dash=True)
    made.line(*((x, level(float(p))) for x, p in zip(xs, month.pressure, strict=True)), stroke="tide", width=2.2)
    for x, p, anchor in ((at.left - 6, month.pressure[0], "end"), (at.right + 6, month.pressure[-1], "start")):
        made.text(x, level(float(p)) + 4, with_unit(float(p), "pascal", 0), size=11, color="tide", anchor=anchor, halo=True)
    made.text(at.right + 6, level(float(month.saturation[-1])) + 4, "saturated", size=10.5, color="muted", halo=True)
    made.text(at.left, at.bottom + 60, fitted(f"{MONTHS[order[number]]} · {words}", at.right - at.left + 70, 12), size=12, bold=True)


def _places(v: Vapour, edges: dict[str, tuple[float, float]]) -> list[float]:
    """Where the faces and the pieces between them stand on the sheet."""
    assert v.year is not None
    found = [edges[v.layers[0].id][0]]
    for layer, (a, b) in zip(v.layers, zip(v.year.boundaries, v.year.boundaries[1:], strict=False), strict=True):
        left, right = edges[layer.id]
        found += [left + (right - left) * (n + 1) / (b - a) for n in range(b - a)]
    return found


def moisture_year(a: Assessment, build: BuildUp, size: Size = (520.0, 0.0)) -> Sketch:
    """What a build-up holds at the end of each month, and the verdict."""
    v = vapour_of(a, build)
    title = verdict(v) if v is not None else "not toward outside air: no moisture year"
    if v is None or v.year is None:
        return bars(title, [Bar(m, None, a.blank, "stone") for m in MONTHS], size[0], height=size[1])
    if v.year.dry:  # how near it comes says more than twelve zeros
        shares, (worst, _, _) = v.year.shares(), v.year.nearest()
        near = [Bar(MONTHS[m], float(shares[m]), f"{100 * shares[m]:.0f} %", "glass" if m == worst else "slate_pale") for m in range(12)]
        return bars(f"{title}; {nearest_in_words(v)}", near, size[0], 1.0, "100 %: gathers", size[1])
    held = {m: float(month.held.sum()) for m, month in zip(v.year.order, v.year.months, strict=True)}
    rows = [Bar(MONTHS[m], held[m], with_unit(held[m], "condensate"), "chestnut_pale" if held[m] > 0 else "stone") for m in range(12)]
    return bars(title, rows, size[0], height=size[1])


def vapour_of(a: Assessment, build: BuildUp) -> Vapour | None:
    """The moisture of a build-up in its first use toward outside air."""
    return next((v for v in a.all_of(VAPOUR).values() if v is not None and v.buildup == build.id), None)


def _layers(made: Sketch, buildup: BuildUp, total: float, selected: str, at: SectionFrame) -> dict[str, tuple[float, float]]:
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


def _temperature(
    made: Sketch, buildup: BuildUp, use: BuildUpUse, edges: dict[str, tuple[float, float]], seen: Seen, at: SectionFrame
) -> None:
    """The line of temperature from outside to inside, where it can be known."""
    inside, outside = seen.inside, seen.outside
    known = temperatures(buildup, use.direction, use.borders, inside, outside)
    if known is None or any(layer.id not in edges for layer in known[0]):
        return
    layers, values = known

    def level(t: float) -> float:
        low, high = min(inside, outside), max(inside, outside)
        return at.bottom - 12 - (t - low) / max(high - low, 0.1) * (at.bottom - at.top - 24)

    xs = [edges[layers[0].id][0], *(edges[layer.id][1] for layer in layers)]
    points = [(at.left - 46, level(outside)), *((x, level(t)) for x, t in zip(xs, values, strict=True)), (at.right + 46, level(inside))]
    made.line(*points, stroke="tide", width=2.2)
    for x, t in ((at.left - 44, outside), (at.right + 44, inside)):
        text = with_unit(t, "temperature", 0)
        made.text(x, level(t) - 8, text, size=12, bold=True, color="tide", anchor="middle", halo=True)


def use_in(a: Assessment, build: BuildUp) -> tuple[BuildUpUse, int]:
    """(how the first face uses a build-up, how many faces do); as an outer wall where none does."""
    faces = [f for f in a.all_of(BOUNDARY).values() if f.buildup == build.id]
    return (use_of(faces[0]) if faces else BuildUpUse("", build.id, "across", "outside air")), len(faces)


def section_in(a: Assessment, build: BuildUp, seen: Seen | None = None, size: Size = SHEET) -> Sketch:
    """A build-up drawn as on the first face that uses it, on the home's winter design day where nothing else is said."""
    use, _ = use_in(a, build)
    return section(build, use, seen or Seen(outside=winter_of(a)), size)


def winter_of(a: Assessment) -> float:
    """The outdoor temperature of the home's winter design day [°C], an assumed one without a climate."""
    return a.site_climate.winter_design if a.site_climate else ASSUMED_OUTSIDE
