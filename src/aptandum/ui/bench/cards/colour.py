"""The Colour card: what comes in and what goes out, what it costs, grey and dots."""

from PyQt6.QtWidgets import QCheckBox, QWidget

from aptandum.core.figures import show_number, show_share
from aptandum.core.fitting.dots import found_threshold
from aptandum.core.fitting.lighting import before, skin_of
from aptandum.core.later import np
from aptandum.core.photo.profile import SHIPPED, SPACE_NAMES
from aptandum.ui.bench.cards.card import Card
from aptandum.ui.bench.cards.fields import ChoiceRow, Field, ShareRow, StopsRow, SwitchRow
from aptandum.ui.session import Bench
from aptandum.ui.strings import sentences, t
from aptandum.ui.widgets import Choice, label


class ColourCard(Card):
    """The space written; its profile is always embedded where the format holds one."""

    station = "colour"

    def build(self) -> None:
        """Lay out space, intent, depth and curve."""
        self.source = self.row(t("Comes in"))
        self.target = self.row(t("Goes out"))
        self.bits = self.row(t("Bits"))
        self.rule()
        self._build_space()
        self.rule()
        self.rows: list[Field] = []

        def put(row: Field) -> Field:
            self.rows.append(row)
            self.column.addWidget(row)
            return row

        put(ChoiceRow(self.session, "colour.bits", t("Bits"), (
            (None, t("as the brief asks")), (8, "8"), (16, "16"), (1, t("1: dots")),
        )))  # fmt: skip
        put(ChoiceRow(self.session, "colour.resampling", t("Resample in"), (
            (None, t("as suits the photo")), ("light", t("linear light")),
            ("numbers", t("encoded values")),
        )))  # fmt: skip
        self.mix = put(ChoiceRow(self.session, "colour.mix", t("Grey from"), (
            ("lightness", t("lightness")), ("even", t("even parts")), ("red", t("red alone")),
            ("green", t("green alone")), ("blue", t("blue alone")),
        )))  # fmt: skip
        self.dots = put(ChoiceRow(self.session, "colour.dots", t("Dots by"), (
            ("diffused", t("diffusion")), ("ordered", t("a pattern")),
            ("found", t("a threshold that keeps the grey")),
            ("parted", t("a threshold between dark and light parts")), ("fixed", t("a fixed threshold")),
        )))  # fmt: skip
        self.threshold = put(ShareRow(self.session, "colour.threshold", t("Threshold")))
        self.sharpen = put(ShareRow(self.session, "colour.sharpen", t("Sharpen before")))
        self.invert = put(SwitchRow(self.session, "colour.invert", t("White for black")))
        self.rule()
        self.heading(t("Light of the whole picture"))
        self.lit = [
            put(StopsRow(self.session, "colour.exposure", t("Lightness"),
                         t("{n} stops darker"), t("{n} stops lighter"))),
            put(StopsRow(self.session, "colour.warmth", t("Warmth"),
                         t("{n} stops colder"), t("{n} stops warmer"))),
        ]  # fmt: skip
        self.skin = self.row(t("Skin, lightness (L*)"))
        self.skin_colour = self.row(t("Skin, strength of colour"))
        self.found = label("", "second", wrap=True)
        self.column.addWidget(self.found)
        self.note = label("", "second", wrap=True)
        self.column.addWidget(self.note)

    def _build_space(self) -> None:
        """The space that is written, and what becomes of colours outside it."""
        self.heading(t("Space"))
        self.choice = Choice()
        self.choice.setAccessibleName(t("Colour space to write"))
        self.choice.addItem(t("As the brief asks"), None)
        for space in SHIPPED:
            self.choice.addItem(SPACE_NAMES[space], space)
        self.choice.activated.connect(
            lambda: self.session.model.set(
                {"colour.space": self.choice.currentData()}, t("Colour space")
            )
        )
        self.column.addWidget(self.choice)
        self.heading(t("Colours outside it are"))
        self.intent = Choice()
        self.intent.setSizeAdjustPolicy(
            Choice.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
        )
        self.intent.setMinimumContentsLength(6)
        self.intent.setAccessibleName(t("How colours outside the space are brought in"))
        self.intent.addItem(t("clipped to its edge"), "relative")
        self.intent.addItem(t("brought to its edge, hue kept"), "hue")
        self.intent.addItem(t("all compressed (perceptual)"), "perceptual")
        self.intent.activated.connect(
            lambda: self.session.model.set(
                {"colour.intent": self.intent.currentData()}, t("Intent")
            )
        )
        self.column.addWidget(self.intent)
        self.outside = self.row(t("Outside the space"))
        self.shows = QCheckBox(t("Show where, on the sheet"))
        self.column.addWidget(self.shows)
        self.moved = self.row(t("Colour change, average · largest"))
        self.moved.setToolTip(
            t("CIEDE2000 between the photo's colours and those written; about 1 can just be seen")
        )

    def show_bench(self, bench: Bench) -> None:
        """Show the spaces of photo and file, and what the change costs."""
        colour = bench.line.colour
        came = SPACE_NAMES[colour.source]
        self.source.take(t("no profile, taken as {space}", space=came) if colour.assumed else came)
        tagged = colour.bits != 1 and bench.line.file.format != "bmp"
        gone = SPACE_NAMES[colour.target]
        self.target.take(
            t("{space}, embedded", space=gone) if tagged else t("{space}, no profile", space=gone)
        )
        before = bench.photo.facts.bits or 8
        self.bits.take(str(before) if before == colour.bits else f"{before} → {colour.bits}")
        settings = bench.fitting.settings.colour
        self.choice.setCurrentIndex(max(0, self.choice.findData(settings.space)))
        self.intent.setCurrentIndex(max(0, self.intent.findData(settings.intent)))
        for row in self.rows:
            row.take(getattr(settings, row.key.split(".")[1]))
        grey, dots = colour.target == "grey", colour.bits == 1
        self.mix.setVisible(grey)
        parts: list[QWidget] = [self.dots, self.sharpen, self.invert]
        for part in parts:
            part.setVisible(dots)
        self.threshold.setVisible(dots and settings.dots == "fixed")
        self._show_found(bench, dots and settings.dots == "found")
        self._show_conversion(bench, grey)
        self.lit[1].setVisible(not grey)
        self._show_skin(bench)
        light = colour.light
        self.note.setText(
            sentences(
                [
                    t("Shown as sRGB, or in the screen's own profile (View)."),
                    t("Fine detail keeps its lightness when it is reduced.")
                    if light
                    else t(
                        "It is reduced in encoded values, as was chosen: very fine patterns may darken."
                    ),
                ]
            )
        )

    def _show_skin(self, bench: Bench) -> None:
        """What the light that is set does to the skin of the face, in figures."""
        marks, frame = self.session.marking.marks(), bench.line.frame
        skin = None
        if marks is not None and bench.fitted is not None and bench.line.colour.relit:
            scale = bench.fitted.shape[1] / frame.window.width
            placed = marks.swung(frame.angle, bench.line.source.shown)
            skin = skin_of(bench.fitted, placed.placed(frame.window.left, frame.window.top, scale))
        for part in (self.skin, self.skin_colour):
            part.setVisible(skin is not None)
        if skin is None:
            return
        colour = bench.line.colour
        was = before(skin, colour.exposure, colour.warmth)
        strong = [show_number(float(np.hypot(lab[1], lab[2])), 0) for lab in (was, skin)]
        light = [show_number(float(lab[0]), 0) for lab in (was, skin)]
        self.skin.take(t("{before} → {after}", before=light[0], after=light[1]))
        self.skin_colour.take(t("{before} → {after}", before=strong[0], after=strong[1]))

    def _show_found(self, bench: Bench, on: bool) -> None:
        words = ""
        if on and bench.grey is not None and bench.draft_is_current:
            n = show_number(found_threshold(bench.grey[..., 0]), 1)
            words = t("Found at {n} %.", n=n)
        self.found.setText(words)
        self.found.setVisible(bool(words))

    def _show_conversion(self, bench: Bench, grey: bool) -> None:
        if not grey:
            self.session.pixels.look_at_conversion()
        found = bench.conversion if not grey else None
        for part in (self.outside, self.shows, self.moved):
            part.setVisible(not grey)
        if found is None:
            self.outside.take("…")
            self.moved.take("…")
            return
        share = found.share
        said = (
            t("nothing")
            if share == 0
            else (t("under {n}", n=show_share(0.0001)) if share < 0.0001 else show_share(share))
        )
        self.outside.take(said, "advises" if share > 0.001 else "")
        self.shows.setEnabled(share > 0)
        self.moved.take(
            t(
                "{mean} · {largest} ΔE",
                mean=show_number(found.mean, 2),
                largest=show_number(found.largest, 1),
            )
        )
