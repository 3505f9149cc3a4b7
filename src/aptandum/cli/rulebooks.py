"""``aptandum rulebook``: what is on the shelf, whether a file is sound, and what it allows."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Annotated

import typer

from aptandum.cli.commands import COMMANDS, parser
from aptandum.cli.console import (
    MEETS,
    MISSES,
    UNREADABLE,
    Stop,
    brief_of,
    err_line,
    json_line,
    name_of,
    out_line,
    shelf_of,
)
from aptandum.cli.options import Books, Json
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.facts import PhotoError
from aptandum.core.rulebook.contradictions import contradictions
from aptandum.core.rulebook.editions import compare as compare_editions
from aptandum.core.rulebook.far import doubts
from aptandum.core.rulebook.guide import started
from aptandum.core.rulebook.parcel import packed, pictures_of
from aptandum.core.rulebook.problems import RulebookError
from aptandum.core.rulebook.schema import schema as rulebook_schema
from aptandum.core.rulebook.toml import read_rulebook
from aptandum.core.rulebook.words import foreign_words
from aptandum.core.rulebook.words import read as read_words
from aptandum.core.rulebook.words.as_book import contract, rulebook_text
from aptandum.core.rulebook.words.sources import SourceError, of_bytes, text_of
from aptandum.core.rulebook.words.whose import whose
from aptandum.core.sizes.conflicts import changes, contradiction, possible
from aptandum.core.sizes.region import allowed, largest_cut
from aptandum.core.sizes.said import change_said, describe
from aptandum.core.sizes.wished import would_be
from aptandum.core.words import say, say_n

rulebook_app = parser(COMMANDS["rulebook"].says)


@rulebook_app.command("list", help=say("Bodies and briefs on the shelf."))
def list_books(rulebook: Books = None, as_json: Json = False) -> None:
    """Bodies and briefs on the shelf."""
    for book in shelf_of(rulebook).rulebooks:
        for brief in book.briefs:
            name = f"{book.body.id}/{brief.id}"
            if as_json:
                json_line(
                    {
                        "brief": name,
                        "title": brief.title,
                        "body": book.body.name,
                        "edition": book.body.edition,
                        "clauses": len(brief.clauses),
                        "optional": brief.optional,
                    }
                )
            else:
                out_line(
                    name.ljust(40)
                    + " "
                    + say(
                        "{brief} · {body}, edition {edition}",
                        brief=brief.title,
                        body=book.body.name,
                        edition=book.body.edition or "-",
                    )
                )
    raise Stop(MEETS)


@rulebook_app.command(
    help=say(
        "Whether a rulebook file is sound; otherwise all that is wrong with it, by line. Clauses that contradict one another are named as well, with exit status 1."
    )
)
def lint(file: Annotated[str, typer.Argument(metavar="FILE")], as_json: Json = False) -> None:
    """Whether a rulebook file is sound; otherwise all that is wrong with it, by line. Clauses
    that contradict one another are named as well, and limits that do not say what the quote beside
    them says, with exit status 1."""
    try:
        book = read_rulebook(file)
    except RulebookError as error:
        for problem in error.problems:
            if as_json:
                json_line(
                    {
                        "file": problem.file,
                        "line": problem.line,
                        "where": problem.where,
                        "stood": problem.stood,
                        "expected": problem.expected,
                    }
                )
            else:
                out_line(str(problem))
        raise Stop(UNREADABLE) from None
    against = [(b, found) for b in book.briefs for found in contradictions(b)]
    for brief, found in against:
        line = max(clause.line for clause in found.clauses)
        if as_json:
            json_line(
                {
                    "file": file,
                    "line": line,
                    "where": brief.id,
                    "stood": found.says,
                    "expected": "clauses that can be met together",
                }
            )
        else:
            out_line(f"{name_of(file)}:{line}: {brief.id}: {found.says}")
    lost = [(doubt.brief, doubt.slip) for doubt in doubts(book.briefs)]
    for brief, slip in lost:
        if as_json:
            json_line(
                {
                    "file": file,
                    "line": slip.clause.line,
                    "where": f"{brief.id}.{slip.clause.id}",
                    "stood": slip.says,
                    "expected": "a limit that is meant so",
                }
            )
        else:
            where = f"{name_of(file)}:{slip.clause.line}: {brief.id}.{slip.clause.id}"
            out_line(f"{where}: {slip.says}")
    if against or lost:
        raise Stop(MISSES)
    if not as_json:
        n = len(book.briefs)
        out_line(
            say_n("{file}: sound, {n} brief", "{file}: sound, {n} briefs", n, file=name_of(file))
        )
    raise Stop(MEETS)


@rulebook_app.command(help=say("What changed between two rulebook files, clause by clause."))
def compare(
    older: Annotated[str, typer.Argument(metavar="OLDER")],
    newer: Annotated[str, typer.Argument(metavar="NEWER")],
    as_json: Json = False,
) -> None:
    """What changed between two rulebook files, clause by clause."""
    try:
        old, new = read_rulebook(older), read_rulebook(newer)
    except RulebookError as error:
        err_line(str(error))
        raise Stop(UNREADABLE) from None
    for d in compare_editions(old, new):
        if as_json:
            json_line(
                {
                    "kind": d.kind,
                    "brief": d.brief,
                    "clause": d.clause,
                    "title": d.title,
                    "before": d.before or None,
                    "after": d.after or None,
                }
            )
        else:
            out_line(f"{d.brief or '-'}: {d.kind}: {d.title}: {d.before or '-'} → {d.after or '-'}")
    raise Stop(MEETS)


@rulebook_app.command(help=say("The sizes that a brief allows, and what a photo can give."))
def sizes(
    brief: Annotated[str, typer.Argument(metavar="BOOK/BRIEF")],
    photo: Annotated[str, typer.Option("--for", help=say("A photo to answer for."))] = "",
    rulebook: Books = None,
    as_json: Json = False,
) -> None:
    """The sizes that a brief allows, and what a photo can give."""
    wanted = brief_of(brief, rulebook)
    size = None
    if photo:
        try:
            size = open_photo(photo).facts.size
        except PhotoError as error:
            err_line(str(error))
            raise Stop(UNREADABLE) from None
    target = would_be(wanted, size) if size else None
    if as_json:
        held = allowed(wanted)
        shape = target.shape if target else None
        json_line(
            {
                "brief": brief,
                "empty": held.empty,
                "smallest": held.smallest(),
                "largest": held.largest(),
                "contradiction": [clause.id for clause in contradiction(wanted)],
                "says": describe(wanted, size),
                "target": target.size if target else None,
                "enlargement": target.enlargement if target else None,
                "cut": largest_cut(size, shape) if size and shape else None,
                "possible": possible(wanted, size) if size else None,
                "changes": [change_said(c, size) for c in changes(wanted, size)] if size else [],
            }
        )
    else:
        for line in describe(wanted, size):
            out_line(line)
    raise Stop(MEETS)


@rulebook_app.command(help=say("Begin a rulebook: a small sound one, with a remark at each part."))
def new(
    file: Annotated[str, typer.Argument(metavar="FILE")],
    body: Annotated[str, typer.Option("--body", help=say("The name of the body."))] = "",
) -> None:
    """Begin a rulebook: a small sound one, with a remark at each part. What is there is left alone."""
    target = Path(file if file.endswith(".toml") else f"{file}.toml")
    try:
        with target.open("x", encoding="utf-8") as stream:
            stream.write(started(body))
    except OSError as error:
        err_line(_unwritten(target, error))
        raise Stop(UNREADABLE) from None
    out_line(
        say(
            "{file} is begun. Write the body’s rules into it, then: {command}",
            file=name_of(str(target)),
            command=f"aptandum rulebook lint {target}",
        )
    )
    raise Stop(MEETS)


@rulebook_app.command(help=say("The JSON Schema of a rulebook, for editors."))
def schema() -> None:
    """The JSON Schema of a rulebook, for editors."""
    out_line(json.dumps(rulebook_schema(), ensure_ascii=False, indent=1))
    raise Stop(MEETS)


@rulebook_app.command(help=say("Read rules that are published in words into a rulebook."))
def read(
    source: Annotated[str, typer.Argument(metavar="FILE|-")],
    body: Annotated[str, typer.Option("--body", help=say("The name of the body."))] = "",
    language: Annotated[str, typer.Option("--language", help=say("Its language: en or de."))] = "",
    as_json: Json = False,
) -> None:
    """Read rules that are published in words into a rulebook, which is printed. Nothing is written."""
    try:
        text = of_bytes(sys.stdin.buffer.read()) if source == "-" else text_of(source)
    except SourceError as error:
        err_line(str(error))
        raise Stop(UNREADABLE) from None
    found = read_words(text, language)
    if found.foreign:
        err_line(foreign_words())
    if as_json:
        for draft in found.drafts:
            json_line(contract(draft))
        for aside in found.asides:
            json_line(
                {"certainty": "aside", "quote": aside.text, "start": aside.start, "end": aside.end}
            )
    elif found.drafts:
        out_line(rulebook_text(found, body or whose(text, "" if source == "-" else source)))
        for quote in dict.fromkeys(aside.text for aside in found.asides if not aside.counts):
            err_line(say("Not read as a rule: “{quote}”", quote=quote))
    if not found.drafts:
        err_line(say("No rule was found in {file}.", file=name_of(source)))
        raise Stop(UNREADABLE)
    raise Stop(MISSES if any(d.certainty != "sure" for d in found.drafts) else MEETS)


@rulebook_app.command(help=say("Put a rulebook and its pictures into one file, to be sent."))
def pack(
    file: Annotated[str, typer.Argument(metavar="FILE")],
    out: Annotated[str, typer.Option("--out", help=say("The archive, .zip."))] = "",
) -> None:
    """Put a rulebook and its pictures into one file, to be sent. What is there is left alone."""
    try:
        book = read_rulebook(file)
        target = Path(out or f"{book.body.id}.zip")
        with target.open("xb") as stream:
            stream.write(packed(book))
    except RulebookError as error:
        err_line(str(error))
        raise Stop(UNREADABLE) from None
    except OSError as error:
        err_line(_unwritten(target, error))
        raise Stop(UNREADABLE) from None
    out_line(
        say(
            "{file}: the rulebook and {n} pictures",
            file=name_of(str(target)),
            n=len(pictures_of(book)),
        )
    )
    raise Stop(MEETS)


def _unwritten(target: Path, error: OSError) -> str:
    if isinstance(error, FileExistsError):
        return say("{file} is there already, and is left as it is.", file=name_of(str(target)))
    why = (error.strerror or str(error)).lower()
    return say("{file} cannot be written: {why}.", file=name_of(str(target)), why=why)
