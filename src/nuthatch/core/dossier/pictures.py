"""Every drawing and chart that can stand in a dossier, by name: what boards pin and the report places."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from markupsafe import Markup

from nuthatch.core import step_drawings as step
from nuthatch.core.assess import Assessment
from nuthatch.core.charts import charts
from nuthatch.core.cutaway import cutaway, year_account
from nuthatch.core.fabric import buildup as fabric
from nuthatch.core.fabric.drawings import elevation, section
from nuthatch.core.fabric.opening_year import season_bars
from nuthatch.core.model.home import BuildUp, Opening, OpeningType, find
from nuthatch.core.shape.drawings import axonometric, plan
from nuthatch.core.sketch import Sketch, to_svg

Made = Sketch | Markup


def drawing(sketch: Sketch) -> Markup:
    """A sketch as inline SVG; its texts are escaped by the writer."""
    return Markup(to_svg(sketch))


def _chart(make: Callable[[], Any]) -> Markup:
    with charts.DRAWING:
        return Markup(charts.to_svg(make()))


def build_up_section(a: Assessment, ident: str) -> Sketch:
    """A build-up drawn as on the first face that uses it."""
    build = find(a.home, ident)
    if not isinstance(build, BuildUp):
        raise KeyError(ident)
    face = next((s for s in a.envelope.surfaces if s.buildup == build.id), None)
    direction, borders = (fabric.flow_direction(face.tilt), face.borders) if face else ("across", "outside air")
    return section(build, direction, borders, a.climate.winter_design if a.climate else -5.0)


def _opening(a: Assessment, ident: str) -> Sketch:
    opening = find(a.home, ident)
    if not isinstance(opening, Opening):
        raise KeyError(ident)
    kind = find(a.home, opening.type) if opening.type else None
    return elevation(opening, kind if isinstance(kind, OpeningType) else None)


def _season(a: Assessment, ident: str) -> Sketch:
    opening = find(a.home, ident)
    if not isinstance(opening, Opening):
        raise KeyError(ident)
    return season_bars(a, opening.id, opening.name)


def _climate(a: Assessment, _: str) -> Markup:
    climate = a.climate
    return Markup("") if climate is None else _chart(lambda: charts.site_months(climate, 7.4, 2.6))


PICTURES: dict[str, tuple[str, Callable[[Assessment, str], Made]]] = {
    "cutaway": ("Cutaway of the home", lambda a, _: cutaway(a)),
    "account": ("The year’s account", lambda a, _: year_account(a)),
    "plan": ("Plan", lambda a, _: plan(a)),
    "solid": ("The home from above", lambda a, _: axonometric(a)),
    "below": ("The home from below", lambda a, _: axonometric(a, height=-30)),
    "faces": ("Loss by face", lambda a, _: step.face_losses(a)),
    "take-off": ("Take-off", lambda a, _: step.take_off(a)),
    "amounts": ("Balance by month", lambda a, _: _chart(lambda: charts.balance_amounts(a, 7.4, 3.4))),
    "shares": ("Shares of the year’s losses", lambda a, _: _chart(lambda: charts.balance_shares(a, 7.4, 2.6))),
    "months": ("Balance by month, list", lambda a, _: step.months_table(a)),
    "climate": ("Climate by month", _climate),
    "section": ("Section of a build-up", build_up_section),
    "opening": ("Opening", _opening),
    "season": ("Opening in the months with heating", _season),
    "junctions": ("Junctions treated four ways", lambda a, _: step.junction_ways(a)),
    "air-paths": ("Air paths and what they lose", lambda a, _: step.air_paths(a)),
    "flows": ("Air flows", lambda a, _: step.air_flows(a)),
    "hot-water": ("Heat for hot water", lambda a, _: step.hot_water(a)),
    "household": ("Internal gains and electricity", lambda a, _: step.household(a)),
    "delivered": ("Delivered energy by use", lambda a, _: step.delivered(a)),
}


def picture(a: Assessment, key: str, of: str = "") -> Markup:
    """A picture as SVG; a note in its place where its part is gone or its name is not known."""
    found = PICTURES.get(key)
    try:
        if found is None:
            raise KeyError(key)
        made = found[1](a, of)
    except KeyError:
        return Markup("<p class='muted'>What was pinned here is no longer in the home.</p>")
    return made if isinstance(made, Markup) else drawing(made)
