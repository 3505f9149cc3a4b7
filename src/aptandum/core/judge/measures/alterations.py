"""Whether only what the brief permits was done to the picture."""

from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import ALTERATIONS, Brief, Clause
from aptandum.core.judge.measure import Measure, Mend, Miss
from aptandum.core.judge.reading import Reading
from aptandum.core.numbers import Side
from aptandum.core.quantity import Kind
from aptandum.core.words import listed, say

SAID = {
    "turn": say("turned"),
    "cut": say("cut"),
    "pad": say("padded"),
    "scale": say("scaled"),
    "convert": say("converted"),
    "light": say("made lighter, darker, warmer or colder"),
    "sharpen": say("sharpened"),
    "one-bit": say("made one bit"),
    "backdrop": say("backdrop altered"),
    "clear": say("made transparent"),
    "keyline": say("keyline"),
    "border": say("border"),
    "shade": say("shade"),
    "caption": say("caption"),
    "panels": say("panels"),
    "dust": say("dust taken out"),
    "retouch": say("retouched"),
}
"""Each alteration as the interface says it."""

_BACK: dict[str, dict[str, str | None]] = {
    "pad": {"frame.fill": "cut"},
    "light": {"colour.exposure": None, "colour.warmth": None},
    "sharpen": {"finish.sharpening.strength": None},
    "backdrop": {
        "finish.backdrop.lightness": None,
        "finish.backdrop.even": None,
        "finish.backdrop.fill": None,
    },
    "clear": {"finish.clear.by": None},
    "keyline": {"finish.keyline.width": None},
    "border": {"finish.border.picture": "none"},
    "shade": {"finish.shade.picture": "none"},
    "caption": {"finish.caption.text": None, "finish.caption.more": None},
}
"""What takes each back; turning, cutting and scaling have no such one way."""


def _take(reading: Reading) -> tuple[str, ...]:
    return reading.done


def _allows(limit: Limit, value: tuple[str, ...]) -> bool:
    return all(word in limit.one_of for word in value)


def _outside(limit: Limit, value: tuple[str, ...], kind: Kind) -> str:
    wrong = [SAID.get(word, word) for word in value if word not in limit.one_of]
    return say("not permitted: {words}", words=listed(wrong, "and"))


def _mend(miss: Miss) -> Mend:
    wrong = [word for word in miss.value if word not in miss.limit.one_of]
    changes: dict[str, str | None] = {}
    for word in wrong:
        changes.update(_BACK.get(word, {}))
    words = listed([SAID.get(word, word) for word in wrong], "and")
    if len(changes) and all(word in _BACK for word in wrong):
        return Mend(say("Take back: {words}", words=words), changes)
    return Mend(
        say("Begin from a photo that needs none of it: {words}", words=words), changes or None
    )


def _parse(value: object, side: Side = "exact") -> object:
    return value


def _show(value: object) -> str:
    if isinstance(value, tuple):
        words = [SAID.get(str(word), str(word)) for word in value]
        return listed(words, "and") or say("as supplied")
    return SAID.get(str(value), str(value))


def permission(brief: Brief) -> tuple[Clause, ...]:
    """The clause that a brief's ``allows`` comes to: only what it permits was done."""
    if brief.allows is None:
        return ()
    taken = {clause.id for clause in brief.clauses}
    name = MEASURE.name if MEASURE.name not in taken else f"{MEASURE.name}-permitted"
    return (Clause(name, MEASURE.name, Limit(("one_of",), one_of=brief.allows)),)


MEASURE = Measure(
    "alterations",
    say("Alterations"),
    "finish",
    Kind("alterations", _parse, _show, False, ALTERATIONS),
    say(
        "Everything that was done to the picture on the way to the file, against what the brief "
        "permits."
    ),
    _take,
    allows=_allows,
    outside=_outside,
    mend=_mend,
    station="proof",
    stated=False,
)
