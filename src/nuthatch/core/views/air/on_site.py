"""What is seen while a test runs, for poor light and one free hand: steps, big figures, the last minutes, the ladder, results and validity."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from math import cos, pi, sin

from nuthatch.core.airtest.instrument import Sample
from nuthatch.core.airtest.ladder import PHASES, Rung
from nuthatch.core.airtest.run import Run
from nuthatch.core.airtest.stages import Tested
from nuthatch.core.airtest.validity import Requirement
from nuthatch.core.sketch import Sketch, fitted
from nuthatch.core.units import show, unit_of, with_unit

OPEN = ("points", "lowest point", "highest point", "steps")
"""Lines of the validity that more readings may still mend."""
STEPS = ("prepared", *PHASES, "valid?")


def steps(run: Run | None, prepared: bool, valid: bool | None, width: float, height: float = 30.0) -> Sketch:
    """Where the test stands: what is done is filled, what goes on is tinted, what is to come is hollow."""
    made = Sketch(width, height, "Where the test stands")
    at = STEPS.index(run.phase) if run is not None and not run.done else len(STEPS) - 1 if run is not None else 0
    gap = width / len(STEPS)
    size = 12.5 if gap > 105 else 10.5
    for n, name in enumerate(STEPS):
        x = 8 + n * gap
        done = prepared if name == "prepared" else valid is True if name == "valid?" else n < at
        now = n == at and run is not None
        ring = _disc(x, height / 2, 5.5)
        made.path(ring, fill="slate" if done else "tide_pale" if now else "white", stroke="slate", width=1.4)
        made.text(x + 10, height / 2 + 4.5, fitted(name, gap - 18, size), size=size, bold=now)
        if n < len(STEPS) - 1:
            start = x + 12 + 7.0 * len(name) + 6
            if x + gap - 12 > start:
                made.line((start, height / 2), (x + gap - 12, height / 2), stroke="slate_pale", width=1.4)
    return made


def _disc(x: float, y: float, r: float) -> list[tuple[float, float]]:
    return [(x + r * cos(n * pi / 8), y + r * sin(n * pi / 8)) for n in range(16)]


def figures(run: Run | None, sample: Sample | None, flow: float | None, width: float, height: float) -> Sketch:
    """Pressure and flow now, as large as there is room; below them how long it is held and whether the ring is right."""
    made = Sketch(width, height, "Pressure and flow")
    made.rect(0.5, 0.5, width - 1, height - 1, fill="card", stroke="line")
    half = width / 2
    made.line((half, 12), (half, height - 12), stroke="line")
    big = min(height * 0.46, 64.0, (half * 0.66 - 14) / (0.62 * 5))
    base = height * 0.5 + big * 0.36
    pressure = f"{sample.pressure:+.1f}".replace("-", "−").replace("+", "") if sample is not None else "–"
    for x, name, value, unit in (
        (0.0, "pressure across the envelope", pressure, unit_of("pascal")),
        (half, "flow through the fan", show(flow, "flow") if flow is not None else "–", unit_of("flow")),
    ):
        made.text(x + 18, 22, fitted(name, half - 22, 12.5), size=12.5, color="muted")
        made.text(x + half * 0.66, base, value, size=big, bold=True, anchor="end")
        made.text(x + half * 0.70, base, unit, size=17, color="muted")
    color = "chestnut_text" if run is not None and run.paused else "tide"
    made.text(18, height - 11, fitted(_held(run), half - 24, 12.5), size=12.5, color=color)
    said, wrong = _ring(run, sample)
    made.text(half + 18, height - 11, fitted(said, half - 24, 12.5), size=12.5, color="chestnut_text" if wrong else "muted")
    return made


def _held(run: Run | None) -> str:
    if run is None:
        return "the gauge is not started"
    if run.paused or run.done:
        return run.paused or run.say
    steady = f" · steady to ± {run.spread:.1f}" if run.spread is not None else ""
    if run.now is not None and run.held > 0:
        return f"held {run.held:.0f} s of {run.now.hold:.0f}{steady}"
    return run.say


def _ring(run: Run | None, sample: Sample | None) -> tuple[str, bool]:
    """(which ring is on and whether it holds, whether it does not)."""
    if run is None or sample is None:
        return "", False
    ring = run.rings.get(run.ring or "")
    if ring is None:
        return "the fan is covered", False
    low, high = (show(ring.flow(p), "flow") for p in (ring.least, ring.most))
    span = f"ring {ring.name} · {low} to {high} {unit_of('flow')}"
    if sample.fan_pressure < 1 or ring.holds(sample.fan_pressure):
        return f"{span} · in range" if sample.fan_pressure >= 1 else span, False
    return f"{span} · out of range", True


def trace(samples: Sequence[Sample], width: float, height: float, seconds: float = 180.0) -> Sketch:
    """The pressure of the last minutes."""
    made = Sketch(width, height, "The last minutes")
    lowest = min((s.pressure for s in samples), default=0.0)
    highest = max((s.pressure for s in samples), default=0.0)
    low, high = min(lowest, 0.0) - 2, max(highest, 0.0) + 2

    def y(p: float) -> float:
        return 6 + (height - 22) * (high - p) / (high - low)

    made.line((0, y(0.0)), (width, y(0.0)), stroke="line")
    made.text(width, y(0.0) - 3 if y(0.0) > 16 else y(0.0) + 12, "0 Pa", size=11, color="muted", anchor="end")
    if len(samples) > 1:
        end = samples[-1].seconds
        every = samples[:: max(len(samples) // 240, 1)]
        made.line(*((width * (1 - (end - s.seconds) / seconds), y(s.pressure)) for s in every), stroke="slate", width=1.3)
    made.text(width, height - 2, f"the last {seconds / 60:.0f} minutes", size=11, color="muted", anchor="end")
    return made


def ladder(rungs: Sequence[Rung], width: float, height: float) -> Sketch:
    """The ladder of pressures: a rung for each, kept, now or to come."""
    made = Sketch(width, height, "Ladder of pressures")
    if not rungs:
        return made
    made.text(0, 12, "ladder of pressures, Pa", size=11, color="muted")
    gap = width / len(rungs)
    for n, rung in enumerate(rungs):
        x, wide = n * gap, gap - 6
        kept, now, out = (rung.state == s for s in ("kept", "now", "left out"))
        fill = "slate" if kept else "tide_pale" if now else "white"
        ident, tip = f"rung-{n}", f"{rung.target:.0f} Pa, {rung.state}; click to take it {'again' if kept else 'now'}"
        made.rect(x, 16, wide, height - 17, fill="paper", stroke="", id=ident, tip=tip)
        stroke, pattern = ("muted", "hatch") if out else ("slate", "")
        made.rect(x, 18, wide, 7, fill=fill, stroke=stroke, width=1.0, pattern=pattern, id=ident, tip=tip)
        color = "muted" if out else "ink"
        made.text(x + wide / 2, height - 3, f"{rung.target:.0f}", size=11.5, bold=now, anchor="middle", color=color, id=ident)
    return made


def results(shown: Tested | None, limit: float | None, width: float, height: float, going: bool = False) -> Sketch:
    """n50 large, what it rests on, and every line of the validity, those that fail first. going: what only more readings can
    tell is to come, not failed."""
    made = Sketch(width, height, "Results so far")
    result = shown.result if shown is not None else None
    if shown is None or result is None or not result.halves:
        made.text(0, 22, "n50", size=15, bold=True)
        made.text(0, 44, fitted(f"wanted: {shown.lacks}" if shown is not None and shown.lacks else "no readings yet", width, 12), size=12)
        return made
    half = result.halves[-1]
    made.text(0, 30, "n50", size=15, bold=True)
    if shown.test.simulated:
        made.text(0, 12, "simulated, not measured", size=11.5, color="chestnut_text", bold=True)
    made.text(width, 38, show(result.n50, "ach") if result.n50 is not None else "?", size=38, bold=True, anchor="end")
    spread = f"± {show(result.n50_half, 'ach')} {unit_of('ach')}" if result.n50_half is not None else ""
    over = result.n50 is not None and limit is not None and result.n50 > limit
    bound = f" · limit {limit:g}" if limit is not None else ""
    made.text(0, 56, f"{spread}{bound}".lstrip(" ·"), size=12, color="chestnut_text" if over else "muted")
    rows = (
        (f"n, {half.series.name}", f"{half.fit.exponent:.3f}" + (" assumed" if half.fit.assumed else "")),
        ("coefficient", f"{half.coefficient:.1f}"),
        ("r²", f"{half.fit.r_squared:.4f}" if half.fit.r_squared == half.fit.r_squared else "–"),
        ("leak area, 4 Pa", with_unit(result.area_4, "free_area")),
    )
    y = 78.0
    for name, value in rows:
        made.text(0, y, name, size=12)
        made.text(width, y, value, size=12, bold=True, anchor="end")
        y += 19
    made.line((0, y - 8), (width, y - 8), stroke="line")
    lines = [
        replace(x, holds=None, says=f"{x.says}, so far") if going and x.name.endswith(OPEN) and x.holds is False else x for x in shown.lines
    ]
    _lines(made, lines, y + 8, width, height)
    return made


def _lines(made: Sketch, lines: Sequence[Requirement], y: float, width: float, height: float) -> None:
    order = sorted(lines, key=lambda line: (line.holds is not False, line.holds is not None))
    room = max(int((height - y + 10) // 17), 0)
    shown = room if len(order) <= room else max(room - 1, 0)
    for line in order[:shown]:
        fill = {True: "slate", False: "chestnut", None: "white"}[line.holds]
        made.path(_disc(5, y - 4, 4), fill=fill, stroke="slate" if line.holds is not False else "chestnut", width=1.2)
        text = line.name if line.holds else f"{line.name}: {line.says}"
        color = "chestnut_text" if line.holds is False else "ink"
        made.text(16, y, fitted(text, width - 18, 11.5), size=11.5, color=color)
        y += 17
    hidden = order[shown:]
    if hidden and room > 0:
        failing, open_ = (sum(line.holds is state for line in hidden) for state in (False, None))
        rows = ((failing, "fail"), (open_, "open"), (len(hidden) - failing - open_, "hold"))
        made.text(16, y, f"below: {', '.join(f'{n} {word}' for n, word in rows if n)}", size=11.5, color="muted")


def flow_now(run: Run | None, sample: Sample | None) -> float | None:
    """What the fan moves now [m³/h]; None while it is covered or stands."""
    ring = run.rings.get(run.ring or "") if run is not None else None
    return ring.flow(sample.fan_pressure) if ring is not None and sample is not None and sample.fan_pressure > 0 else None
