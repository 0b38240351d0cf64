"""The site: its climate, set-points, ground."""

from __future__ import annotations

from typing import Literal

from nuthatch.core.model.part import Given, Id, IdentifiedPart, choice, quantity, text


class ClimateRef(IdentifiedPart):
    id: Id = "climate"
    name: str = text("Climate")
    sha256: str = text("Hash of the weather file")


class Site(IdentifiedPart):
    id: Id = "site"
    climate: ClimateRef | None = None
    moisture: Literal["from the weather file", "A moist", "B dry", "C marine"] = choice(
        "Moisture regime",
        "from the weather file",
        help="Asked for where the weather file carries no rain.",
        group="Climate",
        short="Moisture",
    )
    elevation: Given | None = quantity(
        "elevation", "Elevation of the site", least=-450, most=5000, help="empty: as the weather station", short="Elevation"
    )
    heating_setpoint: Given | None = quantity("temperature", "Heating set-point", least=10, most=30, group="Set-points", short="Heating")
    cooling_setpoint: Given | None = quantity("temperature", "Cooling set-point", least=20, most=35, short="Cooling")
    incidence: Given | None = quantity(
        "fraction",
        "Incidence of sun on glass",
        above=0,
        most=1,
        group="Sun",
        short="Incidence",
        help="how much less glass lets through aslant than straight on, in the mean; empty: 0.9",
    )
    ground_reflectance: Given | None = quantity("fraction", "Ground reflectance", least=0, most=0.9, group="Ground", short="Reflectance")
    soil_conductivity: Given | None = quantity("conductivity", "Soil conductivity", above=0, most=10, short="Soil λ")
    soil_capacity: Given | None = quantity(
        "volumetric_heat",
        "Soil heat capacity",
        above=0,
        most=6,
        help="MJ/(m³·K): clay or silt 3.0, sand, gravel, rock 2.0",
        short="Soil heat capacity",
    )
    slab_edge_r: Given | None = quantity("resistance", "Slab edge insulation R", least=0, most=20, group="Slab edge insulation", short="R")
    slab_edge_depth: Given | None = quantity(
        "length", "Slab edge insulation depth", least=0, most=5, help="or width, where it lies flat", short="Depth"
    )
    slab_edge_thickness: Given | None = quantity("thickness", "Slab edge insulation thickness", least=0, most=1, short="Thickness")
    slab_edge_lies: Literal["standing", "lying"] = choice("Slab edge insulation is", "standing", short="It is")
