"""The shape from storey plans, as ratios in one run: the envelope against one assess, a dragged corner, the solid turned, gbXML."""

from __future__ import annotations

import os
import statistics
import time
from collections.abc import Callable
from itertools import product

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from benchmarks.test_speed import _wait, say  # noqa: E402
from nuthatch.core.assess import assess, whole_plan  # noqa: E402
from nuthatch.core.changes.changes import SetValue, apply, declared  # noqa: E402
from nuthatch.core.climate.library import climate_for  # noqa: E402
from nuthatch.core.exchange import gbxml  # noqa: E402
from nuthatch.core.exchange.gbxml_plans import taken  # noqa: E402
from nuthatch.core.graph.plan import narrowed  # noqa: E402
from nuthatch.core.graph.runner import State, run  # noqa: E402
from nuthatch.core.model.home import Home, Opening  # noqa: E402
from nuthatch.core.model.part import replace  # noqa: E402
from nuthatch.core.model.plans import Outline, StoreyPlan  # noqa: E402
from nuthatch.core.solid.solid import Solid  # noqa: E402
from nuthatch.core.solid.stages import SOLID  # noqa: E402
from nuthatch.core.views.shape.axonometric import View, axonometric  # noqa: E402
from nuthatch.core.views.shape.plan_table import storey_plan  # noqa: E402
from nuthatch.desktop.app import application  # noqa: E402
from nuthatch.desktop.document import Document  # noqa: E402
from nuthatch.desktop.window import MainWindow  # noqa: E402
from tests.plan_home import plan_home  # noqa: E402
from tests.rooms_as_gbxml import document  # noqa: E402
from tests.simple_home import g  # noqa: E402


def comb(teeth: int) -> tuple[tuple[float, float], ...]:
    """An outline of 4·teeth sides: bays along one side."""
    points: list[tuple[float, float]] = [(0.0, 0.0), (4.0 * teeth, 0.0)]
    for n in range(teeth, 0, -1):
        x = 4.0 * n
        points += [(x, 8.0), (x - 2, 8.0), (x - 2, 6.0), (x - 4, 6.0)] if n > 1 else [(x, 8.0), (x - 2, 8.0), (x - 2, 6.0), (0.0, 6.0)]
    return tuple(dict.fromkeys(points))


def block(storeys: int, teeth: int, openings: int) -> Home:
    """A home of several storeys with bays, its windows spread over the walls."""
    home = plan_home()
    assert home.shape.plans is not None
    ring = comb(teeth)
    made = tuple(
        StoreyPlan(id=f"s{n}", name=f"Storey {n}", level=g(3.0 * n), height=g(3), floor_thickness=g(0.3),
                   outlines=(Outline(id=f"o{n}", name="House", sides=tuple(replace(s, id=f"o{n}.{m}") for m, s in enumerate(_sides(ring)))),))
        for n in range(storeys)
    )  # fmt: skip
    plans = replace(home.shape.plans, storeys=made, roofs=(), ground=g(-0.2))
    walls = [s.id for st in made for s in st.outlines[0].sides]
    windows = tuple(
        Opening(id=f"w{n}", name=f"W{n}", face=walls[n % len(walls)], type="window", width=g(0.8), height=g(1.0), count=g(1), position=g(0.4),
                sill=g(3.0 * (n % len(walls) // len(made[0].outlines[0].sides)) + 0.9), shade_winter=g(0.8), shade_summer=g(0.8))
        for n in range(openings)
    )  # fmt: skip
    return replace(home, shape=replace(home.shape, plans=plans), openings=windows)


def _sides(ring):  # type: ignore[no-untyped-def]
    from nuthatch.core.model.plans import Side

    return tuple(Side(id=f"x.{n}", x=g(x), y=g(y)) for n, (x, y) in enumerate(ring))


def median(work: Callable[[], object], times: int = 9) -> float:
    """Milliseconds."""
    found = []
    for _ in range(times):
        begin = time.perf_counter()
        work()
        found.append(1000 * (time.perf_counter() - begin))
    return statistics.median(found)


def geometry(home: Home, before: State | None = None) -> State:
    """Only what leads to the faces of a home."""
    return run(narrowed(whole_plan(), frozenset({SOLID.name}), frozenset()), home, None, before)


def test_the_envelope_from_plans() -> None:
    home = block(4, 3, 40)
    climate = climate_for(home, None)
    faces = len(assess(home, climate)[SOLID].boundaries)

    def built() -> None:
        geometry(home)

    whole = median(lambda: assess(home, climate))
    envelope = median(built)
    say(f"envelope of {faces} faces, 40 openings, 4 storeys", envelope, 2 * whole)
    print(f"  {envelope / whole:.2f} × one assess of it from nothing ({whole:.1f} ms), target 2")


def test_a_dragged_corner() -> None:
    home = plan_home()
    climate = climate_for(home, None)
    a = assess(home, climate)
    state = {"home": home, "a": a, "n": 0}

    def dragged() -> None:
        state["n"] += 1
        state["home"] = apply(SetValue(part="up.b", field="x", value=declared(10 + 0.05 * (state["n"] % 20 + 1))), state["home"])
        state["a"] = assess(state["home"], climate, state["a"])
        storey_plan(state["a"], "upper")

    say("a corner dragged: faces, take-off, results and the plan drawn anew", median(dragged, 19), 100)


def test_geometry_and_take_off_while_dragging() -> None:
    """What has to follow at 30 frames a second: the faces and their take-off."""
    home = plan_home()
    start = geometry(home)
    state = {"n": 0}

    def built() -> None:
        state["n"] += 1
        moved = apply(SetValue(part="up.b", field="x", value=declared(10 + 0.0137 * state["n"])), home)
        solid: Solid = geometry(moved, start).values[SOLID.name]
        sum(solid.areas.values())

    say("a corner dragged: faces, rooms, areas", median(built, 19), 33)


_EDITS = (
    ("a window", "w7", "width", 0.8),
    ("a layer's λ", "wall.1", "conductivity", 0.035),
    ("a layer's thickness, with all inner faces,", "wall.1", "thickness", 0.2),
    ("the soil", "site", "soil_conductivity", 2.0),
)


def test_one_edit_of_a_large_home() -> None:
    home = block(10, 10, 500)
    app = application()
    window = MainWindow(Document(home))
    window.resize(1280, 800)
    window.show()
    window.show_step("openings")
    _wait(app, window)
    faces = len(window.document.assessment[SOLID].boundaries)
    for what, part, field, start in _EDITS:
        times = []
        for n in range(7):
            value = start * (1 + 0.01 * (n + 1))
            begin = time.perf_counter()
            window.document.desk.typed(part, field, value)
            window.margins.bars.repaint()
            times.append(1000 * (time.perf_counter() - begin))
            app.processEvents()
        say(f"{what} edited in a home of {faces} faces, 500 openings, to margins painted", statistics.median(times), 100)
    window.document.session.saved()
    window.close()


def test_a_dragged_corner_in_the_window() -> None:
    home = plan_home()
    app = application()
    window = MainWindow(Document(home))
    window.resize(1280, 800)
    window.show()
    window.show_step("shape")
    _wait(app, window)
    board = window.board("shape")
    view = board.plans.table.plan
    times = []
    for n in range(15):
        handle = next(h for h in view.sketch.handles if h.id == "corner:low.d")
        begin = time.perf_counter()
        view.dragged.emit(handle, tuple(p.value + 0.05 * (1 if n % 2 else -1) for p in handle.pulls))
        window.margins.bars.repaint()
        times.append(1000 * (time.perf_counter() - begin))
        app.processEvents()
    say("a corner dragged in the window, to margins painted", statistics.median(times), 100)
    window.document.session.saved()
    window.close()


def test_the_solid_turned() -> None:
    home = block(10, 10, 0)
    a = assess(home, climate_for(home, None))
    turn = {"t": 0.0}

    def once() -> None:
        turn["t"] += 3.0
        axonometric(a, View(turn["t"], 26.0))

    say(f"the solid of {len(a[SOLID].outer)} faces turned", median(once), 33)


def test_gbxml() -> None:
    home = block(12, 10, 100)
    a = assess(home, climate_for(home, None))
    data = gbxml.write(a)
    say(f"gbXML of {len(a[SOLID].boundaries)} surfaces written", median(lambda: gbxml.write(a), 3), 1000)
    say("and read", median(lambda: taken(data), 3), 1000)
    boxes = {f"r{n}": [(2 * x, 2 * y, 2 * z, 2 * x + 1, 2 * y + 1, 2 * z + 1)] for n, (x, y, z) in enumerate(product(range(12), repeat=3))}
    large = document(boxes, (4.0, 4.0, 3.0))
    started = time.perf_counter()
    assess(taken(large).home, None)
    say("gbXML of 10 368 surfaces read and first assessed, once", 1000 * (time.perf_counter() - started), 5000)
