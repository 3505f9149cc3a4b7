"""The words of the photo on the bench that must be read: drawn by a person, or looked for."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject

from aptandum.core.photo.words_found import Box, find_words
from aptandum.ui.jobs import Jobs
from aptandum.ui.session.bench_model import BenchModel
from aptandum.ui.strings import t, t_n


class Lettering(QObject):
    """Keeps them as settings of the fitting, each change a step that can be undone."""

    def __init__(
        self,
        model: BenchModel,
        jobs: Jobs,
        tell: Callable[..., None],
        parent: QObject | None = None,
    ) -> None:
        super().__init__(parent)
        self._model, self._jobs, self._tell = model, jobs, tell

    @property
    def boxes(self) -> tuple[Box, ...]:
        """Left, top, width and height of each, in photo pixels."""
        bench = self._model.bench
        return bench.fitting.settings.source.words if bench is not None else ()

    def draw(self, box: Box) -> None:
        """Have the words in a box be read; one without width and height takes out those that it lies in."""
        left, top, wide, high = box
        if wide >= 1 and high >= 1:
            self._set((*self.boxes, box), t("Words that must be read"))
            return
        kept = tuple(
            b
            for b in self.boxes
            if not (b[0] <= left <= b[0] + b[2] and b[1] <= top <= b[1] + b[3])
        )
        if kept != self.boxes:
            self._set(kept, t("Remove a box"))

    def clear(self) -> None:
        """No words of the photo must be read."""
        self._set((), t("Remove all boxes"))

    def find(self) -> None:
        """Look for words in the photo, and mark those that are found beside those that are marked."""
        bench = self._model.bench
        if bench is None or bench.preview is None:
            self._tell(t("The photo is still being read."), "note")
            return
        picture, photo = bench.preview, bench.photo
        high, wide = picture.shape[:2]
        shown = bench.line.source.shown

        def done(found: tuple[Box, ...]) -> None:
            now = self._model.bench
            if now is None or now.photo is not photo:
                return
            k = shown[0] / wide, shown[1] / high
            boxes = (_in_photo(box, k, shown) for box in found)
            new = tuple(box for box in boxes if not any(_meet(box, other) for other in self.boxes))
            if not new:
                self._tell(
                    t("No more words were found. Draw a box round those that are there."), "note"
                )
                return
            self._set((*self.boxes, *new), t("Words that must be read"))
            self._tell(
                t_n(
                    "{n} box with words was marked.", "{n} boxes with words were marked.", len(new)
                ),
                "note",
            )

        self._jobs.latest(
            "words of the photo", lambda _late: find_words(picture[..., :3]), done, self._tell
        )

    def _set(self, boxes: tuple[Box, ...], label: str) -> None:
        trouble = self._model.set({"source.words": boxes}, label)
        if trouble:
            self._tell(trouble)


def _in_photo(box: Box, k: tuple[float, float], size: tuple[int, int]) -> Box:
    x0, y0 = max(0.0, box[0] * k[0]), max(0.0, box[1] * k[1])
    x1, y1 = min(size[0], (box[0] + box[2]) * k[0]), min(size[1], (box[1] + box[3]) * k[1])
    return round(x0, 1), round(y0, 1), round(x1 - x0, 1), round(y1 - y0, 1)


def _meet(one: Box, other: Box) -> bool:
    """Whether most of one box lies in the other."""
    wide = min(one[0] + one[2], other[0] + other[2]) - max(one[0], other[0])
    high = min(one[1] + one[3], other[1] + other[3]) - max(one[1], other[1])
    return wide > 0 and high > 0 and wide * high > 0.5 * one[2] * one[3]
