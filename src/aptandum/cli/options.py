"""The options and arguments that several commands take."""

from __future__ import annotations

from typing import Annotated

import typer

from aptandum.cli.console import UNREADABLE, Stop, err_line
from aptandum.core import bounds
from aptandum.core.words import say

Files = Annotated[list[str], typer.Argument(metavar="FILE…", show_default=False)]
MaybeFiles = Annotated[list[str] | None, typer.Argument(metavar="[FILE…]", show_default=False)]
Json = Annotated[bool, typer.Option("--json", help=say("One JSON object a line."))]
BriefName = Annotated[
    str, typer.Option("--brief", help=say("BOOK/BRIEF, for example vessary-ferries/deck-pass."))
]
Briefs = Annotated[
    list[str] | None,
    typer.Option(
        "--brief", metavar="BOOK/BRIEF", help=say("A brief; may be repeated, all are made.")
    ),
]
Changes = Annotated[
    list[str] | None, typer.Option("--set", help=say("station.key=value; may be repeated."))
]
Books = Annotated[
    list[str] | None, typer.Option("--rulebook", help=say("A rulebook to add; may be repeated."))
]
Workers = Annotated[
    int,
    typer.Option(
        "--workers",
        min=0,
        max=64,
        help=say("Processes that work at once, each on one core; 0: as many as are worth it."),
    ),
]


def _limits(text: str) -> str:
    if text:
        try:
            bounds.use(text)
        except bounds.LimitsError as error:
            err_line(str(error))
            raise Stop(UNREADABLE) from None
    return text


Limits = Annotated[
    str,
    typer.Option(
        "--limits",
        metavar="LIMITS",
        callback=_limits,
        help=say("How much may be spent on one photo; as it is: megapixels=400,seconds=30."),
    ),
]
