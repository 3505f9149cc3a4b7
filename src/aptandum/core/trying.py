"""Files that are made to be looked at: what only a finished file can tell of a mend is told by making it."""

from __future__ import annotations

from collections.abc import Callable

from aptandum.core.file.make import make
from aptandum.core.fitting.plan import Line
from aptandum.core.fitting.record import laid
from aptandum.core.fitting.render import render
from aptandum.core.judge.pixel_statistics import PixelStatistics
from aptandum.core.judge.reading import inside_of, pixels_of
from aptandum.core.mending import Makes
from aptandum.core.photo.apart import credit_of, facts_of_bytes
from aptandum.core.photo.backdrop import Mask
from aptandum.core.photo.decode import Photo
from aptandum.core.photo.picture import Picture


def makes_of(
    photo: Photo,
    see_mask: Callable[[], Mask] | None,
    line: Line | None = None,
    picture: Picture | None = None,
) -> Makes:
    """Makes the file of a line, to be looked at and weighed.

    Several mends often come to the same file, or to the same picture in another one: what was made last is held.

    Args:
        line, picture: a line that was made already, and its picture.
    """
    pictures: list[tuple[object, Picture]] = []
    files: list[tuple[Line, tuple[PixelStatistics, int]]] = []
    if line is not None and picture is not None:
        pictures.append((_pictured(line), picture))

    def made_of(line: Line) -> tuple[PixelStatistics, int]:
        held = next((one for other, one in files if other == line), None)
        if held is not None:
            return held
        key = _pictured(line)
        picture = next((one for other, one in pictures if other == key), None)
        if picture is None:
            picture = render(photo, line, see_mask=see_mask)
            pictures[:] = [(key, picture), *pictures[:1]]
        told = laid(photo.facts, line, picture, see_mask, inside_of(photo))
        data = make(picture, line.file, credit_of(photo.read())).data
        read = pixels_of(data, facts_of_bytes(data, line.file.name))
        look = PixelStatistics(read, told.see_cover, told.rim, told.lettering)
        files[:] = [(line, (look, len(data))), *files[:2]]
        return look, len(data)

    return made_of


def _pictured(line: Line) -> tuple[object, ...]:
    """All of a line that its picture is made from."""
    return line.source, line.frame, line.colour, line.finish
