"""The File card: format, quality and bytes."""

from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from aptandum.core.figures import show_exact_bytes, show_ppi
from aptandum.core.file.curve import has_curve
from aptandum.core.file.make import Made
from aptandum.core.fitting.filenames import FIELDS, broken, file_name, trouble
from aptandum.core.fitting.plan import LOSSY, WRITABLE, Line
from aptandum.core.photo.facts import FORMAT_NAMES, shown_name
from aptandum.ui import theme
from aptandum.ui.bench.cards.card import Card
from aptandum.ui.bench.cards.curve import BudgetCurve
from aptandum.ui.bench.cards.fields import BytesRow, ChoiceRow, NumberRow, SwitchRow
from aptandum.ui.bench.cards.metadata import MetadataGroups
from aptandum.ui.session import Bench, Session
from aptandum.ui.strings import sentences, t
from aptandum.ui.widgets import Choice, button, label


class NameField(QWidget):
    """The name to write: fields in braces, and below it what comes of them."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(label(t("Name"), "second"))
        self.field = QLineEdit()
        self.field.setAccessibleName(t("Name of the file, without its ending"))
        fields = "\n".join(
            t("{field}  {words}", field=f"{{{name}}}", words=words)
            for name, words in FIELDS.items()
        )
        self.field.setToolTip(t("In braces, a name takes:\n{fields}", fields=fields))
        self.field.setPlaceholderText(t("as the brief asks"))
        self.field.textEdited.connect(self._typing)
        self.field.editingFinished.connect(self._typed)
        column.addWidget(self.field)
        self.example = label("", "figure", wrap=True)
        column.addWidget(self.example)
        self.hint = label(
            t("Fields: {all}", all=" ".join(f"{{{name}}}" for name in FIELDS)), "rule", wrap=True
        )
        column.addWidget(self.hint)

    def show_bench(self, bench: Bench) -> None:
        """Show the file that is to be written, and what binds it."""
        name = bench.fitting.settings.file.name or ""
        if not (self.field.hasFocus() and self.field.isModified()):
            if self.field.text() != name:
                self.field.setText(name)
            self.field.setModified(False)
            self._show(bench.line.file.name, True)

    def _show(self, name: str, ok: bool) -> None:
        letters = len(name.rsplit(".", 1)[0])
        said = t("{name} · {n} letters", name=name, n=letters) if ok else name
        self.example.setText(said)
        self.example.setStyleSheet("" if ok else f"color: {theme.palette().misses}")

    def _typing(self, text: str) -> None:
        """The name as it would be, while it is typed, checked against the body's own rules."""
        bench = self.session.bench
        if bench is None:
            return
        chosen = text.strip() or None
        wrong = trouble(chosen) if chosen is not None else ""
        if wrong:
            self._show(t("Expected {what}.", what=wrong), False)
            return
        photo, line = shown_name(bench.photo.facts.file), bench.line
        name = file_name(photo, bench.brief, line.file.format, chosen, line.frame.output)
        missed = broken(name, bench.brief)
        self._show(t("{name}: {value}", name=name, value=missed) if missed else name, not missed)

    def _typed(self) -> None:
        if not self.field.isModified():
            return
        self.field.setModified(False)
        said = self.session.model.set({"file.name": self.field.text().strip() or None}, t("Name"))
        if said:
            self.session.tell(said)
            self.field.setModified(True)


def _written_as(line: Line, made: Made | None) -> str:
    """How a file is encoded; of a photo that goes out as it is, that it is not."""
    if line.way == "supplied":
        return t("as it came")
    if line.way == "around":
        return t("picture untouched")
    if made is not None and made.options is not None:
        options = made.options
        how = t("quality {q}, {chroma}", q=options.quality, chroma=options.subsampling)
        return how + (t(", progressive") if options.progressive else "")
    if made is not None and made.colours is not None:
        return t("{n} colours", n=made.colours)
    return FORMAT_NAMES[line.file.format]


class FileCard(Card):
    """How the file is written; left alone, it follows the brief."""

    station = "file"

    def build(self) -> None:
        """Lay out format, quality or budget, density and data."""
        self.heading(t("Format"))
        self.format = Choice()
        self.format.setAccessibleName(t("Format to write"))
        self.format.addItem(t("As the brief asks"), None)
        for name in WRITABLE:
            self.format.addItem(FORMAT_NAMES[name], name)
        self.format.activated.connect(
            lambda: self.session.model.set({"file.format": self.format.currentData()}, t("Format"))
        )
        self.column.addWidget(self.format)
        line = QHBoxLayout()
        self.quality_name = label(t("Quality, 1 to 100"), "second")
        line.addWidget(self.quality_name)
        line.addStretch(1)
        self.quality = QLineEdit()
        self.quality.setProperty("role", "number")
        self.quality.setAccessibleName(t("Quality"))
        self.quality.setFixedWidth(76)
        self.quality.setPlaceholderText(t("found"))
        self.quality.setToolTip(t("Left empty, the highest quality inside the limits is found"))
        self.quality.editingFinished.connect(self._quality)
        line.addWidget(self.quality)
        self.column.addLayout(line)
        self.colours = NumberRow(
            self.session, "file.colours", t("Colours of a palette"), whole=True, empty=t("as fit")
        )
        self.colours.field.setToolTip(t("2 to 256; left empty, as many as the limits leave"))
        self.column.addWidget(self.colours)
        self.curve = BudgetCurve()
        self.curve.chosen.connect(self._choose)
        self.column.addWidget(self.curve)
        self.point = label("", "figure", wrap=True)
        self.point.setStyleSheet(theme.scaled("font-size: 11px"))
        self.column.addWidget(self.point)
        self.look = button(t("Look at it 1:1"), "link", self.session.requests.loss.emit)
        self.look.setToolTip(t("Before and after encoding, pixel for pixel (Z)"))
        self.column.addWidget(self.look)
        self.limits = self.row(t("Bytes asked"))
        self.at_most = BytesRow(self.session, "file.at_most", t("Own limit, at most"))
        self.at_least = BytesRow(self.session, "file.at_least", t("Own limit, at least"))
        for own in (self.at_most, self.at_least):
            self.column.addWidget(own)
        self.count = self.row(t("Bytes now"))
        self.found = self.row(t("Written as"))
        self.encodes = self.row(t("Tries it took"))
        self.trouble = label("", "", wrap=True)
        self.column.addWidget(self.trouble)
        self.rule()
        self._build_ways()
        self.rule()
        self.name = NameField(self.session)
        self.column.addWidget(self.name)
        self.rule()
        self.told = MetadataGroups(self.session)
        self.column.addWidget(self.told)

    def _build_ways(self) -> None:
        """How the file is written, beside its quality."""
        self.floor = NumberRow(
            self.session, "file.floor", t("Smaller size below quality"), whole=True
        )
        self.floor.field.setToolTip(
            t(
                "Where the brief leaves the pixels open and less quality than this would fit, a "
                "smaller allowed size is taken instead"
            )
        )
        self.chroma = ChoiceRow(
            self.session,
            "file.subsampling",
            t("Chroma"),
            (
                (None, t("as fits")),
                ("4:4:4", t("4:4:4, full")),
                ("4:2:0", t("4:2:0, a quarter")),
            ),
        )
        self.passes = ChoiceRow(
            self.session,
            "file.progressive",
            t("Passes"),
            (
                (None, t("as fits")),
                (False, t("baseline: in one pass")),
                (True, t("progressive: coarse, then finer")),
            ),
        )
        self.compression = ChoiceRow(
            self.session,
            "file.compression",
            t("Compression"),
            (
                (None, t("deflate")),
                ("lzw", "LZW"),
                ("none", t("none")),
            ),
        )
        self.lossless = SwitchRow(self.session, "file.lossless", t("Lose nothing"))
        self.ppi = NumberRow(self.session, "file.ppi", t("Pixels per inch"), empty=t("not stated"))
        self.ways = (
            self.floor,
            self.chroma,
            self.passes,
            self.compression,
            self.lossless,
            self.ppi,
        )
        for row in self.ways:
            self.column.addWidget(row)

    def show_bench(self, bench: Bench) -> None:
        """Show the file that is to be written, and what binds it."""
        file = bench.line.file
        settings = bench.fitting.settings.file
        self.format.setCurrentIndex(max(0, self.format.findData(settings.format)))
        lossy = file.format in LOSSY and not file.lossless
        self.quality.setEnabled(lossy)
        self.quality.setPlaceholderText(t("found") if lossy else t("none"))
        curved = has_curve(file, bench.line.colour.bits)
        palette = file.format in ("png", "gif") and bench.line.colour.bits == 8
        self.compression.setVisible(file.format == "tiff")
        self.lossless.setVisible(file.format in ("webp", "avif"))
        self.colours.setVisible(palette)
        self.chroma.setVisible(file.format in ("jpeg", "avif") and lossy)
        self.passes.setVisible(file.format in ("jpeg", "png"))
        for row in (self.colours, *self.ways):
            row.take(getattr(settings, row.key.split(".")[1]))
        if settings.ppi is None:
            self.ppi.field.setPlaceholderText(show_ppi(file.ppi) if file.ppi else t("not stated"))
        if not self.quality.hasFocus():
            self.quality.setText(str(settings.quality) if settings.quality else "")
            self.quality.setModified(False)
        if file.at_least is not None and file.at_most is not None:
            limits = t(
                "{a} to {b}",
                a=show_exact_bytes(file.at_least).replace("\u00a0bytes", ""),
                b=show_exact_bytes(file.at_most),
            )
        elif file.at_most is not None:
            limits = t("at most {b}", b=show_exact_bytes(file.at_most))
        elif file.at_least is not None:
            limits = t("at least {a}", a=show_exact_bytes(file.at_least))
        else:
            limits = t("no limit")
        self.limits.take(limits)
        self.at_most.take(settings.at_most)
        self.at_least.take(settings.at_least)
        size, estimated = self.session.model.expected_bytes()
        shown = show_exact_bytes(size)
        self.count.take(t("about {n}", n=shown) if estimated else shown)
        made = bench.draft if bench.draft_is_current else None
        self._show_curve(bench, curved)
        # with a quality set by hand the mend below says it, and offers the way out
        trouble = made.trouble if made and settings.quality is None else ""
        said = [part for part in (made.statement if made else "", trouble, self._other()) if part]
        self.trouble.setText(sentences(said))
        self.trouble.setVisible(bool(said))
        self.found.take(_written_as(bench.line, made))
        self.encodes.take(str(made.encodes) if made else "…")
        self.name.show_bench(bench)
        self.told.show_bench(bench)

    def showEvent(self, event: QShowEvent | None) -> None:
        """What is only measured while it is seen is measured now."""
        super().showEvent(event)
        self.refresh()

    def _show_curve(self, bench: Bench, curved: bool) -> None:
        for part in (self.curve, self.point, self.look):
            part.setVisible(curved)
        if not curved:
            return
        if self.isVisible():
            self.session.pixels.look_at_curve()
        made = bench.draft if bench.draft_is_current else None
        now = None
        if made is not None:
            now = made.options.quality if made.options is not None else made.colours
        known = bench.curve if bench.curve_for == bench.draft_for else None
        file = bench.line.file
        size = len(made.data) if made is not None else 0
        self.curve.take(known, file.at_least, file.at_most, now, size)
        self.point.setText(self.curve.says())

    def _other(self) -> str:
        """Whether another size would be taken for the limits' sake."""
        way = self.session.pixels.wants_other_size()
        if way == "smaller":
            return t("Conform takes the largest allowed size that reaches the quality set below.")
        return t("Conform takes a larger allowed size.") if way == "larger" else ""

    def _choose(self, at: int) -> None:
        bench = self.session.bench
        if bench is not None and bench.curve is not None:
            name = "file.quality" if bench.curve.of == "quality" else "file.colours"
            self.session.model.set({name: at}, t("Quality"))

    def _quality(self) -> None:
        text = self.quality.text().strip()
        if not self.quality.isModified():
            return
        self.quality.setModified(False)
        value = int(text) if text.isdigit() else (text or None)
        trouble = self.session.model.set({"file.quality": value}, t("Quality"))
        if trouble:
            self.session.tell(trouble)
            self.refresh()
