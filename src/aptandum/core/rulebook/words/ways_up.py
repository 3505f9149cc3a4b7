"""The ways up that a sentence asks for: *landscape only*, *no upright pictures*."""

from __future__ import annotations

import re
from typing import Any

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.draft import Draft
from aptandum.core.rulebook.words.fates import fate_told
from aptandum.core.rulebook.words.stated import Stated

_I = int(re.I)

_UP, _ACROSS = "portrait|upright|vertical|hoch\\w*", "landscape|horizontal|quer\\w*"
_BOTH = r"-?(?:\s+[^\W\d]+){0,2}\s*(?:\b(?:or|and|oder|und)\b|/)\s*(?:[^\W\d]+\s+){0,2}"
EITHER_WAY = rf"\b(?:{_UP}){_BOTH}(?:{_ACROSS})\b|\b(?:{_ACROSS}){_BOTH}(?:{_UP})\b"
"""Both ways up, said of one thing."""
_NOT_TAKEN = r"(?:\s+(?:mode|format|orientation|pictures|images|photos|ones))?\s+(?:(?:is|are|ist|sind)\s+)?(?:not (?:supported|allowed|accepted|possible|permitted)|unsupported|nicht (?:möglich|erlaubt|unterstützt|zulässig|zugelassen))\b"
"""What says of a way up before it that it is not taken: *portrait mode not supported*."""


_THEY_NOT = r"^[^.;\d]*[–—,-]\s*(?:sie|they|diese|these|such|solche)\b[^.;]*\b(?:nicht (?:berücksichtigt|angenommen|verwendet|gezeigt|gewertet)|aussortiert|abgelehnt|not (?:be )?(?:used|considered|accepted|shown|taken)|rejected|refused|ignored)"
"""*Fotos im Hochformat drehen wir nicht – sie werden nicht berücksichtigt*."""


def ways_up(sentence: Stated) -> list[Draft]:
    """The ways up that a sentence asks for by themselves, and those that it refuses."""
    made: list[Draft] = []
    alone = (
        sentence.one_turn
        and not sentence.only_these()
        and not patterns.search(EITHER_WAY, sentence.said, _I)
    )
    unbound = sentence.unbound()
    for turn, pattern in sentence.words.turns.items():
        hit = patterns.search(rf"\b(?:{pattern})\b(?!\))", sentence.said, _I) if alone else None
        refused = patterns.search(
            rf"\b(?:{sentence.words.negation})\s+(?:(?!only\b|nur\b)[^\W\d]+\s+){{0,3}}(?P<turn>{pattern})",
            unbound,
            _I,
        )
        refused = refused or patterns.search(
            rf"\b(?P<turn>{pattern}){_NOT_TAKEN}", sentence.said, _I
        )
        if (
            refused is None
            and hit is not None
            and patterns.search(_THEY_NOT, sentence.said[hit.end() :], _I)
        ):
            refused, hit = patterns.search(rf"\b(?P<turn>{pattern})\b", sentence.said, _I), None
        if sentence.lead and refused is not None:  # “rejected: not in portrait format”
            hit, refused = refused, None
        if refused is not None and turn != "square":
            at = sentence.start + refused.start("turn"), sentence.start + refused.end("turn")
            made.append(sentence.draft({"measure": "orientation", "none_of": [turn]}, at))
        elif (
            hit is not None
            and turn != "square"
            and not _one_of_two(sentence, hit)
            and not _less_liked(sentence, hit)
        ):
            at = sentence.start + hit.start(), sentence.start + hit.end()
            fields: dict[str, Any] = {"measure": "orientation", "exactly": turn}
            square = sentence.words.turns["square"]
            both = rf"\b(?:{pattern})\s*(?:\b(?:or|oder)\b|/)\s*(?:{square})|\b(?:{square})\w*\s*(?:\b(?:or|oder)\b|/)\s*(?:{pattern})"
            if patterns.search(both, sentence.said, _I):  # “landscape or square”
                fields = {"measure": "orientation", "one_of": [turn, "square"]}
            behind = sentence.said[hit.end() :]
            denied = patterns.match(
                rf"(?:(?!\b(?:and|but|or|und|aber|oder)\b)[^.,;:(]){{0,40}}?\b(?:{sentence.words.negation})\b",
                behind,
                _I,
            )  # “Landscape pictures never make the cover”
            if denied or fate_told(sentence.said, hit.start(), hit.end(), sentence.words):
                refuses = {"measure": "orientation", "none_of": [turn]}
                made.append(sentence.draft(refuses, at, certainty="doubtful", readings=(fields,)))
            else:
                made.append(sentence.draft(fields, at))
    return made


def _one_of_two(sentence: Stated, hit: re.Match[str]) -> bool:
    """Whether a way up is that of one of two sizes alone: *800 x 600 px, or 600 x 800 for upright pictures*."""
    before = sentence.said[: hit.start()]
    return bool(
        patterns.search(r"\b(?:for|if|when|für|bei|wenn)\s+(?:\w+\s+){0,2}$", before, _I)
        and patterns.search(r"\d\s*[x×]\s*\d.*\b(?:or|oder)\b.*\d\s*[x×]\s*\d", before, _I)
    )


_LESS = r"\s*(?:\w+\s+)?(?:have|has|are|is|get|stand|haben|hat|sind|werden|kommen)\s+(?:(?:an?|much|very|far|eine?|viel|deutlich)\s+)*(?:less|little|few|fewer|rare\w*|seldom|smaller|poor\w*|unlikely|weniger|selten\w*|geringere?|kaum)\b"


def _less_liked(sentence: Stated, hit: re.Match[str]) -> bool:
    """Whether it is told that such pictures have less of a chance: *upright pictures are rarely used*."""
    return patterns.match(_LESS, sentence.said[hit.end() :], _I) is not None
