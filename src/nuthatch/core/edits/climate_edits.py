"""Months of the climate by hand, as changes."""

from __future__ import annotations

from nuthatch.core.changes.changes import Batch, Insert, Remove
from nuthatch.core.climate.calendar import NAMES
from nuthatch.core.climate.climate import Climate
from nuthatch.core.climate.months import PLANES
from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import Basis, Given
from nuthatch.core.model.site import ClimateMonth


def twelve(home: Home) -> Batch | None:
    """A row for every month that has none, empty; None where all are there."""
    there = {m.month for m in home.site.months}
    names = [n for n in NAMES if n not in there]
    ids = fresh_ids(home, "month", len(names))
    rows = (ClimateMonth(id=i, month=n) for i, n in zip(ids, names, strict=True))  # type: ignore[arg-type]  # names of months
    changes = tuple(Insert(owner="site", field="months", value=row, index=NAMES.index(row.month)) for row in rows)
    return Batch(label="Climate: twelve months by hand", changes=changes) if changes else None


def filled_from(home: Home, climate: Climate) -> Batch:
    """The twelve months of a climate as rows by hand, in the place of those that are there; ground reflectance stays."""
    ground = {m.month: m.reflectance for m in home.site.months}
    source = f"months of {climate.name}"

    def given(value: float, digits: int) -> Given:
        return Given(value=round(float(value), digits), basis=Basis.CALCULATED, source=source)

    ids = fresh_ids(home, "month", 12)
    rows = (
        ClimateMonth(
            id=ident,
            month=name,  # type: ignore[arg-type]  # names of months
            temperature=given(climate.temperature[m], 3),
            reflectance=ground.get(name),  # type: ignore[call-overload]
            **{field: given(climate.on_planes[n, m], 3) for n, (field, _, _) in enumerate(PLANES)},
        )
        for m, (ident, name) in enumerate(zip(ids, NAMES, strict=True))
    )
    gone = tuple(Remove(part=m.id) for m in home.site.months)
    return Batch(label="Climate: months as in the file", changes=(*gone, *(Insert(owner="site", field="months", value=r) for r in rows)))
