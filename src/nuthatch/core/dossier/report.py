"""The dossier: one HTML page with inline drawings, and the PDF made from it."""

from __future__ import annotations

import base64
import contextlib
import datetime
import re
from collections.abc import Callable, Hashable, Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from jinja2 import Environment, FileSystemLoader
from markupsafe import Markup

from nuthatch import __version__
from nuthatch.core.air.stages import FLOWS
from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.air_sheets import air, tightness_is
from nuthatch.core.dossier.alike import names, questions_together, together
from nuthatch.core.dossier.details import details
from nuthatch.core.dossier.drawn_shape import drawn_shape
from nuthatch.core.dossier.fabric_sheets import buildups
from nuthatch.core.dossier.hours import hours
from nuthatch.core.dossier.logo import LogoFault, as_png
from nuthatch.core.dossier.options import options
from nuthatch.core.dossier.pictures import drawing, picture
from nuthatch.core.dossier.place import place, shielding_in_words
from nuthatch.core.dossier.systems import systems
from nuthatch.core.energy.stages import BALANCE
from nuthatch.core.exchange.sheet_files import as_html, as_xlsx
from nuthatch.core.files.disk import printable
from nuthatch.core.files.formats import writer
from nuthatch.core.files.homefile import HomeFileError, home_hash, put
from nuthatch.core.graph.collector import seldom
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import Given, specs
from nuthatch.core.office import OfficeFile
from nuthatch.core.questions import assumptions, name_of, values
from nuthatch.core.results.figure import Computing, shown
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.targets.conditions import words
from nuthatch.core.units import KINDS, show, unit_of, with_unit
from nuthatch.core.views.balance.account import account
from nuthatch.core.views.openings.drawings import elevation
from nuthatch.core.views.sheets.of_home import sheets
from nuthatch.look import FONTS

FOLDER = Path(__file__).parent
MANY = 150  # openings: of so many those of one type and size stand in one row, whatever face they are in
WEIGHTS = ("Regular", "Medium", "SemiBold", "Bold")
WORDS = {
    "inside": "All targets are met.",
    "over": "Some targets are missed.",
    "unknown": "Some targets cannot be known yet.",
    "computing": "Still computing.",
}


def environment() -> Environment:
    made = Environment(loader=FileSystemLoader(FOLDER), autoescape=True, trim_blocks=True, lstrip_blocks=True)
    made.filters["given"] = lambda given, kind: with_unit(given.value, kind) if isinstance(given, Given) else "—"
    made.filters["fig"] = lambda f: shown(f) if f is not None else "not known yet"
    return made


def missing_evidence(home: Home) -> list[tuple[str, str, str]]:
    """Declared, calculated or measured values without evidence: (part, field, value)."""
    found = []
    for _, part, name, given in values(home):
        if given.basis.value != "assumed" and not given.proven:
            spec = specs(type(part))[name]
            found.append((name_of(part), spec.label, with_unit(given.value, spec.kind)))
    return found


def _by_basis(home: Home) -> dict[str, list[dict[str, object]]]:
    """Every value under its basis; values of one part with the same source and evidence stand together."""
    names = {e.id: e.name for e in home.evidence}
    groups: dict[str, dict[tuple[int, str, str], dict[str, Any]]] = {"assumed": {}, "declared": {}, "calculated": {}, "measured": {}}
    for _, part, name, given in values(home):
        spec = specs(type(part))[name]
        proof = "; ".join([given.evidence] * bool(given.evidence) + [names.get(f, "a file that is gone") for f in given.files or ()])
        row = groups[given.basis.value].setdefault(
            (id(part), given.source, proof), {"part": name_of(part), "values": [], "source": given.source, "evidence": proof}
        )
        row["values"].append((spec.label, with_unit(given.value, spec.kind)))
    return {basis: [_named_together(g) for g in together(rows.values(), _alike)] for basis, rows in groups.items()}


def _alike(row: dict[str, Any]) -> Hashable:
    return tuple(row["values"]), row["source"], row["evidence"]


def _named_together(group: list[dict[str, Any]]) -> dict[str, object]:
    """Parts with the same values, source and evidence as one row."""
    return {**group[0], "part": names([r["part"] for r in group]), "number": len(group)}


@dataclass(frozen=True)
class Letterhead:
    """Whose dossier it is: the office, with its logo as a data address, and the currency of prices."""

    company: str = ""
    address: str = ""
    contact: str = ""
    author: str = ""
    logo: str = ""


def letterhead(content: OfficeFile) -> Letterhead:
    """The letterhead of an office profile."""
    office = content.office
    logo = ""
    if content.logo is not None and office.logo:
        with contextlib.suppress(LogoFault):  # said where it was chosen; a dossier without it is still a dossier
            logo = f"data:image/png;base64,{base64.b64encode(as_png(content.logo, office.logo)).decode()}"
    return Letterhead(office.company, office.address, office.contact, office.author, logo)


def _attached(home: Home) -> list[dict[str, object]]:
    """Attached files with their size and the values they prove."""
    uses: dict[str, list[str]] = {}
    for _, part, name, given in values(home):
        for ident in given.files or ():
            uses.setdefault(ident, []).append(f"{name_of(part)}: {specs(type(part))[name].label}")
    return [
        {"name": printable(e.name), "size": size_words(e.size), "sha": e.sha256[:16], "proves": uses.get(e.id, [])} for e in home.evidence
    ]


def size_words(size: int) -> str:
    """Bytes as people read them."""
    return f"{size / 1e6:.1f} MB" if size >= 1e6 else f"{max(size / 1e3, 0.1):.1f} kB"


def _lists(a: Assessment) -> dict[str, object]:
    """What the dossier lists: parts, questions, months, values by their basis."""
    return {
        "buildups": buildups(a),
        "questions": questions_together(a.questions),
        "bases": _by_basis(a.home),
        "assumed": sum(1 for _ in assumptions(a.home)),
        "lacking": missing_evidence(a.home),
    }


def _tables(a: Assessment) -> Callable[..., Markup]:
    """What the template asks tables of: a sheet by its key, or those of its rows that are of some parts. spare: nothing where it is empty."""
    known = {s.key: s for s in sheets(a)}

    def table(key: str, parts: Iterable[Any] | None = None, spare: bool = False, **how: Any) -> Markup:
        found = known.get(key)
        if found is None:
            return Markup("") if spare else Markup('<p class="muted">none yet</p>')
        chosen = found if parts is None else found.where(p.id for p in parts)
        return Markup("") if spare and not chosen.rows else as_html(chosen, **how)

    return table


def _context(a: Assessment, date: str, letterhead: Letterhead | None) -> dict[str, object]:
    first: dict[str, Any] = {}
    for o in a.home.openings:
        first.setdefault(o.type, o)
    return {
        "a": a,
        "home": a.home,
        "figures": a.figures,
        "version": __version__,
        "date": date,
        "hash": home_hash(a.home),
        "verdict": WORDS[a.standing],
        "standing": a.standing,
        "kinds": KINDS,
        **_lists(a),
        "balanced": account(a[BALANCE]) is not None,
        "shape": a[SOLID],
        "flows": a[FLOWS],
        "tightness_is": tightness_is(a),
        "recovers": any(u.moves == "supply and extract" for u in a.home.air.units),
        "fresh": air(a),
        **{key: picture(a, key) for key in ("cutaway", "account", "plan", "solid", "below", "amounts", "shares", "climate")},
        **drawn_shape(a),
        "pins": [{"caption": p.name, "drawing": picture(a, p.picture, p.of)} for p in a.home.pins],
        "evidence": _attached(a.home),
        "letterhead": letterhead or Letterhead(),
        "unit": unit_of,
        "conditions": words,
        "amount": with_unit,
        "types": [
            {"part": t, "drawing": drawing(elevation(first[t.id], t)) if t.id in first else Markup("")} for t in a.home.opening_types
        ],
        "details": details(a),
        "options": options(a),
        "place": place(a),
        "systems": systems(a),
        "hours": hours(a),
        "shielding": shielding_in_words(a),
        "table": _tables(a),
        "show": show,
    }


def to_html(assessment: Assessment, date: str = "", office: Letterhead | None = None, alone: bool = False) -> str:
    """The whole dossier as one HTML page; date as ISO text, today's where empty. alone: with the fonts inside, for a reader."""
    when = date or datetime.date.today().isoformat()
    made = environment().get_template("dossier.html.j2").render(_context(assessment, when, office), fonts=fonts_of(alone), alone=alone)
    return without_controls(made)


_CONTROLS = {
    n: None
    for n in (*range(0x20), *range(0x7F, 0xA0), *range(0x202A, 0x202F), *range(0x2066, 0x206A), 0xFFFE, 0xFFFF)
    if chr(n) not in "\n\t"
}
_SURROGATE = re.compile("[\ud800-\udfff]")


def without_controls(page: str) -> str:
    """A page without control characters, marks that turn the direction of writing, and halves of characters that somebody's texts may hold:
    nothing of it is to be read, and it may hide or reorder what is."""
    return _SURROGATE.sub("\ufffd", page.translate(_CONTROLS))


def fonts_of(alone: bool) -> dict[str, str]:
    """Where a page finds its fonts: inside itself, or beside the program."""
    return {n: _font(n) if alone else f"{FONTS.as_uri()}/Inter-{n}.otf" for n in WEIGHTS}


def _font(name: str) -> str:
    return "data:font/otf;base64," + base64.b64encode((FONTS / f"Inter-{name}.otf").read_bytes()).decode()


def to_pdf(assessment: Assessment, date: str = "", office: Letterhead | None = None) -> bytes:
    """The dossier as PDF."""
    return as_printed(to_html(assessment, date, office))


def as_printed(page: str) -> bytes:
    """A page as PDF; what it shows it holds."""
    from weasyprint import HTML

    with seldom():
        return bytes(HTML(string=_DRAWN.sub(_as_image, page), url_fetcher=fetcher()).write_pdf())


_DRAWN = re.compile(r"<svg.*?</svg>", re.S)


def _as_image(drawn: re.Match[str]) -> str:
    """A drawing as an image of its own: the writer need not work out styles for each of its lines."""
    data = base64.b64encode(drawn.group().encode()).decode()
    return f'<img class="drawn" alt="" src="data:image/svg+xml;base64,{data}">'


def fetcher() -> object:
    """What the writer of the PDF may read: data inside the page and our own fonts; no other file, no network (ValueError)."""
    from weasyprint.urls import URLFetcher

    given = {f"{FONTS.as_uri()}/Inter-{n}.otf" for n in WEIGHTS}

    class OnlyGiven(URLFetcher):  # type: ignore[misc]  # the package ships no types
        def fetch(self, url: str, headers: object = None) -> object:
            if url.partition(":")[0].lower() != "data" and url not in given:
                raise ValueError("a dossier holds everything it shows")
            return super().fetch(url, headers)

    return OnlyGiven(allowed_protocols=("data", "file"))


def as_page(assessment: Assessment, office: Letterhead | None) -> bytes:
    """The dossier as a page that stands alone."""
    return to_html(assessment, "", office, alone=True).encode()


def as_pdf(assessment: Assessment, office: Letterhead | None) -> bytes:
    """The dossier as PDF."""
    return to_pdf(assessment, "", office)


def as_spreadsheet(assessment: Assessment, office: Letterhead | None) -> bytes:
    """The lists of the dossier as a spreadsheet."""
    return as_xlsx(sheets(assessment))


def write(assessment: Assessment, path: Path, office: Letterhead | None = None) -> None:
    """Write the dossier in the form the name asks for. Raises HomeFileError, also while something is still computing; a file
    before it stays whole."""
    make = writer("dossier", path)
    if path.is_dir() or not path.parent.is_dir():  # told before the work is done, not after
        why = "this is a folder" if path.is_dir() else "there is no such folder"
        raise HomeFileError(f"{printable(str(path))}: the dossier cannot be written, {why}")
    if assessment.computing:
        raise HomeFileError(f"{path}: the dossier waits for {waited_for(assessment)} and is not written")
    put(path, make(assessment, office))


def waited_for(assessment: Assessment) -> str:
    """What is still computing, in words."""
    found = dict.fromkeys(f.of for f in assessment.figures.values() if isinstance(f, Computing))
    return " and ".join(found) or "a result"
