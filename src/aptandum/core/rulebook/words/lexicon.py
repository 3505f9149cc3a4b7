"""The words of a language beside the grammar: another language is another table."""

from __future__ import annotations

from dataclasses import field

from aptandum.core.frozen import frozen


@frozen
class Lexicon:
    """Tables of words as regular expressions, without regard to case.

    Attributes:
        name: the language, as its two letters.
        common: words by which a text of the language is told.
        before: what stands before a number, by the bound that it makes; the longest match counts.
        after: the same behind a number.
        to: what stands between two ends of a range.
        by: what stands between width and height.
        topics: what is spoken of, by the measure.
        turns: ways up, by the word of a rulebook.
        should, must: how binding something is.
        negation: what denies the words that follow or precede.
        whole: rules without a number: a pattern, and the keys of the clause.
        asks: what only a person can judge.
        months: numbers in words and the names of units of time.
        correction: what says that a sentence stands instead of an earlier one.
        no_rule: what makes a number something else: a date, a price, a telephone.
        pictures, together: what a set is counted in, and that bytes are those of all of it.
        kinds: words before a format that speak of a kind of it, and not of the format.
        unwanted: what says that what a sentence speaks of is not taken.
        forbids: how a sentence begins that forbids something.
        refusal: what says that what stands before it is not taken.
        packed: what says that a proportion is one of bytes.
        optional: what says that something may be, and need not.
        as_format: what stands between a number and the format that it holds for.
        otherwise: how a sentence begins that takes something else as well.
        denies: what denies what stands before it.
        also: what says that something is taken beside what was named before.
        shown: what says that a size is that in which a picture is seen, and none to hand in.
        shown_behind: the same, where it stands behind the size.
        small: words that are a bound only close before their number.
        line: names of the line just inside the edge.
        apart: what is measured beside the picture or inside it, and is no size of it.
        accompanied: what says that another file is handed in beside it.
        depends: what begins a condition.
        device: what a text speaks of that tells of a device, and is no rule.
        lettering, trimmed: names of words in a picture, and of what is left when a bleed is cut off.
        titled: what has a length in letters beside a file's name.
        wanted: what makes what stands behind it depend on a person's wish.
        told: what stands before a number that is told of something past.
        pictures_at_all: words of which a text about pictures has one.
        over: what stands between what is taken and what rather not.
        every: how a sentence begins that is about every picture of a body.
        hands_in: what stands before a number of pictures that is wanted exactly.
        high_first: what says that a height stands before a width.
        within_it: what says that a picture has to fit into the size named before.
        by_body: what says that the body itself does something.
        bids: what stands before something that is to be done.
        avoids: what says that pictures of what is named behind it had better not come.
        becomes: the verb that tells what becomes of pictures, or how they will be.
        any_of_them: words for pictures of any kind.
        taken: what says that pictures are taken, beside what says that something may be.
        sized: names of what a number can be of, beside the topics.
        about: what makes a number a rough one.
        by_whom: whom a number of pictures is counted for.
        rejects: what says that the comparison behind it is of what is not taken.
        needless: what says that something need not be.
        donts, dos: headings of what is not taken, and of what is.
        numerals: numbers as words.
    """

    name: str
    common: str
    before: dict[str, str]
    after: dict[str, str]
    to: str
    by: str
    topics: dict[str, str]
    turns: dict[str, str]
    should: str
    must: str
    negation: str
    whole: tuple[tuple[str, dict[str, object]], ...]
    asks: str
    age: str
    correction: str
    no_rule: str
    units: dict[str, str]
    pictures: str = "pictures"
    together: str = "together"
    kinds: str = "progressive"
    forbids: str = "no"
    unwanted: str = "are not accepted"
    refusal: str = "rejected"
    packed: str = "compression"
    optional: str = "optional"
    as_format: str = "as"
    otherwise: str = "otherwise"
    denies: str = "not"
    also: str = "too"
    shown: str = "shown at"
    every: str = "all pictures"
    hands_in: str = "send"
    high_first: str = "height by width"
    rejects: str = "do not accept"
    shown_behind: str = "is the size shown"
    small: str = "from"
    line: str = "border"
    apart: str = "margin"
    accompanied: str = "together with"
    depends: str = "if"
    device: str = "camera"
    titled: str = "title"
    lettering: str = "text"
    trimmed: str = "finished"
    wanted: str = "if you need"
    told: str = "was"
    pictures_at_all: str = "picture"
    over: str = "rather than"
    within_it: str = "within this size"
    by_body: str = "we"
    bids: str = "please"
    by_whom: str = "per author"
    avoids: str = "avoid"
    becomes: str = "will"
    any_of_them: str = "anything"
    taken: str = "accepted"
    about: str = "about"
    needless: str = "need not"
    donts: str = "don't"
    dos: str = "do"
    sized: str = "size"
    numerals: dict[str, int] = field(default_factory=dict)
    decimal_comma: bool = False


def of_metadata(**ways: tuple[str, ...]) -> tuple[tuple[str, dict[str, object]], ...]:
    """Rules on the metadata, by what they ask (``kept``, ``present``, ``none``); a pattern holds its own negation."""
    return tuple(
        (pattern, {"measure": "metadata", "exactly": what})
        for what, patterns in ways.items()
        for pattern in patterns
    )
