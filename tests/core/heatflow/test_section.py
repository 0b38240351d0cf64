"""What is wrong with a section is said by block and place; nothing crashes, nothing is worked out that has no meaning."""

from __future__ import annotations

from dataclasses import replace

import pytest

from nuthatch.core.heatflow.section import Block, Flank, Section, SectionFault, Space, checked
from nuthatch.core.heatflow.worked import worked
from tests.core.heatflow.drawn import BRICK, corner, frame, mitred, plane, rect, slab_edge

WALL = plane(BRICK)


def with_block(n: int, **changes: object) -> Section:
    return replace(WALL, blocks=tuple(replace(b, **changes) if i == n else b for i, b in enumerate(WALL.blocks)))  # type: ignore[arg-type]


@pytest.mark.parametrize("section", [WALL, corner(BRICK), corner(BRICK, inner=True), mitred(BRICK, BRICK, 45), slab_edge(), frame()])
def test_whole_sections_are_taken(section: Section) -> None:
    made = checked(section)
    assert made.flanks == section.flanks and [b.name for b in made.blocks] == [b.name for b in section.blocks]
    assert sum(s.area for s in made.shapes) == pytest.approx(sum(s.area for s in section.shapes), rel=1e-6)


@pytest.mark.parametrize(
    ("section", "says"),
    [
        (with_block(0, conductivity=0.0), "“layer 0” has λ 0"),
        (with_block(0, conductivity=float("nan")), "“layer 0” has λ nan"),
        (with_block(1, conductivity=1e9), "“layer 1” has λ"),
        (with_block(0, outline=((0.0, 0.0), (1.0, 0.0))), "has 2 corners"),
        (with_block(0, outline=((0.0, 0.0), (0.3, 0.6), (0.3, 0.0), (0.0, 0.6))), "crosses or touches itself"),
        (with_block(0, outline=((0.0, 0.0), (0.3, 0.0), (0.6, 0.0))), "“layer 0”"),
        (with_block(0, outline=rect(0, 0, 0.34, 0.6)), "“layer 0” and “layer 1” lie over each other by 60.0 cm²"),
        (with_block(0, outline=rect(0, 0, 0.32, 0.6)), "falls into 2 pieces"),
        (replace(WALL, spaces=(replace(WALL.spaces[0], outline=rect(-0.2, 0, 0, 0.3)), WALL.spaces[1])), "“layer 0” ends at"),
        (with_block(0, outline=rect(0, 0, float("inf"), 0.6)), "has a corner at inf"),
        (replace(WALL, blocks=()), "has no blocks"),
        (replace(WALL, spaces=WALL.spaces[:1]), "no space that is inside"),
        (replace(WALL, spaces=WALL.spaces[1:]), "no space that is outside"),
        (replace(WALL, spaces=(WALL.spaces[0], replace(WALL.spaces[1], temperature=-5.0))), "same temperature"),
        (replace(WALL, spaces=(WALL.spaces[0], replace(WALL.spaces[1], film=-1.0))), "film of -1"),
        (replace(WALL, spaces=(replace(WALL.spaces[0], name="inside"), WALL.spaces[1])), "two spaces are called"),
        (replace(WALL, spaces=(*WALL.spaces, Space("far", "unheated", rect(3, 3, 4, 4), 5.0))), "falls into 2 pieces"),
        (replace(WALL, flanks=(Flank("wall", 1, 1),)), "needs its U-value"),
        (replace(WALL, flanks=(Flank("wall", 1, 1, u=0.2, to="attic"),)), "leads to “attic”"),
        (replace(WALL, flanks=(Flank("wall", -1, 1, u=0.2),)), "length"),
        (replace(WALL, flanks=(Flank("wall", 1, 1, across=((-0.1, 0.3), (0.2, 0.3))),)), "ends in no space"),
        (replace(WALL, flanks=(Flank("wall", 1, 1, across=((0.1, 5), (0.2, 5))),)), "passes no block"),
    ],
)
def test_what_cannot_be_worked_out_is_said_by_block(section: Section, says: str) -> None:
    with pytest.raises(SectionFault, match=says.replace("(", r"\(")):
        worked(section, once=True)


def test_a_hole_is_told_by_its_place_and_the_block_beside_it() -> None:
    ring = (Block("low", rect(0, 0, 1, 0.3), 1.0), Block("left", rect(0, 0.3, 0.3, 0.7), 1.0), Block("right", rect(0.7, 0.3, 1, 0.7), 1.0), Block("top", rect(0, 0.7, 1, 1), 1.0))  # fmt: skip
    spaces = (Space("outside", "outside", rect(-1, 0, 0, 1), 0.0), Space("inside", "inside", rect(1, 0, 2, 1), 20.0))
    with pytest.raises(SectionFault, match=r"hole of 1600.0 cm² at \(0.500, 0.500\)"):
        checked(Section("ring", ring, spaces))
    filled = Section("ring", (*ring, Block("air", rect(0.3, 0.3, 0.7, 0.7), None)), spaces)
    assert worked(filled, once=True).l2d > 0


def test_too_many_cells_are_refused_before_they_are_made() -> None:
    steps = tuple(Block(f"b{n}", rect(n * 0.5, 0, (n + 1) * 0.5, 1 + 0.37 * (n % 7)), 1.0) for n in range(60))
    top = max(y for b in steps for _, y in b.outline)
    spaces = (Space("outside", "outside", rect(0, 0, 30, top + 1), 0.0), Space("inside", "inside", rect(0, -1, 30, 0), 20.0))
    with pytest.raises(SectionFault, match="cells, more than"):
        worked(Section("many", steps, spaces), fineness=40, once=True)
