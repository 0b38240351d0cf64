"""Climates on offer: heads of files of three kinds, folders of thousands, search by name, country and distance; the map they are shown on."""

from __future__ import annotations

import os
import time
from pathlib import Path

import pytest
import shapely

from nuthatch.core.climate import shelf
from nuthatch.core.climate.land import countries, country_at, named
from nuthatch.core.climate.shelf import Offer
from nuthatch.core.graph.progress import heard_by
from nuthatch.core.library import library_climate
from nuthatch.core.units import INCH_POUND, using
from nuthatch.core.views.climate_map import Sheet, Window, around, climate_map
from tests.reference.test_climate import outside_file

HEAD = "LOCATION,{name},-,{country},TMY,1,{lat},{lon},0.0,{high}\nDESIGN CONDITIONS,0\n"


def epw(folder: Path, name: str, lat: float, lon: float, country: str = "-", high: float = 10) -> Path:
    path = folder / f"{name}.epw"
    path.write_text(HEAD.format(name=name, country=country, lat=lat, lon=lon, high=high))
    return path


def test_heads_of_three_kinds_are_told(tmp_path: Path) -> None:
    (tmp_path / "deep").mkdir()
    epw(tmp_path / "deep", "Überlingen", 47.77, 9.17, "DEU", 400)
    for inside in ("data/703165TY.csv", "data/723170TYA.CSV"):
        (tmp_path / Path(inside).name).write_bytes(outside_file(f"pvlib/{inside}", Path(inside).name.lower()))
    pvgis = "Latitude (decimal degrees): 45.000\nLongitude (decimal degrees): 8.000\nElevation (m): 250\nmonth,year\n"
    (tmp_path / "pv.csv").write_text(pvgis)
    (tmp_path / "costs.csv").write_text("item;price\nwall;3\n")
    (tmp_path / "blob.csv").write_bytes(b"\0\1\2" * 500)
    (tmp_path / ".hidden.epw").write_text("LOCATION,x")
    found = {o.name: o for o in shelf.of_folders((tmp_path,))}
    assert set(found) == {"Überlingen", "Sand Point", "Greensboro Piedmont Triad Int", "45.00, 8.00"}
    assert (found["Überlingen"].country, found["Überlingen"].kind, found["Überlingen"].elevation) == ("Germany", "EPW", 400)
    assert (found["Sand Point"].kind, found["Sand Point"].time_zone, found["Sand Point"].country) == (
        "TMY3",
        -9,
        "United States of America",
    )
    assert (found["45.00, 8.00"].kind, found["45.00, 8.00"].country) == ("typical year, PVGIS", "Italy")


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("LOCATION,x\n", "entries"),
        ("LOCATION,a,b,c,d,e,north,0,0,0\n", "must be numbers"),
        ("LOCATION,a,b,c,d,e,95,0,0,0\n", "out of range"),
        ("something else\n", "must start with LOCATION"),
    ],
)
def test_a_broken_head_is_a_row_with_its_reason(tmp_path: Path, text: str, said: str) -> None:
    (tmp_path / "odd.epw").write_text(text)
    (offer,) = shelf.of_folders((tmp_path,))
    assert said in offer.fault and offer.name == "odd.epw"


def test_a_file_of_four_gigabytes_costs_no_more_than_its_head(tmp_path: Path) -> None:
    path = epw(tmp_path, "huge", 50, 10)
    with open(path, "r+b") as stream:
        stream.truncate(4 * 1024**3)
    began = time.process_time()
    offer = shelf.offer_of(path)
    assert offer is not None and offer.name == "huge" and time.process_time() - began < 1


def test_a_pipe_and_a_folder_that_is_gone_stop_nothing(tmp_path: Path) -> None:
    os.mkfifo(tmp_path / "pipe.epw")
    epw(tmp_path, "real", 50, 10)
    found = shelf.of_folders((tmp_path, tmp_path / "gone"))
    assert {o.name for o in found if not o.fault} == {"real"} and len(found) == 2


def test_five_thousand_files_are_listed_with_progress(tmp_path: Path) -> None:
    for n in range(5000):
        epw(tmp_path, f"place {n}", -60 + n % 120, -180 + n * 0.07)
    told: list[object] = []
    with heard_by(told.append):
        found = shelf.of_folders((tmp_path, tmp_path))
    assert len(found) == 5000 and len(told) == 50 and told[0] == 0 and told[-1] == pytest.approx(0.98)
    assert len(shelf.search(found, "place 12", None)) == len([n for n in range(5000) if str(n).find("12") >= 0])
    sheet = climate_map(found, None, "", "", Window(0, 0, 360))
    marks = [i for i in sheet.items if getattr(i, "id", "") in {o.id for o in found}]
    assert 100 < len(marks) < 3000, "marks that lie on each other are one"


def test_a_letter_of_several_bytes_at_the_end_of_the_head_is_not_torn(tmp_path: Path) -> None:
    path = tmp_path / "é.epw"
    first = HEAD.format(name="Orléans", country="FRA", lat=47.9, lon=1.9, high=100)
    path.write_bytes((first + "é" * 20_000).encode())
    offer = shelf.offer_of(path)
    assert offer is not None and offer.name == "Orléans"


def test_search_by_words_and_distance() -> None:
    rows = (
        Offer("a", "Überlingen", "Germany", 47.77, 9.17),
        Offer("b", "Konstanz", "Germany", 47.68, 9.18),
        Offer("c", "Zürich", "Switzerland", 47.38, 8.54),
        Offer("d", "bad", "", 47.66, 9.18, fault="broken"),
    )
    here = (47.66, 9.18)
    assert [o.id for o in shelf.search(rows, "", here)] == ["b", "a", "c", "d"], "the nearest first, what cannot be read last"
    assert [o.id for o in shelf.search(rows, "uber germ", here)] == ["a"], "accents and case do not matter, every word counts"
    assert [o.id for o in shelf.search(rows, "< 20 km", here)] == ["b", "a"]
    assert [o.id for o in shelf.search(rows, "within 40 mi switz", here)] == ["c"]
    assert [o.id for o in shelf.search(rows, "< 20 km", None)] == []


def test_distances_on_the_sphere() -> None:
    """By hand on a sphere of 6371 km: a degree of latitude 111.19 km, a quarter of the way round, and halfway at the equator."""
    assert shelf.distance((50, 8), (51, 8)) == pytest.approx(111.195, abs=0.01)
    assert shelf.distance((0, 0), (90, 0)) == pytest.approx(6371 * 3.14159265 / 2, rel=1e-6)
    assert shelf.distance((0, -90), (0, 90)) == pytest.approx(6371 * 3.14159265, rel=1e-6)
    assert shelf.distance((60, 179.5), (60, -179.5)) == pytest.approx(55.6, abs=0.1), "over the date line"


def test_countries() -> None:
    """Places anybody knows; the outlines are Natural Earth's, public domain."""
    assert [country_at(*p) for p in ((54.2, -3.1), (38, 23), (-41.3, 174.8), (52.5, 13.4))] == [
        "United Kingdom",
        "Greece",
        "New Zealand",
        "Germany",
    ]
    assert country_at(0, -30) == "" and named("deu") == "Germany" and named("XYZ") == "XYZ"
    assert len(countries()) > 170 and all(shapely.is_valid(c.land) for c in countries())


# the map


def test_a_point_of_the_map_is_where_it_is_drawn() -> None:
    for window in (Window(48, 5, 40), Window(-30, 175, 20), Window(75, -100, 90)):
        sheet = Sheet(window, (600.0, 400.0))
        for place in ((window.latitude + 3, window.longitude - 7), (window.latitude, (window.longitude + 9 + 180) % 360 - 180)):
            assert sheet.place(*sheet.at(*place)) == pytest.approx(place)


def test_zooming_keeps_the_place_under_the_pointer() -> None:
    window, place = Window(48, 5, 40), (52.0, 13.0)
    before, after = Sheet(window, (600.0, 400.0)), Sheet(window.zoomed(2.0, place), (600.0, 400.0))
    assert after.at(*place)[0] == pytest.approx(before.at(*place)[0]) and after.window.span == 20
    assert Window(0, 0, 2).zoomed(1e6).span == 1.5 and Window(0, 0, 300).zoomed(1e-6).span == 360


def test_the_bar_is_as_long_as_it_says_in_both_systems() -> None:
    for system, metres in (("metric", 1000.0), (INCH_POUND, 1609.344)):
        with using(system):
            made = climate_map((), (48.0, 5.0), "", "", Window(48, 5, 10), (600.0, 400.0))
            label = next(i.text for i in made.items if getattr(i, "text", "").split(" ")[-1] in ("km", "mi"))
            line = next(i for i in reversed(made.items) if getattr(i, "stroke", "") == "ink" and len(getattr(i, "points", ())) == 2)
        (x0, _), (x1, _) = line.points
        sheet = Sheet(Window(48, 5, 10), (600.0, 400.0))
        (_, west), (_, east) = sheet.place(300 - (x1 - x0) / 2, 200), sheet.place(300 + (x1 - x0) / 2, 200)
        assert shelf.distance((48, west), (48, east)) * 1000 == pytest.approx(float(label.split(" ")[0]) * metres, rel=0.01)


def test_the_window_round_places() -> None:
    assert around(()) == Window() and around([(54.2, -3.1)]).span == 14.0
    wide = around([(54.2, -3.1), (38.0, 23.0)])
    sheet = Sheet(wide, (560.0, 380.0))
    assert all(0 < x < 560 and 0 < y < 380 for x, y in (sheet.at(54.2, -3.1), sheet.at(38.0, 23.0)))


def test_the_shipped_ones_are_offered_as_made_up() -> None:
    assert {o.key for o in shelf.shipped()} == {"marrowby-quay", "hallin-fell", "verrin-plain"}
    assert all(o.country == "made up" and o.kind == "EPW" for o in shelf.shipped()) and b"synthetic" in library_climate("hallin-fell")[:200]
