"""Byte budgets: the highest JPEG quality whose file stays inside the limits, in few encodes.

The logarithm of a JPEG's size follows nearly one curve of quality for all photos, up to an
additive constant. A look at a quarter of the picture, or else each real encode, corrects the
constant, so the search starts close and ends with proof: the quality found fits, and the next one
does not. Where a quarter has told, the two of the proof are encoded at once.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from math import exp, log

from aptandum.core import threads
from aptandum.core.later import np

Encode = Callable[[int], bytes]

# Log of file size against Q 75, measured over photos of every kind.
_CURVE_Q = (1, 5, 10, 20, 30, 40, 50, 60, 70, 75, 80, 85, 90, 93, 95, 97, 98, 99, 100)
_CURVE = (
    -2.30,
    -1.95,
    -1.60,
    -1.12,
    -0.84,
    -0.64,
    -0.48,
    -0.31,
    -0.11,
    0.0,
    0.14,
    0.34,
    0.62,
    0.82,
    0.98,
    1.22,
    1.36,
    1.56,
    1.86,
)
_PATIENCE = 6

_UNEVEN = range(49, 52)
"""Qualities at which a file can come out a little smaller than at the one below."""


def _curve(quality: float) -> float:
    return float(np.interp(quality, _CURVE_Q, _CURVE))


@dataclass
class Search:
    """A search's outcome.

    Attributes:
        quality: the highest that fits, or ``None`` where none does.
        data: the file at ``quality``; where none fits, the smallest one that was made.
        tried: size in bytes of each quality that was encoded.
    """

    quality: int | None
    data: bytes
    tried: dict[int, int] = field(default_factory=dict)

    @property
    def encodes(self) -> int:
        return len(self.tried)


def highest_quality(
    encode: Encode,
    at_most: int,
    pixels: int,
    lowest: int = 1,
    highest: int = 100,
    estimate: Callable[[int], float] | None = None,
    fits: tuple[int, bytes] | None = None,
    last_alike: Callable[[int], int] | None = None,
) -> Search:
    """The highest quality whose file has at most ``at_most`` bytes.

    Args:
        encode: quality (1..100) to a file's bytes; it may be called from two threads at once.
        pixels: of the picture, for the first guess.
        estimate: a quality's bytes to a few per cent, for much less than an encode.
        fits: a quality that is known to fit, and its file: the search begins one above, or, where much of the limit is
            left, where the estimate says, which is corrected by it.
        last_alike: the highest quality whose file is that of a quality, where several share one.

    The result is proven: quality + 1 was encoded and is too large, or is above ``highest``.
    """
    # About two bits a pixel at Q 75 for an ordinary photo.
    level = log(max(pixels, 1) * 0.25 + 2000)
    search = _Closing(encode, at_most, lowest, highest, last_alike or (lambda quality: quality))
    guess = _nearest_below(level, at_most, lowest, highest)
    if fits is not None:
        search.low = search.last_alike(fits[0])
        search.keep(search.low, fits[1])
        guess = search.low + 1
        if estimate is not None and len(fits[1]) < _NEAR * at_most:
            look = _Look(estimate, level)
            guess = search.by_pairs(look, (len(fits[1]) / look.at(fits[0])) ** _HALF)
    elif estimate is not None:
        guess = search.by_pairs(_Look(estimate, level))
    search.close_in(guess)
    return search.found()


class _Closing:
    """A search between two qualities: ``low`` fits (or is below all), ``high`` does not."""

    def __init__(
        self,
        encode: Encode,
        at_most: int,
        lowest: int,
        highest: int,
        last_alike: Callable[[int], int],
    ) -> None:
        self.encode, self.at_most, self.last_alike = encode, at_most, last_alike
        self.lowest, self.highest = lowest, highest
        self.low, self.high = lowest - 1, highest + 1
        self.tried: dict[int, int] = {}
        self.kept: dict[int, bytes] = {}

    def size(self, quality: int) -> int:
        """The bytes of a quality, encoded where neither it nor one of the same file has been."""
        quality = self.last_alike(quality)
        if quality not in self.tried:
            self.keep(quality, self.encode(quality))
        return self.tried[quality]

    def keep(self, quality: int, data: bytes) -> None:
        self.tried[quality] = len(data)
        if len(data) <= self.at_most or quality == self.last_alike(self.lowest):
            self.kept[quality] = data

    def first_alike(self, quality: int) -> int:
        """The lowest quality whose file is that of a quality."""
        last = self.last_alike(quality)
        while quality > self.lowest and self.last_alike(quality - 1) == last:
            quality -= 1
        return quality

    @property
    def bounded(self) -> bool:
        """Whether a quality on either side has been encoded."""
        return self.low >= self.lowest and self.high <= self.highest

    def by_pairs(self, look: _Look, off: float = 1.0) -> int:
        """Encode two neighbouring qualities at once where the estimate says; gives the next guess.

        Args:
            off: real bytes over estimated ones, where both are known of some quality.
        """
        for _ in range(_PAIRS):
            guess = look.expect(self.at_most / off, self.lowest, self.highest)
            guess = min(max(guess, self.low + 1), self.high - 1)
            hopeless = guess == self.lowest and look.at(self.lowest) > self.at_most * _SURE
            guess = self.last_alike(guess)
            pair = [guess, self.last_alike(min(guess + 1, self.highest))]
            pair = [q for q in dict.fromkeys(pair) if self.low < q < self.high]
            pair = pair[: 1 if hopeless else 2]
            for quality, data in zip(pair, threads.each(self.encode, pair), strict=True):
                self.keep(quality, data)
            self.low = max((q for q in pair if self.tried[q] <= self.at_most), default=self.low)
            over = (self.first_alike(q) for q in pair if self.tried[q] > self.at_most)
            self.high = min(over, default=self.high)
            if self.high - self.low <= 1:
                break
            off = self.tried[pair[0]] / look.at(pair[0])
        if self.bounded:
            return self._between()
        return self.low + 1 if self.low >= self.lowest else self.high - 1

    def close_in(self, guess: int) -> None:
        """Encode until the next quality does not fit."""
        while self.high - self.low > 1:
            guess = min(max(guess, self.low + 1), self.high - 1)
            size = self.size(guess)
            if size <= self.at_most:
                self.low = self.last_alike(guess)
            else:
                self.high = self.first_alike(guess)
            guess = self._next(log(size) - _curve(guess))

    def _between(self) -> int:
        return _between(
            self.size(self.low), self.size(self.high), self.low, self.high, self.at_most
        )

    def _next(self, level: float) -> int:
        if len(self.tried) >= _PATIENCE:
            return (
                self.low + self.high
            ) // 2  # a curve unlike a photo's: halve, so as not to creep
        if self.bounded:
            return self._between()
        # One step beyond the estimate proves it, where the estimate has been tried already.
        guess = _nearest_below(level, self.at_most, self.lowest, self.highest)
        return min(max(guess, self.low + 1), self.high - 1)

    def found(self) -> Search:
        """The quality that is proven; where bytes are known to fall again a step higher, that step
        has been tried as well."""
        if self.low + 1 in _UNEVEN:
            for quality in (q for q in _UNEVEN if self.low < q <= self.highest):
                if self.size(quality) <= self.at_most:
                    self.low = quality
        if self.low < self.lowest:
            self.size(self.lowest)
            return Search(None, self.kept[self.last_alike(self.lowest)], self.tried)
        return Search(self.low, self.kept[self.low], self.tried)


_LOOKS = 4
"""How often a quarter is looked at for one guess, at most."""

_PAIRS = 2
"""How many pairs of qualities are encoded at once before going on one by one."""

_HALF = 0.5
"""How much of what an estimate was off at a low quality is expected of it at a higher one: it comes closer there."""

_NEAR = 0.8
"""The share of the limit from which on a file that fits is one step below it, or few."""

_SURE = 1.1
"""How far over the limit an estimate must lie to be believed without its neighbour."""


class _Look:
    """What estimates tell of the curve."""

    def __init__(self, estimate: Callable[[int], float], level: float) -> None:
        self.estimate, self.level = estimate, level
        self.known: dict[int, float] = {}

    def at(self, quality: int) -> float:
        if quality not in self.known:
            self.known[quality] = max(1.0, self.estimate(quality))
        return self.known[quality]

    def expect(self, limit: float, lowest: int, highest: int) -> int:
        """The highest quality expected to stay inside a limit."""
        limit = max(limit, 1.0)
        for _ in range(_LOOKS):
            guess = self._guess(limit, lowest, highest)
            if guess in self.known:
                break
            self.at(guess)
        return self._guess(limit, lowest, highest)

    def _guess(self, limit: float, lowest: int, highest: int) -> int:
        below = [q for q, size in self.known.items() if size <= limit]
        above = [q for q, size in self.known.items() if size > limit]
        if below and above and max(below) < min(above):
            low, high = max(below), min(above)
            if high - low <= 1:
                return low
            share = (log(limit) - log(self.known[low])) / (
                log(self.known[high]) - log(self.known[low])
            )
            wanted = _curve(low) + share * (_curve(high) - _curve(low))
            return min(int(float(np.interp(wanted, _CURVE, _CURVE_Q))), high - 1)
        level = self.level
        if self.known:
            near = min(self.known, key=lambda q: abs(log(self.known[q] / limit)))
            level = log(self.known[near]) - _curve(near)
        return _nearest_below(level, int(limit), lowest, highest)


def _nearest_below(level: float, at_most: int, lowest: int, highest: int) -> int:
    """The highest quality whose size the curve expects inside the limit."""
    room = log(max(at_most, 1)) - level
    quality = float(np.interp(room, _CURVE, _CURVE_Q))
    return min(max(int(quality), lowest), highest)


def _between(below: int, above: int, low: int, high: int, at_most: int) -> int:
    """Where the limit falls between two encoded qualities and their bytes, with the curve's shape between."""
    a, b = log(below), log(above)
    rise = _curve(high) - _curve(low)
    if rise <= 0 or b <= a:
        return (low + high) // 2
    wanted = _curve(low) + (log(at_most) - a) / (b - a) * rise
    quality = int(float(np.interp(wanted, _CURVE, _CURVE_Q)))
    return min(max(quality, low + 1), high - 1)


def reckoned(pixels: int, quality: int | None, at_least: int | None, at_most: int | None) -> int:
    """The bytes to expect of a file that is not made yet; a quality that is still to be found
    brings it inside the limits, as far as they can be met."""
    guess = expected_bytes(pixels, quality or 93)
    if quality is None:
        guess = min(guess, at_most) if at_most is not None else guess
        guess = max(guess, at_least) if at_least is not None else guess
    return guess


def expected_bytes(pixels: int, quality: int) -> int:
    """A first guess of a JPEG's size before anything has been encoded."""
    return int(exp(log(pixels * 0.25 + 2000) + _curve(quality)))
