"""Which files of a folder have arrived whole: those that nobody has written to for some time."""

from __future__ import annotations

import os
from collections.abc import Iterator, Set

from aptandum.core.docket.found import ENDINGS
from aptandum.core.frozen import frozen

Stamp = tuple[int, int, int]
"""Size, time of the last change in nanoseconds, and inode of a file: another stamp is another content, perhaps."""


@frozen
class Arrived:
    """A file that has been as it is for some time.

    Attributes:
        still: for how many seconds nobody has written to it, as far as it was watched.
    """

    file: str
    stamp: Stamp
    still: float


def stamp_of(file: str) -> Stamp | None:
    """A file's stamp; ``None``: there is no such file."""
    try:
        state = os.stat(file)
    except OSError:
        return None
    return state.st_size, state.st_mtime_ns, state.st_ino


class Arrivals:
    """Looks through a folder again and again.

    Args:
        folder: it and the folders inside it; hidden ones and what begins with a dot are not looked at.
        besides: folders that are left out, such as the one for results.
    """

    def __init__(self, folder: str, besides: tuple[str, ...] = ()) -> None:
        self.folder = os.path.abspath(folder)
        self._besides = {os.path.realpath(one) for one in besides}
        self._since: dict[str, tuple[Stamp, float]] = {}

    @property
    def there(self) -> Set[str]:
        """The files that were there at the last look."""
        return self._since.keys()

    def look(self, now: float) -> list[Arrived]:
        """Every photo that is there, by name, with how long it has been as it is.

        Args:
            now: seconds of a clock that never goes back.

        Raises:
            OSError: the folder itself cannot be read.
        """
        seen: dict[str, tuple[Stamp, float]] = {}
        found = []
        for file, stamp in self._photos():
            before = self._since.get(file)
            since = before[1] if before is not None and before[0] == stamp else now
            seen[file] = stamp, since
            found.append(Arrived(file, stamp, now - since))
        self._since = seen
        return found

    def _photos(self) -> Iterator[tuple[str, Stamp]]:
        def fail(error: OSError) -> None:
            if error.filename == self.folder:
                raise error

        for where, inside, files in os.walk(self.folder, onerror=fail):
            inside[:] = sorted(
                one
                for one in inside
                if not one.startswith(".")
                and os.path.realpath(os.path.join(where, one)) not in self._besides
            )
            for name in sorted(files):
                if name.startswith(".") or os.path.splitext(name)[1].lower() not in ENDINGS:
                    continue
                file = os.path.join(where, name)
                stamp = stamp_of(file)
                if stamp is not None and stamp[0] > 0:
                    yield file, stamp
