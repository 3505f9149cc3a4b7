"""The bench: one fitting. Stations on top, ledger left, sheet in the middle, card right."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QColor, QResizeEvent
from PyQt6.QtWidgets import (
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.figures import show_bytes
from aptandum.core.file.curve import has_curve
from aptandum.core.judge.findings import Findings
from aptandum.core.judge.measures import REGISTRY
from aptandum.ui import theme
from aptandum.ui.bench.cards.card import Card
from aptandum.ui.bench.cards.colour import ColourCard
from aptandum.ui.bench.cards.file import FileCard
from aptandum.ui.bench.cards.finish import FinishCard
from aptandum.ui.bench.cards.frame import FrameCard
from aptandum.ui.bench.cards.proof import ProofCard
from aptandum.ui.bench.cards.source import SourceCard
from aptandum.ui.bench.examples_view import ExamplesView
from aptandum.ui.bench.ledger import Ledger
from aptandum.ui.bench.linked_strip import LinkedStrip
from aptandum.ui.bench.loss import LossView
from aptandum.ui.bench.mockup_view import MockupView
from aptandum.ui.bench.sheet import Sheet
from aptandum.ui.bench.stations import StationLine
from aptandum.ui.bench.tones import Tone
from aptandum.ui.bench.views import DOTS, EXAMPLES, FITTED, LOSS, PLACE, SUPPLIED, view_words
from aptandum.ui.progress import UnderWay
from aptandum.ui.session import Change, Session
from aptandum.ui.strings import joined, t
from aptandum.ui.widgets import button, label, restyle


class BenchPage(QWidget):
    """The bench: one photo, the brief's clauses, and the stations between them."""

    write_asked = pyqtSignal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.stations = StationLine()
        self.ledger = Ledger()
        self.sheet = Sheet(session)
        self.in_place = MockupView(session)
        self.loss = LossView(session)
        self.examples = ExamplesView(session)
        self.linked = LinkedStrip(session)
        self.mode = SUPPLIED
        self.cards: dict[str, Card] = {
            card.station: card
            for card in (
                SourceCard(session),
                FrameCard(session),
                ColourCard(session),
                FinishCard(session),
                FileCard(session),
                ProofCard(session),
            )
        }
        self.stack = QStackedWidget()
        for card in self.cards.values():
            self.stack.addWidget(card)
        self._lay_out()
        self.stations.chosen.connect(self.open_station)
        self.ledger.chosen.connect(self._clause)
        colour = self.cards["colour"]
        if isinstance(colour, ColourCard):
            colour.shows.clicked.connect(self.sheet.show_outside)
        frame = self.cards["frame"]
        if isinstance(frame, FrameCard):
            frame.solidity.connect(self.sheet.set_solid)
        self.sheet.zoomed.connect(self._zoomed)
        self.in_place.solidity.connect(self.sheet.set_solid)
        session.requests.loss.connect(self.show_loss)
        session.model.pictures.connect(self._show_seen)
        session.model.pictures.connect(self.linked.refresh)
        session.model.changed.connect(self.refresh)
        session.store.changed.connect(self._docket_changed)
        session.model.opened.connect(self._opened)
        session.model.proved.connect(lambda: self.open_station("proof"))
        session.jobs.listed.connect(self._working)
        self.open_station("source")

    def _lay_out(self) -> None:
        bar, top, text, view = self._view_bar()
        top.addStretch(1)
        self._tone_bar(top)
        self.zoom = label("", "figure")
        self.zoom.setMinimumWidth(50)
        self.zoom.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        top.addWidget(self.zoom)
        self.sizes: list[QPushButton] = []
        for text, tip, act in (
            (t("Whole"), t("The whole photo (W)"), self.whole),
            (t("Frame"), t("The frame as large as it goes (R)"), self.sheet.fit_frame),
            ("1:1", t("One screen pixel for each pixel (1)"), self.sheet.one_to_one),
        ):
            view = button(text, "view", act)
            view.setToolTip(tip)
            top.addWidget(view)
            self.sizes.append(view)
            if act == self.sheet.fit_frame:
                self.frame_button = view
        middle = QVBoxLayout()
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(0)
        middle.addWidget(bar)
        self.seen = QStackedWidget()
        for seen in (self.sheet, self.in_place, self.loss, self.examples):
            self.seen.addWidget(seen)
        middle.addWidget(self.seen, 1)
        middle.addWidget(self.linked)
        acts = self._acts()
        right = QWidget()
        right.setProperty("role", "panel")
        right.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        right.setFixedWidth(theme.px(theme.CARD_WIDTH))
        self.right = right
        column = QVBoxLayout(right)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.stack, 1)
        column.addLayout(acts)
        below = QHBoxLayout()
        below.setContentsMargins(0, 0, 0, 0)
        below.setSpacing(0)
        below.addWidget(self.ledger)
        below.addLayout(middle, 1)
        below.addWidget(right)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self.stations)
        layout.addLayout(below, 1)
        self.restyle()
        self.show_view(SUPPLIED)

    def _view_bar(self) -> tuple[QFrame, QHBoxLayout, str, QPushButton]:
        """The views above the sheet."""
        self.views: dict[str, QPushButton] = {}
        group = QButtonGroup(self)
        bar = QFrame()
        bar.setObjectName("sheetbar")
        self.bar = bar
        top = QHBoxLayout(bar)
        top.setContentsMargins(12, 5, 10, 5)
        top.setSpacing(4)
        for mode, text, tip in view_words():
            view = button(text, "view", partial(self.show_view, mode))
            view.setToolTip(tip)
            view.setCheckable(True)
            group.addButton(view)
            self.views[mode] = view
            top.addWidget(view)
        self.views[DOTS].hide()
        self.views[LOSS].hide()
        self.views[EXAMPLES].hide()
        return bar, top, text, view

    def _tone_bar(self, top: QHBoxLayout) -> None:
        """The surround's tones."""
        self.tones = []
        tones = QButtonGroup(self)
        for i in range(len(theme.SURROUNDS)):
            tone = Tone(i)
            tone.clicked.connect(lambda _on, i=i: self.set_tone(i))
            tones.addButton(tone)
            self.tones.append(tone)
            top.addWidget(tone)
        self.tones[1].setChecked(True)
        top.addSpacing(10)

    def _acts(self) -> QVBoxLayout:
        """What is done with the file."""
        self.act = button(t("Conform to brief"), "act", self.session.making.conform)
        self.act.setToolTip(t("Make the file that meets the brief, and read it back (Ctrl+Return)"))
        self.write = button(t("Write file…"), "", self.write_asked.emit)
        self.write.setToolTip(t("Write the file to disk (Ctrl+Shift+W)"))
        self.hand = button(t("Hand over…"), "", self.session.requests.hand_over.emit)
        self.hand.setToolTip(t("Prove the file and hand it over to the body’s desk (Ctrl+J, H)"))
        self.under_way = UnderWay(self.session.jobs, spread=True)
        self.progress, self.cancel = self.under_way.words, self.under_way.cancel
        acts = QVBoxLayout()
        acts.setContentsMargins(16, 8, 16, 16)
        acts.setSpacing(8)
        acts.addWidget(self.under_way)
        acts.addWidget(self.act)
        out = QHBoxLayout()
        out.setSpacing(8)
        out.addWidget(self.write, 1)
        out.addWidget(self.hand, 1)
        acts.addLayout(out)
        return acts

    def restyle(self) -> None:
        """Colour the bar above the sheet as a shade of the sheet's own ground."""
        ground = QColor(theme.SURROUNDS[self.sheet.ground])
        dark = ground.lightness() < 110
        shade = ground.lighter(128) if dark and ground.lightness() > 8 else ground.darker(106)
        if ground.lightness() <= 8:
            shade = QColor("#161616")
        ink = "#EDEDEB" if dark else "#1D2630"
        if 110 <= ground.lightness() < 140:
            ink = "#101418"
        self._set_widths()
        self.bar.setStyleSheet(
            f"#sheetbar {{ background: {shade.name()}; }}"
            f"#sheetbar QLabel, #sheetbar QPushButton {{ color: {ink}; }}"
            f"#sheetbar QPushButton:checked {{ color: {theme.palette().ink}; }}"
        )

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """In a small window the sheet keeps its room: less ledger, fewer buttons above it."""
        self._set_widths()
        super().resizeEvent(event)

    def _set_widths(self) -> None:
        self.right.setFixedWidth(theme.px(theme.CARD_WIDTH))
        wide = theme.px(theme.LEDGER_WIDTH)
        self.ledger.setFixedWidth(
            228 if self.width() < 900 else 264 if self.width() < 1060 else wide
        )
        self._fit_bar()

    def _fit_bar(self) -> None:
        """What the bar above the sheet has room for: the views always, then the tones, the sizes,
        and last the zoom, which also has keys."""
        dotted = self._dotted()
        self.views[DOTS].setVisible(dotted)
        on_sheet = self.seen.currentWidget() is self.sheet
        # In a small window what has a key and a link elsewhere gives way to the names of the rest.
        narrow = self.width() < 1060
        self.views[LOSS].setVisible(self._lossy() and not narrow)
        self.views[EXAMPLES].setVisible(self._has_examples())
        tight = "true" if narrow else "false"
        for view in self.views.values():
            if view.property("tight") != tight:
                view.setProperty("tight", tight)
                restyle(view)
        room = self.width() - self.ledger.width() - self.right.width() - 44
        gone = {
            DOTS: not dotted,
            LOSS: narrow or not self._lossy(),
            EXAMPLES: not self._has_examples(),
        }
        shown = [view for name, view in self.views.items() if not gone.get(name, False)]
        room -= sum(view.sizeHint().width() + 4 for view in shown)
        if room < 0 and not gone[EXAMPLES]:  # Shift+E and the menu have them as well
            self.views[EXAMPLES].setVisible(False)
        ends = [view for view in self.sizes if view is not self.frame_button]
        for group in (self.tones, ends, [self.frame_button], [self.zoom]):
            room -= sum(max(part.sizeHint().width(), part.minimumWidth()) + 4 for part in group)
            for part in group:
                part.setVisible(room >= 0 and on_sheet)

    # -- acts ------------------------------------------------------------------------------

    def show_view(self, mode: str) -> None:
        """Show the picture in one of the ways of looking at it."""
        self.views[mode].setChecked(True)
        self.mode = mode
        others = {PLACE: self.in_place, LOSS: self.loss, EXAMPLES: self.examples}
        shown = others.get(mode, self.sheet)
        self.sheet.show_mode(FITTED if mode in others else mode)
        if mode == LOSS and self.seen.currentWidget() is not self.loss:
            self.loss.start()
        self.seen.setCurrentWidget(shown)
        self.refresh()

    def _dotted(self) -> bool:
        bench = self.session.bench
        return bench is not None and bench.line.colour.bits == 1

    def _has_examples(self) -> bool:
        bench = self.session.bench
        return bench is not None and bool(bench.brief.examples)

    def show_examples(self) -> None:
        """Show the body's examples beside the picture."""
        if self._has_examples():
            self.show_view(EXAMPLES)

    def _lossy(self) -> bool:
        """Whether encoding changes anything that could be looked at."""
        bench = self.session.bench
        return bench is not None and has_curve(bench.line.file, bench.line.colour.bits)

    def _show_seen(self) -> None:
        if self.mode == PLACE:
            self.in_place.refresh()
        elif self.mode == LOSS:
            self.loss.refresh()
        elif self.mode == EXAMPLES:
            self.examples.refresh()

    def show_loss(self) -> None:
        """Show what the compression takes away, where the file loses anything."""
        if self._lossy():
            self.show_view(LOSS)

    def next_place(self) -> None:
        """The next of the brief's places."""
        if self.mode == PLACE:
            places = self.in_place.places()
            self.in_place.choose((self.in_place.at + 1) % max(1, len(places)))
        else:
            self.show_view(PLACE)

    def show_dots(self) -> None:
        """Show the dots of a file of two tones."""
        if self._dotted():
            self.show_view(DOTS)

    def toggle_outside(self) -> None:
        """Show which colours lie outside the space that is written, or no longer."""
        self.show_view(FITTED)
        self.sheet.show_outside(not self.sheet.outside)
        colour = self.cards["colour"]
        if isinstance(colour, ColourCard):
            colour.shows.setChecked(self.sheet.outside)

    def whole(self) -> None:
        """Show the whole photo."""
        self.sheet.fit_photo()

    def set_tone(self, index: int) -> None:
        """Put the picture on another ground, from white to black."""
        self.sheet.ground = index
        self.session.requests.surround = index
        self.tones[index].setChecked(True)
        self.restyle()
        self.sheet.update()
        if self.open_name == "finish":
            self.cards["finish"].refresh()

    def next_tone(self) -> None:
        """Put the picture on the next ground."""
        self.set_tone((self.sheet.ground + 1) % len(theme.SURROUNDS))

    def open_station(self, name: str) -> None:
        """Open a station's card; at Source the photo is seen as supplied, elsewhere as fitted."""
        self._open_card(name)
        finish = self.cards["finish"]
        if name == "finish" and isinstance(finish, FinishCard):
            finish.open_missed()
        if self.session.bench is not None and not (name == "proof" and self.mode == PLACE):
            self.show_view(SUPPLIED if name == "source" else FITTED)
        self.refresh()

    def open_finish(self, name: str) -> None:
        """Open the Finish station at one of its finishes."""
        self.open_station("finish")
        card = self.cards["finish"]
        if isinstance(card, FinishCard):
            card.open(name)

    def answer(self, met: bool) -> None:
        """Answer the question that is asked at the Proof station; elsewhere, go there first."""
        card = self.cards["proof"]
        if self.open_name != "proof":
            self.open_station("proof")
        elif isinstance(card, ProofCard) and not card.asks.isHidden():
            card.asks.answer(met)

    def takes_photos(self, paths: Sequence[str]) -> bool:
        """Fill the chosen panel and those after it, where the panels are what is being set; whether it did."""
        card = self.cards["finish"]
        return isinstance(card, FinishCard) and card.takes_photos(paths)

    def pick_clear(self) -> None:
        """Have the next click on the picture say which colour becomes clear."""
        card = self.cards["finish"]
        if isinstance(card, FinishCard):
            card.pick_clear()

    def _open_card(self, name: str) -> None:
        """Where colours and edges are looked at, the sheet shows nothing but the picture."""
        self.stations.open(name)
        self.stack.setCurrentWidget(self.cards[name])
        self.sheet.bare = name in ("colour", "finish")
        if self.sheet.tool is not None and name != "finish":
            self.sheet.hold(None)

    @property
    def open_name(self) -> str:
        return next(n for n, card in self.cards.items() if card is self.stack.currentWidget())

    def _clause(self, clause_id: str) -> None:
        """Light a clause's drawing on the sheet and open the station that can mend it."""
        bench = self.session.bench
        if bench is None:
            return
        finding = self._findings().of(clause_id)
        measure = finding.clause.measure
        self.sheet.light(measure or "", finding.verdict)
        name = REGISTRY[measure].station if measure else "proof"
        self._open_card(name)
        finish = self.cards["finish"]
        if name == "finish" and measure and isinstance(finish, FinishCard):
            finish.open_for(measure)
        self.refresh()

    def catch_up(self) -> None:
        """Show what lay on the bench before this page was built."""
        if self.session.bench is not None:
            self._opened()
            self.linked.refresh()

    def _opened(self) -> None:
        self.sheet.lit = ""
        self.open_station("source")
        self._working()

    @property
    def _making(self) -> bool:
        """Whether the file of this fitting is being made."""
        return any(one.lane == "proof" for one in self.session.jobs.commands)

    def _working(self) -> None:
        for part in (self.act, self.write, self.hand):
            part.setEnabled(not self._making and self.session.bench is not None)

    def _docket_changed(self, change: Change) -> None:
        """What has become of a file that was handed over is said on its card."""
        if change.touches("handed") and self.isVisible():
            self.refresh()

    def _findings(self) -> Findings:
        bench = self.session.bench
        assert bench is not None
        if self.sheet.mode == SUPPLIED:
            return bench.supplied
        return bench.proof.findings if bench.proof is not None else bench.live

    def _zoomed(self, percent: float) -> None:
        self.zoom.setText(f"{percent:.0f} %" if percent >= 10 else f"{percent:.1f} %")

    def refresh(self) -> None:
        """Bring the bench in line with the session."""
        bench = self.session.bench
        ready = bench is not None
        for part in (self.act, self.write, self.hand):
            part.setEnabled(ready and not self._making)
        if bench is None:
            return
        if self.sheet.mode == SUPPLIED:
            what = t("As supplied")
        else:
            what = t("In the file") if bench.proof is not None else t("As fitted")
        self.ledger.show_findings(bench.book, bench.brief, self._findings(), what)
        offered = next(
            (o.new.body.edition for o in self.session.library.offers() if o.old == bench.book), None
        )
        self.ledger.show_edition(offered)
        if self.sheet.lit and self.ledger.selected in self.ledger.rows:
            self.sheet.lit_verdict = self.ledger.rows[self.ledger.selected].finding.verdict
        self._fit_bar()
        there = {DOTS: self._dotted, LOSS: self._lossy, EXAMPLES: self._has_examples}
        if self.mode in there and not there[self.mode]():
            self.show_view(FITTED)
            return
        self._show_seen()
        figures = bench.line.says()
        size, estimated = self.session.model.expected_bytes()
        made = bench.draft if bench.draft_is_current else None
        plain = made is None or bench.goes_out_as_it_is
        known = figures["file"] if plain or made is None else made.says()
        about = "≈ " if estimated else ""
        figures["file"] = joined([known, t("{about}{size}", about=about, size=show_bytes(size))])
        tones = dict.fromkeys(figures, "ink2")
        if bench.proof is not None:
            figures["proof"] = bench.proof.findings.summary()
            tones["proof"] = "meets" if bench.proof.ready else "misses"
        else:
            as_it_is = bench.goes_out_as_it_is
            figures["proof"] = t("meets as it is") if as_it_is else t("not made yet")
            tones["proof"] = "meets" if as_it_is else "ink2"
        for finding in bench.live.findings:
            measure = finding.clause.measure
            if finding.verdict == "misses" and measure:
                tones[REGISTRY[measure].station] = "misses"
        for name, stop in self.stations.stops.items():
            stop.take(figures[name], tones.get(name, "ink2"))
        self.cards[self.open_name].refresh()
        self.linked.refresh()
        self.sheet.zoomed.emit(self.sheet.percent)
