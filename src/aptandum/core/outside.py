"""Reading a file that comes from outside: an ordinary one, whole, and no more of it than is asked for."""

from __future__ import annotations

import errno
import os
import stat

from aptandum.core.words import say

_STEP = 1 << 20


class NotOrdinary(OSError):
    """A folder, a pipe, a device or a socket, which is not read."""

    def __init__(self, path: str) -> None:
        super().__init__(errno.EINVAL, say("it is no ordinary file"), path)


class TooMuch(OSError):
    """A file that is larger than it may be."""

    def __init__(self, path: str, most: int) -> None:
        cause = say("it has more than {n} bytes", n=most)
        super().__init__(errno.EFBIG, cause, path)


def read_whole(path: str | os.PathLike[str], most: int) -> bytes:
    """The bytes of an ordinary file. Nothing is waited for: a pipe is refused before it is read.

    Args:
        most: how many bytes it may have.

    Raises:
        NotOrdinary: it is something else than a file.
        TooMuch: it has more bytes.
        OSError: it cannot be read.
        ValueError: the path has a NUL in it.
    """
    file = os.fspath(path)
    handle = os.open(file, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC | os.O_NOCTTY)
    what = os.fstat(handle)
    if not stat.S_ISREG(what.st_mode):
        os.close(handle)
        raise NotOrdinary(file)
    with open(handle, "rb", buffering=0) as stream:
        if what.st_size > most:
            raise TooMuch(file, most)
        held = bytearray()
        while len(held) <= most:
            # Exactly what the file has, and one byte to see its end: no more is asked of the memory.
            part = stream.read(max(what.st_size + 1 - len(held), min(_STEP, most + 1)))
            if not part:
                return bytes(held)
            if not held and len(part) == what.st_size:
                if not (rest := stream.read(1)):
                    return part
                part += rest
            held += part
        raise TooMuch(file, most)
