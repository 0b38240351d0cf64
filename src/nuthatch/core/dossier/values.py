"""Every value somebody entered, by its basis; every result with how it is worked out."""

from __future__ import annotations

from collections.abc import Hashable
from typing import Any

from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.alike import names, together
from nuthatch.core.dossier.links import Links, anchor
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import specs
from nuthatch.core.questions import name_of, values
from nuthatch.core.results.figure import Known, shown
from nuthatch.core.units import with_unit

LONGEST = 150
"""Letters of a formula a line of the list holds; the working in the program says all of it."""


def by_basis(home: Home, links: Links) -> dict[str, list[dict[str, object]]]:
    """Every value under its basis; values of one part with the same source and evidence stand together, parts with the same values too."""
    files = {e.id: e.name for e in home.evidence}
    groups: dict[str, dict[tuple[int, str, str], dict[str, Any]]] = {"assumed": {}, "declared": {}, "calculated": {}, "measured": {}}
    for _, part, name, given in values(home):
        spec = specs(type(part))[name]
        proof = "; ".join([given.evidence] * bool(given.evidence) + [files.get(f, "a file that is gone") for f in given.files or ()])
        row = groups[given.basis.value].setdefault(
            (id(part), given.source, proof), {"part": name_of(part), "values": [], "source": given.source, "evidence": proof, "at": part}
        )
        row["values"].append((spec.label, with_unit(given.value, spec.kind), name))
    return {basis: [_named_together(g, links) for g in together(rows.values(), _alike)] for basis, rows in groups.items()}


def _alike(row: dict[str, Any]) -> Hashable:
    return tuple(v[:2] for v in row["values"]), row["source"], row["evidence"]


def _named_together(group: list[dict[str, Any]], links: Links) -> dict[str, object]:
    """Parts with the same values, source and evidence as one row."""
    first = group[0]
    ident = str(getattr(first["at"], "id", "")) if len(group) == 1 else ""
    told = [(label, links.value(ident, name, value)) for label, value, name in first["values"]]
    return {**first, "values": told, "part": names([r["part"] for r in group]), "number": len(group)}


def every_result(a: Assessment) -> list[dict[str, str]]:
    """Every published result: label, key, value, formula, clause."""
    found = []
    for key, node in a.figures.items():
        known = node if isinstance(node, Known) else None
        formula = known.calc.formula if known is not None else ""
        found.append(
            {
                "ident": anchor("r", key),
                "label": node.label,
                "key": key,
                "value": shown(node),
                "formula": formula if len(formula) <= LONGEST else f"{formula[:LONGEST].rpartition(' ')[0]} …",
                "clause": known.calc.clause if known is not None else "",
            }
        )
    return found
