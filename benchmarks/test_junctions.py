"""Junctions and details, as ratios in one run: finding against one assess, a section's solve against the bare solve of its matrix."""

from __future__ import annotations

import time

import numpy as np
from scipy.sparse.linalg import splu

from benchmarks.test_shape import block, median
from benchmarks.test_speed import say
from nuthatch.core.assess import assess
from nuthatch.core.climate.library import climate_for
from nuthatch.core.heatflow import solve as solving
from nuthatch.core.heatflow.mesh import mesh
from nuthatch.core.heatflow.section import checked
from nuthatch.core.junctions.found import Shape, found
from nuthatch.core.junctions.stages import FOUND
from nuthatch.core.solid.closure import edges_of
from nuthatch.core.solid.stages import EDGES, SOLID
from tests.core.heatflow.drawn import BRICK, corner, mitred


def test_finding_the_junctions_of_sixty_faces() -> None:
    """60 faces, 40 openings: found in at most 30 ms where one assess of a simple home takes 4."""
    home = block(3, 4, 40)
    a = assess(home, climate_for(home, None))
    solid = a[SOLID]
    shape = Shape({b.id: b for b in solid.boundaries}, a[EDGES], True, solid.outer, solid.inner, solid.storeys, solid.around)
    took = median(lambda: found(shape, edges_of(solid.inner)))
    say(f"junctions of {len(solid.boundaries)} faces: {len(a[FOUND])} found", took, 30.0)
    assert a[FOUND]


def test_a_solve_beside_the_bare_solve() -> None:
    """15 000 cells at most 0.3 s, 100 000 at most 3 s and 1.25 times the bare sparse solve of the same matrix."""
    kept = []
    real = splu

    def watched(matrix, **how):  # type: ignore[no-untyped-def]
        kept.append((matrix, how))
        return real(matrix, **how)

    for section, fineness in ((corner(BRICK), 3.0), (mitred(BRICK, BRICK, 45), 2.1), (corner(BRICK), 8.0)):
        whole = checked(section)
        solving.splu = watched
        begin = time.perf_counter()
        made = mesh(whole, fineness)
        meshed = time.perf_counter()
        solving.solve(whole, made)
        solved = time.perf_counter()
        solving.splu = real
        matrix, how = kept[-1]
        begin_bare = time.perf_counter()
        real(matrix, **how).solve(np.ones((matrix.shape[0], len(whole.spaces))))
        bare = time.perf_counter() - begin_bare
        words = f"{section.name}, {made.cells} cells: mesh {1000 * (meshed - begin):.0f} ms, solve {1000 * (solved - meshed):.0f} ms"
        say(words, 1000 * (solved - begin), 300.0 if made.cells < 20_000 else 3000.0)
        print(f"  {(solved - meshed) / bare:.2f} times the bare solve, {(solved - begin) / bare:.2f} with its mesh")
