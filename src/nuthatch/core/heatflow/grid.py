"""A graded grid: lines through every corner of a section, and between them lines that lie close where something changes."""

from __future__ import annotations

from math import ceil, log

import numpy as np

from nuthatch.core.heatflow.section import SMALL, Section
from nuthatch.core.heatflow.section import drawn as outlines

FINEST = 0.004
"""How close lines lie beside a corner at fineness 1 [m], in a section as large as USUAL; smaller ones in proportion."""
USUAL = 2.0
GROWTH = 0.3
"""By how much more the next interval is wider at fineness 1."""


def lines(section: Section, fineness: float) -> tuple[np.ndarray, np.ndarray]:
    """Grid lines across and up [m]; twice the fineness makes about four times the cells."""
    corners = np.array([p for _, outline in outlines(section) for p in outline])
    solid = np.array([p for b in section.blocks for p in b.outline])
    low, high = solid.min(axis=0), solid.max(axis=0)
    finest = FINEST * min(1.0, float((high - low).min()) / USUAL * 4) / fineness
    return tuple(_graded(_within(corners[:, i], low[i], high[i]), finest, 1 + GROWTH / fineness, 2 * fineness) for i in (0, 1))  # type: ignore[return-value]


def _within(values: np.ndarray, low: float, high: float) -> np.ndarray:
    """The values in order, each once, between two."""
    found = np.sort(values[(values >= low - SMALL) & (values <= high + SMALL)])
    return found[np.concatenate(([True], np.diff(found) > SMALL))]


def _graded(keys: np.ndarray, finest: float, growth: float, fineness: float) -> np.ndarray:
    """The keys and what lies between: intervals that grow from both ends."""
    made = [keys[:1]]
    for a, b in zip(keys[:-1], keys[1:], strict=True):
        made.append(a + (b - a) * _shares(b - a, finest, growth, ceil(fineness)))
        made[-1][-1] = b
    return np.concatenate(made)


def _shares(length: float, finest: float, growth: float, least: int) -> np.ndarray:
    """Where the lines of an interval lie, as shares of it, its end included."""
    half = max(ceil(log(1 + length / 2 * (growth - 1) / finest) / log(growth) - 1e-9), 1)
    if length <= finest or 2 * half <= least:
        return np.arange(1, least + 1) / least
    steps = growth ** np.arange(half)
    steps = np.concatenate((steps, steps[::-1]))
    return np.asarray(np.cumsum(steps) / steps.sum())
