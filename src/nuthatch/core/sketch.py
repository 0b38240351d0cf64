"""A drawing as data: paths and texts with colour tokens and ids. One Qt view paints it, `to_svg` writes it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from html import escape
from textwrap import wrap
from typing import Any

from nuthatch.core.units import FOOT, INCH_POUND, system

PointXY = tuple[float, float]


@dataclass(frozen=True)
class Path:
    """A polygon or polyline. pattern: '', 'hatch' (diagonal lines), 'dots'; dash: dashed stroke."""

    points: tuple[PointXY, ...]
    fill: str = ""
    stroke: str = "ink"
    width: float = 1.0
    closed: bool = True
    pattern: str = ""
    dash: bool = False
    id: str = ""
    tip: str = ""


@dataclass(frozen=True)
class Text:
    """A line of text; anchor start, middle or end; halo paints the paper behind it."""

    x: float
    y: float
    text: str
    size: float = 12.0
    color: str = "ink"
    bold: bool = False
    anchor: str = "start"
    halo: bool = False
    id: str = ""


@dataclass(frozen=True)
class Pull:
    """What dragging changes: a quantity of a part, its value now, and how much of it [SI] a step of one on the sheet is worth to the
    right and down. It snaps to `step` and stays within its bounds; a key moves it by `fine`."""

    part: str
    field: str
    value: float
    per: PointXY
    step: float
    fine: float
    least: float = 0.0
    most: float = 1e9

    def after(self, dx: float, dy: float) -> float:
        """The value after dragging so far on the sheet."""
        moved = self.value + self.per[0] * dx + self.per[1] * dy
        snapped = round(moved / self.step) * self.step if (dx, dy) != (0.0, 0.0) else self.value
        return min(max(round(snapped, 6), self.least), self.most)

    def nudged(self, right: int, down: int) -> float:
        """The value after a key: one fine step the way the value grows."""
        way = right * self.per[0] + down * self.per[1]
        sign = (way > 0) - (way < 0)
        return min(max(round(self.value + sign * self.fine, 6), self.least), self.most)


def snapping(fine: bool) -> tuple[float, float, str]:
    """(step of a drag, step of a key [m], both in words) for thicknesses, `fine`, or for places and sizes; in the units shown."""
    if system() == INCH_POUND:
        inch = FOOT / 12
        return (inch / 4, inch / 16, "1/4″ steps · arrow keys 1/16″") if fine else (inch, inch / 4, "1″ steps · arrow keys 1/4″")
    return (0.005, 0.001, "5 mm steps · arrow keys 1 mm") if fine else (0.05, 0.01, "5 cm steps · arrow keys 1 cm")


@dataclass(frozen=True)
class Handle:
    """Something that can be dragged: a line or an area of the drawing, whose part it belongs to, and what it pulls; a `spot`
    is a point on a line, and taken hold of before it."""

    id: str
    points: tuple[PointXY, ...]
    pulls: tuple[Pull, ...]
    says: str = ""
    spot: bool = False


MOST_FAINT = 400
"""So many lines of a drawing as it was are shown at most: more of them would hide the drawing as it is."""


def otherwise(was: Sketch, now: Sketch) -> tuple[Path, ...]:
    """The lines of a drawing as it was that are not in it as it is, hatching and pictures of text left out; none where hardly anything stayed,
    since then it is drawn at another scale."""
    kept = {i.points for i in now.items if isinstance(i, Path)}
    lines = [i for i in was.items if isinstance(i, Path) and len(i.points) > 1]
    gone = [i for i in lines if i.points not in kept]
    return tuple(gone) if len(gone) <= MOST_FAINT and len(gone) < 0.9 * len(lines) else ()


@dataclass
class Sketch:
    """A drawing of a given size, painted in order; `handles` are what of it can be dragged, `hint` says how."""

    width: float
    height: float
    title: str = ""
    items: list[Path | Text] = field(default_factory=list)
    handles: list[Handle] = field(default_factory=list)
    hint: str = ""
    carries: tuple[tuple[str, float, float], ...] = ()
    """What can be carried to another place in its row: id, left, right."""

    def path(self, points: Iterable[PointXY], **style: object) -> None:
        self.items.append(Path(tuple(points), **style))  # type: ignore[arg-type]

    def line(self, *points: PointXY, **style: object) -> None:
        self.items.append(Path(tuple(points), closed=False, **style))  # type: ignore[arg-type]

    def rect(self, x: float, y: float, w: float, h: float, **style: object) -> None:
        self.path(((x, y), (x + w, y), (x + w, y + h), (x, y + h)), **style)

    def text(self, x: float, y: float, text: str, **style: object) -> None:
        self.items.append(Text(x, y, text, **style))  # type: ignore[arg-type]

    def name(self, x: float, y: float, text: str, room: PointXY, size: float = 12.0, centred: bool = False, **style: object) -> None:
        """A name where there is so much room, wide and high, on up to three lines, the last of them at y, or centred about it; cut where it
        has none."""
        high = size + 1.5
        lines = folded(text, room[0], size, min(max(int(room[1] / high), 1), 3))
        top = y - (len(lines) - 1) * high * (0.5 if centred else 1.0)
        for n, line in enumerate(lines):
            self.text(x, top + n * high, line, size=size, **style)

    def say(self, text: str, down: float = 0.0) -> None:
        """A sentence in the middle of an empty sheet, on as many lines as it needs."""
        lines = wrap(text, max(int((self.width - 24) / (12 * 0.56)), 12))
        top = self.height / 2 + down - 17 * (len(lines) - 1) / 2
        for n, line in enumerate(lines):
            self.text(self.width / 2, top + 17 * n, line, size=12, color="muted", anchor="middle")

    def add(self, other: Sketch, x: float, y: float) -> None:
        """Another drawing put into this one at a place."""
        for item in other.items:
            if isinstance(item, Path):
                self.items.append(replace(item, points=tuple((px + x, py + y) for px, py in item.points)))
            else:
                self.items.append(replace(item, x=item.x + x, y=item.y + y))

    def ids(self) -> set[str]:
        return {item.id for item in self.items if item.id}


def inside(points: tuple[PointXY, ...], x: float, y: float) -> bool:
    """Whether a point lies in a polygon (even–odd)."""
    hit = False
    for (ax, ay), (bx, by) in zip(points, points[1:] + points[:1], strict=True):
        if (ay > y) != (by > y) and x < (bx - ax) * (y - ay) / (by - ay) + ax:
            hit = not hit
    return hit


def hit(sketch: Sketch, x: float, y: float) -> str:
    """Id of the topmost item at a point, or ''."""
    for item in reversed(sketch.items):
        if isinstance(item, Path) and item.id and item.closed and inside(item.points, x, y):
            return item.id
        if isinstance(item, Text) and item.id:
            w = len(item.text) * item.size * 0.55
            left = item.x - {"start": 0, "middle": w / 2, "end": w}[item.anchor]
            if left <= x <= left + w and item.y - item.size <= y <= item.y + 4:
                return item.id
    return ""


NEAR = 6.0
"""How near to a line it is taken hold of, on the sheet."""


def handle_at(sketch: Sketch, x: float, y: float, near: float = NEAR) -> Handle | None:
    """The handle at a point: an area it lies in, or the nearest line within reach; spots before lines before areas, the last drawn first."""
    spot = next((h for h in reversed(sketch.handles) if h.spot and inside(h.points, x, y)), None)
    if spot is not None:
        return spot
    lines = [(distance(h.points, x, y), n, h) for n, h in enumerate(sketch.handles) if len(h.points) == 2]
    close = [row for row in lines if row[0] <= near]
    if close:
        return min(close, key=lambda row: (row[0], -row[1]))[2]
    return next((h for h in reversed(sketch.handles) if len(h.points) > 2 and inside(h.points, x, y)), None)


def distance(line: tuple[PointXY, ...], x: float, y: float) -> float:
    """From a point to a stretch between two points."""
    (ax, ay), (bx, by) = line
    dx, dy = bx - ax, by - ay
    along = min(max(((x - ax) * dx + (y - ay) * dy) / max(dx * dx + dy * dy, 1e-12), 0.0), 1.0)
    return float(((x - ax - along * dx) ** 2 + (y - ay - along * dy) ** 2) ** 0.5)


def to_svg(sketch: Sketch, colors: Mapping[str, str], font: str) -> str:
    """The drawing as SVG text, all text as text; colors: colour token → value."""
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {sketch.width:g} {sketch.height:g}" role="img" aria-label="{escape(sketch.title)}">',
        '<defs><pattern id="nh-hatch" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">'
        f'<line x1="0" y1="0" x2="0" y2="6" stroke="{colors["chestnut"]}" stroke-width="1"/></pattern>'
        '<pattern id="nh-dots" width="6" height="6" patternUnits="userSpaceOnUse">'
        f'<circle cx="3" cy="3" r="0.8" fill="{colors["lichen"]}"/></pattern></defs>',
    ]
    for row in _runs(sketch.items):
        parts += (
            _paths_in_svg(row, colors) if isinstance(row[0], Path) else [_text_in_svg(t, colors, font) for t in row if isinstance(t, Text)]
        )
    parts.append("</svg>")
    return "\n".join(parts)


def _runs(items: Sequence[Path | Text]) -> list[list[Path | Text]]:
    """Items in order; neighbours that one path can draw alike stand together: lines without fill, areas without line or pattern."""
    found: list[list[Path | Text]] = []
    for item in items:
        last = found[-1][-1] if found else None
        if isinstance(item, Path) and isinstance(last, Path) and _style(item) is not None and _style(item) == _style(last):
            found[-1].append(item)
        else:
            found.append([item])
    return found


def _style(path: Path) -> tuple[object, ...] | None:
    """What tells how a path is drawn, where it may be drawn together with its neighbours; None where it may not."""
    if path.pattern or bool(path.fill) == bool(path.stroke):
        return None
    return path.fill, path.stroke, path.width if path.stroke else 0.0, path.dash


def _paths_in_svg(row: Sequence[Path | Text], colors: Mapping[str, str]) -> list[str]:
    """Paths of one style as one; all areas run the same way round, so that none cuts a hole into another."""
    paths = [p for p in row if isinstance(p, Path)]
    item = paths[0]
    data = " ".join("M" + " L".join(f"{x:.2f} {y:.2f}" for x, y in _one_way(p, len(paths))) + (" Z" if p.closed else "") for p in paths)
    stroke = f'stroke="{colors[item.stroke]}" stroke-width="{item.width:g}"' if item.stroke else 'stroke="none"'
    dash = ' stroke-dasharray="4 3"' if item.dash else ""
    fill = colors[item.fill] if item.fill else "none"
    made = [f'<path d="{data}" fill="{fill}" {stroke}{dash}/>'] if item.fill or item.stroke else []
    if item.pattern:
        made.append(f'<path d="{data}" fill="url(#nh-{item.pattern})" stroke="none"/>')
    return made


def _one_way(path: Path, number: int) -> Sequence[PointXY]:
    """The points of a path; of an area drawn together with others, run round the same way."""
    points = path.points
    if number == 1 or not path.fill:
        return points
    turned = sum(ax * by - bx * ay for (ax, ay), (bx, by) in zip(points, points[1:] + points[:1], strict=True)) < 0
    return points[::-1] if turned else points


def _text_in_svg(item: Text, colors: Mapping[str, str], font: str) -> str:
    weight = ' font-weight="600"' if item.bold else ""
    common = f'<text x="{item.x:.2f}" y="{item.y:.2f}" font-family="{font}" font-size="{item.size:g}" text-anchor="{item.anchor}"{weight}'
    white = colors["white"]
    behind = ""
    if item.halo:  # drawn first and apart: not every renderer knows paint-order
        behind = f'{common} fill="{white}" stroke="{white}" stroke-width="3" stroke-linejoin="round" aria-hidden="true">{escape(item.text)}</text>\n'
    return f'{behind}{common} fill="{colors[item.color]}">{escape(item.text)}</text>'


def fitted(text: str, room: float, size: float) -> str:
    """A text cut to what has room; the font's mean letter is a good half as wide as it is high."""
    most = max(int(room / (0.54 * size)), 3)
    return text if len(text) <= most else text[: most - 1].rstrip() + "…"


def folded(text: str, room: float, size: float, most: int = 2) -> list[str]:
    """A text on as many lines as it needs, `most` of them at most, parted between words; what has no room even so is cut."""
    if most < 2 or fitted(text, room, size) == text:
        return [fitted(text, room, size)]
    lines = wrap(text, max(int(room / (0.54 * size)), 3), max_lines=most, placeholder="…", break_long_words=False)
    return [fitted(line, room, size) for line in lines]


def with_room(sketch: Sketch) -> Sketch:
    """The drawing as wide as its texts ask for, where they reach over its sides: nothing of it is cut."""
    ends = [(x, x + long) for t in sketch.items if isinstance(t, Text) for long in (_long(t),) for x in (t.x - _BEFORE[t.anchor] * long,)]
    left, right = min((a for a, _ in ends), default=0.0), max((b for _, b in ends), default=0.0)
    if left >= 0 and right <= sketch.width:
        return sketch
    by = -min(left, 0.0)
    items = [
        replace(i, points=tuple((x + by, y) for x, y in i.points)) if isinstance(i, Path) else replace(i, x=i.x + by) for i in sketch.items
    ]
    return replace(sketch, width=max(right, sketch.width) + by, items=items)


_BEFORE = {"start": 0.0, "middle": 0.5, "end": 1.0}
"""What of a text lies left of where it is anchored."""


def _long(text: Text) -> float:
    """About how long a text is; bold letters are a little wider."""
    return len(text.text) * text.size * (0.58 if text.bold else 0.54)


@dataclass(frozen=True)
class Bar:
    """One row of a bar drawing: None as value is not known, and `text` says so."""

    label: str
    value: float | None
    text: str
    token: str
    id: str = ""


WIDTH = 640.0
"""Of a drawing nobody gave a width."""


def bars(
    title: str, rows: list[Bar], width: float = WIDTH, limit: float | None = None, limit_label: str = "", height: float = 0.0
) -> Sketch:
    """Horizontal bars from a common zero, with the line of a limit where there is one; with a height, rows spread to fill it."""
    foot, right = (22.0 if limit is not None else 4.0), 120.0
    row_h = min(max((height - 34 - foot) / max(len(rows), 1), 26.0), 76.0)
    left = min(max(110.0, max((len(r.label) for r in rows), default=0) * 6.6 + 12), width * 0.42)
    made = Sketch(width, 34 + row_h * len(rows) + foot, title)
    made.text(0, 14, fitted(title, width, 13), size=13, bold=True)
    known = [r.value for r in rows if r.value is not None] + ([limit] if limit else [])
    low, high = min([0.0, *known]), max([1e-9, *known])
    scale = (width - left - right) / (high - low)
    zero = left - low * scale
    for i, row in enumerate(rows):
        y, value, ident = 28 + i * row_h, row.value, row.id
        base = y + row_h / 2 + 4
        made.text(0, base, fitted(row.label, left - 6, 12), size=12, id=ident)
        if value is not None:
            x, w = (zero, value * scale) if value >= 0 else (zero + value * scale, -value * scale)
            over = limit is not None and value > limit
            style = {"fill": "chestnut_pale", "stroke": "chestnut", "pattern": "hatch"} if over else {"fill": row.token, "stroke": ""}
            tall = min(14 + (row_h - 26) * 0.5, 38.0)
            made.rect(x, y + (row_h - tall) / 2, max(w, 0.6), tall, width=0.8, id=ident, tip=f"{row.label}: {row.text}", **style)
        made.text(width, base, row.text, size=12, bold=True, anchor="end", color="ink" if value is not None else "muted")
    made.line((zero, 26), (zero, 28 + row_h * len(rows)), stroke="line")
    if limit is not None:
        x = zero + limit * scale
        bottom = 30 + row_h * len(rows)
        made.line((x, 24), (x, bottom), width=1.6)
        made.text(x, bottom + 13, limit_label, size=11, color="muted", anchor="middle")
    return made


@dataclass(frozen=True)
class Picture:
    """A drawing or chart that boards show and a dossier can hold. One of `sketch(assessment, part id)` and
    `chart(assessment, width, height, colours)`, sizes in inches; raises KeyError where its part is gone."""

    key: str
    title: str
    sketch: Callable[[Any, str], Sketch] | None = None
    chart: Callable[[Any, float, float, Mapping[str, str]], object] | None = None
    size: tuple[float, float] = (7.4, 3.0)
