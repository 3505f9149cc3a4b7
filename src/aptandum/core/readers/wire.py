"""Messages between the application and a reader: a length, and JSON; descriptors go with the length.

A reader may be in a stranger's hands: what it says is measured before it is kept, and never unpickled.
"""

from __future__ import annotations

import json
import os
import socket
import struct
from collections.abc import Sequence
from typing import Any

MOST_SAID = 64 << 20
"""Bytes of one answer: a profile in base 64 is its largest part."""

PULSE = struct.Struct("=II")
"""In memory that both see: how many wishes were begun, and which of a wish's files is being read."""

MOST_FILES = 64
"""Descriptors that go with one message; the kernel takes 253."""

_LENGTH = struct.Struct("=I")


class Garbled(ConnectionError):
    """What came is no message."""


def send(wire: socket.socket, message: Any, files: Sequence[int] = ()) -> None:
    """Send a message and, with it, descriptors; they stay open here.

    Raises:
        OSError: the other side has gone.
    """
    body = json.dumps(message).encode()
    head = _LENGTH.pack(len(body))
    if files:
        sent = socket.send_fds(wire, [head, body], files)
        rest = (head + body)[sent:]
    else:
        rest = head + body
    if rest:
        wire.sendall(rest)


def receive(wire: socket.socket) -> tuple[Any, list[int]]:
    """The next message and its descriptors; ``None`` where the other side has gone. For a reader, which may wait.

    Raises:
        Garbled: it is none.
    """
    head, files, _flags, _from = socket.recv_fds(wire, _LENGTH.size, MOST_FILES + 4)
    if not head:
        return None, []
    for file in files:
        os.set_inheritable(file, False)
    while len(head) < _LENGTH.size:
        part = wire.recv(_LENGTH.size - len(head))
        if not part:
            return None, files
        head += part
    body = bytearray()
    size = measured(head)
    while len(body) < size:
        part = wire.recv(size - len(body))
        if not part:
            return None, files
        body += part
    return read(body), files


def measured(head: bytes | bytearray) -> int:
    """How long the message is that a head announces.

    Raises:
        Garbled: longer than any may be.
    """
    size: int = _LENGTH.unpack_from(head)[0]
    if size > MOST_SAID:
        raise Garbled(f"a message of {size} bytes")
    return size


def read(body: bytes | bytearray) -> Any:
    """A message from its bytes.

    Raises:
        Garbled: it is no JSON.
    """
    try:
        return json.loads(body)
    except (ValueError, RecursionError) as error:
        raise Garbled(str(error)) from None


class Inbox:
    """Gathers a message from pieces, as they come."""

    def __init__(self) -> None:
        self._held = bytearray()

    def add(self, part: bytes) -> None:
        """Another piece."""
        self._held += part

    def take(self) -> tuple[bool, Any]:
        """Whether a message is whole, and it.

        Raises:
            Garbled: it is none.
        """
        if len(self._held) < _LENGTH.size:
            return False, None
        end = _LENGTH.size + measured(self._held)
        if len(self._held) < end:
            return False, None
        body = bytes(self._held[_LENGTH.size : end])
        del self._held[:end]
        return True, read(body)
