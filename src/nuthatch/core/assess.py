"""Collects the stages of all domains and runs them for one home. No wiring of its own: each domain declares its stages."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Any, TypeVar

from nuthatch.core.air import stages as air
from nuthatch.core.climate import stages as climate_stages
from nuthatch.core.climate.climate import Climate
from nuthatch.core.energy import stages as energy
from nuthatch.core.fabric import stages as fabric
from nuthatch.core.graph.memo import Memo
from nuthatch.core.graph.plan import Plan, plan
from nuthatch.core.graph.runner import Pending, State, published, run, slots
from nuthatch.core.graph.stage import Family, Slot, Stage
from nuthatch.core.household import stages as household
from nuthatch.core.junctions import stages as junctions
from nuthatch.core.model.home import Home
from nuthatch.core.questions import Question, gathered
from nuthatch.core.results.figure import Computing, Figure, Need, Unknown
from nuthatch.core.shape import stages as shape
from nuthatch.core.targets import stages as targets
from nuthatch.core.targets.verdict import Verdict, overall
from nuthatch.core.water import stages as water

T = TypeVar("T")
DOMAINS = (shape, climate_stages, fabric, junctions, household, water, air, energy, targets)
JUDGED = ("heating_demand", "cooling_demand", "heating_load", "n50", "primary_energy", "co2")
CODE_JUDGED = ("ua_proposed", "ua_limit")
NO_CLIMATE = Unknown("climate", "text", (Need("a climate", "site", "climate"),))


@lru_cache(maxsize=4)
def whole_plan(more: tuple[Stage, ...] = ()) -> Plan:
    """The plan of all stages; `more`: stages besides those that ship."""
    return plan((*(s for domain in DOMAINS for s in domain.STAGES), *more))


@dataclass(frozen=True, eq=False)
class Assessment:
    """Everything computed of one home. `a[SLOT]` is the result of a stage; figures and months are the published ones."""

    home: Home
    state: State
    plan: Plan

    def __getitem__(self, slot: Slot[T]) -> T:
        found: T = self.state.values[slot.name]
        return found

    def all_of(self, family: Family[T]) -> dict[str, T]:
        """The results of a family by id."""
        found: dict[str, T] = self.state.values[family.name]
        return found

    @property
    def climate(self) -> Climate | None:
        found = self.state.climate
        return found if isinstance(found, Climate) else None

    @cached_property
    def figures(self) -> dict[str, Figure]:
        """The published results by key."""
        return {**published(self.plan, self.state.values, "figures"), **self[targets.JUDGED].points}

    @cached_property
    def months(self) -> dict[str, Figure]:
        """The published results by month."""
        found = published(self.plan, self.state.values, "months")
        return {**found, **dict(energy.category_of_months(self[energy.LOSS_MONTHS]))}

    @property
    def verdicts(self) -> tuple[Verdict, ...]:
        return self[targets.JUDGED].verdicts

    @cached_property
    def questions(self) -> tuple[Question, ...]:
        """All open questions, in the order of the steps."""
        keys = (*JUDGED, *CODE_JUDGED) if any(s.ua_table for s in self.home.target_sets) else JUDGED
        asked = (q for slot in slots(self.plan, lambda s: s.asks) for q in self[slot])
        return gathered(self.home, (self.figures[k] for k in keys), asked)

    @property
    def standing(self) -> str:
        return overall(self.verdicts)

    @property
    def zone(self) -> str:
        found = self[climate_stages.ZONE]
        return found if isinstance(found, str) else ""

    @property
    def pending(self) -> tuple[Pending, ...]:
        """Slow stages that are waited for."""
        return self.state.pending

    @property
    def computing(self) -> bool:
        """Whether something is still to arrive, the climate included."""
        return bool(self.state.pending) or isinstance(self.state.climate, Computing)

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
    memo: Memo | None = None,
    more: tuple[Stage, ...] = (),
) -> Assessment:
    """Compute everything of a home; what did not change is taken from `previous`.

    wait: slow stages are worked out here; else their results are computing and `pending` lists the work. memo: where results
    are kept for undo, by default the one of `previous`. more: stages besides those that ship.
    """
    made = whole_plan(more)
    source: Any = NO_CLIMATE if climate is None else climate
    return Assessment(home, run(made, home, source, previous.state if previous else None, memo, wait), made)


@dataclass(frozen=True)
class Snapshot:
    """A home and its assessment, always of each other: what boards, margins and documents show. `assessment` is None for a root
    that is not assessed (the office profile)."""

    home: Any
    assessment: Assessment | None

    def __post_init__(self) -> None:
        if self.assessment is not None and self.assessment.home is not self.home:
            raise ValueError("a snapshot shows a home beside its own assessment only")
