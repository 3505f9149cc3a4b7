"""How far beside a value another is as good: *35 x 45 mm (± 1 mm)*, *800 px, tolerance 2 %*."""

from __future__ import annotations

import re
from dataclasses import replace

from aptandum.core.rulebook.toml import check_clause
from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.draft import Draft
from aptandum.core.rulebook.words.lexicon import Lexicon
from aptandum.core.rulebook.words.quantities import plain

_I = int(re.I)
_NAMED = r"(?:an?\s+|einer?\s+)?(?:permitted\s+|allowed\s+|zulässige\s+)?(?:tolerances?|deviations?|Toleranz|Abweichung)\s*(?:of|is|:|=|von|bis zu)?"
_SIGN = r"(?:±|\+\s*/\s*[-–]|plus or minus|plus/minus|give or take|plus-minus)"
_GIVE = (
    rf"\s*(?:px|pixels?|mm|cm)?\s*[,(]?\s*(?:with\s+|mit\s+)?(?:{_NAMED}\s*{_SIGN}?|{_SIGN})\s*"
    r"(?P<many>\d+(?:[.,]\d+)?)\s*(?P<unit>mm|cm|px|pixels?|in\b|inch(?:es)?|%|per ?cent|Prozent)?"
)
_UNITS = {"pixel": "", "pixels": "", "px": "", "inch": "in", "inches": "in", "prozent": "%"}


def with_give(drafts: list[Draft], text: str, words: Lexicon) -> list[Draft]:
    """The drafts of one value with the tolerance that is told right behind it."""
    return [_given(draft, text, words) for draft in drafts]


def _given(draft: Draft, text: str, words: Lexicon) -> Draft:
    if "exactly" not in draft.fields or not draft.numbers:
        return draft
    at = draft.numbers[-1][1]
    hit = patterns.match(_GIVE, text[at : draft.end], _I)
    if hit is None:
        return draft
    many = plain(hit["many"], words.decimal_comma)
    said = re.sub(r"\s", "", (hit["unit"] or "").lower())
    unit = "%" if said == "percent" else _UNITS.get(said, said)
    own = str(draft.fields["exactly"]).rpartition(" ")[2]
    if not said and own.isalpha():
        unit = own  # “35 mm ± 1”
    fields = {**draft.fields, "tolerance": f"{many} {unit}".strip()}
    if check_clause(fields)[0] is None:
        return draft
    span = at + hit.start("many"), at + hit.end()
    return replace(draft, fields=fields, numbers=(*draft.numbers, span))
