"""Room: another allowed size, where a brief leaves the pixels open and its byte limits ask for one.

Where the quality that fits under an upper limit lies below a floor, the largest allowed size
whose quality reaches the floor is the better picture. Where even the highest quality stays below
a lower limit, the smallest allowed size that reaches it is. Nothing is ever padded.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from fractions import Fraction
from math import exp, log, sqrt

from aptandum.core import bounds
from aptandum.core.brief.model import Brief
from aptandum.core.figures import show_exact_bytes, show_size
from aptandum.core.file.at_floor import (
    at_floor,
    colours_at_floor,
    hopeless_as_it_is,
    made_at_floor,
    may_have_fewer,
)
from aptandum.core.file.foretold import exact, foretold
from aptandum.core.file.make import Made, make, stepped_over
from aptandum.core.fitting.plan import LOSSY, FileStation, Line
from aptandum.core.frozen import frozen
from aptandum.core.photo.metadata_groups import Credit
from aptandum.core.photo.picture import Picture
from aptandum.core.sizes.binds import SCALE
from aptandum.core.sizes.region import Allowed, allowed
from aptandum.core.words import say

Size = tuple[int, int]
At = Callable[[Size], tuple[Picture, FileStation]]
"""The picture at a size, and how it would be written."""

_MOST_PIXELS = 100_000_000
_LONGEST = 65_500
_PATIENCE = 12


@frozen
class Room:
    """Another size to write, and why in a sentence; where it is the size there was, the sentence
    tells what cannot be reached.

    Attributes:
        made: its file at the floor, which fits.
    """

    size: Size
    says: str
    made: Made | None = None


def wanted(brief: Brief | None, line: Line, made: Made, by_hand: bool) -> str:
    """Whether another size would serve the byte limits better: ``smaller``, ``larger``, ``near`` where it is only that no
    quality comes between them, or an empty text. Costs nothing.

    Args:
        by_hand: a person has set the size, which is then kept.
    """
    file = line.file
    if brief is None or by_hand or line.frame.fill == "pixels" or not brief.permits("scale"):
        return ""
    too_large = file.at_most is not None and len(made.data) > file.at_most
    if too_large or (file.at_most is not None and _below(made, file)):
        smallest = _sizes(brief, line).target(line.frame.shape, 1)
        open_ = smallest is not None and max(smallest.size) < max(line.frame.output)
        return "smaller" if open_ else ""
    if file.at_least is not None and len(made.data) < file.at_least:
        if file.quality is not None and file.quality < 100:
            return ""  # the quality that a person has set is what keeps it small
        if stepped_over(made, file):
            smallest = _sizes(brief, line).target(line.frame.shape, 1)
            open_ = smallest is not None and max(smallest.size) < max(line.frame.output)
            return "near" if open_ else ""
        return "larger" if max(line.frame.output) < _most(brief, line) else ""
    return ""


_SLOW = frozenset(("webp", "avif", "gif", "png"))
"""Formats of which every file that is made for nothing is felt."""


def begin(
    brief: Brief, line: Line, picture: Picture, by_hand: bool, credit: Credit
) -> tuple[Made, str, bool]:
    """A file of the size there is, whether another size would serve better (as :func:`wanted`), and whether the file is
    the one to keep where none does."""
    least = _least(brief, line, picture, by_hand, credit)
    if least is not None and len(least.data) > (line.file.at_most or 0):
        return least, "smaller", False
    has = least is not None and (least.colours is not None or least.options is not None)
    made = make(picture, line.file, credit, least if has else None)
    return made, wanted(brief, line, made, by_hand), True


def _least(
    brief: Brief, line: Line, picture: Picture, by_hand: bool, credit: Credit
) -> Made | None:
    """The file at the floor where fewer pixels are allowed: is even that over its limit, no quality below the floor need be
    looked for. ``None`` where looking first saves nothing."""
    file = line.file
    if file.format not in _SLOW or file.at_most is None or file.lossless:
        return None
    if file.quality is not None or file.colours is not None:
        return None
    if by_hand or line.frame.fill == "pixels" or not brief.permits("scale"):
        return None
    smallest = _sizes(brief, line).target(line.frame.shape, 1)
    if smallest is None or max(smallest.size) >= max(line.frame.output):
        return None
    if file.format == "png" and not hopeless_as_it_is(picture, file, credit):
        return None
    return made_at_floor(picture, file, credit)


def find(
    brief: Brief,
    line: Line,
    made: Made,
    way: str,
    at: At,
    credit: Credit = Credit(),  # noqa: B008
) -> Room | None:
    """The allowed size to take instead; ``None`` where none serves better.

    Args:
        way: as :func:`wanted` says.
        at: renders the fitting at a size; it may raise to stop the search.
    """
    sizes = _sizes(brief, line)
    if way == "smaller":
        return _smaller(sizes, line, at, credit, made)
    if way == "near":
        return _near(sizes, line, at, credit)
    return _larger(brief, sizes, line, made, at, credit)


def _below(made: Made, file: FileStation) -> bool:
    """Whether what was given up to fit lies below the floor."""
    if made.options is not None:
        return file.quality is None and made.options.quality < file.floor
    few = made.colours is not None and made.colours < colours_at_floor(file)
    return few and bool(made.statement) and file.colours is None


def _sizes(brief: Brief, line: Line) -> Allowed:
    """The sizes that the frame's own came from: the recommended ones where it is one of them."""
    wished = allowed(brief, "should")
    return wished if wished.contains(*line.frame.output) else allowed(brief)


_STRIDES = (0.95, 0.7)
"""How much shorter than was guessed the next side is that is tried once the time is spent, and none has been small enough;
then how much shorter than the last."""


_SLACK = 0.01
"""The share of a side that two sizes may lie apart where every try is dear: from one pixel to the next bytes go up and down by
more than a side's hundredth brings."""


_LEFT = 0.02
"""The share of a limit that a palette may leave: from one pixel to the next its bytes go up and down by more."""


_NEAR = 0.6
"""The share of the bytes there are from which on a limit is found as soon without any that are foretold."""
_LOOKS = 4
"""Sizes of which the bytes are foretold for a guess."""


_STEPS_UP = 7
"""Steps, each twice as wide as the last, in which the next size above one that fits is looked for."""


class _Search:
    """Finds two neighbours among the allowed sizes of one shape: one whose file is small enough
    and the next one, whose file is not. Bytes grow about as a power of the side.

    Args:
        slack: two that lie apart by no more than this share of the side will do.
        enough: so does one that leaves no more than this share of the limit.
        foretold: the bytes at a size but for a share that is nearly the same for all, at little cost.
    """

    def __init__(
        self,
        sizes: Allowed,
        shape: Fraction,
        bytes_at: Callable[[Size], int],
        slack: float = 0.0,
        enough: float = 0.0,
        foretold: Callable[[Size], int] | None = None,
    ) -> None:
        self.sizes, self.shape, self.bytes_at, self.slack = sizes, shape, bytes_at, slack
        self.enough = enough
        self.tried: dict[int, int] = {}
        self._foretold, self._told = foretold, dict[int, int]()

    def below(self, side: float) -> Size | None:
        """The largest allowed size whose longest side is at most so long."""
        found = self.sizes.target(self.shape, side) if side >= 1 else None
        return found.size if found is not None and max(found.size) <= side else None

    def size(self, at: Size) -> int:
        if max(at) not in self.tried:
            self.tried[max(at)] = self.bytes_at(at)
        return self.tried[max(at)]

    def edge(self, good: Size | None, bad: Size, limit: int) -> tuple[Size | None, Size]:
        """The largest size of at most ``limit`` bytes and the next one; ``good`` and ``bad`` are
        known to be so, and both have been tried."""
        run, last, late = 0, False, 0
        while True:
            low, high = max(good) if good is not None else 0, max(bad)
            if good is not None and self._will_do(good, bad, limit):
                return good, bad
            near = None
            guess = self._guess(limit, low, high, run, last)
            if good is None and bounds.over():  # none is found yet: get there in strides
                least = self.sizes.target(self.shape, 1)
                guess = _STRIDES[0] * guess if late == 0 else min(guess, _STRIDES[1] * high)
                guess, late = max(guess, max(least.size) if least is not None else 1), late + 1
            # Sides of a shape lie some pixels apart: from one that fits, the next that there is.
            steps = [low + (1 << k) for k in range(1, _STEPS_UP) if good is not None]
            for side in (
                guess,
                *(s for s in steps if s < (low + high) // 2),
                (low + high) // 2,
                high - 1,
            ):
                near = self.below(min(side, high - 1))
                if near is not None and max(near) > low:
                    break
                near = None
            if near is None or (good is not None and bounds.over()):
                return good, bad
            fits = self.size(near) <= limit
            run, last = (run + 1 if fits == last else 1), fits
            if fits:
                good = near
            else:
                bad = near

    def _will_do(self, good: Size, bad: Size, limit: int) -> bool:
        """Whether the largest lies so near to one that fits that more tries cost more than it brings."""
        near = max(bad) - max(good) <= self.slack * max(bad)
        return near or self.size(good) >= (1 - self.enough) * limit

    def _guess(self, limit: int, low: int, high: int, run: int, up: bool) -> float:
        """Where the limit falls, seen from the nearest size that was tried; where that creeps,
        in steps that double, for by single pixels bytes go up and down."""
        limit = round((1 - self.enough / 2) * limit)  # to its good side
        near, guess = _by_power(self.tried, limit)
        if len(self.tried) > _PATIENCE:
            return (low + high) // 2
        if self._foretold is not None:
            guess = self._foreseen(limit, near, guess)
        step = max(1, round(self.slack * near)) << max(0, run - 2)
        return max(guess, low + step) if up else min(guess, high - step)

    def _foreseen(self, limit: int, near: int, guess: float) -> float:
        """A guess made better by bytes that are foretold, set right by those of the nearest size that was tried."""
        at = self.below(near)
        if at is None or max(at) != near or (not self._told and limit > _NEAR * self.tried[near]):
            return guess
        share = self.tried[near] / self._told_at(at)
        for _ in range(_LOOKS):
            found = self.below(guess)
            if found is None or max(found) in self._told:
                break
            self._told_at(found)
            _, guess = _by_power({one: many * share for one, many in self._told.items()}, limit)
        return guess

    def _told_at(self, size: Size) -> int:
        assert self._foretold is not None
        if max(size) not in self._told:
            self._told[max(size)] = self._foretold(size)
        return self._told[max(size)]


def _by_power(tried: Mapping[int, float], limit: int) -> tuple[int, float]:
    """The side whose bytes are nearest to a limit, and that at which the limit falls if they go on by its power."""
    near, *others = sorted(tried, key=lambda side: abs(log(tried[side] / limit)))
    power = 2.0
    if others and tried[others[0]] != tried[near]:
        other = others[0]
        power = log(tried[near] / tried[other]) / log(near / other)
        power = min(max(power, 1.0), 4.0)
    return near, near * exp(log(limit / tried[near]) / power)


def _smaller(sizes: Allowed, line: Line, at: At, credit: Credit, made: Made) -> Room | None:
    limit, output = line.file.at_most, line.frame.output
    assert limit is not None
    fitting: dict[Size, Made] = {}
    told = exact(made.data, line.file.format) if not line.file.most_colours else None

    def bytes_at(size: Size) -> int:
        if told is not None:
            return told(size)
        picture, file = at(size)
        made = made_at_floor(picture, file, credit)
        if len(made.data) <= limit:
            fitting.clear()  # only the last that fits is asked for again
            fitting[size] = made
        return len(made.data)

    dear = line.file.format in _SLOW or bool(line.frame.angle or line.finish.on)
    first = at(output)[0]
    quick = foretold(first, at_floor(line.file, first.depth), credit)
    slack = _SLACK if dear else 0.0
    enough = _LEFT if dear and line.file.format in ("png", "gif") else 0.0
    search = _Search(sizes, line.frame.shape, bytes_at, slack, enough, quick)
    if _is_at_floor(made, line):
        search.tried[max(output)] = len(made.data)
    search.size(output)
    good, bad = search.edge(None, output, limit)
    if good is None:
        least = sizes.target(line.frame.shape, 1)
        if least is None or max(least.size) >= max(output):
            return None
        return Room(
            least.size,
            say(
                "{size} is the smallest allowed size; even there {limit} cannot be met {how}.",
                size=show_size(least.size),
                limit=show_exact_bytes(limit),
                how=_kept(line),
            ),
        )
    words_of = {
        "size": show_size(good),
        "limit": show_exact_bytes(limit),
        "how": _kept(line),
    }
    if bounds.over():  # larger ones have not been tried
        said = say("{size} comes to at most {limit} {how}.", **words_of)
        return Room(good, said, fitting.get(good))
    between = search.below(max(bad) - 1)
    if between is not None and max(between) > max(good):
        more = show_size(bad)
        said = say(
            "{size} comes to at most {limit} {how}; {more} no longer does.", more=more, **words_of
        )
        return Room(good, said, fitting.get(good))
    words = say(
        "{size} is the largest allowed size that comes to at most {limit} {how}.", **words_of
    )
    return Room(good, words, fitting.get(good))


_STEPS = 24
_STEP = 0.985
"""How many smaller sizes are tried, each so much of the one before, for a file between two limits."""


def _near(sizes: Allowed, line: Line, at: At, credit: Credit) -> Room | None:
    """The first smaller size of which a file comes between its limits; bytes change with it, and what a step of quality
    brings with them."""
    search = _Search(sizes, line.frame.shape, lambda _size: 0)
    side = float(max(line.frame.output))
    for _ in range(_STEPS):
        size = search.below(min(side * _STEP, side - 1))
        if size is None or bounds.over():
            return None
        side = float(max(size))
        picture, file = at(size)
        made = make(picture, file, credit, told=False)
        if not made.trouble and made.options is not None and made.options.quality >= file.floor:
            words = say(
                "At {was} no quality comes to between {least} and {limit}; at {size} one does.",
                was=show_size(line.frame.output),
                least=show_exact_bytes(line.file.at_least or 0),
                limit=show_exact_bytes(line.file.at_most or 0),
                size=show_size(size),
            )
            return Room(size, words, made)
    return None


def _is_at_floor(made: Made, line: Line) -> bool:
    """Whether a file is what the floor comes to."""
    wish = at_floor(line.file, line.colour.bits)
    if wish.format == "tiff":
        return True  # nothing is given up in it
    if wish.format in LOSSY and made.options is not None:
        return (
            not line.file.lossless
            and wish.format != "jpeg"
            and made.options.quality == wish.quality
        )
    return (
        wish.format in ("gif", "png") and made.colours is not None and made.colours == wish.colours
    )


def _kept(line: Line) -> str:
    file = line.file
    if file.lossless:
        return say("without loss")
    if file.format in LOSSY:
        return say("at quality {q} or better", q=file.quality or file.floor)
    if may_have_fewer(file, line.colour.bits):
        return say("with {n} colours or more", n=colours_at_floor(file))
    return say("without loss")


def _most(brief: Brief, line: Line) -> float:
    """The longest side to go to: what may be enlarged, and what can be written."""
    wide, high = line.frame.output
    most = min(_LONGEST, max(wide, high) * sqrt(_MOST_PIXELS / (wide * high)))
    limit = brief.bound(SCALE, None)
    if limit is not None:
        factor = limit.at_most or (max(limit.one_of) if limit.one_of else None)
        if factor is not None:
            most = min(most, float(factor) * max(line.frame.window.width, line.frame.window.height))
    largest = _sizes(brief, line).target(line.frame.shape, most + 0.5)
    return float(max(largest.size)) if largest is not None else 0.0


def _larger(
    brief: Brief, sizes: Allowed, line: Line, made: Made, at: At, credit: Credit
) -> Room | None:
    least, output = line.file.at_least, line.frame.output
    assert least is not None

    def bytes_at(size: Size) -> int:
        picture, file = at(size)
        if file.format in LOSSY and not file.lossless:
            file = replace(file, quality=100)
        return len(make(picture, file, credit, told=False).data)

    search = _Search(sizes, line.frame.shape, bytes_at)
    search.tried[max(output)] = len(made.data)
    most = _most(brief, line)
    good, side = output, float(max(output))
    while True:  # grow until one is large enough
        factor = sqrt(least / search.size(good)) * 1.05
        side = min(max(side * 1.02, max(good) * factor), most)
        near = search.below(side)
        if near is None or max(near) <= max(good):
            if side < most:
                continue
            largest = search.tried[max(good)]
            return Room(
                output,
                say(
                    "Even the largest size that may be written, {size}, comes to {n}.",
                    size=show_size(good),
                    n=show_exact_bytes(largest),
                ),
            )
        if search.size(near) >= least:
            break
        good = near
    _good, found = search.edge(good, near, least - 1)
    return Room(
        found,
        say(
            "{size} is the smallest allowed size that comes to {limit}; at {was} the best file has "
            "fewer.",
            size=show_size(found),
            limit=show_exact_bytes(least),
            was=show_size(output),
        ),
    )
