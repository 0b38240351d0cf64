"""Edits of options: an upgrade made, put on a ladder, taken off, moved, ordered; what was tried on the boards kept as one."""

from __future__ import annotations

from collections.abc import Sequence

from nuthatch.core.changes.changes import Batch, Change, ChangeRefused, Insert, SetValue, apply
from nuthatch.core.changes.difference import APART, difference
from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.model.home import Home
from nuthatch.core.model.options import Option, OwnCost, Upgrade
from nuthatch.core.model.part import Given, replace
from nuthatch.core.options.applied import captured, changes_of, home_with


def option_of(home: Home, ident: str) -> Option:
    """An option of the home. Raises ChangeRefused where it is gone."""
    found = next((o for o in home.options if o.id == ident), None)
    if found is None:
        raise ChangeRefused("this option is gone")
    return found


def new_option(home: Home, name: str = "") -> tuple[Insert, str]:
    """An empty option, and its id."""
    ident = fresh_ids(home, "option", 1)[0]
    return Insert(owner="home", field="options", value=Option(id=ident, name=name or f"Option {len(home.options) + 1}")), ident


def with_option(home: Home, name: str, upgrades: Sequence[str]) -> Batch:
    """An option of upgrades the home has."""
    made, ident = new_option(home, name)
    return Batch(label=f"Option: {name}", changes=(made, SetValue(part=ident, field="upgrades", value=tuple(upgrades))))


def put_on_home(home: Home, option: Option) -> Batch:
    """All of an option on the home itself, to be looked at. Raises ChangeRefused where none of it can be put."""
    made = home_with(home, option)
    if made == home:
        raise ChangeRefused(f"{option.name} changes nothing that can be put on the home")
    return Batch(label=f"Seen with {option.name}", changes=difference(home, made))


def with_upgrade(home: Home, upgrade: Upgrade, option: str = "") -> tuple[Batch, str]:
    """An upgrade added, and put last on an option; without one, on a first option of its own. The change, and the upgrade's id."""
    ident = fresh_ids(home, "upgrade", 1)[0]
    upgrade = replace(upgrade, id=ident)
    changes: list[Change] = [Insert(owner="home", field="upgrades", value=upgrade)]
    if option:
        on = option_of(home, option)
        changes.append(SetValue(part=on.id, field="upgrades", value=(*on.upgrades, ident)))
    elif not home.options:
        made, first = new_option(home)
        changes += [made, SetValue(part=first, field="upgrades", value=(ident,))]
    return Batch(label=f"Upgrade: {upgrade.name}", changes=tuple(changes)), ident


def priced(upgrade: Upgrade, own: Sequence[OwnCost]) -> Upgrade:
    """An upgrade with what its kind costs by the office's own list; as it is where its cost is known, or the list has none of its kind."""
    row = next((c for c in own if c.kind == upgrade.kind and c.kind != "other" and c.cost is not None), None)
    if row is None or upgrade.cost is not None:
        return upgrade
    return replace(upgrade, per=row.per, **{f: _of_office(row[f]) for f in ("cost", "grant", "upkeep", "life") if row[f] is not None})


def _of_office(given: Given) -> Given:
    source = ", ".join(s for s in ("the office's list of costs", given.source) if s)
    return given.model_copy(update={"source": source, "files": None})


def by_office(home: Home, own: Sequence[OwnCost]) -> Batch:
    """Costs of all upgrades that have none, by the office's own list. Raises ChangeRefused where it has none of their kinds."""
    changes: list[Change] = []
    for u in home.upgrades:
        new = priced(u, own)
        changes += [SetValue(part=u.id, field=f, value=new[f]) for f in ("cost", "per", "grant", "upkeep", "life") if new[f] != u[f]]
    if not changes:
        raise ChangeRefused("the office's list has no cost of the kinds of these upgrades: add it in the office profile")
    return Batch(label="Costs of the office", changes=tuple(changes))


def put_on(home: Home, option: str, upgrade: str, on: bool) -> Batch:
    """An upgrade put on an option, or taken off it."""
    of = option_of(home, option)
    name = next((u.name for u in home.upgrades if u.id == upgrade), upgrade)
    left = tuple(i for i in of.upgrades if i != upgrade)
    value = (*left, upgrade) if on else left
    return Batch(
        label=f"{of.name}: {name} {'put on' if on else 'taken off'}", changes=(SetValue(part=of.id, field="upgrades", value=value),)
    )


def shifted(home: Home, option: str, upgrade: str, by: int) -> Batch | None:
    """An upgrade moved up or down an option; None where it stands at the end already."""
    of = option_of(home, option)
    ids = list(of.upgrades)
    at = ids.index(upgrade) if upgrade in ids else -1
    if at < 0 or not 0 <= at + by < len(ids):
        return None
    ids.insert(at + by, ids.pop(at))
    return ordered(home, option, ids)


def ordered(home: Home, option: str, ids: Sequence[str]) -> Batch | None:
    """The upgrades of an option in another order; None where it is that already."""
    of = option_of(home, option)
    value = tuple(i for i in ids if i in of.upgrades)
    if value == of.upgrades:
        return None
    return Batch(label=f"{of.name}: in another order", changes=(SetValue(part=of.id, field="upgrades", value=value),))


def tried_on(home: Home, upgrade: Upgrade) -> Batch:
    """The changes of an upgrade on the home itself, to be worked on. Raises ChangeRefused."""
    return Batch(label=f"Trying: {upgrade.name}", changes=changes_of(upgrade))


def base_of(base: Home, now: Home) -> Home:
    """The home as it was before something was tried, with the options and the evidence of now."""
    return replace(base, **{f: now[f] for f in APART})


def kept_trial(base: Home, now: Home, name: str, upgrade: str = "", option: str = "", start: Home | None = None) -> tuple[Home, str]:
    """The home as before something was tried on it, with what was tried as an upgrade: the one it began from, or a new one. (the home, the
    upgrade's id). start: the home with an option on it, from where it was tried. Raises ChangeRefused where nothing was changed."""
    changes = captured(base if start is None else start, now)
    if not changes:
        raise ChangeRefused("nothing was changed yet: change something on any board, then keep it")
    before = base_of(base, now)
    if any(u.id == upgrade for u in before.upgrades):
        return apply(SetValue(part=upgrade, field="changes", value=changes), before), upgrade
    on = option if any(o.id == option for o in before.options) else ""
    change, ident = with_upgrade(before, Upgrade(id="new", name=name, changes=changes), on)
    return apply(change, before), ident
