"""What one row of openings loses and lets in over the months with heating."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.climate.sun import MONTH_HOURS
from nuthatch.core.energy.balance import loss_months
from nuthatch.core.sketch import Sketch, bars
from nuthatch.core.units import with_unit


def heating_season(assessment: Assessment, opening: str) -> tuple[float, float] | None:
    """(loss, sun let in) of a row of openings in the months with heating [kWh/a]; None where not known yet."""
    element = next(e for e in assessment.elements if e.id == opening)
    sun = assessment.stages[f"sun/{opening}"].result.months
    heating, inside, climate = assessment.balance.heating, assessment.home.site.heating_setpoint, assessment.climate
    if heating.value is None or element.loss.value is None or sun.value is None or inside is None or climate is None:
        return None
    on = heating.value > 0
    lost = loss_months(float(element.loss.value), inside.value, climate.temperature, MONTH_HOURS)
    return float(lost[on].sum()), float(sun.value[on].sum())


def season_bars(assessment: Assessment, opening: str, name: str) -> Sketch:
    """Loss, sun and what is left of them as bars."""
    found = heating_season(assessment, opening)
    rows: list[tuple[str, float | None, str, str, str]] = []
    if found is None:
        rows = [(label, None, "not known yet", "stone", "") for label in ("Loss", "Sun let in")]
    else:
        lost, won = found
        rows = [
            ("Loss", lost, with_unit(lost, "energy"), "chestnut_pale", ""),
            ("Sun let in", won, with_unit(won, "energy"), "tide_pale", ""),
            (
                "Net gain" if won >= lost else "Net loss",
                abs(won - lost),
                with_unit(won - lost, "energy"),
                "lichen_pale" if won >= lost else "stone",
                "",
            ),
        ]
    return bars(f"{name}: months with heating", rows, 520)
