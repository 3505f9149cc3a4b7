"""Backdrop: the mask and its brush; lighten, even out, fill."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QPushButton, QVBoxLayout

from aptandum.core.figures import show_number
from aptandum.core.photo.backdrop import NoMask
from aptandum.ui.bench.cards.fields import ColourRow, NumberRow, ShareRow
from aptandum.ui.bench.cards.finishes.part import Part
from aptandum.ui.bench.tools import Brush
from aptandum.ui.session import Bench
from aptandum.ui.strings import commas, sentences, t, t_n
from aptandum.ui.widgets import button, label


class BackdropPart(Part):
    """The part of the card for an even backdrop."""

    name = "backdrop"
    alteration = "backdrop"

    def build(self) -> None:
        """Lay out the colour, the edge and the brushes."""
        self.found = label("", "second", wrap=True)
        self.column.addWidget(self.found)
        self.shown = QCheckBox(t("Show the backdrop as hatching"))
        self.shown.clicked.connect(self._show_mask)
        self.column.addWidget(self.shown)
        brushes = QVBoxLayout()
        brushes.setSpacing(4)
        self.add: QPushButton = button(t("Add to the subject"), "link", lambda: self._brush(True))
        self.add.setToolTip(t("Paint what belongs to the subject (Shift takes away)"))
        self.take_away: QPushButton = button(
            t("Remove from the subject"), "link", lambda: self._brush(False)
        )
        self.take_away.setToolTip(t("Paint what is backdrop"))
        self.as_found = button(t("Reset the mask"), "link", self.session.marking.clear_strokes)
        for part in (self.add, self.take_away, self.as_found):
            brushes.addWidget(part, 0, Qt.AlignmentFlag.AlignLeft)
        self.column.addLayout(brushes)
        key = "finish.backdrop."
        self.row(
            NumberRow(
                self.session, key + "lightness", t("Bring to lightness"), "L*", empty=t("own")
            )
        )
        self.row(ShareRow(self.session, key + "strength", t("How far")))
        self.row(ShareRow(self.session, key + "even", t("Even out")))
        self.row(ShareRow(self.session, key + "shadow", t("Shadow that stays")))
        self.row(ColourRow(self.session, key + "fill", t("Or fill with a colour"), t("none")))
        self.clear = button(t("Make it transparent instead"), "link", self._clear)
        self.column.addWidget(self.clear)

    def _clear(self) -> None:
        self.session.model.set({"finish.clear.by": "standing"}, t("Make the backdrop transparent"))

    def _show_mask(self, on: bool) -> None:
        self.session.pixels.show_mask(on)

    def _brush(self, adds: bool) -> None:
        self.session.pixels.show_mask(True)
        self.session.requests.tool.emit(Brush(adds))

    def figure(self, bench: Bench) -> str:
        """The backdrop's colour."""
        wish = bench.fitting.settings.finish.backdrop
        if wish.fill is not None:
            return wish.fill
        said = []
        if wish.lightness is not None and wish.strength:
            said.append(f"L* {show_number(wish.lightness, 1)}")
        if wish.even:
            said.append(t("even {n} %", n=round(wish.even)))
        return commas(said)

    def show_bench(self, bench: Bench) -> None:
        """Show the settings, and what the mask makes of them."""
        super().show_bench(bench)
        self.shown.setChecked(self.session.pixels.shows_mask)
        self.as_found.setEnabled(bool(bench.hand.strokes))
        self.session.pixels.look_for_mask()
        try:
            mask = self.session.pixels.mask()
        except NoMask as error:
            words = str(error)
            if not self.session.pixels.wants_mask():
                words = t("What stands before the backdrop is looked for once it is asked for.")
            self.found.setText(words)
            return
        what = {
            "person": t("A person was found before the backdrop."),
            "thing": t("A thing was found before the backdrop."),
            "hand": t("Mask corrected by hand."),
        }[mask.of]
        n = len(bench.hand.strokes)
        if n and mask.of != "hand":
            what = sentences([what, (t_n("{n} stroke corrects it.", "{n} strokes correct it.", n))])
        self.found.setText(what)
