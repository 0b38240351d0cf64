"""The field for one quantity, the card and the table on their own, without a window around them."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLineEdit, QPushButton
from pytestqt.qtbot import QtBot

from nuthatch.core.library import demo_home
from nuthatch.core.model.home import HotWater, Layer, VentilationUnit, find
from nuthatch.core.model.part import Given, specs
from nuthatch.desktop.app import application
from nuthatch.desktop.document import Document
from nuthatch.desktop.widgets.edit_card import EditCard
from nuthatch.desktop.widgets.quantity_field import QuantityField


@pytest.fixture
def document(qtbot: QtBot) -> Document:
    application()
    made = Document(demo_home("osier-lane-7"))
    with qtbot.waitSignal(made.ready, timeout=20000):
        made.start()
    return made


@pytest.fixture
def make(qtbot: QtBot):  # type: ignore[no-untyped-def]
    application()

    def made(part: type, name: str, value: float | None) -> tuple[QuantityField, list]:
        field = QuantityField(specs(part)[name])
        qtbot.addWidget(field)
        field.show_value(Given(value=value, source="sheet") if value is not None else None)
        field.show()
        seen: list = []
        field.entered.connect(seen.append)
        field.withdrawn.connect(lambda given: seen.append(("back", given.value if given else None)))
        return field, seen

    return made


def test_shows_value_unit_and_basis(make) -> None:
    field, _ = make(Layer, "thickness", 0.0125)
    assert field.edit.text() == "12.5" and field.mark.text() == "○" and "assumed" in field.mark.toolTip()
    field.show_value(None)
    assert field.edit.text() == "" and field.mark.toolTip() == "not given"


def test_each_keystroke_that_is_a_value_goes_through(make, qtbot: QtBot) -> None:
    field, seen = make(Layer, "thickness", 0.2)
    field.edit.selectAll()
    qtbot.keyClicks(field.edit, "240")
    assert seen == pytest.approx([0.002, 0.024, 0.24])
    qtbot.keyClick(field.edit, Qt.Key.Key_Return)
    assert field.edit.text() == "240" and not field.pending


def test_a_unit_typed_behind_a_number_takes_the_number_back_until_it_fits(make, qtbot: QtBot) -> None:
    field, seen = make(Layer, "thickness", 0.2)
    field.edit.selectAll()
    qtbot.keyClicks(field.edit, "9")
    field.show_value(Given(value=0.009, basis="declared"))
    qtbot.keyClicks(field.edit, " i")
    assert seen[-1] == ("back", 0.2), "“9 i” is no value: the old one holds"
    field.show_value(Given(value=0.2))
    qtbot.keyClicks(field.edit, "n")
    assert seen[-1] == pytest.approx(0.2286)


def test_emptying_a_field_means_not_given(make, qtbot: QtBot) -> None:
    field, seen = make(HotWater, "cold", 8.0)
    field.edit.clear()
    field.edit.textEdited.emit("")
    qtbot.keyClick(field.edit, Qt.Key.Key_Return)
    assert seen[-1] is None


def test_two_readings_with_buttons_and_by_enter(make, qtbot: QtBot) -> None:
    field, seen = make(VentilationUnit, "recovery", 0.84)
    field.edit.selectAll()
    qtbot.keyClicks(field.edit, "1")
    assert field.hint.text() == specs(VentilationUnit)["recovery"].help, "1 may become 12: not asked while typing"
    qtbot.keyClick(field.edit, Qt.Key.Key_Return)
    assert field.hint.text() == "1 % or 100 %?"
    names = [b.accessibleName() for b in field.findChildren(QPushButton)]
    assert names == ["Heat recovery is 1 %", "Heat recovery is 100 %"]
    qtbot.keyClick(field.edit, Qt.Key.Key_Return)
    assert seen[-1] == pytest.approx(0.01)


def test_escape_gives_the_home_value_back(make, qtbot: QtBot) -> None:
    field, _ = make(Layer, "conductivity", 0.035)
    field.edit.selectAll()
    qtbot.keyClicks(field.edit, "0")
    assert "more than 0" in field.hint.text() and field.edit.property("wrong") == "true"
    qtbot.keyClick(field.edit, Qt.Key.Key_Escape)
    assert field.edit.text() == "0.035" and field.edit.property("wrong") == "false"


def test_refused_values_keep_the_text(make, qtbot: QtBot) -> None:
    field, seen = make(Layer, "framing_share", 0.1)
    field.show_text("95 %")
    assert seen == [] and "at most 90" in field.hint.text() and field.edit.text() == "95 %"
    field.show_value(Given(value=0.1))
    assert field.edit.text() == "95 %", "a refresh does not wipe what is typed"


def test_a_card_edits_choices_flags_texts_and_references(document: Document, qtbot: QtBot) -> None:
    card = EditCard(document.desk)
    qtbot.addWidget(card)
    card.show()
    card.show_part("unit")
    box = card.fields["bypass"].inner
    assert isinstance(box, QCheckBox) and box.isChecked()
    box.click()
    assert document.home.air.units[0].bypass is False
    name = card.fields["name"].inner
    assert isinstance(name, QLineEdit)
    name.setText("Box in the loft")
    name.editingFinished.emit()
    assert document.home.air.units[0].name == "Box in the loft"
    card.show_part("w-01")
    kind = card.fields["type"].inner
    assert isinstance(kind, QComboBox) and [kind.itemText(i) for i in range(kind.count())][0] == "none"
    kind.setCurrentIndex(kind.findData("roof-window"))
    kind.activated.emit(kind.currentIndex())
    assert find(document.home, "w-01").type == "roof-window"
    face = card.fields["face"].inner
    assert isinstance(face, QComboBox) and {face.itemText(i) for i in range(face.count())} >= {
        "South wall, Ground floor",
        "Roof, south slope",
    }
    card.show_part("gone")
    assert card.isHidden() and card.part_id == ""


def test_typing_wrong_text_leaves_no_step_behind(document: Document, qtbot: QtBot) -> None:
    card = EditCard(document.desk)
    qtbot.addWidget(card)
    card.show()
    card.show_part("outer-wall.3")
    document.changed.connect(lambda _: card.show_part("outer-wall.3"))
    home = document.home
    field = card.fields["thickness"]
    assert isinstance(field, QuantityField)
    field.edit.selectAll()
    qtbot.keyClicks(field.edit, "25 oranges")
    qtbot.keyClick(field.edit, Qt.Key.Key_Return)
    assert document.home == home and document.session.undo_label is None and field.edit.text() == "25 oranges"
    field.edit.selectAll()
    qtbot.keyClicks(field.edit, "25 cm")
    qtbot.keyClick(field.edit, Qt.Key.Key_Return)
    assert find(document.home, "outer-wall.3").thickness.value == 0.25 and field.edit.text() == "250"
    document.desk.undo()
    assert document.home == home


def test_a_home_with_weather_nobody_knows_says_so(qtbot: QtBot) -> None:
    from nuthatch.core.model.home import ClimateRef
    from nuthatch.core.model.part import replace

    application()
    home = demo_home("osier-lane-7")
    strange = replace(home, site=replace(home.site, climate=ClimateRef(name="Elsewhere", sha256="0" * 64)))
    document = Document(strange)
    said: list[str] = []
    document.failed.connect(said.append)
    with qtbot.waitSignal(document.ready, timeout=20000):
        document.start()
    assert "choose a climate" in said[0] and document.assessment.figures["heating_demand"].value is None


def test_broken_weather_in_a_home_file_is_said_and_the_home_still_opens(qtbot: QtBot) -> None:
    application()
    document = Document(demo_home("osier-lane-7"), weather=b"LOCATION,broken\n")
    said: list[str] = []
    document.failed.connect(said.append)
    with qtbot.waitSignal(document.ready, timeout=20000):
        document.start()
    assert "weather file cannot be used" in said[0] and document.home.name == "Osier Lane 7" and document.assessment is not None


def test_no_part_of_a_field_ever_shows_as_a_window_of_its_own(document: Document, qtbot: QtBot) -> None:
    from PyQt6.QtCore import QEvent, QObject
    from PyQt6.QtWidgets import QApplication, QWidget

    class Watch(QObject):
        seen: list[str] = []

        def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
            if event is not None and event.type() == QEvent.Type.Show and isinstance(watched, QWidget) and watched.isWindow():
                self.seen.append(type(watched).__name__)
            return False

    watch = Watch()
    app = QApplication.instance()
    assert app is not None
    app.installEventFilter(watch)
    card = EditCard(document.desk)
    qtbot.addWidget(card)
    for part in ("outer-wall.3", "w-01", "unit", "plans", "hot-water"):
        card.show_part(part)
    app.removeEventFilter(watch)
    assert set(watch.seen) <= {"EditCard"}, watch.seen
