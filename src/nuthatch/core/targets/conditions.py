"""The conditions a target set fixes, as changes applied to the home before it judges, and in words."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

from nuthatch.core.changes.changes import SetValue
from nuthatch.core.model.conditions import fault, paths, spec_of
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import Basis, Given, IdentifiedPart, replace
from nuthatch.core.model.target_set import FIXED, Condition, FreshAir, TargetSet
from nuthatch.core.reading import BadText, Doubt, read
from nuthatch.core.results.entries import lowered
from nuthatch.core.results.question import Question
from nuthatch.core.units import with_unit

ConditionsKey = tuple[tuple[Condition, ...], int, str, FreshAir | None]
"""What makes two sets judge the same home: their conditions, how many people they count in a studio, how flows of a room count together,
the normal flow they fix."""
TOUCHED = ("site", "household", "water", "carriers", "power")


OWN_POWER = Condition(field="power.counted", value="not counted", source="own electricity counts only where a set says so")
"""Fixed by every set that says nothing of it, where the home as designed counts its own electricity."""


def fixed_by(chosen: TargetSet, home: Home) -> tuple[Condition, ...]:
    """What a set fixes of a home."""
    silent = home.power.counted == "counted" and all(c.field != OWN_POWER.field for c in chosen.conditions)
    return (*chosen.conditions, OWN_POWER) if silent else chosen.conditions


def key_of(chosen: TargetSet, home: Home) -> ConditionsKey:
    """Sets of one key share an assessment."""
    return fixed_by(chosen, home), *_counting(chosen)


def plain_key(home: Home) -> ConditionsKey:
    """The key of the home as designed."""
    return ((), *_counting(home.target_sets[0])) if home.target_sets else ((), 1, "largest", None)


def _counting(chosen: TargetSet) -> tuple[int, str, FreshAir | None]:
    return chosen.studio_people, chosen.room_air, chosen.fresh_air


def groups(home: Home) -> dict[ConditionsKey, tuple[TargetSet, ...]]:
    """The home's sets by key, without those that judge the home as designed."""
    found: dict[ConditionsKey, tuple[TargetSet, ...]] = {}
    for chosen in home.target_sets:
        key = key_of(chosen, home)
        if key != plain_key(home):
            found[key] = (*found.get(key, ()), chosen)
    return found


def _changes(home: Home, conditions: tuple[Condition, ...], who: str) -> Iterator[SetValue]:
    for condition in conditions:
        part, _, name = condition.field.rpartition(".")
        value: Any = condition.value
        if not isinstance(value, str):
            value = Given(value=value, basis=Basis.ASSUMED, source=f"{FIXED}{who}")
        if name == "floor_per_person":
            yield SetValue(part="household", field="people", value=None)
        if part.startswith("carrier."):
            kind = part.removeprefix("carrier.")
            yield from (SetValue(part=c.id, field=name, value=value) for c in home.carriers if c.kind == kind)
        else:
            yield SetValue(part=home[part].id, field=name, value=value)


def as_judged(home: Home, sets: tuple[TargetSet, ...]) -> Home:
    """The home as sets of one key judge it: their conditions applied, and they come first among its sets."""
    values: dict[str, dict[str, object]] = {}
    for change in _changes(home, fixed_by(sets[0], home), " and ".join(s.name for s in sets)):
        values.setdefault(change.part, {})[change.field] = change.value

    def judged(part: IdentifiedPart) -> IdentifiedPart:
        return replace(part, **values.pop(part.id)) if part.id in values else part

    changed = {n: tuple(map(judged, home[n])) if isinstance(home[n], tuple) else judged(home[n]) for n in TOUCHED}
    assert not values, "a condition fixes nothing but what is TOUCHED"
    return replace(home, **changed, target_sets=ordered(home, sets))


def ordered(home: Home, sets: tuple[TargetSet, ...]) -> tuple[TargetSet, ...]:
    """All sets of a home, these first: the first says how many people a studio holds."""
    return (*sets, *(s for s in home.target_sets if s not in sets))


def moved_along(before: Home, judged: Home, home: Home, sets: tuple[TargetSet, ...]) -> Home:
    """The same for a home that differs from `before`, whose judged twin is known: parts no condition touches are taken over."""
    if any(before[name] is not home[name] for name in (*TOUCHED, "target_sets")):
        return as_judged(home, sets)
    kept = {name: judged[name] for name in (*TOUCHED, "target_sets")}
    return replace(home, **kept)


def label_of(condition: Condition) -> str:
    """“Heating set-point”, “Electricity: primary energy factor”."""
    spec = spec_of(condition.field)
    assert spec is not None
    if condition.field.startswith("carrier."):
        return f"{condition.field.split('.')[1].capitalize()}: {spec.label if spec.label[1].isupper() else lowered(spec.label)}"
    return spec.label


def value_of(condition: Condition) -> str:
    """“20.0 °C”, “simple”."""
    spec = spec_of(condition.field)
    assert spec is not None
    if isinstance(condition.value, str):
        return condition.value
    if spec.kind in ("count", "factor") and condition.value != round(condition.value):
        return f"{condition.value:g}"
    return with_unit(condition.value, spec.kind)


def words(chosen: TargetSet) -> tuple[str, ...]:
    """The conditions of a set, each in words."""
    return tuple(f"{label_of(c)} {value_of(c)}" for c in chosen.conditions)


def carrier_questions(home: Home) -> Iterator[Question]:
    """Carriers in use whose kind nobody has said, where a set fixes factors by kind."""
    fixing = [s.name for s in home.target_sets if any(c.field.startswith("carrier.") for c in s.conditions)]
    used = {s.carrier for s in home.sources} | {home.electricity}
    for carrier in home.carriers:
        if fixing and carrier.kind == "other" and carrier.id in used:
            yield Question(carrier.id, "kind", f"{fixing[0]} fixes energy factors by kind of carrier: of what kind is this one?")


# as rows a table shows and edits

Row = tuple[str, str, str]
"""What is fixed, its value with unit, where it comes from."""


def labels() -> dict[str, str]:
    """What may be fixed, in words → its path."""
    return {label_of(Condition(field=p, value=0.0)): p for p in paths()}


def to_rows(chosen: TargetSet) -> tuple[Row, ...]:
    """The conditions of a set as texts, in the units in use."""
    return tuple((label_of(c), value_of(c), c.source) for c in chosen.conditions)


def from_rows(chosen: TargetSet, rows: Sequence[Row]) -> TargetSet:
    """The set with its conditions as the rows say; empty rows are left out. Raises ValueError with row and what would be right."""
    known = {label.lower(): path for label, path in labels().items()} | {p.lower(): p for p in paths()}
    exact = {(label_of(c), value_of(c)): c.value for c in chosen.conditions}
    made: list[Condition] = []
    for n, (what, text, source) in enumerate(rows, 1):
        if not (what.strip() or text.strip()):
            continue
        path = known.get(what.strip().lower())
        if path is None:
            raise ValueError(f"line {n}: “{what}” is nothing a target set can fix; choose one of the list")
        if any(c.field == path for c in made):
            raise ValueError(f"line {n}: “{what}” is fixed twice")
        if not text.strip():
            raise ValueError(f"line {n}: the value of “{what}” is missing")
        condition = Condition(field=path, value=exact.get((what.strip(), text.strip()), _value(path, text, n)), source=source.strip())
        if wrong := fault(condition):
            raise ValueError(f"line {n}: {wrong}")
        made.append(condition)
    return replace(chosen, conditions=tuple(made))


def _value(path: str, text: str, row: int) -> float | str:
    spec = spec_of(path)
    assert spec is not None
    if spec.kind == "choice":
        return text.strip()
    try:
        found = read(text, spec.kind)
    except BadText as problem:
        raise ValueError(f"line {row}: {problem}") from None
    if isinstance(found, Doubt):
        raise ValueError(f"line {row}: {found.question} Write it with its unit")
    return found
