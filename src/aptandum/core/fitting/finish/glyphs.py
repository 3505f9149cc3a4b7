"""The shipped fonts of captions, and which of them has which letter."""

from __future__ import annotations

from functools import lru_cache
from importlib import resources

from aptandum.core.frozen import frozen
from aptandum.core.later import ImageFont

FONTS = {
    "sans": "IBMPlexSans-Medium",
    "sans bold": "IBMPlexSans-SemiBold",
    "condensed": "IBMPlexSansCondensed-Medium",
    "condensed bold": "IBMPlexSansCondensed-SemiBold",
    "mono": "IBMPlexMono-Medium",
}
_NO_CHARACTER = "\uffff"
"""What no font has a letter for: what it draws instead is drawn for every letter that it has not."""


@frozen
class Run:
    """Letters of a line that one font draws; ``left``: where they begin, in pixels from the line's own left."""

    font: ImageFont.FreeTypeFont
    text: str
    left: float


@lru_cache(maxsize=32)
def font_of(name: str, size: float) -> ImageFont.FreeTypeFont:
    """A font of :data:`FONTS` with an em of so many pixels."""
    path = resources.files("aptandum.data").joinpath(f"fonts/{FONTS[name]}.woff")
    with resources.as_file(path) as file:
        return ImageFont.truetype(str(file), size)


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
    made, left = [], 0.0
    for drawn, text in parts:
        font = font_of(drawn, size)
        made.append(Run(font, text, left))
        left += font.getlength(text)
    return tuple(made), left


def missing(text: str, name: str) -> tuple[str, ...]:
    """The characters of a text that no shipped font has a letter for, each once."""
    return tuple(
        dict.fromkeys(c for c in text if not c.isspace() and not _has(_drawn_by(name, c), c))
    )
