"""Rules that hold for one format alone: ``PNG up to 2 MB, JPEG up to 500 kB``.

Each such number belongs to the format that is named nearest before it, or right behind it (``600 x 600 as
PNG``). Where a page gives one thing several limits for several formats, each depends on its format, and the
formats themselves are one clause: either of them is taken. The same where a page takes several formats and
later says something of one of them.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import replace
from typing import Any

from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.draft import Draft
from aptandum.core.rulebook.words.lexicon import Lexicon

FORMATS = {
    "jpeg": r"jpe?g", "png": r"png(?:-?(?:8|24|32)\b)?", "gif": r"gif", "bmp": r"bmp|(?<!\ba )(?<!\ban )bitmap(?! tiff?\b|-tiff?\b)", "tiff": r"(?:geo)?tiff?",
    "webp": r"webp", "avif": r"avif",
}  # fmt: skip
"""A format's word in a rulebook, and how pages name it."""

ANY = "|".join(rf"(?P<{name}>{pattern})" for name, pattern in FORMATS.items())
_I = int(re.I)
LIMITED = ("file_bytes", "ppi", "bits", "bits_per_pixel", "packing", "size", "width", "height",
            "longest_side", "shortest_side", "megapixels", "print_width", "print_height",
            "print_longest")  # fmt: skip
"""Measures whose numbers pages give for each format."""


_ALSO = ("transparency", "colour_space", "profile", "quality")
_EACH = re.compile(
    rf"\b(?:as|als)\s+(?:an?\s+)?(?:{ANY})\w*\s[^.;]*,?\s(?:or|oder)\s+(?:as|als)\s+(?:an?\s+)?(?:\S+\s+)?(?:"
    + "|".join(FORMATS.values()) + r")", _I
)  # fmt: skip
"""*As PNG with transparency, 1500 px wide, or as TIFF in CMYK*: what follows each format is of that one."""


def named(said: str) -> list[str]:
    """The formats that a text names, in their order."""
    found = patterns.finditer(rf"(?<![\w@])(?<!\w\.)\.?(?:{ANY})(?:s|-\w+)?(?!\w)", said, _I)
    return list(dict.fromkeys(str(hit.lastgroup) for hit in found))


def depending(drafts: list[Draft], text: str, words: Lexicon) -> list[Draft]:
    """The drafts with what holds for one format alone depending on it.

    Args:
        drafts: of the whole text, in its order.
        text: the text, for what stands round them.
    """
    drafts = _for_each(_conceded(drafts, text, words))
    found = list(_own(drafts, text, words))
    own = {id(draft): name for draft, name, _near in found}
    near = {id(draft) for draft, _name, near in found if near}
    several = [d for d in drafts if d.fields.get("measure") == "format" and "one_of" in d.fields]
    made: dict[int, Draft] = {}
    for draft in drafts:
        name = own.get(id(draft))
        if name is None:
            continue
        others = {own.get(id(o)) for o in drafts if _thing(o) == _thing(draft)} - {name, None}
        before = {
            n
            for d in several
            if d.brief == draft.brief and d.start <= draft.start
            for n in _names(d)
        }
        alone = not any(
            o.start == draft.start and o.fields.get("measure") == "format" for o in drafts
        )
        if others or (id(draft) in near and (alone or (name in before and len(before) > 1))):
            made[id(draft)] = when(draft, name)
    if not made:
        return drafts
    bound: dict[int, set[str]] = {}
    for draft in drafts:
        if id(draft) in made:
            bound.setdefault(draft.start, set()).add(own[id(draft)])
    return _one_format([made.get(id(draft), draft) for draft in drafts], bound, text)


_IF = r"(?:^|;)\W*(?:if|when|wenn|falls)\b(?P<of>[^,;.]*),"


_IF_ONE = r"\W*(?:if|when|wenn|falls)\s+(?:you|one|Sie|du|ihr|man|your \w+|the \w+)\s+(?:[^\W\d]+\s+){0,2}(?:an?|eine?n?)\s+(?:[^\W\d]+\s+)?(?:jpe?g|png|tiff?|gif|webp|avif|bmp)\b"
_BIDS = r"\b(?:must|has to|have to|should|needs? to|please|muss|müssen|soll|sollte|bitte)\b"


def _without_condition(drafts: list[Draft], said: str) -> list[Draft]:
    """*If you send a PNG with transparency the mug shows through* asks for neither, though no comma ends its condition."""
    told = (
        {"format"}
        if patterns.search(_BIDS, said, _I)
        else {"format", "transparency", "frames", "progressive"}
    )
    return [d for d in drafts if d.fields.get("measure") not in told or "none_of" in d.fields]


def under_condition(drafts: list[Draft], said: str, start: int) -> list[Draft]:
    """*If you send a TIFF, use LZW* asks for no TIFF: what follows holds for one.

    Args:
        drafts: of one sentence.
        said, start: the sentence, and where it begins in its text.
    """
    hit = patterns.search(_IF, said, _I)
    names = named(hit["of"]) if hit is not None else []
    listed = hit is not None and patterns.match(
        rf"\s*(?:an?\s+|eine?n?\s+)?(?:{ANY})\b", said[hit.end() :], _I
    )
    if hit is None and patterns.match(_IF_ONE, said, _I):
        return _without_condition(drafts, said)
    if hit is None or listed or len(names) != 1:
        return drafts  # “if you send a JPEG, PNG or TIFF, …” names more than one
    first, last = start + hit.start("of"), start + hit.end("of")
    made = []
    for draft in drafts:
        at = draft.numbers[0][0] if draft.numbers else draft.start
        if first <= at < last and draft.fields.get("measure") == "format":
            continue
        made.append(when(draft, names[0]) if at >= last and "measure" in draft.fields else draft)
    return made


def without_needless(drafts: list[Draft]) -> list[Draft]:
    """What holds for one format alone, where no other is taken: it holds."""
    taken: dict[str, list[list[str]]] = {}
    for draft in drafts:
        fields = draft.fields
        if fields.get("measure") == "format" and "none_of" not in fields:
            if fields.get("strength") != "should" and draft.certainty == "sure":
                taken.setdefault(draft.brief, []).append(_names(draft))
    return [
        _freed(d) if _is_of(d, taken.get(d.brief) or taken.get("") or []) else d for d in drafts
    ]


def _is_of(draft: Draft, taken: list[list[str]]) -> bool:
    """Whether a draft depends on the one format that is taken."""
    when_ = draft.fields.get("when", {})
    names = [when_["exactly"]] if when_.get("measure") == "format" and "exactly" in when_ else []
    return len(taken) == 1 and bool(names) and taken[0] == names


def _freed(draft: Draft) -> Draft:
    """A draft that depends on nothing."""

    def free(fields: Mapping[str, Any]) -> dict[str, Any]:
        return {key: value for key, value in fields.items() if key != "when"}

    return replace(draft, fields=free(draft.fields), readings=tuple(map(free, draft.readings)))


def _conceded(drafts: list[Draft], text: str, words: Lexicon) -> list[Draft]:
    """*Preferably TIFF; otherwise JPEG* takes either, and wishes for the first."""
    made: list[Draft] = []
    for draft in drafts:
        said = text[draft.start : draft.end]
        format_ = draft.fields.get("measure") == "format" and "none_of" not in draft.fields
        first = next(
            (d for d in reversed(made) if d.brief == draft.brief
             and d.fields.get("measure") == "format" and "none_of" not in d.fields),
            None,
        )  # fmt: skip
        if (
            format_
            and first is not None
            and first.start != draft.start  # of one sentence both are known already
            and (
                patterns.match(rf"\W*(?:{words.otherwise})\b", said, _I)
                or patterns.search(
                    rf"\b(?:{words.also})\b", text[draft.numbers[-1][1] : draft.end], _I
                )
            )
        ):
            names = list(dict.fromkeys([*_names(first), *_names(draft)]))
            draft = replace(
                draft,
                fields={"measure": "format", "one_of": names},
                quote=text[first.start : draft.end],
                start=first.start,
                numbers=(*first.numbers, *draft.numbers),
            )
            if first.fields.get("strength") != "should":
                made.remove(first)
        made.append(draft)
    return made


def _for_each(drafts: list[Draft]) -> list[Draft]:
    """*For print a TIFF of 300 dpi; for the website a JPEG of 72 dpi*: where two sentences of a brief each name
    one format that the other does not take, their numbers are each format's own, and either is taken."""
    formats: dict[tuple[str, int], set[str]] = {}
    for draft in drafts:
        if draft.fields.get("measure") == "format" and draft.fields.get("strength") != "should":
            formats.setdefault((draft.brief, draft.start), set()).update(_names(draft))
    numbered = {(d.brief, d.start) for d in drafts if d.fields.get("measure") in LIMITED}
    made = list(drafts)
    for brief in dict.fromkeys(draft.brief for draft in drafts):
        places = {at: next(iter(names)) for (of, at), names in formats.items()
                  if of == brief and len(names) == 1 and (of, at) in numbered}  # fmt: skip
        rest = [at for of, at in formats if of == brief and at not in places]
        if len(set(places.values())) < 2 or rest:
            continue
        made = [when(d, places[d.start]) if d.brief == brief and d.start in places
                and d.fields.get("measure") in (*LIMITED, *_ALSO) and "when" not in d.fields else d
                for d in made]  # fmt: skip
        ours = [d for d in made if d.brief == brief and d.fields.get("measure") == "format"
                and d.start in places and "none_of" not in d.fields]  # fmt: skip
        names = list(dict.fromkeys(name for d in ours for name in _names(d)))
        both = replace(
            ours[0],
            fields={"measure": "format", "one_of": names},
            numbers=tuple(span for d in ours for span in d.numbers),
            end=ours[-1].end,
        )
        made = [both if d is ours[0] else d for d in made if d is ours[0] or d not in ours]
    return made


def when(draft: Draft, *names: str) -> Draft:
    """A draft that holds for one format alone, or for some."""
    bound = {"exactly": names[0]} if len(names) == 1 else {"one_of": list(names)}
    held = {"measure": "format", **bound}
    return replace(
        draft,
        fields={**draft.fields, "when": held},
        readings=tuple({**one, "when": held} for one in draft.readings),
    )


def _thing(draft: Draft) -> tuple[Any, ...]:
    """What a draft limits, and on which side."""
    keys = tuple(sorted(k for k in draft.fields if k not in ("measure", "applies", "strength")))
    return draft.brief, draft.fields.get("measure"), draft.fields.get("applies"), keys


def _own(drafts: list[Draft], text: str, words: Lexicon) -> Iterator[tuple[Draft, str, bool]]:
    """Each draft with a number that belongs to one format, that format, and whether nothing parts them:
    ``JPEG, up to 500 kB`` may speak of the file at large."""
    for draft in drafts:
        if not draft.numbers:
            continue
        each = _EACH.search(text[draft.start : draft.end])
        if each and draft.fields.get("measure") in (*LIMITED, *_ALSO):
            named_before = named(text[draft.start : draft.numbers[0][0]])
            after = patterns.match(rf"\s*(?:{ANY})", text[draft.numbers[-1][1] : draft.end], _I)
            if after:
                yield draft, str(after.lastgroup), True
            elif named_before:
                yield draft, named_before[-1], True
            continue
        if draft.fields.get("measure") not in LIMITED:
            continue
        at = draft.numbers[0][0], draft.numbers[-1][1]
        ends = [
            end for o in drafts if o.start == draft.start and o.fields.get("measure") != "format"
            for _a, end in o.numbers if end <= at[0]
        ]  # fmt: skip
        before = text[max([draft.start, *ends]) : at[0]]
        behind = patterns.match(
            rf"\s*(?:px|pixels?)?\s*\(?(?:(?:{words.as_format})\s+(?:an?\s+)?)?(?:{ANY})", text[at[1] : draft.end], _I
        )  # fmt: skip
        listed = rf"(?:s|-\w+)?\s*(?:,|/|or|oder|and|und)\s*(?:{ANY})"
        if behind is not None and patterns.match(
            listed, text[at[1] + behind.end() : draft.end], _I
        ):
            continue  # “1-bit BMP or PNG” speaks of both
        if behind is not None:
            yield draft, str(behind.lastgroup), True
            continue
        names = named(before)  # “PNG or JPEG up to …” speaks of both
        if len(names) == 1:
            yield draft, names[0], bool(patterns.search(rf"(?:{ANY})[^,;)]*$", before, _I))


def _one_format(drafts: list[Draft], bound: dict[int, set[str]], text: str) -> list[Draft]:
    """The formats that only said what a number holds for, as one clause that takes any of them; none where
    another clause takes them already."""
    ours = [
        draft for draft in drafts
        if draft.fields.get("measure") == "format" and "none_of" not in draft.fields
        and set(_names(draft)) <= bound.get(draft.start, set())
    ]  # fmt: skip
    wished = [draft for draft in ours if draft.fields.get("strength") == "should"]
    if any(d.fields.get("measure") == "format" and "strength" not in d.fields for d in drafts):
        ours = [draft for draft in ours if draft not in wished]  # a wish stands beside the rule
    made = list(drafts)
    for brief in dict.fromkeys(draft.brief for draft in ours):
        mine = [draft for draft in ours if draft.brief == brief]
        rest = [d for d in made if d.brief == brief and d not in mine
                and d.fields.get("measure") == "format" and "none_of" not in d.fields]  # fmt: skip
        if not rest and len(mine) == 1:
            continue
        at = made.index(mine[0])
        made = [draft for draft in made if draft not in mine]
        if rest:
            continue
        names = dict.fromkeys(n for d in mine for n in _names(d))
        start, end = mine[0].start, mine[-1].end
        made.insert(
            at,
            replace(
                mine[0],
                fields={**_strength(mine), "measure": "format", "one_of": list(names)},
                quote=text[start:end],
                end=end,
                numbers=tuple(span for draft in mine for span in draft.numbers),
            ),
        )
    return made


def _names(draft: Draft) -> list[str]:
    return [
        *draft.fields.get("one_of", ()),
        *([draft.fields["exactly"]] if "exactly" in draft.fields else []),
    ]


def _strength(drafts: list[Draft]) -> dict[str, Any]:
    wished = all(draft.fields.get("strength") == "should" for draft in drafts)
    return {"strength": "should"} if wished else {}
