"""Hand-overs whose docket is gone: found, and brought to an end or taken in by another docket.

A docket with hand-overs may be closed without being saved, or deleted. What was never sent then is
not sent without anybody knowing: it is withdrawn, with the reason. What a desk may have stands, until
a person takes it into the docket that is open.
"""

from __future__ import annotations

from collections.abc import Collection
from pathlib import Path

from aptandum.core.docket import recovery
from aptandum.core.docket.hand_over import HandOver
from aptandum.core.docket.store import DocketError, load
from aptandum.core.words import say
from aptandum.desks.book import Book


def orphans(book: Book, known: Collection[str]) -> list[HandOver]:
    """Hand-overs that are not settled and whose docket neither lies where it was nor is open
    anywhere.

    Args:
        known: keys of dockets that are open here.
    """
    found: list[HandOver] = []
    held = {*known, *recovery.keys_open()}
    for key, (path, _title) in book.dockets().items():
        if key in held or _lies_at(path, key):
            continue
        found += [item for item in book.of(key) if not item.settled]
    return found


def let_go(book: Book, items: list[HandOver]) -> list[HandOver]:
    """Withdraw those that were never sent; gives the others, which a desk may have."""
    kept = []
    for item in items:
        if item.state == "ready":
            why = say("Its docket was closed without being saved: it was never sent.")
            book.write(item.moved("withdrawn", why))
        else:
            kept.append(item)
    return kept


def _lies_at(path: str, key: str) -> bool:
    if not path or not Path(path).is_file():
        return False
    try:
        return load(path).key == key
    except DocketError:
        return True  # it is there and cannot be read just now: it is not given up
