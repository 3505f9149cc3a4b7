"""An audit's work: every picture is looked at once, whatever the number of items that show it."""

from __future__ import annotations

from collections.abc import Iterator

from aptandum.core.brief.model import Brief
from aptandum.core.docket import audit
from aptandum.core.docket.audit import Checked
from aptandum.core.docket.audit_found import Mask
from aptandum.core.docket.listed import Listed
from aptandum.core.frozen import frozen


@frozen
class Look:
    """One picture that is to be looked at, and the places of the items that show it."""

    task: audit.Task
    places: tuple[int, ...]


def planned(items: Listed, wanted: Mask, brief: Brief, quick: bool = False) -> Iterator[Look]:
    """The pictures of the wanted items that are to be looked at, in their order.

    Args:
        wanted: by place; (N,) bool.
    """
    for places in items.pictures(wanted):
        yield Look(audit.Task(items[places[0]], brief, quick), places)


def look(one: Look) -> tuple[tuple[int, ...], Checked]:
    """Look at a picture, for any worker; trouble is told, not raised."""
    return one.places, audit.check_one(one.task)


def lost(one: Look, error: BaseException) -> tuple[tuple[int, ...], Checked]:
    """What stands for a look whose worker died."""
    return one.places, audit.check_lost(one.task, error)
