"""The dossier in a worker, so that the window never waits for it: its libraries are warm when it is asked."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.climate.climate import Climate
from nuthatch.core.dossier.printing import writer
from nuthatch.core.dossier.report import Made, to_pdf, write
from nuthatch.core.dossier.requests import requests_pdf
from nuthatch.core.files.homefile import put
from nuthatch.core.graph.runner import Stores
from nuthatch.core.library import results_on_disk
from nuthatch.core.model.home import Home


def warm() -> None:
    """Import what a dossier needs and set one small chart, so that the first one is not slower than the next."""
    from nuthatch.core.views import charts
    from nuthatch.look import palette

    writer()
    with charts.DRAWING:
        charts.to_svg(charts.empty(1, 1, palette(), "warm"))


_LAST: list[Assessment] = []
"""What the process assessed last: after an edit most of it stays."""


def _assessed(home: Home, climate: Climate | None, cache: Path) -> Assessment:
    """The home assessed, from what this process knows of it."""
    before = _LAST.pop() if _LAST else None
    known = before.climate if before is not None else None
    if known is not None and climate is not None and known.content() == climate.content():
        climate = known  # the same, handed over anew
    _LAST.append(assess(home, climate, before, stores=Stores(slow=results_on_disk(cache))))
    return _LAST[0]


def written(home: Home, climate: Climate | None, path: Path, made: Made, cache: Path) -> Path:
    """In a worker: the dossier of a home as a file, in the form its name asks for. Raises HomeFileError where it cannot be written."""
    write(_assessed(home, climate, cache), path, made)
    return path


def pages(home: Home, climate: Climate | None, path: Path, made: Made, cache: Path) -> Path:
    """In a worker: the pages of a dossier as they are by now, for the window: every number leads to where it comes from."""
    put(path, to_pdf(_assessed(home, climate, cache), replace(made, live=True), cache))
    return path


def asked(home: Home, climate: Climate | None, path: Path, made: Made, cache: Path) -> Path:
    """In a worker: what is asked of whom as evidence, a sheet for each supplier."""
    put(path, requests_pdf(_assessed(home, climate, cache), made))
    return path
