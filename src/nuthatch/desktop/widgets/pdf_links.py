"""What a PDF document says of itself: its contents, and where the places of its pages lead."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QModelIndex, QPointF, QRectF, QUrl
from PyQt6.QtPdf import QPdfBookmarkModel, QPdfDocument, QPdfLinkModel


@dataclass(frozen=True)
class PdfLink:
    """Where a place of a page leads: to an address, or to a page of the document [points from its top]."""

    rect: QRectF
    url: str
    page: int
    at: QPointF


@dataclass(frozen=True)
class PdfHeading:
    """A line of the document's own contents."""

    title: str
    level: int
    page: int
    at: QPointF


def _number(role: object) -> int:
    """The number of a role of a model: an enumeration in one, a plain number in the other."""
    return int(getattr(role, "value", role))  # type: ignore[call-overload,no-any-return]


def headings_of(document: QPdfDocument) -> list[PdfHeading]:
    """The contents of a document, line by line."""
    model = QPdfBookmarkModel(document)
    model.setDocument(document)
    role = QPdfBookmarkModel.Role
    found: list[PdfHeading] = []

    def below(parent: QModelIndex) -> None:
        for n in range(model.rowCount(parent)):
            index = model.index(n, 0, parent)
            title, level, page, at = (model.data(index, _number(r)) for r in (role.Title, role.Level, role.Page, role.Location))
            found.append(PdfHeading(str(title), int(level), int(page), at if isinstance(at, QPointF) else QPointF()))
            below(index)

    below(QModelIndex())
    model.deleteLater()
    return found


def links_of(document: QPdfDocument, page: int) -> list[PdfLink]:
    """The links of a page."""
    model = QPdfLinkModel(document)
    model.setDocument(document)
    model.setPage(page)
    role = QPdfLinkModel.Role
    found = []
    for n in range(model.rowCount(QModelIndex())):
        index = model.index(n, 0)
        rect, url, to, at = (model.data(index, _number(r)) for r in (role.Rectangle, role.Url, role.Page, role.Location))
        address = url.toString(QUrl.ComponentFormattingOption.FullyEncoded) if isinstance(url, QUrl) else str(url or "")
        found.append(PdfLink(rect, address, int(to) if to is not None else -1, at if isinstance(at, QPointF) else QPointF()))
    model.deleteLater()
    return found
