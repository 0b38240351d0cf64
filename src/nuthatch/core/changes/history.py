"""The home being worked on and its history. No Qt: the window wraps it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from nuthatch.core.changes.changes import Change, apply
from nuthatch.core.changes.words import describe


@dataclass(frozen=True)
class HistoryStep:
    """One step of the history: the home after it and what was done."""

    home: Any
    label: str
    merge: str = ""


class Session:
    """Undo and redo without limit. `apply`, `undo`, `redo` return the label of what happened, or None."""

    def __init__(self, home: object) -> None:
        self.past = [HistoryStep(home, "opened")]
        self.future: list[HistoryStep] = []
        self._saved = home

    @property
    def home(self) -> Any:
        return self.past[-1].home

    @property
    def dirty(self) -> bool:
        return self.home is not self._saved and self.home != self._saved

    def apply(self, change: Change, merge: str = "") -> str | None:
        """Apply a change; None where it changes nothing. Raises ChangeRefused and leaves the home as it was.

        merge: changes with the same name, one after the other, are one step (the keystrokes of one field).
        """
        joined, base = self.merges(merge), self.base(merge)
        new = apply(change, base)
        if new == self.home:
            return None
        label = describe(change, base)
        if joined:
            self.past.pop()
        if new == base:
            return f"{label.split(': ')[0]}: as before"
        self.past.append(HistoryStep(new, label, merge))
        self.future.clear()
        return label

    def base(self, merge: str = "") -> Any:
        """The home a change is applied to: the one before the step it joins, else as it is now."""
        return self.past[-2].home if self.merges(merge) else self.home

    def merges(self, name: str) -> bool:
        """Whether a change of this name would join the last step."""
        return bool(name) and len(self.past) > 1 and self.past[-1].merge == name

    def take_back(self) -> str | None:
        """Undo the last step without a way to redo it: typing that was withdrawn, with everything it moved."""
        if len(self.past) < 2:
            return None
        return f"{self.past.pop().label.split(': ')[0]}: as before"

    def settle(self) -> None:
        """End the joining of changes: the next one is a step of its own."""
        last = self.past[-1]
        self.past[-1] = HistoryStep(last.home, last.label)

    @property
    def undo_label(self) -> str | None:
        return self.past[-1].label if len(self.past) > 1 else None

    @property
    def redo_label(self) -> str | None:
        return self.future[-1].label if self.future else None

    def undo(self) -> str | None:
        if len(self.past) < 2:
            return None
        step = self.past.pop()
        self.future.append(step)
        return step.label

    def redo(self) -> str | None:
        if not self.future:
            return None
        step = self.future.pop()
        self.past.append(step)
        return step.label

    def saved(self, home: object = None) -> None:
        """The home, or the one given, is what the file holds."""
        self._saved = self.home if home is None else home

    def put(self, home: object, label: str) -> None:
        """Another home as one step of the history: work restored."""
        self.past.append(HistoryStep(home, label))
        self.future.clear()

    def rests_on(self, home: object) -> bool:
        """Whether the home as it is now came from this one by steps of the history."""
        return any(step.home is home for step in self.past)

    @property
    def typing(self) -> bool:
        """Whether the last step is still being typed."""
        return bool(self.past[-1].merge) and len(self.past) > 1

    def whole(self) -> tuple[Any, tuple[str, ...]]:
        """(home, what was done since the last save) without what is still being typed."""
        if not self.typing:
            return self.home, self.unsaved
        return self.past[-2].home, self.unsaved[:-1]

    @property
    def unsaved(self) -> tuple[str, ...]:
        """What was done since the last save, oldest first."""
        labels: list[str] = []
        for step in reversed(self.past):
            if step.home is self._saved:
                break
            labels.append(step.label)
        return tuple(reversed(labels))
