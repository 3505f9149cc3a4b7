"""What the library that reads the command line says itself, so that it is translated with the rest.

Its headings ask gettext, and find our catalogue by :func:`aptandum.core.words.lend`; its errors are English
sentences, which are known again here.
"""

from __future__ import annotations

import re
from typing import Any

from aptandum.core.words import as_said, say


def noted(template: str) -> str:
    """A template that the library says; the catalogue has it from here."""
    return template


HEADINGS = (noted("Options"), noted("Commands"), noted("Arguments"), noted("required"),
            noted("default: {default}"), noted("Missing command."))  # fmt: skip
HELP = noted("Show this message and exit.")
ERRORS = (
    noted("Missing option {name}. Choose from: {choices}"),
    noted("Missing option {name}."),
    noted("Missing argument {name}."),
    noted("No such option: {name} (Possible options: {options})"),
    noted("No such option: {name}"),
    noted("Option {name} does not take a value."),
    noted("Option {name} requires an argument."),
    noted("Got unexpected extra argument(s) ({names})"),
    noted("Invalid value for {name}: {why}"),
    noted("Value {value} is not a valid {kind}."),
    noted("{value} is not one of {choices}."),
    noted("{value} is not in the range {range}."),
)
"""The more particular before the more general."""


def speaking(formatter: type[Any]) -> type[Any]:
    """A formatter of help that says in the person's language what the library says in English."""

    class Speaking(formatter):  # type: ignore[misc]
        speaks = True

        def write_usage(self, prog: str, args: str = "", prefix: str | None = None) -> None:
            super().write_usage(prog, args, say("Usage:") + " " if prefix is None else prefix)

        def write_dl(self, rows: Any, *given: Any, **named: Any) -> None:
            told = [(name, as_said(HELP) if says == HELP else says) for name, says in rows]
            super().write_dl(told, *given, **named)

    return Speaking


def translated(message: str) -> str:
    """An error of the parser in the person's language; one that is not known stays as it is."""
    if message.startswith("Input should be a valid number"):
        return say("That is no number.")
    if message.startswith("Input should be a valid integer"):
        return say("That is no whole number.")
    for template in ERRORS:
        pattern = re.sub(r"\\\{(\w+)\\\}", r"(?P<\1>.+)", re.escape(template))
        found = re.fullmatch(pattern, message, re.DOTALL)
        if found:
            fields = found.groupdict()
            if "why" in fields:
                fields["why"] = translated(fields["why"])
            return as_said(template).format(**fields)
    return message
