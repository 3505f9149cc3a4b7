"""The docket: photos, the briefs they go to, and their fittings; frozen, and without pixels."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from aptandum.core.docket.hand_over import HandOver
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge.findings import Confirmation
from aptandum.core.photo.marks import HandMarks
from aptandum.core.photo.turning import MIRRORED, moved, then


class _Frozen(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid", defer_build=True)


class PhotoEntry(_Frozen):
    """A supplied photo by its path, with the marks that a person has set on it. ``turn`` is what
    a person turned it by (an EXIF code); ``digest`` (the SHA-256 of its bytes) and ``bytes`` tell it from others where it is moved or changed."""

    id: str
    path: str
    turn: int = Field(default=1, ge=1, le=8)
    digest: str = ""
    bytes: int = 0
    marks: HandMarks = Field(default_factory=HandMarks)


class Answer(_Frozen):
    """A person's answer to an ``ask`` clause, with who and when (ISO 8601); ``met``: it is so;
    ``of``: the picture it was said of, and holds for."""

    clause: str
    by: str
    at: str
    met: bool = True
    of: str = ""

    def confirmation(self) -> Confirmation:
        """The answer as judging takes it."""
        return Confirmation(self.clause, self.by, self.at, self.met, self.of)


class PrintedSheet(_Frozen):
    """A sheet of prints that was written of a fitting's file.

    Attributes:
        file: the sheet's name.
        prints: what is on it, one for each size: how many, and the sides in millimetres.
        digest: SHA-256 of the finished file that was printed.
        at: when (ISO 8601).
    """

    file: str
    paper: str
    prints: tuple[tuple[int, float, float], ...]
    digest: str
    at: str


class Fitting(_Frozen):
    """One photo being made to fit one brief.

    Attributes:
        linked: it shares its framing with the photo's other linked fittings.
        printed: the sheets of prints that were written of its file.
    """

    id: str
    photo: str
    brief: str
    settings: Settings = Field(default_factory=Settings)
    answers: tuple[Answer, ...] = ()
    linked: bool = False
    printed: tuple[PrintedSheet, ...] = ()

    def confirmed(self) -> list[Confirmation]:
        """All answers as judging takes them."""
        return [answer.confirmation() for answer in self.answers]


class Instead(_Frozen):
    """A picture that an audit looks at in place of the one that is listed for an item."""

    item: str
    listed: str
    file: str


class Audited(_Frozen):
    """What was audited last: a folder or a listing, and against which brief (``BOOK/BRIEF``). What was found is not kept
    here, for the pictures may have changed since; the book beside the docket remembers it.

    ``briefs`` are all that it was audited against, where there are several; ``columns`` say which of the listing's columns
    is what (``item``, ``picture``, ``stock``, ``key``, ``value``), where a person has said it."""

    source: str
    brief: str
    instead: tuple[Instead, ...] = ()
    briefs: tuple[str, ...] = ()
    columns: dict[Literal["item", "picture", "stock", "key", "value"], str] = {}

    def with_files(self, change: Callable[[str], str]) -> Audited:
        """The same with the path of every file changed."""
        instead = tuple(
            Instead(item=one.item, listed=change(one.listed), file=change(one.file))
            for one in self.instead
        )
        return self.model_copy(update={"source": change(self.source), "instead": instead})


class Docket(_Frozen):
    """The saved piece of work. ``rulebooks`` keeps the text of each rulebook it was made with,
    by its body's id. ``key`` names it in the book of what was handed over, once anything was;
    ``handed`` is its part of that book."""

    format: Literal[1] = 1
    title: str = ""
    photos: tuple[PhotoEntry, ...] = ()
    fittings: tuple[Fitting, ...] = ()
    rulebooks: dict[str, str] = {}
    key: str = ""
    handed: tuple[HandOver, ...] = ()
    audit: Audited | None = None

    @classmethod
    def empty(cls, title: str) -> Docket:
        """A docket with nothing in it; made without the checks, which are built when there is something to check."""
        return cls.model_construct(title=title)

    def photo(self, photo_id: str) -> PhotoEntry:
        """The photo of this id; StopIteration where there is none."""
        return next(entry for entry in self.photos if entry.id == photo_id)

    def fitting(self, fitting_id: str) -> Fitting:
        """The fitting of this id; StopIteration where there is none."""
        return next(entry for entry in self.fittings if entry.id == fitting_id)

    def with_photo(self, path: str) -> tuple[Docket, str]:
        """The docket with a photo added (or as it is, where the photo is in it already), and
        the photo's id."""
        for entry in self.photos:
            if entry.path == path:
                return self, entry.id
        new = PhotoEntry(id=_free("p", [p.id for p in self.photos]), path=path)
        return self.model_copy(update={"photos": (*self.photos, new)}), new.id

    def with_fitting(self, photo_id: str, brief: str) -> tuple[Docket, str]:
        """The docket with a fitting of a photo to a brief (``BOOK/BRIEF``), and its id."""
        for entry in self.fittings:
            if entry.photo == photo_id and entry.brief == brief:
                return self, entry.id
        new = Fitting(id=_free("f", [f.id for f in self.fittings]), photo=photo_id, brief=brief)
        return self.model_copy(update={"fittings": (*self.fittings, new)}), new.id

    def with_fittings(self, pairs: Iterable[tuple[str, str]]) -> Docket:
        """The docket with a fitting for each photo and brief that has none yet."""
        held = {(f.photo, f.brief) for f in self.fittings}
        taken = {f.id for f in self.fittings}
        made: list[Fitting] = []
        n = len(self.fittings)
        for photo, brief in pairs:
            if (photo, brief) in held:
                continue
            n += 1
            while f"f{n}" in taken:
                n += 1
            held.add((photo, brief))
            made.append(Fitting(id=f"f{n}", photo=photo, brief=brief))
        return self.model_copy(update={"fittings": (*self.fittings, *made)})

    def without_fittings(self, ids: Iterable[str]) -> Docket:
        """The same docket without some fittings; their photos stay."""
        gone = set(ids)
        kept = tuple(f for f in self.fittings if f.id not in gone)
        return self.model_copy(update={"fittings": kept})

    def without_photos(self, ids: Iterable[str]) -> Docket:
        """The same docket without some photos and their fittings."""
        gone = set(ids)
        photos = tuple(p for p in self.photos if p.id not in gone)
        fittings = tuple(f for f in self.fittings if f.photo not in gone)
        return self.model_copy(update={"photos": photos, "fittings": fittings})

    def with_settings(self, settings: Mapping[str, Settings]) -> Docket:
        """The docket with other settings of some fittings, by their ids."""
        fittings = tuple(
            f.model_copy(update={"settings": settings[f.id]}) if f.id in settings else f
            for f in self.fittings
        )
        return self.model_copy(update={"fittings": fittings})

    def with_photos(self, paths: Iterable[str]) -> Docket:
        """The docket with photos added, those left out that are in it already."""
        held = {entry.path for entry in self.photos}
        taken = {entry.id for entry in self.photos}
        made: list[PhotoEntry] = []
        n = len(self.photos)
        for path in paths:
            if path in held:
                continue
            n += 1
            while f"p{n}" in taken:
                n += 1
            held.add(path)
            made.append(PhotoEntry(id=f"p{n}", path=path))
        return self.model_copy(update={"photos": (*self.photos, *made)})

    def at(self, photo_id: str, path: str) -> Docket:
        """The docket with a photo that lies elsewhere now."""
        every = tuple(
            p.model_copy(update={"path": path}) if p.id == photo_id else p for p in self.photos
        )
        old = self.photo(photo_id).path
        moved_ = self.model_copy(update={"photos": every})
        return moved_.with_files(lambda file: path if file == old else file)

    def at_all(self, paths: Mapping[str, str]) -> Docket:
        """The docket with several photos that lie elsewhere now, by their ids."""
        new = {entry.path: paths[entry.id] for entry in self.photos if entry.id in paths}
        every = tuple(
            p.model_copy(update={"path": paths[p.id]}) if p.id in paths else p for p in self.photos
        )
        moved_ = self.model_copy(update={"photos": every})
        return moved_.with_files(lambda file: new.get(file, file))

    def with_files(self, change: Callable[[str], str]) -> Docket:
        """The docket with the path changed of every file that its fittings' finishes and its
        audit name."""
        fittings = []
        for fitting in self.fittings:
            settings = fitting.settings.with_files(change)
            if settings is not fitting.settings:
                fitting = fitting.model_copy(update={"settings": settings})
            fittings.append(fitting)
        audit = self.audit.with_files(change) if self.audit is not None else None
        return self.model_copy(update={"fittings": tuple(fittings), "audit": audit})

    def turned(self, photo_id: str, code: int, size: tuple[int, int]) -> Docket:
        """The docket with a photo turned (``code`` as EXIF counts, on top of any turn before),
        its marks and the frames of its fittings turned with it. ``size`` is the photo's as it
        was shown before."""
        entry = self.photo(photo_id)

        def point(at: tuple[float, float] | None) -> tuple[float, float] | None:
            return None if at is None else moved((*at, 0.0, 0.0), code, size)[:2]

        hand = entry.marks
        swap = code in MIRRORED  # a mirror exchanges what is left and right in the picture
        left, right = point(hand.left_eye), point(hand.right_eye)
        marks = hand.model_copy(
            update={
                "crown": point(hand.crown),
                "chin": point(hand.chin),
                "skull": point(hand.skull),
                "left_eye": right if swap else left,
                "right_eye": left if swap else right,
                "face": None,
                "subject": None if hand.subject is None else moved(hand.subject, code, size),
                "keep_clear": tuple(moved(box, code, size) for box in hand.keep_clear),
                "strokes": tuple(stroke.turned(code, size) for stroke in hand.strokes),
            }
        )
        made = entry.model_copy(update={"turn": then(entry.turn, code), "marks": marks})
        photos = tuple(made if p.id == photo_id else p for p in self.photos)
        fittings = []
        for fitting in self.fittings:
            settings = fitting.settings.with_turned(entry.path, code, size)
            window = settings.frame.window
            if fitting.photo == photo_id and window is not None:
                at = tuple(round(v, 4) for v in moved(window, code, size))
                settings = settings.having({"frame.window": at})
            boxes = settings.source.words
            if fitting.photo == photo_id and boxes:
                turned = tuple(moved(box, code, size) for box in boxes)
                settings = settings.having({"source.words": turned})
            if settings is not fitting.settings:
                fitting = fitting.model_copy(update={"settings": settings})
            fittings.append(fitting)
        return self.model_copy(update={"photos": photos, "fittings": tuple(fittings)})

    def with_digests(self, known: Mapping[str, tuple[str, int]]) -> Docket:
        """The docket with the digest and bytes of each photo whose path is known."""
        every = tuple(
            p.model_copy(update={"digest": known[p.path][0], "bytes": known[p.path][1]})
            if p.path in known
            else p
            for p in self.photos
        )
        return self.model_copy(update={"photos": every})

    def with_handed(self, key: str, handed: Iterable[HandOver]) -> Docket:
        """The docket with what was handed over as it stands now, by ids: what has become of those
        known, then those that are new."""
        news = {one.id: one for one in handed}
        every = [news.pop(one.id, one) for one in self.handed] + list(news.values())
        return self.model_copy(update={"key": key, "handed": tuple(every)})

    def with_marks(self, photo_id: str, marks: HandMarks) -> Docket:
        """The same docket with a photo's marks (crown, chin, eyes) put in place of those it had."""
        every = tuple(
            p.model_copy(update={"marks": marks}) if p.id == photo_id else p for p in self.photos
        )
        return self.model_copy(update={"photos": every})

    def replacing(self, fitting: Fitting) -> Docket:
        """The same docket with one fitting put in place of the one with its id."""
        every = tuple(fitting if f.id == fitting.id else f for f in self.fittings)
        return self.model_copy(update={"fittings": every})


def _free(letter: str, taken: list[str]) -> str:
    n = len(taken) + 1
    while f"{letter}{n}" in taken:
        n += 1
    return f"{letter}{n}"
