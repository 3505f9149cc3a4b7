"""One upload, two places: the picture whole, and what a page's banner cuts from it again."""

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from aptandum.core.figures import show_aspect, show_share, show_size
from aptandum.core.judge.zones import second_cut
from aptandum.ui import theme
from aptandum.ui.bench.mockups.base import Scene
from aptandum.ui.strings import commas, sentences, t


class BannerScene(Scene):
    """A wide strip across the top of a page."""

    as_ = "banner"
    title = t("Banner, cut from the same upload")
    ground = "#ECECEA"

    def _cut(self) -> tuple[float, float, float, float]:
        assert self.shown is not None
        wide, high = self.shown.size
        return second_cut(self.shown.seen, (0.0, 0.0, float(wide), float(high))) or (
            0,
            0,
            wide,
            high,
        )

    def figures(self) -> list[tuple[str, str]]:
        """How much the place cuts off."""
        assert self.shown is not None
        _x, y, wide, high = self._cut()
        across, up = self.shown.size
        kept = show_share(wide * high / (across * up))
        size = show_size((round(wide), round(high)))
        words = t("The banner keeps {share} of the file: {size}.", share=kept, size=size)
        lost = [
            name
            for name, (_l, top, _w, tall) in self.shown.kept
            if top * up < y - 1e-6 or (top + tall) * up > y + high + 1e-6
        ]
        if lost:
            return [("advises", sentences([words, t("It cuts into {what}.", what=commas(lost))]))]
        return [("", words)]

    def draw(self, painter: QPainter) -> None:
        """Draw the page with its strip."""
        assert self.shown is not None and self.shown.image is not None
        x, y, wide, high = self._cut()
        across, up = self.shown.size
        page = QRectF(self.rect()).adjusted(28, 22, -28, -22)
        painter.setPen(QPen(QColor("#D2D3D2"), 1))
        painter.setBrush(QColor("#FFFFFF"))
        painter.drawRect(page)
        banner = QRectF(page.left(), page.top() + 30, page.width(), page.width() * high / wide)
        limit = page.height() * 0.42
        if banner.height() > limit:
            banner = self.fitted(
                QRectF(page.left(), banner.top(), page.width(), limit), (wide, high)
            )
        scale = banner.width() / wide
        painter.save()
        painter.setClipRect(banner)
        self.picture(
            painter,
            QRectF(banner.left() - x * scale, banner.top() - y * scale, across * scale, up * scale),
        )
        painter.restore()
        self._words(painter, page, banner)
        below = QRectF(
            page.left() + 20,
            banner.bottom() + 62,
            page.width() - 40,
            page.bottom() - banner.bottom() - 80,
        )
        if below.height() < 60:
            return
        box = self.fitted(below, (across, up))
        self.picture(painter, box)
        k = box.width() / across
        cut = QRectF(box.left() + x * k, box.top() + y * k, wide * k, high * k)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(246, 246, 244, 150))
        for part in (
            QRectF(box.left(), box.top(), box.width(), cut.top() - box.top()),
            QRectF(box.left(), cut.bottom(), box.width(), box.bottom() - cut.bottom()),
            QRectF(box.left(), cut.top(), cut.left() - box.left(), cut.height()),
            QRectF(cut.right(), cut.top(), box.right() - cut.right(), cut.height()),
        ):
            if part.width() > 0 and part.height() > 0:
                painter.drawRect(part)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor("#FFFFFF"), 3))
        painter.drawRect(cut)
        painter.setPen(QPen(QColor("#27508C"), 1.4, Qt.PenStyle.DashLine))
        painter.drawRect(cut)

    def _words(self, painter: QPainter, page: QRectF, banner: QRectF) -> None:
        assert self.shown is not None
        painter.setFont(theme.tight(13, bold=True))
        painter.setPen(QColor("#1D2630"))
        painter.drawText(
            QRectF(page.left() + 14, page.top(), page.width() - 28, 30),
            Qt.AlignmentFlag.AlignVCenter,
            self.shown.book.body.name,
        )
        aspect = self.shown.seen.aspect
        shape = show_aspect(aspect) if aspect is not None else ""
        painter.setFont(theme.tight(12))
        painter.setPen(QColor("#5E6872"))
        painter.drawText(
            QRectF(page.left() + 14, banner.bottom() + 8, page.width() - 28, 18),
            Qt.AlignmentFlag.AlignLeft,
            t("Above: the page's banner, {shape}.", shape=shape),
        )
        painter.drawText(
            QRectF(page.left() + 14, banner.bottom() + 28, page.width() - 28, 18),
            Qt.AlignmentFlag.AlignLeft,
            t("Below: the whole upload, with what the banner takes."),
        )
