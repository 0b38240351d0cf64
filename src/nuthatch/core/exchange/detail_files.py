"""One detail as a file: JSON that a person writes or Nuthatch does, read with every fault told by line and block."""

from __future__ import annotations

import difflib
import json
from typing import Annotated, Any, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.files.located import Fault, Located, parse
from nuthatch.core.heatflow.section import Block, Flank, Line, Point, Section, SectionFault, Space, checked

LARGEST = 5_000_000
"""Bytes of a file of a detail."""
KIND = "detail"
Number = Annotated[float, Field(allow_inf_nan=False, strict=True)]
Corner = tuple[Number, Number]
Name = Annotated[str, Field(min_length=1, max_length=200)]


class _Row(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class _Drawn(_Row):
    """Something with an outline: its corners, or a rectangle by two of them."""

    name: Name
    outline: tuple[Corner, ...] | None = Field(default=None, max_length=5000)
    rectangle: tuple[Number, Number, Number, Number] | None = None

    @model_validator(mode="after")
    def _one_of_both(self) -> Self:
        if (self.outline is None) == (self.rectangle is None):
            raise ValueError("it needs either “outline”, a list of corners [x, y], or “rectangle”, [left, low, right, high]")
        return self

    @property
    def corners(self) -> tuple[Point, ...]:
        if self.rectangle is not None:
            left, low, right, high = self.rectangle
            return (left, low), (right, low), (right, high), (left, high)
        return self.outline or ()


class _Block(_Drawn):
    conductivity: Number | None = None
    cavity: bool = Field(default=False, strict=True)
    glazing: bool = Field(default=False, strict=True)

    @model_validator(mode="after")
    def _one_material(self) -> Self:
        if self.cavity and self.conductivity is not None:
            raise ValueError("an air cavity has no λ of its own: leave “conductivity” out")
        if not self.cavity and self.conductivity is None:
            raise ValueError("“conductivity” is missing: λ in W/(m·K), or “cavity”: true for closed air")
        return self


class _Space(_Drawn):
    kind: Literal["inside", "outside", "unheated"]
    temperature: Number | None = None
    film: Number | None = None
    b: Number | None = None


class _Flank(_Row):
    name: Name
    inner: Number
    outer: Number
    u: Number | None = None
    across: tuple[Corner, Corner] | None = None
    to: str = ""


class _Detail(_Row):
    nuthatch: Literal["detail"]
    name: Name = "Detail"
    plane: Literal["vertical", "horizontal"] = "vertical"
    blocks: tuple[_Block, ...] = Field(max_length=5000)
    spaces: tuple[_Space, ...] = Field(max_length=50)
    flanks: tuple[_Flank, ...] = Field(default=(), max_length=50)


USUAL = {"inside": 20.0, "outside": -5.0, "unheated": 5.0}
"""Temperatures where a space says none [°C]; ψ and f_Rsi do not depend on them."""


def read(data: bytes, name: str = "detail.json") -> Section:
    """The section of a file, checked. Raises HomeFileError with file, line and what would be right."""
    try:
        if len(data) > LARGEST:
            raise Fault(1, "", f"the file is larger than {LARGEST // 1_000_000} MB, far too large for a detail")
        section = _section(_parsed(parse(data)))
        checked(section)
        return section
    except (Fault, SectionFault) as fault:
        raise HomeFileError(f"{name}: {fault}") from None


def _parsed(lines: Located) -> _Detail:
    if not isinstance(lines.data, dict):
        raise Fault(1, "", "a detail is an object in braces with “nuthatch”: “detail”, blocks and spaces")
    try:
        return _Detail.model_validate(lines.data)
    except ValidationError as error:
        first = error.errors()[0]
        where = tuple(first["loc"])
        raise Fault(lines.line(where), _place(lines.data, where), _words(first, where)) from None


def _place(data: Any, where: tuple[str | int, ...]) -> str:
    """“blocks, “brick””: the list and the name of its row where it has one."""
    if len(where) > 1 and isinstance(where[1], int):
        row = data[where[0]][where[1]]
        named = row.get("name") if isinstance(row, dict) else None
        rest = "".join(f", {w}" for w in where[2:] if isinstance(w, str))
        return f"{where[0]}, {f'“{named}”'[:80] if isinstance(named, str) else f'row {where[1] + 1}'}{rest}"
    return ", ".join(map(str, where))


def _words(first: Any, where: tuple[str | int, ...]) -> str:
    if first["type"] == "missing":
        return f"“{where[-1]}” is missing"
    if first["type"] == "extra_forbidden":
        keys = {k for kind in (_Detail, _Block, _Space, _Flank) for k in kind.model_fields}
        near = difflib.get_close_matches(str(where[-1]), sorted(keys), 1, 0.5)
        return f"“{where[-1]}” is not known here" + (f"; did you mean “{near[0]}”?" if near else "")
    return str(first["msg"]).removeprefix("Value error, ")


def _section(read: _Detail) -> Section:
    blocks = tuple(Block(b.name, b.corners, b.conductivity, b.glazing) for b in read.blocks)
    spaces = tuple(
        Space(s.name, s.kind, s.corners, USUAL[s.kind] if s.temperature is None else s.temperature, s.film, s.b) for s in read.spaces
    )
    flanks = tuple(Flank(f.name, f.inner, f.outer, f.u, _line(f.across), f.to) for f in read.flanks)
    return Section(read.name, blocks, spaces, flanks, read.plane)


def _line(across: tuple[Corner, Corner] | None) -> Line | None:
    return across


def to_bytes(section: Section) -> bytes:
    """A section as the file it is read from."""

    def row(**values: object) -> dict[str, object]:
        return {k: v for k, v in values.items() if v not in (None, False, "")}

    document = {
        "nuthatch": KIND,
        "name": section.name,
        "plane": section.plane,
        "blocks": [
            row(name=b.name, outline=b.outline, conductivity=b.conductivity, cavity=b.conductivity is None, glazing=b.glazing)
            for b in section.blocks
        ],
        "spaces": [
            {"name": s.name, "kind": s.kind, "outline": s.outline, "temperature": s.temperature}
            | {k: v for k, v in (("film", s.film), ("b", s.b)) if v is not None}
            for s in section.spaces
        ],
        "flanks": [{"name": f.name, "inner": f.inner, "outer": f.outer} | row(u=f.u, across=f.across, to=f.to) for f in section.flanks],
    }
    return json.dumps(document, ensure_ascii=False, indent=1).encode()
