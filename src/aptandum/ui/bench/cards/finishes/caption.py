"""Caption: lines of text on the picture."""

from __future__ import annotations

import math

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QPlainTextEdit

from aptandum.core.fitting.finish.caption import MOST_CAPTIONS, Caption, fitting_size
from aptandum.core.judge.measures.legible_at import EDGES
from aptandum.ui.bench.cards.fields import ChoiceRow, ColourRow, NumberRow, ShareRow
from aptandum.ui.bench.cards.finishes.part import Part
from aptandum.ui.bench.tools import Boxer
from aptandum.ui.session import Bench, Session
from aptandum.ui.strings import listed, sentences, t, t_n
from aptandum.ui.widgets import Choice, button, label

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
_ALIGNED = (
    (None, t("as it stands")),
    ("left", t("to the left")),
    ("middle", t("about their middle")),
    ("right", t("to the right")),
)
_LETTERS = {
    "sans": t("sans"),
    "sans bold": t("sans bold"),
    "condensed": t("condensed"),
    "condensed bold": t("condensed bold"),
    "mono": t("mono"),
    "dots": t("for panels of dots"),
}


class CaptionPart(Part):
    """The part of the card for a band with words."""

    name = "caption"
    alteration = "caption"

    def __init__(self, session: Session) -> None:
        self._quiet = False
        self.number = 1
        super().__init__(session)

    def build(self) -> None:
        """Lay out the words and the band."""
        self._photo_words()
        self.column.addSpacing(4)
        self.column.addWidget(label(t("A caption of your own"), "title"))
        self.column.addWidget(self.forbidden)
        self.numbers = Choice()
        self.numbers.setAccessibleName(t("Which caption"))
        self.numbers.activated.connect(lambda: self.choose(int(self.numbers.currentData())))
        self.take_out = button(t("Remove"), "link", self._take_out)
        which = QHBoxLayout()
        which.addWidget(self.numbers, 1)
        which.addWidget(self.take_out)
        self.column.addLayout(which)
        self.session.requests.caption.connect(self.choose)
        key = "finish.caption."
        self.text = QPlainTextEdit()
        self.text.setAccessibleName(t("Text of the caption"))
        self.text.setPlaceholderText(t("Text, one or more lines"))
        self.text.setFixedHeight(58)
        self.text.setTabChangesFocus(True)
        self.text.textChanged.connect(self._typed)
        self.column.addWidget(self.text)
        self.row(NumberRow(self.session, key + "size", t("Size"), t("px")))
        self.fit = button(t("As large as has room"), "link", self._fit)
        self.column.addWidget(self.fit, 0, Qt.AlignmentFlag.AlignLeft)
        self.panels = Choice()
        self.panels.setAccessibleName(t("Panel that the caption stands in"))
        self.panels.activated.connect(self._stand_in)
        self.column.addWidget(self.panels)
        self.row(ChoiceRow(self.session, key + "anchor", t("Stands"), list(_PLACES.items())))
        self.row(NumberRow(self.session, key + "margin", t("From the edge"), t("px"), whole=True))
        self.row(NumberRow(self.session, key + "right", t("Moved to the right"), t("px")))
        self.row(NumberRow(self.session, key + "down", t("Moved down"), t("px")))
        self.row(NumberRow(self.session, key + "angle", t("Turned clockwise"), "°"))
        self.row(ChoiceRow(self.session, key + "align", t("Lines set"), _ALIGNED))
        self.row(NumberRow(self.session, key + "leading", t("From line to line"), "×"))
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

    def choose(self, number: int) -> None:
        """From now on one of several captions is set by the rows below; one more than there are is a new one."""
        self.number = number
        for row in self.rows:
            row.key = self._key(row.key.rpartition(".")[2])
        if self.session.bench is not None:
            self.show_bench(self.session.bench)
        self.text.setFocus()

    def _key(self, name: str) -> str:
        return (
            f"finish.caption.{self.number}.{name}" if self.number > 1 else f"finish.caption.{name}"
        )

    def _take_out(self) -> None:
        self.session.model.set({f"finish.caption.{self.number}": None}, t("Remove a caption"))

    def wish(self, bench: Bench) -> Caption:
        """The caption that is set by the rows."""
        every = bench.fitting.settings.finish.caption.each()
        return every[self.number - 1] if self.number <= len(every) else Caption()

    def _show_numbers(self, bench: Bench) -> None:
        """Every caption by its words, and one more."""
        every = bench.fitting.settings.finish.caption.each()
        if self.number > len(every) + 1:
            self.choose(len(every))
            return
        full = [one for one in every if one.text.strip()]
        self.numbers.setVisible(bool(full) or self.number > 1)
        self.take_out.setVisible(len(every) > 1 and self.number <= len(every))
        self.numbers.clear()
        for n, one in enumerate(every, start=1):
            words = " ".join(one.text.split())
            self.numbers.addItem(t("{n}   {words}", n=n, words=words or t("no words yet")), n)
        if len(every) < MOST_CAPTIONS:
            self.numbers.addItem(t("One more caption"), len(every) + 1)
        self.numbers.setCurrentIndex(self.number - 1)

    def _fit(self) -> None:
        """Set it as large as has room in the picture or its panel."""
        bench = self.session.bench
        if bench is None:
            return
        wish, frame = self.wish(bench), bench.line.frame
        size = fitting_size(wish, frame.output, bench.line.finish.given.template)
        if size is None:
            self.session.tell(t("There is no room for it, however small it is set."), "note")
        elif size != wish.size:
            self.session.model.set({self._key("size"): size}, t("Caption as large as has room"))

    def _stand_in(self) -> None:
        self.session.model.set(
            {self._key("panel"): str(self.panels.currentData())}, t("Panel of the caption")
        )

    def _show_panels(self, bench: Bench) -> None:
        """The panels of the brief's template, each of which a caption can stand in."""
        template = bench.line.finish.given.template
        self.panels.setVisible(template is not None)
        names = [panel.name for panel in template.panels] if template is not None else []
        if [self.panels.itemData(i) for i in range(1, self.panels.count())] != names:
            self.panels.clear()
            self.panels.addItem(t("in the whole picture"), "")
            for name in names:
                self.panels.addItem(t("in the panel “{name}”", name=name), name)
        at = self.panels.findData(self.wish(bench).panel)
        self.panels.setCurrentIndex(max(0, at))

    def _photo_words(self) -> None:
        """What is marked of the photo as words that must be read."""
        self.column.addWidget(label(t("Words that the photo has"), "title"))
        self.marked = label("", "second", wrap=True)
        lettering = self.session.lettering
        drawn = Boxer(t("Drag a box round the words; a click takes a box out"), lettering.draw)
        self.no_boxes = button(t("Remove all"), "link", lettering.clear)
        above = QHBoxLayout()
        above.addWidget(self.marked, 1)
        above.addWidget(self.no_boxes, 0, Qt.AlignmentFlag.AlignTop)
        self.column.addLayout(above)
        row = QHBoxLayout()
        row.setSpacing(8)
        self.draw_box = button(t("Draw a box"), "", lambda: self.session.requests.tool.emit(drawn))
        self.find_words = button(t("Find words"), "", lettering.find)
        for part in (self.draw_box, self.find_words):
            row.addWidget(part)
        row.addStretch(1)
        self.column.addLayout(row)

    def _typed(self) -> None:
        if not self._quiet:
            text = self.text.toPlainText()
            trouble = self.session.model.set({self._key("text"): text}, t("Caption"), "caption")
            if trouble:
                self.session.tell(trouble)

    def figure(self, bench: Bench) -> str:
        """Whether there is a caption."""
        every = bench.fitting.settings.finish.caption.each()
        text = " · ".join(" ".join(one.text.split()) for one in every if one.text.strip())
        return text if len(text) < 18 else text[:17] + "…"

    def show_bench(self, bench: Bench) -> None:
        """Show the words and the band as the line has them."""
        self._show_numbers(bench)
        wish = self.wish(bench)
        for row in self.rows:
            row.take(getattr(wish, row.key.rpartition(".")[2]))
        self._show_panels(bench)
        if self.text.toPlainText() != wish.text:
            self._quiet = True
            self.text.setPlainText(wish.text)
            self._quiet = False
        for row in self.under:
            row.setVisible(wish.behind != "nothing")
        self.fit.setEnabled(bool(wish.text.strip()))
        words = self._read_from(bench)
        self.reads.setText(words)
        self.reads.setVisible(bool(words))
        n = len(bench.fitting.settings.source.words)
        asks = any(clause.measure == "legible_at" for clause in bench.brief.clauses)
        said = (
            t_n("{n} box must be read.", "{n} boxes must be read.", n)
            if n
            else t("None is marked.")
        )
        no_rule = "" if asks else t("No rule of this brief says at what size.")
        self.marked.setText(sentences([said, no_rule]))
        self.no_boxes.setVisible(bool(n))

    def _read_from(self, bench: Bench) -> str:
        """From what size on all words read, as far as that was measured."""
        look = bench.look
        if look is None or not look.lettering or not bench.draft_is_current:
            return ""
        cut = next((one.cut for one in look.lettering if one.own and one.cut), ())
        if cut:
            return t("It is cut by {edges}.", edges=listed([EDGES[edge] for edge in cut], "and"))
        least = look.told.get(f"legible_at {bench.brief.id}")
        if least is None:
            return ""
        if not math.isfinite(least):
            return t("As it stands it reads at no size: see the rule “Legible at”.")
        return t("It reads from a picture {n} px wide on.", n=round(least))
