"""What a drawing of the shape is tinted by: what faces border on, their build-up, U, loss, storey, direction, basis; what openings win."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import floor, log10

from nuthatch.core.assess import Assessment
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.fabric.elements import Element
from nuthatch.core.results.figure import Known, leaves
from nuthatch.core.sketch import Sketch
from nuthatch.core.solid.plan_faces import COMPASS
from nuthatch.core.solid.solid import Boundary
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.units import with_unit
from nuthatch.core.views.openings.season import heating_season

BORDERS = {
    "outside air": ("white", ""),
    "ground": ("chestnut_pale", "hatch"),
    "unheated space": ("lichen_pale", "dots"),
    "neighbour": ("slate_pale", ""),
}
TINTS = ("borders on", "U-value", "heat loss", "build-up", "storey", "direction", "basis", "net gain")
RAMP = ("white", "glass", "tide_pale", "slate_pale", "slate")
WINS = ("chestnut_pale", "stone", "white", "lichen_pale", "lichen")
"""What openings lose more than they win, and what they win."""
GROUPS = ("wood", "glass", "lichen_pale", "chestnut_pale", "slate_pale", "stone", "tide_pale")
BASES = {
    "assumed": ("chestnut_pale", "hatch"),
    "declared": ("slate_pale", ""),
    "calculated": ("tide_pale", "dots"),
    "measured": ("lichen_pale", ""),
}
"""From the weakest: a value rests on the weakest it is made from."""
Fill = tuple[str, str]
Legend = list[tuple[str, str, str]]


@dataclass(frozen=True)
class Tint:
    """What to tint by; range and decimals of the legend, None for the range found."""

    by: str = "borders on"
    low: float | None = None
    high: float | None = None
    decimals: int = 2


def _faces(a: Assessment) -> list[Element]:
    return [e for e in a[ELEMENTS] if e.is_face]


def round_above(value: float) -> float:
    """1, 2 or 5 of a power of ten, at or above a value; never nothing."""
    size = 10.0 ** floor(log10(max(value, 1e-3)))
    return next(float(f"{n * size:.6g}") for n in (1, 2, 5, 10) if n * size >= value - 1e-9)


def by_number(values: dict[str, float], tint: Tint, kind: str, ramp: tuple[str, ...] = RAMP) -> tuple[dict[str, Fill], Legend]:
    """In steps between two ends, those given or those found."""
    low = tint.low if tint.low is not None else min(values.values(), default=0.0)
    high = tint.high if tint.high is not None else max(values.values(), default=1.0)
    span = max(high - low, 1e-9)
    fills = {k: (ramp[min(max(int((v - low) / span * len(ramp)), 0), len(ramp) - 1)], "") for k, v in values.items()}
    return fills, [(ramp[i], "", f"from {with_unit(low + span * i / len(ramp), kind, tint.decimals)}") for i in range(len(ramp))]


def by_group(groups: dict[str, str], order: tuple[str, ...] = ()) -> tuple[dict[str, Fill], Legend]:
    """Each group in a tint of its own; past the last tint they come again with a pattern."""
    names = tuple(dict.fromkeys((*(o for o in order if o in groups.values()), *groups.values())))
    patterns = ("", "hatch", "dots")
    fill = {name: (GROUPS[n % len(GROUPS)], patterns[min(n // len(GROUPS), 2)]) for n, name in enumerate(names)}
    return {k: fill[g] for k, g in groups.items()}, [(*fill[name], name) for name in names]


def direction(face: Boundary) -> str:
    """Where a face looks, in words."""
    if face.tilt < 30:
        return "up"
    return "down" if face.tilt > 150 else COMPASS[round(face.azimuth / 45) % 8].lower()


def _borders(a: Assessment, tint: Tint) -> tuple[dict[str, Fill], Legend]:
    faces = a[SOLID].boundaries
    used = [b for b in BORDERS if any(f.borders == b for f in faces)]
    return {f.id: BORDERS[f.borders] for f in faces}, [(*BORDERS[b], b) for b in used]


def _buildup(a: Assessment, tint: Tint) -> tuple[dict[str, Fill], Legend]:
    names = {b.id: b.name for b in a.home.buildups}
    return by_group({f.id: names.get(f.buildup, "no build-up") for f in a[SOLID].boundaries})


def _u(a: Assessment, tint: Tint) -> tuple[dict[str, Fill], Legend]:
    values = {e.id: float(e.u.value) for e in _faces(a) if e.u is not None and e.u.value is not None}
    return by_number(values, tint, "u")


def _loss(a: Assessment, tint: Tint) -> tuple[dict[str, Fill], Legend]:
    known = [e for e in _faces(a) if e.u is not None and e.u.value is not None and e.loss.value is not None]
    return by_number({e.id: float(e.loss.value) for e in known if e.loss.value is not None}, tint, "w_per_k")


def _storey(a: Assessment, tint: Tint) -> tuple[dict[str, Fill], Legend]:
    """A face belongs to the storey its middle lies in; what lies below the lowest, to that."""
    storeys = sorted(a[SOLID].storeys, key=lambda s: s.level)
    groups = {}
    for f in a[SOLID].boundaries if storeys else ():
        heights = [z for _, _, z in f.outline or a[SOLID].outer.get(f.id, ())]
        middle = (min(heights) + max(heights)) / 2 if heights else 0.0
        groups[f.id] = next((s.name for s in reversed(storeys) if s.level <= middle + 1e-6), storeys[0].name)
    return by_group(groups, tuple(s.name for s in storeys))


def _direction(a: Assessment, tint: Tint) -> tuple[dict[str, Fill], Legend]:
    order = (*(c.lower() for c in COMPASS), "up", "down")
    return by_group({f.id: direction(f) for f in a[SOLID].boundaries}, order)


def basis_of(element: Element) -> str:
    """The weakest basis an element's U-value rests on, '' where it has none."""
    found = {leaf.basis for leaf in leaves(element.u)} if isinstance(element.u, Known) else set()
    return next((b for b in BASES if b in found), "")


def _basis(a: Assessment, tint: Tint) -> tuple[dict[str, Fill], Legend]:
    """Of faces and openings alike."""
    found = {e.id: basis for e in a[ELEMENTS] if (basis := basis_of(e))}
    return {k: BASES[b] for k, b in found.items()}, [(*BASES[b], b) for b in BASES if b in found.values()]


def _net_gain(a: Assessment, tint: Tint) -> tuple[dict[str, Fill], Legend]:
    """Openings by sun less loss in the months with heating, per area of theirs."""
    values = {}
    for e in a[ELEMENTS]:
        season = heating_season(a, e.id) if e.category == "openings" else None
        if season is not None and e.area is not None and e.area.value:
            values[e.id] = (season[1] - season[0]) / float(e.area.value)
    return by_number(values, tint, "specific_energy", WINS)


_WAYS: dict[str, Callable[[Assessment, Tint], tuple[dict[str, Fill], Legend]]] = {
    "borders on": _borders,
    "U-value": _u,
    "heat loss": _loss,
    "build-up": _buildup,
    "storey": _storey,
    "direction": _direction,
    "basis": _basis,
    "net gain": _net_gain,
}


def tints(a: Assessment, tint: Tint) -> tuple[dict[str, Fill], Legend]:
    """(id of a face or an opening → (fill, pattern), legend rows (fill, pattern, text))."""
    return _WAYS[tint.by](a, tint)


def legend_lines(rows: Legend, width: float) -> tuple[list[list[int]], list[float]]:
    """(the numbers of the rows that stand beside each other, line by line, how wide each is)."""
    wide = [26 + 6.4 * len(text) + 10 for _, _, text in rows]
    lines: list[list[int]] = [[]]
    for n, w in enumerate(wide):
        if lines[-1] and sum(wide[m] for m in lines[-1]) + w > width:
            lines.append([])
        lines[-1].append(n)
    return lines, wide


def tint_legend(made: Sketch, rows: Legend, x: float, y: float) -> None:
    """The legend in as many rows as it needs, the last of them at this height."""
    lines, wide = legend_lines(rows, made.width - 2 * x)
    for k, line in enumerate(reversed(lines)):
        at = x
        for n in line:
            fill, pattern, text = rows[n]
            made.rect(at, y - 18 * k, 15, 11, fill=fill, pattern=pattern, stroke="ink", width=0.8)
            made.text(at + 21, y + 10 - 18 * k, text, size=11)
            at += wide[n]
