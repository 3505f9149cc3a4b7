"""The commands that look and write no photo: ``facts``, ``check`` and ``report``."""

from __future__ import annotations

import os
from concurrent.futures import Executor
from contextlib import nullcontext
from dataclasses import replace
from pathlib import Path
from typing import Annotated

import typer

from aptandum.cli import interrupts
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
from aptandum.cli.crew import crew_of
from aptandum.cli.facts import tell_facts
from aptandum.cli.fleet import Away, Carried, Cluster, Send
from aptandum.cli.naming import named_files
from aptandum.cli.options import Books, BriefName, Files, Json, Limits
from aptandum.cli.showing import IN_FULL, report_to, show_findings
from aptandum.core.brief.model import Brief
from aptandum.core.docket import audit, batch
from aptandum.core.docket.reported import gather
from aptandum.core.docket.store import DocketError, load
from aptandum.core.docket.takeover import find
from aptandum.core.frozen import frozen
from aptandum.core.judge.findings import Findings
from aptandum.core.photo.decode import facts_many
from aptandum.core.photo.facts import Facts, PhotoError
from aptandum.core.threads import Here
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


@frozen
class CheckTask:
    """One file to be checked, for any worker; ``facts``: what its header says, where that was read."""

    file: str
    brief: Brief
    quick: bool = False
    facts: Facts | None = None
    mends: bool = True


@frozen
class CheckDone:
    """What came of it; ``trouble``: why it cannot be used."""

    file: str
    findings: Findings | None = None
    trouble: str = ""


def check_one(task: CheckTask) -> CheckDone:
    """Check one file; trouble is told, not raised."""
    try:
        seen = audit.check_file(task.file, task.brief, task.quick, task.mends, task.facts)
    except PhotoError as error:
        return CheckDone(task.file, trouble=str(error))
    return CheckDone(task.file, seen.findings)


def check_lost(task: CheckTask, error: BaseException) -> CheckDone:
    """What stands for a file whose worker died."""
    return CheckDone(task.file, trouble=batch.lost_said(task.file, error))


CARRIED = Carried(
    lambda task: str(task.file),
    lambda task: replace(task, file=os.path.abspath(task.file), facts=None),
    lambda task, file, _folder: replace(task, file=file, facts=None),
    lambda task, done, _file: replace(done, file=task.file),
)
"""How a task goes to a cluster and comes back."""


def check(
    files: Files,
    brief: BriefName,
    rulebook: Books = None,
    quick: Annotated[
        bool, typer.Option("--quick", help=say("Header only; what needs pixels is unknown."))
    ] = False,
    mends: Annotated[
        bool,
        typer.Option(
            "--mends/--no-mends",
            help=say(
                "Try what would mend each miss. Without it many files are checked far faster."
            ),
        ),
    ] = True,
    cluster: Cluster = "",
    send: Send = False,
    limits: Limits = "",
    as_json: Json = False,
) -> None:
    """Findings of files as they are, against a brief; nothing is changed or written."""
    crew = crew_of(1 if not cluster else 0, cluster, send)
    wanted = brief_of(brief, rulebook)
    status, told = MEETS, 0
    every = named_files(files)
    if cluster:
        tasks = [CheckTask(file, wanted, quick, mends=mends) for file in every]
    else:
        both = zip(every, facts_many(every), strict=True)
        tasks = [CheckTask(file, wanted, quick, facts, mends) for file, facts in both]
    pool: tuple[Executor, int] = Here(), 1
    with crew.at_work(len(tasks)) if cluster else nullcontext(pool) as (workers, many):
        came = crew.run(tasks, workers, many, lambda: False, check_one, check_lost, CARRIED)
        try:
            for done in came:
                interrupts.look()
                doing(f"{name_of(done.file)}: every pixel read, judging by {brief}")
                status = max(status, _told(done, brief, len(every) <= IN_FULL, as_json))
                told += 1
        except Away as away:
            err_line(str(away))
            err_line(say("{n} of {all} were checked.", n=told, all=len(every)))
            status = UNREADABLE
    raise Stop(status)


def _told(done: CheckDone, brief: str, in_full: bool, as_json: bool) -> int:
    """Say what came of a file; its status."""
    findings = done.findings
    if findings is None:
        _failed(done.file, brief, done.trouble, as_json)
        return UNREADABLE
    if as_json:
        listed = [finding.contract() for finding in findings.findings]
        json_line(
            {
                "file": as_named(done.file),
                "brief": brief,
                "ready": findings.meets_musts,
                "findings": listed,
                "error": None,
            }
        )
    else:
        out_line(say("{file}: {what}", file=name_of(done.file), what=findings.summary()))
        show_findings(findings, in_full)
    return MEETS if findings.meets_musts else MISSES


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
