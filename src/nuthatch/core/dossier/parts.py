"""What templates put on pages: figures with their captions, tables of texts."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from typing import Any

from markupsafe import Markup


def figure(drawing: Markup | str, caption: str, kind: str = "", width: float = 0.0) -> Markup:
    """A drawing with its caption; width [mm] of one to scale. Nothing where there is no drawing."""
    if not drawing:
        return Markup("")
    style = Markup(' style="width: {:.2f}mm"').format(width) if width else Markup("")
    named = Markup(' class="{}"').format(kind) if kind else Markup("")
    return Markup("<figure{}{}>{}<figcaption>{}</figcaption></figure>").format(named, style, drawing, caption)


def beside(number: int) -> float:
    """How wide drawings stand beside each other on a page [mm]: three in a row where they come by threes, else two."""
    return 52.0 if number and number % 3 == 0 else 80.0


def rows(heads: Sequence[str], texts: Iterable[Iterable[Any]], numeric: Collection[int] | None = None, kind: str = "small") -> Markup:
    """A table of texts. numeric: the columns of numbers; all but the first where it is not said."""

    def side(n: int) -> Markup:
        number = n > 0 if numeric is None else n in numeric
        return Markup(' class="n"') if number else Markup("")

    head = Markup("").join(Markup("<th{}>{}</th>").format(side(n), h) for n, h in enumerate(heads))
    body = Markup("").join(
        Markup("<tr>{}</tr>").format(Markup("").join(Markup("<td{}>{}</td>").format(side(n), c) for n, c in enumerate(row)))
        for row in texts
    )
    return Markup('<table class="{}"><thead><tr>{}</tr></thead>{}</table>').format(kind, head, body)


def listed(sheet: Mapping[str, Any], kind: str = "small") -> Markup:
    """A sheet told as heads, rows and its columns of numbers."""
    return rows(sheet["heads"], sheet["rows"], sheet["numeric"], kind)
