"""One producer of the shape: the quick form. Its solid, and its areas and volumes with their workings."""

from __future__ import annotations

from typing import Any

from nuthatch.core.model.home import QuickForm
from nuthatch.core.model.part import Given
from nuthatch.core.plans.polygons import Polygon, area_of, area_vector, tilt_and_azimuth
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.entries import Entry, need, optional, word
from nuthatch.core.results.figure import CannotKnow, Entered, Figure, Node
from nuthatch.core.solid import quick
from nuthatch.core.solid.quick import SIDES, Dims, Thicknesses
from nuthatch.core.solid.solid import HEATED, Boundary, Solid, space_beyond, spaces_of

SIZES = ("length", "depth", "storeys", "storey_height")
CHOICES = ("roof", "ridge", "under_roof", "traced")
PLACES = {"front": "the front", "right": "the right side", "back": "the back", "left": "the left side"}


def sloped(form: QuickForm) -> bool:
    """Whether the top follows a roof pitch."""
    return form.roof != "flat" and form.under_roof != "insulated ceiling"


def thicknesses(form: QuickForm, known: dict[str, float]) -> Thicknesses:
    """Thickness at each side of the form, from the build-ups it names."""
    sides = {s: known.get(form.party_buildup if form[s] == "neighbour" else form.wall_buildup, 0.0) for s in SIDES}
    return Thicknesses(**sides, top=known.get(form.top_buildup, 0.0), base=known.get(form.base_buildup, 0.0))


# workings: the sizes, slope, choices, finish and thicknesses a figure of the form is made from


def _dims(sizes: tuple[float, ...], slope: tuple[Any, ...], finish: tuple[float, ...] = (0.0, 0.0)) -> Dims:
    length, depth, storeys, height = sizes
    pitch, roof, ridge, under, traced = slope
    return Dims(length, depth, round(storeys), height, pitch, roof, ridge, under, traced, *finish)


def size_leaves(form: QuickForm) -> dict[str, object]:
    """The leaves every figure of the form is made from."""
    pitch: Node = need(form, "pitch") if sloped(form) else Entered("no slope", 0.0, "angle")
    return {"sizes": tuple(need(form, n) for n in SIZES), "slope": (pitch, *(word(form, n) for n in CHOICES))}


def finish_leaves(form: QuickForm) -> tuple[Node, ...]:
    """Partitions and upper floors."""
    return optional(form, "partition_share", 0.0, "none"), optional(form, "floor_thickness", 0.0, "none")


def thickness_leaves(t: Thicknesses) -> tuple[Node, ...]:
    """The thickness of the build-up at each side, above and below."""
    places = {**{s: f"build-up at {PLACES[s]}" for s in SIDES}, "top": "build-up above", "base": "build-up below"}
    return tuple(
        Entered(f"thickness of the {text}", getattr(t, s), "thickness", "calculated", "sum of its layers") for s, text in places.items()
    )


def _rooms_inside(d: Dims, t: Thicknesses) -> tuple[quick.Box, quick.Box]:
    """(outer, inner) boxes. Raises CannotKnow where the build-ups leave no room."""
    outer, inner = quick.boxes(d, t)
    if inner.length <= 0 or inner.depth <= 0 or inner.eaves <= 0:
        raise CannotKnow("walls thinner than the home: no room is left inside")
    return outer, inner


@calculation(
    "Area of a face",
    "area",
    "area of the face drawn from the quick form: its corners follow from the sizes, the slope and, on inner faces, the build-ups",
    "plane geometry",
    closed=False,
    sizes="L, D, n, h: length, length, count, length",
    slope="pitch, roof, ridge, under roof, traced: angle, text, text, text, text",
    thick="d: thickness",
    dimensions="dimensions: text",
)
def face_area(sizes: tuple[float, ...], slope: tuple[object, ...], thick: tuple[float, ...], dimensions: str, face: str) -> float:
    """Gross area of one face [m²]."""
    d = _dims(sizes, slope)
    outer, inner = quick.boxes(d, Thicknesses(*thick))
    return area_of(quick.solid(d, inner if dimensions == "internal" else outer)[face])


@calculation(
    "Reference floor area",
    "area",
    "internal area of each storey without partitions; half of it where the height is 1 to 2 m, none below 1 m",
    "method: rooms of a storey; half from 1 to 2 m height",
    closed=False,
    least=0,
    sizes="L, D, n, h: length, length, count, length",
    slope="pitch, roof, ridge, under roof, traced: angle, text, text, text, text",
    thick="d: thickness",
    finish="partitions, upper floors: percent, thickness",
)
def form_area(sizes: tuple[float, ...], slope: tuple[object, ...], thick: tuple[float, ...], finish: tuple[float, ...]) -> float:
    """[m²] over all storeys of the quick form."""
    d = _dims(sizes, slope, finish)
    return sum(s.counted for s in quick.storeys(d, *_rooms_inside(d, Thicknesses(*thick))))


@calculation(
    "Heated volume",
    "volume",
    "volume enclosed by the outer faces",
    "plane geometry",
    closed=False,
    least=0,
    sizes="L, D, n, h: length, length, count, length",
    slope="pitch, roof, ridge, under roof, traced: angle, text, text, text, text",
    thick="d: thickness",
)
def form_volume(sizes: tuple[float, ...], slope: tuple[object, ...], thick: tuple[float, ...]) -> float:
    """External volume [m³]."""
    d = _dims(sizes, slope)
    return quick.box_volume(d, quick.boxes(d, Thicknesses(*thick))[0])


@calculation(
    "Air volume",
    "volume",
    "volume inside the build-ups less upper floors and partitions: net floor area × clear height",
    "ISO 9972:2015, 6.1.1",
    closed=False,
    least=0,
    sizes="L, D, n, h: length, length, count, length",
    slope="pitch, roof, ridge, under roof, traced: angle, text, text, text, text",
    thick="d: thickness",
    finish="partitions, upper floors: percent, thickness",
)
def form_air_volume(sizes: tuple[float, ...], slope: tuple[object, ...], thick: tuple[float, ...], finish: tuple[float, ...]) -> float:
    """Internal volume of the heated space [m³]."""
    d = _dims(sizes, slope, finish)
    return quick.air_volume(d, *_rooms_inside(d, Thicknesses(*thick)))


@calculation(
    "Envelope area inside",
    "area",
    "area of all faces drawn along the inside of the build-ups",
    "ISO 9972:2015, 6.1.2",
    closed=False,
    least=0,
    sizes="L, D, n, h: length, length, count, length",
    slope="pitch, roof, ridge, under roof, traced: angle, text, text, text, text",
    thick="d: thickness",
)
def form_shell(sizes: tuple[float, ...], slope: tuple[object, ...], thick: tuple[float, ...]) -> float:
    """In overall internal dimensions [m²], party walls included."""
    d = _dims(sizes, slope)
    return sum(area_of(p) for p in quick.solid(d, _rooms_inside(d, Thicknesses(*thick))[1]).values())


@calculation(
    "Exposed perimeter",
    "length",
    "length of the lowest floor's edge along the sides that border no neighbour",
    "ISO 13370:2017, 5.2",
    closed=False,
    least=0,
    sizes="L, D, n, h: length, length, count, length",
    slope="pitch, roof, ridge, under roof, traced: angle, text, text, text, text",
    thick="d: thickness",
    dimensions="dimensions: text",
    exposed="sides: text",
)
def form_perimeter(
    sizes: tuple[float, ...], slope: tuple[object, ...], thick: tuple[float, ...], dimensions: str, exposed: tuple[str, ...]
) -> float:
    """[m] in the home's dimensions."""
    outer, inner = quick.boxes(_dims(sizes, slope), Thicknesses(*thick))
    return quick.exposed_edge(inner if dimensions == "internal" else outer, exposed)


def perimeter(form: QuickForm, leaves: dict[str, object], dimensions: str) -> Figure:
    """The exposed perimeter of the form's lowest floor."""
    open_sides = tuple(
        Entered(f"{PLACES[s]} borders on {form[s]}", s, "text", "declared", "", "form", s) for s in SIDES if form[s] != "neighbour"
    )
    leaf = Entered("dimensions", dimensions, "text", "declared", "", "shape", "dimensions")
    return form_perimeter.figure("exposed perimeter of Lowest floor", **leaves, dimensions=leaf, exposed=open_sides)


# the solid


def solid(form: QuickForm, known: dict[str, float], dimensions: str) -> Solid:
    """The shape of a form whose sizes and direction are given; empty where they are not."""
    values: list[Given | None] = [form[n] for n in SIZES]
    t = thicknesses(form, known)
    if any(v is None for v in values) or form.front_azimuth is None or (sloped(form) and form.pitch is None):
        return Solid()
    d = _given_dims(form)
    outer, inner = quick.boxes(d, t)
    outside, within = quick.solid(d, outer), quick.solid(d, inner)
    north = (form.front_azimuth.value + 180) % 360
    used = within if dimensions == "internal" else outside
    faces = tuple(_boundary(form, name, polygon, north) for name, polygon in used.items())
    rooms = quick.storeys(d, outer, inner) if min(inner.length, inner.depth, inner.eaves) > 0 else ()
    areas = {name: area_of(polygon) for name, polygon in outside.items()}
    return Solid(spaces_of(faces), faces, outside, within, rooms, north, areas)


def _given_dims(form: QuickForm) -> Dims:
    def v(given: Given | None) -> float:
        return given.value if given is not None else 0.0

    choices = [form[n] for n in CHOICES]
    numbers = v(form.length), v(form.depth), round(v(form.storeys)), v(form.storey_height), v(form.pitch)
    length, depth, storeys, height, pitch = numbers
    finish = v(form.partition_share), v(form.floor_thickness)
    return _dims((length, depth, storeys, height), (pitch, *choices), finish)


def _boundary(form: QuickForm, name: str, polygon: Polygon, north: float) -> Boundary:
    """One face with what it borders on and where each of its values was entered."""
    if name.startswith("wall-"):
        side = name.removeprefix("wall-")
        borders = form[side]
        party = borders == "neighbour"
        title, role = f"{'Party wall' if party else 'Wall'}, {side}", "party wall" if party else "wall"
        buildup, b, label = "party_buildup" if party else "wall_buildup", "b_side", f"beside {PLACES[side]}"
    elif name == "floor":
        borders, title, role = form.base, "Lowest floor", "floor"
        buildup, b, label = "base_buildup", "b_base", "below"
    else:
        loft = form.under_roof == "insulated ceiling" and form.roof != "flat"
        borders, role = "unheated space" if loft else "outside air", "ceiling" if loft else "roof"
        plain = {"top": "Ceiling under the loft" if loft else "Flat roof", "roof": "Roof"}
        title, buildup, b, label = plain.get(name, name.replace("-", " ").capitalize()), "top_buildup", "b_top", "cold loft"
    tilt, azimuth = tilt_and_azimuth(area_vector(polygon), north)
    if name == "floor":
        tilt, azimuth = 180.0, 0.0
    elif role in ("wall", "party wall"):
        tilt = 90.0
    unheated = borders == "unheated space"
    return Boundary(
        name,
        title,
        role,
        HEATED,
        space_beyond(borders, label if unheated else ""),
        tilt,
        azimuth,
        form[buildup],
        Entry("form", buildup),
        Entry("form", b, form[b] if unheated else None),
        Entry("form", "length"),
        outline=polygon,
    )


def wanting(form: QuickForm) -> list[tuple[str, str, str]]:
    """(part, field, in words) of every entry the shape of a form still needs."""
    names = ("length", "depth", "storeys", "storey_height", "front_azimuth")
    lacking = [n for n in names if form[n] is None]
    if sloped(form) and form.pitch is None:
        lacking.append("pitch")
    return [("form", n, WORDS_OF.get(n, n)) for n in lacking]


WORDS_OF = {
    "length": "the length along the front",
    "depth": "the depth",
    "storeys": "the number of storeys",
    "storey_height": "the storey height",
    "front_azimuth": "the direction the front looks to",
    "pitch": "the pitch of the roof",
}
