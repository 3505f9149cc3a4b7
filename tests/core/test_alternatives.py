"""Alternatives, conditions, rules that hold either way up, lengths and tolerances: against files that
are tried one by one by an understanding of the rules of its own."""

from __future__ import annotations

import os
import random
from fractions import Fraction
from itertools import product
from math import floor

import pytest

from aptandum.core.brief.bundles import courses
from aptandum.core.brief.model import Brief
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge.findings import judge
from aptandum.core.judge.reading import Reading
from aptandum.core.photo.facts import Facts
from aptandum.core.sizes.conflicts import contradiction
from aptandum.core.sizes.region import USEFUL, allowed
from samples import brief_of

TOP = 13
FORMATS = ("jpeg", "png")
Rule = dict[str, object]


# --- random briefs ---------------------------------------------------------------------------


def _number_limit(rng: random.Random) -> Rule:
    n = rng.randint(2, TOP)
    return rng.choice(
        [
            {"at_least": rng.randint(1, 7)},
            {"at_most": n},
            {"above": rng.randint(1, 6)},
            {"below": n + 1},
            {"exactly": n},
            {"exactly": n, "tolerance": rng.choice(["20 %", "2 px"])},
            {"between": sorted([rng.randint(1, TOP), rng.randint(1, TOP)])},
            {"one_of": [n, rng.randint(1, TOP)]},
            {"none_of": [n]},
        ]
    )


def _size_limit(rng: random.Random) -> Rule:
    size = rng.randint(2, TOP), rng.randint(2, TOP)
    made = rng.choice(
        [
            {"at_least": (rng.randint(1, 5), rng.randint(1, 5))},
            {"at_most": size},
            {"exactly": size},
            {"one_of": [size, (rng.randint(1, TOP), rng.randint(1, TOP))]},
            {"below": (size[0] + 1, size[1] + 1)},
            {"exactly": size, "tolerance": "2 px"},
        ]
    )
    if rng.random() < 0.5:
        made["either_way"] = True
    return made


def _aspect_limit(rng: random.Random) -> Rule:
    one, other = rng.choice(["3:2", "4:3", "2:1", "1:1", "5:4"]), rng.choice(["2:3", "1:2", "4:5"])
    made: Rule = rng.choice(
        [{"exactly": one}, {"between": [other, one]}, {"at_least": one}, {"one_of": [one, other]}]
    )
    if rng.random() < 0.5:
        made["either_way"] = True
    return made


def _printed(rng: random.Random) -> tuple[str, Rule]:
    a, b = rng.randint(3, 12), rng.randint(3, 12)
    name = rng.choice(["size", "print_width", "print_height", "print_longest", "print_shortest"])
    if name == "size":
        limit: Rule = rng.choice([{"exactly": (a, b)}, {"at_most": (a, b)}, {"at_least": (2, 3)}])
        limit = {key: f"{v[0]} x {v[1]} mm" for key, v in limit.items()}  # type: ignore[index]
        if rng.random() < 0.4:
            limit["either_way"] = True
        return name, limit
    low, high = sorted([a, b])
    limit = rng.choice(
        [
            {"exactly": f"{a} mm"},
            {"at_most": f"{high} mm"},
            {"between": [f"{low} mm", f"{high} mm"]},
        ]
    )
    return name, limit


def _rule(rng: random.Random, printed: bool) -> Rule:
    kind = rng.randrange(6 if printed else 5)
    if kind == 5:
        name, limit = _printed(rng)
        return {"measure": name, **limit}
    if kind == 4:
        return {"measure": "aspect", **_aspect_limit(rng)}
    if kind == 3:
        return {"measure": "size", **_size_limit(rng)}
    sides = ("width", "height", "longest_side", "shortest_side")
    return {"measure": rng.choice(sides), **_number_limit(rng)}


def random_rules(rng: random.Random) -> list[Rule]:
    """Some rules of which most can be met together."""
    printed = rng.random() < 0.35
    rules = [_rule(rng, printed) for _ in range(rng.randint(1, 4))]
    if printed:
        ppi = rng.choice([{"exactly": "25.4 ppi"}, {"between": [20, 51]}, {"at_least": 25}])
        rules.append({"measure": "ppi", **ppi})
    if rng.random() < 0.4:
        rules.append({"measure": "format", "one_of": list(FORMATS)})
    for rule in rules:
        if rng.random() < 0.2:
            rule["applies"] = rng.choice(["landscape", "upright", ["upright", "square"]])
        if rng.random() < 0.35:
            rule["either"] = rng.choice(["a", "b", "x/c", "x/d"])
        if rng.random() < 0.35 and sum("when" in other for other in rules) < 3:
            rule["when"] = rng.choice(
                [
                    {"measure": "format", "exactly": "png"},
                    {"measure": "format", "none_of": ["png"]},
                    {"measure": "width", "at_least": rng.randint(2, 9)},
                    {"measure": "longest_side", "between": [4, 9]},
                    {"measure": "orientation", "exactly": "landscape"},
                ]
            )
    return rules


def _toml(value: object) -> str:
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, tuple):
        return f'"{value[0]} x {value[1]}"'
    if isinstance(value, list):
        return "[" + ", ".join(map(_toml, value)) + "]"
    if isinstance(value, dict):
        return "{ " + ", ".join(f"{k} = {_toml(v)}" for k, v in value.items()) + " }"
    return f'"{value}"' if isinstance(value, str) else str(value)


def brief_from(rules: list[Rule]) -> Brief:
    text = ""
    for i, rule in enumerate(rules):
        text += f'[[brief.clause]]\nid = "r{i}"\n'
        text += "".join(f"{key} = {_toml(value)}\n" for key, value in rule.items())
    return brief_of(text)


# --- an understanding of its own ---------------------------------------------------------------


def _near(value: Fraction) -> set[int]:
    """The integers to which a quotient rounds, both at a half, at least 1."""
    low = floor(value)
    rest = value - low
    if rest == Fraction(1, 2):
        return {max(1, low), low + 1}
    return {max(1, low + (1 if rest > Fraction(1, 2) else 0))}


def _ratio(text: object) -> Fraction:
    a, b = str(text).split(":")
    return Fraction(int(a), int(b))


def _is_shape(w: int, h: int, shape: Fraction) -> bool:
    return w in _near(h * shape) or h in _near(w / shape)


def _holds_number(rule: Rule, value: Fraction) -> bool:
    low, high = rule.get("at_least"), rule.get("at_most")
    if "between" in rule:
        low, high = rule["between"]  # type: ignore[misc]
    if "tolerance" in rule:
        n = Fraction(rule["exactly"])  # type: ignore[arg-type]
        off = Fraction(2) if rule["tolerance"] == "2 px" else n / 5
        return n - off <= value <= n + off
    return (
        (low is None or value >= low)  # type: ignore[operator]
        and (high is None or value <= high)  # type: ignore[operator]
        and ("above" not in rule or value > rule["above"])  # type: ignore[operator]
        and ("below" not in rule or value < rule["below"])  # type: ignore[operator]
        and ("exactly" not in rule or value == rule["exactly"])
        and ("one_of" not in rule or value in rule["one_of"])  # type: ignore[operator]
        and ("none_of" not in rule or value not in rule["none_of"])  # type: ignore[operator]
    )


def _holds_size(rule: Rule, w: int, h: int) -> bool:
    if "tolerance" in rule:
        a, b = rule["exactly"]  # type: ignore[misc]
        return abs(w - a) <= 2 and abs(h - b) <= 2
    if "one_of" in rule:
        return (w, h) in rule["one_of"]  # type: ignore[operator]
    if "exactly" in rule:
        return (w, h) == rule["exactly"]
    low, high = rule.get("at_least", (1, 1)), rule.get("at_most", (999, 999))
    less = rule.get("below", (999, 999))
    return (  # type: ignore[no-any-return]
        w >= low[0] and h >= low[1] and w <= high[0] and h <= high[1]  # type: ignore[index]
        and w < less[0] and h < less[1]  # type: ignore[index]
    )  # fmt: skip


def _holds_shape(rule: Rule, w: int, h: int) -> bool:
    if "exactly" in rule or "one_of" in rule:
        names = [rule["exactly"]] if "exactly" in rule else rule["one_of"]
        return any(_is_shape(w, h, _ratio(name)) for name in names)  # type: ignore[attr-defined]
    low, high = rule.get("at_least"), None
    if "between" in rule:
        low, high = rule["between"]  # type: ignore[misc]
    shape = Fraction(w, h)
    return (low is None or shape >= _ratio(low)) and (high is None or shape <= _ratio(high))


def _mm(text: object) -> list[Fraction]:
    return [Fraction(part) for part in str(text).removesuffix(" mm").split(" x ")]


def _ppi_runs(rule: Rule, w: int, h: int) -> list[tuple[Fraction, Fraction]]:
    """The pixels per inch at which a rule on print holds."""
    top = Fraction(10**6)
    name = rule["measure"]
    if name == "ppi":
        if "exactly" in rule:
            p = Fraction("25.4")
            return [(p, p)]
        if "between" in rule:
            return [(Fraction(20), Fraction(51))]
        return [(Fraction(25), top)]
    sides = {"size": [w, h], "print_width": [w], "print_height": [h],
             "print_longest": [max(w, h)], "print_shortest": [min(w, h)]}[str(name)]  # fmt: skip
    runs = []
    for turned in (False, True) if rule.get("either_way") else (False,):
        low, high = Fraction(0), top
        for key in ("exactly", "at_least", "at_most", "between"):
            if key not in rule:
                continue
            ends = rule[key] if key == "between" else [rule[key], rule[key]]
            least, most = (_mm(end) for end in ends)  # type: ignore[attr-defined]
            if turned:
                least, most = least[::-1], most[::-1]
            slack = Fraction(1, 2) if key == "exactly" else Fraction(0)
            for side, a, b in zip(sides, least, most, strict=True):
                inch = Fraction(254, 10)
                if key != "at_least":
                    low = max(low, (side - slack) * inch / b)
                if key != "at_most":
                    high = min(high, (side + slack) * inch / a)
        runs.append((low, high))
    return runs


def _is_print(rule: Rule) -> bool:
    name = str(rule["measure"])
    lengths = any("mm" in str(v) for v in rule.values())
    return name.startswith("print") or name == "ppi" or (name == "size" and lengths)


def _holds(rule: Rule, w: int, h: int, form: str) -> bool:
    name = rule["measure"]
    sides = {"width": w, "height": h, "longest_side": max(w, h), "shortest_side": min(w, h)}
    if name in sides:
        return _holds_number(rule, Fraction(sides[str(name)]))
    if name == "format":
        words = rule.get("one_of", [rule.get("exactly", form)])
        return form in words and form not in rule.get("none_of", [])  # type: ignore[operator]
    if name == "orientation":
        return _turn(w, h) == rule["exactly"]
    test = _holds_size if name == "size" else _holds_shape
    return test(rule, w, h) or (bool(rule.get("either_way")) and test(rule, h, w))


def _turn(w: int, h: int) -> str:
    return "landscape" if w > h else "upright" if h > w else "square"


def ways_of(rules: list[Rule]) -> list[set[str]]:
    """Every choice of one way for each choice that the rules leave."""
    choices: dict[str, set[str]] = {}
    for rule in rules:
        if "either" in rule:
            choice = str(rule["either"]).rpartition("/")[0]
            choices.setdefault(choice, set()).add(str(rule["either"]))
    return [set(picked) for picked in product(*choices.values())]


def meets(rules: list[Rule], w: int, h: int, form: str, ppi: Fraction | None = None) -> bool:
    """Whether a file meets the rules: at a density, or at any."""
    for ways in ways_of(rules):
        held = [
            rule
            for rule in rules
            if ("either" not in rule or rule["either"] in ways)
            and ("when" not in rule or _holds(rule["when"], w, h, form))  # type: ignore[arg-type]
            and ("applies" not in rule or _turn(w, h) in rule["applies"])  # type: ignore[operator]
        ]
        if not all(_holds(rule, w, h, form) for rule in held if not _is_print(rule)):
            continue
        runs = [_ppi_runs(rule, w, h) for rule in held if _is_print(rule)]
        for picked in product(*runs):
            low = max((a for a, _b in picked), default=Fraction(1))
            high = min((b for _a, b in picked), default=Fraction(10**6))
            grain = Fraction(1, 50)  # no file states its density more finely
            if low <= high and (ppi is None or low - grain <= ppi <= high + grain):
                return True
    return False


# --- comparing -----------------------------------------------------------------------------------


def compare(rules: list[Rule]) -> None:
    """The allowed sizes, the judge and the resolver against files tried one by one."""
    brief = brief_from(rules)
    sizes = allowed(brief)
    printed = any(_is_print(rule) for rule in rules)
    any_allowed = False
    for w, h in product(range(1, TOP + 1), repeat=2):
        told = [meets(rules, w, h, form) for form in FORMATS]
        assert sizes.contains(w, h) == any(told), (rules, w, h)
        any_allowed |= any(told) and max(w, h) >= USEFUL
        if printed or (w * 7 + h * 3) % 5:
            continue
        for form, wanted in zip(FORMATS, told, strict=True):
            found = judge(Reading("finished", facts(w, h, form)), brief, mends=False)
            assert (not found.counts()["misses"]) == wanted, (rules, w, h, form, found.findings)
    if not any_allowed or contradiction(brief):
        return  # specks that round to several proportions at once are of none
    for photo in ((40, 30), (9, 12), (10, 10)):
        line = resolve(facts(*photo, "jpeg"), brief, Settings())
        ppi = None if line.file.ppi is None else Fraction(str(line.file.ppi))
        w, h = line.frame.output
        if max(w, h) <= TOP:  # of the other sizes nothing was tried
            form = line.file.format
            assert meets(rules, w, h, form, ppi if printed and ppi else None), (rules, photo, w, h)


def facts(w: int, h: int, form: str) -> Facts:
    return Facts("p", form, w, h, w, h, 8, "rgb", False, None, "srgb", 1, bytes=1000, frames=1)  # type: ignore[arg-type]


COUNT = int(os.environ.get("APTANDUM_BRIEFS", "120"))


@pytest.mark.parametrize("part", range(4))
def test_random_briefs_against_every_file(part: int):
    for seed in range(part, COUNT, 4):
        compare(random_rules(random.Random(seed)))


def test_there_are_briefs_with_several_courses():
    many = [len(courses(brief_from(random_rules(random.Random(seed))))) for seed in range(100)]
    assert sum(n > 1 for n in many) > 40 and max(many) > 4
