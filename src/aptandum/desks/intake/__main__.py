"""``python -m aptandum.desks.intake``: opens a desk on this machine and says where.

The first line that it prints is ``{"address": …, "token": …}``. It listens on 127.0.0.1 alone, and
with ``--with-parent`` closes when its standard input does, so that it never outlives whoever
opened it.
"""

from __future__ import annotations

import argparse
import json
import logging
import os
import secrets
import sys
import threading
from collections.abc import Sequence
from pathlib import Path

from waitress.server import create_server

from aptandum.core.rulebook.problems import RulebookError
from aptandum.core.rulebook.toml import parse_rulebook
from aptandum.desks.intake.web import Conditions, Desk, intake


def main(words: Sequence[str] | None = None) -> int:
    """Open a desk as its arguments say (left out: the command line's) and serve until stopped."""
    parser = argparse.ArgumentParser("aptandum-desk", description="A simulated desk.")
    parser.add_argument("--rulebook", required=True, help="the rulebook of the desk's body")
    parser.add_argument("--folder", required=True, help="where its books and files lie")
    parser.add_argument("--port", type=int, default=0, help="0: any that is free")
    parser.add_argument("--conditions", default="{}", help="as JSON")
    parser.add_argument("--seed", type=int, default=0, help="of its mishaps; 0: another each time")
    parser.add_argument("--token", default="", help="what a caller must know; left out: made up")
    parser.add_argument("--with-parent", action="store_true", help="close with standard input")
    given = parser.parse_args(words)
    logging.getLogger("waitress").setLevel(logging.CRITICAL)  # mishaps that were asked for
    logging.getLogger("aptandum-desk").setLevel(logging.CRITICAL)
    try:
        # Pictures that a rulebook names need not lie beside it: a desk draws nothing.
        book = parse_rulebook(Path(given.rulebook).read_text("utf-8"))
        conditions = Conditions().having(json.loads(given.conditions))
        folder = Path(given.folder)
        folder.mkdir(parents=True, exist_ok=True)
        desk = Desk(book, folder, conditions, given.seed)
    except (RulebookError, ValueError, OSError) as error:
        print(json.dumps({"error": str(error)}), flush=True)
        return 2
    token = given.token or secrets.token_urlsafe(16)
    try:
        server = create_server(
            intake(desk, token), host="127.0.0.1", port=given.port, threads=8,
            connection_limit=1000, channel_timeout=30, cleanup_interval=5, max_request_header_size=65_536,
        )  # fmt: skip
    except OSError as error:
        print(json.dumps({"error": str(error)}), flush=True)
        return 2
    address = f"http://127.0.0.1:{server.effective_port}"
    print(json.dumps({"address": address, "token": token}), flush=True)
    if given.with_parent:

        def watch() -> None:
            sys.stdin.buffer.read()
            os._exit(0)

        threading.Thread(target=watch, daemon=True).start()
    server.run()
    return 0


if __name__ == "__main__":
    sys.exit(main())
