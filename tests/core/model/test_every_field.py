"""Every field of the model does something: it moves a result, a verdict, a question or a drawing; or the reason stands here."""

from __future__ import annotations

import json
from pathlib import Path as FilePath
from typing import Any, NamedTuple

import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import ChangeRefused, SetValue, apply
from nuthatch.core.climate.calendar import NAMES
from nuthatch.core.climate.library import climate_for
from nuthatch.core.edits.whole_parts import as_list
from nuthatch.core.exchange.summary import as_data
from nuthatch.core.heatflow.of_home import detail_of
from nuthatch.core.heatflow.plies import Ply
from nuthatch.core.junctions.sections import Arm, two_arms
from nuthatch.core.library import demo_home, target_sets
from nuthatch.core.model import home as model
from nuthatch.core.model.heat import FurtherCarrier, HeatSource, Modules, OwnPower, PerformancePoint
from nuthatch.core.model.home import Appliance, Home, Opening, walk_parts
from nuthatch.core.model.hot_water import DrawOff, PipeCorner, PipeRun, SolarField, Store, WaterMonth
from nuthatch.core.model.part import FieldSpec, Given, Part, kinds_below, replace, specs
from nuthatch.core.model.patterns import DayPattern, PatternDay
from nuthatch.core.model.rooms import RoomKind
from nuthatch.core.model.site import ClimateMonth, HorizonPoint, RingSector, SiteObject
from nuthatch.core.model.target_set import TargetSet
from nuthatch.core.results.figure import Known
from nuthatch.core.sketch import Path
from nuthatch.core.views.energy_way import own_words
from nuthatch.core.views.pictures import PICTURES
from nuthatch.core.visit import to_collect
from tests.air_home import air_home, other_air_homes
from tests.form_homes import form_home
from tests.plan_home import other_plan_homes, plan_home
from tests.simple_home import g, layer, simple_home
from tests.thorough import some

# fields that move no result, and why
REPORT = "stands in the report of the air test"
QUIET = {
    ("Layer", "framing_name"): "a name beside the share of framing",
    ("BuildUp", "id"): "ids name parts",
    ("Brief", "project"): "stands on the dossier and in the home bar",
    ("Brief", "client"): "stands on the dossier",
    ("Pin", "chapter"): "where a pin stands: tests/core/dossier/test_pages.py",
    **{("Chapter", f): "which chapters a dossier has: tests/core/dossier/test_pages.py" for f in ("chapter", "name", "shown")},
    **{("Issued", f): "what went out: tests/core/dossier/test_revisions.py" for f in ("name", "date", "profile", "note")},
    ("DossierPlan", "profile"): "stands on the dossier's cover",
    ("DossierPlan", "paper"): "how the dossier's pages are set",
    ("DossierPlan", "units"): "how the dossier's pages are set",
    ("DossierPlan", "prepared"): "stands in the dossier's declaration",
    ("DossierPlan", "checked"): "stands in the dossier's declaration",
    ("DossierPlan", "statement"): "stands in the dossier's declaration",
    ("Brief", "built"): REPORT,
    ("AirTest", "parts"): REPORT,
    ("AirTest", "deviations"): REPORT,
    ("AirTest", "sizes_by"): REPORT,
    ("Brief", "plot"): "stands on the dossier",
    ("Brief", "visit"): "stands on the list for the visit",
    ("Brief", "visit_notes"): "stands on the list for the visit",
    ("Brief", "notes"): "for the office",
    ("ClimateRef", "name"): "shown while the weather file is not here",
    ("ClimateRef", "sha256"): "names the weather file; the climate read from it is handed over beside the home",
    ("Detail", "name"): "names it in lists and questions",
    ("Detail", "of_type"): "whose ψ it is asked about (test_reveals)",
    ("Detail", "side"): "which ψ of its type it is asked about (test_reveals)",
    ("DetailBlock", "name"): "names it in lists, tips and faults",
    ("DetailBlock", "follows"): "moves with its layer; an own material is a value of its own",
    ("DetailLie", "buildup"): "what a section goes along with; other layers than then are asked about",
    ("DetailSpace", "name"): "flanks name it; a fault in it is told by it",
    ("DetailSpace", "temperature"): "the picture is drawn for it; ψ and f_Rsi do not depend on it",
    ("DetailFlank", "name"): "names it in the sheet of its detail",
    ("Store", "name"): "names it in lists and workings",
    ("DayPattern", "name"): "names it in lists",
    **{
        ("HourChart", f): "what a chart of one's own shows (test_hours)"
        for f in ("name", "kind", "run", "first", "second", "third", "start", "end")
    },
    ("RoomKind", "weight"): "rooms by the hour, worked out when they are looked at (test_rooms)",
    ("RoomKind", "pattern"): "rooms by the hour, worked out when they are looked at (test_rooms)",
    ("DayPattern", "kind"): "how a new one begins; any use may go by it",
    ("Modules", "name"): "names them in lists and workings",
    ("Site", "longitude"): "where the site lies on the map, and how far a climate is away",
    ("PlotCorner", "east"): "the boundary of the plot on the site plan (test_cast)",
    ("PlotCorner", "north"): "the boundary of the plot on the site plan (test_cast)",
    **{
        ("SiteSheet", f): "a picture beneath the site plan in the window" for f in ("x", "y", "width", "turned", "mirrored", "name", "file")
    },
    ("BackingSheet", "x"): "where a picture lies beneath the plan in the window",
    ("BackingSheet", "y"): "where a picture lies beneath the plan in the window",
    ("BackingSheet", "width"): "how large a picture lies beneath the plan in the window",
    ("BackingSheet", "turned"): "how a picture lies beneath the plan in the window",
    ("BackingSheet", "mirrored"): "how a picture lies beneath the plan in the window",
    ("BackingSheet", "name"): "names the picture",
    ("BackingSheet", "file"): "names the picture among the evidence",
    ("SiteObject", "name"): "names it on the site plan and in what is seen from a glass",
    ("Hole", "name"): "names a court in lists, tips and questions",
    **{
        ("Upgrade", f): "stands on the ladder of options"
        for f in ("name", "about", "cost", "per", "amount", "grant", "due", "upkeep", "life", "kind")
    },
    **{("Option", f): "what an option is; the home stays as it is" for f in ("name", "after", "report")},
    **{
        ("Certainty", f): "how far values may lie: the chance of passing (test_chance)"
        for f in ("assumed", "declared", "measured", "temperature", "psi_assumed", "psi_known", "n50", "share")
    },
    **{("Economy", f): "what options are compared by" for f in ("years", "interest", "rise")},
    ("Home", "currency"): "stands beside the cost",
    ("Junction", "tier"): "says where ψ comes from; ψ itself is a value of its own, unless it is left to the catalogue",
    ("AirTest", "works"): REPORT,
    ("AirTest", "by"): REPORT,
    ("AirTest", "follows"): REPORT,
    ("AirTest", "purpose"): "chooses what is to be prepared; stands in the report",
    ("AirTest", "file"): "names the file of the readings among the evidence",
    ("Fan", "name"): REPORT,
    ("Fan", "serial"): REPORT,
    ("Fan", "calibrated"): REPORT,
    ("PressureGauge", "name"): REPORT,
    ("PressureGauge", "serial"): REPORT,
    ("PressureGauge", "calibrated"): REPORT,
    ("FanRing", "name"): "readings name it",
    ("FanRing", "least"): "a reading below it is refused",
    ("FanRing", "most"): "a reading above it is refused",
    ("Preparation", "name"): REPORT,
    ("Preparation", "asked"): REPORT,
    ("Preparation", "note"): REPORT,
    ("Preparation", "photo"): REPORT,
    ("TestReading", "seconds"): "how long a reading was averaged; stands with it",
    ("Leak", "name"): REPORT,
    ("Leak", "kind"): REPORT,
    ("Leak", "strength"): REPORT,
    ("Leak", "mended"): "a follow-up looks for what is not mended",
    ("Leak", "note"): REPORT,
    ("Leak", "photo"): REPORT,
    ("ZonePressure", "name"): REPORT,
    ("Pin", "name"): "a caption in the dossier",
    ("Pin", "picture"): "chosen for the dossier",
    ("Pin", "of"): "chosen for the dossier",
}


def homes() -> list[Home]:
    """Homes that between them use every field."""
    osier, simple = demo_home("osier-lane-7"), simple_home()
    wall = replace(
        simple.buildups[0],
        gap_level="1",
        fasteners=g(0.01),
        layers=(
            replace(layer("cavity", 40, 0.2), kind="air layer", conductivity=None, opening_area=g(800)),
            replace(layer("studs", 200, 0.035, 30, 1030), framing_share=g(0.1), framing_conductivity=g(0.13)),
            replace(layer("board", 60, 0.2, 800, 1000), resistance=g(0.4)),
        ),
    )
    whole = replace(
        simple.opening_types[0],
        id="whole",
        entry="whole window",
        whole_u=g(1.0),
        whole_solar=g(0.5),
        glass_share=g(0.7),
        opaque_share=g(0.1),
    )
    cold = Opening(id="cold", name="Cold", face="wall-left", type="whole", width=g(1), height=g(1), sill=g(0.9), position=g(1.0),
                   shade_winter=g(0.8), shade_summer=g(0.8), count=g(2), left="another opening")  # fmt: skip
    assert simple.shape.form is not None
    form = replace(
        simple.shape.form, left="unheated space", b_side=g(0.6), back="neighbour", party_buildup="roof", roof="gable", pitch=g(30),
        under_roof="room in the roof", storeys=g(2),
    )  # fmt: skip
    itemised = replace(
        simple,
        buildups=(wall, *simple.buildups[1:]),
        opening_types=(*simple.opening_types, whole),
        openings=(replace(simple.openings[0], face="wall-front"), cold),
        shape=replace(simple.shape, form=form),
        household=replace(
            simple.household, gains="itemised", person_heat=g(55), electricity=None, people=g(3),
            appliances=(Appliance(id="a", name="A", energy=g(90), inside_share=g(0.8), uses=g(5), number=g(2)),),
        ),
        junctions=(replace(simple.junctions[0], b=g(0.9)),),
        water=replace(simple.water, cold=g(11)),
        sources=(replace(simple.sources[0], cooling_share=g(1.0)), replace(simple.sources[1], cooling_share=g(0.0))),
        site=replace(simple.site, slab_edge_r=g(2.0), slab_edge_depth=g(1.0)),
        target_sets=target_sets(),
    )  # fmt: skip
    loft = replace(
        itemised,
        shape=replace(
            itemised.shape, form=replace(form, under_roof="insulated ceiling", b_top=g(0.9), base="unheated space", b_base=g(0.5))
        ),
    )
    detailed = replace(itemised, buildups=tuple(replace(b, u_detailed=g(0.2)) for b in itemised.buildups))
    inner = replace(itemised, shape=replace(itemised.shape, dimensions="internal", measured_area=g(120), air_volume=g(300)))
    by_area = replace(
        simple,
        household=replace(simple.household, floor_per_person=g(30)),
        site=replace(itemised.site, elevation=g(50), slab_edge_thickness=g(0.1)),
    )
    cellar = apply(as_list(assess(simple, climate_for(simple, None))), simple)
    buried = replace(cellar.shape.faces[0], borders="ground", depth=g(2.4))
    cellar = replace(cellar, shape=replace(cellar.shape, faces=(buried, *cellar.shape.faces[1:]), inner_envelope=g(250)))
    listed = apply(as_list(assess(simple, climate_for(simple, None))), simple)
    osier = replace(osier, details=(), junctions=tuple(replace(j, detail="", psi=j.psi or g(-0.05)) for j in osier.junctions))
    osier = replace(osier, site=replace(osier.site, reheat=g(5), neighbours=g(12)))
    night = DayPattern(id="p", name="P", days=(PatternDay(id="p.1", hours=(1.0,) * 8 + (0.1,) * 16),))
    kinds = (
        RoomKind(id="kind-1", use="bedroom", temperature=g(18), weight=g(4), pattern="p"),
        RoomKind(id="kind-2", use="bath", temperature=g(24)),
    )
    osier = replace(
        osier, patterns=(night, *osier.patterns), room_kinds=kinds, sources=tuple(replace(s, cooling_share=None) for s in osier.sources)
    )
    osier = replace(osier, carriers=tuple(replace(c, standing=g(90)) for c in osier.carriers))
    bare = replace(osier, junctions=(), junctions_none=False)
    corner = replace(simple.junctions[0], id="own", name="Own", family="outer corner")
    brick = Arm("wall", (Ply("", "brick", 0.3, 0.8),), 1.6, 0.04)
    over = Arm("floor", (Ply("", "boards", 0.1, 0.5),), 1.8, 0.17, "unheated", 0.5)
    cellar_edge = detail_of(two_arms("floor", (brick, over), 90, 90.0, False).section, "edge")
    solved_one = replace(corner, id="solved", family="floor over cold", psi=None, tier="detailed", detail="edge")
    anchors = replace(corner, id="anchors", own=True, points=g(5), chi=g(0.1))
    found = replace(plan_home(), junctions=(corner, solved_one, anchors), junctions_from="shape", details=(cellar_edge,))
    planned = [*other_plan_homes(), rows_in_plans(), found]
    return [
        *by_the_hour(),
        *planned,
        parts_home(simple),
        form_home("sail-loft"),
        osier,
        demo_home("weir-cottage"),
        demo_home("sail-loft"),
        itemised,
        loft,
        detailed,
        inner,
        listed,
        bare,
        by_area,
        cellar,
        air_home(),
        *other_air_homes(),
        *in_their_sites(simple_home("verrin-plain")),
        ground_pump(simple),
        *waters(simple),
        *sources_with_limits(simple),
        pipes_on_plans(),
    ]


def waters(simple: Home) -> tuple[Home, Home]:
    """Hot water by draw-offs with cold water by its ends and collectors of a sheet; collectors on a face, with values at the inlet."""
    drawn = (
        DrawOff(id="d1", name="Shower", litres=g(40), temperature=g(40), number=g(0.8)),
        DrawOff(id="d2", name="Machine", litres=g(12), temperature=g(50), number=g(1), per="the home"),
    )
    sheet = SolarField(
        id="solar-1", name="Collectors", area=g(3), optical=g(0.78), loss=g(3.7), loss_second=g(0.012), tilt=g(40), azimuth=g(170),
        sunlit=g(0.9), volume=g(200), pump=g(40),
    )  # fmt: skip
    face = simple.openings[0].face
    on_face = replace(sheet, values="at the inlet", tilt=None, azimuth=None, face=face, loss_second=None)
    ring = PipeRun(
        id="ring", name="Ring", length=g(8), diameter=g(0.018), insulation=g(0.02), conductivity=g(0.035), hours=g(6), stops=g(2)
    )
    tap = PipeRun(id="tap", name="Tap", kind="to a tap", length=g(4), diameter=g(0.015), draws=g(3))
    late = (
        PatternDay(id="p.1", days="weekends", season="winter", hours=(0.4,) * 24),
        PatternDay(id="p.2", season="winter", hours=(0.7,) * 24),
    )
    patterns = (DayPattern(id="p", name="P", days=late),)
    drawn = (replace(drawn[0], pattern="p"), drawn[1])
    first = replace(
        simple.water, demand="by draw-offs", draw_offs=drawn, cold_least=g(6), cold_most=g(14), solar=(sheet,), runs=(ring, tap), days_a_week=g(6),
        stores=(Store(id="store", name="Store", volume=g(200), temperature=g(62)),), months=(WaterMonth(id="m", month="August", share=g(0.5), cold=g(14)),),
    )  # fmt: skip
    by_person = replace(simple.water, solar=(on_face,), pattern="p", runs=(replace(ring, stops=None, content=g(1.5), pattern="p"),))
    household = replace(
        simple.household, gains="itemised", person_heat=g(90), presence="p", electricity=None,
        appliances=(Appliance(id="a", name="A", energy=g(300), pattern="p"),),
    )  # fmt: skip
    return replace(simple, water=first, patterns=patterns), replace(simple, water=by_person, patterns=patterns, household=household)


def pipes_on_plans() -> Home:
    """Pipes drawn on two storeys, one of them and a store in an unheated space; appliances that stand in rooms."""
    home = plan_home()
    assert home.shape.plans is not None
    first, second = (s.id for s in home.shape.plans.storeys[:2])
    rooms = [r.id for s in home.shape.plans.storeys for r in s.rooms]
    corners = tuple(PipeCorner(id=f"ring.{n}", x=g(x), y=g(y)) for n, (x, y) in enumerate(((1.0, 1.0), (4.0, 1.0), (4.0, 3.0)), 1))
    ring = PipeRun(
        id="ring", name="Ring", psi=g(0.2), hours=g(10), corners=corners, rise=g(1.0), storey=first, place="unheated space", space="Garage"
    )
    other = replace(
        ring,
        id="riser",
        storey=second,
        place="inside the envelope",
        space="",
        corners=tuple(replace(c, id=f"riser.{c.id}") for c in corners),
    )
    water = replace(
        home.water, litres=g(25), temperature=g(60), runs=(ring, other),
        stores=(Store(id="store", name="S", loss=g(2), place="unheated space", space="Garage"),),
    )  # fmt: skip
    stands = (Appliance(id="a", name="A", energy=g(300), room=rooms[0]),) if rooms else ()
    return replace(home, water=water, household=replace(home.household, appliances=stands))


def sources_with_limits(simple: Home) -> tuple[Home, ...]:
    """A heat pump with a bivalence point and a hottest flow, a boiler of two carriers that takes over; one that stands alone below its point;
    a stove in a home with a unit; carriers as billed; modules that count, and one that lies on a face."""
    points = tuple(
        PerformancePoint(id=f"p{n}", source=g(s), flow=g(f), cop=g(c)) for n, (s, f, c) in enumerate(((7, 35, 4.6), (-7, 55, 1.9)))
    )
    pump = HeatSource(
        id="pump", name="Pump", kind="heat pump", carrier="power", heating_share=g(0.8), water_share=g(1), cooling_share=g(1), flow_design=g(45),
        points=points, stops_below=g(2), flow_most=g(55), takes_over="boiler", distribution=g(0.05), standby=g(6), cooling_performance=g(3),
    )  # fmt: skip
    boiler = HeatSource(
        id="boiler", name="Boiler", kind="boiler", carrier="gas", heating_share=g(0.2), efficiency=g(0.9),
        further=(FurtherCarrier(id="f", carrier="power", share=g(0.3), efficiency=g(0.97)),),
    )  # fmt: skip
    gas = replace(simple.carriers[0], billed="m³", unit_price=g(1.1), unit_energy=g(10.5))
    power = replace(simple.carriers[1], price=g(0.3))
    modules = (
        Modules(
            id="m", name="M", peak=g(3000), tilt=g(30), azimuth=g(170), sunlit=g(0.9), warm=g(-0.0035), losses=g(0.1), inverter=g(0.97)
        ),
        Modules(id="n", name="N", peak=g(900), face="wall-front"),
    )
    own = OwnPower(counted="counted", own_use=g(0.4), feed_in=g(0.08), modules=modules)
    first = replace(simple, sources=(pump, boiler), carriers=(gas, power), power=own)
    alone = replace(pump, below="the other alone", power=g(3000))
    stove = replace(simple.sources[0], kind="stove", power=g(900), takes_over="pump")
    return (
        first,
        replace(first, sources=(alone, boiler), power=replace(own, own_use=None)),
        replace(simple, sources=(stove, simple.sources[1])),
    )


def by_the_hour() -> tuple[Home, Home]:
    """A warm place without cooling: heating set back, windows and blinds moved by a pattern."""
    simple = simple_home("verrin-plain")
    day = PatternDay(id="p.1", hours=tuple(0.9 if 13 <= h < 20 else 0.1 for h in range(24)))
    south = replace(simple.openings[0], shade_summer=None, blind="outside")
    home = replace(
        simple,
        patterns=(DayPattern(id="p", name="P", days=(day,)),),
        openings=(south, *simple.openings[1:]),
        sources=tuple(replace(s, cooling_share=None) for s in simple.sources),
        site=replace(simple.site, setback=g(15), heating_hours="p"),
        household=replace(simple.household, by_hand="counted", hand_most=g(1.5), window_hours="p", night_windows=True, blind_hours="p"),
    )
    return home, replace(home, household=replace(home.household, night_windows=False))


def ground_pump(simple: Home) -> Home:
    """A heat pump by its sheet that takes its heat from the ground, at a temperature that was measured."""
    points = tuple(
        PerformancePoint(id=f"sheet-{n}", source=g(s), flow=g(f), cop=g(c)) for n, (s, f, c) in enumerate(((0, 35, 4.5), (5, 55, 2.9)))
    )
    source = replace(
        simple.sources[0], kind="heat pump", efficiency=None, takes_from="ground", ground_temperature=g(6), flow_design=g(40), points=points
    )
    return replace(simple, sources=(source, *simple.sources[1:]))


def in_their_sites(simple: Home) -> tuple[Home, ...]:
    """Openings with edges and blinds of their own where it is warm, neighbours and trees, what is assumed on the ring; one with a horizon, on
    ground that rises; one with months by hand in the place of a file's, one with nothing but months."""
    first, second = simple.openings
    bare = {"shade_winter": None, "shade_summer": None}
    shaded = replace(first, **bare, reveal=g(0.1), overhang=g(0.4), overhang_above=g(0.2), fin_left=g(0.3), fin_right=g(0.2), blind="awning",
                     blind_passes=g(0.4), blind_sun=g(150), blind_warm=g(10))  # fmt: skip
    house = SiteObject(id="no-5", name="No. 5", east=g(4), north=g(-12), foot=g(0.5), length=g(9), depth=g(6), height=g(7), turned=g(80))
    tree = SiteObject(id="birch", name="Birch", kind="tree", east=g(-2), north=g(-7), length=g(5), height=g(9), crown=g(1.5),
                      light_winter=g(0.7), light_summer=g(0.2))  # fmt: skip
    around = (house, tree, replace(house, id="row", kind="row of trees", east=g(-9)))
    ring = (
        RingSector(id="ring-e", start=g(30), end=g(100), shade="partly"),
        RingSector(id="ring-n", start=g(280), end=g(20), shade="mostly"),
    )
    horizon = (HorizonPoint(id="h1", azimuth=g(90), height=g(5)), HorizonPoint(id="h2", azimuth=g(200), height=g(12)))
    made = replace(simple, openings=(shaded, replace(second, **bare)), air=replace(simple.air, shielding="as the site shows"))
    return (
        replace(made, site=replace(simple.site, objects=around, ring=ring)),
        replace(made, site=replace(simple.site, objects=around, horizon=horizon, rise=g(0.2), rise_to=g(150))),
        replace(made, site=replace(simple.site, months=by_hand(), ground_reflectance=g(0.3))),
        replace(made, site=replace(simple.site, climate=None, months=by_hand(), latitude=g(50), longitude=g(9), elevation=g(300))),
    )


def by_hand() -> tuple[ClimateMonth, ...]:
    """Twelve months of no place."""
    air, flat = (1, 2, 6, 10, 14, 18, 20, 19, 15, 10, 5, 2), (25, 40, 80, 120, 155, 165, 165, 140, 95, 55, 28, 20)
    return tuple(
        ClimateMonth(id=f"month-{n}", month=name, temperature=g(a), reflectance=g(0.2), sun_flat=g(f), sun_north=g(0.25 * f), sun_east=g(0.55 * f),
                     sun_south=g(0.8 * f), sun_west=g(0.56 * f))  # type: ignore[arg-type]
        for n, (name, a, f) in enumerate(zip(NAMES, air, flat, strict=True))
    )  # fmt: skip


def parts_home(simple: Home) -> Home:
    """Build-ups and openings with every part they may have: fasteners, an inverted roof, membranes, glass of panes, panels."""
    wall, roof, slab = simple.buildups
    humid = tuple(replace(row, mu=g(20)) for row in wall.layers)
    film = replace(layer("film", 1, 0.3, 900, 1800), sd=g(60))
    wall = replace(
        wall, layers=(film, *humid), fastener_count=g(8), fastener_section=g(20e-6), fastener_conductivity=g(50), fastener_depth=g(0.1)
    )  # fmt: skip
    roof = replace(roof, layers=tuple(replace(row, mu=g(20)) for row in roof.layers), inverted_rain=g(3))
    built = replace(
        simple.opening_types[0], glass_from="panes and gaps", pane=g(0.004), gap=g(0.014), gap_2=g(0.014), coat=g(0.05), coat_2=g(0.04),
        gas="argon", gas_share=g(0.85), transom=g(0.08), mullion=g(0.07), sash=g(0.03), panel_u=g(0.9), panel_psi=g(0.02),
    )  # fmt: skip
    first, *others = simple.openings
    made = replace(first, rows=g(2), columns=g(2), opens=g(1), panels=g(1))
    return replace(
        simple, buildups=(wall, roof, slab), opening_types=(built,), openings=(made, *others),
        household=replace(simple.household, indoor_humidity=g(0.5)),
    )  # fmt: skip


def rows_in_plans() -> Home:
    """A row of openings with a distance of its own, a roof toward an unheated space."""
    home = plan_home()
    assert home.shape.plans is not None
    roofs = tuple(replace(r, borders="unheated space", b=g(0.7)) for r in home.shape.plans.roofs)
    plans = replace(home.shape.plans, roofs=roofs, storeys=tuple(
        replace(s, outlines=tuple(replace(o, reaches="the roof" if s.id == "upper" else o.reaches) for o in s.outlines)) for s in home.shape.plans.storeys
    ))  # fmt: skip
    first = replace(home.openings[0], count=g(2), apart=g(1.0))
    return replace(home, shape=replace(home.shape, plans=plans), openings=(first, *home.openings[1:]))


def figures(a: Assessment) -> dict[str, Any]:
    """The published results alone: most fields move one of them, and the rest need not be written out then."""
    return {key: node.value if isinstance(node, Known) else type(node).__name__ for key, node in a.figures.items()}


def results(a: Assessment) -> str:
    """All that results, verdicts and questions say."""
    return repr((as_data(a), a.zone, [(i.name, i.now) for i in to_collect(a)]))


def drawings(a: Assessment) -> str:
    """All that drawings say."""
    made: dict[str, Any] = {}
    for key in (
        "plan",
        "solid",
        "cutaway",
        "account",
        "faces",
        "delivered",
        "flow-plan",
        "air-paths",
        "day",
        "pipes",
        "energy-way",
        "room-loads",
    ):
        sketch = PICTURES[key].sketch
        assert sketch is not None
        made[key] = [(i.points, i.fill) if isinstance(i, Path) else i.text for i in sketch(a, "").items]
    for part in (*a.home.buildups, *a.home.openings):
        made[part.id] = [getattr(i, "points", None) or getattr(i, "text", "") for i in drawn(a, part)]
    made["own"] = own_words(a)
    return repr(made)


def drawn(a: Assessment, part: Part) -> list[Any]:
    sketch = PICTURES["section" if isinstance(part, model.BuildUp) else "opening"].sketch
    assert sketch is not None
    return list(sketch(a, part.id).items)  # type: ignore[attr-defined]


def others(home: Home, part: Part, spec: FieldSpec) -> list[Any]:
    """Other values a field may have."""
    now = getattr(part, spec.name)
    if spec.is_quantity:
        if not isinstance(now, Given):
            return []
        tries = (now.value * 1.21, now.value * 0.8, now.value + 1, now.value - 1, (spec.least or 0.0) + 0.01)
        return [now.model_copy(update={"value": v}) for v in tries if v != now.value and not spec.refuse(v)]
    if spec.kind == "choice":
        return [c for c in spec.choices if c != now]
    if spec.kind == "flag":
        return [not now]
    if spec.kind == "ref":
        return [""]
    return [f"{now} changed"]


def moves(home: Home, a: Assessment, before: tuple[str, str], part: Part, spec: FieldSpec, tries: int) -> int | None:
    """Which other value of a field moves something; None where none does."""
    for n, value in enumerate(others(home, part, spec)[:tries]):
        try:
            after = apply(SetValue(part=part.id, field=spec.name, value=value), home)  # type: ignore[attr-defined]
        except ChangeRefused:
            continue
        made = assess(after, a.climate, a)
        if figures(made) != figures(a) or results(made) != before[0] or drawings(made) != before[1]:
            return n
    return None


class AsItIs(NamedTuple):
    """A home as it is, and what it says."""

    home: Home
    a: Assessment
    said: tuple[str, str]


def moved() -> tuple[dict[str, Place], set[str]]:
    """(where a field moved something, fields tried in vain): first where it did the last time, a quarter of them a day, then everywhere."""
    known = [AsItIs(home, a, (results(a), drawings(a))) for home in homes() for a in (assess(home, climate_for(home, None)),)]
    places = where_it_moved()
    today = set(some(sorted(places), 4))
    found = {key: place for key, place in places.items() if key not in today or _still(known, key, place)}
    vain: set[str] = set()
    for tries in (1, 9):  # what one other value moves in any home needs no further try
        vain = set()
        for number, (home, a, before) in enumerate(known):
            for part in walk_parts(home):
                for name, spec in specs(type(part)).items():
                    key = f"{type(part).__name__}.{name}"
                    if key in found or (type(part).__name__, name) in QUIET:
                        continue
                    by = moves(home, a, before, part, spec, tries)
                    if by is None:
                        vain.add(key)
                    else:
                        found[key] = (number, part.id, by)  # type: ignore[attr-defined]
    return found, vain - set(found)


Place = tuple[int, str, int]
"""Where a field moves something: the number of the home, the part, the number of the value."""
PLACES = FilePath(__file__).with_name("moved_by.json")
"""Where each field moved something the last time: a place to look first, no proof; a field that is not in it is looked for. Written anew by `python -m tests.core.model.test_every_field`."""


def where_it_moved() -> dict[str, Place]:
    return {key: (int(at[0]), str(at[1]), int(at[2])) for key, at in json.loads(PLACES.read_text()).items()} if PLACES.exists() else {}


def _still(known: list[AsItIs], key: str, place: Place) -> bool:
    """Whether a field still moves something where it did."""
    number, ident, by = place
    kind, _, name = key.partition(".")
    if number >= len(known) or (kind, name) in QUIET:
        return False
    home, a, before = known[number]
    part = next((p for p in walk_parts(home) if p.id == ident and type(p).__name__ == kind), None)  # type: ignore[attr-defined]
    spec = specs(type(part)).get(name) if part is not None else None
    if part is None or spec is None:
        return False
    return moves(home, a, before, part, spec, by + 1) is not None


@pytest.fixture(scope="module")
def quiet() -> tuple[set[tuple[str, str]], set[tuple[str, str]]]:
    """(fields that moved something, fields tried in vain)."""
    found, vain = moved()
    return {_pair(key) for key in found}, {_pair(key) for key in vain}


def _pair(key: str) -> tuple[str, str]:
    kind, _, name = key.partition(".")
    return kind, name


def described() -> set[tuple[str, str]]:
    kinds = set(kinds_below(Home)) - set(kinds_below(TargetSet))  # sets are judged in test_target_sets
    return {(c.__name__, name) for c in kinds for name in specs(c)}


def test_every_field_moves_something_or_says_why_not(quiet: tuple[set[tuple[str, str]], set[tuple[str, str]]]) -> None:
    found, vain = quiet
    assert not vain - set(QUIET), sorted(vain - set(QUIET))
    untried = described() - found - set(QUIET)
    assert not untried, sorted(untried)
    assert len(found) > 100


def test_reasons_are_given_for_fields_that_exist_only() -> None:
    known = described() | {
        (c.__name__, n) for c in vars(model).values() if isinstance(c, type) and issubclass(c, Part) for n in c.model_fields
    }
    assert set(QUIET) <= known


if __name__ == "__main__":
    PLACES.unlink(missing_ok=True)
    lines = ",\n".join(f"{json.dumps(key)}: {json.dumps(place)}" for key, place in sorted(moved()[0].items()))
    PLACES.write_text(f"{{\n{lines}\n}}\n")
