"""What every place-to-be-seen has: the finished file as it loads it, a scene, and figures."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QImage, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from aptandum.core.brief.model import Brief, Rulebook, Seen
from aptandum.core.judge.findings import Findings
from aptandum.core.mockup.device import Loaded
from aptandum.ui import preferences, theme

MM = 1 / 25.4
"""Inches in a millimetre."""


@dataclass(frozen=True, eq=False)
class Shown:
    """A finished file in a place.

    Attributes:
        image: its pixels, or ``None`` where the place refuses it.
        refusal: why, in a sentence.
        findings: of the file where it is proved, else of the fitting.
        proved: whether the bytes have been read back and judged.
        ppi: pixels per inch that the file states.
        kept: what must stay clear, as shares of the picture (left, top, width, height).
        covered: the names of the zones that lie on such a thing.
    """

    seen: Seen
    book: Rulebook
    brief: Brief
    loaded: Loaded | None
    image: QImage | None
    refusal: str
    findings: Findings
    proved: bool
    ppi: float | None = None
    kept: tuple[tuple[str, tuple[float, float, float, float]], ...] = ()
    covered: tuple[str, ...] = ()

    @property
    def size(self) -> tuple[int, int]:
        return self.loaded.size if self.loaded is not None else (1, 1)


class Scene(QWidget):
    """One place drawn. ``strict`` and ``managed`` say how it loads a file (see
    :func:`aptandum.core.mockup.device.load`). Measures say themselves where they are judged (``Measure.seen``)."""

    as_ = ""
    title = ""
    strict = False
    managed = True
    ground = "#7A7A7A"

    def __init__(self) -> None:
        super().__init__()
        self.shown: Shown | None = None
        self._small: dict[tuple[int, int], QImage] = {}
        self.setMinimumSize(200, 160)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def sizeHint(self) -> QSize:
        return QSize(680, 520)

    def take(self, shown: Shown) -> None:
        """Show another finished file."""
        self.shown = shown
        self._small.clear()
        self.setAccessibleName(self.title)
        self.taken()
        self.update()

    def taken(self) -> None:
        """Something else is shown now."""

    def controls(self) -> list[QWidget]:
        """What can be set about the place, for the row below it."""
        return []

    def figures(self) -> list[tuple[str, str]]:
        """What the place itself measures: verdict (or an empty text) and sentence."""
        return []

    # -- drawing -----------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), QColor(self.ground))
        if self.shown is None:
            return
        if self.shown.image is None:
            self.refuse(painter)
        else:
            self.draw(painter)

    def draw(self, painter: QPainter) -> None:
        """Draw the place with the picture in it."""

    def refuse(self, painter: QPainter) -> None:
        """Draw the place without the picture, and why."""
        assert self.shown is not None
        wide = min(460.0, self.width() - 40.0)
        painter.setFont(theme.text(13))
        wrapped = Qt.AlignmentFlag.AlignTop.value | Qt.TextFlag.TextWordWrap.value
        words = painter.boundingRect(QRectF(0, 0, wide - 40, 900), wrapped, self.shown.refusal)
        box = QRectF(0, 0, wide, words.height() + 66)
        box.moveCenter(QRectF(self.rect()).center())
        painter.setPen(QColor("#101418"))
        painter.setBrush(QColor("#F6F6F4"))
        painter.drawRect(box)
        inner = box.adjusted(20, 16, -20, -16)
        painter.setFont(theme.text(15, bold=True))
        painter.setPen(QColor("#B1341E"))
        painter.drawText(inner, Qt.AlignmentFlag.AlignTop, self.refused())
        painter.setFont(theme.text(13))
        painter.setPen(QColor("#1D2630"))
        painter.drawText(
            inner.adjusted(0, 30, 0, 0),
            Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap,
            self.shown.refusal,
        )

    def refused(self) -> str:
        """Why the place does not load the file, or an empty text."""
        return self.title

    def picture(self, painter: QPainter, box: QRectF) -> None:
        """Draw the picture into a box, reduced as a good screen would."""
        assert self.shown is not None and self.shown.image is not None
        ratio = self.devicePixelRatioF()
        wide, high = max(1, round(box.width() * ratio)), max(1, round(box.height() * ratio))
        if (wide, high) not in self._small:
            if len(self._small) > 24:
                self._small.clear()
            self._small[wide, high] = self.shown.image.scaled(
                wide,
                high,
                Qt.AspectRatioMode.IgnoreAspectRatio,
                Qt.TransformationMode.SmoothTransformation,
            )
        painter.drawImage(box, self._small[wide, high])

    def per_mm(self) -> float:
        """Widget pixels in a millimetre on this screen."""
        known = preferences.screen_ppi()
        screen = self.screen()
        if known is None:
            known = screen.physicalDotsPerInch() if screen is not None else 96.0
            return known * MM
        return known * MM / self.devicePixelRatioF()

    def fitted(self, room: QRectF, size: tuple[float, float], most: float = 1e9) -> QRectF:
        """The largest box of a size's shape in a room, about its middle, enlarged at most so many
        times."""
        scale = min(room.width() / size[0], room.height() / size[1], most)
        box = QRectF(0, 0, size[0] * scale, size[1] * scale)
        box.moveCenter(room.center())
        return box


class Panned(Scene):
    """A scene that may be larger than the view: a drag or the arrow keys move it."""

    def __init__(self) -> None:
        super().__init__()
        self.dx = self.dy = 0.0
        self._from: tuple[float, float, float, float] | None = None

    def taken(self) -> None:
        """Begin in the middle with another picture."""
        self.dx = self.dy = 0.0

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        at = event.position()
        self._from = at.x(), at.y(), self.dx, self.dy

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._from is not None:
            at = event.position()
            x, y, dx, dy = self._from
            self.move_to(dx + at.x() - x, dy + at.y() - y)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._from = None

    def move_to(self, dx: float, dy: float) -> None:
        """Move the scene, in widget pixels from its middle."""
        self.dx, self.dy = dx, dy
        self.update()

    def moved(self, box: QRectF) -> QRectF:
        """A box moved as far as a person has, its own edge at most at the view's."""
        room = QRectF(self.rect()).adjusted(24, 24, -24, -24)
        across = max(0.0, (box.width() - room.width()) / 2)
        up = max(0.0, (box.height() - room.height()) / 2)
        self.dx = min(max(self.dx, -across), across)
        self.dy = min(max(self.dy, -up), up)
        return box.translated(self.dx, self.dy)
