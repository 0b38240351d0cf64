"""The change line: the last edit in words and its effect on the tightest target."""

from __future__ import annotations

from html import escape

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.results.question import Question
from nuthatch.core.targets.verdict import tightest
from nuthatch.core.units import show, unit_of
from nuthatch.desktop.widgets.link_label import LinkLabel

LONGEST = 70


def effect(before: Assessment | None, after: Assessment | None) -> str:
    """What a change did to the tightest target, in words."""
    if before is None or after is None:
        return ""
    found = tightest(after.verdicts)
    set_id = found[0].set_id if found else ""
    keys = [found[1].key] if found else []
    keys += [k for k in ("heating_demand", "primary_energy") if k not in keys]
    said = []
    for key in keys:
        old, new = before.under(set_id).figures.get(key), after.under(set_id).figures.get(key)
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
    """The strip at the bottom of the window: the last change, and what to do next. `go(step, part, field)` from “next: …”."""

    go = pyqtSignal(str, str, str)

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
        self.next = LinkLabel("")
        self.next.setWordWrap(False)
        self.next.pressed.connect(self._go)
        self.no_more = QPushButton("×")
        self.no_more.setObjectName("switch")
        self.no_more.setFixedWidth(24)
        self.no_more.setAccessibleName("Do not show what is next")
        self.no_more.setToolTip("Do not show what is next")
        self.no_more.clicked.connect(lambda _: self._dismiss())
        self._question: Question | None = None
        self._wanted = True
        for part in (self.label, self.effect):
            row.addWidget(part)
        row.addStretch(1)
        for end in (self.next, self.no_more, self.hint):
            row.addWidget(end)
        self.ask(None)

    def let_ask(self) -> None:
        """Another home: what is next is shown again."""
        self._wanted = True

    def ask(self, question: Question | None) -> None:
        """Show what is next, where there is something and nobody has said no."""
        self._question = question
        shown = question is not None and self._wanted
        self.next.setVisible(shown)
        self.no_more.setVisible(shown)
        if question is not None:
            said = f"{question.item}: {question.text}" if question.item else question.text
            short = said if len(said) <= LONGEST else said[: LONGEST - 1].rstrip() + "…"
            self.next.setText(f"next: <u>{escape(short)}</u>")
            self.next.setAccessibleName(f"next: {said}")
            self.next.setToolTip(said)

    def _go(self) -> None:
        if self._question is not None:
            self.go.emit(self._question.step, self._question.part, self._question.field)

    def _dismiss(self) -> None:
        self._wanted = False
        self.ask(self._question)

    def say(self, label: str, detail: str = "") -> None:
        """Show a sentence."""
        self.label.setText(label)
        self.effect.setText(detail)
        self.setAccessibleDescription(f"{label} {detail}")

    @property
    def text(self) -> str:
        return f"{self.label.text()} {self.effect.text()}".strip()
