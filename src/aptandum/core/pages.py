"""Pages of Markdown in another language: put together again from the words of each of their paragraphs."""

from __future__ import annotations

from collections.abc import Callable

_MARKS = ("- ", "|", "#")


def reworded(page: str, each: Callable[[str], str]) -> str:
    """A page with each paragraph, heading, line of a list and cell of a table through ``each``. What runs as it stands
    (between three back ticks) is left as it is."""
    made, code = [], False
    for block in page.split("\n\n"):
        fences = block.count("```")
        made.append(block if code or fences else _block(block, each))
        code = code != (fences % 2 == 1)
    return "\n\n".join(made)


def _block(block: str, each: Callable[[str], str]) -> str:
    lines = block.split("\n")
    if not any(line.startswith(_MARKS) or line[:2].rstrip(".").isdigit() for line in lines):
        words = block.strip("\n")
        return block.replace(words, each(words)) if words.strip() else block
    return "\n".join(_line(line, each) for line in lines)


def _line(line: str, each: Callable[[str], str]) -> str:
    if line.startswith("|"):
        cells = [cell.strip() for cell in line.strip("|").split("|")]
        if all(set(cell) <= {"-", ":"} for cell in cells):
            return line
        return f"| {' | '.join(each(cell) if cell else cell for cell in cells)} |"
    mark, _gap, rest = line.partition(" ")
    return f"{mark} {each(rest)}" if rest.strip() else line
