"""The commands that look and write no photo: ``facts``, ``check`` and ``report``."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from aptandum.cli.console import (
    MEETS,
    MISSES,
    UNREADABLE,
    Stop,
    as_named,
    brief_of,
    doing,
    err_line,
    failed_line,
    json_line,
    name_of,
    out_line,
    shelf_of,
)
from aptandum.cli.facts import tell_facts
from aptandum.cli.naming import named_files
from aptandum.cli.options import Books, BriefName, Files, Json, Limits
from aptandum.cli.showing import IN_FULL, report_to, show_findings
from aptandum.core.docket import audit
from aptandum.core.docket.reported import gather
from aptandum.core.docket.store import DocketError, load
from aptandum.core.docket.takeover import find
from aptandum.core.photo.decode import facts_many
from aptandum.core.photo.facts import PhotoError
from aptandum.core.words import say


def facts(
    files: Files,
    as_json: Json = False,
    quick: Annotated[
        bool, typer.Option("--quick", help=say("Header only; pixels are not tried."))
    ] = False,
    limits: Limits = "",
) -> None:
    """Facts of picture files, read from their content."""
    raise Stop(tell_facts(files, as_json, quick))


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
        doing(f"{name_of(file)}: reading every pixel, judging by {brief}")
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


def _failed(file: str, brief: str, error: str, as_json: bool) -> None:
    if as_json:
        record = {"file": as_named(file), "brief": brief, "ready": False, "findings": []}
        json_line(record | {"error": error})
    else:
        failed_line(file, error)


def report_command(
    docket: Annotated[str, typer.Argument(metavar="DOCKET")],
    out: Annotated[
        str,
        typer.Option(
            "--out", help=say("The report, .html or .pdf; - gives it as HTML to standard output.")
        ),
    ],
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
