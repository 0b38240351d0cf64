"""Hot water and heat pumps in the dossier: the water's way, months with what the sun gives, performance by month."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.dossier.pictures import picture
from nuthatch.core.energy.use_stages import PERFORMS
from nuthatch.core.model.heat import HeatSource
from nuthatch.core.units import show, unit_of
from nuthatch.core.views.energy_way import own_rows, own_words
from nuthatch.core.views.heat_power import performance_rows
from nuthatch.core.views.hot_water import HEADS, month_rows, solar_share, words_of_saved
from nuthatch.core.views.household import densities


def systems(a: Assessment) -> dict[str, object]:
    """Drawings and rows of hot water and of every heat pump that goes by its sheet."""
    share, saved = solar_share(a), words_of_saved(a)
    sun = ""
    if share is not None:
        sun = f"The sun gives {100 * share:.0f} % of the year’s heat for hot water"
        sun += f" and saves {saved}." if saved else "."
    pumps = [s for s in a.home.sources if any(key == s.id and p.factor is not None for (key, _), p in a[PERFORMS].items())]
    return {
        "densities": densities(a),
        "day": picture(a, "day"),
        "patterns": _patterns(a),
        "pipes": _pipes(a),
        "energy": picture(a, "energy-way"),
        "own": [cells for _, cells in own_rows(a)],
        "own_words": own_words(a)[:1].upper() + own_words(a)[1:],
        "way": picture(a, "hot-water"),
        "heads": [f"{unit_of('energy_month')}", *HEADS[1:]],
        "pump_heads": ["", *HEADS[1:]],
        "water": [cells for _, cells in month_rows(a)],
        "sun": sun,
        "pumps": [
            {
                "name": s.name,
                "points": _points(s),
                "drawing": picture(a, "heat-pump", s.id),
                "rows": [cells for _, cells in performance_rows(a, s.id)],
            }
            for s in pumps
        ],
    }


def _patterns(a: Assessment) -> list[list[str]]:
    """A row for each kind of day of each pattern: name, 24 per cents, their mean."""
    return [
        [f"{p.name}: {d.days}, {d.season}", *(f"{100 * h:.0f}" for h in d.hours), f"{100 * sum(d.hours) / 24:.0f}"]
        for p in a.home.patterns
        for d in p.days
    ]


def _pipes(a: Assessment) -> list[dict[str, object]]:
    """The plan of every storey with pipes."""
    plans = a.home.shape.plans
    drawn = {r.storey for r in a.home.water.runs if len(r.corners) > 1}
    rows = [s for s in plans.storeys if s.id in drawn] if plans is not None else []
    return [{"name": f"Pipes, {s.name}", "drawing": picture(a, "pipes", s.id)} for s in rows]


def _points(source: HeatSource) -> str:
    """“7/35 °C 4.60, 2/35 °C 3.60, declared”: each with its basis where they differ."""
    unit = unit_of("temperature")
    known = [(p.source, p.flow, p.cop) for p in source.points if p.source is not None and p.flow is not None and p.cop is not None]
    bases = {cop.basis.value for _, _, cop in known}
    told = [
        f"{show(at.value, 'temperature', 0)}/{show(flow.value, 'temperature', 0)} {unit} {show(cop.value, 'factor')}"
        + (f" ({cop.basis.value})" if len(bases) > 1 else "")
        for at, flow, cop in known
    ]
    return ", ".join([*told, *bases] if len(bases) == 1 else told)
