"""JSON read so that every value knows its line: faults in files people write by hand are told by line and key."""

from __future__ import annotations

import json
import re
from bisect import bisect_left
from dataclasses import dataclass
from json.decoder import scanstring  # type: ignore[attr-defined]
from typing import Any

Where = tuple[str | int, ...]
DEEPEST = 60
LARGEST_NUMBER = 1.7976931348623157e308
_SPACE = re.compile(r"[ \t\r\n]*")
_NUMBER = re.compile(r"-?(?:0|[1-9]\d*)(?:\.\d+)?(?:[eE][-+]?\d+)?")
_WORDS = {"true": True, "false": False, "null": None}


class Fault(ValueError):
    """A fault with its place; `str()` is “line 12, targets.0.name: …”."""

    def __init__(self, line: int, place: str, text: str) -> None:
        self.line, self.place, self.text = line, place, text
        super().__init__(f"line {line}{', ' + place if place else ''}: {text}")


@dataclass(frozen=True)
class Located:
    """The data and the line of every key and item."""

    data: Any
    lines: dict[Where, int]

    def line(self, where: Where) -> int:
        """The line of a place, or of the nearest one that stands in the file."""
        while where and where not in self.lines:
            where = where[:-1]
        return self.lines.get(where, 1)


class _Reader:
    def __init__(self, text: str) -> None:
        self.text, self.lines = text, {}  # type: tuple[str, dict[Where, int]]
        self._ends = [m.start() for m in re.finditer("\n", text)]

    def line(self, at: int) -> int:
        """The line of a character."""
        return bisect_left(self._ends, at) + 1

    def fault(self, at: int, text: str, where: Where = ()) -> Fault:
        return Fault(self.line(at), ".".join(map(str, where)), text)

    def skip(self, at: int) -> int:
        match = _SPACE.match(self.text, at)
        return match.end() if match else at

    def value(self, at: int, where: Where) -> tuple[object, int]:
        at = self.skip(at)
        self.lines.setdefault(where, self.line(at))
        if len(where) > DEEPEST:
            raise self.fault(at, "nested too deeply")
        head = self.text[at : at + 1]
        if head == "{":
            return self.object(at + 1, where)
        if head == "[":
            return self.array(at + 1, where)
        if head == '"':
            return self.string(at, where)
        number = _NUMBER.match(self.text, at)
        if number:
            text = number.group()
            if len(text) > 300:
                raise self.fault(at, "a number of more than 300 digits", where)
            value = float(text) if re.search("[.eE]", text) else int(text)
            if abs(value) > LARGEST_NUMBER:
                raise self.fault(at, f"{text} is too large", where)
            return value, number.end()
        for word, meaning in _WORDS.items():
            if self.text.startswith(word, at):
                return meaning, at + len(word)
        found = self.text[at : at + 12].split("\n")[0]
        raise self.fault(at, f"a value was expected, found “{found}”" if found else "the file ends too early", where)

    def string(self, at: int, where: Where) -> tuple[str, int]:
        try:
            text, end = scanstring(self.text, at + 1, True)
        except json.JSONDecodeError as error:
            raise self.fault(error.pos, f"in a text: {error.msg.lower()}", where) from None
        return str(text), int(end)

    def after(self, at: int, close: str, where: Where) -> tuple[bool, int]:
        """Past a comma (True) or the closing bracket (False)."""
        at = self.skip(at)
        mark = self.text[at : at + 1]
        if mark == ",":
            following = self.skip(at + 1)
            if self.text[following : following + 1] == close:
                raise self.fault(at, f"a comma stands before “{close}”; take it away", where)
            return True, following
        if mark == close:
            return False, at + 1
        raise self.fault(at, f"“,” or “{close}” was expected, found “{mark or 'the end of the file'}”", where)

    def object(self, at: int, where: Where) -> tuple[dict[str, object], int]:
        found: dict[str, object] = {}
        at = self.skip(at)
        if self.text[at : at + 1] == "}":
            return found, at + 1
        more = True
        while more:
            at = self.skip(at)
            if self.text[at : at + 1] != '"':
                raise self.fault(at, "a key in double quotes was expected", where)
            start = at
            key, at = self.string(at, where)
            inner = (*where, key)
            if key in found:
                raise self.fault(start, "this key stands twice", inner)
            at = self.skip(at)
            if self.text[at : at + 1] != ":":
                raise self.fault(at, "“:” was expected after the key", inner)
            found[key], at = self.value(at + 1, inner)
            more, at = self.after(at, "}", inner)
        return found, at

    def array(self, at: int, where: Where) -> tuple[list[Any], int]:
        found: list[object] = []
        at = self.skip(at)
        if self.text[at : at + 1] == "]":
            return found, at + 1
        more = True
        while more:
            item, at = self.value(at, (*where, len(found)))
            found.append(item)
            more, at = self.after(at, "]", (*where, len(found) - 1))
        return found, at


def parse(data: bytes | str) -> Located:
    """JSON with lines. Raises Fault."""
    text = data if isinstance(data, str) else _decoded(data)
    reader = _Reader(text)
    value, end = reader.value(0, ())
    end = reader.skip(end)
    if end < len(text):
        raise reader.fault(end, f"the file should end here, found “{text[end : end + 12]}”")
    return Located(value, reader.lines)


def _decoded(data: bytes) -> str:
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise Fault(data[: error.start].count(b"\n") + 1, "", "this is not UTF-8 text") from None
