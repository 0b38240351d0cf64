"""What might be done to a home: upgrades, each a named list of changes with cost and life; options, each a list of upgrades in order."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, JsonValue

from nuthatch.core.model.part import Given, Id, IdentifiedPart, choice, flag, quantity, ref, text

ChangeData = dict[str, JsonValue]
"""A typed change as it is written: {"op": "set", "part": …, "field": …, "value": …} and its like."""
MOST_CHANGES = 2000
UpgradeKind = Literal[
    "other", "insulation outside", "insulation inside", "roof or ceiling", "floor", "windows", "sealing", "ventilation unit", "junctions",
    "heat source", "lamps", "appliances",
]  # fmt: skip
CostPer = Literal["lump", "m²", "m", "piece"]


class Upgrade(IdentifiedPart):
    """Changes on the home, with what they cost. Amounts are money of the home's currency, at today's prices."""

    name: str = text("Upgrade")
    kind: UpgradeKind = choice("Kind", "other", help="finds its cost in the office's own list")
    about: str = text("Notes", note=True)
    changes: tuple[ChangeData, ...] = Field(default=(), max_length=MOST_CHANGES)
    cost: Given | None = quantity("cost", "Cost", least=-1e9, most=1e9, group="Cost", help="for each unit; empty: unknown")
    per: CostPer = choice(
        "Cost is", "lump", short="For", help="the whole, each m² of the faces it touches, each m (typed), or each opening it touches"
    )
    amount: Given | None = quantity("count", "Amount, typed", least=0, most=1e6, help="empty: from the shape", short="Amount")
    grant: Given | None = quantity("cost", "Grant", least=0, most=1e9, help="taken off the cost")
    due: Given | None = quantity("cost", "Due anyway", least=0, most=1e9, help="what would be spent without it")
    upkeep: Given | None = quantity("money", "More upkeep", least=-1e6, most=1e6)
    life: Given | None = quantity("years", "Life", above=0, most=200, help="empty: as long as the years looked at")


class OwnCost(IdentifiedPart):
    """What a kind of upgrade costs by the office's own list."""

    name: str = text("Cost")
    kind: UpgradeKind = choice("Kind", "other")
    cost: Given | None = quantity("cost", "Cost", least=-1e9, most=1e9)
    per: CostPer = choice("Cost is", "lump", short="For")
    grant: Given | None = quantity("cost", "Grant", least=0, most=1e9)
    upkeep: Given | None = quantity("money", "More upkeep", least=-1e6, most=1e6)
    life: Given | None = quantity("years", "Life", above=0, most=200)


class Option(IdentifiedPart):
    """Upgrades in order; one may build on another option, whose upgrades come first."""

    name: str = text("Option")
    after: str = ref("Builds on", "options")
    upgrades: tuple[Annotated[str, Field(max_length=200)], ...] = Field(default=(), max_length=500)
    report: bool = flag("In the dossier")


class Certainty(IdentifiedPart):
    """How far values may lie from what is entered: half of 95 %, by basis, where a value has no half-width of its own. A share of the value
    where nothing else is said. Empty: as docs/methods says (options)."""

    id: Id = "certainty"
    assumed: Given | None = quantity("percent", "Assumed values", least=0, most=1, help="empty: 20 %")
    declared: Given | None = quantity("percent", "Declared and calculated", short="Declared", least=0, most=1, help="empty: 5 %")
    measured: Given | None = quantity("percent", "Measured", least=0, most=1, help="without an interval of its own; empty: 5 %")
    temperature: Given | None = quantity("difference", "Temperatures", least=0, most=20, help="empty: 1 K")
    psi_assumed: Given | None = quantity("psi", "ψ, assumed or by tier", least=0, most=1, help="empty: 0.05 W/(m·K)")
    psi_known: Given | None = quantity("psi", "ψ, else", least=0, most=1, help="empty: 0.02 W/(m·K)")
    n50: Given | None = quantity("factor", "n50 assumed, ×/÷", least=1, most=10, help="empty: 1.5")
    share: Given | None = quantity("percent", "Shares, efficiencies assumed", short="Shares", least=0, most=1, help="empty: 10 % points")


class Economy(IdentifiedPart):
    """What money is compared by, the same for all options."""

    id: Id = "economy"
    years: Given | None = quantity("years", "Years looked at", least=1, most=200, help="empty: 25")
    interest: Given | None = quantity("percent", "Interest above inflation", above=-1, most=1, help="empty: 3 %", short="Interest")
    rise: Given | None = quantity(
        "percent", "Prices of energy rise above inflation", above=-1, most=1, help="empty: 2 %", short="Price rise"
    )
