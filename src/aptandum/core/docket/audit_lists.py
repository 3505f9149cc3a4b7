"""What an audit found, as lists: by reason, by what is new since last time, by value; as CSV, JSON and a page to be read."""

from __future__ import annotations

import json
import os
from collections.abc import Iterator, Sequence
from dataclasses import field
from datetime import datetime
from itertools import chain
from pathlib import Path
from typing import TYPE_CHECKING, Any, Literal, NamedTuple, overload

from aptandum.core.atomic import write_atomic
from aptandum.core.docket import audit
from aptandum.core.docket.audit import Checked
from aptandum.core.docket.audit_book import Since
from aptandum.core.docket.audit_found import Found, Mask
from aptandum.core.docket.audit_memory import History, Mark, Remembered
from aptandum.core.docket.listed import Item, Places
from aptandum.core.frozen import frozen
from aptandum.core.later import np
from aptandum.core.words import say, sentences, show_day

if TYPE_CHECKING:
    import numpy.typing as npt

Order = Literal["worst", "value", "listed"]
DANGER, FELL, NEW, ROSE, ACCEPTED, EVERY = (
    "\0danger", "\0fell", "\0new", "\0rose", "\0accepted", "\0every",
)  # fmt: skip
"""Groups that are no clause's."""


class Told(NamedTuple):
    """An item, how it stands, and what is remembered of it.

    Attributes:
        history: ``None`` where no book is kept.
        at: its place in the listing.
    """

    key: str
    checked: Checked
    history: History | None = None
    at: int = 0

    @property
    def item(self) -> Item:
        """What is listed."""
        return self.checked.item

    @property
    def in_danger(self) -> bool:
        """Whether it is in danger, and nobody has said that it may stay."""
        return self.checked.in_danger and not (self.history and self.history.accepted)

    @property
    def accepted(self) -> bool:
        """Whether a person has said that it may stay as it is."""
        return bool(self.history and self.history.accepted) and self.checked.in_danger

    def remembered(self) -> tuple[str, str, str]:
        """What the book says of it, as :data:`aptandum.core.docket.audit.REMEMBERED`."""
        held = self.history or History("")
        return held.first_seen, held.danger_since, held.accepted


class Rows(Sequence[Told]):
    """Items of an audit in some order. Each is told when it is asked for: what is not in view is not held.

    Attributes:
        places: theirs in the listing; (M,) int.
        remembered: whether a book is kept.
    """

    def __init__(self, found: Found, remembered: Remembered | None, places: Places) -> None:
        self._found, self._held, self.places = found, remembered, places
        self._listed = found.items_listed
        self.remembered = remembered is not None

    def among(self, which: Mask) -> Rows:
        """Those for which it is said so; (M,) bool."""
        return Rows(self._found, self._held, self.places[which])

    def __len__(self) -> int:
        return len(self.places)

    @overload
    def __getitem__(self, at: int) -> Told: ...
    @overload
    def __getitem__(self, at: slice) -> Rows: ...
    def __getitem__(self, at: Any) -> Any:
        """Those of a slice, or the one at a place of this order."""
        if isinstance(at, slice):
            return Rows(self._found, self._held, self.places[at])
        place = int(self.places[at])
        history = None if self._held is None else self._held[place]
        item = self._listed[place]
        key = self._listed.keys.of(place, item)
        return Told(key, self._found.of_item(place, item), history, place)

    @property
    def heads(self) -> tuple[tuple[str, ...], ...]:
        """The columns of their listings."""
        return self._listed.heads

    def files(self) -> Iterator[str]:
        """The pictures of each, without those that have none."""
        for place in self.places.tolist():
            file = self._listed[place].file
            if file:
                yield file

    # -- all at once -------------------------------------------------------------------------------

    @property
    def matters(self) -> Mask:
        """Whether each still matters; (M,) bool."""
        return self._listed.matters[self.places]

    @property
    def values(self) -> npt.NDArray[np.float64]:
        """What each is worth; NaN: nobody says; (M,) float64."""
        return self._listed.values[self.places]

    @property
    def accepted(self) -> Mask:
        """As :attr:`Told.accepted`; (M,) bool."""
        return self._found.in_danger[self.places] & self._marked("accepted")

    @property
    def in_danger(self) -> Mask:
        """As :attr:`Told.in_danger`; (M,) bool."""
        return self._found.in_danger[self.places] & ~self._marked("accepted")

    def of_group(self, group: str) -> Rows:
        """Those of a group: one of the above, or those in danger by a clause."""
        if group == EVERY:
            return self
        if group == DANGER:
            return self.among(self.in_danger)
        if group == ACCEPTED:
            return self.among(self.accepted)
        if group == FELL:
            return self.among(self.in_danger & self._marked("fell"))
        if group in (NEW, ROSE):
            return self.among(self._marked("new" if group == NEW else "rose"))
        return self.among(self.in_danger & self._found.missing(self.places, group))

    def new_since(self) -> Rows:
        """Those of which something is new since the visit before."""
        fell, rose, new = self._marked("fell"), self._marked("rose"), self._marked("new")
        return self.among(fell | rose | new)

    def in_order(self, order: Order) -> Rows:
        """The worst first; or the most valuable of those in danger first; or as they are listed."""
        if order == "listed":
            return self
        after = self.accepted if order == "worst" else np.zeros(len(self), bool)
        worst = Rows(self._found, self._held, self._found.by_weight(self.places, after))
        if order == "worst":
            return worst
        worth = np.nan_to_num(worst.values, nan=0.0)
        best = np.lexsort((-worth, ~worst.in_danger))
        return Rows(self._found, self._held, worst.places[best])

    def titles(self) -> list[tuple[str, str, int]]:
        """The reasons of those in danger: clause, what it is called, and how many; the most frequent first."""
        return self._found.counted(self.places[self.in_danger])

    def worth(self) -> float | None:
        """What those in danger are worth together; ``None``: the listing does not say."""
        known = self.values[self.in_danger]
        known = known[~np.isnan(known)]
        return float(np.sum(known)) if len(known) else None

    def _marked(self, mark: Mark) -> Mask:
        if self._held is None:
            return np.zeros(len(self), bool)
        return self._held.marked(mark)[self.places]


def told(found: Found, remembered: Remembered | None = None) -> Rows:
    """Everything that was looked at, with what is remembered of it, as it is listed."""
    return Rows(found, remembered, np.flatnonzero(found.looked))


@frozen
class Lists:
    """What is shown of an audit: everything that matters, its groups, and the chosen one's items in order.

    Attributes:
        groups: name, what it is called, how many; a clause's are reasons of being in danger.
    """

    mine: Rows = field(repr=False)
    groups: tuple[tuple[str, str, int], ...]
    group: str
    shown: Rows = field(repr=False)


def lists(
    found: Found,
    remembered: Remembered | None,
    group: str,
    order: Order,
    set_aside: bool = True,
    compared: bool = False,
) -> Lists:
    """Everything that a view of an audit shows; it may be made beside the interface.

    Args:
        group: the one that is chosen; where it is there no more, those in danger are.
        set_aside: leave out what no longer matters.
        compared: there was a visit before, so that there is something new.
    """
    mine = told(found, remembered)
    if set_aside:
        mine = mine.among(mine.matters)
    danger = mine.of_group(DANGER)
    groups = [(DANGER, say("In danger"), len(danger)), *danger.titles()]
    if compared and remembered is not None:
        names = (
            (FELL, say("Newly in danger")),
            (ROSE, say("Mended")),
            (NEW, say("Newly listed")),
        )
        groups += [(key, words, len(mine.of_group(key))) for key, words in names]
    accepted = len(mine.of_group(ACCEPTED))
    if accepted:
        groups.append((ACCEPTED, say("Accepted as they are"), accepted))
    groups.append((EVERY, say("All"), len(mine)))
    if group not in [key for key, _words, _n in groups]:
        group = DANGER
    return Lists(mine, tuple(groups), group, mine.of_group(group).in_order(order))


@frozen
class Page:
    """An audit for somebody else to read.

    Attributes:
        source: what was audited, by name.
        brief: its body and title.
        every: all items that matter.
    """

    source: str
    brief: str
    at: datetime
    every: Rows = field(repr=False)
    since: Since = field(default_factory=Since)
    order: Order = "worst"

    def facts(self) -> list[tuple[str, int]]:
        """How many there are of what."""
        made = [
            (say("items"), len(self.every)),
            (say("in danger"), int(self.every.in_danger.sum())),
        ]
        accepted = int(self.every.accepted.sum())
        if accepted:
            made.append((say("accepted as they are"), accepted))
        if self.since.before:
            made += [
                (say("newly in danger"), self.since.fell),
                (say("mended"), self.since.rose),
                (say("newly listed"), self.since.new),
                (say("no longer listed"), len(self.since.gone)),
            ]
        return made


_MOST = 200
"""Items of a page that are named one by one; the list as CSV has all."""


def as_page(page: Page) -> str:
    """One page of HTML that needs nothing beside it."""
    from jinja2 import Environment, FunctionLoader, StrictUndefined

    from aptandum.core.report.html import fonts, sign, template

    danger = page.every.of_group(DANGER).in_order(page.order)
    environment = Environment(
        loader=FunctionLoader(template),
        autoescape=True,
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )
    environment.globals.update(say=say, sign=sign, day=_day)
    return environment.get_template("audit.html").render(
        page=page,
        fonts=fonts(),
        reasons=page.every.titles(),
        danger=danger[:_MOST],
        more=max(0, len(danger) - _MOST),
        words=_words,
        valued=not bool(np.all(np.isnan(danger.values))),
    )


def _day(at: str) -> str:
    return show_day(datetime.fromisoformat(at)) if at else ""


def _words(one: Told) -> str:
    missed = [m.says for m in one.checked.misses if m.verdict == "misses"]
    return sentences(missed) or one.checked.trouble


def record_of(one: Told, brief: str) -> dict[str, Any]:
    """An item as programs read it."""
    checked, held = one.checked, one.history
    change = None
    if held is not None:
        change = "fell" if held.fell else "rose" if held.rose else "new" if held.new else None
    return {
        "item": checked.item.name,
        "key": one.key,
        "file": checked.item.file,
        "in_stock": checked.item.in_stock,
        "value": checked.item.value,
        "brief": brief,
        "stands": checked.standing,
        "in_danger": one.in_danger,
        "misses": [
            {"clause": m.clause, "verdict": m.verdict, "says": m.plain or m.says, **m.figures}
            for m in checked.misses
        ],
        "error": checked.trouble or None,
        "first_seen": (held and held.first_seen) or None,
        "danger_since": (held and held.danger_since) or None,
        "mended": (held and held.mended) or None,
        "accepted": (held and held.accepted) or None,
        "since_last_time": change,
    }


def write_list(
    every: Rows, path: str | os.PathLike[str], brief: str, page: Page | None = None
) -> None:
    """Write items as a list, whole: ``.json``, ``.html`` (a page that is given), else CSV.

    Raises:
        OSError: it could not be written.
    """
    target = Path(os.fspath(path))
    ending = target.suffix.lower()
    made: str | Iterator[str]
    if ending == ".json":
        made = _as_json(every, brief)
    elif ending in (".html", ".htm") and page is not None:
        made = as_page(page)
    else:
        made = chain(["\ufeff"], as_table(every, target.resolve().parent))
    write_atomic(target, made, every.files())


def _as_json(every: Rows, brief: str) -> Iterator[str]:
    yield "["
    for n, one in enumerate(every):
        said = json.dumps(record_of(one, brief), indent=1, ensure_ascii=False)
        yield ("," if n else "") + "\n " + said.replace("\n", "\n ")
    yield "\n]" if len(every) else "]"


def as_table(every: Rows, folder: str | os.PathLike[str] | None = None) -> Iterator[str]:
    """Lines of items as CSV, with what is remembered of them where a book is kept."""
    rows = ((one.checked, one.remembered()) for one in every)
    return audit.as_csv(rows, audit.heads_of(every.heads), folder, every.remembered)
