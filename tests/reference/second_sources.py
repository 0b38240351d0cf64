"""Heat sources a second time, from the published rules alone, hour by hour in plain loops. Imports nothing of Nuthatch.

A heat pump by the points of its sheet with a limit of power and a bivalence point, what takes over by shares of carriers, own
electricity by the month.
"""

from __future__ import annotations

from itertools import pairwise

from tests.reference.second_calculation import DAYS, HOURS


def line(at: float, points: list) -> float:
    """Between neighbours in a straight line, beyond the ends as at the ends."""
    points = sorted(points)
    if at <= points[0][0]:
        return points[0][1]
    for (x, y), (x2, y2) in pairwise(points):
        if at <= x2:
            return y + (y2 - y) * (at - x) / (x2 - x)
    return points[-1][1]


def cop(points: list, source: float, flow: float) -> float:
    """COP from the share of the best possible at each point (source, flow, COP)."""
    flows = sorted({f for _, f, _ in points})
    shares = [(f, line(source, [(s, c * (f - s) / (f + 273.15)) for s, ff, c in points if ff == f])) for f in flows]
    return line(flow, shares) * (flow + 273.15) / max(flow - source, 15)


def flow_of(outside: float, design: float, hottest: float) -> float:
    """The heating curve: the design flow at the winter design and below, 25 °C at 16 °C and above."""
    return line(outside, [(design, hottest), (16.0, 25.0)])


def months_of(hourly: list) -> list:
    out, at = [], 0
    for n in HOURS:
        out.append(hourly[at : at + n])
        at += n
    return out


def rooms(r: dict, pump: dict) -> dict:
    """By month: heat the pump makes, what it leaves, its electricity. r as of `second`; pump: points, design, curve, power, below, alone, lost."""
    made, left, power = [], [], []
    for m, outside in enumerate(months_of(r["temperatures"])):
        asked = r["months"][m] * (1 + pump["lost"])
        if asked <= 0:
            made.append(0.0), left.append(0.0), power.append(0.0)
            continue
        base = r["means"][m] + r["months"][m] / r["losses"][m] * (r["setpoint"] - r["means"][m])
        pull = [max(0.0, base - t) for t in outside]
        done = used = 0.0
        for t, p in zip(outside, pull, strict=True):
            heat = min(asked * p / sum(pull), pump["power"])
            if pump["alone"] and t < pump["below"]:
                heat = 0.0
            done += heat
            used += heat / cop(pump["points"], t, flow_of(t, pump["design"], pump["curve"]))
        made.append(done), left.append(asked - done), power.append(used)
    return {"made": made, "left": left, "power": power}


def water(r: dict, pump: dict, hot: float) -> dict:
    """By month: hot water the pump makes as far as its hottest flow reaches, what it leaves, its electricity; drawn alike in all hours."""
    made, left, power = [], [], []
    for m, outside in enumerate(months_of(r["temperatures"])):
        flow = min(hot + 5, pump["most"])
        part = min(1.0, (flow - 5 - r["cold"][m]) / (hot - r["cold"][m]))
        done = r["water_months"][m] * part
        made.append(done), left.append(r["water_months"][m] - done)
        power.append(sum(done / HOURS[m] / cop(pump["points"], t, flow) for t in outside))
    return {"made": made, "left": left, "power": power}


def at_home(yields: list, used: list, share: float) -> list:
    return [min(y, u) * share for y, u in zip(yields, used, strict=True)]


def even(year: float) -> list:
    return [year * d / 365 for d in DAYS]
