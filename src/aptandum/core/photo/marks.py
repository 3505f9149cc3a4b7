"""Marks: the points of a head that the measures of a person need.

They belong to the photo, in its pixels as shown, and serve all of its fittings. What a person
has set by hand stands, whatever is found.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING, Literal

from pydantic import BaseModel, ConfigDict

from aptandum.core.errors import AptandumError
from aptandum.core.frozen import frozen
from aptandum.core.photo.backdrop import Stroke
from aptandum.core.photo.turning import swung
from aptandum.core.words import say

if TYPE_CHECKING:
    from aptandum.core.photo.people import Face

Point = tuple[float, float]
Name = Literal["crown", "chin", "left_eye", "right_eye", "skull"]
NAMES: tuple[Name, ...] = ("crown", "chin", "left_eye", "right_eye")
"""Those that every head has; left and right are those of the picture, not of the person."""
Top = Literal["hair", "skull"]
"""What counts as the top of a head: a body says it (:attr:`aptandum.core.brief.model.Brief.crown`)."""


class NoMarks(AptandumError):
    """There are no marks to measure by; the message says why."""


class HandMarks(BaseModel):
    """What a person has set: points, which of several faces is meant, and boxes (left, top,
    width, height): those that nothing may cover, and the subject's; and the strokes of the brush
    that correct the mask of what stands before the backdrop."""

    model_config = ConfigDict(frozen=True, extra="forbid", defer_build=True)

    crown: Point | None = None
    chin: Point | None = None
    left_eye: Point | None = None
    right_eye: Point | None = None
    skull: Point | None = None
    face: int | None = None
    keep_clear: tuple[tuple[float, float, float, float], ...] = ()
    subject: tuple[float, float, float, float] | None = None
    strokes: tuple[Stroke, ...] = ()

    @property
    def moved(self) -> tuple[Name, ...]:
        return tuple(name for name in NAMES if getattr(self, name) is not None)


NO_HAND = HandMarks.model_construct()
"""Nothing set by hand; made without the checks, which are built when there is something to check."""


@frozen
class Marks:
    """The marks of one head.

    Attributes:
        turn: yaw in degrees; ``None`` where no face was found to tell it.
        confidence: 0..1 of the face found; 1 where all was set by hand.
        hand: the names of those that a person has set.
        found: the names of those that were found, and may be off by as much as such marks are.
        nod: pitch in degrees, down above zero; ``None``: not told.
        skull: top of the skull, without the hair; ``None``: not told.
        sides: the widest points of the face before the ears; ``None``: not told.
        cut: the ends of the head that the photo's edge cuts off, and that no hand has set: ``crown``, ``chin``,
            ``side``.
        doubted: ``eyes``, where two ways of finding them tell them differently; ``skull``, where it is asked for and
            nothing tells it.
        top: what ``crown`` is the top of.
        hair: where ``top`` is the skull, the top of the hair over it.
        bare_eyes: nothing is seen before the eyes, so that they are told more exactly.
    """

    crown: Point
    chin: Point
    left_eye: Point
    right_eye: Point
    turn: float | None = None
    confidence: float = 1.0
    hand: tuple[Name, ...] = ()
    found: tuple[Name, ...] = ()
    nod: float | None = None
    skull: Point | None = None
    sides: tuple[Point, Point] | None = None
    cut: tuple[str, ...] = ()
    doubted: tuple[str, ...] = ()
    top: Top = "hair"
    hair: Point | None = None
    bare_eyes: bool = False

    def topped(self, top: Top) -> Marks:
        """The same head, measured to the top of its skull where that is asked for."""
        if top == self.top or top == "hair":
            return self
        if self.skull is None:
            return replace(self, doubted=(*self.doubted, "skull"), top=top, hair=self.crown)
        found = tuple(name for name in self.found if name != "crown")
        told = self.cut
        if "skull" in self.hand:
            told = tuple(end for end in told if end != "crown")
        return replace(self, crown=self.skull, found=found, cut=told, top=top, hair=self.crown)

    @property
    def handles(self) -> tuple[Name, ...]:
        """The marks that can be moved: those that the head is measured by."""
        if self.top == "hair" or self.skull is None:
            return NAMES
        return tuple("skull" if name == "crown" else name for name in NAMES)

    @property
    def whole(self) -> bool:
        """Whether both ends of the head are inside the photo."""
        return not {"crown", "chin"} & set(self.cut)

    @property
    def eyes(self) -> Point:
        """The middle between the two eye centres."""
        (ax, ay), (bx, by) = self.left_eye, self.right_eye
        return (ax + bx) / 2, (ay + by) / 2

    @property
    def height(self) -> float:
        """Crown to chin."""
        return math.dist(self.crown, self.chin)

    @property
    def tilt(self) -> float:
        """Roll in degrees; positive where the head leans to the right of the picture."""
        (ax, ay), (bx, by) = self.left_eye, self.right_eye
        return math.degrees(math.atan2(by - ay, bx - ax))

    def swung(self, angle: float, size: tuple[float, float]) -> Marks:
        """The marks on the photo once it is straightened by an angle in degrees."""
        return self._moved(lambda point: swung(point, angle, size))

    def placed(self, left: float, top: float, scale: float) -> Marks:
        """The marks in the pixels of a frame whose corner lies there."""
        return self._moved(lambda point: ((point[0] - left) * scale, (point[1] - top) * scale))

    def _moved(self, to: Callable[[Point], Point]) -> Marks:
        return replace(
            self,
            crown=to(self.crown),
            chin=to(self.chin),
            left_eye=to(self.left_eye),
            right_eye=to(self.right_eye),
            skull=None if self.skull is None else to(self.skull),
            hair=None if self.hair is None else to(self.hair),
            sides=None if self.sides is None else (to(self.sides[0]), to(self.sides[1])),
        )


def head_box(face: Face) -> tuple[float, float, float, float]:
    """A head with its hair: the face's own box, up to the crown and down to the chin."""
    left, top, right, bottom = face.box
    top = min(top, face.crown[1], face.chin[1])
    bottom = max(bottom, face.crown[1], face.chin[1])
    return left, top, right - left, bottom - top


CUT_OFF = say(
    "The photo’s edge cuts off the head, so that the frame is placed by the eyes alone. Set the crown and the chin by "
    "hand, or take a photo with room about the head."
)


@frozen
class People:
    """The faces found in a photo, else the box of the thing that it shows, and what a person
    has set.

    Attributes:
        hidden: no face was found, though somebody seems to be there: turned away, covered, in the dark.
    """

    faces: tuple[Face, ...] = ()
    hand: HandMarks = NO_HAND
    thing: tuple[float, float, float, float] | None = None
    hidden: bool = False

    @property
    def subject(self) -> tuple[float, float, float, float] | None:
        """The box of the thing that is shown: as set by hand, else as found."""
        return self.hand.subject or (None if self.faces else self.thing)

    @property
    def count(self) -> int:
        return len(self.faces)

    def marks(self) -> Marks:
        """The marks of the one head that is meant.

        Raises:
            NoMarks: no face was found, or several and none was chosen, and the marks were not
                all set by hand.
        """
        hand = self.hand
        moved = hand.moved
        if len(moved) == len(NAMES):
            assert hand.crown and hand.chin and hand.left_eye and hand.right_eye
            one = self.faces[0] if len(self.faces) == 1 else None
            skull = hand.skull or (one.skull if one is not None else None)
            return Marks(
                hand.crown,
                hand.chin,
                hand.left_eye,
                hand.right_eye,
                one.turn if one is not None else None,
                1.0,
                (*moved, "skull") if hand.skull is not None else moved,
                ("skull",) if hand.skull is None and skull is not None else (),
                skull=skull,
                bare_eyes=one is not None and one.bare_eyes,
            )
        if not self.faces:
            raise NoMarks(say("No face was found; its marks can be set by hand."))
        at = hand.face if hand.face is not None and hand.face < len(self.faces) else None
        if at is None and len(self.faces) > 1:
            raise NoMarks(
                say(
                    "{n} faces were found in the photo: choose the one that is meant.",
                    n=len(self.faces),
                )
            )
        face = self.faces[at or 0]
        return Marks(
            hand.crown or face.crown,
            hand.chin or face.chin,
            hand.left_eye or face.eyes[0],
            hand.right_eye or face.eyes[1],
            face.turn,
            face.confidence,
            (*moved, "skull") if hand.skull is not None else moved,
            (
                *(name for name in NAMES if name not in moved),
                *(("skull",) if hand.skull is None and face.skull is not None else ()),
            ),
            face.nod,
            hand.skull or face.skull,
            face.sides,
            tuple(end for end in face.cut if end not in moved),
            () if {"left_eye", "right_eye"} <= set(moved) else face.doubted,
            bare_eyes=face.bare_eyes,
        )
