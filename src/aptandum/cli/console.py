"""What every command of the command line shares: its words, its statuses, and how it speaks."""

from __future__ import annotations

import atexit
import json
import logging
import os
import sys
import threading
import time
from typing import TYPE_CHECKING, Any

from aptandum.core import mistakes
from aptandum.core.errors import AptandumError
from aptandum.core.words import say

if TYPE_CHECKING:
    from aptandum.core.brief.model import Brief, Rulebook
    from aptandum.core.rulebook.shelf import Shelf

MEETS, MISSES, UNREADABLE, INTERRUPTED = 0, 1, 2, 130


class Stop(AptandumError):
    """Ends a command with an exit status."""

    def __init__(self, status: int) -> None:
        self.status = status


_NARROW = str.maketrans({"\u00a0": " ", "\u202f": " ", "\u2007": " "})
"""Spaces that keep figures together on a screen, and that no script expects."""
_quiet = False


def be_quiet(on: bool) -> None:
    """From now on nothing is said but what goes wrong: the status tells the rest."""
    global _quiet, _beside
    _quiet, _beside = on, False


def be_verbose() -> None:
    """From now on it is said on standard error what is being done, and how long that took."""
    log = mistakes.LOG
    handler = logging.StreamHandler(sys.stderr)
    handler.setFormatter(logging.Formatter("%(relativeCreated)6d ms  %(message)s"))
    log.addHandler(handler)
    log.setLevel(logging.DEBUG)


def doing(what: str) -> None:
    """Note what is being done, for whoever asked to be told."""
    mistakes.LOG.debug("%s", what)


_beside = False


def speak_beside() -> None:
    """From now on what is said goes to standard error: standard output is for the result itself."""
    global _beside
    _beside = True


def give(data: bytes) -> None:
    """Write a result to standard output, as it is."""
    sys.stdout.flush()
    sys.stdout.buffer.write(data)
    sys.stdout.buffer.flush()


def on_screen() -> bool:
    """Whether a person sees what is said."""
    return not (_quiet or _beside) and sys.stdout.isatty()


def for_pipe(text: str) -> str:
    """A text as another program reads it."""
    return text if sys.stdout.isatty() else text.translate(_NARROW)


def out_line(text: str) -> None:
    """Print a line whatever bytes its names hold and whatever the terminal can show."""
    if _quiet:
        return
    _clear()
    stream = sys.stderr if _beside else sys.stdout
    text = for_pipe(text)
    encoding = stream.encoding or "utf-8"
    safe = text.encode(encoding, "backslashreplace").decode(encoding)
    try:
        stream.write(safe + "\n")
        stream.flush()
    except BrokenPipeError:  # whoever read it has enough: no failure, and nothing more to say
        os.dup2(os.open(os.devnull, os.O_WRONLY), stream.fileno())
        raise Stop(MEETS) from None


def err_line(text: str) -> None:
    """Write one line to standard error."""
    _clear()
    sys.stderr.write(text.encode("utf-8", "backslashreplace").decode("utf-8") + "\n")


VERSION = 1
"""Of what ``--json`` prints: a larger one where a key goes or means something else, not where one is added."""
_AS_IT_IS = frozenset(
    ("file", "written", "item", "name", "quote", "text", "sha256", "docket", "brief")
)
"""What is somebody else's text, and stays as it is, byte for byte."""


def _for_programs(value: Any) -> Any:
    if isinstance(value, dict):
        return {k: v if k in _AS_IT_IS else _for_programs(v) for k, v in value.items()}
    if isinstance(value, (list, tuple)):
        return [_for_programs(one) for one in value]
    return value.translate(_NARROW) if isinstance(value, str) else value


def json_line(record: dict[str, Any]) -> None:
    """Write one JSON object on a line of its own, as the contract of ``--json`` has it (``docs/json.schema.json``)."""
    out_line(json.dumps({"version": VERSION, **_for_programs(record)}))


STANDARD = "-"
_come_in: list[str] = []


def come_in() -> str:
    """What comes in by standard input, as a file of its own for as long as the call lasts; its path."""
    if not _come_in:
        import shutil
        import tempfile

        folder = tempfile.TemporaryDirectory(prefix="aptandum-")
        atexit.register(folder.cleanup)
        path = os.path.join(folder.name, "standard-input")
        with open(path, "wb") as stream:
            shutil.copyfileobj(sys.stdin.buffer, stream)
        _come_in.append(path)
    return _come_in[0]


def as_named(file: str) -> str:
    """A file as the call names it."""
    return STANDARD if file in _come_in else file


def name_of(file: str) -> str:
    """A file's path in letters that can be printed; bytes that are no UTF-8 are written out."""
    return os.fsencode(as_named(file)).decode("utf-8", "backslashreplace")


def failed_line(file: str, error: str) -> None:
    """What is wrong with a file; its path goes before the sentence where that names it alone."""
    name = name_of(file)
    err_line(error if error.startswith(name) else f"{name}: {error}")


def shelf_of(books: list[str] | None) -> Shelf:
    """The shipped rulebooks and the person's own, and those that the command line names besides."""
    from aptandum.core.rulebook.problems import RulebookError
    from aptandum.core.rulebook.shelf import read_own, read_shelf

    try:
        own, wrong = read_own()
        for error in wrong:
            err_line(str(error))
        return read_shelf(books or (), own)
    except RulebookError as error:
        err_line(str(error))
        raise Stop(UNREADABLE) from None


def brief_of(name: str, books: list[str] | None) -> Brief:
    """The brief that the command line names."""
    return found_of(name, books)[1]


def found_of(name: str, books: list[str] | None) -> tuple[Rulebook, Brief]:
    """The brief that the command line names, and its rulebook."""
    from aptandum.core.rulebook.shelf import BriefNotFound

    try:
        return shelf_of(books).find(name)
    except BriefNotFound as error:
        err_line(str(error))
        raise Stop(UNREADABLE) from None


def wanted_of(
    briefs: list[str] | None, bodies: list[str] | None, optional: bool, books: list[str] | None
) -> list[tuple[str, Rulebook, Brief]]:
    """All briefs that the command line names, each once: by themselves, and those of whole bodies,
    which are the required ones unless ``optional`` asks for the others too."""
    from aptandum.core.rulebook.shelf import BriefNotFound

    shelf = shelf_of(books)
    found: list[tuple[str, Rulebook, Brief]] = []
    try:
        for name in briefs or ():
            found.append((name, *shelf.find(name)))
        for body in bodies or ():
            book = shelf.named(body)
            asked = [brief for brief in book.briefs if optional or not brief.optional]
            found += [(f"{book.body.id}/{brief.id}", book, brief) for brief in asked]
    except BriefNotFound as error:
        err_line(str(error))
        raise Stop(UNREADABLE) from None
    once = {(book.body.id, brief.id): (name, book, brief) for name, book, brief in found}
    if not once:
        err_line(say("Name at least one brief with --brief, or a body with --body."))
        raise Stop(UNREADABLE)
    return list(once.values())


def main_thread() -> bool:
    """Whether this is the thread in which signals arrive."""
    return threading.current_thread() is threading.main_thread()


_shown = False  # a line of progress stands on the terminal


def _clear() -> None:
    """Take the line of progress away before another is printed."""
    global _shown
    if _shown:
        sys.stderr.write("\r\x1b[K")
        sys.stderr.flush()
        _shown = False


def progress(n: int, total: int, start: float) -> None:
    """How far a batch is, in a line of its own at the foot of a terminal."""
    global _shown
    if total < 2 or not sys.stderr.isatty():
        return
    _clear()
    if n == total:
        return
    left = (time.monotonic() - start) / n * (total - n)
    sys.stderr.write(say("{n} of {total}, about {s} s left", n=n, total=total, s=f"{left:.0f}"))
    sys.stderr.flush()
    _shown = True
