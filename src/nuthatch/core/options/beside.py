"""Options worked out in other processes: the ladders of a home one after the other; what closes a gap, what two levers do together, the
cheapest set and the chance of passing parted among several."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from threading import Lock
from typing import Any, TypeVar

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.graph.progress import heard_by, listening
from nuthatch.core.graph.runner import Stores
from nuthatch.core.library import results_on_disk
from nuthatch.core.model.home import Home
from nuthatch.core.options.applied import home_with
from nuthatch.core.options.chance import SETS, Sample, sampled
from nuthatch.core.options.gap import Closed, Key, closed
from nuthatch.core.options.ladder import Ladder, ladder
from nuthatch.core.options.packages import Package, Within, cheapest
from nuthatch.core.options.pairs import Curve, curve, names_of
from nuthatch.core.workers import Stopped, Task, Worker

_last: list[Assessment] = []
"""What this process worked out last: after an edit only what it touches is worked out anew."""


def _assessed(home: Home, climate: Any, cache: Path | None) -> Assessment:
    a = assess(home, climate, _last[0] if _last else None, stores=Stores(slow=results_on_disk(cache)))
    _last[:] = [a]
    return a


def ladders(home: Home, climate: Any, cache: Path | None = None) -> dict[str, Ladder]:
    """The ladder of every option; each is told as soon as it is there, first without its effects alone and last."""
    say = listening()
    found: dict[str, Ladder] = {}
    with heard_by(lambda _: None):
        a = _assessed(home, climate, cache)
        for effects in (False, True):
            for option in home.options:
                found[option.id] = ladder(a, option, effects)
                say((option.id, found[option.id]))
    return found


def gap(
    home: Home, climate: Any, key: Key, option: str = "", part: tuple[int, int] = (0, 1), cache: Path | None = None
) -> tuple[Closed, ...]:
    """What closes the gap to a target (set, name) with an option on the home, by every so manieth lever."""
    return closed(_assessed(_with(home, option), climate, cache), key, part)


def pair(
    home: Home, climate: Any, key: Key, levers: tuple[str, str], option: str = "", part: tuple[int, int] = (0, 1), cache: Path | None = None
) -> Curve:
    """Where two levers together just meet a target, with an option on the home."""
    return curve(_assessed(_with(home, option), climate, cache), key, *levers, part)


def levers_of(
    home: Home, climate: Any, option: str = "", part: tuple[int, int] = (0, 1), cache: Path | None = None
) -> tuple[tuple[str, str], ...]:
    """(id, name) of every lever with an option on the home; the first of several processes tells all."""
    return names_of(_assessed(_with(home, option), climate, cache)) if part[0] == 0 else ()


def package(home: Home, climate: Any, key: Key, within: Within, part: tuple[int, int] = (0, 1), cache: Path | None = None) -> Package:
    """The cheapest set of the home's upgrades that meets a target."""
    return cheapest(_assessed(home, climate, cache), home.upgrades, key, within, part)


def sample(home: Home, climate: Any, of: str, option: str = "", part: tuple[int, int] = (0, 1), cache: Path | None = None) -> Sample:
    """The home, or an option on it, so many times differently, judged by one target set."""
    return sampled(_assessed(_with(home, option), climate, cache), range(SETS)[part[0] :: part[1]], of=of)


def _with(home: Home, option: str) -> Home:
    chosen = next((o for o in home.options if o.id == option), None)
    return home_with(home, chosen) if chosen is not None else home


T = TypeVar("T")


def in_two(
    workers: Sequence[Worker], function: Callable[..., T], arguments: Mapping[str, Any], tell: Callable[[float], None]
) -> tuple[T, ...]:
    """A question parted among processes, each with its `part`; how far the whole is goes to `tell`. What one raises ends the others."""
    far = [0.0] * len(workers)
    lock = Lock()

    def heard(n: int, news: object) -> None:
        with lock:
            far[n] = float(news) if isinstance(news, int | float) else far[n]
            tell(sum(far) / len(far))

    def asked(n: int) -> T:
        task = Task(function, {**arguments, "part": (n, len(workers))})
        return workers[n].run(task, lambda news: heard(n, news))  # type: ignore[return-value]

    with ThreadPoolExecutor(len(workers)) as threads:
        waiting = [threads.submit(asked, n) for n in range(len(workers))]
        try:
            return tuple(w.result() for w in waiting)
        except Stopped:
            raise  # whoever stopped one stopped all, and may have asked them something else since
        except BaseException:
            for worker in workers:
                worker.stop()
            raise
