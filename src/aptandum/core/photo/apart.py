"""The application's side: whatever a file's bytes have to be parsed for is asked of a reader.

Nothing else in the application looks into a stranger's file. A reader that is lost over one makes one sentence
about that file.
"""

from __future__ import annotations

import os
import stat
import threading
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import contextmanager
from contextvars import copy_context
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from aptandum.core.frozen import frozen
from aptandum.core.later import np, pyvips
from aptandum.core.photo import limits, overheard, plain
from aptandum.core.photo.facts import (
    FORMAT_NAMES,
    Facts,
    NotInside,
    PhotoError,
    damaged,
    io_sentence,
    shown_name,
)
from aptandum.core.photo.metadata_groups import Credit
from aptandum.core.photo.turning import then
from aptandum.core.readers.pool import shared
from aptandum.core.readers.reader import Answer, Lost, Mistake, Said, TooLittle, Wish
from aptandum.core.readers.shared import Room, in_memory
from aptandum.core.readers.wire import MOST_FILES
from aptandum.core.words import say

if TYPE_CHECKING:
    from numpy.typing import NDArray

_HEADER_SECONDS = 5.0
_AHEAD = 3
_SECONDS = 20.0
_SECONDS_A_MEGAPIXEL = 0.5
_DEEPEST = 10
"""Bytes that a pixel has at most: four inks and transparency of 16 bit."""
_KINDS = {"uchar": "uint8", "ushort": "uint16"}
_SPACES = frozenset(("srgb", "rgb16", "rgb", "b-w", "grey16", "cmyk", "multiband"))


# --- headers ---------------------------------------------------------------------------------------


def read_facts(path: str | os.PathLike[str]) -> Facts:
    """Facts of a file, from its header. Never raises on a file's contents or absence: what
    is wrong stands in ``error`` as a sentence naming file and cause."""
    return next(iter(facts_many([path])))


def facts_many(paths: Iterable[str | os.PathLike[str]]) -> Iterator[Facts]:
    """Facts of files, in order; a reader is asked for many at a time."""
    every = [os.fspath(path) for path in paths]
    parts = [every[start : start + MOST_FILES] for start in range(0, len(every), MOST_FILES)]
    if len(parts) < 2:
        for part in parts:
            yield from _facts_of(part)
        return
    # While one reader reads, what another has said is looked at.
    from concurrent.futures import ThreadPoolExecutor

    with ThreadPoolExecutor(_AHEAD, "headers") as pool:
        coming = [pool.submit(copy_context().run, _facts_of, part) for part in parts[:_AHEAD]]
        for part in parts[_AHEAD:]:
            done = coming.pop(0)
            coming.append(pool.submit(copy_context().run, _facts_of, part))
            yield from done.result()
        for done in coming:
            yield from done.result()


def _facts_of(paths: Sequence[str]) -> list[Facts]:
    handles: list[int] = []
    items: list[list[Any]] = []
    made: list[Facts | int] = []
    try:
        for path in paths:
            one = _opened(path)
            if isinstance(one, Facts):
                made.append(one)
                continue
            made.append(len(handles))
            handles.append(one[0])
            items.append([path, one[1]])
        wish = Wish("facts", seconds=_HEADER_SECONDS, quick=True)
        read = list(shared().each(wish, items, handles, _read)) if handles else []
    finally:
        for handle in handles:
            os.close(handle)
    return [_heard(path, one, read) for path, one in zip(paths, made, strict=True)]


def _read(said: Any) -> list[Facts]:
    try:
        return plain.facts_many(said)
    except PhotoError:
        raise Mistake(say("its reader gave no usable answer")) from None


def _heard(path: str, one: Facts | int, read: Sequence[Answer | Exception]) -> Facts:
    if isinstance(one, Facts):
        return one
    answer = read[one]
    if isinstance(answer, Answer):
        facts: Facts = answer.value
        return facts if facts.file == path else replace(facts, file=path)
    return Facts(path, decodes=False, error=_sentence(answer, path))


def _opened(path: str) -> tuple[int, int] | Facts:
    """A descriptor of an ordinary file and its size, or why there is none. Nothing is waited for."""
    try:
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC | os.O_NOCTTY)
    except OSError as error:
        try:
            kind = os.stat(path).st_mode
        except OSError:
            return _not_opened(path, io_sentence(error, shown_name(path)))
        if stat.S_ISREG(kind) or stat.S_ISDIR(kind):
            return _not_opened(path, io_sentence(error, shown_name(path)))
        return _not_opened(path, say("{file} is not an ordinary file.", file=shown_name(path)))
    except ValueError:  # a path with a NUL in it
        name = shown_name(path).replace("\0", "\\0")
        return _not_opened(path, say("{file} is not a usable file name.", file=name))
    what = os.fstat(handle)
    if stat.S_ISREG(what.st_mode):
        return handle, what.st_size
    os.close(handle)
    if stat.S_ISDIR(what.st_mode):
        return _not_opened(path, say("{file} is a folder, not a photo.", file=shown_name(path)))
    return _not_opened(path, say("{file} is not an ordinary file.", file=shown_name(path)))


def _not_opened(path: str, why: str) -> Facts:
    return Facts(path, decodes=False, error=why)


def facts_of_bytes(data: bytes, file: str = "") -> Facts:
    """Facts of a picture that is in memory; ``file`` names it in messages."""
    with _held(data) as handle:
        wish = Wish(
            "facts", {"items": [[file, len(data)]]}, [handle], seconds=_HEADER_SECONDS, quick=True
        )
        try:
            made = plain.facts_many(shared().ask(wish).value)
            return replace(made[0], file=file)
        except (Lost, TooLittle, Mistake, Said, PhotoError, TypeError, LookupError) as error:
            return Facts(file, bytes=len(data), decodes=False, error=_sentence(error, file))


# --- pixels ----------------------------------------------------------------------------------------


def check_pixels(data: bytes, facts: Facts, *, own: bool = False) -> Facts:
    """The same facts with ``decodes`` (and ``error``) set by reading every pixel once.

    Args:
        own: the file was made here: a picture that jumps is a photo that does; and where its reader is lost, which
            is the machine's bad luck and no fault of the file's, another one is asked.
    """
    if facts.error:
        return facts
    try:
        try:
            answer = _asked("check", data, facts, own=own)
        except PhotoError:
            if not own:
                raise
            answer = _asked("check", data, facts, own=own)
        seen = plain.facts(answer.value)
    except PhotoError as error:
        return replace(facts, decodes=False, error=str(error))
    return replace(facts, decodes=seen.decodes, error=seen.error)


def opaque(data: bytes, facts: Facts) -> bool:
    """Whether every pixel is fully opaque: an alpha channel that hides nothing is none.

    Raises:
        PhotoError: its pixels cannot be read.
    """
    return not facts.alpha or bool(_asked("opaque", data, facts).value)


def clearness(data: bytes, facts: Facts) -> tuple[bool, bool] | None:
    """Whether nothing is seen along a picture's edges, and whether any pixel of it is less than opaque; ``None`` where
    its pixels cannot be read."""
    try:
        seen = _asked("clearness", data, facts).value
    except PhotoError:
        return None  # whoever needs the pixels says what is wrong with them
    if not isinstance(seen, list) or len(seen) != 2:
        return None
    return bool(seen[0]), bool(seen[1])


def open_pixels(
    data: bytes, facts: Facts, shrink: int = 1, *, strict: str = "error"
) -> tuple[pyvips.Image, int]:
    """A picture's pixels.

    Args:
        data: the file's bytes.
        facts: what :func:`facts_of_bytes` said of them.
        shrink: 1, 2, 4 or 8: a JPEG is reduced by this while it is decoded, WebP too; other
            formats come whole.
        strict: what damage is: ``error`` or ``warning``.

    Returns:
        the image as stored, and the EXIF orientation that is still to be applied: the file's
        own (none where the decoder has turned it already), and what a person turned it by.

    Raises:
        PhotoError: the picture is too large or its pixels cannot be read.
    """
    stored = stored_pixels(data, facts, shrink, strict=strict)
    high, wide, bands = stored.array.shape
    kind = "ushort" if stored.array.dtype == np.uint16 else "uchar"
    # The array itself is kept by the image and whatever is made from it, and not copied.
    image = pyvips.Image.new_from_memory(stored.array, wide, high, bands, kind)
    return image.copy(interpretation=stored.space), stored.orientation


@frozen
class Stored:
    """A picture's pixels as its reader has left them.

    Attributes:
        array: shape (height, width, bands), in the memory that the reader has filled.
        space: what they stand for, by libvips' names.
        orientation: EXIF's, that is still to be applied.
        again: the reader has begun anew on the way, by another decoder.
    """

    array: NDArray[Any]
    space: str
    orientation: int
    again: bool = False


def _let_in(facts: Facts) -> None:
    """Raises:
    PhotoError: it is known that the picture cannot be read, or it is too large.
    """
    cause = limits.too_large(facts.width or 0, facts.height or 0)
    if facts.error or cause:
        sentence = say("{file} is not opened: {cause}.", file=shown_name(facts.file), cause=cause)
        raise PhotoError(facts.error or sentence)


def stored_pixels(
    data: bytes,
    facts: Facts,
    shrink: int = 1,
    *,
    strict: str = "error",
    seen: Callable[[Room], None] | None = None,
) -> Stored:
    """A picture's pixels as :func:`open_pixels` gives them, not copied.

    Args:
        seen: told the memory that they come to lie in, before they do; once more where another reader has to be asked.

    Raises:
        PhotoError: the picture is too large or its pixels cannot be read.
    """
    _let_in(facts)
    smaller = shrink if facts.format in ("jpeg", "webp") else 1
    area = -(-(facts.width or 1) // smaller) * -(-(facts.height or 1) // smaller)
    answer = _asked(
        "pixels", data, facts, area * _depth(facts) + 4096, seen, shrink=shrink, strict=strict
    )
    array, space, orientation = _array_of(answer, facts)
    again = answer.value.get("again") is not False
    if strict == "error" and shrink == 1 and not again and facts.format not in _MORE_TO_CHECK:
        overheard.tell(data, array)
    return Stored(array, space, then(orientation, facts.turn), again)


_MORE_TO_CHECK = ("tiff", "webp")
"""Those whose decoders leave something of a file unread, which a check looks at as well."""


def _depth(facts: Facts) -> int:
    return {8: 5, 1: 5, 2: 5, 4: 5}.get(facts.bits or 16, _DEEPEST)


def whole_jpeg(data: bytes, facts: Facts, eighths: int = 8) -> NDArray[np.uint8] | None:
    """A JPEG's stored pixels, (height, width, 1 or 3), reduced to so many eighths on the way (a
    block of 8 x 8 is decoded to as many).

    ``None`` where the file is of another kind, larger than is good to hold at once,
    or gives the least cause for complaint; :func:`open_pixels` then tells what is wrong, if
    anything is.
    """
    if facts.format != "jpeg" or facts.error or facts.mode not in ("rgb", "grey"):
        return None
    want = -(-(facts.height or 0) * eighths // 8), -(-(facts.width or 0) * eighths // 8)
    bands = 3 if facts.mode == "rgb" else 1
    try:
        answer = _asked("jpeg", data, facts, want[0] * want[1] * bands, eighths=eighths)
    except PhotoError:
        return None
    if answer.value != [*want, bands] or answer.room is None:
        return None
    return answer.room.array((*want, bands), np.uint8)


def second(data: bytes, facts: Facts) -> NDArray[Any]:
    """A picture's pixels by the second reader (Pillow), shape (height, width, bands): grey or colour, with its
    transparency last; 16 bit by libvips.

    Raises:
        PhotoError: its pixels cannot be read.
    """
    _let_in(facts)
    area = (facts.width or 1) * (facts.height or 1)
    answer = _asked("second", data, facts, area * _depth(facts) + 4096)
    return _array_of(answer, facts)[0]


def second_opaque(data: bytes, facts: Facts) -> bool:
    """Whether every pixel is fully opaque, by the second reader.

    Raises:
        PhotoError: its pixels cannot be read.
    """
    return bool(_asked("second_opaque", data, facts).value)


# --- what else a file holds ------------------------------------------------------------------------


_AT_ONCE = ("packing", "quality", "bits_per_pixel", "speaks", "told")
"""What is told by a file's header and metadata; the rest needs its pixels."""


def inside(data: bytes, facts: Facts, what: str) -> dict[str, tuple[Any, str | None]]:
    """What a file holds beside its header: the one thing that is asked for, and what is told in the same go. Each
    as its value and why there is none.

    Raises:
        NotInside: it could not be looked into.
    """
    asked = _AT_ONCE if what in _AT_ONCE else (what,)
    try:
        said = _asked("inside", data, facts, what=list(asked)).value
        made = {name: (said[name][0], said[name][1]) for name in asked}
    except PhotoError as error:
        raise NotInside(str(error)) from None
    except (TypeError, LookupError):
        raise NotInside(
            _sentence(Lost(say("its reader gave no usable answer")), facts.file)
        ) from None
    if "told" in made:
        made["told"] = plain.credit(made["told"][0]), None
    return made


def credit_of(data: bytes) -> Credit:
    """What a photo's bytes tell; whatever cannot be read counts as absent."""
    try:
        return plain.credit(_asked("credit", data, Facts("")).value)
    except (PhotoError, NotInside):
        return Credit()


_QUICK = ("credit",)


# --- asking ----------------------------------------------------------------------------------------


def _asked(
    act: str,
    data: bytes,
    facts: Facts,
    room: int = 0,
    seen: Callable[[Room], None] | None = None,
    **more: Any,
) -> Answer:
    area = (facts.width or 0) * (facts.height or 0) * max(1, facts.frames or 1)
    seconds = _SECONDS + _SECONDS_A_MEGAPIXEL * area / 1e6
    with _held(data) as handle:
        wish = Wish(
            act, {"facts": plain.told(facts), **more}, [handle], room, seconds, act in _QUICK, seen
        )
        try:
            return shared().ask(wish)
        except Said as error:
            if error.kind == "NotInside":
                raise NotInside(str(error)) from None
            raise PhotoError(str(error)) from None
        except (Lost, TooLittle) as error:
            raise PhotoError(_sentence(error, facts.file)) from None
        except Mistake as error:
            if facts.format is None:
                raise PhotoError(str(error)) from None
            raise damaged(facts, str(error)) from None
        except OSError as error:  # no memory to share
            raise PhotoError(_sentence(error, facts.file)) from None


def _array_of(answer: Answer, facts: Facts) -> tuple[NDArray[Any], str, int]:
    """The pixels of an answer, its colour space and orientation; what a reader says of their size is held against
    what it was given to fill."""
    said = answer.value
    try:
        shape, format_ = tuple(said["shape"]), said["format"]
        kind = np.dtype(_KINDS[format_])
        space, turn = said.get("space", "srgb"), said.get("orientation", 1)
        sound = (
            len(shape) == 3
            and all(type(side) is int and side > 0 for side in shape)
            and shape[2] <= 5
            and space in _SPACES
            and turn in range(1, 9)
            and answer.room is not None
        )
        if not sound or answer.room is None:
            raise ValueError("pixels")
        return answer.room.array(shape, kind), space, turn
    except (TypeError, ValueError, KeyError, AttributeError):
        raise PhotoError(
            _sentence(Lost(say("its reader gave no usable answer")), facts.file)
        ) from None


def _sentence(error: Exception, file: str) -> str:
    name = shown_name(file) if file else say("The file")
    if isinstance(error, OSError):
        return say("{file} needs more memory than there is.", file=name)
    if isinstance(error, (Said, PhotoError)):
        return str(error)
    cause = str(error) if isinstance(error, (Lost, TooLittle)) else say("its contents are damaged")
    return say("{file} could not be read: {cause}.", file=name, cause=cause)


_KEPT = 2
_lock = threading.Lock()
_kept: list[tuple[bytes, int]] = []
"""The last bytes that were handed over, with a descriptor of theirs: a photo is asked about several times."""


@contextmanager
def _held(data: bytes) -> Iterator[int]:
    """A descriptor of memory with these bytes, for as long as it is needed."""
    with _lock:
        found = next((handle for held, handle in _kept if held is data), None)
        mine = os.dup(found) if found is not None else None
    if mine is None:
        try:
            mine = in_memory(data)
        except OSError as error:
            raise PhotoError(_sentence(error, "")) from None
        with _lock:
            _kept.append((data, os.dup(mine)))
            gone = [_kept.pop(0) for _ in range(len(_kept) - _KEPT)]
        for _data, handle in gone:
            os.close(handle)
    try:
        yield mine
    finally:
        os.close(mine)


__all__ = [
    "FORMAT_NAMES",
    "check_pixels",
    "clearness",
    "credit_of",
    "facts_many",
    "facts_of_bytes",
    "inside",
    "opaque",
    "open_pixels",
    "read_facts",
    "second",
    "second_opaque",
    "stored_pixels",
    "whole_jpeg",
]
