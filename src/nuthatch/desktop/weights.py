"""Finds the assumption that moves heating demand most, one trial in an idle moment, given up when the home changes."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QWidget

from nuthatch.core.assess import Assessment, Snapshot, assess
from nuthatch.core.changes.changes import ChangeRefused, SetValue, apply
from nuthatch.core.graph.memo import Memo
from nuthatch.core.graph.runner import Stores
from nuthatch.core.model.part import specs
from nuthatch.core.questions import assumptions


class Weighing:
    """Finds the assumption that moves heating demand most, one trial per idle moment, given up when the home changes."""

    def __init__(self, owner: QWidget, snapshot: Callable[[], Snapshot], done: Callable[..., None]) -> None:
        self._snapshot, self._done = snapshot, done
        self._queue: list[tuple[str, str, str, str, float]] = []
        self._base: Assessment | None = None
        self._best: tuple[float, tuple[str, str, str, str]] | None = None
        self._timer = QTimer(owner)  # dies with the rail
        self._timer.setInterval(15)
        self._timer.timeout.connect(self._step)
        self._wait = QTimer(owner)
        self._wait.setSingleShot(True)
        self._wait.setInterval(900)
        self._wait.timeout.connect(self._timer.start)

    def start(self) -> None:
        self._timer.stop()
        self._best = None
        self._base = self._snapshot().assessment
        self._queue = []
        if self._base is None or self._base.computing or self._base.figures["heating_demand"].value is None:
            return
        for step, part, field, given in assumptions(self._base.home):
            # a tenth of a temperature in °C means nothing
            if given.value and specs(type(part))[field].kind != "temperature":
                label = specs(type(part))[field].label
                name = f"{getattr(part, 'name', '')} {label[0].lower()}{label[1:]}".strip()
                self._queue.append((step, part.id, field, name, given.value))  # type: ignore[attr-defined]
        self._wait.start()

    def _step(self) -> None:
        base = self._base
        if base is None or base is not self._snapshot().assessment:
            self._timer.stop()
            return
        if not self._queue:
            self._timer.stop()
            if self._best is not None:
                effect, found = self._best
                self._done(*found, effect)
            return
        step, part, field, name, value = self._queue.pop()
        try:
            changed = apply(SetValue(part=part, field=field, value={"value": value * 1.1}), base.home)
        except ChangeRefused:
            return
        trial = assess(changed, base.climate, base, wait=False, stores=Stores(Memo(0))).figures["heating_demand"].value
        effect = abs(trial - base.figures["heating_demand"].value) if trial is not None else 0.0
        if self._best is None or effect > self._best[0]:
            self._best = (effect, (step, part, field, name))
