"""Build-ups from the layers of an IFC model's walls, slabs and roofs, and opening types from its windows and doors."""

from __future__ import annotations

from collections import defaultdict
from typing import Any

from nuthatch.core.files.disk import printable
from nuthatch.core.model.home import BuildUp, Layer, OpeningType
from nuthatch.core.model.part import Basis, Given


def _given(value: Any) -> Given | None:
    try:
        number = float(value)
    except (TypeError, ValueError):
        return None
    return Given(value=round(number, 6), basis=Basis.DECLARED, source="IFC") if number > 0 else None


def _common(element: Any, name: str) -> Any:
    """A property from any of the sets of an element or its type that are common to its kind."""
    import ifcopenshell.util.element as of

    for key, rows in of.get_psets(element).items():
        if key.startswith("Pset_") and key.endswith("Common") and name in rows:
            return rows[name]
    return None


class BuildUps:
    """Build-ups made where an element asks for them; elements of the same layers share one."""

    def __init__(self, scale: float) -> None:
        self._scale = scale
        self._by: dict[object, BuildUp] = {}
        self._long: dict[str, float] = defaultdict(float)

    @property
    def made(self) -> tuple[BuildUp, ...]:
        return tuple(self._by.values())

    def most(self) -> str:
        """The one that runs along most of the outlines."""
        return max(self._long, key=lambda k: self._long[k]) if self._long else ""

    def of(self, element: Any, along: float) -> str:
        """The build-up of an element, '' where the model says nothing of it; along: how long it runs along an outline [m]."""
        import ifcopenshell.util.element as util

        material = util.get_material(element, should_skip_usage=True)
        rows = tuple(material.MaterialLayers) if material is not None and material.is_a("IfcMaterialLayerSet") else ()
        u = _common(element, "ThermalTransmittance")
        single = material if material is not None and material.is_a("IfcMaterial") else None
        if not rows and single is None and u is None:
            return ""
        key = (rows or single, u)
        if key not in self._by:
            self._by[key] = self._made(element, rows, single, u, f"read-{len(self._by) + 1}")
        self._long[self._by[key].id] += along
        return self._by[key].id

    def _made(self, element: Any, rows: tuple[Any, ...], single: Any, u: Any, ident: str) -> BuildUp:
        import ifcopenshell.util.element as util

        material = util.get_material(element, should_skip_usage=True)
        kind = util.get_type(element)
        said = getattr(material, "LayerSetName", None) or (kind.Name if kind is not None else None) or element.Name or "Build-up"
        layers = [self._layer(r.Material, float(r.LayerThickness) * self._scale, f"{ident}.{n}") for n, r in enumerate(rows, 1)]
        layers += [self._layer(single, 0.0, f"{ident}.1")] if single is not None else []
        return BuildUp(id=ident, name=printable(str(said)), layers=tuple(layers), u_detailed=_given(u))

    def _layer(self, material: Any, thick: float, ident: str) -> Layer:
        import ifcopenshell.util.element as util

        sets = util.get_psets(material) if material is not None else {}
        thermal, common = sets.get("Pset_MaterialThermal", {}), sets.get("Pset_MaterialCommon", {})
        return Layer(
            id=ident,
            name=printable(str(material.Name)) if material is not None and material.Name else "Layer",
            thickness=_given(thick),
            conductivity=_given(thermal.get("ThermalConductivity")),
            density=_given(common.get("MassDensity")),
            specific_heat=_given(thermal.get("SpecificHeatCapacity")),
        )


class Products:
    """Opening types by kind, type and U."""

    def __init__(self) -> None:
        self._by: dict[object, OpeningType] = {}

    @property
    def made(self) -> tuple[OpeningType, ...]:
        return tuple(self._by.values())

    def of(self, element: Any, use: str) -> str:
        """The opening type of a window or door."""
        import ifcopenshell.util.element as util

        kind, u = util.get_type(element), _given(_common(element, "ThermalTransmittance"))
        name = printable(str(kind.Name)) if kind is not None and kind.Name else f"{use.capitalize()}, as read"
        key = use, name, u.value if u is not None else None
        if key not in self._by:
            alike = sum(1 for k in self._by if isinstance(k, tuple) and k[1] == name)
            self._by[key] = OpeningType(
                id=f"read-{use}-{len(self._by) + 1}",
                name=f"{name}, {alike + 1}" if alike else name,
                use=use,  # type: ignore[arg-type]
                entry="whole window" if u is not None else "glass and frame",
                whole_u=u,
            )
        return self._by[key].id
