"""The layers of a build-up as the blocks of a section: λ of each so that together they have the build-up's own U-value."""

from __future__ import annotations

from typing import NamedTuple

from nuthatch.core.fabric.buildup import films, layer_nodes, transmittance
from nuthatch.core.graph.alive import while_alive
from nuthatch.core.model.home import BuildUp, Layer
from nuthatch.core.solid.thickness import effective_layers


class Ply(NamedTuple):
    """One layer: its id and name, thickness [m], λ [W/(m·K)]."""

    id: str
    name: str
    thickness: float
    conductivity: float


class Plies(NamedTuple):
    """A build-up in a use: U-value [W/(m²·K)], outer film [m²·K/W], layers from inside to outside; ventilated cladding and what is outside it
    as (id, thickness [m]), which a section leaves out."""

    u: float
    film: float
    layers: tuple[Ply, ...]
    cladding: tuple[tuple[str, float], ...]


class Lacking(ValueError):
    """What a build-up lacks to be drawn."""


@while_alive
def plies(build: BuildUp, direction: str, borders: str) -> Plies:
    """The layers of a build-up; framing counts by the mean λ of its area, then all λ by one factor so that U is the build-up's own. Raises
    Lacking."""
    u = transmittance(build, direction, borders).value
    if u is None:
        raise Lacking(f"{build.name} has no U-value yet: give it its layers first")
    effective = effective_layers(build)
    nodes = layer_nodes(effective, direction)
    if not effective or any(n.value is None for n in nodes):
        raise Lacking(f"{build.name} has a layer without thickness or λ: a section needs both")
    inner, outer = (float(f.value) for f in films(build, direction, borders))
    mean = [_mean(layer, float(n.value or 0.0)) for layer, n in zip(effective, nodes, strict=True)]
    whole = 1 / float(u) - inner - outer
    factor = sum(t / k for t, k in mean) / whole if whole > 0 else 1.0
    layers = [Ply(layer.id, layer.name, t, round(k * factor, 6)) for layer, (t, k) in zip(effective, mean, strict=True)]
    outside = build.layers[: len(build.layers) - len(effective)]
    return Plies(float(u), outer, tuple(reversed(layers)), tuple((x.id, _thick(x)) for x in reversed(outside)))


def _thick(layer: Layer) -> float:
    return layer.thickness.value if layer.thickness is not None else 0.0


def _mean(layer: Layer, r: float) -> tuple[float, float]:
    """(thickness [m], mean λ over its framing)."""
    t = _thick(layer)
    k = t / r if r > 0 else 1.0
    share = layer.framing_share.value if layer.framing_share is not None else 0.0
    framed = layer.framing_conductivity.value if layer.framing_conductivity is not None else k
    return t, (1 - share) * k + share * framed
