"""The language that a person has chosen in the settings, before any word is said.

Words are translated when the process starts, so this is read before anything else is imported; it
needs nothing but the standard library.
"""

from __future__ import annotations

import json
import os
from pathlib import Path

NAMES = {"en": "English", "de": "Deutsch", "es": "Español", "fr": "Français"}
"""The languages that the application speaks, each by its own name for itself."""


def kept() -> str:
    """What is kept for this machine: one of :data:`NAMES`; empty: as the system has it."""
    state = os.environ.get("XDG_STATE_HOME", "").strip() or "~/.local/state"
    try:
        path = Path(state).expanduser() / "aptandum" / "preferences.json"
        held = json.loads(path.read_text("utf-8"))
    except (OSError, ValueError, RuntimeError):
        return ""
    language = held.get("language") if isinstance(held, dict) else None
    return language if isinstance(language, str) and language in NAMES else ""


def use_kept() -> None:
    """Speak it from here on, in this process and those that it starts; what the environment names
    goes before it."""
    if not os.environ.get("APTANDUM_LANGUAGE"):
        language = kept()
        if language:
            os.environ["APTANDUM_LANGUAGE"] = language
