"""What is open, written down as it changes, so that a crash loses nothing.

Every running application keeps one file in a folder of its own, beside no one's dockets. It is
written whole after each change and taken away when the application is closed. A file that is
left by a process which no longer runs is what was open when it was killed.
"""

from __future__ import annotations

import fcntl
import hashlib
import json
import os
from pathlib import Path

from pydantic_core import from_json

from aptandum.core import mistakes
from aptandum.core.atomic import write_atomic
from aptandum.core.docket.model import Docket
from aptandum.core.docket.opening import MOST_BYTES, checked
from aptandum.core.frozen import frozen
from aptandum.core.outside import read_whole

_MOST_RECENT = 8


folder = mistakes.state_folder


@frozen
class Left:
    """What a process that is gone had open.

    Attributes:
        path: the docket's own file, or ``None`` where it was never saved.
        on_disk: the SHA-256 of that file as it was last read or written; empty where unknown.
        fitting: the id of the fitting that lay on the bench; empty without one.
        file: the record itself.
    """

    docket: Docket
    path: Path | None
    fitting: str
    file: Path
    on_disk: str = ""


class CrashRecord:
    """Writes down what this process has open."""

    def __init__(self, where: Path | None = None) -> None:
        self.where = where or folder() / "open"
        self.file = self.where / f"{os.getpid()}-{os.urandom(4).hex()}.json"

    def keep(self, docket: Docket, path: Path | None, fitting: str = "", on_disk: str = "") -> None:
        """Write down a docket with unsaved changes.

        Raises:
            OSError: it could not be written.
        """
        self.where.mkdir(parents=True, exist_ok=True)
        record = {
            "pid": os.getpid(),
            "path": None if path is None else os.fspath(path.absolute()),
            "fitting": fitting,
            "on_disk": on_disk,
            "docket": docket.model_dump(mode="json"),
        }
        write_atomic(self.file, json.dumps(record, ensure_ascii=False))

    def forget(self) -> None:
        """Nothing is open, or all is saved."""
        self.file.unlink(missing_ok=True)


class OpenMark:
    """Says to the other windows of this person which docket this one has open: a lock on a small
    file, which the system lets go when the process ends, whatever ends it."""

    def __init__(self, where: Path | None = None) -> None:
        self.where = where or folder() / "marks"
        self._handle: int | None = None

    def enter(self, path: Path) -> bool:
        """The docket is open here; whether it is nowhere else."""
        self.leave()
        name = hashlib.sha256(os.fsencode(os.path.realpath(path))).hexdigest()[:24]
        try:
            self.where.mkdir(parents=True, exist_ok=True)
            handle = os.open(self.where / name, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
        except OSError:
            return True  # where no mark can be left, none can be seen
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            os.close(handle)
            return False
        self._handle = handle
        return True

    def leave(self) -> None:
        """It is not open here any more."""
        if self._handle is not None:
            os.close(self._handle)
            self._handle = None


def _runs(pid: int) -> bool:
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return False
    except (PermissionError, OverflowError):
        return True
    return True


def left_behind(where: Path | None = None) -> tuple[Left, ...]:
    """What processes that are gone had open, the newest first. Records that cannot be read are
    passed over, and stay where they are."""
    found = []
    for file in (where or folder() / "open").glob("*.json"):
        try:
            record = from_json(read_whole(file, MOST_BYTES))
            pid = int(record["pid"])
            if _runs(pid):
                continue
            docket = checked(record["docket"]).docket
            path = record["path"]
            left = Left(
                docket,
                Path(path) if path else None,
                str(record["fitting"]),
                file,
                str(record.get("on_disk", "")),
            )
            found.append((file.stat().st_mtime, left))
        except (OSError, ValueError, KeyError, TypeError, AttributeError, RecursionError):
            continue
    return tuple(left for _when, left in sorted(found, key=lambda pair: -pair[0]))


def set_aside(file: Path) -> Path:
    """Put a record away that could not be opened: it is kept, and no start meets it again; where it lies.

    Raises:
        OSError: it could not be moved.
    """
    where = file.parent.parent / "set-aside"
    where.mkdir(parents=True, exist_ok=True)
    target = where / file.name
    os.replace(file, target)
    return target


def tried(file: Path) -> Path:
    """Mark a record as being opened; should that end the application, the next start passes it over.

    Raises:
        OSError: it could not be marked.
    """
    target = file.with_suffix(_TRIED)
    os.replace(file, target)
    return target


def tried_before(where: Path | None = None) -> tuple[Path, ...]:
    """The records that were being opened when the application was last ended."""
    found = []
    for file in (where or folder() / "open").glob(f"*{_TRIED}"):
        pid = file.name.partition("-")[0]
        if not (pid.isdecimal() and _runs(int(pid))):
            found.append(file)
    return tuple(found)


_TRIED = ".tried"


def keys_open(where: Path | None = None) -> frozenset[str]:
    """The keys of the dockets that stand in any record, of running processes too."""
    found = set()
    for file in (where or folder() / "open").glob("*.json"):
        try:
            record = from_json(read_whole(file, MOST_BYTES))
            found.add(str(record["docket"].get("key", "")))
        except (OSError, ValueError, KeyError, TypeError, AttributeError, RecursionError):
            continue
    return frozenset(found - {""})


def recent() -> tuple[Path, ...]:
    """The dockets opened or saved last that are still there, the newest first."""
    try:
        paths = json.loads((folder() / "recent.json").read_text("utf-8"))
        return tuple(Path(p) for p in paths if isinstance(p, str) and os.path.isfile(p))
    except (OSError, ValueError, TypeError):
        return ()


def remember(path: Path) -> None:
    """Put a docket at the head of the recent ones; a folder that cannot be written is no harm."""
    full = path.absolute()
    every = [full, *(p for p in recent() if p != full)][:_MOST_RECENT]
    try:
        folder().mkdir(parents=True, exist_ok=True)
        write_atomic(folder() / "recent.json", json.dumps([os.fspath(p) for p in every]))
    except (OSError, UnicodeError):
        return
