"""One hand-over: its receipt, the desk's reasons beside our own figures, and its history."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QFrame, QScrollArea, QVBoxLayout, QWidget

from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.docket.hand_over import OVER, HandOver, Reason
from aptandum.core.figures import show_exact_bytes
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.words import listed
from aptandum.ui import theme
from aptandum.ui.desk.state import LOOK, draw_state, said, when
from aptandum.ui.painting import Painter
from aptandum.ui.signs import draw_sign, word
from aptandum.ui.strings import t
from aptandum.ui.widgets import Row, button, clear, hairline, label

WIDTH, NARROW = 340, 292

BriefOf = Callable[[str], tuple[Rulebook, Brief] | None]


class Two(QWidget):
    """What we say above what the desk says: two lines that are never one."""

    def __init__(self) -> None:
        super().__init__()
        self.item: HandOver | None = None
        self.setFixedHeight(64)

    def sizeHint(self) -> QSize:
        return QSize(280, 64)

    def take(self, item: HandOver) -> None:
        """Show what stands here now."""
        self.item = item
        ours = t("We say: {verdict}", verdict=word(item.verdict))
        self.setAccessibleName(t("{ours}. The desk says: {theirs}", ours=ours, theirs=said(item)))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.item is None:
            return
        painter = Painter(self)
        flags = Qt.AlignmentFlag.AlignVCenter
        verdict = self.item.verdict
        ours = {
            "meets": t("meets, as it was handed over"),
            "misses": t("misses: {what}", what=self.item.we_say),
            "unknown": t("unknown: {what}", what=self.item.we_say),
        }[verdict]
        lines = (
            (t("We say"), verdict, ours, verdict),
            (t("The desk says"), "", said(self.item), LOOK[self.item.state][1]),
        )
        for i, (who, sign, words, token) in enumerate(lines):
            top = i * 32
            painter.setPen(theme.colour("ink2"))
            painter.setFont(theme.text(12))
            painter.drawText(QRectF(0, top, 86, 28), flags, who)
            if sign:
                draw_sign(painter, sign, QRectF(90, top + 7, 14, 14))
            elif self.item.state not in ("ready", "sending"):
                draw_state(painter, self.item.state, QRectF(89, top + 6, 16, 16))
            painter.setPen(theme.colour(token))
            painter.setFont(theme.text(13, bold=True))
            box = QRectF(112, top, self.width() - 112, 28)
            shown = painter.fontMetrics().elidedText(
                words, Qt.TextElideMode.ElideRight, int(box.width())
            )
            painter.drawText(box, flags, shown)


class Receipt(QFrame):
    """The desk's receipt, as a slip of paper with a torn edge; before there is one, an empty
    outline that says so."""

    def __init__(self) -> None:
        super().__init__()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 12, 14, 16)
        layout.setSpacing(3)
        self.head = label("", "second")
        self.number = label("")
        self.number.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        layout.addWidget(self.head)
        layout.addWidget(self.number)
        self.rows = {
            name: Row(text)
            for name, text in (
                ("received", t("Received")),
                ("file", t("File")),
                ("bytes", t("Bytes")),
                ("sha256", "SHA-256"),
            )
        }
        for row in self.rows.values():
            layout.addWidget(row)
        self.held = False

    def take(self, item: HandOver, body: str) -> None:
        """Show what stands here now."""
        self.held = bool(item.number)
        none = t("No receipt") if item.state in OVER else t("No receipt yet")
        self.head.setText(t("Receipt of {body}", body=body) if self.held else none)
        self.number.setText(item.number or "–")
        self.number.setStyleSheet(
            theme.scaled(f'font-family: "{theme.MONO}"; font-size: 20px; font-weight: 600')
        )
        self.rows["received"].setVisible(self.held)
        self.rows["received"].take(when(item.received))
        self.rows["file"].take(item.name)
        self.rows["bytes"].take(show_exact_bytes(item.bytes))
        self.rows["sha256"].take(" ".join(item.sha256[i : i + 8] for i in range(0, 24, 8)) + " …")
        self.rows["sha256"].setToolTip(item.sha256)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = Painter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
        if not self.held:
            pen = QPen(theme.colour("ink2"), 1, Qt.PenStyle.DashLine)
            painter.setPen(pen)
            painter.drawRoundedRect(box, theme.RADIUS, theme.RADIUS)
            return
        painter.fillRect(box, theme.colour("field"))
        painter.setPen(theme.colour("hairline"))
        painter.drawRect(box)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("panel"))
        for x in range(4, int(box.width()), 12):  # perforated below, where it was torn off
            painter.drawEllipse(QRectF(x, box.bottom() - 3, 6, 6))


class Slip(QFrame):
    """The chosen hand-over: its receipt, its history, and what can be done with it."""

    again_asked = pyqtSignal()
    retire_asked = pyqtSignal()
    bench_asked = pyqtSignal(str)
    try_asked = pyqtSignal()

    def __init__(self, brief_of: BriefOf) -> None:
        super().__init__()
        self.setProperty("role", "panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(WIDTH)
        self.brief_of = brief_of
        self.item: HandOver | None = None
        self._shown: object = None
        inner = QWidget()
        inner.setProperty("role", "panel")
        column = QVBoxLayout(inner)
        column.setContentsMargins(16, 14, 16, 12)
        column.setSpacing(8)
        self.several = label("", wrap=True)
        self.two = Two()
        self.receipt = Receipt()
        self.reasons = QVBoxLayout()
        self.reasons.setSpacing(4)
        self.acts = QVBoxLayout()
        self.acts.setSpacing(6)
        self.again = button(t("Ask for a new review"), "line", self.again_asked.emit)
        self.mend = button(t("Fix on the bench"), "line", self._bench)
        self.now = button(t("Try now"), "line", self.try_asked.emit)
        self.retire = button(t("Retire"), "", self.retire_asked.emit)
        self.copy = button(t("Copy the receipt"), "", self.copy_receipt)
        for one in (self.again, self.mend, self.now, self.retire, self.copy):
            self.acts.addWidget(one)
        self.history = QVBoxLayout()
        self.history.setSpacing(2)
        for part in (self.several, self.two, self.receipt):
            column.addWidget(part)
        column.addLayout(self.reasons)
        column.addLayout(self.acts)
        column.addWidget(hairline())
        column.addLayout(self.history)
        column.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(inner)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(scroll)

    def take(self, items: list[HandOver]) -> None:
        """Show the one that is chosen; of several, what can be done with them."""
        if items == self._shown:
            return
        self._shown = list(items)
        self.item = items[0] if len(items) == 1 else None
        one = self.item
        for part in (self.two, self.receipt):
            part.setVisible(one is not None)
        self.several.setVisible(len(items) > 1)
        self.several.setText(t("{n} chosen", n=len(items)))
        clear(self.reasons)
        clear(self.history)
        numbered = [i for i in items if i.number]
        self.again.setVisible(any(i.state in ("held", "refused") for i in numbered))
        self.retire.setVisible(
            any(i.state not in ("retired", "replaced", "withdrawn", "refused") for i in items)
        )
        self.retire.setText(
            t("Withdraw, unsent") if one is not None and one.state == "ready" else t("Retire")
        )
        self.now.setVisible(any(not i.settled and i.tries for i in items))
        self.mend.setVisible(
            one is not None and bool(one.fitting) and one.state in ("held", "refused", "accepted")
        )
        self.copy.setVisible(bool(numbered))
        if one is None:
            return
        found = self.brief_of(one.brief)
        self.two.take(one)
        self.receipt.take(one, found[0].body.name if found else one.body)
        for reason in one.reasons:
            self._reason(reason, one, found[1] if found else None)
        for event in reversed(one.history):
            who = t("desk") if event.by == "desk" else t("we")
            line = label(
                t("{time}  {who}: {says}", time=when(event.at), who=who, says=event.says),
                "second",
                wrap=True,
            )
            self.history.addWidget(line)

    def _reason(self, reason: Reason, item: HandOver, brief: Brief | None) -> None:
        words = label(reason.says, wrap=True)
        words.setStyleSheet(f"color: {getattr(theme.palette(), LOOK[item.state][1])}")
        self.reasons.addWidget(words)
        ours = our_limit(reason, brief)
        if item.ready and ours:
            self.reasons.addWidget(
                label(
                    t(
                        "The rulebook here says {limit}, and by that the file meets. One of the two "
                        "is read wrongly: ask for a new review.",
                        limit=ours,
                    ),
                    "second",
                    wrap=True,
                )
            )

    def _bench(self) -> None:
        if self.item is not None:
            self.bench_asked.emit(self.item.fitting)

    def copy_receipt(self) -> None:
        """Put the receipts of what is chosen on the clipboard, as text."""
        clipboard = QGuiApplication.clipboard()
        items = [i for i in (self._shown or []) if i.number]  # type: ignore[attr-defined]
        if clipboard is not None:
            clipboard.setText("\n\n".join(receipt_text(item) for item in items))


def our_limit(reason: Reason, brief: Brief | None) -> str:
    """The limit of the clause that a desk speaks of, as the rulebook here has it."""
    if brief is None or reason.measure not in REGISTRY:
        return ""
    said = [
        clause.limit.says(REGISTRY[reason.measure].kind)
        for clause in brief.clauses
        if clause.measure == reason.measure and clause.limit is not None
    ]
    return listed(said)  # of alternatives all of them


def receipt_text(item: HandOver) -> str:
    """The receipt as text that can be copied."""
    return "\n".join(
        (
            f"{item.number}  {item.brief}",
            item.name,
            f"{item.bytes} bytes",
            f"SHA-256 {item.sha256}",
            item.received,
            said(item),
        )
    )
