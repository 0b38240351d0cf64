"""Results that carry their working.

A calculation is declared once with `@calculation`: label, unit kind, formula, clause and the function. Calling
`.figure(...)` with other figures and entered values gives a `Figure` that keeps the function and its inputs, or an
`Unknown` that lists what is missing. NaN and inf never leave this module.
"""

from __future__ import annotations

import inspect
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from nuthatch.core.units import unit_of, with_unit

Months = np.ndarray


class CannotKnow(ValueError):
    """Raised inside a calculation whose inputs allow no result; the message says what is needed."""


@dataclass(frozen=True)
class Need:
    """Something missing: in words, and the part and field where it can be given."""

    text: str
    step: str = ""
    part: str = ""
    field: str = ""


@dataclass(frozen=True, eq=False)
class Entered:
    """A leaf of a working: a value somebody entered, a library value or a rule of a standard."""

    label: str
    value: Any
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
class Calculation:
    """One declared calculation: what it is called, how it is written, where it stands, and the pure function."""

    label: str
    kind: str
    formula: str
    clause: str
    function: Callable[..., Any]
    symbols: dict[str, str]

    def __call__(self, *args: Any, **kwargs: Any) -> Any:
        return self.function(*args, **kwargs)

    def figure(self, label: str = "", /, **inputs: Any) -> Figure | Unknown:
        """Apply the function to the inputs' values. inputs: Figure, Entered, Unknown, or tuples of them."""
        title = label or self.label
        needs = tuple(dict.fromkeys(n for i in inputs.values() for n in _needs(i)))
        if needs:
            return Unknown(title, self.kind, needs)
        try:
            value = self.function(**{name: _raw(i) for name, i in inputs.items()})
        except CannotKnow as reason:
            return Unknown(title, self.kind, (Need(str(reason)),))
        if isinstance(value, np.ndarray):
            value.flags.writeable = False
            finite = bool(np.isfinite(value).all())
        else:
            finite = bool(np.isfinite(value))
        if not finite:
            return Unknown(title, self.kind, (Need(f"inputs that give a finite {title.lower()}"),))
        return Figure(title, value, self, inputs)


def _raw(node: Any) -> Any:
    return tuple(_raw(n) for n in node) if isinstance(node, tuple) else node.value


def _needs(node: Any) -> Iterator[Need]:
    if isinstance(node, tuple):
        for item in node:
            yield from _needs(item)
    elif isinstance(node, Unknown):
        yield from node.needs


@dataclass(frozen=True, eq=False)
class Figure:
    """A known result: value in SI (float, or 12 months), its calculation and the inputs it was made from."""

    label: str
    value: Any
    calc: Calculation
    inputs: dict[str, Any] = field(repr=False)

    @property
    def kind(self) -> str:
        return self.calc.kind

    @property
    def unit(self) -> str:
        return unit_of(self.kind)

    def again(self) -> Any:
        """The value worked out anew from the stated inputs."""
        return self.calc.function(**{name: _raw(i) for name, i in self.inputs.items()})

    def rows(self) -> Iterator[tuple[str, Any]]:
        """(symbol, input) for every input, tuples opened."""
        for name, node in self.inputs.items():
            symbol = self.calc.symbols.get(name, name.replace("_", " "))
            if isinstance(node, tuple):
                for item in node:
                    yield symbol, item
            else:
                yield symbol, node


Node = Figure | Entered | Unknown
Result = Figure | Unknown


def calculation(label: str, kind: str, formula: str, clause: str, **symbols: str) -> Callable[[Callable[..., Any]], Calculation]:
    """Declare a function as a calculation people may question; `symbols` maps parameters to how they are written."""

    def wrap(function: Callable[..., Any]) -> Calculation:
        unknown = set(symbols) - set(inspect.signature(function).parameters)
        if unknown:
            raise TypeError(f"{function.__name__} has no parameter {sorted(unknown)}")
        made = Calculation(label, kind, formula, clause, function, symbols)
        made.__dict__["__doc__"] = function.__doc__
        return made

    return wrap


def walk(node: Any) -> Iterator[Any]:
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
            if isinstance(item, Figure):
                queue.extend(item.inputs.values())


def shown(node: Node, decimals: int | None = None) -> str:
    """Value and unit as text: months as a yearly sum or mean is the reader's business, so they are listed."""
    if isinstance(node, Unknown):
        return "not known yet"
    if isinstance(node.value, np.ndarray | tuple):
        return " · ".join(with_unit(float(v), node.kind, decimals).split("\u00a0")[0] for v in node.value) + f" {node.unit}"
    if isinstance(node.value, int | float | np.floating):
        return with_unit(float(node.value), node.kind, decimals)
    return str(node.value)


def missing(label: str, kind: str, text: str, step: str = "", part: str = "", field: str = "") -> Unknown:
    """An Unknown with one need."""
    return Unknown(label, kind, (Need(text, step, part, field),))


@calculation("Sum", "fraction", "Σ", "arithmetic")
def _generic_sum(terms: tuple[float, ...]) -> Any:
    """Σ of floats or of months; 0 for an empty sum."""
    return sum(terms) if terms else 0.0


def total(label: str, kind: str, terms: tuple[Any, ...], clause: str = "sum of the parts") -> Result:
    """Σ of figures, an empty sum is zero."""
    calc = Calculation(label, kind, "Σ parts", clause, _generic_sum.function, {"terms": "part"})
    return calc.figure(label, terms=terms)
