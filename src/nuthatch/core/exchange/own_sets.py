"""Own target sets: documented files in the user's folder, read with every fault told by line and key."""

from __future__ import annotations

import difflib
import json
import re
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from nuthatch.core.assess import result_kinds
from nuthatch.core.files.disk import read_file, why
from nuthatch.core.files.homefile import HomeFileError, put
from nuthatch.core.files.located import Fault, Located, Where, parse
from nuthatch.core.files.places import config_folder
from nuthatch.core.model.conditions import fault, spec_of
from nuthatch.core.model.part import replace
from nuthatch.core.model.target_set import Condition, TargetSet
from nuthatch.core.reading import BadText, Doubt, read
from nuthatch.core.targets.code import COLUMNS
from nuthatch.core.units import METRIC, using

LARGEST = 2_000_000


@dataclass(frozen=True)
class SetFault:
    """A file of the folder that cannot be used, and why."""

    path: Path
    text: str


def _known(key: Any, where: Where, lines: Located) -> str:
    """The key of a result, or a Fault that suggests the nearest one."""
    kinds = result_kinds()
    if isinstance(key, str) and key in kinds:
        return key
    near = difflib.get_close_matches(str(key), kinds, 1, 0.5)
    hint = f"; did you mean “{near[0]}”?" if near else "; docs/file-format.md lists them"
    raise Fault(lines.line(where), ".".join(map(str, where)), f"“{key}” is no result of Nuthatch{hint}")


def _limits(ways: Any, where: Where, lines: Located) -> None:
    """Check the results named, and turn limits written with a unit into numbers."""
    for n, way in enumerate(ways if isinstance(ways, list) else ()):
        if not isinstance(way, dict) or "figure" not in way:
            continue
        here = (*where, n)
        _, kind = result_kinds()[_known(way["figure"], (*here, "figure"), lines)]
        if way.get("limit_figure"):
            _known(way["limit_figure"], (*here, "limit_figure"), lines)
        rise = way.get("rise")
        if isinstance(rise, dict) and "figure" in rise:
            _known(rise["figure"], (*here, "rise", "figure"), lines)
        if way.get("limit") is None and not way.get("cases") and not way.get("limit_figure"):
            raise Fault(lines.line(here), ".".join(map(str, here)), "gives no “limit”, no “cases” and no “limit_figure”")
        spots = [(way, (*here, "limit"))]
        cases = way.get("cases")
        spots += [(c, (*here, "cases", i, "limit")) for i, c in enumerate(cases if isinstance(cases, list) else ()) if isinstance(c, dict)]
        for holder, spot in spots:
            if isinstance(holder.get("limit"), str):
                try:
                    with using(METRIC):
                        found = read(holder["limit"], kind)
                except BadText as problem:
                    raise Fault(lines.line(spot), ".".join(map(str, spot)), str(problem)) from None
                if isinstance(found, Doubt):
                    raise Fault(lines.line(spot), ".".join(map(str, spot)), f"{found.question} Write it with its unit")
                holder["limit"] = found


def read_set(data: bytes) -> TargetSet:
    """A target set from the bytes of its file. Raises Fault with line and key."""
    if len(data) > LARGEST:
        raise Fault(1, "", "the file is far too large for a target set")
    lines = parse(data)
    if not isinstance(lines.data, dict):
        raise Fault(1, "", "a target set is an object in braces with id, name, source and targets")
    targets = lines.data.get("targets")
    for n, target in enumerate(targets if isinstance(targets, list) else ()):
        if isinstance(target, dict):
            _limits(target.get("ways"), ("targets", n, "ways"), lines)
    _conditions(lines)
    _whole_table(lines)
    try:
        return TargetSet.model_validate(lines.data)
    except ValidationError as error:
        first = error.errors()[0]
        where = tuple(first["loc"])
        message = first["msg"].removeprefix("Value error, ")
        if first["type"] == "missing":
            message = f"the key “{where[-1]}” is missing"
        elif first["type"] == "extra_forbidden":
            allowed = difflib.get_close_matches(str(where[-1]), _keys(where), 1, 0.5)
            message = f"the key “{where[-1]}” is not known here" + (f"; did you mean “{allowed[0]}”?" if allowed else "")
        elif first["type"] == "string_pattern_mismatch":
            message = f"“{first['input']}” is no id: lower-case letters, digits, dots and hyphens"
        raise Fault(lines.line(where), ".".join(map(str, where)), message) from None


def _conditions(lines: Located) -> None:
    """Check what the set fixes, and turn values written with a unit into numbers."""
    rows = lines.data.get("conditions")
    for n, row in enumerate(rows if isinstance(rows, list) else ()):
        if not isinstance(row, dict):
            continue
        where = ("conditions", n, "value")
        spec = spec_of(str(row.get("field", "")))
        if spec is not None and spec.kind != "choice" and isinstance(row.get("value"), str):
            try:
                with using(METRIC):
                    found = read(row["value"], spec.kind)
            except BadText as problem:
                raise Fault(lines.line(where), ".".join(map(str, where)), str(problem)) from None
            if isinstance(found, Doubt):
                raise Fault(lines.line(where), ".".join(map(str, where)), f"{found.question} Write it with its unit")
            row["value"] = found
        try:
            why_not = fault(Condition.model_validate(row))
        except ValidationError:
            continue  # the set as a whole tells it, with its place
        if why_not:
            key = "field" if spec is None else "value"
            raise Fault(lines.line(("conditions", n, key)), f"conditions.{n}.{key}", why_not)
    named = [str(r.get("field")) for r in rows if isinstance(r, dict)] if isinstance(rows, list) else []
    twice = next((f for f in named if named.count(f) > 1), None)
    if twice is not None:
        raise Fault(lines.line(("conditions",)), "conditions", f"“{twice}” is fixed twice")


def _whole_table(lines: Located) -> None:
    """A code's table must hold a U-value for each kind of part in each of its zones: one left out would be judged by nothing."""
    table = lines.data.get("ua_table")
    for zone, row in table.items() if isinstance(table, dict) else ():
        lost = [c for c in dict.fromkeys(COLUMNS.values()) if isinstance(row, dict) and c not in row]
        if lost:
            raise Fault(lines.line(("ua_table", zone)), f"ua_table.{zone}", f"a U-value for “{lost[0]}” is missing")


def _keys(where: Where) -> list[str]:
    from nuthatch.core.model.target_set import Case, Rise, Target, Way

    kind: Any = (
        Condition
        if "conditions" in where
        else Case
        if "cases" in where
        else Rise
        if "rise" in where
        else Way
        if "ways" in where
        else Target
        if "targets" in where
        else TargetSet
    )
    return list(kind.model_fields)


def sets_folder() -> Path:
    """Where own target sets are kept."""
    return config_folder() / "target-sets"


def own_sets(folder: Path | None = None) -> tuple[tuple[TargetSet, ...], tuple[SetFault, ...]]:
    """(sets, faults) of the user's folder, by file name. Sets that shipped ones are named like are a fault too."""
    from nuthatch.core.library import target_sets

    found: list[TargetSet] = []
    faults: list[SetFault] = []
    taken = {s.id: "a target set that ships with Nuthatch" for s in target_sets()}
    for path in sorted((folder or sets_folder()).glob("*.json")):
        try:
            made = read_set(read_file(path, LARGEST, "target set"))
            if made.id in taken:
                raise Fault(1, "id", f"“{made.id}” is taken by {taken[made.id]}; choose another")
        except OSError as error:
            faults.append(SetFault(path, why(error)))
        except Fault as fault:
            faults.append(SetFault(path, str(fault)))
        else:
            taken[made.id] = path.name
            found.append(made)
    return tuple(found), tuple(faults)


def save_set(chosen: TargetSet, folder: Path | None = None) -> Path:
    """Write an own set to the user's folder; the file before it is kept beside as “….json~”. Raises HomeFileError."""
    where = folder or sets_folder()
    try:
        where.mkdir(parents=True, exist_ok=True)
        path = where / f"{chosen.id}.json"
        if path.exists():
            path.with_name(path.name + "~").write_bytes(read_file(path, LARGEST, "target set"))
    except OSError as error:
        raise HomeFileError(f"{where}: {why(error)}") from None
    put(path, set_bytes(chosen))
    return path


def set_bytes(chosen: TargetSet) -> bytes:
    """A target set as its file."""
    data = chosen.model_dump(mode="json", exclude_defaults=True)
    return (json.dumps(data, ensure_ascii=False, indent=1) + "\n").encode()


def copy_of(chosen: TargetSet, taken: set[str]) -> TargetSet:
    """An own set to start from: the same lines under a new id and name."""
    stem = re.sub(r"-own(-\d+)?$", "", chosen.id)
    ident, number = f"{stem}-own", 2
    while ident in taken:
        ident, number = f"{stem}-own-{number}", number + 1
    return replace(chosen, id=ident, name=f"{chosen.name}, own", source=f"own, after: {chosen.source}")
