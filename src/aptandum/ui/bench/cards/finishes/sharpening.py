"""Sharpening: how steep the finished picture's edges are made."""

from __future__ import annotations

from aptandum.ui.bench.cards.fields import NumberRow, ShareRow
from aptandum.ui.bench.cards.finishes.part import Part
from aptandum.ui.session import Bench
from aptandum.ui.strings import t
from aptandum.ui.widgets import label


class SharpeningPart(Part):
    """The part of the card for steeper edges."""

    name = "sharpening"
    alteration = "sharpen"

    def build(self) -> None:
        """Lay out the strength and the radius."""
        key = "finish.sharpening."
        self.row(ShareRow(self.session, key + "strength", t("Strength")))
        self.row(NumberRow(self.session, key + "radius", t("Radius"), t("px")))
        said = t(
            "Comes after the last change of size. No bright or dark line can arise beside an edge. Look at it one to one "
            "(key 1), and under “In place” at the size at which others see it."
        )
        self.column.addWidget(label(said, "second", wrap=True))

    def figure(self, bench: Bench) -> str:
        """Its strength."""
        if self.name not in bench.line.finish.on:
            return ""
        return f"{round(bench.fitting.settings.finish.sharpening.strength)} %"
