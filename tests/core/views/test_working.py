"""How a result is worked out: formulas read and typeset, numbers put in, what an input moves, trails that can be pinned."""

from __future__ import annotations

import random
import re
from math import exp, log
from typing import Any

import numpy as np
import pytest

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import SetValue, apply, declared
from nuthatch.core.results.calculation import DECLARED, Calculation
from nuthatch.core.results.figure import CannotKnow, Known, walk
from nuthatch.core.results.formulas import Call, Choice, Minus, Name, Number, Pair, Tree, Unreadable, lines_of, put_in, symbol, typeset
from nuthatch.core.results.sensitivity import effect_of
from nuthatch.core.sketch import Text
from nuthatch.core.units import INCH_POUND, using
from nuthatch.core.views.pictures import PICTURES
from nuthatch.core.views.working import along, as_text, come_from, key_of, path_to, sources, trail_of, working

CLOSED = [c for c in DECLARED if c.closed and c.function.__module__.startswith("nuthatch.")]
OTHER_UNITS = ("time_constant",)
"""kJ and W are stored, hours come out: the tests of units check it."""


def value_of(tree: Tree, look: Any) -> float:
    """A tree evaluated with plain numbers in stored units; a constant with a unit counts as its number, in the unit it names."""
    if isinstance(tree, Number):
        return float(tree.text)
    if isinstance(tree, Name):
        return float(look(tree.text))
    if isinstance(tree, Minus):
        return -value_of(tree.inner, look)
    if isinstance(tree, Choice):
        left, right = value_of(tree.condition.left, look), value_of(tree.condition.right, look)  # type: ignore[union-attr]
        holds = {"<": left < right, ">": left > right, "≤": left <= right, "≥": left >= right, "=": left == right}
        return value_of(tree.first if holds[tree.condition.sign] else tree.rest, look)  # type: ignore[union-attr]
    if isinstance(tree, Call):
        got = [value_of(a, look) for a in tree.arguments]
        return {"max": max, "min": min, "ln": lambda x: log(x), "exp": exp, "abs": abs, "√": lambda x: x**0.5}[tree.name](*got)  # type: ignore[operator]
    assert isinstance(tree, Pair)
    a, b = value_of(tree.left, look), value_of(tree.right, look)
    return {"+": a + b, "−": a - b, "·": a * b, "/": a / b if b else 0.0, "^": a**b}[tree.sign]


def uses_sum(tree: Any) -> bool:
    if isinstance(tree, Call):
        return tree.name == "Σ" or any(uses_sum(a) for a in tree.arguments)
    return any(uses_sum(getattr(tree, k)) for k in ("left", "right", "inner", "first", "condition", "rest") if hasattr(tree, k))


PLAIN = [
    c
    for c in CLOSED
    if not any(uses_sum(t) for _, t in lines_of(c.formula)) and c.function.__name__ not in OTHER_UNITS and "[" not in c.formula and "Array" not in str(c.function.__annotations__)
]  # fmt: skip


@pytest.mark.parametrize("calc", PLAIN, ids=lambda c: c.function.__name__)
def test_our_reader_reads_a_formula_as_its_function_computes_it(calc: Calculation) -> None:
    """Random inputs through the tree of the written formula and through the function itself."""
    rng, done = random.Random(7), 0
    lines = dict(lines_of(calc.formula))
    result = next(iter(lines))
    for _ in range(30):
        given, words = {}, {}
        for name in calc.symbols:
            text, kind = calc.symbols[name]
            symbols = text.split(", ")
            drawn = tuple(rng.uniform(0.02, 0.04) if kind == "width" else rng.uniform(0.2, 3.0) for _ in symbols)
            given[name] = drawn if len(symbols) > 1 else drawn[0]
            words.update(zip(symbols, drawn, strict=True))

        def look(word: str, words: dict[str, float] = words) -> float:
            return np.pi if word == "π" else words[word] if word in words else value_of(lines[word], look)

        try:
            want = calc.function(**given)
        except (CannotKnow, TypeError, ValueError, IndexError):
            continue
        assert value_of(lines[result], look) == pytest.approx(float(want), rel=1e-9, abs=1e-12), calc.formula
        done += 1
    assert done or any("tuple[float, ...]" in str(v) for v in calc.function.__annotations__.values())


def test_every_closed_formula_is_typeset_by_matplotlib() -> None:
    from matplotlib.mathtext import MathTextParser

    parser = MathTextParser("path")
    for calc in CLOSED:
        for line in typeset(calc.formula):
            parser.parse(f"${line}$")
    assert typeset("U = a/(b + c)·d^2") == (r"U = \frac{a}{b + c} \cdot d^{2}",)
    assert typeset("Q = H·(θ_i − θ_e)·t")[0] == r"Q = H \cdot \left(θ_{\mathrm{i}} - θ_{\mathrm{e}}\right) \cdot t"
    assert typeset("x = a − (b − c)")[0] == r"x = a - \left(b - c\right)"
    assert typeset("x = 0 if y ≤ 2 else max(y, √(z))") == (
        r"x = 0\quad \mathrm{if}\; y \leq 2",
        r"\qquad \mathrm{max}\left(y, \sqrt{z}\right)\quad \mathrm{else}",
    )
    assert symbol("n50") == r"\mathrm{n50}"
    for wrong in ("x", "x = (a", "x = a ? b", "x = a b", "x = if"):
        with pytest.raises(Unreadable):
            typeset(wrong)


def test_numbers_put_in_are_those_of_the_inputs(form_assessed: Assessment) -> None:
    """Loss of fresh air in January and July, by hand from its three inputs; with units, in both systems."""
    months = form_assessed.figures["heating_demand"].inputs["months"]
    fresh = next(t for t in months.inputs["losses"].inputs["terms"] if t.label == "Loss, fresh air")
    for at in (0, 6):
        h, inside, outside = fresh.inputs["coefficient"].value, fresh.inputs["inside"].value, fresh.inputs["outside"].value[at]
        line = put_in(fresh, at)[0]
        result = h * (inside - outside) * [744, 672, 744, 720, 744, 720, 744][at] / 1000
        for text in (f"{result:.0f}\\,", f"{h:.2f}\\,", f"{inside:.1f}\\,", f"{outside:.1f}\\,"):
            assert text in line, (text, line)
    with using(INCH_POUND):
        assert r"\mathrm{°F}" in put_in(fresh, 0)[0] and r"\mathrm{kBtu}" in put_in(fresh, 0)[0]
    per_area = put_in(form_assessed.figures["heating_demand"])[0]
    shown = f"{form_assessed.figures['heating_demand'].value:.1f}"
    assert r"(12\ months)" in per_area and per_area.startswith(shown), "a sum over months names them"
    parser_ready = [n for n in walk(tuple(form_assessed.figures.values())) if isinstance(n, Known) and n.calc.closed]
    assert len(parser_ready) > 150 and all(put_in(n) for n in parser_ready)


@pytest.mark.parametrize(
    ("label", "part", "field", "value"),
    [("Heat recovery of Ventilation unit in the plant cupboard", "unit", "recovery", 0.924), ("Heating set-point", "site", "heating_setpoint", 21.0),
     ("Air change at 50 Pa, n50", "air", "n50", 0.704), ("diameter of the outdoor air duct of Ventilation unit in the plant cupboard", "unit.1", "diameter", 0.176)],
)  # fmt: skip
def test_what_an_input_moves_is_what_it_moves_when_it_is_typed(
    osier_assessed: Assessment, label: str, part: str, field: str, value: float
) -> None:
    """10 % more, 1 K of a temperature: against a whole new assessment of the changed home."""
    a = osier_assessed
    demand = a.figures["heating_demand"]
    assert isinstance(demand, Known)
    leaf = next(n for n in walk(demand) if n.label == label)
    after = assess(apply(SetValue(part=part, field=field, value=declared(value)), a.home), a.climate, a).figures["heating_demand"].value
    assert effect_of(demand, leaf) == pytest.approx(after - demand.value, rel=1e-9)


def test_a_trail_is_found_again_and_pinned(osier_assessed: Assessment) -> None:
    a = osier_assessed
    under = a.under("passive-house")
    for assessment, root in ((a, a.figures["heating_demand"]), (a, a.months["losses"]), (under, under.figures["primary_energy"])):
        node, trail = root, [root]
        for _ in range(2):
            node = next(i for _, i in node.rows() if isinstance(i, Known))
            trail.append(node)
        key = key_of(a, root)
        assert key == ("passive-house:primary_energy" if assessment is under and root is not a.figures.get("primary_energy") else key)
        path = path_to(key, tuple(trail))
        assert trail_of(a, path) == tuple(trail) and along(root, path)[-1] is node
        drawn = PICTURES["working"].sketch(a, path)
        assert any(isinstance(i, Text) and i.text.startswith(node.calc.formula.split("; ")[0][:12]) for i in drawn.items)
    for gone in ("heating_demand/nothing", "no_such_key", "heating_demand/months/losses/terms.99"):
        with pytest.raises(KeyError):
            trail_of(a, gone)


def test_a_working_as_text_and_drawing_says_inputs_origins_and_effects(form_assessed: Assessment) -> None:
    demand = form_assessed.figures["heating_demand"]
    months = demand.inputs["months"]
    text = as_text((demand, months))
    assert (
        text.splitlines()[0] == "Heating demand › Heating by month"
        and re.search(r"10 % more: \d+\.\d kWh/\(m²·a\)", text)
        and months.calc.clause in text
    )
    made = working(demand, months, 600, 2)
    ids = made.ids()
    assert {f"month:{n}" for n in range(12)} <= ids and {"input:0", "input:1", "input:2"} <= ids
    entered, rest, more = come_from(demand, 40)
    assert len(entered) == 40 and more > 50 and rest and all(leaf.part for leaf in entered)
    said = [i.text for i in sources(demand, 260).items if isinstance(i, Text)]
    assert "worked out again from its inputs: the same" in said and any(s.startswith("and ") for s in said)
