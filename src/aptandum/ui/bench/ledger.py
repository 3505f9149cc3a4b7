"""The ledger: the brief's clauses as a column of gauges, each with sign, figure and limit."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QFocusEvent,
    QFontMetricsF,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
)
from PyQt6.QtWidgets import (
    QAbstractButton,
    QLabel,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.judge.findings import Finding, Findings
from aptandum.core.judge.measure import GROUPS
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.words import show_day
from aptandum.ui import theme
from aptandum.ui.bench.gauge import draw_gauge, scale_of
from aptandum.ui.painting import Painter
from aptandum.ui.signs import draw_sign, word
from aptandum.ui.strings import joined, t
from aptandum.ui.widgets import button, scrolled


def group_of(finding: Finding) -> str:
    """The group of the ledger that a finding stands in."""
    if finding.clause.measure is None:
        return "ask"
    return REGISTRY[finding.clause.measure].group


class ClauseRow(QAbstractButton):
    """One clause. Click, Enter or a screen reader's press selects it."""

    chosen = pyqtSignal(str)
    step = pyqtSignal(int)

    def __init__(self, finding: Finding, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.finding = finding
        self.selected = False
        self.wide = theme.LEDGER_WIDTH - 20  # until it is laid out
        # As wide as its column, which a narrow window makes narrower.
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.clicked.connect(lambda: self.chosen.emit(self.finding.clause.id))
        self.take(finding)

    @property
    def has_gauge(self) -> bool:
        limit = self.finding.clause.limit
        measure = self.finding.clause.measure
        if limit is None or measure is None:
            return False
        kind = REGISTRY[measure].kind
        return kind.ordered or (kind.name == "size" and limit.exact)

    def take(self, finding: Finding) -> None:
        """Show a finding."""
        if finding == self.finding and self.accessibleName():
            return  # a drag changes few of the rows; the others need no new paint
        self.finding = finding
        name = t(
            "{title}: {verdict}. {says}",
            title=finding.title,
            verdict=word(finding.verdict),
            says=finding.says,
        )
        self.setAccessibleName(name)
        mend = "\n" + t("{mend}.", mend=finding.mend.words) if finding.mend else ""
        quote = finding.clause.quote
        self.setToolTip(finding.says + mend + (f"\n“{quote}”" if quote else ""))
        self._fit()
        self.update()

    def _fit(self) -> None:
        """As high as its words need at its width."""
        lines = self._lines()
        self.setFixedHeight(43 if self.has_gauge else 27 if lines < 2 else 11 + 16 * lines)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.wide = self.width()
        if self.finding.asked:
            self._fit()

    def _lines(self) -> int:
        """How many lines a question takes beside its answer."""
        if not self.finding.asked:
            return 1
        metrics = QFontMetricsF(theme.medium())
        room = QRectF(0, 0, self._room(), 1000)
        flags = int(Qt.TextFlag.TextWordWrap)
        high = metrics.boundingRect(room, flags, self.finding.title).height()
        return max(1, round(high / metrics.lineSpacing()))

    def _room(self) -> float:
        """How wide its words may be, beside what became of the question."""
        return self.wide - 48 - QFontMetricsF(theme.tight(12)).horizontalAdvance(self._state())

    def _state(self) -> str:
        """What became of the question."""
        if self.finding.verdict == "idle":
            return word("idle")
        said = {"meets": t("confirmed"), "asks": t("not confirmed")}
        return said.get(self.finding.verdict, t("said not so"))

    def sizeHint(self) -> QSize:
        return QSize(theme.LEDGER_WIDTH - 20, self.height())

    def minimumSizeHint(self) -> QSize:
        """Values are shortened before they are cut off."""
        return QSize(160, self.height())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        f = self.finding
        painter = Painter(self)
        if self.selected:
            soft = "misses_soft" if f.verdict == "misses" else "blue_soft"
            painter.fillRect(self.rect(), theme.colour(soft))
            bar = "misses" if f.verdict == "misses" else "blue"
            painter.fillRect(QRectF(0, 0, 3, self.height()), theme.colour(bar))
        if self.hasFocus():
            painter.setPen(theme.colour("blue"))
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        draw_sign(painter, f.verdict, QRectF(8, 6, 14, 14))
        right = self.width() - 8
        if f.asked:
            self._ask(painter, right)
            return
        value = f.measured or word(f.verdict)
        if f.verdict == "idle" and f.limit and not self.has_gauge:
            value = t("{limit}: {word}", limit=f.limit, word=value)
        if f.estimate:
            value = t("about {value}", value=value)
        font = theme.figures(12, bold=True) if f.measured else theme.tight(12)
        painter.setFont(font)
        painter.setPen(theme.colour(f.verdict if f.verdict != "meets" else "ink"))
        space = QFontMetricsF(font).horizontalAdvance(value)
        room = right - 32 - 8
        title_font = theme.medium()
        title = QFontMetricsF(title_font).horizontalAdvance(f.title)
        if space + title + 10 > room:
            value = QFontMetricsF(font).elidedText(
                value, Qt.TextElideMode.ElideMiddle, max(60, room - title - 10)
            )
        painter.drawText(
            QRectF(32, 4, right - 32, 18),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
            value,
        )
        painter.setFont(title_font)
        painter.setPen(theme.colour("ink" if f.verdict not in ("unknown", "idle") else "ink2"))
        painter.drawText(QRectF(32, 4, room, 18), Qt.AlignmentFlag.AlignVCenter, f.title)
        if not self.has_gauge:
            return
        scale = scale_of(f)
        gauge = QRectF(32, 25, min(108.0, self.width() * 0.34), 12)
        if scale is not None:
            draw_gauge(painter, gauge, f, scale)
        painter.setFont(theme.tight(12))
        painter.setPen(theme.colour("ink2"))
        words = f.limit if f.clause.strength == "must" else t("advised: {limit}", limit=f.limit)
        left = gauge.right() + 8 if scale is not None else 32
        fitted = QFontMetricsF(painter.font()).elidedText(
            words, Qt.TextElideMode.ElideRight, right - left
        )
        painter.drawText(
            QRectF(left, 22, right - left, 18),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
            fitted,
        )

    def _ask(self, painter: QPainter, right: float) -> None:
        f = self.finding
        state = self._state()
        painter.setFont(theme.tight(12))
        painter.setPen(theme.colour(f.verdict))
        painter.drawText(
            QRectF(32, 4, right - 32, 18),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
            state,
        )
        font = theme.medium()
        painter.setFont(font)
        painter.setPen(theme.colour("ink"))
        box = QRectF(32, 4, self._room(), self.height() - 6)
        flags = Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap
        painter.drawText(box, flags, f.title)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        self.chosen.emit(self.finding.clause.id)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.chosen.emit(self.finding.clause.id)
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.step.emit(1 if event.key() == Qt.Key.Key_Down else -1)
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        self.update()
        super().focusInEvent(event)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        self.update()
        super().focusOutEvent(event)


class GroupTitle(QWidget):
    """A heading with a hairline to the right."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.text = text
        self.setFixedHeight(26)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = Painter(self)
        font = theme.text(11, bold=True)
        painter.setFont(font)
        painter.setPen(theme.colour("ink2"))
        painter.drawText(QRectF(8, 6, 200, 18), Qt.AlignmentFlag.AlignVCenter, self.text)
        x = 8 + QFontMetricsF(font).horizontalAdvance(self.text) + 8
        painter.fillRect(QRectF(x, 15, self.width() - 8 - x, 1), theme.colour("hairline"))


class Ledger(QWidget):
    """The clauses of a brief with their findings."""

    chosen = pyqtSignal(str)
    edition_asked = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setProperty("role", "panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(theme.LEDGER_WIDTH)
        self.title = QLabel()
        self.title.setProperty("role", "title")
        self.title.setWordWrap(True)
        self.source = QLabel()
        self.source.setProperty("role", "second")
        self.source.setWordWrap(True)
        self.tally = QLabel()
        self.tally.setProperty("role", "second")
        self.tally.setWordWrap(True)
        head = QVBoxLayout()
        head.setContentsMargins(16, 12, 16, 4)
        head.setSpacing(3)
        self.edition = button("", "link", self.edition_asked.emit)
        self.edition.hide()
        for part in (self.title, self.source, self.edition, self.tally):
            head.addWidget(part)
        self.column = QWidget()
        self.column.setProperty("role", "panel")
        self.rows_layout = QVBoxLayout(self.column)
        self.rows_layout.setContentsMargins(8, 0, 8, 8)
        self.rows_layout.setSpacing(0)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addLayout(head)
        layout.addWidget(scrolled(self.column), 1)
        self.rows: dict[str, ClauseRow] = {}
        self.selected = ""
        self._of: object = None

    def show_findings(self, book: Rulebook, brief: Brief, findings: Findings, what: str) -> None:
        """Show findings; ``what`` says of what they are (as supplied, as fitted, of the file)."""
        self.title.setText(brief.title)
        parts = [book.body.name]
        if book.body.edition:
            parts.append(t("edition {n}", n=book.body.edition))
        if book.body.read_on:
            parts.append(t("read {date}", date=show_day(book.body.read_on)))
        self.source.setText(joined(parts))
        self.tally.setText(t("{name}: {value}", name=what, value=findings.summary()))
        if self._of != (brief, book.body.id) or len(self.rows) != len(findings.findings):
            self._build(findings)
            self._of = (brief, book.body.id)
        for finding in findings.findings:
            self.rows[finding.clause.id].take(finding)

    def show_edition(self, offered: str | None) -> None:
        """Offer to look at another edition that lies on the shelf; ``None``: there is none."""
        words = t("Edition {n} is on the shelf: what changed", n=offered or "–")
        if self.edition.text() != words:
            self.edition.setText(words)
        if self.edition.isHidden() != (offered is None):
            self.edition.setVisible(offered is not None)

    def _build(self, findings: Findings) -> None:
        while self.rows_layout.count():
            item = self.rows_layout.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        self.rows = {}
        self.selected = ""
        for group, heading in GROUPS.items():
            of_group = [f for f in findings.findings if group_of(f) == group]
            if not of_group:
                continue
            self.rows_layout.addWidget(GroupTitle(heading))
            for finding in of_group:
                row = ClauseRow(finding)
                row.chosen.connect(self.select)
                row.step.connect(self._step)
                self.rows[finding.clause.id] = row
                self.rows_layout.addWidget(row)
        self.rows_layout.addStretch(1)

    def select(self, clause_id: str) -> None:
        """Choose a clause, and have what it measures lit on the sheet."""
        self.selected = clause_id
        for name, row in self.rows.items():
            row.selected = name == clause_id
            row.update()
        self.chosen.emit(clause_id)

    def _step(self, way: int) -> None:
        order = list(self.rows)
        focused = next((n for n, row in self.rows.items() if row.hasFocus()), order[0])
        at = min(max(order.index(focused) + way, 0), len(order) - 1)
        self.rows[order[at]].setFocus(Qt.FocusReason.TabFocusReason)
        self.select(order[at])
