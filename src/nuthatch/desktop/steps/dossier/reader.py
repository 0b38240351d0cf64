"""The pages of the dossier with their contents beside them, a search, and what is said of them."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QLabel, QLineEdit, QListWidget, QListWidgetItem, QSplitter, QVBoxLayout, QWidget

from nuthatch.desktop.steps.board import button
from nuthatch.desktop.widgets.pages_view import PagesView
from nuthatch.desktop.widgets.pdf_links import PdfHeading


class _Search(QLineEdit):
    """`wanted(by)` on Enter: the next place, with Shift the one before."""

    wanted = pyqtSignal(int)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.wanted.emit(-1 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1)
            return
        super().keyPressEvent(event)


class DossierReader(QWidget):
    """`followed(address)` where a number of a page leads out of the pages."""

    followed = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.view = PagesView("Pages of the dossier")
        self.view.says = "The pages are being made …"
        self.view.followed.connect(self.followed)
        self.view.turned.connect(self._turned)
        self.view.found.connect(self._found)
        self.contents = QListWidget()
        self.contents.setAccessibleName("Contents of the dossier")
        self.contents.setObjectName("contents")
        self.contents.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.contents.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.contents.itemActivated.connect(self._go)
        self.contents.itemClicked.connect(self._go)
        self.search = _Search()
        self.search.setPlaceholderText("Find")
        self.search.setAccessibleName("Find in the pages")
        self.search.setClearButtonEnabled(True)
        self.search.setFixedWidth(118)
        self.search.textChanged.connect(self.view.search)
        self.search.wanted.connect(self.view.step)
        self.state = QLabel()
        self.state.setObjectName("muted")
        self.splitter = QSplitter()
        self.splitter.addWidget(self.contents)
        self.splitter.addWidget(self.view)
        self.splitter.setStretchFactor(1, 1)
        self.splitter.setSizes([206, 600])
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.splitter)
        self._headings: list[PdfHeading] = []

    def tools(self) -> tuple[QWidget, ...]:
        """What stands above the pages."""
        return (
            self.state,
            self.search,
            button("−", lambda: self.view.closer(1 / 1.2), tip="Smaller (−)"),
            button("+", lambda: self.view.closer(1.2), tip="Larger (+)"),
            button("Width", lambda: self.view.set_zoom(0), tip="As wide as the view (0)"),
        )

    @property
    def pages(self) -> int:
        """How many pages are shown."""
        return self.view.pages

    @property
    def drawn(self) -> bool:
        """Whether what is seen is drawn."""
        return bool(self.pages) and self.view.drawn()

    def say(self, words: str) -> None:
        """What is going on with the pages."""
        self.state.setText(words)
        if not self.pages:
            self.view.says = words[:1].upper() + words[1:]
            viewport = self.view.viewport()
            if viewport is not None:
                viewport.update()

    def show_data(self, data: bytes) -> bool:
        """Show the pages of a PDF. False where it cannot be read."""
        if not self.view.show_data(data):
            return False
        self._headings = self.view.headings()
        self.contents.blockSignals(True)
        self.contents.clear()
        number = 0
        for n, heading in enumerate(self._headings):
            number += heading.level == 0
            item = QListWidgetItem(f"{number}  {heading.title}" if heading.level == 0 else f"     {heading.title}")
            item.setData(Qt.ItemDataRole.UserRole, n)
            item.setToolTip(f"{heading.title}, page {heading.page + 1}")
            font = item.font()
            font.setBold(heading.level == 0)
            item.setFont(font)
            self.contents.addItem(item)
        self.contents.blockSignals(False)
        self._turned(self.view.place()[0])
        self.state.setText(f"{self.pages} pages")
        if self.search.text():
            self.view.search(self.search.text())
        return True

    def go_to_heading(self, title: str) -> None:
        """Bring a chapter to the top."""
        found = next((h for h in self._headings if h.level == 0 and h.title == title), None)
        if found is not None:
            self.view.go_to_page(found.page, found.at)

    def _go(self, item: QListWidgetItem) -> None:
        heading = self._headings[int(item.data(Qt.ItemDataRole.UserRole))]
        self.view.go_to_page(heading.page, QPointF(0, max(heading.at.y(), 0)))

    def _turned(self, page: int) -> None:
        """The line of the contents one reads."""
        row = max((n for n, h in enumerate(self._headings) if h.page <= page), default=-1)
        self.contents.blockSignals(True)
        self.contents.setCurrentRow(row)
        self.contents.blockSignals(False)

    def _found(self, number: int) -> None:
        if self.search.text():
            self.state.setText(f"{number} place{'' if number == 1 else 's'}")
        elif self.pages:
            self.state.setText(f"{self.pages} pages")
