"""The first home explains itself: five hints, each with its step; put away they stay away until asked for."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from nuthatch.core.steps import STEPS
from nuthatch.desktop import settings
from nuthatch.desktop.actions import FIRST_LOOK


@pytest.fixture(autouse=True)
def own_settings(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))


def test_five_hints_lead_through_the_demo_and_are_put_away(osier_window) -> None:  # type: ignore[no-untyped-def]
    w = osier_window
    assert not w.hints.isVisible() and settings.load().hints, "only where the demo is asked for"
    w.hints.begin()
    steps = []
    for n in range(5):
        assert w.hints.isVisible() and w.hints.text.text().startswith(f"{n + 1} of 5")
        steps.append(w.step)
        QTest.mouseClick(w.hints.next, Qt.MouseButton.LeftButton)
    assert set(steps) <= set(STEPS) and len(set(steps)) >= 4
    assert not w.hints.isVisible() and not settings.load().hints
    w.hints.begin()
    assert not w.hints.isVisible(), "put away for good"


def test_they_come_back_when_asked_for(osier_window) -> None:  # type: ignore[no-untyped-def]
    w = osier_window
    settings.change(hints=False)
    w.hints.begin(again=True)
    assert w.hints.isVisible() and settings.load().hints
    QTest.mouseClick(w.hints.away, Qt.MouseButton.LeftButton)
    assert not w.hints.isVisible() and not settings.load().hints and FIRST_LOOK
