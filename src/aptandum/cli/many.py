"""Many files on the command line: named, in folders or by patterns, by several workers, resumed."""

from __future__ import annotations

import hashlib
import json
import os
from collections import Counter
from collections.abc import Iterator, Sequence
from concurrent.futures import Executor
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from typing import Any

from platformdirs import user_state_path

from aptandum.cli.fleet import Carried
from aptandum.core import threads
from aptandum.core.atomic import clear, of_run
from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.conform import conform, named
from aptandum.core.docket import batch
from aptandum.core.docket.audit import check_file
from aptandum.core.errors import AptandumError
from aptandum.core.file.write import write
from aptandum.core.fitting.detection import asks_for_people, people_in
from aptandum.core.fitting.settings import Settings
from aptandum.core.frozen import frozen
from aptandum.core.judge.measures import filename
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.facts import shown_name
from aptandum.core.photo.marks import NO_HAND, HandMarks, People
from aptandum.core.report import Entry, entry_of, renamed
from aptandum.core.words import say
from aptandum.core.workers import Workers


@frozen
class Task:
    """One file to be conformed, for any worker.

    Attributes:
        claims: a folder in which every result of this run marks its name as taken, where files that are
            there may be replaced or be taken for one's own; empty: a name that is taken is never used.
        run: what the hidden files of this run are known by; empty: nothing.
    """

    file: str
    name: str
    book: Rulebook
    brief: Brief
    settings: Settings
    folder: str
    hand: HandMarks = NO_HAND
    replace: bool = False
    supplied: tuple[str, ...] = ()
    report: bool = False
    resume: bool = False
    claims: str = ""
    run: str = ""


@frozen
class Done:
    """What came of it: the record that is printed, and what a report says of it; ``counted``: its name, where that has a
    number."""

    task: Task
    record: dict[str, Any]
    findings: Any = None
    notes: tuple[str, ...] = ()
    acts: tuple[str, ...] = ()
    summary: str = ""
    entry: Entry | None = None
    counted: str = ""


def conform_one(task: Task) -> Done:
    """Make, prove and write one file; trouble is told in the record."""
    try:
        photo = open_photo(task.file)
        people = None
        if task.hand != NO_HAND:
            asked = asks_for_people(task.brief)
            people = people_in(photo, task.hand) if asked else People((), task.hand)
        proof = conform(photo, task.brief, task.settings, people=people)
        path = _placed(task, proof.made.data, proof.suggested, proof.line.file.counted)
        proof = named(proof, task.brief, path.name)
        entry = entry_of(photo, task.book, task.brief, proof) if task.report else None
    except (AptandumError, OSError) as error:
        return _unmade(task, str(error))
    except MemoryError:
        name = shown_name(task.file)
        return _unmade(task, say("{file} needs more memory than there is.", file=name))
    figures = proof.figures()
    record = {
        "file": task.file,
        "brief": task.name,
        "written": str(path),
        "line": figures,
        "ready": proof.ready,
        "findings": [finding.contract() for finding in proof.findings.findings],
        "error": None,
    }
    acts = tuple(act.says for act in proof.record)
    notes: tuple[str, ...] = tuple(figures["notes"])  # type: ignore[arg-type]
    counted = proof.line.file.counted
    return Done(task, record, proof.findings, notes, acts, proof.summary, entry, counted)


def _placed(task: Task, data: bytes, name: str, counted: str) -> Path:
    """Write a result, unless it lies there already and may be taken for one's own; its path.

    Raises:
        WriteError: it cannot be written.
    """
    target = Path(task.folder) / name
    claims = Path(task.claims) if task.claims else None
    if claims is not None and task.replace:
        target = _claimed(target, claims, task.file)
    held = task.resume and _holds(target, data)
    if held and (task.replace or claims is None or claim(target, claims, task.file)):
        return target  # written just before a crash, and not written down
    supplied = [*task.supplied, task.file]
    with of_run(task.run):
        path = write(data, target, supplied, replace=task.replace, counted=counted)
    if claims is not None:
        claim(path, claims, task.file)
    return path


def clear_up(tasks: Sequence[Task]) -> None:
    """Delete what workers that were killed on the way have left half written among the results of a run that is done."""
    for folder, run in {(task.folder, task.run) for task in tasks if task.run}:
        clear(folder, run)


def placed_here(task: Task, done: Done, data: bytes | None) -> Done:
    """A file that was made on another machine, written here; trouble is told in the record."""
    record = done.record | {"file": task.file}
    if data is None or record["written"] is None:
        return replace(done, task=task, record=record | {"written": None})
    try:
        path = _placed(task, data, os.path.basename(record["written"]), done.counted)
    except (AptandumError, OSError) as error:
        return _unmade(task, str(error))
    done = replace(done, task=task, record=record | {"written": str(path)})
    return done if path.name == os.path.basename(record["written"]) else _renamed(done, path)


_OF_NAMES = frozenset(measure.name for measure in filename.MEASURES)


def _renamed(done: Done, path: Path) -> Done:
    """The same for a file whose name was taken here: what is asked of names is judged anew, by the file as it lies here."""
    seen = check_file(str(path), done.task.brief, quick=True, mends=False).findings
    named = {f.clause.id: f for f in seen.findings if f.clause.measure in _OF_NAMES}
    told = tuple(named.get(f.clause.id, f) for f in done.findings.findings)
    findings = replace(done.findings, findings=told)
    record = done.record | {
        "ready": findings.ready,
        "findings": [finding.contract() for finding in told],
    }
    entry = renamed(done.entry, path.name, findings) if done.entry is not None else None
    return replace(done, record=record, findings=findings, entry=entry)


def claim(path: str | os.PathLike[str], claims: Path, mine: str = "") -> bool:
    """Mark a name as that of a result of this run; whether no other photo's result has it. Two workers never get the
    same: each leaves a file of the name's hash, which says whose it is.

    Args:
        mine: the photo that the result is of: done again after its worker was lost, it has its name already.
    """
    mark = claims / hashlib.sha256(os.fsencode(os.path.abspath(path))).hexdigest()
    try:
        with os.fdopen(os.open(mark, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600), "wb") as stream:
            stream.write(os.fsencode(mine))
    except FileExistsError:
        return bool(mine) and mark.read_bytes() == os.fsencode(mine)
    return True


def _claimed(target: Path, claims: Path, mine: str) -> Path:
    """The first name, with a number where it needs one, that no other result of this run has, whatever lies
    there from before."""
    tried, n = target, 2
    while not claim(tried, claims, mine):
        tried = target.with_name(f"{target.stem}-{n}{target.suffix}")
        n += 1
    return tried


def moved(task: Task, file: str, folder: str) -> Task:
    """A task for its photo at another path, with a folder of its own for the result."""
    return replace(task, file=file, folder=folder, supplied=(), claims="", replace=False, resume=False)  # fmt: skip


def _absolute(task: Task) -> Task:
    """The same for workers that stand in other folders. A file whose worker was lost is done again, and finds what that one
    may have written."""
    file, folder = os.path.abspath(task.file), os.path.abspath(task.folder)
    claims = os.path.abspath(task.claims) if task.claims else ""
    return replace(task, file=file, folder=folder, claims=claims, resume=True)


CARRIED = Carried(lambda task: task.file, _absolute, moved, placed_here)
"""How a task goes to a cluster and comes back."""


def done_lost(task: Task, error: BaseException) -> Done:
    """The record of a file whose worker died, or that failed by a mistake, which is logged."""
    return _unmade(task, batch.lost_said(task.file, error))


def _unmade(task: Task, why: str) -> Done:
    return Done(
        task,
        {
            "file": task.file,
            "brief": task.name,
            "written": None,
            "line": None,
            "ready": False,
            "findings": [],
            "error": why,
        },
    )


def _holds(path: Path, data: bytes) -> bool:
    """Whether a file of these very bytes is there."""
    try:
        return path.stat().st_size == len(data) and path.read_bytes() == data
    except OSError:
        return False


_MANY = 24
"""Files from which on as many workers as there are cores are worth starting."""


def workers_for(files: int, asked: int) -> int:
    """How many workers a batch has: as many as are asked for; where none are named (0), one for
    each core if there is much to do, and else 0: this very process, with all cores."""
    if asked or files < _MANY:
        return asked
    return min(os.cpu_count() or 1, 16)


@contextmanager
def executor_of(workers: int) -> Iterator[Executor]:
    """An executor of so many workers, each on one core; 0 is this very process as it is."""
    if workers == 0:
        yield threads.Here()
    elif workers == 1:
        with threads.on_one_core():
            yield threads.Here()
    else:
        with Workers(workers, threads.one_core) as pool:
            yield pool


class Ledger:
    """What was done in a folder, one line for each file, so that a batch can be resumed. A line
    that a crash has cut short counts as none."""

    def __init__(
        self, folder: str, brief: str, settings: Settings, rules: str, hand: HandMarks = NO_HAND
    ) -> None:
        where = hashlib.sha256(os.fsencode(os.path.abspath(folder))).hexdigest()[:24]
        root = user_state_path("aptandum", appauthor=False) / "batches"
        self.path = root / f"{where}.jsonl"
        told = [brief, rules, settings.model_dump(mode="json")]
        if hand != NO_HAND:
            told.append(hand.model_dump(mode="json"))
        asked = json.dumps(told, sort_keys=True)
        self.key = hashlib.sha256(asked.encode()).hexdigest()
        self.done: dict[tuple[str, str], dict[str, Any]] = {}

    def read(self) -> None:
        """Read what an earlier batch of the same kind noted as done."""
        try:
            lines = self.path.read_text("utf-8", "replace").splitlines()
        except OSError:
            return
        for line in lines:
            try:
                held = json.loads(line)
                self.done[held["file"], held["key"]] = held
            except (ValueError, KeyError, TypeError):
                continue

    @staticmethod
    def _stamp(file: str) -> list[int]:
        state = os.stat(file)
        return [state.st_size, state.st_mtime_ns]

    def skips(self, file: str) -> dict[str, Any] | None:
        """The record of a file that is done and unchanged, as is what was made of it."""
        held = self.done.get((os.path.abspath(file), self.key))
        if held is None:
            return None
        try:
            if held["stamp"] != self._stamp(file):
                return None
            data = Path(held["record"]["written"]).read_bytes()
            same = hashlib.sha256(data).hexdigest() == held["sha256"]
        except (OSError, KeyError, TypeError):
            return None
        return dict(held["record"]) if same else None

    def add(self, done: Done) -> None:
        """Write down one file that was made, whole and to the disk."""
        if done.record["written"] is None:
            return
        file = done.task.file
        try:
            data = Path(done.record["written"]).read_bytes()
            held = {
                "file": os.path.abspath(file),
                "key": self.key,
                "stamp": self._stamp(file),
                "sha256": hashlib.sha256(data).hexdigest(),
                "record": done.record,
            }
            self.path.parent.mkdir(parents=True, exist_ok=True)
            with open(self.path, "ab") as stream:
                stream.write((json.dumps(held) + "\n").encode("utf-8", "backslashreplace"))
                stream.flush()
                os.fsync(stream.fileno())
        except OSError:
            return  # resuming is a help; the file itself has been made


class Tally:
    """What is said of all files in the end, counted as they are done: of ten thousand no record is held.

    Attributes:
        made, ready, failed: how many there were, met every rule that can be measured, could not be read or written.
    """

    def __init__(self) -> None:
        self.made = self.ready = self.failed = 0
        self._reasons: Counter[str] = Counter()

    def add(self, record: dict[str, Any]) -> None:
        """Count one more."""
        self.made += 1
        self.ready += bool(record["ready"])
        if record["error"]:
            self.failed += 1
            self._reasons[say("could not be read or written")] += 1
        for finding in record["findings"]:
            if finding["verdict"] == "misses":
                self._reasons[finding["measure"] or finding["clause"]] += 1

    def reasons(self) -> list[tuple[str, int]]:
        """Why files are not ready, and how many for each reason, the most frequent first."""
        return self._reasons.most_common()
