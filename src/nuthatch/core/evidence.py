"""What is still missing as proof: each value with what would prove it, from whom, what rests on it; asked for on a sheet for each supplier;
and the values that attached files fit by their names."""

from __future__ import annotations

import json
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Any

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import Batch, SetValue
from nuthatch.core.graph.progress import tell
from nuthatch.core.graph.runner import Stores
from nuthatch.core.library import DATA, results_on_disk
from nuthatch.core.model.home import EvidenceFile, Home
from nuthatch.core.model.part import Basis, Given, Part, specs
from nuthatch.core.questions import name_of, values
from nuthatch.core.steps import STEPS
from nuthatch.core.units import with_unit
from nuthatch.core.views.ledger import LedgerRow, Weights, weigh
from nuthatch.core.visit import proof_of, to_collect


@dataclass(frozen=True)
class Wanted:
    """One value without proof: its part and field, in words, as it is, what would prove it, who has that, the targets that rest on it.
    `weight`: how far the margin it moves most moves with it [share of the limit]; None where that is not worked out."""

    step: str
    part: str
    field: str
    name: str
    now: str
    basis: str
    proof: str
    who: str
    targets: tuple[str, ...]
    weight: float | None = None

    @property
    def id(self) -> str:
        return f"{self.part}:{self.field}"

    @property
    def rests(self) -> str:
        """The targets on it, in short."""
        if len(self.targets) > 2:
            return f"{self.targets[0]} and {len(self.targets) - 1} more"
        return ", ".join(self.targets) or "none"


@lru_cache(maxsize=1)
def suppliers() -> dict[str, str]:
    """Who usually has the proof of a kind of part; common practice, no source."""
    return dict(json.loads((DATA / "suppliers.json").read_text(encoding="utf-8")))


def who_has(part: Part, field: str) -> str:
    """From whom the proof of a value comes."""
    known, kind = suppliers(), type(part).__name__
    return known.get(f"{kind}.{field}", known.get(kind, "consultant"))


def missing(a: Assessment, weights: Weights | None = None) -> tuple[Wanted, ...]:
    """Every value without proof that counts: those a target rests on, and declared, calculated or measured ones; the heaviest first where
    weights are known, else those more targets rest on."""
    rests = {(i.part, i.field): i.targets for i in to_collect(a)}
    found = []
    for step, part, field, given in values(a.home):
        ident = str(getattr(part, "id", ""))
        if given.proven or (given.basis is Basis.ASSUMED and (ident, field) not in rests):
            continue
        spec = specs(type(part))[field]
        moved = (weights or {}).get(f"{ident}:{field}")
        found.append(
            Wanted(
                step,
                ident,
                field,
                f"{name_of(part)}: {spec.label}",
                with_unit(given.value, spec.kind),
                given.basis.value,
                proof_of(part, field),
                who_has(part, field),
                rests.get((ident, field), ()),
                max((abs(w.change) for w in moved.values()), default=0.0) if moved is not None else None,
            )
        )
    order = {key: n for n, key in enumerate(STEPS)}
    return tuple(sorted(found, key=lambda w: (-(w.weight or 0.0), -len(w.targets), order[w.step])))


def by_supplier(wanted: Iterable[Wanted]) -> list[tuple[str, list[Wanted]]]:
    """What is asked of whom, in the order of the heaviest."""
    found: dict[str, list[Wanted]] = {}
    for item in wanted:
        found.setdefault(item.who, []).append(item)
    return list(found.items())


# files that find their values

_WORD = re.compile(r"[a-zà-ÿ0-9]{3,}")
_DULL = {"pdf", "jpg", "jpeg", "png", "the", "and", "for", "scan", "copy", "final", "sheet", "data", "file", "photo", "image", "img"}
_MEANS = {"n50": ("airtightness", "blower", "leakage"), "air": ("airtightness", "blower", "ventilation"), "psi": ("bridge", "junction")}


def words_in(text: str) -> set[str]:
    """What of a name says something: words of three letters and more, without what every file is called."""
    return {w.rstrip("s") if len(w) > 4 else w for w in _WORD.findall(re.sub(r"[_\-.]+", " ", text.lower()))} - _DULL


def fitting(name: str, wanted: Sequence[Wanted]) -> tuple[Wanted, ...]:
    """The values a file of this name seems to prove: those of the parts whose names are most like it; none where hardly any word is shared."""
    said = words_in(name)
    if not said:
        return ()
    rows = []
    for item in wanted:
        part, _, label = item.name.partition(": ")
        own, field, proof = words_in(part), words_in(label), words_in(item.proof)
        means = any(w in said for key, words in _MEANS.items() if key in (item.field, item.part) for w in words)
        score = _alike(said, own) + 0.3 * _alike(said, field) + 0.2 * _alike(said, proof) + 0.4 * means
        rows.append((score if said & (own | field) or means else 0.0, item))
    best = max((score for score, _ in rows), default=0.0)
    return tuple(item for score, item in rows if score >= max(0.75 * best, LEAST_ALIKE))


LEAST_ALIKE = 0.35
"""How alike the words of a file's name and of a part must be: all of one in the other is 1."""


def _alike(said: set[str], own: set[str]) -> float:
    return 2 * len(said & own) / (len(said) + len(own)) if said & own else 0.0


def proving(home: Home, proofs: Mapping[str, Sequence[Wanted]], files: Mapping[str, EvidenceFile]) -> Batch:
    """The change that puts files [by id] to the values they prove; a value keeps the files it has, and its basis."""
    by_place: dict[tuple[str, str], list[str]] = {}
    for ident, items in proofs.items():
        for item in items:
            by_place.setdefault((item.part, item.field), []).append(ident)
    known = {(str(getattr(p, "id", "")), f): g for _, p, f, g in values(home)}
    changes: list[SetValue] = []
    have = {e.id for e in home.evidence}
    added = tuple(e for e in files.values() if e.id not in have)
    if added:
        changes.append(SetValue(part="home", field="evidence", value=(*home.evidence, *added)))
    for place, idents in by_place.items():
        given = known.get(place)
        if given is not None:
            changes.append(SetValue(part=place[0], field=place[1], value=_proven(given, idents)))
    count = len(by_place)
    return Batch(label=f"evidence for {count} value{'' if count == 1 else 's'}", changes=tuple(changes))


def _proven(given: Given, idents: Sequence[str]) -> Given:
    return given.model_copy(update={"files": tuple(dict.fromkeys((*(given.files or ()), *idents)))})


def weighed(home: Home, climate: Any, cache: Path | None = None) -> int:
    """In a worker: what every value without proof weighs, told one by one; how many there are."""
    a = assess(home, climate, stores=Stores(slow=results_on_disk(cache)))
    wanted = missing(a)
    known = {(str(getattr(p, "id", "")), f): (p, g) for _, p, f, g in values(home)}
    for item in wanted:
        part, given = known[(item.part, item.field)]
        row = LedgerRow(item.step, item.part, item.field, item.name, specs(type(part))[item.field], given, "")
        tell({item.id: weigh(a, row)})
    return len(wanted)
