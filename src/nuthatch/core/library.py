"""What ships with Nuthatch: materials, target sets, climates, ψ catalogue, the empty home, the demo homes."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass
from functools import lru_cache
from importlib import resources
from pathlib import Path
from typing import Any

from pydantic import TypeAdapter

from nuthatch.core.changes.changes import Batch, Change, apply
from nuthatch.core.files.homefile import HomeFile, home_from_json, write
from nuthatch.core.graph.memo import Kept
from nuthatch.core.model.air_test import Fan, PressureGauge
from nuthatch.core.model.home import ClimateRef, Home
from nuthatch.core.model.part import replace
from nuthatch.core.model.target_set import TargetSet

DATA = Path(str(resources.files("nuthatch"))) / "data"
DEMO = ("osier-lane-7", "weir-cottage", "sail-loft")
CLIMATES = ("marrowby-quay", "hallin-fell", "verrin-plain")


@lru_cache(maxsize=1)
def materials() -> tuple[dict[str, Any], ...]:
    """Materials: name, conductivity, density, specific_heat, mu, source."""
    return tuple(json.loads((DATA / "materials.json").read_text(encoding="utf-8")))


@lru_cache(maxsize=1)
def psi_catalogue() -> dict[str, dict[str, float]]:
    """ψ by junction family and tier where nothing is known of what meets, for external dimensions [W/(m·K)]."""
    typed: dict[str, dict[str, float]] = json.loads((DATA / "psi.json").read_text(encoding="utf-8"))["families"]
    plain = {k: {tier: v.value for tier, v in row.values["external"].items()} for k, row in psi_rows().items()}
    return {**plain, **typed}


@dataclass(frozen=True)
class PsiValue:
    """One ψ of the catalogue: a value [W/(m·K)], or a share of S = Σ U·t of what meets, at least `value` where that is said."""

    value: float = 0.0
    share: float = 0.0
    least: bool = False


@dataclass(frozen=True)
class PsiRow:
    """A family of the catalogue: dimensions → tier → value; whether it grows with how far the edge turns."""

    values: dict[str, dict[str, PsiValue]]
    turned: bool = False


@lru_cache(maxsize=1)
def psi_rows() -> dict[str, PsiRow]:
    """The catalogue of ψ by the families found in a shape."""
    rows = json.loads((DATA / "psi.json").read_text(encoding="utf-8"))["rows"]

    def value(of: dict[str, float]) -> PsiValue:
        return PsiValue(of.get("value", 0.0), of.get("s", 0.0), "value" in of)

    dimensions = ("external", "internal")
    return {
        family: PsiRow({d: {tier: value(v) for tier, v in row[d].items()} for d in dimensions if d in row}, row.get("turned", False))
        for family, row in rows.items()
    }


@lru_cache(maxsize=1)
def psi_sources() -> dict[str, str]:
    """Where the values of the catalogue come from, by dimensions."""
    return dict(json.loads((DATA / "psi.json").read_text(encoding="utf-8"))["sources"])


@lru_cache(maxsize=1)
def target_sets() -> tuple[TargetSet, ...]:
    """The shipped target sets."""
    files = sorted((DATA / "targets").glob("*.json"))
    return tuple(TargetSet.model_validate_json(f.read_text(encoding="utf-8")) for f in files)


@lru_cache(maxsize=1)
def fans() -> tuple[Fan, ...]:
    """The fans that ship: the practice fan."""
    return tuple(Fan.model_validate(f) for f in json.loads((DATA / "fans.json").read_text(encoding="utf-8")))


PRACTICE_GAUGE = PressureGauge(id="practice-gauge", name="Practice gauge", serial="P-002", calibrated="2026-03-12", until="2028-03-12")


def library_climate(key: str) -> bytes:
    """Weather file of a shipped climate."""
    return (DATA / "climates" / f"{key}.epw").read_bytes()


@lru_cache(maxsize=1)
def climate_hashes() -> dict[str, str]:
    """Hash of each shipped climate → its key."""
    return {hashlib.sha256(library_climate(k)).hexdigest(): k for k in CLIMATES}


FORMER_CLIMATES = {
    "419910f5a73c167b1f7d7f6670cfb53ae320be42ecf16d998087575de5f73ba2": "hallin-fell",
    "e851a7410930765328dc33fd4b86e1acc83ec38e20c86ddb6c84215d1ad51bc1": "marrowby-quay",
    "081cd2bb949fee39a7335a0ad2e43785cd89c3d0f2e1cce4d3928cff25d234a9": "verrin-plain",
}
"""Shipped climates of before, without the direction of the wind: all else in them is the same to the last digit."""


def shipped_key(sha: str) -> str | None:
    """The key of a shipped climate by the hash of its file, also as it was before; None for another file."""
    return climate_hashes().get(sha) or FORMER_CLIMATES.get(sha)


def cache_folder() -> Path:
    """Where results are kept between runs: slow ones by their content, the register's rows."""
    from platformdirs import user_cache_dir

    return Path(user_cache_dir("nuthatch"))


def results_on_disk(folder: Path | None = None) -> Kept:
    """Where slow results are kept between runs; by default in the user's cache."""
    from nuthatch.core.files.kept_results import ResultStore

    return Kept(ResultStore((folder or cache_folder()) / "results"))


def new_home(name: str = "New home") -> Home:
    """An empty home with the library's assumptions."""
    return replace(home_from_json((DATA / "homes" / "new-home.json").read_bytes()), name=name)


@dataclass(frozen=True)
class Starter:
    """A plain home to begin from: what it is, in words, and the home, every value of it assumed."""

    key: str
    about: str
    home: Home


@lru_cache(maxsize=1)
def starters() -> tuple[Starter, ...]:
    """The shipped starter homes: detached, terraced, flat; new and old."""
    found = []
    for key in (f"{kind}-{age}" for kind in ("detached", "terraced", "flat") for age in ("new", "old")):
        data = (DATA / "starters" / f"{key}.json").read_bytes()
        found.append(Starter(key, str(json.loads(data)["about"]), home_from_json(data)))
    return tuple(found)


@lru_cache(maxsize=8)
def demo_home(key: str) -> Home:
    """A demo home by its name."""
    return home_from_json((DATA / "homes" / f"{key}.json").read_bytes())


def scheme() -> dict[str, Home]:
    """The demo scheme of 24 alike plots: one home with the differences of each plot."""
    data = json.loads((DATA / "homes" / "scheme.json").read_bytes())
    base = demo_home(data["base"])
    read = TypeAdapter(Change)
    return {
        plot["key"]: apply(Batch(label=plot["key"], changes=tuple(read.validate_python(c) for c in plot["changes"])), base)
        for plot in data["plots"]
    }


def demo_folder() -> Path:
    """The demo homes as files of a folder, written where they are not there yet; changed ones stay as they are."""
    from platformdirs import user_data_dir

    folder = Path(user_data_dir("nuthatch")) / "demo-homes"
    (folder / "osier-lane").mkdir(parents=True, exist_ok=True)
    wanted = {folder / f"{k}.nuthatch": k for k in DEMO}
    missing = {path: demo_home(key) for path, key in wanted.items() if not path.exists()}
    plots = [folder / "osier-lane" / f"osier-lane-{n}.nuthatch" for n in range(9, 33)]
    if not all(p.exists() for p in plots):
        missing |= {p: home for p, home in ((folder / "osier-lane" / f"{k}.nuthatch", h) for k, h in scheme().items()) if not p.exists()}
    for path, home in missing.items():
        write(path, HomeFile(home, None))
    return folder


def climate_ref(key: str) -> ClimateRef:
    """The reference of a shipped climate."""
    names = {v: k for k, v in climate_hashes().items()}
    return ClimateRef(name=key.replace("-", " ").title(), sha256=names[key])
