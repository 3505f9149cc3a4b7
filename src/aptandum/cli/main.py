"""The command line: the same core without a screen. Its ``--json`` output is a contract."""

from __future__ import annotations

import os
import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Annotated, Any

import click
import typer

from aptandum import __version__
from aptandum.cli import audits, conforming, hand_overs
from aptandum.cli.console import (
    MEETS,
    MISSES,
    UNREADABLE,
    Books,
    BriefName,
    Files,
    Json,
    Limits,
    Stop,
    as_named,
    be_quiet,
    brief_of,
    err_line,
    failed_line,
    json_line,
    name_of,
    out_line,
    shelf_of,
)
from aptandum.cli.many import (
    named_files,
)
from aptandum.cli.rulebooks import rulebook_app
from aptandum.cli.showing import IN_FULL, report_to, show_findings
from aptandum.core import mistakes
from aptandum.core.docket import audit
from aptandum.core.docket.reported import gather
from aptandum.core.docket.store import DocketError, load
from aptandum.core.docket.takeover import find
from aptandum.core.photo.decode import facts_many, tried
from aptandum.core.photo.facts import PhotoError
from aptandum.core.words import say

Opener = Callable[..., int]


app = typer.Typer(
    no_args_is_help=False,
    add_completion=False,
    rich_markup_mode=None,
    pretty_exceptions_enable=False,
)


app.add_typer(rulebook_app, name="rulebook")


audits.add_to(app)


conforming.add_to(app)


hand_overs.add_to(app)


@app.command(help=say("Facts of picture files, read from their content."))
def facts(
    files: Files,
    as_json: Json = False,
    quick: Annotated[
        bool, typer.Option("--quick", help=say("Header only; pixels are not tried."))
    ] = False,
    limits: Limits = "",
) -> None:
    """Facts of picture files, read from their content."""
    status = MEETS
    for found in facts_many(named_files(files)):
        found, file = (found if quick else tried(found)), found.file
        if found.error:
            status = UNREADABLE
            if not as_json:
                failed_line(file, found.error)
        record = found.contract() | {"file": as_named(file)}
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
    limits: Limits = "",
    as_json: Json = False,
) -> None:
    """Findings of files as they are, against a brief; nothing is changed or written."""
    wanted = brief_of(brief, rulebook)
    status = MEETS
    every = named_files(files)
    for file, facts in zip(every, facts_many(every), strict=True):
        try:
            findings = audit.check_file(file, wanted, quick, facts=facts).findings
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
                {
                    "file": as_named(file),
                    "brief": brief,
                    "ready": ready,
                    "findings": listed,
                    "error": None,
                }
            )
        else:
            out_line(say("{file}: {what}", file=name_of(file), what=findings.summary()))
            show_findings(findings, len(every) <= IN_FULL)
    raise Stop(status)


def _failed(file: str, brief: str, error: str, as_json: bool, written: bool = False) -> None:
    if as_json:
        record: dict[str, Any] = {"file": as_named(file), "brief": brief}
        if written:
            record |= {"written": None, "line": None}
        json_line(record | {"ready": False, "findings": [], "error": error})
    else:
        failed_line(file, error)


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
    status = report_to(title, list(found.entries), out, supplied, False)
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
        if brief:
            try:
                brief_of(brief, books)
            except Stop as stop:
                return stop.status
        return opener(photos, brief, False, books)

    return {"demo": lambda args: opener((), "", True, ()), "open": opened}


HELP_OPEN = say("""
Also:
  aptandum                      opens the application
  aptandum open FILE… [--brief BOOK/BRIEF] [--rulebook FILE]
                                opens it with photos
  aptandum demo                 opens the demo docket

A file named - is what comes in by standard input. Every command takes -h for --help, and --quiet to
print nothing but what goes wrong.

It ends with 0 where every file meets every rule that must be met, with 1 where one does not, and with
2 where something could not be read or the call is wrong.
""")


def _plain_words(args: Sequence[str]) -> list[str]:
    """The call without what holds for every command: ``-h`` is ``--help``, ``--quiet`` holds for all that is said."""
    words = list(args)
    end = words.index("--") if "--" in words else len(words)
    head = ["--help" if word == "-h" else word for word in words[:end]]
    be_quiet("--quiet" in head)
    return [word for word in head if word != "--quiet"] + words[end:]


def run(args: Sequence[str], opener: Opener) -> int:
    """Run a command and return its exit status: 0 every file meets every must, 1 at least one
    misses, 2 something could not be read or the call is wrong."""
    words = _plain_words(args)
    opens = _open_commands(opener)
    if not words:
        return opener((), "", False, ())
    if words[0] in opens and "--help" in words:
        out_line(HELP_OPEN)
        return MEETS
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
        if not hasattr(error, "format_message"):  # none of the parser's own errors, of any make
            err_line(mistakes.sentence(error))
            return UNREADABLE
        how = say("aptandum --help tells how to call it.")
        err_line(f"{error.format_message()}\n\n{how}")
        return UNREADABLE
    if words[0] in ("--help", "-h"):
        out_line(HELP_OPEN)
    return MEETS
