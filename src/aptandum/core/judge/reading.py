"""A reading: what the measures look at, whatever it was made from.

There are three makers: a supplied file, a live fitting, and a finished file's bytes. Each
gives the same facts; what must be computed from pixels is computed when first asked for,
once.
"""

from __future__ import annotations

import datetime
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal

from aptandum.core.brief.model import Turn, turn_of
from aptandum.core.frozen import frozen
from aptandum.core.judge.pixel_statistics import NoPixels, PixelStatistics
from aptandum.core.judge.zones import Kept, kept_of
from aptandum.core.later import np
from aptandum.core.photo import apart
from aptandum.core.photo.apart import facts_of_bytes
from aptandum.core.photo.backdrop import Cover
from aptandum.core.photo.decode import Photo, opaque
from aptandum.core.photo.facts import Facts
from aptandum.core.photo.inside import Inside, OfFile
from aptandum.core.photo.marks import Marks, NoMarks, People, Top
from aptandum.core.photo.picture import Lettering, Picture, Rim
from aptandum.core.photo.profile import shipped
from aptandum.core.photo.turning import swung
from aptandum.core.words import say

Placed = tuple[float, float, float, float]
Origin = Literal["supplied", "live", "finished"]


@dataclass(frozen=True, eq=False)
class Additions:
    """What was laid on a picture on its way into a file.

    Attributes:
        done: the alterations, by their words in a rulebook.
        rim, lettering: as of :class:`aptandum.core.photo.picture.Picture`.
        see_cover: how much of each pixel stands before the backdrop.
        see_supplied: looks into the supplied photo's file.
        kept: the look at the file's pixels, once one has been taken.
    """

    done: tuple[str, ...] = ()
    rim: Rim | None = None
    lettering: tuple[Lettering, ...] = ()
    see_cover: Callable[[tuple[int, int]], Cover] | None = None
    see_supplied: Callable[[], Inside] | None = None
    kept: list[PixelStatistics] = field(default_factory=list)


@frozen
class Reading:
    """One picture, ready to be measured.

    Attributes:
        origin: which maker it came from; only ``finished`` may say that a file is ready.
        facts: as of a file.
        enlargement: output over photo pixels; ``None`` where it cannot be known (a supplied
            file has not been scaled, so 1).
        estimated: names of facts that are not known before encoding (``bytes``).
        source: width and height of the supplied photo as shown, where they are known.
        see_people: finds the people of the supplied photo, in its own pixels; ``None`` where
            nobody has been looked for.
        placed: left and top of the frame in photo pixels, output over photo pixels, and the
            degrees by which the photo is straightened before it is framed.
        see_opaque: tells whether every pixel is opaque; called at most once.
        see_look: gives the picture's pixels; whoever makes the reading keeps what it gives.
        done: the alterations that were made, by their words in a rulebook.
        crown: what counts as the top of the head, as the brief has it.
        picture: tells this picture from others, for what a person says of it; empty where that is
            not known.
    """

    origin: Origin
    facts: Facts
    enlargement: float | None = 1.0
    estimated: frozenset[str] = frozenset()
    source: tuple[int, int] | None = None
    see_people: Callable[[], People] | None = field(default=None, repr=False, compare=False)
    placed: Placed = (0.0, 0.0, 1.0, 0.0)
    see_opaque: Callable[[], bool] = field(default=lambda: True, repr=False, compare=False)
    see_look: Callable[[], PixelStatistics] | None = field(default=None, repr=False, compare=False)
    done: tuple[str, ...] = ()
    picture: str = ""
    crown: Top = "hair"
    see_inside: Callable[[], Inside] | None = field(default=None, repr=False, compare=False)
    see_supplied: Callable[[], Inside] | None = field(default=None, repr=False, compare=False)
    today: datetime.date = field(default_factory=datetime.date.today, compare=False)

    def inside(self) -> Inside:
        """What the file holds beside its header.

        Raises:
            NoPixels: it is not at hand.
        """
        if self.see_inside is None:
            raise NoPixels(say("The file has not been looked into yet."))
        return self.see_inside()

    def supplied_inside(self) -> Inside | None:
        """The same of the supplied photo; ``None`` where the reading is of that one itself, or where it
        is not at hand."""
        return None if self.see_supplied is None else self.see_supplied()

    def look(self) -> PixelStatistics:
        """The picture's pixels.

        Raises:
            NoPixels: they are not at hand.
        """
        if self.see_look is None:
            raise NoPixels(say("The picture's pixels have not been looked at yet."))
        return self.see_look()

    @cached_property
    def transparent(self) -> bool:
        """Whether any pixel can be seen through."""
        return bool(self.facts.alpha) and not self.see_opaque()

    def photo_people(self) -> People:
        """The people of the supplied photo, in its own pixels.

        Raises:
            NoMarks: nobody has been looked for.
        """
        if self.see_people is None:
            raise NoMarks(say("People have not been looked for in this picture yet."))
        return self.see_people()

    def people(self) -> int:
        """How many faces lie in the picture, by the middle between their eyes.

        Raises:
            NoMarks: nobody has been looked for, or somebody seems to be there whose face is not seen.
        """
        if self.photo_people().hidden:
            raise NoMarks(
                say(
                    "Somebody seems to be in the picture whose face cannot be seen: how many people it shows is for "
                    "you to say."
                )
            )
        return len(self._in_frame(self.photo_people()))

    def _in_frame(self, people: People) -> list[int]:
        """Which of a photo's faces lie in the picture, by the middle between their eyes."""
        left, top, scale, angle = self.placed
        wide, high = self.facts.size
        inside = []
        for n, face in enumerate(people.faces):
            (ax, ay), (bx, by) = face.eyes
            x, y = swung(((ax + bx) / 2, (ay + by) / 2), angle, self.whole)
            x, y = (x - left) * scale, (y - top) * scale
            if 0 <= x <= wide and 0 <= y <= high:
                inside.append(n)
        return inside

    def _meant(self) -> People:
        """The photo's people; where nobody has said which of several faces is meant and only one lies in the picture, it
        is that one."""
        people = self.photo_people()
        if people.hand.face is None and people.count > 1:
            inside = self._in_frame(people)
            if len(inside) == 1:
                chosen = people.hand.model_copy(update={"face": inside[0]})
                return replace(people, hand=chosen)
        return people

    def marks(self) -> Marks:
        """The marks of the one head, in the picture's pixels.

        Raises:
            NoMarks: there are none, or it is not clear whose.
        """
        left, top, scale, _angle = self.placed
        return self.straight_marks().placed(left, top, scale)

    @property
    def whole(self) -> tuple[int, int]:
        """Width and height of the supplied photo as shown."""
        return self.source or self.facts.size

    def straight_marks(self) -> Marks:
        """The marks of the one head in the pixels of the straightened photo.

        Raises:
            NoMarks: there are none, or it is not clear whose.
        """
        return self._meant().marks().topped(self.crown).swung(self.placed[3], self.whole)

    @property
    def frame_box(self) -> tuple[float, float, float, float]:
        """The frame in photo pixels: left, top, width, height."""
        left, top, scale, _angle = self.placed
        wide, high = self.facts.size
        return left, top, wide / scale, high / scale

    def kept(self) -> tuple[Kept, ...]:
        """What must stay clear, in photo pixels: boxes drawn by hand, heads, and the
        subject where it is a thing.

        Raises:
            NoMarks: nobody has been looked for, and nothing was drawn.
        """
        return kept_of(self.photo_people(), self.placed[3], self.whole)

    @property
    def turn(self) -> Turn:
        return turn_of(*self.facts.size)


def of_supplied(
    photo: Photo,
    see_people: Callable[[], People] | None = None,
    see_look: Callable[[], PixelStatistics] | None = None,
    see_opaque: Callable[[], bool] | None = None,
) -> Reading:
    """The supplied file as it is."""
    return Reading(
        "supplied",
        photo.facts,
        source=photo.facts.size,
        see_people=see_people,
        see_opaque=see_opaque or (lambda: opaque(photo.read(), photo.facts)),
        see_look=see_look,
        see_inside=inside_of(photo),
    )


def inside_of(photo: Photo) -> Callable[[], Inside]:
    """Looks into a photo's file when first asked, and once."""
    kept: list[Inside] = []

    def see() -> Inside:
        if not kept:
            kept.append(OfFile(photo.read, photo.facts))
        return kept[0]

    return see


def of_finished(
    data: bytes,
    name: str,
    enlargement: float | None,
    source: tuple[int, int] | None = None,
    see_people: Callable[[], People] | None = None,
    placed: Placed = (0.0, 0.0, 1.0, 0.0),
    laid: Additions | None = None,
    picture: str = "",
) -> Reading:
    """A finished file, read back from its bytes by the second reader (Pillow), which had no
    part in making it. ``enlargement``, the photo's own size (``source``) and what was laid on
    (``laid``) are handed on, as no file can tell them, and so is which ``picture`` it is."""
    facts = facts_of_bytes(data, name)
    on = laid or Additions()
    inside = OfFile(lambda: data, facts)

    def look() -> PixelStatistics:
        if not on.kept:
            on.kept.append(
                PixelStatistics(pixels_of(data, facts), on.see_cover, on.rim, on.lettering)
            )
        return on.kept[0]

    def see() -> bool:
        return apart.second_opaque(data, facts)

    return Reading(
        "finished",
        facts,
        enlargement,
        source=source,
        see_people=see_people,
        placed=placed,
        see_opaque=see,
        see_look=look,
        done=on.done,
        picture=picture,
        see_inside=lambda: inside,
        see_supplied=on.see_supplied,
    )


def pixels_of(data: bytes, facts: Facts) -> Picture:
    """A finished file's pixels by the second reader (Pillow), or, where that would cut 16 bit
    down to 8, by libvips."""
    icc = facts.icc_bytes
    grey = facts.mode in ("grey", "mono")
    known = facts.profile
    usable = known is not None and known.broken is None and known.channels == (1 if grey else 3)
    if not usable:
        icc = shipped("grey" if grey else "srgb")
    pixels = apart.second(data, facts)
    return Picture(
        pixels, icc, bool(facts.alpha), 16 if pixels.dtype == np.uint16 else facts.bits or 8
    )
