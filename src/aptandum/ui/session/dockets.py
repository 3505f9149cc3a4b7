"""The docket's own file: opening and saving it, and what a crash has left."""

from __future__ import annotations

import contextlib
import gc
import os
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QObject

from aptandum.core import mistakes
from aptandum.core.docket import recovery
from aptandum.core.docket import store as files
from aptandum.core.docket.model import Docket, PhotoEntry
from aptandum.core.docket.moved import look_for, same
from aptandum.core.docket.reach import outside
from aptandum.core.file.free_name import free
from aptandum.ui import preferences
from aptandum.ui.jobs import Jobs
from aptandum.ui.session.autosave import Autosave
from aptandum.ui.session.bench_model import BenchModel
from aptandum.ui.session.docket_store import DocketStore
from aptandum.ui.session.photo_store import PhotoStore
from aptandum.ui.strings import commas, sentences, t, t_n


class Dockets(QObject):
    """Opens, saves and leaves dockets, and notices when one changes on the disk.

    Attributes:
        may_show: asks the person whether pictures in these folders may be shown, which a docket names outside
            its own.
    """

    def __init__(
        self,
        store: DocketStore,
        photos: PhotoStore,
        model: BenchModel,
        autosave: Autosave,
        jobs: Jobs,
        tell: Callable[..., None],
        parent: QObject | None = None,
    ) -> None:
        super().__init__(parent)
        self._store, self._photos, self._model = store, photos, model
        self._autosave, self._jobs, self._tell = autosave, jobs, tell
        self._open_mark = recovery.OpenMark()
        self._holds_still = False
        self.may_show: Callable[[list[str]], bool] = lambda folders: True
        self._told_of = ""  # the content of the file that a change on the disk was last told of

    def new(self) -> None:
        """Begin an empty docket."""
        self._model.bench = None
        self._store.open(Docket.empty(t("Untitled docket")), None, None)
        self._open_mark.leave()
        self._model.opened.emit()
        self._model.changed.emit()

    def load(self, path: Path, keep_path: bool = True) -> bool:
        """Open a docket; False where it cannot be read (which is said).

        Args:
            keep_path: saving goes back to this file; else the docket is a new one.
        """
        try:
            on_disk = files.digest_on_disk(path)
            found = files.load_telling(path)
        except files.DocketError as error:
            self._tell(str(error))
            return False
        saved = found.docket
        self._model.bench = None
        docket, remarks = saved, list(found.remarks)
        far = outside(saved, path, preferences.photo_folders())
        if far.folders and not self.may_show(list(far.folders)):
            docket = saved.without_photos(far.photos).without_fittings(far.fittings)
            if far.photos:
                remarks.append(
                    t_n(
                        "{n} photo from outside its folder is left out.",
                        "{n} photos from outside its folder are left out.",
                        len(far.photos),
                    )
                )
            n = len(saved.without_photos(far.photos).fittings) - len(docket.fittings)
            if n:
                remarks.append(
                    t_n(
                        "{n} fitting that uses a picture from outside its folder is left out.",
                        "{n} fittings that use pictures from outside its folder are left out.",
                        n,
                    )
                )
        self._store.open(docket, path if keep_path else None, saved, on_disk if keep_path else "")
        self._compare_digests()
        # Looking through a large docket for rings of objects would hold the interface for as long
        # as four frames, every now and then; it holds none.
        gc.unfreeze()
        gc.freeze()
        self._holds_still = True
        self._open_mark.leave()
        if keep_path:
            recovery.remember(path)
            self._enter(path)
        self._model.changed.emit()
        self._find_moved(path)
        if remarks:
            said = t("{file} is open; a part of it could not be used.", file=path.name)
            self._tell(sentences([said, *remarks]))
        if not (docket.fittings and self._model.lay(docket.fittings[0].id)):
            self._model.opened.emit()
        return True

    def _enter(self, path: Path) -> None:
        """Say where another window has the same docket open."""
        if not self._open_mark.enter(path):
            self._tell(
                t(
                    "{file} is open in another window of Aptandum as well. Before one is saved over "
                    "the other’s changes you are asked.",
                    file=path.name,
                ),
                "note",
            )

    # -- saving ----------------------------------------------------------------------------------

    def changed_on_disk(self) -> bool:
        """Whether the docket's file holds something else than what we read or wrote last."""
        path = self._store.path
        if path is None or not self._store.on_disk:
            return False
        return files.digest_on_disk(path) not in ("", self._store.on_disk)

    def watch(self) -> None:
        """Say once where the docket's file has been changed by somebody else."""
        path = self._store.path
        if path is None or not self.changed_on_disk():
            return
        found = files.digest_on_disk(path)
        if found != self._told_of:
            self._told_of = found
            self._tell(
                t(
                    "{file} has been changed on the disk by another window or program. Nothing is "
                    "written over it before you are asked.",
                    file=path.name,
                ),
                "note",
            )

    def save(self, path: Path, over_changes: bool = False) -> bool:
        """Save the docket; False where it was not, which is said. What another program has written
        into its file since we read it is written over only where ``over_changes``."""
        here = self._store.path is not None and _same_place(self._store.path, path)
        if here and not over_changes and self.changed_on_disk():
            self._tell(
                t(
                    "{file} was not saved: it has been changed on the disk since it was opened.",
                    file=path.name,
                )
            )
            return False
        docket = self._store.docket
        if not self._store.path and docket.title == t("Untitled docket"):
            docket = docket.model_copy(update={"title": path.stem})
        try:
            files.save(docket.with_digests(self._photos.digests), path)
        except files.DocketError as error:
            self._tell(str(error))
            return False
        moved = not here
        self._store.was_saved(docket, path, files.digest_on_disk(path))
        recovery.remember(path)
        if moved:
            self._open_mark.leave()
            self._enter(path)
        return True

    def save_beside(self) -> Path | None:
        """Save under the first free name beside the docket's own file, which stays as it is; where
        it went."""
        path = self._store.path
        if path is None:
            return None
        target = free(path)
        if not self.save(target):
            return None
        self._tell(t("Saved beside it, as {file}.", file=target.name), "done")
        return target

    def take_theirs(self) -> bool:
        """Take the docket as it is on the disk now, as a step that can be undone."""
        path = self._store.path
        if path is None:
            return False
        try:
            on_disk, theirs = files.digest_on_disk(path), files.load(path)
        except files.DocketError as error:
            self._tell(str(error))
            return False
        self._store.do(t("Take what is on the disk"), theirs)
        self._store.was_saved(theirs, path, on_disk)
        return True

    def close(self) -> None:
        """The window is closed: nobody has the docket open any more."""
        self._open_mark.leave()
        if self._holds_still:
            gc.unfreeze()  # what was held for the docket's sake may go

    # -- after a crash ---------------------------------------------------------------------------

    def recover(self) -> bool:
        """Open again what was open when the application was last killed."""
        for file in recovery.tried_before():
            self._set_aside(file)
        left = recovery.left_behind()
        if not left:
            return False
        first = left[0]
        with contextlib.suppress(OSError):
            first = replace(first, file=recovery.tried(first.file))
        try:
            return self._open_again(first, len(left) - 1)
        except Exception as error:  # whatever it is, the window opens
            mistakes.note(error)
            self._set_aside(first.file)
            self.new()
            return False

    def _set_aside(self, file: Path) -> None:
        """Say that what was open cannot be opened, and where it is kept."""
        try:
            kept = recovery.set_aside(file)
        except OSError:
            kept = file
        self._tell(
            t(
                "What was open when Aptandum was last closed cannot be opened; it is kept as {file}.",
                file=kept,
            )
        )

    def _open_again(self, first: recovery.Left, more: int) -> bool:
        saved = None
        if first.path is not None:
            with contextlib.suppress(files.DocketError):
                saved = files.load(first.path)
        self._model.bench = None
        self._store.open(first.docket, first.path, saved, first.on_disk)
        if first.path is not None:
            self._enter(first.path)
        known = [fitting.id for fitting in first.docket.fittings]
        if known:
            self._model.lay(first.fitting if first.fitting in known else known[0])
        said = t(
            "Aptandum was closed without warning. “{name}” is open as it was.",
            name=first.docket.title or t("Untitled docket"),
        )
        if more:
            said = sentences([said, t("{n} more will be offered at the next start.", n=more)])
        self._tell(said, "note")
        keeper = self._autosave.keeper
        if keeper is not None:  # written anew under our own name before the old one goes
            keeper.keep(self._store.docket, self._store.path, first.fitting, first.on_disk)
        first.file.unlink(missing_ok=True)
        return True

    # -- photos that are elsewhere, or others ----------------------------------------------------

    def _find_moved(self, beside: Path) -> None:
        """Look for photos that are not where they were, beside the interface; those found are taken in as a
        step that can be undone."""
        docket = self._store.docket
        entries = list(docket.photos)
        home = beside.resolve().parent

        def work(late: Callable[[], bool]) -> tuple[list[PhotoEntry], dict[str, Path]]:
            gone = [e for e in entries if not late() and not os.path.isfile(e.path)]
            if not gone:
                return [], {}
            gone_ids = {e.id for e in gone}
            folders = [home, *(Path(e.path).parent for e in entries if e.id not in gone_ids)]
            return gone, look_for(gone, folders, late)

        def done(result: tuple[list[PhotoEntry], dict[str, Path]]) -> None:
            gone, found = result
            if gone:
                self._take_moved(gone, found)

        self._jobs.latest("moved", work, done)

    def _take_moved(self, gone: list[PhotoEntry], found: dict[str, Path]) -> None:
        docket = self._store.docket
        here = {(entry.id, entry.path) for entry in docket.photos}
        gone = [entry for entry in gone if (entry.id, entry.path) in here]
        if not gone:
            return  # another docket is open by now
        found = {e.id: found[e.id] for e in gone if e.id in found}
        if found:
            moved = docket.at_all({ident: str(path) for ident, path in found.items()})
            self._store.do(t("Photos found again"), moved)
            if self._model.bench is None:
                first = next((f for f in moved.fittings if f.photo in found), None)
                if first is not None:
                    self._model.lay(first.id)
        names = [os.path.basename(e.path) for e in gone]
        there = [n for e, n in zip(gone, names, strict=True) if e.id in found]
        lost = [n for e, n in zip(gone, names, strict=True) if e.id not in found]
        said = []
        if there:
            said.append(t("Found again by its content: {files}.", files=_few(there)))
        if lost:
            said.append(
                t(
                    "Not found: {files}. “Find a photo…” says where it is.",
                    files=_few(lost),
                )
            )
        self._tell(sentences(said), "trouble" if lost else "note")

    def _compare_digests(self) -> None:
        """Say which photos have changed since the docket was saved; read beside the interface."""
        entries = [e for e in self._store.docket.photos if e.digest and os.path.exists(e.path)]
        if not entries:
            return

        def work(late: Callable[[], bool]) -> list[str]:
            return [e.path for e in entries if not late() and not same(e, e.path)]

        def done(changed: list[str]) -> None:
            if changed:
                names = commas([Path(path).name for path in changed])
                self._tell(
                    t(
                        "Changed since this docket was saved: {files}. Frames and marks are as they "
                        "were; look whether they still fit.",
                        files=names,
                    )
                )

        self._jobs.latest("digests", work, done)


_MOST_NAMES = 5


def _few(names: list[str]) -> str:
    """The first names of many."""
    more = len(names) - _MOST_NAMES
    return commas(
        [*names[:_MOST_NAMES], *([t_n("{n} more", "{n} more", more)] if more > 0 else [])]
    )


def _same_place(a: Path, b: Path) -> bool:
    return os.path.realpath(a) == os.path.realpath(b)
