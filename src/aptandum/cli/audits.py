"""``aptandum audit``: a folder or a listing against briefs, with nothing changed."""

from __future__ import annotations

import os
import sqlite3
import time
from collections.abc import Callable
from dataclasses import replace
from datetime import datetime
from itertools import chain
from typing import Annotated, Any

import typer

from aptandum.cli import interrupts
from aptandum.cli.console import (
    MEETS,
    MISSES,
    STANDARD,
    UNREADABLE,
    Stop,
    err_line,
    found_of,
    give,
    json_line,
    name_of,
    out_line,
    progress,
    speak_beside,
)
from aptandum.cli.crew import Crew, crew_of
from aptandum.cli.fleet import Away, Carried, Cluster, Send
from aptandum.cli.naming import by_patterns
from aptandum.cli.options import Books, Json, Workers
from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.docket import audit, audit_lists, audit_run
from aptandum.core.docket.audit_book import AuditBook, AuditBookError, Since, rules_key
from aptandum.core.docket.audit_found import Found, Mask
from aptandum.core.docket.audit_lists import Order, Rows, Told
from aptandum.core.docket.found import ENDINGS
from aptandum.core.docket.listed import Keys, Listed
from aptandum.core.docket.listing import Columns, head_of, recognised
from aptandum.core.file.write import unwritten
from aptandum.core.frozen import frozen
from aptandum.core.photo.facts import shown_name
from aptandum.core.words import say, say_n, show_day

Briefs = Annotated[
    list[str],
    typer.Option(
        "--brief",
        metavar="BOOK/BRIEF",
        help=say("The brief that is audited against; may be repeated."),
    ),
]
Book = Annotated[
    str | None,
    typer.Option(
        "--book",
        metavar="FILE",
        help=say(
            "Remember how each item stands in this file, and say what is new since last time."
        ),
    ),
]


def _column(what: str) -> Any:
    return typer.Option(metavar="COLUMN", help=what)


New = Annotated[
    bool, typer.Option("--new", help=say("With --book: only what is new since last time."))
]
Accept = Annotated[
    list[str] | None,
    typer.Option(
        "--accept",
        metavar="KEY",
        help=say("With --book: this item may stay as it is; may be repeated."),
    ),
]
ByValue = Annotated[
    bool, typer.Option("--by-value", help=say("The most valuable first, not the worst."))
]
Keyed = Annotated[str, _column(say("The listing's column by which an item is known again."))]
Named = Annotated[str, _column(say("The listing's column of the item's name."))]
Pictured = Annotated[str, _column(say("The listing's column of the picture's file."))]
Stocked = Annotated[str, _column(say("The listing's column that says whether it is in stock."))]
Valued = Annotated[str, _column(say("The listing's column of what an item is worth."))]


def _at(look: audit_run.Look, file: str) -> audit_run.Look:
    return replace(look, task=replace(look.task, item=audit.with_file(look.task.item, file)))


CARRIED = Carried(
    lambda look: str(look.task.item.file),
    lambda look: look,  # its path is absolute
    lambda look, file, _folder: _at(look, file),
    lambda look, came, _file: (
        look.places,
        replace(came[1], item=look.task.item, stamp=audit.stamp_of(look.task.item.file)),
    ),
)
"""How a look goes to a cluster and comes back."""


@frozen
class Asked:
    """What is asked of every brief.

    Attributes:
        source: what the book calls what is audited.
        looked: the items that are looked at; ``aside``: how many are not.
    """

    source: str
    looked: Listed
    aside: int
    quick: bool
    book: AuditBook | None
    crew: Crew
    accept: tuple[str, ...]
    order: Order
    only_new: bool


def audit_command(
    what: Annotated[list[str], typer.Argument(metavar="FOLDER|LISTING.csv…", show_default=False)],
    brief: Briefs,
    rulebook: Books = None,
    out: Annotated[
        str | None,
        typer.Option(
            "--out",
            help=say("Write the list: .csv, .json, or .html, a page for somebody else to read."),
        ),
    ] = None,
    book: Book = None,
    new: New = False,
    accept: Accept = None,
    by_value: ByValue = False,
    item: Named = "",
    picture: Pictured = "",
    stock: Stocked = "",
    key: Keyed = "",
    value: Valued = "",
    every: Annotated[
        bool, typer.Option("--all", help=say("Also what is out of stock and no longer matters."))
    ] = False,
    quick: Annotated[
        bool, typer.Option("--quick", help=say("Header only; what needs pixels is unknown."))
    ] = False,
    workers: Workers = 0,
    cluster: Cluster = "",
    send: Send = False,
    as_json: Json = False,
) -> None:
    """What of a folder or a listing is in danger under a brief, and why. Nothing is changed."""
    if out == STANDARD:
        speak_beside()
    if (new or accept) and book is None:
        err_line(say("--new and --accept need --book, in which is kept what was there last time."))
        raise Stop(UNREADABLE)
    wanted = [(name, *found_of(name, rulebook)) for name in dict.fromkeys(brief)]
    if out is not None and len(wanted) > 1:
        err_line(say("--out writes the list of one brief."))
        raise Stop(UNREADABLE)
    items = _items(what, Columns(item, picture, stock, key, value))
    looked = items if every or items.matters.all() else Listed(one for one in items if one.matters)
    source = "\n".join(os.path.abspath(path) for path in what)
    held = _opened(book)
    try:
        asked = Asked(source, looked, len(items) - len(looked), quick, held, crew_of(workers, cluster, send),
                      tuple(accept or ()),
                      "value" if by_value else "worst", new)  # fmt: skip
        status = max(_audit(asked, *one, out, as_json, len(wanted) > 1) for one in wanted)
    except sqlite3.Error as error:  # a full disk, another program, a file that was spoilt
        err_line(say("{file} cannot be used: {why}.", file=book, why=str(error).lower()))
        raise Stop(UNREADABLE) from None
    finally:
        if held is not None:
            held.close()
    raise Stop(status)


def _opened(book: str | None) -> AuditBook | None:
    try:
        return AuditBook(book) if book is not None else None
    except AuditBookError as error:
        err_line(str(error))
        raise Stop(UNREADABLE) from None


def _audit(
    asked: Asked,
    name: str,
    rules: Rulebook,
    brief: Brief,
    out: str | None,
    as_json: bool,
    several: bool,
) -> int:
    """Look at everything under one brief, and tell it; the status."""
    found = Found(asked.looked)
    held = rules_key(rules.text, brief.id, asked.quick)
    if asked.book is not None:
        for known in asked.book.looked(asked.looked, ~found.looked, held):
            found.put_known(known)
    streams = as_json and asked.book is None  # what is new is known once all were looked at
    keys = asked.looked.keys

    def tell(places: tuple[int, ...], one: audit.Checked) -> None:
        found.put(places, one)
        for at in places if streams else ():
            json_line(audit_lists.record_of(Told(keys[at], found[at]), name))

    def keep(some: list[audit.Checked]) -> None:
        if asked.book is not None:
            asked.book.remember(some, held)

    stopped = _look(asked, brief, ~found.looked, tell, keep) and not found.whole
    since, remembered, at = Since(), None, datetime.now().astimezone()
    if asked.book is not None and not stopped:  # what was not looked at would count as gone
        asked.book.record(asked.book.begin(asked.source, name, at), found)
        asked.book.accept(asked.source, name, _known(asked.accept, keys), at)
        remembered = asked.book.remembered(asked.source, name, keys)
        since = asked.book.since(asked.source, name)
    every = audit_lists.told(found, remembered)
    shown = (every.new_since() if asked.only_new else every).in_order(asked.order)
    if as_json:
        for one in shown if not streams else ():
            json_line(audit_lists.record_of(one, name))
    else:
        if several:
            out_line(say("{brief}:", brief=name))
        _say(shown, every, asked.aside, since)
    if out is not None:
        title = f"{rules.body.name}: {brief.title}"
        where = ", ".join(shown_name(one) for one in asked.source.split("\n"))
        page = audit_lists.Page(where, title, at, every, since, asked.order)
        _written(shown, out, name, page)
    if stopped:
        total = len(asked.looked)
        err_line(say("Stopped: {n} of {all} were looked at.", n=len(found), all=total))
        return UNREADABLE
    return MISSES if every.in_danger.any() else MEETS


def _known(accepted: tuple[str, ...], keys: Keys) -> list[str]:
    """Those that are listed; of the others it is said that they are not."""
    places = keys.places(accepted).tolist()
    for key, at in zip(accepted, places, strict=True):
        if at < 0:
            err_line(say("No item is known as “{key}”.", key=key))
    return [key for key, at in zip(accepted, places, strict=True) if at >= 0]


_AT_ONCE = 500
"""Pictures after which what was found of them is written down."""


def _look(
    asked: Asked,
    brief: Brief,
    wanted: Mask,
    tell: Callable[[tuple[int, ...], audit.Checked], None],
    keep: Callable[[list[audit.Checked]], None],
) -> bool:
    """Look at the pictures of the wanted items, tell what is found of each, and keep it; whether Ctrl-C ended it before
    all were looked at."""
    looks = audit_run.planned(asked.looked, wanted, brief, asked.quick)
    total = asked.looked.count_pictures(wanted)
    unkept: list[audit.Checked] = []
    start = time.monotonic()
    with interrupts.asked_to_stop(bool(asked.crew.cluster)) as stopped:
        try:
            with asked.crew.at_work(total // 8) as (pool, many):  # looking takes less than making
                came = asked.crew.run(
                    looks, pool, many, stopped, audit_run.look, audit_run.lost, CARRIED
                )
                for n, (places, one) in enumerate(came, start=1):
                    tell(places, one)
                    unkept.append(one)
                    if len(unkept) == _AT_ONCE:
                        keep(unkept)
                        unkept = []
                    progress(n, total, start)
        except Away as away:
            err_line(str(away))
            return True
        except KeyboardInterrupt:  # the second
            return True
        finally:
            keep(unkept)
        return stopped()


def _written(shown: Rows, out: str, brief: str, page: audit_lists.Page) -> None:
    """The list to a file or to standard output."""
    if out == STANDARD:
        give("".join(audit_lists.as_table(shown)).encode("utf-8"))
        return
    try:
        audit_lists.write_list(shown, out, brief, page)
    except OSError as error:
        err_line(unwritten(error, out))
        raise Stop(UNREADABLE) from None


def _items(what: list[str], columns: Columns) -> Listed:
    found: list[Listed] = []
    for path in by_patterns(what):
        if os.path.isdir(path) or path.lower().endswith(tuple(ENDINGS)):
            found.append(audit.items_in([path]))
            continue
        try:
            found.append(audit.read_listing(path, _meant(path, columns)))
        except audit.ListingError as error:
            err_line(str(error))
            raise Stop(UNREADABLE) from None
    return found[0] if len(found) == 1 else Listed(chain.from_iterable(found))


def _meant(path: str, columns: Columns) -> Columns | None:
    """The columns that are named, and those that are recognised where none is."""
    if columns == Columns():
        return None
    seem = recognised(head_of(path)[0])
    return Columns(*(
        getattr(columns, name) or getattr(seem, name) for name in ("item", "picture", "stock", "key", "value")
    ))  # fmt: skip


def _say(shown: Rows, every: Rows, aside: int, since: Since) -> None:
    danger, accepted = int(every.in_danger.sum()), int(every.accepted.sum())
    out_line(say("{n} of {all} are in danger.", n=danger, all=len(every)))
    if accepted:
        out_line(say_n("{n} was accepted as it is.", "{n} were accepted as they are.", accepted))
    if aside:
        out_line(
            say_n(
                "{n} that is out of stock was set aside; --all looks at it too.",
                "{n} that are out of stock were set aside; --all looks at them too.",
                aside,
            )
        )
    if since.before:
        out_line(
            say(
                "Since {day}: {fell} newly in danger, {rose} mended, {new} newly listed, {gone} no longer listed.",
                day=show_day(datetime.fromisoformat(since.before)),
                fell=since.fell,
                rose=since.rose,
                new=since.new,
                gone=len(since.gone),
            )
        )
    for _clause, title, n in every.titles():
        out_line(f"  {n:5}  {title}")
    for one in shown:
        if one.in_danger:
            checked = one.checked
            out_line(f"{name_of(checked.item.name)} ({name_of(checked.item.file)})")
            said = [m.says for m in checked.misses if m.verdict == "misses"] or [checked.trouble]
            for sentence in said:
                out_line(f"  ≠ {sentence}")
        elif one.history and one.history.rose:
            out_line(say("{item} is mended.", item=name_of(one.checked.item.name)))
