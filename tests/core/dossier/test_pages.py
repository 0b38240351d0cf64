"""The pages of a dossier: what they say is what the results say; links lead where they say; chapters, paper, units as they are chosen; fonts
inside, nothing from elsewhere; drawings to their scale."""

from __future__ import annotations

import io
import re
from math import dist

import pytest
from pypdf import PdfReader

from nuthatch import __version__
from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import apply
from nuthatch.core.climate.library import climate_for
from nuthatch.core.dossier.binding import gatherings
from nuthatch.core.dossier.chapters import CHAPTERS
from nuthatch.core.dossier.links import anchor, read
from nuthatch.core.dossier.makeup import as_profile, chapters_of, made_for, pages_of, profiles, rearranged
from nuthatch.core.dossier.printing import printed_apart
from nuthatch.core.dossier.proof import missing_evidence
from nuthatch.core.dossier.record import enclosed, files_in
from nuthatch.core.dossier.report import Made, to_html, to_pdf
from nuthatch.core.exchange.summary import as_data
from nuthatch.core.files.homefile import home_hash
from nuthatch.core.library import demo_home
from nuthatch.core.model.dossier import Chapter
from nuthatch.core.model.home import Home, Pin
from nuthatch.core.model.part import replace
from nuthatch.core.results.figure import shown
from nuthatch.core.sketch import Path, Text
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.units import INCH_POUND, KINDS, show, using, with_both, with_unit
from nuthatch.core.views.shape.axonometric import shown_solid
from nuthatch.core.views.shape.to_scale import PER_MM, elevations_to_scale, numbers, plan_to_scale, section_to_scale

TODAY = Made(date="2026-12-01")


def flat(text: str) -> str:
    return " ".join(text.split())


@pytest.fixture(scope="module")
def printed(osier_assessed: Assessment) -> PdfReader:
    """The whole dossier of Osier Lane 7, as it is handed out."""
    return PdfReader(io.BytesIO(enclosed(osier_assessed, TODAY)))


@pytest.fixture(scope="module")
def texts(printed: PdfReader) -> list[str]:
    return [flat(page.extract_text()) for page in printed.pages]


@pytest.fixture(scope="module")
def text(texts: list[str]) -> str:
    return " ".join(texts)


def test_every_figure_of_the_command_line_is_printed_to_its_last_shown_digit(osier_assessed: Assessment, text: str) -> None:
    a, data = osier_assessed, as_data(osier_assessed)
    for key in data["figures"]:
        assert key in text and flat(shown(a.figures[key])) in text, key
    for key, values in data["months"].items():
        for value in values or ():
            assert show(value, "energy_month").replace("\u202f", " ") in text.replace("\u202f", " "), key
    for e in data["elements"]:
        for field, kind in (("u", "u"), ("loss", "w_per_k"), ("area", "area")):
            assert e[field] is None or show(e[field], kind) in text, (e["name"], field)
    for row in data["rooms"]:
        assert row["name"] in text and show(row["area"], "area") in text
        assert row["heating_load"] is None or show(row["heating_load"], "power").replace("\u202f", " ") in text.replace("\u202f", " ")
    for row in data["junctions"]:
        assert row["psi"] is None or show(row["psi"], "psi") in text, row["name"]
    for row in data["edges"]:
        assert show(row["length"], "length") in text


def test_the_dossier_carries_every_result_and_every_value(osier_assessed: Assessment, printed: PdfReader, text: str) -> None:
    assert to_html(osier_assessed, TODAY) == to_html(osier_assessed, TODAY), "same home, same dossier"
    for key in (
        "heating_demand",
        "cooling_demand",
        "heating_load",
        "n50",
        "q50",
        "primary_energy",
        "ua_proposed",
        "reference_floor_area",
        "hot_water_demand",
    ):
        f = osier_assessed.figures[key]
        assert " ".join(with_unit(f.value, f.kind).split()) in text, key
    assert home_hash(osier_assessed.home)[:12] in text and "2026-12-01" in text and f"Nuthatch {__version__}" in text
    for question in osier_assessed.questions:
        assert " ".join(question.text.split()) in text
    for words in (
        "Take-off",
        "Build-ups",
        "Openings",
        "Junctions",
        "Air",
        "Balance",
        "Open questions",
        "Values by their basis",
        "Some targets are missed",
        "Measured (1)",
    ):
        assert words in text, words
    assert f"{len(printed.pages)} / {len(printed.pages)}" in text
    assert not any(len(p.images) for p in printed.pages), "drawings are vectors"
    lacking = {name for _, name, _ in missing_evidence(osier_assessed.home)}
    assert "Air change at 50 Pa, n50" not in lacking and "Glass U_g" in lacking, "only the air test has its record attached"


def test_links_lead_where_they_say(osier_assessed: Assessment, printed: PdfReader, texts: list[str]) -> None:
    """A result's number leads to the line of that result, a line of the contents to its chapter; every link has a place to lead to."""
    ends = printed.named_destinations
    numbers_of = {n.idnum: at for at, page in enumerate(printed.pages) if (n := page.indirect_reference) is not None}
    led: dict[str, int] = {}
    for page in printed.pages:
        for ref in page.get("/Annots") or ():
            note = ref.get_object()
            assert "/A" not in note or "/URI" not in note["/A"], "nothing leads out of the file"
            name = str(note.get("/Dest") or note["/A"]["/D"])
            assert name in ends, name
            led[name] = numbers_of[ends[name].raw_get("/Page").idnum]
    assert len(led) > 80
    page = to_html(osier_assessed, TODAY)
    assert set(re.findall(r'href="#([^"]+)"', page)) <= set(re.findall(r'id="([^"]+)"', page)), "the writer drops a link without a word"
    for key in ("heating_demand", "n50", "primary_energy", "reference_floor_area"):
        assert key in texts[led[anchor("r", key)]] and osier_assessed.figures[key].label in texts[led[anchor("r", key)]]
    for title in ("Take-off", "Build-ups", "Junctions", "Declaration"):
        assert any(title in texts[at] for name, at in led.items() if name.startswith("h-"))
    outline = [o for o in printed.outline if not isinstance(o, list)]
    assert [o.title for o in outline] == [
        c.name or CHAPTERS[c.chapter].title
        for c in chapters_of(osier_assessed.home)
        if CHAPTERS[c.chapter].title in " ".join(texts) and _in(c, texts)
    ]


def _in(chapter: Chapter, texts: list[str]) -> bool:
    return any(re.search(rf"\b\d+\s+{re.escape(CHAPTERS[chapter.chapter].title)}\b", t) for t in texts[2:])


def test_fonts_lie_inside_and_nothing_comes_from_elsewhere(printed: PdfReader) -> None:
    """PDF/A-3 asks for it (ISO 19005-3, 6.2.11.4 and 6.8); what a validator would say has not been asked."""
    found = set()
    for page in printed.pages:
        for font in page["/Resources"]["/Font"].values():  # type: ignore[index]
            inner = font["/DescendantFonts"][0].get_object()
            described = inner["/FontDescriptor"]
            assert any(k in described for k in ("/FontFile", "/FontFile2", "/FontFile3")), font
            found.add(str(described["/FontName"]))
    assert found and all("Inter" in name for name in found)
    root = printed.trailer["/Root"]
    data = root["/Metadata"].get_object().get_data().decode()  # type: ignore[index]
    assert re.search(r"pdfaid:part\D+3", data) and root["/OutputIntents"] and len(root["/AF"]) == 2  # type: ignore[index,arg-type]
    assert printed.trailer["/ID"] and not any(k in root for k in ("/OpenAction", "/AA"))  # type: ignore[operator]


def test_the_page_is_one_file_without_scripts(osier_assessed: Assessment) -> None:
    page = to_html(osier_assessed, replace_made(alone=True))
    assert "<script" not in page and "javascript:" not in page
    outside = {a for a in re.findall(r'(?:src|href)="([^"#][^"]*)"', page) if not a.startswith("data:")}
    assert not outside and all(u.startswith(("data:", "#")) for u in re.findall(r"url\([\"']?([^\"')]+)", page) if u != "href"), outside


def replace_made(**how: object) -> Made:
    return Made(date="2026-12-01", **how)  # type: ignore[arg-type]


def test_the_window_s_pages_lead_to_fields_and_workings(osier_assessed: Assessment) -> None:
    page = to_html(osier_assessed, replace_made(live=True))
    led = {found for address in re.findall(r'href="(nuthatch:[^"]*)"', page) if (found := read(address)) is not None}
    assert ("result", "heating_demand", "") in led
    fields = {(part, field) for what, part, field in led if what == "field"}
    from nuthatch.core.questions import values

    entered = {(str(getattr(p, "id", "")), name) for _, p, name, _ in values(osier_assessed.home)}
    alone = {place for place in entered if place in fields}
    assert len(alone) > 0.8 * len(entered), "values of parts that are alike stand together and lead nowhere by themselves"
    assert (
        read("nuthatch:field/a%2Fb/c") == ("field", "a/b", "c") and read("https://elsewhere") is None and read("nuthatch:other/x") is None
    )


# chapters


def with_chapters(*keys: str) -> Home:
    home = demo_home("osier-lane-7")
    return apply(rearranged(home, (Chapter(id=f"chapter-{k}", chapter=k) for k in keys)), home)


def headings(a: Assessment) -> list[str]:
    return [re.sub(r"<[^>]*>", "", h) for h in re.findall(r"<h2[^>]*>(.*?)</h2>", to_html(a, TODAY))]


def made(home: Home, base: Assessment) -> Assessment:
    return assess(home, base.climate, base)


def test_chapters_come_in_the_order_and_under_the_headings_chosen(osier_assessed: Assessment) -> None:
    home = with_chapters("open", "verdict", "declaration")
    assert headings(made(home, osier_assessed)) == ["Open questions", "Targets with margins", "Declaration"]
    first, second, third = home.dossier.chapters
    renamed = apply(rearranged(home, (replace(second, name="How it <stands>"), replace(third, shown=False), first)), home)
    assert headings(made(renamed, osier_assessed)) == ["How it &lt;stands&gt;", "Open questions"]
    unknown = apply(rearranged(home, (Chapter(id="c", chapter="of a newer profile"), first)), home)
    assert headings(made(unknown, osier_assessed)) == ["Open questions"]


def test_every_chapter_of_every_profile_is_known_and_the_certifier_has_all() -> None:
    for profile in profiles():
        assert profile.about and all(c.chapter in CHAPTERS for c in profile.chapters), profile.name
    assert {c.chapter for c in profiles()[0].chapters} == set(CHAPTERS) - {"summary"}
    home = demo_home("osier-lane-7")
    client = next(p for p in profiles() if p.id == "client")
    signed = replace(home, dossier=replace(home.dossier, prepared="who wrote it"))
    after = apply(made_for(signed, client), signed)
    assert after.dossier.profile == client.name and after.dossier.prepared == "who wrote it"
    again = as_profile(after.dossier, "dossier-1", "ours", chapters_of(after))
    assert apply(made_for(home, again), home).dossier.chapters == client.chapters


def test_the_client_s_dossier_has_four_pages_at_most(osier_assessed: Assessment) -> None:
    client = next(p for p in profiles() if p.id == "client")
    for paper, wide, high in (("A4", 210 / 25.4 * 72, 297 / 25.4 * 72), ("Letter", 8.5 * 72, 11.0 * 72)):  # ISO 216; ANSI/ASME Y14.1
        home = apply(made_for(osier_assessed.home, client), osier_assessed.home)
        home = replace(home, dossier=replace(home.dossier, paper=paper))  # type: ignore[arg-type]
        reader = PdfReader(io.BytesIO(to_pdf(made(home, osier_assessed), TODAY)))
        box = reader.pages[1].mediabox
        assert 2 <= len(reader.pages) <= 4
        assert (float(box.width), float(box.height)) == pytest.approx((wide, high), abs=0.6), paper


def test_pins_stand_at_the_end_of_their_chapter(osier_assessed: Assessment) -> None:
    home = replace(with_chapters("verdict", "air", "pinned"), pins=())
    pins = (Pin(id="p1", name="Beside the air", picture="air-paths", chapter="air"), Pin(id="p2", name="Anywhere", picture="account"),
            Pin(id="p3", name="Of a chapter that is not in", picture="account", chapter="balance"))  # fmt: skip
    page = to_html(made(replace(home, pins=pins), osier_assessed), TODAY)
    air, pinned = page.index(">Air</h2>"), page.index(">Pinned drawings and charts</h2>")
    assert air < page.index("Beside the air") < pinned < page.index("Anywhere") < page.index("Of a chapter that is not in")
    only = to_html(made(replace(home, pins=pins[:1]), osier_assessed), TODAY)
    assert ">Pinned drawings and charts</h2>" not in only


# units


def test_both_units_stand_beside_each_other(osier_assessed: Assessment) -> None:
    demand = float(osier_assessed.figures["heating_demand"].value)  # type: ignore[arg-type]
    with with_both():
        assert (
            with_unit(demand, "specific_energy")
            == f"{show(demand, 'specific_energy')}\u00a0kWh/(m²·a) ({demand * 0.316998:.2f}\u00a0kBtu/(ft²·yr))"
        )
        assert with_unit(3.0, "length") == "3.00\u00a0m (9′ 10 1/8″)" and with_unit(0.85, "percent") == "85.0\u00a0%", "alike in both: once"
    assert "(" not in with_unit(3.0, "length")
    home = with_chapters("verdict", "takeoff", "results")
    home = replace(home, dossier=replace(home.dossier, units="both"))
    page = to_html(made(home, osier_assessed), TODAY)
    assert f"{demand * 0.316998:.2f}\u00a0kBtu/(ft²·yr)" in page and "Net area [m² (ft²)]" in page
    area = float(osier_assessed.figures["reference_floor_area"].value)  # type: ignore[arg-type]
    with using(INCH_POUND):
        assert f"({with_unit(area, 'area')})" in page
    other = to_html(made(replace(home, dossier=replace(home.dossier, units="inch-pound")), osier_assessed), TODAY)
    assert "Net area [ft²]" in other and "kWh/(m²·a)" not in re.sub(
        r"<table[^>]*>(?:(?!</table>).)*in SI</th>.*?</table>", "", other, flags=re.S
    )


# to scale


def _ring(made: object, ident: str) -> list[tuple[float, float]]:
    return next(list(i.points) for i in made.items if isinstance(i, Path) and i.id == ident and len(i.points) == 4)  # type: ignore[attr-defined]


@pytest.mark.parametrize(("system", "scales"), [("metric", {20, 50, 100, 200}), ("inch-pound", {24, 48, 96, 192})])
def test_plans_are_drawn_to_the_scale_they_state(system: str, scales: set[int], osier_assessed: Assessment) -> None:
    """A wall of so many metres is so many millimetres of paper long."""
    a = osier_assessed
    plans = a.home.shape.plans
    assert plans is not None
    with using(system):
        for paper in ((170.0, 239.0), (120.0, 120.0)):
            drawn = plan_to_scale(a, plans.storeys[0].id, paper)
            assert drawn.scale in scales and drawn.width <= paper[0] and drawn.sketch.height / PER_MM <= paper[1]
            built = a[BUILT]
            assert built is not None
            for side, (outer, _) in built.walls.items():
                if not any(s.id == side for o in plans.storeys[0].outlines for s in o.sides):
                    continue
                ring = _ring(drawn.sketch, side)
                assert dist(ring[0], ring[1]) / PER_MM * drawn.scale / 1000 == pytest.approx(dist(*outer), rel=1e-6), side
            assert f"1 : {drawn.scale}" in drawn.says and drawn.width == pytest.approx(drawn.sketch.width / PER_MM)


def test_elevations_and_section_share_a_scale_and_every_face_has_its_number(osier_assessed: Assessment) -> None:
    a = osier_assessed
    sides, known = elevations_to_scale(a, (170.0, 119.0)), numbers(a)
    assert len({s.scale for s in sides.values()}) == 1 and list(known.values()) == list(range(1, len(known) + 1))
    plans = a.home.shape.plans
    assert plans is not None
    shown = {side: {t.text for t in s.sketch.items if isinstance(t, Text) and t.color == "slate" and t.bold} for side, s in sides.items()}
    assert not shown["south"] & shown["north"] and not shown["east"] & shown["west"], "what lies behind is not numbered"
    told = {t.text for s in sides.values() for t in s.sketch.items if isinstance(t, Text) and t.color == "slate" and t.bold}
    for storey in plans.storeys:
        told |= {
            t.text
            for t in plan_to_scale(a, storey.id, (170.0, 239.0)).sketch.items
            if isinstance(t, Text) and t.color == "slate" and t.bold
        }
    walls_and_roofs = {str(n) for i, n in known.items() if not i.startswith(("slab", "ground"))}
    seen = {n for n in walls_and_roofs if n in told}
    assert len(seen) >= len(known) - 2, walls_and_roofs - told
    with pytest.raises(KeyError):
        plan_to_scale(a, "gone", (100.0, 100.0))
    assert section_to_scale(a, 100).width > 0


@pytest.mark.parametrize("key", ["osier-lane-7", "weir-cottage", "sail-loft"])
def test_elevations_and_sections_are_drawn_to_the_scale_they_state(key: str, demo_assessments: dict[str, Assessment]) -> None:
    """The faces one sees are together as wide and high on paper as the home is, and the section's levels as far apart."""
    a = demo_assessments[key]
    points = [p for polygon in shown_solid(a[SOLID]).values() for p in polygon]
    north, high = max(p[1] for p in points) - min(p[1] for p in points), max(p[2] for p in points) - min(p[2] for p in points)
    sides = elevations_to_scale(a, (170.0, 119.0))
    faces = {f.id for f in a[SOLID].boundaries}
    seen = [p for i in sides["east"].sketch.items if isinstance(i, Path) and i.id in faces for p in i.points]
    metres = sides["east"].scale / 1000 / PER_MM
    assert (max(p[0] for p in seen) - min(p[0] for p in seen)) * metres == pytest.approx(north, abs=0.02)
    assert (max(p[1] for p in seen) - min(p[1] for p in seen)) * metres <= high + 0.02
    cut = section_to_scale(a, sides["east"].scale).sketch
    levels = sorted({i.y for i in cut.items if isinstance(i, Text) and i.text.endswith("m")}, reverse=True)
    floors = sorted(f.level for f in a[BUILT].drawing.floors)  # type: ignore[union-attr]
    drawn = [(levels[0] - y) * metres for y in levels]
    assert drawn == pytest.approx([f - floors[0] for f in floors], abs=0.01)


def test_drawings_are_printed_as_wide_as_their_scale_asks(osier_assessed: Assessment) -> None:
    home = with_chapters("takeoff")
    page = to_html(made(home, osier_assessed), TODAY)
    plans = osier_assessed.home.shape.plans
    assert plans is not None
    for storey in plans.storeys:
        drawn = plan_to_scale(osier_assessed, storey.id, pages_of(home.dossier).room)
        assert re.search(rf'<figure style="width: {drawn.width:.2f}mm">.*?{storey.name}, {drawn.says}', page, re.S), storey.name


def test_contents_fit_their_page_and_headings_stay_with_their_figures(demo_assessments: dict[str, Assessment]) -> None:
    """Weir Cottage has two air tests with dozens of headings: its contents once ran over three pages."""
    page = to_html(demo_assessments["weir-cottage"], TODAY)
    contents = page[page.index('<section class="contents">') : page.index('<section class="chapter')]
    assert 30 < contents.count("<li") <= 84 and contents.count('class="one"') == len(re.findall(r'<section class="chapter[ "]', page))
    assert re.search(r'<section class="chapter" id="c-heat"><div class="keep"><h2[^>]*>Where the heat goes</h2><figure', page)


@pytest.mark.parametrize("key", ["osier-lane-7", "weir-cottage"])
def test_contents_take_one_page_on_either_paper(key: str, demo_assessments: dict[str, Assessment]) -> None:
    """On Letter, 18 mm lower than A4, their last words once stood alone on a page of their own."""
    a = demo_assessments[key]
    for paper in ("A4", "Letter"):
        home = replace(a.home, dossier=replace(a.home.dossier, paper=paper))  # type: ignore[arg-type]
        front = gatherings(to_html(made(home, a), TODAY))[0]
        assert 'class="contents"' in front and len(printed_apart(front)[1]) == 2, paper


@pytest.mark.parametrize("key", ["weir-cottage", "sail-loft"])
def test_other_homes_have_their_pages_too(key: str, demo_assessments: dict[str, Assessment]) -> None:
    page = to_html(demo_assessments[key], TODAY)
    assert ">Take-off</h2>" in page and "1 : " in page and "None" not in re.sub(r"<[^>]*>", " ", page).split()


def test_an_empty_home_has_a_dossier(osier_assessed: Assessment) -> None:
    from nuthatch.core.library import new_home

    home = new_home()
    a = assess(home, climate_for(home, None))
    data = enclosed(a, TODAY)
    assert len(PdfReader(io.BytesIO(data)).pages) > 3 and set(files_in(data)) == {"home.nuthatch", "printed.json"}
    assert KINDS
