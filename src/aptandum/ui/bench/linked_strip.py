"""The fittings that share a framing, side by side: what each would keep, while one is dragged."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import (
    QAbstractButton,
    QFrame,
    QHBoxLayout,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.figures import show_share, show_size
from aptandum.ui import theme
from aptandum.ui.images import to_image
from aptandum.ui.painting import Painter, upright
from aptandum.ui.session import Session
from aptandum.ui.session.linked import Linked
from aptandum.ui.signs import draw_sign
from aptandum.ui.strings import commas, t
from aptandum.ui.widgets import button, label

_HIGH, _WIDE, _PICTURE = 118, 150, 78.0


class Tile(QAbstractButton):
    """One fitting: the part of the photo that it keeps, and how it would stand."""

    def __init__(self) -> None:
        super().__init__()
        self.one: Linked | None = None
        self.picture: QImage | None = None
        self.setCheckable(True)
        self.setFixedSize(_WIDE, _HIGH)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def sizeHint(self) -> QSize:
        return QSize(_WIDE, _HIGH)

    def take(self, one: Linked, picture: QImage | None, on: bool) -> None:
        """Show a fitting."""
        self.one, self.picture = one, picture
        self.setChecked(on)
        size, kept = show_size(one.line.frame.output), show_share(one.line.frame.kept)
        said = t("{size}, {kept} of the photo kept", size=size, kept=kept)
        summary = one.findings.summary()
        self.setAccessibleName(commas([one.brief.title, said, summary]))
        self.setToolTip(
            t("{brief}: {said}. {summary}", brief=one.brief.title, said=said, summary=summary)
        )
        self.update()

    @property
    def verdict(self) -> str:
        """The worst that is said of it."""
        if self.one is None:
            return "unknown"
        said = {finding.verdict for finding in self.one.findings.findings}
        return next((name for name in ("misses", "advises", "asks") if name in said), "meets")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.one is None:
            return
        painter = Painter(self)
        painter.setRenderHints(
            QPainter.RenderHint.SmoothPixmapTransform | QPainter.RenderHint.Antialiasing
        )
        frame = self.one.line.frame
        wide, high = frame.output
        k = min((_WIDE - 12) / wide, _PICTURE / high)
        box = QRectF((_WIDE - wide * k) / 2, 4 + (_PICTURE - high * k) / 2, wide * k, high * k)
        painter.fillRect(box, theme.colour("rail"))
        if self.picture is not None:
            with upright(painter, box):
                self._draw_kept(painter, box)
        ring = self.isChecked() or self.hasFocus()
        painter.setPen(QPen(theme.colour("blue" if ring else "hairline"), 2 if ring else 1))
        painter.drawRect(box)
        draw_sign(painter, self.verdict, QRectF(4, _PICTURE + 12, 14, 14))
        painter.setFont(theme.tight(12, bold=self.isChecked()))
        painter.setPen(theme.colour("ink"))
        text = QRectF(24, _PICTURE + 8, _WIDE - 28, 20)
        metrics = QFontMetricsF(painter.font())
        title = metrics.elidedText(self.one.brief.title, Qt.TextElideMode.ElideRight, text.width())
        painter.drawText(text, Qt.AlignmentFlag.AlignVCenter, title)

    def _draw_kept(self, painter: QPainter, box: QRectF) -> None:
        """The photo, turned as it is straightened, with all but the frame clipped away."""
        assert self.one is not None and self.picture is not None
        frame, (pw, ph) = self.one.line.frame, self.one.line.source.shown
        k = box.width() / frame.window.width
        painter.save()
        painter.setClipRect(box)
        painter.translate(box.left() - frame.window.left * k, box.top() - frame.window.top * k)
        painter.translate(pw * k / 2, ph * k / 2)
        painter.rotate(frame.angle)
        whole = QRectF(-pw * k / 2, -ph * k / 2, pw * k, ph * k)
        painter.drawImage(whole, self.picture)
        painter.restore()


class LinkedStrip(QFrame):
    """The row of all fittings that share the framing of the one on the bench; hidden where it is
    framed by itself."""

    write_asked = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setObjectName("sheetbar")
        self.tiles: list[Tile] = []
        self._image: QImage | None = None
        self._of: object = None
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 6, 12, 6)
        row.setSpacing(8)
        words = QVBoxLayout()
        words.addWidget(label(t("Framed together")))
        self.write = button(t("Write all…"), "link", self.write_asked.emit)
        self.write.setToolTip(t("Make and write the files of all of them"))
        self.alone = button(t("Frame it by itself"), "link", session.linking.part)
        words.addWidget(self.write)
        words.addWidget(self.alone)
        words.addStretch(1)
        row.addLayout(words)
        inside = QWidget()
        inside.setObjectName("sheetbar")
        self.row = QHBoxLayout(inside)
        self.row.setContentsMargins(0, 0, 0, 0)
        self.row.setSpacing(6)
        self.row.setAlignment(Qt.AlignmentFlag.AlignLeft)
        area = QScrollArea()  # where the window is narrow the row is moved along
        area.setWidget(inside)
        area.setWidgetResizable(True)
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setFixedHeight(_HIGH + 12)
        row.addWidget(area, 1)
        self.hide()

    def refresh(self) -> None:
        """Bring the row in line with the docket."""
        together = self.session.linking.together()
        self.setVisible(bool(together))
        bench = self.session.bench
        if not together or bench is None:
            return
        if self._of is not bench.preview:
            self._of = bench.preview
            self._image = None if bench.preview is None else to_image(bench.preview).scaled(
                QSize(900, 900), Qt.AspectRatioMode.KeepAspectRatio,
                Qt.TransformationMode.SmoothTransformation,
            )  # fmt: skip
        while len(self.tiles) < len(together):
            tile = Tile()
            self.tiles.append(tile)
            self.row.addWidget(tile)
            tile.clicked.connect(partial(self._chosen, tile))
        for tile, one in zip(self.tiles, together, strict=False):
            tile.show()
            tile.take(one, self._image, one.fitting.id == bench.fitting.id)
        for tile in self.tiles[len(together) :]:
            tile.hide()

    def _chosen(self, tile: Tile) -> None:
        if tile.one is not None:
            self.session.model.lay(tile.one.fitting.id)
        self.refresh()
