"""Lengths on the printed picture: a rule on a share of the frame may be written in millimetres."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from aptandum.core.brief.binding import HEAD_OFFSET
from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Clause
from aptandum.core.brief.registry import binds_of
from aptandum.core.numbers import Printed
from aptandum.core.sizes.binds import PRINTED_BOTH, PRINTED_HEIGHT, PRINTED_WIDTH

_NAMES = {PRINTED_WIDTH: "print_width", PRINTED_HEIGHT: "print_height"}


def in_shares(
    clauses: tuple[Clause, ...],
) -> tuple[tuple[Clause, ...], tuple[tuple[int, str], ...]]:
    """The clauses with every length as a share of the printed side that it lies along, which another
    clause of the brief has to name exactly; and those of which none does, by their places, each with
    the measure that is wanted."""
    made, unknown = [], []
    for i, clause in enumerate(clauses):
        if clause.limit is not None and _has_length(clause.limit):
            along = PRINTED_WIDTH if binds_of(clause.measure) == HEAD_OFFSET else PRINTED_HEIGHT
            side = _side_of(clauses, along, clause.either)
            if side is None:
                unknown.append((i, _NAMES[along]))
            else:
                clause = replace(clause, limit=_on(clause.limit, side))
        made.append(clause)
    return tuple(made), tuple(unknown)


def _side_of(clauses: tuple[Clause, ...], along: Any, either: str) -> float | None:
    """The printed side that is named exactly, in the same way of an either-or before the rest."""
    found = None
    for clause in clauses:
        if clause.limit is None or clause.either not in ("", either) or clause.when is not None:
            continue
        one = clause.limit.one_of
        value = one[0] if len(one) == 1 else clause.limit.aim  # of “give or take” what is aimed at
        if value is None or clause.limit.turned is not None:
            continue
        binds = binds_of(clause.measure)
        if binds == PRINTED_BOTH:
            value = value[0 if along == PRINTED_WIDTH else 1]
        elif binds != along:
            continue
        if found is None or clause.either:
            found = float(value)
    return found


def _has_length(limit: Limit) -> bool:
    return any(isinstance(bound, Printed) for bound in (*limit.bounds, limit.aim))


def _on(limit: Limit, side: float) -> Limit:
    def share(value: Any) -> Any:
        return value.on(side) if isinstance(value, Printed) else value

    return replace(
        limit,
        at_least=share(limit.at_least),
        at_most=share(limit.at_most),
        one_of=tuple(map(share, limit.one_of)),
        none_of=tuple(map(share, limit.none_of)),
        aim=share(limit.aim),
    )
