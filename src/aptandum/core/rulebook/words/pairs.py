"""Two quantities of one sentence that are meant together: the last two of its drafts are put right by each other."""

from __future__ import annotations

import re
from dataclasses import replace

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.bounding import LOWER, UPPER
from aptandum.core.rulebook.words.draft import Draft
from aptandum.core.rulebook.words.stated import Stated

_I = int(re.I)


def put_right(sentence: Stated, made: list[Draft]) -> None:
    """Put the last two drafts of a sentence right, in place.

    Args:
        made: its drafts so far.
    """
    _wished_for(sentence, made)
    _of_one_side(sentence, made)
    _either_side(sentence, made)


def _alike(one: Draft, other: Draft) -> bool:
    """Whether a figure and the least that is taken are in one unit."""
    units = [re.sub(r"[\d.,x× ]", "", str(one.fields.get("exactly", "")))]
    units += [re.sub(r"[\d.,x× ]", "", str(other.fields["at_least"]))] if "at_least" in other.fields else []  # fmt: skip
    return len(units) == 2 and units[0] == units[1]


_HOWEVER = r"\s*(?:px|pixels?|Pixel)?\s*,?\s*(?:but |aber |jedoch )?(?:at least|mindestens|wenigstens|mind\.|min\.|not less than|no less than|nicht weniger als) (?:but |however |jedoch |aber |doch )?"
"""*600 dpi, but at least 300 dpi*."""


def _wished_for(sentence: Stated, made: list[Draft]) -> None:
    """*Longest side 3000 px (minimum 2000 px)*: the first is wished for, and the bound in brackets is the rule; whether it
    is meant so a person says."""
    if len(made) < 2 or not made[-1].numbers or not made[-2].numbers:
        return
    one, other = made[-2:]
    between = " ".join(["", *sentence.text[one.numbers[-1][1] : other.numbers[0][0]].split(), ""])
    if (
        one.fields["measure"] == other.fields["measure"]
        and "exactly" in one.fields
        and {"at_least", "at_most"} & other.fields.keys()
        and (
            patterns.match(r"\s*(?:px|pixels?|Pixel)?\s*\([^()]*$", between, _I)
            or (_alike(one, other) and patterns.fullmatch(_HOWEVER, between, _I))
        )
    ):
        wish = {**one.fields, "strength": "should"}
        made[-2] = replace(one, fields=wish, certainty="doubtful", readings=(one.fields,))


_SIDES = ("width", "height", "longest_side", "shortest_side")


def _of_one_side(sentence: Stated, made: list[Draft]) -> None:
    """*At least 600, at most 3000 px wide*: what side it is, is said once behind both."""
    if len(made) < 2 or not made[-1].numbers or not made[-2].numbers:
        return
    one, other = made[-2:]
    between = " ".join(["", *sentence.text[one.numbers[-1][1] : other.numbers[0][0]].split(), ""])
    bounds = [next((key for key in (*LOWER, *UPPER) if key in d.fields), "") for d in (one, other)]
    opposite = {bound in LOWER for bound in bounds} == {True, False} and "" not in bounds
    guessed = one.certainty == "doubtful" and {r.get("measure") for r in one.readings} >= {"width", "height"}  # fmt: skip
    side = other.fields.get("measure")
    joined = patterns.match(r"\s*(?:px|pixels?|Pixeln?)?\s*(?:\([^().;]*\))?\s*(?:,|and|but|und|aber|to|bis|–|-|or|oder)", between, _I)  # fmt: skip
    if opposite and guessed and joined and side in _SIDES and other.certainty == "sure":
        made[-2] = replace(
            one, fields={**one.fields, "measure": side}, certainty="sure", readings=()
        )


def _either_side(sentence: Stated, made: list[Draft]) -> None:
    """*1920 px wide or 1080 px high*: whichever is reached first, so that neither is passed; that both are meant a person
    may say."""
    if len(made) < 2 or not made[-1].numbers or not made[-2].numbers:
        return
    one, other = made[-2:]
    between = sentence.text[one.numbers[-1][1] : other.numbers[0][0]]
    sides = {one.fields["measure"], other.fields["measure"]}
    _in_brackets(sentence, made)
    either = patterns.search(r"^[^.;]*\b(?:or|oder)\b", between, _I)
    least = "at_least" in one.fields and "at_least" in other.fields
    before = sentence.text[sentence.start : one.numbers[0][0]]
    if (
        sides == {"width", "height"}
        and least
        and patterns.search(r"^[^.,;]*\b(?:or|oder)\b(?! (?:more|mehr|\w+er)\b)", between, _I)
        and not patterns.search(rf"\b(?:{sentence.words.negation})\b", before, _I)
    ):
        for at, draft in ((-2, one), (-1, other)):  # “at least 2000 px wide or 2000 px tall”
            longest = {**draft.fields, "measure": "longest_side"}
            made[at] = replace(draft, certainty="doubtful", readings=(longest,))
    if (
        sides == {"width", "height"}
        and "exactly" in one.fields
        and "exactly" in other.fields
        and either
    ):
        for at, draft in ((-2, one), (-1, other)):
            fields = dict(draft.fields)
            fields["at_most"] = fields.pop("exactly")
            made[at] = replace(draft, fields=fields, certainty="doubtful", readings=(draft.fields,))


def _in_brackets(sentence: Stated, made: list[Draft]) -> None:
    """*1200 px width / 1200 px height (max)*: what stands in brackets at the end is said of both."""
    one, other = made[-2:]
    between = sentence.text[one.numbers[-1][1] : other.numbers[0][0]]
    behind = sentence.text[other.numbers[-1][1] : sentence.end]
    bound = next((key for key in (*LOWER, *UPPER) if key in other.fields), None)
    if (
        bound is not None
        and "exactly" in one.fields
        and patterns.fullmatch(r"\s*(?:\w+\s*)?(?:/|x|×|by|and|und)\s*", between, _I)
        and patterns.match(r"\s*\w*\s*\((?:max|min)\w*\.?\)", behind, _I)
    ):
        fields = {bound if key == "exactly" else key: v for key, v in one.fields.items()}
        made[-2] = replace(one, fields=fields)
