"""Ending readers on purpose, from outside, while something goes on."""

from __future__ import annotations

import contextlib
import os
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path


def readers_of(root: int) -> list[int]:
    """The process numbers of the readers that a process or one of its own has started."""
    parents: dict[int, int] = {}
    found = []
    for folder in Path("/proc").iterdir():
        if not folder.name.isdigit():
            continue
        with contextlib.suppress(OSError, IndexError, ValueError):
            said = (folder / "stat").read_text()
            parents[int(folder.name)] = int(said.rpartition(")")[2].split()[1])
            if b"aptandum.core.readers.process" in (folder / "cmdline").read_bytes():
                found.append(int(folder.name))

    def ours(pid: int) -> bool:
        while pid in parents:
            if pid == root:
                return True
            pid = parents[pid]
        return False

    return [pid for pid in found if ours(parents[pid])]


class Killer:
    """What was killed.

    Attributes:
        killed: how many.
    """

    def __init__(self) -> None:
        self.killed = 0


@contextmanager
def killing(root: int | None = None, most: int = 1_000_000) -> Iterator[Killer]:
    """While it holds, every reader of a process (this one) is killed as soon as it is seen."""
    stop, killer = threading.Event(), Killer()

    def kill() -> None:
        while not stop.is_set() and killer.killed < most:
            for pid in readers_of(root or os.getpid()):
                with contextlib.suppress(ProcessLookupError):
                    os.kill(pid, 9)
                    killer.killed += 1
            stop.wait(0.003)

    thread = threading.Thread(target=kill, name="killer")
    thread.start()
    try:
        yield killer
    finally:
        stop.set()
        thread.join()
