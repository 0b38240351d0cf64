"""Every picture that boards show and a dossier can hold, by key: each domain declares its own, read when one of them is asked for."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from importlib import import_module

from nuthatch.core.sketch import Picture

WHERE = {
    "balance.drawings": ("cutaway", "account", "delivered", "amounts", "shares", "months"),
    "hours.charts": ("hours-lines", "hours-by-day", "hours-duration", "hours-against", "hours-sums", "hours-own"),
    "hours.rooms": ("rooms-loads",),
    "energy_way": ("energy-way",),
    "heat_power": ("heat-pump",),
    "site": ("climate", "climate-hours"),
    "site_plan": ("site-plan",),
    "skyline": ("horizon",),
    "shape.pictures": ("plan", "elevation", "upright", "solid", "below", "faces", "take-off"),
    "openings.drawings": ("section", "moisture", "opening", "facade", "sun-hours", "seen", "season"),
    "junctions.drawings": ("junctions", "junctions-on-solid", "detail"),
    "air.drawings": ("air-paths", "flows", "flow-plan"),
    "air.test_chart": ("air-test",),
    "hot_water": ("hot-water",),
    "pipes": ("pipes",),
    "household": ("household",),
    "day": ("day",),
    "room_loads": ("room-loads",),
    "options.ladder_drawn": ("ladder",),
    "working": ("working",),
}
"""The keys of the pictures each module of `views` declares."""


class _Pictures(Mapping[str, Picture]):
    """By key; a module is read when the first of its pictures is asked for: a window opens with one of them, not with all."""

    _homes = {key: module for module, keys in WHERE.items() for key in keys}

    def __init__(self) -> None:
        self._known: dict[str, Picture] = {}

    def __getitem__(self, key: str) -> Picture:
        if key not in self._known:
            module = import_module(f"nuthatch.core.views.{self._homes[key]}")
            self._known |= {p.key: p for p in module.PICTURES}
        return self._known[key]

    def __iter__(self) -> Iterator[str]:
        return iter(self._homes)

    def __len__(self) -> int:
        return len(self._homes)


PICTURES: Mapping[str, Picture] = _Pictures()
