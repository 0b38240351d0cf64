"""The ledger of assumptions: every value that is not measured or declared, where it is used, and what it weighs: by how much the tightest
margin changes if it is a tenth worse."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from nuthatch.core.airtest.of_home import measured
from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import Batch, Change, ChangeRefused, Insert, SetValue
from nuthatch.core.edits.air_tests import SIMULATED
from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.edits.fabric_edits import users_of
from nuthatch.core.graph.progress import tell
from nuthatch.core.graph.runner import Stores
from nuthatch.core.junctions.stages import JOINED, JUNCTION
from nuthatch.core.library import results_on_disk
from nuthatch.core.model.details import DetailBlock, DetailFlank, DetailSpace
from nuthatch.core.model.home import BuildUp, EvidenceFile, Home, Junction, Layer, OpeningType, find
from nuthatch.core.model.part import Basis, FieldSpec, Given, specs
from nuthatch.core.model.plans import InnerWall
from nuthatch.core.model.ventilation import Air
from nuthatch.core.questions import name_of, values
from nuthatch.core.results.figure import Known
from nuthatch.core.trials import VERDICTS, Trial, trial

WORSE = 0.10
HEATING, NOWHERE = "heating demand", "nowhere"
STEPS_OF_ZERO = {"psi": 0.01, "fraction": 0.05, "percent": 0.05, "length": 0.1, "thickness": 0.01, "width": 0.01, "count": 1.0}
"""What a value that is zero is moved by [SI]; 1 of its unit where nothing is said."""
LESS_IS_WORSE = {
    "thickness",
    "density",
    "specific_heat",
    "resistance",
    "inner_mass",
    "efficiency",
    "recovery",
    "shade_winter",
    "shade_summer",
}
"""Fields of which less is tried first: where it is worse for all margins, more need not be tried."""
NOTHING = 1e-9
"""A change that is none."""
A_FEW = 12
OPEN = (Basis.ASSUMED, Basis.CALCULATED)


@dataclass(frozen=True)
class LedgerRow:
    """A value that somebody could still find out: of which part, what, as it is, where it is used."""

    step: str
    part: str
    field: str
    name: str
    spec: FieldSpec
    given: Given
    used: str

    @property
    def id(self) -> str:
        return f"{self.part}:{self.field}"


@dataclass(frozen=True)
class Weight:
    """How far a margin moves [share of its limit, above 0 toward over], and by what."""

    change: float
    way: str


Weights = Mapping[str, Mapping[str, Weight]]
"""What values weigh, by their id and by margin."""


OF_DETAILS = (DetailBlock, DetailSpace, DetailFlank)
"""What a detail is drawn of stands for build-ups, whose own values are in the ledger."""


def entries(home: Home, n50: float | None = None) -> tuple[LedgerRow, ...]:
    """Every value that is assumed or calculated outside, in the order of the home. n50: of the test that counts [1/h], which is an
    assumption like any other where a practice gauge gave it."""
    owners = {layer.id: build for build in home.buildups for layer in build.layers}
    users: dict[str, int] = {}
    found = []
    for step, part, field, given in values(home):
        if given.basis not in OPEN or isinstance(part, OF_DETAILS):
            continue
        spec = specs(type(part))[field]
        found.append(LedgerRow(step, part.id, field, _name(part, owners), spec, given, _used(home, part, owners, users)))  # type: ignore[attr-defined]
    test = next((t for t in home.air_tests if t.id == home.air.test), None)
    if test is not None and n50 is not None and measured(test).simulated:
        given = Given(value=n50, basis=Basis.ASSUMED, source=SIMULATED)
        found = [e for e in found if e.id != f"{home.air.id}:n50"]  # what is typed does not count
        found.append(LedgerRow("air", home.air.id, "n50", f"{test.name}, simulated", specs(Air)["n50"], given, ""))
    return tuple(found)


def entries_of(a: Assessment) -> tuple[LedgerRow, ...]:
    """The entries of a home that is assessed, with the ψ of junctions of its list that are left to the catalogue."""
    return (*entries(a.home, a.figures["n50"].value), *_by_catalogue(a))


def _by_catalogue(a: Assessment) -> Iterator[LedgerRow]:
    for row in a.home.junctions:
        solved = row.tier == "detailed" and row.detail
        loss = a.all_of(JUNCTION)[row.id].loss if row.id in a.all_of(JUNCTION) and row.psi is None and not solved else None
        psi = loss.inputs.get("psi") if isinstance(loss, Known) else None
        if psi is None or isinstance(psi, tuple) or psi.value is None or a[JOINED].of(row) is None:
            continue
        given = Given(value=round(float(psi.value), 6), basis=Basis.ASSUMED, source=CATALOGUE)
        yield LedgerRow("junctions", row.id, "psi", row.name, specs(Junction)["psi"], given, row.tier)


CATALOGUE = "ψ catalogue, by its tier"


def _instead(a: Assessment, entry: LedgerRow, given: Given) -> tuple[Change, ...]:
    """The changes that put another value in the place of an entry's; for one a simulated test gives the test no longer counts."""
    change = SetValue(part=entry.part, field=entry.field, value=given)
    if given.source == CATALOGUE:
        return SetValue(part=entry.part, field="dimensions", value=a.home.shape.dimensions), change
    if entry.field == "n50" and given.source == SIMULATED and a.home.air.test:
        return SetValue(part=entry.part, field="test", value=""), change
    return (change,)


def _name(part: object, owners: dict[str, BuildUp]) -> str:
    if isinstance(part, Layer) and part.id in owners:
        return f"{part.name}, {owners[part.id].name}"  # the layer first: what is cut short in a list is the rest
    if isinstance(part, InnerWall):
        return "Inner wall"
    return name_of(part)  # type: ignore[arg-type]


def _used(home: Home, part: object, owners: dict[str, BuildUp], users: dict[str, int]) -> str:
    """Where a build-up or type is used, in words; '' for parts that are used where they stand."""
    build = owners.get(part.id) if isinstance(part, Layer) else part
    if isinstance(build, BuildUp):
        if build.id not in users:
            users[build.id] = len(users_of(home, build.id))
        return f"{users[build.id]} place{'s' if users[build.id] != 1 else ''}" if users[build.id] else NOWHERE
    if isinstance(build, OpeningType):
        rows = sum(1 for o in home.openings if o.type == build.id)
        return f"{rows} row{'s' if rows != 1 else ''} of openings" if rows else NOWHERE
    return ""


def margins(a: Assessment | Trial) -> dict[str, float]:
    """Every margin that is known: “set · target” → its value over its limit, of its ways the better one; 1 is at the limit. The tightest
    first, ones that are over before the others. Without any, heating demand."""
    rows = []
    for v in a.verdicts:
        known = [w.ratio for w in v.ways if w.ratio is not None]
        if known and not v.voluntary:
            rows.append((v.standing != "over", -min(known), f"{v.set_name} · {v.name}"))
    found = {name: -ratio for _, ratio, name in sorted(rows)}
    heating = a.figures.get("heating_demand")
    if not found and heating is not None and heating.value is not None and float(heating.value) > 0:
        found[HEATING] = float(heating.value)
    return found


def tries(entry: LedgerRow) -> tuple[tuple[float, str], ...]:
    """(changed value, what that is in words): more and less, within the bounds of the field."""
    value, spec = entry.given.value, entry.spec
    if spec.kind == "temperature":
        ways = ((value + 1.0, "1 K more"), (value - 1.0, "1 K less"))
    elif value == 0:
        step = STEPS_OF_ZERO.get(spec.kind, 1.0)
        ways = ((step, "a step up from 0"), (-step, "a step down from 0"))
    else:
        ways = ((value * (1 + WORSE), "10 % more"), (value * (1 - WORSE), "10 % less"))
    if spec.name in LESS_IS_WORSE:
        ways = (ways[1], ways[0])
    return tuple((v, words) for v, words in ways if not spec.refuse(v))


def weigh(a: Assessment, entry: LedgerRow) -> dict[str, Weight]:
    """What a value weighs for every margin: a tenth more of it, or, where that is better, a tenth less. Empty where no margin is known."""
    base = margins(a)
    only = frozenset({"heating_demand" if HEATING in base else VERDICTS})
    found: dict[str, Weight] = {}
    for value, words in tries(entry) if base and entry.used != NOWHERE else ():
        try:
            then = margins(trial(a, _instead(a, entry, entry.given.model_copy(update={"value": value})), only))
        except ChangeRefused:
            continue
        for target, now in base.items():
            moved = (then[target] - now) / (now if target == HEATING else 1.0) if target in then else 0.0
            if target not in found or moved > found[target].change:
                found[target] = Weight(moved, words)
        if all(w.change >= 0 for w in found.values()):
            break  # the other way none is worse
    return found


def heaviest_first(base: dict[str, float], weights: Weights) -> str:
    """The tightest margin that any of the values moves; the tightest of all where none does. '' where none is known."""
    moved = (t for t in base if any(t in w and w[t].change > NOTHING for w in weights.values()))
    return next(moved, next(iter(base), ""))


def ranked(rows: Sequence[LedgerRow], weights: Weights, against: str) -> tuple[LedgerRow, ...]:
    """The values by what they weigh for a margin, the heaviest first: what to find out first stands on top."""
    return tuple(sorted(rows, key=lambda e: -(weights[e.id][against].change if against in weights.get(e.id, {}) else -1.0)))


def first_to_find_out(a: Assessment, rows: Sequence[LedgerRow], weights: Weights) -> tuple[LedgerRow, str, Weight] | None:
    """(value, margin, what it weighs) of what moves the tightest margin that anything moves the most; None where nothing does."""
    against = heaviest_first(margins(a), weights)
    for row in ranked(rows, weights, against)[:1]:
        weight = weights.get(row.id, {}).get(against)
        if weight is not None and weight.change > NOTHING:
            return row, against, weight
    return None


def weighed(home: Home, climate: Any, cache: Path | None = None) -> int:
    """In a worker: the weights of all values of a home, told a few at a time; how many there are."""
    a = assess(home, climate, stores=Stores(slow=results_on_disk(cache)))
    rows, told = entries_of(a), {}
    for n, entry in enumerate(rows):
        told[entry.id] = weigh(a, entry)
        if len(told) == A_FEW or n == len(rows) - 1:
            tell(told)
            told = {}
    return len(rows)


def with_basis(home: Home, rows: Sequence[LedgerRow], basis: Basis, source: str = "") -> Batch:
    """The basis of several values set at once. Raises ChangeRefused for none."""
    changes: list[Change] = []
    for e in rows:
        given = getattr(find(home, e.part), e.field, None)
        if isinstance(given, Given) and given.basis is not basis and e.given.source != SIMULATED:
            changes.append(
                SetValue(part=e.part, field=e.field, value=given.model_copy(update={"basis": basis, "source": source or given.source}))
            )
    if not changes:
        raise ChangeRefused("choose values that are not so already")
    return Batch(label=f"{len(changes)} value{'s' if len(changes) > 1 else ''}: {basis}", changes=tuple(changes))


def with_sheet(home: Home, rows: Sequence[LedgerRow], proof: EvidenceFile) -> Batch:
    """One file as evidence of several values. Raises ChangeRefused for none."""
    known = next((e for e in home.evidence if e.sha256 == proof.sha256), None)
    changes: list[Change] = []
    if known is None:
        known = proof.model_copy(update={"id": fresh_ids(home, "evidence", 1)[0]})
        changes.append(Insert(owner="home", field="evidence", value=known))
    count = 0
    for e in rows:
        given = getattr(find(home, e.part), e.field, None)
        if isinstance(given, Given) and known.id not in (given.files or ()) and e.given.source != SIMULATED:
            new = Given.model_validate({**given.model_dump(), "files": (*(given.files or ()), known.id)})
            changes.append(SetValue(part=e.part, field=e.field, value=new))
            count += 1
    if not count:
        raise ChangeRefused("choose the values the sheet proves")
    return Batch(label=f"{proof.name} attached to {count} value{'s' if count > 1 else ''}", changes=tuple(changes))
