"""Caption: one or more lines of text in a shipped font, placed by an anchor."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache
from importlib import resources
from typing import Any, Literal

from pydantic import Field, field_validator

from aptandum.core.fitting.finish.base import (
    COLOUR,
    Canvas,
    Finish,
    FinishPart,
    Given,
    laid_over,
)
from aptandum.core.later import Image, ImageDraw, ImageFont, np
from aptandum.core.photo.picture import Lettering, Picture
from aptandum.core.words import say

FONTS = {
    "sans": "IBMPlexSans-Medium",
    "sans bold": "IBMPlexSans-SemiBold",
    "condensed": "IBMPlexSansCondensed-Medium",
    "condensed bold": "IBMPlexSansCondensed-SemiBold",
    "mono": "IBMPlexMono-Medium",
}
ANCHORS = (
    "top left",
    "top",
    "top right",
    "left",
    "middle",
    "right",
    "bottom left",
    "bottom",
    "bottom right",
)


class Caption(FinishPart):
    """Attributes:
    text: one or more lines; empty: none.
    size: of the font in output pixels (its em).
    anchor: where in the picture it stands, and how its lines are set.
    margin: from the edge, in output pixels.
    colour: of the letters.
    behind: what lies under the letters.
    behind_colour, behind_strength: of the plate or the outline, 0..100 %.
    """

    text: str = Field(default="", max_length=2000)
    font: Literal["sans", "sans bold", "condensed", "condensed bold", "mono"] = "sans bold"
    size: float = Field(default=32.0, ge=4, le=4000)
    anchor: Literal[
        "top left",
        "top",
        "top right",
        "left",
        "middle",
        "right",
        "bottom left",
        "bottom",
        "bottom right",
    ] = "bottom left"
    margin: int = Field(default=16, ge=0, le=10_000)
    colour: str = Field(default="#FFFFFF", pattern=COLOUR)
    behind: Literal["nothing", "plate", "outline"] = "nothing"
    behind_colour: str = Field(default="#000000", pattern=COLOUR)
    behind_strength: float = Field(default=70.0, ge=0, le=100)

    @field_validator("text", mode="before")
    @classmethod
    def _lines(cls, value: Any) -> Any:
        return value.replace("\\n", "\n") if isinstance(value, str) else value


@lru_cache(maxsize=32)
def _font(name: str, size: float) -> ImageFont.FreeTypeFont:
    path = resources.files("aptandum.data").joinpath(f"fonts/{FONTS[name]}.woff")
    with resources.as_file(path) as file:
        return ImageFont.truetype(str(file), size)


def letters(settings: Caption, size: tuple[int, int], zoom: float, crisp: bool) -> Lettering | None:
    """The letters' own coverage where they will stand; ``None`` where none is seen.

    ``crisp``: each pixel is all letter or none, for a picture of dots.
    """
    if not settings.text.strip():
        return None
    wide, high = size
    font = _font(settings.font, max(1.0, settings.size * zoom))
    lines = settings.text.split("\n")
    ascent, descent = font.getmetrics()
    step = ascent + descent
    widths = [font.getlength(line) for line in lines]
    block = (max(1, int(max(widths) + 0.999)), step * len(lines))
    margin = round(settings.margin * zoom)
    across = "left" if "left" in settings.anchor else "right" if "right" in settings.anchor else ""
    up = "top" if "top" in settings.anchor else "bottom" if "bottom" in settings.anchor else ""
    left = {"left": margin, "right": wide - margin - block[0]}.get(across, (wide - block[0]) // 2)
    top = {"top": margin, "bottom": high - margin - block[1]}.get(up, (high - block[1]) // 2)
    sheet = Image.new("1" if crisp else "L", (wide, high), 0)
    pen = ImageDraw.Draw(sheet)
    pen.fontmode = "1" if crisp else "L"
    for n, line in enumerate(lines):
        slack = block[0] - widths[n]
        shift = {"left": 0.0, "right": slack}.get(across, slack / 2)
        # On whole pixels: upright strokes stay as crisp as the font draws them.
        pen.text((round(left + shift), top + n * step), line, 255, font)
    share = np.asarray(sheet.convert("L"), np.float32) / np.float32(255)
    rows, columns = np.flatnonzero(share.any(1)), np.flatnonzero(share.any(0))
    if not rows.size:
        return None
    x0, x1, y0, y1 = columns[0], columns[-1] + 1, rows[0], rows[-1] + 1
    box = (int(x0), int(y0), int(x1 - x0), int(y1 - y0))
    small = font.getbbox("x")
    return Lettering(box, share[y0:y1, x0:x1].copy(), float(small[3] - small[1]))


def draw(picture: Picture, settings: Caption, place: Canvas) -> Picture:
    """Write the caption into its band."""
    import cv2

    dots = picture.bits == 1
    found = letters(settings, picture.size, place.zoom, dots)
    if found is None:
        return picture
    left, top, wide, high = found.box
    share = np.zeros(picture.pixels.shape[:2], np.float32)
    share[top : top + high, left : left + wide] = found.share
    pixels = picture.pixels
    if settings.behind != "nothing":
        strength = 1.0 if dots else settings.behind_strength / 100
        if settings.behind == "plate":
            pad = max(1, round(settings.size * 0.3 * place.zoom))
            under: Any = np.zeros_like(share)
            under[max(0, top - pad) : top + high + pad, max(0, left - pad) : left + wide + pad] = 1
        else:
            reach = max(1, round(settings.size * 0.07 * place.zoom))
            kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * reach + 1,) * 2)
            under = cv2.dilate(share, kernel)
        pixels = _laid(replace(picture, pixels=pixels), settings.behind_colour, under * strength)
    pixels = _laid(replace(picture, pixels=pixels), settings.colour, share)
    return replace(picture, pixels=pixels, lettering=(*picture.lettering, found))


def _laid(picture: Picture, colour: str, share: Any) -> Any:
    numbers = picture.numbers(colour)
    if picture.bits == 1:
        numbers = np.array([255 if float(np.mean(numbers)) >= 128 else 0], np.uint8)
    return laid_over(picture, numbers, share)


def _says(settings: Caption, given: Given) -> str:
    words = " / ".join(line.strip() for line in settings.text.split("\n"))
    return say("Caption: “{text}”.", text=words)


FINISH = Finish(
    "caption",
    say("Caption"),
    Caption,
    lambda settings: "caption",
    lambda settings, given: bool(settings.text.strip()),
    draw,
    _says,
    after_dots=True,
)
