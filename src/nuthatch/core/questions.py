"""Open questions: what is missing, ambiguous or implausible, each with the very field that settles it.

Each domain asks its own in a stage of its own (`asks`); here they are gathered and put in the order of the steps.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from nuthatch.core.model.home import Home, walk_parts
from nuthatch.core.model.options import Certainty
from nuthatch.core.model.part import Basis, Given, Part, quantities
from nuthatch.core.results.figure import Figure, Unknown
from nuthatch.core.results.question import Question
from nuthatch.core.steps import STEPS, step_of

_SINGLE = {
    "site": "Site",
    "brief": "Brief",
    "form": "Quick form",
    "plans": "Storey plans",
    "shape": "Shape",
    "air": "Air",
    "household": "Household",
    "hot-water": "Hot water",
    "home": "Home",
}


def name_of(part: Part) -> str:
    """What people call a part."""
    ident = str(getattr(part, "id", ""))
    return _SINGLE.get(ident) or str(getattr(part, "name", "") or ident)


def gathered(home: Home, judged: Iterable[Figure], asked: Iterable[Question]) -> tuple[Question, ...]:
    """All open questions of a home in the order of the steps, one for each field: what judged results need comes first, worded as its
    own domain asks where it does."""
    parts = {p.id: p for p in walk_parts(home)}
    found: dict[tuple[str, str], Question] = {}
    needs = dict.fromkeys(n for figure in judged if isinstance(figure, Unknown) for n in figure.needs if n.part)
    own: dict[tuple[str, str], Question] = {}
    for question in asked:
        own.setdefault((question.part, question.field), question)
    wanted = (own.get((n.part, n.field)) or Question(n.part, n.field, _asks(n.text)) for n in needs)
    for question in (*wanted, *own.values()):
        part = parts.get(question.part)
        if part is not None and (question.part, question.field) not in found:
            step = step_of(part, question.field)
            item = question.item or name_of(part)
            found[(question.part, question.field)] = Question(question.part, question.field, question.says, question.amounts, step, item)
    order = {key: n for n, key in enumerate(STEPS)}
    return tuple(sorted(found.values(), key=lambda q: order[q.step]))


PLURAL = re.compile(r"(?:^|\s)(?!gas$|loss$|gains?$)\w*[^s\Wu]s$|people$", re.I)


def _asks(text: str) -> str:
    """A need as a sentence, in the right number: “Bedrooms are not given”, “A heat source for heating is needed”."""
    first = f"{text[0].upper()}{text[1:]}"
    head, comma, _ = text.partition(",")
    subject = re.split(r" (?:of|for|between|from|that|below|at|in|with|through|to|outside|inside|under|along|a) ", head)[0]
    be = "are" if PLURAL.search(subject) else "is"
    wanted = text.startswith(("a ", "an ", "the ", "shares", "openings that", "faces", "one of"))
    return f"{first}{',' if comma else ''} {be} {'needed' if wanted else 'not given'}"


@dataclass(frozen=True)
class Standing:
    """How a step stands: open questions, values resting on assumptions, whether anything was entered at all."""

    questions: int
    assumed: int
    entered: bool = True


def standings(home: Home, asked: tuple[Question, ...]) -> dict[str, Standing]:
    """The state of every step for the route."""
    assumed = dict.fromkeys(STEPS, 0)
    held = {step_of(part, "") for part in walk_parts(home) if getattr(part, "name", "")}
    for step, _, _, given in values(home):
        held.add(step)
        assumed[step] += given.basis is Basis.ASSUMED
    held |= {"site"} if home.site.climate is not None else set()
    held |= {"junctions"} if home.junctions_none else set()
    return {s: Standing(sum(1 for q in asked if q.step == s), assumed[s], s in held) for s in STEPS}


def values(home: Home) -> Iterator[tuple[str, Part, str, Given]]:
    """Every given value but the coordinates of drawings and the readings of tests: (step, part, field, value)."""
    for part in walk_parts(home):
        for name, spec in () if isinstance(part, Certainty) else quantities(type(part)):  # how sure one is rests on nothing
            given = None if spec.whole else part[name]
            if given is not None:
                yield step_of(part, name), part, name, given


def assumptions(home: Home) -> Iterator[tuple[str, Part, str, Given]]:
    """Every value that rests on an assumption."""
    return (v for v in values(home) if v[3].basis is Basis.ASSUMED)
