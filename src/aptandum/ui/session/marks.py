"""A person's hand on the photo: marks, turning, straightening, and the frame that is laid by them."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject

from aptandum.core.docket.model import PhotoEntry
from aptandum.core.figures import show_aspect
from aptandum.core.fitting.carry import CannotCarry, Way, carried
from aptandum.core.fitting.detection import framed_by_marks, people_in
from aptandum.core.fitting.plan import Window
from aptandum.core.frozen import frozen
from aptandum.core.photo.backdrop import Stroke
from aptandum.core.photo.decode import Photo, open_photo
from aptandum.core.photo.facts import PhotoError
from aptandum.core.photo.marks import CUT_OFF, HandMarks, Marks, NoMarks, People
from aptandum.core.photo.people import Face
from aptandum.core.photo.turning import LEFT, MIRROR, RIGHT
from aptandum.core.sizes.region import allowed
from aptandum.ui.jobs import Jobs, Progress
from aptandum.ui.session.bench_model import BenchModel
from aptandum.ui.session.docket_store import DocketStore
from aptandum.ui.session.photo_store import PhotoStore
from aptandum.ui.strings import sentences, t, t_n


@frozen
class _Carried:
    """What came of carrying a frame to one photo: the window, or why there is none; the faces that
    were found on the way."""

    window: Window | None
    why: str = ""
    faces: tuple[Face, ...] | None = None


class Marking(QObject):
    """A photo's marks and strokes. Every act is a step of the docket's history."""

    def __init__(
        self,
        store: DocketStore,
        model: BenchModel,
        photos: PhotoStore,
        jobs: Jobs,
        tell: Callable[..., None],
        parent: QObject | None = None,
    ) -> None:
        super().__init__(parent)
        self._store, self._model, self._photos = store, model, photos
        self._jobs, self._tell = jobs, tell

    def marks(self) -> Marks | None:
        """The marks of the head on the bench, in photo pixels; ``None`` where there are none."""
        people = self._model.people()
        try:
            return people.marks() if people is not None else None
        except NoMarks:
            return None

    def add_stroke(self, stroke: Stroke) -> None:
        """Correct the mask of the photo on the bench; it serves all of its fittings."""
        bench = self._model.bench
        if bench is not None:
            hand = bench.hand.model_copy(update={"strokes": (*bench.hand.strokes, stroke)})
            self.set_marks(hand, t("Correct the mask") if stroke.adds else t("Take from the mask"))

    def clear_strokes(self) -> None:
        """Take away what a person brushed into the mask."""
        bench = self._model.bench
        if bench is not None and bench.hand.strokes:
            hand = bench.hand.model_copy(update={"strokes": ()})
            self.set_marks(hand, t("Reset the mask"))

    def set_marks(self, hand: HandMarks, label: str, merge: str = "") -> None:
        """Set the marks of the photo on the bench; they serve all of its fittings."""
        bench = self._model.bench
        if bench is None:
            return
        docket = self._store.docket.with_marks(bench.fitting.photo, hand)
        self._store.do(label, docket, merge)

    def move_mark(self, name: str, point: tuple[float, float]) -> None:
        """Put a mark somewhere else, in the photo's pixels."""
        bench = self._model.bench
        if bench is not None:
            spot = (round(point[0], 2), round(point[1], 2))
            hand = bench.hand.model_copy(update={name: spot})
            self.set_marks(hand, t("Move a mark"), f"mark-{name}")

    def turn_photo(self, code: int) -> None:
        """Turn the photo on the bench, its marks and its frames with it; ``code`` as EXIF
        counts."""
        bench = self._model.bench
        if bench is None:
            return
        names = {RIGHT: t("Turn to the right"), LEFT: t("Turn to the left"), MIRROR: t("Mirror")}
        size = bench.line.source.shown
        docket = self._store.docket.turned(bench.fitting.photo, code, size)
        self._store.do(names.get(code, t("Turn the photo")), docket)

    def choose_face(self, index: int) -> None:
        """Say which of several faces is meant."""
        if self._model.bench is not None:
            hand = self._model.bench.hand.model_copy(update={"face": index})
            self.set_marks(hand, t("Choose a face"))

    def marks_by_hand(self) -> None:
        """Put all marks where a head would be in the frame, to be dragged into place."""
        bench = self._model.bench
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
                "skull": at(0.5, 0.16) if bench.brief.crown == "skull" else bench.hand.skull,
            }
        )
        self.set_marks(hand, t("Set marks by hand"))

    def straighten(self, angle: float, merge: str = "") -> None:
        """Straighten the photo by an angle in degrees, clockwise."""
        held = round(min(max(angle, -45.0), 45.0), 2)
        self._model.set({"frame.angle": held}, t("Straighten"), merge)

    def level_eyes(self) -> None:
        """Straighten by the line through the eyes."""
        marks = self.marks()
        if marks is None:
            self._tell(t("There are no eyes to go by: no single face is marked."), "note")
            return
        self.straighten(-marks.tilt)

    def other_way_up(self) -> None:
        """The same frame upright instead of landscape, or the reverse, where the brief leaves
        it open."""
        bench = self._model.bench
        if bench is None:
            return
        frame = bench.line.frame
        wanted = 1 / frame.shape
        near = allowed(bench.brief).shape_for(wanted)
        if wanted == 1 or near is None or near[0] != wanted:
            self._tell(
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
        self._model.set(
            {"frame.window": made.text(), "frame.output": None},
            t("Turn the frame upright or landscape"),
        )

    def frame_from_marks(self) -> None:
        """Lay the frame as the clauses on the head ask, or say why that cannot be."""
        bench = self._model.bench
        if bench is None:
            return
        people = self._model.people()
        if people is None:
            self._tell(t("The face is still being looked for."), "note")
            return
        try:
            whole = people.marks().whole
        except NoMarks as error:
            self._tell(str(error))
            return
        if not whole:
            self._tell(CUT_OFF, "note")
        made = framed_by_marks(bench.photo, bench.brief, bench.fitting.settings, people)
        if made == bench.fitting.settings:
            return
        changed = bench.fitting.model_copy(update={"settings": made})
        self._model.take(changed, t("Frame from marks"))

    def carry(self, photo_ids: list[str], way: Way) -> None:
        """Carry the frame on the bench to other photos of the docket, each with a fitting for
        the same brief; one step to undo, and what does not fit is listed with its reason."""
        bench = self._model.bench
        if bench is None or not photo_ids:
            return
        window, source = bench.line.frame.window, bench.line.source.shown
        brief, brief_name, base = bench.brief, bench.fitting.brief, bench.fitting.settings
        entries = [self._store.docket.photo(photo_id) for photo_id in photo_ids]
        known = dict(self._photos.faces)

        def one(entry: PhotoEntry, progress: Progress) -> _Carried:
            faces = known.get((entry.path, entry.turn))
            try:
                photo = open_photo(entry.path)
                photo = Photo(photo.path, photo.facts.turned_by(entry.turn))
                people = None
                if way == "marks":
                    if faces is None:
                        faces = people_in(photo, cancelled=progress).faces
                    people = People(faces, entry.marks)
                made = carried(window, source, photo.facts.size, way, brief, people)
                return _Carried(made, "", faces)
            except (PhotoError, CannotCarry) as error:
                return _Carried(None, str(error), faces)

        def work(progress: Progress) -> dict[str, _Carried]:
            found: dict[str, _Carried] = {}
            for n, entry in enumerate(entries, start=1):
                progress.check()
                progress.count(n, len(entries))
                found[entry.id] = one(entry, progress)
            return found

        def done(found: dict[str, _Carried]) -> None:
            docket, troubles, count = self._store.docket, [], 0
            for entry in entries:
                carried_ = found[entry.id]
                if carried_.faces is not None:
                    self._photos.faces[(entry.path, entry.turn)] = carried_.faces
                if carried_.window is None:
                    troubles.append(
                        t("{file}: {why}.", file=Path(entry.path).name, why=carried_.why)
                    )
                    continue
                docket, fitting_id = docket.with_fitting(entry.id, brief_name)
                settings = base.having({"frame.window": carried_.window.text()})
                fitting = docket.fitting(fitting_id).model_copy(update={"settings": settings})
                docket, count = docket.replacing(fitting), count + 1
            self._store.do(t("Copy the frame"), docket)
            said = t_n("Copied to {n} photo.", "Copied to {n} photos.", count)
            if troubles:
                said += "\n" + t("Not to: {what}", what=sentences(troubles))
            self._tell(said, "trouble" if troubles else "done")

        self._jobs.command(t("Copying the frame …"), work, done, lane="carry")
