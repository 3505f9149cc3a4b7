"""One item of an audit: its picture, what is missed, and what is remembered of it."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from aptandum.core.docket.audit_lists import Told
from aptandum.core.docket.thumbs import Thumbs
from aptandum.core.figures import show_number, show_size
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.facts import shown_name
from aptandum.core.words import show_day
from aptandum.ui import theme
from aptandum.ui.desk.slip import WIDTH
from aptandum.ui.images import to_image
from aptandum.ui.session import Session
from aptandum.ui.signs import Sign, word
from aptandum.ui.strings import joined, sentences, t
from aptandum.ui.widgets import button, clear, label


def remembered(one: Told) -> str:
    """What the book says of an item, in a sentence or two; empty where it says nothing."""
    held, said = one.history, []
    if held is None:
        return ""

    def day(at: str) -> str:
        return show_day(datetime.fromisoformat(at))

    if held.first_seen:
        said.append(t("First seen on {day}.", day=day(held.first_seen)))
    if one.checked.in_danger and held.danger_since:
        said.append(t("In danger since {day}.", day=day(held.danger_since)))
    if held.mended:
        said.append(t("Mended on {day}.", day=day(held.mended)))
    if one.accepted:
        said.append(t("Accepted as it is on {day}.", day=day(held.accepted)))
    return sentences(said)


class AuditDetail(QFrame):
    """The chosen item.

    Signals:
        bench_asked, replace_asked: a button was pressed.
        accepted: the item may stay as it is, or (false) no longer.
    """

    bench_asked = pyqtSignal()
    replace_asked = pyqtSignal()
    accepted = pyqtSignal(bool)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session, self._thumbs = session, Thumbs()
        self._may = False
        self.setProperty("role", "panel")
        self.setFixedWidth(WIDTH)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 14, 16, 12)
        column.setSpacing(8)
        self.title = label("", "title", wrap=True)
        self.picture = QLabel()
        self.picture.setFixedHeight(200)
        self.picture.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.where = label("", "second", wrap=True)
        self.where.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.history = label("", "second", wrap=True)
        self.misses = QVBoxLayout()
        self.misses.setSpacing(6)
        self.misses.setContentsMargins(0, 4, 0, 0)
        self.bench = button(t("Fix on the bench"), "line", self.bench_asked.emit)
        self.replace = button(t("Replace the picture…"), "line", self.replace_asked.emit)
        self.replace.setToolTip(t("Look at another file in its place; the old one stays as it is"))
        self.accept = button("", "link", lambda: self.accepted.emit(self._may))
        for one in (self.title, self.picture, self.where, self.history):
            column.addWidget(one)
        holder = QWidget()
        holder.setProperty("role", "panel")
        holder.setLayout(self.misses)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(holder)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        column.addWidget(scroll, 1)
        for part in (self.bench, self.replace, self.accept):
            column.addWidget(part)

    def show_item(self, one: Told | None) -> None:
        """Show an item, or nothing."""
        self.setVisible(one is not None)
        if one is None:
            return
        item, checked = one.item, one.checked
        self.title.setText(item.name)
        stock = {None: "", True: t("in stock"), False: t("out of stock")}[item.in_stock]
        size = show_size(checked.size) if checked.size else ""
        name = shown_name(item.file) if item.file else t("no file is listed")
        value = "" if item.value is None else t("worth {n}", n=show_number(item.value, 2))
        self.where.setText(joined([part for part in (name, size, stock, value) if part]))
        self.where.setToolTip(item.file)
        self.history.setText(remembered(one))
        self.history.setVisible(bool(self.history.text()))
        clear(self.misses)
        lines = [(m.verdict, m.says) for m in checked.misses]
        if checked.trouble:
            lines = [("misses", checked.trouble)]
        for verdict, says in lines or [("meets", t("Every rule that can be measured is met."))]:
            made = label(t("{verdict}: {says}", verdict=word(verdict), says=says), wrap=True)
            made.setStyleSheet(f"color: {getattr(theme.palette(), verdict)}")
            row = QHBoxLayout()
            row.setSpacing(8)
            row.addWidget(Sign(verdict), 0, Qt.AlignmentFlag.AlignTop)
            row.addWidget(made, 1)
            self.misses.addLayout(row)
        self.misses.addStretch(1)
        self.bench.setVisible(checked.standing != "lost")
        self.accept.setVisible(checked.in_danger and one.history is not None)
        self._may = not one.accepted
        self.accept.setText(
            t("It may stay as it is") if self._may else t("It is in danger after all")
        )
        self.accept.setToolTip(t("It is no longer counted as in danger, until something else is wrong with it"))  # fmt: skip
        self._show_picture(one)

    def _show_picture(self, one: Told) -> None:
        self.picture.setPixmap(QPixmap())
        lost = one.checked.standing == "lost"
        self.picture.setText(t("no picture") if lost else "")
        if lost:
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
