"""Who sits here."""

from __future__ import annotations

import getpass

from aptandum.ui import preferences
from aptandum.ui.strings import t


def person() -> str:
    """Who answers: the name that a person has given, else that of the account."""
    given = preferences.person()
    if given:
        return given
    try:
        return getpass.getuser()
    except (KeyError, OSError):
        return t("someone")
