"""The Source card: everything that the supplied file says of itself."""

from functools import partial

from PyQt6.QtWidgets import QHBoxLayout

from aptandum.core.figures import show_exact_bytes, show_ppi, show_sides
from aptandum.core.photo.facts import FORMAT_NAMES, Facts
from aptandum.core.photo.profile import SPACE_NAMES
from aptandum.core.photo.turning import LEFT, MIRROR, RIGHT
from aptandum.ui import theme
from aptandum.ui.bench.cards.card import Card
from aptandum.ui.bench.cards.fields import SwitchRow
from aptandum.ui.session import Bench
from aptandum.ui.strings import t
from aptandum.ui.widgets import button, label

_TURNS = {
    1: t("none"),
    2: t("mirrored"),
    3: t("half a turn"),
    4: t("mirrored, half a turn"),
    5: t("mirrored, to the left"),
    6: t("a quarter to the right"),
    7: t("mirrored, to the right"),
    8: t("a quarter to the left"),
}


class SourceCard(Card):
    """What comes in. Nothing here changes the photo."""

    station = "source"

    def build(self) -> None:
        """Lay out what the photo's file holds."""
        self.file = label("", "", wrap=True)
        self.column.addWidget(self.file)
        self.damage = label("", "", wrap=True)
        self.column.addWidget(self.damage)
        self.use = SwitchRow(self.session, "source.damaged", t("Use it although it is damaged"))
        self.column.addWidget(self.use)
        self.rule()
        self.format = self.row(t("Format"))
        self.count = self.row(t("Bytes"))
        self.stored = self.row(t("Stored"))
        self.turn = self.row(t("Turn"))
        self.shown = self.row(t("As shown"))
        turns = QHBoxLayout()
        turns.setSpacing(6)
        for text, tip, code in (
            (t("Left"), t("Turn the photo to the left (Shift+T)"), LEFT),
            (t("Right"), t("Turn the photo to the right (T)"), RIGHT),
            (t("Mirror"), t("Mirror the photo (Y)"), MIRROR),
        ):
            made = button(text, "", partial(self.session.marking.turn_photo, code))
            made.setToolTip(tip)
            made.setAccessibleName(tip)
            made.setStyleSheet("padding-left: 4px; padding-right: 4px")
            turns.addWidget(made)
        self.column.addLayout(turns)
        self.rule()
        self.space = self.row(t("Colour space"))
        self.profile = self.row(t("Profile"))
        self.channel_bits = self.row(t("Bits"))
        self.see_through = self.row(t("Transparency"))
        self.ppi = self.row(t("Pixels per inch"))
        self.place = self.row(t("Place of the shot"))
        self.beside = label("", "second", wrap=True)
        self.column.addWidget(self.beside)
        self.rule()
        self.column.addWidget(label(t("Done to it before it came here"), "second"))
        self.before: list[SwitchRow] = []
        for key, name in (
            ("source.dust", t("Dust or scratches taken out")),
            ("source.retouched", t("Retouched")),
        ):
            row = SwitchRow(self.session, key, name)
            self.before.append(row)
            self.column.addWidget(row)
        self.rule()
        self.column.addWidget(
            label(t("The supplied photo is only read. It is never written to."), "second", True)
        )

    def show_bench(self, bench: Bench) -> None:
        """Show the photo's facts as its file states them."""
        f = bench.photo.facts
        said_of = bench.fitting.settings.source
        for row, said in zip(self.before, (said_of.dust, said_of.retouched), strict=True):
            row.take(said)
        self.damage.setText(bench.damage)
        self.damage.setStyleSheet(f"color: {theme.palette().misses}")
        self.damage.setVisible(bool(bench.damage))
        self.use.take(said_of.damaged)
        self.use.setVisible(bool(bench.damage) or said_of.damaged)
        self.file.setText(bench.photo.name)
        self.file.setToolTip(bench.photo.path)
        self.format.take(
            FORMAT_NAMES[f.format or "jpeg"] + (t(", progressive") if f.progressive else "")
        )
        self.count.take(show_exact_bytes(f.bytes or 0))
        w, h = bench.line.source.stored
        self.stored.take(show_sides((w, h)))
        own, by_hand = _TURNS[f.orientation or 1], _TURNS[f.turn]
        self.turn.take(own if f.turn == 1 else t("{own}, then {more}", own=own, more=by_hand))
        w, h = f.size
        self.shown.take(show_sides((w, h)))
        self.space.take(SPACE_NAMES[f.colour_space or "untagged"])
        broken = f.profile is not None and f.profile.broken is not None
        self.profile.take(
            t("cannot be used") if broken else (f.icc or t("none")), "misses" if broken else ""
        )
        self.channel_bits.take(t("{n} a channel, {mode}", n=f.bits, mode=f.mode))
        self.see_through.take(t("a channel for it") if f.alpha else t("none"))
        self.ppi.take(show_ppi(f.ppi_x) if f.ppi_x else t("not stated"))
        self.beside.setText("\n".join(_beside(f)))
        self.beside.setVisible(bool(self.beside.text()))
        self.place.take(t("in the file; will be removed") if f.location else t("not in the file"))


def _beside(facts: Facts) -> list[str]:
    """What else lies in the photo's file."""
    said = []
    several = facts.pictures - facts.gain_map
    if several > 1:
        said.append(t("Its file holds {n} pictures; the first is used.", n=several))
    if facts.format == "tiff" and (facts.frames or 1) > 1:
        said.append(t("Its file has {n} pages; the first is used.", n=facts.frames))
    if facts.gain_map:
        said.append(
            t("It has a gain map, for screens that can be brighter than white. It is not used.")
        )
    return said
