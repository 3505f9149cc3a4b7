"""What was handed over: to which desk, how it stands there, and what was said on the way."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, ConfigDict

from aptandum.core.words import say

State = Literal[
    "ready",
    "sending",
    "unsure",
    "waiting",
    "review",
    "accepted",
    "held",
    "refused",
    "retired",
    "replaced",
    "withdrawn",
]

OURS: tuple[State, ...] = ("ready", "sending", "unsure")
"""The desk has given no receipt for these yet."""

OPEN: tuple[State, ...] = ("waiting", "review")
"""Received; the desk has not decided."""

OVER: tuple[State, ...] = ("retired", "replaced", "withdrawn")
"""Nothing more is to come; the same file may be handed over anew."""

Wish = Literal["", "retire", "review"]


class _Frozen(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid", defer_build=True)


class Event(_Frozen):
    """Something that happened, when (ISO 8601), and who says so: ``us`` or the ``desk``."""

    at: str
    state: State
    says: str
    by: Literal["us", "desk"] = "us"


class Reason(_Frozen):
    """Why a desk does not accept a file: in its own words, with the figure that it read and the
    limit that it held it against."""

    measure: str = ""
    measured: str = ""
    limit: str = ""
    says: str


class HandOver(_Frozen):
    """One file handed over to one body.

    Attributes:
        fitting: of the docket; empty for a file that was handed over by itself.
        brief: ``BOOK/BRIEF``.
        name: the file's name as the desk gets it.
        sha256, bytes: of the file.
        ready: we say that it meets: its bytes were judged, and every ``must`` is met.
        missed: we say that it misses; where it is neither, something could not be measured.
        we_say: that judgement in words, at the time of handing over.
        state: how it stands; up to ``unsure`` by us, from ``waiting`` on as the desk has said.
        number, received: of the desk's receipt; empty until we hold one.
        reasons: why it is held or refused.
        replaces: the number of the one whose place it takes.
        tries: how often the desk has not answered as it should since it last did.
        wish: what is still to be asked of the desk.
    """

    id: str
    fitting: str = ""
    brief: str
    name: str
    sha256: str
    bytes: int
    ready: bool
    missed: bool = False
    we_say: str = ""
    state: State = "ready"
    number: str = ""
    received: str = ""
    reasons: tuple[Reason, ...] = ()
    history: tuple[Event, ...] = ()
    replaces: str = ""
    tries: int = 0
    wish: Wish = ""

    @property
    def body(self) -> str:
        return self.brief.partition("/")[0]

    @property
    def verdict(self) -> Literal["meets", "misses", "unknown"]:
        """What we say of it."""
        return "meets" if self.ready else "misses" if self.missed else "unknown"

    @property
    def settled(self) -> bool:
        """Nothing is to be done until a person does something."""
        return not self.wish and self.state not in (*OURS, *OPEN)

    @property
    def over(self) -> bool:
        """Nothing more is to come of it, and the desk has not got it: the same file may be handed
        over anew."""
        return self.state in OVER or (self.state == "refused" and not self.number)

    def moved(self, state: State, says: str, by: Literal["us", "desk"] = "us") -> HandOver:
        """In another state, and that in its history."""
        event = Event(at=now(), state=state, says=says, by=by)
        return self.model_copy(update={"state": state, "history": (*self.history, event)})


def now() -> str:
    """This moment with its offset from UTC, to the second, in ISO 8601."""
    return datetime.now().astimezone().isoformat(timespec="seconds")


def state_said(state: State) -> str:
    """A state in words; who it is that says so is part of them."""
    return {
        "ready": say("to be sent"),
        "sending": say("being sent"),
        "unsure": say("sent, no answer"),
        "waiting": say("waiting at the desk"),
        "review": say("under review"),
        "accepted": say("accepted"),
        "held": say("held"),
        "refused": say("refused"),
        "retired": say("retired"),
        "replaced": say("replaced"),
        "withdrawn": say("withdrawn, not sent"),
    }[state]
