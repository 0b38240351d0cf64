"""The office's own library on a board: take a build-up or an opening type from it, keep the current one in it."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QWidget

from nuthatch.core.changes.changes import Insert
from nuthatch.core.edits.desk import with_fresh_ids
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.model.home import find
from nuthatch.core.model.part import replace
from nuthatch.core.office import OfficeFile, load_office, save_office
from nuthatch.desktop.steps.board import Board, ListPanel, button


class Shelf(QWidget):
    """A combo box to take from the office library and a button to keep the list's current part there."""

    def __init__(self, board: Board, panel: ListPanel, field: str, stem: str) -> None:
        super().__init__()
        self._board, self._panel, self._field, self._stem = board, panel, field, stem
        self.box = QComboBox()
        self.box.setAccessibleName("Take from the office library")
        self.box.setMinimumContentsLength(8)
        self.box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.box.activated.connect(lambda _: self._take())
        self.keep_button = button("Keep", self.keep, "office", "Keep the current row in the office library")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.box)
        row.addWidget(self.keep_button)

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
            new = with_fresh_ids(self._board.desk.home, part, self._stem)
            self._board.apply(Insert(owner="home", field=self._field, value=new))
            self._board.present(self._board.desk.snapshot)
            self._panel.table.select(new.id)

    def keep(self) -> None:
        """Keep the current row; one of the same name there is replaced."""
        part = find(self._board.desk.home, self._panel.table.current_id())
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
        parts = (*(p for p in office[self._field] if p.name != name), new)
        try:
            save_office(OfficeFile(replace(office, **{self._field: parts}), content.logo, content.weather))
        except HomeFileError as fault:
            self._board.message.emit(str(fault))
            return
        self._board.message.emit(f"{name} is kept in the office library.")
        self.refresh()
