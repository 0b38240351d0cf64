"""Edits of junctions as changes: those of the shape taken into the list, typed rows joined to what they stand for, ψ by tier."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterable, Sequence
from itertools import combinations

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import Batch, Change, ChangeRefused, Insert, SetValue, refusing
from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.fabric.elements import Element
from nuthatch.core.junctions.found import Found, Place
from nuthatch.core.junctions.joined import may_be
from nuthatch.core.junctions.stages import JOINED
from nuthatch.core.library import psi_catalogue
from nuthatch.core.model.home import Home, Junction, OwnPsi
from nuthatch.core.model.part import Basis, Given, replace
from nuthatch.core.results.figure import Known

SAME = 0.05
"""A typed length and one of the shape are the same within this [m], or within a hundredth."""
MOST_PLACES = 12


def taken_in(a: Assessment) -> Batch:
    """From now on what the shape has counts: typed rows are joined where their length says what they stand for, and every other junction that
    the shape tells becomes a row with its tier's ψ."""
    joined = a[JOINED]
    left = {f.key: f for f in joined.left}
    changes: list[Change] = [] if a.home.junctions_from == "shape" else [SetValue(part="home", field="junctions_from", value="shape")]
    copies: list[Junction] = []
    for row in (r for r in a.home.junctions if not r.meets and not r.own):
        for n, part in enumerate(_stands_for(row, left, a.home.shape.dimensions)):
            taken = {p.edge for p in part.places}
            rest = tuple(p for p in left[part.key].places if p.edge not in taken)
            left[part.key] = replace_places(left[part.key], rest)
            fields = _joined(row, part, bool(rest) or part.places != _all(a, part.key))
            if n == 0:
                changes += [SetValue(part=row.id, field=f, value=v) for f, v in fields.items() if row[f] != v]
            else:
                copies.append(replace(row, **fields, name=f"{row.name}, {part.family}"))
    there = tuple(f for f in left.values() if f.places and f.family)
    new = [_row(f, a.home, f.family, named(f, a.home, there)) for f in there]
    ids = fresh_ids(a.home, "j", len(copies) + len(new))
    rows = (replace(r, id=i) for r, i in zip((*copies, *new), ids, strict=True))
    changes += [Insert(owner="home", field="junctions", value=r) for r in rows]
    return Batch(label="Junctions: taken from the shape", changes=tuple(changes))


def replace_places(found: Found, places: tuple[Place, ...]) -> Found:
    """The same junction at some of its places."""
    return dataclasses.replace(found, places=places)


def _all(a: Assessment, key: str) -> tuple[Place, ...]:
    return next((f.places for f in a[JOINED].left if f.key == key), ())


def _joined(row: Junction, part: Found, some: bool) -> dict[str, object]:
    """Fields of a typed row that stands for a junction of the shape; its ψ, tier and evidence stay."""
    places = tuple(p.edge for p in part.places) if some else ()
    return {"meets": part.key, "places": places, "family": part.family or row.family, "length": None}


def _stands_for(row: Junction, left: dict[str, Found], dimensions: str) -> tuple[Found, ...]:
    """The junctions of the shape, or some of their places, that are as long as a typed row says; none where nothing is."""
    if row.length is None:
        return ()
    fits = [f for f in left.values() if f.places and set(f.answers) & set(may_be(row))]
    for number in range(1, len(fits) + 1):
        for some in combinations(fits, number):
            if _same(sum(_long(f.places, dimensions) for f in some), row.length.value):
                return some
    for f in fits:
        for number in range(1, min(len(f.places), MOST_PLACES)):
            for places in combinations(f.places[:MOST_PLACES], number):
                if _same(_long(places, dimensions), row.length.value):
                    return (replace_places(f, places),)
    return ()


def _long(places: Iterable[Place], dimensions: str) -> float:
    return sum(p.outer if dimensions == "external" else p.inner for p in places)


def _same(a: float, b: float) -> bool:
    return abs(a - b) <= max(SAME, 0.01 * b)


def _row(found: Found, home: Home, family: str, name: str) -> Junction:
    """A row for a junction of the shape, with its tier's ψ."""
    return Junction(
        id="new",
        name=name,
        family=family,  # type: ignore[arg-type]
        tier=home.junction_tier,
        dimensions=home.shape.dimensions,
        meets=found.key,
        places=() if _whole(found, home) else tuple(p.edge for p in found.places),
    )


def _whole(found: Found, home: Home) -> bool:
    """Whether no other row of the home stands for some of its places."""
    return not any(r.meets == found.key for r in home.junctions)


def named(found: Found, home: Home, others: Sequence[Found]) -> str:
    """“Outer corner”, or “Outer corner, brick wall and clay wall” where another is of the same family."""
    words = found.family[0].upper() + found.family[1:]
    if sum(f.family == found.family for f in others) < 2:
        return words
    names = {b.id: b.name for b in home.buildups}
    met = " and ".join(dict.fromkeys(names.get(b, b) for b in found.buildups))
    beyond = ", ".join(dict.fromkeys(w for w in found.borders if w not in ("outside", "ground")))
    turned = f", {found.angle:.0f}°" if "@" in found.key else ""
    return f"{words}, {met}{f', beside {beyond}' if beyond else ''}{turned}"


def joined_to(row: Junction, found: Found) -> Batch:
    """A typed row that a person says stands for a junction of the shape: its length is the shape's from now on."""
    changes = [SetValue(part=row.id, field=f, value=v) for f, v in _joined(row, found, False).items() if row[f] != v]
    return Batch(label=f"{row.name}: joined to the shape", changes=tuple(changes))


def answered(a: Assessment, found: Found, family: str) -> Batch:
    """What a junction is that the shape could not tell: it becomes a row with that family."""
    row = replace(_row(found, a.home, family, family[0].upper() + family[1:]), id=fresh_ids(a.home, "j", 1)[0])
    return Batch(label=f"{row.name}: what this junction is", changes=(Insert(owner="home", field="junctions", value=row),))


def by_tier(rows: Sequence[Junction], tier: str) -> Batch:
    """ψ of some rows from the catalogue: what stands for the shape takes it by what meets there, a typed row the plain value of its family."""
    changes: list[Change] = []
    for row in rows:
        psi = None if row.meets else Given(value=psi_catalogue()[row.family][tier], source="ψ catalogue, external dimensions")
        fields = {"psi": psi, "tier": tier} | ({} if row.meets else {"dimensions": "external"})
        changes += [SetValue(part=row.id, field=f, value=v) for f, v in fields.items() if row[f] != v]
    names = [r.name for r in rows]
    return Batch(label=f"{names[0] if len(names) == 1 else f'{len(names)} junctions'}: ψ {tier}", changes=tuple(changes))


@refusing
def by_own(rows: Sequence[Junction], own: Sequence[OwnPsi]) -> Batch:
    """ψ of some rows from the office's own catalogue, by family. Raises ChangeRefused where it has none of theirs."""
    known = {p.family: p for p in own if p.psi is not None}
    changes: list[Change] = []
    taken = []
    for row in (r for r in rows if r.family in known):
        of = known[row.family]
        assert of.psi is not None
        source = ", ".join(s for s in ("office catalogue", of.psi.source) if s)
        fields = {"psi": of.psi.model_copy(update={"source": source, "files": None}), "tier": of.tier, "dimensions": of.dimensions}
        changes += [SetValue(part=row.id, field=f, value=v) for f, v in fields.items() if row[f] != v]
        taken.append(row.name)
    if not taken:
        families = ", ".join(dict.fromkeys(r.family for r in rows))
        raise ChangeRefused(f"the office's catalogue has no ψ of {families}: add it in the office profile")
    return Batch(label=f"{taken[0] if len(taken) == 1 else f'{len(taken)} junctions'}: ψ of the office", changes=tuple(changes))


def typed_out(a: Assessment) -> tuple[Change, ...]:
    """The junctions of the shape as typed rows, where the shape is given up: each with the length, ψ and b that count now."""
    elements = {e.id: e for e in a[ELEMENTS] if e.category == "junctions"}
    changes: list[Change] = []
    for row in (r for r in a.home.junctions if a[JOINED].of(r) is not None):
        fields = {**_as_counted(elements[row.id], row), "meets": "", "places": (), "dimensions": a.home.shape.dimensions}
        changes += [SetValue(part=row.id, field=f, value=v) for f, v in fields.items() if row[f] != v]
    left = [f for f in a[JOINED].left if f.key in elements]
    for ident, found in zip(fresh_ids(a.home, "j", len(left)), left, strict=True):
        element = elements[found.key]
        row = Junction(id=ident, name=element.name, family=found.family or "other", tier="fallback", dimensions=a.home.shape.dimensions)  # type: ignore[arg-type]
        changes.append(Insert(owner="home", field="junctions", value=replace(row, **_as_counted(element, row))))
    if a.home.junctions_from == "shape":
        changes.append(SetValue(part="home", field="junctions_from", value="list"))
    return tuple(changes)


def _as_counted(element: Element, row: Junction) -> dict[str, Given | None]:
    """Length, ψ and b of a junction as its loss has them; what is not known stays as it was typed."""
    found: dict[str, Given | None] = {}
    for name in ("length", "psi", "b"):
        node = element.loss.inputs.get(name) if isinstance(element.loss, Known) else None
        value = node.value if node is not None and not isinstance(node, tuple) else None
        same = row[name] is not None and value is not None and row[name].value == value
        found[name] = (
            row[name] if value is None or same else Given(value=float(value), basis=Basis.CALCULATED, source="from the drawn shape")
        )
    return found
