"""The client's end of an intake: one call, one answer, and nothing believed that did not arrive.

An answer counts only when all of it has come and it is about the very file that was sent. All
else is :class:`NotNow`: nobody knows what the desk has done, and it is asked again later.
"""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from typing import Any

import httpx
from pydantic import BaseModel, ConfigDict, ValidationError

from aptandum.core.docket.hand_over import Event, HandOver, Reason, State
from aptandum.core.errors import AptandumError
from aptandum.core.words import say


@dataclass(frozen=True)
class Address:
    """Where a desk is, and what it must be told so that it listens."""

    url: str
    token: str = ""


class NotNow(AptandumError):
    """The desk cannot be asked just now, or its answer did not arrive.

    Attributes:
        after: seconds that the desk itself asks to wait; 0 where it says nothing.
        untouched: the desk has said that it has done nothing.
    """

    def __init__(self, says: str, after: float = 0.0, untouched: bool = False) -> None:
        super().__init__(says)
        self.after, self.untouched = after, untouched


class NotTaken(AptandumError):
    """The desk says no, in a sentence of its own, and would say it again."""


class _Loose(BaseModel):
    model_config = ConfigDict(frozen=True, extra="ignore")


class _Event(_Loose):
    at: str
    state: State
    says: str


class Receipt(_Loose):
    """What a desk says of one file."""

    number: str
    brief: str
    name: str
    sha256: str
    bytes: int
    received: str
    state: State
    reasons: tuple[Reason, ...] = ()
    history: tuple[_Event, ...] = ()

    def events(self) -> tuple[Event, ...]:
        """The desk's history of the file as events of the record."""
        return tuple(Event(at=e.at, state=e.state, says=e.says, by="desk") for e in self.history)


_DESKS = ("waiting", "review", "accepted", "held", "refused", "retired", "replaced")


class Desk:
    """A desk as its client sees it. Safe to use from several threads."""

    def __init__(self, address: Address, timeout: float = 20.0) -> None:
        headers = {"Authorization": f"Bearer {address.token}"} if address.token else {}
        # A machine's own settings of proxies are not asked: a desk is spoken to directly.
        self._http = httpx.Client(
            base_url=address.url, headers=headers, timeout=timeout, trust_env=False
        )

    def close(self) -> None:
        """Let go of the connections."""
        self._http.close()

    def about(self) -> dict[str, Any]:
        """What the desk says of itself."""
        return self._call("GET", "/")

    def hand_over(self, item: HandOver, data: bytes) -> Receipt:
        """Give a file to the desk. Given twice, it is taken once.

        Raises:
            NotNow: it may have arrived or not.
            NotTaken: the desk will not have it.
        """
        if hashlib.sha256(data).hexdigest() != item.sha256:
            raise NotTaken(say("{file} is not the file that was to be sent.", file=item.name))
        asked = {
            "brief": item.brief.partition("/")[2],
            "name": item.name,
            "sha256": item.sha256,
            "replaces": item.replaces,
        }
        return self._receipt(self._call("POST", "/hand-overs", asked, data), item)

    def find(self, item: HandOver) -> Receipt | None:
        """What the desk holds of a file by its hash; ``None`` where it says that it has none."""
        asked = {"brief": item.brief.partition("/")[2], "sha256": item.sha256}
        found = self._call("GET", "/hand-overs", asked, may_miss=True)
        return self._receipt(found, item) if found else None

    def ask(self, item: HandOver) -> Receipt:
        """How a file stands by its number."""
        return self._receipt(self._call("GET", f"/hand-overs/{item.number}"), item)

    def retire(self, item: HandOver) -> Receipt:
        """Have the desk retire a file that it accepted."""
        return self._receipt(self._call("POST", f"/hand-overs/{item.number}/retire"), item)

    def look_again(self, item: HandOver) -> Receipt:
        """Ask a desk that has held a file for another look at it."""
        return self._receipt(self._call("POST", f"/hand-overs/{item.number}/review"), item)

    def tell(self, conditions: dict[str, Any]) -> dict[str, Any]:
        """Tell a simulated desk how to behave."""
        return self._call("POST", "/conditions", json=conditions)

    def _call(
        self,
        method: str,
        path: str,
        asked: dict[str, str] | None = None,
        data: bytes | None = None,
        json: dict[str, Any] | None = None,
        may_miss: bool = False,
    ) -> dict[str, Any]:
        try:
            answer = self._http.request(method, path, params=asked, content=data, json=json)
            held = answer.json()
        except httpx.TimeoutException:
            raise NotNow(say("The desk did not answer in time.")) from None
        except httpx.ConnectError:
            raise NotNow(say("The desk cannot be reached."), untouched=True) from None
        except (httpx.HTTPError, ValueError):
            raise NotNow(say("The connection was cut before the answer was whole.")) from None
        if not isinstance(held, dict):
            raise NotNow(say("The desk’s answer cannot be read."))
        says = str(held.get("says", ""))
        if answer.status_code in (429, 503):
            after = _seconds(answer.headers.get("Retry-After", ""))
            raise NotNow(says or say("The desk is busy."), after, untouched=True)
        if answer.status_code == 404 and may_miss:
            return {}
        if answer.status_code in (401, 403):
            raise NotNow(says or say("The desk does not know us."), untouched=True)
        if answer.status_code >= 500:
            raise NotNow(says or say("Something went wrong at the desk."))
        if answer.status_code >= 400:
            raise NotTaken(says or say("The desk says no, and not why."))
        return held

    @staticmethod
    def _receipt(held: dict[str, Any], item: HandOver) -> Receipt:
        try:
            made = Receipt.model_validate(held)
        except ValidationError:
            raise NotNow(say("The desk’s receipt cannot be read.")) from None
        if (made.sha256, made.bytes) != (item.sha256, item.bytes):
            raise NotNow(say("The desk’s receipt is about another file."))
        if made.state not in _DESKS or (item.number and made.number != item.number):
            raise NotNow(say("The desk’s receipt cannot be right."))
        return made


def _seconds(text: str) -> float:
    try:
        return max(0.0, min(float(text), 3600.0))
    except ValueError:
        return 0.0
