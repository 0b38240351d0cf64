"""A target set as flat lines, the way a table shows and edits it: one line for each limit with its conditions."""

from __future__ import annotations

import re
from dataclasses import dataclass, fields
from typing import get_args

from nuthatch.core.assess import result_kinds
from nuthatch.core.model.target_set import Case, Dwelling, Target, TargetSet, Way
from nuthatch.core.reading import BadText, Doubt, read
from nuthatch.core.units import kind_of

SENSES = {"max": "at most", "min": "at least"}
CONDITIONS = tuple(c for c in get_args(Target.model_fields["when"].annotation) if c != "always")
DWELLINGS = tuple(d for d in get_args(Dwelling) if d != "not given")


class LineFault(ValueError):
    """A cell that cannot be read; `row` and `column` say which."""

    def __init__(self, row: int, column: str, text: str) -> None:
        self.row, self.column = row, column
        super().__init__(f"line {row + 1}, {column}: {text}")


@dataclass(frozen=True)
class TargetLine:
    """One line as texts. Empty conditions: the limit holds for every other home. Lines of one target name are its ways."""

    target: str = ""
    result: str = ""
    sense: str = "at most"
    limit: str = ""
    zones: str = ""
    over_area: str = ""
    upto_area: str = ""
    dwellings: str = ""
    points: str = ""
    source: str = ""
    when: str = ""


HEADS = {
    "target": "Target",
    "result": "Result",
    "sense": "Sense",
    "limit": "Limit",
    "zones": "Zones",
    "over_area": "Area over",
    "upto_area": "Area up to",
    "dwellings": "Dwellings",
    "points": "Points",
    "source": "From",
    "when": "Only for",
}
assert tuple(HEADS) == tuple(f.name for f in fields(TargetLine))


def _with_unit(value: float, kind: str) -> str:
    spec = kind_of(kind)
    return f"{spec.to_shown(value):.6g} {spec.unit}".strip()


def to_lines(chosen: TargetSet) -> tuple[TargetLine, ...]:
    """A set as lines, in the units in use."""
    found: list[TargetLine] = []
    for target in chosen.targets:
        points = f"{target.points:g}" if target.points is not None else ""
        for way in target.ways:
            label, kind = result_kinds().get(way.figure, (way.figure, "fraction"))
            when = "" if target.when == "always" else target.when
            base = TargetLine(target.name, label, SENSES[way.sense], points=points, when=when, source=target.source)
            mine = []
            if way.limit_figure:
                mine.append(_changed(base, limit=result_kinds().get(way.limit_figure, (way.limit_figure, ""))[0]))
            for case in way.cases:
                over = "" if case.over_area is None else _with_unit(case.over_area, "area")
                upto = "" if case.upto_area is None else _with_unit(case.upto_area, "area")
                limit, zones, dwellings = _with_unit(case.limit, kind), " ".join(case.zones), ", ".join(case.dwellings)
                mine.append(_changed(base, limit=limit, zones=zones, over_area=over, upto_area=upto, dwellings=dwellings))
            if way.limit is not None:
                mine.append(_changed(base, limit=_with_unit(way.limit, kind)))
            more = _more_text(way, kind)
            found += [_changed(line, limit=line.limit + more) for line in mine]
    return tuple(found)


RISES = re.compile(r"\s*\+\s*(?P<factor>.+?)\s*[×x*·]\s*\((?P<result>.+?)\s+from\s+(?P<start>.+?)(?:\s+to\s+(?P<stop>.+?))?\)\s*$")
ROUNDS = re.compile(r",\s*to\s+(\d+)\s+decimals?\s*$")
RIGHT = "it is written 120 kWh/(m²·a) + 1.2 × (Heating demand from 15 to 25 kWh/(m²·a))"


def _more_text(way: Way, kind: str) -> str:
    """What follows a limit in its cell: what it rises with, to how many decimals it is rounded."""
    text = ""
    if way.rise is not None:
        label, other = result_kinds().get(way.rise.figure, (way.rise.figure, "fraction"))
        spec, factor = kind_of(other), way.rise.factor * kind_of(kind).factor / kind_of(other).factor
        bounds = f"from {spec.to_shown(way.rise.start):.6g}" + (
            f" to {spec.to_shown(way.rise.stop):.6g}" if way.rise.stop is not None else ""
        )
        text = f" + {factor:.6g} × ({label} {bounds} {spec.unit})"
    if way.decimals is not None:
        text += f", to {way.decimals} decimal{'' if way.decimals == 1 else 's'}"
    return text


def _more_of(text: str, kind: str, row: int) -> tuple[str, dict[str, object]]:
    """(the limit itself, what else its cell says of the way). Raises LineFault."""
    found: dict[str, object] = {}
    if rounds := ROUNDS.search(text):
        if int(rounds[1]) > 6:
            raise LineFault(row, HEADS["limit"], "a limit is rounded to 0 to 6 decimals")
        text, found["decimals"] = text[: rounds.start()], int(rounds[1])
    if "(" in text and "+" in text:
        rises = RISES.search(text)
        if rises is None:
            raise LineFault(row, HEADS["limit"], f"what a limit rises with cannot be read; {RIGHT}")
        text, found["rise"] = text[: rises.start()], _rise(rises, kind, row)
    return text, found


def _rise(said: re.Match[str], kind: str, row: int) -> dict[str, object]:
    """What a limit rises with, from its parts in words."""
    column = HEADS["limit"]
    figure = _key(said["result"], row, column)
    other = result_kinds()[figure][1]
    spec = kind_of(other)
    try:
        factor = float(said["factor"].replace(",", ".")) * spec.factor / kind_of(kind).factor
    except ValueError:
        raise LineFault(row, column, f"“{said['factor']}” is no number; {RIGHT}") from None
    unit = spec.unit if any((said[n] or "").strip().endswith(spec.unit) for n in ("start", "stop")) else ""

    def number(name: str) -> float | None:
        text = said[name]
        return None if text is None else _number(f"{text.strip().removesuffix(unit).strip()} {spec.unit}".strip(), other, row, column, {})

    start, stop = number("start"), number("stop")
    if factor <= 0:
        raise LineFault(row, column, "a limit rises by more than 0")
    if start is not None and stop is not None and stop <= start:
        raise LineFault(row, column, "a limit rises from the smaller value to the larger")
    return {"figure": figure, "factor": factor, "start": start, "stop": stop}


def _changed(line: TargetLine, **texts: str) -> TargetLine:
    return TargetLine(**{**{f.name: getattr(line, f.name) for f in fields(TargetLine)}, **texts})


Exact = dict[tuple[str, str], float]


def _exact(chosen: TargetSet) -> Exact:
    """What the texts of a set's own lines stand for, to the last digit: a limit nobody touched stays what it was."""
    found: Exact = {}
    for target in chosen.targets:
        for way in target.ways:
            kind = result_kinds().get(way.figure, ("", "fraction"))[1]
            limits = [c.limit for c in way.cases] + ([] if way.limit is None else [way.limit])
            areas = [a for c in way.cases for a in (c.over_area, c.upto_area) if a is not None]
            found |= {(kind, _with_unit(v, kind)): v for v in limits} | {("area", _with_unit(v, "area")): v for v in areas}
    return found


def _number(text: str, kind: str, row: int, column: str, exact: Exact) -> float:
    if (kind, text.strip()) in exact:
        return exact[(kind, text.strip())]
    try:
        found = read(text, kind)
    except BadText as problem:
        raise LineFault(row, column, str(problem)) from None
    if isinstance(found, Doubt):
        raise LineFault(row, column, found.question + " Write it with its unit")
    return found


def _key(text: str, row: int, column: str) -> str:
    wanted = text.strip().lower()
    for key, (label, _) in result_kinds().items():
        if wanted in (key, label.lower()):
            return key
    raise LineFault(row, column, f"“{text}” is no result of Nuthatch; choose one of the list")


def from_lines(chosen: TargetSet, lines: list[TargetLine]) -> TargetSet:
    """The set with its targets as the lines say; id, name, source and the rest stay. Raises LineFault."""
    groups: dict[str, list[tuple[int, TargetLine]]] = {}
    for row, line in enumerate(lines):
        if any(getattr(line, f.name).strip() for f in fields(TargetLine) if f.name != "sense"):
            if not line.target.strip():
                raise LineFault(row, HEADS["target"], "the target has no name")
            groups.setdefault(line.target.strip(), []).append((row, line))
    ids = {t.name: t for t in chosen.targets}
    renamed = iter([t for t in chosen.targets if t.name not in groups])  # a new name in the old one's place keeps its id
    known = {name: ids.get(name) or next(renamed, None) for name in groups}
    taken: set[str] = set()
    exact = _exact(chosen)
    targets = [_target(name, rows, known[name], taken, exact) for name, rows in groups.items()]
    data = chosen.model_dump()
    return TargetSet.model_validate({**data, "targets": targets})


def _target(name: str, rows: list[tuple[int, TargetLine]], known: Target | None, taken: set[str], exact: Exact) -> Target:
    ways: dict[tuple[str, str], dict[str, object]] = {}
    points: float | None = None
    for row, line in rows:
        key = _key(line.result, row, HEADS["result"])
        sense = next((k for k, v in SENSES.items() if v == line.sense.strip().lower()), None)
        if sense is None:
            raise LineFault(row, HEADS["sense"], f"“{line.sense}” is not known; “at most” or “at least”")
        way = ways.setdefault((key, sense), {"figure": key, "sense": sense, "cases": []})
        kind = result_kinds()[key][1]
        zones = tuple(z.upper() for z in re.split(r"[\s,;]+", line.zones.strip()) if z)
        for zone in zones:
            if not re.fullmatch(r"[0-8][ABC]?", zone):
                raise LineFault(row, HEADS["zones"], f"“{zone}” is no climate zone; 0 to 8, with A, B or C where it matters")
        dwellings = tuple(d.strip().lower() for d in re.split(r"[,;]", line.dwellings) if d.strip())
        for dwelling in dwellings:
            if dwelling not in DWELLINGS:
                raise LineFault(row, HEADS["dwellings"], f"“{dwelling}” is not known; {', '.join(DWELLINGS)}")
        over = _number(line.over_area, "area", row, HEADS["over_area"], exact) if line.over_area.strip() else None
        upto = _number(line.upto_area, "area", row, HEADS["upto_area"], exact) if line.upto_area.strip() else None
        if over is not None and upto is not None and upto <= over:
            raise LineFault(row, HEADS["upto_area"], "no home is that large and that small at once")
        _limit_into(way, line, kind, row, {"zones": zones, "dwellings": dwellings, "over_area": over, "upto_area": upto}, exact)
        if line.points.strip():
            points = _number(line.points, "points", row, HEADS["points"], exact)
            if points <= 0:
                raise LineFault(row, HEADS["points"], "points are more than 0; leave empty for a line that has to be met")
    stem = known.id if known else re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or "target"
    ident, number = stem, 2
    while ident in taken:
        ident, number = f"{stem}-{number}", number + 1
    taken.add(ident)
    made = tuple(Way.model_validate({**w, "cases": tuple(w["cases"])}) for w in ways.values())  # type: ignore[arg-type]
    source = next((line.source for _, line in rows if line.source.strip()), "")
    return Target.model_validate({"id": ident, "name": name, "ways": made, "when": _when(rows), "points": points, "source": source})


def _when(rows: list[tuple[int, TargetLine]]) -> str:
    """Which homes a target is for, as its lines say."""
    found = "always"
    for row, line in rows:
        text = line.when.strip().lower()
        if text and text not in CONDITIONS:
            raise LineFault(row, HEADS["when"], f"“{line.when}” is not known; {' or '.join(CONDITIONS)}, or empty for every home")
        found = text or found
    return found


def _limit_into(way: dict[str, object], line: TargetLine, kind: str, row: int, when: dict[str, object], exact: Exact) -> None:
    """Put a line's limit into its way: a case with conditions, another result, or the limit for all other homes."""
    if not line.limit.strip():
        raise LineFault(row, HEADS["limit"], "the limit is missing")
    labels = {label.lower(): key for key, (label, _) in result_kinds().items()}
    text, more = _more_of(line.limit.strip(), kind, row)
    way.update(more)
    if text.strip().lower() in labels:
        way["limit_figure"] = labels[text.strip().lower()]
        return
    limit = _number(text, kind, row, HEADS["limit"], exact)
    if any(v not in (None, ()) for v in when.values()):
        cases = way["cases"]
        assert isinstance(cases, list)
        cases.append(Case.model_validate({"limit": limit, **when}))
    elif way.get("limit") is not None:
        raise LineFault(row, HEADS["limit"], "two limits without conditions for one result; give one of them conditions")
    else:
        way["limit"] = limit
