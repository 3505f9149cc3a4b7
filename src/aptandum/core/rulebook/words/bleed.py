"""What is printed beyond the edge and cut off: *A5 upright with 3 mm bleed* is a file of 154 x 216 mm."""

from __future__ import annotations

import re
from dataclasses import replace
from decimal import Decimal

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.draft import Draft

_I = int(re.I)
_NAMED = r"(?:bleed|Beschnitt(?:zugabe|rand)?|Anschnitt)\b"
_BLEED = (
    rf"(?<![\d.,x×])(?P<wide>\d{{1,2}}(?:[.,]\d)?)\s*(?P<unit>mm|cm)\s+(?:(?:of|for|extra|zusätzlich|umlaufend\w*|als)\s+)?{_NAMED}"
    r"|\+\s*(?P<wide3>\d{1,2}(?:[.,]\d)?)\s*(?P<unit3>mm|cm)\s+(?:on|at|an|auf)\s+(?:each|every|all|both|jeder|allen|beiden)\s+(?:sides?|edges?|Seiten?|Kanten?)\b"
    rf"|\b{_NAMED}\s*(?:(?:of|is|must be|von|ist|beträgt|:|=)\s*)*(?P<wide2>\d{{1,2}}(?:[.,]\d)?)\s*(?P<unit2>mm|cm)\b"
)
_WITHIN = r"\b(?:Datenformat|data format|document size|incl(?:\.|uding|uded|udes)?|inkl(?:\.|usive)?|einschließlich|already|bereits|mit enthalten)\b"
"""What says that a size has its bleed already."""
_SIZE = re.compile(r"(\d+(?:\.\d+)?) x (\d+(?:\.\d+)?) (mm|cm)")
_MM = {"mm": Decimal(1), "cm": Decimal(10)}


def with_bleed(drafts: list[Draft], text: str) -> list[Draft]:
    """The drafts with every printed size as large as its file has to be, where the page names a bleed and no size that has
    it already: whether it is meant so a person says.

    Args:
        drafts: of the whole text, in its order.
    """
    made = []
    for draft in drafts:
        value = _SIZE.fullmatch(str(draft.fields.get("exactly", "")))
        found = _bleed_of(draft, text) if value and draft.fields.get("measure") == "size" else None
        if value is not None and found is not None:
            each, start, last = found
            end = max(draft.end, last)
            more = 2 * each / _MM[value[3]]
            whole = " x ".join(f"{(Decimal(side) + more).normalize():f}" for side in value.groups()[:2])  # fmt: skip
            whole = f"{whole} {value[3]}"
            told = any(whole == str(d.fields.get("exactly")) for d in drafts)
            if told:
                continue  # “210 x 297 mm. Add 3 mm bleed (216 x 303 mm)”: the second is the file
            if not patterns.search(_WITHIN, text[draft.start : end], _I):
                draft = replace(
                    draft,
                    fields={**draft.fields, "exactly": whole},
                    certainty="doubtful",
                    readings=(draft.fields,),
                    quote=text[draft.start : end],
                    end=end,
                    numbers=(*draft.numbers, (start, last)),
                )
        made.append(draft)
    return made


def _bleed_of(draft: Draft, text: str) -> tuple[Decimal, int, int] | None:
    """The bleed that is told behind a size, in its paragraph: how wide it is in mm, and where it stands."""
    if not draft.numbers:
        return None
    at = draft.numbers[-1][1]
    stop = text.find("\n\n", at, at + _NEAR_BY)
    found = bleed_in(text[at : stop if stop >= 0 else at + _NEAR_BY])
    return (found[0], at + found[1], at + found[2]) if found is not None else None


def bleed_in(text: str) -> tuple[Decimal, int, int] | None:
    """The first bleed that a text names: how wide it is in mm, and where it stands."""
    hit = patterns.search(_BLEED, text, _I)
    if hit is None:
        return None
    side = next(name for name in ("wide", "wide2", "wide3") if hit[name])
    unit = hit["unit"] or hit["unit2"] or hit["unit3"]
    return Decimal(hit[side].replace(",", ".")) * _MM[unit], hit.start(side), hit.end()


_NEAR_BY = 160
"""So many letters behind a size its bleed may be told."""
