"""The chapter of options in the dossier, for those a person puts in: the ladder, its steps, all side by side."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.pictures import picture
from nuthatch.core.options.ladder import ladder
from nuthatch.core.views.options.rows import SAVED_HEADS, STEP_HEADS, saved_rows, side_by_side, step_cells


def options(a: Assessment) -> dict[str, object]:
    """Empty where no option is to stand in the dossier."""
    known = [(o.name, ladder(a, o)) for o in a.home.options if o.report]
    if not known:
        return {}
    sheets = [
        {
            "name": name,
            "about": f"after {one.option.name}" if one.option.after else "",
            "drawing": picture(a, "ladder", one.option.id),
            "rows": [step_cells(r, "heating_demand", a.home) for r in one.rungs],
            "saved": saved_rows(a, name, one),
        }
        for name, one in known
    ]
    beside = side_by_side(a, known[0][1].base, known)
    return {
        "heads": STEP_HEADS,
        "saved_heads": SAVED_HEADS,
        "sheets": sheets,
        "names": ["As it is", *(n for n, _ in known)],
        "beside": beside,
    }
