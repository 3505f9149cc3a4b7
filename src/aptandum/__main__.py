"""``aptandum``: the application without arguments, the command line with them."""

from __future__ import annotations

import gc
import io
import os
import stat
import sys

_BEGINS = (("jpeg", b"\xff\xd8\xff"), ("png", b"\x89PNG"), ("tiff", b"II*\0"), ("tiff", b"MM\0*"))
"""What is read so often that a reader is made ready for it alone; a wrong guess costs time, and nothing else."""
_READ_PHOTOS = ("facts", "check", "conform", "audit")


def _format_of(args: list[str]) -> str:
    """The format of the one file whose facts are asked for, by its first bytes; empty: it is not as easy as that."""
    files = [arg for arg in args if arg not in ("--json", "--quick")]
    try:
        if len(files) != 1 or not stat.S_ISREG(os.stat(files[0]).st_mode):
            return ""
        with open(files[0], "rb", buffering=0) as stream:
            head = stream.read(4)
    except (OSError, ValueError):
        return ""
    return next((name for name, begins in _BEGINS if head.startswith(begins)), "")


def main() -> None:
    """Enter by the command line, which opens the application where that is what was asked."""
    args = sys.argv[1:]
    if args in (["--version"], ["-V"]):  # before anything is imported
        from aptandum import __version__

        print(f"aptandum {__version__}")
        return
    gc.disable()  # while modules are loaded, nothing is thrown away
    if "--json" in args or (args[:1] == ["audit"] and "--out" in args):
        # What machines read is the same whatever the system's language is.
        os.environ["APTANDUM_LANGUAGE"] = "C"
    from aptandum.language import use_kept

    use_kept()
    for stream in (sys.stdout, sys.stderr):  # what a terminal cannot show is written out
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="backslashreplace")
    if args[:1] and args[0] in _READ_PHOTOS and "--help" not in args:
        from aptandum.core.readers.pool import shared

        # It makes itself ready while the rest is imported.
        shared().warm(_format_of(args[1:]) if args[0] == "facts" else "")
    from aptandum.cli.main import run
    from aptandum.start import open_window

    gc.enable()

    sys.exit(run(args, open_window))


if __name__ == "__main__":
    main()
