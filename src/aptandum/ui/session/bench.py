"""What is known of the fitting on the bench."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import TYPE_CHECKING, Any, Generic, TypeVar

from aptandum.core.frozen import frozen
from aptandum.core.photo.marks import NO_HAND

if TYPE_CHECKING:
    from aptandum.core.brief.model import Brief, Rulebook
    from aptandum.core.conform import Proof
    from aptandum.core.docket.model import Fitting
    from aptandum.core.file.curve import Curve
    from aptandum.core.file.make import Made
    from aptandum.core.fitting.gamut import Conversion
    from aptandum.core.fitting.plan import Line, Window
    from aptandum.core.fitting.settings import Settings
    from aptandum.core.judge.findings import Confirmation, Findings
    from aptandum.core.judge.measure import Mend
    from aptandum.core.judge.pixel_statistics import PixelStatistics
    from aptandum.core.photo.decode import Photo
    from aptandum.core.photo.inside import Inside
    from aptandum.core.photo.marks import HandMarks
    from aptandum.core.photo.picture import Picture


@frozen
class Loss:
    """The picture before it was encoded, for the screen, and where encoding has changed it most
    (shares of width and height). ``of`` is the encoded picture that it was compared with."""

    before: Any
    worst: tuple[float, float]
    of: Any


T = TypeVar("T")


class Derived(Generic[T]):
    """A value that is worked out anew only where what it is made from has changed."""

    def __init__(self) -> None:
        self._made_from: object = None
        self._value: list[T] = []

    def of(self, made_from: object, make: Callable[[], T]) -> T:
        """The value made from something; made now, unless it was made from the same before."""
        if not self._value or self._made_from != made_from:
            self._value[:] = [make()]
            self._made_from = made_from
        return self._value[0]


@dataclass
class Bench:
    """What is known of the fitting on the bench. Pictures are 8-bit sRGB arrays."""

    fitting: Fitting
    photo: Photo
    book: Rulebook
    brief: Brief
    line: Line
    supplied: Findings
    live: Findings
    draft: Made | None = None
    draft_for: tuple[Settings, object] | None = None
    look: PixelStatistics | None = field(default=None, repr=False)
    supplied_look: PixelStatistics | None = field(default=None, repr=False)
    conversion: Conversion | None = field(default=None, repr=False)
    conversion_for: object = None
    curve: Curve | None = field(default=None, repr=False)
    curve_for: object = None
    loss: Loss | None = field(default=None, repr=False)
    grey: Any = field(default=None, repr=False)
    fitted: Any = None
    preview: Any = None
    detail: tuple[Window, Any] | None = None
    proof: Proof | None = None
    written: Path | None = None
    trouble: str = ""
    damage: str = ""
    picture: Picture | None = field(default=None, repr=False)
    judged_with: list[Confirmation] = field(default_factory=list)
    hand: HandMarks = NO_HAND
    lines: Derived[Line] = field(default_factory=Derived, repr=False)
    untouched: Line | None = None
    tried: dict[str, Mend | None] = field(default_factory=dict, repr=False)
    looked_for: bool = False
    see_supplied: Callable[[], Inside] | None = field(default=None, repr=False)
    wants_people: bool = False
    wants_marks: bool = False

    @property
    def proof_is_current(self) -> bool:
        return self.proof is not None

    @property
    def draft_is_current(self) -> bool:
        return self.draft is not None and self.draft_for == self.made_from

    @property
    def known_mends(self) -> dict[str, Mend | None]:
        """Mends of clauses on pixels that were tried on the fitting as it is."""
        return self.tried if self.draft_is_current else {}

    @property
    def goes_out_as_it_is(self) -> bool:
        """Whether the photo's own picture meets everything that is asked."""
        return self.untouched is not None and self.draft_is_current

    @property
    def made_from(self) -> tuple[Settings, object]:
        """All that the picture depends on: the settings, and where a finish asks for the mask its
        strokes."""
        strokes = self.hand.strokes if self.line.finish.needs_mask else ()
        return self.fitting.settings, strokes
