"""Results as rows of a bar drawing."""

from __future__ import annotations

from nuthatch.core.results.figure import Computing, Node, Unknown, state_words
from nuthatch.core.sketch import Bar
from nuthatch.core.units import with_unit


def bar(name: str, node: Node | None, token: str, kind: str = "", id: str = "") -> Bar:
    """A row from a result, months summed; what is not there says so."""
    if node is None or isinstance(node, Unknown | Computing):
        return Bar(name, None, state_words(node) if node is not None else "not known yet", token, id)
    value = float(node.value.sum()) if hasattr(node.value, "sum") else float(node.value)
    return Bar(name, value, with_unit(value, kind or node.kind), token, id)
