"""A file that gives up as much as it may before it gives up pixels."""

from __future__ import annotations

from dataclasses import replace

from aptandum.core.file.encode import Sample
from aptandum.core.file.make import MOST_COLOURS, Made, make
from aptandum.core.fitting.plan import LOSSY, FileStation
from aptandum.core.photo.metadata_groups import Credit
from aptandum.core.photo.picture import Picture

_LIKELY = 1.15
"""A PNG without a palette that a part foretells to be at most so many times as large as one with it may be the smaller."""

_FAR = 1.3
"""How far over the limit a part must tell that a PNG lies to be believed."""


def fewest(floor: int) -> int:
    """The colours that a palette keeps at least: the same share of 256 as the floor is of 100."""
    return max(2, round(MOST_COLOURS * floor / 100))


def at_floor(file: FileStation, bits: int) -> FileStation:
    """How a file is written that gives up as much as it may before it gives up pixels. A picture of other than 8 bits a
    channel has no palette: what has to be deep stays so."""
    if file.lossless:
        return file
    if file.format in LOSSY:
        return replace(file, quality=file.quality or file.floor)
    if may_have_fewer(file, bits):
        return replace(file, colours=colours_at_floor(file))
    return file


def may_have_fewer(file: FileStation, bits: int) -> bool:
    holds = file.format == "gif" or (file.format == "png" and bits == 8)
    return holds and file.colours is None


def colours_at_floor(file: FileStation) -> int:
    """The colours that a palette keeps at least, or as many as a rule allows."""
    return min(fewest(file.floor), file.most_colours or MOST_COLOURS)


def hopeless_as_it_is(picture: Picture, file: FileStation, credit: Credit) -> bool:
    """Whether a PNG that may have fewer colours is told by a part to be far over its limit with all of them."""
    if file.at_most is None or not may_have_fewer(file, picture.depth):
        return False
    return _foretold_whole(picture, file, credit) > _FAR * file.at_most


def _foretold_whole(picture: Picture, file: FileStation, credit: Credit) -> float:
    """About the bytes of a file that gives up nothing."""
    whole = replace(file, at_most=None, at_least=None)
    sample = Sample.of(picture)
    if sample is None:
        return len(make(picture, whole, credit, told=False).data)
    return sample.whole(len(make(sample.part, whole, credit, told=False).data))


def made_at_floor(picture: Picture, file: FileStation, credit: Credit) -> Made:
    """A picture's file that gives up all it may. Greys, and colours that pass into one another, are often fewer bytes in a
    PNG that gives up nothing: it is the file then."""
    made = make(picture, at_floor(file, picture.depth), credit, told=False)
    if file.format != "png" or made.colours is None or file.colours or file.most_colours:
        return made
    if _foretold_whole(picture, file, credit) > _LIKELY * len(made.data):
        return made
    plain = make(picture, replace(file, at_most=None, at_least=None), credit, told=False)
    return plain if len(plain.data) <= len(made.data) else made
