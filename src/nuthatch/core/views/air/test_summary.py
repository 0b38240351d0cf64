"""An air test in words and as data, for the command line."""

from __future__ import annotations

from nuthatch.core.airtest.readings import Measurement
from nuthatch.core.airtest.validity import Requirement, valid
from nuthatch.core.airtest.worked import FlowPoint, Result, SeriesResult
from nuthatch.core.units import kind_of, so_many, with_unit

VALID, NOT_VALID, UNKNOWN = 0, 1, 3


def code(rows: tuple[Requirement, ...]) -> int:
    """Exit code: 0 the test holds, 1 a line fails, 3 one cannot be known."""
    return {True: VALID, False: NOT_VALID, None: UNKNOWN}[valid(rows)]


def as_text(test: Measurement, result: Result, rows: tuple[Requirement, ...]) -> str:
    """Results, halves and validity, line by line, in the units shown."""
    found = ["SIMULATED        by the practice gauge: nothing was measured"] if test.simulated else []
    for half in result.halves:
        fit = half.fit
        low, high = fit.exponent_band
        spread = " (assumed)" if fit.assumed else f" ({low:.3f} to {high:.3f})" if low == low else ""
        found.append(
            f"{half.series.name:16} n {fit.exponent:.3f}{spread}, C_L {kind_of('flow').to_shown(half.coefficient):.2f}, r² {fit.r_squared:.4f}, "
            f"q50 {with_unit(half.at(50.0), 'flow')}, {_left_out(half)}"
        )
    band = f" ({with_unit(result.q50_band[0], 'flow')} to {with_unit(result.q50_band[1], 'flow')})" if result.q50_band else ""
    found.append(f"{'q50':16} {with_unit(result.q50, 'flow')}{band}")
    for name, value, kind in (("n50", result.n50, "ach"), ("q_E50", result.q_e50, "permeability"), ("q_F50", result.q_f50, "permeability")):
        found.append(f"{name:16} {with_unit(value, kind) if value is not None else 'the size is not given'}")
    found.append(f"{'leakage area':16} {with_unit(result.area_4, 'free_area')} at 4 Pa, {with_unit(result.area_10, 'free_area')} at 10 Pa")
    signs = {True: "holds", False: "FAILS", None: "?"}
    found += [f"{signs[line.holds]:16} {line.name}: {line.says}" for line in rows]
    words = {True: "the test holds", False: "the test does not hold", None: "the test cannot be judged whole"}
    return "\n".join((*found, f"method {test.method}: {words[valid(rows)]}")) + "\n"


def off_in_words(half: SeriesResult, point: FlowPoint) -> str:
    """How far a point lies off the line; '' where it has no place on it."""
    off = half.off(point)
    if off != off:
        return ""
    shown = round(100 * off, 1)
    return f"{shown:+.1f} %".replace("-", "−") if shown else "0.0 %"


def _left_out(half: SeriesResult) -> str:
    out = [p for p in half.points if not p.counts]
    return so_many(len(half.points) - len(out), "point") + (
        f", {len(out)} left out ({'; '.join(dict.fromkeys(p.reading.left_out for p in out))})" if out else ""
    )


def as_data(test: Measurement, result: Result, rows: tuple[Requirement, ...]) -> dict[str, object]:
    """The same as JSON, metric: flows m³/h, pressures Pa, areas m²."""
    return {
        "method": test.method,
        "simulated": test.simulated,
        "q50": result.q50,
        "q50_band": result.q50_band,
        "n50": result.n50,
        "q_E50": result.q_e50,
        "q_F50": result.q_f50,
        "leakage_area": {"4": result.area_4, "10": result.area_10},
        "series": [
            {
                "way": half.series.way,
                "run": half.series.run,
                "n": half.fit.exponent,
                "n_band": _known(half.fit.exponent_band),
                "C_env": half.fit.coefficient,
                "C_env_band": _known(half.fit.coefficient_band),
                "C_L": half.coefficient,
                "C_L_band": _known(half.coefficient_band),
                "r_squared": _known((half.fit.r_squared,), one=True),
                "q50": half.at(50.0),
                "points": [
                    {"pressure": p.pressure, "flow": p.flow, "left_out": p.reading.left_out or None, "place": p.reading.place}
                    for p in half.points
                ],
            }
            for half in result.halves
        ],
        "validity": [{"line": line.name, "holds": line.holds, "says": line.says} for line in rows],
        "valid": valid(rows),
    }


def _known(values: tuple[float, ...], one: bool = False) -> object:
    """None where a number is not one."""
    if any(v != v for v in values):
        return None
    return values[0] if one else list(values)
