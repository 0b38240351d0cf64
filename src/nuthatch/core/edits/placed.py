"""A typed size or place of an opening that its face has no room for is refused, with what would fit."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from nuthatch.core.changes.changes import Change, ChangeRefused, SetValue
from nuthatch.core.model.home import Home, Opening
from nuthatch.core.model.part import Given, replace
from nuthatch.core.plans.polygons import Polygon, flat_outline
from nuthatch.core.solid.opening_places import misplaced, stands
from nuthatch.core.units import with_unit

ALONG = {"position": "from the left", "width": "wide"}
UPWARD = {"sill": "above level 0", "height": "high"}
FIELDS = (*ALONG, *UPWARD, "count", "apart")


def in_place(home: Home, change: Change, outlines: Mapping[str, Polygon]) -> Change:
    """The change, where the opening it concerns stands in its face with it, or did not before either. Raises ChangeRefused with what
    would fit. outlines: of the faces by id [m]."""
    if not isinstance(change, SetValue) or change.field not in FIELDS or change.value is None:
        return change
    old = next((o for o in home.openings if o.id == change.part), None)
    if old is None or old.face not in outlines:
        return change
    new = replace(old, **{change.field: change.value})
    row = [o for o in home.openings if o.face == old.face]
    before, after = (dict(misplaced(tuple(made if o is old else o for o in row), outlines)) for made in (old, new))
    why = after.get(new.id) or next((says for ident, says in after.items() if ident not in before), "")
    if not why or old.id in before:
        return change
    raise ChangeRefused(f"{why[0].upper()}{why[1:]}{_fits(new, change.field, outlines[old.face])}")


def _fits(opening: Opening, field: str, polygon: Polygon) -> str:
    """How much of a size or place fits between the edges of a face, where these are what it meets."""
    row: list[Any] = list(stands((opening,), opening.face, polygon))
    flat = flat_outline(polygon)
    wide, high = max(x for x, _ in flat), max(y for _, y in flat)
    over, above = max(s.left + s.width for s in row) - wide, max(s.up + s.height for s in row) - high
    given: Given | None = opening[field]
    if given is None:
        return ""
    if field in ALONG and over > 0:
        share = 1 if field == "position" else len(row)
        return f"; at most {with_unit(max(given.value - over / share, 0.0), 'length')} {ALONG[field]} fits"
    if field in UPWARD and above > 0:
        least = 0.0 if field == "height" else given.value - above  # a sill may lie below level 0
        return f"; at most {with_unit(max(given.value - above, least), 'length')} {UPWARD[field]} fits"
    return ""
