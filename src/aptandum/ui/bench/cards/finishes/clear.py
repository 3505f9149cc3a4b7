"""Clear: the picture stands free, by a colour or by the mask."""

from __future__ import annotations

from PyQt6.QtCore import Qt

from aptandum.core.figures import grouped
from aptandum.ui.bench.cards.fields import ChoiceRow, ColourRow, NumberRow, SwitchRow
from aptandum.ui.bench.cards.finishes.part import Part
from aptandum.ui.session import Bench
from aptandum.ui.strings import t, t_n
from aptandum.ui.widgets import button, label


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
                t("Make transparent"),
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
            SwitchRow(self.session, key + "connected", t("Connected areas only"))
        )
        self.soft = self.row(NumberRow(self.session, key + "soft", t("Soft edge"), t("px")))
        self.row(SwitchRow(self.session, key + "cleaned", t("Remove the old colour at edges")))
        self.note = label("", "second", wrap=True)
        self.column.addWidget(self.note)
        self.islands = label("", "", wrap=True)
        self.column.addWidget(self.islands)
        self.other = button("", "", self._other)
        self.column.addWidget(self.other, 0, Qt.AlignmentFlag.AlignLeft)

    def _other(self) -> None:
        """What is inside goes as well, or stays after all."""
        bench = self.session.bench
        if bench is not None:
            stay = not bench.fitting.settings.finish.clear.connected
            self.session.model.set(
                {"finish.clear.connected": stay},
                t("Leave the areas inside") if stay else t("Make the areas inside transparent too"),
            )

    def _show_islands(self, bench: Bench) -> None:
        """Areas of the same colour inside are counted, and it is asked what becomes of them."""
        found = (
            bench.picture.islands if bench.picture is not None and bench.draft_is_current else None
        )
        on = found is not None and "clear" in bench.line.finish.on
        self.islands.setVisible(on)
        self.other.setVisible(on)
        if found is None:
            return
        size = grouped(found.pixels)
        stays = t_n(
            "{n} area of this colour inside is not connected ({size} px) and stays. It is hatched.",
            "{n} areas of this colour inside are not connected ({size} px) and stay. They are hatched.",
            found.count,
            size=size,
        )
        goes = t_n(
            "{n} area of this colour inside ({size} px) becomes transparent too. It is hatched.",
            "{n} areas of this colour inside ({size} px) become transparent too. They are hatched.",
            found.count,
            size=size,
        )
        self.islands.setText(stays if found.stay else goes)
        self.other.setText(t("Make them transparent too") if found.stay else t("Leave them"))

    def _picked(self, colour: str, at: tuple[float, float]) -> None:
        """The point counts: its colour is read where it lies, before anything is cleared."""
        point = f"{at[0]:.1f}, {at[1]:.1f}"
        self.session.model.set(
            {"finish.clear.by": "colour", "finish.clear.at": point, "finish.clear.colour": None},
            t("Make a colour transparent"),
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
                "This file holds no transparency: what is transparent is laid on {colour}.",
                colour=ground,
            )
        elif wish.at is not None and wish.by == "colour" and wish.colour is None:
            words = t("Its colour is read at the point that was clicked.")
        self._show_islands(bench)
        self.note.setText(words)
        self.note.setVisible(bool(words))
