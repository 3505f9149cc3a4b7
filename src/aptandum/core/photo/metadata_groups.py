"""What a photo tells beside its pixels: six named groups that are kept, dropped or set.

They are gathered from EXIF, IPTC and XMP; a file that is encoded anew holds nothing else. Left
alone, all of them are kept but the camera and the place of the shot.
"""

from __future__ import annotations

import contextlib
import re
from collections.abc import Callable, Mapping
from dataclasses import field, replace
from typing import Any

from aptandum.core.figures import show_number
from aptandum.core.frozen import frozen
from aptandum.core.words import commas, say

ARTIST, COPYRIGHT, CAPTION, DATE = 0x013B, 0x8298, 0x010E, 0x0132
MAKE, MODEL = 0x010F, 0x0110
SHOT, PLACE = 0x8769, 0x8825
TAKEN = 0x9003
TAKING = (0x829A, 0x829D, 0x8827, 0x920A, 0xA433, 0xA434)
"""Exposure time, F number, sensitivity, focal length, and the lens."""

_MOST = 2000
"""Characters of a text that are kept."""

HOLDING = ("jpeg", "png", "tiff", "webp", "avif")
"""Formats in which metadata are written."""

DATED = re.compile(r"\d{4}-\d\d-\d\d( \d\d:\d\d(:\d\d)?)?")
"""How a date is set: ``2026-11-02`` or ``2026-11-02 17:40``."""


@frozen
class Credit:
    """What a photo tells, or what a file is to tell; empty where it does not.

    Attributes:
        by: whom it is by.
        rights: whose it is.
        caption: what it shows.
        date: when it was taken, as EXIF writes it (``2026:11:02 17:40:00``).
        camera: maker and model, and how the shot was taken, by EXIF tag.
        place: where it was taken, by the tags of EXIF's directory for it.
        where: names of that place, or of what is shown: a quarter, a town, a country. They are read, and never
            written.
    """

    by: str = ""
    rights: str = ""
    caption: str = ""
    date: str = ""
    camera: Mapping[int, Any] = field(default_factory=dict)
    place: Mapping[int, Any] = field(default_factory=dict)
    where: str = ""

    def __bool__(self) -> bool:
        held = (self.by, self.rights, self.caption, self.date, self.camera, self.place)
        return any(held)


@frozen
class Group:
    """One group by name.

    Attributes:
        part: the field of :class:`Credit`.
        kept: it is kept where nobody has said anything.
        typed: it can be set as text.
        says: what a photo tells of it, in words.
    """

    name: str
    title: str
    part: str
    kept: bool
    typed: bool
    says: Callable[[Any], str]


def clean(value: object) -> str:
    """A text of EXIF or IPTC: what was written as UTF-8 and read as Latin 1 is read again."""
    if isinstance(value, str):
        with contextlib.suppress(UnicodeEncodeError, UnicodeDecodeError):
            value = value.encode("latin-1").decode("utf-8")
    text = value.decode("utf-8", "replace") if isinstance(value, bytes) else str(value or "")
    return " ".join(text.replace("\0", " ").split())[:_MOST]


def _shot_by(camera: Mapping[int, Any]) -> str:
    maker, model = (clean(camera.get(tag)) for tag in (MAKE, MODEL))
    named = model if maker and model.startswith(maker) else f"{maker} {model}".strip()
    return named or (say("how the shot was taken") if camera else "")


def _degrees(value: Any, side: Any) -> str:
    try:
        degrees, minutes, seconds = (float(v) for v in value)
    except (TypeError, ValueError, ZeroDivisionError):
        return ""
    shown = show_number(degrees + minutes / 60 + seconds / 3600, 4)
    return f"{shown}° {clean(side)}".strip()


def _placed(place: Mapping[int, Any]) -> str:
    parts = [_degrees(place.get(2), place.get(1)), _degrees(place.get(4), place.get(3))]
    return commas([part for part in parts if part]) or (say("stated") if place else "")


def _dated(date: str) -> str:
    return date[:10].replace(":", "-") + date[10:]


GROUPS = (
    Group("credit", say("Credit"), "by", True, True, str),
    Group("copyright", say("Copyright"), "rights", True, True, str),
    Group("caption", say("Caption"), "caption", True, True, str),
    Group("date", say("Date"), "date", True, True, _dated),
    Group("camera", say("Camera"), "camera", False, False, _shot_by),
    Group("location", say("Where shot"), "place", False, False, _placed),
)


def chosen(told: Credit, wishes: Mapping[str, str | None]) -> Credit:
    """What is written of what a photo tells.

    Args:
        wishes: for each group ``keep``, ``drop``, a text after ``=``, or ``None``: as usual.
    """
    made = Credit()
    for group in GROUPS:
        wish = wishes.get(group.name) or ("keep" if group.kept else "drop")
        if wish.startswith("="):
            text = wish[1:].strip()
            value: Any = _exif_date(text) if group.name == "date" else text
        elif wish == "keep":
            value = getattr(told, group.part)
        else:
            continue
        made = replace(made, **{group.part: value})
    return made


def _exif_date(text: str) -> str:
    day, _, time = text.partition(" ")
    time = time or "00:00:00"
    return f"{day.replace('-', ':')} {time if time.count(':') == 2 else time + ':00'}"


def lines(written: Credit, format_: str) -> tuple[tuple[str, str], ...]:
    """What a file of a format will tell, group by group: title and words."""
    if format_ not in HOLDING:
        return ()
    told = ((group.title, group.says(getattr(written, group.part))) for group in GROUPS)
    return tuple((title, words) for title, words in told if words)
