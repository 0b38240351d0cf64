"""The program is dressed once: to style every widget there is again takes a second."""

from __future__ import annotations

import pytest
from PyQt6.QtWidgets import QApplication

from nuthatch.desktop import app as starter
from nuthatch.desktop.theme.style import FONT


def test_a_dressed_program_is_dressed_again_only_for_the_dark(qapp: QApplication, monkeypatch: pytest.MonkeyPatch) -> None:
    made = starter.application()
    assert made.styleSheet() and made.font().family() == FONT and made.applicationName() == "Nuthatch"
    dressed: list[bool] = []
    monkeypatch.setattr(starter, "apply_theme", dressed.append)
    assert starter.application() is made and dressed == []
    starter.application(dark=True)
    assert dressed == [True]
