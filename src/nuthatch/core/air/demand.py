"""What fresh air a home asks for: by people, rooms and least air change, and by what rooms state."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import NamedTuple

from nuthatch.core.air import rooms as by_room
from nuthatch.core.air import ventilation as calc
from nuthatch.core.model.plans import Room
from nuthatch.core.model.target_set import FIXED, FreshAir, TargetSet
from nuthatch.core.model.ventilation import Air
from nuthatch.core.results.calculation import calculation, total
from nuthatch.core.results.entries import need, optional
from nuthatch.core.results.figure import Entered, Figure, Node
from nuthatch.core.solid.plan_rooms import PlanRoom

COUNTED = {"kitchens": "kitchen", "baths": "bath", "wcs": "WC"}
STATED = ("people", "per_area", "changes")
NOTHING = {"count": 0.0, "permeability": 0.0, "ach": 0.0}


@dataclass(frozen=True, eq=False)
class RoomAsk:
    """A room as the air sees it: what it does, its unit's id ('' without any), the flow it asks for, a fixed flow, whether it states
    anything itself, its people, whether it only takes what others leave."""

    room: PlanRoom
    role: str
    unit: str
    asked: Figure
    fixed: Node | None
    states: bool
    people: Node
    fills: bool


@dataclass(frozen=True, eq=False)
class Demand:
    """Volume behind air changes [m³], flow the home asks for at normal operation and what boost must reach [m³/h], what each room asks
    for."""

    volume: Figure
    flow: Figure
    boost: Figure
    rooms: tuple[RoomAsk, ...]


class AirRule(NamedTuple):
    """How fresh air is counted: whether what a room states counts by its largest part or added up; the normal flow a set fixes, and which."""

    room_air: str = "largest"
    fixed: FreshAir | None = None
    by: str = ""

    @property
    def rates(self) -> dict[str, Node]:
        """Flow a person [m³/h] and least air change [1/h] of normal operation."""
        each, least = (self.fixed.per_person, self.fixed.per_volume) if self.fixed is not None else (calc.PER_PERSON, calc.LEAST)
        source = f"{FIXED}{self.by}" if self.fixed is not None else "common practice, no source"
        made = (("each", "supply a person", each, "flow"), ("change", "least air change", least, "ach"))
        return {name: Entered(label, value, kind, "rule", source) for name, label, value, kind in made}


def rule_of(sets: tuple[TargetSet, ...]) -> AirRule:
    """By the first target set of the home, where it says anything, else by common practice."""
    if not sets:
        return AirRule()
    fixed = sets[0].fresh_air
    return AirRule(sets[0].room_air, fixed, sets[0].name if fixed is not None else "")


@calculation(
    "People of a bedroom", "count", "p = max(P − Σ(p_t), 0)/n", "bedrooms share the people that no room states", people="P: count",
    stated="p_t: count", number="n: count",
)  # fmt: skip
def bedroom_people(people: float, stated: tuple[float, ...], number: float) -> float:
    """People of each bedroom that states none."""
    return max(people - sum(stated), 0.0) / number


@calculation(
    "Ventilation flow by demand",
    "flow",
    "q = max(q_d, Σ(s), Σ(x))",
    "the largest of the home's demand and what its supply rooms and its extract rooms state",
    demand="q_d: flow",
    supply="s: flow",
    extract="x: flow",
)
def home_flow(demand: float, supply: tuple[float, ...], extract: tuple[float, ...]) -> float:
    """[m³/h] of the home; what rooms state, on either side."""
    return max(demand, sum(supply), sum(extract))


def demand_of(air: Air, people: Figure, reference: Figure, drawn: tuple[PlanRoom, ...], rule: AirRule) -> Demand:
    """The demand of a home."""
    volume = calc.reference_volume.figure(area=reference)
    rooms = {name: _counted(air, name, use, drawn) for name, use in COUNTED.items()}
    flow = calc.normal_flow.figure(people=people, volume=volume, **rule.rates)
    asks = room_asks(drawn, people, rule.room_air, tuple(u.id for u in air.units))
    stated = [[a.fixed or a.asked for a in asks if a.role == role and a.states] for role in ("supply", "extract")]
    if any(stated):
        flow = home_flow.figure(demand=flow, supply=tuple(stated[0]), extract=tuple(stated[1]))
    drawn_ones = tuple(_at_boost(a) for a in asks if a.role == "extract")
    return Demand(volume, flow, calc.boost_flow.figure(normal=flow, **rooms, rooms=drawn_ones), asks)


def _at_boost(a: RoomAsk) -> Node:
    """What an extract room asks for at boost: its own flow there, else what it asks for by its use."""
    if a.room.part is not None and a.room.part.flow_boost is not None:
        return need(a.room.part, "flow_boost")
    return a.asked


def _counted(air: Air, name: str, use: str, drawn: tuple[PlanRoom, ...]) -> Node:
    """Rooms of a use: as typed, else counted among the drawn ones."""
    if air[name] is None and drawn:
        return Entered(f"{name} among the drawn rooms", float(sum(r.use == use for r in drawn)), "count", "calculated", "", "air", name)
    return optional(air, name, 0, "none")


def room_asks(drawn: tuple[PlanRoom, ...], people: Figure, rule: str, units: tuple[str, ...] = ()) -> tuple[RoomAsk, ...]:
    """What each drawn room asks for; one that names no unit of the home has the first."""
    sleeping = [r for r in drawn if r.use == "bedroom" and r.air == "supply"]
    open_ones = [r for r in sleeping if r.part is None or r.part.people is None]
    typed = tuple(need(r.part, "people") for r in drawn if r.part is not None and r.part.people is not None)
    number = Entered("bedrooms that state no people", float(len(open_ones)), "count", "calculated", "", "plans", "storeys")
    each = bedroom_people.figure(people=people, stated=typed, number=number) if open_ones else None
    found = (_ask(r, each if r in open_ones else None, rule) for r in drawn)
    return tuple(a if a.unit in units else replace(a, unit=units[0] if units else "") for a in found)


def _ask(room: PlanRoom, shared: Figure | None, rule: str) -> RoomAsk:
    part, name = room.part, room.name
    says_more = part is not None and any(part[f] is not None for f in STATED)
    states = says_more or (part is not None and part.flow is not None)
    says: dict[str, Node] = {}
    for field, kind in zip(STATED, NOTHING, strict=True):
        given = part[field] if part is not None else None
        says[field] = need(part, field) if part is not None and given is not None else Entered("not stated", 0.0, kind)
    use, fills = Entered("not by use", 0.0, "flow"), False
    if room.air == "supply":
        if shared is not None:
            says["people"] = shared
        elif not says_more:
            fills = True
            says["per_area"] = Entered("by floor area", by_room.BY_AREA, "permeability", "rule", "common practice, no source")
    elif room.air == "extract" and not says_more:
        flow = by_room.BY_USE.get(room.use, by_room.OTHER_EXTRACT)
        use = Entered(f"extract of a {room.use}", flow, "flow", "rule", "common practice, no source", room.id, "use")
    area = Entered(f"floor area of {name}", room.area, "area", "calculated", "", room.id, "name")
    height = Entered(f"mean height of {name}", room.measure.height, "length", "calculated", "", room.id, "height")
    calc_of = by_room.asked_sum if rule == "sum" else by_room.asked_largest
    asked = calc_of.figure(
        f"Flow asked for by {name}",
        people=says["people"],
        per_area=says["per_area"],
        changes=says["changes"],
        by_use=use,
        area=area,
        height=height,
    )
    moves = room.air in ("supply", "extract")
    fixed = need(part, "flow") if part is not None and part.flow is not None and moves else None
    return RoomAsk(room, room.air, part.unit if isinstance(part, Room) else "", asked, fixed, states and moves, says["people"], fills)


def side(asks: tuple[RoomAsk, ...], role: str, flow: Node) -> dict[str, Figure]:
    """The home's, or a unit's, flow shared among its rooms of a role, by room; fixed flows stay as they are."""
    mine = [a for a in asks if a.role == role]
    parts = {
        "total": flow,
        "fixed": tuple(a.fixed for a in mine if a.fixed is not None),
        "others": tuple(a.asked for a in mine if a.fixed is None and not a.fills),
        "filling": tuple(a.asked for a in mine if a.fixed is None and a.fills),
    }
    found = {}
    for a in mine:
        label = f"{'Supply' if role == 'supply' else 'Extract'} of {a.room.name}"
        if a.fixed is not None:
            found[a.room.id] = total(label, "flow", (a.fixed,), "fixed")
        else:
            shared = by_room.filling_flow if a.fills else by_room.shared_flow
            found[a.room.id] = shared.figure(label, **parts, asked=a.asked)
    return found
