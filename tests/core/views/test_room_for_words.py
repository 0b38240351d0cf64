"""Words of drawings stay on their sheet and out of each other's way, where room is short and numbers are long. A letter of the font is in the
mean 0.54 of its size wide (measured on Inter, as `fitted` counts it)."""

from __future__ import annotations

from itertools import pairwise

import pytest
from shapely import Polygon, box

from nuthatch.core.assess import Assessment
from nuthatch.core.sketch import Sketch, Text, folded
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.units import METRIC, SYSTEMS, using, with_unit
from nuthatch.core.views.balance.drawings import months_table
from nuthatch.core.views.junctions.on_solid import junction_solid
from nuthatch.core.views.shape.plan_frame import frame_of
from nuthatch.core.views.shape.plan_table import storey_plan

LETTER = 0.54


def reach(t: Text) -> tuple[float, float]:
    """From where to where a text lies."""
    long = LETTER * t.size * len(t.text)
    left = t.x - {"start": 0.0, "middle": long / 2, "end": long}[t.anchor]
    return left, left + long


def texts(made: Sketch) -> list[Text]:
    return [i for i in made.items if isinstance(i, Text)]


@pytest.mark.parametrize("system", sorted(SYSTEMS))
@pytest.mark.parametrize("key", ["osier-lane-7", "weir-cottage"])
def test_lengths_of_walls_stay_on_the_sheet(system: str, key: str, demo_assessments: dict[str, Assessment]) -> None:
    a = demo_assessments[key]
    plans = a.home.shape.plans
    assert plans is not None
    with using(system):
        for size in ((480.0, 380.0), (430.0, 400.0), (900.0, 420.0)):
            for storey in plans.storeys:
                made = storey_plan(a, storey.id, size=size)
                lengths = [t for t in texts(made) if t.id.startswith("length:")]
                assert lengths
                for t in lengths:
                    assert reach(t)[0] >= 0 and reach(t)[1] <= made.width, (t.text, size)


@pytest.mark.parametrize("system", sorted(SYSTEMS))
@pytest.mark.parametrize("width", [560.0, 640.0, 900.0])
def test_the_legend_of_junctions_stays_on_the_sheet(system: str, width: float, demo_assessments: dict[str, Assessment]) -> None:
    with using(system):
        made = junction_solid(demo_assessments["weir-cottage"], size=(width, 440.0))
        legend = [t for t in texts(made) if t.y == made.height - 12.0]
        assert len(legend) == 8 and all(reach(t)[1] <= made.width for t in legend)
        assert all(reach(a)[1] < reach(b)[0] for a, b in pairwise(legend))


@pytest.mark.parametrize("system", sorted(SYSTEMS))
@pytest.mark.parametrize("key", ["osier-lane-7", "weir-cottage"])
def test_months_never_run_into_each_other(system: str, key: str, demo_assessments: dict[str, Assessment]) -> None:
    with using(system):
        made = months_table(demo_assessments[key], 640.0)
        rows: dict[float, list[Text]] = {}
        for t in texts(made):
            rows.setdefault(t.y, []).append(t)
        assert len(rows) == 13
        for row in rows.values():
            assert all(reach(a)[1] <= reach(b)[0] for a, b in pairwise(row)), [t.text for t in row]


def test_a_name_goes_on_as_many_lines_as_it_needs_and_is_cut_only_then() -> None:
    assert folded("WC and store", 200, 12) == ["WC and store"]
    assert folded("WC and store", 40, 12) == ["WC and", "store"]
    assert folded("Conservatory", 40, 12) == ["Conse…"], "a word is not parted"
    assert folded("Living and dining room", 50, 12) == ["Living", "and…"] and folded("WC and store", 40, 12, 1) == ["WC an…"]
    made = Sketch(100, 100)
    made.name(50, 80, "WC and store", (40, 30), 12, anchor="middle")
    made.name(50, 40, "WC and store", (40, 30), 12, centred=True)
    assert [(t.text, t.y) for t in texts(made)] == [("WC and", 66.5), ("store", 80), ("WC and", 33.25), ("store", 46.75)]


@pytest.mark.parametrize("system", sorted(SYSTEMS))
@pytest.mark.parametrize(("storey", "size"), [("ground", (480.0, 380.0)), ("upper", (480.0, 380.0)), ("ground", (640.0, 440.0))])
def test_names_of_rooms_stand_whole_within_their_walls(
    storey: str, size: tuple[float, float], system: str, demo_assessments: dict[str, Assessment]
) -> None:
    """At the least size a plan has in a window: every name in full, no amount cut, all of it over its own room."""
    a = demo_assessments["osier-lane-7"]
    with using(system):
        made = storey_plan(a, storey, size=size)
        rooms = {r.id: r for r in a[BUILT].rooms if r.storey == storey}
        said: dict[str, list[Text]] = {}
        for t in texts(made):
            if t.id in rooms:
                said.setdefault(t.id, []).append(t)
        assert a.home.shape.plans is not None
        frame = frame_of(a.home.shape.plans, size)
        areas = {ident: Polygon([frame.at(p) for p in r.measure.outline]) for ident, r in rooms.items()}
        assert set(said) == set(rooms) == set(areas) != set()
        for ident, lines in said.items():
            words = " ".join(t.text for t in lines if t.bold)
            assert words == rooms[ident].name and not any("…" in t.text for t in lines), words
            amount = [t.text for t in lines if not t.bold]
            assert amount == [with_unit(rooms[ident].area, "area")] or (system != METRIC and size[0] < 640 and not amount), (
                "whole, or not at all"
            )
            for t in lines:
                assert areas[ident].buffer(2).contains(box(reach(t)[0], t.y - 0.7 * t.size, reach(t)[1], t.y)), (t.text, ident)
