"""Targets against figures: inside, over or unknown, with the margin of every way."""

from __future__ import annotations

from dataclasses import dataclass

from nuthatch.core.figure import Result, Unknown
from nuthatch.core.model.home import Home, TargetSet, Way
from nuthatch.core.targets.code import row_key
from nuthatch.core.units import KINDS, with_unit


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

    @property
    def ratio(self) -> float | None:
        if self.value is None or self.limit is None:
            return None
        top, bottom = (self.value, self.limit) if self.sense == "max" else (self.limit, self.value)
        if bottom <= 0:
            return None if top > 0 else 1.0
        return top / bottom

    @property
    def unit(self) -> str:
        return KINDS[self.kind].unit

    def words(self, with_units: bool = False) -> str:
        """Limit and margin in words, the limit with its unit where asked."""
        unit = f" {self.unit}" if with_units and self.unit else ""
        if self.value is None or self.limit is None:
            return self.reason
        gap = abs(self.limit - self.value)
        # as many digits as it takes for a margin that is not zero to be seen
        places = KINDS[self.kind].decimals
        while gap > 0 and places < 4 and round(gap * KINDS[self.kind].factor, places) == 0:
            places += 1
        side = "inside" if self.standing == "inside" else "over" if self.sense == "max" else "short"
        limit = f"{self.limit * KINDS[self.kind].factor:.4g}{unit}"
        if gap < 1e-12:
            return f"limit {limit}, just met"
        return f"limit {limit}, {with_unit(gap, self.kind, places).split(chr(160))[0]} {side}"


@dataclass(frozen=True, eq=False)
class Verdict:
    """One target of one set; one way inside is enough."""

    set_id: str
    set_name: str
    name: str
    standing: str
    ways: tuple[WayResult, ...]


def _limit(way: Way, zone: str, figures: dict[str, Result]) -> tuple[float | None, str, bool]:
    """(limit, why unknown, whether the target applies at all)."""
    if way.limit_figure:
        node = figures[way.limit_figure]
        return (None, _reason(node), True) if isinstance(node, Unknown) else (float(node.value), "", True)
    if way.limit_by_zone is not None:
        if not zone:
            return None, "needs a climate zone", True
        key = row_key(way.limit_by_zone, zone)
        return (way.limit_by_zone[key], "", True) if key in way.limit_by_zone else (None, "no limit in this zone", False)
    return way.limit, "" if way.limit is not None else "the set gives no limit", True


def _reason(node: Unknown) -> str:
    texts = [n.text for n in node.needs]
    more = f" and {len(texts) - 1} more" if len(texts) > 1 else ""
    return f"needs {texts[0]}{more}" if texts else "not known yet"


def way_result(way: Way, zone: str, figures: dict[str, Result]) -> WayResult | None:
    """One way judged; None where the set has no limit for the zone."""
    limit, why, applies = _limit(way, zone, figures)
    if not applies:
        return None
    node = figures.get(way.figure)
    if node is None:
        return WayResult(way.figure, way.figure, way.sense, limit, None, "fraction", "unknown", f"“{way.figure}” is no result of Nuthatch")
    value = None if isinstance(node, Unknown) else float(node.value)
    if value is None or limit is None:
        reason = _reason(node) if isinstance(node, Unknown) else why
        return WayResult(way.figure, node.label, way.sense, limit, value, node.kind, "unknown", reason)
    inside = value <= limit if way.sense == "max" else value >= limit
    return WayResult(way.figure, node.label, way.sense, limit, value, node.kind, "inside" if inside else "over", "")


def judge(sets: tuple[TargetSet, ...], zone: str, figures: dict[str, Result], slab: bool) -> tuple[Verdict, ...]:
    """Every target of every set."""
    found = []
    for chosen in sets:
        for target in chosen.targets:
            if target.when == "slab on ground" and not slab:
                continue
            ways = tuple(w for w in (way_result(way, zone, figures) for way in target.ways) if w is not None)
            if not ways:
                continue
            standings = {w.standing for w in ways}
            standing = "inside" if "inside" in standings else "unknown" if "unknown" in standings else "over"
            found.append(Verdict(chosen.id, chosen.name, target.name, standing, ways))
    return tuple(found)


def tightest(verdicts: tuple[Verdict, ...]) -> tuple[Verdict, WayResult] | None:
    """The target with the smallest relative margin, ones that are over first; of its ways the better one."""
    ranked = []
    for verdict in verdicts:
        known = [w for w in verdict.ways if w.ratio is not None]
        if known:
            best = min(known, key=lambda w: w.ratio or 0.0)
            ranked.append((verdict.standing == "over", best.ratio or 0.0, verdict, best))
    if not ranked:
        return None
    _, _, verdict, way = max(ranked, key=lambda r: (r[0], r[1]))
    return verdict, way


def overall(verdicts: tuple[Verdict, ...]) -> str:
    """The home's standing: over where some target is missed, else unknown where one cannot be known, else inside."""
    standings = {v.standing for v in verdicts}
    return "over" if "over" in standings else "unknown" if "unknown" in standings or not verdicts else "inside"


def studio_people(home: Home) -> int:
    """People of a studio by the first target set of the home, 1 where there is none."""
    return home.target_sets[0].studio_people if home.target_sets else 1
