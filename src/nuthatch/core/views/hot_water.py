"""Hot water drawn: its way from the cold main to the taps, as wide as the heat it carries, what is lost falling off on the way."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.energy.sources import factor_of
from nuthatch.core.energy.use_stages import USES
from nuthatch.core.model.heat import Carrier
from nuthatch.core.results.figure import MONTHS, Known, Unknown, state_words
from nuthatch.core.sketch import Picture, Sketch
from nuthatch.core.units import show, with_unit
from nuthatch.core.views.options.rows import cash
from nuthatch.core.water.stages import WATER, Water

PARTS = {"useful": "Water drawn", "store": "Store", "circulation": "Circulation", "draw_off": "After draw-off"}
HEADS = ("", *MONTHS, "year")


@dataclass(frozen=True)
class Band:
    """Something that brings or takes heat [kWh/a]."""

    id: str
    name: str
    heat: float
    tint: str


def brought(a: Assessment) -> list[Band]:
    """What makes the water warm: the sun first, then the sources by their shares."""
    found = [
        Band(i, next((f.name for f in a.home.water.solar if f.id == i), "sun"), float(np.sum(h.value)), "tide_pale")
        for i, h in a[WATER].fields
        if h.value is not None
    ]
    rest = a[WATER].rest.value
    left = float(np.sum(rest)) if rest is not None else 0.0
    served = [(s, s.water_share.value) for s in a.home.sources if s.water_share is not None and s.water_share.value > 0]
    for s, share in served:
        found.append(Band(s.id, s.name, left * share, "slate_pale"))
    if not served and left > 0:
        found.append(Band("", "a source is needed", left, "chestnut_pale"))
    return [b for b in found if b.heat > 1e-9]


def lost(water: Water) -> list[Band]:
    """What falls off on the way, in its order."""
    if not isinstance(water.months, Known):
        return []
    made = []
    for key, name in list(PARTS.items())[1:]:
        node = water.months.inputs[key]
        heat = float(np.sum(node.value)) if not isinstance(node, tuple) and node.value is not None else 0.0
        made.append(Band(key, name, heat, "chestnut_pale"))
    return made


def hot_water(a: Assessment, width: float = 640.0, height: float = 0.0) -> Sketch:
    """The way of the water's heat through a year."""
    made = Sketch(width, height or 280.0, "The way of the hot water")
    months = a[WATER].months
    if not isinstance(months, Known):
        made.say(f"needs {months.needs[0].text}" if isinstance(months, Unknown) else state_words(months))
        return made
    whole = float(np.sum(months.value))
    if whole <= 0:
        made.say("no hot water is needed: nothing is drawn, and nothing is lost")
        return made
    _way(made, a, whole)
    return made


LEFT, TOP = 128.0, 62.0
"""Where the way begins, and how high it lies, in the drawing."""


def _way(made: Sketch, a: Assessment, whole: float) -> None:
    scale = max(min(made.height * 0.36, 150.0), 40.0) / whole
    right = made.width - 150.0
    _brought_in(made, brought(a), whole, scale)
    stations, carried = lost(a[WATER]), whole
    step = (right - LEFT) / len(stations)
    for n, band in enumerate(stations):
        _station(made, band, (LEFT + n * step, LEFT + (n + 1) * step), carried, scale)
        carried -= band.heat
    _at_the_taps(made, right, carried, whole, scale)


def _brought_in(made: Sketch, bands: list[Band], whole: float, scale: float) -> None:
    y = TOP
    for band in bands:
        wide = band.heat * scale
        tip = f"{band.name}: {with_unit(band.heat, 'energy')}"
        made.path(((12, y), (LEFT, y), (LEFT, y + wide), (12, y + wide)), fill=band.tint, stroke="ink", width=0.8, id=band.id, tip=tip)
        if wide > 13:
            made.name(16, y + wide / 2 + 4, band.name, (LEFT - 20, wide - 8), 11, centred=True)
        y += wide
    made.text(12, TOP - 30, "brought in", size=11, color="muted")
    made.text(12, TOP - 14, with_unit(whole, "energy"), size=12, bold=True)


def _station(made: Sketch, band: Band, span: tuple[float, float], carried: float, scale: float) -> None:
    """A place on the way: what comes in [kWh] is carried on, less what falls off there."""
    x0, x1 = span
    thick, falls = carried * scale, band.heat * scale
    start, middle = TOP + thick - falls, (x0 + x1) / 2
    made.path(
        ((x0, TOP), (x1, TOP), (x1, start), (x1 - 18, start), (x0, TOP + thick)),
        fill="glass",
        stroke="ink",
        width=0.8,
        id=f"way:{band.id}",
        tip=f"carried on: {with_unit(carried - band.heat, 'energy')}",
    )
    made.text(middle, TOP - 10, band.name, size=11, anchor="middle", color="ink" if band.heat > 0 else "muted")
    if not band.heat > 0:
        made.text(middle, TOP + thick + 18, "none", size=11, anchor="middle", color="muted")
        return
    foot, half = made.height - 44, max(falls / 2, 1.0)
    drop = ((middle - half, start + 6), (middle + half, start + 6), (middle + half, foot), (middle, foot + 8), (middle - half, foot))
    made.path(drop, fill=band.tint, stroke="chestnut", width=0.8, id=band.id, tip=f"{band.name}: {with_unit(band.heat, 'energy')} lost")
    made.text(middle, foot + 24, with_unit(band.heat, "energy"), size=11, anchor="middle")


def _at_the_taps(made: Sketch, right: float, carried: float, whole: float, scale: float) -> None:
    wide = carried * scale
    made.path(
        ((right, TOP), (right + 14, TOP), (right + 26, TOP + wide / 2), (right + 14, TOP + wide), (right, TOP + wide)),
        fill="tide_pale",
        stroke="ink",
        width=0.8,
        id="useful",
        tip=f"at the taps: {with_unit(carried, 'energy')}",
    )
    made.text(right + 32, TOP + wide / 2 - 4, "water drawn", size=11)
    made.text(right + 32, TOP + wide / 2 + 12, f"{with_unit(carried, 'energy')}", size=12, bold=True)
    made.text(right + 32, TOP + wide / 2 + 27, f"{100 * carried / whole:.0f} % of it", size=11, color="muted")


def month_rows(a: Assessment) -> list[tuple[str, tuple[str, ...]]]:
    """Rows of (id, cells): where the heat goes, what the sun gives, what is left for the sources, by month and in the year."""
    months = a[WATER].months
    if not isinstance(months, Known):
        return []
    rows = [(key, name, months.inputs[key]) for key, name in PARTS.items()] + [("together", "Together", months)]
    if a[WATER].solar is not None:
        rows += [("solar", "From the sun", a[WATER].solar), ("rest", "By sources", a[WATER].rest)]
    return [
        (key, (name, *(show(float(v), "energy_month") for v in (*np.asarray(n.value), np.sum(n.value)))))
        for key, name, n in rows
        if not isinstance(n, tuple) and n is not None and n.value is not None
    ]


def solar_share(a: Assessment) -> float | None:
    """Which part of the year's heat for hot water the sun gives; None without collectors, or where it is not known."""
    found: float | None = a[WATER].share.value
    return found


@dataclass(frozen=True)
class Saved:
    """What the sun saves in a year: delivered energy [kWh] by name of its carrier, what the pumps of the collectors take taken off; in all CO₂
    [kg] and money, None where a factor or a price is not known."""

    carriers: tuple[tuple[str, float], ...]
    co2: float | None
    money: float | None

    @property
    def energy(self) -> float:
        """[kWh/a]."""
        return sum(e for _, e in self.carriers)


def saved_by_sun(a: Assessment) -> Saved | None:
    """What the sources would take in a year for what the sun gives, in the proportion they take now, less what its pumps take."""
    solar, rest = a[WATER].solar, a[WATER].rest.value
    if solar is None or solar.value is None or rest is None or not np.sum(rest) > 0:
        return None
    more = float(np.sum(solar.value) / np.sum(rest))
    weights = {"hot water": more, "pump": -1.0}
    if not any(u.use == "hot water" for u in a[USES]):
        return None
    moved: dict[Carrier | None, float] = {}
    for u in a[USES]:
        if u.use in weights:
            if u.energy.value is None:
                return None
            moved[u.carrier] = moved.get(u.carrier, 0.0) + weights[u.use] * float(u.energy.value)
    named = tuple((c.name if c is not None else "no carrier", e) for c, e in moved.items())
    return Saved(named, _worth(moved, "co2"), _worth(moved, "price"))


def _worth(moved: dict[Carrier | None, float], field: str) -> float | None:
    """Energy by carrier in the measure of a factor of theirs."""
    factors = [factor_of(c, field).value if c is not None else None for c in moved]
    if any(f is None for f in factors):
        return None
    return float(sum(e * float(f) for e, f in zip(moved.values(), factors, strict=True) if f is not None))


def words_of_saved(a: Assessment) -> str:
    """“1 460 kWh/a of gas, 310 kg/a of CO₂, € 160 a year”; empty where nothing is known to be saved."""
    saved = saved_by_sun(a)
    if saved is None:
        return ""
    said = [f"{with_unit(e, 'energy')} of {_in_text(name)}" for name, e in saved.carriers if abs(e) >= 0.5]
    if not said:
        return ""
    said += [f"{with_unit(saved.co2, 'co2_mass')} of CO₂"] if saved.co2 is not None else []
    said += [f"{cash(saved.money, a.home.currency)} a year"] if saved.money is not None else []
    return ", ".join(said)


def _in_text(name: str) -> str:
    """“gas”, “LPG”, “Bought power” as “bought power”."""
    return name[:1].lower() + name[1:] if name[1:2].islower() else name


PICTURES = (Picture("hot-water", "The way of the hot water", lambda a, _: hot_water(a)),)
