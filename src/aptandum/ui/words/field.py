"""Where rules are typed, pasted and shown read: each phrase marked by what it became."""

from __future__ import annotations

import re
from collections.abc import Sequence

from PyQt6.QtCore import QEvent, QMimeData, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QTextCharFormat, QTextCursor
from PyQt6.QtWidgets import QPlainTextEdit, QTextEdit

from aptandum.core.rulebook.words import Draft, Reading
from aptandum.core.rulebook.words.patterns import search
from aptandum.core.rulebook.words.sources import of_html, of_plain
from aptandum.ui import theme
from aptandum.ui.strings import t

_LINES = 8
"""Lines of a text that the field grows to; more are scrolled to."""


def words_on(data: QMimeData | None) -> str:
    """The text of a drop or of the clipboard; tables and lists of a page are read as such."""
    if data is None:
        return ""
    if data.hasHtml() and search(r"<(?:td|th|li|h[1-6])\b", data.html(), int(re.I)):
        return of_html(data.html())
    return of_plain(data.text()) if data.hasText() else ""


class WordsField(QPlainTextEdit):
    """Where rules are typed or pasted; Ctrl+Return takes them, Tab goes on."""

    taken = pyqtSignal()

    def __init__(self, tall: bool = False) -> None:
        """Args:
        tall: it takes the height that there is; else it grows with its text.
        """
        super().__init__()
        self.tall = tall
        self.setAccessibleName(t("Rules in words"))
        self.setPlaceholderText(t("413 x 531 px, jpeg, at most 200 kB"))
        self.setTabChangesFocus(True)
        self.setMinimumHeight(34)
        self.textChanged.connect(self._grow)
        self._marks: list[QTextEdit.ExtraSelection] = []
        self._grow()

    def _grow(self) -> None:
        """As high as the text asks for, up to a point."""
        if self.tall:
            return
        document = self.document()
        shown = (
            int(document.size().height()) if document is not None else 1
        )  # wrapped lines, not pixels
        lines = min(max(shown, 2), _LINES)
        self.setMaximumHeight(lines * self.fontMetrics().lineSpacing() + 18)

    # -- the words that became rules --------------------------------------------------------------

    def mark(
        self, reading: Reading | None, answered: list[Draft], out: Sequence[Draft] = ()
    ) -> None:
        """Mark what became a rule, what can be read in another way, what a person is asked, and, by a
        line through it, the numbers that are no rule or of a rule that was thrown out."""
        marks = []
        for draft in reading.drafts if reading else ():
            sure = draft.certainty == "sure" or draft in answered
            ground = "meets_band" if sure else "advises_band"
            if "ask" in draft.fields and sure:
                ground = "blue_soft"
            if draft in out:
                ground = ""
            spans = draft.numbers or ((draft.start, draft.end),)
            marks += [self._mark(span, ground) for span in spans]
        for aside in reading.asides if reading else ():
            if not aside.counts:
                marks.append(self._mark((aside.start, aside.end), ""))
        self._marks = marks
        self.setExtraSelections(marks)

    def spans(self, places: Sequence[tuple[int, int]]) -> None:
        """Mark these places as words that are a rule."""
        self._marks = [self._mark(place, "meets_band") for place in places]
        self.setExtraSelections(self._marks)

    def light(self, draft: Draft | None) -> None:
        """Light the sentence of a rule, beside the marks; ``None``: none."""
        self.light_span((draft.start, draft.end) if draft is not None else None)

    def light_span(self, span: tuple[int, int] | None) -> None:
        """Light a place and bring it into view; ``None``: none."""
        if span is None:
            self.setExtraSelections(self._marks)
            return
        if any(
            mark.cursor.selectionStart() == self._units(span[0])
            and mark.cursor.selectionEnd() == self._units(span[1])
            for mark in self._marks
        ):
            self.setExtraSelections([*self._marks, self._mark(span, "blue_soft")])
        else:
            self.setExtraSelections([self._mark(span, "blue_soft"), *self._marks])
        bar = self.verticalScrollBar()
        if bar is not None:
            cursor = QTextCursor(self.document())
            cursor.setPosition(self._units(span[0]))
            if not 0 <= self.cursorRect(cursor).top() < self.height() - 20:
                bar.setValue(cursor.blockNumber())

    def position(self) -> int:
        """Where the cursor is, in characters of the text."""
        return self._letters(self.textCursor().position())

    def chosen(self) -> tuple[int, int]:
        """The chosen words, in characters of the text; nothing: twice the same place."""
        cursor = self.textCursor()
        return self._letters(cursor.selectionStart()), self._letters(cursor.selectionEnd())

    def _letters(self, units: int) -> int:
        held = self.toPlainText().encode("utf-16-le", "surrogatepass")[: 2 * units]
        return len(held.decode("utf-16-le", "ignore"))

    def _units(self, at: int) -> int:
        """A place in the text as the document counts it: a letter outside the first plane is two."""
        return len(self.toPlainText()[:at].encode("utf-16-le", "surrogatepass")) // 2

    def _mark(self, span: tuple[int, int], ground: str) -> QTextEdit.ExtraSelection:
        look = QTextCharFormat()
        if ground:
            look.setBackground(theme.colour(ground))
        else:
            look.setFontStrikeOut(True)
            look.setForeground(theme.colour("ink2"))
        cursor = QTextCursor(self.document())
        cursor.setPosition(self._units(span[0]))
        cursor.setPosition(self._units(span[1]), QTextCursor.MoveMode.KeepAnchor)
        made = QTextEdit.ExtraSelection()
        made.cursor, made.format = cursor, look
        return made

    def event(self, event: QEvent | None) -> bool:
        """Ctrl+Return is for this field while it is typed in, whatever else it means."""
        override = event is not None and event.type() == QEvent.Type.ShortcutOverride
        if override and isinstance(event, QKeyEvent) and _takes(event):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Ctrl+Return is the button below."""
        assert event is not None
        if _takes(event):
            self.taken.emit()
            return
        super().keyPressEvent(event)

    def insertFromMimeData(self, source: QMimeData | None) -> None:
        """What is pasted is text; tables and lists of a page come as such."""
        self.insertPlainText(words_on(source))


def _takes(event: QKeyEvent) -> bool:
    enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
    return enter and bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
