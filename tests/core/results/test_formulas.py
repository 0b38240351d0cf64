"""Every calculation against its written formula: evaluated by sympy at random inputs, its units checked by pint.

A formula is read as it is shown to people: “name = expression; where = …”, products with ·, powers with ^, constants with their
unit in brackets, Σ over the parts of an input, “a if condition else b”. What is not closed says in words what it does.
"""

from __future__ import annotations

import importlib
import pkgutil
import random
import re
from collections.abc import Callable
from functools import cache
from typing import Any

import numpy as np
import pint
import pytest
import sympy

import nuthatch.core
from nuthatch.core.assess import Assessment
from nuthatch.core.results.calculation import DECLARED, Calculation
from nuthatch.core.results.figure import CannotKnow, Known, Node, walk
from nuthatch.core.units import BTU_J, KINDS

for module in pkgutil.walk_packages(nuthatch.core.__path__, "nuthatch.core."):
    importlib.import_module(module.name)

UREG: Any = pint.UnitRegistry()
UREG.define(f"Btu = {BTU_J} * joule")
OURS = [c for c in DECLARED if c.function.__module__.startswith("nuthatch.")]
CLOSED = [c for c in OURS if c.closed]
PLAIN = {"°C": "kelvin", "K": "kelvin", "m²": "m**2", "m³": "m**3", "mm²": "mm**2"}
CHOICES = {"fraction": (0.2, 0.9), "percent": (0.2, 0.9), "temperature": (5.0, 60.0), "thickness": (0.05, 0.4), "width": (0.05, 0.2)}


def unit_of_kind(kind: str) -> Any:
    """The unit a kind is stored in, with the factor of the shown one: 1 m for a thickness shown in mm."""
    spec = KINDS[kind]
    name = (spec.pint or "dimensionless").replace("degC", "kelvin").replace("delta_kelvin", "kelvin")
    return UREG.Quantity(spec.factor, name)


def constant(text: str) -> Any:
    """A unit in brackets, such as Wh/(m³·K)."""
    for old, new in PLAIN.items():
        text = re.sub(rf"(?<![A-Za-z]){re.escape(old)}(?![A-Za-z²³])", new, text)
    return UREG.Quantity(1, re.sub(r"\bl\b", "liter", text.replace("·", "*")))


class Formula:
    """A written formula, evaluated with pint quantities for its symbols."""

    def __init__(self, calc: Calculation) -> None:
        lines = [part.split(" = ", 1) for part in calc.formula.split("; ")]
        self.result, self.where = lines[0][1], dict(lines[1:])
        self.units: dict[str, Any] = {}
        self.names: dict[str, str] = {}
        self._parsed: dict[str, Any] = {}

    def _plain(self, text: str) -> str:
        """The text for sympy: symbols as safe names, units as symbols of their own."""

        def unit(match: re.Match[str]) -> str:
            name = f"unit{len(self.units)}"
            self.units[name] = constant(match.group(1))
            return f"*{name}"

        text = re.sub(r" \[([^\]]+)\]", unit, text)
        text = text.replace("−", "-").replace("·", "*").replace("^", "**").replace("√", "sqrt").replace("Σ", "Sigma")
        known = ("max", "min", "ln", "exp", "sqrt", "abs", "Sigma", "if", "else")

        def name(match: re.Match[str]) -> str:
            word = match.group()
            if word in known or re.fullmatch(r"unit\d+", word):
                return word
            return self.names.setdefault(word, f"s{len(self.names)}x")

        return re.sub(r"[^\W\d]\w*", name, text)

    def value(self, text: str, symbols: dict[str, Any]) -> Any:
        """An expression, choosing its branch first."""
        branch = re.match(r"^(.*?) if (.*?) else (.*)$", text)
        if branch:
            first, condition, rest = branch.groups()
            return self.value(first if self.holds(condition, symbols) else rest, symbols)
        if text not in self._parsed:
            plain = self._plain(text)
            self._parsed[text] = sympy.parse_expr(plain, local_dict=self._locals(), evaluate=False)
        return evaluate(self._parsed[text], lambda name: self.look_up(name, symbols))

    def _locals(self) -> dict[str, Any]:
        words = {n: sympy.Symbol(n) for n in (*self.names.values(), *self.units)}
        functions = {"max": "Max_", "min": "Min_", "ln": "ln_", "exp": "exp_", "abs": "abs_", "sqrt": "sqrt_", "Sigma": "Sigma"}
        return {**words, **{k: sympy.Function(v) for k, v in functions.items()}}

    def look_up(self, name: str, symbols: dict[str, Any]) -> Any:
        if name in self.units:
            return self.units[name]
        word = next(w for w, n in self.names.items() if n == name)
        if word in symbols:
            return symbols[word]
        if word == "π":
            return UREG.Quantity(np.pi)
        return self.value(self.where[word], symbols)

    def holds(self, condition: str, symbols: dict[str, Any]) -> bool:
        left, sign, right = re.match(r"^(.*?) ([<>≤≥=]) (.*)$", condition).groups()  # type: ignore[union-attr]
        a, b = self.value(left, symbols), self.value(right, symbols)
        difference = a.magnitude if not b.magnitude else (a - b).to_base_units().magnitude
        return {"<": difference < 0, ">": difference > 0, "≤": difference <= 0, "≥": difference >= 0, "=": difference == 0}[sign]


@cache
def written(calc: Calculation) -> Formula:
    """The formula of a calculation, parsed once."""
    return Formula(calc)


def evaluate(node: Any, look_up: Callable[[str], Any]) -> Any:
    """A sympy tree with quantities in the place of its symbols: pint refuses what does not fit together."""
    if isinstance(node, sympy.Symbol):
        return look_up(node.name)
    if node.is_number:
        return UREG.Quantity(float(node))
    parts = [evaluate(a, look_up) for a in node.args] if str(node.func) != "Sigma" else []
    kind = str(node.func)
    if isinstance(node, sympy.Add):
        total = parts[0]
        for p in parts[1:]:
            total = total + p
        return total
    if isinstance(node, sympy.Mul):
        product = UREG.Quantity(1.0)
        for p in parts:
            product = product * p
        return product
    if isinstance(node, sympy.Pow):
        exponent = float(parts[1].to("dimensionless").magnitude)
        return parts[0] ** (round(exponent) if abs(exponent - round(exponent)) < 1e-12 else exponent)
    if kind == "sqrt_":
        return parts[0] ** 0.5
    if kind in ("ln_", "exp_"):
        return UREG.Quantity({"ln_": np.log, "exp_": np.exp}[kind](parts[0].to("dimensionless").magnitude))
    if kind == "abs_":
        return abs(parts[0])
    if kind in ("Max_", "Min_"):
        unit = next((p for p in parts if p.magnitude), parts[0]).units
        values = [p.to(unit).magnitude if p.magnitude else 0.0 for p in parts]
        return UREG.Quantity({"Max_": max, "Min_": min}[kind](values), unit)
    assert kind == "Sigma", kind
    names = [s.name for s in node.free_symbols]
    length = max(len(v) for n in names if isinstance(v := look_up(n), list))
    total = None
    for i in range(length):
        term = evaluate(node.args[0], lambda n, i=i: v[i] if isinstance(v := look_up(n), list) else v)
        total = term if total is None else total + term
    return total


def symbols_of(calc: Calculation, values: dict[str, Any], month: int | None) -> dict[str, Any]:
    """Written symbol → quantity: a tuple of named components is taken apart, months by the month except under Σ."""
    found: dict[str, Any] = {}
    for parameter, value in values.items():
        text, kind = calc.symbols[parameter]
        names, kinds = text.split(", "), kind.split(", ")
        unit = unit_of_kind(kinds[0])
        if isinstance(value, tuple) and len(names) > 1:
            units = [unit_of_kind(k) for k in (kinds if len(kinds) > 1 else kinds * len(names))]
            found.update({n: v * u for n, v, u in zip(names, value, units, strict=True)})
        elif isinstance(value, tuple):
            found[text] = [(v[month] if isinstance(v, np.ndarray) and month is not None else v) * unit for v in value]
        elif isinstance(value, np.ndarray):
            found[text] = value[month] * unit if month is not None else [v * unit for v in value]
        else:
            found[text] = value * unit
    return found


def check(calc: Calculation, values: dict[str, Any], result: Any) -> None:
    """The formula with these values gives the function's result, in the unit of its kind."""
    months = range(len(result)) if isinstance(result, np.ndarray) else [None]
    formula = written(calc)
    for month in months:
        got = formula.value(formula.result, symbols_of(calc, values, month))
        want = float(result if month is None else result[month])
        unit = unit_of_kind(calc.kind)
        if not got.magnitude:
            assert want == pytest.approx(0, abs=1e-9), (calc.label, values)
            continue
        shown = got.to(unit.units).magnitude / unit.magnitude
        assert shown == pytest.approx(want, rel=1e-9, abs=1e-9), (calc.label, calc.formula, values)


MONTHLY = {"temperature", "energy_month", "hours", "irradiation", "w_per_k", "fraction"}


def drawn(calc: Calculation, parameter: str, annotation: str, rng: random.Random) -> Any:
    """A random value for a parameter, within what its kind allows."""
    written, kind = calc.symbols[parameter]
    kinds = kind.split(", ")
    if len(kinds) > 1:
        return tuple(rng.uniform(*CHOICES.get(k, (0.3, 9.0))) for k in kinds)
    low, high = CHOICES.get(kind, (0.3, 9.0))
    one = lambda: rng.uniform(low, high)  # noqa: E731
    if "tuple" in annotation or annotation in ("Size", "Widths", "Floor", "Edge", "Fields", "Sides"):
        names = written.split(", ")
        return tuple(one() for _ in (names if len(names) > 1 else range(3)))
    if "Array" in annotation:
        return np.array([one() * rng.choice((1, 1, 1, -1 if kind == "energy_month" else 1)) for _ in range(12)])
    return one()


@pytest.mark.parametrize("calc", CLOSED, ids=lambda c: f"{c.label}-{c.function.__name__}")
def test_every_closed_formula_is_what_its_function_does(calc: Calculation) -> None:
    rng = random.Random(calc.function.__name__)
    notes = calc.function.__annotations__
    done = 0
    for _ in range(24):
        parameters = [n for n in notes if n != "return"]
        values = {n: drawn(calc, n, str(notes[n]), rng) for n in parameters}
        lengths = {n: len(v) for n, v in values.items() if isinstance(v, tuple)}
        assert set(values) == set(calc.symbols), f"{calc.label}: every parameter is an input with symbol and kind"
        try:
            result = calc.function(**values)
        except CannotKnow:
            continue
        check(calc, values, result)
        done += bool(lengths) or 1
    assert done >= 6, f"{calc.label}: hardly any random input gives a result"


def test_what_is_not_closed_says_so_in_words() -> None:
    words = [c for c in OURS if not c.closed]
    assert len(CLOSED) > 45 and len(words) < len(CLOSED) / 4
    for calc in words:
        assert len(calc.formula.split()) >= 5 and " = " not in calc.formula, calc.label
    for calc in OURS:
        assert calc.label and calc.clause and calc.function.__doc__, calc.label
        assert calc.kind in KINDS and all(k in KINDS for _, kind in calc.symbols.values() for k in kind.split(", ")), calc.label


def dimension(kind: str) -> Any:
    return unit_of_kind(kind).dimensionality


def flat(node: Any) -> list[Node]:
    return [n for item in node for n in flat(item)] if isinstance(node, tuple) else [node]


def test_every_input_of_every_working_has_the_dimension_its_calculation_names(demo_assessments: dict[str, Assessment]) -> None:
    """No psi where a U is meant: what is handed to a calculation fits what it declares."""
    seen = set()
    for a in demo_assessments.values():
        for node in walk(tuple(a.figures.values()) + tuple(a.months.values())):
            if not isinstance(node, Known):
                continue
            for name, given in node.inputs.items():
                if name not in node.calc.symbols:
                    continue
                kinds = node.calc.symbols[name][1].split(", ")
                leaves = flat(given)
                for leaf, kind in zip(leaves, kinds if len(kinds) > 1 else kinds * len(leaves), strict=False):
                    if isinstance(leaf.value, str):
                        continue
                    seen.add((node.calc.label, name))
                    assert dimension(leaf.kind) == dimension(kind), f"{node.label}: {name} is {leaf.kind}, not {kind}"
    assert len(seen) > 100


def test_a_wrong_formula_would_be_noticed() -> None:
    right = next(c for c in CLOSED if c.function.__name__ == "element_loss")
    values = {"u": 0.2, "area": 50.0, "b": 0.5}
    check(right, values, 5.0)
    for formula in ("H = U·A", "H = U·A·b·2", "H = U + A·b", "H = U·A·b·1 [K]"):
        wrong = Calculation(right.label, right.kind, formula, "", right.function, right.symbols)
        with pytest.raises((AssertionError, pint.DimensionalityError)):
            check(wrong, values, 5.0)
