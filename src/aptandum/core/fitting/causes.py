"""Why something is done to a photo: the clauses that ask for it, a person's hand, or the wish that
stands from the start."""

from __future__ import annotations

from collections.abc import Iterable
from fractions import Fraction

from aptandum.core.brief.binding import (
    BITS,
    BYTES,
    CHANNELS,
    COLOURS,
    DEPTH,
    FORMAT,
    FRAMES,
    LOCATION,
    PROFILE,
    PROGRESSIVE,
    SPACE,
    TRANSPARENCY,
    ZONES,
    Bind,
    Told,
)
from aptandum.core.brief.model import Brief, Clause
from aptandum.core.brief.registry import binds_of, known
from aptandum.core.fitting.not_carried import NO_TRANSPARENCY
from aptandum.core.fitting.plan import Line
from aptandum.core.fitting.settings import Settings
from aptandum.core.frozen import frozen
from aptandum.core.judge.placing import BINDS as PLACING
from aptandum.core.photo.depth import COLOUR, WITH_OPACITY
from aptandum.core.photo.facts import FORMAT_NAMES, Facts
from aptandum.core.sizes.binds import PRINTED, RESOLUTION
from aptandum.core.sizes.blamed import blamed
from aptandum.core.sizes.least import Box, Way
from aptandum.core.words import listed, say


@frozen
class Cause:
    """Why.

    Attributes:
        says: in words, to stand behind a colon: ``Size asks 630 × 840 px``.
        clauses: the ids of the clauses that ask for it.
    """

    says: str
    clauses: tuple[str, ...] = ()


def by_hand() -> Cause:
    """A person has set it so."""
    return Cause(say("set by hand"))


def so_meant() -> Cause:
    """Why a profile is put in that nobody asks for."""
    return Cause(say("so that its colours are read as they are meant"))


def standing_wish() -> Cause:
    """It is left out of every file unless a rule asks for it."""
    return Cause(say("always left out, unless a rule asks for it or you keep it"))


def asked_by(clauses: Iterable[Clause]) -> Cause | None:
    """Some clauses; ``None`` where there are none."""
    every = list(clauses)
    if not every:
        return None
    return Cause(listed([_said(clause) for clause in every], "and"), tuple(c.id for c in every))


def _said(clause: Clause) -> str:
    assert clause.measure is not None and clause.limit is not None
    measure = known(clause.measure)
    limit = clause.limit.says(measure.kind)
    if clause.strength == "should":
        return say("{title} recommends {limit}", title=measure.title, limit=limit)
    return say("{title} asks {limit}", title=measure.title, limit=limit)


@frozen
class Why:
    """What the causes of a line's acts are looked for in.

    Attributes:
        settings: as the person has set them.
        by_marks: the frame was laid by the head's marks.
        resized: the size was taken for the byte limits' sake.
        missed: the clauses on how a file is written that the supplied one does not meet.
    """

    facts: Facts
    brief: Brief
    settings: Settings
    line: Line
    by_marks: bool = False
    resized: bool = False
    missed: tuple[Clause, ...] = ()

    def of_frame(self) -> Cause:
        """Why it is cut or padded."""
        frame = self.settings.frame
        if self.by_marks:
            shape = blamed(self.brief, Box.of(*self.facts.size), self._way(), "shape")
            placing = self._of(*PLACING) or self._of(ZONES)
            return asked_by((*shape, *placing)) or by_hand()
        if frame.window is not None or frame.angle:
            return by_hand()
        if frame.output is not None and not self.resized:
            return by_hand()
        found = asked_by(blamed(self.brief, self._box(), self._way(), "shape", self._exact()))
        return found or by_hand()

    def of_scale(self) -> Cause:
        """Why it is scaled."""
        if self.resized:
            return asked_by(self._of(BYTES)) or by_hand()
        if self.settings.frame.output is not None:
            return by_hand()
        box = self._box()
        found = blamed(self.brief, box, self._way(), "size", self._exact())
        if found:
            return asked_by(found) or by_hand()
        return self.of_frame()

    def of_colour(self) -> Cause | None:
        """Why colours are converted, where a clause or a hand asks for it."""
        colour = self.line.colour
        if self.settings.colour.space is not None or (
            colour.bits == 1 and self.settings.colour.bits
        ):
            return by_hand()
        asked = [
            clause
            for clause, limit in self.brief.bounding(SPACE)
            if not limit.allows(colour.source)
        ]
        grey = colour.target == "grey" and colour.source != "grey"
        binds = [CHANNELS] if grey or colour.bits == 1 else []
        binds += [BITS, DEPTH] if colour.bits == 1 else []
        binds += [DEPTH] if colour.source == "grey" and colour.target != "grey" else []
        asked += [clause for clause, _limit in self.brief.bounding(*binds)] if binds else []
        return asked_by(asked)

    def of_depth(self) -> Cause | None:
        """Why another number of bits is written, where a clause or a hand asks for it."""
        if self.settings.colour.bits is not None:
            return by_hand()
        now = self.line.colour.bits
        asked = [c for c, limit in self.brief.bounding(BITS) if limit.allows(now)]
        was = [(self.facts.bits or 8) * channels for channels in (1, COLOUR, COLOUR + 1)]
        pixels = self.brief.bounding(DEPTH)
        asked += [c for c, limit in pixels if not any(map(limit.allows, was))]
        return asked_by([*asked, *self._of(COLOURS)])

    def of_encoding(self, others: Iterable[Cause]) -> Cause:
        """Why a file is encoded anew."""
        file = self.settings.file
        options = (file.quality, file.subsampling, file.progressive, file.compression)
        if file.format is not None or any(v is not None for v in (*options, file.colours)):
            return by_hand()
        if file.lossless is not None:
            return by_hand()
        asked = [*self._missed(), *self.missed]
        found = asked_by(asked)
        if found is not None:
            return found
        causes = list(others)
        if not causes and (file.at_most is not None or file.at_least is not None):
            return by_hand()
        if not causes:  # an AVIF with a place in it, or a TIFF of several pages
            return Cause(say("what its file holds beside the picture cannot be left out by itself"))
        clauses = tuple(dict.fromkeys(one for other in causes for one in other.clauses))
        return Cause(say("its picture is changed"), clauses)

    def of_stored(self) -> Cause:
        """Why a pixel is stored in so many bits."""
        return asked_by(self._of(DEPTH)) or by_hand()

    def of_ppi(self) -> Cause:
        """Why a density is stated."""
        if self.settings.file.ppi is not None:
            return by_hand()
        asked = asked_by(self._of(*PRINTED, RESOLUTION))
        return asked or Cause(say("the format states whole numbers only"))

    def of_ground(self) -> Cause:
        """Why clear parts are laid on a colour."""
        asked = [c for c, limit in self.brief.bounding(TRANSPARENCY) if limit.allows("none")]
        deep = self.brief.bounding(DEPTH)
        asked += [c for c, limit in deep if not any(map(limit.allows, WITH_OPACITY))]
        format_ = self.line.file.format
        if asked and format_ not in NO_TRANSPARENCY:
            return asked_by(asked) or by_hand()
        if self.line.colour.bits == 1:
            return Cause(say("dots are black or white"))
        return Cause(say("{format} holds no transparency", format=FORMAT_NAMES[format_]))

    def of_profile(self) -> Cause:
        """Why a profile is put in."""
        if self.settings.colour.space is not None:
            return by_hand()
        asked = [
            clause
            for clause, limit in self.brief.bounding(PROFILE, SPACE)
            if not limit.allows("none") and not limit.allows("untagged")
        ]
        if asked:
            return asked_by(asked) or by_hand()
        return so_meant()

    def of_group(self, name: str) -> Cause | None:
        """The clauses that do not want a group of the metadata told."""
        words = {"present", "kept"}
        return asked_by(
            clause
            for clause, limit in self.brief.limits()
            if _speaks_of(name, binds_of(clause.measure))
            and not any(limit.allows(word) for word in words)
        )

    @property
    def wishes(self) -> dict[str, str | None]:
        """What a person wishes of each group of the metadata."""
        return dict(self.settings.file.metadata)

    def _missed(self) -> Iterable[Clause]:
        """The clauses on the file that the supplied one does not meet."""
        facts = self.facts
        have: tuple[tuple[Bind, object], ...] = (
            (FORMAT, facts.format),
            (BYTES, facts.bytes),
            (PROGRESSIVE, "progressive" if facts.progressive else "baseline"),
            (FRAMES, facts.frames),
            (TRANSPARENCY, None if facts.seen_through else "none"),
        )
        for bind, value in have:
            if bind is PROGRESSIVE and facts.format != "jpeg":
                continue
            for clause, limit in self.brief.bounding(bind):
                # A format that was only wished for, and gave way, is no cause of the one that is written.
                given_up = bind is FORMAT and not limit.allows(self.line.file.format)
                if value is not None and not limit.allows(value) and not given_up:
                    yield clause

    def _of(self, *binds: Bind) -> list[Clause]:
        return [clause for clause, _limit in self.brief.bounding(*binds)]

    def _box(self) -> Box:
        window = self.settings.frame.window
        if window is not None and not self.by_marks:
            return Box.of(window[2], window[3])
        frame = self.line.frame
        if self.by_marks or frame.angle:
            return Box(frame.window.width, frame.window.height, Fraction(*frame.output))
        return Box.of(*self.facts.size)

    def _way(self) -> Way:
        return "pad" if self.line.frame.fill == "pad" else "cut"

    def _exact(self) -> bool:
        return self.line.frame.fill == "pixels"


def _speaks_of(group: str, bind: Bind | None) -> bool:
    if isinstance(bind, Told):
        return bind.group in ("", group)
    return bind == LOCATION and group == "location"


__all__ = ["Cause", "Why", "asked_by", "by_hand", "standing_wish"]
