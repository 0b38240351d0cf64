"""The site: its climate, set-points, ground."""

from __future__ import annotations

from typing import Literal

from nuthatch.core.model.part import Given, Id, IdentifiedPart, choice, flag, quantity, ref, text
from nuthatch.core.model.plans import BackingSheet

MonthName = Literal[
    "January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December"
]


class ClimateRef(IdentifiedPart):
    id: Id = "climate"
    name: str = text("Climate")
    sha256: str = text("Hash of the weather file")


class ClimateMonth(IdentifiedPart):
    """One month of the climate by hand: what is given takes the place of the weather file's; all twelve make a climate of their own."""

    month: MonthName = choice("Month", "January")
    temperature: Given | None = quantity("temperature", "Mean air temperature", least=-60, most=50, short="Air")
    sun_flat: Given | None = quantity("sun_month", "Sun on the horizontal", least=0, most=400, group="Sun", short="Horizontal")
    sun_north: Given | None = quantity("sun_month", "Sun on a wall to the north", least=0, most=400, short="North")
    sun_east: Given | None = quantity("sun_month", "Sun on a wall to the east", least=0, most=400, short="East")
    sun_south: Given | None = quantity("sun_month", "Sun on a wall to the south", least=0, most=400, short="South")
    sun_west: Given | None = quantity("sun_month", "Sun on a wall to the west", least=0, most=400, short="West")
    reflectance: Given | None = quantity(
        "fraction", "Ground reflectance of the month", least=0, most=0.9, group="Ground", help="0.6 to 0.8 under snow", short="Reflectance"
    )


class SiteObject(IdentifiedPart):
    """What stands near the home: on a rectangle, or in a circle where it is a tree. Places are from the home's own zero."""

    name: str = text("Name")
    kind: Literal["block", "tree", "row of trees"] = choice("Kind", "block")
    east: Given | None = quantity("length", "Its middle to the east", least=-2000, most=2000, group="Place", short="East")
    north: Given | None = quantity("length", "Its middle to the north", least=-2000, most=2000, short="North")
    foot: Given | None = quantity("length", "Level of its foot", least=-500, most=500, help="empty: the home's level 0", short="Foot")
    length: Given | None = quantity("length", "Length", above=0, most=2000, group="Size", help="of a tree: how wide it is", short="Length")
    depth: Given | None = quantity("length", "Depth", above=0, most=2000, only="kind=block|row of trees", short="Depth")
    height: Given | None = quantity("length", "Height", above=0, most=400)
    turned: Given | None = quantity(
        "angle", "Its length looks to", least=0, most=360, only="kind=block|row of trees", help="90: east; empty: 90", short="Turned"
    )
    crown: Given | None = quantity(
        "length",
        "Crown begins at",
        least=0,
        most=100,
        only="kind=tree|row of trees",
        help="above its foot; empty: at a fifth",
        short="Crown at",
    )
    light_winter: Given | None = quantity(
        "fraction",
        "Light let through without leaves",
        least=0,
        most=1,
        only="kind=tree|row of trees",
        group="Light let through",
        help="empty: 0.7",
        short="Winter",
    )
    light_summer: Given | None = quantity(
        "fraction", "Light let through with leaves", least=0, most=1, only="kind=tree|row of trees", help="empty: 0.2", short="Summer"
    )


class HorizonPoint(IdentifiedPart):
    """How high the land stands in one direction."""

    azimuth: Given | None = quantity("angle", "Direction", least=0, most=360, help="0 north, 90 east")
    height: Given | None = quantity("angle", "Height above level", least=0, most=89, short="Height")


class RingSector(IdentifiedPart):
    """What is assumed of a part of the surroundings until something is drawn there."""

    start: Given | None = quantity("angle", "From", least=0, most=360, help="clockwise; 0 north, 90 east")
    end: Given | None = quantity("angle", "To", least=0, most=360)
    shade: Literal["open", "partly", "mostly"] = choice(
        "Shaded", "open", help="partly: half of the light below 20°, mostly: four fifths of it below 30°"
    )
    sheltered: bool = flag("Sheltered from wind")


class PlotCorner(IdentifiedPart):
    """A corner of the plot's boundary, from the home's own zero."""

    east: Given | None = quantity("length", "East", least=-2000, most=2000, whole="yes")
    north: Given | None = quantity("length", "North", least=-2000, most=2000, whole="yes")


class SiteSheet(BackingSheet):
    """A map or plan of the site beneath its drawing."""


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
    latitude: Given | None = quantity(
        "coordinate", "Latitude of the site", least=-90, most=90, help="north +, south −; empty: as the weather station", short="Latitude"
    )
    longitude: Given | None = quantity(
        "coordinate", "Longitude of the site", least=-180, most=180, help="east +, west −", short="Longitude"
    )
    elevation: Given | None = quantity(
        "elevation", "Elevation of the site", least=-450, most=5000, help="empty: as the weather station", short="Elevation"
    )
    heating_setpoint: Given | None = quantity("temperature", "Heating set-point", least=10, most=30, group="Set-points", short="Heating")
    cooling_setpoint: Given | None = quantity("temperature", "Cooling set-point", least=20, most=35, short="Cooling")
    setback: Given | None = quantity(
        "temperature",
        "Set back to",
        least=5,
        most=30,
        short="Set back to",
        help="while the pattern of the heating is at 0; empty: not set back",
    )
    heating_hours: str = ref("Heating is set by the hours of", "patterns", short="By", help="empty: the set-point holds all day")
    reheat: Given | None = quantity(
        "heat_flux", "Power to warm rooms up again", least=0, most=100, short="Reheat", help="of room loads, after a setback; empty: none"
    )
    neighbours: Given | None = quantity(
        "temperature", "Neighbours kept at", least=-10, most=30, short="Neighbours", help="for the loads of rooms; empty: 15 °C"
    )
    incidence: Given | None = quantity(
        "fraction",
        "Incidence of sun on glass",
        above=0,
        most=1,
        group="Sun",
        short="Incidence",
        help="how much less glass lets through aslant than straight on, in the mean; empty: by the angle of every hour",
    )
    ground_reflectance: Given | None = quantity("fraction", "Ground reflectance", least=0, most=0.9, group="Ground", short="Reflectance")
    months: tuple[ClimateMonth, ...] = ()
    sheet: SiteSheet | None = None
    plot: tuple[PlotCorner, ...] = ()
    objects: tuple[SiteObject, ...] = ()
    horizon: tuple[HorizonPoint, ...] = ()
    ring: tuple[RingSector, ...] = ()
    rise: Given | None = quantity(
        "percent", "Rise of the ground round about", least=0, most=2, short="Rises by", help="of a slope the home lies on; empty: level"
    )
    rise_to: Given | None = quantity("angle", "It rises to", least=0, most=360, help="0 north, 90 east", short="It rises to")
    soil_conductivity: Given | None = quantity("conductivity", "Soil conductivity", above=0, most=10, short="Soil λ")
    soil_capacity: Given | None = quantity(
        "volumetric_heat",
        "Soil heat capacity",
        above=0,
        most=6,
        help="MJ/(m³·K): clay or silt 3.0, sand, gravel, rock 2.0",
        short="Soil capacity",
    )
    slab_edge_r: Given | None = quantity("resistance", "Slab edge insulation R", least=0, most=20, group="Slab edge insulation", short="R")
    slab_edge_depth: Given | None = quantity(
        "length", "Slab edge insulation depth", least=0, most=5, help="or width, where it lies flat", short="Depth"
    )
    slab_edge_thickness: Given | None = quantity("thickness", "Slab edge insulation thickness", least=0, most=1, short="Thickness")
    slab_edge_lies: Literal["standing", "lying"] = choice("Slab edge insulation is", "standing", short="It is")
