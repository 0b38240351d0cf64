"""Constructions, layers, materials and window types of gbXML (schema 6.01), out and in."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from xml.etree import ElementTree

from nuthatch.core.assess import Assessment
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.exchange.xml_tree import XmlElement
from nuthatch.core.fabric import openings
from nuthatch.core.fabric.buildup import layer_nodes
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.model.home import BuildUp, Layer, Opening, OpeningType
from nuthatch.core.model.part import Basis, Given
from nuthatch.core.results.figure import Known
from nuthatch.core.solid.plan_faces import slug

SI: dict[str, tuple[str, dict[str, float]]] = {
    "Thickness": ("Meters", {"meters": 1.0, "centimeters": 0.01, "millimeters": 0.001, "feet": 0.3048, "inches": 0.0254, "yards": 0.9144}),
    "Conductivity": ("WPerMeterK", {"wpermeterk": 1.0, "wpercmc": 100.0, "btuperhourftf": 1.730735}),
    "R-value": ("SquareMeterKPerW", {"squaremeterkperw": 1.0, "hrsquareftfperbtu": 0.17611}),
    "U-value": ("WPerSquareMeterK", {"wpersquaremeterk": 1.0, "btuperhoursquareftf": 5.678263}),
    "Density": ("KgPerCubicM", {"kgpercubicm": 1.0, "gramspercubiccm": 1000.0, "lbspercubicft": 16.018463, "lbspercubicin": 27679.905}),
    "SpecificHeat": ("JPerKgK", {"jperkgk": 1.0, "btuperlbf": 4186.8}),
    "SolarHeatGainCoeff": ("Fraction", {"fraction": 1.0, "percent": 0.01}),
}
"""The unit each quantity is written in, and what those of the schema are in it (factors of ISO 80000 and NIST SP 811, from memory)."""
NOT_SAID = "construction-none"


def read_as(value: float) -> Given:
    """A value as the file says it."""
    return Given(value=round(value, 6), basis=Basis.DECLARED, source="gbXML")


# out


@dataclass
class Ids:
    """Ids for a file: each part has one, no two parts the same."""

    taken: dict[str, str] = field(default_factory=dict)

    def of(self, kind: str, ident: str) -> str:
        """The id of a part in the file."""
        key = f"{kind} {ident}"
        if key not in self.taken:
            stem, n = f"{kind}-{slug(ident)}", 1
            while (made := stem if n == 1 else f"{stem}-{n}") in self.taken.values():
                n += 1
            self.taken[key] = made
        return self.taken[key]


def sub(parent: ElementTree.Element, name: str, **attributes: str) -> ElementTree.Element:
    """An element below another."""
    return ElementTree.SubElement(parent, name, attributes)


def text(parent: ElementTree.Element, name: str, said: str, **attributes: str) -> None:
    """An element with a text, without control characters."""
    sub(parent, name, **attributes).text = "".join(c for c in said if c >= " ")


def amount(parent: ElementTree.Element, name: str, value: float) -> None:
    """A quantity with its unit."""
    text(parent, name, f"{value:.9f}".rstrip("0").rstrip("."), unit=SI[name][0])


def constructions(root: ElementTree.Element, a: Assessment, used: frozenset[str], ids: Ids) -> None:
    """The build-ups that faces use, each with its layers from outside and their materials."""
    builds = [b for b in a.home.buildups if b.id in used]
    for build in builds:
        made = sub(root, "Construction", id=ids.of("construction", build.id))
        text(made, "Name", build.name)
        if build.u_detailed is not None:
            amount(made, "U-value", build.u_detailed.value)
        for layer in build.layers:
            sub(made, "LayerId", layerIdRef=ids.of("layer", layer.id))
    if used - {b.id for b in builds}:
        text(sub(root, "Construction", id=NOT_SAID), "Name", "Not said yet")
    for build in builds:
        for layer, node in zip(build.layers, layer_nodes(build.layers, "across"), strict=True):
            made = sub(root, "Layer", id=ids.of("layer", layer.id))
            text(made, "Name", layer.name)
            sub(made, "MaterialId", materialIdRef=ids.of("material", layer.id))
            _material(root, layer, node.value if isinstance(node, Known) else None, ids)


def _material(root: ElementTree.Element, layer: Layer, resistance: object, ids: Ids) -> None:
    made = sub(root, "Material", id=ids.of("material", layer.id))
    text(made, "Name", layer.name)
    if layer.kind == "solid" and layer.resistance is not None:
        amount(made, "R-value", layer.resistance.value)
    elif layer.kind != "solid" and isinstance(resistance, float):
        amount(made, "R-value", resistance)
    for name, value in (
        ("Thickness", layer.thickness),
        ("Conductivity", layer.conductivity),
        ("Density", layer.density),
        ("SpecificHeat", layer.specific_heat),
    ):
        if value is not None:
            amount(made, name, value.value)


def window_types(root: ElementTree.Element, a: Assessment, ids: Ids) -> None:
    """The opening types that are used; those entered whole with their U and solar heat gain."""
    used = {o.type for o in a.home.openings}
    for kind in (k for k in a.home.opening_types if k.id in used):
        made = sub(root, "WindowType", id=ids.of("window", kind.id))
        text(made, "Name", kind.name)
        if kind.entry == "whole window":
            if kind.whole_u is not None:
                amount(made, "U-value", kind.whole_u.value)
            if kind.whole_solar is not None:
                amount(made, "SolarHeatGainCoeff", kind.whole_solar.value)


def product_values(opening: Opening, kind: OpeningType, a: Assessment) -> dict[str, float]:
    """U and solar heat gain of an opening as the whole product, as far as they are known."""
    found = {}
    u = next((e.u for e in a[ELEMENTS] if e.id == opening.id), None)
    if isinstance(u, Known):
        found["U-value"] = float(u.value)
    share, g = openings.glass(opening, kind)
    area, number = openings.area(opening), openings.number(opening)
    known = [n.value for n in (share, g, area, number)]
    if all(v is not None for v in known) and float(area.value or 0) > 0:
        solar = float(share.value) * float(g.value) / (float(area.value) / float(number.value))  # type: ignore[arg-type]
        found["SolarHeatGainCoeff"] = 0.0 if kind.use == "door" and kind.glass_g is None else solar
    return found


# in


def value_of(element: XmlElement, name: str, number: Callable[[XmlElement], float]) -> float | None:
    """A quantity of an element in SI; None where it is not said. Raises HomeFileError for a unit that is not known."""
    found = element.first(name)
    if found is None:
        return None
    usual, units = SI[name]
    unit = found.attributes.get("unit", usual)
    if unit.lower() not in units:
        raise HomeFileError(f"line {found.line}: {name} in “{unit}” is not known here; one of {', '.join(sorted(units))}")
    return number(found) * units[unit.lower()]


class Constructions:
    """The constructions of a file as build-ups, made where a face asks for them."""

    def __init__(self, root: XmlElement, number: Callable[[XmlElement], float]) -> None:
        self._number = number
        self._by: dict[str, Mapping[str, XmlElement]] = {
            name: {e.attributes.get("id", ""): e for e in root.all(name)} for name in ("Construction", "Layer", "Material")
        }
        self._made: dict[tuple[str, bool], BuildUp] = {}

    @property
    def buildups(self) -> tuple[BuildUp, ...]:
        """Those that were asked for."""
        return tuple(self._made.values())

    def of(self, surface: XmlElement, turned: bool) -> str:
        """The build-up of a surface, '' where it names none. turned: its first space is not the heated one, so its layers run outward."""
        ident = surface.attributes.get("constructionIdRef", "")
        element = self._by["Construction"].get(ident)
        if element is None or ident == NOT_SAID:
            return ""
        key = ident, turned
        if key not in self._made:
            self._made[key] = self._buildup(element, f"read-{len(self._made) + 1}", turned)
        return self._made[key].id

    def _buildup(self, element: XmlElement, ident: str, turned: bool) -> BuildUp:
        name = element.said("Name") or element.attributes.get("id", "Build-up")
        layers: list[Layer] = []
        for row in element.all("LayerId"):
            layer = self._by["Layer"].get(row.attributes.get("layerIdRef", ""))
            if layer is None:
                raise HomeFileError(f"line {row.line}: the layer “{row.attributes.get('layerIdRef', '')}” is not in this file")
            for material in layer.all("MaterialId"):
                found = self._by["Material"].get(material.attributes.get("materialIdRef", ""))
                if found is None:
                    raise HomeFileError(
                        f"line {material.line}: the material “{material.attributes.get('materialIdRef', '')}” is not in this file"
                    )
                layers.append(self._layer(found, layer.said("Name"), f"{ident}.{len(layers) + 1}"))
        u = value_of(element, "U-value", self._number)
        rows = tuple(reversed(layers)) if turned else tuple(layers)
        return BuildUp(id=ident, name=name, layers=rows, u_detailed=read_as(u) if u is not None else None)

    def _layer(self, element: XmlElement, called: str, ident: str) -> Layer:
        si = {name: value_of(element, name, self._number) for name in ("Thickness", "Conductivity", "R-value", "Density", "SpecificHeat")}
        name = element.said("Name") or called or "Layer"
        given = {key: read_as(v) for key, v in si.items() if v is not None and v > 0}
        return Layer(
            id=ident,
            name=name,
            thickness=given.get("Thickness"),
            conductivity=given.get("Conductivity"),
            resistance=given.get("R-value") if "Conductivity" not in given else None,
            density=given.get("Density"),
            specific_heat=given.get("SpecificHeat"),
        )


class WindowTypes:
    """The window types of a file as opening types, by their U and solar heat gain; an opening's own values come before its type's."""

    def __init__(self, root: XmlElement, number: Callable[[XmlElement], float]) -> None:
        self._number = number
        self._types = {e.attributes.get("id", ""): e for e in root.all("WindowType")}
        self._made: dict[tuple[object, ...], OpeningType] = {}

    @property
    def types(self) -> tuple[OpeningType, ...]:
        """Those that were asked for."""
        return tuple(self._made.values())

    def of(self, hole: XmlElement) -> str:
        """The opening type of an opening."""
        kind = self._types.get(hole.attributes.get("windowTypeIdRef", ""))
        said = hole.attributes.get("openingType", "")
        use = "door" if "Door" in said else "rooflight" if "Skylight" in said else "window"
        rows = [e for e in (hole, kind) if e is not None]
        u, solar = (
            next((v for e in rows if (v := value_of(e, name, self._number)) is not None), None)
            for name in ("U-value", "SolarHeatGainCoeff")
        )
        name = (kind.said("Name") if kind is not None else "") or {"door": "Door, as read", "rooflight": "Rooflight, as read"}.get(
            use, "Window, as read"
        )
        key = name, use, None if u is None else round(u, 4), None if solar is None else round(solar, 4)
        if key not in self._made:
            alike = sum(1 for k in self._made if k[0] == name)
            self._made[key] = OpeningType(
                id=f"read-{use}-{len(self._made) + 1}",
                name=f"{name}, {alike + 1}" if alike else name,
                use=use,  # type: ignore[arg-type]
                entry="whole window" if u is not None or solar is not None else "glass and frame",
                whole_u=read_as(u) if u is not None else None,
                whole_solar=read_as(solar) if solar is not None else None,
            )
        return self._made[key].id
