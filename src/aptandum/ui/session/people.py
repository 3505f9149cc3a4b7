"""People in the photo, their marks, and the frame that is laid by them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

from aptandum.core.conform import named
from aptandum.core.fitting.carry import CannotCarry, Way, carried
from aptandum.core.fitting.line import Window
from aptandum.core.fitting.people import (
    framed_by_marks,
    people_in,
)
from aptandum.core.judge.findings import judge
from aptandum.core.judge.reading import of_supplied
from aptandum.core.photo.decode import Photo, open_photo
from aptandum.core.photo.facts import PhotoError
from aptandum.core.photo.marks import NAMES, HandMarks, Marks, NoMarks, People
from aptandum.core.photo.turning import LEFT, MIRROR, RIGHT
from aptandum.core.quantity import show_aspect
from aptandum.core.rulebook.sizes import allowed
from aptandum.ui.session.base import Base, seen_as
from aptandum.ui.strings import t


class Heads(Base):
    """See the module."""

    def _see_people(self, photo: Photo, hand: HandMarks) -> Callable[[], People]:
        def see() -> People:
            faces = self._faces.get(seen_as(photo))
            set_by_hand = len(hand.moved) == len(NAMES) or hand.keep_clear
            if faces is None and not set_by_hand:
                raise NoMarks(t("The face is still being looked for."))
            return People(faces or (), hand, self._things.get(seen_as(photo)))

        return see

    def people(self) -> People | None:
        """The people of the photo on the bench; ``None`` while they are looked for."""
        bench = self.bench
        if bench is None or seen_as(bench.photo) not in self._faces:
            return None
        seen = seen_as(bench.photo)
        return People(self._faces[seen], bench.hand, self._things.get(seen))

    def marks(self) -> Marks | None:
        """The marks of the head on the bench, in photo pixels; ``None`` where there are none."""
        people = self.people()
        try:
            return people.marks() if people is not None else None
        except NoMarks:
            return None

    def _look_for_people(self) -> None:
        bench = self.bench
        if bench is None:
            return
        if not bench.wants_people or seen_as(bench.photo) in self._faces:
            self.look_for_mask()
            if bench.supplied_look is None:
                self._look_again()
            return
        photo = bench.photo

        def done(people: Any, trouble: str) -> None:
            if trouble:
                self.tell(trouble)
                return
            self._faces[seen_as(photo)] = people.faces
            self._things[seen_as(photo)] = people.thing
            if self.bench is not None and self.bench.photo is photo:
                self._judge_again()
                self.changed.emit()
                self.look_for_mask()
                self._look_again()

        self.queue.start("people", lambda late: people_in(photo, cancelled=late), done)

    def _judge_again(self) -> None:
        """Judge everything on the bench anew, for the marks are others now."""
        bench = self.bench
        if bench is None:
            return
        answers = bench.fitting.confirmed()
        self._judge_supplied()
        self._refresh()
        if bench.proof is not None:
            proof = replace(bench.proof, people=self.people())
            bench.proof = named(proof, bench.brief, proof.suggested, answers)

    def _judge_supplied(self) -> None:
        bench = self.bench
        assert bench is not None
        see = self._see_people(bench.photo, bench.hand)
        look = bench.supplied_look
        held = (lambda: look) if look is not None else None
        reading = of_supplied(bench.photo, see, held)
        bench.supplied = judge(reading, bench.brief, bench.fitting.confirmed())

    def set_marks(self, hand: HandMarks, label: str, merge: str = "") -> None:
        """Set the marks of the photo on the bench; they serve all of its fittings."""
        bench = self.bench
        if bench is None:
            return
        docket = self.docket.with_marks(bench.fitting.photo, hand)
        if self.history.do(label, docket, merge):
            self._follow()

    def move_mark(self, name: str, point: tuple[float, float]) -> None:
        bench = self.bench
        if bench is not None:
            spot = (round(point[0], 2), round(point[1], 2))
            hand = bench.hand.model_copy(update={name: spot})
            self.set_marks(hand, t("Move a mark"), f"mark-{name}")

    def turn_photo(self, code: int) -> None:
        """Turn the photo on the bench, its marks and its frames with it; ``code`` as EXIF
        counts."""
        bench = self.bench
        if bench is None:
            return
        names = {RIGHT: t("Turn to the right"), LEFT: t("Turn to the left"), MIRROR: t("Mirror")}
        size = bench.line.source.shown
        docket = self.docket.turned(bench.fitting.photo, code, size)
        if self.history.do(names.get(code, t("Turn the photo")), docket):
            self._follow()

    def choose_face(self, index: int) -> None:
        """Say which of several faces is meant."""
        if self.bench is not None:
            hand = self.bench.hand.model_copy(update={"face": index})
            self.set_marks(hand, t("Choose a face"))

    def marks_by_hand(self) -> None:
        """Put all marks where a head would be in the frame, to be dragged into place."""
        bench = self.bench
        if bench is None:
            return
        w = bench.line.frame.window
        pw, ph = bench.line.source.shown

        def at(x: float, y: float) -> tuple[float, float]:
            px, py = w.left + w.width * x, w.top + w.height * y
            return round(min(max(px, 0.0), pw), 1), round(min(max(py, 0.0), ph), 1)

        hand = bench.hand.model_copy(
            update={
                "crown": at(0.5, 0.12),
                "chin": at(0.5, 0.78),
                "left_eye": at(0.39, 0.43),
                "right_eye": at(0.61, 0.43),
            }
        )
        self.set_marks(hand, t("Set marks by hand"))

    def straighten(self, angle: float, merge: str = "") -> None:
        """Straighten the photo by an angle in degrees, clockwise."""
        held = round(min(max(angle, -45.0), 45.0), 2)
        self.set({"frame.angle": held}, t("Straighten"), merge)

    def level_eyes(self) -> None:
        """Straighten by the line through the eyes."""
        marks = self.marks()
        if marks is None:
            self.tell(t("There are no eyes to go by: no single face is marked."), "note")
            return
        self.straighten(-marks.tilt)

    def other_way_up(self) -> None:
        """The same frame upright instead of landscape, or the reverse, where the brief leaves
        it open."""
        bench = self.bench
        if bench is None:
            return
        frame = bench.line.frame
        wanted = 1 / frame.shape
        near = allowed(bench.brief).shape_for(wanted)
        if wanted == 1 or near is None or near[0] != wanted:
            self.tell(
                t("The brief leaves no other way up: {shape}.", shape=show_aspect(frame.shape)),
                "note",
            )
            return
        pw, ph = bench.line.source.shown
        window = frame.window
        width, height = window.height, window.width
        factor = min(1.0, pw / width, ph / height)
        width, height = width * factor, height * factor
        cx, cy = window.centre
        made = Window(cx - width / 2, cy - height / 2, width, height).held_in(pw, ph)
        self.set({"frame.window": made.text(), "frame.output": None}, t("The other way up"))

    def frame_from_marks(self) -> None:
        """Lay the frame as the clauses on the head ask, or say why that cannot be."""
        bench = self.bench
        if bench is None:
            return
        people = self.people()
        if people is None:
            self.tell(t("The face is still being looked for."), "note")
            return
        try:
            people.marks()
        except NoMarks as error:
            self.tell(str(error))
            return
        made = framed_by_marks(bench.photo, bench.brief, bench.fitting.settings, people)
        if made == bench.fitting.settings:
            return
        changed = bench.fitting.model_copy(update={"settings": made})
        self._take(changed, t("Frame from marks"))

    def carry(self, photo_ids: list[str], way: Way) -> None:
        """Carry the frame on the bench to other photos of the docket, each with a fitting for
        the same brief; one step to undo, and what does not fit is listed with its reason."""
        bench = self.bench
        if bench is None or not photo_ids:
            return
        window, source = bench.line.frame.window, bench.line.source.shown
        brief, brief_name, base = bench.brief, bench.fitting.brief, bench.fitting.settings
        entries = [self.docket.photo(photo_id) for photo_id in photo_ids]
        known = dict(self._faces)
        self.working.emit(t("Carrying the frame …"))

        def work(late: Callable[[], bool]) -> dict[str, tuple[Any, str, Any]]:
            found: dict[str, tuple[Any, str, Any]] = {}
            for n, entry in enumerate(entries, start=1):
                if late():
                    break
                self.counted.emit(n, len(entries))
                faces = known.get((entry.path, entry.turn))
                try:
                    photo = open_photo(entry.path)
                    photo = Photo(photo.path, photo.facts.turned_by(entry.turn))
                    people = None
                    if way == "marks":
                        if faces is None:
                            faces = people_in(photo, cancelled=late).faces
                        people = People(faces, entry.marks)
                    made = carried(window, source, photo.facts.size, way, brief, people)
                    found[entry.id] = (made, "", faces)
                except (PhotoError, CannotCarry) as error:
                    found[entry.id] = (None, str(error), faces)
            return found

        def done(found: Any, trouble: str) -> None:
            if trouble:
                self.tell(trouble)
                return
            docket, troubles, count = self.docket, [], 0
            for entry in entries:
                made, why, faces = found.get(entry.id, (None, t("it was not reached"), None))
                if faces is not None:
                    self._faces[(entry.path, entry.turn)] = faces
                if made is None:
                    troubles.append(f"{Path(entry.path).name}: {why}.")
                    continue
                docket, fitting_id = docket.with_fitting(entry.id, brief_name)
                settings = base.having({"frame.window": made.text()})
                fitting = docket.fitting(fitting_id).model_copy(update={"settings": settings})
                docket, count = docket.replacing(fitting), count + 1
            self.history.do(t("Carry the frame"), docket)
            self._follow()
            said = t("Carried to 1 photo.") if count == 1 else t("Carried to {n} photos.", n=count)
            if troubles:
                said += "\n" + t("Not to:") + " " + " ".join(troubles)
            self.tell(said, "trouble" if troubles else "done")

        self.queue.start("carry", work, done)
