"""What is there already, against a brief: which pictures are in danger, and why. Nothing is changed."""

from __future__ import annotations

import os
from importlib import resources
from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QPixmap
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
    QVBoxLayout,
    QWidget,
)

from aptandum.core.docket import audit
from aptandum.core.docket.audit import Checked, Item
from aptandum.core.docket.thumbs import Thumbs
from aptandum.core.figures import grouped, show_size
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.facts import shown_name
from aptandum.ui import theme
from aptandum.ui.asking import where_to_save
from aptandum.ui.desk.audit_rows import PictureRow, ReasonRow, words_of
from aptandum.ui.desk.rows import THING, Things, dress
from aptandum.ui.desk.slip import NARROW, WIDTH
from aptandum.ui.images import to_image
from aptandum.ui.session import Session
from aptandum.ui.signs import Sign, word
from aptandum.ui.strings import joined, t
from aptandum.ui.widgets import Choice, button, clear, empty_state, label

_SHOW_EVERY = 0.25
"""Seconds between two looks of the list at what has been checked meanwhile."""

_WATCH_MS, _STATED = 4000, 400
"""How often, and for how many files at a time, it is seen whether a picture has been replaced."""

DANGER, EVERY = "\0danger", "\0every"


class AuditView(QWidget):
    """The list of what an audit found, and what is done with it."""

    bench_asked = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.model = session.audit
        self.reason = DANGER
        self._laying = False  # the list is being filled: what is chosen then nobody has chosen
        self._by_hand = False
        self._thumbs = Thumbs()
        self._watch = QTimer(self)
        self._watch.setInterval(_WATCH_MS)
        self._watch.timeout.connect(self.model.look_at_files)
        self._lay_out()
        session.library.changed.connect(self._fill_briefs)
        self.model.changed.connect(self.show_all)
        self._fill_briefs()
        self.show_all()

    @property
    def items(self) -> list[Item]:
        return self.model.items

    @property
    def checked(self) -> dict[int, Checked]:
        return self.model.checked

    @property
    def source(self) -> str:
        return self.model.source

    # -- laying out --------------------------------------------------------------------------

    def _lay_out(self) -> None:
        bar = self._bar()

        side = self._side()

        middle = self._middle_list()

        self._detail()

        self.empty = empty_state(
            t("What is in danger already?"),
            t(
                "Point at a folder, or at a table of what is listed (CSV with a column for the item, "
                "one for the picture’s file, and one for what is in stock). Every picture is held "
                "against a brief; nothing is changed."
            ),
            button(t("Choose a listing…"), "line", self.ask_listing),
            button(t("Choose a folder…"), "line", self.ask_folder),
            button(t("The demo’s listing"), "", self.open_demo),
        )

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

    def _bar(self) -> QHBoxLayout:
        """What is audited, and against which brief."""
        bar = QHBoxLayout()
        bar.setContentsMargins(0, 4, 0, 4)
        bar.setSpacing(8)
        self.folder = button(t("Folder…"), "", self.ask_folder)
        self.folder.setToolTip(t("Audit the pictures of a folder (Ctrl+J, O)"))
        self.listing = button(t("Listing…"), "", self.ask_listing)
        self.listing.setToolTip(t("Audit the pictures that a table (CSV) lists (Ctrl+J, I)"))
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
        return bar

    def _side(self) -> QFrame:
        """Reasons, and how many for each."""
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
        self.reasons.setStyleSheet(
            "QListWidget { border: none; background: transparent; }"
            "QListWidget::item { padding: 6px 8px 6px 16px; }"
        )
        self.reasons.setItemDelegate(ReasonRow(self.reasons))
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
        return side

    def _middle_list(self) -> QFrame:
        """The pictures, the worst first."""
        self.list = QListView()
        dress(self.list, t("Pictures, the worst first"))
        self.rows: Things[Checked] = Things(words_of)
        self.list.setModel(self.rows)
        self.list.setItemDelegate(PictureRow(self.list))
        selection = self.list.selectionModel()
        assert selection is not None
        selection.currentChanged.connect(self._moved)
        middle = QFrame()
        middle.setProperty("role", "panel")
        inner = QVBoxLayout(middle)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.addWidget(self.list)
        return middle

    def _detail(self) -> None:
        """One picture, and what is missed."""
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
        self.bench = button(t("Fix on the bench"), "line", self.to_bench)
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

    def restyle(self) -> None:
        """Take on the palette in use."""
        self._picked()

    def showEvent(self, event: object) -> None:
        self._watch.start()
        self.model.watched = True
        self.model.follow()

    def resizeEvent(self, event: object) -> None:
        narrow = self.width() < 1040
        self.side.setFixedWidth(190 if narrow else 228)
        self.detail.setFixedWidth(NARROW if narrow else WIDTH)
        self.briefs.setMinimumWidth(150 if narrow else 260)

    def hideEvent(self, event: object) -> None:
        self._watch.stop()
        self.model.watched = False

    def _fill_briefs(self) -> None:
        chosen = self.briefs.currentData()
        self.briefs.clear()
        for book in self.session.library.shelf.rulebooks:
            for brief in book.briefs:
                self.briefs.addItem(
                    f"{book.body.name}: {brief.title}", f"{book.body.id}/{brief.id}"
                )
        if chosen is not None:
            self.briefs.setCurrentIndex(max(0, self.briefs.findData(chosen)))

    # -- what is audited -----------------------------------------------------------------------

    def ask_folder(self) -> None:
        """Ask for a folder to audit."""
        folder = QFileDialog.getExistingDirectory(self, t("Audit the pictures of a folder"))
        if folder:
            self.open(folder)

    def ask_listing(self) -> None:
        """Ask for a listing to audit."""
        path, _ = QFileDialog.getOpenFileName(
            self,
            t("Audit a listing"),
            "",
            f"{t('Table')} (*.csv *.tsv *.txt);;{t('All files')} (*)",
        )
        if path:
            self.open(path)

    def open(self, path: str) -> None:
        """Audit a folder or a listing against the brief that is chosen."""
        self._by_hand = False
        self.model.open(path, self.briefs.currentData())

    def _other_brief(self) -> None:
        self._by_hand = False
        self.model.use_brief(self.briefs.currentData())

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
        """Check every picture again."""
        self._by_hand = False
        self.model.start()

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
                one
                for one in every
                if any(m.clause == self.reason and m.verdict == "misses" for m in one.misses)
            ]
        return audit.worst_first(every)

    def show_all(self) -> None:
        """Bring everything in line with what has been checked."""
        if self.source:
            self.use_brief(self.model.run.brief)
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
            words = t("{words}; {n} set aside", words=words, n=grouped(len(aside)))
        if len(done) < len(self.items):
            words += "\n" + t("{n} still to be looked at", n=grouped(len(self.items) - len(done)))
        self.count.setText(words)
        self.reasons.blockSignals(True)
        self.reasons.clear()
        groups = audit.grouped(done, self.aside.isChecked())
        lines = [
            (DANGER, t("In danger"), danger),
            *((g.clause, g.reason, len(g.items)) for g in groups),
            (EVERY, t("All"), len(mine)),
        ]
        if self.reason not in [line[0] for line in lines]:
            self.reason = DANGER
        for key, text, n in lines:
            inner = key not in (DANGER, EVERY)
            made = QListWidgetItem(t("{name} {n}", name=text, n=grouped(n)))
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
        """What is chosen in the list, if anything."""
        at = self.list.currentIndex().row()
        return self.rows.items[at] if 0 <= at < len(self.rows.items) else None

    def _picked(self) -> None:
        one = self.current()
        self.detail.setVisible(one is not None)
        if one is None:
            return
        self.title.setText(one.item.name)
        stock = {None: "", True: t("in stock"), False: t("out of stock")}[one.item.in_stock]
        size = show_size(one.size) if one.size else ""
        name = shown_name(one.item.file) if one.item.file else t("no file is listed")
        self.where.setText(joined([part for part in (name, size, stock) if part]))
        self.where.setToolTip(one.item.file)
        clear(self.misses)
        lines = (
            [("misses", one.trouble)] if one.trouble else [(m.verdict, m.says) for m in one.misses]
        )
        if not lines:
            lines = [("meets", t("Every rule that can be measured is met."))]
        for verdict, says in lines:
            made = label(t("{verdict}: {says}", verdict=word(verdict), says=says), wrap=True)
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
            self.session.jobs.drop("audit picture")
            return

        def done(found: Any) -> None:
            image = to_image(found)
            ratio = self.devicePixelRatioF()
            small = image.scaled(
                int((WIDTH - 32) * ratio),
                int(200 * ratio),
                Qt.AspectRatioMode.KeepAspectRatio,
                Qt.TransformationMode.SmoothTransformation,
            )
            small.setDevicePixelRatio(ratio)
            self.picture.setPixmap(QPixmap.fromImage(small))

        path = one.item.file
        self.session.jobs.latest(
            "audit picture",
            lambda late: self._thumbs.of(open_photo(path)),
            done,
            lambda _why: self.picture.setText(t("no picture")),
        )

    # -- what can be done ----------------------------------------------------------------------

    def ask_replace(self) -> None:
        """Ask for a file to look at in place of the one that is listed."""
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
        self.model.replace(one.item, path)

    def to_bench(self) -> None:
        """Take the chosen picture into the docket, to be made to meet."""
        one = self.current()
        if one is None:
            return
        taken = self.session.photos.take([one.item.file])
        if taken.troubles:
            self.session.tell("\n".join(taken.troubles))
            return
        brief = self.briefs.currentData()
        if self.session.model.start_fitting(taken.ids[0], brief):
            fitting = self.session.bench.fitting.id if self.session.bench is not None else ""
            self.bench_asked.emit(fitting)

    def ask_export(self) -> None:
        """Ask where the list is to be written."""
        if not self.checked:
            return
        folder = self.source if os.path.isdir(self.source) else os.path.dirname(self.source)
        first = os.path.join(folder, t("audit") + ".csv")
        path = where_to_save(self, t("Export the list"), first, {t("Table"): ".csv"})
        if path is not None:
            self.export_to(str(path))

    def export_to(self, path: str) -> None:
        """Write what is shown as a table, the worst first."""
        self.model.export(self.shown(), path)
