"""Which homes the register shows: searched text, client, target set, standing."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QSortFilterProxyModel

from nuthatch.core import register
from nuthatch.desktop.pages.homes_table import HomesModel


class HomesFilter(QSortFilterProxyModel):
    """Rows that hold the searched text and match the chosen client, target set and standing."""

    text = client = chosen_set = standing = ""

    def filterAcceptsRow(self, row: int, parent: object) -> bool:
        model = self.sourceModel()
        assert isinstance(model, HomesModel)
        r = model.rows[row]
        words = " ".join((r.name, r.client, r.plot, " ".join(r.sets), register.STANDINGS[r.standing], Path(r.path).name)).lower()
        return (
            all(w in words for w in self.text.lower().split())
            and self.client in ("", r.client)
            and (not self.chosen_set or self.chosen_set in r.sets)
            and self.standing in ("", r.standing)
        )
