"""What the dossier shows of each build-up: its section, both limits of R, what it does over a day, and its moisture year."""

from __future__ import annotations

from typing import Any

from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.pictures import drawing
from nuthatch.core.fabric import buildup as fabric
from nuthatch.core.fabric.dynamic import dynamic
from nuthatch.core.fabric.vapour import Vapour, nearest_in_words, verdict
from nuthatch.core.model.home import BuildUp
from nuthatch.core.results.figure import Known, shown
from nuthatch.core.units import show, with_unit
from nuthatch.core.views.build_ups.section import MONTHS, Seen, section, section_in, use_in, vapour_of, winter_of
from nuthatch.core.views.openings.drawings import elevation


def buildups(a: Assessment) -> list[dict[str, Any]]:
    """One sheet for each build-up, for the template."""
    return [_sheet(a, build) for build in a.home.buildups]


def _sheet(a: Assessment, build: BuildUp) -> dict[str, Any]:
    use, _ = use_in(a, build)
    error = fabric.framing_error(build, use.direction, use.borders)
    found = fabric.limits(build, use.direction, use.borders)
    framed = found is not None and abs(found[0] - found[1]) > 1e-9
    day = dynamic(build, use.direction, use.borders)
    v = vapour_of(a, build)
    return {
        "part": build,
        "u": fabric.transmittance(build, use.direction, use.borders),
        "borders": use.borders,
        "error": None if not error or error < 1e-9 else f"±{100 * error:.1f} %",
        "limits": tuple(with_unit(r, "resistance", 3) for r in found) if framed and found is not None else None,
        "day": _day(day.periodic, day.decrement, day.shift, day.inner),
        "drawing": drawing(section_in(a, build)),
        "vapour": _vapour(a, build, v) if v is not None else None,
    }


def _day(periodic: Any, decrement: Any, shift: Any, inner: Any) -> str:
    """What it does with a day's swing, in words; '' where that is not known."""
    if not all(isinstance(f, Known) for f in (periodic, decrement, shift, inner)):
        return ""
    return (
        f"over a day (ISO 13786): periodic transmittance {shown(periodic)}, decrement {shown(decrement)}, "
        f"shift {shown(shift, 1)}, stores {shown(inner)} inside"
    )


def _vapour(a: Assessment, build: BuildUp, v: Vapour) -> dict[str, object]:
    """The moisture sheet: verdict, f_Rsi, s_d by layer, what is held month by month."""
    use, _ = use_in(a, build)
    needed = a.figures["surface_factor_needed"]
    rows = []
    if v.year is not None and not v.year.dry:
        for m, month in zip(v.year.order, v.year.months, strict=True):
            rows.append((MONTHS[m], show(float(month.change.sum()), "condensate"), show(float(month.held.sum()), "condensate")))
    return {
        "verdict": verdict(v),
        "surface": shown(v.surface),
        "needed": shown(needed),
        "nearest": nearest_in_words(v)[:1].upper() + nearest_in_words(v)[1:],
        "rows": rows,
        "drawing": drawing(section(build, use, Seen(outside=winter_of(a), vapour=v))) if rows else None,
    }


def opening_types(a: Assessment) -> list[dict[str, Any]]:
    """Each opening type with the first opening of it drawn."""
    first: dict[str, Any] = {}
    for o in a.home.openings:
        first.setdefault(o.type, o)
    return [
        {
            "part": t,
            "drawing": drawing(elevation(first[t.id], t)) if t.id in first else "",
            "caption": f"{t.name}, as {first[t.id].name}" if t.id in first else "",
        }
        for t in a.home.opening_types
    ]
