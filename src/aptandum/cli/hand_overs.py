"""``aptandum hand-over`` and ``aptandum desk``: files to a desk, once each, whatever happens."""

from __future__ import annotations

import contextlib
import json
import os
import signal
import uuid
from collections import Counter
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from aptandum.cli.console import (
    MEETS,
    MISSES,
    UNREADABLE,
    Stop,
    err_line,
    found_of,
    json_line,
    main_thread,
    name_of,
    out_line,
    shelf_of,
)
from aptandum.cli.naming import named_files
from aptandum.cli.options import Books, Json
from aptandum.core.atomic import write_atomic
from aptandum.core.brief.model import Rulebook
from aptandum.core.docket import audit
from aptandum.core.docket.hand_over import HandOver, state_said
from aptandum.core.docket.model import Docket
from aptandum.core.docket.store import DocketError, load, save
from aptandum.core.photo.facts import PhotoError, shown_name
from aptandum.core.rulebook.shelf import Shelf
from aptandum.core.words import say, semicolons

if TYPE_CHECKING:
    from aptandum.desks.book import Book

# The desks' own libraries are loaded when they are asked for: other commands start sooner.

BookFolder = Annotated[
    str | None, typer.Option("--book", help=say("A folder for the book of what was handed over."))
]


def hand_over(
    files: Annotated[
        list[str] | None, typer.Argument(metavar="[FILE…]", show_default=False)
    ] = None,
    brief: Annotated[
        str, typer.Option("--brief", help=say("BOOK/BRIEF that the files go to."))
    ] = "",
    rulebook: Books = None,
    desk: Annotated[
        str,
        typer.Option("--desk", help=say("A desk's address; left out: a simulated one is opened.")),
    ] = "",
    token: Annotated[
        str, typer.Option("--token", help=say("The token of your account at the desk."))
    ] = "",
    docket: Annotated[
        str | None, typer.Option("--docket", help=say("A docket that keeps the receipts."))
    ] = None,
    book: BookFolder = None,
    resume: Annotated[
        bool, typer.Option("--resume", help=say("Go on with what was begun; no files are named."))
    ] = False,
    unproved: Annotated[
        bool, typer.Option("--unproved", help=say("Also files that miss a rule; say --i-know too."))
    ] = False,
    i_know: Annotated[
        bool, typer.Option("--i-know", help=say("Say a second time that a desk may refuse them."))
    ] = False,
    ask_every: Annotated[
        float, typer.Option("--ask-every", min=0.02, help=say("Seconds between two questions."))
    ] = 1.0,
    longest_wait: Annotated[
        float, typer.Option("--longest-wait", min=0.02, help=say("Most seconds between two tries."))
    ] = 60.0,
    as_json: Json = False,
) -> None:
    """Hand files over to a body's desk, and wait for its verdicts. Each is taken once."""
    from aptandum.desks.book import Book

    if not resume and not (files and brief):
        err_line(say("Name files and --brief, or --resume."))
        raise Stop(UNREADABLE)
    if unproved and not i_know:
        err_line(say("Files that miss a rule are sent only with --unproved and --i-know together."))
        raise Stop(UNREADABLE)
    shelf = shelf_of(rulebook)
    held, key = _docket(docket)
    ledger = Book(Path(book) if book else None)
    status = MEETS
    begun: set[str] = set()
    if files and brief:
        status, begun = _begin(files, brief, rulebook, ledger, key, unproved, as_json)
    left = {item.id for item in ledger.unsettled() if resume or item.id in begun}
    status = max(status, _run(ledger, shelf, left, desk, token, ask_every, longest_wait, as_json))
    status = max(status, _ended(ledger, begun | left, held, key, docket, as_json))
    raise Stop(status)


def _ended(
    ledger: Book, mine: set[str], held: Docket | None, key: str, docket: str | None, as_json: bool
) -> int:
    """Keep the receipts in the docket, and say how all of it stands; the exit status of that."""
    status = MEETS
    if held is not None and docket is not None:
        try:
            save(held.with_handed(key, ledger.of(key)), docket)
        except DocketError as error:
            err_line(str(error))
            status = UNREADABLE
    ends = [item for item in ledger.all() if item.id in mine]
    if any(item.state in ("held", "refused") for item in ends):
        status = max(status, MISSES)
    if not as_json:
        for state, n in Counter(item.state for item in ends).most_common():
            out_line(f"{n:5}  {state_said(state)}")
    return status


def _docket(path: str | None) -> tuple[Docket | None, str]:
    """A docket and its key; one that is not there yet begins empty."""
    if path is None:
        return None, ""
    try:
        held = load(path) if os.path.exists(path) else Docket(title=Path(path).stem)
        if not held.key:  # on the disk before anything is begun under it
            held = held.model_copy(update={"key": uuid.uuid4().hex[:12]})
            save(held, path)
    except DocketError as error:
        err_line(str(error))
        raise Stop(UNREADABLE) from None
    return held, held.key


def _begin(
    files: list[str],
    brief: str,
    books: list[str] | None,
    ledger: Book,
    key: str,
    unproved: bool,
    as_json: bool,
) -> tuple[int, set[str]]:
    """Judge each file as it is and write down those that go."""
    from aptandum.desks.book import AlreadyHanded, sha256_of

    wanted = found_of(brief, books)[1]
    status, begun = MEETS, set()
    for file in named_files(files):
        try:
            findings = audit.check_file(file, wanted).findings
            data = Path(file).read_bytes()
        except (PhotoError, OSError) as error:
            _not_sent(file, str(error), as_json)
            status = UNREADABLE
            continue
        if not findings.meets_musts and not unproved:
            why = say("{file} is not sent: {what}.", file=shown_name(file), what=findings.summary())
            _not_sent(file, why, as_json)
            status = max(status, MISSES)
            continue
        item = HandOver(
            id="",
            brief=brief,
            name=shown_name(file),
            sha256=sha256_of(data),
            bytes=len(data),
            ready=findings.meets_musts,
            missed=findings.counts()["misses"] > 0,
            we_say=findings.summary(),
        )
        try:
            begun.add(ledger.begin(key, item, data).id)
        except AlreadyHanded as error:
            begun.add(error.item.id)
            if not as_json:
                out_line(f"{name_of(file)}: {error}")
    return status, begun


def _not_sent(file: str, why: str, as_json: bool) -> None:
    if as_json:
        json_line({"file": file, "state": None, "number": None, "error": why})
    else:
        out_line(f"{name_of(file)}: {why}")


def _run(
    ledger: Book,
    shelf: Shelf,
    ids: set[str],
    url: str,
    token: str,
    ask_every: float,
    longest_wait: float,
    as_json: bool,
) -> int:
    """Do every errand; Ctrl-C ends it after the steps that are under way."""
    from aptandum.desks import simulated
    from aptandum.desks.client import Address, Desk
    from aptandum.desks.errands import Errands

    def book_of(body: str) -> Rulebook:
        found = shelf.book(body)
        if found is None:
            raise LookupError(body)
        return found

    desks = simulated.Simulated(book_of)
    named = Desk(Address(url, token)) if url else None
    errands = Errands(
        ledger,
        lambda body: named or desks.desk(body),
        lambda item: _tell(item, as_json),
        ask_every,
        longest_wait,
    )
    stopped = False

    def stop(*_: Any) -> None:
        nonlocal stopped
        stopped = True
        errands.stop()

    before = signal.signal(signal.SIGINT, stop) if main_thread() else None
    try:
        errands.run(wanted=ids.__contains__)
    finally:
        if before is not None:
            signal.signal(signal.SIGINT, before)
        desks.close()
        if named is not None:
            named.close()
    if stopped:
        err_line(say("Stopped; aptandum hand-over --resume goes on."))
        return UNREADABLE
    return MEETS


def _tell(item: HandOver, as_json: bool) -> None:
    last = item.history[-1] if item.history else None
    if as_json:
        json_line(_record(item))
    elif item.state not in ("ready", "sending"):
        words = semicolons([reason.says for reason in item.reasons]) or (last.says if last else "")
        number = f" {item.number}" if item.number else ""
        out_line(
            say(
                "{file}: {state}{number}. {words}",
                file=item.name,
                state=state_said(item.state),
                number=number,
                words=words,
            )
        )


def _record(item: HandOver) -> dict[str, Any]:
    return {
        "file": item.name,
        "brief": item.brief,
        "sha256": item.sha256,
        "bytes": item.bytes,
        "state": item.state,
        "number": item.number or None,
        "received": item.received or None,
        "we_say": item.we_say,
        "ready": item.ready,
        "reasons": [reason.model_dump() for reason in item.reasons],
        "error": None,
    }


def handed(book: BookFolder = None, as_json: Json = False) -> None:
    """What has been handed over, and how it stands."""
    from aptandum.desks.book import Book

    for item in Book(Path(book) if book else None).all():
        if as_json:
            json_line(_record(item))
        else:
            number = item.number or "-"
            out_line(f"{number:12} {state_said(item.state):22} {item.brief:36} {item.name}")
    raise Stop(MEETS)


def open_desk(
    body: Annotated[str, typer.Argument(metavar="BOOK")],
    rulebook: Books = None,
    folder: Annotated[
        str | None, typer.Option("--folder", help=say("Where its books and files lie."))
    ] = None,
    port: Annotated[int, typer.Option("--port", help=say("0: any that is free."))] = 0,
    conditions: Annotated[
        list[str] | None,
        typer.Option("--condition", help=say("For example slow=0.5, full=true, lose=0.2.")),
    ] = None,
    token: Annotated[str, typer.Option("--token", help=say("What a caller must know."))] = "",
    seed: Annotated[int, typer.Option("--seed", help=say("Seed of its simulated faults."))] = 0,
) -> None:
    """Open a simulated desk on this machine, until Ctrl-C. Its first line says where it is."""
    from aptandum.desks import simulated
    from aptandum.desks.intake import __main__ as intake

    found = shelf_of(rulebook).book(body)
    if found is None:
        err_line(say("There is no rulebook “{name}” on the shelf.", name=body))
        raise Stop(UNREADABLE)
    told: dict[str, Any] = {}
    for condition in conditions or ():
        name, _, value = condition.partition("=")
        with contextlib.suppress(ValueError):
            told[name.strip()] = json.loads(value)
    place = Path(folder) if folder else simulated.own_folder() / body
    place.mkdir(parents=True, exist_ok=True)
    write_atomic(place / "rulebook.toml", found.text)
    words = [
        "--rulebook",
        str(place / "rulebook.toml"),
        "--folder",
        str(place),
        "--port",
        str(port),
        "--conditions",
        json.dumps(told),
        "--token",
        token,
        "--seed",
        str(seed),
    ]
    try:
        raise Stop(intake.main(words))
    except KeyboardInterrupt:
        raise Stop(MEETS) from None
