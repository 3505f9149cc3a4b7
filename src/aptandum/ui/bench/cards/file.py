"""The File card: format, quality and bytes."""

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit

from aptandum.core.photo.facts import FORMAT_NAMES
from aptandum.core.quantity import show_exact_bytes, show_ppi
from aptandum.ui.bench.cards.card import Card
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
        for name in ("jpeg", "png"):
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
        self.quality.setAccessibleName(t("JPEG quality"))
        self.quality.setFixedWidth(76)
        self.quality.setPlaceholderText(t("found"))
        self.quality.setToolTip(t("Left empty, the highest quality inside the limits is found"))
        self.quality.editingFinished.connect(self._quality)
        line.addWidget(self.quality)
        self.column.addLayout(line)
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
        is_jpeg = file.format == "jpeg"
        self.quality.setEnabled(is_jpeg)
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
        self.trouble.setText(trouble)
        self.trouble.setVisible(bool(trouble))
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
