"""A service: work that goes on for as long as the application is open."""

from __future__ import annotations

import threading
from collections.abc import Callable

from aptandum.core import mistakes

_STARTS = 5
"""How often a service is begun anew before it is given up."""


class Service:
    """A thread that does the same work on and on; a mistake in it is told and logged, and it is begun
    anew.

    Args:
        name: for the log and for whoever looks at the threads.
        work: returns once there is nothing left to do or it has been told to stop.
        tell: has a sentence read; called in the service's own thread.
    """

    def __init__(self, name: str, work: Callable[[], None], tell: Callable[[str], None]) -> None:
        self.name, self._work, self._tell = name, work, tell
        self._thread: threading.Thread | None = None

    @property
    def runs(self) -> bool:
        return self._thread is not None and self._thread.is_alive()

    def start(self) -> None:
        """Begin to serve, where that is not done already."""
        if not self.runs:
            self._thread = threading.Thread(target=self._run, name=self.name, daemon=True)
            self._thread.start()

    def join(self, seconds: float = 5.0) -> bool:
        """Wait until it has ended; whether it has."""
        if self._thread is not None:
            self._thread.join(seconds)
        return not self.runs

    def _run(self) -> None:
        for _ in range(_STARTS):
            try:
                self._work()
                return
            except Exception as error:
                self._tell(mistakes.sentence(error, self.name))
