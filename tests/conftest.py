"""Fixtures that every test may use, and what no test may leave behind."""

from __future__ import annotations

import ctypes
import hashlib
import os
import pickle
import sys
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, settings
from PIL import Image

from aptandum.core import mistakes
from aptandum.core.fitting import masking
from aptandum.core.photo import backdrop, people, subject
from aptandum.core.photo.profile import shipped
from samples import FOUND, THOROUGH, examples, jpeg, scene

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

if sys.platform == "linux":
    # Pictures go back to the system when they are let go of, or a run of many keeps all that any
    # of them ever needed: at most two arenas, and blocks from four megabytes by themselves.
    _libc = ctypes.CDLL(None)
    for _option, _value in ((-8, 2), (-3, 1 << 22), (-1, 1 << 22)):
        if hasattr(_libc, "mallopt"):
            _libc.mallopt(_option, _value)

# A slow machine is no failure: no example has a deadline. An ordinary run looks at the same
# examples each time, so that what fails is what was changed; a thorough one looks for new ones.
settings.register_profile(
    "ordinary",
    deadline=None,
    derandomize=not THOROUGH,
    max_examples=examples(100),
    suppress_health_check=[HealthCheck.too_slow],
    print_blob=True,
)
settings.load_profile("ordinary")


def _remembered(find: Callable[..., Any], folder: Path) -> Callable[..., Any]:
    """The same search, whose result is kept for the run by the content of what it is given: many
    tests look at the same few photos."""

    def found(*given: Any, **more: Any) -> Any:
        held = hashlib.sha256()
        for part in (*given, *more.values()):
            raw = part.tobytes() + str(part.shape).encode() if isinstance(part, np.ndarray) else b""
            held.update(raw or repr(part).encode())
        path = folder / f"{find.__name__}-{held.hexdigest()[:24]}"
        if path.exists():
            return pickle.loads(path.read_bytes())
        result = find(*given, **more)
        part = path.with_suffix(f".{os.getpid()}")
        part.write_bytes(pickle.dumps(result))
        part.replace(path)
        return result

    return found


_LONG = ("test_words", "test_last_second", "test_many_files", "test_acts", "test_desk")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """The longest first: what begins last must not be what all workers wait for."""
    items.sort(key=lambda item: item.path.stem not in _LONG)


@pytest.fixture(scope="session", autouse=True)
def what_was_found_is_kept(tmp_path_factory: pytest.TempPathFactory) -> None:
    """Scenes are made, faces, subjects and masks are found once in a run, whichever worker it is."""
    base = tmp_path_factory.getbasetemp()
    FOUND[0] = folder = (base.parent if "PYTEST_XDIST_WORKER" in os.environ else base) / "found"
    folder.mkdir(exist_ok=True)
    for module, name in (
        (people, "find_people"),
        (subject, "find_subject"),
        (backdrop, "find_mask"),
    ):
        setattr(module, name, _remembered(getattr(module, name), folder))
    masking.find_mask = backdrop.find_mask


@pytest.fixture(autouse=True)
def own_home(tmp_path_factory: pytest.TempPathFactory, monkeypatch: pytest.MonkeyPatch) -> None:
    """No test reads or writes the rulebooks of the person who runs it."""
    home = tmp_path_factory.mktemp("home")
    monkeypatch.setenv("XDG_DATA_HOME", str(home / "data"))
    monkeypatch.setenv("XDG_STATE_HOME", str(home / "state"))
    monkeypatch.setenv("XDG_CACHE_HOME", str(home / "cache"))
    monkeypatch.setenv("XDG_DOCUMENTS_DIR", str(home / "documents"))
    monkeypatch.setenv("XDG_PICTURES_DIR", str(home / "pictures"))


@pytest.fixture(autouse=True)
def mistakes_met() -> Iterator[list[BaseException]]:
    """What nobody foresaw, wherever it was caught: a test that makes one on purpose takes it out of
    the list, and any other fails."""
    met: list[BaseException] = []
    listen = met.append
    mistakes.heard.append(listen)
    yield met
    mistakes.heard.remove(listen)
    assert not met, f"mistakes that nobody expected: {met!r}"


@pytest.fixture
def photo(tmp_path: Path) -> Callable[..., Path]:
    """Makes a JPEG photo on disk: ``photo(width, height, name=…, orientation=…, space=…)``."""

    def make(
        width: int = 1200,
        height: int = 900,
        name: str = "sea_wall.jpg",
        orientation: int = 1,
        space: str | None = "srgb",
        seed: int = 1,
        grain: float = 6.0,
    ) -> Path:
        exif = Image.Exif()
        exif[0x0112] = orientation
        exif[0x013B] = "Quill Harrow"
        exif[0x8298] = "Quill Harrow, Vessary"
        gps = exif.get_ifd(0x8825)
        gps[1], gps[2], gps[3], gps[4] = "N", (47.0, 1.0, 2.0), "W", (21.0, 3.0, 4.0)
        options: dict[str, object] = {"exif": exif}
        if space:
            options["icc_profile"] = shipped(space)  # type: ignore[arg-type]
        path = tmp_path / name
        path.write_bytes(jpeg(scene(width, height, seed, grain), **options))
        return path

    return make
