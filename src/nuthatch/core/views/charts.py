"""Charts as matplotlib figures, on screen and in the dossier the same. One function a chart."""

from __future__ import annotations

import threading
from collections.abc import Callable, Mapping
from typing import Any

import numpy as np

from nuthatch.core.energy.stages import BALANCE
from nuthatch.core.fabric.elements import CATEGORIES
from nuthatch.core.results.figure import MONTHS, Known
from nuthatch.core.units import kind_of, unit_of
from nuthatch.core.views.balance.account import account
from nuthatch.look import FONT, font_files

LOSS_TOKENS = {
    "walls": "chestnut_pale",
    "roof": "wood",
    "floor": "stone",
    "openings": "slate_pale",
    "junctions": "muted",
    "fresh air": "glass",
    "leaks": "line",
}
LOSS_HATCH = {"roof": "//", "openings": "\\\\", "leaks": "--"}
"""Patterns besides light and dark, so that a chart reads in grey. Rust is kept for what is over or needed."""


DRAWING = threading.RLock()  # matplotlib is one shop: the screen's worker and the dossier's take turns


def drawn(make: Callable[[], Any], ratio: float) -> tuple[bytes, int, int]:
    """(RGBA bytes, width, height) of a chart at this many pixels for each of 100 dots an inch."""
    from matplotlib.backends.backend_agg import FigureCanvasAgg

    with DRAWING:
        figure = make()
        figure.set_dpi(100 * ratio)
        canvas: Any = FigureCanvasAgg(figure)
        canvas.draw()
        return bytes(canvas.buffer_rgba()), *canvas.get_width_height(physical=True)


def _figure(width: float, height: float, tokens: Mapping[str, str]) -> tuple[object, Any]:
    import matplotlib

    matplotlib.use("agg")
    from matplotlib import font_manager
    from matplotlib.figure import Figure

    if not any(f.name == FONT for f in font_manager.fontManager.ttflist):
        for file in font_files():
            font_manager.fontManager.addfont(str(file))
    matplotlib.rcParams.update(
        {"font.family": FONT, "font.size": 8.5, "svg.fonttype": "none", "svg.hashsalt": "nuthatch", "hatch.linewidth": 0.5}
    )
    figure = Figure(figsize=(width, height), facecolor=tokens["paper"], layout="constrained")
    axes = figure.add_subplot(facecolor=tokens["paper"])
    for side in ("top", "right"):
        axes.spines[side].set_visible(False)
    for side in ("left", "bottom"):
        axes.spines[side].set_color(tokens["line"])
    axes.tick_params(colors=tokens["muted"], length=3)
    axes.yaxis.label.set_color(tokens["muted"])
    return figure, axes


def _legend(axes: Any, tokens: Mapping[str, str], columns: int) -> None:
    box = axes.legend(
        ncol=columns,
        frameon=False,
        fontsize=8,
        loc="lower left",
        bbox_to_anchor=(0, 1.0),
        handlelength=1.2,
        columnspacing=1.2,
        borderaxespad=0.1,
    )
    for text in box.get_texts():
        text.set_color(tokens["ink"])


def empty(width: float, height: float, tokens: Mapping[str, str], text: str) -> object:
    """A sentence in the place of a chart."""
    figure, axes = _figure(width, height, tokens)
    axes.set_axis_off()
    axes.text(0.5, 0.5, text, ha="center", color=tokens["muted"], transform=axes.transAxes)
    return figure


def balance_amounts(assessment: Any, width: float, height: float, tokens: Mapping[str, str]) -> object:
    """Losses by element above, gains and heating below the zero line, by month [kWh]; fixed categories."""
    bal = assessment[BALANCE]
    if not all(isinstance(f, Known) for f in (*bal.losses.values(), bal.sun, bal.internal, bal.heating)):
        return empty(width, height, tokens, f"the balance: {assessment.blank}")
    figure, axes = _figure(width, height, tokens)
    x = np.arange(12)
    up, down = np.zeros(12), np.zeros(12)
    scale = kind_of("energy_month").factor

    def stacked(name: str, values: object, base: Any, token: str, hatch: str) -> None:
        edge = {"edgecolor": tokens["paper"], "linewidth": 0.5}
        axes.bar(x, values, 0.68, bottom=base, color=tokens[token], hatch=hatch, label=name, **edge)

    for name in CATEGORIES:
        values = bal.losses[name].value * scale
        base = np.where(values >= 0, up, down)
        stacked(name, values, base, LOSS_TOKENS[name], LOSS_HATCH.get(name, ""))
        up, down = up + np.maximum(values, 0), down + np.minimum(values, 0)
    for name, node, token, hatch in (
        ("heating", bal.heating, "slate", ""),
        ("sun", bal.sun, "tide", ""),
        ("people, appliances", bal.internal, "lichen", "xx"),
    ):
        stacked(name, -node.value * scale, down, token, hatch)
        down = down - node.value * scale
    axes.axhline(0, color=tokens["ink"], linewidth=0.9)
    axes.set_xticks(x, MONTHS)
    axes.set_ylabel(f"{unit_of('energy_month')} a month, losses up")
    _legend(axes, tokens, 4 if width > 4.6 else 3)
    return figure


def balance_shares(assessment: Any, width: float, height: float, tokens: Mapping[str, str]) -> Any:
    """Shares of the year's losses by element [%]; a share, not an amount."""
    book = account(assessment[BALANCE])
    if book is None:
        return empty(width, height, tokens, f"the balance: {assessment.blank}")
    figure, axes = _figure(width, height, tokens)
    total = sum(max(v, 0) for v in book.losses.values()) or 1.0
    names = list(CATEGORIES)
    shares = [100 * book.losses[n] / total for n in names]
    drawn_bars = axes.barh(
        range(len(names)), shares, 0.62, color=[tokens[LOSS_TOKENS[n]] for n in names], edgecolor=tokens["paper"], linewidth=0.5
    )
    for bar, name in zip(drawn_bars, names, strict=True):
        bar.set_hatch(LOSS_HATCH.get(name, ""))
    for i, share in enumerate(shares):
        axes.text(max(share, 0) + 0.6, i, f"{share:.0f} %".replace("-", "−"), va="center", color=tokens["ink"], fontsize=8.5)
    axes.set_yticks(range(len(names)), names)
    axes.tick_params(axis="y", colors=tokens["ink"])
    axes.invert_yaxis()
    axes.set_xlim(min(0, *shares), max(*shares, 1) * 1.15)
    axes.set_xlabel("share of the year’s losses, %", color=tokens["muted"])
    return figure


def to_svg(figure: Any) -> str:
    """A figure as SVG text without the XML head, for the dossier."""
    import io

    stream = io.StringIO()
    figure.savefig(stream, format="svg", metadata={"Date": None, "Creator": None})
    text = stream.getvalue()
    return text[text.index("<svg") :]
