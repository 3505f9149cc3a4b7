"""The Frame card: which part of the photo is kept, in numbers."""

from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import (
    QButtonGroup,
    QColorDialog,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QRadioButton,
    QSlider,
)

from aptandum.core.figures import show_aspect, show_length, show_number, show_share, show_size
from aptandum.core.fitting.fills import fills_of
from aptandum.core.fitting.plan import Window
from aptandum.core.judge.marks_off import off
from aptandum.core.judge.zones import zones_of
from aptandum.core.photo.marks import NAMES, Marks, NoMarks, People
from aptandum.core.quantity import MM_PER_INCH
from aptandum.core.sizes.least import Box, Way
from aptandum.core.sizes.typed import presses, printed_at, with_side
from aptandum.core.words import listed
from aptandum.ui.bench.cards.card import Card
from aptandum.ui.bench.marks import mark_said
from aptandum.ui.session import Bench
from aptandum.ui.strings import sentences, t, t_n
from aptandum.ui.widgets import Choice, NumberField, button, hairline, label

_PRESSES = {
    "smallest": t("The smallest size that the brief allows: {size}"),
    "recommended": t("The size that the body recommends: {size}"),
    "largest": t("The largest allowed size that needs no enlarging: {size}"),
}
_NO_PRESS = {
    "smallest": t("The brief leaves no size."),
    "recommended": t("The body recommends no size."),
    "largest": t("Every allowed size would enlarge the photo."),
}
_NO_FILL = {
    "whole": t("The brief allows no size of the photo's own shape."),
    "cut": t("The brief leaves no size."),
    "pad": t("The brief leaves no size."),
    "pixels": t("The photo has too few pixels for any allowed size."),
}


def _marks_said(marks: Marks) -> tuple[str, str]:
    """How a head's marks were come by and how sure they are, and the verdict on them; empty: none."""
    if not marks.whole:
        return t("the photo’s edge cuts off the head"), "unknown"
    if "skull" in marks.doubted:
        return t("the top of the skull is not known: set it by hand"), "unknown"
    if marks.doubted:
        return t("found; the eyes are doubtful"), "unknown"
    hand = listed([mark_said(name) for name in marks.hand if name in marks.handles], "and")
    if hand:
        return t("{marks} set by hand", marks=hand), ""
    far = off("skull" if marks.top == "skull" else "height", marks)
    return t("found, to {n} of the head’s height", n=show_share(far)), ""


class FrameCard(Card):
    """Window and output, each number open to typing."""

    station = "frame"
    solidity = pyqtSignal(float)

    def build(self) -> None:
        """Lay out window, turn, size and the marks."""
        self.shape = self.row(t("Shape"))
        self.rule()
        name, value = self._build_fill()
        self.rule()
        self._build_output()
        self.rule()
        self._build_window(name, value)
        self._build_marks()
        self._build_zones()
        self.rule()
        self.heading(t("What this leaves"))
        self.kept = self.row(t("Kept of the photo"))
        self.scale = self.row(t("Scale"))
        self.sides = self.row(t("Left over"))
        self.note = label("", "second", wrap=True)
        self.column.addWidget(self.note)

    def _build_fill(self) -> tuple[str, str]:
        """How the frame is filled."""
        self.heading(t("Fill the frame by"))
        self.fills: dict[str, QRadioButton] = {}
        group = QButtonGroup(self)
        ways = QGridLayout()
        ways.setVerticalSpacing(3)
        ways.setColumnStretch(0, 1)
        self.costs: dict[str, QLabel] = {}
        for at, (name, said) in enumerate(
            (
                ("whole", t("keeping it whole")),
                ("cut", t("cutting to shape")),
                ("pad", t("padding to shape")),
                ("pixels", t("keeping pixels, 1:1")),
            )
        ):
            made = QRadioButton(said)
            made.clicked.connect(partial(self._fill, name))
            group.addButton(made)
            self.fills[name] = made
            self.costs[name] = label("", "second")
            self.costs[name].setAlignment(
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
            )
            ways.addWidget(made, at, 0)
            ways.addWidget(self.costs[name], at, 1)
        self.column.addLayout(ways)
        self.ground = Choice()
        self.ground.setAccessibleName(t("What is padded with"))
        for value, said in (
            ("edge", t("picked from the picture's edge")),
            ("#FFFFFF", t("white")),
            ("#000000", t("black")),
            ("clear", t("transparent")),
            ("", t("another colour…")),
        ):
            self.ground.addItem(said, value)
        self.ground.activated.connect(self._ground)
        self.column.addWidget(self.ground)
        return name, value

    def _build_output(self) -> None:
        """The size of the file: its two sides, open to typing, and three presses."""
        self.heading(t("Size of the file, in pixels"))
        line = QHBoxLayout()
        line.setSpacing(6)
        self.across = NumberField(t("Width of the file"))
        self.up = NumberField(t("Height of the file"))
        self.across.taken.connect(partial(self._sized, 0))
        self.up.taken.connect(partial(self._sized, 1))
        line.addWidget(self.across)
        line.addWidget(label("×", "second"))
        line.addWidget(self.up)
        line.addStretch(1)
        self.column.addLayout(line)
        self.printed = label(
            "", "second"
        )  # below: beside the two sides there is no room for both lengths
        self.column.addWidget(self.printed)
        presses = QHBoxLayout()
        presses.setSpacing(10)
        self.presses: dict[str, QPushButton] = {}
        for name, said in (
            ("smallest", t("Smallest")),
            ("recommended", t("Recommended")),
            ("largest", t("Largest")),
        ):
            self.presses[name] = button(said, "link", partial(self._pressed, name))
            presses.addWidget(self.presses[name])
        presses.addStretch(1)
        self.column.addLayout(presses)
        self.unsized = button(t("As the brief asks"), "link", self._unsized)
        self.column.addWidget(self.unsized)
        self.no_size = label("", wrap=True)
        self.column.addWidget(self.no_size)

    def _build_window(self, name: str, value: str) -> None:
        """The window in figures, straightening, and two presses."""
        self.heading(t("Window, in photo pixels"))
        grid = QGridLayout()
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(6)
        self.fields: dict[str, NumberField] = {}
        names = {"left": t("Left"), "top": t("Top"), "width": t("Width"), "height": t("Height")}
        for i, (key, name) in enumerate(names.items()):
            field = NumberField(name)
            field.taken.connect(lambda value, key=key: self._typed(key, value))
            self.fields[key] = field
            grid.addWidget(label(name, "second"), i // 2, (i % 2) * 2)
            grid.addWidget(field, i // 2, (i % 2) * 2 + 1)
        self.column.addLayout(grid)
        level = QHBoxLayout()
        level.setSpacing(8)
        level.addWidget(label(t("Straighten"), "second"))
        self.angle = NumberField(t("Straighten, degrees clockwise"))
        self.angle.taken.connect(self.session.marking.straighten)
        self.angle.setToolTip(
            t("Degrees clockwise. Alt and a drag along a horizon or an upright sets it.")
        )
        level.addWidget(self.angle)
        level.addWidget(label("°", "second"))
        level.addStretch(1)
        self.level = button(t("Level the eyes"), "link", self.session.marking.level_eyes)
        self.level.setToolTip(t("Straighten by the line through the eyes (L)"))
        level.addWidget(self.level)
        self.column.addLayout(level)
        self.middle = button(t("Set in the middle"), "", self._middle)
        self.whole = button(t("Keep the most"), "", self._most)
        for one in (self.middle, self.whole):
            one.setStyleSheet("padding-left: 4px; padding-right: 4px")
        two = QHBoxLayout()
        two.setSpacing(8)
        two.addWidget(self.middle)
        two.addWidget(self.whole)
        self.column.addLayout(two)

    def _build_marks(self) -> None:
        """The marks of a head."""
        self.marks_rule = hairline()
        self.column.addWidget(self.marks_rule)
        self.marks = self.row(t("Marks"))
        self.from_marks = button(
            t("Frame from marks"), "line", self.session.marking.frame_from_marks
        )
        self.from_marks.setToolTip(t("Frame from marks (M)"))
        self.column.addWidget(self.from_marks)
        self.faces = Choice()
        self.faces.setAccessibleName(t("Which face is meant"))
        self.faces.setPlaceholderText(t("choose a face"))
        self.faces.activated.connect(self.session.marking.choose_face)
        self.column.addWidget(self.faces)
        self.by_hand = button(
            t("Set the marks by hand"), "link", self.session.marking.marks_by_hand
        )
        self.column.addWidget(self.by_hand)
        self.as_found = button(t("Marks as they were found"), "link", self._as_found)
        self.column.addWidget(self.as_found)

    def _build_zones(self) -> None:
        """Zones of the place, and boxes to be kept clear."""
        self.zones_rule = hairline()
        self.column.addWidget(self.zones_rule)
        zones = QHBoxLayout()
        self.zones_name = label(t("Zones"), "second")
        self.solid = QSlider(Qt.Orientation.Horizontal)
        self.solid.setRange(0, 100)
        self.solid.setValue(50)
        self.solid.setAccessibleName(t("How solid the zones are"))
        self.solid.valueChanged.connect(lambda n: self.solidity.emit(n / 100))
        zones.addWidget(self.zones_name)
        zones.addWidget(self.solid, 1)
        self.column.addLayout(zones)
        self.boxes = label("", "second", wrap=True)
        self.column.addWidget(self.boxes)

    def show_bench(self, bench: Bench) -> None:
        """Show the window, the size that it gives and what it is enlarged by."""
        frame = bench.line.frame
        window = frame.window
        pw, ph = bench.line.source.shown
        shape = show_aspect(frame.shape)
        self.shape.take(
            t("{shape}, no other allowed", shape=shape)
            if frame.fixed
            else t("{shape} open", shape=shape)
        )
        for key, field in self.fields.items():
            field.whole = float(pw if key in ("left", "width") else ph)
            field.ppi = bench.line.file.ppi
            field.show_value(getattr(window, key))
        self._show_output(bench)
        self.angle.show_value(frame.angle)
        self.level.setVisible(bench.wants_marks)
        self._show_fill(bench)
        self._show_marks(bench)
        self._show_zones(bench)
        self.kept.take(show_share(frame.kept))
        if frame.fill == "pad" and frame.kept > 1 - 1e-9:
            scale = t("{n} ×, the whole photo", n=show_number(frame.scale, 3))
        elif frame.exact:
            scale = t("1 ×, the photo's own pixels")
        elif frame.scale > 1 + 1e-9:
            scale = t("{n} ×, enlarged", n=show_number(frame.scale, 3))
        else:
            scale = t("{n} ×, no enlargement", n=show_number(frame.scale, 3))
        self.scale.take(scale, "misses" if frame.scale > 1 + 1e-9 else "")
        left, right = round(window.left), round(pw - window.right)
        top, bottom = round(window.top), round(ph - window.bottom)
        padded = min(left, right, top, bottom) < 0
        self.sides.name.setText(t("Padded") if padded else t("Left over"))
        if padded:
            left, right, top, bottom = (max(0, -v) for v in (left, right, top, bottom))
        self.sides.take(
            t("{a} left, {b} right\n{c} top, {d} bottom", a=left, b=right, c=top, d=bottom)
        )
        self.note.setText(sentences(bench.line.notes))
        self.note.setVisible(bool(bench.line.notes))

    def _box(self, bench: Bench) -> tuple[Box, Way]:
        """What is kept of the photo, and what is done where its shape is not allowed."""
        window, shown = bench.fitting.settings.frame.window, bench.line.source.shown
        way: Way = "pad" if bench.line.frame.fill == "pad" else "cut"
        return Box.of(*(window[2:] if window is not None else shown)), way

    def _show_output(self, bench: Bench) -> None:
        wide, high = bench.line.frame.output
        ppi = printed_at(bench.brief, bench.line.file.ppi, bench.fitting.settings.file.ppi)
        for field, side in ((self.across, wide), (self.up, high)):
            field.whole, field.ppi = float(side), ppi
            field.show_value(side)
        sides = (
            (show_length(wide / ppi * MM_PER_INCH), show_length(high / ppi * MM_PER_INCH))
            if ppi
            else ()
        )
        self.printed.setText(t("printed {w} × {h}", w=sides[0], h=sides[1]) if sides else "")
        self.printed.setVisible(bool(sides))
        box, way = self._box(bench)
        self._sizes = presses(bench.brief, box, way)
        for name, press in self.presses.items():
            size = getattr(self._sizes, name)
            press.setEnabled(size is not None and size != bench.line.frame.output)
            press.setToolTip(
                _PRESSES[name].format(size=show_size(size)) if size else _NO_PRESS[name]
            )
        by_hand = bench.fitting.settings.frame.output is not None
        self.unsized.setVisible(by_hand)
        self.no_size.setVisible(bool(self.no_size.text()))

    def _sized(self, axis: int, value: float) -> None:
        bench = self.session.bench
        if bench is None:
            return
        box, way = self._box(bench)
        size, why = with_side(bench.brief, box, way, axis, max(1, round(value)))
        self.no_size.setText(why)
        self.no_size.setVisible(bool(why))
        if size is not None:
            self._write_at(size)

    def _pressed(self, name: str) -> None:
        size = getattr(self._sizes, name)
        if size is not None:
            self._write_at(size)

    def _write_at(self, size: tuple[int, int]) -> None:
        self.no_size.setText("")
        self.session.model.set({"frame.output": f"{size[0]} x {size[1]}"}, t("Size of the file"))

    def _unsized(self) -> None:
        self.no_size.setText("")
        self.session.model.set({"frame.output": None}, t("Size of the file"))

    def _show_zones(self, bench: Bench) -> None:
        on = bool(zones_of(bench.brief))
        for part in (self.zones_rule, self.zones_name, self.solid, self.boxes):
            part.setVisible(on)
        n = len(bench.hand.keep_clear)
        kept = t_n("{n} box is kept clear.", "{n} boxes are kept clear.", n)
        self.boxes.setText(
            sentences(
                [
                    kept if n else "",
                    t(
                        "Ctrl and a drag on the sheet draws a box to be kept clear; a click takes it out."
                    ),
                ]
            )
        )

    def _show_fill(self, bench: Bench) -> None:
        frame = bench.line.frame
        self.fills[frame.fill].setChecked(True)
        shown, settings = bench.line.source.shown, bench.fitting.settings
        may_pad = bench.brief.permits("pad")
        for fill in fills_of(shown, bench.brief, settings):
            self.costs[fill.name].setText(fill.says)
            usable = fill.possible or frame.fill == fill.name
            self.fills[fill.name].setEnabled(usable)
            whole = self.fills["whole"].isEnabled() and fill.name in ("cut", "pad")
            why = t("The photo's own shape is allowed.") if whole else _NO_FILL[fill.name]
            self.fills[fill.name].setToolTip("" if usable else why)
        if not may_pad:
            self.fills["pad"].setToolTip(t("The body does not permit padding."))
        self.ground.setVisible(frame.fill == "pad")
        value = bench.fitting.settings.frame.ground
        at = self.ground.findData(value)
        if at < 0:
            at = self.ground.count() - 1
            self.ground.setItemText(at, value)
        self.ground.setCurrentIndex(at)

    def _fill(self, name: str, _on: bool = True) -> None:
        labels = {
            "whole": t("Keep it whole"),
            "cut": t("Cut to shape"),
            "pad": t("Pad to shape"),
            "pixels": t("Keep pixels"),
        }
        changes: dict[str, object] = {"frame.fill": name}
        bench = self.session.bench
        if bench is not None and {"pad", "whole"} & {name, bench.line.frame.fill}:
            changes["frame.window"] = None  # a window inside the photo would not need padding
        self.session.model.set(changes, labels[name])

    def _ground(self, _at: int) -> None:
        value = self.ground.currentData()
        if not value:
            bench = self.session.bench
            now = bench.fitting.settings.frame.ground if bench is not None else ""
            start = QColor(now) if now.startswith("#") else QColor("#FFFFFF")
            picked = QColorDialog.getColor(start, self, t("Colour of the padding"))
            if not picked.isValid():
                self.refresh()
                return
            value = picked.name().upper()
        self.session.model.set({"frame.ground": value}, t("Ground of the padding"))

    def _show_marks(self, bench: Bench) -> None:
        for part in (self.marks_rule, self.marks, self.from_marks):
            part.setVisible(bench.wants_marks)
        people = self.session.model.people()
        several = people is not None and people.count > 1 and bench.wants_marks
        self.faces.setVisible(several)
        if several and people is not None:
            self._list_faces(people, bench.line.source.shown[0])
        without = people is not None and people.count == 0 and len(bench.hand.moved) < len(NAMES)
        self.by_hand.setVisible(bench.wants_marks and without)
        moved = bool(bench.hand.moved) or bench.hand.skull is not None
        self.as_found.setVisible(bench.wants_marks and moved)
        if not bench.wants_marks:
            return
        if people is None:
            self.marks.take(t("being looked for …"))
        else:
            try:
                marks = people.marks().topped(bench.brief.crown)
            except NoMarks as error:
                self.marks.take(str(error), "unknown")
            else:
                self.marks.take(*_marks_said(marks))
        self.from_marks.setEnabled(people is not None)

    def _list_faces(self, people: People, wide: int) -> None:
        """The faces by where they are, the largest first."""
        names = []
        for n, face in enumerate(people.faces, start=1):
            middle = (face.box[0] + face.box[2]) / 2 / wide
            where = t("left") if middle < 0.4 else t("right") if middle > 0.6 else t("middle")
            names.append(t("face {n}, {where}", n=n, where=where))
        if [self.faces.itemText(i) for i in range(self.faces.count())] != names:
            self.faces.clear()
            self.faces.addItems(names)
        chosen = people.hand.face
        self.faces.setCurrentIndex(-1 if chosen is None else chosen)

    def _as_found(self) -> None:
        bench = self.session.bench
        if bench is not None:
            found: dict[str, None] = dict.fromkeys((*NAMES, "skull"))  # boxes and strokes stay
            self.session.marking.set_marks(
                bench.hand.model_copy(update=found), t("Marks as they were found")
            )

    def _typed(self, key: str, value: float) -> None:
        bench = self.session.bench
        if bench is None:
            return
        window = bench.line.frame.window
        pw, ph = bench.line.source.shown
        ratio = window.width / window.height
        if key in ("left", "top"):
            made = Window(
                value if key == "left" else window.left,
                value if key == "top" else window.top,
                window.width,
                window.height,
            )
        else:
            width = value if key == "width" else value * ratio
            beyond = 4 if bench.line.frame.fill == "pad" else 1
            width = min(max(width, 1.0, ratio), pw * beyond, ph * beyond * ratio)
            free = not bench.line.frame.fixed and beyond == 1
            if free and key == "width":
                made = Window(window.left, window.top, min(max(value, 1), pw), window.height)
            elif free:
                made = Window(window.left, window.top, window.width, min(max(value, 1), ph))
            else:
                made = Window(window.left, window.top, width, width / ratio)
        made = made.held_in(pw, ph)
        wanted = (made.left, made.top, made.width, made.height)
        self.session.model.set(
            {"frame.window": tuple(round(v, 4) for v in wanted)}, t("Type the frame")
        )

    def _middle(self) -> None:
        bench = self.session.bench
        if bench is None:
            return
        window = bench.line.frame.window
        pw, ph = bench.line.source.shown
        wanted = ((pw - window.width) / 2, (ph - window.height) / 2, window.width, window.height)
        self.session.model.set(
            {"frame.window": tuple(round(v, 4) for v in wanted)}, t("Set in the middle")
        )

    def _most(self) -> None:
        self.session.model.set({"frame.window": None}, t("Keep the most"))
