"""What a brief's allowed sizes come to, in words."""

from __future__ import annotations

from aptandum.core.brief.model import Brief, Clause, Condition
from aptandum.core.brief.registry import known
from aptandum.core.figures import (
    grouped,
    show_aspect,
    show_factor,
    show_factor_up,
    show_megapixels,
    show_pixels,
    show_size,
)
from aptandum.core.photo.limits import MOST_SIDE
from aptandum.core.quantity import NAMED
from aptandum.core.sizes.binds import TURNED
from aptandum.core.sizes.cells import Cell
from aptandum.core.sizes.conflicts import Change, changes, contradiction, turns_left_out
from aptandum.core.sizes.least import largest_of, smallest_of
from aptandum.core.sizes.region import USEFUL, Allowed, allowed, asked, region_of
from aptandum.core.sizes.rows import Size
from aptandum.core.sizes.wished import taken_by, would_be
from aptandum.core.words import commas, joined, listed, say, sentences


def condition_said(condition: Condition) -> str:
    """On what a clause depends, to stand in a sentence: ``format PNG``."""
    measure = known(condition.measure)
    title = measure.title[:1].lower() + measure.title[1:]
    return say("{title} {limit}", title=title, limit=condition.limit.says(measure.kind))


def clause_said(clause: Clause) -> str:
    """A clause in a few words: ``Longest side, at most 1 600 px``."""
    if clause.measure is None or clause.limit is None:
        return clause.ask or clause.id
    measure = known(clause.measure)
    said = say("{title}, {limit}", title=measure.title, limit=clause.limit.says(measure.kind))
    if clause.applies:
        turns = listed([NAMED[turn] for turn in clause.applies])
        said = say("{clause} ({turns})", clause=said, turns=turns)
    if clause.when is not None:
        said = say(
            "{clause} (with {condition})", clause=said, condition=condition_said(clause.when)
        )
    return said


_NEXT_INCH = 100
"""So near to the longest side that can be is one that has no limit, and prints at a whole number of pixels per inch."""


def cell_said(cell: Cell) -> str:
    """What one part of the allowed sizes comes to."""
    if cell.w_lo == cell.w_hi and cell.h_lo == cell.h_hi:
        return say("{turn}: {size}", turn=NAMED[cell.turn], size=show_size((cell.w_lo, cell.h_lo)))
    parts: list[str] = [NAMED[cell.turn]]
    if cell.aspects and cell.turn != "square":
        parts.append(listed([show_aspect(shape) for shape in cell.aspects], "and"))
    elif cell.a_lo is not None and cell.a_hi is not None and cell.turn != "square":
        parts.append(
            say("{low} to {high}", low=show_aspect(cell.a_lo), high=show_aspect(cell.a_hi))
        )
    elif cell.paper is not None and cell.paper.shape is not None and cell.turn != "square":
        parts.append(show_aspect(cell.paper.shape))
    shape = cell.fixed_shape
    if shape is not None:
        low, high = smallest_of(cell, shape), largest_of(cell, shape, MOST_SIDE, MOST_SIDE)
        most = MOST_SIDE if cell.paper is None else MOST_SIDE - _NEXT_INCH
        if low == high and low:
            parts.append(show_size(low))
        elif low and high and max(high) < most and max(low) > 2:
            parts.append(say("from {low} to {high}", low=show_size(low), high=show_size(high)))
        elif high and max(high) < most:
            parts.append(say("up to {size}", size=show_size(high)))
        elif low and max(low) > 2:
            parts.append(say("from {size} up", size=show_size(low)))
        return commas(parts)
    for name, lo, hi in (
        (say("width"), cell.w_lo, cell.w_hi),
        (say("height"), cell.h_lo, cell.h_hi),
    ):
        if lo == hi:
            parts.append(say("{side} {n}", side=name, n=show_pixels(lo)))
        elif lo > 1 and hi < MOST_SIDE:
            parts.append(say("{side} {lo} to {hi}", side=name, lo=grouped(lo), hi=show_pixels(hi)))
        elif lo > 1:
            parts.append(say("{side} at least {n}", side=name, n=show_pixels(lo)))
        elif hi < MOST_SIDE:
            parts.append(say("{side} at most {n}", side=name, n=show_pixels(hi)))
    if cell.area_lo is not None:
        parts.append(say("at least {n}", n=show_megapixels(cell.area_lo / 1e6)))
    if cell.area_hi is not None:
        parts.append(say("at most {n}", n=show_megapixels(cell.area_hi / 1e6)))
    return commas(parts) if len(parts) > 1 else say("{turn}: any size", turn=NAMED[cell.turn])


def change_said(change: Change, photo: Size) -> str:
    """One single change, as a sentence's end: ``160 more pixels on the longest side``."""
    if change.kind == "turn":
        return say("an upright photo") if photo[0] > photo[1] else say("a landscape photo")
    if change.kind == "enlarge":
        return say(
            "enlarging {n}, which “{clause}” forbids",
            n=show_factor_up(change.factor),
            clause=clause_said(change.clause),
        )
    across, up = change.missing
    if across and up:
        return say("{w} more pixels across and {h} more up", w=grouped(across), h=grouped(up))
    longest = bool(across) == (photo[0] >= photo[1])
    side = say("longest side") if longest else say("shortest side")
    if photo[0] == photo[1]:
        side = say("width") if across else say("height")
    return say("{n} more pixels on the {side}", n=grouped(across or up), side=side)


def left_said(brief: Brief, clauses: tuple[Clause, ...]) -> str:
    """Why recommendations are left aside, as a sentence."""
    musts = asked(brief, "must")
    limits = {clause.id: limit for clause, limit in brief.limits()}
    against = [c for c in clauses if not region_of([*musts, (c, limits[c.id])]).useful]
    small = [c for c in clauses if c not in against]
    said = []
    if small:
        named = listed([f"“{clause_said(clause)}”" for clause in small], "and")
        said.append(
            say("{clauses} is recommended; the photo has too few pixels for it.", clauses=named)
            if len(small) == 1
            else say(
                "{clauses} are recommended; the photo has too few pixels for them.", clauses=named
            )
        )
    if against:
        named = listed([f"“{clause_said(clause)}”" for clause in against], "and")
        said.append(
            say("{clauses} is recommended, and contradicts what is required.", clauses=named)
            if len(against) == 1
            else say("{clauses} are recommended, and contradict what is required.", clauses=named)
        )
    return sentences(said)


def contradiction_said(brief: Brief) -> str:
    """Which clauses contradict one another, as a sentence; empty where none do."""
    blamed = contradiction(brief)
    if not blamed:
        return ""
    named = listed([f"“{clause_said(clause)}”" for clause in blamed], "and")
    largest = allowed(brief).largest()
    if len(blamed) == 1:
        return say("No size meets {clauses}.", clauses=named)
    if largest is not None and max(largest) < USEFUL:
        return say(
            "{clauses} contradict one another: together they leave nothing above {size}.",
            clauses=named,
            size=show_size(largest),
        )
    return say("{clauses} contradict one another: no size meets them together.", clauses=named)


def telling(sizes: Allowed) -> tuple[Cell, ...]:
    """The cells that say what is allowed: none that is a speck beside others, or lies in another."""
    proper = [cell for cell in sizes.cells if not cell.sliver]
    large = [c for c in proper if max(c.largest() or (0, 0)) >= USEFUL] or proper
    return tuple(
        cell
        for i, cell in enumerate(large)
        if not any(cell.lies_in(other) for other in (*large[:i], *large[i + 1 :]) if other != cell)
    )


def in_short(brief: Brief) -> str:
    """A brief's sizes in one line: ``upright: 630 × 840 px``."""
    wrong = contradiction_said(brief)
    if wrong:
        return wrong
    return joined([cell_said(cell) for cell in telling(allowed(brief))])


def describe(brief: Brief, photo: Size | None = None) -> list[str]:
    """Sentences on the sizes that a brief allows, and what a photo of a size can give."""
    wrong = contradiction_said(brief)
    if wrong:
        return [wrong]
    sizes = allowed(brief)
    said = [cell_said(cell) for cell in telling(sizes)]
    if brief.bound(TURNED, None) is None:
        said += [say("{turn}: no size", turn=NAMED[turn]) for turn in turns_left_out(brief)]
    if photo is not None:
        said.append(photo_said(brief, photo))
        way = way_said(brief, photo)
        said += [way] if way else []
    return said


def way_said(brief: Brief, photo: Size) -> str:
    """Which way of a choice a photo of a size would take and why, as a sentence; empty where the brief
    leaves none."""
    taken = taken_by(brief, photo)
    if taken is None:
        return ""
    why = {
        "only": say("no other has a size for it"),
        "enlarged": say("for any other it would be enlarged more"),
        "cut": say("the least is cut away"),
        "reduced": say("it is reduced least"),
    }
    if not taken.by:
        return say(
            "Takes “{way}”, the first of those that change it as little.", way=taken.bundle.name
        )
    return say("Takes “{way}”: {why}.", way=taken.bundle.name, why=why[taken.by])


def photo_said(brief: Brief, photo: Size) -> str:
    """What a photo of a size can give to a brief, in a sentence."""
    wanting = changes(brief, photo)
    if wanting:
        ways = listed([change_said(change, photo) for change in wanting])
        return say(
            "From {photo}: not possible; what would make it so: {ways}.",
            photo=show_size(photo),
            ways=ways,
        )
    target = would_be(brief, photo)
    if target is None:
        return say("From {photo}: no size can be cut.", photo=show_size(photo))
    line = say(
        "From {photo}: {size}, {shape}",
        photo=show_size(photo),
        size=show_size(target.size),
        shape=show_aspect(target.shape),
    )
    if target.enlargement > 1 + 1e-9:
        line = say("{what}, enlarged {n}", what=line, n=show_factor(target.enlargement))
    return line
