"""What a detail comes to, in rows: ψ both ways with what is taken off, the coldest point by month, boundaries, materials."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.fabric.vapour import MONTH_NAMES
from nuthatch.core.heatflow.films import MOULD
from nuthatch.core.heatflow.solved import Solved
from nuthatch.core.heatflow.stages import NEEDS
from nuthatch.core.model.details import Detail
from nuthatch.core.results.figure import MONTHS
from nuthatch.core.units import show, unit_of, with_unit

Row = tuple[str, str, str]


def psi_rows(found: Solved) -> list[Row]:
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


def least(a: Assessment) -> tuple[float, str]:
    """The least f_Rsi of the home's surfaces, and why in words."""
    needed = a[NEEDS]
    why = f"air of this home, {MONTH_NAMES[needed.worst]}" if needed.worst is not None else "standard indoor climate"
    return needed.least, why


def surface_words(a: Assessment, found: Solved) -> str:
    """The verdict on the coldest point, in a sentence; '' where no surface is inside."""
    if found.f_rsi is None or found.coldest_temperature is None:
        return ""
    limit, why = least(a)
    safe = found.f_rsi >= limit
    words = f"f_Rsi {found.f_rsi:.2f} at the coldest point ({with_unit(found.coldest_temperature, 'temperature')}), "
    words += f"{'safe from mould' if safe else 'NOT safe from mould'} (limit {limit:.2f}, {why})"
    for months, what in ((a[NEEDS].mouldy(found.f_rsi), "mould may grow in"), (a[NEEDS].wet(found.f_rsi), "water condenses in")):
        if months:
            words += f"; {what} {', '.join(MONTH_NAMES[n] for n in months)}"
    return words


def months_row(a: Assessment) -> list[tuple[str, str, str]]:
    """(month, least f_Rsi against mould, against condensation); '–' where nothing is needed."""
    needed = a[NEEDS]
    return [(m, _least(needed.mould[n]), _least(needed.dew[n])) for n, m in enumerate(MONTHS)]


def _least(value: float | None) -> str:
    return "–" if value is None else f"{max(value, 0.0):.2f}"


def boundary_rows(detail: Detail) -> list[Row]:
    """(space, temperature, film)."""
    rows = []
    for s in detail.spaces:
        warm = show(s.temperature.value, "temperature") if s.temperature is not None else "?"
        film = show(s.film.value, "resistance") if s.film is not None else "by place, ISO 6946"
        rows.append((s.name if s.b is None else f"{s.name}, b {s.b.value:.2f}", warm, film))
    rows.append(("inside, where mould is judged", "", show(MOULD, "resistance")))
    rows.append(("cut planes", "", "no flow"))
    return rows


def grid_words(found: Solved) -> str:
    """How fine the grid is, in a sentence."""
    g = found.grid
    return f"{g.cells} cells; doubling them moved the flow by {100 * g.flow:.2f} % and ψ by {g.psi:.4f} W/(m·K); heat is kept within {g.kept:.0e}"
