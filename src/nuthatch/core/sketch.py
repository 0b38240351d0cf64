"""A drawing as data: paths and texts with colour tokens and ids. One Qt view paints it, `to_svg` writes it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from html import escape
from typing import Any

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


@dataclass
class Sketch:
    """A drawing of a given size, painted in order."""

    width: float
    height: float
    title: str = ""
    items: list[Path | Text] = field(default_factory=list)

    def path(self, points: Iterable[PointXY], **style: object) -> None:
        self.items.append(Path(tuple(points), **style))  # type: ignore[arg-type]

    def line(self, *points: PointXY, **style: object) -> None:
        self.items.append(Path(tuple(points), closed=False, **style))  # type: ignore[arg-type]

    def rect(self, x: float, y: float, w: float, h: float, **style: object) -> None:
        self.path(((x, y), (x + w, y), (x + w, y + h), (x, y + h)), **style)

    def text(self, x: float, y: float, text: str, **style: object) -> None:
        self.items.append(Text(x, y, text, **style))  # type: ignore[arg-type]

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


def to_svg(sketch: Sketch, colors: Mapping[str, str], font: str) -> str:
    """The drawing as SVG text, all text as text; colors: colour token → value."""
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {sketch.width:g} {sketch.height:g}" role="img" aria-label="{escape(sketch.title)}">',
        '<defs><pattern id="nh-hatch" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">'
        f'<line x1="0" y1="0" x2="0" y2="6" stroke="{colors["chestnut"]}" stroke-width="1"/></pattern>'
        '<pattern id="nh-dots" width="6" height="6" patternUnits="userSpaceOnUse">'
        f'<circle cx="3" cy="3" r="0.8" fill="{colors["lichen"]}"/></pattern></defs>',
    ]
    for item in sketch.items:
        if isinstance(item, Path):
            data = "M" + " L".join(f"{x:.2f} {y:.2f}" for x, y in item.points) + (" Z" if item.closed else "")
            stroke = f'stroke="{colors[item.stroke]}" stroke-width="{item.width:g}"' if item.stroke else 'stroke="none"'
            dash = ' stroke-dasharray="4 3"' if item.dash else ""
            fill = colors[item.fill] if item.fill else "none"
            parts.append(f'<path d="{data}" fill="{fill}" {stroke}{dash}/>')
            if item.pattern:
                parts.append(f'<path d="{data}" fill="url(#nh-{item.pattern})" stroke="none"/>')
        else:
            weight = ' font-weight="600"' if item.bold else ""
            common = f'<text x="{item.x:.2f}" y="{item.y:.2f}" font-family="{font}" font-size="{item.size:g}" text-anchor="{item.anchor}"{weight}'
            if item.halo:  # drawn first and apart: not every renderer knows paint-order
                parts.append(
                    f'{common} fill="{colors["white"]}" stroke="{colors["white"]}" stroke-width="3" stroke-linejoin="round" aria-hidden="true">{escape(item.text)}</text>'
                )
            parts.append(f'{common} fill="{colors[item.color]}">{escape(item.text)}</text>')
    parts.append("</svg>")
    return "\n".join(parts)


@dataclass(frozen=True)
class Bar:
    """One row of a bar drawing: None as value is not known, and `text` says so."""

    label: str
    value: float | None
    text: str
    token: str
    id: str = ""


def bars(title: str, rows: list[Bar], width: float = 780, limit: float | None = None, limit_label: str = "") -> Sketch:
    """Horizontal bars from a common zero, with the line of a limit where there is one."""
    row_h, left, right = 26.0, 250.0, 120.0
    made = Sketch(width, 34 + row_h * len(rows) + (22 if limit is not None else 4), title)
    made.text(0, 14, title, size=13, bold=True)
    known = [r.value for r in rows if r.value is not None] + ([limit] if limit else [])
    low, high = min([0.0, *known]), max([1e-9, *known])
    scale = (width - left - right) / (high - low)
    zero = left - low * scale
    for i, row in enumerate(rows):
        y, value, ident = 28 + i * row_h, row.value, row.id
        made.text(0, y + 14, row.label, size=12, id=ident)
        if value is not None:
            x, w = (zero, value * scale) if value >= 0 else (zero + value * scale, -value * scale)
            over = limit is not None and value > limit
            fill = "chestnut_pale" if over else row.token
            made.rect(
                x,
                y + 3,
                max(w, 0.6),
                14,
                fill=fill,
                stroke="chestnut" if over else "",
                width=0.8,
                pattern="hatch" if over else "",
                id=ident,
            )
        made.text(width, y + 14, row.text, size=12, bold=True, anchor="end", color="ink" if value is not None else "muted")
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
    chart: Callable[[Any, float, float, Mapping[str, str]], Any] | None = None
    size: tuple[float, float] = (7.4, 3.0)
