"""Lengths on the printed picture: a rule on a share of the frame may be written in millimetres."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from aptandum.core.brief.binding import HEAD_OFFSET
from aptandum.core.brief.model import Clause, Limit
from aptandum.core.brief.registry import binds_of
from aptandum.core.judge.measures import STATED
from aptandum.core.quantity import Printed
from aptandum.core.sizes.binds import PRINTED_HEIGHT, PRINTED_WIDTH


def in_shares(
    clauses: tuple[Clause, ...],
) -> tuple[tuple[Clause, ...], tuple[tuple[int, str], ...]]:
    """The clauses with every length as a share of the printed side that it lies along, which another
    clause of the brief has to name exactly; and those of which none does, by their places, each with
    the measure that is wanted."""
    sides: dict[Any, float] = {}
    for clause in clauses:
        binds = binds_of(clause.measure)
        if clause.limit is not None and clause.limit.exact:
            if binds in (PRINTED_WIDTH, PRINTED_HEIGHT):
                sides.setdefault(binds, float(clause.limit.one_of[0]))
    made, unknown = [], []
    for i, clause in enumerate(clauses):
        if clause.limit is not None and _has_length(clause.limit):
            along = PRINTED_WIDTH if binds_of(clause.measure) == HEAD_OFFSET else PRINTED_HEIGHT
            side = sides.get(along)
            if side is None:
                unknown.append((i, next(m.name for m in STATED.values() if m.binds == along)))
            else:
                clause = replace(clause, limit=_on(clause.limit, side))
        made.append(clause)
    return tuple(made), tuple(unknown)


def _has_length(limit: Limit) -> bool:
    bounds = limit.at_least, limit.at_most, *limit.one_of, *limit.none_of
    return any(isinstance(bound, Printed) for bound in bounds)


def _on(limit: Limit, side: float) -> Limit:
    def share(value: Any) -> Any:
        return value.on(side) if isinstance(value, Printed) else value

    return Limit(
        limit.form,
        share(limit.at_least),
        share(limit.at_most),
        tuple(map(share, limit.one_of)),
        tuple(map(share, limit.none_of)),
    )
