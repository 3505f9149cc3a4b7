"""How much may be spent on one photo, as a person sets it for this machine."""

from __future__ import annotations

from PyQt6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from aptandum.core import bounds, workers
from aptandum.ui import preferences
from aptandum.ui.strings import t
from aptandum.ui.widgets import NumberField, button, label

_MOST_MEGAPIXELS, _MOST_SECONDS = 20_000, 3600


class BoundsDialog(QDialog):
    """Asks for the bounds of one photo."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(t("Limits for one photo"))
        held = bounds.current()
        self.megapixels, self.seconds = held.megapixels, held.seconds
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 18, 20, 18)
        column.setSpacing(12)
        column.addWidget(label(t("Limits for one photo"), "title"))
        column.addWidget(
            label(
                t(
                    "They keep a damaged or hostile file from taking all of this machine. A picture at the usual "
                    "bound takes about 11 GB while a file is made of it."
                ),
                wrap=True,
            )
        )
        grid = QGridLayout()
        grid.setHorizontalSpacing(12)
        grid.setColumnStretch(3, 1)
        self.fields = (NumberField(t("Megapixels")), NumberField(t("Seconds")))
        rows = (
            (t("Largest picture that is opened or made"), t("megapixels")),
            (t("Longest search for what fits into a number of bytes"), t("seconds")),
        )
        for n, (what, unit) in enumerate(rows):
            grid.addWidget(label(what, "second"), n, 0)
            grid.addWidget(self.fields[n], n, 1)
            grid.addWidget(label(unit, "second"), n, 2)
        column.addLayout(grid)
        self.fields[0].taken.connect(self._megapixels)
        self.fields[1].taken.connect(self._seconds)
        row = QHBoxLayout()
        row.addWidget(button(t("As usual"), "link", self.as_usual))
        row.addStretch(1)
        row.addWidget(button(t("Cancel"), "", self.reject))
        self.act = button(t("Keep"), "act", self.accept)
        self.act.setDefault(True)
        row.addWidget(self.act)
        column.addLayout(row)
        self._show()

    def _show(self) -> None:
        self.fields[0].show_value(self.megapixels)
        self.fields[1].show_value(self.seconds)

    def _megapixels(self, value: float) -> None:
        self.megapixels = round(min(max(value, 1), _MOST_MEGAPIXELS))

    def _seconds(self, value: float) -> None:
        self.seconds = min(max(value, 0.1), float(_MOST_SECONDS))

    def as_usual(self) -> None:
        """The bounds that hold where nobody has set any."""
        usual = bounds.Bounds()
        self.megapixels, self.seconds = usual.megapixels, usual.seconds
        self._show()

    def accept(self) -> None:
        """Hold these from now on, and the next time."""
        for field in self.fields:
            field.editingFinished.emit()  # what was typed counts, wherever the keys go now
        hold(preferences.use_bounds(self.megapixels, self.seconds))
        super().accept()


def hold(text: str) -> None:
    """Hold bounds from now on, as ``--limits`` writes them; workers that know others are let go."""
    bounds.use(text)
    workers.stop_shared()
