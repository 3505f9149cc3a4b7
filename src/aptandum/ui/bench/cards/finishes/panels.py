"""Panels: what fills each panel of the brief's template."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout

from aptandum.core.fitting.finish.panels import Fill
from aptandum.core.fitting.finish.textures import TEXTURES
from aptandum.core.fitting.resolve_frame import cut_of_shape
from aptandum.core.judge.polygons import bounds
from aptandum.core.photo.facts import PhotoError
from aptandum.ui.bench.cards.fields import Chip
from aptandum.ui.bench.cards.finishes.layers import Layers, show_sources, sources, turn_of
from aptandum.ui.bench.cards.finishes.part import Part
from aptandum.ui.bench.tools import Dropper
from aptandum.ui.session import Bench, Session
from aptandum.ui.strings import sentences, t, t_n
from aptandum.ui.widgets import Choice, NumberField, button, label


class PanelsPart(Part):
    """The part of the card for a template's panels."""

    name = "panels"
    alteration = "panels"

    def __init__(self, session: Session) -> None:
        self.panel = ""
        super().__init__(session)

    def build(self) -> None:
        """Lay out the panels and what fills the chosen one."""
        self.none = label(t("The brief has no template."), "second", wrap=True)
        self.column.addWidget(self.none)
        self.panels = Choice()
        self.panels.setAccessibleName(t("Panel"))
        self.panels.activated.connect(lambda: self.choose(self.panels.currentText()))
        self.column.addWidget(self.panels)
        self.kind = Choice()
        self.kind.setAccessibleName(t("Filled with"))
        for kind, said in (
            ("own", t("this photo, as framed over all")),
            ("photo", t("a photo with its own frame")),
            ("texture", t("a texture")),
            ("colour", t("a colour")),
            ("empty", t("nothing")),
        ):
            self.kind.addItem(said, kind)
        self.kind.activated.connect(self._kind)
        self.column.addWidget(self.kind)
        self.source = Choice()
        self.source.setAccessibleName(t("Which one"))
        self.source.activated.connect(self._source)
        self.column.addWidget(self.source)
        self._more()
        self.free = QCheckBox(t("Only the person or thing, set free"))
        self.free.clicked.connect(lambda on: self._put(free=on))
        self.column.addWidget(self.free)
        line = QHBoxLayout()
        line.setSpacing(6)
        self.chip = Chip()
        self.chip.setToolTip(t("Colour of the panel"))
        self.pick = button(t("Colour from picture"), "link", self.drop)
        line.addWidget(self.chip)
        line.addWidget(self.pick)
        line.addStretch(1)
        self.column.addLayout(line)
        self.frame_words = label(
            t("Its frame: left, top, width in photo pixels"), "second", wrap=True
        )
        self.column.addWidget(self.frame_words)
        numbers = QHBoxLayout()
        numbers.setSpacing(4)
        self.numbers: list[NumberField] = []
        for name in (t("Left"), t("Top"), t("Width")):
            field = NumberField(name)
            field.setFixedWidth(72)
            field.setToolTip(name)
            field.taken.connect(lambda _v: self._framed())
            self.numbers.append(field)
            numbers.addWidget(field)
        numbers.addStretch(1)
        self.column.addLayout(numbers)
        self._over()

    def _more(self) -> None:
        """A photo from elsewhere, and the same for all."""
        self.open = button(t("A photo from a file…"), "link", self.ask_photo)
        self.open.setToolTip(
            t("It fills this panel and becomes no fitting of its own; or drop it on the sheet")
        )
        self.all = button(t("Fill all panels like this"), "link", self.fill_all)
        for part in (self.open, self.all):
            self.column.addWidget(part, 0, Qt.AlignmentFlag.AlignLeft)

    def _over(self) -> None:
        """What lies over the ground."""
        self.layers = Layers(self.session, self.fill, self.put, self.choose_layer)
        self.column.addWidget(self.layers)
        self.session.requests.layer.connect(self._held)

    def choose_layer(self, number: int) -> None:
        """Go to one of the things that lie over the panel; 0 is its ground."""
        self.layers.number = number
        self.session.requests.layer.emit(self.panel, number)
        if self.session.bench is not None:
            self.show_bench(self.session.bench)

    def _held(self, panel: str, number: int) -> None:
        """A layer was taken hold of on the sheet."""
        if (panel, number) != (self.panel, self.layers.number):
            self.choose(panel)
            self.choose_layer(number)

    def choose(self, panel: str) -> None:
        """Go to another panel."""
        self.panel = panel
        self.layers.number = 0
        if self.session.bench is not None:
            self.show_bench(self.session.bench)
            self.session.requests.panel.emit(panel)

    # -- changes -----------------------------------------------------------------------------

    def fill(self) -> Fill:
        """What fills the chosen panel now."""
        bench = self.session.bench
        assert bench is not None
        return bench.fitting.settings.finish.panels.of(self.panel)

    def put(self, fill: Fill, words: str = "") -> None:
        """Fill the chosen panel, as one step that can be undone and that is called by ``words``."""
        bench = self.session.bench
        assert bench is not None
        fills = bench.fitting.settings.finish.panels.having(fill)
        words = words or t("Fill {panel}", panel=self.panel)
        trouble = self.session.model.set(
            {"finish.panels.fills": fills}, words, f"panel {self.panel}"
        )
        if trouble:
            self.session.tell(trouble)

    def ask_photo(self) -> None:
        """Ask for a photo that fills the chosen panel."""
        from aptandum.ui import photo_dialog

        found = photo_dialog.ask_for_photos(self, t("A photo for {panel}", panel=self.panel))
        if found:
            self.take_photos(found)

    def take_photos(self, paths: Sequence[str]) -> None:
        """Fill the chosen panel and those after it with photos, which come into the docket and become no fittings.
        Where a layer that shows a photo, or a texture, is chosen, the first becomes its picture."""
        taken = self.session.photos.take(list(paths))
        if not taken.ids:
            self.session.tell("\n".join(taken.troubles))
            return
        found = [self.session.docket.photo(one).path for one in taken.ids]
        layer, fill = self.layers.layer(), self.fill()
        if layer is not None and layer.kind != "colour":
            self.layers.take_photo(found[0])
        elif fill.kind == "texture":
            self._put(source=found[0], turn=turn_of(self.session, found[0]))
        else:
            self._fill_from(found)

    def _fill_from(self, found: list[str]) -> None:
        bench = self.session.bench
        template = bench.line.finish.given.template if bench is not None else None
        if bench is None or template is None:
            return
        names = [panel.name for panel in template.panels]
        at = names.index(self.panel)
        order = [*names[at:], *names[:at]]
        panels, told = bench.fitting.settings.finish.panels, []
        for panel, path in zip(order, found, strict=False):
            made = panels.of(panel).model_copy(
                update={
                    "kind": "photo",
                    "source": path,
                    "window": None,
                    "turn": turn_of(self.session, path),
                }
            )
            panels = panels.model_copy(update={"fills": panels.having(made)})
            told.append(t("{photo} fills {panel}.", photo=Path(path).name, panel=panel))
        words = t("Fill {panel}", panel=self.panel) if len(told) == 1 else t("Fill several panels")
        self.session.model.set({"finish.panels.fills": panels.fills}, words)
        left = len(found) - len(told)
        if left > 0:
            told.append(
                t_n(
                    "There is no panel for {n} more photo; it is in the docket.",
                    "There is no panel for {n} more photos; they are in the docket.",
                    left,
                )
            )
        self.session.tell(sentences(told), "note")

    def fill_all(self) -> None:
        """Fill every panel as the chosen one is filled, each in its own shape, as one step."""
        bench = self.session.bench
        template = bench.line.finish.given.template if bench is not None else None
        if bench is None or template is None:
            return
        fill, panels = self.fill(), bench.fitting.settings.finish.panels
        for panel in template.panels:
            update = {"panel": panel.name}
            if panel.name != self.panel:  # its frame has another shape
                update["window"] = None  # type: ignore[assignment]
            panels = panels.model_copy(
                update={"fills": panels.having(fill.model_copy(update=update))}
            )
        self.session.model.set({"finish.panels.fills": panels.fills}, t("Fill all panels"))

    def _put(self, **changes: Any) -> None:
        self.put(self.fill().model_copy(update=changes))

    def _kind(self) -> None:
        kind = self.kind.currentData()
        source = ""
        if kind == "photo":
            bench = self.session.bench
            source = bench.photo.path if bench is not None else ""
        elif kind == "texture":
            source = TEXTURES[0]
        self._put(kind=kind, source=source, window=None, turn=turn_of(self.session, source))

    def _source(self) -> None:
        source = self.source.currentData()
        self._put(source=source, window=None, turn=turn_of(self.session, source))

    def take_colour(self, colour: str) -> None:
        """Fill the chosen panel with a colour."""
        fill = self.fill()
        kind = fill.kind if fill.kind == "photo" and fill.free else "colour"
        self._put(kind=kind, colour=colour)

    def drop(self) -> None:
        """Have the next click on the picture give the panel's colour."""
        words = t("Click for the colour of {panel}", panel=self.panel)
        self.session.requests.tool.emit(
            Dropper(words, lambda colour, _at: self.take_colour(colour))
        )

    def _shown(self, fill: Fill) -> tuple[float, float, float, float] | None:
        """The frame of the panel's photo as it is, in that photo's pixels."""
        bench = self.session.bench
        template = bench.line.finish.given.template if bench is not None else None
        entry = next((p for p in self.session.docket.photos if p.path == fill.source), None)
        if template is None or entry is None:
            return None
        outline = next((p.outline for p in template.panels if p.name == self.panel), None)
        try:
            size = self.session.photos.photo_of(entry.id).facts.size
        except PhotoError:
            return None
        if outline is None:
            return None
        _x, _y, wide, high = bounds(outline, template.size)
        box = cut_of_shape((wide, high), fill.window, size)
        return box.left, box.top, box.width, box.height

    def _framed(self) -> None:
        fill = self.fill()
        now = self._shown(fill)
        if now is None:
            return
        left, top, wide = (field._value for field in self.numbers)
        values = []
        for field, value in zip(self.numbers, (left, top, wide), strict=True):
            text = field.text().replace("\u202f", "").replace("\u00a0", "").replace(" ", "")
            values.append(float(text) if text.replace(".", "", 1).isdigit() else value)
        width = max(8.0, values[2])
        self._put(window=(values[0], values[1], width, width * now[3] / now[2]))

    # -- showing -----------------------------------------------------------------------------

    def figure(self, bench: Bench) -> str:
        """How many panels are filled."""
        template = bench.line.finish.given.template
        if template is None:
            return ""
        n = len(template.panels)
        return t_n("{n} panel", "{n} panels", n)

    def show_bench(self, bench: Bench) -> None:
        """Show the template's panels and the chosen one's filling."""
        template = bench.line.finish.given.template
        parts = (
            self.panels,
            self.kind,
            self.source,
            self.free,
            self.chip,
            self.pick,
            self.frame_words,
            self.open,
            self.all,
            self.layers,
            *self.numbers,
        )
        for part in parts:
            part.setVisible(template is not None)
        self.none.setVisible(template is None)
        if template is None:
            return
        names = [panel.name for panel in template.panels]
        if [self.panels.itemText(i) for i in range(self.panels.count())] != names:
            self.panels.clear()
            self.panels.addItems(names)
        if self.panel not in names:
            self.panel = names[0]
        self.panels.setCurrentIndex(names.index(self.panel))
        fill = bench.fitting.settings.finish.panels.of(self.panel)
        self.layers.show_fill(fill)
        over = self.layers.layer() is not None
        self.kind.setVisible(not over)
        self.kind.setCurrentIndex(max(0, self.kind.findData(fill.kind)))
        photo, texture = fill.kind == "photo" and not over, fill.kind == "texture" and not over
        show_sources(self.source, sources(self.session, fill.kind, fill.source), fill.source)
        self.source.setVisible(photo or texture)
        self.free.setVisible(photo)
        self.free.setChecked(fill.free)
        colour = (fill.kind == "colour" and not over) or (photo and fill.free)
        self.chip.setVisible(colour)
        self.pick.setVisible(colour)
        self.chip.show_colour(fill.colour)
        box = self._shown(fill) if photo else None
        self.frame_words.setVisible(box is not None)
        for field, value in zip(self.numbers, box or (0, 0, 0), strict=False):
            field.setVisible(box is not None)
            field.show_value(round(value, 1))
