"""The pages of a PDF one below the other: zoom, search, links that lead on; pages that are seen are drawn one at
a time."""

from __future__ import annotations

from PyQt6.QtCore import QBuffer, QByteArray, QModelIndex, QPointF, QRect, QRectF, QSize, QSizeF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QHelpEvent, QImage, QKeyEvent, QMouseEvent, QPainter, QWheelEvent
from PyQt6.QtPdf import QPdfDocument, QPdfSearchModel
from PyQt6.QtWidgets import QAbstractScrollArea, QToolTip

from nuthatch.desktop.theme.style import theme
from nuthatch.desktop.widgets.pdf_links import PdfHeading, PdfLink, headings_of, links_of

GAP = 14
"""Between two pages [px]."""
KEPT = 24
"""Pages drawn that are kept."""
CLOSEST, FARTHEST = 5.0, 0.2


class PagesView(QAbstractScrollArea):
    """`followed(url)` when an address of a page is clicked, `turned(page)` when another page comes to the top, `found(number)` when a search
    has found so many places."""

    followed = pyqtSignal(str)
    turned = pyqtSignal(int)
    found = pyqtSignal(int)

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setObjectName("pages")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.zoom = 0.0
        """Pixels a point; 0: as wide as the view."""
        self.says = ""
        self.document = QPdfDocument(self)
        self._data = QByteArray()
        self._soon = QTimer(self)  # one page at a time, between two events
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self._draw_one)
        self._search = QPdfSearchModel(self)
        self._search.modelReset.connect(self._searched)
        self._search.rowsInserted.connect(lambda *_: self._searched())
        self._at = -1
        self._images: dict[int, QImage] = {}
        self._asked: dict[int, QSize] = {}
        self._stale: list[int] = []
        self._links: dict[int, list[PdfLink]] = {}
        self._top_page = -1
        bar = self.verticalScrollBar()
        assert bar is not None
        bar.setSingleStep(40)
        viewport = self.viewport()
        assert viewport is not None
        viewport.setMouseTracking(True)

    # the document

    @property
    def pages(self) -> int:
        """How many pages there are."""
        return self.document.pageCount()

    def show_data(self, data: bytes) -> bool:
        """Show another document, or the same made anew: the place that was looked at stays. False where it cannot be read."""
        place = self.place()
        made = QPdfDocument(self)
        held = QByteArray(data)
        buffer = QBuffer(made)
        buffer.setData(held)
        buffer.open(QBuffer.OpenModeFlag.ReadOnly)
        made.load(buffer)
        if made.status() != QPdfDocument.Status.Ready:
            made.deleteLater()
            return False
        old, self.document, self._data = self.document, made, held
        self._search.setDocument(made)
        old.deleteLater()
        self._asked, self._links = {}, {}  # images stay until the new ones are there: no page flashes white
        for page in [p for p in self._images if p >= self.pages]:
            del self._images[page]
        self._laid_out()
        self.go_to(place)
        return True

    def headings(self) -> list[PdfHeading]:
        """The document's own contents."""
        return headings_of(self.document)

    # where pages lie

    def scale(self) -> float:
        """Pixels a point."""
        if self.zoom:
            return self.zoom
        viewport = self.viewport()
        assert viewport is not None
        widest = max((self.document.pagePointSize(n).width() for n in range(self.pages)), default=595.0)
        return max((viewport.width() - 2 * GAP) / widest, 0.05)

    def _rect(self, page: int) -> QRectF:
        """Where a page lies in the whole, before scrolling."""
        scale, top = self.scale(), float(GAP)
        for n in range(page):
            top += self.document.pagePointSize(n).height() * scale + GAP
        size = self.document.pagePointSize(page) * scale
        viewport = self.viewport()
        assert viewport is not None
        left = max((viewport.width() - size.width()) / 2, GAP)
        return QRectF(QPointF(left, top), size)

    def _laid_out(self) -> None:
        """Scroll bars by what there is."""
        vertical, horizontal, viewport = self.verticalScrollBar(), self.horizontalScrollBar(), self.viewport()
        assert vertical is not None and horizontal is not None and viewport is not None
        whole = self._rect(self.pages - 1).bottom() + GAP if self.pages else 0
        wide = max((self._rect(n).width() for n in range(self.pages)), default=0.0) + 2 * GAP
        vertical.setRange(0, max(int(whole - viewport.height()), 0))
        vertical.setPageStep(viewport.height())
        horizontal.setRange(0, max(int(wide - viewport.width()), 0))
        horizontal.setPageStep(viewport.width())
        viewport.update()

    def _offset(self) -> QPointF:
        vertical, horizontal = self.verticalScrollBar(), self.horizontalScrollBar()
        assert vertical is not None and horizontal is not None
        return QPointF(horizontal.value(), vertical.value())

    def place(self) -> tuple[int, float]:
        """(page at the top, share of it that has gone by)."""
        y = self._offset().y()
        for n in range(self.pages):
            rect = self._rect(n)
            if rect.bottom() > y + 1:
                return n, max((y - rect.top()) / max(rect.height(), 1.0), 0.0)
        return max(self.pages - 1, 0), 0.0

    def go_to(self, place: tuple[int, float]) -> None:
        """Bring a place to the top."""
        if not self.pages:
            return
        page, share = min(place[0], self.pages - 1), place[1]
        rect, bar = self._rect(page), self.verticalScrollBar()
        assert bar is not None
        bar.setValue(int(rect.top() + share * rect.height() - (GAP if share == 0 else 0)))
        self._turn()

    def go_to_page(self, page: int, at: QPointF | None = None) -> None:
        """Bring a page to the top, or a point of it."""
        height = self.document.pagePointSize(page).height() if 0 <= page < self.pages else 0.0
        self.go_to((page, max(at.y() - 12, 0) / height if at is not None and height else 0.0))

    def set_zoom(self, zoom: float) -> None:
        """So many pixels a point; 0: as wide as the view."""
        place = self.place()
        self.zoom = min(max(zoom, FARTHEST), CLOSEST) if zoom else 0.0
        self._asked = {}
        self._laid_out()
        self.go_to(place)

    def closer(self, factor: float) -> None:
        """Zoom in or out."""
        self.set_zoom(self.scale() * factor)

    # drawing

    def paintEvent(self, event: object) -> None:
        viewport, tokens = self.viewport(), theme.tokens
        assert viewport is not None
        painter = QPainter(viewport)
        painter.fillRect(viewport.rect(), QColor(tokens["panel"]))
        if not self.pages:
            painter.setPen(QColor(tokens["muted"]))
            painter.drawText(
                viewport.rect().adjusted(40, 40, -40, -40), int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap), self.says
            )
            painter.end()
            return
        offset, area = self._offset(), QRectF(viewport.rect())
        for n in range(self.pages):
            rect = self._rect(n).translated(-offset)
            if rect.intersects(area):
                self._page(painter, n, rect)
        painter.end()

    def _page(self, painter: QPainter, page: int, rect: QRectF) -> None:
        """One page: as drawn last until it is drawn anew, the places a search has found over it."""
        painter.fillRect(rect, QColor("#FFFFFF"))
        image = self._images.get(page)
        if image is not None:
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            painter.drawImage(rect, image)
        size = (rect.size() * self.devicePixelRatioF()).toSize()
        if self._asked.get(page) != size:
            self._asked[page] = size
            self._stale.append(page)
            self._soon.start(0)
        painter.setPen(QColor(theme.tokens["line"]))
        painter.drawRect(rect)
        for n, hit in enumerate(self._hits(page)):
            tint = QColor(theme.tokens["chestnut" if n == self._at_of(page) else "tide"])
            tint.setAlpha(90)
            for found in hit:
                painter.fillRect(self._on_sheet(rect, page, found), tint)

    def _on_sheet(self, rect: QRectF, page: int, part: QRectF) -> QRectF:
        """A part of a page where the page lies."""
        scale = rect.width() / self.document.pagePointSize(page).width()
        return QRectF(rect.left() + part.left() * scale, rect.top() + part.top() * scale, part.width() * scale, part.height() * scale)

    def _draw_one(self) -> None:
        """Draw a page that is seen and is not drawn as it is."""
        viewport, offset = self.viewport(), self._offset()
        assert viewport is not None
        area = QRectF(QRect(viewport.rect()))
        while self._stale:
            page = self._stale.pop(0)
            size = self._asked.get(page)
            if page < self.pages and size is not None and self._rect(page).translated(-offset).intersects(area):
                self._images[page] = self.document.render(page, size)
                break
            self._asked.pop(page, None)  # it has gone by: asked for again when it comes back
        near = self.place()[0]
        for far in sorted(self._images, key=lambda p: -abs(p - near))[: max(len(self._images) - KEPT, 0)]:
            del self._images[far]
            self._asked.pop(far, None)
        if self._stale:
            self._soon.start(0)
        viewport.update()

    # search

    def search(self, text: str) -> None:
        """Look for a text."""
        self._at = -1
        self._search.setSearchString(text)
        viewport = self.viewport()
        assert viewport is not None
        viewport.update()

    @property
    def hits(self) -> int:
        """How many places the search has found."""
        return self._search.rowCount(self.rootIndex())

    def rootIndex(self) -> QModelIndex:
        return QModelIndex()

    def _hits(self, page: int) -> list[list[QRectF]]:
        return [list(link.rectangles()) for link in self._search.resultsOnPage(page)] if self._search.searchString() else []

    def _at_of(self, page: int) -> int:
        """Which place of a page is the one looked at; −1 for none."""
        if self._at < 0:
            return -1
        link = self._search.resultAtIndex(self._at)
        if link.page() != page:
            return -1
        return next((n for n, r in enumerate(self._search.resultsOnPage(page)) if r.rectangles() == link.rectangles()), -1)

    def step(self, by: int) -> None:
        """To the next place the search has found, or the one before."""
        number = self.hits
        if not number:
            return
        self._at = (self._at + by) % number if self._at >= 0 else (0 if by > 0 else number - 1)
        link = self._search.resultAtIndex(self._at)
        self.go_to_page(link.page(), QPointF(0, max(link.location().y() - 60, 0)))
        viewport = self.viewport()
        assert viewport is not None
        viewport.update()

    def _searched(self) -> None:
        self.found.emit(self.hits)
        viewport = self.viewport()
        if viewport is not None:
            viewport.update()

    # links

    def links(self, page: int) -> list[PdfLink]:
        """The links of a page."""
        if page not in self._links:
            self._links[page] = links_of(self.document, page)
        return self._links[page]

    def link_at(self, point: QPointF) -> PdfLink | None:
        """The link at a point of the view."""
        where = point + self._offset()
        for n in range(self.pages):
            rect = self._rect(n)
            if rect.contains(where):
                return next((link for link in self.links(n) if self._on_sheet(rect, n, link.rect).contains(where)), None)
        return None

    def spot_of(self, page: int, link: PdfLink) -> QPointF:
        """The middle of a link in the view."""
        return self._on_sheet(self._rect(page), page, link.rect).center() - self._offset()

    def follow(self, link: PdfLink) -> None:
        """Go where a link leads."""
        if link.url:
            self.followed.emit(link.url)
        elif link.page >= 0:
            self.go_to_page(link.page, link.at)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        viewport = self.viewport()
        if event is None or viewport is None:
            return
        viewport.setCursor(Qt.CursorShape.PointingHandCursor if self.link_at(event.position()) else Qt.CursorShape.ArrowCursor)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            link = self.link_at(event.position())
            if link is not None:
                self.follow(link)

    def viewportEvent(self, event: object) -> bool:
        if isinstance(event, QHelpEvent):
            link = self.link_at(QPointF(event.pos()))
            QToolTip.showText(event.globalPos(), _told(link) if link is not None else "", self)
            return True
        return bool(super().viewportEvent(event))  # type: ignore[arg-type]

    # keys and wheel

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.closer(1.15 ** (event.angleDelta().y() / 120))
            event.accept()
            return
        super().wheelEvent(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        key, bar = event.key(), self.verticalScrollBar()
        assert bar is not None
        if key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.closer(1.2)
        elif key == Qt.Key.Key_Minus:
            self.closer(1 / 1.2)
        elif key == Qt.Key.Key_0:
            self.set_zoom(0)
        elif key == Qt.Key.Key_Home:
            bar.setValue(0)
        elif key == Qt.Key.Key_End:
            bar.setValue(bar.maximum())
        else:
            super().keyPressEvent(event)

    def resizeEvent(self, event: object) -> None:
        place = self.place()
        super().resizeEvent(event)  # type: ignore[arg-type]
        self._laid_out()
        if not self.zoom:
            self.go_to(place)

    def scrollContentsBy(self, dx: int, dy: int) -> None:
        viewport = self.viewport()
        if viewport is not None:
            viewport.update()
        self._turn()

    def _turn(self) -> None:
        page = self.place()[0]
        if page != self._top_page:
            self._top_page = page
            self.turned.emit(page)

    def sizeHint(self) -> QSize:
        return QSize(640, 440)

    def drawn(self) -> bool:
        """Whether every page that is seen is drawn as it is."""
        viewport, offset = self.viewport(), self._offset()
        assert viewport is not None
        area = QRectF(QRect(viewport.rect()))
        seen = [n for n in range(self.pages) if self._rect(n).translated(-offset).intersects(area)]
        return all(n in self._images and self._images[n].size() == self._asked.get(n, QSizeF().toSize()) for n in seen)


def _told(link: PdfLink) -> str:
    """What a link says of itself."""
    if link.url.startswith("nuthatch:result"):
        return "How it is worked out"
    if link.url.startswith("nuthatch:field"):
        return "To the field"
    return f"Page {link.page + 1}" if link.page >= 0 and not link.url else link.url
