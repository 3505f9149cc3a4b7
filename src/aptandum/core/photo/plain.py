"""Facts and metadata as JSON can say them, there and back; what comes back from a reader is looked at first."""

from __future__ import annotations

import base64
import binascii
from collections.abc import Mapping
from dataclasses import asdict, fields
from typing import Any

from PIL.TiffImagePlugin import IFDRational

from aptandum.core.photo.facts import FORMATS, Facts, PhotoError
from aptandum.core.photo.metadata_groups import Credit
from aptandum.core.photo.profile import SPACES, Profile
from aptandum.core.words import say

_NAMES = tuple(field.name for field in fields(Facts))
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
    held = {name: getattr(facts, name) for name in _NAMES}
    held["icc_bytes"] = base64.b64encode(facts.icc_bytes).decode()
    held["profile"] = None if facts.profile is None else asdict(facts.profile)
    return {name: value for name, value in held.items() if value is not None}


def facts(held: Any) -> Facts:
    """Facts from JSON.

    Raises:
        PhotoError: a reader says what cannot be.
    """
    try:
        made = {name: _checked(name, held.get(name)) for name in _KINDS}
        icc = base64.b64decode(held.get("icc_bytes", ""), validate=True)
        profile = held.get("profile")
        known = None if profile is None else _profile(profile)
    except (AttributeError, TypeError, ValueError, KeyError, binascii.Error):
        raise PhotoError(
            say("{file} could not be read: its reader talks nonsense.", file="?")
        ) from None
    made["location"], made["turn"] = bool(made["location"]), made["turn"] or 1
    return Facts(**{**made, "file": made["file"] or ""}, icc_bytes=icc, profile=known)


def _checked(name: str, value: Any) -> Any:
    if value is None:
        return None
    if not isinstance(value, _KINDS[name]) or (
        isinstance(value, bool) and bool not in _KINDS[name]
    ):
        raise ValueError(name)
    if name in _ONE_OF and value not in _ONE_OF[name]:
        raise ValueError(name)
    if isinstance(value, (int, float)) and not 0 <= value < _MOST:
        raise ValueError(name)
    if name in ("orientation", "turn") and value not in range(1, 9):
        raise ValueError(name)
    return value


def _profile(held: Mapping[str, Any]) -> Profile:
    said, why, space, channels = (held[k] for k in ("description", "broken", "space", "channels"))
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
