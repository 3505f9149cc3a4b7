"""Begin from nothing: how large a blank sheet is, and of what."""

from __future__ import annotations

from PyQt6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from aptandum.core.brief.model import Brief
from aptandum.core.fitting.blank import CLEAR, FILMS, NoSheet, blank_sheet, size_for
from aptandum.core.fitting.finish.textures import TEXTURES
from aptandum.core.numbers import QuantityError
from aptandum.core.quantity import parse_size
from aptandum.ui.fields import TextField
from aptandum.ui.strings import t
from aptandum.ui.widgets import Choice, button, label

_COLOUR = "colour"
_OPEN = (1200, 1200)


def ground_name(ground: str) -> str:
    """What a sheet is of, in words."""
    return {
        CLEAR: t("clear"),
        _COLOUR: t("a colour"),
        "ripstop": t("ripstop cloth"),
        "linen": t("linen"),
        "sea-chart": t("a sea chart"),
        "planks": t("planks"),
        "light film": t("a light film"),
        "dark film": t("a dark film"),
        "busy film": t("a busy film"),
    }[ground]


class BlankDialog(QDialog):
    """Asks for the size and the ground of a blank sheet.

    Attributes:
        data: the PNG that was made, once the dialog is accepted.
        size_px: its width and height.
    """

    def __init__(self, brief: Brief | None, parent: QWidget | None = None) -> None:
        """Args:
        brief: whose size the sheet has; ``None``: none is chosen yet.
        """
        super().__init__(parent)
        self.setWindowTitle(t("Start with a blank sheet"))
        self.data = b""
        self.size_px = _OPEN
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 18, 20, 18)
        column.setSpacing(12)
        column.addWidget(label(t("Start with a blank sheet"), "title"))
        self.whose = label(self._sized(brief), "second", wrap=True)
        column.addWidget(self.whose)
        grid = QGridLayout()
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(8)
        grid.setColumnStretch(1, 1)
        self.size_field = TextField(t("Width and height in pixels"))
        self.size_field.setText(f"{self.size_px[0]} x {self.size_px[1]}")
        self.ground = Choice()
        self.ground.setAccessibleName(t("What the sheet is of"))
        for ground in (_COLOUR, CLEAR, *TEXTURES, *FILMS):
            self.ground.addItem(ground_name(ground), ground)
        self.colour = TextField(t("Colour of the sheet"))
        self.colour.setText("#FFFFFF")
        self.ground.currentIndexChanged.connect(self._show)
        for n, (name, field) in enumerate(
            ((t("Size"), self.size_field), (t("Ground"), self.ground), (t("Colour"), self.colour))
        ):
            said = label(name, "second")
            grid.addWidget(said, n, 0)
            grid.addWidget(field, n, 1)
        self.colour_name = said
        column.addLayout(grid)
        self.trouble = label("", "", wrap=True)
        self.trouble.hide()
        column.addWidget(self.trouble)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(button(t("Cancel"), "", self.reject))
        self.act = button(t("Start"), "act", self.accept)
        self.act.setDefault(True)
        row.addWidget(self.act)
        column.addLayout(row)
        self.setMinimumWidth(400)
        self._show()

    def _sized(self, brief: Brief | None) -> str:
        kept = t("It is kept as a file, and is a photo like any other.")
        if brief is None:
            return t("No brief is chosen yet: say how large it is to be.") + " " + kept
        try:
            self.size_px = size_for(brief)
        except NoSheet as error:
            return str(error)
        return t("As large as “{brief}” asks.", brief=brief.title) + " " + kept

    def _show(self) -> None:
        colour = self.ground.currentData() == _COLOUR
        self.colour.setVisible(colour)
        self.colour_name.setVisible(colour)

    def accept(self) -> None:
        """Make the sheet; what cannot be is said, and the dialog stays."""
        ground = str(self.ground.currentData())
        try:
            self.size_px = parse_size(self.size_field.text())
            self.data = blank_sheet(
                self.size_px, self.colour.text() if ground == _COLOUR else ground
            )
        except (NoSheet, QuantityError) as error:
            said = str(error) if isinstance(error, NoSheet) else t("Write {what}.", what=error)
            self.trouble.setText(said)
            self.trouble.show()
            return
        super().accept()
