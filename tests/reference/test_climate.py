"""Weather files and the sun against pvlib and a file nobody here wrote."""

from __future__ import annotations

import hashlib
import io
import subprocess
import sys
import zipfile
from dataclasses import replace
from pathlib import Path

import numpy as np
import pandas as pd
import pvlib
import pytest

from nuthatch.core.climate.climate import Climate, climate_from_bytes
from nuthatch.core.climate.epw import WeatherFileError, parse_epw, write_epw
from nuthatch.core.climate.generator import RECIPES, make
from nuthatch.core.climate.library import climate_named
from nuthatch.core.climate.sun import by_month
from nuthatch.core.library import DATA, library_climate
from tests.reference.second_calculation import plane, weather

CACHE = Path.home() / ".cache" / "nuthatch-tests"
OUTSIDE = "pvlib/data/NLD_Amsterdam062400_IWEC.epw"


@pytest.mark.parametrize(("tilt", "azimuth"), [(0, 0), (90, 180), (90, 90), (90, 0), (45, 225), (30, 350)])
def test_planes_against_pvlib_called_directly(marrowby, tilt: float, azimuth: float) -> None:
    """pvlib.irradiance.get_total_irradiance with the Perez sky, mid-hour sun, reflectance 0.2."""
    w = weather(DATA / "climates" / "marrowby-quay.epw")
    theirs = by_month(np.array(plane(w, tilt, azimuth, 0.2))) / 1000
    assert marrowby.plane(tilt, azimuth).months() == pytest.approx(theirs, rel=1e-6)


def test_our_reader_against_pvlibs(marrowby) -> None:
    """pvlib.iotools.read_epw reads the same hours from the same file."""
    data, meta = pvlib.iotools.read_epw(DATA / "climates" / "marrowby-quay.epw")
    assert marrowby.weather.temperature == pytest.approx(data["temp_air"].to_numpy())
    assert marrowby.weather.direct_normal == pytest.approx(data["dni"].to_numpy())
    assert (marrowby.weather.latitude, marrowby.weather.elevation) == (meta["latitude"], meta["altitude"])


def outside_file(inside: str = OUTSIDE, name: str = "amsterdam.epw") -> bytes:
    """A weather file out of the wheel pvlib 0.10.5, kept in a cache; skipped with its reason where it cannot be had."""
    kept = CACHE / name
    if not kept.exists():
        CACHE.mkdir(parents=True, exist_ok=True)
        call = [sys.executable, "-m", "pip", "download", "-q", "--no-deps", "--only-binary", ":all:", "-d", str(CACHE), "pvlib==0.10.5"]
        done = subprocess.run(call, capture_output=True, text=True, timeout=400)
        wheels = list(CACHE.glob("pvlib-0.10.5*.whl"))
        if done.returncode or not wheels:
            reason = f"pvlib 0.10.5 could not be fetched: {done.stderr.strip().splitlines()[-1:] or 'no wheel'}"
            print(reason)
            pytest.skip(reason)
        kept.write_bytes(zipfile.ZipFile(io.BytesIO(wheels[0].read_bytes())).read(inside))
    return kept.read_bytes()


def test_a_weather_file_nobody_here_wrote() -> None:
    """Amsterdam IWEC: annual mean 10.03 °C, 982 kWh/(m²·a) on the horizontal."""
    climate = climate_from_bytes(outside_file())
    assert climate.annual_mean == pytest.approx(10.03, abs=0.005)
    assert climate.weather.global_horizontal.sum() / 1000 == pytest.approx(982, abs=1)
    assert climate.plane(0, 0).months().sum() == pytest.approx(982, rel=0.03), "beam and diffuse make up the horizontal"
    assert climate.weather.latitude == pytest.approx(52.3)
    south, north = climate.plane(90, 180).months().sum(), climate.plane(90, 0).months().sum()
    assert 650 < south < 900 and 250 < north < 420, "common practice for 52° N, no source"


@pytest.mark.parametrize(("inside", "place"), [("703165TY.csv", "Sand Point"), ("723170TYA.CSV", "Greensboro Piedmont Triad Int")])
def test_tmy3_files_are_read_as_pvlib_reads_them(inside: str, place: str) -> None:
    """TMY3 files that pvlib 0.10.5 carries: hour by hour as pvlib.iotools.read_tmy3 gives them, the first hour the one after midnight."""
    data = outside_file(f"pvlib/data/{inside}", inside.lower())
    table, meta = pvlib.iotools.read_tmy3(io.StringIO(data.decode()), map_variables=True)
    c = climate_from_bytes(data)
    w = c.weather
    assert (
        c.name == place
        and c.annual_mean == pytest.approx(table["temp_air"].mean())
        and (w.latitude, w.time_zone) == (meta["latitude"], meta["TZ"])
    )
    for ours, theirs in ((w.temperature, "temp_air"), (w.global_horizontal, "ghi"), (w.direct_normal, "dni"), (w.wind, "wind_speed")):
        assert ours == pytest.approx(table[theirs].to_numpy(float))
    assert w.pressure is not None and 80_000 < w.pressure.mean() < 105_000 and w.wind_from is not None and w.rain is not None
    lit = w.direct_normal > 100
    assert (c.path()[0][lit] > -1.0).mean() > 0.99, "no beam by night but in the hour of sunrise: the hours are those of the place"


def test_a_typical_year_of_pvgis_is_read_in_standard_time() -> None:
    """45° N, 8° E, from pvlib 0.10.5: universal time in the file, one hour later at the place; values of the full hour, the sun taken there."""
    data = outside_file("pvlib/data/tmy_45.000_8.000_2005_2016.csv", "pvgis.csv")
    table = pvlib.iotools.read_pvgis_tmy(io.BytesIO(data), pvgis_format="csv", map_variables=True)[0]
    c = climate_from_bytes(data)
    w = c.weather
    assert (w.latitude, w.longitude, w.elevation, w.time_zone) == (45.0, 8.0, 250.0, 1.5)
    assert w.temperature[1:] == pytest.approx(table["temp_air"].to_numpy(float)[:-1]) and w.temperature[0] == table["temp_air"].iloc[-1]
    assert (
        c.annual_mean == pytest.approx(table["temp_air"].mean()) and w.dew_point is not None and (w.dew_point <= w.temperature + 0.01).all()
    )
    lit = w.direct_normal > 50
    assert (c.path()[0][lit] > -1.0).mean() > 0.999
    flat = c.plane(0, 0).months().sum()
    assert flat == pytest.approx(table["ghi"].sum() / 1000, rel=0.03), "beam and diffuse make up the horizontal"


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"hello,world\n1,2\n", "no weather file that is read: EPW"),
        (b'703165,"SAND POINT",AK,-9.0,55.317,-160.517,7\nDate (MM/DD/YYYY),Time (HH:MM)\n01/01/1997,01:00\n', "the file has 1 hours"),
        (b'703165,"SAND POINT",AK,x,55.317,-160.517,7\nDate (MM/DD/YYYY),Time (HH:MM)\nno date,01:00\n', "looks like a TMY3 file"),
        (b"Latitude (decimal degrees): 45.0\nLongitude (decimal degrees): x\n", "looks like a typical year of PVGIS"),
    ],
)
def test_a_broken_file_of_another_kind_is_said_in_words(data: bytes, said: str) -> None:
    with pytest.raises(WeatherFileError, match=said):
        climate_from_bytes(data)


def test_same_seed_same_bytes() -> None:
    for key, recipe in RECIPES.items():
        made = write_epw(make(recipe))
        assert hashlib.sha256(made).hexdigest() == hashlib.sha256(library_climate(key)).hexdigest()


def test_degree_days_and_design_by_hand(marrowby) -> None:
    """Daily means by plain loops; ASHRAE 169 bases 18.3 and 10 °C."""
    t = marrowby.weather.temperature
    days = [sum(t[d * 24 : d * 24 + 24]) / 24 for d in range(365)]
    assert marrowby.degree_days(18.3) == pytest.approx(sum(max(18.3 - d, 0) for d in days))
    assert marrowby.degree_days(10, cooling=True) == pytest.approx(sum(max(d - 10, 0) for d in days))
    assert marrowby.degree_days_12_20 == pytest.approx(sum(20 - d for d in days if d < 12))
    assert marrowby.winter_design == pytest.approx(min((a + b) / 2 for a, b in zip(days, (*days[1:], days[0]), strict=True)))
    assert marrowby.summer_design == pytest.approx(max(sum((*days, *days)[i : i + 3]) / 3 for i in range(365)))
    assert marrowby.two_days[364] == pytest.approx((days[364] + days[0]) / 2), "31 December next to 1 January"


@pytest.mark.parametrize(("key", "zone"), [("marrowby-quay", "5A"), ("hallin-fell", "6A"), ("verrin-plain", "3B")])
def test_zone_letters(key: str, zone: str) -> None:
    """Thermal criteria of ASHRAE 169 in K·d (from memory): 3000 < H ≤ 4000 is 5, 4000 < H ≤ 5000 is 6, H ≤ 2000 is 3."""
    climate = climate_from_bytes(library_climate(key))
    low, high = {"5A": (3000, 4000), "6A": (4000, 5000), "3B": (0, 2000)}[zone]
    assert low < climate.degree_days(18.3) <= high and climate.zone() == zone


NORMALS = {"marrowby-quay": (9.4, -6, 4.3), "hallin-fell": (4.6, -11, -1.0), "verrin-plain": (18.3, -1, 9.0)}


@pytest.mark.parametrize("key", NORMALS)
def test_made_up_climates_meet_their_stated_normals(key: str) -> None:
    """The normals of docs/methods/climate.md, typed here again: yearly mean, about the coldest hour, coldest month; sun and rain."""
    climate, recipe = climate_from_bytes(library_climate(key)), RECIPES[key]
    mean, lowest, coldest = NORMALS[key]
    w = climate.weather
    assert climate.annual_mean == pytest.approx(mean, abs=0.05) and climate.temperature.min() == pytest.approx(coldest, abs=0.05)
    assert w.temperature.min() == pytest.approx(lowest, abs=1.0)
    assert climate.temperature == pytest.approx(np.array(recipe.temperature), abs=0.02)
    assert by_month(w.global_horizontal) / 1000 == pytest.approx(np.array(recipe.sun), abs=0.3)
    assert w.rain is not None and by_month(w.rain) == pytest.approx(np.array(recipe.rain), abs=0.05)
    assert by_month(w.global_horizontal)[5] > by_month(w.global_horizontal)[7], "June is sunnier than August in the north"
    hottest = {"marrowby-quay": (26, 29), "hallin-fell": (18, 24), "verrin-plain": (36, 41)}[key]
    assert hottest[0] <= w.temperature.max() <= hottest[1]


@pytest.mark.parametrize("key", NORMALS)
def test_made_up_sun_is_never_stronger_than_a_clear_sky(key: str) -> None:
    """pvlib.clearsky.simplified_solis, called here with pvlib's own sun; days with more sun have a larger range."""
    w = climate_from_bytes(library_climate(key)).weather
    index = pd.date_range(pd.Timestamp("2001-01-01 00:30") - pd.Timedelta(hours=w.time_zone), periods=8760, freq="h", tz="UTC")
    sun = pvlib.solarposition.get_solarposition(index, w.latitude, w.longitude, altitude=w.elevation)
    pressure = pvlib.atmosphere.alt2pres(w.elevation)
    clear = pvlib.clearsky.simplified_solis(sun["apparent_elevation"], aod700=0.1, precipitable_water=1.5, pressure=pressure)
    assert (w.direct_normal <= clear["dni"].fillna(0).to_numpy() + 1e-6).all()
    height = np.cos(np.radians(sun["apparent_zenith"].to_numpy()))
    assert np.abs(w.diffuse_horizontal + w.direct_normal * height - w.global_horizontal)[height > 0.05].max() < 1.0, "sums add up"
    days, summer = w.temperature.reshape(365, 24), slice(150, 240)
    sums = w.global_horizontal.reshape(365, 24).sum(axis=1)
    assert np.corrcoef(sums[summer], np.ptp(days, axis=1)[summer])[0, 1] > 0.5
    assert w.dew_point is not None and (w.dew_point <= w.temperature).all() and w.pressure is not None


def rained(months: list[float], mean: float, latitude: float) -> Climate:
    """Marrowby with other rain and temperature."""
    w = climate_from_bytes(library_climate("marrowby-quay")).weather
    rain = np.zeros(8760)
    at = np.cumsum([0, *(d * 24 for d in (31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30))])
    rain[at] = months
    moved = w.temperature - w.temperature.mean() + mean
    return Climate(replace(w, rain=rain, temperature=moved, latitude=latitude), "x")


@pytest.mark.parametrize(
    ("summer", "mean", "latitude", "letter"),
    [
        (0.8, 24, 50, "B"),  # 700 mm < 20·(24 + 14)
        (0.8, 20, 50, "A"),  # 700 mm > 20·(20 + 14)
        (0.5, 29, 50, "B"),  # 700 mm < 20·(29 + 7)
        (0.5, 24, 50, "A"),  # 700 mm > 20·(24 + 7)
        (0.2, 36, 50, "B"),  # 700 mm < 20·36
        (0.2, 24, 50, "A"),  # 700 mm > 20·24
        (0.2, 24, -50, "B"),  # in the south the warm half is October to March
    ],
)
def test_a_dry_climate_by_when_its_rain_falls(summer: float, mean: float, latitude: float, letter: str) -> None:
    """ASHRAE 169, dry: 20·(T + 14) where 70 % of the rain falls from April to September, 20·T where 30 %, else 20·(T + 7); from memory."""
    warm = [700 * summer / 6] * 6
    cold = [700 * (1 - summer) / 6] * 6
    assert rained([*cold[:3], *warm, *cold[3:]], mean, latitude).moisture == letter


@pytest.mark.parametrize(
    ("winter", "summer", "latitude", "letter"),
    [
        ((90, 80, 25, 60, 60, 60), (40, 50, 50, 50, 50, 50), 50, "A"),  # the driest month of all lies in the wet half: 90 < 3 × 40
        ((90, 80, 25, 60, 60, 60), (29, 50, 50, 50, 50, 50), 50, "C"),
        ((90, 80, 60, 60, 60, 60), (30, 50, 50, 50, 50, 50), 50, "C"),  # at the limit
        ((90, 80, 60, 60, 60, 60), (31, 50, 50, 50, 50, 50), 50, "A"),
        ((29, 50, 50, 50, 50, 50), (90, 80, 60, 60, 60, 60), -50, "C"),  # in the south the cold half is April to September
    ],
)
def test_a_marine_climate_by_the_driest_month_of_the_other_half(winter: tuple, summer: tuple, latitude: float, letter: str) -> None:
    """ASHRAE 169, marine: the wettest month of the cold half at least three times the driest of the other half; from memory."""
    assert rained([*winter[:3], *summer, *winter[3:]], 10.0, latitude).moisture == letter


def test_a_site_higher_than_its_station(marrowby: Climate) -> None:
    """6.5 K a km; density by the pressure of the standard atmosphere: 0.8870 at 1000 m (ISO 2533, from memory)."""
    up = marrowby.at(1000)
    assert up.temperature == pytest.approx(marrowby.temperature - 6.5 * 0.992) and up.station is marrowby
    assert up.air_density_ratio == pytest.approx(0.8870, abs=2e-4)
    assert up.plane(90, 180).months() == pytest.approx(marrowby.plane(90, 180).months()) and marrowby.at(8.0) is marrowby


def lines() -> list[str]:
    return library_climate("marrowby-quay").decode().splitlines()


def with_cell(row: int, column: int, text: str) -> bytes:
    rows = lines()
    cells = rows[row - 1].split(",")
    cells[column - 1] = text
    rows[row - 1] = ",".join(cells)
    return "\n".join(rows).encode()


def faulty() -> dict[str, tuple[bytes, str]]:
    rows = lines()
    gap = list(rows)
    for i in range(100, 108):
        cells = gap[i].split(",")
        cells[6] = "99.9"
        gap[i] = ",".join(cells)
    return {
        "an hour missing": ("\n".join(rows[:500] + rows[501:]).encode(), "row 501"),
        "cut short": ("\n".join(rows[:4000]).encode(), "8760"),
        "no header": ("\n".join(rows[8:]).encode(), "row 1"),
        "text in a number": (with_cell(200, 7, "warm"), "row 200"),
        "impossible value": (with_cell(300, 7, "-120"), "row 300"),
        "too few columns": ("\n".join([*rows[:8], "1,2,3"]).encode(), "row 9"),
        "long gap": ("\n".join(gap).encode(), "row 101"),
        "wrong place": (with_cell(1, 7, "154"), "latitude"),
        "binary": (bytes(range(256)) * 50, "binary"),
        "empty": (b"", "rows"),
    }


@pytest.mark.parametrize("case", list(faulty()))
def test_faulty_weather_files_name_row_and_reason(case: str) -> None:
    data, expected = faulty()[case]
    with pytest.raises(WeatherFileError, match=expected):
        parse_epw(data)


def test_short_gaps_are_filled_and_reported() -> None:
    rows = lines()
    for i in range(100, 104):
        cells = rows[i].split(",")
        cells[6] = "99.9"
        rows[i] = ",".join(cells)
    found = parse_epw("\n".join(rows).encode())
    a, b = found.temperature[91], found.temperature[96]
    assert found.temperature[92:96] == pytest.approx([a + (b - a) * k / 5 for k in range(1, 5)])
    assert "4 missing hours" in found.notes[0]


def test_leap_day_is_left_out() -> None:
    rows = lines()
    at = 8 + 59 * 24
    leap = [r.replace("2001,2,28", "2004,2,29", 1) for r in rows[at - 24 : at]]
    assert len(parse_epw("\n".join(rows[:at] + leap + rows[at:]).encode()).temperature) == 8760


def test_the_weather_file_of_many_homes_is_read_once() -> None:
    data = library_climate("marrowby-quay")
    sha = hashlib.sha256(data).hexdigest()
    first = climate_named(sha, data)
    assert climate_named(sha, bytes(bytearray(data))) is first
    with pytest.raises(WeatherFileError, match="not what the home was computed with"):
        climate_named(sha, data + b"\n")
    assert climate_named(hashlib.sha256(data + b"\n").hexdigest(), data + b"\n") is not first
