"""``aptandum conform``: files made for one brief or many, proved and written."""

from __future__ import annotations

import os
import tempfile
import time
from contextlib import nullcontext
from dataclasses import replace as changed
from pathlib import Path
from typing import Annotated, Any

import typer

from aptandum.cli import interrupts
from aptandum.cli.console import (
    MEETS,
    MISSES,
    STANDARD,
    UNREADABLE,
    Stop,
    doing,
    err_line,
    failed_line,
    give,
    json_line,
    name_of,
    out_line,
    progress,
    speak_beside,
    wanted_of,
)
from aptandum.cli.crew import Crew, crew_of
from aptandum.cli.fleet import Away, Cluster, Send
from aptandum.cli.many import (
    CARRIED,
    Done,
    Ledger,
    Tally,
    Task,
    claim,
    clear_up,
    conform_one,
    done_lost,
)
from aptandum.cli.naming import named_files
from aptandum.cli.options import Books, Briefs, Changes, Json, Limits, MaybeFiles, Workers
from aptandum.cli.showing import IN_FULL, report_to, show_findings
from aptandum.core.brief.binding import NAME, NAME_LENGTH
from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.fitting.blank import GROUNDS, NoSheet, blank_sheet, size_for
from aptandum.core.fitting.settings import SettingError, Settings
from aptandum.core.frozen import frozen
from aptandum.core.numbers import QuantityError, number
from aptandum.core.photo.marks import NO_HAND, HandMarks
from aptandum.core.report import Entry
from aptandum.core.words import listed, say, say_n


def _settings(changes: list[str] | None) -> Settings:
    made = Settings()
    for change in changes or ():
        name, equals, value = change.partition("=")
        if not equals:
            err_line(say("--set takes station.key=value, not “{change}”.", change=change))
            raise Stop(UNREADABLE)
        try:
            made = made.having({name.strip(): value.strip()})
        except SettingError as error:
            err_line(str(error))
            raise Stop(UNREADABLE) from None
    return made


Out = Annotated[
    str,
    typer.Option(
        "--out",
        help=say("The folder for the finished files; - gives the one file to standard output."),
    ),
]
KeepClear = Annotated[
    list[str] | None,
    typer.Option(
        "--keep-clear",
        metavar="LEFT,TOP,WIDTH,HEIGHT",
        help=say("A box of the photo, in its pixels, that no zone may cover; may be repeated."),
    ),
]
Blank = Annotated[
    str | None,
    typer.Option(
        "--blank",
        metavar="GROUND",
        help=say(
            "Begin from a blank sheet of the brief's size instead of a photo: a colour, {all}.",
            all=listed([*GROUNDS], "or"),
        ),
    ),
]


def conform_command(
    out: Out,
    files: MaybeFiles = None,
    brief: Briefs = None,
    body: Annotated[
        list[str] | None,
        typer.Option("--body", metavar="BOOK", help=say("All required briefs of a body.")),
    ] = None,
    optional: Annotated[
        bool, typer.Option("--optional", help=say("With --body: its optional briefs as well."))
    ] = False,
    rulebook: Books = None,
    set_: Changes = None,
    keep_clear: KeepClear = None,
    blank: Blank = None,
    replace: Annotated[
        bool, typer.Option("--replace", help=say("Replace a file of that name."))
    ] = False,
    workers: Workers = 0,
    cluster: Cluster = "",
    send: Send = False,
    resume: Annotated[
        bool,
        typer.Option("--resume", help=say("Skip what was done in this folder and is unchanged.")),
    ] = False,
    report: Annotated[
        str | None, typer.Option("--report", help=say("Write a conformity report, .html or .pdf."))
    ] = None,
    limits: Limits = "",
    as_json: Json = False,
) -> None:
    """Make the files that meet a brief, read them back, and judge their bytes."""
    if STANDARD in (out, report):
        speak_beside()
    wanted = wanted_of(brief, body, optional, rulebook)
    settings = _settings(set_)
    hand = _kept_clear(keep_clear)
    crew = crew_of(workers, cluster, send)
    if blank is not None:
        with tempfile.TemporaryDirectory(prefix="aptandum-") as sheets:
            files = [_sheet(blank, wanted, files, sheets)]
            _conform(files, out, wanted, settings, hand, (replace, resume), crew, report, as_json)
    elif files:
        _conform(
            named_files(files),
            out,
            wanted,
            settings,
            hand,
            (replace, resume),
            crew,
            report,
            as_json,
        )
    else:
        err_line(say("Name at least one photo, or --blank for a blank sheet."))
        raise Stop(UNREADABLE)


def _sheet(
    ground: str, wanted: list[tuple[str, Rulebook, Brief]], files: list[str] | None, folder: str
) -> str:
    """A blank sheet for the one brief, as a file in a folder."""
    if files or len(wanted) != 1:
        err_line(say("--blank makes one sheet for one brief, and takes no photo beside it."))
        raise Stop(UNREADABLE)
    try:
        size = size_for(wanted[0][2])
        data = blank_sheet(size, ground)
    except NoSheet as error:
        err_line(str(error))
        raise Stop(UNREADABLE) from None
    path = Path(folder) / f"blank-{size[0]}x{size[1]}.png"
    path.write_bytes(data)
    return str(path)


def _conform(
    files: list[str],
    out: str,
    wanted: list[tuple[str, Rulebook, Brief]],
    settings: Settings,
    hand: HandMarks,
    again: tuple[bool, bool],
    crew: Crew,
    report: str | None,
    as_json: bool,
) -> None:
    """Make the files; ``again``: whether those that are there are replaced, and whether a run is gone on with."""
    if out == STANDARD:
        raise Stop(_given(files, wanted, settings, hand, as_json))
    folder = Path(out)
    _made_folder(str(folder))
    batch_ = Batch(wanted, settings, hand, str(folder), *again, report is not None)
    _conform_all(files, batch_, crew, report, as_json)


def _given(
    files: list[str],
    wanted: list[tuple[str, Rulebook, Brief]],
    settings: Settings,
    hand: HandMarks,
    as_json: bool,
) -> int:
    """The one file of one photo and one brief to standard output; what is said of it goes beside."""
    if len(files) != 1 or len(wanted) != 1 or as_json:
        err_line(say("--out - gives one file of one photo and one brief, and no --json beside it."))
        return UNREADABLE
    (name, book, brief), file = wanted[0], files[0]
    task = Task(file, name, book, brief, settings, "", hand, supplied=(file,))
    with tempfile.TemporaryDirectory(prefix="aptandum-") as folder:
        done = conform_one(changed(task, folder=folder))
        if not done.record["error"]:
            give(Path(done.record["written"]).read_bytes())
            done.record["written"] = STANDARD
        _show_done(done, False, True)
    tally = Tally()
    tally.add(done.record)
    return _status_of(tally)


def _made_folder(folder: str) -> None:
    """Make a folder for results where there is none.

    Raises:
        Stop: it cannot be made, which is said.
    """
    try:
        Path(folder).mkdir(parents=True, exist_ok=True)
    except (OSError, ValueError) as error:
        why = (getattr(error, "strerror", None) or str(error)).lower()
        err_line(say("{folder} cannot be made a folder: {why}.", folder=folder, why=why))
        raise Stop(UNREADABLE) from None


def _kept_clear(boxes: list[str] | None) -> HandMarks:
    """The boxes that are to stay clear, in photo pixels."""
    found = []
    for text in boxes or ():
        try:
            left, top, wide, high = (float(number(part)) for part in text.split(","))
            if wide <= 0 or high <= 0:
                raise ValueError
        except (ValueError, QuantityError):
            err_line(
                say("--keep-clear takes left,top,width,height in photo pixels, not “{box}”.",
                    box=text)
            )  # fmt: skip
            raise Stop(UNREADABLE) from None
        found.append((left, top, wide, high))
    return HandMarks(keep_clear=tuple(found)) if found else NO_HAND


@frozen
class Batch:
    """What is asked of every file.

    Attributes:
        wanted: the briefs, each by the name it was called by, with its rulebook.
    """

    wanted: list[tuple[str, Rulebook, Brief]]
    settings: Settings
    hand: HandMarks
    folder: str
    replace: bool
    resume: bool
    report: bool

    @property
    def title(self) -> str:
        """What a report of it is called."""
        if len(self.wanted) == 1:
            return self.wanted[0][2].title
        return listed(list(dict.fromkeys(book.body.name for _name, book, _b in self.wanted)), "and")

    def folder_of(self, book: Rulebook, brief: Brief) -> str:
        """Where a brief's files go: the folder itself, and one inside it for a brief that might
        give its file the name of another's."""
        ids = [other.id for _name, _book, other in self.wanted]
        named = brief.bound(NAME, None) is not None or brief.bound(NAME_LENGTH, None) is not None
        if len(self.wanted) == 1 or (ids.count(brief.id) == 1 and not named):
            return self.folder
        return str(Path(self.folder) / f"{book.body.id}-{brief.id}")

    def ledgers(self) -> list[Ledger]:
        """For each brief what was done before."""
        made = [
            Ledger(self.folder, name, self.settings, book.text, self.hand)
            for name, book, _brief in self.wanted
        ]
        if self.resume:
            for ledger in made:
                ledger.read()
        return made


def _claims(within: str | None = None) -> tempfile.TemporaryDirectory[str]:
    """A folder in which the results of a run mark their names as taken.

    Args:
        within: where all workers see it; left out: on this machine.

    Raises:
        Stop: there is no place for it, which is said.
    """
    try:
        return tempfile.TemporaryDirectory(
            prefix=".aptandum-", dir=within, ignore_cleanup_errors=True
        )
    except OSError as error:
        why = (error.strerror or str(error)).lower()
        err_line(say("There is no folder for temporary files (TMPDIR): {why}.", why=why))
        raise Stop(UNREADABLE) from None


def _tasks(
    files: list[str],
    asked: Batch,
    ledgers: list[Ledger],
    claims: str,
    tally: Tally,
    as_json: bool,
) -> list[Task]:
    """Every file with every brief; what was done before and is unchanged is shown, and only counted."""
    supplied = tuple(files) if len(files) <= _FEW else ()
    tasks, run = [], os.urandom(8).hex()
    for file in files:
        for (name, book, brief), ledger in zip(asked.wanted, ledgers, strict=True):
            held = ledger.skips(file) if asked.resume else None
            if held is not None:
                tally.add(held)
                claim(str(held["written"]), Path(claims))
                _show_known(file, held, as_json)
                continue
            where = asked.folder_of(book, brief)
            if where != asked.folder:
                _made_folder(where)
            tasks.append(
                Task(file, name, book, brief, asked.settings, where, asked.hand, asked.replace,
                     supplied, asked.report, asked.resume, claims, run)
            )  # fmt: skip
    return tasks


def _conform_all(
    files: list[str], asked: Batch, crew: Crew, report: str | None, as_json: bool
) -> None:
    """Conform files one by one or by several workers, each to every brief; one that fails never
    stops the rest."""
    ledgers = asked.ledgers()
    tally = Tally()
    claimed = _claims(asked.folder if crew.cluster else None) if asked.replace or asked.resume or crew.cluster else None  # fmt: skip
    tasks = _tasks(files, asked, ledgers, claimed.name if claimed else "", tally, as_json)
    by_name = {name: ledger for (name, _b, _r), ledger in zip(asked.wanted, ledgers, strict=True)}
    entries: list[Entry] = []
    start, made, away = time.monotonic(), 0, False
    with claimed or nullcontext(), interrupts.asked_to_stop(bool(crew.cluster)) as asked_to_stop:
        try:
            with crew.at_work(len(tasks)) as (pool, many):
                came = crew.run(tasks, pool, many, asked_to_stop, conform_one, done_lost, CARRIED)
                for done in came:
                    made += 1
                    doing(f"{done.task.file}: {done.task.name}: {done.summary or done.record['error']}")  # fmt: skip
                    by_name[done.task.name].add(done)
                    tally.add(done.record)
                    if done.entry is not None:
                        entries.append(done.entry)
                    _show_done(done, as_json, len(tasks) <= IN_FULL, len(asked.wanted) > 1)
                    progress(made, len(tasks), start)
        except Away as error:
            err_line(str(error))
            away = True
        except KeyboardInterrupt:  # the second
            away = True
        stopped = (away or asked_to_stop()) and made < len(tasks)
    if not stopped:
        clear_up(tasks)
    if stopped:
        rest = say("Stopped: {n} of {all} were made; --resume goes on with the rest.",
                   n=made, all=len(tasks))  # fmt: skip
        err_line(rest)
    status = UNREADABLE if stopped else _status_of(tally)
    if tally.made > 1 and not as_json:
        _summary(tally)
    if report is not None:
        status = max(status, report_to(asked.title, entries, report, files, as_json))
    raise Stop(status)


def _status_of(tally: Tally) -> int:
    if tally.failed:
        return UNREADABLE
    return MEETS if tally.ready == tally.made else MISSES


def _show_known(file: str, held: dict[str, Any], as_json: bool) -> None:
    """What was done before and is unchanged."""
    if as_json:
        json_line(held | {"resumed": True})
    else:
        said = say("{file} → {made}: done before and unchanged",
                   file=name_of(file), made=held["written"])  # fmt: skip
        out_line(said)


_FEW = 500
"""Up to so many supplied photos are named to every worker as never to be written to; beyond, each
knows its own, and no name that is taken is ever written over unless that is asked for."""


def _summary(tally: Tally) -> None:
    out_line(
        say_n(
            "{ready} of {n} meets every rule that can be measured.",
            "{ready} of {n} meet every rule that can be measured.",
            tally.made,
            ready=tally.ready,
        )
    )
    for reason, n in tally.reasons():
        out_line(f"  {n:5}  {reason}")


def _show_done(done: Done, as_json: bool, in_full: bool, several: bool = False) -> None:
    record = done.record
    if as_json:
        json_line(record)
        return
    if record["error"]:
        if several:
            out_line(say("{brief}:", brief=record["brief"]))
        failed_line(record["file"], record["error"])
        return
    out_line(
        say(
            "{file} → {made}: {what}",
            file=name_of(record["file"]),
            made=record["written"],
            what=done.findings.summary(),
        )
    )
    show_findings(done.findings, in_full)
    for note in done.notes:
        out_line(f"  {note}")
    if in_full:
        for act in done.acts:
            out_line(f"  · {act}")
    out_line(f"  {done.summary}")
