"""What a clause allows of the values of its measure."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

from aptandum.core.frozen import frozen
from aptandum.core.numbers import ByteCount, Printed
from aptandum.core.quantity import Kind
from aptandum.core.words import commas, listed, say


@frozen
class Limit:
    """What a clause allows. All bounds are inclusive; ``None`` and ``()`` mean no such bound.

    ``exactly`` and ``between`` are read into these fields too; :attr:`form` keeps which
    words the rulebook used, so that it can be said back as it was written.

    Attributes:
        aim: what an ``exactly`` with a ``tolerance`` names; the bounds then lie round it.
        give: that tolerance as it was written: ``2 %``.
        turned: the same limit with width and height exchanged, which is as good, where the rule
            holds either way up.
    """

    form: tuple[str, ...]
    at_least: Any = None
    at_most: Any = None
    one_of: tuple[Any, ...] = ()
    none_of: tuple[Any, ...] = ()
    aim: Any = None
    give: str = ""
    turned: Limit | None = None

    @property
    def exact(self) -> bool:
        return "exactly" in self.form and bool(self.one_of)

    @property
    def faces(self) -> tuple[Limit, ...]:
        """The limit by itself, and turned where it holds either way up."""
        return (self,) if self.turned is None else (self, self.turned)

    def allows(self, value: Any) -> bool:
        """Whether a value, given in the same kind, lies inside."""
        return any(face._holds(value) for face in self.faces)

    def _holds(self, value: Any) -> bool:
        if self.at_least is not None and value < self.at_least:
            return False
        if self.at_most is not None and value > self.at_most:
            return False
        if self.one_of and value not in self.one_of:
            return False
        return value not in self.none_of

    def nearest(self, value: Any) -> Any:
        """The allowed number nearest to an ordered value that lies outside."""
        if self.one_of:
            return min(self.one_of, key=lambda wanted: abs(float(wanted) - float(value)))
        if self.at_least is not None and value < self.at_least:
            return self.at_least
        if self.at_most is not None and value > self.at_most:
            return self.at_most
        return value

    def outside(self, value: Any) -> float:
        """Signed distance outside the limit in the value's own unit: below is negative."""
        return float(value) - float(self.nearest(value))

    def far(self, value: Any) -> float:
        """How far outside a value lies, as a share of the bound that it misses, 0..1; 1 for what is
        no number."""
        if isinstance(value, tuple):
            every = [sum(map(_apart, value, bound)) for bound in self.one_of] or [
                sum(_apart(side, low) for side, low in zip(value, self.at_least or (), strict=False) if side < low)
                + sum(_apart(side, high) for side, high in zip(value, self.at_most or (), strict=False) if side > high)
            ]  # fmt: skip
            return min(1.0, *every)
        try:
            return min(1.0, _apart(float(value), float(self.nearest(value))))
        except (TypeError, ValueError):
            return 1.0

    def says(self, kind: Kind) -> str:
        """The limit in words: ``exactly 630 × 840 px``, ``60 – 250 kB``, ``JPEG or PNG``."""
        said = self._says(kind)
        return say("{limit}, either way up", limit=said) if self.turned is not None else said

    def _says(self, kind: Kind) -> str:
        show = kind.show
        if self.aim is not None:
            return say("{value}, give or take {give}", value=show(self.aim), give=self.give)
        if self.exact and self.one_of:
            if kind.choices:  # a word stands for itself
                return show(self.one_of[0])
            return say("exactly {value}", value=show(self.one_of[0]))
        parts = []
        if {"above", "below"} & set(self.form):
            if "above" in self.form:
                parts.append(say("above {value}", value=show(kind.beside(self.at_least, -1))))
            elif self.at_least is not None:
                parts.append(say("at least {value}", value=show(self.at_least)))
            if "below" in self.form:
                parts.append(say("below {value}", value=show(kind.beside(self.at_most, 1))))
            elif self.at_most is not None:
                parts.append(say("at most {value}", value=show(self.at_most)))
        elif self.at_least is not None and self.at_most is not None:
            parts.append(say("{low} to {high}", low=show(self.at_least), high=show(self.at_most)))
        elif self.at_least is not None:
            parts.append(say("at least {value}", value=show(self.at_least)))
        elif self.at_most is not None:
            parts.append(say("at most {value}", value=show(self.at_most)))
        if self.one_of:
            parts.append(listed([show(value) for value in self.one_of]))
        if self.none_of:
            parts.append(say("not {values}", values=listed([show(v) for v in self.none_of])))
        return commas(parts)

    @property
    def printed(self) -> float | None:
        """The printed side in millimetres of which the limit is a share; ``None`` where it was not
        written as a length."""
        return next((b.of for b in self.bounds if isinstance(b, Printed) and b.of), None)

    def in_unit(self, value: Any) -> Any:
        """A measured value, to be shown in the unit that the limit was written in."""
        side = self.printed
        return value if side is None or not isinstance(value, float) else Printed(value, side)

    def ambiguous(self) -> bool:
        """Whether a byte limit was written in a unit that can be read two ways."""
        return any(isinstance(b, ByteCount) and b.other is not None for b in self.bounds)

    @property
    def bounds(self) -> tuple[Any, ...]:
        """Every value that the limit names."""
        every = (self.at_least, self.at_most, *self.one_of, *self.none_of)
        return tuple(value for value in every if value is not None)


def _apart(value: Any, bound: Any) -> float:
    try:
        return abs(float(value) - float(bound)) / max(abs(float(bound)), abs(float(value)), 1e-9)
    except (TypeError, ValueError):
        return 1.0


def some_of(limit: Limit, words: tuple[str, ...]) -> bool:
    """Whether any of the words that are true of a file is allowed, and none is forbidden."""
    wanted = not limit.one_of or any(word in limit.one_of for word in words)
    return wanted and not any(word in limit.none_of for word in words)


def turned_round(limit: Limit) -> Limit:
    """A limit on a size or a proportion with width and height exchanged."""

    def turn(value: Any) -> Any:
        if value is None:
            return None
        return value[::-1] if isinstance(value, tuple) else 1 / Fraction(value)

    low, high = turn(limit.at_least), turn(limit.at_most)
    if not isinstance(limit.at_least or limit.at_most, tuple):
        low, high = high, low  # the wider bound is the lower one of the other way up
    return Limit(
        limit.form,
        low,
        high,
        tuple(map(turn, limit.one_of)),
        tuple(map(turn, limit.none_of)),
        turn(limit.aim),
        limit.give,
    )


def both(one: Limit, other: Limit, kind: Kind) -> Limit:
    """The limit that allows what two on the same measure allow; where they exclude each other the
    first of them."""
    if kind.sided or one.turned is not None or other.turned is not None:
        return one
    if kind.choices:
        words = tuple(word for word in kind.choices if one.allows(word) and other.allows(word))
        if not words:
            return one
        first = tuple(word for word in one.one_of if word in words)
        rest = tuple(word for word in words if word not in first)
        return Limit(("one_of",), one_of=(*first, *rest)) if len(words) < len(kind.choices) else one
    lows = [v for v in (one.at_least, other.at_least) if v is not None]
    highs = [v for v in (one.at_most, other.at_most) if v is not None]
    named = one.one_of or other.one_of
    made = Limit(
        one.form,
        max(lows, default=None),
        min(highs, default=None),
        tuple(v for v in named if one.allows(v) and other.allows(v)),
        tuple(dict.fromkeys((*one.none_of, *other.none_of))),
    )
    low, high = made.at_least, made.at_most
    empty = (named and not made.one_of) or (low is not None and high is not None and low > high)
    return one if empty else made
