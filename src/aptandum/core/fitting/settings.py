"""A fitting's settings: all that a person chose, and never a pixel.

``None`` means "as the brief asks", so a fresh fitting is empty and follows its brief. Every
setting can be written as ``station.key=value``, on the command line and in mends.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import datetime
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, ValidationInfo, field_validator

from aptandum.core.errors import AptandumError
from aptandum.core.figures import grouped, show_number
from aptandum.core.fitting import filenames
from aptandum.core.fitting.dots import Way
from aptandum.core.fitting.finish.backdrop import Backdrop
from aptandum.core.fitting.finish.base import COLOUR
from aptandum.core.fitting.finish.border import Border
from aptandum.core.fitting.finish.caption import MOST_CAPTIONS, Caption, Captions
from aptandum.core.fitting.finish.clear import Clear
from aptandum.core.fitting.finish.keyline import Keyline
from aptandum.core.fitting.finish.panels import Panels
from aptandum.core.fitting.finish.shade import SHADES, Shade
from aptandum.core.fitting.finish.sharpening import Sharpening
from aptandum.core.numbers import QuantityError, Side, number
from aptandum.core.photo.metadata_groups import DATED
from aptandum.core.quantity import parse_bytes, parse_size
from aptandum.core.words import listed, say

_GROUND = r"^(#[0-9A-Fa-f]{6}|edge|clear)$"
_NAME = r"^[^/\x00]+$"
_WISH = r"^(keep|drop|=.*)$"


class SettingError(AptandumError, ValueError):
    """A setting that does not exist, or a value that it cannot take; the message is a sentence."""


class _Frozen(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid", defer_build=True)


_LEAST_SIDE = 0.5
"""Photo pixels that a window or a box has at least; less is nothing to be shown."""
_MOST_BOXES = 200
_STOPS = 3.0
"""By which a picture is made lighter or darker at most, and red against blue."""


def _four(text: str) -> tuple[float, ...]:
    """Left, top, width and height from text; ValueError where they are not four numbers."""
    parts = text.replace(",", " ").split()
    if len(parts) != 4:
        raise ValueError(say("four numbers: left, top, width, height"))
    try:
        return tuple(float(number(part)) for part in parts)
    except QuantityError as error:
        raise ValueError(str(error)) from None


class SourceSettings(_Frozen):
    """What a person says of the photo itself.

    Attributes:
        dust, retouched: what was done to it before it came here: dust and scratches taken out, or
            more than that.
        damaged: it is used although its data are damaged or cut short.
        words: boxes whose words must be read: left, top, width and height in photo pixels as shown. Written as
            text, four numbers for each box with semicolons between boxes.
    """

    dust: bool = False
    retouched: bool = False
    damaged: bool = False
    words: tuple[tuple[float, float, float, float], ...] = Field(default=(), max_length=_MOST_BOXES)

    @field_validator("words", mode="before")
    @classmethod
    def _boxes(cls, value: Any) -> Any:
        if not isinstance(value, str):
            return value
        return tuple(_four(part) for part in value.split(";") if part.strip())

    @field_validator("words")
    @classmethod
    def _boxes_sane(cls, value: Any) -> Any:
        for box in value:
            if not all(abs(v) < 1e7 for v in box) or box[2] < _LEAST_SIDE or box[3] < _LEAST_SIDE:
                raise ValueError(say("boxes inside the photo, at least half a pixel wide and high"))
        return value

    @property
    def done(self) -> tuple[str, ...]:
        """The same as alterations, by their words in a rulebook."""
        return tuple(word for word, on in (("dust", self.dust), ("retouch", self.retouched)) if on)


class FrameSettings(_Frozen):
    """The window that is kept.

    Attributes:
        window: left, top, width, height in photo pixels as shown, fractions allowed;
            ``None``: the largest cut of the brief's shape, about the middle.
        output: width and height in output pixels; ``None``: what the brief asks.
        fill: ``whole``: nothing is cut or padded, where the brief allows the photo's own shape at
            any size; ``cut`` to the shape; ``pad`` to it, so that all of the wanted window stays
            and what is missing is filled with ``ground``; ``pixels``: the photo's own pixels, not
            resampled. ``None``: whole where that is allowed, else cut; padded where cutting is
            forbidden or the photo is clear at its rim; its own pixels where all scaling is
            forbidden.
        angle: degrees by which the photo is straightened, clockwise, before it is framed; the
            window lies in the straightened photo's coordinates, about the same middle.
        ground: of padding: a colour, ``edge`` (picked from the picture's edge) or ``clear``.
    """

    window: tuple[float, float, float, float] | None = None
    output: tuple[int, int] | None = None
    fill: Literal["whole", "cut", "pad", "pixels"] | None = None
    angle: float = Field(default=0.0, ge=-45, le=45)
    ground: str = Field(default="edge", pattern=_GROUND)

    @field_validator("window", mode="before")
    @classmethod
    def _window(cls, value: Any) -> Any:
        return _four(value) if isinstance(value, str) else value

    @field_validator("window")
    @classmethod
    def _sane(cls, value: Any) -> Any:
        if value is not None:
            if not all(abs(v) < 1e7 for v in value):
                raise ValueError(say("numbers inside the photo"))
            if value[2] < _LEAST_SIDE or value[3] < _LEAST_SIDE:
                raise ValueError(say("a width and height of at least half a pixel"))
        return value

    @field_validator("output", mode="before")
    @classmethod
    def _output(cls, value: Any) -> Any:
        if isinstance(value, str):
            try:
                return parse_size(value)
            except QuantityError as error:
                raise ValueError(str(error)) from None
        return value

    @field_validator("output")
    @classmethod
    def _writable(cls, value: Any) -> Any:
        if value is not None and not all(1 <= v <= 65_500 for v in value):
            raise ValueError(say("sides from 1 to 65 500 pixels"))
        return value


class ColourSettings(_Frozen):
    """The colour that is written.

    Attributes:
        space: a space whose profile is shipped; ``None``: as the brief asks.
        intent: how colours outside the target are brought in: ``relative``: each channel to its edge; ``hue``: to its edge,
            with their hue kept; ``perceptual``: as the profile says, the rest with them.
        bits: of each channel; 1: dots that are black or white.
        resampling: ``light``: pixels are mixed as light mixes, so that fine detail does not
            darken; ``numbers``: by their encoded numbers, which is faster. ``None``: light,
            unless a JPEG is so large that the decoder's own reduction pays.
        mix: how colour becomes grey: by its ``lightness``, ``even`` parts of the three
            channels, or one channel alone.
        dots, threshold, invert, sharpen: how grey becomes dots; see
            :func:`aptandum.core.fitting.dots.dots`. Sharpening is done before, 0..100 %.
        exposure: stops by which the whole picture is made lighter, darker below zero.
        warmth: stops by which red is made stronger against blue, weaker below zero.
    """

    space: Literal["srgb", "adobe-rgb", "display-p3", "prophoto", "grey"] | None = None
    intent: Literal["relative", "perceptual", "hue"] = "relative"
    bits: Literal[1, 8, 16] | None = None
    resampling: Literal["light", "numbers"] | None = None
    mix: Literal["lightness", "even", "red", "green", "blue"] = "lightness"
    dots: Way = "diffused"
    threshold: float = Field(default=50.0, ge=0, le=100)
    invert: bool = False
    sharpen: float = Field(default=0.0, ge=0, le=100)
    exposure: float = Field(default=0.0, ge=-_STOPS, le=_STOPS)
    warmth: float = Field(default=0.0, ge=-_STOPS, le=_STOPS)

    @field_validator("bits", mode="before")
    @classmethod
    def _bits(cls, value: Any) -> Any:
        return int(value) if isinstance(value, str) and value.isdigit() else value


class FinishSettings(_Frozen):
    """What is laid on the picture: for each finish its own settings, and

    Attributes:
        ground: the colour under transparent parts where the file has no transparency.
    """

    ground: str = Field(default="#FFFFFF", pattern=COLOUR)
    sharpening: Sharpening = Field(default_factory=Sharpening)
    backdrop: Backdrop = Field(default_factory=Backdrop)
    clear: Clear = Field(default_factory=Clear)
    panels: Panels = Field(default_factory=Panels)
    shade: Shade = Field(default_factory=Shade)
    border: Border = Field(default_factory=Border)
    caption: Captions = Field(default_factory=Captions)
    keyline: Keyline = Field(default_factory=Keyline)


class MetadataSettings(_Frozen):
    """What the file tells, group by group: ``keep`` what the photo tells, ``drop`` it, or a text
    after ``=``, as in ``=Ines Marrow``. ``None``: it is kept, but for the camera, and the place of
    the shot unless the brief asks for it.

    Attributes:
        date: as text ``=2026-11-02`` or ``=2026-11-02 17:40``.
        camera, location: kept or dropped; nothing can be made up.
    """

    credit: str | None = Field(default=None, pattern=_WISH, max_length=500)
    copyright: str | None = Field(default=None, pattern=_WISH, max_length=500)
    caption: str | None = Field(default=None, pattern=_WISH, max_length=2000)
    date: str | None = Field(default=None, max_length=20)
    camera: Literal["keep", "drop"] | None = None
    location: Literal["keep", "drop"] | None = None

    @field_validator("date")
    @classmethod
    def _dated(cls, value: str | None) -> str | None:
        if value in (None, "keep", "drop"):
            return value
        text = value.removeprefix("=").strip()
        try:
            if not value.startswith("=") or not DATED.fullmatch(text):
                raise ValueError
            datetime.fromisoformat(text)
        except ValueError:
            raise ValueError(say("keep, drop, or a date as in =2026-11-02 17:40")) from None
        return value


class FileSettings(_Frozen):
    """The file that is written.

    Attributes:
        format: ``None``: what the brief asks, else what suits the picture.
        quality: of JPEG, WebP and AVIF, 1 to 100; ``None``: the highest inside the byte limits.
        compression: of a TIFF; ``None``: deflate.
        colours: of a palette, in PNG and GIF; ``None``: as many as fit.
        lossless: of WebP and AVIF.
        at_least, at_most: byte limits of one's own beside the brief's; whichever is tighter
            holds. As text with a unit: ``200 kB``, ``1 MiB``.
        floor: the quality below which a smaller allowed size is taken instead, where the brief
            leaves the pixels open.
        name: of the file, without its ending; in braces it takes the fields of
            :data:`aptandum.core.fitting.filenames.FIELDS`. ``None``: one that the brief's rules
            allow.
        ppi: ``None``: what the brief asks, else none stated.
    """

    format: Literal["jpeg", "png", "tiff", "webp", "avif", "gif", "bmp"] | None = None
    quality: int | None = Field(default=None, ge=1, le=100)
    subsampling: Literal["4:4:4", "4:2:0"] | None = None
    progressive: bool | None = None
    at_least: int | None = Field(default=None, ge=0, le=10**12)
    at_most: int | None = Field(default=None, ge=1, le=10**12)
    floor: int = Field(default=60, ge=1, le=100)
    name: str | None = Field(default=None, min_length=1, max_length=200, pattern=_NAME)
    ppi: float | None = Field(default=None, gt=0, le=100_000)
    compression: Literal["none", "lzw", "deflate"] | None = None
    colours: int | None = Field(default=None, ge=2, le=256)
    lossless: bool | None = None
    metadata: MetadataSettings = Field(default_factory=MetadataSettings)

    @field_validator("at_least", "at_most", mode="before")
    @classmethod
    def _bytes(cls, value: Any, info: ValidationInfo) -> Any:
        if isinstance(value, str):
            side: Side = "upper" if info.field_name == "at_most" else "lower"
            try:
                return int(parse_bytes(value, side))
            except QuantityError as error:
                raise ValueError(str(error)) from None
        return value

    @field_validator("name")
    @classmethod
    def _fields(cls, value: str | None) -> str | None:
        trouble = filenames.trouble(value) if value is not None else ""
        if trouble:
            raise ValueError(trouble)
        return value


class Settings(_Frozen):
    """All settings of a fitting, by station."""

    source: SourceSettings = Field(default_factory=SourceSettings)
    frame: FrameSettings = Field(default_factory=FrameSettings)
    colour: ColourSettings = Field(default_factory=ColourSettings)
    finish: FinishSettings = Field(default_factory=FinishSettings)
    file: FileSettings = Field(default_factory=FileSettings)

    def having(self, changes: Mapping[str, object]) -> Settings:
        """The same settings with some changed, each by its ``station.key`` name.

        Text is read as the command line would; ``None`` gives the setting's default back.

        Raises:
            SettingError: no such setting, or a value that it cannot take.
        """
        made = self
        for name, value in changes.items():
            made = made._with(name, value)
        return made

    def with_files(self, change: Callable[[str], str]) -> Settings:
        """The same settings with the path of every file that they name changed; these very ones
        where they name none."""
        finish = self.finish
        if (
            not finish.panels.fills
            and finish.border.picture is None
            and finish.shade.picture is None
        ):
            return self
        fills = tuple(fill.with_files(change) for fill in finish.panels.fills)
        made = {"panels": finish.panels.model_copy(update={"fills": fills})}
        for name, own in (("border", ()), ("shade", SHADES)):
            part = getattr(finish, name)
            if part.picture is not None and part.picture not in ("none", *own):
                made[name] = part.model_copy(update={"picture": change(part.picture)})
        return self.model_copy(update={"finish": finish.model_copy(update=made)})

    def files(self) -> tuple[str, ...]:
        """The path of every file that they name beside the photo."""
        found: dict[str, None] = {}

        def seen(file: str) -> str:
            found[file] = None
            return file

        self.with_files(seen)
        return tuple(found)

    def with_turned(self, path: str, code: int, size: tuple[int, int]) -> Settings:
        """The same settings with every panel's picture at ``path`` turned (``code`` as EXIF counts)
        and its frame with it; ``size`` is the photo's as it was shown before. These very ones
        where none is."""
        fills = self.finish.panels.fills
        made = tuple(fill.with_turned(path, code, size) for fill in fills)
        return self if made == fills else self.having({"finish.panels.fills": made})

    def _with(self, name: str, value: object) -> Settings:
        station, _, key = name.partition(".")
        part = getattr(self, station, None) if station in type(self).model_fields else None
        group, _, inner = key.partition(".")
        mine = getattr(part, group, None)
        if inner and isinstance(mine, BaseModel):
            number, _, rest = inner.partition(".")
            if isinstance(mine, Captions) and number.isdigit():
                held: BaseModel = _numbered(mine, int(number), rest, value, name)
            else:
                held = _having(mine, inner, value, name)
            assert isinstance(part, BaseModel)
            return self.model_copy(update={station: part.model_copy(update={group: held})})
        whole_part = isinstance(getattr(part, key, None), BaseModel) and value is not None
        if not isinstance(part, BaseModel) or whole_part:
            raise _unknown(name)
        return self.model_copy(update={station: _having(part, key, value, name)})


def _numbered(all_: Captions, n: int, key: str, value: object, name: str) -> Captions:
    """Captions with one of them changed, by its number from 1; the one after the last is a new one. Without a key it is
    taken out."""
    every = list(all_.each())
    if not key and value is None and 1 <= n <= len(every):
        del every[n - 1]
        return all_.of(every or [Caption()])
    if not key or not 1 <= n <= min(len(every) + 1, MOST_CAPTIONS):
        raise SettingError(
            say("{name}: captions are numbered from 1 to {n}.", name=name,
                n=min(len(every) + 1, MOST_CAPTIONS))
        )  # fmt: skip
    if n > len(every):
        every.append(Caption())
    made = _having(every[n - 1], key, value, name)
    assert isinstance(made, Caption)
    every[n - 1] = made
    return all_.of(every)


def _unknown(name: str) -> SettingError:
    import difflib  # no start has a use for it

    known = names()
    near = difflib.get_close_matches(name, known, 3, 0.7)
    if near:
        said = say("There is no setting “{name}”. Is {near} meant?", name=name, near=listed(near))
        return SettingError(said)
    station = name.partition(".")[0]
    mine = [one for one in known if one.startswith(f"{station}.")]
    stations = list(dict.fromkeys(one.partition(".")[0] for one in known))
    if mine:
        return SettingError(
            say(
                "There is no setting “{name}”; of {station} there are {all}.",
                name=name,
                station=station,
                all=listed(mine, "and"),
            )
        )
    return SettingError(
        say(
            "There is no setting “{name}”; a setting is named as {example}, after {all}.",
            name=name,
            example="frame.output",
            all=listed(stations),
        )
    )


def _having(part: BaseModel, key: str, value: object, name: str) -> BaseModel:
    """A group of settings with one changed."""
    if key not in type(part).model_fields:
        raise _unknown(name)
    field = type(part).model_fields[key]
    if value is None or value == "":
        value = field.get_default(call_default_factory=True)
    held = {k: getattr(part, k) for k in type(part).model_fields}
    try:
        return type(part).model_validate({**held, key: value})
    except ValidationError as error:
        first = error.errors()[0]
        raise SettingError(
            say(
                "{name} cannot be “{value}”; expected {what}.",
                name=name,
                value=value,
                what=_expected(first["type"], first.get("ctx", {}), first["msg"]),
            )
        ) from None


def _expected(kind: str, told: Mapping[str, Any], message: str) -> str:
    """What a setting takes, in our own words."""
    if kind.startswith("int_"):
        return say("a whole number")
    if kind.startswith("float_"):
        return say("a number")
    if kind.startswith("bool_"):
        return say("true or false")
    if kind == "literal_error":
        return say("one of {words}", words=str(told["expected"]).replace("'", ""))
    if kind == "string_pattern_mismatch":
        return {
            COLOUR: say("a colour such as #1F5A7A"),
            _GROUND: say("edge, clear, or a colour such as #1F5A7A"),
            _NAME: say("a name without slashes"),
            _WISH: say("keep, drop, or = and the words to be set"),
        }.get(str(told.get("pattern")), message)
    if kind == "string_too_long":
        return say("at most {n} characters", n=grouped(told["max_length"]))
    bounds = (
        ("greater_than_equal", "ge", say("a number of at least {n}")),
        ("greater_than", "gt", say("a number above {n}")),
        ("less_than_equal", "le", say("a number of at most {n}")),
        ("less_than", "lt", say("a number below {n}")),
    )
    for name, key, words in bounds:
        if kind == name:
            return words.format(n=show_number(float(told[key])))
    return message.removeprefix("Value error, ")


def names() -> tuple[str, ...]:
    """Every setting's ``station.key`` name; those of a finish are ``finish.name.key``, those of
    the metadata ``file.metadata.key``."""
    found = []
    for station, field in Settings.model_fields.items():
        for key, inner in field.annotation.model_fields.items():  # type: ignore[union-attr]
            part = inner.annotation
            if isinstance(part, type) and issubclass(part, BaseModel):
                found += [f"{station}.{key}.{name}" for name in part.model_fields]
            else:
                found.append(f"{station}.{key}")
    return tuple(found)
