"""Details of the sides of openings: drawn from the wall and the frame that meet there; their ψ taken over by the type of opening."""

from __future__ import annotations

from dataclasses import replace as called
from typing import Literal

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import Batch, ChangeRefused, Insert, SetValue, refusing
from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.edits.detail_starts import arm_of
from nuthatch.core.heatflow.of_home import detail_of
from nuthatch.core.heatflow.solved import Solved
from nuthatch.core.heatflow.stages import SOLVED
from nuthatch.core.junctions.reveals import WIDE, Frame, reveal
from nuthatch.core.junctions.sections import mirrored
from nuthatch.core.model.details import Detail
from nuthatch.core.model.home import Opening, OpeningType
from nuthatch.core.model.part import Basis, Given, replace
from nuthatch.core.solid.stages import BOUNDARY

Side = Literal["jamb", "head", "sill"]
WIDTHS: dict[str, str] = {"jamb": "frame_side", "head": "frame_top", "sill": "frame_bottom"}
"""The width of the frame at a side, by the field of a type."""


def detail_at(a: Assessment, kind: str, side: Side) -> Detail | None:
    """The detail of a side of a type that is drawn already."""
    return next((d for d in a.home.details if d.of_type == kind and d.side == side), None)


@refusing
def opening_started(a: Assessment, row: Opening, side: Side) -> tuple[Batch, str]:
    """A detail of one side of a row of openings, from the wall it stands in and the frame of its type; and the detail's id. Raises
    ChangeRefused with what it lacks."""
    kind = next((k for k in a.home.opening_types if k.id == row.type), None)
    face = a.all_of(BOUNDARY).get(row.face)
    if kind is None or face is None:
        raise ChangeRefused(f"{row.name} has no {'type' if kind is None else 'face'} yet")
    u = kind.frame_u if kind.entry == "glass and frame" else kind.whole_u
    if u is None:
        raise ChangeRefused(f"{kind.name} has no U of its frame yet: a detail at its {side} needs it")
    wide = kind[WIDTHS[side]] if kind.entry == "glass and frame" else None
    frame = Frame(u.value, wide.value if wide is not None else WIDE)
    name = f"{kind.name}, {side}"
    try:
        drawn = reveal(name, called(arm_of(a, face), short="wall"), frame, side == "jamb")
    except ValueError as fault:
        raise ChangeRefused(f"{name}: {fault}") from None
    drawn = mirrored(drawn) if side == "sill" else drawn
    ident = fresh_ids(a.home, "detail", 1)[0]
    detail = replace(detail_of(drawn.section, ident, Basis.CALCULATED, "from wall and frame", drawn.ties), of_type=kind.id, side=side)
    return Batch(label=f"{name}: a detail from wall and frame", changes=(Insert(owner="home", field="details", value=detail),)), ident


def psi_taken(a: Assessment, detail: Detail) -> SetValue:
    """The ψ of a side's detail becomes its type's. Raises ChangeRefused where there is none."""
    kind: OpeningType | None = next((k for k in a.home.opening_types if k.id == detail.of_type), None)
    of = a.all_of(SOLVED).get(detail.id)
    if kind is None or detail.side == "none":
        raise ChangeRefused(f"{detail.name} is of no opening: draw one in “With openings”")
    if not isinstance(of, Solved) or of.psi_external is None:
        raise ChangeRefused(f"{detail.name} is not worked out yet")
    given = Given(value=round(of.psi_external, 4), basis=Basis.CALCULATED, source=f"{detail.name}, ISO 10211:2017 in two dimensions")
    return SetValue(part=kind.id, field=f"install_{detail.side}", value=given)
