"""The File card: format, quality and bytes."""

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit

from aptandum.core.fitting.line import LOSSY, WRITABLE
from aptandum.core.photo.facts import FORMAT_NAMES
from aptandum.core.quantity import show_exact_bytes, show_ppi
from aptandum.ui.bench.cards.card import Card
from aptandum.ui.bench.cards.fields import ChoiceRow, NumberRow, SwitchRow
from aptandum.ui.session import Bench
from aptandum.ui.strings import t
from aptandum.ui.widgets import Choice, label


class FileCard(Card):
    """How the file is written; left alone, it follows the brief."""

    station = "file"

    def build(self) -> None:
        self.heading(t("Format"))
        self.format = Choice()
        self.format.setAccessibleName(t("Format to write"))
        self.format.addItem(t("As the brief asks"), None)
        for name in WRITABLE:
            self.format.addItem(FORMAT_NAMES[name], name)
        self.format.activated.connect(
            lambda: self.session.set({"file.format": self.format.currentData()}, t("Format"))
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
        self.compression = ChoiceRow(self.session, "file.compression", t("Compression"), (
            (None, t("deflate")), ("lzw", "LZW"), ("none", t("none")),
        ))  # fmt: skip
        self.lossless = SwitchRow(self.session, "file.lossless", t("Lose nothing"))
        self.colours = NumberRow(self.session, "file.colours", t("Colours of a palette"), whole=True,
                                 empty=t("as fit"))  # fmt: skip
        self.colours.field.setToolTip(t("2 to 256; left empty, as many as the limits leave"))
        for extra in (self.compression, self.lossless, self.colours):
            self.column.addWidget(extra)
        self.rule()
        self.limits = self.row(t("Bytes asked"))
        self.count = self.row(t("Bytes now"))
        self.found = self.row(t("Written as"))
        self.encodes = self.row(t("Encodes needed"))
        self.ppi = self.row(t("Pixels per inch"))
        self.trouble = label("", "", wrap=True)
        self.column.addWidget(self.trouble)
        self.rule()
        self.kept = label(
            t("Credit and copyright are kept. Location and camera are dropped."), "second", True
        )
        self.column.addWidget(self.kept)

    def show_bench(self, bench: Bench) -> None:
        file = bench.line.file
        settings = bench.fitting.settings.file
        self.format.setCurrentIndex(max(0, self.format.findData(settings.format)))
        lossy = file.format in LOSSY and not file.lossless
        self.quality.setEnabled(lossy)
        self.quality.setPlaceholderText(t("found") if lossy else t("none"))
        self.compression.setVisible(file.format == "tiff")
        self.lossless.setVisible(file.format in ("webp", "avif"))
        self.colours.setVisible(file.format in ("png", "gif") and bench.line.colour.bits == 8)
        for row in (self.compression, self.lossless, self.colours):
            row.take(getattr(settings, row.key.split(".")[1]))
        if not self.quality.hasFocus():
            self.quality.setText(str(settings.quality) if settings.quality else "")
            self.quality.setModified(False)
        if file.at_least is not None and file.at_most is not None:
            limits = t("{a} to {b}", a=show_exact_bytes(file.at_least).replace("\u00a0bytes", ""),
                       b=show_exact_bytes(file.at_most))  # fmt: skip
        elif file.at_most is not None:
            limits = t("at most {b}", b=show_exact_bytes(file.at_most))
        elif file.at_least is not None:
            limits = t("at least {a}", a=show_exact_bytes(file.at_least))
        else:
            limits = t("no limit")
        self.limits.take(limits)
        size, estimated = self.session.expected_bytes()
        shown = show_exact_bytes(size)
        self.count.take(t("about {n}", n=shown) if estimated else shown)
        made = bench.draft if bench.draft_is_current else None
        # with a quality set by hand the mend below says it, and offers the way out
        trouble = made.trouble if made and settings.quality is None else ""
        said = [part for part in (made.statement if made else "", trouble) if part]
        self.trouble.setText(" ".join(said))
        self.trouble.setVisible(bool(said))
        if made is not None and made.options is not None:
            passes = t(", in passes") if made.options.progressive else ""
            how = t(
                "quality {q}, {chroma}", q=made.options.quality, chroma=made.options.subsampling
            )
            self.found.take(how + passes)
        else:
            self.found.take(FORMAT_NAMES[file.format])
        self.encodes.take(str(made.encodes) if made else "…")
        self.ppi.take(show_ppi(file.ppi) if file.ppi else t("not stated"))

    def _quality(self) -> None:
        text = self.quality.text().strip()
        if not self.quality.isModified():
            return
        self.quality.setModified(False)
        value = int(text) if text.isdigit() else (text or None)
        trouble = self.session.set({"file.quality": value}, t("Quality"))
        if trouble:
            self.session.tell(trouble)
            self.refresh()
