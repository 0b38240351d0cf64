"""Edits of build-ups and opening types as changes: swapped everywhere, a layer put between, from cavity and continuous R, a starter
envelope over a home."""

from __future__ import annotations

from collections.abc import Container, Iterator
from dataclasses import dataclass
from typing import Any

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import Batch, Change, ChangeRefused, Insert, SetValue, refusing
from nuthatch.core.edits.desk import fresh_ids, typed_value
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.fabric.envelopes import SOFTWOOD, Envelope
from nuthatch.core.model.home import BuildUp, Home, Layer, OpeningType, find, walk_parts
from nuthatch.core.model.part import Basis, Given, quantities, specs
from nuthatch.core.model.plans import Outline, Side
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.trials import trial

PLAN_FIELDS = {
    "wall": ("wall_buildup", "earth_buildup", "inner_buildup", "loft_gable"),
    "party": ("party_buildup",),
    "roof": ("roof_buildup", "ceiling_buildup", "loft_roof"),
    "floor": ("ground_buildup", "cellar_buildup", "air_buildup"),
}
FORM_FIELDS: dict[str, tuple[str, ...]] = {
    "wall": ("wall_buildup",),
    "party": ("party_buildup",),
    "roof": ("top_buildup",),
    "floor": ("base_buildup",),
}
OWN_FIELDS: dict[type, dict[str, str]] = {
    Side: {"buildup": "wall"},
    Outline: {"floor_buildup": "floor", "top_buildup": "roof", "wall_buildup": "wall"},
}
"""Build-ups that a part of the plans may have of its own; inner walls are no part of the envelope."""
FACE_ROLES = {"wall": "wall", "roof": "roof", "ceiling": "roof", "floor": "floor", "party wall": "party"}


def users_of(home: Home, buildup: str) -> list[tuple[str, str]]:
    """(part, field) of everything that names a build-up."""
    found = []
    for part in walk_parts(home):
        for name, spec in specs(type(part)).items():
            if spec.kind == "ref" and spec.refers == "buildups" and part[name] == buildup:
                found.append((part.id, name))
    return found


@refusing
def swapped(home: Home, old: str, new: str) -> Batch:
    """Another build-up in the place of one, everywhere. Raises ChangeRefused where nothing uses it."""
    users = users_of(home, old)
    names = {b.id: b.name for b in home.buildups}
    if new not in names or old == new:
        raise ChangeRefused("choose another build-up to put in its place")
    if not users:
        raise ChangeRefused(f"nothing uses {names.get(old, old)}")
    changes = tuple(SetValue(part=part, field=field, value=new) for part, field in users)
    return Batch(label=f"{names.get(old, old)} → {names[new]}, {len(changes)} place{'s' if len(changes) > 1 else ''}", changes=changes)


def layer_beside(home: Home, buildup: str, layer: str) -> Insert:
    """A new layer inside of another, or the first one."""
    build = find(home, buildup)
    if not isinstance(build, BuildUp):
        raise ChangeRefused("there is no such build-up any more")
    at = next((n + 1 for n, row in enumerate(build.layers) if row.id == layer), len(build.layers))
    made = Layer(id=fresh_ids(home, f"{buildup}.layer", 1)[0], name="New layer")
    return Insert(owner=buildup, field="layers", index=at, value=made)


@refusing
def from_cavity(home: Home, cavity: float, continuous: float, share: float, depth: float) -> Insert:
    """A build-up by the R of its cavity insulation and of what is continuous outside of it [m²·K/W], the framing's share and depth [m]."""
    if cavity <= 0 or continuous < 0 or not 0 <= share < 0.9 or depth <= 0:
        raise ChangeRefused("cavity R and depth are more than 0, continuous R at least 0, the framing share below 90 %")
    ident = fresh_ids(home, "build-up", 1)[0]
    layers = []
    if continuous > 0:
        layers.append(Layer(id=f"{ident}.1", name="Continuous insulation", resistance=typed_value(None, continuous)))
    framing: dict[str, Any] = {}
    if share > 0:
        framing = {
            "framing_share": typed_value(None, share),
            "framing_conductivity": Given(value=SOFTWOOD, source="softwood; ISO 10456"),
            "framing_name": "Softwood",
        }
    layers.append(
        Layer(
            id=f"{ident}.2", name="Cavity insulation", resistance=typed_value(None, cavity), thickness=typed_value(None, depth), **framing
        )
    )
    return Insert(owner="home", field="buildups", value=BuildUp(id=ident, name="Framed wall by R", layers=tuple(layers)))


# starter envelopes


def is_assumed(part: BuildUp | OpeningType | None) -> bool:
    """Whether nothing of a build-up or type was entered or measured: it may be replaced."""
    if part is None:
        return True
    rows: list[Any] = [part, *(part.layers if isinstance(part, BuildUp) else ())]
    given = (row[name] for row in rows for name, _ in quantities(row.__class__))
    return all(g is None or g.basis is Basis.ASSUMED for g in given)


def enveloped(home: Home, envelope: Envelope, roofs: Container[str] = ()) -> Batch:
    """A starter envelope over a home: where no build-up or type is chosen yet, or one of which every value is assumed. What a person
    entered or measured stays. roofs: ids of faces that are roofs, where an opening without a type is a roof window. Raises ChangeRefused
    where all of it stays."""
    used: set[str] = set()
    sets: list[Change] = []
    for part, field, old, new in (*_builds_offered(home, envelope), *_types_offered(home, envelope, roofs)):
        if is_assumed(old) and (old is None or old.id != new.id):
            sets.append(SetValue(part=part, field=field, value=new.id))
            used.add(new.id)
    if not sets:
        raise ChangeRefused("every build-up and type here has values that were entered or measured; they stay")
    there = {b.id for b in home.buildups} | {t.id for t in home.opening_types}
    offers: tuple[BuildUp | OpeningType, ...] = (*envelope.buildups.values(), *envelope.types.values())
    added = (
        Insert(owner="home", field="buildups" if isinstance(p, BuildUp) else "opening_types", value=p)
        for p in offers
        if p.id in used - there
    )
    return Batch(label=f"Starter envelope: {envelope.name}", changes=(*added, *sets))


Offered = tuple[str, str, BuildUp | OpeningType | None, BuildUp | OpeningType]
"""(part, field, what it names now, what is offered)."""


def _builds_offered(home: Home, envelope: Envelope) -> Iterator[Offered]:
    """Every field that names a build-up. A part of the plans that names none of its own follows the plans' and is not offered one."""
    builds = {b.id: b for b in home.buildups}
    shape = home.shape
    for owner, fields in ((shape.plans, PLAN_FIELDS), (shape.form, FORM_FIELDS)):
        for role, names in fields.items() if owner is not None else ():
            for name in names:
                yield owner.id, name, builds.get(getattr(owner, name)), envelope.buildups[role]  # type: ignore[union-attr]  # not None
    for part in walk_parts(shape.plans) if shape.plans is not None else ():
        for name, role in OWN_FIELDS.get(type(part), {}).items():
            if part[name] in builds:
                yield part.id, name, builds[part[name]], envelope.buildups[role]
    for face in shape.faces:
        yield face.id, "buildup", builds.get(face.buildup), envelope.buildups[FACE_ROLES[face.role]]


def _types_offered(home: Home, envelope: Envelope, roofs: Container[str]) -> Iterator[Offered]:
    """The type of every opening."""
    types = {t.id: t for t in home.opening_types}
    for opening in home.openings:
        old = types.get(opening.type)
        use = old.use if old is not None else "rooflight" if opening.face in roofs else "window"
        yield opening.id, "type", old, envelope.types[use]


@dataclass(frozen=True)
class Offer:
    """One face or row of openings in the preview of an envelope: U now and then [W/(m²·K)], None where not known; kept: it stays."""

    id: str
    name: str
    borders: str
    now: float | None
    then: float | None
    kept: bool


def roofs_of(a: Assessment) -> frozenset[str]:
    """Ids of the faces that are roofs."""
    return frozenset(f.id for f in a[SOLID].boundaries if f.role == "roof")


def preview(a: Assessment, envelope: Envelope) -> tuple[Offer, ...]:
    """Face by face and opening by opening what an envelope would change."""
    try:
        after = trial(a, (enveloped(a.home, envelope, roofs_of(a)),)).whole or a
    except ChangeRefused:
        after = a
    then = {e.id: e for e in after[ELEMENTS]}
    found = []
    for e in a[ELEMENTS]:
        if e.category == "junctions":
            continue
        new = then.get(e.id)
        values = [float(x.u.value) if x is not None and x.u is not None and x.u.value is not None else None for x in (e, new)]
        kept = _chosen(a.home, e) == (_chosen(after.home, new) if new is not None else "")
        found.append(Offer(e.id, e.name, e.borders, values[0], values[1], kept and bool(_chosen(a.home, e))))
    return tuple(found)


def _chosen(home: Home, element: Any) -> str:
    """The build-up of a face, or the type of an opening."""
    if element.is_face:
        return str(element.boundary.buildup)
    return next((o.type for o in home.openings if o.id == element.id), "")
