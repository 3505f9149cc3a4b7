"""``aptandum``: the application without arguments, the command line with them."""

from __future__ import annotations

import sys


def main() -> None:
    """Enter by the command line, which opens the application where that is what was asked."""
    from aptandum.cli.main import run
    from aptandum.start import open_window

    sys.exit(run(sys.argv[1:], open_window))


if __name__ == "__main__":
    main()
