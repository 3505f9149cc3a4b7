"""Border: the brief's own or a picture of yours, laid over the photo."""

from __future__ import annotations

from PyQt6.QtWidgets import QFileDialog

from aptandum.core.figures import show_size
from aptandum.core.fitting.finish import FinishError
from aptandum.core.fitting.finish.border import file_of, opening_of, reframed
from aptandum.ui.bench.cards.fields import ChoiceRow, SwitchRow
from aptandum.ui.bench.cards.finishes.part import Part
from aptandum.ui.session import Bench
from aptandum.ui.strings import sentences, t
from aptandum.ui.widgets import button, label


class BorderPart(Part):
    """The part of the card for a picture that is laid around the photo."""

    name = "border"
    alteration = "border"

    def build(self) -> None:
        """Lay out the picture's name and its opening."""
        self.picture = ChoiceRow(
            self.session,
            "finish.border.picture",
            t("Border"),
            (
                (None, t("as the brief has it")),
                ("none", t("none")),
            ),
        )
        self.row(self.picture)
        self.file = button(t("A border of your own…"), "link", self.choose)
        self.column.addWidget(self.file)
        self.told = label("", "second", wrap=True)
        self.column.addWidget(self.told)
        self.scaled = self.row(
            SwitchRow(self.session, "finish.border.scaled", t("Scale it to the picture"))
        )
        self.reframe = button(t("Frame the photo to its opening"), "link", self.to_opening)
        self.reframe.setToolTip(t("What the frame holds now is then seen within the border"))
        self.column.addWidget(self.reframe)

    def choose(self) -> None:
        """Ask for a picture with a clear middle."""
        path, _ = QFileDialog.getOpenFileName(
            self, t("A border with a transparent middle"), "", t("Pictures (*.png *.webp *.tif)")
        )
        if path:
            self.take_file(path)

    def take_file(self, path: str) -> None:
        """Lay a picture of the person's own around the photo."""
        self.session.model.set({"finish.border.picture": path}, t("Border"))

    def _path(self) -> str | None:
        bench = self.session.bench
        if bench is None:
            return None
        return file_of(bench.fitting.settings.finish.border, bench.line.finish.given)

    def to_opening(self) -> None:
        """Frame the photo so that it fills the border's opening."""
        bench, path = self.session.bench, self._path()
        if bench is None or path is None:
            return
        try:
            opening = opening_of(path)
        except FinishError as error:
            self.session.tell(str(error))
            return
        w = bench.line.frame.window
        box = reframed(opening, (w.left, w.top, w.width, w.height))
        pw, ph = bench.line.source.shown
        beyond = box[0] < 0 or box[1] < 0 or box[0] + box[2] > pw or box[1] + box[3] > ph
        changes: dict[str, object] = {
            "frame.window": ", ".join(f"{v:.4f}" for v in box),
            "frame.fill": "pad" if beyond else bench.fitting.settings.frame.fill,
        }
        trouble = self.session.model.set(changes, t("Frame to the opening"))
        if trouble:
            self.session.tell(trouble)

    def figure(self, bench: Bench) -> str:
        """The border's picture."""
        if self.name not in bench.line.finish.on:
            return ""
        own = bench.fitting.settings.finish.border.picture
        return t("your own") if own else t("the brief's")

    def show_bench(self, bench: Bench) -> None:
        """Show the picture that is laid around, or that there is none."""
        wish = bench.fitting.settings.finish.border
        if wish.picture and self.picture.choice.findData(wish.picture) < 0:
            self.picture.choice.addItem(wish.picture.rsplit("/", 1)[-1], wish.picture)
        super().show_bench(bench)
        path = self._path()
        given = bench.line.finish.given.border is not None
        self.picture.choice.setItemText(
            0, t("as the brief has it") if given else t("as the brief has it: none")
        )
        words, fits = "", True
        if path is not None:
            try:
                opening = opening_of(path)
                fits = opening.size == bench.line.frame.output
                left, top, wide, high = opening.box
                words = t(
                    "{size}, its opening {opening} at {x}, {y}.",
                    size=show_size(opening.size),
                    opening=show_size((wide, high)),
                    x=left,
                    y=top,
                )
                if not fits and not wish.scaled:
                    words = sentences(
                        [
                            words,
                            t(
                                "The picture has {size}, so it is not laid on.",
                                size=show_size(bench.line.frame.output),
                            ),
                        ]
                    )
            except FinishError as error:
                words = str(error)
        self.told.setText(words)
        self.told.setVisible(bool(words))
        self.scaled.setVisible(not fits or wish.scaled)
        self.reframe.setVisible(path is not None)
