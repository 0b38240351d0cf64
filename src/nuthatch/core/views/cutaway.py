"""The cutaway: the home's own section with bands as wide as its yearly losses and gains, and the year's account."""

from __future__ import annotations

from collections.abc import Callable
from math import atan2, cos, hypot, sin

from nuthatch.core.assess import Assessment
from nuthatch.core.energy.stages import BALANCE, ELEMENTS
from nuthatch.core.results.figure import Figure, Known, Unknown
from nuthatch.core.sketch import PointXY, Sketch
from nuthatch.core.solid.cut import Section, section
from nuthatch.core.solid.solid import Solid
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.units import kind_of, show, so_many, unit_of, with_unit
from nuthatch.core.views.balance.account import Account, account
from nuthatch.core.views.junctions import rows as junctions

STEP = {
    "walls": "build-ups",
    "roof": "build-ups",
    "floor": "build-ups",
    "openings": "openings",
    "junctions": "junctions",
    "fresh air": "air",
    "leaks": "air",
    "sun": "openings",
    "inside": "household",
}
NAMES = {
    "walls": "Walls",
    "roof": "Roof",
    "floor": "Lowest floor",
    "openings": "Windows and doors",
    "junctions": "Junctions",
    "fresh air": "Fresh air",
    "leaks": "Leaks",
}
GROUND_Y, LEFT, RIGHT = 430.0, 275.0, 585.0
FLOOR = 0.25  # m, an upper floor as drawn


def _section(made: Sketch, a: Assessment) -> tuple[float, float, float, float]:
    """Draws the home's section; returns (left, right, eaves, ridge) on the sheet."""
    solid = a[SOLID]
    cut = section(solid)
    if cut is None:
        corners = [(LEFT, GROUND_Y), (LEFT, 230), (430, 130), (RIGHT, 230), (RIGHT, GROUND_Y)]
        made.path(corners, fill="white", width=1.4, dash=True, id="part:walls")
        note = "faces without outlines: drawn as a plain one" if solid.boundaries else "the section needs the sizes of the home"
        made.text(430, 250, note, size=11.5, color="muted", anchor="middle", halo=True)
        return LEFT, RIGHT, 230.0, 130.0
    xs, tall = [p[0] for p in cut.outer], max(p[1] for p in cut.outer)
    span = max(xs) - min(xs)
    scale = min((RIGHT - LEFT) / span, 350 / tall)
    x0 = (LEFT + RIGHT) / 2 - span * scale / 2

    def at(p: PointXY) -> PointXY:
        return x0 + (p[0] - min(xs)) * scale, GROUND_Y - p[1] * scale

    outer, inner = cut.outer, cut.inner
    made.path([at(p) for p in outer], fill="stone", width=1.6, id="part:walls")
    made.path([at(p) for p in (*outer[1:-1], *reversed(inner[1:-1]))], fill="panel", width=1.0, id="part:roof")
    made.path([at(outer[0]), at(inner[0]), at(inner[-1]), at(outer[-1])], fill="panel", width=1.0, id="part:floor")
    made.path([at(p) for p in inner], fill="white", width=1.2, id="part:inside")
    _floors(made, solid, inner, at)
    _windows(made, a, cut, at)
    _loft(made, solid, outer, at)
    _below(made, solid, (x0, x0 + span * scale), at((0, min(p[1] for p in cut.outer)))[1])
    return x0, x0 + span * scale, at(outer[1])[1], at((0, tall))[1]


At = Callable[[PointXY], PointXY]


def _floors(made: Sketch, solid: Solid, inner: tuple[PointXY, ...], at: At) -> None:
    """Upper floors and the storeys' names."""
    left, right = inner[0][0], inner[-1][0]
    for storey in solid.storeys[1:]:
        low = storey.level - FLOOR
        made.path([at((left, storey.level)), at((right, storey.level)), at((right, low)), at((left, low))], fill="wood", width=0.8)
        x, y = at(((left + right) / 2, storey.level + 0.45))
        made.text(x, y, f"{storey.name} · {with_unit(storey.counted, 'area', 0)}", size=11, color="muted", anchor="middle")


def _windows(made: Sketch, a: Assessment, cut: Section, at: At) -> None:
    """Openings of the walls the section cuts, at their real sill and height."""
    for opening in a.home.openings:
        if opening.face not in cut.walls or opening.height is None or opening.sill is None:
            continue
        x, inner = cut.walls[opening.face]
        low, high = opening.sill.value, opening.sill.value + opening.height.value
        ring = [at((x, low)), at((inner, low)), at((inner, high)), at((x, high))]
        made.path(ring, fill="glass", width=1.0, id="part:openings", tip=opening.name)
        middle = (x + inner) / 2
        made.line(at((middle, low)), at((middle, high)), stroke="tide", width=1.4)


def _loft(made: Sketch, solid: Solid, outer: tuple[PointXY, ...], at: At) -> None:
    """What lies cold above a ceiling, in outline."""
    above = next((f.beyond for f in solid.boundaries if f.role == "ceiling" and f.beyond.kind == "unheated"), None)
    if above is None:
        return
    left, right = outer[1], outer[-2]
    middle, span = (left[0] + right[0]) / 2, right[0] - left[0]
    made.line(at(left), at((middle, left[1] + span * 0.32)), at(right), stroke="muted", dash=True)
    x, y = at((middle, left[1] + span * 0.1))
    made.text(x, y, above.name, size=11, color="muted", anchor="middle")


def _below(made: Sketch, solid: Solid, across: tuple[float, float], floor: float) -> None:
    """What lies cold below the lowest floor, in outline: in the ground, or, below a home that stands higher, down to it."""
    under = next((f.beyond for f in solid.boundaries if f.role == "floor" and f.beyond.kind == "unheated"), None)
    if under is None:
        return
    left, right = across
    top, bottom = (floor, GROUND_Y) if floor < GROUND_Y - 24 else (GROUND_Y, GROUND_Y + CELLAR)
    made.rect(left, top, right - left, bottom - top, fill="paper", stroke="muted", dash=True, width=1.0, tip=under.name)
    made.text(left + 8, bottom - 8, under.name, size=11, color="muted")


CELLAR = 84.0
"""How deep a space below the home is drawn."""


def _band(made: Sketch, start: PointXY, end: PointXY, width: float, token: str, ident: str) -> None:
    """A flat band without arrowhead from the part to its label, closed by a fine line at its end."""
    angle = atan2(end[1] - start[1], end[0] - start[0])
    dx, dy = -sin(angle) * width / 2, cos(angle) * width / 2
    made.path(
        [(start[0] + dx, start[1] + dy), (end[0] + dx, end[1] + dy), (end[0] - dx, end[1] - dy), (start[0] - dx, start[1] - dy)],
        fill=token,
        stroke="",
        id=ident,
    )
    made.line((end[0] + dx, end[1] + dy), (end[0] - dx, end[1] - dy), width=1.4)


def _label(made: Sketch, at: PointXY, texts: tuple[str, str, str], ident: str, anchor: str = "start") -> None:
    """Name, value and detail of a band, one below the other."""
    x, y = at
    made.text(x, y, texts[0], size=12, id=ident, anchor=anchor)
    made.text(x, y + 17, texts[1], size=14, bold=True, id=ident, anchor=anchor)
    made.text(x, y + 32, texts[2], size=11, color="muted", id=ident, anchor=anchor)


def _details(a: Assessment) -> dict[str, str]:
    def mean(category: str) -> str:
        rows = [
            e
            for e in a[ELEMENTS]
            if e.category == category and e.is_face and e.borders != "neighbour" and e.area and e.area.value and e.u and e.u.value
        ]
        area = sum(float(e.area.value or 0.0) for e in rows if e.area)
        u = sum(float(e.u.value or 0.0) * float(e.area.value or 0.0) for e in rows if e.u and e.area)
        return f"U {show(u / area, 'u', kind_of('u').decimals - 1)} · {with_unit(area, 'area', 0)}" if area else ""

    number = sum(round(o.count.value) if o.count else 1 for o in a.home.openings)
    recovery, n50 = a.figures["effective_heat_recovery"], a.figures["n50"]
    counted = [r for r in junctions.rows(a) if r.element is not None]
    metres = sum(r.number("length") or 0.0 for r in counted)
    return {
        "walls": mean("walls"),
        "roof": mean("roof"),
        "floor": mean("floor"),
        "openings": so_many(number, "opening"),
        "junctions": f"{len(counted)} counted · {with_unit(metres, 'length', 0)}",
        "fresh air": f"{with_unit(recovery.value, 'percent', 0)} recovered" if isinstance(recovery, Known) else "",
        "leaks": f"n50 {show(n50.value, 'ach')}" if isinstance(n50, Known) else "",
    }


def cutaway(a: Assessment) -> Sketch:
    """The cutaway drawing; ids 'part:…' name the part, see STEP for the step it leads to."""
    made = Sketch(820, 530, "Where the heat goes in a year")
    made.rect(40, GROUND_Y, 740, 14, fill="panel", stroke="", pattern="hatch")
    left, right, eaves, ridge = _section(made, a)
    made.line((40, GROUND_Y), (780, GROUND_Y), width=1.6)
    book = account(a[BALANCE])
    demand = a.figures["heating_demand"]
    middle = (left + right) / 2
    if book is None or not isinstance(demand, Known):
        _nothing_yet(made, demand, middle)
        return made
    _bands(made, a, book, (left, right, eaves, ridge))
    made.text(
        middle,
        GROUND_Y - 64,
        show(demand.value, "specific_energy"),
        size=26,
        bold=True,
        anchor="middle",
        id="figure:heating_demand",
        halo=True,
    )
    made.text(middle, GROUND_Y - 46, f"{unit_of('specific_energy')} heating demand", size=11.5, anchor="middle", color="muted", halo=True)
    made.text(
        middle,
        GROUND_Y - 28,
        f"people, appliances +{with_unit(book.inside, 'energy')}",
        size=11.5,
        anchor="middle",
        id="part:inside",
        color="lichen",
        halo=True,
    )
    return made


def _nothing_yet(made: Sketch, demand: Figure, middle: float) -> None:
    """In the place of the bands: what is missing, or that it is being worked out."""
    if isinstance(demand, Unknown):
        made.text(middle, 330, "Heating demand is not known yet", size=13, bold=True, anchor="middle", halo=True)
        text = f"it needs {demand.needs[0].text}"
        made.text(middle, 350, text, size=12, color="chestnut_text", anchor="middle", halo=True)
    else:
        made.text(middle, 330, "computing …", size=13, bold=True, anchor="middle", halo=True)


def _bands(made: Sketch, a: Assessment, book: Account, frame: tuple[float, float, float, float]) -> None:
    left, right, eaves, ridge = frame
    largest = max([*(abs(v) for v in book.losses.values()), book.sun, 1.0])
    detail = _details(a)
    wall_y = (eaves + GROUND_Y) / 2

    def width(v: float) -> float:
        return max(abs(v) / largest * 46, 1.2)

    roof_y = (eaves + ridge) / 2
    high = min(ridge, eaves - 84)  # a flat top leaves room for the labels all the same
    middle = (left + right) / 2
    spots = {
        "roof": ((left + (middle - left) * 0.45, roof_y + 4), (left - 70, high - 4), (left - 84, high - 18), "end"),
        "walls": ((left, wall_y - 30), (left - 90, wall_y - 30), (left - 102, wall_y - 46), "end"),
        "fresh air": ((right - (right - middle) * 0.45, roof_y + 4), (right + 70, high - 4), (right + 84, high - 18), "start"),
        "junctions": ((right, eaves + 8), (right + 90, eaves - 4), (right + 102, eaves - 18), "start"),
        "openings": ((right, wall_y - 8), (right + 90, wall_y - 8), (right + 102, wall_y - 22), "start"),
        "leaks": ((right, GROUND_Y - 30), (right + 90, GROUND_Y - 34), (right + 102, GROUND_Y - 42), "start"),
        "floor": ((middle, GROUND_Y + 2), (middle, GROUND_Y + 50), (middle + 34, GROUND_Y + 40), "start"),
    }
    for category, (start, end, label, anchor) in spots.items():
        value = book.losses[category]
        reach = hypot(end[0] - start[0], end[1] - start[1])
        if reach:
            _band(made, start, end, width(value), "chestnut_pale" if value >= 0 else "slate_pale", f"part:{category}")
        x = label[0] + (max(width(value) / 2 - 16, 0) if category == "floor" else 0)
        _label(made, (x, label[1]), (NAMES[category], show(value, "energy"), detail[category]), f"part:{category}", anchor)
    _band(made, (left, wall_y + 34), (left - 90, wall_y + 46), width(book.sun), "tide_pale", "part:sun")
    _label(made, (left - 102, wall_y + 28), ("Sun", f"+{show(book.sun, 'energy')}", "through glass"), "part:sun", "end")


def year_account(a: Assessment, width: float = 820) -> Sketch:
    """Lost, covered and unused as amounts on one scale [kWh/a]."""
    made = Sketch(width, 148, "The year’s account")
    made.text(0, 14, "The year’s account", size=13, bold=True)
    made.text(width, 14, f"losses and what covers them, {unit_of('energy')} · amounts, not shares", size=11, color="muted", anchor="end")
    book = account(a[BALANCE])
    if book is None:
        made.text(0, 40, a.blank, size=12, color="muted")
        return made
    lost = [(NAMES[c], v, "chestnut_pale", f"part:{c}") for c, v in sorted(book.losses.items(), key=lambda r: -r[1]) if v > 0]
    back = [(NAMES[c], -v, "slate_pale", f"part:{c}") for c, v in book.losses.items() if v < 0]
    covered = [
        ("Heating", book.heating, "slate_pale", "figure:heating_demand"),
        ("Sun used", book.sun_used, "tide_pale", "part:sun"),
        ("People, appliances", book.inside_used, "lichen_pale", "part:inside"),
        *back,
    ]
    rows = [("lost", lost), ("covered", covered), ("unused", [("Sun and warmth not needed", book.unused, "stone", "")])]
    scale = (width - 70) / max(sum(r[1] for r in row) for _, row in rows)
    for n, (title, parts) in enumerate(rows):
        made.text(0, 46 + n * 40, title, size=12, color="muted")
        _account_row(made, 28 + n * 40, parts, scale)
    return made


def _account_row(made: Sketch, y: float, parts: list[tuple[str, float, str, str]], scale: float) -> None:
    """Amounts (name, value, colour, id) side by side; a name too long for its amount is cut, or stands behind a single one."""
    x = 66.0
    for name, value, token, ident in parts:
        w, number = value * scale, show(value, "energy")
        pattern = "dots" if name.startswith("People") else ""
        tip = f"{name} {with_unit(value, 'energy')}"
        made.rect(x, y, w, 28, fill=token, stroke="paper", width=1.2, pattern=pattern, id=ident, tip=tip)
        fits = w > max(6.2 * len(name), 6.6 * len(number)) + 8
        if len(parts) == 1 and not fits:
            made.text(x + w + 8, y + 18, f"{name} {number}", size=11, id=ident)
        elif fits or w > 47:
            made.text(x + 6, y + 12, name if fits else name.split()[0][: int((w - 8) / 6.2)], size=11, id=ident)
            made.text(x + 6, y + 25, number, size=11, bold=True, id=ident)
        x += w
