"""Before and after encoding, side by side, pixel for pixel, at the same place."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from aptandum.core.figures import show_bytes
from aptandum.ui import theme
from aptandum.ui.images import to_image
from aptandum.ui.session import Session
from aptandum.ui.strings import t

_HEAD, _GAP = 38, 3
_TIMES = (1, 2, 4, 8)


class LossView(QWidget):
    """Begins where encoding has changed the picture most. A drag or the arrow keys move both
    halves, ``+`` and ``-`` enlarge them."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # as it is for everyone
        self.session = session
        self.times = 1
        self.at: tuple[float, float] | None = None  # the middle, as shares; None: the worst place
        self.before: QImage | None = None
        self.after: QImage | None = None
        self._of: object = None
        self._from: tuple[QPointF, tuple[float, float]] | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        self.setMinimumSize(240, 200)
        self.setAccessibleName(t("Before and after encoding, pixel for pixel"))
        session.model.pictures.connect(self._pictures)

    def sizeHint(self) -> QSize:
        return QSize(688, 650)

    def refresh(self) -> None:
        """Called only while it is seen."""
        self.session.pixels.look_at_loss()
        self._pictures()

    def start(self) -> None:
        """Go to where it shows most."""
        self.at = None
        self.update()

    def _pictures(self) -> None:
        bench = self.session.bench
        if bench is None or bench.loss is None or not self.isVisible():
            self.update()
            return
        if bench.loss.of is not bench.fitted:
            self.session.pixels.look_at_loss()
        elif bench.loss is not self._of:
            self._of = bench.loss
            self.before, self.after = to_image(bench.loss.before), to_image(bench.loss.of)
        self.update()

    def middle(self) -> tuple[float, float]:
        """The middle of what is shown, in shares of the picture: chosen, or where most is lost."""
        bench = self.session.bench
        if self.at is not None:
            return self.at
        return bench.loss.worst if bench is not None and bench.loss is not None else (0.5, 0.5)

    def panes(self) -> tuple[QRectF, QRectF]:
        """Where both halves lie, in widget pixels."""
        wide = (self.width() - _GAP) // 2
        high = self.height() - _HEAD
        return QRectF(0, _HEAD, wide, high), QRectF(wide + _GAP, _HEAD, wide, high)

    def part(self) -> QRectF:
        """The part of the picture that each half shows, in the picture's pixels."""
        assert self.before is not None
        pane = self.panes()[0]
        k = self.times / self.devicePixelRatioF()
        wide = min(float(self.before.width()), round(pane.width() / k))
        high = min(float(self.before.height()), round(pane.height() / k))
        x, y = self.middle()
        left = round(x * self.before.width() - wide / 2)
        top = round(y * self.before.height() - high / 2)
        left = min(max(left, 0), self.before.width() - round(wide))
        top = min(max(top, 0), self.before.height() - round(high))
        return QRectF(left, top, wide, high)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(theme.SURROUNDS[self.session.requests.surround]))
        bench = self.session.bench
        painter.fillRect(QRectF(0, 0, self.width(), _HEAD), theme.colour("panel"))
        painter.setFont(theme.tight(12, bold=True))
        painter.setPen(theme.colour("ink2"))
        if self.before is None or self.after is None or bench is None:
            painter.drawText(
                QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter, t("The file is being made …")
            )
            return
        part = self.part()
        k = self.times / self.devicePixelRatioF()
        made = bench.draft.says() if bench.draft is not None else ""
        size = show_bytes(len(bench.draft.data)) if bench.draft is not None else ""
        heads = (t("Before encoding"), t("In the file: {how}, {bytes}", how=made, bytes=size))
        images = self.before, self.after
        for pane, image, head in zip(self.panes(), images, heads, strict=True):
            painter.setPen(theme.colour("ink"))
            painter.drawText(
                QRectF(pane.left() + 12, 0, pane.width() - 24, _HEAD),
                int(Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap),
                head,
            )
            box = QRectF(0, 0, part.width() * k, part.height() * k)
            box.moveCenter(pane.center())
            box.moveTo(round(box.left()), round(box.top()))
            painter.save()
            painter.setClipRect(pane)
            painter.drawImage(box, image, part)
            painter.restore()
        painter.fillRect(
            QRectF(self.panes()[0].right(), 0, _GAP, self.height()), theme.colour("ink")
        )
        worst = t("where it shows most") if self.at is None else t("moved by hand; 0 goes back")
        words = t("{n}:1 · {where}", n=self.times, where=worst)
        painter.setFont(theme.figures(11))
        wide = painter.fontMetrics().horizontalAdvance(words) + 18
        tag = QRectF(12, self.height() - 34, wide, 22)
        painter.fillRect(tag, theme.colour("panel", 0.92))
        painter.setPen(theme.colour("ink"))
        painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, words)
        if self.hasFocus():
            painter.setPen(QPen(theme.colour("blue"), 2))
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))

    # -- moving --------------------------------------------------------------------------------

    def _move(self, dx: float, dy: float, origin: tuple[float, float]) -> None:
        """Move the picture by so many widget pixels from where its middle was."""
        if self.before is None:
            return
        k = self.times / self.devicePixelRatioF()
        part = self.part()
        wide, high = self.before.width(), self.before.height()
        x = origin[0] - dx / k / wide
        y = origin[1] - dy / k / high
        half_w, half_h = part.width() / 2 / wide, part.height() / 2 / high
        self.at = min(max(x, half_w), 1 - half_w), min(max(y, half_h), 1 - half_h)
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        self._from = event.position(), self.middle()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._from is not None:
            start, origin = self._from
            off = event.position() - start
            self._move(off.x(), off.y(), origin)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._from = None

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        step = {
            Qt.Key.Key_Left: (40, 0),
            Qt.Key.Key_Right: (-40, 0),
            Qt.Key.Key_Up: (0, 40),
            Qt.Key.Key_Down: (0, -40),
        }.get(Qt.Key(event.key()))
        if step is not None:
            self._move(*step, self.middle())
        elif event.text() in ("+", "=", "-"):
            n = _TIMES.index(self.times) + (-1 if event.text() == "-" else 1)
            self.times = _TIMES[min(max(n, 0), len(_TIMES) - 1)]
            self.update()
        elif event.text() == "0":
            self.start()
        else:
            super().keyPressEvent(event)
