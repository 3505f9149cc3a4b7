"""The whole way of one photo to one brief: read, resolve, render, encode, judge.

Called with plain picklable arguments, so that it runs the same in a thread, in a worker
process and in the tests.
"""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable
from dataclasses import field, replace

from aptandum.core import bounds
from aptandum.core.as_supplied import Supplied, as_supplied, held
from aptandum.core.brief.bundles import courses
from aptandum.core.brief.model import Brief, Clause
from aptandum.core.brief.registry import binds_of
from aptandum.core.errors import Cancelled
from aptandum.core.file import room
from aptandum.core.file.done import around, summary
from aptandum.core.file.make import Made, make
from aptandum.core.fitting.causes import Why
from aptandum.core.fitting.detection import asks_for_people, framed_by_marks, people_in
from aptandum.core.fitting.live import picture_of, placed
from aptandum.core.fitting.losses import Loss, loss_of
from aptandum.core.fitting.masking import mask_in
from aptandum.core.fitting.plan import FileStation, Line
from aptandum.core.fitting.record import Act, acts, laid, of_clear, of_islands, of_stored
from aptandum.core.fitting.render import render
from aptandum.core.fitting.resolve import plans, resolve
from aptandum.core.fitting.resolve_options import OPTIONS
from aptandum.core.fitting.settings import Settings
from aptandum.core.frozen import frozen
from aptandum.core.judge.findings import Confirmation, Findings, judge
from aptandum.core.judge.reading import (
    Additions,
    Reading,
    inside_of,
    of_finished,
    of_supplied,
)
from aptandum.core.mending import Fitted, offered, tried
from aptandum.core.photo.apart import credit_of, facts_of_bytes
from aptandum.core.photo.backdrop import Mask
from aptandum.core.photo.decode import Photo, check_pixels
from aptandum.core.photo.facts import PhotoError
from aptandum.core.photo.marks import People
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.sound import asked
from aptandum.core.trying import makes_of
from aptandum.core.words import sentences


@frozen
class Proof:
    """A finished file, read back from its bytes.

    Attributes:
        line: what it was made by.
        made: its bytes and how they came about.
        findings: judged on the bytes by the second reader.
        suggested: a file name that tells it from the photo.
        people: of the photo, where a clause asks for them.
        laid: what a reading of the bytes is told of their making.
        acts: everything that was done to the picture, each with its cause.
        around: what was done round it, each with its cause.
        resized: the size that was taken for the byte limits' sake, where it is another than the
            fitting's own; as ``frame.output`` it makes the fitting so.
        fitted: what its mends are tried on; ``None``: they are not offered.
    """

    line: Line
    made: Made
    findings: Findings
    suggested: str
    people: People | None = None
    laid: Additions = field(default_factory=Additions, repr=False)
    acts: tuple[Act, ...] = ()
    around: tuple[Act, ...] = ()
    resized: tuple[int, int] | None = None
    fitted: Fitted | None = field(default=None, repr=False)

    @property
    def ready(self) -> bool:
        return self.findings.ready

    def figures(self) -> dict[str, object]:
        """The stations' figures with what the making has found."""
        figures = self.line.contract()
        file = dict(figures["file"])
        options = self.made.options
        if options is not None:
            file.update(
                quality=options.quality,
                subsampling=options.subsampling,
                progressive=options.progressive,
            )
        file["bytes"] = len(self.made.data)
        file["encodes"] = self.made.encodes
        if self.made.statement:
            figures["notes"] = [*figures["notes"], self.made.statement]
        if self.made.trouble:
            figures["notes"] = [*figures["notes"], self.made.trouble]
        figures["file"] = file
        figures["record"] = [act.says for act in self.acts]
        figures["acts"] = [act.contract() for act in self.record]
        figures["summary"] = self.summary
        return figures

    @property
    def record(self) -> tuple[Act, ...]:
        """Everything that was done, to the picture and round it."""
        return (*self.acts, *self.around)

    @property
    def summary(self) -> str:
        """What was done in one short line."""
        return summary(self.line, self.made)


def _said_cut(proof: Proof) -> Proof:
    said = sentences([proof.made.statement, bounds.cut_said()])
    return replace(proof, made=replace(proof.made, statement=said))


@bounds.in_time(_said_cut)
def conform(
    photo: Photo,
    brief: Brief,
    settings: Settings | None = None,
    confirmed: Iterable[Confirmation] = (),
    cancelled: Callable[[], bool] | None = None,
    people: People | None = None,
    mask: Mask | None = None,
    see_mask: Callable[[], Mask] | None = None,
    may_resize: bool = True,
    mends: bool = True,
) -> Proof:
    """Make the file that a fitting describes, in memory, and judge its bytes.

    A frame that nobody has set is laid by the head's marks, where the brief places a head; where
    it ``may_resize``, as :func:`fitted_in` does. Where the brief leaves a choice the way is taken that
    changes the photo least, of those whose file then meets every rule.

    Args:
        mends: offer what would mend a miss, each tried on a file of its own; left out where nobody reads them.

    Raises:
        PhotoError: the photo's pixels cannot be read, or (:class:`~aptandum.core.photo.sound.Damaged`) are damaged
            and the settings do not say that they are to be used all the same.
        Cancelled: ``cancelled`` said so between two steps or while pixels were made.
    """
    wishes = settings or Settings()
    with asked(photo, wishes.source.damaged):
        if people is None and asks_for_people(brief):
            people = people_in(photo, cancelled=cancelled)
        see = see_mask or mask_once(photo, people, mask, cancelled)
        answers = tuple(confirmed)
        if not brief.plain:
            first = as_it_came(photo, brief, wishes, answers, people, see)
            if first is not None:
                return first
        found: list[Proof] = []
        for line in plans(photo.facts, brief, wishes):
            course = line.course or brief
            proof = _conform(photo, course, wishes, answers, cancelled, people, see, may_resize)
            if course is not brief:
                proof = _judged(proof, brief, proof.suggested, answers)
            found.append(proof)
            if _wanting(proof.findings) == (0, 0) or bounds.over():
                break
        best = min(found, key=lambda proof: (_wanting(proof.findings), lost_by(proof)))
        return offering(best, photo, see) if mends else _unmended(best)


def _wanting(findings: Findings) -> tuple[int, int]:
    """The rules that a file does not meet, or that could not be measured, and its recommendations."""
    counts = findings.counts()
    unmeasured = sum(
        f.verdict == "unknown" and f.clause.strength == "must" for f in findings.findings
    )
    return counts["misses"] + unmeasured, counts["advises"]


def _conform(
    photo: Photo,
    brief: Brief,
    wishes: Settings,
    confirmed: tuple[Confirmation, ...],
    cancelled: Callable[[], bool] | None,
    people: People | None,
    see_mask: Callable[[], Mask],
    may_resize: bool,
) -> Proof:
    """The file of one course of a brief."""
    made = wishes
    untouched = as_supplied(photo, brief, wishes, confirmed, people, see_mask)
    if untouched is not None and untouched.meets:
        return _proof_of(untouched, photo, brief, wishes, people)
    if people is not None and made.frame.window is None:
        made = framed_by_marks(photo, brief, made, people)
    line = resolve(photo.facts, brief, made)
    picture = render(photo, line, see_mask=see_mask, cancelled=cancelled)
    if cancelled is not None and cancelled():
        raise Cancelled
    if not may_resize:
        proof = prove(photo, brief, line, picture, confirmed, people, see_mask, settings=wishes)
    else:
        proof = fitted_in(
            photo, brief, made, line, picture, confirmed, people, see_mask, cancelled, wishes
        )
    if untouched is not None and not _better(proof.findings, untouched.findings):
        return _proof_of(untouched, photo, brief, wishes, people)
    return proof


def as_it_came(
    photo: Photo,
    brief: Brief,
    settings: Settings,
    confirmed: Iterable[Confirmation] = (),
    people: People | None = None,
    see_mask: Callable[[], Mask] | None = None,
) -> Proof | None:
    """The proof of the photo's own picture, where it meets every rule and every wish as it is;
    ``None`` where another has to be made.

    Raises:
        PhotoError: the file cannot be read any more.
    """
    seen = see_mask or mask_once(photo, people)
    answers = tuple(confirmed)
    for course in courses(brief):
        untouched = as_supplied(photo, course, settings, answers, people, seen)
        if untouched is not None and untouched.meets:
            proof = _proof_of(untouched, photo, course, settings, people)
            return proof if course is brief else named(proof, brief, proof.suggested, answers)
    return None


def _better(made: Findings, untouched: Findings) -> bool:
    """Whether a file that is made meets more than the photo's own picture does, or comes nearer to what
    neither meets."""
    return _standing(made) < _standing(untouched)


def _standing(findings: Findings) -> tuple[int, float, int]:
    counts = findings.counts()
    far = sum(f.far for f in findings.findings if f.verdict == "misses")
    return counts["misses"] + counts["unknown"], round(far, 6), counts["advises"]


def lost_by(proof: Proof) -> Loss:
    """What a file loses of its photo, to be compared with what another would."""
    options = proof.made.options
    return loss_of(proof.line, options.quality if options is not None else None)


def _proof_of(
    untouched: Supplied, photo: Photo, brief: Brief, settings: Settings, people: People | None
) -> Proof:
    line, made = untouched.line, untouched.made
    why = Why(photo.facts, brief, settings, line)
    said = acts(photo.facts, line, why)
    done = around(photo.facts, line, held(photo), why, said, made)
    proof = Proof(
        line, made, untouched.findings, line.file.name, people, untouched.laid, said, done
    )
    if untouched.meets:
        return proof
    return replace(
        proof, fitted=Fitted(photo.facts, brief, settings, people, see_supplied=inside_of(photo))
    )


def fitted_in(
    photo: Photo,
    brief: Brief,
    settings: Settings,
    line: Line,
    picture: Picture,
    confirmed: Iterable[Confirmation] = (),
    people: People | None = None,
    see_mask: Callable[[], Mask] | None = None,
    cancelled: Callable[[], bool] | None = None,
    wishes: Settings | None = None,
) -> Proof:
    """Encode a rendered picture and prove the bytes; where the byte limits ask for it and the
    brief leaves the pixels open, at another allowed size (:mod:`aptandum.core.file.room`).

    Args:
        settings: what the line was resolved from.
        wishes: the settings as a person has them, where the frame in ``settings`` was laid by the
            head's marks.

    Raises:
        PhotoError, Cancelled: as :func:`conform`.
    """
    course = line.course or brief
    credit = credit_of(photo.read())
    set_ = settings.frame.output is not None  # by a person
    made, way, final = room.begin(course, line, picture, set_, credit)
    last: dict[tuple[int, int], tuple[Line, Picture]] = {}

    def at(size: tuple[int, int]) -> tuple[Picture, FileStation]:
        if size == line.frame.output:
            return picture, line.file
        if cancelled is not None and cancelled():
            raise Cancelled
        other = resolve(photo.facts, course, settings.having({"frame.output": size}))
        last[size] = other, render(photo, other, see_mask=see_mask, cancelled=cancelled)
        while len(last) > 2:  # the answer is one of the last two in nearly every search
            last.pop(next(iter(last)))
        return last[size][1], other.file

    found = room.find(course, line, made, way, at, credit) if way else None
    if found is None or found.size == line.frame.output:
        made = made if final else make(picture, line.file, credit)
        if found is not None:  # the sentence is about what cannot be reached
            made = replace(made, trouble=f"{made.trouble} {found.says}".strip())
        return prove(
            photo, brief, line, picture, confirmed, people, see_mask, made, wishes or settings,
            settings,
        )  # fmt: skip
    if found.size not in last:
        at(found.size)
    line, picture = last[found.size]
    made = make(picture, line.file, credit, found.made)
    made = replace(made, statement=sentences([p for p in (found.says, made.statement) if p]))
    resized = settings.having({"frame.output": found.size})
    proof = prove(
        photo, brief, line, picture, confirmed, people, see_mask, made, wishes or settings, resized,
        resized=True,
    )  # fmt: skip
    return replace(proof, resized=found.size)


def mask_once(
    photo: Photo,
    people: People | None = None,
    mask: Mask | None = None,
    cancelled: Callable[[], bool] | None = None,
) -> Callable[[], Mask]:
    """Gives what stands before a photo's backdrop; looked for when first asked, and once."""
    kept = [] if mask is None else [mask]

    def see() -> Mask:
        if not kept:
            kept.append(mask_in(photo, people, cancelled))
        return kept[0]

    return see


def prove(
    photo: Photo,
    brief: Brief,
    line: Line,
    picture: Picture,
    confirmed: Iterable[Confirmation] = (),
    people: People | None = None,
    see_mask: Callable[[], Mask] | None = None,
    made: Made | None = None,
    settings: Settings | None = None,
    used: Settings | None = None,
    resized: bool = False,
) -> Proof:
    """Encode a rendered picture (unless ``made`` holds its file), read the bytes back with the
    second reader, and judge them.

    Args:
        settings: as a person has them, for the causes of what was done.
        used: what the line was resolved from, where that is something else.
        resized: its size was taken for the byte limits' sake.

    Raises:
        PhotoError: the bytes made cannot be read back; they are not handed on.
    """
    whole, brief = brief, line.course or brief
    if made is None:
        made = make(picture, line.file, credit_of(photo.read()))
    name = line.file.name
    again = check_pixels(made.data, facts_of_bytes(made.data, name), own=True)
    if again.error:
        raise PhotoError(again.error)
    told = laid(photo.facts, line, picture, see_mask or mask_once(photo, people), inside_of(photo))
    wishes = settings or used or Settings()
    why = why_of(photo, brief, wishes, line, people, resized)
    done = (
        *acts(photo.facts, line, why),
        *of_islands(picture),
        *of_clear(picture, line, why),
        *of_stored(picture, line, why),
    )
    beside = around(photo.facts, line, held(photo), why, done, made)
    proof = Proof(line, made, Findings("finished", ()), name, people, told, done, beside)
    fitted = Fitted(photo.facts, brief, used or wishes, people, see_supplied=inside_of(photo))
    return replace(_judged(proof, whole, name, confirmed), fitted=fitted)


def why_of(
    photo: Photo,
    brief: Brief,
    settings: Settings,
    line: Line,
    people: People | None = None,
    resized: bool = False,
) -> Why:
    """What the causes of a line's acts are looked for in. A frame that is the one that marks and zones
    ask for was laid by them, whoever pressed for it.

    Args:
        settings: as a person has them.
    """
    by_marks = False
    if people is not None and line.way == "anew":
        bare = settings.having({"frame.window": None})
        asked = framed_by_marks(photo, brief, bare, people).frame.window
        have = settings.frame.window or asked
        by_marks = asked is not None and have is not None and all(
            abs(a - b) < 0.5 for a, b in zip(asked, have, strict=True)
        )  # fmt: skip
    return Why(photo.facts, brief, settings, line, by_marks, resized, _missed(photo, brief))


def _missed(photo: Photo, brief: Brief) -> tuple[Clause, ...]:
    """The clauses on how a file is written that the supplied one does not meet."""
    mine = tuple(c for c, _limit in brief.limits() if binds_of(c.measure) in OPTIONS)
    if not mine:
        return ()
    found = judge(of_supplied(photo), replace(brief, clauses=mine, allows=None), mends=False)
    return tuple(f.clause for f in found.findings if f.verdict in ("misses", "advises"))


def offering(proof: Proof, photo: Photo, see_mask: Callable[[], Mask] | None = None) -> Proof:
    """The same with those mends of what it misses that do what they say: where only a file can tell, one is made
    for each. Nothing changes where every rule is met.
    """
    if proof.fitted is None:
        return proof
    makes = makes_of(photo, see_mask or mask_once(photo, proof.fitted.people))
    fitted = replace(proof.fitted, known=tried(proof.findings, replace(proof.fitted, makes=makes)))
    return replace(proof, fitted=fitted, findings=offered(proof.findings, fitted))


def _unmended(proof: Proof) -> Proof:
    """The same without mends, for none was tried."""
    plain = tuple(replace(f, mend=None) for f in proof.findings.findings)
    return replace(proof, fitted=None, findings=replace(proof.findings, findings=plain))


def reading_of(proof: Proof, name: str = "") -> Reading:
    """A proof's bytes as they are judged, under a name of their own or another."""
    people = proof.people
    return of_finished(
        proof.made.data,
        name or proof.suggested,
        proof.line.frame.scale,
        proof.line.source.shown,
        None if people is None else (lambda: people),
        placed(proof.line),
        proof.laid,
        picture_of(proof.line),
    )


def named(proof: Proof, brief: Brief, name: str, confirmed: Iterable[Confirmation] = ()) -> Proof:
    """The proof of the same bytes under another name, with its findings judged anew."""
    again = _judged(proof, brief, name, confirmed)
    if proof.fitted is None:
        return again
    return replace(again, findings=offered(again.findings, proof.fitted))


def _judged(proof: Proof, brief: Brief, name: str, confirmed: Iterable[Confirmation]) -> Proof:
    """The same, with mends that nobody has tried."""
    findings = judge(reading_of(proof, name), brief, confirmed)
    return replace(proof, suggested=name, findings=findings)


def open_and_conform(
    path: str | os.PathLike[str], brief: Brief, settings: Settings | None = None
) -> Proof:
    """:func:`conform` from a path alone, for a worker process.

    Raises:
        PhotoError: the file is no usable photo.
    """
    from aptandum.core.photo.decode import open_photo

    return conform(open_photo(path), brief, settings)
