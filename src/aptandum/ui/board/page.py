"""The board: photos down, briefs across, a cell for each fitting, and what is left to do for it."""

from __future__ import annotations

import os
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import (
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QMenu,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.docket.batch import Outcome
from aptandum.core.docket.model import Fitting
from aptandum.core.docket.standings import (
    STANDINGS,
    Cell,
    Standing,
    briefs_of,
    rows_of,
    tally,
)
from aptandum.core.photo.facts import shown_name
from aptandum.core.rulebook.shelf import BriefNotFound
from aptandum.ui.board.choice import BoardChoice
from aptandum.ui.board.grid_plane import Column, RowOf
from aptandum.ui.board.judging import Judging, Row
from aptandum.ui.board.parts import STANDING_WORDS, Chip, FootLines, asks, lines_of_cell
from aptandum.ui.board.sets import Sets, lines_of
from aptandum.ui.progress import UnderWay
from aptandum.ui.session import Session
from aptandum.ui.strings import commas, t, t_n
from aptandum.ui.widgets import button, empty_state, label

_AHEAD = 6
"""Rows above and below the view that are judged next."""

_STATED = 200
"""Rows out of view whose files are looked at in one go, by turns."""

_ROOMY = 1500
"""Width in pixels from which on the bar holds everything side by side."""

_WATCH_MS = 4000
"""How often the board looks whether a photo in view has changed or is gone."""


class BoardPage(BoardChoice):
    """The board: photos down, briefs across, and how each fitting stands."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.judging = Judging(session.jobs, self)
        self.worst_first = False
        self._briefs: dict[str, tuple[object, Rulebook, Brief] | None] = {}
        self._known: frozenset[str] = frozenset()
        self._counts = tally(())
        self._chosen = 0  # fittings
        self._times: dict[str, int] = {}  # how often a file was seen to have changed
        self._laid: tuple[object, ...] = (None, None, -1)
        self._stamps: dict[str, tuple[int, int] | None] = {}
        self._turn = 0  # the row at which the next look at the files begins
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(30)
        self._soon.timeout.connect(self._ask)
        self._count_soon = QTimer(self)  # counting thousands of cells waits until some have come
        self._count_soon.setSingleShot(True)
        self._count_soon.setInterval(400)
        self._count_soon.timeout.connect(self._tally)
        self._sets = Sets(session, self.grid, self.brief_of, self)
        self._sets.changed.connect(self._summary)
        self._watch = QTimer(self)
        self._watch.setInterval(_WATCH_MS)
        self._watch.timeout.connect(self.look_at_files)
        self._lay_out()
        session.store.changed.connect(self._changed)
        session.library.changed.connect(self._changed)
        session.jobs.listed.connect(self._working)
        session.many.outcome.connect(self.take_outcome)
        self.grid.moved.connect(self._summary)
        self.grid.looked.connect(self._soon.start)
        self.grid.opened.connect(lambda _r, _c: self.open_bench())
        self.grid.start_asked.connect(self.start_chosen)
        self.grid.clear_asked.connect(self.clear_chosen)
        self.judging.judged.connect(self._judged)
        self.judging.pictured.connect(self._pictured)
        self.grid.cells = {}
        self.grid.facts = self.judging.facts

    # -- laying out --------------------------------------------------------------------------

    def _lay_out(self) -> None:
        bar = self._bar()
        self.empty = empty_state(
            t("Drop photos here, or a folder"),
            t(
                "Photos stand down the board and briefs across it. A cell is one photo being made to "
                "fit one brief."
            ),
            button(t("Add photos…"), "line", self.photos_asked.emit),
            button(t("Start with a blank sheet…"), "line", self.blank_asked.emit),
            button(t("Add a folder…"), "line", self.folder_asked.emit),
        )
        self.stack = QStackedWidget()
        self.stack.addWidget(self.empty)
        self.stack.addWidget(self.grid)
        self._foot()
        line = QFrame()
        line.setProperty("role", "hairline")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(bar)
        column.addWidget(self.stack, 1)
        column.addWidget(line)
        column.addWidget(self.foot)

    def _bar(self) -> QFrame:
        """Counts, filters, work under way, and the presses."""
        bar = QFrame()
        top = QHBoxLayout(bar)
        top.setContentsMargins(16, 7, 16, 7)
        top.setSpacing(8)
        self.count = label("", "")
        self.count.setStyleSheet("font-weight: 600")
        top.addWidget(self.count)
        top.addSpacing(8)
        self.chips: dict[Standing, Chip] = {}
        together = QHBoxLayout()
        together.setSpacing(0)
        for standing in reversed(STANDINGS):
            chip = Chip(standing)
            chip.toggled.connect(lambda _on: self._filter())
            self.chips[standing] = chip
            together.addWidget(chip)
        top.addLayout(together)
        self.sort = button(t("Sort by most missed"), "view", self._sort)
        self.sort.setCheckable(True)
        self.sort.setToolTip(t("The worst photos first; again: as they came"))
        top.addWidget(self.sort)
        self.under_way = UnderWay(self.session.jobs)
        self.progress, self.cancel = self.under_way.words, self.under_way.cancel
        top.addWidget(self.under_way)
        top.addStretch(1)
        self.add = button(t("Add photos…"), "", self.photos_asked.emit)
        self.brief = button(t("Add a brief…"), "", self.ask_brief)
        self.conform = button(t("Conform all"), "act", self.ask_conform)
        for part in (self.add, self.brief, self.conform):
            top.addWidget(part)
        return bar

    def _foot(self) -> None:
        """What is said of the chosen cell, and what can be done."""
        self.foot = QFrame()
        self.foot.setProperty("role", "panel")
        self.foot.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.foot.setFixedHeight(124)
        below = QHBoxLayout(self.foot)
        below.setContentsMargins(16, 10, 16, 10)
        below.setSpacing(16)
        self.hint = label(t("Drop photos here, or a folder"), "second", wrap=True)
        self.hint.setFixedWidth(200)
        below.addWidget(self.hint)
        told = QVBoxLayout()
        told.setSpacing(3)
        self.title = label("", "")
        self.title.setStyleSheet("font-weight: 600")
        told.addWidget(self.title)
        self.said = FootLines()
        self.lines = self.said.grid
        told.addWidget(self.said, 1)
        below.addLayout(told, 1)
        acts = QVBoxLayout()
        acts.setSpacing(6)
        self.open = button(t("Open bench"), "line", self.open_bench)
        self.start = button(t("Start fitting"), "line", self.start_chosen)
        self.others = button(t("More…"), "", self.open_more)
        for part in (self.open, self.start, self.others):
            acts.addWidget(part)
        acts.addStretch(1)
        below.addLayout(acts)

    # -- what is shown -----------------------------------------------------------------------

    def shown(self) -> None:
        """The board has been gone to."""
        self._changed()
        self._watch.start()
        if self.grid.rows:
            self.grid.setFocus()

    def hideEvent(self, event: object) -> None:
        self._watch.stop()

    def stop(self) -> None:
        """Judge and watch nothing more."""
        self._watch.stop()
        self.judging.stop()

    def brief_of(self, name: str) -> tuple[Rulebook, Brief] | None:
        """The brief of this name as the docket's rulebook or the shelf has it."""
        key = (
            self.session.docket.rulebooks.get(name.partition("/")[0]),
            id(self.session.library.shelf),
        )
        held = self._briefs.get(name)
        if held is None or held[0] != key:
            try:
                book, brief = self.session.library.find(name)
            except BriefNotFound:
                return None
            held = (key, book, brief)
            self._briefs[name] = held
        return held[1], held[2]

    def _changed(self, _change: object = None) -> None:
        laid = (self.session.docket, self.session.library.shelf, len(self.more))
        if not self.isVisible() or all(a is b for a, b in zip(laid, self._laid, strict=True)):
            return  # nothing that stands here: the bench has made a picture, or the like
        self._laid = laid
        self._lay()
        self._soon.start()
        self._summary()

    def _lay(self) -> None:
        """Bring the grid in line with the docket."""
        docket = self.session.docket
        columns = []
        for name in briefs_of(docket, self.more):
            found = self.brief_of(name)
            if found is not None:
                book, brief = found
                columns.append(Column(name, brief.title, book.body.name, asks(brief)))
            else:
                columns.append(Column(name, name, t("not on the shelf"), ""))
        wanted = [s for s, chip in self.chips.items() if chip.isChecked()]
        entries = {entry.id: entry for entry in docket.photos}
        ids = rows_of(docket, self.grid.cells, wanted, self.worst_first)
        rows = [RowOf(i, entries[i].path, entries[i].turn) for i in ids]
        at = {(f.photo, f.brief): f.id for f in docket.fittings}
        self._known = frozenset(at.values())
        self._counts = tally(cell for i, cell in self.grid.cells.items() if i in self._known)
        self.grid.lay(rows, columns, at)
        self._sets.soon()
        self._hand_over()
        self.stack.setCurrentWidget(self.grid if docket.photos else self.empty)
        self.foot.setVisible(bool(docket.photos))
        self._tally()

    def _tally(self) -> None:
        docket = self.session.docket
        n = len(docket.fittings)
        self.count.setText(t_n("{n} fitting", "{n} fittings", n))
        self.count.setVisible(bool(docket.photos))
        self.sort.setVisible(bool(docket.photos) and not bool(self.session.jobs.commands))
        for standing, chip in self.chips.items():
            chip.take(self._counts[standing])
        several = self._chosen > 1
        self.conform.setText(t("Conform {n}", n=self._chosen) if several else t("Conform all"))
        self.conform.setEnabled(bool(n) and not bool(self.session.jobs.commands))

    def _keep(self, cell: Cell) -> None:
        """Hold a cell, and count it: to count all of thousands each time takes long."""
        if cell.fitting in self._known:
            was = self.grid.cells.get(cell.fitting)
            if was is not None:
                self._counts[was.standing] -= 1
            self._counts[cell.standing] += 1
        self.grid.keep(cell)

    def _key(self, fitting: Fitting) -> object:
        """All that a fitting's judgement depends on."""
        entry = self.session.docket.photo(fitting.photo)
        held = self.session.docket.rulebooks.get(fitting.brief.partition("/")[0])
        return fitting, entry.turn, entry.marks, hash(held), self._times.get(entry.path, 0)

    def _hand_over(self) -> None:
        """Give the rows as they stand to be judged."""
        docket, grid = self.session.docket, self.grid
        entries = {entry.id: entry for entry in docket.photos}
        books = {body: hash(text) for body, text in docket.rulebooks.items()}
        known = []
        for column in grid.columns:
            found = self.brief_of(column.name)
            if found is not None:
                known.append((column.name, found[1], books.get(column.name.partition("/")[0])))
        mine: dict[tuple[str, str], Fitting] = {(f.photo, f.brief): f for f in docket.fittings}
        laid = object()
        rows = []
        for row in grid.rows:
            entry = entries[row.photo]
            stamp = self._times.get(entry.path, 0)
            fittings = []
            for name, brief, book in known:
                fitting = mine.get((row.photo, name))
                if fitting is not None:
                    key = (fitting, entry.turn, entry.marks, book, stamp)
                    fittings.append((fitting, brief, key))
            rows.append(Row(entry, tuple(fittings), laid))
        self.judging.lay(rows)

    def _ask(self) -> None:
        """What is in view comes first."""
        if self.grid.dropped:
            self.judging.forget_pictures(self.grid.dropped)
            self.grid.dropped = []
        self.judging.look(self.grid.seen_rows(), _AHEAD)

    def _judged(self, cells: list[Cell]) -> None:
        for cell in cells:
            self._keep(cell)
        self.grid.facts = self.judging.facts
        if not self._count_soon.isActive():
            self._count_soon.start()
        self.grid.cells_came(cells)
        self._sets.soon()
        spot = self.grid.fitting_at(self.grid.spot)
        if any(cell.fitting == spot for cell in cells):
            self._summary()

    def _pictured(self, made: list[object]) -> None:
        self.grid.facts = self.judging.facts
        self.grid.take_pictures(made)  # type: ignore[arg-type]

    def look_at_files(self) -> None:
        """See whether a photo has changed or is gone since it was looked at."""
        gone: list[str] = []
        changed: list[str] = []
        rows, seen = self.grid.rows, self.grid.seen_rows()
        turn = range(self._turn, min(self._turn + _STATED, len(rows)))
        self._turn = turn.stop if turn.stop < len(rows) else 0
        for row in (rows[r] for r in dict.fromkeys((*seen, *turn))):
            try:
                state = os.stat(row.path)
                stamp: tuple[int, int] | None = (state.st_size, state.st_mtime_ns)
            except OSError:
                stamp = None
            if row.path in self._stamps and self._stamps[row.path] != stamp:
                (gone if stamp is None else changed).append(row.path)
                self._times[row.path] = self._times.get(row.path, 0) + 1
                self.judging.forget(row.path)
            self._stamps[row.path] = stamp
        for paths, words in ((gone, t("Not found any more")), (changed, t("Changed on disk"))):
            if paths:
                names = commas([shown_name(path) for path in paths[:4]])
                more = "" if len(paths) <= 4 else t(" and {n} more", n=len(paths) - 4)
                self.session.tell(
                    t("{what}: {names}{more}.", what=words, names=names, more=more), "note"
                )
        if gone or changed:
            self._hand_over()
            self._soon.start()

    # -- the strip below -----------------------------------------------------------------------

    def _summary(self) -> None:
        grid = self.grid
        self._chosen = len(self.chosen_fittings())
        self._tally()
        self.said.clear()
        spots = grid.selection()
        several = len(spots) > 1
        fitting = grid.fitting_at(grid.spot)
        self.open.setVisible(fitting is not None)
        empty = [s for s in spots if grid.fitting_at(s) is None]
        self.start.setVisible(bool(empty and grid.columns))
        n = len(empty)
        self.start.setText(t_n("Start fitting", "Start {n} fittings", n))
        self.others.setVisible(bool(grid.columns))
        if not grid.columns:
            self.title.setText(t("No brief yet: add one to begin."))
            return
        if not grid.rows:
            self.title.setText(t("No photo has such a fitting."))
            self.open.hide()
            self.start.hide()
            return
        row, column = grid.rows[grid.spot[0]], grid.columns[grid.spot[1]]
        if several:
            ids = self.chosen_fittings()
            counts = tally(grid.cells[i] for i in ids if i in grid.cells)
            said = commas([f"{n} {STANDING_WORDS[s]}" for s, n in counts.items() if n])
            self.title.setText(
                t("{n} cells chosen: {m} fittings. {said}", n=len(spots), m=len(ids), said=said)
            )
            return
        self.title.setText(t("{brief} × {photo}", brief=column.title, photo=shown_name(row.path)))
        if fitting is None:
            self.lines.addWidget(
                label(t("No fitting yet. + or Return starts one."), "second"), 0, 0
            )
            return
        cell = grid.cells.get(fitting)
        if cell is None:
            self.lines.addWidget(label(t("Being judged …"), "second"), 0, 0)
            return
        lines = lines_of_cell(cell, lines_of(grid.sets.get(column.name, ())))
        self.said.show_lines(lines)

    # -- acts ------------------------------------------------------------------------------

    def open_more(self) -> None:
        """Open the menu of what is rarely done."""
        menu = QMenu(self)
        for text, act in (
            (t("Select all"), self.grid.choose_all),
            (t("Copy this fitting to the selected cells"), self.copy_chosen),
            (t("Copy this frame to…"), self.carry_chosen),
            (t("Hand over selected…"), self.hand_chosen),
            (t("Remove selected fittings"), self.clear_chosen),
            (t("Add a folder…"), self.folder_asked.emit),
        ):
            menu.addAction(text, act)
        menu.exec(self.others.mapToGlobal(self.others.rect().bottomLeft()))

    def brief_menu(self) -> QMenu:
        """Every brief by its body; those on the board already cannot be chosen."""
        menu = QMenu(self)
        here = {column.name for column in self.grid.columns}
        for book in self.session.library.shelf.rulebooks:
            inner = QMenu(book.body.name, menu)
            menu.addMenu(inner)
            for brief in book.briefs:
                name = f"{book.body.id}/{brief.id}"
                act = inner.addAction(brief.title, partial(self.add_brief, name))
                if act is not None:
                    act.setEnabled(name not in here)
        return menu

    def ask_brief(self) -> None:
        """Ask which brief is to be laid across the board."""
        self.brief_menu().exec(self.brief.mapToGlobal(self.brief.rect().bottomLeft()))

    def add_brief(self, name: str) -> None:
        """Lay a brief across the board; photos go to it by their cells."""
        if name not in self.more:
            self.more.append(name)
        self._changed()
        at = [column.name for column in self.grid.columns].index(name)
        self.grid.go((self.grid.spot[0], at))

    def ask_conform(self) -> None:
        """Ask where the files go, and conform what is chosen, or all."""
        docket = self.session.docket
        if not docket.fittings:
            return
        first = self.session.store.path or Path(docket.photos[0].path)
        folder = QFileDialog.getExistingDirectory(
            self, t("Folder for the finished files"), str(first.parent)
        )
        if folder:
            self.conform_into(Path(folder))

    def take_outcome(self, outcome: Outcome) -> None:
        """A file has been made: its cell speaks of the bytes from now on."""
        if outcome.cell is None:
            return
        try:
            fitting = self.session.docket.fitting(outcome.fitting)
        except StopIteration:
            return
        self._keep(outcome.cell)
        self.judging.prove(outcome.cell, self._key(fitting))
        self._tally()
        self.grid.viewport().update()  # type: ignore[union-attr]

    def _working(self) -> None:
        """How far the work is stands where else one would begin something new, where there is no
        room for both."""
        for part in (self.add, self.brief):
            part.setVisible(not self.session.jobs.commands or self.width() > _ROOMY)
        self._tally()

    def _filter(self) -> None:
        self._lay()
        self._soon.start()
        self._summary()

    def _sort(self) -> None:
        self.worst_first = self.sort.isChecked()
        self._filter()
