"""One simple, stated house for the second calculation: a box with a flat roof, slab on ground, two kinds of windows."""

from __future__ import annotations

from nuthatch.core.library import climate_ref, target_sets
from nuthatch.core.model.home import (
    Air,
    Brief,
    BuildUp,
    Carrier,
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
from nuthatch.core.model.hot_water import PipeRun, Store
from nuthatch.core.model.part import Given
from nuthatch.core.model.ventilation import Duct


def g(value: float) -> Given:
    return Given(value=value, basis="declared")


def layer(ident: str, mm: float, conductivity: float, density: float = 0.0, heat: float = 0.0) -> Layer:
    mass = {"density": g(density), "specific_heat": g(heat)} if density else {}
    return Layer(id=ident, name=ident, thickness=g(mm / 1000), conductivity=g(conductivity), **mass)


def simple_home(climate: str = "marrowby-quay", target: str = "passive-house") -> Home:
    """10 × 8 m, one storey of 3 m, flat roof, front to the south; every number stated here and nowhere else."""
    wall = BuildUp(id="wall", name="Wall", layers=(layer("wall.1", 200, 0.035), layer("wall.2", 100, 0.5, 1200, 1000)))
    roof = BuildUp(id="roof", name="Roof", layers=(layer("roof.1", 300, 0.04), layer("roof.2", 20, 0.13, 500, 1600)))
    slab = BuildUp(id="slab", name="Slab", layers=(layer("slab.1", 150, 0.036), layer("slab.2", 100, 2.0, 2400, 1000)))
    window = OpeningType(
        id="window",
        name="Window",
        glass_u=g(0.7),
        glass_g=g(0.5),
        frame_u=g(1.0),
        frame_side=g(0.1),
        frame_top=g(0.1),
        frame_bottom=g(0.12),
        edge_psi=g(0.03),
        install_psi=g(0.02),
    )

    def opening(ident: str, face: str, w: float, h: float, n: int, winter: float, summer: float) -> Opening:
        return Opening(
            id=ident,
            name=ident,
            face=face,
            type="window",
            width=g(w),
            height=g(h),
            count=g(n),
            shade_winter=g(winter),
            shade_summer=g(summer),
        )

    form = QuickForm(
        length=g(10),
        depth=g(8),
        storeys=g(1),
        storey_height=g(3),
        roof="flat",
        front_azimuth=g(180),
        base="ground",
        wall_buildup="wall",
        top_buildup="roof",
        base_buildup="slab",
        partition_share=g(0.06),
        floor_thickness=g(0.3),
    )
    return Home(
        name="Second calculation",
        brief=Brief(bedrooms=g(2)),
        target_sets=tuple(s for s in target_sets() if s.id == target),
        site=Site(
            climate=climate_ref(climate),
            heating_setpoint=g(20),
            cooling_setpoint=g(25),
            incidence=g(0.9),
            ground_reflectance=g(0.2),
            soil_conductivity=g(2.0),
            soil_capacity=g(2.0),
        ),
        shape=Shape(form=form, inner_mass=g(20)),
        buildups=(wall, roof, slab),
        opening_types=(window,),
        openings=(opening("south", "wall-front", 2.0, 1.5, 3, 0.8, 0.6), opening("north", "wall-back", 1.0, 1.2, 2, 0.9, 0.9)),
        junctions=(Junction(id="j-1", name="edges", length=g(36), psi=g(0.05), b=None),),
        air=Air(
            n50=g(1.5),
            kitchens=g(1),
            baths=g(1),
            wcs=g(0),
            units=(
                VentilationUnit(
                    recovery=g(0.8),
                    power=g(0.4),
                    supply=g(110),
                    extract=g(100),
                    ducts=tuple(
                        Duct(id=f"unit.{n}", way=way, length=g(2), diameter=g(0.16), insulation=g(0.05), conductivity=g(0.035))
                        for n, way in enumerate(("outdoor air", "exhaust air"), 1)
                    ),
                ),
            ),
        ),
        household=Household(simple_gains=g(2.1), electricity=g(2000)),
        water=HotWater(
            litres=g(25),
            temperature=g(60),
            stores=(Store(id="store", name="Store", loss=g(2.0), temperature=g(60)),),
            runs=(
                PipeRun(id="ring", name="Ring", length=g(8), psi=g(0.2), hours=g(4)),
                PipeRun(id="taps", name="Taps", kind="to a tap", content=g(0.5), length=g(4), draws=g(6)),
            ),
        ),
        carriers=(
            Carrier(id="gas", name="Gas", kind="gas", primary=g(1.1), co2=g(0.2)),
            Carrier(id="power", name="Electricity", kind="electricity", primary=g(2.0), co2=g(0.3)),
        ),
        electricity="power",
        sources=(
            HeatSource(
                id="boiler", name="Boiler", carrier="gas", heating_share=g(0.7), water_share=g(1.0), efficiency=g(0.9), auxiliary=g(100)
            ),
            HeatSource(
                id="pump",
                name="Heat pump",
                carrier="power",
                heating_share=g(0.3),
                water_share=g(0.0),
                cooling_share=g(1.0),
                efficiency=g(3.0),
            ),
        ),
    )
