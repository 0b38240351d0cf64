"""Plans mirrored and turned, walls parted and joined: everything that belongs to the plan moves with it, openings stay where they stand."""

from __future__ import annotations

import itertools

import numpy as np
import pytest

from nuthatch.core.changes.changes import ChangeRefused, SetValue, apply
from nuthatch.core.edits import plan_edits, plan_storeys
from nuthatch.core.edits.openings_kept import outlines_of
from nuthatch.core.edits.placed import in_place
from nuthatch.core.exchange.dxf_lines import DxfLines
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import EvidenceFile, Home, Opening, find
from nuthatch.core.model.part import replace
from nuthatch.core.model.plans import BackingSheet, Plans
from nuthatch.core.plans.polygons import area_of, area_vector
from nuthatch.core.solid.opening_places import in_space, misplaced, stands
from tests.plan_home import other_plan_homes, plan_home
from tests.simple_home import g


def roofed(kind: str, ridge: float | None, turned: bool = False) -> Home:
    """The plan home with one roof of unequal slopes over its longer part, a roof window in it, and a sheet below its ground floor."""
    home = plan_home()
    plans = home.shape.plans
    assert plans is not None
    main = replace(
        plans.roofs[0], kind=kind, ridge=None if ridge is None else g(ridge), pitch=g(40), other_pitch=None if kind == "mono" else g(25)
    )
    sheet = BackingSheet(id="sheet", name="Scan", file="scan", x=g(-1), y=g(-2), width=g(14))
    storeys = (replace(plans.storeys[0], sheet=sheet), *plans.storeys[1:])
    window = Opening(
        id="roof-window", name="Roof window", face="main.slope-1", type="window", width=g(0.8), height=g(1.0), count=g(2), apart=g(0.5),
        position=g(1.3), sill=g(6.4), shade_winter=g(1), shade_summer=g(1),
    )  # fmt: skip
    made = replace(
        home,
        shape=replace(home.shape, plans=replace(plans, roofs=(main, *plans.roofs[1:]), storeys=storeys)),
        openings=(*home.openings, window),
        evidence=(EvidenceFile(id="scan", name="scan.png", sha256="0" * 64, size=3),),
    )
    return apply(plan_storeys.turned(made), made) if turned else made


HOMES = {
    **{f"{kind} {ridge} {turned}": roofed(kind, ridge, turned) for kind, ridge, turned in itertools.product(("mono", "gable"), (None, 0, 90), (False, True))},
    "hip": roofed("hip", None),
    **{f"plans {n}": h for n, h in enumerate(other_plan_homes())},
    "weir-cottage": demo_home("weir-cottage"),
    "osier-lane-7": demo_home("osier-lane-7"),
}  # fmt: skip


def places(home: Home) -> dict[str, np.ndarray]:
    """The middles of all openings in space that stand in their faces, row by row, in no order."""
    found = {}
    lost = {ident for ident, says in misplaced(home.openings, outlines_of(home)) if "past the edge" in says}
    for face, polygon in outlines_of(home).items():
        for o in home.openings:
            if o.face == face and o.id not in lost:
                rows = [s for s in stands(home.openings, face, polygon) if s.opening.id == o.id]
                spots = np.array([np.mean(in_space(polygon, s, 0.0), axis=0) for s in rows])
                found[o.id] = spots[np.lexsort(np.round(spots, 6).T)]
    return found


def shape_of(home: Home) -> list[tuple[float, ...]]:
    """The faces by where they look, how large they are and where their middle is."""
    rows = []
    for polygon in outlines_of(home).values():
        out = np.array(area_vector(polygon))
        corners = np.array(polygon)
        rows.append((*out, area_of(polygon), *corners.min(axis=0), *corners.max(axis=0)))
    return sorted(tuple(np.round(np.array(r), 5) + 0.0) for r in rows)


def middle_of(home: Home) -> float:
    plans = home.shape.plans
    assert plans is not None
    xs = [s.x.value for st in plans.storeys for o in st.outlines for s in o.sides if s.x]
    return min(xs) + max(xs)


@pytest.mark.parametrize("name", HOMES)
def test_a_mirrored_home_is_its_mirror_image_with_all_that_is_in_it(name: str) -> None:
    home = HOMES[name]
    once = apply(plan_storeys.mirrored(home), home)
    middle = middle_of(home)
    wanted = []
    for nx, ny, nz, area, x0, y0, z0, x1, y1, z1 in shape_of(home):
        wanted.append(tuple(np.round(np.array((-nx, ny, nz, area, middle - x1, y0, z0, middle - x0, y1, z1)), 5) + 0.0))
    assert np.allclose(shape_of(once), sorted(wanted), atol=2e-5)
    before, after = places(home), places(once)
    assert before.keys() == after.keys()
    for ident, spots in before.items():
        there = spots * (-1, 1, 1) + (middle, 0, 0)
        assert np.allclose(after[ident], there[np.lexsort(np.round(there, 6).T)], atol=1e-5), ident
    assert apply(plan_storeys.mirrored(once), once) == home, "and twice it is the same"


@pytest.mark.parametrize("name", HOMES)
def test_a_home_turned_by_a_quarter(name: str) -> None:
    home = HOMES[name]
    now = home
    for quarter in range(4):
        before, now = now, apply(plan_storeys.turned(now), now)
        wanted = []
        for nx, ny, nz, area, x0, y0, z0, x1, y1, z1 in shape_of(before):
            wanted.append(tuple(np.round(np.array((-ny, nx, nz, area, -y1, x0, z0, -y0, x1, z1)), 5) + 0.0))
        assert np.allclose(shape_of(now), sorted(wanted), atol=2e-5), quarter
        stood, stand = places(before), places(now)
        for ident, spots in stood.items():
            there = np.stack([-spots[:, 1], spots[:, 0], spots[:, 2]], axis=1)
            assert np.allclose(stand[ident], there[np.lexsort(np.round(there, 6).T)], atol=1e-5), ident
    assert now == home, "and four times it is the same"


def test_a_backing_sheet_goes_along() -> None:
    """The drawing on the sheet lies below the plan as before: its lines are mirrored and turned with it."""
    lines = DxfLines((((0.0, 0.0), (10.0, 0.0)), ((0.0, 0.0), (0.0, 7.0))), (), (0.0, 0.0), 10.0)

    def laid(home: Home) -> np.ndarray:
        sheet = find(home, "sheet")
        assert isinstance(sheet, BackingSheet) and sheet.x and sheet.y and sheet.width
        turned = sheet.turned.value if sheet.turned else 0.0
        return np.array(lines.laid(sheet.x.value, sheet.y.value, sheet.width.value, turned, sheet.mirrored).pieces).reshape(-1, 2)

    home = roofed("gable", 0)
    start = laid(home)
    once = apply(plan_storeys.mirrored(home), home)
    assert np.allclose(laid(once), start * (-1, 1) + (middle_of(home), 0))
    both = apply(plan_storeys.turned(once), once)
    assert np.allclose(laid(both), np.stack([-laid(once)[:, 1], laid(once)[:, 0]], axis=1))
    other = apply(plan_storeys.mirrored(both), both)
    assert np.allclose(laid(other), laid(both) * (-1, 1) + (middle_of(both), 0)), "mirrored after it is turned"


@pytest.mark.parametrize("name", ["plans 0", "plans 1", "plans 2", "weir-cottage", "osier-lane-7"])
def test_openings_stay_where_they_stand_in_a_wall_that_is_parted_and_joined(name: str) -> None:
    home = HOMES[name]
    plans = home.shape.plans
    assert isinstance(plans, Plans)
    before = places(home)
    for share, side in zip(
        itertools.cycle((0.2, 0.45, 0.8)), [s for st in plans.storeys for o in st.outlines for s in o.sides], strict=False
    ):
        parted = apply(plan_edits.split(home, side.id, share), home)
        now = places(parted)  # without those the new corner stands in
        assert all(np.allclose(now[k], before[k], atol=1e-5) for k in now.keys() & before.keys()), side.id
        assert len(before) - len(now) < 3
        new = next(s.id for st in parted.shape.plans.storeys for o in st.outlines for s in o.sides if find(home, s.id) is None)
        joined = apply(plan_edits.without_corner(parted, new), parted)
        again = places(joined)
        assert again.keys() >= before.keys() and all(np.allclose(again[k], before[k], atol=1e-5) for k in before), side.id


def test_a_corner_taken_out_leaves_no_opening_behind() -> None:
    """The walls at the corner become one that looks elsewhere: their windows stay with it, and are asked about where they do not fit."""
    home = plan_home()
    for side in ("low.c", "low.b", "up.e", "low.f"):
        gone = apply(plan_edits.without_corner(home, side), home)
        faces = outlines_of(gone)
        assert faces and len(gone.openings) == len(home.openings)
        assert all(o.face in faces for o in gone.openings), [(o.id, o.face) for o in gone.openings if o.face not in faces]


def test_a_window_stands_in_a_heated_cellar() -> None:
    """Its sill lies below level 0; in the file, in the face, and refused where the face has no room."""
    home = plan_home(ground=g(-1.5))
    below = apply(plan_storeys.cellar(home), home)
    plans = below.shape.plans
    assert plans is not None
    cellar = plans.storeys[0]
    corners = [(s.x.value, s.y.value) for s in plans.storeys[1].outlines[0].sides if s.x and s.y]
    drawn = apply(plan_edits.traced(below, cellar.id, corners), below)
    face = next(s.id for o in drawn.shape.plans.storeys[0].outlines for s in o.sides)
    window = replace(home.openings[0], id="below", name="Cellar window", face=face, sill=g(-1.2), height=g(0.6))
    made = replace(drawn, openings=(*drawn.openings, window))
    assert not dict(misplaced(made.openings, outlines_of(made))).get("below")
    (stand,) = (s for s in stands(made.openings, face, outlines_of(made)[face]) if s.opening.id == "below")
    assert stand.up == pytest.approx(0.3), "0.3 m above the ground at −1.5 m, where the face begins"
    with pytest.raises(ChangeRefused, match="at most −0.60"):
        in_place(made, SetValue(part="below", field="sill", value=g(-0.5)), outlines_of(made))
