"""The process of a reader: it is told what to do by one socket, and by nothing else.

Started as ``python -I``, with no environment but what is named in :mod:`aptandum.core.readers.reader`. Modules of
acts are imported and made ready; then everything that is not needed is given up, and only then is the first file
looked at.
"""

from __future__ import annotations

import contextlib
import gc
import importlib
import mmap
import os
import resource
import signal
import socket
import sys
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from aptandum.core import bounds
from aptandum.core.errors import AptandumError
from aptandum.core.readers import lockdown, wire
from aptandum.core.readers.wire import PULSE
from aptandum.core.words import as_told


class Unready(Exception):
    """An act is asked of a reader that has not been made ready for it."""


class _Late:
    """The last of what finds modules: notes that one was looked for when none could be had any more."""

    def __init__(self) -> None:
        self.asked = ""

    def find_spec(self, name: str, path: Any = None, target: Any = None) -> None:
        """Find nothing."""
        self.asked = name


@dataclass
class Call:
    """What an act is given.

    Attributes:
        args: what it was asked.
        files: descriptors of the files that it is about.
        room: where pixels go, as long as there is room; ``None`` where none was given.
        next_file: to be called before each file, with its place.
    """

    args: dict[str, Any]
    files: list[int] = field(default_factory=list)
    room: memoryview | None = None
    next_file: Callable[[int], None] = lambda _place: None

    def bytes_of(self, place: int = 0) -> bytes | mmap.mmap:
        """The bytes of a file, without a copy of them."""
        size = os.fstat(self.files[place]).st_size
        return mmap.mmap(self.files[place], size, mmap.MAP_SHARED, mmap.PROT_READ) if size else b""


def main() -> None:
    """Serve until the other side has gone. Arguments: two descriptors, and the names of the modules of acts; behind a
    colon stands for what alone they are to be ready."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl-C is for the one who asks
    talk, pulse_handle, *names = sys.argv[1:]
    pulse = mmap.mmap(int(pulse_handle), mmap.PAGESIZE)
    os.close(int(pulse_handle))
    line = socket.socket(fileno=int(talk))
    acts: dict[str, Callable[[Call], Any]] = {}
    late: _Late | None = None
    for name in names:
        name, _colon, only = name.partition(":")
        module = importlib.import_module(name)
        if only:
            module.make_ready(only)
            sys.meta_path.insert(0, late := _Late())
            acts |= {act: module.ACTS[act] for act in module.ONLY}
        else:
            module.make_ready()
            acts |= module.ACTS
    gc.enable()  # while modules are loaded, nothing is thrown away
    wire.send(line, {"ready": lockdown.lock_down()})
    begun = 0
    while True:
        message, files = wire.receive(line)
        if message is None:
            return
        begun += 1
        PULSE.pack_into(pulse, 0, begun, 0)
        answer = _done(acts, message, files, begun, pulse)
        if late is not None and (late.asked or message["act"] not in acts):
            answer = {
                "unready": late.asked or True
            }  # whatever was made of it, something was lacking
        for file in files:
            with contextlib.suppress(OSError):
                os.close(file)
        wire.send(line, answer)


def _done(
    acts: dict[str, Callable[[Call], Any]],
    message: dict[str, Any],
    files: list[int],
    begun: int,
    pulse: mmap.mmap,
) -> dict[str, Any]:
    seconds = float(message.get("seconds", 20))

    def next_file(place: int) -> None:
        PULSE.pack_into(pulse, 0, begun, place)
        _allow_seconds(seconds)

    if os.environ.get("APTANDUM_LIMITS") != message.get("limits", ""):
        bounds.use(str(message.get("limits", "")))
    with contextlib.suppress(OSError, ValueError):
        lockdown.allow(lockdown.MORE_MEMORY if message.get("more") else lockdown.MEMORY)
    next_file(0)
    held: mmap.mmap | None = None
    room: memoryview | None = None
    call: Call | None = None
    try:
        if message.get("room"):
            handle = files.pop()
            try:
                size = os.fstat(handle).st_size
                held = mmap.mmap(
                    handle, size, mmap.MAP_SHARED | mmap.MAP_POPULATE * bool(message.get("warm"))
                )
            finally:
                os.close(handle)
            room = memoryview(held)
        call = Call(message.get("args") or {}, files, room, next_file)
        with as_told(message.get("speech")):
            return {"value": acts[message["act"]](call)}
    except Unready:
        return {"unready": True}
    except MemoryError:
        return {"memory": True}
    except AptandumError as error:
        return {"said": [type(error).__name__, str(error)]}
    except Exception as error:  # a decoder raises anything at all on hostile bytes
        return {"mistake": f"{type(error).__name__}: {error}"[:400]}
    finally:
        call = None
        with contextlib.suppress(
            BufferError
        ):  # a library that still looks into it lets it go later
            if room is not None:
                room.release()
            if held is not None:
                held.close()


_until = 0
"""Seconds of work after which the kernel ends this process."""


_BY_TICKS = -8
"""The clock of this process's work that the kernel holds against the limit: CPUCLOCK_PROF of process 0, as clock_gettime(2)
and linux/posix-timers.h put it. Where the kernel counts by ticks it runs ahead of the exact one, by a twentieth has been seen:
a reader that has worked for two minutes would be past its limit at once."""


def _worked() -> float:
    """Seconds of work of this process, as the kernel counts them for the limit."""
    with contextlib.suppress(OSError, ValueError):
        return max(time.process_time(), time.clock_gettime(_BY_TICKS))
    return time.process_time()


def _allow_seconds(seconds: float) -> None:
    """So many more seconds of work; whoever needs more is ended by the kernel."""
    global _until
    until = int(_worked() + seconds) + 1
    if until != _until:
        _until = until
        hard = resource.getrlimit(resource.RLIMIT_CPU)[1]
        with contextlib.suppress(OSError, ValueError):
            resource.setrlimit(resource.RLIMIT_CPU, (until, hard))


if __name__ == "__main__":
    main()
