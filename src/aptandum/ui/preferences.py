"""What a person has set for this machine, apart from any docket: the screen's profile and size,
and the name under which questions are answered."""

from __future__ import annotations

import contextlib
import json
from pathlib import Path
from typing import Any

from platformdirs import user_state_path

from aptandum.core import bounds
from aptandum.core.atomic import write_atomic
from aptandum.core.errors import AptandumError
from aptandum.core.photo.profile import identify
from aptandum.ui.strings import t

_MOST_BODIES, _MOST_FOLDERS = 12, 200


class ProfileError(AptandumError, ValueError):
    """A file that is no profile for a screen; the message is a sentence."""


def _file() -> Path:
    return user_state_path("aptandum", appauthor=False) / "preferences.json"


def _read() -> dict[str, Any]:
    try:
        held = json.loads(_file().read_text("utf-8"))
    except (OSError, ValueError):
        return {}
    return held if isinstance(held, dict) else {}


def _write(held: dict[str, Any]) -> None:
    path = _file()
    path.parent.mkdir(parents=True, exist_ok=True)
    write_atomic(path, json.dumps(held, indent=1) + "\n")


def screen_profile() -> tuple[str, bytes] | None:
    """The name and bytes of the screen's profile, where one is set and can still be read."""
    path = _read().get("screen_profile")
    if not isinstance(path, str):
        return None
    try:
        return read_profile(path)
    except ProfileError:
        return None


def read_profile(path: str) -> tuple[str, bytes]:
    """A profile for a screen.

    Raises:
        ProfileError: the file cannot be read, or is no RGB profile.
    """
    name = Path(path).name
    try:
        data = Path(path).read_bytes()
    except OSError as error:
        why = (error.strerror or str(error)).lower()
        raise ProfileError(t("{file} cannot be read: {why}.", file=name, why=why)) from None
    found = identify(data)
    if found.broken is not None:
        raise ProfileError(t("{file} is no profile: {why}.", file=name, why=found.broken))
    if found.channels != 3:
        raise ProfileError(t("{file} is no profile for a screen: it is not for RGB.", file=name))
    return found.description or name, data


def use_screen_profile(path: str | None) -> None:
    """Keep the path of the screen's profile; ``None``: sRGB again."""
    held = _read()
    held.pop("screen_profile", None)
    if path is not None:
        held["screen_profile"] = path
    _write(held)


def screen_ppi() -> float | None:
    """Pixels per inch of the screen, as measured with a ruler; ``None``: nobody has."""
    held = _read().get("screen_ppi")
    return float(held) if isinstance(held, (int, float)) and 20 <= held <= 1200 else None


def use_screen_ppi(ppi: float | None) -> None:
    """Keep the screen's pixels per inch; ``None``: as the system says."""
    held = _read()
    held.pop("screen_ppi", None)
    if ppi is not None:
        held["screen_ppi"] = round(ppi, 2)
    _write(held)


def kept_bounds() -> str:
    """The bounds of one photo as ``--limits`` writes them; empty: as usual."""
    held = _read().get("bounds")
    try:
        bounds.read(held if isinstance(held, str) else "")
    except bounds.LimitsError:
        return ""
    return held if isinstance(held, str) else ""


def use_bounds(megapixels: int, seconds: float) -> str:
    """Keep the bounds of one photo; as ``--limits`` writes them."""
    usual = bounds.Bounds()
    text = f"megapixels={megapixels},seconds={round(seconds, 3):g}"
    held = _read()
    held.pop("bounds", None)
    if (megapixels, seconds) != (usual.megapixels, usual.seconds):
        held["bounds"] = text
    _write(held)
    return text


def person() -> str:
    """The name under which a person answers; empty: none was given."""
    held = _read().get("person")
    return held.strip()[:80] if isinstance(held, str) else ""


def use_person(name: str) -> None:
    """Keep the name under which a person answers; empty: the account's again."""
    held = _read()
    held.pop("person", None)
    if name.strip():
        held["person"] = name.strip()[:80]
    _write(held)


def recent_bodies() -> tuple[str, ...]:
    """The ids of the bodies whose rules were used last, the newest first."""
    held = _read().get("recent_bodies")
    return tuple(one for one in held if isinstance(one, str)) if isinstance(held, list) else ()


def remember_body(body_id: str) -> None:
    """Put a body at the head of those used last; a folder that cannot be written is no harm."""
    if recent_bodies()[:1] == (body_id,):
        return
    every = [body_id, *(one for one in recent_bodies() if one != body_id)][:_MOST_BODIES]
    with contextlib.suppress(OSError):
        _write({**_read(), "recent_bodies": every})


def photo_folders() -> tuple[str, ...]:
    """The folders from which photos were opened last, by the person and not by a docket."""
    held = _read().get("photo_folders")
    return tuple(one for one in held if isinstance(one, str)) if isinstance(held, list) else ()


def remember_folder(folder: str) -> None:
    """Note that photos were opened from a folder; a state folder that cannot be written is no harm."""
    if folder in photo_folders():
        return
    with contextlib.suppress(OSError):
        _write({**_read(), "photo_folders": [folder, *photo_folders()][:_MOST_FOLDERS]})


LOOKS = ("system", "light", "dim")
"""As the system says, in daylight, or in a dim room."""


def kept(name: str, usual: Any) -> Any:
    """A setting of the window by its name; ``usual`` where none of its kind is kept."""
    held = _read().get(name, usual)
    return held if type(held) is type(usual) else usual


def keep(**settings: Any) -> None:
    """Keep settings of the window; a folder that cannot be written is no harm."""
    held = _read()
    if any(held.get(name) != value for name, value in settings.items()):
        with contextlib.suppress(OSError):
            _write({**held, **settings})
