"""A calculation is declared once: label, kind of unit, formula, clause, its inputs, and the pure function.

The formula of a closed calculation is written so that a reader and a program understand it alike: `name = expression`, further
lines after “;” say what stands in it. Products are written with ·, powers with ^, constants carry their unit in brackets
(`0.34 [Wh/(m³·K)]`), Σ(…) sums over the parts of an input, `a if condition else b` chooses. A test evaluates each against its
function and checks its units. A calculation that has no closed form says in words what it does (`closed=False`).
"""

from __future__ import annotations

import inspect
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from importlib import import_module
from math import isfinite
from typing import Any

import numpy as np

from nuthatch.core.results.figure import Axis, CannotKnow, Computing, Figure, Known, Need, Node, Unknown, axes_of, leaves, raw


@dataclass(frozen=True, eq=False)
class Calculation:
    """One declared calculation. `symbols`: parameter → (how it is written, kind of its unit); `least`: a value below it cannot be
    and is unknown, never judged."""

    label: str
    kind: str
    formula: str
    clause: str
    function: Callable[..., Any]
    symbols: dict[str, tuple[str, str]]
    closed: bool = True
    least: float | None = None

    def __call__(self, *args: object, **kwargs: object) -> object:
        return self.function(*args, **kwargs)

    @property
    def name(self) -> str:
        """Where its function is declared: “nuthatch.core.energy.balance:losses”."""
        return f"{self.function.__module__}:{self.function.__qualname__}"

    def described(self) -> dict[str, object]:
        """It as plain data: what `calculation_of` finds it again by, in another process or another day."""
        plain = {"label": self.label, "kind": self.kind, "formula": self.formula, "clause": self.clause}
        return {"name": self.name, **plain, "symbols": self.symbols, "closed": self.closed, "least": self.least}

    def __reduce__(self) -> tuple[object, ...]:
        return calculation_of, (self.described(),)

    def figure(self, label: str = "", /, **inputs: Any) -> Figure:
        """Apply the function to the inputs' values. inputs: nodes, or tuples of them."""
        return self._worked_out(label or self.label, None, inputs)

    def table(self, axes: tuple[Axis, ...], label: str = "", /, **inputs: Any) -> Figure:
        """The same for a function whose value is a table with named axes."""
        return self._worked_out(label or self.label, axes, inputs)

    def _worked_out(self, title: str, axes: tuple[Axis, ...] | None, inputs: dict[str, object]) -> Figure:
        values = {}
        for name, node in inputs.items():
            value = values[name] = raw(node)
            if value is None:
                return self._not_there(title, inputs)
        try:
            value = self.function(**values)
        except CannotKnow as reason:
            return Unknown(title, self.kind, (Need(str(reason)),))
        if isinstance(value, np.ndarray):
            value.flags.writeable = False
            finite = bool(np.isfinite(value).all())
        else:
            finite = isfinite(value)
        if not finite:
            return Unknown(title, self.kind, (Need(f"inputs that give a finite {title.lower()}"),))
        if self.least is not None and not np.all(value >= self.least):
            return Unknown(title, self.kind, (_impossible(title, inputs),))
        return Known(title, value, self, inputs, axes_of(value, axes))

    def _not_there(self, title: str, inputs: dict[str, object]) -> Unknown | Computing:
        """What is missing first; where only something is waited for, what has been waited for longest."""
        nodes = list(_flat(inputs.values()))
        needs = dict.fromkeys(need for node in nodes if isinstance(node, Unknown) for need in node.needs)
        if needs:
            return Unknown(title, self.kind, tuple(needs))
        waits = min((n for n in nodes if isinstance(n, Computing)), key=lambda n: n.since)
        return Computing(title, self.kind, waits.since, waits.of)


def _impossible(title: str, inputs: dict[str, object]) -> Need:
    """What is needed where a value came out that cannot be: the entry that is below zero itself, or else the first one."""
    entries = [leaf for leaf in leaves(tuple(inputs.values())) if leaf.part]
    numbers = [(leaf.value, leaf) for leaf in entries if isinstance(leaf.value, float) and leaf.value < 0]
    cause = min(numbers, key=lambda n: n[0])[1] if numbers else entries[0] if entries else None
    text = f"a {title[0].lower()}{title[1:]} that is not below zero"
    if cause is None:
        return Need(text)
    return Need(f"{text}; look at {cause.label}", cause.part, cause.field)


def _flat(nodes: Any) -> Iterator[Node]:
    for node in nodes:
        if isinstance(node, tuple):
            yield from _flat(node)
        else:
            yield node


DECLARED: list[Calculation] = []
"""Every declared calculation, for the tests of formulas and units."""
_BY_NAME: dict[str, Calculation] = {}


def calculation_of(described: Mapping[str, Any]) -> Calculation:
    """The calculation that was described: the declared one, or one with its function and other words. Raises KeyError where no function
    of that name is declared here."""
    name = str(described["name"])
    if name not in _BY_NAME and name.startswith("nuthatch."):
        import_module(name.partition(":")[0])
    known = _BY_NAME[name]
    if known.described() == described:
        return known
    symbols = {k: (str(s), str(unit)) for k, (s, unit) in described["symbols"].items()}
    label, kind, formula, clause = (str(described[k]) for k in ("label", "kind", "formula", "clause"))
    return Calculation(label, kind, formula, clause, known.function, symbols, described["closed"], described["least"])


def calculation(
    label: str, kind: str, formula: str, clause: str, /, *, closed: bool = True, least: float | None = None, **inputs: str
) -> Callable[[Callable[..., object]], Calculation]:
    """Declare a function as a calculation people may question; `inputs` maps parameters to "symbol: kind"."""

    def wrap(function: Callable[..., object]) -> Calculation:
        unknown = set(inputs) - set(inspect.signature(function).parameters)
        if unknown:
            raise TypeError(f"{function.__name__} has no parameter {sorted(unknown)}")
        symbols = {}
        for name, text in inputs.items():
            symbol, _, unit = text.partition(": ")
            symbols[name] = (symbol, unit or "fraction")
        made = Calculation(label, kind, formula, clause, function, symbols, closed, least)
        made.__dict__["__doc__"] = function.__doc__
        DECLARED.append(made)
        _BY_NAME[made.name] = made
        return made

    return wrap


@calculation("Sum", "fraction", "S = Σ(part)", "arithmetic", terms="part: fraction")
def _sum(terms: tuple[Any, ...]) -> object:
    """Σ of floats or of months; 0 for an empty sum."""
    return sum(terms) if terms else 0.0


def total(label: str, kind: str, terms: tuple[Node, ...], clause: str = "sum of the parts", least: float | None = None) -> Figure:
    """Σ of figures of one kind; an empty sum is zero."""
    calc = Calculation(label, kind, _sum.formula, clause, _sum.function, {"terms": ("part", kind)}, least=least)
    return calc.figure(label, terms=terms)


@calculation("Entered value", "fraction", "x = entered", "entered", value="entered: fraction")
def _as_entered(value: float) -> float:
    """A value taken as entered."""
    return value


def take(label: str, kind: str, leaf: Node) -> Figure:
    """An entered leaf as a figure of its own, so that it can be shown as a result."""
    calc = Calculation(label, kind, _as_entered.formula, "entered", _as_entered.function, {"value": ("entered", kind)})
    return calc.figure(label, value=leaf)
