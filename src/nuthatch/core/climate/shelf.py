"""Climates on offer: the shipped ones and every weather file in folders, told by the head of each file, found by name, country, distance."""

from __future__ import annotations

import os
import re
import unicodedata
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from math import asin, cos, radians, sin, sqrt
from pathlib import Path

from nuthatch.core.climate.epw import WeatherFileError, located, said_zone, text_of
from nuthatch.core.climate.land import country_at, named
from nuthatch.core.climate.weather_files import PVGIS, TMY3, pvgis_place
from nuthatch.core.graph.progress import tell
from nuthatch.core.library import CLIMATES, library_climate

HEAD = 12_000
"""Bytes of a file that are looked at."""
SUFFIXES = (".epw", ".csv")
MOST = 50_000
"""Files of all folders that are looked at."""
EARTH = 6371.0
SHIPPED = "shipped:"


@dataclass(frozen=True)
class Offer:
    """A climate that can be chosen. id: “shipped:” and its key, or the path of its file; zone: the climate zone its header names; fault:
    why it cannot be used."""

    id: str
    name: str
    country: str = ""
    latitude: float = 0.0
    longitude: float = 0.0
    elevation: float = 0.0
    time_zone: float = 0.0
    kind: str = ""
    zone: str = ""
    fault: str = ""

    @property
    def key(self) -> str:
        """The key of a shipped climate, '' for a file."""
        return self.id.removeprefix(SHIPPED) if self.id.startswith(SHIPPED) else ""


def shipped() -> tuple[Offer, ...]:
    """Those that ship."""
    made = (_of_text(f"{SHIPPED}{key}", library_climate(key)[:HEAD].decode()) for key in CLIMATES)
    return tuple(o for o in made if o is not None)


def weather_files(folders: Iterable[Path]) -> Iterator[Path]:
    """Files that may be weather files, below folders, hidden ones left out, at most MOST."""
    left = MOST
    for folder in folders:
        for at, below, names in os.walk(folder):
            below[:] = sorted(n for n in below if not n.startswith("."))
            for name in sorted(names):
                if name.lower().endswith(SUFFIXES) and not name.startswith("."):
                    left -= 1
                    if left < 0:
                        return
                    yield Path(at) / name


def of_folders(folders: tuple[Path, ...]) -> tuple[Offer, ...]:
    """What the folders hold, each file once; how far it is, is told. Tables that are no weather are left out."""
    paths = tuple(dict.fromkeys(weather_files(folders)))
    found = []
    for n, path in enumerate(paths):
        if n % 100 == 0:
            tell(n / len(paths))
        offer = offer_of(path)
        if offer is not None:
            found.append(offer)
    return tuple(found)


def offer_of(path: Path) -> Offer | None:
    """A file by its head; None where it is no weather file at all. However large it is, no more than its head is read."""
    try:
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
        with open(handle, "rb") as stream:
            head = stream.read(HEAD)
    except OSError as error:
        return Offer(str(path), path.name, fault=f"cannot be read ({error.strerror})")
    if len(head) == HEAD:
        head = head[: head.rfind(b"\n") + 1]  # a letter of several bytes is not cut in two
    try:
        return _of_text(str(path), text_of(head))
    except WeatherFileError as problem:
        binary = b"\0" in head and path.suffix.lower() == ".csv"
        return None if binary else Offer(str(path), path.name, fault=str(problem))


def _of_text(ident: str, text: str) -> Offer | None:
    """An offer by the text of a head; None for a table of something else. Raises WeatherFileError."""
    lines = text.splitlines()
    first = lines[0].lstrip("\ufeff") if lines else ""
    if first.startswith(PVGIS):
        latitude, longitude, elevation = pvgis_place(text)
        name = f"{latitude:.2f}, {longitude:.2f}"
        return _offer(ident, name, latitude, longitude, elevation, float(round(longitude / 15)), "typical year, PVGIS")
    if len(lines) > 1 and lines[1].startswith(TMY3):
        parts = [p.strip(' "') for p in first.split(",")]
        try:
            zone, latitude, longitude, elevation = map(float, parts[3:7])
        except ValueError:
            raise WeatherFileError("row 1: time zone, latitude, longitude and elevation (entries 4 to 7) must be numbers") from None
        return _offer(ident, parts[1].title(), latitude, longitude, elevation, zone, "TMY3")
    if not first.upper().startswith("LOCATION"):
        if ident.lower().endswith(".epw"):
            raise WeatherFileError("row 1: the first header line must start with LOCATION; this is no EPW weather file")
        return None
    name, latitude, longitude, zone, elevation = located(lines[0])
    parts = [p.strip() for p in first.split(",")]
    made_up = parts[4] == "synthetic"
    country = "made up" if made_up else named(parts[3]) if parts[3] not in ("", "-") else country_at(latitude, longitude)
    return Offer(ident, name, country, latitude, longitude, elevation, zone, "EPW", said_zone("\n".join(lines[:8])))


def _offer(ident: str, name: str, latitude: float, longitude: float, elevation: float, zone: float, kind: str) -> Offer:
    """An offer whose header names no country. Raises WeatherFileError where it is not on this earth."""
    if not (-90 <= latitude <= 90 and -180 <= longitude <= 180 and -14 <= zone <= 14 and -500 <= elevation <= 9000):
        raise WeatherFileError("latitude ±90, longitude ±180, time zone ±14 h or elevation −500 to 9000 m is out of range")
    return Offer(ident, name, country_at(latitude, longitude), latitude, longitude, elevation, zone, kind)


def distance(a: tuple[float, float], b: tuple[float, float]) -> float:
    """Along the earth between two places by latitude and longitude [°] → km, on a sphere."""
    (p, x), (q, y) = ((radians(v[0]), radians(v[1])) for v in (a, b))
    h = sin((q - p) / 2) ** 2 + cos(p) * cos(q) * sin((y - x) / 2) ** 2
    return 2 * EARTH * asin(min(sqrt(h), 1.0))


def plain(text: str) -> str:
    """A text as it is searched: small letters without accents."""
    return "".join(c for c in unicodedata.normalize("NFKD", text.casefold()) if not unicodedata.combining(c))


_WITHIN = re.compile(r"(?:<|within)\s*([\d.]+)\s*(km|mi)\b")


def search(offers: Iterable[Offer], words: str, place: tuple[float, float] | None) -> tuple[Offer, ...]:
    """Those whose name, country or kind has every word, the nearest first where a place is known, else by name. “< 100 km” or “within 60 mi”
    among the words keeps those so near."""
    asked = plain(words)
    within = _WITHIN.search(asked)
    most = float(within.group(1)) * (1.609344 if within.group(2) == "mi" else 1.0) if within is not None else None
    wanted = _WITHIN.sub(" ", asked).split()

    def fits(o: Offer) -> bool:
        text = plain(f"{o.name} {o.country} {o.kind} {Path(o.id).name}")
        near = most is None or (place is not None and not o.fault and distance(place, (o.latitude, o.longitude)) <= most)
        return near and all(w in text for w in wanted)

    def order(o: Offer) -> tuple[bool, float, str]:
        return bool(o.fault), distance(place, (o.latitude, o.longitude)) if place is not None else 0.0, plain(o.name)

    return tuple(sorted(filter(fits, offers), key=order))
