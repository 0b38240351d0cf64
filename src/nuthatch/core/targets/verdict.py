"""Targets against figures: inside, over or unknown, with the margin of every way, and the points of voluntary lines."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from decimal import ROUND_HALF_UP, Decimal

from nuthatch.core.model.target_set import Case, Rise, Target, TargetSet, Way
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.entries import lowered
from nuthatch.core.results.figure import Computing, Entered, Figure, Unknown, missing
from nuthatch.core.targets.code import row_key
from nuthatch.core.units import METRIC, kind_of, unit_of, using, with_unit

WIDEST = 1.22


@dataclass(frozen=True)
class Circumstances:
    """What limits may depend on besides results: climate zone, kind of dwelling, whether a slab lies on the ground, rooflights."""

    zone: str | Computing = ""
    dwelling: str = "not given"
    slab: bool = False
    rooflights: bool = False


@dataclass(frozen=True, eq=False)
class WayResult:
    """One way of a target: its figure, its limit in SI, and how it stands. `ratio` is 1 at the limit, more is over."""

    key: str
    label: str
    sense: str
    limit: float | None
    value: float | None
    kind: str
    standing: str
    reason: str
    node: Figure | None = field(default=None, repr=False)
    by_rounding: bool = False
    rises: str = ""

    @property
    def ratio(self) -> float | None:
        if self.value is None or self.limit is None:
            return None
        top, bottom = (self.value, self.limit) if self.sense == "max" else (self.limit, self.value)
        if bottom <= 0:
            return None if top > 0 else 1.0
        return top / bottom

    @property
    def bar(self) -> float | None:
        """How long the bar is against the plumb line at 1, at most WIDEST; a limit that no ratio measures is plainly missed."""
        if self.value is None or self.limit is None:
            return None
        ratio = self.ratio
        return WIDEST if ratio is None else min(ratio, WIDEST)

    @property
    def unit(self) -> str:
        return unit_of(self.kind)

    def limit_words(self) -> str:
        """“at most 15 kWh/(m²·a)”, or why there is no limit."""
        if self.limit is None:
            return self.reason or "not known yet"
        text = f"{kind_of(self.kind).to_shown(self.limit):.4g} {self.unit}".strip()
        rises = f" ({self.rises})" if self.rises else ""
        return f"{'at most' if self.sense == 'max' else 'at least'} {text}{rises}"

    def words(self, with_units: bool = False) -> str:
        """Limit and margin in words, the limit with its unit where asked."""
        unit = f" {self.unit}" if with_units and self.unit else ""
        if self.value is None or self.limit is None:
            return self.reason
        gap = abs(self.limit - self.value)
        # as many digits as it takes for a margin that is not zero to be seen
        spec = kind_of(self.kind)
        places = spec.decimals
        while gap > 0 and places < 4 and round(gap * spec.factor, places) == 0:
            places += 1
        side = "inside" if self.standing == "inside" else "over" if self.sense == "max" else "short"
        limit = f"{spec.to_shown(self.limit):.4g}{unit}"
        if self.by_rounding:
            return f"limit {limit}, inside only by rounding: {with_unit(gap, self.kind, places).split(chr(160))[0]} beyond it"
        if gap < 1e-12:
            return f"limit {limit}, just met"
        return f"limit {limit}, {with_unit(gap, self.kind, places).split(chr(160))[0]} {side}"


@dataclass(frozen=True, eq=False)
class Verdict:
    """One target of one set; one way inside is enough. A voluntary line only gives points and is never missed."""

    set_id: str
    set_name: str
    name: str
    standing: str
    ways: tuple[WayResult, ...]
    points: float | None = None
    source: str = ""

    @property
    def voluntary(self) -> bool:
        return self.points is not None


def _fits(case: Case, way: Way, at: Circumstances, area: Figure | None) -> bool | str:
    """Whether a case fits the home, or what must be known to say so."""
    if case.zones:
        if isinstance(at.zone, Computing):
            return f"computing {at.zone.of} …"
        if not at.zone:
            return "needs a climate zone"
        named = {z: True for c in way.cases for z in c.zones}
        if row_key(named, at.zone) not in case.zones:
            return False
    if case.dwellings:
        if at.dwelling == "not given":
            return "needs the kind of dwelling (Brief)"
        if at.dwelling not in case.dwellings:
            return False
    if case.over_area is not None or case.upto_area is not None:
        if area is None or isinstance(area, Unknown | Computing):
            return "needs the reference floor area"
        if case.over_area is not None and area.value <= case.over_area:
            return False
        if case.upto_area is not None and area.value > case.upto_area:
            return False
    return True


def _limit(way: Way, at: Circumstances, figures: dict[str, Figure]) -> tuple[float | None, str, bool]:
    """(limit, why unknown, whether the target applies at all)."""
    if way.limit_figure:
        node = figures.get(way.limit_figure)
        if node is None:
            return None, f"“{way.limit_figure}” is no result of Nuthatch", True
        return (None, _reason(node), True) if isinstance(node, Unknown | Computing) else (float(node.value), "", True)
    for case in way.cases:
        fits = _fits(case, way, at, figures.get("reference_floor_area"))
        if isinstance(fits, str):
            return None, fits, True
        if fits:
            return case.limit, "", True
    return way.limit, "", way.limit is not None


@calculation(
    "Limit that rises with another result",
    "fraction",
    "L = L_0 + k·(min(max(x, x_1), x_2) − x_1)",
    "the target set itself",
    base="L_0: fraction",
    factor="k: fraction",
    value="x: fraction",
    start="x_1: fraction",
    stop="x_2: fraction",
)
def risen(base: float, factor: float, value: float, start: float, stop: float) -> float:
    """A limit in the unit of its own figure; factor in that unit for each of the other figure's."""
    return base + factor * (min(max(value, start), stop) - start)


def _with_rise(rise: Rise, limit: float, figures: dict[str, Figure]) -> tuple[float | None, str]:
    """(the limit as another result lifts it, or None; how it comes about, or why it is not known)."""
    node = figures.get(rise.figure)
    if node is None:
        return None, f"“{rise.figure}” is no result of Nuthatch"
    if isinstance(node, Unknown | Computing):
        return None, _reason(node)
    value = float(node.value)
    stop = rise.stop if rise.stop is not None else max(value, rise.start)
    spec = kind_of(node.kind)
    upto = f" up to {spec.to_shown(rise.stop):.4g}" if rise.stop is not None else ""
    says = f"{{base}} and more for the {lowered(node.label)} above {spec.to_shown(rise.start):.4g}{upto}"
    return float(risen(limit, rise.factor, value, rise.start, stop)), says  # type: ignore[arg-type]


def _rounded(value: float, kind: str, decimals: int) -> float:
    """A result rounded half up to decimals of the metric unit it is written in, back in SI."""
    with using(METRIC):
        spec = kind_of(kind)
    shown = Decimal(repr(float(spec.to_shown(value)))).quantize(Decimal(1).scaleb(-decimals), ROUND_HALF_UP)
    return float(spec.to_stored(float(shown)))


def _reason(node: Unknown | Computing) -> str:
    """Why a result is not there, in words."""
    if isinstance(node, Computing):
        return f"computing {node.of} …"
    texts = [n.text for n in node.needs]
    more = f" and {len(texts) - 1} more" if len(texts) > 1 else ""
    return f"needs {texts[0]}{more}" if texts else "not known yet"


def way_result(way: Way, at: Circumstances, figures: dict[str, Figure]) -> WayResult | None:
    """One way judged; None where the set has no limit for such a home."""
    limit, why, applies = _limit(way, at, figures)
    if not applies:
        return None
    node = figures.get(way.figure)
    if node is None:
        return WayResult(way.figure, way.figure, way.sense, limit, None, "fraction", "unknown", f"“{way.figure}” is no result of Nuthatch")
    value, rises = None if isinstance(node, Unknown | Computing) else float(node.value), ""
    if way.rise is not None and limit is not None:
        base = f"{kind_of(node.kind).to_shown(limit):.4g}"
        limit, says = _with_rise(way.rise, limit, figures)
        why, rises = (says, "") if limit is None else (why, says.format(base=base))
    if value is None or limit is None:
        reason = _reason(node) if isinstance(node, Unknown | Computing) else why
        waits = any(
            isinstance(n, Computing)
            for n in (
                node,
                figures.get(way.limit_figure),
                figures.get(way.rise.figure if way.rise else ""),
                at.zone if way.cases and limit is None else None,
            )
        )
        standing = "computing" if waits else "unknown"
        return WayResult(way.figure, node.label, way.sense, limit, value, node.kind, standing, reason, node)
    plainly = _holds(value, limit, way.sense)
    inside = plainly or (way.decimals is not None and _within(value, limit, way, node.kind))
    standing = "inside" if inside else "over"
    return WayResult(way.figure, node.label, way.sense, limit, value, node.kind, standing, "", node, inside and not plainly, rises)


def _holds(value: float, limit: float, sense: str) -> bool:
    return value <= limit if sense == "max" else value >= limit


def _within(value: float, limit: float, way: Way, kind: str) -> bool:
    """Whether a result meets its limit once it is rounded as the set says; a hair of binary digits is no difference."""
    rounded = _rounded(value, kind, way.decimals or 0)
    return _holds(rounded, limit, way.sense) or abs(rounded - limit) <= 1e-9 * max(abs(limit), 1.0)


def judge_target(chosen: TargetSet, target: Target, at: Circumstances, figures: dict[str, Figure]) -> Verdict | None:
    """One target; None where it does not apply to the home."""
    if (target.when == "slab on ground" and not at.slab) or (target.when == "rooflights" and not at.rooflights):
        return None
    ways = tuple(w for w in (way_result(way, at, figures) for way in target.ways) if w is not None)
    if not ways:
        return None
    standings = {w.standing for w in ways}
    standing = next(s for s in ("inside", "computing", "unknown", "over") if s in standings)
    return Verdict(chosen.id, chosen.name, target.name, standing, ways, target.points, target.source or chosen.source)


@calculation("Points", "points", "P = Σ(p)", "the target set itself, the lines that are met", lines="p: points")
def points_sum(lines: tuple[float, ...]) -> float:
    """Σ; lines not met give none."""
    return sum(lines)


def points_key(set_id: str) -> str:
    """The figure's key of a set's points."""
    return f"points_{set_id.replace('-', '_').replace('.', '_')}"


def _points(chosen: TargetSet, lines: list[Verdict]) -> tuple[Figure, Verdict]:
    """The sum of the points and its verdict. Lines not known yet matter only where they could decide."""
    needed = chosen.points_needed or 0.0
    met = sum(v.points or 0 for v in lines if v.standing == "inside")
    open_lines = [v for v in lines if v.standing in ("unknown", "computing")]
    could = sum(v.points or 0 for v in open_lines)
    if met < needed <= met + could:
        text = ", ".join(v.name for v in open_lines)
        result: Figure = missing(f"Points, {chosen.name}", "points", f"a result for {text}")
    else:
        entered = tuple(
            Entered(f"{v.name}: {v.standing}", v.points if v.standing == "inside" else 0.0, "points", "rule", v.source) for v in lines
        )
        result = points_sum.figure(f"Points, {chosen.name}", lines=entered)
    key = points_key(chosen.id)
    way = way_result(Way(figure=key, sense="min", limit=needed), Circumstances(), {key: result})
    assert way is not None
    return result, Verdict(chosen.id, chosen.name, "Points", way.standing, (replace(way, label="Points"),), None, chosen.source)


def judge(sets: tuple[TargetSet, ...], at: Circumstances, figures: dict[str, Figure]) -> tuple[tuple[Verdict, ...], dict[str, Figure]]:
    """Every target of every set, and the sums of points by their figure keys."""
    found: list[Verdict] = []
    sums: dict[str, Figure] = {}
    for chosen in sets:
        made = [v for v in (judge_target(chosen, t, at, figures) for t in chosen.targets) if v is not None]
        if chosen.points_needed is not None:
            result, verdict = _points(chosen, [v for v in made if v.voluntary])
            sums[points_key(chosen.id)] = result
            made.append(verdict)
        found += made
    return tuple(found), sums


def tightest(verdicts: tuple[Verdict, ...]) -> tuple[Verdict, WayResult] | None:
    """The target with the smallest relative margin, ones that are over first; of its ways the better one."""
    ranked = []
    for verdict in verdicts:
        known = [w for w in verdict.ways if w.ratio is not None]
        if known and not verdict.voluntary:
            best = min(known, key=lambda w: w.ratio or 0.0)
            ranked.append((verdict.standing == "over", best.ratio or 0.0, verdict, best))
    if not ranked:
        return None
    _, _, verdict, way = max(ranked, key=lambda r: (r[0], r[1]))
    return verdict, way


def overall(verdicts: tuple[Verdict, ...]) -> str:
    """The home's standing: over where some target is missed, else unknown where one cannot be known, else inside."""
    standings = {v.standing for v in verdicts if not v.voluntary}
    return next((s for s in ("over", "computing", "unknown") if s in standings), "inside" if standings else "unknown")
