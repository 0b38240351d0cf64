"""Details of junctions that count beside what the shape has: a balcony's slab, an inner wall, in one of the home's outer walls."""

from __future__ import annotations

from dataclasses import replace

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import Batch, ChangeRefused, Insert, SetValue, refusing
from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.edits.detail_starts import arm_of
from nuthatch.core.fabric.stages import FACE
from nuthatch.core.heatflow.of_home import detail_of
from nuthatch.core.junctions.families import kind_of
from nuthatch.core.junctions.own_sections import Balcony, balcony, partition
from nuthatch.core.model.home import Junction
from nuthatch.core.model.part import Basis
from nuthatch.core.solid.solid import Boundary
from nuthatch.core.solid.stages import BOUNDARY

FAMILIES = ("balcony slab", "partition")
"""Families of own junctions whose section can be drawn from a wall alone."""


def walls_of(a: Assessment) -> tuple[Boundary, ...]:
    """An outer wall of each build-up, that with the most area first."""
    elements = a.all_of(FACE)

    def area(face: Boundary) -> float:
        node = elements[face.id].area if face.id in elements else None
        return float(node.value or 0.0) if node is not None else 0.0

    total: dict[str, float] = {}
    first: dict[str, Boundary] = {}
    for face in a.all_of(BOUNDARY).values():
        if face.buildup and face.beyond.kind == "outside" and kind_of(face) == "wall":
            total[face.buildup] = total.get(face.buildup, 0.0) + area(face)
            first.setdefault(face.buildup, face)
    return tuple(first[b] for b in sorted(total, key=lambda b: -total[b]))


@refusing
def own_started(a: Assessment, row: Junction, wall: Boundary) -> Batch:
    """A detail of a junction of one's own, drawn from the wall it is in; its row takes its ψ from it. Raises ChangeRefused with what it lacks."""
    if row.family not in FAMILIES:
        raise ChangeRefused(
            f"{row.name}: only a {' or a '.join(FAMILIES)} is drawn from a wall alone; draw its section, and take it in as a file"
        )
    arm = replace(arm_of(a, wall), short="wall")
    drawn = balcony(row.name, arm, Balcony()) if row.family == "balcony slab" else partition(row.name, arm)
    ident = fresh_ids(a.home, "detail", 1)[0]
    detail = detail_of(drawn.section, ident, Basis.CALCULATED, f"from {wall.name}", drawn.ties)
    wanted: dict[str, object] = {"detail": ident, "tier": "detailed", "psi": None, "dimensions": a.home.shape.dimensions}
    changes = [SetValue(part=row.id, field=f, value=v) for f, v in wanted.items() if row[f] != v]
    return Batch(label=f"{row.name}: a detail from {wall.name}", changes=(Insert(owner="home", field="details", value=detail), *changes))
