"""The Proof card: the finished file, read back from its bytes."""

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from aptandum.core.brief.model import Brief
from aptandum.core.conform import why_of
from aptandum.core.figures import show_exact_bytes, show_size
from aptandum.core.fitting.plan import Line
from aptandum.core.fitting.record import Act, acts
from aptandum.core.judge.measures.alterations import SAID
from aptandum.core.words import listed
from aptandum.ui import theme
from aptandum.ui.bench.cards.asks import Asks
from aptandum.ui.bench.cards.card import Card
from aptandum.ui.bench.cards.finished_file import FileChip
from aptandum.ui.painting import Painter
from aptandum.ui.session import Bench
from aptandum.ui.signs import draw_sign
from aptandum.ui.strings import sentences, t
from aptandum.ui.widgets import button, clear, label


class Verdict(QWidget):
    """Ready or not, in one line with its sign."""

    def __init__(self) -> None:
        super().__init__()
        self.verdict, self.text = "unknown", ""
        self.setFixedHeight(34)

    def sizeHint(self) -> QSize:
        return QSize(240, 34)

    def take(self, verdict: str, text: str) -> None:
        """Show one line of what was read back."""
        self.verdict, self.text = verdict, text
        self.setAccessibleName(text)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = Painter(self)
        draw_sign(painter, self.verdict, QRectF(0, 8, 18, 18))
        painter.setPen(theme.colour(self.verdict))
        painter.setFont(theme.text(15, bold=True))
        painter.drawText(
            QRectF(26, 0, self.width() - 26, 34), Qt.AlignmentFlag.AlignVCenter, self.text
        )


class Record(QWidget):
    """Everything that is done to the photo, in words, beside what the brief permits."""

    def __init__(self) -> None:
        super().__init__()
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(3)
        self._said: object = None

    def take(self, done: tuple[Act, ...], brief: Brief, line: Line) -> None:
        """Show what is done to a photo, act by act, each with its cause."""
        key = (done, brief.allows, line.way)
        if key == self._said:
            return
        self._said = key
        clear(self.column)
        self.column.addWidget(label(t("What is done to the photo"), "second"))
        if not done:
            said = t("Nothing: the supplied file itself goes out, byte for byte.")
            self.column.addWidget(
                label(said if line.way == "supplied" else t("Nothing."), wrap=True)
            )
        for act in done:
            allowed = not act.word or brief.permits(act.word)
            row = label(act.says if allowed else t("{act} Not permitted.", act=act.says), wrap=True)
            row.setStyleSheet(
                f"font-size: {theme.px(12)}px"
                + ("" if allowed else f"; color: {theme.palette().misses}")
            )
            self.column.addWidget(row)
        if brief.allows is None:
            words = t("The brief does not limit what may be done.")
        else:
            words = t(
                "The brief permits: {words}.", words=listed([SAID[w] for w in brief.allows], "and")
            )
        self.column.addWidget(label(words, "second", wrap=True))


def _untouched_said(line: Line) -> str:
    if line.way == "supplied":
        return t(
            "The photo meets every rule that can be measured. The supplied file itself goes out, byte "
            "for byte; nothing is encoded anew."
        )
    return t(
        "The picture meets every rule that can be measured and goes out as it is, bit for bit. Only "
        "what lies around it in the file is changed."
    )


class ProofCard(Card):
    """What the bytes themselves say, and what only a person can."""

    station = "proof"

    def build(self) -> None:
        """Lay out what was made and how it was read back."""
        self.verdict = Verdict()
        self.column.addWidget(self.verdict)
        self.state = label("", "second", wrap=True)
        self.column.addWidget(self.state)
        self.chip = FileChip(self.session)
        self.column.addWidget(self.chip)
        handing = QHBoxLayout()
        handing.setSpacing(14)
        self.copies = button(t("Copy file"), "link", self.session.requests.copy.emit)
        self.copies.setToolTip(t("Put the file on the clipboard (Ctrl+Shift+C)"))
        self.folder = button(t("Open folder"), "link", self.session.requests.folder.emit)
        self.folder.setToolTip(t("Open the folder that it was written to (Ctrl+Shift+L)"))
        self.report = button(t("Report…"), "link", self.session.requests.report.emit)
        self.report.setToolTip(t("Write the conformity report (Ctrl+Shift+T)"))
        for part in (self.copies, self.folder, self.report):
            handing.addWidget(part)
        handing.addStretch(1)
        self.column.addLayout(handing)
        self.rule()
        self.asks = Asks(self.session)
        self.column.addWidget(self.asks)
        self.below_asks = self.rule()
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

    def _tell_written(self, words: str) -> None:
        self.written.setText(words)
        self.written.setVisible(bool(words))

    def show_bench(self, bench: Bench) -> None:
        """Show what the bytes say of themselves, by each reader."""
        proof = bench.proof
        if proof is None and bench.goes_out_as_it_is:
            self.verdict.take("meets", t("It meets as it is"))
            self.state.setText(_untouched_said(bench.line))
            for row in (self.pixels, self.count, self.how, self.reader):
                row.take("–")
            self._tell_written("")
        elif proof is None:
            self.verdict.take("unknown", t("Not made yet"))
            self.state.setText(
                t(
                    "Conform to brief makes the file and reads its bytes back. Until then nothing "
                    "here can be said to be met."
                )
            )
            for row in (self.pixels, self.count, self.how, self.reader):
                row.take("–")
            self._tell_written("")
        else:
            findings = proof.findings
            counts = findings.counts()
            if proof.ready and counts["asks"]:
                self.verdict.take("asks", t("Ready, once you confirm"))
            elif proof.ready:
                self.verdict.take("meets", t("Ready"))
            else:
                self.verdict.take("misses", t("Not ready"))
            summary = findings.summary()
            text = t("{what}.", what=summary[:1].upper() + summary[1:])
            told = (text, proof.made.trouble, *proof.line.notes)
            self.state.setText(sentences([part for part in told if part]))
            w, h = proof.line.frame.output
            self.pixels.take(show_size((w, h)))
            self.count.take(show_exact_bytes(len(proof.made.data)))
            self.how.take(proof.made.says())
            self.reader.take("Pillow")
            written = (
                t("Written: {path}", path=bench.written)
                if bench.written
                else t("Not written to disk yet.")
            )
            self._tell_written(written)
        if proof is not None:
            done = proof.record
        else:
            settings, people = bench.fitting.settings, self.session.model.people()
            why = why_of(bench.photo, bench.brief, settings, bench.line, people)
            done = acts(bench.photo.facts, bench.line, why)
        self.record.take(done, bench.brief, bench.line)
        self.asks.show_bench(bench)
        self.below_asks.setHidden(self.asks.isHidden())
        self.chip.refresh()
        for part in (self.copies, self.folder, self.report):
            part.setVisible(proof is not None)
        self.folder.setVisible(bench.written is not None)
