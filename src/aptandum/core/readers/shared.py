"""Memory that the application and a reader share: sealed, so that neither can be surprised by its size.

A file in memory that a stranger could shrink would end whoever looks into it (SIGBUS): it is sealed against
shrinking and growing before it is handed over. Fresh memory costs a page fault for every four kilobytes on both
sides, so what a picture has left is kept for the next one, for some seconds.
"""

from __future__ import annotations

import errno
import fcntl
import mmap
import os
import threading
import weakref
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from numpy.typing import NDArray

_KEPT_BYTES = 256 << 20
_KEPT_SECONDS = 8.0
_STEP = 1 << 20
_SEALS = fcntl.F_SEAL_SHRINK | fcntl.F_SEAL_GROW | fcntl.F_SEAL_SEAL


def _make_room(handle: int, size: int) -> None:
    try:
        os.ftruncate(handle, size)
    except OverflowError:  # more than a file may have
        raise OSError(errno.ENOMEM, os.strerror(errno.ENOMEM)) from None


def sealed(size: int, name: str) -> int:
    """A descriptor of fresh memory of so many bytes that nobody can change the size of.

    Raises:
        OSError: there is no such memory.
    """
    handle = os.memfd_create(name, os.MFD_CLOEXEC | os.MFD_ALLOW_SEALING)
    try:
        _make_room(handle, size)
        fcntl.fcntl(handle, fcntl.F_ADD_SEALS, _SEALS)
    except BaseException:
        os.close(handle)
        raise
    return handle


def in_memory(data: bytes) -> int:
    """A descriptor of memory that holds these bytes, which nobody can change any more; whoever asked closes it.

    Raises:
        OSError: there is no such memory.
    """
    handle = os.memfd_create("bytes", os.MFD_CLOEXEC | os.MFD_ALLOW_SEALING)
    try:
        view, at = memoryview(data), 0
        while at < len(view):
            at += os.write(handle, view[at : at + (64 << 20)])
        fcntl.fcntl(handle, fcntl.F_ADD_SEALS, _SEALS | fcntl.F_SEAL_WRITE)
    except BaseException:
        os.close(handle)
        raise
    return handle


class Room:
    """Memory for one picture.

    Attributes:
        handle: its descriptor.
        size: in bytes.
        doubtful: nobody knows who still writes in it: it is not used again.
    """

    def __init__(self, size: int) -> None:
        self.size = size
        self.handle = sealed(size, "pixels")
        self.doubtful = False
        self._leases = 0
        self._lock = threading.RLock()  # a lease may end within any other line of the same thread
        self._map = mmap.mmap(self.handle, size)
        self._gone = weakref.finalize(self, os.close, self.handle)

    def array(self, shape: tuple[int, ...], kind: Any) -> NDArray[Any]:
        """What lies at its beginning, without a copy. While that, or any view of it, is held, the room is in use.

        Raises:
            ValueError: it is more than there is.
        """
        import ctypes

        import numpy as np  # who only asks for facts needs neither

        if (
            min(shape) < 0
            or int(np.prod(shape, dtype=object)) * np.dtype(kind).itemsize > self.size
        ):
            raise ValueError("more than the room holds")
        # An array over a map has no owner whose end can be seen while views of it live; one over this has.
        lease = (ctypes.c_uint8 * self.size).from_buffer(self._map)
        with self._lock:
            self._leases += 1
        weakref.finalize(lease, self._left).atexit = False
        flat: NDArray[Any] = np.frombuffer(memoryview(lease), kind, int(np.prod(shape)))
        return flat.reshape(shape)

    @property
    def in_use(self) -> bool:
        """Whether somebody looks into it."""
        return self._leases > 0

    def _left(self) -> None:
        with self._lock:
            self._leases -= 1
            free = not self._leases
        if free:
            _rooms.back(self)


class _Rooms:
    """Rooms that nobody is in."""

    def __init__(self) -> None:
        self._lock = threading.RLock()
        self._free: list[Room] = []
        self._timer: threading.Timer | None = None

    def get(self, size: int) -> Room:
        """A room of at least so many bytes.

        Raises:
            OSError: there is no memory for it.
        """
        size = -(-max(size, 1) // _STEP) * _STEP
        with self._lock:
            fit = [room for room in self._free if size <= room.size <= 2 * size + _STEP]
            if fit:
                best = min(fit, key=lambda room: room.size)
                self._free.remove(best)
                return best
        return Room(size)

    def back(self, room: Room) -> None:
        """A room that is not needed any more, if nobody is in it."""
        if room.size > _KEPT_BYTES or room.doubtful or room.in_use:
            return
        with self._lock:
            self._free.append(room)
            while sum(one.size for one in self._free) > _KEPT_BYTES:
                self._free.pop(0)
            if self._timer is None:
                self._timer = threading.Timer(_KEPT_SECONDS, self.clear)
                self._timer.daemon = True
                self._timer.start()

    def clear(self) -> None:
        """Give the memory of free rooms back."""
        with self._lock:
            gone, self._free = self._free, []
            self._timer = None
        del gone


_rooms = _Rooms()


def room_for(size: int) -> Room:
    """See :meth:`_Rooms.get`."""
    return _rooms.get(size)


def give_back(room: Room) -> None:
    """A room of which nothing came; whoever looks into it keeps it for so long."""
    _rooms.back(room)


def clear() -> None:
    """Give the memory of free rooms back at once."""
    _rooms.clear()
