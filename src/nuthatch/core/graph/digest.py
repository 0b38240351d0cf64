"""What a stage reads, as a digest of its content: equal content gives equal digests, in any process, on any day."""

from __future__ import annotations

import hashlib
import struct
from collections.abc import Callable, Mapping
from dataclasses import fields, is_dataclass
from enum import Enum
from functools import cache, lru_cache
from pathlib import Path
from typing import Any, Protocol, runtime_checkable

import numpy as np
import shapely
from pydantic import BaseModel

from nuthatch import __version__
from nuthatch.core.graph.alive import while_alive

SIZE = 20


@runtime_checkable
class Identified(Protocol):
    """What tells its content by less than all it holds: a climate by the hash of its file."""

    def content(self) -> tuple[object, ...]: ...


@while_alive
def _told(thing: Any) -> str:
    """The digest of an object's content, remembered as long as it lives: what is large, frozen and read by many says `told_once`."""
    return digest(*_parts(thing))


def digest(*things: object) -> str:
    """Digest of things by their content. Raises TypeError for what has none: an object that is told by its address."""
    writer = _Writer()
    for thing in things:
        writer.add(thing)
    return writer.hash.hexdigest()


class _Writer:
    """Feeds things into a hash, each with its kind; what is met again by the same object is told by its place."""

    def __init__(self) -> None:
        self.hash = hashlib.blake2b(digest_size=SIZE)
        self._seen: dict[int, int] = {}
        self._held: list[object] = []

    def add(self, thing: object) -> None:
        plain = _PLAIN.get(type(thing))
        if plain is not None:
            self._put(type(thing).__name__, plain(thing))
        elif isinstance(thing, tuple | list):
            self._many("tuple" if isinstance(thing, tuple) else "list", thing)
        elif isinstance(thing, Mapping):
            self._many("mapping", [x for pair in thing.items() for x in pair])
        elif isinstance(thing, set | frozenset):
            self._many("set", sorted(digest(x) for x in thing))
        else:
            self._object(thing)

    def _put(self, kind: str, data: bytes) -> None:
        self.hash.update(f"{kind}:{len(data)}:".encode())
        self.hash.update(data)

    def _many(self, kind: str, things: Any) -> None:
        self._put(kind, str(len(things)).encode())
        for thing in things:
            self.add(thing)

    def _object(self, thing: Any) -> None:
        if id(thing) in self._seen:
            self._put("again", str(self._seen[id(thing)]).encode())
            return
        self._seen[id(thing)] = len(self._seen)
        self._held.append(thing)  # so that no other object gets its address meanwhile
        kind = f"{type(thing).__module__}.{type(thing).__qualname__}"
        if isinstance(thing, np.ndarray | np.generic):
            whole = np.ascontiguousarray(thing)
            self._put(f"array {whole.dtype.str} {whole.shape}", whole.tobytes())
        elif isinstance(thing, Enum):
            self._put(kind, str(thing.value).encode())
        elif getattr(type(thing), "told_once", False):
            self._put(kind, _told(thing).encode())
        elif isinstance(thing, BaseModel):
            self._many(kind, _parts(thing))
        elif isinstance(thing, shapely.Geometry):
            self._put(kind, thing.wkb)
        elif _identified(thing.__class__):
            self._many(kind, thing.content())
        elif is_dataclass(thing) and not isinstance(thing, type):
            self._many(kind, _parts(thing))
        elif callable(thing) and "<" not in getattr(thing, "__qualname__", "<"):
            self._put("function", f"{thing.__module__}:{thing.__qualname__}".encode())
        else:
            raise TypeError(f"a {kind} has no content that could be told: a stage cannot be slow that reads it")


@cache
def _identified(kind: Any) -> bool:
    """Whether things of a type tell their content themselves."""
    return issubclass(kind, Identified)


def _parts(thing: Any) -> list[object]:
    """What is in an object."""
    kind: Any = thing.__class__
    return list(thing.content()) if _identified(kind) else [getattr(thing, name) for name in _compared(kind)]


@cache
def _compared(kind: Any) -> tuple[str, ...]:
    """The fields of a part or a dataclass that make two of it the same."""
    return tuple(kind.model_fields) if issubclass(kind, BaseModel) else tuple(f.name for f in fields(kind) if f.compare)


_PLAIN: dict[type, Callable[[Any], bytes]] = {
    type(None): lambda _: b"",
    bool: lambda x: b"1" if x else b"0",
    int: lambda x: str(x).encode(),
    float: lambda x: struct.pack("<d", x),
    str: lambda x: x.encode("utf-8", "surrogatepass"),
    bytes: bytes,
}


@lru_cache(maxsize=256)
def code_of(module_file: str) -> str:
    """Digest of the code beside a module: a result of code that was another is not that of today's."""
    folder = Path(module_file).parent
    return digest(__version__, *((p.name, p.read_bytes()) for p in sorted(folder.glob("*.py"))))
