"""Something is tried on the home: all edits go into an upgrade until it is kept or given up; a strip says so all the time."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QPushButton, QWidget

from nuthatch.core.assess import Assessment
from nuthatch.core.changes.changes import ChangeRefused
from nuthatch.core.edits.option_edits import base_of, kept_trial, put_on_home, tried_on
from nuthatch.core.model.home import Home
from nuthatch.core.model.options import Option, Upgrade
from nuthatch.core.units import show, with_unit
from nuthatch.desktop.desk import TRYING, Desk
from nuthatch.desktop.document import Document


@dataclass(frozen=True)
class Tried:
    """What is tried: the home as it was, its assessment, the upgrade it goes into ('' for a new one) and its name, the option it joins; `start`:
    the home with that option on it, where it is seen so, and the option's name."""

    base: Home
    assessment: Assessment | None
    upgrade: str = ""
    name: str = ""
    option: str = ""
    start: Home | None = None
    seen: str = ""


def tried(desk: Desk) -> Tried | None:
    """What is being tried; None where nothing is."""
    found = desk.under_way.get(TRYING)
    return found if isinstance(found, Tried) else None


def begin(desk: Desk, upgrade: Upgrade | None = None, option: str = "") -> str:
    """From now on edits go into an upgrade: a new one, or this one, whose changes are put on the home. Why not, or ''."""
    if tried(desk) is not None:
        return "Something is tried already: keep it or give it up first"
    base = desk.home
    desk.under_way[TRYING] = Tried(base, desk.snapshot.assessment, upgrade.id if upgrade else "", upgrade.name if upgrade else "", option)
    if upgrade is None:
        desk.changed.emit("")
        return ""
    reason = desk.apply(lambda: tried_on(base, upgrade))
    if reason:
        desk.under_way.pop(TRYING)
    return reason


def see(desk: Desk, option: Option) -> str:
    """From now on every board shows the home with an option on it; what is changed goes into a new upgrade of that option. Why not, or ''."""
    if tried(desk) is not None:
        return "Something is tried already: keep it or give it up first"
    base, assessment = desk.home, desk.snapshot.assessment
    desk.under_way[TRYING] = Tried(base, assessment, option=option.id, seen=option.name)
    reason = desk.apply(lambda: put_on_home(base, option))
    if reason:
        desk.under_way.pop(TRYING)
        return reason
    desk.under_way[TRYING] = Tried(base, assessment, option=option.id, start=desk.home, seen=option.name)
    desk.changed.emit("")
    return ""


def keep(desk: Desk, name: str) -> str:
    """What was tried becomes an upgrade, the home is as it was before. Why not, or ''."""
    what = tried(desk)
    if what is None:
        return "nothing is tried"
    try:
        home, _ = kept_trial(what.base, desk.home, name or what.name or "Upgrade", what.upgrade, what.option, what.start)
    except ChangeRefused as reason:
        return str(reason)
    desk.under_way.pop(TRYING)
    desk.session.put(home, f"Kept as an upgrade: {name or what.name}")
    desk.after(f"Kept as an upgrade: {name or what.name}")
    return ""


def safe(desk: Desk, home: Home) -> Home:
    """What is kept aside of a home while something is tried on it: the home as before, with what was tried as an upgrade."""
    what = tried(desk)
    if what is None:
        return home
    try:
        return kept_trial(what.base, home, what.name or "What was being tried", what.upgrade, what.option, what.start)[0]
    except ChangeRefused:
        return base_of(what.base, home)


def give_up(desk: Desk) -> None:
    """The home is as it was before something was tried."""
    what = tried(desk)
    if what is None:
        return
    desk.under_way.pop(TRYING)
    home = base_of(what.base, desk.home)
    if home != desk.home:
        desk.session.put(home, "Given up what was tried")
        desk.after("Given up what was tried")
    else:
        desk.changed.emit("")


class TryingStrip(QWidget):
    """Below the home bar while something is tried. `ended()` when it was kept or given up, `said(text)` where it cannot be kept."""

    ended = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.setObjectName("banner")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.text, self.name = QLabel(), QLineEdit()
        self.name.setAccessibleName("Name of the upgrade that is tried")
        self.name.setPlaceholderText("Name of the upgrade")
        self.name.setMaximumWidth(260)
        self.keep_button, self.up_button = QPushButton("Keep as upgrade"), QPushButton("Give up")
        self.keep_button.clicked.connect(lambda _=False: self._keep())
        self.up_button.clicked.connect(lambda _=False: self._give_up())
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 5, 14, 5)
        row.addWidget(self.text, 1)
        for widget in (self.name, self.keep_button, self.up_button):
            row.addWidget(widget)
        self.hide()

    def refresh(self) -> None:
        """Say what is tried, and what it does to the heating demand; nothing takes no room."""
        what = tried(self._document.desk)
        if what is not None and not self.isVisibleTo(self.parentWidget()):
            self.name.setText(what.name)
        self.setVisible(what is not None)
        if what is not None:
            says = "Trying something: edits go into an upgrade, the home stays as it is."
            if what.seen:
                says = f"Seen with “{what.seen}”, the home stays as it is; what is changed goes into a new upgrade of it."
            self.text.setText(f"{says}{self._moved(what)}")
            self.up_button.setText("As it is" if what.seen else "Give up")

    def _moved(self, what: Tried) -> str:
        now = self._document.assessment
        values = [a.figures["heating_demand"].value if a is not None else None for a in (what.assessment, now)]
        if any(v is None for v in values):
            return ""
        before, after = (float(v) for v in values)  # type: ignore[arg-type]
        return f" Heating demand {show(before, 'specific_energy')} → {with_unit(after, 'specific_energy')}"

    def _keep(self) -> None:
        reason = keep(self._document.desk, self.name.text().strip())
        if reason:
            self.said.emit(reason)
            return
        self.refresh()
        self.ended.emit()

    def _give_up(self) -> None:
        give_up(self._document.desk)
        self.refresh()
        self.ended.emit()
