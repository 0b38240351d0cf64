"""A block of a spreadsheet put into a list: what is read in two ways is asked once for a column."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from PyQt6.QtWidgets import QMessageBox, QWidget

from nuthatch.core.edits.desk import AskedColumn, BadCell, Block, Listing, grid_of
from nuthatch.desktop.desk import Desk


def block_of(text: str, rows: Sequence[str], fields: Sequence[str]) -> Block | None:
    """A block of text for the rows it covers and the fields of its columns; None for empty text."""
    grid = grid_of(text)
    return Block(tuple(rows[: len(grid)]), tuple(fields), grid) if grid else None


@dataclass(frozen=True)
class Aside:
    """A row of a block that could not be read: its number from 1, its text, and why."""

    number: int
    text: str
    why: str


@dataclass(frozen=True)
class Pasted:
    """What came of a paste: how many rows were taken, those kept aside to be mended, or why nothing was."""

    taken: int
    aside: tuple[Aside, ...]
    refused: str = ""


def without(block: Block, gone: Collection[int]) -> Block:
    """A block without some of its rows; the others stay with the rows they cover."""
    rows = tuple(ident for n, ident in enumerate(block.rows) if n not in gone)
    return Block(rows, block.fields, tuple(cells for n, cells in enumerate(block.grid) if n not in gone))


def paste_into(desk: Desk, listing: Listing, block: Block, titles: Mapping[str, str], parent: QWidget) -> Pasted:
    """Paste into a list; of several rows those that cannot be read are kept aside. titles: what the column of each field is called."""
    answers: dict[str, str | int] = {}
    numbers = list(range(1, len(block.grid) + 1))
    aside: list[Aside] = []
    while True:
        try:
            refused = desk.paste(listing, block, answers)
            return Pasted(0 if refused else len(block.grid), () if refused else tuple(sorted(aside, key=lambda a: a.number)), refused)
        except AskedColumn as asked:
            title = titles.get(asked.field, asked.field)
            answer = ask_once(asked, title, parent) if asked.field not in answers else None
            if answer is None:
                return Pasted(0, (), f"Row {numbers[asked.row]}, {title}: {asked}")
            answers[asked.field] = answer
        except BadCell as problem:
            aside += [
                Aside(numbers[p.row], "\t".join(block.grid[p.row]), f"Row {numbers[p.row]}, {titles.get(p.field, p.field)}: {p}")
                for p in problem.every
            ]
            gone = {p.row for p in problem.every}
            if len(gone) == len(block.grid):
                return Pasted(0, (), min(aside, key=lambda a: a.number).why)
            numbers = [number for n, number in enumerate(numbers) if n not in gone]
            block = without(block, gone)


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
