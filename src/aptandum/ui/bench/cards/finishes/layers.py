"""What lies over a panel's ground: figures, photos, textures and colours, in order."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any, Literal

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QGridLayout, QPushButton, QVBoxLayout, QWidget

from aptandum.core.fitting.finish.layers import MOST_LAYERS, Layer, Point, edge_from
from aptandum.core.fitting.finish.panels import Fill
from aptandum.core.fitting.finish.textures import TEXTURES, is_file
from aptandum.core.judge.polygons import bounds
from aptandum.ui.bench.cards.fields import Chip
from aptandum.ui.bench.tools import Dropper, Liner
from aptandum.ui.session import Session
from aptandum.ui.strings import t
from aptandum.ui.widgets import Choice, NumberField, button, label

TEXTURE_NAMES = {
    "ripstop": t("sail cloth"),
    "linen": t("linen"),
    "sea-chart": t("sea chart"),
    "planks": t("planks"),
}
KINDS: tuple[tuple[Literal["figure", "photo", "texture", "colour"], str], ...] = (
    ("figure", t("a figure out of a photo")),
    ("photo", t("a photo")),
    ("texture", t("a texture")),
    ("colour", t("a colour")),
)


def sources(session: Session, kind: str, source: str) -> list[tuple[str, str]]:
    """What a panel or a layer of a kind can show: name and source of each."""
    if kind == "colour":
        return []
    found: list[tuple[str, str]] = []
    if kind == "texture":
        found = [(TEXTURE_NAMES[name], name) for name in TEXTURES]
        paths = [source] if is_file(source) else []
    else:
        paths = [entry.path for entry in session.docket.photos]
        if source and source not in paths:
            paths.append(source)
    return found + [(Path(path).name, path) for path in paths]


def turn_of(session: Session, path: str) -> int:
    """How the docket's photo at a path is turned by hand, as EXIF counts."""
    entries = (entry for entry in session.docket.photos if entry.path == path)
    return next((entry.turn for entry in entries), 1)


def show_sources(choice: Choice, wanted: list[tuple[str, str]], source: str) -> None:
    """Bring a choice of sources in line."""
    now = [(choice.itemText(i), choice.itemData(i)) for i in range(choice.count())]
    if now != wanted:
        choice.clear()
        for said, data in wanted:
            choice.addItem(said, data)
    choice.setCurrentIndex(max(0, choice.findData(source)))


class Layers(QWidget):
    """The rows for what lies over the chosen panel's ground.

    Args:
        fill: gives what fills the chosen panel now.
        put: fills it, with the words of the step.
        choose: chooses a layer by its number; 0 is the ground.
    """

    def __init__(
        self,
        session: Session,
        fill: Callable[[], Fill],
        put: Callable[[Fill, str], None],
        choose: Callable[[int], None],
    ) -> None:
        super().__init__()
        self.session, self._fill, self._put, self._choose = session, fill, put, choose
        self.number = 0
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        column.addWidget(label(t("Over its ground"), "title"))
        self.which = Choice()
        self.which.setAccessibleName(t("Which layer"))
        self.which.activated.connect(lambda: self._choose(int(self.which.currentData())))
        column.addWidget(self.which)
        column.addWidget(label(t("Lay over it:"), "second"))
        self.adds: dict[str, QPushButton] = {}
        adds = QGridLayout()
        for place, (kind, said) in enumerate(
            zip(dict(KINDS), (t("Figure"), t("Photo"), t("Texture"), t("Colour")), strict=True)
        ):
            made = button(said, "link", partial(self._add, kind))
            made.setAccessibleName(t("Lay over it: {what}", what=dict(KINDS)[kind]))
            made.setToolTip(dict(KINDS)[kind])
            adds.addWidget(made, 0, place, Qt.AlignmentFlag.AlignLeft)
            self.adds[kind] = made
        column.addLayout(adds)
        self.rows = QWidget()
        column.addWidget(self.rows)
        self._build(QVBoxLayout(self.rows))

    def _build(self, column: QVBoxLayout) -> None:
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        self.source = Choice()
        self.source.setAccessibleName(t("What the layer shows"))
        self.source.activated.connect(self._source)
        column.addWidget(self.source)
        self.chip = Chip()
        self.chip.setToolTip(t("Colour of the layer"))
        self.pick = button(t("Colour from picture"), "link", self._drop)
        colour = QGridLayout()
        colour.addWidget(self.chip, 0, 0)
        colour.addWidget(self.pick, 0, 1, Qt.AlignmentFlag.AlignLeft)
        colour.setColumnStretch(1, 1)
        column.addLayout(colour)
        numbers = QGridLayout()
        numbers.setSpacing(6)
        self.numbers: dict[str, NumberField] = {}
        self.names: list[QWidget] = []
        for n, (key, name, unit) in enumerate(
            (
                ("wide", t("Width, of the panel's"), "%"),
                ("x", t("Middle from the left"), "%"),
                ("y", t("Middle from the top"), "%"),
                ("angle", t("Turned clockwise"), "°"),
            )
        ):
            field = NumberField(name)
            field.taken.connect(partial(self._number, key))
            words, ending = label(name, "second"), label(unit, "second")
            for place, part in enumerate((words, field, ending)):
                numbers.addWidget(part, n, place)
            self.numbers[key] = field
            self.names += [words, ending]
        numbers.setColumnStretch(0, 1)
        column.addLayout(numbers)
        self.moved = label(t("Or drag it on the sheet."), "second", wrap=True)
        column.addWidget(self.moved)
        self.line = button(t("Only up to a line that is drawn"), "link", self._ask_line)
        self.line.setToolTip(
            t(
                "Draw from left to right to cover what lies below the line, from right to left for what lies "
                "above it, or all the way round for what lies inside."
            )
        )
        self.no_line = button(t("All of the panel again"), "link", lambda: self._set(edge=()))
        for part in (self.line, self.no_line):
            column.addWidget(part, 0, Qt.AlignmentFlag.AlignLeft)
        self.up = button(t("Higher"), "link", lambda: self._order(1))
        self.down = button(t("Lower"), "link", lambda: self._order(-1))
        self.remove = button(t("Remove"), "link", self._remove)
        order = QGridLayout()
        for place, part in enumerate((self.up, self.down, self.remove)):
            order.addWidget(part, 0, place, Qt.AlignmentFlag.AlignLeft)
        order.setColumnStretch(3, 1)
        column.addLayout(order)

    # -- changes -----------------------------------------------------------------------------

    def layer(self) -> Layer | None:
        """The chosen layer; ``None`` where the ground is chosen."""
        layers = self._fill().layers
        return layers[self.number - 1] if 0 < self.number <= len(layers) else None

    def _set(self, **changes: Any) -> None:
        if self.layer() is not None:
            self._put(self._fill().with_layer(self.number, **changes), t("Change a layer"))

    def _add(self, kind: Literal["figure", "photo", "texture", "colour"]) -> None:
        fill = self._fill()
        found = sources(self.session, kind, "")
        bench = self.session.bench
        own = bench.photo.path if bench is not None else ""
        source = own if kind in ("figure", "photo") else found[0][1] if found else ""
        layer = Layer(kind=kind, source=source, turn=turn_of(self.session, source))
        self._put(fill.model_copy(update={"layers": (*fill.layers, layer)}), t("Lay over a panel"))
        self._choose(len(fill.layers) + 1)

    def take_photo(self, path: str) -> None:
        """Have the chosen layer show a photo."""
        self._set(source=path, turn=turn_of(self.session, path))

    def _source(self) -> None:
        source = str(self.source.currentData())
        self._set(source=source, turn=turn_of(self.session, source))

    def _number(self, key: str, value: float) -> None:
        layer = self.layer()
        if layer is None:
            return
        if key == "wide":
            self._set(wide=min(max(value / 100, 0.01), 4.0))
        elif key == "angle":
            self._set(angle=min(max(value, -180.0), 180.0))
        else:
            share = min(max(value / 100, -1.0), 2.0)
            self._set(at=(share, layer.at[1]) if key == "x" else (layer.at[0], share))

    def _drop(self) -> None:
        self.session.requests.tool.emit(
            Dropper(t("Click for the layer's colour"), lambda colour, _at: self._set(colour=colour))
        )

    def _ask_line(self) -> None:
        self.session.requests.tool.emit(Liner(t("Draw the line on the panel"), self._drawn))

    def _drawn(self, stroke: list[Point]) -> None:
        """A line was drawn, in shares of the picture: it ends the layer, in shares of the panel's box."""
        bench = self.session.bench
        template = bench.line.finish.given.template if bench is not None else None
        if template is None:
            return
        panel = self._fill().panel
        outline = next((p.outline for p in template.panels if p.name == panel), None)
        if outline is None:
            return
        wide, high = template.size
        left, top, across, up = bounds(outline, template.size)
        edge = edge_from([((x * wide - left) / across, (y * high - top) / up) for x, y in stroke])
        if edge:
            self._set(edge=edge)
        else:
            self.session.tell(t("That is too short for a line: drag across the panel."), "note")

    def _order(self, by: int) -> None:
        fill = self._fill()
        to = self.number - 1 + by
        if self.layer() is None or not 0 <= to < len(fill.layers):
            return
        made = list(fill.layers)
        made.insert(to, made.pop(self.number - 1))
        self._put(fill.model_copy(update={"layers": tuple(made)}), t("Order of the layers"))
        self._choose(to + 1)

    def _remove(self) -> None:
        fill = self._fill()
        if self.layer() is None:
            return
        kept = (*fill.layers[: self.number - 1], *fill.layers[self.number :])
        self._put(fill.model_copy(update={"layers": kept}), t("Remove a layer"))
        self._choose(min(self.number, len(kept)))

    # -- showing -----------------------------------------------------------------------------

    def show_fill(self, fill: Fill) -> None:
        """Show what lies over the ground, and the chosen layer's settings."""
        self.number = min(self.number, len(fill.layers))
        self.which.clear()
        self.which.addItem(t("The ground"), 0)
        for n, layer in enumerate(fill.layers, start=1):
            name = dict(KINDS)[layer.kind]
            self.which.addItem(t("{n}   {words}", n=n, words=name), n)
        self.which.setCurrentIndex(self.number)
        self.which.setVisible(bool(fill.layers))
        for made in self.adds.values():
            made.setEnabled(len(fill.layers) < MOST_LAYERS)
        chosen = self.layer()
        self.rows.setVisible(chosen is not None)
        if chosen is not None:
            self._show_layer(chosen, len(fill.layers))

    def _show_layer(self, layer: Layer, many: int) -> None:
        stands = layer.kind in ("figure", "photo")
        show_sources(self.source, sources(self.session, layer.kind, layer.source), layer.source)
        self.source.setVisible(layer.kind != "colour")
        for shown in (self.chip, self.pick):
            shown.setVisible(layer.kind == "colour")
        self.chip.show_colour(layer.colour)
        values = {
            "wide": layer.wide * 100,
            "x": layer.at[0] * 100,
            "y": layer.at[1] * 100,
            "angle": layer.angle,
        }
        for key, field in self.numbers.items():
            field.setVisible(stands)
            field.show_value(round(values[key], 2))
        for words in (*self.names, self.moved):
            words.setVisible(stands)
        self.no_line.setVisible(bool(layer.edge))
        self.up.setEnabled(self.number < many)
        self.down.setEnabled(self.number > 1)
