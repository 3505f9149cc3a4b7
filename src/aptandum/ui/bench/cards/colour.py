"""The Colour card: what comes in and what goes out."""

from aptandum.core.photo.profile import SHIPPED, SPACE_NAMES
from aptandum.ui.bench.cards.card import Card
from aptandum.ui.session import Bench
from aptandum.ui.strings import t
from aptandum.ui.widgets import Choice, label


class ColourCard(Card):
    """The space written; its profile is always embedded."""

    station = "colour"

    def build(self) -> None:
        self.source = self.row(t("Comes in"))
        self.target = self.row(t("Goes out"))
        self.bits = self.row(t("Bits"))
        self.rule()
        self.heading(t("Space"))
        self.choice = Choice()
        self.choice.setAccessibleName(t("Colour space to write"))
        self.choice.addItem(t("As the brief asks"), None)
        for space in SHIPPED:
            self.choice.addItem(SPACE_NAMES[space], space)
        self.choice.activated.connect(
            lambda: self.session.set({"colour.space": self.choice.currentData()}, t("Colour space"))
        )
        self.column.addWidget(self.choice)
        self.heading(t("Colours outside it are"))
        self.intent = Choice()
        self.intent.setAccessibleName(t("How colours outside the space are brought in"))
        self.intent.addItem(t("brought to its edge"), "relative")
        self.intent.addItem(t("drawn in with the rest"), "perceptual")
        self.intent.activated.connect(
            lambda: self.session.set({"colour.intent": self.intent.currentData()}, t("Intent"))
        )
        self.column.addWidget(self.intent)
        self.note = label("", "second", wrap=True)
        self.column.addWidget(self.note)

    def show_bench(self, bench: Bench) -> None:
        colour = bench.line.colour
        came = SPACE_NAMES[colour.source]
        self.source.take(t("no profile, taken as {space}", space=came) if colour.assumed else came)
        self.target.take(t("{space}, embedded", space=SPACE_NAMES[colour.target]))
        self.bits.take(str(colour.bits))
        settings = bench.fitting.settings.colour
        self.choice.setCurrentIndex(max(0, self.choice.findData(settings.space)))
        self.intent.setCurrentIndex(max(0, self.intent.findData(settings.intent)))
        self.note.setText(
            t("What the sheet shows is converted to sRGB, as the finished file's colours are.")
        )
