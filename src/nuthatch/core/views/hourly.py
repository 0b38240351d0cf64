"""The hourly year of an assessed home: what acts on it hour by hour, its needs, its summer without and with windows opened by hand, as rows."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from nuthatch.core.air.stages import LOSSES
from nuthatch.core.assess import Assessment
from nuthatch.core.climate.sun import MONTH_HOURS, MONTH_OF_HOUR
from nuthatch.core.energy.stages import BALANCE, COEFFICIENTS, COOLING, ELEMENTS, INSIDE, ground_flow
from nuthatch.core.fabric.dynamic import dynamic
from nuthatch.core.fabric.elements import Element
from nuthatch.core.fabric.stages import CAPACITY, use_of
from nuthatch.core.model.home import find
from nuthatch.core.results.entries import need
from nuthatch.core.results.figure import Array, CannotKnow, Entered, Figure, Known, Node, Unknown
from nuthatch.core.solid.stages import REFERENCE
from nuthatch.core.views.openings.hour_by_hour import sun_of_year
from nuthatch.core.year.network import FACES_PER_FLOOR, Network, of_faces
from nuthatch.core.year.run import Drive, Held, Year, too_warm, year

BY_HAND = 3.0
"""The most that windows opened by hand bring [1/h] of the reference volume: common practice, no source."""
AWAKE = (7, 22)
"""Hours in which somebody opens windows: common practice, no source."""
AIR_HEAT = 0.34
"""Heat a cubic metre of air carries [Wh/(m³·K)]."""
CLEAR_HEIGHT = 2.5
LIMIT = 25.0


@dataclass(frozen=True, eq=False)
class Hourly:
    """A home's hours: network and what drives it, its needs with both set-points held, its summer without and with windows by hand; floor
    area [m²]."""

    network: Network
    drive: Drive
    needs: Year
    comfort: Year
    by_hand: Year
    area: float

    @property
    def heating(self) -> float:
        """[kWh/(m²·a)]."""
        return float(np.maximum(self.needs.held, 0).sum() / 1000 / self.area)

    @property
    def cooling(self) -> float:
        """[kWh/(m²·a)]."""
        return float(np.maximum(-self.needs.held, 0).sum() / 1000 / self.area)


def _known(node: Node, name: str) -> float:
    value = node.value
    if value is None:
        raise CannotKnow(node.needs[0].text if isinstance(node, Unknown) else f"{name}, which is being worked out")
    return float(value)


def network_of(a: Assessment) -> Network:
    """Its five resistances and one capacity. Raises CannotKnow with what is missing."""
    capacity = a[CAPACITY]
    _known(capacity, "heat capacity")
    assert isinstance(capacity, Known)
    inputs = capacity.inputs
    areas, kappas = ([float(n.value) for n in inputs[k]] for k in ("areas", "capacities"))
    floor, lump = float(inputs["floor"].value), 1000 * float(inputs["inner"].value)
    holes = sum(_known(e.area, e.name) for e in a[ELEMENTS] if e.category == "openings" and e.area is not None)
    rows = [(area, 1000 * kappa) for area, kappa in zip(areas, kappas, strict=True) if kappa > 0]
    bare = sum(area for area, kappa in zip(areas, kappas, strict=True) if kappa <= 0)
    within = max(FACES_PER_FLOOR * floor - sum(areas) - holes, floor if lump > 0 else 0.0)
    if lump > 0:
        rows.append((within, lump * floor / within))
    else:
        bare += within
    windows = sum(_known(e.loss, e.name) for e in a[ELEMENTS] if e.category == "openings")
    opaque = _known(a[COEFFICIENTS].transmission, "transmission") - windows
    return of_faces(rows, bare + holes, windows, opaque)


def _damped(a: Assessment, e: Element, outside: Array) -> Array:
    """The outdoor air as it comes through an opaque face: the day's wave smaller and later by its build-up (ISO 13786)."""
    build = next((b for b in a.home.buildups if e.boundary is not None and b.id == e.boundary.buildup), None)
    if build is None or e.boundary is None or e.boundary.beyond.kind != "outside":
        return outside
    use = use_of(e.boundary)
    day = dynamic(build, use.direction, use.borders)
    factor, late = day.decrement.value, day.shift.value
    if factor is None or late is None:
        return outside
    mean = np.convolve(np.concatenate([outside[-12:], outside, outside[:11]]), np.ones(24) / 24, "valid")[: len(outside)]
    back = int(round(float(late)))
    return np.asarray(mean + min(float(factor), 1.0) * np.roll(outside - mean, back))


def drive_of(a: Assessment, network: Network, inside: float) -> Drive:
    """What acts on the home by hour. Raises CannotKnow with what is missing."""
    climate = a.site_climate
    if climate is None:
        raise CannotKnow("a climate")
    if climate.made:
        raise CannotKnow("a weather file with hours: the climate is given by months")
    outside = climate.weather.temperature
    monthly = Entered("outdoors by month", climate.temperature, "temperature")
    held = Entered("inside", inside, "temperature")
    weighted, total = np.zeros(8760), 0.0
    for e in a[ELEMENTS]:
        h = _known(e.loss, e.name)
        if e.category == "openings" or h == 0:
            continue
        if e.periodic is not None:
            flow = ground_flow(e, held, monthly)
            if flow.value is None:
                raise CannotKnow(f"the flow to the ground of {e.name}")
            beyond = (inside - np.asarray(flow.value) * 1000 / MONTH_HOURS / h)[MONTH_OF_HOUR]
        else:
            beyond = _damped(a, e, outside)
        weighted, total = weighted + h * beyond, total + h
    sun = np.zeros(8760)
    for o in a.home.openings:
        through = sun_of_year(a, o)
        if through is None:
            raise CannotKnow(f"the sun through {o.name}")
        sun = sun + through
    gains = a[INSIDE]
    if gains.value is None:
        raise CannotKnow(gains.needs[0].text if isinstance(gains, Unknown) else "inner gains")
    losses, area = a[LOSSES], _known(a[REFERENCE], "floor area")
    leaks = _known(losses.leaks, "leaks")
    unit, free = _known(losses.unit, "fresh air"), _known(losses.bypassed, "bypass")
    hours = np.tile((np.arange(24) >= AWAKE[0]) & (np.arange(24) < AWAKE[1]), 365)
    hand = AIR_HEAT * climate.air_density_ratio * BY_HAND * area * CLEAR_HEIGHT
    return Drive(
        outside,
        weighted / total if total > 0 else outside,
        outside,
        (np.asarray(gains.value) * 1000 / MONTH_HOURS)[MONTH_OF_HOUR],
        sun,
        np.full(8760, unit + leaks),
        np.full(8760, max(free, unit) + leaks),
        np.where(hours, hand, 0.0),
    )


def hourly(a: Assessment) -> Hourly:
    """The hours of a home. Raises CannotKnow with what is missing."""
    site = find(a.home, "site")
    assert site is not None
    warm, cold = (_known(need(site, f), f) for f in ("heating_setpoint", "cooling_setpoint"))
    network = network_of(a)
    drive = drive_of(a, network, warm)
    shut = replace(drive, windows=np.zeros(8760))
    cooled = cold if any(s.cooling_share is not None and s.cooling_share.value > 0 for s in a.home.sources) else None
    return Hourly(
        network, drive, year(network, shut, Held(warm, cold)), year(network, shut, Held(warm, cooled)),
        year(network, drive, Held(warm, cooled)), _known(a[REFERENCE], "floor area"),
    )  # fmt: skip


def beside_the_month(a: Assessment, h: Hourly) -> list[tuple[str, float, float]]:
    """(what, by the hour, by the month) [kWh/(m²·a)]."""

    def by_month(f: Figure) -> float:
        return float(np.sum(f.value)) / h.area if f.value is not None else float("nan")

    return [("heating", h.heating, by_month(a[BALANCE].heating)), ("cooling", h.cooling, by_month(a[COOLING]))]


HEADS = (
    "hour", "month", "outdoors °C", "air °C", "surfaces °C", "operative °C", "heating W", "cooling W", "sun W", "gains W", "by windows W",
    "by opaque parts W", "by air W", "out through the glass W", "air moved W/K", "windows by hand W/K",
)  # fmt: skip


def rows_of(h: Hourly, run: str = "needs") -> list[tuple[float, ...]]:
    """The hours of one run (needs, comfort, by_hand) as rows of HEADS."""
    y: Year = getattr(h, run)
    columns = (
        np.arange(1, 8761), MONTH_OF_HOUR + 1, h.drive.outside, y.air, y.surface, y.operative, np.maximum(y.held, 0), np.maximum(-y.held, 0),
        h.drive.sun, h.drive.gains, y.by_windows, y.by_opaque, y.by_air, y.by_glass, y.moved, y.opened,
    )  # fmt: skip
    return list(zip(*(c.tolist() for c in columns), strict=True))


def in_words(a: Assessment, h: Hourly) -> list[str]:
    """What the hours say, a line each."""
    lines = [
        f"{what}: {by_hour:.1f} kWh/(m²·a) by the hour, {by_month:.1f} by the month" for what, by_hour, by_month in beside_the_month(a, h)
    ]
    for words, run in (("windows shut", h.comfort), ("windows opened by hand", h.by_hand)):
        lines.append(
            f"above {LIMIT:g} °C with {words}: {100 * too_warm(run.operative, LIMIT):.1f} % of the year, at most {run.operative.max():.1f} °C"
        )
    lines.append(f"largest heating in an hour: {max(float(h.needs.held.max()), 0.0) / h.area:.1f} W/m²")
    return lines
