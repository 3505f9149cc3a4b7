"""Opening simulated desks: one process for each body, on this machine, closed with its keeper."""

from __future__ import annotations

import contextlib
import json
import os
import subprocess
import sys
import threading
from collections.abc import Callable
from pathlib import Path
from typing import Any

from platformdirs import user_data_path

import aptandum
from aptandum.core.atomic import write_atomic
from aptandum.core.brief.model import Rulebook
from aptandum.core.words import say
from aptandum.desks.client import Address, Desk, NotNow

_PATIENCE = 20.0
"""Seconds in which a desk must have opened."""


def own_folder() -> Path:
    """Where the simulated desks keep their books."""
    return user_data_path("aptandum", appauthor=False) / "desks"


class Opened:
    """A desk's process and its address."""

    def __init__(self, book: Rulebook, folder: Path, conditions: dict[str, Any], seed: int) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        rules = folder / "rulebook.toml"
        write_atomic(rules, book.text)
        root = str(Path(aptandum.__file__).resolve().parent.parent)
        paths = [root, *filter(None, [os.environ.get("PYTHONPATH")])]
        self.process = subprocess.Popen(
            [
                sys.executable,
                "-m",
                "aptandum.desks.intake",
                "--rulebook",
                str(rules),
                "--folder",
                str(folder),
                "--conditions",
                json.dumps(conditions),
                "--seed",
                str(seed),
                "--with-parent",
            ],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            env={**os.environ, "PYTHONPATH": os.pathsep.join(paths)},
        )
        timer = threading.Timer(_PATIENCE, self.process.kill)
        timer.start()
        assert self.process.stdout is not None
        line = self.process.stdout.readline()
        timer.cancel()
        try:
            told = json.loads(line)
            self.address = Address(told["address"], told["token"])
        except (ValueError, KeyError, TypeError):
            self.close()
            why = ""
            with contextlib.suppress(ValueError, AttributeError):
                why = str(json.loads(line).get("error", ""))
            raise NotNow(
                say("The desk of {body} did not open. {why}", body=book.body.name, why=why).strip()
            ) from None

    @property
    def runs(self) -> bool:
        return self.process.poll() is None

    def close(self) -> None:
        if self.process.stdin is not None:
            with contextlib.suppress(OSError):
                self.process.stdin.close()
        self.process.terminate()
        with contextlib.suppress(subprocess.TimeoutExpired):
            self.process.wait(5)
        if self.process.stdout is not None:
            self.process.stdout.close()


class Simulated:
    """The simulated desks of a person, opened when they are first asked for.

    Args:
        book_of: a body's rulebook by its id; raises ``LookupError`` where there is none.
        conditions: that a desk opens with, by its body's id.
    """

    def __init__(
        self,
        book_of: Callable[[str], Rulebook],
        folder: Path | None = None,
        conditions: Callable[[str], dict[str, Any]] | None = None,
        timeout: float = 20.0,
        seed: int = 0,
    ) -> None:
        self.book_of, self.folder, self.timeout = book_of, folder or own_folder(), timeout
        self.conditions = conditions or (lambda body: {})
        self.seed = seed
        self._open: dict[str, tuple[Opened, Desk]] = {}
        self._lock = threading.Lock()
        self._over = False

    def desk(self, body: str) -> Desk:
        """A body's desk, opened where it is not.

        Raises:
            NotNow: it cannot be opened.
        """
        with self._lock:
            if self._over:
                raise NotNow(say("The desks are closed."), untouched=True)
            held = self._open.get(body)
            if held is not None and held[0].runs:
                return held[1]
            try:
                book = self.book_of(body)
            except LookupError:
                sentence = say("There is no rulebook of {body} to open its desk by.", body=body)
                raise NotNow(sentence) from None
            opened = Opened(book, self.folder / book.body.id, self.conditions(body), self.seed)
            desk = Desk(opened.address, self.timeout)
            self._open[body] = opened, desk
            return desk

    def is_open(self, body: str) -> bool:
        """Whether a body's desk runs."""
        held = self._open.get(body)
        return held is not None and held[0].runs

    def close(self, body: str | None = None) -> None:
        """Close one desk, or all; after all are closed none is opened any more."""
        with self._lock:
            self._over = self._over or body is None
            for name in [body] if body is not None else list(self._open):
                held = self._open.pop(name, None)
                if held is not None:
                    held[1].close()
                    held[0].close()
