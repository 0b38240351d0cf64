"""A chart is waited for by the board it stands on, and by no other."""

from __future__ import annotations

from matplotlib.figure import Figure
from PyQt6.QtWidgets import QVBoxLayout, QWidget
from pytestqt.qtbot import QtBot

from nuthatch.desktop.widgets.chart_canvas import ChartCanvas, charts_wait


def test_a_board_waits_for_its_own_charts(qtbot: QtBot) -> None:
    board, other = QWidget(), QWidget()
    inner = QWidget()
    for widget in (board, other):
        qtbot.addWidget(widget)
    canvas = ChartCanvas("a chart")
    QVBoxLayout(inner).addWidget(canvas)
    QVBoxLayout(board).addWidget(inner)
    board.resize(400, 300)
    board.show()
    assert not charts_wait(board)
    canvas.show_chart(lambda width, height: Figure(figsize=(width, height)))
    assert charts_wait(board) and not charts_wait(other)
    qtbot.waitUntil(lambda: not charts_wait(board))
    canvas.show_chart(lambda width, height: Figure(figsize=(width, height)))
    canvas.deleteLater()
    qtbot.waitUntil(lambda: not inner.findChildren(ChartCanvas))
    assert not charts_wait(board), "one that is gone is waited for by nobody"
