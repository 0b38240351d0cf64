"""The sun on one opening in every hour: what of its glass is sunlit, and the beam that comes in; worked out for the one that is looked at."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from nuthatch.core.assess import Assessment
from nuthatch.core.climate.climate import PlaneSun
from nuthatch.core.climate.sun import MONTH_HOURS
from nuthatch.core.fabric.stages import SUN
from nuthatch.core.model.home import Opening, OpeningType, find
from nuthatch.core.results.figure import Array, Known
from nuthatch.core.solid.stages import BOUNDARY
from nuthatch.core.sun.edges import Edges, axes
from nuthatch.core.sun.glazing import Glazing, at_angle
from nuthatch.core.sun.let_in import LetIn, counted
from nuthatch.core.sun.openings import edges_of, glazing_of
from nuthatch.core.sun.shares import Far, Skyline, SunPath, shares
from nuthatch.core.sun.stages import FACE_SUN, FAR, LET_IN, PATH, REVEAL, SKYLINE


@dataclass(frozen=True, eq=False)
class Hours:
    """By hour of the year, (8760,): sunlit share of the glass; beam through the glass as the file's weather has it [W]."""

    sunlit: Array
    beam: Array

    def beam_by_month(self) -> Array:
        """Mean of the days of a month by hour of day, (12, 24) [W]."""
        days = np.concatenate([[0], np.cumsum(MONTH_HOURS)[:-1]]) // 24
        return np.asarray(np.add.reduceat(self.beam.reshape(365, 24), days, axis=0) / (MONTH_HOURS / 24)[:, None])


def hours_of(a: Assessment, opening: Opening) -> Hours | None:
    """The hours of one row of openings, all of them together; None where its sun is not known."""
    face, kind, path = a.all_of(BOUNDARY).get(opening.face), find(a.home, opening.type), a[PATH]
    plane, far = a.all_of(FACE_SUN).get(opening.face), a.all_of(FAR).get(opening.id)
    if face is None or not isinstance(kind, OpeningType) or not isinstance(path, SunPath) or not isinstance(plane, PlaneSun):
        return None
    edges = edges_of(opening, kind, a.all_of(REVEAL).get(opening.id, 0.0))
    if edges is None or not (far is None or isinstance(far, Far)):
        return None
    sun, now = a.all_of(SUN).get(opening.id), a.all_of(LET_IN).get(opening.id)
    if sun is None or not isinstance(sun.months, Known) or not isinstance(now, LetIn):
        return None
    reach = float(counted(now).sum())
    heat = float(np.sum(sun.months.value)) / reach if reach > 0 else 0.0  # m² of glass, its g and dirt counted
    fixed = a.home.site.incidence
    glazing = fixed.value if fixed is not None else glazing_of(kind)
    return _hours(edges, (face.tilt, face.azimuth), path, a[SKYLINE], far, plane, glazing, heat)


@lru_cache(maxsize=6)
def _hours(
    edges: Edges,
    at: tuple[float, float],
    path: SunPath,
    skyline: Skyline | None,
    far: Far | None,
    plane: PlaneSun,
    glazing: Glazing | float,
    heat: float,
) -> Hours:
    sunlit = shares(edges, at, path, skyline, far).beam
    cosine = np.clip(path.ways @ axes(*at)[2], 0.0, 1.0)
    angle = at_angle(glazing, np.degrees(np.arccos(cosine))) if isinstance(glazing, Glazing) else glazing
    return Hours(sunlit, plane.beam * sunlit * angle * heat)
