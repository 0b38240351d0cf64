"""Balance: months as amounts, the year as shares, the list of every category."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout

from nuthatch.core.charts.charts import MONTHS, balance_amounts, balance_shares
from nuthatch.core.figure import Unknown
from nuthatch.core.sketch import Sketch
from nuthatch.core.transmission import CATEGORIES
from nuthatch.core.units import show, with_unit
from nuthatch.desktop.steps.board import Board
from nuthatch.desktop.theme.style import theme
from nuthatch.desktop.widgets.chart_canvas import ChartCanvas
from nuthatch.desktop.widgets.sketch_view import SketchView


class BalanceBoard(Board):
    key, title = "balance", "Balance of the year"

    def build(self) -> None:
        charts = QHBoxLayout()
        self.amounts, self.shares = (ChartCanvas("Amounts by month", 300), ChartCanvas("Shares of the year’s losses", 300))
        charts.addWidget(self.amounts, 5)
        charts.addWidget(self.shares, 3)
        self.column.addLayout(charts)
        self.table = SketchView("Balance by month", 300)
        self.table.clicked.connect(self._clicked)
        self.column.addWidget(self.table)
        self.column.addStretch(1)

    def refresh(self) -> None:
        a = self.document.assessment
        if a is None:
            return
        said = []
        for key in ("heating_demand", "cooling_demand", "heating_load", "time_constant"):
            f = a.figures[key]
            said.append(f"{f.label} {with_unit(f.value, f.kind)}" if f.value is not None else f"{f.label} not known yet")
        self.sub.setText(" · ".join(said))
        tokens = theme.tokens
        self.amounts.show_chart(lambda w, h: balance_amounts(a, w, h, tokens))
        self.shares.show_chart(lambda w, h: balance_shares(a, w, h, tokens))
        made = _months(a)
        self.table.setFixedHeight(int(made.height))
        self.table.show_sketch(made)

    def _clicked(self, ident: str) -> None:
        a = self.document.assessment
        if a is not None and ident in a.months:
            self.explain.emit(a.months[ident])


def _months(a: object) -> Sketch:
    """Every category by month and in the year; a zero stays, at zero."""
    rows = [(f"Loss, {c}", f"loss_{c.replace(' ', '_')}") for c in CATEGORIES]
    rows += [
        ("Losses", "losses"),
        ("Sun", "solar_gains"),
        ("People, appliances, water", "internal_gains"),
        ("Heating", "heating_demand"),
        ("Cooling", "cooling_demand"),
    ]
    made = Sketch(800, 30 + 21 * len(rows), "Balance by month, kWh")
    made.text(0, 12, "kWh · click a line to open it", size=11, color="muted")
    xs = [212 + i * 44 for i in range(12)] + [792]
    for x, month in zip(xs, (*MONTHS, "year"), strict=True):
        made.text(x, 12, month, size=11, color="muted", anchor="end")
    for n, (name, key) in enumerate(rows):
        y = 32 + n * 21
        made.rect(0, y - 14, 800, 20, stroke="", id=key)
        bold = key in ("losses", "heating_demand")
        made.line((0, y + 6), (800, y + 6), stroke="line", width=0.7)
        made.text(0, y, name, size=11.5, bold=bold, id=key)
        result = a.months[key]  # type: ignore[attr-defined]
        if isinstance(result, Unknown):
            made.text(212, y, f"needs {result.needs[0].text}", size=11, color="muted", id=key)
            continue
        for x, value in zip(xs, (*result.value, result.value.sum()), strict=True):
            made.text(x, y, show(float(value), "energy_month"), size=11, anchor="end", bold=bold, id=key)
    return made
