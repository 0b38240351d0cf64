"""Balance: months as amounts, the year as shares, the list of every category; the hours of the year."""

from __future__ import annotations

from PyQt6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QStackedWidget, QWidget

from nuthatch.core.energy.stages import BALANCE
from nuthatch.core.results.figure import shown
from nuthatch.core.steps import step_of
from nuthatch.core.views.balance.account import account
from nuthatch.core.views.balance.drawings import months_table, what_it_needs
from nuthatch.core.views.charts import balance_amounts, balance_shares
from nuthatch.desktop.steps.balance.hours_part import HoursPart
from nuthatch.desktop.steps.balance.rooms_part import RoomsPart
from nuthatch.desktop.steps.board import Board
from nuthatch.desktop.theme.style import theme
from nuthatch.desktop.widgets.chart_canvas import ChartCanvas
from nuthatch.desktop.widgets.sketch_view import SketchView


class BalanceBoard(Board):
    key, title = "balance", "Balance of the year"
    list_height = 292

    def build(self) -> None:
        both = QWidget()
        charts = QHBoxLayout(both)
        charts.setContentsMargins(0, 0, 0, 0)
        self.amounts, self.shares = ChartCanvas("Amounts by month"), ChartCanvas("Shares of the year’s losses")
        charts.addWidget(self.amounts, 5)
        charts.addWidget(self.shares, 3)
        self.lacking = SketchView("What the balance needs")
        self.lacking.clicked.connect(self._lead)
        self.charts = QStackedWidget()
        self.charts.addWidget(both)
        self.charts.addWidget(self.lacking)
        self.add_drawing("Months", self.charts)
        self.hours = HoursPart(self)
        self.rooms = RoomsPart(self)
        self.table = SketchView("Balance by month")
        self.table.clicked.connect(self._clicked)
        self.table.setMinimumHeight(30 + 21 * 12)
        rows = QScrollArea()
        rows.setWidgetResizable(True)
        rows.setFrameShape(QFrame.Shape.NoFrame)
        rows.setWidget(self.table)
        self.work.lists.add("By month", rows)
        self.hours.lists()
        self.rooms.lists()

    def refresh(self) -> None:
        a = self.assessment
        if a is None:
            return
        names = (("heating_demand", "Heating"), ("hourly_heating_demand", "by the hour"), ("cooling_demand", "Cooling"),
                 ("heating_load", "Load"), ("overheating_share", "Too warm"))  # fmt: skip
        said = [f"{name} {shown(a.figures[key])}" for key, name in names]
        self.sub.setText(" · ".join(said))
        tokens = theme.tokens
        lacking = account(a[BALANCE]) is None and not a.computing
        self.charts.setCurrentIndex(int(lacking))
        if lacking:
            self.lacking.show_made(lambda w, h: what_it_needs(a, w, h))
        self.amounts.show_chart(lambda w, h: balance_amounts(a, w, h, tokens))
        self.shares.show_chart(lambda w, h: balance_shares(a, w, h, tokens))
        self.table.show_made(lambda w, h: months_table(a, w))
        self.hours.refresh()
        self.rooms.refresh()

    def _lead(self, ident: str) -> None:
        part, _, field = ident.partition(":")
        if (found := self.desk.part(part)) is not None:
            self.go.emit(step_of(found, field), part, field)

    @property
    def settled(self) -> bool:
        return self.hours.tried.settled and self.rooms.late.settled and self.hours.other.settled

    def subject(self, picture: str) -> str | None:
        if picture == "rooms-loads":
            return str(self.rooms.storey.currentData() or "") if self.rooms.storey.count() else None
        return self.hours.subject(picture) if picture == "hours-own" else ""

    def focus_field(self, part: str, field: str) -> bool:
        return self.hours.focus_field(part, field) or self.rooms.focus_field(part, field)

    def _clicked(self, ident: str) -> None:
        a = self.assessment
        if a is not None and ident in a.months:
            self.explain.emit(a.months[ident])
