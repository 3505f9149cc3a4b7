"""Facts and metadata as JSON can say them, there and back; what comes back from a reader is looked at first."""

from __future__ import annotations

import base64
import binascii
from collections.abc import Collection, Sequence
from functools import lru_cache
from operator import attrgetter
from typing import Any

from aptandum.core.later import TiffImagePlugin
from aptandum.core.photo.facts import READ, Facts, PhotoError
from aptandum.core.photo.metadata_groups import Credit
from aptandum.core.photo.profile import SPACES, Profile
from aptandum.core.words import say

_MOST = 1 << 40
_WHOLE, _WORD, _FLAG = (int,), (str,), (bool,)
_SIZE, _TURN = range(_MOST), range(1, 9)
_FIELDS: tuple[tuple[str, tuple[type, ...], Collection[Any] | None], ...] = (
    ("file", _WORD, None), ("format", _WORD, READ), ("width", _WHOLE, _SIZE), ("height", _WHOLE, _SIZE),
    ("oriented_width", _WHOLE, _SIZE), ("oriented_height", _WHOLE, _SIZE), ("bits", _WHOLE, _SIZE),
    ("mode", _WORD, ("grey", "rgb", "cmyk", "palette", "mono")), ("alpha", _FLAG, None), ("icc", _WORD, None),
    ("colour_space", _WORD, SPACES), ("orientation", _WHOLE, _TURN), ("ppi_x", (int, float), None),
    ("ppi_y", (int, float), None), ("bytes", _WHOLE, _SIZE), ("frames", _WHOLE, _SIZE), ("progressive", _FLAG, None),
    ("decodes", _FLAG, None), ("error", _WORD, None), ("subsampling", _WORD, None), ("location", _FLAG, None),
    ("turn", _WHOLE, _TURN), ("hint", _WORD, SPACES), ("clear_rim", _FLAG, None), ("hides", _FLAG, None),
    ("pictures", _WHOLE, _SIZE), ("gain_map", _FLAG, None),
)  # fmt: skip
"""What goes of facts, in this order: of which kinds each may be, and which values it may have. Behind them stand
the profile and its bytes."""
_NAMES = tuple(name for name, _kinds, _allowed in _FIELDS)
_of = attrgetter(*_NAMES)
_PROFILE, _ICC = len(_NAMES), len(_NAMES) + 1


def told(facts: Facts) -> list[Any]:
    """Facts for JSON; the file's name may be any bytes, and goes as text that gives them back."""
    known = facts.profile
    profile = (
        None if known is None else [known.description, known.space, known.channels, known.broken]
    )
    return [*_of(facts), profile, _text(facts.icc_bytes) if facts.icc_bytes else None]


@lru_cache(maxsize=16)
def _text(icc: bytes) -> str:
    return base64.b64encode(icc).decode()


@lru_cache(maxsize=16)
def _bytes(text: str) -> bytes:
    return base64.b64decode(text, validate=True)


def told_many(every: Sequence[Facts]) -> list[list[Any]]:
    """Facts of several files for JSON. A profile goes once: later files name the first that has it."""
    made: list[list[Any]] = []
    first: dict[str, int] = {}
    for place, one in enumerate(every):
        held = told(one)
        text = held[_ICC]
        if text is not None and first.setdefault(text, place) != place:
            held[_ICC] = first[text]
        made.append(held)
    return made


def facts_many(held: Any) -> list[Facts]:
    """Facts of several files from JSON.

    Raises:
        PhotoError: a reader says what cannot be.
    """
    made: list[Facts] = []
    try:
        for one in held:
            if type(one[_ICC]) is int:
                one[_ICC] = held[one[_ICC]][_ICC]
            made.append(facts(one))
    except (TypeError, LookupError):
        raise _nonsense() from None
    return made


def facts(held: Any) -> Facts:
    """Facts from JSON.

    Raises:
        PhotoError: a reader says what cannot be.
    """
    made: dict[str, Any] = {"file": ""}
    try:
        for (name, kinds, allowed), value in zip(_FIELDS, held, strict=False):
            if value is None:
                continue
            if type(value) not in kinds or (allowed is not None and value not in allowed):
                raise ValueError(name)
            made[name] = value
        for name in ("ppi_x", "ppi_y"):
            if not 0 <= made.get(name, 0) < _MOST:
                raise ValueError(name)
        if (icc := held[_ICC]) is not None:
            made["icc_bytes"] = _bytes(icc)
        if (known := held[_PROFILE]) is not None:
            made["profile"] = _profile(known)
    except (AttributeError, TypeError, ValueError, LookupError, binascii.Error):
        raise _nonsense() from None
    return Facts(**made)


def _nonsense() -> PhotoError:
    return PhotoError(say("{file} could not be read: its reader gave no usable answer.", file="?"))


def _profile(held: Any) -> Profile:
    said, space, channels, why = held
    texts = all(text is None or isinstance(text, str) for text in (said, why))
    if not texts or space not in SPACES or channels not in (0, 1, 3, 4):
        raise ValueError("profile")
    return Profile(said, space, channels, why)


# --- metadata --------------------------------------------------------------------------------------


def credit_told(credit: Credit) -> dict[str, Any]:
    """What a photo tells, for JSON."""
    return {
        **{name: getattr(credit, name) for name in ("by", "rights", "caption", "date", "where")},
        **{
            name: [[tag, _value_told(value)] for tag, value in getattr(credit, name).items()]
            for name in ("camera", "place")
        },
    }


def credit(held: Any) -> Credit:
    """What a photo tells, from JSON; what cannot be is as if it were not told."""
    try:
        texts = [str(held[name]) for name in ("by", "rights", "caption", "date", "where")]
        tags = [
            {int(tag): _value(value) for tag, value in held[name]} for name in ("camera", "place")
        ]
    except (AttributeError, TypeError, ValueError, KeyError, ZeroDivisionError, binascii.Error):
        return Credit()
    by, rights, caption, date, where = texts
    camera, place = tags
    return Credit(by, rights, caption, date, camera, place, where)


def _value_told(value: Any) -> Any:
    if isinstance(value, bytes):
        return {"bytes": base64.b64encode(value).decode()}
    if isinstance(value, TiffImagePlugin.IFDRational) and isinstance(value.numerator, int):
        return {"ratio": [int(value.numerator), int(value.denominator)]}
    if isinstance(value, (tuple, list)):
        return {"several": [_value_told(one) for one in value]}
    if isinstance(value, (bool, int, str)):
        return value
    if isinstance(value, (float, TiffImagePlugin.IFDRational)):
        return {"float": float(value).hex()}
    return str(value)


def _value(held: Any) -> Any:
    if not isinstance(held, dict):
        return held
    if "bytes" in held:
        return base64.b64decode(held["bytes"], validate=True)
    if "ratio" in held:
        above, below = held["ratio"]
        return TiffImagePlugin.IFDRational(int(above), int(below))
    if "several" in held:
        return tuple(_value(one) for one in held["several"])
    return float.fromhex(held["float"])
