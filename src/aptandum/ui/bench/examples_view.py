"""The body's examples beside one's own portrait, all at the same head size and with the eyes on one line."""

from __future__ import annotations

import math
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from aptandum.core.judge import compared
from aptandum.core.judge.compared import EYES, SHAPE, Placed
from aptandum.core.photo.marks import NoMarks
from aptandum.ui import theme
from aptandum.ui.images import to_image
from aptandum.ui.session import Session
from aptandum.ui.signs import draw_sign
from aptandum.ui.strings import semicolons, t

_EDGE, _GAP, _WORDS = 16.0, 12.0, 50.0
Window = tuple[float, float, float, float]

_LEAST = 20
"""The narrowest example that is worth showing."""
_SIGN = 19
_WRAPPED = Qt.AlignmentFlag.AlignLeft.value | Qt.TextFlag.TextWordWrap.value


def _beneath(wide: float) -> float:
    """How much room the words beneath an example have, beside its sign."""
    return wide - _SIGN + _GAP - 2


class ExamplesView(QWidget):
    """One's own picture on the left, the nearest bad example for what is missed beside it, and all others after it.

    Attributes:
        placed: the examples as they are shown, once they are read.
        near: the one that shows what is missed; ``None``: there is none.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.placed: tuple[Placed, ...] = ()
        self.near: Placed | None = None
        self._images: list[QImage] = []
        self._of: object = None
        self._own: tuple[object, QImage] | None = None
        self._words = _WORDS  # how high the words beneath an example are
        self._short = False  # there is no room for all of them
        self.setMinimumSize(240, 200)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(t("The body’s examples beside this picture"))

    def sizeHint(self) -> QSize:
        return QSize(688, 650)

    def refresh(self) -> None:
        """Called only while it is seen: read the brief's examples once, and say which one is near."""
        bench = self.session.bench
        if bench is None:
            return
        brief = bench.brief
        if self._of is not brief.examples:
            self._of, self.placed, self._images = brief.examples, (), []

            def done(found: tuple[Placed, ...]) -> None:
                if self._of is brief.examples:
                    self.placed = found
                    self._images = [to_image(one.pixels) for one in found]
                    self.refresh()

            self.session.jobs.latest("examples", lambda _late: compared.placed(brief), done)
        findings = bench.proof.findings if bench.proof is not None else bench.live
        self.near = compared.nearest(self.placed, findings)
        self.setAccessibleDescription(self.said())
        self.update()

    def said(self) -> str:
        """What is shown, for who cannot see it."""
        return semicolons([self.words_of(one) for one in self.order()])

    def words_of(self, one: Placed) -> str:
        """What an example is, in words."""
        if one.example.good:
            return t("as it should be: {shows}", shows=one.example.shows)
        return t("not so: {shows}", shows=one.example.shows)

    def order(self) -> list[Placed]:
        """The nearest bad example first, then the good ones, then the other bad ones."""
        near = [self.near] if self.near is not None else []
        return near + [one for one in self.placed if one is not self.near]

    # -- drawing -----------------------------------------------------------------------------

    def _own_window(self, image: QImage) -> Window:
        """Where one's own head lies in the fitted picture as every head lies in its window."""
        bench, people = self.session.bench, self.session.model.people()
        whole = 0.0, 0.0, float(image.width()), float(image.height())
        if bench is None or people is None:
            return whole
        frame = bench.line.frame
        try:
            marks = people.marks().swung(frame.angle, bench.line.source.shown)
        except NoMarks:
            return whole
        placed = marks.placed(
            frame.window.left, frame.window.top, image.width() / frame.window.width
        )
        return compared.window_of(placed.crown, placed.chin, placed.eyes)

    def _own_image(self) -> QImage | None:
        bench = self.session.bench
        fitted: Any = bench.fitted if bench is not None else None
        if fitted is None:
            return None
        if self._own is None or self._own[0] is not fitted:
            self._own = fitted, to_image(fitted)
        return self._own[1]

    def cells(self, many: int) -> list[QRectF]:
        """Where one's own picture and so many examples lie: a large one, and rows of smaller ones beside it."""
        best = self._cells(many, whole=True)
        self._short = not best
        return best or self._cells(many, whole=False)

    def _cells(self, many: int, whole: bool) -> list[QRectF]:
        """:meth:`cells` with all words beneath each, or with as many as have room in one line."""
        wide, high = self.width() - 2 * _EDGE, self.height() - 2 * _EDGE
        best: list[QRectF] = []
        for columns in range(1, max(2, many) + 1):
            rows = -(-many // columns) if many else 1
            large = min((high - _WORDS) * SHAPE, wide * 0.42)
            room = wide - large - _GAP * 2
            across = (room - (columns - 1) * _GAP) / columns
            small, words = min(self._fits(high, rows, _WORDS), across), _WORDS
            while whole and small >= _LEAST and (need := self._words_high(small)) > words:
                words = need
                small = min(across, self._fits(high, rows, words))
            if small < _LEAST or (best and small <= best[-1].width()):
                continue
            self._words = words
            best = [QRectF(_EDGE, _EDGE, large, large / SHAPE)]
            for n in range(many):
                x = _EDGE + large + 2 * _GAP + (n % columns) * (small + _GAP)
                y = _EDGE + (n // columns) * (small / SHAPE + words + _GAP)
                best.append(QRectF(x, y, small, small / SHAPE))
        return best

    @staticmethod
    def _fits(high: float, rows: int, words: float) -> float:
        """How wide examples are of which so many rows have room with their words beneath."""
        return float(((high - (rows - 1) * _GAP) / rows - words) * SHAPE)

    def _words_high(self, small: float) -> float:
        """How high the words beneath examples of a width become."""
        metrics, room = QFontMetricsF(theme.tight(12)), QRectF(0, 0, _beneath(small), 1e4)
        need = [metrics.boundingRect(room, _WRAPPED, one.example.shows) for one in self.placed]
        if any(box.width() > room.width() for box in need):
            return math.inf  # a single word is longer than that
        return max([float(_WORDS), *(box.height() + 6 for box in need)])

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ground = QColor(theme.SURROUNDS[self.session.requests.surround])
        painter.fillRect(self.rect(), ground)
        ink = QColor("#EDEDEB" if ground.lightness() < 110 else "#1D2630")
        own, order = self._own_image(), self.order()
        cells = self.cells(len(order))
        if own is None or not cells:
            return
        self._cell(painter, cells[0], own, self._own_window(own), ink)
        self._caption(painter, cells[0], "", t("Your picture"), ink)
        for box, one in zip(cells[1:], order, strict=True):
            image = self._images[next(i for i, p in enumerate(self.placed) if p is one)]
            self._cell(painter, box, image, one.window, ink)
            if one is self.near:
                painter.setPen(QPen(theme.colour("misses"), 2))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(box)
            sign = "meets" if one.example.good else "misses"
            self._caption(painter, box, sign, one.example.shows, ink)

    def _cell(
        self, painter: QPainter, box: QRectF, image: QImage, window: Window, ink: QColor
    ) -> None:
        """A picture's window in a box; the line of the eyes is the same in all."""
        k = box.width() / window[2]
        painter.save()
        painter.setClipRect(box)
        painter.fillRect(box, QColor(127, 127, 127, 60))
        size = QSize(max(1, round(image.width() * k)), max(1, round(image.height() * k)))
        small = image.scaled(
            size, Qt.AspectRatioMode.IgnoreAspectRatio, Qt.TransformationMode.SmoothTransformation
        )
        painter.drawImage(QPointF(box.left() - window[0] * k, box.top() - window[1] * k), small)
        painter.restore()
        y = box.top() + EYES * box.height()
        pen = QPen(theme.colour("blue"), 1, Qt.PenStyle.DashLine)
        painter.setPen(pen)
        painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))

    def _caption(self, painter: QPainter, box: QRectF, sign: str, words: str, ink: QColor) -> None:
        left = box.left()
        if sign:
            draw_sign(painter, sign, QRectF(left, box.bottom() + 6, 14, 14))
            left += _SIGN
        painter.setPen(ink)
        painter.setFont(theme.tight(12, bold=not sign))
        wide = _beneath(box.width()) if sign else box.width() + _GAP - 2
        if self._short:
            words = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, int(wide))
        painter.drawText(QRectF(left, box.bottom() + 4, wide, self._words - 4), _WRAPPED, words)
