"""What a new part starts with: the values a person would else have to type, each marked as what it is."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import count
from typing import Any, get_args

from nuthatch.core.climate.calendar import NAMES as MONTHS
from nuthatch.core.model.air_test import Fan, FanRing, Leak, Preparation, PressureGauge, TestReading, ZonePressure
from nuthatch.core.model.charts import HourChart
from nuthatch.core.model.heat import FurtherCarrier, Modules, PerformancePoint
from nuthatch.core.model.home import (
    Appliance,
    BuildUp,
    Carrier,
    Face,
    HeatSource,
    Home,
    Junction,
    Layer,
    Opening,
    OpeningType,
    Pin,
    QuickForm,
    walk_parts,
)
from nuthatch.core.model.hot_water import DrawOff, PipeCorner, PipeRun, SolarField, Store, WaterMonth
from nuthatch.core.model.part import Basis, Given, IdentifiedPart, Part
from nuthatch.core.model.patterns import DayPattern, PatternDay
from nuthatch.core.model.plans import GroundSpot, RoomUse
from nuthatch.core.model.rooms import RoomKind
from nuthatch.core.model.site import ClimateMonth, HorizonPoint, RingSector, SiteObject
from nuthatch.core.model.ventilation import Duct, OperatingHours, VentilationUnit

AT_HOME = (0.7,) * 7 + (0.5,) * 2 + (0.3,) * 8 + (0.6,) * 5 + (0.7,) * 2
"""People at home on a working day: asleep 0.7, by day 0.3 (common practice, no source)."""
USUAL_DAYS: dict[str, tuple[str, tuple[float, ...], tuple[float, ...]]] = {
    "people": ("People at home", AT_HOME, (0.7,) * 8 + (0.55,) * 9 + (0.65,) * 5 + (0.7,) * 2),
    "circulation": ("Circulation hours", (0.0,) * 6 + (1.0,) * 16 + (0.0,) * 2, (0.0,) * 6 + (1.0,) * 16 + (0.0,) * 2),
    "lights": ("Lights", (0.05,) * 6 + (0.5,) * 2 + (0.15,) * 8 + (0.6,) * 2 + (1.0,) * 4 + (0.4, 0.1), (0.05,) * 7 + (0.4,) * 2 + (0.15,) * 7 + (0.6,) * 2 + (1.0,) * 4 + (0.5, 0.2)),
    "appliances": ("Appliances", (0.3,) * 6 + (0.6,) * 2 + (0.4,) * 9 + (1.0,) * 4 + (0.6, 0.4, 0.3), (0.3,) * 7 + (0.6,) * 3 + (0.8,) * 8 + (1.0,) * 3 + (0.6, 0.4, 0.3)),
    "draw-off": ("Hot water", (0.0,) * 6 + (1.0, 1.0, 0.4) + (0.2,) * 8 + (0.6,) * 5 + (0.2, 0.0), (0.0,) * 7 + (0.8,) * 4 + (0.3,) * 6 + (0.6,) * 5 + (0.2, 0.0)),
}  # fmt: skip
"""By kind: name, hours of a working day and of the weekend; common practice, no source."""


def usual_days(kind: str, stem: str) -> tuple[PatternDay, ...]:
    """The days a new pattern of a kind begins with."""
    _, working, weekend = USUAL_DAYS[kind]
    return (PatternDay(id=f"{stem}.1", days="working days", hours=working), PatternDay(id=f"{stem}.2", days="weekends", hours=weekend))


def fresh_stem(root: IdentifiedPart, stem: str) -> str:
    """A stem for ids of inner parts that no part of the home begins with."""
    used = {p.id.partition(".")[0] for p in walk_parts(root)}
    return next(s for s in (f"{stem}-{n}" for n in count(1)) if s not in used)


Names = Sequence[tuple[str, str]]
"""(id, name) of what a reference may name."""


def _opening(root: Home, faces: Names) -> dict[str, object]:
    last = root.openings[-1].face if root.openings else faces[0][0] if faces else ""
    kind = root.opening_types[0].id if root.opening_types else ""
    name = f"W-{len(root.openings) + 1:02d}"
    return {"name": name, "type": kind, "face": last}


def _source(root: Home, _: Names) -> dict[str, Any]:
    rest = Given(value=0.0 if root.sources else 1.0, basis=Basis.DECLARED, source="the rest to 100 %")
    carrier = root.carriers[0].id if root.carriers else ""
    return {"name": "New heat source", "carrier": carrier, "heating_share": rest, "water_share": rest}


def _ground_spot(root: Home, _: Names) -> dict[str, object]:
    """Beside the last one, as high as that; the first at the origin, at the level of the ground."""
    plans = root.shape.plans
    last = plans.heights[-1] if plans is not None and plans.heights else None
    level = last.z if last is not None else plans.ground if plans is not None else None
    x, y = (v.value if v is not None else 0.0 for v in ((last.x, last.y) if last is not None else (None, None)))
    return {
        "x": _declared(x + (1.0 if last is not None else 0.0)),
        "y": _declared(y),
        "z": _declared(level.value if level is not None else 0.0),
    }


def _site_object(root: Home, _: Names) -> dict[str, object]:
    """A house across the street until it is said otherwise; a little beside the last one."""
    last = root.site.objects[-1] if root.site.objects else None
    east, north = (v.value if v is not None else 0.0 for v in ((last.east, last.north) if last is not None else (None, None)))
    sizes = {"length": 8.0, "depth": 6.0, "height": 7.0}
    return {
        "name": f"Block {len(root.site.objects) + 1}",
        "east": _assumed(east + (12.0 if last is not None else 0.0)),
        "north": _assumed(north if last is not None else -15.0),
        **{f: _assumed(v) for f, v in sizes.items()},
    }


def _month(root: Home, _: Names) -> dict[str, object]:
    """The first month that is not there."""
    there = {m.month for m in root.site.months}
    return {"month": next((m for m in MONTHS if m not in there), MONTHS[0])}


def _draw_off(root: Home, _: Names) -> dict[str, object]:
    """The next of the usual ones."""
    usual = (("Shower", 40.0, 40.0, 0.8), ("Basin", 3.0, 40.0, 4.0), ("Kitchen sink", 8.0, 45.0, 2.0), ("Bath", 120.0, 40.0, 0.1))
    there = {d.name for d in root.water.draw_offs}
    name, litres, warm, number = next((u for u in usual if u[0] not in there), usual[0])
    return {"name": name, "litres": _assumed(litres), "temperature": _assumed(warm), "number": _assumed(number)}


def _store(root: Home, _: Names) -> dict[str, object]:
    name = "Store" if not root.water.stores else f"Store {len(root.water.stores) + 1}"
    return {"name": name, "volume": _assumed(300.0)}


def _run(root: Home, _: Names) -> dict[str, object]:
    """A ring first, then pipes to taps."""
    if not any(r.kind == "circulation" for r in root.water.runs):
        sizes = {"diameter": 0.018, "insulation": 0.02, "conductivity": 0.035, "hours": 16.0}
        return {"name": "Circulation", "kind": "circulation", **{f: _assumed(v) for f, v in sizes.items()}}
    return {"name": "Pipe to a tap", "kind": "to a tap", "diameter": _assumed(0.015), "draws": _assumed(2.0)}


def _water_month(root: Home, _: Names) -> dict[str, object]:
    there = {m.month for m in root.water.months}
    return {"month": next((m for m in MONTHS if m not in there), MONTHS[0]), "share": _declared(1.0)}


def _pattern(root: Home, _: Names) -> dict[str, object]:
    """The next kind there is none of, with its usual hours."""
    there = {p.kind for p in root.patterns}
    kind = next((k for k in USUAL_DAYS if k not in there), "people")
    return {"name": USUAL_DAYS[kind][0], "kind": kind, "days": usual_days(kind, fresh_stem(root, "day"))}


def _room_kind(root: Any, _: Names) -> dict[str, object]:
    """The next use nothing is said of."""
    there = {k.use for k in root.room_kinds}
    return {"use": next((u for u in get_args(RoomUse) if u not in there), "living")}


def _modules(root: Home, _: Names) -> dict[str, object]:
    """Modules as they are put on a house, to the south."""
    name = "Modules" if not root.power.modules else f"Modules {len(root.power.modules) + 1}"
    return {"name": name, "peak": _assumed(5000.0), "tilt": _assumed(35.0), "azimuth": _assumed(180.0)}


def _further(root: Home, _: Names) -> dict[str, object]:
    """A carrier of the home that no source has first."""
    first = {s.carrier for s in root.sources}
    carrier = next((c.id for c in root.carriers if c.id not in first), root.carriers[0].id if root.carriers else "")
    return {"carrier": carrier, "share": _declared(0.3)}


def _solar(root: Home, _: Names) -> dict[str, object]:
    """Flat collectors as they are sold, to the south."""
    values = {"area": 4.0, "optical": 0.78, "loss": 3.7, "loss_second": 0.012, "tilt": 45.0, "azimuth": 180.0, "volume": 300.0}
    name = "Collectors" if not root.water.solar else f"Collectors {len(root.water.solar) + 1}"
    return {"name": name, **{f: _assumed(v) for f, v in values.items()}}


def _point(root: Home, _: Names) -> dict[str, object]:
    """The next point of a usual sheet."""
    held = sum(len(s.points) for s in root.sources)
    source, flow, cop = ((7.0, 35.0, 4.5), (2.0, 35.0, 3.7), (-7.0, 35.0, 2.9))[held % 3]
    return {"source": _declared(source), "flow": _declared(flow), "cop": _assumed(cop)}


def _sector(root: Home, _: Names) -> dict[str, object]:
    """The next eighth of the ring."""
    last = root.site.ring[-1].end.value if root.site.ring and root.site.ring[-1].end is not None else 0.0
    return {"start": _assumed(last % 360), "end": _assumed((last + 45) % 360), "shade": "partly"}


def _horizon_point(root: Home, _: Names) -> dict[str, object]:
    last = root.site.horizon[-1].azimuth.value if root.site.horizon and root.site.horizon[-1].azimuth is not None else 60.0
    return {"azimuth": _declared((last + 30) % 360), "height": _declared(5.0)}


def _assumed(value: float) -> Given:
    return Given(value=value, source="until it is measured")


def _declared(value: float) -> Given:
    return Given(value=value, basis=Basis.DECLARED, source="typed")


def _named(name: str) -> Callable[[Any, Names], dict[str, Any]]:
    return lambda root, faces: {"name": name}


STARTS: dict[type[Part], Callable[[Any, Names], dict[str, Any]]] = {
    Face: _named("New face"),
    BuildUp: _named("New build-up"),
    Layer: _named("New layer"),
    OpeningType: _named("New type"),
    Opening: _opening,
    Junction: lambda root, _: {"name": "New junction", "dimensions": root.shape.dimensions},
    Appliance: _named("New appliance"),
    Carrier: _named("New carrier"),
    HeatSource: _source,
    PerformancePoint: _point,
    DrawOff: _draw_off,
    Store: _store,
    PipeRun: _run,
    PipeCorner: lambda root, _: {"x": _declared(0.0), "y": _declared(0.0)},
    WaterMonth: _water_month,
    DayPattern: _pattern,
    PatternDay: lambda root, _: {},
    RoomKind: _room_kind,
    HourChart: lambda root, _: {"name": f"Chart {len(root.charts) + 1}"},
    Modules: _modules,
    FurtherCarrier: _further,
    SolarField: _solar,
    Pin: _named(""),
    VentilationUnit: lambda root, _: {"name": "Ventilation unit" if not root.air.units else f"Ventilation unit {len(root.air.units) + 1}"},
    Duct: lambda root, _: {},
    OperatingHours: lambda root, _: {"start": _declared(22.0), "end": _declared(6.0)},
    TestReading: lambda root, _: {},
    Preparation: _named("New opening"),
    Leak: _named("New leak"),
    ZonePressure: _named("New zone"),
    Fan: _named("New fan"),
    FanRing: _named("New ring"),
    PressureGauge: _named("New gauge"),
    GroundSpot: _ground_spot,
    ClimateMonth: _month,
    SiteObject: _site_object,
    RingSector: _sector,
    HorizonPoint: _horizon_point,
}


def starting(kind: type[Part], root: IdentifiedPart, faces: Names = ()) -> dict[str, object]:
    """The values a new part of this kind starts with; faces: (id, name) of the shape's faces, walls to outside air first."""
    return STARTS.get(kind, _named(f"New {kind.__name__.lower()}"))(root, faces)


def starting_form() -> QuickForm:
    """An empty quick form with its assumptions."""
    practice = "common practice"
    return QuickForm(partition_share=Given(value=0.06, source=practice), floor_thickness=Given(value=0.3, source=practice))
