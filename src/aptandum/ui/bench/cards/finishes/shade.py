"""Shade: light and dark laid over a part of the picture or all of it."""

from __future__ import annotations

from PyQt6.QtWidgets import QFileDialog, QHBoxLayout

from aptandum.core.figures import show_number
from aptandum.core.fitting.finish.shade import SHADES, file_of
from aptandum.ui.bench.cards.fields import ChoiceRow, ShareRow
from aptandum.ui.bench.cards.finishes.part import Part
from aptandum.ui.session import Bench
from aptandum.ui.strings import t
from aptandum.ui.widgets import NumberField, button, label

SAID = {
    "dusk-edge": t("dusk at the edge"),
    "soft-folds": t("soft folds"),
    "lamp-left": t("lamp on the left"),
}


class ShadePart(Part):
    """The part of the card for a shade over the photo."""

    name = "shade"
    alteration = "shade"

    def build(self) -> None:
        """Lay out the shade's picture and its strength."""
        key = "finish.shade."
        self.picture = ChoiceRow(
            self.session,
            key + "picture",
            t("Shade"),
            (
                (None, t("as the brief has it")),
                ("none", t("none")),
                *((s, SAID[s]) for s in SHADES),
            ),
        )
        self.row(self.picture)
        self.file = button(t("A picture of your own…"), "link", self.choose)
        self.column.addWidget(self.file)
        self.row(ShareRow(self.session, key + "strength", t("Strength")))
        self.row(
            ChoiceRow(
                self.session,
                key + "blend",
                t("Laid"),
                (
                    ("over", t("over, as it is")),
                    ("darken", t("to darken")),
                    ("lighten", t("to lighten")),
                ),
            )
        )
        self.row(
            ChoiceRow(
                self.session,
                key + "fit",
                t("Of another shape"),
                (("cover", t("cut to the part")), ("stretch", t("stretched"))),
            )
        )
        self.column.addWidget(label(t("Part in %: left, top, width, height"), "second"))
        line = QHBoxLayout()
        line.setSpacing(4)
        self.area: list[NumberField] = []
        for name in (t("Left"), t("Top"), t("Width"), t("Height")):
            field = NumberField(name)
            field.setFixedWidth(54)
            field.setToolTip(name)
            field.taken.connect(lambda _value: self._area())
            self.area.append(field)
            line.addWidget(field)
        line.addStretch(1)
        self.column.addLayout(line)

    def choose(self) -> None:
        """Ask for a picture to lie over the photo."""
        path, _ = QFileDialog.getOpenFileName(
            self, t("A picture to shade with"), "", t("Pictures (*.png *.jpg *.jpeg *.webp *.tif)")
        )
        if path:
            self.take_file(path)

    def take_file(self, path: str) -> None:
        """Lay a picture of the person's own over the photo."""
        self.session.model.set({"finish.shade.picture": path}, t("Shade"))

    def _area(self) -> None:
        shares = [float(field.text().replace(",", ".") or 0) for field in self.area]
        whole = shares == [0, 0, 100, 100]
        text = ", ".join(f"{show_number(v, 2)} %" for v in shares)
        trouble = self.session.model.set({"finish.shade.area": None if whole else text}, t("Shade"))
        if trouble:
            self.session.tell(trouble)

    def figure(self, bench: Bench) -> str:
        """The shade and its strength."""
        if self.name not in bench.line.finish.on:
            return ""
        return f"{round(bench.fitting.settings.finish.shade.strength)} %"

    def show_bench(self, bench: Bench) -> None:
        """Show the shade that lies over the photo, or that there is none."""
        wish = bench.fitting.settings.finish.shade
        if wish.picture and self.picture.choice.findData(wish.picture) < 0:
            self.picture.choice.addItem(wish.picture.rsplit("/", 1)[-1], wish.picture)
        super().show_bench(bench)
        none = file_of(wish.model_copy(update={"picture": None}), bench.line.finish.given) is None
        self.picture.choice.setItemText(
            0, t("as the brief has it: none") if none else t("as the brief has it")
        )
        for field, value in zip(self.area, wish.area or (0, 0, 1, 1), strict=True):
            field.show_value(round(value * 100, 2))
