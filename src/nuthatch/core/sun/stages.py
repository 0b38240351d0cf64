"""How the sun hangs in the graph: its path and what falls on planes (slow), what stands before openings (slow), what these let in."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, TypedDict, Unpack

import numpy as np

from nuthatch.core.climate.climate import Climate, PlaneSun
from nuthatch.core.climate.months import reflectances
from nuthatch.core.climate.patterns import days_named, year_of
from nuthatch.core.climate.stages import AT_SITE, STATION, Weathered
from nuthatch.core.graph.stage import ITEM, Family, Slot, Stages, named, part, those
from nuthatch.core.model.heat import Modules
from nuthatch.core.model.home import Opening, OpeningType
from nuthatch.core.model.hot_water import SolarField
from nuthatch.core.model.part import Given
from nuthatch.core.model.patterns import DayPattern
from nuthatch.core.model.plans import Plans
from nuthatch.core.model.site import ClimateMonth, HorizonPoint, RingSector, SiteObject
from nuthatch.core.plans.polygons import Polygon
from nuthatch.core.results.figure import Array, Computing, Entered, Need, Unknown
from nuthatch.core.results.question import Question
from nuthatch.core.solid.built_stages import PLANS, THICKNESS
from nuthatch.core.solid.overhang import with_overhang
from nuthatch.core.solid.solid import Boundary
from nuthatch.core.solid.stages import AROUND, BOUNDARY, OUTLINES
from nuthatch.core.sun import site
from nuthatch.core.sun.fields import FieldSun, Lies, falls, lie
from nuthatch.core.sun.let_in import Falls, LetIn, let_in_by
from nuthatch.core.sun.openings import Stood, blind_of, edges_of, glazing_of, reveal_of, stood, typed_of
from nuthatch.core.sun.planes import FLAT, REFLECTANCE, SOUTH, SunPlane, plane_of
from nuthatch.core.sun.shares import Far, Skyline, SunPath, far_of, shares
from nuthatch.core.sun.shelter import Shelter, rose, sheltered, sheltered_share, shielding_of
from nuthatch.core.sun.standing import Thing, reaches_before


@dataclass(frozen=True, eq=False)
class MovedIn:
    """Hours in which blinds are moved, as shares of every hour, (8760,)."""

    hours: Array


STAGES = Stages()
PLANES: Slot[dict[str, SunPlane]] = Slot("planes")
PATH: Slot[object] = Slot("path of the sun")
"""A SunPath, or why there is none."""
PLANE_SUN: Family[PlaneSun | Computing] = Family("sun on a plane")
FACE_SUN: Family[PlaneSun | Unknown | Computing | None] = Family("sun on a face")
TURN: Slot[float] = Slot("how the home is turned from north")
RISE: Slot[tuple[float, float]] = Slot("rise of the ground")
"""As a share, and to which azimuth [°]."""
SHELTER: Slot[Shelter | None] = Slot("shelter from wind")
SKYLINE: Slot[Skyline | None] = Slot("horizon")
OWN: Slot[tuple[tuple[str, Polygon], ...]] = Slot("the home in its own sun")
ON_FACE: Family[tuple[Stood, ...]] = Family("openings of a face in space")
STOOD: Family[Stood] = Family("openings in space")
ASKS: Slot[tuple[Question, ...]] = Slot("questions of the surroundings", asks=True)
FAR: Family[Far | Unknown | Computing | None] = Family("what stands before an opening")
FIELDS: Slot[dict[str, Lies]] = Slot("collectors and modules in space")
FIELD_SUN: Family[FieldSun | Unknown | Computing] = Family("sun on collectors and modules")
REVEAL: Family[float] = Family("depth of a reveal")
GROUND: Slot[tuple[float, ...]] = Slot("ground reflectance")
DAY_MEANS: Slot[tuple[float, ...]] = Slot("mean of every day outdoors")
BLIND_HOURS: Slot[MovedIn | None] = Slot("hours in which blinds are moved")
"""None: all."""
FALLS: Family[Falls | Unknown | Computing | None] = Family("how light comes through an opening")
LET_IN: Family[LetIn | Unknown | Computing | None] = Family("sun an opening lets in")


def _waiting(since: float) -> Computing:
    return Computing("Sun on a plane", "irradiation", since, "the sun on the openings")


def _at_hand(climate: Weathered, plane: SunPlane | None = None) -> bool:
    return not isinstance(climate, Climate)


@STAGES.slow(PATH, _waiting, at_hand=_at_hand, climate=STATION)
def sun_path(climate: Weathered) -> SunPath | Unknown | Computing:
    """Where the sun is at mid-hour."""
    return SunPath(*climate.path(), climate.weather.latitude) if isinstance(climate, Climate) else climate


@STAGES.stage(PLANES, faces=BOUNDARY, openings=part("openings"), fields=FIELDS)
def planes(faces: dict[str, Boundary], openings: tuple[Opening, ...], fields: dict[str, Lies]) -> dict[str, SunPlane]:
    """Every plane toward outside air that has openings, those of collectors and modules, and those shown of every climate."""
    wanted = (faces[o.face] for o in openings if o.face in faces)
    made = (plane_of(f) for f in wanted if f.beyond.kind == "outside")
    return {p.id: p for p in (*made, *(f.plane for f in fields.values()), FLAT, SOUTH)}


@STAGES.slow(PLANE_SUN, _waiting, each=PLANES, at_hand=_at_hand, plane=ITEM, climate=STATION)
def plane_sun(plane: SunPlane, climate: Weathered) -> PlaneSun | Unknown | Computing:
    """Sun on one plane by hour."""
    return climate.plane(plane.tilt, plane.azimuth) if isinstance(climate, Climate) else climate


@STAGES.stage(FACE_SUN, each=BOUNDARY, face=ITEM, suns=PLANE_SUN)
def sun_on_face(face: Boundary, suns: dict[str, PlaneSun | Computing]) -> PlaneSun | Unknown | Computing | None:
    """Sun on one face; None where it has no openings toward outside air."""
    return suns.get(plane_of(face).id)


# what stands before openings


@STAGES.stage(TURN, faces=BOUNDARY, outlines=OUTLINES)
def turn(faces: dict[str, Boundary], outlines: Mapping[str, Polygon]) -> float:
    """To which azimuth the home's y looks [°], by its upright faces; 0 where it has none that are drawn."""
    upright = (f for f in faces.values() if 60 < f.tilt < 120 and f.id in outlines)
    return next((round(site.turn_of(outlines[f.id], f.azimuth), 3) for f in upright), 0.0)


@STAGES.stage(OWN, outlines=OUTLINES, around=AROUND, plans=PLANS, faces=BOUNDARY)
def own(
    outlines: Mapping[str, Polygon], around: tuple[Boundary, ...], plans: Plans | None, faces: dict[str, Boundary]
) -> tuple[tuple[str, Polygon], ...]:
    """The faces of the home and of its unheated spaces as they stand in the sun, roofs with their overhang."""
    party = frozenset(i for i, f in faces.items() if f.beyond.kind == "neighbour")
    whole = {**outlines, **{f.id: f.outline for f in around if f.outline is not None and f.beyond.kind == "outside"}}
    reaching = with_overhang(whole, plans, party)
    return tuple((k, tuple((round(x, 3), round(y, 3), round(z, 3)) for x, y, z in p)) for k, p in reaching.items() if k not in party)


@STAGES.stage(RISE, rise=part("site.rise"), to=part("site.rise_to"))
def rise(rise: Given | None, to: Given | None) -> tuple[float, float]:
    """How the ground round about rises; level where it is not said how far or whither."""
    return (rise.value, to.value) if rise is not None and to is not None else (0.0, 0.0)


@STAGES.stage(SKYLINE, points=part("site.horizon"), ring=part("site.ring"), objects=part("site.objects"), home=OWN, turn=TURN, rise=RISE)
def skyline(
    points: tuple[HorizonPoint, ...],
    ring: tuple[RingSector, ...],
    objects: tuple[SiteObject, ...],
    home: tuple[tuple[str, Polygon], ...],
    turn: float,
    rise: tuple[float, float],
) -> Skyline | None:
    """What stands round about; None where all is open."""
    return site.skyline(points, ring, objects, lie_of(home, turn, rise))


def lie_of(home: tuple[tuple[str, Polygon], ...], turn: float, rise: tuple[float, float]) -> site.Lie:
    """How the ground lies about the home."""
    return site.Lie(middle_of(home, turn), *rise)


def middle_of(home: tuple[tuple[str, Polygon], ...], turn: float) -> tuple[float, float]:
    """East and north of the middle of the home [m]."""
    corners = np.array([p for _, polygon in home for p in polygon]) if home else np.zeros((1, 3))
    middle = site.to_compass((corners.min(axis=0) + corners.max(axis=0)) / 2, turn)
    return float(middle[0]), float(middle[1])


@STAGES.stage(ASKS, objects=part("site.objects"), points=part("site.horizon"), home=OWN, turn=TURN)
def asks(
    objects: tuple[SiteObject, ...], points: tuple[HorizonPoint, ...], home: tuple[tuple[str, Polygon], ...], turn: float
) -> tuple[Question, ...]:
    """What stands in the home, has no size, or hides the sky as no land does."""
    return (*site.objects_asked(objects, [site.to_compass(np.array(p), turn) for _, p in home]), *site.horizon_asked(points))


@STAGES.stage(SHELTER, ring=part("site.ring"), objects=part("site.objects"), home=OWN, turn=TURN, climate=STATION)
def shelter_of_home(
    ring: tuple[RingSector, ...], objects: tuple[SiteObject, ...], home: tuple[tuple[str, Polygon], ...], turn: float, climate: Weathered
) -> Shelter | None:
    """How sheltered the home lies; None where nothing is said of its surroundings, or there is no climate."""
    if not (ring or objects) or not isinstance(climate, Climate):
        return None
    weather = climate.weather
    wind, free = rose(weather.wind, weather.wind_from), sheltered(ring, objects, middle_of(home, turn))
    told = weather.wind_from is not None
    source = climate.name if told else f"the same from all directions: not in the file of {climate.name}"
    share = sheltered_share.figure(
        wind=Entered("part of the wind from each direction", wind, "fraction", "calculated", source),
        sheltered=Entered("part of each direction that is sheltered", free, "fraction", "calculated", "ring and objects of the site"),
    )
    return Shelter(wind, free, told, share, shielding_of(float(np.sum(wind * free))))


@STAGES.stage(ON_FACE, each=BOUNDARY, face=ITEM, outlines=OUTLINES, openings=those("openings", by="face"), turn=TURN)
def on_face(face: Boundary, outlines: Mapping[str, Polygon], openings: tuple[Opening, ...], turn: float) -> tuple[Stood, ...]:
    """The openings of a face toward outside air, in space."""
    polygon = outlines.get(face.id)
    if polygon is None or not openings or face.beyond.kind != "outside" or not 1.0 < face.tilt < 179.0:
        return ()
    return stood(openings, face.id, polygon, turn, (face.tilt, face.azimuth))


@STAGES.stage(FIELDS, solar=part("water.solar"), modules=part("power.modules"), faces=BOUNDARY, outlines=OUTLINES, turn=TURN)
def fields(
    solar: tuple[SolarField, ...], modules: tuple[Modules, ...], faces: dict[str, Boundary], outlines: Mapping[str, Polygon], turn: float
) -> dict[str, Lies]:
    """Where collectors and modules lie."""
    return lie((*solar, *modules), faces, outlines, turn) if solar or modules else {}


@STAGES.stage(STOOD, rows=ON_FACE, fields=FIELDS)
def openings_in_space(rows: dict[str, tuple[Stood, ...]], fields: dict[str, Lies]) -> dict[str, Stood]:
    """Every row of openings that has a place, and every field that lies on a drawn face."""
    return {s.id: s for found in rows.values() for s in found} | {i: f.stood for i, f in fields.items() if f.stood is not None}


@lru_cache(maxsize=4)
def things_of(
    home: tuple[tuple[str, Polygon], ...], objects: tuple[SiteObject, ...], turn: float, rise: tuple[float, float]
) -> tuple[Thing, ...]:
    """All that may stand before an opening."""
    own, lie = site.own_things(dict(home), turn), lie_of(home, turn, rise)
    return (*own, *(t for t in (site.thing_of(o, lie) for o in objects) if t is not None))


class Around(TypedDict):
    """The home and what stands around it."""

    home: tuple[tuple[str, Polygon], ...]
    objects: tuple[SiteObject, ...]
    turn: float
    rise: tuple[float, float]


def _free(row: Stood, path: SunPath | Unknown | Computing, **around: Unpack[Around]) -> bool:
    """Whether nothing stands before any opening of a row."""
    if not isinstance(path, SunPath):
        return True
    things = things_of(**around)
    return not any(reaches_before(o, things) for o in row.opened())


MOVED = 0.6
"""A home tried with walls thicker by less than this [m] keeps what stands before its openings."""


def _hardly_moved(before: Mapping[str, Any], now: Mapping[str, Any]) -> bool:
    """Whether the same openings are there in nearly the same place, before the same things."""
    old, new = before["row"], now["row"]
    alike = (old.tilt, old.azimuth, len(old.corners)) == (new.tilt, new.azimuth, len(new.corners))
    if not alike or before["objects"] != now["objects"] or before["rise"] != now["rise"] or before["path"] is not now["path"]:
        return False
    return bool(
        np.abs(np.array(old.corners) - np.array(new.corners)).max() < MOVED and np.abs(np.subtract(old.size, new.size)).max() < MOVED
    )


def _waiting_for_shade(since: float) -> Computing:
    return Computing("What stands before an opening", "fraction", since, "the shade on the openings")


@STAGES.slow(
    FAR,
    _waiting_for_shade,
    each=STOOD,
    at_hand=_free,
    near=_hardly_moved,
    row=ITEM,
    home=OWN,
    objects=part("site.objects"),
    turn=TURN,
    rise=RISE,
    path=PATH,
)
def far(row: Stood, path: SunPath | Unknown | Computing, **around: Unpack[Around]) -> Far | Unknown | Computing | None:
    """What stands before a row of openings leaves of the light."""
    return far_of(row.opened(), things_of(**around), path) if isinstance(path, SunPath) else None


# what openings let in


@STAGES.stage(REVEAL, each=part("openings"), opening=ITEM, face=BOUNDARY.at("face"), thick=THICKNESS)
def reveal(opening: Opening, face: Boundary | None, thick: dict[str, float]) -> float:
    """How far the glass lies behind the outer face [m]."""
    return round(reveal_of(opening, face.tilt if face is not None else 90.0, thick.get(face.buildup) if face is not None else None), 4)


@STAGES.stage(GROUND, usual=part("site.ground_reflectance"), months=part("site.months"))
def ground(usual: Given | None, months: tuple[ClimateMonth, ...]) -> tuple[float, ...]:
    """Ground reflectance by month: of the month where it is given, else of the site."""
    return tuple(reflectances(months, usual.value if usual is not None else REFLECTANCE).tolist())


class FieldReads(TypedDict):
    """What the sun on collectors and modules rests on besides where they lie."""

    plane: PlaneSun | Unknown | Computing | None
    path: SunPath | Unknown | Computing
    skyline: Skyline | None
    ground: tuple[float, ...]
    far: Far | Unknown | Computing | None


@STAGES.stage(
    FIELD_SUN,
    each=FIELDS,
    lies=ITEM,
    plane=PLANE_SUN.at(lambda lies: lies.plane.id),
    path=PATH,
    skyline=SKYLINE,
    ground=GROUND,
    far=FAR.at(),
)
def field_sun(lies: Lies, **reads: Unpack[FieldReads]) -> FieldSun | Unknown | Computing:
    """What falls on a field; why that is not known."""
    sun, path, before = reads["plane"], reads["path"], reads["far"]
    if not isinstance(sun, PlaneSun):
        return sun if sun is not None else Unknown("sun on a field", "irradiation", (Need("the sun on its plane"),))
    if not isinstance(path, SunPath):
        return path
    if isinstance(before, Unknown | Computing):
        return before
    return falls(lies.plane, sun, path, reads["skyline"], reads["ground"], before)


@STAGES.stage(DAY_MEANS, climate=AT_SITE)
def day_means(climate: Weathered) -> tuple[float, ...]:
    """Mean outdoor temperature of every day [°C]; none without a climate."""
    return tuple(climate.daily.tolist()) if isinstance(climate, Climate) else ()


@STAGES.stage(BLIND_HOURS, by=part("household.blind_hours"), patterns=part("patterns"), path=PATH)
def blind_hours(by: str, patterns: tuple[DayPattern, ...], path: SunPath | Unknown | Computing) -> MovedIn | None:
    """By a day pattern of the household."""
    pattern = next((p for p in patterns if p.id == by and days_named(p)), None)
    return MovedIn(year_of(pattern, isinstance(path, SunPath) and path.latitude < 0)) if pattern is not None else None


class FallsReads(TypedDict):
    """What decides how light comes through an opening."""

    face: Boundary | None
    path: SunPath | Unknown | Computing
    far: Far | Unknown | Computing | None
    skyline: Skyline | None
    reveal: float
    incidence: Given | None
    ground: tuple[float, ...]
    moved: MovedIn | None


@STAGES.stage(
    FALLS,
    each=part("openings"),
    opening=ITEM,
    kind=named("opening_types", by="type"),
    face=BOUNDARY.at("face"),
    path=PATH,
    far=FAR.at("id"),
    skyline=SKYLINE,
    reveal=REVEAL.at("id"),
    incidence=part("site.incidence"),
    ground=GROUND,
    moved=BLIND_HOURS,
)
def falls_on_opening(opening: Opening, kind: OpeningType | None, **reads: Unpack[FallsReads]) -> Falls | Unknown | Computing | None:
    """None where it does not face outside air, or has no size."""
    face, path, far = reads["face"], reads["path"], reads["far"]
    if kind is None or face is None or face.beyond.kind != "outside":
        return None
    for rests in (path, far):
        if isinstance(rests, Unknown | Computing):
            return rests
    edges = edges_of(opening, kind, reads["reveal"])
    if edges is None or not isinstance(path, SunPath):
        return None
    assert far is None or isinstance(far, Far)
    at = face.tilt, face.azimuth
    made = shares(edges, at, path, reads["skyline"], far)
    incidence, moved = reads["incidence"], reads["moved"]
    glazing = incidence.value if incidence is not None else glazing_of(kind)
    return Falls(
        at, path, made, glazing, np.array(reads["ground"]), typed_of(opening), blind_of(opening), moved.hours if moved is not None else None
    )


@STAGES.stage(LET_IN, each=part("openings"), opening=ITEM, row=FALLS.at("id"), sun=FACE_SUN.at("face"), days=DAY_MEANS)
def sun_let_in(
    opening: Opening, row: Falls | Unknown | Computing | None, sun: PlaneSun | Unknown | Computing | None, days: tuple[float, ...]
) -> LetIn | Unknown | Computing | None:
    """Sun one opening lets in; None where it does not face outside air, has no size, or there is no climate."""
    if row is None or not days:
        return None
    for rests in (row, sun):
        if isinstance(rests, Unknown | Computing):
            return rests
    return let_in_by(row, sun, np.array(days)) if isinstance(row, Falls) and isinstance(sun, PlaneSun) else None
