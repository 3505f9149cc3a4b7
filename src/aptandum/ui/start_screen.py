"""The first screen: which brief, which photo."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QResizeEvent, QShowEvent
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.brief.binding import BYTES
from aptandum.core.brief.model import Brief
from aptandum.core.docket.recovery import recent
from aptandum.core.errors import AptandumError
from aptandum.core.photo.facts import shown_name
from aptandum.core.rulebook.shelf import BriefNotFound
from aptandum.core.sizes.said import in_short
from aptandum.ui import preferences, theme
from aptandum.ui.fields import TextField
from aptandum.ui.guided_look import Offer
from aptandum.ui.painting import Painter
from aptandum.ui.rulebooks.chart_plane import PhotoPoint
from aptandum.ui.session import Session
from aptandum.ui.start_sizes import StartSizes
from aptandum.ui.start_words import WordsDoor
from aptandum.ui.strings import joined, t
from aptandum.ui.widgets import button, clear, label, scrolled

_NAME = Qt.ItemDataRole.UserRole
_ROOM_FOR_CHART = 640
"""So high is the screen, in pixels, where a chart has room beside everything else."""

_HIGH, _LOW = 150, 116
"""The least height of the field for a photo, in pixels: else, and in a low window."""


def in_room(column: QVBoxLayout) -> QScrollArea:
    """A column that can be scrolled where a window is too low for it."""
    held = QWidget()
    held.setLayout(column)
    held.setProperty("role", "plain")
    column.setContentsMargins(0, 0, 0, 0)
    area = scrolled(held)
    area.setMinimumWidth(held.minimumSizeHint().width())
    return area


def brief_line(brief: Brief) -> str:
    """A brief in one line: its sizes and its byte limit."""
    parts = [in_short(brief)]
    limit = brief.bound(BYTES)
    if limit is not None:
        from aptandum.core.quantity import BYTES as COUNTED

        parts.append(limit.says(COUNTED))
    return joined(parts)


class DropField(QFrame):
    """Where a photo is dropped, or asked for with a press."""

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumHeight(_HIGH)
        self.over = False

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = Painter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(theme.colour("blue_soft" if self.over else "panel"))
        pen = QPen(theme.colour("blue" if self.over else "ink2"), 1.2)
        pen.setDashPattern([8, 3, 2, 3])
        painter.setPen(pen)
        painter.drawRoundedRect(self.rect().adjusted(1, 1, -2, -2), 4, 4)


class StartScreen(QWidget):
    """Asks two things and offers the demo docket."""

    photo_asked = pyqtSignal()
    blank_asked = pyqtSignal()
    docket_asked = pyqtSignal()
    demo_asked = pyqtSignal()
    guide_asked = pyqtSignal()
    source_asked = pyqtSignal()
    rulebook_asked = pyqtSignal()
    recent_asked = pyqtSignal(str)
    chosen = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.brief = ""
        self.briefs = QListWidget()
        self.briefs.setAccessibleName(t("Which brief"))
        self.briefs.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.briefs.setMinimumHeight(60)
        self.briefs.itemSelectionChanged.connect(self._picked)
        self.briefs.itemActivated.connect(self._activated)
        inner = self._photo_field()
        self.photo_name = label("", "title", wrap=True)
        self.photo_name.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.photo_facts = label("", "second", wrap=True)
        self.photo_facts.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.open_button = button(t("Open a photo…"), "line", self.photo_asked.emit)
        inner.addWidget(self.photo_name)
        inner.addWidget(self.photo_facts)
        inner.addSpacing(8)
        inner.addWidget(self.open_button, 0, Qt.AlignmentFlag.AlignCenter)
        inner.addStretch(1)
        left = QVBoxLayout()
        left.setSpacing(8)
        left.addWidget(label(t("1   Which brief"), "title"))
        left.addWidget(label(t("The body whose rules the photo is to meet."), "second"))
        self.search = TextField(t("Search the shelf"), t("search the shelf"))
        self.search.textChanged.connect(self._searched)
        left.addWidget(self.search)
        left.addWidget(self.briefs, 1)
        left.addSpacing(6)
        left.addWidget(
            label(t("Not on the shelf? Type, paste or drop its rules in words"), "second")
        )
        self.words = WordsDoor(session)
        self.words.used.connect(self.worded)
        session.worded.changed.connect(self._show_sizes)
        left.addWidget(self.words, 1)
        row = QHBoxLayout()
        row.addWidget(button(t("Read a page or a leaflet…"), "link", self.source_asked.emit))
        row.addWidget(button(t("Open a rulebook…"), "link", self.rulebook_asked.emit))
        row.addStretch(1)
        left.addLayout(row)
        right = in_room(self._right())
        two = QHBoxLayout()
        two.setSpacing(48)
        two.addLayout(left, 5)
        two.addWidget(right, 4)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(64, 28, 64, 24)
        layout.setSpacing(4)
        layout.addWidget(label(t("Make a photo fit the rules"), "big"))
        layout.addWidget(
            label(
                t("Every rule is measured, and the finished file is read back to prove it."),
                "second",
            )
        )
        layout.addSpacing(16)
        layout.addLayout(two, 1)
        self.fill()

    def _photo_field(self) -> QVBoxLayout:
        """Where a photo is dropped."""
        self.field = DropField()
        inner = QVBoxLayout(self.field)
        inner.addStretch(1)
        return inner

    def _right(self) -> QVBoxLayout:
        """Which photo, and what to go on with."""
        right = QVBoxLayout()
        right.setSpacing(8)
        right.addWidget(label(t("2   Which photo"), "title"))
        right.addWidget(label(t("It is only read, and never written to."), "second"))
        right.addWidget(self.field)
        below = QHBoxLayout()
        self.hint = label("", "second", wrap=True)
        below.addWidget(self.hint, 1)
        self.blank = button(t("Start with a blank sheet…"), "link", self.blank_asked.emit)
        self.blank.setToolTip(
            t("No photo: a sheet in the brief’s size, to put words and pictures on (Ctrl+L)")
        )
        below.addWidget(self.blank, 0, Qt.AlignmentFlag.AlignTop)
        right.addLayout(below)
        self.sizes = StartSizes()
        right.addWidget(self.sizes, 1)
        right.addStretch(0)  # what room is left is the chart's, where there is one
        self.recent_head = label(t("Go on with"), "second")
        right.addWidget(self.recent_head)
        self.recent = QVBoxLayout()
        self.recent.setSpacing(2)
        right.addLayout(self.recent)
        right.addSpacing(10)
        self.offer = Offer()
        right.addWidget(self.offer)
        right.addWidget(label(t("Or look around first"), "second"))
        row = QHBoxLayout()
        row.addWidget(button(t("Open the demo docket"), "", self.demo_asked.emit))
        row.addWidget(button(t("Open a docket…"), "", self.docket_asked.emit))
        row.addWidget(button(t("Guide"), "link", self.guide_asked.emit))
        row.addStretch(1)
        right.addLayout(row)
        return right

    def fill(self) -> None:
        """List the shelf's briefs by body, those used last first."""
        self.briefs.clear()
        self._list_recent()
        lately = preferences.recent_bodies()
        books = list(self.session.library.shelf.rulebooks)
        books.sort(key=lambda b: lately.index(b.body.id) if b.body.id in lately else len(lately))
        for book in books:
            head = QListWidgetItem(book.body.name)
            head.setFlags(Qt.ItemFlag.NoItemFlags)
            head.setFont(theme.text(12, bold=True))
            self.briefs.addItem(head)
            for brief in book.briefs:
                title = (
                    t("{brief} (optional)", brief=brief.title) if brief.optional else brief.title
                )
                item = QListWidgetItem(f"   {title}\n   {brief_line(brief)}")
                item.setData(_NAME, f"{book.body.id}/{brief.id}")
                self.briefs.addItem(item)

    def _list_recent(self) -> None:
        """The dockets opened last, each with its folder."""
        clear(self.recent)
        paths = recent()[:4]
        self.recent_head.setVisible(bool(paths))
        for path in paths:
            made = button(path.stem, "link", partial(self.recent_asked.emit, str(path)))
            made.setToolTip(str(path))
            made.setAccessibleName(t("Open the docket {name}", name=path.stem))
            self.recent.addWidget(made, 0, Qt.AlignmentFlag.AlignLeft)

    def _searched(self, text: str) -> None:
        """Show the briefs whose body or title has every word that is typed."""
        words = text.lower().split()
        body, shown = "", False
        head: QListWidgetItem | None = None
        for i in range(self.briefs.count()):
            item = self.briefs.item(i)
            assert item is not None
            if item.data(_NAME) is None:
                if head is not None:
                    head.setHidden(not shown)
                head, shown, body = item, False, item.text().lower()
                continue
            fits = all(word in f"{body} {item.text().lower()}" for word in words)
            item.setHidden(not fits)
            shown = shown or fits
        if head is not None:
            head.setHidden(not shown)

    def worded(self, name: str) -> None:
        """Rules in words are the brief now, by its name."""
        self.briefs.clearSelection()
        self.brief = name
        self.show_state()
        self.chosen.emit(name)

    def choose(self, name: str) -> None:
        """Choose a brief by ``BOOK/BRIEF``."""
        for i in range(self.briefs.count()):
            item = self.briefs.item(i)
            if item is not None and item.data(_NAME) == name:
                self.briefs.setCurrentItem(item)

    def _activated(self, item: QListWidgetItem) -> None:
        """Take what Return is pressed on: where Tab led to it, nothing has chosen it yet."""
        item.setSelected(True)
        self._picked()

    def _picked(self) -> None:
        item = self.briefs.currentItem()
        name = item.data(_NAME) if item is not None and item.isSelected() else None
        self.brief = name or ""
        self.show_state()
        if self.brief:
            self.chosen.emit(self.brief)

    def _brief_shown(self) -> Brief | None:
        """The brief that is chosen, else the first that the words are so far."""
        if self.brief:
            try:
                return self.session.library.find(self.brief)[1]
            except BriefNotFound:
                return None
        worded = self.session.worded.briefs()
        return worded[0] if worded else None

    def _show_sizes(self) -> None:
        """The sizes of the brief, and the photo among them."""
        points = []
        for entry in self.session.docket.photos[-1:]:
            size = self._size_of(entry.id)
            points += [PhotoPoint(entry.id, shown_name(entry.path), size)] if size else []
        self.sizes.show_brief(self._brief_shown(), points)

    def _size_of(self, photo_id: str) -> tuple[int, int] | None:
        try:
            return self.session.photos.photo_of(photo_id).facts.size
        except AptandumError:
            return None

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """In a low window the sizes stand in words alone."""
        super().resizeEvent(event)
        low = self.height() < theme.px(_ROOM_FOR_CHART)
        self.sizes.chart.setVisible(not low)
        self.field.setMinimumHeight(_LOW if low else _HIGH)

    def showEvent(self, event: QShowEvent | None) -> None:
        """Say how things stand, of which nothing was said while something else was shown."""
        super().showEvent(event)
        self.show_state()
        if self.offer.isVisible():
            self.offer.seen()

    def show_state(self) -> None:
        """Say what is there and what is missing."""
        self._show_sizes()
        photos = self.session.docket.photos
        if photos:
            try:
                photo = self.session.photos.photo_of(photos[-1].id)
            except Exception:
                photo = None
            if photo is not None:
                w, h = photo.facts.size
                self.photo_name.setText(photo.name)
                self.photo_facts.setText(t("{w} × {h} px", w=w, h=h))
            self.hint.setText("" if self.brief else t("Now choose the brief on the left."))
        else:
            self.photo_name.setText(t("Drop a photo here"))
            self.photo_facts.setText(t("JPEG, HEIC, JPEG XL, PNG, TIFF, WebP, AVIF, GIF or BMP"))
            self.hint.setText(t("The brief is chosen; now the photo.") if self.brief else "")
