"""The lists of a dossier as sheets of a workbook: results, targets, months, faces, build-ups, openings, junctions, values."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from nuthatch.core.assess import Assessment
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.files.tables import Cell
from nuthatch.core.model.part import Given, Part, specs
from nuthatch.core.questions import name_of, values
from nuthatch.core.results.figure import MONTHS, Known, Unknown
from nuthatch.core.units import kind_of, unit_of

Sheet = tuple[str, tuple[str, ...], list[tuple[Cell, ...]]]


def _shown(value: Any, kind: str) -> Cell:
    return None if value is None else float(kind_of(kind).to_shown(float(value)))


def _list(name: str, parts: tuple[Part, ...], extra: tuple[tuple[str, Any], ...] = ()) -> Sheet:
    """A list of parts with all its fields, quantities in the units in use; `extra` adds (head, function of the part)."""
    if not parts:
        return name, ("none yet",), []
    found = specs(type(parts[0]))
    heads = tuple(f"{s.label} [{unit_of(s.kind)}]" if s.is_quantity and unit_of(s.kind) else s.label for s in found.values())
    rows: list[tuple[Cell, ...]] = []
    for part in parts:
        cells: list[Cell] = []
        for field, spec in found.items():
            value = getattr(part, field)
            if spec.is_quantity:
                cells.append(_shown(value.value, spec.kind) if isinstance(value, Given) else None)
            else:
                cells.append("yes" if value is True else "no" if value is False else str(value))
        rows.append((*cells, *(f(part) for _, f in extra)))
    return name, (*heads, *(h for h, _ in extra)), rows


def _layers(a: Assessment) -> Iterator[tuple[Cell, ...]]:
    for build in a.home.buildups:
        for layer in build.layers:
            row: list[Cell] = [build.name, layer.name, layer.kind]
            for field in ("thickness", "conductivity", "resistance", "framing_share", "framing_conductivity"):
                given = getattr(layer, field)
                row.append(_shown(given.value, specs(type(layer))[field].kind) if given else None)
            yield tuple(row)


def _results(a: Assessment) -> list[tuple[Cell, ...]]:
    return [
        (f.label, _shown(f.value, f.kind), unit_of(f.kind), "; ".join(n.text for n in f.needs) if isinstance(f, Unknown) else "", key)
        for key, f in a.figures.items()
    ]


def _targets(a: Assessment) -> list[tuple[Cell, ...]]:
    return [
        (v.set_name, v.name, w.label, _shown(w.value, w.kind), unit_of(w.kind), w.limit_words(), w.standing, v.standing, v.points, v.source)
        for v in a.verdicts
        for w in v.ways
    ]


def _months(a: Assessment) -> list[tuple[Cell, ...]]:
    found: list[tuple[Cell, ...]] = []
    for key, node in a.months.items():
        row = [_shown(v, "energy_month") for v in (*node.value, node.value.sum())] if isinstance(node, Known) else []
        found.append((key.replace("_", " "), *(row or ["not known yet"])))
    return found


def _faces(a: Assessment) -> list[tuple[Cell, ...]]:
    return [
        (
            e.name,
            e.borders,
            _shown(e.area.value, "area") if e.area else None,
            _shown(e.u.value, "u") if e.u else None,
            _shown(e.loss.value, "w_per_k"),
        )
        for e in a[ELEMENTS]
        if e.is_face
    ]


def _values(a: Assessment) -> list[tuple[Cell, ...]]:
    files = {e.id: e.name for e in a.home.evidence}
    found: list[tuple[Cell, ...]] = []
    for _, part, name, given in values(a.home):
        spec = specs(type(part))[name]
        attached = ", ".join(files.get(f, "gone") for f in given.files or ())
        shown, unit = _shown(given.value, spec.kind), unit_of(spec.kind)
        found.append((name_of(part), spec.label, shown, unit, given.basis.value, given.source, given.evidence, attached))
    return found


def sheets(a: Assessment) -> list[Sheet]:
    """All sheets, in the units in use; each number with its unit in the head or the cell beside it."""
    h, k, u = unit_of("w_per_k"), unit_of("energy_month"), unit_of
    losses = {e.id: e for e in a[ELEMENTS]}
    loss = ((f"H [{h}]", lambda p: _shown(losses[p.id].loss.value, "w_per_k") if p.id in losses else None),)
    layer_heads = (f"Thickness [{u('thickness')}]", f"λ [{u('conductivity')}]", f"R [{u('resistance')}]", "Framing %")
    return [
        ("Results", ("Result", "Value", "Unit", "Needs", "Key"), _results(a)),
        ("Targets", ("Target set", "Target", "Result", "Value", "Unit", "Limit", "This way", "Target is", "Points", "From"), _targets(a)),
        ("Months", (k, *MONTHS, "year"), _months(a)),
        ("Faces", ("Face", "Borders on", f"Net area [{u('area')}]", f"U [{u('u')}]", f"H [{h}]"), _faces(a)),
        ("Layers", ("Build-up", "Layer", "Kind", *layer_heads, f"Framing λ [{u('conductivity')}]"), list(_layers(a))),
        _list("Opening types", a.home.opening_types),
        _list("Openings", a.home.openings, loss),
        _list("Junctions", a.home.junctions, loss),
        _list("Heat sources", a.home.sources),
        _list("Energy carriers", a.home.carriers),
        ("Values", ("Part", "Value of", "Value", "Unit", "Basis", "Source", "Evidence", "Files"), _values(a)),
        ("Open questions", ("Step", "Item", "Question"), [(q.step, q.item, q.text) for q in a.questions]),
    ]
