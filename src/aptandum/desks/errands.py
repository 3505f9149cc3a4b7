"""Errands: everything that is still to be asked of a desk is done, in order, with patience.

One errand is one step of one hand-over. Before a file is sent, that it is being sent is written
down; so after a crash, or an answer that did not arrive, it is known that the desk may have it, and
the desk is asked for its hash before anything is sent again. What a desk has not said is not
reported: a hand-over is received when its receipt has arrived whole.
"""

from __future__ import annotations

import random
import threading
import time
from collections.abc import Callable, Iterable
from concurrent.futures import FIRST_COMPLETED, Future, ThreadPoolExecutor, wait

from aptandum.core import mistakes
from aptandum.core.docket.hand_over import OPEN, OURS, HandOver, Reason, State, Wish
from aptandum.core.words import say
from aptandum.desks.book import Book
from aptandum.desks.client import Desk, NotNow, NotTaken, Receipt

FIRST_WAIT, LONGEST_WAIT = 0.5, 60.0
"""Seconds before the first new try, and the most that is ever waited between two."""

_AT_ONCE = 4
"""Errands under way at a time."""


def patience(tries: int, asked: float = 0.0, chance: float | None = None) -> float:
    """Seconds to wait after so many tries: twice as long each time, between a half and the whole of
    it by chance (so that many clients do not come back at once), and never less than the desk asked for."""
    whole = min(LONGEST_WAIT, FIRST_WAIT * 2 ** min(max(tries, 1) - 1, 20))
    share = random.random() if chance is None else chance
    return float(max(asked, whole * (0.5 + share / 2)))


def taken(item: HandOver, receipt: Receipt) -> HandOver:
    """A hand-over as a receipt tells it: nothing of how it stands is ours from here on. What was
    said before stays, and of the desk's own history what we have not had yet."""
    ours = tuple(event for event in item.history if event.by == "us")
    every = sorted((*ours, *receipt.events()), key=lambda event: event.at[:19])
    return item.model_copy(
        update={
            "state": receipt.state,
            "number": receipt.number,
            "received": receipt.received,
            "reasons": receipt.reasons,
            "history": tuple(every),
            "tries": 0,
        }
    )


def step(
    item: HandOver, desk: Desk, data: Callable[[], bytes], write: Callable[[HandOver], None]
) -> HandOver:
    """Do what is to be done next with one hand-over, and give it as it stands then.

    Args:
        data: the file's bytes.
        write: writes a state down before it can have an effect.

    Raises:
        NotNow: the desk could not be asked, or its answer did not arrive; what may have happened
            has been written down.
        OSError: the file or the book could not be read or written.
    """
    if item.state in ("sending", "unsure"):
        found = desk.find(item)
        if found is not None:
            return _wished(taken(item, found), desk)
        item = item.moved("ready", say("The desk does not have it; it is sent again."))
    if item.state == "ready":
        if item.wish == "retire":
            return item.moved("withdrawn", say("Withdrawn before it was sent.")).model_copy(
                update={"wish": ""}
            )
        item = item.moved("sending", say("Sent."))
        content = data()
        write(item)
        try:
            return _wished(taken(item, desk.hand_over(item, content)), desk)
        except NotTaken as no:
            return _no(item, no)
        except NotNow as error:
            state: State = "ready" if error.untouched else "unsure"
            left = item.moved(state, str(error))
            write(left.model_copy(update={"tries": item.tries + 1}))
            raise
    if item.wish:
        return _wished(item, desk)
    if item.state in OPEN:
        try:
            return taken(item, desk.ask(item))
        except NotTaken as no:
            # The desk has forgotten it, or is another one than it was: that is for a person.
            return _no(item, no)
    return item


def _no(item: HandOver, no: NotTaken) -> HandOver:
    """Refused before there was a receipt, or by a desk that has forgotten its own."""
    made = item.moved("refused", str(no), "desk")
    return made.model_copy(update={"reasons": (Reason(says=str(no)),)})


def _wished(item: HandOver, desk: Desk) -> HandOver:
    """What a person wants of a file that the desk has."""
    acts = {"retire": desk.retire, "review": desk.look_again}
    if not item.wish:
        return item
    try:
        made = taken(item, acts[item.wish](item))
    except NotTaken as no:
        made = item.moved(item.state, str(no), "desk")
    return made.model_copy(update={"wish": ""})


class Errands:
    """Does every errand of a book, some at once, each desk's with its own patience.

    Args:
        desk_of: the desk of a body, opened where need be; raises :class:`NotNow` where there is
            none just now.
        changed: told every new state, from the threads that do the errands.
        ask_every: seconds between two questions about a file that waits at a desk.
    """

    def __init__(
        self,
        book: Book,
        desk_of: Callable[[str], Desk],
        changed: Callable[[HandOver], None] | None = None,
        ask_every: float = 1.0,
        longest_wait: float = LONGEST_WAIT,
    ) -> None:
        self.book, self.desk_of = book, desk_of
        self.changed = changed or (lambda item: None)
        self.ask_every, self.longest_wait = ask_every, longest_wait
        self._due: dict[str, float] = {}
        self._failed: dict[str, int] = {}
        self._bell = threading.Event()
        self._stop = False

    def ring(self, items: Iterable[HandOver] = ()) -> None:
        """Something new is to be done; of these at once."""
        for item in items:
            self._due.pop(item.id, None)
        self._bell.set()

    def stop(self) -> None:
        """Begin no further errand, and have :meth:`run` come back."""
        self._stop = True
        self._bell.set()

    def run(self, until_settled: bool = True, wanted: Callable[[str], bool] | None = None) -> None:
        """Do errands until all is settled, or (where not ``until_settled``) until stopped.

        Args:
            wanted: whether a hand-over, by its id, is to be seen to; left out: all are.
        """
        under_way: dict[Future[None], str] = {}
        pool = ThreadPoolExecutor(_AT_ONCE)
        try:
            while not self._stop:
                self._bell.clear()
                now = time.monotonic()
                left = [i for i in self.book.unsettled_ids() if wanted is None or wanted(i)]
                busy = set(under_way.values())
                due = [i for i in left if i not in busy and self._due.get(i, 0.0) <= now]
                for item_id in due[: _AT_ONCE - len(under_way)]:
                    under_way[pool.submit(self._do, item_id)] = item_id
                if under_way:
                    done, _ = wait(under_way, timeout=0.2, return_when=FIRST_COMPLETED)
                    for one in done:
                        self._ended(one, under_way.pop(one))
                    continue
                if not left and until_settled:
                    return
                soonest = min((self._due.get(i, now) for i in left), default=now + 3600)
                self._bell.wait(max(0.0, min(soonest - now, 3600.0)))
        except BaseException:  # Ctrl-C: nobody waits for a desk that does not answer
            self._stop = True
            pool.shutdown(wait=False, cancel_futures=True)
            raise
        pool.shutdown()

    def _ended(self, one: Future[None], item_id: str) -> None:
        """One errand is over; a mistake in it is logged, and ends no other desk's errands."""
        error = one.exception()
        if error is None:
            return
        mistakes.note(error, "errand")
        tries = self._failed[item_id] = self._failed.get(item_id, 0) + 1
        self._due[item_id] = time.monotonic() + min(patience(tries), self.longest_wait)

    def _do(self, item_id: str) -> None:
        item = self.book.get(item_id)
        if item is None or item.settled:
            return
        wish = item.wish

        def write(one: HandOver) -> None:
            self.changed(self.book.write(one, wish))

        try:
            desk = self.desk_of(item.body)
            made = step(item, desk, lambda: self.book.data(item), write)
            self._due[item.id] = time.monotonic() + self.ask_every
        except NotNow as error:
            made = self.book.get(item.id) or item
            if made.tries == item.tries:  # it came to no try that was written down
                made = _once(made, str(error)).model_copy(update={"tries": made.tries + 1})
            pause = min(patience(made.tries, error.after), self.longest_wait)
            self._due[item.id] = time.monotonic() + pause
        except NotTaken as no:
            # It says no to something that no errand of this kind expects: a person should know, and it is
            # asked again as long as anybody wants it.
            made = _once(self.book.get(item.id) or item, str(no))
            made = made.model_copy(update={"tries": made.tries + 1})
            self._due[item.id] = time.monotonic() + min(patience(made.tries), self.longest_wait)
        except OSError as error:
            why = error.strerror or str(error)
            made = (self.book.get(item.id) or item).moved(
                "withdrawn", say("Not sent: {why}", why=why)
            )
        if made != item:
            write(made)
        if made.replaces and made.number and not item.number:
            for old in self.book.numbered(made.body, made.replaces):
                if old.state != "replaced":
                    says = say("{number} takes its place.", number=made.number)
                    self.changed(self.book.write(old.moved("replaced", says, "desk")))


def _once(item: HandOver, says: str) -> HandOver:
    """With a trouble in the history, unless it is the last thing there already."""
    if item.history and item.history[-1].says == says:
        return item
    return item.moved(item.state, says)


def wished(item: HandOver, wish: Wish) -> HandOver:
    """A hand-over of which something more is wanted: to be retired, or looked at again.

    Raises:
        ValueError: that cannot be asked of it as it stands.
    """
    may = {
        "retire": item.state not in ("retired", "replaced", "withdrawn", "refused"),
        "review": item.state in ("held", "refused") and bool(item.number),
    }
    if wish and not may[wish]:
        raise ValueError(say("That cannot be asked of {file} as it stands.", file=item.name))
    return item.model_copy(update={"wish": wish})


__all__ = ["OURS", "Errands", "patience", "step", "taken", "wished"]
