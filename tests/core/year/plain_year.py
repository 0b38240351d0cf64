"""The hours of a year a second time: one hour after the other as the standard writes them, windows opened by halving, no lines made
beforehand. What the fast way is held against."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from functools import partial

import numpy as np

from nuthatch.core.year.network import AIR_SHARE, Network
from nuthatch.core.year.run import Drive, Held, Year

HOURS = 8760
RUN_IN = 720
"""The last thirty days are run first, then the year again until its ends agree."""
AGREE = 0.01
MOST_YEARS = 8
OPEN_ABOVE = 23.0
"""Air above this [°C] is cooled by bypass and windows where it is cooler outside: common practice, no source."""
TRIAL = 10.0


def year(network: Network, drive: Drive, held: Held) -> Year:
    """A settled year. Raises CannotKnow where the network cannot be."""
    rows = _rows(drive, held)
    start = 20.0
    for _ in _hours(network, rows[-RUN_IN:], held, start):
        start = _[2]
    made: list[tuple[float, ...]] = []
    years = 0
    for years in range(1, MOST_YEARS + 1):  # noqa: B007
        made = list(_hours(network, rows, held, start))
        end = made[-1][2]
        if abs(end - start) < AGREE:
            break
        start = end
    found = np.array(made).T
    air, surface, _, mass, phi, moved, opened = found
    sun_and_half = 0.5 * drive.gains + drive.sun
    return Year(
        air, surface, mass, AIR_SHARE * air + (1 - AIR_SHARE) * surface, phi, moved, opened,
        network.windows * (surface - drive.outside), network.h_em * (mass - drive.beyond), moved * (air - drive.brought),
        network.out * sun_and_half, (start, float(made[-1][2])), years,
    )  # fmt: skip


def _rows(drive: Drive, held: Held) -> list[tuple[float, ...]]:
    columns = (drive.outside, drive.beyond, drive.brought, drive.gains, drive.sun, drive.air, drive.open_air, drive.windows)
    wanted = (-np.inf if held.heating is None else held.heating, np.inf if held.cooling is None else held.cooling)
    return list(zip(*(np.broadcast_to(np.asarray(c, float), HOURS).tolist() for c in (*columns, *wanted)), strict=True))


def _hours(network: Network, rows: Sequence[tuple[float, ...]], held: Held, start: float) -> Iterator[tuple[float, ...]]:
    """(air, surface, mass at the end, mass in the mean, heating or cooling, air moved, of it by hand) of each hour."""
    h_is, h_ms, h_em, h_w = network.h_is, network.h_ms, network.h_em, network.windows
    to_mass, to_surface, c = network.to_mass, network.to_surface, network.capacity / 3600
    mass = start

    def at(move: float, phi: float, row: tuple[float, ...]) -> tuple[float, float, float, float]:
        """(air, surface, mass at the end, mass in the mean) with so much air and heat."""
        outside, beyond, brought, gains, sun = row[:5]
        both = 0.5 * gains + sun
        k = h_is / (h_ve + h_is) if (h_ve := move) > 0 else 1.0
        h1 = h_ve * k
        h2 = h1 + h_w
        part = h_ms / (h2 + h_ms)
        given = to_surface * both + h_w * outside + h1 * brought + k * (0.5 * gains + phi)
        total = to_mass * both + h_em * beyond + part * given
        h3 = h2 * part
        half = 0.5 * (h3 + h_em)
        end = (mass * (c - half) + total) / (c + half)
        mean = 0.5 * (mass + end)
        surface = (h_ms * mean + given) / (h_ms + h2)
        air = (h_is * surface + h_ve * brought + 0.5 * gains + phi) / (h_is + h_ve)
        return air, surface, end, mean

    def air_of(base: float, row: tuple[float, ...], more: float) -> float:
        """Air temperature with so much more air by windows."""
        return at(base + more, 0.0, row)[0]

    for row in rows:
        outside, move, open_, windows, warm, cold = row[0], *row[5:]
        opened = 0.0
        now = at(move, 0.0, row)
        if now[0] > OPEN_ABOVE and outside < now[0]:
            if open_ > move:
                move = open_
                now = at(move, 0.0, row)
            if windows > 0 and now[0] > OPEN_ABOVE and outside < now[0]:
                opened = _opened(partial(air_of, move, row), now[0], windows)
                move += opened
                now = at(move, 0.0, row)
        phi = 0.0
        operative = AIR_SHARE * now[0] + (1 - AIR_SHARE) * now[1]
        wanted = warm if operative < warm else cold if operative > cold else None
        if wanted is not None:
            trial = at(move, TRIAL, row)
            slope = (AIR_SHARE * trial[0] + (1 - AIR_SHARE) * trial[1] - operative) / TRIAL
            phi = (wanted - operative) / slope
            phi = min(phi, held.most_heat) if phi > 0 else max(phi, -held.most_cold)
            now = at(move, phi, row)
        mass = now[2]
        yield (*now, phi, move, opened)


def _opened(air: Callable[[float], float], now: float, most: float) -> float:
    """How far windows are opened so that the air comes to OPEN_ABOVE, at most all the way: halved until it is known to a thousandth."""
    if air(most) >= OPEN_ABOVE:
        return most
    low, high, f_low, f_high = 0.0, most, now - OPEN_ABOVE, air(most) - OPEN_ABOVE
    for _ in range(40):
        middle = low + (high - low) * f_low / (f_low - f_high)
        f = air(middle) - OPEN_ABOVE
        if abs(f) < 1e-6:
            return middle
        if f > 0:
            low, f_low = middle, f
            f_high *= 0.5
        else:
            high, f_high = middle, f
            f_low *= 0.5
    return 0.5 * (low + high)
