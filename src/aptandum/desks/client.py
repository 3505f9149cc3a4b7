"""The client's end of an intake: one call, one answer, and nothing believed that did not arrive.

An answer counts only when all of it has come and it is about the very file that was sent. All
else is :class:`NotNow`: nobody knows what the desk has done, and it is asked again later.
"""

from __future__ import annotations

import hashlib
import re
import time
import unicodedata
from typing import TYPE_CHECKING, Any
from urllib.parse import quote

from pydantic import BaseModel, ConfigDict, ValidationError
from pydantic_core import from_json

from aptandum.core.docket.hand_over import Event, HandOver, Reason, State
from aptandum.core.errors import AptandumError
from aptandum.core.frozen import frozen
from aptandum.core.later import Later
from aptandum.core.words import say

if TYPE_CHECKING:
    import httpx
else:
    httpx = Later("httpx")  # asked for once something is handed over


@frozen
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
    model_config = ConfigDict(frozen=True, extra="ignore", defer_build=True)


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
        self._timeout = timeout
        from aptandum.desks.patience import Timely

        self._way = Timely()
        # A machine's own settings of proxies are not asked: a desk is spoken to directly.
        self._http = httpx.Client(
            base_url=address.url, headers=headers, timeout=timeout, transport=self._way
        )

    def close(self) -> None:
        """Let go of the connections; a call that waits for its answer ends."""
        self._way.stopped.set()
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
        try:
            found = self._answer("GET", "/hand-overs", asked)
        except _Missing:
            return None  # this alone means that it is not there
        except NotTaken as no:
            raise NotNow(say("The desk could not say whether it has it: {why}", why=no)) from None
        return self._receipt(found, item)

    def ask(self, item: HandOver) -> Receipt:
        """How a file stands by its number."""
        return self._receipt(self._call("GET", _path(item)), item)

    def retire(self, item: HandOver) -> Receipt:
        """Have the desk retire a file that it accepted."""
        return self._receipt(self._call("POST", _path(item, "/retire")), item)

    def look_again(self, item: HandOver) -> Receipt:
        """Ask a desk that has held a file for another look at it."""
        return self._receipt(self._call("POST", _path(item, "/review")), item)

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
    ) -> dict[str, Any]:
        try:
            return self._answer(method, path, asked, data, json)
        except _Missing as missing:
            raise NotTaken(str(missing)) from None

    def _answer(
        self,
        method: str,
        path: str,
        asked: dict[str, str] | None = None,
        data: bytes | None = None,
        json: dict[str, Any] | None = None,
    ) -> dict[str, Any]:
        """Raises:
        _Missing: what was asked for is not there.
        NotNow, NotTaken: as the calls say.
        """
        status, headers, body = self._heard(method, path, asked, data, json)
        held = _read(body)
        says = str(held.get("says", ""))
        if status in (429, 503):
            after = _seconds(headers.get("Retry-After", ""))
            raise NotNow(says or say("The desk is busy."), after, untouched=True)
        if status == 404:
            raise _Missing(says or say("The desk says no, and not why."))
        if status in (401, 403):
            raise NotNow(says or say("The desk does not know us."), untouched=True)
        if status >= 500:
            raise NotNow(says or say("Something went wrong at the desk."))
        if status >= 400:
            raise NotTaken(says or say("The desk says no, and not why."))
        if not 200 <= status < 300:
            raise NotNow(say("The desk’s answer cannot be read."))
        return held

    def _heard(
        self,
        method: str,
        path: str,
        asked: dict[str, str] | None,
        data: bytes | None,
        json: dict[str, Any] | None,
    ) -> tuple[int, httpx.Headers, bytes]:
        """A desk's answer, whole and in time: its status, headers and bytes."""
        self._way.ends.at = time.monotonic() + self._timeout + len(data or b"") / _SLOWEST
        held = bytearray()
        try:
            with self._http.stream(method, path, params=asked, content=data, json=json) as answer:
                for part in answer.iter_bytes(65_536):
                    held += part
                    if len(held) > _MOST_BYTES:
                        raise NotNow(say("The desk’s answer has no end."))
                return answer.status_code, answer.headers, bytes(held)
        except httpx.TimeoutException:
            raise NotNow(say("The desk did not answer in time.")) from None
        except httpx.ConnectError:
            raise NotNow(say("The desk cannot be reached."), untouched=True) from None
        except (httpx.HTTPError, httpx.InvalidURL, httpx.StreamError, ValueError, RuntimeError):
            raise NotNow(say("The connection was cut before the answer was whole.")) from None
        finally:
            self._way.ends.at = float("inf")

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
        if not _NUMBER.fullmatch(made.number) or len(made.history) > _MOST_EVENTS:
            raise NotNow(say("The desk’s receipt cannot be right."))
        return made


class _Missing(Exception):
    """What was asked for is not there."""


_SLOWEST = 20_000
"""Bytes a second that a file is given at least the time for."""
_MOST_BYTES = 1_000_000
_MOST_EVENTS = 2_000
_MOST_LETTERS = 2_000
_DEEP = 12
_NUMBER = re.compile(r"[\w.:/-]{1,120}", re.ASCII)


def _path(item: HandOver, more: str = "") -> str:
    return f"/hand-overs/{quote(item.number, safe='')}{more}"


def _read(body: bytes) -> dict[str, Any]:
    """The object that an answer holds, every text of it fit to be shown and kept.

    Raises:
        NotNow: it holds none.
    """
    try:
        held = from_json(body, allow_inf_nan=False)
    except ValueError:
        cause = say("The connection was cut before the answer was whole.")
        raise NotNow(cause if len(body) < 2 or body[:1] == b"{" else say("The desk’s answer cannot be read.")) from None  # fmt: skip
    if not isinstance(held, dict):
        raise NotNow(say("The desk’s answer cannot be read."))
    made = _fit(held, 0)
    assert isinstance(made, dict)
    return made


def _unfit(letter: str) -> bool:
    """Whether a letter does something to a terminal or to the order of what is read."""
    return unicodedata.category(letter) in ("Cc", "Cs") or letter in "\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069"  # fmt: skip


def _fit(value: Any, deep: int) -> Any:
    """A value whose texts have no control characters and no halves of letters, and an end."""
    if deep > _DEEP:
        return None
    if isinstance(value, str):
        text = value[:_MOST_LETTERS].encode("utf-8", "replace").decode("utf-8")
        return "".join(c if c == "\n" or not _unfit(c) else "\ufffd" for c in text)
    if isinstance(value, dict):
        return {str(_fit(k, deep + 1)): _fit(v, deep + 1) for k, v in value.items()}
    if isinstance(value, list):
        return [_fit(one, deep + 1) for one in value]
    return value


def _seconds(text: str) -> float:
    try:
        return max(0.0, min(float(text), 3600.0))
    except ValueError:
        return 0.0
