"""The line: every station's numbers, resolved from photo, brief and settings without a pixel.

What is shown while a person drags and what is written come from here both, so they cannot
differ.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from fractions import Fraction
from functools import partial
from math import ceil, floor
from typing import Any

from aptandum.core.brief.binding import (
    BITS,
    BYTES,
    CHANNELS,
    FORMAT,
    LOCATION,
    PROGRESSIVE,
    SPACE,
    TRANSPARENCY,
)
from aptandum.core.brief.model import Brief, Strength, turn_of
from aptandum.core.brief.registry import binds_of
from aptandum.core.fitting.finish import FINISHES, Given
from aptandum.core.fitting.finish import border as border_finish
from aptandum.core.fitting.naming import file_name
from aptandum.core.fitting.settings import ColourSettings, FinishSettings, Settings
from aptandum.core.judge.look import Look
from aptandum.core.judge.reading import Placed, Reading
from aptandum.core.photo import profile
from aptandum.core.photo.facts import FORMAT_NAMES, Facts, Mode, shown_name
from aptandum.core.photo.marks import People
from aptandum.core.photo.profile import SHIPPED, SPACE_NAMES, Space
from aptandum.core.photo.told import HOLDING
from aptandum.core.photo.turning import held_in_swung
from aptandum.core.quantity import MM_PER_INCH, grouped, show_aspect, show_number, show_size
from aptandum.core.sizes.binds import PRINTED_HEIGHT, PRINTED_WIDTH, RESOLUTION, SCALE
from aptandum.core.sizes.conflicts import changes
from aptandum.core.sizes.region import Allowed, Target, allowed
from aptandum.core.sizes.said import change_said, contradiction_said
from aptandum.core.words import listed, say

WRITABLE = ("jpeg", "png", "tiff", "webp", "avif", "gif", "bmp")
LOSSY = ("jpeg", "webp", "avif")
"""Formats of :data:`WRITABLE` that are written at a quality."""

_WIDE = ("png", "tiff")
"""Formats of :data:`WRITABLE` that hold 16 bit."""

_CLEAR = ("png", "webp", "avif", "tiff", "gif")
"""Formats of :data:`WRITABLE` that hold transparency."""

_THIN = {"keyline", "caption"}
"""Finishes that draw thin colour, which halved chroma would smear."""

_DOTTED = ("png", "bmp", "tiff")
"""Formats of :data:`WRITABLE` that hold one bit."""

LIGHT_UP_TO = 16_000_000
"""Pixels of a JPEG up to which it is reduced as light mixes. Beyond, the decoder's own
reduction, which mixes encoded numbers, saves more than half of the time."""


@dataclass(frozen=True)
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

    def within(self, width: float, height: float) -> Window:
        """The part of it that lies on a photo of this size."""
        left, top = max(self.left, 0.0), max(self.top, 0.0)
        right, bottom = min(self.right, width), min(self.bottom, height)
        return Window(left, top, max(0.0, right - left), max(0.0, bottom - top))

    def text(self) -> str:
        """As ``frame.window`` takes it."""
        return ", ".join(show_number(v, 4) for v in (self.left, self.top, self.width, self.height))


@dataclass(frozen=True)
class SourceStation:
    stored: tuple[int, int]
    shown: tuple[int, int]
    orientation: int
    bytes: int | None = None
    turn: int = 1


@dataclass(frozen=True)
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


@dataclass(frozen=True)
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


@dataclass(frozen=True)
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


@dataclass(frozen=True)
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


@dataclass(frozen=True)
class Line:
    """Every station's figures for one fitting. :attr:`notes` are sentences a person should read."""

    source: SourceStation
    frame: FrameStation
    colour: ColourStation
    finish: FinishStation
    file: FileStation
    notes: tuple[str, ...] = ()

    def says(self) -> dict[str, str]:
        """Each station's figure in words, as the line of stations shows it."""
        turned = " · " + say("turned") if self.source.orientation != 1 else ""
        w, h = self.source.stored
        figures = {"source": f"{grouped(w)} × {grouped(h)}{turned}"}
        ow, oh = self.frame.output
        figures["frame"] = f"{grouped(ow)} × {grouped(oh)} · {show_aspect(self.frame.shape)}"
        source, target = SPACE_NAMES[self.colour.source], SPACE_NAMES[self.colour.target]
        named = say("untagged") if self.colour.assumed else source
        figures["colour"] = named if named == target else f"{named} → {target}"
        if self.colour.bits != 8:
            figures["colour"] += f" · {self.colour.bits} bit"
        laid = [finish.title for finish in FINISHES if finish.name in self.finish.on]
        if self.finish.ground is not None:
            laid.append(say("on {colour}", colour=self.finish.ground))
        figures["finish"] = (
            ", ".join([laid[0], *(w.lower() for w in laid[1:])]) if laid else say("none")
        )
        figures["file"] = FORMAT_NAMES[self.file.format]
        return figures

    def contract(self) -> dict[str, Any]:
        """The stations' figures as the command line prints them."""
        frame, colour, file = self.frame, self.colour, self.file
        window = frame.window
        return {
            "source": {"stored": self.source.stored, "shown": self.source.shown,
                       "orientation": self.source.orientation},
            "frame": {"window": [window.left, window.top, window.width, window.height],
                      "output": frame.output, "scale": frame.scale, "kept": frame.kept},
            "colour": {"from": colour.source, "to": colour.target, "bits": colour.bits,
                       "assumed": colour.assumed, "intent": colour.intent,
                       "resampling": "light" if colour.light else "numbers",
                       "mix": colour.mix if colour.target == "grey" else None,
                       "dots": colour.dots.dots if colour.dots is not None else None},
            "finish": {"ground": self.finish.ground, "on": list(self.finish.on)},
            "file": {"format": file.format, "quality": file.quality,
                     "subsampling": file.subsampling, "progressive": file.progressive,
                     "at_least": file.at_least, "at_most": file.at_most, "ppi": file.ppi,
                     "name": file.name},
            "notes": list(self.notes),
        }  # fmt: skip


def resolve(facts: Facts, brief: Brief | None, settings: Settings) -> Line:
    """Every station's numbers. Pure, and fast enough to run while a frame is dragged.

    Args:
        facts: of a photo whose header could be read.
        brief: the rules to follow; ``None``: none, so that nothing is asked.

    Raises:
        PhotoError: the photo could not be read.
    """
    notes: list[str] = []
    shown = facts.size
    stored = facts.width or shown[0], facts.height or shown[1]
    source = SourceStation(stored, shown, facts.orientation or 1, facts.bytes, facts.turn)
    frame = _frame(shown, brief, settings, notes)
    ways = changes(brief, shown) if brief is not None else ()
    if ways:
        said = listed([change_said(way, shown) for way in ways])
        notes.append(say("This photo cannot meet the brief. What would: {ways}.", ways=said))
    file = _file(facts, brief, settings, frame.output, notes)
    colour = _colour(facts, brief, settings, file.format, notes)
    finish = _finish(facts, brief, settings, frame, file.format, notes)
    if file.format in ("jpeg", "avif") and file.subsampling is None and _THIN & set(finish.on):
        file = replace(file, subsampling="4:4:4")
    return Line(source, frame, colour, finish, file, tuple(notes))


def given_by(brief: Brief | None) -> Given:
    """What a brief gives to lay on."""
    if brief is None:
        return Given()
    template = brief.template
    shade = brief.beside(template.shade) if template is not None else None
    return Given(brief.beside(brief.border), shade, template)


def _finish(
    facts: Facts,
    brief: Brief | None,
    settings: Settings,
    frame: FrameStation,
    format_: str,
    notes: list[str],
) -> FinishStation:
    given = given_by(brief)
    parts = settings.finish
    on = [f for f in FINISHES if f.on(getattr(parts, f.name), given)]
    if any(f.name == "border" for f in on):
        trouble = border_finish.trouble(parts.border, given, frame.output)
        if trouble:
            notes.append(trouble)
            on = [f for f in on if f.name != "border"]
    if given.template is not None and frame.output != given.template.size:
        notes.append(
            say("The template has {size}; in a picture of {output} every panel lands elsewhere.",
                size=show_size(given.template.size), output=show_size(frame.output))
        )  # fmt: skip
    names = tuple(f.name for f in on)
    made = FinishStation(
        None, parts, given, names, any(f.needs_mask(getattr(parts, f.name)) for f in on)
    )
    keeps = format_ in _CLEAR and not _forbids_transparency(brief)
    if (facts.alpha or frame.ground == "clear" or made.clear) and not keeps:
        made = replace(made, ground=parts.ground)
    return made


def _forbids_transparency(brief: Brief | None) -> bool:
    limit = brief.bound(TRANSPARENCY) if brief else None
    return limit is not None and not limit.allows("present")


# --- frame ---------------------------------------------------------------------------------


def _sets(brief: Brief | None) -> tuple[Allowed, ...]:
    """The sizes to try: with the brief's recommendations first, then without."""
    if brief is None:
        return (allowed(Brief("none", "", ())),)
    return allowed(brief, "should"), allowed(brief)


def _frame(
    shown: tuple[int, int], brief: Brief | None, settings: Settings, notes: list[str]
) -> FrameStation:
    pw, ph = shown
    wanted = settings.frame.window
    fill = settings.frame.fill or ("pixels" if _keeps_pixels(brief) else "cut")
    angle = settings.frame.angle
    if angle:
        # Straightening resamples, and shows no corner that the photo does not have.
        if fill != "cut":
            notes.append(say("A straightened photo is cut to shape."))
        fill = "cut"
        wanted = _straight(Window(*(wanted or (0, 0, pw, ph))), angle, shown)
    hold = _pad_to if fill == "pad" else _cut_of
    target: Target | None = None
    if settings.frame.output is not None:
        w, h = settings.frame.output
        shape = Fraction(w, h)
        box = hold(shape, wanted, shown)
        if angle:
            box = Window(*_straight(box, angle, shown))
        target = Target((w, h), max(w / box.width, h / box.height), shape, True)
    else:
        for sizes in _sets(brief):
            found = _target_in(sizes, wanted, shown, fill)
            if found is not None and (target is None or found.enlargement <= 1 + 1e-9):
                target = found
                if found.enlargement <= 1 + 1e-9:
                    break
        if target is None:
            notes.append(contradiction_said(brief) if brief is not None else "")
            target = Target(shown, 1.0, Fraction(pw, ph), False)
        box = hold(target.shape, wanted, shown)
        if angle:
            box = Window(*_straight(box, angle, shown))
    w, h = target.size
    exact = fill == "pixels"
    if exact and (w > pw or h > ph):
        notes.append(say("The photo has too few pixels for a window of that size."))
        exact = False
    cx, cy = box.centre
    if exact:
        left, top = floor(cx - w / 2 + 0.5), floor(cy - h / 2 + 0.5)
        window = Window(left, top, w, h).held_in(pw, ph)
        scale = 1.0
    else:
        # One scale for both sides, set by the longer one; the window's other side gives or
        # takes less than an output pixel for it, and never leaves the photo it is cut from.
        scale = w / box.width if box.width >= box.height else h / box.height
        if fill != "pad":
            scale = max(scale, w / pw, h / ph)
        width, height = w / scale, h / scale
        window = Window(cx - width / 2, cy - height / 2, width, height)
        if angle:
            inside = Window(*_straight(window, angle, shown))
            # The last fraction of a pixel, so that the window's own shape is that of its size.
            scale = max(scale, w / inside.width, h / inside.height)
            window = Window(*inside.centre, w / scale, h / scale)
            window = replace(window, left=window.left - window.width / 2,
                             top=window.top - window.height / 2)  # fmt: skip
        else:
            window = window.held_in(pw, ph)
        whole = all(abs(v - round(v)) < 1e-6 for v in (window.left, window.top))
        exact = abs(scale - 1) < 1e-9 and whole and not angle
    inside = window if angle else window.within(pw, ph)
    padded = inside.width < window.width - 1e-6 or inside.height < window.height - 1e-6
    kept = inside.width * inside.height / (pw * ph)
    return FrameStation(
        window,
        (w, h),
        scale,
        kept,
        target.shape,
        target.fixed,
        exact and not padded,
        fill,
        settings.frame.ground if padded else None,
        angle,
    )


def _straight(
    box: Window, angle: float, shown: tuple[int, int]
) -> tuple[float, float, float, float]:
    return held_in_swung((box.left, box.top, box.width, box.height), angle, shown)


def _pad_to(
    shape: Fraction, wanted: tuple[float, float, float, float] | None, shown: tuple[int, int]
) -> Window:
    """The smallest window of a shape round a wanted one (or the photo), about its middle."""
    box = Window(*wanted) if wanted is not None else Window(0, 0, *shown)
    ratio = float(shape)
    width, height = max(box.width, box.height * ratio), max(box.height, box.width / ratio)
    cx, cy = box.centre
    return Window(cx - width / 2, cy - height / 2, width, height).held_in(*shown)


def _keeps_pixels(brief: Brief | None) -> bool:
    limit = brief.bound(SCALE) if brief else None
    return limit is not None and limit.exact and limit.one_of == (1.0,)


def _target_in(
    sizes: Allowed,
    wanted: tuple[float, float, float, float] | None,
    shown: tuple[int, int],
    fill: str,
) -> Target | None:
    if wanted is None and fill != "pad":
        return sizes.cut(*shown)
    wide, high = (wanted[2], wanted[3]) if wanted is not None else (float(shown[0]), shown[1])
    near = sizes.shape_for(
        Fraction(wide).limit_denominator(10**6) / Fraction(high).limit_denominator(10**6)
    )
    if near is None:
        return None
    box = (_pad_to if fill == "pad" else _cut_of)(near[0], wanted, shown)
    return sizes.target(near[0], max(box.width, box.height))


def _cut_of(
    shape: Fraction, wanted: tuple[float, float, float, float] | None, shown: tuple[int, int]
) -> Window:
    """The largest window of a shape inside a wanted one (or the photo), about its middle."""
    pw, ph = shown
    box = Window(*wanted) if wanted is not None else Window(0, 0, pw, ph)
    ratio = float(shape)
    width, height = min(box.width, pw), min(box.height, ph)
    if width > height * ratio:
        width = height * ratio
    else:
        height = width / ratio
    cx, cy = box.centre
    return Window(cx - width / 2, cy - height / 2, width, height).held_in(pw, ph)


# --- colour --------------------------------------------------------------------------------


def _colour(
    facts: Facts, brief: Brief | None, settings: Settings, format_: str, notes: list[str]
) -> ColourStation:
    grey_in = facts.mode in ("grey", "mono")
    known = facts.profile
    usable = known is not None and known.broken is None
    assumed = not usable and facts.colour_space in (None, "untagged", "grey")
    source: Space = facts.colour_space or "untagged"
    if assumed:
        source = facts.taken_as
        if facts.hint is not None and known is None and not grey_in:
            notes.append(
                say("The photo has no profile; its camera says {space}, and so it is taken.",
                    space=SPACE_NAMES[source])
            )  # fmt: skip
    if known is not None and known.broken:
        notes.append(
            say(
                "The embedded profile cannot be used ({why}); the colours are taken as {space}.",
                why=known.broken,
                space=SPACE_NAMES[source],
            )
        )
    target = settings.colour.space or _asked_space(facts, brief, source, notes)
    icc = facts.icc_bytes if target == "other" else profile.shipped(target)
    bits = settings.colour.bits or _asked_bits(facts, brief, format_)
    if bits == 16 and format_ not in _WIDE:
        bits = 8
    wish = settings.colour
    dots = None
    if bits == 1 and format_ not in _DOTTED:
        notes.append(say("{format} holds no single bits.", format=FORMAT_NAMES[format_]))
        bits = 8
    if bits == 1:
        target, icc, dots = "grey", profile.shipped("grey"), wish
    large = facts.format == "jpeg" and facts.size[0] * facts.size[1] > LIGHT_UP_TO
    light = (wish.resampling or ("numbers" if large else "light")) == "light"
    return ColourStation(
        source,
        target,
        icc,
        bits,
        wish.intent,
        assumed,
        light and facts.mode != "cmyk",
        wish.mix,
        dots,
    )


def _asked_space(facts: Facts, brief: Brief | None, source: Space, notes: list[str]) -> Space:
    channels = brief.bound(CHANNELS) if brief else None
    if channels is not None and channels.one_of and not channels.allows("colour"):
        return "grey"
    limit = brief.bound(SPACE, None) if brief else None
    grey_ok = channels is None or channels.allows("grey")
    if limit is None:
        if source == "grey" and grey_ok:
            return "grey"
        if source in SHIPPED and source != "grey":
            return source
        return "other" if source == "other" and facts.icc_bytes and grey_ok else "srgb"
    if source in SHIPPED and limit.allows(source):
        return source
    choice: Space | None = next((space for space in SHIPPED if limit.allows(space)), None)
    if choice is None:
        notes.append(
            say(
                "The brief asks for {spaces}, which cannot be written yet.",
                spaces=listed([SPACE_NAMES[s] for s in limit.one_of]),
            )
        )
        return "srgb"
    return choice


def _asked_bits(facts: Facts, brief: Brief | None, format_: str) -> int:
    limit = brief.bound(BITS, None) if brief else None
    channels = brief.bound(CHANNELS, None) if brief else None
    if channels is not None and channels.one_of and set(channels.one_of) == {"mono"}:
        return 1
    size = brief.bound(BYTES, None) if brief else None
    # What comes with 16 bit keeps them, unless they would cost bytes that are counted.
    deep = (facts.bits or 8) > 8 and (size is None or size.at_most is None)
    order = (16, 8, 1) if deep else (8, 16, 1)
    if limit is not None:
        for bits in order:
            if limit.allows(bits):
                return bits
    return 16 if deep else 8


# --- file ----------------------------------------------------------------------------------


def _file(
    facts: Facts,
    brief: Brief | None,
    settings: Settings,
    output: tuple[int, int],
    notes: list[str],
) -> FileStation:
    format_ = settings.file.format or _asked_format(facts, brief, settings, notes)
    at_least = at_most = None
    strengths: tuple[Strength, ...] = ("should", "must")
    for strength in strengths:
        limit = brief.bound(BYTES, strength) if brief else None
        if limit is not None:
            at_least = int(limit.at_least) if limit.at_least is not None else None
            at_most = int(limit.at_most) if limit.at_most is not None else None
            if limit.exact:
                at_least = at_most = int(limit.one_of[0])
    options = settings.file
    if options.at_least is not None:
        at_least = max(at_least or 0, options.at_least)
    if options.at_most is not None:
        at_most = min(at_most, options.at_most) if at_most is not None else options.at_most
    ppi = options.ppi
    if ppi is None and brief is not None:
        ppi = _asked_ppi(facts, brief, output)
    progressive = options.progressive
    asked = brief.bound(PROGRESSIVE, None) if brief else None
    if progressive is None and asked is not None:
        progressive = asked.allows("progressive") and not asked.allows("baseline")
    named = partial(file_name, shown_name(facts.file), brief, format_, options.name, size=output)
    name, counted = named(), named(n=None)
    return FileStation(
        format_,
        options.quality if format_ in LOSSY else None,
        options.subsampling if format_ in ("jpeg", "avif") else None,
        progressive,
        at_least,
        at_most,
        ppi,
        name,
        options.compression if format_ == "tiff" else None,
        options.colours if format_ in ("png", "gif") else None,
        bool(options.lossless) and format_ in ("webp", "avif"),
        counted if counted != name else "",
        _told(brief, settings),
        options.floor,
    )


def _told(brief: Brief | None, settings: Settings) -> dict[str, str | None]:
    """What becomes of each group of the metadata; the place of the shot is kept where it is
    asked for."""
    wishes: dict[str, str | None] = dict(settings.file.metadata)
    asked = brief.bound(LOCATION, None) if brief is not None else None
    if asked is not None and not asked.allows("none"):
        wishes["location"] = wishes["location"] or "keep"
    return wishes


def _asked_ppi(facts: Facts, brief: Brief, output: tuple[int, int]) -> float | None:
    """The pixels per inch that the ppi and print clauses leave for a size, nearest to the
    photo's own (or 300), a whole number where there is one; ``None`` where nothing is asked.

    A side of n px prints at a length L with n / L pixels per inch; an exact length is met to
    half a pixel.
    """
    low, high, asked = 0.0, float("inf"), False
    turn = turn_of(*output)
    for clause, limit in brief.bounding(PRINTED_WIDTH, PRINTED_HEIGHT, RESOLUTION):
        if not clause.holds_for(turn):
            continue
        asked = True
        binds = binds_of(clause.measure)
        if binds == RESOLUTION:
            wanted = limit.nearest(facts.ppi_x or 300.0)
            least, most = (
                (wanted, wanted) if limit.one_of else (limit.at_least or 0.0, limit.at_most)
            )
        else:
            side = output[0 if binds == PRINTED_WIDTH else 1]
            slack = 0.5 if limit.one_of else 0.0
            shortest, longest = (
                (limit.one_of[0],) * 2 if limit.one_of else (limit.at_least, limit.at_most)
            )
            least = (side - slack) * MM_PER_INCH / longest if longest else 0.0
            most = (side + slack) * MM_PER_INCH / shortest if shortest else None
        if least > high or (most is not None and most < low):
            continue  # the clauses pull against each other: the first stands
        low = max(low, least)
        high = min(high, most) if most is not None else high
    if not asked:
        return None
    ppi = min(max(facts.ppi_x or 300.0, low), high)
    whole = next((n for n in (round(ppi), ceil(ppi), floor(ppi)) if n and low <= n <= high), ppi)
    return float(whole)


def _asked_format(facts: Facts, brief: Brief | None, settings: Settings, notes: list[str]) -> str:
    limit = brief.bound(FORMAT, None) if brief else None
    clear = brief.bound(TRANSPARENCY) if brief else None
    wants_clear = clear is not None and not clear.allows("none")
    wide = brief.bound(BITS) if brief else None
    mono = brief.bound(CHANNELS) if brief else None
    dotted = settings.colour.bits == 1 or (mono is not None and set(mono.one_of) == {"mono"})
    freed = settings.finish.clear.by is not None and (clear is None or clear.allows("present"))
    if (
        wants_clear
        or dotted
        or freed
        or (wide is not None and not wide.allows(8))
        or (limit is None and facts.alpha and (clear is None or clear.allows("present")))
    ):
        first = "png"
    else:
        first = facts.format if facts.format in ("jpeg", "png") else "jpeg"
    if limit is None:
        return first or "jpeg"
    order = [first or "jpeg", *(limit.one_of or WRITABLE), *WRITABLE]
    choice = next((f for f in order if f in WRITABLE and limit.allows(f)), None)
    if choice is None:
        notes.append(
            say(
                "The brief asks for {formats}, which cannot be written yet.",
                formats=listed([FORMAT_NAMES[f] for f in limit.one_of]),
            )
        )
        return "jpeg"
    return str(choice)


# --- the live reading ----------------------------------------------------------------------


def placed(line: Line) -> Placed:
    """Where the frame lies: left and top in photo pixels, output over photo pixels, and the
    degrees by which the photo is straightened first."""
    return line.frame.window.left, line.frame.window.top, line.frame.scale, line.frame.angle


def live_reading(
    facts: Facts,
    line: Line,
    size: int | None = None,
    estimated: bool = True,
    see_people: Callable[[], People] | None = None,
    see_look: Callable[[], Look] | None = None,
    stale: bool = False,
) -> Reading:
    """What the fitting would come to, as a reading.

    ``size`` is the number of bytes where a draft has been made or guessed; it is an estimate
    unless said otherwise, for only the finished file has a size. ``see_look`` gives the pixels of
    the last picture that was made, which are an estimate where it is ``stale``.
    """
    from aptandum.core.fitting.record import words

    w, h = line.frame.output
    grey = line.colour.target == "grey"
    mode: Mode = "mono" if line.colour.bits == 1 else "grey" if grey else "rgb"
    clear = bool(facts.alpha) or line.frame.ground == "clear" or line.finish.clear
    alpha = clear and line.finish.ground is None and line.colour.bits != 1
    tagged = line.file.format not in ("bmp", "gif") and line.colour.bits != 1
    icc = line.colour.icc if tagged else b""
    space: Space = line.colour.target if tagged else "grey" if grey else "untagged"
    made = Facts(
        file=line.file.name,
        format=line.file.format,  # type: ignore[arg-type]
        width=w,
        height=h,
        oriented_width=w,
        oriented_height=h,
        bits=line.colour.bits,
        mode=mode,
        alpha=alpha,
        icc=profile.identify(icc).description if icc else None,
        colour_space=space,
        orientation=1,
        ppi_x=line.file.ppi,
        ppi_y=line.file.ppi,
        bytes=size,
        frames=1,
        progressive=bool(line.file.progressive),
        location=facts.location
        and line.file.metadata.get("location") == "keep"
        and line.file.format in HOLDING,
        profile=profile.identify(icc) if icc else None,
        icc_bytes=icc,
    )
    loose = frozenset([*(["bytes"] if estimated else []), *(["pixels"] if stale else [])])
    return Reading(
        "live",
        made,
        line.frame.scale,
        loose,
        line.source.shown,
        see_people,
        placed(line),
        see_opaque=lambda: not alpha,
        see_look=see_look,
        done=words(facts, line),
        picture=picture_of(line),
    )


def picture_of(line: Line) -> str:
    """What tells one picture from another to a person who looks at it: the part of the photo, how
    it is turned, its greys and dots, and what is laid on. Its size, its profile and its file are
    no part of that."""
    frame, colour, finish = line.frame, line.colour, line.finish
    window = frame.window
    laid = {name: getattr(finish.settings, name).model_dump_json() for name in finish.on}
    told = (
        line.source, tuple(round(v, 2) for v in (window.left, window.top, window.width,
                                                 window.height)),
        frame.angle, frame.ground, colour.target == "grey", colour.mix, colour.dots,
        finish.ground, laid,
    )  # fmt: skip
    return hashlib.sha256(repr(told).encode()).hexdigest()[:16]


def cut_of_shape(
    size: tuple[int, int], wanted: tuple[float, float, float, float] | None, shown: tuple[int, int]
) -> Window:
    """The largest window of a size's shape inside a wanted one (or the photo), about its
    middle."""
    return _cut_of(Fraction(*size), wanted, shown)
