"""Help: every key, and every measure explained, with a drawing of what it measures."""

from __future__ import annotations

from html import escape
from importlib import resources

from PyQt6.QtCore import QByteArray, QRectF, QSizeF, Qt, QUrl
from PyQt6.QtGui import QAction, QImage, QPainter, QTextDocument
from PyQt6.QtSvg import QSvgRenderer
from PyQt6.QtWidgets import QDialog, QTextBrowser, QVBoxLayout, QWidget

from aptandum.core.judge.measure import GROUPS, Measure
from aptandum.core.judge.measures import REGISTRY
from aptandum.ui import theme
from aptandum.ui.menus import plain
from aptandum.ui.strings import t

SHEET_KEYS = (
    (t("Arrow keys"), t("Move the frame by one output pixel; with Shift by ten")),
    (t("+ and -"), t("Resize the frame about its middle")),
    (t("Space, held"), t("See the photo as supplied")),
    (t("Wheel"), t("Zoom about the pointer")),
    (t("Drag outside the frame"), t("Move the sheet")),
    (t("Up and Down in the list of rules"), t("Go from clause to clause")),
)


def _titled(measure: Measure) -> str:
    return t("{title}: {name}", title=measure.title, name=measure.name)


DRAWN = QSizeF(120, 80)
"""The size of a measure's drawing, in pixels of a text of usual size."""
_INKS = {"#3A414B": "ink", "#27508C": "blue", "#D5DCE4": "rail", "#FFFFFF": "field"}
"""What the drawings are drawn in, and what stands for it in a palette."""


def drawn(name: str, sharp: float) -> QImage:
    """What a measure measures, in the colours of the palette in use.

    Args:
        sharp: pixels of the screen for one of the text's.
    """
    path = resources.files("aptandum.data").joinpath(f"drawings/{name}.svg")
    svg = path.read_text("utf-8")
    for ink, token in _INKS.items():
        svg = svg.replace(ink, getattr(theme.palette(), token))
    made = QImage((DRAWN * sharp).toSize(), QImage.Format.Format_ARGB32_Premultiplied)
    made.fill(0)
    painter = QPainter(made)
    QSvgRenderer(QByteArray(svg.encode())).render(painter, QRectF(made.rect()))
    painter.end()
    made.setDevicePixelRatio(sharp)
    return made


class _Page(QTextBrowser):
    """A page that draws what it names as ``measure:NAME`` when it comes to it."""

    def loadResource(self, kind: int, url: QUrl) -> object:  # Qt's name
        """A drawing; anything else as ever."""
        if url.scheme() == "measure" and kind == QTextDocument.ResourceType.ImageResource.value:
            return drawn(url.path(), 2 * self.devicePixelRatioF())
        return super().loadResource(kind, url)


def _cells(first: str, second: str, mirrored: bool) -> str:
    """A row of a table: its first cell stands where reading begins, which a text's own tables do not know of."""
    both = (second, first) if mirrored else (first, second)
    return (
        "<tr>" + "".join(f"<td style='vertical-align: middle'>{one}</td>" for one in both) + "</tr>"
    )


def _row(measure: Measure, mirrored: bool) -> str:
    wide, high = DRAWN.toSize().width(), DRAWN.toSize().height()
    image = f"<img src='measure:{measure.name}' width='{wide}' height='{high}'>"
    words = f"<b>{escape(_titled(measure))}</b><br>{escape(measure.help)}"
    return _cells(image, words, mirrored)


class HelpDialog(QDialog):
    """Keys and measures on one page."""

    def __init__(self, actions: list[QAction], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(t("Keys and measures"))
        self.resize(620, 600)
        page = _Page()
        page.setHtml(self._page(actions))
        layout = QVBoxLayout(self)
        layout.addWidget(page)

    def _page(self, actions: list[QAction]) -> str:
        keys = [
            (a.shortcut().toString(), plain(a.text()))
            for a in actions
            if not a.shortcut().isEmpty()
        ]
        keys += list(SHEET_KEYS)
        mirrored = self.layoutDirection() == Qt.LayoutDirection.RightToLeft
        rows = "".join(
            _cells(f"<b>{escape(key)}</b>&nbsp;&nbsp;", escape(what), mirrored)
            for key, what in keys
        )
        parts = [f"<h2>{t('Keys')}</h2><table>{rows}</table>\n<h2>{t('Measures')}</h2>"]
        for group, heading in GROUPS.items():
            measures = [m for m in REGISTRY.values() if m.group == group]
            if measures:
                parts.append(f"<h3>{escape(heading)}</h3>")
            rows = "".join(_row(measure, mirrored) for measure in measures)
            parts.append(f"<table cellpadding='6'>{rows}</table>")
        return "".join(parts)
