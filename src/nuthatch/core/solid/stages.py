"""How the shape hangs in the graph: spaces, boundaries and edges, areas and volumes, what is asked about them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TypedDict, Unpack

from nuthatch.core.graph.stage import ITEM, Family, Slot, Stages, field, part
from nuthatch.core.model.home import Face, Opening, QuickForm, Shape
from nuthatch.core.model.plans import Outline, Plans
from nuthatch.core.plans.polygons import Polygon
from nuthatch.core.plans.reading_plans import space_of
from nuthatch.core.results.calculation import take, total
from nuthatch.core.results.entries import need
from nuthatch.core.results.figure import Entered, Figure, Need, Node, Unknown, because, missing
from nuthatch.core.results.question import Question
from nuthatch.core.solid import from_form, from_list, from_plans, plan_figures
from nuthatch.core.solid.built_stages import BUILT, PLANS, STILL, THICKNESS
from nuthatch.core.solid.closure import edges_of
from nuthatch.core.solid.from_plans import Built, Shells, Standing, Stands
from nuthatch.core.solid.opening_places import misplaced
from nuthatch.core.solid.plan_rooms import Partition
from nuthatch.core.solid.quick import Thicknesses
from nuthatch.core.solid.solid import Boundary, Edge, Gap, Solid, gaps, open_edges

STAGES = Stages()
SOLID: Slot[Solid] = Slot("solid")
AROUND: Slot[tuple[Boundary, ...]] = Slot("faces of unheated spaces")
PARTITIONS: Slot[tuple[Partition, ...]] = Slot("inner walls with a build-up")
CRAWLS: Slot[dict[str, Outline]] = Slot("outlines with a suspended floor")
AIR_OF_SPACES: Slot[dict[str, Node]] = Slot("air change of unheated spaces")
BOUNDARY: Family[Boundary] = Family("boundary")
OUTLINES: Slot[Mapping[str, Polygon]] = Slot("outlines")
SHELLS: Slot[Shells | None] = Slot("faces whose meetings are edges")
EDGES: Slot[tuple[Edge, ...]] = Slot("edges")
COLD_EDGES: Slot[tuple[Edge, ...]] = Slot("edges around unheated spaces")
STANDING: Slot[Standing] = Slot("walls that stand on floors")
FLOOR_BELOW: Slot[dict[str, str]] = Slot("floor each wall stands on")
GAPS: Slot[tuple[Gap, ...]] = Slot("gaps")
SIDES_THICK: Slot[Thicknesses] = Slot("thickness at the sides of the form")
FACE_THICK: Slot[Thicknesses | None] = Slot("thickness the faces depend on")
FORM_SIZES: Slot[dict[str, object] | None] = Slot("sizes of the form")
FACE_SIZES: Slot[dict[str, object]] = Slot("sizes the faces depend on")
AREA: Family[Figure] = Family("gross area")
Exposed = tuple[Stands, ...]
EXPOSED: Family[Exposed] = Family("walls on a floor of drawn plans")
PERIMETER: Family[Node] = Family("exposed perimeter")
REFERENCE: Slot[Figure] = Slot("reference floor area", {"reference_floor_area": ""})
VOLUME: Slot[Figure] = Slot("heated volume", {"heated_volume": ""})
AIR_VOLUME: Slot[Figure] = Slot("air volume", {"air_volume": ""})
SHELL: Slot[Figure] = Slot("envelope area", {"envelope_area": ""})
INNER_SHELL: Slot[Figure] = Slot("envelope area inside", {"inner_envelope_area": ""})
FACES_WANTED: Slot[Need] = Slot("where faces are entered")
ASKS: Slot[tuple[Question, ...]] = Slot("questions of the shape", asks=True)
PLACE_ASKS: Slot[tuple[Question, ...]] = Slot("questions of where openings stand", asks=True)


@STAGES.stage(SOLID, form=part("shape.form"), faces=part("shape.faces"), built=BUILT, dimensions=field("shape.dimensions"), known=THICKNESS)
def solid(form: QuickForm | None, faces: tuple[Face, ...], built: Built | None, dimensions: str, known: dict[str, float]) -> Solid:
    """The home's shape, whoever made it."""
    if built is not None:
        return built.solid
    return from_form.solid(form, known, dimensions) if form is not None else from_list.solid(faces)


@STAGES.stage(AROUND, solid=SOLID)
def around(solid: Solid) -> tuple[Boundary, ...]:
    """The faces of unheated spaces toward what is around the home."""
    return solid.around


@STAGES.stage(PARTITIONS, built=BUILT)
def inner_walls(built: Built | None) -> tuple[Partition, ...]:
    """The inner walls of drawn plans whose mass counts."""
    return built.partitions if built is not None else ()


@STAGES.stage(CRAWLS, plans=PLANS)
def crawls(plans: Plans | None) -> dict[str, Outline]:
    """The outlines whose floor is suspended above an aired space of its own."""
    outlines = (o for s in plans.storeys for o in s.outlines) if plans is not None else ()
    return {o.id: o for o in outlines if o.below == "suspended floor"}


@STAGES.stage(AIR_OF_SPACES, plans=part("shape.plans"), faces=AROUND)
def air_of_spaces(plans: Plans | None, faces: tuple[Boundary, ...]) -> dict[str, Node]:
    """Air change of each unheated space with its outside, as entered."""
    owners = {space_of(o): o for s in plans.storeys for o in s.outlines} if plans is not None else {}
    found: dict[str, Node] = {}
    for space in dict.fromkeys(f.inside.id for f in faces):
        if space in owners:
            found[space] = need(owners[space], "air_change")
        elif plans is not None:
            found[space] = need(plans, "loft_air")
    return found


@STAGES.stage(BOUNDARY, solid=SOLID)
def boundaries(solid: Solid) -> dict[str, Boundary]:
    """The boundaries by id."""
    return {b.id: b for b in solid.boundaries}


@STAGES.stage(OUTLINES, solid=SOLID)
def outlines(solid: Solid) -> Mapping[str, Polygon]:
    """The outer outlines by boundary."""
    return solid.outer


@STAGES.stage(SHELLS, built=BUILT)
def shells(built: Built | None) -> Shells | None:
    """The faces whose meetings are edges: no thickness that moves no face makes them anew."""
    return built.shells if built is not None else None


@STAGES.stage(EDGES, outlines=OUTLINES, shells=SHELLS)
def edges(outlines: Mapping[str, Polygon], shells: Shells | None) -> tuple[Edge, ...]:
    """Where boundaries meet."""
    return shells.edges() if shells is not None else edges_of(outlines)


@STAGES.stage(COLD_EDGES, shells=SHELLS)
def cold_edges(shells: Shells | None) -> tuple[Edge, ...]:
    """Where the faces around unheated spaces meet."""
    return shells.cold_edges() if shells is not None else ()


@STAGES.stage(STANDING, built=BUILT, edges=EDGES, cold=COLD_EDGES)
def standing(built: Built | None, edges: tuple[Edge, ...], cold: tuple[Edge, ...]) -> Standing:
    """The walls that stand on the floors of drawn plans."""
    return from_plans.standing(built.solid, edges, cold) if built is not None else ()


@STAGES.stage(FLOOR_BELOW, rows=STANDING)
def floor_below(rows: Standing) -> dict[str, str]:
    """The floor each wall of drawn plans stands on."""
    return from_plans.floors_below(rows)


@STAGES.stage(GAPS, solid=SOLID, edges=EDGES)
def open_gaps(solid: Solid, edges: tuple[Edge, ...]) -> tuple[Gap, ...]:
    """What keeps the shape from being closed."""
    return gaps(solid, edges)


@STAGES.stage(SIDES_THICK, form=part("shape.form"), known=THICKNESS)
def thickness_at_sides(form: QuickForm | None, known: dict[str, float]) -> Thicknesses:
    """Thickness of the build-ups around the form."""
    return from_form.thicknesses(form, known) if form is not None else Thicknesses()


@STAGES.stage(FACE_THICK, form=part("shape.form"), thick=SIDES_THICK, dimensions=field("shape.dimensions"))
def thickness_of_faces(form: QuickForm | None, thick: Thicknesses, dimensions: str) -> Thicknesses | None:
    """The thicknesses the faces' sizes depend on; None for outer faces that are traced: a thicker wall leaves them as they are."""
    return thick if form is not None and (dimensions == "internal" or form.traced == "inner faces") else None


@STAGES.stage(FORM_SIZES, form=part("shape.form"))
def form_sizes(form: QuickForm | None) -> dict[str, object] | None:
    """The leaves of every figure of the form, made once."""
    return from_form.size_leaves(form) if form is not None else None


@STAGES.stage(FACE_SIZES, sizes=FORM_SIZES, thick=FACE_THICK)
def face_sizes(sizes: dict[str, object] | None, thick: Thicknesses | None) -> dict[str, object]:
    """Those and the thicknesses the faces depend on."""
    return {**(sizes or {}), "thick": from_form.thickness_leaves(thick) if thick is not None else ()}


@STAGES.stage(AREA, each=BOUNDARY, face=ITEM, sizes=FACE_SIZES, dimensions=field("shape.dimensions"))
def gross_area(face: Boundary, sizes: dict[str, object], dimensions: str) -> Figure:
    """Gross area of one face."""
    label = f"Area of {face.name}"
    if face.area is not None:
        return take(label, "area", face.area.leaf(label_of(face), "area"))
    if face.outline is not None and "sizes" not in sizes:
        return plan_figures.face_area(label, face.outline)
    leaf = Entered("dimensions", dimensions, "text", "declared", "", "shape", "dimensions")
    return from_form.face_area.figure(label, **sizes, dimensions=leaf, face=Entered("face", face.id))


def label_of(face: Boundary) -> str:
    """How the entered area of a listed face is called."""
    return f"Gross area of {face.name}"


@STAGES.stage(EXPOSED, rows=STANDING, plans=PLANS, faces=BOUNDARY, around=AROUND)
def walls_on_floors(rows: Standing, plans: Plans | None, faces: dict[str, Boundary], around: tuple[Boundary, ...]) -> dict[str, Exposed]:
    """The walls that stand on each floor of drawn plans, by the floor's face; of unheated spaces too."""
    if plans is None:
        return {}
    found: dict[str, Exposed] = {b.id: () for b in (*faces.values(), *around) if b.role == "floor"}
    for floor, _, stands in rows:
        found[floor] = (*found[floor], stands)
    return found


@STAGES.stage(
    PERIMETER,
    each=BOUNDARY,
    face=ITEM,
    form=part("shape.form"),
    stands=EXPOSED.at(),
    sizes=FACE_SIZES,
    dimensions=field("shape.dimensions"),
)
def exposed_perimeter(face: Boundary, form: QuickForm | None, stands: Exposed | None, sizes: dict[str, object], dimensions: str) -> Node:
    """Exposed perimeter of a floor on the ground; nothing to know for other faces."""
    label = f"exposed perimeter of {face.name}"
    if face.role != "floor" or face.borders != "ground":
        return Entered(label, 0.0, "length")
    if face.outline is not None and form is not None:
        return from_form.perimeter(form, sizes, dimensions)
    if stands is not None:
        return plan_figures.perimeter(label, stands)
    return face.perimeter.leaf(label, "length")


@STAGES.stage(REFERENCE, shape=STILL, built=BUILT, sizes=FORM_SIZES, thick=SIDES_THICK)
def reference_area(shape: Shape, built: Built | None, sizes: dict[str, object] | None, thick: Thicknesses) -> Figure:
    """Reference floor area: measured, from the rooms, or from the form."""
    if built is not None and shape.plans is not None and shape.measured_area is None:
        rows = tuple(plan_figures.counted(r, shape.plans) for r in built.rooms)
        return total("Reference floor area", "area", rows, "sum over the rooms") if rows else _wanted("Reference floor area", "area", built)
    if shape.measured_area is not None or sizes is None or shape.form is None:
        return take("Reference floor area", "area", need(shape, "measured_area"))
    return from_form.form_area.figure(**sizes, thick=from_form.thickness_leaves(thick), finish=from_form.finish_leaves(shape.form))


class FormReads(TypedDict):
    """What the quick form gives."""

    sizes: dict[str, object] | None
    thick: Thicknesses | None


@STAGES.stage(VOLUME, shape=STILL, faces=BOUNDARY, outer=OUTLINES, wanted=FACES_WANTED, sizes=FORM_SIZES, thick=FACE_THICK)
def heated_volume(
    shape: Shape, faces: dict[str, Boundary], outer: Mapping[str, Polygon], wanted: Need, **reads: Unpack[FormReads]
) -> Figure:
    """External volume of the heated space."""
    sizes, thick = reads["sizes"], reads["thick"]
    if shape.plans is not None:
        return plan_figures.volume(faces.values(), dict(outer)) if outer else missing("Heated volume", "volume", *wanted)
    if sizes is None or shape.form is None:
        return take("Heated volume", "volume", need(shape, "volume"))
    grown = thick if shape.form.traced == "inner faces" else None
    return from_form.form_volume.figure(**sizes, thick=from_form.thickness_leaves(grown) if grown is not None else ())


@STAGES.stage(AIR_VOLUME, shape=STILL, built=BUILT, sizes=FORM_SIZES, thick=SIDES_THICK)
def air_volume(shape: Shape, built: Built | None, sizes: dict[str, object] | None, thick: Thicknesses) -> Figure:
    """Air volume of the test: typed, from the rooms, or from the form."""
    if built is not None and shape.plans is not None and shape.air_volume is None:
        rows = tuple(plan_figures.air(r, shape.plans) for r in built.rooms)
        return total("Air volume", "volume", rows, "sum over the rooms") if rows else _wanted("Air volume", "volume", built)
    if shape.air_volume is not None or sizes is None or shape.form is None:
        return take("Air volume", "volume", need(shape, "air_volume"))
    return from_form.form_air_volume.figure(**sizes, thick=from_form.thickness_leaves(thick), finish=from_form.finish_leaves(shape.form))


def _wanted(label: str, kind: str, built: Built) -> Unknown:
    """A figure that waits for what the plans still need."""
    fault = next((f for f in built.faults if f.fatal), None)
    if fault is None:
        return missing(label, kind, "the outline of a storey", "plans", "storeys")
    return missing(label, kind, fault.says if fault.missing else "plans that go together", fault.part, fault.field)


@STAGES.stage(SHELL, areas=AREA, plans=PLANS, wanted=FACES_WANTED, sizes=FORM_SIZES)
def envelope_area(areas: dict[str, Figure], plans: Plans | None, wanted: Need, sizes: dict[str, object] | None) -> Figure:
    """All faces that enclose the heated air, party walls included (ISO 9972)."""
    if areas:
        return total("Envelope area", "area", tuple(areas.values()), "ISO 9972:2015, 6.1.2")
    if plans is not None:
        return missing("Envelope area", "area", *wanted)
    if sizes is None:
        return missing("Envelope area", "area", "faces", "shape", "faces")
    short = from_form.form_volume.figure(**sizes, thick=())
    if isinstance(short, Unknown):
        return because("Envelope area", "area", short)
    return missing("Envelope area", "area", "the direction the front looks to", "form", "front_azimuth")


@STAGES.stage(INNER_SHELL, shape=STILL, shell=SHELL, built=BUILT, sizes=FORM_SIZES, thick=SIDES_THICK)
def inner_envelope(shape: Shape, shell: Figure, built: Built | None, sizes: dict[str, object] | None, thick: Thicknesses) -> Figure:
    """The envelope in overall internal dimensions, junctions of partitions and floors not taken off: what permeability refers to."""
    label = "Envelope area inside"
    if shape.inner_envelope is not None:
        return take(label, "area", need(shape, "inner_envelope"))
    if built is not None:
        return plan_figures.inner_shell(label, built) if built.inner else _wanted(label, "area", built)
    if sizes is not None:
        return from_form.form_shell.figure(label, **sizes, thick=from_form.thickness_leaves(thick))
    if shape.dimensions == "internal" or isinstance(shell, Unknown):
        return total(label, "area", (shell,), "ISO 9972:2015, 6.1.2")
    return missing(label, "area", "envelope area in internal dimensions", "shape", "inner_envelope")


@STAGES.stage(FACES_WANTED, form=part("shape.form"), built=BUILT)
def faces_wanted(form: QuickForm | None, built: Built | None) -> Need:
    """Where a home without faces gets them."""
    if built is not None:
        return _wanted("", "area", built).needs[0]
    if form is None:
        return Need("faces of the home", "shape", "faces")
    part, lacking, words = next(iter(from_form.wanting(form)), ("form", "length", "faces of the home"))
    return Need(words, part, lacking)


@STAGES.stage(ASKS, gaps=GAPS, outlines=OUTLINES, built=BUILT, cold=COLD_EDGES)
def asks(gaps: tuple[Gap, ...], outlines: dict[str, Polygon], built: Built | None, cold: tuple[Edge, ...]) -> tuple[Question, ...]:
    """A shape that is not closed, plans that do not go together."""
    weaker = "" if outlines or not gaps else " (checked by directions only, weaker than a drawn shape)"
    found = [Question(f.part, f.field, f.sentence) for f in built.faults] if built is not None else []
    names = {b.id: b.name for b in (*built.solid.boundaries, *built.solid.around)} if built is not None else {}
    for gap in open_edges(cold, names):
        says, amounts = open_edge(gap)
        found.append(Question("plans", "storeys", f"An unheated space is not closed: {says}", amounts))
    for gap in gaps:
        says, amounts = open_edge(gap)
        if gap.kind == "axis":
            says, amounts = f"{gap.axis} faces do not balance: {{0}} more on one side", ((gap.amount, "area"),)
        found.append(Question("shape", "faces", f"The shape is not closed: {says}{weaker}", amounts))
    return tuple(found)


def open_edge(gap: Gap) -> tuple[str, tuple[tuple[float, str], ...]]:
    """Where the longest open edge lies, in words, and its amounts."""
    edge = gap.longest
    if edge is None:
        return "", ()
    (ax, ay, az), (bx, by, bz) = edge.ends
    more = f", and {gap.amount - 1:.0f} more" if gap.amount > 1 else ""
    beside = " and ".join(f"“{name}”" for name in gap.beside)
    how = f"{{0}} of {beside} {'meets nothing' if len(edge.boundaries) < 2 else 'is an edge of three faces or more'}"
    where = "{1} to the right, {2} up the sheet and {3} high"
    lengths = (edge.length, (ax + bx) / 2, (ay + by) / 2, (az + bz) / 2)
    return f"{how}, around {where}{more}", tuple((v, "length") for v in lengths)


@STAGES.stage(PLACE_ASKS, outlines=OUTLINES, openings=part("openings"))
def asks_of_places(outlines: Mapping[str, Polygon], openings: tuple[Opening, ...]) -> tuple[Question, ...]:
    """Openings that stand past the edge of their face, or over each other."""
    return tuple(Question(ident, "position", says) for ident, says in misplaced(openings, outlines))
