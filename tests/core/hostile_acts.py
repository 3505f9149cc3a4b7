"""Acts of a reader that a stranger has taken over: they die, hang, lie, and try what they may not."""

from __future__ import annotations

import ctypes
import os
import signal
import socket
import subprocess
import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from aptandum.core.readers.process import Call


def make_ready() -> None:
    """Nothing to load."""


def names(call: Call) -> list[str]:
    """The items' names; some of them end the reader."""
    said = []
    for place, name in enumerate(call.args["items"]):
        call.next_file(place)
        if name == "crash":
            ctypes.string_at(0)
        if name == "spin":
            while True:
                pass
        if name == "sleep":
            time.sleep(3600)
        if name == "gulp":
            _ = bytearray(6 << 30)
        said.append(name)
    return said


def gulp(call: Call) -> int:
    """Ask for so many megabytes."""
    return len(bytearray(int(call.args["megabytes"]) << 20))


def leave(call: Call) -> int:
    """As a library does that ends its process where it is refused memory."""
    try:
        return len(bytearray(int(call.args["megabytes"]) << 20))
    except MemoryError:
        os._exit(1)


def fill(call: Call) -> list[int]:
    """Fill the room with one number."""
    assert call.room is not None
    call.room[:12] = bytes([call.args["number"]] * 12)
    return [2, 2, 3]


def nonsense(_call: Call) -> Any:
    """More than any answer may be."""
    return "x" * (70 << 20)


def escape(call: Call) -> dict[str, str]:
    """Try to get out; how each try ended."""
    there = str(call.args["there"])
    libc = ctypes.CDLL(None, use_errno=True)

    def other() -> None:
        done = threading.Thread(target=int)
        done.start()
        done.join()

    tries: dict[str, Callable[[], Any]] = {
        "read a file": lambda: Path("/etc/hostname").read_text(),
        "write a file": lambda: Path(there).write_text("x"),
        "list a folder": lambda: os.listdir("/"),
        "look at itself": lambda: Path("/proc/self/maps").read_text(),
        "change the given file": lambda: os.write(call.files[0], b"x"),
        "cut the given file": lambda: os.ftruncate(call.files[0], 0),
        "a socket": lambda: socket.socket(socket.AF_INET, socket.SOCK_STREAM),
        "a local socket": lambda: socket.socket(socket.AF_UNIX, socket.SOCK_STREAM),
        "a program": lambda: subprocess.run(["/bin/true"], check=False),
        "a process": lambda: _checked(
            libc.syscall(57 if os.uname().machine == "x86_64" else 220, 0, 0, 0, 0, 0)
        ),
        "a signal to its parent": lambda: os.kill(os.getppid(), signal.SIGCONT),
        "a look into its parent": lambda: _checked(libc.ptrace(16, os.getppid(), 0, 0)),
    }
    made = {}
    for name, act in tries.items():
        try:
            act()
            made[name] = "done"
        except BaseException as error:
            made[name] = type(error).__name__
    other()  # threads of its own it may have
    return made


def _checked(answer: int) -> int:
    if answer < 0:
        raise OSError(ctypes.get_errno())
    return answer


ACTS: dict[str, Callable[[Call], Any]] = {
    "names": names,
    "gulp": gulp,
    "leave": leave,
    "fill": fill,
    "nonsense": nonsense,
    "escape": escape,
}
