"""How much a result moves if one input of its working moves: the workings are evaluated anew with that input changed."""

from __future__ import annotations

from typing import Any

import numpy as np

from nuthatch.core.results.figure import CannotKnow, Known

MORE = 0.10
"""How much more of an input is tried; of a temperature 1 K, for a tenth of °C means nothing."""


def more_of(node: Any) -> object:
    """The value of an input, a little more; None where it is no number."""
    value = node.value
    if isinstance(value, str | bool) or value is None:
        return None
    return value + 1.0 if node.kind == "temperature" else value * (1 + MORE)


def words_for(node: Any) -> str:
    """What “more” means for an input."""
    return "1 K more" if node.kind == "temperature" else "10 % more"


def effect_of(root: Known, node: object) -> float | None:
    """By how much `root` moves [its stored unit] if `node`, somewhere in its working, is a little more; months are summed up.
    None where it cannot be told. Nodes used in several places move in all of them."""
    changed = more_of(node)
    if changed is None:
        return None
    try:
        after = _Anew(id(node), changed).value(root)
    except (CannotKnow, ArithmeticError, ValueError):
        return None
    difference = np.sum(np.asarray(after, float)) - np.sum(np.asarray(root.value, float))
    return float(difference) if np.isfinite(difference) else None


class _Anew:
    """Evaluates a working with one node replaced; what does not rest on it keeps its value."""

    def __init__(self, target: int, value: object) -> None:
        self._target, self._value = target, value
        self._rests: dict[int, bool] = {}
        self._values: dict[int, object] = {}

    def rests(self, node: Any) -> bool:
        """Whether a node rests on the one that is replaced."""
        if isinstance(node, tuple):
            return any(self.rests(n) for n in node)
        key = id(node)
        if key not in self._rests:
            self._rests[key] = key == self._target or (isinstance(node, Known) and any(self.rests(i) for i in node.inputs.values()))
        return self._rests[key]

    def value(self, node: Any) -> object:
        """The value of a node, or of a tuple of nodes."""
        if isinstance(node, tuple):
            return tuple(self.value(n) for n in node)
        if id(node) == self._target:
            return self._value
        if not isinstance(node, Known) or not self.rests(node):
            return node.value
        if id(node) not in self._values:
            self._values[id(node)] = node.calc.function(**{name: self.value(i) for name, i in node.inputs.items()})
        return self._values[id(node)]
