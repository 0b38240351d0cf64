"""Pictures of the air: every path and what it loses, the flows, the rooms of a storey with their flows as arrows to scale."""

from __future__ import annotations

from math import hypot
from textwrap import wrap

import shapely
import shapely.ops

from nuthatch.core.air.flows import RoomFlow
from nuthatch.core.air.hours import MINUTES, strip
from nuthatch.core.air.questions import TOLERANCE
from nuthatch.core.air.stages import FLOWS, INFILTRATION
from nuthatch.core.assess import Assessment
from nuthatch.core.plans.reading_plans import points_of, rings_of
from nuthatch.core.plans.room_shapes import label_spot
from nuthatch.core.results.figure import shown
from nuthatch.core.sketch import WIDTH, Bar, Picture, PointXY, Sketch, bars, fitted
from nuthatch.core.units import show, with_unit
from nuthatch.core.views.air.paths import paths
from nuthatch.core.views.bars import bar
from nuthatch.core.views.shape.plan_frame import Frame, frame_of

TOKENS = {"windows": "slate_pale", "leaks": "chestnut_pale", "bypass": "stone"}
ROLE_FILL = {"supply": ("slate_pale", ""), "extract": ("wood", ""), "transfer": ("white", "dots"), "none": ("white", "")}
ARROW = {"supply": "slate", "extract": "chestnut", "transfer": "lichen"}
WIDEST = 18.0
"""Width of the arrow of the largest flow of the home [px]."""


def air_paths(a: Assessment, width: float = WIDTH, height: float = 0.0) -> Sketch:
    """Every air path, what it loses [W/K] and in the months with heating, and why where it loses nothing."""
    rows = []
    found = paths(a)
    for p in found:
        made = bar(p.name, p.loss, TOKENS.get(p.key, "slate"), id=p.key)
        kwh = f" · {with_unit(p.energy, 'energy')}" if p.energy and p.counts else ""
        rows.append(Bar(made.label, made.value, made.text + kwh, made.token, made.id))
    letters = max(int((width - 160) / 6.3), 24)
    said = [(p, wrap(p.says, letters)) for p in found]
    room = sum(17.0 * len(lines) + 5 for _, lines in said) + 14
    made_bars = bars("Every air path and what it loses", rows, width=width, height=max(height - room, 0.0))
    sheet = Sketch(width, made_bars.height + room, made_bars.title)
    sheet.add(made_bars, 0, 0)
    y = made_bars.height + 18
    for p, lines in said:
        sheet.text(0, y, fitted(p.name, 150, 11.5), size=11.5, color="muted", id=p.key)
        for n, line in enumerate(lines):
            sheet.text(158, y + 17 * n, line, size=11.5, id=p.key)
        y += 17 * len(lines) + 5
    return sheet


def air_flows(a: Assessment, width: float = WIDTH, height: float = 0.0) -> Sketch:
    """What is needed and what brings it [m³/h]: the units, or leaks and opened windows."""
    flows, people = a[FLOWS], a.figures["people"]
    needed = f"Demand for {show(people.value, 'count')} people" if people.value is not None else "Demand"
    rows = [bar(needed, flows.demand, "lichen_pale")]
    for u in flows.units:
        named = f" of {u.unit.name}" if len(flows.units) > 1 else ""
        if u.unit.moves != "extract only":
            rows.append(bar(f"Supply{named}", u.mean_supply, "slate_pale"))
        if u.unit.moves != "supply only":
            rows.append(bar(f"Extract{named}", u.mean_extract, "slate_pale"))
    if flows.boost is not None:
        rows += [bar("Boost must reach", flows.boost_demand, "lichen_pale"), bar("Boost", flows.boost, "slate_pale")]
    if not flows.units:
        rate, volume, demand = a[INFILTRATION].value, flows.volume.value, flows.demand.value
        leaks = rate * volume if rate is not None and volume is not None else None
        windows = max(demand - leaks, 0.0) if leaks is not None and demand is not None else None
        windows = 0.0 if a.home.air.without == "leaks alone" else windows
        for name, value, token in (("Leaks, in the mean", leaks, "chestnut_pale"), ("Windows opened by hand", windows, "slate_pale")):
            rows.append(Bar(name, value, with_unit(value, "flow") if value is not None else "not known yet", token))
    strips = 52.0 if a.home.air.hours else 0.0
    made = bars("Flows", rows, width=width, height=max(height - 22 - strips, 0.0))
    sheet = Sketch(width, made.height + 22 + strips, made.title)
    sheet.add(made, 0, 0)
    least, mean = a.figures["air_change_least"], a.figures["air_change_mean"]
    sheet.text(0, made.height + 14, f"air change: mean {shown(mean)}, least {shown(least)}", size=12)
    if strips:
        _day_strips(sheet, a, made.height + 26)
    return sheet


OPERATION_FILL = {"normal": "slate_pale", "low": "glass", "boost": "slate", "off": "white"}


def _day_strips(made: Sketch, a: Assessment, y: float) -> None:
    """The hours of a working day and of a weekend day, by what runs."""
    left, wide = 96.0, made.width - 100.0
    for n, (day, name) in enumerate((("working", "working days"), ("weekend", "weekends"))):
        top = y + 16 * n
        made.text(0, top + 10, name, size=11, color="muted")
        minutes, start = strip(a.home.air.hours, day), 0
        for minute in range(1, MINUTES + 1):
            if minute == MINUTES or minutes[minute] != minutes[start]:
                x, w = left + wide * start / MINUTES, wide * (minute - start) / MINUTES
                tip = f"{minutes[start]} from {start // 60}:{start % 60:02d} to {minute // 60}:{minute % 60:02d}"
                made.rect(x, top, w, 12, fill=OPERATION_FILL[minutes[start]], stroke="muted", width=0.6, tip=tip)
                if w > 7.0 * len(minutes[start]):
                    made.text(
                        x + w / 2,
                        top + 10,
                        minutes[start],
                        size=10.5,
                        anchor="middle",
                        color="white" if minutes[start] == "boost" else "ink",
                    )
                start = minute
    for hour in (0, 6, 12, 18, 24):
        anchor = "end" if hour == 24 else "middle"
        made.text(left + wide * hour / 24, y + 43, str(hour), size=10, color="muted", anchor=anchor)


def flow_plan(a: Assessment, storey: str = "", size: tuple[float, float] = (560.0, 400.0), selected: str = "") -> Sketch:
    """The rooms of a storey: what each gets and gives, arrows as wide as their flow, and the air that passes between them."""
    made = Sketch(*size, "Fresh air, room by room")
    plans, flows = a.home.shape.plans, a[FLOWS]
    if plans is None or not flows.rooms:
        made.say("rooms are drawn in Shape; without them the flows of the home are below")
        return made
    floor = next((s for s in plans.storeys if s.id == storey), None) or next(
        s for s in plans.storeys if any(r.room.storey == s.id for r in flows.rooms)
    )
    frame = frame_of(plans, size)
    for outline in floor.outlines:
        for ring in map(points_of, rings_of(outline)):
            if len(ring) > 2:
                made.path([frame.at(p) for p in ring], fill="stone" if outline.kind == "heated" else "", stroke="ink", width=1.0)
    mine = [r for r in flows.rooms if r.room.storey == floor.id]
    most = max((float(r.normal.value) for r in flows.rooms if r.normal is not None and r.normal.value is not None), default=0.0)
    for r in mine:
        fill, pattern = ROLE_FILL.get(r.role, ("white", ""))
        wide, color = (2.4, "tide") if r.room.id == selected else (0.9, "ink")
        made.path(
            [frame.at(p) for p in r.room.measure.outline], fill=fill, pattern=pattern, stroke=color, width=wide, id=r.room.id, tip=_says(r)
        )
    if most > 0:
        _passing(made, frame, mine, most)
    for r in mine:
        _labelled(made, frame, r, most)
    _legend(made, size, most)
    return made


def _says(r: RoomFlow) -> str:
    flow = with_unit(float(r.normal.value), "flow") if r.normal is not None and r.normal.value is not None else ""
    if r.normal is None and r.asked is not None:
        return f"{r.room.name} {_asks(r)}; no unit brings or draws it"
    return f"{r.room.name}: {r.way} {flow}".strip()


def _asks(r: RoomFlow) -> str:
    """What a room asks for where nothing moves its air."""
    value = r.asked.value if r.asked is not None else None
    return f"asks {with_unit(float(value), 'flow')}" if value is not None else "asks for fresh air"


def _labelled(made: Sketch, frame: Frame, r: RoomFlow, most: float) -> None:
    """Name, flow and arrow of a room in its widest part."""
    polygon = r.room.measure.polygon
    spot, width = label_spot(polygon)
    x, y = frame.at(spot)
    wide = width * frame.scale - 6
    below = (spot[1] - polygon.bounds[1]) * frame.scale
    if wide < 24:
        return
    above = (polygon.bounds[3] - spot[1]) * frame.scale
    made.name(x, y - 4, r.room.name, (wide, above - 4), 11.5, bold=True, anchor="middle", id=r.room.id, halo=True)
    if r.normal is None:
        word = _asks(r) if r.asked is not None else "no air" if r.role == "none" else r.role
        made.text(x, y + 10, fitted(word, wide, 10.5), size=10.5, anchor="middle", color="muted", halo=True)
        return
    if r.normal.value is None:
        made.text(x, y + 10, "?", size=11, anchor="middle", color="muted")
        return
    value = float(r.normal.value)
    wanted = float(r.asked.value or 0.0) if r.role == "supply" and not r.fills and r.asked is not None else 0.0
    short = value < wanted - TOLERANCE
    words = f"{show(value, 'flow')} of {with_unit(wanted, 'flow')}" if short else with_unit(value, "flow")
    made.text(x, y + 11, words, size=11.5, anchor="middle", id=r.room.id, halo=True, color="chestnut_text" if short else "ink")
    thick = WIDEST * value / most if most > 0 else 0.0
    if below > 34 and thick > 0.5:
        foot = y + min(below - 3, 58)
        top, bottom = (y + 18, foot) if r.role == "supply" else (foot, y + 18)
        _arrow(made, (x, top), (x, bottom), thick, ARROW[r.role], r.room.id, _says(r))


def _passing(made: Sketch, frame: Frame, rooms: list[RoomFlow], most: float) -> None:
    """Air from supply rooms to the nearest room it passes through, and on into extract rooms."""
    halls = [r for r in rooms if r.role == "transfer"]
    for r in rooms:
        if r.normal is None or not r.normal.value or not halls:
            continue
        hall = min(halls, key=lambda h: h.room.measure.polygon.distance(r.room.measure.polygon))
        a, b = shapely.ops.nearest_points(r.room.measure.polygon, hall.room.measure.polygon)
        if a.distance(b) > 1.0:  # not beside each other
            continue
        inner, outer = _into(r, (a.x, a.y)), _into(hall, (b.x, b.y))
        ends = (inner, outer) if r.role == "supply" else (outer, inner)
        thick = WIDEST * float(r.normal.value) / most
        _arrow(made, frame.at(ends[0]), frame.at(ends[1]), thick, ARROW["transfer"], r.room.id, f"{_says(r)}, passes {hall.room.name}")


def _into(r: RoomFlow, p: tuple[float, float]) -> tuple[float, float]:
    """A point a little inside a room from its edge."""
    middle = shapely.maximum_inscribed_circle(r.room.measure.polygon, tolerance=0.1).coords[0]
    far = hypot(middle[0] - p[0], middle[1] - p[1])
    step = min(0.7, far) / far if far > 1e-9 else 0.0
    return p[0] + (middle[0] - p[0]) * step, p[1] + (middle[1] - p[1]) * step


def _arrow(made: Sketch, start: PointXY, end: PointXY, thick: float, color: str, ident: str = "", tip: str = "") -> None:
    """A flat arrow as wide as its flow."""
    length = hypot(end[0] - start[0], end[1] - start[1])
    if length < 1:
        return
    ux, uy = (end[0] - start[0]) / length, (end[1] - start[1]) / length
    head = min(max(0.7 * thick, 5.0), 0.6 * length)
    half, wing = thick / 2, thick / 2 + 3.0
    neck = end[0] - ux * head, end[1] - uy * head

    def off(p: PointXY, by: float) -> PointXY:
        return p[0] - uy * by, p[1] + ux * by

    ring = [off(start, half), off(neck, half), off(neck, wing), end, off(neck, -wing), off(neck, -half), off(start, -half)]
    made.path(ring, fill=color, stroke="white", width=0.8, id=ident, tip=tip)


def _legend(made: Sketch, size: tuple[float, float], most: float) -> None:
    y = size[1] - 14
    x = 8.0
    for role, word in (("supply", "supply"), ("extract", "extract"), ("transfer", "air passes")):
        fill, pattern = ROLE_FILL[role]
        made.rect(x, y - 9, 16, 11, fill=fill, pattern=pattern, stroke="ink", width=0.8)
        made.text(x + 21, y, word, size=11, color="muted")
        x += 38 + 6.2 * len(word)
    if size[0] < 480:  # a line of its own, where there is no room beside
        x, y = 2.0, y - 17
    if most > 0:
        made.rect(x + 6, y - 4 - WIDEST / 4, 16, WIDEST / 2, fill="lichen", stroke="")
        made.text(x + 27, y, f"arrows to scale, so wide {with_unit(most / 2, 'flow')}", size=11, color="muted")


PICTURES = (
    Picture("air-paths", "Air paths and what they lose", lambda a, _: air_paths(a)),
    Picture("flows", "Air flows", lambda a, _: air_flows(a)),
    Picture("flow-plan", "Fresh air, room by room", lambda a, of: flow_plan(a, of)),
)
