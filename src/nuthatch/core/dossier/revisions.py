"""Revisions: what was issued, what has changed since the last one, and what it did to each target."""

from __future__ import annotations

import json

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import Batch, Change, Insert, Remove, SetValue
from nuthatch.core.changes.difference import difference
from nuthatch.core.changes.words import describe
from nuthatch.core.dossier.setting import Setting
from nuthatch.core.files.homefile import HomeFileError, canonical, home_from_json, home_hash
from nuthatch.core.model.dossier import Issued, IssuedResult
from nuthatch.core.model.home import SCHEMA, EvidenceFile, Home, find, fresh_id
from nuthatch.core.model.part import Given, replace, specs
from nuthatch.core.questions import name_of
from nuthatch.core.units import show, unit_of, with_unit

MOST = 60
"""Changes told one by one; of more, how many there are."""


def content_hash(home: Home) -> str:
    """SHA-256 of the home without what was issued of it: what a dossier says it was made from."""
    return home_hash(bare(home))


def bare(home: Home) -> Home:
    """The home without its revisions and the files that keep them."""
    if not home.issued:
        return home
    kept = {i.file for i in home.issued}
    return replace(home, issued=(), evidence=tuple(e for e in home.evidence if e.id not in kept))


def judged(a: Assessment) -> dict[str, float | None]:
    """The results targets look at, by key; each as the first target sees it."""
    found: dict[str, float | None] = {}
    for v in a.verdicts:
        for w in v.ways:
            found.setdefault(f"{v.set_name}: {w.label}", None if w.value is None else float(w.value))
    return found


def kept_state(home: Home) -> bytes:
    """The home as a revision keeps it."""
    document = {"nuthatch": "home", "schema": SCHEMA, "home": json.loads(canonical(bare(home)))}
    return json.dumps(document, ensure_ascii=False, separators=(",", ":")).encode()


def issue(a: Assessment, name: str, date: str, note: str, version: str, state: EvidenceFile) -> Batch:
    """The change that remembers a revision as issued; `state` is the file that keeps the home as it is."""
    home = a.home
    made = Issued(
        id=fresh_id(home, "issue"),
        name=name,
        date=date,
        profile=home.dossier.profile,
        note=note,
        version=version,
        sha256=content_hash(home),
        file=state.id,
        results=tuple(IssuedResult(key=k, value=v) for k, v in judged(a).items()),
    )
    changes = (Insert(owner="home", field="evidence", index=-1, value=state), Insert(owner="home", field="issued", index=-1, value=made))
    return Batch(label=f"revision {len(home.issued) + 1} issued", changes=changes)


NEVER, OUT_OF_DATE = "", "out of date"


def standing_of(home: Home) -> str:
    """How the last dossier of a home stands: none issued, revision and day, or that the home has changed since."""
    if not home.issued:
        return NEVER
    last = home.issued[-1]
    said = f"revision {len(home.issued)}, {last.date}"
    return said if content_hash(home) == last.sha256 else f"{said}: {OUT_OF_DATE}"


def state_of(s: Setting) -> tuple[Home | None, str]:
    """(the home when the last revision went out, why it is not known)."""
    last = s.a.home.issued[-1]
    file = next((e for e in s.a.home.evidence if e.id == last.file), None)
    data = s.content(file.sha256) if file is not None else None
    if data is None:
        return None, "The home as it was then is not at hand, so what has changed cannot be listed."
    try:
        return home_from_json(data), ""
    except HomeFileError as error:
        return None, f"The home as it was then cannot be read: {error}."


def revisions(s: Setting) -> dict[str, object]:
    """What the chapter shows."""
    home = s.a.home
    rows = [(f"{n}, {i.name}", i.date, i.profile, i.sha256[:12], i.note) for n, i in enumerate(home.issued, 1)]
    last = home.issued[-1]
    before, why = state_of(s)
    return {
        "rows": rows,
        "last": f"revision {len(home.issued)}",
        "since": True,
        "results": _results(s.a, last),
        "changes": told(before, home) if before is not None else [],
        "why": why,
    }


def _results(a: Assessment, last: Issued) -> list[tuple[str, str, str, str]]:
    """Each judged result then and now."""
    kinds = {f"{v.set_name}: {w.label}": w.kind for v in a.verdicts for w in v.ways}
    then = {r.key: r.value for r in last.results}
    rows = []
    for key, now in judged(a).items():
        kind, was = kinds[key], then.get(key)
        moved = now - was if now is not None and was is not None else None
        unit = unit_of("difference" if kind == "temperature" else kind)
        change = "" if moved is None else f"{'+' if moved > 0 and show(moved, kind).strip('0.') else ''}{show(moved, kind)} {unit}".strip()
        rows.append(
            (key, "not known" if was is None else with_unit(was, kind), "not known" if now is None else with_unit(now, kind), change)
        )
    return rows


def told(before: Home, after: Home) -> list[str]:
    """What has changed from one home to another, one line each."""
    changes = difference(bare(before), bare(after))
    lines = [_line(c, before, after) for c in changes[:MOST]]
    return [*lines, f"and {len(changes) - MOST} more changes"] if len(changes) > MOST else lines


def _line(change: Change, before: Home, after: Home) -> str:
    """One change with the part it is of, from what to what."""
    if isinstance(change, SetValue):
        was, now = find(before, change.part), find(after, change.part)
        spec = specs(type(now)).get(change.field) if now is not None else None
        if was is not None and now is not None and spec is not None and spec.is_quantity:
            old, new = was[change.field], now[change.field]
            said = [with_unit(g.value, spec.kind) if isinstance(g, Given) else "nothing" for g in (old, new)]
            if said[0] == said[1]:
                return f"{name_of(now)}: {spec.label}, what it rests on"
            return f"{name_of(now)}: {spec.label} {said[0]} → {said[1]}"
        if was is not None and now is not None and spec is not None:
            return f"{name_of(now)}: {spec.label} {_text(before, was[change.field])} → {_text(after, now[change.field])}"
        return f"{name_of(now) if now is not None else change.part}: {change.field.replace('_', ' ')}"
    if isinstance(change, Remove):
        return describe(change, before)
    return describe(change, after)


def _text(home: Home, value: object) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    found = find(home, str(value)) if value else None
    return name_of(found) if found is not None else str(value or "nothing")
