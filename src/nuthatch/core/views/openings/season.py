"""What an opening wins and loses in the months with heating."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.climate.calendar import MONTH_HOURS_LEAF
from nuthatch.core.energy.balance import loss_months
from nuthatch.core.energy.stages import BALANCE, ELEMENTS
from nuthatch.core.fabric.stages import SUN
from nuthatch.core.results.figure import Known


def heating_season(a: Assessment, opening: str) -> tuple[float, float] | None:
    """(loss, sun let in) of a row of openings in the months with heating [kWh/a]; None where not known yet."""
    element = next(e for e in a[ELEMENTS] if e.id == opening)
    sun, heating, inside = a.all_of(SUN)[opening].months, a[BALANCE].heating, a.home.site.heating_setpoint
    known = isinstance(sun, Known) and isinstance(heating, Known) and isinstance(element.loss, Known)
    if not known or inside is None or a.site_climate is None:
        return None
    on = heating.value > 0  # type: ignore[operator]  # known, as checked
    lost = loss_months(float(element.loss.value), inside.value, a.site_climate.temperature, MONTH_HOURS_LEAF.value)  # type: ignore[arg-type]
    return float(lost[on].sum()), float(sun.value[on].sum())  # type: ignore[index]
