"""A dossier is worked out anew from the home inside it: all agrees, and whatever is altered is named."""

from __future__ import annotations

import hashlib
import io
import json
from collections.abc import Callable
from pathlib import Path

import pytest
from pypdf import PdfReader, PdfWriter
from pypdf.generic import ArrayObject, DecodedStreamObject, DictionaryObject, NameObject, NumberObject, TextStringObject

from nuthatch import cli
from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import SetValue, apply
from nuthatch.core.dossier.makeup import made_for, profiles
from nuthatch.core.dossier.record import HOME, RECORD, enclosed, files_in, page_digests, with_files
from nuthatch.core.dossier.report import Made
from nuthatch.core.dossier.revisions import content_hash
from nuthatch.core.dossier.setting import Letterhead
from nuthatch.core.dossier.verified import AGREES, DIFFERS, UNKNOWN, Line, Verified
from nuthatch.core.dossier.verify import verify
from nuthatch.core.files.homefile import HomeFile, HomeFileError, from_bytes, to_bytes, write
from nuthatch.core.library import demo_home, library_climate
from nuthatch.core.model.home import EvidenceFile
from nuthatch.core.model.part import Basis, Given, replace
from nuthatch.core.units import INCH_POUND, METRIC, using

HOW = Made(Letterhead("Tidewrack Energy Advice", "3 Net Loft Yard"), "2026-12-01", "draft")


@pytest.fixture(scope="module")
def short(osier_assessed: Assessment) -> Assessment:
    """Osier Lane 7 with the client's pages and a file of evidence: quick to print."""
    client = next(p for p in profiles() if p.id == "client")
    home = apply(made_for(osier_assessed.home, client), osier_assessed.home)
    proof = EvidenceFile(id="e-1", name="sheet.pdf", sha256=hashlib.sha256(b"x").hexdigest(), size=1)
    return assess(replace(home, evidence=(*home.evidence, proof)), osier_assessed.climate, osier_assessed)


@pytest.fixture(scope="module")
def dossier(short: Assessment) -> bytes:
    return enclosed(short, HOW)


def differs(data: bytes, **how: object) -> dict[str, str]:
    """What differs, and how it is told."""
    found = verify(data, "d.pdf", **how)  # type: ignore[arg-type]
    return {line.what: line.says for line in found.lines if line.standing == DIFFERS}


def rewritten(data: bytes, edit: Callable[[PdfWriter], None] | None = None, **files: bytes | None) -> bytes:
    """The same pages, edited, with other files inside; None: without."""
    held = files_in(data)
    for name, content in files.items():
        full = HOME if name == "home" else RECORD
        if content is None:
            held.pop(full)
        else:
            held[full] = content
    writer = PdfWriter()
    for page in PdfReader(io.BytesIO(data)).pages:
        writer.add_page(page)
    if edit is not None:
        edit(writer)
    out = io.BytesIO()
    writer.write(out)
    return with_files(out.getvalue(), held)


def record_with(data: bytes, change: Callable[[dict[str, object]], None]) -> bytes:
    record = json.loads(files_in(data)[RECORD])
    change(record)
    return json.dumps(record).encode()


def home_with(data: bytes, change: Callable[[HomeFile], HomeFile]) -> bytes:
    return to_bytes(change(from_bytes(files_in(data)[HOME])), whole=False)


def test_all_of_it_agrees(dossier: bytes, short: Assessment) -> None:
    found = verify(dossier, "d.pdf")
    assert (found.standing, found.code) == ("agrees", 0), found.as_text()
    assert {"results", "months", "targets", "lists", "pages", "weather", "evidence", "home inside"} <= {line.what for line in found.lines}
    assert content_hash(short.home)[:12] in found.as_text()[1] and found.home == short.home
    assert rewritten(dossier) != dossier and verify(rewritten(dossier), "d.pdf").standing == "agrees", "written anew, as it is drawn"


@pytest.mark.parametrize("system", [METRIC, INCH_POUND])
def test_a_dossier_in_the_units_of_whoever_printed_it_agrees_for_whoever_checks_it(system: str, short: Assessment) -> None:
    """Units “as shown” are those of the printer's screen, not of the checker's."""
    with using(system):
        data = enclosed(short, HOW)
    with using(METRIC if system == INCH_POUND else INCH_POUND):
        found = verify(data, "d.pdf")
    assert found.standing == "agrees", found.as_text()[:4]


def test_the_whole_dossier_of_a_cottage_agrees(demo_assessments: dict[str, Assessment]) -> None:
    assert verify(enclosed(demo_assessments["weir-cottage"], HOW), "weir.pdf").standing == "agrees"


def test_a_swapped_home_is_named(dossier: bytes, demo_assessments: dict[str, Assessment]) -> None:
    other = to_bytes(HomeFile(demo_assessments["weir-cottage"].home, None), whole=False)
    found = differs(rewritten(dossier, home=other))
    assert "home inside" in found and "home file inside" in found and "Heating demand" in found


def test_a_value_changed_in_the_home_inside_is_named(dossier: bytes) -> None:
    """Also where record and hashes are made to fit: the results do not."""

    def warmer(file: HomeFile) -> HomeFile:
        value = Given(value=0.9, basis=Basis.DECLARED)
        return HomeFile(
            apply(SetValue(part="air", field="n50", value=value), apply(SetValue(part="air", field="test", value=""), file.home)),
            file.weather,
        )

    other = home_with(dossier, warmer)

    def fit(record: dict[str, object]) -> None:
        record["home"], record["file"] = content_hash(from_bytes(other).home), hashlib.sha256(other).hexdigest()

    found = differs(rewritten(dossier, home=other, record=record_with(dossier, fit)))
    assert "home inside" not in found and "Air change at 50 Pa" in found and "home named on the pages" in found


def _number_on_page_two(writer: PdfWriter) -> None:
    """Something drawn on a page by hand."""
    page = writer.pages[1]
    stream = DecodedStreamObject()
    stream.set_data(page.get_contents().get_data() + b"\nq 1 1 1 rg 100 300 60 20 re f Q\n")  # type: ignore[union-attr]
    page[NameObject("/Contents")] = writer._add_object(stream)


def test_a_page_painted_over_is_named(dossier: bytes) -> None:
    found = differs(rewritten(dossier, _number_on_page_two))
    assert list(found) == ["page 2"] and "changed after it was printed" in found["page 2"]


def test_a_drawing_altered_inside_a_page_is_named(dossier: bytes) -> None:
    """What a page draws by name, not in its own lines."""
    touched = []

    def alter(writer: PdfWriter) -> None:
        for number, page in enumerate(writer.pages, 1):
            drawn = page.get_contents().get_data()  # type: ignore[union-attr]
            for name, ref in (page["/Resources"].get("/XObject") or {}).items():  # type: ignore[union-attr,attr-defined]
                stream = ref.get_object()
                if stream.get("/Subtype") == "/Form" and f"{name} Do".encode() in drawn and not touched:
                    stream.set_data(stream.get_data() + b"\nq 1 0 0 rg 0 0 9 9 re f Q\n")
                    touched.append(number)

    found = differs(rewritten(dossier, alter))
    assert touched and f"page {touched[0]}" in found, found


def test_a_drawing_in_a_drawing_and_what_a_link_paints_are_part_of_a_page(dossier: bytes) -> None:
    """What a page calls may call something else; a link that was there may be given a face that hides what is below it."""
    import pikepdf

    def drawn(inner: bytes, face: bool) -> list[str]:
        made = pikepdf.new()
        deep = made.make_stream(inner, Type=pikepdf.Name.XObject, Subtype=pikepdf.Name.Form, BBox=[0, 0, 9, 9])
        outer = made.make_stream(
            b"/deep Do", Type=pikepdf.Name.XObject, Subtype=pikepdf.Name.Form, BBox=[0, 0, 9, 9],
            Resources=pikepdf.Dictionary(XObject=pikepdf.Dictionary(deep=deep)),
        )  # fmt: skip
        made.add_blank_page(page_size=(99, 99))
        page = made.pages[0].obj
        page.Resources = pikepdf.Dictionary(XObject=pikepdf.Dictionary(outer=outer))
        page.Contents = made.make_stream(b"/outer Do")
        link = pikepdf.Dictionary(Type=pikepdf.Name.Annot, Subtype=pikepdf.Name.Link, Rect=[0, 0, 9, 9])
        if face:
            link.AP = pikepdf.Dictionary(N=deep)
        page.Annots = pikepdf.Array([made.make_indirect(link)])
        out = io.BytesIO()
        made.save(out)
        return page_digests(out.getvalue())

    assert drawn(b"1 g", False) == drawn(b"1 g", False) != drawn(b"0 g", False)
    assert drawn(b"1 g", True) != drawn(b"1 g", False)


def test_a_note_laid_over_a_page_is_named(dossier: bytes) -> None:
    def note(writer: PdfWriter) -> None:
        made = DictionaryObject(
            {
                NameObject("/Type"): NameObject("/Annot"),
                NameObject("/Subtype"): NameObject("/FreeText"),
                NameObject("/Rect"): ArrayObject([NumberObject(n) for n in (100, 300, 200, 320)]),
                NameObject("/Contents"): TextStringObject("12.0"),
            }
        )
        page = writer.pages[1]
        notes = page.get("/Annots")
        page[NameObject("/Annots")] = ArrayObject([*(notes.get_object() if notes is not None else ()), writer._add_object(made)])

    assert list(differs(rewritten(dossier, note))) == ["page 2"]


def test_a_page_altered_with_its_digest_is_told_by_its_words(dossier: bytes, short: Assessment) -> None:
    """The text of the page made anew says otherwise."""
    home = replace(short.home, name="Osier Lane 8")
    other = enclosed(assess(home, short.climate, short), HOW)
    theirs = PdfReader(io.BytesIO(other))

    def swap(writer: PdfWriter) -> None:
        writer.remove_page(1)
        writer.insert_page(theirs.pages[1], 1)

    made = rewritten(dossier, swap)
    assert "page 2" in differs(made)
    fit = rewritten(made, record=record_with(made, lambda r: r.update(pages=page_digests(made))))
    found = differs(fit)
    assert "page 2" in found and "Lane 8" in found["page 2"]


def test_a_page_taken_out_is_named(dossier: bytes) -> None:
    assert "pages" in differs(rewritten(dossier, lambda w: w.remove_page(1)))


def test_a_figure_altered_in_the_record_is_named(dossier: bytes) -> None:
    def lower(record: dict[str, object]) -> None:
        record["figures"]["heating_demand"] = {"value": 9.9, "shown": "9.9\u00a0kWh/(m²·a)"}  # type: ignore[index]

    found = differs(rewritten(dossier, record=record_with(dossier, lower)))
    assert list(found) == ["Heating demand"] and "printed 9.9" in found["Heating demand"]


def test_a_target_and_a_list_altered_in_the_record_are_named(dossier: bytes) -> None:
    def met(record: dict[str, object]) -> None:
        for target in record["targets"]:  # type: ignore[attr-defined]
            target["standing"] = "inside"
        record["sheets"]["faces"] = "0" * 64  # type: ignore[index]
        record["months"]["heating_demand"] = [0.0] * 12  # type: ignore[index]

    found = differs(rewritten(dossier, record=record_with(dossier, met)))
    assert set(found) == {"targets", "lists", "months"} and "Faces" in found["lists"] and "heating_demand" in found["months"]


def test_another_version_is_told_and_blamed(dossier: bytes) -> None:
    def older(record: dict[str, object]) -> None:
        record["version"] = "0.1.0"
        record["figures"]["n50"]["value"] = 0.5  # type: ignore[index]

    found = verify(rewritten(dossier, record=record_with(dossier, older)), "d.pdf")
    lines = {line.what: line for line in found.lines}
    assert lines["version"].standing == UNKNOWN and "0.1.0" in lines["version"].says
    assert "Nuthatch 0.1.0 then" in lines["Air change at 50 Pa"].says and "by their digests" in lines["pages"].says


def test_a_newer_one_is_refused_with_a_sentence(dossier: bytes) -> None:
    with pytest.raises(HomeFileError, match="newer Nuthatch"):
        verify(rewritten(dossier, record=record_with(dossier, lambda r: r.update(schema=99, version="9.0"))), "d.pdf")
    import zipfile

    inner = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(files_in(dossier)[HOME])) as old, zipfile.ZipFile(inner, "w") as new:
        for name in old.namelist():
            data = old.read(name)
            new.writestr(name, data.replace(b'"schema": 10', b'"schema": 99') if name == "home.json" else data)
    with pytest.raises(HomeFileError, match="home inside it: .*newer Nuthatch"):
        verify(rewritten(dossier, home=inner.getvalue()), "d.pdf")


def test_missing_and_swapped_weather_are_named(dossier: bytes) -> None:
    without = differs(rewritten(dossier, home=home_with(dossier, lambda f: HomeFile(f.home, None))))
    assert "missing" in without["weather"] and "the library has the same one" in without["weather"]
    other = differs(rewritten(dossier, home=home_with(dossier, lambda f: HomeFile(f.home, library_climate("verrin-plain")))))
    assert "not the one the home names" in other["weather"]


def test_changed_evidence_is_named(dossier: bytes) -> None:
    def other(record: dict[str, object]) -> None:
        record["evidence"][-1]["sha256"] = "0" * 64  # type: ignore[index]

    assert "sheet.pdf" in differs(rewritten(dossier, record=record_with(dossier, other)))["evidence"]


@pytest.mark.parametrize(
    ("data", "why"), [(b"", "no PDF"), (b"%PDF-1.7 nothing", "no PDF"), (b"PK\x03\x04 no", "no PDF")], ids=["empty", "broken", "a zip"]
)
def test_what_is_no_dossier_says_so(data: bytes, why: str) -> None:
    with pytest.raises(HomeFileError, match=why):
        verify(data, "d.pdf")


def test_a_pdf_without_its_home_or_record_says_so(dossier: bytes) -> None:
    for name, what in (("home", HOME), ("record", RECORD)):
        with pytest.raises(HomeFileError, match=what):
            verify(rewritten(dossier, **{name: None}), "d.pdf")
    with pytest.raises(HomeFileError, match="no record of a dossier"):
        verify(rewritten(dossier, record=b"[]"), "d.pdf")


def test_a_home_held_beside_it(dossier: bytes, short: Assessment) -> None:
    assert verify(dossier, "d.pdf", HomeFile(short.home, None)).standing == "agrees"
    wider = apply(SetValue(part="w-01", field="width", value=Given(value=2.0, basis=Basis.DECLARED)), short.home)
    found = differs(dossier, against=HomeFile(wider, None))
    assert (
        list(found) == ["the home beside it"] and "1 change since" in found["the home beside it"] and "2.00" in found["the home beside it"]
    )


def test_the_command_line(dossier: bytes, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "d.pdf"
    path.write_bytes(dossier)
    assert cli.main(["verify", str(path)]) == 0 and "all of it agrees" in capsys.readouterr().out
    assert cli.main(["verify", str(path), "--json", "--against", "osier-lane-7"]) == 1
    said = json.loads(capsys.readouterr().out)
    assert said["standing"] == "differs" and any(line["what"] == "the home beside it" for line in said["lines"])
    path.write_bytes(b"nothing")
    assert cli.main(["verify", str(path)]) == 2 and "no PDF" in capsys.readouterr().err
    assert cli.main(["verify", str(tmp_path / "none.pdf")]) == 2 and cli.main(["verify", "osier-lane-7"]) == 2
    assert "no dossier of this home was issued yet" in capsys.readouterr().err


def test_a_dossier_with_another_climate_carries_it(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """`check --climate FILE --dossier`: the home inside names the weather it was worked out with."""
    (tmp_path / "w.epw").write_bytes(library_climate("verrin-plain"))
    home = demo_home("sail-loft")
    client = next(p for p in profiles() if p.id == "client")
    write(tmp_path / "h.nuthatch", HomeFile(apply(made_for(home, client), home), None))
    call = ["check", str(tmp_path / "h.nuthatch"), "--climate", str(tmp_path / "w.epw"), "--dossier", str(tmp_path / "d.pdf")]
    assert cli.main(call) in (0, 1, 3)
    capsys.readouterr()
    assert cli.main(["verify", str(tmp_path / "d.pdf")]) == 0, capsys.readouterr().out[:600]


def test_lines_say_what_differs_first() -> None:
    made = Verified("d", (Line("a", AGREES), Line("b", DIFFERS, "why")))
    assert made.as_text() == ["d: 1 of 2 differ", "differs         b: why", "agrees          a"] and made.code == 1
    assert Verified("d", (Line("a", UNKNOWN),)).code == 3
