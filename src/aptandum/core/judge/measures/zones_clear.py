"""Whether the place where the picture is seen covers anything that matters."""

from aptandum.core.brief.model import Brief
from aptandum.core.figures import grouped
from aptandum.core.judge.measure import CannotMeasure, Measure, Mend, Miss, Need
from aptandum.core.judge.reading import Reading
from aptandum.core.judge.zones import covered, smallest_shift, zones_of
from aptandum.core.photo.marks import NoMarks
from aptandum.core.quantity import words
from aptandum.core.words import listed, say


class Cover(str):
    """``clear`` or ``covered``, with what is covered by what."""

    pairs: tuple[tuple[str, str], ...] = ()


def _take(reading: Reading, brief: Brief) -> Cover:
    zones = zones_of(brief)
    if not zones:
        raise CannotMeasure(say("The brief names no zones."))
    try:
        kept = reading.kept()
    except NoMarks as error:
        raise CannotMeasure(str(error)) from None
    if not kept:
        raise CannotMeasure(
            say("Nothing is marked to be kept clear, and no face was found: draw a box.")
        )
    found = covered(zones, reading.frame_box, kept)
    made = Cover("covered" if found else "clear")
    made.pairs = tuple((c.zone, c.kept) for c in found)
    return made


def _alone(reading: Reading) -> Cover:
    raise CannotMeasure(say("Zones belong to a brief."))


def _mend(miss: Miss) -> Mend | None:
    reading, photo = miss.reading, miss.reading.source
    if photo is None:
        return None
    left, top, width, height = frame = reading.frame_box
    move = smallest_shift(zones_of(miss.brief), frame, reading.kept(), photo)
    if move is None:
        return Mend(say("No shift of this frame clears it: keep more of the photo, or less"))
    dx, dy = move
    ways = []
    if abs(dx) >= 0.5:
        side = say("right") if dx > 0 else say("left")
        ways.append(say("{n} px {way}", n=grouped(round(abs(dx))), way=side))
    if abs(dy) >= 0.5:
        side = say("down") if dy > 0 else say("up")
        ways.append(say("{n} px {way}", n=grouped(round(abs(dy))), way=side))
    window = ", ".join(f"{v:.4f}" for v in (left + dx, top + dy, width, height))
    return Mend(say("Shift the frame {ways}", ways=listed(ways, "and")), {"frame.window": window})


def _said(value: object) -> str:
    pairs = getattr(value, "pairs", ())
    if not pairs:
        return {"clear": say("clear"), "covered": say("covered")}.get(str(value), str(value))
    return listed([say("{zone} on {what}", zone=z, what=k) for z, k in pairs], "and")


_KIND = words("clear", "covered")

MEASURE = Measure(
    "zones_clear",
    say("Zones clear"),
    "finish",
    type(_KIND)(_KIND.name, _KIND.parse, _said, False, _KIND.choices),
    say(
        "Nothing that must be seen lies under a zone of the place: neither the face nor a box that "
        "was drawn to be kept clear."
    ),
    _alone,
    mend=_mend,
    station="frame",
    by_brief=_take,
    needs=frozenset({Need.PEOPLE}),
    seen=("handset",),
)
