"""A connection that ends in time: no answer takes longer, or is longer, than it may, however slowly it drips.

A time limit for each read is none for the whole: one byte a second never meets it. Here every call has an end, and
every read and write is asked for no longer than is left until then.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Iterable
from typing import Any

import httpcore
import httpx

_SLICE = 0.5
"""Seconds after which a call that waits looks whether it is still wanted."""


class Ends(threading.local):
    """When the call of this thread is over (monotonic seconds)."""

    at: float = float("inf")


class _Stream(httpcore.NetworkStream):
    def __init__(self, held: httpcore.NetworkStream, ends: Ends, stop: threading.Event) -> None:
        self._held, self._ends, self._stop = held, ends, stop

    def _left(self, timeout: float | None, error: type[Exception]) -> float:
        left = self._ends.at - time.monotonic()
        if left <= 0 or self._stop.is_set():
            raise error("no time is left")
        return left if timeout is None else min(left, timeout)

    def read(self, max_bytes: int, timeout: float | None = None) -> bytes:
        until = time.monotonic() + self._left(timeout, httpcore.ReadTimeout)
        while True:
            wait = min(_SLICE, max(0.0, until - time.monotonic()))
            try:
                return self._held.read(max_bytes, wait)
            except httpcore.ReadTimeout:
                self._left(None, httpcore.ReadTimeout)
                if time.monotonic() >= until:
                    raise

    def write(self, buffer: bytes, timeout: float | None = None) -> None:
        self._held.write(buffer, self._left(timeout, httpcore.WriteTimeout))

    def close(self) -> None:
        self._held.close()

    def start_tls(self, *given: Any, **named: Any) -> httpcore.NetworkStream:
        return _Stream(self._held.start_tls(*given, **named), self._ends, self._stop)

    def get_extra_info(self, info: str) -> Any:
        return self._held.get_extra_info(info)


class _Backend(httpcore.NetworkBackend):
    def __init__(self, ends: Ends, stop: threading.Event) -> None:
        self._held, self._ends, self._stop = httpcore.SyncBackend(), ends, stop

    def connect_tcp(
        self,
        host: str,
        port: int,
        timeout: float | None = None,
        local_address: str | None = None,
        socket_options: Iterable[Any] | None = None,
    ) -> httpcore.NetworkStream:
        left = self._ends.at - time.monotonic()
        wait = left if timeout is None else min(left, timeout)
        if wait <= 0 or self._stop.is_set():
            raise httpcore.ConnectTimeout("no time is left")
        held = self._held.connect_tcp(host, port, wait, local_address, socket_options)
        return _Stream(held, self._ends, self._stop)

    def connect_unix_socket(self, *given: Any, **named: Any) -> httpcore.NetworkStream:
        raise httpcore.ConnectError("a desk is spoken to over the network")

    def sleep(self, seconds: float) -> None:
        time.sleep(seconds)


class Timely(httpx.HTTPTransport):
    """A transport whose calls end when :attr:`ends` of their thread says so, and at once when it is stopped."""

    def __init__(self) -> None:
        super().__init__(trust_env=False)
        self.ends = Ends()
        self.stopped = threading.Event()
        # A limit of its own to the connections that are kept: a rogue desk holds none of another's.
        self._pool = httpcore.ConnectionPool(
            max_connections=8, network_backend=_Backend(self.ends, self.stopped)
        )
