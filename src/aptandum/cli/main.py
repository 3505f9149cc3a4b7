"""The command line: the same core without a screen. Its ``--json`` output is a contract."""

from __future__ import annotations

import os
import sys
from collections.abc import Callable, Sequence

from aptandum import __version__
from aptandum.cli import interrupts
from aptandum.cli.console import (
    INTERRUPTED,
    MEETS,
    UNREADABLE,
    Stop,
    be_quiet,
    be_verbose,
    brief_of,
    err_line,
    out_line,
)
from aptandum.core import mistakes
from aptandum.core.words import lend, say

Opener = Callable[..., int]


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

A file named - is what comes in by standard input. Every command takes -h for --help, --quiet to
print nothing but what goes wrong, and --verbose to say on standard error what is being done.

It ends with 0 where every file meets every rule that must be met, with 1 where one does not, and with
2 where something could not be read or the call is wrong.
""")


def _plain_words(args: Sequence[str]) -> list[str]:
    """The call without what holds for every command: ``-h`` is ``--help``, ``--quiet`` holds for all that is said."""
    words = list(args)
    end = words.index("--") if "--" in words else len(words)
    head = ["--help" if word == "-h" else word for word in words[:end]]
    be_quiet("--quiet" in head)
    if "--verbose" in head:
        be_verbose()
    return [word for word in head if word not in ("--quiet", "--verbose")] + words[end:]


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
    from aptandum.cli import facts

    asked = facts.ordinary(words[1:]) if words[0] == "facts" else None
    if asked is not None:
        return _ended(lambda: facts.tell_facts(**asked))
    from aptandum.cli.commands import COMMANDS, Commands  # not for a window

    if words[0] not in COMMANDS and not words[0].startswith("-") and os.path.exists(words[0]):
        return opens["open"](words)

    def called() -> int:
        lend()
        ended = Commands().main(args=words, prog_name="aptandum", standalone_mode=False)
        if ended == INTERRUPTED:  # Ctrl-C comes back from the parser so
            return INTERRUPTED
        if words[0] == "--help":
            out_line(HELP_OPEN)
        return MEETS

    return _ended(called)


def _ended(command: Callable[[], int]) -> int:
    """How a command ends, whatever happens in it."""
    try:
        with interrupts.listening():
            return command()
    except Stop as stop:
        return stop.status
    except KeyboardInterrupt:
        return INTERRUPTED
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return MEETS
    except Exception as error:
        if type(error).__name__ == "Abort":  # Ctrl-C, as the parser passes it on
            return INTERRUPTED
        if not hasattr(error, "format_message"):  # none of the parser's own errors, of any make
            err_line(mistakes.sentence(error))
            return UNREADABLE
        from aptandum.cli.parser_words import translated

        how = say("aptandum --help tells how to call it.")
        err_line(f"{translated(error.format_message())}\n\n{how}")
        return UNREADABLE
