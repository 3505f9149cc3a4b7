"""Where a head stands in the frame: the geometry of ISO/IEC 19794-5."""

from collections.abc import Callable
from typing import Any

from aptandum.core.brief import binding
from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import turn_of
from aptandum.core.figures import grouped, show_angle, show_points
from aptandum.core.judge.head_marks import marks_of
from aptandum.core.judge.marks_off import off
from aptandum.core.judge.measure import NEEDS_MARKS, CannotMeasure, Measure, Mend, Miss, Need
from aptandum.core.judge.placing import Box, bands, frame_from_marks, off_by
from aptandum.core.judge.reading import Reading
from aptandum.core.numbers import Printed
from aptandum.core.photo.marks import Marks, NoMarks
from aptandum.core.photo.turning import held_in_swung
from aptandum.core.quantity import (
    ANGLE,
    COUNT,
    PRINTED_SHARE,
    Kind,
    show_printed_points,
    show_printed_share,
)
from aptandum.core.sizes.conflicts import least_frame
from aptandum.core.sizes.least import Box as Sides
from aptandum.core.sizes.wished import chosen
from aptandum.core.words import listed, say, sentences


def _of(value: Callable[[Marks, float, float], float], *needed: str) -> Callable[[Reading], float]:
    def take(reading: Reading) -> float:
        width, height = reading.facts.size
        return value(marks_of(reading, *needed), float(width), float(height))

    return take


def _off(binds: binding.Bind) -> Callable[[Reading], float]:
    """By how much a share of the frame may be off."""

    def error(reading: Reading) -> float:
        wide, high = reading.facts.size
        return off_by(binds, (0.0, 0.0, float(wide), float(high)), reading.marks())

    return error


def angle_off(name: str) -> Callable[[Reading], float]:
    """By how many degrees an angle may be off."""

    def error(reading: Reading) -> float:
        marks = reading.marks()
        by_hand = not {"left_eye", "right_eye"} & set(marks.found)
        return 0.0 if name == "tilt" and by_hand else off(name, marks)

    return error


def _turn(reading: Reading) -> float:
    turn = marks_of(reading).turn
    if turn is None:
        raise CannotMeasure(say("No face was found to tell how the head is turned."))
    return turn


def _nod(reading: Reading) -> float:
    nod = marks_of(reading).nod
    if nod is None:
        raise CannotMeasure(say("No face was found to tell how the head is held."))
    return nod


def _people(reading: Reading) -> int:
    try:
        return reading.people()
    except NoMarks as error:
        raise CannotMeasure(str(error)) from None


def _mend(miss: Miss) -> Mend | None:
    """The frame that meets all clauses on the head together, or what keeps it from that."""
    reading, photo = miss.reading, miss.reading.source
    if photo is None or reading.see_people is None:
        return None
    size = chosen(miss.brief, Sides.of(*photo))
    if size is None:
        return None
    target = size.target
    marks = reading.straight_marks()
    least = least_frame(miss.brief, target.shape)
    found = frame_from_marks(miss.brief, marks, photo, target.shape, least)
    if found is None:
        return None
    changes = {"frame.window": ", ".join(f"{v:.4f}" for v in found.box)}
    if not found.missed:
        return Mend(say("Frame from marks"), changes)
    edges = listed(
        [
            say("{n} px are missing at the {edge}", n=grouped(round(o.missing)), edge=o.edge)
            for o in found.obstacles
        ]
    )
    words = say("Frame from marks, as near as the photo allows")
    allows = miss.brief.allows
    if edges and (allows is None or "pad" in allows):
        edges = sentences([edges, say("(padding would give them)")])
    return Mend(say("{what}: {edges}", what=words, edges=edges) if edges else words, changes)


_ROOM = 0.05
"""Degrees inside a limit to which a head is straightened, beyond what a mark can be off."""

_TRIES = 12


def _mend_tilt(miss: Miss) -> Mend | None:
    """The least straightening that brings the head inside its limit and leaves room for a frame that
    meets all other clauses on it; where none does, the least there is."""
    reading, photo = miss.reading, miss.reading.source
    if photo is None:
        return None
    now, tilt = reading.placed[3], float(miss.value)
    edge = float(miss.limit.nearest(miss.value))
    room = max(_ROOM, angle_off("tilt")(reading) + _ROOM)
    if miss.limit.at_least is not None and miss.limit.at_most is not None:
        room = min(room, (float(miss.limit.at_most) - float(miss.limit.at_least)) / 2)
    over = tilt > edge if tilt != edge else tilt > 0  # inside the limit, but too near to it to tell
    edge = edge if tilt != edge else _edge(miss, over)
    least = tilt - edge + (room if over else -room) * (not miss.limit.one_of)
    if abs(now - least) > 45:
        return None
    # From the limit's edge to level, and on to its other edge.
    far = tilt if miss.limit.one_of else tilt + (tilt - least) * 0.9
    angles = [least + (far - least) * k / _TRIES for k in range(_TRIES + 1)]
    for angle in angles:
        box, missed = _box_at(miss, photo, now - angle)
        if not missed:
            break
    else:
        angle = least
        box, _missed = _box_at(miss, photo, now - angle)
    changes: dict[str, str | None] = {"frame.angle": f"{now - angle:.2f}"}
    if box is not None:
        changes["frame.window"] = ", ".join(f"{v:.4f}" for v in box)
    return Mend(say("Straighten by {n}", n=show_angle(abs(angle))), changes)


def _edge(miss: Miss, upper: bool) -> float:
    """The end of a limit that a value inside it lies near."""
    end = miss.limit.at_most if upper else miss.limit.at_least
    return float(miss.value if end is None else end)


def _box_at(miss: Miss, photo: tuple[int, int], angle: float) -> tuple[Box | None, bool]:
    """The frame for a straightened photo, and whether a clause on the head is missed by it."""
    found = chosen(miss.brief, Sides.of(*photo))
    if found is None:
        return None, False
    shape = found.target.shape
    if not bands(miss.brief, turn_of(*found.target.size)):
        return None, False
    marks = miss.reading.photo_people().marks().swung(angle, photo)
    placed = frame_from_marks(miss.brief, marks, photo, shape, least_frame(miss.brief, shape))
    if placed is None:
        return None, True
    held = held_in_swung(placed.box, angle, photo)
    inside = all(abs(a - b) < 0.5 for a, b in zip(held, placed.box, strict=True))
    return placed.box, bool(placed.missed) or not inside


def _outside(
    more: Callable[[str], str], less: Callable[[str], str]
) -> Callable[[Limit, Any, Kind], str]:
    def said(limit: Limit, value: Any, kind: Kind) -> str:
        off = limit.outside(value)
        if not off:
            return ""
        return (more if off > 0 else less)(kind.show_apart(limit.in_unit(abs(off))))

    return said


def _offset_said(value: Any) -> str:
    if abs(value) < 0.0005:
        return say("in the middle")
    side = say("right") if value > 0 else say("left")
    far = Printed(abs(value), value.of) if isinstance(value, Printed) else abs(value)
    return say("{n} {side}", n=show_printed_share(far), side=side)


_OFFSET = Kind("share", PRINTED_SHARE.parse, _offset_said, apart=show_printed_points)

MEASURES = (
    Measure(
        "head_height",
        say("Head height"),
        "person",
        PRINTED_SHARE,
        say(
            "Crown to chin, as a share of the frame's height. The crown is the top of the hair, or of the skull where "
            "the rules say so."
        ),
        _of(lambda m, w, h: m.height / h, "crown", "chin"),
        error=_off(binding.HEAD_HEIGHT),
        mend=_mend,
        outside=_outside(lambda n: say("{n} too large", n=n), lambda n: say("{n} too small", n=n)),
        binds=binding.HEAD_HEIGHT,
        needs=NEEDS_MARKS,
        seen=("card",),
    ),
    Measure(
        "headroom",
        say("Headroom"),
        "person",
        PRINTED_SHARE,
        say("From the frame's upper edge to the crown, as a share of its height."),
        _of(lambda m, w, h: m.crown[1] / h, "crown"),
        error=_off(binding.HEADROOM),
        mend=_mend,
        outside=_outside(lambda n: say("{n} too much", n=n), lambda n: say("{n} too little", n=n)),
        binds=binding.HEADROOM,
        needs=NEEDS_MARKS,
        seen=("card",),
    ),
    Measure(
        "eye_line",
        say("Eye line"),
        "person",
        PRINTED_SHARE,
        say("Height of the eyes above the frame's lower edge, as a share of its height."),
        _of(lambda m, w, h: (h - m.eyes[1]) / h, "eyes"),
        error=_off(binding.EYE_LINE),
        mend=_mend,
        outside=_outside(lambda n: say("{n} too high", n=n), lambda n: say("{n} too low", n=n)),
        binds=binding.EYE_LINE,
        needs=NEEDS_MARKS,
        seen=("card",),
    ),
    Measure(
        "head_offset",
        say("Head centred"),
        "person",
        _OFFSET,
        say(
            "How far the middle between the eyes lies from the frame's middle, as a share of its "
            "width; to the right is above zero."
        ),
        _of(lambda m, w, h: m.eyes[0] / w - 0.5, "eyes"),
        error=_off(binding.HEAD_OFFSET),
        mend=_mend,
        outside=lambda limit, value, kind: (
            say(
                "{n} too far {side}",
                n=show_points(abs(limit.outside(value))),
                side=say("right") if limit.outside(value) > 0 else say("left"),
            )
            if limit.outside(value)
            else ""
        ),
        binds=binding.HEAD_OFFSET,
        needs=NEEDS_MARKS,
        seen=("card",),
    ),
    Measure(
        "head_tilt",
        say("Head tilt"),
        "person",
        ANGLE,
        say("Roll of the head: the line through the eye centres against the level, in degrees."),
        lambda reading: marks_of(reading, "eyes").tilt,
        error=angle_off("tilt"),
        mend=_mend_tilt,
        outside=_outside(
            lambda n: say("{n} too far right", n=n), lambda n: say("{n} too far left", n=n)
        ),
        needs=NEEDS_MARKS,
        seen=("card",),
    ),
    Measure(
        "head_turn",
        say("Head turn"),
        "person",
        ANGLE,
        say("Yaw of the head in degrees, told from the face's depth; may be off by 3.5°."),
        _turn,
        error=angle_off("turn"),
        outside=_outside(
            lambda n: say("{n} too far right", n=n), lambda n: say("{n} too far left", n=n)
        ),
        needs=NEEDS_MARKS,
    ),
    Measure(
        "head_nod",
        say("Head nod"),
        "person",
        ANGLE,
        say(
            "Pitch of the head in degrees, told from the face's depth; may be off by 8.1°. Down is above zero."
        ),
        _nod,
        error=angle_off("nod"),
        outside=_outside(
            lambda n: say("{n} too far down", n=n), lambda n: say("{n} too far up", n=n)
        ),
        needs=NEEDS_MARKS,
    ),
    Measure(
        "people",
        say("People"),
        "person",
        COUNT,
        say("Faces in the picture."),
        _people,
        needs=frozenset({Need.PEOPLE}),
    ),
)
