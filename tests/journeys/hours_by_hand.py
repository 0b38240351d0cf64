"""In a real window: the year zoomed to the day on which the bypass opens, the hour read, the bypass shut and the share seen to move; the plan
tinted by loads; a chart kept and pinned; a running year stopped. What came of it is printed."""

from __future__ import annotations

import json
import sys
from pathlib import Path

import numpy as np
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from nuthatch.core.changes.changes import SetValue
from nuthatch.core.library import demo_home
from nuthatch.core.model.part import replace
from nuthatch.core.sketch import Path as Drawn
from nuthatch.core.sketch import Text
from nuthatch.core.views.hours.charts import STANDARD
from nuthatch.core.views.hours.lines import plot_of
from nuthatch.core.views.hours.rooms import loads_of
from nuthatch.core.year.stages import HOURS, PROBLEM
from nuthatch.desktop.app import application
from nuthatch.desktop.document import Document
from nuthatch.desktop.steps.balance.board import BalanceBoard
from nuthatch.desktop.window import MainWindow
from tests.journeys.by_hand import activate, all_taken_back, click, fill, step, wait


def hot_home():  # type: ignore[no-untyped-def]
    """Osier Lane 7 without cooling, its south glass twice as large: so that there is something to see."""
    home = demo_home("osier-lane-7")
    openings = tuple(
        replace(o, width=o.width.model_copy(update={"value": 1.35 * o.width.value})) if o.id in ("w-01", "w-02") and o.width else o
        for o in home.openings
    )
    return replace(home, sources=tuple(replace(s, cooling_share=None) for s in home.sources), openings=openings)


def share(window: MainWindow) -> float:
    a = window.document.assessment
    assert a is not None
    return float(a.figures["overheating_share"].value)  # type: ignore[arg-type]


def zoomed(window: MainWindow, board: BalanceBoard) -> dict[str, object]:
    """To the day before the first hour of an open bypass, by the wheel; the hour read at the pointer."""
    a = window.document.assessment
    assert a is not None
    moved = np.asarray(a[HOURS].comfort.moved)
    hour = int(np.flatnonzero(moved > a[PROBLEM].air + 1e-3)[0])
    chart = replace(STANDARD["hours-lines"], third="air that moves")
    board.hours.show_chart(chart)
    view = board.hours.view
    wait(lambda: view.isVisible() and view.sketch is not None)
    for _ in range(40):
        if view.span.wide < 30:
            break
        at = QPointF(plot_of((float(view.width()), float(view.height())), view.span).x(hour + 0.5), view.height() / 2)
        event = QWheelEvent(
            at,
            view.mapToGlobal(at),
            QPoint(),
            QPoint(0, 120),
            Qt.MouseButton.NoButton,
            Qt.KeyboardModifier.NoModifier,
            Qt.ScrollPhase.NoScrollPhase,
            False,
        )
        QApplication.sendEvent(view, event)
        QApplication.processEvents()
    x = plot_of((float(view.width()), float(view.height())), view.span).x(hour + 0.5)

    def said() -> str:
        return " ".join(i.text for i in view.sketch.items if isinstance(i, Text))  # type: ignore[union-attr]

    def read() -> bool:  # a pointer on a display of its own may be elsewhere for a moment: moved until it is there, as a hand would
        for aside in (1, 0):
            QTest.mouseMove(view, QPointF(x + aside, view.height() / 2).toPoint())
            QApplication.processEvents()
        return f"{hour % 24} to" in said()

    wait(read)
    return {"span": view.span.wide, "hour": hour, "said": said(), "moved": float(moved[hour])}


def shut(window: MainWindow) -> dict[str, float]:
    """The bypass shut on the air board: the share moves."""
    before = share(window)
    board = step(window, "air")
    unit = window.document.home.air.units[0].id
    board.focus_field(unit, "bypass")  # type: ignore[attr-defined]
    window.document.desk.apply(SetValue(part=unit, field="bypass", value=False))
    wait(window.settled, 120)
    return {"before": before, "after": share(window)}


def tinted(window: MainWindow, board: BalanceBoard) -> int:
    """How many tints the plan has by heating load."""
    step(window, "balance")
    board.work.drawings.show_widget(board.rooms.view)
    board.rooms.tint.by.setCurrentText("heating load")
    wait(lambda: board.rooms.view.isVisible() and board.rooms.view.sketch is not None)
    rooms = {r.room.id for r in loads_of(window.document.assessment)}  # type: ignore[index]
    return len({i.fill for i in board.rooms.view.sketch.items if isinstance(i, Drawn) and i.id in rooms})  # type: ignore[union-attr]


def stopped(window: MainWindow, board: BalanceBoard) -> dict[str, object]:
    """The year tried differently, given up while it runs; then an edit, and its own year arrives."""
    tried = board.hours.tried
    board.work.lists.show_widget(tried.panel)
    wait(lambda: not tried.settled or bool(tried.rows), 60)
    running = not tried.settled
    if running:
        click(tried.waiting.button)
    given_up = tried.settled and not tried.rows
    household = step(window, "household")
    fill(household.card, simple_gains="3.4")  # type: ignore[attr-defined]
    step(window, "balance")
    wait(lambda: bool(tried.rows), 120)
    return {"running": running, "given_up": given_up, "rows": len(tried.rows)}


def main() -> None:
    app = application()
    window = MainWindow(Document(hot_home()))
    window.resize(1380, 860)
    window.show()
    activate(window)
    wait(window.settled, 120)
    start = window.document.home
    board = step(window, "balance")
    assert isinstance(board, BalanceBoard)
    board.work.drawings.show_widget(board.hours.view)
    seen: dict[str, object] = {"platform": app.platformName(), "zoomed": zoomed(window, board)}
    if len(sys.argv) > 1 and Path(sys.argv[1]).is_dir():
        window.grab().save(str(Path(sys.argv[1]) / "bypass.png"))
    click(board.hours.keep_button)
    chart = window.document.home.charts[-1]
    board.pin("hours-own", chart.id, "The bypass opens")
    seen["pinned"] = window.document.home.pins[-1].of == chart.id
    seen["shut"] = shut(window)
    seen["tints"] = tinted(window, board)
    seen["stopped"] = stopped(window, board)
    print(json.dumps(seen | all_taken_back(window, start)))


if __name__ == "__main__":
    main()
