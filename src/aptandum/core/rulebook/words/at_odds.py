"""Rules of one text that cannot hold together as they were read: what of it is told by the text itself is put right, and
what is not is asked."""

from __future__ import annotations

import re
from dataclasses import replace
from itertools import pairwise

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.contrary import SIZE, about, asked, is_one
from aptandum.core.rulebook.words.draft import Draft
from aptandum.core.rulebook.words.from_above import from_below
from aptandum.core.rulebook.words.lexicon import Lexicon
from aptandum.core.rulebook.words.quantities import quantities
from aptandum.core.rulebook.words.sentence import OF_POSE

_I = int(re.I)
_ENOUGH = (
    r"\b(?:enough|sufficient|suffices?|plenty|ample|genügen|genügt|reicht|reichen|ausreichend)\b"
)
_LABEL = r"\W*([^\W\d][\w'’/ -]{1,40}?)\s*(?:\([^)]*\)\s*)?:\s"
_ROUNDED = 0.025
"""The share by which a length may be off that is told in another unit too."""
_FEW_SENTENCES = 300
"""Letters before *within these dimensions* in which the size that it speaks of is looked for."""
_NEAR = 0.02
"""The share by which a proportion that is written in short may be off."""


def put_right(drafts: list[Draft], text: str, words: Lexicon) -> list[Draft]:
    """The drafts without two that cannot both hold."""
    drafts = _either_way_up(_each_way(from_below(drafts, text), text, words), text)
    drafts = _as_wide_as_tall(_high_first(_fitting_within(drafts, text, words)))
    drafts = _by_label(_without_turns(_in_other_units(drafts, text)), words)
    drafts = _one_will_do(_nothing_smaller(drafts, text, words), text)
    return asked(_in_round_figures(_taken_too(_enough(drafts, text, words), text, words)))


_NOTHING = r"\b(?:(?:do not|don't|never|please do not|please don't) (?:send|upload|use|submit)(?: us)? |nothing |bitte nichts |nichts )(?:anything )?(?P<less>smaller|lower|kleineres)\b(?! than| als)"


def _nothing_smaller(drafts: list[Draft], text: str, words: Lexicon) -> list[Draft]:
    """*The printer takes pictures of 648 x 825 pixels; please do not send anything smaller*: at least of that size."""
    made = list(drafts)
    for hit in patterns.finditer(_NOTHING, text, _I):
        begin = _back(text, hit.start())
        sizes = [q for q in quantities(text, begin, hit.start(), words) if q.kind == "size"]
        if not sizes:
            continue
        at = sizes[-1].start, sizes[-1].end
        if any(any(a < at[1] and at[0] < b for a, b in d.numbers) for d in made):
            continue  # it is a rule by itself
        asked_of = [d for d in made if d.start <= hit.start() < d.end and "ask" in d.fields]
        brief = asked_of[0].brief if asked_of else ""
        made = [d for d in made if d not in asked_of]
        fields = {"measure": "size", "at_least": sizes[-1].values[-1]}
        made.append(Draft(fields, text[at[0] : hit.end()], at[0], hit.end(), brief, numbers=(at,)))
    return sorted(made, key=lambda draft: draft.start)


_PIXELS = ("longest_side", "shortest_side", "width", "height", "size")


_OR_PIXELS = r"\s*(?:(?:at|with|bei|mit)\s+\d+\s*[dp]pi\s*)?,?\s*(?:or|oder)\s+"


def _one_will_do(drafts: list[Draft], text: str) -> list[Draft]:
    """*At least 12 megapixels or 4000 px*: either will do, which no clause says; so both are asked."""
    doubted = set()
    for one, other in (*pairwise(drafts), *zip(drafts, drafts[2:], strict=False)):
        if not one.numbers or not other.numbers:
            continue
        pair = {str(one.fields.get("measure")), str(other.fields.get("measure"))}
        between = text[one.numbers[0][1] : other.numbers[0][0]]
        printed = [
            bool(re.search(r" (?:mm|cm|in)$", str(d.fields.get("exactly")))) for d in (one, other)
        ]
        if (
            pair == {"size"}
            and printed[0] != printed[1]
            and patterns.fullmatch(_OR_PIXELS, between, _I)
        ):
            doubted |= {id(one), id(other)}  # “50 x 50 mm at 300 dpi or 600 x 600 pixels”
        if "megapixels" in pair and pair & set(_PIXELS) and patterns.fullmatch(r"\s*(?:,\s*)?(?:or|oder)\s+(?:\w+\s+){0,2}", between, _I):  # fmt: skip
            doubted |= {id(one), id(other)}
    return [replace(d, certainty="doubtful") if id(d) in doubted else d for d in drafts]


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


_OR = r"\s*(?:px|pixels?|Pixel|mm|cm)?\s*,?\s*(?:or|oder|bzw\.|/)\s*(?:\w+\s+){0,2}"


def _either_way_up(drafts: list[Draft], text: str) -> list[Draft]:
    """*At least 4724 x 5906 px or 5906 x 4724 px*: one for what stands upright, the other for what lies."""
    made = list(drafts)
    for i in range(1, len(made)):
        one, other = made[i - 1], made[i]
        sizes = [_sides(draft) for draft in (one, other)]
        if (
            all(sizes)
            and sizes[0] == sizes[1][::-1]
            and sizes[0][0] != sizes[0][1]
            and one.fields.keys() == other.fields.keys()
            and patterns.fullmatch(_OR, text[one.numbers[-1][1] : other.numbers[0][0]], _I)
        ):
            for at, (wide, high) in zip((i - 1, i), sizes, strict=True):
                way = "landscape" if wide > high else "upright"
                made[at] = replace(made[at], fields={**made[at].fields, "applies": way})
    return made


def _sides(draft: Draft) -> tuple[float, ...]:
    """Width and height that a draft says for any way up; empty where it is none of that kind."""
    fields = draft.fields
    if fields.get("measure") != "size" or "applies" in fields or not draft.numbers:
        return ()
    value = next((v for k, v in fields.items() if k in ("exactly", "at_least", "at_most")), "")
    hit = re.match(r"([\d.]+) x ([\d.]+)", value) if isinstance(value, str) else None
    return (float(hit[1]), float(hit[2])) if hit is not None else ()


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
            and patterns.fullmatch(_IN_SHORT, between, _I)
            and _told_again(last, draft)
        ):
            made[-1] = replace(last, numbers=(*last.numbers, *draft.numbers))
        else:
            made.append(draft)
    return made


_IN_SHORT = (
    r"\W{0,3}[(/]\s*|\s*(?:px|pixels?)?,?\s*(?:i\.e\.|that is|that's|d\.h\.|das sind|also)\s+"
)


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


def _in_round_figures(drafts: list[Draft]) -> list[Draft]:
    """A proportion that is only nearly that of the size beside it, *1242 x 560 px (2.2:1)*, with as much give as that needs:
    held exactly no picture could have both."""
    sizes: dict[str, list[tuple[float, float]]] = {}
    for draft in drafts:
        wide, high = _sides(draft) or (0.0, 0.0)
        pixels = re.fullmatch(SIZE, str(draft.fields.get("exactly", "")))
        if _is_one_size(draft) and pixels and high and "when" not in draft.fields:
            sizes.setdefault(draft.brief, []).append((wide, high))
    for brief in {d.brief for d in drafts}:
        one = {
            str(d.fields.get("measure")): str(d.fields.get("exactly", ""))
            for d in drafts
            if d.brief == brief
        }
        if one.get("width", "").isdigit() and one.get("height", "").isdigit():
            sizes.setdefault(brief, []).append((float(one["width"]), float(one["height"])))
    made = []
    for draft in drafts:
        hit = re.fullmatch(r"([\d.]+):([\d.]+)", str(draft.fields.get("exactly", "")))
        if draft.fields.get("measure") == "aspect" and hit and float(hit[2]):
            shape = float(hit[1]) / float(hit[2])
            off = [
                abs(w / h / shape - 1)
                for w, h in sizes.get(draft.brief, ())
                if abs(w / shape - h) > 1
            ]
            if off and max(off) <= _NEAR:
                draft = replace(draft, fields={**draft.fields, "tolerance": "2 %"})
        made.append(_cut_off(draft, drafts, sizes.get(draft.brief, [])))
    return made


def _cut_off(draft: Draft, drafts: list[Draft], sizes: list[tuple[float, float]]) -> Draft:
    """A size in print whose pixels were counted by cutting off or rounding up, *30 x 40 mm, 708 x 945 px at 600 dpi*, with
    room for that one pixel: held exactly no picture had both."""
    hit = re.fullmatch(rf"{SIZE} (mm|cm|in)", str(draft.fields.get("exactly", "")))
    ppi = [
        float(d.fields["exactly"]) for d in drafts
        if d.fields.get("measure") == "ppi" and "exactly" in d.fields and d.brief == draft.brief
    ]  # fmt: skip
    pixels = [one for one in sizes if min(one) > 99]
    if draft.fields.get("measure") != "size" or hit is None or len(ppi) != 1 or len(pixels) != 1:
        return draft
    lengths = float(hit[1]), float(hit[2])
    off = [
        abs(length * _MM[hit[3]] / 25.4 * ppi[0] - n)
        for length, n in zip(lengths, pixels[0], strict=True)
    ]
    if not 0.5 < max(off) <= 1.01:
        return draft
    share = max(one / n for one, n in zip(off, pixels[0], strict=True))
    give = "0.5 %" if share < 0.005 else "1 %"
    return replace(draft, fields={**draft.fields, "tolerance": give})


_HEIGHT_TO_WIDTH = (
    r"\bheight[\s-]*(?:to|:|/|by|x|×)[\s-]*width\b|\bHöhe\s*(?:zu|:|/|x|×)\s*Breite\b"
)


def _high_first(drafts: list[Draft]) -> list[Draft]:
    """Sizes turned that are written in the order of a proportion of height to width: *2560 x 1600 (height/width 1.6:1)*."""
    made = list(drafts)
    for one in drafts:
        hit = re.fullmatch(r"([\d.]+):([\d.]+)", str(one.fields.get("exactly", "")))
        said = patterns.search(_HEIGHT_TO_WIDTH, one.quote, _I)
        if one.fields.get("measure") != "aspect" or not hit or not said or float(hit[1]) >= float(hit[2]):  # fmt: skip
            continue
        shape = float(hit[2]) / float(hit[1])
        for i, draft in enumerate(made):
            wide, high = _sides(draft) or (0.0, 0.0)
            if draft.brief == one.brief and high and abs(wide / high / shape - 1) < _NEAR:
                key = next(k for k in ("exactly", "at_least", "at_most") if k in draft.fields)
                first, second, *unit = str(draft.fields[key]).replace(" x ", " ").split(" ")
                turned = {**draft.fields, key: " ".join((f"{second} x {first}", *unit))}
                if draft.quote == one.quote:
                    made[i] = replace(draft, fields=turned)
                else:  # it may be written in that order too
                    made[i] = replace(draft, certainty="doubtful", readings=(turned,))
    return made


def _shape(draft: Draft) -> float:
    """Width over height of the one size that a draft asks for; 0: it asks for none."""
    hit = re.match(SIZE, str(draft.fields.get("exactly", "")))
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
    first, second = str(one.fields["exactly"]), str(other.fields["exactly"])
    alike = first.rpartition(" ")[2].isalpha() == second.rpartition(" ")[2].isalpha()
    # A size in print and one in pixels may well be of one picture.
    return first != second and alike and (len(turns) == 1 or None in turns)


def _taken_too(drafts: list[Draft], text: str, words: Lexicon) -> list[Draft]:
    """*Preferably 3:2 but 4:3 is fine* takes either, and wishes for the first. What is not said to be taken, and cannot
    be beside what is wished for, is doubted."""
    taken = rf"\b(?:{words.optional}|{words.also}|{words.taken})\b"
    made = []
    wished: dict[tuple[str, ...], list[str]] = {}
    for draft in drafts:
        if is_one(draft) and _wished(draft):
            wished.setdefault(about(draft)[:-1], []).append(str(draft.fields["exactly"]))
    for draft in drafts:
        wishes = wished.get(about(draft)[:-1], [])
        if (
            wishes and not _wished(draft) and "one_of" in draft.fields
        ):  # “16:9 recommended, 4:3 and 1:1 accepted”
            every = list(dict.fromkeys([*wishes, *draft.fields["one_of"]]))
            draft = replace(draft, fields={**draft.fields, "one_of": every})
        if is_one(draft) and not _wished(draft) and wishes and draft.numbers:
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


_LENGTHS = ("size", "width", "height", "longest_side", "shortest_side")


def _enough(drafts: list[Draft], text: str, words: Lexicon) -> list[Draft]:
    """*1400 x 2100 px or more, but 1000 x 1500 px will do*: the second is the least, and the first is wished for."""
    made = list(drafts)
    least: dict[tuple[str, str], int] = {}
    for i, draft in enumerate(drafts):
        about = draft.brief, str(draft.fields.get("measure"))
        if "at_least" in draft.fields:
            least[about] = i
        behind = (
            re.split(r"[,.;]", text[draft.numbers[-1][1] : draft.end])[0] if draft.numbers else ""
        )
        if (
            is_one(draft)
            and draft.fields["measure"] in _LENGTHS
            and patterns.search(_ENOUGH, behind, _I)
        ):
            rest = {key: value for key, value in draft.fields.items() if key != "exactly"}
            fields = {**rest, "at_least": draft.fields["exactly"]}
            made[i] = replace(draft, fields=fields, certainty="doubtful", readings=(draft.fields,))
            continue
        before = least.get(about)
        if before is None or not (is_one(draft) and draft.numbers):
            continue
        better = patterns.search(r"\b(?:better|besser)\b", behind, _I)
        if (
            _same_place(made[before], draft)
            and not better
            and patterns.search(rf"\b(?:{words.also}|{words.taken})\b", behind, _I)
        ):
            wish = made[before]
            made[before] = replace(wish, fields={**wish.fields, "strength": "should"})
            rest = {key: value for key, value in draft.fields.items() if key != "exactly"}
            made[i] = replace(draft, fields={**rest, "at_least": draft.fields["exactly"]})
    return made


def _wished(draft: Draft) -> bool:
    return draft.fields.get("strength") == "should"
