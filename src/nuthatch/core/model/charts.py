"""Charts of one's own of the hours of a year: what they show, how, of which days."""

from __future__ import annotations

from typing import Literal

from nuthatch.core.model.part import Basis, Given, IdentifiedPart, choice, quantity, replace, text

HourKind = Literal["lines", "hour by day", "duration", "against outdoors", "sums of causes"]
HourRun = Literal["needs", "windows shut", "windows by hand"]
HourQuantity = Literal[
    "none", "outdoors", "air", "operative", "surfaces", "mass", "heating", "cooling", "sun", "inner gains", "by windows and doors",
    "by opaque parts", "by the air", "air that moves", "windows by hand",
]  # fmt: skip


class HourChart(IdentifiedPart):
    """A chart of the hourly year, kept in the home."""

    name: str = text("Chart of the hours", short="Name")
    kind: HourKind = choice("Kind of chart", "lines", short="As")
    run: HourRun = choice(
        "Of which year", "windows shut", short="Of", help="needs: both set-points held; the others: cooled only where a source cools"
    )
    first: HourQuantity = choice("First line", "operative", group="Shows", short="First")
    second: HourQuantity = choice("Second line", "outdoors", only="kind=lines|duration", short="Second")
    third: HourQuantity = choice("Third line", "none", only="kind=lines|duration", short="Third")
    start: Given | None = quantity("count", "From day of the year", least=1, most=365, group="Days", short="From", whole="yes")
    end: Given | None = quantity("count", "To day of the year", least=1, most=365, short="To", help="empty: all", whole="yes")

    def with_days(self, start: int, end: int) -> HourChart:
        """Of these days only."""
        first, last = (Given(value=float(d), basis=Basis.DECLARED, source="as shown") for d in (start, end))
        return replace(self, start=first, end=last)
