"""Whether a stage is wired to what exists: its arguments are what its function takes, its paths lead to fields of the home, its attributes
are there. Checked when stages are collected, so that a misspelt name fails there and not in the middle of somebody's work."""

from __future__ import annotations

import inspect
import sys
from collections.abc import Iterator
from dataclasses import fields, is_dataclass
from functools import lru_cache
from operator import attrgetter
from typing import get_args, get_type_hints

from nuthatch.core.graph.stage import ITEM, HomeRead, Member, Named, Read, Slot, Special, Stage, Those
from nuthatch.core.model.home import Home
from nuthatch.core.model.part import Part


class Miswired(TypeError):
    """Stages do not fit together, or not with the home: what, and where it is declared."""


def check(stage: Stage) -> None:
    """Raises Miswired with the place where a stage is declared."""
    for fault in _faults(stage):
        raise Miswired(f"“{stage.name}” ({stage.place}): {fault}")


def _faults(stage: Stage) -> Iterator[str]:
    yield from _arguments(stage)
    for name, read in (*stage.reads.items(), *((("each", stage.each),) if stage.each is not None else ())):
        yield from (f"{name}: {fault}" for fault in _read(stage, read))
    yield from _published(stage)
    if stage.slow:
        yield from _sent(stage)


def _arguments(stage: Stage) -> Iterator[str]:
    """The function takes each read by its name, and nothing besides."""
    parameters = inspect.signature(stage.function).parameters
    taken = {n: p.default is p.empty for n, p in parameters.items() if p.kind in (p.POSITIONAL_OR_KEYWORD, p.KEYWORD_ONLY)}
    rest = next((p for p in parameters.values() if p.kind is p.VAR_KEYWORD), None)
    if rest is not None:
        named = _typed_dict(stage.function, str(rest.annotation))
        if named is None:
            yield f"takes **{rest.name} of no known names: give them a TypedDict"
            return
        taken |= dict.fromkeys(named, True)
    for name in stage.reads:
        if name not in taken:
            yield f"reads “{name}”, which its function does not take"
    for name, needed in taken.items():
        if needed and name not in stage.reads:
            yield f"its function takes “{name}”, which is not read"


def _typed_dict(function: object, annotation: str) -> tuple[str, ...] | None:
    """The names of `**reads: Unpack[Names]`, None where they are not told."""
    name = annotation.removeprefix("Unpack[").removesuffix("]")
    found = getattr(sys.modules[function.__module__], name, None)
    keys = getattr(found, "__annotations__", None)
    return tuple(keys) if keys is not None and annotation.startswith("Unpack[") else None


def _read(stage: Stage, read: Read) -> Iterator[str]:
    if isinstance(read, HomeRead | Named | Those):
        fault, kinds = lead(read.path)
        if fault:
            yield fault
        elif isinstance(read, Those) and not any(read.attribute in k.model_fields for k in kinds):
            yield f"no part of “{read.path}” has a field “{read.attribute}”"
    if isinstance(read, Named | Those | Member) or read is ITEM:
        if stage.each is None:
            yield "is of the item, but the stage does not run for each of a list"
        elif isinstance(stage.each, HomeRead):
            _, items = lead(stage.each.path)
            wanted = read.attribute if isinstance(read, Named) else _plain(read.by) if isinstance(read, Member) else ""
            if wanted and items and not any(_has(k, wanted) for k in items):
                yield f"“{wanted}” is no attribute of what “{stage.each.path}” holds"
    if isinstance(read, Special) and read.what not in ("item", "climate", "figures"):
        yield f"“{read.what}” is nothing special"


def _plain(by: object) -> str:
    """The attribute an `attrgetter` gets; '' for a function."""
    return str(by.__reduce__()[1][0]) if isinstance(by, attrgetter) else ""


def _has(kind: type, name: str) -> bool:
    return name in getattr(kind, "model_fields", {}) or hasattr(kind, name)


@lru_cache(maxsize=512)
def lead(path: str) -> tuple[str, tuple[type[Part], ...]]:
    """(why a path leads nowhere or '', the kinds of parts it leads to)."""
    kinds: tuple[type[Part], ...] = (Home,)
    for name in path.split("."):
        held = [k.model_fields[name].annotation for k in kinds if name in k.model_fields]
        if not held:
            return f"“{path}” leads nowhere: {' or '.join(k.__name__ for k in kinds) or 'a value'} has no “{name}”", ()
        kinds = tuple(dict.fromkeys(k for a in held for k in _parts(a)))
    return "", kinds


def _parts(annotation: object) -> Iterator[type[Part]]:
    if isinstance(annotation, type) and issubclass(annotation, Part):
        yield annotation
    for inner in get_args(annotation):
        yield from _parts(inner)


def _published(stage: Stage) -> Iterator[str]:
    """What a slot publishes is an attribute of what its function says it gives."""
    if not isinstance(stage.gives, Slot) or not (wanted := [a for a in (*stage.gives.figures.values(), *stage.gives.months.values()) if a]):
        return
    kinds = _returned(stage.function)
    for name in wanted:
        if kinds and not any(name in k for k in kinds):
            yield f"publishes “{name}”, which is no attribute of what it gives"


def _returned(function: object) -> list[set[str]]:
    """The attributes of the dataclasses a function may return; none where it does not say."""
    try:
        said = get_type_hints(function).get("return")
    except NameError:
        return []
    return [{f.name for f in fields(k)} | set(dir(k)) for k in (said, *get_args(said)) if is_dataclass(k)]


def _sent(stage: Stage) -> Iterator[str]:
    """A slow stage runs in another process: its function is found there by its name."""
    if "<" in stage.function.__qualname__:
        yield "is slow: its function must be one of a module, to be found by its name in another process"
