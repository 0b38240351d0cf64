"""Writes the shipped starter homes: plain houses, every value of them assumed, to begin from."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from nuthatch.core.library import demo_home, new_home, psi_catalogue, target_sets
from nuthatch.core.model.heat import HeatSource
from nuthatch.core.model.home import SCHEMA, Home, Junction, Opening, QuickForm
from nuthatch.core.model.part import Basis, Given, Part, quantities, replace
from nuthatch.core.model.site import RingSector
from nuthatch.core.model.ventilation import Duct, VentilationUnit

SOURCE = "starter home"


def g(value: float) -> Given:
    """An assumed value of a starter home."""
    return Given(value=value, basis=Basis.ASSUMED, source=SOURCE)


def assumed(part: Any) -> Any:
    """A part with every value assumed: what was declared for a demo home is no fact of another."""
    changed: dict[str, Any] = {}
    for name, _ in quantities(type(part)):
        given = getattr(part, name)
        if given is not None:
            changed[name] = Given(
                value=given.value, basis=Basis.ASSUMED, source=SOURCE if given.basis is not Basis.ASSUMED else given.source
            )
    for name in type(part).model_fields:
        value = getattr(part, name)
        if isinstance(value, Part):
            changed[name] = assumed(value)
        elif isinstance(value, tuple) and value and isinstance(value[0], Part):
            changed[name] = tuple(assumed(v) for v in value)
    return replace(part, **changed) if changed else part


def opening(number: int, name: str, face: str, kind: str, size: tuple[float, float], place: tuple[float, float], count: int = 1) -> Opening:
    """One row of openings."""
    return Opening(
        id=f"w-{number:02d}", name=name, face=face, type=kind, width=g(size[0]), height=g(size[1]), count=g(count),
        position=g(place[0]), sill=g(place[1]),
    )  # fmt: skip


def openings(kind: str, door: str, sides: bool, storeys: int) -> tuple[Opening, ...]:
    """The windows of a plain house: larger to the front, a door at the back."""
    rows = [
        opening(1, "Living room", "wall-front", kind, (2.0, 2.1), (0.8, 0.3)),
        opening(2, "Kitchen", "wall-front", kind, (1.4, 1.3), (4.2, 1.2)),
        opening(3, "Back", "wall-back", kind, (1.0, 1.2), (0.9, 1.2)),
        opening(4, "Door", "wall-back", door, (1.0, 2.1), (3.4, 0.3)),
    ]
    if storeys > 1:
        rows += [
            opening(5, "Bedrooms", "wall-front", kind, (1.4, 1.4), (0.8, 3.8), 2),
            opening(6, "Upper back", "wall-back", kind, (1.0, 1.2), (1.2, 4.0)),
        ]
    if sides:
        rows.append(opening(7, "Side", "wall-left", kind, (0.8, 1.0), (3.0, 1.4)))
    return tuple(rows)


def junctions(storeys: int, length: float, depth: float, open_sides: int) -> tuple[Junction, ...]:
    """Junctions of a plain house with ψ of the catalogue, typical."""
    around = 2 * length + open_sides * depth
    rows = [
        ("Wall on floor", "wall · floor", around),
        ("Wall at roof", "wall · ceiling", around),
        ("Outer corners", "outer corner", 2.7 * storeys * 2 * min(open_sides, 2)),
    ]
    if storeys > 1:
        rows.append(("Upper floor", "wall · upper floor", around))
    catalogue = psi_catalogue()
    return tuple(
        Junction(id=f"j-{n:02d}", name=name, family=family, length=g(metres), psi=g(catalogue[family]["typical"]), tier="typical")
        for n, (name, family, metres) in enumerate(rows, 1)
        if metres
    )


def form(old: bool, kind: str) -> QuickForm:
    """The quick form of a house or flat."""
    flat = kind == "flat"
    party = {"detached": {}, "terraced": {"left": "neighbour", "right": "neighbour"}, "flat": {"left": "neighbour", "right": "neighbour"}}[
        kind
    ]
    return QuickForm(
        length=g(6.4 if kind == "terraced" else 9.0), depth=g(8.4), storeys=g(1 if flat else 2), storey_height=g(2.8), roof="flat" if flat else "gable",
        pitch=None if flat else g(38), under_roof="insulated ceiling", front_azimuth=g(180), base="neighbour" if flat else "ground",
        wall_buildup="wall", party_buildup="party" if party else "", top_buildup="top", base_buildup="base",
        b_top=None if flat else g(0.9), partition_share=g(0.06), floor_thickness=g(0.3), traced="inner faces" if old else "outer faces", **party,
    )  # fmt: skip


def starter(kind: str, age: str) -> Home:
    """One starter home."""
    old = age == "old"
    base = demo_home("weir-cottage" if old else "osier-lane-7")
    other = demo_home("osier-lane-7")
    new = new_home(f"{kind.capitalize()}, {age}")
    storeys = 1 if kind == "flat" else 2
    named = {b.id: b for b in (*other.buildups, *base.buildups)}
    picks = {
        "wall": "brick-wall" if old else "outer-wall",
        "top": "loft-ceiling" if old else "pitched-roof",
        "base": "slab",
        "party": "party-wall",
    }
    builds = tuple(replace(assumed(named[source]), id=ident) for ident, source in picks.items() if ident != "party" or kind != "detached")
    if old:  # a floor of before any insulation: the slab alone
        builds = tuple(replace(b, name="Slab without insulation", layers=b.layers[-1:]) if b.id == "base" else b for b in builds)
    builds = tuple(replace(b, layers=tuple(replace(x, id=f"{b.id}.{n}") for n, x in enumerate(b.layers, 1))) for b in builds)
    types = [assumed(t) for t in base.opening_types if t.use in ("window", "door")]
    window, door = (next(t for t in types if t.use == use) for use in ("window", "door"))
    window, door = (replace(t, install_psi=t.install_psi or g(0.04)) for t in (window, door))
    sets = {s.id: s for s in target_sets()}
    source = HeatSource(
        id="source", name="Gas boiler" if old else "Air-to-water heat pump", carrier="gas" if old else "electricity", heating_share=g(1), water_share=g(1),
        cooling_share=None if old else g(1), efficiency=g(0.86 if old else 2.8), auxiliary=g(150 if old else 90),
    )  # fmt: skip
    cold = tuple(
        Duct(id=f"unit.{n}", way=way, length=g(2), diameter=g(0.16), insulation=g(0.05), conductivity=g(0.035))
        for n, way in enumerate(("outdoor air", "exhaust air"), 1)
    )
    units = () if old else (VentilationUnit(recovery=g(0.8), power=g(0.4), ducts=cold),)
    length = 6.4 if kind == "terraced" else 9.0
    return replace(
        new,
        brief=replace(new.brief, project="retrofit" if old else "new build", dwelling=kind),
        target_sets=(sets["retrofit"] if old else sets["passive-house"],),
        shape=replace(new.shape, form=form(old, kind), inner_mass=g(60 if old else 30)),
        buildups=builds,
        opening_types=(replace(window, id="window"), replace(door, id="door")),
        openings=openings("window", "door", kind == "detached", storeys),
        site=replace(new.site, incidence=None, ring=(RingSector(id="ring-all", start=g(0), end=g(360), shade="partly"),)),
        junctions=junctions(storeys, length, 8.4, 2 if kind == "detached" else 0),
        air=replace(new.air, n50=g(7.0 if old else 0.6), units=units),
        household=replace(new.household, electricity=g(2400 if kind != "flat" else 1700)),
        water=replace(new.water, store_loss=g(2.5), store_temperature=g(60)),
        sources=(source,),
    )


ABOUT = {
    "detached": "two storeys, gable roof, all sides free",
    "terraced": "two storeys, neighbours on both sides",
    "flat": "one storey under a flat roof, neighbours beside and below",
}
AGES = {"new": "insulated timber frame, triple glazing, heat recovery", "old": "solid brick, double glazing, gas boiler, no unit"}

if __name__ == "__main__":
    folder = Path(__file__).parents[1] / "src" / "nuthatch" / "data" / "starters"
    for kind, about in ABOUT.items():
        for age, how in AGES.items():
            home = starter(kind, age)
            document = {
                "nuthatch": "home", "schema": SCHEMA, "about": f"{about}; {how}", "home": home.model_dump(mode="json", exclude_defaults=True),
            }  # fmt: skip
            (folder / f"{kind}-{age}.json").write_text(json.dumps(document, ensure_ascii=False, indent=1) + "\n", encoding="utf-8")
            print(f"{kind}-{age}")
