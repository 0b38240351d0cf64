"""The schema version is raised with every change of what a home holds, and homes of every former version open."""

from __future__ import annotations

import hashlib
import json
import re
from pathlib import Path

import pytest

from nuthatch.core.files.homefile import HomeFileError, home_from_json
from nuthatch.core.model.home import SCHEMA, Home
from nuthatch.core.model.migrations import migrate
from nuthatch.core.model.part import kinds_below, specs

FINGERPRINTS = Path(__file__).parent / "schema_fingerprints.json"
FORMER = Path(__file__).parents[2] / "former"


def fingerprint() -> str:
    """Every field of every part with what it may hold."""
    rows = []
    for c in kinds_below(Home):
        for name, info in c.model_fields.items():
            spec = specs(c).get(name)
            bounds = (spec.kind, spec.above, spec.least, spec.most) if spec else ()
            annotation = re.sub(r"\b(\w+\.)+(?=\w)", "", str(info.annotation))  # where a part is kept says nothing of it
            rows.append(f"{c.__name__}.{name}: {annotation} {bounds}")
    return hashlib.sha256("\n".join(sorted(rows)).encode()).hexdigest()[:20]


def test_the_schema_is_raised_with_every_field() -> None:
    """An older Nuthatch then says that the file is newer, instead of stumbling over a field it does not know."""
    known = json.loads(FINGERPRINTS.read_text())
    assert known[str(SCHEMA)] == fingerprint(), (
        f"the model has changed: raise SCHEMA in core/model/home.py, and add its fingerprint {fingerprint()} to {FINGERPRINTS.name}; "
        "keep the old line, unless that version was never published"
    )
    assert len(set(known.values())) == len(known)


def test_a_newer_home_is_refused_with_a_sentence() -> None:
    document = {"nuthatch": "home", "schema": SCHEMA + 1, "home": {"id": "home", "name": "N", "colour": "red"}}
    with pytest.raises(HomeFileError, match="saved by a newer Nuthatch"):
        home_from_json(json.dumps(document).encode())


@pytest.mark.parametrize("file", sorted(FORMER.glob("*.json")), ids=lambda p: p.stem)
def test_homes_of_former_versions_open_and_compute_as_then(file: Path) -> None:
    """Files as that version wrote them, with the figures it computed: all that no corrected rule touches are the same; what needs the
    climate of then, which no longer ships, is asked for."""
    from nuthatch.core.assess import assess
    from nuthatch.core.climate.library import climate_for

    saved = json.loads(file.read_text(encoding="utf-8"))
    home = home_from_json(json.dumps(saved["document"]).encode())
    assert isinstance(home, Home) and saved["document"]["schema"] <= SCHEMA
    figures = assess(home, climate_for(home, None)).figures
    unlike = set()
    for key, value in saved["figures"].items():
        found = figures[key].value
        if (found is None) != (value is None) or (value is not None and found != pytest.approx(value, rel=1e-12)):
            unlike.add(key)
    assert unlike <= OTHERWISE, unlike - OTHERWISE
    assert len(saved["figures"]) - len(unlike) >= 8
    assert [c.kind for c in home.carriers] == ["electricity", "gas", "wood"], "told by id and name before schema 3"


OTHERWISE = {
    "air_volume", "infiltration_rate", "ventilation_loss_coefficient",  # ISO 9972: without partitions; without a unit not the sum
    "q50",  # on overall internal dimensions
    "transmission_loss_coefficient", "time_constant",  # edge insulation; wall thickness without ventilated cladding
    "heating_demand", "heating_load", "cooling_demand", "primary_energy", "co2", "energy_cost", "solar_gains", "internal_gains",
    "hot_water_demand", "effective_heat_recovery", "ua_limit",  # need the climate
    "points_harbour_fund",
    "ventilation_flow",  # normal operation, without what kitchens and baths ask for at boost
    "rooflight_u", "fenestration_u",  # glass in a slope by its face
    "overheating_share",  # unknown until the hourly year
}  # fmt: skip


def test_versions_without_a_step_of_their_own_pass_through() -> None:
    raw = {"id": "home", "name": "x"}
    assert migrate(dict(raw), 1, {}, 5) == raw
    with pytest.raises(ValueError, match="not known"):
        migrate(dict(raw), 0, {}, 5)
