"""The sheet of each detail in the dossier: drawing, materials, boundaries, what it comes to, how fine the grid is."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.pictures import picture
from nuthatch.core.heatflow.solved import Solved
from nuthatch.core.heatflow.stages import FOLLOWED, SOLVED
from nuthatch.core.heatflow.worked import MOULD_SAFE
from nuthatch.core.model.details import Detail
from nuthatch.core.units import show, unit_of, with_unit


def details(a: Assessment) -> list[dict[str, object]]:
    """Every detail that junctions take their ψ from, or that is kept."""
    return [_sheet(a, d) for d in a.all_of(FOLLOWED).values()]


def _sheet(a: Assessment, detail: Detail) -> dict[str, object]:
    found = a.all_of(SOLVED).get(detail.id)
    used = [j.name for j in a.home.junctions if j.detail == detail.id]
    sheet: dict[str, object] = {"part": detail, "drawing": picture(a, "detail", detail.id), "used": used, "rows": [], "says": ""}
    if not isinstance(found, Solved):
        return {**sheet, "says": "It is not worked out."}
    return {**sheet, "rows": _rows(found), "says": _grid(found)}


def _rows(found: Solved) -> list[tuple[str, str, str]]:
    """(what, external, internal): L2D, what is taken off, ψ."""
    psi = unit_of("psi")
    rows = [(f"L2D, {psi}", show(found.l2d, "psi"), show(found.l2d, "psi"))]
    for f in found.flanks:
        b = f", b {f.b:.2f}" if f.b != 1 else ""
        name = f"− U·l {f.name}, U {with_unit(f.u, 'u')}{b}"
        rows.append((name, show(-f.b * f.u * f.outer, "psi"), show(-f.b * f.u * f.inner, "psi")))
    if found.psi_external is not None and found.psi_internal is not None:
        rows.append((f"ψ, {psi}", show(found.psi_external, "psi"), show(found.psi_internal, "psi")))
    return rows


def _grid(found: Solved) -> str:
    g = found.grid
    words = []
    if found.f_rsi is not None and found.coldest_temperature is not None:
        judged = "safe from mould" if found.f_rsi >= MOULD_SAFE else "NOT safe from mould"
        words.append(
            f"f_Rsi {found.f_rsi:.2f} at the coldest point ({with_unit(found.coldest_temperature, 'temperature')}), {judged} (limit {MOULD_SAFE:.2f})"
        )
    words.append(
        f"{g.cells} cells; doubling them moved the flow by {100 * g.flow:.2f} % and ψ by {g.psi:.4f} W/(m·K); heat is kept within {g.kept:.0e}"
    )
    return ". ".join(words) + "."
