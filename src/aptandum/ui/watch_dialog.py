"""A folder that is watched: which, for which brief, where to; and what came of it, the newest first."""

from __future__ import annotations

import os
from pathlib import Path

from PyQt6.QtCore import QModelIndex, QRectF, QSize, QUrl
from PyQt6.QtGui import QDesktopServices, QPainter
from PyQt6.QtWidgets import (
    QDialog,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QListView,
    QStackedWidget,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.watched.watcher import LIST, Event
from aptandum.ui import theme
from aptandum.ui.desk.rows import ROW, THING, Things, dress, ground, write
from aptandum.ui.fields import TextField
from aptandum.ui.painting import turned
from aptandum.ui.session import Session
from aptandum.ui.signs import draw_sign
from aptandum.ui.strings import sentences, t, t_n
from aptandum.ui.widgets import Choice, button, empty_state, label

_SIGNS = {"made": "meets", "aside": "misses", "known": "idle", "waits": "unknown", "again": "meets"}


def line_of(event: Event) -> tuple[str, str]:
    """The two lines that an event is told in: which file, and what became of it."""
    name = os.path.basename(event.file) or t("The folder")
    made = os.path.basename(event.written)
    if event.kind == "made":
        asks = t_n("{n} question to answer", "{n} questions to answer", event.asks)
        said = t("{file} was written", file=made)
        return name, t("{what}; {more}", what=said, more=asks) if event.asks else said
    if event.kind == "aside":
        return name, t("Set aside. {why}", why=event.says)
    if event.kind == "known":
        return name, t("A copy of what was made before: {file}", file=made)
    if event.kind == "waits":
        return name, t("{why} It is tried again.", why=event.says)
    return name, event.says


class EventRow(QStyledItemDelegate):
    """An event in two lines, with a sign before them."""

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(200, ROW)

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex
    ) -> None:
        assert painter is not None
        with turned(painter, option):
            self._draw(painter, option, index)

    def _draw(self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        event: Event = index.data(THING)
        painter.save()
        box = QRectF(option.rect)
        ground(painter, option, box)
        first, second = line_of(event)
        draw_sign(painter, _SIGNS[event.kind], QRectF(box.left() + 14, box.top() + 9, 14, 14))
        left, wide = box.left() + 40, box.width() - 52
        write(painter, theme.medium(), "ink", QRectF(left, box.top() + 5, wide, 22), first)
        write(painter, theme.tight(12), "ink2", QRectF(left, box.top() + 26, wide, 20), second)
        painter.restore()


class WatchDialog(QDialog):
    """Begins and ends the watching, and shows what comes of it. It may be closed meanwhile."""

    def __init__(self, session: Session, brief: str = "", parent: QWidget | None = None) -> None:
        """Args:
        brief: the one that is offered first, as ``book/brief``.
        """
        super().__init__(parent)
        self.session, self.model = session, session.watching
        self.setWindowTitle(t("Watch a folder"))
        self.resize(760, 560)
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 18, 20, 18)
        column.setSpacing(12)
        column.addWidget(label(t("Watch a folder"), "title"))
        column.addWidget(
            label(
                t(
                    "Every photo that arrives in the folder is made to meet the brief, read back, and written to the other "
                    "folder. What cannot meet it is set aside with the reason. Nothing in the watched folder is changed."
                ),
                "second",
                wrap=True,
            )
        )
        column.addLayout(self._asked(brief))
        self.says = label("", wrap=True)
        self.says.setAccessibleName(t("How it stands"))
        column.addWidget(self.says)
        self._list()
        column.addWidget(self.stack, 1)
        column.addLayout(self._buttons())
        self.model.changed.connect(self.show_all)
        self.show_all()

    def _asked(self, brief: str) -> QGridLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(8)
        grid.setColumnStretch(1, 1)
        self.folder, self.out = (
            TextField(t("Folder that is watched")),
            TextField(t("Results go to")),
        )
        self.folder.setText(self.model.folder)
        self.out.setText(self.model.out)
        self.folder_ask = button(t("Choose the folder…"), "", lambda: self._ask(self.folder))
        self.out_ask = button(t("Choose where to…"), "", lambda: self._ask(self.out))
        self.briefs = Choice()
        self.briefs.setAccessibleName(t("Brief"))
        for book in self.session.library.shelf.rulebooks:
            for one in book.briefs:
                words = t("{body}: {brief}", body=book.body.name, brief=one.title)
                self.briefs.addItem(words, f"{book.body.id}/{one.id}")
        self.briefs.setCurrentIndex(self.briefs.findData(self.model.name or brief))
        self.briefs.setPlaceholderText(t("Choose a brief"))
        rows = ((t("Folder"), self.folder, self.folder_ask), (t("Brief"), self.briefs, None), (t("Results"), self.out, self.out_ask))  # fmt: skip
        for n, (words, field, ask) in enumerate(rows):
            grid.addWidget(label(words, "second"), n, 0)
            grid.addWidget(field, n, 1)
            if ask is not None:
                grid.addWidget(ask, n, 2)
        for field in (self.folder, self.out):
            field.textChanged.connect(self.show_all)
        self.briefs.currentIndexChanged.connect(self.show_all)
        return grid

    def _list(self) -> None:
        self.list = QListView()
        dress(self.list, t("What came of it, the newest first"))
        self.rows: Things[Event] = Things(
            lambda event: t("{file}: {what}", file=line_of(event)[0], what=line_of(event)[1])
        )
        self.list.setModel(self.rows)
        self.list.setItemDelegate(EventRow(self.list))
        self.list.activated.connect(self._open_one)
        self.stack = QStackedWidget()
        self.empty = empty_state(
            t("Nothing has arrived yet."),
            t("A photo counts as arrived once nobody has written to it for three seconds."),
        )
        for part in (self.empty, self.list, QWidget()):
            self.stack.addWidget(part)

    def _buttons(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.results = button(t("Open the results"), "line", lambda: self._show(self.model.out))
        self.why = button(
            t("Open the list of what is set aside"),
            "line",
            lambda: self._show(os.path.join(self.model.out, LIST)),
        )
        row.addWidget(self.results)
        row.addWidget(self.why)
        row.addStretch(1)
        row.addWidget(button(t("Close"), "", self.close))
        self.act = button(t("Begin to watch"), "act", self.begin_or_end)
        self.act.setDefault(True)
        row.addWidget(self.act)
        return row

    # -- what is done --------------------------------------------------------------------------

    def _ask(self, field: TextField) -> None:
        found = QFileDialog.getExistingDirectory(self, self.windowTitle(), field.text())
        if found:
            field.setText(found)
            if field is self.folder and not self.out.text():
                self.out.setText(f"{found.rstrip('/')}-{t('finished')}")

    def _show(self, path: str) -> None:
        QDesktopServices.openUrl(QUrl.fromLocalFile(path))

    def _open_one(self, index: QModelIndex) -> None:
        event: Event = index.data(THING)
        path = event.written or event.file
        if path:
            self._show(path)

    def begin_or_end(self) -> None:
        """Begin to watch, or end it."""
        if self.model.runs:
            self.model.end()
            return
        name = str(self.briefs.currentData())
        book, brief = self.session.library.shelf.find(name)
        folder, out = (
            str(Path(one.text().strip()).expanduser()) for one in (self.folder, self.out)
        )
        trouble = self.model.start(folder, out, name, book, brief)
        if trouble:
            self.says.setText(trouble)

    # -- what is shown -------------------------------------------------------------------------

    def show_all(self) -> None:
        """Bring everything in line with what is watched and what came of it."""
        model, runs = self.model, self.model.runs
        for part in (self.folder, self.out, self.folder_ask, self.out_ask, self.briefs):
            part.setEnabled(not runs)
        self.act.setText(t("End it") if runs else t("Begin to watch"))
        self.act.setAutoDefault(not runs)
        given = self.folder.text().strip() and self.out.text().strip()
        self.act.setEnabled(
            (runs and not model.ending)
            or bool(not runs and given and self.briefs.currentIndex() >= 0)
        )
        self.says.setText(self._said())
        self.results.setVisible(bool(model.out) and os.path.isdir(model.out))
        self.why.setVisible(model.aside > 0)
        self.rows.take(list(model.events))
        self.stack.setCurrentIndex(1 if model.events else 0 if runs else 2)

    def _said(self) -> str:
        model = self.model
        if not model.out:
            return ""
        made = t_n("{n} file is made.", "{n} files are made.", model.made)
        told = [made]
        if model.aside:
            told.append(t_n("{n} is set aside.", "{n} are set aside.", model.aside))
        if model.on_way:
            told.append(t_n("{n} is still arriving.", "{n} are still arriving.", model.on_way))
        if model.trouble:
            told.append(t("{why} It is tried again.", why=model.trouble))
        if model.ending:
            told.insert(0, t("The file at hand is finished, then it ends."))
        elif not model.runs:
            told.insert(0, t("It has ended."))
        return sentences(told)
