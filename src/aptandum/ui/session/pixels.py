"""What is looked for in the pixels on the bench: people, the mask, what the conversion moves, bytes
against quality, what encoding costs."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from PyQt6.QtCore import QObject

from aptandum.core.conform import named
from aptandum.core.file import room
from aptandum.core.file.curve import Curve, curve, has_curve, worst
from aptandum.core.fitting.detection import people_in
from aptandum.core.fitting.gamut import Conversion, conversion
from aptandum.core.fitting.live import live_reading
from aptandum.core.fitting.masking import (
    asks_for_mask,
    found_in,
    looks_at_pixels,
    supplied_cover,
    supplied_look,
)
from aptandum.core.fitting.record import laid
from aptandum.core.fitting.screen import for_screen
from aptandum.core.judge.beside_backdrop import asks_of_backdrop
from aptandum.core.judge.findings import judge
from aptandum.core.judge.pixel_statistics import PixelStatistics
from aptandum.core.judge.reading import Additions, of_supplied
from aptandum.core.later import np
from aptandum.core.photo.backdrop import Mask, NoMask
from aptandum.core.photo.engine import as_hex
from aptandum.core.photo.marks import People
from aptandum.core.photo.metadata_groups import Credit
from aptandum.core.photo.turning import swung
from aptandum.ui.jobs import Jobs
from aptandum.ui.session.bench import Loss
from aptandum.ui.session.bench_model import BenchModel
from aptandum.ui.session.drafts import Drafts
from aptandum.ui.session.photo_store import PhotoStore, seen_as
from aptandum.ui.strings import t

_Measured = tuple[PixelStatistics, PixelStatistics | None, Additions | None]


class Pixels(QObject):
    """Measures beside the interface; what it finds stands on the bench.

    Attributes:
        shows_mask: the sheet shows the mask, whether or not a rule asks for it.
    """

    def __init__(
        self,
        model: BenchModel,
        photos: PhotoStore,
        drafts: Drafts,
        jobs: Jobs,
        tell: Callable[..., None],
        parent: QObject | None = None,
    ) -> None:
        super().__init__(parent)
        self._model, self._photos, self._drafts = model, photos, drafts
        self._jobs, self._tell = jobs, tell
        self.shows_mask = False
        model.laid.connect(self._laid)
        model.pictures.connect(self._pictured)
        model.brushed.connect(self._brushed)

    def _laid(self) -> None:
        if self._model.bench is not None and self._model.bench.preview is not None:
            self.look_for_people()

    def _pictured(self) -> None:
        """People are looked for after the first picture, which a person waits for."""
        bench = self._model.bench
        if bench is not None and bench.preview is not None and not bench.looked_for:
            self.look_for_people()

    def _brushed(self) -> None:
        self.look_again()
        self._model.pictures.emit()

    def look_for_people(self) -> None:
        """Look for people where the brief asks for them, then for the mask."""
        bench, model = self._model.bench, self._model
        if bench is None:
            return
        bench.looked_for = True
        if not bench.wants_people or model.people() is not None:
            self.look_for_mask()
            if bench.supplied_look is None:
                self.look_again()
            return
        photo = bench.photo

        def done(people: People) -> None:
            self._photos.learn_people(photo, people)
            if model.bench is not None and model.bench.photo is photo:
                model.judge_again()
                model.changed.emit()
                self.look_for_mask()
                self.look_again()

        self._jobs.latest("people", lambda late: people_in(photo, cancelled=late), done)

    # -- the mask --------------------------------------------------------------------------------

    def mask(self) -> Mask:
        """What stands before the backdrop of the photo on the bench, with the strokes.

        Raises:
            NoMask: it is still being looked for, or nothing stands out.
        """
        bench = self._model.bench
        if bench is None:
            raise NoMask(t("There is no photo on the bench."))
        return self._photos.mask_of(bench.photo, bench.hand)

    def wants_mask(self) -> bool:
        """Whether the mask is shown, or anything that is done needs it."""
        bench = self._model.bench
        return bench is not None and (
            self.shows_mask
            or asks_for_mask(bench.brief, bench.line)
            or asks_of_backdrop(bench.brief)
        )

    def show_mask(self, on: bool) -> None:
        """Hatch what is behind the subject on the sheet, or no longer."""
        self.shows_mask = on
        self.look_for_mask()
        self._model.pictures.emit()
        self._model.changed.emit()

    def look_for_mask(self) -> None:
        """Look for what stands before the backdrop, where anybody asks and nobody has looked."""
        bench, model = self._model.bench, self._model
        if bench is None or not self.wants_mask() or seen_as(bench.photo) in self._photos.masks:
            return
        photo, people = bench.photo, model.people()

        def work(late: Callable[[], bool]) -> Mask | str:
            try:
                return found_in(photo, people, late)
            except NoMask as error:
                return str(error)

        def done(found: Mask | str) -> None:
            self._photos.masks[seen_as(photo)] = found
            if model.bench is not None and model.bench.photo is photo:
                self.look_again()
                model.pictures.emit()
                model.changed.emit()

        self._jobs.latest("mask", work, done)

    # -- measuring -------------------------------------------------------------------------------

    def look_again(self) -> None:
        """Measure the pixels on the bench, beside the interface: as supplied, and as made."""
        bench, model = self._model.bench, self._model
        if bench is None or not looks_at_pixels(bench.brief):
            return
        photo, brief, line = bench.photo, bench.brief, bench.line
        look, supplied, proof = bench.look, bench.supplied_look, bench.proof
        try:
            mask = self.mask()
            see: Callable[[], Mask] = _giving(mask)
        except NoMask as error:
            see = _no_mask(str(error))
        see_people = self._photos.people_seer(photo, bench.hand)
        strokes = bench.hand.strokes

        def work(late: Callable[[], bool]) -> _Measured:
            told = laid(photo.facts, line, None, see)
            first = supplied or supplied_look(photo, see, late)
            first = first.again(supplied_cover(photo, see))
            judge(of_supplied(photo, see_people, lambda: first), brief)
            second = look.again(told.see_cover) if look is not None else None
            if second is not None:
                held = second
                judge(live_reading(photo.facts, line, see_look=lambda: held), brief)
            third = None
            if proof is not None:
                kept = [one.again(told.see_cover) for one in proof.laid.kept]
                third = replace(proof.laid, see_cover=told.see_cover, kept=kept)
                named(replace(proof, laid=third), brief, proof.suggested)
            return first, second, third

        def done(found: _Measured) -> None:
            now = model.bench
            if now is None or now.photo is not photo or now.hand.strokes != strokes:
                return
            now.supplied_look = found[0]
            if found[1] is not None and now.look is look:
                now.look = found[1]
            if found[2] is not None and now.proof is proof and proof is not None:
                now.proof = replace(proof, laid=found[2])
            model.judge_again()
            model.changed.emit()

        self._jobs.latest("look", work, done)

    def look_at_conversion(self) -> None:
        """Measure what the conversion does to the colours of the fitting on the bench."""
        bench, model = self._model.bench, self._model
        if bench is None:
            return
        line, photo = bench.line, bench.photo
        key = (line.frame, line.colour, photo.facts.turn)
        if bench.conversion_for == key:
            return
        bench.conversion_for = key

        def settle(found: Conversion | None) -> None:
            now = model.bench
            if now is not None and now.photo is photo and now.conversion_for == key:
                now.conversion = found
                model.pictures.emit()
                model.changed.emit()

        self._jobs.latest(
            "conversion",
            lambda late: conversion(photo, line, late),
            settle,
            lambda _why: settle(None),
        )

    def look_at_curve(self) -> None:
        """Measure bytes and likeness against quality for the picture on the bench."""
        bench, model = self._model.bench, self._model
        if bench is None or not bench.draft_is_current or bench.picture is None:
            return
        file = bench.line.file
        if not has_curve(file, bench.line.colour.bits):
            bench.curve = None
            return
        key = bench.draft_for
        if bench.curve_for == key:
            return
        bench.curve_for = key
        picture, made, photo = bench.picture, bench.draft, bench.photo

        def settle(found: Curve | None) -> None:
            now = model.bench
            if now is not None and now.photo is photo and now.curve_for == key:
                now.curve = found
                model.changed.emit()

        self._jobs.latest(
            "curve",
            lambda late: curve(picture, file, made, late),
            settle,
            lambda _why: settle(None),
        )

    def look_at_loss(self) -> None:
        """Make what the encoded picture is compared with."""
        bench, model = self._model.bench, self._model
        if bench is None or not bench.draft_is_current or bench.picture is None:
            return
        after, picture, screen = bench.fitted, bench.picture, self._drafts.screen
        if bench.loss is not None and bench.loss.of is after:
            return

        def work(_late: Callable[[], bool]) -> Loss:
            before = for_screen(picture, screen)
            return Loss(before, worst(before, after), after)

        def done(found: Loss) -> None:
            now = model.bench
            if now is not None and now.fitted is found.of:
                now.loss = found
                model.pictures.emit()

        self._jobs.latest("loss", work, done, lambda _why: None)

    # -- small questions -------------------------------------------------------------------------

    def credit(self) -> Credit:
        """What the photo on the bench states beside its pixels."""
        bench = self._model.bench
        return Credit() if bench is None else self._photos.credit_of(bench.photo)

    def wants_other_size(self) -> str:
        """Whether conforming will take another allowed size for the byte limits' sake:
        ``smaller``, ``larger`` or an empty text."""
        bench = self._model.bench
        if bench is None or bench.draft is None or not bench.draft_is_current:
            return ""
        by_hand = bench.fitting.settings.frame.output is not None
        return room.wanted(bench.brief, bench.line, bench.draft, by_hand)

    def colour_at(self, at: tuple[float, float]) -> str | None:
        """The colour of the finished picture at a point of the photo, as ``#RRGGBB``."""
        bench = self._model.bench
        if bench is None or bench.picture is None:
            return None
        frame, picture = bench.line.frame, bench.picture
        x, y = swung(at, frame.angle, bench.line.source.shown)
        wide, high = picture.size
        px = int((x - frame.window.left) / frame.window.width * wide)
        py = int((y - frame.window.top) / frame.window.height * high)
        if not (0 <= px < wide and 0 <= py < high):
            return None
        part = picture.colour[max(0, py - 1) : py + 2, max(0, px - 1) : px + 2]
        middle: Any = np.median(part.reshape(-1, part.shape[2]), axis=0)
        return as_hex(middle.astype(picture.pixels.dtype), picture.icc)


def _giving(mask: Mask) -> Callable[[], Mask]:
    return lambda: mask


def _no_mask(why: str) -> Callable[[], Mask]:
    def see() -> Mask:
        raise NoMask(why)

    return see
