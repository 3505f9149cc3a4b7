"""One reader, seen from the application: started, asked, and given up when it dies, hangs or talks nonsense."""

from __future__ import annotations

import contextlib
import os
import select
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Callable, Sequence
from dataclasses import field
from mmap import mmap
from pathlib import Path
from typing import Any

from aptandum.core import words
from aptandum.core.errors import AptandumError
from aptandum.core.frozen import frozen
from aptandum.core.readers import shared, wire
from aptandum.core.readers.wire import PULSE
from aptandum.core.words import say

_START_SECONDS = 60.0
_WAITED = 4
"""A reader may be waited for so many times as long as it may work: other things go on beside it."""
_LOOK = 250
"""Milliseconds between two looks at whether a reader still gets on."""

_ENVIRONMENT = ("PATH", "LANG", "LANGUAGE", "LC_ALL", "LC_MESSAGES", "LC_NUMERIC", "LC_TIME", "LOCPATH",
                "APTANDUM_LANGUAGE", "TZ", "LD_LIBRARY_PATH")  # fmt: skip


class Lost(AptandumError):
    """A reader was lost over one file; the message is a cause, without the file's name.

    Attributes:
        place: which of the wish's files it was reading.
        begun: it had begun with the wish at all.
        status: as of a process; negative: the signal that ended it.
    """

    def __init__(
        self, cause: str, place: int = 0, begun: bool = True, status: int | None = None
    ) -> None:
        super().__init__(cause)
        self.place, self.begun, self.status = place, begun, status


class TooLittle(AptandumError):
    """A reader asked for more memory than it may have."""

    def __init__(self) -> None:
        super().__init__(say("it asks for more memory than it may have"))


class Said(AptandumError):
    """An act raised one of the application's own errors.

    Attributes:
        kind: the name of its class.
    """

    def __init__(self, kind: str, says: str) -> None:
        super().__init__(says)
        self.kind = kind


class NotReady(AptandumError):
    """A reader that is ready for one format was asked for something else."""


class Mistake(AptandumError):
    """An act raised what it should not have raised."""


@frozen
class Wish:
    """What a reader is asked.

    Attributes:
        act: by its name.
        args: what JSON can say.
        files: descriptors of files; whoever asks closes them.
        room: bytes for pixels; 0 where none come back.
        seconds: of work for each file.
        quick: it is done at once, and is not to wait for what is not.
        seen: told the room before the reader is, each time that one is asked: who wants to see it being filled.
    """

    act: str
    args: dict[str, Any] = field(default_factory=dict)
    files: Sequence[int] = ()
    room: int = 0
    seconds: float = 20.0
    quick: bool = False
    seen: Callable[[shared.Room], None] | None = None


@frozen
class Answer:
    """Attributes:
    value: what JSON can say.
    room: where the pixels are; ``None`` where none were asked for.
    """

    value: Any
    room: shared.Room | None = None


class Reader:
    """One process. Asked by one thread at a time; whoever has it for himself sees to that.

    Args:
        acts: the names of the modules that it reads with.
        only: for what alone it is to be made ready; empty: for everything that they can.
    """

    def __init__(self, acts: Sequence[str], only: str = "") -> None:
        self.only = only
        if only:
            acts = [f"{name}:{only}" for name in acts]
        here, there = socket.socketpair()
        handle = shared.sealed(4096, "pulse")
        try:
            self._pulse = mmap(handle, 4096)
            self._process = subprocess.Popen(
                [*_python(), str(there.fileno()), str(handle), *acts],
                pass_fds=(there.fileno(), handle),
                stdin=subprocess.DEVNULL,
                stdout=subprocess.DEVNULL,
                stderr=subprocess.DEVNULL if not os.environ.get("APTANDUM_READERS_TELL") else None,
                env=_environment(),
                cwd="/",
            )
        except BaseException:
            here.close()
            raise
        finally:
            there.close()
            os.close(handle)
        self._line = here
        self._inbox = wire.Inbox()
        self._waiting = select.poll()
        self._waiting.register(here, select.POLLIN)
        self._asked = 0
        self._ready = self._gone = False
        self.gave_up: dict[str, Any] = {}
        self.since = 0.0  # when it was asked last

    @property
    def pid(self) -> int:
        """Its process number."""
        return self._process.pid

    @property
    def alive(self) -> bool:
        """Whether it can be asked, as far as is known: one that has died meanwhile is noticed when it is asked."""
        return not self._gone

    def ask(self, wish: Wish, more: bool = False) -> Answer:
        """Have an act done.

        Args:
            more: it may have more memory than usual.

        Raises:
            Lost: the reader has died, or was ended because it hung.
            TooLittle: it may not have as much memory as it asks for.
            Said: the act raised one of our own errors.
            Mistake: the act raised another.
            NotReady: it is not ready for this.
        """
        if not self._ready:
            said = self._hear(_START_SECONDS, 0)
            if not isinstance(said, dict) or not isinstance(said.get("ready"), dict):
                raise self._lose(say("it did not start as it should"))
            self.gave_up, self._ready = said["ready"], True
        room = shared.room_for(wish.room) if wish.room else None
        if room is not None and wish.seen is not None:
            wish.seen(room)
        try:
            return self._answered(wish, room, more)
        except BaseException:
            if room is not None:
                room.doubtful = not self.alive
                shared.give_back(room)
            raise

    def _answered(self, wish: Wish, room: shared.Room | None, more: bool) -> Answer:
        message = {
            "act": wish.act,
            "args": wish.args,
            "seconds": wish.seconds,
            "limits": os.environ.get("APTANDUM_LIMITS", ""),
            "speech": words.told(),
            "more": more,
            "room": room is not None,
        }
        files = [*wish.files, *([room.handle] if room is not None else [])]
        self._asked += 1
        try:
            wire.send(self._line, message, files)
        except OSError:
            raise self._lose("") from None
        said = self._hear(_WAITED * wish.seconds + 5, self._asked)
        if not isinstance(said, dict):
            raise self._lose(say("its answer cannot be used"))
        if said.get("unready"):
            raise NotReady
        if said.get("memory"):
            raise TooLittle
        if "said" in said:
            kind, says = said["said"]
            raise Said(str(kind), str(says))
        if "value" not in said:
            raise Mistake(str(said.get("mistake", "")))
        return Answer(said["value"], room)

    def _hear(self, patience: float, asked: int) -> Any:
        """The next message, waited for as long as the reader gets on."""
        seen, since = (0, 0), time.monotonic()
        while True:
            try:
                if self._waiting.poll(_LOOK):
                    part = self._line.recv(1 << 20)
                    if not part:
                        raise self._lose("")
                    self._inbox.add(part)
                    whole, message = self._inbox.take()
                    if whole:
                        return message
                    continue
            except wire.Garbled:
                raise self._lose(say("its answer cannot be used")) from None
            except OSError:
                raise self._lose("") from None
            now = PULSE.unpack_from(self._pulse)
            if now != seen:
                seen, since = now, time.monotonic()
            elif time.monotonic() - since > patience:
                raise self._lose(say("it took too long"))

    def _lose(self, cause: str) -> Lost:
        """Give the reader up, and say why."""
        begun, place = PULSE.unpack_from(self._pulse)
        if cause:
            self._process.kill()
        with contextlib.suppress(subprocess.TimeoutExpired):
            self._process.wait(2)
        self.end()
        status = self._process.returncode
        from aptandum.core import mistakes

        mistakes.LOG.warning("a reader was lost (%s): %s", status, cause or "it ended")
        return Lost(
            cause or _ended(status), place, self._ready and begun >= self._asked > 0, status
        )

    def end(self) -> None:
        """End it."""
        self._gone = True
        with contextlib.suppress(OSError):
            self._process.kill()
        with contextlib.suppress(OSError):
            self._line.close()
        with contextlib.suppress(subprocess.TimeoutExpired):
            self._process.wait(5)


def _ended(status: int | None) -> str:
    if status == -signal.SIGXCPU:
        return say("it took too long")
    if status is not None and status < 0:
        with contextlib.suppress(ValueError):
            return say(
                "the process that read it was ended ({why})", why=signal.Signals(-status).name
            )
    return say("the process that read it has ended ({why})", why=status)


def _python() -> list[str]:
    """The interpreter, with nothing taken from the environment, and our own package where it lies here."""
    start = (
        f"import gc, sys; gc.disable(); sys.path[:] = {[path for path in sys.path if path]!r}; "
        "from aptandum.core.readers.process import main; main()"
    )
    cache = [] if sys.pycache_prefix is None else ["-X", f"pycache_prefix={sys.pycache_prefix}"]
    return [sys.executable, "-I", *cache, "-c", start]


def _environment() -> dict[str, str]:
    kept = {name: os.environ[name] for name in _ENVIRONMENT if name in os.environ}
    kept |= {
        "HOME": str(Path(__file__).resolve().parents[2]),
        "OPENBLAS_NUM_THREADS": "1",
        "OMP_NUM_THREADS": "1",
        "MALLOC_ARENA_MAX": "2",
        "VIPS_DISC_THRESHOLD": "1000g",  # never into a temporary file
        "VIPS_CONCURRENCY": os.environ.get("VIPS_CONCURRENCY", "2"),
    }
    return kept
