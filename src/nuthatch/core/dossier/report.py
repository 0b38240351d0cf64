"""The dossier: its chapters as one HTML page with inline drawings, and the PDF made from it."""

from __future__ import annotations

import base64
import contextlib
import datetime
import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeVar

from markupsafe import Markup

from nuthatch import __version__
from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.binding import Book, bound
from nuthatch.core.dossier.chapters import CHAPTERS, ChapterKind
from nuthatch.core.dossier.contents import addressed, entries, that_fit
from nuthatch.core.dossier.links import Links, anchor
from nuthatch.core.dossier.logo import LogoFault, as_png
from nuthatch.core.dossier.makeup import Pages, chapters_of, pages_of
from nuthatch.core.dossier.parts import beside, figure, listed, rows
from nuthatch.core.dossier.pictures import picture
from nuthatch.core.dossier.printing import fonts_of, without_controls
from nuthatch.core.dossier.proof import is_photo
from nuthatch.core.dossier.revisions import content_hash
from nuthatch.core.dossier.setting import Letterhead, Setting
from nuthatch.core.exchange.sheet_files import as_html, as_json, as_xlsx
from nuthatch.core.files.disk import printable
from nuthatch.core.files.formats import writer
from nuthatch.core.files.homefile import HomeFileError, put
from nuthatch.core.library import results_on_disk
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import Given
from nuthatch.core.office import OfficeFile
from nuthatch.core.questions import assumptions
from nuthatch.core.results.figure import Computing, Node, shown
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.targets.conditions import words
from nuthatch.core.units import show, unit_of, using, with_both, with_unit
from nuthatch.core.views.sheets.of_home import sheets

if TYPE_CHECKING:
    from jinja2 import Environment
    from jinja2.runtime import Context

FOLDER = Path(__file__).parent
WORDS = {
    "inside": "All targets are met.",
    "over": "Some targets are missed.",
    "unknown": "Some targets cannot be known yet.",
    "computing": "Still computing.",
}
DRAFT = "draft"


@dataclass(frozen=True)
class Made:
    """How a dossier is made: whose it is, which day, what it is called, how its numbers lead; attached files by their hash, as far as
    pages show them; the weather file, where it is no climate of the library."""

    letterhead: Letterhead = Letterhead()
    date: str = ""
    state: str = DRAFT
    live: bool = False
    alone: bool = False
    files: Mapping[str, bytes] = field(default_factory=dict)
    weather: bytes | None = None


@lru_cache(maxsize=1)
def environment() -> Environment:
    """Templates with what all of them use."""
    from jinja2 import Environment, FileSystemLoader, pass_context  # no part of a start

    made = Environment(loader=FileSystemLoader(FOLDER), autoescape=True, trim_blocks=True, lstrip_blocks=True)
    made.filters["given"] = lambda given, kind: with_unit(given.value, kind) if isinstance(given, Given) else "—"
    made.filters["fig"] = pass_context(_fig)
    made.globals |= {"unit": unit_of, "amount": with_unit, "show": show, "conditions": words, "version": __version__}
    made.globals |= {"beside": beside, "figure": figure, "listed": listed, "rows": rows}
    return made


def _fig(context: Context, node: Node | None) -> Markup | str:
    """A result as the page that is being made shows it."""
    told: Markup | str = context["fig"](node)
    return told


def shown_files(home: Home, content: Callable[[str], bytes | None]) -> dict[str, bytes]:
    """The attached files a dossier shows or reads: photos, and the home as the last revision went out."""
    states = {i.file for i in home.issued[-1:]}
    wanted = [e for e in home.evidence if e.id in states or is_photo(e)]
    found = {e.sha256: content(e.sha256) for e in wanted}
    return {sha: data for sha, data in found.items() if data is not None}


def letterhead(content: OfficeFile) -> Letterhead:
    """The letterhead of an office profile."""
    office = content.office
    logo = ""
    if content.logo is not None and office.logo:
        with contextlib.suppress(LogoFault):  # said where it was chosen; a dossier without it is still a dossier
            logo = f"data:image/png;base64,{base64.b64encode(as_png(content.logo, office.logo)).decode()}"
    return Letterhead(office.company, office.address, office.contact, office.author, logo)


def _tables(a: Assessment, pages: Pages, links: Links) -> Callable[..., Markup]:
    """What templates ask tables of: a sheet by its key, or those of its rows that are of some parts. spare: nothing where it is empty."""
    known = {s.key: s for s in sheets(a)}

    def table(key: str, parts: Iterable[Any] | None = None, spare: bool = False, **how: Any) -> Markup:
        found = known.get(key)
        if found is None:
            return Markup("") if spare else Markup('<p class="muted">none yet</p>')
        chosen = found if parts is None else found.where(p.id for p in parts)
        if spare and not chosen.rows:
            return Markup("")
        return as_html(chosen, link=links.value if links.live else lambda part, name, text: Markup("{}").format(text), **how)

    return table


@dataclass(frozen=True)
class _Chapter:
    """A chapter that is in: its kind, heading, and the pins that stand at its end."""

    kind: ChapterKind
    title: str
    pins: tuple[Any, ...]


def _chosen(a: Assessment) -> list[_Chapter]:
    """The chapters that are in and have something to say, in order. A chapter of a newer profile that is not known here is passed over."""
    rows = [(c, CHAPTERS[c.chapter]) for c in chapters_of(a.home) if c.shown and c.chapter in CHAPTERS]
    there = {kind.key for _, kind in rows}
    own = {key: tuple(p for p in a.home.pins if p.chapter == key) for key in there}
    loose = tuple(p for p in a.home.pins if p.chapter not in there)
    found = []
    for c, kind in rows:
        pins = loose if kind.key == "pinned" else own[kind.key]
        if pins or (kind.key != "pinned" and kind.there(a)):
            found.append(_Chapter(kind, c.name or kind.title, pins))
    return found


def to_html(assessment: Assessment, made: Made | None = None) -> str:
    """The whole dossier as one HTML page. made.alone: with the fonts inside, for a reader."""
    how = made or Made()
    pages = pages_of(assessment.home.dossier)
    with using(pages.units), with_both(pages.both):
        return without_controls(_html(assessment, how, pages))


def to_book(assessment: Assessment, made: Made) -> Book:
    """The whole dossier as it is to be bound."""
    made = replace(made, date=_day(made))
    pages = pages_of(assessment.home.dossier)
    foot = without_controls(f"home {content_hash(assessment.home)[:12]} · {made.date} · {made.state}")
    return Book(to_html(assessment, made), pages.paper, pages.width, pages.height, foot)


def _day(made: Made) -> str:
    return made.date or datetime.date.today().isoformat()


def _html(a: Assessment, how: Made, pages: Pages) -> str:
    chapters = _chosen(a)
    keys = frozenset(c.kind.key for c in chapters)
    links = Links(how.live, frozenset(a.figures) if "results" in keys else frozenset())
    setting = Setting(a, pages, links, how.letterhead, _day(how), how.state, keys, how.files.get)
    shared = _shared(setting, how)
    bodies = [_body(setting, c, shared) for c in chapters if c.kind.key != "index"]
    if "index" in keys:  # last made, wherever it stands: it says where all others tell a result
        at = [c.kind.key for c in chapters].index("index")
        bodies.insert(at, _section(chapters[at], _template("index", shared, entries=_halves(_index(a, links)))))
    joined = Markup("").join(bodies)
    body = Markup(addressed(joined))
    contents = (
        _template("contents", shared, entries=_halves(that_fit(entries(joined), pages.height), MANY)) if len(chapters) > FEW else Markup("")
    )
    return environment().get_template("dossier.html.j2").render(shared, body=body, contents=contents, cover=_template("cover", shared))


Item = TypeVar("Item")


def _halves(items: list[Item], most: int = 0) -> list[list[Item]]:
    """Items for two columns; for one where they are few."""
    middle = -(-len(items) // 2) if len(items) > most else len(items)
    return [half for half in (items[:middle], items[middle:]) if half]


MANY = 34
"""Lines of a list of contents that stand in one column."""
FEW = 4
"""So many chapters need no list of contents."""


def _shared(s: Setting, how: Made) -> dict[str, Any]:
    """What every template is given."""
    a = s.a
    keys = {id(node): key for key, node in a.figures.items()}

    def fig(node: Node | None) -> Markup | str:
        if node is None:
            return "not known yet"
        key = keys.get(id(node))
        return s.links.result(key, shown(node)) if key is not None else shown(node)

    shared: dict[str, Any] = {
        "a": a,
        "home": a.home,
        "figures": a.figures,
        "date": s.date,
        "state": s.state,
        "hash": content_hash(a.home),
        "verdict": WORDS[a.standing],
        "standing": a.standing,
        "pages": s.pages,
        "letterhead": s.letterhead,
        "fonts": fonts_of(how.alone),
        "alone": how.alone,
        "live": how.live,
        "tally": _tally(a),
        "cover_drawing": picture(a, "solid" if a[SOLID].drawn else "cutaway"),
        "table": _tables(a, s.pages, s.links),
        "fig": fig,
    }
    shared["targets"] = lambda: _template("../targets", shared)
    return shared


def _tally(a: Assessment) -> list[tuple[str, str]]:
    met = sum(1 for v in a.verdicts if v.standing == "inside" and not v.voluntary)
    judged = sum(1 for v in a.verdicts if not v.voluntary)
    asked, assumed = len(a.questions), sum(1 for _ in assumptions(a.home))
    return [
        (f"{met} of {judged}", "targets met"),
        (str(asked), "open question" if asked == 1 else "open questions"),
        (str(assumed), "assumed value" if assumed == 1 else "assumed values"),
    ]


def _template(key: str, shared: dict[str, Any], **more: Any) -> Markup:
    name = f"{key[3:]}.html.j2" if key.startswith("../") else f"pages/{key}.html.j2"
    return Markup(environment().get_template(name).render(shared, **more))


def _body(s: Setting, chapter: _Chapter, shared: dict[str, Any]) -> Markup:
    """A chapter with its heading and what is pinned to its end."""
    s.links.chapter = chapter.kind.key
    drawn = [{"caption": p.name, "drawing": picture(s.a, p.picture, p.of)} for p in chapter.pins]
    told = _template(chapter.kind.key, shared, **chapter.kind.content(s), **({"loose": drawn} if chapter.kind.key == "pinned" else {}))
    pinned = drawn if chapter.kind.key != "pinned" else []
    figures = Markup("").join(figure(p["drawing"], p["caption"]) for p in pinned)
    return _section(chapter, told + figures)


def _section(chapter: _Chapter, told: Markup) -> Markup:
    """A chapter; where it begins with a figure, its heading stays with it: the writer lets a heading stand alone above one."""
    head = Markup("<h2>{}</h2>").format(chapter.title)
    first = _FIGURE.match(told)
    if first is not None:
        head, told = Markup('<div class="keep">{}{}</div>').format(head, Markup(first[0])), Markup(told[first.end() :])
    kind = "chapter opens" if chapter.kind.opens else "chapter"
    return Markup('<section class="{}" id="{}">{}{}</section>\n').format(kind, anchor("c", chapter.kind.key), head, told)


_FIGURE = re.compile(r"\s*<figure.*?</figure>", re.S)


def _index(a: Assessment, links: Links) -> list[dict[str, object]]:
    """Every result that is told somewhere, by the alphabet: its label, its place in the list of results, where it is told."""
    found: list[dict[str, object]] = [
        {"label": node.label, "main": anchor("r", key) if key in links.results else "", "places": links.shown.get(key, [])}
        for key, node in a.figures.items()
    ]
    return sorted((r for r in found if r["main"] or r["places"]), key=lambda r: str(r["label"]).lower())


def to_pdf(assessment: Assessment, made: Made | None = None, cache: Path | None = None) -> bytes:
    """The dossier as PDF, without what a written one carries. cache: where its gatherings are kept."""
    return bound(to_book(assessment, made or Made()), kept=results_on_disk(cache))


def as_page(assessment: Assessment, made: Made) -> bytes:
    """The dossier as a page that stands alone."""
    return to_html(assessment, replace(made, alone=True)).encode()


def as_spreadsheet(assessment: Assessment, made: Made) -> bytes:
    """The lists of the dossier as a spreadsheet."""
    return as_xlsx(sheets(assessment))


def as_lists(assessment: Assessment, made: Made) -> bytes:
    """The lists of the dossier as JSON."""
    return as_json(sheets(assessment)).encode()


def write(assessment: Assessment, path: Path, made: Made | None = None) -> None:
    """Write the dossier in the form the name asks for. Raises HomeFileError, also while something is still computing; a file
    before it stays whole."""
    make = writer("dossier", path)
    if path.is_dir() or not path.parent.is_dir():  # told before the work is done, not after
        why = "this is a folder" if path.is_dir() else "there is no such folder"
        raise HomeFileError(f"{printable(str(path))}: the dossier cannot be written, {why}")
    if assessment.computing:
        raise HomeFileError(f"{path}: the dossier waits for {waited_for(assessment)} and is not written")
    put(path, make(assessment, made or Made()))


def waited_for(assessment: Assessment) -> str:
    """What is still computing, in words."""
    found = dict.fromkeys(f.of for f in assessment.figures.values() if isinstance(f, Computing))
    return " and ".join(found) or "a result"
