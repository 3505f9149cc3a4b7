"""The conformity report of a docket: every fitting conformed, proved, and gathered."""

from __future__ import annotations

from collections.abc import Callable

from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.docket.batch import prove_one
from aptandum.core.docket.model import Docket
from aptandum.core.frozen import frozen
from aptandum.core.photo.facts import PhotoError, shown_name
from aptandum.core.report import Entry, entry_of
from aptandum.core.words import say

Find = Callable[[str], tuple[Rulebook, Brief]]


@frozen
class Gathered:
    """The entries, and a sentence for each fitting that could not be made."""

    entries: tuple[Entry, ...]
    left_out: tuple[str, ...]


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
            entry = docket.photo(fitting.photo)
            photo, _settings, proof = prove_one(fitting, entry, brief, cancelled)
            entries.append(
                entry_of(photo, book, brief, proof, fitting.confirmed(), printed=fitting.printed)
            )
        except (PhotoError, LookupError) as error:
            left_out.append(
                say(
                    "{file} for {brief}: {why}",
                    file=shown_name(path),
                    brief=fitting.brief,
                    why=error,
                )
            )
    return Gathered(tuple(entries), tuple(left_out))
