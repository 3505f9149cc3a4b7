"""Names for finished files: telling from the original, safe everywhere, as the brief asks."""

from __future__ import annotations

import re
from collections.abc import Iterator

from aptandum.core.brief.binding import NAME, NAME_LENGTH
from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Brief, Clause
from aptandum.core.brief.registry import binds_of, known
from aptandum.core.judge.measure import CannotMeasure
from aptandum.core.judge.measures.filename import matches
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
    return f"{(safe(stem_of(photo_name)) or 'photo')[:_MOST]}-{brief_id}{ENDINGS[format_]}"


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
    ending = ENDINGS[format_]
    if chosen is not None:
        whole = _filled(chosen, photo_name, brief, size)
        if n is None:
            return whole + ending
        return (safe(numbered(whole, n)) or "photo")[:_LONGEST] + ending
    if brief is None:
        return suggested(photo_name, "fitted", format_)
    whole = suggested(photo_name, brief.id, format_)
    first = whole[: -len(ending)]
    asked = list(brief.bounding(NAME, NAME_LENGTH))
    if not asked:
        return whole
    for name in _names(first, first[: -len(brief.id) - 1], brief):
        try:
            if all(_keeps(name, clause, limit) for clause, limit in asked):
                return name + ending
        except CannotMeasure:
            break
    return whole


def broken(name: str, brief: Brief | None) -> str:
    """Which of a brief's rules a name (with its ending) breaks, in words; empty where none."""
    asked = brief.bounding(NAME, NAME_LENGTH) if brief is not None else ()
    said = []
    for clause, limit in asked:
        try:
            if not _keeps(stem_of(name), clause, limit):
                said.append(limit.says(known(clause.measure or "").kind))
        except CannotMeasure:
            continue
    return say("asked is {what}", what=listed(said, "and")) if said else ""


def _keeps(name: str, clause: Clause, limit: Limit) -> bool:
    if binds_of(clause.measure) == NAME_LENGTH:
        return limit.allows(len(name))
    wanted = not limit.one_of or any(matches(one, name) for one in limit.one_of)
    return wanted and not any(matches(one, name) for one in limit.none_of)


def _names(first: str, stem: str, brief: Brief) -> Iterator[str]:
    """Ways to write a name: as it is, plainer, and cut shorter."""
    most = min(
        (limit.at_most for _clause, limit in brief.bounding(NAME_LENGTH) if limit.at_most),
        default=_MOST,
    )
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
