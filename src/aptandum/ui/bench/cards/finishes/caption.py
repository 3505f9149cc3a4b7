"""Caption: lines of text on the picture."""

from __future__ import annotations

from PyQt6.QtWidgets import QPlainTextEdit

from aptandum.ui.bench.cards.fields import ChoiceRow, ColourRow, NumberRow, ShareRow
from aptandum.ui.bench.cards.finishes.part import Part
from aptandum.ui.session import Bench, Session
from aptandum.ui.strings import t
from aptandum.ui.widgets import label

_PLACES = {
    "top left": t("top left"),
    "top": t("top"),
    "top right": t("top right"),
    "left": t("left"),
    "middle": t("middle"),
    "right": t("right"),
    "bottom left": t("bottom left"),
    "bottom": t("bottom"),
    "bottom right": t("bottom right"),
}
_LETTERS = {
    "sans": t("sans"),
    "sans bold": t("sans bold"),
    "condensed": t("condensed"),
    "condensed bold": t("condensed bold"),
    "mono": t("mono"),
}


class CaptionPart(Part):
    """The part of the card for a band with words."""

    name = "caption"
    alteration = "caption"

    def __init__(self, session: Session) -> None:
        self._quiet = False
        super().__init__(session)

    def build(self) -> None:
        """Lay out the words and the band."""
        key = "finish.caption."
        self.text = QPlainTextEdit()
        self.text.setAccessibleName(t("Text of the caption"))
        self.text.setPlaceholderText(t("Text, one or more lines"))
        self.text.setFixedHeight(58)
        self.text.setTabChangesFocus(True)
        self.text.textChanged.connect(self._typed)
        self.column.addWidget(self.text)
        self.row(NumberRow(self.session, key + "size", t("Size"), t("px")))
        self.row(ChoiceRow(self.session, key + "anchor", t("Stands"), list(_PLACES.items())))
        self.row(NumberRow(self.session, key + "margin", t("From the edge"), t("px"), whole=True))
        self.row(ChoiceRow(self.session, key + "font", t("Letters"), list(_LETTERS.items())))
        self.row(ColourRow(self.session, key + "colour", t("Colour")))
        self.row(
            ChoiceRow(
                self.session,
                key + "behind",
                t("Behind it"),
                (
                    ("nothing", t("nothing")),
                    ("plate", t("a plate")),
                    ("outline", t("an outline")),
                ),
            )
        )
        self.under = [
            self.row(ColourRow(self.session, key + "behind_colour", t("Colour behind"))),
            self.row(ShareRow(self.session, key + "behind_strength", t("Strength behind"))),
        ]
        self.reads = label("", "second", wrap=True)
        self.column.addWidget(self.reads)

    def _typed(self) -> None:
        if not self._quiet:
            text = self.text.toPlainText()
            trouble = self.session.model.set({"finish.caption.text": text}, t("Caption"), "caption")
            if trouble:
                self.session.tell(trouble)

    def figure(self, bench: Bench) -> str:
        """Whether there is a caption."""
        text = " ".join(bench.fitting.settings.finish.caption.text.split())
        return text if len(text) < 18 else text[:17] + "…"

    def show_bench(self, bench: Bench) -> None:
        """Show the words and the band as the line has them."""
        super().show_bench(bench)
        wish = bench.fitting.settings.finish.caption
        if self.text.toPlainText() != wish.text:
            self._quiet = True
            self.text.setPlainText(wish.text)
            self._quiet = False
        for row in self.under:
            row.setVisible(wish.behind != "nothing")
        look = bench.look
        words = ""
        if look is not None and look.lettering and bench.draft_is_current:
            smallest = look.told.get(f"legible_at {bench.brief.id}")
            if smallest is not None:
                words = t("It reads from a picture {n} px wide on.", n=smallest)
        self.reads.setText(words)
        self.reads.setVisible(bool(words))
