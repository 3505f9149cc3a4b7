"""``aptandum watch``: what arrives in a folder is conformed and proved, each content once, for weeks."""

from __future__ import annotations

import os
import signal
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Annotated, Any

import typer

from aptandum.cli.conforming import Batch, Out, _made_folder, _settings
from aptandum.cli.console import (
    MEETS,
    MISSES,
    UNREADABLE,
    Stop,
    err_line,
    json_line,
    main_thread,
    name_of,
    out_line,
    wanted_of,
)
from aptandum.cli.many import executor_of
from aptandum.cli.options import Books, Briefs, Changes, Json, Limits, Workers
from aptandum.core.photo.marks import NO_HAND
from aptandum.core.watched import BookTaken, Event, Want, WatchBook, Watcher
from aptandum.core.watched.watcher import LIST, PATIENCE, SETTLE
from aptandum.core.words import say, say_n

Folder = Annotated[str, typer.Argument(metavar="FOLDER", show_default=False)]
Every = Annotated[
    float,
    typer.Option("--every", min=0.05, help=say("Seconds from one look at the folder to the next.")),
]
Settle = Annotated[
    float,
    typer.Option(
        "--settle",
        min=0,
        help=say("Seconds for which nobody has written to a file before it counts as whole."),
    ),
]
Patience = Annotated[
    float,
    typer.Option(
        "--patience",
        min=0,
        help=say(
            "Seconds for which a file that cannot be read may still be on its way; then it is set aside."
        ),
    ),
]
Once = Annotated[
    bool,
    typer.Option("--once", help=say("Make what is there, and end once nothing is on its way.")),
]
Again = Annotated[bool, typer.Option("--again", help=say("Try again what was set aside before."))]


def watch_command(
    folder: Folder,
    out: Out,
    brief: Briefs = None,
    rulebook: Books = None,
    set_: Changes = None,
    every: Every = 2.0,
    settle: Settle = SETTLE,
    patience: Patience = PATIENCE,
    once: Once = False,
    again: Again = False,
    workers: Workers = 1,
    limits: Limits = "",
    as_json: Json = False,
) -> None:
    """Conform whatever arrives in a folder, each content once."""
    wanted = wanted_of(brief, None, False, rulebook)
    settings = _settings(set_)
    if not os.path.isdir(folder):
        _fail(say("There is no folder {folder}.", folder=folder))
    if os.path.realpath(folder) == os.path.realpath(out):
        _fail(say("The finished files need a folder other than the one that is watched."))
    _made_folder(out)
    batch = Batch(wanted, settings, NO_HAND, out, False, False, False)
    wants = []
    for name, book, asked in wanted:
        where = batch.folder_of(book, asked)
        _made_folder(where)
        wants.append(Want(name, asked, book.text, os.path.abspath(where), settings))
    try:
        held = WatchBook(os.path.abspath(out))
    except (BookTaken, OSError) as error:
        _fail(str(error))
    try:
        if again:
            held.forget_aside()
        with executor_of(workers) as pool:
            watcher = Watcher(folder, wants, held, pool, workers, settle, patience)
            status = _watch(watcher, every, once, as_json)
        if not as_json:
            _ended(held, out)
    finally:
        held.close()
    raise Stop(status)


def _watch(watcher: Watcher, every: float, once: bool, as_json: bool) -> int:
    """Look again and again until it is said to stop; the status."""
    if not as_json and not once:
        said = say("Watching {folder}. Ctrl-C ends it; nothing is lost by that.",
                   folder=watcher.arrivals.folder)  # fmt: skip
        err_line(said)
    status = MEETS
    with _until_told() as stop:
        while not stop.is_set():
            for event in watcher.turn(stop.is_set):
                _tell(event, as_json)
                if event.kind == "aside":
                    status = MISSES
            if once and (watcher.trouble or not watcher.unsettled):
                return UNREADABLE if watcher.trouble else status
            stop.wait(every)
    return status


@contextmanager
def _until_told() -> Iterator[threading.Event]:
    """Set by Ctrl-C, and by what ends a service."""
    stop = threading.Event()
    before: dict[signal.Signals, Any] = {}
    if main_thread():
        for one in (signal.SIGINT, signal.SIGTERM):
            before[one] = signal.signal(one, lambda *_: stop.set())
    try:
        yield stop
    finally:
        for one, handler in before.items():
            signal.signal(one, handler)


def _tell(event: Event, as_json: bool) -> None:
    if as_json:
        json_line(
            {
                "event": event.kind,
                "file": event.file or None,
                "brief": event.brief or None,
                "written": event.written or None,
                "says": event.says,
                "to_confirm": event.asks,
            }
        )
        return
    file = name_of(event.file)
    if event.kind == "made":
        said = say("{file} → {made}: {what}", file=file, made=event.written, what=event.says)
        out_line(said if event.says else say("{file} → {made}", file=file, made=event.written))
    elif event.kind == "aside":
        out_line(say("{file} is set aside: {why}", file=file, why=event.says))
    elif event.kind == "known":
        out_line(say("{file} is a copy of what was made: {made}", file=file, made=event.written))
    elif event.kind == "waits":
        err_line(say("{why} It is tried again.", why=event.says))
    else:
        err_line(event.says)


def _ended(book: WatchBook, out: str) -> None:
    """How many there are in all."""
    made, aside = book.count("made"), book.count("aside")
    out_line(say_n("{n} file is made in all.", "{n} files are made in all.", made))
    if aside:
        out_line(
            say_n(
                "{n} is set aside; {list} says why.",
                "{n} are set aside; {list} says why.",
                aside,
                list=os.path.join(out, LIST),
            )
        )


def _fail(words: str) -> Any:
    err_line(words)
    raise Stop(UNREADABLE)
