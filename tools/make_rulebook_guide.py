"""Writes the guide for those who write rules and the JSON Schema, from the one description of the language.

    python tools/make_rulebook_guide.py [--check]

With ``--check`` nothing is written: it ends with 1 where a file is not what it should be.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

from aptandum.core.rulebook.guide import guide
from aptandum.core.rulebook.schema import schema

DOCS = Path(__file__).parent.parent / "docs"


def made() -> dict[Path, str]:
    """Both files and what they should hold."""
    return {
        DOCS / "rulebooks.md": guide(),
        DOCS / "rulebook.schema.json": json.dumps(schema(), indent=1, ensure_ascii=False) + "\n",
    }


def main() -> int:
    stale = [path for path, text in made().items() if not path.exists() or path.read_text() != text]
    if "--check" in sys.argv:
        return int(bool(stale))
    for path, text in made().items():
        path.write_text(text)
        print(path)
    return 0


if __name__ == "__main__":
    sys.exit(main())
