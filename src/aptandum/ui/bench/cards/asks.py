"""What only a person can say: asked one by one, each with its evidence, answered by name."""

from __future__ import annotations

from functools import partial
from math import ceil
from typing import Any

from PyQt6.QtCore import QRect, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QImage, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import (
    QAbstractButton,
    QButtonGroup,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.docket.model import Answer
from aptandum.core.fitting.live import placed
from aptandum.core.fitting.record import laid
from aptandum.core.judge.beside_backdrop import backdrop_told, of_backdrop
from aptandum.core.judge.beside_question import told
from aptandum.core.judge.findings import Finding
from aptandum.core.photo.backdrop import Mask, NoMask
from aptandum.core.photo.evidence import evidence
from aptandum.core.words import listed
from aptandum.ui import preferences, theme
from aptandum.ui.images import to_image
from aptandum.ui.painting import Painter
from aptandum.ui.session import Bench, Session, person
from aptandum.ui.signs import draw_sign
from aptandum.ui.strings import commas, sentences, t
from aptandum.ui.widgets import button, clear, label

FACE, BESIDE, WHOLE, EDGE = "face", "beside", "whole", "edge"
_NAMES = {FACE: t("Face"), BESIDE: t("Beside"), WHOLE: t("Whole"), EDGE: t("Edge")}
_EDGE_TIMES = 6


class Shown(QWidget):
    """The evidence: parts of the picture, enlarged or beside one another. A press shows the next
    kind."""

    pressed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.parts: list[tuple[QImage, str]] = []
        self.across = False
        self.crisp = False
        self.setFixedHeight(0)

    def sizeHint(self) -> QSize:
        return QSize(248, self.height())

    def take(
        self, parts: list[tuple[QImage, str]], across: bool = False, crisp: bool = False
    ) -> None:
        """Show pictures with their captions, one below another or ``across``."""
        self.parts = [(image, words) for image, words in parts if not image.isNull()]
        self.across, self.crisp = across, crisp
        self.setFixedHeight(self._height())
        self.setAccessibleName(commas([words for _image, words in self.parts]))
        self.update()

    def _height(self) -> int:
        """No more than the pictures and their captions take, side by side or one below another."""
        n = len(self.parts)
        if not n:
            return 0
        wide = (248 - 6 * (n - 1)) / n if self.across else 248
        rows = [
            wide * image.height() / image.width() + (15 if words else 0)
            for image, words in self.parts
        ]
        high = max(rows) if self.across else max(rows) * n + 6 * (n - 1)
        return min(196, ceil(high))

    def boxes(self) -> list[QRectF]:
        """Where the parts lie, in widget pixels."""
        n = max(1, len(self.parts))
        if self.across:
            wide = (self.width() - 6 * (n - 1)) / n
            return [QRectF(i * (wide + 6), 0, wide, self.height()) for i in range(n)]
        high = (self.height() - 6 * (n - 1)) / n
        return [QRectF(0, i * (high + 6), self.width(), high) for i in range(n)]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = Painter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, not self.crisp)
        for (part, words), room in zip(self.parts, self.boxes(), strict=False):
            caption = 15.0 if words else 0.0
            inner = room.adjusted(0, 0, 0, -caption)
            scale = min(inner.width() / part.width(), inner.height() / part.height())
            box = QRectF(0, 0, part.width() * scale, part.height() * scale)
            box.moveCenter(inner.center())
            if not self.crisp and scale < 0.5:
                ratio = self.devicePixelRatioF()
                part = part.scaled(
                    round(box.width() * ratio),
                    round(box.height() * ratio),
                    Qt.AspectRatioMode.IgnoreAspectRatio,
                    Qt.TransformationMode.SmoothTransformation,
                )
            painter.drawImage(box, part)
            painter.setPen(theme.colour("ink2"))
            painter.setFont(theme.tight(11))
            painter.drawText(
                QRectF(room.left(), box.bottom() + 1, room.width(), 14),
                Qt.AlignmentFlag.AlignCenter,
                words,
            )

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.pressed.emit()


class Answered(QAbstractButton):
    """One question in the list: its sign, and who answered when. A press asks it again."""

    def __init__(self, asked: Finding, answer: Answer | None, before: bool, now: bool) -> None:
        super().__init__()
        self.clause, self.answer, self.now = asked.clause, answer, now
        self.words = asked.question
        if answer is None:
            self.verdict, self.state = "asks", t("not answered")
        else:
            yes = t("it is so") if answer.met else t("it is not so")
            if before:
                self.verdict = "asks"
                self.state = t("before the picture changed: {yes}, {by}", yes=yes, by=answer.by)
            else:
                when = answer.at.replace("T", " ")[:16]
                self.verdict = "meets" if answer.met else "misses"
                self.state = t("{yes}: {by}, {at}", yes=yes, by=answer.by, at=when)
        self.setAccessibleName(t("{name}: {value}", name=self.words, value=self.state))
        self.setToolTip(self.words)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFixedHeight(36)

    def sizeHint(self) -> QSize:
        return QSize(248, 36)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = Painter(self)
        if self.now:
            painter.fillRect(self.rect(), theme.colour("blue_soft"))
        draw_sign(painter, self.verdict, QRectF(4, 4, 13, 13))
        painter.setFont(theme.tight(12, bold=self.now))
        painter.setPen(theme.colour("ink"))
        room = self.width() - 28
        text = painter.fontMetrics().elidedText(self.words, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QRectF(24, 2, room, 16), Qt.AlignmentFlag.AlignVCenter, text)
        painter.setFont(theme.tight(11))
        painter.setPen(theme.colour(self.verdict))
        state = painter.fontMetrics().elidedText(self.state, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QRectF(24, 18, room, 15), Qt.AlignmentFlag.AlignVCenter, state)
        if self.hasFocus():
            painter.setPen(QPen(theme.colour("blue"), 2))
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))


class Asks(QWidget):
    """What only a person can answer, one question at a time."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.at = ""  # the clause that is asked
        self.kind = ""
        self._behind = False  # it asks about the backdrop
        self._whole = False  # it asks how old the photo is, which no part of it tells
        self._says = ""  # what was found of that
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.head = label("", "second")
        column.addWidget(self.head)
        self.question = label("", wrap=True)
        self.question.setStyleSheet(theme.scaled("font-size: 15px; font-weight: 600"))
        column.addWidget(self.question)
        self.quote = label("", "second", wrap=True)
        column.addWidget(self.quote)
        self.was = label("", "", wrap=True)
        self.was.setVisible(False)
        column.addWidget(self.was)
        kinds = QHBoxLayout()
        kinds.setSpacing(2)
        self.kinds: dict[str, QPushButton] = {}
        group = QButtonGroup(self)
        for kind, words in _NAMES.items():
            made = button(words, "view", partial(self._choose_kind, kind))
            made.setCheckable(True)
            group.addButton(made)
            self.kinds[kind] = made
            kinds.addWidget(made)
        kinds.addStretch(1)
        column.addLayout(kinds)
        self.shown = Shown()
        self.shown.pressed.connect(self._next_kind)
        column.addWidget(self.shown)
        self.reads = label("", "second", wrap=True)
        column.addWidget(self.reads)
        self._answering(column)
        self.again = button(t("All as before"), "link", session.answers.confirm_again)
        self.again.setToolTip(
            t("Say the same of the picture as it is now. Look at it first: it has changed.")
        )
        column.addWidget(self.again)
        self.list = QVBoxLayout()
        self.list.setSpacing(2)
        column.addLayout(self.list)
        self.rows: list[Answered] = []
        self._listed: object = None
        self._seen: object = None
        self._images: dict[str, tuple[Any, QImage]] = {}

    def _answering(self, column: QVBoxLayout) -> None:
        """The answers, and who gives them."""
        acts = QHBoxLayout()
        acts.setSpacing(8)
        self.yes = button(t("It is so"), "line", lambda: self.answer(True))
        self.no = button(t("It is not"), "line", lambda: self.answer(False))
        self.back = button(t("Take back"), "link", lambda: self.answer(None))
        for part in (self.yes, self.no, self.back):
            acts.addWidget(part)
        acts.addStretch(1)
        column.addLayout(acts)
        who = QHBoxLayout()
        who.addWidget(label(t("Answered by"), "second"))
        self.who = QLineEdit()
        self.who.setAccessibleName(t("Name of the person who answers"))
        self.who.setMaxLength(80)
        self.who.editingFinished.connect(self._named)
        who.addWidget(self.who, 1)
        column.addLayout(who)

    # -- what is asked -----------------------------------------------------------------------

    def show_bench(self, bench: Bench) -> None:
        """Show the clauses that ask a person, and what was answered."""
        asked = [f for f in bench.live.findings if f.asked and f.verdict != "idle"]
        self.setVisible(bool(asked))
        if not asked:
            return
        answers = {a.clause: a for a in bench.fitting.answers}
        names = [finding.clause.id for finding in asked]
        open_ = [f.clause.id for f in bench.live.findings if f.verdict == "asks"]
        if self.at not in names:
            self.at = next((n for n in names if n in open_), names[0])
        before = {answer.clause for answer in self.session.answers.before()}
        self.again.setVisible(len(before) > 1)
        self._show_question(asked, answers, before)
        self._show_list(asked, answers, before)
        self._show_evidence(bench)
        if not self.who.hasFocus():
            self.who.setText(person())

    def ask(self, clause_id: str) -> None:
        """Go to the question of a clause."""
        self.at = clause_id
        self._refresh()

    def _refresh(self) -> None:
        if self.session.bench is not None:
            self.show_bench(self.session.bench)

    def _show_question(
        self, asked: list[Finding], answers: dict[str, Answer], before: set[str]
    ) -> None:
        n = next(i for i, finding in enumerate(asked) if finding.clause.id == self.at)
        clause = asked[n].clause
        about = of_backdrop(clause.ask), clause.measure == "shot_age"
        self._says = asked[n].says if about[1] and asked[n].verdict == "asks" else ""
        if about != (self._behind, self._whole):
            self._behind, self._whole = about
            self.kind = ""  # another part of the picture tells of it
        self.head.setText(
            t("What only you can say, {n} of {all}", n=n + 1, all=len(asked))
            if len(asked) > 1
            else t("What only you can say")
        )
        held = answers.get(clause.id)
        self.was.setVisible(clause.id in before)
        if held is not None:
            yes = t("it is so") if held.met else t("it is not so")
            self.was.setText(t("Before it changed, {by}: {yes}.", by=held.by, yes=yes))
        self.question.setText(asked[n].question)
        said = clause.quote or clause.note
        self.quote.setText(f"“{said}”" if clause.quote else said)
        self.quote.setVisible(bool(said) and said != clause.ask)
        self.back.setVisible(clause.id in answers)

    def _show_list(
        self, asked: list[Finding], answers: dict[str, Answer], before: set[str]
    ) -> None:
        key = (
            tuple(f.clause.id for f in asked),
            tuple(answers.values()),
            frozenset(before),
            self.at,
        )
        if key == self._listed:
            return
        self._listed = key
        clear(self.list)
        self.rows = []
        for finding in asked:
            clause = finding.clause
            held = answers.get(clause.id)
            row = Answered(finding, held, clause.id in before, clause.id == self.at)
            row.clicked.connect(partial(self.ask, clause.id))
            self.rows.append(row)
            self.list.addWidget(row)

    def answer(self, met: bool | None) -> None:
        """Record an answer and go to the next question that has none."""
        bench = self.session.bench
        if bench is None:
            return
        here = self.at
        self._named()
        asked = [f for f in bench.live.findings if f.asked]
        names = [f.clause.id for f in asked]
        left = {f.clause.id for f in asked if f.verdict == "asks"} - {here}
        later = [n for n in names[names.index(here) + 1 :] + names if n in left]
        if met is not None and later:
            self.at = later[0]
        self.session.answers.confirm(here, met)

    def _named(self) -> None:
        """Keep the name, where a person has given one."""
        name = self.who.text().strip()
        if name and name != person():
            preferences.use_person(name)

    # -- evidence ----------------------------------------------------------------------------

    def _choose_kind(self, kind: str) -> None:
        self.kind = kind
        self._seen = None
        self._refresh()

    def _next_kind(self) -> None:
        shown = [k for k, made in self.kinds.items() if not made.isHidden()]
        if shown:
            at = shown.index(self.kind) if self.kind in shown else -1
            self._choose_kind(shown[(at + 1) % len(shown)])

    def _show_evidence(self, bench: Bench) -> None:
        marks, people = self.session.marking.marks(), self.session.model.people()
        ready = bench.fitted is not None and bench.draft_is_current
        faces = bench.wants_marks and marks is not None and people is not None
        line = "keyline" in bench.line.finish.on
        here = {FACE: faces, BESIDE: True, WHOLE: True, EDGE: line}
        if not here.get(self.kind, False):
            of_all = self._behind or self._whole
            self.kind = WHOLE if of_all else FACE if faces else EDGE if line else BESIDE
        mask = self._mask() if self._behind and self.kind == WHOLE else None
        pictures = id(bench.fitted), id(bench.preview), id(mask)
        key = (pictures, marks, self.kind, ready, line, self._says)
        if key == self._seen:
            return
        self._seen = key
        for kind, made in self.kinds.items():
            made.setVisible(here[kind])
            made.setChecked(kind == self.kind)
        self.reads.setText("")
        if not ready:
            self.shown.take([])
        elif self.kind == FACE and marks is not None and people is not None:
            self._show_face(bench)
        elif self.kind == EDGE:
            whole = self._image("fitted", bench.fitted)
            wide, high = max(1, 240 // _EDGE_TIMES), max(1, 176 // _EDGE_TIMES)
            corner = whole.copy(0, 0, min(wide, whole.width()), min(high, whole.height()))
            words = t("upper left corner, {n} times as large", n=_EDGE_TIMES)
            self.shown.take([(corner, words)], crisp=True)
        elif self.kind == BESIDE and bench.preview is not None:
            supplied = self._image("supplied", bench.preview)
            finished = self._image("fitted", bench.fitted)
            self.shown.take(
                [(supplied, t("as supplied")), (finished, t("in the file"))], across=True
            )
        else:
            self.shown.take([(self._image("fitted", bench.fitted), t("in the file"))])
            self.reads.setText(self._says)
            if mask is not None:
                self._tell_backdrop(bench, mask)
        self.reads.setVisible(bool(self.reads.text()))

    def _mask(self) -> Mask | None:
        try:
            return self.session.pixels.mask()
        except NoMask:
            return None  # it is still being looked for, or nothing stands out

    def _tell_backdrop(self, bench: Bench, mask: Mask) -> None:
        see = laid(bench.photo.facts, bench.line, see_mask=lambda: mask).see_cover
        assert see is not None
        if said := backdrop_told(bench.fitted, see):
            self.reads.setText(sentences([*said, t("This is evidence only: you decide.")]))

    def _image(self, name: str, picture: Any) -> QImage:
        held = self._images.get(name)
        if held is None or held[0] is not picture:
            held = picture, to_image(picture)
            self._images[name] = held
        return held[1]

    def _show_face(self, bench: Bench) -> None:
        marks, people = self.session.marking.marks(), self.session.model.people()
        assert marks is not None and people is not None
        at = people.hand.face or 0
        face = people.faces[at] if at < len(people.faces) else None
        left, top, scale, angle = placed(bench.line)
        there = marks.swung(angle, bench.line.source.shown).placed(left, top, scale)
        found = evidence(bench.fitted, there, face)
        whole = self._image("fitted", bench.fitted)
        parts = []
        for (x, y, wide, high), words in ((found.eyes, t("eyes")), (found.mouth, t("mouth"))):
            box = QRect(round(x), round(y), round(wide), round(high))
            parts.append((whole.copy(box.intersected(whole.rect())), words))
        self.shown.take(parts)
        said = [found.says] if found.says else []
        if found.red:
            said.append(t("There may be red in the {eyes} eye.", eyes=listed(found.red, "and")))
        said += told(bench.fitted, there)
        said.append(t("This is evidence only: you decide."))
        self.reads.setText(sentences(said))


def answered(finding: Finding) -> bool:
    """Whether a person has said anything to a question."""
    return finding.asked and finding.verdict not in ("asks", "idle")
