"""Which commands there are, what each is for, and where it is found.

``--help`` lists them from here; the module of a command is imported when it is called, and no other.
"""

from __future__ import annotations

import importlib
from typing import Any

import typer
from typer.core import TyperCommand, TyperGroup

from aptandum.cli.parser_words import speaking
from aptandum.core.frozen import frozen
from aptandum.core.words import say


@frozen
class Named:
    """A command.

    Attributes:
        module: its module's name below :mod:`aptandum.cli`.
        function: the function there, or the parser of commands within it.
        says: what it is for, in a sentence.
    """

    module: str
    function: str
    says: str


COMMANDS = {
    "facts": Named("checking", "facts", say("Facts of picture files, read from their content.")),
    "check": Named(
        "checking",
        "check",
        say("Findings of files as they are, against a brief; nothing is changed or written."),
    ),
    "conform": Named(
        "conforming",
        "conform_command",
        say("Make the files that meet a brief, read them back, and judge their bytes."),
    ),
    "audit": Named(
        "audits",
        "audit_command",
        say(
            "What of a folder or a listing is in danger under a brief, and why. Nothing is changed."
        ),
    ),
    "watch": Named(
        "watching",
        "watch_command",
        say("Conform and prove whatever arrives in a folder, each content once, until Ctrl-C."),
    ),
    "report": Named(
        "checking",
        "report_command",
        say("Prove every fitting of a docket in memory and write its conformity report."),
    ),
    "prints": Named(
        "prints",
        "prints_command",
        say("Lay finished files on a sheet of paper at their true size, with marks to cut by."),
    ),
    "rulebook": Named(
        "rulebooks",
        "rulebook_app",
        say("Rulebooks: what is on the shelf, and whether a file is sound."),
    ),
    "hand-over": Named(
        "hand_overs",
        "hand_over",
        say("Hand files over to a body's desk, and wait for its verdicts. Each is taken once."),
    ),
    "handed": Named("hand_overs", "handed", say("What has been handed over, and how it stands.")),
    "desk": Named(
        "hand_overs",
        "open_desk",
        say(
            "Open a simulated desk on this machine, until Ctrl-C. Its first line says where it is."
        ),
    ),
}
"""By name, in the order in which they are listed."""


def parser(says: str | None = None) -> typer.Typer:
    """A parser that says nothing of its own: no colours, no completion that runs Python at each Tab."""
    return typer.Typer(
        help=says,
        no_args_is_help=False,
        add_completion=False,
        rich_markup_mode=None,
        pretty_exceptions_enable=False,
    )


def command_of(name: str) -> Any:
    """A command with its options, whose module is imported now."""
    named = COMMANDS[name]
    found = getattr(importlib.import_module(f"aptandum.cli.{named.module}"), named.function)
    if isinstance(found, typer.Typer):
        return typer.main.get_command(found)
    alone = parser()
    alone.command(name, help=named.says)(found)
    return typer.main.get_command(alone)


__all__ = ["COMMANDS", "Commands", "Named", "command_of", "parser"]


class Commands(TyperGroup):
    """All of them, none of them imported before it is called."""

    def __init__(self) -> None:
        known = [TyperCommand(name, help=one.says) for name, one in COMMANDS.items()]
        super().__init__(name="aptandum", commands=list(known), rich_markup_mode=None)

    def make_context(self, *given: Any, **named: Any) -> Any:
        """Where a call stands, with what the library says of itself translated."""
        told = self.context_class
        if not getattr(told.formatter_class, "speaks", False):
            told.formatter_class = speaking(told.formatter_class)
        return super().make_context(*given, **named)

    def list_commands(self, ctx: Any) -> list[str]:
        """Their names, in the order of the table."""
        return list(COMMANDS)

    def get_command(self, ctx: Any, cmd_name: str) -> Any:
        """The one that is called."""
        return command_of(cmd_name) if cmd_name in COMMANDS else None

    def format_commands(self, ctx: Any, formatter: Any) -> None:
        """What ``--help`` says of them: all of it, not its first words."""
        with formatter.section(say("Commands")):
            formatter.write_dl([(name, one.says) for name, one in COMMANDS.items()])
