"""Many fittings at once: each conformed, proved and written by itself, by any executor."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable, Iterator, Sequence
from concurrent.futures import Executor, Future
from dataclasses import field, replace
from pathlib import Path
from queue import SimpleQueue
from typing import Any, TypeVar

from aptandum.core import mistakes
from aptandum.core.brief.model import Brief
from aptandum.core.conform import Proof, as_it_came, conform, reading_of
from aptandum.core.docket.model import Fitting, PhotoEntry
from aptandum.core.docket.standings import Cell, cell_of, said_of
from aptandum.core.errors import AptandumError
from aptandum.core.file.write import write
from aptandum.core.fitting.detection import asks_for_people, framed_by_marks, people_in
from aptandum.core.fitting.settings import Settings
from aptandum.core.frozen import frozen
from aptandum.core.judge.reading import inside_of
from aptandum.core.judge.sets import as_first
from aptandum.core.mending import Fitted, solved
from aptandum.core.photo.decode import Photo, open_photo
from aptandum.core.photo.facts import Facts, shown_name
from aptandum.core.photo.marks import People
from aptandum.core.photo.people import Face
from aptandum.core.photo.sound import asked
from aptandum.core.words import say

_AHEAD = 2
"""How many jobs for each worker are handed out before the first comes back: few, so that memory
stays flat whatever their number."""


@frozen
class Job:
    """One fitting to be made. Holds nothing that cannot be sent to another process.

    Attributes:
        folder: where the file goes; empty: it is proved, and nothing is written.
    """

    fitting: Fitting
    entry: PhotoEntry
    brief: Brief
    folder: str = ""


@frozen
class Outcome:
    """What came of one job.

    Attributes:
        cell: how the finished bytes stand; ``None`` where none could be made.
        settings: those that it was made with, every mend applied.
        written: the path of the file; empty where none was written.
        size: of the file in bytes.
        trouble: a sentence naming file and cause, where it could not be made or written.
    """

    fitting: str
    cell: Cell | None = None
    settings: Settings = field(default_factory=Settings)
    written: str = ""
    size: int = 0
    ready: bool = False
    trouble: str = ""


def photo_of(entry: PhotoEntry) -> Photo:
    """A photo of a docket as it lies there, turned by hand where it was.

    Raises:
        PhotoError: the file cannot be used.
    """
    photo = open_photo(entry.path)
    return Photo(photo.path, photo.facts.turned_by(entry.turn)) if entry.turn != 1 else photo


Found = tuple[tuple[Face, ...], Any, bool]
"""The faces of a photo, its subject where it has none, and whether somebody seems to be there all the same."""


@frozen
class Judged:
    """What came of judging one photo's fittings by its header.

    Attributes:
        facts: without the profile's bytes; ``None`` where there is no such file.
        faces: where people have been looked for.
    """

    cells: tuple[Cell, ...]
    facts: Facts | None = None
    faces: Found | None = None


def judge_rows(
    rows: Sequence[tuple[PhotoEntry, Sequence[tuple[Fitting, int]], Found | None]],
    briefs: Sequence[Brief],
    deep: bool = False,
) -> list[Judged]:
    """Judge the fittings of some photos, for a worker process; trouble is told in the cells.

    Args:
        rows: photo, its fittings each with the place of its brief in ``briefs``, and who was
            found in it, where that is known.
        deep: look for people where a brief asks for them.
    """
    return [_judge_row(entry, fittings, known, briefs, deep) for entry, fittings, known in rows]


def _judge_row(
    entry: PhotoEntry,
    fittings: Sequence[tuple[Fitting, int]],
    known: Found | None,
    briefs: Sequence[Brief],
    deep: bool,
) -> Judged:
    try:
        photo = photo_of(entry)
        asked = [asks_for_people(briefs[i]) for _, i in fittings]
        if known is None and deep and any(asked):
            found = people_in(photo)
            known = found.faces, found.subject, found.hidden
        people = None if known is None else People(known[0], entry.marks, known[1], known[2])
        cells = [
            replace(
                cell_of(photo.facts, briefs[i], fitting, people if asks else None),
                looked=not asks or people is not None,
            )
            for (fitting, i), asks in zip(fittings, asked, strict=True)
        ]
        return Judged(tuple(cells), replace(photo.facts, icc_bytes=b""), known)
    except (AptandumError, OSError) as error:
        return judged_lost(fittings, str(error))


def judged_lost(fittings: Sequence[tuple[Fitting, int]], why: str) -> Judged:
    """The fittings of a photo that could not be judged, with a sentence that says why."""
    return Judged(tuple(Cell(fitting.id, "lost", 1, trouble=why) for fitting, _ in fittings))


def mended(photo: Photo, brief: Brief, settings: Settings, people: People | None) -> Settings:
    """The settings with every mend that can be computed, as conforming by hand applies them."""
    return solved(Fitted(photo.facts, brief, settings, people, see_supplied=inside_of(photo)))


def prove_one(
    fitting: Fitting,
    entry: PhotoEntry,
    brief: Brief,
    cancelled: Callable[[], bool] | None = None,
) -> tuple[Photo, Settings, Proof]:
    """A fitting's file, made and proved in memory, with the settings that made it.

    Raises:
        PhotoError, Cancelled: as :func:`aptandum.core.conform.conform`.
    """
    photo = photo_of(entry)
    people = None
    settings = fitting.settings
    with asked(photo, settings.source.damaged):
        if asks_for_people(brief) or entry.marks != type(entry.marks)():
            people = people_in(photo, entry.marks, cancelled)
        untouched = as_it_came(photo, brief, settings, fitting.confirmed(), people)
        if untouched is not None:
            return photo, settings, untouched
        if people is not None and settings.frame.window is None:
            settings = framed_by_marks(photo, brief, settings, people)
        settings = mended(photo, brief, settings, people)
        proof = conform(photo, brief, settings, fitting.confirmed(), cancelled, people, mends=False)
    if proof.resized is not None:
        settings = settings.having({"frame.output": proof.resized})
    return photo, settings, proof


def make_one(job: Job) -> Outcome:
    """Make, prove and write one fitting's file; trouble is told, not raised."""
    try:
        _photo, settings, proof = prove_one(job.fitting, job.entry, job.brief)
        window, (wide, high) = proof.line.frame.window, proof.line.source.shown
        frame = (window.left / wide, window.top / high, window.width / wide, window.height / high)
        cell = said_of(job.fitting.id, proof.findings, frame, proof.line.frame.output, proved=True)
        first = as_first(reading_of(proof), job.brief, job.fitting.confirmed())
        cell = replace(cell, bytes=len(proof.made.data), as_first=first)
        written = ""
        if job.folder:
            target = Path(job.folder) / proof.suggested
            path = write(proof.made.data, target, [job.entry.path], counted=proof.line.file.counted)
            written = os.fspath(path)
    except (AptandumError, OSError) as error:
        return Outcome(job.fitting.id, trouble=str(error))
    except MemoryError:
        name = shown_name(job.entry.path)
        said = say("{file} needs more memory than there is.", file=name)
        return Outcome(job.fitting.id, trouble=said)
    return Outcome(job.fitting.id, cell, settings, written, len(proof.made.data), proof.ready)


def outcome_lost(job: Job, error: BaseException) -> Outcome:
    """The outcome of a job whose worker died, or that failed by a mistake, which is logged."""
    return Outcome(job.fitting.id, trouble=lost_said(job.entry.path, error))


def lost_said(path: str, error: BaseException) -> str:
    """A sentence that names a file whose work was lost, and why; a mistake is logged."""
    name = shown_name(path)
    return say("{file}: {why}", file=name, why=mistakes.sentence(error, name))


J = TypeVar("J")
R = TypeVar("R")


def run(
    jobs: Iterable[J],
    executor: Executor,
    workers: int,
    cancelled: Callable[[], bool] | None,
    make: Callable[[J], R],
    lost: Callable[[J, BaseException], R] | None = None,
) -> Iterator[R]:
    """What comes of each job, as it comes; by one worker in their order. Only a few jobs for each worker are out at a time.

    Args:
        executor: any of ``concurrent.futures``; its workers call ``make``, which must be a
            function of a module where they are processes.
        cancelled: asked between two outcomes; once it says so no more jobs are handed out, those that nobody has begun
            are taken back, and the others are waited for, so that no file is left half made.
        lost: what stands for a job that raised, or whose worker died; left out: it is raised.
    """
    waiting = iter(jobs)
    out: dict[Future[R], tuple[int, J]] = {}
    back: SimpleQueue[Future[R]] = SimpleQueue()  # those that are done, as they come
    given, more, stopped = 0, True, False
    while True:
        if not stopped and cancelled is not None and cancelled():
            stopped, more = True, False
            for one in [one for one in out if one.cancel()]:
                del out[one]
        while more and len(out) < _AHEAD * workers:
            if cancelled is not None and cancelled():
                break
            job = next(waiting, None)
            if job is None:
                more = False
                break
            future = executor.submit(make, job)
            out[future] = given, job
            future.add_done_callback(back.put)
            given += 1
        if not out:
            return
        done = {back.get()}
        while not back.empty():
            done.add(back.get())
        # Those that are done together come in the order in which they were handed out.
        for one in sorted(done & out.keys(), key=lambda future: out[future][0]):
            _number, job = out.pop(one)
            error = one.exception()
            if error is None:
                yield one.result()
            elif lost is None:
                raise error
            else:
                yield lost(job, error)
