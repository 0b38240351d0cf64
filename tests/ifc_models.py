"""IFC models for tests, made with ifcopenshell: boxes and prisms as meshes in storeys of a building."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import ifcopenshell
import ifcopenshell.api.aggregate as aggregate
import ifcopenshell.api.context as context
import ifcopenshell.api.geometry as geometry
import ifcopenshell.api.material as material
import ifcopenshell.api.owner as owner
import ifcopenshell.api.owner.settings
import ifcopenshell.api.project as project
import ifcopenshell.api.pset as pset
import ifcopenshell.api.root as root
import ifcopenshell.api.spatial as spatial
import ifcopenshell.api.unit as unit
import numpy as np

Point = tuple[float, float, float]
BOX = ((0, 3, 2, 1), (4, 5, 6, 7), (0, 1, 5, 4), (1, 2, 6, 5), (2, 3, 7, 6), (3, 0, 4, 7))


def box(x0: float, y0: float, z0: float, x1: float, y1: float, z1: float) -> tuple[list[Point], list[tuple[int, ...]]]:
    """Corners and sides of a box."""
    flat = ((x0, y0), (x1, y0), (x1, y1), (x0, y1))
    return [(x, y, z) for z in (z0, z1) for x, y in flat], list(BOX)


class Model:
    """A model being made; lengths in metres, written in millimetres or metres."""

    def __init__(self, schema: str = "IFC4", metres: bool = False, buildings: Sequence[str] = ("House",)) -> None:
        self.file = project.create_file(version=schema)
        if schema == "IFC2X3":  # everything has an owner there
            person = owner.add_person(self.file, identification="tester", family_name="Tester", given_name="")
            of = owner.add_organisation(self.file, identification="own", name="Own")
            user = owner.add_person_and_organisation(self.file, person=person, organisation=of)
            app = owner.add_application(self.file, application_developer=of)
            owner.settings.get_user = lambda _: user
            owner.settings.get_application = lambda _: app
        whole = root.create_entity(self.file, ifc_class="IfcProject", name="Project")
        given = {"length": {"is_metric": True, "raw": "METERS"}} if metres else {}
        unit.assign_unit(self.file, **given)
        model = context.add_context(self.file, context_type="Model")
        self.body = context.add_context(self.file, context_type="Model", context_identifier="Body", target_view="MODEL_VIEW", parent=model)
        site = root.create_entity(self.file, ifc_class="IfcSite", name="Site")
        aggregate.assign_object(self.file, products=[site], relating_object=whole)
        self.buildings = [root.create_entity(self.file, ifc_class="IfcBuilding", name=n) for n in buildings]
        aggregate.assign_object(self.file, products=self.buildings, relating_object=site)
        self.model = model

    def storey(self, name: str, z: float, building: int = 0) -> Any:
        made = root.create_entity(self.file, ifc_class="IfcBuildingStorey", name=name)
        aggregate.assign_object(self.file, products=[made], relating_object=self.buildings[building])
        matrix = np.eye(4)
        matrix[2, 3] = z
        geometry.edit_object_placement(self.file, product=made, matrix=matrix)
        return made

    def add(self, storey: Any, kind: str, name: str, mesh: tuple[list[Point], list[tuple[int, ...]]], predefined: str | None = None) -> Any:
        """An element with a mesh in the model's own axes."""
        made = root.create_entity(self.file, ifc_class=kind, name=name, predefined_type=predefined)
        if kind == "IfcSpace":
            aggregate.assign_object(self.file, products=[made], relating_object=storey)
        else:
            spatial.assign_container(self.file, products=[made], relating_structure=storey)
        corners, faces = mesh
        geometry.edit_object_placement(self.file, product=made, matrix=np.eye(4))
        shape = geometry.add_mesh_representation(self.file, context=self.body, vertices=[corners], faces=[[list(f) for f in faces]])
        geometry.assign_representation(self.file, product=made, representation=shape)
        return made

    def layers(self, elements: list[Any], rows: Sequence[tuple[str, float, float]], name: str) -> None:
        """(material, thickness [m], λ) from outside as the layers of elements."""
        scale = ifcopenshell.util.unit.calculate_unit_scale(self.file)
        made = material.add_material_set(self.file, name=name, set_type="IfcMaterialLayerSet")
        for what, thick, conductivity in rows:
            of = material.add_material(self.file, name=what)
            if self.file.schema != "IFC2X3":
                rows_of = pset.add_pset(self.file, product=of, name="Pset_MaterialThermal")
                pset.edit_pset(self.file, pset=rows_of, properties={"ThermalConductivity": conductivity})
            layer = material.add_layer(self.file, layer_set=made, material=of)
            material.edit_layer(self.file, layer=layer, attributes={"LayerThickness": thick / scale})
        material.assign_material(self.file, products=elements, type="IfcMaterialLayerSet", material=made)

    def says(self, element: Any, of: str, **properties: float) -> None:
        """Properties common to a kind."""
        rows = pset.add_pset(self.file, product=element, name=of)
        pset.edit_pset(self.file, pset=rows, properties=properties)

    def data(self) -> bytes:
        return str(self.file.to_string()).encode()


def walls(model: Model, storey: Any, z: float, top: float, thick: float = 0.3) -> list[Any]:
    """Four walls around 10 × 6 m along their outer faces."""
    t = thick
    rows = {"south": (0, 0, 10, t), "north": (0, 6 - t, 10, 6), "west": (0, t, t, 6 - t), "east": (10 - t, t, 10, 6 - t)}
    return [model.add(storey, "IfcWall", n, box(x0, y0, z, x1, y1, top)) for n, (x0, y0, x1, y1) in rows.items()]


def house(schema: str = "IFC4", metres: bool = False) -> Model:
    """Two storeys of 3 m below a gable of 45° with its ridge along x, 0.5 m over the walls; a slab of 0.25 m below level 0."""
    m = Model(schema, metres)
    low, high = m.storey("Ground floor", 0.0), m.storey("Upper floor", 3.0)
    own = [*walls(m, low, 0, 3), *walls(m, high, 3, 6)]
    m.layers(own, (("Wood fibre", 0.2, 0.04), ("Solid wood", 0.1, 0.13)), "Timber wall")
    slab = m.add(low, "IfcSlab", "Slab", box(0, 0, -0.25, 10, 6, 0), "FLOOR")
    m.says(slab, "Pset_SlabCommon", ThermalTransmittance=0.18)
    m.add(low, "IfcWall", "Inner wall", box(4, 0.3, 0, 4.1, 5.7, 3))
    for storey, z, rows in ((low, 0.0, (("Kitchen", 0.3, 4.0), ("Living", 4.1, 9.7))), (high, 3.0, (("Loft room", 0.3, 9.7),))):
        for name, x0, x1 in rows:
            space = m.add(storey, "IfcSpace", name, box(x0, 0.3, z, x1, 5.7, z + 2.7))
            space.LongName = name
    window = m.add(low, "IfcWindow", "W1", box(5.0, 0.1, 0.9, 6.5, 0.18, 2.1))
    m.says(window, "Pset_WindowCommon", ThermalTransmittance=0.8)
    m.add(high, "IfcWindow", "W2", box(9.82, 2.0, 4.0, 9.9, 3.0, 5.2))
    m.add(low, "IfcDoor", "Front door", box(8.0, 0.05, 0.0, 9.0, 0.15, 2.1))
    m.add(low, "IfcDoor", "Kitchen door", box(4.0, 2.0, 0.0, 4.1, 2.9, 2.0))
    m.add(low, "IfcFurniture" if schema != "IFC2X3" else "IfcFurnishingElement", "Table", box(6, 2, 0, 7, 3, 0.8))
    o = 0.5
    eaves, ridge = 6 - o, 9.0
    corners: list[Point] = [
        (-o, -o, eaves),
        (10 + o, -o, eaves),
        (10 + o, 6 + o, eaves),
        (-o, 6 + o, eaves),
        (-o, 3, ridge),
        (10 + o, 3, ridge),
    ]
    m.add(high, "IfcRoof", "Roof", (corners, [(0, 1, 5, 4), (2, 3, 4, 5), (0, 4, 3), (1, 2, 5), (0, 3, 2, 1)]))
    return m
