"""Caption: one or more lines of text in a shipped font, placed by an anchor."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import Any, Literal

from pydantic import Field, field_validator

from aptandum.core.brief.model import Panel, Template
from aptandum.core.fitting.finish.base import (
    COLOUR,
    Canvas,
    Finish,
    FinishError,
    FinishPart,
    Given,
    from_json,
    laid_over,
)
from aptandum.core.fitting.finish.glyphs import Run, metrics, runs
from aptandum.core.judge.polygons import bounds, inside
from aptandum.core.later import Image, cv2, np
from aptandum.core.photo.picture import Lettering, Picture
from aptandum.core.words import say, semicolons

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


MOST_CAPTIONS = 20
"""So many can stand on one picture."""


class Caption(FinishPart):
    """Attributes:
    text: one or more lines; empty: none.
    size: of the font in output pixels (its em); of the one of dots the height of its lines, from 7 on.
    panel: of the brief's template: it stands in that panel, and is cut off at its outline; empty: in the picture.
    anchor: where in the picture or the panel it stands.
    align: how its lines are set; ``None``: as the anchor says, to its side or about their middle.
    angle: degrees by which it is turned about its middle, clockwise.
    margin: from the edge, in output pixels.
    right, down: by how much it is moved from there, in output pixels.
    leading: from line to line, of what the font asks for.
    colour: of the letters.
    behind: what lies under the letters.
    behind_colour, behind_strength: of the plate or the outline, 0..100 %.
    """

    text: str = Field(default="", max_length=2000)
    font: Literal["sans", "sans bold", "condensed", "condensed bold", "mono", "dots"] = "sans bold"
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
    panel: str = Field(default="", max_length=200)
    margin: int = Field(default=16, ge=0, le=10_000)
    right: float = Field(default=0.0, ge=-65_500, le=65_500)
    down: float = Field(default=0.0, ge=-65_500, le=65_500)
    align: Literal["left", "middle", "right"] | None = None
    angle: float = Field(default=0.0, ge=-180, le=180)
    leading: float = Field(default=1.0, ge=0.5, le=10)
    colour: str = Field(default="#FFFFFF", pattern=COLOUR)
    behind: Literal["nothing", "plate", "outline"] = "nothing"
    behind_colour: str = Field(default="#000000", pattern=COLOUR)
    behind_strength: float = Field(default=70.0, ge=0, le=100)

    @field_validator("text", mode="before")
    @classmethod
    def _lines(cls, value: Any) -> Any:
        return value.replace("\\n", "\n") if isinstance(value, str) else value


class Captions(Caption):
    """The first caption, and those beside it.

    Attributes:
        more: the second, the third, and so on; from text as JSON.
    """

    more: tuple[Caption, ...] = Field(default=(), max_length=MOST_CAPTIONS - 1)

    @field_validator("more", mode="before")
    @classmethod
    def _from_text(cls, value: Any) -> Any:
        return from_json(value, say("a list of captions as JSON"))

    def each(self) -> tuple[Caption, ...]:
        """All of them, in the order in which they are laid on."""
        first = Caption.model_construct(**{key: getattr(self, key) for key in Caption.model_fields})
        return first, *self.more

    def of(self, every: Sequence[Caption]) -> Captions:
        """Other captions, at least one."""
        first, *more = every
        held = {key: getattr(first, key) for key in Caption.model_fields}
        return self.model_copy(update={**held, "more": tuple(more)})


Area = tuple[int, int, int, int]


def letters(
    settings: Caption, size: tuple[int, int], zoom: float, crisp: bool, area: Area | None = None
) -> Lettering | None:
    """The letters' own coverage where they will stand; ``None`` where there is no text.

    Args:
        crisp: each pixel is all letter or none, for a picture of dots.
        area: left, top, width and height in which they stand; ``None``: the picture.
    """
    if not settings.text.strip():
        return None
    x_from, y_from, wide, high = area or (0, 0, *size)
    em = max(1.0, settings.size * zoom)
    lines = settings.text.split("\n")
    ascent, descent = metrics(settings.font, em)
    step = max(1, round((ascent + descent) * settings.leading))
    pieces = [runs(line, settings.font, em) for line in lines]
    tall = step * (len(lines) - 1) + ascent + descent
    block = (max(1, int(max(width for _runs, width in pieces) + 0.999)), tall)
    margin = round(settings.margin * zoom)
    across = "left" if "left" in settings.anchor else "right" if "right" in settings.anchor else ""
    up = "top" if "top" in settings.anchor else "bottom" if "bottom" in settings.anchor else ""
    left = {"left": margin, "right": wide - margin - block[0]}.get(across, (wide - block[0]) // 2)
    top = {"top": margin, "bottom": high - margin - block[1]}.get(up, (high - block[1]) // 2)
    left += x_from + round(settings.right * zoom)
    top += y_from + round(settings.down * zoom)
    placed: list[tuple[Run, int, int]] = []
    reach = [math.inf, math.inf, -math.inf, -math.inf]
    for n, (parts, width) in enumerate(pieces):
        slack = block[0] - width
        shift = {"left": 0.0, "right": slack}.get(settings.align or across, slack / 2)
        for part in parts:
            # On whole pixels: upright strokes stay as crisp as the font draws them.
            at = (round(left + shift + part.left), top + n * step)
            placed.append((part, *at))
            if part.text.strip():
                x0, y0, x1, y1 = part.reach()
                ends = at[0] + x0, at[1] + y0, at[0] + x1, at[1] + y1
                reach = [*map(min, reach[:2], ends[:2]), *map(max, reach[2:], ends[2:])]
    said = " / ".join(line.strip() for line in lines if line.strip())
    words = Lettering(_NOWHERE, None, said, made_by=settings)
    if settings.angle:
        middle = left + block[0] / 2, top + block[1] / 2
        return _turned(placed, reach, size, crisp, words, middle, area)
    beyond = (
        x_from - reach[0],
        y_from - reach[1],
        reach[2] - x_from - wide,
        reach[3] - y_from - high,
    )
    over = tuple(edge for edge, by in zip(_EDGES, beyond, strict=True) if by > 0)
    return _drawn_on(placed, reach, size, crisp, replace(words, cut=over))


def _turned(
    placed: list[tuple[Run, int, int]],
    reach: list[float],
    size: tuple[int, int],
    crisp: bool,
    words: Lettering,
    middle: tuple[float, float],
    area: Area | None,
) -> Lettering:
    """Words turned about the middle of their block, with their coverage in a picture of this size."""
    if not all(map(math.isfinite, reach)):
        return replace(words, share=np.zeros((0, 0), np.float32))
    left, top = math.floor(reach[0]) - 1, math.floor(reach[1]) - 1
    wide, high = math.ceil(reach[2]) + 1 - left, math.ceil(reach[3]) + 1 - top
    if wide * high > _MUCH:
        raise FinishError(say("It is too large to be turned."))
    whole = [(part, x - left, y - top) for part, x, y in placed]
    flat = _drawn_on(whole, [0, 0, wide, high], (wide, high), crisp, replace(words, cut=()))
    if flat.share is None or not flat.share.size:
        return flat
    x, y, w, h = flat.box
    angle = math.radians(words.made_by.angle if words.made_by is not None else 0.0)
    c, s = math.cos(angle), math.sin(angle)
    corners = [(left + x + a * w, top + y + b * h) for a in (0, 1) for b in (0, 1)]
    spun = [
        (
            middle[0] + c * (px - middle[0]) - s * (py - middle[1]),
            middle[1] + s * (px - middle[0]) + c * (py - middle[1]),
        )
        for px, py in corners
    ]
    x0, y0 = (max(0, math.floor(min(p[i] for p in spun)) - 1) for i in (0, 1))
    x1, y1 = (min(size[i], math.ceil(max(p[i] for p in spun)) + 1) for i in (0, 1))
    x_from, y_from, across, up = area or (0, 0, *size)
    if x1 <= x0 or y1 <= y0:
        return replace(words, share=np.zeros((0, 0), np.float32), cut=_EDGES)
    # From a pixel of the letters as they are drawn to one of the picture's part, both by their centres.
    ox, oy = left + x + 0.5 - middle[0], top + y + 0.5 - middle[1]
    matrix = np.array(
        [
            [c, -s, middle[0] + c * ox - s * oy - 0.5 - x0],
            [s, c, middle[1] + s * ox + c * oy - 0.5 - y0],
        ]
    )
    way = cv2.INTER_NEAREST if crisp else cv2.INTER_LINEAR
    share: Any = cv2.warpAffine(flat.share, matrix, (x1 - x0, y1 - y0), flags=way)
    ink = _turned_ink(flat.share, matrix) + np.array([x0, y0])
    low, far = (ink.min(0), ink.max(0)) if len(ink) else (np.zeros(2), np.zeros(2))
    beyond = x_from - low[0], y_from - low[1], far[0] - x_from - across, far[1] - y_from - up
    over = tuple(edge for edge, by in zip(_EDGES, beyond, strict=True) if by > _ROUNDING)
    rows, columns = np.flatnonzero(share.any(1)), np.flatnonzero(share.any(0))
    if not rows.size:
        return replace(words, share=np.zeros((0, 0), np.float32), cut=over or _EDGES)
    a, b, d, e = columns[0], columns[-1] + 1, rows[0], rows[-1] + 1
    box = (x0 + int(a), y0 + int(d), int(b - a), int(e - d))
    made = share[d:e, a:b].copy()
    return replace(words, box=box, share=made, cut=over, upright=flat.share)


def _turned_ink(share: Any, matrix: Any) -> Any:
    """Where the middles of the letters' own pixels come to lie, shape (n, 2): x and y of their outer edge in pixels."""
    y, x = np.nonzero(share > 0.5)
    return np.stack([x, y], 1) @ matrix[:, :2].T + matrix[:, 2] + 0.5


_NOWHERE = (0, 0, 0, 0)
_ROUNDING = 0.75
"""Pixels by which the middles of turned letters' pixels may lie beyond an edge before they count as cut."""


def _drawn_on(
    placed: list[tuple[Run, int, int]],
    reach: list[float],
    size: tuple[int, int],
    crisp: bool,
    words: Lettering,
) -> Lettering:
    """Words with their coverage, drawn on as much of a picture as they reach."""
    left, top = (max(0, math.floor(v) - 1) for v in reach[:2])
    right, bottom = (min(most, math.ceil(v) + 1) for v, most in zip(reach[2:], size, strict=True))
    none = replace(words, share=np.zeros((0, 0), np.float32), cut=words.cut or _EDGES)
    if right <= left or bottom <= top:
        return none
    sheet = Image.new("1" if crisp else "L", (right - left, bottom - top), 0)
    for part, x, y in placed:
        for text, across in _seen(part, x, left, right):
            part.draw(sheet, text, (across - left, y - top))
    share = np.asarray(sheet.convert("L"), np.float32) / np.float32(255)
    rows, columns = np.flatnonzero(share.any(1)), np.flatnonzero(share.any(0))
    if not rows.size:
        return none
    x0, x1, y0, y1 = columns[0], columns[-1] + 1, rows[0], rows[-1] + 1
    box = (left + int(x0), top + int(y0), int(x1 - x0), int(y1 - y0))
    return replace(words, box=box, share=share[y0:y1, x0:x1].copy())


def _seen(run: Run, x: int, left: int, right: int) -> list[tuple[str, int]]:
    """What is drawn of a run and where: all of it, or of one that reaches far beyond the picture only the letters that
    can be seen, since all of them are drawn at once before any is cut off."""
    x0, y0, x1, y1 = run.reach()
    if (x1 - x0) * (y1 - y0) < _MUCH:
        return [(run.text, x)]
    found, at = [], float(x)
    for letter in run.text:
        wide = run.length(letter)
        if at + 2 * wide >= left and at - wide <= right:
            found.append((letter, round(at)))
        at += wide
    return found


_MUCH = 50_000_000
"""Pixels of a run of letters beyond which they are drawn one by one."""
_LEAST_SIZE = 4
_TRACE = 0.002
"""Share of the letters that may lie outside a panel before they count as cut: the rims of their rounding."""
_EDGES = ("left", "top", "right", "bottom")


def panel_of(settings: Caption, template: Template | None) -> Panel | None:
    """The panel that a caption stands in; ``None`` where it stands in the picture."""
    panels = template.panels if template is not None and settings.panel else ()
    return next((panel for panel in panels if panel.name == settings.panel), None)


def fitting_size(
    settings: Caption, size: tuple[int, int], template: Template | None = None
) -> float | None:
    """The largest size of the font, in whole or half pixels, at which all of a caption stands in a picture, or in its
    panel; ``None`` where none does."""
    panel = panel_of(settings, template)
    area = bounds(panel.outline, size) if panel is not None else None
    held = inside(panel.outline, size) if panel is not None else None

    def stands(half: int) -> bool:
        wish = settings.model_copy(update={"size": half / 2})
        found = letters(wish, size, 1.0, False, area)
        if found is None or found.cut or found.share is None:
            return False
        return held is None or not _clipped(found, held).cut

    low, high = _LEAST_SIZE * 2, int(max(size)) * 2
    if not stands(low):
        return None
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if stands(middle) else (low, middle)
    return low / 2


def _clipped(found: Lettering, held: Any) -> Lettering:
    """Letters cut off where a panel (shape (h, w), True inside) ends."""
    if found.share is None or not found.share.size:
        return found
    left, top, wide, high = found.box
    part = held[top : top + high, left : left + wide]
    lost = float(found.share[~part].sum())
    cut = (*found.cut, "panel") if lost > _TRACE * float(found.share.sum()) else found.cut
    return replace(found, share=np.where(part, found.share, 0).astype(np.float32), cut=cut)


def draw(picture: Picture, settings: Captions, place: Canvas) -> Picture:
    """Write each caption into its band, one over another."""
    for n, one in enumerate(settings.each(), start=1):
        picture = _drawn(picture, one, n, place)
    return picture


def _drawn(picture: Picture, settings: Caption, number: int, place: Canvas) -> Picture:
    dots = picture.bits == 1
    panel = panel_of(settings, place.template)
    held, area = None, None
    if panel is not None and place.template is not None:
        zoom = picture.size[0] / place.template.size[0]
        held = inside(panel.outline, picture.size, zoom)
        area = bounds([(x * zoom, y * zoom) for x, y in panel.outline], picture.size)
    found = letters(settings, picture.size, place.zoom, dots, area)
    if found is None:
        return picture
    found = replace(found, number=number)
    if held is not None:
        found = _clipped(found, held)
    if found.cut and place.zoom == 1:
        found = replace(found, fits=fitting_size(settings, picture.size, place.template))
    if found.share is None or not found.share.size:  # no letter stands in the picture
        return replace(picture, lettering=(*picture.lettering, found))
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
        if held is not None:
            under = under * held
        pixels = _laid(replace(picture, pixels=pixels), settings.behind_colour, under * strength)
    pixels = _laid(replace(picture, pixels=pixels), settings.colour, share)
    return replace(picture, pixels=pixels, lettering=(*picture.lettering, found))


def _laid(picture: Picture, colour: str, share: Any) -> Any:
    numbers = picture.numbers(colour)
    if picture.bits == 1:
        numbers = np.array([255 if float(np.mean(numbers)) >= 128 else 0], np.uint8)
    return laid_over(picture, numbers, share)


def _says(settings: Captions, given: Given) -> str:
    texts = [
        say("“{text}”", text=" / ".join(line.strip() for line in one.text.split("\n")))
        for one in settings.each()
        if one.text.strip()
    ]
    if len(texts) == 1:
        return say("Caption: {text}.", text=texts[0])
    return say("Captions: {all}.", all=semicolons(texts))


FINISH = Finish(
    "caption",
    say("Caption"),
    Captions,
    lambda settings: "caption",
    lambda settings, given: any(one.text.strip() for one in settings.each()),
    draw,
    _says,
    after_dots=True,
)
