"""gbXML taken in as storey plans: what our own writer and a second one say comes back as storeys, outlines, rooms, roofs, openings."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
import shapely

from nuthatch import cli
from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import SetValue, apply
from nuthatch.core.edits.openings_kept import outlines_of
from nuthatch.core.edits.plan_files import taken_in
from nuthatch.core.exchange import gbxml, gbxml_in
from nuthatch.core.exchange.gbxml_plans import taken
from nuthatch.core.exchange.taken import SeveralBuildings
from nuthatch.core.files import homefile
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.files.lock import Lock
from nuthatch.core.files.versions import versions
from nuthatch.core.library import DATA, demo_home, new_home
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import replace
from nuthatch.core.model.plans import Plans
from nuthatch.core.plans.polygons import volume
from nuthatch.core.plans.reading_plans import points_of
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.opening_places import in_space, stands
from nuthatch.core.solid.stages import SOLID
from tests.plan_home import other_plan_homes, plan_home
from tests.rooms_as_gbxml import Box, cubes, document
from tests.simple_home import g


def plans(home: Home) -> Plans:
    assert home.shape.plans is not None
    return home.shape.plans


def between(below: str, above: str) -> Home:
    """A flat of one storey, with something of other people's below and above it."""
    home = plan_home()
    ground = plans(home).storeys[0]
    flat = replace(ground.outlines[0], below=below, above=above)
    made = replace(plans(home), storeys=(replace(ground, outlines=(flat,)),), roofs=(), ground=None)
    return replace(home, shape=replace(home.shape, plans=made), openings=home.openings[:5])


DRAWN = {"flat between neighbours": between("neighbour", "neighbour"), "flat over a store": between("unheated space", "neighbour"),
         "flat on posts below a loft": between("outside air", "unheated space"), "plan": plan_home(), "stepped": other_plan_homes()[3], "half-hip and mansard": other_plan_homes()[4], "no loft": plan_home(roofs=()),
         "north": plan_home(north=g(25)), **{k: demo_home(k) for k in ("osier-lane-7", "weir-cottage", "sail-loft")}}  # fmt: skip


def faces_of(a: Assessment) -> list[tuple[object, ...]]:
    """Every face by what it borders on, its direction, its area, its build-up and its height, in no order."""
    names = {b.id: b.name for b in a.home.buildups}
    rows = []
    for b in a[SOLID].boundaries:
        assert b.outline is not None
        heights = sorted({round(p[2], 3) for p in b.outline})
        rows.append(
            (
                b.borders,
                round(b.tilt, 2),
                round(b.azimuth, 2) % 360,
                round(a[SOLID].areas[b.id], 2),
                names.get(b.buildup, ""),
                heights[0],
                heights[-1],
            )
        )
    return sorted(rows, key=str)


@pytest.mark.parametrize("name", DRAWN)
def test_what_is_written_comes_back_as_the_same_storeys(name: str) -> None:
    """Every face with its area, direction, level and build-up; volumes by space; each opening where it stood."""
    a = assess(DRAWN[name], None)
    got = taken(gbxml.write(a))
    assert not got.left_out
    b = assess(got.home, None)
    assert plans(got.home).storeys and faces_of(b) == faces_of(a)
    assert a[BUILT] is not None and b[BUILT] is not None
    assert sorted(b[BUILT].volumes.values()) == pytest.approx(sorted(a[BUILT].volumes.values()), rel=1e-5)
    assert places(b) == places(a)
    drawn = [s.name for s in plans(DRAWN[name]).storeys if any(len(o.sides) > 2 for o in s.outlines)]
    assert [s.name for s in plans(got.home).storeys] == drawn


def places(a: Assessment) -> list[tuple[float, ...]]:
    """Height and size of each opening, and how far its middle lies from the middle of its face, in no order."""
    found = []
    for face, polygon in outlines_of(a.home).items():
        middle = np.mean(np.array(polygon), axis=0)
        for s in stands(a.home.openings, face, polygon):
            corners = np.array(in_space(polygon, s, 0.0))
            off = float(np.linalg.norm(corners.mean(axis=0) - middle))
            found.append((round(float(corners[:, 2].min()), 3), round(s.width, 3), round(s.height, 3), round(off, 3)))
    return sorted(found)


def test_the_plan_is_square_on_its_sheet_whatever_the_models_north() -> None:
    home = plan_home(north=g(25))
    got = plans(taken(gbxml.write(assess(home, None))).home)
    assert got.north is not None and got.north.value == pytest.approx(25)
    mine, theirs = (np.array(sorted(points_of(p.storeys[0].outlines[0].sides))) for p in (got, plans(home)))
    assert mine == pytest.approx(theirs, abs=1e-5)


# rooms, from a second writer

FLAT: dict[str, list[Box]] = {
    "kitchen": [(0, 0, 0, 4, 6, 1)], "living": [(4, 0, 0, 10, 6, 1)], "study": [(0, 6, 0, 6, 10, 1)],
    "bedroom": [(0, 0, 1, 5, 6, 2)], "bath": [(5, 0, 1, 10, 6, 2)], "garage": [(10, 0, 0, 14, 5, 1)],
}  # fmt: skip
HOUSES: dict[str, dict[str, list[Box]]] = {
    "terrace over the study, garage": FLAT,
    "a room over both storeys": {**FLAT, "hall": [(6, 6, 0, 10, 8, 2)]},
    "cellar under a half": {**FLAT, "cellar": [(0, 0, -1, 5, 6, 0)]},
    "court": {"ring": [(0, 0, 0, 3, 9, 1), (6, 0, 0, 9, 9, 1), (3, 0, 0, 6, 3, 1), (3, 6, 0, 6, 9, 1)]},
    "wider above": {"low": [(1, 1, 0, 5, 5, 1)], "high": [(0, 0, 1, 6, 6, 2)]},
    "L in the plan of a room": {"one": [(0, 0, 0, 6, 3, 1), (0, 3, 0, 3, 6, 1)], "two": [(3, 3, 0, 6, 6, 1)]},
}
COLD = frozenset({"garage", "cellar"})


@pytest.mark.parametrize("azimuth", [0.0, 40.0])
@pytest.mark.parametrize("turn", [0.0, 12.5, -33.0])
@pytest.mark.parametrize("name", HOUSES)
def test_rooms_of_another_writer_become_storeys(name: str, turn: float, azimuth: float) -> None:
    """Volumes against cubes counted; each heated room by its name and area; the directions of all faces as the list of faces has them."""
    rooms = HOUSES[name]
    unit = (1.0, 1.0, 2.5)
    data = document(rooms, unit, COLD, turn, azimuth)
    got = taken(data)
    assert got.home.shape.plans is not None, got.left_out
    a = assess(got.home, None)
    built = a[BUILT]
    assert built is not None
    count: dict[str, int] = {}
    for owner in cubes(rooms).values():
        count[owner] = count.get(owner, 0) + 1
    heated = sum(n for r, n in count.items() if r not in COLD) * 2.5
    assert sum(v for s, v in built.volumes.items() if s not in ("Garage", "Cellar")) == pytest.approx(heated, rel=1e-6)
    for room in COLD & rooms.keys():
        assert built.volumes[room.title()] == pytest.approx(count[room] * 2.5, rel=1e-6)
    listed = {(round(f.azimuth.value, 1), f.borders): 0.0 for f in gbxml_in.read(data).shape.faces if f.azimuth and f.role == "wall"}
    for f in gbxml_in.read(data).shape.faces:
        if f.role == "wall" and f.azimuth and f.area:
            listed[round(f.azimuth.value, 1), f.borders] += f.area.value
    drawn: dict[tuple[float, str], float] = {}
    for b in a[SOLID].boundaries:
        if b.role == "wall":
            key = round(b.azimuth, 1) % 360, b.borders
            drawn[key] = drawn.get(key, 0.0) + a[SOLID].areas[b.id]
    assert {k: round(v, 3) for k, v in drawn.items()} == {(k[0] % 360, k[1]): round(v, 3) for k, v in listed.items()}
    assert volume(tuple(p for p in a[SOLID].outer.values())) == pytest.approx(heated, rel=1e-6), "closed"


def test_rooms_have_names_and_walls_between_them() -> None:
    got = plans(taken(document(FLAT, cold=COLD)).home)
    ground, upper = got.storeys
    assert [r.name for r in ground.rooms] == ["Kitchen", "Living", "Study"] and [r.name for r in upper.rooms] == ["Bedroom", "Bath"]
    built = assess(taken(document(FLAT, cold=COLD)).home, None)[BUILT]
    assert built is not None and {r.name for r in built.rooms} == {"Kitchen", "Living", "Study", "Bedroom", "Bath"}
    lines = [shapely.LineString([(w.x.value, w.y.value), (w.to_x.value, w.to_y.value)]) for w in ground.inner_walls]  # type: ignore[union-attr]
    assert shapely.union_all(lines).length == pytest.approx(6 + 6), "4 | 6 m between kitchen and living, 6 m along the study"
    assert got.wall_buildup and got.ground_buildup != got.roof_buildup


def hole(x0: float, x1: float, z0: float, z1: float) -> str:
    """A window in the plane y = 0."""
    points = "".join(f"<CartesianPoint><Coordinate>{x}</Coordinate><Coordinate>0</Coordinate><Coordinate>{z}</Coordinate></CartesianPoint>"
                     for x, z in ((x0, z0), (x1, z0), (x1, z1), (x0, z1)))  # fmt: skip
    return (
        '<Opening id="o" openingType="FixedWindow" windowTypeIdRef="w"><Name>Front</Name>'
        f"<PlanarGeometry><PolyLoop>{points}</PolyLoop></PlanarGeometry></Opening>"
    )


TYPE = (
    '<WindowType id="w"><Name>Triple</Name><U-value unit="WPerSquareMeterK">0.85</U-value>'
    '<SolarHeatGainCoeff unit="Fraction">0.5</SolarHeatGainCoeff></WindowType>'
)


def test_an_opening_stands_in_the_wall_of_its_storey() -> None:
    text = document(FLAT, cold=COLD, more=TYPE)
    number = next(
        n
        for n, row in enumerate(text.decode().split("<Surface ")[1:])
        if "living ExteriorWall" in row and row.count("<Coordinate>0.0</Coordinate>") >= 4
    )
    got = taken(document(FLAT, cold=COLD, more=TYPE, holes={str(number): hole(5.0, 6.5, 0.9, 2.1)})).home
    (window,) = got.openings
    (stand,) = stands(got.openings, window.face, outlines_of(got)[window.face])
    corners = np.array(in_space(outlines_of(got)[window.face], stand, 0.0))
    assert corners.min(axis=0) == pytest.approx((5.0, 0.0, 0.9), abs=1e-6) and corners.max(axis=0) == pytest.approx(
        (6.5, 0.0, 2.1), abs=1e-6
    )
    kind = next(t for t in got.opening_types if t.id == window.type)
    assert kind.name == "Triple" and kind.whole_u is not None and kind.whole_u.value == 0.85


def test_what_has_no_place_is_listed_by_name() -> None:
    more = '<Schedule id="s1"><Name>Occupied</Name></Schedule><Schedule id="s2"/><Zone id="z"><Name>Upstairs</Name></Zone>' + TYPE
    data = document(FLAT, cold=COLD, more=more).replace(
        b"</Campus>", b'<Surface id="tree" surfaceType="Shade"><Name>Tree</Name></Surface></Campus>'
    )
    assert taken(data).left_out == ("2 × Schedule: Occupied, s2", "1 × Zone: Upstairs", "1 × surface that only shades: Tree")


def test_surfaces_that_make_no_storeys_are_faces_and_it_says_why() -> None:
    """A roof that is open on one side; ground that falls along a wall."""
    data = document(FLAT, cold=COLD)
    first = data.index(b"<Surface ")
    open_one = data[:first] + data[data.index(b"</Surface>") + 10 :]
    got = taken(open_one)
    assert got.home.shape.plans is None and got.home.shape.faces and "do not close" in got.left_out[0]
    sloped = taken(gbxml.write(assess(other_plan_homes()[2], None)))
    assert sloped.home.shape.plans is None and "toward ground" in sloped.left_out[0]


def two() -> bytes:
    data = document(FLAT, cold=COLD).decode()
    other = '<Building id="b2"><Name>Barn</Name><Space id="barn" conditionType="HeatedAndCooled"><Name>Barn</Name></Space></Building>'
    wall = (
        data[data.index("<Surface ") : data.index("</Surface>") + 10]
        .replace('spaceIdRef="kitchen"', 'spaceIdRef="barn"')
        .replace("s0", "s900")
    )
    return data.replace("</Building>", "</Building>" + other).replace("</Campus>", wall + "</Campus>").encode()


def test_of_several_buildings_one_is_chosen() -> None:
    with pytest.raises(SeveralBuildings, match="line 1: there are 2 buildings in this file: “Rooms”, “Barn”") as which:
        taken(two())
    assert which.value.names == ("Rooms", "Barn")
    assert taken(two(), "Rooms").home.shape.plans is not None
    assert len(taken(two(), "Barn").home.shape.faces) == 1
    lit = two().replace(b"<Name>Barn</Name>", b"<Name>Barn</Name><Lighting id='lamp'/>", 1)
    assert any("Lighting: lamp" in w for w in taken(lit, "Barn").left_out), "of the building that is read"
    assert not any("Lighting" in w for w in taken(lit, "Rooms").left_out)


def test_the_command_line_says_what_is_left_out_and_chooses(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    source, target = tmp_path / "in.xml", tmp_path / "out.nuthatch"
    source.write_bytes(two().replace(b"</gbXML>", b'<Zone id="z"><Name>Upstairs</Name></Zone></gbXML>'))
    assert cli.main(["convert", str(source), str(target)]) == 2 and not target.exists()
    assert "“Rooms”, “Barn”" in capsys.readouterr().err
    assert cli.main(["convert", str(source), str(target), "--building", "Rooms"]) == 0
    assert capsys.readouterr().err.splitlines() == ["left out: 1 × Zone: Upstairs"] and target.exists()


def test_the_example_that_ships_is_read_as_plans() -> None:
    """The net store of the made-up town: six rooms, one of them unheated, and three things no home can hold."""
    got = taken((DATA / "examples" / "net-store.xml").read_bytes())
    ground, upper = plans(got.home).storeys
    assert [r.name for r in ground.rooms] == ["Net loft", "Kitchen", "Study"] and [r.name for r in upper.rooms] == ["Bedroom", "Bath"]
    assert [o.name for o in ground.outlines] == ["House", "Boat store"] and len(got.left_out) == 3


def test_convert_asks_before_it_writes_over_a_file(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """A file that is there stays as it is; told to, it is replaced and its last version kept; one that is open is not."""
    source, target = tmp_path / "in.xml", tmp_path / "out.nuthatch"
    source.write_bytes(document(FLAT, cold=COLD))
    target.write_bytes(b"somebody's work")
    assert cli.main(["convert", str(source), str(target)]) == 2 and target.read_bytes() == b"somebody's work"
    assert "--replace" in capsys.readouterr().err
    held = Lock(target)
    assert held.held
    assert cli.main(["convert", str(source), str(target), "--replace"]) == 2 and target.read_bytes() == b"somebody's work"
    held.release()
    assert "it is open" in capsys.readouterr().err
    assert cli.main(["convert", str(source), str(target), "--replace"]) == 0
    assert homefile.read(target).home.name == "Rooms"
    assert [file.read_bytes() for file, _ in versions(target)] == [b"somebody's work"]
    for place in (tmp_path, tmp_path / ("x" * 300 + ".csv")):
        assert cli.main(["convert", str(source), str(place), "--replace"]) == 2
    assert len(capsys.readouterr().err.splitlines()) == 2, "one sentence each"


# into a home that is there


def test_plans_of_a_file_take_the_place_of_the_shape_and_keep_the_rest() -> None:
    home = apply(SetValue(part="brief", field="client", value="Kept"), demo_home("osier-lane-7"))
    read = taken(gbxml.write(assess(plan_home(), None))).home
    made = apply(taken_in(home, read), home)
    assert made.brief.client == "Kept" and len(made.openings) == 8 and made.air == home.air
    a = assess(made, None)
    assert a.figures["heated_volume"].value == pytest.approx(504)
    assert {o.face.rpartition(".")[0] for o in made.openings} <= {o.id for s in plans(made).storeys for o in s.outlines}
    again = apply(taken_in(made, read), made)
    assert again.shape == made.shape and again.openings == made.openings and again.buildups == made.buildups, (
        "the same file twice is the same home"
    )


def test_build_ups_of_another_file_are_not_taken_for_those_of_the_first() -> None:
    """Both files call their first build-up alike; the second has another U."""
    first = taken(document(FLAT, cold=COLD)).home
    second = taken(document(FLAT, cold=COLD).replace(b">0.2</U-value>", b">0.7</U-value>")).home
    home = apply(taken_in(new_home(), first), new_home())
    made = apply(taken_in(home, second), home)
    used = {b.id: b for b in made.buildups}[plans(made).wall_buildup]
    assert used.u_detailed is not None and used.u_detailed.value == 0.7
    assert {b.id: b for b in home.buildups}[plans(home).wall_buildup] in made.buildups, "the first stay"
    again = apply(taken_in(made, second), made)
    assert again.buildups == made.buildups and again.shape == made.shape, "the second once more adds nothing"


def test_a_number_that_is_none_still_names_its_line() -> None:
    broken = document(FLAT, cold=COLD).replace(b"<Coordinate>0.0</Coordinate>", b"<Coordinate>wide</Coordinate>", 1)
    with pytest.raises(HomeFileError, match="line 1: “wide” is not a number"):
        taken(broken)
