"""Leaves of a working made from the home's own description of its fields."""

from __future__ import annotations

from dataclasses import dataclass

from nuthatch.core.model.part import Given, Part, specs
from nuthatch.core.results.figure import Entered, Node, missing


def entered(given: Given, label: str, kind: str, part: str, field: str) -> Entered:
    """A given value as a leaf, with its own basis and source."""
    return Entered(label, given.value, kind, given.basis.value, given.source, part, field)


def need(part: Part, field: str, label: str = "") -> Node:
    """A field as a leaf: entered, or an Unknown that leads to it."""
    spec = specs(type(part))[field]
    given: Given | None = part[field]
    ident: str = part.id  # type: ignore[attr-defined]  # every part that holds values has an id
    if not label:
        name = getattr(part, "name", "")
        label = f"{spec.label} of {name}" if name else spec.label
    if given is None:
        return missing(label, spec.kind, lowered(label), ident, field)
    return entered(given, label, spec.kind, ident, field)


def optional(part: Part, field: str, default: float, why: str) -> Node:
    """A field as a leaf, or the stated value where it is empty."""
    if part[field] is None:
        spec = specs(type(part))[field]
        return Entered(f"{spec.label}: {why}", default, spec.kind)
    return need(part, field)


def lowered(label: str) -> str:
    """A label within a sentence: its first letter small, unless it is a symbol such as U_w or an abbreviation."""
    return label[0].lower() + label[1:] if label[1:2].islower() else label


def flagged(part: Part, field: str, yes: str, no: str) -> Entered:
    """A yes-or-no field as 1 or 0 with its words."""
    on = bool(part[field])
    return Entered(yes if on else no, 1.0 if on else 0.0, "fraction", "declared", "", part.id, field)  # type: ignore[attr-defined]


def chosen(part: Part, field: str, value: float, kind: str = "fraction", source: str = "") -> Entered:
    """A number that follows from a choice, leading to the choice."""
    label = specs(type(part))[field].label
    return Entered(f"{label}: {part[field]}", value, kind, "rule", source, part.id, field)  # type: ignore[attr-defined]


def word(part: Part, field: str) -> Entered:
    """A choice as a leaf of words."""
    return Entered(specs(type(part))[field].label, str(part[field]), "text", "declared", "", part.id, field)  # type: ignore[attr-defined]


@dataclass(frozen=True)
class Entry:
    """A value of the home with the place where it was, or would be, entered: what a boundary remembers of its origin."""

    part: str
    field: str
    given: Given | None = None

    def leaf(self, label: str, kind: str, need: str = "") -> Node:
        """The value as a leaf with its own basis, or an Unknown that leads to its field."""
        if self.given is None:
            return missing(label, kind, need or label, self.part, self.field)
        return entered(self.given, label, kind, self.part, self.field)
