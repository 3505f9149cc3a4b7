"""A docket that comes from outside: every part looked at, what cannot be used left out and told, the rest opened.

A docket is sent, edited by hand and written by other programs. A part of it that is wrong (a fitting without its
photo, a figure that is none, a text without end) costs that part and nothing else.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError
from pydantic_core import from_json

from aptandum.core.docket.hand_over import HandOver
from aptandum.core.docket.model import Audited, Docket, Fitting, PhotoEntry
from aptandum.core.errors import AptandumError
from aptandum.core.frozen import frozen
from aptandum.core.words import say, say_n, semicolons

T = TypeVar("T", bound=BaseModel)

MOST_BYTES = 64_000_000
"""Bytes of a docket: some 100,000 fittings have half of that."""
_MOST_TITLE = 300
_MOST_TEXT = 20_000
_MOST_PATH = 4096  # limits.h, PATH_MAX
_MOST_RULEBOOK = 2_000_000
_LARGEST = 1e9
_TOLD = 3


class NoDocket(AptandumError, ValueError):
    """A text that is no docket at all; the message is a cause."""


@frozen
class Opened:
    """A docket that can be used, and what of it was left out, a sentence each."""

    docket: Docket
    remarks: tuple[str, ...] = ()


@dataclass
class _Looked:
    """What was found while a docket is looked through: by kind, what was left out and why."""

    lost: dict[str, list[str]] = field(default_factory=dict)

    def out(self, kind: str, which: Any, why: str) -> None:
        self.lost.setdefault(kind, []).append(f"{str(which)[:40]}: {why}")

    def remarks(self) -> Iterator[str]:
        for kind, every in self.lost.items():
            told = semicolons([*every[:_TOLD], *([say("and more")] if len(every) > _TOLD else [])])
            yield say_n(
                "{kind}: {n} was left out ({why}).",
                "{kind}: {n} were left out ({why}).",
                len(every),
                kind=kind,
                why=told,
            )


def opened(data: bytes) -> Opened:
    """A docket of these bytes.

    Raises:
        NoDocket: they are none.
    """
    try:
        raw = from_json(data)
    except ValueError as error:
        raise NoDocket(str(error)[:200]) from None
    if not isinstance(raw, dict):
        raise NoDocket(say("there is no object in it"))
    if raw.get("format", 1) != 1 or isinstance(raw.get("format"), bool):
        raise NoDocket(say("it is of a format that is not known here"))
    return checked(raw)


def checked(raw: Mapping[str, Any]) -> Opened:
    """A docket of its keys, with what cannot be used left out.

    Raises:
        NoDocket: nothing in it is a part of one.
    """
    if raw and not set(raw) & set(Docket.model_fields):
        raise NoDocket(say("nothing in it is a part of one"))
    looked = _Looked()
    for key in raw:
        if key not in Docket.model_fields:
            looked.out(say("Parts of the docket"), key, say("not known here"))
    photos = _photos(raw.get("photos", ()), looked)
    fittings = _fittings(raw.get("fittings", ()), {photo.id for photo in photos}, looked)
    handed = [
        one
        for entry in _list(raw.get("handed", ()))
        if (one := _part(HandOver, entry, say("Entries of what was handed over"), looked))
    ]
    audit = raw.get("audit")
    made = Docket(
        title=_title(raw.get("title", ""), looked),
        photos=tuple(photos),
        fittings=tuple(fittings),
        rulebooks=_rulebooks(raw.get("rulebooks", {}), looked),
        key=str(raw.get("key", ""))[:_MOST_TITLE],
        handed=tuple(handed),
        audit=None if audit is None else _part(Audited, audit, say("The audit"), looked),
    )
    return Opened(made, tuple(looked.remarks()))


def _list(value: Any) -> list[Any]:
    return list(value) if isinstance(value, (list, tuple)) else []


def _title(value: Any, looked: _Looked) -> str:
    title = value if isinstance(value, str) else ""
    if len(title) > _MOST_TITLE:
        looked.out(say("The title"), title, say("longer than {n} letters", n=_MOST_TITLE))
    return title[:_MOST_TITLE]


def _rulebooks(value: Any, looked: _Looked) -> dict[str, str]:
    kept = {}
    for name, text in (value if isinstance(value, dict) else {}).items():
        if isinstance(text, str) and len(text) <= _MOST_RULEBOOK and len(name) <= _MOST_TITLE:
            kept[name] = text
        else:
            looked.out(say("Rulebooks of the docket"), name, say("no text of sensible length"))
    return kept


def _photos(value: Any, looked: _Looked) -> list[PhotoEntry]:
    kind = say("Photos")
    kept: dict[str, PhotoEntry] = {}
    for entry in _list(value):
        photo = _part(PhotoEntry, entry, kind, looked)
        if photo is None:
            marked = isinstance(entry, dict) and "marks" in entry
            plain = {k: v for k, v in entry.items() if k != "marks"} if marked else None
            photo = _part(PhotoEntry, plain, "", _Looked()) if plain is not None else None
            if photo is not None:  # the photo itself can be used, without its marks
                looked.lost[kind].pop()
                looked.out(say("Marks of photos"), photo.id, say("numbers that cannot be"))
        if photo is None:
            continue
        if not photo.id or photo.id in kept:
            looked.out(kind, photo.path, say("its id is another one’s"))
        elif (
            not photo.path
            or "\0" in photo.path
            or len(photo.path.encode(errors="replace")) > _MOST_PATH
        ):
            looked.out(kind, photo.id, say("its path cannot be one"))
        else:
            kept[photo.id] = photo
    looked.lost = {kind: every for kind, every in looked.lost.items() if every}
    return list(kept.values())


def _fittings(value: Any, photos: set[str], looked: _Looked) -> list[Fitting]:
    kind = say("Fittings")
    kept: dict[str, Fitting] = {}
    for entry in _list(value):
        named = entry.get("id") if isinstance(entry, dict) else entry
        if isinstance(entry, dict) and entry.get("photo") not in photos:
            looked.out(kind, named, say("its photo is not in the docket"))
            continue
        fitting = _part(Fitting, entry, kind, looked)
        if fitting is None and isinstance(entry, dict) and "settings" in entry:
            plain = {k: v for k, v in entry.items() if k != "settings"}
            fitting = _part(Fitting, plain, "", _Looked())
            if fitting is not None:  # it begins anew, as a fitting without settings does
                looked.lost[kind].pop()
                looked.out(say("Settings of fittings"), named, say("numbers that cannot be"))
        if fitting is None:
            continue
        if not fitting.id or fitting.id in kept:
            looked.out(kind, named, say("its id is another one’s"))
        else:
            kept[fitting.id] = fitting
    looked.lost = {kind: every for kind, every in looked.lost.items() if every}
    return list(kept.values())


def _part(model: type[T], entry: Any, kind: str, looked: _Looked) -> T | None:
    """A part of the docket; ``None`` where it cannot be used, which is noted."""
    named = entry.get("id", "") if isinstance(entry, dict) else entry
    try:
        found = model.model_validate(entry)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(step) for step in first["loc"])
        looked.out(kind, named, f"{where}: {first['msg'].lower()}"[:160])
        return None
    except (ValueError, TypeError, OverflowError, RecursionError, ZeroDivisionError) as error:
        looked.out(kind, named, str(error)[:160])
        return None
    wrong = next(_wrong(found.model_dump(exclude_defaults=True)), None)
    if wrong is not None:
        looked.out(kind, named, wrong)
        return None
    return found


def _wrong(value: Any) -> Iterator[str]:
    """What of a value is no sensible figure and no sensible text."""
    if isinstance(value, float) and not (math.isfinite(value) and abs(value) <= _LARGEST):
        yield say("a number that cannot be")
    elif isinstance(value, str) and len(value) > _MOST_TEXT:
        yield say("a text of more than {n} letters", n=_MOST_TEXT)
    elif isinstance(value, Mapping):
        for inner in value.values():
            yield from _wrong(inner)
    elif isinstance(value, (list, tuple)):
        for inner in value:
            yield from _wrong(inner)
