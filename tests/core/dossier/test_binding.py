"""A dossier bound from gatherings: numbers of chapters, figures and pages go on from one to the next, links lead across, an edit sets anew
only what says something else."""

from __future__ import annotations

import io
import re
import subprocess
import sys
from pathlib import Path

import pytest
from pypdf import PdfReader

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.dossier import binding
from nuthatch.core.dossier.binding import Book, bound, gatherings
from nuthatch.core.dossier.record import page_digests
from nuthatch.core.dossier.report import Made, to_book
from nuthatch.core.dossier.revisions import content_hash
from nuthatch.core.graph.memo import Kept
from nuthatch.core.library import results_on_disk
from nuthatch.core.model.dossier import Chapter
from nuthatch.core.model.part import replace

CHAPTER = '<section class="chapter{}" id="c-{}"><h2 id="h-{}">{}</h2>{}</section>\n'
STYLE = """@page { size: A5; margin: 24mm 16mm 20mm } body { counter-reset: chapter; font: 9pt Inter; margin: 0 }
section.chapter { counter-increment: chapter; counter-reset: figure } figure { counter-increment: figure; margin: 0 }
h2 { bookmark-level: 1; bookmark-label: content() } h2::before { content: counter(chapter) ' ' } .contents { break-after: page }
figcaption::before { content: 'Figure ' counter(chapter) '.' counter(figure) ' ' } .contents a::after, .index a::after { content: ' p' attr(data-page) }"""


def chapter(key: str, inner: str, opens: bool = True) -> str:
    return CHAPTER.format(" opens" if opens else "", key, key, key.title(), inner)


def book(*chapters: str, contents: str = "") -> Book:
    listed = f'<section class="contents">{contents}</section>' if contents else ""
    page = f"<!DOCTYPE html><html><head><style>{STYLE}</style></head><body><p>Cover</p>{listed}{''.join(chapters)}\n</body></html>"
    return Book(page, "A5", 148, 210, "home <0123> & day")


def texts(data: bytes) -> list[str]:
    return [" ".join(page.extract_text().split()) for page in PdfReader(io.BytesIO(data)).pages]


TALL = '<div style="height: 150mm">tall</div>'


def test_chapters_figures_and_pages_go_on_counting() -> None:
    figure = "<figure><figcaption>drawn</figcaption></figure>"
    found = texts(
        bound(
            book(
                chapter("one", TALL + TALL + figure),
                chapter("two", figure + figure + TALL, opens=False),
                chapter("three", figure),
                contents='<a href="#h-three">Three</a> <a href="#h-two">Two</a>',
            )
        )
    )
    at = {title: next(n for n, text in enumerate(found, 1) if f" {title}" in text and n > 1) for title in ("One", "Two", "Three")}
    assert at["One"] == 2 < at["Two"] < at["Three"] == len(found)
    assert f"Three p{at['Three']}" in found[0] and f"Two p{at['Two']}" in found[0]
    whole = " ".join(found)
    assert all(f"{n} {title}" in found[at[title] - 1] for n, title in enumerate(at, 1))
    assert re.findall(r"Figure (\d\.\d)", whole) == ["1.1", "2.1", "2.2", "3.1"]
    assert "home <0123> & day" not in found[0], "the cover has no foot"
    assert all(text.endswith(f"home <0123> & day {n} / {len(found)}") for n, text in enumerate(found[1:], 2))


def test_links_lead_from_one_gathering_to_another_and_those_to_nowhere_go() -> None:
    data = bound(
        book(
            chapter("one", '<a href="#far">there</a> <a href="#gone">nowhere</a> <a href="nuthatch:result/x">out</a>'),
            chapter("two", TALL + TALL + '<b id="far">Far</b> <a href="#c-one">back</a>'),
            contents="<b>none</b>",
        )
    )
    reader = PdfReader(io.BytesIO(data))
    led = [note.get_object() for page in reader.pages for note in page.get("/Annots") or ()]
    names = [str(n["/Dest"]) for n in led if "/Dest" in n]
    assert sorted(names) == ["c-one", "far"] and [str(n["/A"]["/URI"]) for n in led if "/A" in n] == ["nuthatch:result/x"]
    ends = {name: reader.get_destination_page_number(d) for name, d in reader.named_destinations.items()}
    assert ends == {"c-one": 1, "far": 3}
    top = float(reader.named_destinations["far"]["/Top"])
    assert top == pytest.approx((210 - 24 - 150) / 25.4 * 72, abs=2), "below a margin of 24 and a block of 150 mm: points from the foot"
    assert [(o.title, reader.get_destination_page_number(o)) for o in reader.outline] == [("One", 1), ("Two", 2)]  # type: ignore[union-attr]


def test_numbers_that_move_what_they_count_are_set_until_they_are_true() -> None:
    """An index so long that it fills pages of its own, before the chapters it counts."""
    many = "".join(f'<p><a href="#h-{key}">{key}</a></p>' for key in ("two",) * 60)
    found = texts(
        bound(book(chapter("list", f'<div class="index">{many}</div>'), chapter("two", "here"), contents='<a href="#h-two">Two</a>'))
    )
    at = next(n for n, text in enumerate(found, 1) if "here" in text)
    assert at > 3 and f"Two p{at}" in found[0]
    assert set(re.findall(r"two p(\d+)", " ".join(found))) == {str(at)}


def test_a_short_dossier_is_one_gathering() -> None:
    assert len(gatherings(book(chapter("one", ""), chapter("two", "")).page)) == 1
    assert len(gatherings(book(chapter("one", ""), chapter("two", ""), contents="x").page)) == 3
    found = texts(bound(book(chapter("one", ""), chapter("two", '<div class="index"><a href="#c-one">One</a></div>'))))
    assert len(found) == 1 and "One p1" in found[0]


class Counted(Kept):
    """Kept in memory; which were looked for and not found."""

    def __init__(self) -> None:
        super().__init__()
        self.missed = 0

    def get(self, key: str, on_disk: bool = True) -> object:
        found = super().get(key, on_disk)
        self.missed += found is None
        return found


def test_an_edit_sets_only_the_gatherings_that_say_something_else(osier_assessed: Assessment) -> None:
    chosen = tuple(Chapter(id=f"chapter-{k}", chapter=k) for k in ("verdict", "water", "open", "results", "declaration", "index"))
    home, known, day = osier_assessed.home, Counted(), Made(date="2026-12-01")
    home = replace(home, dossier=replace(home.dossier, chapters=chosen))
    page = to_book(assess(home, osier_assessed.climate, osier_assessed), day)
    first = bound(page, kept=known)
    assert len(gatherings(page.page)) == 6
    known.missed = 0
    assert bound(page, kept=known) == first and known.missed == 0
    signed = replace(home, dossier=replace(home.dossier, checked="who looked at it"))
    found = bound(to_book(assess(signed, osier_assessed.climate, osier_assessed), day), kept=known)
    assert known.missed == 2, "the cover, which names the home by its hash, and the declaration"
    reader = PdfReader(io.BytesIO(found))
    last = reader.pages[-1].extract_text()
    assert "who looked at it" in last and f"home {content_hash(signed)[:12]}" in last and f"/ {len(reader.pages)}" in last
    same = zip(page_digests(first)[2:-1], page_digests(found)[2:-1], strict=True)
    assert all(a != b for a, b in same), "each page's foot names the home"


def test_a_damaged_gathering_is_set_anew() -> None:
    class Damaged(Kept):
        def get(self, key: str, on_disk: bool = True) -> object:
            return None, 3, (), ()

    page = book(chapter("one", "here"))
    assert texts(bound(page, kept=Damaged())) == texts(bound(page))


def test_a_kept_gathering_comes_back_as_it_was(tmp_path: Path) -> None:
    one = binding._set(gatherings(book(chapter("one", '<b id="x">x</b>')).page)[0], "")
    store = results_on_disk(tmp_path)
    store.put("ab" * 20, binding._as_plain(one))
    assert binding._from_plain(results_on_disk(tmp_path).get("ab" * 20)) == one


def test_a_draft_is_not_taken_for_an_archived_one() -> None:
    """The two are written otherwise: kept beside each other, each is found again as itself."""
    known, page = Kept(), book(chapter("one", "here"))
    draft, archived = bound(page, kept=known), bound(page, "pdf/a-3u", known)
    assert b"pdfaid" not in draft and "/Metadata" in PdfReader(io.BytesIO(archived)).trailer["/Root"]  # type: ignore[operator]


def test_the_writer_is_read_without_starting_a_compiler() -> None:
    code = (
        "import ctypes.util, subprocess\n"
        "searched, started = ctypes.util.find_library, []\n"
        "begin = subprocess.Popen.__init__\n"
        "subprocess.Popen.__init__ = lambda self, *a, **k: (started.append(a), begin(self, *a, **k))[1]\n"
        "from nuthatch.core.dossier.printing import as_printed\n"
        "assert as_printed('<p>a</p>').startswith(b'%PDF') and ctypes.util.find_library is searched\n"
        "assert not started, started"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert done.returncode == 0, done.stderr[-2000:]
