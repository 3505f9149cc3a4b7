"""What nobody foresaw: written down with its traceback, and told in a sentence.

An error of the application's own tree, or of the system (a full disk), has a sentence already. All
else is a mistake in the application: the log gets all of it, the person a plain sentence.
"""

from __future__ import annotations

import logging
import os
from collections.abc import Callable
from pathlib import Path

from aptandum.core.errors import AptandumError
from aptandum.core.words import say

LOG = logging.getLogger("aptandum")

_MOST_BYTES, _OLDER = 1_000_000, 3
"""Size at which the log is put aside, and how many older ones are kept."""

heard: list[Callable[[BaseException], None]] = []
"""Called with every mistake, beside the log. The tests listen here."""


def state_folder() -> Path:
    """Where a person's state is kept between runs."""
    import platformdirs

    return Path(platformdirs.user_state_dir("aptandum", appauthor=False))


def log_folder() -> Path:
    """The folder of the log: the state folder of the person who runs the application."""
    return state_folder() / "log"


def log_file() -> Path:
    """The file into which mistakes are written."""
    return log_folder() / "aptandum.log"


_written: list[logging.Handler] = []
"""What writes the log's file, while it is open."""


def open_log() -> None:
    """Write the log to its file from now on; a folder that cannot be written is no harm."""
    try:
        log_folder().mkdir(parents=True, exist_ok=True)
        from logging.handlers import RotatingFileHandler

        handler = RotatingFileHandler(
            log_file(),
            maxBytes=_MOST_BYTES,
            backupCount=_OLDER,
            encoding="utf-8",
            errors="backslashreplace",
        )
    except OSError:
        return
    handler.setFormatter(
        logging.Formatter(f"%(asctime)s [{os.getpid()}] %(levelname)s %(name)s: %(message)s")
    )
    close_log()
    LOG.addHandler(handler)
    _written.append(handler)
    LOG.setLevel(logging.INFO)


def close_log() -> None:
    """Stop writing into the log and let go of its file."""
    while _written:
        handler = _written.pop()
        LOG.removeHandler(handler)
        handler.close()


def log_end(most: int = 20_000) -> str:
    """The last characters of the log; empty where there is none."""
    try:
        text = log_file().read_text("utf-8", "replace")
    except OSError:
        return ""
    return text[-most:]


def is_mistake(error: BaseException) -> bool:
    """Whether an error is one that nobody foresaw."""
    return not isinstance(error, (AptandumError, OSError))


LOG.addHandler(logging.NullHandler())  # nothing of it goes to a terminal


def note(error: BaseException, during: str = "") -> None:
    """Write a mistake down with its traceback."""
    if not _written:
        open_log()
    LOG.error("%s", during or "mistake", exc_info=error)
    for listener in list(heard):
        listener(error)


def sentence(error: BaseException, during: str = "") -> str:
    """What a person is told of an error; a mistake is written down first.

    Args:
        during: what was being done, for the log and the sentence.
    """
    if not is_mistake(error):
        return str(error)
    note(error, during)
    kind = type(error).__name__
    if during:
        return say(
            "{what} failed because of a mistake in Aptandum ({kind}). Nothing else is lost; the "
            "log has the details.",
            what=during.rstrip(" …."),
            kind=kind,
        )
    return say(
        "Something failed because of a mistake in Aptandum ({kind}). Nothing is lost; the log has "
        "the details.",
        kind=kind,
    )
