"""Pixels that are worked on while their reader still writes them: never before they are there, and never others."""

from __future__ import annotations

import gc
import io
import threading
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest
from PIL import Image

from aptandum.core.fitting import banded, resample
from aptandum.core.fitting.light import Curve, curve_of
from aptandum.core.fitting.plan import Window
from aptandum.core.photo import arriving
from aptandum.core.photo.apart import Stored, facts_of_bytes, stored_pixels
from aptandum.core.photo.arriving import Arriving
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.facts import PhotoError
from aptandum.core.photo.turning import in_view
from aptandum.core.readers import shared as rooms


def lively(size=(900, 640), bands=3):
    rows, columns, places = np.ogrid[: size[1], : size[0], :bands]
    made = (127 + 120 * np.sin(rows / 7 + columns / 11 + places)).astype(np.uint8)
    return made[..., 0] if bands == 1 else made


def saved(form, bands=3, size=(900, 640), **how):
    held = io.BytesIO()
    mode = "CMYK" if (form, bands) == ("JPEG", 4) else None
    picture = Image.fromarray(lively(size, bands))
    (Image.frombytes(mode, size, picture.tobytes()) if mode else picture).save(held, form, **how)
    return held.getvalue()


def deep():
    import cv2

    return cv2.imencode(".png", lively().astype(np.uint16) * 257)[1].tobytes()


def turned(orientation):
    exif = Image.Exif()
    exif[0x0112] = orientation
    return saved("JPEG", quality=90, exif=exif)


def palette():
    held = io.BytesIO()
    Image.fromarray(lively()).quantize(16).save(held, "PNG")
    return held.getvalue()


KINDS = {
    "jpeg": lambda: saved("JPEG", quality=90),
    "progressive": lambda: saved("JPEG", quality=90, progressive=True),
    "grey": lambda: saved("JPEG", 1, quality=90),
    "turned": lambda: turned(6),
    "mirrored": lambda: turned(5),
    "cmyk": lambda: saved("JPEG", 4, quality=90),
    "png": lambda: saved("PNG"),
    "clear": lambda: saved("PNG", 4),
    "deep": deep,
    "palette": palette,
    "tiff": lambda: saved("TIFF", compression="tiff_lzw"),
    "webp": lambda: saved("WEBP", quality=80),
    "gif": lambda: saved("GIF"),
}


@pytest.mark.parametrize("kind", KINDS)
def test_what_arrives_is_what_is_there_in_the_end(tmp_path, kind):
    """Of every kind of file the reduced picture is the same as from pixels that were waited for."""
    path = tmp_path / "it"
    path.write_bytes(data := KINDS[kind]())
    photo = open_photo(path)
    assert_same(photo, data)


@pytest.mark.parametrize("kind", ["jpeg", "progressive", "png", "tiff"])
def test_what_is_left_of_a_photo_that_is_cut_short_arrives_too(tmp_path, kind):
    path = tmp_path / "cut"
    whole = KINDS[kind]()
    path.write_bytes(data := whole[: len(whole) * 2 // 3])
    try:
        photo = open_photo(path)
    except PhotoError:
        assert kind == "tiff"  # what it holds stands at its end
        return
    assert_same(photo, data)


def assert_same(photo, data):
    wide, high = photo.facts.size
    window, size = Window(3.2, 5.5, wide - 10, high - 9), (wide // 2, high // 2)
    got = resample._by_bands(photo, window, size, curve_of(photo.facts), None)
    if photo.facts.mode not in ("rgb", "grey"):
        assert got is None  # goes another way
        return
    waited = stored_pixels(data, photo.facts)
    wanted = resample._of_stored(waited, photo.facts, window, size, curve_of(photo.facts), None)
    assert got is not None and np.array_equal(got, wanted)


class Slow:
    """A reader that writes as far as it is let."""

    def __init__(self, high=400, wide=60):
        self.shape = high, wide, 3
        self.far, self.go = threading.Semaphore(0), threading.Semaphore(0)
        self.end: Stored | Exception | None = None
        self.begun = threading.Event()

    def __call__(self, _data, _facts, seen):
        room = rooms.Room(1 << 20)
        seen(room)
        self.begun.set()
        made = room.array(self.shape, np.uint8)
        for start in range(0, self.shape[0], 100):
            self.go.acquire()
            made[start : start + 100] = 7
            self.far.release()
        self.go.acquire()
        if isinstance(self.end, Exception):
            raise self.end
        return Stored(made, "srgb", 1)


@pytest.fixture
def slow(monkeypatch):
    made = Slow()
    monkeypatch.setattr(arriving, "stored_pixels", made)
    return made


def facts():
    return facts_of_bytes(saved("PNG", size=(60, 400)))


def test_rows_are_waited_for_until_they_are_written(slow):
    with Arriving(b"", facts()) as coming:
        passed = threading.Event()
        waiting = threading.Thread(target=lambda: (coming.rows(150), passed.set()))
        waiting.start()
        slow.go.release()
        slow.far.acquire()
        coming.rows(80)
        assert not passed.is_set()  # as long as the second hundred is not there
        slow.go.release()
        waiting.join(30)
        assert passed.is_set() and (coming.array[:150] == 7).all()
        for _ in range(3):
            slow.go.release()
        coming.rows(400)
        assert coming.as_seen and (coming.whole().array == 7).all()


def test_a_reader_that_has_begun_before_anything_else_is_not_forgotten(slow, monkeypatch):
    class Eager(ThreadPoolExecutor):
        def submit(self, *given, **more):
            future = super().submit(*given, **more)
            assert slow.begun.wait(30)
            return future

    monkeypatch.setattr(arriving, "ThreadPoolExecutor", Eager)
    for _ in range(5):
        slow.go.release()
    with Arriving(b"", facts()) as coming:
        assert coming.array is not None and coming.as_seen


def test_what_goes_wrong_on_the_way_is_told_to_whoever_waits(slow):
    slow.end = PhotoError("it.png is damaged.")
    for _ in range(5):
        slow.go.release()
    with Arriving(b"", facts()) as coming, pytest.raises(PhotoError, match="it.png is damaged"):
        coming.rows(400)


@pytest.mark.parametrize("kind", ["jpeg", "png"])
def test_what_a_reader_begins_anew_is_not_taken(tmp_path, monkeypatch, kind):
    """Where another decoder has to be asked, or another reader, what was made on the way is made again."""
    path = tmp_path / "it"
    path.write_bytes(data := KINDS[kind]())
    photo = open_photo(path)
    other = stored_pixels(data, photo.facts)
    changed = Stored(255 - other.array, "srgb", 1, again=True)

    def anew(data, facts, seen):
        stored_pixels(data, facts, seen=seen)
        return changed

    monkeypatch.setattr(arriving, "stored_pixels", anew)
    window, size = Window(0, 0, 900, 640), (450, 320)
    got = resample._by_bands(photo, window, size, curve_of(photo.facts), None)
    wanted = resample._of_stored(changed, photo.facts, window, size, curve_of(photo.facts), None)
    assert np.array_equal(got, wanted)


def test_memory_is_free_again_when_the_last_has_left():
    rooms.clear()
    room = rooms.room_for(100_000)
    first, second = (room.array((10, 10, 3), np.uint8) for _ in range(2))
    rooms.give_back(room)
    del first
    gc.collect()
    assert rooms.room_for(100_000) is not room
    del second
    gc.collect()
    assert rooms.room_for(100_000) is room


@pytest.mark.parametrize("orientation", range(1, 9))
@pytest.mark.parametrize("bands", [1, 3, 4])
def test_what_is_turned_in_parts_is_as_if_turned_whole(orientation, bands):
    pixels = lively((700, 610), 4)[..., :bands].copy()
    box = (2.5, 3.5, 690.0, 600.25)
    plain, shown = (
        banded.reduced_in_light(pixels, (401, 307), box, Curve(), orientation=turn)
        for turn in (1, orientation)
    )
    assert np.array_equal(shown, resample.turned(plain, orientation))
    assert np.array_equal(in_view(plain, orientation), shown)
