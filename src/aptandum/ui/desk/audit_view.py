"""What is there already, against a brief: which pictures are in danger, and why. Nothing is changed."""

from __future__ import annotations

import os
import time
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from importlib import resources
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QModelIndex, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QPainter, QPixmap
from PyQt6.QtWidgets import (
    QCheckBox,
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QLabel,
    QListView,
    QListWidget,
    QListWidgetItem,
    QScrollArea,
    QStackedWidget,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.docket import audit
from aptandum.core.docket.audit import Checked, Item
from aptandum.core.docket.batch import run
from aptandum.core.docket.model import Audited, Instead
from aptandum.core.docket.thumbs import Thumbs
from aptandum.core.file.write import unwritten
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.facts import shown_name
from aptandum.core.quantity import grouped
from aptandum.core.rulebook.shelf import BriefNotFound
from aptandum.ui import theme
from aptandum.ui.asking import where_to_save
from aptandum.ui.bench.sheet import to_image
from aptandum.ui.desk.rows import ROW, THING, Things, dress, ground, write
from aptandum.ui.desk.slip import NARROW, WIDTH
from aptandum.ui.session import Session
from aptandum.ui.signs import Sign, draw_sign, word
from aptandum.ui.strings import t
from aptandum.ui.widgets import Choice, button, clear, empty_state, label

_SHOW_EVERY = 0.25
"""Seconds between two looks of the list at what has been checked meanwhile."""

_WATCH_MS, _STATED = 4000, 400
"""How often, and for how many files at a time, it is seen whether a picture has been replaced."""

DANGER, EVERY = "\0danger", "\0every"


def _verdict(one: Checked) -> str:
    return "misses" if one.in_danger else one.standing


def _words(one: Checked) -> str:
    return f"{one.item.name}: {word(_verdict(one))}. {first_words(one)}"


def first_words(one: Checked) -> str:
    """The worst that can be said of an item, and how much more there is."""
    if one.trouble:
        return one.trouble
    missed = [m.says for m in one.misses if m.verdict == "misses"]
    said = missed or [m.says for m in one.misses]
    if not said:
        return t("Every rule that can be measured is met.")
    more = len(said) - 1
    return said[0] if not more else t("{first} And {n} more.", first=said[0], n=more)


class _Look(QStyledItemDelegate):
    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(200, ROW)

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex
    ) -> None:
        assert painter is not None
        one: Checked = index.data(THING)
        box = QRectF(option.rect)
        painter.save()
        ground(painter, option, box)
        draw_sign(painter, _verdict(one), QRectF(16, box.top() + 9, 14, 14))
        right = 150.0 if box.width() > 520 else 20.0
        write(painter, theme.medium(), "ink", QRectF(40, box.top() + 5, box.width() - 60 - right, 22),
              one.item.name)  # fmt: skip
        write(painter, theme.tight(12), "ink2", QRectF(40, box.top() + 27, box.width() - 56, 18),
              first_words(one))  # fmt: skip
        if right > 100:
            said = shown_name(one.item.file) if one.item.file else ""
            if one.item.in_stock is False:
                said = t("out of stock")
            write(painter, theme.tight(12), "ink2",
                  QRectF(box.right() - right - 14, box.top() + 5, right, 22), said,
                  Qt.TextElideMode.ElideMiddle, right=True)  # fmt: skip
        painter.restore()


class _Reasons(QStyledItemDelegate):
    """A reason on the left, how many on the right."""

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(100, 30)

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex
    ) -> None:
        assert painter is not None
        inner, text, n = index.data(THING + 1)
        box = QRectF(option.rect)
        painter.save()
        ground(painter, option, box, line=False)
        write(painter, theme.text(13, bold=not inner), "ink",
              box.adjusted(28 if inner else 16, 0, -50, 0), text)  # fmt: skip
        write(painter, theme.figures(12), "ink", box.adjusted(0, 0, -14, 0), n, right=True)
        painter.restore()


class AuditView(QWidget):
    """See the module."""

    bench_asked = pyqtSignal(str)
    _some = pyqtSignal(object, object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.source = ""
        self.items: list[Item] = []
        self._listed: list[Item] = []  # the same before any was replaced
        self.checked: dict[int, Checked] = {}
        self.reason = DANGER
        self._laying = False  # the list is being filled: what is chosen then nobody has chosen
        self._by_hand = False
        self._run: object = None
        self._turn = 0
        self._thumbs = Thumbs()
        self._watch = QTimer(self)
        self._watch.setInterval(_WATCH_MS)
        self._watch.timeout.connect(self.look_at_files)
        self._lay_out()
        self._some.connect(self._came)
        self._held: Audited | None = None  # the docket's own, as far as it is shown here
        session.shelved.connect(self._fill_briefs)
        session.changed.connect(self._follow)
        self._fill_briefs()
        self.show_all()

    # -- laying out --------------------------------------------------------------------------

    def _lay_out(self) -> None:
        bar = QHBoxLayout()
        bar.setContentsMargins(0, 4, 0, 4)
        bar.setSpacing(8)
        self.folder = button(t("Folder…"), "", self.ask_folder)
        self.folder.setToolTip(t("Audit the pictures of a folder (Ctrl+Alt+O)"))
        self.listing = button(t("Listing…"), "", self.ask_listing)
        self.listing.setToolTip(t("Audit the pictures that a table (CSV) lists (Ctrl+Alt+I)"))
        self.briefs = Choice()
        self.briefs.setAccessibleName(t("Brief that is audited against"))
        self.briefs.setMinimumWidth(260)
        self.briefs.activated.connect(lambda _i: self._other_brief())
        self.again = button(t("Check again"), "", self.start)
        self.export = button(t("Export the list…"), "", self.ask_export)
        against = label(t("against"), "second")
        for part in (self.folder, self.listing, against, self.briefs):
            bar.addWidget(part)
        bar.addStretch(1)
        bar.addWidget(self.again)
        bar.addWidget(self.export)

        side = self.side = QFrame()
        side.setProperty("role", "panel")
        side.setFixedWidth(228)
        left = QVBoxLayout(side)
        left.setContentsMargins(0, 10, 0, 10)
        left.setSpacing(6)
        self.name = label("", "", wrap=True)
        self.name.setStyleSheet("font-weight: 600")
        self.name.setContentsMargins(16, 0, 12, 0)
        self.count = label("", "second", wrap=True)
        self.count.setContentsMargins(16, 0, 12, 0)
        self.reasons = QListWidget()
        self.reasons.setAccessibleName(t("In danger, by reason"))
        self.reasons.setStyleSheet("QListWidget { border: none; background: transparent; }"
                                   "QListWidget::item { padding: 6px 8px 6px 16px; }")  # fmt: skip
        self.reasons.setItemDelegate(_Reasons(self.reasons))
        self.reasons.currentItemChanged.connect(self._reason_picked)
        self.aside = QCheckBox(t("Set aside: out of stock"))
        self.aside.setChecked(True)
        self.aside.toggled.connect(self.show_all)
        aside = QHBoxLayout()
        aside.setContentsMargins(14, 0, 8, 0)
        aside.addWidget(self.aside)
        left.addWidget(self.name)
        left.addWidget(self.count)
        left.addWidget(self.reasons, 1)
        left.addLayout(aside)

        self.list = QListView()
        dress(self.list, t("Pictures, the worst first"))
        self.rows: Things[Checked] = Things(_words)
        self.list.setModel(self.rows)
        self.list.setItemDelegate(_Look(self.list))
        selection = self.list.selectionModel()
        assert selection is not None
        selection.currentChanged.connect(self._moved)
        middle = QFrame()
        middle.setProperty("role", "panel")
        inner = QVBoxLayout(middle)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.addWidget(self.list)

        self.detail = QFrame()
        self.detail.setProperty("role", "panel")
        self.detail.setFixedWidth(WIDTH)
        column = QVBoxLayout(self.detail)
        column.setContentsMargins(16, 14, 16, 12)
        column.setSpacing(8)
        self.title = label("", "title", wrap=True)
        self.picture = QLabel()
        self.picture.setFixedHeight(200)
        self.picture.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.where = label("", "second", wrap=True)
        self.where.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.misses = QVBoxLayout()
        self.misses.setSpacing(6)
        self.misses.setContentsMargins(0, 4, 0, 0)
        self.bench = button(t("Make one that meets, on the bench"), "line", self.to_bench)
        self.replace = button(t("Replace the picture…"), "line", self.ask_replace)
        self.replace.setToolTip(t("Look at another file in its place; the old one stays as it is"))
        for one in (self.title, self.picture, self.where):
            column.addWidget(one)
        holder = QWidget()
        holder.setProperty("role", "panel")
        holder.setLayout(self.misses)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(holder)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        column.addWidget(scroll, 1)
        column.addWidget(self.bench)
        column.addWidget(self.replace)

        self.empty = empty_state(
            t("What is in danger already?"),
            t("Point at a folder, or at a table of what is listed (CSV with a column for the item, "
              "one for the picture’s file, and one for what is in stock). Every picture is held "
              "against a brief; nothing is changed."),
            button(t("Choose a listing…"), "line", self.ask_listing),
            button(t("Choose a folder…"), "line", self.ask_folder),
            button(t("The demo’s listing"), "", self.open_demo),
        )  # fmt: skip

        work = QWidget()
        three = QHBoxLayout(work)
        three.setContentsMargins(0, 0, 0, 0)
        three.setSpacing(1)
        three.addWidget(side)
        three.addWidget(middle, 1)
        three.addWidget(self.detail)
        self.stack = QStackedWidget()
        self.stack.addWidget(self.empty)
        self.stack.addWidget(work)
        self.bar = QWidget()
        self.bar.setLayout(bar)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(self.stack, 1)

    def restyle(self) -> None:
        self._picked()

    def showEvent(self, event: object) -> None:
        self._watch.start()
        self._follow()

    def resizeEvent(self, event: object) -> None:
        narrow = self.width() < 1040
        self.side.setFixedWidth(190 if narrow else 228)
        self.detail.setFixedWidth(NARROW if narrow else WIDTH)
        self.briefs.setMinimumWidth(150 if narrow else 260)

    def hideEvent(self, event: object) -> None:
        self._watch.stop()

    def _fill_briefs(self) -> None:
        chosen = self.briefs.currentData()
        self.briefs.clear()
        for book in self.session.shelf.rulebooks:
            for brief in book.briefs:
                self.briefs.addItem(
                    f"{book.body.name}: {brief.title}", f"{book.body.id}/{brief.id}"
                )
        if chosen is not None:
            self.briefs.setCurrentIndex(max(0, self.briefs.findData(chosen)))

    # -- what is audited -----------------------------------------------------------------------

    def ask_folder(self) -> None:
        folder = QFileDialog.getExistingDirectory(self, t("Audit the pictures of a folder"))
        if folder:
            self.open(folder)

    def ask_listing(self) -> None:
        path, _ = QFileDialog.getOpenFileName(
            self,
            t("Audit a listing"),
            "",
            f"{t('Table')} (*.csv *.tsv *.txt);;{t('All files')} (*)",
        )
        if path:
            self.open(path)

    def open(self, path: str, held: Audited | None = None) -> None:
        """Audit a folder or a listing; ``held``: as the docket has it."""

        def work(late: Callable[[], bool]) -> list[Item]:
            try:
                if os.path.isdir(path):
                    return audit.items_in([path])
                return audit.read_listing(path)
            except audit.ListingError as error:
                raise OSError(str(error)) from None

        def done(found: Any, trouble: str) -> None:
            self.session.working.emit("")
            if trouble:
                self.session.tell(trouble)
                return
            if not found:
                self.session.tell(t("There are no pictures in {name}.", name=shown_name(path)))
                return
            self.source, self.items, self._listed = path, list(found), list(found)
            if held is not None:
                self._put_instead(held)
            else:
                self._keep()
            self.start()

        self.session.queue.start("audit", work, done)

    def _keep(self) -> None:
        """Write down in the docket what is audited here."""
        brief = self.briefs.currentData()
        if not self.source or brief is None:
            return
        instead = tuple(
            Instead(item=listed.name, listed=listed.file, file=now.file)
            for listed, now in zip(self._listed, self.items, strict=True)
            if now.file != listed.file
        )
        self._held = Audited(source=self.source, brief=brief, instead=instead)
        self.session.keep_audit(self._held)

    def _put_instead(self, held: Audited) -> None:
        """Look at the pictures that the docket names in place of listed ones."""
        other = {(one.item, one.listed): one.file for one in held.instead}
        self.items = [
            audit.with_file(item, other[item.name, item.file])
            if (item.name, item.file) in other else item
            for item in self._listed
        ]  # fmt: skip

    def _follow(self) -> None:
        """Show what the docket says was audited, once somebody looks."""
        now = self.session.docket.audit
        if not self.isVisible() or now == self._held:
            return
        self._held = now
        if now is None:
            self.session.queue.cancel("audit")
            self._run = None
            self.source, self.items, self._listed, self.checked = "", [], [], {}
            self.show_all()
            return
        self.use_brief(now.brief)
        if now.source == self.source and self.items:
            self._put_instead(now)
            self.start()
        else:
            self.open(now.source, now)

    def _other_brief(self) -> None:
        self._keep()
        self.start()

    def open_demo(self) -> None:
        """Audit the listing that ships with the demo, against the body that it is listed at."""
        self.use_brief("quayside-exchange/item-picture")
        self.open(str(resources.files("aptandum.data").joinpath("demo/quayside_listing.csv")))

    def use_brief(self, name: str) -> None:
        """Audit against a brief, by ``BOOK/BRIEF``."""
        at = self.briefs.findData(name)
        if at >= 0:
            self.briefs.setCurrentIndex(at)

    def start(self) -> None:
        """Check every picture (again)."""
        self.checked, self._by_hand = {}, False
        self._check(range(len(self.items)))

    def _check(self, places: Sequence[int]) -> None:
        if not places:
            return
        try:
            brief = self.session.find(self.briefs.currentData())[1]
        except BriefNotFound as error:
            self.session.tell(str(error))
            return
        items = [(i, self.items[i]) for i in places]
        this = self._run = object()
        self.session.working.emit(t("Auditing …"))
        self.show_all()

        def one(given: tuple[int, Item]) -> tuple[int, Checked]:
            return given[0], audit.check_one(audit.Task(given[1], brief))

        def work(late: Callable[[], bool]) -> dict[int, Checked]:
            held: dict[int, Checked] = {}
            last, n = time.monotonic(), 0
            with ThreadPoolExecutor(2) as pool:
                for place, found in run(items, pool, 2, late, one):
                    held[place] = found
                    n += 1
                    if time.monotonic() - last > _SHOW_EVERY:
                        last = time.monotonic()
                        self._some.emit(this, held)
                        held = {}
                        self.session.counted.emit(n, len(items))
            return held

        def done(found: Any, trouble: str) -> None:
            self.session.working.emit("")
            if trouble:
                self.session.tell(trouble)
            else:
                self._came(this, found)

        self.session.queue.start("audit", work, done)

    def _came(self, this: object, found: dict[int, Checked]) -> None:
        if this is self._run:  # what an earlier run still sends is dropped
            self.checked.update(found)
            self.show_all()

    def look_at_files(self) -> None:
        """See whether pictures have been replaced or are gone, and check those again."""
        if not self.checked or len(self.checked) < len(self.items):
            return
        every = sorted(self.checked)
        turn = every[self._turn : self._turn + _STATED]
        self._turn = self._turn + _STATED if self._turn + _STATED < len(every) else 0
        changed = audit.changed([self.checked[i] for i in turn])
        if changed:
            names = ", ".join(self.checked[turn[i]].item.name for i in changed[:4])
            self.session.tell(t("Changed on disk, and checked again: {names}", names=names), "note")
            self._check([turn[i] for i in changed])

    # -- what is shown -------------------------------------------------------------------------

    def shown(self) -> list[Checked]:
        """Those that are shown, the worst first."""
        every = [self.checked[i] for i in sorted(self.checked)]
        if self.aside.isChecked():
            every = [one for one in every if one.item.matters]
        if self.reason == DANGER:
            every = [one for one in every if one.in_danger]
        elif self.reason == audit.UNUSABLE:
            every = [one for one in every if one.standing == "lost"]
        elif self.reason != EVERY:
            every = [
                one for one in every
                if any(m.clause == self.reason and m.verdict == "misses" for m in one.misses)
            ]  # fmt: skip
        return audit.worst_first(every)

    def show_all(self) -> None:
        """Bring everything in line with what has been checked."""
        self.stack.setCurrentIndex(1 if self.items else 0)
        for part in (self.again, self.export):
            part.setEnabled(bool(self.checked))
        aside = [item for item in self.items if not item.matters]
        self.aside.setVisible(any(item.in_stock is not None for item in self.items))
        done = [self.checked[i] for i in sorted(self.checked)]
        mine = [one for one in done if one.item.matters or not self.aside.isChecked()]
        danger = sum(one.in_danger for one in mine)
        self.name.setText(shown_name(self.source) if self.source else "")
        words = t("{n} of {all} are in danger", n=grouped(danger), all=grouped(len(mine)))
        if aside and self.aside.isChecked():
            words += t("; {n} set aside", n=grouped(len(aside)))
        if len(done) < len(self.items):
            words += "\n" + t("{n} still to be looked at", n=grouped(len(self.items) - len(done)))
        self.count.setText(words)
        self.reasons.blockSignals(True)
        self.reasons.clear()
        groups = audit.grouped(done, self.aside.isChecked())
        lines = [(DANGER, t("In danger"), danger), *((g.clause, g.reason, len(g.items)) for g in groups),
                 (EVERY, t("All"), len(mine))]  # fmt: skip
        if self.reason not in [line[0] for line in lines]:
            self.reason = DANGER
        for key, text, n in lines:
            inner = key not in (DANGER, EVERY)
            made = QListWidgetItem(f"{text} {grouped(n)}")
            made.setData(THING, key)
            made.setData(THING + 1, (inner, text, grouped(n)))
            self.reasons.addItem(made)
            if key == self.reason:
                self.reasons.setCurrentItem(made)
        self.reasons.blockSignals(False)
        here = self.current() if self._by_hand else None
        self._laying = True
        self.rows.take(self.shown())
        items = [one.item for one in self.rows.items]
        at = items.index(here.item) if here is not None and here.item in items else 0
        if items:
            self.list.setCurrentIndex(self.rows.index(at))
        self._laying = False
        self._picked()

    def _reason_picked(self) -> None:
        item = self.reasons.currentItem()
        if item is not None and item.data(THING) != self.reason:
            self.reason = item.data(THING)
            self.rows.take(self.shown())
            if self.rows.items:
                self.list.setCurrentIndex(self.rows.index(0))
            self._picked()

    def _moved(self) -> None:
        if not self._laying:
            self._by_hand = True
            self._picked()

    def current(self) -> Checked | None:
        at = self.list.currentIndex().row()
        return self.rows.items[at] if 0 <= at < len(self.rows.items) else None

    def _picked(self) -> None:
        one = self.current()
        self.detail.setVisible(one is not None)
        if one is None:
            return
        self.title.setText(one.item.name)
        stock = {None: "", True: t("in stock"), False: t("out of stock")}[one.item.in_stock]
        size = f"{grouped(one.size[0])} × {grouped(one.size[1])} px" if one.size else ""
        name = shown_name(one.item.file) if one.item.file else t("no file is listed")
        self.where.setText(" · ".join(part for part in (name, size, stock) if part))
        self.where.setToolTip(one.item.file)
        clear(self.misses)
        lines = [("misses", one.trouble)] if one.trouble else [
            (m.verdict, m.says) for m in one.misses
        ]  # fmt: skip
        if not lines:
            lines = [("meets", t("Every rule that can be measured is met."))]
        for verdict, says in lines:
            made = label(f"{word(verdict)}: {says}", wrap=True)
            made.setStyleSheet(f"color: {getattr(theme.palette(), verdict)}")
            row = QHBoxLayout()
            row.setSpacing(8)
            row.addWidget(Sign(verdict), 0, Qt.AlignmentFlag.AlignTop)
            row.addWidget(made, 1)
            self.misses.addLayout(row)
        self.misses.addStretch(1)
        self.bench.setVisible(one.standing != "lost")
        self._show_picture(one)

    def _show_picture(self, one: Checked) -> None:
        self.picture.setPixmap(QPixmap())
        self.picture.setText(t("no picture") if one.standing == "lost" else "")
        if one.standing == "lost":
            self.session.queue.cancel("audit picture")
            return

        def done(found: Any, trouble: str) -> None:
            if trouble:
                return
            image = to_image(found)
            ratio = self.devicePixelRatioF()
            small = image.scaled(
                int((WIDTH - 32) * ratio), int(200 * ratio), Qt.AspectRatioMode.KeepAspectRatio,
                Qt.TransformationMode.SmoothTransformation,
            )  # fmt: skip
            small.setDevicePixelRatio(ratio)
            self.picture.setPixmap(QPixmap.fromImage(small))

        path = one.item.file
        self.session.queue.start(
            "audit picture", lambda late: self._thumbs.of(open_photo(path)), done
        )

    # -- what can be done ----------------------------------------------------------------------

    def ask_replace(self) -> None:
        one = self.current()
        if one is None:
            return
        first = str(Path(one.item.file).parent) if one.item.file else ""
        path, _ = QFileDialog.getOpenFileName(self, t("Look at this file instead"), first)
        if path:
            self.replace_with(path)

    def replace_with(self, path: str) -> None:
        """Check another file in place of the chosen item's."""
        one = self.current()
        if one is None:
            return
        at = self.items.index(one.item)
        self.items[at] = audit.with_file(one.item, path)
        self.checked.pop(at, None)
        self._keep()
        self._check([at])

    def to_bench(self) -> None:
        """Take the chosen picture into the docket, to be made to meet."""
        one = self.current()
        if one is None:
            return
        photo = self.session.open_photo(one.item.file)
        if photo is not None and self.session.start_fitting(photo, self.briefs.currentData()):
            fitting = self.session.bench.fitting.id if self.session.bench is not None else ""
            self.bench_asked.emit(fitting)

    def ask_export(self) -> None:
        if not self.checked:
            return
        folder = self.source if os.path.isdir(self.source) else os.path.dirname(self.source)
        first = os.path.join(folder, t("audit") + ".csv")
        path = where_to_save(self, t("Export the list"), first, {t("Table"): ".csv"})
        if path is not None:
            self.export_to(str(path))

    def export_to(self, path: str) -> None:
        """Write what is shown as a table, the worst first."""
        if not path.lower().endswith(".csv"):
            path += ".csv"
        if os.path.abspath(path) == os.path.abspath(self.source):
            self.session.tell(t("{file} is the listing itself and is never written to.",
                                file=shown_name(path)))  # fmt: skip
            return
        try:
            audit.write_csv(self.shown(), path)
        except OSError as error:
            self.session.tell(unwritten(error, path))
            return
        self.session.tell(t("Written: {path}", path=path), "done")
