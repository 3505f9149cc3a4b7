"""The conformity report of a docket: every fitting conformed, proved, and gathered."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from aptandum.core.conform import Proof, conform
from aptandum.core.docket.model import Docket, Fitting
from aptandum.core.fitting.line import live_reading, resolve
from aptandum.core.fitting.people import asks_for_people, framed_by_marks, people_in
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge.findings import judge
from aptandum.core.photo.decode import Photo, open_photo
from aptandum.core.photo.facts import PhotoError, shown_name
from aptandum.core.photo.marks import People
from aptandum.core.report import Entry, entry_of
from aptandum.core.rulebook.model import Brief, Rulebook
from aptandum.core.words import say

Find = Callable[[str], tuple[Rulebook, Brief]]


@dataclass(frozen=True)
class Gathered:
    """The entries, and a sentence for each fitting that could not be made."""

    entries: tuple[Entry, ...]
    left_out: tuple[str, ...]


def photo_of(docket: Docket, photo_id: str) -> Photo:
    """A photo of the docket as it lies there, turned by hand where it was.

    Raises:
        PhotoError: the file cannot be used.
    """
    entry = docket.photo(photo_id)
    photo = open_photo(entry.path)
    return Photo(photo.path, photo.facts.turned_by(entry.turn)) if entry.turn != 1 else photo


def mended(photo: Photo, brief: Brief, settings: Settings, people: People | None) -> Settings:
    """The settings with every mend that can be computed, as conforming by hand applies them."""
    see = None if people is None else (lambda: people)
    for _round in range(2):  # a frame is laid anew once the photo has been straightened
        line = resolve(photo.facts, brief, settings)
        findings = judge(live_reading(photo.facts, line, see_people=see), brief)
        changes: dict[str, object] = {}
        for finding in findings.findings:
            if finding.mend is not None and finding.mend.changes:
                changes.update(finding.mend.changes)
        if not changes:
            return settings
        settings = settings.having(changes)
    return settings


def proof_of(
    docket: Docket, fitting: Fitting, brief: Brief, cancelled: Callable[[], bool] | None = None
) -> tuple[Photo, Proof]:
    """A fitting's file, made and proved in memory.

    Raises:
        PhotoError, Cancelled: as :func:`aptandum.core.conform.conform`.
    """
    photo = photo_of(docket, fitting.photo)
    hand = docket.photo(fitting.photo).marks
    people = None
    if asks_for_people(brief) or hand != type(hand)():
        people = people_in(photo, hand, cancelled)
    settings = fitting.settings
    if people is not None and settings.frame.window is None:
        settings = framed_by_marks(photo, brief, settings, people)
    settings = mended(photo, brief, settings, people)
    return photo, conform(photo, brief, settings, fitting.confirmed(), cancelled, people)


def gather(
    docket: Docket,
    find: Find,
    counted: Callable[[int, int], None] | None = None,
    cancelled: Callable[[], bool] | None = None,
) -> Gathered:
    """An entry for every fitting of a docket; one that cannot be made does not stop the rest.

    Args:
        find: a brief by ``BOOK/BRIEF``; it may raise ``LookupError``.
        counted: told the number of the fitting that is begun, and of all.

    Raises:
        Cancelled: ``cancelled`` said so.
    """
    entries, left_out = [], []
    for n, fitting in enumerate(docket.fittings, start=1):
        if counted is not None:
            counted(n, len(docket.fittings))
        path = docket.photo(fitting.photo).path
        try:
            book, brief = find(fitting.brief)
            photo, proof = proof_of(docket, fitting, brief, cancelled)
            entries.append(entry_of(photo, book, brief, proof, fitting.confirmed()))
        except (PhotoError, LookupError) as error:
            left_out.append(say("{file} for {brief}: {why}", file=shown_name(path),
                                brief=fitting.brief, why=error))  # fmt: skip
    return Gathered(tuple(entries), tuple(left_out))
