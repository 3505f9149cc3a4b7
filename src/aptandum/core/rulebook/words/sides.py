"""Lengths of a head, which are rules only beside the printed side that they are a part of."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from aptandum.core.rulebook.words.draft import Draft

_ALONG = {"head_height": 1, "headroom": 1, "eye_line": 1, "head_offset": 0, "head_width": 0}
"""Measures of a head that may be lengths, and the side that they are a part of: 0 across, 1 up."""


def with_sides(drafts: Sequence[Draft]) -> list[Draft]:
    """The drafts with every length of a head that no printed side is named for as a question: how large it
    is in the picture cannot be known."""
    made = []
    for draft in drafts:
        fields = draft.fields
        axis = _ALONG.get(str(fields.get("measure")))
        lengths = re.search(r"\d (?:mm|cm|in)\b", str(fields))
        if (
            axis is not None
            and lengths
            and not any(_names_side(other, axis, draft) for other in drafts)
        ):
            strength = {"strength": "should"} if "strength" in fields else {}
            draft = replace(
                draft,
                fields={"ask": " ".join(draft.quote.split()), **strength},
                certainty="doubtful",
                readings=(fields,),
            )
        made.append(draft)
    return made


def _names_side(draft: Draft, axis: int, head: Draft) -> bool:
    """Whether a draft says how long the side is that a head's length is a part of, wherever that holds."""
    fields = draft.fields
    named = ("size", "print_width" if axis == 0 else "print_height")
    exact = fields.get("measure") in named and "exactly" in fields
    there = fields.get("when") in (None, head.fields.get("when"))
    printed = re.search(r"(?:mm|cm|in)\b", str({**fields, "when": ""}))
    return draft.brief == head.brief and exact and there and bool(printed)
