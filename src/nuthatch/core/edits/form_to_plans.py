"""The quick form written as storey plans that can be edited on; its results stay."""

from __future__ import annotations

from collections.abc import Container
from typing import Any, Literal

from nuthatch.core.model.home import Opening, QuickForm
from nuthatch.core.model.part import Basis, Given
from nuthatch.core.model.plans import Outline, Plans, RoofPlan, Side, StoreyPlan
from nuthatch.core.solid.from_form import WORDS_OF, wanting

SOURCE = "from the quick form"
ORDER = ("front", "right", "back", "left")


def _g(value: float) -> Given:
    return Given(value=round(value, 6), basis=Basis.CALCULATED, source=SOURCE)


def plans_of(form: QuickForm, taken: Container[str] = ()) -> Plans:
    """The same house as plans; ids in `taken` are not used. Raises ValueError with what the form still lacks."""
    lacking = wanting(form)
    if lacking:
        raise ValueError(f"the quick form still needs {', '.join(WORDS_OF.get(f, f) for _, f, _ in lacking)}")
    assert form.length and form.depth and form.storeys and form.storey_height and form.front_azimuth
    number, height = round(form.storeys.value), form.storey_height
    sloped = form.roof != "flat"
    storeys = []
    for n in range(number):
        reaches = "the roof" if sloped and form.under_roof == "open to the roof" and n == number - 1 else "its ceiling"
        storeys.append(_storey(form, n, height, reaches, taken))
    if sloped and form.under_roof == "room in the roof":
        storeys.append(_attic(form, taken))
    said: dict[str, Any] = {"roof_buildup": form.top_buildup}
    unheated = form.under_roof == "insulated ceiling" and sloped
    if unheated:
        said = {"loft_b": form.b_top, "ceiling_buildup": form.top_buildup}
    eaves = None if unheated else number * height.value
    roofs = (_roof(form, storeys[number - 1].outlines[0].id, eaves, taken),) if sloped else ()
    base = {"ground": "ground_buildup", "unheated space": "cellar_buildup", "outside air": "air_buildup"}.get(form.base, "ground_buildup")
    return Plans(
        north=form.front_azimuth.model_copy(update={"value": (form.front_azimuth.value + 180) % 360}),
        traced=form.traced,
        partition_share=form.partition_share,
        wall_buildup=form.wall_buildup,
        party_buildup=form.party_buildup,
        inner_buildup=form.wall_buildup,
        storeys=tuple(storeys),
        roofs=roofs,
        **{base: form.base_buildup, **said},
    )


def _free(stem: str, taken: Container[str]) -> str:
    """An id that is not taken, nor the beginning of one of its sides."""
    found, n = stem, 1
    while any(i in taken for i in (found, f"{found}-outline", *(f"{found}-{s}" for s in ORDER))):
        n += 1
        found = f"{stem}-{n}"
    return found


def _corners(form: QuickForm) -> tuple[tuple[float, float], ...]:
    assert form.length and form.depth
    l, w = form.length.value, form.depth.value
    return (0.0, 0.0), (l, 0.0), (l, w), (0.0, w)


def _sides(form: QuickForm, stem: str) -> tuple[Side, ...]:
    found = []
    borders: Any
    for (x, y), side in zip(_corners(form), ORDER, strict=True):
        said = form[side]
        borders = "as drawn" if said == "outside air" else said
        b = form.b_side if said == "unheated space" else None
        found.append(Side(id=f"{stem}-{side}", x=_g(x), y=_g(y), borders=borders, b=b))
    return tuple(found)


def _storey(form: QuickForm, n: int, height: Given, reaches: Any, taken: Container[str]) -> StoreyPlan:
    stem = _free("ground" if n == 0 else f"upper-{n}", taken)
    below: dict[str, Any] = {"below": form.base, "b_below": form.b_base} if n == 0 and form.base != "ground" else {}
    outline = Outline(id=f"{stem}-outline", name="Heated", reaches=reaches, sides=_sides(form, stem), **below)
    name = "Ground floor" if n == 0 else f"Storey {n}"
    thick = form.floor_thickness if n else None
    return StoreyPlan(id=stem, name=name, level=_g(0.0) if n == 0 else None, height=height, floor_thickness=thick, outlines=(outline,))


def _attic(form: QuickForm, taken: Container[str]) -> StoreyPlan:
    stem = _free("attic", taken)
    outline = Outline(id=f"{stem}-outline", name="Heated", reaches="the roof", sides=_sides(form, stem))
    return StoreyPlan(id=stem, name="Room in the roof", level=None, floor_thickness=form.floor_thickness, outlines=(outline,))


def _roof(form: QuickForm, over: str, eaves: float | None, taken: Container[str]) -> RoofPlan:
    """A mono roof of the form rises from front to back, or from left to right."""
    along = form.ridge == "along the length"
    kind: Literal["gable", "mono"] = "gable" if form.roof == "gable" else "mono"
    ridge = (0.0 if along else 90.0) if kind == "gable" else (0.0 if along else 270.0)
    at = None if eaves is None else _g(eaves)
    return RoofPlan(id=_free("roof", taken), name="Roof", kind=kind, over=over, pitch=form.pitch, ridge=_g(ridge), eaves=at)


SLOPES = {"front-roof": "slope-1", "back-roof": "slope-2", "right-roof": "slope-1", "left-roof": "slope-2", "roof": "slope-1"}


def moved_to(form: QuickForm, plans: Plans, opening: Opening) -> str:
    """The face of the plans an opening of a face of the form stands in."""
    face = opening.face
    assert form.storey_height
    if face.startswith("wall-"):
        side = face.removeprefix("wall-")
        sill = opening.sill.value if opening.sill is not None else 0.0
        n = min(max(int((sill + 1e-6) // form.storey_height.value), 0), len(plans.storeys) - 1)
        said = form[side]
        return plans.storeys[n].outlines[0].sides[ORDER.index(side)].id + ("" if said == "outside air" else f".{said.replace(' ', '-')}")
    if face in SLOPES and plans.roofs:
        return f"{plans.roofs[0].id}.{SLOPES[face]}"
    return f"{plans.storeys[0].outlines[0].id}.floor" if face == "floor" else face
