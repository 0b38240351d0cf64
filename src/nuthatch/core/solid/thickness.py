"""How thick a build-up is: what of it counts, and its sum."""

from __future__ import annotations

from nuthatch.core.model.home import BuildUp, Layer


def effective_layers(buildup: BuildUp) -> tuple[Layer, ...]:
    """Layers that count: those outside a well-ventilated one, and it, are left out (6.9.4)."""
    last = max((i for i, layer in enumerate(buildup.layers) if layer.kind == "well ventilated"), default=-1)
    return buildup.layers[last + 1 :]


def thickness(buildup: BuildUp) -> float:
    """Sum of the layers' thicknesses [m]; a layer without one adds nothing."""
    return sum(layer.thickness.value for layer in buildup.layers if layer.thickness)
