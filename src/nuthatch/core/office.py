"""The office profile: the consultant's own defaults, and new homes that start from it or from a like home."""

from __future__ import annotations

import io
import json
import re
import zipfile
from dataclasses import dataclass, field
from functools import lru_cache
from pathlib import Path
from typing import Any, Literal

from pydantic import Field, ValidationError

from nuthatch.core.exchange.own_sets import own_sets, read_set, save_set, set_bytes
from nuthatch.core.files.homefile import LARGEST_HOME, STAMP, HomeFileError, canonical, members, put, read_bytes
from nuthatch.core.files.located import Fault, parse
from nuthatch.core.files.places import config_folder
from nuthatch.core.library import new_home
from nuthatch.core.model.details import Detail
from nuthatch.core.model.dossier import DossierProfile
from nuthatch.core.model.home import SCHEMA, Brief, BuildUp, Fan, Home, Opening, OpeningType, OwnPsi, PressureGauge, Shape, walk_parts
from nuthatch.core.model.household import ApplianceSet
from nuthatch.core.model.migrations import NewerSchema, migrate
from nuthatch.core.model.options import OwnCost
from nuthatch.core.model.part import Basis, Given, IdentifiedPart, Part, choice, inner_fields, quantity, replace, specs, text
from nuthatch.core.model.rooms import RoomKind

PROFILE, WEATHER, SETS = "profile.json", "climate.epw", "target-sets/"
LOGOS = {"png": b"\x89PNG", "jpg": b"\xff\xd8\xff", "svg": b"<"}
LARGEST_LOGO = 5_000_000


class Material(IdentifiedPart):
    """A material of the office's own library."""

    id: str
    name: str = text("Material")
    conductivity: Given | None = quantity("conductivity", "Conductivity λ", above=0, most=500)
    density: Given | None = quantity("density", "Density", above=0, most=25000)
    specific_heat: Given | None = quantity("specific_heat", "Specific heat", above=0, most=10000)
    mu: Given | None = quantity("factor", "Vapour resistance μ", above=0, most=1e7)


class Office(IdentifiedPart):
    """What the consultant's office brings to every home. `start` is the home a new home begins as."""

    id: Literal["office"] = "office"
    company: str = text("Company")
    address: str = text("Address")
    contact: str = text("Telephone, e-mail")
    author: str = text("Stands on the dossier as author")
    units: Literal["metric", "inch-pound"] = choice("Units", "metric")
    logo: str = Field(default="", max_length=10)
    start: Home = Field(default_factory=new_home)
    materials: tuple[Material, ...] = ()
    buildups: tuple[BuildUp, ...] = ()
    opening_types: tuple[OpeningType, ...] = ()
    details: tuple[Detail, ...] = ()
    psis: tuple[OwnPsi, ...] = ()
    costs: tuple[OwnCost, ...] = ()
    appliance_sets: tuple[ApplianceSet, ...] = ()
    room_kinds: tuple[RoomKind, ...] = ()
    dossiers: tuple[DossierProfile, ...] = ()
    fans: tuple[Fan, ...] = ()
    gauges: tuple[PressureGauge, ...] = ()
    test_purpose: Literal["building in use", "envelope", "as a rule says"] = choice(
        "Air tests are of the", "envelope", help="ISO 9972: methods 1, 2 and 3 in this order"
    )


@dataclass(frozen=True)
class OfficeFile:
    """The profile with its logo and the weather file of its climate; own target sets go along when it is exported."""

    office: Office
    logo: bytes | None = None
    weather: bytes | None = None
    sets: tuple[Any, ...] = field(default=())


def to_bytes(content: OfficeFile) -> bytes:
    """The profile as one file: a zip; the same profile gives the same bytes."""
    office = json.loads(json.dumps(content.office.model_dump(mode="json", exclude_none=True, exclude={"start"})))
    document = {"nuthatch": "office profile", "schema": SCHEMA, "office": office, "start": json.loads(canonical(content.office.start))}
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(zipfile.ZipInfo(PROFILE, STAMP), json.dumps(document, ensure_ascii=False, indent=1), zipfile.ZIP_DEFLATED)
        if content.logo is not None and content.office.logo:
            archive.writestr(zipfile.ZipInfo(f"logo.{content.office.logo}", STAMP), content.logo)
        if content.weather is not None:
            archive.writestr(zipfile.ZipInfo(WEATHER, STAMP), content.weather, zipfile.ZIP_DEFLATED)
        for chosen in content.sets:
            archive.writestr(zipfile.ZipInfo(f"{SETS}{chosen.id}.json", STAMP), set_bytes(chosen), zipfile.ZIP_DEFLATED)
    return buffer.getvalue()


_SET_NAME = re.compile(rf"^{SETS}[a-z0-9][a-z0-9.\-]{{0,63}}\.json$")


def _belongs(name: str) -> int:
    if _SET_NAME.match(name):
        return 2_000_000
    return {PROFILE: LARGEST_HOME, WEATHER: 60_000_000, **{f"logo.{k}": LARGEST_LOGO for k in LOGOS}}.get(name, 0)


def from_bytes(data: bytes) -> OfficeFile:
    """A profile from its file. Raises HomeFileError with the place of the fault."""
    found = members(data, "office profile", PROFILE, _belongs)
    try:
        lines = parse(found[PROFILE])
        document = lines.data
        if not isinstance(document, dict) or not isinstance(document.get("office"), dict) or not isinstance(document.get("start"), dict):
            raise HomeFileError(f"{PROFILE} must be an object with “office” and “start”")
        if type(document.get("schema")) is not int:
            raise HomeFileError(f"{PROFILE} must say its “schema”, a whole number")
        raw = {**document["office"], "start": migrate(document["start"], document["schema"])}
        office = Office.model_validate(raw)
        sets = tuple(read_set(content) for name, content in found.items() if name.startswith(SETS))
    except Fault as fault:
        raise HomeFileError(f"{PROFILE}, {fault}") from None
    except NewerSchema as error:
        raise HomeFileError(str(error)) from None
    except ValidationError as error:
        first = error.errors()[0]
        where = tuple(first["loc"])
        under = where if where[:1] == ("start",) else ("office", *where)
        message = first["msg"].removeprefix("Value error, ")
        raise HomeFileError(f"{PROFILE}, line {lines.line(under)}, {'.'.join(map(str, under))}: {message}") from None
    logo = found.get(f"logo.{office.logo}") if office.logo else None
    if logo is not None and not is_logo(logo, office.logo):
        raise HomeFileError(f"the logo is no {office.logo} picture")
    return OfficeFile(replace(office, logo="") if logo is None else office, logo, found.get(WEATHER), sets)


def is_logo(data: bytes, ending: str) -> bool:
    """Whether the bytes are a picture of this kind."""
    head = data.lstrip() if ending == "svg" else data
    return ending in LOGOS and len(data) <= LARGEST_LOGO and head.startswith(LOGOS[ending]) and (ending != "svg" or b"<svg" in data[:4000])


def profile_path() -> Path:
    """Where the profile is kept."""
    return config_folder() / "office.nuthatch-office"


def load_office() -> tuple[OfficeFile, str]:
    """(the profile, or the library's defaults, what is wrong with the file). The file is left as it is."""
    path = profile_path()
    try:
        known = path.stat()
    except OSError:
        return _library_s(), ""
    return _loaded(path, known.st_mtime_ns, known.st_size, known.st_ino)


@lru_cache(maxsize=1)
def _library_s() -> OfficeFile:
    """The library's defaults: where no profile is kept they are asked for as often."""
    return OfficeFile(Office())


@lru_cache(maxsize=2)
def _loaded(path: Path, changed: int, size: int, node: int) -> tuple[OfficeFile, str]:
    """The profile as the file was then: boards ask for it often."""
    try:
        return from_bytes(read_bytes(path)), ""
    except HomeFileError as problem:
        return OfficeFile(Office()), f"The office profile cannot be used: {problem}. The library's defaults hold."


def save_office(content: OfficeFile) -> None:
    """Keep the profile; one that could not be read is put aside, not overwritten. Raises HomeFileError."""
    path = profile_path()
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        if path.exists() and load_office()[1]:
            path.replace(path.with_name(path.name + ".unreadable"))
    except OSError as error:
        raise HomeFileError(f"{path}: {error.strerror or error}") from None
    put(path, to_bytes(content))


def export_office(content: OfficeFile, path: Path) -> None:
    """The profile with the own target sets as one file. Raises HomeFileError."""
    put(path, to_bytes(OfficeFile(content.office, content.logo, content.weather, own_sets()[0])))


def import_office(path: Path) -> OfficeFile:
    """Take a profile from a file and keep it; own target sets of it join those here. Raises HomeFileError, nothing changed."""
    try:
        content = from_bytes(read_bytes(path))
    except HomeFileError as problem:
        raise HomeFileError(f"{path}: {problem}") from None
    for chosen in content.sets:
        save_set(chosen)
    kept = OfficeFile(content.office, content.logo, content.weather)
    save_office(kept)
    return kept


# new homes

CARRIED: dict[str, tuple[str, tuple[str, ...]]] = {
    "client": ("Client and project", ()),
    "sets": ("Target sets", ("target_sets",)),
    "site": ("Climate and site", ("site",)),
    "build-ups": ("Build-ups", ("buildups",)),
    "types": ("Opening types", ("opening_types",)),
    "shape": ("Shape and openings", ("shape", "openings")),
    "junctions": ("Junctions", ("junctions", "junctions_none")),
    "air": ("Ventilation", ("air",)),
    "water": ("Hot water", ("water",)),
    "household": ("Household", ("household",)),
    "heat": ("Heat sources and carriers", ("carriers", "electricity", "currency", "sources")),
}
RESTS_ON = {"shape": ("build-ups", "types"), "junctions": ("shape", "build-ups", "types")}


def carried(chosen: set[str]) -> set[str]:
    """The chosen groups with those they rest on."""
    return chosen | {need for key in chosen for need in RESTS_ON.get(key, ())}


def _unmeasured(part: Part) -> Any:
    """A part without what was measured in its home and without the files that prove it."""
    changes: dict[str, object] = {}
    for name in type(part).model_fields:
        value = part[name]
        if isinstance(value, Given):
            if value.basis is Basis.MEASURED:
                changes[name] = None
            elif value.files:
                changes[name] = value.model_copy(update={"files": None})
        elif isinstance(value, Part):
            new = _unmeasured(value)
            if new is not value:
                changes[name] = new
        elif isinstance(value, tuple) and value and isinstance(value[0], Part) and name != "target_sets":
            items = tuple(_unmeasured(v) for v in value)
            if any(a is not b for a, b in zip(items, value, strict=True)):
                changes[name] = items
    return replace(part, **changes) if changes else part


def like(other: Home, chosen: set[str], start: Home, name: str = "New home") -> Home:
    """A new home like another: the chosen groups from it, all else from the start. Nothing measured is carried over."""
    groups = carried(chosen)
    source: Home = _unmeasured(other)
    fields = {f: source[f] for key in groups for f in CARRIED[key][1]}
    if "client" in groups:
        fields["brief"] = replace(source.brief, plot="", visit="", visit_notes="", notes="")
    elif "shape" in groups:
        fields["brief"] = replace(start.brief, bedrooms=source.brief.bedrooms, dwelling=source.brief.dwelling)
    made = replace(start, name=name, evidence=(), pins=(), **fields)
    made = replace(made, air=replace(made.air, test=""))  # tests are measured: they stay with their home
    return mended(made)


def mended(home: Home) -> Home:
    """References that lead nowhere are emptied, so that they are asked about instead of being wrong."""
    builds, types, carriers = ({p.id for p in rows} for rows in (home.buildups, home.opening_types, home.carriers))
    shape: Shape = home.shape
    if shape.form is not None:
        lost = {f: "" for f in ("wall_buildup", "party_buildup", "top_buildup", "base_buildup") if shape.form[f] not in builds}
        shape = replace(shape, form=replace(shape.form, **lost))
    if shape.plans is not None:
        shape = replace(shape, plans=_without_lost(shape.plans, builds))
    shape = replace(shape, faces=tuple(f if f.buildup in builds else replace(f, buildup="") for f in shape.faces))
    openings: tuple[Opening, ...] = tuple(o if o.type in types else replace(o, type="") for o in home.openings)
    sources = tuple(s if s.carrier in carriers else replace(s, carrier="") for s in home.sources)
    electricity = home.electricity if home.electricity in carriers else ""
    return replace(home, shape=shape, openings=openings, sources=sources, electricity=electricity)


def _without_lost(part: Part, builds: set[str]) -> object:
    """A part of the plans, and all below it, without build-ups that are not there."""
    changed: dict[str, object] = {}
    kind: type[Part] = type(part)
    for name, spec in specs(kind).items():
        if spec.refers == "buildups" and part[name] and part[name] not in builds:
            changed[name] = ""
    for name in inner_fields(kind):
        kept = part[name]
        if not isinstance(kept, tuple):
            continue
        new = tuple(_without_lost(p, builds) for p in kept)
        if any(a is not b for a, b in zip(new, kept, strict=True)):
            changed[name] = new
    return replace(part, **changed) if changed else part


def measured_in(home: Home) -> int:
    """How many values of a home were measured: what will not be carried over."""
    return sum(
        1
        for part in walk_parts(home)
        for name in specs(type(part))
        if isinstance(given := part[name], Given) and given.basis is Basis.MEASURED
    )


def start_home(office: Office, name: str = "New home") -> Home:
    """The home a new one begins as."""
    return replace(office.start, name=name, brief=replace(Brief(), project=office.start.brief.project))


def from_starter(start: Home, starter: Home, name: str) -> Home:
    """A new home from a starter home, within what the office starts every home with: its climate, carriers, prices and target sets,
    where it has chosen any; a source whose kind of carrier the office has none of brings its own."""
    kinds = {c.kind: c.id for c in reversed(start.carriers)}
    kept = {c.id: c for c in starter.carriers}
    carriers = [*start.carriers]
    sources = []
    for source in starter.sources:
        kind = kept[source.carrier].kind
        if kind not in kinds:
            carriers.append(kept[source.carrier])
            kinds[kind] = source.carrier
        sources.append(replace(source, carrier=kinds[kind]))
    brief = replace(start.brief, dwelling=starter.brief.dwelling, project=starter.brief.project)
    taken = ("shape", "buildups", "opening_types", "openings", "junctions", "air", "household", "water")
    parts = {field: starter[field] for field in taken}
    return replace(
        start,
        name=name,
        brief=brief,
        target_sets=start.target_sets if start != new_home(start.name) else starter.target_sets,
        carriers=tuple(carriers),
        sources=tuple(sources),
        **parts,
    )
