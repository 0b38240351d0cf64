"""Appliances and lights of a usual home, and of the office's own sets, put into the home; those of the home kept as such a set."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QMenu

from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.edits.household_edits import own_set, set_of, usual_set
from nuthatch.core.files.homefile import HomeFileError
from nuthatch.core.model.household import ApplianceSet
from nuthatch.core.model.part import replace
from nuthatch.core.office import OfficeFile, load_office, save_office
from nuthatch.desktop.steps.board import Board, button


class OfficeSets:
    """A button with a menu on the board."""

    def __init__(self, board: Board) -> None:
        self.board = board
        self.button = button(
            "As usual", lambda: None, "", "Add what a usual home has that is not there, each assumed; or an own set of the office"
        )
        self.menu = QMenu(self.button)
        self.menu.aboutToShow.connect(self.fill)
        self.button.setMenu(self.menu)

    def fill(self) -> None:
        """What is on offer now."""
        self.menu.clear()
        self.menu.addAction("A usual home, by people and floor area", self.usual)
        for own in load_office()[0].office.appliance_sets:
            self.menu.addAction(own.name, partial(self.take, own))
        self.menu.addSeparator()
        keep = self.menu.addAction("Keep those of this home in the office", self.keep)
        if keep is not None:
            keep.setEnabled(bool(self.board.home.household.appliances))

    def usual(self) -> None:
        """Appliances and lights of a usual home, those that are not there."""
        a = self.board.assessment
        if a is not None:
            people, area = a.figures["people"].value, a.figures["reference_floor_area"].value
            self.board.apply(lambda: usual_set(self.board.desk.home, people, area))

    def take(self, own: ApplianceSet) -> None:
        """Those of an own set."""
        self.board.apply(lambda: own_set(self.board.desk.home, own))

    def keep(self) -> None:
        """The appliances of this home as a set of the office; one of the same name there is replaced."""
        content, problem = load_office()
        if problem:
            self.board.message.emit(problem)
            return
        office, name = content.office, f"As in {self.board.home.name}"
        new = set_of(self.board.desk.home, fresh_ids(office, "office-appliances", 1)[0], name)
        kept = (*(s for s in office.appliance_sets if s.name != name), new)
        try:
            save_office(OfficeFile(replace(office, appliance_sets=kept), content.logo, content.weather))
        except HomeFileError as fault:
            self.board.message.emit(str(fault))
            return
        self.board.message.emit(f"“{name}” is kept in the office; it can be named anew there.")
