"""Fonts, icons and the style sheet, made from the tokens of the drawings."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

from PyQt6.QtCore import QByteArray, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QIcon, QPainter, QPalette, QPixmap
from PyQt6.QtSvg import QSvgRenderer
from PyQt6.QtWidgets import QApplication

from nuthatch import look
from nuthatch.look import FONT, font_files

FOLDER = Path(__file__).parent


class Theme:
    """The tokens in use; one instance per application, handed to what paints."""

    def __init__(self) -> None:
        self.tokens = look.palette()
        self.dark = False

    def color(self, token: str) -> QColor:
        return QColor(self.tokens[token])


theme = Theme()


def load_fonts() -> None:
    """Register the shipped fonts and make Inter the application's font with tabular figures."""
    for file in font_files():
        QFontDatabase.addApplicationFont(str(file))
    QApplication.setFont(font(10))


def font(points: float, bold: bool = False) -> QFont:
    """Inter at a size in points."""
    made = QFont(FONT)
    made.setPointSizeF(points)
    if bold:
        made.setWeight(QFont.Weight.DemiBold)
    if hasattr(made, "setFeature"):
        made.setFeature(QFont.Tag("tnum"), 1)
    return made


def pixel_font(pixels: float, bold: bool = False) -> QFont:
    """Inter at a size in pixels of the drawing."""
    made = font(10, bold)
    made.setPixelSize(max(1, round(pixels)))
    return made


def icon(name: str, token: str = "ink", gap: int = 0) -> QIcon:
    """A shipped icon in a token's colour, with so much room to its right, for words that follow [dots of 40 for the icon]."""
    source = (FOLDER / "icons" / f"{name}.svg").read_text(encoding="utf-8").replace("currentColor", theme.tokens[token])
    renderer = QSvgRenderer(QByteArray(source.encode()))
    pixmap = QPixmap(QSize(40 + gap, 40))
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    renderer.render(painter, QRectF(0, 0, 40, 40))
    painter.end()
    pixmap.setDevicePixelRatio(2)
    return QIcon(pixmap)


def apply_theme(dark: bool) -> None:
    """Switch the tokens and the style of the whole application."""
    theme.dark = dark
    theme.tokens = look.palette(dark)
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    palette = QPalette()
    for role, token in (
        (QPalette.ColorRole.Window, "paper"),
        (QPalette.ColorRole.Base, "card"),
        (QPalette.ColorRole.Text, "ink"),
        (QPalette.ColorRole.WindowText, "ink"),
        (QPalette.ColorRole.Button, "card"),
        (QPalette.ColorRole.ButtonText, "ink"),
        (QPalette.ColorRole.Highlight, "select"),
        (QPalette.ColorRole.HighlightedText, "ink"),
        (QPalette.ColorRole.ToolTipBase, "card"),
        (QPalette.ColorRole.ToolTipText, "ink"),
        (QPalette.ColorRole.AlternateBase, "paper"),
        (QPalette.ColorRole.PlaceholderText, "muted"),
    ):
        palette.setColor(role, theme.color(token))
    app.setPalette(palette)
    app.setStyleSheet(_sheet(theme.tokens) + _sheet_of_lists(theme.tokens))


def _sheet(t: Mapping[str, str]) -> str:
    """Surfaces, words, fields and buttons."""
    return f"""
    QWidget {{ color: {t["ink"]}; font-family: Inter; font-size: 13px; }}
    QMainWindow, QWidget#board, QScrollArea#boardScroll, QWidget#boardBody {{ background: {t["paper"]}; }}
    QWidget#homeBar {{ background: {t["paper"]}; border-bottom: 1px solid {t["line"]}; }}
    QWidget#route, QWidget#margins, QWidget#marginsBody, QScrollArea#marginsScroll {{ background: {t["panel"]}; }}
    QWidget#route {{ border-right: 1px solid {t["line"]}; }}
    QWidget#margins {{ border-left: 1px solid {t["line"]}; }}
    QWidget#banner {{ background: {t["select"]}; border-bottom: 1px solid {t["line"]}; }}
    QWidget#changeLine {{ background: {t["paper"]}; border-top: 1px solid {t["line"]}; }}
    QLabel#homeName {{ font-size: 17px; font-weight: 600; }}
    QLabel#muted, QLabel#hint {{ color: {t["muted"]}; font-size: 11.5px; }}
    QLabel#wrong {{ color: {t["chestnut_text"]}; font-size: 11.5px; }}
    QLabel#boardTitle {{ font-size: 16px; font-weight: 600; }}
    QScrollArea#inspector {{ background: {t["card"]}; border: 1px solid {t["line"]}; border-radius: 5px; }}
    QWidget#inspectorBody {{ background: {t["card"]}; }}
    QFrame#group {{ background: transparent; border: none; }}
    QFrame#rule {{ background: {t["line"]}; border: none; }}
    QLabel#groupTitle {{ color: {t["muted"]}; font-size: 11.5px; font-weight: 600; }}
    QLabel#fieldName {{ font-size: 12.5px; }}
    QLabel#unit {{ color: {t["muted"]}; font-size: 11px; }}
    QWidget#inspectorBody QLineEdit, QWidget#inspectorBody QComboBox {{ padding: 1px 6px; min-height: 18px; font-size: 12.5px; }}
    QWidget#inspectorBody QLineEdit#value {{ padding: 1px 5px; }}
    QPushButton#onSite {{ font-size: 15px; font-weight: 600; border: 1.5px solid {t["slate"]}; padding: 4px 4px; }}
    QPushButton#onSiteMain {{ font-size: 17px; font-weight: 600; background: {t["slate"]}; color: {t["paper"]}; border: 1.5px solid {t["slate"]}; padding: 4px 4px; }}
    QPushButton#onSiteStop {{ font-size: 15px; font-weight: 600; border: 1.5px solid {t["chestnut"]}; color: {t["chestnut_text"]}; padding: 4px 4px; }}
    QPushButton#onSite:disabled, QPushButton#onSiteStop:disabled {{ color: {t["muted"]}; border-color: {t["line"]}; }}
    QPushButton#switch {{ background: transparent; border: none; border-bottom: 2px solid transparent; border-radius: 0; padding: 3px 7px; color: {t["muted"]}; }}
    QPushButton#switch:hover {{ color: {t["ink"]}; }}
    QPushButton#switch:focus {{ background: {t["select"]}; }}
    QPushButton#switch:checked {{ background: transparent; color: {t["ink"]}; font-weight: 600; border-bottom: 2px solid {t["slate"]}; }}
    QSplitter::handle:horizontal {{ background: transparent; border-left: 1px solid transparent; }}
    QSplitter::handle:vertical {{ background: {t["paper"]}; border-top: 1px solid {t["line"]}; margin-top: 4px; }}
    QSplitter::handle:hover {{ background: {t["select"]}; }}
    QLabel#sectionTitle {{ font-size: 13px; font-weight: 600; }}
    QFrame#card {{ background: {t["card"]}; border: 1px solid {t["line"]}; border-radius: 5px; }}
    QFrame#question {{ background: {t["card"]}; border: 1px solid {t["chestnut"]}; border-radius: 5px; }}
    QLineEdit, QComboBox, QPlainTextEdit {{ background: {t["white"]}; border: 1px solid {t["line"]}; border-radius: 4px; padding: 3px 7px; min-height: 20px; selection-background-color: {t["slate_pale"]}; selection-color: {t["ink"]}; }}
    QTreeWidget, QListWidget, QTextBrowser {{ background: {t["card"]}; border: 1px solid {t["line"]}; }}
    QLineEdit:focus, QComboBox:focus, QPlainTextEdit:focus, QTableView:focus, QTextBrowser:focus {{ border: 2px solid {t["slate"]}; }}
    QLineEdit[wrong="true"] {{ border: 2px solid {t["chestnut"]}; }}
    QComboBox::drop-down {{ border: none; width: 18px; }}
    QComboBox::down-arrow {{ image: url({(FOLDER / "icons").as_posix()}/chevron-{"dark" if theme.dark else "light"}.svg); width: 12px; height: 12px; }}
    QComboBox QAbstractItemView {{ background: {t["card"]}; border: 1px solid {t["line"]}; selection-background-color: {t["select"]}; selection-color: {t["ink"]}; }}
    QPushButton {{ background: {t["card"]}; border: 1px solid {t["line"]}; border-radius: 4px; padding: 4px 11px; }}
    QPushButton:hover {{ border-color: {t["slate"]}; }}
    QPushButton:focus {{ border: 2px solid {t["slate"]}; padding: 3px 10px; }}
    QPushButton:checked {{ background: {t["slate"]}; color: {t["paper"]}; }}
    QPushButton:disabled {{ color: {t["muted"]}; border-color: {t["line"]}; }}
    QToolButton {{ background: transparent; border: 1px solid transparent; border-radius: 4px; padding: 4px; }}
    QToolButton:hover {{ background: {t["select"]}; }}
    QToolButton:focus {{ border: 2px solid {t["slate"]}; }}
    """


def _sheet_of_lists(t: Mapping[str, str]) -> str:
    """Tables, check boxes, sliders, bars, menus."""
    return f"""
    QTableView {{ background: {t["paper"]}; border: 1px solid {t["line"]}; gridline-color: {t["line"]}; selection-background-color: {t["select"]}; selection-color: {t["ink"]}; }}
    QTableView QLineEdit {{ border: 2px solid {t["slate"]}; border-radius: 0; padding: 0 4px; min-height: 0; }}
    QHeaderView::section {{ background: {t["paper"]}; color: {t["muted"]}; border: none; border-bottom: 1px solid {t["line"]}; padding: 4px 6px; font-size: 11.5px; }}
    QHeaderView {{ background: {t["paper"]}; }}
    QTableCornerButton::section {{ background: {t["paper"]}; border: none; }}
    QScrollArea {{ border: none; }}
    QCheckBox {{ spacing: 7px; }}
    QCheckBox::indicator {{ width: 13px; height: 13px; border: 1px solid {t["muted"]}; border-radius: 2px; background: {t["white"]}; }}
    QCheckBox::indicator:checked {{ background: {t["slate"]}; border-color: {t["slate"]}; image: url({(FOLDER / "icons").as_posix()}/check-{"dark" if theme.dark else "light"}.svg); }}
    QSlider:focus {{ background: {t["select"]}; border: 1px solid {t["slate"]}; border-radius: 3px; }}
    QCheckBox:focus {{ background: {t["select"]}; border-radius: 3px; }}
    QProgressBar {{ background: {t["card"]}; border: 1px solid {t["line"]}; border-radius: 4px; text-align: center; min-height: 20px; }}
    QProgressBar::chunk {{ background: {t["slate_pale"]}; border-radius: 3px; }}
    QScrollBar:vertical {{ background: transparent; width: 10px; margin: 0; }}
    QScrollBar:horizontal {{ background: transparent; height: 10px; margin: 0; }}
    QScrollBar::handle {{ background: {t["line"]}; border-radius: 4px; min-height: 24px; min-width: 24px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
    QToolTip {{ background: {t["card"]}; color: {t["ink"]}; border: 1px solid {t["line"]}; padding: 3px; }}
    QMenu {{ background: {t["card"]}; border: 1px solid {t["line"]}; }}
    QMenu::item {{ padding: 5px 18px; }}
    QMenu::item:selected {{ background: {t["select"]}; }}
    QDialog, QMessageBox {{ background: {t["paper"]}; }}
    QListWidget::item {{ padding: 4px 6px; }}
    QListWidget::item:selected {{ background: {t["select"]}; color: {t["ink"]}; }}
    """
