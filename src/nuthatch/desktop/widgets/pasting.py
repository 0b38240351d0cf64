"""A block of a spreadsheet put into a list: what is read in two ways is asked once for a column."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PyQt6.QtWidgets import QMessageBox, QWidget

from nuthatch.core.edits.desk import AskedColumn, BadCell, Block, Listing, grid_of
from nuthatch.desktop.desk import Desk


def block_of(text: str, rows: Sequence[str], fields: Sequence[str]) -> Block | None:
    """A block of text for the rows it covers and the fields of its columns; None for empty text."""
    grid = grid_of(text)
    return Block(tuple(rows[: len(grid)]), tuple(fields), grid) if grid else None


def paste_into(desk: Desk, listing: Listing, block: Block, titles: Mapping[str, str], parent: QWidget) -> str:
    """Paste into a list; returns why nothing was pasted, or ''. titles: what the column of each field is called."""
    answers: dict[str, str | int] = {}
    while True:
        try:
            return desk.paste(listing, block, answers)
        except AskedColumn as asked:
            title = titles.get(asked.field, asked.field)
            answer = ask_once(asked, title, parent) if asked.field not in answers else None
            if answer is None:
                return f"Row {asked.row + 1}, {title}: {asked}"
            answers[asked.field] = answer
        except BadCell as problem:
            return f"Row {problem.row + 1}, {titles.get(problem.field, problem.field)}: {problem}"


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
