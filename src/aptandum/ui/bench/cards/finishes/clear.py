"""Clear: the picture stands free, by a colour or by the mask."""

from __future__ import annotations

from aptandum.ui.bench.cards.fields import ChoiceRow, ColourRow, NumberRow, SwitchRow
from aptandum.ui.bench.cards.finishes.part import Part
from aptandum.ui.session import Bench
from aptandum.ui.strings import t
from aptandum.ui.widgets import label


class ClearPart(Part):
    """The part of the card for a transparent ground."""

    name = "clear"
    alteration = "clear"

    def build(self) -> None:
        """Lay out by what the ground is known, and how near a colour must be."""
        key = "finish.clear."
        self.row(
            ChoiceRow(
                self.session,
                key + "by",
                t("Make clear"),
                (
                    (None, t("nothing")),
                    ("colour", t("a colour")),
                    ("standing", t("all behind the subject")),
                ),
            )
        )
        self.colour = ColourRow(
            self.session,
            key + "colour",
            t("Colour that goes"),
            t("of the point or rim"),
            picked=self._picked,
        )
        self.row(self.colour)
        self.tolerance = self.row(
            NumberRow(self.session, key + "tolerance", t("Within a difference of"), "ΔE")
        )
        self.connected = self.row(
            SwitchRow(self.session, key + "connected", t("Only what hangs together"))
        )
        self.soft = self.row(NumberRow(self.session, key + "soft", t("Soft edge"), t("px")))
        self.row(SwitchRow(self.session, key + "cleaned", t("Take the ground out of the edge")))
        self.note = label("", "second", wrap=True)
        self.column.addWidget(self.note)

    def _picked(self, colour: str, at: tuple[float, float]) -> None:
        """The point counts: its colour is read where it lies, before anything is cleared."""
        point = f"{at[0]:.1f}, {at[1]:.1f}"
        self.session.model.set(
            {"finish.clear.by": "colour", "finish.clear.at": point, "finish.clear.colour": None},
            t("Make a colour clear"),
        )

    def figure(self, bench: Bench) -> str:
        """By what the ground is cleared."""
        by = bench.fitting.settings.finish.clear.by
        return {"colour": t("a colour"), "standing": t("behind")}.get(by or "", "")

    def show_bench(self, bench: Bench) -> None:
        """Show how the ground is found."""
        super().show_bench(bench)
        wish = bench.fitting.settings.finish.clear
        by_colour = wish.by != "standing"
        for row in (self.colour, self.tolerance, self.connected, self.soft):
            row.setVisible(by_colour)
        ground = bench.line.finish.ground
        words = ""
        if wish.by is not None and ground is not None:
            words = t(
                "This file holds no transparency: what is clear is laid on {colour}.", colour=ground
            )
        elif wish.at is not None and wish.by == "colour" and wish.colour is None:
            words = t("Its colour is read at the point that was clicked.")
        self.note.setText(words)
        self.note.setVisible(bool(words))
