"""What is looked for in the pixels beside the interface: the mask, what lies outside the target, the budget curve, what encoding costs."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np

from aptandum.core.conform import named
from aptandum.core.file import room
from aptandum.core.file.curve import curve, has_curve, worst
from aptandum.core.fitting.gamut import conversion
from aptandum.core.fitting.line import Window, live_reading
from aptandum.core.fitting.record import laid
from aptandum.core.fitting.render import for_screen, shown_on
from aptandum.core.fitting.standing import (
    asks_for_mask,
    found_in,
    looks_at_pixels,
    supplied_cover,
    supplied_look,
)
from aptandum.core.judge.findings import judge
from aptandum.core.judge.look import Look
from aptandum.core.judge.reading import Laid, of_supplied
from aptandum.core.photo.backdrop import Mask, NoMask, Stroke, blank
from aptandum.core.photo.decode import Photo
from aptandum.core.photo.engine import as_hex
from aptandum.core.photo.facts import PhotoError
from aptandum.core.photo.marks import HandMarks, People
from aptandum.core.photo.told import Credit, credit_of
from aptandum.core.photo.turning import swung
from aptandum.ui.session.base import PREVIEW, Base, seen_as
from aptandum.ui.session.bench import Loss
from aptandum.ui.strings import t


class Looks(Base):
    """See the module."""

    def mask(self) -> Mask:
        """What stands before the backdrop of the photo on the bench, with the strokes.

        Raises:
            NoMask: it is still being looked for, or nothing stands out.
        """
        bench = self.bench
        if bench is None:
            raise NoMask(t("There is no photo on the bench."))
        found = self._masks.get(seen_as(bench.photo))
        if found is None:
            raise NoMask(t("What stands before the backdrop is still being looked for."))
        strokes = bench.hand.strokes
        if isinstance(found, str):
            if not strokes:
                raise NoMask(found)
            found = blank(bench.photo.facts.size)
        if not strokes:
            return found
        key = (seen_as(bench.photo), strokes)
        if self._brushed is None or self._brushed[0] != key:
            self._brushed = key, found.brushed(strokes)
        return self._brushed[1]

    def wants_mask(self) -> bool:
        bench = self.bench
        return bench is not None and (self.needs_mask or asks_for_mask(bench.brief, bench.line))

    def look_for_mask(self) -> None:
        """Look for what stands before the backdrop, where anybody asks and nobody has looked."""
        bench = self.bench
        if bench is None or not self.wants_mask() or seen_as(bench.photo) in self._masks:
            return
        photo, people = bench.photo, self.people()

        def work(late: Callable[[], bool]) -> Mask | str:
            try:
                return found_in(photo, people, late)
            except NoMask as error:
                return str(error)

        def done(found: Any, trouble: str) -> None:
            if trouble:
                self.tell(trouble)
                return
            self._masks[seen_as(photo)] = found
            if self.bench is not None and self.bench.photo is photo:
                self._look_again()
                self.pictures.emit()
                self.changed.emit()

        self.queue.start("mask", work, done)

    def _mask_seer(
        self, photo: Photo, hand: HandMarks, people: People | None
    ) -> tuple[Callable[[], Mask], dict[tuple[str, int], Mask | str]]:
        """Gives the mask to a worker, which looks for it where nobody has; what it learns on the
        way is put in the dictionary."""
        key, known = seen_as(photo), self._masks.get(seen_as(photo))
        learnt: dict[tuple[str, int], Mask | str] = {}

        def see() -> Mask:
            found = known if known is not None else learnt.get(key)
            if found is None:
                try:
                    found = found_in(photo, people)
                except NoMask as error:
                    found = str(error)
                learnt[key] = found
            if isinstance(found, str):
                if not hand.strokes:
                    raise NoMask(found)
                found = blank(photo.facts.size)
            return found.brushed(hand.strokes) if hand.strokes else found

        return see, learnt

    def show_mask(self, on: bool) -> None:
        """Hatch what is behind the subject on the sheet, or no longer."""
        self.needs_mask = on
        self.look_for_mask()
        self.pictures.emit()
        self.changed.emit()

    def add_stroke(self, stroke: Stroke) -> None:
        """Correct the mask of the photo on the bench; it serves all of its fittings."""
        bench = self.bench
        if bench is not None:
            hand = bench.hand.model_copy(update={"strokes": (*bench.hand.strokes, stroke)})
            self.set_marks(hand, t("Correct the mask") if stroke.adds else t("Take from the mask"))

    def clear_strokes(self) -> None:
        if self.bench is not None and self.bench.hand.strokes:
            hand = self.bench.hand.model_copy(update={"strokes": ()})
            self.set_marks(hand, t("Mask as found"))

    def _look_again(self) -> None:
        """Measure the pixels on the bench, beside the interface: as supplied, and as made."""
        bench = self.bench
        if bench is None or not looks_at_pixels(bench.brief):
            return
        photo, brief, line = bench.photo, bench.brief, bench.line
        look, supplied, proof = bench.look, bench.supplied_look, bench.proof
        try:
            mask: Mask | None = self.mask()
            see: Callable[[], Mask] = lambda: mask  # type: ignore[assignment,return-value]  # noqa: E731
        except NoMask as error:
            see, mask = _no_mask(str(error)), None
        see_people = self._see_people(photo, bench.hand)
        strokes = bench.hand.strokes

        def work(late: Callable[[], bool]) -> tuple[Look, Look | None, Laid | None]:
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

        def done(found: Any, trouble: str) -> None:
            now = self.bench
            if now is None or now.photo is not photo or now.hand.strokes != strokes:
                return
            if trouble:
                self.tell(trouble)
                return
            now.supplied_look = found[0]
            if found[1] is not None and now.look is look:
                now.look = found[1]
            if found[2] is not None and now.proof is proof and proof is not None:
                now.proof = replace(proof, laid=found[2])
            self._judge_again()
            self.changed.emit()

        self.queue.start("look", work, done)

    def look_at_conversion(self) -> None:
        """Measure what the conversion does to the colours of the fitting on the bench."""
        bench = self.bench
        if bench is None:
            return
        line, photo = bench.line, bench.photo
        key = (line.frame, line.colour, photo.facts.turn)
        if bench.conversion_for == key:
            return
        bench.conversion_for = key

        def done(found: Any, trouble: str) -> None:
            now = self.bench
            if now is None or now.photo is not photo or now.conversion_for != key:
                return
            now.conversion = None if trouble else found
            self.pictures.emit()
            self.changed.emit()

        self.queue.start("conversion", lambda late: conversion(photo, line, late), done)

    def told(self) -> Credit:
        """What the photo on the bench tells beside its pixels."""
        bench = self.bench
        if bench is None:
            return Credit()
        if bench.photo.path not in self._told:
            try:
                self._told[bench.photo.path] = credit_of(bench.photo.read())
            except PhotoError:
                return Credit()
        return self._told[bench.photo.path]

    def wants_other_size(self) -> str:
        """Whether conforming will take another allowed size for the byte limits' sake:
        ``smaller``, ``larger`` or an empty text."""
        bench = self.bench
        if bench is None or bench.draft is None or not bench.draft_is_current:
            return ""
        by_hand = bench.fitting.settings.frame.output is not None
        return room.wanted(bench.brief, bench.line, bench.draft, by_hand)

    def look_at_curve(self) -> None:
        """Measure bytes and likeness against quality for the picture on the bench."""
        bench = self.bench
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

        def done(found: Any, trouble: str) -> None:
            now = self.bench
            if now is None or now.photo is not photo or now.curve_for != key:
                return
            now.curve = None if trouble else found
            self.changed.emit()

        self.queue.start("curve", lambda late: curve(picture, file, made, late), done)

    def look_at_loss(self) -> None:
        """Make what the encoded picture is compared with."""
        bench = self.bench
        if bench is None or not bench.draft_is_current or bench.picture is None:
            return
        after, picture, screen = bench.fitted, bench.picture, self.screen
        if bench.loss is not None and bench.loss.of is after:
            return

        def work(late: Callable[[], bool]) -> Loss:
            before = for_screen(picture, screen)
            return Loss(before, worst(before, after), after)

        def done(found: Any, trouble: str) -> None:
            now = self.bench
            if not trouble and now is not None and now.fitted is found.of:
                now.loss = found
                self.pictures.emit()

        self.queue.start("loss", work, done)

    def colour_at(self, at: tuple[float, float]) -> str | None:
        """The colour of the finished picture at a point of the photo, as ``#RRGGBB``."""
        bench = self.bench
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
        middle = np.median(part.reshape(-1, part.shape[2]), axis=0)
        return as_hex(middle.astype(picture.pixels.dtype), picture.icc)

    def use_screen(self, icc: bytes | None) -> None:
        """Show pictures in the screen's own profile; ``None``: as sRGB."""
        if icc == self.screen:
            return
        self.screen = icc
        bench = self.bench
        if bench is not None:
            bench.preview = bench.detail = None
            bench.draft = None
            self._load_preview()
            self._settle.start()

    def _load_preview(self) -> None:
        bench = self.bench
        if bench is None:
            return
        photo, screen = bench.photo, self.screen

        def done(picture: Any, trouble: str) -> None:
            if trouble:
                if self.bench is not None:
                    self.bench.trouble = trouble
                self.tell(trouble)
            elif self.bench is not None and self.bench.photo is photo:
                self.bench.preview = picture
                self._look_for_people()  # after the first picture, which a person waits for
            self.pictures.emit()

        self.queue.start(
            "preview",
            lambda late: for_screen(
                shown_on(photo, PREVIEW, cancelled=late, screen=screen), screen
            ),
            done,
        )

    def load_detail(self, window: Window, longest: int) -> None:
        """Make a sharper picture of a part of the photo, for a close look as supplied."""
        bench = self.bench
        if bench is None:
            return
        photo, screen = bench.photo, self.screen

        def done(picture: Any, trouble: str) -> None:
            if not trouble and self.bench is not None and self.bench.photo is photo:
                self.bench.detail = (window, picture)
                self.pictures.emit()

        self.queue.start(
            "detail",
            lambda late: for_screen(shown_on(photo, longest, window, late, screen), screen),
            done,
        )


def _no_mask(why: str) -> Callable[[], Mask]:
    def see() -> Mask:
        raise NoMask(why)

    return see
