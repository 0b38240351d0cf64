"""A field for one quantity: any unit may be typed; what is wrong stays as typed and says what would be right."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from nuthatch.core.model.part import FieldSpec, Given
from nuthatch.core.reading import BadText, Doubt, read
from nuthatch.core.units import INCH_POUND, head_unit, show_exact, system
from nuthatch.core.views.working import MARKS

LONGEST_BESIDE = 8
NARROW, WIDEST = 62, 190


def unit_width() -> int:
    """How wide the column of units is: those of the inch-pound system are longer."""
    return 92 if system() == INCH_POUND else 58


class ElidedLabel(QLabel):
    """A label of one line, cut where it has no room; the tip says it whole."""

    def __init__(self, text: str, tip: str = "") -> None:
        super().__init__()
        self.setObjectName("fieldName")
        self._text = text
        self.setToolTip(tip or text)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.setMinimumWidth(40)

    def sizeHint(self) -> QSize:
        return QSize(self.fontMetrics().horizontalAdvance(self._text) + 4, 20)

    def put(self, text: str) -> None:
        """Another text."""
        self._text = text
        self.setToolTip(text)
        self.resizeEvent(None)

    def resizeEvent(self, event: object) -> None:
        self.setText(self.fontMetrics().elidedText(self._text, Qt.TextElideMode.ElideRight, self.width()))


class QuantityField(QWidget):
    """`entered(value or None)` when a readable value was typed; `entered_focus()` when the field gets the focus."""

    entered = pyqtSignal(object)
    focused = pyqtSignal()
    left = pyqtSignal()
    withdrawn = pyqtSignal(object)

    def __init__(self, spec: FieldSpec) -> None:
        super().__init__()
        self.spec = spec
        self._given: Given | None = None
        self._doubt: Doubt | None = None
        self._typed = False
        self._start: Given | None = None
        self.edit = QLineEdit()
        self.edit.setObjectName("value")
        self.edit.setAccessibleName(spec.label)
        self.edit.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.edit.setFixedWidth(NARROW)
        self.mark = QLabel(" ")
        self.mark.setFixedWidth(14)
        self.unit = QLabel(head_unit(spec.kind))
        self.unit.setObjectName("unit")
        self.unit.setFixedWidth(unit_width())
        self.label = ElidedLabel(spec.brief, "\n".join(t for t in (spec.label, spec.help) if t))
        self.label.setBuddy(self.edit)
        self.hint = QLabel("", self)  # with its parent at once: shown alone it would be a window
        self.hint.setObjectName("hint")
        self.hint.setWordWrap(True)
        self.hint.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.hint.setVisible(False)
        self._choices = QHBoxLayout()
        self._choices.setSpacing(4)
        self._lay_out()
        self.edit.textEdited.connect(self._edited)
        self.edit.editingFinished.connect(self._leave)
        self.edit.installEventFilter(self)
        self.edit.textChanged.connect(self._fit)

    def _lay_out(self) -> None:
        row = QHBoxLayout()
        row.setSpacing(5)
        row.addWidget(self.label, 1)
        for widget in (self.edit, self.unit, self.mark):
            row.addWidget(widget)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        column.addLayout(row)
        column.addWidget(self.hint)
        column.addLayout(self._choices)

    def _fit(self, text: str) -> None:
        """As wide as its number needs: a value is never cut."""
        self.edit.setFixedWidth(min(max(NARROW, self.edit.fontMetrics().horizontalAdvance(text) + 18), WIDEST))

    @property
    def pending(self) -> bool:
        """Whether the field holds text that is not the home's value."""
        return self._typed

    def show_value(self, given: Given | None) -> None:
        """Show the home's value, unless something typed here is not settled yet."""
        self._given = given
        self.mark.setText(MARKS[given.basis.value if given else ""])
        self.mark.setToolTip(f"{given.basis.value}: {given.source}" if given else "not given")
        if not self._typed:
            self.edit.setText(show_exact(given.value if given else None, self.spec.kind))

    def show_counting(self, words: str) -> None:
        """Say that another value counts in the place of the one typed here; '' where the typed one does."""
        if not self._typed:
            self._say(words, False)
            self.edit.setProperty("aside", "true" if words else "false")

    def show_text(self, text: str) -> None:
        """Put text into the field as if typed and settle it."""
        self._start = self._given
        self.edit.setText(text)
        self._typed = True
        self._settle(False)

    def refuse(self, reason: str) -> None:
        """The text stays; the field says what is wrong."""
        self._typed = True
        self._say(reason, True)

    def _say(self, text: str, wrong: bool) -> None:
        self.hint.setText(text)
        self.hint.setVisible(bool(text))
        self.hint.setObjectName("wrong" if wrong else "hint")
        self.edit.setProperty("wrong", "true" if wrong else "false")
        for widget in (self.hint, self.edit):
            style = widget.style()
            if style is not None:
                style.unpolish(widget)
                style.polish(widget)

    def _clear_choices(self) -> None:
        self._doubt = None
        while self._choices.count():
            item = self._choices.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                widget.deleteLater()

    def _edited(self, _: str) -> None:
        if not self._typed:
            self._start = self._given
        self._typed = True
        self._settle(True)

    def _settle(self, typing: bool) -> None:
        """Read the text. While typing, a plain readable value goes through at once; faults wait for the end."""
        self._clear_choices()
        text = self.edit.text().strip()
        if not text:
            self._withdraw() if typing else self._accept(None)
            return
        try:
            found = read(text, self.spec.kind, self.spec.refuse)
        except BadText as problem:
            self._withdraw()
            if not typing:
                self._say(str(problem), True)
            return
        if isinstance(found, Doubt):
            self._withdraw()
            # "1" may become "12": a whole number is asked about only when the typing ends
            if not typing or not text.isdigit():
                self._ask(found)
            return
        reason = self.spec.refuse(found)
        if reason:
            self._withdraw()
            self._say(reason, True)
            return
        self._say("", False)
        self._accept(found, typing)

    def _withdraw(self) -> None:
        """What the keystrokes so far did is taken back: until the text is settled, the old value holds."""
        if self._typed and self._given != self._start:
            self.withdrawn.emit(self._start)

    def drop(self) -> None:
        """Forget what is typed and show the home's value."""
        self._typed = False
        self._clear_choices()
        self._say("", False)
        self.show_value(self._given)

    def _accept(self, value: float | None, typing: bool = False) -> None:
        if not typing:
            self._typed = False
        current = self._given.value if self._given else None
        if value != current and not (value is not None and current is not None and abs(value - current) < 1e-12):
            self.entered.emit(value)
        if not typing and not self._typed:
            self._say("", False)
            self.edit.setText(show_exact(value, self.spec.kind))

    def _ask(self, doubt: Doubt) -> None:
        self._doubt = doubt
        self._say(doubt.question, True)
        for label, value in doubt.readings:
            button = QPushButton(label)
            button.setAccessibleName(f"{self.spec.label} is {label}")
            button.clicked.connect(lambda _=False, v=value: self._choose(v))
            self._choices.addWidget(button)

    def _choose(self, value: float) -> None:
        self._clear_choices()
        reason = self.spec.refuse(value)
        if reason:
            self._say(reason, True)
            return
        self._accept(value)

    def _leave(self) -> None:
        if self._typed and self._doubt is None:
            self._settle(False)
        self.left.emit()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.FocusIn:
            self.focused.emit()
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._doubt is not None:
                # Enter takes it as typed: the first reading is the literal one
                self._choose(self._doubt.readings[0][1])
                return True
            if event.key() == Qt.Key.Key_Escape and self._typed:
                self._withdraw()
                self.drop()
                return True
        return super().eventFilter(watched, event)
