"""The change line: the last edit in words and its effect on the tightest target."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.targets.verdict import tightest
from nuthatch.core.units import show, unit_of


def effect(before: Assessment | None, after: Assessment | None) -> str:
    """What a change did to the tightest target, in words."""
    if before is None or after is None:
        return ""
    found = tightest(after.verdicts)
    keys = [found[1].key] if found else []
    keys += [k for k in ("heating_demand", "primary_energy") if k not in keys]
    said = []
    for key in keys:
        old, new = before.figures.get(key), after.figures.get(key)
        if new is None or old is None or new.value is None:
            continue
        name = new.label[0].lower() + new.label[1:] if new.label[:1] != "C" else new.label
        if old.value is None:
            said.append(f"{name} now {show(new.value, new.kind)} {new.unit}")
            continue
        step = float(new.value) - float(old.value)
        text = show(step, new.kind)
        if text.strip("−0.") == "":
            continue
        said.append(f"{name} {'+' if step > 0 else ''}{text} {unit_of(new.kind)}")
        if len(said) == 2:
            break
    return ", ".join(said) if said else "no target moved"


class ChangeLine(QWidget):
    """The strip at the bottom of the window."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("changeLine")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(28)
        self.label, self.effect, self.hint = QLabel(), QLabel(), QLabel("undo Ctrl Z")
        for part in (self.label, self.effect):
            part.setTextFormat(Qt.TextFormat.PlainText)
        self.label.setStyleSheet("font-weight: 600;")
        self.hint.setObjectName("muted")
        self.setAccessibleName("Change line")
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 0, 14, 0)
        row.setSpacing(12)
        row.addWidget(self.label)
        row.addWidget(self.effect)
        row.addStretch(1)
        row.addWidget(self.hint)

    def say(self, label: str, detail: str = "") -> None:
        """Show a sentence."""
        self.label.setText(label)
        self.effect.setText(detail)
        self.setAccessibleDescription(f"{label} {detail}")

    @property
    def text(self) -> str:
        return f"{self.label.text()} {self.effect.text()}".strip()
