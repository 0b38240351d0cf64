"""Results that carry their working: known, unknown, or computing; scalar, by month, by hour, or a table with named axes.

`Known` keeps its calculation and the inputs it was made from, `Unknown` lists what is missing, `Computing` says since when and
of what. A result is never NaN or infinite, and never a number standing for “don't know”.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any, NamedTuple, Protocol

import numpy as np
from numpy.typing import NDArray

from nuthatch.core.units import unit_of, with_unit

Array = NDArray[np.float64]
Value = Any
"""A float, an array over the result's axes, or a word."""


class CannotKnow(ValueError):
    """Raised inside a calculation whose inputs allow no result; the message says what is needed."""


@dataclass(frozen=True)
class Axis:
    """One named axis of a result, with a label for each place along it (none for the hours of a year)."""

    name: str
    size: int
    labels: tuple[str, ...] = ()


MONTHS = ("J", "F", "M", "A", "M", "J", "J", "A", "S", "O", "N", "D")
MONTH, HOUR = Axis("month", 12, MONTHS), Axis("hour", 8760)
_BY_SIZE = {(): (), (12,): (MONTH,), (8760,): (HOUR,)}


def axes_of(value: Value, declared: tuple[Axis, ...] | None = None) -> tuple[Axis, ...]:
    """The axes of a value: declared ones are checked; months and hours are known by their number. Raises TypeError."""
    if declared is None and not isinstance(value, np.ndarray):
        return ()
    shape = value.shape if isinstance(value, np.ndarray) else ()
    if declared is not None:
        if tuple(a.size for a in declared) != shape:
            raise TypeError(f"the value has the shape {shape}, its axes say {tuple(a.size for a in declared)}")
        return declared
    if shape not in _BY_SIZE:
        raise TypeError(f"a value of the shape {shape} is a table: its calculation must name the axes")
    return _BY_SIZE[shape]


class Need(NamedTuple):
    """Something missing: in words, and the part and field where it can be given."""

    text: str
    part: str = ""
    field: str = ""


@dataclass(frozen=True, eq=False)
class Entered:
    """A leaf of a working: a value somebody entered, a library value or a rule of a standard."""

    label: str
    value: Value
    kind: str = "text"
    basis: str = "rule"
    source: str = ""
    part: str = ""
    field: str = ""

    @property
    def unit(self) -> str:
        return unit_of(self.kind)


@dataclass(frozen=True, eq=False)
class Unknown:
    """A result that cannot be known yet, and why."""

    label: str
    kind: str
    needs: tuple[Need, ...]
    value: None = None

    @property
    def unit(self) -> str:
        return unit_of(self.kind)


@dataclass(frozen=True, eq=False)
class Computing:
    """A result that is being worked out: since when (seconds of the monotonic clock) and what is waited for."""

    label: str
    kind: str
    since: float
    of: str
    value: None = None

    @property
    def unit(self) -> str:
        return unit_of(self.kind)


class Declared(Protocol):
    """What a known result keeps of its calculation (`Calculation`)."""

    @property
    def kind(self) -> str: ...
    @property
    def formula(self) -> str: ...
    @property
    def clause(self) -> str: ...
    @property
    def function(self) -> Callable[..., object]: ...
    @property
    def symbols(self) -> dict[str, tuple[str, str]]: ...


@dataclass(frozen=True, eq=False)
class Known:
    """A known result: value in SI over its axes, its calculation and the inputs it was made from."""

    label: str
    value: Value
    calc: Declared
    inputs: dict[str, Any] = field(repr=False)
    axes: tuple[Axis, ...] = ()

    @property
    def kind(self) -> str:
        return self.calc.kind

    @property
    def unit(self) -> str:
        return unit_of(self.kind)

    def again(self) -> Value:
        """The value worked out anew from the stated inputs."""
        return self.calc.function(**{name: raw(i) for name, i in self.inputs.items()})

    def rows(self) -> Iterator[tuple[str, Node]]:
        """(symbol, input) for every input, tuples opened."""
        for name, node in self.inputs.items():
            symbol = self.calc.symbols.get(name, (name.replace("_", " "), ""))[0]
            if isinstance(node, tuple):
                each = symbol.split(", ")
                for i, item in enumerate(node):
                    yield each[i] if len(each) == len(node) else symbol, item
            else:
                yield symbol, node


Figure = Known | Unknown | Computing
Node = Known | Entered | Unknown | Computing


def raw(node: Any) -> object:
    """The value of a node, or of a tuple of nodes; None where it, or one of them, is not there."""
    if not isinstance(node, tuple):
        return node.value
    values = []
    for item in node:
        value = item.value if not isinstance(item, tuple) else raw(item)
        if value is None:
            return None
        values.append(value)
    return tuple(values)


def missing(label: str, kind: str, text: str, part: str = "", field: str = "") -> Unknown:
    """An Unknown with one need."""
    return Unknown(label, kind, (Need(text, part, field),))


def because(label: str, kind: str, reason: Unknown | Computing) -> Unknown | Computing:
    """A result that is not there for the same reason as another."""
    if isinstance(reason, Unknown):
        return Unknown(label, kind, reason.needs)
    return Computing(label, kind, reason.since, reason.of)


def walk(node: Any) -> Iterator[Node]:
    """Every node of a working, itself first; shared nodes once."""
    seen: set[int] = set()
    queue = [node]
    while queue:
        item = queue.pop()
        if isinstance(item, tuple):
            queue.extend(item)
        elif id(item) not in seen:
            seen.add(id(item))
            yield item
            if isinstance(item, Known):
                queue.extend(item.inputs.values())


def leaves(node: object) -> Iterator[Entered]:
    """Entered leaves of a working."""
    return (n for n in walk(node) if isinstance(n, Entered))


def state_words(node: Unknown | Computing) -> str:
    """What stands in the place of a value that is not there."""
    return "not known yet" if isinstance(node, Unknown) else "computing …"


def shown(node: Node, decimals: int | None = None) -> str:
    """Value and unit as text; what is not there says why."""
    if isinstance(node, Unknown | Computing):
        return state_words(node)
    if isinstance(node.value, np.ndarray):
        if node.value.size > 64:
            return f"{node.value.size} values, {with_unit(float(node.value.min()), node.kind)} to {with_unit(float(node.value.max()), node.kind)}"
        return " · ".join(with_unit(float(v), node.kind, decimals).split("\u00a0")[0] for v in node.value.flat) + f" {node.unit}"
    if isinstance(node.value, int | float | np.floating) and not isinstance(node.value, bool):
        return with_unit(float(node.value), node.kind, decimals)
    return str(node.value)
