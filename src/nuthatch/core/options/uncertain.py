"""What of a home is not known for sure, and how far it may lie from what is entered (docs/methods: options, chance of passing).

Counts, dates, directions, shares that make a whole, and what is drawn do not vary; a layer's thickness moves its resistance, not the shape.
The same material with the same value and source is one variable, and so is one value that stands at many places.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from dataclasses import replace as replaced
from math import exp, log
from typing import NamedTuple

from nuthatch.core.airtest.stages import TESTED
from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import Batch, Change, SetValue
from nuthatch.core.junctions.stages import JOINED, JUNCTION, UNLISTED
from nuthatch.core.model.air_test import AirTest, Fan, PressureGauge
from nuthatch.core.model.details import Detail
from nuthatch.core.model.home import Brief, BuildUp, EvidenceFile, Home, Junction, Layer, Pin, fresh_id
from nuthatch.core.model.options import Certainty, Economy, Option, Upgrade
from nuthatch.core.model.part import Basis, FieldSpec, Given, IdentifiedPart, inner_fields, quantities, replace
from nuthatch.core.model.plans import Spot
from nuthatch.core.questions import name_of
from nuthatch.core.results.entries import lowered
from nuthatch.core.results.figure import Known, Node
from nuthatch.core.trials import home_trial

SIGMAS, WIDE = 1.96, 3.0
"""A half-width of 95 % is so many standard deviations; distributions are cut at so many."""
STILL = {"count", "years", "cost", "money", "angle", "hours", "seconds", "elevation", "length", "price", "calibration"}
"""Kinds that do not vary: numbers, dates, directions, what is drawn, money."""
NOWHERE = {("Room", "temperature"), ("Layer", "mu"), ("Carrier", "unit_price"), ("Carrier", "unit_energy")}
"""No target rests on these."""
SLOW = {"ground_reflectance"}
"""Fields a slow stage reads (the sun on every opening, hour by hour): they do not vary, no sample could wait for them."""
ADDED_TO = ("temperature", "difference", "psi", "percent", "fraction")
"""Kinds that move by a difference, as every value that is 0 does; the others by a share."""
LENGTHS = ("Junction", "Duct", "PipeRun")
"""Parts whose lengths are typed, not drawn."""
NOT_OF_THE_HOME = (AirTest, Fan, PressureGauge, Brief, Detail, EvidenceFile, Pin, Upgrade, Option, Economy, Certainty)
MOST_RECOVERY = 0.95
TIERS, SOLVED = "ψ by its tier", "ψ by its detail"


class Goes(NamedTuple):
    """Where a variable goes: by `times` the value is multiplied, `over` divided, by `plus` it is added to."""

    part: str
    field: str
    way: str


@dataclass(frozen=True)
class Uncertain:
    """One thing not known for sure: what it is, as entered and its half-width of 95 % [SI], whether normal in the logarithm, between which
    values it can lie, where it goes."""

    name: str
    part: str
    field: str
    kind: str
    basis: str
    value: float
    half: float
    low: float
    high: float
    puts: tuple[Goes, ...]
    log: bool = False

    @property
    def sigma(self) -> float:
        """Of the value, or of its logarithm."""
        return (log(1 + self.half / self.value) if self.log else self.half) / SIGMAS

    @property
    def cut(self) -> tuple[float, float]:
        """Between how many standard deviations it lies: 3, or what can be."""
        if self.log:
            ends = [log(max(x, 1e-12) / self.value) / self.sigma for x in (self.low, self.high)]
        else:
            ends = [(x - self.value) / self.sigma for x in (self.low, self.high)]
        return max(-WIDE, min(ends[0], 0.0)), min(WIDE, max(ends[1], 0.0))

    @property
    def shares(self) -> tuple[float, float]:
        """Of the normal distribution below its ends."""
        from scipy.special import ndtr

        low, high = self.cut
        return float(ndtr(low)), float(ndtr(high))

    def at(self, z: float) -> float:
        """Its value so many standard deviations off."""
        return self.value * exp(z * self.sigma) if self.log else self.value + z * self.sigma


def half_width(given: Given, spec: FieldSpec, certainty: Certainty) -> float:
    """Half of 95 % of one entered value [SI]: its own, else by kind and basis."""
    if given.half is not None:
        return given.half
    assumed = given.basis is Basis.ASSUMED
    if spec.kind in ("temperature", "difference"):
        return _of(certainty.temperature, 1.0)
    if spec.kind == "psi":
        return _of(certainty.psi_assumed, 0.05) if assumed else _of(certainty.psi_known, 0.02)
    if assumed and spec.kind in ("percent", "fraction") and given.value <= 1:
        return _of(certainty.share, 0.1)
    share = (
        _of(certainty.assumed, 0.2)
        if assumed
        else _of(certainty.measured, 0.05)
        if given.basis is Basis.MEASURED
        else _of(certainty.declared, 0.05)
    )
    return share * abs(given.value)


def _of(given: Given | None, usual: float) -> float:
    return float(given.value) if given is not None else usual


def plain(a: Assessment) -> Assessment:
    """The same home with nothing in it that no target rests on, and with ψ of every junction as typed: what is solved or stands in the
    catalogue becomes a value that can vary. Every verdict stays as it is."""
    return home_trial(a, replace(a.home, upgrades=(), options=(), pins=(), junctions=tuple(_rows(a)), details=()), wait=True)


def _rows(a: Assessment) -> Iterator[Junction]:
    known, home = a.all_of(JUNCTION), a.home
    dimensions = home.shape.dimensions
    for row in home.junctions:
        psi = _inside(known[row.id].loss, "psi") if row.id in known else None
        gone = row.meets and a[JOINED].of(row) is None
        if row.psi is not None or gone or psi is None or psi.value is None:
            yield row
            continue
        solved = row.tier == "detailed" and bool(row.detail)
        given = Given(value=float(psi.value), basis=Basis.CALCULATED if solved else Basis.ASSUMED, source=SOLVED if solved else TIERS)
        b = _inside(known[row.id].loss, "b")
        of = (
            row.b
            if b is None or b.value is None or not solved
            else Given(value=min(max(float(b.value), 0.0), 1.0), source=SOLVED, half=0.0)
        )
        yield replace(row, psi=given, dimensions=dimensions, b=of, detail="")
    number, unlisted = 0, a[UNLISTED]
    for element, found in zip(unlisted, a[JOINED].left, strict=False):
        psi = _inside(element.loss, "psi")
        if psi is None or psi.value is None:
            continue
        number += 1
        given = Given(value=float(psi.value), basis=Basis.ASSUMED, source=TIERS)
        made = Junction(id=fresh_id(home, f"unlisted-{number}"), name=element.name, meets=found.key, psi=given, dimensions=dimensions)
        yield replace(made, tier=home.junction_tier if found.family else "fallback", family=found.family or made.family)


def _inside(figure: Node, name: str) -> Node | None:
    """An input of a loss, or of the first part of a sum."""
    if not isinstance(figure, Known):
        return None
    found = figure.inputs.get(name)
    if found is None and isinstance(terms := figure.inputs.get("terms"), tuple) and terms:
        return _inside(terms[0], name)
    return None if isinstance(found, tuple) else found


def uncertain(a: Assessment) -> tuple[Uncertain, ...]:
    """Everything of a home that is not known for sure, what is one thing once, in the order of the home. a: see `plain`."""
    home = a.home
    groups: dict[object, list[Uncertain]] = {}
    for part, owner in _walk(home, None):
        for field, spec in quantities(type(part)):
            given = part[field]
            if isinstance(given, Given) and not (field == "n50" and part.id == "air") and _varies(part, spec):
                one = _one(part, owner, spec, given, home.certainty)
                if one is not None:
                    groups.setdefault(_key(part, field, given), []).append(one)
    found = [_joined(g) for g in groups.values()]
    return (*found, *_tightness(a))


def _walk(part: IdentifiedPart, owner: IdentifiedPart | None) -> Iterator[tuple[IdentifiedPart, IdentifiedPart | None]]:
    if isinstance(part, NOT_OF_THE_HOME):
        return
    yield part, owner
    for name in inner_fields(type(part)):
        value = part[name]
        rows: Iterable[object] = value if isinstance(value, tuple) and name != "target_sets" else (value,)
        for row in rows:
            if isinstance(row, IdentifiedPart):
                yield from _walk(row, part)


def _varies(part: IdentifiedPart, spec: FieldSpec) -> bool:
    if (
        spec.name in SLOW
        or (type(part).__name__, spec.name) in NOWHERE
        or spec.totals
        or (spec.kind == "thickness" and not isinstance(part, Layer))
    ):
        return False
    if isinstance(part, Spot) and spec.name in ("x", "y", "to_x", "to_y"):
        return False
    return spec.kind not in STILL or (spec.kind == "length" and type(part).__name__ in LENGTHS)


def _one(part: IdentifiedPart, owner: IdentifiedPart | None, spec: FieldSpec, given: Given, certainty: Certainty) -> Uncertain | None:
    half = half_width(given, spec, certainty)
    if half <= 0:
        return None
    puts: tuple[Goes, ...] = (Goes(part.id, spec.name, "times" if given.value and spec.kind not in ADDED_TO else "plus"),)
    if isinstance(part, Layer) and spec.name == "thickness":
        if part.conductivity is None:
            return None  # its resistance is typed, or it is air: its thickness moves nothing by itself
        fields = ("conductivity", "framing_conductivity") if part.framing_conductivity is not None else ("conductivity",)
        puts = tuple(Goes(part.id, f, "over") for f in fields)
    name = f"{spec.label} of {name_of(part)}"
    if isinstance(part, Layer) and isinstance(owner, BuildUp):
        name = f"{name_of(part)}, {owner.name}: {lowered(spec.label)}"
    low, high = _ends(spec, given.value)
    return Uncertain(name, part.id, spec.name, spec.kind, given.basis.value, given.value, half, low, high, puts)


def _ends(spec: FieldSpec, value: float) -> tuple[float, float]:
    """Between what values a quantity can be."""
    low = spec.least if spec.least is not None else float("-inf")
    if spec.above is not None:
        low = max(low, spec.above + 0.01 * (value - spec.above))
    high = spec.most if spec.most is not None else float("inf")
    if spec.name == "recovery":
        high = max(min(high, MOST_RECOVERY), value)
    elif spec.kind in ("fraction", "percent") and value <= 1 and spec.name != "efficiency":
        low, high = max(low, 0.0), min(high, 1.0)
    return low, high


def _key(part: IdentifiedPart, field: str, given: Given) -> object:
    """What stands for one and the same thing."""
    if isinstance(part, Layer) and field != "thickness":
        return "material", part.name, field, given.value, given.source, given.basis
    if isinstance(part, Junction) and given.source == TIERS:
        return "tier", part.family, part.tier, given.value
    if given.source.strip() and given.source != SOLVED and field != "thickness":
        return type(part).__name__, field, given.value, given.source, given.basis, given.half
    return part.id, field


def _joined(group: list[Uncertain]) -> Uncertain:
    first = group[0]
    if len(group) == 1:
        return first
    name = (
        first.name.partition(",")[0] + ": " + first.name.partition(": ")[2]
        if ": " in first.name
        else f"{first.name} and {len(group) - 1} more"
    )
    puts = tuple(p for one in group for p in one.puts)
    return replaced(
        first, name=name, puts=puts, half=min(g.half for g in group), low=max(g.low for g in group), high=min(g.high for g in group)
    )


def _tightness(a: Assessment) -> Iterator[Uncertain]:
    """n50: normal in the logarithm where it is assumed or only practised, else by the interval of its test or its basis."""
    value = a.figures["n50"].value
    if value is None or float(value) <= 0:
        return
    n50, home = float(value), a.home
    puts = (Goes("air", "n50", "times"),)
    test = a.all_of(TESTED).get(home.air.test)
    if test is not None and test.result is not None:
        band = test.result.q50_band
        half = (band[1] - band[0]) / 2 / test.result.q50 * n50 if band is not None else _of(home.certainty.measured, 0.05) * n50
        simulated = test.test.simulated
        basis = Basis.ASSUMED if simulated else Basis.MEASURED
    else:
        given = home.air.n50
        if given is None:
            return
        simulated, basis = given.basis is Basis.ASSUMED and given.half is None, given.basis
        share = _of(home.certainty.measured, 0.05) if basis is Basis.MEASURED else _of(home.certainty.declared, 0.05)
        half = given.half if given.half is not None else share * n50
    if simulated:
        half = n50 * (_of(home.certainty.n50, 1.5) - 1)
    if half > 0:
        yield Uncertain("Air change at 50 Pa", "air", "n50", "ach", basis.value, n50, half, 0.01 * n50, 1e3, puts, log=simulated)


def with_values(home: Home, rows: tuple[Uncertain, ...], z: Iterable[float], at: Mapping[tuple[str, str], float]) -> Change:
    """The change that puts every variable so many standard deviations off what is entered. at: what is entered, by (part, field)."""
    now: dict[tuple[str, str], float] = {}
    for one, off in zip(rows, z, strict=True):
        if off == 0.0:
            continue
        value = one.at(off)
        for p in one.puts:
            key = (p.part, p.field)
            old = now.get(key, at[key])
            if p.way == "plus":
                now[key] = old + value - one.value
            else:
                now[key] = old * (value / one.value) if p.way == "times" else old * (one.value / value)
    changes: list[Change] = []
    if ("air", "n50") in now:
        changes.append(SetValue(part="air", field="test", value=""))
    changes += [SetValue(part=part, field=field, value=Given(value=value)) for (part, field), value in now.items()]
    return Batch(label="not known for sure", changes=tuple(changes))


def as_entered(a: Assessment, rows: tuple[Uncertain, ...]) -> dict[tuple[str, str], float]:
    """What is entered where variables go."""
    wanted: dict[str, list[str]] = {}
    for one in rows:
        for p in one.puts:
            wanted.setdefault(p.part, []).append(p.field)
    found: dict[tuple[str, str], float] = {}
    for part, _ in _walk(a.home, None):
        for field in wanted.get(part.id, ()):
            given = part[field]
            if field == "n50" and part.id == "air":
                found[(part.id, field)] = float(a.figures["n50"].value)  # type: ignore[arg-type]
            elif isinstance(given, Given):
                found[(part.id, field)] = given.value
    return found
