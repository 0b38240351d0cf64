"""The sheet of each detail in the dossier: drawing, materials, boundaries, what it comes to, how fine the grid is."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.pictures import picture
from nuthatch.core.heatflow.solved import Solved
from nuthatch.core.heatflow.stages import FOLLOWED, SOLVED
from nuthatch.core.model.details import Detail
from nuthatch.core.views.junctions.comes_to import boundary_rows, grid_words, psi_rows, surface_words


def details(a: Assessment) -> list[dict[str, object]]:
    """Every detail that junctions take their ψ from, or that is kept."""
    return [_sheet(a, d) for d in a.all_of(FOLLOWED).values()]


def _sheet(a: Assessment, detail: Detail) -> dict[str, object]:
    found = a.all_of(SOLVED).get(detail.id)
    used = [j.name for j in a.home.junctions if j.detail == detail.id]
    sheet: dict[str, object] = {
        "part": detail,
        "drawing": picture(a, "detail", detail.id),
        "used": used,
        "rows": [],
        "says": "",
        "boundaries": [],
    }
    if not isinstance(found, Solved):
        return {**sheet, "says": "It is not worked out."}
    says = [w for w in (surface_words(a, found), grid_words(found)) if w]
    return {**sheet, "rows": psi_rows(found), "says": ". ".join(says) + ".", "boundaries": boundary_rows(detail)}
