"""The way of the energy through a year: from carriers through sources to what it is used for, each band as wide as what it carries."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.energy.sources import EnergyUse, factor_of
from nuthatch.core.energy.use_stages import OWN, USES
from nuthatch.core.results.figure import Figure, Known, Unknown, state_words
from nuthatch.core.sketch import Picture, PointXY, Sketch, fitted
from nuthatch.core.units import show, with_unit
from nuthatch.core.water.stages import WATER

USE_ROWS = ("heating", "hot water", "cooling", "fans and pumps", "household")
"""What energy is used for, in their fixed order: a use that is zero stays at zero."""
ROW_OF = {"fans": "fans and pumps", "auxiliary": "fans and pumps", "pump": "fans and pumps", "frost protection": "fans and pumps"}
AROUND, SUN, OWN_POWER, DIRECT = "around", "sun", "own", "direct"
NAMES = {AROUND: "from air or ground", SUN: "sun on collectors", OWN_POWER: "sun on modules", DIRECT: "used as it is"}
FILLS = {
    "electricity": "tide_pale",
    "gas": "chestnut_pale",
    "oil": "stone",
    "wood": "wood",
    "district heat": "slate_pale",
    "other": "stone",
}
CURVE = 14
LEFT, RIGHT = 158.0, 168.0
"""Room for the words on both sides [px]."""
GAP, BLOCK = 10.0, 12.0


@dataclass
class Flow:
    """So much from one block to another [kWh/a]."""

    start: str
    end: str
    amount: float


@dataclass
class Way:
    """All flows of a year: into sources (from carriers and from around), out of them (to uses), and what sources lose."""

    into: list[Flow] = field(default_factory=list)
    out: list[Flow] = field(default_factory=list)
    lost: dict[str, float] = field(default_factory=dict)

    def add(self, rows: list[Flow], start: str, end: str, amount: float) -> None:
        """More of a flow."""
        if amount <= 1e-9:
            return
        held = next((f for f in rows if (f.start, f.end) == (start, end)), None)
        if held is None:
            rows.append(Flow(start, end, amount))
        else:
            held.amount += amount


def heat_of(u: EnergyUse) -> float | None:
    """Heat, or cold, that comes of a use of energy in a year [kWh]; None where it is energy used as it is."""
    if not isinstance(u.energy, Known) or not u.field:
        return None
    inputs = u.energy.inputs
    if "months" in inputs:
        return float(np.sum(inputs["months"].value))
    if "demand" in inputs:
        return float(inputs["share"].value * inputs["demand"].value)
    return None


def way_of(a: Assessment) -> Way:
    """The flows of what is known; `missing_of` says what is not."""
    way = Way()
    own = a[OWN]
    at_home = 0.0
    if own is not None and own.at_home.value is not None and a.home.power.counted == "counted":
        at_home = float(np.sum(own.at_home.value))
    for u in a[USES]:
        if u.energy.value is None or u.use == "own electricity":
            continue
        energy, row = float(u.energy.value), ROW_OF.get(u.use, u.use)
        carrier = f"carrier:{u.carrier.id}" if u.carrier is not None else "carrier:"
        heat = heat_of(u)
        if heat is None:
            way.add(way.into, carrier, DIRECT, energy)
            way.add(way.out, DIRECT, row, energy)
            continue
        source = f"source:{u.source}"
        way.add(way.into, carrier, source, energy)
        if u.use == "cooling":
            way.add(way.out, source, row, energy)
            continue
        way.add(way.into, AROUND, source, heat - energy)
        way.add(way.out, source, row, heat)
        way.lost[source] = way.lost.get(source, 0.0) + max(energy - heat, 0.0)
    for ident, heat_months in a[WATER].fields:
        if heat_months.value is not None:
            way.add(way.into, SUN, f"solar:{ident}", float(np.sum(heat_months.value)))
            way.add(way.out, f"solar:{ident}", "hot water", float(np.sum(heat_months.value)))
    _own_first(way, a, at_home)
    return way


def _own_first(way: Way, a: Assessment, at_home: float) -> None:
    """What modules give at home takes the place of what is bought, use by use alike."""
    bought = [f for f in way.into if f.start == f"carrier:{a.home.electricity}"]
    total = sum(f.amount for f in bought)
    if at_home <= 0 or total <= 0:
        return
    part = min(at_home / total, 1.0)
    for f in bought:
        moved = f.amount * part
        f.amount -= moved
        way.into.append(Flow(OWN_POWER, f.end, moved))


def missing_of(a: Assessment) -> str:
    """What stands in the way of the whole drawing, in words; '' for nothing."""
    for u in a[USES]:
        if not isinstance(u.energy, Known):
            return f"{u.use} needs {u.energy.needs[0].text}" if isinstance(u.energy, Unknown) else f"{u.use}: {state_words(u.energy)}"
    return ""


@dataclass
class Block:
    """Something energy comes from, goes through or is used for."""

    id: str
    name: str
    fill: str
    amount: float
    y: float = 0.0


def energy_way(a: Assessment, width: float = 640.0, height: float = 0.0) -> Sketch:
    """The way of the energy."""
    made = Sketch(width, height or 330.0, "The way of the energy")
    way = way_of(a)
    left, middle, right = _left(a, way), _middle(a, way), _right(way)
    if not left and not middle:
        made.say(f"{missing_of(a) or 'no energy is used'}")
        return made
    most = max(sum(b.amount for b in rows) for rows in (left, middle, right))
    count = max(len(left), len(middle), len(right))
    top, foot = 34.0, 26.0 if missing_of(a) else 10.0
    scale = max(made.height - top - foot - 26.0 * count, 30.0) / max(most, 1e-9)
    xs = (LEFT, width / 2 - BLOCK / 2, width - RIGHT - BLOCK)
    for rows in (left, middle, right):
        _stack(rows, top, made.height - foot, scale)
    places = {b.id: b for rows in (left, middle, right) for b in rows}
    _bands(made, way.into, places, (xs[0] + BLOCK, xs[1]), scale)
    _bands(made, way.out, places, (xs[1] + BLOCK, xs[2]), scale)
    for rows, x in ((left, xs[0]), (middle, xs[1]), (right, xs[2])):
        for b in rows:
            made.rect(
                x,
                b.y,
                BLOCK,
                max(b.amount * scale, 1.2),
                fill=b.fill,
                stroke="ink",
                width=0.8,
                id=_link(b.id),
                tip=f"{b.name}: {with_unit(b.amount, 'energy')}",
            )
    _words(made, a, (left, middle, right), xs, way)
    for x, words, anchor in ((xs[0] + BLOCK, "comes from", "end"), (xs[1] + BLOCK / 2, "made by", "middle"), (xs[2], "used for", "start")):
        made.text(x, 14, words, size=11, color="muted", anchor=anchor)
    lacks = missing_of(a)
    if lacks:
        made.text(0, made.height - 6, fitted(f"not all of it: {lacks}", width, 11.5), size=11.5, color="chestnut")
    return made


def _link(ident: str) -> str:
    return ident.partition(":")[2] or ident


def _left(a: Assessment, way: Way) -> list[Block]:
    sums: dict[str, float] = {}
    for f in way.into:
        sums[f.start] = sums.get(f.start, 0.0) + f.amount
    carriers = {f"carrier:{c.id}": c for c in a.home.carriers}
    found = []
    for ident, amount in sums.items():
        c = carriers.get(ident)
        name = c.name if c is not None else NAMES.get(ident, "no carrier")
        fill = FILLS[c.kind] if c is not None else "lichen_pale"
        found.append(Block(ident, name, fill, amount))
    return sorted(found, key=lambda b: (not b.id.startswith("carrier"), -b.amount))


def _middle(a: Assessment, way: Way) -> list[Block]:
    names = {f"source:{s.id}": s.name for s in a.home.sources} | {f"solar:{f.id}": f.name for f in a.home.water.solar}
    sums: dict[str, float] = {}
    for f in way.into:
        sums[f.end] = sums.get(f.end, 0.0) + f.amount
    order = [*names, DIRECT]
    return [Block(i, names.get(i, NAMES.get(i, i)), "stone", sums[i]) for i in order if i in sums]


def _right(way: Way) -> list[Block]:
    return [Block(row, row, "slate_pale", sum(f.amount for f in way.out if f.end == row)) for row in USE_ROWS]


def _stack(rows: list[Block], top: float, foot: float, scale: float) -> None:
    """Places of blocks from the top down, the room between them alike."""
    used = sum(b.amount * scale for b in rows)
    gap = max((foot - top - used) / max(len(rows), 1), GAP)
    y = top + gap / 2
    for b in rows:
        b.y = y
        y += b.amount * scale + gap


def _bands(made: Sketch, flows: list[Flow], places: dict[str, Block], xs: tuple[float, float], scale: float) -> None:
    """One band for each flow, leaving and arriving in the order of the blocks at the other end."""
    flows = [f for f in flows if f.start in places and f.end in places]
    starts: dict[str, float] = {}
    ends: dict[str, float] = {}
    leave, arrive = {}, {}
    for f in sorted(flows, key=lambda f: places[f.end].y):
        leave[id(f)] = places[f.start].y + starts.get(f.start, 0.0)
        starts[f.start] = starts.get(f.start, 0.0) + f.amount * scale
    for f in sorted(flows, key=lambda f: places[f.start].y):
        arrive[id(f)] = places[f.end].y + ends.get(f.end, 0.0)
        ends[f.end] = ends.get(f.end, 0.0) + f.amount * scale
    for f in flows:
        thick = max(f.amount * scale, 0.6)
        fill = places[f.start].fill if not f.start.startswith(("source", "solar")) and f.start != DIRECT else "glass"
        tip = f"{places[f.start].name} to {places[f.end].name}: {with_unit(f.amount, 'energy')}"
        made.path(_band((xs[0], leave[id(f)]), (xs[1], arrive[id(f)]), thick), fill=fill, stroke="", tip=tip, id=f"flow:{f.start}>{f.end}")


def _band(start: PointXY, end: PointXY, thick: float) -> list[PointXY]:
    t = np.linspace(0.0, 1.0, CURVE)
    xs = start[0] + (end[0] - start[0]) * t
    ys = start[1] + (end[1] - start[1]) * (3 * t**2 - 2 * t**3)
    upper = list(zip(xs.tolist(), ys.tolist(), strict=True))
    return [*upper, *((x, y + thick) for x, y in reversed(upper))]


def _words(
    made: Sketch, a: Assessment, columns: tuple[list[Block], list[Block], list[Block]], xs: tuple[float, float, float], way: Way
) -> None:
    left, middle, right = columns
    for n, b in enumerate(left):
        room = (left[n + 1].y if n + 1 < len(left) else made.height - 4) - b.y
        lines = [(fitted(b.name, LEFT - 8, 11.5), 11.5, False, "ink"), (with_unit(b.amount, "energy"), 11.0, True, "ink")]
        lines += [(fitted(words, LEFT - 8, 10.0), 10.0, False, "muted") for words in _weighed(a, b)]
        for at, (words, size, bold, color) in enumerate(lines[: max(int(room // 13), 2)]):
            made.text(xs[0] - 6, b.y + 10 + 13 * at, words, size=size, anchor="end", bold=bold, color=color, id=_link(b.id))
    for b in middle:
        lost = way.lost.get(b.id, 0.0)
        made.text(xs[1] + BLOCK / 2, b.y - 4, fitted(b.name, 150, 11.5), size=11.5, anchor="middle", halo=True, id=_link(b.id))
        if lost > 0.5:
            made.text(xs[1] + BLOCK + 5, b.y + 12, f"{with_unit(lost, 'energy')} lost", size=10, color="chestnut", halo=True)
    total = sum(b.amount for b in right)
    for n, b in enumerate(right):
        room = (right[n + 1].y if n + 1 < len(right) else made.height) - b.y
        part = 100 * b.amount / total if total > 0 else 0.0
        share = f" · {part:.1f} %" if 0 < part < 1 else f" · {part:.0f} %"
        x, amount = xs[2] + BLOCK + 6, f"{with_unit(b.amount, 'energy')}{share}"
        if room < 36:
            made.text(x, b.y + 4, fitted(f"{b.name} {show(b.amount, 'energy')}{share}", RIGHT - 8, 11), size=11, halo=True)
        else:
            made.text(x, b.y + 10, b.name, size=11.5)
            made.text(x, b.y + 24, amount, size=11, bold=b.amount > 0)


def _weighed(a: Assessment, b: Block) -> list[str]:
    """“420 kWh primary”, “35 kg/a of CO₂” of a carrier; what no factor is known of is left out."""
    c = next((c for c in a.home.carriers if f"carrier:{c.id}" == b.id), None)
    if c is None:
        return []
    primary, co2 = factor_of(c, "primary").value, factor_of(c, "co2").value
    said = [f"{with_unit(b.amount * float(primary), 'energy_month')} primary"] if primary is not None else []
    return said + ([f"{with_unit(b.amount * float(co2), 'co2_mass')} of CO₂"] if co2 is not None else [])


def own_words(a: Assessment) -> str:
    """“Modules give 4 200 kWh/a: 900 used at home, 3 300 fed in, worth € 264 a year”; empty without modules."""
    own = a[OWN]
    if own is None:
        return ""
    sums = [_sum(f) for f in (own.made, own.at_home, own.fed_in)]
    if any(s is None for s in sums):
        lacking = next(f for f in (own.made, own.at_home, own.fed_in) if f.value is None)
        return f"own electricity needs {lacking.needs[0].text}" if isinstance(lacking, Unknown) else ""
    made, home, fed = (s or 0.0 for s in sums)
    says = f"modules give {with_unit(made, 'energy')}: {with_unit(home, 'energy')} used at home, {with_unit(fed, 'energy')} fed in"
    feed = a.home.power.feed_in
    if feed is not None:
        says += f", worth {a.home.currency} {fed * feed.value:.0f} a year"
    return says + ("" if a.home.power.counted == "counted" else "; not counted in the results")


def _sum(f: Figure) -> float | None:
    return None if f.value is None else float(np.sum(f.value))


def own_rows(a: Assessment) -> list[tuple[str, tuple[str, ...]]]:
    """Rows of (id, cells): electricity made, used, used at home and fed in by month and in the year."""
    own = a[OWN]
    if own is None:
        return []
    names = {m.id: m.name for m in a.home.power.modules}
    rows = [(i, names.get(i, i), f) for i, f in own.fields] if len(own.fields) > 1 else []
    rows += [
        ("made", "Modules give", own.made),
        ("needed", "Used of its carrier", own.needed),
        ("home", "Of it at home", own.at_home),
        ("fed", "Fed in", own.fed_in),
    ]
    return [
        (i, (name, *(show(float(v), "energy_month") for v in (*np.asarray(f.value), np.sum(f.value)))))
        for i, name, f in rows
        if f.value is not None
    ]


PICTURES = (Picture("energy-way", "The way of the energy", lambda a, _: energy_way(a)),)
