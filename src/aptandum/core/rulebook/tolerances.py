"""``exactly`` with a ``tolerance``: the bounds round what is named."""

from __future__ import annotations

from contextlib import suppress
from fractions import Fraction
from math import ceil, floor
from typing import Any

from aptandum.core.numbers import ByteCount, Printed, QuantityError
from aptandum.core.quantity import COUNT, LENGTH, PIXELS, Kind, parse_share
from aptandum.core.words import say


def round_about(kind: Kind, value: Any, give: object) -> tuple[Any, Any]:
    """The lower and the upper bound of a value that may be missed by a share of it, or by an amount in
    its own unit; of whole numbers those that lie inside.

    Raises:
        QuantityError: the tolerance is neither, is nothing, or leaves no lower bound above zero.
    """
    share, amount = _read(kind, give)

    def bounds(one: Any) -> tuple[Any, Any]:
        exact = Fraction(str(float(one))) if isinstance(one, float) else Fraction(one)
        off = abs(exact) * share if share is not None else amount
        assert off is not None
        low, high = exact - off, exact + off
        return _like(kind, one, low, True), _like(kind, one, high, False)

    if kind.sided:
        low, high = zip(*(bounds(side) for side in value), strict=True)
    else:
        low, high = bounds(value)
    return low, high


def _like(kind: Kind, one: Any, bound: Fraction, lower: bool) -> Any:
    if isinstance(one, ByteCount):
        return ByteCount(max(0, ceil(bound)) if lower else floor(bound))
    if kind.whole:
        least = 0 if kind.name in ("colour", "count") else 1
        return max(least, ceil(bound)) if lower else floor(bound)
    if isinstance(one, Printed):
        return Printed(float(bound), one.of)
    return bound if isinstance(one, Fraction) else float(bound)


def _read(kind: Kind, give: object) -> tuple[Fraction | None, Fraction | None]:
    expected = say('a share such as "2 %", or how much in the same unit as the limit')
    share: Fraction | None = None
    with suppress(QuantityError):
        share = Fraction(str(parse_share(give)))
    if share is not None and not (kind.name == "share" and isinstance(give, str)):
        if not 0 < share < 1:
            raise QuantityError(expected)
        return share, None
    one = {"size": PIXELS, "print size": LENGTH, "colour": COUNT}.get(kind.name, kind)
    try:
        amount = one.parse(give, "lower")
    except QuantityError:
        raise QuantityError(expected) from None
    exact = Fraction(str(float(amount))) if isinstance(amount, float) else Fraction(amount)
    if exact <= 0:
        raise QuantityError(expected)
    return None, exact
