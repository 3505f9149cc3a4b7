"""The Finish card: what is laid on the picture; so far the ground under transparent parts."""

from aptandum.ui.bench.cards.card import Card
from aptandum.ui.session import Bench
from aptandum.ui.strings import t
from aptandum.ui.widgets import label


class FinishCard(Card):
    """Keyline, border, shade, caption and panels come with a later version, and say so."""

    station = "finish"

    def build(self) -> None:
        self.ground = self.row(t("Ground"))
        self.rule()
        self.note = label(
            t("Keyline, border, shade, caption and panels are not part of this version. Clauses "
              "that ask for them stay unknown, never met."),
            "second", wrap=True,
        )  # fmt: skip
        self.column.addWidget(self.note)

    def show_bench(self, bench: Bench) -> None:
        ground = bench.line.finish.ground
        self.ground.take(ground if ground else t("none needed"))
