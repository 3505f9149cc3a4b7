"""``aptandum audit``: a folder or a listing against a brief, with nothing changed."""

from __future__ import annotations

import os
import signal
import time
from typing import Annotated, Any

import typer

from aptandum.cli.console import (
    MEETS,
    MISSES,
    STANDARD,
    UNREADABLE,
    Stop,
    brief_of,
    err_line,
    give,
    json_line,
    main_thread,
    name_of,
    out_line,
    progress,
    speak_beside,
)
from aptandum.cli.many import executor_of, workers_for
from aptandum.cli.naming import by_patterns
from aptandum.cli.options import Books, BriefName, Json, Workers
from aptandum.core.docket import audit, batch
from aptandum.core.docket.found import ENDINGS
from aptandum.core.file.write import unwritten
from aptandum.core.words import say, say_n


def audit_command(
    what: Annotated[list[str], typer.Argument(metavar="FOLDER|LISTING.csv…", show_default=False)],
    brief: BriefName,
    rulebook: Books = None,
    out: Annotated[
        str | None, typer.Option("--out", help=say("Write the list as CSV, the worst first."))
    ] = None,
    every: Annotated[
        bool, typer.Option("--all", help=say("Also what is out of stock and no longer matters."))
    ] = False,
    quick: Annotated[
        bool, typer.Option("--quick", help=say("Header only; what needs pixels is unknown."))
    ] = False,
    workers: Workers = 0,
    as_json: Json = False,
) -> None:
    """What of a folder or a listing is in danger under a brief, and why. Nothing is changed."""
    if out == STANDARD:
        speak_beside()
    wanted = brief_of(brief, rulebook)
    items = _items(what)
    looked = [item for item in items if every or item.matters]
    tasks = [audit.Task(item, wanted, quick) for item in looked]
    stopped = False

    def ask_to_stop(*_: Any) -> None:
        nonlocal stopped
        stopped = True

    before = signal.signal(signal.SIGINT, ask_to_stop) if main_thread() else None
    checked: list[audit.Checked] = []
    start = time.monotonic()
    try:
        workers = workers_for(len(tasks) // 8, workers)  # looking takes less than making
        with executor_of(workers) as pool:
            for one in batch.run(
                tasks, pool, max(1, workers), lambda: stopped, audit.check_one, audit.check_lost
            ):
                checked.append(one)
                if as_json:
                    json_line(_record(one, brief))
                progress(len(checked), len(tasks), start)
    finally:
        if before is not None:
            signal.signal(signal.SIGINT, before)
    ordered = audit.worst_first(checked)
    if not as_json:
        _say(ordered, len(items) - len(looked))
    status = MISSES if any(one.in_danger for one in checked) else MEETS
    if out is not None:
        _written(ordered, out)
    if stopped:
        err_line(say("Stopped: {n} of {all} were looked at.", n=len(checked), all=len(tasks)))
        status = UNREADABLE
    raise Stop(status)


def _written(checked: list[audit.Checked], out: str) -> None:
    """The list as CSV, to a file or to standard output."""
    if out == STANDARD:
        give(audit.as_csv(checked).encode("utf-8"))
        return
    try:
        audit.write_csv(checked, out)
    except OSError as error:
        err_line(unwritten(error, out))
        raise Stop(UNREADABLE) from None


def _items(what: list[str]) -> list[audit.Item]:
    items: list[audit.Item] = []
    for path in by_patterns(what):
        if os.path.isdir(path) or path.lower().endswith(tuple(ENDINGS)):
            items += audit.items_in([path])
            continue
        try:
            items += audit.read_listing(path)
        except audit.ListingError as error:
            err_line(str(error))
            raise Stop(UNREADABLE) from None
    return items


def _record(one: audit.Checked, brief: str) -> dict[str, Any]:
    return {
        "item": one.item.name,
        "file": one.item.file,
        "in_stock": one.item.in_stock,
        "brief": brief,
        "stands": one.standing,
        "in_danger": one.in_danger,
        "misses": [
            {"clause": m.clause, "verdict": m.verdict, "says": m.says, **m.figures}
            for m in one.misses
        ],
        "error": one.trouble or None,
    }


def _say(checked: list[audit.Checked], aside: int) -> None:
    danger = [one for one in checked if one.in_danger]
    out_line(say("{n} of {all} are in danger.", n=len(danger), all=len(checked)))
    if aside:
        out_line(
            say_n(
                "{n} that is out of stock was set aside; --all looks at it too.",
                "{n} that are out of stock were set aside; --all looks at them too.",
                aside,
            )
        )
    for group in audit.grouped(danger, set_aside=False):
        out_line(f"  {len(group.items):5}  {group.reason}")
    for one in danger:
        out_line(f"{name_of(one.item.name)} ({name_of(one.item.file)})")
        said = [m.says for m in one.misses if m.verdict == "misses"] or [one.trouble]
        for sentence in said:
            out_line(f"  ≠ {sentence}")
