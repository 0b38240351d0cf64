"""Air tests on the Air board: the tests of the home side by side, readings, preparation, leaks, zones, validity, the chart."""

from __future__ import annotations

import datetime
from collections.abc import Callable
from functools import partial

from PyQt6.QtWidgets import QComboBox

from nuthatch.core.airtest.stages import TESTED, Tested
from nuthatch.core.airtest.worked import Result
from nuthatch.core.changes.changes import ChangeRefused, Insert, SetValue
from nuthatch.core.edits.air_tests import asked_anew, followed, own_fan, prepared
from nuthatch.core.edits.desk import Listing
from nuthatch.core.library import PRACTICE_GAUGE, fans
from nuthatch.core.model.air_test import AirTest, Leak, Preparation, TestReading, ZonePressure
from nuthatch.core.model.part import replace
from nuthatch.core.office import load_office
from nuthatch.core.sketch import Sketch
from nuthatch.core.units import show, unit_of, with_unit
from nuthatch.core.views.air.test_chart import chart
from nuthatch.desktop.steps.air.files_of_tests import TestFiles
from nuthatch.desktop.steps.air.lists_of_tests import LEAKS, PREPARED, READINGS, ZONES, points, tests_spec, validity
from nuthatch.desktop.steps.board import Board, ListPanel, button
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.parts_model import ListSpec
from nuthatch.desktop.widgets.read_table import ReadTable
from nuthatch.desktop.widgets.sketch_view import SketchView
from nuthatch.desktop.widgets.workspace import row_of

NONE_YET = "No air test yet. Prepare one before the visit, or take in a file of readings."


class TestsPanel(ListPanel):
    """The list of tests; a new one is prepared, with its list of openings."""

    __test__ = False
    prepare: Callable[[], None]

    def add(self) -> None:
        self.prepare()


class AirTests:
    """The tests of the home: lists, chart and what is done with them."""

    def __init__(self, board: Board) -> None:
        self.board = board
        self.drawing = SketchView("Flow over pressure")
        self.files = TestFiles(board, lambda: (self.shown, self.part), lambda ident: self.tests.table.select(ident))
        self.report_button = button("Report …", self.files.ask_report, "file-text", "The report of this test as PDF or page")
        board.add_drawing("Tests", self.drawing, row_of(self.report_button))
        self.tests = TestsPanel(board, tests_spec(), add="Prepare a test")
        self.tests.prepare = self.prepare
        self.tests.copy_button.hide()  # “Follow up” is what is meant
        bar = self.tests.bar
        bar.insertWidget(1, button("Follow up", self.follow, "", "A second test from this one: readings empty, nothing overwritten"))
        bar.insertWidget(2, button("Counts", self.count, "", "The n50 of this test counts in the balance"))
        bar.insertWidget(3, button("Take in readings …", self.files.ask, "folder-open", "An air test as CSV or JSON"))
        self.of_evidence = button(
            "Make it a test", self.files.take_evidence, "", "The file that proves n50 holds readings: keep it as a test of the home"
        )
        bar.insertWidget(4, self.of_evidence)
        self._below()
        self._put()
        self.lists = (self.tests, self.readings, self.prepared, self.validity, self.off, self.leaks, self.zones)
        self.fan = QComboBox()
        self.fan.setAccessibleName("Fan and gauge of the test")
        self.fan.activated.connect(lambda _: self._take_fan())
        self.fan_card, self.gauge_card = EditCard(board.desk), EditCard(board.desk)
        for widget in (self.fan, self.fan_card, self.gauge_card):
            board.work.inspector.add(widget)
        self.tests.table.selected.connect(lambda _: self.refresh())

    def _below(self) -> None:
        """The lists of what the current test holds."""
        board = self.board
        self.readings = ListPanel(
            board, ListSpec("Readings", self._of("readings", TestReading, "reading"), READINGS, sortable=False), add="Add"
        )
        self.off = ReadTable(
            "Points over the line", ("Series", unit_of("pascal"), unit_of("flow"), "Off the line", "Left out"), (120, 80, 90, 100, 0)
        )
        self.prepared = ListPanel(
            board, ListSpec("Preparation", self._of("preparations", Preparation, "prepared"), PREPARED, sortable=False), add="Add"
        )
        self.leaks = ListPanel(board, ListSpec("Leaks", self._of("leaks", Leak, "leak"), LEAKS), add="Leak found")
        self.zones = ListPanel(board, ListSpec("Zones", self._of("zones", ZonePressure, "zone"), ZONES), add="Add a zone")
        for panel in (self.prepared, self.leaks):
            panel.bar.insertWidget(1, button("Photo …", partial(self.files.ask_photo, panel), "paperclip", "A photo as evidence"))
        purpose = button(
            "By the purpose", self.by_purpose, "", "What is asked of each opening by the purpose of the test; what is done stays"
        )
        self.prepared.bar.insertWidget(1, purpose)
        self.validity = ReadTable("Whether the test holds", ("", "What is asked", "Found"), (60, 230, 0))

    def _put(self) -> None:
        """All lists into the board, those of a test beside it."""
        board = self.board
        for panel, name in ((self.tests, "Tests"), (self.readings, "Readings"), (self.prepared, "Preparation")):
            board.add_list(panel, name)
        board.work.lists.add("Points", self.off, row_of())
        board.work.lists.add("Validity", self.validity, row_of())
        for panel, name in ((self.leaks, "Leaks"), (self.zones, "Zones")):
            board.add_list(panel, name)

    # which test

    def _of(self, field: str, kind: type, stem: str):  # type: ignore[no-untyped-def]  # a listing that follows the current test
        return lambda: Listing(self.current, field, kind, f"{self.current or 'test'}.{stem}")

    @property
    def current(self) -> str:
        """The test that is worked on: the row in front, the one that counts, the last."""
        rows: tuple[AirTest, ...] = self.board.home.air_tests
        known = [t.id for t in rows]
        chosen = self.tests.table.current_id()
        if chosen in known:
            return chosen
        return self.board.home.air.test if self.board.home.air.test in known else known[-1] if known else ""

    @property
    def part(self) -> AirTest | None:
        return next((t for t in self.board.home.air_tests if t.id == self.current), None)

    @property
    def shown(self) -> Tested | None:
        """The current test as worked out."""
        a = self.board.assessment
        return a.all_of(TESTED).get(self.current) if a is not None else None

    # what is done

    def prepare(self) -> None:
        """A new test with its list of openings, fan and gauge of the office."""
        office = load_office()[0].office
        fan = (*office.fans, *fans())[0]
        gauge = (*office.gauges, PRACTICE_GAUGE)[0]
        today = datetime.date.today().isoformat()
        change = prepared(self.board.home, fan, gauge, today, office.author or office.company, office.test_purpose)
        self._new(change)

    def follow(self) -> None:
        """A second test from the current one."""
        try:
            self._new(followed(self.board.home, self.current, datetime.date.today().isoformat()))
        except ChangeRefused as why:
            self.board.message.emit(str(why))

    def _new(self, change: Insert) -> None:
        self.board.apply(change)
        self.board.present(self.board.desk.snapshot)
        self.board.in_front(self.tests)
        self.tests.table.select(change.value.id)
        self.refresh()

    def by_purpose(self) -> None:
        """The list of openings as the purpose of the test asks."""
        if self.part is not None:
            self.board.apply(asked_anew(self.part))

    def count(self) -> None:
        """The current test counts from now on."""
        if self.current:
            self.board.apply(SetValue(part="air", field="test", value=self.current))

    def _take_fan(self) -> None:
        test, (kind, index) = self.part, self.fan.currentData()
        self.fan.setCurrentIndex(0)
        if test is None or kind == "":
            return
        office = load_office()[0].office
        if kind == "fan":
            new: object = own_fan((*office.fans, *fans())[index], test.id)
        else:
            new = replace((*office.gauges, PRACTICE_GAUGE)[index], id=f"{test.id}.gauge")
        self.board.apply(SetValue(part=test.id, field=kind, value=new))

    # what is shown

    def refresh(self, listed: bool = True) -> None:
        """Show the tests of the snapshot. listed: with what stands in lists, which are not there on site."""
        self.tests.refresh(NONE_YET)
        test, shown = self.part, self.shown
        self._fill_fans(test)
        old = bool(self.files.proofs())
        if old == self.of_evidence.isHidden():
            self.of_evidence.setVisible(old)
            self.board.work.lists.refit()
        if not listed:
            return
        for panel, teach in (
            (self.readings, "No readings yet: type or paste them, or start the gauge in “On site”."),
            (self.prepared, "Openings that are closed, sealed or left as they are for the test."),
            (self.leaks, "Leaks found, by place and kind, with a photo; mended or not."),
            (self.zones, "Zones beside the home, such as a loft or a garage: pressures while the home is held at 50 Pa."),
        ):
            panel.refresh(teach if test is not None else "Prepare a test first.")
            panel.add_button.setEnabled(test is not None)
        self.report_button.setEnabled(shown is not None and shown.result is not None)
        self.off.show_rows(points(shown), (1, 2, 3))
        self.validity.show_rows(validity(shown))
        self._draw(shown)

    def _fill_fans(self, test: AirTest | None) -> None:
        office = load_office()[0].office
        options = [("Fan or gauge of the office …", ("", 0))]
        options += [(f"Fan: {f.name}", ("fan", n)) for n, f in enumerate((*office.fans, *fans()))]
        options += [(f"Gauge: {g.name}", ("gauge", n)) for n, g in enumerate((*office.gauges, PRACTICE_GAUGE))]
        if [self.fan.itemText(n) for n in range(self.fan.count())] != [o[0] for o in options]:
            self.fan.clear()
            for words, data in options:
                self.fan.addItem(words, data)
        self.fan_card.show_part(test.fan.id if test is not None and test.fan is not None else "")
        self.gauge_card.show_part(test.gauge.id if test is not None and test.gauge is not None else "")

    def in_front(self, on: bool) -> None:
        """Its cards come with it."""
        front = self.board.work.lists.current
        mine = on and (front is self.tests or front in (self.validity, self.off)) and self.part is not None
        self.fan.setVisible(mine)
        self.fan_card.setVisible(mine and bool(self.fan_card.part_id))
        self.gauge_card.setVisible(mine and bool(self.gauge_card.part_id))

    def _draw(self, shown: Tested | None) -> None:
        if shown is None or shown.result is None:
            text = NONE_YET if shown is None else f"Not worked out yet: {shown.lacks} wanted"
            self.drawing.show_made(lambda w, h: _saying(text, w, h))
            return
        result, beside = shown.result, self._beside()
        self.drawing.show_made(lambda w, h: chart(result, w, max(h, 200.0), beside))

    def _beside(self) -> tuple[str, Result] | None:
        """The test the current one follows, else the one that follows it, by its name."""
        a, test = self.board.assessment, self.part
        if a is None or test is None:
            return None
        near = [t for t in a.home.air_tests if t.id == test.follows] + [t for t in a.home.air_tests if t.follows == test.id]
        found = ((t.name, a.all_of(TESTED)[t.id].result) for t in near)
        return next(((name, result) for name, result in found if result is not None), None)

    def said(self) -> str:
        """The test that counts in a line; '' where there is none."""
        a = self.board.assessment
        found = a.all_of(TESTED).get(a.home.air.test) if a is not None else None
        if found is None:
            return ""
        if found.result is None:
            return f"the test that counts lacks {found.lacks}"
        spread = f" ± {show(found.result.n50_half, 'ach')}" if found.result.n50_half is not None else ""
        told = f"tested: {with_unit(found.result.n50, 'ach')}{spread}" if found.result.n50 is not None else "tested"
        if not found.failing:
            return told
        return f"{told}, {found.failing} line{'s' if found.failing > 1 else ''} of its validity fail{'s' if found.failing == 1 else ''}"

    @property
    def settled(self) -> bool:
        """Whether nothing is being read or written."""
        return not self.files.running

    def focus_field(self, part: str, field: str) -> bool:
        """Lead to a field of a test or what is below it."""
        if any(t.id == part for t in self.board.home.air_tests):
            self.tests.table.select(part)
            panels = {"readings": self.readings, "preparations": self.prepared, "leaks": self.leaks, "zones": self.zones}
            if field in panels:
                self.board.in_front(panels[field])
                panels[field].add_button.setFocus()
                return True
        return any(p.focus_field(part, field) for p in (self.tests, self.readings, self.prepared, self.leaks, self.zones))


def _saying(text: str, width: float, height: float) -> Sketch:
    made = Sketch(width, max(height, 80.0), "Flow over pressure")
    made.say(text)
    return made
