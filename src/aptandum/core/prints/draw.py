"""A sheet of prints as a file: a PDF whose pictures keep their own pixels, or one picture at the paper's ppi."""

from __future__ import annotations

import io
import math
from collections.abc import Sequence

from aptandum.core.brief.model import Brief
from aptandum.core.errors import AptandumError
from aptandum.core.figures import grouped, show_number
from aptandum.core.fitting.colouring import coloured
from aptandum.core.fitting.plan import ColourStation, Window
from aptandum.core.fitting.resample import resampled
from aptandum.core.frozen import frozen
from aptandum.core.later import Image, ImageDraw, np
from aptandum.core.photo import profile
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.engine import Pixels
from aptandum.core.photo.facts import PhotoError
from aptandum.core.prints.layout import CHECK, Print, Sheet, cut_marks
from aptandum.core.prints.paper import INCH
from aptandum.core.sizes.binds import SCALE
from aptandum.core.words import say

FORMATS = {".pdf": "pdf", ".jpg": "jpeg", ".jpeg": "jpeg", ".tif": "tiff", ".tiff": "tiff"}
"""What a sheet is written as, by the ending of its name."""

_QUALITY = 97
_LINE = 0.1
"""Millimetres that a mark is wide."""
_MOST_PIXELS = 400_000_000
_ENLARGED = 1.001


class NoPrint(AptandumError, ValueError):
    """A sheet that cannot be made; the message is a sentence with the cause."""


@frozen
class Pictured:
    """A picture to be printed.

    Attributes:
        path: its file.
        size: width and height in pixels as shown.
        ppi: that its file states; ``None``: none.
        enlarge: the most that it may be enlarged by its rules; ``None``: nothing is said.
    """

    path: str
    size: tuple[int, int]
    ppi: float | None
    enlarge: float | None = None

    @property
    def own(self) -> tuple[float, float] | None:
        """Width and height in millimetres as its file states them."""
        if not self.ppi:
            return None
        return self.size[0] / self.ppi * INCH, self.size[1] / self.ppi * INCH


def pictured(path: str, enlarge: float | None = None) -> Pictured:
    """A picture's size and ppi, from its header.

    Raises:
        PhotoError: it cannot be read.
    """
    facts = open_photo(path).facts
    if facts.error:
        raise PhotoError(facts.error)
    return Pictured(path, facts.size, facts.ppi_x, enlarge)


def most_enlarged(brief: Brief) -> float | None:
    """The most that a brief lets a picture be enlarged; ``None``: it says nothing of it."""
    limit = brief.bound(SCALE)
    return None if limit is None or limit.at_most is None else float(limit.at_most)


def _pixels(picture: Pictured, size: tuple[int, int]) -> Image.Image:
    """A picture as shown at a size, in sRGB of 8 bit, on white where it is clear; its own pixels at its own size."""
    photo = open_photo(picture.path)
    facts = photo.facts
    box = Window(0.0, 0.0, float(facts.size[0]), float(facts.size[1]))
    pixels, embedded = resampled(photo, box, size, size == facts.size, None, light=True)
    station = ColourStation(
        facts.taken_as, "srgb", profile.shipped("srgb"), 8, "relative", False, True
    )
    made = coloured(facts, pixels, embedded, station)
    colour: Pixels = made.colour
    if made.alpha:
        share = made.pixels[..., -1:].astype(np.float32) / made.top
        colour = np.rint(colour * share + 255 * (1 - share)).astype(np.uint8)
    if colour.shape[2] == 1:
        colour = np.repeat(colour, 3, 2)
    return Image.fromarray(np.ascontiguousarray(colour))


def _laid(picture: Pictured, one: Print, size: tuple[int, int]) -> Image.Image:
    """A print's pixels at a width and a height on the paper; one that is turned lies on its side."""
    if not one.turned:
        return _pixels(picture, size)
    return _pixels(picture, (size[1], size[0])).transpose(Image.Transpose.ROTATE_90)


def ppi_of(sheet: Sheet, pictures: Sequence[Pictured]) -> float:
    """The ppi at which the finest of a sheet's prints keeps its own pixels."""
    return max(
        (pictures[one.picture].size[0] / (one.high if one.turned else one.wide) * INCH)
        for one in sheet.prints
    )


def drawn(
    sheet: Sheet,
    pictures: Sequence[Pictured],
    kind: str,
    ppi: float | None = None,
    marks: bool = True,
) -> bytes:
    """A sheet as a file.

    Args:
        kind: ``pdf``, ``jpeg`` or ``tiff``.
        ppi: of a picture of the sheet; ``None``: that at which the finest print keeps its own pixels. A PDF keeps
            every picture's own.

    Raises:
        NoPrint: a picture would be enlarged more than its rules allow, or the sheet is too large.
        PhotoError: a picture cannot be read.
    """
    if kind == "pdf":
        return _pdf(sheet, pictures, marks)
    fine = ppi or ppi_of(sheet, pictures)
    size = round(sheet.paper.wide / INCH * fine), round(sheet.paper.high / INCH * fine)
    if size[0] * size[1] > _MOST_PIXELS:
        raise NoPrint(say("At {n} ppi the sheet would be too large.", n=show_number(fine, 0)))
    page = Image.new("RGB", size, "#FFFFFF")
    held: dict[tuple[int, bool, tuple[int, int]], Image.Image] = {}
    for one in sheet.prints:
        x0, y0 = round(one.left / INCH * fine), round(one.top / INCH * fine)
        wide, high = max(1, round(one.wide / INCH * fine)), max(1, round(one.high / INCH * fine))
        key = one.picture, one.turned, (wide, high)
        if key not in held:
            _check(pictures[one.picture], (high, wide) if one.turned else (wide, high))
            held[key] = _laid(pictures[one.picture], one, (wide, high))
        page.paste(held[key], (x0, y0))
    _mark(page, sheet, fine, marks)
    out = io.BytesIO()
    icc = profile.shipped("srgb")
    if kind == "jpeg":
        page.save(out, "JPEG", quality=_QUALITY, subsampling=0, dpi=(fine, fine), icc_profile=icc)
    else:
        page.save(out, "TIFF", compression="tiff_lzw", dpi=(fine, fine), icc_profile=icc)
    return out.getvalue()


def _check(picture: Pictured, size: tuple[int, int]) -> None:
    scale = max(size[0] / picture.size[0], size[1] / picture.size[1])
    if picture.enlarge is not None and scale > picture.enlarge * _ENLARGED:
        raise NoPrint(
            say(
                "{file} has {n} px across and would be enlarged {k} times, which its rules do not allow: choose a "
                "smaller print or fewer pixels per inch.",
                file=picture.path.rsplit("/", 1)[-1],
                n=grouped(picture.size[0]),
                k=show_number(scale, 2),
            )
        )


def _mark(page: Image.Image, sheet: Sheet, ppi: float, marks: bool) -> None:
    """Cut marks, and what the printer is checked by."""
    pen, k = ImageDraw.Draw(page), ppi / INCH
    thick = max(1, round(_LINE * k))
    for x0, y0, x1, y1 in cut_marks(sheet) if marks else ():
        pen.line((x0 * k, y0 * k, x1 * k, y1 * k), fill="#404040", width=thick)
    if sheet.check is None:
        return
    left, top, _wide, _high = sheet.check
    for line in _check_lines(left, top):
        pen.line(tuple(v * k for v in line), fill="#000000", width=thick)


def _check_lines(left: float, top: float) -> list[tuple[float, float, float, float]]:
    """A line of 50 mm with its ends, and a square of 10 mm beside it."""
    y = top + CHECK[1] / 2
    x = left + 53.0
    lines = [(left, y, left + 50, y)]
    lines += [(left + end, y - 1.5, left + end, y + 1.5) for end in (0.0, 50.0)]
    lines += [(x, top, x + 10, top), (x, top + 10, x + 10, top + 10)]
    lines += [(x, top, x, top + 10), (x + 10, top, x + 10, top + 10)]
    return lines


def _pdf(sheet: Sheet, pictures: Sequence[Pictured], marks: bool) -> bytes:
    from reportlab.lib.units import mm
    from reportlab.lib.utils import ImageReader
    from reportlab.pdfgen.canvas import Canvas

    out = io.BytesIO()
    wide, high = sheet.paper.wide * mm, sheet.paper.high * mm
    page = Canvas(out, pagesize=(wide, high), invariant=True)
    page.setTitle(say("Prints"))
    held: dict[tuple[int, bool], ImageReader] = {}
    for one in sheet.prints:
        key = one.picture, one.turned
        if key not in held:
            own = pictures[one.picture].size
            size = (own[1], own[0]) if one.turned else own
            held[key] = ImageReader(_laid(pictures[one.picture], one, size))
        bottom = high - (one.top + one.high) * mm
        page.drawImage(held[key], one.left * mm, bottom, one.wide * mm, one.high * mm)
    page.setLineWidth(_LINE * mm)
    page.setStrokeGray(0.25)
    for x0, y0, x1, y1 in cut_marks(sheet) if marks else ():
        page.line(x0 * mm, high - y0 * mm, x1 * mm, high - y1 * mm)
    if sheet.check is not None:
        page.setStrokeGray(0)
        for x0, y0, x1, y1 in _check_lines(*sheet.check[:2]):
            page.line(x0 * mm, high - y0 * mm, x1 * mm, high - y1 * mm)
    page.showPage()
    page.save()
    return out.getvalue()


def least_size(picture: Pictured, wide: float) -> tuple[float, float]:
    """Width and height in millimetres of a print of a picture so wide, its proportion kept."""
    return wide, wide * picture.size[1] / picture.size[0]


def fineness(picture: Pictured, wide: float) -> float:
    """The pixels per inch that a print of a width in millimetres has."""
    return math.inf if wide <= 0 else picture.size[0] / wide * INCH
