"""Starting the interface."""

from __future__ import annotations

import gc
import os
import signal
import sys
from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QApplication

from aptandum import __version__
from aptandum.core import bounds, mistakes, workers
from aptandum.core.docket import recovery
from aptandum.core.readers import pool as readers
from aptandum.core.words import from_right
from aptandum.ui import preferences, theme
from aptandum.ui.defence import Defence
from aptandum.ui.home_acts import dress
from aptandum.ui.session import Session
from aptandum.ui.shell import Shell
from aptandum.ui.strings import t


def application() -> QApplication:
    """The one Qt application, with our style and fonts."""
    existing = QApplication.instance()
    if isinstance(existing, QApplication):
        app = existing
        if app.applicationName() == "aptandum":
            return app  # a style set anew would be worked out again for every widget there is
    else:
        app = QApplication(["aptandum"])
    # A thread that works in Python keeps the interface waiting for this long, each time it asks.
    sys.setswitchinterval(0.001)
    app.setApplicationName("aptandum")
    app.setApplicationDisplayName("Aptandum")
    app.setApplicationVersion(__version__)
    app.setDesktopFileName("aptandum")
    app.setWindowIcon(QIcon(theme.drawing("aptandum")))
    app.setStyle("Fusion")
    if from_right():
        app.setLayoutDirection(Qt.LayoutDirection.RightToLeft)
    theme.load_fonts()
    dress()
    app.setFont(theme.text(13))
    return app


def open_shell(
    photos: Sequence[str] = (), brief: str = "", demo: bool = False, rulebooks: Sequence[str] = ()
) -> Shell:
    """The main window with what was asked for on the command line."""
    session = Session()
    shell = Shell(session)
    session.library.add_own_rulebooks()
    screen = preferences.screen_profile()
    session.screen = screen[1] if screen is not None else None
    session.autosave.keeper = recovery.CrashRecord()
    if not (photos or brief or demo):
        session.dockets.recover()
    if rulebooks:
        session.library.add_rulebooks(rulebooks)
        shell.start.fill()
    if demo:
        shell.open_demo()
    if brief:
        shell.start.choose(brief)
        if not shell.start.brief:
            session.tell(t("There is no brief “{name}” on the shelf.", name=brief))
    if photos:
        paths = [os.path.abspath(photo) for photo in photos]
        if brief:  # it is photos that a brief is named for, however many
            shell.take_photos(paths)
        else:
            shell.take_files(paths)
    shell.watch_disk()
    return shell


def _settled() -> None:
    """The window is up: from now on what is not needed any more is looked for, though not among what is there."""
    gc.freeze()
    gc.set_threshold(
        20_000, 20, 20
    )  # lists of a hundred thousand are made without looking through them thirty times
    gc.enable()


def run(
    photos: Sequence[str] = (), brief: str = "", demo: bool = False, rulebooks: Sequence[str] = ()
) -> int:
    """Open the application and stay until it is closed.

    With ``APTANDUM_PICTURE`` set to a path, a picture of the window is saved there once it has
    settled; with ``APTANDUM_QUIT`` also set, the application then closes. scripts/demo uses both
    where there is no display.
    """
    readers.shared().warm()
    if not os.environ.get("APTANDUM_LIMITS"):
        bounds.use(preferences.kept_bounds())
    app = application()
    signal.signal(signal.SIGINT, signal.SIG_DFL)
    mistakes.open_log()
    shell = open_shell(photos, brief, demo, rulebooks)
    Defence(shell.session).put_up()
    shell.show()
    QTimer.singleShot(0, _settled)
    picture = os.environ.get("APTANDUM_PICTURE")
    status = {"code": 0}
    if picture:
        watch = QTimer(shell)
        tries = {"left": 400}

        def look() -> None:
            tries["left"] -= 1
            bench = shell.session.bench
            settled = bench is None or (bench.preview is not None and bench.draft_is_current)
            if not settled and tries["left"] > 0:
                return
            watch.stop()
            QTimer.singleShot(300, finish)

        def finish() -> None:
            saved = shell.grab().save(str(Path(picture)))
            status["code"] = 0 if saved else 1
            if os.environ.get("APTANDUM_QUIT"):
                shell.session.stop()
                app.exit(status["code"])

        watch.timeout.connect(look)
        watch.start(100)
    code = app.exec()
    workers.stop_shared()
    readers.stop_shared()
    sys.stdout.flush()
    return code
