"""Schema versions of home.json: each migration turns the raw home of one version into the next."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from nuthatch.core.model.home import SCHEMA


class NewerSchema(ValueError):
    """The file was written by a newer Nuthatch."""


Migration = Callable[[dict[str, object]], dict[str, object]]


def _dicts(rows: object) -> list[dict[str, object]]:
    """The objects of a list as it stands in a file, where anything may stand; what is none is left for the model to refuse."""
    return [r for r in rows if isinstance(r, dict)] if isinstance(rows, list) else []


def _cases(raw: dict[str, object]) -> dict[str, object]:
    """1 → 2: a limit by zone becomes cases, one for each limit."""
    for chosen in _dicts(raw.get("target_sets")):
        for target in _dicts(chosen.get("targets")):
            for way in _dicts(target.get("ways")):
                table = way.pop("limit_by_zone", None)
                if isinstance(table, dict):
                    limits = dict.fromkeys(map(str, table.values()))
                    way["cases"] = [
                        {
                            "limit": next(v for v in table.values() if str(v) == limit),
                            "zones": [z for z, v in table.items() if str(v) == limit],
                        }
                        for limit in limits
                    ]
    return raw


_KINDS = {"electric": "electricity", "gas": "gas", "oil": "oil", "wood": "wood", "pellet": "wood", "district": "district heat"}


def _carriers(raw: dict[str, object]) -> dict[str, object]:
    """2 → 3: a carrier says of what kind it is; its id and name told it before."""
    for carrier in _dicts(raw.get("carriers")):
        said = f"{carrier.get('id', '')} {carrier.get('name', '')}".lower()
        carrier["kind"] = next((kind for word, kind in _KINDS.items() if word in said), "other")
    return raw


def _sides(raw: dict[str, object]) -> dict[str, object]:
    """4 → 5: an opening says of each side what it is against; before, how many upright ones were joined to another opening."""
    for opening in _dicts(raw.get("openings")):
        joined = opening.pop("joined_sides", None)
        number = joined.get("value") if isinstance(joined, dict) else None
        if isinstance(number, int | float) and not isinstance(number, bool):
            for side, least in (("right", 0.5), ("left", 1.5)):
                if number >= least:
                    opening[side] = "another opening"
    return raw


def _units(raw: dict[str, object]) -> dict[str, object]:
    """5 → 6: several ventilation units; the ducts one by one instead of the length of both cold ones together."""
    air = raw.get("air")
    if not isinstance(air, dict) or "unit" not in air:
        return raw
    unit = air.pop("unit")
    if not isinstance(unit, dict):
        return raw
    given = {name: unit.pop(f"duct_{name}", None) for name in ("length", "diameter", "insulation", "conductivity")}
    both = given["length"]
    if any(v is not None for v in given.values()):
        half = {**both, "value": both["value"] / 2} if isinstance(both, dict) and isinstance(both.get("value"), int | float) else both
        kept = {name: value for name, value in {**given, "length": half}.items() if value is not None}
        ident = unit.get("id", "unit")
        unit["ducts"] = [{"id": f"{ident}.{n}", "way": way, **kept} for n, way in enumerate(("outdoor air", "exhaust air"), 1)]
    air["units"] = [unit]
    return raw


_STORE = {"store_loss": "loss", "store_temperature": "temperature", "store_inside": "place"}
_RUN = {
    "circulation_length": "length", "circulation_psi": "psi", "circulation_diameter": "diameter", "circulation_insulation": "insulation",
    "circulation_lambda": "conductivity", "circulation_hours": "hours",
}  # fmt: skip
_TAP = {"draw_content": "content", "draws": "draws"}
_NONE = {"value": 0.0, "source": "nothing was given"}


def _ids(raw: object) -> set[str]:
    """Every id that stands anywhere in it."""
    if isinstance(raw, dict):
        own = {raw["id"]} if isinstance(raw.get("id"), str) else set()
        return own.union(*map(_ids, raw.values()))
    return set().union(*map(_ids, raw)) if isinstance(raw, list) else set()


def _moved(old: str, value: object) -> object:
    return ("inside the envelope" if value else "outside air") if old == "store_inside" else value


def _lists_of_water(raw: dict[str, object]) -> dict[str, object]:
    """7 → 8: stores and pipes of hot water are lists; changes of upgrades follow."""
    water = raw.get("water") if isinstance(raw.get("water"), dict) else {}
    assert isinstance(water, dict)
    used = _ids(raw)
    made: dict[str, tuple[dict[str, str], dict[str, object], str]] = {}
    for stem, names, fixed, field in (
        ("store", _STORE, {"name": "Store"}, "stores"),
        ("circulation", _RUN, {"name": "Circulation", "kind": "circulation"}, "runs"),
        ("taps", _TAP, {"name": "Pipes to the taps", "kind": "to a tap"}, "runs"),
    ):
        ident = next(i for i in (stem, *(f"{stem}-{n}" for n in range(1, 10_000))) if i not in used)
        held = {new: _moved(old, water.pop(old)) for old, new in names.items() if water.get(old) is not None}
        made[ident] = (names, {"id": ident, **fixed}, field)
        if set(held) - {"place"}:
            if field == "stores":
                held.setdefault("loss", _NONE)  # a store without a loss lost nothing
            elif stem == "circulation":
                for name in ("length", "hours", *(() if "diameter" in held else ("psi",))):
                    held.setdefault(name, _NONE)
            else:
                held = {"content": _NONE, "draws": _NONE, **held}
            rows = water.setdefault(field, [])
            assert isinstance(rows, list)
            rows.append({"id": ident, **fixed, **held})
    there = {r["id"] for f in ("stores", "runs") for r in _dicts(water.get(f))}
    for upgrade in _dicts(raw.get("upgrades")):
        upgrade["changes"] = _followed(_dicts(upgrade.get("changes")), made, there)
    return raw


def _followed(
    changes: list[dict[str, object]], made: dict[str, tuple[dict[str, str], dict[str, object], str]], there: set[object]
) -> list[dict[str, object]]:
    """Changes of fields that have moved: on the store or pipe that stands there, else a new one."""
    found: list[dict[str, object]] = []
    added: dict[str, dict[str, object]] = {}
    for change in changes:
        old = str(change.get("field", ""))
        ident = next((i for i, (names, _, _) in made.items() if old in names), "")
        if change.get("op") != "set" or change.get("part") != "hot-water" or not ident:
            found.append(change)
            continue
        names, start, field = made[ident]
        new, value = names[old], _moved(old, change.get("value"))
        if ident in there:
            found.append({**change, "part": ident, "field": new, "value": value})
            continue
        if ident not in added:
            added[ident] = dict(start)
            found.append({"op": "insert", "owner": "hot-water", "field": field, "index": 0, "value": added[ident]})
        if value is not None:
            added[ident][new] = value
    return found


MIGRATIONS: dict[int, Migration] = {1: _cases, 2: _carriers, 4: _sides, 5: _units, 7: _lists_of_water}


def migrate(raw: dict[str, object], version: int, migrations: dict[int, Migration] | None = None, current: int = SCHEMA) -> dict[str, Any]:
    """The raw home brought to the current version. Raises NewerSchema, or ValueError for a version never published."""
    steps = MIGRATIONS if migrations is None else migrations
    if version > current:
        raise NewerSchema(
            f"the home was saved by a newer Nuthatch (schema {version}, this one reads up to {current}); update Nuthatch to open it"
        )
    if version < 1:
        raise NewerSchema(f"schema {version} is not known; this Nuthatch reads 1 to {current}")
    for at in range(version, current):  # a version that only added fields needs no step
        raw = steps[at](raw) if at in steps else raw
    return raw
