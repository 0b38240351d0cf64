"""What report and dossier show of an air test: results, chart, validity, circumstances, readings, and what a test of a home holds besides."""

from __future__ import annotations

from nuthatch.core.airtest.readings import Measurement, Reading
from nuthatch.core.airtest.separation import separations
from nuthatch.core.airtest.validity import lines, valid
from nuthatch.core.airtest.worked import FlowPoint, Result, SeriesResult
from nuthatch.core.dossier.pictures import drawing
from nuthatch.core.dossier.proof import as_picture, is_photo
from nuthatch.core.dossier.setting import AttachedBytes
from nuthatch.core.files.disk import printable
from nuthatch.core.model import air_test as model
from nuthatch.core.model.home import Home
from nuthatch.core.units import kind_of, show, unit_of, with_unit
from nuthatch.core.views.air.test_chart import chart
from nuthatch.core.views.air.test_summary import off_in_words

VERDICTS = {True: "The test holds.", False: "The test does not hold.", None: "Whether the test holds cannot be known whole."}
MOST_ROWS, MOST_ZEROS = 500, 40
SIMULATED = "Simulated by the practice gauge: for practice. Nothing was measured."


def body(test: Measurement, result: Result, kept: dict[str, object] | None = None) -> dict[str, object]:
    """What report and dossier show of a test."""
    rows = lines(test, result)
    return {
        "test": test,
        "lines": sorted(rows, key=lambda line: (line.holds is not False, line.holds is not None)),
        "valid": valid(rows),
        "verdict": SIMULATED if test.simulated else VERDICTS[valid(rows)],
        "results": _results(test, result),
        "circumstances": _circumstances(test),
        "halves": [_half(h) for h in result.halves],
        "chart": drawing(chart(result, 640, 330)),
        "simulated": test.simulated,
        "signature": kept is not None,
        "kept": kept,
    }


def _results(test: Measurement, result: Result) -> list[tuple[str, str]]:
    band = result.q50_band
    half = (band[1] - band[0]) / 2 if band else None
    found = [("Flow at 50 Pa, q50", _with_half(result.q50, half, "flow"))]
    for label, value, size, kind in (
        ("Air change at 50 Pa, n50", result.n50, test.volume, "ach"),
        ("By the envelope, q_E50", result.q_e50, test.envelope, "permeability"),
        ("By the floor area, q_F50", result.q_f50, test.floor, "permeability"),
    ):
        spread = half / size if half is not None and size else None
        found.append((label, _with_half(value, spread, kind) if value is not None else "the size is not given"))
    areas = f"{with_unit(result.area_4, 'free_area')} at 4 Pa, {with_unit(result.area_10, 'free_area')} at 10 Pa"
    return [*found, ("Effective leakage area", areas)]


def _with_half(value: float, half: float | None, kind: str) -> str:
    """A result with half the width of its 95 % confidence, in digits that show it."""
    spec = kind_of(kind)
    places = max(spec.decimals, 2 if kind in ("ach", "permeability") else spec.decimals)
    spread = f" ± {show(half, kind, places)}, 95 %" if half is not None else ""
    return f"{with_unit(value, kind, places)}{spread}"


def _circumstances(test: Measurement) -> list[tuple[str, str]]:
    rows = (
        ("Volume", test.volume, "volume"), ("Envelope inside", test.envelope, "area"), ("Floor area", test.floor, "area"),
        ("Height", test.height, "length"), ("Temperature inside", test.inside, "temperature"), ("Temperature outside", test.outside, "temperature"),
        ("Humidity inside", test.humidity_inside, "percent"), ("Humidity outside", test.humidity_outside, "percent"),
        ("Pressure of the air", test.barometer, "pressure"), ("Wind", test.wind, "speed"),
    )  # fmt: skip
    found = [(label, with_unit(value, kind) if value is not None else "not given") for label, value, kind in rows]
    for ring in test.rings.values():
        size = kind_of("flow").to_shown(ring.coefficient)
        said = (
            f"q = {size:.4g}·p^{ring.exponent:g} {unit_of('flow')}, {with_unit(ring.least, 'pascal')} to {with_unit(ring.most, 'pascal')}"
        )
        found.append((f"Ring {ring.name}", said))
    for made in () if test.simulated else test.instruments:
        found.append((f"Calibration of the {made.name}", f"{made.calibrated or 'not given'}, holds until {made.until or 'not given'}"))
    return found


def coefficient(value: float, band: tuple[float, float] | None = None) -> str:
    """C in the units in use, such as “24.6 m³/(h·Paⁿ)”, with its interval."""
    shown = kind_of("flow").to_shown
    unit = "m³/(h·Paⁿ)" if unit_of("flow") == "m³/h" else f"{unit_of('flow')}/Paⁿ"
    known = band is not None and band[0] == band[0]
    return f"{shown(value):.2f} {unit}" + (f" ({shown(band[0]):.2f} to {shown(band[1]):.2f})" if band is not None and known else "")


def _half(half: SeriesResult) -> dict[str, object]:
    fit = half.fit
    low, high = fit.exponent_band
    spread = f" ({low:.3f} to {high:.3f})" if low == low else " (assumed)" if fit.assumed else ""
    zeros = []
    for when, z, rows in (("before", half.before, half.series.before), ("after", half.after, half.series.after)):
        if z is not None:
            means = f"mean {with_unit(z.mean, 'pascal')}, of the positive {with_unit(z.positive, 'pascal')}, of the negative {with_unit(z.negative, 'pascal')}"
            read = " ".join(show(r.pressure, "pascal") + ("*" if r.left_out else "") for r in rows[:MOST_ZEROS])
            zeros.append(f"{when} {means} (read {read} {unit_of('pascal')}{_times(rows)})")
    return {
        "way": half.series.name,
        "fit": [
            ("Exponent n, 95 %", f"{fit.exponent:.3f}{spread}"),
            ("Coefficient of the envelope C_env, 95 %", coefficient(fit.coefficient, fit.coefficient_band)),
            ("Leakage coefficient C_L at standard conditions, 95 %", coefficient(half.coefficient, half.coefficient_band)),
            ("r²", f"{fit.r_squared:.4f}, {fit.number} points" if fit.r_squared == fit.r_squared else f"{fit.number} points"),
            ("Flow at 50 Pa", with_unit(half.at(50.0), "flow")),
        ],
        "corrected": f"Corrected: pressures by {with_unit(-half.zero, 'pascal')} for the zero-flow pressure; flows × {half.fan_factor:.4f} for the air in the fan, "
        f"× {half.leak_factor:.4f} for the same mass at the density of the air in the leaks.",
        "zeros": "Zero-flow pressure " + "; ".join(zeros) if zeros else "No zero-flow pressures.",
        "rows": [_row(half, p) for p in half.points[:MOST_ROWS]],
    }


def _times(rows: tuple[Reading, ...]) -> str:
    times = {r.seconds for r in rows}
    if None in times or not times:
        return ", averaging times not given"
    known = sorted(t for t in times if t is not None)
    return f", {known[0]:.0f} s each" if len(known) == 1 else f", {known[0]:.0f} to {known[-1]:.0f} s"


def _row(half: SeriesResult, p: FlowPoint) -> tuple[str, ...]:
    """A reading as taken, and as it counts."""
    r = p.reading
    fan = show(r.fan_pressure, "pascal") if r.fan_pressure is not None else ""
    taken = p.flow / half.fan_factor / half.leak_factor
    seconds = f"{r.seconds:.0f}" if r.seconds is not None else ""
    return (show(r.pressure, "pascal"), fan, r.ring, show(taken, "flow"), seconds, show(p.pressure, "pascal"), show(p.flow, "flow"), off_in_words(half, p), r.left_out)  # fmt: skip


def record(part: model.AirTest | None, home: Home | None, pictures: AttachedBytes | None = None) -> dict[str, object] | None:
    """What a test kept in a home holds besides its readings: the building, who, fan and gauge, what was prepared, leaks, zones. None
    without one."""
    if part is None or home is None:
        return None
    simulated = any(r.simulated and not r.left_out for r in part.readings) or any(r.simulated and not r.left_out for r in part.log)

    def photo(ident: str) -> dict[str, object]:
        file = next((e for e in home.evidence if e.id == ident), None)
        data = pictures(file.sha256) if file is not None and pictures is not None else None
        return {
            "name": printable(file.name) if file is not None else "",
            "photo": file is not None and is_photo(file),
            "src": as_picture(data),
        }

    return {
        "people": [row for row in (*_building(part, home), *_devices(part, simulated)) if row[1]],
        "prepared": [(p.name, p.asked, p.done, p.note, photo(p.photo)) for p in part.preparations],
        "leaks": [(x.name, x.kind, x.strength, "mended" if x.mended else "not mended", x.note, photo(x.photo)) for x in part.leaks],
        "zones": [(s.zone.name, s.says) for s in separations(part)],
    }


def _building(part: model.AirTest, home: Home) -> list[tuple[str, str]]:
    """The building and the test, ISO 9972:2015, 7 a) to d)."""
    followed = next((t for t in home.air_tests if t.id == part.follows), None)
    heated = ", ".join(s.name for s in home.sources)
    aired = ", ".join(f"{u.name}, {u.moves}" for u in home.air.units) or home.air.without
    return [
        ("Client", home.brief.client),
        ("Dwelling", home.brief.plot or home.name),
        ("Built", home.brief.built or "not given"),
        ("Parts tested", part.parts or "the whole dwelling"),
        ("Heating", heated or "not given"),
        ("Ventilation", aired),
        ("Measured by", part.by),
        ("Purpose", part.purpose),
        ("Works", part.works),
        ("Follows", followed.name if followed is not None else ""),
        ("Temperatures", _temperatures(part)),
        ("Volume and areas", part.sizes_by or _sizes(part)),
        ("Deviations from ISO 9972", part.deviations or "none stated"),
    ]


def _temperatures(part: model.AirTest) -> str:
    rows = []
    for name, start, end in (("inside", part.inside, part.inside_end), ("outside", part.outside, part.outside_end)):
        if start is not None:
            until = with_unit(end.value, "temperature") if end is not None else "not taken"
            rows.append(f"{name} {with_unit(start.value, 'temperature')} at the start, {until} at the end")
    return "; ".join(rows)


def _sizes(part: model.AirTest) -> str:
    """Where volume, envelope and floor of a test come from."""
    said = []
    for name, given in (("volume", part.volume), ("envelope", part.envelope), ("floor", part.floor)):
        where = (
            f"as {given.basis.value}{f', {given.source}' if given.source else ''}"
            if given is not None
            else "from the home, between its inner faces"
        )
        said.append(f"{name} {where}")
    return "; ".join(said)


def _devices(part: model.AirTest, simulated: bool) -> list[tuple[str, str]]:
    """Fan and gauge by their calibration. Beside simulated readings no serial number is named: nothing was measured with them."""
    if simulated:
        return [("Fan and gauge", "simulated by the practice gauge: nothing was measured")]
    devices = [(kind, d) for kind, d in (("Fan", part.fan), ("Gauge", part.gauge)) if d is not None]
    return [(kind, f"{d.name}, no. {d.serial or 'not given'}, calibrated {d.calibrated or 'not given'}, holds until {d.until or 'not given'}") for kind, d in devices]  # fmt: skip
