"""DXF drawings read to trace from, made by ezdxf: units, layers, blocks, single lines, frames, curves; and our own plans written."""

from __future__ import annotations

import io
import time
from collections.abc import Callable
from math import pi
from typing import Any

import ezdxf
import pytest
import shapely

from nuthatch.core.assess import assess
from nuthatch.core.edits import plan_files
from nuthatch.core.exchange.drawn import as_dxf
from nuthatch.core.exchange.dxf_lines import MOST, SAGITTA, lines_of
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.model.part import replace
from nuthatch.core.model.plans import Hole, StoreyPlan
from tests.plan_home import plan_home, sides
from tests.simple_home import g

L = ((0, 0), (10, 0), (10, 6), (6, 6), (6, 10), (0, 10))


def made(draw: Callable[[Any, Any], None], units: int = 6) -> bytes:
    document = ezdxf.new("R2010")  # type: ignore[attr-defined]
    document.units = units
    draw(document, document.modelspace())
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode()


def areas(data: bytes) -> list[float]:
    return sorted((round(shapely.Polygon(r).area, 2) for r in lines_of(data).closed), reverse=True)


def single(space: Any, points: tuple[tuple[float, float], ...], k: float = 1.0, **more: Any) -> None:
    """A house of single lines, each by itself, walked to and fro."""
    for n, (a, b) in enumerate(zip(points, points[1:] + points[:1], strict=True)):
        p, q = (a, b) if n % 2 else (b, a)
        space.add_line((p[0] * k, p[1] * k), (q[0] * k, q[1] * k), dxfattribs=more)


@pytest.mark.parametrize("units", [4, 0])
def test_arcs_in_millimetres_are_drawn_to_half_a_centimetre(units: int) -> None:
    """A circle of 4 m radius: as many pieces as its sagitta of 5 mm asks for, by 2·acos(1 − s/r), whether the unit is said or guessed."""
    found = lines_of(made(lambda _, s: (s.add_circle((0, 0), 4000), single(s, L, 1000)), units))
    round_ones = [p for p in found.pieces if abs((p[0][0] ** 2 + p[0][1] ** 2) ** 0.5 - 4) < 0.01]
    assert found.width == pytest.approx(14, abs=0.01) and 60 <= len(round_ones) <= 130
    assert all(abs(((a[0] + b[0]) ** 2 + (a[1] + b[1]) ** 2) ** 0.5 / 2 - 4) < 1.2 * SAGITTA for a, b in round_ones)
    assert sum(((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2) ** 0.5 for a, b in round_ones) == pytest.approx(8 * pi, rel=2e-3)


def test_a_house_of_single_lines_closes() -> None:
    assert areas(made(lambda _, s: single(s, L))) == [84.0]
    assert areas(made(lambda _, s: single(s, L, 1000), 4)) == [84.0]
    hair = tuple((x + 0.0004 * (n % 2), y) for n, (x, y) in enumerate(L))
    assert areas(made(lambda _, s: single(s, hair)))[0] == pytest.approx(84, abs=0.02), "ends a hair apart meet"
    open_one = made(lambda _, s: [s.add_line(a, b) for a, b in zip(L, L[1:], strict=False)])
    assert areas(open_one) == [], "what is open is none"


def test_double_walls_give_their_outer_line() -> None:
    def draw(_: Any, s: Any) -> None:
        single(s, L)
        single(s, ((0.3, 0.3), (9.7, 0.3), (9.7, 5.7), (5.7, 5.7), (5.7, 9.7), (0.3, 9.7)))
        s.add_line((0.3, 5.7), (5.7, 5.7))

    assert areas(made(draw))[0] == 84.0


def test_layers_that_are_off_or_frozen_are_not_read() -> None:
    def draw(document: Any, s: Any) -> None:
        for name in ("shown", "off", "frozen"):
            document.layers.add(name)
        document.layers.get("off").off()
        document.layers.get("frozen").freeze()
        single(s, L, layer="shown")
        single(s, ((20, 0), (25, 0), (25, 5), (20, 5)), layer="off")
        block = document.blocks.new("b")  # on layer 0: it is that of the block put in
        single(block, ((0, 0), (4, 0), (4, 4), (0, 4)))
        s.add_blockref("b", (30, 0), dxfattribs={"layer": "frozen"})
        s.add_blockref("b", (-10, 0), dxfattribs={"layer": "shown"})
        s.add_line((50, 0), (60, 0), dxfattribs={"invisible": 1})

    found = lines_of(made(draw))
    assert areas(made(draw)) == [84.0, 16.0] and found.width == pytest.approx(20)


def test_what_a_block_has_on_layer_0_is_on_the_layer_it_is_put_in_on() -> None:
    def draw(document: Any, s: Any) -> None:
        document.layers.add("walls")
        document.layers.get("0").freeze()
        block = document.blocks.new("b")
        single(block, L)
        s.add_blockref("b", (0, 0), dxfattribs={"layer": "walls"})
        single(s, ((20, 0), (25, 0), (25, 5), (20, 5)))

    assert areas(made(draw)) == [84.0], "the house in its block is shown, what lies on layer 0 itself is not"


@pytest.mark.parametrize(("units", "own", "size"), [(6, 4, 2000), (4, 6, 2), (6, 2, 2 / 0.3048), (6, 0, 2), (0, 4, 2)])
def test_blocks_have_their_own_unit(units: int, own: int, size: float) -> None:
    """A block of 2 × 2 m in millimetres, metres, feet, or without a unit, put into a drawing in another."""

    def draw(document: Any, s: Any) -> None:
        k = 1000 if units == 4 else 1
        single(s, L, k)
        block = document.blocks.new("b")
        block.units = own
        block.add_lwpolyline([(0, 0), (size, 0), (size, size), (0, size)], close=True)
        s.add_blockref("b", (3 * k, 2 * k))

    found = lines_of(made(draw, units))
    small = min((shapely.Polygon(r) for r in found.closed), key=lambda p: p.area)
    assert small.bounds == pytest.approx((3, 2, 5, 4), abs=1e-6)


def test_the_house_in_the_frame_of_a_sheet_is_offered() -> None:
    """A frame, a head in its corner, the house: the largest first, the house thought meant; nothing is taken without asking."""

    def draw(_: Any, s: Any) -> None:
        single(s, ((-10, -8), (32, -8), (32, 21), (-10, 21)))
        s.add_lwpolyline([(22, -8), (32, -8), (32, -5), (22, -5)], close=True)
        single(s, L)

    home = plan_home(storeys=(StoreyPlan(id="s", name="S", height=g(3)),), roofs=())
    rings = plan_files.outlines_to_choose(home, "s", lines_of(made(draw)).closed)
    found = [round(shapely.Polygon(r).area) for r in rings]
    assert found == [42 * 29, 84, 30] and plan_files.nested(rings) and plan_files.likely_outline(rings) == 1
    assert not plan_files.nested(rings[1:]) and plan_files.likely_outline(rings[1:]) == 0


@pytest.mark.parametrize(("k", "unit"), [(1, "metres"), (1000, "millimetres"), (100, "centimetres"), (1 / 0.0254, "inches")])
def test_a_drawing_without_a_unit_says_so(k: float, unit: str) -> None:
    """Each unit as wide as it would make the plan; what is likeliest for 10 m is found but for inches (394, 33 feet wide otherwise)."""
    found = lines_of(made(lambda _, s: single(s, L, k), 0))
    assert not found.said and found.width_in(unit) == pytest.approx(10)
    assert found.unit == unit or unit in ("inches", "centimetres")
    assert lines_of(made(lambda _, s: single(s, L, k), 6)).said


def circles(space: Any) -> None:
    for n in range(40):
        space.add_circle((n, 0), 9e6)


@pytest.mark.parametrize("draw", [lambda s: s.add_circle((0, 0), 1e12), lambda s: s.add_lwpolyline([(0, 0, 0, 0, 1e-9), (9e6, 0)])])
def test_what_has_no_end_is_left_out_at_once(draw: Callable[[Any], None]) -> None:
    started = time.process_time()
    found = lines_of(made(lambda _, s: (single(s, L), draw(s))))
    assert time.process_time() - started < 5 and found.pieces


def test_too_many_pieces_are_counted_before_they_are_drawn() -> None:
    started = time.process_time()
    with pytest.raises(HomeFileError, match=f"more than {MOST} lines"):
        lines_of(made(lambda _, s: circles(s)))
    assert time.process_time() - started < 5


def test_reading_says_how_far_it_is_and_can_be_ended() -> None:
    told: list[float] = []
    data = made(lambda _, s: [s.add_line((n, 0), (n, 1)) for n in range(2000)])
    lines_of(data, told.append)
    assert told == sorted(told) and len(told) > 4 and told[0] > 0 and told[-1] < 1

    class Ended(Exception):
        pass

    def stop(_: float) -> None:
        raise Ended

    with pytest.raises(Ended):
        lines_of(made(lambda _, s: single(s, L, 1.01)), stop)


# out


def test_our_own_drawing_has_courts_openings_and_real_units() -> None:
    """Each kind on a layer of its own; the court's walls with the others; in metres by the file's own header."""
    home = plan_home()
    assert home.shape.plans is not None
    ground, upper = home.shape.plans.storeys
    court = Hole(id="court", name="Court", sides=sides("court", ((2.0, 2.0), (4.0, 2.0), (4.0, 4.0), (2.0, 4.0))))
    low = replace(ground.outlines[0], holes=(court,))
    plans = replace(home.shape.plans, storeys=(replace(ground, outlines=(low, *ground.outlines[1:])), upper))
    document = ezdxf.read(io.StringIO(as_dxf(assess(replace(home, shape=replace(home.shape, plans=plans)), None)).decode()))  # type: ignore[attr-defined]
    assert document.units == 6 and document.header["$MEASUREMENT"] == 1
    rows: dict[str, list[shapely.Polygon]] = {}
    for line in document.modelspace().query("LWPOLYLINE"):
        rows.setdefault(line.dxf.layer, []).append(shapely.Polygon([(p[0], p[1]) for p in line.get_points("xy")]))
    walls = shapely.union_all(rows["WALLS"])
    assert walls.contains(shapely.Point(2.0, 1.85)) and not walls.contains(shapely.Point(3.0, 3.0)), (
        "the wall around the court lies outside it"
    )
    windows = [w for w in rows["WINDOWS"] if w.bounds[1] < 11]
    assert any(w.bounds == pytest.approx((1.0, 0.0, 2.2, 0.3), abs=1e-6) for w in windows), "the first window, through its wall"
    assert {"WALLS", "INNER-WALLS", "WINDOWS", "ROOMS", "UNHEATED", "ELEVATIONS", "ROOF"} <= {layer.dxf.name for layer in document.layers}
    assert rows["ROOF"] and rows["UNHEATED"]
