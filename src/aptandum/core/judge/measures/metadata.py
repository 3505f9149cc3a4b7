"""What the metadata tell: each group by itself, and whether there are any at all."""

from collections.abc import Callable
from typing import Any

from aptandum.core.brief.binding import Told
from aptandum.core.brief.limit import some_of
from aptandum.core.judge.measure import Measure, Mend, Miss, Need
from aptandum.core.judge.reading import Reading
from aptandum.core.photo.metadata_groups import GROUPS
from aptandum.core.quantity import Kind, words
from aptandum.core.words import say

_INSIDE = frozenset({Need.INSIDE})

_NAMES = {"present": say("stated"), "none": say("not stated"), "kept": say("kept")}
_WORD = words("present", "none", "kept", shown=_NAMES)


def _show(value: Any) -> str:
    """What is true of a file, its first word being the one that tells most."""
    return _WORD.show(value[0] if isinstance(value, tuple) else value)


_TOLD = Kind("word", _WORD.parse, _show, False, _WORD.choices, example="present, none, kept")


def _group(part: str) -> Callable[[Reading], tuple[str, ...]]:
    def take(reading: Reading) -> tuple[str, ...]:
        now = getattr(reading.inside().told, part)
        word = "present" if now else "none"
        before = reading.supplied_inside()
        if before is None:
            return word, "kept"
        return (word, "kept") if getattr(before.told, part) == now else (word,)

    return take


def _any(reading: Reading) -> tuple[str, ...]:
    inside = reading.inside()
    word = "present" if inside.speaks or reading.facts.location else "none"
    before = reading.supplied_inside()
    kept = before is None or before.told == inside.told
    return (word, "kept") if kept else (word,)


def _mend(group: str, typed: bool) -> Callable[[Miss], Mend]:
    key = f"file.metadata.{group}"

    def mend(miss: Miss) -> Mend:
        if "none" in miss.limit.one_of or "present" in miss.limit.none_of:
            return Mend(say("Leave it out"), {key: None})
        if miss.value[0] == "none" and typed:
            return Mend(say("Type it: File, Metadata"))
        if miss.value[0] == "none":
            return Mend(say("The photo does not tell it, and nothing is made up"))
        return Mend(say("Keep it as the photo tells it"), {key: None})

    return mend


def _mend_any(miss: Miss) -> Mend:
    if "none" in miss.limit.one_of or "present" in miss.limit.none_of:
        changes: dict[str, str | None] = {f"file.metadata.{g.name}": None for g in GROUPS}
        return Mend(say("Leave all metadata out"), changes)
    return Mend(say("Keep what the photo tells: File, Metadata"))


_HELP = {
    "credit": say("Whom the photo is by, as the metadata tell it (EXIF, IPTC or XMP)."),
    "copyright": say("Whose the photo is, as the metadata tell it."),
    "caption": say("What the photo shows, as the metadata tell it."),
    "date": say("Whether the metadata tell when the photo was taken."),
    "camera": say("Whether the metadata tell camera, lens and how the shot was taken."),
}

MEASURES = (
    *(
        Measure(
            group.name,
            group.title,
            "file",
            _TOLD,
            _HELP[group.name],
            _group(group.part),
            some_of,
            _mend(group.name, group.typed),
            station="file",
            binds=Told(group.name),
            needs=_INSIDE,
        )
        for group in GROUPS
        if group.name in _HELP
    ),
    Measure(
        "place_name",
        say("Name of the place"),
        "file",
        _TOLD,
        say(
            "Whether the metadata name the place that the photo shows or was taken at: a quarter, a town, a country "
            "(IPTC or XMP). Its coordinates are another matter."
        ),
        _group("where"),
        some_of,
        lambda miss: (
            Mend(say("Leave the place out"), {"file.metadata.location": None})
            if miss.value[0] == "present"
            else Mend(say("The photo does not tell it, and nothing is made up"))
        ),
        station="file",
        needs=_INSIDE,
    ),
    Measure(
        "metadata",
        say("Metadata"),
        "file",
        _TOLD,
        say(
            "Anything that the file tells beside its picture: EXIF, IPTC, XMP, comments. How it is "
            "turned, its pixels per inch and its colour profile are no part of that."
        ),
        _any,
        some_of,
        _mend_any,
        station="file",
        binds=Told(""),
        needs=_INSIDE,
    ),
)
