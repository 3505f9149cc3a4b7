"""Facts and metadata as JSON can say them, there and back; what comes back from a reader is looked at first."""

from __future__ import annotations

import base64
import binascii
from collections.abc import Sequence
from functools import lru_cache
from typing import Any

from PIL.TiffImagePlugin import IFDRational

from aptandum.core.photo.facts import FORMATS, Facts, PhotoError
from aptandum.core.photo.metadata_groups import Credit
from aptandum.core.photo.profile import SPACES, Profile
from aptandum.core.words import say

_KINDS: dict[str, tuple[type, ...]] = {
    "file": (str,), "format": (str,), "width": (int,), "height": (int,), "oriented_width": (int,),
    "oriented_height": (int,), "bits": (int,), "mode": (str,), "alpha": (bool,), "icc": (str,),
    "colour_space": (str,), "orientation": (int,), "ppi_x": (int, float), "ppi_y": (int, float), "bytes": (int,),
    "frames": (int,), "progressive": (bool,), "decodes": (bool,), "error": (str,), "subsampling": (str,),
    "location": (bool,), "turn": (int,), "hint": (str,), "clear_rim": (bool,),
}  # fmt: skip
_ONE_OF: dict[str, tuple[str, ...]] = {
    "format": FORMATS,
    "mode": ("grey", "rgb", "cmyk", "palette", "mono"),
    "colour_space": SPACES,
    "hint": SPACES,
}
_MOST = 1 << 40


def told(facts: Facts) -> dict[str, Any]:
    """Facts for JSON; the file's name may be any bytes, and goes as text that gives them back."""
    held = {name: value for name, value in vars(facts).items() if value is not None}
    if facts.profile is not None:
        known = facts.profile
        held["profile"] = [known.description, known.space, known.channels, known.broken]
    if facts.icc_bytes:
        held["icc_bytes"] = _text(facts.icc_bytes)
    else:
        del held["icc_bytes"]
    return held


@lru_cache(maxsize=16)
def _text(icc: bytes) -> str:
    return base64.b64encode(icc).decode()


@lru_cache(maxsize=16)
def _bytes(text: str) -> bytes:
    return base64.b64decode(text, validate=True)


def told_many(every: Sequence[Facts]) -> list[dict[str, Any]]:
    """Facts of several files for JSON. A profile goes once: later files name the first that has it."""
    made: list[dict[str, Any]] = []
    first: dict[str, int] = {}
    for place, facts in enumerate(every):
        held = told(facts)
        text = held.get("icc_bytes")
        if text is not None and first.setdefault(text, place) != place:
            held["icc_bytes"] = first[text]
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
            place = one.get("icc_bytes")
            if type(place) is int:
                one = {**one, "icc_bytes": held[place]["icc_bytes"]}
            made.append(facts(one))
    except (AttributeError, TypeError, LookupError):
        raise _nonsense() from None
    return made


def facts(held: Any) -> Facts:
    """Facts from JSON.

    Raises:
        PhotoError: a reader says what cannot be.
    """
    made: dict[str, Any] = {"file": ""}
    try:
        for name, value in held.items():
            kinds = _KINDS.get(name)
            if kinds is not None:
                if type(value) not in kinds or not _sound(name, value):
                    raise ValueError(name)
                made[name] = value
            elif name == "icc_bytes":
                made[name] = _bytes(value)
            elif name == "profile":
                made[name] = _profile(value)
    except (AttributeError, TypeError, ValueError, KeyError, binascii.Error):
        raise _nonsense() from None
    return Facts(**made)


def _nonsense() -> PhotoError:
    return PhotoError(say("{file} could not be read: its reader talks nonsense.", file="?"))


def _sound(name: str, value: Any) -> bool:
    if name in _ONE_OF:
        return bool(value in _ONE_OF[name])
    if type(value) in (int, float):
        return bool(1 <= value <= 8 if name in ("orientation", "turn") else 0 <= value < _MOST)
    return True


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
        **{name: getattr(credit, name) for name in ("by", "rights", "caption", "date")},
        **{
            name: [[tag, _value_told(value)] for tag, value in getattr(credit, name).items()]
            for name in ("camera", "place")
        },
    }


def credit(held: Any) -> Credit:
    """What a photo tells, from JSON; what cannot be is as if it were not told."""
    try:
        texts = [str(held[name]) for name in ("by", "rights", "caption", "date")]
        tags = [
            {int(tag): _value(value) for tag, value in held[name]} for name in ("camera", "place")
        ]
    except (AttributeError, TypeError, ValueError, KeyError, ZeroDivisionError, binascii.Error):
        return Credit()
    by, rights, caption, date = texts
    camera, place = tags
    return Credit(by, rights, caption, date, camera, place)


def _value_told(value: Any) -> Any:
    if isinstance(value, bytes):
        return {"bytes": base64.b64encode(value).decode()}
    if isinstance(value, IFDRational) and isinstance(value.numerator, int):
        return {"ratio": [int(value.numerator), int(value.denominator)]}
    if isinstance(value, (tuple, list)):
        return {"several": [_value_told(one) for one in value]}
    if isinstance(value, (bool, int, str)):
        return value
    if isinstance(value, (float, IFDRational)):
        return {"float": float(value).hex()}
    return str(value)


def _value(held: Any) -> Any:
    if not isinstance(held, dict):
        return held
    if "bytes" in held:
        return base64.b64decode(held["bytes"], validate=True)
    if "ratio" in held:
        above, below = held["ratio"]
        return IFDRational(int(above), int(below))
    if "several" in held:
        return tuple(_value(one) for one in held["several"])
    return float.fromhex(held["float"])
