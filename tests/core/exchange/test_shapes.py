"""Shapes in and out: gbXML, faces as CSV and XLSX, DXF, SVG; what is broken is told with its line, and nothing is written."""

from __future__ import annotations

import csv
import importlib.util
import io
from pathlib import Path

import ezdxf
import pytest
from lxml import etree

from nuthatch import cli
from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import SetValue, apply
from nuthatch.core.climate.library import climate_for
from nuthatch.core.edits.plan_files import taken_in
from nuthatch.core.edits.whole_parts import as_list
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.exchange import face_tables, gbxml, gbxml_in
from nuthatch.core.exchange.drawn import as_dxf, as_svg
from nuthatch.core.exchange.xml_tree import parse
from nuthatch.core.fabric.stages import B
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.library import demo_home, new_home
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.stages import AREA, PERIMETER, SOLID
from tests.plan_home import other_plan_homes, plan_home
from tests.simple_home import g

BOX = """<?xml version="1.0" encoding="UTF-8"?>
<gbXML xmlns="http://www.gbxml.org/schema" version="6.01" lengthUnit="Feet" areaUnit="SquareFeet" volumeUnit="CubicFeet" temperatureUnit="F" useSIUnitsForResults="false">
 <Campus id="c"><Building id="b" buildingType="SingleFamily"><Name>By hand</Name>
   <Space id="living" conditionType="HeatedAndCooled"><Name>Living</Name></Space>
   <Space id="garage" conditionType="Unconditioned"><Name>Garage</Name></Space>
  </Building>
  <Surface id="south" surfaceType="ExteriorWall"><AdjacentSpaceId spaceIdRef="living"/><Name>South wall</Name>
   <PlanarGeometry><PolyLoop>
    <CartesianPoint><Coordinate>0</Coordinate><Coordinate>0</Coordinate><Coordinate>0</Coordinate></CartesianPoint>
    <CartesianPoint><Coordinate>30</Coordinate><Coordinate>0</Coordinate><Coordinate>0</Coordinate></CartesianPoint>
    <CartesianPoint><Coordinate>30</Coordinate><Coordinate>0</Coordinate><Coordinate>10</Coordinate></CartesianPoint>
    <CartesianPoint><Coordinate>0</Coordinate><Coordinate>0</Coordinate><Coordinate>10</Coordinate></CartesianPoint>
   </PolyLoop></PlanarGeometry>
   <Opening id="w" openingType="FixedWindow"><RectangularGeometry><Azimuth>180</Azimuth><Tilt>90</Tilt><Height>4</Height><Width>5</Width></RectangularGeometry></Opening>
  </Surface>
  <Surface id="to-garage" surfaceType="InteriorWall"><AdjacentSpaceId spaceIdRef="garage"/><AdjacentSpaceId spaceIdRef="living"/>
   <RectangularGeometry><Azimuth>270</Azimuth><Tilt>90</Tilt><Height>10</Height><Width>20</Width></RectangularGeometry></Surface>
  <Surface id="slab" surfaceType="SlabOnGrade"><AdjacentSpaceId spaceIdRef="living"/>
   <RectangularGeometry><Azimuth>0</Azimuth><Tilt>180</Tilt><Height>20</Height><Width>30</Width></RectangularGeometry></Surface>
  <Surface id="tree" surfaceType="Shade"><RectangularGeometry><Azimuth>0</Azimuth><Tilt>90</Tilt><Height>1</Height><Width>1</Width></RectangularGeometry></Surface>
 </Campus>
</gbXML>
"""
FOOT2 = 0.3048**2


@pytest.fixture(scope="module")
def house() -> Assessment:
    return assess(plan_home(), climate_for(plan_home(), None))


def test_what_is_written_as_gbxml_reads_back_to_the_same_areas(house: Assessment) -> None:
    read = gbxml_in.read(gbxml.write(house))
    areas = {f.name: f.area.value for f in read.shape.faces if f.area}
    looks = {f.name: (f.tilt.value, f.azimuth.value) for f in read.shape.faces if f.tilt and f.azimuth}
    borders = {f.name: f.borders for f in read.shape.faces}
    assert len(areas) == len(house[SOLID].boundaries)
    for face in house[SOLID].boundaries:
        assert areas[face.name] == pytest.approx(house.all_of(AREA)[face.id].value, abs=1e-5), face.name
        assert looks[face.name][0] == pytest.approx(face.tilt, abs=1e-3)
        assert face.tilt in (0, 180) or looks[face.name][1] == pytest.approx(face.azimuth, abs=1e-3)
        assert borders[face.name] == face.borders
    holes = [(o.width.value * o.height.value) for o in read.openings if o.width and o.height]
    assert len(holes) == 8 and sum(holes) == pytest.approx(7 * 1.44 + 0.96, abs=1e-4)


def test_spaces_and_their_volumes_stand_in_the_gbxml(house: Assessment) -> None:
    root = parse(gbxml.write(house))
    building = root.first("Campus", "Building")
    assert building is not None
    found = {s.said("Name"): (s.attributes["conditionType"], float(s.said("Volume"))) for s in building.all("Space")}
    assert found["Garage"] == ("Unconditioned", pytest.approx(50)) and found["Heated space"][1] == pytest.approx(504)
    assert found["Loft"] == ("Unconditioned", pytest.approx(house[BUILT].volumes["loft"]))


def test_a_gbxml_made_by_hand_from_the_open_schema_is_read() -> None:
    """In feet; a wall of 30 × 10, a window of 4 × 5, a wall to the garage written from the garage's side, a slab; shades are left out."""
    home = gbxml_in.read(BOX.encode())
    faces = {f.name: f for f in home.shape.faces}
    assert list(faces) == ["South wall", "to-garage", "slab"] and home.name == "By hand"
    south = faces["South wall"]
    assert south.area and south.azimuth and south.area.value == pytest.approx(300 * FOOT2, abs=1e-5) and south.azimuth.value == 180
    assert (faces["to-garage"].borders, faces["slab"].borders, faces["slab"].role) == ("unheated space", "ground", "floor")
    window = home.openings[0]
    assert window.width and window.height and window.width.value * window.height.value == pytest.approx(20 * FOOT2, abs=1e-5)


@pytest.mark.parametrize(
    ("broken", "says"),
    [
        (BOX[:900], f"line {BOX[:900].count(chr(10)) + 1}: this is no XML"),
        (BOX.replace("gbXML", "house"), r"line 2: the file begins with “house”"),
        (BOX.replace('lengthUnit="Feet"', 'lengthUnit="Ells"'), r"lengthUnit “Ells” is not known here; one of"),
        (BOX.replace("<Coordinate>30</Coordinate>", "<Coordinate>thirty</Coordinate>", 1), r"line 10: “thirty” is not a number"),
        (BOX.replace('spaceIdRef="garage"', 'spaceIdRef="attic"'), r"line 16: the space “attic” is not in this file"),
        (BOX.replace("<gbXML", '<!DOCTYPE g [<!ENTITY a "aaaa">]><gbXML'), r"line 2: document types and entities are not read"),
        (BOX.replace("</Coordinate></CartesianPoint>\n   </PolyLoop>", "</Coordinate><Coordinate>1</Coordinate></CartesianPoint>\n   </PolyLoop>"), "three coordinates, this one has 4"),
        ("<gbXML><Campus/></gbXML>", "line 1: there are no surfaces"),
        ("<gbXML>" + "<a>" * 300, "nested deeper than 200"),
    ],
)  # fmt: skip
def test_broken_gbxml_is_refused_with_its_line(broken: str, says: str) -> None:
    with pytest.raises(HomeFileError, match=says):
        gbxml_in.read(broken.encode())


def test_faces_go_out_and_come_back_as_csv_and_spreadsheet(house: Assessment) -> None:
    for made, read in ((face_tables.as_csv, face_tables.from_csv), (face_tables.as_xlsx, face_tables.from_xlsx)):
        home = read(made(house))
        names = {b.id: b.name for b in home.buildups}
        back = [(f.name, f.role, round(f.area.value, 4), f.borders, names[f.buildup]) for f in home.shape.faces if f.area]
        known = {b.id: b.name for b in house.home.buildups}
        areas = house.all_of(AREA)
        assert back == [(f.name, f.role, round(float(areas[f.id].value), 4), f.borders, known[f.buildup]) for f in house[SOLID].boundaries]


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "there is no table here"),
        ("Face,Colour\nWall,red\n", "row 1: the columns “Face” and “Gross area” are needed"),
        ("Face,Gross area [m²]\nWall,12\nRoof,wide\n", "row 3, Gross area: “wide” is not a number"),
        ("Face,Gross area [m²],Borders on\nWall,12,the moon\n", "row 2, Borders on: Borders on “the moon” is not known"),
        ("Face,Gross area [m²]\nWall,-3\n", "row 2, Gross area: Gross area must be at least 0"),
    ],
)
def test_a_table_that_cannot_be_read_says_which_cell(text: str, says: str) -> None:
    with pytest.raises(HomeFileError, match=says):
        face_tables.from_csv(text.encode())


def test_other_bytes_are_no_table() -> None:
    with pytest.raises(HomeFileError, match="no spreadsheet that can be read"):
        face_tables.from_xlsx(b"PK\x03\x04 but no more")
    with pytest.raises(HomeFileError, match="byte 1: the file is not UTF-8"):
        face_tables.from_csv(b"a\xff\xfe")


def test_the_dxf_has_every_wall_to_scale(house: Assessment) -> None:
    """Read again by ezdxf: the walls of a storey cover the plan less the rooms inside them; the elevations stand beside each other."""
    document = ezdxf.read(io.StringIO(as_dxf(house).decode()))  # type: ignore[attr-defined]
    space = document.modelspace()
    walls = [list(e.get_points("xy")) for e in space.query('LWPOLYLINE[layer=="WALLS"]')]
    assert len(walls) == 12, "six sides, two storeys"

    def area(ring: list[tuple[float, float]]) -> float:
        return abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(ring, ring[1:] + ring[:1], strict=True))) / 2

    assert sum(map(area, walls)) == pytest.approx(2 * (84 - (9.4 * 5.4 + 5.4 * 4)))
    assert len(space.query('LINE[layer=="INNER-WALLS"]')) == 6 and len(space.query('LWPOLYLINE[layer=="WINDOWS"]')) == 16, (
        "eight in plan and eight in elevation"
    )
    names = [t.dxf.text for t in space.query("TEXT")]
    assert names.count("Kitchen") == 2 and "Upper floor" in names
    assert as_svg(house).startswith(b"<svg") and b"Kitchen" in as_svg(house)


def test_the_command_turns_files_into_each_other(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    source = tmp_path / "a.xml"
    source.write_text(BOX, encoding="utf-8")
    for name in ("b.nuthatch", "c.csv", "d.xlsx"):
        assert cli.main(["convert", str(source), str(tmp_path / name)]) == 0
    assert cli.main(["convert", str(tmp_path / "b.nuthatch"), str(tmp_path / "e.csv")]) == 0
    assert "South wall" in (tmp_path / "e.csv").read_text(encoding="utf-8")
    for target, says in (("f.dxf", "no outlines to draw"), ("f.doc", "is written as")):
        assert cli.main(["convert", str(source), str(tmp_path / target)]) == 2
        assert says in capsys.readouterr().err and not (tmp_path / target).exists()
    source.write_text("<gbXML/>", encoding="utf-8")
    (tmp_path / "b.nuthatch").write_bytes(b"as before")
    assert cli.main(["convert", str(source), str(tmp_path / "b.nuthatch"), "--replace"]) == 2
    assert (tmp_path / "b.nuthatch").read_bytes() == b"as before" and "a.xml: line 1" in capsys.readouterr().err
    assert cli.main(["convert", str(tmp_path / "g.bmp"), str(tmp_path / "h.csv")]) == 2


def test_a_file_taken_into_a_home_replaces_its_shape_and_keeps_the_rest() -> None:
    home = apply(SetValue(part="brief", field="client", value="Kept"), new_home())
    made = apply(taken_in(home, gbxml_in.read(BOX.encode())), home)
    assert [f.name for f in made.shape.faces] == ["South wall", "to-garage", "slab"] and made.shape.form is None
    assert made.brief.client == "Kept" and made.openings[0].face == made.shape.faces[0].id
    assert any(t.id == made.openings[0].type for t in made.opening_types)
    again = apply(taken_in(made, gbxml_in.read(BOX.encode())), made)
    assert len(again.openings) == 1 and len(again.opening_types) == len(made.opening_types)


def test_a_list_of_faces_keeps_b_perimeter_and_depth() -> None:
    """Also where they were worked out from plans: the list computes what the plans did, but for what a list cannot hold."""
    drawn = plan_home(ground=g(0.4), ceiling_buildup="roof")
    a = assess(drawn, None)
    bs = {f.name: f.b.given for f in a[SOLID].boundaries}
    for made, read in ((face_tables.as_csv, face_tables.from_csv), (face_tables.as_xlsx, face_tables.from_xlsx)):
        faces = {f.name: f for f in read(made(a)).shape.faces}
        assert faces.keys() == bs.keys()
        for f in a[SOLID].boundaries:
            kept = faces[f.name]
            if f.beyond.kind == "unheated":
                assert kept.b is not None and kept.b.value == pytest.approx(a.all_of(B)[f.beyond.id].value, abs=1e-6)
            if f.beyond.kind == "ground" and f.role == "floor":
                assert kept.perimeter is not None and kept.perimeter.value == pytest.approx(a.all_of(PERIMETER)[f.id].value)
            if f.depth.given is not None and f.beyond.kind == "ground":
                assert kept.depth is not None and kept.depth.value == pytest.approx(f.depth.given.value)
    assert any(f.depth for f in faces.values()) and any(f.perimeter for f in faces.values())


def test_a_name_that_looks_like_a_formula_is_written_harmless_and_read_as_it_was() -> None:
    home = demo_home("osier-lane-7")
    listed = as_list(assess(home, None))
    home = apply(listed, home)
    first = home.shape.faces[0]
    names = ('=HYPERLINK("http://x")', "+1", "-2", "@SUM(A1)", "'quoted'", "'=kept", "''-x")
    for name in names:
        named = apply(SetValue(part=first.id, field="name", value=name), home)
        text = face_tables.as_csv(assess(named, None))
        for row in csv.reader(io.StringIO(text.decode())):
            assert not any(cell.lstrip()[:1] in "=+@" for cell in row if cell), row
            assert not row[0].startswith("-")
        assert face_tables.from_csv(text).shape.faces[0].name == name


SCHEMA = Path(importlib.util.find_spec("xgbxml").origin).parent / "schemas" / "GreenBuildingXML_Ver6.01.xsd"  # type: ignore[union-attr, arg-type]
"""The open schema 6.01, as a package for it carries it."""


@pytest.mark.parametrize(
    "name", ["osier-lane-7", "weir-cottage", "sail-loft", "plan", "other 0", "other 1", "other 2", "other 3", "no build-ups"]
)
def test_what_is_written_is_valid_by_the_open_schema(name: str) -> None:
    homes = {"plan": plan_home(), "no build-ups": plan_home(roof_buildup="", wall_buildup="gone")}
    homes |= {f"other {n}": h for n, h in enumerate(other_plan_homes())}
    home = homes.get(name) or demo_home(name)
    schema = etree.XMLSchema(etree.parse(SCHEMA))
    assert schema.validate(etree.fromstring(gbxml.write(assess(home, None)))), list(schema.error_log)[:3]


def test_constructions_and_window_types_come_back(house: Assessment) -> None:
    """Every build-up with its layers and materials, every opening with its U and solar heat gain, in place and size."""
    home = gbxml_in.read(gbxml.write(house))
    names = {b.id: b for b in house.home.buildups}
    read = {b.id: b for b in home.buildups}
    faces = {f.name: f for f in home.shape.faces}
    for f in house[SOLID].boundaries:
        was, now = names[f.buildup], read[faces[f.name].buildup]
        assert now.name == was.name and len(now.layers) == len(was.layers)
        for old, new in zip(was.layers, now.layers, strict=True):
            for field in ("thickness", "conductivity", "density", "specific_heat"):
                kept, back = getattr(old, field), getattr(new, field)
                assert (kept is None) == (back is None) and (kept is None or back.value == pytest.approx(kept.value, abs=1e-6)), field
    us = {e.id: e.u.value for e in house[ELEMENTS] if e.boundary is not None and e.u is not None}
    types = {k.id: k for k in home.opening_types}
    assert len(home.openings) == sum(round(o.count.value) for o in house.home.openings if o.count)
    for o in home.openings:
        old = next(p for p in house.home.openings if p.name == o.name)
        assert o.width.value == pytest.approx(old.width.value) and o.height.value == pytest.approx(old.height.value)
        assert types[o.type].whole_u.value == pytest.approx(us[old.id], abs=1e-4) and types[o.type].whole_solar is not None


def test_layers_run_from_outside_also_where_the_first_space_is_the_cold_one() -> None:
    rows = '<Construction id="k"><Name>K</Name><LayerId layerIdRef="a"/><LayerId layerIdRef="b"/></Construction>' + "".join(
        f'<Layer id="{n}"><MaterialId materialIdRef="m{n}"/></Layer><Material id="m{n}"><Name>{n}</Name><Thickness unit="Inches">4</Thickness>'
        f'<Conductivity unit="BtuPerHourFtF">0.02</Conductivity><Density unit="LbsPerCubicFt">10</Density></Material>' for n in "ab"
    )  # fmt: skip
    text = BOX.replace('id="south" ', 'id="south" constructionIdRef="k" ').replace(
        'id="to-garage" ', 'id="to-garage" constructionIdRef="k" '
    )
    home = gbxml_in.read(text.replace("</gbXML>", rows + "</gbXML>").encode())
    builds = {b.id: [row.name for row in b.layers] for b in home.buildups}
    south, garage = (next(f for f in home.shape.faces if f.id == i) for i in ("face-1", "face-2"))
    assert builds[south.buildup] == ["a", "b"] and builds[garage.buildup] == ["b", "a"]
    row = next(b for b in home.buildups if b.id == south.buildup).layers[0]
    assert row.thickness.value == pytest.approx(0.1016) and row.conductivity.value == pytest.approx(0.034615, rel=1e-4)
    assert row.density.value == pytest.approx(160.185, rel=1e-5)


def test_loops_the_wrong_way_round_north_and_walls_without_a_space() -> None:
    house = assess(plan_home(), None)
    text = gbxml.write(house).decode()
    root = etree.fromstring(text.encode())
    space = "{http://www.gbxml.org/schema}"
    for loop in root.iter(f"{space}PolyLoop"):
        loop[:] = list(loop)[::-1]
    as_was, righted = gbxml_in.read(text.encode()), gbxml_in.read(etree.tostring(root))
    assert [(f.name, f.tilt, f.azimuth, f.role) for f in righted.shape.faces] == [
        (f.name, f.tilt, f.azimuth, f.role) for f in as_was.shape.faces
    ]
    campus = next(root.iter(f"{space}Campus"))
    north = etree.SubElement(etree.SubElement(campus, f"{space}Location"), f"{space}CADModelAzimuth")
    north.text = "30"
    turned = gbxml_in.read(etree.tostring(root))
    for old, new in zip(as_was.shape.faces, turned.shape.faces, strict=True):
        if old.role == "wall":
            assert (new.azimuth.value - old.azimuth.value - 30) % 360 == pytest.approx(0, abs=1e-6)
    for surface in root.iter(f"{space}Surface"):
        beside = list(surface.iter(f"{space}AdjacentSpaceId"))
        if len(beside) == 1 and surface.get("surfaceType") == "ExteriorWall":
            surface.remove(beside[0])
    alone = gbxml_in.read(etree.tostring(root))
    walls = {f.name for f in as_was.shape.faces if f.role == "wall" and f.borders == "outside air"}
    assert walls <= {f.name for f in alone.shape.faces if f.borders == "outside air"}


@pytest.mark.parametrize(
    ("broken", "says"),
    [
        (BOX.replace("<Coordinate>30</Coordinate>", "<Coordinate>900000</Coordinate>"), "line 7: South wall: Gross area must be at most"),
        (BOX.replace('encoding="UTF-8"', 'encoding="klingon"'), "encoding"),
    ],
)
def test_what_no_home_can_hold_is_told_with_its_line(broken: str, says: str) -> None:
    with pytest.raises(HomeFileError, match=says):
        gbxml_in.read(broken.encode())


def test_a_neighbour_is_known_by_its_id_not_by_a_word_in_a_name() -> None:
    text = BOX.replace("<Name>Living</Name>", "<Name>Neighbour's old living room</Name>")
    assert gbxml_in.read(text.encode()).shape.faces == gbxml_in.read(BOX.encode()).shape.faces
