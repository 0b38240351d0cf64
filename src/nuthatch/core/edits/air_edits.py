"""Edits of the air: units from templates, photos of what was prepared or found."""

from __future__ import annotations

from typing import Any

from nuthatch.core.changes.changes import Batch, Change, Insert, SetValue
from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.model.home import EvidenceFile, Home
from nuthatch.core.model.part import Basis, Given
from nuthatch.core.model.ventilation import Duct, VentilationUnit

PRACTICE = "common practice, no source"


def assumed(value: float) -> Given:
    """A value of a template."""
    return Given(value=value, basis=Basis.ASSUMED, source=PRACTICE)


def _duct(ident: str, way: str, length: float) -> Duct:
    sizes = {"diameter": assumed(0.16), "insulation": assumed(0.05), "conductivity": assumed(0.035)}
    return Duct(id=ident, way=way, length=assumed(length), **sizes)  # type: ignore[arg-type]


def _balanced(ident: str) -> dict[str, Any]:
    cold = (_duct(f"{ident}.1", "outdoor air", 2.0), _duct(f"{ident}.2", "exhaust air", 2.0))
    return {
        "name": "Unit with heat recovery",
        "recovery": assumed(0.8),
        "power": assumed(0.4),
        "frost": "electric preheating",
        "frost_limit": assumed(-4.0),
        "ducts": cold,
    }


def _in_the_cold(ident: str) -> dict[str, object]:
    warm = (_duct(f"{ident}.1", "supply air", 3.0), _duct(f"{ident}.2", "extract air", 3.0))
    return {**_balanced(ident), "name": "Unit in the cold loft", "stands": "outside the envelope", "ducts": warm}


def _extract(ident: str) -> dict[str, object]:
    return {"name": "Extract fan", "moves": "extract only", "power": assumed(0.2), "bypass": False}


def _supply(ident: str) -> dict[str, object]:
    return {"name": "Supply fan", "moves": "supply only", "power": assumed(0.2), "bypass": False}


TEMPLATES = {
    "balanced": ("Supply and extract with heat recovery", _balanced),
    "cold": ("The same, in the cold loft", _in_the_cold),
    "extract": ("Extract only", _extract),
    "supply": ("Supply only", _supply),
}


def from_template(home: Home, key: str) -> Insert:
    """A unit with assumed values to start from."""
    ident = fresh_ids(home, "unit", 1)[0]
    return Insert(owner="air", field="units", value=VentilationUnit(id=ident, **TEMPLATES[key][1](ident)))


def with_photo(home: Home, part: str, proof: EvidenceFile) -> Batch:
    """A photo among the home's evidence, of something prepared or found. One step."""
    changes: list[Change] = []
    known = next((e for e in home.evidence if e.sha256 == proof.sha256), None)
    if known is None:
        known = proof.model_copy(update={"id": fresh_ids(home, "evidence", 1)[0]})
        changes.append(Insert(owner="home", field="evidence", value=known))
    return Batch(label=f"Photo {proof.name}", changes=(*changes, SetValue(part=part, field="photo", value=known.id)))
