"""A block of a spreadsheet put into a list: what is read in two ways is asked once for a column."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import QModelIndex
from PyQt6.QtWidgets import QMessageBox, QWidget

from nuthatch.core.edits.desk import AskedColumn, BadCell, Block, grid_of

if TYPE_CHECKING:
    from nuthatch.desktop.widgets.list_table import Column, PartsModel


def paste_into(parts: PartsModel, at: QModelIndex, text: str, parent: QWidget) -> str:
    """Paste from a cell on; returns why nothing was pasted, or ''."""
    grid = grid_of(text)
    if not grid:
        return ""
    top, left = (at.row(), at.column()) if at.isValid() else (0, 0)
    columns = parts.spec.columns[left:]
    block = Block(tuple(r.id for r in parts.rows[top : top + len(grid)]), tuple(c.field for c in columns), grid)
    answers: dict[str, str | int] = {}
    while True:
        try:
            return parts.desk.paste(parts.spec.where, block, answers)
        except AskedColumn as asked:
            answer = ask_once(asked, _title(columns, asked.field), parent) if asked.field not in answers else None
            if answer is None:
                return f"Row {asked.row + 1}, {_title(columns, asked.field)}: {asked}"
            answers[asked.field] = answer
        except BadCell as problem:
            return f"Row {problem.row + 1}, {_title(columns, problem.field)}: {problem}"


def _title(columns: Sequence[Column], field: str) -> str:
    return next((c.title for c in columns if c.field == field), field)


def ask_once(asked: AskedColumn, title: str, parent: QWidget) -> str | int | None:
    """How the cells of a column are meant; None where the person does not say."""
    box = QMessageBox(
        QMessageBox.Icon.Question, "Two readings", f"{title}: “{asked.cell.strip()}” in row {asked.row + 1} is", parent=parent
    )
    box.setInformativeText("The whole column is read alike.")
    buttons = [box.addButton(label, QMessageBox.ButtonRole.AcceptRole) for label, _ in asked.doubt.readings]
    box.addButton(QMessageBox.StandardButton.Cancel)
    box.exec()
    chosen = box.clickedButton()
    return asked.answer(buttons.index(chosen)) if chosen in buttons else None
