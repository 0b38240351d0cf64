"""A pipe drawn on a plan, as a change."""

from __future__ import annotations

from collections.abc import Sequence

from nuthatch.core.changes.changes import Batch, ChangeRefused, Insert, SetValue, refusing
from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.edits.starts import starting
from nuthatch.core.model.home import Home
from nuthatch.core.model.hot_water import PipeCorner, PipeRun
from nuthatch.core.model.part import Basis, Given
from nuthatch.core.plans.roofs import Point2


@refusing
def pipe_drawn(home: Home, storey: str, points: Sequence[Point2]) -> Batch:
    """A new pipe through points of a storey [m]; the first where there is none is a circulation. Raises ChangeRefused for fewer than two
    points."""
    if len(points) < 2:
        raise ChangeRefused("a pipe has a beginning and an end: click two points at least")
    ident = fresh_ids(home, "pipe", 1)[0]
    corners = corners_of(ident, points)
    run = PipeRun.model_validate({**starting(PipeRun, home), "id": ident, "storey": storey, "corners": corners})
    return Batch(label=f"{run.name}, drawn", changes=(Insert(owner="hot-water", field="runs", value=run),))


@refusing
def pipe_redrawn(home: Home, run: str, storey: str, points: Sequence[Point2]) -> Batch:
    """A listed pipe gets its way through points of a storey; its typed length then gives way to what is drawn."""
    if len(points) < 2:
        raise ChangeRefused("a pipe has a beginning and an end: click two points at least")
    sets = (("storey", storey), ("corners", corners_of(run, points)), ("length", None))
    return Batch(label="the way of a pipe", changes=tuple(SetValue(part=run, field=f, value=v) for f, v in sets))


def corners_of(run: str, points: Sequence[Point2]) -> tuple[PipeCorner, ...]:
    """The corners of a pipe, each with an id of its own."""

    def given(value: float) -> Given:
        return Given(value=round(value, 4), basis=Basis.DECLARED, source="drawn")

    return tuple(PipeCorner(id=f"{run}.{n}", x=given(x), y=given(y)) for n, (x, y) in enumerate(points, 1))
