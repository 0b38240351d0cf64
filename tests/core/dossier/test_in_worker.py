"""What a worker that makes pages keeps in mind from one edit to the next."""

from __future__ import annotations

import pickle
from dataclasses import replace
from pathlib import Path

import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import SetValue, apply, declared
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.library import climate_for
from nuthatch.core.dossier import in_worker
from nuthatch.core.dossier.makeup import made_for, profiles
from nuthatch.core.dossier.report import Made, to_pdf
from nuthatch.core.model.home import Home
from tests.simple_home import simple_home


def handed_over(home: Home, climate: Climate | None) -> tuple[Home, Climate | None]:
    """As they come through a pipe."""
    found: tuple[Home, Climate | None] = pickle.loads(pickle.dumps((home, climate)))
    return found


def short(home: Home) -> Home:
    """With the client's short dossier."""
    return apply(made_for(home, next(p for p in profiles() if p.id == "client")), home)


def test_an_edit_is_assessed_from_what_the_process_knows(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    made: list[Assessment] = []

    def watched(*args: object, **how: object) -> Assessment:
        made.append(assess(*args, **how))  # type: ignore[arg-type]
        return made[-1]

    monkeypatch.setattr(in_worker, "assess", watched)
    home = short(simple_home())
    climate, how, file = climate_for(home, None), Made(date="2026-12-01"), tmp_path / "pages.pdf"
    in_worker.pages(*handed_over(home, climate), file, how, tmp_path)
    tighter = apply(SetValue(part="air", field="n50", value=declared(0.4)), home)
    in_worker.pages(*handed_over(tighter, climate), file, how, tmp_path)
    fresh = assess(tighter, climate)
    assert 0 < len(made[1].ran) < 0.3 * len(made[0].ran)
    assert {k: f.value for k, f in made[1].figures.items()} == {k: f.value for k, f in fresh.figures.items()}
    assert file.read_bytes() == to_pdf(fresh, replace(how, live=True), tmp_path)
    other = climate_for(simple_home("verrin-plain"), None)
    warm = short(simple_home("verrin-plain"))
    in_worker.pages(*handed_over(warm, other), file, how, tmp_path)
    assert made[2].figures["heating_demand"].value == assess(warm, other).figures["heating_demand"].value, "another climate counts"
