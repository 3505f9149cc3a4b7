"""The Proof card: the finished file, read back from its bytes."""

from typing import Any

from PyQt6.QtCore import QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QImage, QPainter, QPaintEvent
from PyQt6.QtWidgets import QCheckBox, QVBoxLayout, QWidget

from aptandum.core.fitting.line import placed
from aptandum.core.fitting.record import Act, acts
from aptandum.core.judge.measures.alterations import SAID
from aptandum.core.photo.evidence import Evidence, evidence
from aptandum.core.quantity import grouped, show_exact_bytes
from aptandum.core.rulebook.model import Brief
from aptandum.core.words import listed
from aptandum.ui import theme
from aptandum.ui.bench.cards.card import Card
from aptandum.ui.bench.sheet import to_image
from aptandum.ui.session import Bench
from aptandum.ui.signs import draw_sign
from aptandum.ui.strings import t
from aptandum.ui.widgets import clear, label


class Verdict(QWidget):
    """Ready or not, in one line with its sign."""

    def __init__(self) -> None:
        super().__init__()
        self.verdict, self.text = "unknown", ""
        self.setFixedHeight(34)

    def sizeHint(self) -> QSize:
        return QSize(240, 34)

    def take(self, verdict: str, text: str) -> None:
        self.verdict, self.text = verdict, text
        self.setAccessibleName(text)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        draw_sign(painter, self.verdict, QRectF(0, 8, 18, 18))
        painter.setPen(theme.colour(self.verdict))
        painter.setFont(theme.text(15, bold=True))
        painter.drawText(
            QRectF(26, 0, self.width() - 26, 34), Qt.AlignmentFlag.AlignVCenter, self.text
        )


class Shown(QWidget):
    """Eyes and mouth of the picture, enlarged, for the person who is asked about them."""

    def __init__(self) -> None:
        super().__init__()
        self.parts: list[QImage] = []
        self.setFixedHeight(0)

    def take(self, picture: Any, found: Evidence | None) -> None:
        self.parts = []
        if found is not None and picture is not None:
            whole = to_image(picture)
            for left, top, wide, high in (found.eyes, found.mouth):
                box = QRect(round(left), round(top), round(wide), round(high))
                self.parts.append(whole.copy(box.intersected(whole.rect())))
        self.setFixedHeight(190 if self.parts else 0)
        self.setAccessibleName(t("Eyes and mouth, enlarged") if self.parts else "")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        y = 0.0
        for part in self.parts:
            if part.isNull():
                continue
            scale = min(self.width() / part.width(), 92 / part.height())
            wide, high = part.width() * scale, part.height() * scale
            painter.drawImage(QRectF((self.width() - wide) / 2, y, wide, high), part)
            y += 96


class Record(QWidget):
    """Everything that is done to the photo, in words, beside what the brief permits."""

    def __init__(self) -> None:
        super().__init__()
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(3)
        self._said: object = None

    def take(self, done: tuple[Act, ...], brief: Brief) -> None:
        key = (done, brief.allows)
        if key == self._said:
            return
        self._said = key
        clear(self.column)
        self.column.addWidget(label(t("What is done to the photo"), "second"))
        if not done:
            self.column.addWidget(label(t("Nothing: it goes out as it came."), wrap=True))
        for act in done:
            allowed = brief.permits(act.word)
            line = label(
                act.says if allowed else t("{act} Not permitted.", act=act.says), wrap=True
            )
            line.setStyleSheet(
                "font-size: 12px" + ("" if allowed else f"; color: {theme.palette().misses}")
            )
            self.column.addWidget(line)
        if brief.allows is None:
            words = t("The brief does not limit what may be done.")
        else:
            words = t(
                "The brief permits: {words}.", words=listed([SAID[w] for w in brief.allows], "and")
            )
        self.column.addWidget(label(words, "second", wrap=True))


class ProofCard(Card):
    """What the bytes themselves say, and what only a person can."""

    station = "proof"

    def build(self) -> None:
        self.verdict = Verdict()
        self.column.addWidget(self.verdict)
        self.state = label("", "second", wrap=True)
        self.column.addWidget(self.state)
        self.rule()
        self.pixels = self.row(t("Read back"))
        self.count = self.row(t("Bytes"))
        self.how = self.row(t("Written as"))
        self.reader = self.row(t("Read by"))
        self.written = label("", "second", wrap=True)
        self.written.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.column.addWidget(self.written)
        self.rule()
        self.record = Record()
        self.column.addWidget(self.record)
        self.rule()
        self.shown = Shown()
        self.column.addWidget(self.shown)
        self.reads = label("", "second", wrap=True)
        self.column.addWidget(self.reads)
        self._seen: object = None
        self.asks = QVBoxLayout()
        self.asks.setSpacing(6)
        self.column.addLayout(self.asks)
        self._asked: object = None

    def show_bench(self, bench: Bench) -> None:
        proof = bench.proof
        if proof is None:
            self.verdict.take("unknown", t("Not made yet"))
            self.state.setText(
                t("Conform to brief makes the file and reads its bytes back. Until then nothing "
                  "here can be said to be met.")
            )  # fmt: skip
            for row in (self.pixels, self.count, self.how, self.reader):
                row.take("–")
            self.written.setText("")
        else:
            findings = proof.findings
            counts = findings.counts()
            if proof.ready and counts["asks"]:
                self.verdict.take("asks", t("Ready, once you confirm"))
            elif proof.ready:
                self.verdict.take("meets", t("Ready"))
            else:
                self.verdict.take("misses", t("Not ready"))
            text = findings.summary()[:1].upper() + findings.summary()[1:] + "."
            self.state.setText(" ".join(part for part in (text, proof.made.trouble) if part))
            w, h = proof.line.frame.output
            self.pixels.take(f"{grouped(w)} × {grouped(h)} px")
            self.count.take(show_exact_bytes(len(proof.made.data)))
            self.how.take(proof.made.says())
            self.reader.take("Pillow")
            written = (
                t("Written: {path}", path=bench.written)
                if bench.written
                else t("Not written to disk yet.")
            )
            self.written.setText(written)
        self.record.take(acts(bench.photo.facts, bench.line), bench.brief)
        self._show_evidence(bench)
        self._show_asks(bench)

    def _show_evidence(self, bench: Bench) -> None:
        """Beside the questions: what they are about, large enough to be judged."""
        marks, people = self.session.marks(), self.session.people()
        asks = any(clause.ask is not None for clause in bench.brief.clauses)
        ready = asks and bench.wants_marks and marks is not None and bench.draft_is_current
        key = (id(bench.fitted), marks) if ready else None
        if key == self._seen:
            return
        self._seen = key
        if not ready or marks is None or people is None or bench.fitted is None:
            self.shown.take(None, None)
            self.reads.setText("")
            self.reads.hide()
            return
        at = people.hand.face or 0
        face = people.faces[at] if at < len(people.faces) else None
        left, top, scale, angle = placed(bench.line)
        there = marks.swung(angle, bench.line.source.shown).placed(left, top, scale)
        found = evidence(bench.fitted, there, face)
        self.shown.take(bench.fitted, found)
        said = [found.says] if found.says else []
        if found.red:
            said.append(t("There may be red in the {eyes} eye.", eyes=listed(found.red, "and")))
        said.append(t("This is evidence only: you decide."))
        self.reads.setText(" ".join(said))
        self.reads.show()

    def _show_asks(self, bench: Bench) -> None:
        asked = [clause for clause in bench.brief.clauses if clause.ask is not None]
        key = (bench.fitting.id, bench.fitting.answers)
        if key == self._asked:
            return
        self._asked = key
        clear(self.asks)
        if asked:
            self.asks.addWidget(label(t("What only you can say"), "second"))
        answers = {a.clause: a for a in bench.fitting.answers}
        for clause in asked:
            tick = QCheckBox()
            tick.setChecked(clause.id in answers)
            tick.setAccessibleName(clause.ask or "")
            tick.setText(_wrapped(clause.ask or ""))
            tick.clicked.connect(lambda on, name=clause.id: self.session.confirm(name, on))
            self.asks.addWidget(tick)
            if clause.id in answers:
                answer = answers[clause.id]
                when = answer.at.replace("T", " ")[:16]
                self.asks.addWidget(
                    label(t("Confirmed by {who}, {when}", who=answer.by, when=when), "rule")
                )


def _wrapped(text: str, width: int = 34) -> str:
    import textwrap

    return "\n".join(textwrap.wrap(text, width))
