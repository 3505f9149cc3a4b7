"""Manual pages and completions, from the commands as they are.

    command_docs.py FOLDER

Writes ``aptandum.1`` and a page for each command, and static completions for bash, zsh and fish: no Python is
started at a press of Tab.
"""

from __future__ import annotations

import os
import sys
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

os.environ["APTANDUM_LANGUAGE"] = "C"

from aptandum import __version__
from aptandum.cli.commands import COMMANDS, command_of

OPENS = {
    "open": "Open the window with photos, dockets or rulebooks.",
    "demo": "Open the window on a copy of the demo docket.",
}
STATUS = (
    ("0", "Every file meets every rule that must be met."),
    ("1", "At least one file does not."),
    ("2", "Something could not be read, or the call is wrong."),
    ("130", "It was interrupted."),
)
FILES = (
    ("~/.local/share/aptandum", "own rulebooks, and the books of what was handed over"),
    (
        "~/.local/state/aptandum",
        "what is open, recent dockets, batches that can be resumed, the log",
    ),
    ("~/.cache/aptandum", "thumbnails"),
    ("~/.config/aptandum", "settings of the window"),
)
EVERYWHERE = (
    ("--help", "Say what it takes, and end; -h does the same."),
    ("--quiet", "Print nothing but what goes wrong."),
)


def tree() -> list[tuple[tuple[str, ...], Any]]:
    """Every command by the words that call it, groups included."""
    found: list[tuple[tuple[str, ...], Any]] = []
    for name in COMMANDS:
        command = command_of(name)
        found.append(((name,), command))
        found += [
            ((name, inner), one) for inner, one in sorted(getattr(command, "commands", {}).items())
        ]
    return found


def options(command: Any) -> Iterator[tuple[str, bool, str, str]]:
    """Each option: its longest name, whether it takes a value, what that is called, and what it is for."""
    for option in command.params:
        if option.param_type_name == "option" and not getattr(option, "hidden", False):
            name = max(option.opts, key=len)
            value = "" if option.is_flag else (option.metavar or name.strip("-").upper())
            yield name, not option.is_flag, value, option.help or ""


def arguments(command: Any) -> str:
    """What a call names besides options."""
    return " ".join(
        one.metavar or one.name for one in command.params if one.param_type_name == "argument"
    )


# --- manual pages ----------------------------------------------------------------------------------


def roff(text: str) -> str:
    """A text as roff has it."""
    text = text.replace("\\", "\\e").replace("-", "\\-")
    return "\\&" + text if text[:1] in ".'" else text


def page(name: str, says: str, body: list[str]) -> str:
    """A manual page."""
    at = datetime.fromtimestamp(int(os.environ.get("SOURCE_DATE_EPOCH", "1795910400")), UTC)
    head = f'.TH {name.upper()} 1 "{at:%Y-%m-%d}" "aptandum {__version__}" "User Commands"'
    return "\n".join([head, ".SH NAME", f"{roff(name)} \\- {roff(says)}", *body]) + "\n"


def listed(pairs: Iterator[tuple[str, str]] | tuple[tuple[str, str], ...]) -> list[str]:
    """Terms, each with what it means."""
    return [line for term, means in pairs for line in (".TP", f".B {term}", roff(means))]


def option_lines(command: Any) -> list[str]:
    """The options of a command, and those that every one takes."""
    own = [
        (roff(name) + (f" \\fI{roff(value)}\\fR" if takes else ""), says)
        for name, takes, value, says in options(command)
    ]
    return listed((*own, *((roff(name), says) for name, says in EVERYWHERE)))


def manuals() -> dict[str, str]:
    """All pages by their file names."""
    made, commands = {}, tree()
    for words, command in commands:
        name = "-".join(("aptandum", *words))
        inner = [
            one
            for path, one in commands
            if len(path) == 2 and path[0] == words[0] and len(words) == 1
        ]
        takes = "COMMAND" if inner else f"[OPTION ...] {arguments(command)}".strip()
        body = [".SH SYNOPSIS", f".B {roff(' '.join(('aptandum', *words)))}", roff(takes)]
        body += [".SH DESCRIPTION", roff(" ".join((command.help or "").split()))]
        if inner:
            body += [
                ".SH COMMANDS",
                *listed(tuple((roff(one.name), one.help or "") for one in inner)),
            ]
        body += [".SH OPTIONS", *option_lines(command), ".SH EXIT STATUS", *listed(STATUS)]
        body += [".SH SEE ALSO", ".BR aptandum (1)"]
        made[f"{name}.1"] = page(name, (command.help or "").split(". ")[0].rstrip("."), body)
    body = [
        ".SH SYNOPSIS", ".B aptandum", ".br", ".B aptandum open", roff("FILE… [--brief BOOK/BRIEF] [--rulebook FILE]"),
        ".br", ".B aptandum demo", ".br", ".B aptandum", roff("COMMAND [OPTION ...] [FILE ...]"), ".SH DESCRIPTION",
        "Measures photos against the published rules of a receiving body, makes the file that meets them, reads it "
        "back to prove it, and hands it over.", "Without arguments its window opens. With a command the same is done "
        "without a screen; a file named", r".B \-", "is what comes in by standard input.", ".SH COMMANDS",
        *listed((*OPENS.items(), *((roff(name), one.says) for name, one in COMMANDS.items()))),
        "Each has a page of its own, for example", ".BR aptandum\\-conform (1).", ".SH OPTIONS",
        *listed(((r"\-\-version", "Print the version."), *((roff(n), s) for n, s in EVERYWHERE))),
        ".SH EXIT STATUS", *listed(STATUS), ".SH FILES", *listed(FILES), ".SH EXAMPLES", ".nf",
        roff("aptandum check --brief vessary-ferries/deck-pass photo.jpg"),
        roff("aptandum conform --brief vessary-ferries/deck-pass --out finished photos/"),
        roff("aptandum facts --json photos/ | jq .width"), ".fi",
    ]  # fmt: skip
    made["aptandum.1"] = page("aptandum", "makes a photo meet published rules, and proves it", body)
    return made


# --- completions -----------------------------------------------------------------------------------


def for_bash() -> str:
    """Completion for bash."""
    commands = tree()
    paths = [" ".join(words) for words, _command in commands]
    lines = ["# bash completion for aptandum", "_aptandum() {", "  local cur=${COMP_WORDS[COMP_CWORD]} path='' words='' w",
             '  for w in "${COMP_WORDS[@]:1:COMP_CWORD-1}"; do', '    case "${path:+$path }$w" in']  # fmt: skip
    lines += [f'      "{path}") path="{path}" ;;' for path in paths]
    lines += ["    esac", "  done", '  case "$path" in']
    top = [*COMMANDS, *OPENS, "--version", "--help"]
    lines.append(f'    "") words="{" ".join(top)}" ;;')
    for words, command in commands:
        offered = [
            *sorted(getattr(command, "commands", {})),
            *(name for name, *_rest in options(command)),
        ]
        lines.append(
            f'    "{" ".join(words)}") words="{" ".join([*offered, "--help", "--quiet"])}" ;;'
        )
    groups = " || ".join(f'$path == "{w[0]}"' for w, c in commands if getattr(c, "commands", None))
    lines += [
        "  esac", f'  if [[ $cur == -* || ( -z $path && $COMP_CWORD -eq 1 ) || {groups} ]]; then',
        '    COMPREPLY=($(compgen -W "$words" -- "$cur"))', "  fi",
        "  if [[ ${#COMPREPLY[@]} -eq 0 && $cur != -* ]]; then", "    compopt -o filenames 2>/dev/null",
        '    COMPREPLY=($(compgen -f -- "$cur"))', "  fi", "}", "complete -F _aptandum aptandum",
    ]  # fmt: skip
    return "\n".join(lines) + "\n"


def quoted(text: str) -> str:
    """A text for single quotes in a shell's completion."""
    return text.replace("'", "’")


def for_fish() -> str:
    """Completion for fish."""
    lines = ["# fish completion for aptandum"]
    for name, says in (*((n, one.says) for n, one in COMMANDS.items()), *OPENS.items()):
        lines.append(f"complete -c aptandum -n __fish_use_subcommand -a {name} -d '{quoted(says)}'")
    for words, command in tree():
        seen = " ".join(f"; and __fish_seen_subcommand_from {word}" for word in words)[6:]
        for inner, one in sorted(getattr(command, "commands", {}).items()):
            lines.append(
                f"complete -c aptandum -n '{seen}' -f -a {inner} -d '{quoted(one.help or '')}'"
            )
        for name, takes, _value, says in options(command):
            more = "-r " if takes else ""
            lines.append(
                f"complete -c aptandum -n '{seen}' -l {name[2:]} {more}-d '{quoted(says)}'"
            )
    return "\n".join(lines) + "\n"


def for_zsh() -> str:
    """Completion for zsh."""

    def item(text: str) -> str:
        return quoted(text).replace("[", "(").replace("]", ")").replace(":", " -")

    def flags(command: Any) -> str:
        return " ".join(
            f"'{name}[{item(says)}]{':value:_files' if takes else ''}'"
            for name, takes, _value, says in options(command)
        )

    lines = ["#compdef aptandum", "local -a names"]
    every = (*((n, one.says) for n, one in COMMANDS.items()), *OPENS.items())
    lines.append("names=(" + " ".join(f"'{name}:{item(says)}'" for name, says in every) + ")")
    lines += [
        "if (( CURRENT == 2 )); then _describe command names; _files; return; fi",
        "case $words[2] in",
    ]
    for words, command in tree():
        if len(words) == 1:
            inner = getattr(command, "commands", {})
            offered = (
                f"if (( CURRENT == 3 )); then compadd {' '.join(sorted(inner))}; return; fi; "
                if inner
                else ""
            )
            if inner:
                cases = " ".join(
                    f"{name}) _arguments {flags(one)} '*:file:_files';;"
                    for name, one in sorted(inner.items())
                )
                lines.append(f"  {words[0]}) {offered}case $words[3] in {cases} esac;;")
            else:
                lines.append(f"  {words[0]}) _arguments {flags(command)} '*:file:_files';;")
    lines += ["  *) _files;;", "esac"]
    return "\n".join(lines) + "\n"


def main() -> None:
    """Write them."""
    folder = Path(sys.argv[1])
    folder.mkdir(parents=True, exist_ok=True)
    for name, text in manuals().items():
        (folder / name).write_text(text)
    (folder / "aptandum.bash").write_text(for_bash())
    (folder / "aptandum.fish").write_text(for_fish())
    (folder / "_aptandum").write_text(for_zsh())


if __name__ == "__main__":
    main()
