"""What a target set may fix before it judges: fields of the home by their path, with the bounds those fields have anyway."""

from __future__ import annotations

from functools import lru_cache
from typing import get_args

from nuthatch.core.model.heat import Carrier, OwnPower
from nuthatch.core.model.hot_water import HotWater
from nuthatch.core.model.household import Household
from nuthatch.core.model.part import FieldSpec, Part, specs
from nuthatch.core.model.site import Site
from nuthatch.core.model.target_set import CarrierKind, Condition

MAY_FIX: dict[str, tuple[type[Part], tuple[str, ...]]] = {
    "site": (Site, ("heating_setpoint", "cooling_setpoint", "incidence")),
    "household": (Household, ("people", "floor_per_person", "gains", "simple_gains", "person_heat", "electricity")),
    "water": (HotWater, ("litres", "temperature")),
    "power": (OwnPower, ("counted",)),
}
FACTORS = ("primary", "co2")
KINDS: tuple[str, ...] = tuple(k for k in get_args(CarrierKind) if k != "other")


def paths() -> tuple[str, ...]:
    """Every path a condition may name."""
    plain = (f"{part}.{name}" for part, (_, names) in MAY_FIX.items() for name in names)
    return (*plain, *(f"carrier.{kind}.{name}" for kind in KINDS for name in FACTORS))


@lru_cache(maxsize=256)
def spec_of(path: str) -> FieldSpec | None:
    """How the field at a path is described; None where no condition may name it."""
    if path not in paths():
        return None
    part, _, name = path.rpartition(".")
    return specs(Carrier if part.startswith("carrier.") else MAY_FIX[part][0])[name]


@lru_cache(maxsize=1024)
def fault(condition: Condition) -> str:
    """Why a condition cannot be, or ''."""
    spec = spec_of(condition.field)
    if spec is None:
        return f"“{condition.field}” is nothing a target set can fix; docs/target-sets.md lists what is"
    value = condition.value
    if spec.kind == "choice":
        return "" if value in spec.choices else f"{spec.label} is one of {', '.join(spec.choices)}; it was “{value}”"
    if isinstance(value, str):
        return f"{spec.label} is a number; it was “{value}”"
    return spec.refuse(value)
