"""The plane of the shape chart: limits, photos, and what lies where."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from fractions import Fraction
from functools import partial

from PyQt6.QtCore import QPointF, QRect, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QResizeEvent,
)
from PyQt6.QtWidgets import QWidget

from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Brief, Clause
from aptandum.core.brief.registry import binds_of
from aptandum.core.figures import grouped, show_aspect, show_megapixels, show_size
from aptandum.core.frozen import frozen
from aptandum.core.photo.limits import MOST_SIDE
from aptandum.core.sizes.binds import (
    HEIGHT,
    LONGEST,
    RESOLUTION,
    WIDTH,
    Area,
    Both,
    Printed,
    Proportion,
    Side,
)
from aptandum.core.sizes.conflicts import changes, failing, possible
from aptandum.core.sizes.prints import lengths
from aptandum.core.sizes.region import allowed, largest_cut
from aptandum.core.sizes.said import change_said, clause_said, contradiction_said, way_said
from aptandum.core.sizes.wished import would_be
from aptandum.core.words import listed
from aptandum.ui.spoken_parts import Part, SpokenParts
from aptandum.ui.strings import commas, sentences, t

_LEFT, _BOTTOM, _TOP, _RIGHT = 58, 40, 30, 22


Size = tuple[int, int]


@frozen
class PhotoPoint:
    """A photo of the docket by its size as shown, in pixels."""

    photo_id: str
    name: str
    size: Size


@frozen
class Mark:
    """One limit of a clause as a line: ``w`` and ``h`` upright and level ones at a number of
    pixels, ``shape`` from the corner, ``size`` a point, ``area`` a curve."""

    kind: str
    value: float
    words: str
    clause: Clause
    other: float = 0.0


def marks(brief: Brief) -> Iterator[Mark]:
    """The limits of a brief as lines of the chart."""
    ppi = brief.bound(RESOLUTION, None)
    for clause, limit in brief.limits():
        binds = binds_of(clause.measure)
        if isinstance(binds, Both):
            for face in limit.faces:
                yield from _size_marks(clause, face)
        elif isinstance(binds, Proportion):
            for face in limit.faces:
                for shape in face.bounds:
                    yield Mark("shape", float(shape), show_aspect(shape), clause)
        elif isinstance(binds, Area):
            for words, value in _bounds(limit):
                said = _bound_said(words, show_megapixels(value))
                yield Mark("area", value * binds.unit, said, clause)
        elif isinstance(binds, Printed) and ppi is not None and ppi.one_of:
            yield from _print_marks(binds, clause, limit, ppi.one_of[0])
        elif isinstance(binds, Side):
            yield from _side_marks(binds, clause, limit)


def _size_marks(clause: Clause, limit: Limit) -> Iterator[Mark]:
    """Sizes as points, bounds of both sides as lines."""
    for w, h in limit.one_of:
        yield Mark("size", w, show_size((w, h)), clause, h)
    for words, bound in ((t("at least"), limit.at_least), (t("at most"), limit.at_most)):
        if bound is not None:
            for kind, side in zip("wh", bound, strict=True):
                yield Mark(kind, side, _bound_said(words, grouped(side)), clause)


def _print_marks(bind: Printed, clause: Clause, limit: Limit, ppi: float) -> Iterator[Mark]:
    """Printed lengths as lines, at the one density that is asked."""
    turn = clause.applies[0] if clause.applies else "landscape"
    for sides in lengths(bind, limit, turn):
        for axis, length in sides:
            ends = [(t("at least"), length.low), (t("at most"), length.high)]
            if length.low == length.high:
                ends = [("", length.low)]
            for words, inches in ends:
                if inches is not None:
                    pixels = float(inches) * ppi
                    said = _bound_said(words, grouped(round(pixels)))
                    yield Mark("wh"[axis], pixels, said, clause)


def _side_marks(side: Side, clause: Clause, limit: Limit) -> Iterator[Mark]:
    for words, value in _bounds(limit):
        said = _bound_said(words, grouped(int(value)))
        if side == WIDTH:
            yield Mark("w", value, t("width {limit}", limit=said), clause)
        elif side == HEIGHT:
            yield Mark("h", value, t("height {limit}", limit=said), clause)
        else:  # a line for each way up; the words stand at one of them
            name = t("longest side") if side == LONGEST else t("shortest side")
            lying = set(clause.applies) != {"upright"}
            both = t("{side} {limit}", side=name, limit=said)
            if lying:
                yield Mark("w", value, both, clause)
            if "landscape" not in clause.applies or len(clause.applies) > 1:
                yield Mark("h", value, "" if lying else both, clause)


def _bound_said(words: str, figure: str) -> str:
    return t("{bound} {figure}", bound=words, figure=figure) if words else figure


def _bounds(limit: Limit) -> Iterator[tuple[str, float]]:
    if limit.at_least is not None:
        yield t("at least"), float(limit.at_least)
    if limit.at_most is not None:
        yield t("at most"), float(limit.at_most)
    for value in limit.one_of:
        yield "", float(value)


class ChartPlane(QWidget):
    """Where sizes lie on the chart, and what is said of the one that is looked at."""

    opened = pyqtSignal(str)

    read_out = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # as it is for everyone
        self.brief: Brief | None = None
        self.photos: tuple[PhotoPoint, ...] = ()
        self.at: Size | None = None
        self.photo: PhotoPoint | None = None
        self._origin = QPointF(0, 0)
        self._scale = 0.1
        self._given: dict[Size, tuple[bool, Size | None]] = {}
        self._held: tuple[QPointF, QPointF] | None = None
        self._moved = False
        self._whole = True
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName(t("Chart of allowed sizes"))
        self.setMinimumSize(260, 220)
        self.spoken = SpokenParts(self, self.parts)

    def parts(self) -> Iterator[Part]:
        """The photos on the chart, as screen readers find them: pressing one says how it stands."""
        for photo in self.photos:
            at = self.place(*photo.size).toPoint()
            name = t("{name}: {value}", name=photo.name, value=show_size(photo.size))
            box = QRect(at.x() - 8, at.y() - 8, 16, 16)
            if box.intersects(self.rect()):
                yield Part(name, box, partial(self.look_at, photo.size, photo), photo == self.photo)

    def sizeHint(self) -> QSize:
        return QSize(520, 480)

    def show_brief(self, brief: Brief | None, photos: Sequence[PhotoPoint]) -> None:
        """Draw a brief's sizes and the photos; the view goes back to the whole of both."""
        same = brief is not None and self.brief is not None and brief.id == self.brief.id
        if brief != self.brief:
            self._given = {}
        self.brief, self.photos = brief, tuple(photos)
        if self.photo not in self.photos:
            self.photo = None
        if not same:
            self.at = None
        self._say()
        self.spoken.later()
        if not same or self._whole:
            self.whole()
        self.update()

    def _plot(self) -> QRectF:
        return QRectF(_LEFT, _TOP, self.width() - _LEFT - _RIGHT, self.height() - _TOP - _BOTTOM)

    def _extent(self, with_photos: bool) -> tuple[float, float]:
        across, up = [10.0], [10.0]
        if self.brief is not None:
            for mark in marks(self.brief):
                if mark.kind == "size":
                    across.append(mark.value)
                    up.append(mark.other)
                elif mark.kind == "w":
                    across.append(mark.value)
                elif mark.kind == "h":
                    up.append(mark.value)
                elif mark.kind == "area":
                    across.append(mark.value**0.5 * 1.5)
                    up.append(mark.value**0.5 * 1.1)
            for cell in allowed(self.brief).cells:
                largest = cell.largest()
                if largest and max(largest) < MOST_SIDE * 0.9:
                    across.append(largest[0])
                    up.append(largest[1])
        if with_photos or (max(across) <= 10 and max(up) <= 10):
            across += [photo.size[0] for photo in self.photos]
            up += [photo.size[1] for photo in self.photos]
        if max(across) <= 10 and max(up) <= 10:
            return 4000.0, 3000.0
        # A brief that limits one side only still shows some of the other.
        return max(max(across), max(up) * 0.4), max(max(up), max(across) * 0.3)

    def _fit(self, with_photos: bool) -> None:
        across, up = self._extent(with_photos)
        plot = self._plot()
        self._origin = QPointF(0, 0)
        self._scale = max(1e-4, min(plot.width() / (across * 1.14), plot.height() / (up * 1.18)))
        self.update()

    def whole(self) -> None:
        """Show the allowed sizes and all photos."""
        self._whole = True
        self._fit(True)

    def only_sizes(self) -> None:
        """Show the allowed sizes, whatever photos lie outside."""
        self._whole = False
        self._fit(False)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.spoken.later()
        if self._whole:
            self._fit(True)

    def place(self, width: float, height: float) -> QPointF:
        """Where a size lies in the widget."""
        plot = self._plot()
        return QPointF(
            plot.left() + (width - self._origin.x()) * self._scale,
            plot.bottom() - (height - self._origin.y()) * self._scale,
        )

    def size_at(self, point: QPointF) -> Size:
        """The size in pixels at a point of the widget."""
        plot = self._plot()
        w = self._origin.x() + (point.x() - plot.left()) / self._scale
        h = self._origin.y() + (plot.bottom() - point.y()) / self._scale
        return max(1, min(MOST_SIDE, round(w))), max(1, min(MOST_SIDE, round(h)))

    def zoom(self, factor: float, about: QPointF) -> None:
        """Enlarge the chart about a point of the widget."""
        self._whole = False
        plot = self._plot()
        w = self._origin.x() + (about.x() - plot.left()) / self._scale
        h = self._origin.y() + (plot.bottom() - about.y()) / self._scale
        self._scale = min(40.0, max(1e-3, self._scale * factor))
        x = w - (about.x() - plot.left()) / self._scale
        y = h - (plot.bottom() - about.y()) / self._scale
        self._origin = QPointF(max(0.0, x), max(0.0, y))
        self.spoken.later()
        self.update()

    def _gives(self, size: Size) -> tuple[bool, Size | None]:
        """Whether a photo can meet the brief, and the largest cut for it; kept, as every paint
        asks again."""
        assert self.brief is not None
        if size not in self._given:
            target = would_be(self.brief, size)
            cut = largest_cut(size, target.shape) if target is not None else None
            can = target is not None and possible(self.brief, size)
            self._given[size] = can, cut
        return self._given[size]

    def look_at(self, size: Size | None, photo: PhotoPoint | None = None) -> None:
        """Mark a size, and where a photo stands to it."""
        if (size, photo) == (self.at, self.photo):
            return
        self.at, self.photo = size, photo
        self._say()
        self.update()

    def _say(self) -> None:
        self.spoken.later()
        self.setAccessibleDescription(self.said())
        self.read_out.emit(self.said())

    def said(self) -> str:
        """The read-out in words."""
        if self.brief is None:
            return ""
        if self.photo is not None:
            said = t(
                "{photo}, {size}: {says}",
                photo=self.photo.name,
                size=show_size(self.photo.size),
                says=self._photo_said(),
            )
            way = way_said(self.brief, self.photo.size)
            return sentences([said, way]) if way else said
        if self.at is None:
            return contradiction_said(self.brief)
        shape = show_aspect(Fraction(*self.at))
        where = commas([show_size(self.at), shape])
        wrong = failing(self.brief, self.at)
        if not wrong:
            return t("{where}: allowed.", where=where)
        said = t(
            "{where}: not allowed, by {clauses}.",
            where=where,
            clauses=listed([f"“{clause_said(c)}”" for c in wrong], "and"),
        )
        near = allowed(self.brief).nearest(*self.at)
        if near is not None and max(near) >= 8:
            said = sentences([said, t("Nearest: {size}.", size=show_size(near))])
        return said

    def _photo_said(self) -> str:
        assert self.brief is not None and self.photo is not None
        ways = changes(self.brief, self.photo.size)
        if ways:
            names = listed([change_said(way, self.photo.size) for way in ways])
            return t("cannot meet it; what would: {ways}.", ways=names)
        target = would_be(self.brief, self.photo.size)
        if target is None:
            return t("no size can be cut.")
        cut = largest_cut(self.photo.size, target.shape)
        if target.enlargement > 1 + 1e-9:
            return t(
                "largest cut {cut}, which has to be enlarged to {size}.",
                cut=show_size(cut),
                size=show_size(target.size),
            )
        if cut == target.size:
            return t("gives {size}.", size=show_size(cut))
        return t(
            "largest cut {cut}, written at {size}.", cut=show_size(cut), size=show_size(target.size)
        )

    def _near(self, point: QPointF) -> PhotoPoint | None:
        best = None
        for photo in self.photos:
            off = (self.place(*photo.size) - point).manhattanLength()
            if off <= 12 and (best is None or off < best[0]):
                best = (off, photo)
        return best[1] if best else None
