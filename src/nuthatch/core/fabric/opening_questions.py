"""What is asked about types of openings: values entered whole where parts are wanted, installation left out, U of another tilt."""

from __future__ import annotations

from nuthatch.core.graph.stage import Slot, Stages, part
from nuthatch.core.model.home import Opening, OpeningType
from nuthatch.core.model.target_set import TargetSet
from nuthatch.core.results.question import Question
from nuthatch.core.solid.solid import Boundary
from nuthatch.core.solid.stages import BOUNDARY

STAGES = Stages()
ASKS: Slot[tuple[Question, ...]] = Slot("questions of openings", asks=True)
UPRIGHT, OFF_TILT = 90.0, 15.0
"""Tilt a U is declared at where nothing is said [°], and how far from it an opening may stand until it is asked about."""


def _is_off(kind: OpeningType, tilt: float) -> bool:
    """Whether a typed U of glass is that of another tilt than the one it stands at."""
    by_panes = kind.entry == "glass and frame" and kind.glass_from == "panes and gaps"
    given = kind.glass_u if kind.entry == "glass and frame" else kind.whole_u
    holds = kind.u_tilt.value if kind.u_tilt is not None else UPRIGHT
    return kind.use != "door" and not by_panes and given is not None and abs(holds - min(tilt, UPRIGHT)) > OFF_TILT


@STAGES.stage(ASKS, kinds=part("opening_types"), rows=part("openings"), sets=part("target_sets"), faces=BOUNDARY)
def asks(
    kinds: tuple[OpeningType, ...], rows: tuple[Opening, ...], sets: tuple[TargetSet, ...], faces: dict[str, Boundary]
) -> tuple[Question, ...]:
    """Whole-window values where glass and frame are wanted apart; installation left out; U of upright glass on a slope."""
    strict = [s.name for s in sets if s.needs_glass_and_frame]
    used = {o.type for o in rows}
    found = []
    for kind in kinds:
        if kind.id not in used:
            continue
        if strict and kind.entry == "whole window" and kind.use != "door":
            found.append(Question(kind.id, "entry", f"{strict[0]} wants glass and frame apart; a whole-window value is used"))
        if kind.install_psi is None:
            found.append(Question(kind.id, "install_psi", "Installation ψ is not given and taken as 0"))
        sloped = next(
            (faces[o.face].tilt for o in rows if o.type == kind.id and o.face in faces and _is_off(kind, faces[o.face].tilt)), None
        )
        if sloped is not None:
            field = "glass_u" if kind.entry == "glass and frame" else "whole_u"
            says = f"U {{0}} of {kind.name} holds at a tilt of {{1}} and it stands at {{2}}, where glass may lose more: give U there, or panes and gaps"
            typed_u, at = kind[field], kind.u_tilt.value if kind.u_tilt is not None else UPRIGHT
            found.append(Question(kind.id, "u_tilt", says, ((typed_u.value, "u"), (at, "angle"), (sloped, "angle"))))
    return tuple(found)
