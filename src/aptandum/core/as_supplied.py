"""The first two of all ways, which lose nothing of a photo: its own bytes, and the same compressed
picture with only what lies around it changed."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from contextlib import suppress
from dataclasses import replace

from aptandum.core.brief.binding import FORMAT
from aptandum.core.brief.model import Brief
from aptandum.core.file import around
from aptandum.core.file.around import Around, Unknown
from aptandum.core.file.make import Made
from aptandum.core.file.metadata import exif_block
from aptandum.core.file.standing import Held, held_in
from aptandum.core.fitting.filenames import file_name
from aptandum.core.fitting.live import picture_of, placed
from aptandum.core.fitting.own_format import limit_on_format
from aptandum.core.fitting.plan import WRITABLE, ColourStation, Line, Window
from aptandum.core.fitting.record import laid
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.frozen import frozen
from aptandum.core.judge.findings import Confirmation, Findings, judge
from aptandum.core.judge.reading import Additions, inside_of, of_finished
from aptandum.core.photo import profile
from aptandum.core.photo.apart import credit_of, facts_of_bytes
from aptandum.core.photo.backdrop import Mask
from aptandum.core.photo.decode import Photo, check_pixels
from aptandum.core.photo.facts import Facts, shown_name
from aptandum.core.photo.inside import OfFile, groups_of
from aptandum.core.photo.marks import People
from aptandum.core.photo.metadata_groups import GROUPS, chosen
from aptandum.core.sizes.region import allowed


@frozen
class Supplied:
    """A file that holds the photo's own compressed picture.

    Attributes:
        line: the plan that leaves it so.
        made: its bytes.
        findings: judged on the bytes by the second reader.
        laid: what a reading of the bytes is told.
    """

    line: Line
    made: Made
    findings: Findings
    laid: Additions

    @property
    def meets(self) -> bool:
        """Whether nothing more could be asked of it: every rule is met, and every wish."""
        return not any(
            f.verdict in ("misses", "advises")
            or (f.verdict == "unknown" and f.clause.strength == "must")
            for f in self.findings.findings
        )


def as_supplied(
    photo: Photo,
    brief: Brief,
    settings: Settings,
    confirmed: Iterable[Confirmation] = (),
    people: People | None = None,
    see_mask: Callable[[], Mask] | None = None,
) -> Supplied | None:
    """The file that loses nothing of a photo and misses the fewest rules; ``None`` where there is none,
    or where a person has set something that needs another picture, or where the photo's size or
    format alone does not do.

    Of several that miss as few it is the one that meets the most recommendations, and of those the
    one that changes least: the supplied bytes, then what lies around them with as little as is
    asked for.
    """
    if _by_hand(settings, photo.facts) or not _could(photo.facts, brief):
        return None
    line = _plan(photo.facts, brief, settings)
    if line is None:
        return None
    data = photo.read()
    best: Supplied | None = None
    for made, how in _candidates(data, photo.facts, line, settings, held(photo)):
        outside = (settings.file.at_most or len(made)) < len(made) or (
            settings.file.at_least or 0
        ) > len(made)
        if outside or not _whole(made, data, photo.facts, how.way):
            continue
        found = _judged(photo, made, how, brief, confirmed, people, see_mask)
        if best is None or _wanting(found) < _wanting(best):
            best = found
        if best.meets:
            break
    return best


def held(photo: Photo) -> Held:
    """What a photo tells of its camera and of the place of the shot.

    Raises:
        PhotoError: the file cannot be read any more.
    """
    return _held(photo.read(), photo.facts)


_ANYWHERE = frozenset(("exif", "xmp", "iptc", "text", "other"))


def _held(data: bytes, facts: Facts) -> Held:
    """What the blocks hold, and what another reader finds that they do not show: it then lies in any
    of them."""
    found = Held()
    if facts.format in around.FORMATS:
        with suppress(Unknown):
            found = held_in(around.blocks(data, facts.format))
    told = credit_of(data)
    location = bool(told.place or told.where) or facts.location
    camera = bool(told.camera)
    if (location and not found.location) or (camera and not found.camera):
        found |= Held(location, camera, _ANYWHERE)
    return found | Held(groups=groups_of(told))


def _wanting(found: Supplied) -> tuple[int, int, int]:
    counts = found.findings.counts()
    return counts["misses"], counts["unknown"], counts["advises"]


def _could(facts: Facts, brief: Brief) -> bool:
    """Whether a photo's size and format could meet a brief's rules at all, told by its header."""
    form = brief.bound(FORMAT)
    return allowed(brief).contains(*facts.size) and (form is None or form.allows(facts.format))


def _by_hand(settings: Settings, facts: Facts) -> bool:
    """Whether a person has set what only another picture can give."""
    frame, colour, file = settings.frame, settings.colour, settings.file
    size = facts.size
    whole = (0.0, 0.0, float(size[0]), float(size[1]))
    near = frame.window is None or all(
        abs(a - b) < 1e-3 for a, b in zip(frame.window, whole, strict=True)
    )
    return not (
        facts.turn == 1
        and near
        and frame.output in (None, size)
        and frame.angle == 0
        and colour.space in (None, facts.colour_space)
        and colour.bits in (None, facts.bits)
        and not colour.exposure
        and not colour.warmth
        and file.format in (None, facts.format)
        and (file.quality, file.subsampling, file.progressive) == (None, None, None)
        and (file.compression, file.colours, file.lossless) == (None, None, None)
    )


def _plan(facts: Facts, brief: Brief, settings: Settings) -> Line | None:
    """The line that leaves a photo as it is; ``None`` where a finish is laid on."""
    if facts.format not in WRITABLE:
        return None
    line = resolve(facts, brief, settings)
    if line.finish.on:
        return None
    wide, high = facts.size
    frame = replace(
        line.frame,
        window=Window(0.0, 0.0, float(wide), float(high)),
        output=(wide, high),
        scale=1.0,
        kept=1.0,
        exact=True,
        fill="whole",
        ground=None,
        angle=0.0,
    )
    source = facts.colour_space or "untagged"
    colour = ColourStation(
        line.colour.source, line.colour.source, facts.icc_bytes, facts.bits or 8,
        line.colour.intent, source == "untagged",
    )  # fmt: skip
    wish = settings.file.name
    name = file_name(shown_name(facts.file), brief, facts.format, wish, size=(wide, high))
    counted = file_name(
        shown_name(facts.file), brief, facts.format, wish, size=(wide, high), n=None
    )
    file = replace(
        line.file,
        format=facts.format,
        quality=None,
        subsampling=facts.subsampling,
        progressive=facts.progressive,
        name=name,
        counted=counted if counted != name else "",
        compression=None,
        colours=None,
        lossless=False,
    )
    finish = replace(line.finish, ground=None)
    notes: list[str] = []  # what would be made otherwise is of no use; what is not followed is
    limit_on_format(facts, brief, settings, (wide, high), line.file.at_most, notes)
    return replace(
        line,
        frame=frame,
        colour=colour,
        finish=finish,
        file=file,
        way="supplied",
        notes=tuple(notes),
    )


def _candidates(
    data: bytes, facts: Facts, line: Line, settings: Settings, there: Held
) -> Iterator[tuple[bytes, Line]]:
    """Files that hold the same compressed picture, the least changed first, and the plan of each."""
    wishes = line.file.metadata
    by_hand = _to_change(wishes, there, data, facts)
    ppi = line.file.ppi
    new_ppi = ppi is not None and not _near(facts.ppi_x, ppi)
    left = Held(
        there.location and wishes.get("location") != "keep",
        there.camera and wishes.get("camera") != "keep",
        there.where,
    )
    if facts.format not in around.FORMATS:
        if not (left.location or left.camera or by_hand or new_ppi):
            yield data, line
        return
    asked = settings.file.ppi is not None and new_ppi
    if not (left.location or left.camera or by_hand or asked):
        yield data, line
    change = _change(data, facts, line, left, by_hand)
    steps = [] if asked else [change]
    if new_ppi:
        steps.append(replace(_change(data, facts, line, left, by_hand, ppi), ppi=ppi))
    for step in steps:
        for icc in (step.icc, b"" if _speaks(facts) else profile.shipped(facts.taken_as)):
            made = replace(step, icc=icc)
            if made == Around():
                continue
            try:
                changed = around.changed(data, facts.format, made)
            except Unknown:
                return
            still = _held(changed, facts_of_bytes(changed, facts.file))
            if (still.location and left.location) or (still.camera and left.camera):
                return  # it lies where it cannot be taken out by itself
            yield changed, _told(line, made, left)


def _to_change(wishes: Mapping[str, str | None], there: Held, data: bytes, facts: Facts) -> bool:
    """Whether what the metadata tell is to be changed, beside camera and place."""
    for name, wish in wishes.items():
        if name in ("camera", "location") or wish is None:
            continue
        if wish.startswith("=") or (wish == "drop" and name in there.groups):
            return True
    silent = all(wishes.get(group.name) == "drop" for group in GROUPS)
    return silent and OfFile(lambda: data, facts).speaks


def _speaks(facts: Facts) -> bool:
    """Whether a picture has a profile, or can have none that is shipped."""
    return bool(facts.icc_bytes) or facts.mode not in ("rgb", "grey") or facts.unknown_space


def _near(have: float | None, want: float) -> bool:
    return have is not None and abs(have - want) < 0.01


def _change(
    data: bytes, facts: Facts, line: Line, left: Held, by_hand: bool, ppi: float | None = None
) -> Around:
    """What has to be changed round a picture in any case; a WebP tells its density (``ppi``, or
    its own) with its metadata."""
    if not (left.location or left.camera or by_hand):
        return Around()
    gone = {kind for kind in left.where if kind not in ("exif", "density", "icc", "picture")}
    if by_hand:
        gone |= {"xmp", "iptc", "text"}
    if left.location or left.camera:
        gone |= {"trailer"}
    exif = None
    if "exif" in left.where or gone & {"xmp", "iptc", "text"} or by_hand:
        ppi = (ppi or facts.ppi_x) if facts.format == "webp" else None
        orientation = 1 if facts.format == "tiff" else facts.orientation or 1
        exif = exif_block(chosen(credit_of(data), line.file.metadata), ppi, orientation)
    # Where the camera's own data said in which space the numbers are, a profile has to say so now.
    hint = facts.hint is not None and not _speaks(facts) and exif is not None
    icc = profile.shipped(facts.taken_as) if hint else b""
    return Around(frozenset(gone), exif, None, icc)  # type: ignore[arg-type]


def _told(line: Line, change: Around, left: Held) -> Line:
    """The plan of a file of which only what lies around the picture is changed."""
    colour = line.colour
    if change.icc:
        colour = replace(colour, icc=change.icc)
    file = replace(line.file, ppi=change.ppi)
    return replace(line, colour=colour, file=file, way="around")


def _whole(made: bytes, data: bytes, facts: Facts, way: str) -> bool:
    """Whether a file's picture is the photo's own, and can be read."""
    assert facts.format is not None
    if facts.format in around.FORMATS:
        try:
            own = around.picture(data, facts.format)
            if way != "supplied" and around.picture(made, facts.format) != own:
                return False
        except Unknown:
            return False
    if facts.format in ("jpeg", "png"):
        return True
    return facts.decodes or not check_pixels(data, facts, own=True).error


def _judged(
    photo: Photo,
    data: bytes,
    line: Line,
    brief: Brief,
    confirmed: Iterable[Confirmation],
    people: People | None,
    see_mask: Callable[[], Mask] | None,
) -> Supplied:
    told = laid(photo.facts, line, None, see_mask, inside_of(photo))
    reading = of_finished(
        data,
        line.file.name,
        1.0,
        line.source.shown,
        None if people is None else (lambda: people),
        placed(line),
        told,
        picture_of(line),
    )
    made = Made(data, line.file.format, None, 0)
    return Supplied(line, made, judge(reading, brief, confirmed), told)


__all__ = ["Supplied", "as_supplied", "held"]
