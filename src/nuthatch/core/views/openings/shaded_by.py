"""What takes the sun of an opening: each thing that stands before it, its own edges, the horizon, left out in turn.

What several take together is more than the sum of what each takes, or less: light another one would take as well comes back with none.
"""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.climate.climate import PlaneSun
from nuthatch.core.fabric.stages import SUN
from nuthatch.core.graph.progress import heard_by, listening
from nuthatch.core.graph.runner import Stores
from nuthatch.core.library import results_on_disk
from nuthatch.core.model.home import Home, Opening, OpeningType, find
from nuthatch.core.results.figure import Array, Known
from nuthatch.core.solid.stages import BOUNDARY
from nuthatch.core.sun.edges import Edges
from nuthatch.core.sun.let_in import LetIn, counted, let_in
from nuthatch.core.sun.openings import Stood, edges_of, glazing_of
from nuthatch.core.sun.shares import Far, Skyline, SunPath, far_of, shares
from nuthatch.core.sun.stages import FACE_SUN, GROUND, LET_IN, OWN, PATH, REVEAL, RISE, SKYLINE, STOOD, TURN, things_of
from nuthatch.core.sun.standing import Thing, before

HOME, EDGES, HORIZON = "home", "edges", "horizon"
NAMES = {HOME: "own shape", EDGES: "own edges", HORIZON: "horizon, ring"}
COLD = (9, 10, 11, 0, 1, 2, 3)
"""Months of winter north of the equator."""


@dataclass(frozen=True)
class Taken:
    """What one thing takes of the sun of an opening: id of an object, or HOME, EDGES, HORIZON; its name; kWh in the months of winter and in
    those of summer; of what comes in in winter, as a share."""

    id: str
    name: str
    winter: float
    summer: float
    share: float


@dataclass(frozen=True, eq=False)
class _Met:
    """An opening as the sun meets it, with what several ways of leaving out share."""

    at: tuple[float, float]
    path: SunPath
    plane: PlaneSun
    edges: Edges
    skyline: Skyline | None
    glazing: Any
    ground: Array

    def reach(self, edges: Edges, skyline: Skyline | None, far: Far | None) -> Array:
        """What reaches the glass by month, the angle counted, (12,) [kWh/m²]."""
        made = shares(edges, self.at, self.path, skyline, far)
        got = let_in(self.plane, self.at, self.path, made, self.glazing, self.ground, np.zeros(365))
        return counted(got)


def shaded_by(a: Assessment, opening: Opening) -> tuple[Taken, ...]:
    """What takes its sun, the most first; none where a share is typed, or nothing is known of its sun."""
    met, stood, now = _met(a, opening), a.all_of(STOOD).get(opening.id), a.all_of(LET_IN).get(opening.id)
    sun = a.all_of(SUN).get(opening.id)
    if met is None or not isinstance(now, LetIn) or opening.shade_winter is not None or sun is None or not isinstance(sun.months, Known):
        return ()
    things = things_of(a[OWN], a.home.site.objects, a[TURN], a[RISE])
    standing = _standing(stood, things)
    own = frozenset(k for k, _ in a[OWN])
    far = _far(stood, standing, met.path)
    all_of_it = met.reach(met.edges, met.skyline, far)
    scale = np.divide(np.asarray(sun.months.value), all_of_it, out=np.zeros(12), where=all_of_it > 0)
    without: dict[str, Array] = {}
    for ident in {HOME if t.id in own else t.id for t in standing}:
        left = tuple(t for t in standing if (HOME if t.id in own else t.id) != ident)
        without[ident] = met.reach(met.edges, met.skyline, _far(stood, left, met.path))
    bare = Edges(met.edges.width, met.edges.height, met.edges.frame)
    if met.edges != bare:
        without[EDGES] = met.reach(bare, met.skyline, far)
    if met.skyline is not None:
        without[HORIZON] = met.reach(met.edges, None, far)
    names = NAMES | {o.id: o.name or o.kind for o in a.home.site.objects}
    months = np.isin(np.arange(12), COLD) != (met.path.latitude < 0)
    let = float(np.asarray(sun.months.value)[months].sum())
    rows = []
    for ident, reach in without.items():
        taken = scale * (reach - all_of_it)
        winter, summer = float(taken[months].sum()), float(taken[~months].sum())
        rows.append(Taken(ident, names.get(ident, ident), winter, summer, winter / (let + winter) if let + winter > 0 else 0.0))
    return tuple(sorted(rows, key=lambda t: -t.winter))


def _met(a: Assessment, opening: Opening) -> _Met | None:
    face, kind, path = a.all_of(BOUNDARY).get(opening.face), find(a.home, opening.type), a[PATH]
    plane = a.all_of(FACE_SUN).get(opening.face)
    if face is None or not isinstance(kind, OpeningType) or not isinstance(path, SunPath) or not isinstance(plane, PlaneSun):
        return None
    edges = edges_of(opening, kind, a.all_of(REVEAL).get(opening.id, 0.0))
    sky, fixed = a[SKYLINE], a.home.site.incidence
    if edges is None:
        return None
    glazing = fixed.value if fixed is not None else glazing_of(kind)
    return _Met((face.tilt, face.azimuth), path, plane, edges, sky, glazing, np.array(a[GROUND]))


def _standing(stood: Stood | None, things: tuple[Thing, ...]) -> tuple[Thing, ...]:
    """Things of which a part stands before an opening of the row."""
    if stood is None:
        return ()
    return tuple(t for t in things if any(before(o, (t,)) for o in stood.opened()))


def _far(stood: Stood | None, things: tuple[Thing, ...], path: SunPath) -> Far | None:
    return far_of(stood.opened(), things, path) if stood is not None and things else None


_last: list[Assessment] = []
"""What this process worked out last: after an edit only what it touches is worked out anew."""


def shaded_all(home: Home, climate: Any, cache: Path | None = None) -> dict[str, tuple[Taken, ...]]:
    """The same of every opening of a home; each is told as soon as it is there."""
    say, found = listening(), {}
    with heard_by(lambda _: None):
        a = assess(home, climate, _last[0] if _last else None, stores=Stores(slow=results_on_disk(cache)))
        _last[:] = [a]
        for opening in home.openings:
            found[opening.id] = shaded_by(a, opening)
            say((opening.id, found[opening.id]))
    return found
