"""Pictures put in place of an audit's in bulk: found in a folder by an item's key, its picture's name or its own name."""

from __future__ import annotations

import os
from collections.abc import Sequence

from aptandum.core.docket.audit import Item
from aptandum.core.docket.found import photos_in
from aptandum.core.frozen import frozen


@frozen
class Swap:
    """A picture that may take the place of an item's own.

    Attributes:
        at: the item's place.
        others: further files that would fit as well; where there are any, none is taken unasked.
    """

    at: int
    item: Item
    file: str
    others: tuple[str, ...] = ()


def _stem(text: str) -> str:
    return os.path.splitext(os.path.basename(text))[0].strip().casefold()


def matched(
    items: Sequence[Item], places: Sequence[int], folder: str
) -> tuple[list[Swap], list[str]]:
    """What a folder has for the items at some places, and which of its photos are for none of them.

    An item's key comes first, then the name of its picture's file, then its own name; letters large and small are alike,
    and endings do not count. Of several files with one name the one with the item's own ending is taken, else none.
    """
    by_name: dict[str, list[str]] = {}
    for file in photos_in([folder]):
        by_name.setdefault(_stem(file), []).append(file)
    found, used = [], set()
    for at in places:
        item = items[at]
        for name in (item.key.strip().casefold(), _stem(item.file), item.name.strip().casefold()):
            files = [one for one in by_name.get(name, ()) if name and one != item.file]
            if not files:
                continue
            ending = os.path.splitext(item.file)[1].lower()
            alike = [one for one in files if os.path.splitext(one)[1].lower() == ending]
            first = files[0] if len(files) == 1 else alike[0] if len(alike) == 1 else ""
            found.append(Swap(at, item, first, tuple(one for one in files if one != first)))
            used |= set(files)
            break
    left = [file for files in by_name.values() for file in files if file not in used]
    return found, sorted(left)
