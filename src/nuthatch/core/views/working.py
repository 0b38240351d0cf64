"""How one result is worked out, as a drawing: its months, its inputs with their basis and how much the result asked about moves with
each; and the same as text."""

from __future__ import annotations

from typing import Any

import numpy as np

from nuthatch.core.results.figure import MONTHS, Computing, Entered, Known, Unknown, leaves, shown
from nuthatch.core.results.sensitivity import effect_of, words_for
from nuthatch.core.sketch import WIDTH, Picture, Sketch, fitted
from nuthatch.core.units import show, unit_of

MARKS = {"assumed": "○", "declared": "◐", "calculated": "●", "measured": "■", "rule": "§", "": " "}
"""The basis of a value by a shape; a rule of calculation has one of its own."""
ROW = 38.0
MOST = 24
"""Inputs drawn; a sum over more parts says how many are left."""


def is_monthly(node: object) -> bool:
    """Whether a result has a value for each month."""
    return isinstance(node, Known) and isinstance(node.value, np.ndarray) and node.value.shape == (12,)


def said_of(node: object) -> str:
    """Where an input comes from, in a few words."""
    if isinstance(node, Entered):
        return " · ".join(t for t in (node.basis, node.source) if t)
    if isinstance(node, Known):
        return f"worked out · {node.calc.clause}"
    return "not known yet" if isinstance(node, Unknown) else "computing …"


def in_short(node: Any) -> str:
    """A value with its unit; months as the first and the last."""
    if is_monthly(node) or (isinstance(node, Entered) and isinstance(node.value, np.ndarray) and node.value.size == 12):
        first, last = (show(float(node.value[i]), node.kind) for i in (0, -1))
        return f"{first} … {last} {unit_of(node.kind)}".strip()
    return shown(node)


def working(root: Any, node: Any, width: float = WIDTH, month: int = 0) -> Sketch:
    """Months and inputs of a result in the working of `root`. ids: “input:n”, “month:n”."""
    rows = list(node.rows()) if isinstance(node, Known) else []
    monthly = is_monthly(node)
    top = 118.0 if monthly else 0.0
    made = Sketch(width, top + 40 + ROW * min(len(rows), MOST) + 26, f"How {node.label} is worked out")
    if monthly:
        _months(made, node, month, width)
    y = top + 20
    made.text(0, y, "What was put in" if rows else "Nothing was put in", size=12.5, bold=True)
    moves = [effect_of(root, item) if isinstance(root, Known) else None for _, item in rows[:MOST]]
    if rows:
        told = f"10 % more, or 1 K, moves {root.label[0].lower()}{root.label[1:]}, {unit_of(root.kind)}".rstrip(", ")
        made.text(width, y, told, size=11, color="muted", anchor="end")
    made.line((0, y + 8), (width, y + 8), stroke="line")
    largest = max([abs(m) for m in moves if m is not None] or [1.0]) or 1.0
    for n, ((sign, item), move) in enumerate(zip(rows[:MOST], moves, strict=True)):
        _row(made, (n, y + 10 + ROW * n), (sign, item), (move, largest, getattr(root, "kind", "fraction")))
    if len(rows) > MOST:
        made.text(0, y + 26 + ROW * MOST, f"and {len(rows) - MOST} more parts", size=11.5, color="muted")
    return made


def _row(made: Sketch, place: tuple[int, float], row: tuple[str, Any], moved: tuple[float | None, float, str]) -> None:
    """One input: symbol, name and origin, value, basis, and a bar for what it moves."""
    (n, y), (sign, item), (move, largest, kind) = place, row, moved
    width, ident = made.width, f"input:{n}"
    middle = width - 118.0
    opens = isinstance(item, Known | Unknown | Computing) or bool(getattr(item, "part", ""))
    made.rect(0, y, width, ROW - 2, stroke="", id=ident, tip=f"{item.label}: {in_short(item)}, {said_of(item)}")
    stem, _, below = sign.partition("_")
    made.text(4, y + 16, fitted(stem, 44, 12.5), size=12.5, id=ident)
    made.text(4 + 7.6 * min(len(stem), 6), y + 20, below[:6], size=9.5, id=ident)
    made.text(64, y + 15, fitted(item.label, width * 0.5 - 80, 12), size=12, color="slate" if opens else "ink", id=ident)
    made.text(64, y + 30, fitted(said_of(item), width * 0.5 - 64, 10.5), size=10.5, color="muted", id=ident)
    made.text(middle - 96, y + 16, fitted(in_short(item), width * 0.3, 12), size=12, bold=True, anchor="end", id=ident)
    if isinstance(item, Entered):
        _mark(made, middle - 86, y + 16, item.basis, ident)
    made.line((middle, y + 3), (middle, y + ROW - 6), stroke="line", width=1.4)
    if move is not None:
        long = 56.0 * move / largest
        if abs(long) > 0.3:
            token = "slate_pale" if move > 0 else "glass"
            made.rect(min(middle, middle + long), y + 8, abs(long), 13, fill=token, stroke="slate", width=0.6, id=ident)
        text = show(move, kind)
        made.text(width, y + 19, ("+" if move > 0 and text.strip("0.") else "") + text, size=11.5, anchor="end", id=ident)
    made.line((0, y + ROW - 3), (width, y + ROW - 3), stroke="line", width=0.7)


def _mark(made: Sketch, x: float, y: float, basis: str, ident: str) -> None:
    """The mark of a basis; that of a declared value is drawn: our font has no such sign."""
    if basis != "declared":
        made.text(x, y, MARKS.get(basis, " "), size=12, id=ident)
        return
    cx, cy = x + 5.0, y - 4.4
    ring = [(cx + 4.2 * float(np.cos(t)), cy + 4.2 * float(np.sin(t))) for t in np.linspace(np.pi / 2, 5 * np.pi / 2, 25)]
    made.path(ring[:13], fill="ink", stroke="", id=ident)
    made.path(ring, stroke="ink", width=1.0, id=ident)


def _months(made: Sketch, node: Known, month: int, width: float) -> None:
    """The twelve months as bars, the one whose numbers are put in darker."""
    values = np.asarray(node.value, float)
    low, high = min(float(values.min()), 0.0), max(float(values.max()), 1e-9)
    made.text(0, 12, f"by month, {unit_of(node.kind)}".rstrip(", "), size=12, bold=True)
    step, zero = width / 12, 98.0 - 62.0 * (0.0 - low) / (high - low)
    for n, value in enumerate(values):
        top = zero - 62.0 * value / (high - low)
        x, ident = n * step + step * 0.14, f"month:{n}"
        made.rect(n * step, 18, step, 96, stroke="", id=ident, tip=f"put in the numbers of {MONTHS[n]}")
        made.rect(x, min(top, zero), step * 0.72, abs(top - zero), fill="slate" if n == month else "slate_pale", stroke="", id=ident)
        made.text(x + step * 0.36, min(top, zero) - 3, show(float(value), node.kind), size=10.5, anchor="middle", bold=n == month, id=ident)
        made.text(x + step * 0.36, 112, MONTHS[n], size=11, anchor="middle", color="muted", id=ident)
    made.line((0, zero), (width, zero), stroke="ink", width=0.8)


def come_from(node: object, most: int = 40) -> tuple[list[Entered], list[Entered], int]:
    """(values people entered, what follows from data and rules, how many more there are) that a result rests on, the heaviest first."""
    seen: dict[tuple[str, str, str], Entered] = {}
    for leaf in leaves(node):
        seen.setdefault((leaf.part, leaf.field, leaf.label), leaf)
    entered = sorted((leaf for leaf in seen.values() if _by_people(leaf)), key=lambda leaf: isinstance(leaf.value, str))
    rest = [leaf for leaf in seen.values() if not _by_people(leaf) and not isinstance(leaf.value, str)]
    if isinstance(node, Known) and len(entered) <= 60:
        weight = {id(leaf): abs(effect_of(node, leaf) or 0.0) for leaf in entered}
        entered.sort(key=lambda leaf: -weight[id(leaf)])
    return entered[:most], rest[:8], max(len(entered) - most, 0)


def _by_people(leaf: Entered) -> bool:
    """Whether somebody entered it: a value with a basis, or a choice; not what a rule puts in the place of one."""
    return bool(leaf.part) and (isinstance(leaf.value, str) or leaf.basis in ENTERED)


ENTERED = ("assumed", "declared", "calculated", "measured")


def agrees(node: Any) -> bool | None:
    """Whether a result is the same worked out anew from its stated inputs; None where there is nothing to work out."""
    if not isinstance(node, Known):
        return None
    return bool(np.allclose(np.asarray(node.again(), float), np.asarray(node.value, float), rtol=1e-12, atol=1e-12))


def as_text(trail: tuple[Any, ...]) -> str:
    """A working as plain text: the trail, the formula, the clause, every input with unit, origin and what it moves."""
    root, node = trail[0], trail[-1]
    lines = [" › ".join(n.label for n in trail), f"{node.label}: {in_short(node)}"]
    if isinstance(node, Unknown):
        return "\n".join([*lines, *(f"needs {n.text}" for n in node.needs)])
    if isinstance(node, Known):
        lines += [node.calc.formula, node.calc.clause]
        for sign, item in node.rows():
            move = effect_of(root, item) if isinstance(root, Known) else None
            moves = f"\t{words_for(item)}: {show(move, root.kind)} {unit_of(root.kind)}" if move is not None else ""
            lines.append(f"{sign}\t{item.label}\t{in_short(item)}\t{said_of(item)}{moves}")
    return "\n".join(lines)


# a working pinned to the dossier: the key of a result and the inputs that lead to the part of it


def path_to(key: str, trail: tuple[Any, ...]) -> str:
    """“heating_demand/months/losses” for a trail that starts at a published result."""
    steps = [key]
    for above, below in zip(trail, trail[1:], strict=False):
        steps.append(next(_step(name, inner, below) for name, inner in above.inputs.items() if _step(name, inner, below)))
    return "/".join(steps)


def _step(name: str, inner: object, wanted: object) -> str:
    if inner is wanted:
        return name
    if isinstance(inner, tuple):
        return next((f"{name}.{n}" for n, item in enumerate(inner) if item is wanted), "")
    return ""


def along(root: Any, path: str) -> tuple[Any, ...]:
    """The trail of a path, from its published result on. Raises KeyError where the working is another now."""
    trail = [root]
    for step in path.split("/")[1:]:
        name, _, index = step.partition(".")
        node = trail[-1]
        if not isinstance(node, Known) or name not in node.inputs:
            raise KeyError(path)
        inner = node.inputs[name]
        if index:
            if not isinstance(inner, tuple) or int(index) >= len(inner):
                raise KeyError(path)
            inner = inner[int(index)]
        trail.append(inner)
    return tuple(trail)


def key_of(a: Any, root: object) -> str:
    """The key a result is published under: “heating_demand”, or “set id:heating_demand” under a set's conditions; '' where it is not."""
    for prefix, found in (("", a), *((f"{s.id}:", a.under(s.id)) for s in a.home.target_sets)):
        for key, node in (*found.figures.items(), *found.months.items()):
            if node is root:
                return f"{prefix}{key}"
    return ""


def trail_of(a: Any, path: str) -> tuple[Any, ...]:
    """The trail of a path in an assessment. Raises KeyError where there is none such any more."""
    set_id, _, key = path.split("/")[0].rpartition(":")
    found = a.under(set_id) if set_id else a
    root = found.figures.get(key) or found.months.get(key)
    if root is None:
        raise KeyError(path)
    return along(root, path)


def sources(node: object, width: float) -> Sketch:
    """What a result rests on: values people entered, what follows from data and rules, and that it was checked. ids “lead:part:field”."""
    entered, rest, more = come_from(node)
    groups = [("Entered by people", entered), ("From data and rules", rest)]
    made = Sketch(width, 64 + sum(34 + 21 * len(rows) for _, rows in groups) + 24, "Where it comes from")
    made.text(0, 16, "Where it comes from", size=13, bold=True)
    y = 26.0
    for title, rows in groups:
        if not rows:
            continue
        made.line((0, y), (width, y), stroke="line")
        made.text(0, y + 16, title, size=11.5, color="muted", bold=True)
        y += 22
        for leaf in rows:
            ident = f"lead:{leaf.part}:{leaf.field}" if leaf.part else ""
            made.rect(0, y, width, 20, stroke="", id=ident, tip=f"{leaf.label}: {in_short(leaf)}, {said_of(leaf)}")
            value = fitted(in_short(leaf), width * 0.42, 11.5)
            room = width - 26 - 6.6 * len(value)
            made.text(0, y + 14, fitted(leaf.label, room, 11.5), size=11.5, id=ident, color="slate" if ident else "ink")
            made.text(width - 18, y + 14, value, size=11.5, anchor="end", id=ident)
            made.text(width - 13, y + 14, MARKS.get(leaf.basis, " "), size=11.5, id=ident)
            y += 21
        y += 8
    if more:
        made.text(0, y + 8, f"and {more} more", size=11, color="muted")
        y += 18
    made.line((0, y), (width, y), stroke="line")
    checked = agrees(node)
    said = {True: "worked out again from its inputs: the same", False: "worked out again: not the same", None: "nothing to work out again"}
    made.text(0, y + 16, said[checked], size=11, color="muted")
    made.height = y + 26
    return made


def pinned_working(a: object, of: str) -> Sketch:
    """A pinned working as a drawing of its own, the formula in its written form above it. Raises KeyError."""
    trail = trail_of(a, of)
    root, node = trail[0], trail[-1]
    below = working(root, node, WIDTH)
    formula = node.calc.formula.split("; ") if isinstance(node, Known) else []
    made = Sketch(WIDTH, below.height + 50 + 16 * len(formula), f"How {node.label} is worked out")
    made.text(0, 14, fitted(" › ".join(n.label for n in trail), WIDTH * 0.7, 12), size=12, color="muted")
    made.text(WIDTH, 14, in_short(node), size=13, bold=True, anchor="end")
    for n, line in enumerate(formula):
        made.text(0, 36 + 16 * n, fitted(line, WIDTH, 12), size=12)
    made.text(
        WIDTH, 36, fitted(node.calc.clause if isinstance(node, Known) else "", WIDTH * 0.45, 10.5), size=10.5, color="muted", anchor="end"
    )
    made.add(below, 0, 44 + 16 * len(formula))
    return made


PICTURES = (Picture("working", "How it is worked out", pinned_working),)
"""`of` is the path of a working, not a part."""
