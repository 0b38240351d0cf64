"""The jump box (Ctrl+K): to any step, part or result by name."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QPoint, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QLineEdit, QListWidget, QListWidgetItem, QWidget

from nuthatch.core.model.details import DetailBlock, DetailFlank, DetailSpace
from nuthatch.core.model.home import walk_parts
from nuthatch.core.steps import NAMES, step_of
from nuthatch.desktop.document import Document

OF_DETAILS = (DetailBlock, DetailSpace, DetailFlank)
"""Found in their detail: by the dozen they would hide what is looked for."""


class JumpBox(QLineEdit):
    """`go(step, part)` for a step or part, `explain(figure key)` for a result."""

    go = pyqtSignal(str, str)
    explain = pyqtSignal(str)

    def __init__(self, document: Document, window: QWidget) -> None:
        super().__init__()
        self._document = document
        self.setPlaceholderText("Go to a step, a part or a result    Ctrl K")
        self.setAccessibleName("Jump box")
        self.setFixedWidth(290)
        self.list = QListWidget(window)
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.list.hide()
        self.list.itemClicked.connect(self._take)
        self.textEdited.connect(self._search)
        self.installEventFilter(self)

    def targets(self) -> list[tuple[str, str, tuple[str, str, str]]]:
        """(name, kind, (what, step or key, part)) of everything one can jump to."""
        found = [(title, "step", ("go", key, "")) for key, title in NAMES]
        found.append(("Ledger of assumptions", "sheet", ("go", "ledger", "")))
        for part in walk_parts(self._document.home):
            name = getattr(part, "name", "")
            if name and part.id not in ("home", "climate") and not isinstance(part, OF_DETAILS):
                found.append((str(name), step_of(part), ("go", step_of(part), part.id)))
        if self._document.assessment:
            found += [(f.label, "result", ("explain", key, "")) for key, f in self._document.assessment.figures.items()]
        return found

    def _search(self, text: str) -> None:
        words = text.lower().split()
        self.list.clear()
        matches = [t for t in self.targets() if words and all(w in t[0].lower() for w in words)]
        matches.sort(key=lambda t: (not t[0].lower().startswith(words[0]), t[1] != "step", t[0]))
        for name, kind, target in matches[:12]:
            item = QListWidgetItem(f"{name}   ·   {kind}")
            item.setData(Qt.ItemDataRole.UserRole, target)
            self.list.addItem(item)
        if words and not matches:
            item = QListWidgetItem(f"nothing here is called “{text.strip()}”")
            item.setFlags(Qt.ItemFlag.NoItemFlags)
            self.list.addItem(item)
        self.list.setVisible(self.list.count() > 0)
        if self.list.count():
            self.list.setCurrentRow(0)
            window = self.list.parentWidget()
            assert window is not None
            corner = self.mapTo(window, QPoint(0, self.height() + 2))
            self.list.setGeometry(corner.x(), corner.y(), self.width(), min(self.list.count() * 28 + 6, 340))
            self.list.raise_()

    def _take(self, item: QListWidgetItem | None) -> None:
        if item is None or item.data(Qt.ItemDataRole.UserRole) is None:
            return
        what, key, part = item.data(Qt.ItemDataRole.UserRole)
        self.list.hide()
        self.clear()
        self.clearFocus()
        if what == "go":
            self.go.emit(key, part)
        else:
            self.explain.emit(key)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up) and self.list.isVisible():
                step = 1 if event.key() == Qt.Key.Key_Down else -1
                self.list.setCurrentRow((self.list.currentRow() + step) % self.list.count())
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.list.isVisible():
                self._take(self.list.currentItem())
                return True
            if event.key() == Qt.Key.Key_Escape:
                self.list.hide()
                self.clear()
                self.clearFocus()
                return True
        if event is not None and event.type() == QEvent.Type.FocusOut:
            self.list.hide()
        return super().eventFilter(watched, event)
