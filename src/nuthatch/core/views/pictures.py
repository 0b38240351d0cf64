"""Every picture that boards show and a dossier can hold, by key: each domain declares its own, read when one of them is asked for."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from importlib import import_module

from nuthatch.core.sketch import Picture
from nuthatch.core.steps import ROUTE

OF_NO_STEP = {"working": ("working",)}
"""Pictures that are pinned from no board, as steps name theirs: the module of `views` that draws them, their keys."""


class _Pictures(Mapping[str, Picture]):
    """By key; a module is read when the first of its pictures is asked for: a window opens with one of them, not with all."""

    _homes = {key: module for drawn in (*(step.drawn for step in ROUTE), OF_NO_STEP) for module, keys in drawn.items() for key in keys}

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
