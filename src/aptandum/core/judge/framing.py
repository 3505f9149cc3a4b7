"""The mend that all clauses on pixels share: the frame and size that meet them together."""

from __future__ import annotations

from aptandum.core.figures import show_aspect, show_factor, show_size
from aptandum.core.judge.measure import Mend, Miss
from aptandum.core.sizes.conflicts import caps, changes, contradiction
from aptandum.core.sizes.least import Box, least
from aptandum.core.sizes.region import Allowed, asked, region_of
from aptandum.core.sizes.said import change_said
from aptandum.core.sizes.wished import would_be
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
    advised = not any(
        clause.strength == "must"
        for clause, limit in miss.brief.limits()
        if any(face is miss.limit for face in limit.faces)
    )
    if advised:
        most = {turn: factor for turn, (factor, _clause) in caps(miss.brief).items()}
        target = least(_with_wish(miss).cells, Box.of(*photo), "cut", most)
    else:
        target = would_be(miss.brief, photo)
    if target is None:
        return None
    size, shape = show_size(target.size), show_aspect(target.shape)
    if target.whole or target.size == photo:
        words = say("Write it at {size}", size=size)
    else:
        words = say("Cut to {shape} and write it at {size}", shape=shape, size=size)
    if target.enlargement > 1 + 1e-6:
        words = say("{what}, enlarged {n}", what=words, n=show_factor(target.enlargement))
    if advised:
        return Mend(words, {"frame.output": f"{target.size[0]} x {target.size[1]}"})
    return Mend(words, _HAND_BACK)


def _with_wish(miss: Miss) -> Allowed:
    """The sizes that meet every rule and the one recommendation that is missed."""
    every = [
        (clause, limit)
        for clause, limit in asked(miss.brief, "should")
        if clause.strength == "must" or any(face is miss.limit for face in limit.faces)
    ]
    return region_of(every)
