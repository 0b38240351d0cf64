"""Written formulas read as trees, and typeset: with their symbols, and with the numbers put in.

The grammar is the one calculations are declared in (`calculation.py`): products with ·, powers with ^, constants with their unit in
brackets, Σ over the parts of an input, “a if condition else b”, further lines after “;”. Output is mathtext, which matplotlib sets.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache, partial
from typing import Any

import numpy as np

from nuthatch.core.results.figure import Known
from nuthatch.core.units import show, unit_of

FUNCTIONS = ("max", "min", "ln", "exp", "abs", "Σ", "√")
_TOKEN = re.compile(r"\s*(?:(?P<number>\d+\.?\d*)(?P<unit> \[[^\]]+\])?|(?P<word>Σ|√|[^\W\d]\w*)|(?P<sign>[·/+−\-^(),<>≤≥=]))")


class Unreadable(ValueError):
    """The text is no formula."""


@dataclass(frozen=True)
class Number:
    text: str
    unit: str = ""


@dataclass(frozen=True)
class Name:
    text: str


@dataclass(frozen=True)
class Call:
    name: str
    arguments: tuple[Tree, ...]


@dataclass(frozen=True)
class Pair:
    """Two sides with a sign between them: + − · / ^ or a comparison."""

    sign: str
    left: Tree
    right: Tree


@dataclass(frozen=True)
class Minus:
    inner: Tree


@dataclass(frozen=True)
class Choice:
    """A value under a condition, else another."""

    first: Tree
    condition: Tree
    rest: Tree


Tree = Number | Name | Call | Pair | Minus | Choice


class _Reader:
    """Reads one expression."""

    def __init__(self, text: str) -> None:
        self.tokens: list[tuple[str, str]] = []
        at = 0
        while at < len(text.rstrip()):
            match = _TOKEN.match(text, at)
            if match is None:
                raise Unreadable(text[at:])
            kind = match.lastgroup if match.lastgroup != "unit" else "number"
            self.tokens.append((str(kind), match.group().strip()))
            at = match.end()
        self.at = 0

    def peek(self) -> str:
        return self.tokens[self.at][1] if self.at < len(self.tokens) else ""

    def take(self, *wanted: str) -> str:
        found = self.peek()
        if not found or (wanted and found not in wanted):
            raise Unreadable(found or "the end")
        self.at += 1
        return found

    def choice(self) -> Tree:
        first = self.sum()
        if self.peek() != "if":
            return first
        self.take("if")
        left = self.sum()
        condition = Pair(self.take("<", ">", "≤", "≥", "="), left, self.sum())
        self.take("else")
        return Choice(first, condition, self.choice())

    def sum(self) -> Tree:
        found = self.product()
        while self.peek() in ("+", "−", "-"):
            found = Pair("+" if self.take() == "+" else "−", found, self.product())
        return found

    def product(self) -> Tree:
        found = self.power()
        while self.peek() in ("·", "/"):
            found = Pair(self.take(), found, self.power())
        return found

    def power(self) -> Tree:
        if self.peek() in ("−", "-"):
            self.take()
            return Minus(self.power())
        found = self.atom()
        if self.peek() == "^":
            self.take()
            found = Pair("^", found, self.power())
        return found

    def atom(self) -> Tree:
        kind, text = self.tokens[self.at] if self.at < len(self.tokens) else ("", "")
        self.at += 1
        if kind == "number":
            value, _, unit = text.partition(" [")
            return Number(value, unit.rstrip("]"))
        if text == "(":
            inner = self.choice()
            self.take(")")
            return inner
        if kind == "word" and text in FUNCTIONS:
            self.take("(")
            arguments = [self.choice()]
            while self.peek() == ",":
                self.take()
                arguments.append(self.choice())
            self.take(")")
            return Call(text, tuple(arguments))
        if kind == "word" and text not in ("if", "else"):
            return Name(text)
        raise Unreadable(text)


@lru_cache(maxsize=512)
def lines_of(formula: str) -> tuple[tuple[str, Tree], ...]:
    """(what is on the left, its expression) of every line of a closed formula. Raises Unreadable."""
    found = []
    for part in formula.split("; "):
        left, sign, right = part.partition(" = ")
        if not sign:
            raise Unreadable(part)
        reader = _Reader(right)
        tree = reader.choice()
        if reader.at != len(reader.tokens):
            raise Unreadable(reader.peek())
        found.append((left, tree))
    return tuple(found)


# typesetting

_PRECEDENCE = {"+": 1, "−": 1, "·": 2, "/": 2, "^": 3}
_WORDS = {"max": r"\mathrm{max}", "min": r"\mathrm{min}", "ln": r"\mathrm{ln}", "exp": r"\mathrm{exp}"}
Written = Callable[[str], str]


def symbol(name: str) -> str:
    """“θ_i” as θ with i below it; words stand upright."""
    stem, _, below = name.partition("_")
    body = stem if len(stem) == 1 else rf"\mathrm{{{stem}}}"
    return body + (rf"_{{\mathrm{{{below}}}}}" if below else "")


def unit_text(unit: str) -> str:
    """A unit, upright, with a thin space before it."""
    return r"\," + rf"\mathrm{{{unit.replace('%', chr(92) + '%')}}}" if unit else ""


def _set(tree: Tree, name: Written, above: int = 0) -> str:
    """A tree as mathtext; `name` writes a symbol, `above` is how tightly what stands around it binds."""
    if isinstance(tree, Number):
        return tree.text + unit_text(tree.unit)
    if isinstance(tree, Name):
        return name(tree.text)
    if isinstance(tree, Minus):
        return "-" + _set(tree.inner, name, 2)
    if isinstance(tree, Call):
        return _call(tree, name)
    if isinstance(tree, Choice):
        return _set(tree.first, name)
    if tree.sign == "/":
        return rf"\frac{{{_set(tree.left, name)}}}{{{_set(tree.right, name)}}}"
    if tree.sign == "^":
        return rf"{_set(tree.left, name, 4)}^{{{_set(tree.right, name)}}}"
    level = _PRECEDENCE.get(tree.sign, 0)
    sign = {"·": r"\cdot", "−": "-", "≤": r"\leq", "≥": r"\geq"}.get(tree.sign, tree.sign)
    text = f"{_set(tree.left, name, level)} {sign} {_set(tree.right, name, level + (tree.sign == '−'))}"
    return rf"\left({text}\right)" if level < above else text


def _call(tree: Call, name: Written) -> str:
    inner = [_set(a, name) for a in tree.arguments]
    if tree.name == "√":
        return rf"\sqrt{{{inner[0]}}}"
    if tree.name == "abs":
        return rf"\left|{inner[0]}\right|"
    if tree.name == "Σ":
        return rf"\sum \left({inner[0]}\right)" if isinstance(tree.arguments[0], Pair) else rf"\sum {inner[0]}"
    return rf"{_WORDS[tree.name]}\left({', '.join(inner)}\right)"


def _choices(tree: Tree, name: Written) -> list[tuple[str, str]]:
    """(value, condition) of every branch, the last under no condition."""
    if not isinstance(tree, Choice):
        return [(_set(tree, name), "")]
    return [(_set(tree.first, name), _set(tree.condition, name)), *_choices(tree.rest, name)]


def typeset(formula: str) -> tuple[str, ...]:
    """A closed formula as lines of mathtext, without the dollar signs. Raises Unreadable."""
    found = []
    for left, tree in lines_of(formula):
        branches = _choices(tree, symbol)
        for n, (value, condition) in enumerate(branches):
            start = f"{symbol(left)} = " if n == 0 else r"\qquad "
            end = rf"\quad \mathrm{{if}}\; {condition}" if condition else r"\quad \mathrm{else}" if n else ""
            found.append(f"{start}{value}{end}")
    return tuple(found)


# with the numbers put in


def _value(node: Any, kind: str, at: int) -> str:
    value = node.value
    if isinstance(value, np.ndarray):
        value = float(value[at])
    if isinstance(value, str) or value is None:
        return rf"\mathrm{{{value}}}"
    text = show(float(value), node.kind or kind).replace("\u202f", r"\,").replace("−", "-")
    return f"({text}{unit_text(unit_of(node.kind))})" if text.startswith("-") else text + unit_text(unit_of(node.kind))


def put_in(known: Known, at: int = 0) -> tuple[str, ...]:
    """The same formula with the numbers of a result put in: of the month `at` where it is one by month. Raises Unreadable.

    Of a sum over many parts the first two are written out; of a choice the branch that was taken cannot be told from the text, so
    every branch is written.
    """
    lines = lines_of(known.calc.formula)
    where = dict(lines[1:])
    parts: dict[str, object] = {}
    for parameter, node in known.inputs.items():
        text = known.calc.symbols.get(parameter, (parameter, ""))[0]
        names = text.split(", ")
        if isinstance(node, tuple) and len(names) == len(node) and len(names) > 1:
            parts.update(zip(names, node, strict=True))
        else:
            parts[text] = node
    result = known.value[at] if isinstance(known.value, np.ndarray) and known.value.ndim == 1 else known.value
    start = show(float(result), known.kind).replace("\u202f", r"\,").replace("−", "-") + unit_text(unit_of(known.kind))
    body = _Numbers(parts, where, at)
    branches = _choices(lines[0][1], body.name) if not _has_sum(lines[0][1]) else [(body.sums(lines[0][1]), "")]
    found = []
    for n, (value, condition) in enumerate(branches):
        end = rf"\quad \mathrm{{if}}\; {condition}" if condition else ""
        found.append((f"{start} = " if n == 0 else r"\qquad ") + value + end)
    return tuple(found)


def _has_sum(tree: Tree) -> bool:
    if isinstance(tree, Call):
        return tree.name == "Σ" or any(_has_sum(a) for a in tree.arguments)
    if isinstance(tree, Pair):
        return _has_sum(tree.left) or _has_sum(tree.right)
    return isinstance(tree, Minus) and _has_sum(tree.inner)


class _Numbers:
    """Writes symbols as the numbers they stand for."""

    def __init__(self, parts: dict[str, Any], where: dict[str, Tree], at: int) -> None:
        self.parts, self.where, self.at = parts, where, at
        self.by_month = False

    def name(self, text: str, index: int = 0) -> str:
        if text == "π":
            return "π"
        if text in self.parts:
            node = self.parts[text]
            if self.by_month and isinstance(getattr(node, "value", None), np.ndarray):
                return _value(node, "fraction", index)
            if isinstance(node, tuple):
                return _value(node[index], "fraction", self.at) if index < len(node) else "0"
            return _value(node, "fraction", self.at)
        return symbol(text) if text not in self.where else rf"\left[{_set(self.where[text], self.name)}\right]"

    def sums(self, tree: Tree) -> str:
        """An expression in which sums are written out."""
        if isinstance(tree, Call) and tree.name == "Σ":
            return self._sum(tree.arguments[0])
        if isinstance(tree, Pair) and tree.sign == "/":
            return rf"\frac{{{self.sums(tree.left)}}}{{{self.sums(tree.right)}}}"
        if isinstance(tree, Pair) and tree.sign in ("+", "−", "·"):
            sign = {"·": r"\cdot", "−": "-"}.get(tree.sign, tree.sign)
            return f"{self.sums(tree.left)} {sign} {self.sums(tree.right)}"
        return _set(tree, self.name, 2)

    def _sum(self, inner: Tree) -> str:
        used = [n for n in self.parts.values() if self._uses(inner, n)]
        number = max((len(n) for n in used if isinstance(n, tuple)), default=1)
        months = [n.value.size for n in used if not isinstance(n, tuple) and isinstance(n.value, np.ndarray)]
        self.by_month = bool(months) and number == 1
        number = months[0] if self.by_month else number
        terms = [_set(inner, partial(self.name, index=i), 2) for i in range(min(number, 2))]
        what = "months" if self.by_month else "parts"
        more = rf"+ \ldots \;\mathrm{{({number}\ {what})}}" if number > 2 else ""
        self.by_month = False
        return rf"\left({' + '.join(terms) or '0'} {more}\right)"

    def _uses(self, tree: Tree, node: object) -> bool:
        if isinstance(tree, Name):
            return self.parts.get(tree.text) is node
        if isinstance(tree, Pair):
            return self._uses(tree.left, node) or self._uses(tree.right, node)
        if isinstance(tree, Call):
            return any(self._uses(a, node) for a in tree.arguments)
        return isinstance(tree, Minus) and self._uses(tree.inner, node)
