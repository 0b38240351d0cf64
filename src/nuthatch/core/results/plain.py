"""Results as plain data and arrays, and back: what is kept on disk. Nothing that is read can run anything: only dataclasses of ours,
declared calculations, numbers, texts and arrays come of it."""

from __future__ import annotations

import sys
from collections.abc import Mapping
from dataclasses import fields, is_dataclass
from typing import Any

import numpy as np

from nuthatch.core.results.calculation import Calculation, calculation_of

OURS = "nuthatch."


class NotPlain(ValueError):
    """A result that cannot be kept as plain data, or data that is none of a result."""


def to_plain(value: object) -> tuple[object, list[np.ndarray]]:
    """(JSON data, arrays) of a result. Raises NotPlain."""
    arrays: list[np.ndarray] = []
    seen: dict[int, int] = {}
    return _out(value, arrays, seen), arrays


def _out(value: object, arrays: list[np.ndarray], seen: dict[int, int]) -> object:
    if value is None or isinstance(value, str | bool | int | float) and type(value) in (str, bool, int, float):
        return value
    if isinstance(value, np.generic):
        return _out(value.item(), arrays, seen)
    if isinstance(value, np.ndarray):
        if value.dtype.hasobject:
            raise NotPlain("an array of objects")
        arrays.append(value)
        return {"array": len(arrays) - 1}
    if type(value) is tuple:
        return {"tuple": [_out(v, arrays, seen) for v in value]}
    if isinstance(value, tuple):  # a named one
        return {"named": _name(value), "values": [_out(v, arrays, seen) for v in value]}
    if isinstance(value, Mapping):
        return {"pairs": [[_out(k, arrays, seen), _out(v, arrays, seen)] for k, v in value.items()]}
    if isinstance(value, Calculation):
        return {"calculation": {**value.described(), "symbols": {k: list(v) for k, v in value.symbols.items()}}}
    if is_dataclass(value) and not isinstance(value, type):
        if id(value) in seen:
            return {"again": seen[id(value)]}
        inner = {f.name: _out(getattr(value, f.name), arrays, seen) for f in fields(value) if f.init}
        seen[id(value)] = len(seen)
        return {"made": _name(value), "of": inner}
    raise NotPlain(f"a {type(value).__module__}.{type(value).__qualname__}")


def _name(value: object) -> str:
    return f"{type(value).__module__}:{type(value).__qualname__}"


def from_plain(data: object, arrays: list[np.ndarray]) -> object:
    """A result of its data and arrays. Raises NotPlain where they are none."""
    try:
        return _in(data, arrays, [])
    except (KeyError, IndexError, TypeError, AttributeError, ValueError, RecursionError) as error:
        raise NotPlain(f"damaged ({type(error).__name__})") from None


def _in(data: object, arrays: list[np.ndarray], seen: list[object]) -> object:
    if not isinstance(data, dict):
        if isinstance(data, list):
            raise NotPlain("a bare list")
        return data
    if "array" in data:
        found = arrays[data["array"]]
        found.flags.writeable = False
        return found
    if "tuple" in data:
        return tuple([_in(v, arrays, seen) for v in data["tuple"]])
    if "pairs" in data:
        return {_in(k, arrays, seen): _in(v, arrays, seen) for k, v in data["pairs"]}
    if "calculation" in data:
        said = data["calculation"]
        return calculation_of({**said, "symbols": {k: tuple(v) for k, v in said["symbols"].items()}})
    if "again" in data:
        return seen[data["again"]]
    if "named" in data:
        return _class(data["named"], tuple)(*[_in(v, arrays, seen) for v in data["values"]])
    kind = _class(data["made"], None)
    made = kind(**{k: _in(v, arrays, seen) for k, v in data["of"].items()})
    seen.append(made)
    return made


def _class(name: str, base: type | None) -> Any:
    """A class of ours by its name: of a module that is loaded, a dataclass or a named tuple."""
    module, _, kind = name.partition(":")
    if not module.startswith(OURS) or module not in sys.modules:
        raise NotPlain(f"{name} is not known here")
    found = getattr(sys.modules[module], kind, None)
    right = isinstance(found, type) and (issubclass(found, base) if base is not None else is_dataclass(found))
    if not right:
        raise NotPlain(f"{name} is no result")
    return found


__all__ = ["NotPlain", "from_plain", "to_plain"]
