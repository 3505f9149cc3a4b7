"""``aptandum``: the application without arguments, the command line with them."""

from __future__ import annotations

import io
import os
import sys

_READ_PHOTOS = ("facts", "check", "conform", "audit")


def main() -> None:
    """Enter by the command line, which opens the application where that is what was asked."""
    args = sys.argv[1:]
    if args in (["--version"], ["-V"]):  # before anything is imported
        from aptandum import __version__

        print(f"aptandum {__version__}")
        return
    if "--json" in args or (args[:1] == ["audit"] and "--out" in args):
        # What machines read is the same whatever the system's language is.
        os.environ["APTANDUM_LANGUAGE"] = "C"
    for stream in (sys.stdout, sys.stderr):  # what a terminal cannot show is written out
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="backslashreplace")
    if args[:1] and args[0] in _READ_PHOTOS and "--help" not in args:
        from aptandum.core.readers.pool import shared

        shared().warm()  # it makes itself ready while the rest is imported
    from aptandum.cli.main import run
    from aptandum.start import open_window

    sys.exit(run(args, open_window))


if __name__ == "__main__":
    main()
