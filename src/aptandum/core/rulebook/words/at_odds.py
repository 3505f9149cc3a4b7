"""Rules of one text that cannot hold together as they were read: what of it is told by the text itself is put right, and
what is not is asked."""

from __future__ import annotations

import re
from dataclasses import replace
from itertools import product

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.draft import Draft
from aptandum.core.rulebook.words.lexicon import Lexicon
from aptandum.core.rulebook.words.quantities import quantities
from aptandum.core.rulebook.words.sentence import OF_POSE

_I = int(re.I)
_ONE_VALUE = (
    "size", "width", "height", "longest_side", "shortest_side", "aspect", "ppi", "bits", "print_width", "print_height", "progressive", "channels", "orientation",
    "transparency", "profile", "frames", "bits_per_pixel", "metadata", "location",
)  # fmt: skip
"""Measures of which a picture has one value."""
_ENOUGH = r"\b(?:enough|sufficient|suffices?|genügen|genügt|reicht|reichen|ausreichend)\b"
_LABEL = r"\W*([^\W\d][\w'’/ -]{1,40}?)\s*(?:\([^)]*\)\s*)?:\s"
_SIZE = r"(\d+(?:\.\d+)?) x (\d+(?:\.\d+)?)"
_ROUNDED = 0.025
"""The share by which a length may be off that is told in another unit too."""
_FEW_SENTENCES = 300
"""Letters before *within these dimensions* in which the size that it speaks of is looked for."""
_NEAR = 0.02
"""The share by which a proportion that is written in short may be off."""


def put_right(drafts: list[Draft], text: str, words: Lexicon) -> list[Draft]:
    """The drafts without two that cannot both hold."""
    drafts = _as_wide_as_tall(_fitting_within(_each_way(drafts, text, words), text, words))
    drafts = _by_label(_without_turns(_in_other_units(drafts, text)), words)
    return _asked(_taken_too(_enough(drafts, text, words), text, words))


def _without_turns(drafts: list[Draft]) -> list[Draft]:
    """The drafts without *landscape* as a rule of its own, where the sentence says what holds for either way up."""
    ways: dict[tuple[int, int], set[object]] = {}
    for draft in drafts:
        if "applies" in draft.fields:
            ways.setdefault((draft.start, draft.end), set()).add(str(draft.fields["applies"]))
    return [
        d
        for d in drafts
        if d.fields.get("measure") != "orientation" or len(ways.get((d.start, d.end), ())) < 2
    ]


def _each_way(drafts: list[Draft], text: str, words: Lexicon) -> list[Draft]:
    """*Yaw, pitch and roll at most 5 degrees*: each of them."""
    made = []
    for draft in drafts:
        made.append(draft)
        if draft.fields.get("measure") not in OF_POSE.values() or not draft.numbers:
            continue
        at = draft.numbers[0][0]
        before = max(
            (d.numbers[0][1] for d in drafts if d.numbers and d.numbers[0][1] <= at),
            default=draft.start,
        )
        said = text[max(before, draft.start) : at]
        if before > draft.start:  # “5 degrees tilted and …” says it of the number before
            ways = "|".join(words.topics[topic] for topic in OF_POSE)
            said = patterns.sub(rf"^\s*(?:{ways})\b", "", said, _I)
        for topic, measure in OF_POSE.items():
            if measure != draft.fields["measure"] and patterns.search(
                rf"\b(?:{words.topics[topic]})\b", said, _I
            ):
                made.append(replace(draft, fields={**draft.fields, "measure": measure}))
    return made


_MM = {"mm": 1.0, "cm": 10.0, "in": 25.4}
_BYTES = {"bytes": 1.0, "KB": 1e3, "KiB": 1024.0, "MB": 1e6, "MiB": 1024.0**2, "GB": 1e9}


def _in_other_units(drafts: list[Draft], text: str) -> list[Draft]:
    """*2 x 2 in (51 x 51 mm)*: one rule, said once more in another unit; the first counts."""
    made: list[Draft] = []
    for draft in drafts:
        last = made[-1] if made else None
        between = (
            text[last.numbers[-1][1] : draft.numbers[0][0]]
            if last and last.numbers and draft.numbers
            else ""
        )
        if (
            last is not None
            and re.fullmatch(r"\W{0,3}[(/]\s*", between)
            and _told_again(last, draft)
        ):
            made[-1] = replace(last, numbers=(*last.numbers, *draft.numbers))
        else:
            made.append(draft)
    return made


def _told_again(one: Draft, other: Draft) -> bool:
    """Whether two rules are the same but for their unit."""
    if one.fields.keys() != other.fields.keys() or one.brief != other.brief:
        return False
    for key, value in one.fields.items():
        if value == other.fields[key]:
            continue
        pair = _amounts(value), _amounts(other.fields[key])
        if None in pair or len(pair[0] or ()) != len(pair[1] or ()):
            return False
        if any(
            abs(a / b - 1) > _ROUNDED for a, b in zip(pair[0] or (), pair[1] or (), strict=True)
        ):
            return False
    return True


def _amounts(value: object) -> tuple[float, ...] | None:
    """The numbers of a value in its kind's smallest unit; ``None``: it has no unit that is known."""
    made: list[float] = []
    if isinstance(value, str) and patterns.fullmatch(r"[\d.]+:[\d.]+", value):
        wide, high = (float(part) for part in value.split(":"))
        return (wide / high,) if wide and high else None
    for one in value if isinstance(value, list) else [value]:
        *numbers, unit = str(one).replace(" x ", " ").split(" ")
        each = _MM.get(unit) or _BYTES.get(unit)
        try:
            whole = [float(n) for n in numbers if "/" not in n]
            part = [float(n.split("/")[0]) / float(n.split("/")[1]) for n in numbers if "/" in n]
        except (ValueError, ZeroDivisionError):
            return None
        if each is None or not numbers or min(whole + part) <= 0:
            return None
        made += [n * each for n in whole] if not part else [(sum(whole) + sum(part)) * each]
    return tuple(made)


def _back(text: str, at: int) -> int:
    """Where the few sentences before a place begin, in its own paragraph."""
    far = max(0, at - _FEW_SENTENCES)
    stop = max(text.rfind("\n\n", far, at), far)
    cut = text.find(". ", stop, at) if stop == far > 0 else stop  # not in the middle of a number
    return cut if cut >= 0 else at


def _fitting_within(drafts: list[Draft], text: str, words: Lexicon) -> list[Draft]:
    """*Projected at 1400 x 1050. Yours have to fit within these dimensions*: the size named before is the largest."""
    made = list(drafts)
    for hit in patterns.finditer(rf"\b(?:{words.within_it})", text, _I):
        begin = _back(text, hit.start())
        sizes = [q for q in quantities(text, begin, hit.start(), words) if q.kind == "size"]
        if not sizes:
            continue
        at = sizes[-1].start, sizes[-1].end
        fields = {"measure": "size", "at_most": sizes[-1].values[-1]}
        asked = next(
            (d for d in made if d.start <= hit.start() < d.end and "ask" in d.fields), None
        )
        made = [d for d in made if d is not asked]
        told = [d for d in made if any(a < at[1] and at[0] < b for a, b in d.numbers)]
        if told and _is_one_size(told[0]):
            kept = {k: v for k, v in told[0].fields.items() if k != "exactly"}
            sure = replace(told[0], fields={**kept, **fields}, certainty="sure", readings=())
            made = [sure if d is told[0] else d for d in made]
        elif not told:
            quote, brief = text[at[0] : hit.end()], asked.brief if asked is not None else ""
            made.append(Draft(fields, quote, at[0], hit.end(), brief, numbers=(at,)))
    return sorted(made, key=lambda draft: draft.start)


def _as_wide_as_tall(drafts: list[Draft]) -> list[Draft]:
    """A proportion that names the longer side first, though the size beside it is upright: *1600 x 2560 (1.6:1)*."""
    made = []
    for draft in drafts:
        value = str(draft.fields.get("exactly", ""))
        if draft.fields.get("measure") == "aspect" and value.count(":") == 1:
            wide, high = value.split(":")
            shapes = [_shape(other) for other in drafts if _same_place(other, draft)]
            off = [abs(shape * float(wide) / float(high) - 1) < _NEAR for shape in shapes if shape]
            if off and all(off) and abs(float(wide) / float(high) - 1) > _NEAR:
                draft = replace(draft, fields={**draft.fields, "exactly": f"{high}:{wide}"})
        made.append(draft)
    return made


def _shape(draft: Draft) -> float:
    """Width over height of the one size that a draft asks for; 0: it asks for none."""
    hit = re.match(_SIZE, str(draft.fields.get("exactly", "")))
    sized = draft.fields.get("measure") == "size" and hit is not None
    return float(hit[1]) / float(hit[2]) if sized and hit is not None and float(hit[2]) else 0.0


def _same_place(one: Draft, other: Draft) -> bool:
    return one.brief == other.brief and one.start < other.end and other.start < one.end


def _by_label(drafts: list[Draft], words: Lexicon) -> list[Draft]:
    """*Header: 1500 x 500. Avatar: 400 x 400.* are two pictures; what has no such name before it is about both. Where the
    names are ways up, they are those of one."""
    if any(draft.brief for draft in drafts):
        return drafts
    named: dict[tuple[int, int], str] = {}
    sizes = []
    for draft in drafts:
        label = patterns.match(_LABEL, draft.quote)
        if label is not None and _is_one_size(draft):
            named[draft.start, draft.end] = label[1].strip()
            sizes.append(draft)
    degrees = rf"(?:{words.should}|{words.optional}|(?:un)?acceptable|accepted|annehmbar|zulässig|possible|möglich)"
    if any(patterns.fullmatch(degrees, name, _I) for name in named.values()):
        return drafts  # “Ideal: 2400 x 1600. Acceptable: 1200 x 800.” are one picture
    if len(set(named.values())) < len(sizes) or not any(map(_at_odds, sizes, sizes[1:])):
        return drafts
    turns = [_turn(name, words) for name in named.values()]
    if all(turns):
        ways = dict(zip(named, turns, strict=True))
        return [
            replace(d, fields={**d.fields, "applies": ways[d.start, d.end]})
            if _is_one_size(d) and (d.start, d.end) in ways
            else d
            for d in drafts
            if not (d.fields.get("measure") == "orientation" and (d.start, d.end) in ways)
        ]
    return [replace(d, brief=named.get((d.start, d.end), "")) for d in drafts]


def _turn(label: str, words: Lexicon) -> str | None:
    """The way up that a name speaks of, and of nothing else."""
    bare = re.sub(rf"\s+\w*(?:{words.pictures_at_all})\w*$", "", label, flags=_I)
    for turn, said in words.turns.items():
        ways = (label, f"{label} format", bare, f"{bare} format")
        if any(patterns.fullmatch(f"(?:{said})", one, _I) for one in ways):
            return turn
    return None


def _is_one_size(draft: Draft) -> bool:
    return draft.fields.get("measure") == "size" and isinstance(draft.fields.get("exactly"), str)


def _at_odds(one: Draft, other: Draft) -> bool:
    """Whether two sizes cannot both hold of some picture."""
    turns = {one.fields.get("applies"), other.fields.get("applies")}
    return one.fields["exactly"] != other.fields["exactly"] and (len(turns) == 1 or None in turns)


def _taken_too(drafts: list[Draft], text: str, words: Lexicon) -> list[Draft]:
    """*Preferably 3:2 but 4:3 is fine* takes either, and wishes for the first. What is not said to be taken, and cannot
    be beside what is wished for, is doubted."""
    taken = rf"\b(?:{words.optional}|{words.also}|{words.taken})\b"
    made = []
    wished: dict[tuple[str, ...], list[str]] = {}
    for draft in drafts:
        if _one_of_one(draft) and _wished(draft):
            wished.setdefault(_about(draft)[:-1], []).append(str(draft.fields["exactly"]))
    for draft in drafts:
        wishes = wished.get(_about(draft)[:-1], [])
        if (
            wishes and not _wished(draft) and "one_of" in draft.fields
        ):  # “16:9 recommended, 4:3 and 1:1 accepted”
            every = list(dict.fromkeys([*wishes, *draft.fields["one_of"]]))
            draft = replace(draft, fields={**draft.fields, "one_of": every})
        if _one_of_one(draft) and not _wished(draft) and wishes and draft.numbers:
            (first, _), (_, last) = draft.numbers[0], draft.numbers[-1]
            behind = re.split(r"[,.;]", text[last : draft.end])[0]
            own = str(draft.fields["exactly"])
            otherwise = rf"\b(?:{words.otherwise})\b\W*(?:\w+\W+){{0,2}}$"
            if patterns.search(taken, behind, _I) or patterns.search(
                otherwise, text[draft.start : first], _I
            ):
                rest = {key: value for key, value in draft.fields.items() if key != "exactly"}
                least = patterns.search(_ENOUGH, behind, _I) and draft.fields["measure"] != "aspect"
                if least:
                    made.append(replace(draft, fields={**rest, "at_least": own}))
                    continue
                either = list(dict.fromkeys([*wishes, own]))
                draft = replace(draft, fields={**rest, "one_of": either})
            elif own not in wishes:
                draft = replace(draft, certainty="doubtful")
        made.append(draft)
    return made


def _enough(drafts: list[Draft], text: str, words: Lexicon) -> list[Draft]:
    """*1400 x 2100 px or more, but 1000 x 1500 px will do*: the second is the least, and the first is wished for."""
    made = list(drafts)
    least: dict[tuple[str, str], int] = {}
    for i, draft in enumerate(drafts):
        about = draft.brief, str(draft.fields.get("measure"))
        if "at_least" in draft.fields:
            least[about] = i
        before = least.get(about)
        if before is None or not (_one_of_one(draft) and draft.numbers):
            continue
        behind = re.split(r"[,.;]", text[draft.numbers[-1][1] : draft.end])[0]
        if _same_place(made[before], draft) and patterns.search(
            rf"\b(?:{words.also}|{words.taken})\b", behind, _I
        ):
            wish = made[before]
            made[before] = replace(wish, fields={**wish.fields, "strength": "should"})
            rest = {key: value for key, value in draft.fields.items() if key != "exactly"}
            made[i] = replace(draft, fields={**rest, "at_least": draft.fields["exactly"]})
    return made


def _wished(draft: Draft) -> bool:
    return draft.fields.get("strength") == "should"


def _asked(drafts: list[Draft]) -> list[Draft]:
    """What cannot hold beside what else was read for sure is asked: two values of what a picture has one of, two bounds of
    one kind, ends with nothing between them. What is only guessed casts no doubt on what is sure."""
    sure = [draft for draft in drafts if draft.certainty == "sure"]
    values: dict[tuple[str, ...], set[str]] = {}
    for draft in sure:
        for about, value in _bounds(draft):
            values.setdefault(about, set()).add(value)
    checks = (_beyond(sure), _other_side(sure), _nothing_between(sure), _not_of_these(sure))
    at_odds = iter([any(each) for each in zip(*checks, strict=True)])
    made = []
    for draft in drafts:
        if draft.certainty == "sure":
            several = any(len(values[about]) > 1 for about, _value in _bounds(draft))
            draft = replace(draft, certainty="doubtful") if next(at_odds) or several else draft
        made.append(draft)
    return made


def _bounds(draft: Draft) -> list[tuple[tuple[str, ...], str]]:
    """What a draft bounds, each with its number."""
    if _one_of_one(draft):
        return [(_about(draft), str(draft.fields["exactly"]))]
    keys = ("at_least", "at_most", "above", "below")
    if draft.fields.get("measure") not in (*_ONE_VALUE, "file_bytes", "megapixels"):
        return []
    return [((*_about(draft), key), str(draft.fields[key])) for key in keys if key in draft.fields]


def _beyond(drafts: list[Draft]) -> list[bool]:
    """For each draft whether the one value of a measure lies beyond a bound of the same that is told beside it."""
    groups: dict[tuple[str, ...], list[int]] = {}
    for i, draft in enumerate(drafts):
        brief, _printed, *rest = _about(draft)
        groups.setdefault((brief, *rest), []).append(i)
    found = [False] * len(drafts)
    for group in groups.values():
        values = [(i, *_plainly(drafts[i].fields["exactly"])) for i in group if _one_of_one(drafts[i])]  # fmt: skip
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
        brief, _printed, *rest = _about(draft)
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
        brief, _printed, *rest = _about(draft)
        held = [str(value) for value in draft.fields.get("one_of") or ()]
        value = str(draft.fields.get("exactly", ""))
        unit = _plainly((held or [value])[0])[1]
        if held:
            lists.setdefault((brief, unit, *rest), []).append((i, held))
        elif value:
            ones.setdefault((brief, unit, *rest), []).append((i, value))
    found = [False] * len(drafts)
    for about, several in lists.items():
        for (i, held), (k, value) in product(several, ones.get(about, [])):
            if value not in held:
                found[i] = found[k] = True
    return found


def _other_side(drafts: list[Draft]) -> list[bool]:
    """For each draft whether it asks for one width or height, or for one size, and another asks for a size or side that it
    cannot have beside it."""
    sizes: dict[tuple[str, ...], list[tuple[int, tuple[float, ...]]]] = {}
    sides: dict[tuple[str, ...], list[tuple[int, int, float]]] = {}
    for i, draft in enumerate(drafts):
        if _one_of_one(draft):
            brief, _printed, measure, *rest = _about(draft)
            value, unit = _plainly(draft.fields["exactly"])
            if measure == "size" and not unit and len(value) == 2:
                sizes.setdefault((brief, *rest), []).append((i, value))
            elif measure in ("width", "height") and value:
                sides.setdefault((brief, *rest), []).append((i, int(measure == "height"), value[0]))
    found = [False] * len(drafts)
    for about, held in sizes.items():
        for (i, size), (k, axis, side) in product(held, sides.get(about, [])):
            if size[axis] != side:
                found[i] = found[k] = True
    return found


def _plainly(value: object) -> tuple[tuple[float, ...], str]:
    """The numbers of a value, and its unit."""
    hit = patterns.fullmatch(rf"{_SIZE}( \w+)?|(\d+(?:\.\d+)?)( \w+)?", str(value))
    if hit is None:
        return (), ""
    numbers = [float(hit[i]) for i in (1, 2, 4) if hit[i]]
    return tuple(numbers), str(hit[3] or hit[5] or "").strip()


def _one_of_one(draft: Draft) -> bool:
    return draft.fields.get("measure") in _ONE_VALUE and isinstance(
        draft.fields.get("exactly"), str
    )


def _about(draft: Draft) -> tuple[str, ...]:
    of = draft.fields
    printed = str(bool(re.search(r"\d (?:mm|cm|in)$", str(of.get("exactly")))))  # beside its pixels
    return (
        draft.brief,
        printed,
        *(str(of.get(key)) for key in ("measure", "applies", "when", "strength")),
    )
