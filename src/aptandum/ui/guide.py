"""The guide: pages that are read in the application and lie in ``docs/guide`` as well, opened at what is in view."""

from __future__ import annotations

from functools import cache
from importlib import resources

from PyQt6.QtCore import Qt
from PyQt6.QtGui import (
    QTextBlockFormat,
    QTextCharFormat,
    QTextCursor,
    QTextDocument,
)
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QListWidget, QTextBrowser, QVBoxLayout, QWidget

from aptandum.core.pages import reworded
from aptandum.core.words import as_said
from aptandum.ui import theme
from aptandum.ui.strings import t
from aptandum.ui.widgets import button

PAGES = {
    "first-file": t("Ten minutes to a first file"),
    "applicants": t("One portrait for an authority"),
    "photographers": t("A few pictures for several calls"),
    "sellers": t("Tens and thousands of pictures"),
    "screens": t("Exact pixels for a screen"),
    "rule-authors": t("Writing a body’s rules"),
    "verdicts": t("What the signs mean"),
}
"""By name, in the order in which they are read."""
IN_VIEW = {"start": "first-file", "board": "photographers", "bench": "verdicts", "rulebooks": "rule-authors", "desk": "sellers"}  # fmt: skip
"""Which page is about what is in view."""


@cache
def page(name: str) -> str:
    """A page as Markdown, in the language in use, paragraph by paragraph; what runs as it stands is never translated."""
    text = resources.files("aptandum.data").joinpath(f"guide/{name}.md").read_text("utf-8")
    return reworded(text, as_said)


_PROPORTIONAL = int(QTextBlockFormat.LineHeightTypes.ProportionalHeight.value)  # type: ignore[call-overload]


def _spaced(document: QTextDocument) -> None:
    """Air between paragraphs, and headings of a page rather than of a poster."""
    document.setDocumentMargin(18)
    cursor, block = QTextCursor(document), document.begin()
    while block.isValid():
        shape, level = block.blockFormat(), block.blockFormat().headingLevel()
        listed = block.textList() is not None
        shape.setTopMargin(16 if level == 2 else 0)
        shape.setBottomMargin(3 if listed else 8)
        shape.setNonBreakableLines(False)  # a long call has no more room than a sentence
        shape.setLineHeight(118, _PROPORTIONAL)
        cursor.setPosition(block.position())
        cursor.setBlockFormat(shape)
        if level:
            cursor.movePosition(
                QTextCursor.MoveOperation.EndOfBlock, QTextCursor.MoveMode.KeepAnchor
            )
            large = QTextCharFormat()
            large.setFont(theme.text(20 if level == 1 else 15, bold=True))
            cursor.mergeCharFormat(large)
        block = block.next()


class GuideDialog(QDialog):
    """The pages beside their list."""

    def __init__(self, name: str = "first-file", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(t("Guide"))
        self.resize(860, 640)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 16, 16, 16)
        both = QHBoxLayout()
        both.setSpacing(16)
        self.list = QListWidget()
        self.list.setAccessibleName(t("Pages of the guide"))
        self.list.addItems(list(PAGES.values()))
        self.list.setFixedWidth(max(230, self.list.sizeHintForColumn(0) + 24))  # no title is cut
        self.text = QTextBrowser()
        self.text.setOpenLinks(False)
        self.text.setAccessibleName(t("The page"))
        both.addWidget(self.list)
        both.addWidget(self.text, 1)
        column.addLayout(both, 1)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(button(t("Close"), "", self.close))
        column.addLayout(row)
        self.list.currentRowChanged.connect(self._show)
        self.open_at(name)

    def open_at(self, name: str) -> None:
        """Show a page, by its name."""
        self.list.setCurrentRow(list(PAGES).index(name))

    def _show(self, row: int) -> None:
        self.text.setMarkdown(page(list(PAGES)[row]))
        document = self.text.document()
        if document is not None:
            _spaced(document)
        bar = self.text.verticalScrollBar()
        if bar is not None:
            bar.setValue(0)
        self.text.setTextInteractionFlags(Qt.TextInteractionFlag.TextBrowserInteraction)
