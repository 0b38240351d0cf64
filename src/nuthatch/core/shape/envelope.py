"""From the home's shape to the envelope: faces with area figures, volumes, reference floor area."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from nuthatch.core.fabric import buildup as fabric
from nuthatch.core.fabric.openings import need
from nuthatch.core.figure import CannotKnow, Entered, Node, Result, calculation, missing, total
from nuthatch.core.model.home import BuildUp, QuickForm, Shape
from nuthatch.core.model.part import Given
from nuthatch.core.shape import quick
from nuthatch.core.shape.faces import Surface, normal


@dataclass(frozen=True, eq=False)
class Envelope:
    """The envelope in the home's dimensions: `surfaces` for calculation, `drawn` the outer faces for drawings."""

    surfaces: tuple[Surface, ...]
    drawn: tuple[Surface, ...]
    areas: dict[str, Result]
    storeys: tuple[quick.Storey, ...]
    outer: quick.Box | None
    inner: quick.Box | None
    reference_area: Result
    volume: Result
    air_volume: Result
    wall_thickness: float


SIZES = ("length", "depth", "storeys", "storey_height")


def thicknesses(form: QuickForm, buildups: tuple[BuildUp, ...]) -> quick.Thicknesses:
    """Thickness at each side of the form, from the build-ups it names."""
    known = {b.id: fabric.thickness(b) for b in buildups}
    sides = {s: known.get(form.party_buildup if getattr(form, s) == "neighbour" else form.wall_buildup, 0.0) for s in quick.SIDES}
    return quick.Thicknesses(**sides, top=known.get(form.top_buildup, 0.0), base=known.get(form.base_buildup, 0.0))


def _with_numbers(form: QuickForm, length: float, depth: float, storeys: float, storey_height: float, pitch: float) -> QuickForm:
    numbers = {"length": length, "depth": depth, "storeys": storeys, "storey_height": storey_height, "pitch": pitch}
    return form.model_construct(**{**form.__dict__, **{k: Given.model_construct(value=v) for k, v in numbers.items()}})


def _rooms_inside(form: QuickForm, thickness: quick.Thicknesses) -> tuple[quick.Box, quick.Box]:
    """(outer, inner) boxes. Raises CannotKnow where the build-ups leave no room."""
    outer, inner = quick.boxes(form, thickness)
    if inner.length <= 0 or inner.depth <= 0 or inner.eaves <= 0:
        raise CannotKnow("walls thinner than the home: no room is left inside")
    return outer, inner


@calculation(
    "Area of a face",
    "area",
    "area of the face drawn from the quick form",
    "plane geometry",
    length="L",
    depth="D",
    storeys="n",
    storey_height="h",
    pitch="pitch",
    form="form",
    thickness="build-ups",
    inside="dimensions",
)
def face_area(
    length: float,
    depth: float,
    storeys: float,
    storey_height: float,
    pitch: float,
    form: QuickForm,
    thickness: quick.Thicknesses,
    inside: str,
    face: str,
) -> float:
    """Gross area of one face [m²]."""
    form = _with_numbers(form, length, depth, storeys, storey_height, pitch)
    outer, inner = quick.boxes(form, thickness)
    vector = normal(quick.solid(form, inner if inside == "internal" else outer)[face])
    return float((vector @ vector) ** 0.5)


@calculation(
    "Reference floor area",
    "area",
    "Σ internal area · (1 − partitions) · factor by height",
    "method: rooms of a storey; half from 1 to 2 m height",
    length="L",
    depth="D",
    storeys="n",
    storey_height="h",
    pitch="pitch",
    form="form",
    thickness="build-ups",
)
def form_area(
    length: float, depth: float, storeys: float, storey_height: float, pitch: float, form: QuickForm, thickness: quick.Thicknesses
) -> float:
    """[m²] over all storeys of the quick form."""
    form = _with_numbers(form, length, depth, storeys, storey_height, pitch)
    outer, inner = _rooms_inside(form, thickness)
    return sum(s.counted for s in quick.storeys(form, outer, inner))


@calculation(
    "Heated volume",
    "volume",
    "volume enclosed by the outer faces",
    "plane geometry",
    length="L",
    depth="D",
    storeys="n",
    storey_height="h",
    pitch="pitch",
)
def form_volume(
    length: float, depth: float, storeys: float, storey_height: float, pitch: float, form: QuickForm, thickness: quick.Thicknesses
) -> float:
    """External volume [m³]."""
    form = _with_numbers(form, length, depth, storeys, storey_height, pitch)
    return quick.box_volume(form, quick.boxes(form, thickness)[0])


@calculation(
    "Air volume",
    "volume",
    "volume inside the build-ups less the upper floors",
    "ISO 9972:2015, 6.1.1",
    length="L",
    depth="D",
    storeys="n",
    storey_height="h",
    pitch="pitch",
)
def form_air_volume(
    length: float, depth: float, storeys: float, storey_height: float, pitch: float, form: QuickForm, thickness: quick.Thicknesses
) -> float:
    """Internal volume of the heated space [m³]."""
    form = _with_numbers(form, length, depth, storeys, storey_height, pitch)
    outer, inner = _rooms_inside(form, thickness)
    return quick.air_volume(form, outer, inner)


@calculation("Entered value", "area", "as entered", "entered")
def as_entered(value: float) -> float:
    """A value taken as entered."""
    return value


def take(label: str, kind: str, leaf: Node) -> Result:
    """An entered leaf as a Figure of its own, so that it can be shown as a result."""
    return replace(as_entered, label=label, kind=kind).figure(label, value=leaf)


def _pitch_needed(form: QuickForm) -> bool:
    return form.roof != "flat" and form.under_roof != "insulated ceiling"


def _form_leaves(form: QuickForm) -> dict[str, Node]:
    leaves: dict[str, Node] = {name: need(form, name, "shape") for name in SIZES}
    leaves["pitch"] = need(form, "pitch", "shape") if _pitch_needed(form) else Entered("no slope", 0.0, "angle")
    return leaves


def from_form(shape: Shape, form: QuickForm, buildups: tuple[BuildUp, ...]) -> Envelope:
    """The envelope of a quick form."""
    t = thicknesses(form, buildups)
    leaves: dict[str, Any] = _form_leaves(form)
    common = {
        **leaves,
        "form": Entered(f"form: {form.roof} roof, {form.under_roof}", form),
        "thickness": Entered("thickness of the build-ups", t),
    }
    overrides = {"reference": shape.measured_area, "air": shape.air_volume}
    reference = (
        take("Reference floor area", "area", need(shape, "measured_area", "shape"))
        if overrides["reference"]
        else form_area.figure(**common)
    )
    air = take("Air volume", "volume", need(shape, "air_volume", "shape")) if overrides["air"] else form_air_volume.figure(**common)
    heated = form_volume.figure(**common)
    if any(n.value is None for n in leaves.values()) or form.front_azimuth is None:
        gap = missing("Face areas", "area", "the direction the front looks to", "shape", "form", "front_azimuth")
        return Envelope((), (), {"": heated if heated.value is None else gap}, (), None, None, reference, heated, air, t.front)
    outer, inner = quick.boxes(form, t)
    drawn = quick.surfaces(form, outer)
    used = quick.surfaces(form, inner) if shape.dimensions == "internal" else drawn
    areas = {
        s.id: face_area.figure(f"Area of {s.name}", **common, inside=Entered("dimensions", shape.dimensions), face=Entered("face", s.id))
        for s in used
    }
    storeys = quick.storeys(form, outer, inner) if min(inner.length, inner.depth, inner.eaves) > 0 else ()
    wall = max(getattr(t, s) for s in quick.SIDES)
    return Envelope(used, drawn, areas, storeys, outer, inner, reference, heated, air, wall)


def from_list(shape: Shape, buildups: tuple[BuildUp, ...]) -> Envelope:
    """The envelope of a list of faces; volumes and floor area are typed."""
    surfaces, areas = [], {}
    known = {b.id: fabric.thickness(b) for b in buildups}
    for f in shape.faces:
        areas[f.id] = take(f"Area of {f.name}", "area", need(f, "area", "shape"))
        upright = f.role in ("wall", "party wall")
        tilt = f.tilt.value if f.tilt else (90.0 if upright else 180.0 if f.role == "floor" else 0.0)
        surfaces.append(
            Surface(
                f.id,
                f.name,
                f.role,
                f.area.value if f.area else 0.0,
                tilt,
                f.azimuth.value if f.azimuth else 0.0,
                f.borders,
                f.buildup,
                f.b.value if f.b else None,
                f.perimeter.value if f.perimeter else None,
            )
        )
    wall = next((known.get(f.buildup, 0.0) for f in shape.faces if f.role == "wall"), 0.3)
    return Envelope(
        tuple(surfaces),
        tuple(surfaces),
        areas,
        (),
        None,
        None,
        take("Reference floor area", "area", need(shape, "measured_area", "shape")),
        take("Heated volume", "volume", need(shape, "volume", "shape")),
        take("Air volume", "volume", need(shape, "air_volume", "shape")),
        wall,
    )


def envelope(shape: Shape, buildups: tuple[BuildUp, ...]) -> Envelope:
    """The envelope of a home, whoever made its faces."""
    return from_form(shape, shape.form, buildups) if shape.form is not None else from_list(shape, buildups)


def envelope_area(areas: dict[str, Result], surfaces: tuple[Surface, ...]) -> Result:
    """All faces that enclose the heated air, party walls included (ISO 9972)."""
    if not areas:
        return missing("Envelope area", "area", "faces", "shape", "shape", "faces")
    return total("Envelope area", "area", tuple(areas.values()), "ISO 9972:2015, 6.1.2")
