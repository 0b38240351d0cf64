"""Pictures of the junctions: the home with them treated four ways."""

from __future__ import annotations

from math import floor, log10

from nuthatch.core.assess import Assessment
from nuthatch.core.heatflow.stages import FOLLOWED, SOLVED
from nuthatch.core.results.figure import MONTHS
from nuthatch.core.sketch import WIDTH, Bar, Picture, Sketch, bars
from nuthatch.core.units import show, unit_of, with_unit
from nuthatch.core.views.junctions.detail import of_detail
from nuthatch.core.views.junctions.four_ways import Way, Ways, ways
from nuthatch.core.views.junctions.on_solid import junction_solid


def junction_ways(a: Assessment, known: Ways, width: float = WIDTH, height: float = 0.0) -> Sketch:
    """The home with its junctions treated four ways, with the limit where there is one."""
    rows = [
        Bar(n, v, show(v, "specific_energy") if v is not None else a.blank, "slate" if n == "as listed" else "slate_pale") for n, v in known
    ]
    limit = next((w.limit for v in a.verdicts for w in v.ways if w.key == "heating_demand" and w.limit), None)
    title = f"Heating demand with junctions treated four ways, {unit_of('specific_energy')}"
    return bars(
        title, rows, limit=limit, limit_label=f"limit {show(limit, 'specific_energy')}" if limit else "", width=width, height=height
    )


def detail_drawing(a: Assessment, ident: str) -> Sketch:
    """A detail with its field; the section alone while that is being worked out. Raises KeyError where it is gone."""
    details = a.all_of(FOLLOWED)
    detail = details.get(ident) or (next(iter(details.values()), None) if not ident else None)
    if detail is None:
        raise KeyError(ident)
    return of_detail(detail, a.all_of(SOLVED).get(detail.id))


PICTURES = (
    Picture("junctions", "Junctions treated four ways", lambda a, _: junction_ways(a, ways(a))),
    Picture("junctions-on-solid", "Junctions on the solid", lambda a, _: junction_solid(a)),
    Picture("detail", "Detail with isotherms", detail_drawing),
)


BAND = 66.0
"""Height of the four ways in one band."""


OF = {"heating_demand": ("heating demand", "specific_energy"), "heating_load": ("heating load", "heat_flux")}
"""What the four ways are compared in: words and kind."""


def ways_band(a: Assessment, known: Ways, width: float = WIDTH, height: float = BAND, of: str = "heating_demand") -> Sketch:
    """The four ways on one axis, with the limit as a plumb line."""
    made = Sketch(width, height, "Junctions four ways")
    words, kind = OF[of]
    made.text(0, 24, "Junctions four ways", size=12, bold=True)
    made.text(0, 40, f"{words}, {unit_of(kind)}", size=10, color="muted")
    values = [(n, v) for n, v in known if v is not None]
    limit = next((w.limit for v in a.verdicts for w in v.ways if w.key == of and w.limit), None)
    if not values:
        made.text(width * 0.35, 32, "computing …" if a.computing else "not known yet", size=11, color="muted")
        return made
    every = [v for _, v in values] + ([limit] if limit is not None else [])
    low, high = min(every), max(every)
    left, right, y = max(150.0, width * 0.28), width - 30.0, 34.0

    def at(v: float) -> float:
        return left + (right - left) * (v - low) / (high - low) if high > low else (left + right) / 2

    made.line((left - 10, y), (right + 10, y), stroke="line", width=1.2)
    listed = dict(values).get("as listed")
    worst = max(v for _, v in values)
    if limit is not None and worst > limit:
        made.rect(at(limit), y - 4, at(worst) - at(limit), 8, fill="chestnut_pale", pattern="hatch", stroke="chestnut", width=0.8)
    if limit is not None:
        made.line((at(limit), y - 13), (at(limit), y + 13), stroke="ink", width=1.5)
    for n, v in values:
        over = limit is not None and v > limit
        made.line((at(v), y - 8), (at(v), y + 8), stroke="chestnut" if over else "slate", width=2.6 if n == "as listed" else 1.6)
    _labels(made, [(at(v), f"{n} {show(v, kind)}", n == "as listed") for n, v in values if n != "as listed"], y - 14, width)
    below = [(at(listed), f"as listed {show(listed, kind)}", True)] if listed is not None else []
    below += [(at(limit), f"limit {show(limit, kind)}", False)] if limit is not None else []
    _labels(made, below, y + 24, width)
    return made


def _labels(made: Sketch, labels: list[tuple[float, str, bool]], y: float, width: float) -> None:
    """Words at their places of an axis, moved apart where they would touch."""
    end, placed = 0.0, []
    for x, words, bold in sorted(labels):
        half = 2.9 * len(words)
        middle = max(x, end + half + 6)
        placed.append((middle, half, words, bold))
        end = middle + half
    free = width
    for middle, half, words, bold in reversed(placed):  # those pushed over the edge push back
        middle = min(middle, free - half)
        made.text(middle, y, words, size=10.5, bold=bold, anchor="middle")
        free = middle - half - 6


def _round(value: float) -> float:
    """The next round number above, for an axis."""
    if value <= 0:
        return 1.0
    ten = 10 ** floor(log10(value))
    return float(next(m * ten for m in (1, 2, 4, 5, 6, 8, 10) if m * ten >= value))


WAY_FILLS = {"left out": "line", "as listed": "slate", "typical": "slate_pale", "fallback": "chestnut_pale"}


def ways_sheet(a: Assessment, known: tuple[Way, ...], size: tuple[float, float] = (WIDTH, 420.0)) -> Sketch:
    """The four ways in demand and load, and month by month in heating."""
    width, height = size
    made = Sketch(width, height, "Junctions four ways")
    for n, (key, field) in enumerate((("heating_demand", "demand"), ("heating_load", "load"))):
        made.add(ways_band(a, tuple((w.name, getattr(w, field)) for w in known), width, BAND, key), 0, n * BAND)
    top, left, foot = 2 * BAND + 34.0, 46.0, height - 40.0
    made.text(0, top - 14, f"Heating by month, {unit_of('energy_month')}", size=12, bold=True)
    months = [w for w in known if w.months is not None]
    if not months or foot - top < 40:
        made.text(left, top + 14, "computing …" if a.computing else "not known yet", size=11, color="muted")
        return made
    most = _round(max(max(w.months or ()) for w in months))
    step = (width - left - 8) / 12
    for share in (0.0, 0.5, 1.0):
        y = foot - (foot - top) * share
        made.line((left, y), (width - 8, y), stroke="line", width=0.8)
        made.text(left - 6, y + 4, show(most * share, "energy_month", 0), size=10, color="muted", anchor="end")
    wide = step * 0.8 / len(months)
    for m in range(12):
        for n, w in enumerate(months):
            assert w.months is not None
            tall = (foot - top) * max(w.months[m], 0.0) / most
            tip = f"{MONTHS[m]}, {w.name}: {with_unit(w.months[m], 'energy_month', 0)}"
            made.rect(left + m * step + step * 0.1 + n * wide, foot - tall, wide, tall, fill=WAY_FILLS[w.name], stroke="", tip=tip)
        made.text(left + (m + 0.5) * step, foot + 15, MONTHS[m], size=10, color="muted", anchor="middle")
    x = left
    for w in months:
        made.rect(x, height - 16, 12, 9, fill=WAY_FILLS[w.name], stroke="ink", width=0.5)
        made.text(x + 17, height - 8, w.name, size=11, color="muted")
        x += 34 + 6.4 * len(w.name)
    return made
