"""Whether the place where the picture is seen covers anything that matters."""

from fractions import Fraction

from aptandum.core.brief import binding
from aptandum.core.brief.model import Brief
from aptandum.core.figures import grouped, show_factor, show_share
from aptandum.core.judge.clearing import clear_frame
from aptandum.core.judge.measure import CannotMeasure, Measure, Mend, Miss, Need
from aptandum.core.judge.placing import bands
from aptandum.core.judge.reading import Reading
from aptandum.core.judge.zones import Box, covered, zones_of
from aptandum.core.photo.marks import Marks, NoMarks
from aptandum.core.quantity import words
from aptandum.core.sizes.conflicts import least_frame
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
    frame = reading.frame_box
    asked = bands(miss.brief, reading.turn)
    marks: Marks | None = None
    if asked:
        try:
            marks = reading.straight_marks()
        except NoMarks:
            asked = ()
    least = least_frame(miss.brief, Fraction(*reading.facts.size))
    fewest = least[0] if least else 0.0
    zones, kept = zones_of(miss.brief), reading.kept()
    box = clear_frame(zones, frame, kept, photo, asked, marks, fewest)
    changes: dict[str, str | None] = {}
    if box is None and miss.brief.permits("pad"):
        box = clear_frame(zones, frame, kept, photo, asked, marks, fewest, may_pad=True)
        changes = {"frame.fill": "pad"}
    if box is None and asked:
        if clear_frame(zones, frame, kept, photo, (), None, fewest) is None:
            return Mend(say("No frame of this photo clears it"))
        said = say("No frame of this photo clears it and holds the head where the brief asks")
        return Mend(said)
    if box is None:
        return Mend(say("No frame of this photo clears it"))
    window = ", ".join(f"{v:.4f}" for v in box)
    words = _moved(frame, box, photo, reading.facts.size)
    if changes:
        across = min(box[0] + box[2], photo[0]) - max(box[0], 0.0)
        up = min(box[1] + box[3], photo[1]) - max(box[1], 0.0)
        added = max(0.0, 1 - across * up / (box[2] * box[3]))
        words = say("Pad the frame, which adds {share}", share=show_share(added))
    return Mend(words, {**changes, "frame.window": window})


def _moved(frame: Box, box: Box, photo: tuple[int, int], output: tuple[int, int]) -> str:
    """What becomes of a frame, in words: how it moves, what it keeps, and whether it enlarges."""
    dx = box[0] + box[2] / 2 - frame[0] - frame[2] / 2
    dy = box[1] + box[3] / 2 - frame[1] - frame[3] / 2
    ways = []
    if abs(dx) >= 0.5:
        side = say("right") if dx > 0 else say("left")
        ways.append(say("{n} px {way}", n=grouped(round(abs(dx))), way=side))
    if abs(dy) >= 0.5:
        side = say("down") if dy > 0 else say("up")
        ways.append(say("{n} px {way}", n=grouped(round(abs(dy))), way=side))
    where = listed(ways, "and")
    if abs(box[2] - frame[2]) < 1e-6 * frame[2]:
        return say("Shift the frame {ways}", ways=where)
    share = show_share(box[2] * box[3] / (photo[0] * photo[1]))
    wider = say("Take a larger frame, which keeps {share} of the photo", share=share)
    closer = say("Take a smaller frame, which keeps {share} of the photo", share=share)
    said = wider if box[2] > frame[2] else closer
    factor = output[0] / box[2]
    if factor > 1 + 1e-6:
        said = say("{what} and enlarges it {n}", what=said, n=show_factor(factor))
    return say("{what}, {ways}", what=said, ways=where) if ways else said


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
    binds=binding.ZONES,
    needs=frozenset({Need.PEOPLE}),
    seen=("handset",),
)
