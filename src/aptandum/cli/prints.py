"""``aptandum prints``: finished files on a sheet of paper."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Annotated

import typer

from aptandum.cli.console import UNREADABLE, Stop, err_line, out_line
from aptandum.cli.options import Files
from aptandum.core.atomic import write_atomic
from aptandum.core.figures import show_length
from aptandum.core.numbers import QuantityError
from aptandum.core.photo.facts import PhotoError
from aptandum.core.prints.draw import FORMATS, NoPrint, Pictured, drawn, least_size, pictured
from aptandum.core.prints.layout import NoRoom, Wish, lay_out
from aptandum.core.prints.paper import NoPaper, paper_of
from aptandum.core.quantity import parse_length
from aptandum.core.words import say, say_n

To = Annotated[Path, typer.Option("--to", help=say("The sheet to write: .pdf, .jpg or .tif."))]
OnPaper = Annotated[
    str, typer.Option("--paper", help=say("A6, A5, A4, 10 x 15 cm, 4 x 6 in, or its sides."))
]
Wanted = Annotated[
    list[str] | None,
    typer.Option(
        "--print",
        help=say(
            "How many and how wide: 4 of 35 mm; only a width: as many as have room. May be repeated; without it each "
            "file is printed once at the size that its pixels per inch state."
        ),
    ),
]
Margin = Annotated[str, typer.Option("--margin", help=say("What the printer leaves free."))]
Gap = Annotated[str, typer.Option("--gap", help=say("What lies between two prints."))]
Ppi = Annotated[
    float | None,
    typer.Option(
        "--ppi",
        min=36,
        max=2400,
        help=say("Of a picture of the sheet; a PDF keeps the files’ own pixels."),
    ),
]
CutMarks = Annotated[bool, typer.Option("--marks/--no-marks", help=say("Marks to cut by."))]
Check = Annotated[
    bool,
    typer.Option(
        "--check/--no-check",
        help=say("A line of 50 mm and a square of 10 mm to check the printer by."),
    ),
]
Enlarge = Annotated[
    bool,
    typer.Option(
        "--enlarge", help=say("A print may have fewer pixels than the sheet’s ppi ask for.")
    ),
]
Replace = Annotated[bool, typer.Option("--replace", help=say("Write over a file of that name."))]


def prints_command(
    files: Files,
    to: To,
    paper: OnPaper = "10 x 15 cm",
    prints: Wanted = None,
    margin: Margin = "4 mm",
    gap: Gap = "3 mm",
    ppi: Ppi = None,
    marks: CutMarks = True,
    check: Check = True,
    enlarge: Enlarge = False,
    replace: Replace = False,
) -> None:
    """Lay finished files on a sheet of paper."""
    kind = FORMATS.get(to.suffix.lower())
    if kind is None:
        _fail(say("The sheet is written as .pdf, .jpg or .tif, not as “{name}”.", name=to.name))
    if to.exists() and not replace:
        _fail(say("{file} is there already: say --replace to write over it.", file=to.name))
    try:
        pictures = [pictured(path, None if enlarge else 1.0) for path in files]
        wishes = _wishes(pictures, prints)
        sheet = lay_out(paper_of(paper), wishes, _length(margin, True), _length(gap, True), check)
        data = drawn(sheet, pictures, kind or "pdf", ppi, marks)
        write_atomic(to, data, files)
    except (PhotoError, NoPaper, NoRoom, NoPrint, QuantityError, OSError) as error:
        _fail(str(error))
    n = len(sheet.prints)
    out_line(
        say_n(
            "{file}: {n} print on {paper}.",
            "{file}: {n} prints on {paper}.",
            n,
            file=to.name,
            paper=sheet.paper.name,
        )
    )
    for one in dict.fromkeys(
        (p.picture, round(min(p.wide, p.high), 2), round(max(p.wide, p.high), 2))
        for p in sheet.prints
    ):
        name = pictures[one[0]].path.rsplit("/", 1)[-1]
        out_line(
            say("  {file}: {a} × {b}", file=name, a=show_length(one[1]), b=show_length(one[2]))
        )


def _fail(words: str) -> None:
    err_line(words)
    raise Stop(UNREADABLE)


def _length(text: str, may_be_none: bool = False) -> float:
    if may_be_none and re.fullmatch(r"0+([.,]0+)?( *mm)?", text.strip()):
        return 0.0
    return parse_length(text)


def _wishes(pictures: list[Pictured], prints: list[str] | None) -> list[Wish]:
    """What is wanted of each picture.

    Raises:
        NoPrint: it is not said how large one is.
    """
    wishes = []
    for n, picture in enumerate(pictures):
        if prints:
            for text in prints:
                found = re.fullmatch(r"\s*(?:(\d{1,3})\s+of\s+)?(.+)", text)
                assert found is not None
                wide, high = least_size(picture, parse_length(found[2].strip()))
                wishes.append(Wish(n, wide, high, int(found[1] or 0)))
        elif picture.own is None:
            raise NoPrint(
                say(
                    "{file} does not state its pixels per inch: say how wide it is printed, such as --print “4 of 35 mm”.",
                    file=picture.path.rsplit("/", 1)[-1],
                )
            )
        else:
            wishes.append(Wish(n, *picture.own, 1))
    return wishes
