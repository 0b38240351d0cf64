"""The edit card: the fields of one part, made from the model's own description of them."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QEvent, Qt, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QCheckBox, QComboBox, QFrame, QGridLayout, QLabel, QLineEdit, QSizePolicy, QVBoxLayout, QWidget

from nuthatch.core.model.part import FieldSpec, Given, Part, specs
from nuthatch.desktop.desk import Desk
from nuthatch.desktop.widgets.evidence_line import EvidenceLine
from nuthatch.desktop.widgets.quantity_field import QuantityField

LONGEST_CHOICE = 11


class EditCard(QFrame):
    """Edits one part by id. `columns` fields stand side by side."""

    refused = pyqtSignal(str)

    def __init__(self, desk: Desk, columns: int = 5, hide: tuple[str, ...] = ()) -> None:
        super().__init__()
        self.setObjectName("card")
        self._desk, self._columns, self._hide = desk, columns, hide
        self.part_id = ""
        self._kind: type[Part] | None = None
        self.fields: dict[str, QWidget] = {}
        self._title = QLabel()
        self._title.setObjectName("sectionTitle")
        self._title.setTextFormat(Qt.TextFormat.PlainText)
        self._grid_holder = QWidget()
        self._evidence = EvidenceLine(desk)
        self._evidence.refused.connect(self.refused)
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 10, 14, 10)
        column.setSpacing(6)
        column.addWidget(self._title)
        column.addWidget(self._grid_holder)
        column.addWidget(self._evidence)

    def show_part(self, part_id: str, title: str = "") -> None:
        """Show a part's fields; an id that is gone empties the card."""
        part = self._desk.part(part_id)
        self.setVisible(part is not None)
        if part is None:
            self.part_id = ""
            return
        if type(part) is not self._kind or self.part_id != part_id:
            self.part_id, self._kind = part_id, type(part)
            self._build(part)
        name = title or getattr(part, "name", "")
        self._title.setText(str(name))
        self._title.setVisible(bool(str(name).strip()))
        for field, widget in self.fields.items():
            self._fill(widget, getattr(part, field), specs(type(part))[field])
        self._evidence.refresh()

    def _fit(self) -> None:
        """As high as the wrapped labels and hints need at this width: a scrolled column would squeeze them."""
        layout = self.layout()
        if layout is not None and layout.hasHeightForWidth() and self.width() > 100:
            height = layout.totalHeightForWidth(self.width())
            if height != self.minimumHeight():
                self.setMinimumHeight(height)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()

    def event(self, event: QEvent | None) -> bool:
        done = super().event(event)
        if event is not None and event.type() == QEvent.Type.LayoutRequest:
            self._fit()
        return done

    def _build(self, part: Part) -> None:
        old = self._grid_holder
        self._grid_holder = QWidget()
        grid = QGridLayout(self._grid_holder)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(16)
        grid.setVerticalSpacing(8)
        self.fields = {}
        at = 0
        for field, spec in specs(type(part)).items():
            if field in self._hide:
                continue
            widget = self._make(part, field, spec)
            long = spec.kind in ("text", "note", "ref") or any(len(c) > LONGEST_CHOICE for c in spec.choices)
            wide = 2 if long and self._columns > 3 else 1
            if at % self._columns + wide > self._columns:
                at += self._columns - at % self._columns
            grid.addWidget(widget, at // self._columns, at % self._columns, 1, wide, Qt.AlignmentFlag.AlignTop)
            at += wide
            self.fields[field] = widget
        for c in range(self._columns):
            grid.setColumnStretch(c, 1)
            grid.setColumnMinimumWidth(c, 96)
        layout = self.layout()
        assert layout is not None
        layout.replaceWidget(old, self._grid_holder)
        old.deleteLater()
        self._grid_holder.show()  # at once, not with the next event: a field may be focused right after
        self._evidence.follow("", "")

    def _make(self, part: Part, field: str, spec: FieldSpec) -> QWidget:
        if spec.is_quantity:
            made = QuantityField(spec)
            made.entered.connect(lambda value, f=field: self._set_number(f, value))
            made.focused.connect(lambda f=field: self._evidence.follow(self.part_id, f))
            made.left.connect(self._desk.settle)
            made.withdrawn.connect(lambda given, f=field: self._restore(f, given))
            return made
        inner: QWidget
        if spec.kind in ("choice", "ref"):
            box = QComboBox()
            box.activated.connect(lambda _, f=field, b=box: self._set(f, b.currentData()))
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
        elif isinstance(inner, QCheckBox):
            inner.setChecked(bool(value))
        elif isinstance(inner, QLineEdit) and not inner.hasFocus():
            inner.setText(str(value))

    def _set(self, field: str, value: Any) -> None:
        reason = self._desk.choose(self.part_id, field, value)
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
            widget.show_value(getattr(part, field))

    def focus_field(self, field: str) -> bool:
        """Put the focus into a field; False where the card has none of that name."""
        widget = self.fields.get(field)
        if widget is None:
            return False
        target = widget.edit if isinstance(widget, QuantityField) else widget.inner if isinstance(widget, _Labelled) else widget
        target.setFocus(Qt.FocusReason.OtherFocusReason)
        if isinstance(target, QLineEdit):
            target.selectAll()
        return True


class _Labelled(QWidget):
    """A label above an editor."""

    def __init__(self, spec: FieldSpec, inner: QWidget) -> None:
        super().__init__()
        self.inner = inner
        label = QLabel(spec.label)
        label.setObjectName("muted")
        label.setBuddy(inner)
        label.setWordWrap(True)
        label.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        column.addWidget(label)
        column.addWidget(inner)
        if spec.help:
            hint = QLabel(spec.help)
            hint.setObjectName("hint")
            hint.setWordWrap(True)
            hint.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
            column.addWidget(hint)
        if isinstance(inner, QComboBox):
            inner.setMinimumWidth(60)
            inner.setMinimumContentsLength(4)
            inner.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
