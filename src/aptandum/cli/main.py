"""The command line: the same core without a screen. Its ``--json`` output is a contract."""

from __future__ import annotations

import os
import signal
import sys
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Annotated, Any

import click
import typer
from rich.console import Console
from rich.text import Text

from aptandum import __version__
from aptandum.cli import audits, hand_overs
from aptandum.cli.console import (
    MEETS,
    MISSES,
    UNREADABLE,
    Books,
    BriefName,
    Files,
    Json,
    Stop,
    Workers,
    brief_of,
    err_line,
    failed_line,
    json_line,
    main_thread,
    name_of,
    out_line,
    progress,
    shelf_of,
    wanted_of,
)
from aptandum.cli.many import (
    Done,
    Ledger,
    Task,
    conform_one,
    done_lost,
    executor_of,
    named_files,
    reasons,
    workers_for,
)
from aptandum.cli.rulebooks import rulebook_app
from aptandum.core.brief.binding import NAME, NAME_LENGTH
from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.docket import audit, batch
from aptandum.core.docket.reported import gather
from aptandum.core.docket.store import DocketError, load
from aptandum.core.docket.takeover import find
from aptandum.core.file.write import WriteError
from aptandum.core.fitting.settings import SettingError, Settings
from aptandum.core.judge.findings import VERDICT_WORDS, Findings
from aptandum.core.photo.decode import full_facts
from aptandum.core.photo.facts import PhotoError
from aptandum.core.photo.marks import NO_HAND, HandMarks
from aptandum.core.quantity import QuantityError, number
from aptandum.core.report import Entry, Report, write_report
from aptandum.core.words import listed, say, say_n

SIGNS = {"meets": "=", "misses": "≠", "advises": "≈", "asks": "◉", "unknown": "?", "idle": "–"}


STYLES = {
    "meets": "green", "misses": "red", "advises": "yellow", "asks": "magenta", "unknown": "dim",
    "idle": "dim",
}  # fmt: skip


Opener = Callable[..., int]


app = typer.Typer(
    no_args_is_help=False,
    add_completion=False,
    rich_markup_mode=None,
    pretty_exceptions_enable=False,
)


app.add_typer(rulebook_app, name="rulebook")


audits.add_to(app)


hand_overs.add_to(app)


@app.command(help=say("Facts of picture files, read from their content."))
def facts(
    files: Files,
    as_json: Json = False,
    quick: Annotated[
        bool, typer.Option("--quick", help=say("Header only; pixels are not tried."))
    ] = False,
) -> None:
    """Facts of picture files, read from their content."""
    status = MEETS
    for file in files:
        found = full_facts(file, quick)
        if found.error:
            status = UNREADABLE
        record = found.contract()
        if as_json:
            json_line(record)
        else:
            shown = " ".join(
                f"{key}={_plain(value)}" for key, value in record.items() if key != "file"
            )
            out_line(f"{name_of(file)}: {shown}")
    raise Stop(status)


def _plain(value: Any) -> str:
    if value is None:
        return "-"
    if isinstance(value, bool):
        return "yes" if value else "no"
    text = f"{value:g}" if isinstance(value, float) else str(value)
    return f'"{text}"' if " " in text else text


_IN_FULL = 4
"""Files up to which what is met is listed as well; of more, only what is not."""


def _show_findings(findings: Findings, in_full: bool = True) -> None:
    console = Console(highlight=False)
    for finding in findings.findings:
        if not in_full and finding.verdict in ("meets", "idle"):
            continue
        line = Text("  ")
        sign = f"{SIGNS[finding.verdict]} {VERDICT_WORDS[finding.verdict]:8} "
        line.append(sign, style=STYLES[finding.verdict])
        line.append(finding.says if finding.clause.ask is None else finding.title)
        if finding.mend is not None:
            line.append(" " + say("{mend}.", mend=finding.mend.words), style="cyan")
        console.print(line)


@app.command(
    help=say("Findings of files as they are, against a brief; nothing is changed or written.")
)
def check(
    files: Files,
    brief: BriefName,
    rulebook: Books = None,
    quick: Annotated[
        bool, typer.Option("--quick", help=say("Header only; what needs pixels is unknown."))
    ] = False,
    as_json: Json = False,
) -> None:
    """Findings of files as they are, against a brief; nothing is changed or written."""
    wanted = brief_of(brief, rulebook)
    status = MEETS
    every = named_files(files)
    for file in every:
        try:
            findings = audit.check_file(file, wanted, quick).findings
        except PhotoError as error:
            status = UNREADABLE
            _failed(file, brief, str(error), as_json)
            continue
        ready = findings.meets_musts
        if not ready:
            status = max(status, MISSES)
        if as_json:
            listed = [finding.contract() for finding in findings.findings]
            json_line(
                {"file": file, "brief": brief, "ready": ready, "findings": listed, "error": None}
            )
        else:
            out_line(say("{file}: {what}", file=name_of(file), what=findings.summary()))
            _show_findings(findings, len(every) <= _IN_FULL)
    raise Stop(status)


def _failed(file: str, brief: str, error: str, as_json: bool, written: bool = False) -> None:
    if as_json:
        record: dict[str, Any] = {"file": file, "brief": brief}
        if written:
            record |= {"written": None, "line": None}
        json_line(record | {"ready": False, "findings": [], "error": error})
    else:
        failed_line(file, error)


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


@app.command(
    "conform", help=say("Make the files that meet a brief, read them back, and judge their bytes.")
)
def conform_command(
    files: Files,
    out: Annotated[str, typer.Option("--out", help=say("The folder for the finished files."))],
    brief: Annotated[
        list[str] | None,
        typer.Option(
            "--brief", metavar="BOOK/BRIEF", help=say("A brief; may be repeated, all are made.")
        ),
    ] = None,
    body: Annotated[
        list[str] | None,
        typer.Option("--body", metavar="BOOK", help=say("All required briefs of a body.")),
    ] = None,
    optional: Annotated[
        bool, typer.Option("--optional", help=say("With --body: its optional briefs as well."))
    ] = False,
    rulebook: Books = None,
    set_: Annotated[
        list[str] | None, typer.Option("--set", help=say("station.key=value; may be repeated."))
    ] = None,
    keep_clear: Annotated[
        list[str] | None,
        typer.Option(
            "--keep-clear",
            metavar="LEFT,TOP,WIDTH,HEIGHT",
            help=say("A box of the photo, in its pixels, that no zone may cover; may be repeated."),
        ),
    ] = None,
    replace: Annotated[
        bool, typer.Option("--replace", help=say("Replace a file of that name."))
    ] = False,
    workers: Workers = 0,
    resume: Annotated[
        bool,
        typer.Option("--resume", help=say("Skip what was done in this folder and is unchanged.")),
    ] = False,
    report: Annotated[
        str | None, typer.Option("--report", help=say("Write a conformity report, .html or .pdf."))
    ] = None,
    as_json: Json = False,
) -> None:
    """Make the files that meet a brief, read them back, and judge their bytes."""
    wanted = wanted_of(brief, body, optional, rulebook)
    settings = _settings(set_)
    hand = _kept_clear(keep_clear)
    folder = Path(out)
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        why = (error.strerror or "").lower()
        err_line(say("{folder} cannot be made a folder: {why}.", folder=out, why=why))
        raise Stop(UNREADABLE) from None
    batch_ = Batch(wanted, settings, hand, str(folder), replace, resume, report is not None)
    _conform_all(named_files(files), batch_, workers, report, as_json)


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


@dataclass(frozen=True)
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


def _conform_all(
    files: list[str], asked: Batch, workers: int, report: str | None, as_json: bool
) -> None:
    """Conform files one by one or by several workers, each to every brief; one that fails never
    stops the rest."""
    ledgers = asked.ledgers()
    supplied = tuple(files) if len(files) <= _FEW else ()
    tasks: list[Task] = []
    records: list[dict[str, Any]] = []
    for file in files:
        for (name, book, brief), ledger in zip(asked.wanted, ledgers, strict=True):
            held = ledger.skips(file) if asked.resume else None
            if held is not None:
                records.append(held)
                _show_known(file, held, as_json)
                continue
            where = asked.folder_of(book, brief)
            if where != asked.folder:
                Path(where).mkdir(exist_ok=True)
            tasks.append(
                Task(file, name, book, brief, asked.settings, where, asked.hand, asked.replace,
                     supplied, asked.report, asked.resume)
            )  # fmt: skip
    by_name = {name: ledger for (name, _b, _r), ledger in zip(asked.wanted, ledgers, strict=True)}
    entries: list[Entry] = []
    stopped = False
    start, made = time.monotonic(), 0

    def ask_to_stop(*_: Any) -> None:
        nonlocal stopped
        stopped = True

    before = signal.signal(signal.SIGINT, ask_to_stop) if main_thread() else None
    try:
        workers = workers_for(len(tasks), workers)
        with executor_of(workers) as pool:
            for done in batch.run(
                tasks, pool, max(1, workers), lambda: stopped, conform_one, done_lost
            ):
                made += 1
                by_name[done.task.name].add(done)
                records.append(done.record)
                if done.entry is not None:
                    entries.append(done.entry)
                _show_done(done, as_json, len(tasks) <= _IN_FULL, len(asked.wanted) > 1)
                progress(made, len(tasks), start)
    finally:
        if before is not None:
            signal.signal(signal.SIGINT, before)
    if stopped:
        rest = say("Stopped: {n} of {all} were made; --resume goes on with the rest.",
                   n=made, all=len(tasks))  # fmt: skip
        err_line(rest)
    status = UNREADABLE if stopped else _status_of(records)
    if len(records) > 1 and not as_json:
        _summary(records)
    if report is not None:
        status = max(status, _write_report(asked.title, entries, report, files, as_json))
    raise Stop(status)


def _status_of(records: list[dict[str, Any]]) -> int:
    if any(record["error"] for record in records):
        return UNREADABLE
    return MEETS if all(record["ready"] for record in records) else MISSES


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


def _summary(records: list[dict[str, Any]]) -> None:
    ready = sum(bool(record["ready"]) for record in records)
    out_line(
        say_n(
            "{ready} of {n} meets every rule that can be measured.",
            "{ready} of {n} meet every rule that can be measured.",
            len(records),
            ready=ready,
        )
    )
    for reason, n in reasons(records):
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
    _show_findings(done.findings, in_full)
    for note in done.notes:
        out_line(f"  {note}")
    if in_full:
        for act in done.acts:
            out_line(f"  · {act}")
    out_line(f"  {done.summary}")


def _write_report(
    title: str, entries: list[Entry], path: str, supplied: Sequence[str], as_json: bool
) -> int:
    made = Report(title, tuple(entries), datetime.now().astimezone())
    try:
        written = write_report(made, path, supplied)
    except WriteError as error:
        err_line(str(error))
        return UNREADABLE
    if not as_json:
        out_line(say("Report: {file}", file=written))
    return MEETS


@app.command(
    "report", help=say("Prove every fitting of a docket in memory and write its conformity report.")
)
def report_command(
    docket: Annotated[str, typer.Argument(metavar="DOCKET")],
    out: Annotated[str, typer.Option("--out", help=say("The report, .html or .pdf."))],
    rulebook: Books = None,
) -> None:
    """Prove every fitting of a docket in memory and write its conformity report."""
    shelf = shelf_of(rulebook)
    try:
        held = load(Path(docket))
    except DocketError as error:
        err_line(str(error))
        raise Stop(UNREADABLE) from None
    found = gather(held, lambda name: find(held, shelf, name))
    for sentence in found.left_out:
        err_line(sentence)
    supplied = [entry.path for entry in held.photos]
    title = held.title or Path(docket).stem
    status = _write_report(title, list(found.entries), out, supplied, False)
    if found.left_out:
        status = UNREADABLE
    elif not all(entry.ready for entry in found.entries):
        status = max(status, MISSES)
    raise Stop(status)


def _open_commands(opener: Opener) -> dict[str, Callable[[list[str]], int]]:
    def opened(args: list[str]) -> int:
        photos, brief, books = [], "", []
        rest = iter(args)
        for arg in rest:
            if arg in ("--brief", "--rulebook"):
                value = next(rest, "")
                if arg == "--brief":
                    brief = value
                else:
                    books.append(value)
            else:
                photos.append(arg)
        return opener(photos, brief, False, books)

    return {"demo": lambda args: opener((), "", True, ()), "open": opened}


HELP_OPEN = say("""
Also:
  aptandum                      opens the application
  aptandum open FILE… [--brief BOOK/BRIEF] [--rulebook FILE]
                                opens it with photos
  aptandum demo                 opens the demo docket
""")


def run(args: Sequence[str], opener: Opener) -> int:
    """Run a command and return its exit status: 0 every file meets every must, 1 at least one
    misses, 2 something could not be read or the call is wrong."""
    words = list(args)
    opens = _open_commands(opener)
    if not words:
        return opener((), "", False, ())
    if words[0] in opens:
        return opens[words[0]](words[1:])
    if words[0] in ("--version", "-V"):
        out_line(f"aptandum {__version__}")
        return MEETS
    commands = typer.main.get_command(app)
    known = set(getattr(commands, "commands", {}))
    if words[0] not in known and not words[0].startswith("-") and os.path.exists(words[0]):
        return opens["open"](words)
    try:
        commands.main(args=words, prog_name="aptandum", standalone_mode=False)
    except Stop as stop:
        return stop.status
    except (click.exceptions.Abort, KeyboardInterrupt):
        return 130
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return MEETS
    except Exception as error:
        if not hasattr(error, "format_message"):  # the parser's own errors, of any make
            raise
        how = say("aptandum --help tells how to call it.")
        err_line(f"{error.format_message()}\n\n{how}")
        return UNREADABLE
    if words[0] in ("--help", "-h"):
        out_line(HELP_OPEN)
    return MEETS
