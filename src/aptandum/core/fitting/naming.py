"""Names for finished files: telling from the original, safe everywhere, as the brief asks."""

from __future__ import annotations

import re
from collections.abc import Iterator

from aptandum.core.judge.measure import CannotMeasure
from aptandum.core.judge.measures.filename import matches
from aptandum.core.rulebook.model import Brief, Limit

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


def suggested(photo_name: str, brief_id: str, format_: str) -> str:
    """``ines_marrow_0417`` for the deck pass: ``ines_marrow_0417-deck-pass.jpg``."""
    stem = photo_name.rsplit(".", 1)[0] if "." in photo_name.strip(".") else photo_name
    stem = re.sub(r"[^\w.() +-]", "_", stem, flags=re.UNICODE).strip(" .") or "photo"
    return f"{stem[:_MOST]}-{brief_id}{ENDINGS[format_]}"


def file_name(photo_name: str, brief: Brief | None, format_: str, chosen: str | None = None) -> str:
    """The chosen name with its ending; else the first of a few plain names that has the form and length which a brief asks for;
    where none has, :func:`suggested`."""
    ending = ENDINGS[format_]
    if chosen is not None:
        return chosen + ending
    if brief is None:
        return suggested(photo_name, "fitted", format_)
    whole = suggested(photo_name, brief.id, format_)
    first = whole[: -len(ending)]
    asked = list(brief.measured("name_pattern", "name_length"))
    if not asked:
        return whole
    for name in _names(first, first[: -len(brief.id) - 1], brief):
        try:
            if all(_keeps(name, clause.measure, limit) for clause, limit in asked):
                return name + ending
        except CannotMeasure:
            break
    return whole


def _keeps(name: str, measure: str | None, limit: Limit) -> bool:
    if measure == "name_length":
        return limit.allows(len(name))
    wanted = not limit.one_of or any(matches(one, name) for one in limit.one_of)
    return wanted and not any(matches(one, name) for one in limit.none_of)


def _names(first: str, stem: str, brief: Brief) -> Iterator[str]:
    """Ways to write a name: as it is, plainer, and cut shorter."""
    most = min(
        (limit.at_most for _clause, limit in brief.measured("name_length") if limit.at_most),
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
