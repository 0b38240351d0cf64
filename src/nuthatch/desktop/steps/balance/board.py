"""Balance: months as amounts, the year as shares, the list of every category."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QWidget

from nuthatch.core.results.figure import shown
from nuthatch.core.views.balance.drawings import months_table
from nuthatch.core.views.charts import balance_amounts, balance_shares
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
        self.add_drawing("", both)
        self.table = SketchView("Balance by month")
        self.table.clicked.connect(self._clicked)
        self.work.lists.add("", self.table)

    def refresh(self) -> None:
        a = self.assessment
        if a is None:
            return
        said = []
        for key in ("heating_demand", "cooling_demand", "heating_load", "time_constant"):
            f = a.figures[key]
            said.append(f"{f.label} {shown(f)}")
        self.sub.setText(" · ".join(said))
        tokens = theme.tokens
        self.amounts.show_chart(lambda w, h: balance_amounts(a, w, h, tokens))
        self.shares.show_chart(lambda w, h: balance_shares(a, w, h, tokens))
        self.table.show_made(lambda w, h: months_table(a, w))

    def _clicked(self, ident: str) -> None:
        a = self.assessment
        if a is not None and ident in a.months:
            self.explain.emit(a.months[ident])
