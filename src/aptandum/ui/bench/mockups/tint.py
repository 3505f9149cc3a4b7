"""A tile under any of several tints, with text over it; the worst of them is named."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPen
from PyQt6.QtWidgets import QComboBox, QWidget

from aptandum.core.figures import show_number
from aptandum.core.later import np
from aptandum.core.mockup.effects import LARGE_TEXT, Tinted, flat, reduced, text_contrast, tinted
from aptandum.ui import theme
from aptandum.ui.bench.mockups.base import Scene, Shown
from aptandum.ui.images import to_image
from aptandum.ui.strings import commas, t
from aptandum.ui.widgets import Choice, label

_INK = "#FFFFFF"
_BAND = (0.05, 0.62, 0.9, 0.3)
"""Where the text stands, as shares of the tile."""

_WIDE = 720


class TintScene(Scene):
    """A mark tinted in one colour on several grounds."""

    as_ = "tint"
    title = t("Tile, under its tints")
    ground = "#D9D9D7"

    def __init__(self) -> None:
        super().__init__()
        self.one: QComboBox = Choice()
        self.one.setAccessibleName(t("Tint shown large"))
        self.one.activated.connect(lambda _i: self.update())
        self.results: list[Tinted] = []
        self.images: list[QImage] = []

    def controls(self) -> list[QWidget]:
        """The choices of the tint, for the row below."""
        return [label(t("Shown large"), "second"), self.one]

    def taken(self) -> None:
        """Measure every tint once, on the tile as wide as a page shows it."""
        self.results, self.images = [], []
        shown = self.shown
        if shown is None or shown.loaded is None:
            return
        wide, high = shown.size
        w = min(_WIDE, wide)
        small = flat(reduced(shown.loaded.pixels, w, max(1, round(w * high / wide))))
        held = self.one.currentText()
        self.one.clear()
        for colour in shown.seen.colours or ("#27508C",):
            made = tinted(small, colour, _opacity(shown))
            self.results.append(Tinted(colour, text_contrast(made, _BAND, _INK)))
            self.images.append(to_image(np.ascontiguousarray(made)))
            self.one.addItem(colour)
        worst = self.results.index(self.worst())
        at = self.one.findText(held)
        self.one.setCurrentIndex(at if at >= 0 else worst)

    def worst(self) -> Tinted:
        """The ground on which the mark stands out least."""
        return min(self.results, key=lambda one: one.ratio)

    def figures(self) -> list[tuple[str, str]]:
        """The contrast on the worst of the grounds."""
        if not self.results:
            return []
        worst = self.worst()
        said = [t("{c} {r}", c=one.colour, r=_ratio(one)) for one in self.results]
        words = t(
            "Contrast of white letters: {all}. Worst on {worst} with {r} : 1; large letters "
            "need {need} : 1.",
            all=commas(said),
            worst=worst.colour,
            r=_ratio(worst),
            need=show_number(LARGE_TEXT, 1),
        )
        return [("meets" if worst.reads else "advises", words)]

    def draw(self, painter: QPainter) -> None:
        """Draw the mark on each ground."""
        assert self.shown is not None
        if not self.images:
            return
        n = len(self.images)
        room = QRectF(self.rect()).adjusted(24, 20, -24, -20)
        shape = self.images[0].width(), self.images[0].height()
        strip = min(room.height() * 0.34, (room.width() - 14 * (n - 1)) / n * shape[1] / shape[0])
        large = self.fitted(
            QRectF(room.left(), room.top(), room.width(), room.height() - strip - 40), shape, 1.6
        )
        self._tile(painter, large, max(0, self.one.currentIndex()), label_=False)
        wide = strip * shape[0] / shape[1]
        left = room.center().x() - (n * wide + (n - 1) * 14) / 2
        for i in range(n):
            tile = QRectF(left + i * (wide + 14), room.bottom() - strip - 18, wide, strip)
            self._tile(painter, tile, i, label_=True)

    def _tile(self, painter: QPainter, box: QRectF, at: int, label_: bool) -> None:
        assert self.shown is not None
        one = self.results[at]
        painter.drawImage(box, self.images[at])
        band = QRectF(
            box.left() + _BAND[0] * box.width(),
            box.top() + _BAND[1] * box.height(),
            _BAND[2] * box.width(),
            _BAND[3] * box.height(),
        )
        size = max(8, min(30, round(box.height() * 0.1)))
        painter.setFont(theme.text(size, bold=True))
        painter.setPen(QColor(_INK))
        text = self.shown.seen.text or self.shown.brief.title
        painter.drawText(
            band,
            Qt.AlignmentFlag.AlignBottom | Qt.AlignmentFlag.AlignLeft | Qt.TextFlag.TextWordWrap,
            text,
        )
        if not label_:
            return
        if one == self.worst():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor("#1D2630"), 2))
            painter.drawRect(box.adjusted(-3, -3, 3, 3))
        painter.setFont(theme.figures(11))
        painter.setPen(QColor("#17745A" if one.reads else "#8A5C00"))
        words = t("{r} : 1", r=_ratio(one))
        if box.width() > 150:
            words = t("{colour}  {words}", colour=one.colour, words=words)
        if one == self.worst():
            words = t("{words}  worst", words=words)
        painter.drawText(
            QRectF(box.left() - 20, box.bottom() + 4, box.width() + 40, 16),
            Qt.AlignmentFlag.AlignCenter,
            words,
        )


def _opacity(shown: Shown) -> float:
    return shown.seen.opacity if shown.seen.opacity is not None else 0.5


def _ratio(one: Any) -> str:
    return show_number(one.ratio, 1)
