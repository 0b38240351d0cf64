"""What report and dossier show of an air test: results, chart, validity, circumstances, readings, and what a test of a home holds besides."""

from __future__ import annotations

from nuthatch.core.airtest.readings import Measurement
from nuthatch.core.airtest.separation import separations
from nuthatch.core.airtest.validity import lines, valid
from nuthatch.core.airtest.worked import Result, SeriesResult
from nuthatch.core.dossier.pictures import drawing
from nuthatch.core.files.disk import printable
from nuthatch.core.model import air_test as model
from nuthatch.core.model.home import Home
from nuthatch.core.units import show, with_unit
from nuthatch.core.views.air.test_chart import chart
from nuthatch.core.views.air.test_summary import off_in_words

VERDICTS = {True: "The test holds.", False: "The test does not hold.", None: "Whether the test holds cannot be known whole."}
MOST_ROWS = 500


def body(test: Measurement, result: Result, kept: dict[str, object] | None = None) -> dict[str, object]:
    """What report and dossier show of a test."""
    rows = lines(test, result)
    return {
        "test": test,
        "lines": sorted(rows, key=lambda line: (line.holds is not False, line.holds is not None)),
        "valid": valid(rows),
        "verdict": VERDICTS[valid(rows)],
        "results": _results(test, result),
        "circumstances": _circumstances(test),
        "halves": [_half(h) for h in result.halves],
        "chart": drawing(chart(result, 640, 330)),
        "kept": kept,
    }


def _results(test: Measurement, result: Result) -> list[tuple[str, str]]:
    band = result.q50_band
    spread = f", 95 %: {with_unit(band[0], 'flow')} to {with_unit(band[1], 'flow')}" if band else ""
    found = [("Flow at 50 Pa, q50", with_unit(result.q50, "flow") + spread)]
    for label, value, kind in (
        ("Air change at 50 Pa, n50", result.n50, "ach"),
        ("By the envelope, q_E50", result.q_e50, "permeability"),
        ("By the floor area, q_F50", result.q_f50, "permeability"),
    ):
        found.append((label, with_unit(value, kind) if value is not None else "the size is not given"))
    areas = f"{result.area_4 * 1e4:.0f} cm² at 4 Pa, {result.area_10 * 1e4:.0f} cm² at 10 Pa"
    return [*found, ("Effective leakage area", areas)]


def _circumstances(test: Measurement) -> list[tuple[str, str]]:
    rows = (
        ("Volume", test.volume, "volume"), ("Envelope inside", test.envelope, "area"), ("Floor area", test.floor, "area"),
        ("Height", test.height, "length"), ("Temperature inside", test.inside, "temperature"), ("Temperature outside", test.outside, "temperature"),
        ("Humidity inside", test.humidity_inside, "percent"), ("Humidity outside", test.humidity_outside, "percent"),
        ("Pressure of the air", test.barometer, "pascal"), ("Wind", test.wind, "speed"),
    )  # fmt: skip
    found = [(label, with_unit(value, kind) if value is not None else "not given") for label, value, kind in rows]
    for ring in test.rings.values():
        said = f"q = {ring.coefficient:g}·p^{ring.exponent:g} m³/h, {with_unit(ring.least, 'pascal')} to {with_unit(ring.most, 'pascal')}"
        found.append((f"Ring {ring.name}", said))
    for made in test.instruments:
        found.append((f"Calibration of the {made.name}", f"{made.calibrated or 'not given'}, holds until {made.until or 'not given'}"))
    return found


def _half(half: SeriesResult) -> dict[str, object]:
    fit = half.fit
    low, high = fit.exponent_band
    spread = f" (95 %: {low:.3f} to {high:.3f})" if low == low else " (assumed)" if fit.assumed else ""
    zeros = [
        f"{when} {with_unit(z.mean, 'pascal')} (+: {with_unit(z.positive, 'pascal')}, −: {with_unit(z.negative, 'pascal')})"
        for when, z in (("before", half.before), ("after", half.after))
        if z is not None
    ]
    rows = []
    for p in half.points[:MOST_ROWS]:
        r = p.reading
        fan = show(r.fan_pressure, "pascal") if r.fan_pressure is not None else ""
        rows.append(
            (show(r.pressure, "pascal"), fan, r.ring, show(p.pressure, "pascal"), show(p.flow, "flow"), off_in_words(half, p), r.left_out)
        )
    return {
        "way": half.series.way,
        "fit": f"n {fit.exponent:.3f}{spread}, C_L {half.coefficient:.2f} m³/(h·Paⁿ), r² {fit.r_squared:.4f}, {fit.number} points; q50 {with_unit(half.at(50.0), 'flow')}",
        "zeros": "Zero-flow pressure " + ", ".join(zeros) if zeros else "No zero-flow pressures.",
        "rows": rows,
    }


def record(part: model.AirTest | None, home: Home | None) -> dict[str, object] | None:
    """What a test kept in a home holds besides its readings: who, fan and gauge, what was prepared, leaks, zones. None without one."""
    if part is None or home is None:
        return None
    files = {e.id: printable(e.name) for e in home.evidence}
    devices = [(kind, d) for kind, d in (("Fan", part.fan), ("Gauge", part.gauge)) if d is not None]
    followed = next((t for t in home.air_tests if t.id == part.follows), None)
    people = [
        ("Client", home.brief.client),
        ("Dwelling", home.brief.plot or home.name),
        ("Measured by", part.by),
        ("Purpose", part.purpose),
    ]
    people += [("Works", part.works), ("Follows", followed.name if followed is not None else "")]
    people += [(kind, f"{d.name}, no. {d.serial or 'not given'}, calibrated {d.calibrated or 'not given'}, holds until {d.until or 'not given'}") for kind, d in devices]  # fmt: skip
    return {
        "people": [row for row in people if row[1]],
        "prepared": [(p.name, p.asked, p.done, p.note, files.get(p.photo, "")) for p in part.preparations],
        "leaks": [(x.name, x.kind, x.strength, "mended" if x.mended else "not mended", x.note, files.get(x.photo, "")) for x in part.leaks],
        "zones": [(s.zone.name, s.says) for s in separations(part)],
    }
