"""Collects the stages of all domains and runs them for one home. No wiring of its own: each domain declares its stages."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache
from typing import Any, TypeVar

from nuthatch.core.air import stages as air
from nuthatch.core.airtest import stages as airtest
from nuthatch.core.changes.stale import stale
from nuthatch.core.climate import stages as climate_stages
from nuthatch.core.climate.climate import Climate
from nuthatch.core.energy import stages as energy
from nuthatch.core.energy import use_stages
from nuthatch.core.fabric import moisture_stages, opening_questions, plausible
from nuthatch.core.fabric import stages as fabric
from nuthatch.core.graph.plan import Plan, narrowed, plan
from nuthatch.core.graph.runner import Pending, State, Stores, published, run, slots
from nuthatch.core.graph.stage import Family, Slot, Stage
from nuthatch.core.heatflow import stages as heatflow
from nuthatch.core.household import stages as household
from nuthatch.core.junctions import stages as junctions
from nuthatch.core.library import new_home
from nuthatch.core.model.home import Home
from nuthatch.core.model.target_set import TargetSet
from nuthatch.core.questions import gathered
from nuthatch.core.results.figure import Computing, Figure, Need, Unknown
from nuthatch.core.results.question import Question
from nuthatch.core.solid import built_stages
from nuthatch.core.solid import stages as shape
from nuthatch.core.sun import light_asked
from nuthatch.core.sun import stages as sun
from nuthatch.core.targets import conditions
from nuthatch.core.targets import stages as targets
from nuthatch.core.targets.verdict import Verdict, overall, points_key
from nuthatch.core.units import METRIC, using
from nuthatch.core.water import stages as water
from nuthatch.core.year import room_stages as rooms
from nuthatch.core.year import stages as year

T = TypeVar("T")
DOMAINS = (
    built_stages,
    shape,
    climate_stages,
    sun,
    light_asked,
    fabric,
    moisture_stages,
    opening_questions,
    plausible,
    heatflow,
    junctions,
    household,
    water,
    airtest,
    air,
    energy,
    use_stages,
    year,
    rooms,
    targets,
)
JUDGED = ("heating_demand", "cooling_demand", "heating_load", "n50", "primary_energy", "co2")
CODE_JUDGED = ("ua_proposed", "ua_limit")
OF_A_TWIN = 4_000
"""About how many bytes a home takes that differs from another in what conditions fix."""
NO_CLIMATE = Unknown("climate", "text", (Need("a climate", "site", "climate"),))


@lru_cache(maxsize=4)
def whole_plan(more: tuple[Stage, ...] = ()) -> Plan:
    """The plan of all stages; `more`: stages besides those that ship."""
    return plan((*(s for domain in DOMAINS for s in domain.STAGES), *more))


@dataclass(frozen=True, eq=False)
class Assessment:
    """Everything computed of one home. `a[SLOT]` is the result of a stage; figures and months are the published ones, of the home
    as designed. `judged` holds the assessments under the conditions that target sets fix: verdicts come from those."""

    home: Home
    state: State
    plan: Plan
    judged: Mapping[conditions.ConditionsKey, Assessment] = field(default_factory=dict)

    def __getitem__(self, slot: Slot[T]) -> T:
        found: T = self.state.values[slot.name]
        return found

    def all_of(self, family: Family[T]) -> dict[str, T]:
        """The results of a family by id."""
        found: dict[str, T] = self.state.values[family.name]
        return found

    @property
    def climate(self) -> Climate | None:
        """The climate it was handed: that of the weather file."""
        found = self.state.climate
        return found if isinstance(found, Climate) else None

    @property
    def station(self) -> Climate | None:
        """The climate of the weather station, with the months given by hand, or made of them."""
        found = self[climate_stages.STATION]
        return found if isinstance(found, Climate) else None

    @property
    def site_climate(self) -> Climate | None:
        """The climate at the elevation of the site."""
        found = self[climate_stages.AT_SITE]
        return found if isinstance(found, Climate) else None

    @cached_property
    def figures(self) -> dict[str, Figure]:
        """The published results by key."""
        found = published(self.plan, self.state.values, "figures")
        for chosen in self.home.target_sets:
            if chosen.points_needed is not None:
                key = points_key(chosen.id)
                found[key] = self.under(chosen.id)[targets.JUDGED].points[key]
        return found

    @cached_property
    def months(self) -> dict[str, Figure]:
        """The published results by month."""
        found = published(self.plan, self.state.values, "months")
        return {**found, **dict(energy.category_of_months(self[energy.LOSS_MONTHS]))}

    def under(self, set_id: str) -> Assessment:
        """The assessment a target set judges: this one, or the one under the set's conditions."""
        chosen = next((s for s in self.home.target_sets if s.id == set_id), None)
        return self if chosen is None else self.judged.get(conditions.key_of(chosen, self.home), self)

    @cached_property
    def verdicts(self) -> tuple[Verdict, ...]:
        """Every target of every set, each judged under its own conditions."""
        return tuple(v for s in self.home.target_sets for v in self.under(s.id)[targets.JUDGED].verdicts if v.set_id == s.id)

    @cached_property
    def questions(self) -> tuple[Question, ...]:
        """All open questions, in the order of the steps."""
        keys = (*JUDGED, *CODE_JUDGED) if any(s.ua_table for s in self.home.target_sets) else JUDGED
        asked = (q for slot in slots(self.plan, lambda s: s.asks) for q in self[slot])
        wanted = [a.figures[k] for a in (self, *self.judged.values()) for k in keys]
        return gathered(self.home, wanted, (*asked, *conditions.carrier_questions(self.home), *stale(self.home)))

    @property
    def standing(self) -> str:
        return overall(self.verdicts)

    @property
    def zone(self) -> str:
        found = self[climate_stages.ZONE]
        return found if isinstance(found, str) else ""

    @property
    def pending(self) -> tuple[Pending, ...]:
        """Slow stages that are waited for, under all conditions; each once."""
        found = {p.key: p for a in (self, *self.judged.values()) for p in a.state.pending}
        return tuple(found.values())

    @property
    def computing(self) -> bool:
        """Whether something is still to arrive, the climate included."""
        waits = any(a.state.pending for a in (self, *self.judged.values()))
        return waits or isinstance(self.state.climate, Computing)

    @property
    def blank(self) -> str:
        """What stands in the place of something that is not there."""
        return "computing …" if self.computing else "not known yet"

    @property
    def ran(self) -> tuple[str, ...]:
        """Stages that ran for this assessment, not taken over from the one before."""
        return self.state.ran


def assess(
    home: Home,
    climate: Climate | Computing | None,
    previous: Assessment | None = None,
    *,
    wait: bool = True,
    stores: Stores | None = None,
    more: tuple[Stage, ...] = (),
    only: frozenset[str] | None = None,
) -> Assessment:
    """Compute everything of a home; what did not change is taken from `previous`.

    wait: slow stages are worked out here; else their results are computing and `pending` lists the work. stores: where
    results are found again, by default those of `previous`. more: stages besides those that ship. only: published figures; the verdicts and what
    these figures rest on are worked out, all else stays as it was.
    """
    return assessed(whole_plan(more), home, NO_CLIMATE if climate is None else climate, previous, stores, wait, only)


def assessed(
    whole: Plan,
    home: Home,
    climate: object,
    previous: Assessment | None,
    stores: Stores | None,
    wait: bool,
    only: frozenset[str] | None = None,
) -> Assessment:
    """The same by a plan of all stages, for a climate or what stands in its place."""
    made = whole if only is None else narrowed(whole, frozenset({targets.JUDGED.name}), only)
    state = run(made, home, climate, previous.state if previous else None, stores, wait)
    judged = {key: _under(key, sets, Assessment(home, state, made), previous, wait) for key, sets in conditions.groups(home).items()}
    return Assessment(home, state, made, judged)


def _under(
    key: conditions.ConditionsKey, sets: tuple[TargetSet, ...], designed: Assessment, previous: Assessment | None, wait: bool
) -> Assessment:
    """The assessment under the conditions of some sets. It starts from the home as designed, so that only what the conditions
    touch is worked out again; where nothing has changed since last time, the last one is taken over."""
    home, state = designed.home, designed.state
    before = previous.judged.get(key) if previous is not None else None
    token = ("judged", key, id(home))
    known = state.memo.get(token)
    if known is not None and known[0] is home:
        twin = known[1]
    else:
        twin = conditions.moved_along(previous.home, before.home, home, sets) if previous and before else conditions.as_judged(home, sets)
        state.memo.put(token, (home, twin), OF_A_TWIN)
    settled = before is not None and not state.pending and not before.state.pending and before.state.climate is state.climate
    if settled and previous is not None and before is not None and not designed.plan.changed(previous.home, home):
        return Assessment(twin, replace(before.state, home=twin, ran=()), designed.plan)
    also = before.state if before is not None and before.plan is designed.plan and before.state.climate is state.climate else None
    return Assessment(twin, run(designed.plan, twin, state.climate, state, None, wait, also=also), designed.plan)


@dataclass(frozen=True)
class Snapshot:
    """A home and its assessment, always of each other: what boards, margins and documents show. `assessment` is None for a root
    that is not assessed (the office profile)."""

    home: Any
    assessment: Assessment | None

    def __post_init__(self) -> None:
        if self.assessment is not None and self.assessment.home is not self.home:
            raise ValueError("a snapshot shows a home beside its own assessment only")


@lru_cache(maxsize=1)
def result_kinds() -> dict[str, tuple[str, str]]:
    """Result key → (label, kind), of all results a limit can be set for."""
    with using(METRIC):
        return {key: (f.label, f.kind) for key, f in assess(new_home(), None).figures.items()}
