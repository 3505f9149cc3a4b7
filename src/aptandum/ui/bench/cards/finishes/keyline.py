"""Keyline: width, colour, strength, and how loud it is."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from aptandum.core.figures import show_number
from aptandum.core.fitting.finish.keyline import (
    QUIET,
    Keyline,
    Suggested,
    loudness,
    quieted,
    suggestions,
    surround_of,
)
from aptandum.core.photo.picture import Picture
from aptandum.ui import theme
from aptandum.ui.bench.cards.fields import Chip, ColourRow, NumberRow, ShareRow
from aptandum.ui.bench.cards.finishes.part import Part
from aptandum.ui.session import Bench
from aptandum.ui.strings import t
from aptandum.ui.widgets import button, label

_MOST = 50.0

_Found = tuple[list[Suggested], float | None, Keyline | None]
"""Suggested colours, the loudness of the line, and the line in the quiet band."""


class Loudness(QWidget):
    """A gauge of how far the line stands out, with the quiet band marked on it."""

    def __init__(self) -> None:
        super().__init__()
        self.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # as it is for everyone
        self.value: float | None = None
        self.setFixedHeight(42)

    def sizeHint(self) -> QSize:
        return QSize(240, 42)

    def take(self, value: float | None) -> None:
        """Show a line's width and colour."""
        self.value = value
        said = t("not drawn") if value is None else show_number(value, 1)
        self.setAccessibleName(t("Loudness of the line: {n}", n=said))
        self.update()

    def _x(self, value: float) -> float:
        return 4 + min(value, _MOST) / _MOST * (self.width() - 8)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        rail = QRectF(4, 10, self.width() - 8, 8)
        painter.fillRect(rail, theme.colour("rail"))
        low, high = (self._x(v) for v in QUIET)
        painter.fillRect(QRectF(low, 10, high - low, 8), theme.colour("meets_band"))
        painter.setFont(theme.tight(11))
        painter.setPen(theme.colour("ink2"))
        painter.drawText(
            QRectF(low - 30, 22, high - low + 60, 16), Qt.AlignmentFlag.AlignHCenter, t("quiet")
        )
        painter.drawText(
            QRectF(high + 20, 22, self.width() - high - 24, 16),
            Qt.AlignmentFlag.AlignRight,
            t("loud"),
        )
        if self.value is not None:
            painter.setPen(QPen(theme.colour("ink"), 2))
            x = self._x(self.value)
            painter.drawLine(int(x), 5, int(x), 23)


class KeylinePart(Part):
    """The part of the card for lines inside the edge."""

    name = "keyline"
    alteration = "keyline"

    def build(self) -> None:
        """Lay out the lines with their widths and colours."""
        key = "finish.keyline."
        self.row(NumberRow(self.session, key + "width", t("Width"), t("px"), whole=True))
        self.row(ColourRow(self.session, key + "colour", t("Colour"), t("suggested")))
        self.chips_words = label(t("From the picture, the calmest first"), "second")
        self.column.addWidget(self.chips_words)
        line = QHBoxLayout()
        line.setSpacing(6)
        self.chips = [Chip(wide=34) for _ in range(6)]
        for chip in self.chips:
            chip.clicked.connect(lambda _on, chip=chip: self._chosen(chip))
            line.addWidget(chip)
        line.addStretch(1)
        self.column.addLayout(line)
        self.row(ShareRow(self.session, key + "strength", t("Strength")))
        head = QHBoxLayout()
        self.on = label("", "second")
        head.addWidget(self.on, 1)
        self.figure_label = label("", "figure")
        head.addWidget(self.figure_label)
        self.column.addLayout(head)
        self.loudness = Loudness()
        self.loudness.setToolTip(
            t(
                "Mean CIEDE2000 between the line and what it borders on both sides. In the quiet "
                "band it is seen, and does not compete with the picture."
            )
        )
        self.column.addWidget(self.loudness)
        self.quieten = button(t("Bring it into the quiet band"), "link", self._quieten)
        self.column.addWidget(self.quieten)
        self.row(
            NumberRow(
                self.session, key + "inner_width", t("A second line within"), t("px"), whole=True
            )
        )
        self.inner = self.row(
            ColourRow(self.session, key + "inner_colour", t("Its colour"), t("black or white"))
        )
        self._told: tuple[Any, list[Suggested], float | None] = (None, [], None)
        self._quiet: Keyline | None = None
        self._asked: object = None

    def _chosen(self, chip: Chip) -> None:
        if chip.colour:
            width = 0
            if self.session.bench is not None:
                width = self.session.bench.fitting.settings.finish.keyline.width
            changes: dict[str, object] = {"finish.keyline.colour": chip.colour}
            if not width:
                changes["finish.keyline.width"] = 2
            self.session.model.set(changes, t("Colour of the keyline"))

    def _quieten(self) -> None:
        line = self._quiet
        if line is not None:
            changes: dict[str, object] = {
                "finish.keyline.colour": line.colour,
                "finish.keyline.strength": line.strength,
                "finish.keyline.width": line.width,
            }
            self.session.model.set(changes, t("Quieter keyline"))

    def figure(self, bench: Bench) -> str:
        """The width of the lines."""
        wish = bench.fitting.settings.finish.keyline
        if not wish.width or not wish.strength:
            return ""
        inner = f" + {wish.inner_width}" if wish.inner_width else ""
        return t("{width}{inner} px", width=wish.width, inner=inner)

    def show_bench(self, bench: Bench) -> None:
        """Show the lines as the line of stations has them."""
        super().show_bench(bench)
        wish = bench.fitting.settings.finish.keyline
        self.inner.setVisible(wish.inner_width > 0)
        self._measure(bench)
        self._show_told()

    def _show_told(self) -> None:
        _key, found, loud = self._told
        for i, chip in enumerate(self.chips):
            one = found[i] if i < len(found) else None
            chip.setVisible(one is not None)
            if one is not None:
                chip.show_colour(one.colour)
                words = t(
                    "{colour}, loudness {n}", colour=one.colour, n=show_number(one.loudness, 1)
                )
                chip.setToolTip(words)
                chip.setAccessibleName(words)
        self.loudness.take(loud)
        self.figure_label.setText("–" if loud is None else show_number(loud, 1))
        outside = loud is not None and not QUIET[0] <= loud <= QUIET[1]
        self.quieten.setVisible(outside)
        self.quieten.setEnabled(self._quiet is not None)
        none = t("No strength and no colour of the picture comes into the quiet band.")
        self.quieten.setToolTip("" if self._quiet is not None else none)

    def _measure(self, bench: Bench) -> None:
        """Suggestions and loudness of the last picture that was made, without its line; found
        beside the interface. Within the line the picture is the same, whatever the line's colour
        and strength, so an older picture serves until the new one is there."""
        picture = bench.picture
        wish = bench.fitting.settings.finish.keyline
        own = surround_of(bench.brief)
        ground = own or theme.SURROUNDS[self.session.requests.surround]
        self.on.setText(
            t("Loudness, where it will be seen") if own else t("Loudness, on this surround")
        )
        key = (id(picture), wish, ground)
        if picture is None or key in (self._told[0], self._asked):
            return
        self._asked = key
        told = self._told[0]
        known = self._told[1] if told and (told[0], told[2]) == (key[0], key[2]) else None

        def work(late: Callable[[], bool]) -> _Found:
            plain = without_line(picture)
            found = known if known is not None else suggestions(plain, ground)
            loud = loudness(plain, wish, ground) if wish.width else None
            outside = loud is not None and not QUIET[0] <= loud <= QUIET[1]
            return found, loud, quieted(plain, wish, ground) if outside else None

        def done(found: _Found) -> None:
            if self._asked != key:
                return
            self._told = (key, *found[:2])
            self._quiet = found[2]
            if self.session.bench is not None:
                self._show_told()

        self.session.jobs.latest("keyline", work, done, lambda _why: None)


def without_line(picture: Picture) -> Picture:
    """The picture as it was before its keyline, or as it is where it has none."""
    rim = picture.rim
    if rim is None:
        return picture
    pixels = picture.pixels.copy()
    high, wide = pixels.shape[:2]
    pixels[:, : rim.depth], pixels[:, wide - rim.depth :] = rim.left, rim.right
    pixels[: rim.depth], pixels[high - rim.depth :] = rim.top, rim.bottom
    return replace(picture, pixels=pixels, rim=None)
