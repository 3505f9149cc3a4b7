"""Writing a report: whole or not at all, as a page or a PDF by the ending of its name."""

from __future__ import annotations

import os
from collections.abc import Iterable
from pathlib import Path

from aptandum.core.file.write import WriteError, write
from aptandum.core.photo.facts import shown_name
from aptandum.core.report.entry import Report
from aptandum.core.words import say


def write_report(
    report: Report,
    path: str | os.PathLike[str],
    supplied: Iterable[str | os.PathLike[str]] = (),
    replace: bool = False,
) -> Path:
    """Write a report and return where it went; a name already taken gets a number, unless a
    person has said to ``replace`` what is there.

    Raises:
        WriteError: the ending is neither ``.html`` nor ``.pdf``, or it cannot be written.
    """
    target = Path(os.fspath(path))
    ending = target.suffix.lower()
    # What draws pages takes a fifth of a second to load, which nobody waits for who writes none.
    if ending == ".html":
        from aptandum.core.report.html import html

        data = html(report).encode("utf-8")
    elif ending == ".pdf":
        from aptandum.core.report.pdf import pdf

        data = pdf(report)
    else:
        raise WriteError(
            say("{file}: a report is written as .html or as .pdf.", file=shown_name(target))
        )
    return write(data, target, supplied, replace=replace)
