"""Starter envelopes: build-ups and opening types by structure, period and climate zone, every value assumed."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from nuthatch.core.library import DATA, materials
from nuthatch.core.model.home import BuildUp, Layer, OpeningType
from nuthatch.core.model.part import Given

SOFTWOOD = 0.13
SMALLEST = 20
"""Insulation thinner than this is none [mm]."""
ROLES = {"wall": "Outer wall", "roof": "Roof", "floor": "Floor", "party": "Party wall"}


@dataclass(frozen=True)
class Envelope:
    """A set to begin with. buildups by role: wall, roof, floor, party; opening types by use."""

    structure: str
    period: str
    climate: str
    buildups: dict[str, BuildUp]
    types: dict[str, OpeningType]

    @property
    def name(self) -> str:
        return f"{self.structure}, {self.period}"


@lru_cache(maxsize=1)
def _data() -> dict[str, Any]:
    return dict(json.loads((DATA / "envelopes.json").read_text(encoding="utf-8")))


def structures() -> tuple[str, ...]:
    """What a home may be made of."""
    return tuple(_data()["structures"])


def periods(structure: str) -> tuple[str, ...]:
    """When homes of a structure were built."""
    return tuple(_data()["structures"][structure]["periods"])


def climates() -> tuple[str, ...]:
    """The groups of climate zones."""
    return tuple(_data()["climates"])


def climate_of(zone: str) -> str:
    """The group a climate zone such as 5A belongs to; mixed where it is not known."""
    return next((name for name, zones in _data()["climates"].items() if zone[:1] in zones), "mixed")


def envelope(structure: str, period: str, climate: str) -> Envelope:
    """A starter envelope. Raises KeyError for one there is not."""
    data = _data()
    made = data["structures"][structure]
    if period not in made["periods"]:
        raise KeyError(period)
    source = f"starter envelope: {structure}, {period}, {climate} climate"
    at = climates().index(climate)
    stem = "".join(word[0] for word in structure.split()) + f"-{data['periods'].index(period)}{climate[0]}"
    found = {}
    for role in ROLES:
        recipe = made[role] if role == "party" else _recipe(made[role], data["insulation"][role][period][at])
        thick = data["insulation"].get(role, {}).get(period, (0, 0, 0))[at]
        found[role] = _buildup(f"starter-{stem}-{role}", f"{ROLES[role]}, {structure}, {period}", recipe, thick, source)
    return Envelope(structure, period, climate, found, _types(stem, period, data, source))


def _recipe(recipes: dict[str, list[object]], insulation: float) -> list[object]:
    """The layers of a part: those of old where nothing insulates it and they are known, else the usual ones."""
    return recipes["old"] if insulation < SMALLEST and "old" in recipes else recipes["new"]


def _given(value: float, source: str) -> Given:
    return Given(value=value, source=source)


def _buildup(ident: str, name: str, recipe: list[Any], insulation: float, source: str) -> BuildUp:
    known = {m["name"]: m for m in materials()}
    layers = []
    for n, (material, thick, *more) in enumerate(recipe, 1):
        said = more[0] if more else {}
        mm = insulation if isinstance(thick, str) else thick
        if mm <= 0:
            continue
        kind = said.get("kind", "solid")
        fields: dict[str, Any] = {"id": f"{ident}.{n}", "name": material.capitalize() if kind != "solid" else material, "kind": kind}
        fields["thickness"] = _given(mm / 1000, source)
        if kind == "solid":
            row = known[material]
            fields |= {f: _given(float(row[f]), source) for f in ("conductivity", "density", "specific_heat", "mu")}
        if "framing" in said:
            fields |= {
                "framing_share": _given(said["framing"], source),
                "framing_conductivity": _given(SOFTWOOD, source),
                "framing_name": "Softwood",
            }
        layers.append(Layer(**fields))
    return BuildUp(id=ident, name=name, layers=tuple(layers))


def _types(stem: str, period: str, data: dict[str, Any], source: str) -> dict[str, OpeningType]:
    row = data["openings"][period]
    frame = {f: _given(row["frame"] / 1000, source) for f in ("frame_side", "frame_top", "frame_bottom")}
    install = _given(data["install_psi"], source)
    common: dict[str, Any] = {f: _given(row[f], source) for f in ("glass_u", "glass_g", "frame_u", "edge_psi")} | frame
    window = OpeningType(id=f"starter-{stem}-window", name=f"Window, {period}", install_psi=install, **common)
    roof = OpeningType(id=f"starter-{stem}-rooflight", name=f"Roof window, {period}", use="rooflight", install_psi=install, **common)
    door = OpeningType(
        id=f"starter-{stem}-door",
        name=f"Door, {period}",
        use="door",
        entry="whole window",
        whole_u=_given(row["door_u"], source),
        whole_solar=_given(0.0, source),
        install_psi=install,
    )
    return {"window": window, "rooflight": roof, "door": door}
