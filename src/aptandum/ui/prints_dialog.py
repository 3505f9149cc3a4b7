"""A sheet of prints: which paper, how many, how wide; shown as it will lie, and at its true size."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QColorSpace, QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import (
    QCheckBox,
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.errors import AptandumError
from aptandum.core.figures import show_length, show_number, show_ppi
from aptandum.core.prints.draw import Pictured, fineness, least_size
from aptandum.core.prints.layout import Sheet, Wish, cut_marks, lay_out
from aptandum.core.prints.paper import INCH, PAPERS, paper_of
from aptandum.core.quantity import parse_length
from aptandum.ui import theme
from aptandum.ui.fields import TextField
from aptandum.ui.strings import sentences, t, t_n
from aptandum.ui.widgets import Choice, button, label

_MORE = 2
"""Sizes of print beside the first that can be asked for at once."""


class SheetView(QWidget):
    """The paper with its prints, as large as has room or at its true size."""

    def __init__(self, image: QImage, ppi: float) -> None:
        """Args:
        ppi: of the screen, for the true size.
        """
        super().__init__()
        self.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # as it is for everyone
        if image.colorSpace().isValid():
            image = image.convertedToColorSpace(QColorSpace(QColorSpace.NamedColorSpace.SRgb))
        self.image, self.ppi = image, ppi
        self._small: dict[tuple[int, int], QImage] = {}
        self.sheet: Sheet | None = None
        self.true_size = False
        self.setAccessibleName(t("The sheet as it will be printed"))
        self.setMinimumSize(280, 300)

    def sizeHint(self) -> QSize:
        if self.sheet is None or not self.true_size:
            return QSize(330, 430)
        k = self._scale()
        return QSize(round(self.sheet.paper.wide * k) + 20, round(self.sheet.paper.high * k) + 20)

    def show_sheet(self, sheet: Sheet | None, true_size: bool) -> None:
        """Show another sheet, or none."""
        self.sheet, self.true_size = sheet, true_size
        self.setMinimumSize(self.sizeHint() if true_size else QSize(280, 300))
        self.updateGeometry()
        self.update()

    def _scale(self) -> float:
        """Pixels of the widget for a millimetre."""
        assert self.sheet is not None
        if self.true_size:
            return self.ppi / INCH / self.devicePixelRatioF()
        paper = self.sheet.paper
        return min((self.width() - 20) / paper.wide, (self.height() - 20) / paper.high)

    def _reduced(self, box: QRectF) -> QImage:
        """The picture in as many pixels as a box has on the screen."""
        size = (box.size() * self.devicePixelRatioF()).toSize().expandedTo(QSize(1, 1))
        key = size.width(), size.height()
        if key not in self._small:
            self._small[key] = self.image.scaled(
                size,
                Qt.AspectRatioMode.IgnoreAspectRatio,
                Qt.TransformationMode.SmoothTransformation,
            )
        return self._small[key]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), QColor(theme.SURROUNDS[1]))
        if self.sheet is None:
            return
        k, paper = self._scale(), self.sheet.paper
        left = max(10.0, (self.width() - paper.wide * k) / 2)
        top = max(10.0, (self.height() - paper.high * k) / 2)
        painter.translate(left, top)
        painter.fillRect(QRectF(0, 0, paper.wide * k, paper.high * k), Qt.GlobalColor.white)
        for one in self.sheet.prints:
            box = QRectF(one.left * k, one.top * k, one.wide * k, one.high * k)
            if self.image.isNull():
                painter.fillRect(box, theme.colour("hairline"))
            elif one.turned:
                painter.save()
                painter.translate(box.left(), box.bottom())
                painter.rotate(-90)
                lying = QRectF(0, 0, box.height(), box.width())
                painter.drawImage(lying, self._reduced(lying))
                painter.restore()
            else:
                painter.drawImage(box, self._reduced(box))
        painter.setPen(QPen(Qt.GlobalColor.darkGray, 1))
        for x0, y0, x1, y1 in cut_marks(self.sheet):
            painter.drawLine(QPointF(x0 * k, y0 * k), QPointF(x1 * k, y1 * k))
        if self.sheet.check is not None:
            x, y, _w, high = self.sheet.check
            painter.setPen(QPen(Qt.GlobalColor.black, 1))
            middle = (y + high / 2) * k
            painter.drawLine(QPointF(x * k, middle), QPointF((x + 50) * k, middle))
            painter.drawRect(QRectF((x + 53) * k, y * k, 10 * k, 10 * k))


class PrintsDialog(QDialog):
    """Asks for a sheet of prints of one finished file.

    Attributes:
        sheet: as it is asked for; ``None`` where that cannot be.
    """

    def __init__(
        self, picture: Pictured, image: QImage, screen_ppi: float, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.picture = picture
        self.sheet: Sheet | None = None
        self.setWindowTitle(t("Sheet of prints"))
        self.resize(860, 560)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(20, 18, 20, 18)
        whole.setSpacing(20)
        self.view = SheetView(image, screen_ppi)
        self.around = QScrollArea()
        self.around.setWidgetResizable(True)
        self.around.setWidget(self.view)
        whole.addWidget(self.around, 1)
        column = QVBoxLayout()
        column.setSpacing(10)
        whole.addLayout(column)
        column.addWidget(label(t("Sheet of prints"), "title"))
        self._build(column)
        self.says = label("", "second", wrap=True)
        column.addWidget(self.says)
        self.trouble = label("", "", wrap=True)
        column.addWidget(self.trouble)
        column.addStretch(1)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(button(t("Cancel"), "", self.reject))
        self.act = button(t("Write the sheet…"), "act", self.accept)
        self.act.setDefault(True)
        row.addWidget(self.act)
        column.addLayout(row)
        self.again()

    def _build(self, column: QVBoxLayout) -> None:
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(8)
        self.paper = Choice()
        self.paper.setEditable(True)
        self.paper.setAccessibleName(t("Paper"))
        self.paper.setToolTip(t("Or type its sides, such as 9 x 13 cm"))
        for paper in PAPERS:
            self.paper.addItem(paper.name)
        self.paper.currentTextChanged.connect(self.again)
        grid.addWidget(label(t("Paper"), "second"), 0, 0)
        grid.addWidget(self.paper, 0, 1, 1, 3)
        own = self.picture.own
        self.rows: list[tuple[TextField, TextField]] = []
        for n in range(1 + _MORE):
            count, wide = TextField(t("How many")), TextField(t("How wide"))
            count.setPlaceholderText(t("all") if not n else t("none"))
            wide.setPlaceholderText("35 mm")
            if not n:
                wide.setText(show_length(own[0]) if own is not None else "35 mm")
            for field in (count, wide):
                field.setFixedWidth(84)
                field.textEdited.connect(self.again)
            grid.addWidget(label(t("Prints") if not n else t("And also"), "second"), n + 1, 0)
            grid.addWidget(count, n + 1, 1)
            grid.addWidget(label(t("wide"), "second"), n + 1, 2)
            grid.addWidget(wide, n + 1, 3)
            self.rows.append((count, wide))
        self.margin, self.gap = (
            TextField(t("Left free at the edge")),
            TextField(t("Between prints")),
        )
        for n, (field, name, text) in enumerate(
            (
                (self.margin, t("Left free at the edge"), "4 mm"),
                (self.gap, t("Between prints"), "3 mm"),
            )
        ):
            field.setText(text)
            field.setFixedWidth(84)
            field.textEdited.connect(self.again)
            grid.addWidget(label(name, "second"), 2 + _MORE + n, 0, 1, 3)
            grid.addWidget(field, 2 + _MORE + n, 3)
        column.addLayout(grid)
        self.marks = QCheckBox(t("Marks to cut by"))
        self.check = QCheckBox(t("A line and a square to check the printer by"))
        self.true_size = QCheckBox(t("Show it at its true size"))
        for tick, on in ((self.marks, True), (self.check, True), (self.true_size, False)):
            tick.setChecked(on)
            tick.toggled.connect(self.again)
            column.addWidget(tick)

    def wishes(self) -> list[Wish]:
        """What is asked for, each size by itself.

        Raises:
            QuantityError: a width cannot be read.
        """
        found = []
        for n, (count, wide) in enumerate(self.rows):
            digits = count.text().strip()
            if n and (not wide.text().strip() or not digits):
                continue
            made = least_size(self.picture, parse_length(wide.text().strip()))
            found.append(Wish(0, *made, min(int(digits), 500) if digits.isdigit() else 0))
        return found

    def again(self) -> None:
        """Lay the sheet out as it is asked for now, or say why it cannot be."""
        try:
            margin, gap = _side(self.margin.text()), _side(self.gap.text())
            paper, check = paper_of(self.paper.currentText()), self.check.isChecked()
            self.sheet = lay_out(paper, self.wishes(), margin, gap, check)
        except (AptandumError, ValueError) as error:
            self.sheet = None
            words = str(error)
            self.trouble.setText(words if words.endswith(".") else t("Write {what}.", what=words))
        self.trouble.setVisible(self.sheet is None)
        self.act.setEnabled(self.sheet is not None)
        self.says.setText(self._said())
        self.view.show_sheet(self.sheet, self.true_size.isChecked())

    def _said(self) -> str:
        if self.sheet is None:
            return ""
        n = len(self.sheet.prints)
        sizes = dict.fromkeys(
            tuple(sorted((round(one.wide, 1), round(one.high, 1)))) for one in self.sheet.prints
        )
        said = [t_n("{n} print on the sheet.", "{n} prints on the sheet.", n)]
        for narrow, far in sizes:
            wide = narrow if self.picture.size[0] <= self.picture.size[1] else far
            said.append(
                t(
                    "{a}\u00a0×\u00a0{b} at {ppi}.",
                    a=show_number(wide, 1),
                    b=show_length(far if wide == narrow else narrow),
                    ppi=show_ppi(round(fineness(self.picture, wide))),
                )
            )
        if self.check.isChecked() and self.sheet.check is None:
            said.append(t("There is no room to check the printer by."))
        return sentences(said)


def _side(text: str) -> float:
    """A length in millimetres that may be nothing."""
    plain = text.strip()
    return 0.0 if plain in ("", "0", "0 mm") else parse_length(plain)
