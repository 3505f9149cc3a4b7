"""The package's file of copyrights: ours, and that of every library and thing that is in it, with the texts.

licences.py SITE_PACKAGES SOURCES > copyright
"""

from __future__ import annotations

import email
import re
import sys
from pathlib import Path

TEXTS = re.compile(r"licen|copying|notice|authors|third", re.IGNORECASE)


def as_field(text: str) -> str:
    """A text as the continuation of a field (Debian policy, machine-readable copyright files)."""
    return "\n".join(" " + (line.rstrip() or ".") for line in text.splitlines())


def main() -> None:
    """Print it; libraries without a text of their own are named on standard error."""
    site, sources = map(Path, sys.argv[1:])
    lacking = []
    print("Format: https://www.debian.org/doc/packaging-manuals/copyright-format/1.0/")
    print("Upstream-Name: aptandum\n")
    print("Files: *\nCopyright: The Aptandum developers\nLicense: GPL-3.0-or-later")
    print(" On Debian systems the text is in /usr/share/common-licenses/GPL-3.\n")
    for info in sorted(site.glob("*.dist-info")):
        told = email.message_from_string((info / "METADATA").read_text("utf-8", "replace"))
        name = str(told["Name"])
        if name == "aptandum":
            continue
        classed = [
            c.split(" :: ")[-1] for c in told.get_all("Classifier", []) if c.startswith("License")
        ]
        licence = (
            told["License-Expression"]
            or (told["License"] or "").split("\n")[0]
            or "; ".join(classed)
            or "see text"
        )
        texts = [
            file for file in sorted(info.rglob("*")) if file.is_file() and TEXTS.search(file.name)
        ]
        if name.startswith("opencv"):
            texts += sorted((site / "cv2").glob("LICENSE*"))
        if not texts:
            lacking.append(f"{name} ({licence})")
        print(
            f"Files: opt/aptandum/lib/python3.11/site-packages/{name}*\nComment: {name} {told['Version']}"
        )
        print(f"Copyright: its authors, see below\nLicense: {licence}")
        for file in texts:
            print(f" -- {file.name}\n{as_field(file.read_text('utf-8', 'replace'))}")
        print()
    for file in sorted((sources / "src/aptandum/data/licences").glob("*")):
        print("Files: opt/aptandum/lib/python3.11/site-packages/aptandum/data/*")
        print(f"Copyright: see below\nLicense: {file.stem}\n{as_field(file.read_text('utf-8'))}\n")
    print("no text of a licence in its wheel:", ", ".join(lacking) or "none", file=sys.stderr)


if __name__ == "__main__":
    main()
