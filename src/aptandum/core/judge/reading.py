"""A reading: what the measures look at, whatever it was made from.

There are three makers: a supplied file, a live fitting, and a finished file's bytes. Each
gives the same facts; what must be computed from pixels is computed when first asked for,
once.
"""

from __future__ import annotations

import io
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

from PIL import Image

from aptandum.core.judge.zones import Kept
from aptandum.core.photo.decode import Photo, opaque
from aptandum.core.photo.facts import Facts, facts_of_bytes
from aptandum.core.photo.marks import Marks, NoMarks, People, head_box
from aptandum.core.photo.turning import swung, swung_box
from aptandum.core.rulebook.model import Turn, turn_of
from aptandum.core.words import say

Placed = tuple[float, float, float, float]
Origin = Literal["supplied", "live", "finished"]


@dataclass(frozen=True)
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
    """

    origin: Origin
    facts: Facts
    enlargement: float | None = 1.0
    estimated: frozenset[str] = frozenset()
    source: tuple[int, int] | None = None
    see_people: Callable[[], People] | None = field(default=None, repr=False, compare=False)
    placed: Placed = (0.0, 0.0, 1.0, 0.0)
    see_opaque: Callable[[], bool] = field(default=lambda: True, repr=False, compare=False)

    @cached_property
    def transparent(self) -> bool:
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
        """How many faces lie in the picture, by the middle between their eyes."""
        left, top, scale, angle = self.placed
        wide, high = self.facts.size
        inside = 0
        for face in self.photo_people().faces:
            (ax, ay), (bx, by) = face.eyes
            x, y = swung(((ax + bx) / 2, (ay + by) / 2), angle, self.whole)
            x, y = (x - left) * scale, (y - top) * scale
            inside += 0 <= x <= wide and 0 <= y <= high
        return inside

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
        return self.photo_people().marks().swung(self.placed[3], self.whole)

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
        people = self.photo_people()
        drawn = [
            Kept(say("box {n}", n=n), box) for n, box in enumerate(people.hand.keep_clear, start=1)
        ]
        heads = [Kept(say("the face"), head_box(face)) for face in people.faces]
        thing = [] if people.subject is None else [Kept(say("the subject"), people.subject)]
        angle = self.placed[3]
        return tuple(
            Kept(one.name, swung_box(one.box, angle, self.whole))
            for one in (*drawn, *heads, *thing)
        )

    @property
    def turn(self) -> Turn:
        return turn_of(*self.facts.size)


def of_supplied(photo: Photo, see_people: Callable[[], People] | None = None) -> Reading:
    """The supplied file as it is."""
    return Reading(
        "supplied",
        photo.facts,
        source=photo.facts.size,
        see_people=see_people,
        see_opaque=lambda: opaque(photo.read(), photo.facts),
    )


def of_finished(
    data: bytes,
    name: str,
    enlargement: float | None,
    source: tuple[int, int] | None = None,
    see_people: Callable[[], People] | None = None,
    placed: Placed = (0.0, 0.0, 1.0, 0.0),
) -> Reading:
    """A finished file, read back from its bytes by the second reader (Pillow), which had no
    part in making it. ``enlargement`` and the photo's own
    size (``source``) are handed on, as no file can tell them."""
    facts = facts_of_bytes(data, name)

    def see() -> bool:
        with Image.open(io.BytesIO(data)) as picture:
            return picture.convert("RGBA").getchannel("A").getextrema()[0] == 255

    return Reading(
        "finished",
        facts,
        enlargement,
        source=source,
        see_people=see_people,
        placed=placed,
        see_opaque=see,
    )
