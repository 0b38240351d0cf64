"""The solid with its junctions as lines: thick by what they lose, their tier told by the line itself; what the shape cannot tell is asked at its
place, with a small picture of each answer."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from math import hypot

from nuthatch.core.assess import Assessment
from nuthatch.core.plans.polygons import area_vector, scalar
from nuthatch.core.sketch import PointXY, Sketch
from nuthatch.core.solid.plan_faces import COMPASS
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.units import show, unit_of, with_unit
from nuthatch.core.views.junctions.pictograms import TALL, WIDE, pictogram
from nuthatch.core.views.junctions.rows import Row, rows
from nuthatch.core.views.shape.axonometric import DrawnSolid, View
from nuthatch.core.views.shape.hidden import view_axes
from nuthatch.core.views.shape.plans_and_elevations import say_why

ANSWER = "answer:"
"""How the id of an answer begins: “answer:family:key”."""
THIN, THICK, FULL = 1.2, 6.0, 1.5
"""Width of a line that loses nothing and of one that loses FULL W/K or more [px, px, W/K]."""
HIT = 7.0
"""How far from a line a click still takes it [px]."""
LEGEND = 40.0
CARD = 8.0


def junction_solid(a: Assessment, view: View | None = None, selected: str = "", size: tuple[float, float] = (640, 440)) -> Sketch:
    """The home as a solid with every junction the shape has; typed ones that stand for nothing of it are in the list only."""
    view = view or View()
    made = Sketch(*size, "Junctions on the solid")
    if not a[SOLID].drawn:
        say_why(made, a, size)
        return made
    solid = DrawnSolid(a, view, {}, made, LEGEND)
    solid.put()
    known = [r for r in rows(a) if r.found is not None]
    for row in sorted(known, key=lambda r: r.id == selected):
        _lines(made, solid, row, row.id == selected)
    for row in (r for r in known if r.asked):
        _asked(made, solid, row)
    _legend(made)
    return made


def _lines(made: Sketch, solid: DrawnSolid, row: Row, selected: bool) -> None:
    """A junction at each of its places; at the back of the solid as a thin dotted line."""
    assert row.found is not None
    long = sum(p.outer for p in row.found.places) or 1.0
    for place in row.found.places:
        a, b = solid.place(place.ends)
        if hypot(b[0] - a[0], b[1] - a[1]) < 2:
            continue
        seen = solid.view.see_through or any(f in solid.near for f in place.faces)
        width = width_of((row.loss or 0.0) * place.outer / long)
        tip = tip_of(row, place.outer)
        if selected:
            made.path(_strip(a, b, width / 2 + 4), fill="tide_pale", stroke="", id="")
        _line(made, a, b, row, width if seen else 0.8, seen)
        made.path(_strip(a, b, HIT), fill="", stroke="", id=row.id, tip=tip)


def _line(made: Sketch, a: PointXY, b: PointXY, row: Row, width: float, seen: bool) -> None:
    color = "chestnut" if row.tier == "fallback" else "slate"
    if row.element is None:
        color = "muted"
    if not seen:
        made.line(a, b, stroke=color, width=0.8, dash=True)
    elif row.tier == "fallback" or row.element is None:
        made.line(a, b, stroke=color, width=max(width, 1.6), dash=True)
    elif row.tier == "typical":
        for side in _beside(a, b, max(width, 3.6) / 2):
            made.line(*side, stroke=color, width=1.0)
    else:
        made.line(a, b, stroke=color, width=max(width, 1.6))
    if seen and (row.loss or 0.0) < -1e-9:
        _ticks(made, a, b, color)


def width_of(loss: float) -> float:
    """How thick a line is by what it loses or wins [W/K → px]."""
    return THIN + (THICK - THIN) * min(abs(loss) / FULL, 1.0)


def tip_of(row: Row, long: float) -> str:
    """“Eaves, 7.20 m of 14.40 m, ψ 0.014 W/(m·K), typical, 0.20 W/K”."""
    words = [row.name, with_unit(long, "length")]
    psi = row.number("psi")
    if psi is not None:
        words.append(f"ψ {with_unit(psi, 'psi')}")
    words.append(row.tier if row.element is not None else "does not count")
    if row.loss is not None:
        words.append(f"together {with_unit(row.loss, 'w_per_k')}")
    return ", ".join(words)


def _across(a: PointXY, b: PointXY) -> tuple[float, float]:
    long = max(hypot(b[0] - a[0], b[1] - a[1]), 1e-9)
    return -(b[1] - a[1]) / long, (b[0] - a[0]) / long


def _beside(a: PointXY, b: PointXY, by: float) -> Iterator[tuple[PointXY, PointXY]]:
    x, y = _across(a, b)
    for side in (by, -by):
        yield (a[0] + side * x, a[1] + side * y), (b[0] + side * x, b[1] + side * y)


def _strip(a: PointXY, b: PointXY, by: float) -> tuple[PointXY, ...]:
    (p, q), (r, s) = _beside(a, b, by)
    return p, q, s, r


def _ticks(made: Sketch, a: PointXY, b: PointXY, color: str) -> None:
    """Short lines across a junction that lowers the loss."""
    x, y = _across(a, b)
    number = max(int(hypot(b[0] - a[0], b[1] - a[1]) / 22), 1)
    for n in range(number):
        t = (n + 0.5) / number
        p = a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])
        made.line((p[0] - 4 * x, p[1] - 4 * y), (p[0] + 4 * x, p[1] + 4 * y), stroke=color, width=1.0)


def _asked(made: Sketch, solid: DrawnSolid, row: Row) -> None:
    """What is this? A diamond at its longest place, and a card with its answers, near it on the side with more room."""
    assert row.found is not None
    a, b = solid.place(max(row.found.places, key=lambda p: (any(f in solid.near for f in p.faces), p.outer)).ends)
    x, y = (a[0] + b[0]) / 2, (a[1] + b[1]) / 2
    made.path(((x, y - 7), (x + 7, y), (x, y + 7), (x - 7, y)), fill="chestnut", stroke="chestnut", id=row.id)
    answers = [f for f in row.found.answers if f != "none"] + ["none"]
    wide, tall = CARD + len(answers) * (WIDE + CARD), TALL + 54.0
    left = 6.0 if x > made.width / 2 else made.width - wide - 6.0
    top = min(max(y - tall / 2, 6.0), made.height - LEGEND - tall)
    taken = sum(1 for i in made.items if getattr(i, "id", "").startswith(f"{ANSWER}card"))
    top = min(top + taken * (tall + 6), made.height - LEGEND - tall)
    made.line((x, y), (left + wide if left < x else left, top + tall / 2), stroke="chestnut", width=0.9)
    made.rect(left, top, wide, tall, fill="card", stroke="chestnut", width=1.2, id=f"{ANSWER}card:{row.id}")
    made.text(left + CARD, top + 16, f"What is this? {with_unit(row.found.outer, 'length')}", size=11, bold=True)
    for n, family in enumerate(answers):
        at = left + CARD + n * (WIDE + CARD)
        made.add(pictogram(family), at, top + 24)
        made.rect(
            at,
            top + 24,
            WIDE,
            TALL,
            fill="",
            stroke="line",
            width=1.0,
            id=f"{ANSWER}{family}:{row.id}",
            tip=f"{family}: say that it is this",
        )
    psi = row.number("psi")
    until = f"until then fallback, ψ {show(psi, 'psi')}" if psi is not None else "does not count yet"
    made.text(left + CARD, top + tall - 8, until, size=10, color="muted")


def answer_of(ident: str) -> tuple[str, str] | None:
    """(family, key) of an answer that was clicked; None for anything else."""
    if not ident.startswith(ANSWER) or ident.startswith(f"{ANSWER}card:"):
        return None
    family, _, key = ident.removeprefix(ANSWER).partition(":")
    return family, key


def _legend(made: Sketch) -> None:
    y, x = made.height - 12.0, 8.0
    samples = (("detailed", "slate"), ("typical", "slate"), ("fallback", "chestnut"), ("lowers the loss", "slate"))
    unit = unit_of("w_per_k")
    words = 6.2 * sum(len(name) for name, _ in samples) + 6.0 * len(unit)
    # Shorter samples where room is short: the unit at the end is never cut.
    long = next((n for n in (34, 24) if x + words + 7 * (n + 18) + 18 <= made.width), 14)
    step = long + 18
    for name, color in samples:
        a, b = (x, y - 4), (x + long, y - 4)
        if name == "typical":
            for side in _beside(a, b, 1.8):
                made.line(*side, stroke=color, width=1.0)
        else:
            made.line(a, b, stroke=color, width=2.0 if name != "lowers the loss" else 1.2, dash=name == "fallback")
        if name == "lowers the loss":
            _ticks(made, a, b, color)
        made.text(x + long + 6, y, name, size=11, color="muted")
        x += step + 6.2 * len(name)
    for loss in (0.1, 0.5, FULL):
        made.line((x, y - 4), (x + min(long, 22), y - 4), stroke="slate", width=width_of(loss))
        made.text(x + min(long, 22) + 4, y, show(loss, "w_per_k", 1), size=11, color="muted")
        x += step + 6
    made.text(x, y, unit, size=11, color="muted")


def seen_from(a: Assessment) -> tuple[tuple[str, View], ...]:
    """Ways to look at the junctions, by name: aslant, in plan from above, and square on in each elevation."""
    north = a[SOLID].north
    turns = (0.0, 90.0, 180.0, -90.0)
    sides = tuple((f"elevation, {COMPASS[round((north + 180.0 - t) / 45) % 8].lower()}", View(turn=t, height=0.0)) for t in turns)
    return (("aslant", View(turn=35.0, height=26.0)), ("plan, from above", View(turn=0.0, height=90.0)), *sides)


def faces_viewer(a: Assessment, view: View, row: Row) -> bool:
    """Whether any place of a junction is on the side that is seen."""
    way = view_axes(view.turn, view.height)[2]
    point = float(way[0]), float(way[1]), float(way[2])
    outer = a[SOLID].outer
    faces = {f for p in (row.found.places if row.found is not None else ()) for f in p.faces}
    return any(scalar(area_vector(outer[f]), point) > 0 for f in faces if f in outer)


def turned_toward(a: Assessment, row: Row, view: View) -> View:
    """The view turned, or lifted from below, so that a junction is seen; as it is where it is seen already."""
    turns = sorted(range(-180, 180, 15), key=lambda t: abs((t - view.turn + 180) % 360 - 180))
    tries = [view, *(replace(view, turn=float(t)) for t in turns), *(replace(view, turn=float(t), height=-28.0) for t in turns)]
    return next((v for v in tries if faces_viewer(a, v, row)), view) if row.found is not None else view
