"""What changed between two editions of a rulebook, and which fittings it breaks."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from aptandum.core.brief.model import Rulebook
from aptandum.core.docket.takeover import Broken
from aptandum.core.rulebook.editions import Difference, compare
from aptandum.core.words import show_day
from aptandum.ui import theme
from aptandum.ui.signs import Sign
from aptandum.ui.strings import joined, t, t_n
from aptandum.ui.widgets import button, clear, hairline, label


def kind_said(kind: str) -> str:
    """A kind of change in words."""
    return {
        "added": t("added"),
        "removed": t("removed"),
        "limit": t("number"),
        "strength": t("strength"),
        "applies": t("applies"),
        "wording": t("wording"),
        "brief": t("brief"),
    }[kind]


class ChangesView(QScrollArea):
    """Clause by clause: what kind of change, what it was, and what it is now."""

    take_over = pyqtSignal(object)
    open_fitting = pyqtSignal(str)
    compare_asked = pyqtSignal()
    keep_asked = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(t("What changed"))
        self.setWidgetResizable(True)
        inner = QWidget()
        inner.setProperty("role", "panel")
        self.column = QVBoxLayout(inner)
        self.column.setContentsMargins(20, 14, 20, 20)
        self.column.setSpacing(6)
        self.setWidget(inner)
        self.differences: tuple[Difference, ...] = ()
        self.broken: tuple[Broken, ...] = ()

    def show_none(self, book: Rulebook | None) -> None:
        """Nothing to compare: say so, and offer two files."""
        clear(self.column)
        self.differences, self.broken = (), ()
        name = book.body.name if book is not None else ""
        self.column.addWidget(label(t("What changed"), "title"))
        said = t(
            "This docket follows the edition of {body} that lies on the shelf, or has no fitting "
            "for it.",
            body=name,
        )
        self.column.addWidget(label(said, "second", wrap=True))
        self.column.addWidget(self._files(), 0, Qt.AlignmentFlag.AlignLeft)
        self.column.addStretch(1)

    def _files(self) -> QWidget:
        return button(t("Compare two rulebook files…"), "link", self.compare_asked.emit)

    def show_words(self, old: Rulebook, new: Rulebook, untouched: str) -> None:
        """New words of a body held against its rulebook; they can be kept as its next edition."""
        self.show_pair(old, new, words=True)
        if untouched:
            self.column.insertWidget(2, label(untouched, "second", wrap=True))

    def show_pair(
        self,
        old: Rulebook,
        new: Rulebook,
        broken: Sequence[tuple[Broken, str]] | None = None,
        offered: bool = False,
        words: bool = False,
    ) -> None:
        """``broken`` gives each broken fitting with its photo's name; ``None`` where no docket
        is concerned. ``words``: the newer was read from words and lies nowhere yet."""
        clear(self.column)
        self.differences = compare(old, new)
        self.broken = tuple(one for one, _name in broken or ())
        self._heading(old, new)
        if broken is not None:
            self._broken(broken)
        if offered:
            said = t("Take over edition {n}", n=new.body.edition or t("of the shelf"))
            self._act(said, t("It can be undone."), lambda: self.take_over.emit(new))
        if words and self.differences:
            said = t("Keep on the shelf as edition {n}", n=new.body.edition or "–")
            where = t("A file of your own; what comes with Aptandum stays.")
            self._act(said, where, lambda: self.keep_asked.emit(new))
        self.column.addSpacing(6)
        names = {b.id: b.title for b in (*old.briefs, *new.briefs)}
        for brief_id in dict.fromkeys(d.brief for d in self.differences):
            self.column.addWidget(hairline())
            head = label(names.get(brief_id, t("The body")), "title")
            head.setContentsMargins(0, 6, 0, 0)
            self.column.addWidget(head)
            self._table([d for d in self.differences if d.brief == brief_id])
        if not self.differences:
            self.column.addWidget(label(t("The two say the same.")))
        self.column.addSpacing(8)
        self.column.addWidget(self._files(), 0, Qt.AlignmentFlag.AlignLeft)
        self.column.addStretch(1)

    def _act(self, words: str, beside: str, act: Callable[[], object]) -> None:
        row = QHBoxLayout()
        row.addWidget(button(words, "act", act))
        row.addWidget(label(beside, "second"))
        row.addStretch(1)
        self.column.addLayout(row)

    def _heading(self, old: Rulebook, new: Rulebook) -> None:
        same = old.body.name == new.body.name
        title = new.body.name if same else f"{old.body.name} → {new.body.name}"
        self.column.addWidget(label(title, "title"))
        editions = t(
            "edition {old} → edition {new}",
            old=_edition(old),
            new=_edition(new),
        )
        n = len(self.differences)
        count = t_n("{n} change", "{n} changes", n)
        self.column.addWidget(label(joined([editions, count]), "second"))

    def _broken(self, broken: Sequence[tuple[Broken, str]]) -> None:
        n = len(broken)
        if not n:
            self.column.addWidget(label(t("It breaks no fitting of this docket.")))
            return
        said = (
            t("It breaks 1 fitting of this docket:")
            if n == 1
            else t("It breaks {n} fittings of this docket:", n=n)
        )
        self.column.addWidget(label(said))
        for one, photo in broken:
            row = QHBoxLayout()
            row.setSpacing(8)
            row.addWidget(Sign("misses"), 0, Qt.AlignmentFlag.AlignTop)
            words = QVBoxLayout()
            words.setSpacing(0)
            opener = button(
                joined([photo, one.title]),
                "link",
                partial(self.open_fitting.emit, one.fitting.id),
            )
            words.addWidget(opener, 0, Qt.AlignmentFlag.AlignLeft)
            words.addWidget(label(one.says(), "second", wrap=True))
            row.addLayout(words, 1)
            self.column.addLayout(row)

    def _table(self, differences: list[Difference]) -> None:
        holder = QWidget()
        grid = QGridLayout(holder)
        grid.setContentsMargins(0, 2, 0, 6)
        grid.setHorizontalSpacing(16)
        grid.setVerticalSpacing(7)
        for column, stretch in ((0, 0), (1, 2), (2, 3), (3, 3)):
            grid.setColumnStretch(column, stretch)
        grid.setColumnMinimumWidth(0, 66)
        grid.setColumnMinimumWidth(1, 130)
        for column, words in ((2, t("was")), (3, t("is now"))):
            grid.addWidget(label(words, "second"), 0, column)
        for i, d in enumerate(differences, start=1):
            kind = label(kind_said(d.kind))
            kind.setStyleSheet(theme.scaled("font-size: 12px; font-weight: 600"))
            grid.addWidget(kind, i, 0, Qt.AlignmentFlag.AlignTop)
            grid.addWidget(label(d.title, wrap=True), i, 1, Qt.AlignmentFlag.AlignTop)
            for column, text in ((2, d.before), (3, d.after)):
                figure = d.kind in ("limit", "added", "removed") and len(text) < 60
                cell = label(text or "–", "figure" if figure else "second", wrap=True)
                grid.addWidget(cell, i, column, Qt.AlignmentFlag.AlignTop)
        self.column.addWidget(holder)


def _edition(book: Rulebook) -> str:
    read = book.body.read_on
    return (book.body.edition or "–") + (f" ({show_day(read)})" if read else "")
