"""A file of a detail: what is wrong is told by line and block; written and read it is the same."""

from __future__ import annotations

import json
from typing import Any

import pytest

from nuthatch.core.exchange.detail_files import read, to_bytes
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.heatflow.section import Section
from nuthatch.core.library import DATA
from tests.core.heatflow.drawn import BRICK, corner, frame, mitred, slab_edge

EXAMPLE = DATA / "examples" / "slab-edge.json"


def document() -> dict[str, Any]:
    return {
        "nuthatch": "detail",
        "blocks": [{"name": "wall", "rectangle": [0, 0, 0.3, 1], "conductivity": 0.5}],
        "spaces": [
            {"name": "out", "kind": "outside", "rectangle": [-1, 0, 0, 1]},
            {"name": "in", "kind": "inside", "rectangle": [0.3, 0, 1, 1]},
        ],
    }


@pytest.mark.parametrize("section", [corner(BRICK), mitred(BRICK, BRICK, 45), slab_edge(), frame()], ids=lambda s: s.name)
def test_written_and_read_it_is_the_same(section: Section) -> None:
    assert read(to_bytes(section)) == section


def test_the_shipped_example() -> None:
    section = read(EXAMPLE.read_bytes())
    assert len(section.blocks) == 15 and [f.name for f in section.flanks] == ["outer wall", "slab on ground"]


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda d: d["blocks"][0].pop("conductivity"), "blocks, “wall”: “conductivity” is missing"),
        (lambda d: d["blocks"][0].update(conductivity="0.5"), "blocks, “wall”, conductivity"),
        (lambda d: d["blocks"][0].update(conductivity=0), "“wall” has λ 0"),
        (lambda d: d["blocks"][0].update(cavity=True), "an air cavity has no λ of its own"),
        (lambda d: d["blocks"][0].update(outline=[[0, 0]]), "either “outline”"),
        (lambda d: d["blocks"][0].update(lambda_=1), "“lambda_” is not known here"),
        (lambda d: d["blocks"][0].update(conductivty=1), "did you mean “conductivity”?"),
        (lambda d: d["spaces"][0].update(kind="garden"), "spaces, “out”, kind"),
        (lambda d: d["spaces"].pop(), "no space that is inside"),
        (lambda d: d.update(blocks=[]), "has no blocks"),
        (lambda d: d.update(blocks=5), "blocks"),
        (lambda d: d.update(nuthatch="home"), "nuthatch"),
        (lambda d: d["blocks"][0].update(rectangle=[0, 0, 0.3, "1"]), "blocks, “wall”, rectangle"),
        (
            lambda d: d["blocks"].append({"name": "over", "rectangle": [0.1, 0, 0.2, 1], "conductivity": 1}),
            "“wall” and “over” lie over each other",
        ),
    ],
)
def test_what_is_wrong_is_told(change: Any, says: str) -> None:
    made = document()
    change(made)
    with pytest.raises(HomeFileError) as told:
        read(json.dumps(made).encode(), "own.json")
    assert str(told.value).startswith("own.json: ") and says in str(told.value)


@pytest.mark.parametrize(
    "data", [b"", b"[]", b"{", b"\xff\xfe", b'{"nuthatch": "detail", "blocks": NaN}', b'{"nuthatch": "detail"}', b"9" * 5000]
)
def test_what_is_no_detail_is_told_by_line(data: bytes) -> None:
    with pytest.raises(HomeFileError, match="own.json: line 1"):
        read(data, "own.json")
