"""The list for the visit: what to collect on site so that the home's targets can be judged and proven."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import lru_cache

from nuthatch.core.assess import Assessment
from nuthatch.core.library import DATA
from nuthatch.core.model.home import walk_parts
from nuthatch.core.model.part import Given, Part, specs
from nuthatch.core.model.target_set import FIXED
from nuthatch.core.questions import name_of
from nuthatch.core.results.figure import Unknown, leaves
from nuthatch.core.steps import STEPS, step_of
from nuthatch.core.units import with_unit


@dataclass(frozen=True)
class Item:
    """One thing to collect: what, its present value and basis, what proves it, and the targets that rest on it."""

    step: str
    part: str
    field: str
    name: str
    now: str
    proof: str
    targets: tuple[str, ...]


@lru_cache(maxsize=1)
def proofs() -> dict[str, str]:
    """What usually proves the values of a kind of part; common practice, no source."""
    return dict(json.loads((DATA / "proofs.json").read_text(encoding="utf-8")))


def to_collect(a: Assessment) -> tuple[Item, ...]:
    """Values the home's targets rest on that are missing or not proven yet, in the order of the steps."""
    wanted: dict[tuple[str, str], dict[str, None]] = {}
    texts: dict[tuple[str, str], str] = {}
    for verdict in a.verdicts:
        for way in verdict.ways:
            node = way.node
            if isinstance(node, Unknown):
                for need in node.needs:
                    if need.part:
                        wanted.setdefault((need.part, need.field), {})[verdict.name] = None
                        texts[(need.part, need.field)] = need.text
            elif node is not None:
                for leaf in leaves(node):
                    if leaf.part and leaf.field and not leaf.source.startswith(FIXED):
                        wanted.setdefault((leaf.part, leaf.field), {})[verdict.name] = None
    parts: dict[str, Part] = {getattr(p, "id", ""): p for p in walk_parts(a.home)}
    found = []
    for (part_id, name), targets in wanted.items():
        part = parts.get(part_id)
        if part is None:
            continue
        spec = specs(type(part)).get(name)
        given = getattr(part, name, None)
        if isinstance(given, Given) and given.proven:
            continue
        label = spec.label if spec else texts.get((part_id, name), name).capitalize()
        now = f"{with_unit(given.value, spec.kind)}, {given.basis.value}" if isinstance(given, Given) and spec else "not given"
        if given and not isinstance(given, Given):
            continue
        found.append(Item(step_of(part, name), part_id, name, f"{name_of(part)}: {label}", now, proof_of(part, name), tuple(targets)))
    order = {i: n for n, i in enumerate(parts)}
    return tuple(sorted(found, key=lambda i: (STEPS.index(i.step), order[i.part], _place(parts[i.part], i.field))))


def by_part(items: tuple[Item, ...]) -> list[tuple[str, str, list[str], str, list[str]]]:
    """Rows of the printed list: (step, part, “field: value” lines, what proves it, targets), one for a part and its proof."""
    rows: dict[tuple[str, str, str], tuple[str, str, list[str], str, list[str]]] = {}
    for item in items:
        name, _, label = item.name.partition(": ")
        row = rows.setdefault((item.step, item.part, item.proof), (item.step, name, [], item.proof, []))
        row[2].append(f"{label}: {item.now}")
        row[4].extend(t for t in item.targets if t not in row[4])
    return list(rows.values())


def _place(part: Part, field: str) -> int:
    """Where a field stands in its card."""
    names = list(specs(type(part)))
    return names.index(field) if field in names else -1


def proof_of(part: Part, name: str) -> str:
    """What usually proves a value."""
    known = proofs()
    kind = type(part).__name__
    return known.get(f"{kind}.{name}", known.get(kind, "a note of what was seen"))
