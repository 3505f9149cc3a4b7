"""What a brief carries besides its clauses: what may be done to a photo, where the picture is seen,
and what is laid on it. A part of the form."""

from __future__ import annotations

from collections.abc import Callable, Collection
from functools import partial
from itertools import pairwise
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from aptandum.core.brief.model import ALTERATIONS, PLACES
from aptandum.core.rulebook import write
from aptandum.ui.bench.mockups import SCENES
from aptandum.ui.fields import EntriesField, TextField
from aptandum.ui.strings import t
from aptandum.ui.widgets import Choice, button, hairline, label

Change = Callable[[str, int], str]
"""A rulebook's text and a brief's number to the changed text."""

_KEYS: dict[str, tuple[str, ...]] = {
    "card": ("width",),
    "print": ("width",),
    "projection": (),
    "handset": (),
    "grid": ("at",),
    "tint": ("colours", "opacity", "text"),
    "corner": ("at", "opacity"),
    "strip": ("at",),
    "panel": (),
    "banner": ("aspect", "anchor"),
}
"""What each place can be told; zones can be told of all."""

_NAMES = {
    "width": t("Width there"),
    "at": t("Size there"),
    "opacity": t("Opacity"),
    "aspect": t("Proportion"),
    "anchor": t("Cut from"),
    "colours": t("Colours"),
    "text": t("Words on it"),
    "zones": t("Zones"),
}
_HINTS = {
    "width": "35 mm",
    "at": "140 px",
    "opacity": "55 %",
    "aspect": "8:1",
    "colours": "#7A2E3B, #1F5A7A",
    "text": "Evening lectures",
}
_ANCHORS = {
    "middle": t("the middle"),
    "top": t("the top"),
    "bottom": t("the bottom"),
    "left": t("the left"),
    "right": t("the right"),
}
_DONE = {
    "turn": t("turn"),
    "cut": t("cut"),
    "pad": t("pad"),
    "scale": t("scale"),
    "convert": t("convert"),
    "light": t("lighten, darken, warm or cool"),
    "sharpen": t("sharpen"),
    "one-bit": t("make one bit"),
    "backdrop": t("alter backdrop"),
    "clear": t("make transparent"),
    "keyline": t("keyline"),
    "border": t("border"),
    "shade": t("shade"),
    "caption": t("caption"),
    "panels": t("panels"),
    "dust": t("take dust out"),
    "retouch": t("retouch"),
}


class Extras(QWidget):
    """What a brief holds beside its clauses. Every field changes one place of the rulebook's text."""

    changed = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.place = 0
        self.text, self.brief = "", 0
        self._filling = self._typing = False
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        self._lay_allows(column)
        column.addWidget(hairline())
        self._lay_seen(column)
        column.addWidget(hairline())
        self._lay_laid(column)

    # -- laying out ---------------------------------------------------------------------------

    def _lay_allows(self, column: QVBoxLayout) -> None:
        top = QHBoxLayout()
        top.addWidget(label(t("May be done"), "title"))
        self.allows = Choice()
        self.allows.setAccessibleName(t("What may be done to a photo"))
        self.allows.addItem(t("anything"), False)
        self.allows.addItem(t("only what is ticked"), True)
        self.allows.activated.connect(self._allows_set)
        top.addWidget(self.allows)
        top.addStretch(1)
        column.addLayout(top)
        self.ticks = QWidget()
        grid = QGridLayout(self.ticks)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setVerticalSpacing(3)
        self.permitted: dict[str, QCheckBox] = {}
        for i, word in enumerate(ALTERATIONS):
            box = QCheckBox(_DONE[word])
            box.toggled.connect(self._allows_set)
            self.permitted[word] = box
            grid.addWidget(box, i // 4, i % 4)
        column.addWidget(self.ticks)

    def _lay_seen(self, column: QVBoxLayout) -> None:
        top = QHBoxLayout()
        top.addWidget(label(t("Seen"), "title"))
        self.places = Choice()
        self.places.setAccessibleName(t("Which place where it is seen"))
        self.places.activated.connect(self._go_place)
        self.places.setSizeAdjustPolicy(
            Choice.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
        )
        self.places.setMinimumContentsLength(8)
        top.addWidget(self.places, 100)
        top.addStretch(1)
        self.add_button = button(t("Add a place"), "link", self.add_place)
        self.drop_button = button(t("Remove"), "link", self.drop_place)
        top.addWidget(self.add_button)
        top.addWidget(self.drop_button)
        column.addLayout(top)
        self.told = QWidget()
        grid = QGridLayout(self.told)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(5)
        grid.setColumnMinimumWidth(0, 78)
        grid.setColumnStretch(1, 1)
        titles = {scene.as_: scene.title for scene in SCENES}
        self.kind = Choice()
        self.kind.setAccessibleName(t("Kind of place"))
        for kind in PLACES:
            self.kind.addItem(titles.get(kind, kind), kind)
        self.kind.activated.connect(self._seen_typed)
        grid.addWidget(label(t("As"), "second"), 0, 0)
        grid.addWidget(self.kind, 0, 1)
        self.anchor = Choice()
        self.anchor.setAccessibleName(t("Place: {what}", what=_NAMES["anchor"]))
        for word, said in _ANCHORS.items():
            self.anchor.addItem(said, word)
        self.anchor.activated.connect(self._seen_typed)
        self.lines: dict[str, TextField] = {}
        self.labels: dict[str, QLabel] = {}
        self.zones = EntriesField(
            t("Place: zones that must stay clear"),
            t("clock: 0 %, 7 %, 100 %, 15 %  (name: left, top, width, height)"),
        )
        self.zones.textChanged.connect(self._seen_typed)
        for row, key in enumerate(_NAMES, start=1):
            field: QWidget
            if key == "anchor":
                field = self.anchor
            elif key == "zones":
                field = self.zones
            else:
                field = self.lines[key] = TextField(
                    t("Place: {what}", what=_NAMES[key]), _HINTS[key]
                )
                field.textEdited.connect(self._seen_typed)
            self.labels[key] = label(_NAMES[key], "second")
            grid.addWidget(self.labels[key], row, 0, *_beside(field))
            grid.addWidget(field, row, 1)
        column.addWidget(self.told)

    def _lay_laid(self, column: QVBoxLayout) -> None:
        column.addWidget(label(t("Border and template"), "title"))
        grid = QGridLayout()
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(5)
        grid.setColumnMinimumWidth(0, 78)
        grid.setColumnStretch(1, 1)
        beside = t("a picture that lies beside the rulebook")
        self.border = TextField(t("Border: picture"), beside)
        self.border.textEdited.connect(
            lambda text: self._change(partial(_with_border, picture=text.strip()))
        )
        self.template_size = TextField(t("Template: size"), "744 x 628")
        self.shade = TextField(t("Template: shading"), beside)
        self.panels = EntriesField(
            t("Template: panels"),
            t("left sail: 24 20, 360 20, 360 300  (name: its corners, x and y)"),
            4,
        )
        for field in (self.template_size, self.shade):
            field.textEdited.connect(self._template_typed)
        self.panels.textChanged.connect(self._template_typed)
        self.does = EntriesField(
            t("What the body does itself"), t("Files above 5 MB are scaled down by us"), 2
        )
        self.does.textChanged.connect(self._does_typed)
        rows: tuple[tuple[str, QWidget], ...] = (
            (t("Done by the body"), self.does),
            (t("Border"), self.border),
            (t("Template"), self.template_size),
            (t("Shading"), self.shade),
            (t("Panels"), self.panels),
        )
        for row, (name, part) in enumerate(rows):
            grid.addWidget(label(name, "second"), row, 0, *_beside(part))
            grid.addWidget(part, row, 1)
        column.addLayout(grid)

    def _field(self, key: str) -> QWidget:
        """The field of one of a place's keys."""
        return {"anchor": self.anchor, "zones": self.zones}.get(key) or self.lines[key]

    def order(self) -> list[QWidget]:
        """All that Tab goes to, in the reading order."""
        every: list[QWidget] = [
            self.allows,
            *self.permitted.values(),
            self.places,
            self.add_button,
            self.drop_button,
            self.kind,
            *map(self._field, _NAMES),
            self.does,
            self.border,
            self.template_size,
            self.shade,
            self.panels,
        ]
        for one, after in pairwise(every):
            QWidget.setTabOrder(one, after)
        return every

    # -- what is shown ------------------------------------------------------------------------

    def show_brief(
        self, text: str, brief: int, table: dict[str, Any], typing: bool = False
    ) -> None:
        """Bring every field in line with a brief, the ``brief``-th of a rulebook's text; while a
        person is ``typing``, all but the one that they are in."""
        self._typing = typing
        if brief != self.brief:
            self.place = 0
        self.text, self.brief = text, brief
        self._filling = True
        allows = table.get("allows")
        self.allows.setCurrentIndex(int(allows is not None))
        self.ticks.setVisible(allows is not None)
        listed = [allows] if isinstance(allows, str) else allows or []
        for word, box in self.permitted.items():
            box.setChecked(word in listed)
        self._show_seen(table.get("seen", []))
        does = table.get("does", [])
        self._put(self.does, "\n".join([does] if isinstance(does, str) else map(str, does)))
        border = table.get("border", {})
        self._put(self.border, border.get("picture", "") if isinstance(border, dict) else "")
        size, shade, panels = write.template_of(text, brief) if table else ("", "", [])
        self._put(self.template_size, size)
        self._put(self.shade, shade)
        self._put(self.panels, "\n".join(f"{name}: {_corners_said(line)}" for name, line in panels))
        self._filling = False

    def _show_seen(self, places: list[dict[str, Any]]) -> None:
        n = len(places)
        self.place = min(self.place, max(0, n - 1))
        titles = {scene.as_: scene.title for scene in SCENES}
        kinds = (str(p.get("as", "")) for p in places)
        said = [
            t("{n}: {place}", n=i, place=titles.get(kind, kind))
            for i, kind in enumerate(kinds, start=1)
        ]
        if [self.places.itemText(i) for i in range(self.places.count())] != said:
            self.places.clear()
            self.places.addItems(said)
        self.places.setCurrentIndex(self.place if n else -1)
        self.places.setVisible(n > 0)
        self.drop_button.setVisible(n > 0)
        self.told.setVisible(n > 0)
        if not n:
            return
        fields = write.seen_of(self.text, self.brief, self.place)
        kind = str(fields.get("as", ""))
        self.kind.setCurrentIndex(max(0, self.kind.findData(kind)))
        shown = {*_KEYS.get(kind, ()), *fields, "zones"}
        for key, name in self.labels.items():
            name.setVisible(key in shown)
            self._field(key).setVisible(key in shown)
        for key, line in self.lines.items():
            value = fields.get(key, "")
            self._put(line, ", ".join(value) if isinstance(value, list) else value)
        self.anchor.setCurrentIndex(max(0, self.anchor.findData(fields.get("anchor", "middle"))))
        self._put(self.zones, "\n".join(_zone_said(zone) for zone in fields.get("zones", [])))

    def _put(self, field: TextField | EntriesField, text: object) -> None:
        if not (self._typing and field.hasFocus()):
            field.put(str(text))

    def mark(self, wrong: Collection[str]) -> None:
        """Mark the fields that problems are about: ``seen.1.at``, ``template.size``."""
        here = f"seen.{self.place + 1}."
        for key, line in self.lines.items():
            line.mark(f"{here}{key}" in wrong)
        self.zones.mark(any(where.startswith(f"{here}zones") for where in wrong))
        self.panels.mark(any(where.startswith("template.panel") for where in wrong))
        parts = (
            (self.border, "border"),
            (self.template_size, "template.size"),
            (self.shade, "template.shade"),
        )
        for field, where in parts:
            field.mark(any(w.startswith(where) for w in wrong) and bool(field.text()))

    # -- changes ------------------------------------------------------------------------------

    def _change(self, act: Change) -> None:
        if not self._filling:
            self.changed.emit(act)

    def _allows_set(self, _value: object = None) -> None:
        limited = bool(self.allows.currentData())
        words = [word for word, box in self.permitted.items() if box.isChecked()]
        self.ticks.setVisible(limited)
        self._change(partial(_with_allows, words=words if limited else None))

    def add_place(self) -> None:
        """Add a place to be seen to the brief."""
        self.place = self.places.count()
        self._change(partial(write.add_seen, kind=PLACES[0]))
        self.kind.setFocus()

    def drop_place(self) -> None:
        """Take the chosen place to be seen out of the brief."""
        self._change(partial(write.remove_seen, place=self.place))

    def _go_place(self, index: int) -> None:
        self.place = index
        self._change(lambda text, brief: text)

    def _seen_typed(self, _value: object = None) -> None:
        if self._filling or not self.places.count():
            return
        kind = self.kind.currentData()
        fields: dict[str, Any] = {"as": kind}
        for key, line in self.lines.items():
            value = line.text().strip()
            fields[key] = (
                [c.strip() for c in value.split(",") if c.strip()] if key == "colours" else value
            )
        held = write.seen_of(self.text, self.brief, self.place)
        anchor = self.anchor.currentData()
        fields["anchor"] = anchor if anchor != "middle" or "anchor" in held else None
        fields["zones"] = [_zone(name, rest) for name, rest in self.zones.entries()]
        self._change(partial(write.set_seen, place=self.place, fields=fields))

    def _does_typed(self) -> None:
        said = [line.strip() for line in self.does.toPlainText().splitlines() if line.strip()]
        self._change(partial(write.set_does, does=said))

    def _template_typed(self, _value: object = None) -> None:
        panels = [(name, _corners(rest)) for name, rest in self.panels.entries()]
        self._change(
            partial(
                write.set_template,
                size=self.template_size.text().strip(),
                shade=self.shade.text().strip(),
                panels=panels,
            )
        )


def _beside(field: QWidget) -> tuple[Qt.AlignmentFlag, ...]:
    """How a field's name lies beside it: at its first line."""
    return (Qt.AlignmentFlag.AlignTop,) if isinstance(field, EntriesField) else ()


def _with_allows(text: str, brief: int, words: list[str] | None) -> str:
    return write.set_allows(text, brief, words)


def _with_border(text: str, brief: int, picture: str) -> str:
    return write.set_border(text, brief, picture)


def _zone(name: str, rest: str) -> dict[str, str]:
    sides = [part.strip() for part in rest.split(",")] + [""] * 4
    return dict(zip(write.ZONE_KEYS, [name, *sides[:4]], strict=True))


def _zone_said(zone: dict[str, str]) -> str:
    sides = ", ".join(zone.get(key, "") for key in write.ZONE_KEYS[1:])
    return f"{zone.get('name', '')}: {sides}"


def _corners(rest: str) -> list[list[Any]]:
    """Corners as they are written; what is no number stays text, so that the check names it."""
    return [[_number(n) for n in part.split()] for part in rest.split(",") if part.strip()]


def _number(word: str) -> Any:
    for kind in (int, float):
        try:
            return kind(word)
        except ValueError:
            continue
    return word


def _corners_said(outline: Any) -> str:
    if not isinstance(outline, list):
        return str(outline)
    points = (p if isinstance(p, list) else [p] for p in outline)
    return ", ".join(
        " ".join(f"{v:g}" if isinstance(v, float) else str(v) for v in p) for p in points
    )
