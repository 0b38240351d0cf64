"""Stages as declarations: what a stage reads (fields, parts, results of others), what it gives, whether it is slow.

    PEOPLE: Slot[Figure] = Slot("people", figures={"people": ""})

    @stage(PEOPLE, brief=field("brief.bedrooms"), household=part("household"), studio=STUDIO)
    def people(...): ...

A slot holds one result, a family one for each of many parts by id. `each` makes a stage run once for every part of a list or
every member of a family; it then may read the part itself (`ITEM`), what the part refers to, and one member of another family.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from dataclasses import field as attribute
from operator import attrgetter
from typing import Any, Generic, TypeVar

from nuthatch.core.results.figure import Unknown, missing

T = TypeVar("T")
LONGEST = 600.0
"""Seconds after which a slow stage is given up."""


class Read:
    """Something a stage reads."""


@dataclass(frozen=True)
class Slot(Read, Generic[T]):
    """One named result. `figures` and `months` publish it: key → attribute of the value ('' for the value itself)."""

    name: str
    figures: Mapping[str, str] = attribute(default_factory=dict, hash=False)
    months: Mapping[str, str] = attribute(default_factory=dict, hash=False)
    asks: bool = False


@dataclass(frozen=True)
class Family(Read, Generic[T]):
    """One result for each of many parts, by id: a dict."""

    name: str

    def at(self, by: str | Callable[[Any], str] = "id") -> Member:
        """In an `each` stage: the member named by an attribute, or a function, of the item; None where there is none."""
        return Member(self.name, attrgetter(by) if isinstance(by, str) else by)


@dataclass(frozen=True)
class Member(Read):
    """One member of a family; `by` gives its id from the item."""

    family: str
    by: Callable[[object], str]


@dataclass(frozen=True)
class HomeRead(Read):
    """A path into the home: a field, a part or a list of parts. `leaf`: a quantity arrives as the leaf of a working."""

    path: str
    leaf: bool = False


@dataclass(frozen=True)
class Named(Read):
    """In an `each` stage: the part of a list whose id an attribute of the item names; None where there is none."""

    path: str
    attribute: str


@dataclass(frozen=True)
class Those(Read):
    """In an `each` stage: the parts of a list one of whose fields names the item."""

    path: str
    attribute: str


@dataclass(frozen=True)
class Special(Read):
    """The item of an `each` stage, the climate, or all figures published so far."""

    what: str


ITEM, CLIMATE, FIGURES = Special("item"), Special("climate"), Special("figures")


def field(path: str) -> HomeRead:
    """One field by its path, such as “site.soil_conductivity”; a quantity arrives as a leaf, a choice as its value."""
    return HomeRead(path, True)


def part(path: str) -> HomeRead:
    """A part, or a list of parts, whole."""
    return HomeRead(path)


def named(path: str, by: str) -> Named:
    """The part of a list that the item's attribute `by` names."""
    return Named(path, by)


def those(path: str, by: str) -> Those:
    """The parts of a list whose field `by` names the item."""
    return Those(path, by)


@dataclass(frozen=True, eq=False)
class Stage:
    """One declared stage. Of a slow one: `at_hand`, its inputs may show that the result is there at once; `waiting`, what stands in its
    place meanwhile; `failed`, what does where it ended without a result; `seconds`, the longest it may take. `kept`: its result is
    found again by the content of what it reads, for any home. `near`: whether the result of other reads may stand for it in a trial that
    does not wait; `prompt`: such a trial works it out at once, and keeps nothing of it; a function: so, by what of it is asked for."""

    gives: Slot[object] | Family[object]
    function: Callable[..., object]
    reads: Mapping[str, Read]
    each: Read | None = None
    slow: bool = False
    at_hand: Callable[..., bool] | None = None
    waiting: Callable[[float], object] | None = None
    failed: Callable[[str], object] | None = None
    seconds: float = LONGEST
    kept: bool = False
    near: Callable[[Mapping[str, object], Mapping[str, object]], bool] | None = None
    prompt: bool | Callable[..., object] = False

    @property
    def name(self) -> str:
        return self.gives.name

    @property
    def place(self) -> str:
        """Where it is declared."""
        code = getattr(self.function, "__code__", None)
        return f"{self.function.__module__}, line {code.co_firstlineno}" if code is not None else str(self.function.__module__)


def _unknown_of(waiting: Callable[[float], object]) -> Callable[[str], Unknown]:
    """What says why there is no result, in the words of what stands in its place while it is waited for."""

    def made(reason: str) -> Unknown:
        place = waiting(0.0)
        return missing(getattr(place, "label", "result"), getattr(place, "kind", "text"), reason)

    return made


class Stages(list[Stage]):
    """The stages of one domain, collected by its decorator."""

    def stage(
        self, gives: Slot[Any] | Family[Any], /, each: Read | None = None, **reads: Read
    ) -> Callable[[Callable[..., object]], Callable[..., object]]:
        """Declare a function as a stage."""

        def wrap(function: Callable[..., object]) -> Callable[..., Any]:
            self.append(Stage(gives, function, reads, each))
            return function

        return wrap

    def kept(self, gives: Slot[Any], /, **reads: Read) -> Callable[[Callable[..., object]], Callable[..., object]]:
        """Declare a function as a stage whose result is kept by the content of what it reads: geometry that many homes share."""

        def wrap(function: Callable[..., object]) -> Callable[..., object]:
            self.append(Stage(gives, function, reads, kept=True))
            return function

        return wrap

    def slow(
        self,
        gives: Slot[object] | Family[Any],
        /,
        waiting: Callable[[float], object],
        each: Read | None = None,
        at_hand: Callable[..., bool] | None = None,
        failed: Callable[[str], object] | None = None,
        seconds: float = LONGEST,
        near: Callable[[Mapping[str, Any], Mapping[str, Any]], bool] | None = None,
        prompt: bool | Callable[..., object] = False,
        **reads: Read,
    ) -> Callable[[Callable[..., object]], Callable[..., object]]:
        """Declare a slow stage: it runs in another process, so that its function must be one of a module. `waiting(since)` is what stands
        in its place meanwhile, `failed(reason)` what does where it ended without a result; by default an Unknown with the words of what
        is waited for."""

        def wrap(function: Callable[..., object]) -> Callable[..., object]:
            made = failed or _unknown_of(waiting)
            self.append(Stage(gives, function, reads, each, True, at_hand, waiting, made, seconds, near=near, prompt=prompt))
            return function

        return wrap
