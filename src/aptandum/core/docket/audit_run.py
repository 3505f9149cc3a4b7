"""An audit's work: every picture is looked at once, whatever the number of items that show it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace

from aptandum.core.brief.model import Brief
from aptandum.core.docket import audit
from aptandum.core.docket.audit import Checked, Item
from aptandum.core.frozen import frozen


@frozen
class Look:
    """One picture that is to be looked at, and the places of the items that show it."""

    task: audit.Task
    places: tuple[int, ...]


def planned(
    items: Sequence[Item],
    places: Iterable[int],
    brief: Brief,
    quick: bool = False,
    known: Mapping[int, Checked] | None = None,
) -> list[Look]:
    """The pictures of the items at some places that are to be looked at, in their order.

    Args:
        known: what was found of items before, by their places, and still holds.
    """
    held = known or {}
    by_file: dict[str, list[int]] = {}
    for at in places:
        if at not in held:
            by_file.setdefault(items[at].file or f"\0{at}", []).append(at)
    return [Look(audit.Task(items[at[0]], brief, quick), tuple(at)) for at in by_file.values()]


def look(one: Look) -> tuple[tuple[int, ...], Checked]:
    """Look at a picture, for any worker; trouble is told, not raised."""
    return one.places, audit.check_one(one.task)


def lost(one: Look, error: BaseException) -> tuple[tuple[int, ...], Checked]:
    """What stands for a look whose worker died."""
    return one.places, audit.check_lost(one.task, error)


def spread(items: Sequence[Item], places: Iterable[int], found: Checked) -> dict[int, Checked]:
    """What was found of a picture, said of every item that shows it."""
    return {
        at: found if found.item is items[at] else replace(found, item=items[at]) for at in places
    }
