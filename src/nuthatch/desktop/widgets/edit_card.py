"""The edit card: the fields of one part, made from the model's own description of them."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent
from PyQt6.QtWidgets import QCheckBox, QComboBox, QFrame, QHBoxLayout, QLabel, QLineEdit, QSizePolicy, QVBoxLayout, QWidget

from nuthatch.core.model.part import FieldSpec, Given, Part, specs
from nuthatch.core.results.figure import shown
from nuthatch.core.views.sheets.parts import counting, counts_instead
from nuthatch.desktop.desk import Desk
from nuthatch.desktop.widgets.evidence_line import EvidenceLine
from nuthatch.desktop.widgets.quantity_field import ElidedLabel, QuantityField


class EditCard(QFrame):
    """Edits one part by id, a line a field: name, value, unit, basis."""

    refused = pyqtSignal(str)

    def __init__(self, desk: Desk, hide: tuple[str, ...] = ()) -> None:
        super().__init__()
        self.setObjectName("group")
        self._desk, self._hide = desk, hide
        self._heads: dict[str, _Heading] = {}
        self._asked: set[str] = set()
        self._other: set[str] = set()
        self.part_id = ""
        self._kind: type[Part] | None = None
        self.fields: dict[str, QWidget] = {}
        self._title = QLabel()
        self._title.setObjectName("sectionTitle")
        self._title.setTextFormat(Qt.TextFormat.PlainText)
        self._rows = QWidget()
        self.evidence_line = EvidenceLine(desk)
        self.evidence_line.refused.connect(self.refused)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 4)
        column.setSpacing(4)
        column.addWidget(self._title)
        column.addWidget(self._rows)
        column.addWidget(self.evidence_line)

    def show_part(self, part_id: str, title: str = "") -> None:
        """Show a part's fields; an id that is gone empties the card."""
        part = self._desk.part(part_id)
        self.setVisible(part is not None)
        if part is None:
            self.part_id = ""
            return
        if type(part) is not self._kind or self.part_id != part_id:
            self.part_id, self._kind = part_id, type(part)
            self._asked = set()
            self._build(part)
        name = title or getattr(part, "name", "")
        self._title.setText(str(name))
        self._title.setVisible(bool(str(name).strip()))
        for field, widget in self.fields.items():
            self._fill(widget, part[field], specs(type(part))[field])
            if isinstance(widget, QuantityField) and (field in self._other or counts_instead(part, field)):
                self._say_what_counts(widget, part, field)
        self._show_what_counts(part)
        self.evidence_line.refresh()

    def _say_what_counts(self, widget: QuantityField, part: Part, field: str) -> None:
        """Beside a typed value: the one that counts instead, where one does."""
        a = self._desk.snapshot.assessment
        found = counting(a, part, field) if a is not None and part[field] is not None else None
        words = f"not this one: {shown(found)} counts, {found.label[:1].lower()}{found.label[1:]}" if found is not None else ""
        if words or field in self._other:
            widget.show_counting(words)
        self._other = self._other | {field} if words else self._other - {field}

    def _build(self, part: Part) -> None:
        old = self._rows
        self._rows = QWidget()
        column = QVBoxLayout(self._rows)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        self.fields, self._heads = {}, {}
        head = ""
        for field, spec in specs(type(part)).items():
            if spec.group and spec.group != head:
                head = spec.group
                self._heads[head] = _Heading(head)
                column.addWidget(self._heads[head])
            if field in self._hide:
                continue
            widget = self._make(part, field, spec)
            column.addWidget(widget)
            self.fields[field] = widget
            if head:
                self._heads[head].holds.append(widget)
        layout = self.layout()
        assert layout is not None
        layout.replaceWidget(old, self._rows)
        old.hide()
        old.deleteLater()
        self._rows.show()  # at once, not with the next event: a field may be focused right after
        self.evidence_line.follow("", "")

    def _show_what_counts(self, part: Part) -> None:
        """Fields that belong to another choice are left out; one that holds a doubt, or was asked for, stays."""
        for field, spec in specs(type(part)).items():
            widget = self.fields.get(field)
            if widget is None or not spec.only:
                continue
            asked = widget.isAncestorOf(self.focusWidget() or self) or field in self._asked
            widget.setVisible(spec.applies(part) or asked)
        for heading in self._heads.values():
            heading.setVisible(any(not w.isHidden() for w in heading.holds))

    def _make(self, part: Part, field: str, spec: FieldSpec) -> QWidget:
        if spec.is_quantity:
            made = QuantityField(spec)
            made.entered.connect(lambda value, f=field: self._set_number(f, value))
            made.focused.connect(lambda f=field: self.evidence_line.follow(self.part_id, f))
            made.left.connect(self._desk.settle)
            made.withdrawn.connect(lambda given, f=field: self._restore(f, given))
            return made
        inner: QWidget
        if spec.kind in ("choice", "ref"):
            box = _Choice()
            box.activated.connect(lambda _, f=field, b=box: self._set(f, b.currentData(), b.by_key))
            box.left.connect(self._desk.settle)
            inner = box
        elif spec.kind == "flag":
            check = QCheckBox("yes")
            check.clicked.connect(lambda on, f=field: self._set(f, bool(on)))
            inner = check
        else:
            line = QLineEdit()
            line.editingFinished.connect(lambda f=field, w=line: self._set(f, w.text()))
            inner = line
        inner.setAccessibleName(spec.label)
        return _Labelled(spec, inner)

    def _fill(self, widget: QWidget, value: Any, spec: FieldSpec) -> None:
        if isinstance(widget, QuantityField):
            widget.show_value(value)
            return
        assert isinstance(widget, _Labelled)
        inner = widget.inner
        if isinstance(inner, QComboBox):
            options = [(c, c) for c in spec.choices] if spec.kind == "choice" else [("", "none"), *self._desk.names(spec)]
            if [(inner.itemData(i), inner.itemText(i)) for i in range(inner.count())] != options:
                inner.clear()
                for ident, name in options:
                    inner.addItem(name, ident)
            inner.setCurrentIndex(max(inner.findData(value), 0))
            inner.setToolTip(f"{spec.label}: {inner.currentText()}" + (f"\n{spec.help}" if spec.help else ""))
        elif isinstance(inner, QCheckBox):
            inner.setChecked(bool(value))
        elif isinstance(inner, QLineEdit) and not inner.hasFocus():
            inner.setText(str(value))
            inner.setCursorPosition(0)
            if str(value):
                inner.setToolTip(f"{spec.label}: {value}")

    def _set(self, field: str, value: object, by_key: bool = False) -> None:
        reason = self._desk.choose(self.part_id, field, value, by_key)
        if reason:
            self.refused.emit(reason)

    def _set_number(self, field: str, value: float | None) -> None:
        reason = self._desk.typed(self.part_id, field, value)
        self._follow(field, reason)

    def _restore(self, field: str, given: Given | None) -> None:
        """Back to the value before the typing."""
        self._desk.withdraw(self.part_id, field, given)
        self._follow(field)

    def _follow(self, field: str, refused: str = "") -> None:
        """The field shows what the home holds now, or why the number was refused."""
        widget, part = self.fields.get(field), self._desk.part(self.part_id)
        if not isinstance(widget, QuantityField):
            return
        if refused:
            widget.refuse(refused)
        elif part is not None:
            widget.show_value(part[field])

    def focus_field(self, field: str) -> bool:
        """Put the focus into a field; False where the card has none of that name."""
        widget = self.fields.get(field)
        if widget is None:
            return False
        if widget.isHidden():
            self._asked.add(field)
            widget.setVisible(True)
        target = widget.edit if isinstance(widget, QuantityField) else widget.inner if isinstance(widget, _Labelled) else widget
        target.setFocus(Qt.FocusReason.OtherFocusReason)
        if isinstance(target, QLineEdit):
            target.selectAll()
        return True


class _Heading(QWidget):
    """A line, and what the fields below it are about."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.holds: list[QWidget] = []
        line = QFrame()
        line.setObjectName("rule")
        line.setFixedHeight(1)
        label = QLabel(text)
        label.setObjectName("groupTitle")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 0, 0)
        column.setSpacing(3)
        column.addWidget(line)
        column.addWidget(label)


class _Choice(QComboBox):
    """`left()` when the focus goes; `by_key`: what is chosen is gone through with keys, not picked from the open list."""

    left = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.by_key = False

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        self.by_key = True
        super().keyPressEvent(event)
        self.by_key = False

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        self.left.emit()


class _Labelled(QWidget):
    """A name and an editor on one line; what is long has the line below its name."""

    def __init__(self, spec: FieldSpec, inner: QWidget) -> None:
        super().__init__()
        self.inner = inner
        label = self._label = ElidedLabel(spec.brief, "\n".join(t for t in (spec.label, spec.help) if t))
        label.setBuddy(inner)
        inner.setToolTip("\n".join(t for t in (spec.label, spec.help) if t))
        row = self._row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        wide = spec.kind in ("text", "note", "ref")
        self._turns = wide
        row.addWidget(label, 0 if wide else 1)
        row.addWidget(inner, 1 if wide else 0)
        if wide:
            label.setFixedWidth(62)
            label.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Preferred)
        if isinstance(inner, QComboBox):
            inner.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
            if spec.kind == "ref":
                inner.setMinimumContentsLength(8)
                inner.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
                inner.currentTextChanged.connect(lambda _: self._fit())
        elif isinstance(inner, QLineEdit):
            inner.textChanged.connect(lambda _: None if inner.hasFocus() else self._fit())  # nothing moves under the hands
            inner.editingFinished.connect(self._fit)

    def resizeEvent(self, event: object) -> None:
        self._fit()

    def _fit(self) -> None:
        """A name too long for the line stands below its label: it is never cut."""
        if self._turns and self.width() > 100:
            text = self.inner.currentText() if isinstance(self.inner, QComboBox) else getattr(self.inner, "text", str)()
            need = self.inner.fontMetrics().horizontalAdvance(text) + (40 if isinstance(self.inner, QComboBox) else 22)
            name = 62 if self.width() < 400 else 190
            beside = need <= self.width() - name - 6
            self._row.setDirection(QHBoxLayout.Direction.LeftToRight if beside else QHBoxLayout.Direction.TopToBottom)
            self._row.setSpacing(6 if beside else 1)
            self._label.setFixedWidth(name if beside else self.width())
