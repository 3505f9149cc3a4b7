"""Names for finished files: telling from the original, safe everywhere, as the brief asks."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterator
from itertools import product

from aptandum.core.brief.binding import (
    NAME_BEGINS,
    NAME_ENDING,
    NAME_ENDS,
    NAME_HOLDS,
    NAME_LENGTH,
    NAME_WHOLE,
    NAMES,
)
from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Brief, Clause
from aptandum.core.brief.registry import binds_of, known
from aptandum.core.judge.measure import CannotMeasure
from aptandum.core.judge.measures.filename import begins, ending, ends, holds, matches
from aptandum.core.words import listed, say

ENDINGS = {
    "jpeg": ".jpg",
    "png": ".png",
    "bmp": ".bmp",
    "tiff": ".tif",
    "webp": ".webp",
    "avif": ".avif",
    "gif": ".gif",
}
_MOST = 180
_LONGEST = 240
"""Letters of a name that every file system takes, with its ending."""
_MOST_BYTES = 235
"""Bytes of a name with its ending: 255 are taken (limits.h, NAME_MAX), and a number may come behind it."""


FIELDS = {
    "photo": say("the photo's name"),
    "body": say("the body's name for itself"),
    "brief": say("the brief's name for itself"),
    "width": say("pixels across"),
    "height": say("pixels up"),
    "n": say("a number that is free; {n:3} has three digits"),
}
"""What may stand in braces in a name, and what it becomes."""

_FIELD = re.compile(r"\{([^{}]*)\}")
_NUMBER = re.compile(r"\{n(?::([1-9]))?\}")
_DEVICES = re.compile(r"^(con|prn|aux|nul|com\d|lpt\d)$", re.IGNORECASE)
"""Names that some systems keep for devices."""


def trouble(pattern: str) -> str:
    """What is wrong with a name's braces, in words; empty where nothing is."""
    for found in _FIELD.finditer(pattern):
        if found.group(1) not in FIELDS and not _NUMBER.fullmatch(found.group()):
            return say(
                "a name whose braces hold one of {all}; not “{what}”",
                all=listed([f"{{{name}}}" for name in FIELDS]),
                what=found.group(),
            )
    if set("{}") & set(_FIELD.sub("", pattern)):
        return say("a name whose braces are in pairs")
    if not _FIELD.sub("x", pattern).strip(" ."):
        return say("a name with a letter or a digit in it")
    return ""


def stem_of(photo_name: str) -> str:
    """A file's name without its folder and its ending."""
    return photo_name.rsplit(".", 1)[0] if "." in photo_name.strip(".") else photo_name


def shortened(name: str, most: int) -> str:
    """The beginning of a name that fits into so many bytes of UTF-8, on whole letters: an accent stays with
    its letter."""
    if len(name.encode()) <= most:
        return name
    cut = len(name.encode()[: max(0, most)].decode("utf-8", "ignore"))
    while cut and unicodedata.combining(name[cut : cut + 1] or "a"):
        cut -= 1
    return name[:cut].rstrip(" .") or "photo"


def safe(name: str) -> str:
    """A name that every file system takes: no separators, no control characters, nothing that
    some system reads as a command or a device."""
    name = re.sub(r"[^\w.() +-]", "_", name, flags=re.UNICODE).strip(" .").lstrip("-")
    return f"{name}_" if _DEVICES.match(name) else name


def numbered(name: str, n: int) -> str:
    """A counted name with its number."""
    return _NUMBER.sub(lambda found: str(n).zfill(int(found.group(1) or 1)), name)


def _filled(pattern: str, photo_name: str, brief: Brief | None, size: tuple[int, int]) -> str:
    known = {
        "photo": stem_of(photo_name),
        "body": brief.body if brief is not None else "",
        "brief": brief.id if brief is not None else "",
        "width": str(size[0]),
        "height": str(size[1]),
    }
    parts, at = [], 0
    for found in _FIELD.finditer(pattern):
        parts.append(_bare(pattern[at : found.start()]))
        field = found.group(1)
        parts.append(_bare(known[field]) if field in known else found.group())
        at = found.end()
    parts.append(_bare(pattern[at:]))
    return "".join(parts)


def _bare(text: str) -> str:
    return re.sub(r"[^\w.() +-]", "_", text, flags=re.UNICODE)


def suggested(photo_name: str, brief_id: str, format_: str) -> str:
    """``ines_marrow_0417`` for the deck pass: ``ines_marrow_0417-deck-pass.jpg``."""
    rest = f"-{brief_id}{ENDINGS[format_]}"
    stem = (safe(stem_of(photo_name)) or "photo")[:_MOST]
    return shortened(stem, _MOST_BYTES - len(rest.encode())) + rest


def file_name(
    photo_name: str,
    brief: Brief | None,
    format_: str,
    chosen: str | None = None,
    size: tuple[int, int] = (0, 0),
    n: int | None = 1,
) -> str:
    """The name of a finished file.

    Args:
        chosen: a name without its ending, with its fields in braces; ``None``: the first of a
            few plain names that has the form and length which the brief asks for; where none
            has, :func:`suggested`.
        size: of the file in pixels.
        n: the number of a counted name; ``None`` leaves ``{n}`` standing.
    """
    ending = ending_of(brief, format_)
    if chosen is not None:
        whole = _filled(chosen, photo_name, brief, size)
        if n is None:
            return whole + ending
        name = (safe(numbered(whole, n)) or "photo")[:_LONGEST]
        return shortened(name, _MOST_BYTES - len(ending.encode())) + ending
    if brief is None:
        return suggested(photo_name, "fitted", format_)
    first = suggested(photo_name, brief.id, format_)[: -len(ENDINGS[format_])]
    whole = first + ending
    asked = list(brief.bounding(*NAMES))
    if not asked:
        return whole
    for name in _names(first, first[: -len(brief.id) - 1], brief):
        try:
            if all(_keeps(name + ending, clause, limit) for clause, limit in asked):
                return name + ending
        except CannotMeasure:
            break
    return whole


def broken(name: str, brief: Brief | None) -> str:
    """Which of a brief's rules a name (with its ending) breaks, in words; empty where none."""
    asked = brief.bounding(*NAMES) if brief is not None else ()
    said = []
    for clause, limit in asked:
        try:
            if not _keeps(name, clause, limit):
                said.append(limit.says(known(clause.measure or "").kind))
        except CannotMeasure:
            continue
    return say("asked is {what}", what=listed(said, "and")) if said else ""


def ending_of(brief: Brief | None, format_: str) -> str:
    """The ending of a format as a brief wants it written, with its dot: ``.jpeg``, ``.JPG``."""
    own = ENDINGS[format_]
    also = [own, *(f".{other}" for other in _ALSO.get(format_, ()))]
    asked = [limit for _c, limit in brief.bounding(NAME_ENDING)] if brief is not None else []
    for one in (*also, *(name.upper() for name in also)):
        if all(limit.allows(one[1:]) for limit in asked):
            return one
    return own


_ALSO = {"jpeg": ("jpeg",), "tiff": ("tiff",)}


def _keeps(file: str, clause: Clause, limit: Limit) -> bool:
    """Whether a name with its ending keeps a rule."""
    bind, name = binds_of(clause.measure), stem_of(file)
    if bind == NAME_LENGTH:
        return limit.allows(len(name))
    if bind == NAME_ENDING:
        return limit.allows(ending(file))
    parts = {NAME_BEGINS: begins, NAME_ENDS: ends, NAME_HOLDS: holds}
    if bind in parts:
        return parts[bind](limit, name)
    if bind == NAME_WHOLE:
        name = file
    wanted = not limit.one_of or any(matches(one, name) for one in limit.one_of)
    return wanted and not any(matches(one, name) for one in limit.none_of)


def _names(first: str, stem: str, brief: Brief) -> Iterator[str]:
    """Ways to write a name: as it is, plainer, and cut shorter."""
    most = min(
        (limit.at_most for _clause, limit in brief.bounding(NAME_LENGTH) if limit.at_most),
        default=_MOST,
    )
    before = [part for _c, limit in brief.bounding(NAME_BEGINS) for part in limit.one_of][:3]
    after = [part for _c, limit in brief.bounding(NAME_ENDS) for part in limit.one_of][:3]
    held = [part for _c, limit in brief.bounding(NAME_HOLDS) for part in limit.one_of][:3]
    if before or after or held:
        yield from _with_parts(first, stem, before or [""], after or [""], held or [""], most)
    for base in (first, stem):
        plain = re.sub(r"[^A-Za-z0-9]+", "_", base).strip("_")
        for name in (base, plain, plain.replace("_", "-"), plain.replace("_", "")):
            for cased in (name, name.lower(), name.upper()):
                yield cased
                if len(cased) > most:
                    yield cased[:most].rstrip("_-. ")
    digits = re.sub(r"[^0-9]", "", stem)
    yield digits
    for least in range(1, 13):
        yield digits.zfill(least)[-least:]


def _with_parts(
    first: str, stem: str, before: list[str], after: list[str], held: list[str], most: int
) -> Iterator[str]:
    """Names that begin, end and hold what is asked, what is between cut to the length that is left."""
    for front, back, middle in product(before, after, held):
        room = max(0, most - len(front) - len(back) - len(middle))
        for base in (first, stem, re.sub(r"[^A-Za-z0-9]+", "_", stem).strip("_"), ""):
            inner = base if middle in base else f"{middle}{base}"
            name = inner[: room + len(middle)]
            name = name if name.startswith(front) else front + name
            yield name if name.endswith(back) else name + back
