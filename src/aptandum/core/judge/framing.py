"""The mend that all clauses on pixels share: the frame and size that meet them together."""

from __future__ import annotations

from fractions import Fraction

from aptandum.core.figures import show_aspect, show_factor, show_size
from aptandum.core.judge.measure import Mend, Miss
from aptandum.core.sizes.conflicts import changes, contradiction
from aptandum.core.sizes.region import allowed
from aptandum.core.sizes.said import change_said
from aptandum.core.words import listed, say

_HAND_BACK = {"frame.output": None}
"""Resolving brings any window to an allowed shape and size; only a size set by hand stops it."""


def mend_frame(miss: Miss) -> Mend | None:
    """What cut and size would meet the missed clause and all others on pixels with it.

    Where the photo cannot, the words say what could; where the clauses contradict one another
    there is no mend.
    """
    photo = miss.reading.source
    if photo is None and miss.reading.origin == "supplied":
        photo = miss.reading.facts.size
    if photo is None or contradiction(miss.brief):
        return None
    ways = changes(miss.brief, photo)
    if ways:
        said = listed([change_said(way, photo) for way in ways if way.kind != "enlarge"])
        return Mend(say("This photo is too small for it; what would do: {ways}", ways=said))
    target = allowed(miss.brief).cut(*photo)
    if target is None:
        return None
    size, shape = show_size(target.size), show_aspect(target.shape)
    if Fraction(*photo) == target.shape or target.size == photo:
        words = say("Write it at {size}", size=size)
    else:
        words = say("Cut to {shape} and write it at {size}", shape=shape, size=size)
    if target.enlargement > 1 + 1e-9:
        words = say("{what}, enlarged {n}", what=words, n=show_factor(target.enlargement))
    return Mend(words, _HAND_BACK)
