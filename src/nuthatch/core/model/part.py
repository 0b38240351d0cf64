"""What every part of a home is made of: frozen, validated, with its fields described as data."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from typing import Annotated, Any, Literal, Self, TypeVar, get_args

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, model_validator

from nuthatch.core.units import with_unit

Number = Annotated[float, Field(strict=True)]
"""A number of a file: never a truth or a text that looks like one."""
Whole = Annotated[int, Field(strict=True)]
Truth = Annotated[bool, Field(strict=True)]
Id = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9.\-]{0,63}$")]


class Basis(StrEnum):
    """Where a value comes from."""

    ASSUMED = "assumed"
    DECLARED = "declared"
    CALCULATED = "calculated"
    MEASURED = "measured"


class Given(BaseModel):
    """One entered value in SI with its basis; `source` says from where, `evidence` what proves it, `files` the ids of attached files;
    `half`: so far to either side it may lie (95 %), where that is known better than by its basis."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    value: Number
    basis: Basis = Basis.ASSUMED
    source: str = Field(default="", max_length=2000)
    evidence: str = Field(default="", max_length=2000)
    files: tuple[str, ...] | None = Field(default=None, max_length=100)
    half: Number | None = Field(default=None, ge=0)

    @property
    def proven(self) -> bool:
        """Whether something proves it: a reference in words or an attached file."""
        return bool(self.evidence.strip() or self.files)


@dataclass(frozen=True)
class FieldSpec:
    """How a field is named, shown and bounded; `kind` is a quantity kind, 'text', 'note', 'choice', 'flag' or 'ref'.

    `totals`: over all parts of the list the values of this field make 100 %, or that or nothing. `group` heads the fields from this
    one on, `short` is the label below that heading, `only` says for which choices the field is shown: “entry=whole window”, several parted by “|”. `whole`: proven
    as a whole by the drawing, or by the test, it belongs to.
    """

    name: str
    label: str
    kind: str
    above: float | None = None
    least: float | None = None
    most: float | None = None
    choices: tuple[str, ...] = ()
    refers: str = ""
    help: str = ""
    totals: Literal["", "all", "all or none"] = ""
    group: str = ""
    short: str = ""
    only: str = ""
    whole: str = ""

    @property
    def brief(self) -> str:
        """The label where a heading stands above it."""
        return self.short or self.label

    def applies(self, part: Part) -> bool:
        """Whether the field is asked for with the choices of its part."""
        field, _, wanted = self.only.partition("=")
        return not field or str(part[field]) in wanted.split("|")

    @property
    def is_quantity(self) -> bool:
        return self.kind not in ("text", "note", "choice", "ref", "flag")

    def refuse(self, value: float) -> str:
        """Why a value is out of bounds, or ''."""
        if self.above is not None and value <= self.above:
            return f"{self.label} must be more than {with_unit(self.above, self.kind)}; it was {with_unit(value, self.kind)}"
        if self.least is not None and value < self.least:
            return f"{self.label} must be at least {with_unit(self.least, self.kind)}; it was {with_unit(value, self.kind)}"
        if self.most is not None and value > self.most:
            return f"{self.label} must be at most {with_unit(self.most, self.kind)}; it was {with_unit(value, self.kind)}"
        return ""


def quantity(
    kind: str, label: str, *, above: float | None = None, least: float | None = None, most: float | None = None, **more: str
) -> Any:
    """A field that holds a Given or nothing; bounds in SI; more: `help`, `group`, `short`, `only`, and `totals` for a share that makes 100 % with its like."""
    spec = {"kind": kind, "label": label, "above": above, "least": least, "most": most, **more}
    return Field(default=None, json_schema_extra={"nuthatch": {k: v for k, v in spec.items() if v not in (None, "")}})


def text(label: str, default: str = "", *, note: bool = False, **more: str) -> Any:
    """A field of free text; more: `help`, `group`, `short`, `only`, as for every field."""
    spec: Any = {"kind": "note" if note else "text", "label": label, **more}
    return Field(default=default, max_length=20000, json_schema_extra={"nuthatch": spec})


def choice(label: str, default: str, **more: str) -> Any:
    """A field whose annotation is a Literal of its choices."""
    return Field(default=default, json_schema_extra={"nuthatch": {"kind": "choice", "label": label, **more}})


def flag(label: str, default: bool = False, **more: str) -> Any:
    """A yes-or-no field."""
    return Field(default=default, strict=True, json_schema_extra={"nuthatch": {"kind": "flag", "label": label, **more}})


def ref(label: str, refers: str, default: str = "", **more: str) -> Any:
    """A field that names another part by id; `refers` is the home's field where such parts live."""
    return Field(default=default, json_schema_extra={"nuthatch": {"kind": "ref", "label": label, "refers": refers, **more}})


@cache
def specs(cls: type[BaseModel]) -> dict[str, FieldSpec]:
    """Specs of the described fields of a part class, in order."""
    found = {}
    for name, info in cls.model_fields.items():
        extra = info.json_schema_extra
        if isinstance(extra, dict) and isinstance(extra.get("nuthatch"), dict):
            spec: Any = dict(extra["nuthatch"])  # type: ignore[arg-type]
            if spec["kind"] == "choice":
                spec["choices"] = tuple(str(a) for a in get_args(info.annotation))
            found[name] = FieldSpec(name=name, **spec)
    return found


@cache
def quantities(cls: Any) -> tuple[tuple[str, FieldSpec], ...]:
    """The fields of a part class that hold quantities, with their specs."""
    return tuple((name, spec) for name, spec in specs(cls).items() if spec.is_quantity)


@cache
def inner_fields(cls: Any) -> tuple[str, ...]:
    """Names of the fields that may hold parts with an id, alone or in a tuple; most parts have none."""
    return tuple(name for name, info in cls.model_fields.items() if _holds_parts(info.annotation))


def _holds_parts(annotation: object) -> bool:
    if isinstance(annotation, type) and issubclass(annotation, Part):
        return "id" in annotation.model_fields  # plain rows, such as those of a long log, are never looked for one by one
    return any(_holds_parts(a) for a in get_args(annotation))


class Part(BaseModel):
    """Base of all parts: frozen, nothing unknown accepted, no NaN or infinity, bounds of quantities checked."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    def __getitem__(self, field: str) -> Any:
        """The value of a field by its name. Raises KeyError for what is no field."""
        if field not in type(self).model_fields:
            raise KeyError(f"{type(self).__name__} has no field {field!r}")
        return getattr(self, field)

    @model_validator(mode="after")
    def _bounds(self) -> Self:
        for name, spec in quantities(type(self)):
            given = getattr(self, name)
            if given is not None:
                reason = spec.refuse(given.value)
                if reason:
                    raise ValueError(reason)
        return self


class IdentifiedPart(Part):
    """A part that can be named: by changes, questions, references, lists."""

    id: Id


P = TypeVar("P", bound=Part)


def replace(part: P, **changes: object) -> P:
    """A validated copy with some fields changed; untouched fields stay the very same objects."""
    kept = {name: getattr(part, name) for name in type(part).model_fields if name not in changes}
    new = type(part)(**kept, **changes)
    new.__dict__.update(kept)
    return new


def kinds_below(kind: type[Part]) -> tuple[type[Part], ...]:
    """A kind of part and every kind its fields may hold, each once, in the order of the fields."""
    found: dict[type[Part], None] = {}

    def visit(annotation: object) -> None:
        for inner in get_args(annotation):
            visit(inner)
        if isinstance(annotation, type) and issubclass(annotation, Part) and annotation not in found:
            found[annotation] = None
            for info in annotation.model_fields.values():
                visit(info.annotation)

    visit(kind)
    return tuple(found)
