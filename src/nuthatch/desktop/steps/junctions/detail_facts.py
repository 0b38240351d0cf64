"""The inspector of a detail: ψ both ways with what is taken off, the coldest point and what it needs month by month, boundaries."""

from __future__ import annotations

from PyQt6.QtWidgets import QLabel, QVBoxLayout, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.heatflow.solved import Solved
from nuthatch.core.model.details import Detail
from nuthatch.core.units import unit_of
from nuthatch.core.views.junctions.comes_to import boundary_rows, grid_words, months_row, psi_rows, surface_words
from nuthatch.desktop.widgets.read_table import ReadTable

ROW = 25


class DetailFacts(QWidget):
    """What a detail comes to."""

    def __init__(self) -> None:
        super().__init__()
        self.title, self.says, self.grid = QLabel(), QLabel(), QLabel()
        self.title.setObjectName("sectionTitle")
        self.grid.setObjectName("muted")
        for label in (self.title, self.says, self.grid):
            label.setWordWrap(True)
        self.worked = ReadTable("What the detail comes to", ("Worked out", "External", "Internal"), (0, 66, 66))
        self.months = ReadTable("Least f_Rsi by month", ("Month", "No mould", "No water"), (0, 84, 84))
        self.bounds = ReadTable("Boundaries of the section", ("Boundary", unit_of("temperature"), "Film"), (0, 52, 70))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        for widget in (self.title, self.worked, self.says, self.months, self.bounds, self.grid):
            column.addWidget(widget)

    def show_detail(self, a: Assessment | None, detail: Detail | None, of: object) -> None:
        """A detail that is worked out; nothing without one."""
        self.setVisible(a is not None and detail is not None and isinstance(of, Solved))
        if a is None or detail is None or not isinstance(of, Solved):
            return
        self.title.setText(detail.name)
        self.says.setText(surface_words(a, of))
        self.grid.setText(grid_words(of))
        for table, rows in ((self.worked, psi_rows(of)), (self.months, months_row(a)), (self.bounds, boundary_rows(detail))):
            table.show_rows([(str(n), row) for n, row in enumerate(rows)], (1, 2))
            table.setFixedHeight(ROW * (min(len(rows), 6) + 1) + 8)
