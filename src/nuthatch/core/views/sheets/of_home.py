"""All sheets of a home: results, targets, months, what the shape gives, and every list of parts."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

from nuthatch.core.air.stages import FLOWS, LOSSES
from nuthatch.core.assess import Assessment
from nuthatch.core.energy.sources import EnergyUse
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.energy.use_stages import USES
from nuthatch.core.fabric import buildup as fabric
from nuthatch.core.fabric.elements import Element
from nuthatch.core.fabric.vapour import sd_node
from nuthatch.core.model.home import BuildUp, Junction, Layer, Opening
from nuthatch.core.model.part import FieldSpec, Given, Part, specs
from nuthatch.core.model.ventilation import VentilationUnit
from nuthatch.core.questions import name_of, values
from nuthatch.core.results.figure import MONTHS, Known, Unknown
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.stages import EDGES, SOLID
from nuthatch.core.solid.thickness import effective_layers
from nuthatch.core.targets.verdict import Verdict, WayResult
from nuthatch.core.views.air.paths import paths
from nuthatch.core.views.build_ups.section import use_in
from nuthatch.core.views.hours.rooms import parts_sheet, rooms_sheet
from nuthatch.core.views.junctions.rows import as_sheet
from nuthatch.core.views.junctions.rows import rows as junction_rows
from nuthatch.core.views.shape.spaces import spaces
from nuthatch.core.views.shape.to_scale import numbers
from nuthatch.core.views.sheets.parts import part_sheet, parts_of, title_of
from nuthatch.core.views.sheets.sheet import Amount, Cell, Column, Head, Sheet, amount_of, of_node, sheet

Maker = Callable[[Assessment], Sheet]


def results(a: Assessment) -> Sheet:
    """Every published result."""
    columns: tuple[Column[tuple[str, Any]], ...] = (
        Column("Result", lambda r: r[1].label),
        Column("Value", lambda r: amount_of(r[1])),
        Column("Needs", lambda r: "; ".join(n.text for n in r[1].needs) if isinstance(r[1], Unknown) else ""),
        Column("Key", lambda r: r[0]),
    )
    return sheet("results", "Results", columns, a.figures.items(), ident=lambda r: r[0])


def targets(a: Assessment) -> Sheet:
    """Every way of every target."""
    columns: tuple[Column[tuple[Verdict, WayResult]], ...] = (
        Column("Target set", lambda r: r[0].set_name),
        Column("Target", lambda r: r[0].name),
        Column("Result", lambda r: r[1].label),
        Column("Value", lambda r: None if r[1].value is None else Amount(float(r[1].value), r[1].kind)),
        Column("Limit", lambda r: r[1].limit_words()),
        Column("This way", lambda r: r[1].standing),
        Column("Target is", lambda r: r[0].standing),
        Column("Points", lambda r: None if r[0].points is None else float(r[0].points), "points"),
        Column("From", lambda r: r[0].source),
    )
    return sheet("targets", "Targets", columns, ((v, w) for v in a.verdicts for w in v.ways))


def months(a: Assessment) -> Sheet:
    """Energies by month, and the year."""
    rows: list[tuple[Cell, ...]] = []
    for key, node in a.months.items():
        known: tuple[Cell, ...] = (*(float(v) for v in node.value), float(node.value.sum())) if isinstance(node, Known) else ()
        rows.append((key.replace("_", " ").replace("loss ", "loss, "), *(known or ("not known yet", *[None] * 12))))
    heads = (Head("By month"), *(Head(m, "energy_month") for m in MONTHS), Head("year", "energy_month"))
    return Sheet("months", "Months", heads, tuple(rows), tuple(a.months))


def faces(a: Assessment) -> Sheet:
    """Every face of the envelope with its loss."""
    names = {b.id: b.name for b in a.home.buildups}
    number = numbers(a)
    columns: tuple[Column[Element], ...] = (
        Column("Face", lambda e: e.name),
        Column("No.", lambda e: str(number[e.id])),
        Column("Borders on", lambda e: e.borders),
        Column("Build-up", lambda e: names.get(e.boundary.buildup, "none") if e.boundary is not None else ""),
        Column("Net area", lambda e: of_node(e.area), "area"),
        Column("U", lambda e: of_node(e.u), "u"),
        Column("H", lambda e: of_node(e.loss), "w_per_k"),
    )
    return sheet("faces", "Faces", columns, (e for e in a[ELEMENTS] if e.is_face))


def rooms(a: Assessment) -> Sheet:
    """Every room of drawn plans."""
    built = a[BUILT]
    columns: tuple[Column[Any], ...] = (
        Column("Room", lambda r: r.name),
        Column("Storey", lambda r: r.storey_name),
        Column("Used as", lambda r: r.use),
        Column("Air", lambda r: r.air if r.air != "none" else "–"),
        Column("Floor area", lambda r: r.area, "area"),
        Column("Counted", lambda r: r.counted, "area"),
        Column("Mean height", lambda r: r.measure.height, "length"),
    )
    return sheet("rooms", "Rooms", columns, built.rooms if built is not None else ())


def unheated_spaces(a: Assessment) -> Sheet:
    """Every unheated space with its b factor."""
    columns: tuple[Column[Any], ...] = (
        Column("Unheated space", lambda s: s.name),
        Column("Volume", lambda s: s.volume, "volume"),
        Column("b factor", lambda s: s.known, "fraction"),
        Column("b is", lambda s: s.says),
    )
    return sheet("spaces", "Unheated spaces", columns, (s for s in spaces(a) if s.id != "home"))


def storeys(a: Assessment) -> Sheet:
    """Floor areas by storey."""
    columns: tuple[Column[Any], ...] = (
        Column("Storey", lambda s: s.name),
        Column("Internal area", lambda s: s.area, "area"),
        Column("Counted", lambda s: s.counted, "area"),
        Column("Height", lambda s: s.height, "length"),
    )
    return sheet("storeys by area", "Areas of storeys", columns, a[SOLID].storeys)


def air_paths(a: Assessment) -> Sheet:
    """Every way air crosses the envelope."""
    columns: tuple[Column[Any], ...] = (
        Column("Air path", lambda p: p.name),
        Column("H", lambda p: of_node(p.loss), "w_per_k"),
        Column("In the months with heating", lambda p: p.energy, "energy"),
        Column("What is to be said", lambda p: p.says),
    )
    return sheet("paths", "Air paths", columns, paths(a))


def schedule(a: Assessment) -> Sheet:
    """Rooms that get or give air with their flows; without a unit, what they ask for."""
    asks: tuple[Column[Any], ...] = (
        Column("Room", lambda r: r.room.name),
        Column("Storey", lambda r: r.room.storey_name),
        Column("Air", lambda r: r.way),
        Column("Asks", lambda r: of_node(r.asked), "flow"),
    )
    if not a[FLOWS].units:
        return sheet("schedule", "Fresh air the rooms ask for", asks, (r for r in a[FLOWS].rooms if r.asked is not None))
    columns = (
        *asks,
        Column("Low", lambda r: of_node(r.low), "flow"),
        Column("Normal", lambda r: of_node(r.normal), "flow"),
        Column("Boost", lambda r: of_node(r.boost), "flow"),
        Column("Passes", lambda r: of_node(r.passes), "free_area"),
    )
    return sheet("schedule", "Ventilation schedule", columns, (r for r in a[FLOWS].rooms if r.role != "none"))


def energy_uses(a: Assessment) -> Sheet:
    """Delivered energy by use."""
    used: tuple[EnergyUse, ...] = a[USES]
    columns: tuple[Column[EnergyUse], ...] = (
        Column("Use of energy", lambda u: u.name),
        Column("Carrier", lambda u: u.carrier.name if u.carrier is not None else "none"),
        Column("Delivered", lambda u: of_node(u.energy), "energy"),
    )
    return sheet("uses", "Uses of energy", columns, used)


def _spec(row: tuple[str, Part, str, Given]) -> FieldSpec:
    return specs(type(row[1]))[row[2]]


def entered_values(a: Assessment) -> Sheet:
    """Every value somebody entered, with its basis and what proves it."""
    files = {e.id: e.name for e in a.home.evidence}

    def attached(given: Given) -> str:
        return ", ".join(files.get(f, "gone") for f in given.files or ())

    columns: tuple[Column[Any], ...] = (
        Column("Part", lambda r: name_of(r[1])),
        Column("Value of", lambda r: _spec(r).label),
        Column("Value", lambda r: Amount(r[3].value, _spec(r).kind)),
        Column("Basis", lambda r: r[3].basis.value),
        Column("Source", lambda r: r[3].source),
        Column("Evidence", lambda r: r[3].evidence),
        Column("Files", lambda r: attached(r[3])),
    )
    return sheet("values", "Values", columns, values(a.home), ident=lambda r: getattr(r[1], "id", ""))


def questions(a: Assessment) -> Sheet:
    """Every open question."""
    columns: tuple[Column[Any], ...] = (
        Column("Step", lambda q: q.step),
        Column("Item", lambda q: q.item),
        Column("Question", lambda q: q.text),
    )
    return sheet("questions", "Open questions", columns, a.questions)


def edges_of(a: Assessment) -> Sheet:
    """Where faces meet, by the numbers of the faces."""
    number = numbers(a)
    families = {edge: r.family for r in junction_rows(a) if not r.asked for edge in r.edges}
    columns: tuple[Column[Any], ...] = (
        Column("Edge", lambda e: e.id),
        Column("Faces", lambda e: " and ".join(str(number[b]) for b in e.boundaries if b in number)),
        Column("Junction", lambda e: families.get(e.id) or "none"),
        Column("Length", lambda e: e.length, "length"),
        Column("Angle", lambda e: e.angle, "angle"),
    )
    found: tuple[Any, ...] = a[EDGES]
    return sheet("edges", "Edges", columns, found)


def junctions(a: Assessment) -> Sheet:
    """The junctions that count."""
    return as_sheet(a)


# what lists of parts say besides their fields


def _of_layers(a: Assessment) -> Sequence[Column[Layer]]:
    """The build-up, R and s_d of each layer; what a well ventilated one leaves out says so."""
    owners = {layer.id: build for build in a.home.buildups for layer in build.layers}
    resistance: dict[str, Cell] = {}
    counts: set[str] = set()
    for build in a.home.buildups:
        layers = effective_layers(build)
        counts |= {layer.id for layer in layers}
        nodes = fabric.layer_nodes(layers, use_in(a, build)[0].direction)
        resistance |= {layer.id: of_node(n) for layer, n in zip(layers, nodes, strict=True)}
    return (
        Column("Of", lambda p: owners[p.id].name),
        Column("R of the layer", lambda p: resistance.get(p.id), "resistance"),
        Column("s_d", lambda p: of_node(sd_node(p)) if p.id in counts else None, "length"),
        Column("Basis of λ", lambda p: _basis(p.conductivity) if p.id in counts else "left out, well ventilated"),
    )


def _basis(given: Given | None) -> str:
    return " · ".join(t for t in (given.basis.value, given.source) if t) if given is not None else ""


def _of_buildups(a: Assessment) -> Sequence[Column[BuildUp]]:
    def u(build: BuildUp) -> Cell:
        use, _ = use_in(a, build)
        return of_node(fabric.transmittance(build, use.direction, use.borders))

    return (Column("U as it is used", u, "u"),)


def _of_elements(a: Assessment, *wanted: str) -> Sequence[Column[object]]:
    elements = {e.id: e for e in a[ELEMENTS]}

    def got(p: Any, field: str) -> Cell:
        return of_node(getattr(elements[p.id], field)) if p.id in elements else None

    return tuple(
        Column(label, partial(got, field=field), kind)
        for label, field, kind in (("U_w", "u", "u"), ("H", "loss", "w_per_k"))
        if field in wanted
    )


def _of_units(a: Assessment) -> Sequence[Column[VentilationUnit]]:
    flows = {f.unit.id: f for f in a[FLOWS].units}
    losses = dict(zip(flows, a[LOSSES].units, strict=False))

    def of(of_flow: bool, field: str) -> Callable[[VentilationUnit], Cell]:
        known: dict[str, Any] = flows if of_flow else losses
        return lambda u: of_node(getattr(known.get(u.id), field, None))

    return (
        Column("Supply", of(True, "supply"), "flow"),
        Column("Extract", of(True, "extract"), "flow"),
        Column("Recovery after the ducts", of(False, "recovery"), "percent"),
        Column("H", of(False, "loss"), "w_per_k"),
        Column("Fans", of(False, "fans"), "energy"),
        Column("Frost protection", of(False, "frost"), "energy"),
    )


MORE: dict[type, Callable[[Assessment], Sequence[Column[Any]]]] = {
    Layer: _of_layers,
    BuildUp: _of_buildups,
    Opening: lambda a: _of_elements(a, "u", "loss"),
    Junction: lambda a: _of_elements(a, "loss"),
    VentilationUnit: _of_units,
}
COMPUTED: tuple[Maker, ...] = (
    results,
    targets,
    months,
    faces,
    edges_of,
    junctions,
    rooms,
    rooms_sheet,
    parts_sheet,
    unheated_spaces,
    storeys,
    air_paths,
    schedule,
    energy_uses,
)
AT_THE_END: tuple[Maker, ...] = (entered_values, questions)


def of_kind(a: Assessment, kind: type) -> Sheet:
    """The sheet of one kind of part."""
    parts = parts_of(a.home).get(kind, ())
    return part_sheet(a, kind.__name__, title_of(kind), parts, MORE[kind](a) if kind in MORE and parts else ())


def part_sheets(a: Assessment) -> tuple[Sheet, ...]:
    """A sheet for every kind of part the home has, in the order of the steps."""
    return tuple(of_kind(a, kind) for kind in parts_of(a.home))


def sheets(a: Assessment) -> tuple[Sheet, ...]:
    """All sheets: what is worked out, what was entered, what is open."""
    return (*(make(a) for make in COMPUTED), *part_sheets(a), *(make(a) for make in AT_THE_END))
