"""Writes the empty home and the demo homes. Everything in them is invented."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from nuthatch.core import library
from nuthatch.core.exchange.homefile import canonical
from nuthatch.core.model.home import (
    Air,
    Appliance,
    Brief,
    BuildUp,
    Carrier,
    Face,
    HeatSource,
    Home,
    HotWater,
    Household,
    Junction,
    Layer,
    Opening,
    OpeningType,
    QuickForm,
    Shape,
    Site,
    VentilationUnit,
)
from nuthatch.core.model.migrations import SCHEMA
from nuthatch.core.model.part import Given

FOLDER = library.DATA / "homes"


def a(value: float, source: str = "library default") -> Given:
    return Given(value=value, basis="assumed", source=source)


def d(value: float, source: str = "product sheet", evidence: str = "") -> Given:
    return Given(value=value, basis="declared", source=source, evidence=evidence)


def c(value: float, source: str) -> Given:
    return Given(value=value, basis="calculated", source=source)


def m(value: float, source: str, evidence: str = "") -> Given:
    return Given(value=value, basis="measured", source=source, evidence=evidence)


def layer(ident: str, material: str, mm: float, basis: Any = a, **more: Any) -> Layer:
    row = next(r for r in library.materials() if r["name"] == material)
    source = row["source"]
    return Layer(id=ident, name=more.pop("name", material), thickness=more.pop("thickness", d(mm / 1000, "drawing")), conductivity=basis(row["conductivity"], source),
                 density=a(row["density"], source), specific_heat=a(row["specific_heat"], source), mu=a(row["mu"], source), **more)


def framing(share: float, lam: float = 0.13, name: str = "Softwood") -> dict[str, Any]:
    return {"framing_share": a(share, "typical for this framing"), "framing_conductivity": a(lam, "ISO 10456:2007 (from memory)"), "framing_name": name}


def sets(*ids: str) -> tuple:
    return tuple(s for i in ids for s in library.target_sets() if s.id == i)


SITE = dict(heating_setpoint=a(20), cooling_setpoint=a(25), ground_reflectance=a(0.2), soil_conductivity=a(2.0, "sand or gravel, ISO 13370"), soil_capacity=a(2.0, "sand or gravel, ISO 13370"))
HOUSEHOLD = dict(simple_gains=a(2.1, "common practice"), person_heat=a(44, "80 W, present 55 % of the time; common practice"))
WATER = dict(litres=a(25, "common practice"), temperature=a(60, "common practice"))
CARRIERS = (
    Carrier(id="electricity", name="Electricity", primary=a(2.1), co2=a(0.21)), Carrier(id="gas", name="Natural gas", primary=a(1.1), co2=a(0.21)),
    Carrier(id="wood", name="Wood logs", primary=a(0.2), co2=a(0.03)),
)
FORM = dict(partition_share=a(0.06, "common practice"), floor_thickness=a(0.3, "common practice"))


def new_home() -> Home:
    return Home(
        site=Site(**SITE), shape=Shape(form=QuickForm(**FORM), inner_mass=a(30, "light partitions and floors; common practice")),
        household=Household(**HOUSEHOLD), water=HotWater(**WATER), carriers=CARRIERS, electricity="electricity",
        air=Air(kitchens=a(1), baths=a(1), wcs=a(0)), target_sets=sets("passive-house"),
    )


def osier_buildups() -> tuple[BuildUp, ...]:
    return (
        BuildUp(id="outer-wall", name="Outer wall, timber frame", layers=(
            layer("outer-wall.1", "Larch boarding", 24, kind="well ventilated", name="Larch boarding, ventilated"),
            layer("outer-wall.2", "Wood-fibre board", 60, d),
            layer("outer-wall.3", "Mineral wool, 0.035", 220, d, name="Mineral wool between studs", **framing(0.09)),
            layer("outer-wall.4", "OSB board", 15, name="OSB, airtight layer"),
            layer("outer-wall.5", "Wood-fibre insulation, flexible", 45, name="Service gap, wood fibre", **framing(0.10)),
            layer("outer-wall.6", "Plasterboard", 12.5))),
        BuildUp(id="pitched-roof", name="Roof, rafters filled", layers=(
            layer("pitched-roof.1", "Roof tiles, clay", 40, kind="well ventilated", name="Tiles on battens, ventilated"),
            layer("pitched-roof.2", "Wood-fibre board", 60, d),
            layer("pitched-roof.3", "Cellulose, blown", 260, d, name="Cellulose between rafters", **framing(0.08)),
            layer("pitched-roof.4", "OSB board", 18, name="OSB, airtight layer"),
            layer("pitched-roof.5", "Mineral wool, 0.035", 50, name="Service gap, mineral wool", **framing(0.10)),
            layer("pitched-roof.6", "Plasterboard", 12.5))),
        BuildUp(id="slab", name="Slab on ground, insulated", layers=(
            layer("slab.1", "XPS, 0.036", 200, d), layer("slab.2", "Reinforced concrete, 1 % steel", 200), layer("slab.3", "EPS, 0.035", 40),
            layer("slab.4", "Screed, cement", 60), layer("slab.5", "Hardwood", 15, name="Oak floor"))),
        BuildUp(id="party-wall", name="Party wall, double leaf", layers=(
            layer("party-wall.1", "Mineral wool, 0.035", 50), layer("party-wall.2", "Calcium silicate block", 175), layer("party-wall.3", "Gypsum plaster", 15))),
    )


def osier_openings() -> tuple[tuple[OpeningType, ...], tuple[Opening, ...]]:
    frame = dict(frame_u=d(0.78), frame_side=d(0.11), frame_top=d(0.11), frame_bottom=d(0.115), edge_psi=d(0.026))
    types = (
        OpeningType(id="triple", name="Triple glazing, argon, low-e", glass_u=d(0.58), glass_g=d(0.53), **frame, install_psi=c(0.018, "drawn detail, office calculation")),
        OpeningType(id="roof-window", name="Roof window, triple", use="rooflight", glass_u=d(0.70), glass_g=d(0.48), frame_u=d(1.1), frame_side=d(0.09),
                    frame_top=d(0.09), frame_bottom=d(0.09), edge_psi=d(0.032)),
        OpeningType(id="front-door", name="Insulated front door", use="door", entry="whole window", whole_u=d(0.82), whole_solar=d(0.0), install_psi=a(0.04), opaque_share=d(1.0)),
    )

    def row(n: int, name: str, face: str, kind: str, w: float, h: float, x: float, sill: float, winter: float, summer: float, count: int = 1) -> Opening:
        return Opening(id=f"w-{n:02d}", name=f"W-{n:02d} {name}", face=face, type=kind, width=d(w, "drawing"), height=d(h, "drawing"), count=d(count, "drawing"),
                       position=d(x, "drawing"), sill=d(sill, "drawing"), shade_winter=a(winter, "street and reveal, estimated"), shade_summer=a(summer, "blind half down, estimated"))

    rows = (
        row(1, "living room", "wall-front", "triple", 2.4, 2.25, 0.9, 0.45, 0.80, 0.45), row(2, "kitchen", "wall-front", "triple", 1.5, 1.3, 4.6, 1.35, 0.80, 0.5),
        row(3, "bedrooms, south", "wall-front", "triple", 1.5, 1.5, 0.9, 3.75, 0.84, 0.5, 2), row(4, "hall", "wall-back", "triple", 0.9, 1.2, 4.4, 1.4, 0.85, 0.85),
        row(5, "bedroom, north", "wall-back", "triple", 1.2, 1.3, 1.0, 3.8, 0.85, 0.85), row(6, "bath", "wall-left", "triple", 0.8, 1.0, 3.5, 4.0, 0.75, 0.75),
        row(7, "roof room", "front-roof", "roof-window", 0.94, 1.4, 1.6, 7.0, 0.92, 0.35, 2), row(8, "front door", "wall-back", "front-door", 1.05, 2.2, 2.6, 0.4, 1.0, 1.0),
        row(9, "gable, roof room", "wall-left", "triple", 1.0, 1.1, 4.6, 6.7, 0.88, 0.7),
    )
    return types, rows


def osier_junctions() -> tuple[Junction, ...]:
    def j(n: int, name: str, family: str, length: float, psi: Given, tier: str, **more: Any) -> Junction:
        return Junction(id=f"j-{n:02d}", name=name, family=family, length=c(length, "from the drawings"), psi=psi, tier=tier, **more)

    own = "drawn detail, office calculation"
    return (
        j(1, "Wall on slab, front and back", "wall · floor", 14.4, c(-0.012, own), "detailed"), j(2, "Wall on slab, gable", "wall · floor", 9.4, c(-0.010, own), "detailed"),
        j(3, "Party wall on slab", "party wall", 9.4, a(0.041, "ψ catalogue"), "typical"), j(4, "Eaves", "wall · roof eaves", 14.4, c(0.014, own), "detailed"),
        j(5, "Verge", "wall · roof verge", 13.3, a(0.01, "ψ catalogue"), "typical"), j(6, "Ridge", "ridge", 7.2, a(-0.01, "ψ catalogue"), "typical"),
        j(7, "Outer corners", "outer corner", 11.4, a(-0.05, "ψ catalogue"), "typical"), j(8, "Upper floors at the wall", "wall · upper floor", 47.6, a(0.01, "ψ catalogue"), "typical"),
        j(9, "Party wall at wall and roof", "party wall", 24.7, a(0.04, "ψ catalogue"), "typical"), j(10, "Threshold of the front door", "threshold", 1.05, c(0.11, own), "detailed", dimensions="internal"),
    )


def osier() -> Home:
    types, rows = osier_openings()
    return Home(
        name="Osier Lane 7", site=Site(climate=library.climate_ref("marrowby-quay"), slab_edge_r=d(2.8), slab_edge_depth=d(1.25, "drawing"), **SITE),
        brief=Brief(client="Osier Lane Housing Co-operative", plot="Plot 7, Osier Lane, Marrowby", project="new build", bedrooms=d(3, "brief")),
        target_sets=sets("passive-house", "residential-code"),
        shape=Shape(inner_mass=a(30, "light partitions and floors; common practice"), form=QuickForm(
            length=d(7.2, "drawing"), depth=d(9.4, "drawing"), storeys=d(2, "drawing"), storey_height=d(2.85, "drawing"), roof="gable", pitch=d(45, "drawing"), ridge="along the length",
            under_roof="room in the roof", front_azimuth=d(175, "site plan"), right="neighbour", base="ground", wall_buildup="outer-wall", party_buildup="party-wall",
            top_buildup="pitched-roof", base_buildup="slab", **FORM)),
        buildups=osier_buildups(), opening_types=types, openings=rows, junctions=osier_junctions(),
        air=Air(n50=m(0.64, "fan test of the finished shell", "test record 2026-09-14"), exposed="several sides", shielding="moderate", kitchens=d(1, "brief"), baths=d(2, "brief"), wcs=d(0, "brief"),
                unit=VentilationUnit(name="Ventilation unit in the plant cupboard", recovery=d(0.84), power=d(0.33), supply=d(140, "commissioning"), extract=d(140, "commissioning"),
                                     duct_length=d(3.6, "drawing"), duct_diameter=d(0.16), duct_insulation=d(0.05), duct_conductivity=d(0.035))),
        household=Household(**HOUSEHOLD, appliances=(
            Appliance(id="lights", name="Lighting, all rooms", energy=a(260), inside_share=a(1.0)), Appliance(id="fridge", name="Fridge and freezer", energy=d(170), inside_share=a(1.0)),
            Appliance(id="cooking", name="Cooking", energy=a(420), inside_share=a(0.6)), Appliance(id="laundry", name="Washing and drying", energy=a(330), inside_share=a(0.5)),
            Appliance(id="dishes", name="Dishwasher", energy=a(200), inside_share=a(0.4)), Appliance(id="media", name="Media, work, small things", energy=a(540), inside_share=a(1.0)))),
        water=HotWater(**WATER, store_loss=d(1.7), store_temperature=d(52), draw_content=d(0.6, "pipe layout"), draws=a(6)),
        carriers=CARRIERS, electricity="electricity",
        sources=(HeatSource(id="heat-pump", name="Air-to-water heat pump", carrier="electricity", heating_share=d(1.0), water_share=d(1.0), efficiency=d(2.45), auxiliary=d(90)),),
    )


def weir() -> Home:
    wall = BuildUp(id="brick-wall", name="Solid brick wall, 1920s", layers=(
        layer("brick-wall.1", "Solid brick", 330, thickness=m(0.33, "measured at a reveal")), layer("brick-wall.2", "Lime plaster", 20)))
    ceiling = BuildUp(id="loft-ceiling", name="Ceiling under the loft", layers=(
        layer("loft-ceiling.1", "Mineral wool, 0.035", 100, name="Mineral wool between joists", **framing(0.10)), layer("loft-ceiling.2", "Lime plaster", 20, name="Lath and plaster")))
    floor = BuildUp(id="cellar-floor", name="Floor over the cellar", layers=(
        layer("cellar-floor.1", "Softwood", 22, name="Floorboards"), layer("cellar-floor.2", "Linoleum", 3)))
    types = (OpeningType(id="old-window", name="Double glazing of 1995", entry="whole window", whole_u=a(2.8), whole_solar=a(0.7), glass_share=a(0.65)),
             OpeningType(id="old-door", name="Wooden door", use="door", entry="whole window", whole_u=a(3.0), whole_solar=a(0.0), opaque_share=a(1.0)))

    def row(n: int, name: str, face: str, kind: str, w: float, h: float, x: float, sill: float, count: int = 1) -> Opening:
        return Opening(id=f"w-{n:02d}", name=f"W-{n:02d} {name}", face=face, type=kind, width=m(w, "measured"), height=m(h, "measured"), count=m(count, "counted"),
                       position=a(x), sill=a(sill), shade_winter=a(0.7), shade_summer=a(0.7))

    return Home(
        name="Weir Cottage", site=Site(climate=library.climate_ref("marrowby-quay"), **SITE), brief=Brief(client="Osier Lane Housing Co-operative", plot="Weir Cottage, Mill Bank, Marrowby", project="retrofit", bedrooms=d(2, "brief")),
        target_sets=sets("retrofit"),
        shape=Shape(inner_mass=a(60, "brick partitions; common practice"), form=QuickForm(
            length=m(8.2, "measured inside"), depth=m(6.6, "measured inside"), storeys=d(2), storey_height=m(2.7, "measured"), roof="gable", pitch=a(40), ridge="along the length", under_roof="insulated ceiling",
            front_azimuth=d(150, "site plan"), base="unheated space", b_base=a(0.55, "cellar partly in the ground; estimated"), b_top=a(0.9, "ventilated loft; estimated"), traced="inner faces",
            wall_buildup="brick-wall", top_buildup="loft-ceiling", base_buildup="cellar-floor", **FORM)),
        buildups=(wall, ceiling, floor), opening_types=types,
        openings=(row(1, "front rooms", "wall-front", "old-window", 1.1, 1.5, 0.9, 1.0, 2), row(2, "bedrooms", "wall-front", "old-window", 1.1, 1.4, 0.9, 3.8, 3), row(3, "kitchen", "wall-back", "old-window", 1.2, 1.2, 1.2, 1.2),
                  row(4, "bath and landing", "wall-back", "old-window", 0.7, 1.1, 1.2, 4.0, 2), row(5, "front door", "wall-back", "old-door", 1.0, 2.1, 4.0, 0.1)),
        junctions=(Junction(id="j-01", name="Floors and corners together", family="other", length=a(60, "estimated"), psi=a(0.1, "between typical and fallback"), tier="fallback"),),
        air=Air(n50=a(7.0, "old house, untested; common practice"), shielding="moderate", kitchens=d(1), baths=d(1), wcs=d(1)),
        household=Household(**HOUSEHOLD, electricity=a(2100, "two bedrooms; common practice")), water=HotWater(**WATER, store_loss=a(3.2), store_temperature=a(60)),
        carriers=CARRIERS, electricity="electricity",
        sources=(HeatSource(id="boiler", name="Gas boiler", carrier="gas", heating_share=d(0.85), water_share=d(1.0), efficiency=a(0.86), auxiliary=a(180)),
                 HeatSource(id="stove", name="Wood stove", carrier="wood", heating_share=d(0.15), water_share=d(0.0), efficiency=a(0.7))),
    )


def sail() -> Home:
    roof = BuildUp(id="loft-roof", name="Roof, starter envelope", layers=(
        layer("loft-roof.1", "Mineral wool, 0.035", 200, name="Mineral wool between rafters", thickness=a(0.2), **framing(0.10)), layer("loft-roof.2", "Plasterboard", 12.5, thickness=a(0.0125))))
    wall = BuildUp(id="loft-wall", name="Wall, starter envelope", layers=(
        layer("loft-wall.1", "Solid brick", 220, thickness=a(0.22)), layer("loft-wall.2", "Mineral wool, 0.035", 120, name="Mineral wool between studs", thickness=a(0.12), **framing(0.12)), layer("loft-wall.3", "Plasterboard", 12.5, thickness=a(0.0125))))
    floor = BuildUp(id="loft-floor", name="Floor over the workshop", layers=(
        layer("loft-floor.1", "Mineral wool, 0.035", 140, name="Mineral wool between joists", thickness=a(0.14), **framing(0.12)), layer("loft-floor.2", "OSB board", 22, thickness=a(0.022))))
    types = (OpeningType(id="any-window", name="Window, early stage", entry="whole window", whole_u=a(1.4), whole_solar=a(0.4), solar_kind="SHGC of the window"),)

    def face(ident: str, name: str, role: str, area: float, tilt: float, azimuth: float, borders: str, buildup: str, **more: Any) -> Face:
        return Face(id=ident, name=name, role=role, area=a(area, "from a sketch"), tilt=a(tilt), azimuth=a(azimuth), borders=borders, buildup=buildup, **more)

    return Home(
        name="Sail Loft", site=Site(climate=library.climate_ref("marrowby-quay"), **SITE), brief=Brief(client="Osier Lane Housing Co-operative", plot="Sail Loft, Quay Street, Marrowby", project="new build", bedrooms=d(0, "studio")),
        target_sets=sets("residential-code"),
        shape=Shape(inner_mass=a(30, "light partitions; common practice"), measured_area=a(38, "from a sketch"), form=None, faces=(
            face("roof-south", "Roof, south", "roof", 27.0, 40, 180, "outside air", "loft-roof"), face("roof-north", "Roof, north", "roof", 27.0, 40, 0, "outside air", "loft-roof"),
            face("gable-west", "Gable, west", "wall", 15.8, 90, 270, "outside air", "loft-wall"), face("gable-east", "Gable, east", "party wall", 15.8, 90, 90, "neighbour", "loft-wall"),
            face("floor", "Floor over the workshop", "floor", 41.4, 180, 0, "unheated space", "loft-floor", b=a(0.8, "workshop, unheated; estimated")))),
        buildups=(wall, roof, floor), opening_types=types,
        openings=(Opening(id="w-01", name="W-01 gable", face="gable-west", type="any-window", width=a(1.6), height=a(1.4), count=a(1), shade_winter=a(0.8), shade_summer=a(0.8)),
                  Opening(id="w-02", name="W-02 roof", face="roof-south", type="any-window", width=a(0.8), height=a(1.2), count=a(2), shade_winter=a(0.9), shade_summer=a(0.9))),
        air=Air(kitchens=a(1), baths=a(1), wcs=a(0)), household=Household(**HOUSEHOLD), water=HotWater(**WATER), carriers=CARRIERS, electricity="electricity",
    )


def save(name: str, home: Home) -> None:
    document = {"nuthatch": "home", "schema": SCHEMA, "home": json.loads(canonical(home))}
    Path(FOLDER / f"{name}.json").write_text(json.dumps(document, ensure_ascii=False, indent=1) + "\n", encoding="utf-8")


if __name__ == "__main__":
    for name, home in (("new-home", new_home()), ("osier-lane-7", osier()), ("weir-cottage", weir()), ("sail-loft", sail())):
        save(name, home)
        print(name)
