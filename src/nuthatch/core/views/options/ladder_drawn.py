"""The ladder of options as a drawing: what is spent across, the chosen figure down, each upgrade a step; limits as lines."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from nuthatch.core.assess import Assessment
from nuthatch.core.options.ladder import Ladder, ladder
from nuthatch.core.sketch import WIDTH, Picture, Sketch
from nuthatch.core.units import show, unit_of
from nuthatch.core.views.options.rows import cash, kind_of_measure, moved, name_of_measure
from nuthatch.core.views.options.scales import ends

STEP = "rung."
"""How the id of a step begins; the id of its upgrade follows."""
LEFT, RIGHT, TOP, FOOT = 58.0, 16.0, 34.0, 40.0


def ladder_drawing(
    a: Assessment, known: Mapping[str, Ladder], front: str, measure: str, size: tuple[float, float], selected: str = ""
) -> Sketch:
    """The ladder of one option, the others pale behind it."""
    made = Sketch(*size, title="Ladder of upgrades")
    option = known.get(front)
    kind = kind_of_measure(measure)
    if option is None or option.base.figures.get(measure) is None:
        made.say("No ladder yet: add an upgrade from “At hand”, or try something on any board and keep it.")
        return made
    paths = {ident: _path(one, measure) for ident, one in known.items()}
    costed = all(r.money.cost is not None for r in option.rungs if not r.why)
    limits = _limits(a, measure)
    xs = [p[0] for ident, path in paths.items() if ident == front or costed for p in path]
    ys = [p[1] for path in paths.values() for p in path] + [v for _, v in limits]
    low, high = ends(min(*ys, 0.0), max(ys), kind)
    start, most = ends(min(*xs, 0.0), max(*xs, 1.0))
    plot = made.width - LEFT - RIGHT, made.height - TOP - FOOT

    def at(p: tuple[float, float]) -> tuple[float, float]:
        return LEFT + plot[0] * (p[0] - start) / (most - start), TOP + plot[1] * (high - p[1]) / max(high - low, 1e-9)

    _axes(made, a, measure, (low, high, start, most), costed)
    _chosen(made, option, paths[front], at, selected)
    for name, value in limits:
        y = at((0, value))[1]
        made.line((LEFT, y), (made.width - RIGHT, y), stroke="ink", width=1.2)
        made.text(LEFT + 6, y - 4, f"{name} {show(value, kind)}", size=10, halo=True)
    for ident, path in paths.items():
        if ident != front and (costed or len(known) == 1):
            _behind(made, known[ident].option.name, [at(p) for p in path])
    _steps(made, option, paths[front], measure, at, selected)
    return made


Place = Callable[[tuple[float, float]], tuple[float, float]]


def _chosen(made: Sketch, option: Ladder, path: list[tuple[float, float]], at: Place, selected: str) -> None:
    """What the step that is selected costs, as an area down to the axis."""
    n = next((n for n, r in enumerate(r for r in option.rungs if not r.why) if r.upgrade.id == selected), -1)
    if n >= 0:
        (x0, y0), (x1, _) = at(path[2 * n]), at(path[2 * n + 1])
        foot = made.height - FOOT
        made.path(((x0, y0), (x1, y0), (x1, foot), (x0, foot)), fill="card", stroke="line", width=0.8)


def _behind(made: Sketch, name: str, corners: list[tuple[float, float]]) -> None:
    """The ladder of another option, pale."""
    made.line(*corners, stroke="slate_pale", width=1.4)
    x, y = corners[-1]
    anchor = "end" if x > made.width * 0.8 else "start"
    made.text(min(x + 5, made.width - RIGHT), y - 4, name, size=10, color="muted", halo=True, anchor=anchor)


def _path(one: Ladder, measure: str) -> list[tuple[float, float]]:
    """Corners of a ladder: along by what a step costs (1 where that is not known for all), then down."""
    costed = all(r.money.cost is not None for r in one.rungs if not r.why)
    x, y = 0.0, one.base.figures.get(measure) or 0.0
    found = [(x, y)]
    for r in one.rungs:
        if r.why:
            continue
        x += (r.money.cost or 0.0) if costed else 1.0
        found.append((x, y))
        value = r.after.figures.get(measure)
        y = value if value is not None else y
        found.append((x, y))
    return found


def _limits(a: Assessment, measure: str) -> list[tuple[str, float]]:
    found: dict[str, float] = {}
    for v in a.verdicts:
        for w in v.ways:
            if w.key == measure and w.limit is not None:
                found[v.set_name] = float(w.limit)
    return list(found.items())


def _steps(made: Sketch, one: Ladder, path: list[tuple[float, float]], measure: str, at: Place, selected: str) -> None:
    kind = kind_of_measure(measure)
    shown = [r for r in one.rungs if not r.why]
    for n, r in enumerate(shown):
        a, b, c = path[2 * n], path[2 * n + 1], path[2 * n + 2]
        (x0, y0), (x1, _), (_, y2) = at(a), at(b), at(c)
        tip = f"{r.upgrade.name}: {moved(r.ordered.get(measure), kind)} {unit_of(kind)}"
        grow = max(abs(y2 - y0), 10.0)
        made.path(
            ((x0 - 2, min(y0, y2) - 3), (x1 + 6, min(y0, y2) - 3), (x1 + 6, min(y0, y2) + grow), (x0 - 2, min(y0, y2) + grow)),
            fill="", stroke="", id=f"{STEP}{r.upgrade.id}", tip=tip,
        )  # fmt: skip
    made.line(*[at(p) for p in path], stroke="slate", width=2.6)
    x, y = at(path[0])
    made.text(x + 4, max(y - 8, 12), f"as it is {show(path[0][1], kind)}", size=11, bold=True, halo=True)
    taken: list[tuple[float, float, float]] = []
    for n, r in enumerate(shown):
        x1, y0 = at(path[2 * n + 1])
        y2 = at(path[2 * n + 2])[1]
        words = f"{r.upgrade.name[:34]} {moved(r.ordered.get(measure), kind)}"
        wide = 5.6 * len(words)
        right = x1 + 8 + wide < made.width - RIGHT
        left = x1 + 8 if right else max(x1 - 8 - wide, LEFT)
        y = (y0 + y2) / 2 + 4
        while any(abs(y - ty) < 13 and left < tx1 and tx0 < left + wide for tx0, tx1, ty in taken):
            y += 13
        taken.append((left, left + wide, y))
        made.text(left, min(y, made.height - FOOT - 4), words, size=10.5, bold=r.upgrade.id == selected, halo=True)
    x, y = at(path[-1])
    made.path(tuple((x + dx, y + dy) for dx, dy in ((-4, 0), (0, -4), (4, 0), (0, 4))), fill="paper", stroke="slate", width=2.0)


def _axes(made: Sketch, a: Assessment, measure: str, span: tuple[float, float, float, float], costed: bool) -> None:
    low, high, start, most = span
    kind = kind_of_measure(measure)
    foot, right = made.height - FOOT, made.width - RIGHT
    made.text(LEFT, 14, f"{name_of_measure(a, measure)}, {unit_of(kind)}", size=12, bold=True)
    for n in range(5):
        value = low + (high - low) * n / 4
        y = foot - (foot - TOP) * n / 4
        made.line((LEFT, y), (right, y), stroke="line", width=0.7)
        made.text(LEFT - 6, y + 4, show(value, kind, 0), size=10, color="muted", anchor="end")
    if not costed:
        made.text(right, foot + 16, "a step for each upgrade: what one costs is not known", size=10, color="muted", anchor="end")
        return
    for n in range(5):
        value = start + (most - start) * n / 4
        x = LEFT + (right - LEFT) * n / 4
        made.line((x, foot), (x, foot + 4), stroke="line", width=0.8)
        made.text(
            x,
            foot + 17,
            cash(value, a.home.currency),
            size=10,
            color="muted",
            anchor="middle" if 0 < n < 4 else "start" if n == 0 else "end",
        )
    made.text(right, foot + 32, "spent", size=10, color="muted", anchor="end")


def _picture(a: Assessment, of: str) -> Sketch:
    """The ladder of an option, of the first without one. Raises KeyError where it is gone."""
    options = {o.id: o for o in a.home.options}
    if of and of not in options:
        raise KeyError(of)
    front = of or next(iter(options), "")
    known = {front: ladder(a, options[front], effects=False)} if front else {}
    return ladder_drawing(a, known, front, "heating_demand", (WIDTH, 380.0))


PICTURES = (Picture("ladder", "Ladder of upgrades", _picture),)
