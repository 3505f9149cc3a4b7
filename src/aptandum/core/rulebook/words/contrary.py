"""What cannot hold beside what else was read of the same pictures: it is asked, so that no rule holds that nobody meant."""

from __future__ import annotations

import re
from dataclasses import replace
from itertools import product

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.draft import Draft

_ONE_VALUE = (
    "size", "width", "height", "longest_side", "shortest_side", "aspect", "ppi", "bits", "print_width", "print_height", "progressive", "channels", "orientation",
    "transparency", "profile", "frames", "bits_per_pixel", "metadata", "location",
)  # fmt: skip
"""Measures of which a picture has one value."""
SIDES = 2
Span = tuple[float, float]
Sides = tuple[Span | None, ...]
"""Width and height, of each from where to where it may lie; ``None``: nothing is said of it."""
SIZE = r"(\d+(?:\.\d+)?) x (\d+(?:\.\d+)?)"
"""A size as a rulebook writes it."""


def asked(drafts: list[Draft]) -> list[Draft]:
    """What cannot hold beside what else was read for sure is asked: two values of what a picture has one of, two bounds of
    one kind, ends with nothing between them. What is only guessed casts no doubt on what is sure."""
    sure = [draft for draft in drafts if draft.certainty == "sure"]
    values: dict[tuple[str, ...], set[str]] = {}
    for draft in sure:
        for key, value in _bounds(draft):
            values.setdefault(key, set()).add(value)
    checks = (
        _beyond(sure), _other_side(sure), _nothing_between(sure), _not_of_these(sure), _of_depth(sure), _turned(sure), _formats(sure), _in_print(sure), _in_one_case(sure),
    )  # fmt: skip
    at_odds = iter([any(each) for each in zip(*checks, strict=True)])
    made = []
    for draft in drafts:
        if draft.certainty == "sure":
            several = any(len(values[key]) > 1 for key, _value in _bounds(draft))
            draft = replace(draft, certainty="doubtful") if next(at_odds) or several else draft
        made.append(draft)
    return _doubted_once(made)


def _doubted_once(drafts: list[Draft]) -> list[Draft]:
    """The drafts without what a sentence says twice and is doubted: *A2, 420 x 594 mm, 3 mm bleed* is asked once."""
    said: set[str] = set()
    made = []
    for draft in drafts:
        key = repr((draft.start, draft.brief, sorted(draft.fields.items()), draft.readings))
        if draft.certainty != "doubtful" or key not in said:
            made.append(draft)
        if draft.certainty == "doubtful":
            said.add(key)
    return made


def _bounds(draft: Draft) -> list[tuple[tuple[str, ...], str]]:
    """What a draft bounds, each with its number."""
    if is_one(draft):
        return [(about(draft), str(draft.fields["exactly"]))]
    keys = ("at_least", "at_most", "above", "below")
    if draft.fields.get("measure") not in (*_ONE_VALUE, "file_bytes", "megapixels", "set_count"):
        return []
    return [((*about(draft), key), str(draft.fields[key])) for key in keys if key in draft.fields]


def _in_one_case(drafts: list[Draft]) -> list[bool]:
    """For each draft whether it says for one format alone another size than is asked of all: a picture beside them is meant."""
    every: dict[tuple[str, ...], set[str]] = {}
    for draft in drafts:
        held = (
            [str(draft.fields["exactly"])]
            if is_one(draft)
            else list(map(str, draft.fields.get("one_of") or ()))
        )
        if draft.fields.get("measure") == "size" and held and "when" not in draft.fields:
            every.setdefault(_all_but_when(draft), set()).update(held)
    return [
        draft.fields.get("measure") == "size" and is_one(draft) and "when" in draft.fields
        and str(draft.fields["exactly"]) not in every.get(_all_but_when(draft), {str(draft.fields["exactly"])})
        for draft in drafts
    ]  # fmt: skip


def _all_but_when(draft: Draft) -> tuple[str, ...]:
    fields = {key: value for key, value in draft.fields.items() if key != "when"}
    return about(replace(draft, fields=fields))


def _formats(drafts: list[Draft]) -> list[bool]:
    """For each draft whether it asks for one format, and another of the same pictures for another."""
    alone = [
        (d.brief, str(d.fields.get("strength")), str(d.fields["exactly"]))
        if d.fields.get("measure") == "format" and "exactly" in d.fields and "when" not in d.fields
        else None
        for d in drafts
    ]
    return [one is not None and any(o and o[:2] == one[:2] and o != one for o in alone) for one in alone]  # fmt: skip


_IN_PALETTE = 256


def _of_depth(drafts: list[Draft]) -> list[bool]:
    """For each draft whether it tells how many colours a screen has, *65,536 (16 bit)*: no file is asked to have so many."""
    many = {
        (d.brief, d.start)
        for d in drafts
        if d.fields.get("measure") == "colours" and _plainly(d.fields.get("exactly"))[0] > (_IN_PALETTE,)
    }  # fmt: skip
    return [
        (d.brief, d.start) in many and d.fields.get("measure") in ("colours", "bits", "bits_per_pixel")
        for d in drafts
    ]  # fmt: skip


def _turned(drafts: list[Draft]) -> list[bool]:
    """For each draft whether it is a bound of a size that lies where all stand upright, or the other way round."""
    ways = {d.brief: str(d.fields["exactly"]) for d in drafts if d.fields.get("measure") == "orientation" and is_one(d)}  # fmt: skip
    found = []
    for draft in drafts:
        value, _unit = _plainly(draft.fields.get("at_least"))
        upright = {"upright": True, "landscape": False}.get(ways.get(draft.brief, ""))
        size = draft.fields.get("measure") == "size" and "applies" not in draft.fields
        found.append(size and upright is not None and len(value) == 2 and value[0] != value[1]
                     and (value[0] < value[1]) != upright)  # fmt: skip
    return found


def _beyond(drafts: list[Draft]) -> list[bool]:
    """For each draft whether the one value of a measure lies beyond a bound of the same that is told beside it."""
    groups: dict[tuple[str, ...], list[int]] = {}
    for i, draft in enumerate(drafts):
        brief, _printed, *rest = about(draft)
        groups.setdefault((brief, *rest), []).append(i)
    found = [False] * len(drafts)
    for group in groups.values():
        values = [(i, *_plainly(drafts[i].fields["exactly"])) for i in group if is_one(drafts[i])]  # fmt: skip
        for key, sign in (("at_least", 1), ("at_most", -1)):
            limits = [
                (i, *_plainly(drafts[i].fields[key])) for i in group if key in drafts[i].fields
            ]
            for (i, value, unit), (k, limit, of) in product(values, limits):
                if unit == of and len(value) == len(limit):
                    off = any(sign * a < sign * b for a, b in zip(value, limit, strict=True))
                    found[i], found[k] = found[i] or off, found[k] or off
    return found


def _nothing_between(drafts: list[Draft]) -> list[bool]:
    """For each draft whether nothing is as large as it asks for and as small as another does."""
    ends: dict[tuple[str, ...], dict[str, list[tuple[int, tuple[float, ...], str]]]] = {}
    for i, draft in enumerate(drafts):
        brief, _printed, *rest = about(draft)
        held = ends.setdefault((brief, *rest), {"low": [], "high": []})
        between = draft.fields.get("between") or ()
        for side, key, value in (
            ("low", "at_least", (*between, None)[0]),
            ("high", "at_most", (*between[1:], None)[0]),
        ):
            said = draft.fields.get(key) or value
            numbers, unit = _plainly(said) if said is not None else ((), "")
            if numbers:
                held[side].append((i, numbers, unit))
    found = [False] * len(drafts)
    for held in ends.values():
        for (i, low, unit), (k, high, of) in product(held["low"], held["high"]):
            same = unit == of and len(low) == len(high)
            if same and any(a > b for a, b in zip(low, high, strict=True)):
                found[i] = found[k] = True
    return found


def _not_of_these(drafts: list[Draft]) -> list[bool]:
    """For each draft whether it asks for one value, and another for one of some that it is not among."""
    ones: dict[tuple[str, ...], list[tuple[int, str]]] = {}
    lists: dict[tuple[str, ...], list[tuple[int, list[str]]]] = {}
    for i, draft in enumerate(drafts):
        if draft.fields.get("measure") not in _ONE_VALUE:
            continue
        brief, _printed, *rest = about(draft)
        held = [str(value) for value in draft.fields.get("one_of") or ()]
        value = str(draft.fields.get("exactly", ""))
        unit = _plainly((held or [value])[0])[1]
        if held:
            lists.setdefault((brief, unit, *rest), []).append((i, held))
        elif value:
            ones.setdefault((brief, unit, *rest), []).append((i, value))
    found = [False] * len(drafts)
    for key, several in lists.items():
        for (i, held), (k, value) in product(several, ones.get(key, [])):
            if value not in held:
                found[i] = found[k] = True
    return found


def _other_side(drafts: list[Draft]) -> list[bool]:
    """For each draft whether it asks for one side, proportion or way up, or for one size, and another asks for a size that
    it cannot have beside it."""
    sizes: dict[tuple[str, ...], list[tuple[int, tuple[float, ...]]]] = {}
    others: dict[tuple[str, ...], list[tuple[int, str, str]]] = {}
    for i, draft in enumerate(drafts):
        if is_one(draft):
            brief, _printed, measure, *rest = about(draft)
            value, unit = _plainly(draft.fields["exactly"])
            if measure == "size" and not unit and len(value) == 2:
                sizes.setdefault((brief, *rest), []).append((i, value))
            elif not unit:
                said = str(draft.fields["exactly"])
                others.setdefault((brief, *rest), []).append((i, measure, said))
    found = [False] * len(drafts)
    for key, held in sizes.items():
        for (i, size), (k, measure, one) in product(held, others.get(key, [])):
            # What one sentence says of both a person is told to contradict; what two say may be of two pictures.
            apart = measure in ("width", "height") or drafts[i].quote != drafts[k].quote
            if apart and not _shaped(size, measure, one):
                found[i] = found[k] = True
    return found


_UNITS = {"mm": 25.4, "cm": 2.54, "in": 1.0}
"""Of a unit so many go into an inch."""
_OPEN = 1e9
_ABOUT = 0.02
"""The share by which pixels may be off those of a length at a resolution: bodies round both."""


def _in_print(drafts: list[Draft]) -> list[bool]:
    """For each draft whether it is a resolution that a size in print and one in pixels cannot have beside each other, as
    where the print is for paper and the pixels for a screen. Without it both hold: the file states another."""
    held: dict[str, dict[str, list[tuple[int, Sides]]]] = {}
    for i, draft in enumerate(drafts):
        found = _spans(draft)
        if found is not None:
            held.setdefault(draft.brief, {}).setdefault(found[0], []).append((i, found[1]))
    against = [False] * len(drafts)
    for kinds in held.values():
        every = (kinds.get(kind, []) for kind in ("ppi", "print", "pixels"))
        for (i, ppi), (_, lengths), (_, pixels) in product(*every):
            ways = (pixels, pixels[::-1]) if len(set(pixels)) == len(pixels) == SIDES else (pixels,)
            both = None not in lengths and None not in pixels
            some = ways if both else ways[:1]
            against[i] = against[i] or not any(_within(ppi[0], lengths, way) for way in some)
    return against


def _within(ppi: Span | None, lengths: Sides, pixels: Sides) -> bool:
    """Whether sides in inches can have so many pixels at a resolution."""
    sides = [
        (a, b) for a, b in zip(lengths, pixels, strict=True) if a is not None and b is not None
    ]
    return ppi is None or all(
        few <= long * ppi[1] * (1 + _ABOUT) and many >= short * ppi[0] * (1 - _ABOUT)
        for (short, long), (few, many) in sides
    )


_SIDES = {"size": "both", "width": "wide", "print_width": "wide", "height": "high", "print_height": "high", "ppi": ""}  # fmt: skip


def _spans(draft: Draft) -> tuple[str, Sides] | None:
    """Whether a draft is of a resolution, of a size in print (in inches) or of one in pixels, and from where to where its
    width and its height may lie."""
    of = draft.fields
    sides = _SIDES.get(str(of.get("measure")))
    if sides is None or of.get("strength") == "should" or {"when", "applies"} & of.keys():
        return None
    low, high = (*(of.get("between") or ()), None, None)[:2]
    if "exactly" in of:
        low = high = of["exactly"]
    values = [of.get("at_least", low), of.get("at_most", high)]
    if not all(isinstance(v, str) for v in values if v is not None):
        return None
    (lows, unit), (highs, of_most) = (_plainly(v) if v is not None else ((), "") for v in values)
    each = _UNITS.get(unit or of_most, 1.0)
    many = len(lows or highs)
    spans = [
        (lows[k] / each if lows else 0.0, highs[k] / each if highs else _OPEN) for k in range(many)
    ]
    if many != (SIDES if sides == "both" else 1):
        return None
    kind = "ppi" if not sides else "print" if (unit or of_most) in _UNITS else "pixels"
    if sides == "wide":
        return kind, (spans[0], None)
    return kind, (None, spans[0]) if sides == "high" else tuple(spans)


_NEARLY = 0.02
"""The share by which a proportion that is written in short may be off."""


def _shaped(size: tuple[float, ...], measure: str, value: str) -> bool:
    """Whether a picture of a size can have what else is asked of its shape."""
    wide, high = size
    sides = {"width": wide, "height": high, "longest_side": max(size), "shortest_side": min(size)}
    if measure in sides:
        return sides[measure] == float(value)
    if measure == "orientation":
        way = "square" if wide == high else "landscape" if wide > high else "upright"
        return value == way
    hit = patterns.fullmatch(r"([\d.]+):([\d.]+)", value) if measure == "aspect" else None
    if hit is None or not float(hit[1]) or not float(hit[2]) or not min(size):
        return True
    asked_for = float(hit[1]) / float(hit[2])
    # Held the other way it may be meant for what stands upright.
    return any(abs(one / asked_for - 1) <= _NEARLY for one in (wide / high, high / wide))


def _plainly(value: object) -> tuple[tuple[float, ...], str]:
    """The numbers of a value, and its unit."""
    hit = patterns.fullmatch(rf"{SIZE}( \w+)?|(\d+(?:\.\d+)?)( \w+)?", str(value))
    if hit is None:
        return (), ""
    numbers = [float(hit[i]) for i in (1, 2, 4) if hit[i]]
    return tuple(numbers), str(hit[3] or hit[5] or "").strip()


def is_one(draft: Draft) -> bool:
    """Whether a draft says the one value of something that a picture has one of."""
    return draft.fields.get("measure") in _ONE_VALUE and isinstance(
        draft.fields.get("exactly"), str
    )


def about(draft: Draft) -> tuple[str, ...]:
    """What a draft is about: two with the same are rules of one thing."""
    of = draft.fields
    printed = str(bool(re.search(r"\d (?:mm|cm|in)$", str(of.get("exactly")))))  # beside its pixels
    return (
        draft.brief,
        printed,
        *(str(of.get(key)) for key in ("measure", "applies", "when", "strength")),
    )
