"""The chance of passing as a drawing: how often a home turned out how, with the limit; and two levers together as a curve."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.options.chance import OF, SETS, Chance
from nuthatch.core.options.gap import WHOLE, Key
from nuthatch.core.options.pairs import Curve, Together
from nuthatch.core.sketch import Sketch
from nuthatch.core.units import show, unit_of, with_unit
from nuthatch.core.views.options.scales import ends

LEFT, RIGHT, TOP, FOOT = 26.0, 22.0, 40.0, 42.0
BINS = 36
POINT = "point."
"""How the id of a point of a curve begins; its number follows."""


def name_of_target(a: Assessment, key: Key) -> str:
    """“Marrowby Harbour Fund · Points”, “Marrowby Harbour Fund, all of it”."""
    name = next((s.name for s in a.home.target_sets if s.id == key[0]), key[0])
    return f"{name}, all of it" if key[1] == WHOLE else f"{name} · {key[1]}"


def odds_drawing(
    a: Assessment, key: Key, rows: Sequence[tuple[str, Chance | None]], far: float | None, size: tuple[float, float]
) -> Sketch:
    """Homes of the sample by what they came to, one below the other on the same axis. rows: (name, chance, None while it is not known).
    far: how far the one being worked out is."""
    made = Sketch(*size, title="Chance of passing")
    known = [c for _, c in rows if c is not None]
    shown = [c for c in known if c.values]
    made.text(LEFT, 16, f"Likely to meet {name_of_target(a, key)}", size=12, bold=True)
    if not known:
        _wait(made, far)
        return made
    kind, limit = (shown[0].kind, shown[0].limit) if shown else ("", None)
    spread = [v for c in shown for v in (float(np.quantile(c.values, 0.005)), float(np.quantile(c.values, 0.995)))]
    low, high = ends(min([*spread, limit or min(spread)]), max([*spread, limit or max(spread)]), kind) if shown else (0.0, 1.0)
    tall = (made.height - TOP - FOOT) / len(rows)
    for n, (name, chance) in enumerate(rows):
        top = TOP + n * tall
        _homes(made, name, chance, far, (top, top + tall - 8), (low, high))
    if not shown:
        return made
    _axis(made, kind, limit, (low, high))
    return made


def _wait(made: Sketch, far: float | None) -> None:
    """What stands where nothing is known yet."""
    homes = SETS * OF
    made.say(
        f"Each value is varied as far as it may lie from what is entered, and the home judged {homes} times."
        if far is not None
        else "Not known yet."
    )
    if far is not None:
        made.text(made.width / 2, made.height / 2 + 40, f"being worked out, {100 * far:.0f} %", size=12, color="muted", anchor="middle")


def _axis(made: Sketch, kind: str, limit: float | None, ends: tuple[float, float]) -> None:
    """The scale below all homes, and the limit across them."""
    low, high = ends
    foot = made.height - FOOT + 4
    across = made.width - LEFT - RIGHT
    for n in range(5):
        value = low + (high - low) * n / 4
        x = LEFT + across * n / 4
        made.line((x, foot), (x, foot + 4), stroke="line", width=0.8)
        made.text(x, foot + 16, show(value, kind), size=10, color="muted", anchor="middle" if 0 < n < 4 else "start" if n == 0 else "end")
    if limit is not None and low <= limit <= high:
        x = LEFT + across * (limit - low) / (high - low)
        made.line((x, TOP - 8), (x, foot), stroke="ink", width=1.6)
        right = x < made.width * 0.7
        made.text(
            x + (5 if right else -5), TOP - 10, f"limit {with_unit(limit, kind)}", size=10.5, halo=True, anchor="start" if right else "end"
        )
    made.text(made.width - RIGHT, foot + 30, unit_of(kind), size=10, color="muted", anchor="end")


def _homes(made: Sketch, name: str, chance: Chance | None, far: float | None, span: tuple[float, float], axis: tuple[float, float]) -> None:
    top, foot = span
    said = chance.words if chance is not None else f"being worked out, {100 * far:.0f} %" if far is not None else "waits"
    made.text(LEFT, top + 12, name, size=11, halo=True)
    made.text(LEFT, top + 30, said, size=16 if chance is not None else 11, bold=chance is not None, halo=True)
    if chance is None:
        return
    about = f"± {100 * chance.error:.1f} %, {chance.homes} homes" if 0 < chance.chance < 1 else f"{chance.homes} homes"
    made.text(LEFT, top + 44, about, size=10, color="muted", halo=True)
    notes = [f"without {', '.join(chance.unknown)}: not known"] if chance.unknown else []
    notes += ["plain beyond the limit:", "met by its other way"] if chance.other_way else []
    for n, words in enumerate(notes):
        made.text(LEFT, top + 58 + 13 * n, words, size=10, color="muted", halo=True)
    if not chance.values:
        return
    low, high = axis
    values, passes = np.clip(chance.values, low, high), np.array(chance.passes)
    width = max(float(np.quantile(values, 0.84) - np.quantile(values, 0.16)) / 6, (high - low) / 200)  # a third of σ
    bins = int(np.clip((high - low) / max(width, 1e-12), BINS, 200))
    numbers, edges = np.histogram(values, bins, (low, high))
    met, _ = np.histogram(values[passes], bins, (low, high))
    across = made.width - LEFT - RIGHT
    at = LEFT + across * (edges - low) / (high - low)
    tall = (foot - top - 16) / max(int(numbers.max()), 1)
    for n, number in enumerate(numbers):
        x, wide, up = float(at[n]) + 0.3, float(at[n + 1] - at[n]) - 0.6, tall * int(met[n])
        tip = f"{number} homes, {met[n]} of them meet it"
        if met[n]:
            made.rect(x, foot - up, wide, up, width=0.6, fill="slate", stroke="slate", tip=tip)
        if number > met[n]:
            rest = tall * int(number - met[n])
            made.rect(x, foot - up - rest, wide, rest, width=0.6, fill="chestnut_pale", stroke="chestnut", pattern="hatch", tip=tip)
    made.line((LEFT, foot), (made.width - RIGHT, foot), stroke="line", width=0.8)


def levers_drawing(one: Curve | None, waits: str, size: tuple[float, float], selected: int = -1) -> Sketch:
    """Two levers together: on the curve the target is just met; where the home is today. waits: what to say where there is no curve."""
    made = Sketch(*size, title="Two levers together")
    if one is None:
        made.say(waits)
        return made
    left, right, top, foot = 66.0, 24.0, 34.0, 44.0
    (x0, x1), (y0, y1) = one.ends
    across, down = made.width - left - right, made.height - top - foot

    def at(x: float, y: float) -> tuple[float, float]:
        return left + across * (x - x0) / max(x1 - x0, 1e-12), top + down * (y1 - y) / max(y1 - y0, 1e-12)

    for n in range(5):
        x, y = x0 + (x1 - x0) * n / 4, y0 + (y1 - y0) * n / 4
        (px, _), (_, py) = at(x, y0), at(x0, y)
        made.line((left, py), (made.width - right, py), stroke="line", width=0.6)
        made.text(left - 6, py + 4, show(y, one.kinds[1]), size=10, color="muted", anchor="end")
        made.text(px, made.height - foot + 16, show(x, one.kinds[0]), size=10, color="muted", anchor="middle")
    made.text(left, 14, f"{one.names[1]}, {unit_of(one.kinds[1])}", size=11, bold=True)
    made.text(made.width - right, made.height - 8, f"{one.names[0]}, {unit_of(one.kinds[0])}", size=11, bold=True, anchor="end")
    on = [(n, p) for n, p in enumerate(one.points) if p.second is not None]
    made.line(*[at(p.first, p.second or 0.0) for _, p in on], stroke="slate", width=2.4)
    for n, p in on:
        x, y = at(p.first, p.second or 0.0)
        grown = 6.0 if n == selected else 4.0
        tip = said_of(one, p)
        corners = ((x - grown, y), (x, y - grown), (x + grown, y), (x, y + grown))
        made.path(corners, fill="slate" if n == selected else "paper", stroke="slate", width=1.6, id=f"{POINT}{n}", tip=tip)
    if not on:
        met = any(p.met for p in one.points)
        made.text(left + across / 2, top + down / 2, "met wherever they stand" if met else "not met by these two together", size=12, color="muted", anchor="middle", halo=True)  # fmt: skip
    x, y = at(*one.today)
    made.path(((x - 5, y - 5), (x + 5, y - 5), (x + 5, y + 5), (x - 5, y + 5)), fill="ink", stroke="ink")
    made.text(
        x + (9 if x < made.width * 0.7 else -9), y + 14, "as it is", size=10.5, halo=True, anchor="start" if x < made.width * 0.7 else "end"
    )
    return made


def said_of(one: Curve, point: Together) -> str:
    """“wool 240 mm · air change 0.62 1/h”."""
    return f"{one.names[0]} {with_unit(point.first, one.kinds[0])} · {one.names[1]} {with_unit(point.second or 0.0, one.kinds[1])}"
