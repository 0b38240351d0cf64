"""Upgrades at hand, fitted to the very home: which faces, how many square metres, over which build-up."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import Change, Insert, SetValue
from nuthatch.core.fabric.stages import FACE, OPENING
from nuthatch.core.model.home import BuildUp, Layer, VentilationUnit, fresh_id
from nuthatch.core.model.hot_water import SolarField
from nuthatch.core.model.options import Upgrade, UpgradeKind
from nuthatch.core.model.part import Basis, Given
from nuthatch.core.options.applied import written
from nuthatch.core.solid.thickness import effective_layers
from nuthatch.core.units import with_unit

SOURCE = "an upgrade at hand, common practice"
WOOL = ("Mineral wool, 0.035", 0.035)
BOARD = ("Insulation board, 0.035", 0.035)
LAMPS, APPLIANCES = 0.6, 0.25
KINDS: dict[str, UpgradeKind] = {
    "Outside": "insulation outside", "On the ceiling": "roof or ceiling", "Below the floor": "floor", "Over the roof": "roof or ceiling",
}  # fmt: skip
TRIPLE_U, TRIPLE_G, RECOVERY, FAN_POWER, TIGHT, COP = 0.85, 0.5, 0.82, 0.45, 2.0, 3.2


@dataclass(frozen=True)
class Ready:
    """An upgrade at hand: what it is, on what, of which kind."""

    name: str
    on: str
    changes: tuple[Change, ...]
    kind: UpgradeKind = "other"

    def upgrade(self, ident: str) -> Upgrade:
        return Upgrade(id=ident, name=self.name, kind=self.kind, about=self.on, changes=tuple(written(c) for c in self.changes), per="lump")


def at_hand(a: Assessment) -> tuple[Ready, ...]:
    """What could be done to this home."""
    return (*_insulation(a), *_windows(a), *_sealing(a), *_unit(a), *_junctions(a), *_sources(a), *_solar(a), *_household(a))


def given(value: float) -> Given:
    """A value of an upgrade: assumed, until it is chosen."""
    return Given(value=value, basis=Basis.ASSUMED, source=SOURCE)


def _insulation(a: Assessment) -> Iterator[Ready]:
    """Each build-up that loses heat: outside or on top, and inside."""
    for build in a.home.buildups:
        faces = [
            e for e in a.all_of(FACE).values() if e.boundary is not None and e.boundary.buildup == build.id and e.borders != "neighbour"
        ]
        area = sum(float(e.area.value) for e in faces if e.area is not None and e.area.value is not None)
        if not faces or area <= 0 or build.u_detailed is not None:
            continue
        roles = {e.boundary.role for e in faces if e.boundary is not None}
        grounded = any(e.borders == "ground" for e in faces)
        where = ", ".join(dict.fromkeys(e.borders for e in faces))
        on = f"{build.name}, {with_unit(area, 'area')} to {where}"
        wall = "wall" in roles
        if not grounded:
            depth = 0.2 if "roof" in roles or "ceiling" in roles else 0.16 if wall else 0.12
            said = (
                "Outside"
                if wall
                else "On the ceiling"
                if "ceiling" in roles
                else "Below the floor"
                if "floor" in roles
                else "Over the roof"
            )
            yield Ready(
                f"{said}: {with_unit(depth, 'thickness')} on {build.name}", on, (_layer(build, depth, *BOARD, inside=False),), KINDS[said]
            )
        if wall or grounded:
            yield Ready(
                f"Inside: {with_unit(0.06, 'thickness')} on {build.name}",
                on,
                (_layer(build, 0.06, *WOOL, inside=True),),
                "insulation inside",
            )


def _layer(build: BuildUp, thickness: float, name: str, conductivity: float, inside: bool) -> Insert:
    """One more layer of insulation: before the outermost that counts, or as the innermost."""
    taken = {x.id for x in build.layers}
    ident = next(f"{build.id}.more-{n}" for n in range(1, 1000) if f"{build.id}.more-{n}" not in taken)
    index = len(build.layers) if inside else len(build.layers) - len(effective_layers(build))
    made = Layer(id=ident, name=name, thickness=given(thickness), conductivity=given(conductivity), mu=given(1.0))
    return Insert(owner=build.id, field="layers", index=index, value=made)


def _windows(a: Assessment) -> Iterator[Ready]:
    for kind in a.home.opening_types:
        rows = [o for o in a.home.openings if o.type == kind.id]
        found = [a.all_of(OPENING)[o.id] for o in rows if o.id in a.all_of(OPENING)]
        area = sum(float(e.area.value) for e in found if e.area is not None and e.area.value is not None)
        us = [float(e.u.value) for e in found if e.u is not None and e.u.value is not None]
        if not rows or not us or min(us) <= TRIPLE_U or kind.use == "door":
            continue
        values = (("entry", "whole window"), ("whole_u", given(TRIPLE_U)), ("whole_solar", given(TRIPLE_G)))
        changes = tuple(SetValue(part=kind.id, field=f, value=v) for f, v in values)
        pieces = sum(o.count.value if o.count is not None else 1 for o in rows)
        yield Ready(
            f"New windows for {kind.name}: U {with_unit(TRIPLE_U, 'u')}",
            f"{pieces:g} of them, {with_unit(area, 'area')}",
            changes,
            "windows",
        )


def _sealing(a: Assessment) -> Iterator[Ready]:
    n50 = a.figures["n50"].value
    if n50 is not None and float(n50) > TIGHT:
        changes = (SetValue(part="air", field="test", value=""), SetValue(part="air", field="n50", value=given(TIGHT)))
        yield Ready(f"Seal it: n50 {with_unit(TIGHT, 'ach')}", f"from {with_unit(float(n50), 'ach')}", changes, "sealing")


def _unit(a: Assessment) -> Iterator[Ready]:
    recovering = [u for u in a.home.air.units if u.recovery is not None and u.recovery.value > 0]
    if not recovering:
        unit = VentilationUnit(
            id=fresh_id(a.home, "unit"), name="Ventilation with heat recovery", recovery=given(RECOVERY), power=given(FAN_POWER)
        )
        yield Ready(
            f"Ventilation unit: recovery {with_unit(RECOVERY, 'percent')}",
            "supply and extract",
            (SetValue(part="air", field="units", value=(unit,)),),
            "ventilation unit",
        )


def _junctions(a: Assessment) -> Iterator[Ready]:
    home = a.home
    if home.junctions_from == "shape" and home.junction_tier == "fallback":
        yield Ready(
            "Junctions by good practice",
            "those in no list: typical ψ",
            (SetValue(part="home", field="junction_tier", value="typical"),),
            "junctions",
        )
    rows = [j for j in home.junctions if j.tier == "fallback" and j.meets and j.psi is None]
    if rows:
        changes = tuple(SetValue(part=j.id, field="tier", value="typical") for j in rows)
        yield Ready("Junctions of the list by good practice", f"{len(rows)} rows: typical ψ", changes, "junctions")


def _sources(a: Assessment) -> Iterator[Ready]:
    current = next((c for c in a.home.carriers if c.kind == "electricity"), None)
    for source in a.home.sources if current is not None else ():
        carrier = next((c for c in a.home.carriers if c.id == source.carrier), None)
        if carrier is None or carrier.kind == "electricity" or source.heating_share is None or source.heating_share.value < 0.5:
            continue
        assert current is not None
        values = (("name", "Heat pump"), ("kind", "heat pump"), ("carrier", current.id), ("efficiency", given(COP)))
        changes = tuple(SetValue(part=source.id, field=f, value=v) for f, v in values)
        yield Ready(f"Heat pump instead of {source.name}: COP {COP:g}", f"{carrier.name} → {current.name}", changes, "heat source")


def _solar(a: Assessment) -> Iterator[Ready]:
    """Collectors, where there are none: a square metre a person and one more, fifty litres of store each."""
    people = a.figures["people"].value
    if a.home.water.solar or people is None or not float(people) > 0:
        return
    area = float(round(float(people) + 1))
    values = {"area": area, "optical": 0.78, "loss": 3.7, "loss_second": 0.012, "tilt": 45.0, "azimuth": 180.0, "volume": 60 * area}
    told = {f: given(v) for f, v in {**values, "pump": 40.0}.items()}
    field = SolarField.model_validate({"id": fresh_id(a.home, "solar"), "name": "Collectors", **told})
    on = f"to the south, 45° steep, a store of {with_unit(60 * area, 'litres', 0)}"
    yield Ready(
        f"Solar hot water, {with_unit(area, 'area', 0)}", on, (Insert(owner="hot-water", field="solar", value=field),), "heat source"
    )


def _household(a: Assessment) -> Iterator[Ready]:
    """Lamps and appliances that use less; shares saved are common practice, no source."""
    home = a.home.household
    rows = [x for x in home.appliances if x.energy is not None and x.energy.value > 0]
    lamps = [x for x in rows if "light" in x.name.lower() or "lamp" in x.name.lower()]
    for found, share, name, kind in (
        (lamps, LAMPS, "Efficient lamps", "lamps"),
        ([x for x in rows if x not in lamps], APPLIANCES, "Efficient appliances", "appliances"),
    ):
        if found:
            changes = tuple(
                SetValue(part=x.id, field="energy", value=given(round(x.energy.value * (1 - share), 1))) for x in found if x.energy
            )
            on = f"{', '.join(x.name for x in found)}: {with_unit(share, 'percent')} less"
            yield Ready(name, on, changes, kind)  # type: ignore[arg-type]
    if not rows and home.electricity is not None and home.electricity.value > 0:
        change = SetValue(part=home.id, field="electricity", value=given(round(home.electricity.value * (1 - APPLIANCES), 1)))
        yield Ready("Efficient lamps and appliances", f"{with_unit(APPLIANCES, 'percent')} less", (change,), "appliances")
