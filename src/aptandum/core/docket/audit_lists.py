"""What an audit found, as lists: by reason, by what is new since last time, by value; as CSV, JSON and a page to be read."""

from __future__ import annotations

import json
import os
from collections.abc import Callable, Mapping, Sequence
from dataclasses import field
from datetime import datetime
from pathlib import Path
from typing import Any, Literal, NamedTuple

from aptandum.core.atomic import write_atomic
from aptandum.core.docket import audit
from aptandum.core.docket.audit import Checked, Item
from aptandum.core.docket.audit_book import History, Since, keys_of
from aptandum.core.frozen import frozen
from aptandum.core.words import say, sentences, show_day

Order = Literal["worst", "value", "listed"]
DANGER, FELL, NEW, ROSE, ACCEPTED, EVERY = (
    "\0danger", "\0fell", "\0new", "\0rose", "\0accepted", "\0every",
)  # fmt: skip
"""Groups that are no clause's."""


class Told(NamedTuple):
    """An item, how it stands, and what is remembered of it. A tuple: a hundred thousand are made at once.

    Attributes:
        history: ``None`` where no book is kept.
    """

    key: str
    checked: Checked
    history: History | None = None

    @property
    def item(self) -> Item:
        """What is listed."""
        return self.checked.item

    @property
    def in_danger(self) -> bool:
        """Whether it is in danger, and nobody has said that it may stay."""
        if self.checked.standing not in _DANGER:
            return False
        return not (self.history and self.history.accepted)

    @property
    def accepted(self) -> bool:
        """Whether a person has said that it may stay as it is."""
        return bool(self.history and self.history.accepted) and self.checked.in_danger

    @property
    def reasons(self) -> tuple[str, ...]:
        """The names of the clauses that it misses."""
        if self.checked.standing == "lost":
            return (audit.UNUSABLE,)
        return tuple(m.clause for m in self.checked.misses if m.verdict == "misses")

    def remembered(self) -> tuple[str, str, str]:
        """What the book says of it, as :data:`aptandum.core.docket.audit.REMEMBERED`."""
        held = self.history or History("")
        return held.first_seen, held.danger_since, held.accepted


def told(
    checked: Sequence[Checked],
    histories: Mapping[str, History] | None = None,
    keys: Sequence[str] | None = None,
) -> list[Told]:
    """Items with what is remembered of them; they are all of their listing, in its order.

    Args:
        keys: theirs, where they are known.
    """
    known = histories or {}
    if keys is None:
        keys = keys_of([one.item for one in checked])
    return [Told(key, one, known.get(key)) for key, one in zip(keys, checked, strict=True)]


_DANGER = ("misses", "lost")


@frozen
class Lists:
    """What is shown of an audit: everything that matters, its groups, and the chosen one's items in order.

    Attributes:
        groups: name, what it is called, how many; a clause's are reasons of being in danger.
    """

    mine: Sequence[Told] = field(repr=False)
    groups: tuple[tuple[str, str, int], ...]
    group: str
    shown: Sequence[Told] = field(repr=False)


def lists(
    checked: Sequence[Checked],
    histories: Mapping[str, History] | None,
    group: str,
    order: Order,
    set_aside: bool = True,
    compared: bool = False,
    keys: Sequence[str] | None = None,
) -> Lists:
    """Everything that a view of an audit shows; it may be made beside the interface.

    Args:
        group: the one that is chosen; where it is there no more, those in danger are.
        set_aside: leave out what no longer matters.
        compared: there was a visit before, so that there is something new.
        keys: of the items, where they are known.
    """
    mine = told(checked, histories, keys)
    if set_aside:
        mine = [one for one in mine if one.item.matters]
    danger = of_group(mine, DANGER)
    groups = [(DANGER, say("In danger"), len(danger)), *titles(danger)]
    if compared and histories is not None:
        names = (
            (FELL, say("Newly in danger")),
            (ROSE, say("Mended")),
            (NEW, say("Newly listed")),
        )
        groups += [(key, words, len(of_group(mine, key))) for key, words in names]
    accepted = len(of_group(mine, ACCEPTED))
    if accepted:
        groups.append((ACCEPTED, say("Accepted as they are"), accepted))
    groups.append((EVERY, say("All"), len(mine)))
    if group not in [key for key, _words, _n in groups]:
        group = DANGER
    return Lists(mine, tuple(groups), group, in_order(of_group(mine, group), order))


_GROUPS: dict[str, Callable[[Told], bool]] = {
    DANGER: lambda one: one.in_danger,
    FELL: lambda one: one.in_danger and bool(one.history and one.history.fell),
    NEW: lambda one: bool(one.history and one.history.new),
    ROSE: lambda one: bool(one.history and one.history.rose),
    ACCEPTED: lambda one: one.accepted,
    EVERY: lambda one: True,
}


def of_group(every: Sequence[Told], group: str) -> list[Told]:
    """Those of a group: one of the above, or those in danger by a clause."""
    if group in _GROUPS:
        return [one for one in every if _GROUPS[group](one)]
    return [one for one in every if one.in_danger and group in one.reasons]


def in_order(every: Sequence[Told], order: Order) -> list[Told]:
    """The worst first; or the most valuable of those in danger first; or as they are listed."""
    if order == "listed":
        return list(every)
    if order == "value":
        return sorted(
            every,
            key=lambda one: (not one.in_danger, -(one.checked.item.value or 0.0), one.checked.weight),
        )  # fmt: skip
    return sorted(every, key=lambda one: (one.accepted, one.checked.weight))


def titles(every: Sequence[Told]) -> list[tuple[str, str, int]]:
    """The reasons of those in danger: clause, what it is called, and how many; the most frequent first."""
    counts: dict[str, list[Any]] = {}
    for one in every:
        if not one.in_danger:
            continue
        if one.checked.standing == "lost":
            counts.setdefault(audit.UNUSABLE, [say("No usable picture"), 0])[1] += 1
        for miss in one.checked.misses:
            if miss.verdict == "misses":
                counts.setdefault(miss.clause, [miss.title, 0])[1] += 1
    made = [(clause, title, n) for clause, (title, n) in counts.items()]
    return sorted(made, key=lambda one: (-one[2], one[1]))


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
    every: Sequence[Told] = field(repr=False)
    since: Since = field(default_factory=Since)
    order: Order = "worst"

    def facts(self) -> list[tuple[str, int]]:
        """How many there are of what."""
        danger = [one for one in self.every if one.in_danger]
        made = [(say("items"), len(self.every)), (say("in danger"), len(danger))]
        accepted = sum(one.accepted for one in self.every)
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

    def worth(self) -> float | None:
        """What those in danger are worth together; ``None``: the listing does not say."""
        values = [one.checked.item.value for one in self.every if one.in_danger]
        known = [value for value in values if value is not None]
        return sum(known) if known else None


_MOST = 200
"""Items of a page that are named one by one; the list as CSV has all."""


def as_page(page: Page) -> str:
    """One page of HTML that needs nothing beside it."""
    from jinja2 import Environment, FunctionLoader, StrictUndefined

    from aptandum.core.report.html import fonts, sign, template

    danger = in_order([one for one in page.every if one.in_danger], page.order)
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
        reasons=titles(page.every),
        danger=danger[:_MOST],
        more=max(0, len(danger) - _MOST),
        words=_words,
        valued=any(one.checked.item.value is not None for one in danger),
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
    every: Sequence[Told], path: str | os.PathLike[str], brief: str, page: Page | None = None
) -> None:
    """Write items as a list, whole: ``.json``, ``.html`` (a page that is given), else CSV.

    Raises:
        OSError: it could not be written.
    """
    target = Path(os.fspath(path))
    pictures = [one.checked.item.file for one in every if one.checked.item.file]
    ending = target.suffix.lower()
    if ending == ".json":
        made = json.dumps([record_of(one, brief) for one in every], indent=1, ensure_ascii=False)
    elif ending in (".html", ".htm") and page is not None:
        made = as_page(page)
    else:
        made = "\ufeff" + as_table(every, target.resolve().parent)
    write_atomic(target, made, pictures)


def as_table(every: Sequence[Told], folder: str | os.PathLike[str] | None = None) -> str:
    """Items as CSV, with what is remembered of them where a book is kept."""
    kept = [one.remembered() for one in every] if any(one.history for one in every) else None
    return audit.as_csv([one.checked for one in every], folder, kept)
