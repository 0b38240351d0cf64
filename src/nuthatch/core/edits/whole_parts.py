"""Larger edits of a home as changes: form and list of faces, ψ and materials from the library, evidence, pins, target sets."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import Batch, Change, Insert, Remove, SetValue, refusing
from nuthatch.core.edits.desk import fresh_ids, typed_number
from nuthatch.core.edits.junction_edits import typed_out
from nuthatch.core.edits.starts import starting_form
from nuthatch.core.model.home import EvidenceFile, Face, Home, Layer, Pin, find
from nuthatch.core.model.part import Basis, Given, IdentifiedPart
from nuthatch.core.model.target_set import TargetSet
from nuthatch.core.questions import values
from nuthatch.core.results.figure import Node
from nuthatch.core.sketch import Pull
from nuthatch.core.solid.solid import Boundary
from nuthatch.core.solid.stages import AIR_VOLUME, AREA, PERIMETER, REFERENCE, SOLID, VOLUME
from nuthatch.core.sun.let_in import LetIn
from nuthatch.core.sun.shares import Far
from nuthatch.core.sun.stages import FAR, LET_IN

MATERIAL_FIELDS = ("conductivity", "density", "specific_heat", "mu")


def _from_form(value: float) -> Given:
    return Given(value=value, basis=Basis.CALCULATED, source="from the drawn shape")


def as_list(a: Assessment) -> Batch:
    """A drawn shape turned into a list of faces: nothing is lost but the drawing; b keeps its basis, what stood before openings is typed."""
    areas, perimeters = a.all_of(AREA), a.all_of(PERIMETER)
    faces = tuple(_face(b, areas[b.id], perimeters[b.id]) for b in a[SOLID].boundaries)
    numbers = {"volume": a[VOLUME], "air_volume": a[AIR_VOLUME], "measured_area": a[REFERENCE]}
    kept = {f: a.home.shape[f] for f in numbers}
    sets = [SetValue(part="shape", field=f, value=kept[f] or _from_form(n.value)) for f, n in numbers.items() if n.value is not None]
    emptied = [SetValue(part="shape", field=f, value=None) for f in ("form", "plans") if a.home.shape[f] is not None]
    filled = SetValue(part="shape", field="faces", value=faces)
    was = "storey plans" if a.home.shape.plans is not None else "quick form"
    return Batch(label=f"Shape: {was} → list of faces", changes=(*emptied, filled, *sets, *_shaded(a), *typed_out(a)))


def _shaded(a: Assessment) -> list[Change]:
    """What stood before openings, which a list does not know, as shares typed: the mean of the months by what falls in those of winter or of
    summer."""
    found, far = a.all_of(LET_IN), a.all_of(FAR)
    south = a.station is not None and a.station.weather.latitude < 0
    changes: list[Change] = []
    for o in a.home.openings:
        let = found.get(o.id)
        if not isinstance(let, LetIn) or not isinstance(far.get(o.id), Far):
            continue
        falls = let.falls.sum(axis=0)
        for field, share, summer in (("shade_winter", let.heating.share, False), ("shade_summer", let.cooling.share, True)):
            mine = falls * np.array([(4 <= m <= 8) is (summer != south) for m in range(12)])
            if o[field] is None and mine.sum() > 0:
                mean = Given(
                    value=round(float((share * mine).sum() / mine.sum()), 4), basis=Basis.CALCULATED, source="from the drawn shape"
                )
                changes.append(SetValue(part=o.id, field=field, value=mean))
    return changes


def _face(b: Boundary, area: Node, perimeter: Node) -> Face:
    on_ground = b.role == "floor" and b.borders == "ground" and perimeter.value is not None
    return Face(
        id=b.id,
        name=b.name,
        role=b.role,  # type: ignore[arg-type]  # roles of boundaries are those of faces
        area=_from_form(round(float(area.value or 0.0), 6)),
        tilt=_from_form(b.tilt),
        azimuth=_from_form(b.azimuth),
        borders=b.borders,  # type: ignore[arg-type]
        buildup=b.buildup,
        b=b.b.given,
        perimeter=_from_form(float(perimeter.value)) if on_ground else None,  # type: ignore[arg-type]
    )


def as_form() -> Batch:
    """A list of faces given up for an empty quick form."""
    changes = (SetValue(part="shape", field="faces", value=()), SetValue(part="shape", field="form", value=starting_form()))
    return Batch(label="Shape: list of faces → quick form", changes=changes)


def material_into(layer: Layer, name: str, given: dict[str, Given | None], where: str) -> Batch:
    """A material of a library copied into a layer."""
    sets = [SetValue(part=layer.id, field=f, value=given[f]) for f in MATERIAL_FIELDS if given.get(f) is not None]
    return Batch(label=f"{where}: {name}", changes=(SetValue(part=layer.id, field="name", value=name), *sets))


@refusing
def attached(home: Home, part_id: str, field: str, given: Given, proof: EvidenceFile) -> Batch | None:
    """A file as evidence of a value; one the home holds already is not taken twice. None where it proves the value already."""
    known = next((e for e in home.evidence if e.sha256 == proof.sha256), None)
    changes: list[Change] = []
    if known is None:
        known = proof.model_copy(update={"id": fresh_ids(home, "evidence", 1)[0]})
        changes.append(Insert(owner="home", field="evidence", value=known))
    if known.id in (given.files or ()):
        return None
    new = Given.model_validate({**given.model_dump(), "files": (*(given.files or ()), known.id)})
    changes.append(SetValue(part=part_id, field=field, value=new))
    return Batch(label=f"{proof.name} attached", changes=tuple(changes))


def detached(home: Home, ident: str) -> Batch:
    """An attached file out of the home and off every value it proves."""
    changes: list[Change] = []
    name = next((e.name for e in home.evidence if e.id == ident), ident)
    for _, part, field, given in values(home):
        if ident in (given.files or ()):
            left = tuple(f for f in given.files or () if f != ident) or None
            new = given.model_copy(update={"files": left})
            changes.append(SetValue(part=part.id, field=field, value=new))  # type: ignore[attr-defined]
    return Batch(label=f"{name} taken out", changes=(*changes, Remove(part=ident)))


def pinned(home: Home, picture: str, of: str, caption: str) -> Insert:
    """A picture pinned into the dossier; it follows the home."""
    made = Pin(id=fresh_ids(home, "pin", 1)[0], name=caption, picture=picture, of=of)
    return Insert(owner="home", field="pins", value=made)


def judged_by(home: Home, chosen: TargetSet, on: bool) -> Change | None:
    """A target set chosen or given up; None where nothing changes."""
    held = [s.id for s in home.target_sets]
    if on and chosen.id not in held:
        return Insert(owner="home", field="target_sets", value=chosen)
    return Remove(part=chosen.id) if not on and chosen.id in held else None


def set_replaced(home: Home, chosen: TargetSet) -> Batch:
    """A target set as it is now, in the place of the one the home holds."""
    held = [s.id for s in home.target_sets]
    at = held.index(chosen.id) if chosen.id in held else -1
    changes: list[Any] = [Remove(part=chosen.id)] if at >= 0 else []
    changes.append(Insert(owner="home", field="target_sets", index=at, value=chosen))
    return Batch(label=f"{chosen.name}: limits", changes=tuple(changes))


@refusing
def pulled(root: IdentifiedPart, pulls: Sequence[Pull], values: Sequence[float]) -> Change | None:
    """What a drag in a drawing means: the quantities it pulls, typed; None where nothing moved."""
    moves = tuple(typed_number(root, p.part, p.field, v) for p, v in zip(pulls, values, strict=True) if v != p.value)
    part = find(root, pulls[0].part)
    if part is None or len(moves) < 2:
        return moves[0] if moves else None
    return Batch(label=f"{getattr(part, 'name', '')}: moved", changes=moves)
