"""The resolved plan of a fitting: what every station of the line does, in figures."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field, replace
from fractions import Fraction
from typing import Any, Literal

from aptandum.core.brief.model import Brief
from aptandum.core.figures import show_aspect, show_sides
from aptandum.core.fitting.finish import FINISHES, Given
from aptandum.core.fitting.settings import ColourSettings, FinishSettings
from aptandum.core.frozen import frozen
from aptandum.core.photo.facts import FORMAT_NAMES
from aptandum.core.photo.profile import SPACE_NAMES, Space
from aptandum.core.words import commas, joined, say, say_n

WRITABLE = ("jpeg", "png", "tiff", "webp", "avif", "gif", "bmp")


LOSSY = ("jpeg", "webp", "avif")
"""Formats of :data:`WRITABLE` that are written at a quality."""


@frozen
class Window:
    """A rectangle on the photo as shown, in photo pixels; edges may lie between pixels."""

    left: float
    top: float
    width: float
    height: float

    @property
    def right(self) -> float:
        return self.left + self.width

    @property
    def bottom(self) -> float:
        return self.top + self.height

    @property
    def centre(self) -> tuple[float, float]:
        return self.left + self.width / 2, self.top + self.height / 2

    def held_in(self, width: float, height: float) -> Window:
        """The same size, slid so that it lies inside a photo of this size; where it is larger
        than the photo, so that the photo lies inside it."""
        across, up = width - self.width, height - self.height
        left = min(max(self.left, min(0.0, across)), max(0.0, across))
        top = min(max(self.top, min(0.0, up)), max(0.0, up))
        return replace(self, left=left, top=top)

    def shares(self, wide: float, high: float) -> tuple[float, float, float, float]:
        """Left, top, width and height as shares of a picture that is so wide and high."""
        return self.left / wide, self.top / high, self.width / wide, self.height / high

    def within(self, width: float, height: float) -> Window:
        """The part of it that lies on a photo of this size."""
        left, top = max(self.left, 0.0), max(self.top, 0.0)
        right, bottom = min(self.right, width), min(self.bottom, height)
        return Window(left, top, max(0.0, right - left), max(0.0, bottom - top))

    def text(self) -> str:
        """As ``frame.window`` takes it."""
        return ", ".join(f"{v:.4f}" for v in (self.left, self.top, self.width, self.height))


THREE_CHANNELS = ("webp", "avif")
"""Formats that store grey as three equal channels, which a profile for grey does not suit."""


@frozen
class SourceStation:
    """The photo as it is read: sides in pixels as stored and as shown, how it was turned, and what a
    person says was done to it before; ``damaged``: it is used although its data are; ``words``: boxes of it whose
    words must be read (left, top, width, height in photo pixels as shown)."""

    stored: tuple[int, int]
    shown: tuple[int, int]
    orientation: int
    bytes: int | None = None
    turn: int = 1
    format: str = field(default="", repr=False)
    done: tuple[str, ...] = ()
    damaged: bool = False
    words: tuple[tuple[float, float, float, float], ...] = ()


@frozen
class FrameStation:
    """Attributes:
    window: what is kept, in photo pixels as shown.
    output: width and height of the result in pixels.
    scale: output over photo pixels, the same across and up.
    kept: share of the photo's area, 0..1.
    fixed: the brief leaves only this shape.
    exact: the photo's own pixels, not resampled at all.
    fill: how the frame is filled: ``cut``, ``pad`` or ``pixels``.
    ground: what padding is filled with, as the setting; ``None`` where nothing is padded.
    angle: degrees by which the photo is straightened, clockwise.
    """

    window: Window
    output: tuple[int, int]
    scale: float
    kept: float
    shape: Fraction
    fixed: bool
    exact: bool
    fill: str = "cut"
    ground: str | None = None
    angle: float = 0.0


@frozen
class ColourStation:
    """Attributes:
    source: the space the photo is taken to be in.
    target: the space written.
    icc: the profile written.
    bits: of a channel: 8, 16, or 1 for dots.
    assumed: the photo has no usable profile, so its colours are taken as sRGB (or grey).
    light: pixels are mixed as light mixes when they are resampled.
    mix: how colour becomes grey.
    dots: how grey becomes dots; ``None`` where it does not.
    exposure, warmth: by how many stops the whole picture is made lighter, and red against blue.
    """

    source: Space
    target: Space
    icc: bytes
    bits: int
    intent: str
    assumed: bool
    light: bool = False
    mix: str = "lightness"
    dots: ColourSettings | None = None
    exposure: float = 0.0
    warmth: float = 0.0

    @property
    def relit(self) -> bool:
        """Whether the light of the whole picture is changed."""
        return bool(self.exposure or self.warmth)


@frozen
class FinishStation:
    """Attributes:
    ground: the colour laid under transparent parts, or ``None`` where they are kept.
    settings: of every finish.
    given: what the brief gives to lay on.
    on: the names of the finishes that lay anything on, in their order.
    needs_mask: one of them asks what stands before the backdrop.
    clear: parts of the picture may become transparent by them.
    """

    ground: str | None
    settings: FinishSettings = field(default_factory=FinishSettings)
    given: Given = field(default_factory=Given)
    on: tuple[str, ...] = ()
    needs_mask: bool = False

    @property
    def clear(self) -> bool:
        return "clear" in self.on or "panels" in self.on


@frozen
class FileStation:
    """Attributes:
    quality: ``None`` where it is to be found against the limits.
    subsampling, progressive: ``None`` where the encoder may choose to meet a limit.
    at_least, at_most: byte limits, inclusive.
    compression: of a TIFF: ``none``, ``lzw`` or ``deflate``.
    colours: of a palette; ``None`` where none is set.
    lossless: of WebP and AVIF.
    name: of the file, with its ending; where it is counted, with the number 1.
    counted: the same name with ``{n}`` where its number stands; empty where it has none.
    metadata: what is kept, dropped or set, by the names of its groups.
    floor: the quality below which a smaller allowed size is the better way.
    ceiling, lowest: the highest and the lowest quality that a rule allows.
    most_colours: of a palette, where a rule asks for one.
    stored: the bits that a stored pixel may have, where a rule asks for a number; empty: any.
    """

    format: str
    quality: int | None
    subsampling: str | None
    progressive: bool | None
    at_least: int | None
    at_most: int | None
    ppi: float | None
    name: str = ""
    compression: str | None = None
    colours: int | None = None
    lossless: bool = False
    counted: str = ""
    metadata: Mapping[str, str | None] = field(default_factory=dict)
    floor: int = 1
    ceiling: int = 100
    lowest: int = 1
    most_colours: int | None = None
    stored: tuple[int, ...] = ()


@frozen
class Line:
    """Every station's figures for one fitting.

    Attributes:
        notes: sentences a person should read.
        way: ``supplied``: the photo's own bytes go out; ``around``: its compressed picture does,
            and what lies around it is changed; ``anew``: the picture is made and encoded.
        course: the plain brief that it follows, of those that a brief with alternatives leaves.
    """

    source: SourceStation
    frame: FrameStation
    colour: ColourStation
    finish: FinishStation
    file: FileStation
    notes: tuple[str, ...] = ()
    way: Literal["supplied", "around", "anew"] = "anew"
    course: Brief | None = field(default=None, compare=False, repr=False)

    def says(self) -> dict[str, str]:
        """Each station's figure in words, as the line of stations shows it."""
        turned = say("turned") if self.source.orientation != 1 else ""
        w, h = self.source.stored
        figures = {"source": joined([show_sides((w, h)), turned])}
        ow, oh = self.frame.output
        figures["frame"] = joined([show_sides((ow, oh)), show_aspect(self.frame.shape)])
        source, target = SPACE_NAMES[self.colour.source], SPACE_NAMES[self.colour.target]
        named = say("untagged") if self.colour.assumed else source
        figures["colour"] = named if named == target else say("{a} → {b}", a=named, b=target)
        if self.colour.bits != 8:
            bits = say_n("{n} bit", "{n} bit", self.colour.bits)
            figures["colour"] = joined([figures["colour"], bits])
        laid = [finish.title for finish in FINISHES if finish.name in self.finish.on]
        if self.finish.ground is not None:
            laid.append(say("on {colour}", colour=self.finish.ground))
        figures["finish"] = (
            commas([laid[0], *(w.lower() for w in laid[1:])]) if laid else say("none")
        )
        figures["file"] = FORMAT_NAMES[self.file.format]
        if self.way != "anew":
            untouched = say("as it came") if self.way == "supplied" else say("picture untouched")
            figures["file"] = joined([figures["file"], untouched])
        return figures

    def contract(self) -> dict[str, Any]:
        """The stations' figures as the command line prints them."""
        frame, colour, file = self.frame, self.colour, self.file
        window = frame.window
        return {
            "source": {
                "stored": self.source.stored,
                "shown": self.source.shown,
                "orientation": self.source.orientation,
            },
            "frame": {
                "window": [window.left, window.top, window.width, window.height],
                "output": frame.output,
                "scale": frame.scale,
                "kept": frame.kept,
            },
            "colour": {
                "from": colour.source,
                "to": colour.target,
                "bits": colour.bits,
                "assumed": colour.assumed,
                "intent": colour.intent,
                "resampling": "light" if colour.light else "numbers",
                "mix": colour.mix if colour.target == "grey" else None,
                "dots": colour.dots.dots if colour.dots is not None else None,
            },
            "finish": {"ground": self.finish.ground, "on": list(self.finish.on)},
            "way": self.way,
            "file": {
                "format": file.format,
                "quality": file.quality,
                "subsampling": file.subsampling,
                "progressive": file.progressive,
                "at_least": file.at_least,
                "at_most": file.at_most,
                "ppi": file.ppi,
                "name": file.name,
            },
            "notes": list(self.notes),
        }
