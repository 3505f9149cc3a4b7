"""The pictures of the fitting on the bench: the photo's own, the draft of the file, a close look."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from PyQt6.QtCore import QObject, QTimer

from aptandum.core.conform import as_it_came
from aptandum.core.file.make import Made, make
from aptandum.core.fitting.live import live_reading
from aptandum.core.fitting.plan import Line, Window
from aptandum.core.fitting.record import laid
from aptandum.core.fitting.render import plain, render
from aptandum.core.fitting.screen import for_screen, shown_on
from aptandum.core.judge.findings import judge
from aptandum.core.judge.measure import Mend
from aptandum.core.judge.pixel_statistics import PixelStatistics
from aptandum.core.judge.reading import inside_of, pixels_of
from aptandum.core.mending import Fitted, tried
from aptandum.core.photo.apart import credit_of, facts_of_bytes
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.sound import damage_of
from aptandum.core.trying import makes_of
from aptandum.ui.jobs import Jobs
from aptandum.ui.session.bench import Bench
from aptandum.ui.session.bench_model import BenchModel
from aptandum.ui.session.photo_store import PhotoStore

SETTLE_MS = 140
"""How long after the last change the exact picture is made."""

PREVIEW = 2048
"""Longest side of the photo's own picture on the sheet, in pixels."""

_Draft = tuple[Picture, Any, Made, PixelStatistics, Any, Line | None, dict[str, Mend | None]]


class Drafts(QObject):
    """Makes them beside the interface, each time that what they are made from changes.

    Attributes:
        screen: the screen's own profile, for which pictures are shown; ``None``: sRGB.
    """

    def __init__(
        self,
        model: BenchModel,
        photos: PhotoStore,
        jobs: Jobs,
        tell: Callable[..., None],
        parent: QObject | None = None,
    ) -> None:
        super().__init__(parent)
        self._model, self._photos, self._jobs, self._tell = model, photos, jobs, tell
        self.screen: bytes | None = None
        self._settle = QTimer(self)
        self._settle.setSingleShot(True)
        self._settle.setInterval(SETTLE_MS)
        self._settle.timeout.connect(self.make_draft)
        model.remade.connect(self._settle.start)
        model.laid.connect(self._laid)
        model.opened.connect(self._opened)

    def _laid(self) -> None:
        bench = self._model.bench
        if bench is not None and bench.preview is None:
            self.load_preview()
            self.look_for_damage()
        self._settle.start()

    def _opened(self) -> None:
        if self._model.bench is None:
            self._jobs.drop("draft")

    def use_screen(self, icc: bytes | None) -> None:
        """Show pictures in the screen's own profile; ``None``: as sRGB."""
        if icc == self.screen:
            return
        self.screen = icc
        bench = self._model.bench
        if bench is not None:
            bench.preview = bench.detail = None
            bench.draft = None
            self.load_preview()
            self._settle.start()

    def load_preview(self) -> None:
        """Make the photo's own picture for the sheet."""
        bench = self._model.bench
        if bench is None:
            return
        photo, screen, model = bench.photo, self.screen, self._model

        def work(late: Callable[[], bool]) -> Any:
            return for_screen(shown_on(photo, PREVIEW, cancelled=late, screen=screen), screen)

        def done(picture: Any) -> None:
            if model.bench is not None and model.bench.photo is photo:
                model.bench.preview = picture
            model.pictures.emit()

        def failed(why: str) -> None:
            if model.bench is not None:
                model.bench.trouble = why
            self._tell(why)
            model.pictures.emit()

        self._jobs.latest("preview", work, done, failed)

    def look_for_damage(self) -> None:
        """Read the photo's data once to their end, and say where they are damaged."""
        bench = self._model.bench
        if bench is None:
            return
        photo, model = bench.photo, self._model

        def done(found: str) -> None:
            if model.bench is not None and model.bench.photo is photo and found:
                model.bench.damage = found
                self._tell(found)
                model.changed.emit()

        self._jobs.latest("sound", lambda _late: damage_of(photo), done, lambda _why: None)

    def load_detail(self, window: Window, longest: int) -> None:
        """Make a sharper picture of a part of the photo, for a close look as supplied."""
        bench = self._model.bench
        if bench is None:
            return
        photo, screen, model = bench.photo, self.screen, self._model

        def work(late: Callable[[], bool]) -> Any:
            return for_screen(shown_on(photo, longest, window, late, screen), screen)

        def done(picture: Any) -> None:
            if model.bench is not None and model.bench.photo is photo:
                model.bench.detail = (window, picture)
                model.pictures.emit()

        self._jobs.latest("detail", work, done, lambda _why: None)

    def _is_made(self, bench: Bench) -> bool:
        """Whether the draft is current; a reader that was lost over what is not wanted any more is forgotten then."""
        if bench.draft_is_current and bench.trouble:
            bench.trouble = ""
            self._model.changed.emit()
        return bench.draft_is_current

    def make_draft(self) -> None:
        """Make the file as it is set, in memory, and show what its bytes hold."""
        model, bench = self._model, self._model.bench
        if bench is None or self._is_made(bench):
            return
        photo, line, brief = bench.photo, bench.line, bench.brief
        made_from, screen = bench.made_from, self.screen
        settings, answers = bench.fitting.settings, bench.fitting.confirmed()
        people = model.people()
        see, learnt = self._photos.mask_seer(photo, bench.hand, model.people())

        def work(late: Callable[[], bool]) -> _Draft:
            untouched = as_it_came(photo, brief, settings, answers, people, see)
            if untouched is not None:
                as_shown = replace(untouched.line, colour=line.colour)
                picture = render(photo, as_shown, cancelled=late)
                look = PixelStatistics(picture, laid(photo.facts, as_shown, picture, see).see_cover)
                shown = for_screen(picture, screen)
                return picture, shown, untouched.made, look, None, untouched.line, {}
            picture = render(photo, line, see_mask=see, cancelled=late)
            told = laid(photo.facts, line, picture, see)
            look = PixelStatistics(picture, told.see_cover, told.rim, told.lettering)
            made = make(picture, line.file, credit_of(photo.read()))
            see_people = None if people is None else (lambda: people)
            inside, size = inside_of(photo), len(made.data)
            reading = live_reading(
                photo.facts, line, size, False, see_people, lambda: look, see_supplied=inside
            )
            makes = makes_of(photo, see, line, picture)
            fitted = Fitted(photo.facts, brief, settings, people, makes, see_supplied=inside)
            mends = tried(judge(reading, brief), fitted)
            grey = plain(photo, line, cancelled=late).pixels if line.colour.bits == 1 else None
            # What is shown is what the bytes hold, palette, loss and all.
            written = pixels_of(made.data, facts_of_bytes(made.data, "draft"))
            return picture, for_screen(written, screen), made, look, grey, None, mends

        def is_current() -> bool:
            now = model.bench
            self._photos.masks.update(learnt)
            return now is not None and now.photo is photo and now.made_from == made_from

        def done(result: _Draft) -> None:
            now = model.bench
            if now is None or not is_current():
                return
            now.picture, now.fitted, now.draft, now.look, now.grey, now.untouched, now.tried = (
                result
            )
            now.draft_for, now.trouble = made_from, ""  # a reader that was lost is forgotten
            model.refresh()
            model.pictures.emit()
            model.changed.emit()

        def failed(why: str) -> None:
            if model.bench is not None and is_current():
                model.bench.trouble = why
                self._tell(why)

        self._jobs.latest("draft", work, done, failed, first=True)
