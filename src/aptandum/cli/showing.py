"""How findings are shown on a terminal, and how a report is written from the command line."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from rich.console import Console
from rich.text import Text

from aptandum.cli.console import MEETS, STANDARD, UNREADABLE, err_line, give, on_screen, out_line
from aptandum.core.file.write import WriteError
from aptandum.core.judge.findings import VERDICT_WORDS, Findings
from aptandum.core.report import Entry, Report, write_report
from aptandum.core.words import say

SIGNS = {"meets": "=", "misses": "≠", "advises": "≈", "asks": "◉", "unknown": "?", "idle": "–"}


STYLES = {
    "meets": "green", "misses": "red", "advises": "yellow", "asks": "magenta", "unknown": "dim",
    "idle": "dim",
}  # fmt: skip


IN_FULL = 4
"""Files up to which what is met is listed as well; of more, only what is not."""


def show_findings(findings: Findings, in_full: bool = True) -> None:
    # Another program gets each finding on a line of its own, however long it is.
    screen = on_screen()
    console = Console(highlight=False)
    for finding in findings.findings:
        if not in_full and finding.verdict in ("meets", "idle"):
            continue
        line = Text("  ")
        sign = f"{SIGNS[finding.verdict]} {VERDICT_WORDS[finding.verdict]:8} "
        line.append(sign, style=STYLES[finding.verdict])
        line.append(finding.question if finding.asked else finding.says)
        if finding.mend is not None:
            line.append(" " + say("{mend}.", mend=finding.mend.words), style="cyan")
        if screen:
            console.print(line)
        else:
            out_line(line.plain)


def report_to(
    title: str, entries: list[Entry], path: str, supplied: Sequence[str], as_json: bool
) -> int:
    made = Report(title, tuple(entries), datetime.now().astimezone())
    if path == STANDARD:
        from aptandum.core.report.html import html

        give(html(made).encode("utf-8"))
        return MEETS
    try:
        written = write_report(made, path, supplied)
    except WriteError as error:
        err_line(str(error))
        return UNREADABLE
    if not as_json:
        out_line(say("Report: {file}", file=written))
    return MEETS
