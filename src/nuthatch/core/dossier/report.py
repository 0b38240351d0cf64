"""The dossier: one HTML page with inline drawings, and the PDF made from it."""

from __future__ import annotations

import datetime
from pathlib import Path
from typing import Any

from jinja2 import Environment, FileSystemLoader
from markupsafe import Markup

from nuthatch import __version__
from nuthatch.core.assess import Assessment
from nuthatch.core.charts import charts
from nuthatch.core.cutaway import cutaway, year_account
from nuthatch.core.exchange.homefile import home_hash
from nuthatch.core.fabric import buildup as fabric
from nuthatch.core.fabric.drawings import elevation, section
from nuthatch.core.figure import Unknown
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import Given, specs
from nuthatch.core.questions import part_name, values
from nuthatch.core.shape.drawings import axonometric, plan
from nuthatch.core.sketch import Sketch, to_svg
from nuthatch.core.units import KINDS, show, with_unit

FOLDER = Path(__file__).parent
FONTS = Path(__file__).parents[2] / "desktop" / "theme" / "fonts"
WORDS = {"inside": "All targets are met.", "over": "Some targets are missed.", "unknown": "Some targets cannot be known yet."}


def _environment() -> Environment:
    made = Environment(loader=FileSystemLoader(FOLDER), autoescape=True, trim_blocks=True, lstrip_blocks=True)
    made.filters["given"] = lambda given, kind: with_unit(given.value, kind) if isinstance(given, Given) else "—"
    made.filters["fig"] = lambda f: with_unit(f.value, f.kind) if f is not None and f.value is not None else "not known yet"
    return made


def drawing(sketch: Sketch) -> Markup:
    """A sketch as inline SVG; its texts are escaped by the writer."""
    return Markup(to_svg(sketch))


def missing_evidence(home: Home) -> list[tuple[str, str, str]]:
    """Declared, calculated or measured values without evidence: (part, field, value)."""
    found = []
    for _, part, name, given in values(home):
        if given.basis.value != "assumed" and not given.proven:
            spec = specs(type(part))[name]
            found.append((part_name(home, getattr(part, "id", "")), spec.label, with_unit(given.value, spec.kind)))
    return found


def _by_basis(home: Home) -> dict[str, list[dict[str, str]]]:
    groups: dict[str, list[dict[str, str]]] = {"assumed": [], "declared": [], "calculated": [], "measured": []}
    for _, part, name, given in values(home):
        spec = specs(type(part))[name]
        row = {
            "part": part_name(home, getattr(part, "id", "")),
            "field": spec.label,
            "value": with_unit(given.value, spec.kind),
            "source": given.source,
            "evidence": given.evidence,
        }
        groups[given.basis.value].append(row)
    return groups


def _faces(a: Assessment) -> list[dict[str, Any]]:
    names = {b.id: b.name for b in a.home.buildups}
    return [
        {"e": e, "buildup": names.get(e.surface.buildup, "none") if e.surface else ""}
        for e in a.elements
        if e.surface is not None and e.area is not None
    ]


def _buildups(a: Assessment) -> list[dict[str, Any]]:
    found = []
    for build in a.home.buildups:
        face = next((s for s in a.envelope.surfaces if s.buildup == build.id), None)
        direction, borders = (fabric.flow_direction(face.tilt), face.borders) if face else ("across", "outside air")
        error = fabric.framing_error(build, direction, borders)
        outside = a.climate.winter_design if a.climate else -5.0
        found.append(
            {
                "part": build,
                "u": fabric.transmittance(build, direction, borders),
                "borders": borders,
                "error": None if not error or error < 1e-9 else f"±{100 * error:.1f} %",
                "drawing": drawing(section(build, direction, borders, outside)),
                "left_out": {layer.id for layer in build.layers} - {layer.id for layer in fabric.effective_layers(build)},
            }
        )
    return found


def _openings(a: Assessment) -> list[dict[str, Any]]:
    types = {t.id: t for t in a.home.opening_types}
    elements = {e.id: e for e in a.elements}
    return [
        {
            "part": o,
            "kind": types.get(o.type),
            "e": elements[o.id],
            "face": next((s.name for s in a.envelope.surfaces if s.id == o.face), "none"),
        }
        for o in a.home.openings
    ]


def _months(a: Assessment) -> list[tuple[str, list[str]]]:
    rows = [(k.replace("_", " ").replace("loss ", "loss, "), f) for k, f in a.months.items()]
    return [
        (n, ["not known yet"] if isinstance(f, Unknown) else [show(float(v), "energy_month") for v in (*f.value, f.value.sum())])
        for n, f in rows
    ]


def _context(a: Assessment, date: str) -> dict[str, Any]:
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
        "fonts": FONTS.as_uri(),
        "faces": _faces(a),
        "buildups": _buildups(a),
        "openings": _openings(a),
        "months": _months(a),
        "bases": _by_basis(a.home),
        "lacking": missing_evidence(a.home),
        "cutaway": drawing(cutaway(a)),
        "account": drawing(year_account(a)),
        "plan": drawing(plan(a)),
        "solid": drawing(axonometric(a)),
        "below": drawing(axonometric(a, height=-30)),
        "amounts": Markup(charts.to_svg(charts.balance_amounts(a, 7.4, 3.4))),
        "shares": Markup(charts.to_svg(charts.balance_shares(a, 7.4, 2.6))),
        "site": Markup(charts.to_svg(charts.site_months(a.climate, 7.4, 2.6))) if a.climate else Markup(""),
        "types": [
            {"part": t, "drawing": drawing(elevation(first[t.id], t)) if t.id in first else Markup("")} for t in a.home.opening_types
        ],
        "letters": ("J", "F", "M", "A", "M", "J", "J", "A", "S", "O", "N", "D", "year"),
        "show": show,
    }


def to_html(assessment: Assessment, date: str = "") -> str:
    """The whole dossier as one HTML page; date as ISO text, today's where empty."""
    when = date or datetime.date.today().isoformat()
    return _environment().get_template("dossier.html.j2").render(_context(assessment, when))


def outline(assessment: Assessment) -> str:
    """A short preview for the window: verdict, targets, what is missing, what the dossier holds."""
    lacking = missing_evidence(assessment.home)
    return (
        _environment()
        .get_template("outline.html.j2")
        .render(a=assessment, verdict=WORDS[assessment.standing], lacking=lacking, hash=home_hash(assessment.home), version=__version__)
    )


def write_pdf(assessment: Assessment, path: Path, date: str = "") -> None:
    """Write the dossier. Raises OSError where the file cannot be written."""
    from weasyprint import HTML

    data = HTML(string=to_html(assessment, date), base_url=str(FOLDER)).write_pdf()
    path.write_bytes(data)
