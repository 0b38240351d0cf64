"""The office profile, homes like another, the visit, and the register of homes."""

from __future__ import annotations

import csv
import io
import json
from pathlib import Path

import openpyxl
import pytest

from nuthatch import cli
from nuthatch.core import register
from nuthatch.core.assess import Assessment, assess
from nuthatch.core.dossier.report import Made, letterhead, to_html, write
from nuthatch.core.energy.use_stages import USES
from nuthatch.core.exchange.own_sets import own_sets
from nuthatch.core.exchange.sheet_files import as_xlsx
from nuthatch.core.files import homefile
from nuthatch.core.files.homefile import HomeFile, HomeFileError
from nuthatch.core.files.lock import Lock
from nuthatch.core.library import DATA, demo_folder, demo_home, new_home, scheme
from nuthatch.core.model.home import EvidenceFile, Home, Pin, walk_parts
from nuthatch.core.model.part import Basis, Given, replace, specs
from nuthatch.core.office import (
    CARRIED,
    Office,
    OfficeFile,
    export_office,
    from_bytes,
    import_office,
    like,
    load_office,
    profile_path,
    save_office,
    start_home,
)
from nuthatch.core.questions import values
from nuthatch.core.units import INCH_POUND, using
from nuthatch.core.views.sheets.of_home import sheets
from nuthatch.core.visit import by_part, to_collect
from nuthatch.desktop.pages.visit import visit_page
from tests.form_homes import form_home

EXAMPLE = DATA / "examples" / "tidewrack.nuthatch-office"


@pytest.fixture
def own_folders(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    for kind in ("CONFIG", "DATA", "CACHE", "STATE"):
        monkeypatch.setenv(f"XDG_{kind}_HOME", str(tmp_path / kind.lower()))
    return tmp_path


def all_givens(home: Home) -> list[Given]:
    return [g for p in walk_parts(home) for f in specs(type(p)) if isinstance(g := getattr(p, f), Given)]


def test_a_profile_goes_out_and_comes_in_as_one_file(own_folders: Path) -> None:
    content, said = load_office()
    assert not said and content.office.company == ""
    taken = import_office(EXAMPLE)
    again, said = load_office()
    assert again.office == taken.office and again.logo == taken.logo and again.office.company == "Tidewrack Energy Advice" and not said
    assert [s.id for s in own_sets()[0]] == ["harbour-fund"], "own target sets come along"
    out = own_folders / "out.nuthatch-office"
    export_office(again, out)
    found = from_bytes(out.read_bytes())
    assert found.office == again.office and [s.id for s in found.sets] == ["harbour-fund"]
    home = start_home(again.office, "Plot 1")
    assert home.name == "Plot 1" and home.buildups == again.office.start.buildups and home.carriers[0].price is not None


def test_a_damaged_profile_is_told_and_put_aside(own_folders: Path) -> None:
    save_office(OfficeFile(Office(company="First")))
    profile_path().write_bytes(b"damaged")
    content, said = load_office()
    assert content.office == Office() and "cannot be used" in said and "damaged" in said
    save_office(OfficeFile(Office(company="Second")))
    assert load_office()[0].office.company == "Second"
    assert profile_path().with_name(profile_path().name + ".unreadable").read_bytes() == b"damaged"
    with pytest.raises(HomeFileError, match="nothing.nuthatch-office"):
        import_office(own_folders / "nothing.nuthatch-office")


@pytest.mark.parametrize("chosen", [set(), {"shape"}, {"build-ups", "air"}, set(CARRIED), {"junctions", "client"}])
def test_what_was_measured_is_never_carried_over(chosen: set[str]) -> None:
    osier = form_home("osier-lane-7")
    form = osier.shape.form
    assert form is not None and form.length is not None
    measured = replace(form, length=Given(value=7.3, basis=Basis.MEASURED, source="taped", files=("evidence-1",)))
    other = replace(
        osier, shape=replace(osier.shape, form=measured), evidence=(EvidenceFile(id="evidence-1", name="x.jpg", sha256="0" * 64, size=3),)
    )
    new = like(other, chosen, new_home(), "Plot 8")
    assert not [g for g in all_givens(new) if g.basis is Basis.MEASURED or g.files] and new.evidence == ()
    assert new.name == "Plot 8" and new.brief.plot == "" and new.air.n50 is None
    made = assess(new, None)
    if "shape" in chosen or "junctions" in chosen:
        assert new.buildups == other.buildups and new.shape.form is not None and new.shape.form.length is None
        assert {o.type for o in new.openings} <= {t.id for t in new.opening_types}
        assert any(q.part == "form" and q.field == "length" for q in made.questions), "what is gone is asked for"
    else:
        assert new.openings == ()
    if "client" in chosen:
        assert new.brief.client == osier.brief.client


def test_the_visit_list_names_every_unproven_value_the_targets_rest_on(osier_assessed: Assessment) -> None:
    items = to_collect(osier_assessed)
    keys = {(i.part, i.field) for i in items}
    assert ("triple", "glass_u") in keys and ("air", "n50") not in keys, "n50 has its test record"
    assert ("carriers", "price") not in keys and all(i.proof and i.targets for i in items)
    assert sum(len(r[2]) for r in by_part(items)) == len(items)
    page = visit_page(osier_assessed, "Tidewrack Energy Advice")
    assert "Installation ψ" in page and "Tidewrack" in page and "photo of the spacer" in page
    empty = assess(start_home(Office(), "Empty"), None)
    assert any(i.now == "not given" for i in to_collect(empty))


def test_the_register_says_of_every_file_how_it_stands(own_folders: Path) -> None:
    folder = demo_folder()
    (folder / "broken.nuthatch").write_bytes(b"no zip")
    (folder / ".hidden.nuthatch").write_bytes(b"no zip")
    paths = register.files([folder])
    rows, unknown = register.listed(paths)
    assert len(paths) == 28 == len(rows) and len(unknown) == 28 and {r.standing for r in rows} == {""}
    held = Lock(folder / "weir-cottage.nuthatch")
    found = {Path(r.path).stem: r for r in register.checked(unknown)}
    assert held.held and "since" in found["weir-cottage"].locked and "open elsewhere" in found["weir-cottage"].note
    assert found["broken"].standing == "fault" and "zip" in found["broken"].fault
    osier = found["osier-lane-7"]
    assert osier.standing == "over" and osier.tight_name == "Air change at 50 Pa" and osier.tight_value == 0.64 and osier.questions == 3
    assert osier.margin == "Air change at 50 Pa: 0.64 of 0.6 1/h"
    rows, unknown = register.listed(paths)
    assert [p.stem for p in unknown] == ["broken"], "what is known by its content is not computed again"
    home = homefile.read(folder / "sail-loft.nuthatch").home
    homefile.write(folder / "sail-loft.nuthatch", HomeFile(replace(home, name="Changed"), None))
    assert {p.stem for p in register.listed(paths)[1]} == {"broken", "sail-loft"}
    register.cache_file().write_text("damaged")
    assert register.known() == {} and len(register.listed(paths)[1]) == 28


def test_the_scheme_has_24_plots_that_differ() -> None:
    homes = scheme()
    assert len(homes) == 24 and len({h.name for h in homes.values()}) == 24
    demand = {k: assess(h, None).figures["transmission_loss_coefficient"].value for k, h in homes.items()}
    assert demand["osier-lane-10"] < demand["osier-lane-9"], "a plot between two others loses less"
    assert sum(1 for h in homes.values() if h.air.n50 and h.air.n50.basis is Basis.MEASURED) == 8
    assert sum(1 for h in homes.values() if h.brief.bedrooms is None) == 2


def test_homes_on_the_command_line(own_folders: Path, capsys: pytest.CaptureFixture[str]) -> None:
    folder = own_folders / "homes"
    folder.mkdir()
    for key in ("sail-loft", "osier-lane-7"):
        homefile.write(folder / f"{key}.nuthatch", HomeFile(replace(demo_home(key), name=f"={key}"), None))
    (folder / "x.nuthatch").write_text("no")
    assert cli.main(["homes", str(folder), "--json"]) == 0
    rows = {r["name"]: r for r in json.loads(capsys.readouterr().out)}
    assert rows["=osier-lane-7"]["standing"] == "over" and rows["x"]["fault"]
    assert cli.main(["homes", str(folder), "--csv", "--units", "inch-pound"]) == 0
    table = list(csv.reader(io.StringIO(capsys.readouterr().out)))
    assert tuple(table[0]) == tuple(c.label for c in register.TABLE) and len(table) == 4
    loft = next(r for r in table if r[0] == "'=sail-loft")
    assert "Btu/(h·°F)" in loft[5] and float(loft[6]) == pytest.approx(100 * (33.73 - 39.85) / 33.73, abs=0.1)
    assert cli.main(["homes", str(folder), "--xlsx", str(own_folders / "t.xlsx")]) == 0
    assert "some missed" in capsys.readouterr().out
    sheet = openpyxl.load_workbook(own_folders / "t.xlsx")["Homes"]
    assert sheet.max_row == 4 and {sheet.cell(r, 1).data_type for r in (2, 3)} == {"s"}, "no text becomes a formula"
    assert cli.main(["homes", str(own_folders / "none")]) == 2 and "no such folder" in capsys.readouterr().err


def test_the_dossier_as_page_and_spreadsheet(osier_assessed: Assessment, own_folders: Path) -> None:
    import_office(EXAMPLE)
    head = letterhead(load_office()[0])
    home = replace(
        osier_assessed.home,
        pins=(Pin(id="p1", name="What <we> saw", picture="air-paths"), Pin(id="p2", name="Gone", picture="section", of="none")),
    )
    a = assess(home, osier_assessed.climate, osier_assessed)
    write(a, own_folders / "d.html", Made(head))
    page = (own_folders / "d.html").read_text()
    assert "file://" not in page and "data:font/otf;base64," in page and "data:image/png;base64," in page, "it stands alone"
    assert (
        "Tidewrack Energy Advice" in page and "What &lt;we&gt; saw" in page and "Every air path" in page and "no longer in the home" in page
    )
    assert page.index("What &lt;we&gt; saw") < page.index("no longer in the home")
    write(a, own_folders / "d.xlsx")
    book = openpyxl.load_workbook(own_folders / "d.xlsx")
    assert book.sheetnames == [s.title for s in sheets(a)]
    results = {r[4].value: (r[1].value, r[2].value) for r in book["Results"].iter_rows(min_row=2)}
    for key, figure in a.figures.items():
        if figure.value is not None:
            assert results[key][0] == pytest.approx(float(figure.value) * (100 if figure.kind == "percent" else 1)), key
    assert book["Values"].max_row == 1 + len(list(values(home)))
    with using(INCH_POUND):
        book = openpyxl.load_workbook(io.BytesIO(as_xlsx(sheets(a))))
    demand = {r[4].value: r[1].value for r in book["Results"].iter_rows(min_row=2)}["heating_demand"]
    assert demand == pytest.approx(a.figures["heating_demand"].value * 0.316998, rel=1e-5)
    with pytest.raises(HomeFileError, match=".pdf, .html, .xlsx or .json"):
        write(a, own_folders / "d.docx")
    assert "cost" in to_html(a) and a.figures["energy_cost"].value == pytest.approx(
        sum(float(u.energy.value) * u.carrier.price.value for u in a[USES]), rel=1e-12
    )


def test_homes_whose_details_are_worked_out_meanwhile_are_told_as_rows_only(own_folders: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """How far a detail is worked out is nothing to whoever waits for rows: it broke off the checking of several homes."""
    from nuthatch.core.heatflow import stages, worked

    monkeypatch.setattr(worked, "PSI", 1e-5)  # so that its grid is made finer, and tells
    stages._known.cache_clear()
    path = own_folders / "cottage.nuthatch"
    path.write_bytes(homefile.to_bytes(HomeFile(demo_home("weir-cottage"), None)))
    rows = register.checked([path], own_folders / "nothing kept here yet")
    stages._known.cache_clear()
    assert [type(r).__name__ for r in rows] == ["Row"]
