"""A badge in the corner of films: light, dark and busy, moving or still."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, QTimer
from PyQt6.QtGui import QColor, QImage, QPainter, QPen
from PyQt6.QtWidgets import QCheckBox, QSlider, QWidget

from aptandum.core.figures import show_number
from aptandum.core.later import np
from aptandum.core.mockup.effects import over, reduced, stands_out
from aptandum.core.photo.luminance import FOOTAGE, footage
from aptandum.ui import desktop, theme
from aptandum.ui.bench.mockups import every_size
from aptandum.ui.bench.mockups.base import Scene
from aptandum.ui.images import to_image
from aptandum.ui.strings import commas, t
from aptandum.ui.widgets import label

_FRAME = (320, 180)
_EDGE = 12
_TURN_MS = 80
_LITTLE = 10.0
"""CIEDE2000 below which a badge is hard to make out at a glance."""

_NAMES = {"light": t("Light"), "dark": t("Dark"), "busy": t("Busy")}


class CornerScene(Scene):
    """A page whose corner the picture keeps."""

    as_ = "corner"
    title = t("Corner of a film")
    managed = False
    ground = "#4A4C4E"

    def __init__(self) -> None:
        super().__init__()
        self.opacity = QSlider(Qt.Orientation.Horizontal)
        self.opacity.setRange(5, 100)
        self.opacity.setFixedWidth(110)
        self.opacity.setAccessibleName(t("How opaque the badge is"))
        self.opacity.valueChanged.connect(self._again)
        self.figure = label("", "figure")
        self.moving = QCheckBox(t("Moving"))
        self.moving.setChecked(False)
        self.moving.toggled.connect(self._move)
        self.every = QCheckBox(t("Every size"))
        self.every.setToolTip(
            t("The badge at each size at which the brief shows it, over each film")
        )
        self.every.toggled.connect(self._again)
        self.rows: list[list[every_size.Cell]] = []
        self.moment = 0.0
        self.out: dict[str, float] = {}
        self.frames: dict[str, QImage] = {}
        self._turn = QTimer(self)
        self._turn.setInterval(_TURN_MS)
        self._turn.timeout.connect(self._step)

    def controls(self) -> list[QWidget]:
        """The choices of the corner, for the row below."""
        return [label(t("Opaque"), "second"), self.opacity, self.figure, self.moving, self.every]

    def taken(self) -> None:
        """Measure the corner of the file that is shown now."""
        assert self.shown is not None
        share = self.shown.seen.opacity
        self.opacity.setValue(round((share if share is not None else 1.0) * 100))
        self.moment = 0.0
        self.every.setVisible(len(every_size.sizes_of(self.shown.brief, self.as_)) > 1)
        self._again()

    def hideEvent(self, event: object) -> None:
        self._turn.stop()

    def showEvent(self, event: object) -> None:
        still = desktop.is_still()
        self.moving.setEnabled(not still)
        self.moving.setToolTip(t("Movement is off: see Settings.") if still else "")
        if still:
            self.moving.setChecked(False)
        self._move(self.moving.isChecked())

    def _move(self, on: bool) -> None:
        if on and self.isVisible():
            self._turn.start()
        else:
            self._turn.stop()

    def _step(self) -> None:
        self.moment += _TURN_MS / 1000
        self._mix(measure=False)
        self.update()

    def _again(self) -> None:
        self.figure.setText(f"{self.opacity.value()} %")
        self._mix(measure=True)
        self.update()

    def _badge(self) -> np.ndarray:
        assert self.shown is not None and self.shown.loaded is not None
        n = self.shown.seen.at or 56
        wide, high = self.shown.size
        scale = n / max(wide, high)
        w, h = max(1, round(wide * scale)), max(1, round(high * scale))
        return reduced(self.shown.loaded.pixels, w, h)

    def _mix(self, measure: bool) -> None:
        if self.shown is None or self.shown.loaded is None:
            self.frames = {}
            return
        self.rows = []
        sizes = every_size.sizes_of(self.shown.brief, self.as_)
        if self.every.isChecked() and len(sizes) > 1:
            loaded, findings = self.shown.loaded, self.shown.findings
            share = self.opacity.value() / 100
            self.rows = every_size.table(loaded.pixels, sizes, share, findings, self.moment)
        badge = self._badge()
        high, wide = badge.shape[:2]
        at = max(0, _FRAME[0] - wide - _EDGE), max(0, _FRAME[1] - high - _EDGE)
        for kind in FOOTAGE:
            ground = footage(kind, _FRAME, self.moment)
            laid = over(ground, badge, at, self.opacity.value() / 100)
            self.frames[kind] = to_image(laid)
            if measure:
                self.out[kind] = stands_out(ground, laid, badge, at)

    def figures(self) -> list[tuple[str, str]]:
        """What the place measures in its corner."""
        if not self.out or self.shown is None or self.shown.loaded is None:
            return []
        said = [
            t("{kind} {n}", kind=_NAMES[k].lower(), n=show_number(v, 0))
            for k, v in self.out.items()
        ]
        worst = min(self.out, key=lambda k: self.out[k])
        words = t(
            "Stands out from the film (CIEDE2000): {all}. Least on {worst}.",
            all=commas(said),
            worst=_NAMES[worst].lower(),
        )
        found = [("meets" if self.out[worst] >= _LITTLE else "advises", words)]
        pixels = self.shown.loaded.pixels[..., 3]
        if int(pixels.min()) == 255:
            found.append(
                (
                    "advises",
                    t("No part of the file is transparent: it lies on the film as a whole square."),
                )
            )
        return found

    def draw(self, painter: QPainter) -> None:
        """Draw the page with its corner."""
        assert self.shown is not None
        if self.rows:
            ratio = self.devicePixelRatioF()
            every_size.draw(painter, self.rows, _NAMES, self.width(), ratio)
            return
        if not self.frames:
            return
        gap = 16
        n = len(self.frames)
        wide = min(float(_FRAME[0]), (self.width() - 40 - gap * (n - 1)) / n)
        left = (self.width() - n * wide - (n - 1) * gap) / 2
        badge_n = self.shown.seen.at or 56
        high = self.height() / 2 - 56
        for i, (kind, image) in enumerate(self.frames.items()):
            box = QRectF(left + i * (wide + gap), 44, wide, max(60.0, high))
            corner = image.copy(
                image.width() - round(wide),
                image.height() - round(min(high, image.height())),
                round(wide),
                round(min(high, image.height())),
            )
            box.setHeight(corner.height())
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, False)
            painter.drawImage(box, corner)
            painter.setPen(QColor("#E6E6E4"))
            painter.setFont(theme.tight(12, bold=True))
            painter.drawText(
                QRectF(box.left(), 20, wide, 18), Qt.AlignmentFlag.AlignLeft, _NAMES[kind]
            )
            side = badge_n + 2 * _EDGE
            part = image.copy(image.width() - side, image.height() - side, side, side)
            room = self.height() - box.bottom() - 58
            times = max(1, int(min(wide, room) // side))
            if times == 1:
                continue
            large = QRectF(box.left(), box.bottom() + 34, side * times, side * times)
            painter.drawText(
                QRectF(box.left(), box.bottom() + 12, wide, 18),
                Qt.AlignmentFlag.AlignLeft,
                t("{n} times as large", n=times),
            )
            painter.drawImage(large, part)
            painter.setPen(QPen(QColor("#8A8C8E"), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(large)
            arrow = QPointF(large.left(), large.bottom())
            painter.drawPoint(arrow)
