"""Two values of one list made one clause: *256 x 256 or 512 x 512*."""

from __future__ import annotations

from dataclasses import replace

from aptandum.core.rulebook.words.draft import Draft


def joined(one: Draft, other: Draft) -> Draft | None:
    """Two values of one list as a clause that takes either; ``None`` where they are bounds of their own."""
    a, b = dict(one.fields), other.fields
    deep = {"bits", "bits_per_pixel"}
    if a.get("measure") != b.get("measure"):
        if {a.get("measure"), b.get("measure")} == deep:
            a["measure"] = "bits_per_pixel"
        elif one.certainty == other.certainty:
            return None  # “long side 3000 px, 5 px black border”
        elif one.certainty == "doubtful":
            a["measure"] = b["measure"]
    if "sure" in (one.certainty, other.certainty):
        one = replace(one, certainty="sure", readings=())  # “800, 1200 or 1600 px wide”
    values = [*a.pop("one_of", ()), *([a.pop("exactly")] if "exactly" in a else [])]
    values += [b["exactly"]] if "exactly" in b else []
    if len(values) < 2:
        return None
    readings = tuple({**read, "one_of": values} for read in map(dict, one.readings))
    for read in readings:
        read.pop("exactly", None)
    return replace(
        one,
        fields={**a, "one_of": values},
        numbers=(*one.numbers, *other.numbers),
        readings=readings,
    )
