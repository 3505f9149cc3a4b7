"""A panel of dots that are lit or not."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPixmap
from PyQt6.QtWidgets import QCheckBox, QComboBox, QWidget

from aptandum.core.figures import grouped, show_number
from aptandum.core.later import np
from aptandum.ui import theme
from aptandum.ui.bench.mockups.base import Scene
from aptandum.ui.strings import t
from aptandum.ui.widgets import Choice, label

_LIGHTS = ((t("White"), "#EAF2FF"), (t("Amber"), "#FFB347"), (t("Green"), "#7CF29A"))


class PanelScene(Scene):
    """A panel of its own dots."""

    as_ = "panel"
    title = t("Panel of lit dots")
    strict = True
    managed = False
    ground = "#6E6E6C"

    def __init__(self) -> None:
        super().__init__()
        self.light: QComboBox = Choice()
        self.light.setAccessibleName(t("Colour of the light"))
        for name, colour in _LIGHTS:
            self.light.addItem(name, colour)
        self.light.activated.connect(lambda _i: self._redraw())
        self.turned = QCheckBox(t("Lit where black"))
        self.turned.toggled.connect(lambda _on: self._redraw())
        self._drawn: tuple[object, QPixmap] | None = None

    def controls(self) -> list[QWidget]:
        """The choices of the panel, for the row below."""
        return [label(t("Light"), "second"), self.light, self.turned]

    def refused(self) -> str:
        """Why the panel does not load the file, or an empty text."""
        return t("The panel does not take this file")

    def taken(self) -> None:
        """Take the panel's dots from the file that is shown now."""
        self._drawn = None

    def _redraw(self) -> None:
        self._drawn = None
        self.update()

    def lit(self) -> np.ndarray:
        """Which dots are lit, shape (h, w)."""
        assert self.shown is not None and self.shown.loaded is not None
        bright = self.shown.loaded.pixels[..., 0] > 127
        return ~bright if self.turned.isChecked() else bright

    def figures(self) -> list[tuple[str, str]]:
        """How the picture's dots agree with the panel's."""
        if self.shown is None or self.shown.loaded is None:
            return []
        lit = self.lit()
        share = show_number(lit.mean() * 100, 1)
        return [
            (
                "",
                t(
                    "{n} of {all} dots are lit, {share} %.",
                    n=grouped(int(lit.sum())),
                    all=grouped(lit.size),
                    share=share,
                ),
            )
        ]

    def draw(self, painter: QPainter) -> None:
        """Draw the panel, dot for dot."""
        assert self.shown is not None
        wide, high = self.shown.size
        room = QRectF(self.rect()).adjusted(36, 36, -36, -60)
        side = max(1, int(min(room.width() / wide, room.height() / high)))
        box = QRectF(0, 0, wide * side, high * side)
        box.moveCenter(room.center())
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor("#101214"))
        painter.drawRoundedRect(box.adjusted(-14, -14, 14, 14), 8, 8)
        painter.drawPixmap(box.topLeft(), self._dots(side))
        painter.setPen(QColor("#1D2630"))
        painter.setFont(theme.figures(11))
        painter.drawText(
            QRectF(box.left(), box.bottom() + 20, box.width(), 18),
            Qt.AlignmentFlag.AlignCenter,
            t("{w} × {h} dots, each {n} px here", w=wide, h=high, n=side),
        )

    def _dots(self, side: int) -> QPixmap:
        """The whole panel, drawn once."""
        colour = str(self.light.currentData())
        key = (side, colour, self.turned.isChecked())
        if self._drawn is not None and self._drawn[0] == key:
            return self._drawn[1]
        lit = self.lit()
        made = QPixmap(lit.shape[1] * side, lit.shape[0] * side)
        made.fill(QColor("#101214"))
        painter = QPainter(made)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, side > 2)
        painter.setPen(Qt.PenStyle.NoPen)
        gap = 0.0 if side < 3 else 0.14 * side
        for on, tone in ((True, QColor(colour)), (False, QColor("#1C2023"))):
            painter.setBrush(tone)
            for y, x in np.argwhere(lit == on):
                dot = QRectF(x * side + gap, y * side + gap, side - 2 * gap, side - 2 * gap)
                if side < 3:
                    painter.fillRect(dot, tone)
                else:
                    painter.drawEllipse(dot)
        painter.end()
        self._drawn = key, made
        return made
