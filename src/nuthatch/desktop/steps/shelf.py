"""The office's own library on a board: take a build-up or an opening type from it, keep the current one in it."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QWidget

from nuthatch.core.exchange.homefile import HomeFileError
from nuthatch.core.edits.changes import Insert
from nuthatch.core.model.home import find, fresh_id
from nuthatch.core.model.part import Part, replace
from nuthatch.core.office import OfficeFile, load_office, save_office
from nuthatch.desktop.steps.board import Board, ListPanel, button


def with_fresh_ids(root: Part, part: Any, stem: str) -> Any:
    """A copy of a part with an id of its own, and of the parts inside it."""
    ident = fresh_id(root, stem)
    inner = {
        name: tuple(replace(item, id=f"{ident}.{n}") for n, item in enumerate(value, 1))
        for name in type(part).model_fields
        if isinstance(value := getattr(part, name), tuple) and value and isinstance(value[0], Part)
    }
    return replace(part, id=ident, **inner)


class Shelf(QWidget):
    """A combo box to take from the office library and a button to keep the list's current part there."""

    def __init__(self, board: Board, panel: ListPanel, field: str, stem: str) -> None:
        super().__init__()
        self._board, self._panel, self._field, self._stem = board, panel, field, stem
        self.box = QComboBox()
        self.box.setAccessibleName("Take from the office library")
        self.box.setMinimumContentsLength(16)
        self.box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.box.activated.connect(lambda _: self._take())
        self.keep_button = button("Keep in the office library", self.keep, "office", "Keep the current row in the office library")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.box)
        row.addWidget(self.keep_button)
        row.addStretch(1)

    def refresh(self) -> None:
        """Show what the office library holds now."""
        parts = getattr(load_office()[0].office, self._field)
        if [self.box.itemData(i) for i in range(1, self.box.count())] != list(parts) or not self.box.count():
            self.box.clear()
            self.box.addItem("From the office library …" if parts else "The office library is empty", None)
            for part in parts:
                self.box.addItem(part.name, part)

    def _take(self) -> None:
        part = self.box.currentData()
        self.box.setCurrentIndex(0)
        if part is not None:
            new = with_fresh_ids(self._board.document.home, part, self._stem)
            self._board.apply(Insert(owner="home", field=self._field, value=new))
            self._board.refresh()
            self._panel.table.select(new.id)

    def keep(self) -> None:
        """Keep the current row; one of the same name there is replaced."""
        part = find(self._board.document.home, self._panel.table.current_id())
        if part is None:
            self._board.message.emit("There is no row to keep yet.")
            return
        content, problem = load_office()
        if problem:
            self._board.message.emit(problem)
            return
        office = content.office
        name = part.name  # type: ignore[attr-defined]
        new = with_fresh_ids(office, part, f"office-{self._stem}")
        parts = (*(p for p in getattr(office, self._field) if p.name != name), new)
        try:
            save_office(OfficeFile(replace(office, **{self._field: parts}), content.logo, content.weather))
        except HomeFileError as fault:
            self._board.message.emit(str(fault))
            return
        self._board.message.emit(f"{name} is kept in the office library.")
        self.refresh()
