"""What is there already, against a brief: which pictures are in danger, and why. Nothing is changed."""

from __future__ import annotations

import os
from functools import partial
from importlib import resources
from pathlib import Path
from typing import cast

import numpy as np
from PyQt6.QtCore import QTimer, pyqtSignal
from PyQt6.QtWidgets import (
    QDialog,
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QListView,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.docket import audit, audit_lists
from aptandum.core.docket.audit_found import Found
from aptandum.core.docket.audit_lists import Lists, Order, Rows, Told
from aptandum.core.docket.listed import Listed
from aptandum.ui.asking import where_to_save
from aptandum.ui.desk.audit_detail import AuditDetail
from aptandum.ui.desk.audit_rows import PictureRow, words_of
from aptandum.ui.desk.audit_side import AuditSide
from aptandum.ui.desk.rows import Things, dress
from aptandum.ui.desk.slip import NARROW, WIDTH
from aptandum.ui.session import Session
from aptandum.ui.session.audited import AuditRun
from aptandum.ui.strings import t
from aptandum.ui.widgets import Choice, button, empty_state, label

_MANY = 3000
"""Items from which on lists are made beside the interface."""

_WATCH_MS, _STATED = 4000, 400
"""How often, and for how many files at a time, it is seen whether a picture has been replaced."""


class AuditView(QWidget):
    """The list of what an audit found, and what is done with it."""

    bench_asked = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.model = session.audit
        self._laying = False  # the list is being filled: what is chosen then nobody has chosen
        self._by_hand = False
        self._shown = audit_lists.told(Found(Listed(())))
        self._made = self._again = False  # lists are being made; and are to be made again
        self._watch = QTimer(self)
        self._watch.setInterval(_WATCH_MS)
        self._watch.timeout.connect(self.model.look_at_files)
        self._lay_out()
        session.library.changed.connect(self._fill_briefs)
        self.model.changed.connect(self.show_all)
        self._fill_briefs()
        self.show_all()

    @property
    def items(self) -> Listed:
        return self.model.items

    @property
    def checked(self) -> Found:
        return self.model.checked

    @property
    def source(self) -> str:
        return self.model.source

    # -- laying out --------------------------------------------------------------------------

    def _lay_out(self) -> None:
        bar = self._bar()

        self.side = AuditSide()
        self.side.chosen.connect(self._reason_picked)
        self.side.set_aside.connect(self.show_all)
        middle = self._middle_list()
        self.detail = AuditDetail(self.session)
        self.detail.bench_asked.connect(self.to_bench)
        self.detail.replace_asked.connect(self.ask_replace)
        self.detail.accepted.connect(self.accept)

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
        three.addWidget(self.side)
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
        self.bulk = button(t("Replace from a folder…"), "link", self.ask_replace_many)
        self.bulk.setToolTip(
            t(
                "Pictures of a folder take the place of those shown, by the item’s key or the picture’s name"
            )
        )
        self.sorted_by = Choice()
        self.sorted_by.setAccessibleName(t("Order of the list"))
        for words, order in (
            (t("The worst first"), "worst"),
            (t("The most valuable first"), "value"),
            (t("As they are listed"), "listed"),
        ):
            self.sorted_by.addItem(words, order)
        self.sorted_by.activated.connect(lambda _i: self._reason_picked())
        against = label(t("against"), "second")
        for part in (self.folder, self.listing, against, self.briefs):
            bar.addWidget(part)
        bar.addStretch(1)
        for part in (self.again, self.export):
            bar.addWidget(part)
        return bar

    def _middle_list(self) -> QFrame:
        """The pictures, the worst first."""
        self.list = QListView()
        dress(self.list, t("Pictures, the worst first"))
        self.rows: Things[Told] = Things(words_of)
        self.list.setModel(self.rows)
        self.list.setItemDelegate(PictureRow(self.list))
        selection = self.list.selectionModel()
        assert selection is not None
        selection.currentChanged.connect(self._moved)
        middle = QFrame()
        middle.setProperty("role", "panel")
        inner = QVBoxLayout(middle)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.setSpacing(0)
        head = QHBoxLayout()
        head.setContentsMargins(14, 6, 12, 6)
        head.addWidget(self.sorted_by)
        head.addStretch(1)
        head.addWidget(self.bulk)
        inner.addLayout(head)
        inner.addWidget(self.list)
        return middle

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
        self.briefs.setPlaceholderText(t("Choose a brief"))
        self.briefs.setCurrentIndex(self.briefs.findData(chosen) if chosen is not None else -1)

    # -- what is audited -----------------------------------------------------------------------

    def ask_folder(self) -> None:
        """Ask for a folder to audit."""
        folder = QFileDialog.getExistingDirectory(self, t("Audit the pictures of a folder"))
        if folder:
            self.ask_how(folder)

    def ask_listing(self) -> None:
        """Ask for a listing to audit."""
        path, _ = QFileDialog.getOpenFileName(
            self,
            t("Audit a listing"),
            "",
            f"{t('Table')} (*.csv *.tsv *.txt);;{t('All files')} (*)",
        )
        if path:
            self.ask_how(path)

    def ask_how(self, path: str) -> None:
        """Ask against which briefs, and what a listing's columns are, before anything is looked at."""
        from aptandum.ui.desk import audit_setup

        try:
            dialog = audit_setup.AuditSetup(
                self.session, path, self.briefs.currentData() or "", self
            )
        except audit.ListingError as error:
            self.session.tell(str(error))
            return
        if dialog.exec() == QDialog.DialogCode.Accepted:
            self._by_hand = False
            briefs = dialog.briefs()
            self.use_brief(briefs[0])
            self.model.open(path, briefs[0], None, briefs, dialog.columns())
        dialog.deleteLater()

    def open(self, path: str) -> None:
        """Audit a folder or a listing against the brief that is chosen; where none is, ask."""
        if self.briefs.currentData() is None:
            self.ask_how(path)
            return
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

    @property
    def order(self) -> Order:
        """In which order the list is."""
        return cast(Order, self.sorted_by.currentData() or "worst")

    def shown(self) -> Rows:
        """Those that are shown, in their order."""
        return self._shown

    def show_all(self) -> None:
        """Bring everything in line with what has been checked; where that is much, beside the interface."""
        if self.source:
            self.use_brief(self.model.run.brief)
        self.stack.setCurrentIndex(1 if self.items else 0)
        for part in (self.again, self.export, self.bulk):
            part.setEnabled(bool(self.checked))
        run, found = self.model.run, self.checked
        if self._made and len(found) > _MANY:
            self._again = (
                True  # once those that are being made are shown: two at once take twice as long
            )
            return
        held = found.copy()
        asked = self.side.group, self.order, self.side.aside.isChecked()

        def make(_late: object = None) -> Lists:
            compared = bool(run.since.before)
            return audit_lists.lists(held, run.remembered, *asked, compared)

        if len(held) <= _MANY:
            self.session.jobs.drop("audit lists")
            self._made, self._again = False, False
            self._show(run, make())
        else:
            self._made = True
            self.session.jobs.latest("audit lists", make, partial(self._came, run), self._failed)

    def _came(self, run: AuditRun, made: Lists) -> None:
        self._made = False
        self._show(run, made)
        if self._again:
            self._again = False
            self.show_all()

    def _failed(self, why: str) -> None:
        """The lists could not be made: those of the next change are made anew."""
        self._made = self._again = False
        self.session.tell(why)

    def _show(self, run: AuditRun, made: Lists) -> None:
        if run is not self.model.run:
            return
        self.side.show_run(run, made)
        valued = not bool(np.all(np.isnan(made.mine.values)))
        self.sorted_by.setVisible(valued)
        if not valued:
            self.sorted_by.setCurrentIndex(0)
        here = self.current() if self._by_hand else None
        self._laying = True
        self._shown = made.shown
        self.rows.take(made.shown)
        at = np.flatnonzero(made.shown.places == here.at)[:1].tolist() if here is not None else []
        if made.shown:
            self.list.setCurrentIndex(self.rows.index(at[0] if at else 0))
        self._laying = False
        self._picked()

    def _reason_picked(self) -> None:
        self._by_hand = False
        self.show_all()

    def _moved(self) -> None:
        if not self._laying:
            self._by_hand = True
            self._picked()

    def current(self) -> Told | None:
        """What is chosen in the list, if anything."""
        at = self.list.currentIndex().row()
        return self.rows.items[at] if 0 <= at < len(self.rows.items) else None

    def _picked(self) -> None:
        self.detail.show_item(self.current())

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
        self.model.replace({one.at: path})

    def ask_replace_many(self) -> None:
        """Ask for a folder whose pictures take the place of those that are shown, and put them there as one step."""
        from aptandum.ui.desk import replace_dialog

        folder = QFileDialog.getExistingDirectory(self, t("Pictures that take the place of these"))
        if not folder:
            return
        places = sorted(self.shown().places.tolist())
        dialog = replace_dialog.ReplaceDialog(self.session, self.model.run, places, folder, self)
        if dialog.exec() == QDialog.DialogCode.Accepted:
            self.model.replace(dialog.files())
        dialog.deleteLater()

    def accept(self, on: bool) -> None:
        """The chosen item may stay as it is, or no longer."""
        one = self.current()
        if one is not None:
            self._by_hand = False
            self.model.accept([one.key], on)

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
        kinds = {t("Table"): ".csv", t("Page to be read"): ".html", t("For programs"): ".json"}
        path = where_to_save(self, t("Export the list"), first, kinds)
        if path is not None:
            self.export_to(str(path))

    def export_to(self, path: str) -> None:
        """Write what is shown, in its order."""
        self.model.export(self.shown(), path, self.order)
