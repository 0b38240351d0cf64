"""The drawing table of storey plans: plan, elevation, section and solid from one model, one large and the others small below it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.exchange.dxf_lines import DxfLines
from nuthatch.core.model.plans import Plans
from nuthatch.core.plans.snapping import BackingLines
from nuthatch.core.sketch import Sketch
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.stages import SOLID
from nuthatch.core.views.shadows import Hour
from nuthatch.core.views.shape.axonometric import LEVEL, Cut, View, axonometric, shown_solid
from nuthatch.core.views.shape.cut_view import cut_view
from nuthatch.core.views.shape.pictures import ELEVATIONS, elevation
from nuthatch.core.views.shape.plan_frame import frame_of, to_snap
from nuthatch.core.views.shape.plan_table import storey_plan
from nuthatch.core.views.shape.tinting import Tint
from nuthatch.desktop.steps.shape.small_views import CutSlider, SectionView, SmallView
from nuthatch.desktop.steps.table.plan_view import PlanView
from nuthatch.desktop.widgets.sketch_view import SketchView

NAMES = ("Plan", "Elevation", "Section", "Solid")
SOLID_VIEW = NAMES.index("Solid")
SIDES = tuple(ELEVATIONS)
BESIDE = 98
STOREY = 136
CUT = 1.3
"""How far above its floor a storey is cut open [m]."""
DRAW = (
    ("outline", "Outline", "Draw an outline of this storey (O)"),
    ("inner wall", "Inner wall", "Draw a wall that divides rooms (I)"),
    ("room", "Name room", "Click into a room to name it (R)"),
    ("window", "Window", "Click into outer walls to put windows there (W)"),
)
"""Tool, its button's words, its tip."""
MENU = (
    ("Unheated space: draw its outline", "unheated space"),
    ("Court: cut it out of an outline", "court"),
    ("Part of the roof: draw its rectangle", "roof part"),
    ("Part of the roof at any angle: its front, then its depth", "roof front"),
    ("Roof over this storey", "roof"),
    ("", ""),
    ("Copy this storey up", "copy up"),
    ("New storey on top", "storey"),
    ("New storey below", "cellar"),
    ("Distance between two points (D): type it, the second moves", "distance"),
    ("Ground that slopes: a height at each corner", "ground"),
    ("", ""),
    ("Backing sheet from a picture, PDF or DXF …", "sheet"),
    ("Scale the backing sheet by two points", "scale"),
    ("Outlines from its closed lines", "sheet outlines"),
    ("Take the backing sheet away", "no sheet"),
    ("", ""),
    ("Mirror the plans", "mirror"),
    ("Turn the plans by a quarter", "turn"),
    ("Edit as a list of faces", "list"),
    ("", ""),
    ("Save as gbXML, DXF, SVG or faces …", "save"),
    ("Take in gbXML, IFC or faces …", "take in"),
)
"""Words and what is asked for; empty ones divide."""
ROOM = 1.5
"""Metres left free around the plans while something is drawn."""

ASIDE, WIDE = (155, 175), 720
"""Width of what stands beside the large drawing, in a small window and in a wider one [px]."""


class DrawingTable(QWidget):
    """`storey_chosen(id)`, `asked(what)` for a button of the table: “copy up”, “outline” …"""

    storey_chosen = pyqtSignal(str)
    asked = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.plan, self.elevation, self.section, self.solid = (
            PlanView(),
            SketchView("Elevation"),
            SectionView(),
            SketchView("Solid", turns=True),
        )
        self.views: tuple[SketchView, ...] = (self.plan, self.elevation, self.section, self.solid)
        self.storey, self.facing, self.axis, self.share = "", 0, 0, 0.5
        self.look = View(32.0, 26.0)
        self.section.moved.connect(self._cut_elsewhere)
        self.solid.turned.connect(self._turned)
        self._lay_out()
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(120)
        self._later.timeout.connect(self._draw_small)
        self._a: Assessment | None = None
        self.before: Assessment | None = None
        self._tint = Tint()
        self._glass, self._selected = False, ""
        self.cut: Cut | None = None
        self.hour: Hour | None = None
        """The hour whose shadows are shown on elevation and solid."""
        self._lines: BackingLines | None = None
        self.show_large(0)

    def _lay_out(self) -> None:
        """Tools above; beside the large drawing its storeys, and the small drawings below each other: nothing takes of its height."""
        self.large = QStackedWidget()
        for view in self.views:
            self.large.addWidget(view)
        self.small = [SmallView(n) for n in NAMES]
        for n, small in enumerate(self.small):
            small.pressed.connect(partial(self.show_large, n))
            small.setObjectName("sheet")
        self._head = QHBoxLayout()
        self._head.setSpacing(2)
        self.storeys: list[QPushButton] = []
        self._tools()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addLayout(self._head)
        self._stack = QVBoxLayout()
        self._stack.setSpacing(0)
        self._stack.setContentsMargins(0, 0, 0, 0)
        self.slider = CutSlider()
        self.slider.moved.connect(self._cut_moved)
        self._beside = QWidget()
        beside = QVBoxLayout(self._beside)
        beside.setContentsMargins(0, 0, 0, 0)
        beside.setSpacing(4)
        beside.addLayout(self._stack)
        beside.addWidget(self.slider)
        for small in self.small:
            beside.addWidget(small, 1)
        sheet = QHBoxLayout()
        sheet.setSpacing(4)
        sheet.addWidget(self.large, 1)
        sheet.addWidget(self._beside)
        column.addLayout(sheet, 1)

    def resizeEvent(self, event: object) -> None:
        self._beside.setFixedWidth(ASIDE[self.width() > WIDE])

    def _tools(self) -> None:
        """What can be drawn."""
        self._head.addStretch(1)
        self.draw_buttons: dict[str, QPushButton] = {}
        for tool, name, tip in DRAW:
            made = QPushButton(name)
            made.setCheckable(True)
            made.setToolTip(tip)
            made.setAccessibleName(tip)
            made.clicked.connect(partial(self.pick, tool))
            self.draw_buttons[tool] = made
            self._head.addWidget(made)
        self.plan.tool_changed.connect(self._tool_changed)
        self.more = QPushButton("More")
        self.more.setAccessibleName("More to draw and change")
        menu = QMenu(self)
        for words, what in MENU:
            if words:
                menu.addAction(words, partial(self.asked.emit, what))
            else:
                menu.addSeparator()
        self.free = menu.addAction("Any angle while drawing")
        assert self.free is not None
        self.free.setCheckable(True)
        self.free.toggled.connect(lambda on: setattr(self.plan, "square", not on))
        self.more.setMenu(menu)
        self._head.addWidget(self.more)

    def pick(self, tool: str, *_: object) -> None:
        """Draw with a tool, the plan in front."""
        self.show_large(0)
        self.plan.start(tool)
        self.draw()

    def _tool_changed(self, tool: str) -> None:
        for name, made in self.draw_buttons.items():
            made.setChecked(name == tool)
        self.draw()

    # what is in front

    @property
    def in_front(self) -> int:
        return self.large.currentIndex()

    def show_large(self, index: int, *_: object) -> None:
        """Put one of the drawings in front."""
        if index == self.in_front and index in (1, 2) and self._a is not None:
            self._other_way(index)
        self.large.setCurrentIndex(index)
        for made in self.draw_buttons.values():
            made.setVisible(index == 0)  # only the plan is drawn on
        self._show_slider()
        for n, small in enumerate(self.small):
            small.setVisible(n != index)
        self.draw()

    def _other_way(self, index: int) -> None:
        if index == 1:
            self.facing = (self.facing + 1) % 4
        else:
            self.axis = 1 - self.axis

    def face(self, n: int) -> None:
        """Which side the elevation shows."""
        self.facing = n
        self.show_large(1) if self.in_front != 1 else self.draw()

    def _cut_elsewhere(self, by: float, turn: int) -> None:
        self.share = min(max(self.share + by, 0.02), 0.98)
        self.axis = 1 - self.axis if turn else self.axis
        self.draw()

    def _turned(self, dx: float, dy: float) -> None:
        self.look = self.look.dragged(dx, dy)
        self.draw()

    # drawing

    def present(self, a: Assessment, tint: Tint, selected: str, glass: bool) -> None:
        """Show an assessment."""
        self._a, self._tint, self._selected, self._glass = a, tint, selected, glass
        self.draw()

    def show_storeys(self, plans: Plans) -> None:
        """Offer the storeys of plans; the one in view stays, else the first that is heated comes into view."""
        ids = [s.id for s in plans.storeys]
        if self.storey not in ids:
            warm = (s.id for s in plans.storeys if any(o.kind == "heated" for o in s.outlines))
            self.storey = next(warm, ids[0] if ids else "")
        while len(self.storeys) < len(ids):
            made = QPushButton()
            made.setObjectName("switch")
            made.setCheckable(True)
            made.clicked.connect(partial(self.choose, len(self.storeys)))
            made.setFixedWidth(STOREY)
            self._stack.insertWidget(0, made)  # the highest on top, as they stand
            self.storeys.append(made)
        for n, made in enumerate(self.storeys):
            made.setVisible(n < len(ids))
            if n < len(ids):
                name = plans.storeys[n].name or f"Storey {n}"
                if made.toolTip() != name:
                    made.setToolTip(name)
                    made.setText(made.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, STOREY - 20))
                    made.setAccessibleName(f"Storey: {name}")
                made.setChecked(ids[n] == self.storey)

    def choose(self, n: int, *_: object) -> None:
        """Draw on a storey, counted from below."""
        plans = self._a.home.shape.plans if self._a is not None else None
        if plans is not None and n < len(plans.storeys):
            self.storey = plans.storeys[n].id
            if self.cut is not None and self.cut.axis == LEVEL:
                self.cut_open(LEVEL)  # the cut goes to the storey that is chosen now
            elif self.in_front:
                self.show_large(0)
            self.storey_chosen.emit(self.storey)

    def sketch_of(self, n: int, a: Assessment, size: tuple[float, float], small: bool = False) -> Sketch:
        """One of the drawings at a size."""
        if n == 0:
            clear = self.plan.sheet is not None and not small
            return storey_plan(a, self.storey, self._tint, size, self._selected, self._room(), small, clear=clear)
        if n == 1:
            return elevation(a, SIDES[self.facing], self._tint, size, not small, None if small else self._selected, self.hour)
        if n == 2:
            return cut_view(a, self.axis, self.share, size, small, None if small else self._selected)
        view = replace(self.look, see_through=self._glass, selected=self._selected, cut=self.cut, hour=self.hour)
        return axonometric(a, view, self._tint, size, not small)

    def cut_open(self, axis: int | None) -> None:
        """Cut the solid open across an axis, a level one above the sills of the storey in view; None: show it whole."""
        self.cut = Cut(axis, self._share_of_storey() if axis == LEVEL else 0.5) if axis is not None else None
        self.show_large(SOLID_VIEW)

    def _share_of_storey(self) -> float:
        """Where in the height of the solid the storey in view is cut."""
        a = self._a
        built = a[BUILT] if a is not None else None
        if a is None or built is None or built.drawing is None:
            return 0.5
        level = next((f.level + CUT for f in built.drawing.floors if f.plan.id == self.storey), None)
        heights = [z for p in shown_solid(a[SOLID]).values() for _, _, z in p]
        if level is None or not heights:
            return 0.5
        return min(max((level - min(heights)) / max(max(heights) - min(heights), 1e-9), 0.0), 1.0)

    def _cut_moved(self, share: float) -> None:
        if self.cut is not None:
            self.cut = replace(self.cut, share=share)
            self.draw()

    def _show_slider(self) -> None:
        cut = self.cut if self.in_front == SOLID_VIEW else None
        self.slider.show_cut(cut.axis if cut is not None else None, cut.share if cut is not None else 0.5)

    def _room(self) -> float:
        return ROOM if self.plan.tool else 0.0

    def draw(self) -> None:
        """Draw what is seen anew."""
        a = self._a
        if a is None or a.home.shape.plans is None:
            return
        plans = a.home.shape.plans
        front = self.in_front
        self.plan.on_storey(self.storey)

        def large(w: float, h: float) -> Sketch:
            if front == 0:
                self.plan.frame = frame_of(plans, (w, h), self._room())
                self.plan.targets = replace(to_snap(plans, self.storey, self.plan.frame, self.plan.square), sheet=self._sheet_lines())
            return self.sketch_of(front, a, (w, h))

        was = self.before
        self.views[front].show_made(large, (lambda w, h: self.sketch_of(front, was, (w, h))) if was is not None else None)
        self._later.start()

    def _sheet_lines(self) -> BackingLines | None:
        """The lines of a drawing below the plan, to snap to."""
        sheet = self.plan.sheet
        if not isinstance(sheet, DxfLines):
            return None
        if self._lines is None or self._lines.pieces is not sheet.pieces:
            self._lines = BackingLines(sheet.pieces)
        return self._lines

    def _draw_small(self) -> None:
        """The small drawings a moment after the large one, so that a drag does not wait for them."""
        a = self._a
        if a is None or a.home.shape.plans is None:
            return
        for n, small in enumerate(self.small):
            if n != self.in_front:
                small.show_made(self._small(n, a))

    def _small(self, n: int, a: Assessment) -> Callable[[float, float], Sketch]:
        def made(w: float, h: float) -> Sketch:
            sheet = Sketch(w, h, NAMES[n])
            below = self.sketch_of(n, a, (w, h - 15), True)
            sheet.add(below, 0, 15)
            sheet.text(4, 11, below.title if n == 1 else NAMES[n], size=10.5, color="muted")
            return sheet

        return made
