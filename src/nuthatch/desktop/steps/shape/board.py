"""Shape: the quick form or a list of faces; plan and axonometric, tinted."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QDoubleSpinBox, QHBoxLayout, QLabel, QPushButton, QSlider, QSpinBox, QVBoxLayout, QWidget

from nuthatch.core.edits.changes import SetValue
from nuthatch.core.edits.desk import Listing
from nuthatch.core.edits.moves import as_form, as_list
from nuthatch.core.model.home import Face
from nuthatch.core.shape.drawings import TINTS, Tint, View, axonometric, face_losses, plan, take_off
from nuthatch.core.shape.stages import SOLID
from nuthatch.desktop.steps.board import Board, ListPanel, button, loss_text
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.list_table import Column, ListSpec
from nuthatch.desktop.widgets.sketch_view import SketchView


class ShapeBoard(Board):
    key, title = "shape", "Shape"

    def build(self) -> None:
        self.tinting = self._tint_row()
        self.column.addWidget(self.tinting)
        drawings = QHBoxLayout()
        self.plan_view, self.solid_view = SketchView("Plan", 290), SketchView("Axonometric", 290)
        drawings.addWidget(self.plan_view, 4)
        drawings.addWidget(self.solid_view, 5)
        self.column.addLayout(drawings)
        self._turning_row()
        self.takeoff = SketchView("Take-off", 74)
        self.column.addWidget(self.takeoff)
        self.form_card = EditCard(self.desk, 6)
        self.form_card.setAccessibleName("Quick form")
        self.column.addWidget(self.form_card)
        self.switch = QHBoxLayout()
        self.to_list = button(
            "Edit as a list of faces", self._to_list, tip="Turn the form into a list of faces, for a home that is no simple form"
        )
        self.to_form = button("Start a quick form", self._to_form)
        self.switch.addWidget(self.to_list)
        self.switch.addWidget(self.to_form)
        self.switch.addStretch(1)
        self.column.addLayout(self.switch)
        self.faces = ListPanel(self, _faces_spec(), 5, add="Add a face")
        holder = QVBoxLayout()
        holder.addWidget(self.faces)
        holder.addWidget(self.faces.card)
        self.column.addLayout(holder)
        self.shape_card = EditCard(self.desk, 5)
        self.column.addWidget(self.shape_card)
        self.column.addStretch(1)

    def _turning_row(self) -> None:
        """The sliders that turn the axonometric."""
        self.turning = QWidget()
        turning = QHBoxLayout(self.turning)
        turning.setContentsMargins(0, 0, 0, 0)
        self.turn, self.lift = QSlider(Qt.Orientation.Horizontal), QSlider(Qt.Orientation.Horizontal)
        for slider, low, high, value, name in ((self.turn, -180, 180, 32, "Turn"), (self.lift, -60, 75, 26, "From above or below")):
            slider.setRange(low, high)
            slider.setValue(value)
            slider.setAccessibleName(name)
            slider.valueChanged.connect(self._draw)
            turning.addWidget(QLabel(name))
            turning.addWidget(slider, 1)
        self.glass = QPushButton("See-through")
        self.glass.setCheckable(True)
        self.glass.clicked.connect(self._draw)
        turning.addWidget(self.glass)
        self.column.addWidget(self.turning)

    def _tint_row(self) -> QWidget:
        holder = QWidget()
        row = QHBoxLayout(holder)
        row.setContentsMargins(0, 0, 0, 0)
        self.tint = QComboBox()
        self.tint.setAccessibleName("Tint by")
        self.tint.addItems(TINTS)
        self.tint.currentTextChanged.connect(self._tint_changed)
        self.low, self.high, self.decimals = QDoubleSpinBox(), QDoubleSpinBox(), QSpinBox()
        self.range = QWidget()
        inner = QHBoxLayout(self.range)
        inner.setContentsMargins(0, 0, 0, 0)
        for box, name in ((self.low, "from"), (self.high, "to")):
            box.setRange(0, 500)
            box.setDecimals(2)
            box.setSingleStep(0.05)
            box.setAccessibleName(f"Legend {name}")
            box.valueChanged.connect(self._draw)
            inner.addWidget(QLabel(name))
            inner.addWidget(box)
        self.decimals.setRange(0, 4)
        self.decimals.setValue(2)
        self.decimals.setAccessibleName("Legend decimals")
        self.decimals.valueChanged.connect(self._draw)
        inner.addWidget(QLabel("decimals"))
        inner.addWidget(self.decimals)
        row.addWidget(QLabel("Tint by"))
        row.addWidget(self.tint)
        row.addWidget(self.range)
        row.addStretch(1)
        self.range.hide()
        return holder

    def _tint_changed(self, by: str) -> None:
        self.range.setVisible(by in ("U-value", "heat loss"))
        for box in (self.low, self.high):
            box.blockSignals(True)
            box.setValue({"U-value": 0.6, "heat loss": 12.0}.get(by, 0.0) if box is self.high else 0.0)
            box.blockSignals(False)
        self._draw()

    def _draw(self, *_: object) -> None:
        a = self.assessment
        if a is None:
            return
        by = self.tint.currentText()
        ranged = by in ("U-value", "heat loss")
        tint = Tint(by, self.low.value() if ranged else None, self.high.value() if ranged else None, self.decimals.value())
        if a.home.shape.form is None:
            made = face_losses(a)
            self.solid_view.setFixedHeight(min(int(made.height), 290))
            self.solid_view.show_sketch(made)
        else:
            self.solid_view.setFixedHeight(290)
            self.plan_view.show_sketch(plan(a, tint))
            self.solid_view.show_sketch(axonometric(a, View(self.turn.value(), self.lift.value(), self.glass.isChecked()), tint))
        self.takeoff.show_sketch(take_off(a))

    def refresh(self) -> None:
        home = self.home
        formed = home.shape.form is not None
        self.sub.setText(
            "A plain house from a few dimensions. Everything below is drawn and measured from them."
            if formed
            else "A list of faces. Type it, or paste rows from a spreadsheet: name, kind, area, tilt, looks to, borders on, build-up, b."
        )
        self.form_card.setVisible(formed)
        self.to_list.setVisible(formed)
        self.to_form.setVisible(not formed)
        self.faces.setVisible(not formed)
        self.plan_view.setVisible(formed)
        self.turning.setVisible(formed)
        self.tinting.setVisible(formed)
        if formed:
            self.form_card.show_part("form", "Quick form")
        self.shape_card.show_part("shape", "Dimensions and measured values")
        self.faces.refresh("No faces yet. Paste rows from a spreadsheet, or add the first face.")
        if formed:
            self.faces.card.hide()
        self._draw()

    def _to_list(self) -> None:
        a = self.assessment
        if a is None or not a[SOLID].boundaries:
            self.apply(SetValue(part="shape", field="form", value=None))
            return
        self.apply(as_list(a))

    def _to_form(self) -> None:
        self.apply(as_form())

    def focus_field(self, part: str, field: str) -> bool:
        if part == "form":
            return self.form_card.focus_field(field)
        if part == "shape":
            if field == "faces":
                self.faces.table.setFocus()
                return True
            return self.shape_card.focus_field(field)
        return self.faces.focus_field(part, field)


def _faces_spec() -> ListSpec:
    columns = (
        Column("Face", "name"),
        Column("Kind", "role", width=80),
        Column("Area", "area", width=78),
        Column("Tilt", "tilt", width=58),
        Column("Looks to", "azimuth", width=80),
        Column("Borders on", "borders", width=106),
        Column("Build-up", "buildup", width=140),
        Column("b", "b", width=52),
        Column("H", text=loss_text, kind="w_per_k", width=64),
    )
    return ListSpec("Faces", Listing("shape", "faces", Face, "face"), columns)
