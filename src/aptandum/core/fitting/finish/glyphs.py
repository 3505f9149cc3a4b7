"""The shipped fonts of captions, and which of them has which letter."""

from __future__ import annotations

from functools import lru_cache
from importlib import resources

from aptandum.core.frozen import frozen
from aptandum.core.later import Image, ImageDraw, ImageFont

FONTS = {
    "sans": "IBMPlexSans-Medium",
    "sans bold": "IBMPlexSans-SemiBold",
    "condensed": "IBMPlexSansCondensed-Medium",
    "condensed bold": "IBMPlexSansCondensed-SemiBold",
    "mono": "IBMPlexMono-Medium",
}
DOTS = "dots"
"""The font that is drawn for dots: each of its letters is made of whole ones."""
NAMES = (*FONTS, DOTS)
_DRAWN = {7: "5x7", 8: "5x8", 9: "6x9", 10: "6x10", 12: "6x12", 13: "7x13", 14: "7x14", 15: "9x15", 18: "9x18", 20: "10x20"}  # fmt: skip
"""Its files by the dots that their lines are high."""
_TIMES = 200
_NO_CHARACTER = "\uffff"
"""What no font has a letter for: what it draws instead is drawn for every letter that it has not."""


@frozen
class Run:
    """Letters of a line that one font draws.

    Attributes:
        left: where they begin, in pixels from the line's own left.
        times: how many pixels wide and high each dot of the font is drawn; 1: as it is.
    """

    font: ImageFont.FreeTypeFont
    text: str
    left: float
    times: int = 1

    def length(self, text: str) -> float:
        """How far a text of this font reaches to the next letter, in pixels."""
        return self.font.getlength(text) * self.times

    def reach(self) -> tuple[float, float, float, float]:
        """Left, top, right and bottom of its ink, in pixels from where it is drawn."""
        if self.font.path is None or not str(self.font.path).endswith(_OF_DOTS):
            return self.font.getbbox(self.text)
        # The cells of a font of dots are wider than what is in them.
        mask, (left, top) = self.font.getmask2(self.text, mode="1")
        ink = mask.getbbox() or (0, 0, 0, 0)
        return tuple((v + off) * self.times for v, off in zip(ink, (left, top) * 2, strict=True))

    def draw(self, sheet: Image.Image, text: str, at: tuple[int, int]) -> None:
        """Draw letters on a sheet of one band; one of mode ``1`` gets no greys."""
        pen = ImageDraw.Draw(sheet)
        pen.fontmode = "1" if sheet.mode == "1" else "L"
        if self.times == 1:
            pen.text(at, text, 255, self.font)
            return
        ascent, descent = self.font.getmetrics()
        size = max(1, round(self.font.getlength(text))), ascent + descent
        small = Image.new("1", size, 0)
        ImageDraw.Draw(small).text((0, 0), text, 255, self.font)
        large = small.resize((size[0] * self.times, size[1] * self.times), Image.Resampling.NEAREST)
        sheet.paste(255, at, large)


_OF_DOTS = ".pcf.gz"


def _dots(size: float) -> tuple[int, int]:
    """The largest drawing of the font of dots that is no higher than so many pixels, and how often it is enlarged."""
    most = max(min(_DRAWN), int(size))
    every = (
        (high * times, -times, high)
        for high in _DRAWN
        for times in range(1, min(_TIMES, max(1, most // high)) + 1)
    )
    _found, times, high = max(one for one in every if one[0] <= most)
    return high, -times


@lru_cache(maxsize=32)
def font_of(name: str, size: float) -> ImageFont.FreeTypeFont:
    """A font of :data:`NAMES` with an em of so many pixels, or the drawing of the one of dots for it."""
    if name == DOTS:
        high, _times = _dots(size)
        file_name, size = f"misc-fixed-{_DRAWN[high]}{_OF_DOTS}", high
    else:
        file_name = f"{FONTS[name]}.woff"
    with resources.as_file(resources.files("aptandum.data").joinpath(f"fonts/{file_name}")) as file:
        return ImageFont.truetype(str(file), size)


def metrics(name: str, size: float) -> tuple[int, int]:
    """How far a font's lines reach above and below where its letters stand, in pixels."""
    ascent, descent = font_of(name, size).getmetrics()
    times = _dots(size)[1] if name == DOTS else 1
    return ascent * times, descent * times


@lru_cache(maxsize=4096)
def _has(name: str, character: str) -> bool:
    if character.isspace():
        return True
    font = font_of(name, 32.0)
    mine, none = font.getmask(character), font.getmask(_NO_CHARACTER)
    return mine.size != none.size or bytes(mine) != bytes(none)


def _drawn_by(name: str, character: str) -> str:
    """The font that draws a letter: the one that was chosen, else one like it that has it."""
    if _has(name, character):
        return name
    like = "sans bold" if "bold" in name else "sans"
    return like if _has(like, character) else name


def runs(line: str, name: str, size: float) -> tuple[tuple[Run, ...], float]:
    """A line in pieces that one font each draws, and its whole width in pixels."""
    parts: list[tuple[str, str]] = []
    for character in line:
        drawn = _drawn_by(name, character)
        if parts and parts[-1][0] == drawn:
            parts[-1] = drawn, parts[-1][1] + character
        else:
            parts.append((drawn, character))
    made: list[Run] = []
    left = 0.0
    for drawn, text in parts:
        times = _dots(size)[1] if drawn == DOTS else 1
        made.append(Run(font_of(drawn, size), text, left, times))
        left += made[-1].length(text)
    return tuple(made), left


def missing(text: str, name: str) -> tuple[str, ...]:
    """The characters of a text that no shipped font has a letter for, each once."""
    return tuple(
        dict.fromkeys(c for c in text if not c.isspace() and not _has(_drawn_by(name, c), c))
    )
