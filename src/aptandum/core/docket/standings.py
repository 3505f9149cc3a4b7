"""A board's cells: how every fitting stands, from headers alone or with what has been looked at."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import replace
from typing import Literal

from aptandum.core.brief.model import Brief
from aptandum.core.docket.model import Docket, Fitting
from aptandum.core.file.budget import reckoned
from aptandum.core.fitting.live import live_reading
from aptandum.core.fitting.resolve import resolve
from aptandum.core.frozen import frozen
from aptandum.core.judge.findings import Finding, Findings, judge
from aptandum.core.judge.measure import Need
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.judge.sets import Member, as_first, asks_for_sets, judge_set
from aptandum.core.photo.facts import Facts, PhotoError
from aptandum.core.photo.marks import People
from aptandum.core.words import listed, say

Standing = Literal["misses", "unknown", "asks", "advises", "meets", "lost"]
STANDINGS: tuple[Standing, ...] = ("misses", "lost", "unknown", "asks", "advises", "meets")
"""How a fitting can stand, the worst first; ``lost``: its photo cannot be used."""

Box = tuple[float, float, float, float]


@frozen
class Cell:
    """How a fitting stands.

    Attributes:
        count: how many clauses have this standing.
        frame: the part of the photo that is kept, as shares: left, top, width, height.
        output: width and height of the file in pixels.
        lines: verdict and sentence of each clause that is not met, the worst first.
        proved: this is said of the finished bytes.
        looked: people have been looked for, where a clause asks for them.
        trouble: why the photo cannot be used.
        bytes: of its file, or those to expect.
        as_first: how it would stand as the first picture of a set, where that is asked.
    """

    fitting: str
    standing: Standing
    count: int = 0
    frame: Box = (0.0, 0.0, 1.0, 1.0)
    output: tuple[int, int] = (1, 1)
    lines: tuple[tuple[str, str], ...] = ()
    proved: bool = False
    looked: bool = True
    trouble: str = ""
    bytes: int | None = None
    as_first: tuple[Finding, ...] = ()

    @property
    def weight(self) -> tuple[int, int]:
        """For sorting: the worst standing first, then how often."""
        return STANDINGS.index(self.standing), -self.count


def cell_of(facts: Facts, brief: Brief, fitting: Fitting, people: People | None = None) -> Cell:
    """Judge a fitting as it is set, without a pixel; never raises on a photo.

    Args:
        people: of the photo, where they have been looked for; a clause about them is unknown
            until then.
    """
    if facts.error is not None:
        return Cell(fitting.id, "lost", 1, trouble=facts.error)
    try:
        line = resolve(facts, brief, fitting.settings)
    except PhotoError as error:
        return Cell(fitting.id, "lost", 1, trouble=str(error))
    see: Callable[[], People] | None = None if people is None else lambda: people
    wide, high = line.frame.output
    file = line.file
    size = reckoned(wide * high, file.quality, file.at_least, file.at_most)
    reading = live_reading(facts, line, size, see_people=see)
    findings = judge(reading, brief, fitting.confirmed())
    window, (wide, high) = line.frame.window, line.source.shown
    frame = (window.left / wide, window.top / high, window.width / wide, window.height / high)
    cell = said_of(fitting.id, findings, frame, line.frame.output)
    first = as_first(reading, brief, fitting.confirmed())
    return replace(cell, bytes=size, as_first=first)


def said_of(
    fitting_id: str, findings: Findings, frame: Box, output: tuple[int, int], proved: bool = False
) -> Cell:
    """A cell from findings, of the live fitting or of its finished file."""
    counts = findings.counts()
    unknown = sum(
        f.verdict == "unknown" and f.clause.strength == "must" and (proved or not _by_eye(f))
        for f in findings.findings
    )
    standing: Standing = "meets"
    count = 0
    for name, n in (
        ("misses", counts["misses"]),
        ("unknown", unknown),
        ("asks", counts["asks"]),
        ("advises", counts["advises"]),
    ):
        if n:
            standing, count = name, n  # type: ignore[assignment]
            break
    order = ("misses", "unknown", "asks", "advises")
    left = [
        f
        for f in findings.findings
        if f.verdict in order and (proved or f.verdict != "unknown" or not _by_eye(f))
    ]
    left.sort(key=lambda f: order.index(f.verdict))
    return Cell(fitting_id, standing, count, frame, output, _lines(left), proved)


def _lines(left: Sequence[Finding]) -> tuple[tuple[str, str], ...]:
    """Verdict and sentence of each finding; those that are unknown for one reason are told together."""
    titles: dict[tuple[str, str], list[str]] = {}
    for finding in left:
        told = finding.title if finding.verdict == "asks" else finding.says
        begun = say("{title}: {why}", title=finding.title, why="")
        alike = finding.verdict == "unknown" and told.startswith(begun)
        key = (finding.verdict, told.removeprefix(begun)) if alike else (finding.verdict, told)
        titles.setdefault(key, []).extend([finding.title] if alike else [])
    return tuple(
        (verdict, say("{title}: {why}", title=listed(names, "and"), why=told) if names else told)
        for (verdict, told), names in titles.items()
    )


def set_of(
    docket: Docket, name: str, brief: Brief, cells: Mapping[str, Cell]
) -> tuple[Finding, ...]:
    """The findings of a brief's rules on the whole set: all of a docket's fittings to it, in the order
    of the photos. Empty where it has no such rules, or not all are judged yet."""
    if not asks_for_sets(brief):
        return ()
    places = {entry.id: i for i, entry in enumerate(docket.photos)}
    mine = sorted(
        (f for f in docket.fittings if f.brief == name), key=lambda f: places.get(f.photo, 0)
    )
    held = [cells.get(fitting.id) for fitting in mine]
    if any(cell is None for cell in held):
        return ()
    members = [Member(c.bytes, not c.proved, c.as_first) for c in held if c is not None]
    return judge_set(brief, members)


def _by_eye(finding: Finding) -> bool:
    """Whether a clause is about the pixels, which nobody has made yet."""
    measure = REGISTRY[finding.clause.measure] if finding.clause.measure else None
    return measure is not None and bool(
        measure.needs & {Need.PIXELS, Need.MASK, Need.GLANCE, Need.INSIDE}
    )


def briefs_of(docket: Docket, more: Iterable[str] = ()) -> tuple[str, ...]:
    """The briefs across a board: those of the fittings in the order they came, then ``more``."""
    return tuple(dict.fromkeys([*(f.brief for f in docket.fittings), *more]))


def tally(cells: Iterable[Cell]) -> dict[Standing, int]:
    """How many fittings stand how."""
    counts: dict[Standing, int] = dict.fromkeys(STANDINGS, 0)
    for cell in cells:
        counts[cell.standing] += 1
    return counts


def rows_of(
    docket: Docket,
    cells: Mapping[str, Cell],
    standings: Sequence[str] = (),
    worst_first: bool = False,
) -> tuple[str, ...]:
    """The photos down a board, by their ids.

    Args:
        standings: only photos with a fitting that stands so; empty: all.
        worst_first: those with the worst and most misses first, the rest as they came.
    """
    mine: dict[str, list[Cell]] = {entry.id: [] for entry in docket.photos}
    for fitting in docket.fittings:
        cell = cells.get(fitting.id)
        if cell is not None and fitting.photo in mine:
            mine[fitting.photo].append(cell)
    ids = [entry.id for entry in docket.photos]
    if standings:
        ids = [i for i in ids if any(cell.standing in standings for cell in mine[i])]
    if worst_first:
        last = (len(STANDINGS), 0)

        def weight(photo: str) -> tuple[tuple[int, int], int]:
            held = mine[photo]
            worst = min((cell.weight for cell in held), default=last)
            return worst, -sum(cell.count for cell in held if cell.standing == "misses")

        ids.sort(key=weight)
    return tuple(ids)
